package consumers

import (
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/skerry"
)

// Words that the languages keep for themselves, and names that every object or the
// generated types have already. A role can have any of them as its name.
const claimedWords = `abstract as assert async await base body bool boolean break byte case catch char class companion const constructor continue copy
	covariant data decimal default deferred deinit delegate delete description do double dynamic each else enum equals event export extends extension extern
	external factory false final finally fixed float font for foreach foreground fun function get global goto guard hash heading hide if implements implicit
	import in init inline inout instanceof int interface internal is it late lazy let library lock long mixin name namespace native new nil null object
	on open operator out override package part private protected protocol public readonly ref register report required rethrow return role roles
	sealed self set short show signed size sizeof static strictfp string struct style subscript super suspend switch sync synchronized text-theme this
	throw throws transient true try type typealias typedef typeof ulong union unsafe use using val values var virtual void volatile weak when where while with yield`

// Words that cannot stand for a name without quotes: the grammars take them for one.
var (
	swiftWords = strings.Fields(`associatedtype class deinit enum extension fileprivate func import init inout internal let open operator private precedencegroup
		protocol public rethrows static struct subscript typealias var break case catch continue default defer do else fallthrough for guard if in repeat
		return throw switch where while Any as await false is nil self Self super throws true try`)
	dartWords = strings.Fields(`assert break case catch class const continue default do else enum extends false final finally for if in is new null rethrow return
		super switch this throw true try var void while with await yield`)
)

// names lists what a pattern's first group finds, and fails for a reserved word.
func unreserved(t *testing.T, file, pattern string, words []string) {
	t.Helper()
	found := regexp.MustCompile(pattern).FindAllStringSubmatch(readFile(t, file), -1)
	require.NotEmpty(t, found, file)
	seen := map[string]bool{}
	for _, m := range found {
		require.NotContains(t, words, m[1], file)
		require.False(t, seen[m[0]], "%s: %s twice", file, m[0])
		seen[m[0]] = true
	}
}

func TestReservedWordsAsRoles(t *testing.T) {
	t.Parallel()
	need(t, "kotlinc", "javac", "mcs", "clang-14", "aapt", "aapt2", frameworkResources)
	npmHome(t)
	dir := filepath.Join(t.TempDir(), "skerry")
	require.NoError(t, skerry.Place(dir))
	notaria(t, 0, dir, "enrol", filepath.Join(dir, skerry.ArchiveName), "--styles", "bold")
	toml := filepath.Join(dir, "notaria.toml")
	text, _, _ := strings.Cut(readFile(t, toml), "\n[role.")
	for i, w := range strings.Fields(claimedWords) {
		text += fmt.Sprintf("\n[role.%s]\nface = \"SkerrySans-Bold\"\nsize = %d\noutline = { width = 1, colour = \"#000000\" }\nshadow = { x = 1, y = 1, colour = \"#000000\" }\nsmooth = true\n", w, 10+i%20)
	}
	write(t, toml, text)
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "check")

	// Android: Kotlin, Java, both of Compose.
	module := filepath.Join(dir, "android/app")
	gradle := filepath.Join(module, "build.gradle.kts")
	code := readFile(t, gradle)
	write(t, gradle, strings.Replace(code, "    defaultConfig {", "    buildFeatures {\n        compose = true\n    }\n\n    defaultConfig {", 1))
	notaria(t, 0, dir, "register")
	r := compileResources(t, module, filepath.Join(module, "src/main/res"))
	classes := stubClasses(t, r[0])
	sources := filepath.Join(module, "src/main/java/com/skerryferries/app")
	compose := []string{"testdata/compose.kt", "testdata/compose_graphics.kt", "testdata/compose_text.kt", "testdata/compose_unit.kt"}
	ask(t, ".", "kotlinc", append([]string{"-cp", classes, "-d", classes, filepath.Join(sources, "AppType.kt"), filepath.Join(sources, "AppTextStyles.kt")}, compose...)...)
	ask(t, ".", "kotlinc", append([]string{"-d", t.TempDir(), "testdata/compose_shared.kt", "testdata/compose_runtime.kt", "testdata/compose_resources.kt",
		filepath.Join(dir, "timetable/composeApp/src/commonMain/kotlin/com/skerryferries/timetable/AppTextStyles.kt")}, compose...)...)
	require.NoError(t, os.Remove(filepath.Join(sources, "DeparturesActivity.kt")))
	write(t, gradle, strings.NewReplacer("    id(\"org.jetbrains.kotlin.android\")\n", "", "core-ktx", "core").Replace(code))
	notaria(t, 0, dir, "register")
	classes = stubClasses(t, r[0])
	require.Empty(t, ask(t, ".", "javac", "-Xlint:all", "-Werror", "-cp", classes, "-d", classes, filepath.Join(sources, "AppType.java")))

	// Apple: Objective-C by its compiler; Swift by its grammar and the list of words.
	require.Empty(t, ask(t, ".", "clang-14", "-target", "arm64-apple-macos12", "-fsyntax-only", "-fobjc-arc", "-Wall", "-Wextra", "-Werror",
		"-I", "testdata/apple/foundation", "-I", "testdata/apple/kits", filepath.Join(dir, "office/Office/Type/AppType.m")))
	swift := filepath.Join(dir, "ios/SkerryFerries/Type/AppType.swift")
	out, err := try(t, ".", "node", "npm/parse.mjs", "swift", swift)
	require.NoError(t, err, out)
	unreserved(t, swift, `static var (\S+): Role`, swiftWords)
	unreserved(t, swift, `static var (\S+): Font `, swiftWords)

	dart := filepath.Join(dir, "deckgame/lib/app_type.dart")
	out, err = try(t, ".", "node", "npm/parse.mjs", "dart", dart)
	require.NoError(t, err, out)
	unreserved(t, dart, `static (?:const|final) (?:String|TextStyle) (\w+)`, dartWords)

	for _, app := range []string{"kiosk", "fleet"} {
		folder := filepath.Join(dir, app)
		write(t, filepath.Join(folder, "Use.tsx"), "import * as React from 'react';\nimport {AppText, roles} from './AppType';\nexport const x = <AppText use=\"class\" style={roles['text-theme']}>{roles.default.fontSize}</AppText>;\n")
		out, err = checkTypes(t, folder)
		require.NoError(t, err, out)
	}
	board, crew := filepath.Join(dir, "board"), filepath.Join(dir, "crew/Crew")
	ran := sharp(t, "testdata/maui-stub.cs", "testdata/maui-use.cs", filepath.Join(board, "MauiProgram.cs"), filepath.Join(board, "AppType.cs"), filepath.Join(board, "App.xaml.cs"), filepath.Join(board, "DeparturePage.xaml.cs"))
	require.Equal(t, sorted(ran, "Type "), sorted(styles(t, filepath.Join(board, "Resources/Styles/AppType.xaml"), ""), "Type "))
	sharp(t, "testdata/xamarin-stub.cs", "testdata/xamarin-use.cs", filepath.Join(crew, "AppType.cs"), filepath.Join(crew, "App.xaml.cs"), filepath.Join(crew, "WatchPage.xaml.cs"))
	avaloniaRuns(t, dir)
	lookout, pilot := filepath.Join(dir, "lookout"), filepath.Join(dir, "pilot")
	sharp(t, "testdata/wpf-stub.cs", filepath.Join(lookout, "AppType.cs"))
	sharp(t, "testdata/winui-stub.cs", filepath.Join(pilot, "AppType.cs"), filepath.Join(pilot, "App.xaml.cs"), filepath.Join(pilot, "MainWindow.xaml.cs"))
	for _, f := range []string{"desk/AppType.axaml", "lookout/AppType.xaml", "pilot/AppType.xaml"} {
		xamlStyles(t, filepath.Join(dir, f))
	}
	fxRun(t, filepath.Dir(fxCompile(t, filepath.Join(dir, "pier"))))
	swingRun(t, filepath.Join(dir, "cargo"), "CLASS")
	flexReads(t, filepath.Join(dir, "heritage/src"))
	three := godotRuns(t, filepath.Join(dir, "riddle"))
	require.NotContains(t, three, "SCRIPT ERROR")
	require.Equal(t, len(strings.Fields(claimedWords)), strings.Count(three, " plausible True\n"))
	godotReads(t, filepath.Join(dir, "quiz"))
	godotParses(t, dir)
	require.Equal(t, len(strings.Fields(claimedWords)), strings.Count(gdxRuns(t, filepath.Join(dir, "mooring")), ".apptype of fonts/SkerrySans-Bold.ttf: size "))
	all := len(strings.Fields(claimedWords))
	require.Equal(t, all+3, strings.Count(loveRuns(t, filepath.Join(dir, "stow")), "\n")) // its own font, and the listing of one face
	require.Equal(t, all, strings.Count(pygameRuns(t, filepath.Join(dir, "lamps")), " True True\n"))
	require.Equal(t, all, strings.Count(sdlRuns(t, filepath.Join(dir, "sonar")), "\nrole "))
	gate, jetty, watch := boardsCompile(t, dir)
	require.Equal(t, []int{all, all, all}, []int{gate, jetty, watch})
	for _, version := range []string{"one", "two"} {
		var loaded []bool
		rest := sketchSays(t, waves(t, dir, version), "index.html", version, "Object.values(AppType.roles).map(r => !!r.font && r.width('x') > 0)", "", &loaded)
		require.NotContains(t, rest, "problem")
		require.Len(t, loaded, len(strings.Fields(claimedWords)))
		require.NotContains(t, loaded, false)
	}
	var ofRoles []string
	for _, w := range strings.Fields(claimedWords) {
		ofRoles = append(ofRoles, "type-"+w)
	}
	got, _ := browse(t, filepath.Join(dir, "web"), "index.html", "fonts", ofRoles...)
	for _, c := range ofRoles {
		require.Equal(t, "SkerrySans-Bold", got[c].font, c)
	}
	qt := qtRuns(t, filepath.Join(dir, "chart"))
	require.Equal(t, 2*len(ofRoles), strings.Count(qt, " Skerry Sans / Bold / 700 / 0 / "), qt)
	require.Equal(t, len(ofRoles), strings.Count(pangoRuns(t, filepath.Join(dir, "beacon")), " [SkerrySans-Bold] "))
	require.Equal(t, len(ofRoles), strings.Count(gtkRuns(t, filepath.Join(dir, "tide")), " Skerry Sans / 700 / normal"))
}
