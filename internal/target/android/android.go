// Package android serves Android modules: font resources under names that the
// resource compiler takes, a family for each typographic family, a text
// appearance for each role, and code that loads faces for views and Compose. Where
// a project keeps its fonts as assets, they go there. Modules of Compose
// Multiplatform take theirs from composeResources. Nothing has to be entered in a
// manifest: a resource is there by lying there.
package android

import (
	"errors"
	"fmt"
	"path"
	"regexp"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/face"
	"notaria/internal/target"
)

// Target is the Android platform.
type Target struct{}

// About describes the platform.
func (Target) About() target.About {
	return target.About{
		Name: "android", Title: "Android", Typed: "R.font.…, @font/… and, in Compose Multiplatform, Res.font.…",
		Minimum: "a module with Gradle; Android 4.0 (API 14) through androidx.core",
		Cannot:  []string{"outlines", "sizes that do not follow the reader's, in Compose", "collections in Compose"},
		Options: []target.Option{
			{Key: "source-set", Kind: "word", Help: "the source set or flavour that gets the fonts; main, if it is not set"},
			{Key: "fonts", Kind: "word", Help: "res, assets or collection (one file a family, faces by index, from API 28); by what is there, if it is not set"},
			{Key: "modules", Kind: "list", Help: "folders of library modules that get the fonts, too"},
		},
	}
}

// Type gives the resource names.
func (Target) Type(faces []face.Face) []string { return resourceNames(faces) }

// site is one module.
type site struct {
	tree      target.Tree
	gradle    string
	module    string // project-relative folder
	set       string // source set
	res       string // its resources' folder, project-relative
	assets    string // its assets' folder
	namespace string
	minimum   int    // API level, 0 if not known
	kotlin    string // folder of Kotlin sources; "" in a module of Java alone
	java      string // folder of Java sources
	compose   bool
	asAssets  bool
	packed    bool // each family is one collection
}

// usesCompose finds the build feature or the plugin that brings Compose.
var usesCompose = regexp.MustCompile(`\bcompose\s*=?\s*true\b|org\.jetbrains\.kotlin\.plugin\.compose|libs\.plugins\.[\w.]*compose`)

// plugin matches the ways in which a module applies one of Android's plugins.
func plugin(kind string) *regexp.Regexp {
	return regexp.MustCompile(`(?m)(id\s*\(?\s*["']com\.android\.` + kind + `["']|apply\s*\(?\s*plugin\s*[:=]\s*["']com\.android\.` + kind + `["']|alias\s*\(?\s*libs\.plugins\.[\w.]*android[\w.]*` + kind + `\b)([^\n]*)`)
}

var (
	application = plugin("application")
	library     = plugin("library")
	namespace   = regexp.MustCompile(`(?m)^\s*namespace\s*=?\s*["']([A-Za-z_][\w.]*)["']`)
	minSDK      = regexp.MustCompile(`(?m)^\s*minSdk(?:Version)?\s*(?:=|\s|\()\s*(\d+)`)
	manifest    = regexp.MustCompile(`<manifest[^>]*\spackage\s*=\s*"([A-Za-z_][\w.]*)"`)
)

func applies(plugin *regexp.Regexp, gradle string) bool {
	m := plugin.FindStringSubmatch(gradle)
	return m != nil && !strings.Contains(m[2], "apply false") && !strings.Contains(m[2], "apply(false)")
}

// Sites finds the modules that build an Android app, the libraries that are named,
// and the modules of Compose Multiplatform.
func (Target) Sites(tree target.Tree, opt target.Options) ([]target.Site, error) {
	switch set := opt.Word("fonts"); set {
	case "", "res", "assets", "collection":
	default:
		return nil, &target.SiteError{Site: "Android", Expected: "res, assets or collection as fonts", Found: fmt.Sprintf("%q", set), Cure: "correct it under [target.android] in notaria.toml"}
	}
	var out []target.Site
	var wrong []error
	for _, base := range []string{"build.gradle", "build.gradle.kts"} {
		for _, file := range tree.Named(base) {
			if opt.LeftOut(path.Dir(file)) {
				continue
			}
			raw, err := tree.Read(file)
			if err != nil {
				return nil, err
			}
			text := string(edit.BlankComments(raw)) // a plugin that is commented out does not count
			if s := multiplatform(tree, file, text); s != nil {
				out = append(out, s)
				continue
			}
			if !buildsApp(tree, file, text) && !(applies(library, text) && slices.Contains(opt.List("modules"), path.Dir(file))) {
				continue
			}
			// The Android part of a React Native app takes its fonts as assets, that of a
			// Flutter app from Flutter's.
			app := path.Dir(path.Dir(path.Dir(file)))
			if target.UsesFlutter(tree, app) {
				continue
			}
			if strings.Contains(text, "com.facebook.react") && (target.UsesReactNative(tree, app) || target.UsesExpo(tree, app)) {
				continue
			}
			s, err := newSite(tree, file, text, opt)
			if err != nil {
				wrong = append(wrong, err)
				continue
			}
			out = append(out, s)
		}
	}
	return out, errors.Join(wrong...)
}

var androidBlock = regexp.MustCompile(`(?m)^\s*android\s*\{`)

// buildsApp says whether a module builds an app: by its plugin, or, where that comes
// from a plugin of the project's own, by a manifest with a launcher.
func buildsApp(tree target.Tree, file, text string) bool {
	if applies(application, text) {
		return true
	}
	raw, err := tree.Read(path.Join(path.Dir(file), "src/main/AndroidManifest.xml"))
	return err == nil && androidBlock.MatchString(text) && !applies(library, text) && strings.Contains(string(raw), "android.intent.category.LAUNCHER")
}

func newSite(tree target.Tree, file, text string, opt target.Options) (*site, error) {
	s := &site{tree: tree, gradle: file, module: target.Folder(file), set: opt.Word("source-set")}
	if s.set == "" {
		s.set = "main"
	}
	s.res, s.assets, s.java = s.folder(text, "res"), s.folder(text, "assets"), s.folder(text, "java")
	var err error
	if s.namespace, err = s.findNamespace(text); err != nil {
		return nil, err
	}
	if m := minSDK.FindStringSubmatch(text); m != nil {
		fmt.Sscan(m[1], &s.minimum)
	}
	s.kotlin = s.sources(text)
	s.compose = s.kotlin != "" && usesCompose.MatchString(text)
	s.asAssets, s.packed = opt.Word("fonts") == "assets", opt.Word("fonts") == "collection"
	if s.packed && (s.compose || s.minimum < indexAPI) {
		return nil, &target.SiteError{Site: s.Title(), Expected: fmt.Sprintf("views and minSdk %d for collections, whose faces go by index", indexAPI), Found: fmt.Sprintf("minSdk %d, Compose: %t", s.minimum, s.compose),
			Cure: "take fonts = \"collection\" out under [target.android] in notaria.toml"}
	}
	if opt.Word("fonts") == "" && !s.compose {
		own := slices.ContainsFunc(tree.Under(path.Join(s.res, "font")), target.IsFont)
		s.asAssets = !own && slices.ContainsFunc(tree.Under(path.Join(s.assets, fontsFolder)), target.IsFont)
	}
	return s, nil
}

// fontsFolder is the folder of the assets in which fonts lie.
const fontsFolder = "fonts"

// folder finds where the source set keeps something ("res", "assets", "java"):
// where the build file says, else in its usual place.
func (s *site) folder(gradle, what string) string {
	usual := path.Join(s.module, "src", s.set, what)
	sets := edit.BlockOf(gradle, regexp.MustCompile(`\bsourceSets\b`))
	for _, head := range []string{`\b` + s.set + `\b`, `["']` + s.set + `["']\s*\)`} {
		block := edit.BlockOf(sets, regexp.MustCompile(head))
		set := regexp.MustCompile(`\b` + what + `\.(?:srcDirs\s*=|srcDir\s*=|setSrcDirs)[^"'\n]*["']([^"'\n]+)["']`).FindStringSubmatch(block)
		if set != nil && !strings.Contains(set[1], "$") {
			return path.Join(s.module, set[1])
		}
	}
	return usual
}

func (s *site) findNamespace(text string) (string, error) {
	if m := namespace.FindStringSubmatch(text); m != nil {
		return m[1], nil
	}
	at := path.Join(s.module, "src/main/AndroidManifest.xml")
	if raw, err := s.tree.Read(at); err == nil {
		if m := manifest.FindStringSubmatch(string(raw)); m != nil {
			return m[1], nil
		}
	}
	return "", &target.SiteError{Site: "Android " + s.gradle, Expected: `a line namespace = "…", or a package in the manifest`, Found: "neither", Cure: "write the namespace into the android block"}
}

// generated are the names of our own sources.
var generated = []string{codeFile, composeFile, javaFile}

// sources is the folder that Kotlin files go to, or "" for a module without
// Kotlin.
func (s *site) sources(gradle string) string {
	kotlin := path.Join(s.module, "src", s.set, "kotlin")
	for _, dir := range []string{kotlin, s.java, path.Join(s.module, "src/main/kotlin"), path.Join(s.module, "src/main/java")} {
		for _, f := range s.tree.Under(dir) {
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

func (s *site) Path() string { return target.Shown(s.module) }

func (s *site) Title() string { return "Android " + s.Path() }

func (s *site) Next() string {
	if s.asAssets {
		return "build and install the app again"
	}
	return "build and install the app again; R.font is made by the build"
}

// Entries are none: resources need no entry.
func (s *site) Entries(target.Job) ([]edit.Entry, error) { return nil, nil }

// Files wants each face in res/font, or among the assets.
func (s *site) Files(job target.Job) ([]target.File, error) {
	if s.packed {
		return s.collections(job), nil
	}
	_, paths := s.places(job)
	return job.Copies(paths), nil
}

// indexAPI is the first API level that finds a face of a collection by its index.
const indexAPI = 28

// collections wants a file for each family.
func (s *site) collections(job target.Job) []target.File {
	var out []target.File
	for _, f := range s.families(faces(job)) {
		c := target.File{Path: path.Join(s.res, "font", f.collection()+".ttc")}
		for _, i := range f.members {
			c.Pack = append(c.Pack, job.Faces[i].ID())
		}
		out = append(out, c)
	}
	return out
}

// collection is the resource that holds a family's faces.
func (f family) collection() string { return f.name + "_faces" }

// places gives each face's name in code, and its path: where somebody's hand put
// it in this module, else where ours go.
func (s *site) places(job target.Job) (names, paths []string) {
	names = resourceNames(faces(job))
	if s.packed { // code asks for the family, and in it for a weight
		for _, f := range s.families(faces(job)) {
			for _, i := range f.members {
				names[i] = f.name
			}
		}
		return names, nil
	}
	dir, folder := path.Join(s.res, "font"), "font"
	if s.asAssets {
		dir, folder = path.Join(s.assets, fontsFolder), fontsFolder
	}
	for i, f := range job.Faces {
		base := names[i]
		if s.asAssets {
			base = target.FileBase(f.ID())
		}
		at, ok := job.At(f, func(p string) bool {
			return strings.HasPrefix(p, path.Join(s.module, "src")+"/") && strings.Contains(p, "/"+folder+"/") || path.Dir(p) == dir
		})
		if !ok {
			at = path.Join(dir, base+f.Ext)
		}
		paths = append(paths, at)
		if names[i] = strings.TrimSuffix(path.Base(at), path.Ext(at)); s.asAssets {
			names[i] = fontsFolder + "/" + path.Base(at)
		}
	}
	return names, paths
}

func faces(job target.Job) []face.Face {
	out := make([]face.Face, len(job.Faces))
	for i, f := range job.Faces {
		out[i] = f.Face
	}
	return out
}

// Shortfalls are what views and Compose cannot say.
func (s *site) Shortfalls(job target.Job) []target.Shortfall {
	why := map[string]string{target.PartOutline: "a TextView draws no outline; a view of your own can draw the text twice, once with Paint.Style.STROKE"}
	if !s.asAssets && !s.compose {
		why[target.PartLine] = "a text appearance holds none; AppType.apply sets it, and from API 28 the style Widget.AppType of the role"
	}
	if s.compose {
		why[target.PartFixed] = "Compose counts text in sp, which follows the reader's size; AppType.apply does not"
		why[target.PartFallback] = "a FontFamily of Compose names no other font; AppType.typeface falls back"
	}
	return target.Shortfalls(job, why)
}

// Held lists the fonts among the resources and assets of all source sets.
func (s *site) Held() ([]target.Held, error) {
	var out []target.Held
	for _, f := range s.tree.Under(path.Join(s.module, "src")) {
		base := path.Base(f)
		switch folder := path.Base(path.Dir(f)); {
		case target.IsFont(f) && folder == "font":
			out = append(out, target.Held{Manifest: path.Dir(f), Value: "R.font." + strings.TrimSuffix(base, path.Ext(base)), File: f})
		case target.IsFont(f) && strings.Contains(f, "/assets/"):
			_, at, _ := strings.Cut(f, "/assets/")
			out = append(out, target.Held{Manifest: path.Dir(f), Value: "asset " + at, File: f})
		}
	}
	return out, nil
}

// Words that the Java and Kotlin compilers keep for themselves: a resource of
// such a name makes an R class that does not compile.
var keywords = func() map[string]bool {
	m := map[string]bool{}
	for _, w := range strings.Fields(`abstract as assert boolean break byte case catch char class const continue default do
		double else enum extends false final finally float for fun goto if implements import in instanceof int interface is
		long native new null object package private protected public return short static strictfp super switch synchronized
		this throw throws transient true try typealias typeof val var void volatile when while`) {
		m[w] = true
	}
	return m
}()

// resourceName makes words a legal resource name: [a-z][a-z0-9_]*, no keyword.
func resourceName(words []string) string {
	name := target.Snake(words)
	switch {
	case name == "":
		return "face"
	case name[0] >= '0' && name[0] <= '9', keywords[name]:
		return "face_" + name
	}
	return name
}

// resourceNames gives each face a resource name; family files claim theirs
// first, for they share the folder and so the name space.
func resourceNames(list []face.Face) []string {
	names := make([]string, 0, 2*len(list))
	for _, f := range families(list) {
		names = append(names, f.name)
	}
	claimed := len(names)
	for _, f := range list {
		name := resourceName(target.Words(f.ID()))
		for _, c := range names[:claimed] {
			if name == c {
				name += "_" + resourceName(target.Words(f.Style))
				break
			}
		}
		names = append(names, name)
	}
	return target.Unique(names)[claimed:]
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
			out = append(out, family{name: resourceName(target.Words(f.Family)), title: f.Family})
		}
		out[k].members = append(out[k].members, i)
	}
	names := make([]string, len(out))
	for i := range out {
		names[i] = out[i].name
	}
	for i, n := range target.Unique(names) {
		out[i].name, out[i].plain = n, n
	}
	return out
}
