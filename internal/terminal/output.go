package terminal

import (
	"bytes"
	"io"
	"os"
	"strconv"
	"strings"
	"unicode/utf8"

	"notaria/internal/language"
	"notaria/internal/lazy"
)

// Output is the last thing before a terminal, a file or a pipe. Names of files and fonts,
// and texts of manifests, are anybody's: what is unseen in them becomes visible here,
// whatever way they came. Of escapes only the program's own colours pass.
type Output struct {
	W     io.Writer
	Paint *Painter
	Fold  int // columns beyond which lines are broken between words; 0 for never
}

// paints are the escapes that the Painter writes.
var paints = lazy.Regexp("^\x1b\\[(?:0|1|3[1-6]|90)m")

func (o *Output) Write(b []byte) (int, error) {
	text := b
	if !isPlainText(b) {
		text = o.visible(b)
	}
	if o.Fold > 0 {
		text = foldLines(text, o.Fold)
	}
	if _, err := o.W.Write(text); err != nil {
		return 0, err
	}
	return len(b), nil
}

// isPlainText is the quick way for what most output is.
func isPlainText(b []byte) bool {
	for _, c := range b {
		if c < ' ' && c != '\n' && c != '\t' || c > '~' {
			return false
		}
	}
	return true
}

func (o *Output) visible(b []byte) []byte {
	var out bytes.Buffer
	for len(b) > 0 {
		if *o.Paint && b[0] == 0x1b {
			if m := paints.Find(b); m != nil {
				out.Write(m)
				b = b[len(m):]
				continue
			}
		}
		r, n := utf8.DecodeRune(b)
		if r == utf8.RuneError || language.Unseen(r) {
			out.WriteString(strings.Trim(strconv.QuoteRuneToASCII(r), "'"))
		} else {
			out.Write(b[:n])
		}
		b = b[n:]
	}
	return out.Bytes()
}

// foldLines breaks lines between words where a narrow terminal ends. A word that is
// longer, a name to type among them, stays whole.
func foldLines(text []byte, columns int) []byte {
	var out bytes.Buffer
	for l := range bytes.Lines(text) {
		indent := strings.Repeat(" ", min(len(l)-len(bytes.TrimLeft(l, " "))+4, columns/2))
		width, start, cut := 0, 0, -1
		line := string(l)
		for i := 0; i < len(line); {
			if m := paints.FindString(line[i:]); m != "" {
				i += len(m)
				continue
			}
			r, n := utf8.DecodeRuneInString(line[i:])
			if r == ' ' && i > start && strings.TrimSpace(line[start:i]) != "" {
				cut = i
			}
			if r != '\n' {
				width += Span(string(r))
			}
			if width > columns && cut > start {
				out.WriteString(strings.TrimRight(line[start:cut], " ") + "\n" + indent)
				start = cut
				for start < len(line) && line[start] == ' ' {
					start++
				}
				i, cut, width = start, -1, len(indent)
				continue
			}
			i += n
		}
		out.WriteString(line[start:])
	}
	return out.Bytes()
}

// Narrow is the width of a terminal that has too few columns for tables, else 0.
func Narrow(w io.Writer) int {
	if n := Columns(w); n < 80 && IsTerminal(w) {
		return n
	}
	return 0
}

// Dumb says whether the terminal knows no escapes.
func Dumb() bool { return os.Getenv("TERM") == "dumb" }
