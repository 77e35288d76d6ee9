package change

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"maps"
	"os"
	"path"
	"runtime"
	"slices"
	"sort"
	"strings"
	"sync/atomic"
	"syscall"
	"time"

	"notaria/internal/disk"
	"notaria/internal/lazy"
)

// runner carries a journal through its states.
type runner struct {
	*Hold
	j    journal
	kept []string // copies that stay, because what is in them may be the last of it
}

// applying counts the sets that are being applied, and the runs that are being ended.
var applying atomic.Int32

// Applying says whether files are being changed: a run that is to end at once waits for that.
func Applying() bool { return applying.Load() > 0 }

// Apply makes all the changes, or none. A cancelled context stops it before the first
// file of the project is touched.
func (h *Hold) Apply(ctx context.Context, s *Set) error {
	if s.Empty() {
		return nil
	}
	applying.Add(1)
	defer applying.Add(-1)
	if h.state == nil {
		return h.none
	}
	s.normalise()
	if err := s.check(); err != nil {
		return err
	}
	r := &runner{Hold: h, j: journal{Schema: journalSchema, Project: h.dir.Path(), State: staging, Prune: s.Prune}}
	r.plan(s)
	if err := r.stage(ctx, s); err != nil {
		return r.back(err)
	}
	if err := r.commit(); err != nil {
		return r.back(err)
	}
	return r.tidy()
}

// resume ends what an interrupted run began.
func (r *runner) resume(ctx context.Context) error {
	switch r.j.State {
	case done:
		return r.tidy()
	case ready:
		for _, st := range r.j.Steps {
			if did, can := r.stands(st); !did && !can {
				return r.undo() // somebody wrote there since: theirs comes first
			}
		}
		if err := r.commit(); err != nil {
			return r.back(err)
		}
		return r.tidy()
	}
	return errors.Join(ctx.Err(), r.undo())
}

// back rolls back after an error, and says how that went.
func (r *runner) back(cause error) error {
	cause = named(cause)
	if err := r.undo(); err != nil {
		return fmt.Errorf("%w\nnot all of it could be put back, and the next run goes on with that: %w", cause, err)
	}
	return fmt.Errorf("%w; nothing was changed", cause)
}

// named puts an error of the system into the form that people meet; what is about a
// companion file is about the file that it is beside.
func named(err error) error {
	var p *fs.PathError
	var l *os.LinkError
	name, what := "", error(nil)
	switch {
	case errors.As(err, &p):
		name, what = p.Path, p.Err
	case errors.As(err, &l):
		name, what = l.Old, l.Err
	default:
		return err
	}
	return wrong(companion.ReplaceAllString(name, "$1"), "a file that can be written", what.Error(), "look after the disk, its space and its rights, then run the command again")
}

// companion is what the names of companion files look like.
var companion = lazy.Regexp(`\.([^/]+)\.notaria-(?:new|old)-[0-9a-f]{16}$`)

// plan names the files of each step, and the folders that have to be made.
func (r *runner) plan(s *Set) {
	folders := map[string]bool{}
	for _, f := range s.Files {
		st := step{Path: f.Path}
		if !f.Delete {
			st.New, st.After = disk.Beside(f.Path, "new"), Sum(f.After)
		}
		if f.Exists {
			st.Old, st.Before = disk.Beside(f.Path, "old"), Sum(f.Before)
		}
		r.j.Steps = append(r.j.Steps, st)
		for d := path.Dir(f.Path); !f.Delete && d != "." && !folders[d] && r.dir.Missing(d); d = path.Dir(d) {
			folders[d] = true
		}
	}
	r.j.Folders = slices.Sorted(maps.Keys(folders)) // a folder sorts before what is in it
}

// stage writes everything beside its target.
func (r *runner) stage(ctx context.Context, s *Set) error {
	if err := r.save(r.j); err != nil {
		return err
	}
	for _, d := range r.j.Folders {
		if err := r.dir.Mkdir(d); err != nil && !errors.Is(err, fs.ErrExist) {
			return err
		}
	}
	for i, st := range r.j.Steps {
		if err := ctx.Err(); err != nil {
			return err
		}
		if st.New == "" {
			continue
		}
		like := ""
		if st.Before != "" {
			like = st.Path
		}
		if err := r.dir.Create(st.New, s.Files[i].After, like); err != nil {
			return err
		}
	}
	if err := r.sync(); err != nil {
		return err
	}
	r.j.State = ready
	return r.save(r.j)
}

// sync waits for the names in all folders that this run touches, and in those that its
// new folders are in.
func (r *runner) sync() error {
	dirs := map[string]bool{}
	for _, st := range r.j.Steps {
		dirs[path.Dir(st.Path)] = true
	}
	for _, d := range r.j.Folders {
		dirs[path.Dir(d)] = true
	}
	for _, d := range slices.Sorted(maps.Keys(dirs)) {
		if err := r.dir.Sync(d); err != nil && !errors.Is(err, fs.ErrNotExist) {
			return err
		}
	}
	return nil
}

// commit carries out what is not done yet. What was there is kept beside it, until all
// of it stands and nobody has written into it.
func (r *runner) commit() error {
	for _, st := range r.j.Steps {
		if did, _ := r.stands(st); did {
			continue
		}
		if err := r.forward(st); err != nil {
			return err
		}
	}
	if err := r.sync(); err != nil {
		return err
	}
	for _, st := range r.j.Steps {
		for _, name := range []string{st.New, st.Old} {
			if name != "" && !r.dir.Missing(name) && !r.holds(name, st.Before) && !r.holds(name, st.After) {
				return changed(st.Path) // an editor that had the file open wrote into what was there
			}
		}
	}
	r.j.State = done
	return r.save(r.j)
}

// changed is the error of a file that somebody writes while a run is at work.
func changed(name string) error {
	return wrong(name, "the content that the plan was made from", "another: it was changed in between", "run the command again")
}

// forward carries out one step. No file is replaced unseen: what stands in the way is
// moved aside, and looked at again.
func (r *runner) forward(st step) error {
	if st.Before == "" {
		if !r.holds(st.New, st.After) {
			return changed(st.New)
		}
		return r.place(st)
	}
	if !r.dir.Missing(st.Path) {
		if !r.holds(st.Path, st.Before) || st.New != "" && !r.holds(st.New, st.After) {
			return changed(st.Path)
		}
		if swapped, err := r.exchange(st); swapped || err != nil {
			return err
		}
		if err := r.dir.Move(st.Path, st.Old); err != nil {
			return err
		}
	}
	if !r.holds(st.Old, st.Before) {
		return errors.Join(changed(st.Path), r.dir.Move(st.Old, st.Path))
	}
	if st.New == "" {
		return nil
	}
	return r.place(st)
}

// place puts new content where nothing is.
func (r *runner) place(st step) error {
	err := r.dir.Move(st.New, st.Path)
	if errors.Is(err, fs.ErrExist) {
		return changed(st.Path)
	}
	return err
}

// exchange puts new content into the place of what is there in one step, where the
// system can do that, so that at no time there is no file.
func (r *runner) exchange(st step) (done bool, err error) {
	if st.New == "" {
		return false, nil
	}
	switch err := r.dir.Swap(st.New, st.Path); {
	case errors.Is(err, errors.ErrUnsupported):
		return false, nil
	case err != nil:
		return false, err
	}
	if !r.holds(st.New, st.Before) { // somebody saved it just now: theirs comes first
		return true, errors.Join(changed(st.Path), r.dir.Swap(st.New, st.Path))
	}
	return true, r.dir.Move(st.New, st.Old)
}

// stands says whether a step has been carried out, and whether it still can be: every
// file has the content that the journal says.
func (r *runner) stands(st step) (did, can bool) {
	switch gone := r.dir.Missing(st.Path); {
	case st.New == "":
		return gone && r.holds(st.Old, st.Before), r.holds(st.Path, st.Before)
	case gone:
		return false, r.holds(st.New, st.After) && (st.Before == "" || r.holds(st.Old, st.Before))
	case st.Before == "":
		return r.holds(st.Path, st.After), false
	case r.holds(st.Path, st.After):
		return true, false
	}
	return false, r.holds(st.Path, st.Before) && r.holds(st.New, st.After)
}

// holds says whether a regular file is there with the content of the given SHA-256.
func (r *runner) holds(name, sum string) bool {
	got, err := r.dir.Sum(name, mostRead)
	for try := 0; try < mostWaits && busy(err); try++ {
		time.Sleep(busyWait)
		got, err = r.dir.Sum(name, mostRead)
	}
	return err == nil && got == sum
}

// On Windows a file that another program reads at this moment can be closed to others: that says nothing
// about what it holds, and is over soon.
const (
	mostWaits = 40
	busyWait  = 25 * time.Millisecond
)

// busy says whether a file could not be read for that reason alone (System Error Codes:
// ERROR_SHARING_VIOLATION, ERROR_LOCK_VIOLATION).
func busy(err error) bool {
	var e syscall.Errno
	return runtime.GOOS == "windows" && errors.As(err, &e) && (e == 32 || e == 33)
}

// tidy takes away what was kept, prunes empty folders, and ends the journal. The change
// stands, whatever comes of that.
func (r *runner) tidy() error {
	if err := r.clear(); err != nil {
		return fmt.Errorf("the change is made, but not all copies of what was there before could be removed, and the next run goes on with that: %w", err)
	}
	return r.told()
}

func (r *runner) clear() error {
	for _, st := range r.j.Steps {
		for _, name := range []string{st.New, st.Old} {
			if err := r.discard(name, st); err != nil {
				return err
			}
		}
	}
	prune := slices.Clone(r.j.Prune)
	sort.Sort(sort.Reverse(sort.StringSlice(prune)))
	for _, d := range prune {
		_ = r.dir.RemoveFolder(d) // one with something in it stays
	}
	if err := r.sync(); err != nil {
		return err
	}
	return r.drop()
}

// discard removes a companion file that holds what this run put there or found there.
// Anything else in it is somebody's, and stays.
func (r *runner) discard(name string, st step) error {
	if name == "" || r.dir.Missing(name) {
		return nil
	}
	got, err := r.dir.Sum(name, mostRead)
	if err != nil {
		return err
	}
	if got != st.Before && got != st.After {
		r.kept = append(r.kept, name)
		return nil
	}
	return r.dir.Remove(name)
}

// told is the error of a run that had to leave copies behind.
func (r *runner) told() error {
	if len(r.kept) == 0 {
		return nil
	}
	return wrong(strings.Join(r.kept, ", "), "only files that nobody writes while Notaria is at work", "work of somebody else's",
		"it is kept in the files named; look at them, and remove them")
}
