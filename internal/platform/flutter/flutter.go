// Package flutter serves Flutter packages: font files in fonts/, their families
// declared in pubspec.yaml, and a Dart file with a text style for each role.
package flutter

import (
	_ "embed"
	"fmt"
	"path"
	"slices"
	"strconv"
	"strings"
	"text/template"

	"notaria/internal/edit"
	"notaria/internal/face"
	"notaria/internal/installed"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/flutter/pubspec"
	"notaria/internal/platform/kit"
)

// Platform is the Flutter platform.
type Platform struct{}

// About describes the platform.
func (Platform) About() platform.About {
	return platform.About{
		Name: "flutter", Title: "Flutter", Kind: platform.ByFamily, Typed: "TextStyle(fontFamily: '…')",
		Minimum: "a package that depends on the flutter SDK; Dart 2.12",
		Gets:    "fonts/, families in pubspec.yaml in block or flow style, lib/app_type.dart; one package can hold the fonts for all",
		Cannot:  []string{"text that does not follow the reader's size (that is up to the widget)", "fill and outline in one TextStyle (there are two)"},
		Options: []platform.Option{{Key: "package", Kind: platform.KindWord, Help: "the name of the one package that holds the fonts for all others"}},
	}
}

// Type returns the declared family: Flutter tells styles apart by weight and slant.
func (Platform) Type(faces []face.Face) []string {
	return platform.Declared(faces)
}

// codeFile is the generated Dart file in lib/.
const codeFile = "app_type.dart"

type site struct {
	platform.Base
	name    string // of the package
	app     bool   // else others use it, and know its families by its name
	plugin  bool   // it brings code of the platforms
	several bool   // there are other apps
	// declared are the families in the pubspec now.
	declared []pubspec.Asset
}

var packageName = lazy.Regexp(`(?m)^\x{FEFF}?name:\s*["']?([a-z_][a-z0-9_]*)`)

// flutterSDK finds the dependency on Flutter's own SDK: that, and not a fonts block,
// makes a package one of Flutter's.
var flutterSDK = lazy.Regexp(`(?m)^(?:[^#\n]*[\s{,])["']?sdk["']?\s*:\s*["']?flutter["']?\s*(?:[},#]|$)`)

func usesFlutter(tree platform.Tree, pubspec string) bool {
	raw, err := tree.Read(pubspec)
	return err == nil && flutterSDK.Match(raw)
}

// Claims are the packages: their native parts take the fonts from Flutter's assets.
func (Platform) Claims(tree platform.Tree, _ platform.Options) map[string]platform.Claim {
	out := map[string]platform.Claim{}
	for _, file := range tree.Named("pubspec.yaml") {
		if usesFlutter(tree, file) {
			out[platform.Folder(file)] = platform.Whole
		}
	}
	return out
}

// Sites finds the apps, and the packages whose own widgets use roles; or the one package that holds
// the fonts for all. A plugin, or a package of a workspace that draws no text, gets no copies. Where
// there is no app at all, each package with widgets is served.
func (Platform) Sites(tree platform.Tree, opt platform.Options) ([]platform.Site, error) {
	var found platform.Found
	only := opt.Word("package")
	var all []*site
	for _, file := range tree.Named("pubspec.yaml") {
		if !usesFlutter(tree, file) {
			continue
		}
		s, err := newSite(tree, file)
		if err != nil {
			found.Add(path.Dir(file), nil, err)
		} else if only == "" || only == s.name {
			all = append(all, s)
		}
	}
	apps := 0
	for _, s := range all {
		if s.app {
			apps++
		}
	}
	for _, s := range all {
		if s.several = apps > 1 && only == ""; only != "" || s.app || !s.plugin && apps == 0 || s.usesRoles() {
			found.Add(s.Path(), s, nil)
		}
	}
	sites, err := found.All()
	if only != "" && len(sites) == 0 && err == nil && len(tree.Named("pubspec.yaml")) > 0 {
		err = platform.Refuse("Flutter", fmt.Sprintf("a package %q", only), "none in this tree", "correct the name under [target.flutter] in notaria.toml")
	}
	return sites, err
}

// usesRoles says whether a package's own widgets ask for roles, or its pubspec declares fonts.
func (s *site) usesRoles() bool {
	if len(s.declared) > 0 {
		return true
	}
	for _, f := range s.Tree.Under(path.Join(s.Dir, "lib")) {
		if path.Ext(f) != ".dart" || path.Base(f) == codeFile {
			continue
		}
		if raw, ok := s.Tree.Glance(f, platform.MostSource); ok && roleInDart.Match(language.Dart.Skeleton(raw)) {
			return true
		}
	}
	return false
}

var (
	roleInDart = lazy.Regexp(`\bAppType\.`)
	pluginKey  = lazy.Regexp(`(?m)^\s+plugin:\s*(?:#.*)?$|^flutter:\s*\{[^}\n]*\bplugin:`)
	mainFile   = lazy.Regexp(`^main(?:_\w+)?\.dart$`)
)

func newSite(tree platform.Tree, file string) (*site, error) {
	doc, err := platform.ReadDocument(tree, file)
	if err != nil {
		return nil, err
	}
	s := &site{Base: platform.Base{Tree: tree, Dir: platform.Folder(file)}}
	if m := packageName.FindSubmatch(doc.Text); m != nil {
		s.name = string(m[1])
	}
	for _, f := range tree.Under(path.Join(s.Dir, "lib")) {
		s.app = s.app || path.Dir(f) == path.Join(s.Dir, "lib") && mainFile.MatchString(path.Base(f))
	}
	s.plugin = pluginKey.Match(doc.Text)
	s.declared, _ = pubspec.Assets(doc) // what is wrong with it, the edit reports
	return s, nil
}

func (s *site) Title() string { return "Flutter " + s.Path() }

func (s *site) next() string {
	if s.several {
		return "stop the app and start it again: neither hot reload nor hot restart takes in a changed pubspec; there are several apps: one package can hold the fonts for all, by package = \"…\" under [target.flutter]"
	}
	return "stop the app and start it again: neither hot reload nor hot restart takes in a changed pubspec"
}

// place returns a face's file, from the package's folder, and the family that it is
// declared under: those that somebody chose, if it is there already.
func (s *site) place(job platform.Job, f platform.Face, declared string) (asset, family string) {
	at, ok := job.At(f, func(p string) bool {
		rel, inside := s.Rel(p)
		return inside && (s.familyOf(rel) != "" || strings.HasPrefix(rel, "fonts/") || strings.HasPrefix(rel, "assets/"))
	})
	asset, family = path.Join(platform.Relative(s.Dir, platform.Spelled(s.Tree, path.Join(s.Dir, "fonts"))), platform.FileBase(f.ID())+f.Ext), declared
	if ok {
		asset, _ = s.Rel(at)
	}
	if have := s.familyOf(asset); ok && have != "" {
		family = have
	}
	return asset, family
}

// familyOf is the family that a file is declared under now.
func (s *site) familyOf(asset string) string {
	for _, a := range s.declared {
		if path.Clean(a.Path) == asset {
			return a.Family
		}
	}
	return ""
}

// placed is where one face of a job is, and what it is declared under.
type placed struct {
	face          platform.Face
	asset, family string
}

// Plan is each face in fonts/, each under its family in the pubspec, with weight and
// slant where they are not the usual ones, and lib/app_type.dart.
func (s *site) Plan(job platform.Job) (platform.Plan, error) {
	p := platform.Plan{Next: s.next(), Answer: s.answer, Short: shortfalls(job)}
	var list []placed
	families := platform.Declared(job.Typed())
	for i, f := range job.Faces {
		asset, family := s.place(job, f, families[i])
		list = append(list, placed{f, asset, family})
		p.Files = append(p.Files, platform.File{Path: path.Join(s.Dir, asset), Recipe: platform.Original{Face: f.ID()}})
		e := edit.Entry{File: path.Join(s.Dir, "pubspec.yaml"), Syntax: pubspec.Syntax{}.Name(), Place: pubspec.Family(family), Value: asset}
		if w := platform.Hundreds(f.Weight); w != 400 {
			e.With = append(e.With, fmt.Sprintf("weight: %d", w))
		}
		if f.Slant != face.Upright {
			e.With = append(e.With, "style: italic")
		}
		p.Entries = append(p.Entries, e)
	}
	if len(job.Roles) == 0 {
		return p, nil
	}
	if s.app {
		p.Words = []string{"AppType"}
	}
	p.Show = func(role string) []platform.Showing {
		return platform.Ways(job.Roles, role, map[string][]string{"member": kit.Members(job.Roles, roleMember)}, platform.Way("Dart", `Text('07:40', style: AppType.{member})`))
	}
	text, err := s.code(job, list)
	p.Code = []platform.File{platform.Code(path.Join(s.Dir, "lib", codeFile), text)}
	return p, err
}

//go:embed app_type.dart.tmpl
var dartText string

var dartTemplate = lazy.Of(func() *template.Template { return template.Must(template.New(codeFile).Parse(dartText)) })

type dartFamily struct{ Member, Literal string }

// dartRole is a role as Dart writes it; empty fields are omitted.
type dartRole struct {
	platform.RoleText
	Member, Family, About, Slot, Fallback, Outline string
}

// generic are the names that engines have for a role's fallback.
var generic = map[string]string{"sans": "sans-serif", "serif": "serif", "mono": "monospace"}

// code is the text of lib/app_type.dart.
func (s *site) code(job platform.Job, list []placed) ([]byte, error) {
	var data struct {
		Families []dartFamily
		Faces    [][3]string // literals of face, family, asset
		Roles    []dartRole
		Slots    []dartRole
	}
	var names, families []string
	of := map[string]string{}
	for _, f := range list {
		if of[f.face.ID()] = f.family; !slices.Contains(families, f.family) {
			families = append(families, f.family)
			names = append(names, language.Camel(language.Words(f.family)))
		}
	}
	members := map[string]string{}
	key := func(name string) string {
		if !s.app && s.name != "" {
			return "packages/" + s.name + "/" + name
		}
		return name
	}
	for _, f := range list {
		data.Faces = append(data.Faces, [3]string{language.Dart.Literal(platform.Listed(f.face)), language.Dart.Literal(key(f.family)), language.Dart.Literal(key(f.asset))})
	}
	for i, n := range language.Unique(names) {
		members[families[i]] = member(n, "family") + "Family"
		data.Families = append(data.Families, dartFamily{members[families[i]], language.Dart.Literal(key(families[i]))})
	}
	taken := map[string]bool{}
	for _, r := range job.Roles {
		taken[member(language.Camel(language.Words(r.Name)), "role")] = true
	}
	for _, r := range job.Roles {
		role := newRole(r, members[of[r.Face.ID()]], taken)
		data.Roles = append(data.Roles, role)
		if role.Slot != "" {
			data.Slots = append(data.Slots, role)
		}
	}
	return platform.Render(dartTemplate, codeFile, data)
}

func newRole(r platform.Role, family string, taken map[string]bool) dartRole {
	role := dartRole{RoleText: r.Text(), Member: roleMember(r.Name), Family: family, Slot: slot(r.Name),
		About: language.Dart.Comment(r.About("logical pixels"))}
	role.Fallback = generic[r.Fallback]
	if r.Outline != nil {
		for role.Outline = role.Member + "Outline"; taken[role.Outline]; role.Outline += "Line" {
		}
	}
	return role
}

// shortfalls are what one TextStyle cannot express.
func shortfalls(job platform.Job) []platform.Shortfall {
	return platform.Shortfalls(job, map[string]string{
		platform.PartSpace: "", platform.PartShadow: "",
		platform.PartOutline:  "a TextStyle fills letters or draws their outline; lay a Text in the style of the name with Outline under one in the role's",
		platform.PartFallback: "Android, Linux and the web know the generic names; elsewhere Flutter's own font shows",
		platform.PartFixed:    "whether text follows the reader's size is up to the widget: Text(…, textScaler: TextScaler.noScaling)",
	})
}

// Held lists the fonts that the pubspec declares.
func (s *site) Held() ([]platform.Held, error) {
	if doc, err := platform.ReadDocument(s.Tree, path.Join(s.Dir, "pubspec.yaml")); err == nil {
		if _, err := pubspec.Assets(doc); err != nil {
			return nil, err
		}
	}
	var out []platform.Held
	for _, a := range s.declared {
		h := platform.Held{Manifest: path.Join(s.Dir, "pubspec.yaml"), Line: a.Line, Value: a.Family + ": " + a.Path, Name: a.Path}
		if !strings.HasPrefix(a.Path, "packages/") {
			h.File, h.Strict = path.Join(s.Dir, a.Path), true
			h.Alias = a.Family
			h.Write = func(file string) string { rel, _ := s.Rel(file); return rel }
			h.Hint = platform.Hint{Cause: "the file was deleted or renamed, or the path is mistyped: the build stops", Cure: "correct the path (it counts from the pubspec), or take the lines out"}
		}
		out = append(out, h)
	}
	return out, nil
}

// slots are the styles of Material's TextTheme; a role of that name, or of the
// first word of a group, takes its place there.
var slots = []string{"displayLarge", "displayMedium", "displaySmall", "headlineLarge", "headlineMedium", "headlineSmall",
	"titleLarge", "titleMedium", "titleSmall", "bodyLarge", "bodyMedium", "bodySmall", "labelLarge", "labelMedium", "labelSmall"}

func slot(role string) string {
	name := language.Camel(language.Words(role))
	if name == "heading" {
		name = "headline"
	}
	for _, s := range slots {
		if s == name || s == name+"Medium" {
			return s
		}
	}
	return ""
}

// taken is what the generated class has itself.
var taken = lazy.Words("textTheme report lines family font face json rootBundle")

func roleMember(role string) string { return member(language.Camel(language.Words(role)), "role") }

func member(name, kind string) string { return language.Dart.Member(name, kind, taken) }

// ofPackage names the package that a family is declared in.
var ofPackage = lazy.Regexp(`\b(?:package|fontPackage):\s*(?:['"]|[A-Za-z_])`)

// fontLoader loads a family when the app runs.
var fontLoader = lazy.Regexp(`\bFontLoader\s*\(\s*(?:'([^'\n$]+)'|"([^"\n$]+)")`)

// beside asks for a weight or a slant in the same parentheses as a family.
var beside = lazy.Regexp(`\bfont(?:Weight|Style)\s*:\s*((?:FontWeight|FontStyle)\.\w+)`)

// written writes it.
var written = platform.WritesStyle("fontWeight: FontWeight.w%s", strconv.Itoa, "fontStyle: FontStyle.italic")

var uses = []platform.Use{
	{Languages: dart, Elsewhere: ofPackage, Styles: beside, Bracket: '(', Beside: written, Sep: ",", Pattern: lazy.Regexp(`\bfontFamily:\s*r?'((?:[^'\\\n$]|\\.)*)'`)},
	{Languages: dart, Elsewhere: ofPackage, Styles: beside, Bracket: '(', Beside: written, Sep: ",", Pattern: lazy.Regexp(`\bfontFamily:\s*r?"((?:[^"\\\n$]|\\.)*)"`)},
	{Languages: dart, Elsewhere: ofPackage, Pattern: lazy.Regexp(`\bfontFamilyFallback:\s*(?:const\s*)?(?:<String>)?\[\s*['"]([^'"\n$]*)['"]`)},
	{Languages: dart, Elsewhere: ofPackage, Pattern: lazy.Regexp(`\bfontFamilyFallback:\s*(?:const\s*)?(?:<String>)?\[[^\]]*?,\s*['"]([^'"\n$]*)['"]`)},
	{Languages: dart, Kind: usePackage, Pattern: lazy.Regexp(`\bfontFamily:\s*r?['"]([^'"\n$]+['"]\s*,\s*package:\s*['"]\w+)['"]`)},
	{Languages: dart, Kind: platform.UseNetwork, Pattern: lazy.Regexp(`\b(GoogleFonts\.[a-z]\w*)\s*\(`)},
	{Languages: dart, Elsewhere: ofPackage, Named: true, Pattern: lazy.Regexp(`\bfontFamily:\s*([A-Za-z_][\w.]*)\s*[,)\n]`)},
}

var dart = []*language.Language{language.Dart}

// Uses are in the package.
func (s *site) Uses() (string, []platform.Use) { return s.Dir, uses }

var (
	pathOfPackage = lazy.Regexp(`(?m)^\s+path\s*:\s*["']?([^"'#\n]*[^"'#\s])`)
	nameInPubspec = lazy.Regexp(`(?m)^\s+([a-z_]\w*)\s*:`)
)

// Shares are the packages of the project that the app depends on: by their paths, or by names within a workspace.
func (s *site) Shares() []platform.Share {
	dirs := platform.Reach(s.Dir, func(dir string) []string {
		raw, err := s.Tree.Read(path.Join(dir, "pubspec.yaml"))
		if err != nil {
			return nil
		}
		var out []string
		for _, m := range pathOfPackage.FindAllSubmatch(raw, mostPackages) {
			out = append(out, path.Join(dir, string(m[1])))
		}
		for _, m := range nameInPubspec.FindAllSubmatch(raw, mostPackages) {
			for _, f := range s.Tree.Named("pubspec.yaml") {
				if at := platform.Folder(f); path.Base(at) == string(m[1]) {
					out = append(out, at)
				}
			}
		}
		return slices.DeleteFunc(out, func(dir string) bool { return !usesFlutter(s.Tree, path.Join(dir, "pubspec.yaml")) })
	})
	return platform.Sharing(s.Tree, s.Dir, dirs, uses, "FontLoader", "asset:")
}

// mostPackages is how many packages of one pubspec are looked at.
const mostPackages = 200

// usePackage is a family with the package that declares it.
const usePackage = "package"

var familyAndPackage = lazy.Regexp(`^([^'"]*)['"].*['"](\w+)$`)

// answerPackage judges a family of a package of the project: Flutter looks for it as packages/NAME/FAMILY (API reference,
// TextStyle.package), and an app's own families do not have that in front.
func (s *site) answerPackage(q platform.Question, name, family string) platform.Answer {
	families, known := s.familiesOf(name)
	if !known || slices.Contains(families, family) && (name != s.name || !s.app) {
		return platform.Answer{}
	}
	a := platform.Answer{Fault: platform.UnknownFace, Message: fmt.Sprintf("the package %s declares no family %q", face.Short(name), face.Short(family)), Cause: "Flutter looks for it among the families of that package, reports nothing, and shows its own font"}
	if a.Cure = platform.Choose(platform.Nearest(family, families), families); len(families) == 0 {
		a.Cure = fmt.Sprintf("declare it in the pubspec of %s, or take the package out", face.Short(name))
	}
	if name == s.name && s.app {
		if rel, inside := s.Rel(q.File); !inside || strings.HasPrefix(rel, "packages/") || s.usedByOthers() {
			return platform.Answer{}
		}
		a.Message = fmt.Sprintf("%s is this app itself: its families are declared without a package", name)
		a.Cause, a.Cure = "with the package Flutter looks for packages/"+name+"/"+face.Short(family)+", which only other apps have", "take the package out"
	}
	return a
}

// usedByOthers says whether another package of the project depends on this one: in that its families do have the package
// in front.
func (s *site) usedByOthers() bool {
	for _, f := range s.Tree.Named("pubspec.yaml") {
		if platform.Folder(f) == s.Dir {
			continue
		}
		raw, _ := s.Tree.Glance(f, platform.MostSource)
		for _, m := range nameInPubspec.FindAllSubmatch(raw, mostPackages) {
			if string(m[1]) == s.name {
				return true
			}
		}
	}
	return false
}

// allFamilies are those that any package of the project declares: a package's code can name families of the app that it is
// built into.
func (s *site) allFamilies() []string {
	var out []string
	for _, f := range s.Tree.Named("pubspec.yaml") {
		if doc, err := platform.ReadDocument(s.Tree, f); err == nil {
			declared, _ := pubspec.Assets(doc)
			for _, d := range declared {
				out = append(out, d.Family)
			}
		}
	}
	return out
}

// familiesOf are the families that a package of the project declares; false for one that is not in it, or that loads some
// when it runs.
func (s *site) familiesOf(name string) ([]string, bool) {
	for _, f := range s.Tree.Named("pubspec.yaml") {
		doc, err := platform.ReadDocument(s.Tree, f)
		if err != nil {
			continue
		}
		if m := packageName.FindSubmatch(doc.Text); m == nil || string(m[1]) != name {
			continue
		}
		declared, err := pubspec.Assets(doc)
		if err != nil || len(platform.LoadedNames(s.Tree, platform.Folder(f), dart, fontLoader)) > 0 {
			return nil, false
		}
		var out []string
		for _, d := range declared {
			if !slices.Contains(out, d.Family) {
				out = append(out, d.Family)
			}
		}
		return out, true
	}
	return nil, false
}

// fetched are functions of that package which load nothing.
var fetched = lazy.Words(`config asMap getFont getTextTheme pendingFonts`)

// answerFetch answers for a call of the package google_fonts, which takes a file of the family from the app's assets, where
// one is there, and fetches it otherwise.
func (s *site) answerFetch(q platform.Question) platform.Answer {
	_, call, _ := strings.Cut(q.Typed, ".")
	family := strings.ToLower(strings.TrimSuffix(call, "TextTheme"))
	if fetched.Has(call) || slices.ContainsFunc(q.Once("font files", func() []string {
		return slices.DeleteFunc(slices.Clone(s.Tree.Under(s.Dir)), func(f string) bool { return !platform.LooksLikeFont(f) })
	}), func(f string) bool {
		return strings.HasPrefix(strings.ToLower(path.Base(f)), family)
	}) {
		return platform.Answer{}
	}
	return platform.AnswerFetch(q.Typed)
}

// answer goes by the families that are, or will be, declared, and by those of other
// packages.
func (s *site) answer(q platform.Question) platform.Answer {
	if q.Use.Kind == platform.UseNetwork {
		return s.answerFetch(q)
	}
	if m := familyAndPackage.FindStringSubmatch(q.Typed); m != nil && q.Use.Kind == usePackage {
		return s.answerPackage(q, m[2], m[1])
	}
	if rest, ok := strings.CutPrefix(q.Typed, "packages/"); ok && q.Use.Kind == "" {
		if name, family, more := strings.Cut(rest, "/"); more {
			return s.answerPackage(q, name, family)
		}
	}
	if strings.HasPrefix(q.Typed, "packages/") || slices.Contains(q.System, q.Typed) {
		return platform.Answer{}
	}
	var names []string
	for _, e := range q.Plan.Entries {
		names = append(names, e.Place.Name)
	}
	for _, a := range s.declared {
		names = append(names, a.Family)
	}
	if slices.Contains(names, q.Typed) || q.Typed == "" || !s.app && slices.Contains(q.Once("all families", s.allFamilies), q.Typed) {
		return platform.Answer{}
	}
	loaded := q.Once("loaded "+s.Dir, func() []string {
		return platform.LoadedNames(s.Tree, s.Dir, []*language.Language{language.Dart}, fontLoader)
	})
	if slices.Contains(loaded, q.Typed) {
		return platform.Answer{}
	}
	if slices.Contains(q.Once("strayed "+s.Dir, s.strayed), q.Typed) {
		return platform.Answer{} // its declaration is what is wrong
	}
	slices.Sort(names)
	names = slices.Compact(names)
	near := platform.Nearest(q.Typed, names)
	a := platform.Answer{Fault: platform.UnknownFace, Message: fmt.Sprintf("no family is declared as %q", face.Short(q.Typed)),
		Cause: "Flutter reports nothing about an unknown family and shows its own font"}
	for _, f := range q.Faces {
		if q.Typed == f.ID() || q.Typed == f.Full {
			a.Message = fmt.Sprintf("%q is a face's name; Flutter goes by the family, and finds the face by weight and slant", face.Short(q.Typed))
			near = f.Family
		}
	}
	for _, a := range s.declared { // a file's name, or that of a font in it
		if stem := strings.TrimSuffix(path.Base(a.Path), path.Ext(a.Path)); path.Base(a.Path) == q.Typed || a.Path == q.Typed || stem == q.Typed {
			near = a.Family
		}
	}
	for _, e := range q.Plan.Entries {
		if path.Base(e.Value) == q.Typed || e.Value == q.Typed {
			near = e.Place.Name
		}
	}
	if near == "" && (installed.Has(q.Typed, installed.Any) || installed.IsIcon(q.Typed)) {
		return platform.Answer{}
	}
	a.Instead, a.Cure = near, platform.Unknown(near, names)
	if platform.LooksLikeFont(q.Typed) {
		a.Fault, a.Message = platform.FileAsName, fmt.Sprintf("%q is a file's name, not a family's", q.Typed)
	}
	return a
}

// Syntaxes is that of pubspecs.
func (Platform) Syntaxes() []edit.Syntax { return []edit.Syntax{pubspec.Syntax{}} }
