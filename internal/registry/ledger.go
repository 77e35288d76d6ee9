package registry

import (
	"bytes"
	"encoding/json"
	"fmt"
	"path/filepath"
	"sort"

	"notaria/internal/edit"
)

// LedgerName is the ledger's name in a project's folder.
const LedgerName = "notaria.ledger.json"

const ledgerSchema = "notaria/ledger/1"

// A Ledger is Notaria's account of what it wrote: nothing that is not on it is
// ever deleted.
type Ledger struct {
	Schema  string       `json:"schema"`
	Files   []Written    `json:"files"`
	Folders []string     `json:"folders"` // made by Notaria; they go when they are empty
	Entries []edit.Entry `json:"entries"`
}

// Written is a file that Notaria wrote, with the SHA-256 of what it wrote.
type Written struct {
	Path   string `json:"path"`
	SHA256 string `json:"sha256"`
	Target string `json:"target,omitempty"` // the platform it is for; none for originals
	// Taken says that somebody else put the file there, and that Notaria has taken
	// it over.
	Taken bool `json:"taken,omitempty"`
}

// ParseLedger reads a ledger; empty text is an empty one.
func ParseLedger(text []byte) (*Ledger, error) {
	l := &Ledger{Schema: ledgerSchema}
	if len(text) == 0 {
		return l, nil
	}
	dec := json.NewDecoder(bytes.NewReader(text))
	dec.DisallowUnknownFields()
	if err := dec.Decode(l); err != nil {
		return nil, fmt.Errorf("%s: expected the account that Notaria keeps, found %w; restore it from version control", LedgerName, err)
	}
	if l.Schema != ledgerSchema {
		return nil, fmt.Errorf("%s: expected %q, found %q; use the version of Notaria that wrote it", LedgerName, ledgerSchema, l.Schema)
	}
	for _, f := range l.Files {
		if !filepath.IsLocal(filepath.FromSlash(f.Path)) {
			return nil, fmt.Errorf("%s: expected paths inside the project, found %q; restore it from version control", LedgerName, f.Path)
		}
	}
	return l, nil
}

// Bytes writes the ledger in a fixed order; an empty one is nil.
func (l *Ledger) Bytes() ([]byte, error) {
	if len(l.Files) == 0 && len(l.Entries) == 0 {
		return nil, nil
	}
	out := Ledger{Schema: ledgerSchema, Files: append([]Written{}, l.Files...), Folders: append([]string{}, l.Folders...), Entries: append([]edit.Entry{}, l.Entries...)}
	sort.Slice(out.Files, func(i, j int) bool { return out.Files[i].Path < out.Files[j].Path })
	sort.Strings(out.Folders)
	sort.SliceStable(out.Entries, func(i, j int) bool { return out.Entries[i].Key() < out.Entries[j].Key() })
	b, err := json.MarshalIndent(out, "", "  ")
	return append(b, '\n'), err
}

// Wrote finds a file on the ledger.
func (l *Ledger) Wrote(path string) (Written, bool) {
	for _, f := range l.Files {
		if f.Path == path {
			return f, true
		}
	}
	return Written{}, false
}

// Owned lists the entries of one manifest.
func (l *Ledger) Owned(file string) []edit.Entry {
	var out []edit.Entry
	for _, e := range l.Entries {
		if e.File == file {
			out = append(out, e)
		}
	}
	return out
}
