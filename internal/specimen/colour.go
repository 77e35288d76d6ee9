package specimen

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
	"math"

	"notaria/internal/colour"
	"notaria/internal/fault"
	"notaria/internal/raster"
)

// coloured puts a glyph in colour, where it is one; layers of the text's own colour have that.
func (d *Drawing) coloured(t *Type, id int, m Mark) bool {
	if m.Paint = t.paint(id); m.Paint != nil {
		if !t.affords(m.Paint.Cost(m.placing(1))) {
			return false
		}
		d.Marks = append(d.Marks, m)
		return true
	}
	layers := t.colours.Layers(id)
	own := m.Colour
	for _, l := range layers {
		if m.Path = t.outline(l.Glyph); len(m.Path) == 0 || !t.worth(m.Path, m.Scale*float64(t.UnitsPerEm)) {
			continue
		}
		m.Colour = own
		if !l.Foreground {
			m.Colour = color.NRGBA{l.RGBA[0], l.RGBA[1], l.RGBA[2], l.RGBA[3]}
		}
		m.glyph.id = l.Glyph
		d.Marks = append(d.Marks, m)
	}
	if len(layers) > 0 {
		return true
	}
	if m.Bitmap = t.bitmap(id, m.Scale*float64(t.UnitsPerEm)); m.Bitmap != nil && t.affords(4*m.Bitmap.W*m.Bitmap.H, true) {
		m.Scale *= float64(t.UnitsPerEm) / m.Bitmap.PPEM
		d.Marks = append(d.Marks, m)
		return true
	}
	return false
}

// mostSpent is how much work one face's colours may ask for on a page: pixels, each as often as it is painted.
const mostSpent = 256 << 20

// affords counts work; false when there was too much, or no room for it, which is told.
func (t *Type) affords(work int, room bool) bool {
	if !room {
		work = mostSpent + 1
	}
	if t.spent += work; t.spent > mostSpent && t.trouble == nil {
		t.trouble = tooMuchColour()
	}
	return t.spent <= mostSpent
}

func tooMuchColour() error {
	return fault.Form("expected at most %d million steps for a face on a page, found more", mostSpent>>20)
}

// paint is how a glyph is painted, nil for one that is not, or that does not hold.
func (t *Type) paint(id int) *colour.Paint {
	p, known := t.paints[id]
	if !known && t.nodes <= mostNodes {
		var err error
		if p, err = t.colours.Paint(id, t.outline); err != nil && t.trouble == nil {
			t.trouble = err
		}
		if p != nil {
			t.nodes += p.Count
		}
		if err != nil {
			p = nil
		}
		if t.nodes > mostNodes && t.trouble == nil {
			t.trouble = fault.Form("expected at most %d paints for a face on a page, found more", mostNodes)
		}
		t.paints[id] = p
	}
	return p
}

// mostNodes is how many paints of one face are read and kept; four thousand emoji of fifty paints each are half of it.
const mostNodes = 400_000

// bitmap is the picture of a glyph at a size, nil for one without.
func (t *Type) bitmap(id int, size float64) *colour.Bitmap {
	if t.colours.Kind != colour.Pictures {
		return nil
	}
	key := [2]int{id, int(math.Ceil(size))}
	b, known := t.bitmaps[key]
	if !known {
		if t.spent > mostSpent {
			return nil // it would be unpacked to be looked at
		}
		var err error
		if b, err = t.colours.Bitmap(id, size); err != nil && t.trouble == nil {
			t.trouble = err
		}
		if b != nil {
			t.affords(b.W*b.H, true)
		}
		if b != nil && b.Corner {
			if e := raster.Extent(t.outline(id)); e != raster.NoExtent {
				b.Left += float64(e[0]) * b.PPEM / float64(t.UnitsPerEm)
				b.Top += float64(e[1]) * b.PPEM / float64(t.UnitsPerEm)
			}
		}
		t.bitmaps[key] = b
	}
	return b
}

// undrawn says of a face in colour that colours are not drawn here, and why; "" for others. It knows of single
// glyphs after they were drawn.
func (t *Type) undrawn() string {
	switch {
	case t.colours.Kind == colour.SVG:
		return "colours not drawn (SVG)"
	case t.trouble != nil:
		return "colours not drawn: " + t.trouble.Error()
	}
	return ""
}

// placing takes font units to pixels of a picture.
func (m *Mark) placing(times float64) colour.Matrix {
	k := m.Scale * times
	return colour.Matrix{XX: k, YY: -k, DX: m.X * times, DY: m.Y * times}
}

// picture is a mark in colour as pixels, with their place; nil where it has none in some limits.
func (m *Mark) picture(times float64, limits image.Rectangle) (*image.RGBA, error) {
	if m.Paint != nil {
		return m.Paint.Draw(m.placing(times), limits, m.Colour)
	}
	x, y := (m.X+m.Bitmap.Left*m.Scale)*times, (m.Y-m.Bitmap.Top*m.Scale)*times
	left, top := math.Floor(x), math.Floor(y)
	img, err := m.Bitmap.Sized(m.Scale*times, x-left, y-top)
	if err != nil {
		return nil, err
	}
	img.Rect = img.Rect.Add(image.Pt(int(left), int(top)))
	return img, nil
}

// colours puts a mark in colour on the picture.
func (p *painter) colours(m *Mark) {
	img, err := m.picture(p.times, p.img.Rect)
	if err != nil && p.err == nil {
		p.err = err
	}
	if err != nil || img == nil {
		return
	}
	box := img.Rect.Intersect(p.img.Rect)
	for y := box.Min.Y; y < box.Max.Y; y++ {
		for x := box.Min.X; x < box.Max.X; x++ {
			if c := img.RGBAAt(x, y); c.A != 0 {
				whole := func(v uint8) uint8 { return uint8(min((int(v)*255+int(c.A)/2)/int(c.A), 255)) }
				p.blend(x, y, color.NRGBA{R: whole(c.R), G: whole(c.G), B: whole(c.B), A: 255}, uint32(c.A))
			}
		}
	}
}

// An embedded picture is a mark in colour as SVG holds it: SVG has no words for all paints.
type embedded struct {
	png        []byte
	x, y, w, h float64 // where it stands, from the mark's own place
}

// finer is how many pixels of an embedded picture stand for one of the page, on each side.
const finer = 4

// embed makes the picture of a mark; false where there is nothing to see.
func (m Mark) embed() (e embedded, ok bool) {
	if m.Bitmap != nil {
		data, err := m.Bitmap.PNG()
		k := m.Scale
		return embedded{data, m.Bitmap.Left * k, -m.Bitmap.Top * k, float64(m.Bitmap.W) * k, float64(m.Bitmap.H) * k}, err == nil
	}
	m.X, m.Y = 0, 0
	var img *image.RGBA
	times := float64(finer)
	for ; times >= 1; times /= 2 { // what is too large is less fine
		var err error
		if img, err = m.picture(times, image.Rect(-1<<13, -1<<13, 1<<13, 1<<13)); err == nil {
			break
		}
	}
	if img == nil {
		return e, false
	}
	var b bytes.Buffer
	r := img.Rect
	img.Rect = r.Sub(r.Min)
	if err := png.Encode(&b, img); err != nil {
		return e, false
	}
	return embedded{b.Bytes(), float64(r.Min.X) / times, float64(r.Min.Y) / times, float64(r.Dx()) / times, float64(r.Dy()) / times}, true
}

// inkOf is the box of the pixels that a glyph touches, in whatever form it is drawn.
func (t *Type) inkOf(id int, scale, x, y float64) (box image.Rectangle, ok bool) {
	m := Mark{Scale: scale, X: x, Y: y}
	if m.Paint = t.paint(id); m.Paint != nil {
		if t.spent > mostSpent {
			return box, false
		}
		box, moved := m.Paint.Bounds(m.placing(1))
		t.affords(moved, true)
		return box, !box.Empty()
	}
	if layers := t.colours.Layers(id); len(layers) > 0 {
		for _, l := range layers {
			if b, inked := Ink(t.outline(l.Glyph), scale, x, y); inked {
				box, ok = box.Union(b), true
			}
		}
		return box, ok
	}
	if b := t.bitmap(id, scale*float64(t.UnitsPerEm)); b != nil {
		k := scale * float64(t.UnitsPerEm) / b.PPEM
		left, top := x+b.Left*k, y-b.Top*k
		return image.Rect(int(math.Floor(left)), int(math.Floor(top)), int(math.Ceil(left+float64(b.W)*k)), int(math.Ceil(top+float64(b.H)*k))), true
	}
	return Ink(t.outline(id), scale, x, y)
}
