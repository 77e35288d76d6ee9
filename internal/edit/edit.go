// Package edit changes a few bytes of somebody else's manifest and no other.
//
// A syntax is a form of documents: it makes a document hold the entries that are
// wanted, and drops those that Notaria put there before and wants no more. What
// Notaria did not write is never changed or dropped: an entry that a person made
// counts as there, and stays theirs. Comments, order, indentation, line ends, byte
// order marks and trailing newlines survive, because documents are never printed
// anew: they are parsed for the places of things, and text is spliced in and out at
// those places.
//
// Forms that several platforms use have their packages below this one; those that
// one platform alone uses are that platform's.
package edit

import (
	"bytes"
	"strings"

	"notaria/internal/edit/splice"
	"notaria/internal/fault"
)

// A Document is a manifest as it is now. File is project-relative, with slashes.
type Document struct {
	File string
	Text []byte
}

// Fail says why a document is left alone; at is a byte of it, -1 if all of it is
// meant.
func (d Document) Fail(at int, expected, found, cure string) error {
	line := 0
	if at >= 0 {
		line = splice.LineOf(d.Text, at)
	}
	return &fault.Error{File: d.File, Line: line, Expected: expected, Found: found, Cure: cure}
}

// Mend is the cure of documents that are broken.
const Mend = "correct it by hand, then register again"

// With is the document with another text.
func (d Document) With(text []byte) Document { return Document{d.File, text} }

// Apply is splice.Apply; edits that overlap are a fault of the document, which is of
// a form that was not foreseen.
func (d Document) Apply(edits ...splice.Edit) ([]byte, error) {
	out, err := splice.Apply(d.Text, edits)
	if err != nil {
		return nil, d.Fail(-1, "entries that stand apart", "a layout in which "+err.Error(), "write one entry a line, then register again")
	}
	return out, nil
}

// A Place is where in a document an entry belongs. What its parts mean is up to the
// syntax; a part that the syntax does not use is empty.
type Place struct {
	Kind Kind   `json:"kind"`
	Name string `json:"name,omitempty"` // a key, an element, a family, a target
	// Attribute is that of an element which holds the value.
	Attribute string `json:"attribute,omitempty"`
	// Path are the containers around it, from the outside.
	Path []string `json:"path,omitempty"`
}

// A Kind is a kind of place of a syntax.
type Kind string

// Key tells places apart.
func (p Place) Key() string {
	return strings.Join(append([]string{string(p.Kind), p.Name, p.Attribute}, p.Path...), "\x01")
}

// An Entry is one thing that a manifest holds or should hold. Entries with a Made
// list and no Value stand for containers that had to be made first, so that they can
// be taken away again with the last entry in them.
type Entry struct {
	File   string   `json:"file"` // project-relative, with slashes
	Syntax string   `json:"syntax"`
	Place  Place    `json:"place"`
	Value  string   `json:"value,omitempty"`
	With   []string `json:"with,omitempty"` // what stands with the value, such as "weight: 700"
	Made   []string `json:"made,omitempty"`
}

// Key tells entries apart; Made is not part of it.
func (e Entry) Key() string {
	return strings.Join([]string{e.File, e.Syntax, e.Place.Key(), e.Value}, "\x00")
}

// A Lack is a wanted entry that a document does not hold.
type Lack struct {
	Entry   Entry
	Line    int    // 1-based, of what stands in its place; 0 if nothing does
	Build   bool   // the file is known to the project, but not built into the app
	Message string // what is lacking
	Cause   string // what comes of it
	Cure    string // "" if registering mends it
}

// A Syntax is a form of documents.
type Syntax interface {
	// Name is how entries name it.
	Name() string
	// Reconcile makes a document hold want, and drops what of owned is not wanted any
	// more. It returns the new text (the document's own if nothing changes), and the
	// entries that are Notaria's from now on. A document of another form is a
	// *fault.Error with the line.
	Reconcile(doc Document, want, owned []Entry) ([]byte, []Entry, error)
	// TakeOver returns the entries among want that a document holds and Notaria did
	// not add, as Reconcile would have recorded its own. mine are Notaria's already.
	TakeOver(doc Document, want, mine []Entry) []Entry
	// Paste is what a person writes into a document so that it holds entries; ""
	// if there is nothing to write.
	Paste(want []Entry) string
	// Missing returns the wanted entries that a document does not hold.
	Missing(doc Document, want []Entry) ([]Lack, error)
}

// AnyEntry is a syntax in which an entry can be any line, element or key of the document, and not only what
// names a font.
type AnyEntry interface{ AnyEntry() }

// A Converter is a syntax that can also change what somebody else wrote, where they ask for
// it with --take-over: it returns the new text, and mine with the entries that are Notaria's
// from then on. What was there before is in their With, for striking brings it back.
type Converter interface {
	Convert(doc Document, want, mine []Entry) ([]byte, []Entry, error)
}

// ByPlace reconciles the entries of one place after the other, for places move with
// edits.
func ByPlace(doc Document, want, owned []Entry, one func(doc Document, at Place, want, owned []Entry) ([]byte, []Entry, error)) ([]byte, []Entry, error) {
	var now []Entry
	for _, at := range Places(append(append([]Entry(nil), want...), owned...)) {
		text, mine, err := one(doc, at, At(want, at), At(owned, at))
		if err != nil {
			return nil, nil, err
		}
		doc.Text = text
		now = append(now, mine...)
	}
	return doc.Text, now, nil
}

// Places lists the places of entries, each once, in order.
func Places(list []Entry) []Place {
	var out []Place
	seen := map[string]bool{}
	for _, e := range list {
		if k := e.Place.Key(); !seen[k] {
			seen[k] = true
			out = append(out, e.Place)
		}
	}
	return out
}

// At lists the entries of a place.
func At(list []Entry, at Place) []Entry {
	var out []Entry
	for _, e := range list {
		if e.Place.Key() == at.Key() {
			out = append(out, e)
		}
	}
	return out
}

// Settle tells what is wanted and not there, and which of the wanted entries are
// Notaria's: those that are now added, and those that were before. have are the
// values that are there, mine those that Notaria put there.
func Settle(want []Entry, have, mine map[string]bool) (add []string, now []Entry) {
	for _, e := range want {
		if !have[e.Value] {
			add = append(add, e.Value)
		}
		if !have[e.Value] || mine[e.Value] {
			now = append(now, e)
		}
		have[e.Value] = true
	}
	return add, now
}

// Mine takes owned entries of one place apart: what was made around them, and their
// values.
func Mine(container Entry, owned []Entry) (Entry, map[string]bool) {
	mine := map[string]bool{}
	for _, e := range owned {
		if e.Value == "" {
			container.Made = e.Made
		} else {
			mine[e.Value] = true
		}
	}
	return container, mine
}

// Values is the set of an entry list's values.
func Values(list []Entry) map[string]bool {
	m := make(map[string]bool, len(list))
	for _, e := range list {
		m[e.Value] = true
	}
	return m
}

// Keys is the set of an entry list's keys.
func Keys(list []Entry) map[string]bool {
	m := make(map[string]bool, len(list))
	for _, e := range list {
		m[e.Key()] = true
	}
	return m
}

// Mark is what was made, as an entry tells it: its first mark, "" if it tells none.
// Ledgers are files that anybody can write, so that nothing else may be relied on.
func (e Entry) Mark() string {
	if len(e.Made) == 0 {
		return ""
	}
	return e.Made[0]
}

// Take is how syntaxes take entries over: taken gives an entry with the marks by
// which its syntax finds it again, and false if it is not there or can have other
// uses.
func Take(want, mine []Entry, taken func(Entry) (Entry, bool)) (out []Entry, have map[string]bool) {
	have = Keys(mine)
	for _, e := range want {
		if have[e.Key()] {
			continue
		}
		have[e.Key()] = true
		if e, ok := taken(e); ok {
			out = append(out, e)
		}
	}
	return out, have
}

// MissingBy finds what a document does not hold by asking a syntax to add each entry:
// where that changes something, it was not there.
func MissingBy(s Syntax, doc Document, want []Entry, say func(Entry) Lack) []Lack {
	var out []Lack
	for _, e := range want {
		text, _, err := s.Reconcile(doc, []Entry{e}, nil)
		if err == nil && bytes.Equal(text, doc.Text) {
			continue
		}
		l := say(e)
		if l.Entry = e; err != nil {
			l.Cure = err.Error()
		}
		out = append(out, l)
	}
	return out
}

// Each maps entries to texts.
func Each(list []Entry, text func(Entry) string) []string {
	out := make([]string, len(list))
	for i, e := range list {
		out[i] = text(e)
	}
	return out
}

// PasteBy joins what each place wants pasted.
func PasteBy(want []Entry, at func(place Place, list []Entry) []string) string {
	var lines []string
	for _, p := range Places(want) {
		lines = append(lines, at(p, At(want, p))...)
	}
	return strings.Join(lines, "\n")
}
