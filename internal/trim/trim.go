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
var dropped = []string{"DSIG", "JSTF", "hdmx", "VDMX", "LTSH", "meta", "PCLT"}

// wholeOnly are tables whose glyphs are grey pictures, or whose substitutions are not followed here.
var wholeOnly = []string{"EBDT", "morx", "mort"}

// marks are the glyphs of a font that certain characters need.
type marks struct {
	f      *sfnt.Font
	before *sfnt.Paths
	marked []bool
	// own are the characters that stay and that the font has, in ascending order.
	own    []rune
	wanted sfnt.Coverage
	cmap   []byte
}

// mark finds them: of the characters, of what they become, and of what they are drawn with. A font that cannot be followed is an error.
func mark(f *sfnt.Font, wanted sfnt.Coverage) (*marks, error) {
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
	m := &marks{f: f, before: before, marked: make([]bool, before.Count()), own: closed(f, has, wanted), wanted: wanted}
	for _, g := range m.kept {
		m.marked[g] = true
	}
	if m.cmap, err = f.Table("cmap"); err != nil {
		return nil, err
	}
	if _, err = layout.Sequences(m.cmap, func(r rune, glyph int) {
		if glyph < len(m.marked) && wanted.Has(r) {
			m.marked[glyph] = true
		}
	}); err != nil {
		return nil, err
	}
	return m, reach(f, m.marked)
}

// kept are the characters that stay, each with its glyph.
func (m *marks) kept(yield func(rune, int) bool) {
	for _, r := range m.own {
		if g := m.before.Index(r); g != 0 && g < len(m.marked) && !yield(r, g) {
			return
		}
	}
}

// Characters gives the tables of a font that draws the wanted characters as the font itself does, with
// all that they can become (ligatures, joined forms, alternates), and no other. Glyphs keep their numbers,
// so that layout tables stay as they are. What was kept is compared with the font. A font that cannot be
// trimmed safely is an error; it can be used whole.
func Characters(f *sfnt.Font, wanted sfnt.Coverage) (map[string][]byte, error) {
	m, err := mark(f, wanted)
	if err != nil {
		return nil, err
	}
	return m.inPlace()
}

// inPlace empties the glyphs that go; the others keep their numbers.
func (m *marks) inPlace() (map[string][]byte, error) {
	tables, err := m.f.Tables()
	if err != nil {
		return nil, err
	}
	if err := empty(m, tables); err != nil {
		return nil, err
	}
	for _, tag := range dropped {
		delete(tables, tag)
	}
	if b, ok := tables["SVG "]; ok {
		if tables["SVG "], err = keptSVG(b, m.marked); err != nil {
			return nil, err
		}
	}
	sequences, err := layout.Sequences(m.cmap, func(rune, int) {})
	if err != nil {
		return nil, err
	}
	tables["cmap"] = layout.CharacterMap(m.kept, sequences)
	tables["post"] = nameless(tables["post"])
	return tables, same(m.before, tables, m.marked)
}

// empty takes the outlines and the pictures of glyphs that are not marked out of the tables.
func empty(m *marks, tables map[string][]byte) error {
	f, marked := m.f, m.marked
	if f.Format() != sfnt.Bitmap {
		outlines, err := f.Keep(m.before, marked)
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
	if f.Has("MATH") {
		b, err := f.Table("MATH")
		if err != nil {
			return err
		}
		if err := layout.ReachMath(b, marked); err != nil {
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
