package language

import (
	"strconv"
	"strings"
	"unicode/utf16"
	"unicode/utf8"
)

// escapes are the ways in which a language writes characters by numbers between quotes, behind a backslash. What
// they name is what Literal of the same language writes.
type escapes struct {
	four    bool // \u00e9, and pairs of surrogates
	marks   bool // more than one u may stand there (The Java Language Specification, 3.3)
	braces  bool // \u{e9}
	eight   int  // digits of \U000000e9; 0 for none
	hex     int  // most digits of \xe9; 0 for none
	octal   bool // \351
	decimal bool // \233, of bytes (Lua 5.1 Reference Manual, 2.1)
	bytes   bool // \x and octal name bytes of UTF-8, not characters
	bare    bool // \e9 and a space (CSS Syntax 3, 4.3.7)
}

// The families of escapes.
var (
	cEscapes      = escapes{four: true, eight: 8, hex: 8, octal: true, bytes: true}
	swiftEscapes  = escapes{braces: true}
	javaEscapes   = escapes{four: true, marks: true, octal: true}
	sharpEscapes  = escapes{four: true, eight: 8, hex: 4}
	dartEscapes   = escapes{four: true, braces: true, hex: 2}
	scriptEscapes = escapes{four: true, braces: true, hex: 2, octal: true}
	jsonEscapes   = escapes{four: true}
	pythonEscapes = escapes{four: true, eight: 8, hex: 2, octal: true}
	godotEscapes  = escapes{four: true, eight: 6}
	luaEscapes    = escapes{braces: true, hex: 2, decimal: true, bytes: true}
	cssEscapes    = escapes{bare: true}
)

// escapesOf are those of each language; markup has none.
func (l *Language) escapesOf() escapes {
	switch l {
	case Swift:
		return swiftEscapes
	case Java, Kotlin, Groovy:
		return javaEscapes
	case CSharp:
		return sharpEscapes
	case Dart:
		return dartEscapes
	case JavaScript, TypeScript, QML, ActionScript:
		return scriptEscapes
	case Python:
		return pythonEscapes
	case GDScript, GodotText:
		return godotEscapes
	case Lua:
		return luaEscapes
	case CSS, SCSS:
		return cssEscapes
	case ObjectiveC, CPlus:
		return cEscapes
	}
	return jsonEscapes
}

// Unescape is what stands between the quotes of a literal, with its escapes read. A control character, such as that of
// \n, becomes a space; an escape that the language does not know stands for the character behind the
// backslash.
func (l *Language) Unescape(s string) string {
	if l.markup {
		return s
	}
	return l.escapesOf().read(s)
}

// UnescapeC reads the escapes of C, which many forms of texts took over.
func UnescapeC(s string) string { return cEscapes.read(s) }

// controls are the letters of escapes that name no character which is drawn.
const controls = "ntrabfv0e"

func (e escapes) read(s string) string {
	if !strings.Contains(s, `\`) {
		return s
	}
	var out []byte
	for i := 0; i < len(s); {
		if s[i] != '\\' || i+1 == len(s) {
			out = append(out, s[i])
			i++
			continue
		}
		text, used := e.one(s[i+1:])
		out = append(out, text...)
		i += 1 + used
	}
	return string(out)
}

// one reads what stands behind a backslash, and how many bytes that is.
func (e escapes) one(s string) (text []byte, used int) {
	c := s[0]
	switch {
	case e.bare:
		return e.css(s)
	case c == 'u' && e.braces && strings.HasPrefix(s[1:], "{"):
		if end := strings.IndexByte(s, '}'); end > 0 && end <= 2+8 {
			if r, ok := scalar(s[2:end]); ok {
				return character(r), end + 1
			}
		}
	case c == 'u' && e.four:
		return e.unit(s)
	case c == 'U' && e.eight > 0 && len(s) > e.eight:
		if r, ok := scalar(s[1 : 1+e.eight]); ok {
			return character(r), 1 + e.eight
		}
	case c == 'x' && e.hex > 0:
		if v, n := digits(s[1:], e.hex, 16); n > 0 {
			return e.named(v), 1 + n
		}
	case e.octal && c >= '0' && c <= '7':
		if v, n := digits(s, 3, 8); n > 1 || c != '0' {
			return e.named(v), n
		}
	case e.decimal && c >= '0' && c <= '9':
		v, n := digits(s, 3, 10)
		return e.named(v), n
	}
	_, size := utf8.DecodeRuneInString(s)
	if strings.IndexByte(controls, c) >= 0 {
		return []byte{' '}, 1
	}
	return []byte(s[:size]), size
}

// unit reads u and four digits; the two halves of a pair are one character.
func (e escapes) unit(s string) (text []byte, used int) {
	at := 1
	for e.marks && at < len(s) && s[at] == 'u' {
		at++
	}
	v, n := digits(s[at:], 4, 16)
	if n < 4 {
		return []byte{'u'}, 1
	}
	used = at + 4
	r := rune(v)
	if utf16.IsSurrogate(r) {
		if rest, ok := strings.CutPrefix(s[used:], `\u`); ok {
			if low, m := digits(rest, 4, 16); m == 4 {
				if pair := utf16.DecodeRune(r, rune(low)); pair != utf8.RuneError {
					return character(pair), used + 6
				}
			}
		}
	}
	return character(r), used
}

// css reads up to six digits and the white space that ends them.
func (e escapes) css(s string) (text []byte, used int) {
	v, n := digits(s, 6, 16)
	if n == 0 {
		_, size := utf8.DecodeRuneInString(s)
		return []byte(s[:size]), size
	}
	if n < len(s) && strings.IndexByte(" \t\n\f", s[n]) >= 0 {
		return character(rune(v)), n + 1
	}
	return character(rune(v)), n
}

// named is what a number names: a byte, or a character.
func (e escapes) named(v int) []byte {
	if e.bytes && v >= ' ' && v < 256 {
		return []byte{byte(v)}
	}
	return character(rune(v))
}

// character is one in UTF-8: a control as a space, what is none as U+FFFD.
func character(r rune) []byte {
	if r < ' ' {
		return []byte{' '}
	}
	return utf8.AppendRune(nil, r)
}

func scalar(s string) (rune, bool) {
	v, err := strconv.ParseUint(s, 16, 32)
	return rune(v), err == nil && v <= utf8.MaxRune
}

// digits reads up to so many digits.
func digits(s string, most, base int) (v, used int) {
	for used < most && used < len(s) {
		d, err := strconv.ParseUint(s[used:used+1], base, 8)
		if err != nil {
			break
		}
		if v < 1<<24 {
			v = v*base + int(d)
		}
		used++
	}
	return v, used
}

// Content is what a literal of the language says: without its quotes, and with its escapes read where it is of a kind
// that has any. A text that is no literal stays as it is.
func (l *Language) Content(literal string) string {
	for at := 0; at < len(literal) && at < 4; at++ { // a letter or @ may stand in front
		for _, q := range l.quotes {
			rest, ok := strings.CutPrefix(literal[at:], q.open)
			if !ok {
				continue
			}
			rest = strings.TrimRight(strings.TrimSuffix(rest, q.close), "#")
			rest = strings.TrimSuffix(rest, q.close)
			raw := strings.ContainsAny(literal[:at], "rR#")
			switch {
			case q.escape && !raw:
				return l.Unescape(rest)
			case q.doubled:
				return strings.ReplaceAll(rest, q.close+q.close, q.close)
			}
			return rest
		}
	}
	return literal
}
