package specimen

import (
	"image"
	"math"

	"notaria/internal/shape"
)

// A Measure is how much room a text takes. Lengths are in pixels; X grows to the right from the text's
// start, Y downwards from the first baseline.
type Measure struct {
	Text    string   `json:"text"`
	Size    float64  `json:"size"`
	Advance float64  `json:"advance"` // of the longest line
	Line    float64  `json:"line"`    // from baseline to baseline
	Height  float64  `json:"height"`  // of all lines
	Lines   int      `json:"lines"`
	Ink     *Box     `json:"ink"` // in whole pixels; null for a text without ink
	Missing []string `json:"missing"`
	Wider   bool     `json:"wider,omitempty"` // than the width that it is to fit into
}

// A Box is a rectangle of pixels.
type Box struct {
	Left   int `json:"left"`
	Top    int `json:"top"`
	Right  int `json:"right"`
	Bottom int `json:"bottom"`
}

// MeasureText measures a text as a style sets it. Where the style has a width, lines are broken at it.
func (t *Type) MeasureText(text string, s Style) (Measure, error) {
	lines, err := t.Lines(text, s)
	if err != nil {
		return Measure{}, err
	}
	scale := s.Size / float64(t.UnitsPerEm)
	m := Measure{Text: text, Size: s.Size, Line: round(t.leading(s)), Lines: len(lines), Height: round(t.leading(s) * float64(len(lines))), Missing: []string{}}
	var ink image.Rectangle
	for i, l := range lines {
		m.Advance = max(m.Advance, l.Advance*scale)
		x := 0.0
		if l.Leftward && s.Width > 0 {
			x = s.Width - l.Advance*scale
		}
		for _, g := range l.Glyphs {
			if box, ok := t.inkOf(g.ID, scale, x+g.X*scale, float64(i)*t.leading(s)-g.Y*scale); ok && !g.Missing {
				ink = ink.Union(box)
			}
		}
	}
	switch {
	case t.refused != nil:
		return Measure{}, t.refused
	case t.spent > mostSpent:
		return Measure{}, tooMuchColour()
	}
	m.Advance = round(m.Advance)
	if !ink.Empty() {
		m.Ink = &Box{ink.Min.X, ink.Min.Y, ink.Max.X, ink.Max.Y}
	}
	for _, r := range shape.Missing(lines) {
		m.Missing = append(m.Missing, string(r))
	}
	m.Wider = s.Width > 0 && m.Advance > s.Width+0.005
	return m, nil
}

// round keeps hundredths of a pixel.
func round(v float64) float64 { return math.Round(v*100) / 100 }

// Overlay draws a text in two faces over each other, so that what differs is seen: first in a colour of
// its own, then in another, half through.
func Overlay(a, b *Type, names [2]string, texts []string, sa, sb Style, o Options) (*Drawing, error) {
	pen, err := NewPen(o.Colours)
	if err != nil {
		return nil, err
	}
	d := &Drawing{W: o.Width, Ground: o.Ground, Title: o.Title}
	first, second := firstInk, secondInk
	pen.words(d, pen.strong, o.Title, margin, margin+20, 28, o.Width-2*margin, o.Ink)
	x := float64(margin)
	for i, c := range []struct{ r, g, b uint8 }{{first.R, first.G, first.B}, {second.R, second.G, second.B}} {
		ink := first
		ink.R, ink.G, ink.B, ink.A = c.r, c.g, c.b, 255
		d.Rect(x, margin+36, 12, 12, ink)
		x += 20 + pen.words(d, pen.text, names[i], x+20, margin+46, 15, o.Width/2-margin, o.Quiet) + 3*unit
	}
	y := float64(margin + 46 + 3*unit)
	sa.Colour, sb.Colour, sa.Lacking, sb.Lacking = first, second, first, second
	sa.Most, sb.Most = 1, 1
	sa.Width, sb.Width, sa.Shadow, sb.Shadow, sa.Outline, sb.Outline = 0, 0, nil, nil, 0, 0
	for _, text := range texts {
		d.Rect(margin, y, o.Width-2*margin, 1, o.Rule)
		y += unit + math.Ceil(max(sa.Size, sb.Size))
		for i, t := range []*Type{a, b} {
			s := []Style{sa, sb}[i]
			lines, err := d.Set(t, text, margin, y, s)
			if err != nil {
				return nil, err
			}
			d.Rect(margin+lines[0].Advance*s.Size/float64(t.UnitsPerEm), y-s.Size, 1, s.Size*1.2, s.Colour)
		}
		y += math.Ceil(max(sa.Size, sb.Size)*0.35) + unit
	}
	d.H = y + margin/2
	return d, nil
}
