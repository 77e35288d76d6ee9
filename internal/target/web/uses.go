package web

import (
	"html"
	"path"
	"regexp"
	"slices"
	"strings"

	"notaria/internal/language"
	"notaria/internal/target"
)

// Kinds of uses.
const (
	useClass    = "class"    // a class of an element, or in a selector
	useProperty = "property" // a name that CSS does not have
	useRule     = "rule"     // the selector of a rule that sets a family
	useOver     = "over"     // a family that an element with a role sets itself
	useURL      = "url"      // a font file
)

var (
	css    = []*language.Language{language.CSS}
	pages  = []*language.Language{language.HTML}
	script = []*language.Language{language.JavaScript, language.TypeScript}
	// fontURL is a font file in a style sheet.
	fontURL = regexp.MustCompile(`\burl\(\s*["']?([^"')\n:]+\.(?i:ttf|otf|woff2?))(?:[?#][^"')]*)?["']?\s*\)`)
	uses    = []target.Use{
		{Languages: css, Pattern: regexp.MustCompile(`[\s;{]font-family\s*:\s*["']([^"'\n]*)["']`)},
		{Languages: css, Pattern: regexp.MustCompile(`[\s;{]font-family\s*:\s*([^"'\s;{}()][^"';{}(),\n]*)`)},
		{Languages: css, Pattern: regexp.MustCompile(`[\s;{]font\s*:[^;{}"']*["']([^"'\n]+)["']`)},
		{Languages: css, Pattern: regexp.MustCompile(`\s--[\w-]*(?:font|family)[\w-]*\s*:\s*["']([^"'\n]*)["']`)},
		{Languages: pages, Pattern: regexp.MustCompile(`\sstyle="[^"<>]*\bfont-family\s*:\s*(?:'|&quot;)?([^"';,&<>]+)`)},
		{Languages: script, Pattern: regexp.MustCompile(`\bfontFamily\s*:\s*["']([^"',\n]*)`)},
		{Languages: script, Pattern: regexp.MustCompile(`\.font\s*=\s*"[^"'\n]*'([^'\n]+)'`)},
		{Languages: css, Kind: useClass, Pattern: regexp.MustCompile(`\.(type-[\w-]*)`)},
		{Languages: pages, Kind: useClass, Pattern: regexp.MustCompile(`\sclass="(?:[^"]*\s)?(type-[^"\s]*)`)},
		{Languages: script, Kind: useClass, Pattern: regexp.MustCompile(`\bclass(?:Name)?=["'](?:[^"'\n]*\s)?(type-[^"'\s]*)`)},
		{Languages: css, Kind: useProperty, Pattern: regexp.MustCompile(`[\s;{](-fx-font-\w+|font(?:Family|Size|Weight|Style))\s*:`)},
		{Languages: css, Kind: useRule, Pattern: regexp.MustCompile(`(?:^|\})\s*([^@{}\s][^{}]*?)\s*\{[^{}]*?[\s;{]?font-family\s*:`)},
		{Languages: pages, Kind: useOver, Pattern: regexp.MustCompile(`<\w[\w-]*\s(?:[^<>]*\s)?class="[^"<>]*\btype-[^"<>]*"(?:[^<>]*?\s)?style="[^"<>]*\b(font-family)\s*:`)},
		{Languages: pages, Kind: useOver, Pattern: regexp.MustCompile(`<\w[\w-]*\s(?:[^<>]*?\s)?style="[^"<>]*?\b(font-family)\s*:[^"<>]*"(?:[^<>]*\s)?class="[^"<>]*\btype-`)},
		{Languages: css, Kind: useURL, Pattern: fontURL},
	}
)

// Uses are below the site's folder.
func (s *site) Uses() (string, []target.Use) { return s.Dir, uses }

// Answer goes by the families of @font-face rules, ours and the site's own.
func (s *site) Answer(q target.Question) target.Answer {
	if rel, _ := s.Rel(q.File); out.MatchString(path.Dir(rel)) {
		return target.Answer{} // made of sources that are looked at
	}
	switch q.Use.Kind {
	case useClass:
		return target.AnswerRole(q, "type-", q.Once("classes", s.classes), "class", "a browser reports nothing about a class that no rule is for")
	case useProperty:
		return s.answerProperty(q)
	case useRule:
		return target.AnswerRule(q.Typed)
	case useOver:
		return target.Answer{Fault: target.OverRole, Message: q.Typed + " is set beside a role", Cause: "what an element's own style sets wins over all style sheets", Cure: "take it out, or the role"}
	case useURL:
		return s.answerURL(q)
	}
	return s.answerFamily(q)
}

func (s *site) classes() []string {
	var list []string
	for _, r := range s.plan.Roles {
		list = append(list, "type-"+r.Name)
	}
	return list
}

func (s *site) answerProperty(q target.Question) target.Answer {
	right := language.Words(q.Typed)
	if right[0] == "fx" {
		right = right[1:]
	}
	a := target.Answer{Fault: target.NotAProperty, Message: q.Typed + " is no property of CSS", Cause: "browsers pass it over without a word", Instead: strings.Join(right, "-")}
	a.Cure = target.Choose(a.Instead, nil)
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

func (s *site) answerURL(q target.Question) target.Answer {
	at, known := s.find(q.File, q.Typed)
	if !known {
		return target.Answer{}
	}
	return target.AnswerFile(at, q.FontFiles(s.Tree, s.Dir), "the browser asks for it in vain, and shows the next font of the list", "the style sheet",
		func(f string) string { return target.Relative(path.Dir(q.File), f) })
}

// declared are the families of the site's own @font-face rules.
var declared = regexp.MustCompile(`@font-face\s*\{[^{}]*?font-family\s*:\s*["']?([^"';{}\n]*[^"';{}\s])`)

func (s *site) declared() []string {
	var list []string
	for _, f := range s.sheets() {
		if raw, ok := s.Tree.Glance(f, target.LargestSource); ok {
			for _, m := range declared.FindAllSubmatch(language.CSS.Blank(raw), -1) {
				list = append(list, string(m[1]))
			}
		}
	}
	return list
}

// answerFamily judges the first family of a list; capitals do not count (CSS Fonts 4, 2.1.2).
func (s *site) answerFamily(q target.Question) target.Answer {
	typed := strings.TrimSpace(html.UnescapeString(q.Typed))
	same := func(n string) bool { return strings.EqualFold(n, typed) }
	if slices.ContainsFunc(q.System, same) || slices.ContainsFunc(q.Once("declared", s.declared), same) {
		return target.Answer{}
	}
	var names []target.Spoken
	for _, f := range q.Faces {
		names = append(names, target.Spoken{Right: target.FamilyOf(f.Face), Wrong: []string{f.ID(), f.Full}}, target.Spoken{Right: target.FamilyOf(f.Face) + " stand-in"})
	}
	return target.AnswerName(typed, names, "%q is a face's name; a page goes by the family, and finds the face by weight and style", "no @font-face rule has the family %q",
		"browsers report nothing about an unknown family, and show the next font of the list")
}
