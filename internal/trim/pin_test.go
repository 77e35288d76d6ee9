package trim

import (
	"encoding/binary"
	"math"
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
	require.ErrorContains(t, err, "expected a variable font with outlines (glyf or CFF2)")
}

// A font that keeps a part of its axis is in that part what it was; its whole is kept where no end is said.
func TestNarrow(t *testing.T) {
	whole, err := letters.Variable()
	require.NoError(t, err)
	f := open(t, whole)
	for _, r := range [][2]float64{{350, 600}, {400, 700}, {300, 400}, {math.Inf(-1), math.Inf(1)}} {
		out, err := Open(whole, Wish{Axes: map[string][2]float64{"wght": r}, Ending: ".ttf"}, Words{})
		require.NoError(t, err)
		small := open(t, out.Data())
		axes, instances, err := small.Variations()
		require.NoError(t, err)
		require.Len(t, axes, 1)
		low, high := max(r[0], 300), min(r[1], 700)
		require.Equal(t, []float64{low, 400, high}, []float64{axes[0].Min, axes[0].Default, axes[0].Max})
		for _, in := range instances {
			require.True(t, in.Coordinates[0] >= low && in.Coordinates[0] <= high)
		}
		was, err := f.Paths()
		require.NoError(t, err)
		is, err := small.Paths()
		require.NoError(t, err)
		for _, weight := range []float64{low, (low + 400) / 2, 400, (high + 400) / 2, high} {
			a, err := was.At(f, map[string]float64{"wght": weight})
			require.NoError(t, err)
			b, err := is.At(small, map[string]float64{"wght": weight})
			require.NoError(t, err)
			for _, c := range "AQgé&" {
				one, err := a.Outline(a.Index(c))
				require.NoError(t, err)
				other, err := b.Outline(b.Index(c))
				require.NoError(t, err)
				require.Len(t, other, len(one))
				for i := range one {
					require.InDelta(t, one[i].End()[0], other[i].End()[0], 1)
					require.InDelta(t, one[i].End()[1], other[i].End()[1], 1)
				}
				require.InDelta(t, a.AdvanceOf(a.Index(c)), b.AdvanceOf(b.Index(c)), 1)
			}
		}
	}
	for want, r := range map[string][2]float64{"found 450 to 600": {450, 600}, "found 400 to 800": {400, 800}, "found 400 to 400": {400, 400}} {
		_, err := Narrow(f, map[string][2]float64{"wght": r})
		require.ErrorContains(t, err, want)
	}
	_, err = Narrow(f, map[string][2]float64{"opsz": {8, 12}})
	require.ErrorContains(t, err, `expected axes of the font (wght from 300 to 700, the default 400), found "opsz"`)
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
		_, _ = Open(font, Wish{Axes: map[string][2]float64{"wght": {300, weight}}, Ending: ".ttf"}, Words{Permitted: true})
	})
}

// variable2 is the sample's font with outlines of CFF 2: each glyph is moved by 100 units to the right at a weight of 900.
func variable2(t testing.TB) map[string][]byte {
	tables := variable(t)
	font, err := sfnt.Build(tables)
	require.NoError(t, err)
	paths, err := open(t, font).Paths()
	require.NoError(t, err)
	long := func(v int) []byte { return binary.BigEndian.AppendUint32([]byte{29}, uint32(v)) }
	index := func(list [][]byte) []byte {
		out := append(binary.BigEndian.AppendUint32(nil, uint32(len(list))), 4)
		at := 1
		for i := range len(list) + 1 {
			out = binary.BigEndian.AppendUint32(out, uint32(at))
			if i < len(list) {
				at += len(list[i])
			}
		}
		for _, b := range list {
			out = append(out, b...)
		}
		return out
	}
	var glyphs [][]byte
	for g := range paths.Count() {
		path, err := paths.Outline(g)
		require.NoError(t, err)
		code := drawnCFF(path, 0)[1:] // without an advance
		code = code[:len(code)-1]     // without an end
		if at := 0; len(code) > 0 {   // the first move blends 100 units to the right
			for code[at] != charMove { // its two numbers
				at++
			}
			moved := append([]byte(nil), code[:at]...)
			moved = append(push(push(push(moved, 100), 0), 2), 16)
			code = append(moved, code[at:]...)
		}
		glyphs = append(glyphs, code)
	}
	store := []byte{0, 1, 0, 0, 0, 12, 0, 1, 0, 0, 0, 22, 0, 1, 0, 1, 0, 0, 0x40, 0, 0x40, 0, 0, 0, 0, 0, 0, 1, 0, 0}
	const head, top = 5, 3*5 + 4
	charstrings := index(glyphs)
	at := head + top + 4
	fonts := at + len(charstrings)
	dict := append(append(long(0), long(0)...), dictPrivate)
	list := index([][]byte{dict})
	out := append([]byte{2, 0, head, 0, top}, append(long(at), dictGlyphs)...)
	out = append(append(out, long(fonts)...), 12, 36)
	out = append(append(out, long(fonts+len(list))...), 24)
	out = append(append(append(out, 0, 0, 0, 0), charstrings...), list...)
	tables["CFF2"] = append(append(out, byte(len(store)>>8), byte(len(store))), store...)
	for _, tag := range []string{"glyf", "loca", "gvar"} {
		delete(tables, tag)
	}
	tables["maxp"] = binary.BigEndian.AppendUint16([]byte{0, 0, 0x50, 0}, uint16(paths.Count()))
	return tables
}

// CFF 2 becomes CFF: the same outlines, moved; it can be cut, and renamed, like others.
func TestPinCFF2(t *testing.T) {
	font, err := sfnt.Build(variable2(t))
	require.NoError(t, err)
	f := open(t, font)
	before, err := f.Paths()
	require.NoError(t, err)
	for weight, moved := range map[float64]float32{400: 0, 650: 50, 900: 100} {
		out, err := Open(font, Wish{At: map[string]float64{"wght": weight}, Ending: ".otf", Rename: "Quay Sans", Characters: []rune("AB é")}, Words{})
		require.NoError(t, err)
		require.Empty(t, out.Held)
		after := open(t, out.Data())
		require.Equal(t, sfnt.CFF, after.Format())
		paths, err := after.Paths()
		require.NoError(t, err)
		for _, r := range "ABé" {
			a, err := before.Outline(before.Index(r))
			require.NoError(t, err)
			b, err := paths.Outline(paths.Index(r))
			require.NoError(t, err)
			require.Len(t, b, len(a))
			for i := range a {
				require.InDelta(t, a[i].End()[0]+moved, b[i].End()[0], 0.5)
				require.InDelta(t, a[i].End()[1], b[i].End()[1], 0.5)
			}
			require.Equal(t, before.AdvanceOf(before.Index(r)), paths.AdvanceOf(paths.Index(r)))
		}
	}
	require.Equal(t, []byte{30, 0x0a, 0x00, 0x1f}, real(0.001)) // the decimal point is nibble a, the end f
}
