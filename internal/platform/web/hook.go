package web

import (
	"path"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/source"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

// A hook is a line of a page or a source that takes a style sheet in; ours goes behind it.
type hook struct {
	file    string     // of the line
	place   edit.Place // of ours
	format  string     // of ours, with %s for the style sheet's address
	page    bool       // fonts can be loaded early there
	dotted  bool       // addresses from the file begin with a point
	address string     // how a path from the home is written, with %s for it; "" for one from the file
	home    string     // where address is not ""
	before  string     // what has to stand in front of the first
}

var (
	// linkLine is a style sheet of a page's own, alone on its line.
	linkLine = lazy.Regexp(`(?im)^[ \t]*(<link\s[^<>]*?\bhref\s*=\s*["']([^"'<>:?#]+\.css)["'][^<>]*?(/?)>)[ \t]*\r?$`)
	relSheet = lazy.Regexp(`(?i)\brel\s*=\s*["']?stylesheet\b`)
	// importLine is a style sheet that a source imports for its effect.
	importLine = lazy.Regexp(`(?m)^(import\s*(["'])(\.{1,2}/[^"'\n]+\.(?:css|scss|sass|less|styl))["'](;?))[ \t]*\r?$`)
)

// entryNames are the sources that people begin with: the import of a style sheet in one of
// them is for the whole page.
var entryNames = lazy.Regexp(`^(?:main|index|app|App|_app|layout|root|entry(?:[.-]client)?|renderer|\+layout|client)\.(?:m?[jt]sx?)$`)

const mostLooked = 4000 // sources of a package that are looked at

// bundle finds where a package's sources import a style sheet, or where its page links one;
// false if neither does.
func (s *site) bundle() bool {
	var best *hook
	looked := 0
	for _, f := range s.Tree.Under(s.Dir) {
		rel, _ := s.Rel(f)
		l := language.Of(f)
		if l != language.JavaScript && l != language.TypeScript || s.output(path.Dir(rel)) || strings.Count(rel, "/") > 6 {
			continue
		}
		if !entryNames.MatchString(path.Base(f)) {
			continue
		}
		if looked++; looked > mostLooked {
			break
		}
		raw, ok := s.Tree.Glance(f, platform.MostSource)
		if !ok {
			continue
		}
		all := importLine.FindAllSubmatch(l.Blank(raw), mostMentions)
		i := slices.IndexFunc(all, func(m [][]byte) bool { return path.Base(string(m[3])) != sheetFile })
		if i < 0 {
			continue
		}
		m := all[i]
		at := path.Join(path.Dir(f), string(m[3]))
		if !s.has(at) {
			continue // of another package, or made by the build
		}
		h := hook{file: f, place: source.After(string(m[1])), dotted: true, format: "import " + string(m[2]) + "%s" + string(m[2]) + string(m[4])}
		if best == nil || strings.Count(f, "/") < strings.Count(best.file, "/") {
			best, s.sheet = &h, path.Dir(at)
		}
	}
	if best != nil {
		s.sheet = platform.Plain(s.sheet)
		s.hooks = []hook{*best}
		return true
	}
	if !s.page() {
		return false
	}
	for i := range s.hooks {
		s.hooks[i].page = false // the bundler gives the fonts other names
	}
	return true
}

// mostPages is how many pages people write by hand: where there are more, a program made
// them, and the first page alone is changed.
const mostPages = 200

// page finds the links of style sheets in the pages of a folder; false if index.html has
// none of its own.
func (s *site) page() bool {
	index := path.Join(s.Dir, "index.html")
	sheet, _, ok := s.link(index)
	if !ok {
		return false
	}
	s.sheet = platform.Folder(sheet)
	pages := 0
	for _, f := range s.Tree.Under(s.Dir) {
		rel, _ := s.Rel(f)
		if ext := path.Ext(f); ext != ".html" && ext != ".htm" || s.output(path.Dir(rel)) {
			continue
		}
		if _, h, ok := s.link(f); ok {
			s.hooks = append(s.hooks, h)
		}
		if pages++; pages > mostPages {
			_, h, _ := s.link(index)
			s.hooks = []hook{h}
			break
		}
	}
	return true
}

// link finds the last style sheet of its own that a page links on a line of its own, and
// the path of that.
func (s *site) link(page string) (sheet string, h hook, ok bool) {
	if !s.has(page) {
		return "", h, false
	}
	raw, err := s.Tree.Read(page)
	if err != nil {
		return "", h, false
	}
	for _, m := range linkLine.FindAllSubmatch(language.HTML.Blank(raw), -1) {
		href := string(m[2])
		if !relSheet.Match(m[1]) || path.Base(href) == sheetFile {
			continue
		}
		at := path.Join(path.Dir(page), href)
		if strings.HasPrefix(href, "/") {
			at = path.Join(s.Dir, href)
		}
		if !s.has(at) {
			continue
		}
		sheet, ok = at, true
		h = hook{file: page, place: source.After(string(m[1])), format: `<link rel="stylesheet" href="%s"` + closing(m[3]), page: true}
	}
	return sheet, h, ok
}

// has says whether a file is below the site's folder.
func (s *site) has(name string) bool {
	if s.files == nil {
		s.files = map[string]bool{}
		for _, f := range s.Tree.Under(s.Dir) {
			s.files[f] = true
		}
	}
	return s.files[name]
}

// closing ends a tag as the page's own does.
func closing(slash []byte) string {
	if len(slash) > 0 {
		return " />"
	}
	return ">"
}

// entries take the style sheet in at each hook; a page loads the faces of roles early.
func (s *site) entries(job platform.Job) []edit.Entry {
	var list []edit.Entry
	for _, h := range s.hooks {
		var lines []string
		if h.page {
			end := h.format[strings.LastIndexByte(h.format, '"')+1:]
			for _, f := range s.early(job) {
				if _, below := platform.Below(h.home, f); h.address != "" && !below {
					continue // somebody put it elsewhere
				}
				lines = append(lines, strings.Replace(`<link rel="preload" href="%s" as="font" type="font/woff2" crossorigin`+end, "%s", h.to(f), 1))
			}
		}
		lines = append(lines, strings.Replace(h.format, "%s", h.to(path.Join(s.sheet, sheetFile)), 1))
		syntax := source.Lines{}.Name()
		if h.place.Kind == kindHead {
			syntax = Head{}.Name()
			lines[0] = h.before + lines[0]
		}
		// In a head, lines follow each other. Behind a line, what comes later goes directly behind it: the style sheet, which is
		// added last, stands first.
		for _, line := range lines {
			if strings.HasPrefix(h.address, "{~") { // an attribute that is an expression has no quotes (HEEx)
				line = strings.Replace(strings.Replace(line, `href="{`, "href={", 1), `}"`, "}", 1)
			}
			list = append(list, edit.Entry{File: h.file, Syntax: syntax, Place: h.place, Value: line})
		}
	}
	return list
}

// to is how a hook writes the address of a file.
func (h hook) to(file string) string {
	if h.address != "" {
		rel, _ := platform.Below(h.home, file)
		return strings.Replace(h.address, "%s", rel, 1)
	}
	at := platform.Relative(path.Dir(h.file), file)
	if h.dotted && !strings.HasPrefix(at, ".") {
		at = "./" + at
	}
	return language.EscapeAttribute(at)
}

// early are the files of the faces that roles want early, each once.
func (s *site) early(job platform.Job) []string {
	var list []string
	for _, r := range job.Roles {
		at := s.file(job, r.Face, formatTwo)
		if parts := s.parts[r.Face.ID()]; parts != nil {
			at = s.partFile(r.Face, parts[0])
		}
		if !r.Late && !slices.Contains(list, at) {
			list = append(list, at)
		}
	}
	slices.Sort(list)
	slices.Reverse(list)
	return list
}
