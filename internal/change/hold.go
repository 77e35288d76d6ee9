package change

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"runtime"
	"strconv"
	"strings"
	"time"

	"github.com/rogpeppe/go-internal/lockedfile"

	"notaria/internal/disk"
)

// A Hold is the right to change a project: one run at a time has it.
type Hold struct {
	dir   *disk.Folder
	state *disk.Folder // nil where this user has none
	none  error        // why
	key   string       // of the project in the state folder
	free  []func()
}

// keyOf is a project's name in the state folder.
func keyOf(dir *disk.Folder) string {
	at := dir.Path()
	if runtime.GOOS == "windows" {
		at = strings.ToLower(at)
	}
	return Sum([]byte(at))[:32]
}

// patience is how long a run waits for another before it says so.
const patience = 300 * time.Millisecond

// Take waits until no other run is at work on the project. tell is called with who it
// is that is waited for, if it takes a while. before is that of the state's folder.
func Take(ctx context.Context, dir *disk.Folder, tell func(who string), before func(op, name string) error) (*Hold, error) {
	h := &Hold{dir: dir, key: keyOf(dir)}
	h.state, h.none = disk.State(true)
	if h.state != nil {
		h.state.Before = before
		h.free = append(h.free, func() { h.state.Close() })
	}
	got := make(chan error, 1)
	var unlock []func()
	go func() {
		var err error
		unlock, err = h.locks()
		got <- err
	}()
	timer := time.NewTimer(patience)
	defer timer.Stop()
	for {
		select {
		case err := <-got:
			if err != nil {
				h.Release()
				return nil, err
			}
			h.free = append(unlock, h.free...)
			h.sign()
			return h, nil
		case <-timer.C:
			if tell != nil {
				tell(holder(h.state, h.key))
			}
		case <-ctx.Done():
			go func() { // it is still in the queue
				if <-got == nil {
					h.free = append(unlock, h.free...)
				}
				h.Release()
			}()
			return nil, ctx.Err()
		}
	}
}

// locks takes the lock of the state folder, which holds on every system, and that of the
// project's folder, which keeps other users off where the system has such locks.
func (h *Hold) locks() (free []func(), err error) {
	if h.state != nil {
		if err := h.state.Mkdir("locks"); err != nil && !errors.Is(err, fs.ErrExist) {
			return nil, err
		}
		f, err := lockedfile.OpenFile(filepath.Join(h.state.Path(), "locks", h.key), os.O_RDWR|os.O_CREATE, 0o600)
		if err != nil {
			return nil, err
		}
		free = append(free, func() { f.Close() })
	}
	unlock, err := lockFolder(h.dir.Path())
	if err != nil {
		for _, f := range free {
			f()
		}
		return nil, err
	}
	return append([]func(){unlock}, free...), nil
}

// sign notes who is at work. It is told to those who wait, and nothing depends on it.
func (h *Hold) sign() {
	if h.state == nil {
		return
	}
	name := filepath.Join(h.state.Path(), "locks", h.key+".who")
	if os.WriteFile(name, []byte(strconv.Itoa(os.Getpid())), 0o600) == nil {
		h.free = append([]func(){func() { _ = os.Remove(name) }}, h.free...)
	}
}

// worker is the process that is at work on a project, 0 if that is not known.
func worker(state *disk.Folder, key string) int {
	if state == nil {
		return 0
	}
	b, err := disk.ReadFile(filepath.Join(state.Path(), "locks", key+".who"), 64)
	if err != nil {
		return 0
	}
	n, _ := strconv.Atoi(string(b))
	return n
}

func holder(state *disk.Folder, key string) string {
	if pid := worker(state, key); pid > 0 {
		return fmt.Sprintf("process %d", pid)
	}
	return "another user's, it seems"
}

// Release lets the next run go on.
func (h *Hold) Release() {
	for _, f := range h.free {
		f()
	}
	h.free = nil
}

// Interrupted says, without changing anything, whether a run of this user on a project
// was interrupted and is not at work any more.
func Interrupted(dir *disk.Folder) bool {
	state, err := disk.State(false)
	if err != nil || state == nil {
		return false
	}
	defer state.Close()
	key := keyOf(dir)
	if state.Missing((&Hold{key: key}).journalFile()) {
		return false
	}
	pid := worker(state, key)
	return pid == 0 || !alive(pid)
}

// AtWork says whether a run of this user, and not this one, is changing a project now.
func AtWork(dir *disk.Folder) bool {
	state, err := disk.State(false)
	if err != nil || state == nil {
		return false
	}
	defer state.Close()
	pid := worker(state, keyOf(dir))
	return pid != 0 && pid != os.Getpid() && alive(pid)
}

// Recover ends what a killed run of this user left behind: it finishes what was ready
// and undoes what was not. It says whether there was anything.
func (h *Hold) Recover(ctx context.Context) (bool, error) {
	applying.Add(1)
	defer applying.Add(-1)
	if h.state == nil {
		return false, nil
	}
	j, found, err := load(h.state, h.key)
	if err != nil || !found {
		return found, err
	}
	if j.Project != h.dir.Path() {
		return true, wrong(h.state.Path(), "a journal of "+h.dir.Path(), "one of "+j.Project, "run: notaria register --discard-journal")
	}
	return true, (&runner{Hold: h, j: j}).resume(ctx)
}

// Discard gives up what an interrupted run has begun: its journal, and one that
// somebody has put into the project, are moved away, and nothing else is touched. It
// returns where they are now, and the files of the run that are left in the project.
func (h *Hold) Discard() (moved, left []string, err error) {
	if h.state != nil && !h.state.Missing(h.journalFile()) {
		j, _, _ := load(h.state, h.key)
		for _, st := range j.Steps {
			for _, name := range []string{st.New, st.Old} {
				if name != "" && !h.dir.Missing(name) {
					left = append(left, name)
				}
			}
		}
		to, err := away(h.state, h.journalFile())
		if err != nil {
			return nil, nil, err
		}
		moved = append(moved, filepath.Join(h.state.Path(), filepath.FromSlash(to)))
	}
	if !h.dir.Missing(Abandoned) {
		to, err := away(h.dir, Abandoned)
		if err != nil {
			return moved, left, err
		}
		moved = append(moved, to)
	}
	return moved, left, nil
}

// away gives a file the next free name with "discarded" in it.
func away(dir *disk.Folder, name string) (string, error) {
	for n := 1; ; n++ {
		to := strings.TrimSuffix(name, ".json") + fmt.Sprintf(".discarded-%d.json", n)
		if err := dir.Move(name, to); !errors.Is(err, fs.ErrExist) {
			return to, err
		}
	}
}
