package sfnt

import (
	"slices"
	"sort"
)

// A Kerning is how much closer or farther a face sets two glyphs (OpenType, GPOS: the feature
// kern, pair adjustment; else the table kern, format 0). It is safe for use by several
// goroutines. Lookups are bounded by the tables; what does not hold answers with 0.
type Kerning struct {
	scripts []pairLookups // from GPOS: Latin first, then the default, then the others
	pairs   []byte        // of the table kern, 6 bytes each
}

// pairLookups are those of the feature kern in one script, in order.
type pairLookups [][]pairSubtable

// pairSubtable is a subtable of a lookup of type 2, from its start to the table's end.
type pairSubtable struct {
	b      []byte
	format uint16
	cover  []byte
	// Sizes of value records, and where the advance stands in the first; -1 for nowhere.
	first, second, advance int
}

// Bounds of what is looked through in a face.
const (
	maxKernLookups   = 64
	maxKernSubtables = 512
)

// Kerning reads what pairs need; nil for a face without.
func (f *Font) Kerning() *Kerning {
	k := &Kerning{}
	if b, err := f.Table("GPOS"); err == nil {
		k.readGPOS(b)
	}
	if len(k.scripts) > 0 {
		return k
	}
	if b, err := f.Table("kern"); err == nil {
		k.readKern(b)
	}
	if len(k.pairs) == 0 {
		return nil
	}
	return k
}

// from is a table from an offset on, nil beyond its end.
func from(b []byte, at int) []byte {
	if at < 0 || at > len(b) {
		return nil
	}
	return b[at:]
}

// word is the number at a place, 0 beyond the end.
func word(b []byte, at int) int {
	if at < 0 || at+2 > len(b) {
		return 0
	}
	return int(u16(b, at))
}

// readGPOS finds the lookups of the feature kern: those of each script, in its default language. A
// face has several scripts' pairs in one lookup, apart, or in each script again.
func (k *Kerning) readGPOS(b []byte) {
	features, all := from(b, word(b, 6)), from(b, word(b, 8))
	left := maxKernSubtables
	for _, script := range scriptsOf(b) {
		var lookups []int
		for _, i := range kernFeatures(script, features) {
			f := from(features, word(features, 2+6*i+4))
			for n := range min(word(f, 2), maxKernLookups) {
				lookups = append(lookups, word(f, 4+2*n))
			}
		}
		slices.Sort(lookups)
		var list pairLookups
		for _, i := range slices.Compact(lookups) {
			if i >= word(all, 0) || len(list) >= maxKernLookups {
				continue
			}
			if subs := pairSubtables(from(all, word(all, 2+2*i)), &left); len(subs) > 0 {
				list = append(list, subs)
			}
		}
		if len(list) > 0 {
			k.scripts = append(k.scripts, list)
		}
	}
}

// scriptsOf are the tables of the scripts, Latin's first, then the default.
func scriptsOf(b []byte) [][]byte {
	scripts := from(b, word(b, 4))
	var first, second, others [][]byte
	for i := range min(word(scripts, 0), maxKernLookups) {
		name, script := from(scripts, 2+6*i), from(scripts, word(scripts, 2+6*i+4))
		switch {
		case len(name) < 6:
		case string(name[:4]) == "latn":
			first = append(first, script)
		case string(name[:4]) == "DFLT":
			second = append(second, script)
		default:
			others = append(others, script)
		}
	}
	return append(append(first, second...), others...)
}

// kernFeatures are the indexes of the features called kern in a script's default language.
func kernFeatures(script, features []byte) []int {
	at := word(script, 0)
	if at == 0 {
		return nil
	}
	system := from(script, at)
	var out []int
	for n := range min(word(system, 4), maxKernSubtables) {
		f := word(system, 6+2*n)
		if name := from(features, 2+6*f); f < word(features, 0) && len(name) >= 4 && string(name[:4]) == "kern" {
			out = append(out, f)
		}
	}
	return out
}

// pairSubtables are those of one lookup; left is how many more are looked at in all.
func pairSubtables(lookup []byte, left *int) []pairSubtable {
	kind := word(lookup, 0)
	var out []pairSubtable
	for i := range word(lookup, 4) {
		if *left--; *left < 0 {
			break
		}
		sub, is := from(lookup, word(lookup, 6+2*i)), kind
		if is == 9 && len(sub) >= 8 { // an extension: the subtable is farther away
			is, sub = word(sub, 2), from(sub, int(u32(sub, 4)))
		}
		if is != 2 || len(sub) < 10 {
			continue
		}
		p := pairSubtable{b: sub, format: u16(sub, 0), cover: from(sub, word(sub, 2)), advance: -1}
		form1, form2 := word(sub, 4), word(sub, 6)
		p.first, p.second = 2*ones(form1), 2*ones(form2)
		if form1&4 != 0 {
			p.advance = 2 * ones(form1&3)
		}
		out = append(out, p)
	}
	return out
}

// ones is how many bits of a value format are set: each is a number in the record.
func ones(v int) int {
	n := 0
	for ; v != 0; v &= v - 1 {
		n++
	}
	return n
}

// Between is what is added to the advance of the left glyph, in font units: by the first script that
// says anything of the pair.
func (k *Kerning) Between(left, right int) int {
	if k == nil {
		return 0
	}
	for _, lookups := range k.scripts {
		if v, ok := lookups.between(left, right); ok {
			return v
		}
	}
	n := len(k.pairs) / 6
	key := uint32(left)<<16 | uint32(right)
	i := sort.Search(n, func(i int) bool { return u32(k.pairs, 6*i) >= key })
	if i < n && u32(k.pairs, 6*i) == key {
		return int(i16(k.pairs, 6*i+4))
	}
	return 0
}

// Starts says whether any pair begins with a glyph.
func (k *Kerning) Starts(left int) bool {
	if k == nil {
		return false
	}
	for _, lookups := range k.scripts {
		for _, subs := range lookups {
			for i := range subs {
				if _, ok := covered(subs[i].cover, left); ok {
					return true
				}
			}
		}
	}
	n := len(k.pairs) / 6
	i := sort.Search(n, func(i int) bool { return word(k.pairs, 6*i) >= left })
	return i < n && word(k.pairs, 6*i) == left
}

// between adds up the lookups: of each the first subtable counts that says anything.
func (lookups pairLookups) between(left, right int) (sum int, ok bool) {
	for _, subs := range lookups {
		for i := range subs {
			if v, says := subs[i].value(left, right); says {
				sum, ok = sum+v, true
				break
			}
		}
	}
	return sum, ok
}

// value is what a subtable says of a pair; false if it says nothing.
func (p *pairSubtable) value(left, right int) (int, bool) {
	at, ok := covered(p.cover, left)
	if !ok {
		return 0, false
	}
	read := func(record []byte) int {
		if p.advance < 0 || len(record) < p.first {
			return 0
		}
		return int(i16(record, p.advance))
	}
	switch p.format {
	case 1:
		if at >= word(p.b, 8) {
			return 0, false
		}
		set := from(p.b, word(p.b, 10+2*at))
		size := 2 + p.first + p.second
		n := min(word(set, 0), (len(set)-2)/size)
		i := sort.Search(n, func(i int) bool { return word(set, 2+i*size) >= right })
		if i >= n || word(set, 2+i*size) != right {
			return 0, false
		}
		return read(set[2+i*size+2:]), true
	case 2:
		if len(p.b) < 16 {
			return 0, false
		}
		one, two := classOf(from(p.b, word(p.b, 8)), left), classOf(from(p.b, word(p.b, 10)), right)
		if one >= word(p.b, 12) || two >= word(p.b, 14) {
			return 0, false
		}
		return read(from(p.b, 16+(one*word(p.b, 14)+two)*(p.first+p.second))), true
	}
	return 0, false
}

// covered is a glyph's place in a coverage table.
func covered(b []byte, glyph int) (int, bool) {
	n := word(b, 2)
	switch word(b, 0) {
	case 1:
		n = min(n, (len(b)-4)/2)
		i := sort.Search(n, func(i int) bool { return word(b, 4+2*i) >= glyph })
		return i, i < n && word(b, 4+2*i) == glyph
	case 2:
		n = min(n, (len(b)-4)/6)
		i := sort.Search(n, func(i int) bool { return word(b, 4+6*i+2) >= glyph })
		if i < n && word(b, 4+6*i) <= glyph {
			return word(b, 4+6*i+4) + glyph - word(b, 4+6*i), true
		}
	}
	return 0, false
}

// classOf is a glyph's class, 0 where none is said.
func classOf(b []byte, glyph int) int {
	switch word(b, 0) {
	case 1:
		if i := glyph - word(b, 2); i >= 0 && i < word(b, 4) {
			return word(b, 6+2*i)
		}
	case 2:
		n := min(word(b, 2), max(0, len(b)-4)/6)
		i := sort.Search(n, func(i int) bool { return word(b, 4+6*i+2) >= glyph })
		if i < n && word(b, 4+6*i) <= glyph {
			return word(b, 4+6*i+4)
		}
	}
	return 0
}

// readKern takes the pairs of the first level table of format 0.
func (k *Kerning) readKern(b []byte) {
	if word(b, 0) != 0 {
		return // Apple's form has another head
	}
	at := 4
	for range min(word(b, 2), maxKernLookups) {
		if len(b) < at+14 {
			return
		}
		length, cover := word(b, at+2), word(b, at+4)
		if cover&0xff07 == 1 { // format 0, level, neither least values nor across
			n := min(word(b, at+6), (len(b)-at-14)/6)
			k.pairs = b[at+14 : at+14+6*n]
			return
		}
		at += max(length, 6)
	}
}
