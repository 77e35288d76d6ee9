package trim

import (
	"encoding/binary"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/sfnt"
	"notaria/internal/skerry/letters"
)

func numbers(v ...int) (b []byte) {
	for _, n := range v {
		b = binary.BigEndian.AppendUint16(b, uint16(n))
	}
	return b
}

// fvar is one axis of weights from 100 to 900, and an instance without a name at 700.
var fvar = append(append(numbers(1, 0, 16, 2, 1, 20, 1, 8), "wght"...), numbers(100, 0, 400, 0, 900, 0, 0, 256, 1, 0, 700, 0)...)

// variable is the sample's font with a weight that moves the letter A: its first glyph behind .notdef, by 100 units to the right at 900.
func variable(t testing.TB) map[string][]byte {
	data, err := letters.Font(letters.Styles[0])
	require.NoError(t, err)
	f := open(t, data)
	tables, err := f.Tables()
	require.NoError(t, err)
	paths, err := f.Paths()
	require.NoError(t, err)
	a := paths.Index('A')
	// One tuple with its own peak, of all points: each x by 100, each y by 0 (OpenType, gvar).
	points, _, _, err := paths.Moved(a)
	require.NoError(t, err)
	var deltas []byte
	for left := len(points); left > 0; left -= 64 {
		n := min(left, 64)
		deltas = append(deltas, byte(n-1))
		for i := range n {
			if left-i > 4 { // not the phantom points: the origin and the advance stay
				deltas = append(deltas, 100)
			} else {
				deltas = append(deltas, 0)
			}
		}
	}
	for left := len(points); left > 0; left -= 64 {
		deltas = append(deltas, 0x80|byte(min(left, 64)-1))
	}
	body := append([]byte{0}, deltas...) // all points
	glyph := append(numbers(1, 10, len(body), 0x8000|0x2000, 0x4000), body...)
	glyph = append(glyph, make([]byte, len(glyph)%2)...)
	count := paths.Count()
	head := numbers(1, 0, 1, 0, 0, 20+4*(count+1), count, 1, 0, 20+4*(count+1))
	for g := range count + 1 {
		at := 0
		if g > a {
			at = len(glyph)
		}
		head = binary.BigEndian.AppendUint32(head, uint32(at))
	}
	tables["fvar"], tables["gvar"] = fvar, append(head, glyph...)
	return tables
}

// A pinned font has its points where the place moves them, and the names of the place.
func TestPin(t *testing.T) {
	font, err := sfnt.Build(variable(t))
	require.NoError(t, err)
	f := open(t, font)
	before, err := f.Paths()
	require.NoError(t, err)
	for weight, moved := range map[float64]float32{400: 0, 900: 100, 650: 50} {
		tables, err := Pin(f, map[string]float64{"wght": weight})
		require.NoError(t, err)
		require.NotContains(t, tables, "fvar")
		require.NotContains(t, tables, "gvar")
		pinned, err := sfnt.Build(tables)
		require.NoError(t, err)
		after := open(t, pinned)
		paths, err := after.Paths()
		require.NoError(t, err)
		for _, r := range "AB" {
			a, err := before.Outline(before.Index(r))
			require.NoError(t, err)
			b, err := paths.Outline(paths.Index(r))
			require.NoError(t, err)
			require.Len(t, b, len(a))
			want := moved
			if r == 'B' {
				want = 0
			}
			require.Equal(t, a[0].P[0][0]+want, b[0].P[0][0], "%c at %g", r, weight)
			require.Equal(t, a[0].P[0][1], b[0].P[0][1])
		}
		names, err := after.Names()
		require.NoError(t, err)
		require.NotEmpty(t, names.Get(sfnt.NamePostScript))
		require.NotContains(t, names.Get(sfnt.NamePostScript), " ")
	}
	tables, err := Pin(f, map[string]float64{"wght": 650})
	require.NoError(t, err)
	require.Equal(t, 650, sfnt.Word(tables["OS/2"], 4))
	_, err = Pin(f, map[string]float64{"slnt": 3})
	require.ErrorContains(t, err, "expected a place on the font's axes (wght from 100 to 900), found slnt = 3")
	data, err := letters.Font(letters.Styles[0])
	require.NoError(t, err)
	_, err = Pin(open(t, data), nil)
	require.ErrorContains(t, err, "expected a variable font with outlines of glyf")
}

func FuzzPin(f *testing.F) {
	base := variable(f)
	f.Add(base["fvar"], base["gvar"], base["GDEF"], base["GPOS"], []byte{}, 650.0)
	f.Fuzz(func(_ *testing.T, fvar, gvar, gdef, gpos, mvar []byte, weight float64) {
		tables := map[string][]byte{}
		for tag, b := range base {
			tables[tag] = b
		}
		for tag, b := range map[string][]byte{"fvar": fvar, "gvar": gvar, "GDEF": gdef, "GPOS": gpos, "MVAR": mvar} {
			if len(b) > 0 {
				tables[tag] = b
			}
		}
		font, err := sfnt.Build(tables)
		if err != nil {
			return
		}
		_, _ = Open(font, Wish{At: map[string]float64{"wght": weight}, Ending: ".ttf"}, Words{Permitted: true})
	})
}
