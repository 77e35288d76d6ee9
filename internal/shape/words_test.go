package shape

import (
	"bytes"
	"encoding/binary"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/sfnt"
)

func u16s(list ...int) (out []byte) {
	for _, v := range list {
		out = binary.BigEndian.AppendUint16(out, uint16(v))
	}
	return out
}

// A font of icons makes them of words: the words are listed, and ligatures of letters alone are not.
func TestWords(t *testing.T) {
	b := fontOf(t, "Skerry-Sans regular (1).ttf")
	file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
	require.NoError(t, err)
	tables, err := file.Font(0).Tables()
	require.NoError(t, err)
	plain, err := New(file.Font(0), nil)
	require.NoError(t, err)
	require.Empty(t, plain.Words())

	var want []string
	for c := byte('b'); c < 'n'; c++ {
		want = append(want, "qu"+string(c)+"y_2")
	}
	tables["GSUB"] = ligatures4(plain, append(slices.Clone(want), "qu"))
	made, err := sfnt.Build(tables)
	require.NoError(t, err)
	file, err = sfnt.Open(bytes.NewReader(made), int64(len(made)))
	require.NoError(t, err)
	icons, err := New(file.Font(0), nil)
	require.NoError(t, err)
	require.Equal(t, want, icons.Words())
	lines, err := icons.Lines("quby_2", How{})
	require.NoError(t, err)
	require.Len(t, lines[0].Glyphs, 1, "the word is one glyph")
}

// ligatures4 is a table of ligatures of words that all begin with q (OpenType, GSUB, lookup type 4), each of which becomes the glyph of A.
func ligatures4(f *Face, words []string) []byte {
	var set, body []byte
	at := 2 + 2*len(words)
	for _, w := range words {
		l := u16s(f.Paths.Index('A'), len(w))
		for _, r := range w[1:] {
			l = append(l, u16s(f.Paths.Index(r))...)
		}
		set, body = append(set, u16s(at+len(body))...), append(body, l...)
	}
	set = slices.Concat(u16s(len(words)), set, body)
	coverage := u16s(1, 1, f.Paths.Index('q'))
	sub := slices.Concat(u16s(1, 8, 1, 8+len(coverage)), coverage, set)
	lookup := slices.Concat(u16s(4, 0, 1, 8), sub)
	script := slices.Concat(u16s(1), []byte("DFLT"), u16s(8, 4, 0, 0, 0xFFFF, 1, 0))
	feature := slices.Concat(u16s(1), []byte("liga"), u16s(8, 0, 1, 0))
	return slices.Concat(u16s(1, 0, 10, 10+len(script), 10+len(script)+len(feature)), script, feature, u16s(1, 4), lookup)
}
