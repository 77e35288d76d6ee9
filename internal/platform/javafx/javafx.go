// Package javafx serves Java's desktop apps, JavaFX and Swing: font files among the
// resources, and an enum with the roles. JavaFX also gets a style sheet with a class for
// each role, which the enum gives to a scene; Swing a helper for the defaults of its look.
//
// Both answer to the full name inside the file (name ID 4), and to its old family (ID 1);
// the PostScript name and the typographic family silently give the system's font.
package javafx

import (
	"embed"
	"fmt"
	"path"
	"slices"
	"strings"
	"text/template"
	"unicode/utf16"

	"notaria/internal/edit"
	"notaria/internal/edit/source"
	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

//go:embed *.tmpl
var texts embed.FS

var templates = lazy.Of(func() *template.Template { return template.Must(template.ParseFS(texts, "*.tmpl")) })

// Platform is JavaFX, Swing is Java's older toolkit.
type (
	Platform struct{}
	Swing    struct{}
)

// About describes the platform.
func (Platform) About() platform.About {
	return platform.About{
		Name: "javafx", Title: "JavaFX", Kind: platform.ByFullName, Typed: `-fx-font-family: "…"`,
		Minimum: "JavaFX 8; Java 8",
		Cannot:  []string{"tracking", "outlines of controls (of a Text they are supported)", "another font where a face is missing (the program is told instead)", "text that follows the reader's size"},
	}
}

// About describes the platform.
func (Swing) About() platform.About {
	return platform.About{
		Name: "swing", Title: "Swing", Kind: platform.ByFullName, Typed: `new Font("…", Font.PLAIN, 14)`,
		Minimum: "Java 8",
		Cannot:  []string{"line heights", "outlines", "another font where a face is missing (the program is told instead)", "text that follows the reader's size"},
	}
}

// Type returns the full name, or the old family where there is none.
func (Platform) Type(faces []face.Face) []string {
	out := make([]string, len(faces))
	for i, f := range faces {
		out[i] = fullName(f)
	}
	return out
}

// Type returns the full name, as in JavaFX.
func (Swing) Type(faces []face.Face) []string { return Platform{}.Type(faces) }

// NamedAs says that faces have the same names there.
func (Swing) NamedAs() platform.Platform { return Platform{} }

func fullName(f face.Face) string {
	switch {
	case f.Full != "":
		return f.Full
	case f.LegacyFamily != "":
		return f.LegacyFamily
	}
	return f.ID()
}

// maxName is how long a name of a font may be for JavaFX and Swing, in units of UTF-16: of
// a longer one they load nothing (tried with JavaFX 11 and Java 17).
const maxName = 128

// loads says whether Java loads a face.
func loads(f face.Face) bool {
	return !slices.ContainsFunc([]string{f.LegacyFamily, f.LegacyStyle, f.Full, f.PostScript}, func(s string) bool { return len(utf16.Encode([]rune(s))) > maxName })
}

// logical matches the names that JavaFX keeps for fonts of its own, whatever is loaded
// (tried with JavaFX 11).
var logical = lazy.Regexp(`(?i)^(?:default|dialog|dialoginput|(?:system|serif|sansserif|sans-serif|monospaced|monospace)(?: (?:regular|bold|italic|bold italic))?)$`)

// site is an app of either kind.
type site struct {
	*module
	swing bool
	scene entryAt // where the scene is made
	job   platform.Job
}

// Sites finds the modules and folders whose build or sources name JavaFX.
func (Platform) Sites(tree platform.Tree, opt platform.Options) ([]platform.Site, error) {
	return sites(tree, false)
}

// Sites finds the modules and folders whose sources import Swing.
func (Swing) Sites(tree platform.Tree, opt platform.Options) ([]platform.Site, error) {
	return sites(tree, true)
}

func sites(tree platform.Tree, swing bool) ([]platform.Site, error) {
	var found platform.Found
	for _, m := range modules(tree, swing) {
		found.Add(m.Path(), newSite(m, swing), nil)
	}
	return found.All()
}

// SiteIn is the app in a folder.
func (Platform) SiteIn(tree platform.Tree, folder string, opt platform.Options) (platform.Site, error) {
	return siteIn(tree, folder, false), nil
}

// SiteIn is the app in a folder.
func (Swing) SiteIn(tree platform.Tree, folder string, opt platform.Options) (platform.Site, error) {
	return siteIn(tree, folder, true), nil
}

func siteIn(tree platform.Tree, folder string, swing bool) *site {
	m := moduleIn(tree, folder)
	m.serves(buildFolders(tree), swing) // finds the app's class
	return newSite(m, swing)
}

func newSite(m *module, swing bool) *site {
	s := &site{module: m, swing: swing}
	if !swing {
		s.scene = m.sceneLine()
	}
	return s
}

func (s *site) Title() string {
	if s.swing {
		return "Swing " + s.Path()
	}
	return "JavaFX " + s.Path()
}

func (s *site) Next() string {
	switch {
	case s.swing:
		return "build the app again; a component gets a role by " + swingClass + ".….dress(component)"
	case s.scene.file == "":
		return "call " + fxClass + ".dress(scene) where the app makes its scene, and build it again"
	}
	return "build the app again"
}

// Names of what is generated.
const (
	fxClass    = "AppType"
	swingClass = "SwingType"
	styleSheet = "app-type.css"
	fontFolder = "fonts"
)

// plainPath matches the paths that url() of JavaFX's style sheets takes: spaces, # and
// escapes fail there.
var plainPath = lazy.Regexp(`^[\w./-]+$`)

// place is where a face is among the resources, from their folder: where somebody put it,
// else where ours go.
func (s *site) place(job platform.Job, f platform.Face) string {
	at, ok := job.At(f, func(p string) bool {
		rel, inside := platform.Below(s.resources, p)
		return inside && plainPath.MatchString(rel)
	})
	if rel, _ := platform.Below(s.resources, at); ok {
		return rel
	}
	return path.Join(platform.Relative(s.resources, platform.Spelled(s.Tree, path.Join(s.resources, fontFolder))), f.Base())
}

// line is a face or a role as Java and the style sheet write it; empty fields are left out.
type line struct {
	platform.RoleText
	Constant, About, Class string
	Path, Name             string // of the face, as literals
	URL, CSSName           string
	CSSColour, OutlineCSS  string
	ShadowCSS              string
	OutsideWidth           string // of the outline, in pixels
	Tracking               string // by the size
	Spacing                string // between lines, in pixels
}

// code is what the templates show.
type code struct {
	Package           string
	Class, StyleSheet string
	Faces, Roles      []line
	Colours, Tracking bool
}

func (s *site) code(job platform.Job) code {
	data := code{Package: s.pack, StyleSheet: language.Java.Literal("/" + styleSheet), Class: fxClass}
	if s.swing {
		data.Class = swingClass
	}
	faces := map[string]line{}
	for _, f := range job.Faces {
		at := s.place(job, f)
		l := line{Path: language.Java.Literal("/" + at), Name: language.Java.Literal(fullName(f.Face)), URL: `"` + at + `"`, CSSName: cssName(fullName(f.Face))}
		faces[f.ID()] = l
		data.Faces = append(data.Faces, l)
	}
	for _, r := range job.Roles {
		f := faces[r.Face.ID()]
		l := line{RoleText: r.Text(), Constant: strings.ToUpper(language.Snake(strings.Split(r.Name, "-"))), Class: "type-" + r.Name,
			About: language.CommentText(r.About("pixels")), Path: f.Path, Name: f.Name, CSSName: f.CSSName}
		if r.LineHeight > 0 {
			l.Spacing = language.Number(r.Leading())
		}
		if r.Colour != nil {
			l.CSSColour = strings.ToLower(r.Colour.Hash())
		}
		if r.Shadow != nil {
			l.ShadowCSS = strings.ToLower(r.Shadow.Colour.Hash())
		}
		if r.Outline != nil {
			// The half that is outside: JavaFX would draw the other over the letter.
			l.OutlineCSS, l.OutsideWidth = strings.ToLower(r.Outline.Colour.Hash()), language.Number(r.Outline.Width/2)
		}
		if r.Tracking != 0 {
			l.Tracking = language.Number(r.Tracking / 1000)
		}
		data.Colours, data.Tracking = data.Colours || l.Colour != nil, data.Tracking || l.Tracking != ""
		data.Roles = append(data.Roles, l)
	}
	return data
}

// cssName writes a name as JavaFX's style sheets take it: they know no escape of CSS, but
// \u with four digits, whatever the encoding of the file.
func cssName(s string) string {
	var b strings.Builder
	for _, r := range s {
		switch {
		case r == '"' || r == '\\' || r < ' ' || r > '~' && r < 0x10000:
			fmt.Fprintf(&b, `\u%04x`, r)
		case r >= 0x10000:
			fmt.Fprintf(&b, `\u%04x\u%04x`, 0xd800+(r-0x10000)>>10, 0xdc00+(r-0x10000)&0x3ff)
		default:
			b.WriteRune(r)
		}
	}
	return `"` + b.String() + `"`
}

// Plan is each face among the resources; the style sheet and the enum of the roles, which
// the app gives its scene.
func (s *site) Plan(job platform.Job) (platform.Plan, error) {
	p := platform.Plan{Files: job.CopiesAt(func(f platform.Face) string { return path.Join(s.resources, s.place(job, f)) })}
	job.Roles = slices.DeleteFunc(slices.Clone(job.Roles), func(r platform.Role) bool {
		why := ""
		if !loads(r.Face.Face) {
			why = "Java loads no font with a name of more than 128 characters"
		} else if !s.swing && logical.MatchString(fullName(r.Face.Face)) {
			why = "JavaFX keeps that name for a font of its own"
		} else {
			return false
		}
		p.Short = append(p.Short, platform.Shortfall{Role: r.Name, Part: platform.PartFace, Why: why + ": the role has no code; give a copy of the font other names, if its licence allows that"})
		return true
	})
	s.job = job
	p.Short = append(p.Short, s.short(job)...)
	if len(job.Roles) == 0 {
		return p, nil
	}
	data := s.code(job)
	name := "AppType.java.tmpl"
	if s.swing {
		name = "SwingType.java.tmpl"
	}
	text, err := platform.Render(templates, name, data)
	if err != nil {
		return p, err
	}
	p.Code = append(p.Code, platform.Code(path.Join(s.sources, strings.ReplaceAll(s.pack, ".", "/"), data.Class+".java"), text))
	if s.swing {
		return p, nil
	}
	if text, err = platform.Render(templates, styleSheet+".tmpl", data); err != nil {
		return p, err
	}
	p.Code = append(p.Code, platform.Code(path.Join(s.resources, styleSheet), text))
	if s.scene.file != "" {
		p.Entries = append(p.Entries, edit.Entry{File: s.scene.file, Syntax: source.Lines{}.Name(), Place: source.After(s.scene.behind), Value: s.scene.line})
	}
	return p, nil
}

func (s *site) short(job platform.Job) []platform.Shortfall {
	if s.swing {
		return platform.Shortfalls(job, map[string]string{
			platform.PartLine:     "a JLabel has the face's own lines; a text area of your own can set them",
			platform.PartOutline:  "a component draws no outline; a TextLayout gives one to draw",
			platform.PartFallback: "a face that cannot be loaded is an exception with its name",
		})
	}
	return platform.Shortfalls(job, map[string]string{
		platform.PartShadow:   "",
		platform.PartTracking: "JavaFX does not space letters",
		platform.PartOutline:  "a Text has it; a Label or another control draws none",
		platform.PartFallback: "-fx-font-family names one family; a face that cannot be loaded is an exception with its name",
	})
}

// Held lists the fonts among the resources: they need no list to be in the app.
func (s *site) Held() ([]platform.Held, error) {
	var out []platform.Held
	for _, f := range s.Tree.Under(s.resources) {
		if rel, ok := platform.Below(s.resources, f); ok && platform.IsFont(f) {
			out = append(out, platform.Held{Manifest: f, Value: "resource /" + rel, File: f})
		}
	}
	for _, f := range s.Tree.Under(s.Dir) { // from the disk
		if _, ok := platform.Below(s.resources, f); !ok && platform.IsFont(f) {
			out = append(out, platform.Held{Manifest: f, Value: path.Base(f), File: f})
		}
	}
	return out, nil
}

// Skips are the folders of Maven: others call theirs so, too.
func (Platform) Skips() []platform.Skip {
	return []platform.Skip{{Folder: "target", Beside: []string{"pom.xml"}}}
}
