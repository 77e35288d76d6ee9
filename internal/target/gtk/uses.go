package gtk

import (
	"path"
	"regexp"
	"slices"
	"strings"

	"notaria/internal/language"
	"notaria/internal/target"
)

// Kinds of uses.
const (
	useClass  = "class"  // a style class
	useString = "string" // a font as Pango reads it: family, styles and size
)

var (
	css     = []*language.Language{language.CSS}
	sources = []*language.Language{language.CPlus, language.Python}
	markup  = []*language.Language{language.XML}
	uses    = []target.Use{
		{Languages: css, Pattern: regexp.MustCompile(`[\s;{]font-family\s*:\s*["']([^"'\n]*)["']`)},
		{Languages: css, Pattern: regexp.MustCompile(`[\s;{]font-family\s*:\s*([^"'\s;{}()][^"';{}(),\n]*)`)},
		{Languages: sources, Pattern: regexp.MustCompile(`(?:\b|_)set_family\s*\((?:[^()",]*,)?\s*["']((?:[^"'\\,\n]|\\.)*)`)},
		{Languages: sources, Kind: useString, Pattern: regexp.MustCompile(`(?:\b|_)(?:font_description_from_string|FontDescription(?:\.from_string)?)\s*\(\s*["']((?:[^"'\\,\n]|\\.)*)["']`)},
		{Languages: css, Kind: useClass, Pattern: regexp.MustCompile(`\.(type-[\w-]*)`)},
		{Languages: sources, Kind: useClass, Pattern: regexp.MustCompile(`(?:\b|_)add_(?:css_)?class\s*\((?:[^()",]*,)?\s*["'](type-[^"'\n]*)["']`)},
		{Languages: markup, Kind: useClass, Pattern: regexp.MustCompile(`<class\s+name="(type-[^"]*)"`)},
	}
)

// Uses are below the app's folder.
func (s *site) Uses() (string, []target.Use) { return s.Dir, uses }

// styles are words that Pango takes for styles at the end of a description, and its size.
var styles = regexp.MustCompile(`(?i)(?:\s+(?:thin|ultra-?light|extra-?light|semi-?light|light|book|regular|normal|roman|medium|semi-?bold|demi-?bold|bold|ultra-?bold|extra-?bold|heavy|black|italic|oblique|condensed|expanded|small-caps|[0-9.]+(?:px)?))+$`)

// Answer goes by families, as fontconfig does.
func (s *site) Answer(q target.Question) target.Answer {
	if q.Use.Kind == useClass {
		return target.AnswerRole(q, "type-", q.Once("classes", func() []string {
			var out []string
			for _, r := range s.plan.Roles {
				out = append(out, "type-"+r.Name)
			}
			return out
		}), "style class", "GTK reports nothing about a class that no rule is for")
	}
	typed, tail := strings.TrimSpace(q.Typed), ""
	if q.Use.Kind == useString {
		tail = styles.FindString(typed)
		typed = strings.TrimSuffix(typed, tail)
	}
	if slices.Contains(q.System, typed) || slices.ContainsFunc(q.Faces, func(f target.Face) bool { return strings.EqualFold(typed, f.LegacyFamily) }) {
		return target.Answer{}
	}
	var names []target.Spoken
	for _, f := range q.Faces {
		names = append(names, target.Spoken{Right: target.FamilyOf(f.Face), Wrong: []string{f.ID(), f.Full}})
	}
	a := target.AnswerName(typed, names, "%q is a face's name; Pango goes by the family, and finds the face by weight and slant", "no family is called %q",
		"fontconfig reports nothing about an unknown family, and gives another font")
	if a.Instead != "" {
		a.Instead += tail
		a.Cure = target.Choose(a.Instead, nil)
	}
	return a
}

// Held lists the fonts in the loader's folder.
func (s *site) Held() ([]target.Held, error) {
	var out []target.Held
	for _, f := range s.Tree.Under(path.Join(s.Dir, fontFolder)) {
		if target.IsFont(f) {
			out = append(out, target.Held{Manifest: path.Join(s.Dir, fontFolder), Value: path.Base(f), File: f})
		}
	}
	return out, nil
}
