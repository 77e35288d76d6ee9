package reactnative

import (
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

// Flaws lists fonts that the app has on one of its platforms alone, or on none.
func (s *bareSite) Flaws(known []platform.Face) ([]platform.Flaw, error) {
	named, projects, err := s.inProjects()
	if err != nil {
		return nil, err
	}
	keys := map[string]string{} // the face of a file, so that files of other names are the same font
	for _, f := range known {
		keys[f.File] = f.ID()
	}
	key := func(file string) string {
		if id := keys[file]; id != "" {
			return resourceBase(id + ".ttf")
		}
		return resourceBase(file)
	}
	android, out := s.inAndroid(key)
	if len(projects) == 0 {
		return out, nil
	}
	have := map[string]bool{}
	for base, f := range named {
		have[key(f.font)], have[resourceBase(base)] = true, true
	}
	add := func(file, subject, message, cure string) {
		out = append(out, platform.Flaw{Kind: platform.OnePlatform, File: file, Subject: subject, Message: message, Cause: "the other platform shows its own font, and reports nothing", Cure: cure + ", or enrol the file and register it"})
	}
	for _, k := range slices.Sorted(maps.Keys(android)) {
		if f := android[k]; !have[k] && !have[resourceBase(f)] {
			add(f, f, fmt.Sprintf("%s is in the Android app, and the iOS app does not build it in", path.Base(f)), "add it to the Xcode project and to UIAppFonts")
		}
	}
	for _, base := range slices.Sorted(maps.Keys(named)) {
		f := named[base]
		if android[resourceBase(base)] == "" && android[key(f.font)] == "" {
			add(f.project, f.font, fmt.Sprintf("%s is in the iOS app, and not in the Android app", base), "copy it into "+assets)
		}
	}
	return append(out, s.unlinked(android, have, key)...), nil
}

// built is a font that iOS builds in: the project that does, and the file, "" where it is not known.
type built struct{ project, font string }

// inProjects are the names of fonts that iOS builds in, with the project that does.
func (s *bareSite) inProjects() (named map[string]built, projects []string, err error) {
	named = map[string]built{}
	for _, f := range s.Tree.Under(path.Join(s.Dir, "ios")) {
		if path.Base(f) != "project.pbxproj" {
			continue
		}
		raw, err := s.Tree.Read(f)
		if err != nil {
			return nil, nil, err
		}
		projects = append(projects, f)
		for _, m := range fontInProject.FindAllSubmatch(raw, -1) {
			b := built{project: f}
			for _, font := range s.Tree.Named(string(m[1])) { // where iOS has it
				if _, inside := platform.Below(path.Join(s.Dir, "android"), font); !inside {
					b.font = font
				}
			}
			named[string(m[1])] = b
		}
	}
	return named, projects, nil
}

// inAndroid are the fonts of the Android part, by their names as resources can have them; and those
// that lie where the text engine does not look.
func (s *bareSite) inAndroid(key func(string) string) (map[string]string, []platform.Flaw) {
	android := map[string]string{}
	var out []platform.Flaw
	right := path.Join(s.Dir, assets)
	for _, f := range s.Tree.Under(path.Join(s.Dir, "android/app/src")) {
		if !platform.IsFont(f) {
			continue
		}
		android[key(f)] = f
		if strings.Contains(f, "/res/font/") || path.Dir(f) == right || !strings.Contains(f, "/main/") || s.addsFonts() {
			continue
		}
		to := path.Join(right, path.Base(f))
		out = append(out, platform.Flaw{Kind: platform.OutOfPlace, File: f, Subject: f, Message: fmt.Sprintf("Android looks for fonts in %s, and this one is in %s", assets, path.Dir(f)),
			Cause: "the folder is called fonts, in small letters, in the assets: React Native looks nowhere else", Cure: "move it to " + to, Mend: platform.Mending{Moves: []platform.Move{{From: f, To: to}}}})
	}
	return android, out
}

// addsFonts says whether native code gives fonts to React Native itself.
func (s *bareSite) addsFonts() bool {
	return len(platform.LoadedNames(s.Tree, path.Join(s.Dir, "android"), []*language.Language{language.Kotlin, language.Java}, customFont)) > 0
}

// unlinked are fonts of the package's own folders that no native part has, and no code loads.
func (s *bareSite) unlinked(android map[string]string, ios map[string]bool, key func(string) string) []platform.Flaw {
	loads := s.requires()
	var out []platform.Flaw
	for _, f := range s.Tree.Under(s.Dir) {
		rel, _ := s.Rel(f)
		if !platform.IsFont(f) || nativeFolder.MatchString(rel) || loads[f] != "" || android[key(f)] != "" || ios[key(f)] || platform.IsTest(rel) {
			continue
		}
		if s.otherPackage(rel) {
			continue
		}
		out = append(out, platform.Flaw{Kind: platform.NotBuilt, File: f, Subject: f, Message: fmt.Sprintf("%s is in the package, and neither native part has it", rel),
			Cause: "fonts of a folder are not in the apps before they are linked into the native parts", Cure: "enrol it and register it; or copy it into " + assets + ", and add it to the Xcode project and to UIAppFonts"})
	}
	return out
}

// otherPackage says whether a file is in a package of its own below this one.
func (s *site) otherPackage(rel string) bool {
	for dir := path.Dir(rel); dir != "." && dir != "/"; dir = path.Dir(dir) {
		for _, base := range []string{"package.json", "pubspec.yaml"} {
			if slices.Contains(s.Tree.Named(base), path.Join(s.Dir, dir, base)) {
				return true
			}
		}
	}
	return false
}

var nativeFolder = lazy.Regexp(`^(?:android|ios|macos|windows|web|e2e|docs)/`)

// fontInProject finds the name of a font's file that a resources phase builds in.
var fontInProject = lazy.Regexp(`/\* ([^*/\n]+\.(?i:ttf|otf|ttc)) in Resources \*/ = `)

// resourceBase is a font's name without what a resource's name cannot have.
func resourceBase(name string) string {
	base := path.Base(name)
	return notWord.ReplaceAllString(strings.ToLower(strings.TrimSuffix(base, path.Ext(base))), "")
}

var (
	dependsOnFont = lazy.Regexp(`"expo-font"\s*:`)
	strayFonts    = lazy.Regexp(`(?m)^[ \t]*"fonts"\s*:\s*\[[^\]]*\.(?i:ttf|otf)"`)
)

// Flaws are what is wrong with the fonts of an Expo app's configuration.
func (s *expoSite) Flaws([]platform.Face) ([]platform.Flaw, error) {
	var out []platform.Flaw
	held, err := s.Held()
	if err != nil {
		return nil, err
	}
	packages, _ := s.Tree.Glance(path.Join(s.Dir, "package.json"), platform.MostSource)
	loads := s.requires()
	if (len(held) > 0 || len(loads) > 0) && s.loads() && !dependsOnFont.Match(packages) {
		out = append(out, platform.Flaw{Kind: platform.NotBuilt, File: path.Join(s.Dir, "package.json"), Message: "expo-font is used, and the package does not depend on it",
			Cause: "the plugin, and the code that loads fonts, are in that package", Cure: "run: npx expo install expo-font"})
	}
	if s.manifest != "" {
		raw, err := s.Tree.Read(s.manifest)
		if err != nil {
			return nil, err
		}
		clean := language.JSON.Blank(raw)
		if m := strayFonts.FindIndex(clean); m != nil && !strings.Contains(string(clean), "expo-font") {
			out = append(out, platform.Flaw{Kind: platform.OutOfPlace, File: s.manifest, Line: 1 + strings.Count(string(clean[:m[0]]), "\n"), Message: "expected fonts in the options of the plugin expo-font, found them elsewhere",
				Means: s.fontFiles(), Cause: "Expo passes a key over that it does not know", Cure: `write "plugins": [["expo-font", {"fonts": [...]}]] below "expo"`})
		}
	}
	named := map[string]bool{}
	for _, h := range held {
		named[h.File] = true
	}
	text := ""
	if s.config != "" {
		raw, _ := s.Tree.Glance(s.config, platform.MostSource)
		text = string(raw)
	}
	for _, f := range s.Tree.Under(s.Dir) {
		rel, _ := s.Rel(f)
		if !platform.IsFont(f) || nativeFolder.MatchString(rel) || loads[f] != "" || named[f] || strings.Contains(text, path.Base(f)) || s.otherPackage(rel) || platform.IsTest(rel) || len(out) > 0 {
			continue
		}
		out = append(out, platform.Flaw{Kind: platform.NotNamed, File: f, Subject: f, Message: fmt.Sprintf("%s is in the package, and neither the plugin expo-font nor code loads it", rel),
			Cause: "Expo builds in, or loads, only the fonts that are named", Cure: "name it in the plugin's fonts, or load it by useFonts; or enrol it and register it"})
	}
	return out, nil
}

// fontFiles are the fonts in the package's own folders.
func (s *expoSite) fontFiles() []string {
	return slices.DeleteFunc(slices.Clone(s.Tree.Under(s.Dir)), func(f string) bool {
		rel, _ := s.Rel(f)
		return !platform.IsFont(f) || nativeFolder.MatchString(rel)
	})
}

// loads says whether the app's code or configuration asks for the package expo-font.
func (s *expoSite) loads() bool {
	if raw, ok := s.Tree.Glance(s.manifest, platform.MostSource); ok && strings.Contains(string(language.JSON.Blank(raw)), "expo-font") {
		return true
	}
	return len(platform.LoadedNames(s.Tree, s.Dir, scripts, fromFont)) > 0
}

var fromFont = lazy.Regexp(`\bfrom\s+['"](expo-font)['"]|\brequire\s*\(\s*['"](expo-font)['"]`)
