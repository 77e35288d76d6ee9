//go:build !unix

package disk

import (
	"io/fs"
	"os"
)

// Owner is not known here.
func Owner(fs.FileInfo) (uid int, ok bool) { return 0, false }

// Names is not known here.
func Names(fs.FileInfo) int { return 1 }

func inherit(*os.Root, *os.File) error { return nil }

func attributes(_, _ *os.File, _ fs.FileInfo) error { return nil }

// syncFolder does nothing: such systems keep the order of renames by themselves.
func syncFolder(*os.File) error { return nil }
