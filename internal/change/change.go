// Package change is a set of changes to the files of a project: it can be shown
// as a diff, and applied all or not at all.
//
// A Hold, which one run at a time has, applies it. It notes the whole plan in a journal,
// in a place that no project can supply, writes every new content beside its target and
// syncs it, and only then exchanges the files. Until the journal says "ready", nothing
// of the project has changed and a run that was killed is undone by the next; from then
// on every byte is safely on disk and the next run finishes. An error in the middle puts
// everything back. A person's edit wins at any time: what was there is kept, and looked
// at again, until the whole change stands.
package change

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"maps"
	"path"
	"slices"
	"sort"

	"notaria/internal/disk"
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

// A Set is a list of changes below one folder.
type Set struct {
	Dir   *disk.Folder
	Files []File
	// Prune names folders that Notaria made and that go if they end up empty.
	Prune []string

	seen    map[string]string // SHA-256 of what was read of each file first, "" for none
	index   map[string]int    // of Files, by path
	indexed int               // how many of them
	buffer  []byte            // for comparing
}

// wrong says which file cannot be changed, and why.
func wrong(path, expected, found, cure string) error {
	return &fault.Error{File: path, Expected: expected, Found: found, Cure: cure}
}

// Clone is a copy that can be added to without the other.
func (s *Set) Clone() *Set {
	return &Set{Dir: s.Dir, Files: slices.Clone(s.Files), Prune: slices.Clone(s.Prune), seen: maps.Clone(s.seen)}
}

// See tells a set what was read of a file before: nil if there was none. A change of a
// file that is another by then is refused.
func (s *Set) See(name string, content []byte, exists bool) error {
	sum := ""
	if exists {
		sum = Sum(content)
	}
	if first, ok := s.seen[name]; ok && first != sum {
		return changed(name)
	}
	if s.seen == nil {
		s.seen = map[string]string{}
	}
	s.seen[name] = sum
	return nil
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

// mostRead bounds what is read for a diff; fonts and manifests stay far below.
const mostRead = 256 << 20

// Coming is what a file will hold by the set: gone says that it will not be there; ok is false for one that the set leaves as it is.
func (s *Set) Coming(name string) (text []byte, gone, ok bool) {
	i := s.pending(name)
	if i < 0 {
		return nil, false, false
	}
	return s.Files[i].After, s.Files[i].Delete, true
}

// Read reads a file of the project as the set leaves it.
func (s *Set) Read(name string) ([]byte, error) {
	if i := s.pending(name); i >= 0 {
		if s.Files[i].Delete {
			return nil, &fs.PathError{Op: "open", Path: name, Err: fs.ErrNotExist}
		}
		return s.Files[i].After, nil
	}
	b, err := s.Dir.Read(name, mostRead)
	if err == nil || errors.Is(err, fs.ErrNotExist) {
		if err := s.See(name, b, err == nil); err != nil {
			return nil, err
		}
	}
	return b, err
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
	f, info, err := s.Dir.Regular(name, mostRead)
	if errors.Is(err, fs.ErrNotExist) {
		return false, false, s.See(name, nil, false)
	}
	if err != nil {
		return false, false, err
	}
	defer f.Close()
	if info.Size() != int64(len(content)) {
		return true, false, nil
	}
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

// check makes sure, before anything is written, that every change can be made: the file
// is as it was when the plan was made, and both it and its folder may be written.
func (s *Set) check() error {
	dirs := map[string]bool{}
	for _, f := range s.Files {
		if dir := path.Dir(f.Path); !dirs[dir] {
			if err := s.Dir.Writable(f.Path, dir); err != nil {
				return err
			}
			dirs[dir] = true
		}
		info, err := s.Dir.Lstat(f.Path)
		switch {
		case errors.Is(err, fs.ErrNotExist) && f.Exists:
			return wrong(f.Path, "the file that the plan was made from", "none", "run the command again")
		case errors.Is(err, fs.ErrNotExist):
			if err := disk.Portable(f.Path); err != nil {
				return err
			}
			continue
		case err != nil:
			return err
		case !f.Exists:
			return wrong(f.Path, "no file", disk.KindOf(info), "run the command again")
		case !info.Mode().IsRegular():
			return wrong(f.Path, "a regular file", disk.KindOf(info), "replace the link by the file itself")
		case info.Mode().Perm()&0o200 == 0:
			return disk.ReadOnly(f.Path, "file", info)
		case disk.Names(info) > 1:
			return wrong(f.Path, "a file with one name", fmt.Sprintf("one with %d names (hard links), of which only this one would change", disk.Names(info)),
				"put a copy of it in its place (cp, then mv), then run the command again")
		}
		now, err := s.Dir.Sum(f.Path, mostRead)
		if err != nil {
			return err
		}
		if now != Sum(f.Before) {
			return changed(f.Path)
		}
	}
	return nil
}
