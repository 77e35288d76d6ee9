package tests

import (
	"bytes"
	"encoding/json"
	"maps"
	"os"
	"path/filepath"
	"reflect"
	"slices"
	"strings"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/require"

	files "notaria/docs/schema"
	"notaria/internal/audit"
	"notaria/internal/document"
	"notaria/internal/platform"
	"notaria/internal/platform/all"
	"notaria/internal/registry"
	"notaria/internal/schema"
)

// documents are the types of all documents, by the names of their schemas.
var documents = map[string]any{
	"names": document.Names{}, "error": document.Failure{}, "register": document.Register{}, "strike": document.Strike{}, "check": document.Check{},
	"mend": document.Mend{}, "log": document.Log{}, "trace": document.Trace{}, "rule": document.Rule{}, "enrol": document.Enrol{}, "swap": document.Swap{},
	"targets": document.Targets{}, "specimen": document.Specimen{}, "measure": document.Measures{}, "compare": document.Compare{}, "credits": document.Credits{},
	"label": document.Label{}, "report": document.Report{}, "tokens": document.Tokens{}, "usage": document.Usage{}, "pixel": document.Pixels{}, "survey": document.Survey{},
	"known": audit.Known{}, "built": document.Built{}, "headers": document.Headers{}, "trim": document.Trim{}, "weigh": document.Weigh{},
}

// made makes all schemas, by their names.
func made(t *testing.T) map[string]schema.Object {
	t.Helper()
	out := map[string]schema.Object{}
	one := func(m schema.Maker, name string, of any, id string) {
		m.Module, m.Root = "notaria", ".."
		s, err := m.Schema(reflect.TypeOf(of), "urn:notaria:"+strings.ReplaceAll(id, "/", ":"), "Notaria: "+name)
		require.NoError(t, err)
		out[name] = s
	}
	for name, of := range documents {
		one(schema.Maker{Tag: "json"}, name, of, name+"/1")
		out[name]["properties"].(schema.Object)["schema"] = schema.Object{"const": "notaria/" + name + "/1"}
	}
	ledger := (&registry.Ledger{Files: []registry.Written{{}}})
	text, err := ledger.Bytes()
	require.NoError(t, err)
	var head struct{ Schema string }
	require.NoError(t, json.Unmarshal(text, &head))
	one(schema.Maker{Tag: "json"}, "ledger", registry.Ledger{}, strings.TrimPrefix(head.Schema, "notaria/"))
	out["ledger"]["properties"].(schema.Object)["schema"] = schema.Object{"const": head.Schema}

	one(schema.Maker{Tag: "toml", Limits: registryLimits()}, "toml", registry.Registry{}, "toml/1")
	return out
}

// registryLimits are what notaria.toml allows beyond the types of its keys.
func registryLimits() map[string]schema.Object {
	size := schema.Object{"exclusiveMinimum": 0, "maximum": 1000}
	colour := func(also string) schema.Object {
		return schema.Object{"pattern": "^#([0-9A-Fa-f]{6}|[0-9A-Fa-f]{8})$" + also}
	}
	targets, names := schema.Object{}, []string{}
	for _, p := range all.Platforms {
		about, options := p.About(), schema.Object{}
		for _, o := range append(about.Options, platform.Option{Key: platform.LeaveOut, Kind: platform.KindList, Help: "paths of apps that are not served, as survey shows them"}) {
			option := map[string]schema.Object{platform.KindWord: {"type": "string"}, platform.KindYesNo: {"type": "boolean"}, platform.KindList: {"type": "array", "items": schema.Object{"type": "string"}}}[o.Kind]
			option["description"] = o.Help
			options[o.Key] = option
		}
		names = append(names, about.Name)
		targets[about.Name] = schema.Object{"type": "object", "description": about.Title, "properties": options, "additionalProperties": false}
	}
	return map[string]schema.Object{
		"Registry.role":   {"propertyNames": schema.Object{"pattern": "^[a-z][a-z0-9]*(-[a-z0-9]+)*$", "maxLength": 40}},
		"Registry.target": {"properties": targets, "additionalProperties": false},
		"Site.target":     {"enum": names},
		"Role.on":         {"propertyNames": schema.Object{"enum": names}},
		"Role.size":       size, "Role.line-height": size,
		"Role.tracking": {"minimum": -1000, "maximum": 1000},
		"Role.fallback": {"enum": append(append([]string{}, registry.Fallbacks...), registry.None)},
		"Role.colour":   colour("|^none$"), "Shadow.colour": colour("|^none$"), "Outline.colour": colour(""),
		"Outline.width": {"minimum": 0, "maximum": 1000}, "Shadow.blur": {"minimum": 0, "maximum": 1000},
		"Pixels.depth":    {"enum": []int{1, 2, 4, 8}},
		"Pixels.hinting":  {"enum": []string{"auto", "on", "off"}},
		"Pixels.of":       {"type": "string"},
		"Pixels.contrast": {"minimum": 0, "maximum": 100},
		"Face.name":       {"minLength": 1}, "Face.file": {"minLength": 1},
		"Face": {"required": []string{"name", "file"}}, "Site": {"required": []string{"target", "folder"}}, "Accept": {"required": []string{"rule", "path", "reason"}},
		"Characters.sets": {"items": schema.Object{"enum": slices.Sorted(maps.Keys(registry.CharacterSets))}},
	}
}

// The schemas are what the types say. With NOTARIA_UPDATE they are written.
func TestSchemas(t *testing.T) {
	all := made(t)
	for name, s := range all {
		var b bytes.Buffer
		require.NoError(t, document.Write(&b, s))
		file := filepath.Join("../docs/schema", name+".json")
		if os.Getenv("NOTARIA_UPDATE") != "" {
			require.NoError(t, os.WriteFile(file, b.Bytes(), 0o644))
		}
		have, err := os.ReadFile(file)
		require.NoError(t, err)
		require.Equal(t, b.String(), string(have), name)
	}
	if os.Getenv("NOTARIA_UPDATE") == "" {
		require.Len(t, files.Names(), len(all), "no schema of what is no more")
	}
}

// fits says what in a document is not as the schema of its name has it.
func fits(name string, doc []byte) error {
	text, ok := files.Text(name)
	if !ok {
		return os.ErrNotExist
	}
	s, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
	if err != nil {
		return err
	}
	c := jsonschema.NewCompiler()
	if err := c.AddResource("mem:"+name, s); err != nil {
		return err
	}
	compiled, err := c.Compile("mem:" + name)
	if err != nil {
		return err
	}
	value, err := jsonschema.UnmarshalJSON(bytes.NewReader(doc))
	if err != nil {
		return err
	}
	return compiled.Validate(value)
}

// documentName is the name in a document's schema: names of notaria/names/1.
func documentName(doc []byte) string {
	var head struct{ Schema string }
	if json.Unmarshal(doc, &head) != nil {
		return ""
	}
	parts := strings.Split(head.Schema, "/")
	if len(parts) != 3 {
		return ""
	}
	return parts[1]
}

// The examples of all documents fit their schemas, and what does not is found.
func TestExamplesFitTheirSchemas(t *testing.T) {
	examples, err := filepath.Glob("../internal/document/testdata/*.json")
	require.NoError(t, err)
	n := 0
	for _, f := range examples {
		doc, err := os.ReadFile(f)
		require.NoError(t, err)
		if name := documentName(doc); name != "" {
			require.NoError(t, fits(name, doc), f)
			n++
		}
	}
	require.Greater(t, n, 12)
	require.ErrorContains(t, fits("report", []byte(`{"schema": "notaria/report/1", "file": 5, "bytes": 1}`)), "want string")
	require.ErrorContains(t, fits("report", []byte(`{"schema": "notaria/report/1", "file": ""}`)), "bytes")
	require.ErrorContains(t, fits("report", []byte(`{"schema": "notaria/report/2", "file": "", "bytes": 1}`)), "notaria/report/1")
}
