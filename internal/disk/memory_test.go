//go:build unix

package disk

import (
	"io/fs"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"
)

func TestRemember(t *testing.T) {
	f, root := folder(t)
	write(t, root, "a/b/x", "one")
	write(t, root, "a/y", "there")
	require.NoError(t, os.Symlink("../y", filepath.Join(root, "a/b/link")), "out of its folder, and in the project")
	require.NoError(t, os.Symlink("/etc/passwd", filepath.Join(root, "a/b/out")))
	asked := map[string]int{}
	f.Before = func(op, name string) error { asked[op+" "+name]++; return nil }
	f.Remember()
	read := func(name string) string {
		b, err := f.Read(name, 10)
		require.NoError(t, err)
		return string(b)
	}
	require.Equal(t, "one", read("a/b/x"))
	_, err := f.Read("a/b/none", 10)
	require.ErrorIs(t, err, fs.ErrNotExist)
	write(t, root, "a/b/x", "two")
	write(t, root, "a/b/none", "now")
	require.Equal(t, "one", read("a/b/x"), "a run sees one state")
	_, err = f.Read("a/b/none", 10)
	require.ErrorIs(t, err, fs.ErrNotExist)
	require.Equal(t, map[string]int{"open a/b/x": 1, "read a/b/x": 1, "open a/b/none": 1}, asked)
	fresh, err := f.Fresh("a/b/x", 10)
	require.NoError(t, err)
	require.Equal(t, "two", string(fresh))
	var large *TooLargeError
	_, err = f.Read("a/b/x", 2)
	require.ErrorAs(t, err, &large)
	require.Equal(t, "there", read("a/b/link"))
	_, err = f.Read("a/b/out", 10)
	require.ErrorContains(t, err, "leads out of it")
	f.Listed(func(string) bool { return true })
	_, err = f.Read("a/b", 10)
	require.ErrorContains(t, err, "found a folder", "a listing can be old")
	f.Forget()
	require.Equal(t, "two", read("a/b/x"))
}

func TestVerify(t *testing.T) {
	Verify = true
	defer func() { Verify = false }()
	f, root := folder(t)
	write(t, root, "x", "one")
	f.Remember()
	b, err := f.Read("x", 10)
	require.NoError(t, err)
	b[0] = 'X'
	require.Panics(t, f.Forget)
	b[0] = 'o'
	f.Forget()
}
