// Package apple serves the apps of Apple's platforms. For an Xcode project: font
// files in a group of the project and in the resources phase of each app and
// extension, their paths in Info.plist, and code that loads them by PostScript
// name. For a Swift package: font files among its resources, and code that makes
// them known at run time.
package apple

import (
	"errors"
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/face"
	"notaria/internal/target"
)

// KeyFonts is the list of an app's own fonts in its Info.plist: paths from the
// root of the bundle's resources, with extension. KeyFolder is the Mac's: one
// folder of the bundle's resources in which all fonts lie.
const (
	KeyFonts  = "UIAppFonts"
	KeyFolder = "ATSApplicationFontsPath"
)

// typeFolder is the folder, beside the app's sources, for all that Notaria adds.
const typeFolder = "Type"

// Generated files in that folder.
const (
	swiftFile  = "AppType.swift"
	headerFile = "AppType.h"
	objcFile   = "AppType.m"
)

const macSDK = "macosx"

// Target is the Apple platform.
type Target struct{}

// About describes the platform.
func (Target) About() target.About {
	return target.About{
		Name: "apple", Title: "Apple", Typed: `UIFont(name: "…", size: 17), NSFont and Font.custom("…", size: 17)`,
		Minimum: "iOS and iPadOS 14, macOS 11, tvOS 14, watchOS 7, visionOS; an Xcode project of objectVersion 46 to 77, or a Swift package of tools 5.3",
		Cannot:  []string{"Mac fonts by a copy-files phase of their own (use a folder reference)", "an outline and narrow lines in SwiftUI (use the attributes)"},
		Options: []target.Option{
			{Key: "targets", Kind: "list", Help: "the app and extension targets, or the targets of a Swift package, that get the fonts; all, if it is not set"},
			{Key: "code", Kind: "word", Help: "swift, objective-c or both; by the sources, if it is not set"},
			{Key: "packages", Kind: "list", Help: "folders of Swift packages that are served though they belong to an Xcode project"},
		},
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

// site is one Xcode project with at least one app.
type site struct {
	tree    target.Tree
	project *edit.Project
	file    string // project.pbxproj
	root    string // the folder that the project's paths start from
	folder  string // where our code goes, from root
	fonts   string // where our fonts go, from root
	targets []edit.BuildTarget
	macPath map[string]string // what a Mac target says under KeyFolder
	swift   bool
	objc    bool
}

// Sites finds the Xcode projects that build apps, and the Swift packages that
// draw text.
func (Target) Sites(tree target.Tree, opt target.Options) ([]target.Site, error) {
	var out []target.Site
	var roots []string
	var wrong []error
	for _, file := range tree.Named("project.pbxproj") {
		if opt.LeftOut(path.Dir(file)) {
			continue
		}
		s, err := newSite(tree, file, opt)
		if err != nil {
			wrong = append(wrong, err)
			continue
		}
		if s != nil {
			out = append(out, s)
			roots = append(roots, s.root)
		}
	}
	packages, err := packageSites(tree, opt, roots)
	return append(out, packages...), errors.Join(append(wrong, err)...)
}

func newSite(tree target.Tree, file string, opt target.Options) (*site, error) {
	doc, err := tree.Read(file)
	if err != nil {
		return nil, err
	}
	p, err := edit.ParseProject(file, doc)
	if err != nil {
		return nil, err
	}
	s := &site{tree: tree, project: p, file: file, root: target.Folder(path.Dir(file)), macPath: map[string]string{}}
	s.targets = p.Targets()
	if !slices.ContainsFunc(s.targets, func(t edit.BuildTarget) bool { return !t.Extension }) || generatedBy(tree, path.Dir(s.root)) {
		return nil, nil
	}
	if err := s.choose(opt.List("targets")); err != nil {
		return nil, err
	}
	if len(s.targets) == 0 {
		return nil, nil
	}
	for i, t := range s.targets {
		t = s.configured(t)
		s.targets[i] = t
		s.targets[i].InfoPlists = s.real(t.InfoPlists)
		if slices.Contains(t.InfoPlists, partial(t)) {
			s.targets[i].InfoPlists = nil // ours: the build still makes the rest
		}
	}
	s.folder = s.typeFolder()
	if err := s.fontFolder(); err != nil {
		return nil, err
	}
	return s, s.language(opt.Word("code"))
}

// generatedBy says whether a project is the native part of an app that brings its
// fonts in another way.
func generatedBy(tree target.Tree, app string) bool {
	return target.UsesExpo(tree, app) || target.UsesFlutter(tree, app)
}

// choose keeps the targets of a list, if there is one.
func (s *site) choose(names []string) error {
	if len(names) == 0 {
		return nil
	}
	s.targets = slices.DeleteFunc(s.targets, func(t edit.BuildTarget) bool { return !slices.Contains(names, t.Name) })
	return nil
}

// language finds what the app is written in.
func (s *site) language(chosen string) error {
	switch chosen {
	case "swift":
		s.swift = true
	case "objective-c":
		s.objc = true
	case "both":
		s.swift, s.objc = true, true
	case "":
		for _, f := range s.tree.Under(s.root) {
			base := path.Base(f)
			s.swift = s.swift || path.Ext(f) == ".swift" && base != swiftFile && base != "Package.swift"
			s.objc = s.objc || (path.Ext(f) == ".m" || path.Ext(f) == ".mm") && base != objcFile
		}
		s.objc = s.objc && !s.swift
	default:
		return &target.SiteError{Site: s.Title(), Expected: "swift, objective-c or both as code", Found: fmt.Sprintf("%q", chosen), Cure: "correct it under [target.apple] in notaria.toml"}
	}
	// The code of a React Native app is of neither, whatever its shell is.
	if target.UsesReactNative(s.tree, path.Dir(s.root)) {
		s.swift, s.objc = false, false
	}
	return nil
}

// real keeps the Info.plist paths that lead to files of the tree.
func (s *site) real(list []string) []string {
	var out []string
	for _, p := range list {
		if at := path.Join(s.root, p); slices.Contains(s.tree.Named(path.Base(p)), at) {
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

// typeFolder puts our folder beside the first app's Info.plist or its sources.
func (s *site) typeFolder() string {
	list := slices.Clone(s.targets)
	slices.SortStableFunc(list, func(a, b edit.BuildTarget) int {
		switch {
		case a.Extension == b.Extension:
			return 0
		case a.Extension:
			return 1
		}
		return -1
	})
	for _, t := range list {
		for _, dir := range t.Synchronized {
			return path.Join(dir, typeFolder)
		}
		for _, p := range t.InfoPlists {
			return path.Join(target.Folder(p), typeFolder)
		}
	}
	if name := list[0].Name; len(s.tree.Under(path.Join(s.root, name))) > 0 {
		return path.Join(name, typeFolder)
	}
	return typeFolder
}

// fontFolder puts the fonts beside our code, unless the project has a folder of
// fonts that is copied whole.
func (s *site) fontFolder() error {
	s.fonts = s.folder
	for _, t := range s.targets {
		for _, dir := range t.Folders {
			if slices.ContainsFunc(s.tree.Under(path.Join(s.root, dir)), target.IsFont) {
				s.fonts = dir
			}
		}
		for _, p := range t.InfoPlists {
			at := path.Join(s.root, p)
			doc, err := s.tree.Read(at)
			if err != nil {
				return err
			}
			value, _, err := edit.PlistString(at, doc, KeyFolder)
			if err != nil {
				return err
			}
			s.macPath[t.Name] = strings.TrimSuffix(value, "/")
		}
	}
	return nil
}

func (s *site) Path() string { return path.Dir(s.file) }

func (s *site) Title() string { return "Apple " + s.Path() }

func (s *site) Next() string {
	return "build the app again in Xcode; if it runs already, delete it from the device first, for old bundles are kept"
}

func base(f target.Face) string { return target.FileBase(f.ID()) + f.Ext }

// place is where a face lies, from the project's folder: where somebody's hand
// put it, if the project takes it from there, else where ours go.
func (s *site) place(job target.Job, f target.Face) string {
	at, ok := job.At(f, func(p string) bool {
		rel, inside := s.rel(p)
		return inside && (s.project.Has(rel) || s.whole(rel) != "" || s.anyTakes(rel))
	})
	if rel, inside := s.rel(at); ok && inside {
		return rel
	}
	return path.Join(s.fonts, base(f))
}

// rel is a path of the tree as the project writes it.
func (s *site) rel(p string) (string, bool) {
	return target.Below(s.root, p)
}

// whole finds the folder reference that a file lies in, or "".
func (s *site) whole(rel string) string {
	for _, t := range s.targets {
		for _, dir := range t.Folders {
			if strings.HasPrefix(rel, dir+"/") {
				return dir
			}
		}
	}
	return ""
}

// inBundle is a file's path from the root of the bundle's resources: the files of
// a group land at the root, those of a folder reference keep their folder.
func (s *site) inBundle(rel string) string {
	if dir := s.whole(rel); dir != "" {
		return path.Base(dir) + rel[len(dir):]
	}
	return path.Base(rel)
}

// takes says whether a target takes a file in without any mention of it.
func takes(t edit.BuildTarget, rel string) bool {
	return slices.ContainsFunc(t.Synchronized, func(dir string) bool { return strings.HasPrefix(rel, dir+"/") })
}

// anyTakes says whether some target does.
func (s *site) anyTakes(rel string) bool {
	return slices.ContainsFunc(s.targets, func(t edit.BuildTarget) bool { return takes(t, rel) })
}

// Files wants each face once, under its PostScript name.
func (s *site) Files(job target.Job) ([]target.File, error) {
	var out []target.File
	for _, f := range job.Faces {
		if f.PostScript == "" {
			return nil, noPostScript(s.Title(), f)
		}
		out = append(out, target.File{Path: path.Join(s.root, s.place(job, f)), Copy: f.ID()})
	}
	return out, nil
}

func noPostScript(title string, f target.Face) error {
	return &target.SiteError{Site: title, Expected: "a PostScript name in each face", Found: fmt.Sprintf("none in %q", face.Short(f.Full)), Cure: "strike that face, and enrol it again with --mend-names"}
}

// Entries wants each file in Info.plist and in the resources phase, and the
// generated code in the sources phase, for every app and extension.
func (s *site) Entries(job target.Job) ([]edit.Entry, error) {
	if len(job.Faces) == 0 {
		return nil, nil
	}
	var out []edit.Entry
	for _, t := range s.targets {
		list, err := s.manifestEntries(t, job)
		if err != nil {
			return nil, err
		}
		out = append(out, list...)
		for _, f := range job.Faces {
			out = s.build(out, t, "resources", s.place(job, f))
		}
		if len(job.Roles) == 0 {
			continue
		}
		if s.swift {
			out = s.build(out, t, "sources", path.Join(s.folder, swiftFile))
		}
		if s.objc {
			out = s.build(out, t, "reference", path.Join(s.folder, headerFile))
			out = s.build(out, t, "sources", path.Join(s.folder, objcFile))
		}
	}
	return unique(out), nil
}

// unique drops entries that are there already, such as a header that two targets
// refer to.
func unique(list []edit.Entry) []edit.Entry {
	seen := map[string]bool{}
	return slices.DeleteFunc(list, func(e edit.Entry) bool {
		was := seen[e.Key()]
		seen[e.Key()] = true
		return was
	})
}

// build wants a file in a target, in the way that the project has for its place.
func (s *site) build(out []edit.Entry, t edit.BuildTarget, kind, rel string) []edit.Entry {
	entry := func(kind, value string) []edit.Entry {
		return append(out, edit.Entry{File: s.file, Syntax: edit.SyntaxProject, Place: kind + ":" + t.Name, Value: value})
	}
	dir := s.whole(rel)
	switch {
	case takes(t, rel):
		return out
	case dir != "" && slices.Contains(t.Folders, dir):
		return out
	case dir != "":
		return entry("resources", dir)
	case s.anyTakes(rel) && strings.HasSuffix(rel, ".h"):
		return out // headers are found by their folder
	case s.anyTakes(rel):
		return entry("membership", rel)
	}
	return entry(kind, rel)
}

// manifestEntries wants a target's Info.plist to name the fonts.
func (s *site) manifestEntries(t edit.BuildTarget, job target.Job) ([]edit.Entry, error) {
	if len(t.InfoPlists) == 0 && !t.Generated {
		return nil, &target.SiteError{Site: s.Title(), Expected: fmt.Sprintf("an Info.plist file for the target %q", t.Name), Found: "none that is there",
			Cure: "correct INFOPLIST_FILE, or set GENERATE_INFOPLIST_FILE to YES, then register again"}
	}
	folder, err := s.macFolder(t, job)
	if err != nil {
		return nil, err
	}
	var out []edit.Entry
	if len(t.InfoPlists) == 0 {
		out = append(out, edit.Entry{File: s.file, Syntax: edit.SyntaxProject, Place: "setting:" + t.Name, Value: "INFOPLIST_FILE=" + partial(t)})
	}
	for _, plist := range t.InfoPlists {
		if takes(t, plist) { // or the build copies it as a resource, too, and stops
			out = append(out, edit.Entry{File: s.file, Syntax: edit.SyntaxProject, Place: "membership:" + t.Name, Value: plist})
		}
		at := path.Join(s.root, plist)
		for _, f := range job.Faces {
			if touch(t) {
				out = append(out, edit.Entry{File: at, Syntax: edit.SyntaxPlist, Place: KeyFonts, Value: s.inBundle(s.place(job, f))})
			}
		}
		if folder != "" {
			out = append(out, edit.Entry{File: at, Syntax: edit.SyntaxPlist, Place: edit.PlaceString + KeyFolder, Value: folder})
		}
	}
	return out, nil
}

func mac(t edit.BuildTarget) bool { return slices.Contains(t.Platforms, macSDK) }

// touch says whether a target is built for any platform but the Mac.
func touch(t edit.BuildTarget) bool {
	return slices.ContainsFunc(t.Platforms, func(p string) bool { return p != macSDK })
}

// macFolder is the one folder of a Mac target in which all fonts lie, "" for any
// other target.
func (s *site) macFolder(t edit.BuildTarget, job target.Job) (string, error) {
	if !mac(t) {
		return "", nil
	}
	folder := ""
	for i, f := range job.Faces {
		at := path.Dir(s.inBundle(s.place(job, f)))
		if i > 0 && at != folder {
			return "", &target.SiteError{Site: s.Title(), Expected: "all fonts of a Mac app in one folder of its resources", Found: fmt.Sprintf("%q and %q", folder, at),
				Cure: "move them into one group or folder reference, then register again"}
		}
		folder = at
	}
	if have := s.macPath[t.Name]; have != "" && have != folder {
		return "", &target.SiteError{Site: s.Title(), Expected: fmt.Sprintf("%s = %q in the Info.plist of %s, where the fonts land", KeyFolder, folder, t.Name), Found: fmt.Sprintf("%q", have),
			Cure: fmt.Sprintf("put a folder reference %q with a font in it into the resources phase, or write %q there, then register again", have, folder)}
	}
	return folder, nil
}

// Code wants the code in the app's language, and the partial Info.plist of targets
// that have none.
func (s *site) Code(job target.Job) ([]target.File, error) {
	var out []target.File
	for _, t := range s.targets {
		if len(t.InfoPlists) == 0 && t.Generated && len(job.Faces) > 0 {
			folder, err := s.macFolder(t, job)
			if err != nil {
				return nil, err
			}
			out = append(out, target.File{Path: path.Join(s.root, partial(t)), Content: s.partialPlist(job, t, folder)})
		}
	}
	if len(job.Roles) == 0 {
		return out, nil
	}
	data := newCode(job, slices.ContainsFunc(s.targets, mac), slices.ContainsFunc(s.targets, mac) && slices.ContainsFunc(s.targets, touch))
	var names []string
	if s.swift {
		names = append(names, swiftFile)
	}
	if s.objc {
		names = append(names, headerFile, objcFile)
	}
	for _, name := range names {
		d := data
		if s.objc && name != swiftFile {
			d.objectiveC()
		}
		text, err := render(name, d)
		if err != nil {
			return nil, err
		}
		out = append(out, target.File{Path: path.Join(s.root, s.folder, name), Content: text})
	}
	return out, nil
}

// partialPlist names the fonts and nothing else. The names are safe file names.
func (s *site) partialPlist(job target.Job, t edit.BuildTarget, folder string) []byte {
	var b strings.Builder
	b.WriteString(`<?xml version="1.0" encoding="UTF-8"?>
<!DOCTYPE plist PUBLIC "-//Apple//DTD PLIST 1.0//EN" "http://www.apple.com/DTDs/PropertyList-1.0.dtd">
<!-- Code generated by Notaria; DO NOT EDIT. The build merges this with what it makes itself. -->
<plist version="1.0">
<dict>
`)
	if folder != "" {
		b.WriteString("\t<key>" + KeyFolder + "</key>\n\t<string>" + edit.EscapeXML(folder) + "</string>\n")
	}
	if touch(t) {
		b.WriteString("\t<key>" + KeyFonts + "</key>\n\t<array>\n")
		for _, f := range job.Faces {
			b.WriteString("\t\t<string>" + edit.EscapeXML(s.inBundle(s.place(job, f))) + "</string>\n")
		}
		b.WriteString("\t</array>\n")
	}
	b.WriteString("</dict>\n</plist>\n")
	return []byte(b.String())
}

// Shortfalls are what SwiftUI cannot say; the attributes say all.
func (s *site) Shortfalls(job target.Job) []target.Shortfall {
	if !s.swift {
		return nil
	}
	return swiftShortfalls(job)
}

func swiftShortfalls(job target.Job) []target.Shortfall {
	out := target.Shortfalls(job, map[string]string{target.PartOutline: "SwiftUI's Text draws no outline; the attributes of the role do, in attributed text"})
	for _, r := range job.Roles {
		if r.LineHeight > 0 && r.LineHeight < r.NaturalLine() {
			out = append(out, target.Shortfall{Role: r.Name, Part: target.PartLine,
				Why: fmt.Sprintf("SwiftUI's Text keeps the face's own %s at least; the attributes of the role do not", target.Number(r.NaturalLine()))})
		}
	}
	return out
}

// Held lists the fonts in every Info.plist and resources phase.
func (s *site) Held() ([]target.Held, error) {
	var out []target.Held
	for _, t := range s.targets {
		files, lines := s.project.Resources(t.Name)
		for i, f := range files {
			if target.IsFont(f) {
				out = append(out, target.Held{Manifest: s.file, Line: lines[i], Value: "resources of " + t.Name + ": " + f, File: path.Join(s.root, f)})
			}
		}
		for _, p := range t.InfoPlists {
			at := path.Join(s.root, p)
			doc, err := s.tree.Read(at)
			if err != nil {
				return nil, err
			}
			values, lines, err := edit.PlistArray(at, doc, KeyFonts)
			if err != nil {
				return nil, err
			}
			for i, v := range values {
				out = append(out, target.Held{Manifest: at, Line: lines[i], Value: v, File: s.find(files, v)})
			}
		}
	}
	return out, nil
}

// find gives the file that Info.plist means.
func (s *site) find(built []string, value string) string {
	for _, f := range built {
		if path.Base(f) == value {
			return path.Join(s.root, f)
		}
	}
	for _, f := range s.tree.Under(s.root) {
		if rel, ok := s.rel(f); ok && s.inBundle(rel) == value && target.IsFont(f) {
			return f
		}
	}
	return ""
}
