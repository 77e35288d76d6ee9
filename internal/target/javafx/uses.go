package javafx

import (
	"bytes"
	"fmt"
	"path"
	"regexp"
	"slices"
	"strings"

	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/target"
)

// Kinds of uses.
const (
	useClass    = "class"    // a style class
	useProperty = "property" // a name that JavaFX's style sheets do not have
	useRule     = "rule"     // the selector of a rule that sets a font
	useOver     = "over"     // a font that an element with a role sets itself
	useURL      = "url"      // a font file, from the style sheet's folder
	useResource = "resource" // a font file, as a resource
)

var (
	css   = []*language.Language{language.CSS}
	fxml  = []*language.Language{language.XML}
	jvm   = []*language.Language{language.Java, language.Kotlin}
	names = []target.Use{
		{Languages: jvm, Pattern: regexp.MustCompile(`\bFont\.font\s*\(\s*"((?:[^"\\\n]|\\.)*)"`)},
		{Languages: jvm, Pattern: regexp.MustCompile(`\bFont\s*\(\s*"((?:[^"\\\n]|\\.)*)"\s*,`)},
		{Languages: jvm, Kind: useResource, Pattern: regexp.MustCompile(`\bgetResource(?:AsStream)?\s*\(\s*"([^"\\\n]*\.(?i:ttf|otf|ttc))"`)},
	}
	fxUses = append(slices.Clone(names),
		target.Use{Languages: css, Pattern: regexp.MustCompile(`-fx-font-family\s*:\s*"([^"\n]*)"`)},
		target.Use{Languages: css, Pattern: regexp.MustCompile(`-fx-font-family\s*:\s*'([^'\n]*)'`)},
		target.Use{Languages: css, Pattern: regexp.MustCompile(`-fx-font-family\s*:\s*([^"';{}\s][^"';{}\n]*)[;}]`)},
		target.Use{Languages: css, Pattern: regexp.MustCompile(`-fx-font\s*:[^"';{}]*"([^"\n]*)"`)},
		target.Use{Languages: fxml, Pattern: regexp.MustCompile(`-fx-font-family\s*:\s*(?:'|&quot;|&apos;)?([^;"'&]+)`)},
		target.Use{Languages: fxml, Pattern: regexp.MustCompile(`<Font\s[^<>]*\bname="([^"]+)"`)},
		target.Use{Languages: jvm, Pattern: regexp.MustCompile(`\.setStyle\s*\(\s*"[^"\n]*-fx-font-family\s*:\s*'?([^;"']+)`)},
		target.Use{Languages: css, Kind: useClass, Pattern: regexp.MustCompile(`\.(type-[\w-]*)`)},
		target.Use{Languages: fxml, Kind: useClass, Pattern: regexp.MustCompile(`\bstyleClass="(?:[^"]*[\s,])?(type-[^"\s,]*)`)},
		target.Use{Languages: jvm, Kind: useClass, Pattern: regexp.MustCompile(`\bgetStyleClass\(\)\.(?:add|addAll|setAll)\s*\([^()\n]*?"(type-[^"]*)"`)},
		target.Use{Languages: css, Kind: useProperty, Pattern: regexp.MustCompile(`(?:^|\})\s*[^@{}\s][^{}]*\{(?:[^{}]*[;\s])?(font-(?:family|size|weight|style))\s*:`)},
		target.Use{Languages: css, Kind: useRule, Pattern: regexp.MustCompile(`(?:^|\})\s*([^@{}\s][^{}]*?)\s*\{[^{}]*-fx-font(?:-family)?\s*:`)},
		target.Use{Languages: fxml, Kind: useOver, Pattern: regexp.MustCompile(`<\w[\w.]*\s(?:[^<>]*\s)?styleClass="[^"<>]*\btype-[^"<>]*"(?:[^<>]*?\s)?style="[^"<>]*(-fx-font(?:-family)?)\s*:`)},
		target.Use{Languages: fxml, Kind: useOver, Pattern: regexp.MustCompile(`<\w[\w.]*\s(?:[^<>]*?\s)?style="[^"<>]*?(-fx-font(?:-family)?)\s*:[^"<>]*"(?:[^<>]*\s)?styleClass="[^"<>]*\btype-`)},
		target.Use{Languages: css, Kind: useURL, Pattern: regexp.MustCompile(`\burl\(\s*["']?([^"')\n]+\.(?i:ttf|otf|ttc))["']?\s*\)`)},
	)
)

// Uses are in the module.
func (s *site) Uses() (string, []target.Use) {
	if s.swing {
		return s.Dir, names
	}
	return s.Dir, fxUses
}

// Answer goes by full names and old families, and by what is among the resources.
func (s *site) Answer(q target.Question) target.Answer {
	switch q.Use.Kind {
	case useClass:
		return target.AnswerRole(q, "type-", q.Once("classes", s.classes), "style class", "JavaFX reports nothing about a class that no rule is for")
	case useProperty:
		if !s.styles(q) {
			return target.Answer{}
		}
		return target.Answer{Fault: target.NotAProperty, Message: fmt.Sprintf("%s is no property of JavaFX's style sheets", q.Typed),
			Cause: "JavaFX passes it over without a word", Cure: target.Choose("-fx-"+q.Typed, nil), Instead: "-fx-" + q.Typed}
	case useRule:
		return target.AnswerRule(q.Typed)
	case useOver:
		return target.Answer{Fault: target.OverRole, Message: q.Typed + " is set beside a role", Cause: "what an element's own style sets wins over all style sheets", Cure: "take it out, or the role"}
	case useURL:
		return s.answerFile(q, path.Join(path.Dir(q.File), q.Typed))
	case useResource:
		return s.answerResource(q)
	}
	return s.answerName(q)
}

func (s *site) classes() []string {
	var out []string
	for _, r := range s.job.Roles {
		out = append(out, "type-"+r.Name)
	}
	return out
}

// styles says whether a style sheet is one of JavaFX's, and not of a page that the app
// shows: it has properties of JavaFX's, or code gives it to a scene.
func (s *site) styles(q target.Question) bool {
	return slices.Contains(q.Once("sheets", func() []string {
		var out []string
		for _, f := range s.Tree.Under(s.Dir) {
			if path.Ext(f) != ".css" {
				continue
			}
			if raw, ok := s.Tree.Glance(f, target.LargestSource); ok && (bytes.Contains(raw, []byte("-fx-")) || s.given(path.Base(f))) {
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
		if raw, ok := s.Tree.Glance(f, target.LargestSource); ok && bytes.Contains(raw, []byte(base)) && (bytes.Contains(raw, []byte("getStylesheets")) || bytes.Contains(raw, []byte("stylesheets"))) {
			return true
		}
	}
	return false
}

// answerFile judges the path of a font file in the tree.
func (s *site) answerFile(q target.Question, at string) target.Answer {
	if strings.Contains(q.Typed, ":") || !strings.HasPrefix(at, s.Dir) {
		return target.Answer{} // of the net, or of another app
	}
	if strings.ContainsAny(q.Typed, " #%") {
		return target.Answer{Fault: target.NoSuchThing, Message: fmt.Sprintf("%q has a space, a # or a %% in it", face.Short(q.Typed)),
			Cause: "url() of JavaFX takes none of these", Cure: "rename the file, or let Notaria place it"}
	}
	return target.AnswerFile(at, q.FontFiles(s.Tree, s.Dir), "JavaFX shows the system's font", "the style sheet", func(f string) string { return target.Relative(path.Dir(q.File), f) })
}

// answerResource judges a resource's name: from the root of the class path, or from the
// package of the class that asks, which is the source's folder.
func (s *site) answerResource(q target.Question) target.Answer {
	at := path.Join(s.resources, q.Typed)
	if !strings.HasPrefix(q.Typed, "/") {
		if below, ok := target.Below(s.sources, path.Dir(q.File)); ok {
			if other := path.Join(s.resources, below, q.Typed); slices.Contains(q.FontFiles(s.Tree, s.Dir), other) {
				return target.Answer{}
			}
		}
	}
	return target.AnswerFile(at, q.FontFiles(s.Tree, s.Dir), "the method returns null, and the font is never loaded", "the resources: /"+fontFolder+"/…", func(f string) string {
		if rel, ok := target.Below(s.resources, f); ok {
			return "/" + rel
		}
		return ""
	})
}

// answerName judges a font's name: the old family is right, too.
func (s *site) answerName(q target.Question) target.Answer {
	typed := strings.TrimSpace(q.Typed)
	if slices.Contains(q.System, typed) || slices.ContainsFunc(q.Faces, func(f target.Face) bool { return typed == f.LegacyFamily }) {
		return target.Answer{}
	}
	var names []target.Spoken
	for _, f := range q.Faces {
		names = append(names, target.Spoken{Right: fullName(f.Face), Wrong: []string{f.ID(), f.Family}})
	}
	return target.AnswerName(typed, names, "%q is a PostScript name or a typographic family", "no font answers to %q",
		"Java answers to the full name (name ID 4) and the old family (ID 1) alone, and shows the system's font for others")
}
