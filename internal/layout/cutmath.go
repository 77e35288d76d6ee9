package layout

import (
	"slices"

	"notaria/internal/fault"
	"notaria/internal/sfnt"
)

// The table MATH (OpenType, MATH): constants of formulas, corrections of glyphs, and the larger forms of brackets, roots and arrows.

// mathConstants is the size of MathConstants: four numbers, 51 values with their devices, and a number.
const (
	mathValues    = 51
	mathConstants = 8 + 4*mathValues + 2
)

// ReachMath marks the larger forms, and their parts, of the glyphs that are marked.
func ReachMath(b []byte, marked []bool) error {
	c := NewCut(nil)
	variants := sfnt.From(b, sfnt.Word(b, 8))
	if sfnt.Word(b, 8) == 0 {
		return nil
	}
	for grown := true; grown; {
		grown = false
		mark := func(g int) {
			if g < len(marked) && !marked[g] {
				marked[g], grown = true, true
			}
		}
		c.constructions(variants, func(_ bool, g int, one []byte) {
			if g >= len(marked) || !marked[g] || c.much(1) {
				return
			}
			for i := range c.most(min(sfnt.Word(one, 2), max(0, len(one)-4)/4)) {
				mark(sfnt.Word(one, 4+4*i))
			}
			if at := sfnt.Word(one, 0); at != 0 {
				parts := sfnt.From(one, at)
				for i := range c.most(min(sfnt.Word(parts, 4), max(0, len(parts)-6)/10)) {
					mark(sfnt.Word(parts, 6+10*i))
				}
			}
		})
		if c.much(0) {
			return c.tooMuch("MATH")
		}
	}
	return nil
}

// constructions hands over how each glyph grows: upwards, or across.
func (c *Cut) constructions(variants []byte, use func(across bool, glyph int, one []byte)) {
	upright := sfnt.Word(variants, 6)
	for k, at := range []int{2, 4} {
		if sfnt.Word(variants, at) == 0 {
			continue
		}
		count, start := upright, 10
		if k == 1 {
			count, start = sfnt.Word(variants, 8), 10+2*upright
		}
		for i, g := range c.coverage(sfnt.From(variants, sfnt.Word(variants, at))) {
			if i >= count || c.much(1) {
				break
			}
			if off := sfnt.Word(variants, start+2*i); off != 0 {
				use(k == 1, g, sfnt.From(variants, off))
			}
		}
	}
}

// Mathematics cuts MATH.
func (c *Cut) Mathematics(b []byte) ([]byte, error) {
	if len(b) < 10 || sfnt.Word(b, 0) != 1 {
		return nil, fault.Form("table MATH: expected version 1, found %d bytes of another", len(b))
	}
	root := &node{}
	root.u16(1, sfnt.Word(b, 2))
	constants := sfnt.From(b, sfnt.Word(b, 4))
	if len(constants) < mathConstants {
		return nil, fault.Form("table MATH: expected %d bytes of constants, found %d", mathConstants, len(constants))
	}
	n := &node{b: slices.Clone(constants[:8])}
	for i := range mathValues {
		mathValue(n, constants, 8+4*i)
	}
	n.u16(sfnt.Word(constants, 8+4*mathValues))
	root.ref(n)
	root.ref(c.mathGlyphs(b, sfnt.Word(b, 6)))
	root.ref(c.mathVariants(b, sfnt.Word(b, 8)))
	if c.much(0) {
		return nil, c.tooMuch("MATH")
	}
	return pack(root)
}

// mathValue adds a value and its device, whose place counts from the table around it.
func mathValue(n *node, parent []byte, at int) {
	n.u16(sfnt.Word(parent, at))
	if off := sfnt.Word(parent, at+2); off != 0 {
		n.ref(device(sfnt.From(parent, off)))
		return
	}
	n.ref(nil)
}

// mathGlyphs are the corrections of single glyphs.
func (c *Cut) mathGlyphs(b []byte, at int) *node {
	if at == 0 {
		return nil
	}
	info := sfnt.From(b, at)
	n := &node{}
	for _, at := range []int{0, 2} { // of italics, and places of accents
		n.ref(c.mathList(info, sfnt.Word(info, at), 4, func(n *node, list []byte, at int) { mathValue(n, list, at) }))
	}
	if off := sfnt.Word(info, 4); off != 0 {
		n.ref(c.cutCover(sfnt.From(info, off)))
	} else {
		n.ref(nil)
	}
	n.ref(c.mathList(info, sfnt.Word(info, 6), 8, func(n *node, list []byte, at int) {
		for corner := range 4 {
			n.ref(mathKern(list, sfnt.Word(list, at+2*corner)))
		}
	}))
	return n
}

// mathList is a record of some bytes for each glyph of a coverage; nil where none is left.
func (c *Cut) mathList(parent []byte, at, size int, record func(n *node, list []byte, at int)) *node {
	if at == 0 {
		return nil
	}
	list := sfnt.From(parent, at)
	var glyphs []int
	records := &node{}
	for i, g := range c.coverage(sfnt.From(list, sfnt.Word(list, 0))) {
		if c.New(g) < 0 || i >= sfnt.Word(list, 2) || 4+size*(i+1) > len(list) || c.much(1) {
			continue
		}
		glyphs = append(glyphs, c.New(g))
		record(records, list, 4+size*i)
	}
	if len(glyphs) == 0 {
		return nil
	}
	n := &node{}
	n.ref(cover(glyphs))
	n.u16(len(glyphs))
	n.join(records)
	return n
}

// mathKern is the kerning of a corner by height; nil for none.
func mathKern(list []byte, at int) *node {
	if at == 0 {
		return nil
	}
	b := sfnt.From(list, at)
	heights := sfnt.Word(b, 0)
	if 2+4*(2*heights+1) > len(b) {
		return nil
	}
	n := &node{}
	n.u16(heights)
	for i := range 2*heights + 1 {
		mathValue(n, b, 2+4*i)
	}
	return n
}

// mathVariants are the larger forms.
func (c *Cut) mathVariants(b []byte, at int) *node {
	if at == 0 {
		return nil
	}
	variants := sfnt.From(b, at)
	var glyphs [2][]int
	var forms [2][]*node
	c.constructions(variants, func(across bool, g int, one []byte) {
		k := 0
		if across {
			k = 1
		}
		if form := c.construction(one); c.New(g) >= 0 && form != nil {
			glyphs[k], forms[k] = append(glyphs[k], c.New(g)), append(forms[k], form)
		}
	})
	n := &node{}
	n.u16(sfnt.Word(variants, 0))
	n.ref(cover(glyphs[0]))
	n.ref(cover(glyphs[1]))
	n.u16(len(glyphs[0]), len(glyphs[1]))
	for _, f := range append(forms[0], forms[1]...) {
		n.ref(f)
	}
	return n
}

// construction is how one glyph grows; nil where a form of it did not stay.
func (c *Cut) construction(one []byte) *node {
	n := &node{}
	var assembly *node
	if at := sfnt.Word(one, 0); at != 0 {
		parts := sfnt.From(one, at)
		assembly = &node{}
		mathValue(assembly, parts, 0)
		count := min(sfnt.Word(parts, 4), max(0, len(parts)-6)/10)
		assembly.u16(count)
		for i := range c.most(count) {
			g := c.New(sfnt.Word(parts, 6+10*i))
			if g < 0 {
				return nil
			}
			assembly.u16(g)
			assembly.b = append(assembly.b, parts[8+10*i:16+10*i]...)
		}
	}
	n.ref(assembly)
	count := min(sfnt.Word(one, 2), max(0, len(one)-4)/4)
	n.u16(count)
	for i := range c.most(count) {
		g := c.New(sfnt.Word(one, 4+4*i))
		if g < 0 {
			return nil
		}
		n.u16(g, sfnt.Word(one, 6+4*i))
	}
	return n
}
