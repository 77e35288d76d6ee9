package specimen

import (
	"fmt"
	"image"
	"image/color"
	"strings"
)

// ramp are letters by how much of their cell is ink.
const ramp = " .:-=+*#%@"

// Blocks draws the page in a terminal's cells, each of them one pixel wide and two high: in colours of
// 24 bits, or else in letters that are as dark as the pixels are.
func (d *Drawing) Blocks(colours bool) (string, error) {
	img, err := d.Picture(1)
	if err != nil {
		return "", err
	}
	var out strings.Builder
	for y := 0; y < img.Rect.Max.Y; y += 2 {
		var row strings.Builder
		for x := range img.Rect.Max.X {
			top, low := img.NRGBAAt(x, y), d.Ground
			if y+1 < img.Rect.Max.Y {
				low = img.NRGBAAt(x, y+1)
			}
			if colours {
				fmt.Fprintf(&row, "\x1b[38;2;%d;%d;%dm\x1b[48;2;%d;%d;%dm▀", top.R, top.G, top.B, low.R, low.G, low.B)
				continue
			}
			ink := (far(top, d.Ground) + far(low, d.Ground)) / 2
			row.WriteByte(ramp[min(int(ink*float64(len(ramp))), len(ramp)-1)])
		}
		if colours {
			row.WriteString("\x1b[0m")
			out.WriteString(row.String() + "\n")
			continue
		}
		out.WriteString(strings.TrimRight(row.String(), " ") + "\n")
	}
	return out.String(), nil
}

// far is how far a colour is from the ground, 0 to 1.
func far(c, ground color.NRGBA) float64 {
	off := func(a, b uint8) float64 { return float64(max(a, b)-min(a, b)) / 255 }
	return max(off(c.R, ground.R), off(c.G, ground.G), off(c.B, ground.B))
}

// Cut takes the white above and below a page's ink away, but for a pixel.
func (d *Drawing) Cut() {
	img, err := d.Picture(1)
	if err != nil {
		return
	}
	first, last := rows(img, d.Ground)
	if first > last {
		return
	}
	for i := range d.Marks {
		d.Marks[i].Y -= float64(first - 1)
	}
	d.H = float64(last - first + 3)
}

// rows are the first and the last row of a picture that hold ink.
func rows(img *image.NRGBA, ground color.NRGBA) (first, last int) {
	first, last = img.Rect.Max.Y, -1
	for y := range img.Rect.Max.Y {
		for x := range img.Rect.Max.X {
			if img.NRGBAAt(x, y) != ground {
				first, last = min(first, y), y
				break
			}
		}
	}
	return first, last
}
