package edit

import (
	"strings"
	"unicode/utf8"

	"github.com/goccy/go-yaml/ast"
	"github.com/goccy/go-yaml/parser"
)

// A pubspec, or a part of it, can be written in flow style:
//
//	flutter: {fonts: [{family: Skerry Sans, fonts: [{asset: fonts/SkerrySans-Bold.ttf, weight: 700}]}]}
//
// What Notaria adds to a list or mapping in that style comes last in it, in the same
// style.

// A flowNode is a value in flow style with its place in the text.
type flowNode struct {
	kind     byte // '{', '[' or 0 for a scalar
	from, to int
	text     string // of a scalar
	keys     []string
	starts   []int // where each pair begins
	items    []*flowNode
}

const flowDepth = 32 // how deep values may nest

func (n *flowNode) get(key string) *flowNode {
	if n != nil {
		for i, k := range n.keys {
			if k == key {
				return n.items[i]
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
		case isSpace(c):
			r.at++
		case c == '#' && (r.at == 0 || isSpace(r.doc[r.at-1])):
			for r.at < len(r.doc) && r.doc[r.at] != '\n' {
				r.at++
			}
		default:
			return
		}
	}
}

// value reads a list, a mapping or a scalar; false if the text is none of them.
func (r *flowReader) value() (*flowNode, bool) {
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

func (r *flowReader) collection(open, end byte) (*flowNode, bool) {
	n := &flowNode{kind: open, from: r.at}
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
			n.to = r.at
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
			n.keys, n.starts = append(n.keys, v.text), append(n.starts, start)
			r.space()
			if r.at >= len(r.doc) || r.doc[r.at] != ':' {
				return nil, false
			}
			r.at++
			if v, ok = r.value(); !ok {
				return nil, false
			}
		}
		n.items = append(n.items, v)
	}
}

// scalar reads text with or without quotes.
func (r *flowReader) scalar() (*flowNode, bool) {
	n := &flowNode{from: r.at}
	if q := r.doc[r.at]; q == '"' || q == '\'' {
		for i := r.at + 1; i < len(r.doc); i++ {
			switch {
			case q == '"' && r.doc[i] == '\\', q == '\'' && strings.HasPrefix(r.doc[i:], "''"):
				i++
			case r.doc[i] == q:
				r.at = i + 1
				n.to, n.text = r.at, yamlText(r.doc[n.from:r.at])
				return n, true
			}
		}
		return nil, false
	}
	for r.at < len(r.doc) {
		c := r.doc[r.at]
		if strings.IndexByte("[]{},\n", c) >= 0 || c == ':' && (r.at+1 >= len(r.doc) || strings.IndexByte(" \t\r\n,[]{}", r.doc[r.at+1]) >= 0) || c == '#' && isSpace(r.doc[r.at-1]) {
			break
		}
		r.at++
	}
	n.text = strings.TrimSpace(r.doc[n.from:r.at])
	n.to = n.from + len(n.text)
	return n, n.text != ""
}

// yamlText is what a scalar means.
func yamlText(raw string) string {
	tree, err := parser.ParseBytes([]byte(raw), 0)
	if err != nil || len(tree.Docs) != 1 || tree.Docs[0].Body == nil {
		return raw
	}
	return scalar(tree.Docs[0].Body)
}

// flow reads the value in flow style that a node stands for.
func (p *pubspec) flow(n ast.Node) (*flowNode, error) {
	var line, column int
	switch v := n.(type) {
	case *ast.MappingNode:
		line, column = v.Start.Position.Line, v.Start.Position.Column
	case *ast.SequenceNode:
		line, column = v.Start.Position.Line, v.Start.Position.Column
	}
	at := 0
	for i := 0; i < line-1 && i < len(p.lines); i++ {
		at += len(p.lines[i])
	}
	doc := strings.Join(p.lines, "")
	for i := 1; i < column && at < len(doc); i++ {
		_, size := utf8.DecodeRuneInString(doc[at:])
		at += size
	}
	r := &flowReader{doc: doc, at: at}
	if at < len(doc) && (doc[at] == '[' || doc[at] == '{') {
		if v, ok := r.value(); ok {
			return v, nil
		}
	}
	return nil, p.fail(line-1, "a list or mapping in flow style", "one that cannot be told apart; "+p.paste())
}

// readFlowFonts reads the families of a list in flow style.
func (p *pubspec) readFlowFonts(list *flowNode, line int) error {
	if list.kind != '[' {
		return p.fail(line, "fonts: as a list", "something else; "+p.paste())
	}
	p.fontsFlow = list
	for _, item := range list.items {
		p.readFlowFamily(item)
	}
	return nil
}

func (p *pubspec) readFlowFamily(item *flowNode) {
	f := pubspecFamily{yamlBlock: yamlBlock{first: p.lineAt(item.from)}, flow: item, fontsFlow: item.get(placeFonts)}
	if name := item.get("family"); name != nil {
		f.name = name.text
	}
	p.readFlowAssets(&f)
	p.families = append(p.families, f)
}

func (p *pubspec) readFlowAssets(f *pubspecFamily) {
	if f.fontsFlow == nil || f.fontsFlow.kind != '[' {
		f.fontsFlow = nil
		return
	}
	for _, a := range f.fontsFlow.items {
		if at := a.get("asset"); at != nil {
			f.assets = append(f.assets, pubspecAsset{yamlBlock: yamlBlock{first: p.lineAt(a.from)}, path: at.text, flow: a, in: f.fontsFlow})
		}
	}
}

func (p *pubspec) lineAt(at int) int { return strings.Count(strings.Join(p.lines, "")[:at], "\n") }

// splice gives the document with a range of its bytes exchanged, parsed anew.
func (p *pubspec) splice(from, to int, text string) (*pubspec, error) {
	doc := strings.Join(p.lines, "")
	return parsePubspec(p.file, []byte(doc[:from]+text+doc[to:]))
}

// appendFlow puts text last into a list or mapping.
func (p *pubspec) appendFlow(in *flowNode, text string) (*pubspec, error) {
	if n := len(in.items); n > 0 {
		at := in.items[n-1].to
		return p.splice(at, at, ", "+text)
	}
	return p.splice(in.from+1, in.from+1, text)
}

// cutFlow takes an item out, or the pair that it is the value of, with one comma.
func (p *pubspec) cutFlow(in, item *flowNode) (*pubspec, error) {
	doc := strings.Join(p.lines, "")
	from, to := item.from, item.to
	for i, v := range in.items {
		if v == item && in.kind == '{' {
			from = in.starts[i]
		}
	}
	switch before := strings.TrimRight(doc[:from], " "); {
	case strings.HasSuffix(before, ","):
		from = len(before) - 1
	case strings.HasPrefix(doc[to:], ", "):
		to += 2
	}
	return p.splice(from, to, "")
}

// addFlow declares an asset in flow style, where the file is so; ok says whether it
// is.
func (p *pubspec) addFlow(e Entry, f *pubspecFamily, container func(place, what string)) (out *pubspec, ok bool, err error) {
	asset := "{asset: " + flowScalar(e.Value)
	for _, w := range e.With {
		asset += ", " + w
	}
	asset += "}"
	family := "{family: " + flowScalar(strings.TrimPrefix(e.Place, familyPrefix)) + ", fonts: [" + asset + "]}"
	switch {
	case f != nil && f.fontsFlow != nil:
		out, err = p.appendFlow(f.fontsFlow, asset)
		return out, true, err
	case f != nil && f.flow != nil:
		return nil, true, p.fail(f.first, "fonts: in the family", "none")
	case f != nil:
		return nil, false, nil
	case p.fontsFlow != nil:
		container(e.Place, "family")
		out, err = p.appendFlow(p.fontsFlow, family)
		return out, true, err
	case p.flutterFlow != nil:
		container(e.Place, "family")
		container(placeFonts, "fonts")
		out, err = p.appendFlow(p.flutterFlow, "fonts: ["+family+"]")
		return out, true, err
	}
	return nil, false, nil
}

// flowScalar is yamlScalar for text between brackets, where more signs mean
// something.
func flowScalar(s string) string {
	if out := yamlScalar(s); out != s || !strings.ContainsAny(s, ",[]{}") {
		return out
	}
	return `"` + s + `"`
}
