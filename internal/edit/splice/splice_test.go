package splice

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func TestApply(t *testing.T) {
	tests := []struct {
		name  string
		edits []Edit
		want  string
		fails string
	}{
		{"none", nil, "abcdef", ""},
		{"out of order", []Edit{Replace(4, 5, "E"), Replace(0, 1, "A")}, "AbcdEf", ""},
		{"side by side", []Edit{Replace(0, 2, "1"), Replace(2, 4, "2")}, "12ef", ""},
		{"insertions in their order", []Edit{Replace(3, 3, "1"), Replace(3, 3, "2")}, "abc12def", ""},
		{"an insertion where a removal begins", []Edit{Replace(2, 4, ""), Replace(2, 2, "X")}, "abXef", ""},
		{"an insertion where a removal ends", []Edit{Replace(2, 4, ""), Replace(4, 4, "X")}, "abXef", ""},
		{"overlapping", []Edit{Replace(0, 3, ""), Replace(2, 4, "")}, "", "edits of the bytes 0 to 3 and 2 to 4 overlap"},
		{"one in the other", []Edit{Replace(0, 6, ""), Replace(2, 2, "x")}, "", "overlap"},
		{"twice the same", []Edit{Replace(1, 2, ""), Replace(1, 2, "")}, "", "overlap"},
		{"outside", []Edit{Replace(5, 9, "")}, "", "a text of 6"},
		{"backwards", []Edit{Replace(3, 2, "")}, "", "a text of 6"},
	}
	for _, tt := range tests {
		t.Run(tt.name, func(t *testing.T) {
			doc := []byte("abcdef")
			out, err := Apply(doc, tt.edits)
			require.Equal(t, "abcdef", string(doc), "the document itself is never changed")
			if tt.fails != "" {
				require.ErrorContains(t, err, tt.fails)
				require.Nil(t, out, "nothing is half made")
				return
			}
			require.NoError(t, err)
			require.Equal(t, tt.want, string(out))
		})
	}
}

func TestLines(t *testing.T) {
	doc := []byte("a\n\tb  \r\nc d")
	require.Equal(t, 2, LineStart(doc, 4))
	require.Equal(t, 8, LineEnd(doc, 4))
	require.Equal(t, 3, LineOf(doc, 9))
	require.Equal(t, "\t", IndentOf(doc, 4))
	require.Equal(t, "\n", Newline(doc))
	require.Equal(t, Replace(2, 8, ""), WholeLines(doc, 3, 4))
	require.Equal(t, Replace(10, 11, ""), WholeLines(doc, 10, 11))
	require.Equal(t, Replace(9, 11, ""), WholeRange(doc, 10, 11), "the space before it goes, too")
}
