package reactnative

import (
	"bytes"
	"encoding/json"
	"path"
	"slices"
	"strings"

	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

// isNative says whether the package in a folder is an app of React Native that is not one of Expo's;
// an app of Expo whose native folders belong to the project is one, too: these are what is built.
func isNative(tree platform.Tree, dir string) bool { return tree.Claim(dir) == platform.Parts }

// Claims are the packages that depend on React Native.
func (Platform) Claims(tree platform.Tree, _ platform.Options) map[string]platform.Claim {
	out := map[string]platform.Claim{}
	for _, file := range tree.Named("package.json") {
		if dir := platform.Folder(file); platform.Dependencies(tree, dir)["react-native"] != nil {
			out[dir] = platform.Parts
		}
	}
	return out
}

// Claims are the apps that get their fonts by Expo's configuration.
func (Expo) Claims(tree platform.Tree, opt platform.Options) map[string]platform.Claim {
	out := map[string]platform.Claim{}
	for _, file := range tree.Named("package.json") {
		if dir := platform.Folder(file); usesExpo(tree, opt, dir) {
			out[dir] = platform.Whole
		}
	}
	return out
}

// usesExpo says whether the package in a folder is an app of Expo that gets its fonts by its
// configuration, from which the native parts are made. A dependency on expo alone does not make
// one: apps of React Native use its modules, too.
func usesExpo(tree platform.Tree, opt platform.Options, dir string) bool {
	if platform.Dependencies(tree, dir)["expo"] == nil {
		return false
	}
	native := nativeFolders(tree, dir)
	manifest, program := expoConfig(tree, dir)
	if manifest == "" && program == "" {
		return len(native) == 0
	}
	if len(native) < 2 || opt.Word(optLoad) == loadRun || opt.Word(optNative) == nativePrebuild {
		return true
	}
	return opt.Word(optNative) != nativeApps && (pluginFonts(tree, manifest) || pluginFonts(tree, program))
}

// pluginFonts says whether a configuration names fonts by Expo's plugin: the native folders were, or
// will be, made of that, and hold them from there. Both ways at once would build them in twice.
func pluginFonts(tree platform.Tree, name string) bool {
	if name == "" {
		return false
	}
	raw, err := tree.Read(name)
	if err != nil {
		return false
	}
	text := language.JSON.Blank(raw)
	return bytes.Contains(text, []byte("expo-font")) && fontFile.Match(text)
}

// nativeFolders are those of the native parts that belong to the project: version control does
// not pass them over, as it does those which are made anew when they are needed.
func nativeFolders(tree platform.Tree, dir string) []string {
	var out []string
	for _, f := range []struct{ folder, base string }{{"android", "build.gradle"}, {"android", "build.gradle.kts"}, {"ios", "project.pbxproj"}} {
		at := path.Join(dir, f.folder)
		if !slices.Contains(out, f.folder) && !platform.NewIgnored(tree).Has(path.Join(dir, f.folder, f.base)) &&
			slices.ContainsFunc(tree.Named(f.base), func(file string) bool { return strings.HasPrefix(file, at+"/") }) {
			out = append(out, f.folder)
		}
	}
	return out
}

// expoConfig is what configures the app of Expo in a folder: a file of JSON, which Notaria writes
// into, or a program, which has the last word.
func expoConfig(tree platform.Tree, dir string) (manifest, program string) {
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
func isExpoConfig(tree platform.Tree, name string) bool {
	raw, err := tree.Read(name)
	if err != nil {
		return false
	}
	var top map[string]json.RawMessage
	if json.Unmarshal(language.JSON.Blank(platform.WithoutMark(raw)), &top) != nil {
		return true // what is wrong with it is said where it is written into
	}
	return top["expo"] != nil || slices.ContainsFunc(flatKeys, func(k string) bool { return top[k] != nil })
}

// fontFile finds a font file's name.
var fontFile = lazy.Regexp(`(?i)\.(?:ttf|otf|ttc|otc|woff2?)\b`)
