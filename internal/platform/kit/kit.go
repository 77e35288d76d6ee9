// Package kit is what simple platforms have in common: a folder of fonts, generated code, entries that take it
// into the app, and answers about the names in the app's code. A platform is a value; its apps embed an App and
// say in Plan what is their own. Platforms whose manifests are long stories, such as Apple's and Android's,
// do without it.
package kit

import (
	"embed"
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

// A Platform is one of the common shape.
type Platform struct {
	Info  platform.About
	Names func([]face.Face) []string
	Like  platform.Platform // on which faces have the same names, nil for names of its own
	Find  func(platform.Tree, platform.Options) ([]platform.Site, error)
	Forms []edit.Syntax         // documents of its own
	Owns  func(edit.Entry) bool // entries of forms that developers also write
	Skip  []platform.Skip       // folders that its tools make
	Log   []*lazy.Pattern       // what an app's log says of a font that is not there
	Claim func(platform.Tree, platform.Options) map[string]platform.Claim
}

// About describes the platform.
func (p *Platform) About() platform.About { return p.Info }

// Type returns what code types for each face.
func (p *Platform) Type(faces []face.Face) []string { return p.Names(faces) }

// NamedAs is the platform on which faces have the same names.
func (p *Platform) NamedAs() platform.Platform {
	if p.Like != nil {
		return p.Like
	}
	return p
}

// Sites finds the apps, in the order of their paths.
func (p *Platform) Sites(tree platform.Tree, opt platform.Options) ([]platform.Site, error) {
	return p.Find(tree, opt)
}

// Claims are what it says of folders and pages to other platforms.
func (p *Platform) Claims(tree platform.Tree, opt platform.Options) map[string]platform.Claim {
	if p.Claim == nil {
		return nil
	}
	return p.Claim(tree, opt)
}

// Syntaxes are the forms of its own documents.
func (p *Platform) Syntaxes() []edit.Syntax { return p.Forms }

// OwnsEntry says whether an entry is of a form that Notaria alone writes on this platform.
func (p *Platform) OwnsEntry(e edit.Entry) bool { return p.Owns != nil && p.Owns(e) }

// Skips are the folders that its tools make.
func (p *Platform) Skips() []platform.Skip { return p.Skip }

// LogLines are those of an app's log.
func (p *Platform) LogLines() []*lazy.Pattern { return p.Log }

// A Named platform is one whose apps a project can name itself.
type Named struct {
	Platform
	In func(tree platform.Tree, dir string, opt platform.Options) (platform.Site, error)
}

// SiteIn is the app in a folder.
func (p *Named) SiteIn(tree platform.Tree, folder string, opt platform.Options) (platform.Site, error) {
	return p.In(tree, platform.Plain(folder), opt)
}

// NamedAs is the platform on which faces have the same names.
func (p *Named) NamedAs() platform.Platform {
	if p.Like != nil {
		return p.Like
	}
	return p
}

// An App is what apps have in common; that of a platform embeds it.
type App struct {
	platform.Base
	Kind  string // in front of its path
	Fonts string // the folder of new fonts, project-relative
	// Common says that developers also have a folder of that name: it is taken as it is spelled.
	Common bool
	Asks   []platform.Use // where its code asks for a font
	// Takes says whether a font that lies in the project already is in the app; nil for none.
	Takes func(file string) bool
	// Foreign says whether a file in the folder is not the app's own; nil where all are.
	Foreign func(file string) bool
}

// Title is the kind of app, and its path.
func (a *App) Title() string { return a.Kind + " " + a.Path() }

// Uses are below the app's folder.
func (a *App) Uses() (string, []platform.Use) { return a.Dir, a.Asks }

// Excludes says which files are not the app's own.
func (a *App) Excludes(file string) bool { return a.Foreign != nil && a.Foreign(file) }

// Place is where a face is: where somebody put it for the app, else among the new fonts.
func (a *App) Place(job platform.Job, f platform.Face) string {
	if a.Takes != nil {
		if at, ok := job.At(f, a.Takes); ok {
			return at
		}
	}
	dir := a.Fonts
	if a.Common {
		dir = platform.Spelled(a.Tree, dir)
	}
	return path.Join(dir, f.Base())
}

// Inside says whether a font of the project lies in the app's folder, in no folder of tests.
func (a *App) Inside(file string) bool {
	rel, inside := a.Rel(file)
	return inside && platform.IsFont(file) && !platform.IsTest(rel)
}

// Held are the fonts in the app's folder, which code loads by their paths.
func (a *App) Held() ([]platform.Held, error) {
	return a.Lying(platform.IsFont, func(f, rel string) string { return path.Base(f) }), nil
}

// Lying are the files of the folder that are fonts, with what is shown of each.
func (a *App) Lying(isFont func(string) bool, shown func(file, rel string) string) []platform.Held {
	var out []platform.Held
	for _, f := range a.Tree.Under(a.Dir) {
		if rel, _ := a.Rel(f); isFont(f) && !a.Excludes(f) {
			out = append(out, platform.Held{Manifest: f, Value: shown(f, rel), File: f})
		}
	}
	return out
}

// Answer judges names in the app's code, for what a plan is about.
type Answer func(job platform.Job, q platform.Question) platform.Answer

// A Draft is a plan in the making. What fails ends it: later calls do nothing.
type Draft struct {
	platform.Plan
	Job       platform.Job
	templates *lazy.Value[*template.Template]
	dir       string
	err       error
}

// Draft begins a plan: the faces at their places, and what falls short of the roles.
func (a *App) Draft(job platform.Job, t *lazy.Value[*template.Template], next string, short []platform.Shortfall, answer Answer) *Draft {
	d := &Draft{Job: job, templates: t, dir: a.Dir}
	d.Files = job.CopiesAt(func(f platform.Face) string { return a.Place(job, f) })
	d.Next, d.Short = next, short
	d.Plan.Answer = func(q platform.Question) platform.Answer { return answer(job, q) }
	return d
}

// Write adds code: what a template makes of data, at a path from the app's folder.
func (d *Draft) Write(name, at string, data any) {
	if d.err != nil {
		return
	}
	var text []byte
	if text, d.err = platform.Render(d.templates, name+".tmpl", data); d.err == nil {
		d.Code = append(d.Code, platform.Code(path.Join(d.dir, at), text))
	}
}

// Shows says how the app shows its roles: names are, for each word in braces in the ways' code, those of all roles.
func (d *Draft) Shows(names map[string][]string, ways ...platform.Showing) {
	roles := d.Job.Roles
	d.Show = func(role string) []platform.Showing { return platform.Ways(roles, role, names, ways...) }
}

// Line adds a line of a source or a build file.
func (d *Draft) Line(file string, place edit.Place, value string) {
	d.Entries = append(d.Entries, edit.Entry{File: file, Syntax: "source", Place: place, Value: value})
}

// Fail ends the draft.
func (d *Draft) Fail(err error) {
	if d.err == nil {
		d.err = err
	}
}

// Done is the plan.
func (d *Draft) Done() (platform.Plan, error) { return d.Plan, d.err }

// Templates reads a platform's templates when the first is needed.
func Templates(files embed.FS) *lazy.Value[*template.Template] {
	return lazy.Of(func() *template.Template { return template.Must(template.ParseFS(files, "*.tmpl")) })
}

// Members are the names of roles in code, no two alike.
func Members(roles []platform.Role, name func(role string) string) []string {
	out := make([]string, len(roles))
	for i, r := range roles {
		out[i] = name(r.Name)
	}
	return language.Unique(out)
}

// Snake names a role as most languages do; a name that begins with a digit gets the prefix, and taken are names
// that the code has itself.
func Snake(l *language.Language, prefix string, taken *lazy.Set) func(string) string {
	return func(role string) string {
		return l.Member(language.Snake(strings.Split(role, "-")), prefix, taken)
	}
}

// Capitals name a role as constants are.
func Capitals(l *language.Language, prefix string, taken *lazy.Set) func(string) string {
	return func(role string) string {
		return l.Member(strings.ToUpper(language.Snake(strings.Split(role, "-"))), prefix, taken)
	}
}

// Sorted are sites in the order of their paths.
func Sorted(found *platform.Found) ([]platform.Site, error) {
	sites, err := found.All()
	slices.SortStableFunc(sites, func(a, b platform.Site) int { return strings.Compare(a.Path(), b.Path()) })
	return sites, err
}

// Role answers for a name that can only mean a role.
func Role(q platform.Question, names func() []string, cause string) platform.Answer {
	have := q.Once("roles "+q.Use.Kind, names)
	if near := platform.Nearest(q.Typed, have); near != "" && !slices.Contains(have, q.Typed) {
		return platform.Answer{Fault: platform.NoSuchRole, Message: "no role is called " + face.Short(q.Typed), Cause: cause, Cure: platform.Choose(near, nil), Instead: near}
	}
	return platform.Answer{}
}

// Names are those of roles.
func Names(roles []platform.Role) []string {
	out := make([]string, len(roles))
	for i, r := range roles {
		out[i] = r.Name
	}
	return out
}

// Classes are the style classes of roles.
func Classes(roles []platform.Role) []string {
	out := make([]string, len(roles))
	for i, r := range roles {
		out[i] = "type-" + r.Name
	}
	return out
}

// Family answers for a name where code asks for a family, which tells its faces apart by weight and slant; mixed
// says what a name of a face is taken for, cause what an unknown name leads to.
func Family(q platform.Question, typed, mixed, cause string) platform.Answer {
	if slices.Contains(q.System, typed) || slices.ContainsFunc(q.Faces, func(f platform.Face) bool { return strings.EqualFold(typed, f.LegacyFamily) }) {
		return platform.Answer{}
	}
	var names []platform.Spelling
	for _, f := range q.Faces {
		names = append(names, platform.Spelling{Right: platform.FamilyOf(f.Face), Wrong: append(platform.NamesOfFile(f), f.ID(), f.Full)})
	}
	a := platform.AnswerName(typed, names, mixed, "no family is called %q", cause)
	if a.Fault != platform.Fine || !platform.Foreign(typed) || slices.ContainsFunc(names, func(n platform.Spelling) bool { return strings.EqualFold(n.Right, typed) }) {
		return a
	}
	known := make([]string, len(names))
	for i, n := range names {
		known[i] = n.Right
	}
	return platform.AnswerForeign(typed, cause, known)
}
