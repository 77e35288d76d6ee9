package notary

import (
	"context"
	"fmt"
	"path"
	"slices"
	"sort"
	"strings"

	"notaria/internal/change"
	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/intake"
	"notaria/internal/platform"
	"notaria/internal/registry"
	"notaria/internal/sfnt"
)

// Choice says which faces of a haul to enrol.
type Choice struct {
	Styles   []string // by style name, or by a role of weight and slant; all if empty
	Families []string // by family name; all if empty
	As       string   // the role that the one face chosen takes, or ""
	// MendNames takes a copy with a legal PostScript name of each face that has
	// none, or one that does not work everywhere.
	MendNames bool
	// Variable takes a family's variable files where its static cuts are beside
	// them; without it, the static cuts are taken.
	Variable bool
	// Replace lets a face take the place of the enrolled one of its name; faces that are not enrolled are left.
	Replace bool
	// Permitted are faces that forbid to embed them, by their PostScript names, and why they may be in
	// apps all the same.
	Permitted map[string]string
}

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
func (p *Project) Enrol(ctx context.Context, haul intake.Haul, c Choice) (*Enrolment, error) {
	e := &Enrolment{Set: p.set()}
	chosen, err := c.choose(haul, e)
	if err != nil {
		return nil, err
	}
	if c.Replace {
		return e, p.replace(ctx, e, chosen)
	}
	licences := p.licences(haul, chosen)
	for _, f := range chosen {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		if err := p.take(e, f, licences[f.Archive+"\x00"+path.Dir(f.File)], c.Permitted[f.ID()]); err != nil {
			return nil, err
		}
	}
	if err := p.giveRoles(e, c.As); err != nil {
		return nil, err
	}
	return e, p.seal(e.Set)
}

// choose picks the faces, and refuses a choice that fits none.
func (c Choice) choose(haul intake.Haul, e *Enrolment) ([]intake.Found, error) {
	var out []intake.Found
	used := map[string]bool{}
	seen := map[string]int{} // places in out
	named, typographic := c.namedStyles(haul.Faces), typographicFamilies(haul.Faces)
	both := familiesInBothForms(haul.Faces)
	for _, f := range haul.Faces {
		style := c.wantsStyle(f.Face, used, named)
		family := c.wantsFamily(f.Face, used, typographic)
		if !style || !family {
			e.Left = append(e.Left, f.Face)
			continue
		}
		if both[f.Family] && f.Variable != c.Variable {
			e.Beside = append(e.Beside, f.Face)
			continue
		}
		if c.MendNames && f.NeedsMending() {
			f.PostScript = face.MendedName(f.Face)
		}
		if f.ID() == "" {
			return nil, refusal("a face with a name", fmt.Sprintf("%s, which has none at all", f.File), "leave that file out, or ask its maker for a repaired edition")
		}
		at, twice := seen[f.ID()]
		switch {
		case !twice:
			seen[f.ID()] = len(out)
			out = append(out, f)
		case out[at].SHA256 == f.SHA256:
		case out[at].Container != f.Container:
			if form(f) < form(out[at]) {
				out[at] = f
			}
		default:
			return nil, refusal(fmt.Sprintf("one file for the PostScript name %s", f.ID()), fmt.Sprintf("two that differ: %s and %s", out[at].File, f.File), "name just the one that you want")
		}
	}
	for _, w := range append(append([]string(nil), c.Styles...), c.Families...) {
		if !used[word(w)] {
			return nil, refusal(fmt.Sprintf("a style or family %q", w), "only "+listOf(haul.Faces), "choose among those; notaria names shows them")
		}
	}
	if err := c.mayEmbed(out); err != nil {
		return nil, err
	}
	if len(out) == 0 {
		return nil, refusal("at least one face", "none", "name a font file, a folder of fonts or a zip archive")
	}
	if c.As != "" && len(out) != 1 {
		return nil, refusal("one face for --role", fmt.Sprintf("%d", len(out)), "narrow the choice with --styles or --family")
	}
	return out, nil
}

// form ranks the forms in which a download holds one face: what is not packed first, then what is packed better.
func form(f intake.Found) int {
	return slices.Index([]string{string(sfnt.Plain), string(sfnt.WOFF2), string(sfnt.WOFF), string(sfnt.Collection)}, f.Container)
}

// typographicFamilies are those of faces, by the names that people type.
func typographicFamilies(faces []intake.Found) map[string]bool {
	out := map[string]bool{}
	for _, f := range faces {
		family, _ := ownStyle(f.Face)
		out[word(family)] = true
	}
	return out
}

// wantsFamily goes by the family's name. The legacy one, which a Light of another family can share, counts where no
// family is called so.
func (c Choice) wantsFamily(f face.Face, used, typographic map[string]bool) bool {
	family, _ := ownStyle(f)
	ok := matches(c.Families, used, family, f.Family)
	for _, w := range c.Families {
		if !typographic[word(w)] && matches([]string{w}, used, f.LegacyFamily) {
			ok = true
		}
	}
	return ok
}

// ownStyle tells the family and the style of a face apart. A font without typographic names has the weight in the name
// of its family: Skerry Sans Light, Regular is the Light of Skerry Sans.
func ownStyle(f face.Face) (family, style string) {
	if f.Family != f.LegacyFamily || f.Weight == 0 {
		return f.Family, f.Style
	}
	words := strings.Fields(f.Family)
	for n := 1; n <= 2 && n < len(words); n++ {
		last := strings.Join(words[len(words)-n:], " ")
		if weight, ok := face.WeightOf(last); ok && platform.Hundreds(weight) == platform.Hundreds(f.Weight) {
			family, style = strings.Join(words[:len(words)-n], " "), strings.TrimSpace(last+" "+f.Style)
		}
	}
	if family == "" {
		return f.Family, f.Style
	}
	if plain, _, _ := strings.Cut(f.Style, " "); strings.EqualFold(plain, "regular") {
		style = strings.TrimSuffix(style, " "+f.Style)
	}
	return family, style
}

// namedStyles is the set of families and wanted styles for which a face of just
// that style's name is there: "Skerry Sans" has a Regular, another has a Book.
func (c Choice) namedStyles(faces []intake.Found) map[string]bool {
	named := map[string]bool{}
	for _, f := range faces {
		family, style := ownStyle(f.Face)
		named[family+"\x00"+word(style)] = true
		if f.Width == normalWidth {
			named[family+"\x00of normal width: "+plainStyle(f.Face)] = true
		}
	}
	return named
}

// familiesInBothForms is the set of families that come as a variable file and as
// static cuts: an app takes one form, for the two share names and weigh twice.
func familiesInBothForms(faces []intake.Found) map[string]bool {
	static, variable, both := map[string]bool{}, map[string]bool{}, map[string]bool{}
	for _, f := range faces {
		if f.Variable {
			variable[f.Family] = true
		} else {
			static[f.Family] = true
		}
		both[f.Family] = static[f.Family] && variable[f.Family]
	}
	return both
}

// normalWidth is the width of a face that is neither narrow nor wide, in percent.
const normalWidth = 100

// wantsStyle goes by the style's own name, and by weight and slant only where a
// family calls nothing by the wanted name. The legacy style is no help: of a
// Light it says Regular.
func (c Choice) wantsStyle(f face.Face, used, named map[string]bool) bool {
	family, style := ownStyle(f)
	ok := matches(c.Styles, used, style)
	for _, w := range c.Styles {
		narrow := f.Width != normalWidth && named[family+"\x00of normal width: "+plainStyle(f)]
		if !narrow && !named[family+"\x00"+word(w)] && matches([]string{w}, used, plainStyle(f)) {
			ok = true
		}
	}
	return ok
}

// matches says whether any name is among the wanted ones, and notes which.
func matches(wanted []string, used map[string]bool, names ...string) bool {
	ok := len(wanted) == 0
	for _, w := range wanted {
		for _, n := range names {
			if n != "" && word(w) == word(n) {
				used[word(w)] = true
				ok = true
			}
		}
	}
	return ok
}

// word makes names comparable: capitals, spaces and hyphens do not count.
func word(s string) string {
	return strings.Map(func(r rune) rune {
		if r == ' ' || r == '-' || r == '_' {
			return -1
		}
		return r
	}, strings.ToLower(s))
}

// plainStyle names an ordinary style by its numbers, for fonts that call their
// regular style Book or Roman.
func plainStyle(f face.Face) string {
	s := face.WeightWord(f.Weight)
	switch {
	case f.Slant == face.Upright || s == "":
		return s
	case s == "regular":
		return "italic"
	}
	return s + "italic"
}

func listOf(faces []intake.Found) string {
	var out []string
	seen := map[string]bool{}
	for _, f := range faces {
		if s := f.Family + " " + f.Style; !seen[s] {
			seen[s] = true
			out = append(out, s)
		}
	}
	if len(out) > 12 {
		out = append(out[:12], "…")
	}
	if len(out) == 0 {
		return "no fonts at all"
	}
	return strings.Join(out, ", ")
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

// mayEmbed refuses faces whose makers forbid to embed them, unless a reason was given (OpenType, OS/2,
// fsType: restricted licence embedding).
func (c Choice) mayEmbed(chosen []intake.Found) error {
	used := map[string]bool{}
	for _, f := range chosen {
		if f.Embedding != "restricted" {
			continue
		}
		if used[f.ID()] = c.Permitted[f.ID()] != ""; !used[f.ID()] {
			return refusal("a face that may be embedded", fmt.Sprintf("%s, whose maker forbids it (fsType: restricted licence embedding)", face.Short(f.ID())),
				fmt.Sprintf("take another font; or, where you have a licence for apps, say so: --permitted %q", face.Short(f.ID())+"=REASON"))
		}
	}
	for name := range c.Permitted {
		if !used[name] {
			return refusal(fmt.Sprintf("a chosen face %q that forbids to embed it, for --permitted", face.Short(name)), "none", "leave --permitted out, or correct the name: it is the PostScript name")
		}
	}
	return nil
}

// replace lets new editions take the place of enrolled faces, here and in every app that has them.
func (p *Project) replace(ctx context.Context, e *Enrolment, chosen []intake.Found) error {
	for _, f := range chosen {
		had, ok := p.Registry.Face(f.ID())
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
		return refusal("a face of a name that is enrolled, for --replace", "none: "+listOf(chosen), "enrolled are "+strings.Join(p.Registry.FaceNames(), ", ")+"; without --replace they are taken in")
	}
	var err error
	e.Plan, e.Set, err = p.Carry(ctx, e.Set)
	return err
}

// take copies one face into the project and registers it.
func (p *Project) take(e *Enrolment, f intake.Found, licence *intake.Text, permitted string) error {
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
	file := path.Join(p.OriginalsFolder(), platform.FileBase(id)+intake.Extension(f.Face))
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
		if !equal {
			return refusal(fmt.Sprintf("the same file for %s as is enrolled (%s)", id, had.File), fmt.Sprintf("a different one, %s", f.File),
				"two editions cannot share a name: --replace lets the new one take the place of the old one, in every app")
		}
		e.Taken = append(e.Taken, Taken{f.Face, had.File, true, mended, reserved})
		return nil
	}
	for _, other := range p.Registry.Faces {
		if fold(other.File) == fold(file) {
			return refusal(fmt.Sprintf("a file name of its own for %q", face.Short(id)), fmt.Sprintf("%s, which holds %q", other.File, face.Short(other.Name)), "strike the other face first")
		}
	}
	if exists, equal, err := same(e.Set, file, content); err != nil || exists && !equal {
		if err == nil {
			err = conflict(file, "another file of that name", "move it away, then enrol again")
		}
		return err
	}
	entry := registry.Face{Name: id, File: file, Permission: permitted}
	if licence != nil {
		if entry.Licence, err = p.placeLicence(e, f.Face, licence); err != nil {
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
		if f, err := p.Face(e.Name); err == nil && (word(f.Family) == word(name) || word(f.LegacyFamily) == word(name)) {
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
