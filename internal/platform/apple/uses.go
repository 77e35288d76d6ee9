package apple

import (
	"bytes"
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/face"
	"notaria/internal/installed"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

// Kinds of uses; "" is the name of a face.
const (
	useFamily  = "family"
	useStacked = "stacked" // a face, with a weight asked for on top of it
	useBundled = "bundled" // a font file of the bundle
)

var (
	swift      = []*language.Language{language.Swift}
	objectiveC = []*language.Language{language.ObjectiveC}
	boards     = []*language.Language{language.XML}
)

// text is a string of Swift, and of Objective-C.
const (
	text  = `"((?:[^"\\\n]|\\.)*)"`
	cText = `@"((?:[^"\\\n]|\\.)*)"`
	name  = `([A-Za-z_][\w.?]*)`
)

func use(languages []*language.Language, kind, pattern string) platform.Use {
	return platform.Use{Languages: languages, Kind: kind, Pattern: lazy.Regexp(pattern)}
}

func namedUse(languages []*language.Language, kind, pattern string) platform.Use {
	return platform.Use{Languages: languages, Kind: kind, Named: true, Pattern: lazy.Regexp(pattern)}
}

// uses are the calls of UIKit, AppKit, SwiftUI, Core Text, Core Graphics and SpriteKit, and the font
// descriptions of storyboards.
var uses = []platform.Use{
	use(swift, "", `\b(?:UI|NS)Font(?:\.init)?\s*\(\s*name:\s*`+text),
	{Languages: swift, After: onTop, Pattern: lazy.Regexp(`\.custom\s*\(\s*` + text + `\s*,\s*(?:size|fixedSize):`)},
	use(swift, "", `\b(?:UI|NS)FontDescriptor\s*\(\s*name:\s*`+text),
	use(swift, "", `\b(?:CTFontCreateWithName(?:AndOptions)?|CTFontDescriptorCreateWithNameAndSize|CGFont)\s*\(\s*`+text),
	use(swift, "", `\[\s*(?:[^\[\]]*,\s*)?(?:(?:UI|NS)FontDescriptor\.AttributeName)?\.name\s*:\s*`+text),
	use(swift, "", `\bkCTFontNameAttribute\b[^,\]"]*:\s*`+text),
	use(swift, "", `\bfontNamed:\s*`+text),
	use(swift, "", `\.fontName\s*=\s*`+text),
	use(swift, useFamily, `\[\s*(?:[^\[\]]*,\s*)?(?:(?:UI|NS)FontDescriptor\.AttributeName)?\.family\s*:\s*`+text),
	use(swift, useFamily, `\bforFamilyName:\s*`+text),
	use(swift, useFamily, `\.withFamily\s*\(\s*`+text),
	use(swift, useStacked, `\.custom\s*\(\s*`+text+`[^()]*\)\s*\.(?:bold|italic|weight|fontWeight)\s*\(`),
	use(objectiveC, "", `\bfontWithName:\s*`+cText),
	use(objectiveC, "", `\bfontDescriptorWithName:\s*`+cText),
	use(objectiveC, "", `\bCT?G?Font(?:Create\w*Name\w*)\s*\(\s*(?:CFSTR\s*\(\s*|\(\s*(?:__bridge\s+)?CFStringRef\s*\)\s*@)`+text),
	use(objectiveC, "", `\b(?:labelNodeWithFontNamed|initWithFontNamed):\s*`+cText),
	use(objectiveC, useFamily, `\bUIFontDescriptorFamilyAttribute\s*:\s*`+cText),
	use(objectiveC, "", `\bUIFontDescriptorNameAttribute\s*:\s*`+cText),
	use(swift, useBundled, `\bforResource:\s*`+text+`\s*,\s*(?:withExtension|ofType):\s*"(?i:ttf|otf|ttc)"`),
	use(objectiveC, useBundled, `\b(?:URLForResource|pathForResource):\s*`+cText+`\s+(?:withExtension|ofType):\s*@"(?i:ttf|otf|ttc)"`),
	namedUse(swift, "", `\b(?:UI|NS)Font(?:\.init)?\s*\(\s*name:\s*`+name+`\s*,`),
	{Languages: swift, Named: true, After: onTop, Pattern: lazy.Regexp(`\.custom\s*\(\s*` + name + `\s*,\s*(?:size|fixedSize):`)},
	namedUse(objectiveC, "", `\bfontWithName:\s*([A-Za-z_]\w*)\s+size:`),
	use(boards, "", `<fontDescription\b[^<>]*\bname="([^"]+)"`),
}

// onTop asks for a weight or a slant on top of a font of SwiftUI's, or of the view that has it.
var onTop = lazy.Regexp(`^\)\s*\)?\s*\.(?:(?:weight|fontWeight)\s*\(\s*(\.\w+)|(bold|italic)\b)`)

// Uses are below the project's folder.
func (s *site) Uses() (string, []platform.Use) { return s.Dir, uses }

// answer goes by PostScript names.
func (s *site) answer(q platform.Question) platform.Answer {
	a := answer(s.Base, q)
	if a.Fault == platform.Fine && q.Use.Kind == "" {
		return s.elsewhere(q)
	}
	return a
}

// Uses are those of Apple's apps, in the package.
func (s *packageSite) Uses() (string, []platform.Use) { return s.Dir, uses }

// answer goes by PostScript names.
func (s *packageSite) answer(q platform.Question) platform.Answer { return answer(s.Base, q) }

func answer(b platform.Base, q platform.Question) platform.Answer {
	switch q.Use.Kind {
	case useBundled:
		return answerBundled(b, q)
	case useFamily:
		return answerFamily(q)
	case useStacked:
		if len(platform.FaceOf(q.Faces, q.Typed)) == 1 && platform.FaceOf(q.Faces, q.Typed)[0].Family != q.Typed {
			return platform.Answer{Fault: platform.OnFace, Message: fmt.Sprintf("a weight or a slant is asked for on top of %q", face.Short(q.Typed)),
				Cause: "this is the name of one face, which has its weight; the system fakes another, or passes it over", Cure: "take it out, and name the face of that weight"}
		}
		return platform.Answer{}
	}
	return platform.AnswerFace(q, installed.Apple)
}

// answerBundled judges the name of a font file that code loads out of its bundle, without the ending.
func answerBundled(b platform.Base, q platform.Question) platform.Answer {
	var stems []string
	for _, f := range q.FontFiles(b.Tree, b.Dir) {
		if platform.IsFont(f) {
			stems = append(stems, strings.TrimSuffix(path.Base(f), path.Ext(f)))
		}
	}
	typed := path.Base(q.Typed)
	if slices.Contains(stems, typed) || slices.Contains(stems, strings.TrimSuffix(typed, path.Ext(typed))) || strings.Contains(typed, `\(`) {
		return platform.Answer{}
	}
	near := platform.Nearest(typed, stems)
	return platform.Answer{Fault: platform.NoSuchThing, Message: fmt.Sprintf("there is no font file %q in this app", face.Short(q.Typed)), Cause: "the bundle returns nil, and the font is never loaded",
		Cure: platform.Choose(near, stems), Instead: near}
}

// answerFamily judges a family of a font descriptor.
func answerFamily(q platform.Question) platform.Answer {
	var families []string
	near := ""
	for _, f := range q.Faces {
		if !slices.Contains(families, platform.FamilyOf(f.Face)) {
			families = append(families, platform.FamilyOf(f.Face))
		}
		if q.Typed == f.ID() || q.Typed == f.Full || q.Typed == path.Base(f.File) {
			near = platform.FamilyOf(f.Face)
		}
	}
	if slices.Contains(families, q.Typed) || slices.Contains(q.System, q.Typed) || strings.Contains(q.Typed, `\(`) {
		return platform.Answer{}
	}
	if near == "" {
		near = platform.Nearest(q.Typed, families)
	}
	if near == "" && installed.Has(q.Typed, installed.Apple) {
		return platform.Answer{}
	}
	return platform.Answer{Fault: platform.UnknownFace, Message: fmt.Sprintf("no family of this app is called %q", face.Short(q.Typed)),
		Cause: "a descriptor of an unknown family leads to the system's font, and nothing is reported", Cure: platform.Unknown(near, families), Instead: near}
}

// registering loads fonts when the app runs: what it loads need not be in Info.plist.
var registering = lazy.Regexp(`\bCTFontManagerRegister\w*`)

// registered are those of some font files that code in a folder of a tree could register when it runs: it
// calls Core Text, and a file's name, or the ending of all fonts, is in its sources.
func registered(tree platform.Tree, dir string, fonts []string) map[string]bool {
	out := map[string]bool{}
	if len(fonts) == 0 {
		return out
	}
	if len(fonts) > mostLooked {
		for _, f := range fonts { // nobody wrote that by hand
			out[f] = true
		}
		return out
	}
	calls, all := false, false
	for _, f := range tree.Under(dir) {
		l := language.Of(f)
		if l != language.Swift && l != language.ObjectiveC {
			continue
		}
		raw, ok := tree.Glance(f, platform.MostSource)
		if !ok || !mentions(raw, fonts) || platform.IsTest(f) {
			continue
		}
		if !calls && registering.Match(raw) {
			calls = registering.Match(l.Skeleton(raw))
		}
		var code string
		for _, font := range fonts {
			base := path.Base(font)
			stem := strings.TrimSuffix(base, path.Ext(base))
			if out[font] || !bytes.Contains(raw, []byte(stem)) {
				continue
			}
			if code == "" {
				code = string(l.Blank(raw))
			}
			out[font] = strings.Contains(code, `"`+stem+`"`) || strings.Contains(code, `"`+base+`"`)
		}
		all = all || bytes.Contains(raw, []byte("forResourcesWithExtension:")) || bytes.Contains(raw, []byte("URLsForResourcesWithExtension:"))
	}
	for _, font := range fonts {
		out[font] = calls && (all || out[font])
	}
	return out
}

// mentions says whether a source may have to do with fonts that code makes known: most do not.
func mentions(raw []byte, fonts []string) bool {
	return registering.Match(raw) || bytes.Contains(raw, []byte("ResourcesWithExtension:")) || slices.ContainsFunc(fonts, func(f string) bool {
		return bytes.Contains(raw, []byte(strings.TrimSuffix(path.Base(f), path.Ext(f))))
	})
}

// What Core Text says is of a font that it does not find.
var logLine = lazy.Regexp(`CoreText note: Client requested name "([^"]+)"`)

// LogLines are those of the platform in an app's log.
func (Platform) LogLines() []*lazy.Pattern { return []*lazy.Pattern{logLine} }
