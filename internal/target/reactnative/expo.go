package reactnative

import (
	"fmt"
	"path"

	"notaria/internal/edit"
	"notaria/internal/face"
	"notaria/internal/target"
)

// Expo is the Expo platform: the plugin of app.json puts the files into both
// native parts when they are generated. It shares the code of React Native, and
// its names: on Android the file's, on iOS the PostScript name.
type Expo struct{}

// About describes the platform.
func (Expo) About() target.About {
	return target.About{
		Name: "expo", Title: "Expo", Typed: "fontFamily: '…'",
		Minimum: "Expo SDK 50 with an app.json, and the expo-font package",
		Cannot:  []string{"app.config.js and app.config.ts (it prints the lines to add)", "loading at run time, for Expo Go"},
	}
}

// Type gives the PostScript name, as for React Native.
func (Expo) Type(faces []face.Face) []string { return Target{}.Type(faces) }

type expoSite struct {
	site
	manifest string // "" where the app is configured by a program
}

// Sites finds the packages that depend on expo.
func (Expo) Sites(tree target.Tree) ([]target.Site, error) {
	var out []target.Site
	for _, file := range tree.Named("package.json") {
		dir := path.Dir(file)
		if dir == "." {
			dir = ""
		}
		if !target.UsesExpo(tree, dir) {
			continue
		}
		s := &expoSite{site: codeSite(tree, dir)}
		for _, f := range tree.Named("app.json") {
			if f == path.Join(dir, "app.json") {
				s.manifest = f
			}
		}
		for _, base := range []string{"app.config.js", "app.config.ts"} {
			for _, f := range tree.Named(base) {
				if path.Dir(f) == path.Dir(file) {
					s.manifest = "" // it has the last word
				}
			}
		}
		out = append(out, s)
	}
	return out, nil
}

func (s *expoSite) Title() string { return "Expo " + s.Path() }

func (s *expoSite) Next() string {
	return "npx expo install expo-font (once), then npx expo prebuild and a new build: a restart of the bundler alone shows nothing"
}

// fontsFolder is where the originals of an Expo app usually lie.
const fontsFolder = "assets/fonts"

func (s *expoSite) value(f target.Face) string {
	return "./" + path.Join(fontsFolder, target.FileBase(f.ID())+f.Ext)
}

// Files wants each face under its PostScript name in assets/fonts.
func (s *expoSite) Files(job target.Job) ([]target.File, error) {
	return s.place(job, fontsFolder, s.Title())
}

// Entries wants each file among the plugin's fonts.
func (s *expoSite) Entries(job target.Job) ([]edit.Entry, error) {
	if len(job.Faces) == 0 {
		return nil, nil
	}
	if s.manifest == "" {
		lines := ""
		for i, f := range job.Faces {
			if i > 0 {
				lines += ", "
			}
			lines += fmt.Sprintf("%q", s.value(f))
		}
		return nil, &target.SiteError{Site: s.Title(), Expected: "an app.json", Found: "an app that is configured by a program, or not at all",
			Cure: `add this to its plugins by hand: ["expo-font", {"fonts": [` + lines + `]}], or leave the app out with --only`}
	}
	var out []edit.Entry
	for _, f := range job.Faces {
		out = append(out, edit.Entry{File: s.manifest, Syntax: edit.SyntaxAppJSON, Place: "fonts", Value: s.value(f)})
	}
	return out, nil
}
