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

	"notaria/internal/edit/source"
	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/kit"
)

//go:embed *.tmpl
var texts embed.FS

var templates = kit.Templates(texts)

// Platform is the GTK platform. fontconfig tells the faces of a family apart by weight and slant.
var Platform = &kit.Named{Platform: kit.Platform{
	Info: platform.About{
		Name: "gtk", Title: "GTK", Kind: platform.ByFamily, Typed: `font-family: "…"`,
		Minimum: "GTK 3.20 or 4, or Pango alone, with fontconfig; C99 or Python 3.6",
		Gets:    "the folder apptype with the fonts and a style sheet with a class for each role, and a loader that adds them to the application's own fonts and looks at what was really added. With Meson or a Makefile the loader's source is taken into the build by hand",
		Cannot:  []string{"outlines", "text that follows the reader's size", "line heights before GTK 4.6"},
	},
	Names: platform.Families, Find: sites, Log: []*lazy.Pattern{logLine},
}, In: siteIn}

// site is the folder of an app.
type site struct {
	kit.App
	python bool   // else C
	main   string // the source that imports GTK first, for Python
	line   string // of that import
	build  string // CMakeLists.txt, "" for other builds
	target string // of CMake
	three  bool   // GTK 3
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

// sites finds the folders whose build asks for GTK or Pango, and those of Python sources
// that import GTK.
func sites(tree platform.Tree, _ platform.Options) ([]platform.Site, error) {
	var found platform.Found
	var dirs []string
	for _, base := range []string{"meson.build", "CMakeLists.txt", "Makefile"} {
		for _, f := range tree.Named(base) {
			dir := platform.Folder(f)
			raw, err := tree.Read(f)
			if err != nil || slices.Contains(dirs, dir) || within(dirs, dir) || tree.Claim(platform.Folder(dir)) == platform.Whole {
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
		raw, ok := tree.Glance(f, platform.MostSource)
		if !ok || !language.MayMatch(pythonGtk, raw) {
			continue
		}
		clean := language.Python.Blank(raw)
		if m := pythonGtk.FindSubmatch(clean); m != nil {
			dirs = append(dirs, dir)
			found.Add(platform.Shown(dir), &site{App: app(tree, dir), python: true, main: f, line: string(m[1]), three: three.Match(clean)}, nil)
		}
	}
	return kit.Sorted(&found)
}

func app(tree platform.Tree, dir string) kit.App {
	return kit.App{Base: platform.Base{Tree: tree, Dir: dir}, Kind: "GTK", Fonts: path.Join(dir, fontFolder), Asks: uses}
}

// shows are the style class, and in C, where the program takes the sheet in itself, the attributes of Pango.
func (s *site) shows(d *kit.Draft, roles []line) {
	way := platform.Way("Python", `label.add_css_class("type-{role}")`)
	switch {
	case s.python && s.three:
		way.Code = `label.get_style_context().add_class("type-{role}")`
	case !s.python:
		way = platform.Way("C", `gtk_label_set_attributes (GTK_LABEL (label), app_type_{function}_attributes ());`)
	}
	var functions []string
	for _, r := range roles {
		functions = append(functions, r.Function)
	}
	d.Words = append(platform.ClassWords(d.Job.Roles), "app_type", "apptype")
	d.Shows(map[string][]string{"function": functions}, way)
}

// within says whether a folder is below one that is served: its build is a part of that.
func within(dirs []string, dir string) bool {
	return slices.ContainsFunc(dirs, func(d string) bool { return d == "" || strings.HasPrefix(dir, d+"/") })
}

func newSite(tree platform.Tree, dir, build string, text []byte) *site {
	s := &site{App: app(tree, dir), three: three.Match(text)}
	if m := executable.FindSubmatch(text); m != nil && path.Base(build) == "CMakeLists.txt" {
		s.build, s.target = build, string(m[1])
	}
	return s
}

// siteIn is the app in a folder: of Python, where it holds sources of Python alone.
func siteIn(tree platform.Tree, dir string, _ platform.Options) (platform.Site, error) {
	s := &site{App: app(tree, dir)}
	for _, f := range tree.Under(s.Dir) {
		switch path.Ext(f) {
		case ".py":
			s.python = true
		case ".c":
			return &site{App: s.App}, nil
		}
	}
	return s, nil
}

func (s *site) next() string {
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

// line is a face or a role as the templates write it; empty fields are left out.
type line struct {
	platform.RoleText
	Function                     string
	File, PostScript, FamilyName string // literals of the loader's language
	CSSFamily, Generic           string
	Style, PangoStyle, Weight    string
	WeightNumber                 int
	Odd                          bool // the PostScript name is none by the rules
}

// code is what the templates show.
type code struct {
	Three        bool
	Target       string
	Faces, Roles []line
}

// weights are Pango's names of weights in hundreds.
var weights = map[int]string{100: "THIN", 200: "ULTRALIGHT", 300: "LIGHT", 400: "NORMAL", 500: "MEDIUM", 600: "SEMIBOLD", 700: "BOLD", 800: "ULTRABOLD", 900: "HEAVY"}

// pangoWeight is a weight as Pango takes it: a name, or in C any number; Python's enumeration has no others than those with a name.
func (s *site) pangoWeight(w int) string {
	switch name := weights[w]; {
	case s.python:
		return "Pango.Weight." + weights[platform.Hundreds(w)]
	case name != "":
		return "PANGO_WEIGHT_" + name
	}
	return fmt.Sprintf("(PangoWeight) %d", w)
}

// generic are the names that fontconfig has for a role's fallback.
var generic = map[string]string{"sans": "Sans", "serif": "Serif", "mono": "Monospace"}

// taken are names that the Python module has or calls itself.
var taken = lazy.Words("load style report os ctypes set range len")

func (s *site) code(job platform.Job) code {
	data := code{Three: s.three, Target: s.target}
	l, members := language.CPlus, lazy.Words("load report")
	if s.python {
		l, members = language.Python, taken
	}
	for _, f := range job.Faces {
		data.Faces = append(data.Faces, line{RoleText: platform.RoleText{FaceID: platform.Listed(f)}, Odd: !legal.MatchString(f.PostScript), File: l.Literal(path.Base(s.Place(job, f))), PostScript: l.Literal(f.PostScript), FamilyName: l.Literal(platform.FamilyOf(f.Face))})
	}
	name := kit.Snake(l, "role_", members)
	for _, r := range job.Roles {
		w := max(r.Face.Weight, 1)
		if s.three {
			w = platform.Hundreds(w) // its style sheets know no other
		}
		x := line{RoleText: r.Text(), Function: name(r.Name),
			FamilyName: l.Literal(platform.FamilyOf(r.Face.Face)), CSSFamily: language.CSS.Literal(platform.FamilyOf(r.Face.Face)), Generic: generic[r.Fallback], Style: "normal", PangoStyle: "NORMAL", Weight: s.pangoWeight(w), WeightNumber: w}
		if g := generic[r.Fallback]; g != "" && plain(platform.FamilyOf(r.Face.Face)) { // a list, as Pango takes it
			x.FamilyName = l.Literal(platform.FamilyOf(r.Face.Face) + "," + g)
		}
		switch r.Face.Slant {
		case face.Italic:
			x.Style, x.PangoStyle = "italic", "ITALIC"
		case face.Oblique:
			x.Style, x.PangoStyle = "oblique", "OBLIQUE"
		}
		data.Roles = append(data.Roles, x)
	}
	return data
}

// legal matches PostScript names as OpenType allows them (name ID 6).
var legal = lazy.Regexp(`^[!-$&'*-.0-;=?-Z\\^-z|~]{1,63}$`)

// plain says whether a family can stand in a list: a comma begins the next.
func plain(family string) bool { return !strings.Contains(family, ",") }

// Plan is the folder apptype, and the loader.
func (s *site) Plan(job platform.Job) (platform.Plan, error) {
	d := s.Draft(job, templates, s.next(), s.short(job), s.answer)
	if len(job.Roles) == 0 {
		return d.Done()
	}
	data := s.code(job)
	s.shows(d, data.Roles)
	d.Write("app-type.css", folder+"/app-type.css", data)
	if s.python {
		d.Write(moduleFile, moduleFile, data)
		if s.main != "" {
			d.Line(s.main, source.After(s.line), "import app_type")
		}
		return d.Done()
	}
	d.Write("apptype.c", folder+"/apptype.c", data)
	d.Write("apptype.h", folder+"/apptype.h", data)
	if s.build != "" {
		d.Write("apptype.cmake", folder+"/apptype.cmake", data)
		d.Line(s.build, source.Last(), "include("+folder+"/apptype.cmake)")
	}
	d.Unbuilt = s.build == "" && platform.Unbuilt(s.Base, folder)
	return d.Done()
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
