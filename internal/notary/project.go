// Package notary conducts: it loads a project, makes the one plan that every
// command looks at, and turns the plan into a set of changes.
//
//	plan = f(registry, faces, sites)
//
// register applies the plan, its dry run prints it, check compares it with the
// disk, and strike makes it again without a face.
package notary

import (
	"bytes"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"slices"

	"notaria/internal/change"
	"notaria/internal/face"
	"notaria/internal/registry"
	"notaria/internal/sfnt"
	"notaria/internal/target"
)

// A Project is a folder with what Notaria knows of it.
type Project struct {
	Root     string
	Registry *registry.Registry
	Ledger   *registry.Ledger
	Tree     *Tree
	// Found says whether the folder holds a registry already.
	Found bool
	// Mended says that an earlier run that was killed has just been ended.
	Mended bool

	faces   map[string]target.Face
	present []target.Present
	looked  bool // present is known
}

// FindRoot gives the project's folder: the nearest one upward from start that
// holds a registry, else start itself.
func FindRoot(start string) (string, error) {
	start, err := filepath.Abs(start)
	if err != nil {
		return "", err
	}
	for dir := start; ; dir = filepath.Dir(dir) {
		if _, err := os.Lstat(filepath.Join(dir, registry.FileName)); err == nil {
			return dir, nil
		}
		if dir == filepath.Dir(dir) {
			return start, nil
		}
	}
}

// Open loads the project in a folder, ending first what a killed run began.
func Open(root string) (*Project, error) {
	info, err := os.Stat(root)
	if err != nil {
		return nil, fmt.Errorf("%s: expected a project's folder, found none; check the path", root)
	}
	if !info.IsDir() {
		return nil, fmt.Errorf("%s: expected a project's folder, found a file; name the folder", root)
	}
	if root, err = filepath.EvalSymlinks(root); err != nil {
		return nil, err
	}
	p := &Project{Root: root, faces: map[string]target.Face{}}
	if p.Mended, err = change.Recover(root); err != nil {
		return nil, err
	}
	set := &change.Set{Root: root}
	text, err := set.Read(registry.FileName)
	switch {
	case errors.Is(err, fs.ErrNotExist):
		p.Registry = registry.New()
	case err != nil:
		return nil, err
	default:
		p.Found = true
		if p.Registry, err = registry.Parse(text); err != nil {
			return nil, err
		}
	}
	ledger, err := set.Read(registry.LedgerName)
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		return nil, err
	}
	if p.Ledger, err = registry.ParseLedger(ledger); err != nil {
		return nil, err
	}
	p.Tree, err = ReadTree(root)
	return p, err
}

// Face reads an enrolled face's names and metrics from its original.
func (p *Project) Face(name string) (target.Face, error) {
	if f, ok := p.faces[name]; ok {
		return f, nil
	}
	e, ok := p.Registry.Face(name)
	if !ok {
		return target.Face{}, fmt.Errorf("no face %q is enrolled", name)
	}
	full, err := change.Inside(p.Root, e.File)
	if err != nil {
		return target.Face{}, err
	}
	f, err := readOriginal(full)
	if errors.Is(err, fs.ErrNotExist) {
		return target.Face{}, fmt.Errorf("%s: expected the original of %s, found no file; enrol it again, or strike it", e.File, name)
	}
	if err != nil {
		return target.Face{}, fmt.Errorf("%s: %w", e.File, err)
	}
	if f.ID() != name {
		return target.Face{}, fmt.Errorf("%s: expected the face %q, found %q; enrol the right file again, or correct the name in %s", e.File, name, face.Short(f.ID()), registry.FileName)
	}
	f.File = e.File
	out := target.Face{Face: f, Ext: path.Ext(e.File)}
	p.faces[name] = out
	return out, nil
}

func readOriginal(full string) (face.Face, error) {
	r, err := os.Open(full)
	if err != nil {
		return face.Face{}, err
	}
	defer r.Close()
	info, err := r.Stat()
	if err != nil {
		return face.Face{}, err
	}
	file, err := sfnt.Open(r, info.Size())
	if err != nil {
		return face.Face{}, err
	}
	f, _, err := face.Read(file.Font(0), face.Options{})
	f.Bytes, f.Container = info.Size(), string(file.Container)
	return f, err
}

// write puts a file of Notaria's own into a set and on the ledger; platform is
// the target that it is for, or "".
func (p *Project) write(set *change.Set, platform, name string, content []byte) error {
	return p.writeSummed(set, platform, name, content, change.Sum(content))
}

// writeSummed is write for content whose SHA-256 is known: a face goes to many
// sites and is hashed once.
func (p *Project) writeSummed(set *change.Set, platform, name string, content []byte, sum string) error {
	for dir := path.Dir(name); dir != "."; dir = path.Dir(dir) {
		if _, err := os.Lstat(filepath.Join(p.Root, filepath.FromSlash(dir))); err != nil && !slices.Contains(p.Ledger.Folders, dir) {
			p.Ledger.Folders = append(p.Ledger.Folders, dir)
		}
	}
	if err := set.Write(name, content); err != nil {
		return err
	}
	p.record(registry.Written{Path: name, SHA256: sum, Target: platform})
	return nil
}

func (p *Project) record(w registry.Written) {
	for i := range p.Ledger.Files {
		if p.Ledger.Files[i].Path == w.Path {
			w.Taken = w.Taken || p.Ledger.Files[i].Taken
			p.Ledger.Files[i] = w
			return
		}
	}
	p.Ledger.Files = append(p.Ledger.Files, w)
}

// remove deletes a file that is on the ledger, unless somebody has changed it
// since; then it stays, and is theirs. It says whether the file goes.
func (p *Project) remove(set *change.Set, name string) (bool, error) {
	w, ok := p.Ledger.Wrote(name)
	if !ok {
		return false, nil
	}
	kept := p.Ledger.Files[:0:0]
	for _, f := range p.Ledger.Files {
		if f.Path != name {
			kept = append(kept, f)
		}
	}
	p.Ledger.Files = kept
	old, err := set.Read(name)
	if errors.Is(err, fs.ErrNotExist) {
		return true, nil
	}
	if err != nil {
		return false, err
	}
	if change.Sum(old) != w.SHA256 {
		return false, nil
	}
	return true, set.Remove(name)
}

// seal adds the registry and the ledger to a set, and names the folders that
// have served their time.
func (p *Project) seal(set *change.Set) error {
	var still []string
	for _, dir := range p.Ledger.Folders {
		used := false
		for _, f := range p.Ledger.Files {
			used = used || len(f.Path) > len(dir) && f.Path[:len(dir)+1] == dir+"/"
		}
		if used {
			still = append(still, dir)
		} else {
			set.Prune = append(set.Prune, dir)
		}
	}
	p.Ledger.Folders = still
	ledger, err := p.Ledger.Bytes()
	if err != nil {
		return err
	}
	for _, f := range []struct {
		name string
		text []byte
	}{{registry.FileName, p.Registry.Text()}, {registry.LedgerName, ledger}} {
		if f.text == nil {
			err = set.Remove(f.name)
		} else {
			err = set.Write(f.name, f.text)
		}
		if err != nil {
			return err
		}
	}
	for i := range set.Files {
		set.Files[i].Account = set.Files[i].Path == registry.LedgerName
	}
	return nil
}

// same says whether a file of the project has exactly this content, and for one
// that has another, the SHA-256 of that.
func same(set *change.Set, name string, content []byte) (exists, equal bool, sum string, err error) {
	old, err := set.Read(name)
	if errors.Is(err, fs.ErrNotExist) {
		return false, false, "", nil
	}
	if err != nil {
		return false, false, "", err
	}
	if bytes.Equal(old, content) {
		return true, true, "", nil
	}
	return true, false, change.Sum(old), nil
}
