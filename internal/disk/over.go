package disk

import (
	"cmp"
	"errors"
	"fmt"
	"os"
	"path/filepath"
)

// ErrOthers says that a file which is to be written is somebody else's.
var ErrOthers = errors.New("expected no file, or one of the same kind, found another file")

// WriteOver writes a file of its own, outside of a project: a new one, or over one whose content is
// ours. It is written beside it and renamed, so that nobody ever sees half of it.
func WriteOver(name string, data []byte, own func(old []byte) bool) error {
	if old, err := os.ReadFile(name); err == nil && !own(old) {
		return fmt.Errorf("%s: %w", name, ErrOthers)
	}
	folder := filepath.Dir(name)
	if err := os.MkdirAll(folder, 0o755); err != nil {
		return err
	}
	f, err := os.CreateTemp(folder, ".notaria-*")
	if err != nil {
		return err
	}
	_, err = f.Write(data)
	if err = cmp.Or(err, f.Chmod(0o644), f.Close()); err == nil {
		err = os.Rename(f.Name(), name)
	}
	if err != nil {
		_ = f.Close()
		_ = os.Remove(f.Name())
	}
	return err
}
