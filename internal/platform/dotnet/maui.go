package dotnet

import (
	"bytes"
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/face"
	"notaria/internal/installed"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/dotnet/msbuild"
	"notaria/internal/platform/kit"
)

// Maui is the .NET MAUI platform.
var Maui = &kit.Platform{
	Info: platform.About{
		Name: "maui", Title: ".NET MAUI", Kind: platform.ByPostScript, Typed: `FontFamily="…"`,
		Minimum: ".NET 6; a source that calls UseMauiApp, as MauiProgram.cs does",
		Gets:    "Resources/Fonts, items in the project file where no wildcard takes them in, ConfigureFonts, AppType.cs, and AppType.xaml with a style for each role, merged in App.xaml",
		Cannot:  []string{"outlines", "another font where a face is missing"},
	},
	Names: aliases, Find: mauiSites, Log: []*lazy.Pattern{mauiLogLine},
	Forms: []edit.Syntax{msbuild.AddFont{}},                  // of MauiProgram.cs
	Skip:  []platform.Skip{{Folder: "bin"}, {Folder: "obj"}}, // of MSBuild
}

// aliases are those that faces are registered under: their PostScript names.
func aliases(faces []face.Face) []string {
	out := make([]string, len(faces))
	for i, f := range faces {
		out[i] = typed(f.ID())
	}
	return out
}

type mauiSite struct {
	project
	program string
	added   []msbuild.Registered // what the program registers now
}

const (
	fontsFolder  = "Resources/Fonts"
	stylesFolder = "Resources/Styles"
)

var usesMaui = lazy.Regexp(`(?i)<UseMaui>\s*true\s*</UseMaui>`)

// mauiSites finds the projects that use MAUI.
func mauiSites(tree platform.Tree, _ platform.Options) ([]platform.Site, error) {
	var found platform.Found
	files, docs := projects(&found, tree)
	for _, file := range files {
		if usesMaui.MatchString(docs[file]) && buildsApp(tree, file, docs[file]) {
			s, err := newMaui(tree, file, docs[file])
			found.Add(path.Dir(file), s, err)
		}
	}
	return found.All()
}

func newMaui(tree platform.Tree, file, text string) (*mauiSite, error) {
	p, err := newProject(tree, file, text)
	if err != nil {
		return nil, err
	}
	s := &mauiSite{project: p}
	s.Kind, s.Fonts = ".NET MAUI", path.Join(s.Dir, fontsFolder)
	s.Takes = func(p string) bool {
		rel, inside := s.Rel(p)
		return inside && strings.HasPrefix(rel, "Resources/") || s.takenBy("MauiFont", p)
	}
	if s.program = s.findProgram(); s.program == "" {
		return s, nil
	}
	doc, err := platform.ReadDocument(tree, s.program)
	if err != nil {
		return nil, err
	}
	s.added, _ = msbuild.AddedFonts(doc) // what is wrong with it, the edit reports
	return s, nil
}

// findProgram is the source in which the fonts are registered, else that in which the app's builder
// begins; MauiProgram.cs, if it is none of another name.
func (s *mauiSite) findProgram() string {
	builder := s.Beside("MauiProgram.cs")
	files := []string{}
	for _, f := range s.Tree.Under(s.Dir) {
		if path.Ext(f) == ".cs" && path.Base(f) != sharpFile {
			files = append(files, f)
		}
	}
	if builder != "" {
		files = append([]string{builder}, files...)
	}
	first := ""
	for _, f := range files {
		raw, ok := s.Tree.Glance(f, platform.MostSource)
		if !ok || !bytes.Contains(raw, []byte("ConfigureFonts")) && !bytes.Contains(raw, []byte("UseMauiApp")) {
			continue
		}
		fonts, app := msbuild.Configures(raw)
		if fonts {
			return f
		}
		if app && first == "" {
			first = f
		}
	}
	if first != "" {
		return first
	}
	return builder
}

func (s *mauiSite) next() string {
	if razor.MatchString(s.sdk) {
		return "build the app again; hot reload does not take in new fonts; pages of Blazor get theirs from the style sheets of wwwroot, not from here"
	}
	return "build the app again; hot reload does not take in new fonts"
}

var razor = lazy.Regexp(`Sdk\s*=\s*"Microsoft\.NET\.Sdk\.Razor"|Microsoft\.AspNetCore\.Components\.WebView\.Maui`)

// alias is the name of a face in code: the one that somebody gave its file, else
// its PostScript name.
func (s *mauiSite) alias(job platform.Job, f platform.Face) string {
	file := path.Base(s.Place(job, f))
	for _, a := range s.added {
		if a.File == file && a.Alias != "" {
			return a.Alias
		}
	}
	return typed(f.ID())
}

// Plan is each face in Resources/Fonts, taken in by the project and registered;
// AppType.cs and AppType.xaml, with the styles among the app's.
func (s *mauiSite) Plan(job platform.Job) (platform.Plan, error) {
	p := platform.Plan{Next: s.next(), Answer: s.answer, Files: job.CopiesAt(func(f platform.Face) string { return s.Place(job, f) }), Short: labelShortfalls(job, "", "")}
	if len(job.Faces) == 0 {
		return p, nil
	}
	if s.program == "" {
		return p, platform.Refuse(s.Path(), "a call of UseMauiApp or ConfigureFonts in some source, as in MauiProgram.cs", "none in this project", "write the call where the app is built, then register again")
	}
	for i, f := range job.Faces {
		at := p.Files[i].Path
		p.Entries = s.item(p.Entries, "MauiFont", s.from(at))
		p.Entries = append(p.Entries, edit.Entry{File: s.program, Syntax: msbuild.AddFont{}.Name(), Place: msbuild.AliasPlace(s.alias(job, f)), Value: path.Base(at)})
	}
	if len(job.Roles) == 0 {
		return p, nil
	}
	p.Entries = s.merged(p.Entries, stylesFolder+"/"+xamlFile)
	data := newCode(job, s.namespace, func(f platform.Face) string { return s.alias(job, f) }, func(f platform.Face) string { return s.Place(job, f) })
	data.Maui, data.Export = true, true
	p.Words = s.words(kit.Members(job.Roles, labelMember))
	p.Show = s.shows(job)
	var err error
	p.Code, err = s.sources(data, "AppType.cs.tmpl", stylesFolder)
	return p, err
}

// sources are the class, and the styles where there is an application to merge them.
func (p *project) sources(data code, class, styles string) ([]platform.File, error) {
	data.XAML = p.app != ""
	text, err := platform.Render(templates, class, data)
	out := []platform.File{platform.Code(path.Join(p.Dir, sharpFile), text)}
	if err == nil && data.XAML && len(data.Roles) > 0 {
		text, err = platform.Render(templates, "AppType.xaml.tmpl", data)
		out = append(out, platform.Code(path.Join(p.Dir, styles, xamlFile), text))
	}
	return out, err
}

// labelShortfalls are what a Label cannot express; fixed says why its size follows the
// reader's, "" if it need not.
func labelShortfalls(job platform.Job, fixed, shadow string) []platform.Shortfall {
	return platform.Shortfalls(job, map[string]string{
		platform.PartOutline:  "a Label draws no outline",
		platform.PartFallback: "a FontFamily names one font; the platform chooses what shows where it is missing",
		platform.PartFixed:    fixed,
		platform.PartShadow:   shadow,
	})
}

// Held lists what the program registers, and the fonts that the project takes in.
func (s *mauiSite) Held() ([]platform.Held, error) {
	var out []platform.Held
	for _, a := range s.added {
		h := platform.Held{Manifest: s.program, Line: a.Line, Value: "AddFont " + a.File + " as " + a.Alias, Name: a.File, File: path.Join(s.Dir, fontsFolder, a.File), Strict: true,
			Hint: platform.Hint{Cause: "the file was deleted or renamed, or the name is mistyped: the app reports nothing and shows the system font", Cure: "correct the name, or take the line out"}}
		h.Alias, h.Write = a.Alias, path.Base
		for _, f := range s.Tree.Named(a.File) {
			if rel, inside := s.Rel(f); inside && !strings.HasPrefix(rel, "bin/") && !strings.HasPrefix(rel, "obj/") || s.takenBy("MauiFont", f) {
				h.File = f
			}
		}
		out = append(out, h)
	}
	return append(out, s.held("MauiFont")...), nil
}

// answer goes by the aliases that the program registers, and by ours.
func (s *mauiSite) answer(q platform.Question) platform.Answer {
	// MAUI takes the alias, and the file's name with and without its ending (FontRegistrar, FontManager).
	if slices.ContainsFunc(s.added, func(a msbuild.Registered) bool {
		return slices.Contains([]string{a.Alias, a.File, stemOf(a.File)}, q.Typed)
	}) {
		return platform.Answer{}
	}
	if a := s.answerInner(q); a.Fault != platform.Fine {
		return a
	}
	a := platform.AnswerFace(q, installed.Any)
	if a.Fault == platform.Fine || q.Use.Kind == useAndroid || slices.Contains(q.Once("commented", func() []string { _, aliases := s.inComments(); return aliases }), q.Typed) {
		return platform.Answer{}
	}
	return aliased(q, s.unlessExported(q, a), s.pairs())
}

func stemOf(file string) string { return strings.TrimSuffix(file, path.Ext(file)) }

var appleAlone = lazy.Regexp(`<TargetFrameworks?>\s*(?:net[\d.]+-(?:ios|maccatalyst|tvos)[\d.]*\s*;?\s*)+</TargetFrameworks?>`)

// answerInner judges the name inside a font that the program adds under another one: of all systems iOS alone looks for
// that.
func (s *mauiSite) answerInner(q platform.Question) platform.Answer {
	if q.Use.Kind != "" || appleAlone.MatchString(s.sdk) {
		return platform.Answer{}
	}
	for _, f := range platform.FaceOf(q.Faces, q.Typed) {
		if slices.ContainsFunc(q.Plan.Files, func(w platform.File) bool { return slices.Contains(w.Recipe.Faces(), f.ID()) }) {
			return platform.Answer{}
		}
		for _, a := range s.added {
			if a.File != path.Base(f.File) {
				continue
			}
			right := a.Alias
			if right == "" {
				right = stemOf(a.File)
			}
			return platform.Answer{Fault: platform.UnknownFace, Message: fmt.Sprintf("no font is added as %q", face.Short(q.Typed)),
				Cause: "Android and Windows go by the alias of AddFont, or by the file's name; iOS alone finds the name inside the font", Cure: platform.Choose(right, nil), Instead: right}
		}
	}
	return platform.Answer{}
}

// What MAUI says on Android is of a font that it does not find.
var mauiLogLine = lazy.Regexp(`Unable to load font '([^']+)' from assets`)
