package apple

import (
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/apple/xcode"
)

// packageSite is one target of a Swift package. A package has no Info.plist: its
// fonts are resources, made known to the system when they are first asked for.
type packageSite struct {
	platform.Base        // of the target's sources
	file          string // Package.swift
	target        xcode.PackageTarget
	code          string                   // folder of our code, from the target's; "" for that itself
	fonts         string                   // folder of the fonts, from the target's
	systems       map[string]xcode.Version // the oldest, by SDK; none where the package does not tell
}

// packageSites finds the Swift packages that draw text. One that belongs to an
// Xcode project is served by that, unless it is named.
func packageSites(found *platform.Found, tree platform.Tree, opt platform.Options, roots []string, known map[string]bool) {
	for _, file := range tree.Named("Package.swift") {
		dir := platform.Folder(file)
		inProject := slices.ContainsFunc(roots, func(r string) bool { return r == "" || r == dir || strings.HasPrefix(dir, r+"/") })
		if inProject && !slices.Contains(opt.List("packages"), path.Dir(file)) {
			continue
		}
		doc, err := platform.ReadDocument(tree, file)
		if err != nil {
			found.Add(path.Dir(file), nil, err)
			continue
		}
		all, err := xcode.PackageTargets(doc)
		if err != nil {
			found.Add(path.Dir(file), nil, err)
			continue
		}
		for _, t := range all {
			known[t.Name] = true
			at := path.Join(dir, sourcesOf(tree, dir, t, len(all) == 1))
			if slices.Contains(opt.List(platform.LeaveOut), at) {
				continue
			}
			if chosen := opt.List("targets"); len(chosen) > 0 && !slices.Contains(chosen, t.Name) || !drawsText(tree, at, t) {
				continue
			}
			s, err := newPackage(tree, doc, at, t)
			found.Add(at, s, err)
			if len(opt.List("targets")) == 0 {
				break // the others can use this one's
			}
		}
	}
}

// sourcesOf is the folder of a target's sources: the one that it names, or the usual one (Swift
// Package Manager, "Target", path); that of the only target can be Sources itself.
func sourcesOf(tree platform.Tree, dir string, t xcode.PackageTarget, only bool) string {
	if t.Path != "" {
		return t.Path
	}
	for _, usual := range []string{"Sources", "Source", "src", "srcs"} {
		if at := path.Join(usual, t.Name); len(tree.Under(path.Join(dir, at))) > 0 {
			return at
		}
	}
	if only && len(tree.Under(path.Join(dir, "Sources"))) > 0 {
		return "Sources"
	}
	return "Sources/" + t.Name
}

// newPackage finds the places of our code and of the fonts in a target: where it builds sources,
// and where it does not leave files out.
func newPackage(tree platform.Tree, doc edit.Document, at string, t xcode.PackageTarget) (platform.Site, error) {
	s := &packageSite{Base: platform.Base{Tree: tree, Dir: at}, file: doc.File, target: t, systems: xcode.PackageSystems(doc)}
	for _, folder := range append([]string{""}, t.Sources...) {
		if t.Builds(path.Join(folder, swiftFile)) && path.Ext(folder) == "" {
			s.code = folder
			break
		}
	}
	if !t.Builds(path.Join(s.code, swiftFile)) {
		return nil, platform.Refuse(doc.File, fmt.Sprintf("a folder among the sources of the target %q, for %s", t.Name, swiftFile), "files alone, or one that is excluded",
			fmt.Sprintf("add %q to its sources: [...], or take it out of exclude: [...]", swiftFile))
	}
	for _, r := range t.Processed {
		if len(tree.Under(path.Join(at, r))) > 0 && !slices.Contains(t.Exclude, path.Clean(r)) {
			s.fonts = r
			return s, nil
		}
	}
	for _, free := range []string{typeFolder, "App" + typeFolder, "App" + typeFolder + "Fonts"} {
		if !slices.Contains(t.Exclude, free) && platform.Spelled(tree, path.Join(at, free)) == path.Join(at, free) {
			s.fonts = free
			break
		}
	}
	return s, nil
}

// appEntry is what begins a program with windows.
var appEntry = lazy.Regexp(`:\s*(?:SwiftUI\.)?App\b|\b(?:NS|UI)Application(?:Main)?\b`)

// drawsText says whether the sources of a target use one of the kits that draw; those of a program
// must be an app's, for a tool has no text to draw.
func drawsText(tree platform.Tree, dir string, t xcode.PackageTarget) bool {
	draws, app := false, !t.Executable
	for _, f := range tree.Under(dir) {
		rel, _ := platform.Below(dir, f)
		if path.Ext(f) != ".swift" || path.Base(f) == swiftFile || !t.Builds(rel) {
			continue
		}
		src, err := tree.Read(f)
		if err != nil {
			continue
		}
		text := language.Swift.Blank(src)
		draws = draws || drawingKit.Match(text)
		app = app || appEntry.Match(text)
		if draws && app {
			return true
		}
	}
	return false
}

var drawingKit = lazy.Regexp(`\bimport\s+(?:SwiftUI|UIKit|AppKit)\b`)

func (s *packageSite) Title() string { return "Apple " + s.Path() }

func (s *packageSite) place(job platform.Job, f platform.Face) string {
	at, ok := job.At(f, func(p string) bool {
		return slices.ContainsFunc(s.target.Processed, func(r string) bool { return strings.HasPrefix(p, path.Join(s.Path(), r)+"/") })
	})
	if ok {
		return at
	}
	return path.Join(s.Path(), s.fonts, f.Base())
}

// Plan is each face among the resources, the folder of the fonts in the manifest, and
// AppType.swift with all that another module may use made public.
func (s *packageSite) Plan(job platform.Job) (platform.Plan, error) {
	if err := allNamed(s.Path(), job); err != nil {
		return platform.Plan{}, err
	}
	p := platform.Plan{Next: "build the package and the apps that use it again", Answer: s.answer, Files: job.CopiesAt(func(f platform.Face) string { return s.place(job, f) }), Short: swiftShortfalls(job)}
	if len(job.Faces) > 0 {
		p.Entries = []edit.Entry{{File: s.file, Syntax: xcode.Package{}.Name(), Place: edit.Place{Kind: xcode.KindResources, Name: s.target.Name}, Value: s.fonts}}
	}
	if len(job.Roles) == 0 {
		return p, nil
	}
	p.Show = shows(job, s.Base, true, false, false)
	data := newCode(job, true, true)
	data.Public, data.Package = "public ", true
	for _, f := range p.Files {
		data.Files = append(data.Files, language.Swift.Literal(s.inBundle(f.Path)))
	}
	systems := s.systems
	if len(systems) == 0 {
		systems = oldestOfAll
	}
	data.serve(systems, false)
	text, err := platform.Render(templates, swiftFile+".tmpl", data)
	p.Code = []platform.File{platform.Code(path.Join(s.Path(), s.code, swiftFile), text)}
	return p, err
}

// oldestOfAll are what a package is built for that names no platforms: the tools' own oldest.
var oldestOfAll = map[string]xcode.Version{"iphoneos": {Major: 9}, "macosx": {Major: 10, Minor: 13}, "appletvos": {Major: 9}, "watchos": {Major: 2}}

// inBundle is a font's path from the root of the module's bundle: what is processed is at the
// root, what is copied keeps its folder.
func (s *packageSite) inBundle(file string) string {
	for _, r := range s.target.Copied {
		if rest, ok := strings.CutPrefix(file, path.Join(s.Path(), r)+"/"); ok {
			return path.Join(path.Base(r), rest)
		}
	}
	return path.Base(file)
}

// Held lists the fonts in folders that the target processes.
func (s *packageSite) Held() ([]platform.Held, error) {
	var out []platform.Held
	for _, r := range s.target.Processed {
		for _, f := range s.Tree.Under(path.Join(s.Path(), r)) {
			if platform.IsFont(f) {
				out = append(out, platform.Held{Manifest: s.file, Line: s.target.Line, Value: ".process(\"" + r + "\")", File: f})
			}
		}
	}
	return out, nil
}

// Flaws are fonts of the target that its resources do not take in, or that nothing makes known when the
// app runs: a package has no Info.plist.
func (s *packageSite) Flaws([]platform.Face) ([]platform.Flaw, error) {
	var out []platform.Flaw
	fonts := slices.DeleteFunc(slices.Clone(s.Tree.Under(s.Dir)), func(f string) bool { return !platform.IsFont(f) || platform.IsTest(f) })
	known := registered(s.Tree, s.Dir, fonts)
	if slices.ContainsFunc(fonts, func(f string) bool { return !known[f] }) { // an app of the project can do it, too
		known = registered(s.Tree, "", fonts)
	}
	for _, f := range fonts {
		rel, _ := s.Rel(f)
		taken := slices.ContainsFunc(s.target.Processed, func(r string) bool { return rel == path.Clean(r) || strings.HasPrefix(rel, path.Clean(r)+"/") })
		switch {
		case !taken:
			out = append(out, platform.Flaw{Kind: platform.NotBuilt, File: f, Subject: f, Message: fmt.Sprintf("no resources: of the target %s take %s in", face.Short(s.target.Name), rel),
				Cause: "the build passes the file over, and says so in a warning alone", Cure: fmt.Sprintf(`write resources: [.process(%q)] into the target in Package.swift, or enrol the font and register it`, path.Dir(rel))})
		case !known[f]:
			out = append(out, platform.Flaw{Kind: platform.NotNamed, File: f, Subject: f, Message: fmt.Sprintf("nothing makes %s known when the app runs", path.Base(f)),
				Cause: "a package has no Info.plist: its fonts are known only after CTFontManagerRegisterFontURLs", Cure: "register it from Bundle.module when the app starts, or enrol it and register it"})
		}
	}
	return out, nil
}
