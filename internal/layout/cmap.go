package layout

import (
	"iter"

	"notaria/internal/sfnt"
)

// CharacterMap encodes a cmap table for all of Unicode (format 12) of characters in ascending order, each
// with its glyph, and a subtable of variation sequences (format 14), nil for none.
func CharacterMap(characters iter.Seq2[rune, int], sequences []byte) []byte {
	groups := &node{}
	var first, last rune
	glyph, n := 0, 0
	flush := func() {
		if n > 0 {
			groups.u32(int(first))
			groups.u32(int(last))
			groups.u32(glyph)
		}
	}
	for r, g := range characters {
		if n > 0 && r == last+1 && g == glyph+int(r-first) {
			last = r
			continue
		}
		flush()
		first, last, glyph, n = r, r, g, n+1
	}
	flush()
	b := &node{}
	if b.u16(0, 1); sequences != nil {
		b.b[3]++
		b.u16(sfnt.PlatformUnicode, 5)
		b.u32(20 + 16 + len(groups.b))
	}
	b.u16(sfnt.PlatformWindows, 10)
	b.u32(len(b.b) + 4)
	b.u16(12, 0)
	b.u32(16 + len(groups.b))
	b.u32(0)
	b.u32(n)
	return append(append(b.b, groups.b...), sequences...)
}
