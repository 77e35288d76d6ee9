// Package flutter serves Flutter packages: font files in fonts/, their families
// declared in pubspec.yaml, and a Dart file with a text style for each role.
package flutter

import (
	"bytes"
	_ "embed"
	"fmt"
	"path"
	"regexp"
	"slices"
	"strings"
	"text/template"

	"notaria/internal/edit"
	"notaria/internal/face"
	"notaria/internal/target"
)

// Target is the Flutter platform.
type Target struct{}

// About describes the platform.
func (Target) About() target.About {
	return target.About{
		Name: "flutter", Title: "Flutter", Typed: "TextStyle(fontFamily: '…')",
		Minimum: "a package that depends on the flutter SDK; Dart 2.12",
		Cannot:  []string{"text that does not follow the reader's size (that is up to the widget)", "fill and outline in one TextStyle (there are two)"},
		Options: []target.Option{{Key: "package", Kind: "word", Help: "the name of the one package that holds the fonts for all others"}},
	}
}

// Type gives the declared family: Flutter tells styles apart by weight and slant.
func (Target) Type(faces []face.Face) []string {
	out := make([]string, len(faces))
	for i, f := range faces {
		out[i] = f.Family
	}
	return out
}

// codeFile is the generated Dart file in lib/.
const codeFile = "app_type.dart"

type site struct {
	tree target.Tree
	dir  string // of the package
	name string // of the package
	app  bool   // else others use it, and know its families by its name
	// declared are the families in the pubspec now.
	declared []edit.Asset
}

var packageName = regexp.MustCompile(`(?m)^name:\s*["']?([a-z_][a-z0-9_]*)`)

// Sites finds the packages that depend on Flutter, or the one that holds the fonts
// for all.
func (Target) Sites(tree target.Tree, opt target.Options) ([]target.Site, error) {
	var out []target.Site
	for _, file := range tree.Named("pubspec.yaml") {
		doc, err := tree.Read(file)
		if err != nil {
			return nil, err
		}
		if !target.UsesFlutter(tree, path.Dir(file)) {
			continue
		}
		s := &site{tree: tree, dir: target.Folder(file)}
		if m := packageName.FindSubmatch(doc); m != nil {
			s.name = string(m[1])
		}
		if only := opt.Word("package"); only != "" && only != s.name {
			continue
		}
		s.app = slices.Contains(tree.Under(path.Join(s.dir, "lib")), path.Join(s.dir, "lib/main.dart"))
		s.declared, _ = edit.PubspecAssets(file, doc) // what is wrong with it, the edit says
		out = append(out, s)
	}
	if only := opt.Word("package"); only != "" && len(out) == 0 && len(tree.Named("pubspec.yaml")) > 0 {
		return nil, &target.SiteError{Site: "Flutter", Expected: fmt.Sprintf("a package %q", only), Found: "none in this tree", Cure: "correct the name under [target.flutter] in notaria.toml"}
	}
	return out, nil
}

func (s *site) Path() string { return target.Shown(s.dir) }

func (s *site) Title() string { return "Flutter " + s.Path() }

func (s *site) Next() string {
	return "stop the app and start it again: neither hot reload nor hot restart takes in a changed pubspec"
}

// place gives a face's file, from the package's folder, and the family that it is
// declared under: those of somebody's hand, if it is there already.
func (s *site) place(job target.Job, f target.Face) (asset, family string) {
	at, ok := job.At(f, func(p string) bool {
		rel, inside := s.rel(p)
		return inside && (s.familyOf(rel) != "" || strings.HasPrefix(rel, "fonts/") || strings.HasPrefix(rel, "assets/"))
	})
	asset, family = path.Join("fonts", target.FileBase(f.ID())+f.Ext), plainFamily(f)
	if ok {
		asset, _ = s.rel(at)
	}
	if have := s.familyOf(asset); ok && have != "" {
		family = have
	}
	return asset, family
}

func (s *site) rel(p string) (string, bool) {
	return target.Below(s.dir, p)
}

// familyOf is the family that a file is declared under now.
func (s *site) familyOf(asset string) string {
	for _, a := range s.declared {
		if path.Clean(a.Path) == asset {
			return a.Family
		}
	}
	return ""
}

// Files wants each face in fonts/.
func (s *site) Files(job target.Job) ([]target.File, error) {
	var out []target.File
	for _, f := range job.Faces {
		asset, _ := s.place(job, f)
		out = append(out, target.File{Path: path.Join(s.dir, asset), Copy: f.ID()})
	}
	return out, nil
}

// Entries wants each file under its family, with weight and slant where they are
// not the usual ones.
func (s *site) Entries(job target.Job) ([]edit.Entry, error) {
	var out []edit.Entry
	for _, f := range job.Faces {
		asset, family := s.place(job, f)
		e := edit.Entry{File: path.Join(s.dir, "pubspec.yaml"), Syntax: edit.SyntaxPubspec, Place: "family:" + family, Value: asset}
		if w := weight(f.Weight); w != 400 {
			e.With = append(e.With, fmt.Sprintf("weight: %d", w))
		}
		if f.Slant != face.Upright {
			e.With = append(e.With, "style: italic")
		}
		out = append(out, e)
	}
	return out, nil
}

// plainFamily is what a face is declared under; a nameless family goes by the face.
func plainFamily(f target.Face) string {
	if f.Family == "" {
		return f.ID()
	}
	return f.Family
}

// weight is the nearest that Flutter has: hundreds from 100 to 900.
func weight(w int) int { return min(max((w+50)/100*100, 100), 900) }

//go:embed app_type.dart.tmpl
var dartText string

var dartTemplate = template.Must(template.New("app_type.dart").Parse(dartText))

type dartFamily struct{ Member, Literal string }

// dartRole is a role as Dart says it; what is "" is not said.
type dartRole struct {
	Member, Family, Size, About, Slot    string
	Height, Letter, Colour, Fallback     string
	Outline, OutlineWidth, OutlineColour string
	Weight                               int
	Italic                               bool
}

// generic are the names that engines have for a role's fallback.
var generic = map[string]string{"sans": "sans-serif", "serif": "serif", "mono": "monospace"}

// Code wants lib/app_type.dart.
func (s *site) Code(job target.Job) ([]target.File, error) {
	if len(job.Roles) == 0 {
		return nil, nil
	}
	var data struct {
		Families []dartFamily
		Roles    []dartRole
		Slots    []dartRole
	}
	var names, families []string
	of := map[string]string{}
	for _, f := range job.Faces {
		_, family := s.place(job, f)
		if of[f.ID()] = family; !slices.Contains(families, family) {
			families = append(families, family)
			names = append(names, target.Camel(target.Words(family)))
		}
	}
	members := map[string]string{}
	for i, n := range target.Unique(names) {
		members[families[i]] = member(n, "family") + "Family"
		known := families[i]
		if !s.app && s.name != "" {
			known = "packages/" + s.name + "/" + known
		}
		data.Families = append(data.Families, dartFamily{members[families[i]], literal(known)})
	}
	taken := map[string]bool{}
	for _, r := range job.Roles {
		taken[member(target.Camel(target.Words(r.Name)), "role")] = true
	}
	for _, r := range job.Roles {
		role := newRole(r, members[of[r.Face.ID()]], taken)
		data.Roles = append(data.Roles, role)
		if role.Slot != "" {
			data.Slots = append(data.Slots, role)
		}
	}
	var b bytes.Buffer
	err := dartTemplate.Execute(&b, data)
	return []target.File{{Path: path.Join(s.dir, "lib", codeFile), Content: b.Bytes()}}, err
}

func newRole(r target.Role, family string, taken map[string]bool) dartRole {
	role := dartRole{
		Member: member(target.Camel(target.Words(r.Name)), "role"), Family: family, Size: target.Number(r.Size),
		Weight: weight(r.Face.Weight), Italic: r.Face.Slant != face.Upright, Slot: slot(r.Name),
		About: target.Comment(r.About("logical pixels")),
	}
	if r.LineHeight > 0 {
		role.Height = target.Number(r.Ratio(r.Size))
	}
	if r.Tracking != 0 {
		role.Letter = target.Number(r.Letter())
	}
	if r.Colour != nil {
		role.Colour = r.Colour.ARGB()
	}
	role.Fallback = generic[r.Fallback]
	if r.Outline != nil {
		role.OutlineWidth, role.OutlineColour = target.Number(r.Outline.Width), r.Outline.Colour.ARGB()
		for role.Outline = role.Member + "Outline"; taken[role.Outline]; role.Outline += "Line" {
		}
	}
	return role
}

// Shortfalls are what one TextStyle cannot say.
func (s *site) Shortfalls(job target.Job) []target.Shortfall {
	return target.Shortfalls(job, map[string]string{
		target.PartOutline:  "a TextStyle fills letters or draws their outline; lay a Text in the style of the name with Outline under one in the role's",
		target.PartFallback: "Android, Linux and the web know the generic names; elsewhere Flutter's own font shows",
		target.PartFixed:    "whether text follows the reader's size is up to the widget: Text(…, textScaler: TextScaler.noScaling)",
	})
}

// Held lists the fonts that the pubspec declares.
func (s *site) Held() ([]target.Held, error) {
	var out []target.Held
	for _, a := range s.declared {
		h := target.Held{Manifest: path.Join(s.dir, "pubspec.yaml"), Line: a.Line, Value: a.Family + ": " + a.Path}
		if !strings.HasPrefix(a.Path, "packages/") {
			h.File = path.Join(s.dir, a.Path)
		}
		out = append(out, h)
	}
	return out, nil
}

// slots are the styles of Material's TextTheme; a role of that name, or of the
// first word of a group, takes its place there.
var slots = []string{"displayLarge", "displayMedium", "displaySmall", "headlineLarge", "headlineMedium", "headlineSmall",
	"titleLarge", "titleMedium", "titleSmall", "bodyLarge", "bodyMedium", "bodySmall", "labelLarge", "labelMedium", "labelSmall"}

func slot(role string) string {
	name := target.Camel(target.Words(role))
	if name == "heading" {
		name = "headline"
	}
	for _, s := range slots {
		if s == name || s == name+"Medium" {
			return s
		}
	}
	return ""
}

// reserved are Dart's reserved words and built-in identifiers that cannot name a
// static member, and what every object has.
var reserved = func() map[string]bool {
	m := map[string]bool{}
	for _, w := range strings.Fields(`abstract as assert async await break case catch class const continue covariant default deferred do dynamic else enum
		export extends extension external factory false final finally for Function get hide if implements import in interface is late library mixin new null
		of on operator part required rethrow return sealed set show static super switch sync this throw true try type typedef var void when while with yield
		hashCode runtimeType toString noSuchMethod textTheme`) {
		m[w] = true
	}
	return m
}()

func member(name, kind string) string {
	switch {
	case name == "" || name[0] >= '0' && name[0] <= '9':
		return kind + name
	case reserved[name]:
		return name + "Type"
	}
	return name
}

// literal writes a Dart string literal.
func literal(s string) string { return target.Quoted(s, '\'', "$", target.Braced) }
