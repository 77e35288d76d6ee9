// Package gtk serves apps of GTK and Pango: a folder apptype with the fonts and a style
// sheet with a class for each role; and a loader, in C or in Python, that adds the fonts to
// the application's own set of fontconfig and looks at what was really added.
package gtk

import (
	"embed"
	"fmt"
	"path"
	"slices"
	"strings"
	"text/template"

	"notaria/internal/edit"
	"notaria/internal/edit/source"
	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

//go:embed *.tmpl
var texts embed.FS

var templates = lazy.Of(func() *template.Template { return template.Must(template.ParseFS(texts, "*.tmpl")) })

// Platform is the GTK platform.
type Platform struct{}

// About describes the platform.
func (Platform) About() platform.About {
	return platform.About{
		Name: "gtk", Title: "GTK", Kind: platform.ByFamily, Typed: `font-family: "…"`,
		Minimum: "GTK 3.20 or 4, or Pango alone, with fontconfig; C99 or Python 3.6",
		Cannot:  []string{"outlines", "text that follows the reader's size", "line heights before GTK 4.6"},
	}
}

// Type returns the family: fontconfig tells its faces apart by weight and slant.
func (Platform) Type(faces []face.Face) []string {
	return platform.Families(faces)
}

// site is the folder of an app.
type site struct {
	platform.Base
	python bool   // else C
	main   string // the source that imports GTK first, for Python
	line   string // of that import
	build  string // CMakeLists.txt, "" for other builds
	target string // of CMake
	three  bool   // GTK 3
	plan   platform.Job
}

var (
	asks = map[string]*lazy.Pattern{
		"meson.build":    lazy.Regexp(`\bdependency\s*\(\s*'(?:gtk4|gtk\+-3\.0|pangocairo)'`),
		"CMakeLists.txt": lazy.Regexp(`(?i)\bpkg_(?:check|search)_modules?\s*\([^)]*\b(?:gtk4|gtk\+-3\.0|pangocairo)`),
		"Makefile":       lazy.Regexp(`\bpkg-config\b[^\n]*\b(?:gtk4|gtk\+-3\.0|pangocairo)`),
	}
	three      = lazy.Regexp(`gtk\+-3\.0|require_version\s*\(\s*["']Gtk["']\s*,\s*["']3`)
	executable = lazy.Regexp(`(?i)\badd_executable\s*\(\s*([\w.${}-]+)`)
	pythonGtk  = lazy.Regexp(`(?m)^[ \t]*(from gi\.repository import [^\n#(]*\bGtk\b[^\n#(]*?)[ \t]*\r?$`)
)

// Sites finds the folders whose build asks for GTK or Pango, and those of Python sources
// that import GTK.
func (Platform) Sites(tree platform.Tree, opt platform.Options) ([]platform.Site, error) {
	var found platform.Found
	var dirs []string
	for _, base := range []string{"meson.build", "CMakeLists.txt", "Makefile"} {
		for _, f := range tree.Named(base) {
			dir := platform.Folder(f)
			raw, err := tree.Read(f)
			if err != nil || slices.Contains(dirs, dir) || within(dirs, dir) || platform.UsesFlutter(tree, platform.Folder(dir)) {
				continue
			}
			if clean := language.CMake.Blank(raw); asks[base].Match(clean) {
				dirs = append(dirs, dir)
				found.Add(platform.Shown(dir), newSite(tree, dir, f, clean), nil)
			}
		}
	}
	for _, f := range tree.Under("") {
		dir := platform.Folder(f)
		if path.Ext(f) != ".py" || slices.Contains(dirs, dir) || path.Base(f) == moduleFile {
			continue
		}
		raw, ok := tree.Glance(f, platform.LargestSource)
		if !ok {
			continue
		}
		clean := language.Python.Blank(raw)
		if m := pythonGtk.FindSubmatch(clean); m != nil {
			dirs = append(dirs, dir)
			found.Add(platform.Shown(dir), &site{Base: platform.Base{Tree: tree, Dir: dir}, python: true, main: f, line: string(m[1]), three: three.Match(clean)}, nil)
		}
	}
	sites, err := found.All()
	slices.SortStableFunc(sites, func(a, b platform.Site) int { return strings.Compare(a.Path(), b.Path()) })
	return sites, err
}

// within says whether a folder is below one that is served: its build is a part of that.
func within(dirs []string, dir string) bool {
	return slices.ContainsFunc(dirs, func(d string) bool { return d == "" || strings.HasPrefix(dir, d+"/") })
}

func newSite(tree platform.Tree, dir, build string, text []byte) *site {
	s := &site{Base: platform.Base{Tree: tree, Dir: dir}, three: three.Match(text)}
	if m := executable.FindSubmatch(text); m != nil && path.Base(build) == "CMakeLists.txt" {
		s.build, s.target = build, string(m[1])
	}
	return s
}

// SiteIn is the app in a folder: of Python, where it holds sources of Python alone.
func (Platform) SiteIn(tree platform.Tree, folder string, opt platform.Options) (platform.Site, error) {
	s := &site{Base: platform.Base{Tree: tree, Dir: strings.TrimPrefix(folder, ".")}}
	for _, f := range tree.Under(s.Dir) {
		switch path.Ext(f) {
		case ".py":
			s.python = true
		case ".c":
			return &site{Base: s.Base}, nil
		}
	}
	return s, nil
}

func (s *site) Title() string { return "GTK " + s.Path() }

func (s *site) Next() string {
	switch {
	case s.python:
		return "call app_type.style() when the app is activated, and start it again; install the folder " + folder + " with it"
	case s.build != "":
		return "call app_type_load(folder, &error) before the first text, and build the app again; install the folder " + folder + " with it"
	}
	return "take " + folder + "/apptype.c into the build, with fontconfig and pangoft2, call app_type_load(folder, &error) before the first text, and install the folder " + folder
}

// Names of what is generated.
const (
	folder     = "apptype"
	fontFolder = folder + "/fonts"
	moduleFile = "app_type.py"
)

// place is where a face is: the loader looks in one folder.
func (s *site) place(f platform.Face) string { return path.Join(s.Dir, fontFolder, f.Base()) }

// line is a face or a role as the templates write it; empty fields are left out.
type line struct {
	platform.RoleText
	Function, Class, About       string
	File, PostScript, FamilyName string // literals of the loader's language
	CSSFamily, Generic           string
	Style, PangoStyle, Weight    string
	WeightNumber                 int
	CSSColour, ShadowCSS         string
	Odd                          bool // the PostScript name is none by the rules
	Red, Green, Blue             int  // of 65,535
}

// code is what the templates show.
type code struct {
	Three        bool
	Target       string
	Faces, Roles []line
}

// weights are Pango's names of weights in hundreds.
var weights = map[int]string{100: "THIN", 200: "ULTRALIGHT", 300: "LIGHT", 400: "NORMAL", 500: "MEDIUM", 600: "SEMIBOLD", 700: "BOLD", 800: "ULTRABOLD", 900: "HEAVY"}

// generic are the names that fontconfig has for a role's fallback.
var generic = map[string]string{"sans": "Sans", "serif": "Serif", "mono": "Monospace"}

// taken are names that the Python module has or calls itself.
var taken = lazy.Words("load style report os ctypes set range len")

func (s *site) code(job platform.Job) code {
	data := code{Three: s.three, Target: s.target}
	l, own := language.CPlus, lazy.Words("load report")
	if s.python {
		l, own = language.Python, taken
	}
	for _, f := range job.Faces {
		data.Faces = append(data.Faces, line{RoleText: platform.RoleText{FaceID: platform.Listed(f)}, Odd: !legal.MatchString(f.PostScript), File: l.Literal(path.Base(s.place(f))), PostScript: l.Literal(f.PostScript), FamilyName: l.Literal(platform.FamilyOf(f.Face))})
	}
	for _, r := range job.Roles {
		name := language.Snake(strings.Split(r.Name, "-"))
		w := platform.Hundreds(r.Face.Weight)
		x := line{RoleText: r.Text(), Function: l.Member(name, "role_", own), Class: "type-" + r.Name, About: language.CommentText(r.About("pixels")),
			FamilyName: l.Literal(platform.FamilyOf(r.Face.Face)), CSSFamily: language.CSS.Literal(platform.FamilyOf(r.Face.Face)), Generic: generic[r.Fallback], Style: "normal", PangoStyle: "NORMAL", Weight: weights[w], WeightNumber: w}
		if g := generic[r.Fallback]; g != "" && plain(platform.FamilyOf(r.Face.Face)) { // a list, as Pango takes it
			x.FamilyName = l.Literal(platform.FamilyOf(r.Face.Face) + "," + g)
		}
		switch r.Face.Slant {
		case face.Italic:
			x.Style, x.PangoStyle = "italic", "ITALIC"
		case face.Oblique:
			x.Style, x.PangoStyle = "oblique", "OBLIQUE"
		}
		if c := r.Colour; c != nil {
			x.CSSColour = rgba(*c)
			x.Red, x.Green, x.Blue = int(c.R)*257, int(c.G)*257, int(c.B)*257
		}
		if r.Shadow != nil {
			x.ShadowCSS = rgba(r.Shadow.Colour)
		}
		data.Roles = append(data.Roles, x)
	}
	return data
}

// rgba is a colour as GTK 3 and 4 read it.
func rgba(c platform.Colour) string {
	return fmt.Sprintf("rgba(%d, %d, %d, %s)", c.R, c.G, c.B, language.Number(float64(int(c.A)*1000/255)/1000))
}

// legal matches PostScript names as OpenType allows them (name ID 6).
var legal = lazy.Regexp(`^[!-$&'*-.0-;=?-Z\\^-z|~]{1,63}$`)

// plain says whether a family can stand in a list: a comma begins the next.
func plain(family string) bool { return !strings.Contains(family, ",") }

// Plan is the folder apptype, and the loader.
func (s *site) Plan(job platform.Job) (platform.Plan, error) {
	s.plan = job
	p := platform.Plan{Files: job.CopiesAt(s.place), Short: s.short(job)}
	if len(job.Roles) == 0 {
		return p, nil
	}
	data := s.code(job)
	files := map[string]string{"app-type.css": folder + "/app-type.css"}
	names := []string{"app-type.css"}
	if s.python {
		names, files[moduleFile] = append(names, moduleFile), moduleFile
		if s.main != "" {
			p.Entries = append(p.Entries, edit.Entry{File: s.main, Syntax: source.Lines{}.Name(), Place: source.After(s.line), Value: "import app_type"})
		}
	} else {
		names = append(names, "apptype.c", "apptype.h")
		if s.build != "" {
			names = append(names, "apptype.cmake")
			p.Entries = append(p.Entries, edit.Entry{File: s.build, Syntax: source.Lines{}.Name(), Place: source.Last(), Value: "include(" + folder + "/apptype.cmake)"})
		}
		for _, n := range names {
			files[n] = folder + "/" + n
		}
	}
	for _, n := range names {
		text, err := platform.Render(templates, n+".tmpl", data)
		if err != nil {
			return p, err
		}
		p.Code = append(p.Code, platform.Code(path.Join(s.Dir, files[n]), text))
	}
	return p, nil
}

func (s *site) short(job platform.Job) []platform.Shortfall {
	why := map[string]string{platform.PartOutline: "text has no outline; cairo can draw the path of a layout", platform.PartShadow: ""}
	if s.three {
		why[platform.PartLine] = "GTK 3 has no line heights; the attributes of the role have one, from Pango 1.50"
	}
	short := platform.Shortfalls(job, why)
	for _, r := range job.Roles {
		if !plain(platform.FamilyOf(r.Face.Face)) {
			short = append(short, platform.Shortfall{Role: r.Name, Part: platform.PartFace, Why: "a comma in a family's name begins another family: give a copy of the font another name, if its licence allows that"})
		}
	}
	return short
}
