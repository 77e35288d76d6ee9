package change

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"sort"
	"strings"
)

// journalName is the file that a run in progress keeps in the project's folder.
const journalName = ".notaria-journal.json"

// States of a journal.
const (
	staging = "staging" // files are being written beside their targets: undo
	ready   = "ready"   // all are written and synced: finish
	undoing = "undoing" // an error is being rolled back: go on with that
)

type journal struct {
	Schema  string   `json:"schema"`
	State   string   `json:"state"`
	Steps   []step   `json:"steps"`
	Folders []string `json:"folders"` // made by this run, outermost first
	Prune   []string `json:"prune"`
}

// A step is one file: its new content waits in New, its old one is kept in Old.
type step struct {
	Path   string `json:"path"`
	New    string `json:"new,omitempty"`
	Old    string `json:"old,omitempty"`
	Before string `json:"before,omitempty"` // SHA-256 of what was there
	After  string `json:"after,omitempty"`  // SHA-256 of what will be there
}

const journalSchema = "notaria/journal/1"

// runner carries a journal through its states.
type runner struct {
	root string
	j    journal
}

// Apply makes all the changes, or none. Another run on the same project at the
// same time is refused. A cancelled context stops it before the first rename.
func (s *Set) Apply(ctx context.Context) error {
	if s.Empty() {
		return nil
	}
	unlock, err := lock(s.Root)
	if err != nil {
		return err
	}
	defer unlock()
	if err := recoverLocked(s.Root); err != nil {
		return err
	}
	s.normalise()
	if err := s.check(); err != nil {
		return err
	}
	r := &runner{root: s.Root, j: journal{Schema: journalSchema, State: staging, Prune: s.Prune}}
	r.plan(s)
	if err := r.stage(ctx, s); err != nil {
		return errors.Join(err, r.undo())
	}
	if err := r.commit(); err != nil {
		return errors.Join(err, r.undo())
	}
	return r.tidy()
}

// plan names the files of each step, and the folders that have to be made.
func (r *runner) plan(s *Set) {
	folders := map[string]bool{}
	for i, f := range s.Files {
		dir, base := path.Split(f.Path)
		st := step{Path: f.Path}
		if !f.Delete {
			st.New = path.Join(dir, fmt.Sprintf(".%s.notaria-new-%d", shorten(base), i))
			st.After = Sum(f.After)
		}
		if f.Exists {
			st.Old = path.Join(dir, fmt.Sprintf(".%s.notaria-old-%d", shorten(base), i))
			st.Before = Sum(f.Before)
		}
		r.j.Steps = append(r.j.Steps, st)
		for d := path.Dir(f.Path); !f.Delete && d != "." && !folders[d]; d = path.Dir(d) {
			if _, err := os.Lstat(r.full(d)); errors.Is(err, fs.ErrNotExist) {
				folders[d] = true
			}
		}
	}
	for d := range folders {
		r.j.Folders = append(r.j.Folders, d)
	}
	sort.Strings(r.j.Folders) // a folder sorts before what is in it
}

// shorten keeps the names of companion files within what file systems allow.
func shorten(base string) string {
	if len(base) > 120 {
		return base[:120]
	}
	return base
}

func (r *runner) full(name string) string { return filepath.Join(r.root, filepath.FromSlash(name)) }

// stage writes everything beside its target, and keeps what was there.
func (r *runner) stage(ctx context.Context, s *Set) error {
	if err := r.save(); err != nil {
		return err
	}
	for _, d := range r.j.Folders {
		if err := os.Mkdir(r.full(d), 0o755); err != nil && !errors.Is(err, fs.ErrExist) {
			return err
		}
	}
	for i, st := range r.j.Steps {
		if err := ctx.Err(); err != nil {
			return err
		}
		mode := fs.FileMode(0o644)
		if st.Old != "" {
			info, err := os.Stat(r.full(st.Path))
			if err != nil {
				return err
			}
			mode = info.Mode().Perm()
			if err := keep(r.full(st.Path), r.full(st.Old), mode); err != nil {
				return err
			}
		}
		if st.New != "" {
			if err := writeSynced(r.full(st.New), s.Files[i].After, mode); err != nil {
				return err
			}
		}
	}
	for dir := range r.folders() {
		if err := syncDir(dir); err != nil {
			return err
		}
	}
	r.j.State = ready
	return r.save()
}

// keep returns a file a second name, or copies it where links are not to be had.
func keep(from, to string, mode fs.FileMode) error {
	if err := os.Link(from, to); err == nil {
		return nil
	}
	b, err := os.ReadFile(from)
	if err != nil {
		return err
	}
	return writeSynced(to, b, mode)
}

// commit renames. From here on it is forward or, on an error, all the way back.
func (r *runner) commit() error {
	for _, st := range r.j.Steps {
		if err := r.forward(st); err != nil {
			return err
		}
	}
	return nil
}

func (r *runner) forward(st step) error {
	if st.New != "" {
		return os.Rename(r.full(st.New), r.full(st.Path))
	}
	return ignoreMissing(os.Remove(r.full(st.Path)))
}

// undo puts every file back and takes away what this run made. While files were
// only being staged, no target has been touched, and a kept copy may be half a
// copy: it just goes.
func (r *runner) undo() error {
	var errs []error
	touched := r.j.State != staging
	if touched {
		r.j.State = undoing
		errs = append(errs, r.save())
	}
	for _, st := range r.j.Steps {
		if st.New != "" {
			errs = append(errs, ignoreMissing(os.Remove(r.full(st.New))))
		}
		if touched {
			errs = append(errs, r.putBack(st))
		}
		if st.Old != "" {
			errs = append(errs, ignoreMissing(os.Remove(r.full(st.Old))))
		}
	}
	for i := len(r.j.Folders) - 1; i >= 0; i-- {
		removeFolder(r.full(r.j.Folders[i]))
	}
	if err := errors.Join(errs...); err != nil {
		return fmt.Errorf("putting the files back: %w", err)
	}
	return r.drop()
}

// putBack undoes one step if it was done; what somebody else has written in the
// meantime is theirs and stays.
func (r *runner) putBack(st step) error {
	switch {
	case st.Old == "":
		if r.holds(st.Path, st.After) {
			return os.Remove(r.full(st.Path))
		}
	case st.New == "" && r.missing(st.Path), st.New != "" && r.holds(st.Path, st.After):
		if r.holds(st.Old, st.Before) {
			return os.Rename(r.full(st.Old), r.full(st.Path))
		}
	}
	return nil
}

func (r *runner) missing(name string) bool {
	_, err := os.Lstat(r.full(name))
	return errors.Is(err, fs.ErrNotExist)
}

// done says whether a step has been carried out, and whether it still can be:
// its target is as it was when the run began.
func (r *runner) done(st step) (done, can bool) {
	if st.New == "" {
		return r.missing(st.Path), r.holds(st.Path, st.Before)
	}
	return r.missing(st.New), st.Old == "" && r.missing(st.Path) || st.Old != "" && r.holds(st.Path, st.Before)
}

// holds says whether a file has the content of the given SHA-256.
func (r *runner) holds(name, sum string) bool {
	b, err := os.ReadFile(r.full(name))
	return err == nil && Sum(b) == sum
}

// tidy removes the kept files, prunes empty folders, and ends the journal.
func (r *runner) tidy() error {
	for _, st := range r.j.Steps {
		if st.Old != "" {
			if err := ignoreMissing(os.Remove(r.full(st.Old))); err != nil {
				return err
			}
		}
	}
	prune := append([]string(nil), r.j.Prune...)
	sort.Sort(sort.Reverse(sort.StringSlice(prune)))
	for _, d := range prune {
		if full, err := Inside(r.root, d); err == nil {
			removeFolder(full)
		}
	}
	for dir := range r.folders() {
		if err := syncDir(dir); err != nil {
			return err
		}
	}
	return r.drop()
}

// folders are the full paths of the folders that this run touches and that exist.
func (r *runner) folders() map[string]bool {
	out := map[string]bool{}
	for _, st := range r.j.Steps {
		dir := filepath.Dir(r.full(st.Path))
		if _, err := os.Stat(dir); err == nil {
			out[dir] = true
		}
	}
	return out
}

// save replaces the journal by its present state.
func (r *runner) save() error {
	b, err := json.MarshalIndent(r.j, "", "\t")
	if err != nil {
		return err
	}
	tmp := r.full(journalName + ".new")
	if err := writeSynced(tmp, append(b, '\n'), 0o644); err != nil {
		return err
	}
	if err := os.Rename(tmp, r.full(journalName)); err != nil {
		return err
	}
	return syncDir(r.root)
}

func (r *runner) drop() error {
	if err := os.Remove(r.full(journalName)); err != nil {
		return err
	}
	return syncDir(r.root)
}

// Recover ends what a killed run left behind in a project: it finishes what was
// ready and undoes what was not. It says whether there was anything.
func Recover(root string) (bool, error) {
	if _, err := os.Lstat(filepath.Join(root, journalName)); err != nil {
		_ = os.Remove(filepath.Join(root, journalName+".new"))
		return false, nil
	}
	unlock, err := lock(root)
	if err != nil {
		return false, err
	}
	defer unlock()
	return true, recoverLocked(root)
}

func recoverLocked(root string) error {
	r := &runner{root: root}
	_ = os.Remove(r.full(journalName + ".new")) // half a journal that never counted
	b, err := os.ReadFile(r.full(journalName))
	if errors.Is(err, fs.ErrNotExist) {
		return nil
	}
	if err != nil {
		return err
	}
	if err := json.Unmarshal(b, &r.j); err != nil || r.j.Schema != journalSchema {
		return wrong(journalName, "a journal of this version of Notaria", "something else", "finish with the version that began, or remove the file and look at the folder yourself")
	}
	if err := r.trusted(); err != nil {
		return err
	}
	if r.j.State != ready {
		return r.undo()
	}
	for _, st := range r.j.Steps {
		if done, can := r.done(st); !done && !can {
			return r.undo() // somebody wrote there since: theirs comes first
		}
	}
	for _, st := range r.j.Steps {
		if done, _ := r.done(st); done {
			continue
		}
		if err := r.forward(st); err != nil {
			return err
		}
	}
	return r.tidy()
}

// trusted makes sure that a journal, which anybody could have put there, names
// nothing outside the project and nothing but Notaria's own companion files.
func (r *runner) trusted() error {
	for _, st := range r.j.Steps {
		for _, name := range []string{st.Path, st.New, st.Old} {
			if name == "" {
				continue
			}
			if _, err := Inside(r.root, name); err != nil {
				return err
			}
		}
		for _, name := range []string{st.New, st.Old} {
			if name != "" && !strings.Contains(path.Base(name), ".notaria-") {
				return wrong(journalName, "only Notaria's own companion files", fmt.Sprintf("%q", name), "remove the journal")
			}
		}
	}
	for _, d := range append(r.j.Folders, r.j.Prune...) {
		if !filepath.IsLocal(filepath.FromSlash(d)) {
			return wrong(journalName, "folders inside the project", fmt.Sprintf("%q", d), "remove the journal")
		}
	}
	return nil
}

// removeFolder takes an empty folder away. One with something in it stays, and so
// does a file: the names come from accounts that anybody may have edited.
func removeFolder(full string) {
	if info, err := os.Lstat(full); err == nil && info.IsDir() {
		_ = os.Remove(full)
	}
}

func ignoreMissing(err error) error {
	if errors.Is(err, fs.ErrNotExist) {
		return nil
	}
	return err
}

// writeSynced writes a new file and waits until it is on disk.
func writeSynced(name string, b []byte, mode fs.FileMode) error {
	f, err := os.OpenFile(name, os.O_WRONLY|os.O_CREATE|os.O_TRUNC, mode)
	if err != nil {
		return err
	}
	_, err = f.Write(b)
	return errors.Join(err, f.Chmod(mode), f.Sync(), f.Close())
}
