// Package edit changes a few bytes of somebody else's manifest and no other.
//
// Each syntax has one function that makes a document hold the entries that are
// wanted, and drop those that Notaria put there before and wants no more. What
// Notaria did not write is never changed or dropped: an entry that a person
// already made by hand counts as there, and stays theirs. Comments, order,
// indentation, line ends, byte order marks and trailing newlines survive,
// because documents are never printed anew: they are parsed for the places of
// things, and text is spliced in and out at those places.
package edit

import (
	"bytes"
	"fmt"
	"sort"
	"strings"
)

// Syntaxes that entries can be kept in.
const (
	SyntaxPlist   = "plist"     // XML property list: Place is a key of the top dictionary
	SyntaxAddFont = "addfont"   // MauiProgram.cs: Place is "alias:NAME", Value a file
	SyntaxAppJSON = "appjson"   // Expo's app.json: Place is "fonts"
	SyntaxPubspec = "pubspec"   // pubspec.yaml: Place is "family:NAME", Value an asset
	SyntaxProject = "xcodeproj" // project.pbxproj: Place is "resources:TARGET" or "sources:TARGET"
)

// An Entry is one thing that a manifest holds or should hold. Entries with a
// Made list and no Value stand for containers that had to be made first, so
// that they can be taken away again with the last entry in them.
type Entry struct {
	File   string   `json:"file"` // project-relative, with slashes
	Syntax string   `json:"syntax"`
	Place  string   `json:"place"`
	Value  string   `json:"value,omitempty"`
	With   []string `json:"with,omitempty"` // what stands with the value, such as "weight: 700"
	Made   []string `json:"made,omitempty"`
	Target string   `json:"target"` // the platform whose it is; package edit leaves it alone
}

// Key tells entries apart; Made is not part of it.
func (e Entry) Key() string { return e.File + "\x00" + e.Syntax + "\x00" + e.Place + "\x00" + e.Value }

// An Error says why a document was left alone, and what a person can paste
// there instead.
type Error struct {
	File     string
	Line     int // 1-based; 0 if the whole file is meant
	Expected string
	Found    string
	Cure     string
}

func (e *Error) Error() string {
	at := e.File
	if e.Line > 0 {
		at = fmt.Sprintf("%s:%d", e.File, e.Line)
	}
	return fmt.Sprintf("%s: expected %s, found %s; %s", at, e.Expected, e.Found, e.Cure)
}

// Reconcile makes doc, the content of file, hold want and drop what of owned is
// not wanted any more. It returns the new content (doc itself if nothing
// changes) and the entries that are Notaria's from now on.
func Reconcile(file, syntax string, doc []byte, want, owned []Entry) ([]byte, []Entry, error) {
	switch syntax {
	case SyntaxPlist:
		return reconcilePlist(file, doc, want, owned)
	case SyntaxProject:
		return reconcileProject(file, doc, want, owned)
	case SyntaxPackage:
		return reconcilePackage(file, doc, want, owned)
	case SyntaxByHand:
		return doc, nil, nil
	case SyntaxXML:
		return reconcileXML(file, doc, want, owned)
	case SyntaxSource:
		return reconcileSource(file, doc, want, owned)
	case SyntaxPubspec:
		return reconcilePubspec(file, doc, want, owned)
	case SyntaxAddFont:
		return reconcileAddFont(file, doc, want, owned)
	case SyntaxAppJSON:
		return reconcileAppJSON(file, doc, want, owned)
	}
	return nil, nil, fmt.Errorf("%s: no such syntax: %q", file, syntax)
}

// splice is one replacement of doc[from:to] by text.
type splice struct {
	from, to int
	text     string
}

// apply carries out splices that do not overlap. Insertions at the same place
// come out in the order given.
func apply(doc []byte, splices []splice) []byte {
	sort.SliceStable(splices, func(i, j int) bool { return splices[i].from < splices[j].from })
	var out bytes.Buffer
	at := 0
	for _, s := range splices {
		if s.from > at {
			out.Write(doc[at:s.from])
			at = s.from
		}
		out.WriteString(s.text)
		at = max(at, s.to)
	}
	out.Write(doc[at:])
	return out.Bytes()
}

// lineStart is the offset of the first byte of the line that holds at.
func lineStart(doc []byte, at int) int { return bytes.LastIndexByte(doc[:at], '\n') + 1 }

// lineEnd is the offset just past the line that holds at, its newline included.
func lineEnd(doc []byte, at int) int {
	if i := bytes.IndexByte(doc[at:], '\n'); i >= 0 {
		return at + i + 1
	}
	return len(doc)
}

// lineOf is the 1-based number of the line that holds at.
func lineOf(doc []byte, at int) int { return bytes.Count(doc[:min(at, len(doc))], []byte("\n")) + 1 }

// indentOf is the white space that the line of at begins with.
func indentOf(doc []byte, at int) string {
	from := lineStart(doc, at)
	to := from
	for to < len(doc) && (doc[to] == ' ' || doc[to] == '\t') {
		to++
	}
	return string(doc[from:to])
}

// newline is the line end that the document uses.
func newline(doc []byte) string {
	if i := bytes.IndexByte(doc, '\n'); i > 0 && doc[i-1] == '\r' {
		return "\r\n"
	}
	return "\n"
}

// alone says whether doc[from:to] is all that its lines hold.
func alone(doc []byte, from, to int) bool {
	return strings.TrimSpace(string(doc[lineStart(doc, from):from])) == "" &&
		strings.TrimSpace(string(doc[to:lineEnd(doc, to)])) == ""
}

// wholeLines widens a range that stands alone to its full lines.
func wholeLines(doc []byte, from, to int) splice {
	if alone(doc, from, to) {
		return splice{lineStart(doc, from), lineEnd(doc, to), ""}
	}
	return splice{from, to, ""}
}

// BlankComments overwrites the comments of C-like source (Swift, Kotlin, Java,
// Objective-C, Gradle) by spaces, so that offsets and lines stay. Strings are
// kept; nested block comments are taken as Swift and Kotlin do.
func BlankComments(src []byte) []byte {
	out := append([]byte(nil), src...)
	for i := 0; i < len(src); {
		rest := src[i:]
		end := i + 1
		switch {
		case rest[0] == '"' || rest[0] == '\'':
			end = quoteEnd(src, i)
		case bytes.HasPrefix(rest, []byte("//")):
			for end = i; end < len(src) && src[end] != '\n'; end++ {
			}
			blank(out[i:end])
		case bytes.HasPrefix(rest, []byte("/*")):
			end = commentEnd(src, i)
			blank(out[i:end])
		}
		i = end
	}
	return out
}

// quoteEnd is just past a string of C-like source, also one between three quotes.
func quoteEnd(src []byte, at int) int {
	const three = `"""`
	if !bytes.HasPrefix(src[at:], []byte(three)) {
		return stringEnd(src, at)
	}
	if n := bytes.Index(src[at+len(three):], []byte(three)); n >= 0 {
		return at + n + 2*len(three)
	}
	return len(src)
}

// stringEnd is just past a string that stays on its line.
func stringEnd(src []byte, at int) int {
	for i := at + 1; i < len(src) && src[i] != '\n'; i++ {
		switch src[i] {
		case '\\':
			i++
		case src[at]:
			return i + 1
		}
	}
	return at + 1 // an apostrophe, or a string that is none
}

// commentEnd is just past a block comment, others nested in it included.
func commentEnd(src []byte, at int) int {
	depth := 0
	for i := at; i+1 < len(src); i++ {
		switch {
		case src[i] == '/' && src[i+1] == '*':
			depth++
			i++
		case src[i] == '*' && src[i+1] == '/':
			depth--
			i++
			if depth == 0 {
				return i + 1
			}
		}
	}
	return len(src)
}

func blank(b []byte) {
	for i := range b {
		if b[i] != '\n' && b[i] != '\r' {
			b[i] = ' '
		}
	}
}

// sortedKeys lists a map's keys in order.
func sortedKeys[V any](m map[string]V) []string {
	out := make([]string, 0, len(m))
	for k := range m {
		out = append(out, k)
	}
	sort.Strings(out)
	return out
}

// settle tells what is wanted and not there, and which of the wanted entries are
// Notaria's: those that are now added, and those that were before. have are the
// values that are there, mine those that Notaria put there.
func settle(want []Entry, have, mine map[string]bool) (add []string, now []Entry) {
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

// ownValues takes owned entries of one place apart: what was made around them, and
// their values.
func ownValues(container Entry, owned []Entry) (Entry, map[string]bool) {
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

// values is the set of an entry list's values.
func values(list []Entry) map[string]bool {
	m := make(map[string]bool, len(list))
	for _, e := range list {
		m[e.Value] = true
	}
	return m
}

// keys is the set of an entry list's keys.
func keys(list []Entry) map[string]bool {
	m := make(map[string]bool, len(list))
	for _, e := range list {
		m[e.Key()] = true
	}
	return m
}
