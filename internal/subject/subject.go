// Package subject finds what is drawn and measured: the faces of files and of a project, its roles, and
// the texts of its apps. What is found is read, so that the project can be closed.
package subject

import (
	"context"
	"errors"
	"image/color"
	"slices"
	"strconv"
	"strings"
	"sync/atomic"

	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/intake"
	"notaria/internal/locale"
	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/specimen"
)

// Wanted says which faces are asked for; the zero value asks for all.
type Wanted struct {
	Categories  []string // sans, serif, …
	Scripts     []string // all of them, by their ISO 15924 codes
	Least, Most int      // weights; 0 for any
	CanWrite    string   // the face has all characters of it
	Language    string   // the face writes it whole; "" for any
}

// Suits says whether a face, read with its coverage, is one of those that are asked for.
func (w Wanted) Suits(f face.Face) bool {
	return (len(w.Categories) == 0 || slices.Contains(w.Categories, f.Category)) &&
		(w.Least == 0 || f.Weight >= w.Least) && (w.Most == 0 || f.Weight <= w.Most) &&
		!slices.ContainsFunc(w.Scripts, func(s string) bool { return !slices.Contains(f.Scripts, s) }) &&
		(w.CanWrite == "" || len(f.Lacks(w.CanWrite)) == 0) && (w.Language == "" || w.writes(f))
}

// writes says whether a face writes the language whole; of a language that nothing is known of, any face may.
func (w Wanted) writes(f face.Face) bool {
	l, err := locale.Of(w.Language)
	return err != nil || len(f.LacksFor(l)) == 0
}

// Subjects are what was found.
type Subjects struct {
	Faces    []specimen.Face
	Roles    []specimen.Role
	Problems []face.Problem // files that cannot be read
	Left     int            // faces that were not asked for
	Around   []string       // targets that the project has apps for, where the project was opened and Finder.Around asks
	Opened   bool           // the project was
}

// All are the faces of all subjects, each once.
func (s Subjects) All() []specimen.Face {
	out := slices.Clone(s.Faces)
	for _, r := range s.Roles {
		if !slices.ContainsFunc(out, func(f specimen.Face) bool { return f.ID() == r.Face.ID() }) {
			out = append(out, r.Face)
		}
	}
	return out
}

// ErrNothing says that nothing was named, and that the project has no face either.
var ErrNothing = errors.New("expected a font file, a folder or an archive, found no argument and no enrolled face")

// A Finder looks for subjects.
type Finder struct {
	Wanted   Wanted
	Project  func() (*notary.Project, error) // opens the project, where a name is not a path
	Targets  []platform.Platform             // as whose apps show roles; nil for roles as they are for all
	Around   []platform.Platform             // those of which it is asked whether the project has apps for them
	Progress func(done, total int)           // of reading files; may be nil
}

// Find finds the faces and the roles that are named by paths or by their names; without a name, the
// project's roles, or, where it has none, its faces.
func (f Finder) Find(ctx context.Context, what []string) (Subjects, error) {
	var s Subjects
	var paths, names []string
	for _, w := range what {
		if _, one := intake.FaceOf(w); one != "" || intake.There(w) {
			paths = append(paths, w)
		} else {
			names = append(names, w)
		}
	}
	if len(paths) > 0 {
		if err := f.files(ctx, paths, &s); err != nil {
			return s, err
		}
	}
	if len(names) > 0 || len(what) == 0 {
		return s, f.ofProject(ctx, names, &s)
	}
	return s, nil
}

// files are the faces of files, folders and archives.
func (f Finder) files(ctx context.Context, paths []string, s *Subjects) error {
	opt := intake.Options{Progress: f.Progress}
	opt.Coverage, opt.Drawn = true, true
	haul, err := intake.Gather(ctx, paths, opt)
	if err != nil {
		return err
	}
	for _, p := range haul.Problems {
		if p.Fatal { // what is odd about names is told by names
			s.Problems = append(s.Problems, p)
		}
	}
	taken := map[string]*struct{ sum, most atomic.Int64 }{} // pages read several faces at a time
	for _, x := range haul.Faces {
		if taken[x.File] == nil {
			taken[x.File] = &struct{ sum, most atomic.Int64 }{}
		}
		of := taken[x.File]
		s.add(f.Wanted, specimen.Face{Face: x.Face, Where: x.File, Read: func() ([]byte, error) {
			if of.sum.Load() > mostOfFaces+mostWhole*of.most.Load() {
				return nil, &fault.Error{File: x.File, Expected: "a file whose faces have at most 96 MiB together, or eight times the bytes of one", Found: "more, as where many share what they are made of", Cure: "name single fonts"}
			}
			data, err := x.Plain()
			of.sum.Add(int64(len(data)))
			of.most.Store(int64(len(data)))
			return data, err
		}})
	}
	return nil
}

// mostOfFaces and mostWhole are how many bytes are read of one file's faces: those of a collection share tables, and
// each is read whole. Ten faces of 17 megabytes each, which is what collections of Chinese, Japanese and Korean have,
// are less.
const (
	mostOfFaces = 96 << 20
	mostWhole   = 8
)

func (s *Subjects) add(w Wanted, f specimen.Face) {
	if w.Suits(f.Face) {
		s.Faces = append(s.Faces, f)
	} else {
		s.Left++
	}
}

// ofProject are the project's faces, families and roles by their names.
func (f Finder) ofProject(ctx context.Context, names []string, s *Subjects) error {
	p, err := f.Project()
	if err != nil {
		return err
	}
	defer p.Close()
	s.Opened = true
	for _, t := range f.Around {
		if sites, _ := p.Sites(t); len(sites) > 0 { // what is wrong with the project is not what was asked
			s.Around = append(s.Around, t.About().Name)
		}
	}
	if len(names) == 0 {
		if names = p.Registry.RoleNames(); len(names) == 0 {
			names = p.Registry.FaceNames()
		}
		if len(names) == 0 {
			return ErrNothing
		}
	}
	for _, name := range names {
		if _, ok := p.Registry.Roles[name]; ok {
			if err := f.role(p, name, s); err != nil {
				return err
			}
		} else if err := f.family(p, name, s); err != nil {
			return err
		}
	}
	if len(s.Roles) == 0 || len(f.Targets) == 0 {
		return nil
	}
	return f.told(ctx, p, s)
}

// told adds what apps have of their own: a role as each target that differs has it, and the limits of all.
func (f Finder) told(ctx context.Context, p *notary.Project, s *Subjects) error {
	plan, err := p.Plan(ctx, f.Targets)
	if err != nil {
		return err
	}
	var out []specimen.Role
	for _, r := range s.Roles {
		own := map[string]bool{}
		at := len(out)
		out = append(out, r)
		for _, t := range f.Targets {
			about := t.About()
			if _, differs := p.Registry.Roles[r.Name].On[about.Name]; !differs || !slices.ContainsFunc(plan.Sites, func(s notary.SitePlan) bool { return s.Target.Name == about.Name }) {
				continue
			}
			own[about.Name] = true
			its, err := f.styledOn(p, r.Name, about.Name)
			if err != nil {
				return err
			}
			if its != nil {
				its.On, its.Limits = about.Title, Limits(plan, r.Name, func(t string) bool { return t == about.Name })
				out = append(out, *its)
			}
		}
		out[at].Limits = Limits(plan, r.Name, func(t string) bool { return !own[t] })
	}
	s.Roles = out
	return nil
}

// styledOn is a role on a target, nil for one that is not drawn.
func (f Finder) styledOn(p *notary.Project, name, on string) (*specimen.Role, error) {
	r, err := p.RoleOn(name, on)
	if err != nil || r.Bitmap != "" || r.Size == 0 {
		return nil, err
	}
	its, err := enrolled(p, r.Face.ID())
	if err != nil || !f.Wanted.Suits(its.Face) {
		return nil, err
	}
	s := styled(r, its)
	return &s, nil
}

// role adds a role; one for displays alone is drawn by pixel.
func (f Finder) role(p *notary.Project, name string, s *Subjects) error {
	r, err := f.styledOn(p, name, "")
	if r != nil {
		s.Roles = append(s.Roles, *r)
	}
	return err
}

// family adds the face, or all faces of the family, of a name.
func (f Finder) family(p *notary.Project, name string, s *Subjects) error {
	found := false
	for _, id := range p.Registry.FaceNames() {
		known, err := p.Face(id)
		if err != nil {
			return err
		}
		if id != name && known.Family != name {
			continue
		}
		its, err := enrolled(p, id)
		if err != nil {
			return err
		}
		found = true
		s.add(f.Wanted, its)
	}
	if found {
		return nil
	}
	known := append(p.Registry.FaceNames(), p.Registry.RoleNames()...)
	return &fault.Error{File: name, Expected: "a font file, a folder, an archive, an enrolled face or family, or a role", Found: "none of them", Cure: "use one of: " + strings.Join(append(known, "a file's path"), ", ")}
}

// enrolled is a face of the project, with all its characters.
func enrolled(p *notary.Project, id string) (specimen.Face, error) {
	f, data, err := p.Original(id)
	return specimen.Face{Face: f, Where: f.File, Read: func() ([]byte, error) { return data, nil }}, err
}

// styled is a role as it is drawn: a point, an sp and a logical pixel are one pixel.
func styled(r platform.Role, f specimen.Face) specimen.Role {
	number := func(v float64) string { return strconv.FormatFloat(v, 'g', -1, 64) }
	s := specimen.Style{Size: r.Size, Leading: r.LineHeight, Tracking: r.Letter(), Space: r.Extra.Space}
	facts := []string{r.Face.Family + " " + r.Face.Style, number(r.Size) + " px"}
	if r.LineHeight > 0 {
		facts = append(facts, "on "+number(r.LineHeight))
	}
	if r.Tracking != 0 {
		facts = append(facts, "tracking "+number(r.Tracking))
	}
	if r.Colour != nil {
		s.Colour = color.NRGBA(*r.Colour)
		facts = append(facts, r.Colour.Hash())
	}
	if r.Outline != nil {
		s.Outline, s.Edge = r.Outline.Width, color.NRGBA(r.Outline.Colour)
		facts = append(facts, "outline "+number(r.Outline.Width))
	}
	if r.Shadow != nil {
		s.Shadow = &specimen.Shadow{X: r.Shadow.X, Y: r.Shadow.Y, Blur: r.Shadow.Blur, Colour: color.NRGBA(r.Shadow.Colour)}
		facts = append(facts, "shadow")
	}
	if !r.Scale {
		facts = append(facts, "fixed size")
	}
	return specimen.Role{Name: r.Name, About: strings.Join(facts, ", "), Face: f, Style: s, Fixed: !r.Scale}
}
