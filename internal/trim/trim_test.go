package trim

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/sfnt"
	"notaria/internal/skerry/letters"
)

func open(t testing.TB, data []byte) *sfnt.Font {
	file, err := sfnt.Open(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	return file.Font(0)
}

func TestCharacters(t *testing.T) {
	data, err := letters.Font(letters.Styles[0])
	require.NoError(t, err)
	f := open(t, data)
	tables, err := Characters(f, sfnt.Coverage{{First: 'A', Last: 'C'}, {First: 'é', Last: 'é'}, {First: 0x4E00, Last: 0x9FFF}})
	require.NoError(t, err)
	small, err := sfnt.Build(tables)
	require.NoError(t, err)
	after := open(t, small)
	coverage, err := after.Coverage()
	require.NoError(t, err)
	require.Equal(t, sfnt.Coverage{{First: ' ', Last: ' '}, {First: 'A', Last: 'C'}, {First: 0xa0, Last: 0xa0}, {First: 'é', Last: 'é'}}, coverage)
	before, err := f.Paths()
	require.NoError(t, err)
	paths, err := after.Paths()
	require.NoError(t, err)
	require.Equal(t, before.Count(), paths.Count(), "glyphs keep their numbers")
	for _, c := range []struct {
		r    rune
		kept bool
	}{{'A', true}, {'C', true}, {'é', true}, {'D', false}, {'e', false}} {
		g := before.Index(c.r)
		want, err := before.Outline(g)
		require.NoError(t, err)
		got, err := paths.Outline(g)
		require.NoError(t, err)
		if !c.kept {
			want = nil
		}
		require.Equal(t, want, got, string(c.r))
		require.Equal(t, before.AdvanceOf(g), paths.AdvanceOf(g))
	}
	require.Less(t, len(small), len(data)/3)
	again, err := Characters(f, sfnt.Coverage{{First: 'A', Last: 'C'}, {First: 'é', Last: 'é'}, {First: 0x4E00, Last: 0x9FFF}})
	require.NoError(t, err)
	require.Equal(t, tables, again)
}

func FuzzCharacters(f *testing.F) {
	data, err := letters.Font(letters.Styles[0])
	require.NoError(f, err)
	tables, err := open(f, data).Tables()
	require.NoError(f, err)
	f.Add(tables["glyf"], tables["loca"], tables["cmap"])
	f.Fuzz(func(t *testing.T, glyf, loca, cmap []byte) {
		wild := map[string][]byte{}
		for tag, b := range tables {
			wild[tag] = b
		}
		wild["glyf"], wild["loca"], wild["cmap"] = glyf, loca, cmap
		data, err := sfnt.Build(wild)
		require.NoError(t, err)
		_, _ = Characters(open(t, data), sfnt.Coverage{{First: 'A', Last: 'z'}})
	})
}

func BenchmarkCharacters(b *testing.B) {
	data, err := letters.Font(letters.Styles[0])
	require.NoError(b, err)
	f := open(b, data)
	for b.Loop() {
		_, err := Characters(f, sfnt.Coverage{{First: 'A', Last: 'z'}})
		require.NoError(b, err)
	}
}
