// Package inuse lets the apps of a test's project show their roles: without that, check says that nothing in them does.
package inuse

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"notaria/internal/cli"
	"notaria/internal/document"
)

// File is where an app's use is written: of a kind that is not known, so that no build takes it.
const File = "screens.lst"

// Show writes what usage prints beside each app of the project in a folder, and returns the files.
func Show(dir string) ([]string, error) {
	var files []string
	var out, errs bytes.Buffer
	if code := cli.Execute([]string{"--project", dir, "usage", "--json"}, strings.NewReader(""), &out, &errs); code != 0 {
		return nil, fmt.Errorf("usage: %s", errs.String())
	}
	var doc document.Usage
	if err := json.Unmarshal(out.Bytes(), &doc); err != nil {
		return nil, err
	}
	for _, app := range doc.Apps {
		at := filepath.Join(dir, filepath.FromSlash(app.Path))
		if info, err := os.Stat(at); err != nil || !info.IsDir() || strings.HasSuffix(at, ".xcodeproj") {
			at = filepath.Dir(at)
		}
		name := filepath.Join(at, File)
		text, _ := os.ReadFile(name)
		for _, r := range app.Roles {
			text = append(text, r.Ways[0].Code+"\n"...)
		}
		if len(app.Roles) == 0 {
			continue
		}
		if err := os.WriteFile(name, text, 0o644); err != nil {
			return files, err
		}
		files = append(files, name)
	}
	return files, nil
}
