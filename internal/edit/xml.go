package edit

import (
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"
)

// SyntaxXML is that of project files of .NET and of XAML. Place is one of
//
//	item:NAME   an element <NAME Include="Value" /> in an ItemGroup
//	merged      a <ResourceDictionary Source="Value" /> among the merged ones of
//	            an application's resources
const SyntaxXML = "xml"

// An element of an XML document with its place in the text. A start tag ends at
// open, an end tag begins at close; both are the end of an element written as
// <x/>.
type xmlElement struct {
	name        string // without its prefix
	attr        map[string]string
	span        span
	open, close int
	empty       bool // written as <x/>
	children    []*xmlElement
}

const (
	xmlDepth = 64       // how deep a document may nest
	xmlBytes = 64 << 20 // how large it may be
)

// parseXML finds the places of a document's elements.
func parseXML(file string, doc []byte) (*xmlElement, error) {
	fail := func(at int, expected, found string) error {
		return &Error{file, lineOf(doc, at), expected, found, "mend it by hand, then register again"}
	}
	if len(doc) > xmlBytes {
		return nil, fail(0, "at most 64 MiB", "more")
	}
	bom := 0
	if bytes.HasPrefix(doc, []byte("\xef\xbb\xbf")) {
		bom = 3
	}
	dec := xml.NewDecoder(bytes.NewReader(doc[bom:]))
	var root *xmlElement
	var stack []*xmlElement
	for {
		from := bom + int(dec.InputOffset())
		tok, err := dec.Token()
		to := bom + int(dec.InputOffset())
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			var syn *xml.SyntaxError
			if errors.As(err, &syn) {
				return nil, &Error{file, syn.Line, "well-formed XML", "an error: " + syn.Msg, "mend it by hand, then register again"}
			}
			return nil, fail(to, "well-formed XML", "an error: "+err.Error())
		}
		switch t := tok.(type) {
		case xml.StartElement:
			e := &xmlElement{name: t.Name.Local, attr: map[string]string{}, span: span{from: from}, open: to}
			for _, a := range t.Attr {
				e.attr[a.Name.Local] = a.Value
			}
			switch {
			case len(stack) >= xmlDepth:
				return nil, fail(from, fmt.Sprintf("at most %d levels", xmlDepth), "more")
			case len(stack) > 0:
				stack[len(stack)-1].children = append(stack[len(stack)-1].children, e)
			case root != nil:
				return nil, fail(from, "one element at the top", "another")
			default:
				root = e
			}
			stack = append(stack, e)
		case xml.EndElement:
			e := stack[len(stack)-1]
			stack = stack[:len(stack)-1]
			e.close, e.span.to, e.empty = from, to, from == to
		}
	}
	if root == nil {
		return nil, fail(0, "an element", "none")
	}
	return root, nil
}

// child finds the first child of a name.
func (e *xmlElement) child(name string) *xmlElement {
	if e != nil {
		for _, c := range e.children {
			if c.name == name {
				return c
			}
		}
	}
	return nil
}

// An Item is an element of an ItemGroup that takes files in.
type Item struct {
	Name, Include string // Include with slashes
	Line          int
}

// Covers says whether the item takes a file in, by name or by a wildcard.
func (i Item) Covers(file string) bool {
	for _, p := range strings.Split(i.Include, ";") {
		if wildcard(strings.TrimSpace(p), file) {
			return true
		}
	}
	return false
}

// wildcard matches as the build does: * within a folder, ** across folders, and
// without regard to capitals.
func wildcard(pattern, name string) bool {
	pattern, name = strings.ToLower(pattern), strings.ToLower(name)
	p, n := strings.Split(pattern, "/"), strings.Split(name, "/")
	var match func(p, n []string) bool
	match = func(p, n []string) bool {
		switch {
		case len(p) == 0:
			return len(n) == 0
		case p[0] == "**" && len(p) == 1:
			return true
		case p[0] == "**":
			for k := 0; k < len(n); k++ {
				if match(p[1:], n[k:]) {
					return true
				}
			}
			return false
		case len(n) == 0:
			return false
		}
		return part(p[0], n[0]) && match(p[1:], n[1:])
	}
	return len(p) <= xmlDepth && match(p, n)
}

// part matches one folder's or file's name with stars and question marks.
func part(p, s string) bool {
	star, back := -1, 0
	i, k := 0, 0
	for k < len(s) {
		switch {
		case i < len(p) && (p[i] == s[k] || p[i] == '?') && p[i] != '*':
			i++
			k++
		case i < len(p) && p[i] == '*':
			star, back = i, k
			i++
		case star >= 0:
			back++
			i, k = star+1, back
		default:
			return false
		}
	}
	return strings.Trim(p[i:], "*") == ""
}

// ProjectItems lists what a project file's ItemGroups take in.
func ProjectItems(file string, doc []byte) ([]Item, error) {
	root, err := parseXML(file, doc)
	if err != nil {
		return nil, err
	}
	var out []Item
	for _, g := range root.children {
		if g.name != "ItemGroup" {
			continue
		}
		for _, c := range g.children {
			if inc := c.attr["Include"]; inc != "" {
				out = append(out, Item{c.name, slashes(inc), lineOf(doc, c.span.from)})
			}
		}
	}
	return out, nil
}

func slashes(s string) string { return strings.ReplaceAll(s, `\`, "/") }

// MergedDictionaries lists the sources of an application's merged dictionaries.
func MergedDictionaries(file string, doc []byte) ([]string, error) {
	root, err := parseXML(file, doc)
	if err != nil {
		return nil, err
	}
	var out []string
	for _, c := range mergedOf(root).all() {
		out = append(out, slashes(c.attr["Source"]))
	}
	return out, nil
}

func (e *xmlElement) all() []*xmlElement {
	if e == nil {
		return nil
	}
	return e.children
}

func mergedOf(root *xmlElement) *xmlElement {
	return root.child("Application.Resources").child("ResourceDictionary").child("ResourceDictionary.MergedDictionaries")
}

// Marks of what was made around our elements.
const (
	madeGroup  = "group"
	madeOpened = "opened" // <x/> became <x></x>
)

// reconcileXML sees to each kind of element by itself.
func reconcileXML(file string, doc []byte, want, owned []Entry) ([]byte, []Entry, error) {
	var places []string
	for _, e := range append(append([]Entry(nil), want...), owned...) {
		if !slices.Contains(places, e.Place) {
			places = append(places, e.Place)
		}
	}
	var now []Entry
	for _, place := range places {
		at := func(e Entry) bool { return e.Place != place }
		w, o := slices.DeleteFunc(slices.Clone(want), at), slices.DeleteFunc(slices.Clone(owned), at)
		out, mine, err := reconcileElements(file, doc, place, w, o)
		if err != nil {
			return nil, nil, err
		}
		doc = out
		now = append(now, mine...)
	}
	return doc, now, nil
}

// elements finds those that a place is about, with what they name.
func elements(root *xmlElement, place string) (list []*xmlElement, values []string) {
	name, isItem := strings.CutPrefix(place, "item:")
	if !isItem {
		for _, c := range mergedOf(root).all() {
			if c.name == "ResourceDictionary" {
				list, values = append(list, c), append(values, slashes(c.attr["Source"]))
			}
		}
		return list, values
	}
	for _, g := range root.children {
		for _, c := range g.children {
			if g.name == "ItemGroup" && c.name == name {
				list, values = append(list, c), append(values, slashes(c.attr["Include"]))
			}
		}
	}
	return list, values
}

func reconcileElements(file string, doc []byte, place string, want, owned []Entry) ([]byte, []Entry, error) {
	root, err := parseXML(file, doc)
	if err != nil {
		return nil, nil, err
	}
	container, mine := ownValues(Entry{File: file, Syntax: SyntaxXML, Place: place}, owned)
	wanted := values(want)
	list, named := elements(root, place)
	have := map[string]bool{}
	var splices []splice
	for i, c := range list {
		if mine[named[i]] && !wanted[named[i]] {
			splices = append(splices, wholeLines(doc, c.span.from, c.span.to))
		} else {
			have[named[i]] = true
		}
	}
	add, now := settle(want, have, mine)
	if len(now) == 0 && container.Made != nil {
		return dropMade(doc, root, place, container, list, named, mine, splices), nil, nil
	}
	if len(add) > 0 {
		s, made, err := insertElements(file, doc, root, place, add)
		if err != nil {
			return nil, nil, err
		}
		splices = append(splices, s)
		if made != nil {
			container.Made = made
		}
	}
	if container.Made != nil && len(now) > 0 {
		now = append(now, container)
	}
	return apply(doc, splices), now, nil
}

// elementText writes one of our elements.
func elementText(place, value string) string {
	if name, isItem := strings.CutPrefix(place, "item:"); isItem {
		return "<" + name + ` Include="` + EscapeAttribute(strings.ReplaceAll(value, "/", `\`)) + `" />`
	}
	return `<ResourceDictionary Source="` + EscapeAttribute(value) + `" />`
}

// EscapeAttribute makes text safe between double quotes; line ends and tabs are
// written as numbers, for a reader would turn them into spaces.
func EscapeAttribute(s string) string {
	return strings.NewReplacer("&", "&amp;", "<", "&lt;", ">", "&gt;", `"`, "&quot;", "\n", "&#10;", "\r", "&#13;", "\t", "&#9;").Replace(s)
}

// insertElements gives the splice that adds elements, and what was made around
// them.
func insertElements(file string, doc []byte, root *xmlElement, place string, add []string) (splice, []string, error) {
	var lines []string
	for _, v := range add {
		lines = append(lines, elementText(place, v))
	}
	if strings.HasPrefix(place, "item:") {
		if list, _ := elements(root, place); len(list) > 0 { // behind the last of their kind
			return behind(doc, list[len(list)-1], lines), nil, nil
		}
		return into(doc, root, wrap(doc, "ItemGroup", lines)), []string{madeGroup}, nil
	}
	resources := root.child("Application.Resources")
	if resources == nil && strings.HasSuffix(root.name, "Application") {
		lines = wrap(doc, "ResourceDictionary", wrap(doc, "ResourceDictionary.MergedDictionaries", lines))
		return into(doc, root, wrap(doc, "Application.Resources", lines)), []string{madeGroup, "Application.Resources"}, nil
	}
	dictionary := resources.child("ResourceDictionary")
	merged := dictionary.child("ResourceDictionary.MergedDictionaries")
	switch {
	case merged != nil && merged.empty:
		return into(doc, merged, lines), []string{madeOpened, tagOf(doc, merged)}, nil
	case merged != nil:
		return into(doc, merged, lines), nil, nil
	case dictionary != nil && dictionary.attr["Source"] == "":
		made := []string{madeGroup, "ResourceDictionary.MergedDictionaries"}
		if dictionary.empty {
			made = []string{madeOpened, tagOf(doc, dictionary)}
		}
		return first(doc, dictionary, wrap(doc, "ResourceDictionary.MergedDictionaries", lines)), made, nil
	case resources != nil && len(resources.children) == 0:
		made := []string{madeGroup, "ResourceDictionary"}
		if resources.empty {
			made = []string{madeOpened, tagOf(doc, resources)}
		}
		return into(doc, resources, wrap(doc, "ResourceDictionary", wrap(doc, "ResourceDictionary.MergedDictionaries", lines))), made, nil
	}
	return splice{}, nil, &Error{file, lineOf(doc, root.span.from), "an <Application.Resources> with a <ResourceDictionary>, or none", "resources of another form",
		"put them into a <ResourceDictionary> and add by hand: <ResourceDictionary.MergedDictionaries>" + strings.Join(lines, "") + "</ResourceDictionary.MergedDictionaries>"}
}

func tagOf(doc []byte, e *xmlElement) string { return string(doc[e.span.from:e.span.to]) }

// wrap puts lines into an element, one step further in.
func wrap(doc []byte, name string, lines []string) []string {
	out := []string{"<" + name + ">"}
	for _, l := range lines {
		out = append(out, stepOf(doc)+l)
	}
	return append(out, "</"+name+">")
}

// stepOf is what one level of indentation is in the document.
func stepOf(doc []byte) string {
	for _, l := range bytes.Split(doc, []byte("\n")) {
		trimmed := bytes.TrimLeft(l, " \t")
		if n := len(l) - len(trimmed); n > 0 && len(trimmed) > 0 && trimmed[0] == '<' {
			return string(l[:n])
		}
	}
	return "  "
}

// into adds lines as an element's last children.
func into(doc []byte, parent *xmlElement, lines []string) splice {
	nl, indent := newline(doc), indentOf(doc, parent.span.from)
	inner := indent + stepOf(doc)
	text := inner + strings.Join(lines, nl+inner) + nl
	if parent.empty {
		return opened(doc, parent, nl+text+indent)
	}
	start := lineStart(doc, parent.close)
	if strings.TrimSpace(string(doc[start:parent.close])) != "" || start < parent.open {
		return splice{parent.close, parent.close, strings.Join(trimmed(lines), "")}
	}
	return splice{start, start, text}
}

// first adds lines as an element's first children.
func first(doc []byte, parent *xmlElement, lines []string) splice {
	if parent.empty || len(parent.children) == 0 {
		return into(doc, parent, lines)
	}
	nl, next := newline(doc), parent.children[0].span.from
	start := lineStart(doc, next)
	if strings.TrimSpace(string(doc[start:next])) != "" {
		return splice{parent.open, parent.open, strings.Join(trimmed(lines), "")}
	}
	indent := indentOf(doc, next)
	at := lineEnd(doc, parent.open)
	return splice{at, at, indent + strings.Join(lines, nl+indent) + nl}
}

// behind adds lines after an element.
func behind(doc []byte, e *xmlElement, lines []string) splice {
	if !alone(doc, e.span.from, e.span.to) {
		return splice{e.span.to, e.span.to, strings.Join(trimmed(lines), "")}
	}
	nl, indent, at := newline(doc), indentOf(doc, e.span.from), lineEnd(doc, e.span.to)
	return splice{at, at, indent + strings.Join(lines, nl+indent) + nl}
}

func trimmed(lines []string) []string {
	out := make([]string, len(lines))
	for i, l := range lines {
		out[i] = strings.TrimSpace(l)
	}
	return out
}

// opened turns <x/> into <x>…</x>.
func opened(doc []byte, e *xmlElement, inside string) splice {
	tag := strings.TrimSuffix(tagOf(doc, e), "/>")
	name := tag[1:]
	if i := strings.IndexAny(name, " \t\r\n"); i >= 0 {
		name = name[:i]
	}
	return splice{e.span.from, e.span.to, strings.TrimRight(tag, " \t\r\n") + ">" + inside + "</" + name + ">"}
}

// dropMade takes away what was made around our elements, if nothing else is in it
// now; else the elements alone go.
func dropMade(doc []byte, root *xmlElement, place string, container Entry, list []*xmlElement, values []string, mine map[string]bool, splices []splice) []byte {
	var parent *xmlElement
	foreign := 0
	find := func(e *xmlElement, name string) {
		var walk func(p *xmlElement)
		walk = func(p *xmlElement) {
			for _, c := range p.children {
				if c.span.from <= e.span.from && e.span.to <= c.span.to && c != e {
					if c.name == name && parent == nil {
						parent = c
					}
					walk(c)
				}
			}
		}
		walk(root)
	}
	name := "ItemGroup"
	if len(container.Made) > 1 {
		name = strings.Trim(strings.Fields(strings.TrimSuffix(strings.TrimPrefix(container.Made[1], "<"), "/>"))[0], "/")
		if i := strings.IndexByte(name, ':'); i >= 0 {
			name = name[i+1:]
		}
	}
	for i, e := range list {
		if mine[values[i]] && parent == nil {
			find(e, name)
		}
	}
	if parent == nil {
		return apply(doc, splices)
	}
	var leaves func(p *xmlElement)
	leaves = func(p *xmlElement) {
		for _, c := range p.children {
			switch at := slices.Index(list, c); {
			case at >= 0 && mine[values[at]]:
			case len(c.children) > 0:
				leaves(c)
			default:
				foreign++
			}
		}
	}
	leaves(parent)
	switch {
	case foreign > 0:
		return apply(doc, splices)
	case container.Made[0] == madeOpened:
		return apply(doc, []splice{{parent.span.from, parent.span.to, container.Made[1]}})
	}
	return apply(doc, []splice{wholeLines(doc, parent.span.from, parent.span.to)})
}
