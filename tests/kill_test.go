package tests

import (
	"fmt"
	"math/rand"
	"os"
	"os/exec"
	"path/filepath"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"notaria/internal/skerry"
)

var keptMu sync.Mutex

// contents maps the files below a folder to what they hold.
func contents(t *testing.T, root string) map[string]string {
	t.Helper()
	out := map[string]string{}
	require.NoError(t, filepath.Walk(root, func(name string, info os.FileInfo, err error) error {
		if err != nil || info.IsDir() {
			return err
		}
		b, err := os.ReadFile(name)
		rel, _ := filepath.Rel(root, name)
		out[rel] = string(b)
		return err
	}))
	return out
}

// kills is how often register is killed: a few times, or a hundred where
// NOTARIA_THOROUGH is set, as in scripts/test.
func kills() int {
	if os.Getenv("NOTARIA_THOROUGH") != "" {
		return 100
	}
	return 20
}

// TestKilledRegister kills register at random moments. The next
// run must end in the right state: all of it, with nothing lost and nothing left
// over. Kills before the journal is ready show as a tree untouched.
func TestKilledRegister(t *testing.T) {
	if testing.Short() {
		t.Skip("a hundred runs take a while")
	}
	program := filepath.Join(t.TempDir(), "notaria")
	out, err := exec.Command("go", "build", "-o", program, "notaria/cmd/notaria").CombinedOutput()
	require.NoError(t, err, string(out))

	base := filepath.Join(t.TempDir(), "base")
	require.NoError(t, skerry.Place(base))
	run := func(dir string, args ...string) {
		out, err := exec.Command(program, append([]string{"--project", dir}, args...)...).CombinedOutput()
		require.NoError(t, err, string(out))
	}
	run(base, "enrol", filepath.Join(base, skerry.ArchiveName))
	before := contents(t, base)

	// The longest of three whole runs is what the moments are drawn from.
	var whole time.Duration
	var after map[string]string
	for i := range 3 {
		right := filepath.Join(t.TempDir(), fmt.Sprint("right", i))
		require.NoError(t, os.CopyFS(right, os.DirFS(base)))
		start := time.Now()
		run(right, "register")
		whole = max(whole, time.Since(start))
		after = contents(t, right)
	}

	dice := rand.New(rand.NewSource(1))
	states := map[string]int{}
	for i := range kills() {
		dir := filepath.Join(t.TempDir(), fmt.Sprint("run", i))
		require.NoError(t, os.CopyFS(dir, os.DirFS(base)))
		cmd := exec.Command(program, "--project", dir, "register")
		require.NoError(t, cmd.Start())
		time.Sleep(time.Duration(dice.Int63n(int64(whole))))
		_ = cmd.Process.Signal(syscall.SIGKILL)
		_ = cmd.Wait()
		states[stateOf(t, dir, before, after)]++

		run(dir, "register")
		require.Equal(t, after, contents(t, dir), "after kill %d and another register", i)
		require.NoError(t, os.RemoveAll(dir))
	}
	t.Logf("whole run %v; states found after the kill: %v", whole, states)
	require.Greater(t, states["in the middle"], 0, "no kill fell into the middle: %v", states)
}

// stateOf tells how far a killed run came, and that nothing which was there
// before is lost, even before the next run.
func stateOf(t *testing.T, dir string, before, after map[string]string) string {
	t.Helper()
	now := contents(t, dir)
	for name, text := range before {
		if have, ok := now[name]; !ok || have != text && have != after[name] {
			t.Errorf("%s is neither as before nor as after", name)
		}
	}
	switch {
	case fmt.Sprint(now) == fmt.Sprint(before):
		return "not begun"
	case fmt.Sprint(now) == fmt.Sprint(after):
		return "done"
	}
	return "in the middle"
}
