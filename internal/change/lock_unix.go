//go:build unix

package change

import (
	"os"
	"syscall"
)

// lock keeps other runs off the project: it holds the project's folder itself,
// so that nothing is left behind however the run ends.
func lock(root string) (unlock func(), err error) {
	f, err := os.Open(root)
	if err != nil {
		return nil, err
	}
	if err := syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		f.Close()
		return nil, wrong(root, "no other run of Notaria on this project", "one at work", "wait until it is done")
	}
	return func() { f.Close() }, nil
}

// syncDir makes the names in a folder last.
func syncDir(dir string) error {
	f, err := os.Open(dir)
	if err != nil {
		return err
	}
	defer f.Close()
	return f.Sync()
}
