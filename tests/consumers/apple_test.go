package consumers

import (
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// projectAnswer is what tests/consumers/npm/project.mjs prints.
type projectAnswer struct {
	Dangling, Ungrouped []string
	Targets             map[string]map[string][]string
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
	need(t, "plparse", "python3", "xmllint")
	dir := registered(t)
	file := filepath.Join(dir, "ios/SkerryFerries/Info.plist")
	readStrictly(t, file)
	require.Empty(t, ask(t, dir, "xmllint", "--nonet", "--noout", file))
	out := ask(t, dir, "python3", "-c", "import plistlib,sys;d=plistlib.load(open(sys.argv[1],'rb'));print(d['UIAppFonts'],d['NSLocationWhenInUseUsageDescription'])", file)
	require.Equal(t, "['SkerrySans-Regular.ttf', 'SkerrySans-Bold.ttf'] To show the nearest jetty & its next boat.\n", out)
}

func TestAppleSwiftParses(t *testing.T) {
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

// TestAppleSynchronizedFolders registers on a project whose folders belong to the
// target by being there, and whose Info.plist the build makes: the files need no
// mention, a partial Info.plist does.
func TestAppleSynchronizedFolders(t *testing.T) {
	need(t, "plparse", "python3", "git")
	dir := t.TempDir()
	require.NoError(t, os.CopyFS(dir, os.DirFS("testdata/synced")))
	before := snapshot(t, dir)
	archive := filepath.Join(registered(t), "skerry-type.zip")
	ask(t, dir, "git", "init", "-q", ".")
	ask(t, dir, "git", "add", "-A")
	notaria(t, 0, dir, "enrol", archive, "--styles", "regular,bold")
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "register", "--dry-run")
	notaria(t, 0, dir, "check")

	require.FileExists(t, filepath.Join(dir, "Harbour/Type/SkerrySans-Bold.ttf"))
	require.FileExists(t, filepath.Join(dir, "Harbour/Type/AppType.swift"))
	file := filepath.Join(dir, "Harbour.xcodeproj/project.pbxproj")
	readStrictly(t, file)
	a := askProject(t, file)
	require.Empty(t, a.Dangling)
	require.Empty(t, a.Targets["Harbour"]["PBXResourcesBuildPhase"], "the folder is taken in as it is")
	diff := ask(t, dir, "git", "diff", "-U0")
	require.Equal(t, 2, strings.Count(diff, "\n+\t\t\t\tINFOPLIST_FILE = \"AppType-Harbour-Info.plist\";\n"), diff)
	require.Equal(t, 2, strings.Count(diff, "\n+")-strings.Count(diff, "\n+++"), "only our lines:\n%s", diff)
	plist := filepath.Join(dir, "AppType-Harbour-Info.plist")
	readStrictly(t, plist)
	require.Equal(t, "{'UIAppFonts': ['SkerrySans-Regular.ttf', 'SkerrySans-Bold.ttf']}\n",
		ask(t, dir, "python3", "-c", "import plistlib,sys;print(plistlib.load(open(sys.argv[1],'rb')))", plist))

	// The setting taken out by hand is missed, and put back.
	b, err := os.ReadFile(file)
	require.NoError(t, err)
	write(t, file, strings.Replace(string(b), "\t\t\t\tINFOPLIST_FILE = \"AppType-Harbour-Info.plist\";\n", "", 1))
	require.Contains(t, notaria(t, 1, dir, "check"), "the target Harbour does not set INFOPLIST_FILE")
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "check")
	require.NoError(t, os.RemoveAll(filepath.Join(dir, ".git")))
	notaria(t, 0, dir, "strike", "Skerry Sans")
	require.Equal(t, before, snapshot(t, dir))
}

// TestReactNativeTemplate registers on a tree that was not made by us.
func TestReactNativeTemplate(t *testing.T) {
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

	notaria(t, 0, dir, "strike", "Skerry Sans")
	require.Equal(t, before, snapshot(t, filepath.Join(dir, "ios")))
	ask(t, dir, "git", "diff", "--exit-code")
	require.Empty(t, ask(t, dir, "git", "ls-files", "--others"), "strike leaves no file behind")
}
