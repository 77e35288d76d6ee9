//go:build !windows

package disk

import "os"

func remove(dir *os.Root, base string) error { return dir.Remove(base) }

func rename(dir *os.Root, from, to string) error { return dir.Rename(from, to) }
