//go:build unix

package change

import (
	"errors"
	"fmt"
	"os"
	"strings"
	"syscall"
	"time"

	"notaria/internal/fault"
)

// waitOthers is how long the lock of a folder is waited for. Whoever can read the folder can take it, so a run
// does not wait for ever; runs of one user wait for each other by the lock in the state folder.
var waitOthers = time.Minute

// lockFolder waits for the lock of the project's folder itself, so that nothing is left
// behind however the run ends. Not every file system has such locks.
func lockFolder(dir string) (unlock func(), err error) {
	f, err := os.Open(dir)
	if err != nil {
		return nil, err
	}
	for until := time.Now().Add(waitOthers); ; {
		err := syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB)
		switch {
		case errors.Is(err, syscall.EINTR):
		case !errors.Is(err, syscall.EWOULDBLOCK):
			return func() { f.Close() }, nil
		case time.Now().After(until):
			f.Close()
			return nil, &fault.Error{File: dir, Expected: "the lock of this folder, which keeps other users' runs off", Found: "another program that holds it" + holderOf(dir), Cure: "ask for it to be ended, or look for it: fuser " + dir}
		default:
			time.Sleep(20 * time.Millisecond)
		}
	}
}

// holderOf names the process that holds a folder's lock, where the system lists locks (Linux, proc(5): /proc/locks).
func holderOf(dir string) string {
	var info syscall.Stat_t
	locks, err := os.ReadFile("/proc/locks")
	if err != nil || syscall.Stat(dir, &info) != nil {
		return ""
	}
	for l := range strings.Lines(string(locks)) {
		if f := strings.Fields(l); len(f) > 5 && f[1] == "FLOCK" && strings.HasSuffix(f[5], fmt.Sprintf(":%d", info.Ino)) {
			return " (process " + f[4] + ")"
		}
	}
	return ""
}

// alive says whether a process is there.
func alive(pid int) bool {
	err := syscall.Kill(pid, 0)
	return err == nil || errors.Is(err, syscall.EPERM)
}
