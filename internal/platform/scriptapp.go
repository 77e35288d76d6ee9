package platform

import (
	"bytes"
	"encoding/json"
	"path"
	"slices"
	"strings"

	"notaria/internal/language"
	"notaria/internal/registry"
)

// Keys of [target.expo] that say what is built of an app of Expo.
const (
	ExpoLoad      = "load"
	ExpoAtRunTime = "run-time" // its value: the app loads the fonts when it starts
	ExpoNative    = "native"
	ExpoApps      = "apps"     // its values: the native folders are what is built,
	ExpoPrebuild  = "prebuild" // or they are made anew from the configuration
)

// UsesReactNative says whether the package in a folder is an app of React Native; its native
// parts are then served for it, each by its own target. An app of Expo whose native folders belong
// to the project is one, too: these are what is built.
func UsesReactNative(tree Tree, dir string) bool {
	return dependencies(tree, dir)["react-native"] != nil && !UsesExpo(tree, dir)
}

// UsesExpo says whether the package in a folder is an app of Expo that gets its fonts by its
// configuration, from which the native parts are made. A dependency on expo alone does not make
// one: apps of React Native use its modules, too.
func UsesExpo(tree Tree, dir string) bool {
	if dependencies(tree, dir)["expo"] == nil {
		return false
	}
	native := NativeFolders(tree, dir)
	manifest, program := ExpoConfig(tree, dir)
	if manifest == "" && program == "" {
		return len(native) == 0
	}
	opt := expoOptions(tree)
	if len(native) < 2 || opt.Word(ExpoLoad) == ExpoAtRunTime || opt.Word(ExpoNative) == ExpoPrebuild {
		return true
	}
	return opt.Word(ExpoNative) != ExpoApps && (pluginFonts(tree, manifest) || pluginFonts(tree, program))
}

// pluginFonts says whether a configuration names fonts by Expo's plugin: the native folders were, or
// will be, made of that, and hold them from there. Both ways at once would build them in twice.
func pluginFonts(tree Tree, name string) bool {
	if name == "" {
		return false
	}
	raw, err := tree.Read(name)
	if err != nil {
		return false
	}
	text := language.JSON.Blank(raw)
	return bytes.Contains(text, []byte("expo-font")) && fontIn.Match(text)
}

// NativeFolders are those of the native parts that belong to the project: version control does
// not pass them over, as it does those which are made anew when they are needed.
func NativeFolders(tree Tree, dir string) []string {
	var out []string
	for _, f := range []struct{ folder, base string }{{"android", "build.gradle"}, {"android", "build.gradle.kts"}, {"ios", "project.pbxproj"}} {
		at := path.Join(dir, f.folder)
		if !slices.Contains(out, f.folder) && !NewIgnored(tree).Has(path.Join(dir, f.folder, f.base)) &&
			slices.ContainsFunc(tree.Named(f.base), func(file string) bool { return strings.HasPrefix(file, at+"/") }) {
			out = append(out, f.folder)
		}
	}
	return out
}

// expoOptions are the choices that the project made for Expo.
func expoOptions(tree Tree) Options {
	raw, err := tree.Read(registry.FileName)
	if err != nil {
		return nil
	}
	r, err := registry.Parse(bytes.ReplaceAll(raw, []byte("\r\n"), []byte("\n")))
	if err != nil {
		return nil
	}
	return Options(r.Options["expo"])
}

// ExpoConfig is what configures the app of Expo in a folder: a file of JSON, which Notaria writes
// into, or a program, which has the last word.
func ExpoConfig(tree Tree, dir string) (manifest, program string) {
	beside := func(base string) bool { return slices.Contains(tree.Named(base), path.Join(dir, base)) }
	for _, base := range []string{"app.json", "app.config.json"} {
		if at := path.Join(dir, base); beside(base) && isExpoConfig(tree, at) {
			manifest = at
		}
	}
	for _, base := range []string{"app.config.js", "app.config.cjs", "app.config.mjs", "app.config.ts", "app.config.cts", "app.config.mts"} {
		if beside(base) {
			program = path.Join(dir, base)
		}
	}
	return manifest, program
}

// flatKeys are what an app.json of Expo has at its top where it has no object "expo"; one of
// React Native has a name and a displayName.
var flatKeys = []string{"slug", "sdkVersion", "plugins", "orientation", "ios", "android"}

// isExpoConfig says whether a file of JSON configures an app of Expo.
func isExpoConfig(tree Tree, name string) bool {
	raw, err := tree.Read(name)
	if err != nil {
		return false
	}
	var top map[string]json.RawMessage
	if json.Unmarshal(language.JSON.Blank(withoutMark(raw)), &top) != nil {
		return true // what is wrong with it is said where it is written into
	}
	return top["expo"] != nil || slices.ContainsFunc(flatKeys, func(k string) bool { return top[k] != nil })
}

// withoutMark is a text without the mark of its encoding (U+FEFF) in front.
func withoutMark(text []byte) []byte { return bytes.TrimPrefix(text, []byte("\uFEFF")) }

// Version is the one that a folder's package.json asks for of a dependency, as it is there; "" if
// there is none.
func Version(tree Tree, dir, name string) string {
	v, _ := dependencies(tree, dir)[name].(string)
	return v
}

// dependencies are those of a folder's package.json; none if there is none.
func dependencies(tree Tree, dir string) map[string]any {
	raw, err := tree.Read(path.Join(dir, "package.json"))
	if err != nil {
		return nil
	}
	var p struct {
		Dependencies map[string]any `json:"dependencies"`
	}
	if json.Unmarshal(withoutMark(raw), &p) != nil {
		return nil
	}
	return p.Dependencies
}
