package language

import (
	"bytes"
	"fmt"
	"strings"
	"unicode"
	"unicode/utf16"
	"unicode/utf8"
)

// Unseen holds for what text shows by doing something to the text around it, or to the
// terminal: control characters (C0 except the line end and the tab, DEL, C1), signs that
// change the direction of text or end its lines (Unicode UAX 9 and 14), and tags.
func Unseen(r rune) bool {
	return r != '\n' && r != '\t' && unicode.IsControl(r) || unicode.Is(unicode.Bidi_Control, r) ||
		r == '\u2028' || r == '\u2029' || r == '\ufeff' || r >= 0xe0000 && r <= 0xe007f
}

// OneLine is text for a comment that ends with its line: what is unseen, line ends among
// it, becomes a space, and so does what no text of Unicode holds (U+FFFE, U+FFFF).
func OneLine(s string) string {
	return strings.Map(func(r rune) rune {
		if Unseen(r) || r == '\n' || r == '\t' || NotXML(r) {
			return ' '
		}
		return r
	}, s)
}

// EscapeUnseen writes what is unseen in a JSON text in the form of its strings, which
// alone can hold it.
func EscapeUnseen(text []byte) []byte {
	if bytes.IndexFunc(text, func(r rune) bool { return Unseen(r) && r != '\r' }) < 0 {
		return text
	}
	var b bytes.Buffer
	for len(text) > 0 {
		r, n := utf8.DecodeRune(text)
		switch {
		case !Unseen(r) || r == '\r':
			b.Write(text[:n])
		case r > 0xffff:
			high, low := utf16.EncodeRune(r)
			fmt.Fprintf(&b, `\u%04x\u%04x`, high, low)
		default:
			fmt.Fprintf(&b, `\u%04x`, r)
		}
		text = text[n:]
	}
	return b.Bytes()
}
