// Package phrases reads the files that hold an app's own strings: each with its key and its language. What a file shows to people as a
// whole is platform.Wording; here each string is known by its name, so that a measure can say which one is too long, and where.
package phrases

import (
	"bytes"
	"cmp"
	"encoding/json"
	"encoding/xml"
	"io"
	"path"
	"strconv"
	"strings"

	"github.com/goccy/go-yaml"
	"github.com/goccy/go-yaml/ast"
	"github.com/goccy/go-yaml/parser"

	"notaria/internal/language"
	"notaria/internal/lazy"
)

// A Phrase is one string of an app.
type Phrase struct {
	Key      string // as the file has it; those of nested files joined by dots
	Language string // BCP 47, as the file or its folder is called; "" where neither says it
	Text     string
}

// Read reads the phrases of a file, in the order in which they stand there. The file's form is known by its name, and in a file of no
// known form each line is a phrase; what cannot be read as its form holds none.
func Read(name string, raw []byte) []Phrase {
	r := reader{language: languageOf(name)}
	switch strings.ToLower(path.Ext(name)) {
	case ".strings":
		r.pairs(raw)
	case ".xcstrings":
		r.catalog(raw)
	case ".arb":
		r.bundle(raw)
	case ".json":
		r.tree("", raw)
	case ".yaml", ".yml":
		r.yaml(raw)
	case ".xml":
		r.resources(raw)
	case ".po", ".pot":
		r.messages(raw)
	default:
		for l := range strings.Lines(string(raw)) {
			r.add("", strings.TrimSpace(l))
		}
	}
	return r.out
}

type reader struct {
	language string
	out      []Phrase
}

func (r *reader) add(key, text string) {
	if strings.TrimSpace(text) != "" {
		r.out = append(r.out, Phrase{key, r.language, text})
	}
}

// Where files say their language: Apple's folders, Android's, and files and folders that are called like a language.
var (
	lproj     = lazy.Regexp(`(?:^|/)([A-Za-z]{2,3}(?:[-_][A-Za-z0-9]+)*)\.lproj/`)
	values    = lazy.Regexp(`(?:^|/)values-(?:b\+([A-Za-z0-9+]+)|([a-z]{2,3})(?:-r([A-Z]{2}))?)(?:-[^/]*)?/`)
	arb       = lazy.Regexp(`_([a-z]{2,3}(?:_[A-Z][A-Za-z]+)*)\.arb$`)
	called    = lazy.Regexp(`(?:^|[/._-])([a-z]{2,3}(?:[-_][A-Z][A-Za-z]{1,3})?)\.(?:json|ya?ml|po)$`)
	inFolder  = lazy.Regexp(`(?:^|/)([a-z]{2,3}(?:[-_][A-Z][A-Za-z]{1,3})?)/(?:[^/]+/)*[^/]+$`)
	poHeading = lazy.Regexp(`(?m)^"Language: *([A-Za-z_@-]+)\\n"`)
)

func languageOf(name string) string {
	name = strings.ReplaceAll(name, "\\", "/")
	switch strings.ToLower(path.Ext(name)) {
	case ".strings":
		if m := lproj.FindStringSubmatch(name); m != nil && m[1] != "Base" {
			return tag(m[1])
		}
	case ".xml":
		if m := values.FindStringSubmatch(name); m != nil {
			if m[1] != "" {
				return strings.ReplaceAll(m[1], "+", "-")
			}
			return strings.TrimSuffix(m[2]+"-"+m[3], "-")
		}
	case ".arb":
		if m := arb.FindStringSubmatch(name); m != nil {
			return tag(m[1])
		}
	case ".json", ".yaml", ".yml", ".po":
		for _, form := range []*lazy.Pattern{called, inFolder} {
			if m := form.FindStringSubmatch(name); m != nil && !folders[m[1]] {
				return tag(m[1])
			}
		}
	}
	return ""
}

// folders are names that look like languages and are none, where strings lie.
var folders = map[string]bool{"src": true, "app": true, "web": true, "lib": true, "res": true, "www": true, "int": true, "pkg": true, "ui": true, "po": true, "common": true}

func tag(s string) string { return strings.ReplaceAll(s, "_", "-") }

var pair = lazy.Regexp(`"((?:[^"\\]|\\.)*)"\s*=\s*"((?:[^"\\]|\\.)*)"\s*;|(?s:/\*.*?\*/)|//[^\n]*`)

// oldUnit is how lists of strings write a character by its number.
var oldUnit = lazy.Regexp(`\\U([0-9A-Fa-f]{4})`)

// pairs reads Apple's lists of strings, in UTF-8, or in UTF-16 as older tools write them.
func (r *reader) pairs(raw []byte) {
	read := func(s []byte) string {
		return unescaped(oldUnit.ReplaceAllString(string(s), `\u$1`), language.JSON.Unescape)
	}
	for _, m := range pair.FindAllSubmatch(language.FromUTF16(raw), -1) {
		if m[1] != nil {
			r.add(read(m[1]), read(m[2]))
		}
	}
}

// catalog reads Apple's string catalogs: strings, then languages, then a unit or its variations.
func (r *reader) catalog(raw []byte) {
	each(raw, func(key string, v json.RawMessage) {
		if key != "strings" {
			return
		}
		each(v, func(name string, v json.RawMessage) {
			each(v, func(key string, v json.RawMessage) {
				if key != "localizations" {
					return
				}
				each(v, func(of string, v json.RawMessage) {
					r.language = of
					r.units(name, v)
				})
			})
		})
	})
}

// units are the values of a localization, below whatever variations.
func (r *reader) units(name string, raw json.RawMessage) {
	each(raw, func(key string, v json.RawMessage) {
		if text := ""; key == "value" && json.Unmarshal(v, &text) == nil {
			r.add(name, text)
			return
		}
		r.units(name, v)
	})
}

// bundle reads Flutter's bundles; keys with @ describe others.
func (r *reader) bundle(raw []byte) {
	each(raw, func(key string, v json.RawMessage) {
		var text string
		if json.Unmarshal(v, &text) != nil {
			return
		}
		switch {
		case key == "@@locale":
			r.language = tag(text)
		case !strings.HasPrefix(key, "@"):
			r.add(key, text)
		}
	})
}

// tree reads the values of nested JSON.
func (r *reader) tree(at string, raw json.RawMessage) {
	var text string
	if json.Unmarshal(raw, &text) == nil {
		r.add(at, text)
		return
	}
	var list []json.RawMessage
	if json.Unmarshal(raw, &list) == nil {
		for i, v := range list {
			r.tree(join(at, strconv.Itoa(i)), v)
		}
		return
	}
	each(raw, func(key string, v json.RawMessage) { r.tree(join(at, key), v) })
}

func join(at, key string) string { return strings.TrimPrefix(at+"."+key, ".") }

// each hands the members of an object over, in their order; of what is none, nothing.
func each(raw json.RawMessage, use func(key string, value json.RawMessage)) {
	d := json.NewDecoder(bytes.NewReader(raw))
	if t, err := d.Token(); err != nil || t != json.Delim('{') {
		return
	}
	for d.More() {
		key, err := d.Token()
		name, isName := key.(string)
		var v json.RawMessage
		if err != nil || !isName || d.Decode(&v) != nil {
			return
		}
		use(name, v)
	}
}

// yaml reads the values of nested YAML, whose outermost key may be the language.
func (r *reader) yaml(raw []byte) {
	file, err := parser.ParseBytes(raw, 0)
	if err != nil {
		return
	}
	for _, doc := range file.Docs {
		r.node("", doc.Body)
	}
}

func (r *reader) node(at string, n ast.Node) {
	switch n := n.(type) {
	case *ast.MappingNode:
		for _, v := range n.Values {
			r.member(at, v)
		}
	case *ast.MappingValueNode:
		r.member(at, n)
	case *ast.SequenceNode:
		for i, v := range n.Values {
			r.node(join(at, strconv.Itoa(i)), v)
		}
	case *ast.StringNode, *ast.LiteralNode:
		var text string
		if yaml.NodeToValue(n, &text) == nil {
			r.add(at, text)
		}
	}
}

func (r *reader) member(at string, v *ast.MappingValueNode) {
	key := v.Key.String()
	if unquoted, err := strconv.Unquote(key); err == nil {
		key = unquoted
	}
	r.node(join(at, key), v.Value)
}

// resources reads Android's strings; of plurals and arrays each item. Markup inside of a string is left out.
func (r *reader) resources(raw []byte) {
	d := xml.NewDecoder(bytes.NewReader(raw))
	d.Strict = false
	d.CharsetReader = func(_ string, in io.Reader) (io.Reader, error) { return in, nil }
	var name, of string
	var text strings.Builder
	items := 0
	for {
		t, err := d.Token()
		if err != nil {
			return
		}
		switch t := t.(type) {
		case xml.StartElement:
			switch t.Name.Local {
			case "string", "plurals", "string-array":
				name, of, items = attribute(t, "name"), "", 0
				text.Reset()
			case "item":
				of = cmp.Or(attribute(t, "quantity"), strconv.Itoa(items))
				items++
				text.Reset()
			}
		case xml.CharData:
			text.Write(t)
		case xml.EndElement:
			if t.Name.Local == "string" || t.Name.Local == "item" && name != "" {
				r.add(strings.TrimSuffix(join(name, of), "."), seen(text.String()))
			}
		}
	}
}

func attribute(e xml.StartElement, name string) string {
	for _, a := range e.Attr {
		if a.Name.Local == name {
			return a.Value
		}
	}
	return ""
}

// seen is a resource as Android shows it: escapes are read, and white space is one space, unless the string is quoted.
func seen(body string) string {
	body = strings.TrimSpace(body)
	if len(body) > 1 && strings.HasPrefix(body, `"`) && strings.HasSuffix(body, `"`) {
		return unescaped(body[1:len(body)-1], language.Java.Unescape)
	}
	return unescaped(strings.Join(strings.Fields(body), " "), language.Java.Unescape)
}

// unescaped reads the escapes of a string, and keeps the ends of its lines, which are room.
func unescaped(s string, read func(string) string) string {
	var b strings.Builder
	from := 0
	for i := 0; i+1 < len(s); i++ {
		if s[i] != '\\' {
			continue
		}
		if s[i+1] == 'n' {
			b.WriteString(read(s[from:i]) + "\n")
			from = i + 2
		}
		i++
	}
	return b.String() + read(s[from:])
}

var quoted = lazy.Regexp(`"((?:[^"\\\n]|\\.)*)"`)

var message = lazy.Regexp(`(?m)^(msgctxt|msgid|msgid_plural|msgstr)(?:\[(\d+)\])?\s+((?:"(?:[^"\\\n]|\\.)*"\s*)+)`)

// messages reads PO: the translations, or, of a template, the messages themselves.
func (r *reader) messages(raw []byte) {
	text := string(raw)
	if m := poHeading.FindStringSubmatch(text); m != nil {
		r.language = tag(m[1])
	}
	id := ""
	for _, m := range message.FindAllStringSubmatch(text, -1) {
		var b strings.Builder
		for _, part := range quoted.FindAllStringSubmatch(m[3], -1) {
			b.WriteString(unescaped(part[1], language.UnescapeC))
		}
		switch m[1] {
		case "msgid":
			id = b.String()
		case "msgstr":
			said := b.String()
			if id == "" {
				continue // the head is about the file
			}
			if said == "" {
				said = id
			}
			key := id
			if m[2] != "" {
				key = join(key, m[2])
			}
			r.add(key, said)
		}
	}
}
