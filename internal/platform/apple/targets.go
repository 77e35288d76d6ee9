package apple

import (
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/face"
	"notaria/internal/platform"
	"notaria/internal/platform/apple/xcode"
)

// settle finds the Info.plist files of the targets, and drops the targets that cannot be served:
// the errors say why. A target that builds nothing itself, as a container does, is passed
// over, and so is one that was left behind.
func (s *site) settle() (wrong []error) {
	var kept []xcode.BuildTarget
	var stale []error // of targets that were left behind
	shell := s.Tree.Claim(platform.Folder(s.Dir)) == platform.Parts
	for _, t := range s.targets {
		named := t.InfoPlists
		t.InfoPlists = s.real(named)
		if slices.Contains(t.InfoPlists, partial(t)) {
			t.InfoPlists = nil // ours: the build still makes the rest
		}
		refuse := func(expected, found, cure string) {
			err := platform.Refuse(s.file, expected, found, cure+", or leave the target out: targets = [\"…\"] under [target.apple] names those that are served")
			if len(t.InfoPlists) == 0 && !t.Generated && s.stale(t) {
				stale = append(stale, err)
				return
			}
			wrong = append(wrong, err)
		}
		old, since := unservable(t)
		if shell {
			old = "" // it gets no code
		}
		switch {
		case !t.Copies && !t.Compiles && len(t.Synchronized) == 0:
		case old != "":
			refuse(fmt.Sprintf("a deployment target of %s or later in the target %q", since, face.Short(t.Name)), old, "raise the deployment target")
		case len(t.InfoPlists) == 0 && !t.Generated && len(named) > 0 && strings.HasPrefix(path.Join(s.Dir, named[0]), "../"):
			refuse(fmt.Sprintf("the Info.plist file of the target %q inside the project's folder", face.Short(t.Name)), fmt.Sprintf("INFOPLIST_FILE = %s, which is outside of it", face.Short(named[0])), "name a folder that holds both with --project")
		case len(t.InfoPlists) == 0 && !t.Generated && len(named) > 0:
			refuse(fmt.Sprintf("an Info.plist file for the target %q", face.Short(t.Name)), fmt.Sprintf("INFOPLIST_FILE = %s, which is not there", face.Short(named[0])), "correct INFOPLIST_FILE, or set GENERATE_INFOPLIST_FILE to YES")
		case len(t.InfoPlists) == 0 && !t.Generated:
			refuse(fmt.Sprintf("an Info.plist file for the target %q", face.Short(t.Name)), "no INFOPLIST_FILE", "set GENERATE_INFOPLIST_FILE to YES")
		case !t.Copies && len(t.Synchronized) == 0:
			refuse(fmt.Sprintf("a Copy Bundle Resources phase in the target %q", face.Short(t.Name)), "none", "add the build phase in the project editor")
		default:
			kept = append(kept, t)
		}
	}
	if s.targets = kept; !slices.ContainsFunc(kept, func(t xcode.BuildTarget) bool { return !t.Extension }) {
		wrong = append(wrong, stale...) // nothing else of the app is there
	}
	return wrong
}

// mostLooked is how many files of a target are looked for.
const mostLooked = 500

// stale says whether nothing that a target builds is there any more: it was left behind in the
// project file, and cannot be built.
func (s *site) stale(t xcode.BuildTarget) bool {
	files, _ := xcode.Resources(s.project, t)
	files = append(append(slices.Clone(t.Synchronized), t.Sources...), files...)
	return !slices.ContainsFunc(files[:min(len(files), mostLooked)], func(f string) bool {
		at := platform.Spelled(s.Tree, path.Join(s.Dir, f))
		return slices.Contains(s.Tree.Named(path.Base(at)), at) || len(s.Tree.Under(at)) > 0
	})
}

// choose keeps the targets of a list, if there is one. Names are for all projects: a project of
// which none is named gets nothing.
func (s *site) choose(names []string) {
	if len(names) > 0 {
		s.targets = slices.DeleteFunc(s.targets, func(t xcode.BuildTarget) bool { return !slices.Contains(names, t.Name) })
	}
}

// language finds what each target is written in. Swift is for those alone that have it already:
// its first file changes how a target is built.
func (s *site) language(chosen string) error {
	s.swift, s.objc = map[string]bool{}, map[string]bool{}
	// The code of a React Native app is of neither, whatever its shell is.
	if s.Tree.Claim(platform.Folder(s.Dir)) == platform.Parts {
		return nil
	}
	projectSwift, projectObjC := written(s.Tree.Under(s.Dir))
	for _, t := range s.targets {
		if !t.Compiles && len(t.Synchronized) == 0 {
			continue // resources alone, as a watch app of storyboards has
		}
		swift, objc := s.writtenIn(t)
		if !swift && !objc { // its sources are elsewhere
			swift = t.Swift || projectSwift
			objc = !swift && projectObjC
		}
		var err error
		if s.swift[t.Name], s.objc[t.Name], err = spoken(s.Path(), chosen, swift, objc); err != nil {
			return err
		}
	}
	return nil
}

// spoken is what code is written in: as the project chose, else as its sources are, in Swift where
// they are in both.
func spoken(site, chosen string, swift, objc bool) (bool, bool, error) {
	switch chosen {
	case "swift":
		return true, false, nil
	case "objective-c":
		return false, true, nil
	case "both":
		return true, true, nil
	case "":
		return swift, objc && !swift, nil
	}
	return false, false, platform.Refuse(site, "swift, objective-c or both as code", fmt.Sprintf("%q", chosen), "correct it under [target.apple] in notaria.toml")
}

// writtenIn says which of the two languages a target's sources are in.
func (s *site) writtenIn(t xcode.BuildTarget) (swift, objc bool) {
	files := slices.Clone(t.Sources)
	for _, dir := range t.Synchronized {
		files = append(files, s.Tree.Under(path.Join(s.Dir, dir))...)
	}
	return written(files)
}

func written(files []string) (swift, objc bool) {
	for _, f := range files {
		base := path.Base(f)
		swift = swift || path.Ext(f) == ".swift" && base != swiftFile && base != "Package.swift"
		objc = objc || (path.Ext(f) == ".m" || path.Ext(f) == ".mm") && base != objcFile
	}
	return swift, objc
}

// real keeps the Info.plist paths that lead to files of the tree; a name that differs from the
// file's by capitals leads to it on the disks of most Macs.
func (s *site) real(list []string) []string {
	var out []string
	for _, p := range list {
		at := platform.Spelled(s.Tree, path.Join(s.Dir, p))
		if rel := platform.Relative(s.Dir, at); slices.Contains(s.Tree.Named(path.Base(at)), at) && !slices.Contains(out, rel) {
			out = append(out, rel)
		}
	}
	return out
}
