package platform

import (
	"encoding/json"
	"encoding/xml"
	"io"
	"path"
	"slices"
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
				text := string(raw[t.From:t.To])
				if t.Kind == language.String {
					text = l.Content(text)
				}
				b.WriteString(text + "\n")
			}
		}
		return b.String(), true
	}
	return string(raw), slices.Contains(texts, ext)
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
		if strings.HasPrefix(l, `"`) { // YAML 1.2, 5.7: the escapes of C, but for bytes
			l = language.Python.Unescape(strings.Trim(l, `"`))
		}
		b.WriteString(strings.Trim(l, "'") + "\n")
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
	for _, m := range pairs.FindAllSubmatch(language.FromUTF16(raw), -1) {
		b.WriteString(language.JSON.Unescape(oldUnit.ReplaceAllString(string(m[1]), `\u$1`)) + "\n")
	}
	return b.String()
}

// oldUnit is how lists of strings write a character by its number.
var oldUnit = lazy.Regexp(`\\U([0-9A-Fa-f]{4})`)

func poWording(raw []byte) string {
	var b strings.Builder
	text := string(raw)
	if i := strings.Index(text, "\n\n"); strings.Contains(text[:max(i, 0)], `msgid ""`) {
		text = text[i:] // the head is about the file
	}
	for _, m := range messages.FindAllStringSubmatch(text, -1) {
		b.WriteString(language.UnescapeC(m[1]) + "\n")
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
			b.WriteString(language.Java.Unescape(string(text)) + "\n") // as Android reads its resources
		}
	}
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
