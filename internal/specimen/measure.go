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
	// Broken are the lines, where there are several.
	Broken []string `json:"broken,omitempty"`
	// Syllables says that the text was broken between syllables, for a dictionary of its words is needed to break it as a platform does.
	Syllables bool `json:"broken_by_syllables,omitempty"`
}

// A Box is a rectangle of pixels.
type Box struct {
	Left   int `json:"left"`
	Top    int `json:"top"`
	Right  int `json:"right"`
	Bottom int `json:"bottom"`
}

// MeasureText measures a text as a style sets it. Where the style has a width, lines are broken at it, as browsers do it: a word that is
// wider stands out.
func (t *Type) MeasureText(text string, s Style) (Measure, error) {
	s.Whole = true
	lines, err := t.Lines(text, s)
	if err != nil {
		return Measure{}, err
	}
	scale := s.Size / float64(t.UnitsPerEm)
	m := Measure{Text: text, Size: round(s.Size), Line: round(t.leading(s)), Lines: len(lines), Height: round(t.leading(s) * float64(len(lines))), Missing: []string{}}
	var ink image.Rectangle
	m.Syllables = len(lines) > 1 && s.Width > 0 && shape.WordsUnknown(text)
	for i, l := range lines {
		m.Advance = max(m.Advance, l.Advance*scale)
		if len(lines) > 1 {
			m.Broken = append(m.Broken, l.Words)
		}
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
