package p5

import (
	"fmt"
	"path"
	"slices"

	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/kit"
)

// Kinds of uses.
const (
	usePath  = "path"  // of a font
	useRole  = "role"  // an object of AppType
	useText  = "text"  // a family, given as text
	useEarly = "early" // where a font is not there yet, or is never loaded
	useAlias = "alias" // a role by another way than AppType.ROLE.
	useOld   = "old"   // preload() in p5.js 2
)

var (
	scripts = []*language.Language{language.JavaScript, language.TypeScript}
	// loads is a font that a sketch loads.
	loads = lazy.Regexp(`\bloadFont\s*\(\s*["']([^"'\n]*\.(?i:ttf|otf|woff2?))["']`)
	uses  = []platform.Use{
		{Languages: scripts, Kind: platform.UseNetwork, Pattern: lazy.Regexp(`\bloadFont\s*\(\s*["'](https?://[^"'\\\n]+)["']`)},
		{Languages: scripts, Kind: usePath, Pattern: loads},
		{Languages: scripts, Kind: useRole, Pattern: lazy.Regexp(`\bAppType\.(\w+)\.(?:style|text|width|box|font)\b`)},
		{Languages: scripts, Kind: useAlias, Pattern: lazy.Regexp(`\bAppType\s*\[\s*["'\x60](\w+)["'\x60]\s*\]`)},
		{Languages: scripts, Kind: useAlias, Pattern: lazy.Regexp(`=\s*AppType\.(\w+)\s*(?:;|,|\n|$)`)},
		{Languages: scripts, Kind: useAlias, List: true, Pattern: lazy.Regexp(`\b(?:const|let|var)\s*\{([^{}]*)\}\s*=\s*AppType\b`)},
		{Languages: scripts, Kind: useAlias, Member: lazy.Regexp(`^(?:\.(\w+)\.(?:style|text|width|box|font)\b|\s*\[\s*["'\x60](\w+)["'\x60]\s*\])`), Pattern: lazy.Regexp(`\b(\w+)\s*=\s*AppType\s*(?:;|,|\n|$)`)},
		{Languages: scripts, Kind: useText, Pattern: lazy.Regexp(`\btextFont\s*\(\s*["']([^"'\n]*)["']`)},
		// At the top of a script, where p5.js is not started, and in a function that does not wait.
		{Languages: scripts, Kind: useEarly, Pattern: lazy.Regexp(`(?m)^(?:let|const|var)\s+\w+\s*=\s*(loadFont)\s*\(`)},
		{Languages: scripts, Kind: useEarly, Pattern: lazy.Regexp(`\bfunction\s+(?:setup|draw|mousePressed|keyPressed|windowResized)\s*\([^()]*\)\s*\{(?:[^{}]*[=(;{}\s.])?(loadFont|AppType\.load)\s*\(`)},
		{Languages: scripts, Kind: useOld, Pattern: lazy.Regexp(`\b(?:function\s+|\.)(preload)\s*(?:=|\()`)},
	}
	// library is a copy of p5.js, or of something else that is packed.
	library = lazy.Regexp(`(?i)^p5(?:\.[\w.-]+)?\.js$|\.min\.js$`)
	waits   = lazy.Regexp(`\bawait\s+(?:\w+\.)?(?:loadFont|AppType\.load)\s*\(`)
	starts  = lazy.Regexp(`\bAppType\.load\s*\(`)
)

// answer goes by paths and roles.
func (s *site) answer(job platform.Job, q platform.Question) platform.Answer {
	if s.Excludes(q.File) || path.Base(q.File) == scriptFile {
		return platform.Answer{}
	}
	switch q.Use.Kind {
	case usePath:
		at, known := s.find(q.Typed)
		if !known {
			return platform.Answer{}
		}
		return platform.AnswerFile(at, q.FontFiles(s.Tree, s.Dir), "p5.js 1 then waits for ever with the word Loading…; p5.js 2 stops with an error", "the page",
			func(f string) string { return platform.Relative(platform.Shown(s.Dir), f) })
	case useRole:
		return s.answerRole(job, q)
	case useAlias:
		return kit.Role(q, func() []string { return append(kit.Members(job.Roles, member), "load", "report") }, "the sketch stops there with an error")
	case useText:
		return s.answerText(job, q)
	case useOld:
		if !s.two {
			return platform.Answer{}
		}
		return platform.Answer{Fault: platform.TooEarly, Message: "p5.js 2 does not call preload()", Cause: "what it loads is never loaded", Cure: "load in setup: async function setup() { await AppType.load(); … }"}
	}
	return s.answerEarly(q)
}

func (s *site) answerRole(job platform.Job, q platform.Question) platform.Answer {
	names := q.Once("roles", func() []string { return kit.Members(job.Roles, member) })
	if !slices.Contains(names, q.Typed) {
		near := platform.Nearest(q.Typed, names)
		return platform.Answer{Fault: platform.NoSuchRole, Message: fmt.Sprintf("no role is called %q", q.Typed), Cause: "the sketch stops there with an error", Cure: platform.Choose(near, names), Instead: near}
	}
	started := q.Once("started", func() []string {
		for _, f := range s.scripts() {
			raw, ok := s.Tree.Glance(f, platform.MostSource)
			if l := language.Of(f); ok && path.Base(f) != scriptFile && starts.Match(l.Blank(raw)) {
				return []string{f}
			}
		}
		return nil
	})
	if len(started) > 0 {
		return platform.Answer{}
	}
	cure := "function preload() { AppType.load(); }"
	if s.two {
		cure = "async function setup() { await AppType.load(); … }"
	}
	return platform.Answer{Fault: platform.TooEarly, Message: "the fonts of AppType are used, and nothing loads them", Cause: "the canvas says so, and shows the browser's font", Cure: cure}
}

// answerText judges a family that is given as text: that of the page, not of a font that
// the sketch loaded.
func (s *site) answerText(job platform.Job, q platform.Question) platform.Answer {
	var names []platform.Spelling
	for _, r := range job.Roles {
		names = append(names, platform.Spelling{Right: "AppType." + member(r.Name) + ".font", Wrong: []string{r.Face.ID(), r.Face.Full, platform.FamilyOf(r.Face.Face), path.Base(s.Place(job, r.Face))}})
	}
	for _, f := range q.Faces {
		ours := slices.ContainsFunc(job.Roles, func(r platform.Role) bool { return r.Face.ID() == f.ID() })
		if _, inside := s.Rel(f.File); inside && !ours {
			names = append(names, platform.Spelling{Right: "the object that loadFont returned", Wrong: append(platform.NamesOfFile(f), f.ID(), f.Full, platform.FamilyOf(f.Face))})
		}
	}
	if slices.Contains(q.Once("families", s.families), q.Typed) {
		return platform.Answer{} // the page's own style sheet brings it
	}
	a := platform.AnswerName(q.Typed, names, "%q as text means a font of the page, not one that the sketch loaded", "%q is no font that the sketch loaded", "the browser shows its own font")
	if a.Instead != "" {
		a.Cure, a.Instead = "give it the object: textFont("+a.Instead+")", ""
	}
	return a
}

// families are those that style sheets of the page declare.
func (s *site) families() []string {
	return platform.LoadedNames(s.Tree, s.Dir, []*language.Language{language.CSS, language.HTML}, familyRule)
}

var familyRule = lazy.Regexp(`@font-face\s*\{[^{}]*?font-family\s*:\s*["']?([^"';{}\n]*[^"';{}\s])`)

// answerEarly judges a call that begins to load where it is too late to wait for it, or too
// early to do it.
func (s *site) answerEarly(q platform.Question) platform.Answer {
	if s.two {
		raw, ok := s.Tree.Glance(q.File, platform.MostSource)
		if !ok || waits.Match(language.Of(q.File).Blank(raw)) {
			return platform.Answer{}
		}
		return platform.Answer{Fault: platform.TooEarly, Message: q.Typed + "() is not waited for", Cause: "the sketch draws before the font is there", Cure: "write: async function setup() { await " + q.Typed + "(…); … }"}
	}
	return platform.Answer{Fault: platform.TooEarly, Message: q.Typed + "() is not in preload()", Cause: "the sketch draws before the font is there; at the top of a script p5.js is not even started", Cure: "move it into: function preload() { … }"}
}
