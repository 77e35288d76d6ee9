package change

import (
	"bytes"
	"encoding/json"
	"errors"
	"io/fs"
	"path"

	"notaria/internal/disk"
)

// States of a journal.
const (
	staging = "staging" // files are being written beside their targets: undo
	ready   = "ready"   // all are written and synced: finish
	undoing = "undoing" // an error is being rolled back: go on with that
	done    = "done"    // the change stands: take away what was kept
)

// A journal is what a run is about to do. It is kept in this user's state folder, where
// no project can put one.
type journal struct {
	Schema  string   `json:"schema"`
	Project string   `json:"project"` // the real path of its folder
	State   string   `json:"state"`
	Steps   []step   `json:"steps"`
	Folders []string `json:"folders"` // made by this run, outermost first
	Prune   []string `json:"prune"`
}

// A step is one file. Its new content waits in New; what was there goes to Old. A new
// file has no Before and no Old, one that goes no After and no New.
type step struct {
	Path   string `json:"path"`
	New    string `json:"new,omitempty"`
	Old    string `json:"old,omitempty"`
	Before string `json:"before,omitempty"` // SHA-256 of what was there
	After  string `json:"after,omitempty"`  // SHA-256 of what will be there
}

const (
	journalSchema = "notaria/journal/2"
	mostJournal   = 64 << 20 // bytes
)

// Abandoned is the journal that the first versions kept in the project itself. Anybody
// can put one there, so it counts for nothing.
const Abandoned = ".notaria-journal.json"

// journalFile is the journal's name in the state folder.
func (h *Hold) journalFile() string { return "runs/" + h.key + ".json" }

// save replaces the journal by its present state.
func (h *Hold) save(j journal) error {
	b, err := json.MarshalIndent(j, "", "\t")
	if err != nil {
		return err
	}
	name := h.journalFile()
	next := name + ".new"
	if err := h.state.Mkdir(path.Dir(name)); err != nil && !errors.Is(err, fs.ErrExist) {
		return err
	}
	if !h.state.Missing(next) { // half a journal, which never counted
		if err := h.state.Remove(next); err != nil {
			return err
		}
	}
	if err := h.state.Create(next, append(b, '\n'), ""); err != nil {
		return err
	}
	if err := h.state.Replace(next, name); err != nil {
		return err
	}
	return h.state.Sync(path.Dir(name))
}

// drop ends the journal.
func (h *Hold) drop() error {
	if err := h.state.Remove(h.journalFile()); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	return h.state.Sync(path.Dir(h.journalFile()))
}

// load reads the journal of an interrupted run, if there is one.
func load(state *disk.Folder, key string) (j journal, found bool, err error) {
	name := (&Hold{key: key}).journalFile()
	b, err := state.Read(name, mostJournal)
	if errors.Is(err, fs.ErrNotExist) {
		return j, false, nil
	}
	if err != nil {
		return j, false, err
	}
	dec := json.NewDecoder(bytes.NewReader(b))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&j); err != nil || j.Schema != journalSchema {
		return j, true, wrong(state.Path()+"/"+name, "a journal of this version of Notaria", "something else", "finish with the version that began, or run: notaria register --discard-journal")
	}
	return j, true, nil
}
