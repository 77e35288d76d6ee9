package sfnt

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/require"
)

// What is written is read again: by the readers of this package, which mirror the writers;
// other readers judge it in the comparisons over real fonts.
func TestWebFontsAreWritten(t *testing.T) {
	tables := sampleTables(t)
	tables["zzzz"] = []byte("a table of its own, of odd length")
	plain, err := Build(tables)
	require.NoError(t, err)
	one, err := BuildWOFF(tables)
	require.NoError(t, err)
	back, err := openBytes(t, one).Unwrap(0)
	require.NoError(t, err)
	require.True(t, bytes.Equal(plain, back), "WOFF keeps every byte")
	tables["DSIG"] = []byte{0, 0, 0, 1, 0, 0, 0, 0}

	before := maps(tables)
	two, err := BuildWOFF2(tables, Fast)
	require.NoError(t, err)
	require.Equal(t, before, maps(tables), "the tables are not changed")
	require.Zero(t, len(two)%4)
	file := openBytes(t, two)
	require.Equal(t, WOFF2, file.Container)
	got := unwrapped(t, two)
	require.NotContains(t, got, "DSIG")
	for tag, want := range tables {
		switch tag {
		case "DSIG", "head", "glyf", "loca":
		default:
			require.Equal(t, want, got[tag], tag)
		}
	}
	require.NotZero(t, u16(got["head"], 16)&(1<<11), "head says that the font was changed")
	a, b := outlinesOf(t, tables), outlinesOf(t, got)
	require.Equal(t, a, b)
	again, err := BuildWOFF2(tables, Fast)
	require.NoError(t, err)
	require.True(t, bytes.Equal(two, again))
}

// unwrapped are the tables that a web font has when it is a plain font again.
func unwrapped(t *testing.T, b []byte) map[string][]byte {
	t.Helper()
	plain, err := openBytes(t, b).Unwrap(0)
	require.NoError(t, err)
	got, err := openBytes(t, plain).Font(0).Tables()
	require.NoError(t, err)
	return got
}

func maps(m map[string][]byte) map[string]string {
	out := map[string]string{}
	for k, v := range m {
		out[k] = string(v)
	}
	return out
}

// outlinesOf are the glyphs of a font, each as points.
func outlinesOf(t *testing.T, tables map[string][]byte) []Glyph {
	head, err := ParseHead(tables["head"])
	require.NoError(t, err)
	c := &composites{glyf: tables["glyf"], loca: tables["loca"], long: head.LongLoca}
	var out []Glyph
	for i := range c.ends() - 1 {
		data := c.data(i)
		if len(data) == 0 {
			out = append(out, Glyph{})
			continue
		}
		g, ok := simpleGlyph(data)
		require.True(t, ok)
		out = append(out, g)
	}
	return out
}

// Outlines that no reader would make out stay as they are; so do those of CFF.
func TestBrokenOutlinesStayAsTheyAre(t *testing.T) {
	for name, spoil := range map[string]func(map[string][]byte){
		"cut short": func(m map[string][]byte) { m["glyf"] = m["glyf"][:len(m["glyf"])/2] },
		"no points": func(m map[string][]byte) {
			m["glyf"] = append([]byte{0, 1, 0, 0, 0, 0, 0, 0, 0, 0, 255, 255, 0, 0}, m["glyf"][14:]...)
		},
		"too few offsets":    func(m map[string][]byte) { m["loca"] = m["loca"][:4] },
		"no glyf":            func(m map[string][]byte) { delete(m, "glyf"); delete(m, "loca") },
		"hmtx of other size": func(m map[string][]byte) { m["hmtx"] = m["hmtx"][:len(m["hmtx"])-2] },
	} {
		t.Run(name, func(t *testing.T) {
			tables := sampleTables(t)
			spoil(tables)
			two, err := BuildWOFF2(tables, Fast)
			require.NoError(t, err)
			got := unwrapped(t, two)
			if name != "hmtx of other size" {
				require.Equal(t, tables["glyf"], got["glyf"])
			}
			require.Equal(t, tables["hmtx"], got["hmtx"])
		})
	}
	_, err := BuildWOFF2(map[string][]byte{"head": {1}}, Fast)
	require.ErrorContains(t, err, "a head table of 54 bytes")
}

// Each way of writing a step is read as it was.
func TestTripletsRoundTrip(t *testing.T) {
	steps := []int{0, 1, -1, 63, 64, 65, -64, -65, 255, 256, 768, 769, -768, -769, 1279, 1280, -1279, -1280, 4095, 4096, -4095, -4096, 32767, -32768, 65535, -65535}
	for _, dx := range steps {
		for _, dy := range steps {
			for _, on := range []bool{true, false} {
				var p packedGlyphs
				p.triplet(dx, dy, on)
				s := glyphStreams{glyphs: stream{b: p.glyphs}}
				x, y := s.triplet(p.flags[0] & 0x7f)
				require.Equal(t, []int{dx, dy}, []int{x, y})
				require.Equal(t, on, p.flags[0]&0x80 == 0)
				require.Empty(t, s.glyphs.b)
			}
		}
	}
	for _, v := range []int{0, 1, 252, 253, 505, 506, 761, 762, 65535} {
		var b be
		b.short255(v)
		s := &stream{b: b}
		require.Equal(t, v, s.short255())
	}
	for _, v := range []uint32{0, 127, 128, 16383, 16384, 1 << 21, 1 << 28, 1<<32 - 1} {
		var b be
		b.base128(v)
		s := &stream{b: b}
		require.Equal(t, v, s.base128())
		require.False(t, s.over)
	}
}

// FuzzWebFonts packs glyph tables of any form: what comes out opens again, or it is an
// error.
func FuzzWebFonts(f *testing.F) {
	tables := sampleTables(f)
	f.Add(tables["glyf"], tables["loca"], tables["hmtx"])
	f.Add([]byte{}, []byte{}, []byte{})
	f.Fuzz(func(t *testing.T, glyf, loca, hmtx []byte) {
		tables := sampleTables(t)
		tables["glyf"], tables["loca"], tables["hmtx"] = glyf, loca, hmtx
		two, err := BuildWOFF2(tables, Fast)
		if err != nil {
			return
		}
		require.Equal(t, append([]byte{}, hmtx...), append([]byte{}, unwrapped(t, two)["hmtx"]...))
	})
}

func BenchmarkBuildWOFF2(b *testing.B) {
	tables := sampleTables(b)
	n := 0
	for _, t := range tables {
		n += len(t)
	}
	b.SetBytes(int64(n))
	for b.Loop() {
		if _, err := BuildWOFF2(tables, Fast); err != nil {
			b.Fatal(err)
		}
	}
}
