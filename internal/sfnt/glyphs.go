package sfnt

import (
	"sort"
)

// A Box is the smallest rectangle around a glyph, in font units; y points up.
type Box struct{ XMin, YMin, XMax, YMax int }

// Glyphs answers what generated code wants to know of single characters: advances and
// boxes, in font units (OpenType, cmap, hmtx, glyf). All lookups are bounded by the
// tables; a table that does not hold answers with false.
type Glyphs struct {
	sub   []byte // of cmap
	count int
	hmtx  []byte
	full  int // glyphs that have an advance of their own
	outer composites
}

// Glyphs reads the tables that lookups need.
func (f *Font) Glyphs() (*Glyphs, error) {
	cmap, err := f.Table("cmap")
	if err != nil {
		return nil, err
	}
	g := &Glyphs{}
	if g.sub, err = bestSubtable(cmap); err != nil {
		return nil, err
	}
	maxp, err := f.Maxp()
	if err != nil {
		return nil, err
	}
	hhea, err := f.Hhea()
	if err != nil {
		return nil, err
	}
	if g.hmtx, err = f.Table("hmtx"); err != nil {
		return nil, err
	}
	g.count, g.full = int(maxp.NumGlyphs), int(hhea.NumHMetrics)
	if !f.Has("glyf") || !f.Has("loca") {
		return g, nil // outlines of CFF: there are no boxes to look up
	}
	head, err := f.Head()
	if err != nil {
		return nil, err
	}
	if g.outer.glyf, err = f.Table("glyf"); err != nil {
		return nil, err
	}
	g.outer.long = head.LongLoca
	g.outer.loca, err = f.Table("loca")
	return g, err
}

// Advance is how far a character moves the pen; false if the font has no glyph for it.
func (g *Glyphs) Advance(r rune) (int, bool) {
	i := g.index(r)
	if i == 0 || g.full < 1 || 4*min(i, g.full-1)+2 > len(g.hmtx) {
		return 0, false
	}
	return g.AdvanceOf(i), true
}

// AdvanceOf is how far a glyph moves the pen, by its index; 0 where the table does not say.
func (g *Glyphs) AdvanceOf(glyph int) int {
	at := 4 * min(glyph, g.full-1)
	if at < 0 || at+2 > len(g.hmtx) {
		return 0
	}
	return int(u16(g.hmtx, at))
}

// Box is the one around a character's glyph; false if the font has none for it, if the
// glyph is empty, or if its outlines are not TrueType's.
func (g *Glyphs) Box(r rune) (Box, bool) {
	i := g.index(r)
	if i == 0 {
		return Box{}, false
	}
	b := g.outer.data(i)
	if len(b) < 10 {
		return Box{}, false
	}
	return Box{int(i16(b, 2)), int(i16(b, 4)), int(i16(b, 6)), int(i16(b, 8))}, true
}

// index finds a character's glyph, 0 if there is none.
func (g *Glyphs) index(r rune) int {
	i := 0
	switch b := g.sub; u16(b, 0) {
	case 0:
		if r < 256 && len(b) >= 262 {
			i = int(b[6+r])
		}
	case 4:
		i = indexFormat4(b, r)
	case 6:
		i = indexTrimmed(b, 10, 6, 2, r)
	case 10:
		i = indexTrimmed(b, 20, 12, 4, r)
	default:
		i = indexGroups(b, r)
	}
	if i >= g.count {
		return 0
	}
	return i
}

func indexFormat4(b []byte, r rune) int {
	if len(b) < 16 || r > 0xffff {
		return 0
	}
	n := int(u16(b, 6)) / 2
	if len(b) < 16+8*n {
		return 0
	}
	ends, starts, deltas, offsets := b[14:], b[16+2*n:], b[16+4*n:], b[16+6*n:]
	i := sort.Search(n, func(i int) bool { return rune(u16(ends, 2*i)) >= r })
	if i == n || rune(u16(starts, 2*i)) > r {
		return 0
	}
	delta, off := u16(deltas, 2*i), int(u16(offsets, 2*i))
	if off == 0 || off == 0xffff {
		return int(uint16(r) + delta)
	}
	at := 2*i + off + 2*int(r-rune(u16(starts, 2*i)))
	if at+2 > len(offsets) {
		return 0
	}
	if g := u16(offsets, at); g != 0 {
		return int(g + delta)
	}
	return 0
}

func indexTrimmed(b []byte, header, at, width int, r rune) int {
	if len(b) < header {
		return 0
	}
	first, n := int64(u16(b, at)), int64(u16(b, at+2))
	if width == 4 {
		first, n = int64(u32(b, at)), int64(u32(b, at+4))
	}
	k := int64(r) - first
	if k < 0 || k >= min(n, int64(len(b)-header)/2) {
		return 0
	}
	return int(u16(b, header+2*int(k)))
}

func indexGroups(b []byte, r rune) int {
	if len(b) < 16 {
		return 0
	}
	n := min(int(u32(b, 12)), (len(b)-16)/12)
	i := sort.Search(n, func(i int) bool { return u32(b, 16+12*i+4) >= uint32(r) })
	if i == n {
		return 0
	}
	g := b[16+12*i:]
	start, id := u32(g, 0), u32(g, 8)
	if uint32(r) < start {
		return 0
	}
	if u16(b, 0) == 12 {
		id += uint32(r) - start
	}
	return int(min(id, 0xffff))
}
