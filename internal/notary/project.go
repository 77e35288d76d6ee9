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
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"slices"
	"strconv"

	"notaria/internal/change"
	"notaria/internal/disk"
	"notaria/internal/edit"
	"notaria/internal/edit/source"
	"notaria/internal/edit/xmldoc"
	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/pixel"
	"notaria/internal/platform"
	"notaria/internal/registry"
	"notaria/internal/sfnt"
)

// A Project is a folder with what Notaria knows of it.
type Project struct {
	Root     string // the real path of its folder
	Dir      *disk.Folder
	Registry *registry.Registry
	Ledger   *registry.Ledger
	Tree     *Tree
	// Found says whether the folder holds a registry already.
	Found bool
	// Mended says that an earlier run that was killed has just been ended.
	Mended bool
	// DOS says that generated text on the disk has the line ends of Windows, as version
	// control can write them; it is set when a plan is compared.
	DOS bool
	// Interrupted says that an earlier run was killed, and that this one does not end it.
	Interrupted bool
	// Discarded is where a journal was moved to, LeftBehind the files of its run.
	Discarded, LeftBehind []string

	begun    *change.Set       // an empty one
	loaded   map[string]string // SHA-256 of the registry and the ledger as they were read, of nothing where there was none
	hold     *change.Hold      // nil where the project is only looked at
	targets  []platform.Platform
	syntaxes map[string]edit.Syntax
	makes    artefacts

	sites     map[string]found // by target
	passed    []PassedOver
	originals string // the folder; "" where not known

	faces    map[string]platform.Face
	words    []rune // characters of the project's strings, where worded
	worded   bool
	wordless error                    // why they cannot be looked through
	pinned   map[string]registry.Face // instances that roles need, by name
	present  []platform.Present
	lying    []platform.Face // of present
	broken   map[string]*sfnt.NotFontError
	covers   map[string]sfnt.Coverage
	// incoming are originals, by their files, that this run gives other bytes.
	incoming map[string][]byte
	looked   bool                       // present is known
	striking bool                       // this run takes faces off
	merging  *marks                     // nil where they were not looked for
	bears    bool                       // marks of a merge stop single apps, and not the run
	drawn    map[string]platform.Bitmap // pixel fonts, by what was asked for
	sources  map[string]*pixel.Source
	// pixelsDrawn is how many pixels the fonts have together.
	pixelsDrawn int
}

// FindRoot returns the project's folder: the nearest one upward from start that holds a
// registry of this user's, else start itself. foreign is the first one upward that holds
// a registry of another user's, who could have put it there for others to run into.
func FindRoot(start string) (root, foreign string, err error) {
	if start, err = filepath.Abs(start); err != nil {
		return "", "", err
	}
	for dir := start; ; dir = filepath.Dir(dir) {
		if info, err := os.Lstat(filepath.Join(dir, registry.FileName)); err == nil {
			if dir == start || trusted(info) {
				return dir, foreign, nil
			}
			if foreign == "" {
				foreign = dir
			}
		}
		if dir == filepath.Dir(dir) {
			return start, foreign, nil
		}
	}
}

// trusted says whether a file is this user's, or that of the user whom root works for.
func trusted(info fs.FileInfo) bool {
	uid, known := disk.Owner(info)
	return !known || uid == os.Geteuid() || os.Geteuid() == 0 && os.Getenv("SUDO_UID") == strconv.Itoa(uid)
}

// An Opening says how a project is opened to be changed.
type Opening struct {
	// Tell is called with who it is that is waited for; may be nil.
	Tell func(who string)
	// Before is asked before each operation on files: see disk.Folder. It is for tests.
	Before func(op, name string) error
	// Discard gives up what an interrupted run began, instead of ending it.
	Discard bool
}

// Targets are those that the project was opened for.
func (p *Project) Targets() []platform.Platform { return p.targets }

// Open loads the project in a folder to change it, as the only one that does. What an
// interrupted run of this user began is completed or rolled back first. Close ends it.
func Open(ctx context.Context, root string, targets []platform.Platform, how Opening) (*Project, error) {
	dir, err := disk.Open(root)
	if err != nil {
		return nil, err
	}
	dir.Before = how.Before
	hold, err := change.Take(ctx, dir, how.Tell, how.Before)
	if err != nil {
		dir.Close()
		return nil, err
	}
	p, err := begin(ctx, dir, hold, targets, how)
	if err != nil {
		hold.Release()
		dir.Close()
	}
	return p, err
}

func begin(ctx context.Context, dir *disk.Folder, hold *change.Hold, targets []platform.Platform, how Opening) (*Project, error) {
	var moved, left []string
	var mended bool
	var err error
	if how.Discard {
		moved, left, err = hold.Discard()
	} else {
		mended, err = hold.Recover(ctx)
	}
	if err != nil {
		return nil, err
	}
	p, err := load(dir, targets)
	if err != nil {
		return nil, err
	}
	p.hold, p.Mended, p.Discarded, p.LeftBehind = hold, mended, moved, left
	return p, nil
}

// Look loads the project in a folder to look at it: nothing is changed, and a run that
// is at work is not disturbed.
func Look(root string, targets []platform.Platform) (*Project, error) {
	dir, err := disk.Open(root)
	if err != nil {
		return nil, err
	}
	p, err := load(dir, targets)
	if err != nil {
		dir.Close()
		return nil, err
	}
	p.Interrupted = change.Interrupted(dir)
	return p, nil
}

// LookAside loads the registry of the project in a folder, and nothing of its tree: for what is asked about other folders. nil, if
// there is no project.
func LookAside(root string, targets []platform.Platform) (*Project, error) {
	dir, err := disk.Open(root)
	if err != nil {
		return nil, err
	}
	p, err := loadRegistry(dir, targets)
	if err != nil || !p.Found {
		dir.Close()
		return nil, err
	}
	return p, nil
}

// Changed says whether somebody has changed the registry or the ledger since the project was
// loaded: what was found out of the rest may be half of before and half of after.
func (p *Project) Changed() bool {
	for name, was := range p.loaded {
		text, err := p.Dir.Fresh(name, mostProject)
		if sum := change.Sum(text); err != nil && !errors.Is(err, fs.ErrNotExist) || sum != was {
			return true
		}
	}
	return false
}

// Looks says whether the project was loaded to look at it.
func (p *Project) Looks() bool { return p.hold == nil }

// AtWork says whether another run of this user is changing the project.
func (p *Project) AtWork() bool { return change.AtWork(p.Dir) }

// Apply makes a set of changes, all or none.
func (p *Project) Apply(ctx context.Context, set *change.Set) error {
	p.Dir.Forget()
	return p.hold.Apply(ctx, set)
}

// Close gives the project back.
func (p *Project) Close() {
	if p.hold != nil {
		p.hold.Release()
	}
	p.Dir.Close()
}

// Nothing is a change set that changes nothing.
func (p *Project) Nothing() *change.Set { return p.set() }

// set is an empty set of changes of the project. It knows what the registry and the
// ledger were read from.
func (p *Project) set() *change.Set {
	if p.begun == nil {
		p.begun = &change.Set{Dir: p.Dir}
	}
	return p.begun.Clone()
}

func load(dir *disk.Folder, targets []platform.Platform) (*Project, error) {
	p, err := loadRegistry(dir, targets)
	if err != nil {
		return nil, err
	}
	if p.Tree, err = ReadTree(dir, skipsOf(targets)); err != nil {
		return nil, err
	}
	p.Tree.claiming = p.claims
	p.respell()
	return p, nil
}

// loadRegistry reads the registry and the ledger alone.
func loadRegistry(dir *disk.Folder, targets []platform.Platform) (*Project, error) {
	p := &Project{Root: dir.Path(), Dir: dir, targets: targets, syntaxes: syntaxesOf(targets), faces: map[string]platform.Face{}}
	p.makes.p = p
	dir.Remember()
	set := p.set()
	p.begun = set
	for name, most := range map[string]int64{registry.FileName: mostManifest, registry.LedgerName: mostProject} {
		r, _, err := dir.Regular(name, most)
		if err == nil {
			r.Close()
		} else if !errors.Is(err, fs.ErrNotExist) {
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
	text, err := set.Read(registry.FileName)
	p.loaded = map[string]string{registry.FileName: change.Sum(text), registry.LedgerName: change.Sum(ledger)}
	switch {
	case errors.Is(err, fs.ErrNotExist):
		p.Registry = registry.New()
	case err != nil:
		return nil, err
	default:
		p.Found = true
		if err := p.unmerged(text); err != nil {
			return nil, err
		}
		if isDOS(text) {
			text = unix(text) // it is written as it was
		}
		if p.Registry, err = registry.Parse(text); err != nil {
			return nil, err
		}
	}
	return p, nil
}

// claims are those of all platforms, of several on one place the strongest.
func (p *Project) claims() map[string]platform.Claim {
	out := map[string]platform.Claim{}
	for _, t := range p.targets {
		c, ok := t.(platform.Claimer)
		if !ok {
			continue
		}
		opt, _ := p.Options(t) // what is wrong with them is told where its apps are looked for
		for name, claim := range c.Claims(p.Tree, opt) {
			out[name] = max(out[name], claim)
		}
	}
	return out
}

// OriginalsFolder is where the originals are: the folder of the registry, by the name that it has in
// the tree where that differs by capitals.
func (p *Project) OriginalsFolder() string {
	if p.originals == "" {
		p.originals = platform.Spelled(p.Tree, p.Registry.Folder)
	}
	return p.originals
}

// Face reads an enrolled face's names and metrics from its original.
func (p *Project) Face(name string) (platform.Face, error) {
	if f, ok := p.faces[name]; ok {
		return f, nil
	}
	e, ok := p.Entry(name)
	if !ok {
		return platform.Face{}, fmt.Errorf("no face %q is enrolled", name)
	}
	f, err := p.describe(e)
	if err != nil {
		return platform.Face{}, err
	}
	if f.ID() != name {
		return platform.Face{}, &fault.Error{File: e.File, Expected: fmt.Sprintf("the face %q", name), Found: fmt.Sprintf("%q", face.Short(f.ID())), Cure: "enrol the right file again, or correct the name in " + registry.FileName}
	}
	out := platform.Face{Face: f, Ext: path.Ext(e.File)}
	p.faces[name] = out
	return out, nil
}

// mostFont is how large a font file of a project may be, in bytes.
const mostFont = 64 << 20

func (p *Project) readOriginal(name string) (f face.Face, err error) {
	err = p.font(name, func(file *sfnt.File, size int64) error {
		f, _, err = face.Read(file.Font(0), face.Options{})
		f.Bytes, f.Container = size, string(file.Container)
		return err
	})
	return f, err
}

// font opens a font file for a moment. An original is read whole, for it is compared with what stands in the apps;
// of others only the tables are read that are asked for.
func (p *Project) font(name string, look func(file *sfnt.File, size int64) error) error {
	var in io.ReaderAt
	var size int64
	if slices.ContainsFunc(p.Registry.Faces, func(e registry.Face) bool { return e.File == name }) {
		b, err := p.original(name)
		if err != nil {
			return err
		}
		in, size = bytes.NewReader(b), int64(len(b))
	} else {
		r, info, err := p.Dir.Regular(name, mostFont)
		if err != nil {
			return err
		}
		defer r.Close()
		in, size = r, info.Size()
	}
	file, err := sfnt.Open(in, size)
	if err != nil {
		return err
	}
	return look(file, size)
}

// Covers are the characters that a font file of the project holds.
func (p *Project) Covers(name string) (sfnt.Coverage, error) {
	if c, ok := p.covers[name]; ok {
		return c, nil
	}
	var c sfnt.Coverage
	err := p.font(name, func(file *sfnt.File, _ int64) (err error) {
		c, err = file.Font(0).Coverage()
		return err
	})
	if err == nil {
		if p.covers == nil {
			p.covers = map[string]sfnt.Coverage{}
		}
		p.covers[name] = c
	}
	return c, err
}

// syntaxesOf are the forms that several platforms use, and those of single ones.
func syntaxesOf(targets []platform.Platform) map[string]edit.Syntax {
	list := []edit.Syntax{xmldoc.List{}, xmldoc.Elements{}, source.Lines{}, edit.ByHand{}}
	for _, t := range targets {
		if s, ok := t.(platform.Syntaxed); ok {
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
		if p.Dir.Missing(dir) && !slices.Contains(p.Ledger.Folders, dir) {
			p.Ledger.Folders = append(p.Ledger.Folders, dir)
		}
	}
	put := set.Write
	if isText(content) {
		put = func(name string, content []byte) error { return writeText(set, name, content) }
	}
	if err := put(w.Path, content); err != nil {
		return err
	}
	p.Ledger.Record(w)
	return nil
}

// remove deletes a file that is on the ledger, if it is what Notaria would have put there.
// Else it stays, and is somebody's: the ledger is a claim that anybody can write.
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
	if err != nil || !p.ours(w, old) {
		return err
	}
	return set.Remove(name)
}

// seal adds the registry and the ledger to a set, and names the folders that
// nothing of Notaria's is in any more.
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
	if err := p.attributes(set, ledger == nil); err != nil {
		return err
	}
	if ledger, err = p.Ledger.Bytes(); err != nil {
		return err
	}
	for _, f := range []struct {
		name string
		text []byte
	}{{registry.FileName, p.Registry.Text()}, {registry.LedgerName, ledger}} {
		if f.text == nil {
			err = set.Remove(f.name)
		} else {
			err = writeText(set, f.name, f.text)
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

// same says whether a file of the project is there, and has this content; the line ends
// of text do not count.
func same(set *change.Set, name string, content []byte) (exists, equal bool, err error) {
	old, err := set.Read(name)
	if errors.Is(err, fs.ErrNotExist) {
		return false, false, nil
	}
	return err == nil, err == nil && (bytes.Equal(old, content) || isDOS(old) && isText(old) && bytes.Equal(unix(old), unix(content))), err
}
