package sfnt_test

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/sfnt"
	"notaria/internal/skerry/letters"
)

func drawnFont(t testing.TB, style int) []byte {
	b, err := letters.Font(letters.Styles[style])
	require.NoError(t, err)
	return b
}

func glyphsOf(b []byte) (*sfnt.Font, *sfnt.Glyphs, error) {
	file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
	if err != nil {
		return nil, nil, err
	}
	g, err := file.Font(0).Glyphs()
	return file.Font(0), g, err
}

// What the character map covers has an advance, and nothing else has.
func TestGlyphsAgreeWithCoverage(t *testing.T) {
	font, g, err := glyphsOf(drawnFont(t, 1))
	require.NoError(t, err)
	cover, err := font.Coverage()
	require.NoError(t, err)
	for r := rune(0); r < 0x2200; r++ {
		_, ok := g.Advance(r)
		require.Equal(t, cover.Has(r), ok, "%U", r)
	}
	wide, _ := g.Advance('W')
	narrow, _ := g.Advance('i')
	require.Greater(t, wide, narrow)
	box, ok := g.Box('H')
	require.True(t, ok)
	require.Zero(t, box.YMin)
	require.Equal(t, 700, box.YMax, "the height of capitals")
	_, ok = g.Box(' ')
	require.False(t, ok, "nothing is drawn")
}

// Formats of the character map that drawn fonts do not have.
func TestGlyphFormats(t *testing.T) {
	groups := func(format byte) []byte {
		return append([]byte{0, format, 0, 0, 0, 0, 0, 28, 0, 0, 0, 0, 0, 0, 0, 1}, 0, 0, 0, 65, 0, 0, 0, 67, 0, 0, 0, 5)
	}
	trimmed := []byte{0, 6, 0, 14, 0, 0, 0, 65, 0, 2, 0, 9, 0, 7, 0, 99}
	for _, tt := range []struct {
		sub  []byte
		r    rune
		want int
	}{{groups(12), 'A', 5}, {groups(12), 'C', 7}, {groups(12), 'D', 0}, {groups(12), '@', 0}, {groups(13), 'C', 5}, {trimmed, 'A', 9}, {trimmed, 'B', 7}, {trimmed, 'C', 0}, {trimmed, '@', 0}, {trimmed[:10], 'A', 0}} {
		require.Equal(t, tt.want, sfnt.GlyphIn(tt.sub, tt.r), "%v %c", tt.sub, tt.r)
	}
}

func FuzzGlyphLookups(f *testing.F) {
	f.Add(drawnFont(f, 0), int32('A'))
	f.Fuzz(func(t *testing.T, b []byte, r int32) {
		if _, g, err := glyphsOf(b); err == nil {
			g.Advance(rune(r))
			g.Box(rune(r))
		}
	})
}
