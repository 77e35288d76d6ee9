package layout

import (
	"slices"

	"notaria/internal/fault"
	"notaria/internal/sfnt"
)

// Definitions cuts GDEF: classes of glyphs, points to attach to, carets in ligatures, and sets of marks.
func (c *Cut) Definitions(b []byte) ([]byte, error) {
	if len(b) < 12 || sfnt.Word(b, 0) != 1 {
		return nil, fault.Form("table GDEF: expected version 1, found %d bytes of another", len(b))
	}
	minor := sfnt.Word(b, 2)
	if c.fold != nil { // nothing varies any more
		minor = min(minor, 2)
	}
	root := &node{}
	root.u16(1, minor)
	def := func(at int) *node {
		if off := sfnt.Word(b, at); off != 0 {
			return c.classes(sfnt.From(b, off), same)
		}
		return nil
	}
	root.ref(def(4))
	root.ref(c.each(b, sfnt.Word(b, 6), func(one []byte) *node {
		n := min(sfnt.Word(one, 0), max(0, len(one)-2)/2)
		return &node{b: slices.Clone(one[:min(len(one), 2+2*n)])}
	}))
	root.ref(c.each(b, sfnt.Word(b, 8), c.carets))
	root.ref(def(10))
	if minor >= 2 {
		root.ref(c.markSets(b))
	}
	if minor >= 3 {
		var store *node
		if at := sfnt.From(b, 14); len(at) >= 4 && u32(at, 0) != 0 {
			raw := sfnt.From(b, int(u32(at, 0)))
			size, err := storeSize(raw)
			if err != nil {
				return nil, err
			}
			store = &node{b: slices.Clone(raw[:size])}
			if c.space != nil {
				if store.b, err = c.space.Store(raw[:size]); err != nil {
					return nil, err
				}
			}
		}
		root.far(store)
	}
	if c.much(0) {
		return nil, c.tooMuch("GDEF")
	}
	return pack(root)
}

// each is a list of something for each glyph of a coverage; nil where none is left.
func (c *Cut) each(b []byte, at int, one func([]byte) *node) *node {
	if at == 0 {
		return nil
	}
	list := sfnt.From(b, at)
	var glyphs []int
	var sets []*node
	for i, g := range c.coverage(sfnt.From(list, sfnt.Word(list, 0))) {
		if c.New(g) < 0 || i >= sfnt.Word(list, 2) {
			continue
		}
		of := sfnt.From(list, sfnt.Word(list, 4+2*i))
		if c.much(sfnt.Word(of, 0) + 1) {
			return nil
		}
		glyphs, sets = append(glyphs, c.New(g)), append(sets, one(of))
	}
	if len(glyphs) == 0 {
		return nil
	}
	n := &node{}
	n.ref(cover(glyphs))
	n.u16(len(sets))
	for _, s := range sets {
		n.ref(s)
	}
	return n
}

// carets are those of one ligature.
func (c *Cut) carets(b []byte) *node {
	n := &node{}
	count := min(sfnt.Word(b, 0), max(0, len(b)-2)/2)
	n.u16(count)
	for i := range count {
		one := sfnt.From(b, sfnt.Word(b, 2+2*i))
		v := &node{b: slices.Clone(one[:min(len(one), 4)])}
		if off := sfnt.Word(one, 4); sfnt.Word(one, 0) == 3 && c.fold != nil {
			v = &node{}
			v.u16(1, int(int16(sfnt.Word(one, 2)))+c.moved(sfnt.From(one, off), off))
		} else if sfnt.Word(one, 0) == 3 {
			v.ref(device(sfnt.From(one, sfnt.Word(one, 4))))
		}
		n.ref(v)
	}
	return n
}

// markSets are the sets of marks that lookups name by their numbers: each stays, also if it is empty.
func (c *Cut) markSets(b []byte) *node {
	at := sfnt.Word(b, 12)
	if at == 0 {
		return nil
	}
	sets := sfnt.From(b, at)
	n := &node{}
	count := min(sfnt.Word(sets, 2), max(0, len(sets)-4)/4)
	n.u16(1, count)
	for i := range count {
		set := c.cutCover(sfnt.From(sets, int(u32(sets, 4+4*i))))
		if set == nil {
			set = &node{}
			set.u16(1, 0)
		}
		n.far(set)
	}
	return n
}

// storeSize is how long an ItemVariationStore is (OpenType, variation stores).
func storeSize(b []byte) (int, error) {
	wrong := fault.Form("expected a store of variations inside of the table, found %d bytes", len(b))
	if len(b) < 8 || sfnt.Word(b, 0) != 1 {
		return 0, wrong
	}
	count := sfnt.Word(b, 6)
	size := 8 + 4*count
	regions := int(u32(b, 2))
	list := sfnt.From(b, regions)
	size = max(size, regions+4+6*sfnt.Word(list, 0)*sfnt.Word(list, 2))
	for i := range count {
		if 12+4*i > len(b) {
			return 0, wrong
		}
		at := int(u32(b, 8+4*i))
		d := sfnt.From(b, at)
		size = max(size, at+6+2*sfnt.Word(d, 4)+sfnt.Word(d, 0)*rowSize(d))
	}
	if size > len(b) {
		return 0, wrong
	}
	return size, nil
}

// rowSize is how long a row of a subtable of a store is.
func rowSize(d []byte) int {
	words, columns := sfnt.Word(d, 2)&0x7fff, sfnt.Word(d, 4)
	if sfnt.Word(d, 2)&0x8000 != 0 {
		return 4*words + 2*max(0, columns-words)
	}
	return 2*words + max(0, columns-words)
}

// Pairs cuts the table kern: its subtables of pairs (format 0). Another form is an error.
func (c *Cut) Pairs(b []byte) ([]byte, error) {
	if sfnt.Word(b, 0) != 0 {
		return nil, fault.Form("table kern: expected version 0, found another")
	}
	out := &node{}
	out.u16(0, 0)
	at, tables := 4, 0
	for range sfnt.Word(b, 2) {
		if len(b) < at+14 || sfnt.Word(b, at+4)>>8 != 0 {
			return nil, fault.Form("table kern: expected subtables of pairs (format 0), found another")
		}
		n := min(sfnt.Word(b, at+6), (len(b)-at-14)/6)
		sub := &node{}
		for i := range n {
			r := b[at+14+6*i:]
			if left, right := c.New(sfnt.Word(r, 0)), c.New(sfnt.Word(r, 2)); left >= 0 && right >= 0 {
				sub.u16(left, right, sfnt.Word(r, 4))
			}
		}
		c.work += n
		count := len(sub.b) / 6
		span, log := 1, 0
		for 2*span <= count {
			span, log = 2*span, log+1
		}
		if count == 0 {
			span = 0
		}
		out.u16(0, min(14+len(sub.b), 0xffff), sfnt.Word(b, at+4), count, 6*span, log, 6*(count-span))
		out.b = append(out.b, sub.b...)
		tables++
		length := sfnt.Word(b, at+2)
		if 14+6*n > length { // of more pairs than the length can say
			length = 14 + 6*n
		}
		at += length
	}
	out.b[3] = byte(tables)
	return out.b, nil
}

// Advances cuts HVAR or VVAR: the deltas of the glyphs that stay, each of which names its row (OpenType, HVAR).
func (c *Cut) Advances(tag string, b []byte) ([]byte, error) {
	maps := 3
	if tag == "VVAR" {
		maps = 4
	}
	if len(b) < 8+4*maps {
		return nil, fault.Form("table %s: expected %d bytes, found %d", tag, 8+4*maps, len(b))
	}
	store := sfnt.From(b, int(u32(b, 4)))
	if _, err := storeSize(store); err != nil {
		return nil, err
	}
	used := rowsOf{store: store, rows: map[int]map[int]int{}}
	indexes := make([][][2]int, maps)
	for m := range maps {
		at := u32(b, 8+4*m)
		if at == 0 && m > 0 {
			continue // bearings follow outlines
		}
		var list []byte
		if at != 0 {
			list = sfnt.From(b, int(at))
		}
		for _, g := range c.kept {
			outer, inner := 0, g
			if list != nil {
				outer, inner = Mapped(list, g)
			}
			if !used.has(outer, inner) { // such a row moves nothing
				outer, inner = 0xffff, 0xffff
			} else {
				used.add(outer, inner)
			}
			indexes[m] = append(indexes[m], [2]int{outer, inner})
		}
	}
	root := &node{}
	root.u16(1, 0)
	root.far(used.node())
	for _, list := range indexes {
		root.far(used.indexes(list))
	}
	return pack(root)
}

// Mapped is the row of a glyph by a DeltaSetIndexMap; beyond its end the last counts.
func Mapped(b []byte, glyph int) (outer, inner int) {
	if len(b) < 4 {
		return 0, glyph
	}
	form := int(b[1])
	at, count := 4, sfnt.Word(b, 2)
	if b[0] == 1 {
		if len(b) < 6 {
			return 0, glyph
		}
		at, count = 6, int(u32(b, 2))
	}
	size := form>>4&3 + 1
	if count == 0 {
		return 0, glyph
	}
	at += min(glyph, count-1) * size
	if at+size > len(b) {
		return 0xffff, 0xffff
	}
	v := 0
	for _, x := range b[at : at+size] {
		v = v<<8 | int(x)
	}
	bits := form&15 + 1
	return v >> bits, v & (1<<bits - 1)
}

// rowsOf are rows of a store that stay.
type rowsOf struct {
	store []byte
	rows  map[int]map[int]int // by subtable: the new number of each row
	order map[int][]int
}

// has says whether the store has a row.
func (r *rowsOf) has(outer, inner int) bool {
	return outer < sfnt.Word(r.store, 6) && inner < sfnt.Word(sfnt.From(r.store, int(u32(r.store, 8+4*outer))), 0)
}

func (r *rowsOf) add(outer, inner int) {
	if r.order == nil {
		r.order = map[int][]int{}
	}
	if r.rows[outer] == nil {
		r.rows[outer] = map[int]int{}
	}
	if _, ok := r.rows[outer][inner]; !ok {
		r.rows[outer][inner] = len(r.order[outer])
		r.order[outer] = append(r.order[outer], inner)
	}
}

// node is the store with these rows. Subtables keep their numbers.
func (r *rowsOf) node() *node {
	n := &node{}
	n.u16(1)
	list := sfnt.From(r.store, int(u32(r.store, 2)))
	n.far(&node{b: slices.Clone(list[:min(len(list), 4+6*sfnt.Word(list, 0)*sfnt.Word(list, 2))])})
	count := sfnt.Word(r.store, 6)
	n.u16(count)
	for i := range count {
		d := sfnt.From(r.store, int(u32(r.store, 8+4*i)))
		columns, size := sfnt.Word(d, 4), rowSize(d)
		sub := &node{}
		sub.u16(0, sfnt.Word(d, 2), columns)
		sub.b = append(sub.b, sfnt.From(d, 6)[:2*columns]...)
		rows := 0
		for _, inner := range r.order[i] {
			sub.b = append(sub.b, sfnt.From(d, 6+2*columns+size*inner)[:size]...)
			rows++
		}
		sub.b[0], sub.b[1] = byte(rows>>8), byte(rows)
		n.far(sub)
	}
	return n
}

// indexes is a DeltaSetIndexMap; nil for an empty list. A row that is in no subtable stays in none.
func (r *rowsOf) indexes(list [][2]int) *node {
	if len(list) == 0 {
		return nil
	}
	// Format 0, entries of four bytes, of which the last sixteen bits are the row.
	n := &node{b: []byte{0, 0x3f, byte(len(list) >> 8), byte(len(list))}}
	for _, x := range list {
		outer, inner := x[0], r.rows[x[0]][x[1]]
		if x[0] == 0xffff {
			outer, inner = 0xffff, 0xffff
		}
		n.u16(outer, inner)
	}
	return n
}
