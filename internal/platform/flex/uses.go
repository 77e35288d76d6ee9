package flex

import (
	"bytes"
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/kit"
)

// Kinds of uses.
const (
	useStyle = "style" // a style name
	useFile  = "file"  // a font file that is embedded
	useOver  = "over"  // a font that a component with a role sets itself
	useRule  = "rule"  // the selector of a rule that sets a family
)

var (
	css    = []*language.Language{language.CSS}
	mxml   = []*language.Language{language.XML}
	action = []*language.Language{language.ActionScript}
	uses   = []platform.Use{
		{Languages: css, Pattern: lazy.Regexp(`\bfont(?:Family|-family)\s*:\s*["']([^"'\n]*)["']`)},
		{Languages: css, Pattern: lazy.Regexp(`\bfont(?:Family|-family)\s*:\s*([^"';{}\s][^"';{}\n]*)[;}]`)},
		{Languages: mxml, Pattern: lazy.Regexp(`\sfontFamily\s*=\s*["']([^"'{]+)["']`)},
		{Languages: action, Pattern: lazy.Regexp(`\bsetStyle\s*\(\s*["']fontFamily["']\s*,\s*["']([^"'\n]*)["']`)},
		{Languages: action, Pattern: lazy.Regexp(`\bnew\s+TextFormat\s*\(\s*["']([^"'\n]*)["']`)},
		{Languages: css, Kind: useStyle, Pattern: lazy.Regexp(`\.(type[A-Z]\w*)`)},
		{Languages: mxml, Kind: useStyle, Pattern: lazy.Regexp(`\sstyleName="(?:[^"]*\s)?(type[A-Z]\w*)`)},
		{Languages: action, Kind: useStyle, Pattern: lazy.Regexp(`\bstyleName\s*=\s*["'](type[A-Z]\w*)["']`)},
		{Languages: css, Kind: useFile, Pattern: lazy.Regexp(`\burl\(\s*["']?([^"')\n]+\.(?i:ttf|otf|ttc))["']?\s*\)`)},
		{Languages: action, Kind: useFile, Pattern: lazy.Regexp(`\[Embed\s*\([^\]]*?\bsource\s*=\s*["']([^"'\n]+\.(?i:ttf|otf|ttc))["']`)},
		{Languages: mxml, Kind: useFile, Pattern: lazy.Regexp(`\[Embed\s*\([^\]]*?\bsource\s*=\s*["']([^"'\n]+\.(?i:ttf|otf|ttc))["']`)},
		{Languages: mxml, Kind: useOver, Pattern: lazy.Regexp(`<\w[\w:.]*\s(?:[^<>]*\s)?styleName="[^"<>]*\btype[A-Z][^"<>]*"(?:[^<>]*?\s)?(fontFamily|fontWeight|fontStyle)="`)},
		{Languages: mxml, Kind: useOver, Pattern: lazy.Regexp(`<\w[\w:.]*\s(?:[^<>]*?\s)?(fontFamily|fontWeight|fontStyle)="[^"<>]*"(?:[^<>]*\s)?styleName="[^"<>]*\btype[A-Z]`)},
		{Languages: css, Kind: useRule, Pattern: lazy.Regexp(`(?:^|\})\s*([^@{}\s][^{}]*?)\s*\{[^{}]*\bfont(?:Family|-family)\s*:`)},
	}
)

// answer goes by the names under which fonts are embedded.
func (s *site) answer(job platform.Job, q platform.Question) platform.Answer {
	switch q.Use.Kind {
	case useStyle:
		return platform.AnswerRole(q, "type", q.Once("styles", func() []string { return kit.Members(job.Roles, styleName) }), "style name", "Flex reports nothing about a style name that no rule is for")
	case useOver:
		return platform.Answer{Fault: platform.OverRole, Message: q.Typed + " is set beside a role", Cause: "what a component sets itself wins over its style name", Cure: "take it out, or the role"}
	case useRule:
		if len(job.Roles) == 0 {
			return platform.Answer{}
		}
		if !strings.Contains(q.Typed, "#") || strings.Contains(q.Typed, ".type") {
			return platform.Answer{}
		}
		return platform.Answer{Fault: platform.OverRole, Message: fmt.Sprintf("the rule for %s sets a family of its own", face.Short(q.Typed)),
			Cause: "an id wins over a style name, which wins over a type", Cure: "let the role alone set the family"}
	case useFile:
		return s.answerFile(q)
	}
	return s.answerFamily(q)
}

func (s *site) answerFile(q platform.Question) platform.Answer {
	at := path.Join(path.Dir(q.File), q.Typed)
	if strings.HasPrefix(q.Typed, "/") {
		at = path.Join(s.Dir, q.Typed) // from the source folder
	}
	return platform.AnswerFile(at, q.FontFiles(s.Tree, s.Dir), "the compiler stops", "this file", func(f string) string { return platform.Relative(path.Dir(q.File), f) })
}

// embedded finds the names under which the app embeds fonts itself.
var embedded = lazy.Regexp(`(?:@font-face\s*\{[^{}]*?\bfont(?:Family|-family)\s*:\s*["']?|\[Embed\s*\([^\]]*?\bfont(?:Family|Name)\s*=\s*["'])([^"';{}\n]*[^"';{}\s])`)

// aliasAround is the name under which the rule, or the line of metadata, around a place embeds its font.
func aliasAround(clean []byte, at int) string {
	from := max(bytes.LastIndexByte(clean[:at], '{'), bytes.LastIndexByte(clean[:at], '['), 0)
	to := len(clean)
	if i := bytes.IndexAny(clean[at:], "}]"); i >= 0 {
		to = at + i
	}
	if m := familyIn.FindSubmatch(clean[from:to]); m != nil {
		return string(m[1])
	}
	return ""
}

var familyIn = lazy.Regexp(`\bfont(?:Family|-family|Name)\s*[:=]\s*["']?([^"',;{}()\]\n]*[^"',;{}()\]\s])`)

func (s *site) declared() []string {
	var out []string
	for _, f := range s.Tree.Under(s.Dir) {
		l := language.Of(f)
		if l != language.CSS && l != language.ActionScript && path.Ext(f) != ".mxml" {
			continue
		}
		if raw, ok := s.Tree.Glance(f, platform.MostSource); ok {
			for _, m := range embedded.FindAllSubmatch(l.Blank(raw), -1) {
				out = append(out, string(m[1]))
			}
		}
	}
	return out
}

// answerFamily judges a family: one that the app embeds itself is right, too.
func (s *site) answerFamily(q platform.Question) platform.Answer {
	typed := strings.TrimSpace(q.Typed)
	if slices.Contains(q.System, typed) || slices.Contains(q.Once("declared", s.declared), typed) {
		return platform.Answer{}
	}
	var names []platform.Spelling
	embeds := q.Once("aliases", func() []string { // each file with its name
		var out []string
		held, _ := s.Held()
		for _, h := range held {
			if h.Alias != "" {
				out = append(out, h.File, h.Alias)
			}
		}
		return out
	})
	for _, f := range q.Faces {
		if i := slices.Index(embeds, f.File); i >= 0 && i%2 == 0 {
			names = append(names, platform.Spelling{Right: embeds[i+1], Wrong: append(platform.NamesOfFile(f), f.ID(), f.Full, f.Family)})
			continue
		}
		names = append(names, platform.Spelling{Right: alias(f.Face), Wrong: append(platform.NamesOfFile(f), f.ID(), f.Full, f.Family)})
	}
	return platform.AnswerName(typed, names, "%q is not the name under which the face is embedded", "no embedded family is called %q",
		"the player reports nothing about an unknown family, and shows a font of the machine")
}
