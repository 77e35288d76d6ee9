package gtk

import (
	"path"
	"strconv"
	"strings"

	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/kit"
)

// Kinds of uses.
const (
	useClass  = "class"  // a style class
	useFile   = "file"   // a font file, from the app's folder
	useString = "string" // a font as Pango reads it: family, styles and size
)

var (
	css     = []*language.Language{language.CSS}
	sources = []*language.Language{language.CPlus, language.Python}
	markup  = []*language.Language{language.XML}
	// beside asks for a weight or a slant in the same rule, and written writes it.
	beside  = lazy.Regexp(`[\s;{]font-(?:weight|style)\s*:\s*([\w-]+)`)
	written = platform.WritesStyle("font-weight: %s", strconv.Itoa, "font-style: italic")
	uses    = []platform.Use{
		{Languages: css, Styles: beside, Bracket: '{', Beside: written, Sep: ";", Pattern: lazy.Regexp(`[\s;{]font-family\s*:\s*["']([^"'\n]*)["']`)},
		// What a declaration ends with, the next one can begin with: it is not asked for in front.
		{Languages: css, Styles: beside, Bracket: '{', Beside: written, Sep: ";", Pattern: lazy.Regexp(`[^\s;{]font-family|\bfont-family\s*:\s*([^"'\s;{}()][^"';{}(),\n]*)[;,}\n]`)},
		{Languages: sources, Kind: useFile, Pattern: lazy.Regexp(`\b(?:FcConfigAppFontAddFile|pango_font_map_add_font_file|add_font_file)\s*\([^"';{}]*["']([^"'\n]*\.(?i:ttf|otf|ttc))["']`)},
		{Languages: markup, Pattern: lazy.Regexp(`<attribute\s+name="font-desc"\s+value="([^"<>]*?)(?:\s+(?:Bold|Italic|Regular|Light|\d+))*"`)},
		{Languages: sources, Pattern: lazy.Regexp(`set_family\s*\((?:[^()",]*,)?\s*["']((?:[^"'\\,\n]|\\.)*)`)},
		// Patterns that begin with a text are looked for by it: these names are at the end of longer ones in C.
		{Languages: sources, Kind: useString, Pattern: lazy.Regexp(`font_description_from_string\s*\(\s*["']((?:[^"'\\,\n]|\\.)*)["']`)},
		{Languages: sources, Kind: useString, Pattern: lazy.Regexp(`\bFontDescription(?:\.from_string)?\s*\(\s*["']((?:[^"'\\,\n]|\\.)*)["']`)},
		{Languages: css, Kind: useClass, Pattern: lazy.Regexp(`\.(type-[\w-]*)`)},
		{Languages: sources, Kind: useClass, Pattern: lazy.Regexp(`add_class\s*\((?:[^()",]*,)?\s*["'](type-[^"'\n]*)["']`)},
		{Languages: sources, Kind: useClass, Pattern: lazy.Regexp(`add_css_class\s*\((?:[^()",]*,)?\s*["'](type-[^"'\n]*)["']`)},
		{Languages: markup, Kind: useClass, Pattern: lazy.Regexp(`<class\s+name="(type-[^"]*)"`)},
	}
)

// styles are words that Pango takes for styles at the end of a description, and its size.
var styles = lazy.Regexp(`(?i)(?:\s+(?:thin|ultra-?light|extra-?light|semi-?light|light|book|regular|normal|roman|medium|semi-?bold|demi-?bold|bold|ultra-?bold|extra-?bold|heavy|black|italic|oblique|condensed|expanded|small-caps|[0-9.]+(?:px)?))+$`)

// answer goes by families, as fontconfig does.
func (s *site) answer(job platform.Job, q platform.Question) platform.Answer {
	if q.Use.Kind == useClass {
		return platform.AnswerRole(q, "type-", q.Once("classes", func() []string { return kit.Classes(job.Roles) }), "style class", "GTK reports nothing about a class that no rule is for")
	}
	typed, tail := strings.TrimSpace(q.Typed), ""
	if q.Use.Kind == useString {
		tail = styles.FindString(typed)
		typed = strings.TrimSuffix(typed, tail)
	}
	if q.Use.Kind == useFile {
		return platform.AnswerFile(path.Join(s.Dir, q.Typed), q.FontFiles(s.Tree, s.Dir), "fontconfig returns FcFalse, and gives another font", "the app's folder, "+s.Path(),
			func(f string) string { rel, _ := s.Rel(f); return rel })
	}
	a := kit.Family(q, typed, "%q is a face's name; Pango goes by the family, and finds the face by weight and slant",
		"fontconfig reports nothing about an unknown family, and gives another font")
	if a.Instead != "" {
		a.Instead += tail
		a.Cure = platform.Choose(a.Instead, nil)
	}
	return a
}

var loader = lazy.Regexp(`\b(?:FcConfigAppFontAdd(?:File|Dir)|pango_font_map_add_font_file|add_font_file|font_map_add_font_file)\s*\(`)

// Flaws are fonts below the app's folder that no code gives to fontconfig.
func (s *site) Flaws([]platform.Face) ([]platform.Flaw, error) {
	var fonts []string
	for _, f := range s.Tree.Under(s.Dir) {
		if platform.IsFont(f) && !strings.HasPrefix(f, path.Join(s.Dir, fontFolder)+"/") {
			fonts = append(fonts, f)
		}
	}
	left := platform.Unloaded(s.Tree, s.Dir, fonts, []*language.Language{language.CPlus, language.Python, language.ObjectiveC, language.CMake}, loader) // a build file installs it
	return platform.Loading(left, "fontconfig knows the fonts that are installed, and those that the app adds", "add it by FcConfigAppFontAddFile when the app starts"), nil
}

// What Pango says is of a font that it does not find.
var logLine = lazy.Regexp(`couldn't load font "([^"]+?)(?: (?:Not-Rotated )?[\d.]+(?:px)?)?", falling back`)
