//go:build linux || darwin

package disk

import (
	"errors"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"testing"

	"github.com/stretchr/testify/require"
	"golang.org/x/sys/unix"
)

func folder(t *testing.T) (*Folder, string) {
	t.Helper()
	root := t.TempDir()
	f, err := Open(root)
	require.NoError(t, err)
	t.Cleanup(func() { f.Close() })
	return f, root
}

func write(t *testing.T, root, name, text string) {
	t.Helper()
	full := filepath.Join(root, name)
	require.NoError(t, os.MkdirAll(filepath.Dir(full), 0o755))
	require.NoError(t, os.WriteFile(full, []byte(text), 0o644))
}

func TestIsVersionControl(t *testing.T) {
	for _, name := range []string{".git", ".GIT", ".Git ", ".git.", ".git . .", "git~1", "GIT~2", ".hg", ".svn", ".jj", ".g\u200cit", ".gi\u200dt", "\ufeff.git", ".git::$INDEX_ALLOCATION", ".git:x", "．git", ".ｇit", ".bzr", "_darcs"} {
		require.True(t, IsVersionControl(name), "%q", name)
	}
	for _, name := range []string{"git", ".gitignore", ".github", ".gitattributes", "git~", "git~12", ".gitt", "my.git", "digit~1", "hg"} {
		require.False(t, IsVersionControl(name), "%q", name)
	}
}

func TestIsReserved(t *testing.T) {
	for _, name := range []string{"CON", "con.ttf", "Aux", "nul.tar.gz", "COM1", "lpt9.x", "COM¹", "CONIN$", "a:b", "a?", "a.", "a ", "a\x01b", `a\b`, "prn .x"} {
		require.True(t, IsReserved(name), "%q", name)
	}
	for _, name := range []string{"console.ttf", "COM10", "comx", "aux1.c", "a.b", ".x", "lpt", "ÆØ漢.ttf"} {
		require.False(t, IsReserved(name), "%q", name)
	}
}

// Nothing but regular files of a size is opened, and nothing outside.
func TestRegular(t *testing.T) {
	f, root := folder(t)
	write(t, root, "a/x", "0123456789")
	outside := filepath.Join(t.TempDir(), "secret")
	require.NoError(t, os.WriteFile(outside, []byte("s"), 0o644))
	require.NoError(t, os.Symlink("a/x", filepath.Join(root, "inside")))
	require.NoError(t, os.Symlink(outside, filepath.Join(root, "out")))
	require.NoError(t, os.Symlink(filepath.Dir(outside), filepath.Join(root, "outdir")))
	require.NoError(t, os.Symlink("loop", filepath.Join(root, "loop")))
	require.NoError(t, syscall.Mkfifo(filepath.Join(root, "pipe"), 0o644))
	for name, want := range map[string]string{"a/x": "", "inside": "", "a": "found a folder", "pipe": "found a pipe", "out": "leads out of it", "outdir/secret": "leads out of it", "../x": "leads out of it", "/etc/passwd": "leads out of it", "loop": "", "none": ""} {
		b, err := f.Read(name, 10)
		switch {
		case want != "":
			require.ErrorContains(t, err, want, name)
		case name == "loop":
			require.Error(t, err)
		case name == "none":
			require.ErrorIs(t, err, fs.ErrNotExist)
		default:
			require.NoError(t, err, name)
			require.Equal(t, "0123456789", string(b))
		}
	}
	_, err := f.Read("a/x", 9)
	require.ErrorContains(t, err, "expected a file of at most 9 bytes, found 10 bytes")
	_, _, err = Regular(filepath.Join(root, "pipe"), 10)
	require.ErrorContains(t, err, "found a pipe")
	_, err = f.Sum("inside", 100)
	require.ErrorContains(t, err, "found a symbolic link")
}

// Nothing is written through a link, into version control, or outside.
func TestWhereNothingIsWritten(t *testing.T) {
	f, root := folder(t)
	write(t, root, "a/x", "x")
	write(t, root, ".git/hooks/y", "y")
	require.NoError(t, os.Symlink("a", filepath.Join(root, "link")))
	require.NoError(t, os.Symlink(".git", filepath.Join(root, "git")))
	write(t, root, "file", "")
	for _, name := range []string{"link/new", "git/new", ".git/new", ".GIT./hooks/new", "../new", "/tmp/new", "file/new", "none/new"} {
		require.Error(t, f.Create(name, nil, ""), name)
		require.Error(t, f.Mkdir(name), name)
	}
	for _, name := range []string{"link/x", "git/hooks/y", ".git/hooks/y"} {
		require.Error(t, f.Remove(name), name)
		require.Error(t, f.Move(name, name+"2"), name)
		require.Error(t, f.Swap(name, name+"2"), name)
		require.Error(t, f.Replace(name, name+"2"), name)
	}
	require.Error(t, f.RemoveFolder(".git"))
	require.Error(t, f.Remove("a"), "a folder")
	require.ErrorContains(t, f.Writable("link/new", "link"), "a symbolic link, through which nothing is written")
	require.ErrorContains(t, f.Writable(".git/new", ".git"), "version control")
	require.ErrorContains(t, f.Mkdir("CON"), "Windows reserves")
	require.ErrorIs(t, f.Create("a/x", []byte("new"), ""), fs.ErrExist, "a name that is taken")
	require.NoError(t, f.Remove("link"), "a link itself is a file")
	require.FileExists(t, filepath.Join(root, "a/x"))
}

func TestMoveAndSwap(t *testing.T) {
	f, root := folder(t)
	write(t, root, "d/a", "a")
	write(t, root, "d/b", "b")
	require.ErrorIs(t, f.Move("d/a", "d/b"), fs.ErrExist)
	require.ErrorIs(t, linkedIn(f, "a", "b"), fs.ErrExist, "where the system has no such operation")
	if err := f.Swap("d/a", "d/b"); !errors.Is(err, errors.ErrUnsupported) {
		require.NoError(t, err)
		b, err := os.ReadFile(filepath.Join(root, "d/a"))
		require.NoError(t, err)
		require.Equal(t, "b", string(b))
	}
	require.NoError(t, f.Move("d/a", "d/c"))
	require.NoError(t, linkedIn(f, "c", "e"))
	require.True(t, f.Missing("d/c"))
	require.NoError(t, f.Sync("d"))
	require.Error(t, f.RemoveFolder("d"), "it is not empty")
}

func linkedIn(f *Folder, from, to string) error {
	dir, _, err := f.parent("d/x")
	if err != nil {
		return err
	}
	defer dir.Close()
	return linked(dir, from, to)
}

// What takes a file's place has its rights, its owner and its attributes; what is new has
// those that the system gives.
func TestAttributes(t *testing.T) {
	f, root := folder(t)
	write(t, root, "old", "old")
	full := filepath.Join(root, "old")
	require.NoError(t, os.Chmod(full, 0o750))
	has := unix.Setxattr(full, "user.notaria", []byte("kept"), 0) == nil
	if os.Geteuid() == 0 {
		require.NoError(t, os.Chown(full, 1234, 1235))
	}
	require.NoError(t, f.Create("new", []byte("new"), "old"))
	was, err := os.Stat(full)
	require.NoError(t, err)
	is, err := os.Stat(filepath.Join(root, "new"))
	require.NoError(t, err)
	require.Equal(t, was.Mode(), is.Mode())
	require.Equal(t, was.Sys().(*syscall.Stat_t).Uid, is.Sys().(*syscall.Stat_t).Uid)
	require.Equal(t, was.Sys().(*syscall.Stat_t).Gid, is.Sys().(*syscall.Stat_t).Gid)
	if has {
		value := make([]byte, 10)
		n, err := unix.Getxattr(filepath.Join(root, "new"), "user.notaria", value)
		require.NoError(t, err)
		require.Equal(t, "kept", string(value[:n]))
	}

	mask := syscall.Umask(0o027)
	defer syscall.Umask(mask)
	require.NoError(t, f.Mkdir("made"))
	require.NoError(t, f.Create("made/x", nil, ""))
	info, err := os.Stat(filepath.Join(root, "made/x"))
	require.NoError(t, err)
	require.Equal(t, fs.FileMode(0o640), info.Mode().Perm(), "what the user's mask leaves")
	if os.Geteuid() == 0 { // root at work in somebody's tree
		require.NoError(t, os.Chown(filepath.Join(root, "made"), 1234, 1235))
		require.NoError(t, f.Mkdir("made/by-root"))
		require.NoError(t, f.Create("made/by-root/y", nil, ""))
		info, err = os.Stat(filepath.Join(root, "made/by-root/y"))
		require.NoError(t, err)
		require.EqualValues(t, 1234, info.Sys().(*syscall.Stat_t).Uid)
	}
}

// An operation that is refused leaves what a full disk leaves.
func TestBefore(t *testing.T) {
	f, root := folder(t)
	f.Before = func(op, name string) error {
		if op == "write" {
			return syscall.ENOSPC
		}
		return nil
	}
	require.ErrorIs(t, f.Create("x", []byte("0123456789"), ""), syscall.ENOSPC)
	b, err := os.ReadFile(filepath.Join(root, "x"))
	require.NoError(t, err)
	require.Equal(t, "01234", string(b))
}

func TestBeside(t *testing.T) {
	a, b := Beside("a/b.ttf", "new"), Beside("a/b.ttf", "new")
	require.NotEqual(t, a, b)
	require.Regexp(t, `^a/\.b\.ttf\.notaria-new-[0-9a-f]{16}$`, a)
	long := Beside(strings.Repeat("漢", 80)+".ttf", "old")
	require.Less(t, len(long), 150)
	require.True(t, strings.HasPrefix(long, ".漢漢"))
}

func TestState(t *testing.T) {
	home := t.TempDir()
	t.Setenv("HOME", home)
	t.Setenv("XDG_STATE_HOME", "relative")
	none, err := State(false)
	require.NoError(t, err)
	require.Nil(t, none, "looking makes nothing")
	s, err := State(true)
	require.NoError(t, err)
	defer s.Close()
	require.Equal(t, filepath.Join(home, ".local/state/notaria"), s.Path())
	info, err := os.Stat(s.Path())
	require.NoError(t, err)
	require.Equal(t, fs.FileMode(0o700), info.Mode().Perm())
	require.NoError(t, os.Chmod(s.Path(), 0o777))
	_, err = State(true)
	require.ErrorContains(t, err, "only this user may write")
	if os.Geteuid() == 0 {
		require.NoError(t, os.Chmod(s.Path(), 0o700))
		require.NoError(t, os.Chown(s.Path(), 1234, 1234))
		_, err = State(true)
		require.ErrorContains(t, err, "another user's")
	}
}
