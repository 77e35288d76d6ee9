// Package apple serves iOS apps that are built from an Xcode project: font files
// in a group of the project and in the resources phase of each app target, their
// paths in Info.plist, and a Swift file that loads them by PostScript name.
package apple

import (
	"fmt"
	"path"
	"slices"
	"sort"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/face"
	"notaria/internal/target"
)

// Key is the list of an iOS app's own fonts in its Info.plist: paths from the
// root of the bundle's resources, with extension.
const Key = "UIAppFonts"

// typeFolder is the folder, beside the app's sources, for all that Notaria adds.
const typeFolder = "Type"

// codeFile is the generated Swift file in that folder.
const codeFile = "AppType.swift"

// Target is the Apple platform.
type Target struct{}

// About describes the platform.
func (Target) About() target.About {
	return target.About{
		Name: "apple", Title: "Apple (iOS)", Typed: `UIFont(name: "…", size: 17) and Font.custom("…", size: 17)`,
		Minimum: "iOS 14, Xcode project of objectVersion 46 to 77",
		Cannot:  []string{"binary Info.plist files", "Swift packages", "macOS, tvOS, watchOS", "Objective-C code"},
	}
}

// Type gives the PostScript name, the only name that UIFont and Font.custom
// answer to in every case.
func (Target) Type(faces []face.Face) []string {
	out := make([]string, len(faces))
	for i, f := range faces {
		out[i] = f.PostScript
	}
	return out
}

// site is one Xcode project with at least one iOS app.
type site struct {
	file    string // project.pbxproj
	root    string // the folder that the project's paths start from
	folder  string // where our files go, from root
	targets []edit.BuildTarget
	swift   bool
}

// Sites finds the Xcode projects that build iOS apps.
func (Target) Sites(tree target.Tree) ([]target.Site, error) {
	var out []target.Site
	for _, file := range tree.Named("project.pbxproj") {
		doc, err := tree.Read(file)
		if err != nil {
			return nil, err
		}
		p, err := edit.ParseProject(file, doc)
		if err != nil {
			return nil, err
		}
		s := &site{file: file, root: clean(path.Dir(path.Dir(file)))}
		for _, t := range p.Applications() {
			if t.Platform == "iphoneos" || t.Platform == "" || t.Platform == "auto" {
				s.targets = append(s.targets, t)
			}
		}
		if len(s.targets) == 0 || target.UsesExpo(tree, path.Dir(s.root)) {
			continue
		}
		for i, t := range s.targets {
			s.targets[i].InfoPlists = s.real(tree, t.InfoPlists)
			if slices.Contains(t.InfoPlists, partial(t)) {
				s.targets[i].InfoPlists = nil // ours: the build still makes the rest
			}
		}
		s.folder = s.typeFolder(tree)
		for _, f := range tree.Under(s.root) {
			s.swift = s.swift || path.Ext(f) == ".swift" && path.Base(f) != codeFile
		}
		// The code of a React Native app is not Swift, whatever its shell is.
		s.swift = s.swift && !target.UsesReactNative(tree, path.Dir(s.root))
		out = append(out, s)
	}
	return out, nil
}

func clean(dir string) string {
	if dir == "." {
		return ""
	}
	return dir
}

// real keeps the Info.plist paths that lead to files of the tree.
func (s *site) real(tree target.Tree, list []string) []string {
	var out []string
	for _, p := range list {
		if at := path.Join(s.root, p); slices.Contains(tree.Named(path.Base(p)), at) {
			out = append(out, p)
		}
	}
	return out
}

// partial is the Info.plist that Notaria makes for a target whose build makes
// the rest of it: the build merges the two. It lies beside the project, where no
// folder that is taken in as it is can pick it up as a resource.
func partial(t edit.BuildTarget) string {
	return "AppType-" + target.PlainBase(t.Name) + "-Info.plist"
}

// taken says whether a target takes in our folder as it is, so that its files
// need no mention in the project.
func (s *site) taken(t edit.BuildTarget) bool {
	for _, dir := range t.Synchronized {
		if s.folder == dir || strings.HasPrefix(s.folder, dir+"/") {
			return true
		}
	}
	return false
}

// typeFolder puts our folder beside the app's Info.plist or its sources.
func (s *site) typeFolder(tree target.Tree) string {
	for _, t := range s.targets {
		for _, dir := range t.Synchronized {
			return path.Join(dir, typeFolder)
		}
		for _, p := range t.InfoPlists {
			return path.Join(clean(path.Dir(p)), typeFolder)
		}
	}
	if name := s.targets[0].Name; len(tree.Under(path.Join(s.root, name))) > 0 {
		return path.Join(name, typeFolder)
	}
	return typeFolder
}

func (s *site) Path() string { return path.Dir(s.file) }

func (s *site) Title() string { return "Apple " + s.Path() }

func (s *site) Next() string {
	return "build the app again in Xcode; if it runs already, delete it from the device first, for old bundles are kept"
}

func base(f target.Face) string { return target.FileBase(f.ID()) + f.Ext }

// Files wants each face once, under its PostScript name.
func (s *site) Files(job target.Job) ([]target.File, error) {
	var out []target.File
	for _, f := range job.Faces {
		if f.PostScript == "" {
			return nil, &target.SiteError{Site: s.Title(), Expected: "a PostScript name in each face", Found: fmt.Sprintf("none in %q", face.Short(f.Full)), Cure: "strike that face, and enrol it again with --mend-names"}
		}
		out = append(out, target.File{Path: path.Join(s.root, s.folder, base(f)), Copy: f.ID()})
	}
	return out, nil
}

// Entries wants each file in Info.plist and in the resources phase, and the
// generated code in the sources phase, for every app target.
func (s *site) Entries(job target.Job) ([]edit.Entry, error) {
	if len(job.Faces) == 0 {
		return nil, nil
	}
	var out []edit.Entry
	for _, t := range s.targets {
		if len(t.InfoPlists) == 0 && !t.Generated {
			return nil, &target.SiteError{Site: s.Title(), Expected: fmt.Sprintf("an Info.plist file for the target %q", t.Name), Found: "none that is there",
				Cure: "correct INFOPLIST_FILE, or set GENERATE_INFOPLIST_FILE to YES, then register again"}
		}
		if len(t.InfoPlists) == 0 {
			out = append(out, edit.Entry{File: s.file, Syntax: edit.SyntaxProject, Place: "setting:" + t.Name, Value: "INFOPLIST_FILE=" + partial(t)})
		}
		for _, plist := range t.InfoPlists {
			for _, f := range job.Faces {
				out = append(out, edit.Entry{File: path.Join(s.root, plist), Syntax: edit.SyntaxPlist, Place: Key, Value: base(f)})
			}
		}
		if s.taken(t) {
			continue
		}
		for _, f := range job.Faces {
			out = append(out, edit.Entry{File: s.file, Syntax: edit.SyntaxProject, Place: "resources:" + t.Name, Value: path.Join(s.folder, base(f))})
		}
		if s.swift && len(job.Roles) > 0 {
			out = append(out, edit.Entry{File: s.file, Syntax: edit.SyntaxProject, Place: "sources:" + t.Name, Value: path.Join(s.folder, codeFile)})
		}
	}
	return out, nil
}

// Code wants AppType.swift where the app is written in Swift, and the partial
// Info.plist of targets that have none.
func (s *site) Code(job target.Job) ([]target.File, error) {
	var out []target.File
	for _, t := range s.targets {
		if len(t.InfoPlists) == 0 && t.Generated && len(job.Faces) > 0 {
			out = append(out, target.File{Path: path.Join(s.root, partial(t)), Content: partialPlist(job)})
		}
	}
	if !s.swift || len(job.Roles) == 0 {
		return out, nil
	}
	text, err := swift(job)
	return append(out, target.File{Path: path.Join(s.root, s.folder, codeFile), Content: text}), err
}

// partialPlist names the fonts and nothing else. The names are safe file names.
func partialPlist(job target.Job) []byte {
	var b strings.Builder
	b.WriteString(`<?xml version="1.0" encoding="UTF-8"?>
<!DOCTYPE plist PUBLIC "-//Apple//DTD PLIST 1.0//EN" "http://www.apple.com/DTDs/PropertyList-1.0.dtd">
<!-- Code generated by Notaria; DO NOT EDIT. The build merges this with what it makes itself. -->
<plist version="1.0">
<dict>
	<key>` + Key + `</key>
	<array>
`)
	for _, f := range job.Faces {
		b.WriteString("\t\t<string>" + base(f) + "</string>\n")
	}
	b.WriteString("\t</array>\n</dict>\n</plist>\n")
	return []byte(b.String())
}

// textStyles are Apple's text styles by their size at the standard setting, from
// the Human Interface Guidelines; a role scales along with the nearest.
var textStyles = []struct {
	size        float64
	swift, uiui string
}{
	{11, ".caption2", ".caption2"}, {12, ".caption", ".caption1"}, {13, ".footnote", ".footnote"},
	{15, ".subheadline", ".subheadline"}, {16, ".callout", ".callout"}, {17, ".body", ".body"},
	{20, ".title3", ".title3"}, {22, ".title2", ".title2"}, {28, ".title", ".title1"}, {34, ".largeTitle", ".largeTitle"},
}

// textStyle gives the SwiftUI and UIKit spelling of the nearest text style.
func textStyle(size float64) (swift, uikit string) {
	i := sort.Search(len(textStyles), func(i int) bool { return textStyles[i].size >= size })
	switch {
	case i == len(textStyles):
		i--
	case i > 0 && size-textStyles[i-1].size < textStyles[i].size-size:
		i--
	}
	return textStyles[i].swift, textStyles[i].uiui
}

// literal writes a Swift string literal.
func literal(s string) string { return target.Quoted(s, '"', "", target.Braced) }
