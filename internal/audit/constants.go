package audit

import (
	"bytes"
	"slices"
	"strings"

	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

// A constant is a string to which a source gives a name: const heading = "…", case heading = "…",
// heading: "…" in an object, Heading("…") in an enumeration.
type constant struct {
	file     string
	from, to int // the text between the quotes
}

// Bounds of what is kept of constants: how many names there are, how many strings of one name, among
// how many the type around them decides, and how long a value may be, in bytes.
const (
	mostConstants  = 200000
	mostOfOneName  = 200
	mostCandidates = 20
	mostKept       = 32 // sources, while names are followed
	longestValue   = 160
)

// constantsOf are the named strings of a source.
func (s *source) constantsOf(add func(name string, c constant)) {
	for _, t := range s.strings {
		if t.Kind != language.String || t.To-t.From > longestValue+8 {
			continue
		}
		from, to, ok := s.inside(t)
		if !ok {
			continue
		}
		if s.isType(t) {
			continue
		}
		if name := s.nameBefore(t.From); name != "" && !s.assigned(t.From, name) {
			add(name, constant{file: s.file, from: from, to: to})
		}
	}
}

// typeBefore is a type of TypeScript up to its first text.
var typeBefore = lazy.Regexp(`\btype\s+\w+\s*=\s*\|?\s*$`)

// isType says whether a string is one of the values that a type of TypeScript allows.
func (s *source) isType(t language.Token) bool {
	if language.Of(s.file) != language.TypeScript {
		return false
	}
	rest := bytes.TrimLeft(s.clean[t.To:], " \t\r\n")
	return len(rest) > 1 && rest[0] == '|' && rest[1] != '|' || typeBefore.Match(s.clean[max(0, t.From-80):t.From])
}

// declares are languages in which a variable is declared with a type or a word: without one, it has other values, too.
var declares = map[*language.Language]bool{language.Java: true, language.CSharp: true, language.Kotlin: true, language.Swift: true, language.Dart: true}

// assigned says whether the string which begins at a place is given to a variable that was declared elsewhere.
func (s *source) assigned(at int, name string) bool {
	if !declares[language.Of(s.file)] {
		return false
	}
	before, given := bytes.CutSuffix(bytes.TrimRight(s.clean[max(0, at-200):at], " \t\r\n"), []byte("="))
	if !given {
		return false
	}
	before, plain := bytes.CutSuffix(bytes.TrimRight(before, " \t\r\n"), []byte(name))
	if before = bytes.TrimRight(before, " \t\r\n"); !plain || len(before) == 0 {
		return plain
	}
	switch before[len(before)-1] {
	case ';', '{', '}', ')', '.':
		return true
	}
	return bytes.HasSuffix(before, []byte("else"))
}

// keyed is a string to which markup gives a key, and one of Android's.
var keyed = lazy.Regexp(`<[\w:.]+\s[^<>]*\b(?:x:Key|name)\s*=\s*["'](\w+)["'][^<>]*>\s*([^<>\s][^<>]*?)\s*</`)

// keysOf are the named strings of markup.
func (s *source) keysOf(add func(name string, c constant)) {
	if !bytes.Contains(s.clean, []byte("x:Key")) {
		return
	}
	for _, m := range keyed.FindAllSubmatchIndex(s.clean, mostAsks) {
		if m[5]-m[4] <= longestValue {
			add(string(s.clean[m[2]:m[3]]), constant{s.file, m[4], m[5]})
		}
	}
}

// inside are the bytes between the quotes of a string that holds no code, and goes over one line.
func (s *source) inside(t language.Token) (from, to int, ok bool) {
	text := s.text[t.From:t.To]
	open := bytes.IndexAny(text, "\"'`")
	if open < 0 || bytes.IndexByte(text, '\n') >= 0 {
		return 0, 0, false
	}
	quote := text[open]
	first, last := open, len(text)
	for first < len(text) && text[first] == quote {
		first++
	}
	for last > first && (text[last-1] == quote || text[last-1] == '#') {
		last--
	}
	return t.From + first, t.From + last, last > first
}

// nameBefore is the name that is given to the string which begins at a place, "" if there is none.
func (s *source) nameBefore(at int) string {
	b := s.clean
	i := at
	skip := func() {
		for i > 0 && (b[i-1] == ' ' || b[i-1] == '\t' || b[i-1] == '\n' || b[i-1] == '\r') {
			i--
		}
	}
	if i > 0 && b[i-1] == '@' { // of Objective-C
		i--
	}
	skip()
	if i == 0 {
		return ""
	}
	switch b[i-1] {
	case '=', ':', '(':
		if i--; b[i] == '=' && i > 0 && b[i-1] == ':' { // of GDScript
			i--
		}
	default:
		// #define NAME "…"
		name := wordBefore(b, i)
		if j := i - len(name); name != "" && bytes.HasSuffix(bytes.TrimRight(b[max(0, j-20):j], " \t"), []byte("#define")) {
			return name
		}
		return ""
	}
	skip()
	if i > 0 && (b[i-1] == '"' || b[i-1] == '\'') { // a key in quotes
		q := b[i-1]
		if j := bytes.LastIndexByte(b[max(0, i-80):i-1], q); j >= 0 {
			return string(b[max(0, i-80)+j+1 : i-1])
		}
		return ""
	}
	if i > 1 && bytes.HasSuffix(b[:i], []byte("[]")) {
		i -= 2
	}
	if i > 0 && b[i-1] == '?' { // of a type
		i--
	}
	name := wordBefore(b, i)
	j := i - len(name)
	// heading: String = "…" names heading, and not String.
	k := j
	for k > 0 && (b[k-1] == ' ' || b[k-1] == '\t' || b[k-1] == '.') {
		k--
	}
	if name != "" && k > 0 && b[k-1] == ':' && b[i] != '(' {
		k--
		for k > 0 && b[k-1] == ' ' {
			k--
		}
		if of := wordBefore(b, k); of != "" {
			return of
		}
	}
	return name
}

func wordBefore(b []byte, at int) string {
	i := at
	for i > 0 && (b[i-1] == '_' || b[i-1] == '$' || b[i-1] >= '0' && b[i-1] <= '9' || b[i-1] >= 'a' && b[i-1] <= 'z' || b[i-1] >= 'A' && b[i-1] <= 'Z') {
		i--
	}
	if i < at && b[i] >= '0' && b[i] <= '9' {
		return ""
	}
	return string(b[i:at])
}

// reference is a name in code that stands for a font's.
type reference struct {
	asker asker
	use   *platform.Use
	file  string
	path  string // such as Faces.heading
	// styled says that a weight or a slant is asked for where it stands.
	styled bool
}

// valueOf are members that stand for the value of what is before them.
var valueOf = []string{"rawValue", "value", "name", "fontName", "postScriptName", "family"}

// follow judges the strings that names in code stand for, where there is but one such string.
func (a *pass) follow(constants map[string][]constant, references []reference, faces []platform.Face) {
	type at struct {
		site, file string
		from       int
	}
	seen := map[at]bool{}
	read := map[string]*source{}
	open := func(file string, r reference) *source {
		src, known := read[file]
		if !known {
			if len(read) >= mostKept {
				clear(read)
			}
			src = a.read(file, language.Of(file), r.asker.site.Owner())
			read[file] = src
		}
		return src
	}
	for _, r := range references {
		c, ok := resolve(constants, r, func(file string) *source { return open(file, r) })
		key := at{siteKey(r.asker.site), c.file, c.from}
		if !ok {
			a.notJudged++
			continue
		}
		if seen[key] {
			continue
		}
		seen[key] = true
		if src := open(c.file, r); src != nil && c.to <= len(src.text) {
			a.put(ask{site: r.asker.site, use: r.use, from: c.from, to: c.to}, src, faces, &r)
		}
	}
}

// qualifies are languages in which a member of another file's type goes by that type's name; what is imported without
// it is mostly in capitals.
var qualifies = map[*language.Language]bool{language.Java: true, language.CSharp: true}

// resolve finds the string that a name stands for; false if it could be one of several.
func resolve(constants map[string][]constant, r reference, open func(file string) *source) (constant, bool) {
	parts := strings.Split(strings.ReplaceAll(r.path, "?", ""), ".")
	if len(parts) > 1 && slices.Contains(valueOf, parts[len(parts)-1]) && len(constants[parts[len(parts)-1]]) == 0 {
		parts = parts[:len(parts)-1]
	}
	name := parts[len(parts)-1]
	var mine []constant
	for _, c := range constants[name] {
		if l := language.Of(c.file); l != nil && slices.Contains(r.use.Languages, l) && r.asker.knows(c.file, l) {
			mine = append(mine, c)
		}
	}
	if len(mine) > 1 && len(mine) <= mostCandidates && len(parts) > 1 {
		owner := parts[len(parts)-2]
		foreign := func(c constant) bool {
			src := open(c.file)
			return src == nil || !slices.Contains(src.ownersAt(c.from), owner)
		}
		if owned := slices.DeleteFunc(slices.Clone(mine), foreign); len(owned) > 0 {
			mine = owned
		}
	}
	if len(parts) == 1 && (len(mine) > 1 || qualifies[language.Of(r.file)] && name != strings.ToUpper(name)) {
		if here := slices.DeleteFunc(slices.Clone(mine), func(c constant) bool { return c.file != r.file }); len(here) > 0 || len(mine) == 1 {
			mine = here
		}
	}
	if len(mine) != 1 {
		return constant{}, false
	}
	return mine[0], true
}

// ownersAt are the names of the types, objects and enumerations around a place.
func (s *source) ownersAt(at int) []string {
	var out []string
	depth := 0
	for i := at; i > max(0, at-mostBraces); i-- {
		switch s.skeleton[i-1] {
		case '}':
			depth++
		case '{':
			if depth--; depth < 0 {
				depth = 0
				out = append(out, ownerBefore(s.skeleton[:i-1])...)
			}
		}
	}
	return out
}

// ownerBefore is the words between what is before a brace and it.
func ownerBefore(b []byte) []string {
	from := max(bytes.LastIndexAny(b, ";{}"), bytes.LastIndexByte(b, '\n'))
	return strings.FieldsFunc(string(b[from+1:]), func(r rune) bool {
		return r != '_' && r != '$' && (r < '0' || r > '9') && (r < 'a' || r > 'z') && (r < 'A' || r > 'Z')
	})
}
