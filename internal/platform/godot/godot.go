// Package godot serves games of Godot 3 and 4: a folder apptype with the fonts, a resource
// for each role, one theme that gives all of them to the whole interface, and scripts by
// which code reaches them; project.godot names the theme and the script.
package godot

import (
	"bytes"
	"embed"
	"path"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/godot/textres"
	"notaria/internal/platform/kit"
)

//go:embed *.tmpl
var texts embed.FS

var templates = kit.Templates(texts)

// Platform is the Godot platform: code asks for a font by its path.
var Platform = &kit.Platform{
	Info: platform.About{
		Name: "godot", Title: "Godot", Kind: platform.ByFile, Typed: `load("res://apptype/fonts/…")`,
		Minimum: "Godot 3.2 or 4.0",
		Gets:    "a resource for each role, one theme for the whole interface with a type variation for each role, named in project.godot; the script AppType, loaded with the game, and a class in C# where the game has C#. Labels of scenes with fonts of their own are reported, and pointed to their roles by register --take-over",
		Cannot: []string{"lengths that are no whole pixels (they are rounded)", "blurred shadows", "another font where a face is missing",
			"text that follows the reader's size", "edges in full pixels in Godot 4 (they are a setting of the import)"},
	},
	Names: platform.FileNames, Find: sites,
	Forms: []edit.Syntax{textres.Settings{}, textres.Overrides{}}, // of project.godot and of scenes
}

// projectFile is what every game has in its folder.
const projectFile = "project.godot"

// site is a folder with a project.godot.
type site struct {
	kit.App
	four    bool
	sharp   bool   // has code in C#
	theme   string // the game's own, "" if it has none
	font    string // the same for Godot 3's font of all text
	scenes  []scene
	scanned bool
}

// sites finds the folders with a project.godot.
func sites(tree platform.Tree, _ platform.Options) ([]platform.Site, error) {
	var found platform.Found
	for _, f := range tree.Named(projectFile) {
		s, err := newSite(tree, platform.Folder(f))
		found.Add(platform.Shown(platform.Folder(f)), s, err)
	}
	return found.All()
}

// newSite reads the settings: config_version 4 is Godot 3, 5 is Godot 4.
func newSite(tree platform.Tree, dir string) (platform.Site, error) {
	s := &site{App: kit.App{Base: platform.Base{Tree: tree, Dir: dir}, Kind: "Godot 3", Fonts: path.Join(dir, fontFolder), Asks: uses}}
	s.Takes, s.Foreign = s.Inside, s.addon
	at := path.Join(dir, projectFile)
	doc, err := platform.ReadDocument(tree, at)
	if err != nil {
		return nil, err
	}
	tags, err := textres.Parse(doc)
	if err != nil {
		return nil, err
	}
	version, _ := tags[0].Value("config_version")
	switch version.Text {
	case "4":
	case "5":
		s.four, s.Kind = true, "Godot 4"
	default:
		return nil, platform.Refuse(at, "config_version=4 (Godot 3) or config_version=5 (Godot 4)", "config_version="+version.Text, "open the game in Godot 3 or 4 once, which writes it")
	}
	for _, t := range tags {
		if t.Text == "gui" {
			s.theme, s.font = s.named(t, "theme/custom"), s.named(t, "theme/custom_font")
		}
		s.sharp = s.sharp || t.Text == "dotnet" || t.Text == "mono"
	}
	s.sharp = s.sharp || slices.ContainsFunc(tree.Under(dir), func(f string) bool { return path.Ext(f) == ".csproj" && platform.Folder(f) == dir })
	return s, nil
}

// named is the resource that a key names, "" if it is none or one of ours.
func (s *site) named(gui textres.Tag, key string) string {
	v, _ := gui.Value(key)
	if res := textres.Unquote(v.Text); !strings.HasPrefix(res, s.res(folder+"/")) {
		return res
	}
	return ""
}

func (s *site) next() string {
	step := "start the game again"
	if !s.four {
		step += "; from Godot 3.5 a Control gets a role by theme_type_variation, too"
	}
	if s.theme != "" {
		step += "; the game keeps its own theme, " + s.theme + ": to give all text the roles, let gui/theme/custom name " + s.res(themeFile)
	}
	return step
}

// shows are the call, the variation of a scene, and what C# has.
func (s *site) shows(d *kit.Draft, roles []line) {
	names := map[string][]string{}
	for _, r := range roles {
		names["variation"], names["member"] = append(names["variation"], r.VariationName), append(names["member"], r.Member)
	}
	ways := []platform.Showing{platform.Way("GDScript", `AppType.style(label, "{role}")`)}
	if s.four {
		ways = append(ways, platform.Way("scene", `theme_type_variation = &"{variation}"`))
	}
	if s.sharp && s.four {
		ways = append(ways, platform.Way("C#", "label.LabelSettings = AppType.{member};"))
	} else if s.sharp {
		ways = append(ways, platform.Way("C#", `label.AddFontOverride("font", AppType.{member});`))
	}
	if s.theme != "" { // the game's own; ours gives all text a role
		d.Words = append(names["variation"], "AppType", folder+"/")
	}
	d.Shows(names, ways...)
}

// Names of what is generated, below the game's folder.
const (
	folder     = "apptype"
	fontFolder = folder + "/fonts"
	themeFile  = folder + "/app_theme.tres"
	scriptFile = folder + "/app_type.gd"
	sharpFile  = folder + "/AppType.cs"
)

// res is a path as Godot writes it: from the folder of project.godot.
func (s *site) res(rel string) string { return "res://" + rel }

// file is the path in the tree that Godot's path means.
func (s *site) file(res string) (string, bool) {
	rel, ok := strings.CutPrefix(res, "res://")
	return path.Join(s.Dir, rel), ok && rel != "" && !strings.Contains(rel, "..")
}

// variation is the theme's name of a role; Control classes have no such prefix.
func variation(role string) string {
	return variationPrefix + language.Pascal(strings.Split(role, "-"))
}

const variationPrefix = "Type"

// line is a role as the templates write it; what is empty is left out.
type line struct {
	platform.RoleText
	Constant, Member       string // of GDScript and C#
	Variation              string // a literal
	VariationName          string
	FontFile, SettingsFile string // below the game's folder
	FontPath, FontRes      string // literals of the face's file and of the role's font
	SettingsRes            string
	Size                   int
	Outline, Letter, Space int
	Top, Bottom            int
	Line                   int
	ShadowX, ShadowY       int
	Smooth, Rough          bool // asked for
	FontID                 int  // in the theme
}

// code is what the templates show.
type code struct {
	Four     bool
	OwnTheme bool // the game has one, which knows nothing of the roles
	Roles    []line
	Body     line
	Theme    string // literal of the theme's path
	Steps    int    // resources that the theme loads
}

// taken are names that the generated code has itself.
var taken = lazy.Words("ROLES VARIATIONS FACES report style font variation AppType")

// constant is a role's name in GDScript; what begins as constants of every Node do is none.
func constant(role string) string {
	name := strings.ToUpper(language.Snake(strings.Split(role, "-")))
	for _, p := range []string{"NOTIFICATION_", "PAUSE_MODE_", "PROCESS_", "DUPLICATE_", "INTERNAL_", "AUTO_", "CONNECT_"} {
		if strings.HasPrefix(name, p) {
			return "ROLE_" + name
		}
	}
	if m := language.GDScript.Member(name, "ROLE_", taken); m != name {
		return "ROLE_" + name
	}
	return name
}

// sharpMember is a role's name in C#.
func sharpMember(role string) string {
	return language.CSharp.Member(language.Pascal(strings.Split(role, "-")), "Role", sharpTaken)
}

var sharpTaken = lazy.Words("AppType Equals GetHashCode GetType ToString MemberwiseClone ReferenceEquals Finalize Load Report Variation")

func (s *site) code(job platform.Job) code {
	data := code{Four: s.four, OwnTheme: s.theme != "", Theme: language.GDScript.Literal(s.res(themeFile)), Steps: len(job.Roles) + 1}
	constants, members, variations := kit.Members(job.Roles, constant), kit.Members(job.Roles, sharpMember), kit.Members(job.Roles, variation)
	for i, r := range job.Roles {
		at, _ := s.Rel(s.Place(job, r.Face))
		l := s.line(r)
		l.Constant, l.Member, l.VariationName = constants[i], members[i], variations[i]
		l.Variation, l.FontPath, l.FontID = language.GDScript.Literal(variations[i]), language.GDScript.Literal(s.res(at)), i+1
		data.Roles = append(data.Roles, l)
		if r.Name == job.Body().Name {
			data.Body = l
		}
	}
	return data
}

// fontFile and settingsFile are a role's resources, below the game's folder.
func fontFile(role string) string {
	return folder + "/" + language.Snake(strings.Split(role, "-")) + "_font.tres"
}

func settingsFile(role string) string {
	return folder + "/" + language.Snake(strings.Split(role, "-")) + "_label.tres"
}

func (s *site) line(r platform.Role) line {
	l := line{RoleText: r.Text(), Size: platform.Pixels(r.Size),
		FontFile: fontFile(r.Name), SettingsFile: settingsFile(r.Name), Letter: platform.Pixels(r.Letter()), Space: platform.Pixels(r.Extra.Space),
		Top: platform.Pixels(r.Extra.Top), Bottom: platform.Pixels(r.Extra.Bottom), Line: platform.Pixels(r.LineGap())}
	l.FontRes, l.SettingsRes = language.GDScript.Literal(s.res(l.FontFile)), language.GDScript.Literal(s.res(l.SettingsFile))
	if r.Letter() < 0.5 && r.Letter() > 0 {
		l.Letter = 0 // a whole pixel between letters would be far more than what is asked for
	}
	if r.Outline != nil {
		l.Outline = s.outline(*r.Outline)
	}
	if r.Shadow != nil {
		l.ShadowX, l.ShadowY = platform.Pixels(r.Shadow.X), platform.Pixels(r.Shadow.Y)
	}
	if r.Smooth != nil {
		l.Smooth, l.Rough = *r.Smooth, !*r.Smooth
	}
	return l
}

// outline is what stands beside a letter, the half of a role's outline: Godot 3 counts it in
// pixels, Godot 4 in quarters of one (the radius of its stroker).
func (s *site) outline(o platform.Outline) int {
	if s.four {
		return platform.Pixels(o.Width / 2 * 4)
	}
	return platform.Pixels(o.Width / 2)
}

// Plan is the folder apptype, the keys of project.godot, and labels of scenes that were
// pointed to a role.
func (s *site) Plan(job platform.Job) (platform.Plan, error) {
	d := s.Draft(job, templates, s.next(), s.short(job), s.answer)
	if len(job.Roles) == 0 {
		return d.Done()
	}
	data := s.code(job)
	s.shows(d, data.Roles)
	for _, l := range data.Roles {
		d.Write("font"+s.suffix()+".tres", l.FontFile, l)
		if s.four {
			d.Write("label.tres", l.SettingsFile, l)
		}
	}
	d.Write("theme"+s.suffix()+".tres", themeFile, data)
	d.Write("app_type"+s.suffix()+".gd", scriptFile, data)
	if s.sharp {
		d.Write("AppType.cs", sharpFile, data)
	}
	overrides, err := s.overrides(job)
	d.Fail(err)
	d.Entries = append(s.settings(data), overrides...)
	return d.Done()
}

func (s *site) suffix() string {
	if s.four {
		return "4"
	}
	return "3"
}

// settings are the keys of project.godot. In Godot 3 the theme's default font does not reach
// a Control that has no theme above it (3.2); a key of its own does that there.
func (s *site) settings(data code) []edit.Entry {
	entry := func(section, key, value string) edit.Entry {
		return edit.Entry{File: path.Join(s.Dir, projectFile), Syntax: textres.Settings{}.Name(), Place: textres.Key(section, key), Value: value}
	}
	list := []edit.Entry{entry("autoload", "AppType", language.GDScript.Literal("*"+s.res(scriptFile)))}
	if s.theme != "" {
		return list
	}
	list = append(list, entry("gui", "theme/custom", data.Theme))
	if !s.four && s.font == "" {
		list = append(list, entry("gui", "theme/custom_font", data.Body.FontRes))
	}
	return list
}

func (s *site) short(job platform.Job) []platform.Shortfall {
	why := map[string]string{
		platform.PartFallback: "a face that cannot be loaded is an error in Godot's log",
		platform.PartSpace:    "", platform.PartRoom: "", platform.PartShadow: "", platform.PartSmooth: "",
	}
	if s.four {
		why[platform.PartSmooth] = "Godot 4 has it among the import settings of the font's file (Antialiasing), for all roles of the face"
	}
	short := append(platform.Shortfalls(job, why), platform.NoBlur(job)...)
	return append(short, platform.WholePixels(job, "Godot", s.lengths)...)
}

// lengths are those that are counted in whole pixels.
func (s *site) lengths(r platform.Role) map[string]float64 {
	m := map[string]float64{"size": r.Size, platform.PartTracking: r.Letter(), platform.PartSpace: r.Extra.Space}
	if r.Outline != nil && !s.four {
		m[platform.PartOutline] = r.Outline.Width / 2
	}
	return m
}

// Held lists the fonts that scenes and resources of the game name, and the resources of
// roles that are named.
func (s *site) Held() ([]platform.Held, error) {
	var out []platform.Held
	for _, f := range s.Tree.Under(s.Dir) {
		if ext := path.Ext(f); ext != ".tscn" && ext != ".tres" || s.addon(f) {
			continue
		}
		text, ok := s.Tree.Glance(f, mostScene)
		if !ok {
			continue
		}
		doc := edit.Document{File: f, Text: text}
		for _, m := range named.FindAllSubmatchIndex(language.GodotText.Blank(doc.Text), -1) {
			res := textres.Unquote(`"` + string(doc.Text[m[2]:m[3]]) + `"`)
			at, ok := s.file(res)
			if !ok {
				continue
			}
			h := platform.Held{Manifest: f, Line: bytes.Count(doc.Text[:m[2]], []byte("\n")) + 1, Value: res, Name: res, File: at, Strict: true,
				Hint: platform.Hint{Cause: "the file was deleted or renamed: Godot 3 then gives a font that draws nothing, Godot 4 its own", Cure: "correct the path, which counts from the folder of project.godot"}}
			if ignored := s.ignored(at); ignored != "" && slices.Contains(s.Tree.Named(path.Base(at)), at) {
				h.File = "" // it is there, and not for Godot
				h.Hint = hidden(ignored)
			} else if other := s.near(at); other != "" {
				h.Hint = platform.Hint{Cause: "a file's name differs by capitals: that works on Windows and on most Macs, and fails in the exported game", Cure: platform.Choose(s.res(other), nil)}
			}
			h.Write = func(file string) string { rel, _ := s.Rel(file); return s.res(rel) }
			out = append(out, h)
		}
	}
	packed := func(f string) bool { return platform.LooksLikeFont(f) && !s.excluded(f) && s.ignored(f) == "" } // the game is packed with all of them
	return append(out, s.Lying(packed, func(f, _ string) string { return path.Base(f) })...), nil
}

// named is a font, or a resource of a role, among the external resources of a scene.
var named = lazy.Regexp(`(?m)\b(?:path|font_path)\s*=\s*"(res://(?:[^"\n]*\.(?i:ttf|otf|ttc|woff2?|fnt)|` + folder + `/[^"\n]*))"`)

// ignored is the file by which a folder is hidden from Godot, of a path below it; "" if there is none (documentation of
// Godot: Project organization, Ignoring specific folders).
func (s *site) ignored(f string) string {
	for dir := platform.Folder(f); ; dir = platform.Folder(dir) {
		if at := path.Join(dir, ".gdignore"); slices.Contains(s.Tree.Named(".gdignore"), at) {
			return at
		}
		if dir == s.Dir || dir == "" {
			return ""
		}
	}
}

// near is a file of the game whose name differs by capitals alone, from the game's folder.
func (s *site) near(at string) string {
	for _, f := range s.Tree.Under(s.Dir) {
		if f != at && strings.EqualFold(f, at) {
			rel, _ := s.Rel(f)
			return rel
		}
	}
	return ""
}

// addon says whether a file is of somebody else's addon; excluded, whether it is that or one of
// ours.
func (s *site) addon(f string) bool {
	rel, _ := s.Rel(f)
	return strings.HasPrefix(rel, "addons/")
}

func (s *site) excluded(f string) bool {
	rel, _ := s.Rel(f)
	return s.addon(f) || strings.HasPrefix(rel, folder+"/")
}
