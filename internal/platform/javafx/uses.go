package javafx

import (
	"bytes"
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
	useClass    = "class"    // a style class
	useProperty = "property" // a name that JavaFX's style sheets do not have
	useRule     = "rule"     // the selector of a rule that sets a font
	useOver     = "over"     // a font that an element with a role sets itself
	useURL      = "url"      // a font file, from the style sheet's folder
	useResource = "resource" // a font file, as a resource
	useOfClass  = "of class" // a font file, as a resource of a class
)

var (
	css  = []*language.Language{language.CSS}
	fxml = []*language.Language{language.XML}
	jvm  = []*language.Language{language.Java, language.Kotlin}
	// inCall and inRule ask for a weight or a slant in the same call, and in the same rule.
	inCall = lazy.Regexp(`\b((?:FontWeight|FontPosture)\.\w+)`)
	inRule = lazy.Regexp(`[\s;{]-fx-font-(?:weight|style)\s*:\s*([\w-]+)`)
	// written writes it in a rule.
	written = platform.WritesStyle("-fx-font-weight: %s", strconv.Itoa, "-fx-font-style: italic")
	names   = []platform.Use{
		{Languages: jvm, Styles: inCall, Bracket: '(', Pattern: lazy.Regexp(`\bFont\.font\s*\(\s*"((?:[^"\\\n]|\\.)*)"`)},
		{Languages: jvm, Pattern: lazy.Regexp(`\bFont\s*\(\s*"((?:[^"\\\n]|\\.)*)"\s*,`)},
		{Languages: jvm, Named: true, Pattern: lazy.Regexp(`\bFont\.font\s*\(\s*([A-Za-z_][\w.]*)\s*,`)},
		{Languages: jvm, Named: true, Pattern: lazy.Regexp(`\bnew\s+(?:java\.awt\.)?Font\s*\(\s*([A-Za-z_][\w.]*)\s*,`)},
		{Languages: jvm, Kind: useResource, Pattern: lazy.Regexp(`\bgetResource(?:AsStream)?\s*\(\s*"([^"\\\n]*\.(?i:ttf|otf|ttc))"`)},
		{Languages: jvm, Kind: useOfClass, Pattern: lazy.Regexp(`(?:\bgetClass\s*\(\s*\)|\.class|::class\.java|\bjavaClass)\s*\.\s*getResource(?:AsStream)?\s*\(\s*"([^"/\\\n][^"\\\n]*\.(?i:ttf|otf|ttc))"`)},
		{Languages: jvm, Kind: useResource, Named: true, Pattern: lazy.Regexp(`\bgetResource(?:AsStream)?\s*\(\s*([A-Za-z_][\w.]*)\s*\)`)},
	}
	fxUses = append(slices.Concat(names, platform.NetworkInSheets),
		platform.Use{Languages: jvm, Kind: platform.UseNetwork, Pattern: lazy.Regexp(`\bFont\.loadFonts?\s*\(\s*"(https?://[^"\\\n]+)"`)},
		platform.Use{Languages: css, Styles: inRule, Bracket: '{', Beside: written, Sep: ";", Pattern: lazy.Regexp(`-fx-font-family\s*:\s*"([^"\n]*)"`)},
		platform.Use{Languages: css, Styles: inRule, Bracket: '{', Beside: written, Sep: ";", Pattern: lazy.Regexp(`-fx-font-family\s*:\s*'([^'\n]*)'`)},
		platform.Use{Languages: css, Styles: inRule, Bracket: '{', Beside: written, Sep: ";", Pattern: lazy.Regexp(`-fx-font-family\s*:\s*([^"';{}\s][^"';{}\n]*)[;}]`)},
		platform.Use{Languages: css, Pattern: lazy.Regexp(`-fx-font\s*:[^"';{}]*"([^"\n]*)"`)},
		platform.Use{Languages: fxml, Pattern: lazy.Regexp(`-fx-font-family\s*:\s*(?:'|&quot;|&apos;)?([^;"'&]+)`)},
		platform.Use{Languages: fxml, Pattern: lazy.Regexp(`<Font\s[^<>]*\bname\s*=\s*["']([^"']+)["']`)},
		platform.Use{Languages: jvm, Pattern: lazy.Regexp(`\.setStyle\s*\(\s*"[^"\n]*-fx-font-family\s*:\s*'?([^;"']+)`)},
		platform.Use{Languages: css, Kind: useClass, Pattern: lazy.Regexp(`\.(type-[\w-]*)`)},
		platform.Use{Languages: fxml, Kind: useClass, Pattern: lazy.Regexp(`\bstyleClass="(?:[^"]*[\s,])?(type-[^"\s,]*)`)},
		platform.Use{Languages: jvm, Kind: useClass, Pattern: lazy.Regexp(`\bgetStyleClass\(\)\.(?:add|addAll|setAll)\s*\([^()\n]*?"(type-[^"]*)"`)},
		platform.Use{Languages: css, Kind: useProperty, Pattern: lazy.Regexp(`(?:^|\})\s*[^@{}\s][^{}]*\{(?:[^{}]*[;\s])?(font-(?:family|size|weight|style))\s*:`)},
		platform.Use{Languages: css, Kind: useRule, Pattern: lazy.Regexp(`(?:^|\})\s*([^@{}\s][^{}]*?)\s*\{[^{}]*-fx-font(?:-family)?\s*:`)},
		platform.Use{Languages: fxml, Kind: useOver, Pattern: lazy.Regexp(`<\w[\w.]*\s(?:[^<>]*\s)?styleClass="[^"<>]*\btype-[^"<>]*"(?:[^<>]*?\s)?style="[^"<>]*(-fx-font(?:-family)?)\s*:`)},
		platform.Use{Languages: fxml, Kind: useOver, Pattern: lazy.Regexp(`<\w[\w.]*\s(?:[^<>]*?\s)?style="[^"<>]*?(-fx-font(?:-family)?)\s*:[^"<>]*"(?:[^<>]*\s)?styleClass="[^"<>]*\btype-`)},
		platform.Use{Languages: css, Kind: useURL, Pattern: lazy.Regexp(`\burl\(\s*["']?([^"')\n]+\.(?i:ttf|otf|ttc))["']?\s*\)`)},
	)
)

// Uses are in the module.
// answer goes by full names and old families, and by what is among the resources.
func (s *site) answer(job platform.Job, q platform.Question) platform.Answer {
	switch q.Use.Kind {
	case useClass:
		return platform.AnswerRole(q, "type-", q.Once("classes", func() []string { return kit.Classes(job.Roles) }), "style class", "JavaFX reports nothing about a class that no rule is for")
	case useProperty:
		if !s.styles(q) {
			return platform.Answer{}
		}
		return platform.Answer{Fault: platform.NotAProperty, Message: fmt.Sprintf("%s is no property of JavaFX's style sheets", q.Typed),
			Cause: "JavaFX passes it over without a word", Cure: platform.Choose("-fx-"+q.Typed, nil), Instead: "-fx-" + q.Typed}
	case useRule:
		if len(job.Roles) == 0 {
			return platform.Answer{}
		}
		return platform.AnswerRule(q.Typed, nil)
	case useOver:
		return platform.Answer{Fault: platform.OverRole, Message: q.Typed + " is set beside a role", Cause: "what an element's own style sets wins over all style sheets", Cure: "take it out, or the role"}
	case useURL:
		return s.answerFile(q, path.Join(path.Dir(q.File), q.Typed))
	case useResource:
		return s.answerResource(q)
	case useOfClass:
		return s.answerOfClass(q)
	}
	return s.answerName(q)
}

// styles says whether a style sheet is one of JavaFX's, and not of a page that the app
// shows: it has properties of JavaFX's, or code gives it to a scene.
func (s *site) styles(q platform.Question) bool {
	return slices.Contains(q.Once("sheets", func() []string {
		var out []string
		for _, f := range s.Tree.Under(s.Dir) {
			if path.Ext(f) != ".css" {
				continue
			}
			if raw, ok := s.Tree.Glance(f, platform.MostSource); ok && (bytes.Contains(raw, []byte("-fx-")) || s.given(path.Base(f))) {
				out = append(out, f)
			}
		}
		return out
	}), q.File)
}

// given says whether a source names a file for a scene.
func (s *site) given(base string) bool {
	for _, f := range s.Tree.Under(s.Dir) {
		if !isSource(f) && path.Ext(f) != ".fxml" {
			continue
		}
		if raw, ok := s.Tree.Glance(f, platform.MostSource); ok && bytes.Contains(raw, []byte(base)) && (bytes.Contains(raw, []byte("getStylesheets")) || bytes.Contains(raw, []byte("stylesheets"))) {
			return true
		}
	}
	return false
}

// answerFile judges the path of a font file in the tree.
func (s *site) answerFile(q platform.Question, at string) platform.Answer {
	if strings.Contains(q.Typed, ":") || !strings.HasPrefix(at, s.Dir) {
		return platform.Answer{} // of the net, or of another app
	}
	if strings.ContainsAny(q.Typed, " #%") {
		return platform.Answer{Fault: platform.NoSuchThing, Message: fmt.Sprintf("%q has a space, a # or a %% in it", face.Short(q.Typed)),
			Cause: "url() of JavaFX takes none of these", Cure: "rename the file, or let Notaria place it"}
	}
	return platform.AnswerFile(at, q.FontFiles(s.Tree, s.Dir), "JavaFX shows the system's font", "the style sheet", func(f string) string { return platform.Relative(path.Dir(q.File), f) })
}

// answerResource judges a resource's name: from the root of the class path, or from the
// package of the class that asks, which is the source's folder.
func (s *site) answerResource(q platform.Question) platform.Answer {
	if q.Use.Named && !platform.LooksLikeFont(q.Typed) {
		return platform.Answer{} // a constant of the parameter's name, with another resource
	}
	at := path.Join(s.resources, q.Typed)
	if !strings.HasPrefix(q.Typed, "/") {
		if below, ok := platform.Below(s.sources, path.Dir(q.File)); ok {
			if other := path.Join(s.resources, below, q.Typed); slices.Contains(q.FontFiles(s.Tree, s.Dir), other) {
				return platform.Answer{}
			}
		}
	}
	return platform.AnswerFile(at, q.FontFiles(s.Tree, s.Dir), "the method returns null, and the font is never loaded", "the resources: /"+fontFolder+"/…", func(f string) string {
		if rel, ok := platform.Below(s.resources, f); ok {
			return "/" + rel
		}
		return ""
	})
}

// answerOfClass judges a resource's name without a slash in front: it counts from the class's package.
func (s *site) answerOfClass(q platform.Question) platform.Answer {
	have := q.FontFiles(s.Tree, s.Dir)
	root := path.Join(s.resources, q.Typed)
	below, ok := platform.Below(s.sources, path.Dir(q.File))
	if !ok || below == "" || !slices.Contains(have, root) || slices.Contains(have, path.Join(s.resources, below, q.Typed)) || slices.Contains(have, path.Join(path.Dir(q.File), q.Typed)) {
		return platform.Answer{}
	}
	return platform.Answer{Fault: platform.NoSuchThing, Message: fmt.Sprintf("the package of this class has no font file %s", face.Short(q.Typed)),
		Cause: "a name without / in front counts from the package of the class: the method returns null, and the font is never loaded", Cure: platform.Choose("/"+q.Typed, nil), Instead: "/" + q.Typed}
}

// answerName judges a font's name: the old family is right, too.
func (s *site) answerName(q platform.Question) platform.Answer {
	typed := strings.TrimSpace(q.Typed)
	if slices.Contains(q.System, typed) || slices.ContainsFunc(q.Faces, func(f platform.Face) bool { return typed == f.LegacyFamily }) {
		return platform.Answer{}
	}
	var names []platform.Spelling
	for _, f := range q.Faces {
		names = append(names, platform.Spelling{Right: fullName(f.Face), Wrong: append(platform.NamesOfFile(f), f.ID(), f.Family)})
		if f.LegacyFamily != "" {
			names = append(names, platform.Spelling{Right: f.LegacyFamily})
		}
	}
	const cause = "Java answers to the full name (name ID 4) and the old family (ID 1) alone, and shows the system's font for others"
	a := platform.AnswerName(typed, names, "%q is a PostScript name or a typographic family", "no font answers to %q", cause)
	if a.Fault == platform.Fine && platform.Foreign(typed) && !logical.MatchString(typed) && !s.isForeign(q, typed) {
		var known []string
		for _, n := range names {
			known = append(known, n.Right)
		}
		if !slices.Contains(known, typed) {
			return platform.AnswerForeign(typed, cause, known)
		}
	}
	return a
}

// isForeign says whether a name is right after all: one of ours, or of a page that the app shows.
func (s *site) isForeign(q platform.Question, typed string) bool {
	for _, f := range q.Faces {
		if strings.EqualFold(fullName(f.Face), typed) || f.LegacyFamily == typed {
			return true
		}
	}
	return language.Of(q.File) == language.CSS && !s.styles(q)
}

var loader = lazy.Regexp(`\b(?:loadFonts?|createFonts?|registerFont)\s*\(`)

// Flaws are fonts among the resources that neither code nor a style sheet loads.
func (s *site) Flaws([]platform.Face) ([]platform.Flaw, error) {
	var fonts []string
	for _, f := range s.Tree.Under(s.resources) {
		if platform.IsFont(f) {
			fonts = append(fonts, f)
		}
	}
	left := platform.Unloaded(s.Tree, s.Dir, fonts, []*language.Language{language.Java, language.Kotlin, language.CSS, language.XML}, loader)
	return platform.Loading(left, "a font among the resources is known to Java only after Font.loadFont, Font.createFont or a @font-face rule", "load it when the app starts"), nil
}
