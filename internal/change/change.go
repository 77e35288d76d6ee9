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
	"io"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"slices"
	"sort"
	"strings"

	"notaria/internal/fault"
)

// A File is one file as it should become. Path is project-relative, with
// slashes.
type File struct {
	Path   string
	Before []byte // what the plan was made from; nil if there was no file
	After  []byte // nil to delete
	Exists bool   // a file was there
	Delete bool
	// Summed, if it is set, is what a diff calls the file, which it sums up in a line like
	// a binary one: Notaria's own account, and generated code.
	Summed string
}

// Kind is what becomes of the file: "new", "changed" or "removed".
func (f File) Kind() string {
	switch {
	case f.Delete:
		return "removed"
	case !f.Exists:
		return "new"
	}
	return "changed"
}

// A Set is a list of changes below one root folder.
type Set struct {
	Root  string
	Files []File
	// Prune names folders that Notaria made and that go if they end up empty.
	Prune []string

	index   map[string]int // of Files, by path
	indexed int            // how many of them
	buffer  []byte         // for comparing
}

// wrong says which file cannot be changed, and why.
func wrong(path, expected, found, cure string) error {
	return &fault.Error{File: path, Expected: expected, Found: found, Cure: cure}
}

// Clone is a copy that can be added to without the other.
func (s *Set) Clone() *Set {
	return &Set{Root: s.Root, Files: slices.Clone(s.Files), Prune: slices.Clone(s.Prune)}
}

// pending finds the change of a file that is in the set already, -1 if there is none.
func (s *Set) pending(name string) int {
	if s.index == nil || s.indexed != len(s.Files) {
		s.index, s.indexed = make(map[string]int, len(s.Files)), len(s.Files)
		for i, f := range s.Files {
			s.index[f.Path] = i
		}
	}
	if i, ok := s.index[name]; ok {
		return i
	}
	return -1
}

// put adds a change, or exchanges the one that the set has of the file; a change that
// leaves everything as it is on the disk is none.
func (s *Set) put(f File) {
	i := s.pending(f.Path)
	if i < 0 {
		s.Files = append(s.Files, f)
		s.index[f.Path] = len(s.Files) - 1
		s.indexed = len(s.Files)
		return
	}
	old := s.Files[i]
	f.Before, f.Exists = old.Before, old.Exists
	s.Files[i] = f
	if f.Delete && !f.Exists || !f.Delete && f.Exists && bytes.Equal(f.Before, f.After) {
		s.Files = slices.Delete(s.Files, i, i+1)
		s.index = nil
	}
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
	s.put(File{Path: name, Before: old, After: content, Exists: exists})
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
	s.put(File{Path: name, Before: old, Exists: true, Delete: true})
	return nil
}

// maxRead bounds what is read for a diff; fonts and manifests stay far below.
const maxRead = 256 << 20

// Read reads a file of the project as the set leaves it, after making sure that it is
// inside.
func (s *Set) Read(name string) ([]byte, error) {
	if i := s.pending(name); i >= 0 {
		if s.Files[i].Delete {
			return nil, &fs.PathError{Op: "open", Path: name, Err: fs.ErrNotExist}
		}
		return s.Files[i].After, nil
	}
	full, _, err := s.regular(name)
	if err != nil {
		return nil, err
	}
	return os.ReadFile(full)
}

// regular is the path of a file of the project that may be read.
func (s *Set) regular(name string) (string, fs.FileInfo, error) {
	full, err := Inside(s.Root, name)
	if err != nil {
		return "", nil, err
	}
	info, err := os.Lstat(full)
	if err != nil {
		return "", nil, err
	}
	if !info.Mode().IsRegular() || info.Size() > maxRead {
		return "", nil, wrong(name, "a regular file", kindOf(info), "move it out of the way")
	}
	return full, info, nil
}

// Holds says whether a file is there, and has exactly this content, without holding what
// it has.
func (s *Set) Holds(name string, content []byte) (exists, equal bool, err error) {
	if s.pending(name) >= 0 {
		old, err := s.Read(name)
		if errors.Is(err, fs.ErrNotExist) {
			return false, false, nil
		}
		return err == nil, err == nil && bytes.Equal(old, content), err
	}
	full, info, err := s.regular(name)
	if errors.Is(err, fs.ErrNotExist) {
		return false, false, nil
	}
	if err != nil || info.Size() != int64(len(content)) {
		return err == nil, false, err
	}
	f, err := os.Open(full)
	if err != nil {
		return true, false, err
	}
	defer f.Close()
	if s.buffer == nil {
		s.buffer = make([]byte, 256<<10)
	}
	for {
		n, err := f.Read(s.buffer)
		if n > len(content) || !bytes.Equal(s.buffer[:n], content[:n]) {
			return true, false, nil
		}
		if content = content[n:]; errors.Is(err, io.EOF) {
			return true, len(content) == 0, nil
		}
		if err != nil {
			return true, false, err
		}
	}
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

// Inside returns the full path of a project-relative name, refusing names and
// symbolic links that lead out of the project. The last element must not be a
// link at all: a rename would replace the link and not what it points to.
func Inside(root, name string) (string, error) {
	if !filepath.IsLocal(filepath.FromSlash(name)) {
		return "", wrong(name, "a path inside the project", "one that leads out of it", "correct the path")
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
				return "", wrong(name, "a folder at "+strings.Join(parts[:i+1], "/"), "a file in the folder's place", "move that file out of the way")
			}
			continue
		}
		to, err := filepath.EvalSymlinks(at)
		if err != nil || to != realRoot && !strings.HasPrefix(to, realRoot+string(filepath.Separator)) {
			return "", wrong(name, "a path inside the project", "a symbolic link that leads out of it: "+strings.Join(parts[:i+1], "/"),
				"replace the link by the file or folder itself")
		}
		if i == len(parts)-1 {
			return "", wrong(name, "a regular file", "a symbolic link", "replace the link by the file itself")
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

// normalise sorts the files.
func (s *Set) normalise() {
	sort.SliceStable(s.Files, func(i, j int) bool { return s.Files[i].Path < s.Files[j].Path })
	s.index = nil
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
			return wrong(f.Path, "the file that the plan was made from", "none", "run the command again")
		case errors.Is(err, fs.ErrNotExist):
			if err := writableFolder(s.Root, filepath.Dir(full), f.Path); err != nil {
				return err
			}
			continue
		case err != nil:
			return err
		case !f.Exists:
			return wrong(f.Path, "no file", kindOf(info), "run the command again")
		case info.Mode().Perm()&0o200 == 0:
			return wrong(f.Path, "a file that may be written", fmt.Sprintf("a read-only one (mode %04o)", info.Mode().Perm()),
				"make it writable (chmod u+w), then run the command again")
		}
		if err := writableFolder(s.Root, filepath.Dir(full), f.Path); err != nil {
			return err
		}
		now, err := os.ReadFile(full)
		if err != nil {
			return err
		}
		if !bytes.Equal(now, f.Before) {
			return wrong(f.Path, "the content that the plan was made from", "another: it was changed in between", "run the command again")
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
			return wrong(name, "a folder to put it in", "a file in the folder's place", "move that file out of the way")
		}
		if info.Mode().Perm()&0o200 == 0 {
			return wrong(name, "a folder that may be written", fmt.Sprintf("a read-only one (mode %04o)", info.Mode().Perm()),
				"make it writable (chmod u+w), then run the command again")
		}
		return nil
	}
}
