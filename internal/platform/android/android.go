// Package android serves Android modules: font resources under names that the
// resource compiler takes, a family for each typographic family, a text
// appearance for each role, and code that loads faces for views and Compose. Where
// a project keeps its fonts as assets, they go there. Modules of Compose
// Multiplatform take theirs from composeResources. Nothing has to be entered in a
// manifest: a resource is there by lying there.
package android

import (
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/disk"
	"notaria/internal/edit"
	"notaria/internal/edit/source"
	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

// Platform is the Android platform.
type Platform struct{}

// About describes the platform.
func (Platform) About() platform.About {
	return platform.About{
		Name: "android", Title: "Android", Kind: platform.ByResource, Typed: "R.font.…, @font/… and, in Compose Multiplatform, Res.font.…",
		Minimum: "a module with Gradle; Android 4.0 (API 14) through androidx.core",
		Gets:    "in any source set or flavour: res/font with families for all API levels and text appearances, one collection a family with its faces by index (from API 28), or assets/fonts; AppType.kt or AppType.java, with AndroidX, the support library or neither; AppTextStyles.kt for Compose. Compose Multiplatform: composeResources/font and its library",
		Cannot:  []string{"outlines", "sizes that do not follow the reader's, in Compose", "collections in Compose"},
		Options: []platform.Option{
			{Key: "source-set", Kind: platform.KindWord, Help: "the source set or flavour that gets the fonts; main, if it is not set"},
			{Key: "fonts", Kind: platform.KindWord, Help: "res, assets or collection (one file a family, faces by index, from API 28); by what is there, if it is not set"},
			{Key: "modules", Kind: platform.KindList, Help: "folders of library modules that get the fonts, too"},
			{Key: namespacesKey, Kind: platform.KindList, Help: `namespaces that a plugin of the project sets, each as "FOLDER: NAMESPACE"`},
		},
	}
}

// Type returns the resource names.
func (Platform) Type(faces []face.Face) []string { return resourceNames(faces) }

// site is one module.
type site struct {
	platform.Base // of the module
	gradle        string
	set           string // source set
	res           string // its resources' folder, project-relative
	assets        string // its assets' folder
	namespace     string
	minimum       int // API level, 0 if not known
	library       library
	kotlin        string // folder of Kotlin sources; "" in a module of Java alone
	java          string // folder of Java sources
	compose       bool
	asAssets      bool
	app           bool // else a library, whose apps can be anywhere
	packed        bool // each family is one collection
}

// usesCompose finds the build feature or the plugin that brings Compose.
var usesCompose = lazy.Regexp(`\bcompose\s*=?\s*true\b|org\.jetbrains\.kotlin\.plugin\.compose|libs\.plugins\.[\w.]*compose`)

// plugin matches the ways in which a module applies one of Android's plugins.
func plugin(kind string) *lazy.Pattern {
	return lazy.Regexp(`(?m)(id\s*\(?\s*["']com\.android\.` + kind + `["']\s*\)?|apply\s*\(?\s*plugin\s*[:=]\s*["']com\.android\.` + kind + `["']|alias\s*\(?\s*libs\.plugins\.[\w.]*android[\w.]*` + kind + `\b\s*\)?)([^\n;]*)`)
}

var (
	application   = plugin("application")
	libraryPlugin = plugin("library")
	manifest      = lazy.Regexp(`<manifest[^>]*\spackage\s*=\s*"([A-Za-z_][\w.]*)"`)
)

func applies(plugin *lazy.Pattern, gradle string) bool {
	m := plugin.FindStringSubmatch(gradle)
	return m != nil && !strings.Contains(m[2], "apply false") && !strings.Contains(m[2], "apply(false)")
}

// Sites finds the modules that build an Android app, the libraries that are named,
// and the modules of Compose Multiplatform.
func (Platform) Sites(tree platform.Tree, opt platform.Options) ([]platform.Site, error) {
	switch set := opt.Word("fonts"); set {
	case "", "res", "assets", "collection":
	default:
		return nil, platform.Refuse("Android", "res, assets or collection as fonts", fmt.Sprintf("%q", set), "correct it under [target.android] in notaria.toml")
	}
	var found platform.Found
	var libraries, apps []string // folders of modules
	named := func(dir string) bool {
		return slices.ContainsFunc(opt.List("modules"), func(m string) bool { return path.Clean(m) == dir })
	}
	for _, base := range []string{"build.gradle", "build.gradle.kts"} {
		for _, file := range tree.Named(base) {
			doc, err := platform.ReadDocument(tree, file)
			if err != nil {
				found.Add(path.Dir(file), nil, err)
				continue
			}
			text := string(language.Of(file).Blank(doc.Text)) // a plugin that is commented out does not count
			b := newBuild(tree, file, text)
			text = b.text
			if s := multiplatform(tree, file, text); s != nil {
				found.Add(path.Dir(file), s, nil)
				continue
			}
			if tree.Claim(platform.Folder(file)) == platform.OfGame {
				continue
			}
			isLibrary := applies(libraryPlugin, text)
			if isLibrary {
				libraries = append(libraries, path.Dir(file))
			}
			if !buildsApp(tree, file, text) && !(isLibrary && named(path.Dir(file))) || belongsToOther(tree, file, text) {
				continue
			}
			apps = append(apps, path.Dir(file))
			s, err := newSite(b, doc, opt)
			found.Add(path.Dir(file), s, err)
		}
	}
	for _, m := range opt.List("modules") {
		if dir := path.Clean(m); !slices.Contains(libraries, dir) && !slices.Contains(apps, dir) {
			found.Add("", nil, platform.Refuse("notaria.toml", fmt.Sprintf("the folder of an Android library, for modules under [target.android]: %q", m),
				"libraries in "+strings.Join(append(libraries, "no other folder"), ", "), "correct the name, or take it out"))
		}
	}
	return found.All()
}

// belongsToOther says whether a module is the Android part of an app of another
// platform: one of React Native takes its fonts as assets, one of Flutter from Flutter.
func belongsToOther(tree platform.Tree, file, text string) bool {
	app := path.Dir(path.Dir(path.Dir(file)))
	claim := tree.Claim(app)
	return claim == platform.Whole || claim == platform.Parts && strings.Contains(text, "com.facebook.react")
}

var (
	androidBlock  = lazy.Regexp(`(?m)^\s*android\s*\{`)
	androidPlugin = lazy.Regexp(`(?:\bid\s*\(?\s*["'][\w.-]*|\balias\s*\(?\s*\w+\.plugins\.[\w.]*)android`) // of the project's own
)

// buildsApp says whether a module builds an app: by its plugin, or, where that comes
// from a plugin of the project's own, by a manifest with a launcher.
func buildsApp(tree platform.Tree, file, text string) bool {
	if applies(application, text) {
		return true
	}
	raw, err := tree.Read(path.Join(path.Dir(file), "src/main/AndroidManifest.xml"))
	return err == nil && (androidBlock.MatchString(text) || androidPlugin.MatchString(text)) && !applies(libraryPlugin, text) && strings.Contains(string(raw), "android.intent.category.LAUNCHER")
}

func newSite(b *build, doc edit.Document, opt platform.Options) (platform.Site, error) {
	tree, text := b.tree, b.text
	s := &site{Base: platform.Base{Tree: tree, Dir: platform.Folder(doc.File)}, app: buildsApp(tree, doc.File, text), gradle: doc.File, set: opt.Word("source-set")}
	if s.set == "" {
		s.set = "main"
	}
	s.res, s.assets, s.java = s.folder(doc, "res"), s.folder(doc, "assets"), s.folder(doc, "java")
	var err error
	if s.namespace, err = s.findNamespace(b, opt); err != nil {
		return nil, err
	}
	fmt.Sscan(b.find(minSDKIs, func(v string) bool { return digits.FindString(v) == v && v != "" }), &s.minimum)
	s.kotlin = s.sources(text)
	s.compose = s.kotlin != "" && usesCompose.MatchString(text)
	s.library = s.findLibrary(b)
	s.asAssets, s.packed = opt.Word("fonts") == "assets", opt.Word("fonts") == "collection"
	if s.packed && (s.compose || s.minimum < indexAPI) {
		return nil, platform.Refuse(s.Path(), fmt.Sprintf("views and minSdk %d for collections, whose faces go by index", indexAPI), fmt.Sprintf("minSdk %d, Compose: %t", s.minimum, s.compose),
			"take fonts = \"collection\" out under [target.android] in notaria.toml")
	}
	if opt.Word("fonts") == "" && !s.compose {
		own := slices.ContainsFunc(tree.Under(path.Join(s.res, "font")), platform.IsFont)
		s.asAssets = !own && slices.ContainsFunc(tree.Under(path.Join(s.assets, fontsFolder)), platform.IsFont)
	}
	return s, nil
}

// fontsFolder is the folder of the assets in which fonts lie.
const fontsFolder = "fonts"

// folder finds where the source set keeps something ("res", "assets", "java"):
// where the build file says, else in its usual place.
func (s *site) folder(gradle edit.Document, what string) string {
	usual := platform.Spelled(s.Tree, path.Join(s.Dir, "src", s.set, what))
	sets := source.BlockOf(gradle, lazy.Regexp(`\bsourceSets\b`))
	for _, head := range []string{`\b` + s.set + `\b`, `["']` + s.set + `["']\s*\)`} {
		block := source.BlockOf(gradle.With([]byte(sets)), lazy.Regexp(head))
		set := lazy.Regexp(`\b` + what + `\.(?:srcDirs\s*=|srcDir\s*=|setSrcDirs)[^"'\n]*["']([^"'\n]+)["']`).FindStringSubmatch(block)
		if set != nil && !strings.Contains(set[1], "$") {
			return path.Join(s.Dir, set[1])
		}
	}
	return usual
}

// generated are the names of our own sources.
var generated = []string{codeFile, composeFile, javaFile}

// sources is the folder that Kotlin files go to, or "" for a module without
// Kotlin.
func (s *site) sources(gradle string) string {
	kotlin := path.Join(s.Dir, "src", s.set, "kotlin")
	for _, dir := range []string{kotlin, s.java, path.Join(s.Dir, "src/main/kotlin"), path.Join(s.Dir, "src/main/java")} {
		for _, f := range s.Tree.Under(dir) {
			if path.Ext(f) == ".kt" && !slices.Contains(generated, path.Base(f)) {
				return strings.Replace(dir, "src/main/", "src/"+s.set+"/", 1)
			}
		}
	}
	if !strings.Contains(gradle, "kotlin") {
		return ""
	}
	return s.java
}

func (s *site) Title() string { return "Android " + s.Path() }

func (s *site) next() string {
	if s.asAssets {
		return "build and install the app again"
	}
	if s.library == noneOf && s.minimum < familyAPI {
		return "build and install the app again; R.font is made by the build; before Android 8 (API 26) a layout shows the fonts only with AndroidX, so give its views their roles by AppType.apply"
	}
	return "build and install the app again; R.font is made by the build"
}

// indexAPI is the first API level that finds a face of a collection by its index.
const indexAPI = 28

// Plan is each face in res/font, or among the assets, or each family in one file; the
// family files, the styles and an accessor. Resources need no entry in a manifest.
func (s *site) Plan(job platform.Job) (platform.Plan, error) {
	l := s.layout(job)
	p := platform.Plan{Next: s.next(), Answer: s.answer, Short: s.shortfalls(job)}
	if s.packed {
		p.Files = l.collections()
	} else {
		p.Files = job.Copies(l.paths)
	}
	if s.app {
		p.Words = useWords
	}
	p.Show = func(role string) []platform.Showing {
		var ways []platform.Showing
		if s.compose && s.kotlin != "" && !s.asAssets {
			ways = append(ways, composeWay)
		}
		if !s.asAssets {
			ways = append(ways, platform.Way("layout XML", `android:textAppearance="@style/TextAppearance.AppType.{style}"`))
		}
		if s.kotlin != "" {
			ways = append(ways, platform.Way("Kotlin", `AppType.apply(label, AppType.Role.{constant})`))
		} else {
			ways = append(ways, platform.Way("Java", `AppType.apply(label, AppType.Role.{constant});`))
		}
		return shown(job, role, ways...)
	}
	var err error
	p.Code, err = l.code()
	return p, err
}

var useWords = []string{"AppType", "AppTextStyles"}

var composeWay = platform.Way("Compose", `Text("07:40", style = AppTextStyles.{value})`)

// shown fills the names of roles in.
func shown(job platform.Job, role string, ways ...platform.Showing) []platform.Showing {
	names := map[string][]string{}
	for _, r := range job.Roles {
		n := namesOf(r)
		names["constant"], names["style"], names["value"] = append(names["constant"], n.Member), append(names["style"], n.Style), append(names["value"], n.Value)
	}
	return platform.Ways(job.Roles, role, names, ways...)
}

// layout is where the faces of one job are, and how code calls them.
type layout struct {
	*site
	job          platform.Job
	names, paths []string // of the faces, in order
	families     []family
}

func (s *site) layout(job platform.Job) *layout {
	l := &layout{site: s, job: job, families: familiesBeside(s.Tree, path.Join(s.res, "font"), job.Typed())}
	l.names, l.paths = s.places(job, l.families)
	return l
}

// collections is a file for each family.
func (l *layout) collections() []platform.File {
	var out []platform.File
	for _, f := range l.families {
		var members []string
		for _, i := range f.members {
			members = append(members, l.job.Faces[i].ID())
		}
		out = append(out, platform.File{Path: path.Join(l.res, "font", f.collection()+".ttc"), Recipe: platform.Collection{Members: members}})
	}
	return out
}

// collection is the resource that holds a family's faces.
func (f family) collection() string { return f.name + "_faces" }

// places returns each face's name in code, and its path: where somebody put it in this
// module, else where ours go.
func (s *site) places(job platform.Job, families []family) (names, paths []string) {
	names = resourceNames(job.Typed())
	if s.packed { // code asks for the family, and in it for a weight
		for _, f := range families {
			for _, i := range f.members {
				names[i] = f.name
			}
		}
		return names, nil
	}
	dir := path.Join(s.res, "font")
	if s.asAssets {
		dir = platform.Spelled(s.Tree, path.Join(s.assets, fontsFolder))
	}
	for i, f := range job.Faces {
		base := names[i]
		if s.asAssets {
			base = platform.FileBase(f.ID())
		}
		at, ok := job.At(f, s.takes)
		if !ok {
			at = path.Join(dir, base+f.Ext)
		}
		paths = append(paths, at)
		if names[i] = strings.TrimSuffix(path.Base(at), path.Ext(at)); s.asAssets {
			names[i], _ = platform.Below(s.assetsOf(at), at)
		}
	}
	return names, paths
}

// takes says whether a font file is in every build that is to have it: among the resources or
// assets of the source set, or of main, which is in all; not in those of another flavour, or of
// debug. The name of a resource must be one that the build takes.
func (s *site) takes(file string) bool {
	if s.asAssets {
		return s.assetsOf(file) != ""
	}
	dir := path.Dir(file)
	return (dir == path.Join(s.res, "font") || dir == path.Join(s.Dir, "src/main/res/font")) && legalName(file)
}

// assetsOf is the folder of assets that a file is in, "" for none that counts.
func (s *site) assetsOf(file string) string {
	for _, dir := range []string{s.assets, path.Join(s.Dir, "src/main/assets")} {
		if strings.HasPrefix(file, dir+"/") {
			return dir
		}
	}
	return ""
}

// legalName says whether a file can be a resource (Android's "App resources overview": lower-case
// letters, digits and underscores, and the name of a field in Java).
func legalName(file string) bool {
	base := path.Base(file)
	name := strings.TrimSuffix(base, path.Ext(base))
	return resourceFile.MatchString(base) && !language.Java.Reserved.Has(name)
}

var resourceFile = lazy.Regexp(`^[a-z][a-z0-9_]*\.(?:ttf|otf|ttc|xml)$`)

// shortfalls are what views and Compose cannot express.
func (s *site) shortfalls(job platform.Job) []platform.Shortfall {
	why := map[string]string{platform.PartOutline: "a TextView draws no outline; a view of your own can draw the text twice, once with Paint.Style.STROKE"}
	why[platform.PartShadow] = "a text appearance and a TextStyle count it in pixels of the screen; AppType.apply has it in dp"
	if s.asAssets && !s.compose {
		why[platform.PartShadow] = ""
	}
	if !s.asAssets && !s.compose {
		why[platform.PartLine] = "a text appearance holds none; AppType.apply sets it, and from API 28 the style Widget.AppType of the role"
	}
	if s.compose {
		why[platform.PartFixed] = "Compose counts text in sp, which follows the reader's size; AppType.apply does not"
		why[platform.PartFallback] = "a FontFamily of Compose names no other font; AppType.typeface falls back"
	}
	return platform.Shortfalls(job, why)
}

// Held lists the fonts among the resources and assets of all source sets.
func (s *site) Held() ([]platform.Held, error) {
	var out []platform.Held
	taken := map[string]bool{}
	for _, f := range s.Tree.Under(path.Join(s.Dir, "src")) {
		taken[f] = true
	}
	for _, f := range s.Tree.Under(path.Join(s.Dir, "src")) {
		base := path.Base(f)
		switch folder := path.Base(path.Dir(f)); {
		case platform.IsFont(f) && folder == "font" && !legalName(f):
			h := platform.Held{Manifest: f, Value: base, File: f, Part: s.setOf(f), Hint: platform.Hint{
				Cause: "the build takes lower-case letters, digits and underscores alone, and stops", Cure: "delete it: the face is there under a name that the build takes"}}
			if to := path.Join(path.Dir(f), resourceName(language.Words(strings.TrimSuffix(base, path.Ext(base))))+strings.ToLower(path.Ext(base))); !taken[to] {
				h.Hint.Cure = "rename it to " + path.Base(to)
				h.Mend = platform.Mending{Moves: []platform.Move{{From: f, To: to}}}
			}
			h.Refused, h.Alias = true, resourceName(language.Words(strings.TrimSuffix(base, path.Ext(base))))
			out = append(out, h)
		case platform.IsFont(f) && folder == "font":
			name := strings.TrimSuffix(base, path.Ext(base))
			out = append(out, platform.Held{Manifest: f, Value: "R.font." + name, File: f, Bundle: strings.TrimSuffix(f, path.Ext(f)), Part: s.setOf(f), Alias: "font." + name})
		case platform.IsFont(f) && strings.Contains(f, "/assets/"):
			_, at, _ := strings.Cut(f, "/assets/")
			out = append(out, platform.Held{Manifest: f, Value: "asset " + at, File: f, Part: s.setOf(f)})
		}
	}
	return out, nil
}

// resourceName makes words a legal resource name: [a-z][a-z0-9_]*, no keyword.
func resourceName(words []string) string {
	name := language.Snake(words)
	switch {
	case name == "":
		return "face"
	case name[0] >= '0' && name[0] <= '9', language.Java.Reserved.Has(name), disk.IsReserved(name):
		return "face_" + name
	}
	return name
}

// resourceNames returns each face a resource name; family files claim theirs
// first, for they share the folder and so the name space.
func resourceNames(list []face.Face) []string {
	names := make([]string, 0, 2*len(list))
	for _, f := range families(list) {
		names = append(names, f.name)
	}
	claimed := len(names)
	for _, f := range list {
		name := resourceName(language.Words(f.ID()))
		for _, c := range names[:claimed] {
			if name == c {
				name += "_" + resourceName(language.Words(f.Style))
				break
			}
		}
		names = append(names, name)
	}
	return language.Unique(names)[claimed:]
}

// family is a typographic family's file in res/font.
type family struct {
	name    string // of its file
	plain   string // for code: it stays when the file's must differ
	title   string
	members []int
}

// families groups faces in order of their first; a family of that name twice,
// after folding, gets a number.
func families(list []face.Face) []family {
	var out []family
	at := map[string]int{}
	for i, f := range list {
		k, ok := at[f.Family]
		if !ok {
			k = len(out)
			at[f.Family] = k
			out = append(out, family{name: resourceName(language.Words(f.Family)), title: f.Family})
		}
		out[k].members = append(out[k].members, i)
	}
	names := make([]string, len(out))
	for i := range out {
		names[i] = out[i].name
	}
	for i, n := range language.Unique(names) {
		out[i].name, out[i].plain = n, n
	}
	return out
}
