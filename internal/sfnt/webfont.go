package sfnt

import (
	"bytes"
	"compress/zlib"
	"encoding/binary"
	"math/bits"
	"slices"
	"sort"

	"github.com/andybalholm/brotli"
)

// Web fonts are written here; they are read in woff.go and woff2.go, whose constants and
// steps these mirror.

// Qualities of brotli: one keeps to about four megabytes a second; the other takes thirty
// times as long, and a twelfth off the size.
const (
	Fast  = 9
	Small = 11
)

// Bits of brotli's window: it holds the whole font, and is no larger, for its tables cost
// time.
const (
	minWindow  = 16
	mostWindow = 24
)

// BuildWOFF wraps a font's tables as WOFF 1.0: each table packed by zlib where that is
// less (section 5). The same tables always give the same bytes. The tables are not changed.
func BuildWOFF(tables map[string][]byte) ([]byte, error) {
	plain, err := Build(tables)
	if err != nil {
		return nil, err
	}
	tags := sortedTags(tables)
	var dir, body be
	at := uint32(44 + 20*len(tags))
	for i, t := range tags {
		entry := plain[12+16*i:]
		data := plain[u32(entry, 8):][:u32(entry, 12)] // head has its adjustment there
		packed, err := deflated(data)
		if err != nil {
			return nil, err
		}
		dir.u32(uint32(MakeTag(t)), at+uint32(len(body)), uint32(len(packed)), uint32(len(data)), u32(entry, 4))
		body.padded(packed)
	}
	var head be
	head.u32(uint32(tagWOFF), u32(plain, 0), at+uint32(len(body)))
	head.u16(uint16(len(tags)), 0)
	head.u32(uint32(len(plain)))
	head = append(head, make([]byte, 44-len(head))...) // no version, no metadata, no private data
	return append(append(head, dir...), body...), nil
}

// deflated packs data, or gives it back where that is no less.
func deflated(data []byte) ([]byte, error) {
	var b bytes.Buffer
	z, err := zlib.NewWriterLevel(&b, zlib.BestCompression)
	if err != nil {
		return nil, err
	}
	if _, err = z.Write(data); err == nil {
		err = z.Close()
	}
	if err != nil || b.Len() >= len(data) {
		return data, err
	}
	return b.Bytes(), nil
}

func sortedTags(tables map[string][]byte) []string {
	tags := make([]string, 0, len(tables))
	for t := range tables {
		tags = append(tags, t)
	}
	sort.Strings(tags)
	return tags
}

// BuildWOFF2 wraps a font's tables as WOFF 2.0: glyf and loca, and hmtx where it can be,
// in their transformed shapes (section 5), all of it packed by brotli of a quality from 0
// to 11, such as Fast or Small. A glyf table that
// is not as it should be is packed as it is. A signature (DSIG) does not survive, since
// the bytes that it signs do not. The same tables always give the same bytes. The tables
// are not changed.
func BuildWOFF2(tables map[string][]byte, quality int) ([]byte, error) {
	if len(tables["head"]) < 54 {
		return nil, bad("font to be written", "a head table of 54 bytes", "%d bytes", len(tables["head"]))
	}
	parts := map[string][]byte{}
	for t, data := range tables {
		if t != "DSIG" {
			parts[t] = data
		}
	}
	shapes, err := transform(parts)
	if err != nil {
		return nil, err
	}
	plain, err := Build(parts) // head has its adjustment there, the size is that of the header
	if err != nil {
		return nil, err
	}
	tags := woff2Order(parts)
	sorted := sortedTags(parts)
	var dir, body be
	for _, t := range tags {
		entry := plain[12+16*slices.Index(sorted, t):]
		data := plain[u32(entry, 8):][:u32(entry, 12)]
		dir.woff2Entry(t, shapes, data)
		if s, ok := shapes[t]; ok {
			data = s
		}
		body = append(body, data...)
	}
	var z bytes.Buffer
	w := brotli.NewWriterOptions(&z, brotli.WriterOptions{Quality: quality, LGWin: min(max(bits.Len(uint(len(body))), minWindow), mostWindow)})
	if _, err = w.Write(body); err == nil {
		err = w.Close()
	}
	if err != nil {
		return nil, err
	}
	total := (woff2Header + len(dir) + z.Len() + 3) &^ 3
	var head be
	head.u32(uint32(tagWOFF2), u32(plain, 0), uint32(total))
	head.u16(uint16(len(tags)), 0)
	head.u32(uint32(len(plain)), uint32(z.Len()))
	head = append(head, make([]byte, woff2Header-len(head))...)
	out := append(append(head, dir...), z.Bytes()...)
	return append(out, make([]byte, total-len(out))...), nil
}

// woff2Order is ascending, but that loca follows glyf at once, as readers want it (section
// 5.3).
func woff2Order(tables map[string][]byte) []string {
	tags := slices.DeleteFunc(sortedTags(tables), func(t string) bool { return t == "loca" })
	if _, ok := tables["loca"]; ok {
		at := slices.Index(tags, "glyf") + 1
		tags = slices.Insert(tags, at, "loca")
	}
	return tags
}

// woff2Entry appends an entry of the directory (section 4.1). glyf and loca that are not
// transformed have number 3, other tables number 0.
func (b *be) woff2Entry(tag string, shapes map[string][]byte, data []byte) {
	shape, transformed := shapes[tag]
	flags, number := slices.Index(knownTags[:], tag), 0
	switch outlines := tag == "glyf" || tag == "loca"; {
	case outlines && !transformed:
		number = 3
	case !outlines && transformed:
		number = 1
	}
	known := flags >= 0
	if !known {
		flags = 0x3f
	}
	*b = append(*b, byte(flags|number<<6))
	if !known {
		b.u32(uint32(MakeTag(tag)))
	}
	b.base128(uint32(len(data)))
	if transformed {
		b.base128(uint32(len(shape)))
	}
}

// base128 appends a UIntBase128 (section 4.2).
func (b *be) base128(v uint32) {
	for shift := 28; shift > 0; shift -= 7 {
		if v>>shift != 0 {
			*b = append(*b, byte(v>>shift)|0x80)
		}
	}
	*b = append(*b, byte(v&0x7f))
}

// short255 appends a 255UInt16 (section 4.2).
func (b *be) short255(v int) {
	switch {
	case v < 253:
		*b = append(*b, byte(v))
	case v < 506:
		*b = append(*b, 255, byte(v-253))
	case v < 762:
		*b = append(*b, 254, byte(v-506))
	default:
		*b = append(*b, 253)
		b.u16(uint16(v))
	}
}

// transform makes the shapes of glyf, loca and hmtx that pack well, and puts into tables
// what a reader will make of them. It makes none where the outlines are not TrueType's or
// are broken.
func transform(tables map[string][]byte) (map[string][]byte, error) {
	glyf, ok := tables["glyf"]
	loca, both := tables["loca"]
	if !ok || !both || len(glyf) == 0 {
		return nil, nil
	}
	head, err := ParseHead(tables["head"])
	if err != nil {
		return nil, err
	}
	maxp, err := ParseMaxp(tables["maxp"])
	if err != nil {
		return nil, err
	}
	n := int(maxp.NumGlyphs)
	old := &composites{glyf: glyf, loca: loca, long: head.LongLoca}
	if old.ends() < n+1 {
		return nil, nil
	}
	var p packedGlyphs
	for i := range n {
		if from, to := old.span(i); from > to || to > len(glyf) || !p.add(i, n, glyf[from:to]) {
			return nil, nil
		}
	}
	packed := p.bytes(n, head.LongLoca)
	again, err := unpackGlyphs(packed)
	if err != nil {
		return nil, nil // of a form that was not foreseen: it stays as it is
	}
	if again.long && !head.LongLoca { // padded to four bytes it is too long for short offsets
		packed = p.bytes(n, true)
	}
	head2 := bytes.Clone(tables["head"])
	binary.BigEndian.PutUint16(head2[50:], uint16(b2i(again.long)))
	binary.BigEndian.PutUint16(head2[16:], u16(head2, 16)|1<<11) // "lossless": changed without a visible difference
	tables["head"], tables["glyf"], tables["loca"] = head2, again.glyf, again.locaBytes()
	shapes := map[string][]byte{"glyf": packed, "loca": {}}
	if h, ok := packHmtx(tables["hmtx"], tables["hhea"], again.mins); ok {
		shapes["hmtx"] = h
	}
	return shapes, nil
}

func b2i(b bool) int {
	if b {
		return 1
	}
	return 0
}

// ends is how many offsets there are.
func (c *composites) ends() int {
	if c.long {
		return len(c.loca) / 4
	}
	return len(c.loca) / 2
}

// packHmtx leaves left side bearings out that are the glyphs' least x (section 5.4); false
// if none can be.
func packHmtx(hmtx, hhea []byte, mins []int16) ([]byte, bool) {
	h, err := ParseHhea(hhea)
	metrics := int(h.NumHMetrics)
	if err != nil || metrics == 0 || metrics > len(mins) || len(hmtx) != 4*metrics+2*(len(mins)-metrics) {
		return nil, false
	}
	var advances, own, mono be
	same := [2]bool{true, true}
	for i, least := range mins {
		if i < metrics {
			advances = append(advances, hmtx[4*i:4*i+2]...)
			own = append(own, hmtx[4*i+2:4*i+4]...)
			same[0] = same[0] && i16(hmtx, 4*i+2) == least
			continue
		}
		at := 4*metrics + 2*(i-metrics)
		mono = append(mono, hmtx[at:at+2]...)
		same[1] = same[1] && i16(hmtx, at) == least
	}
	if !same[0] && !(same[1] && len(mono) > 0) {
		return nil, false
	}
	out := append(be{byte(b2i(same[0]) | b2i(same[1])<<1)}, advances...)
	if !same[0] {
		out = append(out, own...)
	}
	if !same[1] {
		out = append(out, mono...)
	}
	return out, true
}

// packedGlyphs are the parts of a transformed glyf table (section 5.1).
type packedGlyphs struct {
	contours, points, flags, glyphs, composites, boxes, instructions be
	boxBits, overlapBits                                             []byte
	overlaps                                                         bool
}

func (p *packedGlyphs) bytes(n int, long bool) []byte {
	boxes := append(be(p.boxBits), p.boxes...)
	parts := []be{p.contours, p.points, p.flags, p.glyphs, p.composites, boxes, p.instructions}
	var out be
	out.u16(0, uint16(b2i(p.overlaps)), uint16(n), uint16(b2i(long)))
	for _, part := range parts {
		out.u32(uint32(len(part)))
	}
	for _, part := range parts {
		out = append(out, part...)
	}
	if p.overlaps {
		out = append(out, p.overlapBits...)
	}
	return out
}

// add packs glyph i of n; false if it is not as it should be.
func (p *packedGlyphs) add(i, n int, data []byte) bool {
	if p.boxBits == nil {
		p.boxBits, p.overlapBits = make([]byte, (n+31)/32*4), make([]byte, (n+7)/8)
	}
	if len(data) == 0 {
		p.contours.u16(0)
		return true
	}
	if len(data) < 10 {
		return false
	}
	if c := i16(data, 0); c < 0 {
		p.contours.u16(0xffff)
		p.box(i, data)
		return p.composite(data[10:])
	}
	g, ok := simpleGlyph(data)
	if !ok {
		return false
	}
	p.contours.u16(uint16(len(g.Contours)))
	if g.Overlaps {
		p.overlaps = true
		p.overlapBits[i/8] |= 0x80 >> (i % 8)
	}
	p.simple(g)
	xMin, yMin, xMax, yMax, _ := g.Bounds()
	if [4]int16{xMin, yMin, xMax, yMax} != [4]int16{i16(data, 2), i16(data, 4), i16(data, 6), i16(data, 8)} {
		p.box(i, data)
	}
	return true
}

// box keeps the bounding box of a glyph, which its points do not tell.
func (p *packedGlyphs) box(i int, data []byte) {
	p.boxBits[i/8] |= 0x80 >> (i % 8)
	p.boxes = append(p.boxes, data[2:10]...)
}

func (p *packedGlyphs) simple(g Glyph) {
	var last Point
	for _, c := range g.Contours {
		p.points.short255(len(c))
		for _, pt := range c {
			p.triplet(int(pt.X)-int(last.X), int(pt.Y)-int(last.Y), pt.On)
			last = pt
		}
	}
	p.glyphs.short255(len(g.Instructions))
	p.instructions = append(p.instructions, g.Instructions...)
}

// triplet writes a step in the fewest bytes (section 5.2, "Triplet Encoding").
func (p *packedGlyphs) triplet(dx, dy int, on bool) {
	x, y := max(dx, -dx), max(dy, -dy)
	sx, sy := b2i(dx >= 0), b2i(dy >= 0)
	flag := 0
	switch both := sx + 2*sy; {
	case dx == 0 && y < 1280:
		flag = y&0xf00>>7 + sy
		p.glyphs = append(p.glyphs, byte(y))
	case dy == 0 && x < 1280:
		flag = 10 + x&0xf00>>7 + sx
		p.glyphs = append(p.glyphs, byte(x))
	case x < 65 && y < 65 && x > 0 && y > 0:
		flag = 20 + (x-1)&0x30 + (y-1)&0x30>>2 + both
		p.glyphs = append(p.glyphs, byte((x-1)&0x0f<<4|(y-1)&0x0f))
	case x < 769 && y < 769 && x > 0 && y > 0:
		flag = 84 + 12*((x-1)>>8) + (y-1)>>8<<2 + both
		p.glyphs = append(p.glyphs, byte(x-1), byte(y-1))
	case x < 4096 && y < 4096:
		flag = 120 + both
		p.glyphs = append(p.glyphs, byte(x>>4), byte(x&0x0f<<4|y>>8), byte(y))
	default:
		flag = 124 + both
		p.glyphs.u16(uint16(x), uint16(y))
	}
	if !on {
		flag |= 0x80
	}
	p.flags = append(p.flags, byte(flag))
}

// composite packs a glyph that is made of others.
func (p *packedGlyphs) composite(data []byte) bool {
	s := &stream{b: data}
	instructions := false
	for more := true; more; {
		flags := s.u16()
		body := s.take(componentSize(flags))
		if s.over {
			return false
		}
		p.composites.u16(flags)
		p.composites = append(p.composites, body...)
		instructions = instructions || flags&compInstructions != 0
		more = flags&compMore != 0
	}
	if instructions {
		n := int(s.u16())
		code := s.take(n)
		if s.over {
			return false
		}
		p.glyphs.short255(n)
		p.instructions = append(p.instructions, code...)
	}
	return true
}

// simpleGlyph reads a glyph of contours (spec: glyf, "Simple Glyph Description"); false if
// it is cut short, or has contours without points, which no reader draws.
func simpleGlyph(data []byte) (Glyph, bool) {
	s := &stream{b: data[10:]}
	var g Glyph
	ends := make([]int, i16(data, 0))
	last := -1
	for i := range ends {
		if ends[i] = int(s.u16()); ends[i] < last || ends[i] == last && i > 0 {
			return g, false
		}
		last = ends[i]
	}
	g.Instructions = s.take(int(s.u16()))
	n := last + 1
	if s.over || n == 0 || n > 8*len(s.b)*256 {
		return g, false
	}
	flags := make([]byte, 0, min(n, len(data)))
	for len(flags) < n && !s.over {
		f := s.u8()
		flags = append(flags, f)
		if f&flagRepeat != 0 {
			for range min(int(s.u8()), n-len(flags)) {
				flags = append(flags, f)
			}
		}
	}
	points := make([]Point, n)
	read := func(short, same byte, put func(i int, v int16)) {
		var v int16
		for i, f := range flags {
			switch {
			case f&short != 0 && f&same != 0:
				v += int16(s.u8())
			case f&short != 0:
				v -= int16(s.u8())
			case f&same == 0:
				v += int16(s.u16())
			}
			put(i, v)
		}
	}
	if s.over {
		return g, false
	}
	read(flagXShort, flagXSame, func(i int, v int16) { points[i].X = v })
	read(flagYShort, flagYSame, func(i int, v int16) { points[i].Y, points[i].On = v, flags[i]&flagOn != 0 })
	from := 0
	for _, end := range ends {
		g.Contours = append(g.Contours, points[from:end+1])
		from = end + 1
	}
	g.Overlaps = flags[0]&flagOverlap != 0
	return g, !s.over
}
