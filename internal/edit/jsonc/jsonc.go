// Package jsonc finds the places of values in JSON with comments, and the splices that
// add and remove them.
package jsonc

import (
	"encoding/json"
	"fmt"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/splice"
)

// A Node is a JSON value with its place in the text.
type Node struct {
	Kind     byte // '{', '[', '"', or '0' for anything else
	From, To int
	Text     string  // of strings
	Keys     []*Node // of objects
	Values   []*Node // of objects and arrays
	Index    map[string]int
}

// Get follows a path of keys; a missing one gives nil, on which Get is safe.
func (n *Node) Get(path ...string) *Node {
	for _, key := range path {
		if n == nil || n.Kind != '{' {
			return nil
		}
		i, ok := n.Index[key]
		if !ok {
			return nil
		}
		n = n.Values[i]
	}
	return n
}

// Str is a string's text, "" for anything else.
func (n *Node) Str() string {
	if n == nil || n.Kind != '"' {
		return ""
	}
	return n.Text
}

// Start is where element i of a container begins: its key, in objects.
func (n *Node) Start(i int) int {
	if n.Kind == '{' {
		return n.Keys[i].From
	}
	return n.Values[i].From
}

const (
	jsonDepth = 64
	mostJSON  = 1 << 20
)

// jsonParser reads JSON with comments, which count as white space; the tools that
// read such manifests allow them.
type jsonParser struct {
	file  string
	doc   []byte
	at    int
	depth int
}

// Parse finds the places of a document's values.
func Parse(doc edit.Document) (*Node, error) {
	p := &jsonParser{file: doc.File, doc: doc.Text}
	if len(p.doc) > mostJSON {
		return nil, p.fail(fmt.Sprintf("at most %d MiB", mostJSON>>20), fmt.Sprintf("%d bytes", len(p.doc)))
	}
	if strings.HasPrefix(string(p.doc[:min(3, len(p.doc))]), "\ufeff") {
		p.at = 3
	}
	n, err := p.value()
	if err != nil {
		return nil, err
	}
	if p.space(); p.at < len(p.doc) {
		return nil, p.fail("the end of the file", p.here())
	}
	return n, nil
}

func (p *jsonParser) fail(expected, found string) error {
	return edit.Document{File: p.file, Text: p.doc}.Fail(p.at, expected, found, edit.Mend)
}

func (p *jsonParser) here() string {
	if p.at >= len(p.doc) {
		return "the end of the file"
	}
	return fmt.Sprintf("%q", p.doc[p.at:min(p.at+12, len(p.doc))])
}

func (p *jsonParser) space() {
	for p.at < len(p.doc) {
		rest := string(p.doc[p.at:min(p.at+2, len(p.doc))])
		switch {
		case strings.ContainsAny(rest[:1], " \t\r\n"):
			p.at++
		case rest == "//":
			p.at = splice.LineEnd(p.doc, p.at)
		case rest == "/*":
			if i := strings.Index(string(p.doc[p.at:]), "*/"); i >= 0 {
				p.at += i + 2
			} else {
				p.at = len(p.doc)
			}
		default:
			return
		}
	}
}

func (p *jsonParser) value() (*Node, error) {
	if p.space(); p.at >= len(p.doc) {
		return nil, p.fail("a value", "the end of the file")
	}
	if p.depth++; p.depth > jsonDepth {
		return nil, p.fail(fmt.Sprintf("at most %d levels", jsonDepth), "more")
	}
	defer func() { p.depth-- }()
	switch c := p.doc[p.at]; c {
	case '{', '[':
		return p.container(c)
	case '"':
		return p.text()
	}
	from := p.at
	for p.at < len(p.doc) && !strings.ContainsRune(" \t\r\n,:{}[]\"/", rune(p.doc[p.at])) {
		p.at++
	}
	if raw := p.doc[from:p.at]; !json.Valid(raw) {
		p.at = from
		return nil, p.fail("a value", p.here())
	}
	return &Node{Kind: '0', From: from, To: p.at}, nil
}

func (p *jsonParser) text() (*Node, error) {
	end := p.at + 1
	for end < len(p.doc) && p.doc[end] != '"' && p.doc[end] != '\n' {
		if p.doc[end] == '\\' {
			end++
		}
		end++
	}
	end = min(end+1, len(p.doc))
	n := &Node{Kind: '"', From: p.at, To: end}
	if err := json.Unmarshal(p.doc[p.at:end], &n.Text); err != nil {
		return nil, p.fail("a string", p.here())
	}
	p.at = end
	return n, nil
}

// container reads an object or an array; a comma after the last element is
// refused, for the readers of these files refuse it too.
func (p *jsonParser) container(open byte) (*Node, error) {
	closing := open + 2 // '{' and '}', '[' and ']' are two apart
	n := &Node{Kind: open, From: p.at, Index: map[string]int{}}
	p.at++
	if p.space(); p.at < len(p.doc) && p.doc[p.at] == closing {
		p.at++
		n.To = p.at
		return n, nil
	}
	for {
		if open == '{' {
			if p.space(); p.at >= len(p.doc) || p.doc[p.at] != '"' {
				return nil, p.fail("a key in quotes", p.here())
			}
			key, err := p.text()
			if err != nil {
				return nil, err
			}
			if p.space(); p.at >= len(p.doc) || p.doc[p.at] != ':' {
				return nil, p.fail("':'", p.here())
			}
			p.at++
			n.Index[key.Text] = len(n.Values)
			n.Keys = append(n.Keys, key)
		}
		v, err := p.value()
		if err != nil {
			return nil, err
		}
		n.Values = append(n.Values, v)
		p.space()
		switch {
		case p.at < len(p.doc) && p.doc[p.at] == ',':
			p.at++
		case p.at < len(p.doc) && p.doc[p.at] == closing:
			p.at++
			n.To = p.at
			return n, nil
		default:
			return nil, p.fail(fmt.Sprintf("',' or %q", closing), p.here())
		}
	}
}

// Insertion returns the splice that adds an element at the end of a container, in
// the layout that the container has. lines are the element's, the first without
// indentation, the others indented relative to it.
func (n *Node) Insertion(doc []byte, step string, lines []string) splice.Edit {
	nl := splice.Newline(doc)
	if len(n.Values) == 0 {
		outer := splice.IndentOf(doc, n.From)
		inner := outer + step
		text := string(doc[n.From]) + nl + inner + strings.Join(lines, nl+inner) + nl + outer + string(doc[n.To-1])
		return splice.Replace(n.From, n.To, text)
	}
	last := len(n.Values) - 1
	at := n.Values[last].To
	if splice.LineStart(doc, n.Start(last)) <= n.From { // all on one line
		return splice.Replace(at, at, ", "+strings.Join(splice.Trimmed(lines), " "))
	}
	indent := splice.IndentOf(doc, n.Start(last))
	return splice.Replace(at, at, ","+nl+indent+strings.Join(lines, nl+indent))
}

// Removal returns the splice that takes element i out, with the comma that came
// with it. was is what an empty container looked like before it was filled.
func (n *Node) Removal(i int, was string) splice.Edit {
	switch {
	case len(n.Values) == 1 && was != "":
		return splice.Replace(n.From, n.To, was)
	case len(n.Values) == 1:
		return splice.Replace(n.From+1, n.To-1, "")
	case i > 0:
		return splice.Replace(n.Values[i-1].To, n.Values[i].To, "")
	}
	return splice.Replace(n.Start(0), n.Start(1), "")
}

// Indent is what one level of the document is indented by.
func Indent(doc []byte, root *Node) string {
	if root.Kind == '{' && len(root.Keys) > 0 {
		if s := splice.IndentOf(doc, root.Keys[0].From); s != "" && splice.LineStart(doc, root.Keys[0].From) > root.From {
			return s
		}
	}
	return "  "
}
