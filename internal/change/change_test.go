package change

import (
	"bytes"
	"context"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/disk"
)

// project makes a folder with files, and returns it.
func project(t *testing.T, files map[string]string) string {
	t.Helper()
	root := t.TempDir()
	for name, text := range files {
		full := filepath.Join(root, filepath.FromSlash(name))
		require.NoError(t, os.MkdirAll(filepath.Dir(full), 0o755))
		require.NoError(t, os.WriteFile(full, []byte(text), 0o644))
	}
	return root
}

func tree(t *testing.T, root string) map[string]string {
	t.Helper()
	out := map[string]string{}
	require.NoError(t, filepath.Walk(root, func(name string, info os.FileInfo, err error) error {
		if err != nil || !info.Mode().IsRegular() {
			return err
		}
		b, err := os.ReadFile(name)
		rel, _ := filepath.Rel(root, name)
		out[filepath.ToSlash(rel)] = string(b)
		return err
	}))
	return out
}

// open opens a folder, with a state folder of the test's own.
func open(t *testing.T, root string) *disk.Folder {
	t.Helper()
	if os.Getenv("NOTARIA_TEST_STATE") != t.Name() {
		t.Setenv("NOTARIA_TEST_STATE", t.Name())
		t.Setenv("XDG_STATE_HOME", t.TempDir())
	}
	dir, err := disk.Open(root)
	require.NoError(t, err)
	t.Cleanup(func() { dir.Close() })
	return dir
}

// take takes the hold of a project.
func take(t *testing.T, dir *disk.Folder) *Hold {
	t.Helper()
	h, err := Take(context.Background(), dir, nil, nil)
	require.NoError(t, err)
	t.Cleanup(h.Release)
	return h
}

// apply applies a set as a run does.
func apply(t *testing.T, s *Set) error {
	t.Helper()
	h := take(t, s.Dir)
	defer h.Release()
	return h.Apply(context.Background(), s)
}

// staged is a run that was killed when all was ready.
func staged(t *testing.T, s *Set) *runner {
	t.Helper()
	s.normalise()
	r := &runner{Hold: take(t, s.Dir), j: journal{Schema: journalSchema, Project: s.Dir.Path(), State: staging}}
	r.plan(s)
	require.NoError(t, r.stage(context.Background(), s))
	return r
}

// sampleSet changes, makes and deletes a file each.
func sampleSet(t *testing.T) (string, *Set, map[string]string, map[string]string) {
	t.Helper()
	before := map[string]string{"a.txt": "one\n", "sub/b.txt": "two\n", "gone.txt": "bye\n"}
	after := map[string]string{"a.txt": "ONE\n", "sub/b.txt": "two\n", "new/deep/c.txt": "three\n"}
	root := project(t, before)
	s := &Set{Dir: open(t, root)}
	require.NoError(t, s.Write("a.txt", []byte("ONE\n")))
	require.NoError(t, s.Write("sub/b.txt", []byte("two\n")))
	require.NoError(t, s.Write("new/deep/c.txt", []byte("three\n")))
	require.NoError(t, s.Remove("gone.txt"))
	require.NoError(t, s.Remove("never.txt"))
	require.Len(t, s.Files, 3, "what stays as it is is no change")
	return root, s, before, after
}

func TestApply(t *testing.T) {
	root, s, _, after := sampleSet(t)
	require.NoError(t, os.Chmod(filepath.Join(root, "a.txt"), 0o640))
	require.NoError(t, apply(t, s))
	require.Equal(t, after, tree(t, root))
	info, err := os.Stat(filepath.Join(root, "a.txt"))
	require.NoError(t, err)
	require.Equal(t, os.FileMode(0o640), info.Mode().Perm(), "rights stay")
}

// An error in the middle of the renames puts everything back.
func TestApplyRollsBack(t *testing.T) {
	root, s, before, _ := sampleSet(t)
	r := staged(t, s)
	// In the way of the last rename stands a folder with something in it.
	require.NoError(t, os.MkdirAll(filepath.Join(root, "new/deep/c.txt/full"), 0o755))
	err := r.commit()
	require.ErrorContains(t, err, "changed in between")
	require.NoError(t, r.undo())
	require.Equal(t, before, tree(t, root))
	require.False(t, Interrupted(s.Dir))
}

// Whatever state a killed run left, recovery gives all or nothing.
func TestRecoverEachState(t *testing.T) {
	for _, steps := range []int{-1, 0, 1, 2, 3} {
		root, s, before, after := sampleSet(t)
		r := staged(t, s)
		want := after
		if steps < 0 { // killed while staging: the journal is not ready yet
			r.j.State = staging
			require.NoError(t, r.save(r.j))
			require.NoError(t, os.WriteFile(filepath.Join(root, r.j.Steps[0].New), []byte("half a co"), 0o644))
			want = before
		}
		for i := 0; i < steps; i++ {
			require.NoError(t, r.forward(r.j.Steps[i]))
		}
		r.Release()
		require.True(t, Interrupted(s.Dir))
		h := take(t, s.Dir)
		did, err := h.Recover(context.Background())
		require.NoError(t, err)
		require.True(t, did)
		require.Equal(t, want, tree(t, root), "killed after %d renames", steps)
		did, err = h.Recover(context.Background())
		require.NoError(t, err)
		require.False(t, did, "once is enough")
		h.Release()
	}
}

// What somebody wrote after the kill is theirs: the run is undone around it.
func TestRecoverKeepsLaterWork(t *testing.T) {
	root, s, before, _ := sampleSet(t)
	r := staged(t, s)
	require.NoError(t, os.WriteFile(filepath.Join(root, "a.txt"), []byte("mine\n"), 0o644))
	_, err := r.Recover(context.Background())
	require.NoError(t, err)
	before["a.txt"] = "mine\n"
	require.Equal(t, before, tree(t, root))
}

// A journal in the project is nobody's word, whatever it says.
func TestNoJournalOfTheProjectCounts(t *testing.T) {
	files := map[string]string{"keep.txt": "k", Abandoned: `{"schema":"notaria/journal/1","state":"ready","steps":[{"path":"keep.txt","new":"x.notaria-new-0"}]}`}
	root := project(t, files)
	h := take(t, open(t, root))
	did, err := h.Recover(context.Background())
	require.NoError(t, err)
	require.False(t, did)
	require.Equal(t, files, tree(t, root))
	moved, _, err := h.Discard()
	require.NoError(t, err)
	require.Equal(t, []string{".notaria-journal.discarded-1.json"}, moved)
}

// A journal of one folder does not count in another.
func TestJournalOfAnotherFolder(t *testing.T) {
	_, s, _, _ := sampleSet(t)
	r := staged(t, s)
	r.j.Project = "/elsewhere"
	require.NoError(t, r.save(r.j))
	_, err := r.Recover(context.Background())
	require.ErrorContains(t, err, "--discard-journal")
	moved, left, err := r.Discard()
	require.NoError(t, err)
	require.Len(t, moved, 1)
	require.Len(t, left, 2, "the new files of two steps")
	require.False(t, Interrupted(s.Dir))
}

func TestApplyRefuses(t *testing.T) {
	tests := map[string]struct {
		prepare func(t *testing.T, root string)
		want    string
	}{
		"a file that changed since": {func(t *testing.T, root string) {
			require.NoError(t, os.WriteFile(filepath.Join(root, "a.txt"), []byte("other"), 0o644))
		}, "changed in between"},
		"a read-only file": {func(t *testing.T, root string) { require.NoError(t, os.Chmod(filepath.Join(root, "a.txt"), 0o444)) }, "read-only one (mode 0444)"},
		"a read-only folder": {func(t *testing.T, root string) {
			require.NoError(t, os.Mkdir(filepath.Join(root, "new"), 0o555))
		}, "read-only one (mode 0555)"},
		"a file in the folder's place": {func(t *testing.T, root string) {
			require.NoError(t, os.WriteFile(filepath.Join(root, "new"), nil, 0o644))
		}, "a folder"},
		"a link that leads out": {func(t *testing.T, root string) {
			require.NoError(t, os.Symlink(t.TempDir(), filepath.Join(root, "new")))
		}, "a symbolic link, through which nothing is written"},
		"a link inside": {func(t *testing.T, root string) {
			require.NoError(t, os.Symlink("sub", filepath.Join(root, "new")))
		}, "a symbolic link, through which nothing is written"},
		"a file with two names": {func(t *testing.T, root string) {
			require.NoError(t, os.Link(filepath.Join(root, "a.txt"), filepath.Join(root, "b.txt")))
		}, "hard links"},
		"a state folder that others may write": {func(t *testing.T, root string) {
			state := t.TempDir()
			t.Setenv("XDG_STATE_HOME", state)
			require.NoError(t, os.Mkdir(filepath.Join(state, "notaria"), 0o777))
			require.NoError(t, os.Chmod(filepath.Join(state, "notaria"), 0o777))
		}, "only this user may write"},
		"no home": {func(t *testing.T, root string) {
			t.Setenv("XDG_STATE_HOME", "")
			t.Setenv("HOME", "")
		}, "no home folder"},
	}
	for name, tt := range tests {
		t.Run(name, func(t *testing.T) {
			root, s, _, _ := sampleSet(t)
			tt.prepare(t, root)
			now := tree(t, root)
			require.ErrorContains(t, apply(t, s), tt.want)
			require.Equal(t, now, tree(t, root), "nothing is changed")
		})
	}
}

// A second run waits until the first is done, and is told what it waits for.
func TestTakeWaits(t *testing.T) {
	root, s, _, _ := sampleSet(t)
	first := take(t, s.Dir)
	told, got := make(chan string, 1), make(chan *Hold, 1)
	go func() {
		h, _ := Take(context.Background(), s.Dir, func(who string) { told <- who }, nil)
		got <- h
	}()
	require.Equal(t, "process "+strconv.Itoa(os.Getpid()), <-told)
	first.Release()
	h := <-got
	defer h.Release()
	require.NoError(t, h.Apply(context.Background(), s))
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	_, err := Take(ctx, open(t, root), nil, nil)
	require.ErrorIs(t, err, context.Canceled)
}

// The diff is one that other programs apply.
func TestDiffApplies(t *testing.T) {
	long := strings.Repeat("line\nother\n", 30)
	cases := []struct{ before, after string }{
		{"a\nb\nc\n", "a\nB\nc\n"},
		{"", "new\nfile\n"},
		{"a\nb", "a\nb\nc"},
		{"a\nb\n", "a\nb"},
		{long, "first\n" + strings.Replace(long, "other", "changed", 7) + "last\n"},
		{"x\n" + long, long + "y\n"},
	}
	for _, c := range cases {
		root := project(t, map[string]string{"f.txt": c.before})
		s := &Set{Dir: open(t, root)}
		require.NoError(t, s.Write("f.txt", []byte(c.after)))
		var diff strings.Builder
		require.NoError(t, s.Diff(&diff))
		cmd := exec.Command("git", "apply", "--unidiff-zero", "-p1", "-")
		cmd.Dir, cmd.Stdin = root, strings.NewReader(diff.String())
		if _, err := exec.LookPath("git"); err != nil {
			t.Skip("git is missing")
		}
		out, err := cmd.CombinedOutput()
		require.NoError(t, err, "%s\n%s", out, diff.String())
		require.Equal(t, c.after, tree(t, root)["f.txt"])
	}
}

func TestDiffOfBinaries(t *testing.T) {
	root := project(t, map[string]string{"b": "\x00old", "gone": "\x00"})
	s := &Set{Dir: open(t, root)}
	require.NoError(t, s.Write("b", []byte("\x00newer")))
	require.NoError(t, s.Write("c", []byte{0, 1}))
	require.NoError(t, s.Remove("gone"))
	var diff strings.Builder
	require.NoError(t, s.Diff(&diff))
	require.Equal(t, "binary b: 4 -> 6 bytes\nbinary c: new (2 bytes)\nbinary gone: removed (1 bytes)\n", diff.String())
}

func TestHolds(t *testing.T) {
	root := t.TempDir()
	large := bytes.Repeat([]byte("0123456789abcdef"), 40_000) // more than one buffer
	require.NoError(t, os.WriteFile(filepath.Join(root, "large"), large, 0o644))
	require.NoError(t, os.Mkdir(filepath.Join(root, "folder"), 0o755))
	s := &Set{Dir: open(t, root)}
	other := bytes.Clone(large)
	other[len(other)-1]++
	require.NoError(t, s.Write("new", []byte("x")))
	for _, tt := range []struct {
		name          string
		content       []byte
		exists, equal bool
	}{{"large", large, true, true}, {"large", other, true, false}, {"large", large[1:], true, false}, {"none", large, false, false}, {"new", []byte("x"), true, true}, {"new", nil, true, false}} {
		exists, equal, err := s.Holds(tt.name, tt.content)
		require.NoError(t, err)
		require.Equal(t, []bool{tt.exists, tt.equal}, []bool{exists, equal}, "%s, %d bytes", tt.name, len(tt.content))
	}
	_, _, err := s.Holds("folder", nil)
	require.ErrorContains(t, err, "expected a regular file, found a folder")
}

// One file, one change: what is written or removed later takes the place of what was
// before, and what leaves all as it is on the disk is no change.
func TestOneChangeOfEachFile(t *testing.T) {
	root := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(root, "a"), []byte("1"), 0o644))
	s := &Set{Dir: open(t, root)}
	require.NoError(t, s.Write("a", []byte("2")))
	require.NoError(t, s.Write("a", []byte("3")))
	require.Len(t, s.Files, 1)
	require.Equal(t, "1", string(s.Files[0].Before))
	now, err := s.Read("a")
	require.NoError(t, err)
	require.Equal(t, "3", string(now))
	require.NoError(t, s.Remove("a"))
	require.True(t, s.Files[0].Delete)
	_, err = s.Read("a")
	require.ErrorIs(t, err, fs.ErrNotExist)
	require.NoError(t, s.Write("a", []byte("1")))
	require.True(t, s.Empty())
	require.NoError(t, s.Write("b", []byte("1")))
	require.NoError(t, s.Remove("b"))
	require.True(t, s.Empty())
}
