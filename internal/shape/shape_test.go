package shape

import (
	"archive/zip"
	"bytes"
	"io"
	"path"
	"testing"

	"github.com/go-text/typesetting/font/opentype/tables"
	"github.com/stretchr/testify/require"

	"notaria/internal/sfnt"
	"notaria/internal/skerry"
)

func drawn(t testing.TB, file string) *Face {
	t.Helper()
	b := fontOf(t, file)
	f, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
	require.NoError(t, err)
	face, err := New(f.Font(0), nil)
	require.NoError(t, err)
	return face
}

func TestLines(t *testing.T) {
	f := drawn(t, "Skerry-Sans regular (1).ttf")
	one, err := f.Lines("07:40 Holm", How{})
	require.NoError(t, err)
	require.Len(t, one, 1)
	require.Len(t, one[0].Glyphs, 10)
	require.Equal(t, 10, one[0].To)
	require.False(t, one[0].Leftward)
	sum := 0.0
	for i, g := range one[0].Glyphs {
		require.Equal(t, i, g.Text)
		require.InDelta(t, sum, g.X, 0.01)
		sum += g.Advance
	}
	require.InDelta(t, sum, one[0].Advance, 0.01)

	tracked, err := f.Lines("07:40 Holm", How{Tracking: 10, Space: 7})
	require.NoError(t, err)
	require.InDelta(t, sum+107, tracked[0].Advance, 0.01)

	// Kerning is on unless it is turned off.
	kerned, err := f.Lines("AV", How{})
	require.NoError(t, err)
	plain, err := f.Lines("AV", How{Features: map[string]bool{"kern": false}})
	require.NoError(t, err)
	require.Less(t, kerned[0].Advance, plain[0].Advance)

	// Broken where a word ends; the space there counts for nothing. Paragraphs stay apart.
	two, err := f.Lines("Holm Holm\n\nQuay", How{Width: one[0].Advance * 0.7})
	require.NoError(t, err)
	require.Len(t, two, 4)
	require.InDelta(t, two[0].Advance, two[1].Advance, 0.01)
	require.Empty(t, two[2].Glyphs)
	require.Len(t, two[3].Glyphs, 4)

	// What the face lacks is named once; what shows nothing is not missed.
	lacks, err := f.Lines("a\u5ca9b\u5ca9\u200d\ufe0f", How{})
	require.NoError(t, err)
	require.Equal(t, []rune{'\u5ca9'}, Missing(lacks))

	// Right to left: the first letter stands last.
	left, err := f.Lines("\u05d0\u05d1", How{})
	require.NoError(t, err)
	require.True(t, left[0].Leftward)
	require.Equal(t, []int{1, 0}, []int{left[0].Glyphs[0].Text, left[0].Glyphs[1].Text})

	_, err = f.Lines(string(make([]byte, MostCharacters+1)), How{})
	require.ErrorContains(t, err, "expected at most 20000 characters in a paragraph")
	for _, odd := range []string{"", "\xff\xfe", "\r\n\r", "a\u2028b", string(rune(0x10FFFF))} {
		_, err := f.Lines(odd, How{Width: 1})
		require.NoError(t, err)
	}
}

// Of ranges that come after one which fills a mask the library passes over some glyphs; a list has all.
func TestCoverageThatWouldBeLost(t *testing.T) {
	wide := []tables.RangeRecord{{StartGlyphID: 10, EndGlyphID: 90}, {StartGlyphID: 300, EndGlyphID: 301, StartCoverageIndex: 81}}
	var f filter
	require.False(t, f.ranges(wide))
	require.False(t, f.has(300))
	left := 100
	list := glyphs(wide, &left)
	require.Len(t, list, 83)
	require.Equal(t, tables.GlyphID(301), list[82])
	require.Equal(t, 17, left)
	require.Nil(t, glyphs(wide, &left), "too many in all")
	left = 100
	require.Nil(t, glyphs(wide[1:], &left), "the ranges count from 0")
	var narrow filter
	require.True(t, narrow.ranges([]tables.RangeRecord{{StartGlyphID: 10, EndGlyphID: 20}, {StartGlyphID: 300, EndGlyphID: 301}}))
	require.True(t, narrow.has(15))
}

// Layout tables of any bytes end in an error or in lines, not in a panic.
func FuzzLayout(f *testing.F) {
	b := fontOf(f, "Skerry-Sans regular (1).ttf")
	file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
	require.NoError(f, err)
	tables, err := file.Font(0).Tables()
	require.NoError(f, err)
	f.Add(tables["GPOS"], tables["GSUB"], tables["GDEF"])
	f.Add([]byte{0, 1, 0, 0, 0, 10, 0, 10, 0, 10}, []byte{}, []byte{0, 1})
	f.Fuzz(func(t *testing.T, gpos, gsub, gdef []byte) {
		for tag, b := range map[string][]byte{"GPOS": gpos, "GSUB": gsub, "GDEF": gdef} {
			delete(tables, tag)
			if len(b) > 0 {
				tables[tag] = b
			}
		}
		made, err := sfnt.Build(tables)
		require.NoError(t, err)
		file, err := sfnt.Open(bytes.NewReader(made), int64(len(made)))
		require.NoError(t, err)
		face, err := New(file.Font(0), nil)
		if err != nil {
			return
		}
		_, _ = face.Lines("AVATAR To. \u05d0 07:40", How{Width: 900})
	})
}

func BenchmarkLines(b *testing.B) {
	f := drawn(b, "Skerry-Sans regular (1).ttf")
	for b.Loop() {
		if _, err := f.Lines("Nordic Line to Holm and Stora Skerry leaves at 07:40 from Quay 2", How{}); err != nil {
			b.Fatal(err)
		}
	}
}

// fontOf is a font of the demo's archive.
func fontOf(t testing.TB, name string) []byte {
	t.Helper()
	b, err := skerry.Archive()
	require.NoError(t, err)
	z, err := zip.NewReader(bytes.NewReader(b), int64(len(b)))
	require.NoError(t, err)
	for _, f := range z.File {
		if path.Base(f.Name) == name {
			r, err := f.Open()
			require.NoError(t, err)
			font, err := io.ReadAll(r)
			require.NoError(t, err)
			return font
		}
	}
	t.Fatalf("no %s in the archive", name)
	return nil
}
