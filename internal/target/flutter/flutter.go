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
		Cannot:  []string{"text that does not follow the reader's size (that is up to the widget)", "fonts of one package used from another"},
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
	dir string // of the package
}

// The package depends on Flutter's own SDK: that, and not a fonts block, makes it
// an app or a package of widgets.
var dependsOnSDK = regexp.MustCompile(`(?m)^\s+sdk:\s*["']?flutter["']?\s*(?:#.*)?$`)

// Sites finds the packages that depend on Flutter.
func (Target) Sites(tree target.Tree) ([]target.Site, error) {
	var out []target.Site
	for _, file := range tree.Named("pubspec.yaml") {
		doc, err := tree.Read(file)
		if err != nil {
			return nil, err
		}
		if !dependsOnSDK.Match(doc) {
			continue
		}
		dir := path.Dir(file)
		if dir == "." {
			dir = ""
		}
		out = append(out, &site{dir})
	}
	return out, nil
}

func (s *site) Path() string {
	if s.dir == "" {
		return "."
	}
	return s.dir
}

func (s *site) Title() string { return "Flutter " + s.Path() }

func (s *site) Next() string {
	return "stop the app and start it again: neither hot reload nor hot restart takes in a changed pubspec"
}

func asset(f target.Face) string { return path.Join("fonts", target.FileBase(f.ID())+f.Ext) }

// Files wants each face in fonts/.
func (s *site) Files(job target.Job) ([]target.File, error) {
	var out []target.File
	for _, f := range job.Faces {
		out = append(out, target.File{Path: path.Join(s.dir, asset(f)), Copy: f.ID()})
	}
	return out, nil
}

// Entries wants each file under its family, with weight and slant where they are
// not the usual ones.
func (s *site) Entries(job target.Job) ([]edit.Entry, error) {
	var out []edit.Entry
	for _, f := range job.Faces {
		e := edit.Entry{File: path.Join(s.dir, "pubspec.yaml"), Syntax: edit.SyntaxPubspec, Place: "family:" + family(f), Value: asset(f)}
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

// family is what the face is declared under; a nameless family goes by the face.
func family(f target.Face) string {
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

type dartRole struct {
	Member, Family, Size, About, Slot string
	Weight                            int
	Italic                            bool
}

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
	for _, f := range job.Faces {
		if !slices.Contains(families, family(f)) {
			families = append(families, family(f))
			names = append(names, target.Camel(target.Words(family(f))))
		}
	}
	members := map[string]string{}
	for i, n := range target.Unique(names) {
		members[families[i]] = member(n, "family") + "Family"
		data.Families = append(data.Families, dartFamily{members[families[i]], literal(families[i])})
	}
	for _, r := range job.Roles {
		role := dartRole{
			Member: member(target.Camel(target.Words(r.Name)), "role"), Family: members[family(r.Face)], Size: target.Number(r.Size),
			Weight: weight(r.Face.Weight), Italic: r.Face.Slant != face.Upright, Slot: slot(r.Name),
			About: target.Comment(r.Face.Family + " " + r.Face.Style),
		}
		data.Roles = append(data.Roles, role)
		if role.Slot != "" {
			data.Slots = append(data.Slots, role)
		}
	}
	var b bytes.Buffer
	err := dartTemplate.Execute(&b, data)
	return []target.File{{Path: path.Join(s.dir, "lib", codeFile), Content: b.Bytes()}}, err
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
