//go:build unix

package change

import (
	"errors"
	"os"
	"syscall"
)

// lockFolder waits for the lock of the project's folder itself, so that nothing is left
// behind however the run ends. Not every file system has such locks.
func lockFolder(dir string) (unlock func(), err error) {
	f, err := os.Open(dir)
	if err != nil {
		return nil, err
	}
	for {
		err := syscall.Flock(int(f.Fd()), syscall.LOCK_EX)
		if errors.Is(err, syscall.EINTR) {
			continue
		}
		return func() { f.Close() }, nil
	}
}

// alive says whether a process is there.
func alive(pid int) bool {
	err := syscall.Kill(pid, 0)
	return err == nil || errors.Is(err, syscall.EPERM)
}
