package consumers

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// nativeApp is the real template of a React Native app, with the story's faces
// registered.
func nativeApp(t *testing.T) string {
	t.Helper()
	home := npmHome(t)
	dir := t.TempDir()
	require.NoError(t, os.CopyFS(dir, os.DirFS(filepath.Join(home, "node_modules/@react-native-community/template/template"))))
	notaria(t, 0, dir, "enrol", filepath.Join(registered(t), "skerry-type.zip"), "--styles", "regular,bold")
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "register", "--dry-run")
	return dir
}

// checkTypes runs the compiler on the project with the real types.
func checkTypes(t *testing.T, dir string) (string, error) {
	t.Helper()
	types, err := filepath.Abs("../../.consumers/rn/node_modules")
	require.NoError(t, err)
	fonts, err := filepath.Abs("../../.consumers/expo/node_modules/expo-font")
	require.NoError(t, err)
	need(t, "node", filepath.Join(types, "typescript"), fonts)
	require.NoError(t, os.Symlink(types, filepath.Join(dir, "node_modules")))
	defer os.Remove(filepath.Join(dir, "node_modules"))
	write(t, filepath.Join(dir, "judge.json"), `{"compilerOptions": {"strict": true, "noEmit": true, "jsx": "react-native", "module": "esnext", "target": "es2022",
		"moduleResolution": "bundler", "customConditions": ["react-native"], "skipLibCheck": true, "allowJs": true, "checkJs": false, "types": [], "lib": ["es2022"],
		"paths": {"expo-font": ["`+fonts+`"]}},
		"files": ["AppType.tsx", "Use.tsx"]}`)
	return try(t, dir, "node", filepath.Join(types, "typescript/bin/tsc"), "-p", "judge.json")
}

func TestReactNativeApp(t *testing.T) {
	t.Parallel()
	dir := nativeApp(t)
	notaria(t, 0, dir, "check")
	for _, f := range []string{"android/app/src/main/assets/fonts/SkerrySans-Bold.ttf", "ios/HelloWorld/Type/SkerrySans-Bold.ttf", "AppType.tsx"} {
		require.FileExists(t, filepath.Join(dir, f))
	}
	for _, f := range []string{"android/app/src/main/res/font", "ios/HelloWorld/Type/AppType.swift", "android/app/src/main/java/com/helloworld/AppType.kt"} {
		require.NoFileExists(t, filepath.Join(dir, f), "the native parts carry no code of their own")
		require.NoDirExists(t, filepath.Join(dir, f))
	}
	a := askProject(t, filepath.Join(dir, "ios/HelloWorld.xcodeproj/project.pbxproj"))
	require.Subset(t, a.Targets["HelloWorld"]["PBXResourcesBuildPhase"], []string{"SkerrySans-Regular.ttf", "SkerrySans-Bold.ttf"})

	// The real types accept what we wrote and how it is meant to be used …
	write(t, filepath.Join(dir, "Use.tsx"), `import * as React from 'react';
import {StyleSheet} from 'react-native';
import {AppText, faces, roles} from './AppType';
const styles = StyleSheet.create({title: {...roles.heading, color: 'navy'}, own: {fontFamily: faces.skerrySansBold}});
export const title = <AppText use="heading" style={styles.title} numberOfLines={1} onPress={() => {}}>07:40</AppText>;
`)
	out, err := checkTypes(t, dir)
	require.NoError(t, err, out)
	// … and refuse a role that there is not.
	write(t, filepath.Join(dir, "Use.tsx"), "import * as React from 'react';\nimport {AppText} from './AppType';\nexport const x = <AppText use=\"headign\" />;\n")
	out, err = checkTypes(t, dir)
	require.Error(t, err)
	require.Contains(t, out, `"headign"' is not assignable`)
	require.NoError(t, os.Remove(filepath.Join(dir, "Use.tsx")))

	// What people get wrong, found.
	write(t, filepath.Join(dir, "Wrong.tsx"), `const styles = {
  a: {fontFamily: 'SkerrySans-Blod', fontSize: 12},
  b: {
    fontFamily: "SkerrySans-Bold.ttf",
  },
  c: {fontFamily: 'SkerrySans-Bold', fontWeight: '700'},
  d: {fontFamily: faces.skerrySansBold, fontStyle: 'italic'},
  e: {fontFamily: 'SkerrySans-Bold', fontWeight: 'normal'}, // {fontFamily: 'Nowhere'}
};
`)
	found := notaria(t, 1, dir, "check")
	for _, want := range []string{"Wrong.tsx:2:20  unknown-font-name", "Wrong.tsx:4:18  file-name-as-font-name", "Wrong.tsx:6:38  weight-on-a-face (warning)", "Wrong.tsx:7:41  weight-on-a-face (warning)", "not yet   React Native .: 4 findings"} {
		require.Contains(t, found, want)
	}
	require.Equal(t, 1, strings.Count(found, "not yet"))
}

func TestReactNativePlainScript(t *testing.T) {
	t.Parallel()
	need(t, "node")
	dir := nativeApp(t)
	notaria(t, 0, dir, "strike", "Skerry Sans", "--with-roles")
	require.NoError(t, os.Remove(filepath.Join(dir, "tsconfig.json")))
	notaria(t, 0, dir, "enrol", filepath.Join(registered(t), "skerry-type.zip"), "--styles", "regular,bold")
	notaria(t, 0, dir, "register")
	script := filepath.Join(dir, "AppType.js")
	b, err := os.ReadFile(script)
	require.NoError(t, err)
	require.NotContains(t, string(b), ": Role")
	types, err := filepath.Abs("../../.consumers/rn/node_modules/typescript")
	require.NoError(t, err)
	need(t, types)
	out, err := try(t, dir, "node", "-e", `const ts = require(process.argv[1]);
const r = ts.transpileModule(require("fs").readFileSync(process.argv[2], "utf8"), {reportDiagnostics: true, fileName: "a.jsx", compilerOptions: {jsx: 1, allowJs: true}});
if (r.diagnostics.length) { console.log(r.diagnostics.map(d => d.messageText)); process.exit(1) }`, types, script)
	require.NoError(t, err, out)
}

// TestReactNativeFamilies has Android take families with weights: resources that
// the compilers take, and a start of the app that registers them, run.
func TestReactNativeFamilies(t *testing.T) {
	t.Parallel()
	need(t, "kotlinc", "java")
	dir := dressed(t)
	before := snapshot(t, filepath.Join(dir, "fleet/android"))
	toml := filepath.Join(dir, "notaria.toml")
	text, err := os.ReadFile(toml)
	require.NoError(t, err)
	write(t, toml, string(text)+"\n[target.react-native]\nandroid-families = true\n")
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "register", "--dry-run")
	notaria(t, 0, dir, "check")
	fleet := filepath.Join(dir, "fleet")
	module := filepath.Join(fleet, "android/app")
	require.NoDirExists(t, filepath.Join(module, "src/main/assets"))
	r := compileResources(t, module, filepath.Join(module, "src/main/res"))
	b, err := os.ReadFile(r[0])
	require.NoError(t, err)
	require.Regexp(t, `public static final int skerry_sans\s*=`, string(b))
	own := filepath.Join(t.TempDir(), "R.java")
	write(t, own, strings.Replace(string(b), "package com.skerryferries.app;", "package com.skerryferries.fleet;", 1))
	classes := stubClasses(t, own)
	program := filepath.Join(t.TempDir(), "start.jar")
	ask(t, ".", "kotlinc", "-cp", classes, "-include-runtime", "-d", program, "testdata/react.kt", "testdata/react_defaults.kt", "testdata/react_assets.kt", "testdata/react_main.kt",
		filepath.Join(module, "src/main/java/com/skerryferries/fleet/MainApplication.kt"))
	require.Regexp(t, `^Skerry Sans from \d+\nloaded true\n$`, ask(t, ".", "java", "-cp", classes+":"+program, "React_mainKt"))

	// Roles name the family and a weight, which both platforms understand.
	write(t, filepath.Join(fleet, "Use.tsx"), `import * as React from 'react';
import {AppText, roles} from './AppType';
export const family: 'Skerry Sans' = roles.heading.fontFamily;
export const weight: '700' = roles.heading.fontWeight;
export const slant: 'italic' = roles['copy-new'].fontStyle;
export const line: 34 = roles.heading.lineHeight;
export const title = <AppText use="copy-new">07:40</AppText>;
`)
	out, err := checkTypes(t, fleet)
	require.NoError(t, err, out)

	write(t, toml, string(text))
	notaria(t, 0, dir, "register")
	require.Equal(t, before, snapshot(t, filepath.Join(dir, "fleet/android")))
}

// TestReactNativeFamiliesInTheTemplate adds to the start of an app that was not made
// by us, and takes it off again.
func TestReactNativeFamiliesInTheTemplate(t *testing.T) {
	t.Parallel()
	npmHome(t)
	dir := nativeApp(t)
	mains, err := filepath.Glob(filepath.Join(dir, "android/app/src/main/java/com/helloworld/MainApplication.kt"))
	require.NoError(t, err)
	require.Len(t, mains, 1)
	before, err := os.ReadFile(mains[0])
	require.NoError(t, err)
	toml := filepath.Join(dir, "notaria.toml")
	text, err := os.ReadFile(toml)
	require.NoError(t, err)
	write(t, toml, string(text)+"\n[target.react-native]\nandroid-families = true\n")
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "check")
	after, err := os.ReadFile(mains[0])
	require.NoError(t, err)
	require.Contains(t, string(after), "    super.onCreate()\n    ReactFontManager.getInstance().addCustomFont(this, \"Skerry Sans\", R.font.skerry_sans)\n")
	require.Contains(t, string(after), "\nimport com.facebook.react.common.assets.ReactFontManager\n")
	out, err := try(t, ".", "node", "npm/parse.mjs", "kotlin", mains[0])
	require.NoError(t, err, out)
	notaria(t, 0, dir, "strike", "Skerry Sans", "--with-roles")
	back, err := os.ReadFile(mains[0])
	require.NoError(t, err)
	require.Equal(t, string(before), string(back))
}
