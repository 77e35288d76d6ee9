package consumers

import (
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// prebuild has Expo generate the native projects of an app, and gives what it says.
func prebuild(t *testing.T, app string) string {
	t.Helper()
	modules, err := filepath.Abs("../../.consumers/expo/node_modules")
	require.NoError(t, err)
	need(t, "node", filepath.Join(modules, "expo"))
	require.NoError(t, os.Symlink(modules, filepath.Join(app, "node_modules")))
	setenv(t, "CI", "1")
	setenv(t, "EXPO_OFFLINE", "1")
	setenv(t, "EXPO_NO_TELEMETRY", "1")
	out, err := try(t, app, "node", filepath.Join(modules, "expo/bin/cli"), "prebuild", "--no-install")
	require.NoError(t, err, out)
	return out
}

// TestExpoPrebuild lets Expo itself generate the native projects from the app.json
// that Notaria wrote, and looks for the fonts where each platform looks.
func TestExpoPrebuild(t *testing.T) {
	t.Parallel()
	need(t, "node", "python3")
	dir := registered(t)
	kiosk := filepath.Join(dir, "kiosk")
	out := prebuild(t, kiosk)

	for _, f := range []string{"SkerrySans-Regular.ttf", "SkerrySans-Bold.ttf"} {
		require.FileExists(t, filepath.Join(kiosk, "android/app/src/main/assets/fonts", f))
	}
	plists, err := filepath.Glob(filepath.Join(kiosk, "ios/*/Info.plist"))
	require.NoError(t, err)
	require.Len(t, plists, 1, out)
	fonts := ask(t, kiosk, "python3", "-c", "import plistlib,sys;print(sorted(plistlib.load(open(sys.argv[1],'rb'))['UIAppFonts']))", plists[0])
	require.Equal(t, "['SkerrySans-Bold.ttf', 'SkerrySans-Regular.ttf']\n", fonts)
	projects, err := filepath.Glob(filepath.Join(kiosk, "ios/*.xcodeproj/project.pbxproj"))
	require.NoError(t, err)
	require.Len(t, projects, 1)
	built := 0
	for _, phases := range askProject(t, projects[0]).Targets {
		for _, f := range phases["PBXResourcesBuildPhase"] {
			if strings.Contains(f, "SkerrySans-") {
				built++
			}
		}
	}
	require.Equal(t, 2, built, "both fonts are built into the app")

	// What Expo generated is Expo's: it is no site of its own.
	require.NoError(t, os.Remove(filepath.Join(kiosk, "node_modules")))
	require.Contains(t, notaria(t, 0, dir, "register"), "Nothing to do")
	notaria(t, 0, dir, "check")
}

// TestExpoPrebuildOfFamilies lets Expo make Android families of what Notaria wrote,
// and has the resource compilers take them.
func TestExpoPrebuildOfFamilies(t *testing.T) {
	t.Parallel()
	need(t, "node", "python3", "aapt2")
	dir := dressed(t)
	kiosk := filepath.Join(dir, "kiosk")
	before := readFile(t, filepath.Join(kiosk, "app.json"))
	toml := filepath.Join(dir, "notaria.toml")
	text := readFile(t, toml)
	write(t, toml, text+"\n[target.expo]\nandroid-families = true\n")
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "register", "--dry-run")
	notaria(t, 0, dir, "check")
	out := prebuild(t, kiosk)
	res := filepath.Join(kiosk, "android/app/src/main/res")
	families, err := filepath.Glob(filepath.Join(res, "font/*.xml"))
	require.NoError(t, err)
	require.Len(t, families, 1)
	family := readFile(t, families[0])
	require.Equal(t, 3, strings.Count(family, "<font "), family)
	require.NotContains(t, family, "undefined")
	for _, want := range []string{`fontWeight="400"`, `fontWeight="700"`, `fontStyle="italic"`} {
		require.Contains(t, family, want)
	}
	compiled := filepath.Join(t.TempDir(), "res.zip")
	ask(t, kiosk, "aapt2", "compile", "--dir", res, "-o", compiled)
	require.Contains(t, ask(t, kiosk, "python3", "-c", "import zipfile,sys;print(zipfile.ZipFile(sys.argv[1]).namelist())", compiled), "font_"+filepath.Base(families[0])+".flat")
	mains, err := filepath.Glob(filepath.Join(kiosk, "android/app/src/main/java/com/skerryferries/desk/MainApplication.kt"))
	require.NoError(t, err)
	require.Len(t, mains, 1)
	require.Contains(t, readFile(t, mains[0]), `"Skerry Sans"`)
	plists, err := filepath.Glob(filepath.Join(kiosk, "ios/*/Info.plist"))
	require.NoError(t, err)
	require.Len(t, plists, 1, out)
	require.Contains(t, readPlist(t, plists[0]), "SkerrySans-Italic.ttf")

	for _, generated := range []string{"node_modules", "android", "ios"} {
		require.NoError(t, os.RemoveAll(filepath.Join(kiosk, generated)))
	}
	write(t, filepath.Join(kiosk, "Use.tsx"), "import * as React from 'react';\nimport {AppText, roles} from './AppType';\nexport const family: 'Skerry Sans' = roles.heading.fontFamily;\nexport const x = <AppText use=\"copy-new\" />;\n")
	typed, err := checkTypes(t, kiosk)
	require.NoError(t, err, typed)
	write(t, toml, text)
	notaria(t, 0, dir, "register")
	require.Equal(t, before, readFile(t, filepath.Join(kiosk, "app.json")))
}

func TestExpoTypes(t *testing.T) {
	t.Parallel()
	dir := registered(t)
	kiosk := filepath.Join(dir, "kiosk")
	write(t, filepath.Join(kiosk, "Use.tsx"), "import * as React from 'react';\nimport {AppText} from './AppType';\nexport const x = <AppText use=\"body\" selectable>07:40</AppText>;\n")
	out, err := checkTypes(t, kiosk)
	require.NoError(t, err, out)
}

// TestExpoAtRunTime holds the gate against the real types, and the loaded names
// against the files.
func TestExpoAtRunTime(t *testing.T) {
	t.Parallel()
	dir := dressed(t)
	toml := filepath.Join(dir, "notaria.toml")
	text, err := os.ReadFile(toml)
	require.NoError(t, err)
	write(t, toml, string(text)+"\n[target.expo]\nload = \"run-time\"\n")
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "register", "--dry-run")
	notaria(t, 0, dir, "check")
	kiosk := filepath.Join(dir, "kiosk")
	b, err := os.ReadFile(filepath.Join(kiosk, "app.json"))
	require.NoError(t, err)
	require.NotContains(t, string(b), "expo-font")
	gate, err := os.ReadFile(filepath.Join(kiosk, "AppTypeGate.tsx"))
	require.NoError(t, err)
	for _, m := range regexp.MustCompile(`(?m)^  '(.*)': require\('(.*)'\),$`).FindAllStringSubmatch(string(gate), -1) {
		need(t, "fc-scan")
		require.Equal(t, m[1], ask(t, kiosk, "fc-scan", "--format", "%{postscriptname}", m[2]))
	}
	require.Equal(t, 3, strings.Count(string(gate), "require("))
	write(t, filepath.Join(kiosk, "Use.tsx"), `import * as React from 'react';
import {Text} from 'react-native';
import {AppText} from './AppType';
import {AppTypeGate, useAppType} from './AppTypeGate';
export function App() {
  const [loaded, error]: [boolean, Error | null] = useAppType();
  return (
    <AppTypeGate placeholder={<Text>{String(loaded)}</Text>} failed={(e) => <Text>{e.message}</Text>}>
      <AppText use="body">{error?.message}</AppText>
    </AppTypeGate>
  );
}
`)
	out, err := checkTypes(t, kiosk)
	require.NoError(t, err, out)
}
