package tests

import (
	"errors"
	"fmt"
	"math/rand"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
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

// times is how often something is tried: a few times, or more often where NOTARIA_THOROUGH is set, as in
// .ci/run.
func times(few, many int) int {
	if os.Getenv("NOTARIA_THOROUGH") != "" {
		return many
	}
	return few
}

// field is a part of the sample with all faces enrolled, and the program with a state folder.
type field struct {
	program, base string
	state         string
	env           []string
	before        map[string]string
}

// apps are those of the sample that these hundreds of runs have: one of each way of writing.
var apps = []string{"android", "board", "crew", "deckgame", "fleet", "harbour", "ios", "kiosk", "lookout", "office", "signs", "timetable", "web"}

func newField(t *testing.T) *field {
	t.Helper()
	f := &field{program: program(t), base: filepath.Join(t.TempDir(), "base"), state: filepath.Join(t.TempDir(), "state")}
	f.env = append(os.Environ(), "XDG_STATE_HOME="+f.state)
	require.NoError(t, skerry.Place(f.base, apps...))
	f.run(t, f.base, "enrol", filepath.Join(f.base, skerry.ArchiveName))
	f.before = contents(t, f.base)
	return f
}

// command is a run of the program on a project.
func (f *field) command(dir string, args ...string) *exec.Cmd {
	cmd := exec.Command(f.program, append([]string{"--project", dir}, args...)...)
	cmd.Env = f.env
	return cmd
}

func (f *field) run(t *testing.T, dir string, args ...string) {
	t.Helper()
	out, err := f.command(dir, args...).CombinedOutput()
	require.NoError(t, err, string(out))
}

// copy is the project anew.
func (f *field) copy(t *testing.T, name string) string {
	t.Helper()
	dir := filepath.Join(t.TempDir(), name)
	require.NoError(t, os.CopyFS(dir, os.DirFS(f.base)))
	return dir
}

// journals are the notes of runs that are changing a project.
func (f *field) journals() []string {
	list, _ := filepath.Glob(filepath.Join(f.state, "notaria", "runs", "*.json"))
	return list
}

// writes waits until a run begins to change its project, which its journal shows; false if it ends before.
func (f *field) writes(ended <-chan struct{}) bool {
	for len(f.journals()) == 0 {
		select {
		case <-ended:
			return false
		case <-time.After(100 * time.Microsecond):
		}
	}
	return true
}

// A run of register is ended by each signal, at random moments while it changes the project, and now and then before.
// The next run must end in the right state: all of it, with nothing lost and nothing left over.
// After a signal that asks, the run itself leaves all or nothing.
func TestEndedRegister(t *testing.T) {
	if testing.Short() {
		t.Skip("hundreds of runs take a while")
	}
	f := newField(t)
	// The middle ones of five whole runs are what the moments are drawn from.
	var took, window []time.Duration // of a run, and of its writing
	var after map[string]string
	for i := range 5 {
		right := f.copy(t, fmt.Sprint("right", i))
		start := time.Now()
		cmd, ended := f.begin(t, right)
		require.True(t, f.writes(ended))
		writing := time.Now()
		<-ended
		took, window = append(took, time.Since(start)), append(window, time.Since(writing))
		require.True(t, cmd.ProcessState.Success())
		after = contents(t, right)
	}
	slices.Sort(took)
	slices.Sort(window)
	for _, signal := range []syscall.Signal{syscall.SIGKILL, syscall.SIGINT, syscall.SIGTERM} {
		t.Run(signal.String(), func(t *testing.T) {
			dice := rand.New(rand.NewSource(1))
			states := map[string]int{}
			for i := range times(12, 80) {
				dir := f.copy(t, fmt.Sprint("run", i))
				cmd, ended := f.begin(t, dir)
				if span := took[2]; i%8 == 0 {
					time.Sleep(time.Duration(dice.Int63n(int64(span))))
				} else if f.writes(ended) {
					time.Sleep(time.Duration(dice.Int63n(int64(window[2]))))
				}
				_ = cmd.Process.Signal(signal)
				<-ended
				state := stateOf(t, dir, f.before, after)
				states[state]++
				if signal != syscall.SIGKILL {
					require.NotEqual(t, "in the middle", state, "run %d", i)
				}
				f.run(t, dir, "register")
				require.Equal(t, after, contents(t, dir), "after end %d and another register", i)
				require.NoError(t, os.RemoveAll(dir))
			}
			t.Logf("whole run %v, of it writing %v; states found: %v", took[2], window[2], states)
			if signal == syscall.SIGKILL {
				require.Greater(t, states["in the middle"], 0, "no kill fell into the middle: %v", states)
			}
		})
	}
}

// begin starts a registration; ended is closed when it is over.
func (f *field) begin(t *testing.T, dir string) (cmd *exec.Cmd, ended chan struct{}) {
	t.Helper()
	cmd, ended = f.command(dir, "register"), make(chan struct{})
	require.NoError(t, cmd.Start())
	go func() {
		_ = cmd.Wait()
		close(ended)
	}()
	return cmd, ended
}

// Two commands at once: writers wait for each other, and readers neither fail nor
// disturb. What comes of it is what comes of one after the other.
func TestPairs(t *testing.T) {
	if testing.Short() {
		t.Skip("hundreds of runs take a while")
	}
	f := newField(t)
	goals := map[bool]map[string]string{}
	for _, struck := range []bool{false, true} {
		dir := f.copy(t, fmt.Sprint("goal", struck))
		f.run(t, dir, "register")
		if struck {
			f.run(t, dir, "strike", "SkerrySans-Light")
		}
		goals[struck] = contents(t, dir)
	}
	commands := [][]string{{"register"}, {"register", "--dry-run"}, {"check"}, {"survey"}, {"strike", "SkerrySans-Light"}, {"enrol", filepath.Join(f.base, skerry.ArchiveName)}}
	pairs := 0
	for i := 0; pairs < times(12, 80); i++ {
		a, b := commands[i%len(commands)], commands[(i/len(commands))%len(commands)]
		if a[0] == "strike" && (b[0] == "strike" || b[0] == "enrol") || a[0] == "enrol" && b[0] == "strike" {
			continue // what comes of these depends on which is first
		}
		pairs++
		dir := f.copy(t, fmt.Sprint("pair", pairs))
		outs := make([]string, 2)
		var wait sync.WaitGroup
		for k, args := range [][]string{a, b} {
			wait.Go(func() {
				out, err := f.command(dir, args...).CombinedOutput()
				outs[k] = string(out)
				var exit *exec.ExitError
				reads := args[0] == "check" || args[0] == "survey" || len(args) > 1 && args[1] == "--dry-run"
				if err != nil && !(reads && errors.As(err, &exit) && exit.ExitCode() == 1) {
					t.Errorf("%v beside %v: %v: %s", args, [][]string{a, b}[1-k], err, out)
				}
			})
		}
		wait.Wait()
		f.run(t, dir, "register")
		require.Equal(t, goals[a[0] == "strike" || b[0] == "strike"], contents(t, dir), "%v beside %v: %q", a, b, outs)
		require.NoError(t, os.RemoveAll(dir))
	}
	t.Logf("%d pairs", pairs)
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
