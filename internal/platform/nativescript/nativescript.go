// Package nativescript serves NativeScript apps: font files in the folder fonts of the app's code, and a style
// sheet with a class for each role, which the app's own style sheet imports.
//
// The two systems find a font in different ways: iOS by its family, with weight and slant, and Android by the name
// of its file without the ending. A list of both names serves both, and needs no file of another name.
package nativescript

import (
	"embed"
	"path"
	"slices"
	"strings"

	"notaria/internal/edit"
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

// Platform is the NativeScript platform.
var Platform = &kit.Named{Platform: kit.Platform{
	Info: platform.About{
		Varies: true,
		Name:   "nativescript", Title: "NativeScript", Kind: platform.ByFamily, Typed: `font-family: "…"`,
		Minimum: "NativeScript 6; 8.2 for text that follows the reader's size, and for variable fonts",
		Gets:    "files in the folder fonts of the app's code, and app-type.css with a class for each role, imported by the app's own style sheet (app.css or app.scss, or both of app.ios and app.android). A role lists the family, which iOS looks for, and the name of the file, which Android looks for",
		Cannot:  []string{"weights other than hundreds"},
	},
	Names: platform.Families, Find: sites, Claim: claims, Skip: []platform.Skip{{Folder: "platforms", Beside: []string{"App_Resources", "nativescript.config.ts", "nativescript.config.js"}}},
}, In: func(tree platform.Tree, dir string, _ platform.Options) (platform.Site, error) {
	return newSite(tree, dir, "app"), nil
}}

// site is a package of an app.
type site struct {
	kit.App
	code   string   // the folder of the app's code, from the package's
	sheets []string // the app's own style sheets
}

const sheetFile = "app-type.css"

// packages are those that an app depends on, the oldest last.
var packages = []string{"@nativescript/core", "nativescript-vue", "@nativescript/angular", "svelte-native", "tns-core-modules"}

// codePath is the folder of the app's code, as its settings say.
var codePath = lazy.Regexp(`["']?\bappPath["']?\s*:\s*["']\.?/?([\w./-]+?)/?["']`)

// apps are the folders of packages that are apps, with the folder of their code. A plugin depends on the same packages, and has
// no resources of an app.
func apps(tree platform.Tree, do func(dir, code string)) {
	for _, f := range tree.Named("package.json") {
		dir := platform.Folder(f)
		have := platform.Dependencies(tree, dir)
		if !slices.ContainsFunc(packages, func(p string) bool { return have[p] != nil }) {
			continue
		}
		code := ""
		for _, base := range []string{"nativescript.config.ts", "nativescript.config.js", "nsconfig.json"} {
			raw, err := tree.Read(path.Join(dir, base))
			if err != nil {
				continue
			}
			if code == "" {
				code = "app"
			}
			if m := codePath.FindSubmatch(language.TypeScript.Blank(raw)); m != nil {
				code = path.Clean(string(m[1]))
			}
		}
		for _, at := range []string{"app", "src"} {
			if begins := slices.ContainsFunc(tree.Under(path.Join(dir, at)), func(f string) bool { return isBeginning(tree, f, path.Join(dir, at)) }); begins && (code == "" || code == "app" && at == "src") {
				code = at
			}
		}
		if code != "" && code != ".." && !strings.HasPrefix(code, "../") {
			do(dir, code)
		}
	}
}

// isBeginning says whether a file is the script that an app starts with, in the folder of its code.
func isBeginning(tree platform.Tree, file, code string) bool {
	if path.Dir(file) != code || !beginning.MatchString(path.Base(file)) {
		return false
	}
	raw, ok := tree.Glance(file, platform.MostSource)
	return ok && starts.MatchString(string(language.TypeScript.Blank(raw)))
}

var (
	beginning = lazy.Regexp(`^(?:app|main)\.[jt]sx?$`)
	starts    = lazy.Regexp(`\b(?:Application\.run|app(?:lication)?\.(?:run|start)|runNativeScriptAngularApp|platformNativeScript|svelteNative|createApp|new Vue|render)\b`)
)

func sites(tree platform.Tree, _ platform.Options) ([]platform.Site, error) {
	var found platform.Found
	apps(tree, func(dir, code string) { found.Add(platform.Shown(dir), newSite(tree, dir, code), nil) })
	return kit.Sorted(&found)
}

// claims are the packages: the app's tools bring the fonts to both systems.
func claims(tree platform.Tree, _ platform.Options) map[string]platform.Claim {
	out := map[string]platform.Claim{}
	apps(tree, func(dir, _ string) { out[dir] = platform.Whole })
	return out
}

func newSite(tree platform.Tree, dir, code string) *site {
	s := &site{App: kit.App{Base: platform.Base{Tree: tree, Dir: dir}, Kind: "NativeScript", Fonts: path.Join(dir, code, "fonts"), Asks: uses}, code: code}
	s.Takes = func(p string) bool { return platform.IsFont(p) && path.Dir(p) == s.Fonts }
	at := path.Join(dir, code)
	under := tree.Under(at)
	for _, set := range [][]string{{"app.css"}, {"app.scss"}, {"app.ios.css", "app.android.css"}, {"app.ios.scss", "app.android.scss"}} {
		var there []string
		for _, base := range set {
			if raw, ok := tree.Glance(path.Join(at, base), platform.MostSource); ok && slices.Contains(under, path.Join(at, base)) && source.HasFirst(edit.Document{File: path.Join(at, base), Text: raw}) {
				there = append(there, path.Join(at, base))
			}
		}
		if len(there) == len(set) {
			s.sheets = there
			break
		}
	}
	return s
}

func (s *site) next() string {
	if len(s.sheets) == 0 {
		return "import " + path.Join(s.code, sheetFile) + " in the style sheet of the app, and build it again"
	}
	return "build the app again"
}

// line is a role as the template writes it; empty fields are left out.
type line struct {
	platform.RoleText
	Class, About, Families, Weight, Style, Variations, Lead string
	Ink, OutlineInk, ShadowInk                              string
}

// generic are the names that NativeScript has for a role's fallback.
var generic = map[string]string{"sans": "sans-serif", "serif": "serif", "mono": "monospace"}

func (s *site) line(job platform.Job, r platform.Role) line {
	l := line{RoleText: r.Text(), Class: "type-" + r.Name, About: language.CSS.Comment(r.About("units")), Style: "normal", Weight: language.Number(float64(platform.Hundreds(r.Face.Weight)))}
	at := path.Base(s.Place(job, r.Face))
	var names []string
	for _, n := range []string{platform.FamilyOf(r.Face.Face), strings.TrimSuffix(at, path.Ext(at))} {
		if t := language.CSS.Literal(n); !slices.Contains(names, t) {
			names = append(names, t)
		}
	}
	if g := generic[r.Fallback]; g != "" {
		names = append(names, g)
	}
	l.Families = strings.Join(names, ", ")
	if r.Face.Slant != face.Upright {
		l.Style = "italic"
	}
	if lead := r.Leading(); lead > 0 {
		l.Lead = language.Number(lead)
	}
	for _, a := range r.Face.Axes {
		if v, asked := r.Coordinates[a.Tag]; asked {
			l.Variations += ", " + language.CSS.Literal(a.Tag) + " " + language.Number(min(max(v, a.Min), a.Max))
		}
	}
	l.Variations = strings.TrimPrefix(l.Variations, ", ")
	if r.Colour != nil {
		l.Ink = r.Colour.Function()
	}
	if r.Outline != nil {
		l.OutlineInk = r.Outline.Colour.Function()
	}
	if r.Shadow != nil {
		l.ShadowInk = r.Shadow.Colour.Function()
	}
	return l
}

// short is what of the roles the style sheet cannot express.
func (s *site) short(job platform.Job) []platform.Shortfall {
	short := platform.Shortfalls(job, map[string]string{platform.PartShadow: "", platform.PartCoordinates: ""})
	for _, r := range job.Roles {
		if r.Leading() < 0 {
			short = append(short, platform.Shortfall{Role: r.Name, Part: platform.PartLine, Why: "line-height adds room between lines there, and takes none away"})
		}
		if strings.Contains(platform.FamilyOf(r.Face.Face), ",") {
			short = append(short, platform.Shortfall{Role: r.Name, Part: platform.PartFace, Why: "a comma in a family's name begins another family: give a copy of the font another name, if its licence allows that"})
		}
	}
	return short
}

// Plan is the files, the style sheet, and its imports.
func (s *site) Plan(job platform.Job) (platform.Plan, error) {
	d := s.Draft(job, templates, s.next(), s.short(job), s.answer)
	if len(job.Roles) == 0 {
		return d.Done()
	}
	var data struct{ Roles []line }
	for _, r := range job.Roles {
		data.Roles = append(data.Roles, s.line(job, r))
	}
	d.Write(sheetFile, path.Join(s.code, sheetFile), data)
	for _, f := range s.sheets {
		d.Line(f, source.First(), `@import "./`+sheetFile+`";`)
	}
	d.Words = platform.ClassWords(job.Roles)
	d.Shows(nil, platform.Way("XML", `<Label class="type-{role}" text="07:40" />`), platform.Way("TypeScript", `label.className = "type-{role}";`))
	return d.Done()
}
