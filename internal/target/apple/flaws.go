package apple

import (
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"notaria/internal/face"
	"notaria/internal/target"
	"notaria/internal/target/apple/xcode"
)

// Flaws lists fonts that a target has by half: its Info.plist names them and it does not build them in,
// or it builds them in and no Info.plist of its names them.
func (s *site) Flaws() ([]target.Flaw, error) {
	var out []target.Flaw
	for _, t := range s.targets {
		if !touch(t) {
			continue // a Mac's list is a folder
		}
		built := s.built(t)
		named := map[string]bool{}
		for _, p := range t.InfoPlists {
			doc, values, lines, err := s.listed(p)
			if err != nil {
				return nil, err
			}
			for i, v := range values {
				named[v] = true
				if f := s.lying(v); f != "" && built[v] == "" && !slices.ContainsFunc(out, func(x target.Flaw) bool { return x.Subject == f && x.File == doc.File }) {
					out = append(out, target.Flaw{Kind: target.NotBuilt, File: doc.File, Line: lines[i], Subject: f,
						Message: fmt.Sprintf("%s names %s, and the target %s does not build %s in", KeyFonts, face.Short(v), face.Short(t.Name), f),
						Cause:   "the file is on disk and in no resources phase of the target: it is not in the app",
						Cure:    "give the file the target's membership in Xcode's file inspector, or enrol it and register it"})
				}
			}
		}
		for _, name := range slices.Sorted(maps.Keys(built)) {
			f := built[name]
			beside := slices.ContainsFunc(t.InfoPlists, func(p string) bool { return strings.HasPrefix(f, path.Dir(path.Join(s.Dir, p))+"/") })
			if !named[name] && !beside { // beside it, Loose tells
				out = append(out, target.Flaw{Kind: target.NotNamed, File: f, Subject: f,
					Message: fmt.Sprintf("the target %s builds %s in, and %s of its Info.plist does not name it", face.Short(t.Name), path.Base(f), KeyFonts),
					Cause:   "the system loads only the files that this list names", Cure: fmt.Sprintf("add %q to %s, or enrol the file and register it", name, KeyFonts)})
			}
		}
	}
	return out, nil
}

// built are the fonts that a target builds in, by their path in the bundle.
func (s *site) built(t xcode.BuildTarget) map[string]string {
	out := map[string]string{}
	add := func(f string) {
		if !target.IsFont(f) || len(out) > mostLooked {
			return
		}
		at := target.Spelled(s.Tree, path.Join(s.Dir, f))
		if slices.Contains(s.Tree.Named(path.Base(at)), at) {
			out[s.inBundle(f)] = at
		}
	}
	files, _ := xcode.Resources(s.project, t)
	for _, f := range files {
		add(f)
	}
	for _, dir := range append(slices.Clone(t.Folders), t.Synchronized...) {
		for _, f := range s.Tree.Under(path.Join(s.Dir, dir)) {
			if rel := s.from(f); s.whole(rel) != "" || !s.project.Excepted(t.Name, rel) {
				add(rel)
			}
		}
	}
	for _, f := range s.Tree.Under(s.Dir) { // files that a target takes out of another's folder
		if rel := s.from(f); target.IsFont(f) && !takes(t, rel) && s.anyTakes(rel) && s.project.Excepted(t.Name, rel) {
			add(rel)
		}
	}
	return out
}

// lying is a font file of a name that is somewhere below the project's folder, "" if there is none.
func (s *site) lying(name string) string {
	for _, f := range s.Tree.Named(path.Base(name)) {
		if _, inside := s.Rel(f); inside {
			return f
		}
	}
	return ""
}
