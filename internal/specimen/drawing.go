// Package specimen draws text on pages: as pictures (PNG), as outlines that need no font (SVG), and
// in a terminal. A page is a Drawing: a list of marks in pixels, which each form renders.
package specimen

import (
	"image/color"
	"sync/atomic"

	"notaria/internal/colour"
	"notaria/internal/fault"
	"notaria/internal/setting"
	"notaria/internal/sfnt"
	"notaria/internal/shape"
)

// A Mark is an outline, or a rectangle where it has none, in one colour. Lengths are in pixels; Y
// grows downwards.
type Mark struct {
	Path   sfnt.Path
	Scale  float64 // pixels per unit of the path
	X, Y   float64 // the path's origin, or the rectangle's upper left corner
	W, H   float64 // of a rectangle
	Colour color.NRGBA
	Spread float64 // how far the outline is made thicker, on each side
	Blur   float64 // how far its edge is spread out
	glyph  glyph   // what the path is of, so that a form can keep it once
	// Of a glyph in colour, instead of a path: how it is painted, with the text's own colour, or its picture.
	Paint  *colour.Paint
	Bitmap *colour.Bitmap
}

// A glyph is one of a face, by numbers: a page that is kept does not keep its fonts.
type glyph struct {
	face int64 // of the Type, from 1; below 0 for the page's own type
	id   int
}

// A Word is a text that is drawn, for readers who do not see it.
type Word struct{ Text string }

// A Drawing is a page.
type Drawing struct {
	W, H   float64
	Ground color.NRGBA
	Title  string
	Marks  []Mark
	Words  []Word
}

// Rect adds a rectangle.
func (d *Drawing) Rect(x, y, w, h float64, c color.NRGBA) {
	d.Marks = append(d.Marks, Mark{X: x, Y: y, W: w, H: h, Colour: c})
}

// Frame adds the border of a rectangle, inside of it.
func (d *Drawing) Frame(x, y, w, h, thick float64, c color.NRGBA) {
	d.Rect(x, y, w, thick, c)
	d.Rect(x, y+h-thick, w, thick, c)
	d.Rect(x, y+thick, thick, h-2*thick, c)
	d.Rect(x+w-thick, y+thick, thick, h-2*thick, c)
}

// Add puts another drawing into this one, at a place.
func (d *Drawing) Add(other *Drawing, x, y float64) {
	for _, m := range other.Marks {
		m.X, m.Y = m.X+x, m.Y+y
		d.Marks = append(d.Marks, m)
	}
	d.Words = append(d.Words, other.Words...)
}

// A Type is a face that is drawn with; it keeps the outlines that it drew. It is not safe for use by
// several goroutines.
type Type struct {
	*shape.Face
	Vertical *setting.Vertical // of the lines of platforms; nil for a type that Load did not make
	number   int64
	paths    map[int]sfnt.Path
	colours  *colour.Glyphs
	paints   map[int]*colour.Paint
	bitmaps  map[[2]int]*colour.Bitmap // by glyph and size
	spent    int                       // work for colours
	trouble  error                     // why some glyphs are not in colour
	nodes    int                       // paints that were read
	loaded   int                       // segments of all outlines that were read
	drawn    int                       // work for outlines
	refused  error                     // why no more outlines are drawn
	page     *work                     // of all faces of the page; nil for a face alone
}

// A work is what the outlines of all faces of a page take together. Faces are drawn several at a time, so a page that
// takes too much fails as a whole: which face it is does not depend on chance then.
type work struct{ loaded, drawn atomic.Int64 }

// Bounds of it: what is kept is a hundred megabytes. A page of a thousand faces keeps two million segments.
const (
	mostLoadedOfPage = 4 << 20
	mostDrawnOfPage  = 40 << 20
)

// err says that the page takes too much.
func (w *work) err() error {
	switch {
	case w.loaded.Load() > mostLoadedOfPage:
		return fault.Form("expected outlines of at most %d million segments on a page, found more; draw fewer faces, or a shorter text", mostLoadedOfPage>>20)
	case w.drawn.Load() > mostDrawnOfPage:
		return fault.Form("expected a page that takes at most %d million steps to draw, found more; draw fewer faces, a shorter text, or a smaller one", mostDrawnOfPage>>20)
	}
	return nil
}

// Bounds of one face's outlines on a page: segments that are read and kept, and work for filling, in segments of
// sixteen pixels. A page of three thousand glyphs with a hundred segments each takes half a million of either.
const (
	mostLoaded = 4 << 20
	mostDrawn  = 24 << 20
)

// worth counts the work of drawing an outline at a size in pixels; false when there was too much, which the page then
// fails with.
func (t *Type) worth(p sfnt.Path, size float64) bool {
	steps := len(p) * (1 + int(min(size, 1<<14))/16)
	t.drawn += steps
	if t.page != nil && t.refused == nil {
		t.page.drawn.Add(int64(steps))
		t.refused = t.page.err()
	}
	if t.drawn > mostDrawn && t.refused == nil {
		t.refused = fault.Form("expected outlines of one face that take at most %d million steps to draw, found more; draw fewer of its characters, or smaller", mostDrawn>>20)
	}
	return t.refused == nil
}

// types counts the faces that were made ready.
var types atomic.Int64

// NewType makes a face ready for drawing, with its glyphs in colour.
func NewType(f *shape.Face, c *colour.Glyphs) *Type {
	return &Type{Face: f, number: types.Add(1), paths: map[int]sfnt.Path{}, colours: c, paints: map[int]*colour.Paint{}, bitmaps: map[[2]int]*colour.Bitmap{}, trouble: c.Err}
}

// outline is the path of a glyph; of one that cannot be read, none.
func (t *Type) outline(id int) sfnt.Path {
	p, ok := t.paths[id]
	if ok || t.refused != nil {
		return p
	}
	p, err := t.Paths.Outline(id)
	if t.page != nil {
		t.page.loaded.Add(int64(len(p)))
		t.refused = t.page.err()
	}
	if t.loaded += len(p); t.loaded > mostLoaded {
		t.refused = fault.Form("expected outlines of at most %d million segments in one face on a page, found more; draw fewer of its characters", mostLoaded>>20)
	}
	if err != nil || t.refused != nil {
		p = nil
	}
	t.paths[id] = p
	return p
}

// A Style is how a text is set. Lengths are in pixels.
type Style struct {
	Size     float64
	Colour   color.NRGBA
	Lacking  color.NRGBA // of the boxes that stand for characters that the face lacks
	Tracking float64     // added after each letter
	Space    float64     // added after each space
	Width    float64     // lines are broken at it; 0 for none
	Leading  float64     // from baseline to baseline; 0 for the face's own
	Whole    bool        // a word that is wider than the width stands out; else it is broken
	Most     int         // lines; 0 for any number
	Features map[string]bool
	Language string
	Outline  float64 // of each letter, on both sides of its edge together
	Edge     color.NRGBA
	Shadow   *Shadow
}

// A Shadow is a copy of each letter below it; X grows to the right, Y downwards.
type Shadow struct {
	X, Y, Blur float64
	Colour     color.NRGBA
}

// natural is the face's own distance between baselines, for one pixel of size.
func (t *Type) natural() float64 {
	return float64(t.Ascent-t.Descent+t.LineGap) / float64(t.UnitsPerEm)
}

// leading is the distance between the baselines of a style.
func (t *Type) leading(s Style) float64 {
	if s.Leading > 0 {
		return s.Leading
	}
	return t.natural() * s.Size
}

// Lines shapes a text as a style sets it; lengths of the lines are in font units.
func (t *Type) Lines(text string, s Style) ([]shape.Line, error) {
	scale := s.Size / float64(t.UnitsPerEm)
	lines, err := t.Face.Lines(text, shape.How{Width: s.Width / scale, Whole: s.Whole, Tracking: s.Tracking / scale, Space: s.Space / scale, Features: s.Features, Language: s.Language})
	if s.Most > 0 && len(lines) > s.Most {
		lines = lines[:s.Most]
	}
	return lines, err
}

// Set puts a text on a drawing with the first baseline at a place, and returns its lines. A paragraph
// that runs leftward ends at the right of the width.
func (d *Drawing) Set(t *Type, text string, x, y float64, s Style) ([]shape.Line, error) {
	lines, err := t.Lines(text, s)
	if err != nil {
		return nil, err
	}
	scale := s.Size / float64(t.UnitsPerEm)
	for i, l := range lines {
		at := x
		if l.Leftward && s.Width > 0 {
			at += s.Width - l.Advance*scale
		}
		d.line(t, l, at, y+float64(i)*t.leading(s), scale, s)
	}
	if t.refused != nil {
		return nil, t.refused
	}
	d.Words = append(d.Words, Word{text})
	return lines, nil
}

// line puts the glyphs of one line: shadows below all letters, outlines below their fill.
func (d *Drawing) line(t *Type, l shape.Line, x, y, scale float64, s Style) {
	if s.Shadow != nil {
		d.glyphs(t, l, x+s.Shadow.X, y+s.Shadow.Y, Mark{Scale: scale, Colour: s.Shadow.Colour, Blur: s.Shadow.Blur}, s, false)
	}
	if s.Outline > 0 {
		d.glyphs(t, l, x, y, Mark{Scale: scale, Colour: s.Edge, Spread: s.Outline / 2}, s, false)
	}
	d.glyphs(t, l, x, y, Mark{Scale: scale, Colour: s.Colour}, s, true)
}

// glyphs puts the glyphs of a line once; colours says whether those that are in colour are.
func (d *Drawing) glyphs(t *Type, l shape.Line, x, y float64, m Mark, s Style, colours bool) {
	for _, g := range l.Glyphs {
		if g.Missing {
			d.lack(x+g.X*m.Scale, y, g.Advance*m.Scale, s)
			continue
		}
		m.X, m.Y, m.glyph = x+g.X*m.Scale, y-g.Y*m.Scale, glyph{t.number, g.ID}
		if colours && d.coloured(t, g.ID, m) {
			continue
		}
		if m.Path = t.outline(g.ID); len(m.Path) > 0 && t.worth(m.Path, s.Size) {
			d.Marks = append(d.Marks, m)
		}
	}
}

// lack draws the box that stands for a character which the face lacks.
func (d *Drawing) lack(x, y, advance float64, s Style) {
	c := s.Lacking
	if c.A == 0 {
		c = s.Colour
	}
	left, w := lacking(x, advance, s)
	d.Frame(left, y-s.Size*0.7, w, s.Size*0.7, max(1, s.Size/32), c)
}

// lacking is where such a box stands, and how wide it is; it is 0.7 em high, on the baseline.
func lacking(x, advance float64, s Style) (left, width float64) {
	w := max(advance, s.Size*0.4)
	return x + w*0.12, w * 0.76
}
