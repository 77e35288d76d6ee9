package apple

import (
	"path"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/target"
)

// packageSite is one target of a Swift package. A package has no Info.plist: its
// fonts are resources, made known to the system when they are first asked for.
type packageSite struct {
	tree   target.Tree
	file   string // Package.swift
	dir    string // of the package
	target edit.PackageTarget
	fonts  string // folder of the fonts, from the target's
}

// packageSites finds the Swift packages that draw text. One that belongs to an
// Xcode project is served by that, unless it is named.
func packageSites(tree target.Tree, opt target.Options, roots []string) ([]target.Site, error) {
	var out []target.Site
	for _, file := range tree.Named("Package.swift") {
		dir := target.Folder(file)
		inProject := slices.ContainsFunc(roots, func(r string) bool { return r == "" || r == dir || strings.HasPrefix(dir, r+"/") })
		if inProject && !slices.Contains(opt.List("packages"), path.Dir(file)) {
			continue
		}
		doc, err := tree.Read(file)
		if err != nil {
			return nil, err
		}
		all, err := edit.PackageTargets(file, doc)
		if err != nil {
			return nil, err
		}
		for _, t := range all {
			if chosen := opt.List("targets"); len(chosen) > 0 && !slices.Contains(chosen, t.Name) || !drawsText(tree, path.Join(dir, t.Path)) {
				continue
			}
			s := &packageSite{tree: tree, file: file, dir: dir, target: t, fonts: typeFolder}
			for _, r := range t.Processed {
				if len(tree.Under(path.Join(dir, t.Path, r))) > 0 {
					s.fonts = r
					break
				}
			}
			out = append(out, s)
			if len(opt.List("targets")) == 0 {
				break // the others can use this one's
			}
		}
	}
	return out, nil
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
		text := string(edit.BlankComments(src))
		for _, kit := range []string{"SwiftUI", "UIKit", "AppKit"} {
			if strings.Contains(text, "import "+kit) {
				return true
			}
		}
	}
	return false
}

func (s *packageSite) Path() string { return path.Join(s.dir, s.target.Path) }

func (s *packageSite) Title() string { return "Apple " + s.Path() }

func (s *packageSite) Next() string { return "build the package and the apps that use it again" }

func (s *packageSite) place(job target.Job, f target.Face) string {
	at, ok := job.At(f, func(p string) bool {
		return slices.ContainsFunc(s.target.Processed, func(r string) bool { return strings.HasPrefix(p, path.Join(s.Path(), r)+"/") })
	})
	if ok {
		return at
	}
	return path.Join(s.Path(), s.fonts, base(f))
}

// Files wants each face among the resources.
func (s *packageSite) Files(job target.Job) ([]target.File, error) {
	var out []target.File
	for _, f := range job.Faces {
		if f.PostScript == "" {
			return nil, noPostScript(s.Title(), f)
		}
		out = append(out, target.File{Path: s.place(job, f), Copy: f.ID()})
	}
	return out, nil
}

// Entries wants the folder of the fonts among the target's resources.
func (s *packageSite) Entries(job target.Job) ([]edit.Entry, error) {
	if len(job.Faces) == 0 {
		return nil, nil
	}
	return []edit.Entry{{File: s.file, Syntax: edit.SyntaxPackage, Place: "resources:" + s.target.Name, Value: s.fonts}}, nil
}

// Code wants AppType.swift with all that another module may use made public.
func (s *packageSite) Code(job target.Job) ([]target.File, error) {
	if len(job.Roles) == 0 {
		return nil, nil
	}
	data := newCode(job, true, true)
	data.Public, data.Package = "public ", true
	for _, f := range job.Faces {
		data.Files = append(data.Files, literal(path.Base(s.place(job, f))))
	}
	text, err := render(swiftFile, data)
	return []target.File{{Path: path.Join(s.Path(), swiftFile), Content: text}}, err
}

// Shortfalls are those of SwiftUI.
func (s *packageSite) Shortfalls(job target.Job) []target.Shortfall { return swiftShortfalls(job) }

// Held lists the fonts in folders that the target processes.
func (s *packageSite) Held() ([]target.Held, error) {
	var out []target.Held
	for _, r := range s.target.Processed {
		for _, f := range s.tree.Under(path.Join(s.Path(), r)) {
			if target.IsFont(f) {
				out = append(out, target.Held{Manifest: s.file, Line: s.target.Line, Value: ".process(\"" + r + "\")", File: f})
			}
		}
	}
	return out, nil
}
