package web

import (
	"encoding/json"
	"path"
	"slices"
	"strings"
	"sync"

	"notaria/internal/edit"
	"notaria/internal/edit/source"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

// A kind is a way in which sites are made, of which it is known where a style sheet is taken in.
type kind struct {
	name     string
	packages []string      // package.json names one of them
	marks    []string      // paths from the site's folder: one is there; where no packages are named, it shows the site
	holds    *lazy.Pattern // in that file; nil: anything
	doors    []door        // the first that is open counts
	home     string        // the folder of the style sheet, from the site's, where none is open
	served   string        // the folder whose files are served as they are; "" if a program gives them other names
	made     *lazy.Pattern // folders of its outputs, besides those that all have
	own      string        // a folder of its sources whose name is that of an output elsewhere
	hand     string        // what a person does where no door is open
	told     string        // why such pages get no fonts
	beside   string        // a folder that lies in the site's, where the marks alone are too common to be read
}

// A door is a place where a style sheet can be taken in.
type door struct {
	way   way
	files *lazy.Pattern        // of paths from the site's folder
	find  func(*site) []string // in place of files: paths from the site's folder
	avoid *lazy.Pattern        // paths that do not count
	all   bool                 // each of the files makes pages of its own
	// home is the folder of the style sheet: from the site's, or, where it begins with a point, from the file's.
	home    string
	address string // for heads: how a template writes the path %s from the home; "" for one from the file
	before  string // for heads: what the template has to have said
	// write is how an entry of settings is written.
	write func(s *site, doc edit.Document) (hook, bool)
	// at is in place of home and address, where they differ from file to file.
	at func(s *site, rel string) (home, address string)
}

// A way is how a style sheet is taken in at a door.
type way int

const (
	inScript   way = iota // import "./app-type.css" in a script or a component
	inSheet               // @import "./app-type.css" in a style sheet
	inHead                // <link> in a page's head
	inSettings            // an element of a list in a program's settings
)

// Sources that are the beginning of pages.
var (
	nextLayout = lazy.Regexp(`^(?:src/)?app/(?:(?:\[[^/]*\]|\([^/]*\))/)*layout\.(?:[jt]sx?)$`)
	nextApp    = lazy.Regexp(`^(?:src/)?pages/_app\.(?:[jt]sx?)$`)
	mails      = lazy.Regexp(`(?i)(?:^|[/_.-])(?:e?mails?|mailers?|newsletters?|pdf|vendor|admin|amp|feeds?|errors?)(?:[/_.-]|$)`)
)

// kinds are those of which more is known than that a bundler is used, those that use others first.
var kinds = sync.OnceValue(func() []*kind {
	return []*kind{
		{name: "Angular", packages: []string{"@angular/core"}, marks: []string{"angular.json"}, home: "src",
			doors: []door{{way: inSheet, find: angularSheets, all: true}}, hand: `add "src/app-type.css" to "styles" in angular.json`},
		{name: "SvelteKit", packages: []string{"@sveltejs/kit"}, marks: []string{"src/app.html"}, home: "src",
			doors: []door{{way: inScript, files: lazy.Regexp(`^src/routes/(?:\([^/]*\)/)?\+layout\.svelte$`), all: true, home: ".."}}, hand: `import "../app-type.css" in the script of src/routes/+layout.svelte`},
		{name: "Nuxt", packages: []string{"nuxt", "nuxt3"}, marks: []string{"nuxt.config.ts", "nuxt.config.js", "nuxt.config.mjs"}, home: "assets",
			doors: []door{{way: inSettings, files: lazy.Regexp(`^nuxt\.config\.(?:ts|mts|js|mjs)$`), write: nuxtSetting}, {way: inScript, files: lazy.Regexp(`^(?:app/|src/)?app\.vue$`), home: "assets"}},
			hand:  `add "~/assets/app-type.css" to css in nuxt.config`},
		{name: "Docusaurus", packages: []string{"@docusaurus/core"}, marks: []string{"docusaurus.config.js", "docusaurus.config.ts"}, home: "src/css",
			doors: []door{{way: inSheet, find: docusaurusSheets}}, hand: "name src/css/app-type.css in customCss in docusaurus.config.js"},
		{name: "VitePress", marks: []string{".vitepress/config.ts", ".vitepress/config.mts", ".vitepress/config.js", ".vitepress/config.mjs"}, made: lazy.Regexp(`^\.vitepress/(?:cache|dist)(?:/|$)`), home: ".vitepress/theme",
			doors: []door{{way: inScript, files: lazy.Regexp(`^\.vitepress/theme/index\.(?:m?[jt]s)$`)}}, hand: `import "./app-type.css" in .vitepress/theme/index.js`},
		{name: "Astro", packages: []string{"astro"}, marks: []string{"astro.config.mjs", "astro.config.ts", "astro.config.js", "astro.config.mts"}, home: "src/styles",
			doors: []door{{way: inScript, find: astroPages, all: true, home: "src/styles"}}, hand: `import "../styles/app-type.css" between the --- of the layout, or name it in customCss`},
		{name: "Next.js", packages: []string{"next"}, marks: []string{"next.config.js", "next.config.ts", "next.config.mjs"}, home: "styles",
			doors: []door{{way: inScript, files: nextLayout, avoid: mails}, {way: inScript, files: nextApp, home: "../styles"}}, hand: "import app-type.css in app/layout or in pages/_app"},
		{name: "Gatsby", packages: []string{"gatsby"}, marks: []string{"gatsby-config.js", "gatsby-config.ts"}, home: "src",
			doors: []door{{way: inScript, files: lazy.Regexp(`^gatsby-browser\.(?:[jt]sx?)$`), home: "src"}, {way: inScript, files: lazy.Regexp(`^src/(?:layouts/index|components/layout)\.(?:[jt]sx?)$`)}}, hand: `import "./src/app-type.css" in gatsby-browser.js`},
		{name: "React Router", packages: []string{"@react-router/dev", "@remix-run/dev"}, marks: []string{"vite.config.ts", "vite.config.js", "vite.config.mts"}, home: "app",
			doors: []door{{way: inScript, files: lazy.Regexp(`^app/root\.(?:[jt]sx)$`)}}, hand: `import "./app-type.css" in app/root`},
		{name: "SolidStart", packages: []string{"@solidjs/start"}, home: "src", doors: []door{{way: inScript, files: lazy.Regexp(`^src/app\.(?:[jt]sx)$`)}}, hand: `import "./app-type.css" in src/app`},
		{name: "Qwik", packages: []string{"@builder.io/qwik", "@qwik.dev/core"}, home: "src", doors: []door{{way: inScript, files: lazy.Regexp(`^src/root\.(?:[jt]sx)$`)}}, hand: `import "./app-type.css" in src/root.tsx`},
		{name: "Ember", packages: []string{"ember-source"}, marks: []string{"ember-cli-build.js", "ember-cli-build.mjs", "ember-cli-build.cjs"}, home: "app",
			doors: []door{{way: inScript, find: emberApp}, {way: inHead, files: lazy.Regexp(`^app/index\.html$`), home: "public", address: "{{rootURL}}%s"}}, served: "public", hand: "link app-type.css in app/index.html"},
		{name: "Eleventy", packages: []string{"@11ty/eleventy"}, marks: []string{".eleventy.js", "eleventy.config.js", "eleventy.config.mjs", "eleventy.config.cjs"},
			doors: []door{{way: inHead, files: lazy.Regexp(`^(?:[\w-]+/)?_?(?:includes|layouts|components)/.*\.(?:njk|liquid|html|ejs|hbs|eta|webc)$`), avoid: mails, all: true, at: eleventyAt}}, home: "public", hand: "copy the folder with addPassthroughCopy, and link app-type.css in the layout"},
		{name: "Hugo", marks: []string{"hugo.toml", "hugo.yaml", "hugo.yml", "hugo.json", "config.toml", "config.yaml", "config/_default/hugo.toml", "config/_default/config.toml"}, holds: lazy.Regexp(`(?im)^\s*"?(?:baseURL|languageCode|theme)\b`),
			doors: []door{
				{way: inHead, files: lazy.Regexp(`^layouts/.*\.html$`), avoid: mails, all: true, home: "static", address: `{{ "%s" | relURL }}`},
				{way: inHead, files: lazy.Regexp(`^themes/[^/]+/layouts/.*\.html$`), avoid: mails, all: true, home: "static", address: `{{ "%s" | relURL }}`}},
			home: "static", served: "static", made: lazy.Regexp(`^(?:public|resources)(?:/|$)`), hand: "link app-type.css in the head of the layout"},
		{name: "Jekyll", marks: []string{"_config.yml", "_config.yaml"}, holds: lazy.Regexp(`(?m)^(?:title|theme|remote_theme|plugins|permalink|markdown|baseurl)\s*:`),
			doors: []door{{way: inHead, files: lazy.Regexp(`^_(?:layouts|includes)/.*\.html$`), avoid: mails, all: true, home: "assets", address: `{{ '/assets/%s' | relative_url }}`}},
			home:  "assets", hand: "link assets/app-type.css in _includes/custom-head.html or in the layout"},
		{name: "Django", marks: []string{"manage.py"}, holds: lazy.Regexp(`django`), doors: []door{{way: inHead, files: lazy.Regexp(`(?:^|/)(?:templates|jinja2)/.*\.html$`), avoid: mails, all: true, at: djangoAt, before: "{% load static %}"}},
			home: "static", hand: "link app-type.css in the base template, and name its folder in STATICFILES_DIRS"},
		{name: "Flask", beside: "templates", marks: []string{"app.py", "wsgi.py", "main.py", "__init__.py", "application.py"}, holds: lazy.Regexp(`\bFlask\s*\(`),
			doors: []door{{way: inHead, files: lazy.Regexp(`^templates/.*\.(?:html|jinja2?|j2)$`), avoid: mails, all: true, home: "static", address: "{{ url_for('static', filename='%s') }}"}},
			home:  "static", hand: "link static/app-type.css in the base template"},
		{name: "Rails", marks: []string{"config/application.rb"}, holds: lazy.Regexp(`Rails::Application`),
			doors: []door{{way: inHead, files: lazy.Regexp(`^app/views/layouts/[^/]*\.erb$`), avoid: mails, all: true, home: "public", address: `<%= asset_path '/%s' %>`}},
			home:  "public", served: "public", made: lazy.Regexp(`^(?:public/(?:assets|packs|vite)|tmp|log)(?:/|$)`), hand: `write <%= stylesheet_link_tag "/app-type.css" %> in app/views/layouts/application`},
		{name: "Laravel", marks: []string{"artisan"}, holds: lazy.Regexp(`(?i)laravel|Illuminate|bootstrap/app\.php`),
			doors: []door{{way: inHead, files: lazy.Regexp(`^resources/views/.*\.blade\.php$`), avoid: mails, all: true, home: "public", address: `{{ asset('%s') }}`}},
			home:  "public", served: "public", made: lazy.Regexp(`^(?:storage|vendor|bootstrap/cache)(?:/|$)`), hand: "link {{ asset('app-type.css') }} in the layout"},
		{name: "Symfony", marks: []string{"config/bundles.php"},
			doors: []door{{way: inHead, files: lazy.Regexp(`^templates/.*\.twig$`), avoid: mails, all: true, home: "public", address: `{{ asset('%s') }}`}},
			home:  "public", served: "public", made: lazy.Regexp(`^(?:var|vendor)(?:/|$)`), hand: "link {{ asset('app-type.css') }} in base.html.twig"},
		{name: "Phoenix", marks: []string{"mix.exs"}, holds: lazy.Regexp(`:phoenix\b`),
			doors: []door{{way: inHead, files: lazy.Regexp(`^lib/\w+_web/(?:components/layouts|templates/layout)/root\.html\.heex$`), home: "priv/static/fonts", address: `{~p"/fonts/%s"}`}},
			home:  "priv/static/fonts", served: "priv/static", made: lazy.Regexp(`^(?:_build|deps)(?:/|$)`), hand: "link /fonts/app-type.css in root.html.heex"},
		{name: "MkDocs", marks: []string{"mkdocs.yml", "mkdocs.yaml"}, own: "docs", home: "docs/stylesheets", made: lazy.Regexp(`^site(?:/|$)`),
			doors: []door{{way: inSettings, files: lazy.Regexp(`^mkdocs\.ya?ml$`), write: mkdocsSetting}}, hand: "add stylesheets/app-type.css to extra_css in mkdocs.yml"},
		{name: "WordPress theme", marks: []string{"functions.php"}, holds: lazy.Regexp(`add_theme_support|after_setup_theme|get_theme_file_uri|get_template_directory|get_stylesheet_`),
			doors: []door{{way: inHead, files: lazy.Regexp(`^header\.php$`), home: "assets", address: "<?php echo esc_url( get_theme_file_uri( 'assets/%s' ) ); ?>"}},
			home:  "assets", hand: "write wp_enqueue_style( 'app-type', get_theme_file_uri( 'assets/app-type.css' ) ) in functions.php"},
		{name: "ASP.NET", marks: []string{"Pages/Shared/_Layout.cshtml", "Views/Shared/_Layout.cshtml", "Components/App.razor"},
			doors: []door{{way: inHead, files: lazy.Regexp(`^(?:Pages|Views)/Shared/_Layout\.cshtml$`), home: "wwwroot", address: "~/%s"}, {way: inHead, files: lazy.Regexp(`^Components/App\.razor$`), home: "wwwroot", address: "%s"}},
			home:  "wwwroot", served: "wwwroot", made: lazy.Regexp(`^(?:bin|obj)(?:/|$)`), hand: "link app-type.css in the layout"},
		{name: "browser extension", marks: []string{"manifest.json"}, holds: lazy.Regexp(`"manifest_version"\s*:\s*[23]\b`), doors: []door{{way: inHead, find: extensionPages, all: true, home: "."}}, hand: "link app-type.css in the extension's pages"},
		{name: "PHP", marks: []string{"index.php"}, holds: lazy.Regexp(`(?i)</head\s*>|\b(?:include|require)(?:_once)?\b[^;\n]*(?:head|layout|top)[^;\n]*\.(?:php|inc|html)`), doors: []door{{way: inHead, files: lazy.Regexp(`^(?:[\w-]+/)?[\w.-]+\.(?:php|phtml|inc|html)$`), avoid: mails, all: true, home: "assets", address: "assets/%s"}}, hand: "link app-type.css in the head of the pages"},
		{name: "mail templates", packages: []string{"mjml", "@react-email/components", "react-email", "@maizzle/framework"}, told: "mail programs do not load fonts: name a font of the readers' systems in the styles of mails"},
		{packages: bundlers, home: "src", doors: []door{{way: inScript, find: pageScript}, {way: inScript, find: usualScript}}},
	}
})

// named is the dependencies of all sorts that a package.json has.
func named(tree platform.Tree, dir string) map[string]bool {
	raw, err := tree.Read(path.Join(dir, "package.json"))
	if err != nil {
		return nil
	}
	var p struct {
		Dependencies    map[string]any `json:"dependencies"`
		DevDependencies map[string]any `json:"devDependencies"`
	}
	if json.Unmarshal(platform.WithoutMark(raw), &p) != nil {
		return nil
	}
	out := map[string]bool{}
	for _, list := range []map[string]any{p.Dependencies, p.DevDependencies} {
		for name := range list {
			out[name] = true
		}
	}
	return out
}

// siteKind is the kind of the site in a folder, nil if none is known.
func siteKind(tree platform.Tree, dir string) *kind {
	packages := named(tree, dir)
	for _, k := range kinds() {
		if len(k.packages) > 0 && slices.ContainsFunc(k.packages, func(p string) bool { return packages[p] }) || len(k.packages) == 0 && k.marked(tree, dir) {
			return k
		}
	}
	return nil
}

// marked says whether one of a kind's files is in a folder, and holds what it should.
func (k *kind) marked(tree platform.Tree, dir string) bool {
	return slices.ContainsFunc(k.marks, func(mark string) bool {
		f := path.Join(dir, mark)
		return slices.Contains(tree.Named(path.Base(mark)), f) && (k.holds == nil || holds(tree, f, k.holds))
	})
}

func holds(tree platform.Tree, file string, what *lazy.Pattern) bool {
	raw, ok := tree.Glance(file, platform.MostSource)
	return ok && what.Match(raw)
}

// folders are those in which a file lies that can show a site, in the tree's order, those with settings before packages.
func folders(tree platform.Tree) []string {
	var list []string
	seen := map[string]bool{}
	add := func(dir string) {
		if !seen[dir] {
			seen[dir] = true
			list = append(list, dir)
		}
	}
	for _, k := range kinds() {
		if len(k.packages) > 0 {
			continue
		}
		for _, mark := range k.marks {
			for _, f := range tree.Named(path.Base(mark)) {
				dir, ok := strings.CutSuffix("/"+f, "/"+mark)
				if ok && k.beside != "" {
					ok = len(tree.Under(path.Join(strings.TrimPrefix(dir, "/"), k.beside))) > 0
				}
				if ok && (k.holds == nil || holds(tree, f, k.holds)) {
					add(strings.TrimPrefix(dir, "/"))
				}
			}
		}
	}
	for _, f := range tree.Named("package.json") {
		add(platform.Folder(f))
	}
	return list
}

// partOf says whether a folder of pages in PHP belongs to a program that its makers alone change, or to a site around it.
func partOf(tree platform.Tree, dir string, taken []string) bool {
	for at := dir; ; at = platform.Folder(at) {
		if slices.Contains(tree.Named("wp-load.php"), path.Join(at, "wp-load.php")) || at != dir && slices.Contains(taken, at) {
			return true
		}
		if at == "" {
			return false
		}
	}
}

// output says whether a folder, from the site's, holds what was made of others.
func (s *site) output(rel string) bool {
	if s.kind != nil {
		if s.kind.made != nil && s.kind.made.MatchString(rel) {
			return true
		}
		if own := s.kind.own; own != "" && (rel == own || strings.HasPrefix(rel, own+"/")) {
			rel = rel[len(own):]
		}
	}
	return outputs.MatchString(rel)
}

// settle looks for the first door that is open.
func (s *site) settle() bool {
	for _, d := range s.kind.doors {
		var hooks []hook
		home := ""
		for _, rel := range s.doorsOf(d) {
			at, address := s.homeOf(d, rel)
			if len(hooks) > 0 && at != home && address != "" {
				continue // another app's templates
			}
			if len(hooks) > 0 {
				at = home
			}
			if h, ok := s.open(d, rel, at, address); ok {
				if home = at; h.home != "" {
					home = h.home
				}
				hooks = append(hooks, h)
			}
			if len(hooks) > 0 && !d.all || len(hooks) > mostPages {
				break
			}
		}
		if len(hooks) > 0 {
			s.sheet, s.hooks = platform.Plain(home), hooks
			return true
		}
	}
	s.sheet = path.Join(s.Dir, s.kind.home)
	return false
}

// doorsOf are the files of a door, those near the site's folder first.
func (s *site) doorsOf(d door) []string {
	if d.find != nil {
		return d.find(s)
	}
	return s.matching(d.files, d.avoid)
}

func (s *site) matching(files, avoid *lazy.Pattern) []string {
	var list []string
	for _, f := range s.Tree.Under(s.Dir) {
		rel, _ := s.Rel(f)
		if files.MatchString(rel) && (avoid == nil || !avoid.MatchString(rel)) && !s.output(path.Dir(rel)) && len(list) < mostLooked {
			list = append(list, rel)
		}
	}
	slices.SortStableFunc(list, func(a, b string) int { return strings.Count(a, "/") - strings.Count(b, "/") })
	return list
}

// homeOf is the folder of the style sheet for a door, and how its address is written.
func (s *site) homeOf(d door, rel string) (home, address string) {
	if d.at != nil {
		home, address = d.at(s, rel)
		return path.Join(s.Dir, home), address
	}
	if d.way == inHead || d.home != "" && !strings.HasPrefix(d.home, ".") {
		return path.Join(s.Dir, d.home), d.address
	}
	return path.Join(s.Dir, path.Dir(rel), d.home), d.address
}

// unsafe are signs that cannot stand in all of the literals that a path is written in.
var unsafe = lazy.Regexp("[\"'`\\\\<>{}$%&\x00-\x1f*]")

// open looks at a file of a door; false if nothing can be put there.
func (s *site) open(d door, rel, home, address string) (hook, bool) {
	file := path.Join(s.Dir, rel)
	raw, ok := s.Tree.Glance(file, platform.MostSource)
	if !ok || address == "" && unsafe.MatchString(platform.Relative(path.Dir(file), path.Join(home, sheetFile))) {
		return hook{}, false
	}
	doc := edit.Document{File: file, Text: raw}
	switch d.way {
	case inScript:
		quote, end := styleOf(language.Of(file), raw)
		return hook{file: file, place: source.First(), format: "import " + quote + "%s" + quote + end, dotted: true}, source.HasFirst(doc)
	case inSheet:
		end := ";"
		if ext := path.Ext(file); ext == ".sass" || ext == ".styl" {
			end = ""
		}
		quote := `"`
		if len(sheetSingle.FindAllSubmatch(raw, 9)) > len(sheetDouble.FindAllSubmatch(raw, 9)) {
			quote = "'"
		}
		return hook{file: file, place: source.First(), format: "@import " + quote + "%s" + quote + end, dotted: true}, source.HasFirst(doc)
	case inSettings:
		return d.write(s, doc)
	}
	if _, one := endOfHead(doc); !one || !opensHead.Match(raw) {
		return hook{}, false
	}
	h := hook{file: file, place: headPlace(), page: true, format: `<link rel="stylesheet" href="%s"` + closing(slashOf(raw)), address: address, home: home}
	if d.before != "" && !loadsStatic.MatchString(strings.ReplaceAll(string(raw), d.before+"<link", "")) {
		h.before = d.before
	}
	return h, true
}

var (
	loadsStatic = lazy.Regexp(`\{%\s*load\s[^%]*\bstatic\b`)
	opensHead   = lazy.Regexp(`(?i)</head\s*>`)
	sheetSingle = lazy.Regexp(`@(?:import|use)\s+(?:url\()?'`)
	sheetDouble = lazy.Regexp(`@(?:import|use)\s+(?:url\()?"`)
	importForm  = lazy.Regexp(`(?m)^\s*import\b[^"'\x60;()=]*(["'])[^"'\n]*["'](;?)`)
	voidSlash   = lazy.Regexp(`<(?:meta|link|img|br)\b[^<>]*?(/?)>`)
)

// styleOf are the quotes of a script's imports, and what ends them, as its own have them: those of most of them.
func styleOf(l *language.Language, raw []byte) (quote, end string) {
	count := map[string]int{}
	for _, m := range importForm.FindAllSubmatch(l.Blank(raw), 50) {
		count[string(m[1])]++
		count["end"+string(m[2])]++
	}
	if quote = `"`; count[`'`] > count[`"`] {
		quote = `'`
	}
	if end = ";"; count["end"] > count["end;"] {
		end = ""
	}
	return quote, end
}

// slashOf is what a template ends its empty elements with: the slash, where most have it.
func slashOf(raw []byte) []byte {
	with, without := 0, 0
	for _, m := range voidSlash.FindAllSubmatch(raw, 50) {
		if len(m[1]) > 0 {
			with++
		} else {
			without++
		}
	}
	if with > without {
		return []byte("/")
	}
	return nil
}
