// Package disk is a project's folder as Notaria may use it: every file below it is
// looked at, read, made, moved and removed through here, and through nothing else.
//
// A project can come from anybody. So every path is resolved below the opened folder
// (os.Root), not by its text; only regular files are opened, up to a size; nothing is
// written through a symbolic link; new files are made under names that are free; and
// the folders of version control are never written to. No operation replaces a file
// whose content was not looked at: Move fails where something is in the way, and Swap
// exchanges two files, so that what was there is still there.
package disk

import (
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"strings"

	"notaria/internal/fault"
)

// A Folder is an open folder. All names are relative to it, with slashes.
type Folder struct {
	root *os.Root
	path string

	memory *memory // nil where nothing is kept
	listed func(name string) bool

	// Before is asked before each operation of the system; an error of its own takes
	// the operation's place. It is for tests, which make every operation fail once.
	Before func(op, name string) error
}

// Open opens a project's folder; path may go through symbolic links.
func Open(path string) (*Folder, error) {
	info, err := os.Stat(path)
	if err != nil {
		return nil, &fault.Error{File: path, Expected: "a project's folder", Found: "none", Cure: "check the path"}
	}
	if !info.IsDir() {
		return nil, &fault.Error{File: path, Expected: "a project's folder", Found: "a file", Cure: "name the folder"}
	}
	real, err := filepath.EvalSymlinks(path)
	if err != nil {
		return nil, err
	}
	root, err := os.OpenRoot(real)
	if err != nil {
		return nil, err
	}
	return &Folder{root: root, path: real}, nil
}

// Path is the real path of the folder.
func (f *Folder) Path() string { return f.path }

// Close gives the folder back.
func (f *Folder) Close() error {
	f.Forget()
	return f.root.Close()
}

func (f *Folder) before(op, name string) error {
	if f.Before == nil {
		return nil
	}
	return f.Before(op, name)
}

func wrong(name, expected, found, cure string) error {
	return &fault.Error{File: name, Expected: expected, Found: found, Cure: cure}
}

// local refuses names that lead out.
func local(name string) error {
	if !filepath.IsLocal(filepath.FromSlash(name)) {
		return wrong(name, "a path inside the project", "one that leads out of it", "correct the path")
	}
	return nil
}

// outside puts the refusal of the system to leave the folder into words.
func outside(name string, err error) error {
	if err != nil && strings.Contains(err.Error(), "path escapes from parent") {
		return wrong(name, "a path inside the project", "a symbolic link that leads out of it", "replace the link by the file or folder itself")
	}
	return err
}

// Lstat looks at a file without following a symbolic link at its end.
func (f *Folder) Lstat(name string) (fs.FileInfo, error) {
	if err := errors.Join(local(name), f.before("lstat", name)); err != nil {
		return nil, err
	}
	info, err := f.root.Lstat(filepath.FromSlash(name))
	return info, outside(name, err)
}

// LeadsTo is the path within the folder that a symbolic link leads to; false if it leads out, or nowhere.
func (f *Folder) LeadsTo(name string) (string, bool) {
	if local(name) != nil || f.before("follow", name) != nil {
		return "", false
	}
	real, err := filepath.EvalSymlinks(filepath.Join(f.path, filepath.FromSlash(name)))
	if err != nil {
		return "", false
	}
	rel, err := filepath.Rel(f.path, real)
	return filepath.ToSlash(rel), err == nil && filepath.IsLocal(rel)
}

// Missing says whether nothing is there, not even a broken link.
func (f *Folder) Missing(name string) bool {
	_, err := f.Lstat(name)
	return errors.Is(err, fs.ErrNotExist)
}

// KindOf names what is there in the words of messages.
func KindOf(info fs.FileInfo) string {
	switch m := info.Mode(); {
	case m.IsDir():
		return "a folder"
	case m&fs.ModeSymlink != 0:
		return "a symbolic link"
	case m.IsRegular():
		return fmt.Sprintf("%d bytes", info.Size())
	case m&fs.ModeNamedPipe != 0:
		return "a pipe"
	case m&fs.ModeSocket != 0:
		return "a socket"
	case m&fs.ModeDevice != 0:
		return "a device"
	}
	return "a special file"
}

// A TooLargeError is why a file is not read: a fault.Error.
type TooLargeError struct{ err error }

func (e *TooLargeError) Error() string { return e.err.Error() }
func (e *TooLargeError) Unwrap() error { return e.err }

// regular refuses what is no regular file, or larger than most bytes.
func regular(name string, info fs.FileInfo, most int64) error {
	switch {
	case !info.Mode().IsRegular():
		return wrong(name, "a regular file", KindOf(info), "move it out of the way")
	case info.Size() > most:
		return &TooLargeError{wrong(name, "a file of at most "+Size(most), Size(info.Size()), "move it out of the way, or leave that folder out")}
	}
	return nil
}

// Size is a number of bytes as people read it.
func Size(n int64) string {
	if n >= 1<<20 && n%(1<<20) == 0 {
		return fmt.Sprintf("%d MiB", n>>20)
	}
	return fmt.Sprintf("%d bytes", n)
}

// Regular opens a regular file of at most most bytes for reading. Kind and size are
// looked at before it is opened and again afterwards: a pipe would wait for ever. A
// symbolic link is followed as long as it stays inside the folder.
func (f *Folder) Regular(name string, most int64) (*os.File, fs.FileInfo, error) {
	if err := errors.Join(local(name), f.before("open", name)); err != nil {
		return nil, nil, err
	}
	stat := func() (fs.FileInfo, error) { return f.root.Stat(filepath.FromSlash(name)) }
	if f.listed != nil && f.listed(name) {
		stat = nil
	}
	return checked(name, most, stat, func() (*os.File, error) { return f.opened(name) })
}

// Regular opens a regular file anywhere for reading, as Folder.Regular does.
func Regular(name string, most int64) (*os.File, fs.FileInfo, error) {
	return checked(name, most, func() (fs.FileInfo, error) { return os.Stat(name) },
		func() (*os.File, error) { return os.OpenFile(name, os.O_RDONLY|noWait, 0) })
}

// Listed is Regular for a file that a listing has just shown to be regular: it is looked at only after it is
// opened, which does not wait for a pipe.
func Listed(name string, most int64) (*os.File, fs.FileInfo, error) {
	return checked(name, most, nil, func() (*os.File, error) { return os.OpenFile(name, os.O_RDONLY|noWait, 0) })
}

// checked opens a file; stat is nil where it is known to be a regular one.
func checked(name string, most int64, stat func() (fs.FileInfo, error), open func() (*os.File, error)) (*os.File, fs.FileInfo, error) {
	if stat != nil {
		info, err := stat()
		if err == nil {
			err = regular(name, info, most)
		}
		if err != nil {
			return nil, nil, outside(name, err)
		}
	}
	r, err := open()
	if err != nil {
		return nil, nil, outside(name, err)
	}
	info, err := r.Stat()
	if err == nil {
		err = regular(name, info, most)
	}
	if err != nil {
		r.Close()
		return nil, nil, err
	}
	return r, info, nil
}

// Fresh reads a regular file of at most most bytes as it is now, whatever is kept of it.
func (f *Folder) Fresh(name string, most int64) ([]byte, error) {
	r, info, err := f.Regular(name, most)
	if err != nil {
		return nil, err
	}
	defer r.Close()
	if err := f.before("read", name); err != nil {
		return nil, err
	}
	return all(name, r, info.Size(), most)
}

// all reads an open file, which may grow meanwhile, but not beyond most bytes.
func all(name string, r io.Reader, size, most int64) ([]byte, error) {
	b := make([]byte, 0, size+1)
	for {
		n, err := r.Read(b[len(b):cap(b)])
		b = b[:len(b)+n]
		switch {
		case errors.Is(err, io.EOF):
			return b, nil
		case err != nil:
			return nil, err
		case int64(len(b)) > most:
			return nil, wrong(name, "a file of at most "+Size(most), "one that grows", "run the command again")
		case len(b) == cap(b):
			b = append(b, 0)[:len(b)]
		}
	}
}

// ReadFile reads a regular file anywhere, of at most most bytes.
func ReadFile(name string, most int64) ([]byte, error) {
	r, info, err := Regular(name, most)
	if err != nil {
		return nil, err
	}
	defer r.Close()
	return all(name, r, info.Size(), most)
}

// Sum is the SHA-256, in hex, of a regular file that is no link.
func (f *Folder) Sum(name string, most int64) (string, error) {
	info, err := f.Lstat(name)
	if err == nil {
		err = regular(name, info, most)
	}
	if err != nil {
		return "", err
	}
	r, _, err := f.Regular(name, most)
	if err != nil {
		return "", err
	}
	defer r.Close()
	if err := f.before("read", name); err != nil {
		return "", err
	}
	h := sha256.New()
	if _, err := io.Copy(h, io.LimitReader(r, most+1)); err != nil {
		return "", err
	}
	return hex.EncodeToString(h.Sum(nil)), nil
}

// Walk lists what is below the folder, as fs.WalkDir does; links are not followed.
func (f *Folder) Walk(visit fs.WalkDirFunc) error {
	return fs.WalkDir(watched{f}, ".", visit)
}

// watched is the folder as a file system of the library.
type watched struct{ f *Folder }

func (w watched) Open(name string) (fs.File, error) { return w.f.root.FS().Open(name) }

func (w watched) Stat(name string) (fs.FileInfo, error) { return w.f.Lstat(name) }

func (w watched) ReadDir(name string) ([]fs.DirEntry, error) {
	if err := w.f.before("list", name); err != nil {
		return nil, err
	}
	if r := w.f.memory.folder(w.f, name); r != nil {
		return entries(r)
	}
	return fs.ReadDir(w.f.root.FS(), name)
}

// Beside is a free name beside a file, which nobody can guess: for its new content, or
// for what was there. word tells people what it is.
func Beside(name, word string) string {
	dir, base := path.Split(name)
	var r [8]byte
	rand.Read(r[:]) // never fails
	for len(base) > 100 {
		base = base[:strings.LastIndexFunc(base, func(rune) bool { return true })]
	}
	return dir + "." + base + ".notaria-" + word + "-" + hex.EncodeToString(r[:])
}
