package specimen

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
	"math"

	"notaria/internal/fault"
	"notaria/internal/raster"
	"notaria/internal/sfnt"
)

// MostPixels is how large a picture may be.
const MostPixels = 64 << 20

// Picture draws the page, each of its pixels so many times as large.
func (d *Drawing) Picture(times float64) (*image.NRGBA, error) {
	w, h := int(math.Ceil(d.W*times)), int(math.Ceil(d.H*times))
	if w <= 0 || h <= 0 || w > MostPixels/h {
		return nil, fault.Form("expected a picture of 1 to %d million pixels, found %d x %d", MostPixels>>20, w, h)
	}
	img := image.NewNRGBA(image.Rect(0, 0, w, h))
	for i := 0; i < len(img.Pix); i += 4 {
		img.Pix[i], img.Pix[i+1], img.Pix[i+2], img.Pix[i+3] = d.Ground.R, d.Ground.G, d.Ground.B, d.Ground.A
	}
	p := painter{img: img, times: times}
	for i := range d.Marks {
		p.mark(&d.Marks[i])
	}
	return img, p.err
}

// PNG is the picture as a file; the same drawing gives the same bytes.
func (d *Drawing) PNG(times float64) ([]byte, error) {
	img, err := d.Picture(times)
	if err != nil {
		return nil, err
	}
	var b bytes.Buffer
	err = png.Encode(&b, img)
	return b.Bytes(), err
}

// A painter puts marks on a picture.
type painter struct {
	img    *image.NRGBA
	times  float64
	raster raster.Raster
	shade  []byte
	err    error // of a glyph in colour
}

func (p *painter) mark(m *Mark) {
	switch {
	case m.Paint != nil || m.Bitmap != nil:
		p.colours(m)
	case len(m.Path) == 0:
		p.rect(m)
	case m.Spread > 0:
		p.spread(m)
	case m.Blur > 0:
		p.blur(m)
	default:
		p.cover(m, 0, 0, p.put)
	}
}

// cover gives the coverage of a mark's outline, moved by so many pixels of the picture, row by row,
// with the place of its upper left corner.
func (p *painter) cover(m *Mark, right, down float64, use func(cover []byte, x, y, w, h int, c color.NRGBA)) {
	x, y := m.X*p.times+right, m.Y*p.times+down
	left, base := math.Floor(x), math.Ceil(y)
	scale := m.Scale * p.times
	box := raster.Bounds(m.Path, scale, x-left, base-y)
	x0, y0 := int(left)+box.XMin, int(base)-box.YMax
	if x0 >= p.img.Rect.Max.X || y0 >= p.img.Rect.Max.Y || x0+box.Width() <= 0 || y0+box.Height() <= 0 {
		return
	}
	use(p.raster.Fill(m.Path, scale, x-left, base-y, box), x0, y0, box.Width(), box.Height(), m.Colour)
}

// put lays a colour on the picture where there is coverage.
func (p *painter) put(cover []byte, x, y, w, h int, c color.NRGBA) {
	if len(cover) < w*h {
		return
	}
	for row := max(0, -y); row < h && y+row < p.img.Rect.Max.Y; row++ {
		line := cover[row*w : (row+1)*w]
		for col := max(0, -x); col < w && x+col < p.img.Rect.Max.X; col++ {
			if v := line[col]; v != 0 {
				p.blend(x+col, y+row, c, uint32(v)*uint32(c.A)/255)
			}
		}
	}
}

// blend mixes a colour into a pixel.
func (p *painter) blend(x, y int, c color.NRGBA, alpha uint32) {
	i := p.img.PixOffset(x, y)
	px := p.img.Pix[i : i+4 : i+4]
	if alpha >= 255 || px[3] == 0 {
		px[0], px[1], px[2] = c.R, c.G, c.B
		px[3] = max(px[3], uint8(min(alpha, 255)))
		return
	}
	under := uint32(px[3]) * (255 - alpha) / 255
	all := alpha + under
	mix := func(a, b uint8) uint8 { return uint8((uint32(a)*alpha + uint32(b)*under + all/2) / all) }
	px[0], px[1], px[2], px[3] = mix(c.R, px[0]), mix(c.G, px[1]), mix(c.B, px[2]), uint8(all)
}

// rect fills a rectangle; edges between pixels are mixed.
func (p *painter) rect(m *Mark) {
	x0, y0, x1, y1 := m.X*p.times, m.Y*p.times, (m.X+m.W)*p.times, (m.Y+m.H)*p.times
	part := func(at int, from, to float64) float64 {
		return max(0, min(to, float64(at+1))-max(from, float64(at)))
	}
	for y := max(0, int(math.Floor(y0))); y < min(int(math.Ceil(y1)), p.img.Rect.Max.Y); y++ {
		for x := max(0, int(math.Floor(x0))); x < min(int(math.Ceil(x1)), p.img.Rect.Max.X); x++ {
			v := part(x, x0, x1) * part(y, y0, y1)
			p.blend(x, y, m.Colour, uint32(math.Round(v*float64(m.Colour.A))))
		}
	}
}

// around is how often an outline is drawn beside itself to make it thicker.
const around = 24

// spread draws an outline thicker: the most of what it covers when it is moved all around.
func (p *painter) spread(m *Mark) {
	far := m.Spread * p.times
	grow := int(math.Ceil(far)) + 1
	whole := raster.Bounds(m.Path, m.Scale*p.times, 0, 0)
	w, h := whole.Width()+2*grow+2, whole.Height()+2*grow+2
	x0, y0 := int(math.Floor(m.X*p.times))+whole.XMin-grow, int(math.Ceil(m.Y*p.times))-whole.YMax-grow
	sum := p.sheet(w, h)
	if sum == nil {
		return
	}
	for n := range around + 1 {
		a := 2 * math.Pi * float64(n) / around
		right, down := far*math.Cos(a), far*math.Sin(a)
		if n == around {
			right, down = 0, 0
		}
		p.cover(m, right, down, func(cover []byte, x, y, cw, ch int, _ color.NRGBA) {
			over(sum, w, h, cover, x-x0, y-y0, cw, ch)
		})
	}
	p.put(sum, x0, y0, w, h, m.Colour)
}

// over keeps the greater of two coverages, the second at a place of the first.
func over(sum []byte, w, h int, cover []byte, x, y, cw, ch int) {
	for row := range ch {
		for col := range cw {
			if at := (y+row)*w + x + col; x+col >= 0 && x+col < w && y+row >= 0 && y+row < h && len(cover) >= cw*ch {
				sum[at] = max(sum[at], cover[row*cw+col])
			}
		}
	}
}

// sheet is room for coverage, all white.
func (p *painter) sheet(w, h int) []byte {
	if w <= 0 || h <= 0 || w > 4<<20/h {
		return nil
	}
	if cap(p.shade) < w*h {
		p.shade = make([]byte, w*h)
	}
	p.shade = p.shade[:w*h]
	clear(p.shade)
	return p.shade
}

// passes is how many means of neighbours come near a bell curve.
const passes = 3

// reach is how far a mean of neighbours goes, so that three of them have a deviation together: so many pixels
// on each side count whole, and one more in part (P. Gwosdek and others, "Theoretical foundations of Gaussian
// convolution by extended box filtering").
func reach(deviation float64) (whole int, part float64) {
	v := deviation * deviation / passes
	whole = int((math.Sqrt(12*v+1) - 1) / 2)
	l := float64(whole)
	return whole, (2*l + 1) * (l*(l+1) - 3*v) / (6 * (v - (l+1)*(l+1)))
}

// blur draws an outline with a soft edge: three means of neighbours, which come near a bell curve
// with half of the blur as its deviation, as browsers have it.
func (p *painter) blur(m *Mark) {
	whole, part := reach(m.Blur * p.times / 2)
	grow := passes*(whole+1) + 1
	p.cover(m, 0, 0, func(cover []byte, x, y, cw, ch int, c color.NRGBA) {
		w, h := cw+2*grow, ch+2*grow
		sum := p.sheet(w, h)
		if sum == nil {
			return
		}
		over(sum, w, h, cover, grow, grow, cw, ch)
		for range passes {
			means(sum, h, w, 1, w, whole, part)
			means(sum, w, h, w, 1, whole, part)
		}
		p.put(sum, x-grow, y-grow, w, h, c)
	})
}

// means replaces each value of some lines by the mean of its neighbours.
func means(pix []byte, lines, length, step, stride, whole int, part float64) {
	line := make([]int, length+2*whole+4) // with nothing before and behind
	first := whole + 2
	per := 1 / (float64(2*whole+1) + 2*part)
	for l := range lines {
		from := l * stride
		for i := range length {
			line[first+i] = int(pix[from+i*step])
		}
		sum := 0
		for i := -whole - 1; i < whole; i++ {
			sum += line[first+i]
		}
		for i := range length {
			at := first + i
			sum += line[at+whole] - line[at-whole-1]
			ends := float64(line[at-whole-1] + line[at+whole+1])
			pix[from+i*step] = byte((float64(sum)+part*ends)*per + 0.5)
		}
	}
}

// Ink is the box of the pixels that an outline touches; false for one without ink.
func Ink(path sfnt.Path, scale, x, y float64) (image.Rectangle, bool) {
	e := raster.Tight(path)
	if e == raster.NoExtent || e[0] == e[2] || e[1] == e[3] {
		return image.Rectangle{}, false
	}
	// A thousandth of a pixel is no ink: outlines are kept in 32 bits.
	from := func(v float64) int { return int(math.Floor(v + 1e-3)) }
	to := func(v float64) int { return int(math.Ceil(v - 1e-3)) }
	return image.Rect(from(x+float64(e[0])*scale), from(y-float64(e[3])*scale), to(x+float64(e[2])*scale), to(y-float64(e[1])*scale)), true
}
