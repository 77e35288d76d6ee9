package change

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// Prune comes from a ledger that anybody may have edited: only folders go, and
// only empty ones, whatever it names.
func TestPruneTakesEmptyFoldersAlone(t *testing.T) {
	root := project(t, map[string]string{"README.md": "mine", "full/x.txt": "x", "a.txt": "a"})
	s := &Set{Dir: open(t, root), Prune: []string{"README.md", "full", "../outside", "never"}}
	require.NoError(t, s.Write("a.txt", []byte("b")))
	err := apply(t, s)
	require.NoError(t, err)
	require.Equal(t, map[string]string{"README.md": "mine", "full/x.txt": "x", "a.txt": "b"}, tree(t, root))
}
