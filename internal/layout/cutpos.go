package layout

import (
	"math"
	"slices"

	"notaria/internal/sfnt"
)

// position cuts one subtable of GPOS; nil where nothing is left.
func (t *table) position(kind int, b []byte) *node {
	switch kind {
	case 1:
		return t.shifts(b)
	case 2:
		if sfnt.Word(b, 0) == 2 {
			return t.pairsOfClasses(b)
		}
		return t.pairsOfGlyphs(b)
	case 3:
		return t.cursive(b)
	case 4, 6:
		return t.marks(b)
	case 5:
		return t.marksOfLigatures(b)
	case 7, 8:
		return t.context(kind == 8, b)
	}
	return nil
}

// format is that of value records as they are written: of a font at one place, what varies is in the values.
func (t *table) format(f int) int {
	if t.fold == nil {
		return f
	}
	return f&0x0f | f>>4&0x0f
}

// value copies a value record into a node; places of devices count from the node. It returns how long the record is.
func (t *table) value(n *node, parent, b []byte, format int) int {
	at := 0
	var values [4]int
	for k := range 8 {
		if format>>k&1 == 0 {
			continue
		}
		v := sfnt.Word(b, at)
		switch {
		case k < 4 && t.fold != nil:
			values[k] += int(int16(v))
		case t.fold != nil:
			values[k-4] += t.moved(sfnt.From(parent, v), v)
		case k >= 4 && v != 0:
			n.ref(device(sfnt.From(parent, v)))
		default:
			n.u16(v)
		}
		at += 2
	}
	if out := t.format(format); t.fold != nil {
		for k, v := range values {
			if out>>k&1 != 0 {
				n.u16(v)
			}
		}
	}
	t.work++
	return at
}

// moved is how much a value changes at the place of the font, by the table that it refers to.
func (c *Cut) moved(b []byte, offset int) int {
	if offset == 0 || sfnt.Word(b, 4) != 0x8000 {
		return 0
	}
	return int(math.Round(c.fold(sfnt.Word(b, 0), sfnt.Word(b, 2))))
}

// device is a table of corrections by size, or the index of a variation (OpenType, Device and VariationIndex); nil if it is none.
func device(b []byte) *node {
	size := 6
	switch format := sfnt.Word(b, 4); {
	case format >= 1 && format <= 3:
		first, last := sfnt.Word(b, 0), sfnt.Word(b, 2)
		if last < first {
			return nil
		}
		bits := 1 << format
		size += 2 * (((last-first+1)*bits + 15) / 16)
	case format != 0x8000:
		return nil
	}
	if size > len(b) {
		return nil
	}
	return &node{b: slices.Clone(b[:size])}
}

func (t *table) shifts(b []byte) *node {
	cov := t.coverage(sfnt.From(b, sfnt.Word(b, 2)))
	format := sfnt.Word(b, 4)
	size := 2 * ones(format&0xff)
	var glyphs, places []int
	for _, i := range t.keptOf(cov) {
		if sfnt.Word(b, 0) == 2 && i >= sfnt.Word(b, 6) {
			break
		}
		glyphs, places = append(glyphs, t.New(cov[i])), append(places, i)
	}
	if len(glyphs) == 0 {
		return nil
	}
	n := &node{}
	n.u16(sfnt.Word(b, 0))
	n.ref(cover(glyphs))
	if n.u16(t.format(format)); sfnt.Word(b, 0) == 1 {
		t.value(n, b, sfnt.From(b, 6), format)
		return n
	}
	n.u16(len(glyphs))
	for _, i := range places {
		t.value(n, b, sfnt.From(b, 8+size*i), format)
	}
	return n
}

func (t *table) pairsOfGlyphs(b []byte) *node {
	if sfnt.Word(b, 0) != 1 {
		return nil
	}
	f1, f2 := sfnt.Word(b, 4), sfnt.Word(b, 6)
	size := 2 + 2*ones(f1&0xff) + 2*ones(f2&0xff)
	var glyphs []int
	var sets []*node
	for i, g := range t.coverage(sfnt.From(b, sfnt.Word(b, 2))) {
		if t.New(g) < 0 || i >= sfnt.Word(b, 8) {
			continue
		}
		set := sfnt.From(b, sfnt.Word(b, 10+2*i))
		n := &node{}
		n.u16(0)
		count := 0
		for k := range t.most(min(sfnt.Word(set, 0), max(0, len(set)-2)/size)) {
			r := set[2+size*k:]
			if t.work++; t.New(sfnt.Word(r, 0)) < 0 {
				continue
			}
			n.u16(t.New(sfnt.Word(r, 0)))
			at := 2 + t.value(n, set, r[2:], f1)
			t.value(n, set, sfnt.From(r, at), f2)
			count++
		}
		if count > 0 {
			n.b[0], n.b[1] = byte(count>>8), byte(count)
			glyphs, sets = append(glyphs, t.New(g)), append(sets, n)
		}
	}
	if len(glyphs) == 0 {
		return nil
	}
	n := &node{}
	n.u16(1)
	n.ref(cover(glyphs))
	n.u16(t.format(f1), t.format(f2), len(sets))
	for _, s := range sets {
		n.ref(s)
	}
	return n
}

// pairsOfClasses keeps the classes that have a glyph. Of the first glyphs, class 0 are those that are covered and in no other; of the
// second ones, all others.
func (t *table) pairsOfClasses(b []byte) *node {
	f1, f2 := sfnt.Word(b, 4), sfnt.Word(b, 6)
	def1, def2 := sfnt.From(b, sfnt.Word(b, 8)), sfnt.From(b, sfnt.Word(b, 10))
	count1, count2 := sfnt.Word(b, 12), sfnt.Word(b, 14)
	size := 2*ones(f1&0xff) + 2*ones(f2&0xff)
	if len(b) < 16 || len(b)-16 < count1*count2*size {
		return nil
	}
	var glyphs []int
	covered := map[int]bool{}
	used := map[int]bool{}
	for _, g := range t.coverage(sfnt.From(b, sfnt.Word(b, 2))) {
		if k := t.New(g); k >= 0 {
			glyphs = append(glyphs, k)
			covered[k] = true
			used[classOf(def1, g)] = true
		}
	}
	if len(glyphs) == 0 {
		return nil
	}
	var rows, columns []int // the classes that stay
	number1, number2 := map[int]int{}, map[int]int{}
	for c := range count1 {
		if used[c] {
			number1[c] = len(rows)
			rows = append(rows, c)
		}
	}
	has := t.members(def2)
	for c := range count2 {
		if has[c] {
			number2[c] = len(columns)
			columns = append(columns, c)
		}
	}
	if len(rows) == 0 || len(columns) == 0 {
		return nil
	}
	n := &node{}
	n.u16(2)
	n.ref(cover(glyphs))
	n.u16(t.format(f1), t.format(f2))
	// Glyphs that are not covered have no class of the first kind: they would only make the definition longer.
	n.ref(t.classesOf(covered, def1, func(c int) int { return number1[c] }))
	n.ref(t.classes(def2, func(c int) int { return number2[c] }))
	n.u16(len(rows), len(columns))
	for _, r := range rows {
		for _, c := range columns {
			record := b[16+(r*count2+c)*size:]
			at := t.value(n, b, record, f1)
			t.value(n, b, sfnt.From(record, at), f2)
		}
	}
	return n
}

// classesOf are classes of some of the glyphs that stay; the others are in class 0, which is no class of theirs.
func (t *table) classesOf(some map[int]bool, b []byte, to func(int) int) *node {
	c := &Cut{kept: slices.Clone(t.kept)}
	for g := range c.kept {
		if !some[g] {
			c.kept[g] = -1
		}
	}
	return c.classes(b, func(class int) int { return to(class) })
}

// anchor is a place of a glyph (OpenType, Anchor); nil if it is none.
func (c *Cut) anchor(b []byte) *node {
	n := &node{}
	switch sfnt.Word(b, 0) {
	case 1:
		if len(b) >= 6 {
			n.b = slices.Clone(b[:6])
		}
	case 2:
		if len(b) >= 8 {
			n.b = slices.Clone(b[:8])
		}
	case 3:
		if len(b) < 10 {
			return nil
		}
		if c.fold != nil {
			n.u16(1)
			for k := range 2 {
				off := sfnt.Word(b, 6+2*k)
				n.u16(int(int16(sfnt.Word(b, 2+2*k))) + c.moved(sfnt.From(b, off), off))
			}
			return n
		}
		n.b = slices.Clone(b[:6])
		for at := 6; at < 10; at += 2 {
			if v := sfnt.Word(b, at); v != 0 {
				n.ref(device(sfnt.From(b, v)))
			} else {
				n.u16(0)
			}
		}
	}
	if len(n.b) == 0 {
		return nil
	}
	return n
}

// anchorAt is the anchor that a table refers to at a place.
func (c *Cut) anchorAt(b []byte, at int) *node {
	if v := sfnt.Word(b, at); v != 0 {
		return c.anchor(sfnt.From(b, v))
	}
	return nil
}

func (t *table) cursive(b []byte) *node {
	var glyphs []int
	n := &node{}
	records := &node{}
	for i, g := range t.coverage(sfnt.From(b, sfnt.Word(b, 2))) {
		if t.New(g) < 0 || i >= sfnt.Word(b, 4) {
			continue
		}
		glyphs = append(glyphs, t.New(g))
		records.ref(t.anchorAt(b, 6+4*i))
		records.ref(t.anchorAt(b, 8+4*i))
	}
	if len(glyphs) == 0 {
		return nil
	}
	n.u16(1)
	n.ref(cover(glyphs))
	n.u16(len(glyphs))
	n.join(records)
	return n
}

// join puts the bytes of another node, with its links, behind those of this one.
func (n *node) join(other *node) {
	for _, l := range other.links {
		n.links = append(n.links, link{len(n.b) + l.at, l.wide, l.to})
	}
	n.b = append(n.b, other.b...)
}

// markArray is that of the marks that stay, with the new numbers of their classes.
func (t *table) markArray(coverage, array []byte, classes int) (cov, marks *node, numbers []int) {
	var glyphs, places []int
	used := make([]bool, classes)
	for i, g := range t.coverage(coverage) {
		if class := sfnt.Word(array, 2+4*i); t.New(g) >= 0 && i < sfnt.Word(array, 0) && class < classes {
			glyphs, places = append(glyphs, t.New(g)), append(places, i)
			used[class] = true
		}
	}
	place := map[int]int{}
	for c, ok := range used {
		if ok {
			place[c] = len(numbers)
			numbers = append(numbers, c)
		}
	}
	marks = &node{}
	marks.u16(len(places))
	for _, i := range places {
		marks.u16(place[sfnt.Word(array, 2+4*i)])
		marks.ref(t.anchorAt(array, 4+4*i))
	}
	return cover(glyphs), marks, numbers
}

// marks sets marks on bases, or on other marks.
func (t *table) marks(b []byte) *node {
	classes := sfnt.Word(b, 6)
	if t.work += classes; classes == 0 {
		return nil
	}
	cov, marks, numbers := t.markArray(sfnt.From(b, sfnt.Word(b, 2)), sfnt.From(b, sfnt.Word(b, 8)), classes)
	bases := sfnt.From(b, sfnt.Word(b, 10))
	var glyphs []int
	records := &node{}
	for i, g := range t.coverage(sfnt.From(b, sfnt.Word(b, 4))) {
		if t.New(g) < 0 || i >= sfnt.Word(bases, 0) {
			continue
		}
		glyphs = append(glyphs, t.New(g))
		if t.much(len(numbers)) {
			return nil
		}
		for _, c := range numbers {
			records.ref(t.anchorAt(bases, 2+2*(i*classes+c)))
		}
	}
	if cov == nil || len(glyphs) == 0 {
		return nil
	}
	return marked(cov, cover(glyphs), marks, len(numbers), len(glyphs), records)
}

// marked is a subtable that sets marks on something.
func marked(marksCover, cov, marks *node, classes, count int, records *node) *node {
	array := &node{}
	array.u16(count)
	array.join(records)
	n := &node{}
	n.u16(1)
	n.ref(marksCover)
	n.ref(cov)
	n.u16(classes)
	n.ref(marks)
	n.ref(array)
	return n
}

func (t *table) marksOfLigatures(b []byte) *node {
	classes := sfnt.Word(b, 6)
	if t.work += classes; classes == 0 {
		return nil
	}
	cov, marks, numbers := t.markArray(sfnt.From(b, sfnt.Word(b, 2)), sfnt.From(b, sfnt.Word(b, 8)), classes)
	ligatures := sfnt.From(b, sfnt.Word(b, 10))
	var glyphs []int
	records := &node{}
	for i, g := range t.coverage(sfnt.From(b, sfnt.Word(b, 4))) {
		if t.New(g) < 0 || i >= sfnt.Word(ligatures, 0) {
			continue
		}
		glyphs = append(glyphs, t.New(g))
		l := sfnt.From(ligatures, sfnt.Word(ligatures, 2+2*i))
		parts := min(sfnt.Word(l, 0), max(0, len(l)-2)/(2*classes))
		if t.much(parts * len(numbers)) {
			return nil
		}
		one := &node{}
		one.u16(parts)
		for p := range parts {
			for _, c := range numbers {
				one.ref(t.anchorAt(l, 2+2*(p*classes+c)))
			}
		}
		records.ref(one)
	}
	if cov == nil || len(glyphs) == 0 {
		return nil
	}
	return marked(cov, cover(glyphs), marks, len(numbers), len(glyphs), records)
}
