package view

import (
	"io"
	"strings"

	"notaria/internal/terminal"
)

// diffPainter colours the lines of a diff, and makes untrusted text in them
// safe for a terminal when it is one.
type diffPainter struct {
	w     io.Writer
	paint terminal.Painter
}

// DiffTo is where a diff goes. One that goes to a file or a pipe is for other programs,
// and is written byte by byte.
func (a *Page) DiffTo() io.Writer {
	if !terminal.IsTerminal(a.Screen) && !bool(a.Paint) {
		return a.Lines
	}
	return &diffPainter{&terminal.Output{W: a.Lines, Paint: &a.Paint, Fold: 0}, a.Paint}
}

func (d *diffPainter) Write(b []byte) (int, error) {
	text := string(b)
	if d.paint {
		lines := strings.SplitAfter(text, "\n")
		for i, l := range lines {
			lines[i] = d.line(l)
		}
		text = strings.Join(lines, "")
	}
	_, err := io.WriteString(d.w, text)
	return len(b), err
}

func (d *diffPainter) line(l string) string {
	body := terminal.Tidy(strings.ReplaceAll(strings.TrimSuffix(l, "\n"), "\t", "\x00"))
	body = strings.ReplaceAll(body, `\x00`, "\t")
	end := l[len(strings.TrimSuffix(l, "\n")):]
	switch {
	case strings.HasPrefix(l, "--- ") || strings.HasPrefix(l, "+++ ") || strings.HasPrefix(l, "binary ") || strings.HasPrefix(l, "account ") || strings.HasPrefix(l, "generated "):
		return d.paint.Strong(body) + end
	case strings.HasPrefix(l, "@@"):
		return d.paint.Place(body) + end
	case strings.HasPrefix(l, "+"):
		return d.paint.Good(body) + end
	case strings.HasPrefix(l, "-"):
		return d.paint.Bad(body) + end
	}
	return body + end
}
