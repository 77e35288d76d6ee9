package audit

import (
	"bytes"
	"fmt"
	"path"
	"slices"
	"strings"
	"unicode/utf8"

	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/sfnt"
)

// styled is a weight or a slant that is asked for beside a name.
type styled struct {
	ask
	besides
}

// beside finds what asks for a weight or a slant beside a name that is right.
func (k *ask) beside(src *source) {
	if k.use.Styles != nil && k.family != nil {
		from, to, ok := src.between(k.from, k.use.Bracket, closing[k.use.Bracket])
		if ok && !bytes.HasSuffix(bytes.TrimSpace(src.clean[:from-1]), []byte("@font-face")) { // a declaration, which other rules judge
			for _, m := range k.use.Styles.FindAllSubmatchIndex(src.clean[from:to], -1) {
				if at, end := firstGroup(m); at >= 0 && (k.use.Bracket == '<' || !src.nested(from, from+m[0])) {
					k.styles = append(k.styles, besides{placed(k.site, src, from+at, from+end), from + at, string(src.clean[from+at : from+end]), from})
				}
			}
		}
	}
	if k.use.Weight == nil || !k.face {
		return
	}
	from, to, ok := src.around(k.from)
	if !ok {
		return
	}
	for _, m := range k.use.Weight.FindAllSubmatchIndex(src.clean[from:to], -1) {
		if v := string(src.clean[from+m[4] : from+m[5]]); v != "normal" && v != "400" && !src.nested(from, from+m[0]) {
			k.weights = append(k.weights, besides{placed(k.site, src, from+m[2], from+m[3]), from + m[2], string(src.clean[from+m[2] : from+m[3]]), from})
		}
	}
}

// besideNames finds the weights and slants that are asked for beside names, each once.
func (a *pass) besideNames() []styled {
	type place struct {
		site, file string
		from       int
	}
	seen := map[place]bool{}
	var out []styled
	for _, k := range a.asks {
		for _, b := range k.styles {
			if at := (place{siteKey(k.site), k.at.File, b.from}); !seen[at] {
				seen[at] = true
				out = append(out, styled{k, b})
			}
		}
	}
	return out
}

// lacks says whether a family lacks one of the styles that are asked for.
func (s styled) lacks() bool {
	for _, w := range strings.Split(s.word, "|") {
		weight, italic, ok := platform.StyleWord(w)
		if ok && (italic && !platform.HasItalic(s.family) || weight > 0 && weight != 400 && !platform.HasWeight(s.family, weight) || weight == 400 && len(s.family) > 1 && !s.one && !strings.EqualFold(w, "normal") && !platform.HasWeight(s.family, weight)) {
			return true
		}
	}
	return false
}

// doubles says whether a style is asked for on top of one face that has it already.
func (s styled) doubles() bool {
	for _, w := range strings.Split(s.word, "|") {
		if weight, italic, ok := platform.StyleWord(w); ok && s.one && (italic || weight >= 600) {
			return true
		}
	}
	return false
}

// styleNotThere looks beside a name for a weight or a slant that its family lacks.
func styleNotThere(a *pass, report func(Finding)) error {
	for _, s := range a.besideNames() {
		if !s.lacks() {
			continue
		}
		f := s.besides.at
		f.Message = fmt.Sprintf("%s has no face of %s", cell(s.typed), cell(s.word))
		f.Cause = "the platform fakes it, or takes the nearest; what is there: " + stylesOf(s.family)
		f.Cure = "add the face of that style, or ask for one that is there"
		report(f)
	}
	return a.flaws(platform.NotThere, report)
}

// weightOnOne looks beside the name of one face for what it has itself.
func weightOnOne(a *pass, report func(Finding)) {
	for _, s := range a.besideNames() {
		if s.lacks() || !s.doubles() {
			continue
		}
		f := s.besides.at
		f.Message = fmt.Sprintf("%s is asked for on top of %s, which is one face and has it already", cell(s.word), cell(s.typed))
		f.Cause = "the platform can make it bolder or more slanted once more"
		f.Cure = "take it out"
		report(f)
	}
}

var closing = map[byte]byte{'(': ')', '{': '}', '[': ']', '<': '>'}

// stylesOf names the styles of a family.
func stylesOf(family []platform.Face) string {
	var out []string
	for _, f := range family {
		style := fmt.Sprint(f.Weight)
		if f.Slant != face.Upright {
			style += " " + string(f.Slant)
		}
		if !slices.Contains(out, style) {
			out = append(out, style)
		}
	}
	slices.Sort(out)
	if len(out) > 10 {
		out = append(out[:10], "…")
	}
	return strings.Join(out, ", ")
}

// familyNamed are the faces of an app that go by a family's name; nil where it names one face, or none.
func familyNamed(name string, faces []platform.Face) []platform.Face {
	var out []platform.Face
	for _, f := range faces {
		if f.Family == name || f.LegacyFamily == name || f.Family == "" && f.LegacyFamily == "" && f.ID() == name {
			out = append(out, f)
		}
	}
	return out
}

// isLocale says whether a file holds texts of an app in one of its languages.
func isLocale(file string) bool {
	switch ext := path.Ext(file); ext {
	case ".arb", ".strings", ".xcstrings", ".po", ".resx", ".ftl":
		return true
	case ".json", ".yml", ".yaml", ".properties", ".csv":
		dir := "/" + strings.ToLower(path.Dir(file)) + "/"
		for _, word := range []string{"/l10n/", "/i18n/", "/locales/", "/locale/", "/lang/", "/languages/", "/translations/", "/messages/", "/strings/", "/bundles/", "/nls/"} {
			if strings.Contains(dir, word) {
				return true
			}
		}
		return ext == ".properties" && strings.Contains(file, "/resources/")
	}
	return false
}

// mostTexts is how many texts of one file are looked at.
const mostTexts = 5000

// textsOf are the texts of a source that hold letters beyond ASCII.
func (s *source) textsOf(markup bool, add func(written)) {
	if s.packed() || !utf8.Valid(s.text) || bytes.IndexByte(s.text, 0) >= 0 || undrawn[path.Ext(s.file)] || undrawn[path.Base(s.file)] {
		return
	}
	n := 0
	take := func(from, to int) {
		if n > mostTexts {
			return
		}
		if text := s.clean[from:to]; hasBeyond(text) {
			n++
			line, _ := s.place(from)
			add(written{s.file, line, from, to, string(text)})
		}
	}
	if markup {
		from := 0
		for at, c := range s.clean {
			if c == '\n' {
				take(from, at)
				from = at + 1
			}
		}
		take(from, len(s.clean))
		return
	}
	for _, t := range s.strings {
		if hasBeyond(s.clean[t.From:t.To]) && !unseen.Match(s.clean[max(0, t.From-60):t.From]) {
			take(t.From, t.To)
		}
	}
}

// unseen is what stands in front of a text for logs and for programmers, which no font draws.
var unseen = lazy.Regexp(`(?:\bconsole\s*\.\s*\w+|\b[Ll]og(?:ger)?\s*\.\s*\w+|(?:^|[^.:\w])(?:print|println|printf|debugPrint|NSLog|os_log|qDebug|qWarning|SDL_Log|fatalError|precondition|assert\w*|require|trace|GD\.Print|push_error)|\bSystem\.(?:out|err)\.\w+|\bDebug\.\w+|\bConsole\.\w+|\bnew\s+Font|\bFont\s*\.\s*\w+|(?:Error|Exception))\s*\(\s*@?$`)

// undrawn are files whose texts no font of the app draws: the system shows the app's name, and builds read
// the rest.
var undrawn = map[string]bool{".plist": true, ".csproj": true, ".props": true, ".targets": true, ".gradle": true, ".kts": true, ".cmake": true, "CMakeLists.txt": true, "meson.build": true,
	"pom.xml": true, "AndroidManifest.xml": true, "package.json": true, "app.json": true}

// widest is how long the lines are that people write, in bytes.
const widest = 3000

// packed says whether a program wrote the source: it has a line that nobody would write.
func (s *source) packed() bool {
	at := 0
	for at < len(s.text) {
		i := bytes.IndexByte(s.text[at:], '\n')
		if i < 0 {
			i = len(s.text) - at
		}
		if i > widest {
			return true
		}
		at += i + 1
	}
	return false
}

func hasBeyond(text []byte) bool {
	for _, c := range text {
		if c >= 0x80 {
			return true
		}
	}
	return false
}

// coverOf are the characters that the fonts of an app hold together; false where this cannot be known,
// or the fonts are not for text.
func (a *pass) coverOf(s notary.SitePlan) (sfnt.Coverage, bool) {
	var all sfnt.Coverage
	list := a.carriedBy(s)
	if len(list) == 0 || s.Target.Kind == platform.ByRole {
		return nil, false
	}
	for _, h := range a.held[siteKey(s)] {
		if h.File != "" && a.p.Tree.Has(h.File) && !slices.ContainsFunc(list, func(c carried) bool { return c.File == h.File }) {
			return nil, false // a font that is not read
		}
	}
	for _, c := range list {
		cover, err := a.p.Covers(c.File)
		if err != nil {
			return nil, false
		}
		all = append(all, cover...)
	}
	for r := 'a'; r <= 'z'; r++ {
		if !has(all, r) {
			return nil, false
		}
	}
	return all, true
}

// has is Coverage.Has for ranges that are in no order.
func has(c sfnt.Coverage, r rune) bool {
	return slices.ContainsFunc(c, func(x sfnt.Range) bool { return r >= x.First && r <= x.Last })
}

// languageIn is the language in the path of a file of texts: values-ru/, ru.lproj/, app_ru.arb, po/ja.po.
var languageIn = lazy.Regexp(`(?:values-|[_.-]|/|^)([a-z]{2,3}(?:[_-][A-Za-z]{2,4})?)(?:\.lproj/[^/]*|\.(?:po|arb|properties|resx|ftl|json|ya?ml|csv)|/[^/]+)$`)

// ofLanguage is what a text counts with: its app's language, or the app's sources.
func ofLanguage(file string) string {
	if m := languageIn.FindStringSubmatch(file); m != nil && (isLocale(file) || path.Ext(file) == ".xml") {
		return m[1]
	}
	return ""
}

// notInFont reports the first text of an app, and of each of its languages, that has letters which no font of the app
// holds.
func notInFont(a *pass, report func(Finding)) error {
	for _, s := range a.plan.Sites {
		texts := a.texts[siteKey(s)]
		if len(texts) == 0 {
			continue
		}
		cover, ok := a.coverOf(s)
		if !ok {
			continue
		}
		lacks := map[string][]rune{}
		first := map[string]written{}
		var order []string
		files := map[string]map[string]bool{}
		for _, t := range texts {
			key := ofLanguage(t.file)
			for _, r := range lettersOf(t.text) {
				if has(cover, r) {
					continue
				}
				if len(lacks[key]) == 0 {
					order, first[key], files[key] = append(order, key), t, map[string]bool{}
				}
				files[key][t.file] = true
				if !slices.Contains(lacks[key], r) {
					lacks[key] = append(lacks[key], r)
				}
			}
		}
		for _, key := range order {
			shown := lacks[key]
			more := ""
			if len(shown) > 12 {
				shown, more = shown[:12], fmt.Sprintf(" and %d more", len(lacks[key])-12)
			}
			if n := len(files[key]) - 1; n > 0 {
				more += fmt.Sprintf(", in this file and in %d more", n)
			}
			var list []string
			for _, r := range shown {
				list = append(list, string(r))
			}
			report(by(s.Owner(), Finding{File: first[key].file, Line: first[key].line, Message: fmt.Sprintf("no font of this app holds %s%s", strings.Join(list, " "), more),
				Cause: "these letters show in a font of the platform's, or as boxes", Cure: a.cureOf(lacks[key])}))
		}
	}
	return nil
}

// cureOf is what to do for letters that no font of an app holds: where they were cut away, they come back.
func (a *pass) cureOf(lacks []rune) string {
	var cut []string
	listed := false
	for _, e := range a.p.Registry.Faces {
		if e.Trim == nil {
			continue
		}
		if whole, err := a.p.Covers(e.File); err == nil && !slices.ContainsFunc(lacks, func(r rune) bool { return !has(whole, r) }) {
			cut = append(cut, e.Name)
			listed = listed || !e.Trim.AppStrings
		}
	}
	if len(cut) > 0 && !listed {
		return "they came after the fonts were trimmed to the app's strings: run notaria register"
	}
	if len(cut) > 0 {
		return fmt.Sprintf("they were cut away: add them to trim of %s in notaria.toml, then run notaria register", strings.Join(cut, ", "))
	}
	return "take a font that holds them, or add one for this language"
}

var (
	// othersTexts are of libraries whose messages go to a console.
	othersTexts = lazy.Regexp(`(?i)(?:^|/)(?:gnulib|gettext|third[-_]?party|external|extern|vendor|node_modules)/`)
)

// withoutHashes is a text without the lines that begin with a sign of a comment.
func withoutHashes(text []byte) []byte {
	out := bytes.Clone(text)
	for at := 0; at < len(out); {
		end := len(out)
		if i := bytes.IndexByte(out[at:], '\n'); i >= 0 {
			end = at + i
		}
		if line := bytes.TrimLeft(out[at:end], " \t"); len(line) > 0 && (line[0] == '#' || line[0] == '!') {
			for i := at; i < end; i++ {
				out[i] = ' '
			}
		}
		at = end + 1
	}
	return out
}

// locales reads the files of texts that are in no programming language.
func (a *pass) locales(askers []asker) {
	index := newAskers(askers)
	for _, file := range a.p.Tree.Under("") {
		if !isLocale(file) || platform.IsTest(file) || othersTexts.MatchString(file) {
			continue
		}
		text, ok := a.p.Tree.Glance(file, mostSource)
		if text = language.FromUTF16(text); !ok || !hasBeyond(text) {
			continue
		}
		src := &source{file: file, text: text, clean: text}
		if l := language.Of(file); l != nil {
			src.clean = l.Blank(text)
		} else if ext := path.Ext(file); ext == ".po" || ext == ".properties" {
			src.clean = withoutHashes(text)
		}
		for _, k := range index.around(file) {
			if p, ok := k.site.Site.(platform.Excluder); ok && p.Excludes(file) {
				continue
			}
			src.textsOf(true, func(w written) { a.texts[siteKey(k.site)] = append(a.texts[siteKey(k.site)], w) })
		}
	}
}
