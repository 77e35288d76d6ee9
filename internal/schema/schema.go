// Package schema makes JSON Schemas of the types that notaria.toml, the ledger and the documents of --json are
// read into and written from, so that the schemas and the program cannot differ. Descriptions are the comments of
// the fields. The schemas are files of docs/schema, which the program holds; this package runs when these are made,
// and not in the program.
//
// The form is JSON Schema, draft 7, which editors read (json-schema.org/draft-07).
package schema

import (
	"encoding"
	"encoding/json"
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"maps"
	"os"
	"path/filepath"
	"reflect"
	"strings"
)

// Draft names the form.
const Draft = "http://json-schema.org/draft-07/schema#"

// An Object is a JSON object; its keys come in alphabetical order.
type Object = map[string]any

// A Maker makes schemas of types of one module.
type Maker struct {
	Module string // its path
	Root   string // its folder
	// Tag is the tag that names keys: json or toml. Keys of toml can be left out, and no others can be there.
	Tag string
	// Limits are parts of schemas for types and single keys, by "Type" and "Type.key", beside what the type says.
	Limits map[string]Object

	comments map[string]map[string]string // of packages, by "Type.Field", and by "Type"
	names    map[reflect.Type]string
	parts    Object // definitions
}

// Schema makes the schema of a type, under an id and a title.
func (m *Maker) Schema(t reflect.Type, id, title string) (Object, error) {
	m.names, m.parts = map[reflect.Type]string{}, Object{}
	if m.comments == nil {
		m.comments = map[string]map[string]string{}
	}
	out, err := m.structure(t)
	if err != nil {
		return nil, err
	}
	out["$schema"], out["$id"], out["title"] = Draft, id, title
	if about, err := m.comment(t, ""); err != nil {
		return nil, err
	} else if about != "" {
		out["description"] = about
	}
	if len(m.parts) > 0 {
		out["definitions"] = m.parts
	}
	return out, nil
}

var (
	textMarshaler   = reflect.TypeFor[encoding.TextMarshaler]()
	textUnmarshaler = reflect.TypeFor[encoding.TextUnmarshaler]()
	jsonMarshaler   = reflect.TypeFor[json.Marshaler]()
)

// of is the schema of a value.
func (m *Maker) of(t reflect.Type) (Object, error) {
	switch {
	case t.Implements(jsonMarshaler):
		return nil, fmt.Errorf("schema: %s writes itself: say what it writes", t)
	case t.Implements(textMarshaler) || reflect.PointerTo(t).Implements(textUnmarshaler):
		return Object{"type": "string"}, nil
	}
	switch t.Kind() {
	case reflect.Pointer:
		return m.of(t.Elem())
	case reflect.String:
		return Object{"type": "string"}, nil
	case reflect.Bool:
		return Object{"type": "boolean"}, nil
	case reflect.Float32, reflect.Float64:
		return Object{"type": "number"}, nil
	case reflect.Int, reflect.Int8, reflect.Int16, reflect.Int32, reflect.Int64, reflect.Uint, reflect.Uint8, reflect.Uint16, reflect.Uint32, reflect.Uint64:
		return Object{"type": "integer"}, nil
	case reflect.Interface:
		return Object{}, nil
	case reflect.Slice, reflect.Array:
		items, err := m.of(t.Elem())
		return Object{"type": "array", "items": items}, err
	case reflect.Map:
		values, err := m.of(t.Elem())
		return Object{"type": "object", "additionalProperties": values}, err
	case reflect.Struct:
		return m.named(t)
	}
	return nil, fmt.Errorf("schema: %s has no form in JSON", t)
}

// named is a reference to a type, which is among the definitions.
func (m *Maker) named(t reflect.Type) (Object, error) {
	name, ok := m.names[t]
	if !ok {
		name = t.Name()
		if _, taken := m.parts[name]; taken {
			name = strings.TrimPrefix(t.String(), "*")
		}
		m.names[t], m.parts[name] = name, nil // a type can hold itself
		part, err := m.structure(t)
		if err != nil {
			return nil, err
		}
		about, err := m.comment(t, "")
		if err != nil {
			return nil, err
		}
		if about != "" {
			part["description"] = about
		}
		m.parts[name] = part
	}
	return Object{"$ref": "#/definitions/" + name}, nil
}

// structure is the schema of a struct.
func (m *Maker) structure(t reflect.Type) (Object, error) {
	properties, required := Object{}, []string{}
	for _, f := range reflect.VisibleFields(t) {
		key, rest, _ := strings.Cut(f.Tag.Get(m.Tag), ",")
		if !f.IsExported() || key == "-" || f.Anonymous && key == "" || key == "" && m.Tag == "toml" {
			continue
		}
		if key == "" {
			key = f.Name
		}
		value, err := m.of(f.Type)
		if err != nil {
			return nil, fmt.Errorf("%w (%s.%s)", err, t, f.Name)
		}
		if f.Type.Kind() == reflect.Pointer && m.Tag == "json" && !strings.Contains(rest, "omitempty") {
			value = Object{"anyOf": []any{value, Object{"type": "null"}}} // a nil pointer that is not left out
		}
		owner := m.owner(t, f)
		about, err := m.comment(owner, f.Name)
		if err != nil {
			return nil, err
		}
		properties[key] = m.limited(value, owner.Name()+"."+key, about)
		if m.Tag == "json" && !strings.Contains(rest, "omitempty") && !strings.Contains(rest, "omitzero") {
			required = append(required, key)
		}
	}
	out := Object{"type": "object", "properties": properties}
	if len(required) > 0 {
		out["required"] = required
	}
	if m.Tag == "toml" {
		out["additionalProperties"] = false
	}
	maps.Copy(out, m.Limits[t.Name()])
	return out, nil
}

// limited adds to a value's schema what is said of its key. A reference stands alone in draft 7.
func (m *Maker) limited(value Object, key, about string) Object {
	if about != "" {
		if _, ref := value["$ref"]; ref {
			value = Object{"allOf": []any{value}}
		}
		value["description"] = about
	}
	maps.Copy(value, m.Limits[key])
	return value
}

// owner is the struct that declares a field: t itself, or one that is embedded in it.
func (m *Maker) owner(t reflect.Type, f reflect.StructField) reflect.Type {
	for _, i := range f.Index[:len(f.Index)-1] {
		if t = t.Field(i).Type; t.Kind() == reflect.Pointer {
			t = t.Elem()
		}
	}
	return t
}

// comment is what the source says of a field, or of the type where that is "".
func (m *Maker) comment(t reflect.Type, field string) (string, error) {
	said, ok := m.comments[t.PkgPath()]
	if !ok {
		var err error
		if said, err = m.read(t.PkgPath()); err != nil {
			return "", err
		}
		m.comments[t.PkgPath()] = said
	}
	return said[strings.TrimSuffix(t.Name()+"."+field, ".")], nil
}

// read collects the comments of a package of the module.
func (m *Maker) read(pkg string) (map[string]string, error) {
	out := map[string]string{}
	below, ok := strings.CutPrefix(pkg, m.Module+"/")
	if !ok {
		return out, nil
	}
	files, err := filepath.Glob(filepath.Join(m.Root, filepath.FromSlash(below), "*.go"))
	if err != nil {
		return nil, err
	}
	for _, file := range files {
		text, err := os.ReadFile(file)
		if err != nil {
			return nil, err
		}
		tree, err := parser.ParseFile(token.NewFileSet(), file, text, parser.ParseComments)
		if err != nil {
			return nil, err
		}
		for _, d := range tree.Decls {
			collect(d, out)
		}
	}
	return out, nil
}

// collect takes the comments of the structs of a declaration.
func collect(d ast.Decl, out map[string]string) {
	g, ok := d.(*ast.GenDecl)
	if !ok || g.Tok != token.TYPE {
		return
	}
	for _, s := range g.Specs {
		t := s.(*ast.TypeSpec)
		body, ok := t.Type.(*ast.StructType)
		if !ok {
			continue
		}
		about := t.Doc.Text()
		if about == "" && len(g.Specs) == 1 {
			about = g.Doc.Text()
		}
		out[t.Name.Name] = oneLine(about)
		for _, f := range body.Fields.List {
			for _, n := range f.Names {
				out[t.Name.Name+"."+n.Name] = oneLine(f.Doc.Text() + " " + f.Comment.Text())
			}
		}
	}
}

func oneLine(s string) string { return strings.Join(strings.Fields(s), " ") }
