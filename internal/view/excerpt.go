package view

import (
	"bytes"
	"strings"
	"unicode/utf8"

	"notaria/internal/audit"
	"notaria/internal/notary"
)

// Bounds of what is shown of a source: the largest file, in bytes, and how much of a line, in
// characters.
const (
	mostShown   = 4 << 20
	widestShown = 100
)

// excerpts shows the lines that findings are about. It keeps one file: findings come in the order of
// files.
type excerpts struct {
	p    *notary.Project
	file string
	text []byte
	line int // 1-based, of what begins at at
	at   int
}

// seek moves to a line of the file; false if it has none of that number.
func (x *excerpts) seek(line int) bool {
	if line < x.line {
		x.line, x.at = 1, 0
	}
	for x.line < line {
		i := bytes.IndexByte(x.text[x.at:], '\n')
		if i < 0 {
			return false
		}
		x.line, x.at = x.line+1, x.at+i+1
	}
	return x.at < len(x.text)
}

// of is the line that a finding is about, and marks below what is meant; "" where there is no such
// place, or no text.
func (x *excerpts) of(f audit.Finding) (text, marks string) {
	if x.p == nil {
		return "", ""
	}
	if f.Line == 0 {
		return "", ""
	}
	if f.File != x.file {
		x.file, x.text, x.line, x.at = f.File, nil, 1, 0
		if b, err := x.p.Dir.Read(f.File, mostShown); err == nil && utf8.Valid(b) {
			x.text = b
		}
	}
	if !x.seek(f.Line) {
		return "", ""
	}
	whole, _, _ := bytes.Cut(x.text[x.at:], []byte("\n"))
	raw := bytes.TrimRight(whole, "\r")
	from := min(max(f.Column-1, 0), len(raw))
	to := len(raw)
	if f.EndLine == f.Line && f.EndColumn > f.Column {
		to = min(f.EndColumn-1, len(raw))
	}
	if f.Column == 0 {
		return cell(strings.TrimSpace(shownPart(first(raw)))), ""
	}
	head, meant, tail := shownPart(last(raw[:from])), shownPart(first(raw[from:to])), shownPart(first(raw[to:]))
	head = strings.TrimLeft(head, " ")
	length := utf8.RuneCountInString(head + meant + tail)
	if n := utf8.RuneCountInString(head); n > widestShown/2 && length > widestShown {
		head = "…" + string([]rune(head)[n-widestShown/2:])
	}
	if room := widestShown - utf8.RuneCountInString(head); utf8.RuneCountInString(meant) > room {
		meant, tail = string([]rune(meant)[:room])+"…", ""
	} else if room -= utf8.RuneCountInString(meant); utf8.RuneCountInString(tail) > room {
		tail = string([]rune(tail)[:room]) + "…"
	}
	return head + meant + tail, strings.Repeat(" ", span(head)) + strings.Repeat("^", max(span(meant), 1))
}

// mostLooked is how much of a line is looked at on each side, in bytes: a line can be as long as a file.
const mostLooked = 16 * widestShown

// first is the beginning of a text, of whole characters.
func first(b []byte) string {
	if len(b) > mostLooked {
		n := mostLooked
		for n > 0 && !utf8.RuneStart(b[n]) {
			n--
		}
		b = b[:n]
	}
	return string(b)
}

// last is the end of a text, of whole characters.
func last(b []byte) string {
	if len(b) > mostLooked {
		n := len(b) - mostLooked
		for n < len(b) && !utf8.RuneStart(b[n]) {
			n++
		}
		b = b[n:]
	}
	return string(b)
}

// shownPart is a piece of a line as a terminal may show it: a tab is a space, and nothing is obeyed.
func shownPart(s string) string { return line(strings.ReplaceAll(s, "\t", " ")) }
