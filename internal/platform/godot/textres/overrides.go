package textres

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/splice"
	"notaria/internal/lazy"
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
var Properties = lazy.Regexp(`^(?:custom_fonts/\w{1,40}|theme_override_fonts/\w{1,40}|label_settings)$`)

// overrideForm is what stood there before, as a ledger tells it: nothing else is written
// back into a scene.
var overrideForm = lazy.Regexp(`^(custom_fonts/\w{1,40}|theme_override_fonts/\w{1,40}|label_settings) = ((?:Ext|Sub)Resource\(\s*(?:\d{1,9}|"[\w-]{1,80}")\s*\))$`)

// Reference matches a use of a resource; its groups are the kind and the id.
var Reference = lazy.Regexp(`^(Ext|Sub)Resource\(\s*"?([\w-]+)"?\s*\)$`)

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
	doc   edit.Document
	tags  []Tag
	nodes map[string]int // places of nodes in tags, by their paths; of two the first
}

func newScene(doc edit.Document) (scene, error) {
	tags, err := Parse(doc)
	s := scene{doc, tags, map[string]int{}}
	for i, t := range tags {
		if t.Name != "node" {
			continue
		}
		if _, twice := s.nodes[NodePath(t)]; !twice {
			s.nodes[NodePath(t)] = i
		}
	}
	return s, err
}

// three says whether Godot 3 wrote it.
func (s scene) three() bool {
	return len(s.tags) > 1 && s.tags[1].Attribute("format") == "2"
}

// node finds one by its path.
func (s scene) node(way string) (Tag, bool) {
	i, ok := s.nodes[way]
	if !ok {
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
	if len(owned) == 0 {
		return doc.Text, nil, nil
	}
	s, err := newScene(doc)
	if err != nil {
		return nil, nil, err
	}
	wanted := edit.Keys(want)
	var now []edit.Entry
	var back []splice.Edit
	var gone []string // resources that were made for what goes
	for _, e := range owned {
		v, held := s.holds(e)
		switch {
		case held && wanted[e.Key()]:
			now = append(now, e)
		case held && len(e.With) > 0 && overrideForm.MatchString(e.With[0]):
			back = append(back, splice.Replace(v.Start, v.End, e.With[0]))
			if e.Mark() == madeResource && !slices.Contains(gone, e.Value) {
				gone = append(gone, e.Value)
			}
		}
	}
	text, err := doc.Apply(back...)
	for _, res := range gone {
		if err == nil {
			text, err = dropUnused(doc.With(text), res)
		}
	}
	return text, now, err
}

// dropUnused takes an external resource out if nothing uses it.
func dropUnused(doc edit.Document, res string) ([]byte, error) {
	s, err := newScene(doc)
	if err != nil {
		return nil, err
	}
	ext, ok := External(s.tags, res, "")
	if !ok || !ext.Alone || s.uses(ext.Attribute("id")) {
		return doc.Text, nil
	}
	to := ext.To
	if end := splice.LineEnd(doc.Text, to); strings.TrimSpace(string(doc.Text[to:end])) == "" && len(s.external()) == 1 {
		to = end // the gap behind the only one
	}
	return doc.Apply(splice.Replace(ext.From, to, ""))
}

func (s scene) external() []Tag {
	return slices.DeleteFunc(slices.Clone(s.tags), func(t Tag) bool { return t.Name != "ext_resource" })
}

// uses says whether anything refers to an external resource.
func (s scene) uses(id string) bool {
	ref := lazy.Regexp(`\bExtResource\(\s*"?` + regexp.QuoteMeta(id) + `"?\s*\)`)
	return ref.Match(s.doc.Text)
}

// Convert points the nodes to the resources of their roles.
func (o Overrides) Convert(doc edit.Document, want, mine []edit.Entry) ([]byte, []edit.Entry, error) {
	s, err := newScene(doc)
	if err != nil {
		return nil, nil, err
	}
	have := edit.Keys(mine)
	var list []edit.Entry
	made := map[string]bool{} // resources that Notaria put in, now or before
	for _, e := range mine {
		made[e.Value] = made[e.Value] || e.Mark() == madeResource
	}
	for _, e := range want {
		if have[e.Key()] || !s.regular() {
			continue
		}
		if _, ok := s.valueOf(e); !ok {
			continue
		}
		if _, held := s.holds(e); held {
			continue
		}
		list = append(list, e)
		if _, there := External(s.tags, e.Value, ""); !there {
			if s, err = s.include(e); err != nil {
				return nil, nil, err
			}
			made[e.Value] = true
		}
	}
	var edits []splice.Edit
	seen := map[int]bool{}
	for _, e := range list {
		v, ok := s.valueOf(e)
		ext, there := External(s.tags, e.Value, "")
		if !ok || !there || seen[v.Start] {
			continue
		}
		seen[v.Start] = true
		if e.With, e.Made = []string{string(s.doc.Text[v.Start:v.End])}, nil; made[e.Value] {
			e.Made = []string{madeResource}
		}
		edits, mine = append(edits, splice.Replace(v.Start, v.End, s.reference(e.Place.Name, ext.Attribute("id")))), append(mine, e)
	}
	text, err := s.doc.Apply(edits...)
	return text, mine, err
}

// valueOf finds what the node of an entry sets itself: a Label's settings stand for its font.
func (s scene) valueOf(e edit.Entry) (Value, bool) {
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
	return len(s.tags) > 1 && s.tags[1].Name == "gd_scene" && !slices.ContainsFunc(s.tags[1:], func(t Tag) bool { return !t.Alone })
}

// include adds the resource of an entry behind the others.
func (s scene) include(e edit.Entry) (scene, error) {
	nl := splice.Newline(s.doc.Text)
	at, gap := s.tags[1].To, ""
	if list := s.external(); len(list) > 0 {
		at = list[len(list)-1].To
	} else if strings.TrimSpace(string(s.doc.Text[at:splice.LineEnd(s.doc.Text, at)])) == "" {
		at, gap = splice.LineEnd(s.doc.Text, at), nl
	}
	line := fmt.Sprintf("[ext_resource type=%q path=%q id=%q]", e.Place.Attribute, e.Value, s.freeID())
	if s.three() {
		line = fmt.Sprintf("[ext_resource path=%q type=%q id=%s]", e.Value, e.Place.Attribute, s.freeID())
	}
	text, err := s.doc.Apply(splice.Replace(at, at, line+nl+gap))
	if err != nil {
		return s, err
	}
	return newScene(s.doc.With(text))
}

// reference is an assignment that refers to an external resource.
func (s scene) reference(property, id string) string {
	if s.three() {
		return fmt.Sprintf("%s = ExtResource( %s )", property, id)
	}
	return fmt.Sprintf("%s = ExtResource(%q)", property, id)
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
