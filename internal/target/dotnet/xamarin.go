package dotnet

import (
	"errors"
	"fmt"
	"path"
	"regexp"
	"strconv"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/face"
	"notaria/internal/target"
)

// Xamarin is the Xamarin.Forms platform.
type Xamarin struct{}

// About describes the platform.
func (Xamarin) About() target.About {
	return target.About{
		Name: "xamarin", Title: "Xamarin.Forms", Typed: `FontFamily="…"`,
		Minimum: "Xamarin.Forms 3 with a shared project of the SDK's form; aliases from 4.5",
		Cannot:  []string{"outlines", "another font where a face is missing", "sizes that do not follow the reader's, on Android", "shared projects of the form .shproj"},
	}
}

// Type gives the alias that a face is exported under: its PostScript name.
func (Xamarin) Type(faces []face.Face) []string { return Maui{}.Type(faces) }

// head is the project of one platform, which holds its own fonts before 4.5.
type head struct {
	project
	ios  bool
	info string // Info.plist of the iOS project
}

type xamarinSite struct {
	project
	export bool // faces are embedded and exported under an alias
	heads  []head
}

const embeddedFolder = "Fonts"

var (
	usesForms    = regexp.MustCompile(`<PackageReference\s+Include\s*=\s*"Xamarin\.Forms"`)
	formsVersion = regexp.MustCompile(`<PackageReference\s+Include\s*=\s*"Xamarin\.Forms"(?:[^>]*?\sVersion\s*=\s*"(\d+)\.(\d+)|[^/>]*>\s*<Version>\s*(\d+)\.(\d+))`)
	isAndroid    = regexp.MustCompile(`Xamarin\.Android\.CSharp\.targets|<AndroidApplication>\s*(?i:true)|MonoAndroid`)
	isIOS        = regexp.MustCompile(`Xamarin\.iOS\.CSharp\.targets|<TargetFrameworkIdentifier>Xamarin\.iOS|Xamarin\.iOS10`)
)

// Sites finds the shared projects of Xamarin.Forms.
func (Xamarin) Sites(tree target.Tree, opt target.Options) ([]target.Site, error) {
	files, docs, err := projects(tree, opt)
	if err != nil {
		return nil, err
	}
	var out []target.Site
	var wrong []error
	for _, file := range files {
		doc := docs[file]
		if !usesForms.MatchString(doc) || isAndroid.MatchString(doc) || isIOS.MatchString(doc) {
			continue
		}
		p, err := newProject(tree, file, doc)
		if err != nil {
			wrong = append(wrong, err)
			continue
		}
		s := &xamarinSite{project: p, export: exports(doc)}
		if s.heads, err = heads(tree, file, files, docs); err != nil {
			return nil, err
		}
		out = append(out, s)
	}
	return out, errors.Join(wrong...)
}

// exports says whether the version has ExportFont, which came with 4.5.
func exports(doc string) bool {
	m := formsVersion.FindStringSubmatch(doc)
	if m == nil {
		return true
	}
	major, _ := strconv.Atoi(m[1] + m[3])
	minor, _ := strconv.Atoi(m[2] + m[4])
	return major > 4 || major == 4 && minor >= 5
}

// heads finds the platforms' projects that refer to a shared one.
func heads(tree target.Tree, shared string, files []string, docs map[string]string) ([]head, error) {
	var out []head
	for _, file := range files {
		doc := docs[file]
		ios := isIOS.MatchString(doc)
		if !ios && !isAndroid.MatchString(doc) || !strings.Contains(strings.ReplaceAll(doc, `\`, "/"), "/"+path.Base(shared)+`"`) {
			continue
		}
		p, err := newProject(tree, file, doc)
		if err != nil {
			return nil, err
		}
		out = append(out, head{project: p, ios: ios, info: beside(tree, p.dir, "Info.plist")})
	}
	return out, nil
}

func (s *xamarinSite) Title() string { return "Xamarin.Forms " + s.Path() }

func (s *xamarinSite) Next() string { return "build the apps of both platforms again" }

// place is where a face lies in the shared project.
func (s *xamarinSite) place(job target.Job, f target.Face) string {
	at, ok := job.At(f, func(p string) bool {
		rel, inside := s.rel(p)
		if !inside {
			return false
		}
		for _, i := range s.items {
			if i.Name == "EmbeddedResource" && i.Covers(rel) {
				return true
			}
		}
		return false
	})
	if ok {
		return at
	}
	return path.Join(s.dir, embeddedFolder, base(f))
}

// folder is where a platform's own project keeps its fonts, and how its items are
// called.
func (h head) folder() (dir, item string) {
	if h.ios {
		return "Resources", "BundleResource"
	}
	return "Assets", "AndroidAsset"
}

// place is where a face lies in a platform's own project.
func (h head) place(job target.Job, f target.Face) string {
	dir, _ := h.folder()
	at, ok := job.At(f, func(p string) bool {
		rel, inside := h.rel(p)
		return inside && path.Dir(rel) == dir
	})
	if ok {
		return at
	}
	return path.Join(h.dir, dir, base(f))
}

// Files wants each face once in the shared project, or in each platform's.
func (s *xamarinSite) Files(job target.Job) ([]target.File, error) {
	var out []target.File
	for _, f := range job.Faces {
		if s.export {
			out = append(out, target.File{Path: s.place(job, f), Copy: f.ID()})
			continue
		}
		for _, h := range s.heads {
			out = append(out, target.File{Path: h.place(job, f), Copy: f.ID()})
		}
	}
	return out, nil
}

// Entries wants the files taken in, named in Info.plist before 4.5, and the styles
// among the app's.
func (s *xamarinSite) Entries(job target.Job) ([]edit.Entry, error) {
	if len(job.Faces) == 0 {
		return nil, nil
	}
	var out []edit.Entry
	for _, f := range job.Faces {
		if s.export {
			rel, _ := s.rel(s.place(job, f))
			out = s.item(out, "EmbeddedResource", rel)
		}
	}
	if !s.export {
		var err error
		if out, err = s.headEntries(job); err != nil {
			return nil, err
		}
	}
	if len(job.Roles) > 0 {
		out = s.merged(out, xamlFile)
	}
	return out, nil
}

func (s *xamarinSite) headEntries(job target.Job) ([]edit.Entry, error) {
	if len(s.heads) == 0 {
		return nil, &target.SiteError{Site: s.Title(), Expected: "projects for Android or iOS that refer to it", Found: "none in this tree",
			Cure: "name a folder that holds them with --project, or raise Xamarin.Forms to 4.5 or later"}
	}
	var out []edit.Entry
	for i := range s.heads {
		h := &s.heads[i]
		_, item := h.folder()
		if h.ios && h.info == "" {
			return nil, &target.SiteError{Site: s.Title(), Expected: "an Info.plist beside " + h.file, Found: "none", Cure: "restore it, then register again"}
		}
		for _, f := range job.Faces {
			rel, _ := h.rel(h.place(job, f))
			out = h.item(out, item, rel)
			if h.ios {
				out = append(out, edit.Entry{File: h.info, Syntax: edit.SyntaxPlist, Place: "UIAppFonts", Value: path.Base(rel)})
			}
		}
	}
	return out, nil
}

// Code wants AppType.cs, which exports the fonts, and AppType.xaml.
func (s *xamarinSite) Code(job target.Job) ([]target.File, error) {
	var out []target.File
	if len(job.Faces) == 0 || !s.export && len(job.Roles) == 0 {
		return nil, nil
	}
	file := func(f target.Face) string {
		if s.export {
			return s.place(job, f)
		}
		return base(f)
	}
	data := newCode(job, s.namespace, func(f target.Face) string { return typed(f.ID()) }, file)
	data.Export, data.XAML = s.export, s.app != ""
	text, err := render("XamarinType.cs.tmpl", data)
	out = append(out, target.File{Path: path.Join(s.dir, sharpFile), Content: text})
	if err == nil && s.app != "" && len(job.Roles) > 0 {
		text, err = render("AppType.xaml.tmpl", data)
		out = append(out, target.File{Path: path.Join(s.dir, xamlFile), Content: text})
	}
	return out, err
}

// Shortfalls are what a Label of Xamarin.Forms cannot say.
func (s *xamarinSite) Shortfalls(job target.Job) []target.Shortfall {
	return target.Shortfalls(job, map[string]string{
		target.PartOutline:  "a Label draws no outline",
		target.PartFallback: "a FontFamily names one font; the platform chooses what shows where it is missing",
		target.PartFixed:    "on Android a size in numbers follows the reader's, on iOS it does not",
	})
}

// Held lists the fonts that the projects take in.
func (s *xamarinSite) Held() ([]target.Held, error) {
	out := s.held("EmbeddedResource")
	for i := range s.heads {
		h := &s.heads[i]
		_, item := h.folder()
		out = append(out, h.held(item)...)
		if h.info == "" {
			continue
		}
		doc, err := s.tree.Read(h.info)
		if err != nil {
			return nil, err
		}
		values, lines, err := edit.PlistArray(h.info, doc, "UIAppFonts")
		if err != nil {
			return nil, fmt.Errorf("%s: %w", s.Title(), err)
		}
		for k, v := range values {
			out = append(out, target.Held{Manifest: h.info, Line: lines[k], Value: v, File: path.Join(h.dir, "Resources", v)})
		}
	}
	return out, nil
}
