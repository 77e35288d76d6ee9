//go:build unix

package audit_test

import (
	"bytes"
	"context"
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"syscall"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/audit"
	"notaria/internal/choice"
	"notaria/internal/intake"
	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/platform/all"
	"notaria/internal/skerry"
)

// registered is the sample, or some apps of it, with two faces in every app.
func registered(t *testing.T, apps ...string) string {
	ctx, root := context.Background(), filepath.Join(t.TempDir(), "skerry")
	require.NoError(t, skerry.Place(root, apps...))
	haul, err := intake.Gather(ctx, []string{filepath.Join(root, skerry.ArchiveName)}, intake.Options{Digest: true})
	require.NoError(t, err)
	p, err := notary.Open(ctx, root, all.Platforms, notary.Opening{})
	require.NoError(t, err)
	e, err := p.Enrol(ctx, haul, choice.Faces{Styles: []string{"regular", "bold"}})
	require.NoError(t, err)
	require.NoError(t, p.Apply(ctx, e.Set))
	p.Close()
	p, err = notary.Open(ctx, root, all.Platforms, notary.Opening{})
	require.NoError(t, err)
	defer p.Close()
	plan, err := p.Plan(ctx, all.Platforms)
	require.NoError(t, err)
	set, err := p.Changes(ctx, plan, notary.Options{})
	require.NoError(t, err)
	require.NoError(t, p.Apply(ctx, set))
	_, err = skerry.Use(root)
	require.NoError(t, err)
	return root
}

// edit is a change of a file: its whole text, or one text in it (a pattern, if it begins
// with "(?") for another; "" for both removes it.
type edit struct{ file, old, text string }

// A project without any app is nothing to be content with: no-app-found.
func TestNoApp(t *testing.T) {
	t.Setenv("XDG_STATE_HOME", t.TempDir())
	p, err := notary.Look(t.TempDir(), all.Platforms)
	require.NoError(t, err)
	defer p.Close()
	plan, err := p.Plan(context.Background(), all.Platforms)
	require.NoError(t, err)
	found, err := audit.Check(context.Background(), p, plan)
	require.NoError(t, err)
	require.Equal(t, "no-app-found .", found[0].Rule+" "+found[0].File)
}

// Each rule is held against what it must find, and against near misses. Findings are
// shown as rule file:line:column.
func TestRules(t *testing.T) {
	t.Setenv("XDG_STATE_HOME", t.TempDir())
	bases := map[string]string{} // by the apps that a case is about
	tests := []struct {
		name  string
		edits []edit
		found []string
	}{
		{"nothing", nil, nil},
		{"a font gone", []edit{{"deckgame/fonts/SkerrySans-Bold.ttf", "", ""}}, []string{"file-missing deckgame/fonts/SkerrySans-Bold.ttf"}},
		{"code that somebody edited", []edit{{"deckgame/lib/app_type.dart", "class AppType", "class MyType"}}, []string{"file-differs deckgame/lib/app_type.dart:13"}},
		{"an entry without its file", []edit{{"kiosk/app.json", "./assets/fonts/SkerrySans-Bold.ttf", "./assets/fonts/Skerry-Bold.ttf"}},
			[]string{"file-without-entry kiosk/app.json", "entry-without-file kiosk/app.json:20"}},
		{"an entry that is a comment", []edit{{"ios/SkerryFerries/Info.plist", "<string>SkerrySans-Bold.ttf</string>", "<!-- <string>SkerrySans-Bold.ttf</string> -->"}}, []string{"file-without-entry ios/SkerryFerries/Info.plist"}},
		{"a font that no manifest names", []edit{{"ios/SkerryFerries/Loose.ttf", "", "x"}}, []string{"file-without-entry ios/SkerryFerries/Loose.ttf"}},
		{"near: a font of nobody's app", []edit{{"Loose.ttf", "", "x"}}, nil},
		{"not built in", []edit{{"ios/SkerryFerries.xcodeproj/project.pbxproj", `(?m)^.*/\* SkerrySans-Bold.ttf in Resources \*/,$`, ""}},
			[]string{"not-in-build-phase ios/SkerryFerries.xcodeproj/project.pbxproj"}},
		{"a mistyped name", []edit{{"ios/SkerryFerries/A.swift", "", "let é = \"é\"; let f = UIFont(name: \"SkerrySans-Blod\", size: 1)\n"}}, []string{"unknown-font-name ios/SkerryFerries/A.swift:1:38"}},
		{"near: in a comment, in a string, of the system's own", []edit{{"ios/SkerryFerries/A.swift", "", "// UIFont(name: \"No\", size: 1)\nlet s = \"UIFont(name: \\\"No\\\", size: 1)\"\nlet r = #\"UIFont(name: \"No\", size: 1)\"#\nlet t = UIFont(name: \"SkerrySans-Bold\", size: 1)\n"}}, nil},
		{"in code that a string holds", []edit{{"ios/SkerryFerries/A.swift", "", "let s = \"\\(UIFont(name: \"No\", size: 1)!)\"\n"}}, []string{"unknown-font-name ios/SkerryFerries/A.swift:1:26"}},
		{"a family's name", []edit{{"board/P.xaml", "", "<Label FontFamily=\"Skerry Sans\" />\n"}}, []string{"unknown-font-name board/P.xaml:1:20"}},
		{"a file's name", []edit{{"fleet/A.tsx", "", "const a = <Text style={{fontFamily: 'SkerrySans-Bold.ttf'}}>Don't</Text>;\n"}}, []string{"file-name-as-font-name fleet/A.tsx:1:38"}},
		{"near: JSX with an apostrophe", []edit{{"fleet/A.tsx", "", "const a = <Text>Don't say fontFamily: 'No'</Text>; // fontFamily: 'No'\n"}}, nil},
		{"a resource that is not there", []edit{{"android/app/src/main/res/layout/a.xml", "", "<!-- @font/no -->\n<TextView android:fontFamily=\"@font/skerry_sans_blod\" />\n"}}, []string{"unknown-font-resource android/app/src/main/res/layout/a.xml:2:37"}},
		{"near: a resource that is there", []edit{{"android/app/src/main/java/A.kt", "", "val a = R.font.skerry_sans_bold\nval b = \"\"\"R.font.no\"\"\"\n"}}, nil},
		{"a weight on a face", []edit{{"kiosk/a.js", "", "const s = {a: {fontFamily: 'SkerrySans-Bold', fontWeight: 'bold'}, b: {fontWeight: '700'}};\n"}}, []string{"weight-on-a-face kiosk/a.js:1:47"}},
		{"near: of a normal weight, or in other braces", []edit{{"kiosk/a.js", "", "const s = {a: {fontFamily: faces.x, fontWeight: '400', b: {fontWeight: '700'}}};\n"}}, nil},
		{"near: a weight that no braces join to the name", []edit{{"kiosk/a.js", "", "fontFamily: faces.x, fontWeight: '700'\n"}}, nil},
		{"two names in the same braces", []edit{{"kiosk/a.js", "", "const s = {fontFamily: faces.x, fontFamily: faces.y, fontWeight: '700'};\n"}}, []string{"weight-on-a-face kiosk/a.js:1:54"}},
		{"XAML: a family that is mistyped", []edit{{"desk/W.axaml", "", "<TextBlock FontFamily=\"avares://Desk/Assets/Fonts#Skerry Snas\" />\n"}}, []string{"unknown-font-name desk/W.axaml:1:24"}},
		{"XAML: a file behind the #", []edit{{"desk/W.axaml", "", "<FontFamily x:Key=\"F\">avares://Desk/Assets/Fonts#SkerrySans-Bold.ttf</FontFamily>\n"}}, []string{"file-name-as-font-name desk/W.axaml:1:23"}},
		{"XAML: a wrong folder", []edit{{"desk/W.cs", "", "var f = new FontFamily(\"avares://Desk/Fonts#Skerry Sans\");\n"}}, []string{"unknown-font-resource desk/W.cs:1:25"}},
		{"XAML: no address", []edit{{"lookout/W.xaml", "", "<Setter Property=\"TextElement.FontFamily\" Value=\"Skerry Sans\" />\n"}}, []string{"unknown-font-name lookout/W.xaml:1:50"}},
		{"XAML: a file that is not there", []edit{{"pilot/W.xaml", "", "<TextBlock FontFamily=\"ms-appx:///Assets/Fonts/Skerry.ttf#Skerry Sans\" />\n"}}, []string{"unknown-font-resource pilot/W.xaml:1:24"}},
		{"XAML: a class that no role has", []edit{{"desk/W.axaml", "", "<TextBlock Classes=\"wide type-haeding\" />\n<Style Selector=\"Button.type-boddy\" />\n"}}, []string{"unknown-role desk/W.axaml:1:26", "unknown-role desk/W.axaml:2:25"}},
		{"XAML: a key that no resource has", []edit{{"lookout/W.xaml", "", "<TextBlock Style=\"{StaticResource HeadngType}\" />\n"}}, []string{"unknown-font-resource lookout/W.xaml:1:35"}},
		{"XAML: a family beside a role", []edit{{"desk/W.axaml", "", "<TextBlock Classes=\"type-heading\" Text=\"x\" FontFamily=\"Arial\" />\n"}, {"lookout/W.xaml", "", "<Button FontWeight=\"Bold\"\n  Style=\"{StaticResource HeadingType}\" />\n"}},
			[]string{"style-over-role desk/W.axaml:1:44", "style-over-role lookout/W.xaml:1:9"}},
		{"XAML: a style of all controls of a kind", []edit{{"desk/W.axaml", "", "<Style Selector=\"TextBlock\">\n  <Setter Property=\"Margin\" Value=\"1\" />\n  <Setter Property=\"FontFamily\" Value=\"{StaticResource Other}\" />\n</Style>\n"}}, []string{"style-over-role desk/W.axaml:1:18"}},
		{"near: XAML that is right, or of the system, or another assembly's", []edit{{"desk/W.axaml", "", "<!-- <TextBlock FontFamily=\"Skerry Snas\" /> -->\n<TextBlock FontFamily=\"/Assets/Fonts#Skerry Sans, Segoe UI\" /><TextBlock FontFamily=\"avares://Desk/Assets/Fonts/SkerrySans-Bold.ttf#Skerry Sans\" />\n<TextBlock FontFamily=\"avares://Other/Fonts#Skerry\" /><TextBlock FontFamily=\"Segoe UI\" Classes=\"h1 type-body\" FontSize=\"3\" /><TextBlock FontFamily=\"{StaticResource SkerrySansFamily}\"/>\n<Style Selector=\"TextBlock.mono\"><Setter Property=\"FontFamily\" Value=\"Segoe UI\" /></Style>\n"},
			{"lookout/W.xaml", "", "<X x:Key=\"HeadngType\" A=\"{StaticResource HeadngType}\" B=\"{StaticResource CardType}\" />\n<TextBlock FontFamily=\"pack://application:,,,/Assets/Fonts/#Skerry Sans\" /><TextBlock FontFamily=\"./Assets/Fonts/#Skerry Sans\" />\n"}},
			[]string{"style-over-role desk/W.axaml:3:66"}},
		{"JavaFX: a PostScript name", []edit{{"pier/src/main/resources/a.css", "", ".label { -fx-font-family: \"SkerrySans-Bold\"; }\n"}}, []string{"unknown-font-name pier/src/main/resources/a.css:1:28"}},
		{"JavaFX: a mistyped name, in a style sheet, in code and in FXML", []edit{{"pier/src/main/resources/a.css", "", ".label { -fx-font: 14px \"Skerry Sans Blod\";\n-fx-font-family: Skerry Sns Bold; }\n"}, {"pier/src/main/java/A.java", "", "// Font.font(\"Skerry Sans Blod\")\nFont f = Font.font(\"Skerry Sans Blod\", 14);\nnode.setStyle(\"-fx-font-family: 'Skerry Sans Blod'\");\n"}, {"pier/src/main/resources/a.fxml", "", "<Font name=\"Skerry Sans Blod\" size=\"14\"/>\n"}},
			[]string{"unknown-font-name pier/src/main/resources/a.css:1:26", "unknown-font-name pier/src/main/resources/a.css:2:18", "unknown-font-name pier/src/main/java/A.java:3:34", "unknown-font-name pier/src/main/java/A.java:2:21", "unknown-font-name pier/src/main/resources/a.fxml:1:13"}},
		{"JavaFX: a file's name", []edit{{"cargo/src/cargo/A.java", "", "label.setFont(new Font(\"SkerrySans-Bold.ttf\", Font.PLAIN, 14));\n"}}, []string{"file-name-as-font-name cargo/src/cargo/A.java:1:25"}},
		{"JavaFX: a file that is not there", []edit{{"pier/src/main/resources/a.css", "", "@font-face { src: url(\"SkerrySans-Bold.ttf\"); }\n@font-face { src: url('fonts/Skerry Sans.ttf'); }\n"}, {"pier/src/main/java/A.java", "", "A.class.getResourceAsStream(\"/font/SkerrySans-Bold.ttf\");\nA.class.getResource(\"/fonts/SkerrySans-Bold.ttf\");\n"}},
			[]string{"unknown-font-resource pier/src/main/resources/a.css:1:24", "unknown-font-resource pier/src/main/resources/a.css:2:24", "unknown-font-resource pier/src/main/java/A.java:1:30"}},
		{"JavaFX: a class that no role has", []edit{{"pier/src/main/resources/a.css", "", ".type-haeding, .type-badge { -fx-padding: 1px; }\n"}, {"pier/src/main/java/A.java", "", "l.getStyleClass().add(\"type-haeding\");\n"}, {"pier/src/main/resources/a.fxml", "", "<Label styleClass=\"wide, type-haeding\"/>\n"}},
			[]string{"unknown-role pier/src/main/resources/a.css:1:2", "unknown-role pier/src/main/java/A.java:1:24", "unknown-role pier/src/main/resources/a.fxml:1:26"}},
		{"JavaFX: a property of the web", []edit{{"pier/src/main/resources/board.css", "", ".rows { -fx-padding: 1px; font-size: 12px; }\n.label { font-family: \"Skerry Sans Bold\"; }\n"}}, []string{"not-a-property pier/src/main/resources/board.css:1:27", "not-a-property pier/src/main/resources/board.css:2:10"}},
		{"JavaFX: a rule over the role", []edit{{"pier/src/main/resources/board.css", "", "#next, .label { -fx-font-family: \"Monospaced\"; }\n"}, {"pier/src/main/resources/a.fxml", "", "<Label style=\"-fx-font-family: 'Monospaced'\" styleClass=\"type-body\"/>\n"}}, []string{"style-over-role pier/src/main/resources/board.css:1:1", "style-over-role pier/src/main/resources/a.fxml:1:15"}},
		{"near: JavaFX that is right, or of the system, or of a page", []edit{{"pier/src/main/resources/a.css", "", ".label { -fx-font-family: \"Skerry Sans\"; -fx-font-weight: bold; }\n.rows .label { -fx-font-family: 'Skerry Sans Bold'; -fx-font-size: 3px; }\n.root #next.type-body { -fx-font-family: Monospaced; }\n@font-face { font-family: \"x\"; src: url(\"fonts/SkerrySans-Bold.ttf\"); }\n"},
			{"pier/src/main/resources/page.css", "", "p { font-family: Arial; }\n"}, {"cargo/src/cargo/A.java", "", "new Font(\"Skerry Sans Bold\", 0, 1); new Font(\"SansSerif\", 0, 1); x.getResource(\"../fonts/SkerrySans-Bold.ttf\");\n"}}, nil},
		{"Flex: wrong names in all languages", []edit{{"heritage/src/a.css", "", ".a { fontFamily: \"SkerrySans-Bold\"; }\n.b { font-family: Skery Sans; }\n"}, {"heritage/src/A.mxml", "", "<s:Label fontFamily=\"Skerry Snas\"/>\n"}, {"heritage/src/A.as", "", "a.setStyle(\"fontFamily\", \"SkerrySans-Bold.ttf\"); // \"Skerry Snas\"\n"}},
			[]string{"unknown-font-name heritage/src/a.css:1:19", "unknown-font-name heritage/src/a.css:2:19", "unknown-font-name heritage/src/A.mxml:1:22", "file-name-as-font-name heritage/src/A.as:1:27"}},
		{"Flex: files that are not there", []edit{{"heritage/src/a.css", "", "@font-face { src: url(\"fonts/SkerrySans-Bold.ttf\"); fontFamily: \"Own\"; }\n"}, {"heritage/src/A.as", "", "[Embed(source=\"assets/fonts/Skerry-Bold.ttf\", fontName=\"Own\")]\n"}},
			[]string{"unknown-font-resource heritage/src/a.css:1:24", "unknown-font-resource heritage/src/A.as:1:16"}},
		{"Flex: style names and rules", []edit{{"heritage/src/a.css", "", ".typeHaeding { color: #000000; }\n#next { fontFamily: \"Arial\"; }\n"}, {"heritage/src/A.mxml", "", "<s:Label styleName=\"typeHaeding\"/>\n<s:Label styleName=\"typeBody\" fontFamily=\"Arial\"/>\n"}, {"heritage/src/A.as", "", "a.styleName = \"typeHaeding\";\n"}},
			[]string{"unknown-role heritage/src/a.css:1:2", "style-over-role heritage/src/a.css:2:1", "unknown-role heritage/src/A.mxml:1:21", "style-over-role heritage/src/A.mxml:2:31", "unknown-role heritage/src/A.as:1:16"}},
		{"near: Flex that is right, or of the app's own", []edit{{"heritage/src/a.css", "", "@font-face { src: url(\"assets/fonts/SkerrySans-Bold.ttf\"); fontFamily: \"Skerry Sands\"; }\n.x { fontFamily: \"Skerry Sands\"; }\ns|Label { fontFamily: \"Skerry Sans\"; }\n.typeface { fontFamily: Arial; }\n"}, {"heritage/src/A.as", "", "a.styleName = \"typeBody\"; new TextFormat(\"Arial\", 3);\n"}}, nil},
		{"Web: wrong names in all languages", []edit{{"web/css/a.css", "", "h1 { font-family: \"Skery Sans\", serif; }\nh2 { color: red; font: 12px/1 'SkerrySans-Bold', serif; }\nh3 { font-family: SkerrySans-Bold.ttf; }\n"}, {"web/a.html", "", "<p style=\"color: red; font-family: 'Skerry Sns'\">x</p>\n"}, {"web/a.js", "", "const s = {fontFamily: 'Skerry Snas, serif'};\n"}},
			[]string{"unknown-font-name web/css/a.css:1:20", "unknown-font-name web/css/a.css:2:32", "file-name-as-font-name web/css/a.css:3:19", "unknown-font-name web/a.html:1:37", "unknown-font-name web/a.js:1:25"}},
		{"Web: files that are not there", []edit{{"web/css/a.css", "", "@font-face { font-family: Own; src: url(fonts/Skerry-Bold.woff2); }\n@font-face { font-family: Own; src: url(\"SkerrySans-Bold.woff2?v=1\"); }\n"}}, []string{"unknown-font-resource web/css/a.css:1:41", "unknown-font-resource web/css/a.css:2:42"}},
		{"Web: roles, rules and properties", []edit{{"web/css/a.css", "", ".type-haeding { color: red; }\n#main p { font-family: Arial; }\n.a { fontFamily: Arial; }\n.b { -fx-font-size: 3px; }\n"}, {"web/a.html", "", "<p class=\"wide type-haeding\">x</p>\n<p class=\"type-body\" style=\"font-family: Arial\">x</p>\n"}},
			[]string{"unknown-role web/css/a.css:1:2", "style-over-role web/css/a.css:2:1", "not-a-property web/css/a.css:3:6", "not-a-property web/css/a.css:4:6", "unknown-role web/a.html:1:16", "style-over-role web/a.html:2:29"}},
		{"near: Web that is right, of the machine, or made of sources", []edit{{"web/css/a.css", "", "@font-face { font-family: \"Skerry Sands\"; src: url(\"/fonts/x.woff2\"), url(\"fonts/SkerrySans-Bold.woff2\"), url(https://x.org/x.woff2); }\np { font-family: 'skerry sans', Arial; }\n.a .b { font-family: \"Skerry Sands\"; }\n:root { --type-x: \"Skery\"; }\n"}, {"web/dist/a.css", "", "p { font-family: \"Skery Sans\"; }\n"}}, nil},
		{"Qt: wrong names", []edit{{"chart/A.qml", "", "Text { font.family: \"Skery Sans\" }\nText { font: AppType.headng }\n"}, {"chart/a.cpp", "", "QFont a(\"SkerrySans-Bold\");\nb.setFamily(QStringLiteral(\"SkerrySans-Bold.ttf\"));\n"}},
			[]string{"unknown-font-name chart/A.qml:1:22", "unknown-role chart/A.qml:2:22", "unknown-font-name chart/a.cpp:1:10", "file-name-as-font-name chart/a.cpp:2:29"}},
		{"Qt: files that are not there", []edit{{"chart/A.qml", "", "FontLoader { source: \"fonts/SkerrySans-Bold.ttf\" }\n"}, {"chart/a.cpp", "", "QFontDatabase::addApplicationFont(\":/fonts/SkerrySans-Bold.ttf\");\n"}, {"chart/chart.qrc", "<file>Chart.qml</file>", "<file>Chart.qml</file>\n        <file>fonts/Skerry.ttf</file>"}},
			[]string{"unknown-font-resource chart/A.qml:1:23", "unknown-font-resource chart/a.cpp:1:36", "entry-without-file chart/chart.qrc:4"}},
		{"near: Qt that is right, or of the system", []edit{{"chart/A.qml", "", "Text { font: AppType.heading }\nFontLoader { source: \"apptype/fonts/SkerrySans-Bold.ttf\" } // font.family: \"Skery Sans\"\n"}, {"chart/a.cpp", "", "QFont a(\"Skerry Sans\"); QFont b{\"Arial\"};\nadd(\":/app-type/fonts/SkerrySans-Bold.ttf\"); add(\":/lib/Own.ttf\");\n"}}, nil},
		{"GTK: wrong names", []edit{{"tide/a.css", "", ".x { font-family: \"Skery Sans\"; }\n.type-haeding { color: red; }\n"}, {"tide/a.py", "", "d = Pango.FontDescription('Skery Sans Bold 12')  # 'Skery'\nd.set_family(\"SkerrySans-Bold.ttf\")\nx.add_css_class('type-haeding')\n"}, {"beacon/a.c", "", "pango_font_description_set_family (d, \"SkerrySans-Bold\");\ngtk_widget_add_css_class (w, \"type-haeding\");\n"}},
			[]string{"unknown-font-name tide/a.css:1:20", "unknown-role tide/a.css:2:2", "unknown-font-name tide/a.py:1:28", "file-name-as-font-name tide/a.py:2:15", "unknown-role tide/a.py:3:18", "unknown-font-name beacon/a.c:1:40", "unknown-role beacon/a.c:2:31"}},
		{"near: GTK that is right, or of the system", []edit{{"tide/a.py", "", "d = Pango.FontDescription('Skerry Sans Bold Italic 12.5px')\ne = Pango.FontDescription.from_string(\"Sans 12\")\nx.add_css_class('type-heading')\n"}, {"beacon/a.c", "", "// set_family (d, \"Skery Sans\")\npango_font_description_from_string (\"Skerry Sans, Sans 12\");\n"}}, nil},
		{"Godot: paths, variations, fonts of a node's own", []edit{{"quiz/a.gd", "", "var a = preload(\"res://apptype/fonts/skerrysans-bold.ttf\")\n# load(\"res://apptype/nowhere.tres\")\nvar b = load(\"res://fonts/Nowhere.ttf\")\nfunc f(): AppType.style(self, \"haeding\")\n"},
			{"quiz/a.tscn", "", "[gd_scene format=3]\n\n[ext_resource type=\"FontFile\" path=\"res://fonts/Nowhere.ttf\" id=\"1\"]\n\n[node name=\"A\" type=\"Label\"]\ntheme_type_variation = &\"TypeHaeding\"\nlabel_settings = ExtResource(\"1\")\n"}},
			[]string{"unknown-font-resource quiz/a.gd:1:18", "unknown-font-resource quiz/a.gd:3:15", "unknown-role quiz/a.gd:4:32", "entry-without-file quiz/a.tscn:3", "unknown-role quiz/a.tscn:6:26", "style-over-role quiz/a.tscn:7:18"}},
		{"near: Godot that is right", []edit{{"quiz/a.gd", "", "var a = preload(\"res://apptype/heading_label.tres\")\nvar b = \"res://Nowhere.ttf\" # load(\"res://Nowhere.ttf\")\nfunc f(): theme_type_variation = \"TypeHeading\"; c.theme_type_variation = \"Types\"\n"},
			{"quiz/a.tscn", "", "[gd_scene format=3]\n\n[ext_resource type=\"LabelSettings\" path=\"res://apptype/heading_label.tres\" id=\"1\"]\n\n[node name=\"A\" type=\"Label\"]\nlabel_settings = ExtResource(\"1\")\ntext = \"path = res://No.ttf\"\n"},
			{"quiz/addons/a.tscn", "", "[ext_resource type=\"FontFile\" path=\"res://fonts/Nowhere.ttf\" id=\"1\"]\n"}}, nil},
		{"libGDX: a font that is not there, a character that no atlas has", []edit{{"mooring/core/src/main/java/skerry/mooring/A.java", "", "Object a = Gdx.files.internal(\"fonts/Nowhere.ttf\");\nString b = \"\\u5ca9\"; // \"\u5ca9\"\n"}},
			[]string{"unknown-font-resource mooring/core/src/main/java/skerry/mooring/A.java:1:32", "character-not-in-atlas mooring/core/src/main/java/skerry/mooring/A.java:2:13"}},
		{"near: libGDX that is right", []edit{{"mooring/core/src/main/java/skerry/mooring/A.java", "", "Object a = Gdx.files.internal(\"fonts/SkerrySans-Bold.ttf\");\nString b = \"F\u00e4den\";\n"}}, nil},
		{"p5.js: too early, a role and a font that are not there", []edit{{"waves/a.js", "", "let f = loadFont('fonts/Nowhere.ttf');\nAppType.headng.style();\ntextFont('SkerrySans-Bold');\nAppType.heading.style(); // AppType.load()\n"}, {"waves/sketch.js", "  AppType.load();\n", ""}, {"waves/sketch.js", "AppType.body.text", "text"}},
			[]string{"font-before-load waves/a.js:1:9", "unknown-font-resource waves/a.js:1:19", "unknown-role waves/a.js:2:9", "unknown-font-name waves/a.js:3:11", "font-before-load waves/a.js:4:9"}},
		{"near: p5.js that is right", []edit{{"waves/lib/p5.min.js", "", "function setup() { loadFont('fonts/Nowhere.ttf'); } AppType.headng.style();\n"}, {"waves/a.js", "", "let f;\nfunction preload() { AppType.load(); f = loadFont('fonts/SkerrySans-Bold.ttf'); }\nfunction setup() { textFont('Georgia'); textFont(f); }\nfunction draw() { AppType.heading.style(); }\n"}}, nil},
		{"LÖVE, pygame, SDL: fonts and roles that are not there", []edit{{"stow/a.lua", "", "local a = love.graphics.newFont('fonts/Nowhere.ttf', 28) -- newFont('x.ttf')\napptype.haeding:draw('a', 1, 2)\n"},
			{"lamps/a.py", "", "a = pygame.font.Font('fonts/Nowhere.ttf', 28)  # Font('x.ttf')\napp_type.HAEDING.draw(a, 'b', (1, 2))\n"}, {"sonar/a.c", "", "TTF_OpenFont(\"Nowhere.ttf\", 28); /* TTF_OpenFont(\"x.ttf\", 1) */\nx(APP_TYPE_HAEDING);\n"}},
			[]string{"unknown-font-resource stow/a.lua:1:34", "unknown-role stow/a.lua:2:9", "unknown-font-resource lamps/a.py:1:23", "unknown-role lamps/a.py:2:10", "unknown-font-resource sonar/a.c:1:15", "unknown-role sonar/a.c:2:12"}},
		{"near: LÖVE, pygame, SDL that are right", []edit{{"stow/a.lua", "", "love.graphics.newFont('apptype/fonts/SkerrySans-Bold.ttf', 28)\napptype.heading:draw('a', 1, 2)\n"},
			{"lamps/a.py", "", "pygame.font.Font(None, 28)\napp_type.HEADING.draw(a, 'b', (1, 2))\n"}, {"sonar/a.c", "", "TTF_OpenFont(path, 28);\nx(APP_TYPE_HEADING, APP_TYPE_ROLES);\n"}}, nil},
		{"displays: roles that are not there, characters that no role has", []edit{{"gate/main/a.c", "", "x(APP_TYPE_HAEDING); /* APP_TYPE_HAEDING */\nlv_label_set_text(a, \"\u5ca9\");\n"}, {"jetty/src/a.cpp", "", "board.setFont(APP_TYPE_BODDY);\nboard.drawUTF8(1, 2, \"\\u5ca9\");\n"},
			{"watch/a.js", "", "g.setFontHeadng();\ng.drawString(\"\u5ca9\", 1, 2); // g.setFontHeadng()\n"}},
			[]string{"unknown-role gate/main/a.c:1:12", "unknown-role jetty/src/a.cpp:1:24", "unknown-role watch/a.js:1:10", "character-not-in-atlas watch/a.js:2:15", "character-not-in-atlas jetty/src/a.cpp:2:23", "character-not-in-atlas gate/main/a.c:2:23"}},
		{"Web: two declarations without a space", []edit{{"web/css/new.css", "", ".x{font-family:SkerrySans-Bold;font-family:SkerrySans-Regular;--own-font-family:SkerrySans-Bold;}\n"}},
			[]string{"unknown-font-name web/css/new.css:1:16", "unknown-font-name web/css/new.css:1:44"}},
		{"near: displays that are right", []edit{{"gate/main/a.c", "", "x(APP_TYPE_HEADING, APP_TYPE_BODY_LINE, APP_TYPE_NOBODY_AT_ALL);\nlv_label_set_text(a, \"Faden\");\n"}, {"jetty/src/a.cpp", "", "board.setFont(APP_TYPE_BODY); board.drawStr(1, 2, \"07:40\");\nSerial.println(\"\\u5ca9\");\n"},
			{"watch/a.js", "", "g.setFontAlign(0, 0); g.setFontVector(20); g.setFontHeading(); g.drawString('a', 1, 2);\n"}, {"jetty/lib/U8g2/src/a.c", "", "x(APP_TYPE_BODDY);\n"}}, nil},
		{"no role and no face is used", []edit{{"web/index.html", " class=\"type-body\"", ""}, {"deckgame/lib/main.dart", "style: AppType.body", "// style: AppType.body\n"}}, []string{"role-not-used web/css/app-type.css", "role-not-used deckgame/lib/app_type.dart"}},
		{"an app that is gone", []edit{{"deckgame/pubspec.yaml", "", ""}, {"web/note.txt", "", "another app is there"}}, []string{"app-gone deckgame"}},
		{"on Android alone", []edit{{"fleet/android/app/src/main/assets/fonts/Capstan.ttf", "", "no font"}}, []string{"font-on-one-platform fleet/android/app/src/main/assets/fonts/Capstan.ttf"}},
		{"a resource with a hyphen", []edit{{"android/app/src/main/res/font/Skerry-Extra.ttf", "", "no font"}}, []string{"file-name-refused android/app/src/main/res/font/Skerry-Extra.ttf"}},
		{"two resources of one name", []edit{{"android/app/src/main/res/font/skerry_sans_bold.otf", "", "no font"}}, []string{"two-files-of-one-name android/app/src/main/res/font/skerry_sans_bold.ttf"}},
		{"one name in two source sets", []edit{{"android/app/src/debug/res/font/skerry_sans_bold.ttf", "", "no font"}}, nil},
		{"a native part from before", []edit{{"kiosk/android/app/build.gradle", "", "// com.facebook.react"}, {"kiosk/android/app/src/main/assets/fonts/SkerrySans-Bold.ttf", "", "x"}},
			[]string{"made-before-the-fonts kiosk/android"}},
		{"a native part that has the fonts", []edit{{"kiosk/android/app/build.gradle", "", "// com.facebook.react"}, {"kiosk/android/app/src/main/res/font/skerrysans_bold.ttf", "", "x"},
			{"kiosk/android/app/src/main/res/font/skerrysans_regular.ttf", "", "x"}}, nil},
		{"a pipe in the place of code", []edit{{"kiosk/p.js", "", "|"}}, []string{"code-not-read kiosk/p.js"}},
		{"a pipe in the place of a manifest", []edit{{"deckgame/pubspec.yaml", "", ""}, {"deckgame/pubspec.yaml", "", "|"}}, []string{"app-not-served deckgame/pubspec.yaml"}},
		{"an app's folder that is a link", []edit{{"deckgame", "", "->"}}, []string{"app-not-served deckgame"}},
		{"an app that cannot be read", []edit{{"deckgame/pubspec.yaml", "flutter:\n\n", "flutter:\n\t- x\n"}}, []string{"app-not-served deckgame/pubspec.yaml:18"}},
	}
	outer := t
	for _, tt := range tests {
		t.Run(tt.name, func(t *testing.T) {
			dir := filepath.Join(t.TempDir(), "skerry")
			apps := appsOf(tt.edits)
			key := strings.Join(apps, " ")
			if bases[key] == "" {
				bases[key] = registered(outer, apps...)
			}
			require.NoError(t, os.CopyFS(dir, os.DirFS(bases[key])))
			for _, e := range tt.edits {
				change(t, filepath.Join(dir, filepath.FromSlash(e.file)), e)
			}
			p, err := notary.Look(dir, all.Platforms)
			require.NoError(t, err)
			plan, err := p.Plan(context.Background(), all.Platforms)
			require.NoError(t, err)
			found, err := audit.Check(context.Background(), p, plan)
			require.NoError(t, err)
			var got []string
			for _, f := range slices.Backward(found) { // edits move what is behind them
				at := f.File
				if f.Line > 0 {
					at = fmt.Sprintf("%s:%d", at, f.Line)
				}
				if f.Column > 0 {
					at = fmt.Sprintf("%s:%d", at, f.Column)
				}
				got = append(got, f.Rule+" "+at)
				require.NotEmpty(t, f.Severity)
				require.NotEmpty(t, f.Cure)
				require.NotEmpty(t, f.Target)
				mends(t, dir, f)
			}
			require.ElementsMatch(t, tt.found, got)
		})
	}
}

// appsOf are the apps of the sample that edits touch; none for all.
func appsOf(edits []edit) (apps []string) {
	for _, e := range edits {
		app, _, _ := strings.Cut(e.file, "/")
		if _, err := os.Stat(filepath.Join("../skerry/sample", app)); err == nil && !slices.Contains(apps, app) {
			apps = append(apps, app)
		}
	}
	slices.Sort(apps)
	return apps
}

// change makes an edit of a tree.
func change(t *testing.T, name string, e edit) {
	switch {
	case e.text == "|":
		require.NoError(t, syscall.Mkfifo(name, 0o644))
	case e.text == "->":
		require.NoError(t, os.Rename(name, name+"-there"))
		require.NoError(t, os.Symlink(filepath.Base(name)+"-there", name))
	case e.old == "" && e.text == "":
		require.NoError(t, os.Remove(name))
	case e.old == "":
		require.NoError(t, os.MkdirAll(filepath.Dir(name), 0o755))
		require.NoError(t, os.WriteFile(name, []byte(e.text), 0o644))
	default:
		b, err := os.ReadFile(name)
		require.NoError(t, err)
		out := strings.Replace(string(b), e.old, e.text, 1)
		if strings.HasPrefix(e.old, "(?") {
			out = regexp.MustCompile(e.old).ReplaceAllString(string(b), e.text)
		}
		require.NotEqual(t, string(b), out, "the edit of the test hits nothing")
		require.NoError(t, os.WriteFile(name, []byte(out), 0o644))
	}
}

// mends makes sure that the edits of a finding leave nothing of it.
func mends(t *testing.T, dir string, f audit.Finding) {
	if len(f.Edits) == 0 {
		return
	}
	for _, e := range slices.Backward(f.Edits) {
		name := filepath.Join(dir, filepath.FromSlash(e.File))
		b, err := os.ReadFile(name)
		require.NoError(t, err)
		require.NoError(t, os.WriteFile(name, []byte(string(b[:e.From])+e.Text+string(b[e.To:])), 0o644))
	}
	p, err := notary.Look(dir, all.Platforms)
	require.NoError(t, err)
	plan, err := p.Plan(context.Background(), all.Platforms)
	require.NoError(t, err)
	found, err := audit.Check(context.Background(), p, plan)
	require.NoError(t, err)
	for _, other := range found {
		require.False(t, other.Rule == f.Rule && other.File == f.File && other.Line == f.Line && other.Column == f.Column, "%s is still there", f.Message)
	}
}

// No rule is without a text, and each is in the table above, or in the corpus.
func TestEveryRuleIsExplained(t *testing.T) {
	src, err := os.ReadFile("rules_test.go")
	require.NoError(t, err)
	corpus, err := filepath.Glob("../../tests/corpus/*.txtar")
	require.NoError(t, err)
	for _, f := range corpus {
		b, err := os.ReadFile(f)
		require.NoError(t, err)
		src = append(src, regexp.MustCompile(`(?m)^broken .*`).ReplaceAllFunc(b, func(line []byte) []byte {
			return []byte(strings.ReplaceAll(strings.ReplaceAll(string(line), ": ", ` "`), ", ", ` "`))
		})...)
	}
	upgrade, err := os.ReadFile("../../tests/script/upgrade-release.txtar") // a rule about versions needs two
	require.NoError(t, err)
	src = append(src, bytes.ReplaceAll(upgrade, []byte("stdout '"), []byte(`"`))...)
	built, err := os.ReadFile("../../internal/platform/web/built_test.go") // three are about what a build put out
	require.NoError(t, err)
	for id, kind := range map[string]platform.FlawKind{audit.FontBroken: platform.Broken, audit.FontHeavier: platform.Heavier, audit.PreloadWasted: platform.Wasted} {
		if bytes.Contains(built, []byte(kind)) {
			src = append(src, `"`+id+"'"...)
		}
	}
	seen := map[string]bool{}
	for _, r := range audit.Rules {
		require.NotEmpty(t, r.What)
		require.NotEmpty(t, r.Why)
		require.Contains(t, audit.Severities, r.Severity)
		require.False(t, seen[r.ID])
		seen[r.ID] = true
		require.True(t, strings.Contains(string(src), `"`+r.ID+" ") || strings.Contains(string(src), `"`+r.ID+"'"), "no hit of %s", r.ID)
	}
}
