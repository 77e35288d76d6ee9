package notary

import (
	"bytes"
	"errors"
	"fmt"
	"io/fs"
	"maps"
	"path"
	"slices"
	"strings"

	"notaria/internal/change"
	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/platform"
	"notaria/internal/registry"
	"notaria/internal/sfnt"
	"notaria/internal/trim"
)

// An instance is a static font of a variable face at one place of its design space. [[face]] names some; roles with a weight or
// other axes need further ones on targets that do not put a variable font there themselves. These are faces like others from here
// on: they have names, files and recipes of their own.

// Entry is what the registry says of a face, or would say of an instance that a role needs.
func (p *Project) Entry(id string) (registry.Face, bool) {
	if e, ok := p.Registry.Face(id); ok {
		return e, true
	}
	e, ok := p.pinned[id]
	return e, ok
}

// describe reads what an enrolled face, or an instance, is called.
func (p *Project) describe(e registry.Face) (f face.Face, err error) {
	if e.At == nil && e.Rename == "" {
		f, err = p.readOriginal(e.File)
	} else {
		err = p.font(e.File, func(file *sfnt.File, size int64) error {
			f, err = trim.Described(file.Font(0), e.At, e.Rename)
			f.Container = string(file.Container)
			return err
		})
	}
	if errors.Is(err, fs.ErrNotExist) {
		return f, &fault.Error{File: e.File, Expected: "the original of " + e.Name, Found: "no file", Cure: "enrol it again, or strike it"}
	}
	if err != nil {
		return f, fmt.Errorf("%s: %w", e.File, err)
	}
	f.File = e.File
	narrow(&f, e.Ranges())
	return f, nil
}

// narrow leaves a variable face the axes that copies keep, and the instances that are on them.
func narrow(f *face.Face, ranges map[string][2]float64) {
	if ranges == nil || !f.Variable {
		return
	}
	whole := f.Axes
	f.Axes = nil
	for _, a := range whole {
		if r, ok := ranges[a.Tag]; ok {
			a.Min, a.Max = max(a.Min, r[0]), min(a.Max, r[1])
			f.Axes = append(f.Axes, a)
		}
	}
	f.Instances = slices.DeleteFunc(slices.Clone(f.Instances), func(in face.Instance) bool {
		return slices.ContainsFunc(whole, func(a face.Axis) bool {
			v := in.Coordinates[a.Tag]
			r, ok := ranges[a.Tag]
			return ok && (v < r[0] || v > r[1]) || !ok && v != a.Default
		})
	})
}

// instance is the static face that stands for a variable one where a role is.
func (p *Project) instance(role, of string, at map[string]float64) (platform.Face, error) {
	e, _ := p.Registry.Face(of)
	e.At = map[string]float64{}
	maps.Copy(e.At, at)
	f, err := p.describe(e)
	if err != nil {
		return platform.Face{}, err
	}
	e.Name = f.ID()
	if had, ok := p.Entry(e.Name); ok && (had.File != e.File || !maps.Equal(had.At, e.At)) {
		return platform.Face{}, p.Registry.Wrong(registry.Key{"role", role}, fmt.Sprintf("a name of its own for %s at %s, which the role %q asks for", of, placeText(at), role),
			fmt.Sprintf("%q, which another enrolled face has", face.Short(e.Name)), "name that face in the role, or strike it")
	}
	if p.pinned == nil {
		p.pinned = map[string]registry.Face{}
	}
	p.pinned[e.Name] = e
	return p.Face(e.Name)
}

// Instances are the static faces that roles of this run needed, by their names. Of an enrolled face each has the file.
func (p *Project) Instances() []platform.Face {
	var out []platform.Face
	for _, id := range slices.Sorted(maps.Keys(p.pinned)) {
		if f, err := p.Face(id); err == nil {
			out = append(out, f)
		}
	}
	return out
}

// FacesOf are the faces that show a role, on one target or another: the enrolled one, and instances that this run needed.
func (p *Project) FacesOf(role string) []string {
	r, ok := p.Registry.Roles[role]
	if !ok {
		return nil
	}
	out := []string{r.Face}
	for _, target := range append([]string{""}, slices.Sorted(maps.Keys(r.On))...) {
		on := r.For(target)
		of, _ := p.Registry.Face(on.Face)
		for _, id := range slices.Sorted(maps.Keys(p.pinned)) {
			if e := p.pinned[id]; e.File == of.File && maps.Equal(e.At, on.At()) && !slices.Contains(out, id) {
				out = append(out, id)
			}
		}
		if !slices.Contains(out, on.Face) {
			out = append(out, on.Face)
		}
	}
	return out
}

// placeText is a place for people: wght=650, wdth=80.
func placeText(at map[string]float64) string {
	var list []string
	for _, tag := range slices.Sorted(maps.Keys(at)) {
		list = append(list, fmt.Sprintf("%s=%g", tag, at[tag]))
	}
	if len(list) == 0 {
		return "its default"
	}
	return strings.Join(list, ", ")
}

// onAxes checks that the face of a role has the axes that the role names.
func (p *Project) onAxes(r platform.Role) error {
	var known []string
	inside := map[string]bool{}
	for _, a := range r.Face.Axes {
		known = append(known, fmt.Sprintf("%s from %g to %g", a.Tag, a.Min, a.Max))
		inside[a.Tag] = r.Coordinates[a.Tag] >= a.Min && r.Coordinates[a.Tag] <= a.Max
	}
	for _, tag := range slices.Sorted(maps.Keys(r.Coordinates)) {
		at := registry.Key{"role", r.Name}
		switch {
		case !r.Face.Variable:
			return p.Registry.Wrong(at, fmt.Sprintf("a variable face for the axis %s of the role %q", tag, r.Name), fmt.Sprintf("%s, a static font", face.Short(r.Face.ID())), "name the face of that style, or enrol the family's variable font")
		case !inside[tag]:
			return p.Registry.Wrong(at, fmt.Sprintf("a place on the axes of %s for the role %q: %s", face.Short(r.Face.ID()), r.Name, strings.Join(known, ", ")), fmt.Sprintf("%s=%g", tag, r.Coordinates[tag]), "correct it")
		}
	}
	return nil
}

// pin gives roles the instances that they need, on a target that leaves variable fonts at their defaults: one that does not vary them. A face of which one role is an
// instance is one in all its roles: else its files would be there twice. It returns the faces that instances take the place of.
func (p *Project) pin(varies bool, roles []platform.Role) (map[string][]platform.Face, error) {
	out := map[string][]platform.Face{}
	for _, r := range roles {
		if len(r.Coordinates) > 0 && !varies {
			out[r.Face.ID()] = nil
		}
	}
	for i, r := range roles {
		id := r.Face.ID()
		have, pinned := out[id]
		if !pinned || r.Bitmap != "" && r.Face.ID() == "" {
			continue
		}
		f, err := p.instance(r.Name, id, r.Coordinates)
		if err != nil {
			return nil, err
		}
		roles[i].Face, roles[i].Coordinates = f, nil
		if !slices.ContainsFunc(have, func(h platform.Face) bool { return h.ID() == f.ID() }) {
			out[id] = append(have, f)
		}
	}
	return out, nil
}

// atPlace are the bytes of a face's original, pinned where it is an instance; whether they may be in apps is not asked.
func (p *Project) atPlace(e registry.Face) ([]byte, error) {
	raw, err := p.original(e.File)
	if err != nil || e.At == nil && e.Rename == "" {
		return raw, err
	}
	if b, ok := p.makes.derived["pinned "+e.Name]; ok {
		return b.content, nil
	}
	f, err := trim.Open(raw, trim.Wish{At: e.At, Rename: e.Rename, Ending: strings.ToLower(path.Ext(e.File))}, trim.Words{Permitted: true})
	if err != nil {
		return nil, fmt.Errorf("%s: %w", e.File, err)
	}
	p.makes.keep("pinned "+e.Name, f.Data())
	return f.Data(), nil
}

// keep notes what was derived.
func (a *artefacts) keep(key string, content []byte) artefact {
	if a.derived == nil {
		a.derived = map[string]artefact{}
	}
	a.made++
	a.derived[key] = artefact{content, change.Sum(content)}
	return a.derived[key]
}

// forget drops what was made of a face whose original is another now.
func (a *artefacts) forget(id string) {
	a.lastFile = ""
	for _, key := range []string{"pinned ", "trimmed "} {
		delete(a.derived, key+id)
	}
}

// placeKey is what a face's copies are called and where they are pinned, as the key of what is made of it; "" for those that are the font itself.
func placeKey(e registry.Face) string {
	var b bytes.Buffer
	if e.Rename != "" {
		fmt.Fprintf(&b, " renamed %q", e.Rename)
	}
	if e.At == nil {
		for _, tag := range slices.Sorted(maps.Keys(e.Axes)) {
			fmt.Fprintf(&b, " axis %q %g", tag, e.Axes[tag])
		}
		return b.String()
	}
	b.WriteString(" pinned")
	for _, tag := range slices.Sorted(maps.Keys(e.At)) {
		fmt.Fprintf(&b, " %q %g", tag, e.At[tag])
	}
	return b.String()
}
