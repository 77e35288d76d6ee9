// Package p5 serves sketches of p5.js 1 and 2, pages and packages: the fonts, and a script
// with an object for each role that loads its font, draws and measures text with it, and
// says on the canvas what could not be loaded.
package p5

import (
	"embed"
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/edit/source"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/kit"
)

//go:embed *.tmpl
var texts embed.FS

var templates = kit.Templates(texts)

// Platform is the platform of p5.js: sketches ask for a font by its path.
var Platform = &kit.Named{Platform: kit.Platform{
	Info: platform.About{
		Name: "p5", Title: "p5.js", Kind: platform.ByFile, Typed: `loadFont('fonts/…')`,
		Minimum: "p5.js 1.4 or 2.0; browsers of 2020",
		Gets:    "pages and packages, global and instance mode: app-type.js with an object for each role that loads, draws and measures; what cannot be loaded is shown on the canvas",
		Cannot:  []string{"tracking and wider spaces in p5.js 1", "another font where a face is missing (an error shows on the canvas)", "shadows in WEBGL", "text that follows the reader's size"},
	},
	Names: platform.FileNames, Find: sites, Claim: claims,
}, In: siteIn}

// site is a folder with pages of sketches, or a package.
type site struct {
	kit.App
	two   bool // p5.js 2, else 1
	pages []page
	pack  bool   // a package: sources import what they use
	code  string // the folder of the script
}

// page is one that loads p5.js on a line of its own.
type page struct{ file, line string }

var (
	outputs   = lazy.Regexp(`(?:^|/)(?:dist|out|build|coverage|docs?|node_modules|libraries|examples)(?:/|$)`)
	ofAddress = lazy.Regexp(`p5@(\d+)|p5\.js/(\d+)\.`)
	ofHeader  = lazy.Regexp(`p5\.js v(\d+)\.`)
	ofVersion = lazy.Regexp(`\bVERSION\s*=\s*["'](\d+)\.`)
	ofPackage = lazy.Regexp(`(\d+)`)
	imported  = lazy.Regexp(`(?m)^\s*import\s[^;\n]*\bfrom\s*["']p5["']|\brequire\s*\(\s*["']p5["']\s*\)`)
)

// sites finds packages that depend on p5.js, and folders of pages that load it.
func sites(tree platform.Tree, _ platform.Options) ([]platform.Site, error) {
	var found platform.Found
	var taken []string
	for _, f := range tree.Named("package.json") {
		dir := platform.Folder(f)
		version := platform.Version(tree, dir, "p5")
		if version == "" || outputs.MatchString(dir) {
			continue
		}
		s := newSite(tree, dir)
		s.pack = true
		if m := ofPackage.FindString(version); m != "" {
			s.two = m != "0" && m != "1"
		}
		if s.findCode() {
			taken = append(taken, dir)
			found.Add(s.Path(), s.seen(), nil)
		}
	}
	folders := map[string]*site{}
	var order []string
	eachPage(tree, func(f string, clean []byte) {
		dir := platform.Folder(f)
		if outputs.MatchString(dir) || slices.ContainsFunc(taken, func(t string) bool { return t == dir || t == "" || strings.HasPrefix(dir, t+"/") }) {
			return
		}
		if folders[dir] == nil {
			folders[dir] = newSite(tree, dir)
			order = append(order, dir)
		}
		folders[dir].see(f, clean)
	})
	for _, dir := range order {
		found.Add(platform.Shown(dir), folders[dir].seen(), nil)
	}
	return kit.Sorted(&found)
}

// newSite makes the site of a folder. Its pages are taken in later, by see.
func newSite(tree platform.Tree, dir string) *site {
	s := &site{App: kit.App{Base: platform.Base{Tree: tree, Dir: dir}, Common: true, Asks: uses}, code: dir}
	s.Takes = func(p string) bool {
		_, inside := s.Rel(p)
		return inside && !outputs.MatchString(path.Dir(p)) && platform.IsFont(p) && path.Ext(p) != ".ttc"
	}
	s.Foreign = func(file string) bool { // what was made of sources, and copies of the library
		rel, ok := s.Rel(file)
		return ok && (outputs.MatchString(path.Dir(rel)) || library.MatchString(path.Base(file)))
	}
	return s
}

// seen is the site when all of it was seen.
func (s *site) seen() *site {
	s.Kind, s.Fonts = "p5.js 1", path.Join(s.code, fontFolder)
	if s.two {
		s.Kind = "p5.js 2"
	}
	return s
}

// siteIn is the sketch in a folder: the page that loads p5.js is told by hand.
func siteIn(tree platform.Tree, dir string, _ platform.Options) (platform.Site, error) {
	s := newSite(tree, dir)
	if v := platform.Version(tree, dir, "p5"); v != "" {
		s.pack, s.two = true, ofPackage.FindString(v) != "1"
		s.findCode()
	}
	return s.seen(), nil
}

// findCode is the folder of the first source that imports p5.js; false if none does.
func (s *site) findCode() bool {
	s.code = s.Dir
	best := -1
	for _, f := range s.Tree.Under(s.Dir) {
		rel, _ := s.Rel(f)
		l := language.Of(f)
		if l != language.JavaScript && l != language.TypeScript || outputs.MatchString(path.Dir(rel)) {
			continue
		}
		raw, ok := s.Tree.Glance(f, platform.MostSource)
		if !ok || !imported.Match(l.Blank(raw)) {
			continue
		}
		if n := strings.Count(rel, "/"); best < 0 || n < best {
			best, s.code = n, platform.Folder(f)
		}
	}
	return best >= 0
}

// mostCopy is how large a copy of p5.js may be, in bytes; those of today have 5 to 6 MB.
const mostCopy = 16 << 20

// see takes a page in. The version is in the script's address, or in its file.
func (s *site) see(file string, clean []byte) {
	m := sketchScript.FindSubmatch(clean)
	if m == nil {
		return // among other code on its line
	}
	s.pages = append(s.pages, page{file, string(m[1])})
	address := string(m[2])
	if v := ofAddress.FindStringSubmatch(address); v != nil {
		s.two = s.two || v[1]+v[2] != "1"
		return
	}
	raw, ok := s.Tree.Glance(path.Join(path.Dir(file), strings.SplitN(address, "?", 2)[0]), mostCopy)
	if !ok {
		return
	}
	if v := ofHeader.FindSubmatch(raw[:min(len(raw), 400)]); v != nil {
		s.two = s.two || string(v[1]) != "1"
	} else if v := ofVersion.FindSubmatch(raw); v != nil {
		s.two = s.two || string(v[1]) != "1"
	}
}

func (s *site) next() string {
	step := "call AppType.load() in preload()"
	if s.two {
		step = "await AppType.load() in async setup()"
	}
	switch {
	case s.pack:
		return "import {AppType} from './app-type.js'; " + step
	case len(s.pages) == 0:
		return "load " + scriptFile + " behind p5.js in the page; " + step
	}
	return step
}

// Names of what is generated.
const (
	scriptFile = "app-type.js"
	fontFolder = "fonts"
)

// line is a role or a file as the templates write it; what is empty is left out.
type line struct {
	platform.RoleText
	Member string
	File   string // of the role's face: its place in the list of files
	Path   string // literal of a file's path
}

type code struct {
	Two, Pack    bool
	Files, Roles []line
}

// taken are names that the object of the roles has itself.
var taken = lazy.Words("load report problems roles name length prototype arguments caller constructor toString valueOf hasOwnProperty")

// reserved are words that a member can be called, but not where a dot does not come before.
func member(role string) string {
	name := language.Camel(strings.Split(role, "-"))
	if name != "" && name[0] >= '0' && name[0] <= '9' {
		name = "role" + name
	}
	if taken.Has(name) {
		return name + "Type"
	}
	return name
}

func (s *site) data(job platform.Job) code {
	l := language.JavaScript
	data := code{Two: s.two, Pack: s.pack}
	at := map[string]int{}
	for i, f := range job.Faces {
		at[f.ID()] = i
		p := platform.Relative(platform.Shown(s.code), s.Place(job, f))
		if s.pack && !strings.HasPrefix(p, ".") {
			p = "./" + p
		}
		data.Files = append(data.Files, line{RoleText: platform.RoleText{FaceID: platform.Listed(f)}, Path: l.Literal(p)})
	}
	names := kit.Members(job.Roles, member)
	for i, r := range job.Roles {
		data.Roles = append(data.Roles, line{RoleText: r.Text(), Member: names[i], File: fmt.Sprint(at[r.Face.ID()])})
	}
	return data
}

// Plan is the fonts, the script, and its element in each page.
func (s *site) Plan(job platform.Job) (platform.Plan, error) {
	data := s.data(job)
	d := s.Draft(job, templates, s.next(), s.short(job), s.answer)
	if len(job.Roles) == 0 {
		return d.Done()
	}
	script := path.Join(s.code, scriptFile)
	d.Words = []string{"AppType"}
	d.Shows(map[string][]string{"member": kit.Members(job.Roles, member)}, platform.Way("JavaScript", `AppType.{member}.text('07:40', 20, 40)`))
	d.Write(scriptFile, platform.Relative(platform.Shown(s.Dir), script), data)
	for _, page := range s.pages {
		d.Line(page.file, source.After(page.line), `<script src="`+language.EscapeAttribute(platform.Relative(path.Dir(page.file), script))+`"></script>`)
	}
	return d.Done()
}

func (s *site) short(job platform.Job) []platform.Shortfall {
	why := map[string]string{
		platform.PartFallback: "a font that cannot be loaded is said on the canvas",
		platform.PartShadow:   "",
	}
	if s.two {
		why[platform.PartSpace] = ""
	} else {
		why[platform.PartTracking] = "p5.js 1 draws the letters of a font itself, without spacing"
	}
	return platform.Shortfalls(job, why)
}

// Held lists the fonts that scripts of the site load now.
func (s *site) Held() ([]platform.Held, error) {
	var list []platform.Held
	for _, f := range s.scripts() {
		raw, ok := s.Tree.Glance(f, platform.MostSource)
		if !ok {
			continue
		}
		l := language.Of(f)
		for _, m := range loads.FindAllSubmatchIndex(l.Blank(raw), -1) {
			name := string(raw[m[2]:m[3]])
			if at, ok := s.find(name); ok {
				list = append(list, platform.Held{Manifest: f, Line: strings.Count(string(raw[:m[2]]), "\n") + 1, Value: "loadFont(" + name + ")", Name: name, File: at})
			}
		}
	}
	return append(list, s.Lying(platform.LooksLikeFont, func(_, rel string) string { return rel })...), nil
}

// scripts are the site's own, without what was made of others.
func (s *site) scripts() []string {
	var list []string
	for _, f := range s.Tree.Under(s.Dir) {
		l := language.Of(f)
		if rel, _ := s.Rel(f); (l == language.JavaScript || l == language.TypeScript) && !outputs.MatchString(path.Dir(rel)) && !library.MatchString(path.Base(f)) {
			list = append(list, f)
		}
	}
	return list
}

// find is the file that an address in a sketch means: from the page, or from the root of
// what a bundler serves; false if it cannot be in the tree.
func (s *site) find(address string) (string, bool) {
	if strings.Contains(address, ":") || strings.ContainsAny(address, "$#{}") || strings.HasPrefix(address, "//") {
		return "", false
	}
	for _, root := range []string{"", "public", "static"} {
		if at := path.Join(s.Dir, root, address); len(s.Tree.Named(path.Base(at))) > 0 && slices.Contains(s.Tree.Named(path.Base(at)), at) {
			return at, true
		}
	}
	at := path.Join(s.Dir, address)
	return at, !s.pack && (s.Dir == "" || strings.HasPrefix(at, s.Dir+"/"))
}
