package layout

import "notaria/internal/sfnt"

// Contexts are alike in GSUB (types 5 and 6) and in GPOS (7 and 8): glyphs, classes or coverages in a row, and lookups at places of it
// (OpenType, chapter 2, contextual lookups).

// nested hands over the lookups that a context leads to.
func (t *table) nested(chain bool, b []byte, add func(int)) {
	records := func(b []byte, count int) {
		for i := range min(count, len(b)/4) {
			add(sfnt.Word(b, 4*i+2))
		}
	}
	switch format := sfnt.Word(b, 0); format {
	case 1, 2:
		at := 4
		if format == 2 {
			at = 6
			if chain {
				at = 10
			}
		}
		for i := range min(sfnt.Word(b, at), max(0, len(b)-at-2)/2) {
			set := sfnt.From(b, sfnt.Word(b, at+2+2*i))
			if sfnt.Word(b, at+2+2*i) == 0 {
				continue
			}
			for k := range min(sfnt.Word(set, 0), max(0, len(set)-2)/2) {
				r := readRule(chain, sfnt.From(set, sfnt.Word(set, 2+2*k)))
				records(r.records, r.count)
				if t.much(1) {
					return
				}
			}
		}
	case 3:
		r := readRule3(chain, b)
		records(r.records, r.count)
	}
}

// A rule is what stands before, in and behind a match, and what happens there.
type rule struct {
	rows    [3][]byte // glyphs, classes, or offsets; of the middle one of format 1 and 2 without the first
	counts  [3]int
	records []byte
	count   int
}

// readRule reads one of format 1 or 2.
func readRule(chain bool, b []byte) (r rule) {
	if !chain {
		r.counts[1], r.count = max(0, sfnt.Word(b, 0)-1), sfnt.Word(b, 2)
		r.rows[1] = sfnt.From(b, 4)
		r.records = sfnt.From(b, 4+2*r.counts[1])
		return r
	}
	at := 0
	for i := range 3 {
		r.counts[i] = sfnt.Word(b, at)
		if i == 1 {
			r.counts[i] = max(0, r.counts[i]-1)
		}
		r.rows[i] = sfnt.From(b, at+2)
		at += 2 + 2*r.counts[i]
	}
	r.count, r.records = sfnt.Word(b, at), sfnt.From(b, at+2)
	return r
}

// readRule3 reads the only rule of a subtable of format 3.
func readRule3(chain bool, b []byte) (r rule) {
	if !chain {
		r.counts[1], r.count = sfnt.Word(b, 2), sfnt.Word(b, 4)
		r.rows[1] = sfnt.From(b, 6)
		r.records = sfnt.From(b, 6+2*r.counts[1])
		return r
	}
	at := 2
	for i := range 3 {
		r.counts[i] = sfnt.Word(b, at)
		r.rows[i] = sfnt.From(b, at+2)
		at += 2 + 2*r.counts[i]
	}
	r.count, r.records = sfnt.Word(b, at), sfnt.From(b, at+2)
	return r
}

// whole says whether all of a rule is inside of the table.
func (r rule) whole() bool {
	for i := range 3 {
		if 2*r.counts[i] > len(r.rows[i]) {
			return false
		}
	}
	return 4*r.count <= len(r.records)
}

// recordsOf are the lookups of a rule that stay, with the places where they happen.
func (t *table) recordsOf(r rule) (list []int) {
	for i := range r.count {
		if l := sfnt.Word(r.records, 4*i+2); l < len(t.lookups) && t.lookups[l] >= 0 {
			list = append(list, sfnt.Word(r.records, 4*i), t.lookups[l])
		}
	}
	return list
}

// context cuts a subtable; nil where no rule can match any more. A rule without lookups stays, for it keeps later ones away.
func (t *table) context(chain bool, b []byte) *node {
	switch sfnt.Word(b, 0) {
	case 1:
		return t.contextGlyphs(chain, b)
	case 2:
		return t.contextClasses(chain, b)
	case 3:
		return t.contextCovers(chain, b)
	}
	return nil
}

// write is a rule of format 1 or 2 with other numbers in its rows; nil if one of them goes.
func (t *table) write(chain bool, r rule, number func(row, v int) int) *node {
	if t.work += r.counts[0] + r.counts[1] + r.counts[2] + r.count; !r.whole() {
		return nil
	}
	n := &node{}
	records := t.recordsOf(r)
	for row := range 3 {
		if !chain && row != 1 {
			continue
		}
		count := r.counts[row]
		if row == 1 {
			count++
		}
		if n.u16(count); !chain {
			n.u16(len(records) / 2)
		}
		for i := range r.counts[row] {
			v := number(row, sfnt.Word(r.rows[row], 2*i))
			if v < 0 {
				return nil
			}
			n.u16(v)
		}
	}
	if chain {
		n.u16(len(records) / 2)
	}
	n.u16(records...)
	return n
}

// rules is a set of them; nil where none stays.
func (t *table) rules(chain bool, set []byte, number func(row, v int) int) *node {
	var list []*node
	for k := range min(sfnt.Word(set, 0), max(0, len(set)-2)/2) {
		if t.much(1) {
			return nil
		}
		if r := t.write(chain, readRule(chain, sfnt.From(set, sfnt.Word(set, 2+2*k))), number); r != nil {
			list = append(list, r)
		}
	}
	if len(list) == 0 {
		return nil
	}
	n := &node{}
	n.u16(len(list))
	for _, r := range list {
		n.ref(r)
	}
	return n
}

func (t *table) contextGlyphs(chain bool, b []byte) *node {
	var glyphs []int
	var sets []*node
	for i, g := range t.coverage(sfnt.From(b, sfnt.Word(b, 2))) {
		if t.New(g) < 0 || i >= sfnt.Word(b, 4) || sfnt.Word(b, 6+2*i) == 0 {
			continue
		}
		if set := t.rules(chain, sfnt.From(b, sfnt.Word(b, 6+2*i)), func(_, g int) int { return t.New(g) }); set != nil {
			glyphs, sets = append(glyphs, t.New(g)), append(sets, set)
		}
	}
	return covered1(glyphs, sets)
}

func (t *table) contextClasses(chain bool, b []byte) *node {
	coverage := t.cutCover(sfnt.From(b, sfnt.Word(b, 2)))
	if coverage == nil {
		return nil
	}
	n := &node{}
	n.u16(2)
	n.ref(coverage)
	at, defs := 4, []int{1}
	if chain {
		defs = []int{0, 1, 2}
	}
	var has [3]map[int]bool
	for _, row := range defs {
		def := sfnt.From(b, sfnt.Word(b, at))
		if sfnt.Word(b, at) == 0 {
			def = nil
		}
		has[row] = t.members(def)
		n.ref(t.classes(def, same))
		at += 2
	}
	var sets []*node
	for i := range min(sfnt.Word(b, at), max(0, len(b)-at-2)/2) {
		var set *node
		if off := sfnt.Word(b, at+2+2*i); off != 0 && has[1][i] {
			set = t.rules(chain, sfnt.From(b, off), func(row, class int) int {
				if !has[row][class] {
					return -1
				}
				return class
			})
		}
		sets = append(sets, set)
	}
	for len(sets) > 0 && sets[len(sets)-1] == nil {
		sets = sets[:len(sets)-1]
	}
	if len(sets) == 0 {
		return nil
	}
	n.u16(len(sets))
	for _, s := range sets {
		n.ref(s)
	}
	return n
}

func (t *table) contextCovers(chain bool, b []byte) *node {
	r := readRule3(chain, b)
	if !r.whole() || r.counts[1] == 0 {
		return nil
	}
	records := t.recordsOf(r)
	n := &node{}
	n.u16(3)
	for row := range 3 {
		if !chain && row != 1 {
			continue
		}
		if n.u16(r.counts[row]); !chain {
			n.u16(len(records) / 2)
		}
		for i := range r.counts[row] {
			c := t.cutCover(sfnt.From(b, sfnt.Word(r.rows[row], 2*i)))
			if c == nil {
				return nil
			}
			n.ref(c)
		}
	}
	if chain {
		n.u16(len(records) / 2)
	}
	n.u16(records...)
	return n
}
