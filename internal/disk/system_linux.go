package disk

import (
	"errors"
	"os"

	"golang.org/x/sys/unix"
)

// rename2 renames within a folder with one of the flags of renameat2(2).
func rename2(dir *os.Root, from, to string, flags uint) error {
	d, err := dir.Open(".")
	if err != nil {
		return err
	}
	defer d.Close()
	err = unix.Renameat2(int(d.Fd()), from, int(d.Fd()), to, flags)
	if errors.Is(err, unix.EINVAL) || errors.Is(err, unix.ENOSYS) || errors.Is(err, unix.ENOTSUP) {
		return errors.ErrUnsupported // of this file system
	}
	if err != nil {
		return &os.LinkError{Op: "renameat2", Old: from, New: to, Err: err}
	}
	return nil
}

func move(dir *os.Root, from, to string) error {
	if err := rename2(dir, from, to, unix.RENAME_NOREPLACE); !errors.Is(err, errors.ErrUnsupported) {
		return err
	}
	return linked(dir, from, to)
}

func swap(dir *os.Root, a, b string) error { return rename2(dir, a, b, unix.RENAME_EXCHANGE) }
