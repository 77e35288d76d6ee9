// Package terminal knows terminals and nothing of the program: colours, widths, tables, progress, and how
// untrusted text is made safe.
package terminal

import (
	"io"
	"os"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"golang.org/x/term"
	"golang.org/x/text/width"

	"notaria/internal/language"
)

// Painter colours text, or leaves it as it is.
type Painter bool

func NewPainter(mode string, out io.Writer) Painter {
	switch mode {
	case "always":
		return true
	case "never":
		return false
	}
	return Painter(os.Getenv("NO_COLOR") == "" && !Dumb() && IsTerminal(out))
}

func IsTerminal(w io.Writer) bool {
	f, ok := w.(*os.File)
	return ok && term.IsTerminal(int(f.Fd()))
}

func (p Painter) code(n, s string) string {
	if !p || s == "" {
		return s
	}
	return "\x1b[" + n + "m" + s + "\x1b[0m"
}

func (p Painter) Strong(s string) string { return p.code("1", s) }
func (p Painter) Faint(s string) string  { return p.code("90", s) }
func (p Painter) Good(s string) string   { return p.code("32", s) }
func (p Painter) Bad(s string) string    { return p.code("31", s) }
func (p Painter) Warn(s string) string   { return p.code("33", s) }
func (p Painter) Place(s string) string  { return p.code("36", s) }

// Columns is the width of the terminal, 40 to 160; 100 when there is none.
func Columns(w io.Writer) int {
	if n, err := strconv.Atoi(os.Getenv("COLUMNS")); err == nil && n > 0 {
		return min(max(n, 40), 160)
	}
	if f, ok := w.(*os.File); ok {
		if n, _, err := term.GetSize(int(f.Fd())); err == nil && n > 0 {
			return min(max(n, 40), 160)
		}
	}
	return 100
}

// Tidy makes untrusted text safe for a terminal: control characters, and signs
// that change the direction of text, become visible.
func Tidy(s string) string {
	if isPlain(s) || !strings.ContainsFunc(s, unsafeRune) {
		return s
	}
	var b strings.Builder
	for _, r := range s {
		if unsafeRune(r) {
			b.WriteString(strings.Trim(strconv.QuoteRuneToASCII(r), "'"))
		} else {
			b.WriteRune(r)
		}
	}
	return b.String()
}

// isPlain is the quick way for what most names are: printable ASCII.
func isPlain(s string) bool {
	for i := range len(s) {
		if s[i] < ' ' || s[i] > '~' {
			return false
		}
	}
	return true
}

func unsafeRune(r rune) bool {
	return language.Unseen(r) || r == '\t' || r == utf8.RuneError
}

// Line is Tidy for a sentence that stays on its line.
func Line(s string) string {
	if isPlain(s) {
		return s
	}
	return Tidy(strings.ReplaceAll(s, "\n", " "))
}

// Cell is line for a table, where no name may be endless.
func Cell(s string) string {
	return language.Short(Line(s), 120)
}

// Unpainted is a text without the colours that a Painter gave it.
func Unpainted(s string) string {
	for {
		i := strings.Index(s, "\x1b[")
		if i < 0 {
			return s
		}
		n := strings.IndexByte(s[i:], 'm')
		if n < 0 {
			return s
		}
		s = s[:i] + s[i+n+1:]
	}
}

// Span is the number of columns that text takes on a terminal.
func Span(s string) int {
	if isPlain(s) {
		return len(s)
	}
	n := 0
	for _, r := range s {
		if r < 0x300 {
			n++
			continue
		}
		switch k := width.LookupRune(r).Kind(); {
		case unicode.Is(unicode.Mn, r):
		case k == width.EastAsianWide || k == width.EastAsianFullwidth:
			n += 2
		default:
			n++
		}
	}
	return n
}

// Pad fills text up to a width.
func Pad(s string, width int) string { return s + strings.Repeat(" ", max(width-Span(s), 0)) }

// Table lines up rows in columns. The last column may go to a line of its own
// where the terminal is too narrow; nothing is ever wrapped or cut.
type Table struct {
	Head  []string
	Rows  [][]string
	Right map[int]bool // columns set flush right
}

// Lines lays the table out for so many columns, indented by two.
func (t Table) Lines(columns int) (head string, rows []string) {
	widths := make([]int, len(t.Head))
	all := append([][]string{t.Head}, t.Rows...)
	for _, row := range all {
		for i, c := range row {
			widths[i] = max(widths[i], Span(c))
		}
	}
	total := 2
	for _, w := range widths {
		total += w + 2
	}
	last := len(t.Head) - 1
	split := total-2 > columns && last > 0
	for k, row := range all {
		var b strings.Builder
		b.WriteString("  ")
		for i, c := range row {
			if i == last && split {
				if k > 0 {
					b.WriteString("\n      " + c)
				}
				continue
			}
			pad := strings.Repeat(" ", widths[i]-Span(c))
			if t.Right[i] {
				b.WriteString(pad + c)
			} else {
				b.WriteString(c + pad)
			}
			b.WriteString("  ")
		}
		line := strings.TrimRight(b.String(), " ")
		if split {
			line = trimLines(line)
		}
		if k == 0 {
			head = line
		} else {
			rows = append(rows, line)
		}
	}
	return head, rows
}

func trimLines(s string) string {
	lines := strings.Split(s, "\n")
	for i := range lines {
		lines[i] = strings.TrimRight(lines[i], " ")
	}
	return strings.Join(lines, "\n")
}

// Wide says whether a table is wider than so many columns, even without its last one.
func (t Table) Wide(columns int) bool {
	total := 0
	for i := range len(t.Head) - 1 {
		width := Span(t.Head[i])
		for _, row := range t.Rows {
			width = max(width, Span(row[i]))
		}
		total += width + 2
	}
	return total > columns
}

// Stacked lays rows out one value a line, for terminals that no table fits.
func (t Table) Stacked() []string {
	var out []string
	for _, row := range t.Rows {
		for i, c := range row {
			switch {
			case c == "":
			case i == 0:
				out = append(out, "  "+c)
			default:
				out = append(out, strings.TrimRight("    "+t.Head[i]+": ", ": ")+": "+c)
			}
		}
	}
	return out
}
