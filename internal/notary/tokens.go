package notary

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"notaria/internal/change"
	"notaria/internal/face"
	"notaria/internal/platform"
	"notaria/internal/registry"
	"notaria/internal/tokens"
)

// Tokens are the project's roles as design tokens know them; those of displays alone have no place there.
func (p *Project) Tokens() ([]tokens.Role, error) {
	var out []tokens.Role
	for _, name := range p.Registry.RoleNames() {
		said := p.Registry.Roles[name]
		if said.Bitmap != "" || said.Size == 0 {
			continue
		}
		r, err := p.Role(name)
		if err != nil {
			return nil, err
		}
		t := tokens.Role{Name: name, Families: []string{platform.FamilyOf(r.Face.Face)}, Face: said.Face, Weight: min(max(r.Face.Weight, 1), 999), Size: r.Size, LineHeight: said.LineHeight, Tracking: said.Tracking, OwnLine: r.NaturalLine() / r.Size}
		if said.Colour.OK {
			t.Colour = strings.ToUpper(said.Colour.Text)
		}
		out = append(out, t)
	}
	return out, nil
}

// A TokenChange is what a token changes in the registry.
type TokenChange struct {
	Role string `json:"role"`
	Key  string `json:"key"`
	From string `json:"from"` // "" for a role, or a key, that was not there
	To   string `json:"to"`
}

// TakeTokens plans what tokens say of the project's roles: new ones are added, those that differ are
// changed, and none is taken away. Skipped are tokens that fit no enrolled face.
func (p *Project) TakeTokens(list []tokens.Role) (changes []TokenChange, skipped []string, set *change.Set, err error) {
	changes, skipped, set = []TokenChange{}, []string{}, p.set()
	for _, t := range list {
		if !registry.ValidRole(t.Name) {
			skipped = append(skipped, fmt.Sprintf("%s: a role's name has small letters, digits and hyphens, at most 40", face.Short(t.Name)))
			continue
		}
		id, why, err := p.faceFor(t)
		if err != nil {
			return nil, nil, nil, err
		}
		if id == "" {
			skipped = append(skipped, t.Name+": "+why)
			continue
		}
		made, err := p.takeToken(t, id)
		if err != nil {
			return nil, nil, nil, err
		}
		changes = append(changes, made...)
	}
	if len(changes) == 0 {
		return changes, skipped, set, nil
	}
	return changes, skipped, set, p.seal(set)
}

// faceFor is the enrolled face that a token means: the one that Notaria's own extension names, if it is
// still of that family and weight; else the face of the first family that is there, whose weight is
// nearest, upright unless the role's is not.
func (p *Project) faceFor(t tokens.Role) (id, why string, err error) {
	had := p.Registry.Roles[t.Name].Face
	lean := face.Upright
	if f, err := p.Face(had); err == nil {
		lean = f.Slant
	}
	families := t.Families
	if len(families) == 0 {
		families = []string{""}
	}
	for _, family := range families {
		best, off := "", math.MaxInt
		for _, e := range p.Registry.Faces {
			f, err := p.Face(e.Name)
			if err != nil {
				return "", "", err
			}
			if family != "" && !slices.ContainsFunc([]string{platform.FamilyOf(f.Face), f.LegacyFamily}, func(s string) bool { return strings.EqualFold(s, family) }) {
				continue
			}
			d := 0
			if t.Weight != 0 {
				d = 10 * max(f.Weight-t.Weight, t.Weight-f.Weight)
			}
			if f.Slant != lean {
				d += 5
			}
			if f.ID() == t.Face {
				d -= 6 // named by ourselves: it wins among faces that fit as well
			}
			if d < off {
				best, off = f.ID(), d
			}
		}
		if best != "" {
			return best, "", nil
		}
	}
	return "", fmt.Sprintf("no enrolled face is of the family %s; enrol it first", strings.Join(quoted(families), " or ")), nil
}

func quoted(list []string) []string {
	var out []string
	for _, s := range list {
		out = append(out, fmt.Sprintf("%q", face.Short(s)))
	}
	return out
}

// takeToken changes one role, or adds it.
func (p *Project) takeToken(t tokens.Role, id string) (out []TokenChange, err error) {
	r := p.Registry
	old, had := r.Roles[t.Name]
	if !had {
		r.AddRole(t.Name, registry.Role{Face: id, Size: t.Size})
		out = append(out, TokenChange{t.Name, "face", "", id}, TokenChange{t.Name, "size", "", number(t.Size)})
		old = r.Roles[t.Name]
	}
	if old.Face != id {
		out = append(out, TokenChange{t.Name, "face", old.Face, id})
		if err := r.SetRoleFace(t.Name, id); err != nil {
			return nil, err
		}
	}
	for _, k := range []struct {
		key  string
		from *float64
		to   *float64
	}{{"size", &old.Size, &t.Size}, {"line-height", old.LineHeight, t.LineHeight}, {"tracking", old.Tracking, t.Tracking}} {
		if k.to == nil || k.from != nil && math.Abs(*k.from-*k.to) < 0.005 || k.from == nil && *k.to == 0 {
			continue
		}
		from := ""
		if k.from != nil {
			from = number(*k.from)
		}
		out = append(out, TokenChange{t.Name, k.key, from, number(*k.to)})
		if err := r.SetRoleNumber(t.Name, k.key, *k.to); err != nil {
			return nil, err
		}
	}
	if t.Colour != "" && !strings.EqualFold(t.Colour, old.Colour.Text) {
		out = append(out, TokenChange{t.Name, "colour", old.Colour.Text, t.Colour})
		if err := r.SetRoleText(t.Name, "colour", t.Colour); err != nil {
			return nil, err
		}
	}
	return out, nil
}

func number(v float64) string { return fmt.Sprintf("%g", math.Round(v*1e4)/1e4) }
