//go:build unix

package change

import (
	"os"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// Somebody who can only read a folder takes its lock: a run says so, and does not wait for ever.
func TestLockOfAReader(t *testing.T) {
	was := waitOthers
	waitOthers = 50 * time.Millisecond
	t.Cleanup(func() { waitOthers = was })
	dir := t.TempDir()
	f, err := os.Open(dir)
	require.NoError(t, err)
	require.NoError(t, syscall.Flock(int(f.Fd()), syscall.LOCK_EX))
	_, err = lockFolder(dir)
	require.ErrorContains(t, err, "expected the lock of this folder")
	f.Close()
	unlock, err := lockFolder(dir)
	require.NoError(t, err)
	unlock()
}
