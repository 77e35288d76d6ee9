package web

import (
	"bytes"
	"fmt"
	"html"
	"path"
	"slices"
	"strconv"
	"strings"
	"sync"

	"notaria/internal/face"
	"notaria/internal/installed"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

// Kinds of uses.
const (
	useClass    = "class"    // a class of an element, or in a selector
	useProperty = "property" // a name that CSS does not have
	useRule     = "rule"     // the selector of a rule that sets a family
	useOver     = "over"     // a family that an element with a role sets itself
	useURL      = "url"      // a font file
	useInPage   = "in page"  // a family in a page's own style sheet
	useVariable = "variable" // a value of Sass or Less, which can be a part of an address
	useCanvas   = "canvas"   // a family that a script draws with
)

var (
	css = []*language.Language{language.CSS, language.SCSS}
	// beside asks for a weight or a slant in the same rule, and written writes it.
	beside  = lazy.Regexp(`[\s;{]font-(?:weight|style)\s*:\s*([\w-]+)`)
	written = platform.WritesStyle("font-weight: %s", strconv.Itoa, "font-style: italic")
	pages   = []*language.Language{language.HTML, language.Template, language.Component}
	script  = []*language.Language{language.JavaScript, language.TypeScript}
	// fontURL is a font file in a style sheet.
	fontURL = lazy.Regexp(`\burl\(\s*["']?([^"')\n:]+\.(?i:ttf|otf|woff2?))(?:[?#][^"')]*)?["']?\s*\)`)
	uses    = []platform.Use{
		{Languages: css, Styles: beside, Bracket: '{', Beside: written, Sep: ";", Pattern: lazy.Regexp(`[\s;{]font-family\s*:\s*["']([^"'\n]*)["']`)},
		// What a declaration ends with, the next one can begin with: it is not asked for in front.
		{Languages: css, Styles: beside, Bracket: '{', Beside: written, Sep: ";", Pattern: lazy.Regexp(`[^\s;{]font-family|\bfont-family\s*:\s*([^"'\s;{}()$@][^"';{}(),\n!]*)[;,}\n!]`)},
		{Languages: css, Pattern: lazy.Regexp(`[\s;{]font\s*:[^;{}"']*["']([^"'\n]+)["']`)},
		{Languages: css, Kind: useVariable, Pattern: lazy.Regexp(`\s[$@][\w-]*(?:font|family|typeface)[\w-]*\s*:\s*["']([^"'\n]*)["']`)},
		{Languages: css, Pattern: lazy.Regexp(`\s--[\w-]*(?:font|family|typeface)[\w-]*\s*:\s*["']([^"'\n]*)["']`)},
		{Languages: pages, Pattern: lazy.Regexp(`\sstyle\s*=\s*"[^"<>]*\bfont-family\s*:\s*(?:'|&quot;)?([^"';,&<>]+)`)},
		{Languages: pages, Pattern: lazy.Regexp(`\sstyle\s*=\s*'[^'<>]*\bfont-family\s*:\s*(?:"|&quot;)?([^"';,&<>]+)`)},
		{Languages: pages, Kind: useInPage, Pattern: lazy.Regexp(`[\s;{]font-family\s*:\s*["']([^"'\n<>]*)["']`)},
		{Languages: pages, Kind: useInPage, Pattern: lazy.Regexp(`[\s;{]font-family\s*:\s*([A-Za-z][^"';{}(),\n<>]*)`)},
		{Languages: script, Pattern: lazy.Regexp(`\bfontFamily\s*[:=]\s*["'\x60]([^"'\x60,\n$]*)`)},
		{Languages: script, Pattern: lazy.Regexp(`["']font(?:F|-f)amily["']\s*\]?\s*[:=]\s*["'\x60]([^"'\x60,\n$]*)`)},
		{Languages: script, Pattern: lazy.Regexp(`\bsetProperty\s*\(\s*["']font-family["']\s*,\s*["'\x60]([^"'\x60,\n$]*)`)},
		{Languages: script, Pattern: lazy.Regexp(`\bfontFamily\s*:\s*\{[^{}\[]*\[\s*["']([^"'\n]*)["']`)},
		{Languages: script, Named: true, Pattern: lazy.Regexp(`\bfontFamily\s*[:=]\s*([A-Za-z_$][\w.]*)\s*[,;}\n]`)},
		{Languages: script, Pattern: lazy.Regexp(`(?:\bstyled(?:\.\w+|\([^()\n]*\))(?:\.attrs\([^()\n]*\))?(?:<[^<>\n]*>)?|\bcss|\bcreateGlobalStyle)\x60[^\x60]*?\bfont-family:\s*["']?([^;,'"\x60$\n]*[^;,'"\x60$\s])`)},
		{Languages: script, Kind: useCanvas, Pattern: lazy.Regexp(`\.font\s*=\s*["\x60][^"'\x60\n]*'([^'\n]+)'`)},
		{Languages: script, Kind: useCanvas, Pattern: lazy.Regexp(`\.font\s*=\s*['\x60][^"'\x60\n]*"([^"\n]+)"`)},
		{Languages: script, Kind: useCanvas, Pattern: lazy.Regexp(`\.font\s*=\s*["'\x60](?:[\w.-]+\s+)*[\d.]+(?:px|pt|em|rem)(?:/[\d.]+)?\s+([A-Za-z][\w -]*)`)},
		{Languages: css, Kind: useClass, Pattern: lazy.Regexp(`\.(type-[\w-]*)`)},
		{Languages: pages, Kind: useClass, Pattern: lazy.Regexp(`\sclass="(?:[^"]*\s)?(type-[^"\s]*)`)},
		{Languages: script, Kind: useClass, Pattern: lazy.Regexp(`\bclass(?:Name)?=["'](?:[^"'\n]*\s)?(type-[^"'\s]*)`)},
		{Languages: script, Kind: useClass, Pattern: lazy.Regexp(`\bclass(?:Name)?=\{\s*["'\x60](?:[^"'\x60\n]*\s)?(type-[\w-]*)`)},
		{Languages: script, Kind: useClass, Pattern: lazy.Regexp(`\bclassName\s*\+?=\s*["'\x60](?:[^"'\x60\n]*\s)?(type-[\w-]*)`)},
		{Languages: script, Kind: useClass, Pattern: lazy.Regexp(`\bclassList\.\w+\s*\((?:[^()\n]*,\s*)?["'\x60](type-[\w-]*)`)},
		{Languages: css, Kind: useProperty, Pattern: lazy.Regexp(`[\s;{](-fx-font-\w+|font(?:Family|Size|Weight|Style))\s*:`)},
		{Languages: css, Kind: useRule, Pattern: lazy.Regexp(`(?:^|\}|(?:^|\n)[$@][^;{}]*;)\s*([^@{};$\s][^{};]*?)\s*\{[^{}]*?[\s;{]?font-family\s*:`)},
		{Languages: pages, Kind: useOver, Pattern: lazy.Regexp(`<\w[\w-]*\s(?:[^<>]*\s)?class="[^"<>]*\btype-[^"<>]*"(?:[^<>]*?\s)?style="[^"<>]*\b(font-family)\s*:`)},
		{Languages: pages, Kind: useOver, Pattern: lazy.Regexp(`<\w[\w-]*\s(?:[^<>]*?\s)?style="[^"<>]*?\b(font-family)\s*:[^"<>]*"(?:[^<>]*\s)?class="[^"<>]*\btype-`)},
		{Languages: css, Kind: useURL, Pattern: fontURL},
		{Languages: pages, Kind: useURL, Pattern: lazy.Regexp(`@font-face\s*\{[^{}]*?\burl\(\s*["']?([^"')\n:{}<>$]+\.(?i:ttf|otf|woff2?))(?:[?#][^"')]*)?["']?\s*\)`)},
	}
)

// Uses are below the site's folder.
func (s *site) Uses() (string, []platform.Use) { return s.Dir, allUses() }

// allUses are those, and what comes over the network.
var allUses = sync.OnceValue(func() []platform.Use {
	return slices.Concat(uses, platform.NetworkInSheets, platform.NetworkInPages, platform.NetworkInScripts)
})

// Shares are the packages of the workspace that the site depends on.
func (s *site) Shares() []platform.Share {
	if len(s.Tree.Named("package.json")) < 2 {
		return nil
	}
	return platform.Sharing(s.Tree, s.Dir, platform.Workspace(s.Tree, s.Dir), platform.PlainUses(uses, useClass), "@font-face", "FontFace", "react-native")
}

// answer goes by the families of @font-face rules, ours and the site's own.
func (s *site) answer(job platform.Job, q platform.Question) platform.Answer {
	if rel, _ := s.Rel(q.File); s.output(path.Dir(rel)) {
		return platform.Answer{} // made of sources that are looked at
	}
	switch q.Use.Kind {
	case useClass:
		return platform.AnswerRole(q, "type-", q.Once("classes", func() []string { return classes(job.Roles) }), "class", "a browser reports nothing about a class that no rule is for")
	case useProperty:
		return s.answerProperty(q)
	case useRule:
		if len(job.Roles) == 0 {
			return platform.Answer{}
		}
		return platform.AnswerRule(q.Typed, func(sel string) bool {
			return slices.ContainsFunc(q.Once("dressed", s.dressed), func(e string) bool { return fits(sel, e) })
		})
	case useOver:
		return platform.Answer{Fault: platform.OverRole, Message: q.Typed + " is set beside a role", Cause: "what an element's own style sets wins over all style sheets", Cure: "take it out, or the role"}
	case useURL:
		return s.answerURL(q)
	}
	if q.Use.Kind == useVariable && slices.ContainsFunc(q.Faces, func(f platform.Face) bool {
		return slices.Contains(append(platform.NamesOfFile(f), f.ID(), f.Full), q.Typed)
	}) {
		return platform.Answer{}
	}
	a := s.answerFamily(q)
	if q.Use.Kind == useVariable && together(a.Instead) == together(q.Typed) {
		return platform.Answer{} // as files and classes are called
	}
	if a.Fault == platform.Fine && q.Use.Kind == useCanvas {
		return s.answerCanvas(q)
	}
	return a
}

// together is a name without what stands between its words.
func together(name string) string {
	return strings.ToLower(strings.NewReplacer(" ", "", "-", "", "_", "").Replace(name))
}

// answerCanvas judges whether a script waits for a font of the site's before it draws with it: a canvas
// does not draw again when the font comes.
func (s *site) answerCanvas(q platform.Question) platform.Answer {
	typed := strings.TrimSpace(q.Typed)
	own := slices.ContainsFunc(q.Once("declared", s.declared), func(n string) bool { return strings.EqualFold(n, typed) })
	if !own || slices.Contains(q.Once("waits", func() []string {
		if s.mentions("document.fonts") || s.mentions("FontFace(") {
			return []string{"yes"}
		}
		return nil
	}), "yes") {
		return platform.Answer{}
	}
	return platform.Answer{Fault: platform.TooEarly, Message: fmt.Sprintf("nothing waits until %q is loaded", face.Short(typed)), Cause: "a browser loads a font when a page first uses it; a canvas that is drawn before keeps the other font",
		Cure: fmt.Sprintf("write await document.fonts.load('16px \"%s\"') in front of it", face.Short(typed))}
}

func classes(roles []platform.Role) []string {
	var list []string
	for _, r := range roles {
		list = append(list, "type-"+r.Name)
	}
	return list
}

func (s *site) answerProperty(q platform.Question) platform.Answer {
	right := language.Words(q.Typed)
	if right[0] == "fx" {
		right = right[1:]
	}
	a := platform.Answer{Fault: platform.NotAProperty, Message: q.Typed + " is no property of CSS", Cause: "browsers pass it over without a word", Instead: strings.Join(right, "-")}
	a.Cure = platform.Choose(a.Instead, nil)
	return a
}

// find is the file that a url() in a style sheet means: from the sheet, or from the root of
// what is served; false if it cannot be in the tree.
func (s *site) find(sheet, url string) (string, bool) {
	if strings.HasPrefix(url, "~") || strings.HasPrefix(url, "@") || strings.ContainsAny(url, "$#{}") || strings.HasPrefix(url, "//") {
		return "", false
	}
	if !strings.HasPrefix(url, "/") {
		at := path.Join(path.Dir(sheet), url)
		return at, at == s.Dir || s.Dir == "" || strings.HasPrefix(at, s.Dir+"/")
	}
	for _, root := range []string{"", "public", "static", "src"} {
		if at := path.Join(s.Dir, root, url); s.has(at) {
			return at, true
		}
	}
	return path.Join(s.Dir, url), false // the server knows
}

// judged is find, and false where the file is not there and it cannot be said that it should be: of a source of style
// sheets, whose functions and mixins make addresses of their own; and of a sheet that a build copies to where the file
// lies.
func (s *site) judged(sheet, url string) (string, bool) {
	at, known := s.find(sheet, url)
	if !known || s.has(at) {
		return at, known
	}
	if l := language.Of(sheet); l.Markup() && l != language.Component && !(l == language.HTML && (s.kind == nil || s.kind.name == "") && wholePage.Match(s.source(strings.TrimPrefix(sheet, s.Dir+"/")))) {
		return at, false // a template is a part of pages elsewhere
	}
	return at, language.Of(sheet) != language.SCSS && !slices.ContainsFunc(s.Tree.Named(path.Base(at)), func(f string) bool { return outputs.MatchString(path.Dir(f)) })
}

// answerURL judges the file of a url(). Of a source of style sheets it is not known which sheet is made of it, and an
// address counts from that.
func (s *site) answerURL(q platform.Question) platform.Answer {
	at, known := s.judged(q.File, q.Typed)
	if !known {
		return platform.Answer{}
	}
	return platform.AnswerFile(at, q.FontFiles(s.Tree, s.Dir), "the browser finds no such file, and shows the next font of the list", "the style sheet",
		func(f string) string { return platform.Relative(path.Dir(q.File), f) })
}

// declared are the families of the site's own @font-face rules, and of what its scripts load.
func (s *site) declared() []string {
	list := s.loadedByScript()
	for _, b := range s.blocks() {
		if b.family != "" {
			list = append(list, b.family)
		}
	}
	for _, f := range s.Tree.Under(s.Dir) {
		l := language.Of(f)
		if !slices.Contains(pages, l) {
			continue
		}
		if raw, ok := s.Tree.Glance(f, platform.MostSource); ok {
			for _, m := range declaredIn.FindAllSubmatch(l.Blank(raw), mostBlocks) {
				list = append(list, string(m[1]))
			}
		}
	}
	return list
}

// declaredElsewhere are the families of rules in style sheets beside the site's folder.
func (s *site) declaredElsewhere() []string {
	var list []string
	for _, f := range s.Tree.Under("") {
		l := language.Of(f)
		if _, own := s.Rel(f); own || l != language.CSS && l != language.SCSS {
			continue
		}
		if raw, ok := s.Tree.Glance(f, platform.MostSource); ok && bytes.Contains(raw, []byte("@font-face")) {
			for _, m := range declaredIn.FindAllSubmatch(l.Blank(raw), mostBlocks) {
				list = append(list, string(m[1]))
			}
		}
	}
	return list
}

// declaredIn is a @font-face rule in a page.
var declaredIn = lazy.Regexp(`@font-face\s*\{[^{}]*?font-family\s*:\s*["']?([^"';{}\n]*[^"';{}\s])`)

// answerFamily judges the first family of a list; capitals do not count (CSS Fonts 4, 2.1.2).
func (s *site) answerFamily(q platform.Question) platform.Answer {
	typed := strings.TrimSpace(html.UnescapeString(q.Typed))
	same := func(n string) bool { return strings.EqualFold(n, typed) }
	if slices.ContainsFunc(q.System, same) || slices.ContainsFunc(q.Once("declared", s.declared), same) {
		return platform.Answer{}
	}
	if installed.IsFamily(typed) && !slices.ContainsFunc(q.Faces, func(f platform.Face) bool { return same(f.ID()) || same(f.Full) }) {
		return platform.Answer{} // also beside a family of the site's own that is called nearly so
	}
	var names []platform.Spelling
	for _, d := range q.Once("declared", s.declared) {
		names = append(names, platform.Spelling{Right: d})
	}
	for _, f := range q.Faces {
		right := q.Once("family of "+f.File, func() []string { return s.familiesOf(f.File) })
		if len(right) == 0 && (f.File == "" || !platform.LooksLikeFont(f.File) || s.enrolled(q, f)) {
			right = []string{platform.FamilyOf(f.Face)}
		}
		for _, r := range right {
			stem := strings.TrimSuffix(path.Base(f.File), path.Ext(f.File))
			names = append(names, platform.Spelling{Right: r, Wrong: []string{f.ID(), f.Full, stem, path.Base(f.File)}}, platform.Spelling{Right: r + " stand-in"})
		}
	}
	a := platform.AnswerName(typed, names, "%q is a face's name; a page goes by the family, and finds the face by weight and style", "no @font-face rule has the family %q",
		"browsers report nothing about an unknown family, and show the next font of the list")
	if a.Fault == platform.Fine && s.unknown(q, typed) {
		return platform.Answer{Fault: platform.UnknownFace, Message: fmt.Sprintf("no @font-face rule has the family %q", face.Short(typed)), Cause: "browsers report nothing about an unknown family, and show the next font of the list",
			Cure: "write a @font-face rule for it, or enrol the font; if it is installed where the page is read, list it under [check] system in notaria.toml"}
	}
	return a
}

// enrolled says whether a face is one that Notaria places.
func (s *site) enrolled(q platform.Question, f platform.Face) bool {
	return slices.ContainsFunc(q.Plan.Files, func(w platform.File) bool { return slices.Contains(w.Recipe.Faces(), f.ID()) })
}

// familiesOf are the families that rules of the site give a file.
func (s *site) familiesOf(file string) []string {
	var list []string
	for _, b := range s.blocks() {
		if b.family != "" && slices.Contains(b.files, file) && !slices.Contains(list, b.family) {
			list = append(list, b.family)
		}
	}
	return list
}

// plainWord is what a family can be that is no word of CSS, and is not put together elsewhere.
var plainWord = lazy.Regexp(`^[A-Za-z][\w .'-]*$`)

// unknown says whether a family is none that could be known: no system has it, no package brings it,
// and no sheet of another server is taken in, which could.
func (s *site) unknown(q platform.Question, typed string) bool {
	if q.Use.Kind == useInPage || !plainWord.MatchString(typed) || installed.Has(typed, installed.Any) || installed.IsDesktop(typed) || installed.IsIcon(typed) || platform.FromPackage(s.Tree, s.Dir, typed) {
		return false
	}
	if s.listed(q) || language.Of(q.File) == language.SCSS {
		return false // a mixin or a variable can be part of the rule that declares it
	}
	if slices.ContainsFunc(q.Once("declared elsewhere", s.declaredElsewhere), func(n string) bool { return strings.EqualFold(n, typed) }) {
		return false // by a sheet of another part of the project, which the same page can take in
	}
	return !slices.Contains(q.Once("external", func() []string {
		if s.external() || len(s.sheets()) == 0 || len(s.loadedByScript()) > 0 {
			return []string{"yes"}
		}
		return nil
	}), "yes")
}

// listed says whether a family is the first of a list that goes on with one of the systems': then it is
// there for those who have it installed.
func (s *site) listed(q platform.Question) bool {
	raw, ok := s.Tree.Glance(q.File, platform.MostSource)
	if !ok || q.At > len(raw) {
		return false
	}
	rest := raw[q.At:min(len(raw), q.At+400)]
	if i := bytes.IndexAny(rest, ";{}\n"); i >= 0 {
		rest = rest[:i]
	}
	for i, name := range strings.Split(string(rest), ",") {
		name = strings.Trim(strings.TrimSpace(name), "\"'`)]")
		if i > 0 && !installed.IsGeneric(name) && (installed.Has(name, installed.Any) || installed.IsDesktop(name)) {
			return true
		}
	}
	return false
}

// Passes are what was made of sources.
func (s *site) Excludes(file string) bool {
	rel, ok := s.Rel(file)
	return ok && s.output(path.Dir(rel))
}

// loadedByScript are the families that scripts load.
func (s *site) loadedByScript() []string {
	return platform.LoadedNames(s.Tree, s.Dir, script, byScript)
}

var byScript = lazy.Regexp(`\bnew\s+FontFace\s*\(\s*["'\x60]([^"'\x60\n]+)`)

// What Firefox says is of a font that it does not find.
var logLine = lazy.Regexp(`downloadable font: .*\(font-family: "([^"]+)"`)

// LogLines are those of the platform in an app's log.
func (Platform) LogLines() []*lazy.Pattern { return []*lazy.Pattern{logLine} }
