package apple

import (
	"path"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/language"
	"notaria/internal/target"
	"notaria/internal/target/apple/xcode"
)

// packageSite is one target of a Swift package. A package has no Info.plist: its
// fonts are resources, made known to the system when they are first asked for.
type packageSite struct {
	target.Base        // of the target's sources
	file        string // Package.swift
	dir         string // of the package
	target      xcode.PackageTarget
	fonts       string // folder of the fonts, from the target's
}

// packageSites finds the Swift packages that draw text. One that belongs to an
// Xcode project is served by that, unless it is named.
func packageSites(found *target.Found, tree target.Tree, opt target.Options, roots []string) {
	for _, file := range tree.Named("Package.swift") {
		dir := target.Folder(file)
		inProject := slices.ContainsFunc(roots, func(r string) bool { return r == "" || r == dir || strings.HasPrefix(dir, r+"/") })
		if inProject && !slices.Contains(opt.List("packages"), path.Dir(file)) || !drawsText(tree, dir) {
			continue
		}
		doc, err := target.ReadDocument(tree, file)
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
			at := path.Join(dir, t.Path)
			if slices.Contains(opt.List(target.LeaveOut), at) {
				continue
			}
			if chosen := opt.List("targets"); len(chosen) > 0 && !slices.Contains(chosen, t.Name) || !drawsText(tree, at) {
				continue
			}
			found.Add(at, newPackage(tree, file, at, t), nil)
			if len(opt.List("targets")) == 0 {
				break // the others can use this one's
			}
		}
	}
}

func newPackage(tree target.Tree, file, at string, t xcode.PackageTarget) *packageSite {
	s := &packageSite{Base: target.Base{Tree: tree, Dir: at}, file: file, dir: target.Folder(file), target: t, fonts: typeFolder}
	for _, r := range t.Processed {
		if len(tree.Under(path.Join(at, r))) > 0 {
			s.fonts = r
			break
		}
	}
	return s
}

// drawsText says whether sources use one of the kits that draw.
func drawsText(tree target.Tree, dir string) bool {
	for _, f := range tree.Under(dir) {
		if path.Ext(f) != ".swift" || path.Base(f) == swiftFile {
			continue
		}
		src, err := tree.Read(f)
		if err != nil {
			continue
		}
		text := string(language.Swift.Blank(src))
		for _, kit := range []string{"SwiftUI", "UIKit", "AppKit"} {
			if strings.Contains(text, "import "+kit) {
				return true
			}
		}
	}
	return false
}

func (s *packageSite) Title() string { return "Apple " + s.Path() }

func (s *packageSite) Next() string { return "build the package and the apps that use it again" }

func (s *packageSite) place(job target.Job, f target.Face) string {
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
func (s *packageSite) Plan(job target.Job) (target.Plan, error) {
	if err := allNamed(s.Path(), job); err != nil {
		return target.Plan{}, err
	}
	p := target.Plan{Files: job.CopiesAt(func(f target.Face) string { return s.place(job, f) }), Short: swiftShortfalls(job)}
	if len(job.Faces) > 0 {
		p.Entries = []edit.Entry{{File: s.file, Syntax: xcode.Package{}.Name(), Place: edit.Place{Kind: xcode.KindResources, Name: s.target.Name}, Value: s.fonts}}
	}
	if len(job.Roles) == 0 {
		return p, nil
	}
	data := newCode(job, true, true)
	data.Public, data.Package = "public ", true
	for _, f := range p.Files {
		data.Files = append(data.Files, language.Swift.Literal(path.Base(f.Path)))
	}
	text, err := target.Render(templates, swiftFile+".tmpl", data)
	p.Code = []target.File{target.Code(path.Join(s.Path(), swiftFile), text)}
	return p, err
}

// Held lists the fonts in folders that the target processes.
func (s *packageSite) Held() ([]target.Held, error) {
	var out []target.Held
	for _, r := range s.target.Processed {
		for _, f := range s.Tree.Under(path.Join(s.Path(), r)) {
			if target.IsFont(f) {
				out = append(out, target.Held{Manifest: s.file, Line: s.target.Line, Value: ".process(\"" + r + "\")", File: f})
			}
		}
	}
	return out, nil
}

// Uses are those of Apple's apps, in the package.
func (s *packageSite) Uses() (string, []target.Use) { return s.Dir, uses }

// Answer goes by PostScript names.
func (s *packageSite) Answer(q target.Question) target.Answer { return target.AnswerFace(q) }
