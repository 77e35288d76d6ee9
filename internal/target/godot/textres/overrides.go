package textres

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/splice"
)

// KindOverride is the place of a property by which a node sets a font of its own: Name is
// the property, Attribute the type of the resource, and the path leads to the node. The
// value is the resource's path.
const KindOverride edit.Kind = "override"

// Override is such a place.
func Override(node, property, kind string) edit.Place {
	return edit.Place{Kind: KindOverride, Name: property, Attribute: kind, Path: []string{node}}
}

// Overrides is the form of scenes, as far as nodes set fonts of their own. What a person
// set stays, until they ask for another with --take-over; striking brings it back.
type Overrides struct{}

// Name is how entries name this syntax.
func (Overrides) Name() string { return "godot-scene" }

// Properties are the ones by which a node of Godot 3 or 4 sets a font of its own.
var Properties = regexp.MustCompile(`^(?:custom_fonts/\w{1,40}|theme_override_fonts/\w{1,40}|label_settings)$`)

// overrideForm is what stood there before, as a ledger tells it: nothing else is written
// back into a scene.
var overrideForm = regexp.MustCompile(`^(custom_fonts/\w{1,40}|theme_override_fonts/\w{1,40}|label_settings) = ((?:Ext|Sub)Resource\(\s*(?:\d{1,9}|"[\w-]{1,80}")\s*\))$`)

// Reference matches a use of a resource; its groups are the kind and the id.
var Reference = regexp.MustCompile(`^(Ext|Sub)Resource\(\s*"?([\w-]+)"?\s*\)$`)

const madeResource = "resource"

// NodePath is where a node is in its scene: "." for the root.
func NodePath(t Tag) string {
	parent := t.Attribute("parent")
	switch parent {
	case "":
		return "."
	case ".":
		return t.Attribute("name")
	}
	return parent + "/" + t.Attribute("name")
}

// scene is a parsed one.
type scene struct {
	doc  edit.Document
	tags []Tag
}

func newScene(doc edit.Document) (scene, error) {
	tags, err := Parse(doc)
	return scene{doc, tags}, err
}

// three says whether Godot 3 wrote it.
func (s scene) three() bool {
	return len(s.tags) > 1 && s.tags[1].Attribute("format") == "2"
}

// node finds one by its path.
func (s scene) node(way string) (Tag, bool) {
	i := slices.IndexFunc(s.tags, func(t Tag) bool { return t.Name == "node" && NodePath(t) == way })
	if i < 0 {
		return Tag{}, false
	}
	return s.tags[i], true
}

// External finds the external resource with a path or, where that is "", with an id.
func External(tags []Tag, path, id string) (Tag, bool) {
	for _, t := range tags {
		if t.Name == "ext_resource" && (path != "" && t.Attribute("path") == path || path == "" && t.Attribute("id") == id) {
			return t, true
		}
	}
	return Tag{}, false
}

// holds says whether a node has the resource of an entry.
func (s scene) holds(e edit.Entry) (Value, bool) {
	t, ok := s.node(e.Place.Path[0])
	if !ok {
		return Value{}, false
	}
	v, ok := t.Value(e.Place.Name)
	if !ok {
		return Value{}, false
	}
	m := Reference.FindStringSubmatch(v.Text)
	ext, ok := External(s.tags, e.Value, "")
	return v, ok && m != nil && m[1] == "Ext" && ext.Attribute("id") == m[2]
}

// Reconcile keeps what was taken over and is still wanted, and brings back the rest.
func (Overrides) Reconcile(doc edit.Document, want, owned []edit.Entry) ([]byte, []edit.Entry, error) {
	wanted := edit.Keys(want)
	var now []edit.Entry
	for _, e := range owned {
		s, err := newScene(doc)
		if err != nil {
			return nil, nil, err
		}
		v, held := s.holds(e)
		switch {
		case held && wanted[e.Key()]:
			now = append(now, e)
		case held:
			if doc.Text, err = s.restore(v, e); err != nil {
				return nil, nil, err
			}
		}
	}
	return doc.Text, now, nil
}

// restore writes what stood there before, and takes the resource out if nothing uses it.
func (s scene) restore(v Value, e edit.Entry) ([]byte, error) {
	if len(e.With) == 0 || !overrideForm.MatchString(e.With[0]) {
		return s.doc.Text, nil
	}
	text, err := s.doc.Apply(splice.Replace(v.Start, v.End, e.With[0]))
	if err != nil || e.Mark() != madeResource {
		return text, err
	}
	left, err := newScene(s.doc.With(text))
	if err != nil {
		return nil, err
	}
	ext, ok := External(left.tags, e.Value, "")
	if !ok || !ext.Alone || left.uses(ext.Attribute("id")) {
		return text, nil
	}
	from := ext.From
	if at := ext.To; strings.TrimSpace(string(text[at:splice.LineEnd(text, at)])) == "" && len(left.external()) == 1 {
		ext.To = splice.LineEnd(text, at) // the gap behind the only one
	}
	return left.doc.Apply(splice.Replace(from, ext.To, ""))
}

func (s scene) external() []Tag {
	return slices.DeleteFunc(slices.Clone(s.tags), func(t Tag) bool { return t.Name != "ext_resource" })
}

// uses says whether anything refers to an external resource.
func (s scene) uses(id string) bool {
	ref := regexp.MustCompile(`\bExtResource\(\s*"?` + regexp.QuoteMeta(id) + `"?\s*\)`)
	return ref.Match(s.doc.Text)
}

// Convert points the nodes to the resources of their roles.
func (o Overrides) Convert(doc edit.Document, want, mine []edit.Entry) ([]byte, []edit.Entry, error) {
	have := edit.Keys(mine)
	for _, e := range want {
		if have[e.Key()] {
			continue
		}
		s, err := newScene(doc)
		if err != nil {
			return nil, nil, err
		}
		v, ok := s.own(e)
		if _, held := s.holds(e); held || !ok || !s.regular() {
			continue
		}
		text, entry, err := s.point(v, e, mine)
		if err != nil {
			return nil, nil, err
		}
		doc.Text, mine = text, append(mine, entry)
	}
	return doc.Text, mine, nil
}

// own finds what the node of an entry sets itself: a Label's settings stand for its font.
func (s scene) own(e edit.Entry) (Value, bool) {
	t, ok := s.node(e.Place.Path[0])
	if !ok {
		return Value{}, false
	}
	if v, ok := t.Value(e.Place.Name); ok {
		return v, overrideForm.MatchString(string(s.doc.Text[v.Start:v.End]))
	}
	v, ok := t.Value("theme_override_fonts/font")
	return v, ok && e.Place.Name == "label_settings" && overrideForm.MatchString(string(s.doc.Text[v.Start:v.End]))
}

// regular says whether headings stand on lines of their own, as Godot writes them.
func (s scene) regular() bool {
	return s.tags[1].Name == "gd_scene" && !slices.ContainsFunc(s.tags[1:], func(t Tag) bool { return !t.Alone })
}

// point makes one assignment refer to a role's resource.
func (s scene) point(v Value, e edit.Entry, mine []edit.Entry) ([]byte, edit.Entry, error) {
	nl := splice.Newline(s.doc.Text)
	e.With = []string{string(s.doc.Text[v.Start:v.End])}
	if slices.ContainsFunc(mine, func(o edit.Entry) bool { return o.Value == e.Value && o.Mark() == madeResource }) {
		e.Made = []string{madeResource}
	}
	var edits []splice.Edit
	ext, ok := External(s.tags, e.Value, "")
	id := ext.Attribute("id")
	if !ok {
		at, gap := 0, ""
		if list := s.external(); len(list) > 0 {
			at = list[len(list)-1].To
		} else if at = s.tags[1].To; strings.TrimSpace(string(s.doc.Text[at:splice.LineEnd(s.doc.Text, at)])) == "" {
			at, gap = splice.LineEnd(s.doc.Text, at), nl
		}
		id = s.freeID()
		line := fmt.Sprintf("[ext_resource type=%q path=%q id=%q]", e.Place.Attribute, e.Value, id)
		if s.three() {
			line = fmt.Sprintf("[ext_resource path=%q type=%q id=%s]", e.Value, e.Place.Attribute, id)
		}
		edits, e.Made = append(edits, splice.Replace(at, at, line+nl+gap)), []string{madeResource}
	}
	ref := fmt.Sprintf("%s = ExtResource(%q)", e.Place.Name, id)
	if s.three() {
		ref = fmt.Sprintf("%s = ExtResource( %s )", e.Place.Name, id)
	}
	out, err := s.doc.Apply(append(edits, splice.Replace(v.Start, v.End, ref))...)
	return out, e, err
}

// freeID is one that no resource has: a number in Godot 3, a number and letters in 4.
func (s scene) freeID() string {
	most := 0
	for _, t := range s.tags {
		digits := t.Attribute("id")
		if i := strings.IndexFunc(digits, func(r rune) bool { return r < '0' || r > '9' }); i >= 0 {
			digits = digits[:i]
		}
		if n, err := strconv.Atoi(digits); err == nil && len(digits) < 9 {
			most = max(most, n)
		}
	}
	if s.three() {
		return fmt.Sprint(most + 1)
	}
	return fmt.Sprintf("%d_type", most+1)
}

// TakeOver has nothing to add: Convert records what it changes.
func (Overrides) TakeOver(edit.Document, []edit.Entry, []edit.Entry) []edit.Entry { return nil }

// Paste is nothing that a person writes: they set it in the editor.
func (Overrides) Paste([]edit.Entry) string { return "" }

// Missing lacks nothing: a node's own font is a person's choice, and a finding of its own.
func (Overrides) Missing(edit.Document, []edit.Entry) ([]edit.Lack, error) { return nil, nil }
