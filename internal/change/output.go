package change

import (
	"bytes"
	"context"
	"errors"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"strings"

	"notaria/internal/disk"
	"notaria/internal/fault"
)

// An Output is a file that a command was asked to write: Data, or what Make makes of what is there, nil for
// nothing.
type Output struct {
	Name string // as it was typed
	Data []byte
	Make func(old []byte) ([]byte, error)
}

// A Writer writes what commands were asked for, all files of one call or none, as a project's own files are written:
// only regular ones, through no link, never into version control's folders, synced and exchanged in one step.
type Writer struct {
	// Project is the folder of the project around, "" for none: what is below it is written as a part of it, what
	// is below the current folder as a part of that, anything else from its own folder on.
	Project string
	// Overwrite allows to take the place of files that Notaria did not write there last.
	Overwrite bool
	Tell      func(who string) // who is waited for; may be nil
}

// Write writes files that lie in one folder, or below. A file that is there is Notaria's if it is what this user's last
// run wrote there: its SHA-256 is in the state folder. What looks like it only is not.
func (w Writer) Write(ctx context.Context, outputs ...Output) error {
	if len(outputs) == 0 {
		return nil
	}
	root, _, err := w.place(outputs[0].Name)
	if err != nil {
		return err
	}
	dir, err := disk.Open(root)
	if err != nil {
		return err
	}
	defer dir.Close()
	tell := w.Tell
	if tell == nil {
		tell = func(string) {}
	}
	hold, err := Take(ctx, dir, tell, nil)
	if err != nil {
		return err
	}
	defer hold.Release()
	if _, err := hold.Recover(ctx); err != nil {
		return err
	}
	set := &Set{Dir: dir}
	var noted []note
	for _, o := range outputs {
		n, err := w.add(set, hold, o)
		if err != nil {
			return err
		}
		noted = append(noted, n)
	}
	if err := hold.Apply(ctx, set); err != nil {
		return err
	}
	for _, n := range noted {
		hold.note(n)
	}
	return nil
}

// add puts an output into a set.
func (w Writer) add(set *Set, hold *Hold, o Output) (note, error) {
	_, rel, err := w.place(o.Name)
	if err != nil {
		return note{}, err
	}
	old, err := set.Read(rel)
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		return note{}, err // what cannot be read is there
	}
	n := note{at: path.Join(filepath.ToSlash(set.Dir.Path()), rel)}
	data := o.Data
	switch {
	case o.Make != nil:
		if data, err = o.Make(old); err != nil {
			return n, err
		}
	case err == nil && !w.Overwrite && !bytes.Equal(old, data) && hold.noted(n.at) != Sum(old):
		return n, &fault.UseError{Err: &fault.Error{File: o.Name, Expected: "no file, or the one that Notaria wrote there last", Found: "another file", Cure: "move it away, choose another place, or use --overwrite"}}
	}
	n.sum = Sum(data)
	return n, set.Write(rel, data)
}

// place is the folder that a file is written from, and its path in it.
func (w Writer) place(name string) (root, rel string, err error) {
	abs, err := filepath.Abs(name)
	if err != nil {
		return "", "", err
	}
	for _, part := range strings.Split(filepath.ToSlash(abs), "/") {
		if disk.IsVersionControl(part) {
			return "", "", &fault.UseError{Err: &fault.Error{File: name, Expected: "a path outside version control's own folders", Found: part, Cure: "choose another place: Notaria writes nothing there"}}
		}
	}
	here, err := os.Getwd()
	if err != nil {
		return "", "", err
	}
	for _, root := range []string{w.Project, here} {
		if root == "" {
			continue
		}
		if root, err = filepath.Abs(root); err != nil {
			return "", "", err
		}
		if below, err := filepath.Rel(root, abs); err == nil && filepath.IsLocal(below) && below != "." {
			return root, filepath.ToSlash(below), nil
		}
	}
	root = filepath.Dir(abs)
	for root != filepath.Dir(root) {
		if info, err := os.Stat(root); err == nil && info.IsDir() {
			break
		}
		root = filepath.Dir(root)
	}
	below, err := filepath.Rel(root, abs)
	return root, filepath.ToSlash(below), err
}

// A note says what was written to a place last.
type note struct{ at, sum string }

// outputs is where the state folder has the notes: a file for each place, with the SHA-256 in it.
const outputs = "outputs"

func noteFile(at string) string { return outputs + "/" + Sum([]byte(at))[:32] }

// noted is the SHA-256 of what was written to a place last, "" if that is not known.
func (h *Hold) noted(at string) string {
	if h.state == nil {
		return ""
	}
	b, err := h.state.Fresh(noteFile(at), 128)
	if err != nil {
		return ""
	}
	return strings.TrimSpace(string(b))
}

// note keeps a note. If that fails, the file is another's for the next run, which says so.
func (h *Hold) note(n note) {
	if h.state == nil {
		return
	}
	if err := h.state.Mkdir(outputs); err != nil && !errors.Is(err, fs.ErrExist) {
		return
	}
	name := noteFile(n.at)
	beside := disk.Beside(name, "new")
	if h.state.Create(beside, []byte(n.sum+"\n"), "") == nil && h.state.Replace(beside, name) != nil {
		_ = h.state.Remove(beside)
	}
}
