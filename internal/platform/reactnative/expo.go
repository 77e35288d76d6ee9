package reactnative

import (
	"bytes"
	"encoding/json"
	"fmt"
	"maps"
	"path"
	"slices"
	"strconv"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/reactnative/appjson"
)

// Expo is the Expo platform: the plugin of app.json puts the files into both
// native parts when they are generated, or the app loads them when it starts. It
// shares the code of React Native, and its names: on Android the file's, on iOS
// the PostScript name.
type Expo struct{}

// Keys of [target.expo], and their values.
const (
	optLoad   = "load"
	loadBuild = "build"
	loadRun   = "run-time" // the app loads the fonts when it starts

	optNative      = "native"
	nativeApps     = "apps"     // the native folders are what is built,
	nativePrebuild = "prebuild" // or they are made anew from the configuration
)

// About describes the platform.
func (Expo) About() platform.About {
	return platform.About{
		Name: "expo", Title: "Expo", Kind: platform.ByPostScript, Typed: "fontFamily: '…'",
		Minimum: "Expo SDK 50 for fonts in the build, any before at run time; the expo-font package",
		Gets:    "assets/fonts and the fonts of the plugin expo-font in app.json, each by its name or as Android families with weights, or a component that loads them at run time; AppType.tsx or AppType.js. Lines for app.config.js are printed",
		Cannot:  []string{"outlines", "another font where a face is missing", "to write into app.config.js or app.config.ts (it prints the lines to add)"},
		Options: []platform.Option{
			{Key: optLoad, Kind: platform.KindWord, Help: "build: the plugin puts the fonts into the apps; run-time: a component loads them at the start, also in Expo Go"},
			{Key: optNative, Kind: platform.KindWord, Help: "apps: native folders that belong to the project are what is built, and get the fonts as apps of React Native; prebuild: they are made anew from app.json. If it is not set, apps, or prebuild where the plugin expo-font names fonts already"},
			{Key: familiesKey, Kind: platform.KindYesNo, Help: "true: on Android, families with weights, in the newer form of the plugin, instead of a name for each face"},
		},
	}
}

// Type returns the PostScript name, as for React Native.
func (Expo) Type(faces []face.Face) []string { return Platform{}.Type(faces) }

// NamedAs says that faces have the same names there.
func (Expo) NamedAs() platform.Platform { return Platform{} }

type expoSite struct {
	site
	manifest string // app.json, "" where the app is configured by a program
	config   string // that program
	atRun    bool
	families bool     // Android gets families with weights
	native   []string // folders of native parts that are there
}

var sdkMajor = lazy.Regexp(`^[~^>=v ]*(\d+)\b`)

// pluginSDK is the first that has the plugin.
const pluginSDK = 50

// Sites finds the packages that depend on expo.
func (Expo) Sites(tree platform.Tree, opt platform.Options) ([]platform.Site, error) {
	load := opt.Word(optLoad)
	if load != "" && load != loadBuild && load != loadRun {
		return nil, platform.Refuse("Expo", "build or run-time as load", fmt.Sprintf("%q", load), "correct it under [target.expo] in notaria.toml")
	}
	if load == loadRun && opt.Yes(familiesKey) {
		return nil, platform.Refuse("Expo", "fonts in the build for "+familiesKey, `load = "run-time"`, "take one of the two out under [target.expo] in notaria.toml: a font loaded at run time has one name and no weights")
	}
	if native := opt.Word(optNative); native != "" && native != nativeApps && native != nativePrebuild {
		return nil, platform.Refuse("Expo", "apps or prebuild as native", fmt.Sprintf("%q", native), "correct it under [target.expo] in notaria.toml")
	}
	var out []platform.Site
	for _, file := range tree.Named("package.json") {
		dir := platform.Folder(file)
		if !usesExpo(tree, opt, dir) {
			continue
		}
		s := &expoSite{site: codeSite(tree, dir), atRun: load == loadRun, families: opt.Yes(familiesKey)}
		if m := sdkMajor.FindStringSubmatch(platform.Version(tree, dir, "expo")); m != nil && load == "" {
			major, _ := strconv.Atoi(m[1])
			s.atRun = major < pluginSDK
		}
		if s.manifest, s.config = expoConfig(tree, dir); s.config != "" {
			s.manifest = "" // the program has the last word
		}
		for _, folder := range []string{"android", "ios"} {
			if len(tree.Under(path.Join(dir, folder))) > 0 {
				s.native = append(s.native, folder)
			}
		}
		out = append(out, s)
	}
	return out, nil
}

func (s *expoSite) Title() string { return "Expo " + s.Path() }

func (s *expoSite) next() string {
	switch {
	case s.atRun:
		return "npx expo install expo-font (once), put <AppTypeGate> from AppTypeGate around the app, and start it again"
	case len(s.native) > 0:
		return "npx expo install expo-font (once), then npx expo prebuild, for " + strings.Join(s.native, " and ") + " are there and are what is built, and a new build"
	}
	return "npx expo install expo-font (once), then npx expo prebuild and a new build: a restart of the bundler alone shows nothing"
}

// fontsFolder is where the originals of an Expo app usually lie.
const fontsFolder = "assets/fonts"

// path is a face's file as the manifest writes it.
func (s *expoSite) path(job platform.Job, f platform.Face) string {
	at := s.at(job, f, fontsFolder)
	if s.Dir != "" {
		at = strings.TrimPrefix(at, s.Dir+"/")
	}
	return "./" + at
}

// Plan is each face under its PostScript name in assets/fonts, each file among the
// plugin's fonts, and AppType.tsx; where fonts are loaded at run time, the gate
// instead of entries: then both platforms know a face by the name that it is loaded
// under.
func (s *expoSite) Plan(job platform.Job) (platform.Plan, error) {
	p := platform.Plan{Next: s.next(), Answer: s.answerer(job), Short: shortfalls(job), Show: shows(job), Words: useWords}
	var err error
	if p.Files, err = s.place(job, fontsFolder); err != nil {
		return p, err
	}
	if p.Entries, err = s.entries(job); err != nil {
		return p, err
	}
	p.Code, err = s.sources(job)
	return p, err
}

func (s *expoSite) entries(job platform.Job) ([]edit.Entry, error) {
	if len(job.Faces) == 0 || s.atRun {
		return nil, nil
	}
	if s.manifest == "" && s.config == "" {
		return nil, platform.Refuse(s.Path(), "an app.json", "none", "add one, load the fonts at run time (load = \"run-time\" under [target.expo]), or leave the app out")
	}
	var values []string
	for _, f := range job.Faces {
		values = append(values, s.path(job, f))
	}
	families, err := pluginFamilies(job, values)
	if err != nil {
		return nil, err
	}
	if s.families && s.config == "" {
		return s.familyEntries(families, values), nil
	}
	list := `["` + strings.Join(values, `", "`) + `"]` // of file names that are safe
	add := `["expo-font", {"fonts": ` + list + `}]`
	if s.families {
		add = `["expo-font", {"android": {"fonts": [` + strings.Join(families, ", ") + `]}, "ios": {"fonts": ` + list + `}}]`
	}
	var out []edit.Entry
	for _, v := range values {
		if s.config != "" {
			out = append(out, edit.Entry{File: s.config, Syntax: edit.ByHand{}.Name(), Place: edit.Place{Kind: edit.KindByHand, Name: add}, Value: v})
		} else {
			out = append(out, edit.Entry{File: s.manifest, Syntax: appjson.Syntax{}.Name(), Place: appjson.Fonts, Value: v})
		}
	}
	return out, nil
}

// pluginFamily is a family as the plugin takes it for Android.
type pluginFamily struct {
	Family      string             `json:"fontFamily"`
	Definitions []pluginDefinition `json:"fontDefinitions"`
}

type pluginDefinition struct {
	Path   string `json:"path"`
	Weight int    `json:"weight"`
	Style  string `json:"style,omitempty"`
}

// pluginFamilies writes each family with its faces as the plugin takes it for
// Android, in compact JSON; values are the paths of the job's faces.
func pluginFamilies(job platform.Job, values []string) ([]string, error) {
	var order []string
	families := map[string]*pluginFamily{}
	for i, f := range job.Faces {
		fam := families[f.Family]
		if fam == nil {
			fam = &pluginFamily{Family: f.Family}
			families[f.Family], order = fam, append(order, f.Family)
		}
		d := pluginDefinition{Path: values[i], Weight: platform.Hundreds(f.Weight)}
		if f.Slant != face.Upright {
			d.Style = "italic"
		}
		fam.Definitions = append(fam.Definitions, d)
	}
	var out []string
	for _, name := range order {
		var b bytes.Buffer
		enc := json.NewEncoder(&b)
		enc.SetEscapeHTML(false)
		if err := enc.Encode(families[name]); err != nil {
			return nil, err
		}
		out = append(out, strings.TrimSpace(b.String()))
	}
	return out, nil
}

// familyEntries wants each family for Android, and each file for iOS.
func (s *expoSite) familyEntries(families, values []string) []edit.Entry {
	var out []edit.Entry
	for _, of := range []struct {
		place edit.Place
		list  []string
	}{{appjson.AndroidFonts, families}, {appjson.IOSFonts, values}} {
		for _, v := range of.list {
			out = append(out, edit.Entry{File: s.manifest, Syntax: appjson.Syntax{}.Name(), Place: of.place, Value: v})
		}
	}
	return out
}

// sources are AppType.tsx and the gate.
func (s *expoSite) sources(job platform.Job) ([]platform.File, error) {
	if s.families && !s.atRun {
		return s.typeFile(job, true, nil)
	}
	if !s.atRun {
		return s.typeFile(job, false, func(f platform.Face) string { return s.at(job, f, fontsFolder) })
	}
	out, err := s.typeFile(job, false, nil)
	if err != nil || len(job.Faces) == 0 {
		return out, err
	}
	data := newCode(job, s.script, false, nil)
	for i, f := range job.Faces {
		if data.Faces[i].File = s.path(job, f); s.code != s.Dir {
			data.Faces[i].File = "../" + strings.TrimPrefix(data.Faces[i].File, "./")
		}
	}
	text, err := platform.Render(templates, "AppTypeGate.tsx.tmpl", data)
	return append(out, platform.Code(path.Join(s.code, s.named("AppTypeGate")), text)), err
}

// Held lists the fonts that app.json names.
func (s *expoSite) Held() ([]platform.Held, error) {
	var out []platform.Held
	loads := s.requires()
	for _, f := range slices.Sorted(maps.Keys(loads)) {
		out = append(out, platform.Held{Manifest: loads[f], Value: path.Base(f), File: f})
	}
	if raw, ok := s.Tree.Glance(s.config, platform.MostSource); ok && s.config != "" {
		clean := language.Of(s.config).Blank(raw)
		for _, m := range fontInText.FindAllSubmatchIndex(clean, mostRequired) {
			name := string(clean[m[2]:m[3]])
			out = append(out, platform.Held{Manifest: s.config, Line: 1 + strings.Count(string(clean[:m[2]]), "\n"), Value: name, Name: name, File: path.Join(path.Dir(s.config), name), Strict: true,
				Hint:  platform.Hint{Cause: "the file was deleted or renamed, or the path is mistyped", Cure: "correct the path, or take the line out"},
				Write: func(file string) string { rel, _ := s.Rel(file); return "./" + rel }})
		}
	}
	if s.manifest == "" {
		return out, nil
	}
	doc, err := platform.ReadDocument(s.Tree, s.manifest)
	if err != nil {
		return nil, err
	}
	values, lines, err := appjson.Files(doc)
	if err != nil {
		return nil, err
	}
	for i, v := range values {
		out = append(out, platform.Held{Manifest: s.manifest, Line: lines[i], Value: v, File: path.Join(s.Dir, v), Strict: true,
			Write: func(file string) string { rel, _ := s.Rel(file); return "./" + rel },
			Hint:  platform.Hint{Cause: "the file was deleted or renamed, or the path is mistyped", Cure: "correct the path (it counts from app.json), or take the line out"}})
	}
	return out, nil
}

// Behind lists the fonts that the native parts do not hold. They are made from app.json when they
// are not there, and by npx expo prebuild: what was made before the fonts were entered shows the
// system's font.
func (s *expoSite) Behind(plan platform.Plan) ([]platform.Held, error) {
	if s.atRun {
		return nil, nil
	}
	var out []platform.Held
	for _, folder := range s.native {
		held, err := s.heldBy(folder)
		if err != nil {
			return nil, err
		}
		for _, f := range plan.Files {
			if base := path.Base(f.Path); !held(base) {
				out = append(out, platform.Held{Manifest: path.Join(s.Dir, folder), Name: base,
					Hint: platform.Hint{Cause: "this folder was made before the font was entered in the configuration, and it is what is built", Cure: "run: npx expo prebuild --platform " + folder}})
			}
		}
	}
	return out, nil
}

// heldBy tells which fonts a native part has: on Android the plugin places a file under its name,
// or, for families, under what a resource can be called; on iOS the project names it.
func (s *expoSite) heldBy(folder string) (func(base string) bool, error) {
	have := map[string]bool{}
	var projects []string
	for _, f := range s.Tree.Under(path.Join(s.Dir, folder)) {
		switch {
		case folder == "android" && platform.IsFont(f):
			have[resourceBase(f)] = true
		case path.Base(f) == "project.pbxproj":
			raw, err := s.Tree.Read(f)
			if err != nil {
				return nil, err
			}
			projects = append(projects, string(raw))
		}
	}
	return func(base string) bool {
		return have[resourceBase(base)] || slices.ContainsFunc(projects, func(p string) bool { return strings.Contains(p, base) })
	}, nil
}

// fontInText is a font's path in the program that configures an app.
var fontInText = lazy.Regexp(`["'](\.?/?[\w@./-]+\.(?i:ttf|otf))["']`)

var notWord = lazy.Regexp(`[^a-z0-9]`)

// Syntaxes is that of app.json.
func (Expo) Syntaxes() []edit.Syntax { return []edit.Syntax{appjson.Syntax{}} }

// What expo-font says is of a font that it does not find.
var expoLogLine = lazy.Regexp(`fontFamily "([^"]+)" is not a system font`)

// LogLines are those of the platform in an app's log.
func (Expo) LogLines() []*lazy.Pattern { return []*lazy.Pattern{expoLogLine} }
