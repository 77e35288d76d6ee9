package edit

import (
	"encoding/json"
	"fmt"
	"strings"
)

// A jsonNode is a JSON value with its place in the text.
type jsonNode struct {
	kind     byte // '{', '[', '"', or '0' for anything else
	from, to int
	text     string      // of strings
	keys     []*jsonNode // of objects
	values   []*jsonNode // of objects and arrays
	index    map[string]int
}

// get follows a path of keys; a missing one gives nil, on which get is safe.
func (n *jsonNode) get(path ...string) *jsonNode {
	for _, key := range path {
		if n == nil || n.kind != '{' {
			return nil
		}
		i, ok := n.index[key]
		if !ok {
			return nil
		}
		n = n.values[i]
	}
	return n
}

// str is a string's text, "" for anything else.
func (n *jsonNode) str() string {
	if n == nil || n.kind != '"' {
		return ""
	}
	return n.text
}

// start is where element i of a container begins: its key, in objects.
func (n *jsonNode) start(i int) int {
	if n.kind == '{' {
		return n.keys[i].from
	}
	return n.values[i].from
}

const (
	jsonDepth = 64
	maxJSON   = 16 << 20
)

// jsonParser reads JSON with comments, which count as white space; the tools that
// read such manifests allow them.
type jsonParser struct {
	file  string
	doc   []byte
	at    int
	depth int
}

func parseJSON(file string, doc []byte) (*jsonNode, error) {
	p := &jsonParser{file: file, doc: doc}
	if len(doc) > maxJSON {
		return nil, p.fail(fmt.Sprintf("at most %d MiB", maxJSON>>20), fmt.Sprintf("%d bytes", len(doc)))
	}
	if strings.HasPrefix(string(doc[:min(3, len(doc))]), "\ufeff") {
		p.at = 3
	}
	n, err := p.value()
	if err != nil {
		return nil, err
	}
	if p.space(); p.at < len(doc) {
		return nil, p.fail("the end of the file", p.here())
	}
	return n, nil
}

func (p *jsonParser) fail(expected, found string) error {
	return &Error{p.file, lineOf(p.doc, p.at), expected, found, "mend it by hand, then register again"}
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
			p.at = lineEnd(p.doc, p.at)
		case rest == "/*":
			p.at = commentEnd(p.doc, p.at)
		default:
			return
		}
	}
}

func (p *jsonParser) value() (*jsonNode, error) {
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
	return &jsonNode{kind: '0', from: from, to: p.at}, nil
}

func (p *jsonParser) text() (*jsonNode, error) {
	end := stringEnd(p.doc, p.at)
	n := &jsonNode{kind: '"', from: p.at, to: end}
	if err := json.Unmarshal(p.doc[p.at:end], &n.text); err != nil {
		return nil, p.fail("a string", p.here())
	}
	p.at = end
	return n, nil
}

// container reads an object or an array; a comma after the last element is
// refused, for the readers of these files refuse it too.
func (p *jsonParser) container(open byte) (*jsonNode, error) {
	closing := open + 2 // '{' and '}', '[' and ']' are two apart
	n := &jsonNode{kind: open, from: p.at, index: map[string]int{}}
	p.at++
	if p.space(); p.at < len(p.doc) && p.doc[p.at] == closing {
		p.at++
		n.to = p.at
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
			n.index[key.text] = len(n.values)
			n.keys = append(n.keys, key)
		}
		v, err := p.value()
		if err != nil {
			return nil, err
		}
		n.values = append(n.values, v)
		p.space()
		switch {
		case p.at < len(p.doc) && p.doc[p.at] == ',':
			p.at++
		case p.at < len(p.doc) && p.doc[p.at] == closing:
			p.at++
			n.to = p.at
			return n, nil
		default:
			return nil, p.fail(fmt.Sprintf("',' or %q", closing), p.here())
		}
	}
}

// insertion gives the splice that adds an element at the end of a container, in
// the layout that the container has. lines are the element's, the first without
// indentation, the others indented relative to it.
func (n *jsonNode) insertion(doc []byte, step string, lines []string) splice {
	nl := newline(doc)
	if len(n.values) == 0 {
		outer := indentOf(doc, n.from)
		inner := outer + step
		text := string(doc[n.from]) + nl + inner + strings.Join(lines, nl+inner) + nl + outer + string(doc[n.to-1])
		return splice{n.from, n.to, text}
	}
	last := len(n.values) - 1
	at := n.values[last].to
	if lineStart(doc, n.start(last)) <= n.from { // all on one line
		return splice{at, at, ", " + strings.Join(trimAll(lines), " ")}
	}
	indent := indentOf(doc, n.start(last))
	return splice{at, at, "," + nl + indent + strings.Join(lines, nl+indent)}
}

func trimAll(lines []string) []string {
	out := make([]string, len(lines))
	for i, l := range lines {
		out[i] = strings.TrimSpace(l)
	}
	return out
}

// removal gives the splice that takes element i out, with the comma that came
// with it. was is what an empty container looked like before it was filled.
func (n *jsonNode) removal(i int, was string) splice {
	switch {
	case len(n.values) == 1 && was != "":
		return splice{n.from, n.to, was}
	case len(n.values) == 1:
		return splice{n.from + 1, n.to - 1, ""}
	case i > 0:
		return splice{n.values[i-1].to, n.values[i].to, ""}
	}
	return splice{n.start(0), n.start(1), ""}
}

// jsonIndent is what one level of the document is indented by.
func jsonIndent(doc []byte, root *jsonNode) string {
	if root.kind == '{' && len(root.keys) > 0 {
		if s := indentOf(doc, root.keys[0].from); s != "" && lineStart(doc, root.keys[0].from) > root.from {
			return s
		}
	}
	return "  "
}

// quoteJSON writes a string as JSON does, without escaping what HTML minds.
func quoteJSON(s string) string {
	var b strings.Builder
	enc := json.NewEncoder(&b)
	enc.SetEscapeHTML(false)
	_ = enc.Encode(s)
	return strings.TrimSuffix(b.String(), "\n")
}
