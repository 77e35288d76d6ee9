package letters

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/face"
	"notaria/internal/sfnt"
)

func readBack(t *testing.T, st Style) face.Face {
	t.Helper()
	b, err := Font(st)
	require.NoError(t, err)
	file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
	require.NoError(t, err)
	f, problems, err := face.Read(file.Font(0), face.Options{Coverage: true, Records: true})
	require.NoError(t, err)
	require.Empty(t, problems)
	return f
}

func TestStylesAreNamedAndMeasured(t *testing.T) {
	for _, st := range Styles {
		t.Run(st.Name, func(t *testing.T) {
			f := readBack(t, st)
			require.Equal(t, "SkerrySans-"+st.Name, f.PostScript)
			require.Equal(t, "Skerry Sans", f.Family)
			require.Equal(t, st.Name, f.Style)
			require.Equal(t, int(st.Weight), f.Weight)
			require.Equal(t, st.Slant != 0, f.Slant == face.Italic)
			require.Equal(t, "sans", f.Category)
			require.Equal(t, "installable", f.Embedding)
			require.Equal(t, []string{"Latn"}, f.Scripts)
			require.NotEmpty(t, f.License)
		})
	}
}

// Capstan Slab is a slab by its name and by its mark (PANOSE), has what Skerry Sans has, and stands on feet:
// an I is wider than its stem, and has more ink at its foot than in its middle.
func TestCapstanStandsOnFeet(t *testing.T) {
	for _, st := range capstans {
		f := readBack(t, st)
		require.Equal(t, "CapstanSlab-"+st.Name, f.PostScript)
		require.Equal(t, "slab", f.Category)
		glyphs, cmap := draw(st)
		_, sans := draw(Styles[1])
		require.Len(t, cmap, len(sans))
		left, right := 9999, -9999
		for _, c := range glyphs[cmap['I']].Contours {
			for _, p := range c {
				left, right = min(left, int(p.X)), max(right, int(p.X))
			}
		}
		require.InDelta(t, st.Stem+2*st.Slab, right-left, 12)
		require.GreaterOrEqual(t, left, 10, "feet of neighbours do not touch")
		require.GreaterOrEqual(t, int(glyphs[cmap['I']].Advance)-right, 10)
	}
}

// Every character of ASCII, every letter of Latin-1, and what UI text needs.
func TestCoversWhatAnAppWrites(t *testing.T) {
	need := "–—‘’‚“”„•…‹›€−→←ŠšŽžŒœ"
	for r := rune(0x20); r < 0x7f; r++ {
		need += string(r)
	}
	for r := rune(0xa1); r <= 0xff; r++ {
		need += string(r)
	}
	_, cmap := draw(Styles[1])
	for _, r := range need {
		switch r {
		case '¤', '¼', '½', '¾':
			continue // not letters, and not drawn
		}
		require.Contains(t, cmap, r, "%c", r)
	}
}

// What makes text look even: digits share a width, heavier styles are wider and
// darker, curves overshoot, and no letter spills over its neighbours by much.
func TestEvenness(t *testing.T) {
	var last float64
	for _, st := range Styles[:3] {
		glyphs, cmap := draw(st)
		width := glyphs[cmap['0']].Advance
		for _, r := range "123456789" {
			require.Equal(t, width, glyphs[cmap[r]].Advance, "%c", r)
		}
		ink := 0.0
		for _, r := range "handgloves" {
			for _, c := range glyphs[cmap[r]].Contours {
				ink -= area(c)
			}
		}
		require.Greater(t, ink, last*1.25, "%s is darker than the style before", st.Name)
		last = ink
		_, low, _, high, _ := glyphs[cmap['o']].Bounds()
		require.Less(t, int(low), 0)
		require.Greater(t, int(high), xHeight)
		for r, g := range cmap {
			x0, _, x1, _, ok := glyphs[g].Bounds()
			if ok && r != 'j' && r != 'ȷ' && r != '€' && r != 'Ð' {
				require.Greater(t, int(x0), -60, "%c", r)
				require.Less(t, int(x1), int(glyphs[g].Advance)+60, "%c", r)
			}
		}
	}
}

func TestItalicIsDrawnNotSlanted(t *testing.T) {
	upright, cmap := draw(Styles[1])
	italic, _ := draw(Styles[3])
	for _, r := range "af" {
		require.NotEqual(t, len(upright[cmap[r]].Contours[0]), len(italic[cmap[r]].Contours[0]), "%c has a form of its own", r)
	}
}

func BenchmarkFont(b *testing.B) {
	for b.Loop() {
		if _, err := Font(Styles[1]); err != nil {
			b.Fatal(err)
		}
	}
}
