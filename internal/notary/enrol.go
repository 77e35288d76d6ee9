package notary

import (
	"context"
	"fmt"
	"maps"
	"path"
	"slices"
	"sort"
	"strings"

	"notaria/internal/change"
	"notaria/internal/choice"
	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/intake"
	"notaria/internal/platform"
	"notaria/internal/registry"
	"notaria/internal/trim"
)

// An Enrolment is what enrol did, or would do.
type Enrolment struct {
	Taken    []Taken
	Left     []face.Face // found, but not chosen
	Beside   []face.Face // variable files left for the static cuts beside them, or the other way
	Licences []string    // project-relative
	Roles    []string    // new ones, and those that took another face
	Sizes    []float64   // of the roles, in their order
	Replaced []Replaced
	Plan     *Plan // of the apps that get what was replaced; nil where nothing was
	Set      *change.Set
}

// Taken is one face that was chosen.
type Taken struct {
	Face face.Face
	File string // of the original in the project
	Had  bool   // it was enrolled before
	// Mended says that the copy has another PostScript name than the file.
	Mended bool
	// Reserved is the name that the licence keeps for the maker's own files, where the mended copy
	// still has it; "" for none.
	Reserved string
}

// refusal says why nothing was enrolled or struck.
func refusal(expected, found, cure string) error {
	return &fault.Error{Expected: expected, Found: found, Cure: cure}
}

// Enrol plans taking faces into the project; Enrolment.Set carries it out.
func (p *Project) Enrol(ctx context.Context, haul intake.Haul, c choice.Faces) (*Enrolment, error) {
	picked, err := c.Of(haul)
	if err != nil {
		return nil, err
	}
	chosen, e := picked.Faces, &Enrolment{Left: picked.Left, Beside: picked.Beside, Set: p.set()}
	if c.Replace {
		return e, p.replace(ctx, e, chosen)
	}
	licences := p.licences(haul, chosen)
	for _, f := range chosen {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		if err := p.take(e, f, licences[f.Archive+"\x00"+path.Dir(f.File)], c); err != nil {
			return nil, err
		}
	}
	if err := p.giveRoles(e, c.As); err != nil {
		return nil, err
	}
	return e, p.seal(e.Set)
}

// licences places the texts that came along: each goes with the faces of its
// own folder or of one below. It gives the text for each folder of faces.
func (p *Project) licences(haul intake.Haul, chosen []intake.Found) map[string]*intake.Text {
	out := map[string]*intake.Text{}
	for _, f := range chosen {
		key := f.Archive + "\x00" + path.Dir(f.File)
		for i := range haul.Licences {
			t := &haul.Licences[i]
			dir := path.Dir(slash(t.File))
			near := dir == path.Dir(f.File) || strings.HasPrefix(path.Dir(f.File), dir+"/") || dir == path.Dir(path.Dir(f.File))+"/"+path.Base(dir)
			if t.Archive == f.Archive && near && (out[key] == nil || len(dir) > len(path.Dir(slash(out[key].File)))) {
				out[key] = t
			}
		}
	}
	return out
}

func slash(s string) string { return strings.ReplaceAll(s, "\\", "/") }

// replace lets new editions take the place of enrolled faces, here and in every app that has them.
func (p *Project) replace(ctx context.Context, e *Enrolment, chosen []intake.Found) error {
	for _, f := range chosen {
		had, ok := p.enrolledFrom(f.ID())
		if !ok {
			e.Left = append(e.Left, f.Face)
			continue
		}
		content, err := f.Plain()
		if err != nil {
			return fmt.Errorf("%s: %w", f.File, err)
		}
		w, _ := p.Ledger.Wrote(had.File)
		_, equal, err := same(e.Set, had.File, content)
		if err != nil {
			return err
		}
		if equal && w.SHA256 == change.Sum(content) {
			e.Taken = append(e.Taken, Taken{Face: f.Face, File: had.File, Had: true})
			continue
		}
		r := Replaced{Name: had.Name, File: had.File, From: f.File}
		if r.Old, r.Was, err = p.Original(had.Name); err != nil {
			r.Old, r.Was = face.Face{}, nil // it is gone, or no font any more
		}
		if err := p.renew(e.Set, had.File, content); err != nil {
			return err
		}
		if r.New, r.Is, err = p.Original(had.Name); err != nil {
			return err
		}
		e.Replaced = append(e.Replaced, r)
	}
	if len(e.Replaced)+len(e.Taken) == 0 {
		return refusal("a face of a name that is enrolled, for --replace", "none: "+choice.Listed(chosen), "enrolled are "+strings.Join(p.Registry.FaceNames(), ", ")+"; without --replace they are taken in")
	}
	var err error
	e.Plan, e.Set, err = p.Carry(ctx, e.Set)
	return err
}

// enrolledFrom is the enrolled face of a name, or one that is an instance of the variable face that is called so.
func (p *Project) enrolledFrom(id string) (registry.Face, bool) {
	if e, ok := p.Registry.Face(id); ok {
		return e, true
	}
	i := slices.IndexFunc(p.Registry.Faces, func(e registry.Face) bool {
		return (e.At != nil || e.Rename != "") && strings.TrimSuffix(path.Base(e.File), path.Ext(e.File)) == platform.FileBase(id)
	})
	if i < 0 {
		return registry.Face{}, false
	}
	return p.Registry.Faces[i], true
}

// take copies one face into the project and registers it.
func (p *Project) take(e *Enrolment, f intake.Found, licence *intake.Text, c choice.Faces) error {
	content, err := f.Plain()
	if err != nil {
		return fmt.Errorf("%s: %w", f.File, err)
	}
	id, mended := f.ID(), false
	if f.NeedsMending() && f.PostScript == face.MendedName(f.Face) {
		if content, err = face.Mend(content, id); err != nil {
			return fmt.Errorf("%s: %w", f.File, err)
		}
		mended = true
	}
	reserved := ""
	if mended && licence != nil {
		if text, err := licence.Read(); err == nil {
			reserved = face.ReservedName(text, f.Face)
		}
	}
	file, permitted := path.Join(p.OriginalsFolder(), platform.FileBase(id)+intake.Extension(f.Face)), c.Permitted[f.ID()]
	original := f.Face
	if c.At != nil || c.Rename != "" {
		if f.Face, err = describedAt(content, f, c); err != nil {
			return err
		}
		id = f.ID()
	}
	if had, ok := p.Registry.Face(id); ok {
		exists, equal, err := same(e.Set, had.File, content)
		if err != nil {
			return err
		}
		if w, ok := p.Ledger.Wrote(had.File); !exists && (!ok || w.SHA256 == change.Sum(content)) {
			equal = true // it was deleted, and comes back
			if err := p.renew(e.Set, had.File, content); err != nil {
				return err
			}
		}
		if !equal || !maps.Equal(had.At, c.At) || had.Rename != c.Rename {
			return refusal(fmt.Sprintf("the same file for %s as is enrolled (%s)", id, had.File), fmt.Sprintf("a different one, %s", f.File),
				"two editions cannot share a name: --replace lets the new one take the place of the old one, in every app")
		}
		e.Taken = append(e.Taken, Taken{f.Face, had.File, true, mended, reserved})
		return nil
	}
	for _, other := range p.Registry.Faces {
		if fold(other.File) == fold(file) && (c.At == nil) == (other.At == nil) && maps.Equal(c.At, other.At) && c.Rename == other.Rename {
			return refusal(fmt.Sprintf("a file name of its own for %q", face.Short(id)), fmt.Sprintf("%s, which holds %q", other.File, face.Short(other.Name)), "strike the other face first")
		}
	}
	exists, equal, err := same(e.Set, file, content)
	if err != nil || exists && !equal {
		if err == nil {
			err = conflict(file, "another file of that name", "move it away, then enrol again")
		}
		return err
	}
	entry := registry.Face{Name: id, File: file, Permission: permitted, At: c.At, Rename: c.Rename}
	if licence != nil {
		if entry.Licence, err = p.placeLicence(e, original, licence); err != nil {
			return err
		}
	}
	if err := p.write(e.Set, registry.Written{Path: file, SHA256: change.Sum(content)}, content); err != nil {
		return err
	}
	p.Registry.AddFace(entry, fmt.Sprintf("%s %s, weight %d", f.Family, f.Style, f.Weight))
	p.faces[id] = platform.Face{Face: f.Face, Ext: path.Ext(file)}
	e.Taken = append(e.Taken, Taken{f.Face, file, false, mended, reserved})
	return nil
}

// describedAt is what a font is called when it is renamed, or pinned.
func describedAt(content []byte, f intake.Found, c choice.Faces) (face.Face, error) {
	font, err := open(content)
	if err != nil {
		return f.Face, fmt.Errorf("%s: %w", f.File, err)
	}
	described, err := trim.Described(font, c.At, c.Rename)
	if err != nil {
		return f.Face, fmt.Errorf("%s: %w; correct --at or --rename", f.File, err)
	}
	described.File, described.Container, described.Bytes, described.SHA256 = f.File, f.Container, f.Bytes, f.SHA256
	return described, nil
}

// placeLicence copies a licence once for each family, or takes a text of the same words that is there.
func (p *Project) placeLicence(e *Enrolment, f face.Face, t *intake.Text) (string, error) {
	content, err := t.Read()
	if err != nil {
		return "", err
	}
	for _, have := range append(p.licenceTexts(), e.Licences...) {
		if _, equal, err := same(e.Set, have, content); err == nil && equal {
			return have, nil
		}
	}
	name := path.Join(p.OriginalsFolder(), platform.PlainBase(strings.ReplaceAll(f.Family, " ", ""))+"-"+platform.PlainBase(t.Name))
	for _, have := range e.Licences {
		if have == name {
			return name, nil
		}
	}
	if exists, equal, err := same(e.Set, name, content); err != nil || exists && equal {
		return name, err
	} else if exists {
		return "", conflict(name, "another text of that name", "move it away, then enrol again")
	}
	e.Licences = append(e.Licences, name)
	return name, p.write(e.Set, registry.Written{Path: name, SHA256: change.Sum(content)}, content)
}

// Sizes that new roles begin with, in points.
const (
	bodySize    = 17
	headingSize = 28
)

// giveRoles returns the chosen role its face, or a project without roles its
// first two: body for the plainest face, heading for the bold one.
func (p *Project) giveRoles(e *Enrolment, as string) error {
	add := func(name, face string, size float64) {
		p.Registry.AddRole(name, registry.Role{Face: face, Size: size})
		e.Roles, e.Sizes = append(e.Roles, name), append(e.Sizes, size)
	}
	if as != "" {
		id := e.Taken[0].Face.ID()
		switch old, ok := p.Registry.Roles[as]; {
		case !registry.ValidRole(as):
			return refusal("a role name of small letters, digits and hyphens", fmt.Sprintf("%q", as), "choose another word")
		case !ok:
			add(as, id, bodySize)
		case old.Face != id:
			e.Roles, e.Sizes = append(e.Roles, as), append(e.Sizes, old.Size)
			return p.Registry.SetRoleFace(as, id)
		}
		return nil
	}
	var fresh []face.Face
	for _, t := range e.Taken {
		if !t.Had {
			fresh = append(fresh, t.Face)
		}
	}
	if len(fresh) == 0 {
		return nil
	}
	sort.SliceStable(fresh, func(i, j int) bool { return plainness(fresh[i]) < plainness(fresh[j]) })
	body := fresh[0]
	if _, ok := p.Registry.Roles["body"]; !ok {
		add("body", body.ID(), bodySize)
	}
	than := platform.Face{} // of a role that a bitmap font shows
	if name := p.Registry.Roles["body"].Face; name != "" {
		var err error
		if than, err = p.Face(name); err != nil {
			return err
		}
	}
	if _, ok := p.Registry.Roles["heading"]; !ok {
		if bold, ok := boldest(fresh, than.Weight); ok {
			add("heading", bold.ID(), headingSize)
		}
	}
	return nil
}

// boldWeight is that of a Bold (OpenType, OS/2 usWeightClass).
const boldWeight = 700

// boldest finds the upright face for headings: heavier than the text's, and as near to
// a Bold as there is.
func boldest(list []face.Face, than int) (face.Face, bool) {
	var best face.Face
	off := func(f face.Face) int { return max(f.Weight-boldWeight, boldWeight-f.Weight) }
	for _, f := range list {
		if f.Slant == face.Upright && f.Weight > than && (best.Weight == 0 || off(f) < off(best)) {
			best = f
		}
	}
	return best, best.Weight > 0
}

// plainness is the distance from an upright regular face.
func plainness(f face.Face) int {
	d := f.Weight - 400
	if d < 0 {
		d = -d
	}
	if f.Slant != face.Upright {
		d += 2000
	}
	return d
}

// A Striking is what strike did, or would do.
type Striking struct {
	Faces []string
	Roles []string // that went with their faces
	Moved []string // that took another face
	Files []string
	Left  []Left // what could not be taken away
	// Stay are files with a struck face that are not on the ledger: people put them there, or the ledger lost them.
	Stay []string
	Set  *change.Set
}

// StrikeOptions say what becomes of the roles that use the faces which are struck. With
// neither, a face that is used is not struck.
type StrikeOptions struct {
	RolesTo   string // the face that they take instead
	WithRoles bool   // they go, too
	// All takes every face off, with all roles; Also are files that go with notaria.toml then.
	All  bool
	Also []string
}

// settleRoles carries out what becomes of the roles, or refuses to go on. It returns those
// that took another face.
func (p *Project) settleRoles(ids []string, opt StrikeOptions) (moved []string, err error) {
	if to := opt.RolesTo; to != "" {
		if _, ok := p.Registry.Face(to); !ok || slices.Contains(ids, to) {
			return nil, refusal("an enrolled face that stays for --roles-to", fmt.Sprintf("%q", to), "use one of: "+strings.Join(p.Registry.FaceNames(), ", "))
		}
	}
	for _, id := range ids {
		roles := p.Registry.Serving(id)
		switch {
		case len(roles) == 0 || opt.WithRoles:
		case opt.RolesTo != "":
			if err := p.Registry.MoveRoles(id, opt.RolesTo); err != nil {
				return nil, err
			}
			moved = append(moved, roles...)
		default:
			return nil, refusal("a face that no role uses", fmt.Sprintf("%s, which the app's code uses as %s", id, strings.Join(roles, ", ")),
				"give the roles another face: --roles-to FACE; or take them off, too: --with-roles (code that uses them does not compile then)")
		}
	}
	return moved, nil
}

// owns says whether an app that cannot be served has something on the ledger.
func (p *Project) owns(r Refusal) bool {
	of := func(o registry.Owner) bool {
		return o.Target == r.Target && (o.App == r.App || o.App == "" || r.App == "")
	}
	return slices.ContainsFunc(p.Ledger.Files, func(w registry.Written) bool { return slices.ContainsFunc(w.Owners, of) }) ||
		slices.ContainsFunc(p.Ledger.Entries, func(e registry.Entry) bool { return slices.ContainsFunc(e.Owners, of) })
}

// named lists the enrolled faces that a name means: a PostScript name first,
// then a family. A face whose original is gone can still be struck by its name.
func (p *Project) named(name string) []string {
	if _, ok := p.Registry.Face(name); ok {
		return []string{name}
	}
	var out []string
	for _, e := range p.Registry.Faces {
		if f, err := p.Face(e.Name); err == nil && (choice.Plain(f.Family) == choice.Plain(name) || choice.Plain(f.LegacyFamily) == choice.Plain(name)) {
			out = append(out, e.Name)
		}
	}
	return out
}

// licenceTexts are the texts that enrolled faces have.
func (p *Project) licenceTexts() []string {
	var out []string
	for _, f := range p.Registry.Faces {
		if f.Licence != "" && !slices.Contains(out, f.Licence) {
			out = append(out, f.Licence)
		}
	}
	return out
}

func (p *Project) licenceUsed(name string) bool {
	for _, f := range p.Registry.Faces {
		if f.Licence == name {
			return true
		}
	}
	return false
}
