package apple

import (
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/pbx"
	"notaria/internal/edit/xmldoc"
	"notaria/internal/face"
	"notaria/internal/platform"
	"notaria/internal/platform/apple/xcode"
)

// Flaws lists fonts that a target has by half: its Info.plist names them and it does not build them in,
// or it builds them in and no Info.plist of its names them.
func (s *site) Flaws([]platform.Face) ([]platform.Flaw, error) {
	var out []platform.Flaw
	for _, t := range s.targets {
		built := s.built(t)
		if !touch(t) {
			list, err := s.folderFlaws(t, built)
			if err != nil {
				return nil, err
			}
			out = append(out, list...)
			continue
		}
		named := map[string]bool{}
		astray := false
		for _, p := range t.InfoPlists {
			doc, values, lines, err := s.listed(p)
			if err != nil {
				return nil, err
			}
			if x, ok := astrayKey(doc); ok {
				astray = true
				out = append(out, x)
			}
			for i, v := range values {
				named[v] = true
				if f := s.lying(v); f != "" && built[v] == "" && !slices.ContainsFunc(out, func(x platform.Flaw) bool { return x.Subject == f && x.File == doc.File }) {
					out = append(out, s.notBuilt(t, doc.File, lines[i], v, f))
				}
			}
		}
		if !astray {
			out = append(out, s.settingFlaw(s.notNamed(t, built, named))...)
		}
	}
	return out, nil
}

// astrayKey is what is wrong with the key of the fonts itself.
func astrayKey(doc edit.Document) (platform.Flaw, bool) {
	m, ok := xmldoc.Astray(doc, KeyFonts, "Fonts provided by application", "UIAppFont", "UIFonts", "AppFonts")
	if !ok {
		return platform.Flaw{}, false
	}
	x := platform.Flaw{Kind: platform.OutOfPlace, File: doc.File, Line: m.Line, Message: fmt.Sprintf("expected the key %s in the top dictionary, found %s", KeyFonts, face.Short(m.How)),
		Cause: "the system reads that key alone, in that place; it loads no font", Cure: "write <key>" + KeyFonts + "</key> with an <array> directly below the first <dict>"}
	if m.Form {
		x.Kind, x.Message, x.Cure = platform.WrongForm, fmt.Sprintf("expected an <array> of <string> under %s, found %s", KeyFonts, m.How), "write <array>, and the file's name in a <string> in it"
	}
	if m.To > 0 {
		x.Mend, x.Cure = platform.Exchange(doc.File, doc.Text, m.From, m.To, KeyFonts), platform.Choose(KeyFonts, nil)
	}
	return x, true
}

func (s *site) notBuilt(t xcode.BuildTarget, plist string, line int, value, file string) platform.Flaw {
	x := platform.Flaw{Kind: platform.NotBuilt, File: plist, Line: line, Subject: file,
		Message: fmt.Sprintf("%s names %s, and the target %s does not build %s in", KeyFonts, face.Short(value), face.Short(t.Name), file),
		Cause:   "the file is on disk and in no resources phase of the target: it is not in the app",
		Cure:    "give the file the target's membership in Xcode's file inspector, or enrol it and register it"}
	if rel, ok := s.Rel(file); ok && s.inBundle(rel) == value {
		x.Mend = platform.Mending{Entries: []edit.Entry{s.projectEntry(pbx.KindResources, t, rel)}}
	}
	return x
}

// notNamed are the fonts that a target builds in, and that no list of its names.
func (s *site) notNamed(t xcode.BuildTarget, built map[string]string, named map[string]bool) []platform.Flaw {
	var out []platform.Flaw
	known := registered(s.Tree, s.Dir, slices.Collect(maps.Values(built)))
	for _, name := range slices.Sorted(maps.Keys(built)) {
		f := built[name]
		beside := slices.ContainsFunc(t.InfoPlists, func(p string) bool { return strings.HasPrefix(f, path.Dir(path.Join(s.Dir, p))+"/") })
		if named[name] || beside || known[f] { // beside it, Loose tells
			continue
		}
		x := platform.Flaw{Kind: platform.NotNamed, File: f, Subject: f,
			Message: fmt.Sprintf("the target %s builds %s in, and %s of its Info.plist does not name it", face.Short(t.Name), path.Base(f), KeyFonts),
			Cause:   "the system loads only the files that this list names", Cure: fmt.Sprintf("add %q to %s, or enrol the file and register it", name, KeyFonts)}
		if len(t.InfoPlists) == 1 {
			x.Mend = platform.Mending{Entries: []edit.Entry{{File: path.Join(s.Dir, t.InfoPlists[0]), Syntax: xmldoc.List{}.Name(), Place: edit.Place{Kind: xmldoc.KindArray, Name: KeyFonts}, Value: name}}}
		}
		out = append(out, x)
	}
	return out
}

// folderFlaws are those of a Mac's app, whose list is a folder of its resources.
func (s *site) folderFlaws(t xcode.BuildTarget, built map[string]string) ([]platform.Flaw, error) {
	if len(built) == 0 {
		return nil, nil
	}
	first := slices.Sorted(maps.Keys(built))[0]
	if registered(s.Tree, s.Dir, []string{built[first]})[built[first]] {
		return nil, nil
	}
	for _, p := range t.InfoPlists {
		doc, values, lines, err := s.listed(p)
		if err != nil {
			return nil, err
		}
		folder, line, err := xmldoc.String(doc, KeyFolder)
		if err != nil {
			return nil, err
		}
		if folder == "" && len(values) > 0 {
			return []platform.Flaw{{Kind: platform.OutOfPlace, File: doc.File, Line: lines[0], Message: fmt.Sprintf("%s is for iOS and its kin; the Mac reads %s", KeyFonts, KeyFolder),
				Cause: "the Mac's system passes the list over", Cure: fmt.Sprintf("write %s with the fonts' folder in the bundle's Resources, \".\" for Resources itself", KeyFolder)}}, nil
		}
		clean := path.Clean(folder)
		if folder != "" && !slices.ContainsFunc(slices.Collect(maps.Keys(built)), func(at string) bool { return path.Dir(at) == clean || strings.HasPrefix(at, clean+"/") || clean == "." }) {
			right := path.Dir(first)
			return []platform.Flaw{{Kind: platform.NoSuchFile, File: doc.File, Line: line, Message: fmt.Sprintf("no font of the app is in the folder %s of its Resources", face.Short(folder)),
				Cause: "files of a group are at the root of Resources, those of a folder reference in that folder", Cure: platform.Choose(right, nil), Mend: platform.OnLine(doc.File, doc.Text, line, folder, right)}}, nil
		}
		if folder != "" {
			return nil, nil
		}
	}
	return []platform.Flaw{{Kind: platform.NotNamed, File: built[first], Subject: built[first], Message: fmt.Sprintf("the target %s builds %s in, and its Info.plist has no %s", face.Short(t.Name), path.Base(first), KeyFolder),
		Cause: "the Mac's system loads only fonts of the folder that this key names", Cure: fmt.Sprintf("write %s with the folder %s, or enrol the file and register it", KeyFolder, path.Dir(first))}}, nil
}

// built are the fonts that a target builds in, by their path in the bundle.
func (s *site) built(t xcode.BuildTarget) map[string]string {
	out := map[string]string{}
	add := func(f string) {
		if !platform.IsFont(f) || len(out) > mostLooked {
			return
		}
		at := platform.Spelled(s.Tree, path.Join(s.Dir, f))
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
		if rel := s.from(f); platform.IsFont(f) && !takes(t, rel) && s.anyTakes(rel) && s.project.Excepted(t.Name, rel) {
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
