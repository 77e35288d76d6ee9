// Package qt serves Qt 5 and 6 apps: a folder apptype with the fonts, a resource file, a
// loader in C++ that checks what it loaded, a QML singleton with the roles, and the lines
// that take them into the build of CMake or qmake.
package qt

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

// Platform is the Qt platform. Qt tells the faces of a family apart by style name and weight.
var Platform = &kit.Named{Platform: kit.Platform{
	Info: platform.About{
		Name: "qt", Title: "Qt", Kind: platform.ByFamily, Typed: `font.family: "…"`,
		Minimum: "Qt 5.13 or 6; CMake 3.13 or qmake",
		Gets:    "the folder apptype with the fonts, a resource file, apptype.h and .cpp whose loader says what it could not load, and the QML singleton AppType; one line in the build file",
		Cannot:  []string{"outlines", "sizes that are no whole pixels (they are rounded)", "text that follows the reader's size", "line heights of widgets (in QML the role has one)"},
	},
	Names: platform.Families, Find: sites,
}, In: siteIn}

// site is a folder with a build file of an app.
type site struct {
	kit.App
	build  string   // CMakeLists.txt or a .pro; "" where there is a resource file alone
	target string   // of CMake, as the build file writes it
	more   []string // further .pro files of the folder, each of a program with windows
}

var (
	findsQt    = lazy.Regexp(`(?i)\bfind_package\s*\(\s*Qt[56]?\b`)
	executable = lazy.Regexp(`(?i)\b(?:qt6?_)?add_executable\s*\(\s*([\w.${}-]+)`)
	qmakeApp   = lazy.Regexp(`(?m)^\s*QT\s*[+-]?=|^\s*CONFIG\s*\+=\s*qt\b`)
	subdirs    = lazy.Regexp(`(?m)^\s*TEMPLATE\s*=\s*(?:subdirs|lib|aux)\b`)
	// shells are the native parts of an app for phones.
	shells = lazy.Regexp(`(?:^|/)(?:android|ios)(?:/|$)`)
)

// sites finds the folders whose CMakeLists.txt builds a program with Qt, those with a .pro,
// and those with a resource file that no such build is above.
func sites(tree platform.Tree, _ platform.Options) ([]platform.Site, error) {
	var found platform.Found
	var served []string
	add := func(s *site) {
		served = append(served, s.Dir)
		found.Add(s.Path(), s, nil)
	}
	qtAbove := map[string]bool{}
	for _, f := range tree.Named("CMakeLists.txt") {
		dir := platform.Folder(f)
		raw, err := tree.Read(f)
		if err != nil || excluded(tree, dir) {
			continue
		}
		clean := language.CMake.Blank(raw)
		qtAbove[dir] = findsQt.Match(clean) || above(qtAbove, dir)
		if m := executable.FindSubmatch(clean); m != nil && qtAbove[dir] && !console(tree, dir) {
			add(newSite(tree, dir, f, string(m[1])))
		}
	}
	pros := map[string]*site{} // by folder
	for _, f := range tree.Under("") {
		ext, dir := path.Ext(f), platform.Folder(f)
		if first := pros[dir]; ext == ".pro" && first != nil && windowed(tree, f) {
			first.more = append(first.more, f)
			continue
		}
		switch {
		case ext != ".pro" && ext != ".qrc" || slices.Contains(served, dir) || excluded(tree, dir):
		case ext == ".pro":
			if windowed(tree, f) {
				pros[dir] = newSite(tree, dir, f, "")
				add(pros[dir])
			}
		case path.Base(f) != folder+".qrc" && !above(qtAbove, dir) &&
			!slices.ContainsFunc(served, func(s string) bool { return s == "" || strings.HasPrefix(dir, s+"/") }) && !hasPro(tree, dir):
			add(newSite(tree, dir, "", ""))
		}
	}
	return kit.Sorted(&found)
}

// windowed says whether a .pro builds a program with windows.
func windowed(tree platform.Tree, file string) bool {
	raw, err := tree.Read(file)
	clean := language.QMake.Blank(raw)
	return err == nil && qmakeApp.Match(clean) && !subdirs.Match(clean) && !withoutGUI.Match(clean)
}

var (
	withoutGUI = lazy.Regexp(`(?m)^\s*QT\s*-=[^\n]*\bgui\b|^\s*QT\s*=\s*core\s*$`)
	startsGUI  = lazy.Regexp(`\bQ(?:Gui)?Application\b|\bQ(?:Quick|Qml|Widget|MainWindow|Dialog|Font|Painter|Window)\w*|\bSingleApplication\b|\bKAboutData\b`)
	startsCore = lazy.Regexp(`\bQCoreApplication\s+\w+\s*[({]`)
)

// console says whether a folder's program has no windows: it starts as one, and nothing in its sources is of windows.
func console(tree platform.Tree, dir string) bool {
	core := false
	for _, f := range tree.Under(dir) {
		ext := path.Ext(f)
		if ext == ".qml" || ext == ".ui" || ext == ".qrc" {
			return false
		}
		if l := language.Of(f); l != language.CPlus && l != language.ObjectiveC {
			continue
		}
		raw, ok := tree.Glance(f, platform.MostSource)
		if !ok || !language.MayMatch(startsGUI, raw) && !language.MayMatch(startsCore, raw) {
			continue
		}
		clean := language.Of(f).Blank(raw)
		if startsGUI.Match(clean) {
			return false
		}
		core = core || startsCore.Match(clean)
	}
	return core
}

func newSite(tree platform.Tree, dir, build, target string) *site {
	s := &site{App: kit.App{Base: platform.Base{Tree: tree, Dir: dir}, Kind: "Qt", Fonts: path.Join(dir, fontFolder), Asks: uses}, build: build, target: target}
	s.Takes = s.Inside
	return s
}

// above says whether a folder further up asks for Qt.
func above(qt map[string]bool, dir string) bool {
	for dir != "" {
		if dir = platform.Folder(dir); qt[dir] {
			return true
		}
	}
	return false
}

func hasPro(tree platform.Tree, dir string) bool {
	return slices.ContainsFunc(tree.Under(dir), func(f string) bool { return path.Ext(f) == ".pro" && platform.Folder(f) == dir })
}

// excluded says whether a folder is a part of an app for phones, or of another platform's.
func excluded(tree platform.Tree, dir string) bool {
	for at := dir; at != ""; at = platform.Folder(at) {
		if tree.Claim(at) >= platform.Parts {
			return true
		}
	}
	return shells.MatchString(dir)
}

// siteIn is the app in a folder.
func siteIn(tree platform.Tree, dir string, _ platform.Options) (platform.Site, error) {
	s := newSite(tree, dir, "", "")
	for _, f := range tree.Under(s.Dir) {
		if platform.Folder(f) != s.Dir {
			continue
		}
		raw, err := tree.Read(f)
		if m := executable.FindSubmatch(raw); err == nil && path.Base(f) == "CMakeLists.txt" && m != nil {
			s.build, s.target = f, string(m[1])
		} else if path.Ext(f) == ".pro" && s.build == "" {
			s.build = f
		}
	}
	return s, nil
}

func (s *site) next() string {
	if s.build == "" {
		return "take " + folder + "/" + folder + ".qrc and " + folder + ".cpp into the build, and build the app again"
	}
	return "build the app again"
}

// Names of what is generated.
const (
	folder     = "apptype"
	fontFolder = folder + "/fonts"
	prefix     = "/app-type" // of the fonts among the resources
)

// line is a face or a role as the templates write it; empty fields are left out.
type line struct {
	platform.RoleText
	Member, Function            string
	File, Alias                 string // in the resource file
	Path, Family, Style         string // literals of C++
	URL, QMLStyle               string // literals of QML
	Weight, Hint, Pixels, Face  string
	Slanted, HasLine, HasLetter bool
	Smooth                      string // QFont's name of a strategy
}

// code is what the templates show.
type code struct {
	Target          string
	Faces, Roles    []line
	Spaces, Smooths bool // of any role
}

// weights are QFont's names of weights in hundreds.
var weights = map[int]string{100: "Thin", 200: "ExtraLight", 300: "Light", 400: "Normal", 500: "Medium", 600: "DemiBold", 700: "Bold", 800: "ExtraBold", 900: "Black"}

// hints are QFont's names of what shows where a family is missing.
var hints = map[string]string{"sans": "SansSerif", "serif": "Serif", "mono": "Monospace"}

// taken are names that the generated code has itself.
var taken = lazy.Words("loaded faces load missing make report")

func (s *site) code(job platform.Job) code {
	data := code{Target: s.target}
	var names []string
	for _, f := range job.Faces {
		names = append(names, language.QML.Member(language.Camel(language.Words(f.ID())), "face", taken)+"Face")
	}
	faces := map[string]line{}
	for i, n := range language.Unique(names) {
		f := job.Faces[i]
		at := s.Place(job, f)
		resource := prefix + "/" + path.Join("fonts", path.Base(at))
		l := line{RoleText: platform.RoleText{FaceID: platform.Listed(f)}, Member: n, File: language.EscapeXML(platform.Relative(path.Join(s.Dir, folder), at)), Alias: language.EscapeAttribute("fonts/" + path.Base(at)),
			Path: language.CPlus.Literal(":" + resource), Family: language.CPlus.Literal(platform.FamilyOf(f.Face)), URL: language.QML.Literal("qrc:" + resource)}
		if style := f.Style; style == "" || strings.ContainsFunc(style, func(r rune) bool { return r < ' ' || r > '~' }) {
			l.Style = `""` // Qt has another text for it; weight and slant choose the face
		} else {
			l.Style, l.QMLStyle = language.CPlus.Literal(style), language.QML.Literal(style)
		}
		faces[f.ID()] = l
		data.Faces = append(data.Faces, l)
	}
	for _, r := range job.Roles {
		f := faces[r.Face.ID()]
		name := language.Camel(language.Words(r.Name))
		l := line{RoleText: r.Text(), Member: handler(language.QML.Member(name, "role", taken)), Function: language.CPlus.Member(name, "role", taken),
			Family: f.Family, Style: f.Style, QMLStyle: f.QMLStyle, Face: f.Member,
			Weight: weights[platform.Hundreds(r.Face.Weight)], Hint: hints[r.Fallback], Pixels: fmt.Sprint(max(int(r.Size+0.5), 1)), Slanted: r.Face.Slant != face.Upright}
		l.Smooth = "PreferDefault"
		if r.Smooth != nil {
			l.Smooth = map[bool]string{true: "PreferAntialias", false: "NoAntialias"}[*r.Smooth]
		}
		data.Spaces, data.Smooths = data.Spaces || l.Space != "", data.Smooths || r.Smooth != nil
		data.Roles = append(data.Roles, l)
	}
	return data
}

// handler keeps a name from being one of a signal's handler: onSomething.
func handler(name string) string {
	if len(name) > 2 && strings.HasPrefix(name, "on") && name[2] >= 'A' && name[2] <= 'Z' {
		return name + "Type"
	}
	return name
}

// Plan is the folder apptype, and the line in the build file that takes it in.
func (s *site) Plan(job platform.Job) (platform.Plan, error) {
	d := s.Draft(job, templates, s.next(), s.short(job), s.answer)
	if len(job.Roles) == 0 {
		return d.Done()
	}
	names := []string{"apptype.cpp", "apptype.h", "apptype.qrc", "AppType.qml", "qmldir"}
	if list := map[string]string{".pro": "apptype.pri", ".txt": "apptype.cmake"}[path.Ext(s.build)]; list != "" {
		names = append(names, list)
		for _, build := range append([]string{s.build}, s.more...) {
			d.Line(build, source.Last(), "include("+folder+"/"+list+")")
		}
	}
	data := s.code(job)
	members := map[string][]string{}
	for _, r := range data.Roles {
		members["member"], members["function"] = append(members["member"], r.Member), append(members["function"], r.Function)
	}
	ways := []platform.Showing{platform.Way("QML", `Text { text: "07:40"; font: AppType.{member} }`), platform.Way("C++", `label->setFont(AppType::{function}());`)}
	if !s.Holds("import QtQuick", ".qml") {
		slices.Reverse(ways)
	}
	d.Words = []string{"AppType", "apptype"}
	d.Shows(members, ways...)
	for _, name := range names {
		d.Write(name, folder+"/"+name, data)
	}
	return d.Done()
}

func (s *site) short(job platform.Job) []platform.Shortfall {
	short := platform.Shortfalls(job, map[string]string{
		platform.PartSpace:   "",
		platform.PartSmooth:  "in QML the app decides, by renderType; the QFont has it",
		platform.PartLine:    "a QFont holds none; in QML the role has a …Line for lineHeight, with lineHeightMode: Text.FixedHeight",
		platform.PartColour:  "a QFont holds none; in QML the role has a …Colour",
		platform.PartOutline: "a font has none; in QML a Text draws one of a pixel by style: Text.Outline",
	})
	for _, r := range job.Roles {
		if r.Size != float64(int(r.Size)) {
			short = append(short, platform.Shortfall{Role: r.Name, Part: "size", Why: "Qt counts whole pixels: it is rounded"})
		}
	}
	return short
}

// Held lists the fonts below the site: those of resource files are in the app.
func (s *site) Held() ([]platform.Held, error) {
	var out []platform.Held
	for _, f := range s.Tree.Under(s.Dir) {
		if path.Ext(f) != ".qrc" {
			continue
		}
		raw, err := s.Tree.Read(f)
		if err != nil {
			return nil, err
		}
		for _, m := range resourceFile.FindAllSubmatchIndex(language.XML.Blank(raw), -1) {
			name := string(raw[m[2]:m[3]])
			h := platform.Held{Manifest: f, Line: strings.Count(string(raw[:m[2]]), "\n") + 1, Value: "resource " + name, Name: name, File: path.Join(path.Dir(f), name), Strict: true,
				Hint:  platform.Hint{Cause: "the file was deleted or renamed, or the path is mistyped: the build stops", Cure: "correct the path, which counts from the resource file, or take the line out"},
				Write: func(file string) string { return platform.Relative(path.Dir(f), file) }}
			out = append(out, h)
		}
	}
	for _, f := range s.Tree.Under(s.Dir) { // also by CMake, or from the disk
		if platform.IsFont(f) && !slices.ContainsFunc(out, func(h platform.Held) bool { return h.File == f }) {
			out = append(out, platform.Held{Manifest: f, Value: path.Base(f), File: f})
		}
	}
	return out, nil
}

// resourceFile is a font in a resource file.
var resourceFile = lazy.Regexp(`<file(?:\s[^<>]*)?>\s*([^<>]+\.(?i:ttf|otf|ttc))\s*</file>`)
