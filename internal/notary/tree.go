package notary

import (
	"errors"
	"fmt"
	"io/fs"
	"path"
	"runtime"
	"slices"
	"sort"
	"strings"
	"sync"

	"notaria/internal/disk"
	"notaria/internal/fault"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

const (
	mostTreeFiles = 400_000
	mostManifest  = 1 << 20  // bytes
	mostProject   = 16 << 20 // of an Xcode project
	mostCode      = 4 << 20  // of a source file
)

// leftOver is what the names of a run's own files look like.
var leftOver = lazy.Regexp(`^\..*\.notaria-(new|old)-[0-9a-f]{16}$`)

// skips are folders that no platform alone makes: of dependencies, and of build outputs.
var skips = []platform.Skip{{Folder: "build"}, {Folder: "vendor"}, {Folder: "target", Beside: []string{"Cargo.toml"}}}

// skipsOf are these, and those of platforms.
func skipsOf(platforms []platform.Platform) []platform.Skip {
	out := slices.Clone(skips)
	for _, p := range platforms {
		if s, ok := p.(platform.Skipper); ok {
			out = append(out, s.Skips()...)
		}
	}
	return out
}

// A Tree is the list of a project's files, read once.
type Tree struct {
	dir   *disk.Folder
	files []string // project-relative, sorted
	named map[string][]string
	// folders are those that were listed: what is directly in them and not among the files is not
	// there. special are entries that are neither files nor folders, and files that are passed over.
	folders, special map[string]bool
	// Links are symbolic links that could be an app's folder, Closed the folders that
	// cannot be read: what is in either is not seen.
	Links, Closed []string
	// Unread is what should have been read and could not be, each file once; noting guards it.
	Unread []Unread
	noting sync.Mutex
	// Left are the files of runs that ended early.
	Left []string
	// claiming makes the claims of all platforms, when one is first asked for; claims are these.
	claiming func() map[string]platform.Claim
	claims   map[string]platform.Claim
	reached  []string // sorted, once it was asked for
	followed bool
}

// mostFollowed is how many links are followed.
const mostFollowed = 1000

// Reached lists the fonts below a folder that links within the project lead to, by the links' paths: what a link
// leads to is in the listing by its own path.
func (t *Tree) Reached(dir string) []string {
	if !t.followed {
		t.followed = true
		for _, link := range t.Links[:min(len(t.Links), mostFollowed)] {
			target, ok := t.dir.LeadsTo(link)
			if !ok {
				continue
			}
			for _, f := range t.Under(target) {
				if platform.LooksLikeFont(f) {
					t.reached = append(t.reached, path.Join(link, strings.TrimPrefix(f, target)))
				}
			}
			if t.Has(target) && platform.LooksLikeFont(link) {
				t.reached = append(t.reached, link)
			}
		}
		sort.Strings(t.reached)
	}
	var out []string
	for _, f := range t.reached {
		if _, below := platform.Below(platform.Plain(dir), f); below {
			out = append(out, f)
		}
	}
	return out
}

// There says whether a file is there for whoever reads: by itself, or as a font that a link leads to.
func (t *Tree) There(name string) bool { return t.Has(name) || slices.Contains(t.Reached(""), name) }

// Claim is what a platform says of a folder, or of a page.
func (t *Tree) Claim(name string) platform.Claim {
	if t.claims == nil && t.claiming != nil {
		t.claims = map[string]platform.Claim{} // what platforms ask meanwhile is not claimed
		t.claims = t.claiming()
	}
	if name == "." {
		name = ""
	}
	return t.claims[name]
}

// Unread is a file that cannot be read, and why.
type Unread struct {
	File string
	Err  error
}

// Fault is the error in the form that people meet.
func (u Unread) Fault() error {
	var f *fault.Error
	if errors.As(u.Err, &f) {
		return f
	}
	found := u.Err.Error()
	var p *fs.PathError
	if errors.As(u.Err, &p) {
		found = p.Err.Error()
	}
	return &fault.Error{File: u.File, Expected: "a file that can be read", Found: found, Cure: "let this user read it (chmod u+r), or check the disk"}
}

// ReadTree lists the files of a folder. Hidden folders, dependencies and build output
// are passed over, and symbolic links are not followed.
func ReadTree(dir *disk.Folder, skips []platform.Skip) (*Tree, error) {
	skipped, seen := map[string]bool{}, map[string]bool{}
	for _, s := range skips {
		if s.Seen {
			seen[s.Folder] = true
		} else if len(s.Beside) == 0 {
			skipped[s.Folder] = true
		}
	}
	t := &Tree{dir: dir, named: map[string][]string{}, folders: map[string]bool{}, special: map[string]bool{}}
	err := dir.Walk(func(name string, d fs.DirEntry, err error) error {
		if err != nil {
			if name == "." {
				return err
			}
			if !errors.Is(err, fs.ErrPermission) && !errors.Is(err, fs.ErrNotExist) {
				return err // to go on would be to take its apps for gone
			}
			t.Closed = append(t.Closed, name)
			delete(t.folders, name)
			t.special[name] = true
			return nil
		}
		if d.IsDir() {
			if name != "." && (skipped[d.Name()] || strings.HasPrefix(d.Name(), ".") && !seen[d.Name()]) {
				t.special[name] = true
				return fs.SkipDir
			}
			t.folders[name] = true
			return nil
		}
		if d.Type() != 0 {
			t.special[name] = true
		}
		if d.Type()&fs.ModeSymlink != 0 && !skipped[d.Name()] && !strings.HasPrefix(d.Name(), ".") {
			t.Links = append(t.Links, name)
		}
		if leftOver.MatchString(d.Name()) {
			t.Left, t.special[name] = append(t.Left, name), true
			return nil
		}
		t.files = append(t.files, name)
		if len(t.files) > mostTreeFiles {
			return &fault.Error{File: dir.Path(), Expected: fmt.Sprintf("at most %d files", mostTreeFiles), Found: "more", Cure: "name the app's own folder with --project"}
		}
		return nil
	})
	sort.Strings(t.files)
	t.passOver(skips)
	for _, f := range t.files {
		t.named[path.Base(f)] = append(t.named[path.Base(f)], f)
	}
	dir.Listed(func(name string) bool { return t.Has(name) && !t.special[name] })
	return t, err
}

// absent says that the listing shows a file not to be there: the disk need not be asked. Of folders that were not
// listed it shows nothing, and where capitals do not count, another spelling can mean the file.
func (t *Tree) absent(name string) bool {
	if runtime.GOOS == "darwin" || runtime.GOOS == "windows" {
		return false
	}
	return path.Clean(name) == name && t.folders[path.Dir(name)] && !t.Has(name) && !t.special[name] && !t.folders[name]
}

// passOver leaves out the folders that count as skipped because of a file beside them.
func (t *Tree) passOver(skips []platform.Skip) {
	made := map[string]bool{} // folders
	for _, s := range skips {
		for _, f := range t.files {
			if slices.Contains(s.Beside, path.Base(f)) {
				made[path.Join(path.Dir(f), s.Folder)] = true
			}
		}
	}
	if len(made) == 0 {
		return
	}
	t.files = slices.DeleteFunc(t.files, func(f string) bool {
		for i := range len(f) {
			if f[i] == '/' && made[f[:i]] {
				t.special[f] = true
				return true
			}
		}
		return false
	})
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

// most is how large a file may be that is read as text: its parser is bounded in turn,
// but what it makes of each byte takes more than a byte.
func most(name string) int64 {
	switch {
	case path.Ext(name) == ".pbxproj":
		return mostProject
	case language.Of(name) != nil && !manifests[path.Base(name)]:
		return mostCode
	}
	return mostManifest
}

// manifests are those that are written in a language which code is written in, too.
var manifests = map[string]bool{"Package.swift": true, "build.gradle": true, "build.gradle.kts": true, "package.json": true, "app.json": true, "AndroidManifest.xml": true, "MauiProgram.cs": true}

// Read reads a manifest or a source file.
func (t *Tree) Read(name string) ([]byte, error) {
	if t.absent(name) {
		return nil, &fs.PathError{Op: "open", Path: name, Err: fs.ErrNotExist}
	}
	b, err := t.dir.Read(name, most(name))
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		t.unreadable(name, err)
	}
	return b, err
}

// Glance reads a file in which something may be looked for, of at most so many bytes; false for a
// larger one, which people did not write, and which is no reason to leave an app unserved.
func (t *Tree) Glance(name string, largest int64) ([]byte, bool) {
	if t.absent(name) {
		return nil, false
	}
	b, err := t.dir.Read(name, largest)
	var large *disk.TooLargeError
	if err != nil && !errors.Is(err, fs.ErrNotExist) && !errors.As(err, &large) && !t.IsLink(name) { // that leads out
		t.unreadable(name, err)
	}
	return b, err == nil
}

// IsLink says whether a file of the listing is a symbolic link.
func (t *Tree) IsLink(name string) bool { return t.special[name] && slices.Contains(t.Links, name) }

// unreadable notes a file that cannot be read, once.
func (t *Tree) unreadable(name string, err error) {
	t.noting.Lock()
	defer t.noting.Unlock()
	if !slices.ContainsFunc(t.Unread, func(u Unread) bool { return u.File == name }) {
		t.Unread = append(t.Unread, Unread{name, err})
	}
}

// Hidden says whether a path is in a folder that is not seen, and why not: it cannot be
// read, or it is a symbolic link.
func (t *Tree) Hidden(name string) error {
	for _, dir := range t.Closed {
		if name == dir || strings.HasPrefix(name, dir+"/") {
			return &fault.Error{File: dir, Expected: "a folder that can be read", Found: "one that this user may not read", Cure: "let this user read it (chmod u+rx)"}
		}
	}
	for _, link := range t.Links {
		if name == link || strings.HasPrefix(name, link+"/") {
			return &fault.Error{File: link, Expected: "the folder itself", Found: "a symbolic link, which Notaria does not follow", Cure: "replace the link by the folder, or run Notaria in the folder that it leads to"}
		}
	}
	return nil
}
