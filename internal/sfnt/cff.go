package sfnt

import (
	"fmt"
	"math"
)

// cff is a font of the Compact Font Format ("The Compact Font Format Specification", Adobe
// Technical Note 5176), as far as outlines go.
type cff struct {
	glyphs  [][]byte // charstrings
	global  [][]byte // subroutines
	local   [][][]byte
	selects []byte // of a CID-keyed font: each glyph's place in local; nil for one

	two     bool      // CFF2
	store   *varStore // of its masters; nil for none
	vsindex []int     // the table of regions that a font of the list starts with

	at struct { // where its lists are in the table; 0 for one that is not there
		glyphs, global int
		local          []int
	}
}

// Bounds of what is read: what a hostile font can ask for.
const (
	mostCFFIndex   = 1 << 17
	mostDictStack  = 48
	mostSubrDepth  = 10
	mostCharOps    = 200_000
	mostCharStack  = 192 // Type 2 has 48; some fonts go beyond
	mostCharStack2 = 513 // of CFF2
)

// dict is a table of operators with their operands (5176, 4); two-byte ones are 1200 + n.
type dict map[int][]float64

func (f *Font) readCFF() (*cff, error) {
	b, err := f.Table("CFF ")
	if err != nil {
		return nil, err
	}
	return parseCFF(b)
}

func parseCFF(b []byte) (*cff, error) {
	fail := func(expected, found string) (*cff, error) { return nil, bad("table CFF", expected, "%s", found) }
	if len(b) < 4 || int(b[2]) > len(b) {
		return fail("a header", "the end of the table")
	}
	at := int(b[2])
	var tops [][]byte
	c := &cff{}
	for i := range 4 { // names, top dicts, strings, global subroutines
		list, next, ok := cffIndex(b, at)
		if !ok {
			return fail("its four lists", "one that is cut short")
		}
		switch i {
		case 1:
			tops = list
		case 3:
			c.global, c.at.global = list, at
		}
		at = next
	}
	if len(tops) != 1 {
		return fail("one font", fmt.Sprint(len(tops)))
	}
	top := readDict(tops[0], false)
	var ok bool
	c.at.glyphs = top.offset(17)
	if c.glyphs, _, ok = cffIndex(b, c.at.glyphs); !ok || c.at.glyphs == 0 {
		return fail("charstrings", "none, or a list that is cut short")
	}
	if top[1230] == nil {
		c.private(b, top)
		return c, nil
	}
	fonts, _, ok := cffIndex(b, top.offset(1236))
	if !ok || len(fonts) == 0 {
		return fail("the fonts of a CID-keyed font", "none, or a list that is cut short")
	}
	for _, d := range fonts {
		c.private(b, readDict(d, false))
	}
	c.selects, ok = fdSelect(b, top.offset(1237), len(c.glyphs))
	if !ok {
		return fail("a font for each glyph (FDSelect)", "another form, or the end of the table")
	}
	return c, nil
}

// cffIndex reads a list of data (5176, 5), and the place behind it.
func cffIndex(b []byte, at int) ([][]byte, int, bool) {
	if at < 0 || at+2 > len(b) {
		return nil, 0, false
	}
	return indexOf(b, at+2, int(u16(b, at)))
}

// indexOf reads a list behind its count.
func indexOf(b []byte, at, n int) ([][]byte, int, bool) {
	if n == 0 {
		return nil, at, true
	}
	if n > mostCFFIndex || at+1 > len(b) {
		return nil, 0, false
	}
	size := int(b[at])
	base := at + 1 + size*(n+1)
	if size < 1 || size > 4 || base > len(b) {
		return nil, 0, false
	}
	offset := func(i int) int {
		v := 0
		for _, c := range b[at+1+size*i : at+1+size*(i+1)] {
			v = v<<8 | int(c)
		}
		return base - 1 + v
	}
	out := make([][]byte, n)
	from := offset(0)
	for i := range out {
		to := offset(i + 1)
		if from < base || to < from || to > len(b) {
			return nil, 0, false
		}
		out[i], from = b[from:to], to
	}
	return out, from, true
}

// offset is an operand that is a place in the table; 0 if there is none.
func (d dict) offset(op int) int {
	v := d[op]
	if len(v) == 0 || v[len(v)-1] < 0 || v[len(v)-1] > math.MaxInt32 {
		return 0
	}
	return int(v[len(v)-1])
}

// readDict reads a dict; two says that it is one of CFF2, which has three operators more.
func readDict(b []byte, two bool) dict {
	d := dict{}
	last, most := byte(21), mostDictStack
	if two {
		last, most = 24, mostCharStack2
	}
	var stack []float64
	for i := 0; i < len(b); {
		v := b[i]
		switch {
		case v <= last:
			op := int(v)
			if i++; v == 12 && i < len(b) {
				op, i = 1200+int(b[i]), i+1
			}
			if d[op] == nil {
				d[op] = append([]float64{}, stack...)
			}
			stack = stack[:0]
			continue
		case v == 30: // a real number, in nibbles; no offset is one
			for i++; i < len(b) && b[i]&0xf != 0xf && b[i]>>4 != 0xf; i++ {
			}
			i++
			stack = append(stack, 0)
		default:
			n, size := charNumber(b[i:], true)
			if size == 0 {
				return d
			}
			stack, i = append(stack, n), i+size
		}
		if len(stack) > most {
			return d
		}
	}
	return d
}

// charNumber reads a number of a dict (5176, table 3) or of a charstring (Technical Note
// 5177, 3.2), and how many bytes it takes; 0 if there is none.
func charNumber(b []byte, inDict bool) (float64, int) {
	if len(b) == 0 {
		return 0, 0
	}
	v := b[0]
	switch {
	case v >= 32 && v <= 246:
		return float64(v) - 139, 1
	case v >= 247 && v <= 250 && len(b) > 1:
		return float64(int(v)-247)*256 + float64(b[1]) + 108, 2
	case v >= 251 && v <= 254 && len(b) > 1:
		return -float64(int(v)-251)*256 - float64(b[1]) - 108, 2
	case v == 28 && len(b) > 2:
		return float64(int16(u16(b, 1))), 3
	case v == 29 && inDict && len(b) > 4:
		return float64(int32(u32(b, 1))), 5
	case v == 255 && !inDict && len(b) > 4:
		return float64(int32(u32(b, 1))) / 65536, 5
	}
	return 0, 0
}

// private adds the local subroutines that a dict leads to, none if there are none; it returns the
// private dict itself.
func (c *cff) private(b []byte, d dict) (private dict) {
	var list [][]byte
	at := 0
	if p := d[18]; len(p) >= 2 && p[0] >= 0 && p[1] >= 0 && p[0]+p[1] <= float64(len(b)) {
		from := int(p[1])
		private = readDict(b[from:from+int(p[0])], c.two)
		if at = private.offset(19); at != 0 {
			at += from
			if c.two {
				list, _, _ = cff2Index(b, at)
			} else {
				list, _, _ = cffIndex(b, at)
			}
		}
	}
	c.local, c.at.local = append(c.local, list), append(c.at.local, at)
	return private
}

// fdSelect is each glyph's font (5176, 19).
func fdSelect(b []byte, at, glyphs int) ([]byte, bool) {
	if at <= 0 || at >= len(b) {
		return nil, false
	}
	switch b[at] {
	case 0:
		if at+1+glyphs > len(b) {
			return nil, false
		}
		return b[at+1 : at+1+glyphs], true
	case 3:
		if at+5 > len(b) {
			return nil, false
		}
		n := int(u16(b, at+1))
		if at+3+3*n+2 > len(b) {
			return nil, false
		}
		out := make([]byte, glyphs)
		for i := range n {
			r := b[at+3+3*i:]
			for g := int(u16(r, 0)); g < min(int(u16(r, 3)), glyphs); g++ {
				out[g] = r[2]
			}
		}
		return out, true
	}
	return nil, false
}

// outline runs a glyph's charstring.
func (c *cff) outline(glyph int) (Path, error) { return c.draw(glyph, nil) }

// fontOf is a glyph's place in the list of fonts.
func (c *cff) fontOf(glyph int) int {
	if c.selects == nil {
		return 0
	}
	return int(c.selects[glyph])
}

// draw runs a glyph's charstring, and marks what it calls.
func (c *cff) draw(glyph int, called *calls) (Path, error) {
	b := &pathBuilder{where: fmt.Sprintf("glyph %d", glyph)}
	if glyph >= len(c.glyphs) {
		return nil, nil // fewer charstrings than maxp says: nothing is drawn
	}
	fd := c.fontOf(glyph)
	m := &charMachine{pathBuilder: b, font: c, global: c.global, width: c.two, called: called}
	if fd < len(c.local) {
		m.local = c.local[fd]
	}
	if c.two && fd < len(c.vsindex) {
		m.scalars = c.store.scalars(c.vsindex[fd])
	}
	m.run(c.glyphs[glyph], 0)
	return b.path, b.err
}
