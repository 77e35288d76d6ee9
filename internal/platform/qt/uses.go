package qt

import (
	"fmt"
	"path"
	"slices"
	"strconv"
	"strings"

	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/kit"
)

// Kinds of uses.
const (
	useMember   = "member"   // of the singleton
	useResource = "resource" // a font file, as a resource
	useFile     = "file"     // a font file, from the source's folder
	useAlias    = "alias"    // a member of the singleton, by another name of it
	useEarly    = "early"    // where a font is loaded
)

var (
	qml   = []*language.Language{language.QML}
	cplus = []*language.Language{language.CPlus}
	// beside asks for a weight or a slant in the same element.
	beside = lazy.Regexp(`\b(?:font\.)?(?:weight\s*:\s*(Font\.\w+|\d+)|(bold|italic)\s*:\s*true\b)`)
	// written and inGroup write it, in a group of font's and outside of one.
	written = platform.WritesStyle("font.weight: Font.%s", weightName, "font.italic: true")
	inGroup = platform.WritesStyle("weight: Font.%s", weightName, "italic: true")
	// inSheet and inRule are these of style sheets.
	inSheet = lazy.Regexp(`[\s;{]font-(?:weight|style)\s*:\s*([\w-]+)`)
	inRule  = platform.WritesStyle("font-weight: %s", strconv.Itoa, "font-style: italic")
	uses    = []platform.Use{
		{Languages: qml, Styles: beside, Bracket: '{', Beside: written, Pattern: lazy.Regexp(`\bfont\.family\s*:\s*["']([^"'\n]*)["']`)},
		{Languages: qml, Styles: beside, Bracket: '{', Beside: inGroup, Pattern: lazy.Regexp(`[\s{,]family\s*:\s*["']([^"'\n]*)["']`)},
		{Languages: qml, Named: true, Pattern: lazy.Regexp(`\bfont\.family\s*:\s*([a-z_]\w*(?:\.\w+)*)\s*[;}\n]`)},
		{Languages: cplus, Pattern: lazy.Regexp(`\bQFont\s*(?:\w+\s*)?[({]\s*(?:QStringLiteral\s*\(\s*|QLatin1String\s*\(\s*|u)?"((?:[^"\\\n]|\\.)*)"`)},
		{Languages: cplus, Pattern: lazy.Regexp(`\bsetFamil(?:y|ies)\s*\(\s*\{?\s*(?:QStringLiteral\s*\(\s*|u)?"((?:[^"\\\n]|\\.)*)"`)},
		{Languages: cplus, Pattern: lazy.Regexp(`\bQFontDatabase::font\s*\(\s*(?:QStringLiteral\s*\(\s*)?"((?:[^"\\\n]|\\.)*)"`)},
		{Languages: cplus, Pattern: lazy.Regexp(`\bfont-family\s*:\s*'?([^'";\\]+)`)},
		{Languages: cplus, Named: true, Pattern: lazy.Regexp(`\bQFont\s*(?:\w+\s*)?[({]\s*([A-Za-z_]\w*)\s*[,)}]`)},
		{Languages: cplus, Named: true, Pattern: lazy.Regexp(`\bsetFamily\s*\(\s*([A-Za-z_]\w*)\s*\)`)},
		{Languages: []*language.Language{language.XML}, Pattern: lazy.Regexp(`<family>\s*([^<>\s][^<>]*?)\s*</family>`)},
		{Languages: []*language.Language{language.CSS}, Styles: inSheet, Bracket: '{', Beside: inRule, Sep: ";", Pattern: lazy.Regexp(`\bfont-family\s*:\s*["']?([^"',;{}\n]*[^"',;{}\s])`)},
		{Languages: cplus, Kind: useEarly, Pattern: lazy.Regexp(`\b(addApplicationFont(?:FromData)?)\s*\(`)},
		{Languages: qml, Kind: useMember, Pattern: lazy.Regexp(`\bAppType\.(\w+)`)},
		{Languages: qml, Kind: useMember, Pattern: lazy.Regexp(`\bAppType\s*\[\s*["'](\w+)["']\s*\]`)},
		{Languages: qml, Kind: useAlias, Member: lazy.Regexp(`^(?:\.(\w+)|\s*\[\s*["'](\w+)["']\s*\])`), Pattern: lazy.Regexp(`\bproperty\s+\w+\s+(\w+)\s*:\s*AppType\s`)},
		{Languages: qml, Kind: useAlias, Member: lazy.Regexp(`^(?:\.(\w+)|\s*\[\s*["'](\w+)["']\s*\])`), Pattern: lazy.Regexp(`\b(?:const|let|var)\s+(\w+)\s*=\s*AppType\s*[;\n]`)},
		{Languages: cplus, Kind: useResource, Pattern: lazy.Regexp(`"(:/[^"\\\n]+\.(?i:ttf|otf|ttc))"`)},
		{Languages: qml, Kind: useResource, Pattern: lazy.Regexp(`["']qrc(:/[^"'\\\n]+\.(?i:ttf|otf|ttc))["']`)},
		{Languages: qml, Kind: useFile, Pattern: lazy.Regexp(`\bFontLoader\s*\{[^{}]*?\bsource\s*:\s*["']([^"':\n]+\.(?i:ttf|otf|ttc))["']`)},
	}
)

func weightName(hundreds int) string { return weights[hundreds] }

// answer goes by families, by the members of the singleton, and by what is among the
// resources.
func (s *site) answer(job platform.Job, q platform.Question) platform.Answer {
	switch q.Use.Kind {
	case useMember:
		return answerMember(job, q)
	case useAlias:
		if a := answerMember(job, q); a.Instead != "" {
			return a // what is like no role is of something else of that name
		}
		return platform.Answer{}
	case useResource:
		return s.answerResource(q)
	case useEarly:
		return s.answerEarly(q)
	case useFile:
		return platform.AnswerFile(path.Join(path.Dir(q.File), q.Typed), q.FontFiles(s.Tree, s.Dir), "the loader's status is an error, and Qt shows another font", "this file",
			func(f string) string { return platform.Relative(path.Dir(q.File), f) })
	}
	return kit.Family(q, strings.TrimSpace(q.Typed), "%q is a face's name; Qt goes by the family, and finds the face by style name and weight",
		"Qt reports nothing about an unknown family, and shows another font")
}

// answerMember judges a member of AppType: QML reports an unknown one at run time, and
// shows its own font.
func answerMember(job platform.Job, q platform.Question) platform.Answer {
	members := q.Once("members", func() []string {
		out := []string{"loaded"}
		for _, r := range job.Roles {
			n := handler(language.QML.Member(language.Camel(language.Words(r.Name)), "role", taken))
			out = append(out, n)
			if r.LineHeight > 0 {
				out = append(out, n+"Line")
			}
			if r.Colour != nil {
				out = append(out, n+"Colour")
			}
		}
		return out
	})
	if slices.Contains(members, q.Typed) || strings.HasSuffix(q.Typed, "Face") {
		return platform.Answer{}
	}
	near := platform.Nearest(q.Typed, members)
	return platform.Answer{Fault: platform.NoSuchRole, Message: fmt.Sprintf("AppType has no %q", face.Short(q.Typed)),
		Cause: "it is undefined in QML: the text keeps Qt's own font", Cure: platform.Choose(near, members), Instead: near}
}

// answerResource judges a resource's path, where it can only mean one of ours.
func (s *site) answerResource(q platform.Question) platform.Answer {
	for _, f := range q.Plan.Files {
		ours := ":" + prefix + "/fonts/" + path.Base(f.Path)
		if q.Typed == ours {
			return platform.Answer{}
		}
	}
	if slices.Contains(q.Once("resources", s.resources), q.Typed) {
		return platform.Answer{}
	}
	for _, f := range q.Plan.Files {
		if ours := ":" + prefix + "/fonts/" + path.Base(f.Path); strings.EqualFold(path.Base(ours), path.Base(q.Typed)) {
			return platform.Answer{Fault: platform.NoSuchThing, Message: fmt.Sprintf("no resource of the app is called %q", face.Short(q.Typed)),
				Cause: "addApplicationFont returns -1, and Qt shows another font", Cure: platform.Choose(ours, nil), Instead: ours}
		}
	}
	held, _ := s.Held()
	if slices.ContainsFunc(held, func(h platform.Held) bool { return !slices.Contains(s.Tree.Named(path.Base(h.File)), h.File) }) {
		return platform.Answer{} // an entry that leads nowhere is a finding of its own
	}
	for _, ours := range q.Once("resources", s.resources) {
		if platform.LooksLikeFont(ours) && strings.EqualFold(path.Base(ours), path.Base(q.Typed)) {
			return platform.Answer{Fault: platform.NoSuchThing, Message: fmt.Sprintf("no resource of the app is called %q", face.Short(q.Typed)),
				Cause: "addApplicationFont returns -1, and Qt shows another font", Cure: platform.Choose(ours, nil), Instead: ours}
		}
	}
	return platform.Answer{} // of another library
}

var (
	qresource = lazy.Regexp(`(?s)<qresource([^<>]*)>(.*?)</qresource>`)
	prefixOf  = lazy.Regexp(`\bprefix\s*=\s*"([^"]*)"`)
	aliasOf   = lazy.Regexp(`<file(?:\s+alias\s*=\s*"([^"]*)")?[^<>]*>\s*([^<>\s][^<>]*?)\s*</file>`)
)

// resources are the paths of the app's own resource files.
func (s *site) resources() []string {
	var out []string
	for _, f := range s.Tree.Under(s.Dir) {
		if path.Ext(f) != ".qrc" {
			continue
		}
		raw, err := s.Tree.Read(f)
		if err != nil {
			continue
		}
		for _, group := range qresource.FindAllSubmatch(language.XML.Blank(raw), -1) {
			at := "/"
			if p := prefixOf.FindSubmatch(group[1]); p != nil {
				at = path.Join("/", string(p[1]))
			}
			for _, m := range aliasOf.FindAllSubmatch(group[2], -1) {
				name := string(m[1])
				if name == "" {
					name = string(m[2])
				}
				out = append(out, ":"+path.Join(at, name))
			}
		}
	}
	return out
}

var (
	application = lazy.Regexp(`\bQ(?:Gui|Core)?Application\s+\w+\s*[({]`)
	mainStart   = lazy.Regexp(`\bint\s+main\s*\(`)
	loader      = lazy.Regexp(`\baddApplicationFont(?:FromData)?\s*\(|\bFontLoader\s*\{[^{}]*\bsource\s*:`)
)

// answerEarly judges whether a font is loaded in main before the application is made.
func (s *site) answerEarly(q platform.Question) platform.Answer {
	raw, ok := s.Tree.Glance(q.File, platform.MostSource)
	if !ok {
		return platform.Answer{}
	}
	clean := language.CPlus.Skeleton(raw)
	start, app := mainStart.FindIndex(clean), application.FindIndex(clean)
	if start == nil || app == nil || app[0] < start[0] {
		return platform.Answer{}
	}
	if q.At < start[0] || q.At > app[0] {
		return platform.Answer{}
	}
	return platform.Answer{Fault: platform.TooEarly, Message: q.Typed + " is called before the application is made", Cause: "without a QGuiApplication there is no font database: the call returns -1", Cure: "call it below the line of QApplication or QGuiApplication"}
}

// Flaws are fonts of resource files that no code loads.
func (s *site) Flaws([]platform.Face) ([]platform.Flaw, error) {
	held, err := s.Held()
	if err != nil {
		return nil, err
	}
	var fonts []string
	for _, h := range held {
		if h.Strict && slices.Contains(s.Tree.Named(path.Base(h.File)), h.File) {
			fonts = append(fonts, h.File)
		}
	}
	left := platform.Unloaded(s.Tree, s.Dir, fonts, []*language.Language{language.CPlus, language.QML, language.Python, language.ObjectiveC}, loader)
	return platform.Loading(left, "a resource is known as a font only after QFontDatabase::addApplicationFont, or a FontLoader", "load it when the app starts"), nil
}
