package layout

import "notaria/internal/sfnt"

// substitution cuts one subtable of GSUB; nil where nothing is left.
func (t *table) substitution(kind int, b []byte) *node {
	switch kind {
	case single:
		return t.single(b)
	case multiple, alternate:
		return t.lists(kind, b)
	case ligature:
		return t.ligatures(b)
	case 5, 6:
		return t.context(kind == 6, b)
	case reverse:
		return t.reverse(b)
	}
	return nil
}

func (t *table) single(b []byte) *node {
	type pair struct{ from, to int }
	var list []pair
	cov := t.coverage(sfnt.From(b, sfnt.Word(b, 2)))
	for i, g := range cov {
		to := (g + sfnt.Word(b, 4)) & 0xffff
		if sfnt.Word(b, 0) == 2 {
			if i >= sfnt.Word(b, 4) {
				break
			}
			to = sfnt.Word(b, 6+2*i)
		}
		if from, to := t.New(g), t.New(to); from >= 0 && to >= 0 {
			list = append(list, pair{from, to})
		}
	}
	if len(list) == 0 {
		return nil
	}
	byNew(list, func(p pair) int { return p.from })
	var from []int
	constant := true
	for _, p := range list {
		from = append(from, p.from)
		constant = constant && p.to-p.from == list[0].to-list[0].from
	}
	n := &node{}
	if constant {
		n.u16(1)
		n.ref(cover(from))
		n.u16(list[0].to - list[0].from)
		return n
	}
	n.u16(2)
	n.ref(cover(from))
	n.u16(len(list))
	for _, p := range list {
		n.u16(p.to)
	}
	return n
}

// all are the new numbers of a list of glyphs behind its count; false if one goes.
func (t *table) all(b []byte, count int) (out []int, ok bool) {
	for i := range t.most(min(count, len(b)/2)) {
		g := t.New(sfnt.Word(b, 2*i))
		if g < 0 {
			return nil, false
		}
		out = append(out, g)
	}
	t.work += len(out)
	return out, len(out) == count
}

// lists are what one glyph becomes: several in a row, or one of several.
func (t *table) lists(kind int, b []byte) *node {
	var glyphs []int
	var sets []*node
	cov := t.coverage(sfnt.From(b, sfnt.Word(b, 2)))
	for i, g := range cov {
		if t.New(g) < 0 || i >= sfnt.Word(b, 4) || t.much(1) {
			continue
		}
		set := sfnt.From(b, sfnt.Word(b, 6+2*i))
		count := sfnt.Word(set, 0)
		var out []int
		if kind == multiple {
			var ok bool
			if out, ok = t.all(sfnt.From(set, 2), count); !ok {
				continue
			}
		} else {
			for k := range t.most(min(count, max(0, len(set)-2)/2)) {
				if to := t.New(sfnt.Word(set, 2+2*k)); to >= 0 {
					out = append(out, to)
				}
			}
			if len(out) == 0 {
				continue
			}
		}
		n := &node{}
		n.u16(len(out))
		n.u16(out...)
		glyphs, sets = append(glyphs, t.New(g)), append(sets, n)
	}
	return covered1(glyphs, sets)
}

// covered1 is a subtable of format 1: a coverage, and a table for each glyph of it.
func covered1(glyphs []int, sets []*node) *node {
	if len(glyphs) == 0 {
		return nil
	}
	n := &node{}
	n.u16(1)
	n.ref(cover(glyphs))
	n.u16(len(sets))
	for _, s := range sets {
		n.ref(s)
	}
	return n
}

func (t *table) ligatures(b []byte) *node {
	var glyphs []int
	var sets []*node
	cov := t.coverage(sfnt.From(b, sfnt.Word(b, 2)))
	for i, g := range cov {
		if t.New(g) < 0 || i >= sfnt.Word(b, 4) || t.much(1) {
			continue
		}
		set := sfnt.From(b, sfnt.Word(b, 6+2*i))
		var list []*node
		for k := range t.most(min(sfnt.Word(set, 0), max(0, len(set)-2)/2)) {
			l := sfnt.From(set, sfnt.Word(set, 2+2*k))
			to, parts := t.New(sfnt.Word(l, 0)), sfnt.Word(l, 2)
			if t.work++; to < 0 || parts < 1 || len(l) < 4 {
				continue
			}
			if rest, ok := t.all(l[4:], parts-1); ok {
				one := &node{}
				one.u16(to, parts)
				one.u16(rest...)
				list = append(list, one)
			}
		}
		if len(list) == 0 {
			continue
		}
		n := &node{}
		n.u16(len(list))
		for _, l := range list {
			n.ref(l)
		}
		glyphs, sets = append(glyphs, t.New(g)), append(sets, n)
	}
	return covered1(glyphs, sets)
}

func (t *table) reverse(b []byte) *node {
	if sfnt.Word(b, 0) != 1 {
		return nil
	}
	n := &node{}
	n.u16(1)
	type pair struct{ from, to int }
	var list []pair
	at := 4
	var sides [2][]*node
	for side := range sides {
		count := sfnt.Word(b, at)
		for i := range min(count, max(0, len(b)-at-2)/2) {
			c := t.cutCover(sfnt.From(b, sfnt.Word(b, at+2+2*i)))
			if c == nil {
				return nil
			}
			sides[side] = append(sides[side], c)
		}
		at += 2 + 2*count
	}
	for i, g := range t.coverage(sfnt.From(b, sfnt.Word(b, 2))) {
		if i >= sfnt.Word(b, at) {
			break
		}
		if from, to := t.New(g), t.New(sfnt.Word(b, at+2+2*i)); from >= 0 && to >= 0 {
			list = append(list, pair{from, to})
		}
	}
	if len(list) == 0 {
		return nil
	}
	byNew(list, func(p pair) int { return p.from })
	var from []int
	for _, p := range list {
		from = append(from, p.from)
	}
	n.ref(cover(from))
	for _, side := range sides {
		n.u16(len(side))
		for _, c := range side {
			n.ref(c)
		}
	}
	n.u16(len(list))
	for _, p := range list {
		n.u16(p.to)
	}
	return n
}
