package android

import (
	"embed"
	"fmt"
	"path"
	"strings"
	"text/template"

	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
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

var templates = lazy.Of(func() *template.Template { return template.Must(template.ParseFS(texts, "*.tmpl")) })

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

// kotlinRole is a role as code and resources write it; empty fields are omitted. Weight
// is the face's own.
type kotlinRole struct {
	platform.RoleText
	Member, Value, Resource, Style, Family, FontWeight, Fallback string
	Weight                                                       int
	Last                                                         bool
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
	Package                                    string
	Roles                                      []kotlinRole
	Families                                   []kotlinFamily
	Italic, Assets, Packed                     bool
	Tracks, Lines, Colours, Fallbacks, Shadows bool   // some role has one
	OldTracks                                  bool   // and devices that cannot are served
	OldFonts                                   bool   // nothing but the platform loads fonts, also on devices that cannot
	Compat                                     string // package of ResourcesCompat, "" for none
	AndroidX                                   bool
	Imports                                    []string
}

func newCode(namespace string, job platform.Job, names []string) code {
	data := code{Package: namespace, Roles: roles(job, names)}
	for _, f := range job.Faces {
		data.Italic = data.Italic || f.Slant != face.Upright
	}
	for _, r := range data.Roles {
		data.Tracks = data.Tracks || r.LetterByEm != ""
		data.Lines = data.Lines || r.LineHeight != ""
		data.Colours = data.Colours || r.Colour != nil
		data.Fallbacks = data.Fallbacks || r.Fallback != ""
		data.Shadows = data.Shadows || r.Shadow != nil
	}
	return data
}

// code is the family files, the styles and an accessor: AppType.kt or AppType.java, and
// AppTextStyles.kt where the module uses Compose.
func (l *layout) code() ([]platform.File, error) {
	var out []platform.File
	add := func(name, tmpl string, data any) error {
		text, err := platform.Render(templates, tmpl, data)
		out = append(out, platform.Code(name, text))
		return err
	}
	data := newCode(kotlinPackage(l.namespace), l.job, l.names)
	data.Assets, data.Packed = l.asAssets, l.packed
	data.OldTracks = l.minimum > 0 && l.minimum < trackingAPI
	if data.AndroidX = l.library == androidX; !l.asAssets && l.library != noneOf {
		data.Compat = string(l.library) + ".core.content.res"
		if l.library == support {
			data.Compat = string(support) + ".content.res"
		}
	}
	data.OldFonts = !l.asAssets && l.library == noneOf && l.minimum < familyAPI
	if !l.asAssets {
		for _, f := range l.families {
			lines := fontLines(f, l.job.Typed(), l.names)
			for k := range lines {
				if l.packed {
					lines[k].Name, lines[k].Index = f.collection(), k
				}
			}
			text, err := familyFile(f, l.minimum < familyAPI && l.library != noneOf, lines)
			if err != nil {
				return nil, err
			}
			out = append(out, platform.Code(path.Join(l.res, "font", f.name+".xml"), text))
			data.Families = append(data.Families, kotlinFamily{value(f.plain) + "Family", lines})
		}
	}
	if len(l.job.Roles) == 0 {
		return out, nil
	}
	if !l.asAssets {
		if err := add(path.Join(l.res, "values", stylesFile), "app_type.xml.tmpl", data); err != nil {
			return nil, err
		}
	}
	folder := strings.ReplaceAll(l.namespace, ".", "/")
	if l.kotlin == "" {
		data.Package = l.namespace // Java has no quoting of its keywords, and no package can hold one
		return out, add(path.Join(l.java, folder, javaFile), "AppType.java.tmpl", data)
	}
	if err := add(path.Join(l.kotlin, folder, codeFile), "AppType.kt.tmpl", data); err != nil || !l.compose || l.asAssets {
		return out, err
	}
	return out, add(path.Join(l.kotlin, folder, composeFile), "AppTextStyles.kt.tmpl", data)
}

// familiesBeside are the families of faces. A family gets another name where a file in
// the folder that Notaria did not write has its name: both would be one resource.
func familiesBeside(tree platform.Tree, folder string, list []face.Face) []family {
	out := families(list)
	for i, f := range out {
		for _, other := range tree.Under(folder) {
			if base := path.Base(other); strings.TrimSuffix(base, path.Ext(base)) == f.name && !generatedFamily(tree, other) {
				out[i].name = f.name + "_family"
			}
		}
	}
	return out
}

// generatedFamily says whether a file is a family that Notaria wrote.
func generatedFamily(tree platform.Tree, name string) bool {
	if platform.IsFont(name) {
		return false
	}
	text, err := tree.Read(name)
	return err == nil && platform.IsGenerated(text)
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
	name := language.Camel(strings.Split(strings.Trim(resource, "_"), "_"))
	if language.Kotlin.Reserved.Has(name) {
		return name + "Type"
	}
	return name
}

func slant(f face.Face) string {
	if f.Slant == face.Upright {
		return "normal"
	}
	return "italic"
}

func roles(job platform.Job, names []string) []kotlinRole {
	resource := map[string]string{}
	for i, f := range job.Faces {
		resource[f.ID()] = names[i]
	}
	family := map[string]string{}
	for _, f := range families(job.Typed()) {
		family[f.title] = value(f.name) + "Family"
	}
	var out []kotlinRole
	for _, r := range job.Roles {
		k := namesOf(r)
		k.RoleText, k.Resource, k.Family = r.Text(), resource[r.Face.ID()], family[r.Face.Family]
		k.FontWeight, k.Weight, k.Fallback = fontWeight(r.Face.Weight), r.Face.Weight, generic[r.Fallback]
		out = append(out, k)
	}
	if n := len(out); n > 0 {
		out[n-1].Last = true
	}
	return out
}

// namesOf are those of a role in code and resources.
func namesOf(r platform.Role) kotlinRole {
	words := language.Words(r.Name)
	return kotlinRole{Member: strings.ToUpper(language.Snake(words)), Style: language.Pascal(words), Value: value(language.Snake(words))}
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

// Families are what another platform needs to keep its fonts as resources below a
// folder: each face's file, and a family file for each typographic family, with the
// names of their resources.
func Families(tree platform.Tree, res string, minimum int, job platform.Job) (files, code []platform.File, resources map[string]string, err error) {
	list := job.Typed()
	names := resourceNames(list)
	resources = map[string]string{}
	i := -1
	files = job.CopiesAt(func(f platform.Face) string { i++; return path.Join(res, "font", names[i]+f.Ext) })
	for _, f := range familiesBeside(tree, path.Join(res, "font"), list) {
		text, err := familyFile(f, minimum < familyAPI, fontLines(f, list, names))
		if err != nil {
			return nil, nil, nil, err
		}
		resources[f.title] = f.name
		code = append(code, platform.Code(path.Join(res, "font", f.name+".xml"), text))
	}
	return files, code, resources, nil
}

// familyFile writes a family's XML; both says that it has the attributes of a library, too, which
// reads it on devices before familyAPI.
func familyFile(f family, both bool, lines []fontLine) ([]byte, error) {
	return platform.Render(templates, "family.xml.tmpl", struct {
		Title string
		Both  bool
		Fonts []fontLine
	}{language.XML.Comment(f.title), both, lines})
}
