package colour

import (
	"encoding/binary"
	"slices"

	"notaria/internal/fault"
	"notaria/internal/sfnt"
)

// CutColours writes COLR for the glyphs that stay (OpenType, COLR version 1; the layers of version 0 as well): kept are their old numbers
// in the order of the new ones, which rise, and to gives the new number of an old one, -1 for one that goes. Paints are copied with the
// glyphs that they name; layers and paints that no glyph needs any more go. The numbers of variations stay, and so does their store.
func CutColours(b []byte, kept []int, to func(old int) int) ([]byte, error) {
	if len(b) >= 14 && sfnt.Word(b, 0) == 0 {
		return withFlat(make([]byte, 14), b, kept, to)
	}
	g, err := parseGraph(b, nil)
	if err != nil {
		return nil, err
	}
	c := &graphCut{graph: g, to: to, paints: map[int]*block{}, runs: map[[2]int]int{}}
	bases := &block{}
	count := 0
	for n, old := range kept {
		if at := g.base(old); at != 0 {
			bases.u16(n)
			bases.link(4, c.paint(at, 0))
			count++
		}
	}
	if c.err != nil {
		return nil, c.err
	}
	bases.front(count)
	root := &block{b: append(slices.Clone(b[:2]), make([]byte, 12)...)}
	root.link(4, bases)
	root.link(4, c.layerList())
	root.link(4, c.clipList(kept))
	for _, at := range []int{26, 30} { // the map of variations, and their store: nothing is behind them that they do not have
		raw := far(b, at)
		size := len(raw)
		if raw != nil {
			size = c.sizeOf(at, raw)
		}
		root.link(4, whole(raw, size))
	}
	if c.err != nil {
		return nil, c.err
	}
	return c.join(root, b, kept)
}

// whole is a table that is copied; nil for none.
func whole(raw []byte, size int) *block {
	if raw == nil || size <= 0 {
		return nil
	}
	return &block{b: slices.Clone(raw[:min(size, len(raw))])}
}

// A block is a part of the table with offsets to others, of 3 or 4 bytes, that count from its start.
type block struct {
	b     []byte
	links []blockLink
}

type blockLink struct {
	at, size int
	to       *block
}

func (k *block) u16(v int) { k.b = binary.BigEndian.AppendUint16(k.b, uint16(v)) }

func (k *block) link(size int, to *block) {
	if to != nil {
		k.links = append(k.links, blockLink{len(k.b), size, to})
	}
	k.b = append(k.b, make([]byte, size)...)
}

// front puts a number of 32 bits in front.
func (k *block) front(v int) {
	k.b = append(binary.BigEndian.AppendUint32(nil, uint32(v)), k.b...)
	for i := range k.links {
		k.links[i].at += 4
	}
}

// A graphCut copies paints, each once.
type graphCut struct {
	*graph
	to     func(int) int
	paints map[int]*block
	layer  []*block       // of the new list
	runs   map[[2]int]int // of the old list: where they are in the new one
	work   int
	copied int // bytes of brushes
	err    error
}

func (c *graphCut) fail(expected, found string, args ...any) *block {
	if c.err == nil {
		c.err = fault.Form("table COLR: expected "+expected+", found "+found, args...)
	}
	return &block{}
}

// paint copies the one at a place.
func (c *graphCut) paint(at, depth int) *block {
	if have, ok := c.paints[at]; ok {
		return have
	}
	if c.work++; c.work > mostReached || depth > mostDeep || c.err != nil || at <= 0 || at >= len(c.b) {
		return c.fail("paints that can be followed", "too many, too deep, or outside of the table")
	}
	b := c.b[at:]
	format, base, changes := b[0], b[0], 0
	if _, plain := sizes[base]; !plain {
		base, changes = format-1, 4
	}
	size, known := sizes[base]
	if !known || changes > 0 && (base == 1 || base == 10 || base == 32) || size+changes > len(b) {
		return c.fail("a paint of format 1 to 32", "format %d", format)
	}
	if base == 12 { // its matrix has the number of the changes
		changes = 0
	}
	out := &block{b: slices.Clone(b[:size+changes])}
	offset := func(k int) int { return at + int(b[k])<<16 + int(b[k+1])<<8 + int(b[k+2]) }
	link := func(k int, to *block) { out.links = append(out.links, blockLink{k, 3, to}) }
	switch {
	case base == 1:
		binary.BigEndian.PutUint32(out.b[2:], uint32(c.group(int(b[1]), int(u32(b, 2)), depth)))
	case base == 2:
	case base <= 8:
		link(1, c.line(offset(1), format != base))
	case base == 10:
		link(1, c.paint(offset(1), depth+1))
		binary.BigEndian.PutUint16(out.b[4:], uint16(c.stays(sfnt.Word(b, 4))))
	case base == 11:
		binary.BigEndian.PutUint16(out.b[1:], uint16(c.stays(sfnt.Word(b, 1))))
	case base == 12:
		n := 24
		if format != base {
			n = 28
		}
		link(1, c.paint(offset(1), depth+1))
		link(4, whole(sfnt.From(c.b, offset(4)), n))
	case base == 32:
		link(1, c.paint(offset(1), depth+1))
		link(5, c.paint(offset(5), depth+1))
	default:
		link(1, c.paint(offset(1), depth+1))
	}
	out.links = slices.DeleteFunc(out.links, func(l blockLink) bool { return l.to == nil })
	c.paints[at] = out
	return out
}

// stays is the new number of a glyph that a paint names.
func (c *graphCut) stays(old int) int {
	g := c.to(old)
	if g < 0 {
		c.fail("paints of glyphs that stay", "glyph %d", old)
	}
	return g
}

// group copies a run of the list of layers, and says where it is now.
func (c *graphCut) group(count, first, depth int) int {
	key := [2]int{first, count}
	if at, ok := c.runs[key]; ok {
		return at
	}
	var run []*block
	for i := first; i < first+count && c.err == nil; i++ {
		if 4*i+8 > len(c.layers) || uint32(i) >= u32(c.layers, 0) {
			c.fail("layers inside of their list", "layer %d", i)
			break
		}
		run = append(run, c.paint(len(c.b)-len(c.layers)+int(u32(c.layers, 4+4*i)), depth+1))
	}
	if len(c.layer)+len(run) > mostReached {
		c.fail("layers that can be followed", "more than %d", mostReached)
	}
	c.runs[key] = len(c.layer)
	c.layer = append(c.layer, run...)
	return c.runs[key]
}

// line is a line of colours, of a brush: its stops.
func (c *graphCut) line(at int, varies bool) *block {
	raw := sfnt.From(c.b, at)
	stop := 6
	if varies {
		stop = 10
	}
	size := 3 + stop*sfnt.Word(raw, 1)
	if len(raw) < 3 || size > len(raw) {
		return c.fail("the stops of a brush inside of the table", "its end")
	}
	if c.copied += size; c.copied > 4*len(c.b)+1<<20 {
		return c.fail("brushes that lie beside each other", "more than %d bytes of them", c.copied)
	}
	return whole(raw, size)
}

func (c *graphCut) layerList() *block {
	if len(c.layer) == 0 {
		return nil
	}
	list := &block{}
	for _, l := range c.layer {
		list.link(4, l)
	}
	list.front(len(c.layer))
	return list
}

// clipList are the boxes of the glyphs that stay.
func (c *graphCut) clipList(kept []int) *block {
	if len(c.clips) < 5 || c.clips[0] != 1 {
		return nil
	}
	list := &block{}
	count := 0
	boxes := map[int]*block{}
	for i := range min(int(u32(c.clips, 1)), (len(c.clips)-5)/7) {
		clip := c.clips[5+7*i:]
		first, last := sfnt.Word(clip, 0), sfnt.Word(clip, 2)
		from, _ := slices.BinarySearch(kept, first)
		until, _ := slices.BinarySearch(kept, last+1)
		if from >= until {
			continue
		}
		at := int(clip[4])<<16 | int(clip[5])<<8 | int(clip[6])
		if boxes[at] == nil {
			raw, size := sfnt.From(c.clips, at), 9
			if len(raw) > 0 && raw[0] == 2 {
				size = 13
			}
			if len(raw) < size {
				return c.fail("a box inside of the table", "its end")
			}
			boxes[at] = whole(raw, size)
		}
		list.u16(from) // glyphs between them that go leave no gap: their numbers follow each other
		list.u16(until - 1)
		list.link(3, boxes[at])
		count++
	}
	if count == 0 {
		return nil
	}
	list.front(count)
	list.b = append([]byte{1}, list.b...)
	for i := range list.links {
		list.links[i].at++
	}
	return list
}

// sizeOf is how long the map of variations, or their store, is at most: to the next table that the header knows, or the end.
func (c *graphCut) sizeOf(at int, raw []byte) int {
	from := int(u32(c.b, at))
	size := len(raw)
	for _, other := range []int{4, 8, 14, 18, 22, 26, 30} {
		if next := int(u32(c.b, other)); next > from {
			size = min(size, next-from)
		}
	}
	return size
}

// join puts the blocks behind each other, each behind all that refer to it, and the layers of version 0 behind them.
func (c *graphCut) join(root *block, b []byte, kept []int) ([]byte, error) {
	before := map[*block]int{}
	seen := map[*block]bool{root: true}
	all := []*block{root}
	for i := 0; i < len(all); i++ {
		for _, l := range all[i].links {
			if before[l.to]++; !seen[l.to] {
				seen[l.to] = true
				all = append(all, l.to)
			}
		}
	}
	order := []*block{root}
	places := map[*block]int{}
	at := 0
	for i := 0; i < len(order); i++ {
		places[order[i]] = at
		at += len(order[i].b)
		for _, l := range order[i].links {
			if before[l.to]--; before[l.to] == 0 {
				order = append(order, l.to)
			}
		}
	}
	if len(order) != len(all) {
		return nil, fault.Form("table COLR: expected paints that are not part of themselves, found some that are")
	}
	out := make([]byte, 0, at)
	for _, k := range order {
		start := len(out)
		out = append(out, k.b...)
		for _, l := range k.links {
			off := places[l.to] - places[k]
			if l.size == 3 && off >= 1<<24 {
				return nil, fault.Form("table COLR: expected paints that 24 bits reach, found %d bytes", off)
			}
			for i := range l.size {
				out[start+l.at+i] = byte(off >> (8 * (l.size - 1 - i)))
			}
		}
	}
	return withFlat(out, b, kept, c.to)
}

// flat are the layers of version 0: the records of glyphs, and their layers.
func flat(b []byte, kept []int, to func(int) int) (first, second []byte, err error) {
	bases, list := far(b, 4), far(b, 8)
	records := map[int][]byte{}
	for i := range min(sfnt.Word(b, 2), len(bases)/6) {
		records[sfnt.Word(bases, 6*i)] = bases[6*i : 6*i+6]
	}
	for n, old := range kept {
		r := records[old]
		if r == nil {
			continue
		}
		from, count := sfnt.Word(r, 2), sfnt.Word(r, 4)
		for _, v := range []int{n, len(second) / 4, count} {
			first = binary.BigEndian.AppendUint16(first, uint16(v))
		}
		for k := from; k < from+count; k++ {
			if 4*k+4 > len(list) || to(sfnt.Word(list, 4*k)) < 0 {
				return nil, nil, fault.Form("table COLR: expected layers that stay, found layer %d, glyph %d", k, sfnt.Word(list, 4*k))
			}
			second = binary.BigEndian.AppendUint16(second, uint16(to(sfnt.Word(list, 4*k))))
			second = append(second, list[4*k+2:4*k+4]...)
		}
		if len(second)/4 > 0xffff {
			return nil, nil, fault.Form("table COLR: expected at most 65535 layers, found more")
		}
	}
	return first, second, nil
}

// withFlat writes the layers of version 0 behind a header of some length and what follows it.
func withFlat(out, b []byte, kept []int, to func(int) int) ([]byte, error) {
	first, second, err := flat(b, kept, to)
	if err != nil {
		return nil, err
	}
	binary.BigEndian.PutUint16(out[2:], uint16(len(first)/6))
	binary.BigEndian.PutUint16(out[12:], uint16(len(second)/4))
	if len(first) > 0 || sfnt.Word(out, 0) == 0 {
		binary.BigEndian.PutUint32(out[4:], uint32(len(out)))
		binary.BigEndian.PutUint32(out[8:], uint32(len(out)+len(first)))
	}
	return append(append(out, first...), second...), nil
}
