package xmldoc

import (
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/splice"
)

// XAML lets an element such as Application.Resources hold one object, or the content of an
// object that goes without saying. Where that is in the way of ours, two lines before and
// behind what is there make the object explicit; what is there keeps its bytes.

// wrapped returns the edits that put containers around the children of an element, with our
// lines in the innermost, and the containers' names. It is false where the document is of
// another form than these: resources written as direct children, which go without saying
// into a dictionary; and one dictionary that is another file's, which goes among those that
// are merged.
func wrapped(doc []byte, root, parent *Element, at edit.Place, depth int, lines []string) ([]splice.Edit, []string, bool) {
	if parent == root || depth >= len(at.Path) {
		return nil, nil, false
	}
	around, first, last := at.Path[depth:depth+1], parent, parent
	if strings.Contains(parent.Name, ".") { // direct children
		first, last = parent.Children[0], parent.Children[len(parent.Children)-1]
		lines = wrapAll(doc, at.Path[depth+1:], lines)
	} else { // one that has a Source: it becomes the first of the merged
		around = at.Path[depth-1:]
		if outer := ancestor(root, parent, at.Path[depth-2]); outer == nil || len(outer.Children) != 1 {
			return nil, nil, false
		}
	}
	indent, nl, from, to := "", "", first.From, last.To
	if splice.Alone(doc, from, to) {
		indent, nl = splice.IndentOf(doc, from), splice.Newline(doc)
		from, to = splice.LineStart(doc, from), splice.LineEnd(doc, to)
	} else {
		lines = splice.Trimmed(lines)
	}
	var before, behind string
	for _, name := range around {
		before, behind = before+indent+"<"+name+">"+nl, indent+"</"+name+">"+nl+behind
	}
	ours := indent + strings.Join(lines, nl+indent) + nl
	if len(around) == 1 { // before the resources, as dictionaries have it
		before += ours
	} else {
		behind = ours + behind
	}
	return []splice.Edit{splice.Replace(from, from, before), splice.Replace(to, to, behind)}, around, true
}

// unwrapped takes the containers away that were put around what was there, with our
// elements; or these alone, if the containers have come to hold something of their own.
func unwrapped(doc edit.Document, root *Element, container edit.Entry, stale []*Element, edits []splice.Edit) ([]byte, error) {
	path, around := container.Place.Path, container.Made[1:]
	depth := slices.Index(path, "ResourceDictionary")
	if len(around) == 0 || depth < 1 || !slices.Equal(around, path[depth:depth+len(around)]) {
		return doc.Apply(edits...) // the ledger says something that Notaria does not do
	}
	outer := ancestor(root, stale[0], path[depth])
	list := root.Within(path[:depth])
	if outer == nil || len(list) != 1 || len(list[0].Children) != 1 || list[0].Children[0] != outer {
		return doc.Apply(edits...)
	}
	inner := outer.Child(path[depth+1])
	plain := func(e *Element) bool { // as wrapped wrote it
		return e != nil && !e.Empty && !strings.ContainsAny(string(doc.Text[e.From:e.Open]), " \t\r\n")
	}
	if !plain(outer) || !plain(inner) {
		return doc.Apply(edits...)
	}
	tags := func(e *Element) []splice.Edit {
		return []splice.Edit{splice.WholeLines(doc.Text, e.From, e.Open), splice.WholeLines(doc.Text, e.Close, e.To)}
	}
	if len(around) == 1 && onlyHolds(doc.Text, inner, stale) {
		return doc.Apply(append(tags(outer), splice.WholeLines(doc.Text, inner.From, inner.To))...)
	}
	if len(around) == 2 && len(outer.Children) == 1 && len(inner.Children) == len(stale)+1 {
		return doc.Apply(append(append(edits, tags(outer)...), tags(inner)...)...)
	}
	return doc.Apply(edits...)
}
