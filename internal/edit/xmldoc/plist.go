package xmldoc

import (
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/splice"
	"notaria/internal/fault"
	"notaria/internal/language"
)

// span is a range of bytes of a document.
type span struct{ from, to int }

// Kinds of places in property lists; the place's name is a key of the top dictionary.
const (
	KindArray  edit.Kind = "array"  // a string in the array under a key
	KindString edit.Kind = "string" // the string under a key
)

// List is the syntax of Apple's property lists.
type List struct{}

// Name is how entries name this syntax.
func (List) Name() string { return "plist" }

// plistItem is a value in the top dictionary of a property list.
type plistItem struct {
	key      string
	keySpan  span   // <key>…</key>
	span     span   // the whole value element
	name     string // its element
	text     string // of a <string>
	empty    bool   // written as <array/>
	open     int    // end of the start tag
	close    int    // start of the end tag
	children []plistChild
}

type plistChild struct {
	span span
	name string
	text string
}

type plistDoc struct {
	file       string
	items      []plistItem
	dictOpen   int // end of <dict>
	dictClose  int // start of </dict>
	dictEmpty  bool
	dictSpan   span
	dictIndent string
}

const plistDepth = 64 // how deep a property list may nest

// plistParser walks the tokens of a document and notes places. The stack holds
// the names of open elements: plist, dict, then a key or a value, then what is
// inside a value.
type plistParser struct {
	file    string
	doc     []byte
	out     plistDoc
	stack   []string
	item    *plistItem
	child   *plistChild
	key     string
	keySpan span
	haveKey bool
}

// parsePlist finds the places of things in an XML property list. Its order of
// elements is checked as far as the top dictionary goes.
func parsePlist(file string, doc []byte) (*plistDoc, error) {
	p := &plistParser{file: file, doc: doc, out: plistDoc{file: file, dictOpen: -1}}
	if bytes.HasPrefix(doc, []byte("bplist")) {
		return nil, p.fail(0, "an XML property list", "a binary one")
	}
	if len(doc) > mostBytes {
		return nil, p.fail(0, "at most 1 MiB", "more")
	}
	bom := 0
	if bytes.HasPrefix(doc, []byte("\xef\xbb\xbf")) {
		bom = 3
	}
	dec := xml.NewDecoder(bytes.NewReader(doc[bom:]))
	for {
		from := bom + int(dec.InputOffset())
		tok, err := dec.Token()
		to := bom + int(dec.InputOffset())
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return nil, p.broken(err, to)
		}
		if err := p.token(tok, from, to); err != nil {
			return nil, err
		}
	}
	if p.out.dictOpen < 0 || len(p.stack) > 0 {
		return nil, p.fail(0, "a <plist> with a <dict>", "none")
	}
	p.out.dictIndent = splice.IndentOf(doc, p.out.dictSpan.from)
	return &p.out, nil
}

func (p *plistParser) fail(at int, expected, found string) error {
	return edit.Document{File: p.file, Text: p.doc}.Fail(at, expected, found, edit.Mend)
}

func (p *plistParser) broken(err error, at int) error {
	msg, line := err.Error(), splice.LineOf(p.doc, at)
	var syn *xml.SyntaxError
	if errors.As(err, &syn) {
		msg, line = syn.Msg, syn.Line
	}
	return &fault.Error{File: p.file, Line: line, Expected: "a well-formed property list", Found: "an XML error: " + msg, Cure: edit.Mend}
}

func (p *plistParser) token(tok xml.Token, from, to int) error {
	switch t := tok.(type) {
	case xml.StartElement:
		if len(p.stack) >= plistDepth {
			return p.fail(from, fmt.Sprintf("at most %d levels", plistDepth), "more")
		}
		err := p.start(t.Name.Local, from, to)
		p.stack = append(p.stack, t.Name.Local)
		return err
	case xml.EndElement:
		p.stack = p.stack[:len(p.stack)-1]
		return p.end(t.Name.Local, from, to)
	case xml.CharData:
		return p.text(string(t), from)
	}
	return nil
}

func (p *plistParser) start(name string, from, to int) error {
	switch len(p.stack) {
	case 0:
		if name != "plist" {
			return p.fail(from, "a <plist>", "<"+name+">")
		}
	case 1:
		if name != "dict" || p.out.dictOpen >= 0 {
			return p.fail(from, "one <dict> in <plist>", "<"+name+">")
		}
		p.out.dictOpen, p.out.dictSpan.from = to, from
	case 2:
		return p.startInDict(name, from, to)
	case 3:
		if p.item != nil {
			p.item.children = append(p.item.children, plistChild{span: span{from, 0}, name: name})
			p.child = &p.item.children[len(p.item.children)-1]
		}
	}
	return nil
}

func (p *plistParser) startInDict(name string, from, to int) error {
	switch {
	case name == "key" && p.haveKey:
		return p.fail(from, fmt.Sprintf("a value for the key %q", p.key), "another key")
	case name == "key":
		p.key, p.keySpan, p.haveKey = "", span{from, 0}, true
	case !p.haveKey:
		return p.fail(from, "a <key>", "<"+name+">")
	default:
		p.out.items = append(p.out.items, plistItem{key: p.key, keySpan: p.keySpan, span: span{from, 0}, name: name, open: to})
		p.item, p.haveKey = &p.out.items[len(p.out.items)-1], false
	}
	return nil
}

func (p *plistParser) end(name string, from, to int) error {
	switch len(p.stack) {
	case 1:
		if p.haveKey {
			return p.fail(from, fmt.Sprintf("a value for the key %q", p.key), "the end of the dictionary")
		}
		p.out.dictClose, p.out.dictSpan.to, p.out.dictEmpty = from, to, from == to
	case 2:
		if name == "key" {
			p.keySpan.to = to
		} else {
			p.item.close, p.item.span.to, p.item.empty = from, to, from == to
			p.item = nil
		}
	case 3:
		if p.child != nil {
			p.child.span.to = to
			p.child = nil
		}
	}
	return nil
}

func (p *plistParser) text(s string, from int) error {
	switch {
	case len(p.stack) == 3 && p.stack[2] == "key":
		p.key += s
	case len(p.stack) == 3 && p.item != nil:
		p.item.text += s
	case len(p.stack) == 4 && p.child != nil:
		p.child.text += s
	case len(p.stack) <= 2 && strings.TrimSpace(s) != "":
		return p.fail(from, "only elements between elements", "text")
	}
	return nil
}

func (p *plistDoc) find(key string) *plistItem {
	for i := range p.items {
		if p.items[i].key == key {
			return &p.items[i]
		}
	}
	return nil
}

// Array lists the strings of an array under a key of the top dictionary, with their
// lines. A key that is not there has none.
func Array(d edit.Document, key string) (values []string, lines []int, err error) {
	file, doc := d.File, d.Text
	if isBinaryPlist(doc) {
		values, err := binaryArray(file, doc, key)
		return values, make([]int, len(values)), err
	}
	p, err := parsePlist(file, doc)
	if err != nil {
		return nil, nil, err
	}
	item := p.find(key)
	if item == nil {
		return nil, nil, nil
	}
	line := splice.Liner(doc)
	for _, c := range item.children {
		if c.name == "string" {
			values, lines = append(values, c.text), append(lines, line(c.span.from))
		}
	}
	return values, lines, nil
}

// String returns the text under a key of the top dictionary with its line; "" if there
// is none.
func String(d edit.Document, key string) (string, int, error) {
	file, doc := d.File, d.Text
	if isBinaryPlist(doc) {
		b, err := parseBinaryPlist(file, doc)
		if err != nil {
			return "", 0, err
		}
		return b.text(b.find(key)), 0, nil
	}
	p, err := parsePlist(file, doc)
	if err != nil {
		return "", 0, err
	}
	if item := p.find(key); item != nil && item.name == "string" {
		return item.text, splice.LineOf(doc, item.span.from), nil
	}
	return "", 0, nil
}

// A Misplaced key is one that should hold an array in the top dictionary, and does not.
type Misplaced struct {
	Line int    // 1-based
	Key  string // as it is written
	How  string // for people: where it is, or what it holds
	Form bool   // it is in its place, and holds something else
	// From and To are the bytes of a key that is mistyped in its place; 0 for others.
	From, To int
}

// Astray finds a key that is in a comment, below another key, mistyped in capitals, or that holds no
// array of strings; false if there is no such, or the list is a binary one.
func Astray(d edit.Document, key string, spelled ...string) (Misplaced, bool) {
	if isBinaryPlist(d.Text) {
		return Misplaced{}, false
	}
	p, err := parsePlist(d.File, d.Text)
	if err != nil {
		return Misplaced{}, false
	}
	if item := p.find(key); item != nil {
		if item.name == "array" {
			for _, c := range item.children {
				if c.name != "string" {
					return Misplaced{Line: splice.LineOf(d.Text, c.span.from), Key: key, How: "a <" + c.name + "> among its strings", Form: true}, true
				}
			}
			return Misplaced{}, false
		}
		return Misplaced{Line: splice.LineOf(d.Text, item.span.from), Key: key, How: "a <" + item.name + ">", Form: true}, true
	}
	for _, item := range p.items {
		if strings.EqualFold(item.key, key) || slices.ContainsFunc(spelled, func(s string) bool { return strings.EqualFold(item.key, s) }) {
			m := Misplaced{Line: splice.LineOf(d.Text, item.keySpan.from), Key: item.key, How: "the key " + item.key}
			if i := bytes.Index(d.Text[item.keySpan.from:item.keySpan.to], []byte(item.key)); i >= 0 {
				m.From, m.To = item.keySpan.from+i, item.keySpan.from+i+len(item.key)
			}
			return m, true
		}
	}
	at := bytes.Index(d.Text, []byte("<key>"+key+"</key>"))
	if at < 0 {
		return Misplaced{}, false
	}
	how := "it below another key"
	if open := bytes.LastIndex(d.Text[:at], []byte("<!--")); open >= 0 && bytes.LastIndex(d.Text[:at], []byte("-->")) < open {
		how = "it in a comment"
	}
	return Misplaced{Line: splice.LineOf(d.Text, at), Key: key, How: how}, true
}

// Marks of containers in edit.Entry.Made.
const (
	madeKey      = "key"      // the key and its array
	madeExpanded = "expanded" // <array/> became <array></array>
	madeDict     = "dict"     // as key, and <dict/> became <dict></dict>
)

// Reconcile works key by key.
func (List) Reconcile(doc edit.Document, want, owned []edit.Entry) ([]byte, []edit.Entry, error) {
	return edit.ByPlace(doc, want, owned, func(doc edit.Document, at edit.Place, want, owned []edit.Entry) ([]byte, []edit.Entry, error) {
		switch {
		case isBinaryPlist(doc.Text):
			return reconcileBinary(doc, at, want, owned)
		case at.Kind == KindString:
			return reconcileString(doc, at.Name, want, owned)
		}
		return reconcileKey(doc, at, want, owned)
	})
}

// reconcileString reconciles one string under a key.
func reconcileString(d edit.Document, key string, want, owned []edit.Entry) ([]byte, []edit.Entry, error) {
	doc := d.Text
	p, err := parsePlist(d.File, doc)
	if err != nil {
		return nil, nil, err
	}
	item := p.find(key)
	switch {
	case len(want) == 0 && (item == nil || item.text != owned[0].Value):
		return doc, nil, nil
	case len(want) == 0:
		text, err := p.dropContainer(d, item, owned[0])
		return text, nil, err
	case item != nil && (item.name != "string" || item.text != want[0].Value):
		return nil, nil, p.otherString(doc, item, want[0].Value)
	case item != nil && len(owned) > 0:
		return doc, owned[:1], nil
	case item != nil:
		return doc, nil, nil
	}
	e := want[0]
	text, made := p.insertValue(doc, key, "<string>"+language.EscapeXML(e.Value)+"</string>")
	e.Made = []string{made}
	out, err := d.Apply(text)
	return out, []edit.Entry{e}, err
}

func (p *plistDoc) otherString(doc []byte, item *plistItem, want string) error {
	return edit.Document{File: p.file, Text: doc}.Fail(item.span.from, fmt.Sprintf("%q under %s", want, item.key), fmt.Sprintf("%q", item.text),
		fmt.Sprintf("write <string>%s</string> there, then register again", language.EscapeXML(want)))
}

// insertValue returns the splice that adds a key with a value as the last of the
// dictionary, and how it was made. The value's lines are indented as they stand.
func (p *plistDoc) insertValue(doc []byte, key, value string) (splice.Edit, string) {
	nl := splice.Newline(doc)
	indent, _ := p.indents(doc)
	text := indent + "<key>" + language.EscapeXML(key) + "</key>" + nl + indent + value + nl
	if p.dictEmpty {
		return splice.Replace(p.dictSpan.from, p.dictSpan.to, "<dict>"+nl+text+p.dictIndent+"</dict>"), madeDict
	}
	at := splice.LineStart(doc, p.dictClose)
	if strings.TrimSpace(string(doc[at:p.dictClose])) != "" {
		at, text = p.dictClose, strings.Join(splice.Trimmed(strings.Split(text, nl)), "")
	}
	return splice.Replace(at, at, text), madeKey
}

// reconcileKey reconciles one array of strings.
func reconcileKey(d edit.Document, at edit.Place, want, owned []edit.Entry) ([]byte, []edit.Entry, error) {
	doc, key := d.Text, at.Name
	p, err := parsePlist(d.File, doc)
	if err != nil {
		return nil, nil, err
	}
	item := p.find(key)
	if item != nil && item.name != "array" {
		return nil, nil, d.Fail(item.span.from, "an <array> under "+key, "<"+item.name+">", "make it an array of strings, then register again")
	}
	container, mine := edit.Mine(edit.Entry{File: d.File, Syntax: List{}.Name(), Place: at}, owned)
	splices, have := item.dropStale(doc, want, mine)
	kept := len(have)
	add, now := edit.Settle(want, have, mine)
	if item != nil && kept == 0 && len(add) == 0 && container.Made != nil {
		text, err := p.dropContainer(d, item, container)
		return text, nil, err
	}
	if len(add) > 0 {
		s, made := p.insert(doc, item, key, add)
		splices = append(splices, s...)
		if made != "" {
			container.Made = []string{made}
		}
	}
	if container.Made != nil && len(now) > 0 {
		now = append(now, container)
	}
	text, err := d.Apply(splices...)
	return text, now, err
}

// dropStale returns the splices that take out strings of ours that are wanted no
// more, and the set of those that stay.
func (item *plistItem) dropStale(doc []byte, want []edit.Entry, mine map[string]bool) ([]splice.Edit, map[string]bool) {
	have, wanted := map[string]bool{}, edit.Values(want)
	var splices []splice.Edit
	if item == nil {
		return nil, have
	}
	for _, c := range item.children {
		if c.name == "string" && mine[c.text] && !wanted[c.text] {
			splices = append(splices, splice.WholeLines(doc, c.span.from, c.span.to))
		} else {
			have[c.text] = true
		}
	}
	return splices, have
}

// dropContainer takes the array that Notaria made away, or folds it up again.
func (p *plistDoc) dropContainer(d edit.Document, item *plistItem, c edit.Entry) ([]byte, error) {
	doc := d.Text
	switch {
	case c.Mark() == madeDict && len(p.items) == 1:
		return d.Apply(splice.Edit{From: p.dictSpan.from, To: p.dictSpan.to, Text: "<dict/>"})
	case c.Mark() == madeExpanded:
		return d.Apply(splice.Edit{From: item.span.from, To: item.span.to, Text: "<array/>"})
	case splice.Alone(doc, item.keySpan.from, item.keySpan.to) && splice.Alone(doc, item.span.from, item.span.to):
		return d.Apply(splice.WholeLines(doc, item.keySpan.from, item.keySpan.to), splice.WholeLines(doc, item.span.from, item.span.to))
	}
	return d.Apply(splice.Edit{From: item.keySpan.from, To: item.span.to})
}

// insert returns the splices that add strings, and how a container was made.
func (p *plistDoc) insert(doc []byte, item *plistItem, key string, add []string) ([]splice.Edit, string) {
	nl := splice.Newline(doc)
	indent, step := p.indents(doc)
	var lines strings.Builder
	for _, v := range add {
		lines.WriteString(indent + step + "<string>" + language.EscapeXML(v) + "</string>" + nl)
	}
	switch {
	case item == nil:
		text, made := p.insertValue(doc, key, "<array>"+nl+lines.String()+indent+"</array>")
		return []splice.Edit{text}, made
	case item.empty:
		in := splice.IndentOf(doc, item.span.from)
		return []splice.Edit{splice.Replace(item.span.from, item.span.to, "<array>"+nl+lines.String()+in+"</array>")}, madeExpanded
	}
	at := splice.LineStart(doc, item.close)
	if strings.TrimSpace(string(doc[at:item.close])) != "" {
		return []splice.Edit{splice.Replace(item.close, item.close, "<string>"+strings.Join(escapeAll(add), "</string><string>")+"</string>")}, ""
	}
	text := lines.String()
	if len(item.children) > 0 { // follow the indentation of those already there
		text = strings.ReplaceAll(text, indent+step+"<string>", splice.IndentOf(doc, item.children[0].span.from)+"<string>")
	}
	return []splice.Edit{splice.Replace(at, at, text)}, ""
}

// indents returns the indentation of keys, and what one more level adds.
func (p *plistDoc) indents(doc []byte) (indent, step string) {
	if len(p.items) > 0 {
		indent = splice.IndentOf(doc, p.items[0].keySpan.from)
	}
	if indent == "" && len(p.items) == 0 {
		indent = p.dictIndent + "\t"
	}
	step = strings.TrimPrefix(indent, p.dictIndent)
	if step == "" {
		step = "\t"
	}
	return indent, step
}

func escapeAll(list []string) []string {
	out := make([]string, len(list))
	for i, s := range list {
		out[i] = language.EscapeXML(s)
	}
	return out
}

// TakeOver takes strings with their array, where that holds nothing else.
func (s List) TakeOver(doc edit.Document, want, mine []edit.Entry) []edit.Entry {
	out, have := edit.Take(want, mine, func(e edit.Entry) (edit.Entry, bool) {
		if e.Place.Kind == KindString {
			e.Made = []string{madeKey}
		}
		return e, true
	})
	for _, at := range edit.Places(out) {
		values, _, err := Array(doc, at.Name)
		if err != nil || at.Kind != KindArray {
			continue
		}
		theirs := slices.ContainsFunc(values, func(v string) bool {
			return !have[edit.Entry{File: doc.File, Syntax: s.Name(), Place: at, Value: v}.Key()]
		})
		if c := (edit.Entry{File: doc.File, Syntax: s.Name(), Place: at, Made: []string{madeKey}}); !theirs && !have[c.Key()] {
			out = append(out, c)
		}
	}
	return out
}

// Paste is a key with its value.
func (List) Paste(want []edit.Entry) string {
	return edit.PasteBy(want, func(at edit.Place, list []edit.Entry) []string {
		key := "<key>" + language.EscapeXML(at.Name) + "</key>"
		if at.Kind == KindString {
			return []string{key, "<string>" + language.EscapeXML(list[0].Value) + "</string>"}
		}
		out := append([]string{key, "<array>"}, edit.Each(list, func(e edit.Entry) string { return "\t<string>" + language.EscapeXML(e.Value) + "</string>" })...)
		return append(out, "</array>")
	})
}

// Missing returns the strings that are not there.
func (List) Missing(doc edit.Document, want []edit.Entry) ([]edit.Lack, error) {
	var out []edit.Lack
	for _, e := range want {
		if e.Place.Kind == KindString {
			have, line, err := String(doc, e.Place.Name)
			if err != nil {
				return nil, err
			}
			if have != e.Value {
				out = append(out, edit.Lack{Entry: e, Line: line, Message: fmt.Sprintf("%s is %q, and the fonts are in %q", e.Place.Name, have, e.Value),
					Cause: "the app loads the fonts of this one folder of its resources"})
			}
			continue
		}
		values, _, err := Array(doc, e.Place.Name)
		if err != nil {
			return nil, err
		}
		if !slices.Contains(values, e.Value) {
			out = append(out, edit.Lack{Entry: e, Message: fmt.Sprintf("%s does not name %s", e.Place.Name, e.Value), Cause: "the system loads only the files that this list names"})
		}
	}
	return out, nil
}

// AnyEntry says that an entry can be any key.
func (List) AnyEntry() {}
