// Package change is a set of changes to the files of a project: it can be shown
// as a diff, and applied all or not at all.
//
// Apply writes every new content beside its target and syncs it, notes the
// whole plan in a journal, and only then renames. Until the journal says
// "ready", nothing of the project has changed and a run that was killed is
// undone by the next; from then on every byte is safely on disk and the next run
// finishes the renames. An error in the middle puts everything back.
package change

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"sort"
	"strings"
)

// A File is one file as it should become. Path is project-relative, with
// slashes.
type File struct {
	Path   string
	Before []byte // what the plan was made from; nil if there was no file
	After  []byte // nil to delete
	Exists bool   // a file was there
	Delete bool
	// Account says that the file is Notaria's own account, which a diff sums up
	// in a line like a binary file.
	Account bool
}

// A Set is a list of changes below one root folder.
type Set struct {
	Root  string
	Files []File
	// Prune names folders that Notaria made and that go if they end up empty.
	Prune []string
}

// An Error says which file cannot be changed, and why.
type Error struct{ Path, Expected, Found, Cure string }

func (e *Error) Error() string {
	return fmt.Sprintf("%s: expected %s, found %s; %s", e.Path, e.Expected, e.Found, e.Cure)
}

// Write adds a file's new content, unless the file has it already.
func (s *Set) Write(name string, content []byte) error {
	old, err := s.Read(name)
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	exists := err == nil
	if exists && bytes.Equal(old, content) {
		return nil
	}
	s.Files = append(s.Files, File{Path: name, Before: old, After: content, Exists: exists})
	return nil
}

// Remove adds a file's deletion; a file that is not there is no change.
func (s *Set) Remove(name string) error {
	old, err := s.Read(name)
	if errors.Is(err, fs.ErrNotExist) {
		return nil
	}
	if err != nil {
		return err
	}
	s.Files = append(s.Files, File{Path: name, Before: old, Exists: true, Delete: true})
	return nil
}

// maxRead bounds what is read for a diff; fonts and manifests stay far below.
const maxRead = 256 << 20

// Read reads a file of the project after making sure that it is inside.
func (s *Set) Read(name string) ([]byte, error) {
	full, err := Inside(s.Root, name)
	if err != nil {
		return nil, err
	}
	info, err := os.Lstat(full)
	if err != nil {
		return nil, err
	}
	if !info.Mode().IsRegular() || info.Size() > maxRead {
		return nil, &Error{name, "a regular file", kindOf(info), "move it out of the way"}
	}
	return os.ReadFile(full)
}

func kindOf(info fs.FileInfo) string {
	switch m := info.Mode(); {
	case m.IsDir():
		return "a folder"
	case m&fs.ModeSymlink != 0:
		return "a symbolic link"
	case m.IsRegular():
		return fmt.Sprintf("%d bytes", info.Size())
	}
	return "a special file"
}

// Inside gives the full path of a project-relative name, refusing names and
// symbolic links that lead out of the project. The last element must not be a
// link at all: a rename would replace the link and not what it points to.
func Inside(root, name string) (string, error) {
	if !filepath.IsLocal(filepath.FromSlash(name)) {
		return "", &Error{name, "a path inside the project", "one that leads out of it", "correct the path"}
	}
	realRoot, err := filepath.EvalSymlinks(root)
	if err != nil {
		return "", err
	}
	at := realRoot
	parts := strings.Split(path.Clean(name), "/")
	for i, part := range parts {
		at = filepath.Join(at, part)
		info, err := os.Lstat(at)
		if errors.Is(err, fs.ErrNotExist) {
			return filepath.Join(append([]string{at}, parts[i+1:]...)...), nil
		}
		if err != nil {
			return "", err
		}
		if info.Mode()&fs.ModeSymlink == 0 {
			if i < len(parts)-1 && !info.IsDir() {
				return "", &Error{name, "a folder at " + strings.Join(parts[:i+1], "/"), "a file in the folder's place", "move that file out of the way"}
			}
			continue
		}
		to, err := filepath.EvalSymlinks(at)
		if err != nil || to != realRoot && !strings.HasPrefix(to, realRoot+string(filepath.Separator)) {
			return "", &Error{name, "a path inside the project", "a symbolic link that leads out of it: " + strings.Join(parts[:i+1], "/"),
				"replace the link by the file or folder itself"}
		}
		if i == len(parts)-1 {
			return "", &Error{name, "a regular file", "a symbolic link", "replace the link by the file itself"}
		}
		at = to
	}
	return at, nil
}

// Empty says whether there is nothing to do.
func (s *Set) Empty() bool { return len(s.Files) == 0 }

// Sum is the SHA-256 of content in hex.
func Sum(b []byte) string {
	h := sha256.Sum256(b)
	return hex.EncodeToString(h[:])
}

// normalise sorts the files and refuses two changes of one.
func (s *Set) normalise() error {
	sort.SliceStable(s.Files, func(i, j int) bool { return s.Files[i].Path < s.Files[j].Path })
	for i := 1; i < len(s.Files); i++ {
		if s.Files[i].Path == s.Files[i-1].Path {
			return &Error{s.Files[i].Path, "one change of each file", "two", "this is a mistake in Notaria: report it"}
		}
	}
	return nil
}

// check makes sure, before anything is written, that every change can be made:
// the path is inside, the file is as it was when the plan was made, and both it
// and its folder may be written.
func (s *Set) check() error {
	for _, f := range s.Files {
		full, err := Inside(s.Root, f.Path)
		if err != nil {
			return err
		}
		info, err := os.Lstat(full)
		switch {
		case errors.Is(err, fs.ErrNotExist) && f.Exists:
			return &Error{f.Path, "the file that the plan was made from", "none", "run the command again"}
		case errors.Is(err, fs.ErrNotExist):
			if err := writableFolder(s.Root, filepath.Dir(full), f.Path); err != nil {
				return err
			}
			continue
		case err != nil:
			return err
		case !f.Exists:
			return &Error{f.Path, "no file", kindOf(info), "run the command again"}
		case info.Mode().Perm()&0o200 == 0:
			return &Error{f.Path, "a file that may be written", fmt.Sprintf("a read-only one (mode %04o)", info.Mode().Perm()),
				"make it writable (chmod u+w), then run the command again"}
		}
		if err := writableFolder(s.Root, filepath.Dir(full), f.Path); err != nil {
			return err
		}
		now, err := os.ReadFile(full)
		if err != nil {
			return err
		}
		if !bytes.Equal(now, f.Before) {
			return &Error{f.Path, "the content that the plan was made from", "another: it was changed in between", "run the command again"}
		}
	}
	return nil
}

// writableFolder checks the nearest folder that exists.
func writableFolder(root, dir, name string) error {
	for {
		info, err := os.Stat(dir)
		if errors.Is(err, fs.ErrNotExist) && dir != root {
			dir = filepath.Dir(dir)
			continue
		}
		if err != nil {
			return err
		}
		if !info.IsDir() {
			return &Error{name, "a folder to put it in", "a file in the folder's place", "move that file out of the way"}
		}
		if info.Mode().Perm()&0o200 == 0 {
			return &Error{name, "a folder that may be written", fmt.Sprintf("a read-only one (mode %04o)", info.Mode().Perm()),
				"make it writable (chmod u+w), then run the command again"}
		}
		return nil
	}
}
