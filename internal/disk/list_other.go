//go:build !linux

package disk

import (
	"io/fs"
	"os"
)

// entries lists an open folder.
func entries(r *os.Root) ([]fs.DirEntry, error) { return fs.ReadDir(r.FS(), ".") }
