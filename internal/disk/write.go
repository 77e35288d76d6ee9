package disk

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"strings"
)

// parent opens the folder that a file is in, step by step: none of them may be a
// symbolic link, and each must still be what it was when it was looked at.
func (f *Folder) parent(name string) (*os.Root, string, error) {
	if err := local(name); err != nil {
		return nil, "", err
	}
	name = path.Clean(name)
	if err := guarded(name); err != nil {
		return nil, "", err
	}
	dir, base := path.Split(name)
	at, err := f.root.OpenRoot(".")
	if err != nil {
		return nil, "", err
	}
	so := ""
	for _, part := range strings.Split(strings.TrimSuffix(dir, "/"), "/") {
		if part == "" {
			continue
		}
		so = path.Join(so, part)
		next, err := step(at, part, name, so)
		at.Close()
		if err != nil {
			return nil, "", err
		}
		at = next
	}
	return at, base, nil
}

// step goes from a folder into one of its folders.
func step(at *os.Root, part, name, so string) (*os.Root, error) {
	info, err := at.Lstat(part)
	switch {
	case err != nil:
		return nil, err
	case info.Mode()&fs.ModeSymlink != 0:
		return nil, wrong(name, "a folder at "+so, "a symbolic link, through which nothing is written", "replace the link by the folder itself")
	case !info.IsDir():
		return nil, wrong(name, "a folder at "+so, "a file in the folder's place", "move that file out of the way")
	}
	next, err := at.OpenRoot(part)
	if err != nil {
		return nil, err
	}
	now, err := next.Stat(".")
	if err != nil || !os.SameFile(info, now) {
		next.Close()
		return nil, errors.Join(err, wrong(name, "a folder at "+so, "another one: it was exchanged in between", "run the command again"))
	}
	return next, nil
}

// within does something in the folder that a file is in.
func (f *Folder) within(op, name string, do func(dir *os.Root, base string) error) error {
	if err := f.before(op, name); err != nil {
		return err
	}
	dir, base, err := f.parent(name)
	if err != nil {
		return err
	}
	defer dir.Close()
	err = do(dir, base)
	var p *fs.PathError
	if errors.As(err, &p) && p.Path == base {
		p.Path = name // of the project, not of the folder that the file is in
	}
	return err
}

// Writable makes sure, as far as can be seen, that files may be written in a folder: it
// and the folders that it is in are, as far as there are any, folders that may be
// written, and none of them is version control's. name is the file that errors are about.
func (f *Folder) Writable(name, dir string) error {
	if err := errors.Join(local(dir), guarded(name)); err != nil {
		return err
	}
	at := "."
	last, err := f.Lstat(at)
	if err != nil {
		return err
	}
	for _, part := range strings.Split(path.Clean(dir), "/") {
		next := path.Join(at, part)
		info, err := f.Lstat(next)
		switch {
		case errors.Is(err, fs.ErrNotExist):
			if err := portable(next); err != nil {
				return err
			}
			return writable(at, last)
		case err != nil:
			return err
		case info.Mode()&fs.ModeSymlink != 0:
			return wrong(name, "a folder at "+next, "a symbolic link, through which nothing is written", "replace the link by the folder itself")
		case !info.IsDir():
			return wrong(name, "a folder at "+next, "a file in the folder's place", "move that file out of the way")
		}
		at, last = next, info
	}
	return writable(at, last)
}

func writable(name string, info fs.FileInfo) error {
	if info.Mode().Perm()&0o200 == 0 {
		return ReadOnly(name, "folder", info)
	}
	return nil
}

// Portable refuses the name of a new file that not every system can hold.
func Portable(name string) error { return portable(name) }

// ReadOnly says that a file or folder may not be written.
func ReadOnly(name, what string, info fs.FileInfo) error {
	return wrong(name, "a "+what+" that may be written", fmt.Sprintf("a read-only one (mode %04o)", info.Mode().Perm()),
		"make it writable (chmod u+w), then run the command again")
}

// Mkdir makes a folder, with the rights that the system gives new ones.
func (f *Folder) Mkdir(name string) error {
	if err := portable(name); err != nil {
		return err
	}
	return f.within("mkdir", name, func(dir *os.Root, base string) error {
		if err := dir.Mkdir(base, 0o777); err != nil {
			return err
		}
		made, err := dir.Open(base)
		if err != nil {
			return err
		}
		defer made.Close()
		return inherit(dir, made)
	})
}

// Create makes a new file, and waits until it is on the disk. It has the owner, the
// rights and the attributes of the file beside it that like names, which it is to
// replace; without one those that the system gives new files. The name must be free.
func (f *Folder) Create(name string, content []byte, like string) error {
	return f.within("create", name, func(dir *os.Root, base string) error {
		mode := fs.FileMode(0o666)
		if like != "" {
			mode = 0o600 // until it has the rights of the other
		}
		w, err := dir.OpenFile(base, os.O_WRONLY|os.O_CREATE|os.O_EXCL, mode)
		if err != nil {
			return err
		}
		return errors.Join(f.fill(w, dir, name, content, like), w.Close())
	})
}

func (f *Folder) fill(w *os.File, dir *os.Root, name string, content []byte, like string) error {
	if err := f.before("write", name); err != nil {
		_, _ = w.Write(content[:len(content)/2]) // as a full disk leaves it
		return err
	}
	if _, err := w.Write(content); err != nil {
		return err
	}
	if err := f.before("attributes", name); err != nil {
		return err
	}
	if like == "" {
		if err := inherit(dir, w); err != nil {
			return err
		}
	} else if err := f.imitate(w, dir, path.Base(like)); err != nil {
		return err
	}
	if err := f.before("sync", name); err != nil {
		return err
	}
	return w.Sync()
}

// imitate returns a new file the owner, the rights and the attributes of another.
func (f *Folder) imitate(w *os.File, dir *os.Root, like string) error {
	info, err := dir.Lstat(like)
	if err != nil {
		return err
	}
	if !info.Mode().IsRegular() {
		return wrong(like, "a regular file", KindOf(info), "move it out of the way")
	}
	old, err := dir.OpenFile(like, os.O_RDONLY|noWait, 0)
	if err != nil {
		return err
	}
	defer old.Close()
	if err := attributes(old, w, info); err != nil {
		return err
	}
	return w.Chmod(info.Mode() & (fs.ModePerm | fs.ModeSetuid | fs.ModeSetgid | fs.ModeSticky))
}

// Move gives a file another name in its folder. Where something has that name already
// nothing happens, and the error is fs.ErrExist.
func (f *Folder) Move(from, to string) error {
	return f.within("move", from, func(dir *os.Root, base string) error {
		return move(dir, base, path.Base(to))
	})
}

// linked moves a file by a second name, which no file can have already; where a file
// cannot have two names it looks first.
func linked(dir *os.Root, from, to string) error {
	switch err := dir.Link(from, to); {
	case err == nil:
		return remove(dir, from)
	case errors.Is(err, fs.ErrExist) || errors.Is(err, fs.ErrNotExist):
		return err
	}
	if _, err := dir.Lstat(to); err == nil {
		return &fs.PathError{Op: "move", Path: to, Err: fs.ErrExist}
	}
	return rename(dir, from, to)
}

// Swap exchanges two files of a folder in one step. The error is errors.ErrUnsupported
// where the system cannot.
func (f *Folder) Swap(a, b string) error {
	return f.within("swap", a, func(dir *os.Root, base string) error {
		return swap(dir, base, path.Base(b))
	})
}

// Replace moves a file of a folder into the place of another, which is gone then.
func (f *Folder) Replace(from, to string) error {
	return f.within("replace", from, func(dir *os.Root, base string) error { return rename(dir, base, path.Base(to)) })
}

// Remove removes a file; a folder, never.
func (f *Folder) Remove(name string) error {
	return f.within("remove", name, func(dir *os.Root, base string) error {
		if info, err := dir.Lstat(base); err != nil || info.IsDir() {
			return errors.Join(err, isFolder(name, info))
		}
		return remove(dir, base)
	})
}

func isFolder(name string, info fs.FileInfo) error {
	if info == nil {
		return nil
	}
	return wrong(name, "a file", KindOf(info), "move it out of the way")
}

// RemoveFolder removes a folder if it is one, and empty.
func (f *Folder) RemoveFolder(name string) error {
	return f.within("rmdir", name, func(dir *os.Root, base string) error {
		if info, err := dir.Lstat(base); err != nil || !info.IsDir() {
			return err
		}
		return remove(dir, base)
	})
}

// Sync waits until the names in a folder are on the disk.
func (f *Folder) Sync(name string) error {
	return f.within("sync", path.Join(name, "x"), func(dir *os.Root, _ string) error {
		d, err := dir.Open(".")
		if err != nil {
			return err
		}
		defer d.Close()
		return syncFolder(d)
	})
}

// Same says whether two names are the same file: on a disk that folds capitals, names
// that differ in them alone are.
func (f *Folder) Same(a, b string) bool {
	x, errA := f.root.Lstat(filepath.FromSlash(a))
	y, errB := f.root.Lstat(filepath.FromSlash(b))
	return errA == nil && errB == nil && os.SameFile(x, y)
}
