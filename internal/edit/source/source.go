// Package source is the form of source code and build files with braces (Kotlin, Java,
// Gradle, C#, Swift, scripts and style sheets): lines among the imports, behind what has to stand first, after a
// statement, or first or last in a block.
package source

import (
	"bytes"
	"fmt"
	"path"
	"regexp"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/splice"
	"notaria/internal/language"
	"notaria/internal/lazy"
)

// Kinds of places. An entry's value is a line of code.
const (
	KindImport edit.Kind = "import" // among the imports
	KindAfter  edit.Kind = "after"  // behind the statement that is the place's name
	KindLast   edit.Kind = "last"   // last in the file
	KindBlock  edit.Kind = "block"  // last in the block that the place's path leads to, by the heads of blocks
)

// Import is the place of imports.
func Import() edit.Place { return edit.Place{Kind: KindImport} }

// After is the place behind a statement.
func After(statement string) edit.Place { return edit.Place{Kind: KindAfter, Name: statement} }

// Last is the end of the file.
func Last() edit.Place { return edit.Place{Kind: KindLast} }

// Block is the end of a block, by the heads of the blocks from the outside.
func Block(heads ...string) edit.Place { return edit.Place{Kind: KindBlock, Path: heads} }

// Lines is the syntax of source code.
type Lines struct{}

// Name is how entries name this syntax.
func (Lines) Name() string { return "source" }

// code is a source without its comments, and its skeleton.
type code struct{ clean, skeleton []byte }

func codeOf(doc edit.Document) code {
	l := language.Of(doc.File)
	if l == nil {
		l = language.Kotlin
	}
	return code{l.Blank(doc.Text), l.Skeleton(doc.Text)}
}

// BlockOf returns what is between the braces after the first match of head, "" if there
// are none.
func BlockOf(doc edit.Document, head *lazy.Pattern) string {
	c := codeOf(doc)
	if from, to, ok := c.block(0, len(c.clean), head); ok {
		return string(c.clean[from:to])
	}
	return ""
}

// block finds the inside of the first block between two places whose head matches:
// between the two there is nothing but arguments and white space.
func (c code) block(from, to int, head *lazy.Pattern) (start, end int, ok bool) {
	for _, m := range head.FindAllIndex(c.clean[from:to], -1) {
		at := from + m[1]
		for at < to && splice.IsSpace(c.clean[at]) {
			at++
		}
		if at >= to || c.skeleton[at] != '{' && (c.skeleton[at] != '[' || c.clean[m[1]-1] != ':') {
			continue
		}
		if end := language.Closing(c.skeleton, at); end > 0 {
			return at + 1, end, true
		}
	}
	return 0, 0, false
}

// HasLine says whether source has a line of just these words, outside comments.
func HasLine(doc edit.Document, line string) bool {
	c := codeOf(doc)
	_, _, ok := c.line(0, len(c.clean), line)
	return ok
}

// line finds a line by its words between two places.
func (c code) line(from, to int, line string) (start, end int, ok bool) {
	for at := from; at < to; {
		end := min(splice.LineEnd(c.clean, at), to)
		if text := strings.TrimSpace(string(c.clean[at:end])); text == line {
			return splice.LineStart(c.clean, at), splice.LineEnd(c.clean, at), true
		}
		at = end
	}
	return 0, 0, false
}

// Reconcile works on one line after the other, for places move with edits.
func (Lines) Reconcile(doc edit.Document, want, owned []edit.Entry) ([]byte, []edit.Entry, error) {
	wanted, mine := edit.Keys(want), edit.Keys(owned)
	var lost []edit.Entry // lines of ours that are not there any more
	for _, e := range owned {
		if wanted[e.Key()] {
			continue
		}
		text, err := drop(doc, e)
		if err != nil {
			return nil, nil, err
		}
		if bytes.Equal(text, doc.Text) {
			lost = append(lost, e)
		}
		doc.Text = text
	}
	var now []edit.Entry
	for _, e := range want {
		c := codeOf(doc)
		from, to, err := c.scope(doc, e)
		if err != nil {
			return nil, nil, err
		}
		if _, _, ok := c.line(from, to, e.Value); ok {
			if mine[e.Key()] {
				now = append(now, owned[slices.IndexFunc(owned, func(o edit.Entry) bool { return o.Key() == e.Key() })])
			} else if i := slices.IndexFunc(lost, func(o edit.Entry) bool { return onlyNumbers(o.Value, e.Value) }); i >= 0 {
				e.Made = lost[i].Made // somebody changed the version in our line as well
				now, lost = append(now, e), slices.Delete(lost, i, i+1)
			}
			continue
		}
		var made string
		if doc.Text, made, err = c.insert(doc, from, to, e); err != nil {
			return nil, nil, err
		}
		e.Made = []string{made}
		now = append(now, e)
	}
	return doc.Text, now, nil
}

var number = lazy.Regexp(`[0-9]+(?:\.[0-9]+)*`)

// onlyNumbers says whether two lines differ in numbers alone, such as a library's version.
func onlyNumbers(a, b string) bool {
	return number.MatchString(a) && number.ReplaceAllString(a, "#") == number.ReplaceAllString(b, "#")
}

// drop takes a line of ours out.
func drop(doc edit.Document, e edit.Entry) ([]byte, error) {
	c := codeOf(doc)
	from, to, err := c.scope(doc, e)
	moved := err != nil && e.Place.Kind == KindAfter // somebody changed what it stands behind, such as a version
	switch {
	case moved:
		from, to = 0, len(c.clean)
	case err != nil:
		return doc.Text, nil // its block is gone, and the line with it
	}
	start, end, ok := c.line(from, to, e.Value)
	if !ok {
		return doc.Text, nil
	}
	if _, _, twice := c.line(end, to, e.Value); twice && moved {
		return doc.Text, nil // which of them is Notaria's is not known
	}
	if slices.Contains(e.Made, madeEnd) && end == len(doc.Text) && start > 0 {
		start -= len(splice.Newline(doc.Text))
	}
	if slices.Contains(e.Made, madeGap) && end < len(doc.Text) && strings.TrimSpace(string(doc.Text[end:splice.LineEnd(doc.Text, end)])) == "" {
		end = splice.LineEnd(doc.Text, end)
	}
	if slices.Contains(e.Made, madeFence) { // of which others may have come to use
		if m := emptyFence.FindIndex(doc.Text[:min(len(doc.Text), end+5)]); m != nil && m[1] > end {
			start, end = 0, m[1]
		}
	}
	return doc.Apply(splice.Replace(start, end, ""))
}

// emptyFence is a component's script of one line.
var emptyFence = lazy.Regexp(`\A---\r?\n[^\n]*\n---\r?\n`)

// Marks of a line in Entry.Made.
const (
	madeLine  = "line"
	madeGap   = "line and gap"        // an empty line came with it
	madeEnd   = "line at an open end" // the line before it did not end
	madeFence = "line and fences"     // the fences of a component's script came with it
)

var importLine = lazy.Regexp(`(?m)^[ \t]*(?:import|package)\b[^\n]*\n`)

// scope finds the range in which an entry's line is looked for.
func (c code) scope(doc edit.Document, e edit.Entry) (from, to int, err error) {
	fail := func(expected string) error {
		return doc.Fail(-1, expected, "none", "add this line by hand: "+e.Value)
	}
	switch e.Place.Kind {
	case KindImport, KindLast, KindFirst:
		return 0, len(c.clean), nil
	case KindAfter:
		i := bytes.Index(c.clean, []byte(e.Place.Name))
		if i < 0 || e.Place.Name == "" {
			return 0, 0, fail(e.Place.Name)
		}
		return splice.LineEnd(c.clean, i), c.closing(i), nil
	}
	from, to = 0, len(c.clean)
	for _, h := range e.Place.Path {
		head := lazy.Regexp(`(?:^|[\s;{])` + strings.ReplaceAll(regexp.QuoteMeta(h), " ", `\s+`))
		f, t, found := c.block(from, to, head)
		if !found {
			return 0, 0, fail("a block " + strings.Join(e.Place.Path, " { "))
		}
		from, to = f, t
	}
	return from, to, nil
}

// closing is the end of the block that a place is in.
func (c code) closing(at int) int {
	depth := 0
	for i := at; i < len(c.skeleton); i++ {
		switch c.skeleton[i] {
		case '{':
			depth++
		case '}':
			if depth--; depth < 0 {
				return i
			}
		}
	}
	return len(c.skeleton)
}

// insert puts a line into its scope, indented as its neighbours are.
func (c code) insert(d edit.Document, from, to int, e edit.Entry) ([]byte, string, error) {
	doc := d.Text
	nl := splice.Newline(doc)
	switch e.Place.Kind {
	case KindImport:
		return insertImport(d, c.clean, e, nl)
	case KindFirst:
		return c.insertFirst(d, e, nl)
	case KindLast:
		if len(doc) > 0 && doc[len(doc)-1] != '\n' {
			out, err := d.Apply(splice.Replace(len(doc), len(doc), nl+e.Value))
			return out, madeEnd, err
		}
		out, err := d.Apply(splice.Replace(len(doc), len(doc), e.Value+nl))
		return out, madeLine, err
	case KindAfter:
		if to < from || from == 0 || doc[from-1] != '\n' {
			return nil, "", d.Fail(from, "a line of its own for "+e.Place.Name, "other code on that line", "add this line by hand: "+e.Value)
		}
		out, err := d.Apply(splice.Replace(from, from, splice.IndentOf(doc, from-1)+e.Value+nl))
		return out, madeLine, err
	}
	if e.Place.Kind == KindOpening {
		return c.insertOpening(d, from, to, e, nl)
	}
	start := splice.LineStart(doc, to)
	if start <= from || strings.TrimSpace(string(doc[start:to])) != "" {
		return nil, "", d.Fail(from, "a block whose closing brace is on a line of its own", "another form", "add this line by hand: "+e.Value)
	}
	indent := splice.IndentOf(doc, to)
	inner := indent + "    "
	if strings.HasPrefix(indent, "\t") {
		inner = indent + "\t"
	}
	for at := splice.LineEnd(doc, from); at < start; at = splice.LineEnd(doc, at) { // as the first line there is
		if strings.TrimSpace(string(doc[at:splice.LineEnd(doc, at)])) != "" {
			inner = splice.IndentOf(doc, at)
			break
		}
	}
	out, err := d.Apply(splice.Replace(start, start, inner+e.Value+nl))
	return out, madeLine, err
}

// insertImport puts an import in its place by the alphabet, as far as the others
// are in order; the first comes after the package, with an empty line.
func insertImport(d edit.Document, clean []byte, e edit.Entry, nl string) ([]byte, string, error) {
	doc := d.Text
	var at int
	lines := importLine.FindAllIndex(clean, -1)
	imports := 0
	for _, m := range lines {
		text := strings.TrimSpace(string(clean[m[0]:m[1]]))
		if strings.HasPrefix(text, "import") {
			if imports++; imports == 1 || text < e.Value {
				at = m[0]
				if text < e.Value {
					at = m[1]
				}
			}
		} else if imports == 0 {
			at = m[1]
		}
	}
	if imports > 0 {
		out, err := d.Apply(splice.Replace(at, at, e.Value+nl))
		return out, madeLine, err
	}
	if at == 0 || at < len(doc) && strings.TrimSpace(string(doc[at:splice.LineEnd(doc, at)])) == "" {
		at = splice.LineEnd(doc, at)
		if at == 0 || len(lines) == 0 {
			at = 0
		}
	}
	out, err := d.Apply(splice.Replace(at, at, e.Value+nl+nl))
	return out, madeGap, err
}

// TakeOver takes what stands after a statement, or last; an import or a library can have other
// uses.
func (Lines) TakeOver(_ edit.Document, want, mine []edit.Entry) []edit.Entry {
	out, _ := edit.Take(want, mine, func(e edit.Entry) (edit.Entry, bool) {
		e.Made = []string{madeLine}
		return e, slices.Contains([]edit.Kind{KindAfter, KindLast, KindFirst, KindOpening}, e.Place.Kind)
	})
	return out
}

// Paste is the lines.
func (Lines) Paste(want []edit.Entry) string {
	return strings.Join(edit.Each(want, func(e edit.Entry) string { return e.Value }), "\n")
}

// Missing returns the lines that are not there.
func (s Lines) Missing(doc edit.Document, want []edit.Entry) ([]edit.Lack, error) {
	return edit.MissingBy(s, doc, want, func(e edit.Entry) edit.Lack {
		return edit.Lack{Message: fmt.Sprintf("%s does not hold %s", path.Base(doc.File), e.Value),
			Cause: "without it the build does not take the font in, or the app does not know of it"}
	}), nil
}

// AnyEntry says that an entry can be any line.
func (Lines) AnyEntry() {}
