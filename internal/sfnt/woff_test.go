package sfnt

import (
	"bytes"
	"compress/zlib"
	"encoding/binary"
	"math"
	"testing"

	"github.com/andybalholm/brotli"
	"github.com/stretchr/testify/require"
)

// sampleGlyphs have every kind of step between points: none, short, long, both
// signs, on and off the curve.
func sampleGlyphs() []Glyph {
	return []Glyph{
		{Name: ".notdef", Advance: 500},
		{Name: "a", Advance: 600, Contours: []Contour{{{0, 0, true}, {300, 700, false}, {-20, 5, true}}, {{10, 10, true}, {10, 400, true}, {255, 400, false}, {1300, -700, true}}}},
		{Name: "b", Advance: 600, Contours: []Contour{{{-5, 0, true}, {-5, 1300, true}, {60, 1340, false}, {-32000, 32000, true}}}, Instructions: []byte{1, 2, 3}, Overlaps: true},
	}
}

// sampleTables is a small whole font.
func sampleTables(t testing.TB) map[string][]byte {
	glyphs := sampleGlyphs()
	glyf, loca, hmtx, err := Outlines(glyphs)
	require.NoError(t, err)
	cmap, err := CmapBytes(map[rune]uint16{'a': 1, 'b': 2})
	require.NoError(t, err)
	names, err := Names{{ID: 6, Platform: 3, Encoding: 1, Language: 0x409, Value: "Beacon-Mono"}}.Bytes()
	require.NoError(t, err)
	return map[string][]byte{
		"head": Head{UnitsPerEm: 1000, LongLoca: true}.Bytes(), "hhea": Hhea{NumHMetrics: 3}.Bytes(), "maxp": Maxp{NumGlyphs: 3}.Bytes(),
		"glyf": glyf, "loca": loca, "hmtx": hmtx, "cmap": cmap, "name": names, "OS/2": OS2{WeightClass: 400}.Bytes(), "post": Post{}.Bytes([]string{".notdef", "a", "b"}),
	}
}

// packWOFF wraps tables as a WOFF.
func packWOFF(t testing.TB, tables map[string][]byte) []byte {
	plain, err := Build(tables)
	require.NoError(t, err)
	f, err := Open(bytes.NewReader(plain), int64(len(plain)))
	require.NoError(t, err)
	var dir, body be
	at := uint32(44 + 20*len(tables))
	for _, tag := range f.Font(0).Tags() {
		data := tables[tag.String()]
		var z bytes.Buffer
		w := zlib.NewWriter(&z)
		_, _ = w.Write(data)
		require.NoError(t, w.Close())
		packed := z.Bytes()
		if len(packed) >= len(data) {
			packed = data
		}
		dir.u32(uint32(tag), at+uint32(len(body)), uint32(len(packed)), uint32(len(data)), 0)
		body = append(body, packed...)
	}
	var head be
	head.u32(uint32(tagWOFF), uint32(tagTrueType), at+uint32(len(body)))
	head.u16(uint16(len(tables)), 0)
	head = append(head, make([]byte, 44-len(head))...)
	return append(append(head, dir...), body...)
}

// packGlyphs is the transformed shape of a glyf table, every step in the longest
// form. It exists for tests alone.
func packGlyphs(glyphs []Glyph) []byte {
	var parts [7]be
	overlap := make([]byte, (len(glyphs)+7)/8)
	boxes := make([]byte, (len(glyphs)+31)/32*4)
	for i, g := range glyphs {
		parts[0].u16(uint16(len(g.Contours)))
		if len(g.Contours) == 0 {
			continue
		}
		if g.Overlaps {
			overlap[i/8] |= 0x80 >> (i % 8)
		}
		var last Point
		for _, c := range g.Contours {
			parts[1] = append(parts[1], byte(len(c)))
			for _, p := range c {
				dx, dy := int(p.X)-int(last.X), int(p.Y)-int(last.Y)
				flag := byte(124)
				if dx >= 0 {
					flag |= 1
				}
				if dy >= 0 {
					flag |= 2
				}
				if !p.On {
					flag |= 0x80
				}
				parts[2] = append(parts[2], flag)
				parts[3].u16(uint16(math.Abs(float64(dx))), uint16(math.Abs(float64(dy))))
				last = p
			}
		}
		parts[3] = append(parts[3], byte(len(g.Instructions)))
		parts[6] = append(parts[6], g.Instructions...)
	}
	parts[5] = append(be(boxes), parts[5]...)
	var out be
	out.u16(0, 1, uint16(len(glyphs)), 1)
	for _, p := range parts {
		out.u32(uint32(len(p)))
	}
	for _, p := range parts {
		out = append(out, p...)
	}
	return append(out, overlap...)
}

// packWOFF2 wraps tables as a WOFF 2 with glyf, loca and hmtx transformed.
func packWOFF2(t testing.TB, tables map[string][]byte, glyphs []Glyph) []byte {
	var dir, body be
	number := func(v int) {
		if v >= 1<<14 {
			dir = append(dir, byte(v>>14)|0x80)
		}
		if v >= 1<<7 {
			dir = append(dir, byte(v>>7)|0x80)
		}
		dir = append(dir, byte(v&0x7f))
	}
	for i, tag := range knownTags {
		data, ok := tables[tag]
		if !ok {
			continue
		}
		switch tag {
		case "glyf":
			packed := packGlyphs(glyphs)
			dir = append(dir, byte(i))
			number(len(data))
			number(len(packed))
			body = append(body, packed...)
		case "loca":
			dir = append(dir, byte(i))
			number(len(data))
			number(0)
		case "hmtx":
			dir = append(dir, byte(i)|1<<6)
			number(len(data))
			number(1 + 2*len(glyphs))
			body = append(body, 3)
			for _, g := range glyphs {
				body.u16(g.Advance)
			}
		default:
			dir = append(dir, byte(i))
			number(len(data))
			body = append(body, data...)
		}
	}
	var z bytes.Buffer
	w := brotli.NewWriter(&z)
	_, _ = w.Write(body)
	require.NoError(t, w.Close())
	var head be
	head.u32(uint32(tagWOFF2), uint32(tagTrueType), 0)
	head.u16(uint16(len(tables)), 0)
	head.u32(0, uint32(z.Len()))
	head = append(head, make([]byte, woff2Header-len(head))...)
	return append(append(head, dir...), z.Bytes()...)
}

func openBytes(t testing.TB, b []byte) *File {
	f, err := Open(bytes.NewReader(b), int64(len(b)))
	require.NoError(t, err)
	return f
}

func TestWebFontsUnwrap(t *testing.T) {
	tables := sampleTables(t)
	want, err := Build(tables)
	require.NoError(t, err)
	for container, b := range map[Container][]byte{WOFF: packWOFF(t, tables), WOFF2: packWOFF2(t, tables, sampleGlyphs())} {
		t.Run(string(container), func(t *testing.T) {
			f := openBytes(t, b)
			require.Equal(t, container, f.Container)
			names, err := f.Font(0).Names()
			require.NoError(t, err)
			require.Equal(t, "Beacon-Mono", names.Get(6), "names need no unwrapping")
			got, err := f.Unwrap(0)
			require.NoError(t, err)
			require.Equal(t, want, got, "the very same font")
		})
	}
}

func TestKnownTagsAreSixtyThree(t *testing.T) { require.Len(t, knownTags, 63) }

// The numbers of each row follow the table of section 5.2 of the WOFF 2 spec.
func TestTriplets(t *testing.T) {
	tests := []struct {
		flag   byte
		bytes  []byte
		dx, dy int
	}{
		{0, []byte{7}, 0, -7}, {1, []byte{7}, 0, 7}, {9, []byte{1}, 0, 1025}, {10, []byte{7}, -7, 0}, {19, []byte{255}, 1279, 0},
		{20, []byte{0x23}, -3, -4}, {23, []byte{0x23}, 3, 4}, {83, []byte{0xff}, 64, 64}, {84, []byte{9, 8}, -10, -9}, {119, []byte{255, 255}, 768, 768},
		{120, []byte{0x12, 0x34, 0x56}, -0x123, -0x456}, {123, []byte{0x12, 0x34, 0x56}, 0x123, 0x456}, {127, []byte{1, 2, 3, 4}, 0x102, 0x304},
	}
	for _, tt := range tests {
		p := &glyphStreams{glyphs: stream{b: tt.bytes}}
		dx, dy := p.triplet(tt.flag)
		require.Equal(t, []int{tt.dx, tt.dy}, []int{dx, dy}, "flag %d", tt.flag)
		require.Empty(t, p.glyphs.b)
		require.False(t, p.glyphs.over)
	}
}

func TestNumbersOfWOFF2(t *testing.T) {
	s := &stream{b: []byte{0x3f, 0x8f, 0xff, 0xff, 0xff, 0x7f, 253, 1, 0, 254, 0, 255, 0, 252, 0x80, 1}}
	require.Equal(t, uint32(63), s.base128())
	require.Equal(t, uint32(math.MaxUint32), s.base128())
	require.Equal(t, []int{256, 506, 253, 252}, []int{s.short255(), s.short255(), s.short255(), s.short255()})
	s.base128()
	require.True(t, s.over, "leading zeros are not allowed")
}

func TestHostileWebFonts(t *testing.T) {
	good := packWOFF2(t, sampleTables(t), sampleGlyphs())
	cut := good[:len(good)-20]
	_, err := Open(bytes.NewReader(cut), int64(len(cut)))
	require.ErrorContains(t, err, "cut short")

	// A few bytes that promise, or really are, an endless table.
	var z bytes.Buffer
	w := brotli.NewWriter(&z)
	_, _ = w.Write(make([]byte, 64<<20))
	require.NoError(t, w.Close())
	var head be
	head.u32(uint32(tagWOFF2), uint32(tagTrueType), 0)
	head.u16(1, 0)
	head.u32(0, uint32(z.Len()))
	head = append(head, make([]byte, woff2Header-len(head))...)
	head = append(head, 5, 0xa0, 0x80, 0x80, 0x00) // name, 64 MiB
	b := append(head, z.Bytes()...)
	_, err = Open(bytes.NewReader(b), int64(len(b)))
	require.ErrorContains(t, err, "times the file")

	woff := packWOFF(t, sampleTables(t))
	binary.BigEndian.PutUint32(woff[44+12:], 0xfffffff0)
	_, err = Open(bytes.NewReader(woff), int64(len(woff)))
	require.ErrorContains(t, err, "times the file")
}

// composite is a glyph of parts.
func composite(parts ...uint16) []byte {
	var b be
	b.i16(-1, 0, 0, 0, 0)
	for i, p := range parts {
		flags := uint16(0)
		if i < len(parts)-1 {
			flags = compMore
		}
		b.u16(flags, p, 0)
	}
	for len(b)%4 != 0 {
		b = append(b, 0)
	}
	return b
}

func TestCompositeBombs(t *testing.T) {
	build := func(glyphs ...[]byte) *Font {
		var glyf, loca be
		for _, g := range glyphs {
			loca.u32(uint32(len(glyf)))
			glyf = append(glyf, g...)
		}
		loca.u32(uint32(len(glyf)))
		tables := sampleTables(t)
		tables["glyf"], tables["loca"], tables["maxp"] = glyf, loca, Maxp{NumGlyphs: uint16(len(glyphs))}.Bytes()
		b, err := Build(tables)
		require.NoError(t, err)
		return openBytes(t, b).Font(0)
	}
	simple, err := sampleGlyphs()[1].bytes()
	require.NoError(t, err)
	for len(simple)%4 != 0 {
		simple = append(simple, 0)
	}
	require.NoError(t, build(simple, composite(0, 0), composite(1, 0)).CheckOutlines())
	bomb := [][]byte{simple}
	for i := range uint16(20) { // eight of the glyph before, twenty times: 8^20
		bomb = append(bomb, composite(i, i, i, i, i, i, i, i))
	}
	require.ErrorContains(t, build(bomb...).CheckOutlines(), "parts, found more")
	require.ErrorContains(t, build(composite(1), composite(0)).CheckOutlines(), "itself among them")
	long := [][]byte{simple}
	for i := range uint16(40) {
		long = append(long, composite(i))
	}
	require.ErrorContains(t, build(long...).CheckOutlines(), "levels")
}

// unwrapAll asks for all that a wrapped font has.
func unwrapAll(b []byte) {
	f, err := Open(bytes.NewReader(b), int64(len(b)))
	if err != nil {
		return
	}
	for i := range min(f.Len(), 4) {
		plain, err := f.Unwrap(i)
		if err != nil {
			continue
		}
		if g, err := Open(bytes.NewReader(plain), int64(len(plain))); err == nil {
			_ = g.Font(0).CheckOutlines()
		}
	}
}

func FuzzUnwrap(f *testing.F) {
	tables := sampleTables(f)
	f.Add(packWOFF(f, tables))
	f.Add(packWOFF2(f, tables, sampleGlyphs()))
	plain, err := Build(tables)
	require.NoError(f, err)
	f.Add(plain)
	f.Fuzz(func(_ *testing.T, b []byte) { unwrapAll(b) })
}

// FuzzGlyphs goes past the brotli layer, which hardly any mutation survives.
func FuzzGlyphs(f *testing.F) {
	f.Add(packGlyphs(sampleGlyphs()))
	f.Fuzz(func(t *testing.T, b []byte) {
		g, err := unpackGlyphs(b)
		if err != nil {
			return
		}
		if len(g.glyf) > 64*len(b)+1024 {
			t.Fatalf("%d bytes became %d", len(b), len(g.glyf))
		}
		_, _ = unpackHmtx(b, len(g.mins), g.mins)
	})
}

func FuzzComposites(f *testing.F) {
	f.Add(composite(0, 1), uint16(3))
	f.Fuzz(func(_ *testing.T, b []byte, n uint16) {
		n %= 64
		var loca be
		for i := range n + 1 {
			loca.u32(uint32(int(i) * len(b) / int(n+1)))
		}
		c := &composites{glyf: b, loca: loca, long: true, parts: make([]int32, n), levels: make([]uint8, n)}
		for i := range int(n) {
			_, _ = c.count(i, 0)
		}
	})
}
