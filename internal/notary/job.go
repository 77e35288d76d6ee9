package notary

import (
	"bytes"
	"errors"
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/face"
	"notaria/internal/platform"
	"notaria/internal/registry"
	"notaria/internal/sfnt"
)

// Job is what every site of a target is asked to carry.
func (p *Project) Job(t platform.Platform) (platform.Job, error) {
	var job platform.Job
	draws := t.About().Pixels
	for _, name := range p.Registry.RoleNames() {
		r := p.Registry.Roles[name].For(t.About().Name)
		if r.OnlyPixels() && !draws {
			continue
		}
		var f platform.Face
		if r.Bitmap == "" || !draws {
			var err error
			if f, err = p.Face(r.Face); err != nil {
				return job, err
			}
		}
		job.Roles = append(job.Roles, role(name, r, f))
		if err := p.onAxes(job.Roles[len(job.Roles)-1]); err != nil {
			return job, err
		}
	}
	varies := t.About().Varies || draws
	if v, ok := t.(platform.Varier); ok {
		varies = v.VariesWith(p.Registry.Options[t.About().Name])
	}
	pinned, err := p.pin(varies, job.Roles)
	if err != nil {
		return job, err
	}
	idle := p.forPixelsAlone(t.About().Name)
	for _, e := range p.Registry.Faces {
		f, err := p.Face(e.Name)
		if err != nil {
			return job, err
		}
		if instances, ok := pinned[e.Name]; ok {
			job.Faces = append(job.Faces, instances...)
		} else if draws || !idle[e.Name] {
			job.Faces = append(job.Faces, f)
		}
	}
	job.Pixels = p.pixels
	job.Present = p.foreign()
	job.Facts, job.Metrics = p.Facts, p.Metrics
	return job, nil
}

// forPixelsAlone are the faces that roles for displays use, and no other role: apps with text of
// their own have no use for them.
func (p *Project) forPixelsAlone(name string) map[string]bool {
	out := map[string]bool{}
	for _, role := range p.Registry.RoleNames() {
		if r := p.Registry.Roles[role].For(name); r.OnlyPixels() {
			out[r.Face] = true
		}
	}
	for _, role := range p.Registry.RoleNames() {
		if r := p.Registry.Roles[role].For(name); !r.OnlyPixels() {
			delete(out, r.Face)
		}
	}
	return out
}

// role puts a role of the registry into the words of the targets.
func role(name string, r registry.Role, f platform.Face) platform.Role {
	out := platform.Role{Name: name, Face: f, Size: r.Size, Scale: r.Scales(), Wish: r.Wish(), Bitmap: r.Bitmap, Coordinates: r.At()}
	if r.LineHeight != nil {
		out.LineHeight = *r.LineHeight
	}
	if r.Tracking != nil {
		out.Tracking = *r.Tracking
	}
	if r.Fallback != registry.None {
		out.Fallback = r.Fallback
	}
	out.Colour = colour(r.Colour)
	if o := r.Outline; o != nil && o.Width > 0 {
		if c := colour(o.Colour); c != nil {
			out.Outline = &platform.Outline{Width: o.Width, Colour: *c}
		}
	}
	out.FontDisplay, out.Late = r.FontDisplay, !r.Preloads()
	gameParts(&out, r)
	return out
}

// gameParts are the parts that games ask for.
func gameParts(out *platform.Role, r registry.Role) {
	if e := r.Extra; e != nil {
		out.Extra = platform.Extra{Space: e.Space, Top: e.Top, Bottom: e.Bottom}
	}
	if s := r.Shadow; s != nil {
		if c := colour(s.Colour); c != nil {
			out.Shadow = &platform.Shadow{X: s.X, Y: s.Y, Blur: s.Blur, Colour: *c}
		}
	}
	if out.Smooth = r.Smooth; r.Characters != nil {
		out.Characters, _ = r.Characters.Runes() // the registry was checked
		out.AppStrings = r.Characters.AppStrings
	}
}

func colour(c registry.Colour) *platform.Colour {
	if !c.OK {
		return nil
	}
	return &platform.Colour{R: c.R, G: c.G, B: c.B, A: c.A}
}

// Foreign lists the font files of the tree that are neither originals nor put
// there by Notaria.
func (p *Project) Foreign() []string {
	own := map[string]bool{}
	for _, f := range p.Registry.Faces {
		own[f.File] = true
	}
	for _, f := range p.Ledger.Files {
		own[f.Path] = true
	}
	var out []string
	for _, f := range p.Tree.Under("") {
		if !own[f] && platform.LooksLikeFont(f) {
			out = append(out, f)
		}
	}
	return out
}

// Present lists the fonts in the tree that Notaria did not put there.
func (p *Project) Present() []platform.Present { return p.foreign() }

// PresentFaces lists the faces of those fonts, each with its file.
func (p *Project) PresentFaces() []platform.Face {
	p.foreign()
	return p.lying
}

// foreign says which face each of those files holds; what cannot be read is not
// among them. Files are read once.
func (p *Project) foreign() []platform.Present {
	if p.looked {
		return p.present
	}
	p.looked, p.broken = true, map[string]*sfnt.NotFontError{}
	list := p.Foreign()
	for _, f := range p.Ledger.Files {
		if f.Taken { // it stays where somebody put it
			list = append(list, f.Path)
		}
	}
	for _, f := range list {
		// A collection holds several faces; the originals are files of one.
		if read, err := p.readOriginal(f); err == nil && read.Container != string(sfnt.Collection) {
			p.present = append(p.present, platform.Present{Path: f, ID: read.ID()})
			read.File = f
			p.lying = append(p.lying, platform.Face{Face: read, Ext: path.Ext(f)})
		} else if no := (*sfnt.NotFontError)(nil); errors.As(err, &no) {
			p.broken[f] = no
		}
	}
	return p.present
}

// Broken are the files among those that are no fonts at all, by the endings of their names: a page, a text, half a file. Fonts that are only
// odd are not among them.
func (p *Project) Broken() map[string]*sfnt.NotFontError {
	p.foreign()
	return p.broken
}

// kindWords say what a value of a kind is.
var kindWords = map[string]string{
	platform.KindWord: "a text in quotation marks", platform.KindList: `a list of texts, such as ["a", "b"]`, platform.KindYesNo: "true or false, without quotation marks",
}

// Options are what the registry says for one target, checked.
func (p *Project) Options(t platform.Platform) (platform.Options, error) {
	about, chosen := t.About(), p.Registry.Options[t.About().Name]
	known := map[string]string{platform.LeaveOut: platform.KindList}
	names := []string{platform.LeaveOut}
	for _, o := range about.Options {
		known[o.Key] = o.Kind
		names = append(names, o.Key)
	}
	for key, value := range chosen {
		at, way := fmt.Sprintf("[target.%s] %s", about.Name, key), registry.Key{"target", about.Name, key}
		if known[key] == "" {
			return nil, p.Registry.Wrong(way, "options that the target has", at, registry.Instead(key, names, ""))
		}
		if found, fits := fits(known[key], value); !fits {
			return nil, p.Registry.Wrong(way, kindWords[known[key]]+" for "+at, found, "write "+kindWords[known[key]])
		}
	}
	return chosen, nil
}

// fits says whether a value is of an option's kind, and what it is.
func fits(kind string, value any) (found string, ok bool) {
	switch v := value.(type) {
	case string:
		return fmt.Sprintf("%q", v), kind == platform.KindWord
	case bool:
		return fmt.Sprint(v), kind == platform.KindYesNo
	case []any:
		for _, x := range v {
			if _, isWord := x.(string); !isWord {
				return fmt.Sprint(x) + " in it", false
			}
		}
		return "a list", kind == platform.KindList
	}
	return fmt.Sprint(value), false
}

// Sites are the apps of a target in this project. Those that are left out are not even
// looked at: the platform does not see what is directly in their folders. They are looked for
// once in a run.
func (p *Project) Sites(t platform.Platform) ([]platform.Site, error) {
	f := p.found(t)
	return slices.Clone(f.sites), f.err
}

// found is what was found of a target's apps, and what could not be read meanwhile.
type found struct {
	sites  []platform.Site
	err    error
	unread []Unread
}

func (p *Project) found(t platform.Platform) found {
	name := t.About().Name
	if f, ok := p.sites[name]; ok {
		return f
	}
	seen := len(p.Tree.Unread)
	sites, err := p.findSites(t)
	f := found{sites, err, slices.Clone(p.Tree.Unread[seen:])}
	if p.sites == nil {
		p.sites = map[string]found{}
	}
	p.sites[name] = f
	return f
}

func (p *Project) findSites(t platform.Platform) ([]platform.Site, error) {
	opt, err := p.Options(t)
	if err != nil {
		return nil, err
	}
	out := opt.List(platform.LeaveOut)
	tree := without{p.Tree, out}
	sites, err := t.Sites(tree, opt)
	real := slices.ContainsFunc(sites, func(s platform.Site) bool { return !platform.NotOwn(s.Path()) && !platform.IsExample(s.Path()) })
	sites = slices.DeleteFunc(sites, func(s platform.Site) bool {
		why := platform.WhyNotOwn(s.Path())
		if why == "" && real && platform.IsExample(s.Path()) {
			why = "an example, beside an app"
		}
		if why == "" || p.meant(t, s.Path()) {
			return slices.Contains(out, s.Path())
		}
		p.passed = append(p.passed, PassedOver{t.About().Name, s.Path(), why})
		return true
	})
	err = errors.Join(slices.DeleteFunc(Each(err), func(e error) bool {
		var app *platform.AppError
		return errors.As(e, &app) && platform.NotOwn(app.App) && !p.meant(t, app.App)
	})...)
	named, wrong := p.namedSites(t, tree, sites, out)
	if wrong != nil {
		err = errors.Join(append(Each(err), Each(wrong)...)...)
	}
	if len(named) > 0 {
		sites = append(sites, named...)
		slices.SortStableFunc(sites, func(a, b platform.Site) int { return strings.Compare(a.Path(), b.Path()) })
	}
	return sites, err
}

// PassedOver is an app that is not served, for what is in its folder is not the project's own.
type PassedOver struct {
	Target string `json:"target"`
	App    string `json:"path"`
	Why    string `json:"why"`
}

// PassedOver are these apps of the targets that were looked for.
func (p *Project) PassedOver() []PassedOver { return slices.Clone(p.passed) }

// meant says whether notaria.toml names an app, or an earlier run registered it.
func (p *Project) meant(t platform.Platform, app string) bool {
	name := t.About().Name
	return slices.ContainsFunc(p.Registry.Sites, func(s registry.Site) bool { return s.Target == name && s.Folder == app }) ||
		slices.ContainsFunc(p.Ledger.Files, func(f registry.Written) bool {
			return slices.ContainsFunc(f.Owners, func(o registry.Owner) bool { return o.Target == name && o.App == app })
		})
}

// namedSites are the apps of a target that notaria.toml names, without those that the platform
// has found itself.
func (p *Project) namedSites(t platform.Platform, tree platform.Tree, have []platform.Site, out []string) ([]platform.Site, error) {
	var found platform.Found
	for i, said := range p.Registry.Sites {
		if said.Target != t.About().Name || slices.Contains(out, said.Folder) ||
			slices.ContainsFunc(have, func(s platform.Site) bool { return s.Path() == said.Folder }) {
			continue
		}
		namer, ok := t.(platform.Namer)
		switch at := registry.SiteKey(i); {
		case !ok:
			found.Add(said.Folder, nil, p.Registry.Wrong(at, "a [[site]] of a target whose apps can be named", said.Target, "take the block out: Notaria finds every app of this target itself"))
		case len(tree.Under(said.Folder)) == 0:
			found.Add(said.Folder, nil, p.Registry.Wrong(at, "a folder that holds an app", fmt.Sprintf("%q, which is not there or is empty", said.Folder), "correct the folder of this [[site]], or take the block out"))
		default:
			s, err := namer.SiteIn(tree, said.Folder, p.Registry.Options[said.Target])
			found.Add(said.Folder, s, err)
		}
	}
	return found.All()
}

// without is a tree without the files that are directly in some folders.
type without struct {
	platform.Tree
	folders []string
}

func (w without) Named(base string) []string { return w.filter(w.Tree.Named(base)) }

func (w without) Under(dir string) []string { return w.filter(w.Tree.Under(dir)) }

func (w without) filter(list []string) []string {
	if len(w.folders) == 0 {
		return list
	}
	var out []string
	for _, f := range list {
		if !slices.Contains(w.folders, path.Dir(f)) {
			out = append(out, f)
		}
	}
	return out
}

// Known checks that what the registry says for single targets is about targets
// that there are.
func (p *Project) Known(targets []platform.Platform) error {
	names := map[string]bool{}
	var list []string
	for _, t := range targets {
		names[t.About().Name] = true
		list = append(list, t.About().Name)
	}
	unknown := func(target, found string, at registry.Key) error {
		return p.Registry.Wrong(at, "a target that Notaria knows", found, registry.Instead(target, list, ""))
	}
	differs, role := p.Registry.Differs()
	for _, t := range differs {
		if !names[t] {
			return unknown(t, fmt.Sprintf("[role.%s.on.%s]", role[t], t), registry.Key{"role", role[t], "on", t})
		}
	}
	for i, s := range p.Registry.Sites {
		if !names[s.Target] {
			return unknown(s.Target, fmt.Sprintf("target = %q in [[site]]", s.Target), append(registry.SiteKey(i), "target"))
		}
	}
	for t := range p.Registry.Options {
		if !names[t] {
			return unknown(t, fmt.Sprintf("[target.%s]", t), registry.Key{"target", t})
		}
	}
	return nil
}

// Role is a role of the registry as it is said for all targets.
func (p *Project) Role(name string) (platform.Role, error) {
	return p.RoleOn(name, "")
}

// RoleOn is a role as a target has it; "" for all targets. Its face is an instance where it has a place of its own in a variable one.
func (p *Project) RoleOn(name, on string) (platform.Role, error) {
	r, ok := p.Registry.Roles[name]
	if !ok {
		return platform.Role{}, fmt.Errorf("no role %q is in %s", name, registry.FileName)
	}
	r = r.For(on)
	var f platform.Face
	if r.Bitmap == "" {
		var err error
		if f, err = p.Face(r.Face); err != nil {
			return platform.Role{}, err
		}
	}
	out := role(name, r, f)
	if err := p.onAxes(out); err != nil || len(out.Coordinates) == 0 || out.Wish.Depth > 0 && r.OnlyPixels() {
		return out, err
	}
	var err error
	out.Face, err = p.instance(name, r.Face, out.Coordinates)
	out.Coordinates = nil
	return out, err
}

// Original reads the font file of an enrolled face, and all that it says: its characters, its
// copyright and its licence as well.
func (p *Project) Original(id string) (face.Face, []byte, error) {
	f, err := p.Face(id)
	if err != nil {
		return face.Face{}, nil, err
	}
	e, _ := p.Entry(id)
	data, err := p.atPlace(e)
	if err != nil {
		return face.Face{}, nil, err
	}
	file, err := sfnt.Open(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return face.Face{}, nil, fmt.Errorf("%s: %w", f.File, err)
	}
	read, _, err := face.Read(file.Font(0), face.Options{Coverage: true, Records: true, Drawn: true})
	read.File = f.File
	return read, data, err
}
