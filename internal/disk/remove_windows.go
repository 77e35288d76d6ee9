package disk

import (
	"errors"
	"os"
	"path/filepath"
	"syscall"
)

// notHad is the error of a system that does not have the newer way to remove and rename
// files by an open folder, such as Wine and old servers.
const notHad = syscall.Errno(1) // ERROR_INVALID_FUNCTION

func remove(dir *os.Root, base string) error {
	err := dir.Remove(base)
	if errors.Is(err, notHad) {
		return os.Remove(filepath.Join(dir.Name(), base))
	}
	return err
}

func rename(dir *os.Root, from, to string) error {
	err := dir.Rename(from, to)
	if errors.Is(err, notHad) {
		return os.Rename(filepath.Join(dir.Name(), from), filepath.Join(dir.Name(), to))
	}
	return err
}
