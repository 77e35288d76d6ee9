package xmldoc

import (
	"bytes"
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/splice"
	"notaria/internal/language"
)

// Kinds of places in XML. An entry stands for an element <Name Attribute="value"/>
// in the containers of Path, below the root.
const (
	// KindGrouped elements stand behind those of their name, in whichever of the
	// containers these are; the first of its name gets a container of its own, last in
	// the root.
	KindGrouped edit.Kind = "grouped"
	// KindNested elements stand last in the one container there is; what of it is not
	// there is made.
	KindNested edit.Kind = "nested"
)

// Marks of what was made around our elements: the second mark is a container's name,
// or the text that stood there.
const (
	madeGroup  = "group"
	madeOpened = "opened" // <x/> became <x></x>
	// madeWrapped is around what was there: the marks behind it are the containers' names.
	madeWrapped = "wrapped"
)

// Elements is the syntax of XML.
type Elements struct{}

// Name is how entries name this syntax.
func (Elements) Name() string { return "xml" }

// Reconcile works place by place.
func (Elements) Reconcile(doc edit.Document, want, owned []edit.Entry) ([]byte, []edit.Entry, error) {
	return edit.ByPlace(doc, want, owned, reconcileElements)
}

// find lists the elements that a place is about, with what they name.
func find(root *Element, at edit.Place) (list []*Element, values []string) {
	for _, g := range root.Within(at.Path) {
		for _, c := range g.Children {
			if c.Name == at.Name || c.Tag == at.Name { // with a prefix where new elements need one
				list, values = append(list, c), append(values, Slashes(c.Attr[at.Attribute]))
			}
		}
	}
	return list, values
}

// withSlashes compares values whichever way their slashes lean.
func withSlashes(list []edit.Entry) []edit.Entry {
	out := slices.Clone(list)
	for i := range out {
		out[i].Value = Slashes(out[i].Value)
	}
	return out
}

func reconcileElements(doc edit.Document, at edit.Place, want, owned []edit.Entry) ([]byte, []edit.Entry, error) {
	root, err := Parse(doc)
	if err != nil {
		return nil, nil, err
	}
	container, mine := edit.Mine(edit.Entry{File: doc.File, Syntax: Elements{}.Name(), Place: at}, withSlashes(owned))
	wanted := edit.Values(withSlashes(want))
	list, named := find(root, at)
	have := map[string]bool{}
	var edits []splice.Edit
	var stale []*Element
	for i, c := range list {
		if mine[named[i]] && !wanted[named[i]] {
			edits = append(edits, splice.WholeLines(doc.Text, c.From, c.To))
			stale = append(stale, c)
		} else {
			have[named[i]] = true
		}
	}
	add, now := settleElements(want, have, mine)
	if len(now) == 0 && container.Made != nil && len(stale) > 0 {
		text, err := dropMade(doc, root, container, stale, edits)
		return text, nil, err
	}
	if len(add) > 0 {
		more, made, err := insert(doc, root, at, list, add)
		if err != nil {
			return nil, nil, err
		}
		edits = append(edits, more...)
		if made != nil {
			container.Made = made
		}
	}
	if container.Made != nil && len(now) > 0 {
		now = append(now, container)
	}
	text, err := doc.Apply(edits...)
	return text, now, err
}

// settleElements is edit.Settle for values that are compared with slashes and written
// as they are.
func settleElements(want []edit.Entry, have, mine map[string]bool) (add []string, now []edit.Entry) {
	for _, e := range want {
		v := Slashes(e.Value)
		if !have[v] {
			add = append(add, e.Value)
		}
		if !have[v] || mine[v] {
			now = append(now, e)
		}
		have[v] = true
	}
	return add, now
}

// elementText writes one of our elements.
func elementText(at edit.Place, value string) string {
	return "<" + at.Name + " " + at.Attribute + `="` + language.EscapeAttribute(value) + `" />`
}

// insert returns the edit that adds elements, and what was made around them.
func insert(doc edit.Document, root *Element, at edit.Place, list []*Element, add []string) ([]splice.Edit, []string, error) {
	var lines []string
	for _, v := range add {
		lines = append(lines, elementText(at, v))
	}
	if len(list) > 0 {
		return []splice.Edit{behind(doc.Text, list[len(list)-1], lines)}, nil, nil
	}
	if at.Kind == KindGrouped && len(at.Path) > 0 {
		for i := len(at.Path) - 1; i >= 0; i-- {
			lines = wrap(doc.Text, at.Path[i], lines)
		}
		return []splice.Edit{into(doc.Text, root, lines)}, made(doc.Text, root, at.Path[0]), nil
	}
	return insertNested(doc, root, at, lines)
}

// made is the mark of what goes into a container: its own opening, or the first
// container that comes in.
func made(doc []byte, parent *Element, first string) []string {
	if parent.Empty {
		return []string{madeOpened, tagOf(doc, parent)}
	}
	if first == "" {
		return nil
	}
	return []string{madeGroup, first}
}

// insertNested makes what is missing of a way of containers.
func insertNested(doc edit.Document, root *Element, at edit.Place, lines []string) ([]splice.Edit, []string, error) {
	parent, depth := root, 0
	for ; depth < len(at.Path); depth++ {
		next := parent.Child(at.Path[depth])
		if next == nil {
			break
		}
		parent = next
	}
	missing := at.Path[depth:]
	if !joins(root, parent, at, depth) {
		if edits, names, ok := wrapped(doc.Text, root, parent, at, depth, lines); ok {
			return edits, append([]string{madeWrapped}, names...), nil
		}
		whole := wrapAll(doc.Text, at.Path[min(2, len(at.Path)-1):], lines)
		return nil, nil, doc.Fail(parent.From, fmt.Sprintf("<%s> with a <%s>, or none", at.Path[0], at.Path[min(1, len(at.Path)-1)]), "resources of another form",
			"put them into that element, and add by hand: "+strings.Join(splice.Trimmed(whole), ""))
	}
	first := ""
	if len(missing) > 0 {
		first = missing[0]
	}
	lines = wrapAll(doc.Text, missing, lines)
	if depth > 0 && depth == len(at.Path)-1 && len(missing) == 1 { // before what is there already
		return []splice.Edit{ahead(doc.Text, parent, lines)}, made(doc.Text, parent, first), nil
	}
	return []splice.Edit{into(doc.Text, parent, lines)}, made(doc.Text, parent, first), nil
}

// joins says whether containers can be made in an element. In XAML, <Type.Property>
// is in a <Type> and holds one object; an object that is another file's, by its
// Source, holds nothing.
func joins(root, parent *Element, at edit.Place, depth int) bool {
	if depth == len(at.Path) {
		return true
	}
	if parent == root {
		owner, _, dotted := strings.Cut(at.Path[0], ".")
		return !dotted || strings.HasSuffix(root.Name, owner)
	}
	if strings.Contains(parent.Name, ".") {
		return len(parent.Children) == 0
	}
	return parent.Attr["Source"] == ""
}

func wrapAll(doc []byte, path, lines []string) []string {
	for i := len(path) - 1; i >= 0; i-- {
		lines = wrap(doc, path[i], lines)
	}
	return lines
}

func tagOf(doc []byte, e *Element) string { return string(doc[e.From:e.To]) }

// wrap puts lines into an element, one step further in.
func wrap(doc []byte, name string, lines []string) []string {
	out := []string{"<" + name + ">"}
	out = append(out, splice.Indented(lines, stepOf(doc))...)
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
func into(doc []byte, parent *Element, lines []string) splice.Edit {
	nl, indent := splice.Newline(doc), splice.IndentOf(doc, parent.From)
	inner := indent + stepOf(doc)
	text := inner + strings.Join(lines, nl+inner) + nl
	if parent.Empty {
		return opened(doc, parent, nl+text+indent)
	}
	start := splice.LineStart(doc, parent.Close)
	if strings.TrimSpace(string(doc[start:parent.Close])) != "" || start < parent.Open {
		return splice.Edit{From: parent.Close, To: parent.Close, Text: strings.Join(splice.Trimmed(lines), "")}
	}
	return splice.Edit{From: start, To: start, Text: text}
}

// ahead adds lines as an element's first children.
func ahead(doc []byte, parent *Element, lines []string) splice.Edit {
	if parent.Empty || len(parent.Children) == 0 {
		return into(doc, parent, lines)
	}
	nl, next := splice.Newline(doc), parent.Children[0].From
	start := splice.LineStart(doc, next)
	if strings.TrimSpace(string(doc[start:next])) != "" {
		return splice.Edit{From: parent.Open, To: parent.Open, Text: strings.Join(splice.Trimmed(lines), "")}
	}
	indent := splice.IndentOf(doc, next)
	at := splice.LineEnd(doc, parent.Open)
	return splice.Edit{From: at, To: at, Text: indent + strings.Join(lines, nl+indent) + nl}
}

// behind adds lines after an element.
func behind(doc []byte, e *Element, lines []string) splice.Edit {
	if !splice.Alone(doc, e.From, e.To) || !bytes.HasSuffix(doc[:splice.LineEnd(doc, e.To)], []byte("\n")) {
		return splice.Edit{From: e.To, To: e.To, Text: strings.Join(splice.Trimmed(lines), "")}
	}
	nl, indent, at := splice.Newline(doc), splice.IndentOf(doc, e.From), splice.LineEnd(doc, e.To)
	return splice.Edit{From: at, To: at, Text: indent + strings.Join(lines, nl+indent) + nl}
}

// opened turns <x/> into <x>…</x>.
func opened(doc []byte, e *Element, inside string) splice.Edit {
	tag := strings.TrimSuffix(tagOf(doc, e), "/>")
	name := tag[1:]
	if i := strings.IndexAny(name, " \t\r\n"); i >= 0 {
		name = name[:i]
	}
	return splice.Edit{From: e.From, To: e.To, Text: strings.TrimRight(tag, " \t\r\n") + ">" + inside + "</" + name + ">"}
}

// dropMade takes away what was made around our elements, if nothing else is in it
// now; else the elements alone go.
func dropMade(doc edit.Document, root *Element, container edit.Entry, stale []*Element, edits []splice.Edit) ([]byte, error) {
	mark, what := container.Mark(), ""
	if mark == madeWrapped {
		return unwrapped(doc, root, container, stale, edits)
	}
	if len(container.Made) > 1 {
		what = container.Made[1]
	} else if mark == madeGroup && len(container.Place.Path) > 0 {
		what = container.Place.Path[0]
	}
	name := what
	if mark == madeOpened {
		name = tagName(what)
	}
	parent := ancestor(root, stale[0], name)
	if parent == nil || name == "" || !onlyHolds(doc.Text, parent, stale) {
		return doc.Apply(edits...)
	}
	if mark == madeOpened && closed(what) != string(doc.Text[parent.From:parent.Open]) {
		return doc.Apply(edits...) // the ledger says something else than the document
	}
	if mark == madeOpened {
		return doc.Apply(splice.Edit{From: parent.From, To: parent.To, Text: what})
	}
	return doc.Apply(splice.WholeLines(doc.Text, parent.From, parent.To))
}

// closed is the start tag that an empty element's tag <x …/> became.
func closed(tag string) string {
	return strings.TrimRight(strings.TrimSuffix(tag, "/>"), " \t\r\n") + ">"
}

// tagName is the name in <prefix:Name attribute="…"/>, without the prefix.
func tagName(tag string) string {
	name := written([]byte(tag))
	return name[strings.IndexByte(name, ':')+1:]
}

// ancestor finds the outermost element of a name that holds another, or nil.
func ancestor(root, e *Element, name string) *Element {
	for p := root; p != nil && p != e; {
		if p.Name == name {
			return p
		}
		var next *Element
		for _, c := range p.Children {
			if c.From <= e.From && e.To <= c.To {
				next = c
			}
		}
		p = next
	}
	return nil
}

// onlyHolds says whether there is nothing in an element but others of a list, the
// containers around these, and white space: a comment that somebody wrote counts.
func onlyHolds(doc []byte, parent *Element, list []*Element) bool {
	rest := slices.Clone(doc[parent.Open:parent.Close])
	blank := func(from, to int) {
		for i := from; i < to; i++ {
			rest[i-parent.Open] = ' '
		}
	}
	var walk func(e *Element) bool
	walk = func(e *Element) bool {
		for _, c := range e.Children {
			if slices.Contains(list, c) {
				blank(c.From, c.To)
				continue
			}
			if len(c.Children) == 0 || !walk(c) {
				return false
			}
			blank(c.From, c.Open)
			blank(c.Close, c.To)
		}
		return true
	}
	return walk(parent) && len(bytes.TrimSpace(rest)) == 0
}

// TakeOver takes elements with the group around them, where that holds nothing else.
func (s Elements) TakeOver(doc edit.Document, want, mine []edit.Entry) []edit.Entry {
	out, have := edit.Take(want, mine, func(e edit.Entry) (edit.Entry, bool) { return e, true })
	root, err := Parse(doc)
	if err != nil {
		return nil
	}
	for _, at := range edit.Places(out) {
		c := edit.Entry{File: doc.File, Syntax: s.Name(), Place: at, Made: []string{madeGroup, strings.Join(at.Path[:min(1, len(at.Path))], "")}}
		if at.Kind == KindGrouped && !have[c.Key()] && groupIsOurs(doc.Text, root, at, edit.At(append(slices.Clone(mine), out...), at)) {
			out = append(out, c)
		}
	}
	return out
}

// groupIsOurs says whether the container of our elements holds these alone.
func groupIsOurs(doc []byte, root *Element, at edit.Place, ours []edit.Entry) bool {
	values := edit.Values(withSlashes(ours))
	list, named := find(root, at)
	var own []*Element
	for i, e := range list {
		if values[named[i]] {
			own = append(own, e)
		}
	}
	if len(own) == 0 || len(at.Path) == 0 {
		return false
	}
	group := ancestor(root, own[0], at.Path[0])
	return group != nil && onlyHolds(doc, group, own)
}

// Paste is the elements.
func (Elements) Paste(want []edit.Entry) string {
	return edit.PasteBy(want, func(at edit.Place, list []edit.Entry) []string {
		return edit.Each(list, func(e edit.Entry) string { return elementText(at, e.Value) })
	})
}

// Missing returns the elements that are not there.
func (s Elements) Missing(doc edit.Document, want []edit.Entry) ([]edit.Lack, error) {
	if _, err := Parse(doc); err != nil {
		return nil, err
	}
	return edit.MissingBy(s, doc, want, func(e edit.Entry) edit.Lack {
		return edit.Lack{Message: fmt.Sprintf("%s does not hold %s", path.Base(doc.File), e.Value),
			Cause: "without it the build does not take the font in, or the app does not know of it"}
	}), nil
}

// AnyEntry says that an entry can be any element.
func (Elements) AnyEntry() {}
