package reactnative

import (
	"bytes"
	"encoding/json"
	"fmt"
	"path"
	"regexp"
	"strconv"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/face"
	"notaria/internal/target"
)

// Expo is the Expo platform: the plugin of app.json puts the files into both
// native parts when they are generated, or the app loads them when it starts. It
// shares the code of React Native, and its names: on Android the file's, on iOS
// the PostScript name.
type Expo struct{}

// Ways to load fonts, values of the option "load".
const (
	loadBuild = "build"
	loadRun   = "run-time"
)

// About describes the platform.
func (Expo) About() target.About {
	return target.About{
		Name: "expo", Title: "Expo", Typed: "fontFamily: '…'",
		Minimum: "Expo SDK 50 for fonts in the build, any before at run time; the expo-font package",
		Cannot:  []string{"outlines", "another font where a face is missing", "to write into app.config.js or app.config.ts (it prints the lines to add)"},
		Options: []target.Option{
			{Key: "load", Kind: "word", Help: "build: the plugin puts the fonts into the apps; run-time: a component loads them at the start, also in Expo Go"},
			{Key: familiesKey, Kind: "choice", Help: "true: on Android, families with weights, in the newer form of the plugin, instead of a name for each face"},
		},
	}
}

// Type gives the PostScript name, as for React Native.
func (Expo) Type(faces []face.Face) []string { return Target{}.Type(faces) }

type expoSite struct {
	site
	manifest string // app.json, "" where the app is configured by a program
	config   string // that program
	atRun    bool
	families bool // Android gets families with weights
}

var sdkMajor = regexp.MustCompile(`^[~^>=v ]*(\d+)\b`)

// pluginSDK is the first that has the plugin.
const pluginSDK = 50

// Sites finds the packages that depend on expo.
func (Expo) Sites(tree target.Tree, opt target.Options) ([]target.Site, error) {
	load := opt.Word("load")
	if load != "" && load != loadBuild && load != loadRun {
		return nil, &target.SiteError{Site: "Expo", Expected: "build or run-time as load", Found: fmt.Sprintf("%q", load), Cure: "correct it under [target.expo] in notaria.toml"}
	}
	if load == loadRun && opt.Yes(familiesKey) {
		return nil, &target.SiteError{Site: "Expo", Expected: "fonts in the build for " + familiesKey, Found: `load = "run-time"`, Cure: "take one of the two out under [target.expo] in notaria.toml: a font loaded at run time has one name and no weights"}
	}
	var out []target.Site
	for _, file := range tree.Named("package.json") {
		dir := target.Folder(file)
		if !target.UsesExpo(tree, dir) {
			continue
		}
		s := &expoSite{site: codeSite(tree, dir), atRun: load == loadRun, families: opt.Yes(familiesKey)}
		if m := sdkMajor.FindStringSubmatch(target.Version(tree, dir, "expo")); m != nil && load == "" {
			major, _ := strconv.Atoi(m[1])
			s.atRun = major < pluginSDK
		}
		for _, base := range []string{"app.json", "app.config.js", "app.config.ts"} {
			for _, f := range tree.Named(base) {
				if f != path.Join(dir, base) {
					continue
				}
				if s.manifest = f; base != "app.json" {
					s.manifest, s.config = "", f // it has the last word
				}
			}
		}
		out = append(out, s)
	}
	return out, nil
}

func (s *expoSite) Title() string { return "Expo " + s.Path() }

func (s *expoSite) Next() string {
	switch {
	case s.atRun:
		return "npx expo install expo-font (once), put <AppTypeGate> from AppTypeGate around the app, and start it again"
	}
	return "npx expo install expo-font (once), then npx expo prebuild and a new build: a restart of the bundler alone shows nothing"
}

// fontsFolder is where the originals of an Expo app usually lie.
const fontsFolder = "assets/fonts"

// path is a face's file as the manifest writes it.
func (s *expoSite) path(job target.Job, f target.Face) string {
	at := s.at(job, f, fontsFolder)
	if s.dir != "" {
		at = strings.TrimPrefix(at, s.dir+"/")
	}
	return "./" + at
}

// Files wants each face under its PostScript name in assets/fonts.
func (s *expoSite) Files(job target.Job) ([]target.File, error) {
	return s.place(job, fontsFolder, s.Title())
}

// Entries wants each file among the plugin's fonts.
func (s *expoSite) Entries(job target.Job) ([]edit.Entry, error) {
	if len(job.Faces) == 0 || s.atRun {
		return nil, nil
	}
	if s.manifest == "" && s.config == "" {
		return nil, &target.SiteError{Site: s.Title(), Expected: "an app.json", Found: "none", Cure: "add one, load the fonts at run time (load = \"run-time\" under [target.expo]), or leave the app out"}
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
			out = append(out, edit.Entry{File: s.config, Syntax: edit.SyntaxByHand, Place: add, Value: v})
		} else {
			out = append(out, edit.Entry{File: s.manifest, Syntax: edit.SyntaxAppJSON, Place: "fonts", Value: v})
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
func pluginFamilies(job target.Job, values []string) ([]string, error) {
	var order []string
	families := map[string]*pluginFamily{}
	for i, f := range job.Faces {
		fam := families[f.Family]
		if fam == nil {
			fam = &pluginFamily{Family: f.Family}
			families[f.Family], order = fam, append(order, f.Family)
		}
		d := pluginDefinition{Path: values[i], Weight: weight(f.Weight)}
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
		place string
		list  []string
	}{{edit.PlaceAndroidFonts, families}, {edit.PlaceIOSFonts, values}} {
		for _, v := range of.list {
			out = append(out, edit.Entry{File: s.manifest, Syntax: edit.SyntaxAppJSON, Place: of.place, Value: v})
		}
	}
	return out
}

// Code wants AppType.tsx, and the gate where fonts are loaded at run time: then
// both platforms know a face by the name that it is loaded under.
func (s *expoSite) Code(job target.Job) ([]target.File, error) {
	if s.families && !s.atRun {
		return s.typeFile(job, true, nil)
	}
	if !s.atRun {
		return s.typeFile(job, false, func(f target.Face) string { return s.at(job, f, fontsFolder) })
	}
	out, err := s.typeFile(job, false, nil)
	if err != nil || len(job.Faces) == 0 {
		return out, err
	}
	data := newCode(job, s.script, false, nil)
	for i, f := range job.Faces {
		if data.Faces[i].File = s.path(job, f); s.code != s.dir {
			data.Faces[i].File = "../" + strings.TrimPrefix(data.Faces[i].File, "./")
		}
	}
	text, err := render("AppTypeGate.tsx.tmpl", data)
	return append(out, target.File{Path: path.Join(s.code, s.named("AppTypeGate")), Content: text}), err
}

// Held lists the fonts that app.json names.
func (s *expoSite) Held() ([]target.Held, error) {
	if s.manifest == "" {
		return nil, nil
	}
	doc, err := s.tree.Read(s.manifest)
	if err != nil {
		return nil, err
	}
	values, lines, err := edit.AppJSONFonts(s.manifest, doc)
	if err != nil {
		return nil, err
	}
	var out []target.Held
	for i, v := range values {
		out = append(out, target.Held{Manifest: s.manifest, Line: lines[i], Value: v, File: path.Join(s.dir, v)})
	}
	return out, nil
}
