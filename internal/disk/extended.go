//go:build linux || darwin

package disk

import (
	"errors"
	"os"
	"strings"

	"golang.org/x/sys/unix"
)

// extended copies extended attributes: those of users, and access lists, which the
// system keeps as such. What the system sets by itself (labels) it sets again.
func extended(old, made *os.File) error {
	from, to := int(old.Fd()), int(made.Fd())
	size, err := unix.Flistxattr(from, nil)
	if err != nil || size == 0 {
		return unsupported(err)
	}
	list := make([]byte, size)
	if size, err = unix.Flistxattr(from, list); err != nil {
		return unsupported(err)
	}
	for _, name := range strings.Split(strings.TrimRight(string(list[:size]), "\x00"), "\x00") {
		if strings.HasPrefix(name, "security.") || strings.HasPrefix(name, "trusted.") {
			continue
		}
		n, err := unix.Fgetxattr(from, name, nil)
		if err != nil {
			continue // gone meanwhile, or not for this user
		}
		value := make([]byte, n)
		if n > 0 {
			if n, err = unix.Fgetxattr(from, name, value); err != nil {
				continue
			}
		}
		if err := unix.Fsetxattr(to, name, value[:n], 0); unsupported(err) != nil {
			return &os.PathError{Op: "setxattr " + name, Path: made.Name(), Err: err}
		}
	}
	return nil
}

// unsupported holds for what the file system or the user cannot have.
func unsupported(err error) error {
	if errors.Is(err, unix.ENOTSUP) || errors.Is(err, unix.EPERM) || errors.Is(err, unix.EACCES) || errors.Is(err, unix.ENOSYS) {
		return nil
	}
	return err
}
