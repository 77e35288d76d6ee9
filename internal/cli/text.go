package cli

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

// painter colours text, or leaves it as it is.
type painter bool

func newPainter(mode string, out io.Writer) painter {
	switch mode {
	case "always":
		return true
	case "never":
		return false
	}
	return painter(os.Getenv("NO_COLOR") == "" && !dumb() && isTerminal(out))
}

func isTerminal(w io.Writer) bool {
	f, ok := w.(*os.File)
	return ok && term.IsTerminal(int(f.Fd()))
}

func (p painter) code(n, s string) string {
	if !p || s == "" {
		return s
	}
	return "\x1b[" + n + "m" + s + "\x1b[0m"
}

func (p painter) strong(s string) string { return p.code("1", s) }
func (p painter) faint(s string) string  { return p.code("90", s) }
func (p painter) good(s string) string   { return p.code("32", s) }
func (p painter) bad(s string) string    { return p.code("31", s) }
func (p painter) warn(s string) string   { return p.code("33", s) }
func (p painter) place(s string) string  { return p.code("36", s) }

// columns is the width of the terminal, 40 to 160; 100 when there is none.
func columns(w io.Writer) int {
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

// tidy makes untrusted text safe for a terminal: control characters, and signs
// that change the direction of text, become visible.
func tidy(s string) string {
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

// line is tidy for a sentence that stays on its line.
func line(s string) string {
	if isPlain(s) {
		return s
	}
	return tidy(strings.ReplaceAll(s, "\n", " "))
}

// cell is line for a table, where no name may be endless.
func cell(s string) string {
	s = line(s)
	if len(s) <= 120 {
		return s
	}
	if r := []rune(s); len(r) > 120 {
		s = string(r[:119]) + "…"
	}
	return s
}

// span is the number of columns that text takes on a terminal.
func span(s string) int {
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

// table lines up rows in columns. The last column may go to a line of its own
// where the terminal is too narrow; nothing is ever wrapped or cut.
type table struct {
	head  []string
	rows  [][]string
	right map[int]bool // columns set flush right
}

// lines lays the table out for so many columns, indented by two.
func (t table) lines(columns int) (head string, rows []string) {
	widths := make([]int, len(t.head))
	all := append([][]string{t.head}, t.rows...)
	for _, row := range all {
		for i, c := range row {
			widths[i] = max(widths[i], span(c))
		}
	}
	total := 2
	for _, w := range widths {
		total += w + 2
	}
	last := len(t.head) - 1
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
			pad := strings.Repeat(" ", widths[i]-span(c))
			if t.right[i] {
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

// wrapped prints a text behind a head, broken between words where a terminal ends, the
// lines behind the first further in. What goes elsewhere is not broken.
func (a *app) wrapped(head, text string) { a.wrappedIn(func(s string) string { return s }, head, text) }

// wrappedIn is wrapped with the text painted.
func (a *app) wrappedIn(paint func(string) string, head, text string) {
	hang := max(span(head), 4)
	for isTerminal(a.screen) {
		room := columns(a.screen) - span(head)
		if span(text) <= room {
			break
		}
		at := strings.LastIndexByte(text[:min(len(text), room+1)], ' ')
		if at <= 0 {
			break
		}
		a.say("%s%s", head, paint(text[:at]))
		head, text = strings.Repeat(" ", hang), text[at+1:]
	}
	a.say("%s%s", head, paint(text))
}

// wide says whether a table is wider than so many columns, even without its last one.
func (t table) wide(columns int) bool {
	total := 0
	for i := range len(t.head) - 1 {
		width := span(t.head[i])
		for _, row := range t.rows {
			width = max(width, span(row[i]))
		}
		total += width + 2
	}
	return total > columns
}

// stacked lays rows out one value a line, for terminals that no table fits.
func (t table) stacked() []string {
	var out []string
	for _, row := range t.rows {
		for i, c := range row {
			switch {
			case c == "":
			case i == 0:
				out = append(out, "  "+c)
			default:
				out = append(out, strings.TrimRight("    "+t.head[i]+": ", ": ")+": "+c)
			}
		}
	}
	return out
}

func (a *app) table(t table) {
	if narrow(a.screen) > 0 && t.wide(columns(a.screen)) {
		for _, l := range t.stacked() {
			a.say("%s", l)
		}
		return
	}
	head, rows := t.lines(columns(a.screen))
	a.say("%s", a.paint.faint(head))
	for _, r := range rows {
		a.say("%s", r)
	}
}

// plural counts things.
func plural(n int, one string) string {
	if n == 1 {
		return "1 " + one
	}
	return strconv.Itoa(n) + " " + one + "s"
}
