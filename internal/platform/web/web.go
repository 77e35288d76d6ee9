// Package web serves web pages: the faces as WOFF 2, a style sheet with an @font-face rule
// for each, a class and custom properties for each role, and for each face a stand-in: a
// rule that gives a font of the reader's machine the measures of ours, so that no line
// moves when the font arrives.
//
// Plain pages and the templates of servers link the style sheet and load the fonts early; the
// sources of bundlers and of frameworks import it. What is known of each kind of site is one line
// of a table (kinds.go).
package web

import (
	"bytes"
	"embed"
	"fmt"
	"path"
	"slices"
	"strings"
	"text/template"

	"notaria/internal/edit"
	"notaria/internal/edit/splice"
	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/registry"
)

//go:embed *.tmpl
var texts embed.FS

var templates = lazy.Of(func() *template.Template { return template.Must(template.ParseFS(texts, "*.tmpl")) })

// Platform is the web.
type Platform struct{}

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

// About describes the platform.
func (Platform) About() platform.About {
	return platform.About{
		Varies: true,
		Name:   "web", Title: "Web", Kind: platform.ByFamily, Typed: `font-family: "…"`,
		Minimum: "browsers that read WOFF 2 (from 2018); older ones with formats = [\"woff2\", \"woff\"]",
		Gets:    "WOFF 2 (and WOFF) written by Notaria, app-type.css with @font-face, a class and custom properties for each role, and for each face a stand-in with its measures, so that nothing jumps when the font arrives; linked and loaded early by plain pages and by templates (Hugo, Jekyll, Eleventy, Django, Flask, Rails, Laravel, Symfony, Phoenix, ASP.NET, WordPress, PHP, browser extensions), imported by the sources of bundlers and frameworks (Vite, webpack, Angular, SvelteKit, Nuxt, Astro, Next.js, Gatsby, Docusaurus, VitePress, React Router, Qwik, Ember), entered in mkdocs.yml",
		Cannot:  []string{"early loading in a bundler's pages (their fonts get other names when they are built)"},
		Options: []platform.Option{
			{Key: optFormats, Kind: platform.KindList, Help: "woff2, if absent; woff as well, for browsers before 2018"},
			{Key: optPacking, Kind: platform.KindWord, Help: "fast, if absent; small takes about a second for each face and a twelfth off its size: for what is published"},
			{Key: optAlso, Kind: platform.KindList, Help: "other forms of the roles: theme, app-type.theme.css with @theme entries, so that utility classes are called after roles (font-heading, text-heading); module, app-type.roles.ts or .js, for styles that are written in code and for settings"},
			{Key: optSlices, Kind: platform.KindWord, Help: "none, if absent; scripts splits each face into a file for each script, of which a browser loads those that a page needs; text puts the characters of the site's own texts into the first file"},
			{Key: optDisplay, Kind: platform.KindWord, Help: "swap, if absent: what shows while a font is loading, as CSS has it"},
		},
	}
}

// VariesWith is false where WOFF is asked for: browsers that need it, before 2018, know no variable fonts.
func (Platform) VariesWith(opt platform.Options) bool {
	return !slices.Contains(opt.List(optFormats), formatOne)
}

// Type returns the family: browsers tell its faces apart by weight and slant.
func (Platform) Type(faces []face.Face) []string {
	return platform.Families(faces)
}

// site is a package of a bundler, or a folder of pages.
type site struct {
	platform.Base
	opt   platform.Options
	kind  *kind             // nil for pages of no known kind
	sheet string            // the folder of the style sheet
	hooks []hook            // where it is taken in
	files map[string]bool   // below the folder, once it was asked for one
	parts map[string][]part // of faces, by their names
	own   map[rune]bool     // characters of its texts, once they were asked for

	depends map[string]bool // packages, once they were asked for

	blocksRead bool
	blocksKept []block
}

// outputs are folders that hold what was made of sources, or pages about the code.
var outputs = lazy.Regexp(`(?:^|/)(?:dist|out|coverage|docs?|javadoc|apidocs|target|public/build|www/build|storybook-static|fixtures|__tests__|testdata|playwright-report|_site|site-packages|test-results)(?:/|$)`)

// shells are those of apps whose pages are copies, or are drawn otherwise.
var shells = lazy.Regexp(`(?:^|/)(?:android/app/src|ios/App|platforms/\w+|macos/Runner|windows/runner|linux/runner)(?:/|$)`)

// bundlers are packages that take style sheets in, or frameworks that bring one that does.
var bundlers = strings.Fields(`vite webpack parcel rollup esbuild @rspack/core @rsbuild/core @parcel/core next nuxt @angular/core react-scripts svelte @sveltejs/kit vue astro gatsby
	preact solid-js @remix-run/react @react-router/dev snowpack laravel-mix @vue/cli-service lit`)

// Sites finds packages of bundlers and of frameworks, the projects of programs that make pages, and folders with an
// index.html that links a style sheet of their own.
func (Platform) Sites(tree platform.Tree, opt platform.Options) ([]platform.Site, error) {
	var found platform.Found
	if err := valid(opt); err != nil {
		return nil, err
	}
	var taken []string
	for _, dir := range folders(tree) {
		s := newSite(tree, dir, opt, siteKind(tree, dir))
		if s.isOwn() && !(s.kind.name == "PHP" && partOf(tree, dir, taken)) && s.found() {
			taken = append(taken, dir)
			found.Add(s.Path(), s, nil)
		}
	}
	for _, f := range tree.Named("index.html") {
		dir := platform.Folder(f)
		within := func(t string) bool { return t == dir || t == "" || strings.HasPrefix(dir, t+"/") }
		if excluded(tree, dir) || slices.ContainsFunc(taken, within) {
			continue
		}
		if tree.Claim(f) == platform.Drawn {
			continue
		}
		if s := newSite(tree, dir, opt, nil); s.page() || s.bare() {
			taken = append(taken, dir) // pages further down belong to it
			found.Add(s.Path(), s, nil)
		}
	}
	sites, err := found.All()
	slices.SortStableFunc(sites, func(a, b platform.Site) int { return strings.Compare(a.Path(), b.Path()) })
	return sites, err
}

// SiteIn is the site in a folder; where no page or source takes a style sheet in, ours
// stands alone.
func (Platform) SiteIn(tree platform.Tree, folder string, opt platform.Options) (platform.Site, error) {
	if err := valid(opt); err != nil {
		return nil, err
	}
	s := newSite(tree, platform.Plain(folder), opt, siteKind(tree, platform.Plain(folder)))
	if s.found() || s.page() || s.bare() {
		return s, nil
	}
	if s.kind == nil || s.kind.name == "" {
		s.sheet = s.Dir
	}
	return s, nil
}

// isOwn says whether a folder is no output, and no part of an app of another platform; the sources of a known kind can be
// in a folder for pages about the code.
func (s *site) isOwn() bool {
	if s.kind == nil {
		return false
	}
	if s.kind.name != "" && !shells.MatchString(s.Dir) && aboutCode.MatchString(s.Dir) {
		return !outputs.MatchString(aboutCode.ReplaceAllString(s.Dir, "")) && !excluded(s.Tree, platform.Folder(s.Dir))
	}
	return !excluded(s.Tree, s.Dir)
}

var aboutCode = lazy.Regexp(`(?:^|/)(?:docs?|documentation|website)$`)

// found looks for what takes a style sheet in. A known kind that has its own settings is an app also where nothing does.
func (s *site) found() bool {
	k := s.kind
	if k == nil {
		return false
	}
	if k.told != "" {
		return true
	}
	if len(k.packages) > 0 && s.bundle() {
		s.alsoStories()
		return true
	}
	s.hooks = nil
	if k.name == "" && s.isLibrary() {
		return false
	}
	if s.settle() {
		s.alsoStories()
		return true
	}
	return k.name != "" && k.marked(s.Tree, s.Dir) && k.name != "PHP"
}

func valid(opt platform.Options) error {
	for _, f := range opt.List(optFormats) {
		if f != formatTwo && f != formatOne {
			return platform.Refuse("Web", `"woff2" and "woff" for formats`, fmt.Sprintf("%q", f), "correct it under [target.web] in notaria.toml")
		}
	}
	for _, f := range opt.List(optAlso) {
		if !slices.Contains(forms, f) {
			return platform.Refuse("Web", `"theme" and "module" for also`, fmt.Sprintf("%q", f), "correct it under [target.web] in notaria.toml")
		}
	}
	if w := opt.Word(optPacking); w != "" && w != small && w != fast {
		return platform.Refuse("Web", `"fast" or "small" for packing`, fmt.Sprintf("%q", w), "correct it under [target.web] in notaria.toml")
	}
	switch w := opt.Word(optSlices); {
	case w != "" && w != "none" && w != byScripts && w != byText:
		return platform.Refuse("Web", `"none", "scripts" or "text" for slices`, fmt.Sprintf("%q", w), "correct it under [target.web] in notaria.toml")
	case (w == byScripts || w == byText) && slices.Contains(opt.List(optFormats), formatOne):
		return platform.Refuse("Web", "formats = [\"woff2\"] with slices", "woff as well", "take one of the two out under [target.web] in notaria.toml: browsers that need WOFF take no heed of unicode-range")
	}
	if d := opt.Word(optDisplay); d != "" && !slices.Contains(registry.FontDisplays, d) {
		return platform.Refuse("Web", "one of "+strings.Join(registry.FontDisplays, ", ")+" for font-display", fmt.Sprintf("%q", d), "correct it under [target.web] in notaria.toml")
	}
	return nil
}

func newSite(tree platform.Tree, dir string, opt platform.Options, k *kind) *site {
	return &site{Base: platform.Base{Tree: tree, Dir: dir}, opt: opt, kind: k}
}

// excluded says whether a folder is output, or a part of an app of another platform.
func excluded(tree platform.Tree, dir string) bool {
	if outputs.MatchString(dir) || shells.MatchString(dir) {
		return true
	}
	for at := dir; ; at = platform.Folder(at) {
		if tree.Claim(at) >= platform.Parts {
			return true
		}
		if at == "" {
			return false
		}
	}
}

func (s *site) Title() string {
	if s.kind != nil && s.kind.name != "" {
		return "Web " + s.Path() + " (" + s.kind.name + ")"
	}
	return "Web " + s.Path()
}

func (s *site) next() string {
	if len(s.hooks) == 0 && s.kind != nil && s.kind.hand != "" {
		return s.kind.hand
	}
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
func (s *site) file(job platform.Job, f platform.Face, format string) string {
	at, ok := job.At(f, func(p string) bool {
		rel, inside := s.Rel(p)
		return inside && !platform.IsTest(rel) && path.Ext(p) == "."+format && !s.output(path.Dir(rel))
	})
	if ok {
		return at
	}
	return path.Join(platform.Spelled(s.Tree, path.Join(s.sheet, fontFolder)), platform.FileBase(f.ID())+"."+format)
}

// Plan is each face in the formats of the web, the style sheet, and what takes it in.
func (s *site) Plan(job platform.Job) (platform.Plan, error) {
	p := platform.Plan{Next: s.next(), Answer: func(q platform.Question) platform.Answer { return s.answer(job, q) }}
	if s.kind != nil && s.kind.told != "" {
		p.None = s.kind.told
		return p, nil
	}
	for _, f := range job.Faces {
		parts, err := s.partsOf(job, f)
		if err != nil {
			return p, err
		}
		for _, part := range parts {
			p.Files = append(p.Files, platform.File{Path: s.partFile(f, part), Recipe: s.partRecipe(f, part)})
		}
		if parts != nil {
			continue
		}
		for _, format := range s.formats() {
			var recipe platform.Recipe = platform.WOFF2{Face: f.ID(), Small: s.opt.Word(optPacking) == small}
			if format == formatOne {
				recipe = platform.WOFF{Face: f.ID()}
			}
			p.Files = append(p.Files, platform.File{Path: s.file(job, f, format), Recipe: recipe})
		}
	}
	if len(job.Roles) == 0 {
		return p, nil
	}
	data, err := s.code(job)
	if err != nil {
		return p, err
	}
	text, err := platform.Render(templates, sheetFile+".tmpl", data)
	if err != nil {
		return p, err
	}
	p.Code = []platform.File{platform.Code(path.Join(s.sheet, sheetFile), text)}
	p.Entries = append(s.entries(job), s.fetched(job)...)
	p.Words = platform.ClassWords(job.Roles)
	if err := s.addForms(&p, data); err != nil {
		return p, err
	}
	p.Show = func(role string) []platform.Showing { return s.show(job, role) }
	return p, nil
}

// show is how pages and sheets of the site show a role.
func (s *site) show(job platform.Job, role string) []platform.Showing {
	attribute := platform.Way("HTML", `<h1 class="type-{role}">07:40</h1>`)
	if s.Holds("className=", ".jsx", ".tsx", ".js") {
		attribute = platform.Way("JSX", `<h1 className="type-{role}">07:40</h1>`)
	}
	ways := []platform.Showing{attribute, platform.Way("CSS", `font: var(--type-{role}-weight) var(--type-{role}-size) var(--type-{role}-family);`)}
	if also := s.opt.List(optAlso); slices.Contains(also, formTheme) {
		ways = append(ways, platform.Way("utility classes", "font-{role} text-{role}"))
	}
	if also := s.opt.List(optAlso); slices.Contains(also, formModule) {
		ways = append(ways, platform.Way("TypeScript", "roles[\"{role}\"]"))
	}
	return platform.Ways(job.Roles, role, nil, ways...)
}

// Held lists the fonts that style sheets of the site name now.
func (s *site) Held() ([]platform.Held, error) {
	var list []platform.Held
	for _, f := range s.declaring() {
		raw, ok := s.Tree.Glance(f, platform.MostSource)
		if !ok {
			continue // a program made it
		}
		line := splice.Liner(raw)
		for _, m := range fontURL.FindAllSubmatchIndex(language.Of(f).Blank(raw), -1) {
			name := string(raw[m[2]:m[3]])
			if at, ok := s.judged(f, name); ok {
				list = append(list, platform.Held{Manifest: f, Line: line(m[2]), Value: "url(" + name + ")", Name: name, File: at, Alias: s.familyAt(f, m[2])})
			}
		}
	}
	return list, nil
}

// familyAt is the family that the rule around a place of a sheet declares, "" if there is none.
func (s *site) familyAt(sheet string, at int) string {
	for _, b := range s.blocks() {
		if b.sheet == sheet && b.from <= at && at < b.from+len(b.text) {
			return b.family
		}
	}
	return ""
}

// sheets are the style sheets of the site, without what was made of others.
func (s *site) sheets() []string {
	var list []string
	for _, f := range s.Tree.Under(s.Dir) {
		if rel, _ := s.Rel(f); (language.Of(f) == language.CSS || language.Of(f) == language.SCSS) && !s.output(path.Dir(rel)) {
			list = append(list, f)
		}
	}
	return list
}

// declaring are the style sheets, and the pages and components that declare fonts in a style sheet of their own.
func (s *site) declaring() []string {
	list := s.sheets()
	looked := 0
	for _, f := range s.Tree.Under(s.Dir) {
		rel, _ := s.Rel(f)
		if l := language.Of(f); l == nil || !l.Markup() || !slices.Contains(pages, l) || s.output(path.Dir(rel)) || s.nested(rel) {
			continue
		}
		if looked++; looked > mostLooked {
			break
		}
		if raw, ok := s.Tree.Glance(f, platform.MostSource); ok && bytes.Contains(raw, []byte("@font-face")) {
			list = append(list, f)
		}
	}
	return list
}

// Syntaxes are those of pages' heads, and of what fetches fonts.
func (Platform) Syntaxes() []edit.Syntax { return []edit.Syntax{Head{}, Fetched{}} }

// Skips are the folders of npm, and what the programs make that have their settings in a hidden folder.
func (Platform) Skips() []platform.Skip {
	return []platform.Skip{{Folder: "node_modules"}, {Folder: ".vitepress", Seen: true}, {Folder: ".storybook", Seen: true},
		{Folder: "cache", Beside: settingsOfVitePress}, {Folder: "dist", Beside: settingsOfVitePress}}
}

var settingsOfVitePress = []string{"config.mts", "config.mjs", "config.ts"}
