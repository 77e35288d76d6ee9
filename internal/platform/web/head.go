package web

import (
	"bytes"
	"fmt"
	"path"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/splice"
	"notaria/internal/language"
	"notaria/internal/lazy"
)

// kindHead is the place of an element last in the head of a page, or of a template for pages.
const kindHead edit.Kind = "head"

func headPlace() edit.Place { return edit.Place{Kind: kindHead} }

// Head is the syntax of pages and of templates: an entry's value is an element.
type Head struct{}

// Name is how entries name this syntax.
func (Head) Name() string { return "page head" }

// Marks of an element in Entry.Made.
const (
	madeLine   = "line"
	madeInline = "inline" // among others on one line
)

// headEnd is where a head ends; one whose end tag is left out ends where the body begins (HTML, 13.1.2.4).
var headEnd = lazy.Regexp(`(?i)</head\s*>|<body[\s>]`)

func markupOf(file string) *language.Language {
	if l := language.Of(file); l != nil && l.Markup() {
		return l
	}
	return language.Template
}

// endOfHead is where an element goes; false if the document has no head, or more than one.
func endOfHead(doc edit.Document) (int, bool) {
	all := headEnd.FindAllIndex(markupOf(doc.File).Skeleton(doc.Text), 3)
	tags := 0
	for _, m := range all {
		if doc.Text[m[0]+1] == '/' {
			tags++
		}
	}
	if len(all) == 0 || tags > 1 {
		return 0, false
	}
	return all[0][0], true
}

// find is where an element stands, outside comments, -1 if it does not.
func (Head) find(doc edit.Document, element string) int {
	return bytes.Index(markupOf(doc.File).Blank(doc.Text), []byte(element))
}

// Reconcile works on one element after the other, for places move with edits.
func (h Head) Reconcile(doc edit.Document, want, owned []edit.Entry) ([]byte, []edit.Entry, error) {
	wanted, mine := edit.Keys(want), map[string]edit.Entry{}
	for _, e := range owned {
		mine[e.Key()] = e
		if wanted[e.Key()] {
			continue
		}
		text, err := h.drop(doc, e)
		if err != nil {
			return nil, nil, err
		}
		doc.Text = text
	}
	var now []edit.Entry
	for _, e := range want {
		if h.find(doc, e.Value) >= 0 {
			if o, ok := mine[e.Key()]; ok {
				now = append(now, o)
			}
			continue
		}
		text, made, err := h.insert(doc, e)
		if err != nil {
			return nil, nil, err
		}
		e.Made = []string{made}
		doc.Text, now = text, append(now, e)
	}
	return doc.Text, now, nil
}

func (Head) insert(doc edit.Document, e edit.Entry) ([]byte, string, error) {
	at, ok := endOfHead(doc)
	if !ok {
		return nil, "", doc.Fail(-1, "one </head>", "none, or several", "write this into the head by hand: "+e.Value)
	}
	text, start := doc.Text, splice.LineStart(doc.Text, at)
	if start == 0 || len(bytes.TrimSpace(text[start:at])) > 0 {
		out, err := doc.Apply(splice.Replace(at, at, e.Value))
		return out, madeInline, err
	}
	indent := ""
	for line := start; line > 0; {
		line = splice.LineStart(text, line-1)
		if words := bytes.TrimSpace(text[line:splice.LineEnd(text, line)]); len(words) > 0 {
			if indent = splice.IndentOf(text, line); openHead.Match(words) {
				indent += step(indent)
			}
			break
		}
	}
	out, err := doc.Apply(splice.Replace(start, start, indent+e.Value+splice.Newline(text)))
	return out, madeLine, err
}

// openHead is a line that the head begins on.
var openHead = lazy.Regexp(`(?i)^<(?:head|html)\b[^<>]*>$`)

// step is what a level more of a document is indented by.
func step(indent string) string {
	if strings.HasPrefix(indent, "\t") {
		return "\t"
	}
	return "  "
}

func (h Head) drop(doc edit.Document, e edit.Entry) ([]byte, error) {
	at := h.find(doc, e.Value)
	if at < 0 {
		return doc.Text, nil
	}
	end := at + len(e.Value)
	if start, after := splice.LineStart(doc.Text, at), splice.LineEnd(doc.Text, end); len(e.Made) > 0 && e.Made[0] == madeLine &&
		len(bytes.TrimSpace(doc.Text[start:at])) == 0 && len(bytes.TrimSpace(doc.Text[end:after])) == 0 {
		at, end = start, after
	}
	return doc.Apply(splice.Replace(at, end, ""))
}

// TakeOver takes the elements that are there.
func (h Head) TakeOver(doc edit.Document, want, mine []edit.Entry) []edit.Entry {
	out, _ := edit.Take(want, mine, func(e edit.Entry) (edit.Entry, bool) {
		e.Made = []string{madeLine}
		return e, h.find(doc, e.Value) >= 0
	})
	return out
}

// Paste is the elements.
func (Head) Paste(want []edit.Entry) string {
	return strings.Join(edit.Each(want, func(e edit.Entry) string { return e.Value }), "\n")
}

// Missing returns the elements that are not there.
func (h Head) Missing(doc edit.Document, want []edit.Entry) ([]edit.Lack, error) {
	return edit.MissingBy(h, doc, want, func(e edit.Entry) edit.Lack {
		return edit.Lack{Message: fmt.Sprintf("%s does not hold %s", path.Base(doc.File), e.Value), Cause: "without it the page does not load the font, or the style sheet of the roles"}
	}), nil
}

// AnyEntry says that an entry can be any element.
func (Head) AnyEntry() {}
