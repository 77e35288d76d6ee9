package platform

import (
	"bytes"
	"encoding/json"
	"path"
)

// WithoutMark is a text without the mark of its encoding (U+FEFF) in front.
func WithoutMark(text []byte) []byte { return bytes.TrimPrefix(text, []byte("\uFEFF")) }

// Version is the one that a folder's package.json asks for of a dependency, as it is there; "" if
// there is none.
func Version(tree Tree, dir, name string) string {
	v, _ := Dependencies(tree, dir)[name].(string)
	return v
}

// Dependencies are those of a folder's package.json; none if there is none.
func Dependencies(tree Tree, dir string) map[string]any {
	raw, err := tree.Read(path.Join(dir, "package.json"))
	if err != nil {
		return nil
	}
	var p struct {
		Dependencies map[string]any `json:"dependencies"`
	}
	if json.Unmarshal(WithoutMark(raw), &p) != nil {
		return nil
	}
	return p.Dependencies
}
