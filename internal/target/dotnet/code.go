// Package dotnet serves .NET's cross-platform apps. MAUI: font files in
// Resources/Fonts, which the project takes in, and their registration in
// MauiProgram.cs. Xamarin.Forms: embedded resources with an ExportFont attribute
// each, or, before version 4.5, the assets of each platform's own project. Both get
// a C# class with a constant for each face and a style for each role, and the same
// styles as a resource dictionary.
package dotnet

import (
	"bytes"
	"embed"
	"path"
	"regexp"
	"slices"
	"strings"
	"text/template"

	"notaria/internal/edit"
	"notaria/internal/target"
)

//go:embed *.tmpl
var texts embed.FS

var templates = template.Must(template.ParseFS(texts, "*.tmpl"))

// Generated files.
const (
	sharpFile = "AppType.cs"
	xamlFile  = "AppType.xaml"
)

// line is a face or a role as code and XAML say it; what is "" is not said.
type line struct {
	Member, Literal, Face, Size, About string // Literal and others are C#'s
	Key, Value, IOS, Android           string // those of XAML, escaped
	File, IOSLiteral, AndroidLiteral   string
	Tracking, LineHeight, Colour       string
	Scale                              bool
}

// code is what the templates show.
type code struct {
	Namespace    string
	Maui         bool // else Xamarin.Forms
	Export       bool // faces have aliases; else each platform has its own names
	XAML         bool // there is a resource dictionary, too
	Colours      bool // some role has one
	Faces, Roles []line
}

// newCode puts a job into the words of the templates. alias gives the name that
// code asks for.
func newCode(job target.Job, namespace string, alias func(target.Face) string, file func(target.Face) string) code {
	data := code{Namespace: namespace}
	var names []string
	for _, f := range job.Faces {
		names = append(names, member(target.Words(f.ID()), "Face"))
	}
	faces := map[string]line{}
	for i, n := range target.Unique(names) {
		f := job.Faces[i]
		android := path.Base(file(f)) + "#" + f.Family
		l := line{Member: n, Literal: edit.QuoteSharp(alias(f)), Value: xamlText(alias(f)), File: edit.QuoteSharp(path.Base(file(f))), Key: n + "Face",
			IOS: xamlText(f.PostScript), Android: xamlText(android), IOSLiteral: edit.QuoteSharp(f.PostScript), AndroidLiteral: edit.QuoteSharp(android)}
		faces[f.ID()] = l
		data.Faces = append(data.Faces, l)
	}
	for _, r := range job.Roles {
		face := faces[r.Face.ID()]
		l := line{Member: member(target.Words(r.Name), "Role"), Face: face.Member, Value: face.Value, Size: target.Number(r.Size), Scale: r.Scale}
		l.Key = l.Member + "Type"
		l.About = strings.ReplaceAll(edit.EscapeXML(target.Comment(r.About("units"))), "--", "- -")
		if r.Tracking != 0 {
			l.Tracking = target.Number(r.Letter())
		}
		if r.LineHeight > 0 {
			l.LineHeight = target.Number(r.Ratio(r.NaturalLine())) // a multiple of the face's own
		}
		if r.Colour != nil {
			l.Colour = "#" + r.Colour.ARGB()
			data.Colours = true
		}
		data.Roles = append(data.Roles, l)
	}
	return data
}

// xamlText writes an attribute's value that XAML takes for plain text.
func xamlText(s string) string {
	if strings.HasPrefix(s, "{") {
		s = "{}" + s
	}
	return edit.EscapeAttribute(s)
}

// typed is the alias of a face: its PostScript name, or one that is safe in a file
// where XML could not hold that.
func typed(f string) string {
	if strings.ContainsFunc(f, func(r rune) bool { return r < 0x20 || r == 0xfffe || r == 0xffff }) {
		return target.FileBase(f)
	}
	return f
}

// member makes words a C# member in capitals, which no keyword is; the names of
// the class itself and of what every object has are left alone.
func member(words []string, kind string) string {
	name := target.Pascal(words)
	switch {
	case name == "" || name[0] >= '0' && name[0] <= '9':
		return kind + name
	case slices.Contains([]string{"AppType", "Faces", "RoleStyle", "Equals", "ReferenceEquals", "ToString", "GetType", "GetHashCode", "Finalize", "MemberwiseClone", "Name"}, name):
		return name + kind
	}
	return name
}

func render(tmpl string, data code) ([]byte, error) {
	var b bytes.Buffer
	err := templates.ExecuteTemplate(&b, tmpl, data)
	return b.Bytes(), err
}

// project is what both platforms need to know of a project file.
type project struct {
	tree      target.Tree
	file      string // *.csproj
	dir       string
	namespace string
	items     []edit.Item
	app       string // App.xaml, "" if there is none
}

var (
	namespace = regexp.MustCompile(`<RootNamespace>\s*([A-Za-z_][\w.]*)\s*</RootNamespace>`)
	remark    = regexp.MustCompile(`(?s)<!--.*?-->`)
	notWord   = regexp.MustCompile(`[^\w.]`)
)

// projects lists the project files of a tree, without what is in remarks.
func projects(tree target.Tree, opt target.Options) (files []string, docs map[string]string, err error) {
	docs = map[string]string{}
	for _, file := range tree.Under("") {
		if path.Ext(file) != ".csproj" || opt.LeftOut(path.Dir(file)) {
			continue
		}
		raw, err := tree.Read(file)
		if err != nil {
			return nil, nil, err
		}
		files = append(files, file)
		docs[file] = string(remark.ReplaceAll(raw, nil))
	}
	return files, docs, nil
}

func newProject(tree target.Tree, file, doc string) (project, error) {
	p := project{tree: tree, file: file, dir: target.Folder(file), namespace: identifier(strings.TrimSuffix(path.Base(file), ".csproj"))}
	if m := namespace.FindStringSubmatch(doc); m != nil {
		p.namespace = m[1]
	}
	p.app = beside(tree, p.dir, "App.xaml")
	raw, err := tree.Read(file)
	if err != nil {
		return p, err
	}
	p.items, err = edit.ProjectItems(file, raw)
	return p, err
}

// beside finds a file in a folder, "" if it is not there.
func beside(tree target.Tree, dir, base string) string {
	for _, f := range tree.Named(base) {
		if f == path.Join(dir, base) {
			return f
		}
	}
	return ""
}

// identifier makes a project's name a namespace, as the build itself does.
func identifier(s string) string {
	s = notWord.ReplaceAllString(s, "_")
	if s == "" || s[0] >= '0' && s[0] <= '9' {
		return "_" + s
	}
	return s
}

func (p *project) Path() string {
	return target.Shown(p.dir)
}

// rel is a path of the tree as the project file writes it.
func (p *project) rel(at string) (string, bool) {
	return target.Below(p.dir, at)
}

// taken says whether items of a kind take a file in, those of ours not counted
// where they name just that file.
func (p *project) taken(kind, rel string) bool {
	return slices.ContainsFunc(p.items, func(i edit.Item) bool { return i.Name == kind && i.Covers(rel) && !strings.EqualFold(i.Include, rel) })
}

// item wants a file among the items of a kind, unless a wildcard takes it in.
func (p *project) item(out []edit.Entry, kind, rel string) []edit.Entry {
	if p.taken(kind, rel) {
		return out
	}
	return append(out, edit.Entry{File: p.file, Syntax: edit.SyntaxXML, Place: "item:" + kind, Value: rel})
}

// merged wants our dictionary among those of the application.
func (p *project) merged(out []edit.Entry, source string) []edit.Entry {
	if p.app == "" {
		return out
	}
	return append(out, edit.Entry{File: p.app, Syntax: edit.SyntaxXML, Place: "merged", Value: source})
}

// held lists the fonts that items of some kinds name.
func (p *project) held(kinds ...string) []target.Held {
	var out []target.Held
	for _, i := range p.items {
		if !slices.Contains(kinds, i.Name) {
			continue
		}
		if target.IsFont(i.Include) {
			out = append(out, target.Held{Manifest: p.file, Line: i.Line, Value: i.Name + " " + i.Include, File: path.Join(p.dir, i.Include)})
			continue
		}
		for _, f := range p.tree.Under(p.dir) {
			if rel, ok := p.rel(f); ok && target.IsFont(f) && i.Covers(rel) {
				out = append(out, target.Held{Manifest: p.file, Line: i.Line, Value: i.Name + " " + i.Include, File: f})
			}
		}
	}
	return out
}

func base(f target.Face) string { return target.FileBase(f.ID()) + f.Ext }
