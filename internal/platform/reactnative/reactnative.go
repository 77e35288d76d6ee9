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
	"strconv"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/source"
	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/android"
)

// Platform is the React Native platform.
type Platform struct{}

// familiesKey is the option by which Android gets families.
const familiesKey = "android-families"

// About describes the platform.
func (Platform) About() platform.About {
	return platform.About{
		Name: "react-native", Title: "React Native", Kind: platform.ByPostScript, Typed: "fontFamily: '…'",
		Minimum: "React Native 0.60 without Expo; React 18",
		Gets:    "Android assets, or families with weights through res/font and MainApplication; iOS as apple; AppType.tsx or AppType.js",
		Cannot:  []string{"outlines", "another font where a face is missing", "Expo (a target of its own)"},
		Options: []platform.Option{{Key: familiesKey, Kind: platform.KindYesNo, Help: "true: on Android, families with weights through res/font and MainApplication, instead of a name for each face"}},
	}
}

// Type returns the PostScript name, which is the placed file's name as well; where
// no file can have it, both.
func (Platform) Type(faces []face.Face) []string {
	out := make([]string, len(faces))
	for i, f := range faces {
		if out[i] = f.ID(); f.ID() != "" && platform.FileBase(f.ID()) != f.ID() {
			out[i] = platform.FileBase(f.ID()) + " on Android, " + f.ID() + " on iOS"
		}
	}
	return out
}

// site is a package with code in JavaScript or TypeScript.
type site struct {
	platform.Base
	code   string // folder for the generated file
	script bool   // plain JavaScript
	blank  *blanked
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

// Sites finds the packages that depend on react-native and have both native parts in
// their tree.
func (Platform) Sites(tree platform.Tree, opt platform.Options) ([]platform.Site, error) {
	var out []platform.Site
	for _, file := range tree.Named("package.json") {
		dir := platform.Folder(file)
		if !isNative(tree, dir) || len(tree.Under(path.Join(dir, "android/app"))) == 0 {
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
func codeSite(tree platform.Tree, dir string) site {
	s := site{Base: platform.Base{Tree: tree, Dir: dir}, code: dir, script: true, blank: &blanked{}}
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
	versionDigits = lazy.Regexp(`(\d+)\.(\d+)`)
	gradleSpace   = lazy.Regexp(`(?m)^\s*namespace\s*=?\s*["']([A-Za-z_][\w.]*)["']`)
)

// findMain finds the class in which the app starts, and what it needs to name.
func (s *bareSite) findMain() {
	for _, f := range s.Tree.Under(path.Join(s.Dir, sources)) {
		if base := path.Base(f); base == "MainApplication.kt" || base == "MainApplication.java" {
			s.main = f
		}
	}
	s.fontsIn = "com.facebook.react.common.assets"
	if m := versionDigits.FindStringSubmatch(platform.Version(s.Tree, s.Dir, "react-native")); m != nil {
		major, _ := strconv.Atoi(m[1])
		if minor, _ := strconv.Atoi(m[2]); major == 0 && minor < 73 {
			s.fontsIn = "com.facebook.react.views.text"
		}
	}
	for _, base := range []string{"build.gradle", "build.gradle.kts"} {
		if raw, err := s.Tree.Read(path.Join(s.Dir, "android/app", base)); err == nil {
			if m := gradleSpace.FindSubmatch(language.Of(base).Blank(raw)); m != nil {
				s.space = string(m[1])
			}
		}
	}
}

func (s *bareSite) Title() string { return "React Native " + s.Path() }

func (s *bareSite) next() string {
	if manifest, program := expoConfig(s.Tree, s.Dir); manifest+program != "" && platform.Version(s.Tree, s.Dir, "expo") != "" {
		return "build both apps again (run-android, run-ios): android and ios belong to the project and are what is built, so the fonts are in them and not in " +
			path.Base(manifest+program) + "; register again after npx expo prebuild"
	}
	return "build both apps again (run-android, run-ios): a restart of the bundler alone shows nothing"
}

// Plan is each face in the Android part (iOS is an Apple site), and AppType.tsx, or
// AppType.js in a project without TypeScript. On Android a file is there by lying
// there; families are registered when the app starts.
func (s *bareSite) Plan(job platform.Job) (platform.Plan, error) {
	p := platform.Plan{Next: s.next(), Answer: s.answerer(job), Short: shortfalls(job), Show: shows(job), Words: useWords}
	var err error
	if !s.families {
		if p.Files, err = s.place(job, assets); err != nil {
			return p, err
		}
		p.Code, err = s.typeFile(job, false, func(f platform.Face) string { return s.at(job, f, assets) })
		return p, err
	}
	files, code, names, err := android.Families(s.Tree, path.Join(s.Dir, resources), 0, job)
	if err != nil {
		return p, err
	}
	p.Files, p.Code = files, code
	text, err := s.typeFile(job, true, nil)
	if err != nil {
		return p, err
	}
	p.Code = append(p.Code, text...)
	p.Entries, err = s.start(job, names)
	return p, err
}

// start is what registers the families when the app starts.
func (s *bareSite) start(job platform.Job, names map[string]string) ([]edit.Entry, error) {
	if len(job.Faces) == 0 {
		return nil, nil
	}
	if s.main == "" {
		return nil, platform.Refuse(s.Path(), "a MainApplication.kt or MainApplication.java", "none", "leave "+familiesKey+" out under [target.react-native], or restore the class")
	}
	end, quote := "", language.Kotlin.Literal
	if path.Ext(s.main) == ".java" {
		end, quote = ";", language.Java.Literal
	}
	entry := func(place edit.Place, line string) edit.Entry {
		return edit.Entry{File: s.main, Syntax: source.Lines{}.Name(), Place: place, Value: line + end}
	}
	out := []edit.Entry{entry(source.Import(), "import "+s.fontsIn+".ReactFontManager")}
	if raw, err := s.Tree.Read(s.main); err == nil && s.space != "" && !strings.Contains(string(raw), "package "+s.space) {
		out = append(out, entry(source.Import(), "import "+s.space+".R"))
	}
	done := map[string]bool{}
	for _, f := range job.Faces {
		if !done[f.Family] {
			done[f.Family] = true
			out = append(out, entry(source.After("super.onCreate()"), fmt.Sprintf("ReactFontManager.getInstance().addCustomFont(this, %s, R.font.%s)", quote(f.Family), names[f.Family])))
		}
	}
	return out, nil
}

// at is where a face belongs below a folder: where somebody put it, else under the name
// that code types.
func (s *site) at(job platform.Job, f platform.Face, folder string) string {
	at, ok := job.At(f, func(p string) bool { return path.Dir(p) == path.Join(s.Dir, folder) })
	if ok {
		return at
	}
	return path.Join(platform.Spelled(s.Tree, path.Join(s.Dir, folder)), f.Base())
}

// place is each face under the name that code types; a PostScript name that no file can
// have gets another, and the code tells the platforms apart.
func (s *site) place(job platform.Job, folder string) ([]platform.File, error) {
	for _, f := range job.Faces {
		if f.PostScript == "" {
			return nil, platform.Refuse(s.Path(), "a PostScript name in each face", fmt.Sprintf("none in %q", face.Short(f.Full)), "strike that face, and enrol it again with --mend-names")
		}
	}
	return job.CopiesAt(func(f platform.Face) string { return s.at(job, f, folder) }), nil
}

// shortfalls are what a Text cannot express.
func shortfalls(job platform.Job) []platform.Shortfall {
	return platform.Shortfalls(job, map[string]string{
		platform.PartShadow:   "",
		platform.PartOutline:  "a Text draws no outline",
		platform.PartFallback: "a style names one font; the platform chooses what shows where it is missing",
	})
}

// Held lists the fonts among the assets and resources of the Android part; the iOS
// part is an Apple site.
func (s *bareSite) Held() ([]platform.Held, error) {
	var out []platform.Held
	for _, f := range s.Tree.Under(path.Join(s.Dir, "android/app/src/main")) {
		if platform.IsFont(f) {
			out = append(out, platform.Held{Manifest: f, Value: strings.TrimSuffix(path.Base(f), path.Ext(f)), File: f})
		}
	}
	return out, nil
}

// ownLines are those of MainApplication that make families known, and what these import.
var ownLines = lazy.Regexp(`^(?:import [\w.]+\.(?:ReactFontManager|R);?|ReactFontManager\.getInstance\(\)\.addCustomFont\(.*\);?)$`)

// OwnsEntry says whether a line is one of these.
func (Platform) OwnsEntry(e edit.Entry) bool {
	return e.Syntax == "source" && ownLines.MatchString(e.Value)
}
