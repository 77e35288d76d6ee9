package consumers

import (
	"encoding/json"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/skerry"
)

// projectAnswer is what tests/consumers/npm/project.mjs prints.
type projectAnswer struct {
	Dangling, Ungrouped []string
	Targets             map[string]map[string][]string
	Exceptions          map[string][]string
	Same                bool
}

func askProject(t *testing.T, file string) projectAnswer {
	t.Helper()
	npmHome(t)
	var a projectAnswer
	require.NoError(t, json.Unmarshal([]byte(ask(t, ".", "node", "npm/project.mjs", file)), &a))
	return a
}

// readStrictly asks plparse, which exits 0 whatever it finds: all that it may
// print is that the file is a dictionary.
func readStrictly(t *testing.T, file string) {
	t.Helper()
	require.Equal(t, "Parsing '"+file+"' - a dictionary\n", ask(t, ".", "plparse", file))
}

func TestAppleProjectFile(t *testing.T) {
	t.Parallel()
	need(t, "plparse")
	dir := registered(t)
	file := filepath.Join(dir, "ios/SkerryFerries.xcodeproj/project.pbxproj")
	readStrictly(t, file)
	a := askProject(t, file)
	require.Empty(t, a.Dangling, "every id resolves")
	require.Empty(t, a.Ungrouped, "every file is in a group")
	require.True(t, a.Same, "the reader writes the same bytes again")
	phases := a.Targets["SkerryFerries"]
	require.Subset(t, phases["PBXResourcesBuildPhase"], []string{"SkerrySans-Regular.ttf", "SkerrySans-Bold.ttf"})
	require.Contains(t, phases["PBXSourcesBuildPhase"], "AppType.swift")
	require.Len(t, phases["PBXResourcesBuildPhase"], 3, "nothing twice")
}

// A strict reader is told apart from a kind one: both must refuse a project file
// that a careless edit broke, or the test above would prove nothing.
func TestAppleReadersAreStrict(t *testing.T) {
	t.Parallel()
	need(t, "plparse")
	dir := registered(t)
	file := filepath.Join(dir, "ios/SkerryFerries.xcodeproj/project.pbxproj")
	b, err := os.ReadFile(file)
	require.NoError(t, err)
	broken := filepath.Join(dir, "broken.pbxproj")
	write(t, broken, strings.Replace(string(b), `sourceTree = "<group>"; };`, `sourceTree = "<group>" };`, 1))
	require.Contains(t, ask(t, dir, "plparse", broken), "Missing semicolon")
}

func TestAppleInfoPlist(t *testing.T) {
	t.Parallel()
	need(t, "plparse", "python3", "xmllint")
	dir := registered(t)
	file := filepath.Join(dir, "ios/SkerryFerries/Info.plist")
	readStrictly(t, file)
	require.Empty(t, ask(t, dir, "xmllint", "--nonet", "--noout", file))
	out := ask(t, dir, "python3", "-c", "import plistlib,sys;d=plistlib.load(open(sys.argv[1],'rb'));print(d['UIAppFonts'],d['NSLocationWhenInUseUsageDescription'])", file)
	require.Equal(t, "['SkerrySans-Regular.ttf', 'SkerrySans-Bold.ttf'] To show the nearest jetty & its next boat.\n", out)
}

func TestAppleSwiftParses(t *testing.T) {
	t.Parallel()
	npmHome(t)
	dir := registered(t)
	out, err := try(t, ".", "node", "npm/parse.mjs", "swift", filepath.Join(dir, "ios/SkerryFerries/Type/AppType.swift"))
	require.NoError(t, err, out)
	// The grammar does notice what is wrong.
	broken := filepath.Join(dir, "broken.swift")
	write(t, broken, "enum AppType { case = }\n")
	_, err = try(t, ".", "node", "npm/parse.mjs", "swift", broken)
	require.Error(t, err)
}

// TestAppleSynchronizedFolders registers on a project whose folders belong to their
// targets by being there: the app's Info.plist is made by the build, its widget has
// one of its own and takes the app's files by exception.
func TestAppleSynchronizedFolders(t *testing.T) {
	t.Parallel()
	need(t, "plparse", "python3", "git")
	dir := t.TempDir()
	sample := filepath.Join(dir, "sample")
	require.NoError(t, skerry.Place(sample))
	archive := filepath.Join(dir, skerry.ArchiveName)
	require.NoError(t, os.Rename(filepath.Join(sample, skerry.ArchiveName), archive))
	dir = filepath.Join(sample, "harbour")
	before := snapshot(t, dir)
	ask(t, dir, "git", "init", "-q", ".")
	ask(t, dir, "git", "add", "-A")
	notaria(t, 0, dir, "enrol", archive, "--styles", "regular,bold")
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "register", "--dry-run")
	notaria(t, 0, dir, "check")

	file := filepath.Join(dir, "Harbour.xcodeproj/project.pbxproj")
	readStrictly(t, file)
	a := askProject(t, file)
	require.Empty(t, a.Dangling)
	require.Empty(t, a.Targets["Harbour"]["PBXResourcesBuildPhase"], "the folder is taken in as it is")
	require.Empty(t, a.Targets["Tides"]["PBXResourcesBuildPhase"])
	require.Equal(t, map[string][]string{
		"Harbour > Tides": {"Type/SkerrySans-Regular.ttf", "Type/SkerrySans-Bold.ttf", "Type/AppType.swift"}, // taken
		"Tides > Tides":   {"Info.plist"},                                                                    // held back
	}, a.Exceptions)
	diff := ask(t, dir, "git", "diff", "-U0", "Harbour.xcodeproj")
	require.Equal(t, 2, strings.Count(diff, "\n+\t\t\t\tINFOPLIST_FILE = \"AppType-Harbour-Info.plist\";\n"), diff)
	require.NotContains(t, strings.ReplaceAll(diff, "\n--- ", ""), "\n-", "only additions")
	require.Equal(t, "{'UIAppFonts': ['SkerrySans-Regular.ttf', 'SkerrySans-Bold.ttf']}\n", readPlist(t, filepath.Join(dir, "AppType-Harbour-Info.plist")))
	require.Contains(t, readPlist(t, filepath.Join(dir, "Tides/Info.plist")), "'UIAppFonts': ['SkerrySans-Regular.ttf', 'SkerrySans-Bold.ttf']")

	// What goes missing by hand is found, and put back: a setting, and a member.
	without := func(cut, told string) {
		t.Helper()
		b, err := os.ReadFile(file)
		require.NoError(t, err)
		require.Contains(t, string(b), cut)
		write(t, file, strings.Replace(string(b), cut, "", 1))
		require.Contains(t, notaria(t, 1, dir, "check"), told)
		notaria(t, 0, dir, "register")
		notaria(t, 0, dir, "check")
	}
	without("\t\t\t\tINFOPLIST_FILE = \"AppType-Harbour-Info.plist\";\n", "the target Harbour does not set INFOPLIST_FILE")
	without("\t\t\t\t\"Type/SkerrySans-Bold.ttf\",\n", "Harbour/Type/SkerrySans-Bold.ttf is in a synchronized folder but missing from its membership exceptions")
	require.NoError(t, os.RemoveAll(filepath.Join(dir, ".git")))
	notaria(t, 0, dir, "strike", "Skerry Sans", "--with-roles")
	require.Equal(t, before, snapshot(t, dir))

	// Without its exception, the widget's own Info.plist would stop the build.
	notaria(t, 0, dir, "enrol", archive, "--styles", "regular")
	notaria(t, 0, dir, "register")
	without("\t\t\t\tInfo.plist,\n", "Tides/Info.plist is in a synchronized folder but missing from its membership exceptions")
}

// readPlist returns what Python's reader makes of a property list.
func readPlist(t *testing.T, file string) string {
	t.Helper()
	return ask(t, ".", "python3", "-c", "import plistlib,sys;print(plistlib.load(open(sys.argv[1],'rb')))", file)
}

// gnustep are what a program on GNUstep is built with; its headers need those of
// the compiler that it was made with.
func gnustep(t *testing.T, out string, args ...string) {
	t.Helper()
	need(t, "clang-14", "gcc", "/usr/include/GNUstep/Foundation/Foundation.h")
	include := strings.TrimSpace(ask(t, ".", "gcc", "-print-file-name=include"))
	all := append([]string{"-DDEBUG=1", "-fobjc-runtime=gcc", "-fconstant-string-class=NSConstantString", "-fexceptions", "-fobjc-exceptions", "-DGNUSTEP",
		"-DGNUSTEP_BASE_LIBRARY=1", "-DGNU_RUNTIME=1", "-I/usr/include/GNUstep", "-I" + include, "-Wno-everything", "-o", out}, args...)
	ask(t, ".", "clang-14", append(all, "-lgnustep-base", "-lobjc", "-lm")...)
}

// TestAppleBinaryInfoPlist turns the sample's Info.plist into a binary one, by
// another writer, and lets the platform's own class read what we make of it.
func TestAppleBinaryInfoPlist(t *testing.T) {
	t.Parallel()
	need(t, "python3")
	reader := filepath.Join(t.TempDir(), "read")
	gnustep(t, reader, "testdata/apple/run/read.m")
	dir := filepath.Join(t.TempDir(), "skerry")
	require.NoError(t, skerry.Place(dir))
	for _, f := range []string{"ios/SkerryFerries/Info.plist", "office/Office/Info.plist"} {
		ask(t, dir, "python3", "-c", "import plistlib,sys;d=plistlib.load(open(sys.argv[1],'rb'));plistlib.dump(d,open(sys.argv[1],'wb'),fmt=plistlib.FMT_BINARY)", f)
	}
	before := snapshot(t, dir)
	notaria(t, 0, dir, "enrol", filepath.Join(dir, skerry.ArchiveName), "--styles", "regular,bold")
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "register", "--dry-run")
	notaria(t, 0, dir, "check")
	file := filepath.Join(dir, "ios/SkerryFerries/Info.plist")
	want := "UIAppFonts: SkerrySans-Regular.ttf, SkerrySans-Bold.ttf\nCFBundleDisplayName: Skerry Ferries\n"
	require.Equal(t, want, ask(t, dir, reader, file, "UIAppFonts", "CFBundleDisplayName"))
	require.Contains(t, readPlist(t, file), "'UIAppFonts': ['SkerrySans-Regular.ttf', 'SkerrySans-Bold.ttf']")
	require.Equal(t, "ATSApplicationFontsPath: .\nNSPrincipalClass: NSApplication\n", ask(t, dir, reader, filepath.Join(dir, "office/Office/Info.plist"), "ATSApplicationFontsPath", "NSPrincipalClass"))
	// The same of a written-out one.
	require.Equal(t, want, ask(t, dir, reader, filepath.Join(registered(t), "ios/SkerryFerries/Info.plist"), "UIAppFonts", "CFBundleDisplayName"))
	notaria(t, 0, dir, "strike", "Skerry Sans", "--with-roles")
	require.Equal(t, before, snapshot(t, dir))
}

// TestAppleObjectiveC compiles the code for a Mac and for an iPhone, and runs it on
// a UIKit that knows just the PostScript names that another program reads from the
// files.
func TestAppleObjectiveC(t *testing.T) {
	t.Parallel()
	need(t, "clang-14", "fc-scan")
	dir := dressed(t)
	compile := func(triple string, extra ...string) {
		t.Helper()
		args := append([]string{"-target", triple, "-fsyntax-only", "-fobjc-arc", "-Wall", "-Wextra", "-Werror", "-Wno-objc-root-class", "-Wunguarded-availability",
			"-I", "testdata/apple/foundation", "-I", "testdata/apple/kits"}, extra...)
		require.Empty(t, ask(t, ".", "clang-14", append(args, filepath.Join(dir, "office/Office/Type/AppType.m"))...))
	}
	require.Contains(t, readPlist(t, filepath.Join(dir, "office/Office/Info.plist")), "'ATSApplicationFontsPath': '.'")
	compile("arm64-apple-macos12")

	project := filepath.Join(dir, "office/Office.xcodeproj/project.pbxproj")
	readStrictly(t, project)
	a := askProject(t, project)
	require.Empty(t, a.Dangling)
	require.Empty(t, a.Ungrouped)
	require.Equal(t, []string{"AppDelegate.m", "AppType.m"}, a.Targets["Office"]["PBXSourcesBuildPhase"])
	b, err := os.ReadFile(project)
	require.NoError(t, err)

	// The same app for both, then for the iPhone alone.
	write(t, project, strings.ReplaceAll(string(b), "SDKROOT = macosx;", "SDKROOT = auto;\n\t\t\t\tSUPPORTED_PLATFORMS = \"iphoneos iphonesimulator macosx\";"))
	notaria(t, 0, dir, "register")
	compile("arm64-apple-macos12", "-DTARGET_OS_OSX=1")
	compile("arm64-apple-ios15.0")
	list := readPlist(t, filepath.Join(dir, "office/Office/Info.plist"))
	require.Contains(t, list, "'ATSApplicationFontsPath': '.'")
	require.Contains(t, list, "'UIAppFonts': ['SkerrySans-Regular.ttf', 'SkerrySans-Bold.ttf', 'SkerrySans-Italic.ttf']")
	write(t, project, strings.ReplaceAll(string(b), "SDKROOT = macosx;", "SDKROOT = iphoneos;"))
	notaria(t, 0, dir, "register")
	compile("arm64-apple-ios15.0")
	require.NotContains(t, readPlist(t, filepath.Join(dir, "office/Office/Info.plist")), "ATSApplicationFontsPath")

	// On the oldest systems that each can promise, nothing newer is called without a check.
	for _, old := range [][3]string{
		{"macosx", "MACOSX_DEPLOYMENT_TARGET = 10.12", "x86_64-apple-macos10.12"}, {"iphoneos", "IPHONEOS_DEPLOYMENT_TARGET = 9.0", "arm64-apple-ios9.0"},
		{"iphoneos", "IPHONEOS_DEPLOYMENT_TARGET = 12.4", "arm64-apple-ios12.4"}, {"appletvos", "TVOS_DEPLOYMENT_TARGET = 15.0", "arm64-apple-tvos15.0"},
		{"appletvos", "TVOS_DEPLOYMENT_TARGET = 9.0", "arm64-apple-tvos9.0"}, {"watchos", "WATCHOS_DEPLOYMENT_TARGET = 4.0", "armv7k-apple-watchos4.0"},
	} {
		write(t, project, strings.ReplaceAll(dropSetting(string(b), "MACOSX_DEPLOYMENT_TARGET"), "SDKROOT = macosx;", "SDKROOT = "+old[0]+";\n\t\t\t\t"+old[1]+";"))
		notaria(t, 0, dir, "register")
		compile(old[2])
	}
	write(t, project, strings.ReplaceAll(string(b), "SDKROOT = macosx;", "SDKROOT = iphoneos;"))
	notaria(t, 0, dir, "register")
	_, err = try(t, ".", "clang-14", "-target", "arm64-apple-ios12.0", "-fsyntax-only", "-fobjc-arc", "-Werror", "-Wunguarded-availability",
		"-I", "testdata/apple/foundation", "-I", "testdata/apple/kits", filepath.Join(dir, "office/Office/Type/AppType.m"))
	require.Error(t, err, "code for a new system is wrong on an old one")

	folder := filepath.Join(dir, "office/Office/Type")
	program := filepath.Join(t.TempDir(), "use")
	gnustep(t, program, "-I", "testdata/apple/kits", "-I", folder, filepath.Join(folder, "AppType.m"), "testdata/apple/run/kit.m")
	var names []string
	for _, f := range []string{"SkerrySans-Regular.ttf", "SkerrySans-Italic.ttf"} { // the bold one is missing
		names = append(names, ask(t, folder, "fc-scan", "--format", "%{postscriptname}", f))
	}
	setenv(t, "FACES", strings.Join(names, "\n"))
	out := ask(t, ".", program, "body", "heading", "roleCopyNew")
	for _, want := range []string{
		"body: SkerrySans-Regular 17 UIFontTextStyleBody\n",
		"heading: UIFontDescriptorSystemDesignSerif 28 UIFontTextStyleTitle1\n",
		"NSForegroundColorAttributeName = 0.043 0.239 0.361 1.000\n", "NSKernAttributeName = 0.28\n", "lines 34 to 34\n",
		"NSStrokeColorAttributeName = 1.000 1.000 1.000 0.502\n", "NSStrokeWidthAttributeName = -3.57142",
		"roleCopyNew: SkerrySans-Italic 11.5 fixed\n", "  there   SkerrySans-Italic\n", "  MISSING SkerrySans-Bold\n",
	} {
		require.Contains(t, out, want)
	}
	require.Equal(t, 1, strings.Count(out, "AppType: no face SkerrySans-Bold"), "said once:\n%s", out)
}

// dropSetting takes the lines of a build setting out of a project file.
func dropSetting(project, key string) string {
	lines := strings.SplitAfter(project, "\n")
	return strings.Join(slices.DeleteFunc(lines, func(l string) bool { return strings.HasPrefix(strings.TrimSpace(l), key+" ") }), "")
}

// TestAppleSwiftOfOldSystems parses the code for systems of every age.
func TestAppleSwiftOfOldSystems(t *testing.T) {
	t.Parallel()
	npmHome(t)
	dir := dressed(t)
	project := filepath.Join(dir, "ios/SkerryFerries.xcodeproj/project.pbxproj")
	b, err := os.ReadFile(project)
	require.NoError(t, err)
	for _, version := range []string{"9.0", "12.0", "13.0", "13.4", "14.0"} {
		write(t, project, strings.ReplaceAll(string(b), "IPHONEOS_DEPLOYMENT_TARGET = 16.0;", "IPHONEOS_DEPLOYMENT_TARGET = "+version+";"))
		notaria(t, 0, dir, "register")
		ask(t, ".", "node", "npm/parse.mjs", "swift", filepath.Join(dir, "ios/SkerryFerries/Type/AppType.swift"))
	}
}

// TestAppleSwiftOfEveryKind parses the code of apps for the phone, the Mac, both,
// and of a package.
func TestAppleSwiftOfEveryKind(t *testing.T) {
	t.Parallel()
	npmHome(t)
	dir := dressed(t)
	has := func(file string, has ...string) string {
		t.Helper()
		text, err := os.ReadFile(filepath.Join(dir, file))
		require.NoError(t, err)
		for _, h := range has {
			require.Contains(t, string(text), h)
		}
		return filepath.Join(dir, file)
	}
	files := []string{
		has("ios/SkerryFerries/Type/AppType.swift", "import UIKit", "outlineColour: 0xFFFFFF80", "static var copyNew: Font"),
		has("signs/Sources/QuaySigns/AppType.swift", "public enum AppType", "CTFontManagerRegisterFontURLs(urls as CFArray, .process, true, nil)", `"SkerrySans-Bold.ttf",`, "Bundle.module.url"),
		has("signs/Package.swift", "            name: \"QuaySigns\",\n            resources: [.process(\"Type\")]\n        ),"),
	}
	project := filepath.Join(dir, "harbour/Harbour.xcodeproj/project.pbxproj")
	b, err := os.ReadFile(project)
	require.NoError(t, err)
	write(t, project, strings.ReplaceAll(string(b), "SDKROOT = iphoneos;", "SDKROOT = macosx;"))
	notaria(t, 0, dir, "register")
	files = append(files, has("harbour/Harbour/Type/AppType.swift", "import AppKit", "typealias AppTypeFont = NSFont"))
	require.Contains(t, readPlist(t, filepath.Join(dir, "harbour/AppType-Harbour-Info.plist")), "{'ATSApplicationFontsPath': '.'}")
	out, err := try(t, ".", "node", append([]string{"npm/parse.mjs", "swift"}, files...)...)
	require.NoError(t, err, out)
}

// TestReactNativeTemplate registers on a tree that was not made by us.
func TestReactNativeTemplate(t *testing.T) {
	t.Parallel()
	need(t, "plparse", "git", "python3")
	home := npmHome(t)
	dir := t.TempDir()
	for _, part := range []string{"ios", "android"} {
		from := filepath.Join(home, "node_modules/@react-native-community/template/template", part)
		require.NoError(t, os.CopyFS(filepath.Join(dir, part), os.DirFS(from)))
	}
	ask(t, dir, "git", "init", "-q", ".")
	ask(t, dir, "git", "add", "-A")
	before := snapshot(t, filepath.Join(dir, "ios"))
	archive := filepath.Join(registered(t), "skerry-type.zip")
	notaria(t, 0, dir, "enrol", archive, "--styles", "regular,bold")
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "check")

	diff := ask(t, dir, "git", "diff", "-U0")
	for _, l := range strings.Split(diff, "\n") {
		if strings.HasPrefix(l, "-") && !strings.HasPrefix(l, "---") {
			t.Errorf("a line that was there is gone: %s", l)
		}
	}
	require.Equal(t, 26, strings.Count(diff, "\n+")-strings.Count(diff, "\n+++"), "only our lines:\n%s", diff)

	file := filepath.Join(dir, "ios/HelloWorld.xcodeproj/project.pbxproj")
	readStrictly(t, file)
	a := askProject(t, file)
	require.Empty(t, a.Dangling)
	require.Empty(t, a.Ungrouped)
	require.True(t, a.Same)
	require.Subset(t, a.Targets["HelloWorld"]["PBXResourcesBuildPhase"], []string{"SkerrySans-Regular.ttf", "SkerrySans-Bold.ttf"})
	require.Contains(t, a.Targets["HelloWorld"]["PBXSourcesBuildPhase"], "AppType.swift")
	out := ask(t, dir, "python3", "-c", "import plistlib,sys;print(plistlib.load(open(sys.argv[1],'rb'))['UIAppFonts'])", filepath.Join(dir, "ios/HelloWorld/Info.plist"))
	require.Equal(t, "['SkerrySans-Regular.ttf', 'SkerrySans-Bold.ttf']\n", out)
	require.FileExists(t, filepath.Join(dir, "android/app/src/main/java/com/helloworld/AppType.kt"))

	notaria(t, 0, dir, "strike", "Skerry Sans", "--with-roles")
	require.Equal(t, before, snapshot(t, filepath.Join(dir, "ios")))
	ask(t, dir, "git", "diff", "--exit-code")
	require.Empty(t, ask(t, dir, "git", "ls-files", "--others"), "strike leaves no file behind")
}
