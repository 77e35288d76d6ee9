package reactnative

import (
	"embed"
	"path"
	"strings"
	"text/template"

	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

//go:embed *.tmpl
var texts embed.FS

var templates = lazy.Of(func() *template.Template { return template.Must(template.ParseFS(texts, "*.tmpl")) })

// faceLine is a face as code names it; Android is its name there, if it differs.
type faceLine struct{ Member, Literal, Android, File string }

// roleLine is a role as code writes it; empty fields are omitted.
type roleLine struct {
	platform.RoleText
	Key, Face, About string
	FamilyName, Bold string // instead of a face
	Hash, ShadowHash string
	Leans            bool
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
func newCode(job platform.Job, script, families bool, at func(platform.Face) string) code {
	data := code{Script: script, Families: families}
	var names []string
	for _, f := range job.Faces {
		names = append(names, language.Camel(language.Words(f.ID())))
	}
	members := map[string]string{}
	for i, n := range language.Unique(names) {
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
		role := roleLine{RoleText: r.Text(), Key: key(r.Name), Face: members[r.Face.ID()], About: language.TypeScript.Comment(r.About("points"))}
		if families {
			role.FamilyName, role.Bold, role.Leans = literal(r.Face.Family), literal(language.Number(float64(role.Weight))), role.Italic
		}
		if r.Colour != nil {
			role.Hash = literal(r.Colour.Hash())
		}
		if r.Shadow != nil {
			role.ShadowHash = literal(r.Shadow.Colour.Hash())
		}
		data.Roles = append(data.Roles, role)
		if !r.Scale {
			data.FixedRoles = append(data.FixedRoles, literal(r.Name))
		}
	}
	return data
}

// typeFile is AppType.tsx, or AppType.js in a project without TypeScript. at is
// as for newCode.
func (s *site) typeFile(job platform.Job, families bool, at func(platform.Face) string) ([]platform.File, error) {
	if len(job.Roles) == 0 {
		return nil, nil
	}
	text, err := platform.Render(templates, "AppType.tsx.tmpl", newCode(job, s.script, families, at))
	return []platform.File{platform.Code(path.Join(s.code, s.named("AppType")), text)}, err
}

// named returns a file of ours the ending of the project's language.
func (s *site) named(base string) string {
	if s.script {
		return base + ".js"
	}
	return base + ".tsx"
}

var useWords = []string{"AppText", "AppType"}

// shows are the component and the style.
func shows(job platform.Job) func(string) []platform.Showing {
	return func(role string) []platform.Showing {
		var index []string
		for _, r := range job.Roles {
			at := "." + r.Name
			if key(r.Name) != r.Name {
				at = "[" + key(r.Name) + "]"
			}
			index = append(index, at)
		}
		return platform.Ways(job.Roles, role, map[string][]string{"index": index}, platform.Way("JSX", `<AppText use="{role}">07:40</AppText>`), platform.Way("styles", `<Text style={roles{index}}>07:40</Text>`))
	}
}

// key writes a property's name, in quotes only where it needs them.
func key(s string) string {
	if strings.Contains(s, "-") {
		return literal(s)
	}
	return s
}

func literal(s string) string { return language.TypeScript.Literal(s) }
