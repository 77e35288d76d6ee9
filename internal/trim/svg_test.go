package trim

import (
	"encoding/binary"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/sfnt"
	"notaria/internal/skerry/letters"
)

// drawings is a table SVG with a document for each range of glyphs.
func drawings(ranges [][2]int, texts ...string) []byte {
	out := []byte{0, 0, 0, 0, 0, 10, 0, 0, 0, 0}
	out = append(out, numbers(len(ranges))...)
	at := 2 + 12*len(ranges)
	for i, r := range ranges {
		out = append(out, numbers(r[0], r[1])...)
		out = binary.BigEndian.AppendUint32(out, uint32(at))
		out = binary.BigEndian.AppendUint32(out, uint32(len(texts[i])))
		at += len(texts[i])
	}
	for _, s := range texts {
		out = append(out, s...)
	}
	return out
}

// A font of drawings keeps those whose glyphs stay, by their numbers.
func TestDrawingsStay(t *testing.T) {
	data, err := letters.Font(letters.Styles[0])
	require.NoError(t, err)
	f := open(t, data)
	tables, err := f.Tables()
	require.NoError(t, err)
	paths, err := f.Paths()
	require.NoError(t, err)
	a, b := paths.Index('A'), paths.Index('B')
	tables["SVG "] = drawings([][2]int{{a, a}, {b, b + 3}, {b + 4, b + 9}}, "<svg>A</svg>", "<svg>B to E</svg>", "<svg>others</svg>")
	font, err := sfnt.Build(tables)
	require.NoError(t, err)
	out, err := Open(font, Wish{Characters: []rune("A"), Ending: ".ttf"}, Words{})
	require.NoError(t, err)
	require.Equal(t, "SVG ", out.Held)
	got, err := open(t, out.Data()).Table("SVG ")
	require.NoError(t, err)
	require.Equal(t, drawings([][2]int{{a, a}}, "<svg>A</svg>"), got)
	for _, broken := range [][]byte{nil, {0, 1}, drawings([][2]int{{a, a}}, "<svg>")[:26]} {
		marked := make([]bool, a+1)
		marked[a] = true
		_, err := keptSVG(broken, marked)
		require.Error(t, err)
	}
}

func FuzzSVG(f *testing.F) {
	f.Add(drawings([][2]int{{1, 2}, {4, 4}}, "<svg/>", "<svg></svg>"))
	f.Fuzz(func(t *testing.T, b []byte) {
		if out, err := keptSVG(b, []bool{true, false, true, false, true}); err == nil {
			_, err = keptSVG(out, []bool{true, false, true, false, true})
			require.NoError(t, err)
		}
	})
}
