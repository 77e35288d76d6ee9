package sfnt

import (
	"bytes"
	"fmt"
	"io"
	"math"

	"github.com/andybalholm/brotli"
)

// WOFF 2.0: https://www.w3.org/TR/WOFF2/

// knownTags are the tags that a WOFF 2 directory writes as a number (section
// 4.1, "Known Table Tags").
var knownTags = [...]string{
	"cmap", "head", "hhea", "hmtx", "maxp", "name", "OS/2", "post", "cvt ", "fpgm", "glyf", "loca", "prep", "CFF ", "VORG", "EBDT",
	"EBLC", "gasp", "hdmx", "kern", "LTSH", "PCLT", "VDMX", "vhea", "vmtx", "BASE", "GDEF", "GPOS", "GSUB", "EBSC", "JSTF", "MATH",
	"CBDT", "CBLC", "COLR", "CPAL", "SVG ", "sbix", "acnt", "avar", "bdat", "bloc", "bsln", "cvar", "fdsc", "feat", "fmtx", "fvar",
	"gvar", "hsty", "just", "lcar", "mort", "morx", "opbd", "prop", "trak", "Zapf", "Silf", "Glat", "Gloc", "Feat", "Sill",
}

const woff2Header = 48

// stream reads the variable-length numbers of WOFF 2. After the end it gives
// zeros and remembers that it ran over.
type stream struct {
	b    []byte
	over bool
}

func (s *stream) take(n int) []byte {
	if n < 0 || n > len(s.b) {
		s.over = true
		s.b = nil
		return nil
	}
	out := s.b[:n]
	s.b = s.b[n:]
	return out
}

func (s *stream) u8() uint8 {
	if b := s.take(1); b != nil {
		return b[0]
	}
	return 0
}

func (s *stream) u16() uint16 {
	if b := s.take(2); b != nil {
		return u16(b, 0)
	}
	return 0
}

func (s *stream) u32() uint32 {
	if b := s.take(4); b != nil {
		return u32(b, 0)
	}
	return 0
}

// base128 reads a UIntBase128 (section 4.2).
func (s *stream) base128() uint32 {
	var v uint32
	for i := range 5 {
		c := s.u8()
		if i == 0 && c == 0x80 || v&0xfe000000 != 0 {
			s.over = true
			return 0
		}
		v = v<<7 | uint32(c&0x7f)
		if c&0x80 == 0 {
			return v
		}
	}
	s.over = true
	return 0
}

// short255 reads a 255UInt16 (section 4.2).
func (s *stream) short255() int {
	switch c := s.u8(); c {
	case 253:
		return int(s.u16())
	case 254:
		return int(s.u8()) + 506
	case 255:
		return int(s.u8()) + 253
	default:
		return int(c)
	}
}

// openWOFF2 reads the directory and unpacks the one stream that holds all
// tables.
func openWOFF2(r io.ReaderAt, size int64) (*File, error) {
	head, err := readAt(r, size, 0, woff2Header, "WOFF 2 header")
	if err != nil {
		return nil, err
	}
	n, packed := int(u16(head, 12)), int64(u32(head, 20))
	if n == 0 || n > mostTables {
		return nil, bad("WOFF 2 header", fmt.Sprintf("1 to %d tables", mostTables), "%d", n)
	}
	flavor := Tag(u32(head, 4))
	// A directory entry takes at most 15 bytes; a collection's list follows.
	rest, err := readAt(r, size, woff2Header, min(size-woff2Header, int64(15*n)+mostFonts*(8+3*mostTables)), "WOFF 2 directory")
	if err != nil {
		return nil, err
	}
	s := &stream{b: rest}
	tables, sum, err := readDirectory(s, n)
	if err != nil {
		return nil, err
	}
	fonts := [][]int{nil}
	flavors := []Tag{flavor}
	if flavor == tagCollection {
		fonts, flavors = readCollection(s, n)
	}
	at := woff2Header + int64(len(rest)-len(s.b))
	if s.over || len(fonts) == 0 {
		return nil, bad("WOFF 2 directory", "whole entries", "one cut short or out of range")
	}
	if at+packed > size {
		return nil, bad("WOFF 2 data", fmt.Sprintf("%d bytes", packed), "%d: the file is cut short", size-at)
	}
	if !fitsUnpacked(sum, size) {
		return nil, bad("WOFF 2 directory", fmt.Sprintf("tables of at most %d times the file", mostUnpackRatio), "%d bytes out of %d", sum, size)
	}
	if err := fill(tables, io.NewSectionReader(r, at, packed), sum); err != nil {
		return nil, err
	}
	f := &File{Container: WOFF2}
	for i, list := range fonts {
		font := &Font{r: r, size: size, flavor: flavors[i]}
		for _, k := range list {
			font.tables = append(font.tables, tables[k])
		}
		if list == nil {
			font.tables = tables
		}
		font.order()
		f.fonts = append(f.fonts, font)
	}
	return f, nil
}

// readDirectory reads n entries (section 4.1) and the sum of their bytes in the
// stream.
func readDirectory(s *stream, n int) ([]record, int64, error) {
	var tables []record
	var sum int64
	for range n {
		flags := s.u8()
		var t record
		if k := int(flags & 0x3f); k < len(knownTags) {
			t.tag = MakeTag(knownTags[k])
		} else {
			t.tag = Tag(s.u32())
		}
		t.length = s.base128()
		t.packed = t.length
		version := flags >> 6
		if outlines := t.tag == MakeTag("glyf") || t.tag == MakeTag("loca"); outlines {
			t.transformed = version == 0
			if version != 0 && version != 3 {
				return nil, 0, bad("table "+t.tag.String(), "transformation 0 or 3", "%d", version)
			}
		} else {
			t.transformed = version != 0
			if version > 1 || version == 1 && t.tag != MakeTag("hmtx") {
				return nil, 0, bad("table "+t.tag.String(), "no transformation", "number %d", version)
			}
		}
		if t.transformed {
			t.packed = s.base128()
		}
		sum += int64(t.packed)
		tables = append(tables, t)
	}
	return tables, sum, nil
}

// readCollection reads which tables belong to each font (section 4.2).
func readCollection(s *stream, tables int) (fonts [][]int, flavors []Tag) {
	s.u32() // version
	n := s.short255()
	if n > mostFonts {
		return nil, nil
	}
	for range n {
		k := s.short255()
		if k == 0 || k > tables {
			return nil, nil
		}
		flavors = append(flavors, Tag(s.u32()))
		list := make([]int, k)
		for i := range list {
			if list[i] = s.short255(); list[i] >= tables {
				return nil, nil
			}
		}
		fonts = append(fonts, list)
	}
	return fonts, flavors
}

// fill unpacks the stream and gives each table its part.
func fill(tables []record, packed io.Reader, sum int64) error {
	var all bytes.Buffer // grows with what really comes, not with what is promised
	got, err := io.Copy(&all, io.LimitReader(brotli.NewReader(packed), sum))
	if err != nil {
		return bad("WOFF 2 data", "brotli data", "%v", err)
	}
	if got < sum {
		return bad("WOFF 2 data", fmt.Sprintf("%d bytes after unpacking", sum), "%d", got)
	}
	b := all.Bytes()
	for i := range tables {
		n := tables[i].packed
		tables[i].data, b = b[:n:n], b[n:]
		tables[i].packed = 0
	}
	return nil
}

// raw returns a table's bytes in the shape that the file has.
func (f *Font) raw(tag string) ([]byte, bool) {
	t, ok := f.find(MakeTag(tag))
	return t.data, ok && t.transformed
}

// restore makes the plain glyf, loca and hmtx of a WOFF 2 font and adds them.
func (f *Font) restore(tables map[string][]byte) error {
	var mins []int16
	if packed, ok := f.raw("glyf"); ok {
		g, err := unpackGlyphs(packed)
		if err != nil {
			return err
		}
		tables["glyf"], tables["loca"], mins = g.glyf, g.locaBytes(), g.mins
		head := append([]byte(nil), tables["head"]...)
		if len(head) < 54 {
			return short("head", 54, len(head))
		}
		head[50], head[51] = 0, 0
		if g.long {
			head[51] = 1
		}
		tables["head"] = head
	}
	if packed, ok := f.raw("hmtx"); ok {
		hhea, err := ParseHhea(tables["hhea"])
		if err != nil {
			return err
		}
		if tables["hmtx"], err = unpackHmtx(packed, int(hhea.NumHMetrics), mins); err != nil {
			return err
		}
	}
	return nil
}

// unpackHmtx restores left side bearings that are the glyphs' least x (section
// 5.4).
func unpackHmtx(b []byte, metrics int, mins []int16) ([]byte, error) {
	s := &stream{b: b}
	flags := s.u8()
	if flags&^3 != 0 || flags == 0 || metrics == 0 || metrics > len(mins) {
		return nil, bad("table hmtx", "a known transformation for the font's glyphs", "flags %#x, %d metrics, %d glyphs", flags, metrics, len(mins))
	}
	advances := s.take(2 * metrics)
	bearings := func(first, n int, given bool) []byte {
		if given {
			return s.take(2 * n)
		}
		var out be
		out.i16(mins[first : first+n]...)
		return out
	}
	own := bearings(0, metrics, flags&1 == 0)
	mono := bearings(metrics, len(mins)-metrics, flags&2 == 0)
	if s.over {
		return nil, bad("table hmtx", "a value for each glyph", "the end of the table")
	}
	var out be
	for i := range metrics {
		out = append(append(out, advances[2*i:2*i+2]...), own[2*i:2*i+2]...)
	}
	return append(out, mono...), nil
}

// glyphStreams are the parts of a transformed glyf table (section 5.1).
type glyphStreams struct {
	contours, points, flags, glyphs, composites, boxes, instructions stream
	boxBits, overlapBits                                             []byte
}

// unpackedGlyphs is a restored glyf table with what other tables need of it.
type unpackedGlyphs struct {
	glyf    be
	offsets []uint32
	mins    []int16
	long    bool
}

func (g *unpackedGlyphs) locaBytes() []byte {
	var out be
	for _, o := range g.offsets {
		if g.long {
			out.u32(o)
		} else {
			out.u16(uint16(o / 2))
		}
	}
	return out
}

func unpackGlyphs(b []byte) (*unpackedGlyphs, error) {
	s := &stream{b: b}
	s.u16() // reserved
	options, n, format := s.u16(), int(s.u16()), s.u16()
	var sizes [7]int
	for i := range sizes {
		sizes[i] = int(s.u32())
	}
	var p glyphStreams
	for i, part := range []*stream{&p.contours, &p.points, &p.flags, &p.glyphs, &p.composites} {
		part.b = s.take(sizes[i])
	}
	boxes := &stream{b: s.take(sizes[5])}
	p.boxBits = boxes.take((n + 31) / 32 * 4)
	p.boxes = *boxes
	p.instructions.b = s.take(sizes[6])
	if options&1 != 0 {
		p.overlapBits = s.take((n + 7) / 8)
	}
	if s.over || boxes.over {
		return nil, bad("table glyf", "its parts within the table", "a part beyond its %d bytes", len(b))
	}
	g := &unpackedGlyphs{long: format != 0}
	for i := range n {
		g.offsets = append(g.offsets, uint32(len(g.glyf)))
		data, xMin, err := p.next(i)
		if err != nil {
			return nil, fmt.Errorf("glyph %d: %w", i, err)
		}
		g.mins = append(g.mins, xMin)
		g.glyf = append(g.glyf, data...)
		for len(g.glyf)%4 != 0 {
			g.glyf = append(g.glyf, 0)
		}
	}
	g.offsets = append(g.offsets, uint32(len(g.glyf)))
	if len(g.glyf) > 2*math.MaxUint16 {
		g.long = true
	}
	return g, nil
}

// next restores glyph i and gives its least x.
func (p *glyphStreams) next(i int) ([]byte, int16, error) {
	contours := int16(p.contours.u16())
	boxed := p.boxBits[i/8]&(0x80>>(i%8)) != 0
	var data []byte
	switch {
	case contours == 0:
		if boxed {
			return nil, 0, bad("bounding box", "none for an empty glyph", "one")
		}
		return nil, 0, nil
	case contours < 0:
		if !boxed {
			return nil, 0, bad("bounding box", "one for a composite glyph", "none")
		}
		box := p.boxes.take(8)
		body, err := p.composite()
		if err != nil || box == nil {
			return nil, 0, orCut(err)
		}
		data = append(append([]byte{0xff, 0xff}, box...), body...)
	default:
		g, err := p.simple(int(contours))
		if err != nil {
			return nil, 0, err
		}
		g.Overlaps = p.overlapBits != nil && p.overlapBits[i/8]&(0x80>>(i%8)) != 0
		if data, err = g.bytes(); err != nil {
			return nil, 0, err
		}
		if boxed {
			box := p.boxes.take(8)
			if box == nil {
				return nil, 0, orCut(nil)
			}
			if len(data) > 0 {
				copy(data[2:], box)
			}
		}
		if len(data) == 0 {
			return nil, 0, nil // contours without a point draw nothing
		}
	}
	return data, i16(data, 2), nil
}

func orCut(err error) error {
	if err != nil {
		return err
	}
	return bad("glyph data", "more bytes", "the end of a part")
}

// simple restores the points of a glyph (section 5.2).
func (p *glyphStreams) simple(contours int) (Glyph, error) {
	var g Glyph
	var x, y int
	for range contours {
		n := p.points.short255()
		if p.points.over || n > len(p.flags.b) {
			return g, orCut(nil)
		}
		c := make(Contour, 0, n)
		for range n {
			flag := p.flags.u8()
			dx, dy := p.triplet(flag & 0x7f)
			x, y = x+dx, y+dy
			if x < math.MinInt16 || x > math.MaxInt16 || y < math.MinInt16 || y > math.MaxInt16 {
				return g, bad("point", "within 16 bits", "%d,%d", x, y)
			}
			c = append(c, Point{int16(x), int16(y), flag&0x80 == 0})
		}
		g.Contours = append(g.Contours, c)
	}
	g.Instructions = p.instructions.take(p.glyphs.short255())
	if p.glyphs.over || p.instructions.over {
		return g, orCut(nil)
	}
	return g, nil
}

// triplet reads a step from one point to the next: the flag tells how many
// bytes hold it, its sign and a base (section 5.2, "Triplet Encoding").
func (p *glyphStreams) triplet(flag uint8) (dx, dy int) {
	signed := func(bit uint8, v int) int {
		if flag&bit == 0 {
			return -v
		}
		return v
	}
	f := int(flag)
	switch {
	case f < 10:
		return 0, signed(1, (f&14)<<7+int(p.glyphs.u8()))
	case f < 20:
		return signed(1, ((f-10)&14)<<7+int(p.glyphs.u8())), 0
	case f < 84:
		k, b := f-20, int(p.glyphs.u8())
		return signed(1, 1+k&0x30+b>>4), signed(2, 1+(k&0x0c)<<2+b&0x0f)
	case f < 120:
		k := f - 84
		bx, by := int(p.glyphs.u8()), int(p.glyphs.u8())
		return signed(1, 1+(k/12)<<8+bx), signed(2, 1+(k%12>>2)<<8+by)
	case f < 124:
		a, b, c := int(p.glyphs.u8()), int(p.glyphs.u8()), int(p.glyphs.u8())
		return signed(1, a<<4+b>>4), signed(2, (b&0x0f)<<8+c)
	}
	return signed(1, int(p.glyphs.u16())), signed(2, int(p.glyphs.u16()))
}

// Flags of a component in a composite glyph (spec: glyf, "Composite Glyph
// Description").
const (
	compWords        = 1 << 0
	compXY           = 1 << 1 // its arguments are a distance
	compScale        = 1 << 3
	compMore         = 1 << 5
	compXYScale      = 1 << 6
	compTwoByTwo     = 1 << 7
	compInstructions = 1 << 8
)

// componentSize is the number of bytes of a component after its flags.
func componentSize(flags uint16) int {
	n := 2 + 2 // glyph id, two bytes of arguments
	if flags&compWords != 0 {
		n += 2
	}
	switch {
	case flags&compScale != 0:
		n += 2
	case flags&compXYScale != 0:
		n += 4
	case flags&compTwoByTwo != 0:
		n += 8
	}
	return n
}

// composite takes a composite glyph's components, and its instructions.
func (p *glyphStreams) composite() ([]byte, error) {
	var out be
	instructions := false
	for more := true; more; {
		flags := p.composites.u16()
		body := p.composites.take(componentSize(flags))
		if p.composites.over {
			return nil, orCut(nil)
		}
		out.u16(flags)
		out = append(out, body...)
		instructions = instructions || flags&compInstructions != 0
		more = flags&compMore != 0
	}
	if instructions {
		n := p.glyphs.short255()
		code := p.instructions.take(n)
		if p.glyphs.over || p.instructions.over {
			return nil, orCut(nil)
		}
		out.u16(uint16(n))
		out = append(out, code...)
	}
	return out, nil
}
