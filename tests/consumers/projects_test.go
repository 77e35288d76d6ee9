package consumers

import (
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/skerry"
)

// TestRealProjects runs the whole story on each project that registries offer as the beginning of an
// app: it is found, gets two faces and two roles, has them after a second run, is proved, and has
// every byte back. Between, the platforms' own readers take what was written.
func TestRealProjects(t *testing.T) {
	need(t, "plparse", "python3", "xmllint", "aapt2")
	npmHome(t)
	list, err := os.ReadFile("trees/list")
	require.NoError(t, err)
	fonts := filepath.Join(t.TempDir(), "skerry")
	require.NoError(t, skerry.Place(fonts))
	for _, line := range strings.Split(string(list), "\n") {
		spec, _, ok := strings.Cut(line, " ")
		if !ok || strings.HasPrefix(line, "#") {
			continue
		}
		t.Run(spec, func(t *testing.T) {
			t.Parallel()
			home, err := filepath.Abs("../../.consumers/trees/" + strings.NewReplacer("/", "_", "@", "_").Replace(spec))
			require.NoError(t, err)
			need(t, home)
			if strings.HasPrefix(spec, "create-") || strings.HasPrefix(spec, "gatsby") {
				siteStories(t, home, filepath.Join(fonts, skerry.ArchiveName))
				return
			}
			dir := beginApp(t, home)
			wholeStory(t, spec, dir, filepath.Join(fonts, skerry.ArchiveName))
		})
	}
}

// siteStories run on each template of a package that begins sites: our line goes into it once, and every byte comes back.
func siteStories(t *testing.T, home, archive string) {
	sites := 0
	require.NoError(t, filepath.WalkDir(home, func(name string, d os.DirEntry, err error) error {
		if err != nil || !d.IsDir() {
			return err
		}
		if d.Name() == "template-common" || d.Name() == "app-api" { // a part of the others; no page
			return filepath.SkipDir
		}
		own, _ := os.ReadFile(filepath.Join(name, "package.json"))
		ofNext, _ := filepath.Glob(filepath.Join(name, "[tj]sconfig.json"))
		if !strings.Contains(string(own), "ependencies") && len(ofNext) == 0 || strings.Contains(string(own), `"bin"`) {
			return nil
		}
		dir := filepath.Join(t.TempDir(), "site")
		require.NoError(t, os.CopyFS(dir, os.DirFS(name)))
		if own == nil { // its generator writes one
			write(t, filepath.Join(dir, "package.json"), `{"dependencies": {"next": "16.4.3"}}`)
		}
		before := snapshot(t, dir)
		notaria(t, 0, dir, "enrol", archive, "--styles", "bold", "--role", "heading")
		out := notaria(t, 0, dir, "register")
		if strings.Contains(out, "No app was found") { // a part that is laid over another template
			return filepath.SkipDir
		}
		require.Contains(t, out, "entered in", name)
		require.Contains(t, notaria(t, 0, dir, "register"), "Nothing to do")
		require.Contains(t, notaria(t, 0, dir, "check", "--fail-on", "error"), "Web .")
		notaria(t, 0, dir, "strike", "--all")
		require.Equal(t, before, snapshot(t, dir), name)
		sites++
		return filepath.SkipDir
	}))
	t.Logf("sites: %d", sites)
	require.Positive(t, sites)
}

// beginApp copies a project as the tools that begin an app do: names that cannot be in a package have
// their dots back, and the macOS template, which has no package of its own, gets one.
func beginApp(t *testing.T, home string) string {
	t.Helper()
	dir := filepath.Join(t.TempDir(), "app")
	require.NoError(t, os.CopyFS(dir, os.DirFS(home)))
	var hidden []string
	require.NoError(t, filepath.WalkDir(dir, func(name string, d os.DirEntry, err error) error {
		base := filepath.Base(name)
		if strings.HasPrefix(base, "_") && !strings.HasSuffix(base, ".scss") && !strings.HasPrefix(base, "__") && !strings.HasPrefix(base, "_layout") {
			hidden = append(hidden, name)
		}
		return err
	}))
	for i := len(hidden) - 1; i >= 0; i-- {
		require.NoError(t, os.Rename(hidden[i], filepath.Join(filepath.Dir(hidden[i]), "."+filepath.Base(hidden[i])[1:])))
	}
	if _, err := os.Stat(filepath.Join(dir, "macos")); err == nil {
		write(t, filepath.Join(dir, "package.json"), `{"name": "FerryMac", "dependencies": {"react-native": "0.81.5", "react-native-macos": "0.81.9"}}`)
	}
	return dir
}

func wholeStory(t *testing.T, spec, dir, archive string) {
	t.Helper()
	before := snapshot(t, dir)
	if !strings.HasPrefix(spec, "cordova-android") {
		require.Contains(t, notaria(t, 0, dir, "check", "--fail-on", "note", "--json"), `"findings": []`)
	}
	require.NotContains(t, notaria(t, 0, dir, "survey"), "cannot be read")
	notaria(t, 0, dir, "enrol", archive, "--styles", "regular,bold")
	if strings.HasPrefix(spec, "cordova-android") { // a plugin of its own sets the namespace
		notaria(t, 1, dir, "register")
		require.Contains(t, notaria(t, 1, dir, "check"), `namespaces = ["app: `)
		registry := filepath.Join(dir, "notaria.toml")
		b, err := os.ReadFile(registry)
		require.NoError(t, err)
		write(t, registry, string(b)+"\n[target.android]\nnamespaces = [\"app: com.skerryferries.app\"]\n")
	}
	out := notaria(t, 0, dir, "register")
	require.Contains(t, out, "has 2 fonts")
	require.Contains(t, notaria(t, 0, dir, "register"), "Nothing to do")
	require.Contains(t, notaria(t, 0, dir, "register", "--dry-run"), "Nothing to do")
	undo := installExpoFont(t, dir)
	require.Contains(t, notaria(t, 0, dir, "check"), "all well")
	undo()
	require.NoError(t, filepath.WalkDir(dir, func(name string, d os.DirEntry, err error) error {
		if err == nil && d.IsDir() && d.Name() == "res" {
			require.Empty(t, ask(t, dir, "aapt2", "compile", "--dir", name, "-o", filepath.Join(t.TempDir(), "res.zip")))
		} else if err == nil && !d.IsDir() {
			takenByReaders(t, name)
		}
		return err
	}))
	notaria(t, 0, dir, "strike", "Skerry Sans", "--with-roles")
	if strings.HasPrefix(spec, "cordova-android") {
		require.NoError(t, os.Remove(filepath.Join(dir, "notaria.toml")))
	}
	require.Equal(t, before, snapshot(t, dir))
}

// installExpoFont does what the next step and check ask for, where an app of Expo does not depend on the
// package yet.
func installExpoFont(t *testing.T, dir string) (undo func()) {
	t.Helper()
	file := filepath.Join(dir, "package.json")
	b, err := os.ReadFile(file)
	app, _ := os.ReadFile(filepath.Join(dir, "app.json"))
	if err != nil || strings.Contains(string(b), `"expo-font"`) || !strings.Contains(string(app), "expo-font") {
		return func() {}
	}
	require.Contains(t, notaria(t, 1, dir, "check"), "npx expo install expo-font")
	write(t, file, strings.Replace(string(b), `"expo":`, `"expo-font": "~14.0.0", "expo":`, 1))
	return func() { write(t, file, string(b)) }
}

// takenByReaders asks the platform's own readers about a manifest.
func takenByReaders(t *testing.T, name string) {
	t.Helper()
	switch base := filepath.Base(name); {
	case base == "project.pbxproj":
		readStrictly(t, name)
		a := askProject(t, name)
		require.Empty(t, a.Dangling, name)
		require.Empty(t, a.Ungrouped, name)
	case strings.HasSuffix(base, "Info.plist"):
		require.Empty(t, ask(t, ".", "xmllint", "--nonet", "--noout", name))
		if list := readPlist(t, name); strings.Contains(list, "UIAppFonts") {
			require.Contains(t, list, "'UIAppFonts': ['SkerrySans-Regular.ttf', 'SkerrySans-Bold.ttf']", name)
		}
	case base == "app-type.css" && strings.Contains(readFile(t, name), "ios-a11y"): // by the parser that NativeScript has
		require.Contains(t, ask(t, ".", "node", "npm/css.mjs", name), `.type-heading font-family "Skerry Sans","SkerrySans-Bold"`)
		sheet := filepath.Dir(name)
		require.FileExists(t, filepath.Join(sheet, "fonts", "SkerrySans-Bold.ttf"))
	case base == "app.json":
		b, err := os.ReadFile(name)
		require.NoError(t, err)
		require.True(t, json.Valid(b), name)
	}
}
