package consumers

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"
)

func TestMauiCompilesAndRuns(t *testing.T) {
	need(t, "mcs", "mono", "git")
	dir := t.TempDir()
	require.NoError(t, os.CopyFS(dir, os.DirFS("testdata/maui")))
	before := snapshot(t, dir)
	archive := filepath.Join(registered(t), "skerry-type.zip")
	notaria(t, 0, dir, "enrol", archive, "--styles", "regular,bold")
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "register", "--dry-run")
	notaria(t, 0, dir, "check")
	require.FileExists(t, filepath.Join(dir, "Resources/Fonts/SkerrySans-Bold.ttf"))

	program := filepath.Join(t.TempDir(), "use.exe")
	out := ask(t, ".", "mcs", "-langversion:7", "-warnaserror", "-out:"+program, "testdata/maui-stub.cs", "testdata/maui-use.cs", filepath.Join(dir, "MauiProgram.cs"), filepath.Join(dir, "AppType.cs"))
	require.Empty(t, out)
	require.Equal(t, "SkerrySans-Regular.ttf as SkerrySans-Regular\nSkerrySans-Bold.ttf as SkerrySans-Bold\nFontFamily SkerrySans-Bold\nFontSize 28\nFontAutoScalingEnabled True\n",
		ask(t, ".", "mono", program))

	// What goes wrong there silently.
	write(t, filepath.Join(dir, "Page.xaml"), `<Label FontFamily="SkerrySans-Blod" /><!-- FontFamily="Nowhere" --><Label FontFamily="SkerrySans-Bold.ttf" />`)
	found := notaria(t, 1, dir, "check")
	require.Contains(t, found, "Page.xaml:1  unknown-font-name")
	require.Contains(t, found, "Page.xaml:1  file-name-as-font-name")
	require.Contains(t, found, ".NET MAUI .: 2 findings")
	require.NoError(t, os.Remove(filepath.Join(dir, "Page.xaml")))
	notaria(t, 0, dir, "strike", "Skerry Sans")
	require.Equal(t, before, snapshot(t, dir))
}
