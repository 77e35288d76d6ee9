// Package schema holds the JSON Schemas of notaria.toml, of the ledger and of all documents of --json. They are made
// from the types that the program reads and writes: NOTARIA_UPDATE=1 go test ./tests -run TestSchemas
package schema

import (
	"embed"
	"io/fs"
	"strings"
)

//go:embed *.json
var files embed.FS

// Names lists the schemas, in alphabetical order.
func Names() []string {
	all, _ := fs.Glob(files, "*.json") // a pattern of ours
	for i, f := range all {
		all[i] = strings.TrimSuffix(f, ".json")
	}
	return all
}

// Text is a schema by its name.
func Text(name string) ([]byte, bool) {
	b, err := files.ReadFile(name + ".json")
	return b, err == nil
}
