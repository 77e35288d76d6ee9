package notary

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io/fs"
	"sort"

	"notaria/internal/change"
	"notaria/internal/edit"
	"notaria/internal/registry"
	"notaria/internal/sfnt"
	"notaria/internal/target"
)

// A Plan is the whole desired state of a project's sites.
type Plan struct {
	Sites []SitePlan
}

// A SitePlan is what one site should hold.
type SitePlan struct {
	Target  target.About
	Site    target.Site
	Files   []target.File // copies and code
	Entries []edit.Entry
	Short   []target.Shortfall
}

// Plan asks every site of the given targets what it wants. An app that cannot be
// served is an error: all of a change is made, or none.
func (p *Project) Plan(ctx context.Context, targets []target.Target) (*Plan, error) {
	plan, unserved, err := p.PlanServed(ctx, targets)
	if err == nil && len(unserved) > 0 {
		err = unserved[0].Err
	}
	return plan, err
}

// Unserved is an app that cannot be planned for; Site is "" where it is not known.
type Unserved struct {
	Target, Site string
	Err          error
}

// PlanServed is Plan for looking on: it passes over the apps that cannot be served,
// and returns them.
func (p *Project) PlanServed(ctx context.Context, targets []target.Target) (*Plan, []Unserved, error) {
	plan := &Plan{}
	var unserved []Unserved
	for _, t := range targets {
		if err := ctx.Err(); err != nil {
			return nil, nil, err
		}
		name := t.About().Name
		sites, err := p.Sites(t)
		for _, e := range Each(err) {
			unserved = append(unserved, Unserved{name, "", e})
		}
		if len(sites) == 0 {
			continue
		}
		job, err := p.Job(t)
		if err != nil {
			return nil, nil, err
		}
		for _, s := range sites {
			sp, err := planSite(t, s, job)
			if err != nil {
				unserved = append(unserved, Unserved{name, s.Path(), err})
				continue
			}
			plan.Sites = append(plan.Sites, sp)
		}
	}
	return plan, unserved, plan.distinct()
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

// PlanSite is the plan of one site alone.
func (p *Project) PlanSite(t target.Target, s target.Site) (*Plan, error) {
	job, err := p.Job(t)
	if err != nil {
		return nil, err
	}
	sp, err := planSite(t, s, job)
	return &Plan{Sites: []SitePlan{sp}}, err
}

func planSite(t target.Target, s target.Site, job target.Job) (SitePlan, error) {
	sp := SitePlan{Target: t.About(), Site: s}
	copies, err := s.Files(job)
	if err != nil {
		return sp, err
	}
	code, err := s.Code(job)
	if err != nil {
		return sp, err
	}
	sp.Files = append(copies, code...)
	sp.Short = s.Shortfalls(job)
	if sp.Entries, err = s.Entries(job); err != nil {
		return sp, err
	}
	for i := range sp.Entries {
		sp.Entries[i].Target = sp.Target.Name
	}
	return sp, nil
}

// distinct makes sure that no two things are to be put in one place: names that
// differ only by capitals are one file on most desktops.
func (plan *Plan) distinct() error {
	seen := map[string]string{}
	for _, s := range plan.Sites {
		for _, f := range s.Files {
			key := fold(f.Path)
			if other, ok := seen[key]; ok && other != f.Copy {
				return fmt.Errorf("%s: expected one face under this name, found two (%q and %q); strike one of them", f.Path, other, f.Copy)
			}
			seen[key] = f.Copy
		}
	}
	return nil
}

func fold(s string) string {
	b := []byte(s)
	for i, c := range b {
		if c >= 'A' && c <= 'Z' {
			b[i] = c + 'a' - 'A'
		}
	}
	return string(b)
}

// Content gives the bytes of a planned file.
func (p *Project) Content(f target.File) ([]byte, error) {
	switch {
	case len(f.Pack) > 0:
		return p.pack(f.Pack)
	case f.Copy == "":
		return f.Content, nil
	}
	return p.originalOf(f.Copy)
}

func (p *Project) originalOf(id string) ([]byte, error) {
	e, ok := p.Registry.Face(id)
	if !ok {
		return nil, fmt.Errorf("no face %q is enrolled", id)
	}
	return (&change.Set{Root: p.Root}).Read(e.File)
}

// pack joins faces into a collection.
func (p *Project) pack(ids []string) ([]byte, error) {
	var fonts []map[string][]byte
	for _, id := range ids {
		b, err := p.originalOf(id)
		if err != nil {
			return nil, err
		}
		file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
		if err != nil {
			return nil, fmt.Errorf("%s: %w", id, err)
		}
		tables, err := file.Font(0).Tables()
		if err != nil {
			return nil, fmt.Errorf("%s: %w", id, err)
		}
		fonts = append(fonts, tables)
	}
	return sfnt.BuildCollection(fonts)
}

// A ConflictError says that a file which Notaria would write holds something
// that Notaria did not write.
type ConflictError struct{ Path, Found, Cure string }

func (e *ConflictError) Error() string {
	return fmt.Sprintf("%s: expected what Notaria wrote, or no file; found %s; %s", e.Path, e.Found, e.Cure)
}

// A PasteError is a manifest that was left alone, with what a person can write into
// it instead.
type PasteError struct {
	Err   error
	File  string // project-relative
	Paste string // lines of text, "" if there is nothing to write
}

func (e *PasteError) Error() string { return e.Err.Error() }

func (e *PasteError) Unwrap() error { return e.Err }

// Options say how changes are made from a plan.
type Options struct {
	Only      string // one target's name, or "" for all
	Overwrite bool   // take the place of files that somebody else changed
	TakeOver  bool   // count as Notaria's what somebody else registered in the same way
}

// Changes turns a plan into the set of changes that makes the disk match it.
func (p *Project) Changes(ctx context.Context, plan *Plan, opt Options) (*change.Set, error) {
	set := &change.Set{Root: p.Root}
	if err := p.addChanges(ctx, set, plan, opt); err != nil {
		return nil, err
	}
	return set, p.seal(set)
}

func (p *Project) addChanges(ctx context.Context, set *change.Set, plan *Plan, opt Options) error {
	w := &writer{p: p, set: set, opt: opt, wanted: map[string]bool{}}
	want := map[string][]edit.Entry{}
	type placed struct {
		platform string
		file     target.File
	}
	var files []placed
	for _, s := range plan.Sites {
		for _, f := range s.Files {
			w.wanted[f.Path] = true
			files = append(files, placed{s.Target.Name, f})
		}
		for _, e := range s.Entries {
			want[e.File] = append(want[e.File], e)
		}
	}
	// The copies of a face one after the other, so that one original at a time is held.
	sort.SliceStable(files, func(i, j int) bool { return files[i].file.Copy < files[j].file.Copy })
	for _, f := range files {
		if err := ctx.Err(); err != nil {
			return err
		}
		if err := w.file(f.platform, f.file); err != nil {
			return err
		}
	}
	if err := w.dropFiles(); err != nil {
		return err
	}
	return w.entries(want)
}

// concerns says whether something of a target is this run's business: what
// belongs to targets left out by --only is neither changed nor dropped.
func (w *writer) concerns(platform string) bool { return w.opt.Only == "" || platform == w.opt.Only }

// writer carries the parts of making a change set.
type writer struct {
	p      *Project
	set    *change.Set
	opt    Options
	last   original // of the face of lastID, read once for all sites
	lastID string
	wanted map[string]bool
}

// original is what a planned file should hold.
type original struct {
	content []byte
	sum     string
}

func (w *writer) original(f target.File) (original, error) {
	if len(f.Pack) > 0 {
		b, err := w.p.Content(f)
		return original{b, change.Sum(b)}, err
	}
	if f.Copy == "" {
		return original{f.Content, change.Sum(f.Content)}, nil
	}
	if w.lastID != f.Copy {
		b, err := w.p.Content(f)
		if err != nil {
			return original{}, err
		}
		w.last, w.lastID = original{b, change.Sum(b)}, f.Copy
	}
	return w.last, nil
}

// file sees to one planned file.
func (w *writer) file(platform string, f target.File) error {
	o, err := w.original(f)
	if err != nil {
		return err
	}
	exists, equal, sum, err := same(w.set, f.Path, o.content)
	if err != nil {
		return err
	}
	written, mine := w.p.Ledger.Wrote(f.Path)
	switch {
	case equal && !mine && w.opt.TakeOver && f.Copy != "":
		w.p.record(registry.Written{Path: f.Path, SHA256: o.sum, Target: platform, Taken: true})
		return nil
	case equal && !mine:
		return nil // somebody put the very same file there: theirs
	case equal && written.SHA256 == o.sum && written.Target == platform:
		return nil // nothing to do
	case exists && !equal && !w.opt.Overwrite && !mine && f.Copy != "":
		return &ConflictError{f.Path, "another file of that name", "enrol that file instead, move it away, or register with --overwrite"}
	case exists && !equal && !w.opt.Overwrite && !mine:
		return &ConflictError{f.Path, "another file of that name", "move it away, or register with --overwrite"}
	case exists && !equal && !w.opt.Overwrite && sum != written.SHA256:
		return &ConflictError{f.Path, "it changed by another hand", "keep your change elsewhere (roles and sizes belong into notaria.toml), then register with --overwrite"}
	}
	return w.p.writeSummed(w.set, platform, f.Path, o.content, o.sum)
}

// dropFiles removes what Notaria once wrote for sites and nobody wants now.
// Originals and licences, which are for no target, stay until they are struck.
func (w *writer) dropFiles() error {
	var gone []string
	for _, f := range w.p.Ledger.Files {
		if f.Target != "" && !w.wanted[f.Path] && w.concerns(f.Target) {
			gone = append(gone, f.Path)
		}
	}
	for _, name := range gone {
		if _, err := w.p.remove(w.set, name); err != nil {
			return err
		}
	}
	return nil
}

// entries reconciles every manifest that should hold something or once did.
func (w *writer) entries(want map[string][]edit.Entry) error {
	type manifest struct{ syntax, target string }
	manifests := map[string]manifest{}
	var now []edit.Entry
	for _, e := range w.p.Ledger.Entries {
		if w.concerns(e.Target) {
			manifests[e.File] = manifest{e.Syntax, e.Target}
		} else {
			now = append(now, e)
		}
	}
	for file, list := range want {
		manifests[file] = manifest{list[0].Syntax, list[0].Target}
	}
	names := make([]string, 0, len(manifests))
	for file := range manifests {
		names = append(names, file)
	}
	sort.Strings(names)
	for _, file := range names {
		m := manifests[file]
		doc, err := w.set.Read(file)
		if errors.Is(err, fs.ErrNotExist) && len(want[file]) == 0 {
			continue // the app is gone, and our entries with it
		}
		if err != nil {
			return err
		}
		out, mine, err := edit.Reconcile(file, m.syntax, doc, want[file], w.p.Ledger.Owned(file))
		if err != nil {
			return &PasteError{err, file, edit.Paste(m.syntax, want[file])}
		}
		if w.opt.TakeOver {
			mine = append(mine, edit.TakeOver(file, m.syntax, out, want[file], mine)...)
		}
		if err := w.set.Write(file, out); err != nil {
			return err
		}
		for _, e := range mine {
			e.Target = m.target
			now = append(now, e)
		}
	}
	w.p.Ledger.Entries = now
	return nil
}
