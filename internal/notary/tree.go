package notary

import (
	"fmt"
	"io"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"slices"
	"sort"
	"strings"

	"notaria/internal/change"
)

const (
	maxTreeFiles = 400_000
	maxManifest  = 64 << 20
)

// skipped are folders that hold what others made: dependencies and build output.
var skipped = map[string]bool{
	"node_modules": true, "Pods": true, "build": true, "DerivedData": true, "Carthage": true, "vendor": true, "bin": true, "obj": true,
}

// A Tree is the list of a project's files, read once.
type Tree struct {
	root  string
	files []string // project-relative, sorted
	named map[string][]string
}

// ReadTree lists the files below root. Hidden folders, dependencies and build
// output are passed over, and symbolic links are not followed.
func ReadTree(root string) (*Tree, error) {
	t := &Tree{root: root, named: map[string][]string{}}
	err := filepath.WalkDir(root, func(name string, d fs.DirEntry, err error) error {
		if err != nil {
			if name == root {
				return err
			}
			return nil // a folder that may not be read holds no app of ours
		}
		if d.IsDir() {
			if name != root && (skipped[d.Name()] || strings.HasPrefix(d.Name(), ".")) {
				return fs.SkipDir
			}
			return nil
		}
		rel, err := filepath.Rel(root, name)
		if err != nil {
			return err
		}
		t.files = append(t.files, filepath.ToSlash(rel))
		if len(t.files) > maxTreeFiles {
			return fmt.Errorf("%s: expected at most %d files, found more; name the app's own folder with --project", root, maxTreeFiles)
		}
		return nil
	})
	sort.Strings(t.files)
	for _, f := range t.files {
		t.named[path.Base(f)] = append(t.named[path.Base(f)], f)
	}
	return t, err
}

// Named lists the files with a base name.
func (t *Tree) Named(base string) []string { return t.named[base] }

// Under lists the files below a folder, "" for all.
func (t *Tree) Under(dir string) []string {
	if dir == "" || dir == "." {
		return t.files
	}
	dir += "/"
	from := sort.SearchStrings(t.files, dir)
	to := from
	for to < len(t.files) && strings.HasPrefix(t.files[to], dir) {
		to++
	}
	return t.files[from:to]
}

// Has says whether a file is there.
func (t *Tree) Has(name string) bool {
	_, ok := slices.BinarySearch(t.files, name)
	return ok
}

// Read reads a manifest or a source file.
func (t *Tree) Read(name string) ([]byte, error) {
	full, err := change.Inside(t.root, name)
	if err != nil {
		return nil, err
	}
	f, err := os.Open(full)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	b, err := io.ReadAll(io.LimitReader(f, maxManifest+1))
	if err == nil && len(b) > maxManifest {
		err = fmt.Errorf("%s: expected at most %d MiB, found more", name, maxManifest>>20)
	}
	return b, err
}
