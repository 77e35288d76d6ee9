package notary

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"maps"
	"os"
	"path/filepath"
	"runtime"
	"slices"
	"strings"
	"sync/atomic"
	"syscall"
	"testing"

	"github.com/stretchr/testify/require"
	"golang.org/x/sync/errgroup"

	"notaria/internal/choice"
	"notaria/internal/intake"
	"notaria/internal/platform/all"
	"notaria/internal/sfnt"
	"notaria/internal/skerry"
	"notaria/internal/skerry/letters"
)

// A command is one that changes the sample project.
type command struct {
	name string
	do   func(ctx context.Context, p *Project, haul intake.Haul) error
}

func enrolAll(ctx context.Context, p *Project, haul intake.Haul) error {
	e, err := p.Enrol(ctx, haul, choice.Faces{MendNames: true})
	if err != nil {
		return err
	}
	return p.Apply(ctx, e.Set)
}

func registerAll(ctx context.Context, p *Project, _ intake.Haul) error {
	plan, err := p.Plan(ctx, all.Platforms)
	if err != nil {
		return err
	}
	if err := plan.Unserved(); err != nil {
		return err
	}
	set, err := p.Changes(ctx, plan, Options{Strict: true})
	if err != nil {
		return err
	}
	return p.Apply(ctx, set)
}

func strikeBold(ctx context.Context, p *Project, _ intake.Haul) error {
	s, err := p.Strike(ctx, []string{"SkerrySans-Bold"}, StrikeOptions{WithRoles: true})
	if err != nil {
		return err
	}
	return p.Apply(ctx, s.Set)
}

// apps are those of the sample that these tests have: one of each way of writing (files and code placed, lines,
// elements and list entries added, folders made), for the time grows with the square of what
// there is.
var apps = []string{"android", "board", "crew", "deckgame", "fleet", "harbour", "ios", "kiosk", "lookout", "office", "signs", "timetable", "web"}

// A story is the commands in a row, with the tree before and after each of them.
type story struct {
	commands []command
	trees    []map[string]string // one more than commands
	haul     intake.Haul
}

func tell(t *testing.T) *story {
	t.Helper()
	return tellOf(t, apps, []string{skerry.ArchiveName}, command{name: "enrol", do: enrolAll}, command{name: "register", do: registerAll}, command{name: "strike", do: strikeBold})
}

func tellOf(t *testing.T, apps, downloads []string, commands ...command) *story {
	t.Helper()
	t.Setenv("XDG_STATE_HOME", scratch(t))
	root := filepath.Join(t.TempDir(), "skerry")
	require.NoError(t, skerry.Place(root, apps...))
	var paths []string
	for _, name := range downloads {
		paths = append(paths, filepath.Join(t.TempDir(), name))
		require.NoError(t, os.Rename(filepath.Join(root, name), paths[len(paths)-1]))
	}
	haul, err := intake.Gather(context.Background(), paths, intake.Options{Digest: true})
	require.NoError(t, err)
	s := &story{haul: haul, commands: commands}
	s.trees = append(s.trees, treeOf(t, root))
	for _, d := range s.commands {
		require.NoError(t, s.run(d, root, nil))
		s.trees = append(s.trees, treeOf(t, root))
	}
	return s
}

// run does a command as a program would; before is asked before each operation.
func (s *story) run(d command, root string, before func(op, name string) error) error {
	p, err := Open(context.Background(), root, all.Platforms, Opening{Before: before})
	if err != nil {
		return err
	}
	defer p.Close()
	return d.do(context.Background(), p, s.haul)
}

func treeOf(t testing.TB, root string) map[string]string {
	out := map[string]string{}
	require.NoError(t, filepath.Walk(root, func(name string, info os.FileInfo, err error) error {
		if err != nil {
			return err
		}
		rel, _ := filepath.Rel(root, name)
		if info.IsDir() {
			out[rel+"/"] = ""
			return nil
		}
		b, err := os.ReadFile(name)
		out[rel] = string(b)
		return err
	}))
	return out
}

// lay makes a tree.
func lay(t testing.TB, root string, tree map[string]string) {
	for name, text := range tree {
		full := filepath.Join(root, name)
		if strings.HasSuffix(name, "/") {
			require.NoError(t, os.MkdirAll(full, 0o755))
			continue
		}
		require.NoError(t, os.MkdirAll(filepath.Dir(full), 0o755))
		require.NoError(t, os.WriteFile(full, []byte(text), 0o644))
	}
}

// differs names the first file that is not the same in both, "" if there is none.
func differs(a, b map[string]string) string {
	for _, x := range []map[string]string{a, b} {
		for name := range x {
			s, inA := a[name]
			u, inB := b[name]
			if inA != inB || s != u {
				return name
			}
		}
	}
	return ""
}

var errKilled = errors.New("killed")

// faults are the ways in which an operation fails; after errKilled, all others do, too.
var faults = []error{syscall.EIO, syscall.ENOSPC, syscall.EACCES, errKilled}

// An operation is one on a file.
type operation struct{ op, name string }

// reading are the operations that change nothing: that one of a file fails is the same at any time.
var reading = []string{"lstat", "open", "read", "list"}

// points are those of a command's operations that are made to fail, each in one of the ways, or in all where
// NOTARIA_THOROUGH is "all": every one that writes, and the first of each that reads a file; where
// it is not set, a few of them.
func points(all []operation, try func(n int, fault error)) {
	thorough, seen := os.Getenv("NOTARIA_THOROUGH"), map[operation]bool{}
	for i, o := range all {
		n := i + 1
		if slices.Contains(reading, o.op) && seen[o] {
			continue
		}
		seen[o] = true
		switch {
		case thorough == "all":
			for _, f := range faults {
				try(n, f)
			}
		case thorough != "" || n%97 == 1:
			try(n, faults[(len(seen)+len(seen)/len(faults))%len(faults)])
		}
	}
}

// scratch is a folder of the test in memory, where the system has one: a thousand trees
// are laid there.
func scratch(t *testing.T) string {
	if dir, err := os.MkdirTemp("/dev/shm", "notaria-faults-"); err == nil {
		t.Cleanup(func() { os.RemoveAll(dir) })
		return dir
	}
	return t.TempDir()
}

// noSwap takes from a system the operation to exchange two files.
func noSwap(before func(op, name string) error) func(op, name string) error {
	return func(op, name string) error {
		if op == "swap" {
			return errors.ErrUnsupported
		}
		return before(op, name)
	}
}

// operations are those of a command, in order.
func (s *story) operations(t *testing.T, i int, wrap func(func(op, name string) error) func(op, name string) error) (all []operation) {
	root := filepath.Join(scratch(t), "count")
	lay(t, root, s.trees[i])
	require.NoError(t, s.run(s.commands[i], root, wrap(func(op, name string) error {
		all = append(all, operation{op, name})
		return nil
	})))
	return all
}

// Every operation on files fails once. Whatever is left, opening the project again gives
// the state before or the state after, and nothing between.
func TestEveryOperationFails(t *testing.T) { tell(t).failEverywhere(t, 0) }

// The same for what changes faces that apps have: fewer apps, for each command goes the same way into all of them.
func TestEveryOperationOfARenewalFails(t *testing.T) {
	fresh := newEdition(t)
	replace := func(ctx context.Context, p *Project, _ intake.Haul) error {
		e, err := p.Enrol(ctx, fresh, choice.Faces{Replace: true})
		if err != nil {
			return err
		}
		return p.Apply(ctx, e.Set)
	}
	swap := func(ctx context.Context, p *Project, _ intake.Haul) error {
		s, err := p.Swap(ctx, "Capstan Slab", "Skerry Sans")
		if err != nil {
			return err
		}
		return p.Apply(ctx, s.Set)
	}
	strikeAll := func(ctx context.Context, p *Project, _ intake.Haul) error {
		s, err := p.Strike(ctx, nil, StrikeOptions{All: true})
		if err != nil {
			return err
		}
		return p.Apply(ctx, s.Set)
	}
	s := tellOf(t, []string{"deckgame", "board", "web"}, []string{skerry.ArchiveName, skerry.DeckArchiveName}, command{"enrol", enrolAll}, command{"register", registerAll},
		command{"replace", replace}, command{"swap", swap}, command{"strike all", strikeAll})
	require.NotEqual(t, s.trees[2]["type/SkerrySans-Bold.ttf"], s.trees[3]["type/SkerrySans-Bold.ttf"])
	require.Equal(t, s.trees[3]["type/SkerrySans-Bold.ttf"], s.trees[3]["deckgame/fonts/SkerrySans-Bold.ttf"])
	require.Contains(t, s.trees[4]["notaria.toml"], "[role.heading]\nface = \"SkerrySans-Bold\"")
	require.Equal(t, "", differs(s.trees[5], s.trees[0]), "no trace is left")
	s.failEverywhere(t, 2)
}

// newEdition is another edition of one face of the sample: the same names, other bytes.
func newEdition(t *testing.T) intake.Haul {
	b, err := letters.Font(letters.Styles[2])
	require.NoError(t, err)
	file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
	require.NoError(t, err)
	tables, err := file.Font(0).Tables()
	require.NoError(t, err)
	tables["head"][7]++ // fontRevision
	b, err = sfnt.Build(tables)
	require.NoError(t, err)
	name := filepath.Join(t.TempDir(), "edition.ttf")
	require.NoError(t, os.WriteFile(name, b, 0o644))
	haul, err := intake.Gather(context.Background(), []string{name}, intake.Options{Digest: true})
	require.NoError(t, err)
	return haul
}

// failEverywhere lets each operation of the commands from one on fail.
func (s *story) failEverywhere(t *testing.T, from int) {
	plain := func(f func(op, name string) error) func(op, name string) error { return f }
	var tried atomic.Int64
	for i, d := range s.commands {
		if i < from {
			continue
		}
		for kind, wrap := range map[string]func(func(op, name string) error) func(op, name string) error{"": plain, " without swap": noSwap} {
			base := scratch(t)
			var g errgroup.Group
			g.SetLimit(runtime.GOMAXPROCS(0))
			points(s.operations(t, i, wrap), func(n int, fault error) {
				if kind != "" && (fault != errKilled || n%3 > 0) {
					return // the same but for the exchange
				}
				g.Go(func() error {
					tried.Add(1)
					root := filepath.Join(base, fmt.Sprintf("%d-%v", n, fault))
					lay(t, root, s.trees[i])
					s.fail(t, i, root, n, fault, d.name+kind, wrap)
					return os.RemoveAll(root)
				})
			})
			require.NoError(t, g.Wait())
		}
	}
	t.Logf("%d points", tried.Load())
}

// fail does a command whose n-th operation fails, and looks at what is left.
func (s *story) fail(t *testing.T, i int, root string, n int, fault error, name string, wrap func(func(op, name string) error) func(op, name string) error) {
	count, kept := 0, ""
	err := s.run(s.commands[i], root, wrap(func(op, name string) error {
		if count+1 == n && op == "rmdir" && fault != errKilled {
			kept = name + "/" // an empty folder that cannot be removed stays, and does no harm
		}
		if count++; count == n || fault == errKilled && count > n {
			if fault == syscall.EACCES && op == "list" {
				return &os.PathError{Op: op, Path: name, Err: syscall.EIO} // a folder that may not be read is passed over, and told
			}
			return &os.PathError{Op: op, Path: name, Err: fault}
		}
		return nil
	}))
	at := fmt.Sprintf("%s, %v at %d", name, fault, n)
	start, goal := s.trees[i], s.trees[i+1]
	now := treeOf(t, root)
	if _, had := goal[kept]; kept != "" && !had {
		goal = maps.Clone(goal)
		for at := kept; at != "./"; at = filepath.Dir(strings.TrimSuffix(at, "/")) + "/" {
			goal[at] = ""
		}
	}
	whole := differs(now, start) == "" || differs(now, goal) == ""
	if fault != errKilled && !whole && (err == nil || !strings.Contains(err.Error(), "the next run goes on with that")) {
		t.Errorf("%s: %v: %s is not as before, %s is not as after", at, err, differs(now, start), differs(now, goal))
	}
	if !whole {
		p, err := Open(context.Background(), root, all.Platforms, Opening{})
		if err != nil {
			t.Errorf("%s: the next run: %v", at, err)
			return
		}
		p.Close()
		if now = treeOf(t, root); differs(now, start) != "" && differs(now, goal) != "" {
			t.Errorf("%s, and after the next run: %s is not as before, %s is not as after", at, differs(now, start), differs(now, goal))
		}
	}
	if err == nil && differs(now, goal) != "" {
		t.Errorf("%s: no error, and %s is not as after", at, differs(now, goal))
	}
}

// A person saves a file between any two operations, in place or as editors do, by
// putting a new file there. What they wrote is in the file afterwards, whatever else
// comes of the run, and it is there after the next one, too.
func TestEditsAreNeverLost(t *testing.T) {
	s := tell(t)
	mine := []struct{ file, text string }{
		{"ios/SkerryFerries/Info.plist", "<!-- mine -->\n"}, {"deckgame/pubspec.yaml", "# mine\n"}, {"harbour/Harbour.xcodeproj/project.pbxproj", "// mine\n"},
		{"crew/Crew/Crew.csproj", "<!-- mine -->\n"}, {"notaria.toml", "# mine\n"}, {"deckgame/lib/app_type.dart", "// mine\n"}, {"signs/Sources/QuaySigns/AppType.swift", "// mine\n"},
	}
	var tried atomic.Int64
	for i, d := range s.commands[1:] {
		for kind, wrap := range map[string]func(func(op, name string) error) func(op, name string) error{"": func(f func(op, name string) error) func(op, name string) error { return f }, " without swap": noSwap} {
			base := scratch(t)
			var g errgroup.Group
			g.SetLimit(runtime.GOMAXPROCS(0))
			points(s.operations(t, i+1, wrap), func(n int, fault error) {
				if n%8 > 0 {
					return
				}
				g.Go(func() error {
					tried.Add(1)
					root := filepath.Join(base, fmt.Sprintf("%d-%v", n, fault))
					lay(t, root, s.trees[i+1])
					m := mine[n%len(mine)]
					s.save(t, d, root, n, m.file, m.text, fmt.Sprintf("%s%s, %s saved at %d", d.name, kind, m.file, n), wrap)
					return os.RemoveAll(root)
				})
			})
			require.NoError(t, g.Wait())
		}
	}
	t.Logf("%d points", tried.Load())
}

// save does a command while somebody adds a line to a file before its n-th operation.
func (s *story) save(t *testing.T, d command, root string, n int, file, line, at string, wrap func(func(op, name string) error) func(op, name string) error) {
	full := filepath.Join(root, filepath.FromSlash(file))
	count, saved := 0, false
	err := s.run(d, root, wrap(func(op, name string) error {
		if count++; count == n {
			b, err := os.ReadFile(full)
			if err != nil {
				return nil // not there yet, or no more
			}
			saved = true
			b = append(b, line...)
			if n%2 > 0 {
				return os.WriteFile(full, b, 0o644)
			}
			return errors.Join(os.WriteFile(full+"~", b, 0o644), os.Rename(full+"~", full))
		}
		return nil
	}))
	for range 2 {
		if b, readErr := os.ReadFile(full); saved && (readErr != nil || !strings.Contains(string(b), line)) {
			t.Errorf("%s: what was saved is lost (%v; %v)", at, err, readErr)
			return
		}
		_ = s.run(d, root, nil)
	}
	for name := range treeOf(t, root) {
		if err == nil && leftOver.MatchString(filepath.Base(name)) {
			t.Errorf("%s: %s is left", at, name)
		}
	}
}
