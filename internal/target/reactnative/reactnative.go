// Package reactnative serves React Native and Expo. The iOS part of a bare app is
// an Apple site like any other; this target adds what Android wants, and the code
// that both share. On Android a face answers to its file's name without ending, on
// iOS to its PostScript name: files placed under their PostScript names make one
// string serve both. Where a project asks for it, Android gets families instead,
// which take a weight as iOS does.
package reactnative

import (
	"fmt"
	"path"
	"regexp"
	"strconv"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/face"
	"notaria/internal/target"
	"notaria/internal/target/android"
)

// Target is the React Native platform.
type Target struct{}

// familiesKey is the option by which Android gets families.
const familiesKey = "android-families"

// About describes the platform.
func (Target) About() target.About {
	return target.About{
		Name: "react-native", Title: "React Native", Typed: "fontFamily: '…'",
		Minimum: "React Native 0.60 without Expo; React 18",
		Cannot:  []string{"outlines", "another font where a face is missing", "Expo (a target of its own)"},
		Options: []target.Option{{Key: familiesKey, Kind: "choice", Help: "true: on Android, families with weights through res/font and MainApplication, instead of a name for each face"}},
	}
}

// Type gives the PostScript name, which is the placed file's name as well; where
// no file can have it, both.
func (Target) Type(faces []face.Face) []string {
	out := make([]string, len(faces))
	for i, f := range faces {
		if out[i] = f.ID(); f.ID() != "" && target.FileBase(f.ID()) != f.ID() {
			out[i] = target.FileBase(f.ID()) + " on Android, " + f.ID() + " on iOS"
		}
	}
	return out
}

// site is a package with code in JavaScript or TypeScript.
type site struct {
	tree   target.Tree
	dir    string // of package.json
	code   string // folder for the generated file
	script bool   // plain JavaScript
}

// bareSite is one with native parts of its own.
type bareSite struct {
	site
	families bool
	main     string // MainApplication.kt or .java
	fontsIn  string // package of ReactFontManager
	space    string // namespace of the Android part, for its R class
}

// Folders of the Android part: assets is where its text engine looks.
const (
	assets    = "android/app/src/main/assets/fonts"
	resources = "android/app/src/main/res"
	sources   = "android/app/src/main/java"
)

// Sites finds the packages that depend on react-native and have both native
// parts in their tree.
func (Target) Sites(tree target.Tree, opt target.Options) ([]target.Site, error) {
	var out []target.Site
	for _, file := range tree.Named("package.json") {
		dir := target.Folder(file)
		if !target.UsesReactNative(tree, dir) || len(tree.Under(path.Join(dir, "android/app"))) == 0 {
			continue
		}
		s := &bareSite{site: codeSite(tree, dir), families: opt.Yes(familiesKey)}
		if s.families {
			s.findMain()
		}
		out = append(out, s)
	}
	return out, nil
}

// codeSite finds where a package keeps its code, and in which language.
func codeSite(tree target.Tree, dir string) site {
	s := site{tree: tree, dir: dir, code: dir, script: true}
	if len(tree.Under(path.Join(dir, "src"))) > 0 {
		s.code = path.Join(dir, "src")
	}
	for _, f := range tree.Named("tsconfig.json") {
		if f == path.Join(dir, "tsconfig.json") {
			s.script = false
		}
	}
	return s
}

var (
	versionDigits = regexp.MustCompile(`(\d+)\.(\d+)`)
	gradleSpace   = regexp.MustCompile(`(?m)^\s*namespace\s*=?\s*["']([A-Za-z_][\w.]*)["']`)
)

// findMain finds the class in which the app starts, and what it needs to name.
func (s *bareSite) findMain() {
	for _, f := range s.tree.Under(path.Join(s.dir, sources)) {
		if base := path.Base(f); base == "MainApplication.kt" || base == "MainApplication.java" {
			s.main = f
		}
	}
	s.fontsIn = "com.facebook.react.common.assets"
	if m := versionDigits.FindStringSubmatch(target.Version(s.tree, s.dir, "react-native")); m != nil {
		major, _ := strconv.Atoi(m[1])
		if minor, _ := strconv.Atoi(m[2]); major == 0 && minor < 73 {
			s.fontsIn = "com.facebook.react.views.text"
		}
	}
	for _, base := range []string{"build.gradle", "build.gradle.kts"} {
		if raw, err := s.tree.Read(path.Join(s.dir, "android/app", base)); err == nil {
			if m := gradleSpace.FindSubmatch(edit.BlankComments(raw)); m != nil {
				s.space = string(m[1])
			}
		}
	}
}

func (s *site) Path() string { return target.Shown(s.dir) }

func (s *bareSite) Title() string { return "React Native " + s.Path() }

func (s *bareSite) Next() string {
	return "build both apps again (run-android, run-ios): a restart of the bundler alone shows nothing"
}

// Entries are none where faces go by their own names: on Android a file is there by
// lying there, and iOS is an Apple site. Families are registered when the app
// starts.
func (s *bareSite) Entries(job target.Job) ([]edit.Entry, error) {
	if !s.families || len(job.Faces) == 0 {
		return nil, nil
	}
	if s.main == "" {
		return nil, &target.SiteError{Site: s.Title(), Expected: "a MainApplication.kt or MainApplication.java", Found: "none", Cure: "leave " + familiesKey + " out under [target.react-native], or restore the class"}
	}
	_, _, names, err := android.Families(path.Join(s.dir, resources), 0, job)
	if err != nil {
		return nil, err
	}
	end := ""
	quote := func(family string) string { return target.Quoted(family, '"', "$", javaEscape) }
	if path.Ext(s.main) == ".java" {
		end = ";"
		quote = func(family string) string { return target.Quoted(family, '"', "", octalEscape) }
	}
	entry := func(place, line string) edit.Entry {
		return edit.Entry{File: s.main, Syntax: edit.SyntaxSource, Place: place, Value: line + end}
	}
	out := []edit.Entry{entry("import", "import "+s.fontsIn+".ReactFontManager")}
	if raw, err := s.tree.Read(s.main); err == nil && s.space != "" && !strings.Contains(string(raw), "package "+s.space) {
		out = append(out, entry("import", "import "+s.space+".R"))
	}
	done := map[string]bool{}
	for _, f := range job.Faces {
		if !done[f.Family] {
			done[f.Family] = true
			out = append(out, entry("after:super.onCreate()", fmt.Sprintf("ReactFontManager.getInstance().addCustomFont(this, %s, R.font.%s)", quote(f.Family), names[f.Family])))
		}
	}
	return out, nil
}

// octalEscape is javaEscape for Java, which reads \u before it knows of strings: a
// line end so written would end the line.
func octalEscape(r rune) string {
	if r < 0x20 {
		return fmt.Sprintf(`\%03o`, r)
	}
	return javaEscape(r)
}

// javaEscape writes what is not ASCII in UTF-16, as Java and Kotlin do.
func javaEscape(r rune) string {
	if r > 0xffff {
		r -= 0x10000
		return fmt.Sprintf(`\u%04X\u%04X`, 0xd800+(r>>10), 0xdc00+(r&0x3ff))
	}
	return fmt.Sprintf(`\u%04X`, r)
}

// Files wants each face in the Android part.
func (s *bareSite) Files(job target.Job) ([]target.File, error) {
	if s.families {
		faces, families, _, err := android.Families(path.Join(s.dir, resources), 0, job)
		return append(faces, families...), err
	}
	return s.place(job, assets, s.Title())
}

// at is where a face lies below a folder: where somebody's hand put it, else under
// the name that code types.
func (s *site) at(job target.Job, f target.Face, folder string) string {
	at, ok := job.At(f, func(p string) bool { return path.Dir(p) == path.Join(s.dir, folder) })
	if ok {
		return at
	}
	return path.Join(s.dir, folder, target.FileBase(f.ID())+f.Ext)
}

// place wants each face under the name that code types; a PostScript name that no
// file can have gets another, and the code tells the platforms apart.
func (s *site) place(job target.Job, folder, title string) ([]target.File, error) {
	var out []target.File
	for _, f := range job.Faces {
		if f.PostScript == "" {
			return nil, &target.SiteError{Site: title, Expected: "a PostScript name in each face", Found: fmt.Sprintf("none in %q", face.Short(f.Full)), Cure: "strike that face, and enrol it again with --mend-names"}
		}
		out = append(out, target.File{Path: s.at(job, f, folder), Copy: f.ID()})
	}
	return out, nil
}

// Code wants AppType.tsx, or AppType.js in a project without TypeScript.
func (s *bareSite) Code(job target.Job) ([]target.File, error) {
	if s.families {
		return s.typeFile(job, true, nil)
	}
	return s.typeFile(job, false, func(f target.Face) string { return s.at(job, f, assets) })
}

// Shortfalls are what a Text cannot say.
func (s *site) Shortfalls(job target.Job) []target.Shortfall {
	return target.Shortfalls(job, map[string]string{
		target.PartOutline:  "a Text draws no outline",
		target.PartFallback: "a style names one font; the platform chooses what shows where it is missing",
	})
}

// Held lists the fonts among the assets and resources of the Android part; the iOS
// part is an Apple site.
func (s *bareSite) Held() ([]target.Held, error) {
	var out []target.Held
	for _, f := range s.tree.Under(path.Join(s.dir, "android/app/src/main")) {
		if dir := path.Base(path.Dir(f)); target.IsFont(f) && (dir == "fonts" || dir == "font") {
			out = append(out, target.Held{Manifest: path.Dir(f), Value: strings.TrimSuffix(path.Base(f), path.Ext(f)), File: f})
		}
	}
	return out, nil
}
