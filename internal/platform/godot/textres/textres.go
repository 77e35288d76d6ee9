// Package textres is the form of Godot's text files: project.godot, scenes (.tscn) and
// resources (.tres). All three are headings in brackets, each with assignments below it
// (core/variant_parser.cpp of the engine reads them):
//
//	[node name="Title" type="Label" parent="."]
//	text = "Boats"
//	custom_fonts/font = ExtResource( 1 )
package textres

import (
	"bytes"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/splice"
)

// mostText bounds what is parsed, in bytes; larger scenes hold pictures and meshes.
const mostText = 8 << 20

// A Tag is a heading with what is below it. The first one has no heading: it is what comes
// before all others.
type Tag struct {
	Text       string // between the brackets
	Name       string // its first word
	Attributes []Attribute
	From, To   int  // bytes of the heading's lines
	Alone      bool // nothing else is on them
	Values     []Value
}

// An Attribute is a key of a heading, with its value as it is written.
type Attribute struct{ Key, Value string }

// A Value is an assignment: From and To are its whole lines, Start and End what is
// written of it, from the name to the value.
type Value struct {
	Name, Text string
	From, To   int
	Start, End int
}

// Attribute is the value of a key, without quotes; "" if there is none.
func (t Tag) Attribute(key string) string {
	for _, a := range t.Attributes {
		if a.Key == key {
			return Unquote(a.Value)
		}
	}
	return ""
}

// Value is an assignment by its name.
func (t Tag) Value(name string) (Value, bool) {
	for _, v := range t.Values {
		if v.Name == name {
			return v, true
		}
	}
	return Value{}, false
}

// Unquote takes the quotes off a string, and its escapes; other values stay.
func Unquote(s string) string {
	s = strings.TrimPrefix(s, "&")
	if len(s) < 2 || s[0] != '"' || s[len(s)-1] != '"' {
		return s
	}
	s = s[1 : len(s)-1]
	if !strings.Contains(s, `\`) {
		return s
	}
	var b strings.Builder
	for i := 0; i < len(s); i++ {
		if s[i] == '\\' && i+1 < len(s) {
			i++
		}
		b.WriteByte(s[i])
	}
	return b.String()
}

// parser walks a text once.
type parser struct {
	doc edit.Document
	at  int
}

// Parse reads a text. What is of another form is a fault with its line.
func Parse(doc edit.Document) ([]Tag, error) {
	if len(doc.Text) > mostText {
		return nil, doc.Fail(-1, "at most 8 MiB of Godot's text", "more", "leave this file out")
	}
	if bytes.HasSuffix(doc.Text, []byte("\r")) {
		return nil, doc.Fail(len(doc.Text), "a last line that ends whole", "half of a line end of Windows", edit.Mend)
	}
	p := &parser{doc: doc}
	if bytes.HasPrefix(doc.Text, []byte("\ufeff")) {
		p.at = len("\ufeff")
	}
	tags := []Tag{{From: p.at, To: p.at}}
	for p.blank(); p.at < len(doc.Text); p.blank() {
		if doc.Text[p.at] == '[' {
			t, err := p.tag()
			if err != nil {
				return nil, err
			}
			tags = append(tags, t)
			continue
		}
		v, err := p.value()
		if err != nil {
			return nil, err
		}
		last := &tags[len(tags)-1]
		last.Values = append(last.Values, v)
	}
	return tags, nil
}

// blank passes over white space and comments.
func (p *parser) blank() {
	for p.at < len(p.doc.Text) {
		switch c := p.doc.Text[p.at]; {
		case splice.IsSpace(c):
			p.at++
		case c == ';':
			p.at = splice.LineEnd(p.doc.Text, p.at)
		default:
			return
		}
	}
}

// span passes over one value: up to the sign that ends it outside strings and brackets.
func (p *parser) span(from int, ends func(c byte) bool) (int, bool) {
	depth := 0
	text := p.doc.Text
	for i := from; i < len(text); i++ {
		c := text[i]
		if depth == 0 && ends(c) {
			return i, true
		}
		switch c {
		case '"':
			for i++; i < len(text) && text[i] != '"'; i++ {
				if text[i] == '\\' {
					i++
				}
			}
			if i >= len(text) {
				return from, false
			}
		case ';':
			i = splice.LineEnd(text, i) - 1
		case '(', '[', '{':
			depth++
		case ')', ']', '}':
			if depth--; depth < 0 {
				return i, false
			}
		}
	}
	return len(text), depth == 0
}

func (p *parser) fail(at int, expected string) error {
	return p.doc.Fail(at, expected, "another form", edit.Mend)
}

func (p *parser) tag() (Tag, error) {
	start := p.at
	end, ok := p.span(start+1, func(c byte) bool { return c == ']' })
	if !ok || end >= len(p.doc.Text) {
		return Tag{}, p.fail(start, "a heading that ends with ]")
	}
	t := Tag{Text: string(p.doc.Text[start+1 : end]), From: splice.LineStart(p.doc.Text, start), To: splice.LineEnd(p.doc.Text, end)}
	p.at = end + 1
	t.Alone = len(bytes.TrimSpace(p.doc.Text[t.From:start])) == 0 && len(bytes.TrimSpace(p.doc.Text[end+1:t.To])) == 0
	t.read()
	return t, nil
}

// read takes the heading apart: a name, and keys with values.
func (t *Tag) read() {
	p := &parser{doc: edit.Document{Text: []byte(t.Text)}}
	name, _ := p.span(0, splice.IsSpace)
	t.Name, p.at = t.Text[:name], name
	for p.at < len(t.Text) {
		for p.at < len(t.Text) && splice.IsSpace(t.Text[p.at]) {
			p.at++
		}
		eq := strings.IndexByte(t.Text[p.at:], '=')
		if eq < 0 {
			return
		}
		from := p.at + eq + 1
		to, ok := p.span(from, splice.IsSpace)
		if !ok {
			return
		}
		t.Attributes = append(t.Attributes, Attribute{strings.TrimSpace(t.Text[p.at : p.at+eq]), t.Text[from:to]})
		p.at = to
	}
}

func (p *parser) value() (Value, error) {
	start := p.at
	eq, ok := p.span(start, func(c byte) bool { return c == '=' || c == '\n' })
	if !ok || eq >= len(p.doc.Text) || p.doc.Text[eq] != '=' {
		return Value{}, p.fail(start, "an assignment: name = value")
	}
	end, ok := p.span(eq+1, func(c byte) bool { return c == '\n' || c == ';' })
	if !ok {
		return Value{}, p.fail(start, "a value whose strings and brackets end")
	}
	text := strings.TrimSpace(string(p.doc.Text[eq+1 : end]))
	v := Value{Name: strings.TrimSpace(string(p.doc.Text[start:eq])), Text: text, From: splice.LineStart(p.doc.Text, start), Start: start, End: eq + 1 + len(bytes.TrimRight(p.doc.Text[eq+1:end], " \t\r"))}
	p.at = splice.LineEnd(p.doc.Text, end)
	if end >= len(p.doc.Text) {
		p.at = len(p.doc.Text)
	}
	v.To = p.at
	return v, nil
}
