package android

import (
	"bytes"
	"embed"
	"fmt"
	"path"
	"strings"
	"text/template"

	"notaria/internal/face"
	"notaria/internal/target"
)

// codeFile is the generated Kotlin file, beside the app's own in its namespace.
const codeFile = "AppType.kt"

// Its counterparts: in Java, where a module has no Kotlin, and for Compose.
const (
	javaFile    = "AppType.java"
	composeFile = "AppTextStyles.kt"
)

// stylesFile holds a text appearance for each role.
const stylesFile = "src/main/res/values/app_type.xml"

//go:embed *.tmpl
var texts embed.FS

var templates = template.Must(template.ParseFS(texts, "*.tmpl"))

// familyAPI is the first API level that reads font families with the
// platform's own attributes; below it androidx.core reads the app: ones.
const familyAPI = 26

type fontLine struct {
	Name, Style, FontWeight string
	Weight                  int
	Italic, Last            bool
}

type kotlinRole struct {
	Name, Member, Value, Resource, Size, About, Style, Family, FontWeight string
	Scale, Italic, Last                                                   bool
}

// kotlinFamily is a family as Compose builds it.
type kotlinFamily struct {
	Member string
	Fonts  []fontLine
}

// Code wants the family files, the styles and an accessor: AppType.kt or
// AppType.java, and AppTextStyles.kt where the module uses Compose.
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
	var kotlin []kotlinFamily
	for _, f := range families(list) {
		data := struct {
			Title string
			Both  bool
			Fonts []fontLine
		}{target.Comment(xmlComment(f.title)), s.minimum < familyAPI, fontLines(f, list, names)}
		if err := add(path.Join(s.module, "src/main/res/font", f.name+".xml"), "family.xml.tmpl", data); err != nil {
			return nil, err
		}
		kotlin = append(kotlin, kotlinFamily{value(f.name) + "Family", data.Fonts})
	}
	if len(job.Roles) == 0 {
		return out, nil
	}
	data := struct {
		Package  string
		Roles    []kotlinRole
		Families []kotlinFamily
		Italic   bool
	}{kotlinPackage(s.namespace), roles(job, names), kotlin, false}
	for _, f := range list {
		data.Italic = data.Italic || f.Slant != face.Upright
	}
	if err := add(path.Join(s.module, stylesFile), "app_type.xml.tmpl", data); err != nil {
		return nil, err
	}
	folder := strings.ReplaceAll(s.namespace, ".", "/")
	switch {
	case s.kotlin != "":
		if err := add(path.Join(s.kotlin, folder, codeFile), "AppType.kt.tmpl", data); err != nil {
			return nil, err
		}
		if s.compose {
			return out, add(path.Join(s.kotlin, folder, composeFile), "AppTextStyles.kt.tmpl", data)
		}
	default:
		data.Package = s.namespace // Java has no quoting of its keywords, and no package can hold one
		return out, add(path.Join(s.module, "src/main/java", folder, javaFile), "AppType.java.tmpl", data)
	}
	return out, nil
}

// fontLines are a family's faces, for XML and for Compose.
func fontLines(f family, list []face.Face, names []string) []fontLine {
	var out []fontLine
	for k, i := range f.members {
		out = append(out, fontLine{Name: names[i], Style: slant(list[i]), Weight: list[i].Weight, FontWeight: fontWeight(list[i].Weight),
			Italic: list[i].Slant != face.Upright, Last: k == len(f.members)-1})
	}
	return out
}

// fontWeight writes a Compose weight: a constant where there is one.
func fontWeight(w int) string {
	if w%100 == 0 && w >= 100 && w <= 900 {
		return fmt.Sprintf("FontWeight.W%d", w)
	}
	return fmt.Sprintf("FontWeight(%d)", w)
}

// value makes a resource name a Kotlin property that is no keyword.
func value(resource string) string {
	name := target.Camel(strings.Split(strings.Trim(resource, "_"), "_"))
	if keywords[name] {
		return name + "Type"
	}
	return name
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
	family := map[string]string{}
	for _, f := range families(faces(job)) {
		family[f.title] = value(f.name) + "Family"
	}
	var out []kotlinRole
	for _, r := range job.Roles {
		words := target.Words(r.Name)
		out = append(out, kotlinRole{
			Name: r.Name, Member: strings.ToUpper(target.Snake(words)), Style: target.Pascal(words),
			Resource: resource[r.Face.ID()], Size: target.Number(r.Size), Scale: r.Scale, Value: value(target.Snake(words)),
			Family: family[r.Face.Family], FontWeight: fontWeight(r.Face.Weight), Italic: r.Face.Slant != face.Upright,
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
