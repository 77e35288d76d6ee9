package pbx

import (
	"bytes"
	"fmt"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/splice"
)

// A node is a value of an OpenStep property list with its place in the text.
type Node struct {
	kind     nodeKind
	from, to int
	text     string // strings, unquoted
	pairs    []pair
	items    []element
	index    map[string]int // of pairs
}

type nodeKind int

const (
	stringNode nodeKind = iota
	dictNode
	arrayNode
	dataNode
)

type pair struct {
	key *Node
	val *Node
	end int // just past the semicolon
}

type element struct {
	val   *Node
	end   int // just past the comma, or the value if there is none
	comma bool
}

// Get follows a path of keys; a missing one gives nil, on which get is safe.
func (n *Node) Get(path ...string) *Node {
	for _, key := range path {
		if n == nil || n.kind != dictNode {
			return nil
		}
		i, ok := n.index[key]
		if !ok {
			return nil
		}
		n = n.pairs[i].val
	}
	return n
}

// Str is a string's text, "" for anything else.
func (n *Node) Str() string {
	if n == nil || n.kind != stringNode {
		return ""
	}
	return n.text
}

func (n *Node) IsArray() bool { return n != nil && n.kind == arrayNode }

// Keys are a dictionary's keys, in the order of the document.
func (n *Node) Keys() []string {
	if n == nil {
		return nil
	}
	out := make([]string, len(n.pairs))
	for i, p := range n.pairs {
		out[i] = p.key.text
	}
	return out
}

// List is an array's strings.
func (n *Node) List() []string {
	if n == nil {
		return nil
	}
	var out []string
	for _, e := range n.items {
		out = append(out, e.val.Str())
	}
	return out
}

const (
	openStepDepth = 64
	openStepBytes = 16 << 20
	openStepNodes = 600_000 // values; the largest known projects have some 300,000
)

// openStep parses the property lists of project files: dictionaries, arrays,
// strings, data, and comments of both kinds, which only count as white space.
type openStep struct {
	edit.Document
	doc   []byte
	at    int
	depth int
	nodes int
}

func parseOpenStep(d edit.Document) (*Node, error) {
	doc := d.Text
	p := &openStep{Document: d, doc: doc}
	if len(doc) > openStepBytes {
		return nil, p.fail("at most 16 MiB", fmt.Sprintf("%d bytes", len(doc)))
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

func (p *openStep) fail(expected, found string) error {
	return p.Fail(p.at, expected, found, "correct the project file (a merge may have left marks in it), then register again")
}

// here shows what stands at the current place.
func (p *openStep) here() string {
	if p.at >= len(p.doc) {
		return "the end of the file"
	}
	end := min(p.at+12, len(p.doc))
	return fmt.Sprintf("%q", p.doc[p.at:end])
}

// space skips white space and comments.
func (p *openStep) space() {
	for p.at < len(p.doc) {
		rest := p.doc[p.at:]
		switch {
		case rest[0] == ' ' || rest[0] == '\t' || rest[0] == '\n' || rest[0] == '\r':
			p.at++
		case bytes.HasPrefix(rest, []byte("//")):
			p.at = splice.LineEnd(p.doc, p.at)
		case bytes.HasPrefix(rest, []byte("/*")):
			end := bytes.Index(rest[2:], []byte("*/"))
			if end < 0 {
				p.at = len(p.doc)
				return
			}
			p.at += end + 4
		default:
			return
		}
	}
}

func (p *openStep) value() (*Node, error) {
	p.space()
	if p.at >= len(p.doc) {
		return nil, p.fail("a value", "the end of the file")
	}
	if p.depth++; p.depth > openStepDepth {
		return nil, p.fail(fmt.Sprintf("at most %d levels", openStepDepth), "more")
	}
	defer func() { p.depth-- }()
	if p.nodes++; p.nodes > openStepNodes {
		return nil, p.fail(fmt.Sprintf("at most %d values", openStepNodes), "more")
	}
	switch c := p.doc[p.at]; {
	case c == '{':
		return p.dict()
	case c == '(':
		return p.array()
	case c == '"' || c == '\'':
		return p.quoted(c)
	case c == '<':
		return p.data()
	case bare(c):
		from := p.at
		for p.at < len(p.doc) && bare(p.doc[p.at]) && !p.comment() {
			p.at++
		}
		return &Node{kind: stringNode, from: from, to: p.at, text: string(p.doc[from:p.at])}, nil
	}
	return nil, p.fail("a value", p.here())
}

func (p *openStep) comment() bool {
	return p.doc[p.at] == '/' && p.at+1 < len(p.doc) && (p.doc[p.at+1] == '*' || p.doc[p.at+1] == '/')
}

// bare holds for the characters of a string without quotes.
func bare(c byte) bool {
	return c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c >= '0' && c <= '9' || strings.IndexByte("_$./:-+", c) >= 0 || c >= 0x80
}

func (p *openStep) expect(c byte) error {
	if p.space(); p.at >= len(p.doc) || p.doc[p.at] != c {
		return p.fail(fmt.Sprintf("%q", c), p.here())
	}
	p.at++
	return nil
}

func (p *openStep) dict() (*Node, error) {
	n := &Node{kind: dictNode, from: p.at, index: map[string]int{}}
	p.at++
	for {
		if p.space(); p.at < len(p.doc) && p.doc[p.at] == '}' {
			p.at++
			n.to = p.at
			return n, nil
		}
		key, err := p.value()
		if err != nil {
			return nil, err
		}
		if key.kind != stringNode {
			return nil, p.fail("a key", "a value of another kind")
		}
		if err := p.expect('='); err != nil {
			return nil, err
		}
		val, err := p.value()
		if err != nil {
			return nil, err
		}
		if err := p.expect(';'); err != nil {
			return nil, err
		}
		n.index[key.text] = len(n.pairs)
		n.pairs = append(n.pairs, pair{key, val, p.at})
	}
}

func (p *openStep) array() (*Node, error) {
	n := &Node{kind: arrayNode, from: p.at}
	p.at++
	for {
		if p.space(); p.at < len(p.doc) && p.doc[p.at] == ')' {
			p.at++
			n.to = p.at
			return n, nil
		}
		v, err := p.value()
		if err != nil {
			return nil, err
		}
		e := element{val: v, end: v.to}
		if p.space(); p.at < len(p.doc) && p.doc[p.at] == ',' {
			p.at++
			e.end, e.comma = p.at, true
		} else if p.at >= len(p.doc) || p.doc[p.at] != ')' {
			return nil, p.fail("',' or ')'", p.here())
		}
		n.items = append(n.items, e)
	}
}

func (p *openStep) quoted(q byte) (*Node, error) {
	n := &Node{kind: stringNode, from: p.at}
	var b strings.Builder
	for p.at++; p.at < len(p.doc); p.at++ {
		switch c := p.doc[p.at]; c {
		case q:
			p.at++
			n.to, n.text = p.at, b.String()
			return n, nil
		case '\\':
			if p.at++; p.at < len(p.doc) {
				b.WriteByte(unescape(p.doc[p.at]))
			}
		default:
			b.WriteByte(c)
		}
	}
	return nil, p.fail("the closing quote of a string", "the end of the file")
}

func unescape(c byte) byte {
	switch c {
	case 'n':
		return '\n'
	case 't':
		return '\t'
	case 'r':
		return '\r'
	}
	return c
}

func (p *openStep) data() (*Node, error) {
	n := &Node{kind: dataNode, from: p.at}
	for p.at < len(p.doc) && p.doc[p.at] != '>' {
		p.at++
	}
	if p.at >= len(p.doc) {
		return nil, p.fail("'>'", "the end of the file")
	}
	p.at++
	n.to = p.at
	return n, nil
}

// quoteOpenStep writes a string as project files do: without quotes where only
// letters, digits and _ $ . / occur.
func quoteOpenStep(s string) string {
	plain := s != "" && !strings.Contains(s, "//")
	for _, r := range s {
		if !(r >= 'a' && r <= 'z' || r >= 'A' && r <= 'Z' || r >= '0' && r <= '9' || strings.ContainsRune("_$./", r)) {
			plain = false
		}
	}
	if plain {
		return s
	}
	return `"` + strings.NewReplacer(`\`, `\\`, `"`, `\"`, "\n", `\n`, "\t", `\t`, "\r", `\r`).Replace(s) + `"`
}

// commentText makes a string safe inside /* */.
func commentText(s string) string { return strings.ReplaceAll(s, "*/", "* /") }
