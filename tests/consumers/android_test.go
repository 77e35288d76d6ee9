package consumers

import (
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/cli"
	"notaria/internal/skerry"
)

const frameworkResources = "/usr/share/android-framework-res/framework-res.apk"

// compileResources runs both resource compilers on a module's res folder, with
// the attributes that androidx.core brings, and returns the R.java that each
// made.
func compileResources(t *testing.T, module, res string) []string {
	t.Helper()
	need(t, "aapt", "aapt2", frameworkResources)
	out := t.TempDir()
	manifest := filepath.Join(out, "AndroidManifest.xml")
	write(t, manifest, `<manifest xmlns:android="http://schemas.android.com/apk/res/android" package="com.skerryferries.app"><uses-sdk android:minSdkVersion="24"/></manifest>`)
	attrs, err := filepath.Abs("testdata/attrs")
	require.NoError(t, err)
	require.Empty(t, ask(t, module, "aapt2", "compile", "--dir", res, "-o", filepath.Join(out, "res.zip")))
	require.Empty(t, ask(t, module, "aapt2", "compile", "--dir", attrs, "-o", filepath.Join(out, "attrs.zip")))
	ask(t, module, "aapt2", "link", "-I", frameworkResources, "--manifest", manifest, "--java", filepath.Join(out, "gen2"),
		"-o", filepath.Join(out, "2.apk"), filepath.Join(out, "attrs.zip"), filepath.Join(out, "res.zip"))
	require.NoError(t, os.MkdirAll(filepath.Join(out, "gen1"), 0o755))
	ask(t, module, "aapt", "package", "-f", "-m", "-J", filepath.Join(out, "gen1"), "-M", manifest, "-S", res, "-S", attrs, "-I", frameworkResources,
		"--auto-add-overlay", "-F", filepath.Join(out, "1.apk"))
	return []string{filepath.Join(out, "gen2/com/skerryferries/app/R.java"), filepath.Join(out, "gen1/com/skerryferries/app/R.java")}
}

func TestAndroidResources(t *testing.T) {
	t.Parallel()
	need(t, "javac")
	dir := registered(t)
	for _, r := range compileResources(t, filepath.Join(dir, "android/app"), filepath.Join(dir, "android/app/src/main/res")) {
		b, err := os.ReadFile(r)
		require.NoError(t, err)
		for _, want := range []string{"skerry_sans", "skerry_sans_bold", "skerry_sans_regular", "TextAppearance_AppType_Heading", "TextAppearance_AppType_Body"} {
			require.Regexp(t, `public static final int `+want+`\s*=`, string(b))
		}
		ask(t, dir, "javac", "-d", t.TempDir(), r)
	}
}

// Both split copies of the family file name the fonts: that for API 26 and up
// through the platform's attributes, the other through androidx.core's.
func TestAndroidFamilyOnOldDevices(t *testing.T) {
	t.Parallel()
	need(t, "aapt2")
	dir := registered(t)
	r := compileResources(t, filepath.Join(dir, "android/app"), filepath.Join(dir, "android/app/src/main/res"))
	apk := filepath.Join(filepath.Dir(r[0]), "../../../../2.apk")
	list := ask(t, dir, "aapt2", "dump", "resources", apk)
	files := regexp.MustCompile(`res/font(?:-v26)?/skerry_sans\.xml`).FindAllString(list, -1)
	require.NotEmpty(t, files, list)
	for _, f := range files {
		tree := ask(t, dir, "aapt2", "dump", "xmltree", "--file", f, apk)
		require.Equal(t, 2, strings.Count(tree, "E: font ("), tree)
		require.Contains(t, tree, "http://schemas.android.com/apk/res-auto:fontWeight", tree)
	}
}

// What AppType.report says where one face is known.
const listing, listingOfThree = "  MISSING SkerrySans-Regular\n  there   SkerrySans-Bold\n", "  MISSING SkerrySans-Regular\n  MISSING SkerrySans-Italic\n  there   SkerrySans-Bold\n"

func TestAndroidKotlinCompilesAndRuns(t *testing.T) {
	t.Parallel()
	need(t, "kotlinc", "javac", "java")
	dir := registered(t)
	r := compileResources(t, filepath.Join(dir, "android/app"), filepath.Join(dir, "android/app/src/main/res"))
	classes := stubClasses(t, r[0])
	out := ask(t, ".", "kotlinc", "-cp", classes, "-d", classes, filepath.Join(dir, "android/app/src/main/java/com/skerryferries/app/AppType.kt"))
	for _, l := range strings.Split(out, "\n") {
		if strings.Contains(l, "AppType.kt") {
			t.Errorf("kotlinc: %s", l)
		}
	}
	kotlin := kotlinLibrary(t)
	ask(t, ".", "javac", "-cp", classes+":"+kotlin, "-d", classes, "testdata/java/Use.java")
	require.Equal(t, "there: true 28.0 2\nAppType: no face for the role BODY; the system's shows instead\nnull: true\nFaces of this app:\n"+listing+"throws: true\n",
		ask(t, ".", "java", "-cp", classes+":"+kotlin, "Use"))
}

// stubClasses compiles the stand-ins for the framework and for AndroidX, and an R.java; in place
// of the folder without, those of the library before it.
func stubClasses(t *testing.T, r string, without ...string) string {
	t.Helper()
	classes := t.TempDir()
	var stubs []string
	roots := []string{"testdata/android"}
	if len(without) > 0 {
		roots = append(roots, "testdata/support")
	}
	for _, root := range roots {
		require.NoError(t, filepath.WalkDir(root, func(name string, d os.DirEntry, err error) error {
			if err == nil && strings.HasSuffix(name, ".java") && (len(without) == 0 || !strings.HasPrefix(name, without[0])) {
				stubs = append(stubs, name)
			}
			return err
		}))
	}
	ask(t, ".", "javac", append([]string{"-d", classes, r}, stubs...)...)
	return classes
}

// A module that uses Compose gets text styles; one without Kotlin gets Java.
func TestAndroidComposeAndJava(t *testing.T) {
	t.Parallel()
	need(t, "kotlinc", "javac", "java")
	dir := registered(t)
	gradle := filepath.Join(dir, "android/app/build.gradle.kts")
	b, err := os.ReadFile(gradle)
	require.NoError(t, err)
	write(t, gradle, strings.Replace(string(b), "    defaultConfig {", "    buildFeatures {\n        compose = true\n    }\n\n    defaultConfig {", 1))
	notaria(t, 0, dir, "enrol", filepath.Join(dir, "skerry-type.zip"), "--styles", "italic", "--role", "fine-print")
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "check")
	r := compileResources(t, filepath.Join(dir, "android/app"), filepath.Join(dir, "android/app/src/main/res"))
	classes := stubClasses(t, r[0])
	sources := filepath.Join(dir, "android/app/src/main/java/com/skerryferries/app")
	out := ask(t, ".", "kotlinc", "-cp", classes, "-d", classes, "testdata/compose.kt", "testdata/compose_graphics.kt", "testdata/compose_text.kt", "testdata/compose_unit.kt",
		filepath.Join(sources, "AppTextStyles.kt"), filepath.Join(sources, "AppType.kt"))
	require.NotContains(t, out, "AppTextStyles.kt")
	out, err = try(t, ".", "node", "npm/parse.mjs", "kotlin", filepath.Join(sources, "AppTextStyles.kt"))
	require.NoError(t, err, out)

	// Without Kotlin: the sources and the plugin go, and Java comes.
	require.NoError(t, os.Remove(filepath.Join(sources, "DeparturesActivity.kt")))
	write(t, gradle, strings.Replace(string(b), "    id(\"org.jetbrains.kotlin.android\")\n", "", 1))
	write(t, gradle, strings.NewReplacer("    id(\"org.jetbrains.kotlin.android\")\n", "", "core-ktx", "core").Replace(string(b)))
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "check")
	require.NoFileExists(t, filepath.Join(sources, "AppType.kt"), "what is wanted no more goes")
	classes = stubClasses(t, r[0])
	require.Empty(t, ask(t, ".", "javac", "-Xlint:all", "-Werror", "-cp", classes, "-d", classes, filepath.Join(sources, "AppType.java")))
	use, err := os.ReadFile("testdata/java/Use.java")
	require.NoError(t, err)
	main := filepath.Join(t.TempDir(), "Use.java")
	write(t, main, strings.ReplaceAll(string(use), "AppType.INSTANCE", "AppType"))
	ask(t, ".", "javac", "-cp", classes, "-d", classes, main)
	require.Equal(t, "there: true 28.0 2\nAppType: no face for the role BODY; the system's shows instead\nnull: true\nFaces of this app:\n"+listingOfThree+"throws: true\n",
		ask(t, ".", "java", "-cp", classes, "Use"))
}

// TestAndroidRolesWithAllParts compiles and runs the code of roles that have all
// that a role can have, in Kotlin, Java and Compose, and compiles their resources.
func TestAndroidRolesWithAllParts(t *testing.T) {
	t.Parallel()
	need(t, "kotlinc", "javac", "java")
	dir := dressed(t)
	module := filepath.Join(dir, "android/app")
	r := compileResources(t, module, filepath.Join(module, "src/main/res"))
	b, err := os.ReadFile(r[0])
	require.NoError(t, err)
	require.Regexp(t, `public static final int Widget_AppType_Heading\s*=`, string(b))
	classes := stubClasses(t, r[0])
	sources := filepath.Join(module, "src/main/java/com/skerryferries/app")
	out := ask(t, ".", "kotlinc", "-cp", classes, "-d", classes, filepath.Join(sources, "AppType.kt"))
	require.NotContains(t, out, "AppType.kt")
	kotlin := kotlinLibrary(t)
	ask(t, ".", "javac", "-cp", classes+":"+kotlin, "-d", classes, "testdata/java/Dressed.java")
	const want = "AppType: no face for the role BODY; the system's shows instead\nBODY: default 17.0 sp line 0 tracking 0.0 colour 0 shadow none\n" +
		"AppType: no face for the role COPY_NEW; the system's shows instead\nCOPY_NEW: mono 11.5 dp line 0 tracking -0.005 colour 0 shadow none\n" +
		"AppType: no face for the role HEADING; the system's shows instead\nHEADING: serif 30.0 sp line 108 tracking 0.01 colour ff0b3d5c shadow 6.0 2.0 -4.0 80000000\n"
	require.Equal(t, want, ask(t, ".", "java", "-cp", classes+":"+kotlin, "Dressed"))

	// The module as Java, on devices so old that they have no letter spacing.
	gradle := filepath.Join(module, "build.gradle.kts")
	b, err = os.ReadFile(gradle)
	require.NoError(t, err)
	require.NoError(t, os.Remove(filepath.Join(sources, "DeparturesActivity.kt")))
	write(t, gradle, strings.NewReplacer("    id(\"org.jetbrains.kotlin.android\")\n", "", "core-ktx", "core", "minSdk = 24", "minSdk = 19").Replace(string(b)))
	notaria(t, 0, dir, "register")
	r = compileResources(t, module, filepath.Join(module, "src/main/res"))
	classes = stubClasses(t, r[0])
	java, err := os.ReadFile(filepath.Join(sources, "AppType.java"))
	require.NoError(t, err)
	require.Contains(t, string(java), "if (Build.VERSION.SDK_INT >= 21) {")
	require.Empty(t, ask(t, ".", "javac", "-Xlint:all", "-Werror", "-cp", classes, "-d", classes, filepath.Join(sources, "AppType.java")))
	use, err := os.ReadFile("testdata/java/Dressed.java")
	require.NoError(t, err)
	main := filepath.Join(t.TempDir(), "Dressed.java")
	write(t, main, strings.ReplaceAll(string(use), "AppType.INSTANCE", "AppType"))
	ask(t, ".", "javac", "-cp", classes, "-d", classes, main)
	require.Equal(t, want, ask(t, ".", "java", "-cp", classes, "Dressed"))
}

// TestAndroidWithoutAndroidX compiles and runs the code of modules that have nothing but the
// platform, in Kotlin and in Java, and compiles it for the support library before AndroidX.
func TestAndroidWithoutAndroidX(t *testing.T) {
	t.Parallel()
	need(t, "kotlinc", "javac", "java", "aapt2", frameworkResources)
	dir := dressed(t)
	module := filepath.Join(dir, "android/app")
	sources := filepath.Join(module, "src/main/java/com/skerryferries/app")
	gradle := filepath.Join(module, "build.gradle.kts")
	b, err := os.ReadFile(gradle)
	require.NoError(t, err)
	libraries := regexp.MustCompile(`(?s)dependencies \{.*`)
	build := func(dependencies, minSDK, kotlin string) {
		t.Helper()
		text := strings.Replace(libraries.ReplaceAllString(string(b), dependencies), "minSdk = 24", "minSdk = "+minSDK, 1)
		write(t, gradle, strings.Replace(text, "    id(\"org.jetbrains.kotlin.android\")\n", kotlin, 1))
		notaria(t, 0, dir, "register", "--only", "android")
	}
	const id = "    id(\"org.jetbrains.kotlin.android\")\n"
	compile := func(classes, name string) {
		t.Helper()
		if path := filepath.Join(sources, name); filepath.Ext(name) == ".kt" {
			require.NotContains(t, ask(t, ".", "kotlinc", "-cp", classes, "-d", classes, path), name)
		} else {
			require.Empty(t, ask(t, ".", "javac", "-Xlint:all", "-Werror", "-cp", classes, "-d", classes, path))
		}
	}
	const want = "there: true [20000] line 108\nAppType: no face for the role BODY; the system's shows instead\nmissing: true\n"

	build("", "21", id)
	// No library brings the attributes app:fontWeight: the compiler must not need them.
	r := resourcesAlone(t, module)
	classes := stubClasses(t, r, "testdata/android/androidx")
	compile(classes, "AppType.kt")
	kotlin := kotlinLibrary(t)
	ask(t, ".", "javac", "-cp", classes+":"+kotlin, "-d", classes, "testdata/java/Plain.java")
	require.Equal(t, want, ask(t, ".", "java", "-cp", classes+":"+kotlin, "Plain"))
	build("", "26", id)
	compile(stubClasses(t, r, "testdata/android/androidx"), "AppType.kt")
	build("dependencies { implementation(\"com.android.support:appcompat-v7:28.0.0\") }\n", "21", id)
	compile(stubClasses(t, r, "testdata/android/androidx"), "AppType.kt")

	require.NoError(t, os.Remove(filepath.Join(sources, "DeparturesActivity.kt")))
	build("dependencies { implementation(\"com.android.support:appcompat-v7:28.0.0\") }\n", "21", "")
	compile(stubClasses(t, r, "testdata/android/androidx"), "AppType.java")
	build("", "26", "")
	compile(stubClasses(t, r, "testdata/android/androidx"), "AppType.java")
	build("", "21", "")
	classes = stubClasses(t, r, "testdata/android/androidx")
	compile(classes, "AppType.java")
	use, err := os.ReadFile("testdata/java/Plain.java")
	require.NoError(t, err)
	main := filepath.Join(t.TempDir(), "Plain.java")
	write(t, main, strings.ReplaceAll(string(use), "AppType.INSTANCE", "AppType"))
	ask(t, ".", "javac", "-cp", classes, "-d", classes, main)
	require.Equal(t, want, ask(t, ".", "java", "-cp", classes, "Plain"))
}

// resourcesAlone compiles a module's resources without any library's attributes, and returns the
// R.java.
func resourcesAlone(t *testing.T, module string) string {
	t.Helper()
	out := t.TempDir()
	manifest := filepath.Join(out, "AndroidManifest.xml")
	write(t, manifest, `<manifest xmlns:android="http://schemas.android.com/apk/res/android" package="com.skerryferries.app"><uses-sdk android:minSdkVersion="21"/></manifest>`)
	require.Empty(t, ask(t, module, "aapt2", "compile", "--dir", filepath.Join(module, "src/main/res"), "-o", filepath.Join(out, "res.zip")))
	ask(t, module, "aapt2", "link", "-I", frameworkResources, "--manifest", manifest, "--java", filepath.Join(out, "gen"), "-o", filepath.Join(out, "a.apk"), filepath.Join(out, "res.zip"))
	return filepath.Join(out, "gen/com/skerryferries/app/R.java")
}

// TestComposeMultiplatform compiles the common code against stand-ins for what the
// build makes of the fonts that lie where it looks.
func TestComposeMultiplatform(t *testing.T) {
	t.Parallel()
	need(t, "kotlinc")
	dir := dressed(t)
	module := filepath.Join(dir, "timetable/composeApp")
	for _, n := range []string{"regular", "bold", "italic"} {
		require.FileExists(t, filepath.Join(module, "src/commonMain/composeResources/font/skerry_sans_"+n+".ttf"))
	}
	gradle, err := os.ReadFile(filepath.Join(module, "build.gradle.kts"))
	require.NoError(t, err)
	require.Contains(t, string(gradle), "            implementation(compose.ui)\n            implementation(compose.components.resources)\n        }\n")
	classes := t.TempDir()
	args := []string{"-d", classes}
	for _, f := range []string{"compose", "compose_graphics", "compose_text", "compose_unit", "compose_shared", "compose_runtime", "compose_resources"} {
		args = append(args, "testdata/"+f+".kt")
	}
	out := ask(t, ".", "kotlinc", append(args, filepath.Join(module, "src/commonMain/kotlin/com/skerryferries/timetable/AppTextStyles.kt"))...)
	require.NotContains(t, out, "AppTextStyles.kt")
}

// TestAndroidSourceSetsAndAssets puts fonts into a flavour, whose resources lie where
// the build file says, and then among the assets, where a module keeps its fonts so.
func TestAndroidSourceSetsAndAssets(t *testing.T) {
	t.Parallel()
	need(t, "kotlinc", "javac", "java")
	dir := filepath.Join(t.TempDir(), "skerry")
	require.NoError(t, skerry.Place(dir))
	module := filepath.Join(dir, "android/app")
	gradle := filepath.Join(module, "build.gradle.kts")
	b, err := os.ReadFile(gradle)
	require.NoError(t, err)
	write(t, gradle, strings.Replace(string(b), "    defaultConfig {", "    flavorDimensions += \"quay\"\n    productFlavors {\n        create(\"north\") { dimension = \"quay\" }\n    }\n"+
		"    sourceSets {\n        getByName(\"north\") {\n            res.srcDirs(\"src/north/res\")\n            res.setSrcDirs(listOf(\"quays/north/res\"))\n        }\n    }\n\n    defaultConfig {", 1))
	before := snapshot(t, dir)
	notaria(t, 0, dir, "enrol", filepath.Join(dir, skerry.ArchiveName), "--styles", "regular,bold")
	toml := filepath.Join(dir, "notaria.toml")
	text, err := os.ReadFile(toml)
	require.NoError(t, err)
	write(t, toml, string(text)+"\n[target.android]\nsource-set = \"north\"\n")
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "check")
	require.FileExists(t, filepath.Join(module, "quays/north/res/font/skerry_sans_bold.ttf"))
	require.FileExists(t, filepath.Join(module, "src/north/java/com/skerryferries/app/AppType.kt"))
	require.NoDirExists(t, filepath.Join(module, "src/main/res/font"))
	compileResources(t, module, filepath.Join(module, "quays/north/res"))

	write(t, toml, string(text)+"\n[target.android]\nfonts = \"assets\"\n")
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "check")
	notaria(t, 0, dir, "register", "--dry-run")
	require.FileExists(t, filepath.Join(module, "src/main/assets/fonts/SkerrySans-Bold.ttf"))
	require.NoDirExists(t, filepath.Join(module, "quays"))
	empty := filepath.Join(t.TempDir(), "R.java")
	write(t, empty, "package com.skerryferries.app;\npublic final class R { }\n")
	classes := stubClasses(t, empty)
	ask(t, ".", "kotlinc", "-cp", classes, "-d", classes, filepath.Join(module, "src/main/java/com/skerryferries/app/AppType.kt"))
	kotlin := kotlinLibrary(t)
	ask(t, ".", "javac", "-cp", classes+":"+kotlin, "-d", classes, "testdata/java/Assets.java")
	require.Equal(t, "heading: true\nAppType: no face for the role BODY; the system's shows instead\nbody: true\n", ask(t, ".", "java", "-cp", classes+":"+kotlin, "Assets"))

	notaria(t, 0, dir, "strike", "Skerry Sans", "--with-roles")
	write(t, gradle, before["android/app/build.gradle.kts"])
	require.Equal(t, []string{"notaria.toml"}, differing(before, snapshot(t, dir)), "but for the option, which is the user's own")
}

// TestAndroidCollection packs a family into one file, whose faces other readers find
// by index as they were, and runs the code that asks for one by its weight.
func TestAndroidCollection(t *testing.T) {
	t.Parallel()
	need(t, "kotlinc", "javac", "java", "fc-scan", "ots-sanitize", "hb-shape", "aapt2", "aapt", frameworkResources)
	dir := dressed(t)
	before := snapshot(t, filepath.Join(dir, "android"))
	module := filepath.Join(dir, "android/app")
	gradle := filepath.Join(module, "build.gradle.kts")
	toml := filepath.Join(dir, "notaria.toml")
	text := readFile(t, toml)
	write(t, toml, text+"\n[target.android]\nfonts = \"collection\"\n")
	code := readFile(t, gradle)
	var out, errOut strings.Builder
	require.Equal(t, 1, cli.Execute([]string{"--project", dir, "register"}, strings.NewReader(""), &out, &errOut))
	require.Contains(t, errOut.String(), "expected views and minSdk 28 for collections, whose faces go by index, found minSdk 24")
	write(t, gradle, strings.Replace(code, "minSdk = 24", "minSdk = 28", 1))
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "register", "--dry-run")
	notaria(t, 0, dir, "check")

	file := filepath.Join(module, "src/main/res/font/skerry_sans_faces.ttc")
	require.NoFileExists(t, filepath.Join(module, "src/main/res/font/skerry_sans_bold.ttf"))
	require.Equal(t, "0 SkerrySans-Regular\n1 SkerrySans-Bold\n2 SkerrySans-Italic\n", ask(t, dir, "fc-scan", "--format", "%{index} %{postscriptname}\n", file))
	whole, sum := int64(0), int64(0)
	if info, err := os.Stat(file); err == nil {
		whole = info.Size()
	}
	for i, name := range []string{"Regular", "Bold", "Italic"} {
		index := fmt.Sprint(i)
		ask(t, dir, "ots-sanitize", file, filepath.Join(t.TempDir(), "out"), index)
		source := filepath.Join(dir, "type/SkerrySans-"+name+".ttf")
		shape := func(args ...string) string {
			return ask(t, dir, "hb-shape", append(args, "--text=07:40 Åland, Skerry", "--no-glyph-names", "--show-extents")...)
		}
		require.Equal(t, shape(source), shape("--face-index="+index, file))
		info, err := os.Stat(source)
		require.NoError(t, err)
		sum += info.Size()
	}
	require.Less(t, whole, sum, "what the faces share is there once")

	r := compileResources(t, module, filepath.Join(module, "src/main/res"))
	family := readFile(t, filepath.Join(module, "src/main/res/font/skerry_sans.xml"))
	require.Contains(t, family, "android:font=\"@font/skerry_sans_faces\"\n        android:fontStyle=\"normal\"\n        android:fontWeight=\"700\"\n        android:ttcIndex=\"1\" />")
	classes := stubClasses(t, r[0])
	sources := filepath.Join(module, "src/main/java/com/skerryferries/app")
	require.NotContains(t, ask(t, ".", "kotlinc", "-cp", classes, "-d", classes, filepath.Join(sources, "AppType.kt")), "AppType.kt")
	kotlin := kotlinLibrary(t)
	use := strings.Replace(readFile(t, "testdata/java/Dressed.java"), "        for (AppType", "        ResourcesCompat.fonts.put(com.skerryferries.app.R.font.skerry_sans, new Typeface());\n        for (AppType", 1)
	main := filepath.Join(t.TempDir(), "Dressed.java")
	write(t, main, use)
	ask(t, ".", "javac", "-cp", classes+":"+kotlin, "-d", classes, main)
	ran := ask(t, ".", "java", "-cp", classes+":"+kotlin, "Dressed")
	require.Contains(t, ran, "created 700 false\nHEADING: own 30.0 sp")
	require.Contains(t, ran, "created 400 true\nCOPY_NEW: own 11.5 dp")

	// In Java as well.
	require.NoError(t, os.Remove(filepath.Join(sources, "DeparturesActivity.kt")))
	write(t, gradle, strings.NewReplacer("    id(\"org.jetbrains.kotlin.android\")\n", "", "core-ktx", "core", "minSdk = 24", "minSdk = 28").Replace(code))
	notaria(t, 0, dir, "register")
	classes = stubClasses(t, r[0])
	require.Empty(t, ask(t, ".", "javac", "-Xlint:all", "-Werror", "-cp", classes, "-d", classes, filepath.Join(sources, "AppType.java")))
	write(t, main, strings.ReplaceAll(use, "AppType.INSTANCE", "AppType"))
	ask(t, ".", "javac", "-cp", classes, "-d", classes, main)
	require.Equal(t, ran, ask(t, ".", "java", "-cp", classes, "Dressed"))

	write(t, gradle, code)
	write(t, toml, text)
	write(t, filepath.Join(sources, "DeparturesActivity.kt"), before["app/src/main/java/com/skerryferries/app/DeparturesActivity.kt"])
	notaria(t, 0, dir, "register")
	require.Equal(t, before, snapshot(t, filepath.Join(dir, "android")))
}

// differing lists the files that differ between two snapshots.
func differing(a, b map[string]string) []string {
	var out []string
	for name := range b {
		if have, ok := a[name]; !ok || have != b[name] {
			out = append(out, name)
		}
	}
	for name := range a {
		if _, ok := b[name]; !ok {
			out = append(out, name)
		}
	}
	return out
}

// kotlinLibrary finds the compiler's own run-time library.
func kotlinLibrary(t *testing.T) string {
	t.Helper()
	for _, pattern := range []string{"/usr/share/kotlin/kotlinc/lib/kotlin-stdlib.jar", "/usr/share/java/kotlin-stdlib.jar", "/usr/share/kotlin/lib/kotlin-stdlib.jar"} {
		if _, err := os.Stat(pattern); err == nil {
			return pattern
		}
	}
	t.Fatal("kotlinc is there, and its kotlin-stdlib.jar is not")
	return ""
}

func TestAndroidKotlinParses(t *testing.T) {
	t.Parallel()
	npmHome(t)
	dir := registered(t)
	out, err := try(t, ".", "node", "npm/parse.mjs", "kotlin", filepath.Join(dir, "android/app/src/main/java/com/skerryferries/app/AppType.kt"))
	require.NoError(t, err, out)
}

func TestAndroidXML(t *testing.T) {
	t.Parallel()
	need(t, "xmllint")
	dir := registered(t)
	for _, f := range []string{"font/skerry_sans.xml", "values/app_type.xml"} {
		require.Empty(t, ask(t, dir, "xmllint", "--nonet", "--noout", filepath.Join(dir, "android/app/src/main/res", f)))
	}
}
