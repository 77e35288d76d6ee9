package tests

import (
	"bytes"
	"encoding/binary"
	"image"
	"image/png"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/sfnt"
	"notaria/internal/skerry/letters"
)

// fontTables are those of a font of our own.
func fontTables(t *testing.T) map[string][]byte {
	t.Helper()
	b, err := letters.Font(letters.Styles[1])
	require.NoError(t, err)
	file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
	require.NoError(t, err)
	tables, err := file.Font(0).Tables()
	require.NoError(t, err)
	return tables
}

// u16 and u32 are numbers as fonts hold them.
func u16(v ...int) (out []byte) {
	for _, x := range v {
		out = binary.BigEndian.AppendUint16(out, uint16(x))
	}
	return out
}

func u32(v ...int) (out []byte) {
	for _, x := range v {
		out = binary.BigEndian.AppendUint32(out, uint32(x))
	}
	return out
}

// glyf makes the tables of outlines.
func glyf(tables map[string][]byte, glyphs [][]byte) {
	var data, at []byte
	for _, g := range glyphs {
		at = append(at, u32(len(data))...)
		data = append(append(data, g...), make([]byte, (4-len(g)%4)%4)...)
	}
	at = append(at, u32(len(data))...)
	head, maxp, hhea := bytes.Clone(tables["head"]), bytes.Clone(tables["maxp"]), bytes.Clone(tables["hhea"])
	binary.BigEndian.PutUint16(head[50:], 1) // long places
	binary.BigEndian.PutUint16(maxp[4:], uint16(len(glyphs)))
	binary.BigEndian.PutUint16(hhea[34:], uint16(len(glyphs)))
	var hmtx []byte
	for range glyphs {
		hmtx = append(hmtx, u16(500, 0)...)
	}
	tables["glyf"], tables["loca"], tables["head"], tables["maxp"], tables["hhea"], tables["hmtx"] = data, at, head, maxp, hhea, hmtx
	// Each letter of ASCII is a glyph, and so are private ones.
	groups := u32(' ', '~', 1, 0xE000, 0xE000+min(len(glyphs), 6000)-1-96, 96)
	tables["cmap"] = append(append(u16(0, 1, 3, 10), u32(12)...), append(append(u16(12, 0), u32(16+len(groups), 0, len(groups)/12)...), groups...)...)
	for _, t := range []string{"GSUB", "GPOS", "GDEF", "kern", "gasp", "fpgm", "prep", "cvt ", "DSIG", "COLR", "CPAL"} {
		delete(tables, t)
	}
}

// large is an outline of many points; each is a step of a zigzag.
func large(points int) []byte {
	out := u16(1, 0, 0, 1000, 1000, points-1, 0)
	flags, xs, ys := []byte{}, []byte{}, []byte{}
	for i := range points {
		flags, xs = append(flags, 1), append(xs, u16(1-2*(i%2))...)
		ys = append(ys, u16(700-1400*(i%2))...)
	}
	return append(append(append(out, flags...), xs...), ys...)
}

// parts is a glyph of others.
func parts(of ...int) []byte {
	out := u16(0xFFFF, 0, 0, 1000, 1000)
	for i, g := range of {
		flags := 3 | 0x20
		if i == len(of)-1 {
			flags = 3
		}
		out = append(out, u16(flags, g, 0, 0)...)
	}
	return out
}

func repeated(g []byte, n int) (out [][]byte) {
	for range n {
		out = append(out, g)
	}
	return out
}

// pictured has one picture for all glyphs.
func pictured(t map[string][]byte, glyphs, size int) {
	glyf(t, repeated([]byte{}, glyphs))
	var b bytes.Buffer
	_ = png.Encode(&b, image.NewNRGBA(image.Rect(0, 0, size, size)))
	strike := u16(size, 72)
	data := append(u16(0, 0), append([]byte("png "), b.Bytes()...)...)
	for i := range glyphs + 1 { // each second one has the whole picture
		strike = append(strike, u32(4+4*(glyphs+1)+(i%2)*len(data))...)
	}
	strike = append(strike, data...)
	t["sbix"] = append(append(u16(1, 1), u32(1, 12)...), strike...)
}

// layered has one list of layers for all glyphs.
func layered(t map[string][]byte, n, layers int) {
	glyf(t, repeated([]byte{}, n))
	var bases []byte
	for g := range n {
		bases = append(bases, u16(g, 0, layers)...)
	}
	t["COLR"] = slices.Concat(u16(0, n), u32(14, 14+len(bases)), u16(layers), bases, bytes.Repeat(u16(1, 0), layers))
	t["CPAL"] = append(append(u16(0, 1, 1, 1), u32(14)...), append(u16(0), 1, 2, 3, 255)...)
}

// painted has one graph for all glyphs: groups of groups of outlines.
func painted(t map[string][]byte, n, groups, outlines int) {
	glyf(t, append([][]byte{{}, large(10 * groups * groups)}, repeated([]byte{}, n-2)...))
	var bases []byte
	for g := range n {
		bases = append(append(bases, u16(g)...), u32(4+6*n)...)
	}
	group := append([]byte{1, byte(groups)}, u32(0)...)
	part := append([]byte{1, byte(outlines)}, u32(groups)...)
	clip := append(append([]byte{10, 0, 0, 6}, u16(1)...), append([]byte{2}, u16(0, 0x4000)...)...)
	at := len(u32(0)) + 4*(groups+outlines)
	list := u32(groups + outlines)
	for range groups {
		list = append(list, u32(at)...)
	}
	for range outlines {
		list = append(list, u32(at+len(part))...)
	}
	head := 34
	from := head + 4 + len(bases) + len(group)
	t["COLR"] = slices.Concat(u16(1, 0), u32(0, 0), u16(0), u32(head, from, 0, 0, 0), u32(n), bases, group, list, part, clip)
	t["CPAL"] = append(append(u16(0, 1, 1, 1), u32(14)...), append(u16(0), 1, 2, 3, 255)...)
}

// shifted varies all points of all glyphs.
func shifted(t map[string][]byte, n, points, tuples int) {
	one := large(points)
	glyf(t, repeated([]byte{}, n))
	t["glyf"], t["loca"] = one, shared(n, 0, len(one))
	varied(t)
	heads, body := []byte{}, []byte{0} // all points; their steps are not there
	for range tuples {
		heads = append(heads, u16(1, 0xA000, 0x4000)...)
	}
	data := append(append(u16(tuples, 4+len(heads)), heads...), bytes.Repeat(body, tuples)...)
	places := shared(n, 0, len(data))
	t["gvar"] = slices.Concat(u16(1, 0, 1, 0), u32(20+len(places)), u16(n, 1), u32(20+len(places)), places, data)
}

// regioned has outlines of CFF2 that ask for a table of regions again and again.
func regioned(t map[string][]byte, numbers, regions int) {
	delete(t, "glyf")
	delete(t, "loca")
	varied(t)
	program := bytes.Repeat([]byte{139, 15}, numbers) // 0 vsindex
	store := slices.Concat(u16(1), u32(12), u16(1), u32(12+4+6*regions), u16(1, regions), bytes.Repeat(u16(0, 0x4000, 0x4000), regions), u16(0, 0, regions))
	for r := range regions {
		store = append(store, u16(r)...)
	}
	index := func(items ...[]byte) []byte {
		out, at := append(u32(len(items)), 4), 1
		out = append(out, u32(at)...)
		for _, x := range items {
			at += len(x)
			out = append(out, u32(at)...)
		}
		return append(out, slices.Concat(items...)...)
	}
	number := func(v int) []byte { return append([]byte{29}, u32(v)...) }
	global := u32(0)
	top := 5 + 19 // behind the dictionary: charstrings, fonts, store
	glyphs := index(slices.Repeat([][]byte{program}, 10)...)
	fonts := index(append(append(number(0), number(0)...), 18))
	dict := slices.Concat(number(top+len(global)), []byte{17}, number(top+len(global)+len(glyphs)), []byte{12, 36}, number(top+len(global)+len(glyphs)+len(fonts)), []byte{24})
	t["CFF2"] = slices.Concat([]byte{2, 0, 5}, u16(len(dict)), dict, global, glyphs, fonts, u16(len(store)), store)
	t["maxp"] = slices.Concat(u32(0x5000), u16(10))
	t["hhea"] = bytes.Clone(t["hhea"])
	binary.BigEndian.PutUint16(t["hhea"][34:], 10)
	t["hmtx"] = bytes.Repeat(u16(500, 0), 10)
	groups := u32(' ', '~', 1)
	t["cmap"] = slices.Concat(u16(0, 1, 3, 10), u32(12), u16(13, 0), u32(16+len(groups), 0, 1), groups)
	for _, tag := range []string{"GSUB", "GPOS", "GDEF", "kern", "gasp", "fpgm", "prep", "cvt ", "DSIG"} {
		delete(t, tag)
	}
}

// varied adds a variable font's axis of weight, with one instance.
func varied(t map[string][]byte) {
	t["fvar"] = []byte("\x00\x01\x00\x00\x00\x10\x00\x02\x00\x01\x00\x14\x00\x01\x00\x08wght\x00\x64\x00\x00\x01\x90\x00\x00\x03\x84\x00\x00\x00\x00\x01\x00\x01\x01\x00\x00\x02\xbc\x00\x00")
}

// shared has glyphs whose data is all of a table for each second one.
func shared(glyphs, from, to int) (places []byte) {
	for i := range glyphs + 1 {
		places = append(places, u32(from+i%2*(to-from))...)
	}
	return places
}
