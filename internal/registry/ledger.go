package registry

import (
	"bytes"
	"encoding/json"
	"errors"
	"io"
	"maps"
	"path/filepath"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/fault"
	"notaria/internal/lazy"
)

// LedgerName is the ledger's name in a project's folder.
const LedgerName = "notaria.ledger.json"

// Schemas of ledgers. The second had neither versions nor the registry's sum; the third was printed with many lines for
// each thing, and did not merge.
const (
	ledgerSchema = "notaria/ledger/4"
	thirdSchema  = "notaria/ledger/3"
	secondSchema = "notaria/ledger/2"
)

// Version is Notaria's own; the release build sets it.
var Version = Development

// Development is the version of a build that is no release.
const Development = "development"

// A Ledger is Notaria's account of what it wrote: nothing that is not on it is
// ever deleted.
type Ledger struct {
	Schema string `json:"schema"`
	// Registry is the sum of the registry that all apps were last registered from, "" where that is
	// not known: see Registry.Sum.
	Registry string    `json:"registry,omitempty"`
	Files    []Written `json:"files"`
	Folders  []string  `json:"folders"` // made by Notaria; they go when they are empty
	Entries  []Entry   `json:"entries"`
	// Attributes says what Notaria put into .gitattributes, so that version control merges the ledger line by line: "line", or
	// "file" where there was none; "" for nothing.
	Attributes string `json:"attributes,omitempty"`

	// Merged says that the text was that of two ledgers which version control has put together.
	Merged bool `json:"-"`

	index map[string]int // of Files, by path; nil where it is not known
}

// An Owner is an app that wants something: a platform, and the path of the app, "" on
// a ledger of schema 1, which did not tell.
type Owner struct {
	Target string `json:"target"`
	App    string `json:"app,omitempty"`
}

// Written is a file that Notaria wrote, with the SHA-256 of what it wrote.
type Written struct {
	Path   string `json:"path"`
	SHA256 string `json:"sha256"`
	// Recipe and Original say what it was made of, and the SHA-256 of the originals, so
	// that nothing is made again when nothing changed. Text has no originals.
	Recipe   string  `json:"recipe,omitempty"`
	Original string  `json:"original,omitempty"`
	By       string  `json:"by,omitempty"`     // the version of Notaria that generated the text
	Owners   []Owner `json:"owners,omitempty"` // none for originals and licences
	// Others are the sums of what the other side of a merge wrote.
	Others []string `json:"others,omitempty"`
	// Taken says that somebody else put the file there, and that Notaria has taken
	// it over.
	Taken bool `json:"taken,omitempty"`
}

// An Entry is one that Notaria put into a manifest. Those of containers have no owners:
// they go with the last entry in them.
type Entry struct {
	edit.Entry
	Owners []Owner `json:"owners,omitempty"`
}

func ledgerFault(expected, found string) error {
	return &fault.Error{File: LedgerName, Expected: expected, Found: found, Cure: "restore it from version control"}
}

// ParseLedger reads a ledger, one of schema 1 too; empty text is an empty one.
func ParseLedger(text []byte) (*Ledger, error) {
	l := &Ledger{Schema: ledgerSchema}
	if len(text) == 0 {
		return l, nil
	}
	schema, err := schemaOf(text)
	if err != nil && bytes.Contains(text, []byte(strconvQuote(ledgerSchema))) {
		schema, err = ledgerSchema, nil // between the marks of a merge
	}
	if err != nil {
		return nil, unread(text, err)
	}
	switch schema {
	case ledgerSchema:
		err = l.read(text)
	case thirdSchema, secondSchema:
		err = decode(text, l)
		l.Schema = ledgerSchema
	case firstSchema:
		l, err = parseFirst(text)
	default:
		return nil, &fault.Error{File: LedgerName, Expected: strconvQuote(ledgerSchema), Found: strconvQuote(schema), Cure: "use the version of Notaria that wrote it"}
	}
	if err != nil {
		return nil, unread(text, err)
	}
	return l, l.local()
}

// unread is why a text is no ledger.
func unread(text []byte, err error) error {
	if bytes.Contains(text, []byte("<<<<<<< ")) {
		return &fault.Error{File: LedgerName, Expected: "a file whose merge is finished", Found: "a merge conflict marker (<<<<<<<)", Cure: "take either side whole, then run: notaria register --take-over"}
	}
	return ledgerFault("the account that Notaria keeps", err.Error())
}

// firstKey finds the schema where Notaria writes it: first.
var firstKey = lazy.Regexp(`^\s*\{\s*"schema"\s*:\s*"([^"\\]*)"`)

// schemaOf reads the schema, without reading all else where it comes first.
func schemaOf(text []byte) (string, error) {
	if m := firstKey.FindSubmatch(text[:min(len(text), 200)]); m != nil {
		return string(m[1]), nil
	}
	var head struct {
		Schema string `json:"schema"`
	}
	err := json.Unmarshal(text, &head)
	return head.Schema, err
}

func strconvQuote(s string) string { b, _ := json.Marshal(s); return string(b) }

func decode(text []byte, into any) error {
	dec := json.NewDecoder(bytes.NewReader(text))
	dec.DisallowUnknownFields()
	if err := dec.Decode(into); err != nil {
		return err
	}
	if _, err := dec.Token(); err != io.EOF {
		return errors.New("text after the end")
	}
	return nil
}

// local makes sure that all paths are inside the project.
func (l *Ledger) local() error {
	var paths []string
	for _, f := range l.Files {
		paths = append(paths, f.Path)
	}
	for _, e := range l.Entries {
		paths = append(paths, e.File)
	}
	for _, p := range append(paths, l.Folders...) {
		if !filepath.IsLocal(filepath.FromSlash(p)) {
			return ledgerFault("paths inside the project", strconvQuote(p))
		}
	}
	return nil
}

// Clone is a copy that can be changed without the other.
func (l *Ledger) Clone() *Ledger {
	return &Ledger{Schema: l.Schema, Registry: l.Registry, Files: slices.Clone(l.Files), Folders: slices.Clone(l.Folders), Entries: slices.Clone(l.Entries), Attributes: l.Attributes}
}

// Equal says whether two ledgers account for the same.
func (l *Ledger) Equal(other *Ledger) bool {
	a, _ := l.Bytes() // made of plain values
	b, _ := other.Bytes()
	return bytes.Equal(a, b)
}

// at finds a file's place in the list, -1 if it is not there.
func (l *Ledger) at(path string) int {
	if l.index == nil {
		l.index = make(map[string]int, len(l.Files))
		for i, f := range l.Files {
			l.index[f.Path] = i
		}
	}
	if i, ok := l.index[path]; ok {
		return i
	}
	return -1
}

// Wrote finds a file on the ledger.
func (l *Ledger) Wrote(path string) (Written, bool) {
	if i := l.at(path); i >= 0 {
		return l.Files[i], true
	}
	return Written{}, false
}

// Record puts a file on the ledger, or corrects what is there of it.
func (l *Ledger) Record(w Written) {
	if i := l.at(w.Path); i >= 0 {
		w.Taken = w.Taken || l.Files[i].Taken
		l.Files[i] = w
		return
	}
	l.index[w.Path] = len(l.Files)
	l.Files = append(l.Files, w)
}

// Forget takes a file off the ledger.
func (l *Ledger) Forget(path string) {
	if i := l.at(path); i >= 0 {
		l.Files = slices.Delete(slices.Clone(l.Files), i, i+1)
		l.index = nil
	}
}

// Owners are all that own something, each once, in order.
func (l *Ledger) Owners() []Owner {
	seen := map[Owner]bool{}
	for _, f := range l.Files {
		for _, o := range f.Owners {
			seen[o] = true
		}
	}
	for _, e := range l.Entries {
		for _, o := range e.Owners {
			seen[o] = true
		}
	}
	return Union(slices.Collect(maps.Keys(seen)))
}

// Paths are the files and manifests that an owner has something in.
func (l *Ledger) Paths(o Owner) []string {
	var out []string
	for _, f := range l.Files {
		if slices.Contains(f.Owners, o) {
			out = append(out, f.Path)
		}
	}
	for _, e := range l.Entries {
		if slices.Contains(e.Owners, o) {
			out = append(out, e.File)
		}
	}
	return out
}

// Union joins owners, each once, in order. An owner whose app is not told gives way to
// one of the same platform whose app is.
func Union(lists ...[]Owner) []Owner {
	var out []Owner
	for _, list := range lists {
		for _, o := range list {
			if !slices.Contains(out, o) {
				out = append(out, o)
			}
		}
	}
	out = slices.DeleteFunc(out, func(o Owner) bool {
		return o.App == "" && slices.ContainsFunc(out, func(p Owner) bool { return p.Target == o.Target && p.App != "" })
	})
	slices.SortFunc(out, func(a, b Owner) int {
		if c := strings.Compare(a.Target, b.Target); c != 0 {
			return c
		}
		return strings.Compare(a.App, b.App)
	})
	return out
}
