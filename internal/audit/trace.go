package audit

import (
	"bytes"
	"context"
	"fmt"
	"path"
	"slices"
	"sort"
	"strings"

	"notaria/internal/change"
	"notaria/internal/language"
	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/registry"
)

// A Trace is every place of a project that a name appears in, and what the name means.
type Trace struct {
	Name string `json:"name"`
	// Faces are those that the name means: by the PostScript name, the family, the full name, the file,
	// the resource, the alias, or the role.
	Faces  []string `json:"faces"`
	Roles  []string `json:"roles"`  // that have one of these faces, or this name
	Names  []string `json:"names"`  // other names of the same faces, which were looked for, too
	Places []Place  `json:"places"` // in the order of files and lines
	More   int      `json:"more"`   // places that are not listed
	// Generated are how many places are in code that Notaria wrote: they follow notaria.toml.
	Generated int `json:"generated"`
}

// A Place is one where a name appears. Line and Column are 1-based, Column in bytes; 0 where they mean
// nothing.
type Place struct {
	File   string    `json:"file"`
	Line   int       `json:"line,omitempty"`
	Column int       `json:"column,omitempty"`
	Kind   PlaceKind `json:"kind"`
	Text   string    `json:"text"`             // as it is written there
	Target string    `json:"target,omitempty"` // the app that it belongs to
	Site   string    `json:"site,omitempty"`
	Means  string    `json:"means"` // what it resolves to
}

// A PlaceKind is what a name stands for in a place.
type PlaceKind string

// Kinds of places.
const (
	IsOriginal PlaceKind = "original"  // the file of an enrolled face
	IsRole     PlaceKind = "role"      // in notaria.toml
	IsPlaced   PlaceKind = "placed"    // a file that Notaria places
	IsThere    PlaceKind = "font file" // that an app has by hand
	IsEntry    PlaceKind = "entry"     // of a manifest
	IsAsked    PlaceKind = "asked for" // by code, markup or a style
	IsMention  PlaceKind = "mention"   // any other text
)

// mostPlaces is how many places are listed.
const mostPlaces = 1000

// NewTrace looks for a name in a project.
func NewTrace(ctx context.Context, p *notary.Project, plan *notary.Plan, name string) (*Trace, error) {
	a := newPass(p, plan)
	a.tracing = true
	for _, step := range []func(context.Context) error{a.files, a.manifests, a.flawsAll, a.scan} {
		if err := step(ctx); err != nil {
			return nil, err
		}
	}
	t := &Trace{Name: name, Faces: []string{}, Roles: []string{}, Names: []string{}, Places: []Place{}}
	x := &tracer{pass: a, t: t, covered: map[string]bool{}}
	x.meaning()
	x.registry()
	for _, s := range plan.Sites {
		x.site(s)
	}
	x.asked()
	x.mentions()
	sort.SliceStable(t.Places, func(i, j int) bool {
		m, n := t.Places[i], t.Places[j]
		return m.File < n.File || m.File == n.File && (m.Line < n.Line || m.Line == n.Line && m.Column < n.Column)
	})
	if len(t.Places) > mostPlaces {
		t.More, t.Places = len(t.Places)-mostPlaces, t.Places[:mostPlaces]
	}
	return t, nil
}

type tracer struct {
	*pass
	t       *Trace
	faces   []platform.Face
	names   []string
	covered map[string]bool // file:line of places that are told
}

func (x *tracer) add(p Place) {
	if p.Line > 0 {
		x.covered[fmt.Sprintf("%s:%d", p.File, p.Line)] = true
	}
	x.t.Places = append(x.t.Places, p)
}

// meaning finds the faces that the name means, and their other names.
func (x *tracer) meaning() {
	var all []platform.Face
	for _, e := range x.p.Registry.Faces {
		if f, err := x.p.Face(e.Name); err == nil {
			all = append(all, f)
		}
	}
	all = append(append(all, x.p.Instances()...), x.p.PresentFaces()...)
	shown := x.p.FacesOf(x.t.Name)
	for _, f := range all {
		if slices.Contains(namesOfFace(f), x.t.Name) || slices.Contains(shown, f.ID()) {
			x.faces = append(x.faces, f)
			x.t.Faces = once(x.t.Faces, f.ID())
		}
	}
	x.aliases(all)
	x.names = []string{x.t.Name}
	for _, f := range x.faces {
		for _, n := range namesOfFace(f) {
			x.names = once(x.names, n)
		}
	}
	for _, n := range x.p.Registry.RoleNames() {
		if n == x.t.Name || slices.Contains(x.t.Faces, x.p.Registry.Roles[n].Face) {
			x.t.Roles = append(x.t.Roles, n)
		}
	}
	x.t.Names = x.names[1:]
}

// aliases finds the faces that manifests give the name to.
func (x *tracer) aliases(all []platform.Face) {
	for _, s := range x.plan.Sites {
		for _, h := range x.held[siteKey(s)] {
			if h.Alias != x.t.Name {
				continue
			}
			for _, f := range all {
				if f.File == h.File && !slices.Contains(x.t.Faces, f.ID()) {
					x.faces, x.t.Faces = append(x.faces, f), append(x.t.Faces, f.ID())
				}
			}
		}
	}
}

// namesOfFace are the names that a face goes by on some platform.
func namesOfFace(f platform.Face) []string {
	var out []string
	base := path.Base(f.File)
	for _, n := range []string{f.ID(), f.Full, f.Family, f.LegacyFamily, base, strings.TrimSuffix(base, path.Ext(base)), language.Snake(language.Words(f.ID()))} {
		if n != "" && n != "." {
			out = once(out, n)
		}
	}
	return out
}

func once(list []string, s string) []string {
	if slices.Contains(list, s) {
		return list
	}
	return append(list, s)
}

// registry tells of notaria.toml.
func (x *tracer) registry() {
	for _, e := range x.p.Registry.Faces {
		if slices.Contains(x.t.Faces, e.Name) {
			x.add(Place{File: e.File, Kind: IsOriginal, Text: path.Base(e.File), Means: "the face " + e.Name})
		}
	}
	for _, n := range x.t.Roles {
		line, _, _ := x.lineOf(registry.FileName, "[role."+n+"]")
		x.add(Place{File: registry.FileName, Line: line, Kind: IsRole, Text: n, Means: "the face " + x.p.Registry.Roles[n].Face})
	}
}

// site tells of the files and entries of an app.
func (x *tracer) site(s notary.SitePlan) {
	of := func(p Place) {
		p.Target, p.Site = s.Target.Name, s.Site.Path()
		x.add(p)
	}
	for _, f := range s.Files {
		for _, id := range f.Recipe.Faces() {
			if slices.Contains(x.t.Faces, id) {
				means := "the face " + id
				if x.missing[f.Path] {
					means += ", and the file is not there"
				}
				of(Place{File: f.Path, Kind: IsPlaced, Text: path.Base(f.Path), Means: means})
			}
		}
	}
	for _, c := range x.carriedBy(s) {
		if !c.planned && slices.Contains(x.t.Faces, c.face.ID()) {
			of(Place{File: c.File, Kind: IsThere, Text: path.Base(c.File), Means: "the face " + c.face.ID()})
		}
	}
	for _, h := range x.held[siteKey(s)] {
		named := slices.ContainsFunc(x.plain(), func(n string) bool { return strings.Contains(h.Value, n) || h.Alias == n })
		if h.Line == 0 || !named && !slices.ContainsFunc(x.faces, func(f platform.Face) bool { return f.File == h.File && h.File != "" }) {
			continue
		}
		means := "the file " + h.File
		if h.File == "" || !x.p.Tree.Has(h.File) {
			means = "no file"
		}
		of(Place{File: h.Manifest, Line: h.Line, Kind: IsEntry, Text: h.Value, Means: means})
	}
}

// asked tells where code asks for one of the names.
func (x *tracer) asked() {
	seen := map[string]bool{}
	for _, k := range x.asks {
		typed := k.typed
		leads := slices.ContainsFunc(k.answer.Leads, func(f platform.Face) bool { return slices.Contains(x.t.Faces, f.ID()) })
		if !leads && !slices.ContainsFunc(x.names, func(n string) bool { return n == typed || len(n) > 3 && strings.Contains(typed, n) }) {
			continue
		}
		f := k.at
		key := fmt.Sprintf("%s:%d:%d %s", f.File, f.Line, f.Column, siteKey(k.site))
		if seen[key] {
			continue
		}
		seen[key] = true
		means := "fine: the app answers to it"
		if k.answer.Fault != platform.Fine {
			means = "nothing: " + k.answer.Message
			if k.answer.Cure != "" {
				means += "; " + k.answer.Cure
			}
		}
		x.add(Place{f.File, f.Line, f.Column, IsAsked, typed, f.Target, f.Site, means})
	}
}

// plain are the names that mean the same in any text: a family is that of other faces, too, and a role
// is a word.
func (x *tracer) plain() []string {
	_, isRole := x.p.Registry.Roles[x.t.Name]
	return slices.DeleteFunc(slices.Clone(x.names), func(n string) bool {
		if n == x.t.Name {
			return isRole
		}
		return slices.ContainsFunc(x.faces, func(f platform.Face) bool { return n == f.Family || n == f.LegacyFamily })
	})
}

// mentions tells where else the names are written.
func (x *tracer) mentions() {
	names := x.plain()
	for _, file := range x.p.Tree.Under("") {
		l := language.Of(file)
		if ext := path.Ext(file); l == nil && !askingFiles[ext] && ext != ".md" && ext != ".txt" && ext != ".toml" && ext != ".pbxproj" || file == registry.LedgerName || file == KnownFile {
			continue
		}
		text, ok := x.p.Tree.Glance(file, mostSource)
		if !ok || !slices.ContainsFunc(names, func(n string) bool { return bytes.Contains(text, []byte(n)) }) {
			continue
		}
		ours := platform.IsGenerated(text)
		n := 0
		for line := range bytes.Lines(text) {
			n++
			if x.covered[fmt.Sprintf("%s:%d", file, n)] {
				continue
			}
			for _, name := range names {
				if i := bytes.Index(line, []byte(name)); i >= 0 {
					if ours {
						x.t.Generated++
						break
					}
					x.add(Place{File: file, Line: n, Column: i + 1, Kind: IsMention, Text: name, Means: "a mention"})
					break
				}
			}
			if len(x.t.Places) > 2*mostPlaces {
				return
			}
		}
	}
}

// newPass is a pass that has found out nothing yet.
func newPass(p *notary.Project, plan *notary.Plan) *pass {
	return &pass{p: p, plan: plan, set: &change.Set{Dir: p.Dir}, missing: map[string]bool{}, differs: map[string]notary.Stand{},
		memo: map[string]map[string][]string{}, gone: map[string][]string{}, constants: map[string][]constant{},
		carries: map[string][]carried{}, strays: map[string]map[string]bool{}, fontFiles: map[string][]string{}, broken: map[string]bool{}, flawed: map[string][]platform.Flaw{}, used: map[string]map[string]bool{},
		searched: map[string]bool{}, texts: map[string][]written{}, own: map[string]fonts{}, held: map[string][]platform.Held{}, loose: map[string][]platform.Held{}, refused: plan.Refused}
}
