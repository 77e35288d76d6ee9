package nativescript

import (
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

const useClass = "class" // of an element

var (
	css    = []*language.Language{language.CSS, language.SCSS}
	markup = []*language.Language{language.XML, language.HTML, language.Component}
	script = []*language.Language{language.TypeScript, language.JavaScript}
	uses   = []platform.Use{
		{Languages: css, Pattern: lazy.Regexp(`[\s;{]font-family\s*:\s*([^;{}$@()\n]+)`)},
		{Languages: markup, Pattern: lazy.Regexp(`\sfontFamily\s*=\s*"([^"{}<>\n]+)"`)},
		{Languages: script, Pattern: lazy.Regexp(`\.fontFamily\s*=\s*["'\x60]([^"'\x60\n$]+)["'\x60]`)},
		{Languages: css, Kind: useClass, Pattern: lazy.Regexp(`\.(type-[\w-]*)`)},
		{Languages: markup, Kind: useClass, Pattern: lazy.Regexp(`\s(?:class|className)\s*=\s*"(?:[^"{}<>]*\s)?(type-[\w-]*)`)},
		{Languages: script, Kind: useClass, Pattern: lazy.Regexp(`\bclassName\s*[:=]\s*["'](?:[^"'{}<>\n]*\s)?(type-[\w-]*)`)},
	}
)

// words are names that NativeScript has itself, or that are taken from elsewhere.
var words = lazy.Words("serif sans-serif monospace system inherit initial unset")

// answer goes by the whole list of families: one name has to serve iOS, and one Android.
func (s *site) answer(job platform.Job, q platform.Question) platform.Answer {
	if q.Use.Kind == useClass {
		return platform.AnswerRole(q, "type-", q.Once("classes", func() []string { return platform.ClassWords(job.Roles) }), "class", "NativeScript reports nothing about a class that no rule is for")
	}
	typed := named(q.Typed)
	if len(typed) == 0 {
		return platform.Answer{}
	}
	faces := s.inApp(q)
	ios := slices.ContainsFunc(faces, func(f platform.Face) bool {
		return slices.Contains(typed, platform.FamilyOf(f.Face)) || slices.Contains(typed, f.LegacyFamily)
	})
	android := slices.ContainsFunc(faces, func(f platform.Face) bool { return slices.Contains(typed, s.stem(q, f)) })
	if ios && android {
		return platform.Answer{}
	}
	var answers []platform.Answer
	for _, f := range faces {
		if a := s.judge(q, typed, f, ios, android); a.Fault != platform.Fine {
			answers = append(answers, a)
		}
	}
	if len(answers) == 0 {
		return platform.Answer{}
	}
	a := answers[0]
	for _, other := range answers[1:] { // a weight chooses among them, which is said elsewhere
		a.Leads, a.Instead = append(a.Leads, other.Leads...), ""
	}
	return a
}

// judge is what is wrong with a list of names for one face of the app.
func (s *site) judge(q platform.Question, typed []string, f platform.Face, ios, android bool) platform.Answer {
	family, stem := platform.FamilyOf(f.Face), s.stem(q, f)
	a := platform.Answer{Fault: platform.UnknownFace, Cure: fmt.Sprintf("write %q, %q", family, stem), Leads: []platform.Face{f}}
	if len(typed) == 1 && plain.MatchString(family) && plain.MatchString(stem) {
		a.Instead = strings.Join(append([]string{family, stem}, generics(q.Typed)...), ", ")
	}
	switch near := alike(typed, f, stem); {
	case !ios && !android && near == fileName:
		a.Fault, a.Message, a.Cause = platform.FileAsName, face.Short(q.Typed)+" is a file's name with its ending", "iOS goes by the family, Android by the file's name without its ending"
	case !ios && !android && near != "":
		a.Message, a.Cause = "no font of the app answers to "+face.Short(q.Typed), "NativeScript reports nothing about an unknown family, and shows the system's font"
	case ios && slices.Contains(typed, family):
		a.Message, a.Cause = "Android finds no font by "+face.Short(q.Typed), "Android looks for a file of that name in fonts, iOS for a family"
	case android && slices.Contains(typed, stem):
		a.Message, a.Cause = "iOS finds no font by "+face.Short(q.Typed), "iOS looks for a family, Android for a file of that name in fonts"
	default:
		return platform.Answer{}
	}
	return a
}

// plain is a name that needs no quotes in CSS (CSS Fonts 4, 2.1).
var plain = lazy.Regexp(`^[A-Za-z][\w-]*(?: [A-Za-z][\w-]*)*$`)

// generics are the names of a list that are generic ones.
func generics(list string) (names []string) {
	for _, n := range strings.Split(list, ",") {
		if n = strings.Trim(strings.TrimSpace(n), `"'`); words.Has(strings.ToLower(n)) {
			names = append(names, n)
		}
	}
	return names
}

// named are the names of a list that are no generic ones.
func named(list string) []string {
	var names []string
	for _, n := range strings.Split(list, ",") {
		if n = strings.Trim(strings.TrimSpace(n), `"'`); n != "" && !words.Has(strings.ToLower(n)) && !strings.HasPrefix(n, "var(") {
			names = append(names, n)
		}
	}
	return names
}

// inApp are the faces whose files lie, or will lie, in the app's folder of fonts.
func (s *site) inApp(q platform.Question) []platform.Face {
	var list []platform.Face
	for _, f := range q.Faces {
		if s.fileOf(q, f) != "" {
			list = append(list, f)
		}
	}
	return list
}

// fileOf is where the plan has an enrolled face, "" for nowhere.
func (s *site) fileOf(q platform.Question, f platform.Face) string {
	if path.Dir(f.File) == s.Fonts {
		return f.File
	}
	for _, w := range q.Plan.Files {
		if slices.Contains(w.Recipe.Faces(), f.ID()) {
			return w.Path
		}
	}
	return ""
}

// stem is the name by which Android finds a face.
func (s *site) stem(q platform.Question, f platform.Face) string {
	at := path.Base(s.fileOf(q, f))
	return strings.TrimSuffix(at, path.Ext(at))
}

const fileName = "file"

// alike says whether one of the names means a face, and is not quite what finds it.
func alike(typed []string, f platform.Face, stem string) string {
	for _, t := range typed {
		if strings.EqualFold(t, path.Base(f.File)) || strings.EqualFold(t, stem+path.Ext(f.File)) {
			return fileName
		}
		if t == f.ID() || t == f.Full || platform.Nearest(t, []string{platform.FamilyOf(f.Face), stem}) != "" {
			return "name"
		}
	}
	return ""
}
