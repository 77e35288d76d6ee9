package platform

import (
	"encoding/json"
	"encoding/xml"
	"io"
	"path"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"notaria/internal/language"
	"notaria/internal/lazy"
)

// Wording is the text that a file shows to people, as far as its form tells: the values of JSON, ARB
// and YAML, what stands right of the equals signs in .strings, the strings of Android's resources,
// the messages of PO, the strings of sources with their escapes read, and all of other texts. It is
// false for files that hold none.
func Wording(file string, raw []byte) (string, bool) {
	ext := strings.ToLower(path.Ext(file))
	switch ext {
	case ".json", ".arb", ".xcstrings":
		return jsonWording(raw, ext)
	case ".yaml", ".yml":
		return yamlWording(raw)
	case ".strings":
		return pairWording(raw), true
	case ".po", ".pot":
		return poWording(raw), true
	case ".xml":
		return xmlWording(raw), true
	}
	if l := language.Of(file); l != nil && !l.Markup() {
		var b strings.Builder
		for _, t := range l.Tokens(raw) {
			if t.Kind != language.Comment {
				b.WriteString(unescaped(inner(string(raw[t.From:t.To]), t.Kind)) + "\n")
			}
		}
		return b.String(), true
	}
	return string(raw), slices.Contains(texts, ext)
}

// inner is a string without its quotes.
func inner(s string, kind language.Kind) string {
	if kind != language.String {
		return s
	}
	i := strings.IndexAny(s, "\"'`")
	if i < 0 {
		return s
	}
	quote := s[i : i+1]
	return strings.TrimRight(strings.TrimLeft(s[i:], quote), quote)
}

// jsonWording is all values that are text. Of ARB, keys with @ describe others; of string catalogs
// only the values are shown.
func jsonWording(raw []byte, ext string) (string, bool) {
	var v any
	if json.Unmarshal(raw, &v) != nil {
		return string(raw), true // with comments, perhaps: rather too much
	}
	var b strings.Builder
	valuesOf(&b, v, ext, "")
	return b.String(), true
}

func valuesOf(b *strings.Builder, v any, ext, key string) {
	switch v := v.(type) {
	case string:
		if ext != ".xcstrings" || key == "value" {
			b.WriteString(v + "\n")
		}
	case []any:
		for _, x := range v {
			valuesOf(b, x, ext, key)
		}
	case map[string]any:
		for k, x := range v { // a set of characters is made of it: the order does not matter
			if ext != ".arb" || !strings.HasPrefix(k, "@") {
				valuesOf(b, x, ext, k)
			}
		}
	}
}

// yamlWording is what stands behind the keys and dashes of each line, and all of lines without them;
// comments at the ends of lines are left out.
func yamlWording(raw []byte) (string, bool) {
	var b strings.Builder
	for _, l := range strings.Split(string(raw), "\n") {
		l = strings.TrimSpace(l)
		if strings.HasPrefix(l, "#") {
			continue
		}
		if i := strings.Index(l, " #"); i >= 0 && !strings.ContainsAny(l[i:], `"'`) {
			l = l[:i]
		}
		l = strings.TrimSpace(strings.TrimPrefix(l, "- "))
		if _, value, ok := strings.Cut(l, ": "); ok {
			l = value
		} else if strings.HasSuffix(l, ":") {
			continue
		}
		b.WriteString(unescaped(strings.Trim(l, `"'`)) + "\n")
	}
	return b.String(), true
}

var (
	pairs    = lazy.Regexp(`=\s*"((?:[^"\\]|\\.)*)"\s*;`)
	messages = lazy.Regexp(`(?m)^(?:msgid|msgid_plural|msgstr(?:\[\d+\])?)?\s*"((?:[^"\\\n]|\\.)*)"\s*$`)
)

// pairWording is the right sides of "key" = "value"; in UTF-8, or in UTF-16 as older tools write it.
func pairWording(raw []byte) string {
	var b strings.Builder
	for _, m := range pairs.FindAllStringSubmatch(fromUTF16(raw), -1) {
		b.WriteString(unescaped(m[1]) + "\n")
	}
	return b.String()
}

// fromUTF16 is text that begins with a byte order mark of UTF-16; other text stays.
func fromUTF16(raw []byte) string {
	if len(raw) < 2 || !(raw[0] == 0xff && raw[1] == 0xfe || raw[0] == 0xfe && raw[1] == 0xff) {
		return string(raw)
	}
	low := 0
	if raw[0] == 0xfe {
		low = 1
	}
	var b strings.Builder
	for i := 2; i+1 < len(raw); i += 2 {
		b.WriteRune(rune(raw[i+low]) | rune(raw[i+1-low])<<8) // characters beyond U+FFFF are left out
	}
	return b.String()
}

func poWording(raw []byte) string {
	var b strings.Builder
	text := string(raw)
	if i := strings.Index(text, "\n\n"); strings.Contains(text[:max(i, 0)], `msgid ""`) {
		text = text[i:] // the head is about the file
	}
	for _, m := range messages.FindAllStringSubmatch(text, -1) {
		b.WriteString(unescaped(m[1]) + "\n")
	}
	return b.String()
}

// xmlWording is what stands between the tags; of what is no XML all.
func xmlWording(raw []byte) string {
	d := xml.NewDecoder(strings.NewReader(string(raw)))
	d.Strict = false
	d.CharsetReader = func(_ string, in io.Reader) (io.Reader, error) { return in, nil }
	var b strings.Builder
	for {
		t, err := d.Token()
		if err == io.EOF {
			return b.String()
		}
		if err != nil {
			return string(raw)
		}
		if text, ok := t.(xml.CharData); ok {
			b.WriteString(unescaped(string(text)) + "\n")
		}
	}
}

// escapes are those that name no character that is drawn.
var escapes = map[byte]bool{'n': true, 't': true, 'r': true, 'a': true, 'b': true, 'f': true, 'v': true, '0': true}

// Unescaped is text as a source of the C family has it between quotes, with its escapes read.
func Unescaped(s string) string { return unescaped(s) }

// unescaped is text with the escapes of C and its family read: \u00e9, \xC2\xB0, \302\260, \".
func unescaped(s string) string {
	if !strings.Contains(s, `\`) {
		return s
	}
	var b []byte
	for i := 0; i < len(s); i++ {
		if s[i] != '\\' || i+1 == len(s) {
			b = append(b, s[i])
			continue
		}
		c := s[i+1]
		n, used := 0, 0
		switch {
		case c == 'u' || c == 'U':
			digits := 4 + 4*int(boolByte(c == 'U'))
			if v, err := strconv.ParseUint(s[i+2:min(i+2+digits, len(s))], 16, 32); err == nil && v <= utf8.MaxRune {
				b = utf8.AppendRune(b, rune(v))
				i += 1 + digits
				continue
			}
		case c == 'x':
			n, used = number(s[i+2:], 2, 16)
			used++
		case c >= '0' && c <= '7':
			n, used = number(s[i+1:], 3, 8)
		}
		switch {
		case used > 1 || used == 1 && c != '0':
			if n >= ' ' {
				b = append(b, byte(n))
			}
			i += used
		case escapes[c]:
			b = append(b, ' ')
			i++
		default:
			b = append(b, c)
			i++
		}
	}
	return string(b)
}

func boolByte(b bool) byte {
	if b {
		return 1
	}
	return 0
}

// number reads up to so many digits.
func number(s string, most, base int) (v, used int) {
	for used < most && used < len(s) {
		d, err := strconv.ParseUint(s[used:used+1], base, 8)
		if err != nil {
			break
		}
		v, used = v*base+int(d), used+1
	}
	return v, used
}

// Characters are the characters of texts that can be drawn, in order.
func Characters(texts ...string) []rune {
	have := map[rune]bool{}
	for _, t := range texts {
		addRunes(have, []byte(t))
	}
	return drawable(have)
}

func drawable(have map[rune]bool) []rune {
	out := make([]rune, 0, len(have))
	for r := range have {
		if r >= ' ' && (r < 0x7F || r >= 0xA0) && r != utf8.RuneError && r != '\ufeff' && !language.Unseen(r) {
			out = append(out, r)
		}
	}
	slices.Sort(out)
	return out
}

// stringsXML are Android's resources; other XML holds no strings of an app.
var stringsXML = lazy.Regexp(`(?i)(?:^|[/\\])strings[\w-]*\.xml$`)

// localeJSON are files of strings in JSON and YAML, by where they lie or what they are called.
var localeJSON = lazy.Regexp(`(?i)(?:^|[/\\])(?:(?:locales?|i18n|lang|langs|languages|translations?|l10n|messages|strings)[/\\](?:[^/\\]+[/\\])*[^/\\]+|(?:strings|messages|translations?)[\w.-]*)\.(?:json|ya?ml)$`)

// IsStrings says whether a file holds the strings of an app in one of its languages, by its name.
func IsStrings(name string) bool {
	switch strings.ToLower(path.Ext(name)) {
	case ".strings", ".xcstrings", ".arb", ".po", ".pot":
		return true
	case ".xml":
		return stringsXML.MatchString(name)
	case ".json", ".yaml", ".yml":
		return localeJSON.MatchString(name)
	}
	return false
}
