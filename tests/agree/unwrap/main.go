// Unwrap turns every web font below the folders given into a plain font in the
// output folder, and prints pairs of paths: what the outline comparison reads.
package main

import (
	"bytes"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"

	"notaria/internal/sfnt"
)

func main() {
	out, n := os.Args[1], 0
	for _, root := range os.Args[2:] {
		_ = filepath.WalkDir(root, func(name string, d fs.DirEntry, err error) error {
			if err != nil || !d.Type().IsRegular() || !strings.Contains(strings.ToLower(filepath.Ext(name)), ".woff") {
				return nil
			}
			n++
			to := filepath.Join(out, fmt.Sprintf("%05d.ttf", n))
			if err := unwrap(name, to); err != nil {
				fmt.Fprintf(os.Stderr, "%s: %v\n", name, err)
				return nil
			}
			fmt.Printf("%s\t%s\n", name, to)
			return nil
		})
	}
}

func unwrap(from, to string) error {
	b, err := os.ReadFile(from)
	if err != nil {
		return err
	}
	file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
	if err != nil {
		return err
	}
	plain, err := file.Unwrap(0)
	if err != nil {
		return err
	}
	return os.WriteFile(to, plain, 0o644)
}
