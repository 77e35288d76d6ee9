package consumers

import (
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// TestExpoPrebuild lets Expo itself generate the native projects from the app.json
// that Notaria wrote, and looks for the fonts where each platform looks.
func TestExpoPrebuild(t *testing.T) {
	need(t, "node", "python3")
	modules, err := filepath.Abs("../../.consumers/expo/node_modules")
	require.NoError(t, err)
	need(t, filepath.Join(modules, "expo"))
	dir := registered(t)
	kiosk := filepath.Join(dir, "kiosk")
	require.NoError(t, os.Symlink(modules, filepath.Join(kiosk, "node_modules")))
	t.Setenv("CI", "1")
	t.Setenv("EXPO_OFFLINE", "1")
	t.Setenv("EXPO_NO_TELEMETRY", "1")
	out, err := try(t, kiosk, "node", filepath.Join(modules, "expo/bin/cli"), "prebuild", "--no-install")
	require.NoError(t, err, out)

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

func TestExpoTypes(t *testing.T) {
	dir := registered(t)
	kiosk := filepath.Join(dir, "kiosk")
	write(t, filepath.Join(kiosk, "Use.tsx"), "import * as React from 'react';\nimport {AppText} from './AppType';\nexport const x = <AppText use=\"body\" selectable>07:40</AppText>;\n")
	out, err := checkTypes(t, kiosk)
	require.NoError(t, err, out)
}

// TestExpoAtRunTime holds the gate against the real types, and the loaded names
// against the files.
func TestExpoAtRunTime(t *testing.T) {
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
