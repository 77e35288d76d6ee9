// Package shape turns text into glyphs at places: it joins and orders letters, forms ligatures,
// sets marks, kerns, and breaks lines, as each script wants it (OpenType, GSUB, GPOS, GDEF; Unicode
// Standard Annexes 9, 14 and 24). The work is done by go-text/typesetting.
//
// That library trusts fonts more than it should. So it never sees a font file: it gets a font that
// is written anew, with a character map and advances that our own reader gave, no outlines, and the
// layout tables within stated limits. What it still stumbles over is an error here, not a panic.
package shape

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"slices"
	"sort"

	"github.com/go-text/typesetting/font"
	"github.com/go-text/typesetting/shaping"

	"notaria/internal/fault"
	"notaria/internal/layout"
	"notaria/internal/sfnt"
)

// Limits of what is shaped.
const (
	// MostCharacters is how long one paragraph may be.
	MostCharacters = 20_000
	// mostLayout is how large one table of a font's layout may be, in bytes.
	mostLayout = 16 << 20
	// mostUnits is the largest em that is shaped in: lengths are kept in 64ths of a unit, in 32 bits.
	mostUnits = 16384
)

// A Face is a font that text is shaped with. It is not safe for use by several goroutines.
type Face struct {
	Paths           *sfnt.Paths
	UnitsPerEm      int
	Ascent, Descent int // of a line, in font units; Descent is negative
	LineGap         int
	Capital, Small  int // heights of H and x, in font units; 0 where the font does not say

	face   *font.Face
	shaper shaping.HarfbuzzShaper
	splits shaping.Segmenter
	words  []string // see Words
	listed bool
}

// New makes a face of a font that our reader accepted, at a place of its design space; nil for the
// default one.
func New(f *sfnt.Font, coordinates map[string]float64) (face *Face, err error) {
	paths, err := f.PathsIfAny()
	if err != nil {
		return nil, err
	}
	if len(coordinates) > 0 {
		if paths, err = paths.At(f, coordinates); err != nil {
			return nil, err
		}
	}
	face = &Face{Paths: paths}
	tables, err := face.tables(f)
	if err != nil {
		return nil, err
	}
	if err := paths.Varied(); err != nil {
		return nil, err
	}
	data, err := sfnt.Build(tables)
	if err != nil {
		return nil, err
	}
	err = guarded(func() error {
		if face.face, err = font.ParseTTF(bytes.NewReader(data)); err != nil {
			return err
		}
		if err := nested(face.face.Font); err != nil {
			return err
		}
		kernByAllClasses(face.face.Font)
		listCoverage(face.face.Font)
		if len(coordinates) > 0 {
			face.face.SetVariations(variations(coordinates))
		}
		return nil
	})
	if err != nil {
		return nil, fmt.Errorf("the layout of the font cannot be used: %w", err)
	}
	return face, nil
}

// Features are the tags of the features that substitute glyphs (GSUB), each once, in order.
func (f *Face) Features() []string {
	var out []string
	for _, x := range f.face.GSUB.Features {
		out = append(out, x.Tag.String())
	}
	slices.Sort(out)
	return slices.Compact(out)
}

// guarded turns a panic of the library into an error.
func guarded(do func() error) (err error) {
	defer func() {
		if r := recover(); r != nil {
			err = fault.Form("expected tables that shape text, found some that do not hold (%v)", r)
		}
	}()
	return do()
}

func variations(coordinates map[string]float64) []font.Variation {
	var out []font.Variation
	for tag, v := range coordinates {
		if len(tag) == 4 {
			out = append(out, font.Variation{Tag: font.Tag(sfnt.MakeTag(tag)), Value: float32(v)})
		}
	}
	sort.Slice(out, func(i, k int) bool { return out[i].Tag < out[k].Tag })
	return out
}

// tables are those of the font that the library sees.
func (f *Face) tables(from *sfnt.Font) (map[string][]byte, error) {
	head, err := from.Head()
	if err != nil {
		return nil, err
	}
	hhea, err := from.Hhea()
	if err != nil {
		return nil, err
	}
	if f.UnitsPerEm = int(head.UnitsPerEm); f.UnitsPerEm < 16 || f.UnitsPerEm > mostUnits {
		return nil, fault.Form("expected an em of 16 to %d units, found %d", mostUnits, f.UnitsPerEm)
	}
	f.Ascent, f.Descent, f.LineGap = int(hhea.Ascender), int(hhea.Descender), int(hhea.LineGap)
	if os2, err := from.OS2(); err == nil {
		f.Capital, f.Small = int(os2.CapHeight), int(os2.XHeight)
	}
	cmap, err := f.characters(from)
	if err != nil {
		return nil, err
	}
	count := f.Paths.Count()
	hhea.NumHMetrics = uint16(count)
	out := map[string][]byte{"head": head.Bytes(), "hhea": hhea.Bytes(), "cmap": cmap, "hmtx": f.advances(count),
		"maxp": binary.BigEndian.AppendUint16([]byte{0, 0, 0x50, 0}, uint16(count))}
	for _, tag := range []string{"GSUB", "GPOS", "GDEF", "kern", "fvar", "avar"} {
		if !from.Has(tag) {
			continue
		}
		if b, err := from.Table(tag); err == nil && len(b) <= mostLayout {
			out[tag] = b
		}
	}
	if from.Has("fvar") {
		// Advances are those of the place already. Without this table the library would look for outlines.
		out["HVAR"] = still
	}
	return out, nil
}

// still is a table by which no advance changes (OpenType, HVAR): a store without data, of no region.
var still = []byte{0, 1, 0, 0, 0, 0, 0, 20, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 8, 0, 0, 0, 0, 0, 0}

// characters is a map of every character that our reader finds a glyph for (OpenType, cmap,
// format 12). A font of symbols alone answers to its plain characters as well, as shapers do.
func (f *Face) characters(from *sfnt.Font) ([]byte, error) {
	coverage, err := from.Coverage()
	if err != nil {
		return nil, err
	}
	cmap, err := from.Table("cmap")
	if err != nil {
		return nil, err
	}
	sequences, err := layout.Sequences(cmap, func(rune, int) {})
	if err != nil || len(sequences) > mostLayout {
		sequences = nil // the characters alone are good
	}
	symbols := len(coverage) > 0 && coverage[0].First >= 0xF000 && coverage[len(coverage)-1].Last <= 0xF0FF
	return layout.CharacterMap(func(yield func(rune, int) bool) {
		for _, moved := range []rune{0xF000, 0} {
			for _, c := range coverage {
				for r := c.First; r <= c.Last && (moved == 0 || symbols); r++ {
					if g := f.Paths.Index(r); g != 0 && g < f.Paths.Count() && !yield(r-moved, g) {
						return
					}
				}
			}
		}
	}, sequences), nil
}

// advances are the widths of all glyphs, at the face's place of its design space.
func (f *Face) advances(count int) []byte {
	out := make([]byte, 0, 4*count)
	for g := range count {
		out = binary.BigEndian.AppendUint16(out, uint16(min(max(f.Paths.AdvanceOf(g), 0), 0xffff)))
		out = append(out, 0, 0)
	}
	return out
}
