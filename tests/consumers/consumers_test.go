// Package consumers holds tests in which real programs judge what Notaria
// writes: the platforms' own compilers, strict readers of manifests, and font
// engines. scripts/consumers installs them. A test whose consumer is missing is
// skipped by name, or fails where NOTARIA_CONSUMERS=required.
package consumers

import (
	"context"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"notaria/internal/audit"
	"notaria/internal/cli"
	"notaria/internal/platform/all"
	"notaria/internal/skerry"
	"notaria/tests/inuse"
)

// TestMain has the runs of these tests noted in a folder of their own.
func TestMain(m *testing.M) {
	state, err := os.MkdirTemp("", "notaria-state-")
	if err != nil {
		panic(err)
	}
	os.Setenv("XDG_STATE_HOME", state)
	code := m.Run()
	os.RemoveAll(state)
	os.Exit(code)
}

// need skips a test, or fails it, unless all programs (or, with a slash, files)
// are there.
func need(t *testing.T, programs ...string) {
	t.Helper()
	for _, p := range programs {
		var err error
		if strings.Contains(p, "/") {
			_, err = os.Stat(p)
		} else {
			_, err = exec.LookPath(p)
		}
		if err == nil {
			continue
		}
		if os.Getenv("NOTARIA_CONSUMERS") == "required" {
			t.Fatalf("the consumer %s is missing: run scripts/consumers", p)
		}
		t.Skipf("the consumer %s is missing: run scripts/consumers", p)
	}
}

// npmHome is where scripts/consumers puts the npm packages.
func npmHome(t *testing.T) string {
	t.Helper()
	home, err := filepath.Abs("../../.consumers/npm")
	require.NoError(t, err)
	need(t, "node", filepath.Join(home, "node_modules"))
	return home
}

// ask runs a consumer with a scratch home and a generous time limit, and returns what it
// prints; it must exit 0.
func ask(t *testing.T, dir string, name string, args ...string) string {
	t.Helper()
	out, err := try(t, dir, name, args...)
	require.NoError(t, err, "%s %s\n%s", name, strings.Join(args, " "), out)
	return out
}

// shortRuns have Java's programs start quickly: they run for a second or two.
var shortRuns = map[string][]string{"java": {"-XX:+UseSerialGC", "-XX:TieredStopAtLevel=1"}, "javac": {"-J-XX:+UseSerialGC", "-J-XX:TieredStopAtLevel=1"}}

func try(t *testing.T, dir string, name string, args ...string) (string, error) {
	t.Helper()
	ctx, stop := context.WithTimeout(context.Background(), 20*time.Minute)
	defer stop()
	cmd := exec.CommandContext(ctx, name, append(slices.Clone(shortRuns[name]), args...)...)
	cmd.Dir = dir
	cmd.Env = append(os.Environ(), "HOME="+t.TempDir(), "LC_ALL=C.UTF-8", "JAVA_OPTS=-Xmx512M -XX:+UseSerialGC -XX:TieredStopAtLevel=1")
	if own, ok := environments.Load(t.Name()); ok {
		cmd.Env = append(cmd.Env, own.([]string)...)
	}
	if home, err := filepath.Abs("../../.consumers/npm"); err == nil {
		cmd.Env = append(cmd.Env, "NOTARIA_NPM="+home)
	}
	out, err := cmd.CombinedOutput()
	return string(out), err
}

// environments are what tests set for their consumers, by the test's name: they run side
// by side, and share the process.
var environments sync.Map

// setenv sets a variable for the consumers that a test runs from then on.
func setenv(t *testing.T, key, value string) {
	own, _ := environments.LoadOrStore(t.Name(), []string(nil))
	environments.Store(t.Name(), append(slices.Clone(own.([]string)), key+"="+value))
}

// notaria runs a command on a project, which must end with an exit code, and returns what it prints, or what it could not do. Where check is to find nothing, the apps show
// their roles.
func notaria(t *testing.T, code int, dir string, args ...string) string {
	t.Helper()
	if _, err := os.Stat(filepath.Join(dir, "notaria.toml")); err == nil && args[0] == "check" && code == 0 {
		files, err := inuse.Show(dir)
		require.NoError(t, err)
		defer func() {
			for _, f := range files {
				_ = os.Remove(f) // no build is to see them
			}
		}()
	}
	var out, errOut strings.Builder
	got := cli.Execute(append([]string{"--project", dir}, args...), strings.NewReader(""), &out, &errOut)
	require.Equal(t, code, got, "notaria %s\n%s%s", strings.Join(args, " "), out.String(), errOut.String())
	if code > 1 {
		return errOut.String()
	}
	return out.String()
}

// A shared tree is made once for all tests, each of which gets a copy.
type shared struct {
	once sync.Once
	dir  string
}

// copied makes the tree if nobody has yet, and copies it.
func (s *shared) copied(t *testing.T, make func(dir string)) string {
	t.Helper()
	s.once.Do(func() {
		root, err := os.MkdirTemp(os.Getenv("XDG_STATE_HOME"), "shared-") // it goes with the last test
		require.NoError(t, err)
		dir := filepath.Join(root, "skerry")
		make(dir)
		s.dir = dir
	})
	require.NotEmpty(t, s.dir, "the test that made it failed")
	dir := filepath.Join(t.TempDir(), "skerry")
	require.NoError(t, os.CopyFS(dir, os.DirFS(s.dir)))
	return dir
}

var registeredTree, dressedTree shared

// registered is the sample project after the story's four commands.
func registered(t *testing.T) string {
	t.Helper()
	return registeredTree.copied(t, func(dir string) { register(t, dir) })
}

func register(t *testing.T, dir string) string {
	t.Helper()
	require.NoError(t, skerry.Place(dir))
	notaria(t, 0, dir, "enrol", filepath.Join(dir, skerry.ArchiveName), "--styles", "regular,bold")
	notaria(t, 1, dir, "register", "--dry-run")
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "check")
	return dir
}

// dressing returns the roles all that a role can have, and a third role of another
// kind.
const dressing = `line-height = 34
tracking = 10
colour = "#0B3D5C"
outline = { width = 1, colour = "#FFFFFF80" }
extra-spacing = { space = 3, top = 1, bottom = 2 }
shadow = { x = 1, y = -2, blur = 3, colour = "#00000080" }
smooth = false
characters = { sets = ["latin-1"], app-strings = true }
fallback = "serif"

[role.copy-new]
face = "SkerrySans-Italic"
size = 11.5
tracking = -5
fallback = "mono"
scale = false

[role.heading.on.android]
size = 30
line-height = 36
`

// dressed is the sample project with all of that, registered.
func dressed(t *testing.T) string {
	t.Helper()
	return dressedTree.copied(t, func(dir string) { dress(t, register(t, dir)) })
}

func dress(t *testing.T, dir string) {
	t.Helper()
	notaria(t, 0, dir, "enrol", filepath.Join(dir, skerry.ArchiveName), "--styles", "italic")
	name := filepath.Join(dir, "notaria.toml")
	text, err := os.ReadFile(name)
	require.NoError(t, err)
	const size = "size = 28 # points, sp or logical pixels, as the platform counts\n"
	require.Contains(t, string(text), size)
	write(t, name, strings.Replace(string(text), size, size+dressing, 1))
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "register", "--dry-run")
	notaria(t, 0, dir, "check")
}

// snapshot maps each file below dir to its content and time.
func snapshot(t *testing.T, dir string) map[string]string {
	t.Helper()
	out := map[string]string{}
	require.NoError(t, filepath.WalkDir(dir, func(name string, d fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		rel, _ := filepath.Rel(dir, name)
		if d.IsDir() {
			out[rel+"/"] = ""
			return nil
		}
		b, err := os.ReadFile(name)
		out[rel] = string(b)
		return err
	}))
	return out
}

// write puts a file into a folder that is made if need be.
func write(t *testing.T, name, text string) {
	t.Helper()
	require.NoError(t, os.MkdirAll(filepath.Dir(name), 0o755))
	require.NoError(t, os.WriteFile(name, []byte(text), 0o644))
}

// listed holds what check reads in the listing of an app against the faces that it should find
// there, and, with a minus in front, missing.
func listed(t *testing.T, log string, want ...string) {
	t.Helper()
	got := []string{}
	for _, s := range audit.ReadLog([]byte(log), all.Platforms) {
		switch {
		case s.Asked != "" || s.Role != "": // what a platform says beside the listing
		case s.There:
			got = append(got, s.Face)
		default:
			got = append(got, "-"+s.Face)
		}
	}
	require.ElementsMatch(t, want, got, log)
}
