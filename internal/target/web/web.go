// Package web serves web pages: the faces as WOFF 2, a style sheet with an @font-face rule
// for each, a class and custom properties for each role, and for each face a stand-in: a
// rule that gives a font of the reader's machine the measures of ours, so that no line
// moves when the font arrives.
//
// Plain pages link the style sheet and load the fonts early; the sources of a bundler
// import it.
package web

import (
	"embed"
	"encoding/json"
	"fmt"
	"path"
	"slices"
	"strings"
	"text/template"

	"notaria/internal/edit/splice"
	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/target"
)

//go:embed app-type.css.tmpl
var texts embed.FS

var templates = lazy.Of(func() *template.Template { return template.Must(template.ParseFS(texts, "*.tmpl")) })

// Target is the web.
type Target struct{}

// Options.
const (
	optFormats = "formats"
	optDisplay = "font-display"
	optPacking = "packing"
	small      = "small"
	fast       = "fast"
	formatTwo  = "woff2"
	formatOne  = "woff"
)

// displays are the values of font-display (CSS Fonts 4, 4.9).
var displays = []string{"auto", "block", "swap", "fallback", "optional"}

// About describes the platform.
func (Target) About() target.About {
	return target.About{
		Name: "web", Title: "Web", Kind: target.ByFamily, Typed: `font-family: "…"`,
		Minimum: "browsers that read WOFF 2 (from 2018); older ones with formats = [\"woff2\", \"woff\"]",
		Cannot:  []string{"early loading in a bundler's pages (their fonts get other names when they are built)"},
		Options: []target.Option{
			{Key: optFormats, Kind: target.KindList, Help: "woff2, if absent; woff as well, for browsers before 2018"},
			{Key: optPacking, Kind: target.KindWord, Help: "fast, if absent; small takes about a second for each face and a twelfth off its size: for what is published"},
			{Key: optDisplay, Kind: target.KindWord, Help: "swap, if absent: what shows while a font is loading, as CSS has it"},
		},
	}
}

// Type returns the family: browsers tell its faces apart by weight and slant.
func (Target) Type(faces []face.Face) []string {
	return target.Families(faces)
}

// site is a package of a bundler, or a folder of pages.
type site struct {
	target.Base
	opt   target.Options
	sheet string // the folder of the style sheet
	hooks []hook // where it is taken in
	plan  target.Job
	files map[string]bool // below the folder, once it was asked for one

	blocksRead bool
	blocksKept []block
}

// out are folders that hold what was made of sources, or pages about the code.
var out = lazy.Regexp(`(?:^|/)(?:dist|out|coverage|docs?|javadoc|apidocs|target|public/build|www/build|storybook-static|fixtures|__tests__|testdata|playwright-report|_site|site-packages|test-results)(?:/|$)`)

// shells are those of apps whose pages are copies, or are drawn otherwise.
var shells = lazy.Regexp(`(?:^|/)(?:android/app/src|ios/App|platforms/\w+|macos/Runner|windows/runner|linux/runner)(?:/|$)`)

// bundlers are packages that take style sheets in, or frameworks that bring one that does.
var bundlers = lazy.Words(`vite webpack parcel rollup esbuild @rspack/core @parcel/core next nuxt @angular/core react-scripts svelte @sveltejs/kit vue astro gatsby
	preact solid-js @remix-run/react @react-router/dev snowpack laravel-mix @vue/cli-service lit`)

// Sites finds packages of bundlers with a style sheet that they import, and folders with an
// index.html that links a style sheet of their own.
func (Target) Sites(tree target.Tree, opt target.Options) ([]target.Site, error) {
	var found target.Found
	if err := valid(opt); err != nil {
		return nil, err
	}
	var taken []string
	for _, f := range tree.Named("package.json") {
		dir := target.Folder(f)
		if passed(tree, dir) || !bundled(tree, dir) {
			continue
		}
		if s := newSite(tree, dir, opt); s.bundle() {
			taken = append(taken, dir)
			found.Add(s.Path(), s, nil)
		}
	}
	for _, f := range tree.Named("index.html") {
		dir := target.Folder(f)
		within := func(t string) bool { return t == dir || t == "" || strings.HasPrefix(dir, t+"/") }
		if passed(tree, dir) || slices.ContainsFunc(taken, within) {
			continue
		}
		if raw, ok := tree.Glance(f, target.LargestSource); ok && target.IsSketch(language.HTML.Blank(raw)) {
			continue // its text is drawn
		}
		if s := newSite(tree, dir, opt); s.page() {
			taken = append(taken, dir) // pages further down belong to it
			found.Add(s.Path(), s, nil)
		}
	}
	sites, err := found.All()
	slices.SortStableFunc(sites, func(a, b target.Site) int { return strings.Compare(a.Path(), b.Path()) })
	return sites, err
}

// SiteIn is the site in a folder; where no page or source takes a style sheet in, ours
// stands alone.
func (Target) SiteIn(tree target.Tree, folder string, opt target.Options) (target.Site, error) {
	if err := valid(opt); err != nil {
		return nil, err
	}
	s := newSite(tree, strings.TrimPrefix(folder, "."), opt)
	if bundled(tree, s.Dir) && s.bundle() || s.page() {
		return s, nil
	}
	s.sheet = s.Dir
	return s, nil
}

func valid(opt target.Options) error {
	for _, f := range opt.List(optFormats) {
		if f != formatTwo && f != formatOne {
			return target.Refuse("Web", `"woff2" and "woff" for formats`, fmt.Sprintf("%q", f), "correct it under [target.web] in notaria.toml")
		}
	}
	if w := opt.Word(optPacking); w != "" && w != small && w != fast {
		return target.Refuse("Web", `"fast" or "small" for packing`, fmt.Sprintf("%q", w), "correct it under [target.web] in notaria.toml")
	}
	if d := opt.Word(optDisplay); d != "" && !slices.Contains(displays, d) {
		return target.Refuse("Web", "one of "+strings.Join(displays, ", ")+" for font-display", fmt.Sprintf("%q", d), "correct it under [target.web] in notaria.toml")
	}
	return nil
}

func newSite(tree target.Tree, dir string, opt target.Options) *site {
	return &site{Base: target.Base{Tree: tree, Dir: dir}, opt: opt}
}

// passed says whether a folder is output, or a part of an app of another platform.
func passed(tree target.Tree, dir string) bool {
	if out.MatchString(dir) || shells.MatchString(dir) {
		return true
	}
	for at := dir; ; at = target.Folder(at) {
		if target.UsesFlutter(tree, at) || target.UsesExpo(tree, at) || target.UsesReactNative(tree, at) {
			return true
		}
		if at == "" {
			return false
		}
	}
}

// bundled says whether a package depends on a bundler or a framework.
func bundled(tree target.Tree, dir string) bool {
	raw, err := tree.Read(path.Join(dir, "package.json"))
	if err != nil {
		return false
	}
	var p struct {
		Dependencies    map[string]any `json:"dependencies"`
		DevDependencies map[string]any `json:"devDependencies"`
	}
	if json.Unmarshal(raw, &p) != nil {
		return false
	}
	for _, list := range []map[string]any{p.Dependencies, p.DevDependencies} {
		for name := range list {
			if bundlers.Has(name) {
				return true
			}
		}
	}
	return false
}

func (s *site) Title() string { return "Web " + s.Path() }

func (s *site) Next() string {
	if len(s.hooks) == 0 {
		return "link or import " + path.Join(s.sheet, sheetFile) + " where the pages take their style sheets in"
	}
	return "load the page again, without the browser's cache"
}

// Names of what is generated.
const (
	sheetFile  = "app-type.css"
	fontFolder = "fonts"
)

// formats are those that a face gets, the best first.
func (s *site) formats() []string {
	if slices.Contains(s.opt.List(optFormats), formatOne) {
		return []string{formatTwo, formatOne}
	}
	return []string{formatTwo}
}

// file is a face in one format: where somebody put it on the site, else where ours go.
func (s *site) file(job target.Job, f target.Face, format string) string {
	at, ok := job.At(f, func(p string) bool {
		rel, inside := s.Rel(p)
		return inside && !target.IsTest(rel) && path.Ext(p) == "."+format && !out.MatchString(path.Dir(p))
	})
	if ok {
		return at
	}
	return path.Join(target.Spelled(s.Tree, path.Join(s.sheet, fontFolder)), target.FileBase(f.ID())+"."+format)
}

// Plan is each face in the formats of the web, the style sheet, and what takes it in.
func (s *site) Plan(job target.Job) (target.Plan, error) {
	s.plan = job
	var p target.Plan
	for _, f := range job.Faces {
		for _, format := range s.formats() {
			var recipe target.Recipe = target.WOFF2{Face: f.ID(), Small: s.opt.Word(optPacking) == small}
			if format == formatOne {
				recipe = target.WOFF{Face: f.ID()}
			}
			p.Files = append(p.Files, target.File{Path: s.file(job, f, format), Recipe: recipe})
		}
	}
	if len(job.Roles) == 0 {
		return p, nil
	}
	data, err := s.code(job)
	if err != nil {
		return p, err
	}
	text, err := target.Render(templates, sheetFile+".tmpl", data)
	if err != nil {
		return p, err
	}
	p.Code = []target.File{target.Code(path.Join(s.sheet, sheetFile), text)}
	p.Entries = s.entries(job)
	return p, nil
}

// Held lists the fonts that style sheets of the site name now.
func (s *site) Held() ([]target.Held, error) {
	var list []target.Held
	for _, f := range s.sheets() {
		raw, ok := s.Tree.Glance(f, target.LargestSource)
		if !ok {
			continue // a program made it
		}
		for _, m := range fontURL.FindAllSubmatchIndex(language.Of(f).Blank(raw), -1) {
			name := string(raw[m[2]:m[3]])
			if at, ok := s.find(f, name); ok {
				list = append(list, target.Held{Manifest: f, Line: splice.LineOf(raw, m[2]), Value: "url(" + name + ")", Name: name, File: at})
			}
		}
	}
	return list, nil
}

// sheets are the style sheets of the site, without what was made of others.
func (s *site) sheets() []string {
	var list []string
	for _, f := range s.Tree.Under(s.Dir) {
		if rel, _ := s.Rel(f); (language.Of(f) == language.CSS || language.Of(f) == language.SCSS) && !out.MatchString(path.Dir(rel)) {
			list = append(list, f)
		}
	}
	return list
}
