package sfnt

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// cff2 is a table of one glyph and one axis: its store has one region, up to the axis's end.
func cff2(charstring []byte) []byte {
	number := func(v int) []byte { return []byte{29, byte(v >> 24), byte(v >> 16), byte(v >> 8), byte(v)} }
	index := func(data []byte) []byte { // of one element
		return append([]byte{0, 0, 0, 1, 2, 0, 1, byte((len(data) + 1) >> 8), byte(len(data) + 1)}, data...)
	}
	store := []byte{0, 1, 0, 0, 0, 12, 0, 1, 0, 0, 0, 22, 0, 1, 0, 1, 0, 0, 0x40, 0, 0x40, 0, 0, 0, 0, 0, 0, 1, 0, 0}
	const head, top = 5, 3*5 + 4
	global := []byte{0, 0, 0, 0}
	glyphs := head + top + len(global)
	fonts := glyphs + len(index(charstring))
	private := append(append(number(0), number(0)...), 18) // of no bytes
	at := fonts + len(index(private))
	var dict []byte
	dict = append(append(dict, number(glyphs)...), 17)
	dict = append(append(dict, number(fonts)...), 12, 36)
	dict = append(append(dict, number(at)...), 24)
	out := append([]byte{2, 0, head, 0, top}, dict...)
	out = append(append(append(append(out, global...), index(charstring)...), index(private)...), byte(len(store)>>8), byte(len(store)))
	return append(out, store...)
}

func TestCFF2(t *testing.T) {
	n := func(v int) byte { return byte(v + 139) }
	// A move by 10 and 0 that blends 5 and 7, then a level line of 100 that blends 50.
	code := []byte{n(10), n(0), n(5), n(7), n(2), opBlend, opRMoveTo, n(100), n(50), n(1), opBlend, opHLineTo}
	c, err := parseCFF2(cff2(code))
	require.NoError(t, err)
	for place, want := range map[float64][][2]float32{0: {{10, 0}, {110, 0}}, 1: {{15, 7}, {165, 7}}, 0.5: {{12.5, 3.5}, {137.5, 3.5}}, -1: {{10, 0}, {110, 0}}} {
		at := *c
		at.store = at.store.at([]float64{place})
		path, err := at.outline(0)
		require.NoError(t, err)
		var ends [][2]float32
		for _, s := range path {
			ends = append(ends, s.End())
		}
		require.Equal(t, want, ends, "%g", place)
	}
	for want, code := range map[string][]byte{"4 numbers to blend": {n(1), n(2), n(2), opBlend}, "the number of a table of regions": {opVSIndex}, "a distance to move": {opRMoveTo}} {
		c, err := parseCFF2(cff2(code))
		require.NoError(t, err)
		_, err = c.outline(0)
		require.ErrorContains(t, err, want)
	}
	_, err = parseCFF2([]byte{1, 0, 4, 1, 0})
	require.ErrorContains(t, err, "a header of version 2")
}

// The store as HVAR has it: an item a glyph, in words and in bytes.
func TestAdvancesVary(t *testing.T) {
	store := []byte{0, 1, 0, 0, 0, 12, 0, 1, 0, 0, 0, 22, 0, 1, 0, 1, 0, 0, 0x40, 0, 0x40, 0, 0, 2, 0, 1, 0, 1, 0, 0, 1, 0x2c, 0xff, 0x9c}
	b := append([]byte{0, 1, 0, 0, 0, 0, 0, 20, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0}, store...)
	a := readAdvances(b, []float64{0.5})
	require.Equal(t, []float64{150, -50, 0}, []float64{a.delta(0), a.delta(1), a.delta(9)})
	require.Zero(t, (*advances)(nil).delta(1))
	// By an index: both glyphs have the second item, and so has any after them.
	b[11] = byte(len(b))
	b = append(b, 0, 0, 0, 2, 1, 1)
	a = readAdvances(b, []float64{1})
	require.Equal(t, []float64{-100, -100, -100}, []float64{a.delta(0), a.delta(1), a.delta(9)})
}

func FuzzCFF2(f *testing.F) {
	f.Add(cff2([]byte{149, 139, 144, 146, 141, opBlend, opRMoveTo}), 0.5)
	f.Fuzz(func(t *testing.T, table []byte, place float64) {
		c, err := parseCFF2(table)
		if err != nil {
			return
		}
		at := []float64{max(-1, min(1, place))}
		c.store = c.store.at(at)
		for i := range min(len(c.glyphs), 20) {
			_, _ = c.outline(i)
		}
		readAdvances(table, at).delta(3)
	})
}
