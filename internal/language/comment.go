package language

import "strings"

// mostComment is how long a text in a comment is, in characters.
const mostComment = 120

// Comment makes a text safe within a comment of the language, of either form: it stays on its line, it neither
// ends the comment nor begins another, and nothing of it is read before comments are. Java decodes \u002f
// anywhere (JLS 3.3), C joins a line that ends in a backslash, or in ??/, with the next (C11, 5.1.1.2), make as
// well: a backslash becomes a slash. In markup a comment holds no two hyphens (XML 1.0, 2.5), and what would
// be a tag is escaped, for the text also stands in documentation.
func (l *Language) Comment(s string) string {
	s = strings.ReplaceAll(OneLine(s), `\`, "/")
	for _, mark := range l.marks() {
		for strings.Contains(s, mark) {
			s = strings.ReplaceAll(s, mark, mark[:1]+" "+mark[1:])
		}
	}
	s = Short(s, mostComment)
	if l.markup {
		s = EscapeXML(s)
	}
	return s
}

// marks are what begins or ends a comment, or a string that a comment could end within.
func (l *Language) marks() []string {
	out := []string{"??/", "*/", "/*"} // Android's build copies comments of XML into Java
	if l.long {
		out = append(out, "[[", "[=", "]]", "]=")
	}
	if l.markup {
		out = append(out, "--")
	}
	for _, q := range l.quotes {
		if q.lines && len(q.open) == 3 {
			out = append(out, q.open)
		}
	}
	return out
}
