package change

import (
	"bytes"
	"context"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
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

// sampleSet changes, makes and deletes a file each.
func sampleSet(t *testing.T) (string, *Set, map[string]string, map[string]string) {
	t.Helper()
	before := map[string]string{"a.txt": "one\n", "sub/b.txt": "two\n", "gone.txt": "bye\n"}
	after := map[string]string{"a.txt": "ONE\n", "sub/b.txt": "two\n", "new/deep/c.txt": "three\n"}
	root := project(t, before)
	s := &Set{Root: root}
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
	require.NoError(t, s.Apply(context.Background()))
	require.Equal(t, after, tree(t, root))
	info, err := os.Stat(filepath.Join(root, "a.txt"))
	require.NoError(t, err)
	require.Equal(t, os.FileMode(0o640), info.Mode().Perm(), "rights stay")
}

// An error in the middle of the renames puts everything back.
func TestApplyRollsBack(t *testing.T) {
	root, s, before, _ := sampleSet(t)
	s.normalise()
	r := &runner{root: root, j: journal{Schema: journalSchema, State: staging}}
	r.plan(s)
	require.NoError(t, r.stage(context.Background(), s))
	// In the way of the last rename stands a folder with something in it.
	require.NoError(t, os.MkdirAll(filepath.Join(root, "new/deep/c.txt/full"), 0o755))
	require.Error(t, r.commit())
	require.NoError(t, r.undo())
	require.Equal(t, before, tree(t, root))
	require.NoFileExists(t, filepath.Join(root, journalName))
}

// Whatever state a killed run left, recovery gives all or nothing.
func TestRecoverEachState(t *testing.T) {
	for _, steps := range []int{-1, 0, 1, 2, 3} {
		root, s, before, after := sampleSet(t)
		s.normalise()
		r := &runner{root: root, j: journal{Schema: journalSchema, State: staging}}
		r.plan(s)
		require.NoError(t, r.stage(context.Background(), s))
		want := after
		if steps < 0 { // killed while staging: the journal is not ready yet
			r.j.State = staging
			require.NoError(t, r.save())
			require.NoError(t, os.WriteFile(r.full(r.j.Steps[0].Old), []byte("half a co"), 0o644))
			// The kept name was a link to the file itself: put the file back first.
			require.NoError(t, os.Remove(r.full(r.j.Steps[0].Path)))
			require.NoError(t, os.WriteFile(r.full(r.j.Steps[0].Path), []byte(before["a.txt"]), 0o644))
			want = before
		}
		for i := 0; i < steps; i++ {
			require.NoError(t, r.forward(r.j.Steps[i]))
		}
		did, err := Recover(root)
		require.NoError(t, err)
		require.True(t, did)
		require.Equal(t, want, tree(t, root), "killed after %d renames", steps)
		did, err = Recover(root)
		require.NoError(t, err)
		require.False(t, did, "once is enough")
	}
}

// What somebody wrote after the kill is theirs: the run is undone around it.
func TestRecoverKeepsLaterWork(t *testing.T) {
	root, s, before, _ := sampleSet(t)
	s.normalise()
	r := &runner{root: root, j: journal{Schema: journalSchema, State: staging}}
	r.plan(s)
	require.NoError(t, r.stage(context.Background(), s))
	// Editors replace files: the kept copy is not what they write into.
	require.NoError(t, os.Remove(filepath.Join(root, "a.txt")))
	require.NoError(t, os.WriteFile(filepath.Join(root, "a.txt"), []byte("mine\n"), 0o644))
	_, err := Recover(root)
	require.NoError(t, err)
	before["a.txt"] = "mine\n"
	require.Equal(t, before, tree(t, root))
}

func TestRecoverTrustsNoJournal(t *testing.T) {
	root := project(t, map[string]string{journalName: `{"schema":"notaria/journal/1","state":"ready","steps":[{"path":"../out.txt","new":"x.notaria-new-0"}]}`})
	_, err := Recover(root)
	require.ErrorContains(t, err, "inside the project")
	root = project(t, map[string]string{"keep.txt": "k", journalName: `{"schema":"notaria/journal/1","state":"staging","steps":[{"path":"a","new":"keep.txt"}]}`})
	_, err = Recover(root)
	require.ErrorContains(t, err, "companion files")
	require.FileExists(t, filepath.Join(root, "keep.txt"))
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
		}, "leads out of it"},
		"another run": {func(t *testing.T, root string) {
			unlock, err := lock(root)
			require.NoError(t, err)
			t.Cleanup(unlock)
		}, "no other run"},
	}
	for name, tt := range tests {
		t.Run(name, func(t *testing.T) {
			root, s, _, _ := sampleSet(t)
			tt.prepare(t, root)
			now := tree(t, root)
			require.ErrorContains(t, s.Apply(context.Background()), tt.want)
			require.Equal(t, now, tree(t, root), "nothing is changed")
		})
	}
}

func TestInside(t *testing.T) {
	root := project(t, map[string]string{"real/a.txt": "a"})
	require.NoError(t, os.Symlink("real", filepath.Join(root, "alias")))
	require.NoError(t, os.Symlink("real/a.txt", filepath.Join(root, "linked.txt")))
	require.NoError(t, os.Symlink(filepath.Dir(root), filepath.Join(root, "up")))
	for _, ok := range []string{"real/a.txt", "alias/a.txt", "not/there/yet.txt"} {
		_, err := Inside(root, ok)
		require.NoError(t, err, ok)
	}
	for _, bad := range []string{"../x", "/etc/x", "real/../../x", "up/x", "linked.txt"} {
		_, err := Inside(root, bad)
		require.Error(t, err, bad)
	}
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
		s := &Set{Root: root}
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
	s := &Set{Root: root}
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
	s := &Set{Root: root}
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
	s := &Set{Root: root}
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
