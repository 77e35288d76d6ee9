package dotnet

import (
	"errors"
	"path"
	"regexp"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/face"
	"notaria/internal/target"
)

// Maui is the .NET MAUI platform.
type Maui struct{}

// About describes the platform.
func (Maui) About() target.About {
	return target.About{
		Name: "maui", Title: ".NET MAUI", Typed: `FontFamily="…"`,
		Minimum: ".NET 6; a MauiProgram.cs that calls ConfigureFonts with a block",
		Cannot:  []string{"outlines", "another font where a face is missing"},
	}
}

// Type gives the alias that a face is registered under: its PostScript name.
func (Maui) Type(faces []face.Face) []string {
	out := make([]string, len(faces))
	for i, f := range faces {
		out[i] = typed(f.ID())
	}
	return out
}

type mauiSite struct {
	project
	program string
	added   []edit.Registered // what the program registers now
}

const (
	fontsFolder  = "Resources/Fonts"
	stylesFolder = "Resources/Styles"
)

var usesMaui = regexp.MustCompile(`(?i)<UseMaui>\s*true\s*</UseMaui>`)

// Sites finds the projects that use MAUI.
func (Maui) Sites(tree target.Tree, opt target.Options) ([]target.Site, error) {
	files, docs, err := projects(tree, opt)
	if err != nil {
		return nil, err
	}
	var out []target.Site
	var wrong []error
	for _, file := range files {
		if !usesMaui.MatchString(docs[file]) {
			continue
		}
		p, err := newProject(tree, file, docs[file])
		if err != nil {
			wrong = append(wrong, err)
			continue
		}
		s := &mauiSite{project: p, program: beside(tree, p.dir, "MauiProgram.cs")}
		if s.program != "" {
			doc, err := tree.Read(s.program)
			if err != nil {
				return nil, err
			}
			s.added, _ = edit.AddedFonts(s.program, doc) // what is wrong with it, the edit says
		}
		out = append(out, s)
	}
	return out, errors.Join(wrong...)
}

func (s *mauiSite) Title() string { return ".NET MAUI " + s.Path() }

func (s *mauiSite) Next() string { return "build the app again; hot reload does not take in new fonts" }

// place is where a face lies: where somebody's hand put it in this project, else
// where ours go.
func (s *mauiSite) place(job target.Job, f target.Face) string {
	at, ok := job.At(f, func(p string) bool {
		rel, inside := s.rel(p)
		return inside && strings.HasPrefix(rel, "Resources/")
	})
	if ok {
		return at
	}
	return path.Join(s.dir, fontsFolder, base(f))
}

// alias is the name of a face in code: the one that somebody gave its file, else
// its PostScript name.
func (s *mauiSite) alias(job target.Job, f target.Face) string {
	file := path.Base(s.place(job, f))
	for _, a := range s.added {
		if a.File == file && a.Alias != "" {
			return a.Alias
		}
	}
	return typed(f.ID())
}

// Files wants each face in Resources/Fonts.
func (s *mauiSite) Files(job target.Job) ([]target.File, error) {
	var out []target.File
	for _, f := range job.Faces {
		out = append(out, target.File{Path: s.place(job, f), Copy: f.ID()})
	}
	return out, nil
}

// Entries wants each file registered, taken in by the project, and the styles
// among the app's.
func (s *mauiSite) Entries(job target.Job) ([]edit.Entry, error) {
	if len(job.Faces) == 0 {
		return nil, nil
	}
	if s.program == "" {
		return nil, &target.SiteError{Site: s.Title(), Expected: "a MauiProgram.cs", Found: "none beside the project file", Cure: "register the fonts by hand where the app is built, and leave the app out: leave-out under [target.maui]"}
	}
	var out []edit.Entry
	for _, f := range job.Faces {
		at := s.place(job, f)
		rel, _ := s.rel(at)
		out = s.item(out, "MauiFont", rel)
		out = append(out, edit.Entry{File: s.program, Syntax: edit.SyntaxAddFont, Place: "alias:" + s.alias(job, f), Value: path.Base(at)})
	}
	if len(job.Roles) > 0 {
		out = s.merged(out, stylesFolder+"/"+xamlFile)
	}
	return out, nil
}

// Code wants AppType.cs and AppType.xaml.
func (s *mauiSite) Code(job target.Job) ([]target.File, error) {
	if len(job.Roles) == 0 {
		return nil, nil
	}
	data := newCode(job, s.namespace, func(f target.Face) string { return s.alias(job, f) }, func(f target.Face) string { return s.place(job, f) })
	data.Maui, data.Export, data.XAML = true, true, s.app != ""
	text, err := render("AppType.cs.tmpl", data)
	out := []target.File{{Path: path.Join(s.dir, sharpFile), Content: text}}
	if err == nil && s.app != "" {
		text, err = render("AppType.xaml.tmpl", data)
		out = append(out, target.File{Path: path.Join(s.dir, stylesFolder, xamlFile), Content: text})
	}
	return out, err
}

// Shortfalls are what a Label cannot say.
func (s *mauiSite) Shortfalls(job target.Job) []target.Shortfall {
	return target.Shortfalls(job, map[string]string{
		target.PartOutline:  "a Label draws no outline",
		target.PartFallback: "a FontFamily names one font; the platform chooses what shows where it is missing",
	})
}

// Held lists what the program registers, and the fonts that the project takes in.
func (s *mauiSite) Held() ([]target.Held, error) {
	out := s.held("MauiFont")
	for _, a := range s.added {
		h := target.Held{Manifest: s.program, Line: a.Line, Value: "AddFont " + a.File + " as " + a.Alias}
		for _, f := range s.tree.Under(path.Join(s.dir, "Resources")) {
			if path.Base(f) == a.File {
				h.File = f
			}
		}
		out = append(out, h)
	}
	return out, nil
}
