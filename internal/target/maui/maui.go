// Package maui serves .NET MAUI apps: font files in Resources/Fonts, which the
// project takes in by a wildcard, their registration in MauiProgram.cs, and a C#
// class with an alias for each face and a style for each role.
package maui

import (
	"bytes"
	_ "embed"
	"path"
	"regexp"
	"strings"
	"text/template"

	"notaria/internal/edit"
	"notaria/internal/face"
	"notaria/internal/target"
)

// Target is the .NET MAUI platform.
type Target struct{}

// About describes the platform.
func (Target) About() target.About {
	return target.About{
		Name: "maui", Title: ".NET MAUI", Typed: `FontFamily="…"`,
		Minimum: ".NET 6; a MauiProgram.cs that calls ConfigureFonts with a block",
		Cannot:  []string{"Xamarin.Forms", "fonts that the project file lists one by one"},
	}
}

// Type gives the alias that a face is registered under: its PostScript name.
func (Target) Type(faces []face.Face) []string {
	out := make([]string, len(faces))
	for i, f := range faces {
		out[i] = f.ID()
	}
	return out
}

type site struct {
	dir       string
	program   string
	namespace string
	wildcard  bool // the project takes in all of Resources/Fonts
}

const fontsFolder = "Resources/Fonts"

var (
	usesMaui  = regexp.MustCompile(`(?i)<UseMaui>\s*true\s*</UseMaui>`)
	wildcard  = regexp.MustCompile(`<MauiFont\s+Include\s*=\s*"Resources[\\/]Fonts[\\/]\*`)
	namespace = regexp.MustCompile(`<RootNamespace>\s*([A-Za-z_][\w.]*)\s*</RootNamespace>`)
	remark    = regexp.MustCompile(`(?s)<!--.*?-->`)
)

// Sites finds the projects that use MAUI.
func (Target) Sites(tree target.Tree) ([]target.Site, error) {
	var out []target.Site
	for _, file := range tree.Under("") {
		if path.Ext(file) != ".csproj" {
			continue
		}
		raw, err := tree.Read(file)
		if err != nil {
			return nil, err
		}
		doc := remark.ReplaceAll(raw, nil)
		if !usesMaui.Match(doc) {
			continue
		}
		s := &site{dir: path.Dir(file), wildcard: wildcard.Match(doc), namespace: identifier(strings.TrimSuffix(path.Base(file), ".csproj"))}
		if s.dir == "." {
			s.dir = ""
		}
		if m := namespace.FindSubmatch(doc); m != nil {
			s.namespace = string(m[1])
		}
		for _, f := range tree.Named("MauiProgram.cs") {
			if f == path.Join(s.dir, "MauiProgram.cs") {
				s.program = f
			}
		}
		out = append(out, s)
	}
	return out, nil
}

// identifier makes a project's name a namespace, as the build itself does.
func identifier(s string) string {
	s = regexp.MustCompile(`[^\w.]`).ReplaceAllString(s, "_")
	if s == "" || s[0] >= '0' && s[0] <= '9' {
		return "_" + s
	}
	return s
}

func (s *site) Path() string {
	if s.dir == "" {
		return "."
	}
	return s.dir
}

func (s *site) Title() string { return ".NET MAUI " + s.Path() }

func (s *site) Next() string { return "build the app again; hot reload does not take in new fonts" }

func base(f target.Face) string { return target.FileBase(f.ID()) + f.Ext }

// Files wants each face in Resources/Fonts.
func (s *site) Files(job target.Job) ([]target.File, error) {
	if len(job.Faces) > 0 && !s.wildcard {
		return nil, &target.SiteError{Site: s.Title(), Expected: "a project that takes in Resources/Fonts", Found: "no such line",
			Cure: `add <MauiFont Include="Resources\Fonts\*" /> to an ItemGroup of the project file, then register again`}
	}
	var out []target.File
	for _, f := range job.Faces {
		out = append(out, target.File{Path: path.Join(s.dir, fontsFolder, base(f)), Copy: f.ID()})
	}
	return out, nil
}

// Entries wants each file registered under its PostScript name.
func (s *site) Entries(job target.Job) ([]edit.Entry, error) {
	if len(job.Faces) == 0 {
		return nil, nil
	}
	if s.program == "" {
		return nil, &target.SiteError{Site: s.Title(), Expected: "a MauiProgram.cs", Found: "none beside the project file", Cure: "register the fonts by hand where the app is built, or leave the app out with --only"}
	}
	var out []edit.Entry
	for _, f := range job.Faces {
		out = append(out, edit.Entry{File: s.program, Syntax: edit.SyntaxAddFont, Place: "alias:" + f.ID(), Value: base(f)})
	}
	return out, nil
}

//go:embed AppType.cs.tmpl
var sharpText string

var sharpTemplate = template.Must(template.New("AppType.cs").Parse(sharpText))

type line struct {
	Member, Literal, Face, Size, About string
	Scale                              bool
}

// Code wants AppType.cs.
func (s *site) Code(job target.Job) ([]target.File, error) {
	if len(job.Roles) == 0 {
		return nil, nil
	}
	data := struct {
		Namespace    string
		Faces, Roles []line
	}{Namespace: s.namespace}
	var names []string
	for _, f := range job.Faces {
		names = append(names, member(target.Words(f.ID()), "Face"))
	}
	members := map[string]string{}
	for i, n := range target.Unique(names) {
		members[job.Faces[i].ID()] = n
		data.Faces = append(data.Faces, line{Member: n, Literal: edit.QuoteSharp(job.Faces[i].ID())})
	}
	for _, r := range job.Roles {
		data.Roles = append(data.Roles, line{Member: member(target.Words(r.Name), "Role"), Face: members[r.Face.ID()], Size: target.Number(r.Size), Scale: r.Scale,
			About: strings.NewReplacer("&", "&amp;", "<", "&lt;", ">", "&gt;").Replace(target.Comment(r.Face.Family + " " + r.Face.Style))})
	}
	var b bytes.Buffer
	err := sharpTemplate.Execute(&b, data)
	return []target.File{{Path: path.Join(s.dir, "AppType.cs"), Content: b.Bytes()}}, err
}

// member makes words a C# member in capitals, which no keyword is; the names of
// the class itself and of what every object has are left alone.
func member(words []string, kind string) string {
	name := target.Pascal(words)
	switch {
	case name == "" || name[0] >= '0' && name[0] <= '9':
		return kind + name
	case name == "AppType" || name == "Faces" || name == "RoleStyle" || name == "Equals" || name == "ReferenceEquals" || name == "ToString" || name == "GetType" || name == "GetHashCode":
		return name + kind
	}
	return name
}
