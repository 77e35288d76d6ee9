package notary

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"notaria/internal/change"
	"notaria/internal/choice"
	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/platform"
	"notaria/internal/registry"
)

// Replaced is an original that another edition takes the place of, under the same name.
type Replaced struct {
	Name string
	File string    // of the original in the project
	Old  face.Face // what the project has now, with its characters
	New  face.Face
	From string // the file of the new edition
	Was  []byte // the bytes of the old one, nil where it is gone or no font any more
	Is   []byte
}

// original reads the font file of a face: what stands there, or what this run is to write.
func (p *Project) original(name string) ([]byte, error) {
	if b, ok := p.incoming[name]; ok {
		return b, nil
	}
	return p.Dir.Read(name, mostFont)
}

// Exchanged are the enrolled faces whose originals are not what was enrolled, as the ledger notes it: other bytes under the
// same name.
func (p *Project) Exchanged() []registry.Face {
	var out []registry.Face
	for _, e := range p.Registry.Faces {
		w, ok := p.Ledger.Wrote(e.File)
		if _, err := p.Face(e.Name); err != nil || !ok {
			continue
		}
		sum := p.makes.sums[e.Name] // of what was compared with the apps
		if sum == "" {
			a, err := p.makes.original(e.Name)
			if err != nil {
				continue
			}
			sum = a.sum
		}
		if sum != w.SHA256 {
			out = append(out, e)
		}
	}
	return out
}

// renew puts other bytes into the place of an original.
func (p *Project) renew(set *change.Set, file string, content []byte) error {
	if p.incoming == nil {
		p.incoming = map[string][]byte{}
	}
	p.incoming[file] = content
	for _, e := range p.Registry.Faces {
		if e.File == file {
			delete(p.faces, e.Name)
			p.makes.forget(e.Name)
		}
	}
	for id, e := range p.pinned {
		if e.File == file {
			delete(p.faces, id)
			p.makes.forget(id)
		}
	}
	delete(p.covers, file)
	return p.write(set, registry.Written{Path: file, SHA256: change.Sum(content)}, content)
}

// Carry brings a change of faces or roles into every app that has something of Notaria's already. The set goes on from
// one that was begun.
func (p *Project) Carry(ctx context.Context, begun *change.Set) (*Plan, *change.Set, error) {
	owners := p.Ledger.Owners()
	if len(owners) == 0 {
		return &Plan{}, begun, p.seal(begun)
	}
	plan, err := p.PlanOnly(ctx, p.targets, Only{Owners: owners})
	if err != nil {
		return nil, nil, err
	}
	if err := p.unreadable(plan); err != nil {
		return nil, nil, err // an app that cannot be read now would keep the old faces, and nobody would know
	}
	set, err := p.changes(ctx, begun, plan, Options{})
	if err == nil {
		err = p.unreadable(plan) // what showed when its manifest was to be changed
	}
	return plan, set, err
}

// A Swapping is what swap did, or would do.
type Swapping struct {
	Pairs []Pair
	Plan  *Plan
	Set   *change.Set
}

// A Pair is a face with the one that takes its place, and the roles that change.
type Pair struct {
	From, To platform.Face
	Roles    []string
	// Off says how the two differ, in words; "" where weight, width and slant are the same.
	Off string
}

// Swap gives the roles of one family's faces those of another, by weight, width and slant, in every app that has
// something of Notaria's. Both families are enrolled.
func (p *Project) Swap(ctx context.Context, from, to string) (*Swapping, error) {
	old, err := p.familyNamed(from)
	if err != nil {
		return nil, err
	}
	fresh, err := p.familyNamed(to)
	if err != nil {
		return nil, err
	}
	if old[0].Family == fresh[0].Family {
		return nil, &fault.UseError{Err: refusal("two families", fmt.Sprintf("%s twice", face.Short(from)), "name the family that goes, and the one that comes")}
	}
	s := &Swapping{Set: p.set()}
	for _, f := range old {
		roles := p.Registry.Serving(f.ID())
		if len(roles) == 0 {
			continue
		}
		best := fresh[0]
		for _, g := range fresh[1:] {
			if unlike(f.Face, g.Face) < unlike(f.Face, best.Face) {
				best = g
			}
		}
		s.Pairs = append(s.Pairs, Pair{f, best, roles, difference(f.Face, best.Face)})
	}
	if len(s.Pairs) == 0 {
		return nil, refusal(fmt.Sprintf("a role that has a face of %s", face.Short(from)), "none", "nothing is to be swapped; roles are in "+registry.FileName)
	}
	for _, pair := range s.Pairs {
		if err := p.Registry.MoveRoles(pair.From.ID(), pair.To.ID()); err != nil {
			return nil, err
		}
	}
	s.Plan, s.Set, err = p.Carry(ctx, s.Set)
	return s, err
}

// familyNamed are the enrolled faces of a family.
func (p *Project) familyNamed(name string) ([]platform.Face, error) {
	var out []platform.Face
	var families []string
	for _, e := range p.Registry.Faces {
		f, err := p.Face(e.Name)
		if err != nil {
			return nil, err
		}
		if !slices.Contains(families, f.Family) {
			families = append(families, f.Family)
		}
		if choice.Plain(f.Family) == choice.Plain(name) {
			out = append(out, f)
		}
	}
	if len(out) == 0 {
		cure := "enrol it first: notaria enrol PATH; enrolled are " + strings.Join(families, ", ")
		if near := platform.Nearest(name, families); near != "" {
			cure = fmt.Sprintf("write %q", near)
		}
		return nil, &fault.UseError{Err: refusal(fmt.Sprintf("an enrolled family %q", face.Short(name)), "none", cure)}
	}
	return out, nil
}

// unlike is how far two faces are from each other: another slant is worse than any weight, and another width than a
// small step of weight (as CSS Fonts 4, 5.2 puts width before slant and weight within a family).
func unlike(a, b face.Face) float64 {
	d := math.Abs(float64(a.Weight-b.Weight)) + 4*math.Abs(a.Width-b.Width)
	if (a.Slant == face.Upright) != (b.Slant == face.Upright) {
		d += 2000
	}
	return d
}

// difference says in words what of two faces is not the same.
func difference(a, b face.Face) string {
	var out []string
	if a.Weight != b.Weight {
		out = append(out, fmt.Sprintf("weight %d for %d", b.Weight, a.Weight))
	}
	if a.Width != b.Width {
		out = append(out, fmt.Sprintf("width %g %% for %g %%", b.Width, a.Width))
	}
	if (a.Slant == face.Upright) != (b.Slant == face.Upright) {
		out = append(out, "another slant")
	}
	return strings.Join(out, ", ")
}
