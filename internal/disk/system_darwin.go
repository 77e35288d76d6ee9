package disk

import (
	"errors"
	"os"

	"golang.org/x/sys/unix"
)

// renamex renames within a folder with one of the flags of renameatx_np(2).
func renamex(dir *os.Root, from, to string, flags uint32) error {
	d, err := dir.Open(".")
	if err != nil {
		return err
	}
	defer d.Close()
	err = unix.RenameatxNp(int(d.Fd()), from, int(d.Fd()), to, flags)
	if errors.Is(err, unix.EINVAL) || errors.Is(err, unix.ENOTSUP) {
		return errors.ErrUnsupported // of this file system
	}
	if err != nil {
		return &os.LinkError{Op: "renameatx_np", Old: from, New: to, Err: err}
	}
	return nil
}

func move(dir *os.Root, from, to string) error {
	if err := renamex(dir, from, to, unix.RENAME_EXCL); !errors.Is(err, errors.ErrUnsupported) {
		return err
	}
	return linked(dir, from, to)
}

func swap(dir *os.Root, a, b string) error { return renamex(dir, a, b, unix.RENAME_SWAP) }
