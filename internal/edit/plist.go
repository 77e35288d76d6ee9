package edit

import (
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"strings"
)

// span is a range of bytes of a document.
type span struct{ from, to int }

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
	p.out.dictIndent = indentOf(doc, p.out.dictSpan.from)
	return &p.out, nil
}

func (p *plistParser) fail(at int, expected, found string) error {
	return &Error{p.file, lineOf(p.doc, at), expected, found, "mend it by hand, then register again"}
}

func (p *plistParser) broken(err error, at int) error {
	msg, line := err.Error(), lineOf(p.doc, at)
	var syn *xml.SyntaxError
	if errors.As(err, &syn) {
		msg, line = syn.Msg, syn.Line
	}
	return &Error{p.file, line, "a well-formed property list", "an XML error: " + msg, "mend it by hand, then register again"}
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

// PlistArray lists the strings of an array under a key of the top dictionary,
// with their lines. A key that is not there has none.
func PlistArray(file string, doc []byte, key string) (values []string, lines []int, err error) {
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
	for _, c := range item.children {
		if c.name == "string" {
			values, lines = append(values, c.text), append(lines, lineOf(doc, c.span.from))
		}
	}
	return values, lines, nil
}

// PlistString gives the text under a key of the top dictionary with its line; ""
// if there is none.
func PlistString(file string, doc []byte, key string) (string, int, error) {
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
		return item.text, lineOf(doc, item.span.from), nil
	}
	return "", 0, nil
}

// Marks of containers in Entry.Made.
const (
	madeKey      = "key"      // the key and its array
	madeExpanded = "expanded" // <array/> became <array></array>
	madeDict     = "dict"     // as key, and <dict/> became <dict></dict>
)

// PlaceString is how Place begins for a string under a key, instead of a string
// in the array under it.
const PlaceString = "string:"

// reconcilePlist works key by key; each reparses, for places move with edits.
func reconcilePlist(file string, doc []byte, want, owned []Entry) ([]byte, []Entry, error) {
	see := func(doc []byte, place string, want, owned []Entry) ([]byte, []Entry, error) {
		key, isString := strings.CutPrefix(place, PlaceString)
		switch {
		case isBinaryPlist(doc):
			return reconcileBinary(file, doc, key, isString, want, owned)
		case isString:
			return reconcileString(file, doc, key, want, owned)
		}
		return reconcileKey(file, doc, key, want, owned)
	}
	var places []string
	seen := map[string]bool{}
	for _, e := range append(append([]Entry(nil), want...), owned...) {
		if !seen[e.Place] {
			seen[e.Place] = true
			places = append(places, e.Place)
		}
	}
	var now []Entry
	for _, place := range places {
		in := func(list []Entry) (out []Entry) {
			for _, e := range list {
				if e.Place == place {
					out = append(out, e)
				}
			}
			return
		}
		var err error
		var mine []Entry
		if doc, mine, err = see(doc, place, in(want), in(owned)); err != nil {
			return nil, nil, err
		}
		now = append(now, mine...)
	}
	return doc, now, nil
}

// reconcileString sees to one string under a key.
func reconcileString(file string, doc []byte, key string, want, owned []Entry) ([]byte, []Entry, error) {
	p, err := parsePlist(file, doc)
	if err != nil {
		return nil, nil, err
	}
	item := p.find(key)
	switch {
	case len(want) == 0 && (item == nil || item.text != owned[0].Value):
		return doc, nil, nil
	case len(want) == 0:
		return p.dropContainer(doc, item, owned[0]), nil, nil
	case item != nil && (item.name != "string" || item.text != want[0].Value):
		return nil, nil, p.otherString(doc, item, want[0].Value)
	case item != nil && len(owned) > 0:
		return doc, owned[:1], nil
	case item != nil:
		return doc, nil, nil
	}
	e := want[0]
	text, made := p.insertValue(doc, key, "<string>"+EscapeXML(e.Value)+"</string>")
	e.Made = []string{made}
	return apply(doc, []splice{text}), []Entry{e}, nil
}

func (p *plistDoc) otherString(doc []byte, item *plistItem, want string) error {
	return &Error{p.file, lineOf(doc, item.span.from), fmt.Sprintf("%q under %s", want, item.key), fmt.Sprintf("%q", item.text),
		fmt.Sprintf("write <string>%s</string> there, then register again", EscapeXML(want))}
}

// insertValue gives the splice that adds a key with a value as the last of the
// dictionary, and how it was made. The value's lines are indented as they stand.
func (p *plistDoc) insertValue(doc []byte, key, value string) (splice, string) {
	nl := newline(doc)
	indent, _ := p.indents(doc)
	text := indent + "<key>" + EscapeXML(key) + "</key>" + nl + indent + value + nl
	if p.dictEmpty {
		return splice{p.dictSpan.from, p.dictSpan.to, "<dict>" + nl + text + p.dictIndent + "</dict>"}, madeDict
	}
	at := lineStart(doc, p.dictClose)
	if strings.TrimSpace(string(doc[at:p.dictClose])) != "" {
		at, text = p.dictClose, strings.TrimSuffix(strings.ReplaceAll(text, nl, ""), nl)
	}
	return splice{at, at, text}, madeKey
}

// reconcileKey sees to one array of strings.
func reconcileKey(file string, doc []byte, key string, want, owned []Entry) ([]byte, []Entry, error) {
	p, err := parsePlist(file, doc)
	if err != nil {
		return nil, nil, err
	}
	item := p.find(key)
	if item != nil && item.name != "array" {
		return nil, nil, &Error{file, lineOf(doc, item.span.from), "an <array> under " + key, "<" + item.name + ">", "make it an array of strings, then register again"}
	}
	container, mine := ownValues(Entry{File: file, Syntax: SyntaxPlist, Place: key}, owned)
	splices, have := item.dropStale(doc, want, mine)
	kept := len(have)
	add, now := settle(want, have, mine)
	if item != nil && kept == 0 && len(add) == 0 && container.Made != nil {
		return p.dropContainer(doc, item, container), nil, nil
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
	return apply(doc, splices), now, nil
}

// dropStale gives the splices that take out strings of ours that are wanted no
// more, and the set of those that stay.
func (item *plistItem) dropStale(doc []byte, want []Entry, mine map[string]bool) ([]splice, map[string]bool) {
	have, wanted := map[string]bool{}, values(want)
	var splices []splice
	if item == nil {
		return nil, have
	}
	for _, c := range item.children {
		if c.name == "string" && mine[c.text] && !wanted[c.text] {
			splices = append(splices, wholeLines(doc, c.span.from, c.span.to))
		} else {
			have[c.text] = true
		}
	}
	return splices, have
}

// dropContainer takes the array that Notaria made away, or folds it up again.
func (p *plistDoc) dropContainer(doc []byte, item *plistItem, c Entry) []byte {
	if len(c.Made) > 0 && c.Made[0] == madeDict && len(p.items) == 1 {
		return apply(doc, []splice{{p.dictSpan.from, p.dictSpan.to, "<dict/>"}})
	}
	if len(c.Made) > 0 && c.Made[0] == madeExpanded {
		return apply(doc, []splice{{item.span.from, item.span.to, "<array/>"}})
	}
	if alone(doc, item.keySpan.from, item.keySpan.to) && alone(doc, item.span.from, item.span.to) {
		return apply(doc, []splice{wholeLines(doc, item.keySpan.from, item.keySpan.to), wholeLines(doc, item.span.from, item.span.to)})
	}
	return apply(doc, []splice{{item.keySpan.from, item.span.to, ""}})
}

// insert gives the splices that add strings, and how a container was made.
func (p *plistDoc) insert(doc []byte, item *plistItem, key string, add []string) ([]splice, string) {
	nl := newline(doc)
	indent, step := p.indents(doc)
	var lines strings.Builder
	for _, v := range add {
		lines.WriteString(indent + step + "<string>" + EscapeXML(v) + "</string>" + nl)
	}
	switch {
	case item == nil:
		text, made := p.insertValue(doc, key, "<array>"+nl+lines.String()+indent+"</array>")
		return []splice{text}, made
	case item.empty:
		in := indentOf(doc, item.span.from)
		return []splice{{item.span.from, item.span.to, "<array>" + nl + lines.String() + in + "</array>"}}, madeExpanded
	}
	at := lineStart(doc, item.close)
	if strings.TrimSpace(string(doc[at:item.close])) != "" {
		return []splice{{item.close, item.close, "<string>" + strings.Join(escapeAll(add), "</string><string>") + "</string>"}}, ""
	}
	text := lines.String()
	if len(item.children) > 0 { // follow the indentation of those already there
		text = strings.ReplaceAll(text, indent+step+"<string>", indentOf(doc, item.children[0].span.from)+"<string>")
	}
	return []splice{{at, at, text}}, ""
}

// indents gives the indentation of keys, and what one more level adds.
func (p *plistDoc) indents(doc []byte) (indent, step string) {
	if len(p.items) > 0 {
		indent = indentOf(doc, p.items[0].keySpan.from)
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

// EscapeXML makes text safe between tags.
func EscapeXML(s string) string {
	return strings.NewReplacer("&", "&amp;", "<", "&lt;", ">", "&gt;").Replace(s)
}

func escapeAll(list []string) []string {
	out := make([]string, len(list))
	for i, s := range list {
		out[i] = EscapeXML(s)
	}
	return out
}
