// Package libgdx serves games of libGDX: the fonts among the assets, an enum that has the
// asset manager make a bitmap font for each role, with all that FreeType's generator can
// do for it, and the dependencies of the core and of each platform's natives.
package libgdx

import (
	"embed"
	"path"
	"regexp"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/source"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/kit"
)

//go:embed *.tmpl
var texts embed.FS

var templates = kit.Templates(texts)

// Platform is the libGDX platform: code asks for a font by its path among the assets.
var Platform = &kit.Named{Platform: kit.Platform{
	Info: platform.About{
		Name: "libgdx", Title: "libGDX", Kind: platform.ByFile, Typed: `Gdx.files.internal("fonts/…")`,
		Minimum: "libGDX 1.9 with Gradle; Java 8 or Kotlin",
		Gets:    "Gradle in Groovy or Kotlin, a file for each module or one for all: fonts among the assets, the dependencies of the core and of each platform's natives, AppType.java or AppType.kt, which has the asset manager make, hold and dispose of a font for each role, at the screen's density, with the characters of the role and of the game's strings",
		Cannot:  []string{"blurred shadows", "another font where a face is missing", "games in the browser (FreeType is not there)"},
	},
	Names: platform.FileNames, Find: sites, Claim: claims,
	Owns: func(e edit.Entry) bool { return e.Syntax == "source" && ownLines.MatchString(e.Value) },
}, In: siteIn}

// site is a game: its core, and the modules of its platforms.
type site struct {
	kit.App
	modules []kit.GradleModule
	catalog []library
	core    string // the folder of the module that all platforms share
	assets  string // the folder
	sources string // the folder that AppType goes into
	pack    string // "" for none
	kotlin  bool
	browser bool
}

var (
	// usesCore is the library of the core, by its address or by its name in a version catalog.
	usesCore = lazy.Regexp(`(?m)com\.badlogicgames\.gdx:gdx:|\blibs\.(?:[\w.]*\.)?gdx(?:\.core)?[ \t]*(?:\)|\r?$)`)
	browser  = lazy.Regexp(`gdx[-.]backend[-.]gwt|gdx[-.]teavm`)
	// dependency is a line with a library of libGDX that has a counterpart for fonts.
	dependency = lazy.Regexp(`(?m)^[ \t]*(\w+[ (]+["']com\.badlogicgames\.gdx:gdx(-platform)?:[^"'\n]*["']\)?)[ \t]*\r?$`)
	gameClass  = lazy.Regexp(`\b(?:extends|implements)\s+(?:[\w.]+\s*,\s*)*(?:Game|ApplicationAdapter|ApplicationListener)\b|:\s*(?:Game|ApplicationAdapter)\s*\(|:\s*ApplicationListener\b`)
	anySource  = lazy.Regexp(`\bcom\.badlogic\.gdx\b`)
	packageIs  = lazy.Regexp(`(?m)^\s*package\s+([\w.]+)`)
	assetsIn   = lazy.Regexp(`(?:srcDirs?|setSrcDirs|workingDir)\b[^\n]*?["']((?:\.\./)*[\w./-]*assets)/?["']`)
)

// sites finds the games whose build depends on libGDX.
func sites(tree platform.Tree, _ platform.Options) ([]platform.Site, error) {
	var found platform.Found
	games := map[string][]kit.GradleModule{}
	var order []string
	for _, m := range kit.GradleModules(tree) {
		if !usesCore.MatchString(m.Text) && !gamePlatform.MatchString(m.Text) {
			continue
		}
		root := rootOf(tree, m.Dir)
		if games[root] == nil {
			order = append(order, root)
		}
		games[root] = append(games[root], m)
	}
	slices.Sort(order)
	for _, root := range order {
		if list := games[root]; slices.ContainsFunc(list, func(m kit.GradleModule) bool { return usesCore.MatchString(m.Text) }) {
			found.Add(platform.Shown(root), newSite(tree, root, list), nil)
		}
	}
	return found.All()
}

// gamePlatform is in the build of a platform's part of a game.
var gamePlatform = lazy.Regexp(`com\.badlogicgames\.gdx:gdx-(?:platform|backend-\w+)|\blibs\.(?:[\w.]*\.)?gdx\.(?:platform|backend)\b`)

// claims are the modules that are a platform's part of a game, in a block of a file further up or by themselves.
func claims(tree platform.Tree, _ platform.Options) map[string]platform.Claim {
	out := map[string]platform.Claim{}
	for _, m := range kit.GradleModules(tree) {
		if gamePlatform.MatchString(m.Text) {
			out[m.Dir], out[platform.Folder(m.File)] = platform.OfGame, platform.OfGame
		}
	}
	return out
}

// siteIn is the game in a folder.
func siteIn(tree platform.Tree, root string, _ platform.Options) (platform.Site, error) {
	var list []kit.GradleModule
	for _, m := range kit.GradleModules(tree) {
		if root == "" || m.Dir == root || strings.HasPrefix(m.Dir, root+"/") {
			list = append(list, m)
		}
	}
	return newSite(tree, root, list), nil
}

// rootOf is the folder of the whole game: the nearest upward with settings of Gradle.
func rootOf(tree platform.Tree, dir string) string {
	for at := dir; ; at = platform.Folder(at) {
		for _, base := range []string{"settings.gradle", "settings.gradle.kts"} {
			if slices.Contains(tree.Named(base), path.Join(at, base)) {
				return at
			}
		}
		if at == "" {
			return dir
		}
	}
}

func newSite(tree platform.Tree, root string, list []kit.GradleModule) *site {
	s := &site{App: kit.App{Base: platform.Base{Tree: tree, Dir: root}, Kind: "libGDX", Common: true, Asks: uses}, modules: list}
	for _, m := range list {
		s.browser = s.browser || browser.MatchString(m.Text)
	}
	core := coreOf(tree, root, list)
	s.catalog = catalogOf(tree, root)
	s.core, s.assets = core, s.findAssets(list)
	s.Fonts = path.Join(s.assets, fontFolder)
	s.Takes = func(p string) bool { return strings.HasPrefix(p, s.assets+"/") && platform.IsFont(p) }
	s.findSources(core)
	return s
}

// asideOf are the modules of a game that show nothing: a server, tools for its makers.
var asideOf = lazy.Regexp(`gdx[-.]backend[-.]headless|gdx[-.]tools`)

// coreOf is the module with the game itself, whatever it is called: of those with the library that are no platform's part, the one that most
// others depend on; of several, the one with the class of the game.
func coreOf(tree platform.Tree, root string, list []kit.GradleModule) string {
	core, best := root, -1
	for _, m := range list {
		if !usesCore.MatchString(m.Text) || gamePlatform.MatchString(m.Text) && !blankPlatform(m, list) || asideOf.MatchString(m.Text) || browser.MatchString(m.Text) {
			continue
		}
		rank := 0
		for _, other := range list {
			if other.Dir != m.Dir && dependsOn(other.Text, root, m.Dir) {
				rank += 2
			}
		}
		if hasGame(tree, m.Dir) {
			rank++
		}
		if rank > best {
			best, core = rank, m.Dir
		}
	}
	return core
}

// blankPlatform says whether a module has the library with a platform's own in one: a game of a single module.
func blankPlatform(m kit.GradleModule, list []kit.GradleModule) bool {
	return !slices.ContainsFunc(list, func(o kit.GradleModule) bool {
		return o.Dir != m.Dir && usesCore.MatchString(o.Text) && !gamePlatform.MatchString(o.Text)
	})
}

// dependsOn says whether a build depends on the module in a folder: project(":core"), projects.core.
func dependsOn(text, root, dir string) bool {
	rel, ok := platform.Below(root, dir)
	if !ok || rel == "" {
		return false
	}
	name := strings.ReplaceAll(rel, "/", ":")
	return strings.Contains(text, `":`+name+`"`) || strings.Contains(text, `':`+name+`'`) || strings.Contains(text, "projects."+strings.ReplaceAll(name, ":", "."))
}

// hasGame says whether a module has the class of a game.
func hasGame(tree platform.Tree, dir string) bool {
	for _, f := range tree.Under(dir) {
		if ext := path.Ext(f); ext == ".java" || ext == ".kt" {
			if raw, ok := tree.Glance(f, platform.MostSource); ok {
				if clean := language.Of(f).Blank(raw); anySource.Match(clean) && gameClass.Match(clean) {
					return true
				}
			}
		}
	}
	return false
}

// findAssets is the folder that the build files name, or one of the usual ones.
func (s *site) findAssets(list []kit.GradleModule) string {
	there := func(dir string) bool { return len(s.Tree.Under(dir)) > 0 }
	for _, m := range list {
		for _, a := range assetsIn.FindAllStringSubmatch(m.Text, -1) {
			if at := path.Join(m.Dir, a[1]); !strings.HasPrefix(at, "..") && there(at) {
				return at
			}
		}
	}
	for _, usual := range []string{"assets", "core/assets", "android/assets", "android/src/main/assets"} {
		if at := path.Join(s.Dir, usual); there(at) {
			return at
		}
	}
	return path.Join(s.Dir, "assets")
}

// findSources puts the enum beside the class of the game, in its language.
func (s *site) findSources(core string) {
	s.sources = path.Join(core, "src/main/java")
	best := 0
	for _, f := range s.Tree.Under(core) {
		ext := path.Ext(f)
		if ext != ".java" && ext != ".kt" || strings.Contains(f, "/test/") || strings.TrimSuffix(path.Base(f), ext) == className {
			continue
		}
		raw, ok := s.Tree.Glance(f, platform.MostSource)
		if !ok {
			continue
		}
		clean, rank := language.Of(f).Blank(raw), 0
		switch {
		case anySource.Match(clean) && gameClass.Match(clean):
			rank = 2
		case anySource.Match(clean):
			rank = 1
		}
		if rank <= best {
			continue
		}
		best, s.sources, s.kotlin, s.pack = rank, platform.Folder(f), ext == ".kt", ""
		if m := packageIs.FindSubmatch(clean); m != nil {
			s.pack = string(m[1])
		}
	}
}

// next takes a role, to show how it is used.
func (s *site) next() string {
	step := "load the Gradle project anew; call AppType.load(manager) where the game loads its assets"
	if len(s.dependencies()) == 0 {
		step = "add com.badlogicgames.gdx:gdx-freetype to the dependencies of the core, and gdx-freetype-platform with its natives to those of each platform; " + step
	}
	if s.browser {
		step += "; the module for the browser has no FreeType: leave AppType out of it"
	}
	return step
}

// Names of what is generated.
const (
	className  = "AppType"
	fontFolder = "fonts"
)

// line is a role as the templates write it.
type line struct {
	platform.RoleText
	Constant, Asset string
	File            string // literal of the path among the assets
	Number          string // the size, a float
	OutlineOutside  string // the half that is beside the letter
	Characters      []string
	Rough, Smooth   bool // asked for
	Top, Bottom     string
	Dressed         bool // has more than a face and a size
	Data            bool // something of it is set on the font that was made
	Last            bool
}

type code struct {
	Package string
	Roles   []line
	Colours bool
	Filters bool
	Data    bool
	have    map[rune]bool // characters of the roles' atlases
}

// taken are names that the enum has itself, or inherits.
var taken = lazy.Words("AppType")

// lineWidth is how long a literal in the code becomes, in columns, before the next begins.
const lineWidth = 80

// literals writes characters as literals of a line each.
func literals(l *language.Language, chars []rune) []string {
	var out []string
	from := 0
	for i := range chars {
		if i+1 == len(chars) || len(l.Literal(string(chars[from:i+2]))) > lineWidth {
			out, from = append(out, l.Literal(string(chars[from:i+1]))), i+1
		}
	}
	return out
}

func (s *site) code(job platform.Job) (code, error) {
	data := code{Package: s.pack, have: map[rune]bool{}}
	l, app := language.Java, []rune(nil)
	if s.kotlin {
		l = language.Kotlin
	}
	strs := func() []rune {
		if app == nil {
			app = platform.AppCharacters(s.Tree, s.Dir)
		}
		return app
	}
	names := kit.Members(job.Roles, kit.Capitals(l, "ROLE_", taken))
	for i, r := range job.Roles {
		at, _ := platform.Below(s.assets, s.Place(job, r.Face))
		x := line{RoleText: r.Text(), Constant: names[i], Asset: l.Literal(r.Name + ".apptype"), File: l.Literal(at), Last: i == len(job.Roles)-1}
		x.Number = language.Number(r.Size) + "f"
		chars, err := r.Atlas(job, strs)
		if err != nil {
			return data, err
		}
		for _, c := range chars {
			data.have[c] = true
		}
		x.Characters = literals(l, chars)
		if r.Outline != nil {
			x.OutlineOutside = language.Number(r.Outline.Width / 2)
		}
		if r.Smooth != nil {
			x.Smooth, x.Rough = *r.Smooth, !*r.Smooth
		}
		if r.Extra.Top != 0 {
			x.Top = language.Number(r.Extra.Top)
		}
		if r.Extra.Bottom != 0 {
			x.Bottom = language.Number(r.Extra.Bottom)
		}
		x.Data = x.LineHeight != "" || x.Space != "" || x.Top != "" || x.Bottom != ""
		x.Dressed = r.Colour != nil || r.Outline != nil || r.Shadow != nil || r.Smooth != nil || x.Letter != ""
		data.Colours = data.Colours || r.Colour != nil || r.Outline != nil || r.Shadow != nil
		data.Filters, data.Data = data.Filters || x.Smooth, data.Data || x.Data
		data.Roles = append(data.Roles, x)
	}
	return data, nil
}

// Plan is the fonts, the enum and the dependencies.
func (s *site) Plan(job platform.Job) (platform.Plan, error) {
	data, err := s.code(job)
	d := s.Draft(job, templates, s.next(), s.short(job), func(_ platform.Job, q platform.Question) platform.Answer { return s.answer(data.have, q) })
	if d.Fail(err); len(job.Roles) == 0 {
		return d.Done()
	}
	var constants []string
	for _, r := range data.Roles {
		constants = append(constants, r.Constant)
	}
	ext, way := ".java", platform.Way("Java", `AppType.{constant}.font(manager).draw(batch, "07:40", x, y);`)
	if s.kotlin {
		ext, way = ".kt", platform.Way("Kotlin", `AppType.{constant}.font(manager).draw(batch, "07:40", x, y)`)
	}
	d.Words = []string{className}
	d.Shows(map[string][]string{"constant": constants}, way)
	d.Write(className+ext, platform.Relative(platform.Shown(s.Dir), path.Join(s.sources, className+ext)), data)
	d.Entries = s.dependencies()
	return d.Done()
}

// dependencies are lines behind those of libGDX itself, in their words: the same
// configuration, version and quotes.
func (s *site) dependencies() []edit.Entry {
	var out []edit.Entry
	add := func(file, after, value string) {
		e := edit.Entry{File: file, Syntax: source.Lines{}.Name(), Place: source.After(after), Value: value}
		if value != after && !slices.ContainsFunc(out, func(o edit.Entry) bool { return o.Key() == e.Key() }) {
			out = append(out, e)
		}
	}
	catalogued := map[string]bool{}
	for _, m := range s.modules {
		if asideOf.MatchString(m.Text) || browser.MatchString(m.Text) {
			continue
		}
		for _, d := range dependency.FindAllStringSubmatch(m.Text, -1) {
			switch {
			case d[2] != "":
				add(m.File, d[1], strings.Replace(d[1], "gdx:gdx-platform:", "gdx:gdx-freetype-platform:", 1))
			case m.Dir == s.core:
				add(m.File, d[1], strings.Replace(d[1], "gdx:gdx:", "gdx:gdx-freetype:", 1))
			}
		}
		for _, l := range s.catalog {
			if l.platform == (m.Dir != s.core) || l.platform && gamePlatform.MatchString(m.Text) {
				for _, d := range l.uses().FindAllStringSubmatch(m.Text, -1) {
					catalogued[l.line] = true
					add(m.File, d[1], strings.Replace(d[1], l.accessor(), l.accessor()+".freetype", 1))
				}
			}
		}
	}
	for _, l := range s.catalog {
		if catalogued[l.line] {
			add(l.file, l.line, strings.Replace(strings.Replace(l.line, l.alias, l.alias+"-freetype", 1), "gdx:"+l.module, "gdx:"+strings.Replace(l.module, "gdx", "gdx-freetype", 1), 1))
		}
	}
	return out
}

// A library is a line of a version catalog with the library of the core, or that of the platforms' natives (Gradle, version catalogs).
type library struct {
	file, line, alias, module string
	platform                  bool
}

var catalogLine = lazy.Regexp(`(?m)^[ \t]*(([A-Za-z][\w.-]*)[ \t]*=[ \t]*(?:\{[^\n}]*)?["']com\.badlogicgames\.gdx:(gdx|gdx-platform)(?:["'][^\n]*|:[^\n]*))\r?$`)

// catalogOf reads the version catalog of a game.
func catalogOf(tree platform.Tree, root string) (out []library) {
	file := path.Join(root, "gradle/libs.versions.toml")
	raw, err := tree.Read(file)
	if err != nil {
		return nil
	}
	for _, m := range catalogLine.FindAllStringSubmatch(string(raw), -1) {
		out = append(out, library{file, strings.TrimRight(m[1], " \t"), m[2], m[3], m[3] == "gdx-platform"})
	}
	return out
}

// accessor is how a build names the library: libs.gdx.platform.
func (l library) accessor() string {
	return "libs." + strings.NewReplacer("-", ".", "_", ".").Replace(l.alias)
}

// uses are the lines of a build that depend on the library.
func (l library) uses() *regexp.Regexp {
	return regexp.MustCompile(`(?m)^[ \t]*(\w+[ (][^\n]*\b` + regexp.QuoteMeta(l.accessor()) + `(?:[ )][^\n]*|))[ \t]*\r?$`)
}

func (s *site) short(job platform.Job) []platform.Shortfall {
	return append(platform.Shortfalls(job, map[string]string{
		platform.PartFallback: "a font that is not there is an error with its path",
		platform.PartSpace:    "", platform.PartRoom: "", platform.PartShadow: "", platform.PartSmooth: "",
	}), platform.NoBlur(job)...)
}

// Held lists the fonts among the assets: all of them are in the game.
func (s *site) Held() ([]platform.Held, error) {
	var out []platform.Held
	for _, f := range s.Tree.Under(s.assets) {
		if platform.IsFont(f) {
			rel, _ := platform.Below(s.assets, f)
			out = append(out, platform.Held{Manifest: f, Value: rel, File: f})
		}
	}
	return out, nil
}

// Kinds of uses.
const (
	usePath = "path" // of a font among the assets
	useText = "text" // a string of the game
)

var (
	sources = []*language.Language{language.Java, language.Kotlin}
	uses    = []platform.Use{
		{Languages: sources, Kind: usePath, Pattern: lazy.Regexp(`\b(?:internal|local)\s*\(\s*"([^"\n\\$]*\.(?i:ttf|otf|ttc))"`)},
		{Languages: sources, Kind: usePath, Named: true, Pattern: lazy.Regexp(`\b(?:internal|local)\s*\(\s*([A-Za-z_][\w.]*)\s*\)`)},
		{Languages: sources, Kind: usePath, Named: true, Pattern: lazy.Regexp(`\bfontFileName\s*=\s*([A-Za-z_][\w.]*)\s*;`)},
		{Languages: sources, Kind: usePath, Pattern: lazy.Regexp(`\bfontFileName\s*=\s*"([^"\n\\$]*)"`)},
		{Languages: sources, Kind: useText, Pattern: lazy.Regexp(`"((?:[^"\n\\]|\\.)*(?:[^\x00-\x7e]|\\u[0-9a-fA-F]{4})(?:[^"\n\\]|\\.)*)"`)},
	}
)

// answer goes by paths among the assets, and by the characters of the atlases.
func (s *site) answer(have map[rune]bool, q platform.Question) platform.Answer {
	if q.Use.Kind == useText {
		if len(have) == 0 || strings.Contains(q.File, "/test/") {
			return platform.Answer{}
		}
		return platform.AnswerCharacters(language.Of(q.File).Unescape(q.Typed), have)
	}
	if q.Use.Named && !platform.LooksLikeFont(q.Typed) {
		return platform.Answer{}
	}
	at := path.Join(s.assets, q.Typed)
	return platform.AnswerFile(at, q.FontFiles(s.Tree, s.assets), "the game stops with: File not found", "the folder of assets, "+s.assets,
		func(f string) string { rel, _ := platform.Below(s.assets, f); return rel })
}

// ownLines are the dependencies on the library that draws fonts.
var ownLines = lazy.Regexp(`^\w+[ (]+["']com\.badlogicgames\.gdx:gdx-freetype(?:-platform)?:[^"'\n]*["']\)?$` +
	`|^\w+[ (][^\n]*\blibs\.[\w.]+\.freetype(?:[ )][^\n]*)?$|^[\w.-]+-freetype[ \t]*=[^\n]*com\.badlogicgames\.gdx:gdx-freetype(?:-platform)?["':][^\n]*$`)
