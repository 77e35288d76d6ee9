package notary

import (
	"context"
	"errors"
	"fmt"
	"path"
	"slices"
	"sort"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/fault"
	"notaria/internal/platform"
	"notaria/internal/registry"
)

// A Plan is the whole desired state of a project: what each site wants, and all of it
// merged, with the sites that want a thing as its owners.
type Plan struct {
	Sites   []SitePlan
	Refused []Refusal
	Files   []Wanted      // by path
	Entries []WantedEntry // in the order of the sites

	whole map[string]bool // platforms of which every app is known
	// Passed counts the apps that were found and not chosen.
	Passed int
}

// A SitePlan is what one site should hold.
type SitePlan struct {
	Target platform.About
	Site   platform.Site
	platform.Plan
	Faces, Roles int // how many it was asked to carry
}

// Owner is the site as the ledger names it.
func (s SitePlan) Owner() registry.Owner {
	return registry.Owner{Target: s.Target.Name, App: s.Site.Path()}
}

// Wanted is a file with the sites that want it.
type Wanted struct {
	platform.File
	Owners []registry.Owner
}

// A WantedEntry is an entry with the sites that want it.
type WantedEntry struct {
	edit.Entry
	Owners []registry.Owner
}

// A Refusal is an app that cannot be served; App is "" where it is not known.
type Refusal struct {
	Target, App string
	Err         error
	// Paste is what a person can write into a manifest that was left alone, "" if there
	// is nothing to write; File is that manifest.
	File, Paste string
}

// WayOut says how a person gets on without serving the app, in the words of notaria.toml; "" where
// the cure of the error tells it.
func (r Refusal) WayOut() string {
	var f *fault.Error
	if r.App == "" || errors.As(r.Err, &f) && (strings.Contains(f.Cure, platform.LeaveOut) || strings.Contains(f.Cure, "targets = [")) {
		return ""
	}
	return fmt.Sprintf("leave it out: leave-out = [%q] under [target.%s] in %s", r.App, r.Target, registry.FileName)
}

// Plan asks every site of the given targets what it wants, and merges the answers. An
// app that cannot be served stops no other: it is among the refused.
func (p *Project) Plan(ctx context.Context, targets []platform.Platform) (*Plan, error) {
	return p.PlanOnly(ctx, targets, Only{})
}

// PlanOnly is Plan for chosen apps: what the others have stays as it is.
func (p *Project) PlanOnly(ctx context.Context, targets []platform.Platform, only Only) (*Plan, error) {
	if err := p.unsettled(false); err != nil {
		return nil, err
	}
	plan := &Plan{whole: map[string]bool{}}
	for _, t := range targets {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		name := t.About().Name
		if !only.asks(name) {
			continue
		}
		sites := plan.choose(name, p.found(t), only)
		if len(sites) == 0 {
			continue
		}
		job, err := p.Job(t)
		if err != nil {
			return nil, err
		}
		for _, s := range sites {
			sp, seen := SitePlan{Target: t.About(), Site: s, Faces: len(job.Faces), Roles: len(job.Roles)}, len(p.Tree.Unread)
			if sp.Plan, err = s.Plan(job); err == nil && len(p.Tree.Unread) > seen {
				err = p.Tree.Unread[seen].Fault() // the platform went on without; what it says may be wrong
			}
			if err != nil {
				plan.Refused = append(plan.Refused, Refusal{Target: name, App: s.Path(), Err: err})
				continue
			}
			plan.Sites = append(plan.Sites, sp)
		}
	}
	p.finished(plan)
	p.hidden(plan)
	p.merge(plan)
	return plan, nil
}

// choose notes what is wrong with the apps of a target that were found, and leaves the chosen ones.
func (plan *Plan) choose(name string, f found, only Only) []platform.Site {
	for _, e := range Each(f.err) {
		r := Refusal{Target: name, Err: e}
		var app *platform.AppError
		if errors.As(e, &app) {
			r.App = app.App
		}
		if !only.Takes(registry.Owner{Target: name, App: r.App}) {
			plan.Passed++
			continue
		}
		plan.Refused = append(plan.Refused, r)
	}
	for _, u := range f.unread {
		if !slices.ContainsFunc(plan.Refused, func(r Refusal) bool { return strings.HasPrefix(r.Err.Error(), u.File) }) {
			plan.Refused = append(plan.Refused, Refusal{Target: name, Err: u.Fault()})
		}
	}
	plan.whole[name] = f.err == nil && len(f.unread) == 0 && (only.Every || only.Takes(registry.Owner{Target: name}))
	sites := slices.DeleteFunc(slices.Clone(f.sites), func(s platform.Site) bool {
		return !only.Takes(registry.Owner{Target: name, App: s.Path()})
	})
	plan.Passed += len(f.sites) - len(sites)
	return sites
}

// hidden refuses the apps on the ledger that are in a folder which is not seen: what they
// have stays.
func (p *Project) hidden(plan *Plan) {
	for _, o := range p.Ledger.Owners() {
		known := slices.ContainsFunc(plan.Refused, func(r Refusal) bool { return r.Target == o.Target && r.App == o.App }) ||
			slices.ContainsFunc(plan.Sites, func(s SitePlan) bool { return s.Owner() == o })
		if known {
			continue
		}
		for _, name := range append(p.Ledger.Paths(o), o.App) {
			if err := p.Tree.Hidden(name); err != nil {
				plan.Refused = append(plan.Refused, Refusal{Target: o.Target, App: o.App, Err: err})
				break
			}
		}
	}
}

// Gone are the apps on the ledger that are not there any more, and were not left out: the
// next registration takes them off.
func (p *Project) Gone(plan *Plan) []registry.Owner {
	return slices.DeleteFunc(p.Ledger.Owners(), func(o registry.Owner) bool {
		return o.App == "" || !plan.knows(o) || slices.ContainsFunc(plan.Sites, func(s SitePlan) bool { return s.Owner() == o }) ||
			slices.Contains(platform.Options(p.Registry.Options[o.Target]).List(platform.LeaveOut), o.App)
	})
}

// PlanSite is the plan of one site alone.
func (p *Project) PlanSite(t platform.Platform, s platform.Site) (*Plan, error) {
	job, err := p.Job(t)
	if err != nil {
		return nil, err
	}
	sp := SitePlan{Target: t.About(), Site: s, Faces: len(job.Faces), Roles: len(job.Roles)}
	sp.Plan, err = s.Plan(job)
	plan := &Plan{Sites: []SitePlan{sp}}
	p.merge(plan)
	return plan, err
}

// Each takes joined errors apart.
func Each(err error) []error {
	if err == nil {
		return nil
	}
	if list, ok := err.(interface{ Unwrap() []error }); ok {
		return list.Unwrap()
	}
	return []error{err}
}

// merge makes the one desired state of what the sites want. A site that wants a path
// with another content than a site before it is refused.
func (p *Project) merge(plan *Plan) {
	m := merger{files: map[string]*Wanted{}, entries: map[string]int{}, originals: map[string]bool{}}
	for _, f := range p.Registry.Faces {
		m.originals[fold(f.File)] = true
	}
	kept := plan.Sites[:0:0]
	for _, s := range plan.Sites {
		err := m.clash(s)
		if err == nil {
			err = p.misspelled(s)
		}
		if err != nil {
			plan.Refused = append(plan.Refused, Refusal{Target: s.Target.Name, App: s.Site.Path(), Err: err})
			continue
		}
		m.add(s)
		kept = append(kept, s)
	}
	plan.Sites, plan.Entries, plan.Files = kept, m.list, nil
	for _, path := range m.order {
		plan.Files = append(plan.Files, *m.files[path])
	}
	sort.SliceStable(plan.Files, func(i, j int) bool { return plan.Files[i].Path < plan.Files[j].Path })
}

// misspelled finds a file of a site that would lie beside another, or in a folder beside another,
// whose name differs by capitals alone: on most Macs and on Windows both are one.
func (p *Project) misspelled(s SitePlan) error {
	for _, f := range s.All() {
		if p.Tree.Has(f.Path) {
			continue
		}
		if have := platform.Spelled(p.Tree, path.Dir(f.Path)); have != path.Dir(f.Path) {
			return &fault.Error{File: f.Path, Expected: "a folder whose name differs from no other by capitals alone", Found: have,
				Cure: "rename that folder, then register again"}
		}
	}
	return nil
}

// merger collects wishes by what they are about. Paths that differ only by capitals are
// one file on most desktops.
type merger struct {
	files     map[string]*Wanted
	order     []string
	entries   map[string]int
	list      []WantedEntry
	originals map[string]bool
}

// alike says whether two recipes give the same content.
func alike(a, b platform.Recipe) bool {
	x, isText := a.(platform.Text)
	y, both := b.(platform.Text)
	if isText && both {
		return string(x.Content) == string(y.Content)
	}
	return isText == both && a.Key() == b.Key()
}

// clash finds a path that a site wants with another content than is wanted already.
func (m *merger) clash(s SitePlan) error {
	own := map[string]platform.File{}
	for _, f := range s.All() {
		key := fold(f.Path)
		if m.originals[key] {
			return &fault.Error{File: f.Path, Expected: "a place of its own for what " + s.Site.Title() + " gets", Found: "an original of the project",
				Cure: "choose another folder for the originals: folder = \"…\" in " + registry.FileName}
		}
		if other, ok := own[key]; ok && !alike(other.Recipe, f.Recipe) {
			return &fault.Error{File: f.Path, Expected: "one file under this name", Found: fmt.Sprintf("two: %s and %s", other.Recipe.Key(), f.Recipe.Key()), Cure: "strike one of the faces"}
		}
		own[key] = f
		if other, ok := m.files[key]; ok && (!alike(other.Recipe, f.Recipe) || other.Path != f.Path) {
			o := other.Owners[0]
			return &fault.Error{File: f.Path, Expected: "one content for this file", Found: fmt.Sprintf("two: for %s (%s) and for %s (%s)", o.App, o.Target, s.Site.Path(), s.Target.Name),
				Cure: fmt.Sprintf("leave one of the two out: leave-out = [%q] under [target.%s] in %s", s.Site.Path(), s.Target.Name, registry.FileName)}
		}
	}
	return nil
}

func (m *merger) add(s SitePlan) {
	owner := s.Owner()
	for _, f := range s.All() {
		key := fold(f.Path)
		if m.files[key] == nil {
			m.files[key] = &Wanted{File: f}
			m.order = append(m.order, key)
		}
		m.files[key].Owners = registry.Union(m.files[key].Owners, []registry.Owner{owner})
	}
	for _, e := range s.Entries {
		i, ok := m.entries[e.Key()]
		if !ok {
			i = len(m.list)
			m.entries[e.Key()] = i
			m.list = append(m.list, WantedEntry{Entry: e})
		}
		m.list[i].Owners = registry.Union(m.list[i].Owners, []registry.Owner{owner})
	}
}

// refuse takes sites out of a plan because of an error, and merges the others anew. An
// owner whose app is not planned, for it is gone or left out, is refused, too: what it
// has stays on the ledger. It says whether anything changed.
func (p *Project) refuse(plan *Plan, owners []registry.Owner, r Refusal) bool {
	before := len(plan.Refused)
	for _, o := range owners {
		known := slices.ContainsFunc(plan.Refused, func(r Refusal) bool { return r.Target == o.Target && r.App == o.App })
		if r.Target, r.App = o.Target, o.App; !known {
			plan.Refused = append(plan.Refused, r)
		}
	}
	plan.Sites = slices.DeleteFunc(plan.Sites, func(s SitePlan) bool { return slices.Contains(owners, s.Owner()) })
	p.merge(plan)
	return len(plan.Refused) > before
}

// Refuse takes the apps out of a plan for which a file cannot be made; false if there are none.
func (p *Project) Refuse(plan *Plan, e *CannotMakeError) bool {
	return p.refuse(plan, e.Owners, Refusal{Err: e.Err})
}

// knows says whether a plan decides about what an owner has on the ledger: its app is
// planned, or is there no more.
func (plan *Plan) knows(o registry.Owner) bool {
	if !plan.whole[o.Target] {
		return slices.ContainsFunc(plan.Sites, func(s SitePlan) bool { return s.Owner() == o })
	}
	return !slices.ContainsFunc(plan.Refused, func(r Refusal) bool {
		return r.Target == o.Target && (r.App == o.App || r.App == "" || o.App == "") // schema 1 did not tell the app
	})
}

func fold(s string) string {
	return strings.Map(func(r rune) rune {
		if r >= 'A' && r <= 'Z' {
			return r + 'a' - 'A'
		}
		return r
	}, s)
}
