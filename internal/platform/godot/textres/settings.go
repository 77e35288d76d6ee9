package textres

import (
	"bytes"
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/splice"
)

// Kinds of places in project.godot: an entry's value is what stands behind the key.
const (
	KindKey     edit.Kind = "key"
	kindSection edit.Kind = "section" // a container
)

// Key is the place of a key in a section.
func Key(section, name string) edit.Place {
	return edit.Place{Kind: KindKey, Name: name, Path: []string{section}}
}

// Settings is the form of project.godot.
type Settings struct{}

// Name is how entries name this syntax.
func (Settings) Name() string { return "godot-settings" }

// Marks of what was made, in Entry.Made.
const (
	madeLine   = "line"
	madeOpen   = "line at an open end" // the line before it did not end
	madeBefore = "section before another"
	madeLast   = "section at the end"
	madeAtOpen = "section at an open end"
)

// section finds a section by its name.
func section(tags []Tag, name string) (Tag, bool) {
	for _, t := range tags[1:] {
		if t.Text == name {
			return t, true
		}
	}
	return Tag{}, false
}

// Reconcile works on one key after the other, for places move with edits.
func (s Settings) Reconcile(doc edit.Document, want, owned []edit.Entry) ([]byte, []edit.Entry, error) {
	if err := conflict(doc, want, owned); err != nil {
		return nil, nil, err
	}
	wanted := edit.Keys(want)
	mine := map[string]edit.Entry{}
	var containers []edit.Entry
	for _, e := range owned {
		if e.Value == "" {
			containers = append(containers, e)
			continue
		}
		mine[e.Key()] = e
		if wanted[e.Key()] {
			continue
		}
		var err error
		if doc.Text, err = dropKey(doc, e); err != nil {
			return nil, nil, err
		}
	}
	var now []edit.Entry
	for _, e := range want {
		text, entry, container, err := hold(doc, e)
		if err != nil {
			return nil, nil, err
		}
		doc.Text = text
		if container != nil {
			containers = append(containers, *container)
		}
		if entry != nil {
			now = append(now, *entry)
		} else if o, ok := mine[e.Key()]; ok {
			now = append(now, o)
		}
	}
	for _, c := range containers {
		text, gone, err := dropSection(doc, c)
		if err != nil {
			return nil, nil, err
		}
		if doc.Text = text; !gone {
			now = append(now, c)
		}
	}
	return doc.Text, now, nil
}

// conflict finds a key that somebody gave another value, before anything is changed.
func conflict(doc edit.Document, want, owned []edit.Entry) error {
	tags, err := Parse(doc)
	if err != nil {
		return err
	}
	for _, e := range want {
		t, _ := section(tags, e.Place.Path[0])
		v, ok := t.Value(e.Place.Name)
		ours := slices.ContainsFunc(owned, func(o edit.Entry) bool { return o.Place.Key() == e.Place.Key() && o.Value == v.Text })
		if ok && v.Text != e.Value && !ours {
			return doc.Fail(v.Start, fmt.Sprintf("%s=%s, or no %s", e.Place.Name, e.Value, e.Place.Name), e.Place.Name+"="+v.Text,
				"take that line out, or write the value that is expected, then register again")
		}
	}
	return nil
}

// hold makes the document hold a key. It returns the entry if the key was added, and the
// section if that was made for it.
func hold(doc edit.Document, e edit.Entry) ([]byte, *edit.Entry, *edit.Entry, error) {
	tags, err := Parse(doc)
	if err != nil {
		return nil, nil, nil, err
	}
	nl, line := splice.Newline(doc.Text), e.Place.Name+"="+e.Value
	t, ok := section(tags, e.Place.Path[0])
	if ok && !t.Alone {
		return nil, nil, nil, doc.Fail(t.From, "a heading on a line of its own", "["+t.Text+"] with more on its line", edit.Mend)
	}
	if i := slices.IndexFunc(tags[1:], func(t Tag) bool { return !t.Alone }); !ok && i >= 0 {
		return nil, nil, nil, doc.Fail(tags[1+i].From, "headings on lines of their own", "one with more on its line", edit.Mend)
	}
	if !ok {
		at, text, mark := newSection(doc.Text, tags, e.Place.Path[0], line, nl)
		out, err := doc.Apply(splice.Replace(at, at, text))
		e.Made = []string{madeLine}
		return out, &e, &edit.Entry{File: e.File, Syntax: e.Syntax, Place: edit.Place{Kind: kindSection, Name: e.Place.Path[0]}, Made: []string{mark}}, err
	}
	if _, ok := t.Value(e.Place.Name); ok {
		return doc.Text, nil, nil, nil // the same value: another is a conflict
	}
	at := t.To
	if n := len(t.Values); n > 0 {
		at = t.Values[n-1].To
	} else if gap := splice.LineEnd(doc.Text, at); at < len(doc.Text) && len(bytes.TrimSpace(doc.Text[at:gap])) == 0 {
		at = gap
	}
	e.Made = []string{madeLine}
	text := line + nl
	if at > 0 && doc.Text[at-1] != '\n' {
		e.Made, text = []string{madeOpen}, nl+line
	}
	out, err := doc.Apply(splice.Replace(at, at, text))
	return out, &e, nil, err
}

// newSection is the text of a section, by the alphabet as Godot writes them where the
// others are.
func newSection(doc []byte, tags []Tag, name, line, nl string) (at int, text, mark string) {
	for _, t := range tags[1:] {
		if t.Text > name {
			return t.From, "[" + name + "]" + nl + nl + line + nl + nl, madeBefore
		}
	}
	text = nl + "[" + name + "]" + nl + nl + line
	if len(doc) > 0 && doc[len(doc)-1] != '\n' {
		return len(doc), nl + text, madeAtOpen
	}
	return len(doc), text + nl, madeLast
}

// dropKey takes a key of ours out.
func dropKey(doc edit.Document, e edit.Entry) ([]byte, error) {
	tags, err := Parse(doc)
	if err != nil || len(e.Place.Path) == 0 {
		return doc.Text, err
	}
	t, _ := section(tags, e.Place.Path[0])
	v, ok := t.Value(e.Place.Name)
	if !ok || v.Text != e.Value {
		return doc.Text, nil
	}
	from := v.From
	if e.Mark() == madeOpen && v.To == len(doc.Text) && from > 0 {
		from -= len(splice.Newline(doc.Text))
	}
	return doc.Apply(splice.Replace(from, v.To, ""))
}

// dropSection takes a section out that was made, when nothing is left in it.
func dropSection(doc edit.Document, c edit.Entry) ([]byte, bool, error) {
	tags, err := Parse(doc)
	if err != nil {
		return nil, false, err
	}
	t, ok := section(tags, c.Place.Name)
	if !ok {
		return doc.Text, true, nil
	}
	if len(t.Values) > 0 {
		return doc.Text, false, nil
	}
	from, to := t.From, t.To
	for to < len(doc.Text) && len(bytes.TrimSpace(doc.Text[to:splice.LineEnd(doc.Text, to)])) == 0 {
		to = splice.LineEnd(doc.Text, to)
	}
	if to < len(doc.Text) && doc.Text[to] == ';' {
		return doc.Text, true, nil // somebody wrote a comment into it: it is theirs now
	}
	if to == len(doc.Text) {
		nl := splice.Newline(doc.Text)
		lines := map[string]int{madeLast: 1, madeAtOpen: 2}[c.Mark()]
		for range lines {
			if strings.HasSuffix(string(doc.Text[:from]), nl) {
				from -= len(nl)
			}
		}
	}
	out, err := doc.Apply(splice.Replace(from, to, ""))
	return out, true, err
}

// TakeOver takes every key that has just the value that is wanted.
func (Settings) TakeOver(doc edit.Document, want, mine []edit.Entry) []edit.Entry {
	tags, err := Parse(doc)
	if err != nil {
		return nil
	}
	out, _ := edit.Take(want, mine, func(e edit.Entry) (edit.Entry, bool) {
		t, _ := section(tags, e.Place.Path[0])
		v, ok := t.Value(e.Place.Name)
		e.Made = []string{madeLine}
		return e, ok && v.Text == e.Value
	})
	return out
}

// Paste is the sections with their keys.
func (Settings) Paste(want []edit.Entry) string {
	last := ""
	return strings.Join(edit.Each(want, func(e edit.Entry) string {
		line := e.Place.Name + "=" + e.Value
		if s := e.Place.Path[0]; s != last {
			if line = "[" + s + "]\n\n" + line; last != "" {
				line = "\n" + line
			}
			last = s
		}
		return line
	}), "\n")
}

// Missing returns the keys that are not there.
func (s Settings) Missing(doc edit.Document, want []edit.Entry) ([]edit.Lack, error) {
	if _, err := Parse(doc); err != nil {
		return nil, err
	}
	return edit.MissingBy(s, doc, want, func(e edit.Entry) edit.Lack {
		return edit.Lack{Message: fmt.Sprintf("%s does not hold %s=%s under [%s]", path.Base(doc.File), e.Place.Name, e.Value, e.Place.Path[0]),
			Cause: "without it Godot does not load the theme, or the script with the roles"}
	}), nil
}
