package layout

import (
	"encoding/binary"
	"slices"
	"sort"

	"notaria/internal/sfnt"
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
	mostKernLookups   = 64
	mostKernSubtables = 512
)

// NewKerning reads what pairs need; nil for a face without.
func NewKerning(f *sfnt.Font) *Kerning {
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

// readGPOS finds the lookups of the feature kern: those of each script, in its default language. A
// face has several scripts' pairs in one lookup, apart, or in each script again.
func (k *Kerning) readGPOS(b []byte) {
	features, all := sfnt.From(b, sfnt.Word(b, 6)), sfnt.From(b, sfnt.Word(b, 8))
	left := mostKernSubtables
	for _, script := range scriptsOf(b) {
		var lookups []int
		for _, i := range kernFeatures(script, features) {
			f := sfnt.From(features, sfnt.Word(features, 2+6*i+4))
			for n := range min(sfnt.Word(f, 2), mostKernLookups) {
				lookups = append(lookups, sfnt.Word(f, 4+2*n))
			}
		}
		slices.Sort(lookups)
		var list pairLookups
		for _, i := range slices.Compact(lookups) {
			if i >= sfnt.Word(all, 0) || len(list) >= mostKernLookups {
				continue
			}
			if subs := pairSubtables(sfnt.From(all, sfnt.Word(all, 2+2*i)), &left); len(subs) > 0 {
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
	scripts := sfnt.From(b, sfnt.Word(b, 4))
	var first, second, others [][]byte
	for i := range min(sfnt.Word(scripts, 0), mostKernLookups) {
		name, script := sfnt.From(scripts, 2+6*i), sfnt.From(scripts, sfnt.Word(scripts, 2+6*i+4))
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
	at := sfnt.Word(script, 0)
	if at == 0 {
		return nil
	}
	system := sfnt.From(script, at)
	var out []int
	for n := range min(sfnt.Word(system, 4), mostKernSubtables) {
		f := sfnt.Word(system, 6+2*n)
		if name := sfnt.From(features, 2+6*f); f < sfnt.Word(features, 0) && len(name) >= 4 && string(name[:4]) == "kern" {
			out = append(out, f)
		}
	}
	return out
}

// pairSubtables are those of one lookup; left is how many more are looked at in all.
func pairSubtables(lookup []byte, left *int) []pairSubtable {
	kind := sfnt.Word(lookup, 0)
	var out []pairSubtable
	for i := range sfnt.Word(lookup, 4) {
		if *left--; *left < 0 {
			break
		}
		sub, is := sfnt.From(lookup, sfnt.Word(lookup, 6+2*i)), kind
		if is == 9 && len(sub) >= 8 { // an extension: the subtable is farther away
			is, sub = sfnt.Word(sub, 2), sfnt.From(sub, int(u32(sub, 4)))
		}
		if is != 2 || len(sub) < 10 {
			continue
		}
		p := pairSubtable{b: sub, format: u16(sub, 0), cover: sfnt.From(sub, sfnt.Word(sub, 2)), advance: -1}
		form1, form2 := sfnt.Word(sub, 4), sfnt.Word(sub, 6)
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
	i := sort.Search(n, func(i int) bool { return sfnt.Word(k.pairs, 6*i) >= left })
	return i < n && sfnt.Word(k.pairs, 6*i) == left
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
		if at >= sfnt.Word(p.b, 8) {
			return 0, false
		}
		set := sfnt.From(p.b, sfnt.Word(p.b, 10+2*at))
		size := 2 + p.first + p.second
		n := min(sfnt.Word(set, 0), (len(set)-2)/size)
		i := sort.Search(n, func(i int) bool { return sfnt.Word(set, 2+i*size) >= right })
		if i >= n || sfnt.Word(set, 2+i*size) != right {
			return 0, false
		}
		return read(set[2+i*size+2:]), true
	case 2:
		if len(p.b) < 16 {
			return 0, false
		}
		one, two := classOf(sfnt.From(p.b, sfnt.Word(p.b, 8)), left), classOf(sfnt.From(p.b, sfnt.Word(p.b, 10)), right)
		if one >= sfnt.Word(p.b, 12) || two >= sfnt.Word(p.b, 14) {
			return 0, false
		}
		return read(sfnt.From(p.b, 16+(one*sfnt.Word(p.b, 14)+two)*(p.first+p.second))), true
	}
	return 0, false
}

// covered is a glyph's place in a coverage table.
func covered(b []byte, glyph int) (int, bool) {
	n := sfnt.Word(b, 2)
	switch sfnt.Word(b, 0) {
	case 1:
		n = min(n, (len(b)-4)/2)
		i := sort.Search(n, func(i int) bool { return sfnt.Word(b, 4+2*i) >= glyph })
		return i, i < n && sfnt.Word(b, 4+2*i) == glyph
	case 2:
		n = min(n, (len(b)-4)/6)
		i := sort.Search(n, func(i int) bool { return sfnt.Word(b, 4+6*i+2) >= glyph })
		if i < n && sfnt.Word(b, 4+6*i) <= glyph {
			return sfnt.Word(b, 4+6*i+4) + glyph - sfnt.Word(b, 4+6*i), true
		}
	}
	return 0, false
}

// classOf is a glyph's class, 0 where none is said.
func classOf(b []byte, glyph int) int {
	switch sfnt.Word(b, 0) {
	case 1:
		if i := glyph - sfnt.Word(b, 2); i >= 0 && i < sfnt.Word(b, 4) {
			return sfnt.Word(b, 6+2*i)
		}
	case 2:
		n := min(sfnt.Word(b, 2), max(0, len(b)-4)/6)
		i := sort.Search(n, func(i int) bool { return sfnt.Word(b, 4+6*i+2) >= glyph })
		if i < n && sfnt.Word(b, 4+6*i) <= glyph {
			return sfnt.Word(b, 4+6*i+4)
		}
	}
	return 0
}

// readKern takes the pairs of the first level table of format 0.
func (k *Kerning) readKern(b []byte) {
	if sfnt.Word(b, 0) != 0 {
		return // Apple's form has another head
	}
	at := 4
	for range min(sfnt.Word(b, 2), mostKernLookups) {
		if len(b) < at+14 {
			return
		}
		length, cover := sfnt.Word(b, at+2), sfnt.Word(b, at+4)
		if cover&0xff07 == 1 { // format 0, level, neither least values nor across
			n := min(sfnt.Word(b, at+6), (len(b)-at-14)/6)
			k.pairs = b[at+14 : at+14+6*n]
			return
		}
		at += max(length, 6)
	}
}

func u16(b []byte, i int) uint16 { return binary.BigEndian.Uint16(b[i:]) }
func i16(b []byte, i int) int16  { return int16(binary.BigEndian.Uint16(b[i:])) }
func u32(b []byte, i int) uint32 { return binary.BigEndian.Uint32(b[i:]) }
