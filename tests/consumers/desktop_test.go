package consumers

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// xamlStyles returns what a reader of XAML makes of a desktop app's styles.
func xamlStyles(t *testing.T, file string) string {
	t.Helper()
	need(t, "python3", "xmllint")
	require.Empty(t, ask(t, ".", "xmllint", "--nonet", "--noout", file))
	return ask(t, ".", "python3", "testdata/desktop.py", file)
}

// avaloniaRuns compiles and runs the desk's code.
func avaloniaRuns(t *testing.T, dir string) string {
	t.Helper()
	desk := filepath.Join(dir, "desk")
	return sharp(t, "-main:Use", "testdata/avalonia-stub.cs", "testdata/avalonia-use.cs", filepath.Join(desk, "AppType.cs"), filepath.Join(desk, "App.axaml.cs"),
		filepath.Join(desk, "MainWindow.axaml.cs"), visible(t, filepath.Join(desk, "Program.cs")))
}

// visible is a copy of a program whose class the test can call.
func visible(t *testing.T, file string) string {
	t.Helper()
	out := filepath.Join(t.TempDir(), filepath.Base(file))
	write(t, out, strings.Replace(readFile(t, file), "internal static class Program", "public static class Program", 1))
	return out
}

func TestAvaloniaCompilesAndRuns(t *testing.T) {
	t.Parallel()
	dir := dressed(t)
	desk := filepath.Join(dir, "desk")
	out := avaloniaRuns(t, dir)
	read := xamlStyles(t, filepath.Join(desk, "AppType.axaml"))
	for class, want := range map[string][]string{
		"type-heading":  {"FontFamily avares://Desk/Assets/Fonts#Skerry Sans", "FontSize 28", "FontWeight Bold", "FontStyle Normal"},
		"type-body":     {"FontFamily avares://Desk/Assets/Fonts#Skerry Sans", "FontSize 17", "FontWeight Normal", "FontStyle Normal"},
		"type-copy-new": {"FontFamily avares://Desk/Assets/Fonts#Skerry Sans", "FontSize 11.5", "FontWeight Normal", "FontStyle Italic"},
	} {
		for _, w := range want {
			require.Contains(t, out, class+" "+w+"\n")
			require.Contains(t, read, class+" Control TextElement."+w+"\n")
		}
		require.Contains(t, out, class+" missing Skerry Sans")
		require.Contains(t, out, "Faces of this app:\n  MISSING SkerrySans-", "the stand-in loses a family at a time")
	}
	require.Contains(t, out, "missing: \n")
	for _, w := range []string{"type-heading Control TextBlock.LineHeight 34", "type-heading Control TextBlock.LetterSpacing 0.28", "type-heading Control TextElement.Foreground #FF0B3D5C",
		"HeadingType TextBlock FontWeight Bold", "HeadingType TextBlock LineHeight 34", "CopyNewType TextBlock LetterSpacing -0.0575"} {
		require.Contains(t, read, w+"\n")
	}
	// The application takes the styles in, behind its theme; the wildcard takes the fonts.
	require.Equal(t, " Source=\"avares://Desk/AppType.axaml\"\n", ask(t, ".", "xmllint", "--xpath", "//*[local-name()='Application.Styles']/*[last()]/@Source", filepath.Join(desk, "App.axaml")))
	require.NotContains(t, readFile(t, filepath.Join(desk, "Desk.csproj")), "SkerrySans")
	require.FileExists(t, filepath.Join(desk, "Assets/Fonts/SkerrySans-Bold.ttf"))

	// The other way: a collection that the app makes when it starts.
	toml := filepath.Join(dir, "notaria.toml")
	write(t, toml, readFile(t, toml)+"\n[target.avalonia]\nfonts = \"collection\"\n")
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "check")
	out = avaloniaRuns(t, dir)
	require.Contains(t, out, "collection fonts:AppType avares://desk/Assets/Fonts\n")
	require.Contains(t, out, "type-heading FontFamily fonts:AppType#Skerry Sans\n")
	require.Contains(t, xamlStyles(t, filepath.Join(desk, "AppType.axaml")), "type-heading Control TextElement.FontFamily fonts:AppType#Skerry Sans\n")
}

func TestWpfCompilesAndRuns(t *testing.T) {
	t.Parallel()
	dir := dressed(t)
	lookout := filepath.Join(dir, "lookout")
	out := sharp(t, "testdata/wpf-stub.cs", filepath.Join(lookout, "AppType.cs"), filepath.Join(lookout, "App.xaml.cs"), filepath.Join(lookout, "MainWindow.xaml.cs"))
	read := xamlStyles(t, filepath.Join(lookout, "AppType.xaml"))
	for _, w := range []string{"HeadingType FontFamily pack://application:,,,/Lookout;component/Assets/Fonts/#Skerry Sans", "HeadingType FontSize 28", "HeadingType FontWeight 700",
		"CopyNewType FontStyle Italic", "BodyType FontWeight 400"} {
		require.Contains(t, out, w+"\n")
		require.Contains(t, read, strings.Replace(w, "Type ", "Type FrameworkElement TextElement.", 1)+"\n")
	}
	require.Contains(t, read, "HeadingType FrameworkElement TextBlock.LineHeight 34\n")
	require.Contains(t, read, "HeadingType FrameworkElement TextOptions.TextRenderingMode Aliased\n")
	require.Contains(t, read, "HeadingType FrameworkElement Effect DropShadowEffect Color=#80000000 Direction=63.43 ShadowDepth=2.24 BlurRadius=3\n")
	require.Contains(t, out, "HeadingType missing Skerry Sans")
	listed(t, out, "SkerrySans-Regular", "SkerrySans-Bold", "SkerrySans-Italic")
	require.Contains(t, out, "missing: \n")
	// Resources that were direct children are in a dictionary now, with ours merged.
	const within = "//*[local-name()='Application.Resources']/*[local-name()='ResourceDictionary']/"
	app := filepath.Join(lookout, "App.xaml")
	require.Equal(t, " x:Key=\"Sea\"\n x:Key=\"Foam\"\n", ask(t, ".", "xmllint", "--xpath", within+"*/@*[local-name()='Key']", app))
	require.Equal(t, " Source=\"AppType.xaml\"\n", ask(t, ".", "xmllint", "--xpath", within+"*[local-name()='ResourceDictionary.MergedDictionaries']/*/@Source", app))
	require.Contains(t, ask(t, ".", "xmllint", "--xpath", "//ItemGroup/Resource/@Include", filepath.Join(lookout, "Lookout.csproj")), `Include="Assets\Fonts\SkerrySans-Bold.ttf"`)
}

func TestWinUICompilesAndRuns(t *testing.T) {
	t.Parallel()
	dir := dressed(t)
	pilot := filepath.Join(dir, "pilot")
	out := sharp(t, "testdata/winui-stub.cs", filepath.Join(pilot, "AppType.cs"), filepath.Join(pilot, "App.xaml.cs"), filepath.Join(pilot, "MainWindow.xaml.cs"))
	read := xamlStyles(t, filepath.Join(pilot, "AppType.xaml"))
	require.Contains(t, out, "ms-appx:///Assets/Fonts/SkerrySans-Italic.ttf#Skerry Sans\n")
	require.Contains(t, out, "CopyNewType CopyNewControlType\n")
	listed(t, out, "-SkerrySans-Regular", "-SkerrySans-Bold", "-SkerrySans-Italic") // they are beside another program
	for _, w := range []string{"HeadingType TextBlock FontFamily ms-appx:///Assets/Fonts/SkerrySans-Bold.ttf#Skerry Sans", "HeadingType TextBlock LineHeight 34", "HeadingType TextBlock CharacterSpacing 10",
		"HeadingControlType Control FontWeight 700", "HeadingControlType Control Foreground #FF0B3D5C", "CopyNewType TextBlock IsTextScaleFactorEnabled False", "BodyControlType Control IsTextScaleFactorEnabled True"} {
		require.Contains(t, read, w+"\n")
	}
	require.Contains(t, ask(t, ".", "xmllint", "--xpath", "//ItemGroup/Content/@Include", filepath.Join(pilot, "Pilot.csproj")), `Include="Assets\Fonts\SkerrySans-Bold.ttf"`)
	_, err := os.Stat(filepath.Join(pilot, "Assets/Fonts/SkerrySans-Regular.ttf"))
	require.NoError(t, err)
}
