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

// TestHostileFamilies lets the same fonts through the forms that options choose:
// families by name in an app's start, in Kotlin and in Java, and in the plugin of
// Expo, collections, and names by platform.
func TestHostileFamilies(t *testing.T) {
	t.Parallel()
	need(t, "kotlinc", "javac", "java", "aapt", "aapt2", "node", frameworkResources)
	dir := filepath.Join(t.TempDir(), "skerry")
	require.NoError(t, skerry.Place(dir))
	before := snapshot(t, dir)
	enrolHostile(t, dir)
	toml := filepath.Join(dir, "notaria.toml")
	text := readFile(t, toml)
	write(t, toml, text+"\n[target.react-native]\nandroid-families = true\n\n[target.expo]\nandroid-families = true\n\n[target.android]\nfonts = \"collection\"\n")
	gradle := filepath.Join(dir, "android/app/build.gradle.kts")
	write(t, gradle, strings.Replace(readFile(t, gradle), "minSdk = 24", "minSdk = 28", 1))
	crew := filepath.Join(dir, "crew/Crew/Crew.csproj")
	write(t, crew, strings.Replace(readFile(t, crew), "5.0.0.2662", "4.4.0", 1))
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "register", "--dry-run")
	notaria(t, 0, dir, "check")

	// The app's start, run: every family under its own name.
	module := filepath.Join(dir, "fleet/android/app")
	r := readFile(t, compileResources(t, module, filepath.Join(module, "src/main/res"))[0])
	own := filepath.Join(t.TempDir(), "R.java")
	write(t, own, strings.Replace(r, "package com.skerryferries.app;", "package com.skerryferries.fleet;", 1))
	classes := stubClasses(t, own)
	start := filepath.Join(module, "src/main/java/com/skerryferries/fleet/MainApplication.kt")
	stubs := []string{"testdata/react.kt", "testdata/react_defaults.kt", "testdata/react_assets.kt", "testdata/react_main.kt"}
	program := filepath.Join(t.TempDir(), "start.jar")
	ask(t, ".", "kotlinc", append([]string{"-cp", classes, "-include-runtime", "-d", program, start}, stubs...)...)
	ran := ask(t, ".", "java", "-Dfile.encoding=UTF-8", "-Dstdout.encoding=UTF-8", "-cp", classes+":"+program, "React_mainKt")
	for _, name := range hostile {
		require.Contains(t, ran, name+" from ")
	}
	// The same start in Java, which reads escapes before it knows of strings.
	require.NoError(t, os.Remove(start))
	java := strings.TrimSuffix(start, ".kt") + ".java"
	write(t, java, "package com.skerryferries.fleet;\n\nimport android.app.Application;\n\npublic class MainApplication extends Application {\n    @Override\n    public void onCreate() {\n        super.onCreate();\n    }\n}\n")
	plain := readFile(t, java)
	notaria(t, 0, dir, "register")
	compiled := t.TempDir()
	ask(t, ".", "javac", "-encoding", "UTF-8", "-cp", classes+":"+program, "-d", compiled, java)
	ran = ask(t, ".", "java", "-Dfile.encoding=UTF-8", "-Dstdout.encoding=UTF-8", "-cp", compiled+":"+classes+":"+program, "React_mainKt")
	for _, name := range hostile {
		require.Contains(t, ran, name+" from ")
	}

	// Expo's manifest, by another reader.
	var manifest struct {
		Expo struct{ Plugins [][]json.RawMessage }
	}
	require.NoError(t, json.Unmarshal([]byte(ask(t, dir, "node", "-e", "console.log(JSON.stringify(JSON.parse(require('fs').readFileSync('kiosk/app.json', 'utf8'))))")), &manifest))
	var plugin struct {
		Android struct{ Fonts []struct{ FontFamily string } }
		IOS     struct{ Fonts []string }
	}
	require.NoError(t, json.Unmarshal(manifest.Expo.Plugins[0][1], &plugin))
	require.Len(t, plugin.IOS.Fonts, len(hostile))
	for i, f := range plugin.Android.Fonts {
		require.Equal(t, hostile[i], f.FontFamily)
	}

	// Collections, and the code that asks for faces in them.
	app := filepath.Join(dir, "android/app")
	classes = stubClasses(t, compileResources(t, app, filepath.Join(app, "src/main/res"))[0])
	ask(t, ".", "kotlinc", "-cp", classes, "-d", classes, filepath.Join(app, "src/main/java/com/skerryferries/app/AppType.kt"))

	// Names by platform.
	for platform, after := range map[string]string{"iOS": "", "Android": ".ttf#"} {
		setenv(t, "PLATFORM", platform)
		folder := filepath.Join(dir, "crew/Crew")
		said := sharp(t, "testdata/xamarin-stub.cs", "testdata/xamarin-use.cs", filepath.Join(folder, "AppType.cs"), filepath.Join(folder, "App.xaml.cs"), filepath.Join(folder, "WatchPage.xaml.cs"))
		require.Contains(t, said, after+hostile[0]+"\n")
		require.Equal(t, len(hostile), strings.Count(said, "Type FontFamily "))
	}

	notaria(t, 0, dir, append([]string{"strike", "--with-roles", "--"}, hostile...)...)
	require.Equal(t, plain, readFile(t, java))
	require.NoError(t, os.Remove(java))
	write(t, start, before["fleet/android/app/src/main/java/com/skerryferries/fleet/MainApplication.kt"])
	write(t, gradle, before["android/app/build.gradle.kts"])
	write(t, crew, before["crew/Crew/Crew.csproj"])
	require.NoError(t, os.Remove(toml)) // the options are the user's own
	require.Empty(t, differing(before, snapshot(t, dir)), "nothing of it stays")
}
