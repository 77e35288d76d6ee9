package pixel

import (
	"image"
	"image/color"
	"math"
	"strings"

	"notaria/internal/fault"
)

// A Panel is a display as it is simulated: so many pixels, each of the colour of the ground, of the
// ink, or of a shade between them.
type Panel struct {
	Width, Height int
	Kind          string // mono, grey or colour; "" is colour
	Ink, Ground   color.NRGBA
	shade         []byte // 0 to 255, row by row
}

// Kinds of panels: pixels that are on or off; 16 shades; a 16-bit colour (5, 6 and 5 bits).
var PanelKinds = []string{"mono", "grey", "colour"}

// mostPanel is the largest panel, in pixels a side.
const mostPanel = 2048

// NewPanel is a panel without ink.
func NewPanel(width, height int, kind string, ink, ground color.NRGBA) (*Panel, error) {
	if width < 1 || height < 1 || width > mostPanel || height > mostPanel {
		return nil, fault.Form("expected a panel of 1 to %d pixels a side, found %dx%d", mostPanel, width, height)
	}
	return &Panel{Width: width, Height: height, Kind: kind, Ink: ink, Ground: ground, shade: make([]byte, width*height)}, nil
}

// Put draws text with the pen starting at x on a baseline y pixels below the panel's top. It returns
// how many pixels of ink are beyond the panel.
func (p *Panel) Put(f *Font, x, y int, text string) (beyond int) {
	pen, last, full := 0, rune(0), int(f.Full())
	for _, r := range text {
		g, ok := f.Glyph(r)
		if !ok {
			continue
		}
		pen, last = pen+f.Kern(last, r), r
		at := x + (pen+Sub/2)>>4 + g.X
		for i, v := range g.Pix {
			if v == 0 {
				continue
			}
			px, py := at+i%g.Width, y-g.Top()+i/g.Width
			if px < 0 || py < 0 || px >= p.Width || py >= p.Height {
				beyond++
				continue
			}
			s := &p.shade[py*p.Width+px]
			*s = max(*s, byte(int(v)*255/full))
		}
		pen += g.Advance
	}
	return beyond
}

// colour is what the panel shows of a shade.
func (p *Panel) colour(shade byte) color.NRGBA {
	v := int(shade)
	switch p.Kind {
	case "mono":
		v = v / 128 * 255
	case "grey":
		v = (v*15 + 127) / 255 * 17
	}
	mix := func(a, b uint8, bits int) uint8 {
		c := (int(a)*(255-v) + int(b)*v + 127) / 255
		if most := 1<<bits - 1; p.Kind == "colour" || p.Kind == "" {
			c = (c*most + 127) / 255 * 255 / most
		}
		return uint8(c)
	}
	return color.NRGBA{mix(p.Ground.R, p.Ink.R, 5), mix(p.Ground.G, p.Ink.G, 6), mix(p.Ground.B, p.Ink.B, 5), 255}
}

// Picture is the panel seen so many times as large, with its frame; with lines between the pixels
// where there is room for them.
func (p *Panel) Picture(zoom int, lines bool) (image.Image, error) {
	if zoom < 1 || zoom > 32 || p.Width*p.Height*zoom*zoom > mostPixels {
		return nil, fault.Form("expected a zoom of 1 to 32, and a picture of at most %d million pixels, found %d", mostPixels>>20, zoom)
	}
	edge := 2 * zoom
	img := image.NewNRGBA(image.Rect(0, 0, p.Width*zoom+2*edge, p.Height*zoom+2*edge))
	frame := darker(p.Ground, p.Ink, 0.12)
	line := darker(p.Ground, p.Ink, 0.07)
	for y := range img.Rect.Dy() {
		for x := range img.Rect.Dx() {
			px, py := x-edge, y-edge
			c := frame
			if px >= 0 && py >= 0 && px < p.Width*zoom && py < p.Height*zoom {
				c = p.colour(p.shade[py/zoom*p.Width+px/zoom])
				if lines && zoom >= 3 && (px%zoom == zoom-1 || py%zoom == zoom-1) {
					c = line
				}
			}
			img.SetNRGBA(x, y, c)
		}
	}
	return img, nil
}

// darker is the ground with a little of the ink.
func darker(ground, ink color.NRGBA, part float64) color.NRGBA {
	mix := func(a, b uint8) uint8 { return uint8(math.Round(float64(a)*(1-part) + float64(b)*part)) }
	return color.NRGBA{mix(ground.R, ink.R), mix(ground.G, ink.G), mix(ground.B, ink.B), 255}
}

// PNG is the panel's picture.
func (p *Panel) PNG(zoom int, lines bool) ([]byte, error) {
	img, err := p.Picture(zoom, lines)
	if err != nil {
		return nil, err
	}
	return pngBytes(img)
}

// Shown is the panel as pixels, for a terminal.
func (p *Panel) Shown() Picture { return Picture{p.Width, p.Height, p.shade} }

// brailleDots are the bits of the dots of a braille character, from U+2800, by row and column.
var brailleDots = [4][2]rune{{0x01, 0x08}, {0x02, 0x10}, {0x04, 0x20}, {0x40, 0x80}}

// Braille shows a picture in a terminal, two pixels by four in each character.
func (p Picture) Braille() string {
	var b strings.Builder
	for y := 0; y < p.Height; y += 4 {
		var row strings.Builder
		for x := 0; x < p.Width; x += 2 {
			c := rune(0x2800)
			for dy, dots := range brailleDots {
				for dx, bit := range dots {
					if x+dx < p.Width && y+dy < p.Height && p.Pix[(y+dy)*p.Width+x+dx] >= 128 {
						c |= bit
					}
				}
			}
			row.WriteRune(c)
		}
		b.WriteString(strings.TrimRight(row.String(), "\u2800") + "\n")
	}
	return b.String()
}
