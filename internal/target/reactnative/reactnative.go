// Package reactnative serves React Native and Expo. The iOS part of a bare app is
// an Apple site like any other; this target adds what Android wants, and the code
// that both share. On Android a face answers to its file's name without ending, on
// iOS to its PostScript name: files placed under their PostScript names make one
// string serve both. Where a project asks for it, Android gets families instead,
// which take a weight as iOS does.
package reactnative

import (
	"fmt"
	"maps"
	"path"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/source"
	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/target"
	"notaria/internal/target/android"
	"notaria/internal/target/reactnative/appjson"
)

// Target is the React Native platform.
type Target struct{}

// familiesKey is the option by which Android gets families.
const familiesKey = "android-families"

// About describes the platform.
func (Target) About() target.About {
	return target.About{
		Name: "react-native", Title: "React Native", Kind: target.ByPostScript, Typed: "fontFamily: '…'",
		Minimum: "React Native 0.60 without Expo; React 18",
		Cannot:  []string{"outlines", "another font where a face is missing", "Expo (a target of its own)"},
		Options: []target.Option{{Key: familiesKey, Kind: target.KindYesNo, Help: "true: on Android, families with weights through res/font and MainApplication, instead of a name for each face"}},
	}
}

// Type returns the PostScript name, which is the placed file's name as well; where
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
	target.Base
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

var (
	scripts = []*language.Language{language.JavaScript, language.TypeScript}
	weight  = regexp.MustCompile(`\b(fontWeight|fontStyle):\s*['"]?(\w+)`)
	uses    = []target.Use{
		{Languages: scripts, Weight: weight, Pattern: regexp.MustCompile(`\bfontFamily:\s*'((?:[^'\\\n]|\\.)*)'`)},
		{Languages: scripts, Weight: weight, Pattern: regexp.MustCompile(`\bfontFamily:\s*"((?:[^"\\\n]|\\.)*)"`)},
		{Languages: scripts, Weight: weight, Kind: useMember, Pattern: regexp.MustCompile(`\bfontFamily:\s*(faces\.\w+)`)},
	}
)

// useMember is the kind of uses by a constant of the generated code.
const useMember = "member"

// Uses are in the package.
func (s *site) Uses() (string, []target.Use) { return s.Dir, uses }

// Answer goes by a face's name, and by a family's where Android is given families.
func (s *site) Answer(q target.Question) target.Answer {
	if q.Use.Kind == useMember {
		return target.Answer{}
	}
	families := slices.ContainsFunc(q.Plan.Files, func(f target.File) bool { return strings.Contains(f.Path, "/res/font/") }) ||
		slices.ContainsFunc(q.Plan.Entries, func(e edit.Entry) bool { return e.Place.Key() == appjson.AndroidFonts.Key() })
	if families && slices.ContainsFunc(q.Faces, func(f target.Face) bool { return f.Family == q.Typed }) {
		return target.Answer{}
	}
	a := target.AnswerFace(q, target.AppleFonts|target.AndroidFonts)
	if a.Fault != target.Fine && (slices.Contains(q.Once("loaded "+s.Dir, s.loaded), q.Typed) || target.FromPackage(s.Tree, s.Dir, q.Typed) || s.hasFile(q)) {
		return target.Answer{}
	}
	return a
}

// Names under which code loads fonts itself: keys of a map from names to files, and of one that a
// loading call is given.
var (
	loadedKey   = regexp.MustCompile(`(?:'([\w .-]+)'|"([\w .-]+)"|\b([A-Za-z_]\w*))\s*:\s*(?:require\s*\(\s*)?["'][^"'\n]*\.(?i:ttf|otf)["']`)
	loadedBlock = regexp.MustCompile(`\b(?:useFonts|loadAsync)\s*\(\s*\{([^{}]*)\}`)
	customFont  = regexp.MustCompile(`\baddCustomFont\s*\([^,()]*,\s*"([^"\\\n]+)"`)
	blockKey    = regexp.MustCompile(`(?:^|,)\s*(?:'([\w .-]+)'|"([\w .-]+)"|([A-Za-z_]\w*))\s*(?:[:,]|$)`)
)

// loaded are the names under which the app's code loads fonts.
func (s *site) loaded() []string {
	out := target.LoadedNames(s.Tree, s.Dir, scripts, loadedKey)
	out = append(out, target.LoadedNames(s.Tree, path.Join(s.Dir, "android"), []*language.Language{language.Kotlin, language.Java}, customFont)...)
	for _, block := range target.LoadedNames(s.Tree, s.Dir, scripts, loadedBlock) {
		for rest := block; ; { // keys share their commas
			m := blockKey.FindStringSubmatchIndex(rest)
			if m == nil {
				break
			}
			for i := 2; i < len(m); i += 2 {
				if m[i] >= 0 {
					out = append(out, rest[m[i]:m[i+1]])
				}
			}
			next := strings.IndexByte(rest[m[0]+1:], ',')
			if next < 0 {
				break
			}
			rest = rest[m[0]+1+next:]
		}
	}
	return out
}

// hasFile says whether a font that nobody enrolled is in the package under the file's name that is
// typed, which Android goes by: so icon fonts are named.
func (s *site) hasFile(q target.Question) bool {
	return slices.ContainsFunc(q.Here, func(p target.Present) bool {
		_, inside := s.Rel(p.Path)
		return inside && strings.TrimSuffix(path.Base(p.Path), path.Ext(p.Path)) == q.Typed && !slices.ContainsFunc(q.Faces, func(f target.Face) bool { return f.ID() == p.ID })
	})
}

// Sites finds the packages that depend on react-native and have both native parts in
// their tree.
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
	s := site{Base: target.Base{Tree: tree, Dir: dir}, code: dir, script: true}
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
	for _, f := range s.Tree.Under(path.Join(s.Dir, sources)) {
		if base := path.Base(f); base == "MainApplication.kt" || base == "MainApplication.java" {
			s.main = f
		}
	}
	s.fontsIn = "com.facebook.react.common.assets"
	if m := versionDigits.FindStringSubmatch(target.Version(s.Tree, s.Dir, "react-native")); m != nil {
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

func (s *bareSite) Next() string {
	if manifest, program := target.ExpoConfig(s.Tree, s.Dir); manifest+program != "" && target.Version(s.Tree, s.Dir, "expo") != "" {
		return "build both apps again (run-android, run-ios): android and ios belong to the project and are what is built, so the fonts are in them and not in " +
			path.Base(manifest+program) + "; register again after npx expo prebuild"
	}
	return "build both apps again (run-android, run-ios): a restart of the bundler alone shows nothing"
}

// Plan is each face in the Android part (iOS is an Apple site), and AppType.tsx, or
// AppType.js in a project without TypeScript. On Android a file is there by lying
// there; families are registered when the app starts.
func (s *bareSite) Plan(job target.Job) (target.Plan, error) {
	p := target.Plan{Short: shortfalls(job)}
	var err error
	if !s.families {
		if p.Files, err = s.place(job, assets); err != nil {
			return p, err
		}
		p.Code, err = s.typeFile(job, false, func(f target.Face) string { return s.at(job, f, assets) })
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
func (s *bareSite) start(job target.Job, names map[string]string) ([]edit.Entry, error) {
	if len(job.Faces) == 0 {
		return nil, nil
	}
	if s.main == "" {
		return nil, target.Refuse(s.Path(), "a MainApplication.kt or MainApplication.java", "none", "leave "+familiesKey+" out under [target.react-native], or restore the class")
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
func (s *site) at(job target.Job, f target.Face, folder string) string {
	at, ok := job.At(f, func(p string) bool { return path.Dir(p) == path.Join(s.Dir, folder) })
	if ok {
		return at
	}
	return path.Join(target.Spelled(s.Tree, path.Join(s.Dir, folder)), f.Base())
}

// place is each face under the name that code types; a PostScript name that no file can
// have gets another, and the code tells the platforms apart.
func (s *site) place(job target.Job, folder string) ([]target.File, error) {
	for _, f := range job.Faces {
		if f.PostScript == "" {
			return nil, target.Refuse(s.Path(), "a PostScript name in each face", fmt.Sprintf("none in %q", face.Short(f.Full)), "strike that face, and enrol it again with --mend-names")
		}
	}
	return job.CopiesAt(func(f target.Face) string { return s.at(job, f, folder) }), nil
}

// shortfalls are what a Text cannot express.
func shortfalls(job target.Job) []target.Shortfall {
	return target.Shortfalls(job, map[string]string{
		target.PartShadow:   "",
		target.PartOutline:  "a Text draws no outline",
		target.PartFallback: "a style names one font; the platform chooses what shows where it is missing",
	})
}

// Held lists the fonts among the assets and resources of the Android part; the iOS
// part is an Apple site.
func (s *bareSite) Held() ([]target.Held, error) {
	var out []target.Held
	for _, f := range s.Tree.Under(path.Join(s.Dir, "android/app/src/main")) {
		if dir := path.Base(path.Dir(f)); target.IsFont(f) && (dir == "fonts" || dir == "font") {
			out = append(out, target.Held{Manifest: path.Dir(f), Value: strings.TrimSuffix(path.Base(f), path.Ext(f)), File: f})
		}
	}
	return out, nil
}

// Flaws lists fonts that the app has on one of its platforms alone.
func (s *bareSite) Flaws() ([]target.Flaw, error) {
	var projects []string
	named := map[string]string{} // fonts that iOS builds in, with the project
	for _, f := range s.Tree.Under(path.Join(s.Dir, "ios")) {
		if path.Base(f) != "project.pbxproj" {
			continue
		}
		raw, err := s.Tree.Read(f)
		if err != nil {
			return nil, err
		}
		projects = append(projects, f)
		for _, m := range fontInProject.FindAllSubmatch(raw, -1) {
			named[string(m[1])] = f
		}
	}
	if len(projects) == 0 {
		return nil, nil
	}
	android := map[string]string{}
	for _, f := range s.Tree.Under(path.Join(s.Dir, "android/app/src/main")) {
		if target.IsFont(f) {
			android[resourceBase(f)] = f
		}
	}
	have := map[string]bool{}
	for base := range named {
		have[resourceBase(base)] = true
	}
	var out []target.Flaw
	add := func(file, subject, message, cure string) {
		out = append(out, target.Flaw{Kind: target.OnePlatform, File: file, Subject: subject, Message: message, Cause: "the other platform shows its own font, and reports nothing", Cure: cure + ", or enrol the file and register it"})
	}
	for _, key := range slices.Sorted(maps.Keys(android)) {
		if f := android[key]; !have[key] {
			add(f, f, fmt.Sprintf("%s is in the Android app, and the iOS app does not build it in", path.Base(f)), "add it to the Xcode project and to UIAppFonts")
		}
	}
	for _, base := range slices.Sorted(maps.Keys(named)) {
		if android[resourceBase(base)] == "" {
			subject := ""
			for _, f := range s.Tree.Named(base) { // where iOS has it
				if _, inside := target.Below(path.Join(s.Dir, "ios"), f); inside {
					subject = f
				}
			}
			add(named[base], subject, fmt.Sprintf("%s is in the iOS app, and not in the Android app", base), "copy it into "+assets)
		}
	}
	return out, nil
}

// fontInProject finds the name of a font's file that a resources phase builds in.
var fontInProject = regexp.MustCompile(`/\* ([^*/\n]+\.(?i:ttf|otf|ttc)) in Resources \*/ = `)

// resourceBase is a font's name without what a resource's name cannot have.
func resourceBase(name string) string {
	base := path.Base(name)
	return notWord.ReplaceAllString(strings.ToLower(strings.TrimSuffix(base, path.Ext(base))), "")
}
