//go:build !linux && !darwin

package disk

import (
	"errors"
	"os"
)

func move(dir *os.Root, from, to string) error { return linked(dir, from, to) }

func swap(*os.Root, string, string) error { return errors.ErrUnsupported }
