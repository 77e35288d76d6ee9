package consumers

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/platform"
)

// godotRuns has Godot 3 read a game's resources back; it ends by itself, and says errors
// without failing.
func godotRuns(t *testing.T, game string, scenes ...string) string {
	t.Helper()
	need(t, "godot3-server")
	script, err := filepath.Abs("testdata/godot/check.gd")
	require.NoError(t, err)
	write(t, filepath.Join(game, "check.gd"), readFile(t, script))
	out := ask(t, ".", "timeout", append([]string{"600", "godot3-server", "--path", game, "-s", "check.gd"}, scenes...)...)
	require.NoError(t, os.Remove(filepath.Join(game, "check.gd")))
	return out
}

// godotReads has the strict reader print every resource of a game of Godot 4.
func godotReads(t *testing.T, game string) string {
	t.Helper()
	need(t, "python3")
	files, err := filepath.Glob(filepath.Join(game, "apptype/*.tres"))
	require.NoError(t, err)
	require.NotEmpty(t, files)
	args := []string{"testdata/godot/text.py", game}
	for _, f := range files {
		args = append(args, "apptype/"+filepath.Base(f))
	}
	return ask(t, ".", "python3", args...)
}

// labels is a scene of Godot 3 with fonts of its own: by a resource, within the scene, and
// of another face.
const labels = `[gd_scene load_steps=5 format=2]

[ext_resource path="res://ui/big.tres" type="DynamicFont" id=1]
[ext_resource path="res://apptype/fonts/SkerrySans-Regular.ttf" type="DynamicFontData" id=2]

[sub_resource type="DynamicFont" id=1]
size = 16
font_data = ExtResource( 2 )

[node name="Box" type="VBoxContainer"]

[node name="Big" type="Label" parent="."]
custom_fonts/font = ExtResource( 1 )
text = "Big; [not a tag]
and more"

[node name="Small" type="Label" parent="."]
custom_fonts/font = SubResource( 1 )

[node name="Plain" type="Label" parent="."]
text = "Plain"
`

const bigFont = `[gd_resource type="DynamicFont" load_steps=2 format=2]

[ext_resource path="res://apptype/fonts/SkerrySans-Bold.ttf" type="DynamicFontData" id=1]

[resource]
size = 30
font_data = ExtResource( 1 )
`

func TestGodot3LoadsEveryRole(t *testing.T) {
	t.Parallel()
	dir := dressed(t)
	game := filepath.Join(dir, "riddle")
	out := godotRuns(t, game)
	for _, want := range []string{
		"heading size 28 outline 1 80ffffff filter False spacing 1 2 0 3 antialiased False file res://apptype/fonts/SkerrySans-Bold.ttf\n",
		"body size 17 outline 0 ffffffff filter False spacing 0 0 0 0 antialiased True file res://apptype/fonts/SkerrySans-Regular.ttf\n",
		"copy-new size 12 ", "heading plausible True\n", "body plausible True\n", "copy-new plausible True\n",
		"theme default res://apptype/body_font.tres\n", "theme TypeHeading font res://apptype/heading_font.tres\n", "theme TypeHeading font_color ff0b3d5c\n",
		"theme TypeHeading font_color_shadow 80000000\n", "theme TypeHeading shadow_offset_x 1\n", "theme TypeHeading shadow_offset_y -2\n", "theme TypeHeading line_spacing 1\n",
		"twenty labels: [res://apptype/body_font.tres]\n", "styled: res://apptype/heading_font.tres ff0b3d5c\n", "AppType: there is no role nowhere",
	} {
		require.Contains(t, out, want)
	}
	require.NotContains(t, out, "SCRIPT ERROR")
	listed(t, out, "SkerrySans-Regular", "SkerrySans-Bold", "SkerrySans-Italic")
	require.Equal(t, 1, strings.Count(out, "AppType: "), out)
	write(t, filepath.Join(game, "Riddle.csproj"), "<Project Sdk=\"Godot.NET.Sdk/3.3.0\">\n</Project>\n")
	notaria(t, 0, dir, "register")
	require.Contains(t, sharp(t, "testdata/godot/stub.cs", filepath.Join(game, "apptype/AppType.cs")), "Heading DynamicFont res://apptype/heading_font.tres\n")

	// Labels with fonts of their own stay, and are reported, until they are taken over;
	// striking brings every byte back.
	scene := filepath.Join(game, "labels.tscn")
	require.NoError(t, os.MkdirAll(filepath.Join(game, "ui"), 0o755))
	write(t, filepath.Join(game, "ui/big.tres"), bigFont)
	write(t, scene, labels)
	out = godotRuns(t, game, "labels.tscn")
	require.Contains(t, out, "scene Big res://ui/big.tres\nscene Small res://labels.tscn::1\nscene Plain res://apptype/body_font.tres\n")
	require.Contains(t, notaria(t, 1, dir, "check"), "labels.tscn:13:21  style-over-role")
	notaria(t, 0, dir, "register")
	require.Equal(t, labels, readFile(t, scene))
	notaria(t, 0, dir, "register", "--take-over")
	out = godotRuns(t, game, "labels.tscn")
	require.Contains(t, out, "scene Big res://apptype/heading_font.tres\nscene Small res://apptype/body_font.tres\nscene Plain res://apptype/body_font.tres\n")
	notaria(t, 0, dir, "check")
	require.Contains(t, notaria(t, 0, dir, "register"), "Nothing to do")

	// A font that is not there, which Godot itself loads without an error of its own.
	require.NoError(t, os.Remove(filepath.Join(game, "apptype/fonts/SkerrySans-Bold.ttf")))
	out = godotRuns(t, game)
	require.Contains(t, out, "AppType: the role heading has no font that Godot can load; run: notaria register")
	require.Contains(t, out, "heading plausible False\n")
	listed(t, out, "SkerrySans-Regular", "-SkerrySans-Bold", "SkerrySans-Italic")
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "strike", "SkerrySans-Bold", "--with-roles")
	require.Contains(t, readFile(t, scene), "custom_fonts/font = ExtResource( 1 )\ntext = \"Big")
	notaria(t, 0, dir, "strike", "Skerry Sans", "--with-roles")
	require.Equal(t, labels, readFile(t, scene))
}

func TestGodot4ReadsStrictly(t *testing.T) {
	t.Parallel()
	dir := dressed(t)
	game := filepath.Join(dir, "quiz")
	out := godotReads(t, game)
	for _, want := range []string{
		"heading_font.tres FontVariation base_font FontFile res://apptype/fonts/SkerrySans-Bold.ttf\n", "heading_font.tres FontVariation spacing_space 3\n",
		"heading_font.tres FontVariation spacing_top 1\n", "heading_font.tres FontVariation spacing_bottom 2\n",
		"heading_label.tres LabelSettings font FontVariation res://apptype/heading_font.tres\n", "heading_label.tres LabelSettings font_size 28\n",
		"heading_label.tres LabelSettings font_color 0.0431 0.2392 0.3608 1\n", "heading_label.tres LabelSettings outline_size 2\n",
		"heading_label.tres LabelSettings shadow_offset 1 -2\n", "app_theme.tres Theme default_font FontVariation res://apptype/body_font.tres\n",
		"app_theme.tres Theme TypeHeading/base_type Label\n", "app_theme.tres Theme TypeHeading/fonts/font FontVariation res://apptype/heading_font.tres\n",
		"app_theme.tres Theme TypeCopyNew/font_sizes/font_size 12\n",
	} {
		require.Contains(t, out, want)
	}
	godotParses(t, dir)

	// Code in C#: where the game has it.
	write(t, filepath.Join(game, "Quiz.csproj"), "<Project Sdk=\"Godot.NET.Sdk/4.2.0\">\n</Project>\n")
	notaria(t, 0, dir, "register")
	ran := sharp(t, "testdata/godot/stub.cs", filepath.Join(game, "apptype/AppType.cs"))
	require.Contains(t, ran, "error AppType: res://apptype/body_label.tres is not there; run: notaria register\nBody nothing\n")
	require.Contains(t, ran, "Heading LabelSettings res://apptype/heading_label.tres\n")
	require.Contains(t, ran, "HeadingVariation TypeHeading\n")
	listed(t, ran, "-SkerrySans-Regular", "SkerrySans-Bold", "SkerrySans-Italic") // the stand-in loses one
}

// godotParses runs the script of the game of Godot 4 by Godot 3, whose language has the same
// forms, with classes that it has: what it does not understand is an error.
func godotParses(t *testing.T, dir string) {
	t.Helper()
	need(t, "godot3-server")
	game := filepath.Join(dir, "riddle")
	code := strings.NewReplacer("LabelSettings", "DynamicFont", "_label.tres", "_font.tres", "look.font != null", "look.font_data != null", "look.font.get_font_name()", "look.resource_path",
		"control.label_settings", "control.custom_fonts", "control.theme_type_variation = ", "control.name = ").Replace(readFile(t, filepath.Join(dir, "quiz/apptype/app_type.gd")))
	write(t, filepath.Join(game, "four.gd"), code)
	write(t, filepath.Join(game, "main.gd"), "extends SceneTree\n\n\nfunc _initialize() -> void:\n\tvar four: Node = load(\"res://four.gd\").new()\n\troot.add_child(four)\n"+
		"\tprint(four.ROLES.size(), \" roles, \", four.VARIATIONS)\n\tprint(\"none: \", four.settings(\"nowhere\"))\n\tvar b := Button.new()\n\tfour.style(b, four.ROLES.keys()[0])\n\tprint(\"styled \", b.name)\n\tprint(four.report())\n\tquit()\n")
	out := ask(t, ".", "timeout", "600", "godot3-server", "--path", game, "-s", "main.gd")
	require.NotContains(t, out, "SCRIPT ERROR")
	require.NotContains(t, out, "Parse Error")
	require.Contains(t, out, "none: Null\n")
	require.Contains(t, out, "AppType: there is no role nowhere")
	require.Contains(t, out, "styled Type")
	require.Contains(t, out, "Faces of this app:\n  there   ")
	require.NoError(t, os.Remove(filepath.Join(game, "four.gd")))
	require.NoError(t, os.Remove(filepath.Join(game, "main.gd")))
}

// hostileGodot loads fonts of all names in Godot 3, and reads the resources of Godot 4.
func hostileGodot(t *testing.T, dir string) {
	t.Helper()
	three, four := godotRuns(t, filepath.Join(dir, "riddle")), godotReads(t, filepath.Join(dir, "quiz"))
	for i, name := range hostile {
		require.Contains(t, three, fmt.Sprintf("role-%d plausible True\n", i), name)
		require.Contains(t, four, fmt.Sprintf("role_%d_font.tres FontVariation base_font FontFile res://apptype/fonts/%s.ttf\n", i, platform.FileBase(name)), name)
	}
	godotParses(t, dir)
}
