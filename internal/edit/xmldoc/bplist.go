package xmldoc

import (
	"bytes"
	"encoding/binary"
	"errors"
	"fmt"
	"slices"
	"unicode/utf16"

	"notaria/internal/edit"
	"notaria/internal/fault"
)

// Binary property lists ("bplist00", CFBinaryPList.c of Core Foundation): a
// magic, objects one after the other, a table of their offsets, and a trailer of
// 32 bytes. Objects refer to each other by their number.
//
// Notaria adds objects behind those that are there and takes them off again, so
// that all others keep their number, their order and their bytes.
const (
	binaryMagic   = "bplist00"
	binaryTrailer = 32
	binaryObjects = 1 << 20 // how many objects a manifest may have
)

func isBinaryPlist(doc []byte) bool { return bytes.HasPrefix(doc, []byte("bplist")) }

// Kinds of objects, the high four bits of their first byte.
const (
	binaryASCII = 0x5
	binaryUTF16 = 0x6
	binaryList  = 0xA
	binarySet   = 0xC
	binaryDict  = 0xD
)

// binaryObject is an object as it stands; lists and dictionaries are taken apart
// into the numbers that they refer to, a dictionary's keys before its values.
type binaryObject struct {
	raw  []byte
	kind byte
	refs []int
	lone bool // nothing leads to it: some writers leave such objects, and they stay
}

type binaryPlist struct {
	file    string
	objects []binaryObject
	top     int
	head    []byte // of the trailer: unused bytes and the sort version
}

// parseBinaryPlist takes a binary property list apart. One that would not be
// written again byte by byte the same is refused.
func parseBinaryPlist(file string, doc []byte) (*binaryPlist, error) {
	fail := func(found string) (*binaryPlist, error) {
		return nil, &fault.Error{File: file, Expected: "a binary property list as the platform's own tools write it", Found: found,
			Cure: "convert it with plutil -convert xml1, then register again"}
	}
	if len(doc) < len(binaryMagic)+binaryTrailer || string(doc[:len(binaryMagic)]) != binaryMagic {
		return fail("another form")
	}
	t := doc[len(doc)-binaryTrailer:]
	offsetSize, refSize := int(t[6]), int(t[7])
	count, top, table := binary.BigEndian.Uint64(t[8:]), binary.BigEndian.Uint64(t[16:]), binary.BigEndian.Uint64(t[24:])
	end := uint64(len(doc) - binaryTrailer)
	if count == 0 || count > binaryObjects || top >= count || offsetSize < 1 || offsetSize > 8 || refSize < 1 || refSize > 4 ||
		table > end || uint64(offsetSize)*count != end-table {
		return fail("a trailer that does not hold")
	}
	p := &binaryPlist{file: file, top: int(top), head: append([]byte(nil), t[:6]...)}
	offsets := make([]int, count+1)
	offsets[count] = int(table)
	for i := range int(count) {
		o := bigEndian(doc[int(table)+i*offsetSize:][:offsetSize])
		if o >= table {
			return fail("an offset out of the file")
		}
		offsets[i] = int(o)
	}
	for i := range int(count) {
		from, to := offsets[i], offsets[i+1]
		if from < len(binaryMagic) || from >= to {
			return fail("objects that are not in order")
		}
		o, err := binaryObjectOf(doc[from:to], refSize, int(count))
		if err != nil {
			return fail(err.Error())
		}
		p.objects = append(p.objects, o)
	}
	if p.objects[p.top].kind != binaryDict {
		return fail("no dictionary at its top")
	}
	if !p.tree() {
		return fail("objects that hold themselves")
	}
	if !bytes.Equal(p.bytes(), doc) {
		return fail("another way of writing")
	}
	return p, nil
}

// tree says whether no object leads to itself, and marks those that nothing leads to.
func (p *binaryPlist) tree() bool {
	state := make([]byte, len(p.objects)) // 1 on the way, 2 done
	var walk func(i, depth int) bool
	walk = func(i, depth int) bool {
		if state[i] != 0 || depth > plistDepth {
			return state[i] == 2 && depth <= plistDepth
		}
		state[i] = 1
		for _, r := range p.objects[i].refs {
			if !walk(r, depth+1) {
				return false
			}
		}
		state[i] = 2
		return true
	}
	if !walk(p.top, 0) {
		return false
	}
	for i := range p.objects {
		if state[i] == 0 {
			p.objects[i].lone = true
			if !walk(i, 0) {
				return false
			}
		}
	}
	return true
}

func bigEndian(b []byte) uint64 {
	var n uint64
	for _, c := range b {
		n = n<<8 | uint64(c)
	}
	return n
}

var errBinaryObject = errors.New("an object that does not hold")

// binaryObjectOf takes lists and dictionaries apart.
func binaryObjectOf(raw []byte, refSize, count int) (binaryObject, error) {
	o := binaryObject{raw: raw, kind: raw[0] >> 4}
	if o.kind == binarySet {
		return o, errBinaryObject // no manifest has one
	}
	if o.kind != binaryList && o.kind != binaryDict {
		return o, nil
	}
	n, at, ok := binaryLength(raw)
	if o.kind == binaryDict {
		n *= 2
	}
	if !ok || n > binaryObjects || len(raw) != at+n*refSize {
		return o, errBinaryObject
	}
	for i := range n {
		ref := bigEndian(raw[at+i*refSize:][:refSize])
		if ref >= uint64(count) {
			return o, errBinaryObject
		}
		o.refs = append(o.refs, int(ref))
	}
	return o, nil
}

// binaryLength is an object's count, and where its content begins.
func binaryLength(raw []byte) (n, at int, ok bool) {
	if n = int(raw[0] & 15); n < 15 {
		return n, 1, true
	}
	if len(raw) < 2 || raw[1]>>4 != 1 || raw[1]&15 > 3 {
		return 0, 0, false
	}
	size := 1 << (raw[1] & 15)
	if len(raw) < 2+size {
		return 0, 0, false
	}
	v := bigEndian(raw[2 : 2+size])
	return int(v), 2 + size, v < 1<<31
}

// binaryHead is an object's first bytes.
func binaryHead(kind byte, n int) []byte {
	if n < 15 {
		return []byte{kind<<4 | byte(n)}
	}
	return append([]byte{kind<<4 | 15}, binaryInteger(n)...)
}

func binaryInteger(n int) []byte {
	switch {
	case n < 1<<8:
		return []byte{0x10, byte(n)}
	case n < 1<<16:
		return binary.BigEndian.AppendUint16([]byte{0x11}, uint16(n))
	}
	return binary.BigEndian.AppendUint32([]byte{0x12}, uint32(n))
}

// binaryText writes a string object.
func binaryText(s string) binaryObject {
	units := utf16.Encode([]rune(s))
	if !slices.ContainsFunc(units, func(u uint16) bool { return u >= 0x80 }) {
		return binaryObject{raw: append(binaryHead(binaryASCII, len(s)), s...), kind: binaryASCII}
	}
	raw := binaryHead(binaryUTF16, len(units))
	for _, u := range units {
		raw = binary.BigEndian.AppendUint16(raw, u)
	}
	return binaryObject{raw: raw, kind: binaryUTF16}
}

// bytes writes the list, with offsets and references as small as they can be.
func (p *binaryPlist) bytes() []byte {
	out := []byte(binaryMagic)
	refSize := bytesFor(len(p.objects))
	offsets := make([]int, len(p.objects))
	for i, o := range p.objects {
		offsets[i] = len(out)
		if o.kind != binaryList && o.kind != binaryDict {
			out = append(out, o.raw...)
			continue
		}
		n := len(o.refs)
		if o.kind == binaryDict {
			n /= 2
		}
		out = append(out, binaryHead(o.kind, n)...)
		for _, r := range o.refs {
			out = appendSized(out, r, refSize)
		}
	}
	table := len(out)
	offsetSize := bytesFor(table)
	for _, o := range offsets {
		out = appendSized(out, o, offsetSize)
	}
	out = append(append(out, p.head...), byte(offsetSize), byte(refSize))
	for _, v := range []int{len(p.objects), p.top, table} {
		out = binary.BigEndian.AppendUint64(out, uint64(v))
	}
	return out
}

func bytesFor(n int) int {
	switch {
	case n < 1<<8:
		return 1
	case n < 1<<16:
		return 2
	}
	return 4
}

func appendSized(out []byte, n, size int) []byte {
	for i := size - 1; i >= 0; i-- {
		out = append(out, byte(n>>(8*i)))
	}
	return out
}

// text returns a string object's text, "" for anything else.
func (p *binaryPlist) text(i int) string {
	if i < 0 {
		return ""
	}
	o := p.objects[i]
	n, at, ok := binaryLength(o.raw)
	switch {
	case ok && o.kind == binaryASCII && len(o.raw) == at+n:
		return string(o.raw[at:])
	case ok && o.kind == binaryUTF16 && len(o.raw) == at+2*n:
		units := make([]uint16, n)
		for k := range units {
			units[k] = binary.BigEndian.Uint16(o.raw[at+2*k:])
		}
		return string(utf16.Decode(units))
	}
	return ""
}

// find returns the number of the value under a key of the top dictionary, -1 if
// there is none.
func (p *binaryPlist) find(key string) int {
	d := p.objects[p.top]
	half := len(d.refs) / 2
	for i, k := range d.refs[:half] {
		if p.text(k) == key {
			return d.refs[half+i]
		}
	}
	return -1
}

// set puts a key with a value last into the top dictionary.
func (p *binaryPlist) set(key string, value int) {
	k := p.add(binaryText(key))
	d := &p.objects[p.top]
	half := len(d.refs) / 2
	d.refs = slices.Insert(slices.Clone(d.refs), half, k)
	d.refs = append(d.refs, value)
}

// unset takes a key out of the top dictionary.
func (p *binaryPlist) unset(key string) {
	d := &p.objects[p.top]
	half := len(d.refs) / 2
	for i, k := range d.refs[:half] {
		if p.text(k) == key {
			d.refs = slices.Delete(slices.Clone(d.refs), half+i, half+i+1)
			d.refs = slices.Delete(d.refs, i, i+1)
			p.sweep()
			return
		}
	}
}

func (p *binaryPlist) add(o binaryObject) int {
	p.objects = append(p.objects, o)
	return len(p.objects) - 1
}

// textObject returns a text's object: one that something leads to already is used
// again, as the platform's own writers do.
func (p *binaryPlist) textObject(s string) int {
	for i, o := range p.objects {
		if !o.lone && (o.kind == binaryASCII || o.kind == binaryUTF16) && p.text(i) == s {
			return i
		}
	}
	return p.add(binaryText(s))
}

// sweep takes out the objects that nothing leads to any more; those behind them
// move down.
func (p *binaryPlist) sweep() {
	number := make([]int, len(p.objects)) // 0 for what goes, else the new number and one
	var reach func(i int)
	reach = func(i int) {
		if number[i] == 0 {
			number[i] = 1
			for _, r := range p.objects[i].refs {
				reach(r)
			}
		}
	}
	reach(p.top)
	for i, o := range p.objects {
		if o.lone {
			reach(i)
		}
	}
	var kept []binaryObject
	for i, o := range p.objects {
		if number[i] > 0 {
			kept = append(kept, o)
			number[i] = len(kept)
		}
	}
	for i := range kept {
		kept[i].refs = slices.Clone(kept[i].refs)
		for k, r := range kept[i].refs {
			kept[i].refs[k] = number[r] - 1
		}
	}
	p.objects, p.top = kept, number[p.top]-1
}

func binaryArray(file string, doc []byte, key string) ([]string, error) {
	p, err := parseBinaryPlist(file, doc)
	if err != nil {
		return nil, err
	}
	return p.array(p.find(key)), nil
}

func (p *binaryPlist) array(at int) []string {
	var out []string
	if at >= 0 && p.objects[at].kind == binaryList {
		for _, r := range p.objects[at].refs {
			out = append(out, p.text(r))
		}
	}
	return out
}

// reconcileBinary reconciles one key of a binary list: an array of strings, or a
// string.
func reconcileBinary(d edit.Document, place edit.Place, want, owned []edit.Entry) ([]byte, []edit.Entry, error) {
	doc, key := d.Text, place.Name
	p, err := parseBinaryPlist(d.File, doc)
	if err != nil {
		return nil, nil, err
	}
	wrong := func(expected string) error {
		return d.Fail(-1, expected+" under "+key, "something else", "convert the file with plutil -convert xml1, correct it, then register again")
	}
	at := p.find(key)
	if place.Kind == KindString {
		return p.oneString(doc, key, at, want, owned, wrong)
	}
	if at >= 0 && p.objects[at].kind != binaryList {
		return nil, nil, wrong("an array of strings")
	}
	container, mine := edit.Mine(edit.Entry{File: d.File, Syntax: List{}.Name(), Place: place}, owned)
	before := p.array(at)
	wanted := edit.Values(want)
	p.dropStrings(at, func(s string) bool { return mine[s] && !wanted[s] })
	at = p.find(key)
	have := map[string]bool{}
	for _, s := range p.array(at) {
		have[s] = true
	}
	add, now := edit.Settle(want, have, mine)
	for _, value := range add {
		if at < 0 {
			at, container.Made = p.add(binaryObject{kind: binaryList}), []string{madeKey}
			p.set(key, at)
		}
		r := p.textObject(value)
		p.objects[at].refs = append(slices.Clone(p.objects[at].refs), r)
	}
	if container.Made != nil && len(p.array(at)) == 0 {
		p.unset(key)
		container.Made = nil
	}
	if container.Made != nil && len(now) > 0 {
		now = append(now, container)
	}
	if slices.Equal(before, p.array(p.find(key))) {
		return doc, now, nil
	}
	return p.bytes(), now, nil
}

// oneString reconciles a string under a key.
func (p *binaryPlist) oneString(doc []byte, key string, at int, want, owned []edit.Entry, wrong func(string) error) ([]byte, []edit.Entry, error) {
	switch {
	case len(want) == 0 && p.text(at) != owned[0].Value:
		return doc, nil, nil
	case len(want) == 0:
		p.unset(key)
		return p.bytes(), nil, nil
	case at >= 0 && p.text(at) != want[0].Value:
		return nil, nil, wrong(fmt.Sprintf("%q", want[0].Value))
	case at >= 0 && len(owned) > 0:
		return doc, owned[:1], nil
	case at >= 0:
		return doc, nil, nil
	}
	e := want[0]
	p.set(key, p.textObject(e.Value))
	e.Made = []string{madeKey}
	return p.bytes(), []edit.Entry{e}, nil
}

// dropStrings takes strings out of an array.
func (p *binaryPlist) dropStrings(at int, drop func(string) bool) {
	if at < 0 {
		return
	}
	p.objects[at].refs = slices.DeleteFunc(slices.Clone(p.objects[at].refs), func(r int) bool { return drop(p.text(r)) })
	p.sweep()
}
