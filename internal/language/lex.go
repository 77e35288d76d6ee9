package language

import (
	"bytes"
	"strings"

	"notaria/internal/lazy"
)

// A Kind says what a part of a source is. Code is what no token covers.
type Kind uint8

const (
	Comment Kind = iota + 1
	String       // text between quotes, the quotes included; code put into it is no part of it
	Text         // text between elements
	Inner        // a string of a language that is embedded in markup
)

// A Token is a part of a source that is not code: bytes From to To.
type Token struct {
	Kind     Kind
	From, To int
}

// quote is a way of writing strings.
type quote struct {
	open, close string
	escape      bool   // a backslash takes the next character's meaning away
	doubled     bool   // the closing quote twice stands for itself
	lines       bool   // may go over several lines
	repeats     bool   // more quotes may open it, and as many close it
	hashes      bool   // may stand between as many # on both sides, which its escapes then have, too
	word        bool   // the opening's first letter must begin a word
	inner       string // begins code inside, up to the bracket that closes it
}

// mostDepth is how deep code may nest in strings and elements; what is deeper is taken
// as code.
const mostDepth = 48

// lexer walks a source once.
type lexer struct {
	*Language
	src    []byte
	out    []Token
	depth  int
	starts [256]bool      // the bytes that can begin a comment, a string, or end code
	broken map[string]int // by opening quote: up to where it is known not to close
	lost   bool           // an element does not end: then there are none
}

// lex is Tokens, anew.
func (l *Language) lex(src []byte) []Token {
	if l.markup {
		return l.markupTokens(src)
	}
	x := &lexer{Language: l, src: src, broken: map[string]int{}}
	begin := 0
	if bytes.HasPrefix(src, []byte("\uFEFF")) {
		begin = len("\uFEFF")
		x.add(Comment, 0, begin)
	}
	for _, q := range l.quotes {
		x.starts[q.open[0]] = true
	}
	for _, c := range l.line {
		x.starts[c[0]] = true
	}
	for _, c := range "/#<(){}" {
		x.starts[c] = true
	}
	x.code(begin, 0)
	if x.lost {
		plain := *l
		plain.elements = false
		return plain.lex(src)
	}
	return x.out
}

// Blank overwrites the comments of a source by spaces, so that offsets and lines
// stay.
func (l *Language) Blank(src []byte) []byte {
	return l.blank(src, func(k Kind) bool { return k == Comment })
}

// Skeleton overwrites comments, strings and texts: what is left is brackets and
// words of code, at their places.
func (l *Language) Skeleton(src []byte) []byte { return l.blank(src, func(Kind) bool { return true }) }

func (l *Language) blank(src []byte, out func(Kind) bool) []byte {
	b := append([]byte(nil), src...)
	for _, t := range l.Tokens(src) {
		if !out(t.Kind) {
			continue
		}
		for i := t.From; i < t.To; i++ {
			if b[i] != '\n' && b[i] != '\r' {
				b[i] = ' '
			}
		}
	}
	return b
}

func (x *lexer) add(k Kind, from, to int) {
	if to > from {
		x.out = append(x.out, Token{k, from, to})
	}
}

func (x *lexer) has(at int, s string) bool {
	return at+len(s) <= len(x.src) && string(x.src[at:at+len(s)]) == s
}

// code reads up to the bracket that closes the code begun at a place, or to the end
// where closing is 0. It returns the place behind.
func (x *lexer) code(at int, closing byte) int {
	opening := map[byte]byte{')': '(', '}': '{'}[closing]
	nesting := 0
	last := byte(0) // the last byte of code that is no blank
	word := at      // where the last word begins
	for at < len(x.src) {
		c := x.src[at]
		if isWord(c) && (at == 0 || !isWord(x.src[at-1])) {
			word = at
		}
		if !x.starts[c] {
			if !isSpace(c) {
				last = c
			}
			at++
			continue
		}
		if to := x.comment(at); to > at {
			x.add(Comment, at, to)
			at = to
			continue
		}
		if to := x.text(at); to > at {
			at, last = to, '"'
			continue
		}
		switch {
		case c == '/' && x.regex && x.valueCanFollow(last, word, at):
			if to := x.pattern(at); to > at {
				x.add(String, at, to)
				at, last = to, '"'
				continue
			}
		case c == '<' && x.elements && x.depth < mostDepth && x.begins(at+1) && x.valueCanFollow(last, word, at):
			at, last = x.element(at), '"'
			continue
		case c == opening && closing != 0:
			nesting++
		case c == closing && closing != 0:
			if nesting--; nesting < 0 {
				return at + 1
			}
		}
		last = c
		at++
	}
	return at
}

// comment returns the end of the comment that begins at a place, or the place.
func (x *lexer) comment(at int) int {
	if x.long && x.has(at, "--[") {
		if to := x.longComment(at); to > at {
			return to
		}
	}
	for _, l := range x.line {
		if x.has(at, l) {
			if i := bytes.IndexByte(x.src[at:], '\n'); i >= 0 {
				return at + i
			}
			return len(x.src)
		}
	}
	if !x.block || !x.has(at, "/*") {
		return at
	}
	plain := len(x.src) // where it ends if comments do not nest
	if i := bytes.Index(x.src[at+2:], []byte("*/")); i >= 0 {
		plain = at + 2 + i + 2
	}
	if !x.nested || at < x.broken["/*"] {
		return plain
	}
	depth := 0
	for i := at; i+1 < len(x.src); i++ {
		switch {
		case x.src[i] == '/' && x.src[i+1] == '*':
			depth++
			i++
		case x.src[i] == '*' && x.src[i+1] == '/':
			depth--
			i++
			if depth == 0 {
				return i + 1
			}
		}
	}
	// A pattern such as "src/**" in it opened one that nothing closes: the rest of the file is no
	// comment for that.
	x.broken["/*"] = len(x.src)
	return plain
}

// longComment returns the end of a comment in long brackets of any level (Lua 5.1, 2.1), or
// the place itself if none begins there.
func (x *lexer) longComment(at int) int {
	from := at + len("--[")
	level := 0
	for from+level < len(x.src) && x.src[from+level] == '=' {
		level++
	}
	if !x.has(from+level, "[") {
		return at
	}
	closing := "]" + strings.Repeat("=", level) + "]"
	if i := bytes.Index(x.src[from+level:], []byte(closing)); i >= 0 {
		return from + level + i + len(closing)
	}
	return len(x.src)
}

// text reads a string that begins at a place; it returns the place itself if none
// does.
func (x *lexer) text(at int) int {
	for i := range x.quotes {
		q := x.quotes[i]
		hashes, from := "", at
		if q.hashes && x.src[at] == '#' {
			for from < len(x.src) && x.src[from] == '#' && from-at < 16 {
				from++
			}
			hashes = string(x.src[at:from])
		}
		if !x.has(from, q.open) || q.word && at > 0 && isWord(x.src[at-1]) || at < x.broken[q.open] {
			continue
		}
		if q.repeats {
			end := from + len(q.open)
			for end < len(x.src) && x.src[end] == '"' {
				end++
			}
			more := string(x.src[from+len(q.open) : end])
			q.open, q.close = q.open+more, q.close+more
		}
		return x.string(at, from+len(q.open), q, hashes)
	}
	return at
}

// string reads a string whose content begins at in. Code that is put into it makes
// two tokens of it.
func (x *lexer) string(from, in int, q quote, hashes string) int {
	mark, piece := len(x.out), from
	escape, shut := `\`+hashes, q.close+hashes
	inner := q.inner
	if inner != "" && hashes != "" {
		inner = escape + "("
	}
	for i := in; i < len(x.src); {
		c := x.src[i]
		switch {
		case c == shut[0] && x.has(i, shut):
			if q.doubled && x.has(i+len(q.close), q.close) {
				i += 2 * len(q.close)
				continue
			}
			i += len(shut)
			x.add(String, piece, i)
			return i
		case c == '{' && inner == "{" && x.has(i, "{{"):
			i += 2
		case inner != "" && c == inner[0] && x.depth < mostDepth && x.has(i, inner):
			x.add(String, piece, i+len(inner))
			x.depth++
			end := x.code(i+len(inner), closer(inner))
			x.depth--
			i, piece = end, end
			if closed := x.out[len(x.out)-1].To < end && x.src[end-1] == closer(inner); closed {
				piece-- // the bracket belongs to the string
			}
		case c == '\\' && q.escape && x.has(i, escape):
			i = min(i+len(escape)+1, len(x.src))
		case c == '\n' && !q.lines:
			return x.unclosed(from, i, mark, piece, q)
		default:
			i++
		}
	}
	if !q.lines {
		return x.unclosed(from, len(x.src), mark, piece, q)
	}
	x.add(String, piece, len(x.src))
	return len(x.src)
}

// unclosed gives up a string that does not close on its line: an apostrophe, or a
// source that is half written. It is code, and so is every other quote of that kind
// up to there.
func (x *lexer) unclosed(from, to, mark, piece int, q quote) int {
	if x.depth > 0 {
		x.add(String, piece, to)
		return to
	}
	x.out = x.out[:mark]
	x.broken[q.open] = to
	return from
}

func closer(inner string) byte {
	if strings.HasSuffix(inner, "(") {
		return ')'
	}
	return '}'
}

// valueCanFollow says whether a value can stand at a place: then / begins a pattern
// and < an element.
func (x *lexer) valueCanFollow(last byte, word, at int) bool {
	if isWord(last) {
		w := strings.TrimRight(string(x.src[word:at]), " \t\r\n")
		return w == "return" || w == "typeof" || w == "case" || w == "default" || w == "await" || w == "yield" || w == "else" || w == "do"
	}
	return last == 0 || strings.IndexByte(")]\"}", last) < 0 || last == '}' && x.src[at] == '<'
}

// pattern returns the end of a regular expression, or the place itself.
func (x *lexer) pattern(at int) int {
	class := false
	for i := at + 1; i < len(x.src) && x.src[i] != '\n'; i++ {
		switch c := x.src[i]; {
		case c == '\\':
			i++
		case c == '[':
			class = true
		case c == ']':
			class = false
		case c == '/' && !class:
			return i + 1
		}
	}
	return at
}

// begins says whether an element's name, or a nameless one, begins at a place.
func (x *lexer) begins(at int) bool {
	return at < len(x.src) && (x.src[at] == '>' || x.src[at] >= 'a' && x.src[at] <= 'z' || x.src[at] >= 'A' && x.src[at] <= 'Z')
}

// element reads an element with all that is in it, and returns the place behind. One
// that does not end marks the source as lost: what looked like one was something else.
func (x *lexer) element(at int) int {
	x.depth++
	defer func() { x.depth-- }()
	at, closed := x.tag(at)
	for !closed && !x.lost {
		from := at
		for at < len(x.src) && x.src[at] != '<' && x.src[at] != '{' {
			at++
		}
		x.add(Text, from, at)
		switch {
		case at >= len(x.src):
			x.lost = true
		case x.src[at] == '{':
			at = x.code(at+1, '}')
		case x.has(at, "</"):
			i := bytes.IndexByte(x.src[at:], '>')
			if i < 0 {
				x.lost = true
				break
			}
			return at + i + 1
		case x.begins(at+1) && x.depth < mostDepth:
			at = x.element(at)
		default:
			at++
		}
	}
	return at
}

// tag reads an opening tag; closed says that the element ends with it.
func (x *lexer) tag(at int) (end int, closed bool) {
	for at++; at < len(x.src); {
		switch c := x.src[at]; c {
		case '>':
			return at + 1, x.src[at-1] == '/'
		case '"', '\'':
			i := bytes.IndexByte(x.src[at+1:], c)
			if i < 0 {
				x.lost = true
				return len(x.src), true
			}
			x.add(String, at, at+i+2)
			at += i + 2
		case '{':
			at = x.code(at+1, '}')
		case '(', ';', '=':
			if c != '=' || x.has(at, "=>") {
				x.lost = true // a type's parameters
				return len(x.src), true
			}
			at++
		default:
			at++
		}
	}
	x.lost = true
	return at, true
}

// markupTokens reads XML: comments, text between elements, and attributes' values; and, where it embeds other languages, what
// is in elements style and script as these read it (HTML, 13.1.2: raw text). What a template computes is code.
func (l *Language) markupTokens(src []byte) []Token {
	embeds, computed := l.embeds, l.computing(src)
	var out []Token
	index := func(from int, s string) int {
		if i := bytes.Index(src[from:], []byte(s)); i >= 0 {
			return from + i + len(s)
		}
		return len(src)
	}
	add := func(k Kind, from, to int) {
		if to > from {
			out = append(out, Token{k, from, to})
		}
	}
	within := func(l *Language, from, to int) {
		for _, t := range l.lex(src[from:to]) {
			if t.Kind == String {
				t.Kind = Inner
			}
			add(t.Kind, from+t.From, from+t.To)
		}
	}
	at := 0
	if embeds && (bytes.HasPrefix(src, []byte("---\n")) || bytes.HasPrefix(src, []byte("---\r\n"))) { // what a component computes first, or a page's own data
		if at = index(4, "\n---"); !l.template {
			within(TypeScript, 0, at)
		}
	}
	for at < len(src) {
		rest := src[at:]
		part, to := computed.at(at)
		switch {
		case part != nil && part.inner != nil:
			within(part.inner, at+len(part.open), to)
			at = to
		case part != nil:
			if part.comment {
				add(Comment, at, to)
			}
			at = to
		case bytes.HasPrefix(rest, []byte("<!--")):
			to := index(at+4, "-->")
			add(Comment, at, to)
			at = to
		case bytes.HasPrefix(rest, []byte("<![CDATA[")):
			to := index(at, "]]>")
			add(Text, at, to)
			at = to
		case opensTag(rest):
			begin := at
			for at++; at < len(src) && src[at] != '>'; {
				if _, to := computed.at(at); to > at {
					at = to
				} else if c := src[at]; c == '"' || c == '\'' {
					to := computed.valueEnd(at)
					add(String, at, to)
					at = to
				} else {
					at++
				}
			}
			at = min(at+1, len(src))
			if l, end := embedded(src[begin:at]); embeds && end != "" {
				to := at + foldIndex(src[at:], end)
				if l != nil {
					within(l, at, to)
					at = to
				}
			}
		default:
			from := at
			for at++; at < len(src) && !opensTag(src[at:]); at++ {
				if part, _ := computed.at(at); part != nil {
					break
				}
			}
			add(Text, from, at)
		}
	}
	return out
}

// A part of a template is what the server, or the program that makes pages, reads.
type part struct {
	open, close string
	comment     bool
	inner       *Language // that it is written in, if its comments count
}

// parts are those of the common languages of templates, the longest opening first.
var parts = lazy.Of(func() []part {
	return []part{
		{open: "{{!--", close: "--}}", comment: true}, {open: "{{--", close: "--}}", comment: true}, {open: "{{/*", close: "*/}}", comment: true}, {open: "{{- /*", close: "*/ -}}", comment: true},
		{open: "<%--", close: "--%>", comment: true}, {open: "<%#", close: "%>", comment: true}, {open: "{#", close: "#}", comment: true}, {open: "@*", close: "*@", comment: true},
		{open: "<?php", close: "?>", inner: php}, {open: "<?=", close: "?>", inner: php}, {open: "<?", close: "?>"}, {open: "<%", close: "%>"}, {open: "{%", close: "%}"}, {open: "{{", close: "}}"},
	}
})

// A computing finds the parts of one template. Those whose end is not there any more are not looked for again: it would take
// as long as the text for each that begins.
type computing struct {
	src     []byte
	on      bool
	endless []bool // by part
}

func (l *Language) computing(src []byte) computing {
	if !l.template {
		return computing{src: src}
	}
	return computing{src, true, make([]bool, len(parts.Get()))}
}

// at is the part that begins at a place, and its end; nil, if none does. One that does not end is text, but for code that
// ends with the file.
func (c computing) at(at int) (*part, int) {
	if !c.on || at >= len(c.src) || c.src[at] != '<' && c.src[at] != '{' && c.src[at] != '@' {
		return nil, 0
	}
	for i := range parts.Get() {
		p := &parts.Get()[i]
		if !bytes.HasPrefix(c.src[at:], []byte(p.open)) {
			continue
		}
		if !c.endless[i] {
			if n := bytes.Index(c.src[at+len(p.open):], []byte(p.close)); n >= 0 {
				return p, at + len(p.open) + n + len(p.close)
			}
			c.endless[i] = true
		}
		if p.inner != nil {
			return p, len(c.src)
		}
	}
	return nil, 0
}

// valueEnd is the end of an attribute's value, which parts of a template can be in, with quotes of their own.
func (c computing) valueEnd(at int) int {
	src, quote := c.src, c.src[at]
	for i := at + 1; i < len(src); {
		if src[i] == quote {
			return i + 1
		}
		if _, to := c.at(i); to > i {
			i = to
		} else {
			i++
		}
	}
	return len(src)
}

// opensTag says whether a tag, a comment or a declaration begins here: else < is a sign of the text.
func opensTag(s []byte) bool {
	return s[0] == '<' && (len(s) == 1 || s[1] == '/' || s[1] == '!' || s[1] == '?' || s[1] == ':' || isWord(s[1]) && (s[1] < '0' || s[1] > '9'))
}

var (
	rawElement = lazy.Regexp(`^<(?i:(style)|(script))(?:\s[^>]*)?>$`)
	ofTemplate = lazy.Regexp(`(?i)\stype\s*=\s*["']?[^"'\s>]*(?:html|template|handlebars|mustache|x-)`)
	ofSass     = lazy.Regexp(`(?i)\slang\s*=\s*["']?(?:scss|sass|less|styl)`)
	ofTypes    = lazy.Regexp(`(?i)\slang\s*=\s*["']?tsx?`)
)

// embedded is the language in an element that begins with a tag, and how the element ends: nil for one that holds markup, and
// "" for any other element.
func embedded(tag []byte) (*Language, string) {
	if len(tag) < 7 || tag[len(tag)-2] == '/' {
		return nil, ""
	}
	m := rawElement.FindSubmatch(tag)
	switch {
	case m == nil:
		return nil, ""
	case len(m[1]) > 0 && ofSass.Match(tag):
		return SCSS, "</style"
	case len(m[1]) > 0:
		return CSS, "</style"
	case ofTemplate.Match(tag):
		return nil, "</script"
	case ofTypes.Match(tag):
		return TypeScript, "</script"
	}
	return JavaScript, "</script"
}

// foldIndex finds a word of small letters, in any capitals; the end, if it is not there.
func foldIndex(s []byte, word string) int {
	for at := 0; ; at++ {
		i := bytes.IndexByte(s[at:], word[0])
		if i < 0 {
			return len(s)
		}
		if at += i; at+len(word) <= len(s) && strings.EqualFold(string(s[at:at+len(word)]), word) {
			return at
		}
	}
}

func isSpace(c byte) bool { return c == ' ' || c == '\t' || c == '\n' || c == '\r' }

func isWord(c byte) bool {
	return c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c >= '0' && c <= '9' || c == '_' || c == '$' || c >= 0x80
}

// Closing finds the bracket that closes the one at a place of a skeleton; -1 if there
// is none.
func Closing(skeleton []byte, at int) int {
	depth := 0
	for i := at; i < len(skeleton); i++ {
		switch skeleton[i] {
		case '(', '[', '{':
			depth++
		case ')', ']', '}':
			if depth--; depth == 0 {
				return i
			}
		}
	}
	return -1
}
