package tokens

import (
	"encoding/json"
	"errors"
	"reflect"
	"slices"

	"notaria/internal/edit"
	"notaria/internal/edit/jsonc"
	"notaria/internal/edit/splice"
	"notaria/internal/fault"
)

// Merge puts roles into a designer's file: into the tokens of their names, or beside them. Every other token keeps its
// bytes, and so does one that says the same already. A token that Notaria wrote for a role that is no more is taken out.
// A file without a token is not one of tokens, and is refused.
func Merge(file string, old []byte, roles []Role) ([]byte, error) {
	m := &merger{doc: edit.Document{File: file, Text: old}}
	if err := m.parse(); err != nil {
		return nil, err
	}
	if !holdsToken(m.root) && len(m.root.Values) > 0 {
		return nil, &fault.Error{File: file, Expected: "design tokens: JSON with a $value", Found: "another file", Cure: "choose another --out"}
	}
	g, err := groups(roles)
	if err != nil {
		return nil, err
	}
	for _, group := range []string{groupType, groupColour} {
		names := make([]string, 0, len(g[group]))
		for name := range g[group] {
			names = append(names, name)
		}
		slices.Sort(names)
		for _, name := range names {
			if err := m.put(group, name, g[group][name]); err != nil {
				return nil, err
			}
		}
	}
	for _, group := range []string{groupType, groupColour} {
		if err := m.prune(group, g[group]); err != nil {
			return nil, err
		}
	}
	return m.doc.Text, nil
}

// A merger changes a document step by step.
type merger struct {
	doc  edit.Document
	root *jsonc.Node
}

func (m *merger) parse() (err error) {
	if m.root, err = jsonc.Parse(m.doc); err != nil {
		var e *fault.Error
		if errors.As(err, &e) {
			err = &fault.Error{File: e.File, Line: e.Line, Expected: "design tokens: JSON", Found: "something else (" + e.Expected + " is missing: " + e.Found + ")", Cure: "choose another --out"}
		}
	}
	if err == nil && m.root.Kind != '{' {
		err = &fault.Error{File: m.doc.File, Expected: "design tokens: a JSON object", Found: "another value", Cure: "choose another --out"}
	}
	return err
}

func (m *merger) apply(e splice.Edit) error {
	text, err := m.doc.Apply(e)
	if err != nil {
		return err
	}
	m.doc = m.doc.With(text)
	return m.parse()
}

// holdsToken says whether some object below has a $value.
func holdsToken(n *jsonc.Node) bool {
	if n.Kind != '{' {
		return false
	}
	return n.Get("$value") != nil || slices.ContainsFunc(n.Values, holdsToken)
}

// ours says whether a token was written by Notaria.
func ours(n *jsonc.Node) bool { return n.Get("$extensions", extension) != nil }

// put writes a token, or the type of a group.
func (m *merger) put(group, name string, token any) error {
	step := jsonc.Indent(m.doc.Text, m.root)
	in := m.root.Get(group)
	if in == nil {
		return m.apply(m.root.Insertion(m.doc.Text, step, keyed(group, map[string]any{name: token}, step)))
	}
	if in.Kind != '{' || in.Get("$value") != nil {
		return &fault.Error{File: m.doc.File, Line: splice.LineOf(m.doc.Text, in.From), Expected: "a group of tokens called " + group, Found: "something else of that name", Cure: "rename it, or choose another --out"}
	}
	if name == "$type" {
		return nil // the designer's group says it, or each token does
	}
	if in.Get("$type").Str() != typeOf[group] {
		token = typed{typeOf[group], fieldsOf(token)["$value"], fieldsOf(token)["$extensions"]}
	}
	at := in.Get(name)
	if at == nil {
		return m.apply(in.Insertion(m.doc.Text, step, keyed(name, token, step)))
	}
	if at.Get("$value") == nil {
		return m.replace(at, token, step)
	}
	// What a token says besides stays: $deprecated, $description, extensions of other tools.
	fields := fieldsOf(token)
	was := ours(at)
	if err := m.replace(at.Get("$value"), fields["$value"], step); err != nil || !was {
		return err
	}
	var own map[string]json.RawMessage
	if err := json.Unmarshal(fields["$extensions"], &own); err != nil {
		return err
	}
	return m.replace(m.root.Get(group, name, "$extensions", extension), own[extension], step)
}

// replace gives a value's place to another, unless it says the same.
func (m *merger) replace(at *jsonc.Node, value any, step string) error {
	if same(m.doc.Text[at.From:at.To], value) {
		return nil
	}
	lines := rendered(value, step)
	indent, nl := splice.IndentOf(m.doc.Text, at.From), splice.Newline(m.doc.Text)
	text := lines[0]
	for _, l := range lines[1:] {
		text += nl + indent + l
	}
	return m.apply(splice.Replace(at.From, at.To, text))
}

// prune takes Notaria's tokens of a group out that are not among the roles' any more.
func (m *merger) prune(group string, wanted map[string]any) error {
	in := m.root.Get(group)
	if in == nil || in.Kind != '{' {
		return nil
	}
	for i := len(in.Values) - 1; i >= 0; i-- {
		if _, is := wanted[in.Keys[i].Text]; is || !ours(in.Values[i]) {
			continue
		}
		if err := m.apply(in.Removal(i, "")); err != nil {
			return err
		}
		in = m.root.Get(group)
	}
	return nil
}

// keyed is a value behind its key, as lines.
func keyed(key string, v any, step string) []string {
	lines := rendered(v, step)
	lines[0] = rendered(key, step)[0] + ": " + lines[0]
	return lines
}

// typeOf is the type of a group's tokens.
var typeOf = map[string]string{groupType: "typography", groupColour: "color"}

// typed is a token that says its type itself.
type typed struct {
	Type       string          `json:"$type"`
	Value      json.RawMessage `json:"$value"`
	Extensions json.RawMessage `json:"$extensions"`
}

// fieldsOf are the parts of a token.
func fieldsOf(token any) (fields map[string]json.RawMessage) {
	raw, _ := json.Marshal(token) // of a struct of ours
	_ = json.Unmarshal(raw, &fields)
	return fields
}

// same says whether a text is the JSON of a value.
func same(text []byte, v any) bool {
	raw, _ := json.Marshal(v) // of a struct of ours
	var a, b any
	return json.Unmarshal(text, &a) == nil && json.Unmarshal(raw, &b) == nil && reflect.DeepEqual(a, b)
}
