package web

import (
	"encoding/json"
	"path"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/source"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

// angularSheets are the first style sheets of all applications of angular.json, from the site's folder.
func angularSheets(s *site) []string {
	raw, err := s.Tree.Read(path.Join(s.Dir, "angular.json"))
	if err != nil {
		return nil
	}
	type project struct {
		Type      string `json:"projectType"`
		Architect map[string]struct {
			Options struct {
				Styles []any `json:"styles"`
			} `json:"options"`
		} `json:"architect"`
	}
	var all struct {
		Projects map[string]project `json:"projects"`
	}
	if json.Unmarshal(language.JSON.Blank(platform.WithoutMark(raw)), &all) != nil {
		return nil
	}
	var list []string
	for _, p := range all.Projects {
		for _, style := range p.Architect["build"].Options.Styles {
			if m, ok := style.(map[string]any); ok {
				style = m["input"]
			}
			name, _ := style.(string)
			if name = path.Clean(name); p.Type != "library" && s.has(path.Join(s.Dir, name)) && !slices.Contains(list, name) {
				list = append(list, name)
				break
			}
		}
	}
	slices.Sort(list)
	return list
}

var customSheet = lazy.Regexp(`\bcustomCss\s*:\s*(?:\[\s*)?(?:require\.resolve\(\s*)?["']\.?/?([\w./-]+\.(?:css|scss|sass|less))["']`)

// docusaurusSheets is the style sheet that the settings name.
func docusaurusSheets(s *site) []string {
	for _, base := range []string{"docusaurus.config.js", "docusaurus.config.ts", "docusaurus.config.mjs"} {
		if m := customSheet.FindSubmatch(s.source(base)); m != nil && s.has(path.Join(s.Dir, string(m[1]))) {
			return []string{path.Clean(string(m[1]))}
		}
	}
	return nil
}

// source is a file of the site without comments, nil if there is none.
func (s *site) source(rel string) []byte {
	file := path.Join(s.Dir, rel)
	if !s.has(file) {
		return nil
	}
	raw, ok := s.Tree.Glance(file, platform.MostSource)
	if l := language.Of(file); ok && l != nil {
		return l.Blank(raw)
	}
	return raw
}

var wholePage = lazy.Regexp(`(?i)<(?:html|head)[\s>]`)

// astroPages are the layouts and pages that have the element html.
func astroPages(s *site) []string {
	return slices.DeleteFunc(s.matching(lazy.Regexp(`^src/.*\.astro$`), mails), func(rel string) bool { return !wholePage.Match(s.source(rel)) })
}

// emberApp is the application's script, where Vite builds it; older builds take no style sheet from a script.
func emberApp(s *site) []string {
	if s.packages()["vite"] {
		return s.matching(lazy.Regexp(`^app/app\.[jt]s$`), nil)
	}
	return nil
}

var (
	copied  = lazy.Regexp(`addPassthroughCopy\(\s*(?:\{\s*)?["']\.?/?([\w./-]+?)/?["'](?:\s*:\s*["']/?([\w./-]*?)/?["'])?`)
	usesURL = lazy.Regexp(`\{\{\s*["'][^"']*["']\s*\|\s*url\b`)
)

// eleventyAt is a folder that the settings copy, with the address that it has then: of several that of styles.
func eleventyAt(s *site, rel string) (home, address string) {
	form := "/PATH"
	if ext := path.Ext(rel); (ext == ".njk" || ext == ".liquid" || ext == ".html") && !usesURL.Match(s.source(rel)) || ext == ".njk" || ext == ".liquid" {
		form = "{{ '/PATH' | url }}"
	}
	best := -1
	for _, base := range s.kindMarks() {
		for _, m := range copied.FindAllSubmatch(s.source(base), mostMentions) {
			from, to := string(m[1]), string(m[1])
			if m[2] != nil || strings.Contains(string(m[0]), ":") {
				to = string(m[2])
			}
			rank := slices.Index([]string{"img", "images", "public", "static", "assets", "css", "styles"}, path.Base(from))
			if dir := path.Join(s.Dir, from); rank > best && len(s.Tree.Under(dir)) > 0 && path.Ext(from) == "" {
				best, home, address = rank, from, strings.Replace(form, "PATH", path.Join(to, "%s"), 1)
			}
		}
	}
	if best < 0 {
		return "public", "" // nothing is known of what is copied
	}
	return home, address
}

func (s *site) kindMarks() []string {
	if s.kind == nil {
		return nil
	}
	return s.kind.marks
}

// djangoAt is the folder of static files beside that of the templates: each app has both, and so has the project.
func djangoAt(_ *site, rel string) (home, address string) {
	at := strings.Index("/"+rel, "/templates/")
	if at < 0 {
		at = max(0, strings.Index("/"+rel, "/jinja2/"))
	}
	return path.Join(rel[:at], "static"), "{% static '%s' %}"
}

// extensionPages are the pages that the manifest of an extension of browsers names.
func extensionPages(s *site) []string {
	var list []string
	for _, m := range lazyPages.FindAllSubmatch(s.source("manifest.json"), mostMentions) {
		if rel := path.Clean(strings.TrimPrefix(string(m[1]), "/")); s.has(path.Join(s.Dir, rel)) && !slices.Contains(list, rel) {
			list = append(list, rel)
		}
	}
	return list
}

var lazyPages = lazy.Regexp(`"(?:default_popup|options_page|page|default_path|default_panel|newtab|devtools_page|side_panel)"\s*:\s*"([^"\n]+\.html?)"`)

var moduleScript = lazy.Regexp(`<script\b[^<>]*\bsrc\s*=\s*["']([^"'<>:]+\.(?:m?[jt]sx?))["'][^<>]*>`)

// pageScript is the script that the page of a package begins with.
func pageScript(s *site) []string {
	if !slices.ContainsFunc([]string{"vite", "parcel", "@parcel/core", "snowpack", "@rsbuild/core"}, func(p string) bool { return s.packages()[p] }) {
		return nil
	}
	for _, m := range moduleScript.FindAllSubmatch(s.source("index.html"), mostMentions) {
		if rel := path.Clean(strings.TrimPrefix(string(m[1]), "/")); s.has(path.Join(s.Dir, rel)) && !strings.HasPrefix(rel, "public/") {
			return []string{rel}
		}
	}
	return nil
}

// usualScript is the script that bundlers begin with where nothing else is said; their packages say whether they take style
// sheets from it.
func usualScript(s *site) []string {
	packages := s.packages()
	if !slices.ContainsFunc([]string{"css-loader", "react-scripts", "@vue/cli-service", "@rsbuild/core", "rollup-plugin-postcss", "rollup-plugin-css-only", "rollup-plugin-import-css"}, func(p string) bool { return packages[p] }) {
		return nil
	}
	return s.matching(lazy.Regexp(`^src/(?:main|index)\.(?:[jt]sx?)$`), nil)
}

// packages are those that the site's package.json names, read once.
func (s *site) packages() map[string]bool {
	if s.depends == nil {
		s.depends = named(s.Tree, s.Dir)
	}
	return s.depends
}

// isLibrary says whether a package is made for others to import.
func (s *site) isLibrary() bool {
	var p map[string]any
	raw, err := s.Tree.Read(path.Join(s.Dir, "package.json"))
	if err != nil || json.Unmarshal(platform.WithoutMark(raw), &p) != nil {
		return true
	}
	for _, key := range []string{"exports", "module", "types", "typings", "unpkg", "peerDependencies", "workspaces"} {
		if _, ok := p[key]; ok {
			return true
		}
	}
	return false
}

// nuxtSetting is the list css in the settings of Nuxt: a new one, or the first place in the one that is there.
func nuxtSetting(s *site, doc edit.Document) (hook, bool) {
	home := "assets"
	for _, dir := range []string{"app", "src"} {
		if s.has(path.Join(s.Dir, dir, "app.vue")) || len(s.Tree.Under(path.Join(s.Dir, dir, "pages"))) > 0 {
			home = dir + "/assets"
		}
	}
	if len(s.Tree.Under(path.Join(s.Dir, home, "css"))) > 0 {
		home += "/css"
	}
	quote, _ := styleOf(language.TypeScript, doc.Text)
	if !importForm.Match(doc.Text) && strings.Count(string(doc.Text), "'") >= strings.Count(string(doc.Text), `"`) {
		quote = "'"
	}
	address := "~/" + strings.TrimPrefix(strings.TrimPrefix(home, "app/"), "src/") + "/%s"
	for _, head := range []string{"defineNuxtConfig(", "export default"} {
		block := source.BlockOf(doc, lazy.Regexp(`(?:^|[\s;{])`+strings.NewReplacer("(", `\(`, " ", `\s+`).Replace(head)))
		h := hook{file: doc.File, place: source.Opening(head), format: "css: [" + quote + "%s" + quote + "],", address: address, home: path.Join(s.Dir, home)}
		if ours := strings.Replace(h.format, "%s", strings.Replace(address, "%s", sheetFile, 1), 1); cssList.MatchString(block) && !strings.Contains(block, ours) {
			h.place, h.format = source.Opening(head, "css:"), quote+"%s"+quote+","
		}
		if block != "" && source.HasOpening(doc, h.place.Path...) {
			return h, true
		}
	}
	return hook{}, false
}

var cssList = lazy.Regexp(`(?m)^\s*css\s*:`)

var (
	extraCSS = lazy.Regexp(`(?m)^extra_css[ \t]*:[ \t]*(.*?)[ \t]*\r?$(?:\n([ \t]*-[ \t]*[^\n\r]+?)[ \t]*\r?$)?`)
	docsDir  = lazy.Regexp(`(?m)^docs_dir[ \t]*:`)
)

// mkdocsSetting is a line behind the first style sheet of extra_css, or a list of its own.
func mkdocsSetting(s *site, doc edit.Document) (hook, bool) {
	home := path.Join(s.Dir, "docs/stylesheets")
	h := hook{file: doc.File, home: home, place: source.Last(), format: "extra_css: [%s]", address: "stylesheets/%s"}
	if docsDir.Match(doc.Text) || len(s.Tree.Under(path.Join(s.Dir, "docs"))) == 0 {
		return hook{}, false // the documents are elsewhere
	}
	m := extraCSS.FindSubmatch(doc.Text)
	if m == nil || strings.Contains(string(m[0]), "stylesheets/"+sheetFile) {
		return h, true
	}
	item := strings.TrimSpace(string(m[2]))
	if len(m[1]) > 0 || item == "" || strings.Count(string(doc.Text), item) != 1 {
		return hook{}, false
	}
	h.place, h.format = source.After(item), "- %s"
	return h, true
}

// alsoStories takes the style sheet in where the stories of the package's parts are shown, too.
func (s *site) alsoStories() {
	if len(s.hooks) == 0 || s.hooks[0].page || s.kind.name == "Angular" {
		return
	}
	d := door{way: inScript, files: lazy.Regexp(`^\.storybook/preview\.(?:[jt]sx?|mjs)$`)}
	for _, rel := range s.doorsOf(d) {
		if h, ok := s.open(d, rel, s.sheet, ""); ok {
			s.hooks = append(s.hooks, h)
			return
		}
	}
}

// bare says whether a folder that is served as it is has a page without a style sheet of its own: it gets one. Only at the
// top of a project, or where its pages are usually: other pages can be anything.
func (s *site) bare() bool {
	if s.kind != nil || !pageFolders.MatchString(s.Dir) {
		return false
	}
	d := door{way: inHead, files: lazy.Regexp(`^[^/]*\.html?$`), all: true, home: "."}
	s.kind = &kind{doors: []door{d}, home: ""}
	if s.settle() {
		return true
	}
	s.kind = nil
	return false
}

var pageFolders = lazy.Regexp(`^(?:|public|www|site|htdocs|web|public_html)$`)
