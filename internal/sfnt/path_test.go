package sfnt

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// square is a contour with its corners cut by curves.
var square = []Contour{{{X: 0, Y: 0, On: true}, {X: 100, Y: 0, On: true}, {X: 100, Y: 100}, {X: 0, Y: 100}}}

func TestPathOfContours(t *testing.T) {
	b := &pathBuilder{where: "x"}
	data, err := Glyph{Contours: square}.bytes()
	require.NoError(t, err)
	b.simple(data, [6]float32{2, 0, 0, 1, 5, 7}, nil)
	require.NoError(t, b.err)
	require.Equal(t, Path{
		{MoveTo, [3][2]float32{{5, 7}}},
		{LineTo, [3][2]float32{{205, 7}}},
		{QuadTo, [3][2]float32{{205, 107}, {105, 107}}},
		{QuadTo, [3][2]float32{{5, 107}, {5, 7}}},
	}, b.path)
	require.Equal(t, [2]float32{5, 7}, b.path[3].End())
}

// Charstrings of every kind of curve, against what Technical Note 5177 says they draw.
func TestCharstrings(t *testing.T) {
	n := func(v int) byte { return byte(v + 139) }
	tests := []struct {
		name string
		code []byte
		ends [][2]float32
	}{
		{"width, move, lines", []byte{n(50), n(10), n(20), opRMoveTo, n(5), n(6), opRLineTo, n(1), n(2), n(3), opHLineTo, opEndChar}, [][2]float32{{10, 20}, {15, 26}, {16, 26}, {16, 28}, {19, 28}}},
		{"curves", []byte{n(0), opHMoveTo, n(1), n(2), n(3), n(4), n(5), n(6), opRRCurveTo, n(1), n(2), n(3), n(4), opHVCurveTo, n(1), n(2), n(3), n(4), n(9), opVHCurveTo, opEndChar}, [][2]float32{{0, 0}, {9, 12}, {12, 19}, {18, 32}}},
		{"hints and a mask", []byte{n(1), n(2), opHStemHM, n(3), n(4), opHintMask, 0x80, n(7), opVMoveTo, n(1), n(1), opRLineTo, opEndChar}, [][2]float32{{0, 7}, {1, 8}}},
		{"a flex", []byte{n(0), opHMoveTo, n(1), n(2), n(3), n(4), n(5), n(6), n(7), opEscape, escHFlex, opEndChar}, [][2]float32{{0, 0}, {7, 3}, {25, 0}}},
		{"a subroutine", []byte{n(0), opHMoveTo, n(-107), opCallSubr, opEndChar}, [][2]float32{{0, 0}, {2, 3}}},
	}
	for _, tt := range tests {
		c := &cff{glyphs: [][]byte{tt.code}, local: [][][]byte{{{n(2), n(3), opRLineTo, opReturn}}}}
		path, err := c.outline(0)
		require.NoError(t, err, tt.name)
		var ends [][2]float32
		for _, s := range path {
			ends = append(ends, s.End())
		}
		require.Equal(t, tt.ends, ends, tt.name)
	}
	for want, code := range map[string][]byte{
		"a subroutine that is there": {n(100), opCallSubr}, "the number of a subroutine": {opCallGSubr}, "an operator of Type 2": {2}, "a distance to move": {opRMoveTo}, "10 levels": {n(-107), opCallSubr},
	} {
		c := &cff{glyphs: [][]byte{code}, local: [][][]byte{{{n(-107), opCallSubr}}}}
		_, err := c.outline(0)
		require.ErrorContains(t, err, want)
	}
}

func FuzzCharstring(f *testing.F) {
	f.Add([]byte{139, 22, 140, 141, 142, 143, 144, 145, 8, 14}, []byte{140, 5, 11})
	f.Fuzz(func(t *testing.T, code, subr []byte) {
		c := &cff{glyphs: [][]byte{code}, global: [][]byte{subr}, local: [][][]byte{{subr, code}}}
		_, _ = c.outline(0)
	})
}

// FuzzCFF reads wild tables as a font would hold them.
func FuzzCFF(f *testing.F) {
	f.Add([]byte{1, 0, 4, 1, 0, 0, 0, 0, 0, 0, 0, 0})
	f.Fuzz(func(t *testing.T, table []byte) {
		if c, err := parseCFF(table); err == nil {
			for i := range min(len(c.glyphs), 50) {
				_, _ = c.outline(i)
			}
		}
	})
}
