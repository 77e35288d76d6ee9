package edit

import (
	"slices"
	"strings"
)

// TakeOver gives the entries among want that doc holds by somebody else's hand, as
// Reconcile would have recorded its own: from then on they are Notaria's, and go
// when they are wanted no more. mine are those that are Notaria's already.
func TakeOver(file, syntax string, doc []byte, want, mine []Entry) []Entry {
	have := keys(mine)
	var out []Entry
	for _, e := range want {
		if have[e.Key()] {
			continue
		}
		have[e.Key()] = true
		if e, ok := taken(file, syntax, doc, e); ok {
			out = append(out, e)
		}
	}
	if len(out) == 0 {
		return nil
	}
	return append(out, containersOf(file, syntax, doc, out, have)...)
}

// containersOf gives the lists and groups that hold nothing but what is Notaria's
// now: empty, they would be left behind, and some stop a build.
func containersOf(file, syntax string, doc []byte, out []Entry, have map[string]bool) []Entry {
	var more []Entry
	add := func(place, mark string) {
		e := Entry{File: file, Syntax: syntax, Place: place, Made: []string{mark}}
		if !have[e.Key()] {
			have[e.Key()] = true
			more = append(more, e)
		}
	}
	only := func(place string, values []string) bool {
		return !slices.ContainsFunc(values, func(v string) bool {
			return !have[Entry{File: file, Syntax: syntax, Place: place, Value: v}.Key()]
		})
	}
	switch syntax {
	case SyntaxPlist:
		for _, e := range out {
			if values, _, err := PlistArray(file, doc, e.Place); err == nil && !strings.HasPrefix(e.Place, PlaceString) && only(e.Place, values) {
				add(e.Place, madeKey)
			}
		}
	case SyntaxPubspec:
		takePubspec(file, doc, add, only)
	case SyntaxXML:
		root, err := parseXML(file, doc)
		for _, e := range out {
			if err == nil && strings.HasPrefix(e.Place, "item:") && onlyItems(root, e, only) {
				add(e.Place, madeGroup)
			}
		}
	case SyntaxProject:
		takeGroups(file, doc, out)
	}
	return more
}

// takePubspec takes over the families whose fonts are all Notaria's, and the list of
// families if they all are.
func takePubspec(file string, doc []byte, add func(place, mark string), only func(string, []string) bool) {
	p, err := parsePubspec(file, doc)
	if err != nil {
		return
	}
	all := true
	for _, f := range p.families {
		var values []string
		for _, a := range f.assets {
			values = append(values, a.path)
		}
		if only(familyPrefix+f.name, values) {
			add(familyPrefix+f.name, "family")
		} else {
			all = false
		}
	}
	if all {
		add(placeFonts, "fonts")
	}
}

// onlyItems says whether the group that holds an item holds nothing but items that
// are Notaria's.
func onlyItems(root *xmlElement, e Entry, only func(string, []string) bool) bool {
	for _, g := range root.children {
		var values []string
		holds := false
		for _, c := range g.children {
			value := slashes(c.attr["Include"])
			values = append(values, value)
			holds = holds || "item:"+c.name == e.Place && value == e.Value
		}
		if holds {
			return only(e.Place, values)
		}
	}
	return false
}

// takeGroups adds to the entries of a project the groups that hold nothing else.
func takeGroups(file string, doc []byte, out []Entry) {
	p, err := ParseProject(file, doc)
	if err != nil {
		return
	}
	ours := map[string]bool{}
	for _, e := range out {
		for _, id := range e.Made {
			ours[id] = true
		}
	}
	for i, e := range out {
		group := p.parents[p.reference(e.Value)]
		o := p.objects.get(group)
		if len(e.Made) == 0 || !ours[e.Made[0]] || o.get("isa").str() != "PBXGroup" || group == p.project.get("mainGroup").str() {
			continue
		}
		if !slices.ContainsFunc(o.get("children").list(), func(id string) bool { return !ours[id] }) {
			out[i].Made = slices.Insert(out[i].Made, 1, group) // the order of add
		}
	}
}

// taken is an entry with the marks by which its own syntax finds it again.
func taken(file, syntax string, doc []byte, e Entry) (Entry, bool) {
	switch syntax {
	case SyntaxByHand, SyntaxPackage:
		return e, false // a folder of resources can hold more than fonts
	case SyntaxSource:
		if !strings.HasPrefix(e.Place, "after:") {
			return e, false // an import or a library can have other uses
		}
		e.Made = []string{madeLine}
	case SyntaxPlist:
		if len(e.Place) > len(PlaceString) && e.Place[:len(PlaceString)] == PlaceString {
			e.Made = []string{madeKey}
		}
	case SyntaxProject:
		if strings.HasSuffix(e.Value, ".plist") {
			return e, false // what keeps an Info.plist out of the resources stays
		}
		p, err := ParseProject(file, doc)
		if err != nil {
			return e, false
		}
		e.Made = p.made(e)
		return e, len(e.Made) > 0
	}
	return e, true
}
