package language

import (
	"fmt"
	"strconv"
	"strings"
	"unicode"
)

// mostWord keeps identifiers made of absurd names within what compilers and file
// systems take.
const mostWord = 60

// Words cuts a name into lower-case ASCII words: at everything that is neither
// letter nor digit, and where a small letter meets a capital. Accents and other
// scripts are left out, since most resource systems take ASCII alone.
func Words(name string) []string {
	var out []string
	var word strings.Builder
	flush := func() {
		if word.Len() > 0 {
			out = append(out, word.String())
			word.Reset()
		}
	}
	size := 0
	var last rune
	for _, r := range name {
		ok := r < 0x80 && (unicode.IsLetter(r) || unicode.IsDigit(r))
		if !ok || unicode.IsUpper(r) && (unicode.IsLower(last) || unicode.IsDigit(last)) {
			flush()
		}
		if ok {
			if size++; size > mostWord {
				break
			}
			word.WriteRune(unicode.ToLower(r))
		}
		last = r
	}
	flush()
	return out
}

// Snake writes words as lower_case.
func Snake(words []string) string { return strings.Join(words, "_") }

// Camel writes words as lowerCamelCase.
func Camel(words []string) string {
	p := Pascal(words)
	if p == "" {
		return ""
	}
	return strings.ToLower(p[:1]) + p[1:]
}

// Pascal writes words as UpperCamelCase.
func Pascal(words []string) string {
	var b strings.Builder
	for _, w := range words {
		b.WriteString(strings.ToUpper(w[:1]) + w[1:])
	}
	return b.String()
}

// Unique makes the names of a list differ: the first of a name keeps it, later
// ones get a number that no other name of the list has.
func Unique(names []string) []string {
	taken, met := map[string]bool{}, map[string]int{} // met: the number that is tried next
	for _, n := range names {
		taken[n] = true
	}
	out := make([]string, len(names))
	for i, n := range names {
		m := n
		for k := max(met[n], 2); met[n] > 0 && taken[m]; k++ {
			m, met[n] = fmt.Sprintf("%s_%d", n, k), k+1
		}
		taken[m], met[n] = true, max(met[n], 2)
		out[i] = m
	}
	return out
}

// Number writes a size without needless digits: 17, 15.5.
func Number(f float64) string { return strconv.FormatFloat(f, 'f', -1, 64) }

// Short cuts a text that is longer than most characters, and says so with an ellipsis.
func Short(s string, most int) string {
	if len(s) <= most {
		return s
	}
	if r := []rune(s); len(r) > most {
		return string(r[:most-1]) + "…"
	}
	return s
}

// Quoted writes a string literal between two quotes q, as C-like languages do: a
// backslash before the quote, itself and the signs of also; everything that is
// not printable ASCII in the language's own form, which escape gives.
func Quoted(s string, q rune, also string, escape func(r rune) string) string {
	var b strings.Builder
	b.WriteRune(q)
	for _, r := range s {
		switch {
		case r == q || r == '\\' || strings.ContainsRune(also, r):
			b.WriteByte('\\')
			b.WriteRune(r)
		case r < 0x20 || r >= 0x7f:
			b.WriteString(escape(r))
		default:
			b.WriteRune(r)
		}
	}
	b.WriteRune(q)
	return b.String()
}

// Braced is the escape of Swift, Dart and JavaScript: \u{1F6A2}.
func Braced(r rune) string { return fmt.Sprintf(`\u{%X}`, r) }

// Plural is a number of things as people read it: 1 file, 2 files.
func Plural(n int, one string) string {
	if n == 1 {
		return "1 " + one
	}
	return strconv.Itoa(n) + " " + one + "s"
}
