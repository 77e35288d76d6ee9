package layout

import (
	"cmp"
	"slices"

	"notaria/internal/fault"
	"notaria/internal/sfnt"
)

// A Cut writes tables of layout anew for the glyphs that are kept, which get new numbers in their old order.
type Cut struct {
	to   []int // the new number of each glyph, -1 for one that goes
	kept []int // the old number of each that stays
	work int
	// fold is how much values change at the place that a variable font is pinned at; nil where it stays variable.
	fold  func(outer, inner int) float64
	place []float64
	only  func(tag string) bool // features that are wanted; nil for all
	space Narrowing             // the smaller design space; nil where it stays as it is
}

// Pin writes the tables for one place of a variable font: what varies is in the values then, and nothing varies any more.
func (c *Cut) Pin(delta func(outer, inner int) float64, place []float64) {
	c.fold, c.place = delta, place
}

// mostCut is how much work one font may ask for: glyphs, records and rules that are looked at.
const mostCut = 30_000_000

// Narrow writes the tables for a smaller design space.
func (c *Cut) Narrow(space Narrowing) { c.space = space }

// Only leaves features out by their tags, but for those that a place of a variable font changes.
func (c *Cut) Only(wanted func(tag string) bool) { c.only = wanted }

// NewCut is for the marked glyphs.
func NewCut(marked []bool) *Cut {
	c := &Cut{to: make([]int, len(marked))}
	for g, keep := range marked {
		if c.to[g] = -1; keep {
			c.to[g] = len(c.kept)
			c.kept = append(c.kept, g)
		}
	}
	return c
}

// Kept are the old numbers of the glyphs, by their new ones.
func (c *Cut) Kept() []int { return c.kept }

// New is the new number of a glyph, -1 for one that goes.
func (c *Cut) New(old int) int {
	if old < 0 || old >= len(c.to) {
		return -1
	}
	return c.to[old]
}

// much counts work, and says whether it is too much; the table that is made then is given up.
func (c *Cut) much(n int) bool {
	c.work += n
	return c.work > mostCut
}

func (c *Cut) tooMuch(table string) error {
	return fault.Form("table %s: expected one that can be followed, found more than %d steps", table, mostCut)
}

// coverage are the glyphs of a coverage table, in its order (OpenType, Coverage).
func (c *Cut) coverage(b []byte) []int {
	n := sfnt.Word(b, 2)
	var list []int
	switch sfnt.Word(b, 0) {
	case 1:
		for i := range min(n, (len(b)-4)/2) {
			list = append(list, sfnt.Word(b, 4+2*i))
		}
	case 2:
		for i := range min(n, (len(b)-4)/6) {
			first, last := sfnt.Word(b, 4+6*i), sfnt.Word(b, 6+6*i)
			if c.much(max(0, last-first)) || len(list) > 1<<16 {
				return nil
			}
			for g := first; g <= last; g++ {
				list = append(list, g)
			}
		}
	}
	c.work += len(list)
	return list
}

// keptOf are the places in a coverage whose glyphs stay.
func (c *Cut) keptOf(cover []int) (places []int) {
	for i, g := range cover {
		if c.New(g) >= 0 {
			places = append(places, i)
		}
	}
	return places
}

// cover is a coverage of glyphs by their new numbers, which rise; nil for none.
func cover(glyphs []int) *node {
	if len(glyphs) == 0 {
		return nil
	}
	var ranges [][3]int
	for i, g := range glyphs {
		if k := len(ranges) - 1; k >= 0 && ranges[k][1]+1 == g {
			ranges[k][1] = g
		} else {
			ranges = append(ranges, [3]int{g, g, i})
		}
	}
	n := &node{}
	if 6*len(ranges) < 2*len(glyphs) {
		n.u16(2, len(ranges))
		for _, r := range ranges {
			n.u16(r[0], r[1], r[2])
		}
		return n
	}
	n.u16(1, len(glyphs))
	n.u16(glyphs...)
	return n
}

// cutCover is a coverage without the glyphs that go; nil where none stays.
func (c *Cut) cutCover(b []byte) *node {
	var list []int
	for _, g := range c.coverage(b) {
		if k := c.New(g); k >= 0 {
			list = append(list, k)
		}
	}
	slices.Sort(list)
	return cover(slices.Compact(list))
}

// classes is a definition of classes of the glyphs that stay, for which to gives the new class (OpenType, ClassDef).
func (c *Cut) classes(b []byte, to func(class int) int) *node {
	n := &node{}
	if len(b) == 0 {
		n.u16(2, 0)
		return n
	}
	type run struct{ first, last, class int }
	var runs []run
	c.work += len(c.kept)
	for g, old := range c.kept {
		class := to(classOf(b, old))
		if class == 0 {
			continue
		}
		if k := len(runs) - 1; k >= 0 && runs[k].class == class && runs[k].last+1 == g {
			runs[k].last = g
		} else {
			runs = append(runs, run{g, g, class})
		}
	}
	if len(runs) == 0 {
		n.u16(2, 0)
		return n
	}
	if span := runs[len(runs)-1].last - runs[0].first + 1; 6+2*span < 4+6*len(runs) {
		list := make([]int, span)
		for _, r := range runs {
			for g := r.first; g <= r.last; g++ {
				list[g-runs[0].first] = r.class
			}
		}
		n.u16(1, runs[0].first, span)
		n.u16(list...)
		return n
	}
	n.u16(2, len(runs))
	for _, r := range runs {
		n.u16(r.first, r.last, r.class)
	}
	return n
}

func same(class int) int { return class }

// members says which classes have a glyph that stays.
func (c *Cut) members(b []byte) map[int]bool {
	has := map[int]bool{0: true}
	c.work += len(c.kept)
	for _, old := range c.kept {
		has[classOf(b, old)] = true
	}
	return has
}

// A table is GSUB or GPOS while it is cut.
type table struct {
	*Cut
	tag     string
	b       []byte
	gpos    bool
	lookups []int // the new number of each lookup, -1 for one that goes
}

// Layout cuts GSUB or GPOS. Lookups in which nothing is left go, and features that have none; a feature whose being there means
// something stays.
func (c *Cut) Layout(tag string, b []byte) ([]byte, error) {
	t := &table{Cut: c, tag: tag, b: b, gpos: tag == "GPOS"}
	if len(b) < 10 || sfnt.Word(b, 0) != 1 {
		return nil, fault.Form("table %s: expected version 1, found %d bytes of another", tag, len(b))
	}
	all := sfnt.From(b, sfnt.Word(b, 8))
	count := sfnt.Word(all, 0)
	t.lookups = make([]int, count)
	used := t.reached(all, count)
	next := 0
	for i := range count { // first without contexts that lead to what is not known yet
		if c.much(1) {
			return nil, c.tooMuch(tag)
		}
		if t.lookups[i] = -1; used[i] && len(t.subtables(sfnt.From(all, sfnt.Word(all, 2+2*i)))) > 0 {
			t.lookups[i] = next
			next++
		}
	}
	var list []*node
	var kinds []int
	for i := range count {
		if t.lookups[i] < 0 {
			continue
		}
		lookup := sfnt.From(all, sfnt.Word(all, 2+2*i))
		list = append(list, t.lookup(lookup))
		kinds = append(kinds, t.kind(lookup))
	}
	if c.much(0) {
		return nil, c.tooMuch(tag)
	}
	head := t.header(list, kinds, false)
	if c.much(0) {
		return nil, c.tooMuch(tag)
	}
	out, err := pack(head)
	if err != nil {
		out, err = pack(t.header(list, kinds, true))
	}
	if err != nil {
		return nil, err
	}
	return out, nil
}

// extensionOf is the type of lookups whose subtables are farther away than 16 bits reach.
func (t *table) extensionOf() int {
	if t.gpos {
		return 9
	}
	return extension
}

// kind is a lookup's type, or, of an extension, that of its subtables.
func (t *table) kind(lookup []byte) int {
	k := sfnt.Word(lookup, 0)
	if k == t.extensionOf() && sfnt.Word(lookup, 4) > 0 {
		k = sfnt.Word(sfnt.From(lookup, sfnt.Word(lookup, 6)), 2)
	}
	return k
}

// raw are the subtables of a lookup as they are, behind extensions.
func (t *table) raw(lookup []byte) (list [][]byte) {
	ext := sfnt.Word(lookup, 0) == t.extensionOf()
	count := min(sfnt.Word(lookup, 4), max(0, len(lookup)-6)/2)
	if t.much(count) {
		return nil
	}
	for i := range count {
		sub := sfnt.From(lookup, sfnt.Word(lookup, 6+2*i))
		if ext {
			if len(sub) < 8 {
				continue
			}
			sub = sfnt.From(sub, int(u32(sub, 4)))
		}
		if len(sub) >= 4 {
			list = append(list, sub)
		}
	}
	return list
}

// subtables are those of a lookup in which something is left.
func (t *table) subtables(lookup []byte) (list []*node) {
	kind := t.kind(lookup)
	for _, sub := range t.raw(lookup) {
		if t.much(1) {
			return nil
		}
		var n *node
		if t.gpos {
			n = t.position(kind, sub)
		} else {
			n = t.substitution(kind, sub)
		}
		if n != nil {
			list = append(list, n)
		}
	}
	return list
}

// lookup is one that stays; its subtables are in the links.
func (t *table) lookup(b []byte) *node {
	n := &node{}
	subs := t.subtables(b)
	flag := sfnt.Word(b, 2)
	n.u16(t.kind(b), flag, len(subs))
	for _, s := range subs {
		n.ref(s)
	}
	if flag&0x10 != 0 {
		n.u16(sfnt.Word(b, 6+2*sfnt.Word(b, 4)))
	}
	return n
}

// extended is a lookup whose subtables stand behind offsets of 32 bits.
func (t *table) extended(lookup *node, kind int) *node {
	n := &node{b: slices.Clone(lookup.b)}
	n.b[0], n.b[1] = 0, byte(t.extensionOf())
	for _, l := range lookup.links {
		e := &node{}
		e.u16(1, kind)
		e.far(l.to)
		n.links = append(n.links, link{l.at, false, e})
	}
	return n
}

// reached says which lookups features lead to, also by contexts.
func (t *table) reached(all []byte, count int) []bool {
	used := make([]bool, count)
	var queue []int
	add := func(i int) {
		if i < count && !used[i] {
			used[i] = true
			queue = append(queue, i)
		}
	}
	each := func(f []byte) {
		for k := range t.most(min(sfnt.Word(f, 2), max(0, len(f)-4)/2)) {
			add(sfnt.Word(f, 4+2*k))
		}
	}
	features := sfnt.From(t.b, sfnt.Word(t.b, 6))
	varied := t.varied()
	for i := range min(sfnt.Word(features, 0), max(0, len(features)-2)/6) {
		if t.stays(i, string(features[2+6*i:6+6*i]), varied) {
			each(sfnt.From(features, sfnt.Word(features, 2+6*i+4)))
		}
	}
	t.variations(func(f []byte) *node { each(f); return nil })
	for len(queue) > 0 {
		i := queue[0]
		queue = queue[1:]
		lookup := sfnt.From(all, sfnt.Word(all, 2+2*i))
		first := 5
		if t.gpos {
			first = 7
		}
		if kind := t.kind(lookup); kind == first || kind == first+1 {
			for _, sub := range t.raw(lookup) {
				t.nested(kind == first+1, sub, add)
			}
		}
		if t.much(1) {
			break
		}
	}
	return used
}

// header is the whole table: version, scripts, features, lookups, and variations of features.
func (t *table) header(lookups []*node, kinds []int, far bool) *node {
	features, renumbered := t.features()
	root, list := &node{}, &node{}
	list.u16(len(lookups))
	for i, l := range lookups {
		if far {
			l = t.extended(l, kinds[i])
		}
		list.ref(l)
	}
	var variations *node
	if sfnt.Word(t.b, 2) >= 1 && t.fold == nil {
		variations = t.variations(func(f []byte) *node { return t.feature(f, "") })
	}
	root.u16(1, 0)
	if variations != nil {
		root.b[3] = 1
		t.renumber(variations, renumbered)
	}
	root.ref(t.scripts(renumbered))
	root.ref(features)
	root.ref(list)
	if variations != nil {
		root.far(variations)
	}
	return root
}

// lasting are features whose being there means something even without lookups: programs then take no other table for it.
var lasting = []string{"kern", "mark", "mkmk", "size", "aalt"}

// varied are the features that others take the place of somewhere in the design space.
func (t *table) varied() map[int]bool {
	out := map[int]bool{}
	if sfnt.Word(t.b, 2) >= 1 && t.fold == nil {
		t.variationsOf(func(feature int, _ []byte) { out[feature] = true })
	}
	return out
}

// stays says whether a feature is wanted.
func (t *table) stays(i int, tag string, varied map[int]bool) bool {
	return t.only == nil || t.only(tag) || varied[i]
}

// features is the list of those that stay, and the new number of each, -1 for one that goes.
func (t *table) features() (*node, []int) {
	list := sfnt.From(t.b, sfnt.Word(t.b, 6))
	n := &node{}
	count := min(sfnt.Word(list, 0), max(0, len(list)-2)/6)
	numbers := make([]int, count)
	n.u16(0)
	next := 0
	varied, instead := t.varied(), t.chosen()
	for i := range count {
		tag := string(list[2+6*i : 6+6*i])
		raw := sfnt.From(list, sfnt.Word(list, 2+6*i+4))
		if alternate := instead[i]; alternate != nil {
			raw = alternate
		}
		f := t.feature(raw, tag)
		if numbers[i] = -1; len(f.b) == 4 && !slices.Contains(lasting, tag) && !varied[i] || !t.stays(i, tag, varied) {
			continue
		}
		numbers[i] = next
		next++
		n.b = append(n.b, tag...)
		n.ref(f)
	}
	n.b[0], n.b[1] = byte(next>>8), byte(next)
	return n, numbers
}

// feature is one with the lookups that stay.
func (t *table) feature(b []byte, tag string) *node {
	n := &node{}
	n.ref(params(b, tag))
	n.u16(0)
	count := 0
	for k := range t.most(min(sfnt.Word(b, 2), max(0, len(b)-4)/2)) {
		if i := sfnt.Word(b, 4+2*k); i < len(t.lookups) && t.lookups[i] >= 0 {
			n.u16(t.lookups[i])
			count++
		}
	}
	n.b[2], n.b[3] = byte(count>>8), byte(count)
	return n
}

// most is a number of things that are looked at, 0 once there were too many.
func (c *Cut) most(n int) int {
	if c.much(n) {
		return 0
	}
	return n
}

// params are the parameters of a feature (OpenType, registered features: size, ss01 to ss20, cv01 to cv99).
func params(feature []byte, tag string) *node {
	at := sfnt.Word(feature, 0)
	b := sfnt.From(feature, at)
	size := 0
	switch {
	case at == 0 || len(tag) != 4:
	case tag == "size":
		size = 10
	case tag[:2] == "ss":
		size = 4
	case tag[:2] == "cv":
		size = 14 + 3*sfnt.Word(b, 12)
	}
	if size == 0 || size > len(b) {
		return nil
	}
	return &node{b: slices.Clone(b[:size])}
}

// scripts is the list of scripts and languages with the features that stay.
func (t *table) scripts(features []int) *node {
	list := sfnt.From(t.b, sfnt.Word(t.b, 4))
	n := &node{}
	count := min(sfnt.Word(list, 0), max(0, len(list)-2)/6)
	n.u16(count)
	system := func(b []byte) *node {
		l := &node{}
		required := 0xffff
		if r := sfnt.Word(b, 2); r < len(features) && features[r] >= 0 {
			required = features[r]
		}
		var own []int
		for k := range t.most(min(sfnt.Word(b, 4), max(0, len(b)-6)/2)) {
			if i := sfnt.Word(b, 6+2*k); i < len(features) && features[i] >= 0 {
				own = append(own, features[i])
			}
		}
		l.u16(0, required, len(own))
		l.u16(own...)
		return l
	}
	for i := range count {
		b := sfnt.From(list, sfnt.Word(list, 2+6*i+4))
		s := &node{}
		if at := sfnt.Word(b, 0); at != 0 {
			s.ref(system(sfnt.From(b, at)))
		} else {
			s.ref(nil)
		}
		languages := t.most(min(sfnt.Word(b, 2), max(0, len(b)-4)/6))
		s.u16(languages)
		for k := range languages {
			s.b = append(s.b, b[4+6*k:8+6*k]...)
			s.ref(system(sfnt.From(b, sfnt.Word(b, 4+6*k+4))))
		}
		n.b = append(n.b, list[2+6*i:6+6*i]...)
		n.ref(s)
	}
	return n
}

// mostVaried bounds the records of variations of features.
const mostVaried = 4096

// variationsOf hands over the features that take the place of others.
func (t *table) variationsOf(use func(feature int, alternate []byte)) {
	t.variationRecords(func(_, substitution []byte) {
		for k := range t.most(min(sfnt.Word(substitution, 4), max(0, len(substitution)-6)/6)) {
			use(sfnt.Word(substitution, 6+6*k), sfnt.From(substitution, int(u32(substitution, 6+6*k+2))))
		}
	})
}

// chosen are the features that take the place of others at the place that the font is pinned at: those of the first record whose
// conditions all hold.
func (t *table) chosen() map[int][]byte {
	out := map[int][]byte{}
	if t.fold == nil {
		return out
	}
	found := false
	t.variationRecords(func(conditions, substitution []byte) {
		if found || !t.hold(conditions) {
			return
		}
		found = true
		for k := range t.most(min(sfnt.Word(substitution, 4), max(0, len(substitution)-6)/6)) {
			out[sfnt.Word(substitution, 6+6*k)] = sfnt.From(substitution, int(u32(substitution, 6+6*k+2)))
		}
	})
	return out
}

// hold says whether the conditions of a set hold at the place (OpenType, ConditionSet).
func (t *table) hold(set []byte) bool {
	for i := range t.most(min(sfnt.Word(set, 0), max(0, len(set)-2)/4)) {
		c := sfnt.From(set, int(u32(set, 2+4*i)))
		axis := sfnt.Word(c, 2)
		if len(c) < 8 || sfnt.Word(c, 0) != 1 || axis >= len(t.place) {
			return false
		}
		if v := t.place[axis]; v < float64(i16(c, 4))/16384 || v > float64(i16(c, 6))/16384 {
			return false
		}
	}
	return true
}

func (t *table) variationRecords(use func(conditions, substitution []byte)) {
	if len(t.b) < 14 || sfnt.Word(t.b, 2) < 1 {
		return
	}
	at := u32(t.b, 10)
	b := sfnt.From(t.b, int(at))
	if at == 0 || len(b) < 8 {
		return
	}
	for i := range int(min(u32(b, 4), uint32(len(b)-8)/8, mostVaried)) {
		use(sfnt.From(b, int(u32(b, 8+8*i))), sfnt.From(b, int(u32(b, 8+8*i+4))))
	}
}

// variations is the table of features by places of a variable font (OpenType, FeatureVariations); nil if there is none.
func (t *table) variations(make func([]byte) *node) *node {
	n := &node{}
	n.u16(1, 0)
	n.u32(0)
	count := 0
	t.variationRecords(func(conditions, substitution []byte) {
		set := t.conditions(conditions)
		if set == nil {
			return
		}
		sub := &node{}
		k := t.most(min(sfnt.Word(substitution, 4), max(0, len(substitution)-6)/6))
		sub.u16(1, 0, k)
		for i := range k {
			sub.u16(sfnt.Word(substitution, 6+6*i))
			sub.far(make(sfnt.From(substitution, int(u32(substitution, 6+6*i+2)))))
		}
		n.far(set)
		n.far(sub)
		count++
	})
	if count == 0 {
		return nil
	}
	n.b[6], n.b[7] = byte(count>>8), byte(count)
	return n
}

// conditions is a set of conditions that stays; nil for one that never holds in the new design space.
func (t *table) conditions(b []byte) *node {
	set := &node{}
	set.u16(0)
	count := 0
	for i := range t.most(min(sfnt.Word(b, 0), max(0, len(b)-2)/4)) {
		c := sfnt.From(b, int(u32(b, 2+4*i)))
		var one *node
		if len(c) >= 8 {
			one = &node{b: slices.Clone(c[:8])}
		}
		if t.space != nil {
			holds := false
			if one, holds = t.space.condition(c); !holds {
				return nil
			}
			if one == nil {
				continue
			}
		}
		set.far(one)
		count++
	}
	set.b[0], set.b[1] = byte(count>>8), byte(count)
	return set
}

// renumber gives the features that variations replace their new numbers.
func (t *table) renumber(variations *node, features []int) {
	for i, l := range variations.links {
		if i%2 == 0 {
			continue // conditions
		}
		sub := l.to
		for k := 6; k+6 <= len(sub.b); k += 6 {
			if old := sfnt.Word(sub.b, k); old < len(features) {
				new := max(0, features[old])
				sub.b[k], sub.b[k+1] = byte(new>>8), byte(new)
			}
		}
	}
}

// byNew sorts pairs by their first number.
func byNew[T any](list []T, of func(T) int) {
	slices.SortFunc(list, func(a, b T) int { return cmp.Compare(of(a), of(b)) })
}
