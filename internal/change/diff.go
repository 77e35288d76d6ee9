package change

import (
	"bytes"
	"fmt"
	"io"
	"strings"
	"unicode/utf8"
)

const (
	diffContext = 3
	// maxDiffCells bounds the work of finding common lines; beyond it a file is
	// shown as wholly replaced. Our edits add lines to manifests, and common
	// beginnings and ends are taken off first, so real ones stay far below.
	maxDiffCells = 16 << 20
)

// Diff writes the set as a unified diff, a binary file as one line.
func (s *Set) Diff(w io.Writer) error {
	if err := s.normalise(); err != nil {
		return err
	}
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
	kind := "binary"
	if f.Account {
		kind = "account"
	}
	if f.Account || Binary(f.Before) || Binary(f.After) {
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
	return fmt.Sprintf("--- %s\n+++ %s\n", from, to) + hunks(split(f.Before), split(f.After))
}

// split cuts text into lines that keep their ends.
func split(b []byte) []string {
	if len(b) == 0 {
		return nil
	}
	lines := strings.SplitAfter(string(b), "\n")
	if lines[len(lines)-1] == "" {
		lines = lines[:len(lines)-1]
	}
	return lines
}

// edited is one line of a diff: ' ', '-' or '+', with its place on both sides.
type edited struct {
	op   byte
	text string
}

// hunks prints the differing parts with three lines around them.
func hunks(a, b []string) string {
	lines := lineDiff(a, b)
	var out strings.Builder
	oldLine, newLine := 1, 1
	for i := 0; i < len(lines); {
		if lines[i].op == ' ' {
			oldLine, newLine, i = oldLine+1, newLine+1, i+1
			continue
		}
		start := max(0, i-diffContext)
		end, quiet := i, 0
		for end < len(lines) && quiet <= 2*diffContext {
			if lines[end].op == ' ' {
				quiet++
			} else {
				quiet = 0
			}
			end++
		}
		end -= max(0, quiet-diffContext)
		oldLine, newLine = oldLine-(i-start), newLine-(i-start)
		olds, news := 0, 0
		var body strings.Builder
		for _, l := range lines[start:end] {
			if l.op != '+' {
				olds++
			}
			if l.op != '-' {
				news++
			}
			body.WriteByte(l.op)
			body.WriteString(l.text)
			if !strings.HasSuffix(l.text, "\n") {
				body.WriteString("\n\\ No newline at end of file\n")
			}
		}
		fmt.Fprintf(&out, "@@ -%s +%s @@\n%s", hunkRange(oldLine, olds), hunkRange(newLine, news), body.String())
		oldLine, newLine, i = oldLine+olds, newLine+news, end
	}
	return out.String()
}

// hunkRange writes a start and a count as unified diffs do.
func hunkRange(start, count int) string {
	switch count {
	case 0:
		return fmt.Sprintf("%d,0", start-1)
	case 1:
		return fmt.Sprint(start)
	}
	return fmt.Sprintf("%d,%d", start, count)
}

// lineDiff finds a shortest list of removed and added lines by the longest
// common subsequence of what lies between common beginnings and ends.
func lineDiff(a, b []string) []edited {
	pre := 0
	for pre < len(a) && pre < len(b) && a[pre] == b[pre] {
		pre++
	}
	post := 0
	for post < len(a)-pre && post < len(b)-pre && a[len(a)-1-post] == b[len(b)-1-post] {
		post++
	}
	var out []edited
	for _, l := range a[:pre] {
		out = append(out, edited{' ', l})
	}
	out = append(out, middle(a[pre:len(a)-post], b[pre:len(b)-post])...)
	for _, l := range a[len(a)-post:] {
		out = append(out, edited{' ', l})
	}
	return out
}

func middle(a, b []string) []edited {
	var out []edited
	if len(a)*len(b) > maxDiffCells || len(a) == 0 || len(b) == 0 {
		for _, l := range a {
			out = append(out, edited{'-', l})
		}
		for _, l := range b {
			out = append(out, edited{'+', l})
		}
		return out
	}
	width := len(b) + 1
	common := make([]int32, (len(a)+1)*width)
	for i := len(a) - 1; i >= 0; i-- {
		for j := len(b) - 1; j >= 0; j-- {
			if a[i] == b[j] {
				common[i*width+j] = common[(i+1)*width+j+1] + 1
			} else {
				common[i*width+j] = max(common[(i+1)*width+j], common[i*width+j+1])
			}
		}
	}
	i, j := 0, 0
	for i < len(a) || j < len(b) {
		switch {
		case i < len(a) && j < len(b) && a[i] == b[j]:
			out = append(out, edited{' ', a[i]})
			i, j = i+1, j+1
		case j == len(b) || i < len(a) && common[(i+1)*width+j] >= common[i*width+j+1]:
			out = append(out, edited{'-', a[i]})
			i++
		default:
			out = append(out, edited{'+', b[j]})
			j++
		}
	}
	return out
}
