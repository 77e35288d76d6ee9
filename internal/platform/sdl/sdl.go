// Package sdl serves games that draw with SDL_ttf, and two engines that are built on SDL:
// pygame and LÖVE. Each gets a folder apptype with the fonts and a small loader in its
// language: roles with their sizes, made once, with what SDL can do for an outline and a
// shadow, and an error with the file's name where one is missing.
package sdl

import (
	"bytes"
	"embed"
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/kit"
)

//go:embed *.tmpl
var texts embed.FS

var templates = kit.Templates(texts)

// kind is what one of the platforms has of its own.
type kind struct {
	title string
	next  string
	way   platform.Showing
	// names are those that the loader has itself, or that its language minds.
	names    *lazy.Set
	language *language.Language
	upper    bool // members are constants
	built    bool // in C or C++, which a build makes
	colour   func(platform.Colour) string
	short    map[string]string
	uses     []platform.Use
	// files are the templates and where they go.
	files func(*site) map[string]string
}

// site is the folder of a game.
type site struct {
	kit.App
	kind  *kind
	main  string // the source that shows it is one
	build platform.CBuild
}

// Names of what is generated.
const (
	folder     = "apptype"
	fontFolder = folder + "/fonts"
)

// othersFolders are folders of other people's code, and of what was built.
var othersFolders = lazy.Regexp(`(?i)(?:^|/)(?:third[_-]?party|external|extern|vendor|deps|build|dist|venv|site-packages|SDL2?_ttf|examples?|tests?|node_modules)(?:/|$)`)

// within says whether a folder is one of those, or below one.
func within(dirs []string, dir string) bool {
	return slices.ContainsFunc(dirs, func(d string) bool { return d == "" || d == dir || strings.HasPrefix(dir, d+"/") })
}

// roots finds the games of a kind: folders with a source that shows it, the outer ones
// first; what is below one belongs to it. No source without one of the words can show it: that is
// looked for first, for lexing takes far longer.
func (k *kind) roots(tree platform.Tree, words []string, shows func(file string, clean []byte) bool, root func(file string) string) ([]platform.Site, error) {
	var found platform.Found
	var dirs []string
	files := slices.DeleteFunc(slices.Clone(tree.Under("")), func(f string) bool { return !slices.Contains(k.language.Endings, path.Ext(f)) })
	slices.SortStableFunc(files, func(a, b string) int { return strings.Count(a, "/") - strings.Count(b, "/") })
	for _, f := range files {
		if othersFolders.MatchString(platform.Folder(f)) || within(dirs, platform.Folder(f)) {
			continue
		}
		raw, ok := tree.Glance(f, platform.MostSource)
		if !ok || !slices.ContainsFunc(words, func(w string) bool { return bytes.Contains(raw, []byte(w)) }) || platform.IsGenerated(raw) || !shows(f, k.language.Blank(raw)) {
			continue
		}
		if dir := root(f); !within(dirs, dir) {
			dirs = append(dirs, dir)
			found.Add(platform.Shown(dir), k.site(tree, dir, f), nil)
		}
	}
	return kit.Sorted(&found)
}

func (k *kind) site(tree platform.Tree, dir, main string) *site {
	s := &site{App: kit.App{Base: platform.Base{Tree: tree, Dir: dir}, Kind: k.title, Fonts: path.Join(dir, fontFolder), Asks: k.uses}, kind: k, main: main}
	s.Foreign = func(file string) bool {
		rel, ok := s.Rel(file)
		return ok && othersFolders.MatchString(path.Dir(rel))
	}
	if k.built {
		s.build = platform.FindCBuild(s.Base)
	} else {
		s.Takes = func(f string) bool { return s.Inside(f) && !othersFolders.MatchString(path.Dir(f)) }
	}
	return s
}

// in is the game in a folder.
func (k *kind) in(tree platform.Tree, dir string, _ platform.Options) (platform.Site, error) {
	return k.site(tree, dir, ""), nil
}

func (s *site) next() string {
	step := s.kind.next
	if s.kind.built && s.build.File == "" {
		step = "take " + folder + "/apptype" + s.ending() + " into the build; " + step
	}
	return step
}

// line is a role as the templates write it; what is empty is left out.
type line struct {
	platform.RoleText
	Member              string
	File                string // literal of the font's path
	Colour, Edge, Below string // parts of a colour, as the language writes them; white for none
	Outside             int    // pixels beside the letter
	Rough, Smooth       bool
	Top, Bottom         string
	HasColour           bool
}

type code struct {
	Roles  []line
	Files  []string // literals, each once
	Target string
	List   string // of a Makefile
	Ending string
	Source string // the loader, from the Makefile's folder
}

// members are the roles' names in code.
func (s *site) members(roles []platform.Role) []string {
	if s.kind.upper {
		return kit.Members(roles, kit.Capitals(s.kind.language, "role_", s.kind.names))
	}
	return kit.Members(roles, kit.Snake(s.kind.language, "role_", s.kind.names))
}

func (s *site) code(job platform.Job) code {
	l := s.kind.language
	data := code{Target: s.build.Target, List: s.build.List, Ending: s.ending(), Source: folder + "/apptype" + s.ending()}
	if strings.HasPrefix(strings.ToLower(s.build.List), "obj") {
		data.Source = folder + "/apptype.o"
	}
	for i, name := range s.members(job.Roles) {
		r := job.Roles[i]
		at, _ := s.Rel(s.Place(job, r.Face))
		if s.kind.built {
			at = path.Base(at)
		}
		x := line{RoleText: r.Text(), Member: name, File: l.Literal(at), Colour: s.kind.colour(platform.Colour{R: 255, G: 255, B: 255, A: 255})}
		if x.HasColour = r.Colour != nil; x.HasColour {
			x.Colour = s.kind.colour(*r.Colour)
		}
		if r.Outline != nil {
			x.Edge, x.Outside = s.kind.colour(r.Outline.Colour), platform.Pixels(r.Outline.Width/2)
		}
		if r.Shadow != nil {
			x.Below = s.kind.colour(r.Shadow.Colour)
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
		if !slices.Contains(data.Files, x.File) {
			data.Files = append(data.Files, x.File)
		}
		data.Roles = append(data.Roles, x)
	}
	return data
}

// Plan is the folder apptype, and what takes the loader into the build.
func (s *site) Plan(job platform.Job) (platform.Plan, error) {
	size := func(r platform.Role) map[string]float64 { return map[string]float64{"size": r.Size} }
	short := slices.Concat(platform.Shortfalls(job, s.kind.short), platform.WholePixels(job, s.kind.title, size), platform.NoBlur(job))
	data := s.code(job)
	d := s.Draft(job, templates, s.next(), short, s.answer)
	if len(job.Roles) == 0 {
		return d.Done()
	}
	d.Words = []string{"apptype", "app_type", "APP_TYPE"}
	d.Shows(map[string][]string{"member": s.members(job.Roles)}, s.kind.way)
	files := s.kind.files(s)
	for _, name := range slices.Sorted(maps.Keys(files)) {
		d.Write(name, files[name], data)
	}
	d.Entries = s.build.Entries(folder)
	d.Unbuilt = s.kind.built && s.build.File == "" && platform.Unbuilt(s.Base, folder)
	return d.Done()
}

// Kinds of uses.
const (
	usePath   = "path"   // of a font
	useSystem = "system" // a family, which is looked for among the installed ones
	useRole   = "role"   // a member of the loader
	useName   = "name"   // a role in the loader's table
)

// answer goes by paths, which count from the game's folder, and by roles.
func (s *site) answer(job platform.Job, q platform.Question) platform.Answer {
	if s.Excludes(q.File) {
		return platform.Answer{}
	}
	if q.Use.Kind == useRole {
		if s.kind.names.Has(q.Typed) {
			return platform.Answer{} // the module's own
		}
		return kit.Role(q, func() []string { return s.members(job.Roles) }, "the game stops there with an error")
	}
	if q.Use.Kind == useName {
		return kit.Role(q, func() []string { return kit.Names(job.Roles) }, "the game stops there with an error")
	}
	if q.Use.Kind == useSystem {
		return answerSystem(q)
	}
	if q.Use.Named && !platform.LooksLikeFont(q.Typed) {
		return platform.Answer{}
	}
	at := path.Join(s.Dir, q.Typed)
	if path.IsAbs(q.Typed) || strings.HasPrefix(at, "..") || s.elsewhere(q) {
		return platform.Answer{}
	}
	return platform.AnswerFile(at, q.FontFiles(s.Tree, s.Dir), "the game stops with an error, or draws nothing", "the game's folder, "+s.Path(),
		func(f string) string { rel, _ := s.Rel(f); return rel })
}

// elsewhere says whether a path leads to a font from another folder of the game, or from one that it is in: where a
// program is started, or installed, decides from where it counts. A name alone counts only from the source's folder
// and those around it: else each font of the game would answer to it. LÖVE alone counts from the game's folder.
func (s *site) elsewhere(q platform.Question) bool {
	if s.kind == &love {
		return false
	}
	typed := path.Clean(q.Typed)
	for dir := platform.Folder(q.File); ; dir = platform.Folder(dir) {
		if at := path.Join(dir, typed); slices.Contains(s.Tree.Named(path.Base(at)), at) {
			return true
		}
		if dir == "" {
			break
		}
	}
	return strings.Contains(typed, "/") && slices.ContainsFunc(q.FontFiles(s.Tree, s.Dir), func(f string) bool { return strings.HasSuffix("/"+f, "/"+typed) })
}

// answerSystem judges a family that is looked for among the installed ones: a font of the game's is not
// among these.
func answerSystem(q platform.Question) platform.Answer {
	for _, f := range q.Faces {
		if slices.Contains([]string{f.Family, f.LegacyFamily, f.Full, f.ID()}, q.Typed) || slices.Contains(platform.NamesOfFile(f), q.Typed) {
			return platform.Answer{Fault: platform.UnknownFace, Message: fmt.Sprintf("%q is looked for among the installed fonts", face.Short(q.Typed)),
				Cause: "SysFont does not know the fonts of the game, and draws with its own", Cure: fmt.Sprintf("write pygame.font.Font(%q, …)", f.File)}
		}
	}
	return platform.Answer{}
}
