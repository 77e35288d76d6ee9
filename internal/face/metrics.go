package face

import (
	"notaria/internal/sfnt"
)

// Metrics are a face's measures for code that lays out text. Lengths are in font units.
type Metrics struct {
	UnitsPerEm, Ascent, Descent, LineGap int // Descent is negative below the baseline

	glyphs *sfnt.Glyphs
	cover  sfnt.Coverage
}

// ReadMetrics reads them from a font.
func ReadMetrics(font *sfnt.Font) (*Metrics, error) {
	f, _, err := Read(font, Options{})
	if err != nil {
		return nil, err
	}
	g, err := font.Glyphs()
	if err != nil {
		return nil, err
	}
	cover, err := font.Coverage()
	if err != nil {
		return nil, err
	}
	return &Metrics{f.UnitsPerEm, f.Ascent, f.Descent, f.LineGap, g, cover}, nil
}

// Characters counts those from first to last that the face has a glyph for (cmap).
func (m *Metrics) Characters(first, last rune) int { return m.cover.Within(first, last) }

// Advance is how far a character moves the pen (hmtx); false if the face has no glyph
// for it.
func (m *Metrics) Advance(r rune) (int, bool) { return m.glyphs.Advance(r) }

// Box is the rectangle around a character's glyph (glyf); false if there is none.
func (m *Metrics) Box(r rune) (sfnt.Box, bool) { return m.glyphs.Box(r) }

// Mean is the mean advance of characters in ems, those left out that the face lacks; 0
// if it lacks all.
func (m *Metrics) Mean(text []rune) float64 {
	sum, n := 0, 0
	for _, r := range text {
		if a, ok := m.Advance(r); ok {
			sum, n = sum+a, n+1
		}
	}
	if n == 0 || m.UnitsPerEm == 0 {
		return 0
	}
	return float64(sum) / float64(n) / float64(m.UnitsPerEm)
}
