package apple

import (
	"bytes"
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/face"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/apple/xcode"
)

// compiles says whether a target builds a source in, by its path from the project's folder.
func (s *site) compiles(t xcode.BuildTarget, rel string) bool {
	return slices.Contains(t.Sources, rel) || takes(t, rel) && !s.project.Excepted(t.Name, rel)
}

// elsewhere judges a name that leads to a font of the project: an extension has a bundle and a list of its own, and so has
// a watch app. It is wrong where none of the targets that build the source in has the font, and another target does.
func (s *site) elsewhere(q platform.Question) platform.Answer {
	list := platform.FaceOf(q.Faces, q.Typed)
	rel := s.from(q.File)
	if len(s.targets) < 2 || len(list) == 0 || slices.ContainsFunc(q.Plan.Files, func(f platform.File) bool { return slices.Contains(f.Recipe.Faces(), q.Typed) }) {
		return platform.Answer{}
	}
	var without *xcode.BuildTarget
	anywhere := false
	for i, t := range s.targets {
		has := slices.Contains(q.Once("fonts of "+t.Name, func() []string { return s.fontsOf(t) }), list[0].File)
		anywhere = anywhere || has
		if s.compiles(t, rel) {
			if has || !touch(t) {
				return platform.Answer{}
			}
			without = &s.targets[i]
		}
	}
	if without == nil || !anywhere || registered(s.Tree, s.Dir, []string{list[0].File})[list[0].File] {
		return platform.Answer{}
	}
	return platform.Answer{Fault: platform.UnknownFace, Message: fmt.Sprintf("the target %s, which builds this file in, does not have %q", face.Short(without.Name), face.Short(q.Typed)),
		Cause: "each app and each extension has fonts of its own: those that it builds in, and that its own Info.plist names",
		Cure:  fmt.Sprintf("give %s the target's membership, and name it in %s of the target's Info.plist; or enrol it and register it", path.Base(list[0].File), KeyFonts)}
}

// fontsOf are the font files that a target builds in, or that its lists name: what it has by half is a finding of its own.
func (s *site) fontsOf(t xcode.BuildTarget) []string {
	var out []string
	for _, f := range s.built(t) {
		out = append(out, f)
	}
	for _, p := range t.InfoPlists {
		if _, values, _, err := s.listed(p); err == nil {
			for _, v := range values {
				if f := s.lying(v); f != "" {
					out = append(out, f)
				}
			}
		}
	}
	return out
}

// asSetting is the list of fonts as a setting of the build: Xcode has settings for some keys of the Info.plist that it
// makes, and none for this one (Build settings reference, INFOPLIST_KEY_…).
var asSetting = lazy.Regexp(`\bINFOPLIST_KEY_UIAppFonts\b`)

// settingFlaw makes one flaw of the fonts that no list names, where a setting of the build does.
func (s *site) settingFlaw(unnamed []platform.Flaw) []platform.Flaw {
	m := asSetting.FindIndex(s.project.Text)
	if m == nil || len(unnamed) == 0 {
		return unnamed
	}
	x := platform.Flaw{Kind: platform.OutOfPlace, File: s.file, Line: 1 + bytes.Count(s.project.Text[:m[0]], []byte("\n")),
		Message: "Xcode has no setting INFOPLIST_KEY_" + KeyFonts, Cause: "the Info.plist gets no list of fonts of it, and the system loads none", Cure: "write " + KeyFonts + " with an <array> into an Info.plist file, and name that in INFOPLIST_FILE; or enrol the fonts and register them"}
	for _, f := range unnamed {
		x.Means = append(x.Means, f.Subject)
		x.Mend.Entries = append(x.Mend.Entries, f.Mend.Entries...)
	}
	if len(x.Mend.Entries) > 0 {
		x.Cure = fmt.Sprintf("write %s with an <array> into %s", KeyFonts, strings.TrimPrefix(x.Mend.Entries[0].File, s.Dir+"/"))
	}
	return []platform.Flaw{x}
}
