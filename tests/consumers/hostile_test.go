package consumers

import (
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/platform"
	"notaria/internal/sfnt"
	"notaria/internal/skerry"
	"notaria/internal/skerry/letters"
)

// hostile are names that fonts can have; each gives a font below.
var hostile = []string{
	`Quote"d`, `Back\slash`, "New\nline", "Tab\tbed", "${x}", "$x", "*/ evil /*", "</string>", "]]>", "100%", "\u202eright to left", "🚢 Boat",
	"class", "default", "switch", "object", "font", "Type", "in", "val", "Any", strings.Repeat("Long", 2500), "../../up", "/abs", `C:\x`, "-dash", "1st", "9",
	"A B", "A-B2", "a_b3", "岩礁", "Ñandú", `\(name)`, "'single'", "`back`", "-- x", "<!-- y", "#{x}", "@font/z", "&amp;", ".hidden", "con", "report",
	// Each would end a comment, and have the compiler take what is behind it.
	`*\u002f static { ` + trap + ` } /\u002a`, `\u000a static { ` + trap + ` } //`, `C:\users`, "ends in a backslash \\", "ends in a trigraph ??/", "*/ } " + trap + " { /*", "--]] " + trap, "]]",
	`""" ` + trap, "a\u2028" + trap, "b\u2029" + trap, "U\ufffe", "--- ->" + trap + "<!-", "$(" + trap + ")",
	"%" + "{" + trap + "}%", "#{" + trap + "}", "<? " + trap + " ?>", "@{" + trap + "}", "\\r" + trap, "{{" + trap + "}}",
}

// trap is code of several languages that prints.
const trap = `System.out.println("TRAP"); print("TRAP")`

// renamed is the demo's regular with another name in every record.
func renamed(t *testing.T, name string) []byte {
	t.Helper()
	b, err := letters.Font(letters.Styles[1])
	require.NoError(t, err)
	file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
	require.NoError(t, err)
	tables, err := file.Font(0).Tables()
	require.NoError(t, err)
	var names sfnt.Names
	for _, id := range []uint16{sfnt.NameFamily, sfnt.NameStyle, sfnt.NameFull, sfnt.NamePostScript} {
		names = append(names, sfnt.NameRecord{ID: id, Platform: sfnt.PlatformWindows, Encoding: 1, Language: 0x0409, Value: name})
	}
	tables["name"], err = names.Bytes()
	require.NoError(t, err)
	out, err := sfnt.Build(tables)
	require.NoError(t, err)
	return out
}

// enrolHostile enrols a font of each name, each for a role of its own, and gives the
// folder that they lie in.
func enrolHostile(t *testing.T, dir string) string {
	t.Helper()
	fonts := t.TempDir()
	for i, name := range hostile {
		file := filepath.Join(fonts, fmt.Sprintf("f%02d.ttf", i))
		require.NoError(t, os.WriteFile(file, renamed(t, name), 0o644))
		notaria(t, 0, dir, "enrol", file, "--role", fmt.Sprintf("role-%d", i))
	}
	return fonts
}

// TestHostileNames enrols fonts with names that break careless writers and lets
// every consumer judge what comes of them.
func TestHostileNames(t *testing.T) {
	t.Parallel()
	need(t, "plparse", "python3", "mcs", "javac", "kotlinc", "aapt", "aapt2", frameworkResources)
	npmHome(t)
	dir := filepath.Join(t.TempDir(), "skerry")
	require.NoError(t, skerry.Place(dir))
	before := snapshot(t, dir)
	fonts := enrolHostile(t, dir)
	// Nothing at all is no name to type: it is refused, and mended on request.
	nameless := filepath.Join(fonts, "nameless.ttf")
	require.NoError(t, os.WriteFile(nameless, renamed(t, ""), 0o644))
	notaria(t, 3, dir, "enrol", nameless)
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "register", "--dry-run")
	notaria(t, 0, dir, "check")

	project := filepath.Join(dir, "ios/SkerryFerries.xcodeproj/project.pbxproj")
	readStrictly(t, project)
	a := askProject(t, project)
	require.Empty(t, a.Dangling)
	require.Len(t, a.Targets["SkerryFerries"]["PBXResourcesBuildPhase"], len(hostile)+1)
	count := ask(t, dir, "python3", "-c", "import plistlib,sys;l=plistlib.load(open(sys.argv[1],'rb'))['UIAppFonts'];print(len(l),len(set(l)))", filepath.Join(dir, "ios/SkerryFerries/Info.plist"))
	require.Equal(t, fmt.Sprintln(len(hostile), len(hostile)), count)

	swift := filepath.Join(dir, "ios/SkerryFerries/Type/AppType.swift")
	out, err := try(t, ".", "node", "npm/parse.mjs", "swift", swift)
	require.NoError(t, err, out)
	text, err := os.ReadFile(swift)
	require.NoError(t, err)
	for _, want := range []string{`= "Quote\"d"`, `= "Back\\slash"`, `= "New\u{A}line"`, `= "\\(name)"`, `= "\u{1F6A2} Boat"`, "case `default` =", "case `class` =", "case face1st ="} {
		require.Contains(t, string(text), want)
	}

	r := compileResources(t, filepath.Join(dir, "android/app"), filepath.Join(dir, "android/app/src/main/res"))
	classes := stubClasses(t, r[0])
	ask(t, ".", "kotlinc", "-cp", classes, "-d", classes, filepath.Join(dir, "android/app/src/main/java/com/skerryferries/app/AppType.kt"))

	pubspec := ask(t, ".", "node", "npm/yaml.mjs", filepath.Join(dir, "deckgame/pubspec.yaml"))
	for _, want := range []string{`"family":"Quote\"d"`, `"family":"New\nline"`, `"family":"$x"`, `"family":"-- x"`} {
		require.Contains(t, pubspec, want)
	}
	dart := filepath.Join(dir, "deckgame/lib/app_type.dart")
	out, err = try(t, ".", "node", "npm/parse.mjs", "dart", dart)
	require.NoError(t, err, out)
	text, err = os.ReadFile(dart)
	require.NoError(t, err)
	for _, want := range []string{`= '\${x}';`, `= '\$x';`, `= '\'single\'';`, `= 'New\u{A}line';`} {
		require.Contains(t, string(text), want)
	}

	hostileDotNet(t, dir)
	hostileDesktop(t, dir)
	hostileJava(t, dir)
	hostileFlex(t, dir)
	hostileWeb(t, dir)
	hostileQt(t, dir)
	hostileGodot(t, dir)
	hostileGdx(t, dir)
	hostileP5(t, dir)
	hostileSDL(t, dir)
	gate, jetty, watch := boardsCompile(t, dir)
	require.Equal(t, []int{len(hostile), len(hostile), len(hostile)}, []int{gate, jetty, watch})
	hostileGtk(t, dir)
	hostileObjectiveC(t, dir)
	hostileMultiplatform(t, dir)
	out, err = try(t, ".", "node", "npm/parse.mjs", "swift", filepath.Join(dir, "signs/Sources/QuaySigns/AppType.swift"), filepath.Join(dir, "harbour/Harbour/Type/AppType.swift"))
	require.NoError(t, err, out)

	for _, app := range []string{"kiosk", "fleet"} {
		typed := filepath.Join(dir, app)
		write(t, filepath.Join(typed, "Use.tsx"), "import {faces} from './AppType';\nexport const name: string = faces.face1st;\n")
		out, err = checkTypes(t, typed)
		require.NoError(t, err, out)
		require.NoError(t, os.Remove(filepath.Join(typed, "Use.tsx")))
		require.NoError(t, os.Remove(filepath.Join(typed, "judge.json")))
	}

	notaria(t, 0, dir, append([]string{"strike", "--with-roles", "--"}, hostile...)...)
	require.Equal(t, before, snapshot(t, dir), "nothing of it stays")
}

// hostileDotNet compiles and runs the C# of both kinds of app, and holds the names
// that a reader of XAML finds against those that the fonts have.
func hostileDotNet(t *testing.T, dir string) {
	t.Helper()
	for _, app := range []struct {
		stub, folder, xaml string
		sources            []string
	}{
		{"maui", "board", "Resources/Styles/AppType.xaml", []string{"MauiProgram.cs", "App.xaml.cs", "DeparturePage.xaml.cs"}},
		{"xamarin", "crew/Crew", "AppType.xaml", []string{"App.xaml.cs", "WatchPage.xaml.cs"}},
	} {
		sources := []string{"testdata/" + app.stub + "-stub.cs", "testdata/" + app.stub + "-use.cs", filepath.Join(dir, app.folder, "AppType.cs")}
		for _, f := range app.sources {
			sources = append(sources, filepath.Join(dir, app.folder, f))
		}
		ran := sharp(t, sources...)
		read := styles(t, filepath.Join(dir, app.folder, app.xaml), "")
		for i, name := range hostile {
			if strings.ContainsAny(name, "\n\t\ufffe") { // no XML attribute holds these: the file's name stands for them
				name = platform.FileBase(name)
			}
			want := fmt.Sprintf("Role%dType FontFamily %s\n", i, name)
			require.Contains(t, ran, want, app.stub)
			require.Contains(t, read, want, app.stub)
		}
	}
}

// hostileDesktop does the same for the XAML of the desktop, where a name that cannot stand
// in an address is reported instead.
func hostileDesktop(t *testing.T, dir string) {
	t.Helper()
	avalonia := avaloniaRuns(t, dir) + xamlStyles(t, filepath.Join(dir, "desk/AppType.axaml"))
	lookout, pilot := filepath.Join(dir, "lookout"), filepath.Join(dir, "pilot")
	wpf := sharp(t, "testdata/wpf-stub.cs", filepath.Join(lookout, "AppType.cs")) + xamlStyles(t, filepath.Join(lookout, "AppType.xaml"))
	winui := sharp(t, "testdata/winui-stub.cs", filepath.Join(pilot, "AppType.cs"), filepath.Join(pilot, "App.xaml.cs"), filepath.Join(pilot, "MainWindow.xaml.cs")) + xamlStyles(t, filepath.Join(pilot, "AppType.xaml"))
	said := strings.Join(strings.Fields(notaria(t, 0, dir, "register", "--json")), "")
	for i, name := range hostile {
		if strings.ContainsAny(name, "#\n\t\ufffe") {
			require.Contains(t, said, fmt.Sprintf(`{"role":"role-%d","part":"face"`, i))
			continue
		}
		for _, want := range []string{fmt.Sprintf("type-role-%d FontFamily avares://Desk/Assets/Fonts#%s\n", i, name), fmt.Sprintf("type-role-%d Control TextElement.FontFamily avares://Desk/Assets/Fonts#%s\n", i, name)} {
			require.Contains(t, avalonia, want)
		}
		for _, want := range []string{fmt.Sprintf("Role%dType FontFamily pack://application:,,,/Lookout;component/Assets/Fonts/#%s\n", i, name), fmt.Sprintf("Role%dType FrameworkElement TextElement.FontFamily pack://application:,,,/Lookout;component/Assets/Fonts/#%s\n", i, name)} {
			require.Contains(t, wpf, want)
		}
		file := platform.FileBase(name) + ".ttf"
		for _, want := range []string{"ms-appx:///Assets/Fonts/" + file + "#" + name + "\n", fmt.Sprintf("Role%dType TextBlock FontFamily ms-appx:///Assets/Fonts/%s#%s\n", i, file, name)} {
			require.Contains(t, winui, want)
		}
	}
}

// hostileObjectiveC compiles the Mac's code, then that of the same app for the
// iPhone, and runs it: every name comes out as the font has it.
func hostileObjectiveC(t *testing.T, dir string) {
	t.Helper()
	need(t, "clang-14")
	folder := filepath.Join(dir, "office/Office/Type")
	require.Empty(t, ask(t, ".", "clang-14", "-target", "arm64-apple-macos12", "-fsyntax-only", "-fobjc-arc", "-Wall", "-Wextra", "-Werror",
		"-I", "testdata/apple/foundation", "-I", "testdata/apple/kits", filepath.Join(folder, "AppType.m")))
	project := filepath.Join(dir, "office/Office.xcodeproj/project.pbxproj")
	b, err := os.ReadFile(project)
	require.NoError(t, err)
	write(t, project, strings.ReplaceAll(string(b), "SDKROOT = macosx;", "SDKROOT = iphoneos;"))
	notaria(t, 0, dir, "register", "--only", "apple")
	program := filepath.Join(t.TempDir(), "names")
	gnustep(t, program, "-I", "testdata/apple/kits", "-I", folder, filepath.Join(folder, "AppType.m"), "testdata/apple/run/kit.m")
	setenv(t, "FACES", "none")
	out := ask(t, ".", program)
	for _, name := range hostile {
		require.Contains(t, out, "  MISSING "+name+"\n")
	}
	write(t, project, strings.ReplaceAll(readFile(t, project), "SDKROOT = iphoneos;", "SDKROOT = macosx;"))
	notaria(t, 0, dir, "register", "--only", "apple")
}

func readFile(t *testing.T, name string) string {
	t.Helper()
	b, err := os.ReadFile(name)
	require.NoError(t, err)
	return string(b)
}

// hostileMultiplatform compiles the common code against an accessor for each file
// that is where the build looks for fonts, as the build would make it.
func hostileMultiplatform(t *testing.T, dir string) {
	t.Helper()
	module := filepath.Join(dir, "timetable/composeApp/src/commonMain")
	fonts, err := filepath.Glob(filepath.Join(module, "composeResources/font/*.ttf"))
	require.NoError(t, err)
	require.Len(t, fonts, len(hostile))
	stub, err := os.ReadFile("testdata/compose_shared.kt")
	require.NoError(t, err)
	text, _, _ := strings.Cut(string(stub), "\nval ")
	for _, f := range fonts {
		name := strings.TrimSuffix(filepath.Base(f), ".ttf")
		text += fmt.Sprintf("\nval Res.font.%s: FontResource get() = FontResource(%q)", name, name)
	}
	shared := filepath.Join(t.TempDir(), "shared.kt")
	write(t, shared, text+"\n")
	args := []string{"-d", t.TempDir(), shared}
	for _, f := range []string{"compose", "compose_graphics", "compose_text", "compose_unit", "compose_runtime", "compose_resources"} {
		args = append(args, "testdata/"+f+".kt")
	}
	out := ask(t, ".", "kotlinc", append(args, filepath.Join(module, "kotlin/com/skerryferries/timetable/AppTextStyles.kt"))...)
	require.NotContains(t, out, "AppTextStyles.kt")
}
