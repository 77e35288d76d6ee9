// Package android serves Android app modules: font resources under names that
// the resource compiler takes, a family for each typographic family, a text
// appearance for each role, and a Kotlin object that loads faces for views.
// Nothing has to be entered in a manifest: a resource is there by lying there.
package android

import (
	"fmt"
	"path"
	"regexp"
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
		Name: "android", Title: "Android", Typed: "R.font.… and @font/…",
		Minimum: "an app module with Gradle; Android 4.0 (API 14) through androidx.core",
		Cannot:  []string{"source sets and flavours", "assets/fonts", "Compose Multiplatform", "sizes that do not follow the reader's, in Compose"},
	}
}

// Type gives the resource names.
func (Target) Type(faces []face.Face) []string { return resourceNames(faces) }

// site is one app module.
type site struct {
	module    string // project-relative folder
	namespace string
	minimum   int    // API level, 0 if not known
	kotlin    string // folder of Kotlin sources; "" in a module of Java alone
	compose   bool
}

// usesCompose finds the build feature or the plugin that brings Compose.
var usesCompose = regexp.MustCompile(`\bcompose\s*=?\s*true\b|org\.jetbrains\.kotlin\.plugin\.compose|libs\.plugins\.[\w.]*compose`)

var (
	applies   = regexp.MustCompile(`(?m)(id\s*\(?\s*["']com\.android\.application["']|apply\s*\(?\s*plugin\s*[:=]\s*["']com\.android\.application["']|alias\s*\(?\s*libs\.plugins\.[\w.]*android[\w.]*application\b)([^\n]*)`)
	namespace = regexp.MustCompile(`(?m)^\s*namespace\s*=?\s*["']([A-Za-z_][\w.]*)["']`)
	minSDK    = regexp.MustCompile(`(?m)^\s*minSdk(?:Version)?\s*(?:=|\s|\()\s*(\d+)`)
	manifest  = regexp.MustCompile(`<manifest[^>]*\spackage\s*=\s*"([A-Za-z_][\w.]*)"`)
)

// Sites finds the modules that build an Android app.
func (Target) Sites(tree target.Tree) ([]target.Site, error) {
	var out []target.Site
	for _, base := range []string{"build.gradle", "build.gradle.kts"} {
		for _, file := range tree.Named(base) {
			raw, err := tree.Read(file)
			if err != nil {
				return nil, err
			}
			text := string(edit.BlankComments(raw)) // a plugin that is commented out does not count
			m := applies.FindStringSubmatch(text)
			if m == nil || strings.Contains(m[2], "apply false") || strings.Contains(m[2], "apply(false)") {
				continue
			}
			// The Android part of a React Native app takes its fonts as assets.
			if app := path.Dir(path.Dir(path.Dir(file))); strings.Contains(text, "com.facebook.react") && (target.UsesReactNative(tree, app) || target.UsesExpo(tree, app)) {
				continue
			}
			s := &site{module: path.Dir(file)}
			if s.module == "." {
				s.module = ""
			}
			if s.namespace, err = s.findNamespace(tree, file, text); err != nil {
				return nil, err
			}
			if m := minSDK.FindStringSubmatch(text); m != nil {
				fmt.Sscan(m[1], &s.minimum)
			}
			s.kotlin = s.sources(tree, text)
			s.compose = s.kotlin != "" && usesCompose.MatchString(text)
			out = append(out, s)
		}
	}
	return out, nil
}

func (s *site) findNamespace(tree target.Tree, file, text string) (string, error) {
	if m := namespace.FindStringSubmatch(text); m != nil {
		return m[1], nil
	}
	at := path.Join(s.module, "src/main/AndroidManifest.xml")
	if raw, err := tree.Read(at); err == nil {
		if m := manifest.FindStringSubmatch(string(raw)); m != nil {
			return m[1], nil
		}
	}
	return "", &target.SiteError{Site: "Android " + file, Expected: `a line namespace = "…", or a package in the manifest`, Found: "neither", Cure: "write the namespace into the android block"}
}

// sources is the folder that Kotlin files go to, or "" for a module without
// Kotlin.
func (s *site) sources(tree target.Tree, gradle string) string {
	java := path.Join(s.module, "src/main/java")
	kotlin := path.Join(s.module, "src/main/kotlin")
	uses := strings.Contains(gradle, "kotlin")
	for _, dir := range []string{kotlin, java} {
		for _, f := range tree.Under(dir) {
			if path.Ext(f) == ".kt" && path.Base(f) != codeFile && path.Base(f) != composeFile {
				return dir
			}
		}
	}
	if !uses {
		return ""
	}
	return java
}

func (s *site) Path() string {
	if s.module == "" {
		return "."
	}
	return s.module
}

func (s *site) Title() string { return "Android " + s.Path() }

func (s *site) Next() string { return "build and install the app again; R.font is made by the build" }

// Entries are none: resources need no entry.
func (s *site) Entries(target.Job) ([]edit.Entry, error) { return nil, nil }

// Files wants each face in res/font.
func (s *site) Files(job target.Job) ([]target.File, error) {
	names := resourceNames(faces(job))
	var out []target.File
	for i, f := range job.Faces {
		out = append(out, target.File{Path: path.Join(s.module, "src/main/res/font", names[i]+f.Ext), Copy: f.ID()})
	}
	return out, nil
}

func faces(job target.Job) []face.Face {
	out := make([]face.Face, len(job.Faces))
	for i, f := range job.Faces {
		out[i] = f.Face
	}
	return out
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
	name    string
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
		out[i].name = n
	}
	return out
}
