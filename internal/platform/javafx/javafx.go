// Package javafx serves Java's desktop apps, JavaFX and Swing: font files among the
// resources, and an enum with the roles. JavaFX also gets a style sheet with a class for
// each role, which the enum gives to a scene; Swing a helper for the defaults of its look.
//
// Both answer to the full name inside the file (name ID 4), and to its old family (ID 1);
// the PostScript name and the typographic family silently give the system's font.
package javafx

import (
	"embed"
	"path"
	"slices"
	"strings"
	"unicode/utf16"

	"notaria/internal/edit/source"
	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/kit"
)

//go:embed *.tmpl
var texts embed.FS

var templates = kit.Templates(texts)

// Platform is JavaFX, which is asked for the full name, or the old family where there is none.
var Platform = &kit.Named{Platform: kit.Platform{
	Info: platform.About{
		Name: "javafx", Title: "JavaFX", Kind: platform.ByFullName, Typed: `-fx-font-family: "…"`,
		Minimum: "JavaFX 8; Java 8",
		Gets:    "with Maven, with Gradle, or as the plain folder of an IDE's project: files among the resources, the enum AppType.java, which throws an error with the file's name if one is missing, and app-type.css with a class for each role, given to the scene where the app makes it",
		Cannot:  []string{"tracking", "outlines of controls (of a Text they are supported)", "another font where a face is missing (the program is told instead)", "text that follows the reader's size"},
	},
	Names: fullNames,
	Find:  func(tree platform.Tree, _ platform.Options) ([]platform.Site, error) { return sites(tree, false) },
	Skip:  []platform.Skip{{Folder: "target", Beside: []string{"pom.xml"}}}, // of Maven: others call theirs so, too
}, In: func(tree platform.Tree, dir string, _ platform.Options) (platform.Site, error) {
	return siteIn(tree, dir, false), nil
}}

// Swing is Java's older toolkit.
var Swing = &kit.Named{Platform: kit.Platform{
	Info: platform.About{
		Name: "swing", Title: "Swing", Kind: platform.ByFullName, Typed: `new Font("…", Font.PLAIN, 14)`,
		Minimum: "Java 8",
		Gets:    "with Maven, with Gradle, or as the plain folder of an IDE's project: files among the resources, and the enum SwingType.java, which throws an error with the file's name if one is missing; a role as the default of all components",
		Cannot:  []string{"line heights", "outlines", "another font where a face is missing (the program is told instead)", "text that follows the reader's size"},
	},
	Names: fullNames, Like: Platform,
	Find: func(tree platform.Tree, _ platform.Options) ([]platform.Site, error) { return sites(tree, true) },
}, In: func(tree platform.Tree, dir string, _ platform.Options) (platform.Site, error) {
	return siteIn(tree, dir, true), nil
}}

func fullNames(faces []face.Face) []string {
	out := make([]string, len(faces))
	for i, f := range faces {
		out[i] = fullName(f)
	}
	return out
}

func fullName(f face.Face) string {
	switch {
	case f.Full != "":
		return f.Full
	case f.LegacyFamily != "":
		return f.LegacyFamily
	}
	return f.ID()
}

// mostName is how long a name of a font may be for JavaFX and Swing, in units of UTF-16: of
// a longer one they load nothing (tried with JavaFX 11 and Java 17).
const mostName = 128

// loads says whether Java loads a face.
func loads(f face.Face) bool {
	return !slices.ContainsFunc([]string{f.LegacyFamily, f.LegacyStyle, f.Full, f.PostScript}, func(s string) bool { return len(utf16.Encode([]rune(s))) > mostName })
}

// logical matches the names that JavaFX keeps for fonts of its own, whatever is loaded
// (tried with JavaFX 11).
var logical = lazy.Regexp(`(?i)^(?:default|dialog|dialoginput|(?:system|serif|sansserif|sans-serif|monospaced|monospace)(?: (?:regular|bold|italic|bold italic))?)$`)

// site is an app of either kind.
type site struct {
	*module
	swing bool
	scene entryAt // where the scene is made
}

// sites finds the modules and folders whose build or sources name the toolkit.
func sites(tree platform.Tree, swing bool) ([]platform.Site, error) {
	var found platform.Found
	for _, m := range modules(tree, swing) {
		found.Add(m.Path(), newSite(m, swing), nil)
	}
	return found.All()
}

func siteIn(tree platform.Tree, dir string, swing bool) *site {
	m := moduleIn(tree, dir)
	m.serves(buildFolders(tree), swing) // finds the app's class
	return newSite(m, swing)
}

func newSite(m *module, swing bool) *site {
	s := &site{module: m, swing: swing}
	s.Kind, s.Fonts, s.Common, s.Asks = "Swing", path.Join(m.resources, fontFolder), true, names
	s.Takes = func(p string) bool {
		rel, inside := platform.Below(m.resources, p)
		return inside && plainPath.MatchString(rel)
	}
	if !swing {
		s.Kind, s.Asks, s.scene = "JavaFX", fxUses, m.sceneLine()
	}
	return s
}

func (s *site) next() string {
	switch {
	case s.swing:
		return "build the app again"
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

// line is a face or a role as Java and the style sheet write it; empty fields are left out.
type line struct {
	platform.RoleText
	Constant     string
	Path, Name   string // of the face, as literals
	URL, CSSName string
	OutsideWidth string // of the outline, in pixels: JavaFX would draw the other half over the letter
	Spacing      string // between lines, in pixels
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
		at, _ := platform.Below(s.resources, s.Place(job, f))
		l := line{Path: language.Java.Literal("/" + at), Name: language.Java.Literal(fullName(f.Face)), URL: `"` + at + `"`, CSSName: cssName(fullName(f.Face))}
		faces[f.ID()] = l
		data.Faces = append(data.Faces, l)
	}
	for _, r := range job.Roles {
		f := faces[r.Face.ID()]
		l := line{RoleText: r.Text(), Constant: strings.ToUpper(language.Snake(strings.Split(r.Name, "-"))),
			Path: f.Path, Name: f.Name, CSSName: f.CSSName}
		if r.LineHeight > 0 {
			l.Spacing = language.Number(r.Leading())
		}
		if r.Outline != nil {
			l.OutsideWidth = language.Number(r.Outline.Width / 2)
		}
		data.Colours, data.Tracking = data.Colours || l.Colour != nil, data.Tracking || l.LetterByEm != ""
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
		case r == '"' || r == '\\' || r < ' ' || r > '~':
			b.WriteString(strings.ToLower(language.UTF16Escape(r)))
		default:
			b.WriteRune(r)
		}
	}
	return `"` + b.String() + `"`
}

// Plan is each face among the resources; the style sheet and the enum of the roles, which
// the app gives its scene.
func (s *site) Plan(job platform.Job) (platform.Plan, error) {
	var refused []platform.Shortfall
	job.Roles, refused = s.served(job.Roles)
	d := s.Draft(job, templates, s.next(), append(refused, s.short(job)...), s.answer)
	if len(job.Roles) == 0 {
		return d.Done()
	}
	data := s.code(job)
	from := func(at string) string { return platform.Relative(platform.Shown(s.Dir), at) }
	class, markup := fxClass, []platform.Showing{platform.Way("FXML", `<Label styleClass="type-{role}" text="07:40" />`)}
	if s.swing {
		class, markup = swingClass, nil
	}
	var constants []string
	for _, r := range data.Roles {
		constants = append(constants, r.Constant)
	}
	d.Words = append(platform.ClassWords(job.Roles), class)
	d.Job.Roles = job.Roles
	d.Shows(map[string][]string{"constant": constants}, append([]platform.Showing{platform.Way("Java", class+".{constant}.dress(label);")}, markup...)...)
	d.Write(data.Class+".java", from(path.Join(s.sources, strings.ReplaceAll(s.pack, ".", "/"), data.Class+".java")), data)
	if s.swing {
		return d.Done()
	}
	d.Write(styleSheet, from(path.Join(s.resources, styleSheet)), data)
	if s.scene.file != "" {
		d.Line(s.scene.file, source.After(s.scene.behind), s.scene.line)
	}
	return d.Done()
}

// served are the roles that get code, and why others do not.
func (s *site) served(roles []platform.Role) (out []platform.Role, refused []platform.Shortfall) {
	for _, r := range roles {
		why := ""
		if !loads(r.Face.Face) {
			why = "Java loads no font with a name of more than 128 characters"
		} else if !s.swing && logical.MatchString(fullName(r.Face.Face)) {
			why = "JavaFX keeps that name for a font of its own"
		} else {
			out = append(out, r)
			continue
		}
		refused = append(refused, platform.Shortfall{Role: r.Name, Part: platform.PartFace, Why: why + ": the role has no code; give a copy of the font other names, if its licence allows that"})
	}
	return out, refused
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
