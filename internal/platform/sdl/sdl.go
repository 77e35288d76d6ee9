// Package sdl serves games that draw with SDL_ttf, and two engines that are built on SDL:
// pygame and LÖVE. Each gets a folder apptype with the fonts and a small loader in its
// language: roles with their sizes, made once, with what SDL can do for an outline and a
// shadow, and an error with the file's name where one is missing.
package sdl

import (
	"bytes"
	"embed"
	"fmt"
	"path"
	"slices"
	"strings"
	"text/template"

	"notaria/internal/edit"
	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

//go:embed *.tmpl
var texts embed.FS

var templates = lazy.Of(func() *template.Template { return template.Must(template.ParseFS(texts, "*.tmpl")) })

// kind is what one of the platforms has of its own.
type kind struct {
	about platform.About
	title string
	next  string // with ROLE for one of them
	// names are those that the loader has itself, or that its language minds.
	names    *lazy.Set
	language *language.Language
	upper    bool // members are constants
	short    map[string]string
	whole    func(platform.Role) map[string]float64 // lengths in whole pixels
	uses     []platform.Use
	// files are the templates and where they go; entries what takes them into the build.
	files   func(*site) map[string]string
	entries func(*site) []edit.Entry
}

// site is the folder of a game.
type site struct {
	platform.Base
	kind  *kind
	main  string // the source that shows it is one
	build platform.CBuild
	job   platform.Job
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
// first; what is below one belongs to it. No source without the word can show it: that is
// looked for first, for lexing takes far longer.
func (k *kind) roots(tree platform.Tree, word string, shows func(file string, clean []byte) bool, root func(file string) string) ([]platform.Site, error) {
	var found platform.Found
	var dirs []string
	files := slices.DeleteFunc(slices.Clone(tree.Under("")), func(f string) bool { return !slices.Contains(k.language.Endings, path.Ext(f)) })
	slices.SortStableFunc(files, func(a, b string) int { return strings.Count(a, "/") - strings.Count(b, "/") })
	for _, f := range files {
		if othersFolders.MatchString(platform.Folder(f)) || within(dirs, platform.Folder(f)) {
			continue
		}
		raw, ok := tree.Glance(f, platform.LargestSource)
		if !ok || !bytes.Contains(raw, []byte(word)) || platform.IsGenerated(raw) || !shows(f, k.language.Blank(raw)) {
			continue
		}
		if dir := root(f); !within(dirs, dir) {
			dirs = append(dirs, dir)
			found.Add(platform.Shown(dir), k.site(tree, dir, f), nil)
		}
	}
	sites, err := found.All()
	slices.SortStableFunc(sites, func(a, b platform.Site) int { return strings.Compare(a.Path(), b.Path()) })
	return sites, err
}

func (k *kind) site(tree platform.Tree, dir, main string) *site {
	s := &site{Base: platform.Base{Tree: tree, Dir: dir}, kind: k, main: main}
	s.findBuild()
	return s
}

func (s *site) Title() string { return s.kind.title + " " + s.Path() }

func (s *site) Next() string {
	step, role := s.kind.next, "…"
	if roles := s.code(s.job).Roles; len(roles) > 0 {
		role = roles[0].Member
	}
	if s.isC() && s.build.File == "" {
		step = "take " + folder + "/apptype" + s.ending() + " into the build; " + step
	}
	return strings.ReplaceAll(step, "ROLE", role)
}

func (s *site) place(job platform.Job, f platform.Face) string {
	at, ok := job.At(f, func(p string) bool {
		rel, inside := s.Rel(p)
		return inside && !s.isC() && !platform.IsTest(rel) && platform.IsFont(p) && !othersFolders.MatchString(path.Dir(p))
	})
	if ok {
		return at
	}
	return path.Join(s.Dir, fontFolder, f.Base())
}

// line is a role as the templates write it; what is empty is left out.
type line struct {
	platform.RoleText
	Member, Literal, About      string
	File                        string // literal of the font's path
	Pixels                      int
	Colour, Edge, Below         string // parts of a colour, as the language writes them
	Outside                     int    // pixels beside the letter
	ShadowX, ShadowY            string
	Rough, Smooth, Last, Mono   bool
	Top, Bottom                 string
	HasColour, HasEdge, HasDrop bool
}

type code struct {
	Roles  []line
	Files  []string // literals, each once
	Target string
	List   string // of a Makefile
	Ending string
	Source string // the loader, from the Makefile's folder
}

func (s *site) code(job platform.Job) code {
	l := s.kind.language
	data := code{Target: s.build.Target, List: s.build.List, Ending: s.ending(), Source: folder + "/apptype" + s.ending()}
	if strings.HasPrefix(strings.ToLower(s.build.List), "obj") {
		data.Source = folder + "/apptype.o"
	}
	var names []string
	for _, r := range job.Roles {
		name := language.Snake(strings.Split(r.Name, "-"))
		if s.kind.upper {
			name = strings.ToUpper(name)
		}
		names = append(names, l.Member(name, "role_", s.kind.names))
	}
	for i, name := range language.Unique(names) {
		r := job.Roles[i]
		at, _ := s.Rel(s.place(job, r.Face))
		if s.isC() {
			at = path.Base(at)
		}
		x := line{RoleText: r.Text(), Member: name, Literal: l.Literal(r.Name), About: language.CommentText(r.About("pixels")), File: l.Literal(at), Pixels: platform.Pixels(r.Size), Last: i == len(job.Roles)-1}
		x.Colour, x.HasColour = s.colour(r.Colour), r.Colour != nil
		if r.Outline != nil {
			x.Edge, x.Outside, x.HasEdge = s.colour(&r.Outline.Colour), platform.Pixels(r.Outline.Width/2), true
		}
		if r.Shadow != nil {
			x.Below, x.ShadowX, x.ShadowY, x.HasDrop = s.colour(&r.Shadow.Colour), language.Number(r.Shadow.X), language.Number(r.Shadow.Y), true
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
	s.job = job
	p := platform.Plan{Files: job.CopiesAt(func(f platform.Face) string { return s.place(job, f) }), Short: platform.Shortfalls(job, s.kind.short)}
	p.Short = append(p.Short, platform.WholePixels(job, s.kind.title, s.kind.whole)...)
	for _, r := range job.Roles {
		if r.Shadow != nil && r.Shadow.Blur > 0 {
			p.Short = append(p.Short, platform.Shortfall{Role: r.Name, Part: platform.PartShadow, Why: "a shadow there has no blur"})
		}
	}
	if len(job.Roles) == 0 {
		return p, nil
	}
	data, files := s.code(job), s.kind.files(s)
	names := make([]string, 0, len(files))
	for name := range files {
		names = append(names, name)
	}
	slices.Sort(names)
	for _, name := range names {
		text, err := platform.Render(templates, name+".tmpl", data)
		if err != nil {
			return p, err
		}
		p.Code = append(p.Code, platform.Code(path.Join(s.Dir, files[name]), text))
	}
	if s.kind.entries != nil {
		p.Entries = s.kind.entries(s)
	}
	return p, nil
}

// Held lists the fonts in the game's folder, which code opens by their paths.
func (s *site) Held() ([]platform.Held, error) {
	var out []platform.Held
	for _, f := range s.Tree.Under(s.Dir) {
		if rel, _ := s.Rel(f); platform.IsFont(f) && !othersFolders.MatchString(path.Dir(rel)) {
			out = append(out, platform.Held{Manifest: f, Value: path.Base(f), File: f})
		}
	}
	return out, nil
}

// Kinds of uses.
const (
	usePath   = "path"   // of a font
	useSystem = "system" // a family, which is looked for among the installed ones
	useRole   = "role"   // a member of the loader
)

// Uses are below the game's folder.
func (s *site) Uses() (string, []platform.Use) { return s.Dir, s.kind.uses }

// Answer goes by paths, which count from the game's folder, and by roles.
func (s *site) Answer(q platform.Question) platform.Answer {
	rel, _ := s.Rel(q.File)
	if othersFolders.MatchString(path.Dir(rel)) {
		return platform.Answer{}
	}
	if q.Use.Kind == useRole {
		return s.answerRole(q)
	}
	if q.Use.Kind == useSystem {
		return answerSystem(q)
	}
	if q.Use.Named && !platform.LooksLikeFont(q.Typed) {
		return platform.Answer{}
	}
	at := path.Join(s.Dir, q.Typed)
	if path.IsAbs(q.Typed) || strings.HasPrefix(at, "..") {
		return platform.Answer{}
	}
	return platform.AnswerFile(at, q.FontFiles(s.Tree, s.Dir), "the game stops with an error, or draws nothing", "the game's folder, "+s.Path(),
		func(f string) string { rel, _ := s.Rel(f); return rel })
}

func (s *site) answerRole(q platform.Question) platform.Answer {
	names := q.Once("roles", func() []string {
		var out []string
		for _, l := range s.code(s.job).Roles {
			out = append(out, l.Member)
		}
		return out
	})
	if near := platform.Nearest(q.Typed, names); !slices.Contains(names, q.Typed) && near != "" {
		return platform.Answer{Fault: platform.NoSuchRole, Message: "no role is called " + q.Typed, Cause: "the game stops there with an error", Cure: platform.Choose(near, nil), Instead: near}
	}
	return platform.Answer{}
}

// typed is what code types on all three.
func typed(faces []face.Face) []string { return platform.FileNames(faces) }

// isC says whether the game is in C or C++, which a build makes.
func (s *site) isC() bool { return s.kind.about.Name == "sdl" }

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

// Passes are libraries and tests that were copied into the game's folder.
func (s *site) Excludes(file string) bool {
	rel, ok := s.Rel(file)
	return ok && othersFolders.MatchString(path.Dir(rel))
}
