package pixel

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"math"
	"slices"

	"notaria/internal/fault"
)

// IsPNG says whether data begins as a PNG.
func IsPNG(data []byte) bool { return bytes.HasPrefix(data, []byte("\x89PNG\r\n\x1a\n")) }

// inks is a picture as how much ink each pixel has, from 0 to 255.
type inks struct {
	width, height int
	pix           []byte
}

// decodeInk reads a PNG. Where some of it is transparent, opacity is ink; else it is how far each
// pixel is from the ground's colour towards the ink's. The ground is the colour of most
// pixels of the border, the ink the one that is farthest from it.
func decodeInk(data []byte, colours Ink) (*inks, error) {
	c, err := png.DecodeConfig(bytes.NewReader(data))
	if err != nil {
		return nil, fmt.Errorf("expected a picture in PNG: %w", err)
	}
	if c.Width < 1 || c.Height < 1 || c.Width > mostSheet || c.Height > mostSheet || c.Width*c.Height > mostPicture {
		return nil, fault.Form("expected a picture of at most %d pixels a side, and %d million in all, found %dx%d", mostSheet, mostPicture>>20, c.Width, c.Height)
	}
	decoded, err := png.Decode(bytes.NewReader(data))
	if err != nil {
		return nil, fmt.Errorf("expected a picture in PNG: %w", err)
	}
	b := decoded.Bounds()
	p := &inks{width: b.Dx(), height: b.Dy(), pix: make([]byte, b.Dx()*b.Dy())}
	at := func(x, y int) color.NRGBA {
		return color.NRGBAModel.Convert(decoded.At(b.Min.X+x, b.Min.Y+y)).(color.NRGBA)
	}
	if colours.Ink == nil && colours.Ground == nil && p.fromOpacity(at) {
		return p, nil
	}
	ground := p.ground(at)
	if colours.Ground != nil {
		ground = color.NRGBAModel.Convert(colours.Ground).(color.NRGBA)
	}
	ink := p.farthest(at, ground)
	if colours.Ink != nil {
		ink = color.NRGBAModel.Convert(colours.Ink).(color.NRGBA)
	}
	if ink == ground {
		return nil, errors.New("expected a picture with ink, found one colour alone")
	}
	p.between(at, ground, ink)
	return p, nil
}

type pixelAt func(x, y int) color.NRGBA

// fromOpacity takes opacity for ink, if any pixel is not opaque.
func (p *inks) fromOpacity(at pixelAt) bool {
	any := false
	for i := range p.pix {
		p.pix[i] = at(i%p.width, i/p.width).A
		any = any || p.pix[i] < 255
	}
	return any
}

// ground is the colour of most pixels of the border.
func (p *inks) ground(at pixelAt) color.NRGBA {
	count := map[color.NRGBA]int{}
	var most color.NRGBA
	see := func(x, y int) {
		c := at(x, y)
		if count[c]++; count[c] > count[most] {
			most = c
		}
	}
	for x := range p.width {
		see(x, 0)
		see(x, p.height-1)
	}
	for y := range p.height {
		see(0, y)
		see(p.width-1, y)
	}
	return most
}

func (p *inks) farthest(at pixelAt, from color.NRGBA) color.NRGBA {
	best, most := from, 0
	for i := range p.pix {
		c := at(i%p.width, i/p.width)
		square := func(a, b uint8) int { return (int(a) - int(b)) * (int(a) - int(b)) }
		if d := square(c.R, from.R) + square(c.G, from.G) + square(c.B, from.B); d > most {
			best, most = c, d
		}
	}
	return best
}

// between measures each pixel along the line from the ground's colour to the ink's.
func (p *inks) between(at pixelAt, ground, ink color.NRGBA) {
	d := [3]float64{float64(ink.R) - float64(ground.R), float64(ink.G) - float64(ground.G), float64(ink.B) - float64(ground.B)}
	length := d[0]*d[0] + d[1]*d[1] + d[2]*d[2]
	for i := range p.pix {
		c := at(i%p.width, i/p.width)
		part := ((float64(c.R)-float64(ground.R))*d[0] + (float64(c.G)-float64(ground.G))*d[1] + (float64(c.B)-float64(ground.B))*d[2]) / length
		p.pix[i] = byte(max(0, min(1, part))*255 + 0.5)
	}
}

// shades says whether a depth holds all shades of ink that are there.
func (p *inks) shades(depth int) error {
	full := 1<<depth - 1
	have := map[byte]bool{}
	wrong := false
	for _, v := range p.pix {
		have[v] = true
		level := (int(v)*full + 127) / 255
		wrong = wrong || max(level*255/full-int(v), int(v)-level*255/full) > 255/full/6
	}
	if wrong {
		return fault.Form("expected at most %d shades for a depth of %d, evenly apart, found %d (ink and ground counted); draw in full shades, or choose a greater depth", full+1, depth, len(have))
	}
	return nil
}

// glyph takes a cell out.
func (p *inks) glyph(cell image.Rectangle, depth int) Glyph {
	full := 1<<depth - 1
	g := Glyph{Width: cell.Dx(), Height: cell.Dy(), Pix: make([]byte, 0, cell.Dx()*cell.Dy())}
	for y := cell.Min.Y; y < cell.Max.Y; y++ {
		for _, v := range p.pix[y*p.width+cell.Min.X : y*p.width+cell.Max.X] {
			g.Pix = append(g.Pix, byte((int(v)*full+127)/255))
		}
	}
	return g
}

// A Strip says how a picture of glyphs is read: a line of them, several lines, or a grid.
type Strip struct {
	Holds    []rune // the characters, line by line
	Cell     [2]int // width and height of the grid's cells; 0, 0 to find glyphs by the gaps between them
	Baseline int    // rows of a cell above the baseline; -1 to find it
	Depth    int    // bits a pixel; 0 to find it
	Ink
}

// ReadStrip reads a font from a picture (PNG).
func ReadStrip(data []byte, s Strip) (*Font, error) {
	if len(s.Holds) == 0 {
		return nil, errors.New("expected the characters that the picture holds, in their order, found none")
	}
	p, err := decodeInk(data, s.Ink)
	if err != nil {
		return nil, err
	}
	if s.Depth == 0 {
		for _, d := range Depths {
			if s.Depth = d; p.shades(d) == nil {
				break
			}
		}
	} else if err := p.shades(s.Depth); err != nil {
		return nil, err
	}
	cells, err := p.cells(s)
	if err != nil {
		return nil, err
	}
	f := &Font{Depth: s.Depth}
	baselines := map[int]int{} // by line: each has its own
	for i, r := range s.Holds {
		g := p.glyph(cells[i].box, s.Depth)
		g.Rune, g.Advance = r, (cells[i].box.Dx()+cells[i].gap)*Sub
		f.Glyphs = append(f.Glyphs, g)
		f.Ascent = max(f.Ascent, g.Height)
		if s.Baseline >= 0 {
			baselines[cells[i].line] = s.Baseline
		}
	}
	if s.Baseline > f.Ascent {
		return nil, fault.Form("expected a baseline of at most %d, the height of a cell, found %d", f.Ascent, s.Baseline)
	}
	below := 0
	for i := range f.Glyphs {
		line := cells[i].line
		if _, ok := baselines[line]; !ok {
			baselines[line] = baseline(f.Glyphs, cells, line)
		}
		g := &f.Glyphs[i]
		g.Y = baselines[line] - g.Height
		below = max(below, -g.Y)
		*g = g.trim()
	}
	f.Ascent, f.Descent = f.Ascent-below, below
	f.Em = float64(f.LineHeight())
	f.sort()
	if len(f.Glyphs) < len(s.Holds) {
		return nil, fault.Form("expected each character once, found %d of them twice", len(s.Holds)-len(f.Glyphs))
	}
	return f, f.valid()
}

// baseline is where most glyphs of a line end, in rows from the top of a cell.
func baseline(glyphs []Glyph, cells []cell, line int) int {
	count, best := map[int]int{}, 0
	for i, g := range glyphs {
		if cells[i].line != line {
			continue
		}
		cut := g
		if cut = cut.trim(); cut.Height == 0 {
			continue
		}
		end := g.Height - (cut.Y - g.Y)
		if count[end]++; count[end] > count[best] || count[end] == count[best] && end > best {
			best = end
		}
	}
	return best
}

type cell struct {
	box       image.Rectangle
	line, gap int
}

// cells finds a cell for each character.
func (p *inks) cells(s Strip) ([]cell, error) {
	if s.Cell != [2]int{} {
		return p.grid(s)
	}
	var out []cell
	lines := p.runs(image.Rect(0, 0, p.width, p.height), false)
	// One line is the usual form, and dots of an i are no line of their own.
	whole := p.runs(image.Rect(0, 0, p.width, p.height), true)
	if len(whole) == len(s.Holds) && len(lines) > 0 {
		lines = [][2]int{{lines[0][0], lines[len(lines)-1][1]}}
	}
	for n, line := range lines {
		for _, c := range p.runs(image.Rect(0, line[0], p.width, line[1]), true) {
			out = append(out, cell{image.Rect(c[0], line[0], c[1], line[1]), n, 1})
		}
	}
	if len(out) != len(s.Holds) {
		return nil, fault.Form("expected %d glyphs in the picture, apart by empty columns, found %d in %d lines; leave a gap between all of them, and none in them, or say the size of their cells", len(s.Holds), len(out), len(lines))
	}
	return out, nil
}

// runs are the columns, or rows, of a part of the picture that have ink, from and to.
func (p *inks) runs(part image.Rectangle, columns bool) [][2]int {
	n, from := part.Dx(), part.Min.X
	if !columns {
		n, from = part.Dy(), part.Min.Y
	}
	inked := make([]bool, n+1)
	for y := part.Min.Y; y < part.Max.Y; y++ {
		for x := part.Min.X; x < part.Max.X; x++ {
			if p.pix[y*p.width+x] >= 32 { // what is nearly nothing is none
				if columns {
					inked[x-part.Min.X] = true
				} else {
					inked[y-part.Min.Y] = true
				}
			}
		}
	}
	var out [][2]int
	start := -1
	for i, on := range inked {
		switch {
		case on && start < 0:
			start = i
		case !on && start >= 0:
			out, start = append(out, [2]int{from + start, from + i}), -1
		}
	}
	return out
}

// grid are cells of one size, line by line.
func (p *inks) grid(s Strip) ([]cell, error) {
	w, h := s.Cell[0], s.Cell[1]
	if w < 1 || h < 1 || w > p.width || h > p.height {
		return nil, fault.Form("expected cells of at most %dx%d pixels, the picture's size, found %dx%d", p.width, p.height, w, h)
	}
	across := p.width / w
	if have := across * (p.height / h); have < len(s.Holds) {
		return nil, fault.Form("expected %d cells in the picture, found %d of %dx%d pixels", len(s.Holds), have, w, h)
	}
	out := make([]cell, len(s.Holds))
	for i := range out {
		x, y := i%across*w, i/across*h
		out[i] = cell{image.Rect(x, y, x+w, y+h), i / across, 0}
	}
	return out, nil
}

// Times makes each pixel so many times as wide and high, in half steps, with hard edges: at 1.5 two
// pixels become three.
func (f *Font) Times(times float64) error {
	if times < 0.5 || times > 64 || times*2 != math.Trunc(times*2) {
		return fault.Form("expected whole or half times from 0.5 to 64, found %g", times)
	}
	half := int(times * 2)
	scaled := func(v int) int { return floorHalf(v * half) }
	sum := 0
	for i, g := range f.Glyphs {
		out := Glyph{Rune: g.Rune, Advance: g.Advance * half / 2, X: scaled(g.X), Y: scaled(g.Y)}
		out.Width, out.Height = scaled(g.X+g.Width)-out.X, scaled(g.Top())-out.Y
		if sum += out.Width * out.Height; sum > mostPixels || max(out.Width, out.Height) > mostSide {
			return fault.Form("U+%04X: expected glyphs of at most %d pixels a side, and %d million in all, found more", g.Rune, mostSide, mostPixels>>20)
		}
		out.Pix = make([]byte, 0, out.Width*out.Height)
		for y := range out.Height {
			// Rows count from the baseline, so that all glyphs are stretched alike.
			from := g.Top() - 1 - origin(out.Y+out.Height-1-y, half)
			for x := range out.Width {
				out.Pix = append(out.Pix, g.Pix[min(max(from, 0), g.Height-1)*g.Width+min(max(origin(out.X+x, half)-g.X, 0), g.Width-1)])
			}
		}
		f.Glyphs[i] = out
	}
	for i := range f.Kerns {
		f.Kerns[i].Value = f.Kerns[i].Value * half / 2
	}
	f.Em, f.Ascent, f.Descent = f.Em*times, scaled(f.Ascent), -scaled(-f.Descent)
	return f.valid()
}

// floorHalf is half of a number, downwards.
func floorHalf(v int) int { return int(math.Floor(float64(v) / 2)) }

// origin is the pixel that a pixel of a stretched picture comes from.
func origin(v, half int) int { return int(math.Floor((float64(v) + 0.5) * 2 / float64(half))) }

// Pad adds empty pixels around each character: to its advance, and to the line.
func (f *Font) Pad(pixels int) error {
	if pixels < 0 || pixels > mostGap {
		return fault.Form("expected a padding of 0 to %d pixels, found %d", mostGap, pixels)
	}
	for i := range f.Glyphs {
		f.Glyphs[i].X += pixels
		f.Glyphs[i].Advance += 2 * pixels * Sub
	}
	f.Ascent, f.Descent = f.Ascent+pixels, f.Descent+pixels
	return f.valid()
}

// Deepen changes the depth: shades are kept as far as the new one has them.
func (f *Font) Deepen(depth int) error {
	if !slices.Contains(Depths, depth) {
		return fault.Form("expected a depth of 1, 2, 4 or 8 bits, found %d", depth)
	}
	was, full := int(f.Full()), 1<<depth-1
	for i := range f.Glyphs {
		pix := slices.Clone(f.Glyphs[i].Pix)
		for k, v := range pix {
			pix[k] = byte((int(v)*full*2 + was) / (2 * was))
		}
		f.Glyphs[i].Pix = pix
		f.Glyphs[i] = f.Glyphs[i].trim()
	}
	f.Depth = depth
	return f.valid()
}
