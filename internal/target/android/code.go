package android

import (
	"bytes"
	"embed"
	"path"
	"strings"
	"text/template"

	"notaria/internal/face"
	"notaria/internal/target"
)

// codeFile is the generated Kotlin file, beside the app's own in its namespace.
const codeFile = "AppType.kt"

// stylesFile holds a text appearance for each role.
const stylesFile = "src/main/res/values/app_type.xml"

//go:embed *.tmpl
var texts embed.FS

var templates = template.Must(template.ParseFS(texts, "*.tmpl"))

// familyAPI is the first API level that reads font families with the
// platform's own attributes; below it androidx.core reads the app: ones.
const familyAPI = 26

type fontLine struct {
	Name, Style string
	Weight      int
}

type kotlinRole struct {
	Name, Member, Resource, Size, About, Style string
	Scale, Last                                bool
}

// Code wants the family files, the styles and, in Kotlin modules, AppType.kt.
func (s *site) Code(job target.Job) ([]target.File, error) {
	list := faces(job)
	names := resourceNames(list)
	var out []target.File
	add := func(name, tmpl string, data any) error {
		var b bytes.Buffer
		err := templates.ExecuteTemplate(&b, tmpl, data)
		out = append(out, target.File{Path: name, Content: b.Bytes()})
		return err
	}
	for _, f := range families(list) {
		data := struct {
			Title string
			Both  bool
			Fonts []fontLine
		}{target.Comment(xmlComment(f.title)), s.minimum < familyAPI, nil}
		for _, i := range f.members {
			data.Fonts = append(data.Fonts, fontLine{names[i], slant(list[i]), list[i].Weight})
		}
		if err := add(path.Join(s.module, "src/main/res/font", f.name+".xml"), "family.xml.tmpl", data); err != nil {
			return nil, err
		}
	}
	if len(job.Roles) == 0 {
		return out, nil
	}
	data := struct {
		Package string
		Roles   []kotlinRole
	}{kotlinPackage(s.namespace), roles(job, names)}
	if err := add(path.Join(s.module, stylesFile), "app_type.xml.tmpl", data); err != nil {
		return nil, err
	}
	if s.kotlin != "" {
		at := path.Join(s.kotlin, strings.ReplaceAll(s.namespace, ".", "/"), codeFile)
		if err := add(at, "AppType.kt.tmpl", data); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// xmlComment keeps two hyphens, which end a comment's text, apart.
func xmlComment(s string) string {
	s = strings.NewReplacer("<", "(", ">", ")", "&", "+").Replace(s)
	for strings.Contains(s, "--") {
		s = strings.ReplaceAll(s, "--", "- -")
	}
	return strings.TrimSuffix(s, "-")
}

func slant(f face.Face) string {
	if f.Slant == face.Upright {
		return "normal"
	}
	return "italic"
}

func roles(job target.Job, names []string) []kotlinRole {
	resource := map[string]string{}
	for i, f := range job.Faces {
		resource[f.ID()] = names[i]
	}
	var out []kotlinRole
	for _, r := range job.Roles {
		words := target.Words(r.Name)
		out = append(out, kotlinRole{
			Name: r.Name, Member: strings.ToUpper(target.Snake(words)), Style: target.Pascal(words),
			Resource: resource[r.Face.ID()], Size: target.Number(r.Size), Scale: r.Scale,
			About: target.Comment(xmlComment(r.Face.Family + " " + r.Face.Style)),
		})
	}
	if n := len(out); n > 0 {
		out[n-1].Last = true
	}
	return out
}

// kotlinPackage puts segments that are Kotlin's hard keywords into backquotes.
func kotlinPackage(name string) string {
	hard := " as break class continue do else false for fun if in interface is null object package return super this throw true try typealias typeof val var when while "
	parts := strings.Split(name, ".")
	for i, p := range parts {
		if strings.Contains(hard, " "+p+" ") {
			parts[i] = "`" + p + "`"
		}
	}
	return strings.Join(parts, ".")
}
