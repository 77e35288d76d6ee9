package reactnative

import (
	"bytes"
	"embed"
	"path"
	"strings"
	"text/template"

	"notaria/internal/face"
	"notaria/internal/target"
)

//go:embed *.tmpl
var texts embed.FS

var templates = template.Must(template.ParseFS(texts, "*.tmpl"))

// faceLine is a face as code names it; Android is its name there, if it differs.
type faceLine struct{ Member, Literal, Android, File string }

// roleLine is a role as code says it; what is "" is not said.
type roleLine struct {
	Name, Plain, Face, Size, About string
	Family, Weight                 string // instead of a face
	Line, Letter, Colour           string
	Italic                         bool
}

// code is what the templates show.
type code struct {
	Script     bool // plain JavaScript
	Select     bool // some names differ between the platforms
	Families   bool // roles name a family and a weight
	Faces      []faceLine
	Roles      []roleLine
	FixedRoles []string
}

// newCode puts a job into the words of the templates. at gives each face's file
// on Android; it is nil where Android does not go by the file's name.
func newCode(job target.Job, script, families bool, at func(target.Face) string) code {
	data := code{Script: script, Families: families}
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
		if at != nil {
			if base := strings.TrimSuffix(path.Base(at(f)), path.Ext(at(f))); base != f.ID() {
				line.Android, data.Select = literal(base), true
			}
		}
		data.Faces = append(data.Faces, line)
	}
	for _, r := range job.Roles {
		role := roleLine{Name: key(r.Name), Plain: r.Name, Face: members[r.Face.ID()], Size: target.Number(r.Size), About: target.Comment(r.About("points"))}
		if families {
			role.Family, role.Weight, role.Italic = literal(r.Face.Family), literal(target.Number(float64(weight(r.Face.Weight)))), r.Face.Slant != face.Upright
		}
		if r.LineHeight > 0 {
			role.Line = target.Number(r.LineHeight)
		}
		if r.Tracking != 0 {
			role.Letter = target.Number(r.Letter())
		}
		if r.Colour != nil {
			role.Colour = literal(r.Colour.Hash())
		}
		data.Roles = append(data.Roles, role)
		if !r.Scale {
			data.FixedRoles = append(data.FixedRoles, literal(r.Name))
		}
	}
	return data
}

// weight is the nearest that a style can ask for: hundreds from 100 to 900.
func weight(w int) int { return min(max((w+50)/100*100, 100), 900) }

// typeFile wants AppType.tsx, or AppType.js in a project without TypeScript. at is
// as for newCode.
func (s *site) typeFile(job target.Job, families bool, at func(target.Face) string) ([]target.File, error) {
	if len(job.Roles) == 0 {
		return nil, nil
	}
	text, err := render("AppType.tsx.tmpl", newCode(job, s.script, families, at))
	return []target.File{{Path: path.Join(s.code, s.named("AppType")), Content: text}}, err
}

// named gives a file of ours the ending of the project's language.
func (s *site) named(base string) string {
	if s.script {
		return base + ".js"
	}
	return base + ".tsx"
}

func render(name string, data code) ([]byte, error) {
	var b bytes.Buffer
	err := templates.ExecuteTemplate(&b, name, data)
	return b.Bytes(), err
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
