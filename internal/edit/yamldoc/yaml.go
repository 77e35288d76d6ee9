// Package yamldoc finds the places of values in YAML: in blocks by their lines, in
// flow style by their bytes.
package yamldoc

import (
	"errors"
	"fmt"
	"strings"

	"github.com/goccy/go-yaml/ast"
	"github.com/goccy/go-yaml/parser"

	"notaria/internal/edit/splice"
	"notaria/internal/lazy"
)

// Parse reads YAML. The parser is not ours, and this text is anybody's: where it panics,
// the text is refused.
func Parse(text string) (file *ast.File, err error) {
	if err := bounded(text); err != nil {
		return nil, err
	}
	defer func() {
		if r := recover(); r != nil {
			file, err = nil, errors.New("something that the parser cannot take")
		}
	}()
	return parser.ParseBytes([]byte(text), parser.ParseComments)
}

// Limits of what is given to the parser, which has none of its own: what it takes grows
// with the square of the number of keys, of the depth, and of what is in one line.
const (
	mostYAML  = 64 << 10 // bytes
	mostLines = 4000
	mostDepth = 64  // of brackets
	mostWidth = 256 // columns that a line is indented by
	mostSigns = 64  // that mean something to YAML, in one line
)

// bounded refuses text that would cost the parser too much.
func bounded(text string) error {
	if len(text) > mostYAML {
		return fmt.Errorf("more than %d KiB of YAML", mostYAML>>10)
	}
	depth, n := 0, 0
	for l := range strings.Lines(text) {
		if n++; n > mostLines {
			return fmt.Errorf("more than %d lines", mostLines)
		}
		if indent := len(l) - len(strings.TrimLeft(l, " ")); indent > mostWidth {
			return fmt.Errorf("a line indented by more than %d columns", mostWidth)
		}
		signs := 0
		for i := range len(l) {
			switch l[i] {
			case '[', '{':
				depth++
				signs++
			case ']', '}':
				depth = max(depth-1, 0)
			case '!', '&', '*', '|', '>', '%', '@', '`':
				signs++
			case '-', '?', ':', ',', '\'', '"':
				if i+1 == len(l) || l[i+1] == ' ' || l[i+1] == '\n' || l[i] == '"' || l[i] == '\'' {
					signs++
				}
			}
		}
		if signs > mostSigns && !strings.HasPrefix(strings.TrimSpace(l), "#") {
			return fmt.Errorf("more than %d signs of YAML in one line", mostSigns)
		}
		if depth > mostDepth {
			return fmt.Errorf("more than %d levels of brackets", mostDepth)
		}
	}
	return nil
}

// Pairs returns the pairs of a mapping; the parser wraps a lone pair otherwise.
func Pairs(n ast.Node) []*ast.MappingValueNode {
	switch v := n.(type) {
	case *ast.MappingNode:
		return v.Values
	case *ast.MappingValueNode:
		return []*ast.MappingValueNode{v}
	}
	return nil
}

// Key is a pair's key.
func Key(kv *ast.MappingValueNode) string { return Text(kv.Key) }

// Text is what a scalar means.
func Text(n ast.Node) string {
	switch v := n.(type) {
	case *ast.StringNode:
		return v.Value
	case *ast.LiteralNode:
		return v.Value.Value
	case nil:
		return ""
	}
	return n.GetToken().Value
}

// IsFlow says whether a value is written in braces or brackets.
func IsFlow(n ast.Node) bool {
	switch v := n.(type) {
	case *ast.MappingNode:
		return v.IsFlowStyle
	case *ast.SequenceNode:
		return v.IsFlowStyle
	}
	return false
}

// A Flow is a value in flow style with its place in the text.
type Flow struct {
	Kind     byte // '{', '[' or 0 for a scalar
	From, To int
	Text     string // of a scalar
	Keys     []string
	Starts   []int // where each pair begins
	Items    []*Flow
}

const flowDepth = 32 // how deep values may nest

// Get finds a key's value; it is safe on nil.
func (n *Flow) Get(key string) *Flow {
	if n != nil {
		for i, k := range n.Keys {
			if k == key {
				return n.Items[i]
			}
		}
	}
	return nil
}

// flowReader reads a value in flow style.
type flowReader struct {
	doc   string
	at    int
	depth int
}

func (r *flowReader) space() {
	for r.at < len(r.doc) {
		c := r.doc[r.at]
		switch {
		case splice.IsSpace(c):
			r.at++
		case c == '#' && (r.at == 0 || splice.IsSpace(r.doc[r.at-1])):
			for r.at < len(r.doc) && r.doc[r.at] != '\n' {
				r.at++
			}
		default:
			return
		}
	}
}

// value reads a list, a mapping or a scalar; false if the text is none of them.
func (r *flowReader) value() (*Flow, bool) {
	r.space()
	if r.at >= len(r.doc) || r.depth > flowDepth {
		return nil, false
	}
	switch r.doc[r.at] {
	case '[':
		return r.collection('[', ']')
	case '{':
		return r.collection('{', '}')
	}
	return r.scalar()
}

func (r *flowReader) collection(open, end byte) (*Flow, bool) {
	n := &Flow{Kind: open, From: r.at}
	r.at++
	r.depth++
	defer func() { r.depth-- }()
	for {
		r.space()
		switch {
		case r.at >= len(r.doc):
			return nil, false
		case r.doc[r.at] == end:
			r.at++
			n.To = r.at
			return n, true
		case r.doc[r.at] == ',':
			r.at++
			continue
		}
		start := r.at
		v, ok := r.value()
		if !ok {
			return nil, false
		}
		if open == '{' {
			n.Keys, n.Starts = append(n.Keys, v.Text), append(n.Starts, start)
			r.space()
			if r.at >= len(r.doc) || r.doc[r.at] != ':' {
				return nil, false
			}
			r.at++
			if v, ok = r.value(); !ok {
				return nil, false
			}
		}
		n.Items = append(n.Items, v)
	}
}

// scalar reads text with or without quotes.
func (r *flowReader) scalar() (*Flow, bool) {
	n := &Flow{From: r.at}
	if q := r.doc[r.at]; q == '"' || q == '\'' {
		for i := r.at + 1; i < len(r.doc); i++ {
			switch {
			case q == '"' && r.doc[i] == '\\', q == '\'' && strings.HasPrefix(r.doc[i:], "''"):
				i++
			case r.doc[i] == q:
				r.at = i + 1
				n.To, n.Text = r.at, textOf(r.doc[n.From:r.at])
				return n, true
			}
		}
		return nil, false
	}
	for r.at < len(r.doc) {
		c := r.doc[r.at]
		if strings.IndexByte("[]{},\n", c) >= 0 || c == ':' && (r.at+1 >= len(r.doc) || strings.IndexByte(" \t\r\n,[]{}", r.doc[r.at+1]) >= 0) || c == '#' && splice.IsSpace(r.doc[r.at-1]) {
			break
		}
		r.at++
	}
	n.Text = strings.TrimSpace(r.doc[n.From:r.at])
	n.To = n.From + len(n.Text)
	return n, n.Text != ""
}

// textOf is what a scalar means.
func textOf(raw string) string {
	tree, err := Parse(raw)
	if err != nil || len(tree.Docs) != 1 || tree.Docs[0].Body == nil {
		return raw
	}
	return Text(tree.Docs[0].Body)
}

// ReadFlow reads the list or mapping that begins at a byte; false if there is none that
// can be told apart.
func ReadFlow(doc string, at int) (*Flow, bool) {
	if at >= len(doc) || doc[at] != '[' && doc[at] != '{' {
		return nil, false
	}
	r := &flowReader{doc: doc, at: at}
	return r.value()
}

var plainYAML = lazy.Regexp(`^[A-Za-z][A-Za-z0-9._/-]*( [A-Za-z0-9._/-]+)*$`)

// yamlWords mean something else than text when they stand without quotes.
var yamlWords = map[string]bool{"true": true, "false": true, "null": true, "yes": true, "no": true, "on": true, "off": true, "y": true, "n": true}

// Scalar writes a string, in quotes where it could be taken for anything
// else.
func Scalar(s string) string {
	if plainYAML.MatchString(s) && !yamlWords[strings.ToLower(s)] {
		return s
	}
	var b strings.Builder
	b.WriteByte('"')
	for _, r := range s {
		switch {
		case r == '"' || r == '\\':
			b.WriteByte('\\')
			b.WriteRune(r)
		case r < 0x20 || r >= 0x7f && r <= 0xffff:
			fmt.Fprintf(&b, `\u%04X`, r)
		case r > 0xffff:
			fmt.Fprintf(&b, `\U%08X`, r)
		default:
			b.WriteRune(r)
		}
	}
	b.WriteByte('"')
	return b.String()
}

// FlowScalar is Scalar for text between brackets, where more signs mean
// something.
func FlowScalar(s string) string {
	if out := Scalar(s); out != s || !strings.ContainsAny(s, ",[]{}") {
		return out
	}
	return `"` + s + `"`
}
