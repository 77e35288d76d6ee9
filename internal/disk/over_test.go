package disk

import (
	"bytes"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"
)

// What is ours is exchanged whole; what is not stays, and nothing is left beside it.
func TestWriteOver(t *testing.T) {
	name := filepath.Join(t.TempDir(), "deep/page.html")
	ours := func(old []byte) bool { return bytes.HasPrefix(old, []byte("ours")) }
	for _, text := range []string{"ours 1", "ours 2", "theirs"} {
		require.NoError(t, WriteOver(name, []byte(text), ours))
	}
	require.ErrorIs(t, WriteOver(name, []byte("ours 3"), ours), ErrOthers)
	got, err := os.ReadFile(name)
	require.NoError(t, err)
	require.Equal(t, "theirs", string(got))
	require.Error(t, WriteOver(filepath.Dir(name), []byte("x"), ours), "a folder")
	list, err := os.ReadDir(filepath.Dir(name))
	require.NoError(t, err)
	require.Len(t, list, 1)
}
