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
	"notaria/internal/edit"
	"notaria/internal/edit/source"
	"notaria/internal/edit/xmldoc"
	"notaria/internal/face"
	"notaria/internal/fault"
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

	targets  []target.Target
	syntaxes map[string]edit.Syntax
	makes    artefacts

	faces   map[string]target.Face
	present []target.Present
	looked  bool // present is known
}

// FindRoot returns the project's folder: the nearest one upward from start that
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

// Open loads the project in a folder for some platforms, completing or rolling back first
// what an interrupted run began.
func Open(root string, targets []target.Target) (*Project, error) {
	root, err := folder(root)
	if err != nil {
		return nil, err
	}
	mended, err := change.Recover(root)
	if err != nil {
		return nil, err
	}
	p, err := Look(root, targets)
	if err == nil {
		p.Mended = mended
	}
	return p, err
}

// folder is the real path of a project's folder.
func folder(root string) (string, error) {
	info, err := os.Stat(root)
	if err != nil {
		return "", &fault.Error{File: root, Expected: "a project's folder", Found: "none", Cure: "check the path"}
	}
	if !info.IsDir() {
		return "", &fault.Error{File: root, Expected: "a project's folder", Found: "a file", Cure: "name the folder"}
	}
	return filepath.EvalSymlinks(root)
}

// Look is Open for looking on: it changes nothing.
func Look(root string, targets []target.Target) (*Project, error) {
	root, err := folder(root)
	if err != nil {
		return nil, err
	}
	p := &Project{Root: root, targets: targets, syntaxes: syntaxesOf(targets), faces: map[string]target.Face{}}
	p.makes.p = p
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
		return target.Face{}, &fault.Error{File: e.File, Expected: "the original of " + name, Found: "no file", Cure: "enrol it again, or strike it"}
	}
	if err != nil {
		return target.Face{}, fmt.Errorf("%s: %w", e.File, err)
	}
	if f.ID() != name {
		return target.Face{}, &fault.Error{File: e.File, Expected: fmt.Sprintf("the face %q", name), Found: fmt.Sprintf("%q", face.Short(f.ID())), Cure: "enrol the right file again, or correct the name in " + registry.FileName}
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

// syntaxesOf are the forms that several platforms use, and those of single ones.
func syntaxesOf(targets []target.Target) map[string]edit.Syntax {
	list := []edit.Syntax{xmldoc.List{}, xmldoc.Elements{}, source.Lines{}, edit.ByHand{}}
	for _, t := range targets {
		if s, ok := t.(target.Syntaxed); ok {
			list = append(list, s.Syntaxes()...)
		}
	}
	out := map[string]edit.Syntax{}
	for _, s := range list {
		out[s.Name()] = s
	}
	return out
}

// Syntax finds a form of documents by the name that entries have for it.
func (p *Project) Syntax(e edit.Entry) (edit.Syntax, error) {
	if s, ok := p.syntaxes[e.Syntax]; ok {
		return s, nil
	}
	return nil, &fault.Error{File: e.File, Expected: "a kind of manifest that Notaria knows", Found: fmt.Sprintf("%q on %s", e.Syntax, registry.LedgerName), Cure: "use the version of Notaria that wrote it"}
}

// write puts a file of Notaria's own into a set and on the ledger.
func (p *Project) write(set *change.Set, w registry.Written, content []byte) error {
	for dir := path.Dir(w.Path); dir != "."; dir = path.Dir(dir) {
		if _, err := os.Lstat(filepath.Join(p.Root, filepath.FromSlash(dir))); err != nil && !slices.Contains(p.Ledger.Folders, dir) {
			p.Ledger.Folders = append(p.Ledger.Folders, dir)
		}
	}
	if err := set.Write(w.Path, content); err != nil {
		return err
	}
	p.Ledger.Record(w)
	return nil
}

// remove deletes a file that is on the ledger, unless somebody has changed it
// since; then it stays, and is theirs.
func (p *Project) remove(set *change.Set, name string) error {
	w, ok := p.Ledger.Wrote(name)
	if !ok {
		return nil
	}
	p.Ledger.Forget(name)
	old, err := set.Read(name)
	if errors.Is(err, fs.ErrNotExist) {
		return nil
	}
	if err != nil || change.Sum(old) != w.SHA256 {
		return err
	}
	return set.Remove(name)
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
		if set.Files[i].Path == registry.LedgerName {
			set.Files[i].Summed = "account"
		}
	}
	return nil
}

// same says whether a file of the project is there, and has exactly this content.
func same(set *change.Set, name string, content []byte) (exists, equal bool, err error) {
	old, err := set.Read(name)
	if errors.Is(err, fs.ErrNotExist) {
		return false, false, nil
	}
	return err == nil, err == nil && bytes.Equal(old, content), err
}
