package terminal

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

func TestTidyShowsWhatATerminalWouldObey(t *testing.T) {
	require.Equal(t, "plain é 岩 🚢", Tidy("plain é 岩 🚢"))
	require.Equal(t, `red\x1b[31m bell\a`, Tidy("red\x1b[31m bell\a"))
	require.Equal(t, `rtl\u202e.`, Tidy("rtl\u202e."))
	require.Equal(t, "a b", Line("a\nb"))
	require.Equal(t, 120, Span(Cell(strings.Repeat("x", 5000))))
}

func TestSpan(t *testing.T) {
	for s, n := range map[string]int{"abc": 3, "岩礁": 4, "é": 1, "e\u0301": 1, "": 0} {
		require.Equal(t, n, Span(s), "%q", s)
	}
}

// A table never wraps: where it is too wide, its last column goes below.
func TestTableNeverWraps(t *testing.T) {
	tab := Table{Head: []string{"style", "name", "file"}, Rows: [][]string{{"Bold", strings.Repeat("n", 30), strings.Repeat("f", 50)}}}
	_, wide := tab.Lines(160)
	require.Len(t, strings.Split(wide[0], "\n"), 1)
	head, narrow := tab.Lines(80)
	require.NotContains(t, head, "file")
	lines := strings.Split(narrow[0], "\n")
	require.Len(t, lines, 2)
	for _, l := range lines {
		require.LessOrEqual(t, Span(l), 80)
	}
}
