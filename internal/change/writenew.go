package change

import (
	"bytes"
	"context"
	"errors"
	"io/fs"
	"maps"
	"os"
	"path/filepath"
	"slices"

	"notaria/internal/disk"
	"notaria/internal/fault"
)

// WriteNew writes files into a folder, all or none: over ones that are Notaria's own, and over no others. It
// returns their paths, in order.
func WriteNew(ctx context.Context, folder string, files map[string][]byte, own func(old []byte) bool) ([]string, error) {
	if len(files) == 0 {
		return []string{}, nil
	}
	if err := os.MkdirAll(folder, 0o755); err != nil {
		return nil, err
	}
	dir, err := disk.Open(folder)
	if err != nil {
		return nil, err
	}
	defer dir.Close()
	hold, err := Take(ctx, dir, func(string) {}, nil)
	if err != nil {
		return nil, err
	}
	defer hold.Release()
	if _, err := hold.Recover(ctx); err != nil {
		return nil, err
	}
	set := &Set{Dir: dir}
	var names []string
	for _, name := range slices.Sorted(maps.Keys(files)) {
		old, err := set.Read(name)
		if err == nil && !bytes.Equal(old, files[name]) && !own(old) {
			return nil, &fault.Error{File: filepath.Join(folder, name), Expected: "no file, or one that Notaria generated", Found: "another", Cure: "move it away, or choose another --name or --to"}
		}
		if err != nil && !errors.Is(err, fs.ErrNotExist) {
			return nil, err
		}
		if err := set.Write(name, files[name]); err != nil {
			return nil, err
		}
		names = append(names, filepath.Join(folder, name))
	}
	return names, hold.Apply(ctx, set)
}
