package godot

import (
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/godot/textres"
	"notaria/internal/platform/kit"
)

// Kinds of uses.
const (
	usePath      = "path"      // of a font, or of a role's resource
	useVariation = "variation" // a role's name in the theme
	useOverride  = "override"  // a font of a node's own
	useName      = "name"      // a role, as AppType.style takes it
)

var (
	scripts = []*language.Language{language.GDScript}
	both    = []*language.Language{language.GDScript, language.CSharp}
	scenes  = []*language.Language{language.GodotText}
	uses    = []platform.Use{
		{Languages: both, Kind: usePath, Pattern: lazy.Regexp(`(?:\bpreload|\bload|\bGD\.Load(?:<[\w.]+>)?)\s*\(\s*"(res://(?:[^"\n]*\.(?i:ttf|otf|ttc|woff2?)|` + folder + `/[^"\n]*))"`)},
		{Languages: both, Kind: usePath, Named: true, Pattern: lazy.Regexp(`(?:\bpreload|\bload|\bGD\.Load(?:<[\w.]+>)?)\s*\(\s*([A-Za-z_][\w.]*)\s*\)`)},
		{Languages: both, Kind: useVariation, Pattern: lazy.Regexp(`(?:\btheme_type_variation|\bThemeTypeVariation)\s*=\s*&?"(` + variationPrefix + `[A-Z0-9]\w*)"`)},
		{Languages: scenes, Kind: useVariation, Pattern: lazy.Regexp(`(?m)^theme_type_variation\s*=\s*&?"(` + variationPrefix + `[A-Z0-9]\w*)"`)},
		{Languages: both, Kind: useName, Pattern: lazy.Regexp(`\bAppType\.` + asksRole)},
		{Languages: scripts, Kind: useName, Pattern: lazy.Regexp(`(?:\bget_node\s*\(\s*"|\$"?)/root/AppType"?\s*\)?\.` + asksRole)},
		{Languages: scripts, Kind: useName, Member: lazy.Regexp(`^\.` + asksRole), Pattern: lazy.Regexp(`\b(\w+)\s*(?::\s*\w+\s*)?:?=\s*(?:AppType\s|get_node\s*\(\s*"/root/AppType"|\$"?/root/AppType|(?:pre)?load\s*\(\s*"res://` + folder + `/app_type\.gd")`)},
		{Languages: scripts, Kind: useName, Pattern: lazy.Regexp(`\bAppType\.(?:ROLES|VARIATIONS)\s*\[\s*"([^"\n]*)"`)},
		{Languages: scenes, Kind: useOverride, Pattern: lazy.Regexp(`(?m)^(?:custom_fonts/\w+|theme_override_fonts/\w+|label_settings)\s*=\s*((?:Ext|Sub)Resource\([^()\n]*\))`)},
		{Languages: scripts, Kind: usePath, Pattern: lazy.Regexp(`\bfont_path\s*=\s*"(res://[^"\n]*)"`)},
	}
)

// asksRole is a call of AppType with a role.
const asksRole = `(?:style|font|settings|Style|Font)\s*\((?:[^()",]*,)?\s*"([^"\n]*)"`

// answer goes by paths and roles.
func (s *site) answer(job platform.Job, q platform.Question) platform.Answer {
	if s.excluded(q.File) {
		return platform.Answer{}
	}
	switch q.Use.Kind {
	case usePath:
		return s.answerPath(q)
	case useOverride:
		return s.answerOverride(q)
	case useVariation:
		return platform.AnswerRole(q, variationPrefix, q.Once("variations", func() []string { return kit.Members(job.Roles, variation) }), "type variation", "Godot reports nothing about a variation that the theme does not have")
	}
	roles := q.Once("roles", func() []string { return kit.Names(job.Roles) })
	if slices.Contains(roles, q.Typed) {
		return platform.Answer{}
	}
	near := platform.Nearest(q.Typed, roles)
	return platform.Answer{Fault: platform.NoSuchRole, Message: fmt.Sprintf("no role is called %q", q.Typed), Cause: "the control keeps its look, and the log has an error", Cure: platform.Choose(near, roles), Instead: near}
}

// answerPath judges the path of a font or of a role's resource.
func (s *site) answerPath(q platform.Question) platform.Answer {
	if q.Use.Named && !platform.LooksLikeFont(q.Typed) {
		return platform.Answer{}
	}
	at, ok := s.file(q.Typed)
	if !ok {
		return platform.Answer{}
	}
	if ignored := s.ignored(at); ignored != "" && slices.Contains(s.Tree.Named(path.Base(at)), at) {
		h := hidden(ignored)
		return platform.Answer{Fault: platform.NoSuchThing, Message: fmt.Sprintf("Godot does not see %s", face.Short(q.Typed)), Cause: h.Cause, Cure: h.Cure}
	}
	have := q.Once("files", func() []string {
		var out []string
		for _, f := range append(q.Plan.Files, q.Plan.Code...) {
			out = append(out, f.Path)
		}
		for _, f := range s.Tree.Under(s.Dir) {
			if rel, _ := s.Rel(f); platform.LooksLikeFont(f) || strings.HasPrefix(rel, folder+"/") {
				out = append(out, f)
			}
		}
		return out
	})
	return platform.AnswerFile(at, have, "Godot 3 gives a font that draws nothing; Godot 4 does not load the script", "the folder of project.godot",
		func(f string) string { rel, _ := s.Rel(f); return s.res(rel) })
}

// hidden is why a font that is there is not there for Godot.
func hidden(by string) platform.Hint {
	return platform.Hint{Cause: fmt.Sprintf("%s hides the folder: nothing in it is imported, or packed with the game", by), Cure: "take that file out, or move the font to another folder"}
}

// answerOverride judges a font of a node's own: it wins over the theme's role.
func (s *site) answerOverride(q platform.Question) platform.Answer {
	fine := q.Once("own "+q.File, func() []string { return s.pointed(q.File) })
	if slices.Contains(fine, q.Typed) {
		return platform.Answer{}
	}
	return platform.Answer{Fault: platform.OverRole, Message: fmt.Sprintf("a node of %s sets a font of its own", path.Base(q.File)),
		Cause: "what a node sets itself wins over the theme, and stays when the role changes",
		Cure:  "take the line out, or run: notaria register --take-over, which points it to its role where the font is an enrolled one"}
}

// pointed are the references of a scene to resources of roles.
func (s *site) pointed(file string) []string {
	var out []string
	for _, sc := range s.loadScenes() {
		if sc.file != file {
			continue
		}
		for _, t := range sc.tags {
			for _, v := range t.Values {
				if res := sc.external(v.Text); textres.Properties.MatchString(v.Name) && strings.HasPrefix(res, s.res(folder+"/")) && path.Ext(res) == ".tres" {
					out = append(out, v.Text)
				}
			}
		}
	}
	return out
}
