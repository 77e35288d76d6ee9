//go:build !unix

package change

import "os"

// lockFolder does nothing where folders have no locks.
func lockFolder(string) (unlock func(), err error) { return func() {}, nil }

// alive says whether a process is there.
func alive(pid int) bool {
	p, err := os.FindProcess(pid)
	if err != nil {
		return false
	}
	_ = p.Release()
	return true
}
