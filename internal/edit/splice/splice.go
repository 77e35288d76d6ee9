// Package splice changes a few bytes of a text and no other: replacements at places
// of the text as it is, and what it takes to find such places by lines.
package splice

import (
	"bytes"
	"fmt"
	"sort"
	"strings"
)

// An Edit is one replacement of the bytes From to To by Text.
type Edit struct {
	From int    `json:"from"`
	To   int    `json:"to"`
	Text string `json:"text"`
}

// Replace is the edit that puts text in the place of a range.
func Replace(from, to int, text string) Edit { return Edit{from, to, text} }

// An OverlapError says that two edits are about the same bytes: neither is made.
type OverlapError struct{ A, B Edit }

func (e *OverlapError) Error() string {
	return fmt.Sprintf("edits of the bytes %d to %d and %d to %d overlap", e.A.From, e.A.To, e.B.From, e.B.To)
}

// Apply carries out edits. Insertions at the same place come out in the order given,
// and before a replacement that begins there. Edits that overlap, or lie outside the
// text, are an error, and nothing is made of them.
func Apply(doc []byte, edits []Edit) ([]byte, error) {
	if len(edits) == 0 {
		return doc, nil
	}
	list := append([]Edit(nil), edits...)
	sort.SliceStable(list, func(i, j int) bool {
		if list[i].From != list[j].From {
			return list[i].From < list[j].From
		}
		return list[i].To == list[i].From && list[j].To > list[j].From
	})
	var out bytes.Buffer
	at := 0
	for i, e := range list {
		if e.From < 0 || e.To < e.From || e.To > len(doc) {
			return nil, fmt.Errorf("an edit of the bytes %d to %d of a text of %d", e.From, e.To, len(doc))
		}
		if e.From < at {
			return nil, &OverlapError{list[i-1], e}
		}
		out.Write(doc[at:e.From])
		out.WriteString(e.Text)
		at = e.To
	}
	out.Write(doc[at:])
	return out.Bytes(), nil
}

// LineStart is the offset of the first byte of the line that holds at.
func LineStart(doc []byte, at int) int { return bytes.LastIndexByte(doc[:at], '\n') + 1 }

// LineEnd is the offset just past the line that holds at, its newline included.
func LineEnd(doc []byte, at int) int {
	if i := bytes.IndexByte(doc[at:], '\n'); i >= 0 {
		return at + i + 1
	}
	return len(doc)
}

// LineOf is the 1-based number of the line that holds at.
func LineOf(doc []byte, at int) int { return bytes.Count(doc[:min(at, len(doc))], []byte("\n")) + 1 }

// Liner is LineOf for many places of one document: it counts on from the place before, if the next one lies behind it.
func Liner(doc []byte) func(at int) int {
	last, line := 0, 1
	return func(at int) int {
		if at = min(at, len(doc)); at < last {
			last, line = 0, 1
		}
		line += bytes.Count(doc[last:at], []byte("\n"))
		last = at
		return line
	}
}

// IndentOf is the white space that the line of at begins with.
func IndentOf(doc []byte, at int) string {
	from := LineStart(doc, at)
	to := from
	for to < len(doc) && (doc[to] == ' ' || doc[to] == '\t') {
		to++
	}
	return string(doc[from:to])
}

// Newline is the line end that the document uses.
func Newline(doc []byte) string {
	if i := bytes.IndexByte(doc, '\n'); i > 0 && doc[i-1] == '\r' {
		return "\r\n"
	}
	return "\n"
}

// Alone says whether doc[from:to] is all that its lines hold.
func Alone(doc []byte, from, to int) bool {
	return strings.TrimSpace(string(doc[LineStart(doc, from):from])) == "" &&
		strings.TrimSpace(string(doc[to:LineEnd(doc, to)])) == ""
}

// WholeLines is the removal of a range, widened to its full lines where it is all
// that they hold.
func WholeLines(doc []byte, from, to int) Edit {
	if Alone(doc, from, to) {
		return Edit{LineStart(doc, from), LineEnd(doc, to), ""}
	}
	return Edit{from, to, ""}
}

// WholeRange is WholeLines for what came in behind a space where it came in on a line
// of others: that space goes, too.
func WholeRange(doc []byte, from, to int) Edit {
	cut := WholeLines(doc, from, to)
	if cut.From == from && cut.From > 0 && doc[cut.From-1] == ' ' {
		cut.From--
	}
	return cut
}

// IsSpace says whether a byte is white space.
func IsSpace(c byte) bool { return c == ' ' || c == '\t' || c == '\n' || c == '\r' }

// Trimmed are lines without the white space around them.
func Trimmed(lines []string) []string {
	out := make([]string, len(lines))
	for i, l := range lines {
		out[i] = strings.TrimSpace(l)
	}
	return out
}

// Indented are lines further in.
func Indented(lines []string, by string) []string {
	out := make([]string, len(lines))
	for i, l := range lines {
		out[i] = by + l
	}
	return out
}
