// Package reactnative serves bare React Native apps. Their iOS part is an Apple
// site like any other; this target adds what Android wants, files in
// assets/fonts, and the code that both share. On Android a face answers to its
// file's name without ending, on iOS to its PostScript name: files placed under
// their PostScript names make one string serve both.
package reactnative

import (
	"bytes"
	_ "embed"
	"fmt"
	"path"
	"strings"
	"text/template"

	"notaria/internal/edit"
	"notaria/internal/face"
	"notaria/internal/target"
)

// Target is the React Native platform.
type Target struct{}

// About describes the platform.
func (Target) About() target.About {
	return target.About{
		Name: "react-native", Title: "React Native", Typed: "fontFamily: '…'",
		Minimum: "React Native 0.60 without Expo; React 18",
		Cannot:  []string{"families by fontWeight on Android (each face has its own name instead)", "Expo (a target of its own)"},
	}
}

// Type gives the PostScript name, which is the placed file's name as well; where
// no file can have it, both.
func (Target) Type(faces []face.Face) []string {
	out := make([]string, len(faces))
	for i, f := range faces {
		if out[i] = f.ID(); target.FileBase(f.ID()) != f.ID() {
			out[i] = target.FileBase(f.ID()) + " on Android, " + f.ID() + " on iOS"
		}
	}
	return out
}

type site struct {
	dir    string // of package.json
	code   string // folder for the generated file
	script bool   // plain JavaScript
}

// assets is where Android's text engine of React Native looks.
const assets = "android/app/src/main/assets/fonts"

// Sites finds the packages that depend on react-native and have both native
// parts in their tree.
func (Target) Sites(tree target.Tree) ([]target.Site, error) {
	var out []target.Site
	for _, file := range tree.Named("package.json") {
		dir := path.Dir(file)
		if dir == "." {
			dir = ""
		}
		if !target.UsesReactNative(tree, dir) || len(tree.Under(path.Join(dir, "android/app"))) == 0 {
			continue
		}
		s := codeSite(tree, dir)
		out = append(out, &s)
	}
	return out, nil
}

// codeSite finds where a package keeps its code, and in which language.
func codeSite(tree target.Tree, dir string) site {
	s := site{dir: dir, code: dir, script: true}
	if len(tree.Under(path.Join(dir, "src"))) > 0 {
		s.code = path.Join(dir, "src")
	}
	for _, f := range tree.Named("tsconfig.json") {
		if f == path.Join(dir, "tsconfig.json") {
			s.script = false
		}
	}
	return s
}

func (s *site) Path() string {
	if s.dir == "" {
		return "."
	}
	return s.dir
}

func (s *site) Title() string { return "React Native " + s.Path() }

func (s *site) Next() string {
	return "build both apps again (run-android, run-ios): a restart of the bundler alone shows nothing"
}

// Entries are none: on Android a file is there by lying there, and iOS is an
// Apple site.
func (s *site) Entries(target.Job) ([]edit.Entry, error) { return nil, nil }

// Files wants each face as an asset of the Android part.
func (s *site) Files(job target.Job) ([]target.File, error) { return s.place(job, assets, s.Title()) }

// place wants each face under the name that code types; a PostScript name that no
// file can have gets another, and the code tells the platforms apart.
func (s *site) place(job target.Job, folder, title string) ([]target.File, error) {
	var out []target.File
	for _, f := range job.Faces {
		if f.PostScript == "" {
			return nil, &target.SiteError{Site: title, Expected: "a PostScript name in each face", Found: fmt.Sprintf("none in %q", face.Short(f.Full)), Cure: "strike that face, and enrol it again with --mend-names"}
		}
		out = append(out, target.File{Path: path.Join(s.dir, folder, target.FileBase(f.ID())+f.Ext), Copy: f.ID()})
	}
	return out, nil
}

//go:embed AppType.tsx.tmpl
var typescriptText string

var typescriptTemplate = template.Must(template.New("AppType.tsx").Parse(typescriptText))

type faceLine struct{ Member, Literal, Android string }

type roleLine struct {
	Name, Plain, Face, Size, About string
}

// Code wants AppType.tsx, or AppType.js in a project without TypeScript.
func (s *site) Code(job target.Job) ([]target.File, error) {
	if len(job.Roles) == 0 {
		return nil, nil
	}
	data := struct {
		Script     bool
		Select     bool // some names differ between the platforms
		Faces      []faceLine
		Roles      []roleLine
		FixedRoles []string
	}{Script: s.script}
	var names []string
	for _, f := range job.Faces {
		names = append(names, target.Camel(target.Words(f.ID())))
	}
	members := map[string]string{}
	for i, n := range target.Unique(names) {
		if n == "" || n[0] >= '0' && n[0] <= '9' {
			n = "face" + n
		}
		f := job.Faces[i]
		members[f.ID()] = n
		line := faceLine{Member: n, Literal: literal(f.ID())}
		if base := target.FileBase(f.ID()); base != f.ID() {
			line.Android, data.Select = literal(base), true
		}
		data.Faces = append(data.Faces, line)
	}
	for _, r := range job.Roles {
		data.Roles = append(data.Roles, roleLine{
			Name: key(r.Name), Plain: r.Name, Face: members[r.Face.ID()], Size: target.Number(r.Size),
			About: target.Comment(r.Face.Family + " " + r.Face.Style),
		})
		if !r.Scale {
			data.FixedRoles = append(data.FixedRoles, literal(r.Name))
		}
	}
	var b bytes.Buffer
	err := typescriptTemplate.Execute(&b, data)
	name := "AppType.tsx"
	if s.script {
		name = "AppType.js"
	}
	return []target.File{{Path: path.Join(s.code, name), Content: b.Bytes()}}, err
}

// key writes a property's name, in quotes only where it needs them.
func key(s string) string {
	if strings.Contains(s, "-") {
		return literal(s)
	}
	return s
}

// literal writes a JavaScript string in single quotes.
func literal(s string) string { return target.Quoted(s, '\'', "", target.Braced) }
