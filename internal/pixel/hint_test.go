package pixel

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/layout"
	"notaria/internal/sfnt"
	"notaria/internal/skerry/letters"
)

// styled is a style of the demo's face, to draw.
func styled(t testing.TB, st letters.Style) *Source {
	b, err := letters.Font(st)
	require.NoError(t, err)
	file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
	require.NoError(t, err)
	paths, err := file.Font(0).Paths()
	require.NoError(t, err)
	k := layout.NewKerning(file.Font(0))
	require.NotNil(t, k)
	return &Source{Name: st.Name, UnitsPerEm: 1000, Ascent: 960, Descent: -240, Paths: paths, Kern: k}
}

// parts counts the parts of a picture that hang together: of ink (also by corners), and of white
// (not by corners), the white around it counted.
func parts(g Glyph) (ink, white int) {
	w, h := g.Width+2, g.Height+2
	pix := make([]byte, w*h)
	for i, v := range g.Pix {
		if v != 0 {
			pix[(i/g.Width+1)*w+i%g.Width+1] = 1
		}
	}
	seen := make([]bool, w*h)
	for i := range pix {
		if seen[i] {
			continue
		}
		if pix[i] == 1 {
			ink++
		} else {
			white++
		}
		for list := []int{i}; len(list) > 0; {
			at := list[len(list)-1]
			list = list[:len(list)-1]
			if seen[at] {
				continue
			}
			seen[at] = true
			for dy := -1; dy <= 1; dy++ {
				for dx := -1; dx <= 1; dx++ {
					x, y := at%w+dx, at/w+dy
					if x < 0 || y < 0 || x >= w || y >= h || pix[y*w+x] != pix[i] || pix[i] == 0 && dx != 0 && dy != 0 {
						continue
					}
					list = append(list, y*w+x)
				}
			}
		}
	}
	return ink, white
}

// At small sizes hinting loses no stroke, keeps counters open, and gives stems one width; a
// threshold does not.
func TestHintingKeepsStrokesAndCounters(t *testing.T) {
	const text = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789"
	broken := map[bool]int{}
	for _, st := range letters.Styles[:3] {
		s := styled(t, st)
		large, _, err := s.Draw(72, Choice{Characters: []rune(text), Depth: 1})
		require.NoError(t, err)
		for _, em := range []float64{10, 12, 14, 16} {
			for _, hint := range []bool{false, true} {
				f, _, err := s.Draw(em, Choice{Characters: []rune(text), Depth: 1, Hint: hint})
				require.NoError(t, err)
				for i, g := range f.Glyphs {
					ink, white := parts(g)
					wantInk, wantWhite := parts(large.Glyphs[i])
					if ink != wantInk || white < wantWhite {
						broken[hint]++
					}
					if hint {
						require.Equal(t, wantInk, ink, "%s %c at %g", st.Name, g.Rune, em)
					}
				}
			}
		}
	}
	t.Logf("letters with lost strokes or counters: %d by a threshold, %d hinted, of %d", broken[false], broken[true], 3*4*len(text))
	require.Less(t, broken[true]*5, broken[false])
}

// Upright stems of a hinted size are as thick as each other, and letters stand on the line.
func TestHintingEvensStems(t *testing.T) {
	for _, st := range letters.Styles[:3] {
		s := styled(t, st)
		for em := 8.0; em <= 16; em++ {
			f, _, err := s.Draw(em, Choice{Characters: []rune("HILTFEhilmnu"), Depth: 1, Hint: true})
			require.NoError(t, err)
			want := 0
			for _, g := range f.Glyphs {
				require.Zero(t, g.Y, "%s %c at %g", st.Name, g.Rune, em)
				require.Zero(t, g.Advance%Sub)
				at := 1
				if g.Rune >= 'a' { // beside the curves
					at = f.Heights().Capitals * 2 / 5
				}
				row, run := g.row(at), 0
				var runs []int
				for _, v := range append(bytes.Clone(row), 0) {
					if v != 0 {
						run++
					} else if run > 0 {
						runs, run = append(runs, run), 0
					}
				}
				if g.Rune == 'L' || g.Rune == 'E' { // their foot is in that row if it is thick
					continue
				}
				for _, n := range runs {
					if want == 0 {
						want = n
					}
					require.Equal(t, want, n, "%s %c at %g: %v", st.Name, g.Rune, em, row)
				}
			}
		}
	}
}

func TestWish(t *testing.T) {
	s := source(t)
	for _, of := range Groups() {
		for _, hinting := range Hintings {
			w := Wish{Height: 11, Of: of, Hinting: hinting, Choice: Choice{Characters: []rune("0123456789HEFxzvw"), Depth: 1}}
			f, _, err := s.Make(w)
			require.NoError(t, err)
			require.Equal(t, 11, f.height(FitRunes(of)), "%s %s", of, hinting)
		}
	}
	line, _, err := s.Make(Wish{Height: 24, Of: "line", Choice: Choice{Characters: []rune("x"), Depth: 1}})
	require.NoError(t, err)
	require.InDelta(t, 24, line.LineHeight(), 1)
	near := s.Near(Wish{Height: 16, Choice: Choice{Depth: 1}})
	require.Greater(t, len(near), 5)
	require.LessOrEqual(t, near[0].Off, near[1].Off)
	for want, w := range map[string]Wish{
		"a height of 1 to 1024": {Choice: Choice{Depth: 1}}, "a depth of 1, 2, 4 or 8, found 3": {Height: 9, Choice: Choice{Depth: 3}},
		"auto, on, off for hinting": {Height: 9, Hinting: "some", Choice: Choice{Depth: 1}}, "a contrast of 0 to 100": {Height: 9, Choice: Choice{Depth: 1, Contrast: 101}},
		"a gap of 0 to 256": {Height: 9, Choice: Choice{Depth: 1, Gap: -1}},
	} {
		require.ErrorContains(t, w.Check(), want)
	}
}

// Contrast makes shades fewer, and never turns ink into ground.
func TestContrast(t *testing.T) {
	shades := func(contrast int) int {
		f, _, err := source(t).Draw(24, Choice{Characters: []rune("Sage80"), Depth: 4, Contrast: contrast})
		require.NoError(t, err)
		n := 0
		for _, g := range f.Glyphs {
			for _, v := range g.Pix {
				if v > 0 && v < 15 {
					n++
				}
			}
		}
		return n
	}
	require.Greater(t, shades(0), shades(50))
	require.Greater(t, shades(50), 3*shades(100))
}

func TestSpacing(t *testing.T) {
	s := styled(t, letters.Styles[1])
	plain, _, err := s.Draw(20, Choice{Characters: []rune("AVTo"), Depth: 1})
	require.NoError(t, err)
	require.Empty(t, plain.Kerns)
	f, _, err := s.Draw(20, Choice{Characters: []rune("AVTo"), Depth: 1, Kerning: true})
	require.NoError(t, err)
	require.Negative(t, f.Kern('A', 'V'))
	w, _ := f.Width("AV")
	u, _ := plain.Width("AV")
	require.Equal(t, u+f.Kern('A', 'V'), w)
	require.Zero(t, f.Kern('V', 'x'))
	f, _, err = s.Draw(20, Choice{Characters: []rune("AVTo"), Depth: 1, Kerning: true, Gap: 3})
	require.NoError(t, err)
	for _, l := range f.Glyphs {
		for _, r := range f.Glyphs {
			near := l
			near.Advance += f.Kern(l.Rune, r.Rune)
			require.GreaterOrEqual(t, white(near, r), 3, "%c%c", l.Rune, r.Rune)
		}
	}
	boxed, lacks, err := s.Draw(20, Choice{Characters: []rune("A岩島"), Depth: 2, Missing: Box})
	require.NoError(t, err)
	require.Equal(t, []rune("岩島"), lacks)
	g, ok := boxed.Glyph('岩')
	require.True(t, ok)
	ink, inside := parts(g)
	require.Equal(t, []int{1, 2}, []int{ink, inside})
	boxed, _, err = s.Draw(20, Choice{Characters: []rune("A岩"), Depth: 2, Missing: 'A'})
	require.NoError(t, err)
	a, _ := boxed.Glyph('A')
	g, _ = boxed.Glyph('岩')
	require.Equal(t, a.Pix, g.Pix)
}

// The widths of U8g2's runs are searched: never larger than with fixed ones, in all of the demo's faces.
func TestU8g2IsSmallerThanWithFixedWidths(t *testing.T) {
	sum, fixed := 0, 0
	draws := map[string]func() ([]byte, error){"Beacon": letters.Beacon, "Lantern": letters.Lantern}
	for _, st := range letters.Styles {
		draws[st.Name] = func() ([]byte, error) { return letters.Font(st) }
	}
	for name, draw := range draws {
		b, err := draw()
		require.NoError(t, err)
		file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
		require.NoError(t, err)
		paths, err := file.Font(0).Paths()
		require.NoError(t, err)
		s := &Source{Name: name, UnitsPerEm: 1000, Ascent: 960, Descent: -240, Paths: paths}
		for _, em := range []float64{8, 12, 20, 32} {
			f, _, err := s.Draw(em, Choice{Characters: ascii, Depth: 1, Hint: true})
			require.NoError(t, err)
			best, err := f.U8G2Bytes()
			require.NoError(t, err)
			w := f.u8g2Fields()
			for w.zeros = 1; w.zeros <= 8 && em > 8; w.zeros += 2 { // what is counted is what is written
				for w.ones = 1; w.ones <= 8; w.ones++ {
					if out, err := f.u8g2(w); err == nil {
						require.GreaterOrEqual(t, len(out), len(best), "%s at %g: %+v", name, em, w)
					}
				}
			}
			w.zeros, w.ones = 4, 4
			plain, err := f.u8g2(w)
			require.NoError(t, err)
			require.LessOrEqual(t, len(best), len(plain), "%s at %g", name, em)
			sum, fixed = sum+len(best), fixed+len(plain)
		}
	}
	t.Logf("%d bytes with searched widths, %d with runs of 4 bits: %.1f %% less", sum, fixed, 100-100*float64(sum)/float64(fixed))
	require.Less(t, sum, fixed)
}
