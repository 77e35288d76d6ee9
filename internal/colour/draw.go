package colour

import (
	"fmt"
	"image"
	"image/color"
	"math"

	"notaria/internal/fault"
	"notaria/internal/raster"
	"notaria/internal/sfnt"
)

// Bounds of what one glyph may ask for when it is drawn.
const (
	mostPixels = 16 << 20 // of its picture
	mostLive   = 48 << 20 // of all pictures and masks that are needed at one time
	mostWork   = 4 << 30  // pixels that are looked at, in all
)

// Draw draws a paint: m takes font units to pixels, Y downwards. The picture has the size of what is painted,
// cut to the limits, and is nil where nothing is. A paint without bounds paints nothing, as the format has it.
func (p *Paint) Draw(m Matrix, limits image.Rectangle, foreground color.NRGBA) (*image.RGBA, error) {
	a := &artist{foreground: foreground}
	box, bounded := a.bounds(p, m)
	box = box.Intersect(limits)
	switch {
	case a.err != nil:
		return nil, a.err
	case !bounded || box.Empty():
		return nil, nil
	case box.Dx() > mostPixels/box.Dy():
		return nil, fault.Form("expected a glyph in colour of at most %d million pixels, found %d x %d", mostPixels>>20, box.Dx(), box.Dy())
	}
	img := a.sheet(box)
	a.draw(p, m, img, nil)
	return img, a.err
}

// Bounds is the box of pixels that a paint can reach; empty for one without bounds, which paints nothing. Moved is the
// work of finding it, in the steps of Cost.
func (p *Paint) Bounds(m Matrix) (box image.Rectangle, moved int) {
	a := &artist{}
	box, bounded := a.bounds(p, m)
	if moved = a.work / 8; !bounded || a.err != nil {
		return image.Rectangle{}, moved
	}
	return box, moved
}

// An artist draws one glyph.
type artist struct {
	foreground color.NRGBA
	raster     raster.Raster
	live, work int
	err        error
}

func (a *artist) sheet(box image.Rectangle) *image.RGBA {
	if a.live += box.Dx() * box.Dy(); a.live > mostLive {
		a.stop("pictures of at most %d million pixels for one glyph", mostLive>>20)
		return image.NewRGBA(image.Rectangle{})
	}
	return image.NewRGBA(box)
}

func (a *artist) done(box image.Rectangle) { a.live -= box.Dx() * box.Dy() }

func (a *artist) stop(format string, args ...any) {
	if a.err == nil {
		a.err = fmt.Errorf("expected paints that can be drawn: "+format+"; found more", args...)
	}
}

// spend counts pixels that are looked at; false when there were too many.
func (a *artist) spend(pixels int) bool {
	if a.work += pixels; a.work > mostWork {
		a.stop("at most %d million steps for one glyph", mostWork>>20)
	}
	return a.err == nil
}

// A mask is how much of each pixel is inside of outlines.
type mask struct {
	box image.Rectangle
	pix []byte
}

// placed is an outline in pixels, Y upwards as the rasteriser has it.
func (a *artist) placed(path sfnt.Path, m Matrix) (sfnt.Path, image.Rectangle) {
	if !a.spend(64 * len(path)) {
		return nil, image.Rectangle{}
	}
	return turned(path, m)
}

func turned(path sfnt.Path, m Matrix) (sfnt.Path, image.Rectangle) {
	out := make(sfnt.Path, len(path))
	for i, s := range path {
		for k := range s.P {
			x, y := m.Apply(float64(s.P[k][0]), float64(s.P[k][1]))
			s.P[k] = [2]float32{float32(x), float32(-y)}
		}
		out[i] = s
	}
	b := raster.Bounds(out, 1, 0, 0)
	return out, image.Rect(b.XMin, -b.YMax, b.XMax, -b.YMin)
}

// bounds is what a paint can reach, in pixels; false for all of the plane.
func (a *artist) bounds(p *Paint, m Matrix) (box image.Rectangle, bounded bool) {
	if p.Box != nil {
		_, box = turned(rectangle(*p.Box), m)
		return box, true
	}
	switch p.Op {
	case Fill:
		return image.Rectangle{}, false
	case Clip:
		_, box = a.placed(p.Path, m)
		return box, true
	case Transform:
		m = m.Times(p.M)
	}
	for _, kid := range p.Kids {
		b, ok := a.bounds(kid, m)
		if !ok {
			return image.Rectangle{}, false
		}
		box = box.Union(b)
	}
	return box, true
}

// rectangle is a box as an outline.
func rectangle(b [4]float64) sfnt.Path {
	at := func(op sfnt.Op, x, y float64) sfnt.Segment {
		return sfnt.Segment{Op: op, P: [3][2]float32{{float32(x), float32(y)}}}
	}
	return sfnt.Path{at(sfnt.MoveTo, b[0], b[1]), at(sfnt.LineTo, b[2], b[1]), at(sfnt.LineTo, b[2], b[3]), at(sfnt.LineTo, b[0], b[3])}
}

// draw lays a paint on a picture, inside of a mask; nil for all of the picture.
func (a *artist) draw(p *Paint, m Matrix, on *image.RGBA, in *mask) {
	if a.err != nil {
		return
	}
	if p.Box != nil {
		path, box := turned(rectangle(*p.Box), m)
		var done func()
		if in, done = a.clip(path, box, on.Rect, in); in == nil {
			return
		}
		defer done()
	}
	switch p.Op {
	case Group:
		for _, kid := range p.Kids {
			a.draw(kid, m, on, in)
		}
	case Transform:
		a.draw(p.Kids[0], m.Times(p.M), on, in)
	case Clip:
		path, box := a.placed(p.Path, m)
		inner, done := a.clip(path, box, on.Rect, in)
		if inner != nil {
			a.draw(p.Kids[0], m, on, inner)
			done()
		}
	case Fill:
		a.fill(&p.Brush, m, on, in)
	case Composite:
		a.composite(p, m, on, in)
	}
}

// clip is a mask of an outline inside of another mask, nil for one that nothing is inside of; done gives its
// room back.
func (a *artist) clip(path sfnt.Path, box, limits image.Rectangle, in *mask) (*mask, func()) {
	if in != nil {
		limits = limits.Intersect(in.box)
	}
	if box = box.Intersect(limits); box.Empty() || !a.spend(box.Dx()*box.Dy()) {
		return nil, nil
	}
	if a.live += box.Dx() * box.Dy(); a.live > mostLive {
		a.stop("masks of at most %d million pixels for one glyph", mostLive>>20)
		return nil, nil
	}
	b := raster.Box{XMin: box.Min.X, YMin: -box.Max.Y, XMax: box.Max.X, YMax: -box.Min.Y}
	out := &mask{box, append([]byte(nil), a.raster.Fill(path, 1, 0, 0, b)...)}
	if len(out.pix) < box.Dx()*box.Dy() {
		a.done(box)
		return nil, nil
	}
	if in != nil {
		i := 0
		for y := box.Min.Y; y < box.Max.Y; y++ {
			row := in.pix[(y-in.box.Min.Y)*in.box.Dx()+box.Min.X-in.box.Min.X:]
			for x := range box.Dx() {
				out.pix[i] = byte((int(out.pix[i])*int(row[x]) + 127) / 255)
				i++
			}
		}
	}
	return out, func() { a.done(box) }
}

// each hands over the pixels of a picture that a mask lets through, with how much.
func (a *artist) each(on *image.RGBA, in *mask, use func(px []uint8, x, y int, part float64)) {
	box := on.Rect
	if in != nil {
		box = box.Intersect(in.box)
	}
	if !a.spend(box.Dx() * box.Dy()) {
		return
	}
	for y := box.Min.Y; y < box.Max.Y; y++ {
		i := on.PixOffset(box.Min.X, y)
		for x := box.Min.X; x < box.Max.X; x, i = x+1, i+4 {
			part := 1.0
			if in != nil {
				v := in.pix[(y-in.box.Min.Y)*in.box.Dx()+x-in.box.Min.X]
				if v == 0 {
					continue
				}
				part = float64(v) / 255
			}
			use(on.Pix[i:i+4:i+4], x, y, part)
		}
	}
}

// fill lays a brush on a picture.
func (a *artist) fill(b *Brush, m Matrix, on *image.RGBA, in *mask) {
	back, ok := m.Inverse()
	if !ok && b.Kind != Solid {
		return
	}
	s := b.shade(a.foreground)
	a.each(on, in, func(px []uint8, x, y int, part float64) {
		c := s.at(back.Apply(float64(x)+0.5, float64(y)+0.5))
		for i := range c {
			c[i] *= part
		}
		lay(px, c, sourceOver)
	})
}

// composite draws both kids apart, mixes them, and lays what comes out on the picture.
func (a *artist) composite(p *Paint, m Matrix, on *image.RGBA, in *mask) {
	box := on.Rect
	if in != nil {
		box = box.Intersect(in.box)
	}
	source, back := a.sheet(box), a.sheet(box)
	defer a.done(box)
	defer a.done(box)
	a.draw(p.Kids[0], m, source, nil)
	a.draw(p.Kids[1], m, back, nil)
	if a.err != nil {
		return
	}
	a.each(back, nil, func(px []uint8, x, y int, _ float64) { lay(px, loose(source.Pix[source.PixOffset(x, y):]), p.Mode) })
	a.each(on, in, func(px []uint8, x, y int, part float64) {
		c := loose(back.Pix[back.PixOffset(x, y):])
		for i := range c {
			c[i] *= part
		}
		lay(px, c, sourceOver)
	})
}

func loose(px []uint8) [4]float64 {
	return [4]float64{float64(px[0]) / 255, float64(px[1]) / 255, float64(px[2]) / 255, float64(px[3]) / 255}
}

// lay mixes a colour into a pixel; both are multiplied by their alphas.
func lay(px []uint8, c [4]float64, mode Mode) {
	out := mode.mix(c, loose(px))
	for i := range out {
		px[i] = uint8(math.Round(255 * min(max(out[i], 0), 1)))
	}
	for i := range 3 {
		px[i] = min(px[i], px[3])
	}
}
