package language

import (
	"bytes"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"strings"
	"unicode/utf16"

	"notaria/internal/lazy"
)

func swiftLiteral(s string) string { return Quoted(s, '"', "", Braced) }

func dartLiteral(s string) string { return Quoted(s, '\'', "$", Braced) }

func scriptLiteral(s string) string { return Quoted(s, '\'', "", Braced) }

// kotlinLiteral is also good for Groovy: a dollar would begin a template.
func kotlinLiteral(s string) string { return Quoted(s, '"', "$", UTF16Escape) }

// javaLiteral writes control characters in octal: Java reads \u before it knows of
// strings, so that a line end written so would end the line (JLS 3.3).
func javaLiteral(s string) string {
	return Quoted(s, '"', "", func(r rune) string {
		if r < 0x20 {
			return octal(byte(r))
		}
		return UTF16Escape(r)
	})
}

func sharpLiteral(s string) string {
	return Quoted(s, '"', "", func(r rune) string {
		if r > 0xffff {
			return fmt.Sprintf(`\U%08X`, r)
		}
		return fmt.Sprintf(`\u%04X`, r)
	})
}

// objectiveCLiteral writes what is not printable ASCII in octal, byte by byte of
// UTF-8: \u cannot name control characters in C, and \x takes as many digits as
// follow.
func objectiveCLiteral(s string) string {
	return "@" + Quoted(s, '"', "?", func(r rune) string {
		var b strings.Builder
		for _, c := range []byte(string(r)) {
			b.WriteString(octal(c))
		}
		return b.String()
	})
}

// cssLiteral writes what is not printable ASCII by its number, with a space behind it
// (CSS Syntax 3, 4.3.7).
func cssLiteral(s string) string {
	return Quoted(s, '"', "", func(r rune) string { return fmt.Sprintf(`\%x `, r) })
}

// actionLiteral writes in the units of UTF-16, as ActionScript's strings are.
func actionLiteral(s string) string { return Quoted(s, '"', "", UTF16Escape) }

// cLiteral writes UTF-8, byte by byte in octal where it is not printable ASCII.
func cLiteral(s string) string { return strings.TrimPrefix(objectiveCLiteral(s), "@") }

// luaLiteral writes UTF-8, byte by byte in three decimal digits where it is not printable
// ASCII (Lua 5.1, 2.1).
func luaLiteral(s string) string {
	return Quoted(s, '"', "", func(r rune) string {
		var b strings.Builder
		for _, c := range []byte(string(r)) {
			fmt.Fprintf(&b, `\%03d`, c)
		}
		return b.String()
	})
}

// jsonLiteral does not escape what only HTML minds.
func jsonLiteral(s string) string {
	var b strings.Builder
	enc := json.NewEncoder(&b)
	enc.SetEscapeHTML(false)
	_ = enc.Encode(s) // of a string: nothing can fail
	return string(EscapeUnseen([]byte(strings.TrimSuffix(b.String(), "\n"))))
}

func attributeLiteral(s string) string { return `"` + EscapeAttribute(s) + `"` }

func octal(c byte) string { return fmt.Sprintf(`\%03o`, c) }

// UTF16Escape writes a character in the units of UTF-16, as Java and Kotlin do.
func UTF16Escape(r rune) string {
	if r > 0xffff {
		r -= 0x10000
		return fmt.Sprintf(`\u%04X\u%04X`, 0xd800+(r>>10), 0xdc00+(r&0x3ff))
	}
	return fmt.Sprintf(`\u%04X`, r)
}

// FromUTF16 is a text in UTF-8, where it begins with the mark of UTF-16, as Apple's lists of strings often do; other
// text stays.
func FromUTF16(text []byte) []byte {
	order := binary.ByteOrder(binary.LittleEndian)
	switch {
	case bytes.HasPrefix(text, []byte("\xfe\xff")):
		order = binary.BigEndian
	case !bytes.HasPrefix(text, []byte("\xff\xfe")):
		return text
	}
	units := make([]uint16, 0, len(text)/2)
	for i := 2; i+1 < len(text); i += 2 {
		units = append(units, order.Uint16(text[i:]))
	}
	return []byte(string(utf16.Decode(units)))
}

// EscapeXML makes text safe between tags; line ends are written as numbers, so that text
// stays on its line.
func EscapeXML(s string) string {
	return xmlUnseen(strings.NewReplacer("&", "&amp;", "<", "&lt;", ">", "&gt;", "\n", "&#10;", "\r", "&#13;").Replace(s))
}

// EscapeAttribute makes text safe between double quotes; line ends and tabs are
// written as numbers, for a reader would turn them into spaces.
func EscapeAttribute(s string) string {
	return xmlUnseen(strings.NewReplacer("&", "&amp;", "<", "&lt;", ">", "&gt;", `"`, "&quot;", "\n", "&#10;", "\r", "&#13;", "\t", "&#9;").Replace(s))
}

// xmlUnseen writes what is unseen by its number. What no XML holds, not even by number, becomes a question
// mark: most control characters, U+FFFE and U+FFFF (XML 1.0, 2.2).
func xmlUnseen(s string) string {
	odd := func(r rune) bool { return Unseen(r) || NotXML(r) }
	if strings.IndexFunc(s, odd) < 0 {
		return s
	}
	var b strings.Builder
	for _, r := range s {
		switch {
		case NotXML(r):
			b.WriteRune('\ufffd')
		case Unseen(r):
			fmt.Fprintf(&b, "&#%d;", r)
		default:
			b.WriteRune(r)
		}
	}
	return b.String()
}

// NotXML says that a character can stand in no XML document in any form.
func NotXML(r rune) bool {
	return r < ' ' && r != '\t' && r != '\n' && r != '\r' || r == 0xfffe || r == 0xffff
}

// Member makes a name a legal member of the language: one that begins with a digit,
// or is empty, gets kind before it; taken holds the names that the generated code
// itself needs. What is reserved or taken gets "Type" behind it.
func (l *Language) Member(name, kind string, taken *lazy.Set) string {
	if name == "" || name[0] >= '0' && name[0] <= '9' {
		name = kind + name
	}
	if taken.Has(name) || l.Reserved.Has(name) {
		return name + "Type"
	}
	return name
}
