package colour

import (
	"bytes"
	"encoding/binary"
	"image"
	"image/color"
	"image/png"
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/sfnt"
)

func words(v ...int) (out []byte) {
	for _, n := range v {
		out = binary.BigEndian.AppendUint16(out, uint16(n))
	}
	return out
}

func long(v ...int) (out []byte) {
	for _, n := range v {
		out = binary.BigEndian.AppendUint32(out, uint32(n))
	}
	return out
}

// painted is a table of version 1 with glyph 1 painted, clipped to a box.
func painted(paint []byte) []byte {
	b := append(words(1, 0, 0, 0, 0, 0, 0), long(34, 0, 34+10+len(paint), 0, 0)...)
	b = append(append(append(b, long(1)...), words(1)...), long(10)...)
	b = append(b, paint...)
	b = append(append(b, 1), long(1)...)
	return append(append(b, words(1, 1)...), append([]byte{0, 0, 12, 1}, words(0, 0, 100, 50)...)...)
}

var palette = [][4]uint8{{200, 0, 0, 255}, {0, 0, 200, 255}}

// square is the outline of every glyph: 100 units on each side.
func square(int) sfnt.Path { return rectangle([4]float64{0, 0, 100, 100}) }

func read(t testing.TB, table []byte) (*Paint, error) {
	g, err := parseGraph(table, palette)
	require.NoError(t, err)
	return (&Glyphs{graph: g}).Paint(1, square)
}

func solid(i int) []byte { return append([]byte{2}, words(i, 1<<14)...) }

func TestPaintIsClippedToItsBox(t *testing.T) {
	p, err := read(t, painted(append([]byte{10, 0, 0, 6, 0, 7}, solid(0)...)))
	require.NoError(t, err)
	require.Equal(t, &[4]float64{0, 0, 100, 50}, p.Box)
	require.Equal(t, Clip, p.Op)
	m := Matrix{XX: 0.1, YY: -0.1, DX: 2, DY: 12}
	box, _ := p.Bounds(m)
	require.Equal(t, image.Rect(2, 7, 12, 12), box)
	img, err := p.Draw(m, image.Rect(0, 0, 100, 100), color.NRGBA{})
	require.NoError(t, err)
	require.Equal(t, image.Rect(2, 7, 12, 12), img.Rect)
	for y := 7; y < 12; y++ {
		for x := 2; x < 12; x++ {
			require.Equal(t, color.RGBA{200, 0, 0, 255}, img.RGBAAt(x, y))
		}
	}
	img, err = p.Draw(m, image.Rect(50, 50, 100, 100), color.NRGBA{})
	require.NoError(t, err)
	require.Nil(t, img, "outside of the limits")
}

// What is part of itself, what is not there and what is without bounds is no picture.
func TestPaintsThatDoNotHold(t *testing.T) {
	for name, c := range map[string]struct {
		paint []byte
		want  string
	}{
		"itself":    {[]byte{11, 0, 1}, "expected paints that are not part of themselves"},
		"nowhere":   {[]byte{10, 0xff, 0xff, 0xff, 0, 7}, "expected a paint inside of the table"},
		"no colour": {solid(9), "expected colours of the palette, found number 9 of 2"},
		"a format":  {[]byte{99, 0, 0, 0}, "expected a paint of format 1 to 32, found format 99"},
		"no layers": {[]byte{1, 2, 0, 0, 0, 0}, "expected layers that are there, found 2 from 0"},
		"a mode":    {append([]byte{32, 0, 0, 8, 28, 0, 0, 8}, solid(0)...), "expected a composite mode of 0 to 27, found 28"},
		"a line":    {append([]byte{4, 0, 0, 0}, make([]byte, 12)...), "colour line"},
	} {
		_, err := read(t, painted(c.paint))
		require.ErrorContains(t, err, c.want, name)
	}
	bare := painted(solid(0))
	copy(bare[22:], long(0)) // without the box
	p, err := read(t, bare)
	require.NoError(t, err)
	require.Nil(t, p.Box)
	img, err := p.Draw(Identity, image.Rect(0, 0, 9, 9), color.NRGBA{})
	require.NoError(t, err)
	require.Nil(t, img)
}

// Paints that lead to each other many times over are given up.
func TestPaintsAreCounted(t *testing.T) {
	var paint []byte
	for range 40 { // each leads to the next twice
		paint = append(paint, 32, 0, 0, 8, 3, 0, 0, 8)
	}
	_, err := read(t, painted(append(paint, solid(0)...)))
	require.ErrorContains(t, err, "expected at most 20000 paints, 64 deep, found more")
}

// A paint that would need more room than there is costs too much, before it is drawn.
func TestCost(t *testing.T) {
	inner := append([]byte{10, 0, 0, 6, 0, 7}, solid(0)...)
	paint := inner
	for range 8 {
		n := 8 + len(paint)
		paint = append(append([]byte{32, 0, 0, 8, 3, 0, byte(n >> 8), byte(n)}, paint...), inner...)
	}
	p, err := read(t, painted(paint))
	require.NoError(t, err)
	work, room := p.Cost(Matrix{XX: 1, YY: -1})
	require.True(t, room)
	require.Equal(t, p.Count*100*50, work)
	_, room = p.Cost(Matrix{XX: 30, YY: -30})
	require.False(t, room, "18 pictures of 4.5 million pixels")
	img, err := p.Draw(Matrix{XX: 1, YY: -1, DY: 50}, image.Rect(0, 0, 100, 50), color.NRGBA{})
	require.NoError(t, err)
	require.Equal(t, color.RGBA{200, 0, 0, 255}, img.RGBAAt(50, 25))
}

func TestMatrix(t *testing.T) {
	m := Matrix{2, 1, -1, 3, 5, -7}
	back, ok := m.Inverse()
	require.True(t, ok)
	x, y := back.Apply(m.Apply(11, 13))
	require.InDelta(t, 11, x, 1e-9)
	require.InDelta(t, 13, y, 1e-9)
	_, ok = Matrix{XX: 1, XY: 2, YX: 2, YY: 4}.Inverse()
	require.False(t, ok)
	x, y = Matrix{XX: 0, YX: 1, XY: -1, YY: 0}.around(10, 10).Apply(11, 10)
	require.InDelta(t, 10, x, 1e-9)
	require.InDelta(t, 11, y, 1e-9)
}

// Whatever a mode does, a colour stays one, and nothing over nothing is nothing.
func TestModesStayInside(t *testing.T) {
	colours := [][4]float64{{}, {1, 1, 1, 1}, {0, 0, 0, 1}, {0.5, 0.1, 0, 0.5}, {0, 0.2, 0.7, 0.8}}
	for m := range modes {
		require.Equal(t, [4]float64{}, m.mix([4]float64{}, [4]float64{}), m)
		for _, s := range colours {
			for _, b := range colours {
				for i, v := range m.mix(s, b) {
					require.False(t, math.IsNaN(v) || v < -1e-9 || v > 1+1e-9, "mode %d, channel %d: %g of %v on %v", m, i, v, s, b)
				}
			}
		}
	}
	require.Equal(t, [4]float64{0.25, 0, 0.25, 1}, Mode(23).mix([4]float64{0.5, 0, 0.5, 1}, [4]float64{0.5, 1, 0.5, 1}), "multiply")
}

func pngOf(t testing.TB, w, h int) []byte {
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, image.NewNRGBA(image.Rect(0, 0, w, h))))
	return b.Bytes()
}

// sbix is a table of one strike of three glyphs: none, a picture, and one that stands for it.
func sbix(t testing.TB, form string, picture []byte) []byte {
	b := append(words(1, 1), long(1, 12)...)
	n := 8 + len(picture)
	b = append(append(b, words(32, 72)...), long(20, 20, 20+n, 20+n+10)...)
	b = append(append(append(b, words(3, -4)...), form...), picture...)
	return append(append(b, words(0, 0)...), append([]byte("dupe"), words(1)...)...)
}

func TestSbix(t *testing.T) {
	strikes, err := parseSbix(sbix(t, "png ", pngOf(t, 20, 10)), 3)
	require.NoError(t, err)
	g := &Glyphs{strike: strikes}
	none, err := g.Bitmap(0, 16)
	require.NoError(t, err)
	require.Nil(t, none)
	for glyph := 1; glyph < 3; glyph++ {
		b, err := g.Bitmap(glyph, 16)
		require.NoError(t, err)
		require.Equal(t, []float64{3, 6, 32}, []float64{b.Left, b.Top, b.PPEM})
		require.Equal(t, []int{20, 10}, []int{b.W, b.H})
		small, err := b.Sized(0.5, 0.5, 0.5)
		require.NoError(t, err)
		require.Equal(t, image.Rect(0, 0, 11, 6), small.Rect)
		_, err = b.Sized(1000, 0, 0)
		require.ErrorContains(t, err, "expected a glyph in colour of at most 16 million pixels, found 20000 x 10000")
	}
	whole := pngOf(t, 30, 30)
	strikes, err = parseSbix(sbix(t, "png ", whole[:len(whole)-20]), 3)
	require.NoError(t, err)
	_, err = (&Glyphs{strike: strikes}).Bitmap(1, 16)
	require.ErrorContains(t, err, "picture of glyph 1: ", "cut short behind its measures")
	strikes, err = parseSbix(sbix(t, "tiff", pngOf(t, 2, 2)), 3)
	require.NoError(t, err)
	_, err = (&Glyphs{strike: strikes}).Bitmap(1, 16)
	require.ErrorContains(t, err, `expected a picture of PNG or JPEG for glyph 1, found "tiff"`)
	strikes, err = parseSbix(sbix(t, "png ", pngOf(t, 3000, 1)), 3)
	require.NoError(t, err)
	_, err = (&Glyphs{strike: strikes}).Bitmap(1, 16)
	require.ErrorContains(t, err, "expected one of at most 2048 x 2048 pixels, found png of 3000 x 1")
	_, err = parseSbix(sbix(t, "png ", nil), 30)
	require.ErrorContains(t, err, "expected a strike of 30 glyphs inside of the table")
}

// Pictures of the size that suits: as large, else the largest there is.
func TestStrikes(t *testing.T) {
	var g Glyphs
	picture := pngOf(t, 4, 4)
	for _, ppem := range []int{20, 160, 32, 64} {
		g.strike = append(g.strike, strike{ppem, func(int) (found, error) { return found{data: picture}, nil }})
	}
	for size, want := range map[float64]float64{8: 20, 20: 20, 21: 32, 33: 64, 100: 160, 400: 160} {
		b, err := g.Bitmap(1, size)
		require.NoError(t, err)
		require.Equal(t, want, b.PPEM, size)
	}
}

// cbdt is CBLC and CBDT with glyphs 5 and 6, each in an index of another format.
func cbdt(t testing.TB) (places, data []byte) {
	picture := pngOf(t, 6, 8)
	data = append(words(3, 0), 8, 6, 1, 7, 9)
	data = append(append(data, long(len(picture))...), picture...)
	n := len(data) - 4
	size := append(long(56, 0, 2, 0), make([]byte, 24)...)
	size = append(append(size, words(5, 6)...), 109, 109, 32, 1)
	places = append(append(words(3, 0), long(1)...), size...)
	places = append(append(places, words(5, 5)...), long(16)...)
	places = append(append(places, words(6, 6)...), long(32)...)
	places = append(append(places, words(1, 17)...), long(4, 0, n)...)
	return append(append(places, words(4, 17)...), append(long(4, 1), words(6, 0, 7, n)...)...), data
}

func TestCBDT(t *testing.T) {
	places, data := cbdt(t)
	strikes, err := parseCBDT(places, data)
	require.NoError(t, err)
	g := &Glyphs{strike: strikes}
	for glyph := 5; glyph < 7; glyph++ {
		b, err := g.Bitmap(glyph, 50)
		require.NoError(t, err, glyph)
		require.NotNil(t, b, glyph)
		require.Equal(t, []float64{1, 7, 109}, []float64{b.Left, b.Top, b.PPEM})
		require.Equal(t, []int{6, 8}, []int{b.W, b.H})
	}
	b, err := g.Bitmap(7, 50)
	require.NoError(t, err)
	require.Nil(t, b)
	strikes, err = parseCBDT(places, data[:len(data)-1])
	require.NoError(t, err)
	_, err = (&Glyphs{strike: strikes}).Bitmap(5, 50)
	require.ErrorContains(t, err, "expected glyph 5 inside of the table")
}

// Pictures get the new numbers of their glyphs; one that stands for another does so still, or has its picture.
func TestCutPictures(t *testing.T) {
	table := sbix(t, "png ", pngOf(t, 20, 10))
	whole, err := parseSbix(table, 3)
	require.NoError(t, err)
	want, err := (&Glyphs{strike: whole}).Bitmap(1, 16)
	require.NoError(t, err)
	for _, kept := range [][]int{{0, 1, 2}, {0, 2}, {2}, {1}} {
		b, err := cutSbix(table, 3, kept, func(old int) int { return slices.Index(kept, old) })
		require.NoError(t, err)
		strikes, err := parseSbix(b, len(kept))
		require.NoError(t, err)
		for g, old := range kept {
			got, err := (&Glyphs{strike: strikes}).Bitmap(g, 16)
			require.NoError(t, err)
			if old == 0 {
				require.Nil(t, got)
				continue
			}
			require.Equal(t, want, got, "%d of %v", g, kept)
		}
	}
	places, data := cbdt(t)
	for _, kept := range [][]int{{0, 5, 6, 7}, {6}, {0, 5}, {0}} {
		p, d, err := cutCBDT(places, data, kept)
		require.NoError(t, err)
		strikes, err := parseCBDT(p, d)
		require.NoError(t, err)
		for g, old := range kept {
			got, err := (&Glyphs{strike: strikes}).Bitmap(g, 50)
			require.NoError(t, err)
			require.Equal(t, old == 5 || old == 6, got != nil, "%d of %v", g, kept)
		}
	}
	require.Len(t, runs([]placedPicture{{glyph: 1, form: 17}, {glyph: 2, form: 17}, {glyph: 4, form: 17}, {glyph: 5, form: 18}}), 3)
}

// A graph that was cut paints what it painted, by the new numbers.
func TestCutColours(t *testing.T) {
	table := painted(append(append([]byte{32, 0, 0, 8, 3, 0, 0, 19, 10, 0, 0, 6, 0, 7}, solid(0)...), append([]byte{10, 0, 0, 6, 0, 7}, solid(1)...)...))
	g, err := parseGraph(table, palette)
	require.NoError(t, err)
	want, err := (&Glyphs{graph: g}).Paint(1, square)
	require.NoError(t, err)
	kept := []int{0, 1, 7}
	b, err := CutColours(table, kept, func(old int) int { return slices.Index(kept, old) })
	require.NoError(t, err)
	again, err := parseGraph(b, palette)
	require.NoError(t, err)
	got, err := (&Glyphs{graph: again}).Paint(1, square)
	require.NoError(t, err)
	require.Equal(t, 2, got.Kids[0].Glyph)
	for _, k := range got.Kids {
		k.Glyph = 7
	}
	require.Equal(t, want, got)
	_, err = CutColours(table, []int{0, 1}, func(old int) int { return slices.Index([]int{0, 1}, old) })
	require.ErrorContains(t, err, "expected paints of glyphs that stay, found glyph 7")
	b, err = CutColours(table, []int{0, 7}, func(old int) int { return slices.Index([]int{0, 7}, old) })
	require.NoError(t, err)
	require.Len(t, b, 34+4, "no paint is left")
}

func FuzzPaint(f *testing.F) {
	f.Add(painted(append([]byte{10, 0, 0, 6, 0, 7}, solid(0)...)))
	line := append(append([]byte{2}, words(2)...), words(0, 0, 1<<14, 1<<14, 1, 1<<13)...)
	f.Add(painted(append(append([]byte{10, 0, 0, 6, 0, 7, 6, 0, 0, 16}, words(5, 5, 1, 50, 50, 40)...), line...)))
	f.Add(painted(append(append([]byte{32, 0, 0, 8, 3, 0, 0, 19, 10, 0, 0, 6, 0, 7}, solid(0)...), append([]byte{10, 0, 0, 6, 0, 7}, solid(1)...)...)))
	f.Fuzz(func(_ *testing.T, b []byte) {
		_, _ = CutColours(b, []int{0, 1, 3, 6, 7}, func(old int) int { return old / 2 })
		g, err := parseGraph(b, palette)
		if err != nil {
			return
		}
		p, err := (&Glyphs{graph: g}).Paint(1, square)
		if err == nil && p != nil {
			_, _ = p.Draw(Matrix{XX: 0.2, YY: -0.2, DY: 20}, image.Rect(0, 0, 40, 40), color.NRGBA{A: 255})
		}
	})
}

func FuzzBitmaps(f *testing.F) {
	f.Add(sbix(f, "png ", pngOf(f, 20, 10)), []byte{})
	places, data := cbdt(f)
	f.Add(places, data)
	f.Fuzz(func(_ *testing.T, a, b []byte) {
		_, _ = cutSbix(a, 3, []int{0, 2}, func(old int) int { return old / 2 })
		_, _, _ = cutCBDT(a, b, []int{0, 5, 6})
		for _, parse := range []func() ([]strike, error){func() ([]strike, error) { return parseSbix(a, 3) }, func() ([]strike, error) { return parseCBDT(a, b) }} {
			strikes, err := parse()
			for glyph := 0; glyph < 8 && err == nil; glyph++ {
				if p, err := (&Glyphs{strike: strikes}).Bitmap(glyph, 20); err == nil && p != nil {
					_, _ = p.Sized(0.3, 0.5, 0.5)
				}
			}
		}
	})
}
