package change

import (
	"bytes"
	"fmt"
	"io"
	"unicode/utf8"

	"github.com/rogpeppe/go-internal/diff"
)

// Diff writes the set as a unified diff, a binary file as one line.
func (s *Set) Diff(w io.Writer) error {
	s.normalise()
	for _, f := range s.Files {
		if _, err := io.WriteString(w, f.diff()); err != nil {
			return err
		}
	}
	return nil
}

// Binary says whether content is shown by its size alone.
func Binary(b []byte) bool {
	head := b[:min(len(b), 8000)]
	return bytes.IndexByte(head, 0) >= 0 || !utf8.Valid(b)
}

func (f File) diff() string {
	kind := f.Summed
	if kind == "" && (Binary(f.Before) || Binary(f.After)) {
		kind = "binary"
	}
	if kind != "" {
		switch {
		case f.Delete:
			return fmt.Sprintf("%s %s: removed (%d bytes)\n", kind, f.Path, len(f.Before))
		case !f.Exists:
			return fmt.Sprintf("%s %s: new (%d bytes)\n", kind, f.Path, len(f.After))
		}
		return fmt.Sprintf("%s %s: %d -> %d bytes\n", kind, f.Path, len(f.Before), len(f.After))
	}
	from, to := "a/"+f.Path, "b/"+f.Path
	if !f.Exists {
		from = "/dev/null"
	}
	if f.Delete {
		to = "/dev/null"
	}
	// The first line repeats the names.
	_, text, _ := bytes.Cut(diff.Diff(from, f.Before, to, f.After), []byte("\n"))
	return string(text)
}
