package notary

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"maps"
	"path"
	"slices"
	"strings"

	"notaria/internal/fault"
	"notaria/internal/platform"
	"notaria/internal/registry"
)

// A Left is what strike could not take away, and why: files of an app, or a manifest that cannot
// be changed. Its entries stay on the ledger, and the next registration takes them off.
type Left struct {
	App   registry.Owner
	Files []string
	Err   error
}

// undoing is how strike takes a face off apps that are not served: by the ledger alone.
type undoing struct {
	whole bool            // there is neither face nor role any more: all that is on the ledger goes
	files map[string]bool // that hold nothing but struck faces
	bases []string        // their names, by which entries are known
	left  map[string]Left // by manifest
}

// undo finds what the ledger says of faces that are struck.
func (p *Project) undo(ids []string) *undoing {
	u := &undoing{whole: len(p.Registry.Faces)+len(p.Registry.Roles) == 0, files: map[string]bool{}, left: map[string]Left{}}
	for _, f := range p.Ledger.Files {
		kind, of, _ := strings.Cut(strings.TrimPrefix(f.Recipe, "small "), " ")
		if slices.Contains(platform.TextKeys, kind) || of == "" || len(f.Owners) == 0 {
			continue
		}
		members := strings.Split(of, ", ")
		if kind != "collection" {
			members = []string{of}
		}
		if !slices.ContainsFunc(members, func(m string) bool { return !slices.Contains(ids, m) }) {
			u.files[f.Path] = true
			u.bases = append(u.bases, path.Base(f.Path))
		}
	}
	return u
}

// file says whether a file of an app that is not served goes.
func (u *undoing) file(name string) bool { return u != nil && (u.whole || u.files[name]) }

// entry says whether an entry of such an app goes: it names a file that does.
func (u *undoing) entry(e registry.Entry) bool {
	if u == nil {
		return false
	}
	return u.whole || slices.ContainsFunc(u.bases, func(base string) bool {
		return path.Base(e.Value) == base || strings.Contains(e.Value, `"`+base+`"`) || strings.Contains(e.Value, "/"+base)
	})
}

// Strike plans taking faces off again, here and at every site: names are PostScript names or
// families. An app that cannot be served is no hindrance: what the ledger says of it is undone.
func (p *Project) Strike(ctx context.Context, names []string, opt StrikeOptions) (*Striking, error) {
	s := &Striking{Set: p.set()}
	p.striking = true
	if opt.All {
		names, opt.WithRoles = p.Registry.FaceNames(), true
	}
	ids, err := p.facesNamed(names)
	if err != nil {
		return nil, err
	}
	s.Stay = p.staying(ids)
	if s.Moved, err = p.settleRoles(ids, opt); err != nil {
		return nil, err
	}
	var files []string
	for _, id := range ids {
		e, _ := p.Registry.Face(id)
		roles, err := p.Registry.Strike(id)
		if err != nil {
			return nil, err
		}
		s.Faces, s.Roles = append(s.Faces, id), append(s.Roles, roles...)
		if !slices.ContainsFunc(p.Registry.Faces, func(o registry.Face) bool { return o.File == e.File }) { // other places of a variable font stay
			files = append(files, e.File)
		}
		if e.Licence != "" && !p.licenceUsed(e.Licence) {
			files = append(files, e.Licence)
		}
	}
	if opt.All {
		files = append(files, p.ownerless()...)
		s.Roles = append(s.Roles, p.Registry.RoleNames()...)
		p.Registry.Clear()
	}
	only := Only{}
	if !opt.All {
		only.Owners, only.Every = p.Ledger.Owners(), true // an app that has nothing of Notaria's gets nothing now
	}
	plan, err := p.PlanOnly(ctx, p.targets, only)
	if err != nil {
		return nil, err
	}
	for _, o := range p.Ledger.Owners() {
		for _, name := range p.Ledger.Paths(o) {
			if err := p.Tree.Hidden(name); err != nil {
				return nil, err // nothing of the face may be left behind where it is not seen
			}
		}
	}
	if err := p.unreadable(plan); err != nil {
		return nil, err
	}
	for _, f := range files {
		if err := p.remove(s.Set, f); err != nil {
			return nil, err
		}
	}
	u := p.undo(ids)
	owned := p.unserved(plan)
	if s.Set, err = p.changes(ctx, s.Set, plan, Options{Strict: true, undo: u}); err != nil {
		return nil, err
	}
	if p.Registry.Text() == nil {
		opt.Also = append(opt.Also, registry.SchemaName)
	}
	for _, name := range opt.Also {
		if err := s.Set.Remove(name); err != nil {
			return nil, err
		}
	}
	for _, f := range s.Set.Files {
		if f.Delete {
			s.Files = append(s.Files, f.Path)
		}
	}
	s.Left = p.leftover(plan, u, owned)
	return s, nil
}

// staying are the files with a struck face that are not on the ledger: originals that it lost, and fonts that people
// have put there.
func (p *Project) staying(ids []string) []string {
	var out []string
	for _, id := range ids {
		e, _ := p.Registry.Face(id)
		if _, mine := p.Ledger.Wrote(e.File); !mine && !p.Dir.Missing(e.File) {
			out = append(out, e.File)
		}
	}
	for _, f := range p.Present() {
		if slices.Contains(ids, f.ID) && !slices.Contains(out, f.Path) {
			out = append(out, f.Path)
		}
	}
	return out
}

// ownerless are the originals and licences on the ledger, also those that notaria.toml names no more.
func (p *Project) ownerless() []string {
	var out []string
	for _, f := range p.Ledger.Files {
		if len(f.Owners) == 0 {
			out = append(out, f.Path)
		}
	}
	return out
}

// unreadable is the error of an app that is refused because of the disk, or the rights to it, and not
// because of what a file says: then strike does all or nothing.
func (p *Project) unreadable(plan *Plan) error {
	if len(p.Tree.Unread) > 0 {
		return p.Tree.Unread[0].Fault()
	}
	for _, r := range plan.Refused {
		var wrong *fault.Error
		var disk *fs.PathError
		if p.owns(r) && (errors.As(r.Err, &disk) || !errors.As(r.Err, &wrong)) {
			return r.Err
		}
	}
	return nil
}

// facesNamed are the enrolled faces of names, each once.
func (p *Project) facesNamed(names []string) ([]string, error) {
	var ids []string
	for _, n := range names {
		found := p.named(n)
		if len(found) == 0 {
			return nil, refusal(fmt.Sprintf("an enrolled face or family %q", n), "only "+strings.Join(p.Registry.FaceNames(), ", "), "use one of those")
		}
		for _, id := range found {
			if !slices.Contains(ids, id) {
				ids = append(ids, id)
			}
		}
	}
	return ids, nil
}

// unserved are the apps that have something on the ledger and cannot be served, with the reason.
func (p *Project) unserved(plan *Plan) []Refusal {
	return slices.DeleteFunc(slices.Clone(plan.Refused), func(r Refusal) bool { return !p.owns(r) })
}

// leftover says what of apps that cannot be served is still there: their generated code, which
// nothing but a registration can make anew, and manifests that cannot be changed.
func (p *Project) leftover(plan *Plan, u *undoing, refused []Refusal) []Left {
	var out []Left
	for _, o := range p.Ledger.Owners() {
		if plan.knows(o) {
			continue
		}
		var why error
		for _, r := range refused {
			if r.Target == o.Target && (r.App == o.App || why == nil) {
				why = r.Err
			}
		}
		if l := (Left{App: o, Err: why}); why != nil {
			for _, f := range p.Ledger.Files {
				if slices.Contains(f.Owners, o) && slices.Contains(platform.TextKeys, strings.Fields(f.Recipe + " -")[0]) {
					l.Files = append(l.Files, f.Path)
				}
			}
			if len(l.Files) > 0 {
				out = append(out, l)
			}
		}
	}
	for _, m := range slices.Sorted(maps.Keys(u.left)) {
		out = append(out, u.left[m])
	}
	return out
}

// leave notes that a manifest cannot be changed, and that its entries stay.
func (u *undoing) leave(owners []registry.Owner, err error) bool {
	var f *fault.Error
	if u == nil || !errors.As(err, &f) {
		return false
	}
	if _, known := u.left[f.File]; known {
		return false
	}
	l := Left{Files: []string{f.File}, Err: err}
	if len(owners) > 0 {
		l.App = owners[0]
	}
	u.left[f.File] = l
	return true
}

// leaves says whether a manifest stays as it is.
func (u *undoing) leaves(file string) bool {
	if u == nil {
		return false
	}
	_, ok := u.left[file]
	return ok
}
