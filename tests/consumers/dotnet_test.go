package consumers

import (
	"encoding/json"
	"os"
	"path/filepath"
	"sort"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// sharp compiles C# and runs it; the compiler must have nothing to say.
func sharp(t *testing.T, sources ...string) string {
	t.Helper()
	need(t, "mcs", "mono")
	program := filepath.Join(t.TempDir(), "use.exe")
	require.Empty(t, ask(t, ".", "mcs", append([]string{"-langversion:7", "-warnaserror", "-out:" + program}, sources...)...))
	return ask(t, ".", "mono", program)
}

// styles returns what a reader of XAML makes of a dictionary.
func styles(t *testing.T, file, platform string) string {
	t.Helper()
	need(t, "python3", "xmllint")
	require.Empty(t, ask(t, ".", "xmllint", "--nonet", "--noout", file))
	return ask(t, ".", "python3", "testdata/styles.py", file, platform)
}

// sorted puts lines in order, those of one kind alone.
func sorted(out, has string) []string {
	var lines []string
	for _, l := range strings.Split(out, "\n") {
		if strings.Contains(l, has) {
			lines = append(lines, l)
		}
	}
	sort.Strings(lines)
	return lines
}

func TestMauiCompilesAndRuns(t *testing.T) {
	t.Parallel()
	dir := dressed(t)
	board := filepath.Join(dir, "board")
	out := sharp(t, "testdata/maui-stub.cs", "testdata/maui-use.cs", filepath.Join(board, "MauiProgram.cs"), filepath.Join(board, "AppType.cs"),
		filepath.Join(board, "App.xaml.cs"), filepath.Join(board, "DeparturePage.xaml.cs"))
	for _, want := range []string{"SkerrySans-Regular.ttf as SkerrySans-Regular\n", "SkerrySans-Bold.ttf as SkerrySans-Bold\n", "HeadingType FontFamily SkerrySans-Bold\n",
		"HeadingType FontSize 28\n", "HeadingType FontAutoScalingEnabled True\n", "HeadingType CharacterSpacing 0.28\n", "HeadingType LineHeight 1.0119\n",
		"HeadingType TextColor #FF0B3D5C\n", "HeadingType Shadow Shadow Brush=#80000000 Offset=1,-2 Radius=3 Opacity=1\n", "CopyNewType FontAutoScalingEnabled False\n", "BodyType FontSize 17\n"} {
		require.Contains(t, out, want)
	}
	listed(t, out, "SkerrySans-Regular", "-SkerrySans-Bold", "SkerrySans-Italic") // the stand-in does not know one
	// The dictionary says the same, and the app takes it in.
	require.Equal(t, sorted(out, "Type "), sorted(styles(t, filepath.Join(board, "Resources/Styles/AppType.xaml"), ""), "Type "))
	app, err := os.ReadFile(filepath.Join(board, "App.xaml"))
	require.NoError(t, err)
	require.Contains(t, string(app), "                <ResourceDictionary Source=\"Resources/Styles/Colors.xaml\" />\n                <ResourceDictionary Source=\"Resources/Styles/AppType.xaml\" />\n")
	require.Empty(t, ask(t, ".", "xmllint", "--nonet", "--noout", filepath.Join(board, "App.xaml")))

	// What goes wrong there silently.
	write(t, filepath.Join(board, "Page.xaml"), `<Label FontFamily="SkerrySans-Blod" /><!-- FontFamily="Nowhere" --><Label FontFamily="SkerrySans-Bold.otf" />`) // the file of that name, with .ttf, is right
	found := notaria(t, 1, dir, "check")
	require.Contains(t, found, "Page.xaml:1:20  unknown-font-name")
	require.Contains(t, found, "Page.xaml:1:87  file-name-as-font-name")
	require.Contains(t, found, ".NET MAUI board (2)")
}

// TestMauiWithoutWildcard lists each file in the project, for a reader of projects
// to find.
func TestMauiWithoutWildcard(t *testing.T) {
	t.Parallel()
	need(t, "xmllint")
	dir := registered(t)
	project := filepath.Join(dir, "board/Board.csproj")
	b, err := os.ReadFile(project)
	require.NoError(t, err)
	plain := strings.Replace(string(b), "\t\t<MauiFont Include=\"Resources\\Fonts\\*\" />\n", "", 1)
	write(t, project, plain)
	require.Contains(t, notaria(t, 1, dir, "check"), "Board.csproj does not hold Resources\\Fonts\\SkerrySans-Bold.ttf")
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "check")
	require.Equal(t, "Resources\\Fonts\\SkerrySans-Regular.ttf\nResources\\Fonts\\SkerrySans-Bold.ttf\n",
		strings.NewReplacer(` Include="`, "", `"`, "").Replace(ask(t, ".", "xmllint", "--xpath", "//ItemGroup/MauiFont/@Include", project)))
	notaria(t, 0, dir, "strike", "Skerry Sans", "--with-roles")
	after, err := os.ReadFile(project)
	require.NoError(t, err)
	require.Equal(t, plain, string(after))
}

func TestXamarinCompilesAndRuns(t *testing.T) {
	t.Parallel()
	need(t, "xmllint", "python3")
	dir := dressed(t)
	crew := filepath.Join(dir, "crew/Crew")
	sources := []string{"testdata/xamarin-stub.cs", "testdata/xamarin-use.cs", filepath.Join(crew, "AppType.cs"), filepath.Join(crew, "App.xaml.cs"), filepath.Join(crew, "WatchPage.xaml.cs")}
	out := sharp(t, sources...)
	for _, want := range []string{"SkerrySans-Bold.ttf as SkerrySans-Bold\n", "HeadingType FontFamily SkerrySans-Bold\n", "HeadingType FontSize 28\n",
		"HeadingType CharacterSpacing 0.28\n", "HeadingType LineHeight 1.0119\n", "HeadingType TextColor #FF0B3D5C\n"} {
		require.Contains(t, out, want)
	}
	require.Equal(t, sorted(out, "Type "), sorted(styles(t, filepath.Join(crew, "AppType.xaml"), ""), "Type "))
	listed(t, out, "-SkerrySans-Regular", "-SkerrySans-Bold", "-SkerrySans-Italic")
	listed(t, sharp(t, append(sources, "-resource:"+filepath.Join(crew, "Fonts/SkerrySans-Bold.ttf")+",Crew.Fonts.SkerrySans-Bold.ttf")...), "-SkerrySans-Regular", "SkerrySans-Bold", "-SkerrySans-Italic")
	embedded := ask(t, ".", "xmllint", "--xpath", "//ItemGroup/EmbeddedResource/@Include", filepath.Join(crew, "Crew.csproj"))
	require.Contains(t, embedded, `Include="Fonts\SkerrySans-Bold.ttf"`)
	require.FileExists(t, filepath.Join(crew, "Fonts/SkerrySans-Bold.ttf"))

	// Before aliases: each platform's own project holds the fonts, and each has its
	// own names for them.
	for _, f := range []string{"Crew/Crew.csproj", "Crew.Android/Crew.Android.csproj", "Crew.iOS/Crew.iOS.csproj"} {
		name := filepath.Join(dir, "crew", f)
		b, err := os.ReadFile(name)
		require.NoError(t, err)
		write(t, name, strings.Replace(string(b), "5.0.0.2662", "4.4.0.991864", 1))
	}
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "register", "--dry-run")
	notaria(t, 0, dir, "check")
	require.NoDirExists(t, filepath.Join(crew, "Fonts"))
	require.Contains(t, ask(t, ".", "xmllint", "--xpath", "//*[local-name()='AndroidAsset']/@Include", filepath.Join(dir, "crew/Crew.Android/Crew.Android.csproj")), `Assets\SkerrySans-Bold.ttf`)
	require.Contains(t, ask(t, ".", "xmllint", "--xpath", "//*[local-name()='BundleResource']/@Include", filepath.Join(dir, "crew/Crew.iOS/Crew.iOS.csproj")), `Resources\SkerrySans-Bold.ttf`)
	require.Contains(t, readPlist(t, filepath.Join(dir, "crew/Crew.iOS/Info.plist")), "'UIAppFonts': ['SkerrySans-Regular.ttf', 'SkerrySans-Bold.ttf', 'SkerrySans-Italic.ttf']")
	for platform, name := range map[string]string{"iOS": "SkerrySans-Bold", "Android": "SkerrySans-Bold.ttf#Skerry Sans"} {
		setenv(t, "PLATFORM", platform)
		out := sharp(t, sources...)
		require.Contains(t, out, "HeadingType FontFamily "+name+"\n")
		require.Equal(t, sorted(out, "Type "), sorted(styles(t, filepath.Join(crew, "AppType.xaml"), platform), "Type "))
	}
	var said struct {
		Sites []struct {
			Target string
			Short  []struct{ Role, Part string } `json:"not_expressed"`
		}
	}
	require.NoError(t, json.Unmarshal([]byte(notaria(t, 0, dir, "register", "--json")), &said))
	for _, s := range said.Sites {
		if s.Target == "xamarin" {
			require.Contains(t, s.Short, struct{ Role, Part string }{"copy-new", "scale = false"})
			require.Contains(t, s.Short, struct{ Role, Part string }{"heading", "outline"})
		}
	}
}
