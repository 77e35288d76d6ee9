package trim

import (
	"encoding/binary"
	"slices"

	"notaria/internal/fault"
	"notaria/internal/layout"
	"notaria/internal/sfnt"
)

// Outlines of CFF (Adobe Technical Notes 5176, the format, and 5177, the charstrings).

// Operators of its dictionaries; those of two bytes have 12 in front.
const (
	dictEncoding   = 16
	dictCharset    = 15
	dictGlyphs     = 17
	dictPrivate    = 18
	dictSubrs      = 19
	dictUnique     = 13
	dictXUnique    = 12<<8 | 14
	dictKind       = 12<<8 | 6
	dictCollection = 12<<8 | 30
	dictFonts      = 12<<8 | 36
	dictSelect     = 12<<8 | 37
)

// named are the operators whose operands are names: numbers of strings.
var named = map[int]int{0: 1, 1: 1, 2: 1, 3: 1, 4: 1, 12 << 8: 1, 12<<8 | 21: 1, 12<<8 | 22: 1, 12<<8 | 38: 1, dictCollection: 2}

// ownStrings is the number of the first string that a font has itself (5176, appendix A).
const ownStrings = 391

// A cffEntry is one of a dictionary: its operands as they are written, and as whole numbers.
type cffEntry struct {
	op      int
	raw     []byte
	numbers []int
}

// A cffFont is one of a CFF table: the only one, or one of the list (FDArray).
type cffFont struct {
	dict, private []cffEntry
	local         [][]byte
}

// A cffTable is a table that was read.
type cffTable struct {
	b       []byte
	name    []byte // the index as it is
	top     []cffEntry
	strings [][]byte
	global  [][]byte
	glyphs  [][]byte
	charset []int
	fonts   []cffFont
	which   []int // the font of each glyph
	cid     bool
}

func badCFF(what string) error {
	return fault.Form("table CFF: expected %s, found another form", what)
}

// cffIndex reads a list of byte strings (5176, 5), and where it ends.
func cffIndex(b []byte, at int) (list [][]byte, end int, err error) {
	if at < 0 || at+2 > len(b) {
		return nil, 0, badCFF("a list inside of the table")
	}
	count := sfnt.Word(b, at)
	if count == 0 {
		return nil, at + 2, nil
	}
	if at+3 > len(b) {
		return nil, 0, badCFF("a list inside of the table")
	}
	size := int(b[at+2])
	base := at + 3 + size*(count+1)
	if size < 1 || size > 4 || base > len(b) {
		return nil, 0, badCFF("a list inside of the table")
	}
	place := func(i int) int {
		v := 0
		for _, x := range b[at+3+size*i:][:size] {
			v = v<<8 | int(x)
		}
		return base - 1 + v
	}
	for i := range count {
		from, to := place(i), place(i+1)
		if from < base || from > to || to > len(b) {
			return nil, 0, badCFF("a list inside of the table")
		}
		list = append(list, b[from:to])
	}
	return list, place(count), nil
}

// cffDict reads a dictionary (5176, 4).
func cffDict(b []byte) (list []cffEntry, err error) {
	from := 0
	var numbers []int
	for at := 0; at < len(b); {
		switch v := b[at]; {
		case v <= 21:
			op, end := int(v), at+1
			if v == 12 {
				if at+1 >= len(b) {
					return nil, badCFF("an operator of a dictionary")
				}
				op, end = 12<<8|int(b[at+1]), at+2
			}
			list = append(list, cffEntry{op, b[from:at], numbers})
			at, from, numbers = end, end, nil
		case v == 28 && at+3 <= len(b):
			numbers = append(numbers, int(int16(binary.BigEndian.Uint16(b[at+1:]))))
			at += 3
		case v == 29 && at+5 <= len(b):
			numbers = append(numbers, int(int32(binary.BigEndian.Uint32(b[at+1:]))))
			at += 5
		case v == 30: // a real number, in nibbles
			at++
			for at < len(b) && b[at]&15 != 15 && b[at]>>4 != 15 {
				at++
			}
			at++
			numbers = append(numbers, 0)
		case v >= 32 && v <= 246:
			numbers = append(numbers, int(v)-139)
			at++
		case v >= 247 && v <= 250 && at+2 <= len(b):
			numbers = append(numbers, (int(v)-247)*256+int(b[at+1])+108)
			at += 2
		case v >= 251 && v <= 254 && at+2 <= len(b):
			numbers = append(numbers, -(int(v)-251)*256-int(b[at+1])-108)
			at += 2
		default:
			return nil, badCFF("a number of a dictionary")
		}
	}
	return list, nil
}

func number(list []cffEntry, op, i int) (int, bool) {
	for _, e := range list {
		if e.op == op && i < len(e.numbers) {
			return e.numbers[i], true
		}
	}
	return 0, false
}

// readCFF reads a table with one set of glyphs.
func readCFF(b []byte) (*cffTable, error) {
	t := &cffTable{b: b}
	if len(b) < 4 || b[0] != 1 {
		return nil, badCFF("version 1")
	}
	_, end, err := cffIndex(b, int(b[2]))
	if err != nil {
		return nil, err
	}
	t.name = b[b[2]:end]
	tops, end, err := cffIndex(b, end)
	if err != nil || len(tops) != 1 {
		return nil, badCFF("one font")
	}
	if t.strings, end, err = cffIndex(b, end); err != nil {
		return nil, err
	}
	if t.global, _, err = cffIndex(b, end); err != nil {
		return nil, err
	}
	if t.top, err = cffDict(tops[0]); err != nil {
		return nil, err
	}
	if kind, ok := number(t.top, dictKind, 0); ok && kind != 2 {
		return nil, badCFF("charstrings of type 2")
	}
	at, _ := number(t.top, dictGlyphs, 0)
	if t.glyphs, _, err = cffIndex(b, at); err != nil {
		return nil, err
	}
	_, t.cid = number(t.top, dictCollection, 0)
	if err := t.readFonts(); err != nil {
		return nil, err
	}
	return t, t.readCharset()
}

// readFonts reads the private dictionaries, and which glyph has which.
func (t *cffTable) readFonts() error {
	t.which = make([]int, len(t.glyphs))
	at, listed := number(t.top, dictFonts, 0)
	if !listed {
		f := cffFont{dict: t.top}
		if err := f.readPrivate(t.b); err != nil {
			return err
		}
		t.fonts = []cffFont{f}
		return nil
	}
	list, _, err := cffIndex(t.b, at)
	if err != nil {
		return err
	}
	for _, d := range list {
		f := cffFont{}
		if f.dict, err = cffDict(d); err != nil {
			return err
		}
		if err := f.readPrivate(t.b); err != nil {
			return err
		}
		t.fonts = append(t.fonts, f)
	}
	at, _ = number(t.top, dictSelect, 0)
	b := sfnt.From(t.b, at)
	switch {
	case len(b) > len(t.glyphs) && b[0] == 0:
		for g := range t.glyphs {
			t.which[g] = int(b[1+g])
		}
	case len(b) > 5 && b[0] == 3:
		for i := range min(sfnt.Word(b, 1), (len(b)-5)/3) {
			for g := sfnt.Word(b, 3+3*i); g < min(sfnt.Word(b, 6+3*i), len(t.which)); g++ {
				t.which[g] = int(b[5+3*i])
			}
		}
	default:
		return badCFF("a choice of fonts of format 0 or 3")
	}
	if slices.ContainsFunc(t.which, func(f int) bool { return f >= len(t.fonts) }) {
		return badCFF("glyphs of the fonts that are there")
	}
	return nil
}

func (f *cffFont) readPrivate(b []byte) (err error) {
	size, ok := number(f.dict, dictPrivate, 0)
	at, _ := number(f.dict, dictPrivate, 1)
	if !ok || size == 0 {
		return nil
	}
	if at < 0 || size < 0 || at+size > len(b) {
		return badCFF("a private dictionary inside of the table")
	}
	if f.private, err = cffDict(b[at : at+size]); err != nil {
		return err
	}
	if subrs, ok := number(f.private, dictSubrs, 0); ok {
		f.local, _, err = cffIndex(b, at+subrs)
	}
	return err
}

// readCharset reads the name, or the identifier, of each glyph (5176, 13).
func (t *cffTable) readCharset() error {
	t.charset = make([]int, len(t.glyphs))
	at, _ := number(t.top, dictCharset, 0)
	if at <= 2 {
		for g := range t.charset {
			t.charset[g] = g
		}
		if at > 0 || len(t.glyphs) > 229 && !t.cid {
			return badCFF("names of its own glyphs")
		}
		return nil
	}
	b := sfnt.From(t.b, at)
	if len(b) == 0 {
		return badCFF("names of glyphs inside of the table")
	}
	g, wide := 1, 1
	switch b[0] {
	case 0:
		for ; g < len(t.charset); g++ {
			t.charset[g] = sfnt.Word(b, 2*g-1)
		}
		return nil
	case 2:
		wide = 2
	case 1:
	default:
		return badCFF("names of glyphs in a format from 0 to 2")
	}
	for at := 1; g < len(t.charset) && at+2+wide <= len(b); at += 2 + wide {
		first, left := sfnt.Word(b, at), int(b[at+2])
		if wide == 2 {
			left = sfnt.Word(b, at+2)
		}
		for i := 0; i <= left && g < len(t.charset); i++ {
			t.charset[g] = first + i
			g++
		}
	}
	return nil
}

// postscript writes the table CFF for the glyphs that stay.
func postscript(cut *layout.Cut, b []byte) ([]byte, error) {
	t, err := readCFF(b)
	if err != nil {
		return nil, err
	}
	return t.cut(cut)
}

func (t *cffTable) cut(cut *layout.Cut) ([]byte, error) {
	programs, err := t.programs(cut.Kept())
	if err != nil {
		return nil, err
	}
	return t.write(cut.Kept(), programs)
}

// index is a list of byte strings.
func cffList(list [][]byte) []byte {
	out := binary.BigEndian.AppendUint16(nil, uint16(len(list)))
	if len(list) == 0 {
		return out
	}
	total := 1
	for _, x := range list {
		total += len(x)
	}
	size := 1
	for v := total >> 8; v > 0; v >>= 8 {
		size++
	}
	out = append(out, byte(size))
	at := 1
	put := func() {
		for i := size - 1; i >= 0; i-- {
			out = append(out, byte(at>>(8*i)))
		}
	}
	put()
	for _, x := range list {
		at += len(x)
		put()
	}
	for _, x := range list {
		out = append(out, x...)
	}
	return out
}

// A names gives strings their new numbers.
type cffNames struct {
	t       *cffTable
	numbers map[int]int
	list    [][]byte
}

func (n *cffNames) number(old int) int {
	if old < ownStrings || old-ownStrings >= len(n.t.strings) {
		return old
	}
	v, ok := n.numbers[old]
	if !ok {
		v = ownStrings + len(n.list)
		n.numbers[old] = v
		n.list = append(n.list, n.t.strings[old-ownStrings])
	}
	return v
}

// appendNumber writes a whole number of a dictionary; wide ones have five bytes whatever they are.
func appendNumber(out []byte, v int, wide bool) []byte {
	switch {
	case wide || v < -1<<15 || v >= 1<<15:
		return binary.BigEndian.AppendUint32(append(out, 29), uint32(v))
	case v >= -107 && v <= 107:
		return append(out, byte(v+139))
	}
	return binary.BigEndian.AppendUint16(append(out, 28), uint16(v))
}

func appendOperator(out []byte, op int) []byte {
	if op >= 12<<8 {
		out = append(out, 12)
	}
	return append(out, byte(op))
}

// dict writes a dictionary: names have their new numbers, and places is what is written for those of other parts.
func (n *cffNames) dict(list []cffEntry, places map[int][]int) []byte {
	var out []byte
	for _, e := range list {
		if v, ok := places[e.op]; ok {
			for _, x := range v {
				out = appendNumber(out, x, true)
			}
			if v == nil {
				continue
			}
			out = appendOperator(out, e.op)
			continue
		}
		if k := named[e.op]; k > 0 && len(e.numbers) >= k {
			for i, v := range e.numbers {
				if i < k {
					v = n.number(v)
				}
				out = appendNumber(out, v, false)
			}
		} else {
			out = append(out, e.raw...)
		}
		out = appendOperator(out, e.op)
	}
	return out
}

// write puts the parts together: their places are numbers of a fixed length, so that one pass finds them.
func (t *cffTable) write(kept []int, p *cffPrograms) ([]byte, error) {
	names := &cffNames{t: t, numbers: map[int]int{}}
	var used []int // fonts of the list that stay
	numbers := map[int]int{}
	for _, g := range kept {
		if f := t.which[g]; numbers[f] == 0 {
			used = append(used, f)
			numbers[f] = len(used)
		}
	}
	gone := map[int][]int{dictEncoding: nil, dictUnique: nil, dictXUnique: nil}
	place := func(more map[int][]int) map[int][]int {
		for op, v := range gone {
			more[op] = v
		}
		return more
	}
	charset := t.charsetOf(kept, names)
	top := func(charset, glyphs, fonts, choice, private, size int) []byte {
		if t.cid {
			return names.dict(t.top, place(map[int][]int{dictCharset: {charset}, dictGlyphs: {glyphs}, dictFonts: {fonts}, dictSelect: {choice}}))
		}
		return names.dict(t.withCharset(), place(map[int][]int{dictCharset: {charset}, dictGlyphs: {glyphs}, dictPrivate: {size, private}}))
	}
	fontDict := func(f, size, at int) []byte {
		return names.dict(t.fonts[f].dict, place(map[int][]int{dictPrivate: {size, at}}))
	}
	if t.cid {
		for _, f := range used { // so that all names have their numbers
			fontDict(f, 0, 0)
		}
	}
	first := top(0, 0, 0, 0, 0, 0)
	out := append([]byte{1, 0, 4, 4}, t.name...)
	topAt := len(out)
	out = append(out, cffList([][]byte{first})...)
	out = append(out, cffList(names.list)...)
	out = append(out, cffList(p.global)...)
	charsetAt := len(out)
	out = append(out, charset...)
	choiceAt, fontsAt := len(out), 0
	if t.cid {
		out = append(out, choice(t, kept, numbers)...)
	}
	glyphsAt := len(out)
	out = append(out, cffList(p.glyphs)...)
	var privates [][2]int
	for _, f := range used {
		private := names.dict(t.fonts[f].private, place(map[int][]int{dictSubrs: nil}))
		if len(p.local[f]) > 0 {
			private = appendOperator(appendNumber(private, len(private)+6, true), dictSubrs)
		}
		privates = append(privates, [2]int{len(private), len(out)})
		out = append(out, private...)
		if len(p.local[f]) > 0 {
			out = append(out, cffList(p.local[f])...)
		}
	}
	if t.cid {
		fontsAt = len(out)
		var dicts [][]byte
		for i, f := range used {
			dicts = append(dicts, fontDict(f, privates[i][0], privates[i][1]))
		}
		out = append(out, cffList(dicts)...)
		privates = [][2]int{{0, 0}}
	}
	last := top(charsetAt, glyphsAt, fontsAt, choiceAt, privates[0][1], privates[0][0])
	if len(last) != len(first) {
		return nil, badCFF("a dictionary whose length is known")
	}
	copy(out[topAt:], cffList([][]byte{last}))
	return out, nil
}

// withCharset is the top dictionary with a place for the names of glyphs, which it can leave out.
func (t *cffTable) withCharset() []cffEntry {
	if _, there := number(t.top, dictCharset, 0); there {
		return t.top
	}
	return append(slices.Clone(t.top), cffEntry{op: dictCharset, numbers: []int{0}})
}

// charsetOf are the names, or identifiers, of the glyphs that stay, in the shortest format.
func (t *cffTable) charsetOf(kept []int, names *cffNames) []byte {
	var list []int
	for _, g := range kept[1:] {
		v := t.charset[g]
		if !t.cid {
			v = names.number(v)
		}
		list = append(list, v)
	}
	plain := []byte{0}
	for _, v := range list {
		plain = binary.BigEndian.AppendUint16(plain, uint16(v))
	}
	runs := []byte{2}
	for i := 0; i < len(list); {
		n := 1
		for i+n < len(list) && list[i+n] == list[i]+n {
			n++
		}
		runs = binary.BigEndian.AppendUint16(binary.BigEndian.AppendUint16(runs, uint16(list[i])), uint16(n-1))
		i += n
	}
	if len(runs) < len(plain) {
		return runs
	}
	return plain
}

// choice is which glyph has which font (format 3).
func choice(t *cffTable, kept []int, numbers map[int]int) []byte {
	var runs []byte
	n := 0
	for i, g := range kept {
		if i == 0 || t.which[g] != t.which[kept[i-1]] {
			runs = append(binary.BigEndian.AppendUint16(runs, uint16(i)), byte(numbers[t.which[g]]-1))
			n++
		}
	}
	out := append(binary.BigEndian.AppendUint16([]byte{3}, uint16(n)), runs...)
	return binary.BigEndian.AppendUint16(out, uint16(len(kept)))
}

// vertical is VORG for the glyphs that stay (OpenType, VORG).
func vertical(cut *layout.Cut, b []byte) ([]byte, error) {
	if len(b) < 8 {
		return nil, fault.Form("table VORG: expected 8 bytes, found %d", len(b))
	}
	out := slices.Clone(b[:8])
	n := 0
	for i := range min(sfnt.Word(b, 6), (len(b)-8)/4) {
		if g := cut.New(sfnt.Word(b, 8+4*i)); g >= 0 {
			out = binary.BigEndian.AppendUint16(out, uint16(g))
			out = append(out, b[10+4*i:12+4*i]...)
			n++
		}
	}
	binary.BigEndian.PutUint16(out[6:], uint16(n))
	return out, nil
}
