//go:build unix

package disk

import (
	"errors"
	"io/fs"
	"os"
	"syscall"
)

// Owner is the number of the user that a file belongs to.
func Owner(info fs.FileInfo) (uid int, ok bool) {
	s, ok := info.Sys().(*syscall.Stat_t)
	if !ok {
		return 0, false
	}
	return int(s.Uid), true
}

// Names says how many names a file has (hard links).
func Names(info fs.FileInfo) int {
	if s, ok := info.Sys().(*syscall.Stat_t); ok {
		return int(s.Nlink)
	}
	return 1
}

// inherit gives what root makes in somebody's folder to that somebody.
func inherit(dir *os.Root, made *os.File) error {
	if os.Geteuid() != 0 {
		return nil
	}
	info, err := dir.Stat(".")
	if err != nil {
		return err
	}
	if s, ok := info.Sys().(*syscall.Stat_t); ok && s.Uid != 0 {
		return made.Chown(int(s.Uid), int(s.Gid))
	}
	return nil
}

// attributes gives a new file the owner, the group and the extended attributes, access
// lists among them, of another. A group that this user cannot give is left.
func attributes(old, made *os.File, info fs.FileInfo) error {
	was, ok := info.Sys().(*syscall.Stat_t)
	now, err := made.Stat()
	if err != nil {
		return err
	}
	is, okay := now.Sys().(*syscall.Stat_t)
	if ok && okay && (was.Uid != is.Uid || was.Gid != is.Gid) {
		err := made.Chown(int(was.Uid), int(was.Gid))
		if err != nil && !errors.Is(err, syscall.EPERM) {
			return err
		}
		if err != nil && was.Gid != is.Gid {
			_ = made.Chown(-1, int(was.Gid))
		}
	}
	return extended(old, made)
}

func syncFolder(d *os.File) error { return d.Sync() }
