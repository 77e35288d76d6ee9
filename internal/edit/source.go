package edit

import (
	"bytes"
	"regexp"
	"slices"
	"strings"
)

// SyntaxSource is that of source code and build files with braces (Kotlin, Java,
// Gradle). Value is a line of code. Place is one of
//
//	import            the line stands among the imports
//	after:STATEMENT   the line follows that statement
//	block:A/B|C/D     the line is the last of the block D in C, or of B in A
const SyntaxSource = "source"

// BlockOf gives what stands between the braces after the first match of head, ""
// if there are none. Comments must be blank.
func BlockOf(text string, head *regexp.Regexp) string {
	if from, to, ok := blockAt([]byte(text), head); ok {
		return text[from:to]
	}
	return ""
}

// blockAt finds the inside of the first block whose head matches: between the two
// there is nothing but arguments and white space.
func blockAt(clean []byte, head *regexp.Regexp) (from, to int, ok bool) {
	for _, m := range head.FindAllIndex(clean, -1) {
		at := m[1]
		for at < len(clean) && isSpace(clean[at]) {
			at++
		}
		if at >= len(clean) || clean[at] != '{' {
			continue
		}
		if end := closing(clean, at); end > 0 {
			return at + 1, end, true
		}
	}
	return 0, 0, false
}

// HasLine says whether source has a line of just these words, outside comments.
func HasLine(src []byte, line string) bool {
	clean := BlankComments(src)
	_, _, ok := lineIn(clean, 0, len(clean), line)
	return ok
}

// lineIn finds a line by its words between two places.
func lineIn(clean []byte, from, to int, line string) (start, end int, ok bool) {
	for at := from; at < to; {
		end := min(lineEnd(clean, at), to)
		if text := strings.TrimSpace(string(clean[at:end])); text == line {
			return lineStart(clean, at), lineEnd(clean, at), true
		}
		at = end
	}
	return 0, 0, false
}

// reconcileSource sees to lines one at a time, for places move with edits.
func reconcileSource(file string, doc []byte, want, owned []Entry) ([]byte, []Entry, error) {
	wanted, mine := keys(want), keys(owned)
	for _, e := range owned {
		if wanted[e.Key()] {
			continue
		}
		clean := BlankComments(doc)
		from, to, err := scopeOf(file, clean, e)
		if err != nil {
			continue // its block is gone, and the line with it
		}
		if start, end, ok := lineIn(clean, from, to, e.Value); ok {
			if slices.Contains(e.Made, madeGap) && end < len(doc) && strings.TrimSpace(string(doc[end:lineEnd(doc, end)])) == "" {
				end = lineEnd(doc, end)
			}
			doc = apply(doc, []splice{{start, end, ""}})
		}
	}
	var now []Entry
	for _, e := range want {
		clean := BlankComments(doc)
		from, to, err := scopeOf(file, clean, e)
		if err != nil {
			return nil, nil, err
		}
		if _, _, ok := lineIn(clean, from, to, e.Value); ok {
			if mine[e.Key()] {
				now = append(now, entryOf(owned, e))
			}
			continue
		}
		var made string
		if doc, made, err = insertLine(file, doc, clean, from, to, e); err != nil {
			return nil, nil, err
		}
		e.Made = []string{made}
		now = append(now, e)
	}
	return doc, now, nil
}

func entryOf(list []Entry, e Entry) Entry {
	for _, have := range list {
		if have.Key() == e.Key() {
			return have
		}
	}
	return e
}

// Marks of a line in Entry.Made.
const (
	madeLine = "line"
	madeGap  = "line and gap" // an empty line came with it
)

var importLine = regexp.MustCompile(`(?m)^[ \t]*(?:import|package)\b[^\n]*\n`)

// scopeOf finds the range in which an entry's line is looked for.
func scopeOf(file string, clean []byte, e Entry) (from, to int, err error) {
	kind, what, _ := strings.Cut(e.Place, ":")
	switch kind {
	case "import":
		return 0, len(clean), nil
	case "after":
		i := bytes.Index(clean, []byte(what))
		if i < 0 {
			return 0, 0, paste(file, clean, what, e)
		}
		end := closingBlock(clean, i)
		return lineEnd(clean, i), end, nil
	}
	for _, way := range strings.Split(what, "|") {
		if from, to, ok := descend(clean, strings.Split(way, "/")); ok {
			return from, to, nil
		}
	}
	way, _, _ := strings.Cut(what, "|")
	return 0, 0, paste(file, clean, "a block "+strings.ReplaceAll(way, "/", " { "), e)
}

func paste(file string, clean []byte, expected string, e Entry) error {
	return &Error{file, 0, expected, "none", "add this line by hand: " + e.Value}
}

// closingBlock is the end of the block that a place lies in.
func closingBlock(clean []byte, at int) int {
	depth := 0
	for i := at; i < len(clean); i++ {
		switch clean[i] {
		case '"', '\'':
			i = quoteEnd(clean, i) - 1
		case '{':
			depth++
		case '}':
			if depth--; depth < 0 {
				return i
			}
		}
	}
	return len(clean)
}

// descend follows heads of blocks inward.
func descend(clean []byte, heads []string) (from, to int, ok bool) {
	from, to = 0, len(clean)
	for _, h := range heads {
		head := regexp.MustCompile(`(?:^|[\s;{])` + strings.ReplaceAll(regexp.QuoteMeta(h), " ", `\s+`))
		f, t, found := blockAt(clean[from:to], head)
		if !found {
			return 0, 0, false
		}
		from, to = from+f, from+t
	}
	return from, to, true
}

// insertLine puts a line into its scope, indented as its neighbours are.
func insertLine(file string, doc, clean []byte, from, to int, e Entry) ([]byte, string, error) {
	nl := newline(doc)
	kind, _, _ := strings.Cut(e.Place, ":")
	switch kind {
	case "import":
		return insertImport(doc, clean, e, nl)
	case "after":
		indent := indentOf(doc, from-1)
		return apply(doc, []splice{{from, from, indent + e.Value + nl}}), madeLine, nil
	}
	start := lineStart(doc, to)
	if start <= from || strings.TrimSpace(string(doc[start:to])) != "" {
		return nil, "", &Error{file, lineOf(doc, from), "a block whose closing brace stands on a line of its own", "another form", "add this line by hand: " + e.Value}
	}
	indent := indentOf(doc, to)
	inner := indent + "    "
	if strings.HasPrefix(indent, "\t") {
		inner = indent + "\t"
	}
	for at := lineEnd(doc, from); at < start; at = lineEnd(doc, at) { // as the first line there is
		if strings.TrimSpace(string(doc[at:lineEnd(doc, at)])) != "" {
			inner = indentOf(doc, at)
			break
		}
	}
	return apply(doc, []splice{{start, start, inner + e.Value + nl}}), madeLine, nil
}

// insertImport puts an import in its place by the alphabet, as far as the others
// are in order; the first comes after the package, with an empty line.
func insertImport(doc, clean []byte, e Entry, nl string) ([]byte, string, error) {
	var at int
	lines := importLine.FindAllIndex(clean, -1)
	imports := 0
	for _, m := range lines {
		text := strings.TrimSpace(string(clean[m[0]:m[1]]))
		if strings.HasPrefix(text, "import") {
			if imports++; imports == 1 || text < e.Value {
				at = m[0]
				if text < e.Value {
					at = m[1]
				}
			}
		} else if imports == 0 {
			at = m[1]
		}
	}
	if imports > 0 {
		return apply(doc, []splice{{at, at, e.Value + nl}}), madeLine, nil
	}
	if at == 0 || at < len(doc) && strings.TrimSpace(string(doc[at:lineEnd(doc, at)])) == "" {
		at = lineEnd(doc, at)
		if at == 0 || len(lines) == 0 {
			at = 0
		}
	}
	return apply(doc, []splice{{at, at, e.Value + nl + nl}}), madeGap, nil
}
