package face

import (
	"slices"

	"notaria/internal/sfnt"
)

// Metrics are a face's measures for code that lays out text. Lengths are in font units.
type Metrics struct {
	UnitsPerEm, Ascent, Descent, LineGap int    // Descent is negative below the baseline
	Category                             string // by the tables, or by the outlines

	glyphs *sfnt.Glyphs
	cover  sfnt.Coverage
	typo   *sfnt.OS2 // whose measures count for lines; nil where those of hhea do
}

// ReadMetrics reads them from a font.
func ReadMetrics(font *sfnt.Font) (*Metrics, error) {
	f, _, err := Read(font, Options{Drawn: true})
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
	m := &Metrics{Category: f.Category, UnitsPerEm: f.UnitsPerEm, Ascent: f.Ascent, Descent: f.Descent, LineGap: f.LineGap, glyphs: g, cover: cover}
	if os2, err := font.OS2(); err == nil && os2.Selection&sfnt.SelUseTypoMetrics != 0 {
		m.typo = &os2
	}
	return m, nil
}

// Lines are the measures that browsers make lines of: those of hhea, or where the font asks
// for it the typographic ones (OS/2, fsSelection, bit 7).
func (m *Metrics) Lines() (ascent, descent, gap int) {
	if m.typo != nil {
		return int(m.typo.TypoAscender), int(m.typo.TypoDescender), int(m.typo.TypoLine)
	}
	return m.Ascent, m.Descent, m.LineGap
}

// Characters counts those from first to last that the face has a glyph for (cmap).
func (m *Metrics) Characters(first, last rune) int { return m.cover.Within(first, last) }

// Covering is the set of some characters.
func Covering(list []rune) (out sfnt.Coverage) {
	list = slices.Clone(list)
	slices.Sort(list)
	for _, r := range slices.Compact(list) {
		if k := len(out) - 1; k >= 0 && out[k].Last+1 == r {
			out[k].Last = r
		} else {
			out = append(out, sfnt.Range{First: r, Last: r})
		}
	}
	return out
}

// Coverage is the set of those characters.
func (m *Metrics) Coverage() sfnt.Coverage { return m.cover }

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
