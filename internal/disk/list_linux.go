package disk

import (
	"io/fs"
	"os"
	"slices"
	"strings"

	"golang.org/x/sys/unix"
)

// entries lists an open folder by what the listing itself says of each entry. The library asks the system for
// each one's kind besides, where a folder was opened below a root.
func entries(r *os.Root) ([]fs.DirEntry, error) {
	dir, err := r.Open(".")
	if err != nil {
		return nil, err
	}
	defer dir.Close()
	fd, err := unix.FcntlInt(dir.Fd(), unix.F_DUPFD_CLOEXEC, 0)
	if err != nil {
		return nil, err
	}
	plain := os.NewFile(uintptr(fd), r.Name())
	defer plain.Close()
	list, err := plain.ReadDir(-1)
	slices.SortFunc(list, func(a, b fs.DirEntry) int { return strings.Compare(a.Name(), b.Name()) })
	return list, err
}
