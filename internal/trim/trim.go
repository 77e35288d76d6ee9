// Package trim makes fonts smaller: it keeps what certain characters need, and empties the rest.
package trim

import (
	"bytes"
	"fmt"
	"maps"
	"slices"

	"notaria/internal/colour"
	"notaria/internal/fault"
	"notaria/internal/layout"
	"notaria/internal/sfnt"
)

// dropped are tables that nothing of a trimmed font needs: a signature that no longer holds, and what
// lays out mathematics and justifies lines, which would name glyphs that are empty.
var dropped = []string{"DSIG", "MATH", "JSTF", "hdmx", "VDMX", "LTSH", "meta", "PCLT"}

// wholeOnly are tables whose glyphs are drawings or grey pictures, or whose substitutions are not followed here.
var wholeOnly = []string{"EBDT", "SVG ", "morx", "mort"}

// Characters gives the tables of a font that draws the wanted characters as the font itself does, with
// all that they can become (ligatures, joined forms, alternates), and no other. Glyphs keep their numbers,
// so that layout tables stay as they are. What was kept is compared with the font. A font that cannot be
// trimmed safely is an error; it can be used whole.
func Characters(f *sfnt.Font, wanted sfnt.Coverage) (map[string][]byte, error) {
	for _, tag := range wholeOnly {
		if f.Has(tag) {
			return nil, fault.Form("expected a font of outlines whose substitutions are in GSUB, found the table %q", tag)
		}
	}
	before, err := f.PathsIfAny()
	if err != nil {
		return nil, err
	}
	has, err := f.Coverage()
	if err != nil {
		return nil, err
	}
	if len(has) == 0 || has[0].First >= 0xF000 && has[len(has)-1].Last <= 0xF0FF {
		return nil, fault.Form("expected a font with characters of Unicode, found one of symbols alone")
	}
	marked := make([]bool, before.Count())
	kept := func(yield func(rune, int) bool) {
		for _, r := range both(has, wanted) {
			if g := before.Index(r); g != 0 && g < len(marked) && !yield(r, g) {
				return
			}
		}
	}
	for _, g := range kept {
		marked[g] = true
	}
	cmap, err := f.Table("cmap")
	if err != nil {
		return nil, err
	}
	sequences, err := layout.Sequences(cmap, func(r rune, glyph int) {
		if glyph < len(marked) && wanted.Has(r) {
			marked[glyph] = true
		}
	})
	if err != nil {
		return nil, err
	}
	if err := reach(f, marked); err != nil {
		return nil, err
	}
	tables, err := f.Tables()
	if err != nil {
		return nil, err
	}
	if err := empty(f, marked, tables); err != nil {
		return nil, err
	}
	for _, tag := range dropped {
		delete(tables, tag)
	}
	tables["cmap"] = sfnt.CharacterMap(kept, sequences)
	tables["post"] = nameless(tables["post"])
	return tables, same(before, tables, marked)
}

// empty takes the outlines and the pictures of glyphs that are not marked out of the tables.
func empty(f *sfnt.Font, marked []bool, tables map[string][]byte) error {
	if f.Format() != sfnt.Bitmap {
		outlines, err := f.Keep(marked)
		if err != nil {
			return err
		}
		maps.Copy(tables, outlines)
	}
	if f.Has("CBDT") || f.Has("sbix") {
		pictures, err := colour.KeepPictures(f, marked)
		if err != nil {
			return err
		}
		maps.Copy(tables, pictures)
	}
	return nil
}

// both is what two coverages share.
func both(a, b sfnt.Coverage) []rune {
	var out []rune
	for _, r := range b {
		for _, own := range a {
			for c := max(r.First, own.First); c <= min(r.Last, own.Last); c++ {
				out = append(out, c)
			}
		}
	}
	return out
}

// reach marks what the marked glyphs can become and are drawn with, and glyph 0.
func reach(f *sfnt.Font, marked []bool) error {
	if len(marked) > 0 {
		marked[0] = true
	}
	if f.Has("GSUB") {
		b, err := f.Table("GSUB")
		if err != nil {
			return err
		}
		if err := layout.Reach(b, marked); err != nil {
			return err
		}
	}
	c := colour.New(f, nil)
	if c.Kind == colour.Broken {
		return c.Err
	}
	return c.Reach(marked)
}

// nameless is a post table without the names of glyphs (OpenType, post, version 3.0).
func nameless(b []byte) []byte {
	if len(b) < 32 {
		return b
	}
	b = slices.Clone(b[:32])
	copy(b, []byte{0, 3, 0, 0})
	return b
}

// mostCompared is how many segments are compared; those of a whole font of three thousand glyphs are half a million.
const mostCompared = 4 << 20

// same says whether the kept glyphs draw what they drew before.
func same(before *sfnt.Paths, tables map[string][]byte, marked []bool) error {
	data, err := sfnt.Build(tables)
	if err != nil {
		return err
	}
	file, err := sfnt.Open(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return err
	}
	after, err := file.Font(0).PathsIfAny()
	if err != nil {
		return fmt.Errorf("the trimmed font: %w", err)
	}
	compared := 0
	for g, marked := range marked {
		if !marked {
			continue
		}
		a, errA := before.Outline(g)
		if compared += len(a); compared > mostCompared {
			return fault.Form("expected outlines of at most %d million segments to compare, found more", mostCompared>>20)
		}
		b, errB := after.Outline(g)
		if errA == nil && (errB != nil || !slices.Equal(a, b)) {
			return fault.Form("expected that glyph %d of the trimmed font draws what it drew before, found another outline", g)
		}
	}
	return nil
}
