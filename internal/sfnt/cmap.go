package sfnt

import (
	"fmt"
	"sort"
)

const mostSubtables = 256

// A Range is a run of codepoints, both ends included.
type Range struct{ First, Last rune }

// Coverage is a set of codepoints: ascending ranges that do not touch.
type Coverage []Range

// Len is the number of codepoints in the set.
func (c Coverage) Len() int {
	n := 0
	for _, r := range c {
		n += int(r.Last-r.First) + 1
	}
	return n
}

// Within is the number of codepoints in the set from first to last.
func (c Coverage) Within(first, last rune) int {
	n := 0
	for _, r := range c {
		n += max(int(min(r.Last, last)-max(r.First, first))+1, 0)
	}
	return n
}

// Has says whether the set holds r.
func (c Coverage) Has(r rune) bool {
	i := sort.Search(len(c), func(i int) bool { return c[i].Last >= r })
	return i < len(c) && c[i].First <= r
}

func (c *Coverage) add(first, last rune) {
	if n := len(*c); n > 0 && (*c)[n-1].Last+1 >= first {
		(*c)[n-1].Last = max((*c)[n-1].Last, last)
		return
	}
	*c = append(*c, Range{first, last})
}

// Coverage reads the font's best Unicode character map. A font with only a
// symbol map (Windows encoding 0) is covered at U+F000 to U+F0FF, as stored.
func (f *Font) Coverage() (Coverage, error) {
	b, err := f.Table("cmap")
	if err != nil {
		return nil, err
	}
	glyphs := 0xffff
	if m, err := f.Maxp(); err == nil {
		glyphs = int(m.NumGlyphs)
	}
	return ParseCoverage(b, glyphs)
}

// ParseCoverage parses a cmap table for a font of so many glyphs.
func ParseCoverage(b []byte, glyphs int) (Coverage, error) {
	sub, err := bestSubtable(b)
	if err != nil {
		return nil, err
	}
	return parseSubtable(sub, glyphs)
}

// bestSubtable finds the map that covers most of Unicode.
func bestSubtable(b []byte) ([]byte, error) {
	if len(b) < 4 {
		return nil, short("cmap", 4, len(b))
	}
	n := int(u16(b, 2))
	if n > mostSubtables || len(b) < 4+8*n {
		return nil, bad("table cmap", "its encoding records within the table", "%d of them in %d bytes", n, len(b))
	}
	best, at := -1, 0
	for i := range n {
		r := b[4+8*i:]
		off := int(u32(r, 4))
		if off+4 > len(b) {
			continue
		}
		if rank := subtableRank(u16(r, 0), u16(r, 2), u16(b, off)); rank > best {
			best, at = rank, off
		}
	}
	if best < 0 {
		return nil, bad("table cmap", "a Unicode character map", "none of its %d maps is one", n)
	}
	return b[at:], nil
}

// subtableRank prefers maps of all Unicode over maps of its first 65,536
// codepoints, and those over symbol and Macintosh maps.
func subtableRank(platform, enc, format uint16) int {
	switch format {
	case 0, 4, 6, 10, 12, 13:
	default:
		return -1
	}
	switch {
	case platform == PlatformWindows && enc == 10:
		return 6
	case platform == PlatformUnicode && (enc == 4 || enc == 6):
		return 5
	case platform == PlatformWindows && enc == 1:
		return 4
	case platform == PlatformUnicode:
		return 3
	case platform == PlatformWindows && enc == 0:
		return 2
	}
	return -1
}

func parseSubtable(b []byte, glyphs int) (Coverage, error) {
	switch format := u16(b, 0); format {
	case 0:
		return parseFormat0(b, glyphs)
	case 4:
		return parseFormat4(b, glyphs)
	case 6:
		return parseTrimmed(b, 10, 6, 2, glyphs)
	case 10:
		return parseTrimmed(b, 20, 12, 4, glyphs)
	default:
		return parseGroups(b, format == 13, glyphs)
	}
}

func parseFormat0(b []byte, glyphs int) (Coverage, error) {
	if len(b) < 262 {
		return nil, short("cmap format 0", 262, len(b))
	}
	var c Coverage
	for i := range 256 {
		if g := int(b[6+i]); g != 0 && g < glyphs {
			c.add(rune(i), rune(i))
		}
	}
	return c, nil
}

// parseFormat4 walks the segments of the most usual map. The table's own
// length field is too small in large real fonts, so only the bytes count.
func parseFormat4(b []byte, glyphs int) (Coverage, error) {
	if len(b) < 16 {
		return nil, short("cmap format 4", 16, len(b))
	}
	n := int(u16(b, 6)) / 2
	if len(b) < 16+8*n {
		return nil, bad("cmap format 4", fmt.Sprintf("%d segments", n), "%d bytes", len(b))
	}
	ends, starts, deltas, offsets := b[14:], b[16+2*n:], b[16+4*n:], b[16+6*n:]
	var c Coverage
	last := -1
	for i := range n {
		end, start := int(u16(ends, 2*i)), int(u16(starts, 2*i))
		start = max(start, last+1) // segments that overlap would cost time and change nothing
		delta, off := u16(deltas, 2*i), int(u16(offsets, 2*i))
		first := int(u16(starts, 2*i))
		for r := start; r <= end && r < 0xffff; r++ {
			g := uint16(r) + delta
			if off != 0 && off != 0xffff {
				at := 2*i + off + 2*(r-first)
				if at+2 > len(offsets) {
					break
				}
				if g = u16(offsets, at); g != 0 {
					g += delta
				}
			}
			if g != 0 && int(g) < glyphs {
				c.add(rune(r), rune(r))
			}
		}
		last = max(last, end)
	}
	return c, nil
}

// parseTrimmed reads formats 6 and 10: one run of codepoints.
func parseTrimmed(b []byte, header, at, width, glyphs int) (Coverage, error) {
	if len(b) < header {
		return nil, short("cmap", header, len(b))
	}
	first, n := int(u16(b, at)), int(u16(b, at+2))
	if width == 4 {
		first, n = int(u32(b, at)), int(u32(b, at+4))
	}
	if n > (len(b)-header)/2 || first+n > 0x110000 {
		return nil, bad("cmap", fmt.Sprintf("%d glyph ids", n), "%d bytes", len(b)-header)
	}
	var c Coverage
	for i := range n {
		if g := int(u16(b, header+2*i)); g != 0 && g < glyphs {
			c.add(rune(first+i), rune(first+i))
		}
	}
	return c, nil
}

// parseGroups reads formats 12 (runs of glyphs) and 13 (many to one).
func parseGroups(b []byte, manyToOne bool, glyphs int) (Coverage, error) {
	if len(b) < 16 {
		return nil, short("cmap format 12", 16, len(b))
	}
	n := int(u32(b, 12))
	if n > (len(b)-16)/12 {
		return nil, bad("cmap format 12", fmt.Sprintf("%d groups", n), "%d bytes", len(b)-16)
	}
	var c Coverage
	last := int64(-1)
	for i := range n {
		g := b[16+12*i:]
		start, end, id := int64(u32(g, 0)), int64(u32(g, 4)), int64(u32(g, 8))
		if start <= last || end < start || end > 0x10ffff {
			return nil, bad("cmap format 12", "groups in ascending order within Unicode", "%d to %d after %d", start, end, last)
		}
		last = end
		if manyToOne {
			if id != 0 && id < int64(glyphs) {
				c.add(rune(start), rune(end))
			}
			continue
		}
		if id == 0 {
			start++
			id++
		}
		if end = min(end, start+int64(glyphs)-1-id); end >= start {
			c.add(rune(start), rune(end))
		}
	}
	return c, nil
}

// CmapBytes encodes a cmap table for codepoints below U+FFFF: one format 4 map
// under the Unicode and the Windows platform.
func CmapBytes(glyphs map[rune]uint16) ([]byte, error) {
	runes := make([]int, 0, len(glyphs))
	for r := range glyphs {
		if r < 0 || r >= 0xffff {
			return nil, bad("table cmap", "codepoints below U+FFFF", "U+%04X", r)
		}
		runes = append(runes, int(r))
	}
	sort.Ints(runes)
	type segment struct{ first, last, delta int }
	var segs []segment
	for _, r := range runes {
		g := int(glyphs[rune(r)])
		if n := len(segs); n > 0 && segs[n-1].last+1 == r && segs[n-1].delta == g-r {
			segs[n-1].last = r
		} else {
			segs = append(segs, segment{r, r, g - r})
		}
	}
	segs = append(segs, segment{0xffff, 0xffff, 1})
	var ends, starts, deltas, offsets be
	for _, s := range segs {
		ends.u16(uint16(s.last))
		starts.u16(uint16(s.first))
		deltas.i16(int16(s.delta))
		offsets.u16(0)
	}
	n := uint16(len(segs))
	pow, log := searchParams(n)
	var sub be
	sub.u16(4, uint16(16+8*len(segs)), 0, 2*n, 2*pow, log, 2*n-2*pow)
	sub = append(sub, ends...)
	sub.u16(0)
	sub = append(append(append(sub, starts...), deltas...), offsets...)
	var b be
	b.u16(0, 2, PlatformUnicode, 3)
	b.u32(20)
	b.u16(PlatformWindows, 1)
	b.u32(20)
	return append(b, sub...), nil
}

// searchParams returns the largest power of two up to n, and its logarithm: the
// fields that old readers search by.
func searchParams(n uint16) (pow, log uint16) {
	for pow = 1; pow*2 <= n && pow < 0x8000; pow *= 2 {
		log++
	}
	return pow, log
}
