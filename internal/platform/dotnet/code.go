// Package dotnet serves .NET's cross-platform apps. MAUI: font files in
// Resources/Fonts, which the project takes in, and their registration in
// MauiProgram.cs. Xamarin.Forms: embedded resources with an ExportFont attribute
// each, or, before version 4.5, the assets of each platform's own project. Both get
// a C# class with a constant for each face and a style for each role, and the same
// styles as a resource dictionary.
package dotnet

import (
	"embed"
	"path"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/xmldoc"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/dotnet/msbuild"
	"notaria/internal/platform/kit"
)

//go:embed *.tmpl
var texts embed.FS

var templates = kit.Templates(texts)

// Generated files.
const (
	sharpFile = "AppType.cs"
	xamlFile  = "AppType.xaml"
)

// line is a face or a role as code and XAML write it; empty fields are omitted.
type line struct {
	platform.RoleText
	Member, Literal, Face            string // Literal and others are C#'s
	Key, Value, IOS, Android         string // those of XAML, escaped
	File, IOSLiteral, AndroidLiteral string
}

// code is what the templates show.
type code struct {
	Namespace    string
	Maui         bool // else Xamarin.Forms
	Export       bool // faces have aliases; else each platform has its own names
	XAML         bool // there is a resource dictionary, too
	Colours      bool // some role has one
	Shadows      bool
	Faces, Roles []line
}

// newCode puts a job into the words of the templates. alias gives the name that
// code asks for.
func newCode(job platform.Job, namespace string, alias func(platform.Face) string, file func(platform.Face) string) code {
	data := code{Namespace: namespace}
	var names []string
	for _, f := range job.Faces {
		names = append(names, member(language.Words(f.ID()), "Face"))
	}
	faces := map[string]line{}
	for i, n := range language.Unique(names) {
		f := job.Faces[i]
		android := path.Base(file(f)) + "#" + f.Family
		l := line{RoleText: platform.RoleText{FaceID: platform.Listed(f)}, Member: n, Literal: language.CSharp.Literal(alias(f)), Value: xamlText(alias(f)), File: language.CSharp.Literal(path.Base(file(f))), Key: n + "Face",
			IOS: xamlText(f.PostScript), Android: xamlText(android), IOSLiteral: language.CSharp.Literal(f.PostScript), AndroidLiteral: language.CSharp.Literal(android)}
		faces[f.ID()] = l
		data.Faces = append(data.Faces, l)
	}
	for _, r := range job.Roles {
		face := faces[r.Face.ID()]
		l := line{RoleText: r.Text(), Member: labelMember(r.Name), Face: face.Member, Value: face.Value}
		l.Key = l.Member + "Type"
		data.Colours, data.Shadows = data.Colours || l.Colour != nil, data.Shadows || l.Shadow != nil
		data.Roles = append(data.Roles, l)
	}
	return data
}

func labelMember(role string) string { return member(language.Words(role), "Role") }

// words are those of the class and of the styles; none for a library, whose apps can be anywhere.
func (p *project) words(members []string) []string {
	if p.app == "" {
		return nil
	}
	return append(platform.Worded("", members, "Type"), "AppType")
}

// shows are the styles of a Label, in markup where the app has some.
func (p *project) shows(job platform.Job) func(string) []platform.Showing {
	return func(role string) []platform.Showing {
		ways := []platform.Showing{platform.Way("C#", "label.Style = AppType.{member};")}
		if p.app != "" {
			ways = append([]platform.Showing{platform.Way("XAML", `<Label Style="{StaticResource {member}Type}" Text="07:40" />`)}, ways...)
		}
		return platform.Ways(job.Roles, role, map[string][]string{"member": kit.Members(job.Roles, labelMember)}, ways...)
	}
}

// xamlText writes an attribute's value that XAML takes for plain text.
func xamlText(s string) string {
	if strings.HasPrefix(s, "{") {
		s = "{}" + s
	}
	return language.EscapeAttribute(s)
}

// typed is the alias of a face: its PostScript name, or one that is safe in a file
// where XML could not hold that.
func typed(f string) string {
	if strings.ContainsFunc(f, func(r rune) bool { return r < ' ' || language.NotXML(r) }) {
		return platform.FileBase(f)
	}
	return f
}

// member makes words a C# member in capitals, which no keyword is; the names of
// the class itself and of what every object has are left alone.
func member(words []string, kind string) string {
	name := language.Pascal(words)
	switch {
	case name == "" || name[0] >= '0' && name[0] <= '9':
		return kind + name
	case slices.Contains([]string{"AppType", "Faces", "RoleStyle", "Equals", "ReferenceEquals", "ToString", "GetType", "GetHashCode", "Finalize", "MemberwiseClone", "Name", "Report"}, name):
		return name + kind
	}
	return name
}

// project is what both platforms need to know of a project file.
type project struct {
	kit.App
	file      string // *.csproj
	namespace string
	items     []msbuild.Item
	app       string // App.xaml, "" if there is none
	sdk       string // the project file's text, and what it inherits
}

var (
	namespace = lazy.Regexp(`<RootNamespace>\s*([A-Za-z_][\w.]*)\s*</RootNamespace>`)
	notWord   = lazy.Regexp(`[^\w.]`)
)

// projects lists the project files of a tree, without what is in comments, and with what
// the build reads before each: Directory.Build.props, the nearest upward.
func projects(found *platform.Found, tree platform.Tree) (files []string, docs map[string]string) {
	docs = map[string]string{}
	for _, file := range tree.Under("") {
		if path.Ext(file) != ".csproj" {
			continue
		}
		raw, err := tree.Read(file)
		if err != nil {
			found.Add(path.Dir(file), nil, err)
			continue
		}
		files = append(files, file)
		docs[file] = string(language.XML.Blank(raw)) + inherited(tree, platform.Folder(file))
	}
	return files, docs
}

// inherited is the Directory.Build.props that the build reads for a project in a folder.
func inherited(tree platform.Tree, dir string) string {
	for ; ; dir = platform.Folder(dir) {
		if at := (platform.Base{Tree: tree, Dir: dir}).Beside("Directory.Build.props"); at != "" {
			raw, err := tree.Read(at)
			if err != nil {
				return ""
			}
			return string(language.XML.Blank(raw))
		}
		if dir == "" {
			return ""
		}
	}
}

func newProject(tree platform.Tree, file, text string) (project, error) {
	p := project{App: kit.App{Base: platform.Base{Tree: tree, Dir: platform.Folder(file)}, Common: true, Asks: uses}, file: file, sdk: text, namespace: identifier(strings.TrimSuffix(path.Base(file), ".csproj"))}
	if m := namespace.FindStringSubmatch(text); m != nil {
		p.namespace = m[1]
	}
	p.app = p.Beside("App.xaml")
	doc, err := platform.ReadDocument(tree, file)
	if err != nil {
		return p, err
	}
	p.items, err = msbuild.Items(doc)
	return p, err
}

// Shares are the class libraries that the app refers to: aliases and addresses of the app mean the same there.
func (p *project) Shares() []platform.Share {
	dirs := platform.Reach(p.Dir, func(dir string) []string {
		var out []string
		for _, f := range p.Tree.Under(dir) {
			if path.Ext(f) != ".csproj" || platform.Folder(f) != dir {
				continue
			}
			if raw, ok := p.Tree.Glance(f, platform.MostSource); ok {
				for _, to := range references(string(language.XML.Blank(raw)), f) {
					out = append(out, platform.Folder(to))
				}
			}
		}
		return out
	})
	return platform.Sharing(p.Tree, p.Dir, dirs, platform.PlainUses(p.Asks), "AddFont", "ExportFont")
}

// identifier makes a project's name a namespace, as the build itself does.
func identifier(s string) string {
	s = notWord.ReplaceAllString(s, "_")
	if s == "" || s[0] >= '0' && s[0] <= '9' {
		return "_" + s
	}
	return s
}

// from is a path of the tree as the project file writes it: also ..\shared\X.ttf.
func (p *project) from(name string) string { return platform.Relative(p.Dir, name) }

// takenBy says whether an item of a kind takes a file of the tree in.
func (p *project) takenBy(kind, name string) bool {
	if len(p.items) == 0 {
		return false
	}
	rel := p.from(name)
	return slices.ContainsFunc(p.items, func(i msbuild.Item) bool { return i.Name == kind && i.Covers(rel) })
}

var (
	outputType  = lazy.Regexp(`(?i)<OutputType[^>]*>\s*(?:Win)?Exe\s*</OutputType>`)
	testProject = lazy.Regexp(`(?i)<IsTestProject>\s*true|"Microsoft\.NET\.Test\.Sdk"|Include\s*=\s*"(?:xunit|NUnit|MSTest\.TestFramework)"`)
)

// buildsApp says whether a project builds an app: it makes a program, or has an application. A
// library or a test that uses the same framework does neither.
func buildsApp(tree platform.Tree, file, text string) bool {
	b := platform.Base{Tree: tree, Dir: platform.Folder(file)}
	return !testProject.MatchString(text) && (outputType.MatchString(text) || b.Beside("App.xaml") != "" || b.Beside("MauiProgram.cs") != "")
}

// taken says whether items of a kind take a file in, those of ours not counted
// where they name just that file.
func (p *project) taken(kind, rel string) bool {
	return slices.ContainsFunc(p.items, func(i msbuild.Item) bool {
		return i.Name == kind && i.Covers(rel) && !strings.EqualFold(i.Include, rel)
	})
}

// item adds a file to the items of a kind, unless a wildcard takes it in.
func (p *project) item(out []edit.Entry, kind, rel string) []edit.Entry {
	if p.taken(kind, rel) {
		return out
	}
	return append(out, edit.Entry{File: p.file, Syntax: xmldoc.Elements{}.Name(), Place: msbuild.ItemPlace(kind), Value: msbuild.ItemValue(rel)})
}

// merged adds our dictionary to those of the application.
func (p *project) merged(out []edit.Entry, source string) []edit.Entry {
	if p.app == "" {
		return out
	}
	return append(out, edit.Entry{File: p.app, Syntax: xmldoc.Elements{}.Name(), Place: msbuild.MergedPlace(), Value: source})
}

// held lists the fonts that items of some kinds name.
func (p *project) held(kinds ...string) []platform.Held {
	var out []platform.Held
	for _, i := range p.items {
		if !slices.Contains(kinds, i.Name) {
			continue
		}
		if platform.IsFont(i.Include) {
			out = append(out, p.heldItem(i))
			continue
		}
		for _, f := range p.Tree.Under(i.Root(p.Dir)) {
			if platform.IsFont(f) && i.Covers(p.from(f)) {
				out = append(out, platform.Held{Manifest: p.file, Line: i.Line, Value: i.Name + " " + i.Include, File: f, Part: p.Path()})
			}
		}
	}
	return out
}

// heldItem is a font that an item names itself.
func (p *project) heldItem(i msbuild.Item) platform.Held {
	h := platform.Held{Manifest: p.file, Line: i.Line, Value: i.Name + " " + i.Include, Name: i.Include, File: path.Join(p.Dir, i.Include), Part: p.Path(),
		Strict: !strings.ContainsAny(i.Include, "*?$%@;") && !strings.Contains(i.Include, "../")}
	h.Hint = platform.Hint{Cause: "the file was deleted or renamed, or the path is mistyped: the build stops", Cure: "correct the path, which counts from the project file, or take the item out"}
	slashes := func(s string) string { return s }
	if raw, err := p.Tree.Read(p.file); err == nil && !strings.Contains(string(raw), i.Include) {
		slashes = func(s string) string { return strings.ReplaceAll(s, "/", `\`) }
		h.Name = slashes(i.Include)
	}
	h.Write = func(file string) string { return slashes(p.from(file)) }
	return h
}

// unlessExported is an answer, unless code of the solution exports a font under the name.
func (p *project) unlessExported(q platform.Question, a platform.Answer) platform.Answer {
	if a.Fault != platform.Fine && slices.Contains(q.Once("exported", func() []string {
		return platform.LoadedNames(p.Tree, "", []*language.Language{language.CSharp}, exportedAlias)
	}), q.Typed) {
		return platform.Answer{}
	}
	return a
}

// strays says whether an item of a kind that leads nowhere most likely means a file.
func (p *project) strays(kind, rel string) bool {
	return slices.ContainsFunc(p.items, func(i msbuild.Item) bool {
		return i.Name == kind && platform.IsFont(i.Include) && !slices.Contains(p.Tree.Named(path.Base(i.Include)), path.Join(p.Dir, i.Include)) && platform.Strayed(i.Include, []string{rel}) != ""
	})
}
