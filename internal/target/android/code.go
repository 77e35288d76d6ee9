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
const stylesFile = "app_type.xml"

//go:embed *.tmpl
var texts embed.FS

var templates = template.Must(template.ParseFS(texts, "*.tmpl"))

// familyAPI is the first API level that reads font families with the
// platform's own attributes; below it androidx.core reads the app: ones.
const familyAPI = 26

// trackingAPI is the first that has letter spacing.
const trackingAPI = 21

type fontLine struct {
	Name, Style, FontWeight string
	Weight                  int
	Index                   int // in a collection, -1 for none
	Italic, Last            bool
}

// kotlinRole is a role as code and resources say it; what is "" is not said.
type kotlinRole struct {
	Name, Member, Value, Resource, Size, About, Style, Family, FontWeight string
	Tracking, Line, Colour, Fallback                                      string
	Weight                                                                int
	Scale, Italic, Last                                                   bool
}

// Unit is that of the role's lengths.
func (r kotlinRole) Unit() string {
	if r.Scale {
		return "sp"
	}
	return "dp"
}

// kotlinFamily is a family as Compose builds it.
type kotlinFamily struct {
	Member string
	Fonts  []fontLine
}

// code is what the templates show.
type code struct {
	Package                           string
	Roles                             []kotlinRole
	Families                          []kotlinFamily
	Italic, Assets, Packed            bool
	Tracks, Lines, Colours, Fallbacks bool // some role has one
	OldTracks                         bool // and devices that cannot are served
	Imports                           []string
}

func newCode(namespace string, job target.Job, names []string) code {
	data := code{Package: namespace, Roles: roles(job, names)}
	for _, f := range job.Faces {
		data.Italic = data.Italic || f.Slant != face.Upright
	}
	for _, r := range data.Roles {
		data.Tracks = data.Tracks || r.Tracking != ""
		data.Lines = data.Lines || r.Line != ""
		data.Colours = data.Colours || r.Colour != ""
		data.Fallbacks = data.Fallbacks || r.Fallback != ""
	}
	return data
}

// Code wants the family files, the styles and an accessor: AppType.kt or
// AppType.java, and AppTextStyles.kt where the module uses Compose.
func (s *site) Code(job target.Job) ([]target.File, error) {
	names, _ := s.places(job)
	var out []target.File
	add := func(name, tmpl string, data any) error {
		text, err := render(tmpl, data)
		out = append(out, target.File{Path: name, Content: text})
		return err
	}
	data := newCode(kotlinPackage(s.namespace), job, names)
	data.Assets, data.Packed = s.asAssets, s.packed
	data.OldTracks = s.minimum > 0 && s.minimum < trackingAPI
	if !s.asAssets {
		list := faces(job)
		for _, f := range s.families(list) {
			lines := fontLines(f, list, names)
			for k := range lines {
				if s.packed {
					lines[k].Name, lines[k].Index = f.collection(), k
				}
			}
			text, err := familyFile(f, s.minimum, lines)
			if err != nil {
				return nil, err
			}
			out = append(out, target.File{Path: path.Join(s.res, "font", f.name+".xml"), Content: text})
			data.Families = append(data.Families, kotlinFamily{value(f.plain) + "Family", lines})
		}
	}
	if len(job.Roles) == 0 {
		return out, nil
	}
	if !s.asAssets {
		if err := add(path.Join(s.res, "values", stylesFile), "app_type.xml.tmpl", data); err != nil {
			return nil, err
		}
	}
	folder := strings.ReplaceAll(s.namespace, ".", "/")
	if s.kotlin == "" {
		data.Package = s.namespace // Java has no quoting of its keywords, and no package can hold one
		return out, add(path.Join(s.java, folder, javaFile), "AppType.java.tmpl", data)
	}
	if err := add(path.Join(s.kotlin, folder, codeFile), "AppType.kt.tmpl", data); err != nil || !s.compose || s.asAssets {
		return out, err
	}
	return out, add(path.Join(s.kotlin, folder, composeFile), "AppTextStyles.kt.tmpl", data)
}

// families are those of the job; one whose name a font file of somebody's has
// gets another, for both would be one resource.
func (s *site) families(list []face.Face) []family {
	out := families(list)
	for i, f := range out {
		for _, other := range s.tree.Under(path.Join(s.res, "font")) {
			if base := path.Base(other); target.IsFont(base) && strings.TrimSuffix(base, path.Ext(base)) == f.name {
				out[i].name = f.name + "_family"
			}
		}
	}
	return out
}

func render(tmpl string, data any) ([]byte, error) {
	var b bytes.Buffer
	err := templates.ExecuteTemplate(&b, tmpl, data)
	return b.Bytes(), err
}

// fontLines are a family's faces, for XML and for Compose.
func fontLines(f family, list []face.Face, names []string) []fontLine {
	var out []fontLine
	for k, i := range f.members {
		out = append(out, fontLine{Name: names[i], Style: slant(list[i]), Weight: list[i].Weight, Index: -1, FontWeight: fontWeight(list[i].Weight),
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
		k := kotlinRole{
			Name: r.Name, Member: strings.ToUpper(target.Snake(words)), Style: target.Pascal(words),
			Resource: resource[r.Face.ID()], Size: target.Number(r.Size), Scale: r.Scale, Value: value(target.Snake(words)),
			Family: family[r.Face.Family], FontWeight: fontWeight(r.Face.Weight), Italic: r.Face.Slant != face.Upright, Weight: r.Face.Weight,
			Fallback: generic[r.Fallback],
		}
		k.About = target.Comment(xmlComment(r.About(k.Unit())))
		if r.Tracking != 0 {
			k.Tracking = target.Number(r.Tracking / 1000)
		}
		if r.LineHeight > 0 {
			k.Line = target.Number(r.LineHeight)
		}
		if r.Colour != nil {
			k.Colour = r.Colour.ARGB()
		}
		out = append(out, k)
	}
	if n := len(out); n > 0 {
		out[n-1].Last = true
	}
	return out
}

// generic are the device's own fonts by a role's fallback.
var generic = map[string]string{"sans": "SANS_SERIF", "serif": "SERIF", "mono": "MONOSPACE"}

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

// Families gives what another platform needs to keep its fonts as resources below
// a folder: each face's path, and a family file for each typographic family, with
// the names of their resources.
func Families(res string, minimum int, job target.Job) (faceFiles, familyFiles []target.File, resources map[string]string, err error) {
	list := faces(job)
	names := resourceNames(list)
	resources = map[string]string{}
	for i, f := range job.Faces {
		faceFiles = append(faceFiles, target.File{Path: path.Join(res, "font", names[i]+f.Ext), Copy: f.ID()})
	}
	for _, f := range families(list) {
		text, err := familyFile(f, minimum, fontLines(f, list, names))
		if err != nil {
			return nil, nil, nil, err
		}
		resources[f.title] = f.name
		familyFiles = append(familyFiles, target.File{Path: path.Join(res, "font", f.name+".xml"), Content: text})
	}
	return faceFiles, familyFiles, resources, nil
}

// familyFile writes a family's XML.
func familyFile(f family, minimum int, lines []fontLine) ([]byte, error) {
	return render("family.xml.tmpl", struct {
		Title string
		Both  bool
		Fonts []fontLine
	}{target.Comment(xmlComment(f.title)), minimum < familyAPI, lines})
}
