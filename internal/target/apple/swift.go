package apple

import (
	"bytes"
	_ "embed"
	"text/template"

	"notaria/internal/target"
)

//go:embed AppType.swift.tmpl
var swiftText string

var swiftTemplate = template.Must(template.New("AppType.swift").Parse(swiftText))

// reserved are Swift's reserved words that cannot name a member without
// backquotes ("The Swift Programming Language", Lexical Structure), and the
// names that the generated type itself uses.
var reserved = words("Any as associatedtype break case catch class continue default defer deinit do else enum extension " +
	"fallthrough false fileprivate for func guard if import in init inout internal is let nil open operator private " +
	"precedencegroup protocol public repeat rethrows return self Self static struct subscript super switch throw throws " +
	"true try typealias var where while Type Protocol")

// taken are the generated type's own members.
var taken = words("font uiFont isThere report role face size scales allCases rawValue hash hashValue Face Role UI description")

func words(s string) map[string]bool {
	m := map[string]bool{}
	for _, w := range bytes.Fields([]byte(s)) {
		m[string(w)] = true
	}
	return m
}

// member makes a name a legal Swift member.
func member(name, kind string) string {
	if name == "" || name[0] >= '0' && name[0] <= '9' {
		name = kind + name
	}
	switch {
	case taken[name]:
		return name + "Type"
	case reserved[name]:
		return "`" + name + "`"
	}
	return name
}

type swiftFace struct{ Member, Literal string }

type swiftRole struct {
	Member, Face, Size, Style, UIStyle, About string
	Scale                                     bool
}

// swift writes AppType.swift.
func swift(job target.Job) ([]byte, error) {
	names := make([]string, len(job.Faces))
	for i, f := range job.Faces {
		names[i] = target.Camel(target.Words(f.ID()))
	}
	names = target.Unique(names)
	var data struct {
		Faces []swiftFace
		Roles []swiftRole
	}
	members := map[string]string{}
	for i, f := range job.Faces {
		m := member(names[i], "face")
		members[f.ID()] = m
		data.Faces = append(data.Faces, swiftFace{m, literal(f.PostScript)})
	}
	for _, r := range job.Roles {
		style, ui := textStyle(r.Size)
		data.Roles = append(data.Roles, swiftRole{
			Member: member(target.Camel(target.Words(r.Name)), "role"), Face: members[r.Face.ID()], Size: target.Number(r.Size),
			Style: style, UIStyle: ui, Scale: r.Scale,
			About: target.Comment(r.Face.Family + " " + r.Face.Style + ", " + target.Number(r.Size) + " pt"),
		})
	}
	var b bytes.Buffer
	err := swiftTemplate.Execute(&b, data)
	return b.Bytes(), err
}
