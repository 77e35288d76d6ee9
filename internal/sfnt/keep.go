package sfnt

import (
	"fmt"
	"slices"
)

// Keep gives the tables of the outlines (glyf, loca and head, gvar; CFF; CFF2) with the marked glyphs
// alone, and the parts that composite ones are made of, which it marks too. Glyphs keep their numbers, so
// that no other table needs to change; those that are not kept are empty. Tables of CFF keep their size,
// with zeros where something was: what follows is found by its place, and zeros pack to nothing. Paths are
// those of the font.
func (f *Font) Keep(p *Paths, keep []bool) (map[string][]byte, error) {
	if p.cff != nil {
		return f.keepCFF(p.cff, keep)
	}
	head, err := f.Table("head")
	if err != nil || len(head) < 54 {
		return nil, short("head", 54, len(head))
	}
	for i := range keep {
		if keep[i] {
			p.outer.mark(i, keep)
		}
	}
	out := map[string][]byte{}
	var glyf, loca be
	for i := range p.count {
		loca.u32(uint32(len(glyf)))
		if i < len(keep) && keep[i] {
			glyf.padded(p.outer.data(i))
		}
	}
	loca.u32(uint32(len(glyf)))
	head = slices.Clone(head)
	head[50], head[51] = 0, 1 // loca in 32 bits
	out["glyf"], out["loca"], out["head"] = glyf, loca, head
	if gvar, err := f.Table("gvar"); err == nil {
		axes, _, err := f.Variations()
		if err != nil {
			return nil, err
		}
		v, err := parseGvar(gvar, len(axes))
		if err != nil {
			return nil, err
		}
		out["gvar"] = v.keep(keep)
	}
	return out, nil
}

// mark marks the parts of a glyph. The font was checked: parts do not go round in circles.
func (c *composites) mark(i int, keep []bool) {
	for _, id := range partsOf(c.data(i)) {
		if id < len(keep) && !keep[id] {
			keep[id] = true
			c.mark(id, keep)
		}
	}
}

// keep writes the table anew (OpenType, gvar), with long offsets.
func (v *variation) keep(keep []bool) []byte {
	var offsets, data be
	for i := range v.glyphs {
		offsets.u32(uint32(len(data)))
		if i < len(keep) && keep[i] {
			data = append(data, v.glyph(i)...)
			data = append(data, make([]byte, len(data)%2)...)
		}
	}
	offsets.u32(uint32(len(data)))
	out := be(slices.Clone(v.gvar[:20]))
	at := uint32(20 + len(offsets))
	copy(out[8:], be(nil).with(at))
	out[15] |= 1
	copy(out[16:], be(nil).with(at+uint32(len(v.shared))))
	return append(append(append(out, offsets...), v.shared...), data...)
}

func (b be) with(v uint32) be { b.u32(v); return b }

// A calls is which subroutines charstrings call.
type calls struct {
	fd      int // the font of the glyph that runs
	global  []bool
	local   [][]bool
	accents bool // a glyph is made of two others
}

// calls runs the marked glyphs.
func (c *cff) calls(keep []bool) (*calls, error) {
	u := &calls{global: make([]bool, len(c.global)), local: make([][]bool, len(c.local))}
	for i := range u.local {
		u.local[i] = make([]bool, len(c.local[i]))
	}
	for i := range c.glyphs {
		if i >= len(keep) || !keep[i] {
			continue
		}
		if u.fd = c.fontOf(i); u.fd >= len(c.local) {
			return nil, bad(fmt.Sprintf("glyph %d", i), "a font of the list (FDArray)", "number %d of %d", u.fd, len(c.local))
		}
		if _, err := c.draw(i, u); err != nil {
			return nil, err
		}
	}
	if u.accents {
		return nil, bad("table CFF", "glyphs that are not made of two others (endchar with four numbers)", "some")
	}
	return u, nil
}

// keepCFF empties charstrings, and subroutines that the others do not call, where they stand.
func (f *Font) keepCFF(c *cff, keep []bool) (map[string][]byte, error) {
	tag, nothing := "CFF ", []byte{opEndChar}
	back := []byte{opReturn}
	if c.two {
		tag, nothing, back = "CFF2", nil, nil
	}
	b, err := f.Table(tag)
	if err != nil {
		return nil, err
	}
	used, err := c.calls(keep)
	if err != nil {
		return nil, err
	}
	b = slices.Clone(b)
	empty := func(at int, keep []bool, stub []byte) {
		if at > 0 {
			emptyIndex(b, at, c.two, keep, stub)
		}
	}
	empty(c.at.glyphs, keep, nothing)
	empty(c.at.global, used.global, back)
	for i, at := range c.at.local {
		empty(at, used.local[i], back)
	}
	return map[string][]byte{tag: b}, nil
}

// emptyIndex replaces what is not kept of a list by a stub, moves the rest together, and fills what is
// left with zeros (5176, 5). The list was read before. A stub is not longer than what it replaces.
func emptyIndex(b []byte, at int, two bool, keep []bool, stub []byte) {
	list, end, ok := cffIndex(b, at)
	at += 2
	if two {
		list, end, ok = cff2Index(b, at-2)
		at += 2
	}
	if !ok || len(list) == 0 {
		return
	}
	size := int(b[at])
	base := at + 1 + size*(len(list)+1)
	to := base
	for i, data := range list {
		put(b[at+1+size*i:][:size], to-base+1)
		if i < len(keep) && !keep[i] {
			data = stub[:min(len(stub), len(data))]
		}
		to += copy(b[to:], data)
	}
	put(b[at+1+size*len(list):][:size], to-base+1)
	clear(b[to:end])
}

// put writes a number into all of some bytes.
func put(b []byte, v int) {
	for i := len(b) - 1; i >= 0; i-- {
		b[i], v = byte(v), v>>8
	}
}
