package consumers

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// flexReads reads what an application has with strict readers: each declaration of its
// style sheet, and what its class says.
func flexReads(t *testing.T, src string) (sheet, class string) {
	t.Helper()
	npmHome(t)
	need(t, "python3", "xmllint")
	require.Empty(t, ask(t, ".", "xmllint", "--nonet", "--noout", filepath.Join(src, "Kiosk.mxml")))
	return ask(t, ".", "node", "npm/css.mjs", filepath.Join(src, "app-type.css")), ask(t, ".", "python3", "testdata/action.py", filepath.Join(src, "AppType.as"))
}

func TestFlexIsReadStrictly(t *testing.T) {
	t.Parallel()
	dir := dressed(t)
	src := filepath.Join(dir, "heritage/src")
	sheet, class := flexReads(t, src)
	for _, want := range []string{"@font-face 1 src assets/fonts/SkerrySans-Bold.ttf", "@font-face 1 fontFamily Skerry Sans", "@font-face 1 fontWeight bold", "@font-face 1 embedAsCFF true",
		"@font-face 2 fontStyle italic", ".typeHeading fontFamily Skerry Sans", ".typeHeading fontWeight bold", ".typeHeading fontSize 28", ".typeHeading fontLookup embeddedCFF",
		".typeHeading lineHeight 34", ".typeHeading trackingRight .28", ".typeHeading color #0B3D5C", ".typeCopyNew fontStyle italic", ".typeCopyNew fontSize 11.5", ".typeBody fontWeight normal"} {
		require.Contains(t, strings.ReplaceAll(sheet, " 0.", " ."), want+"\n")
	}
	const lists = "Faces of this app:\nlists Skerry Sans regular '\\n  there   ' '\\n  MISSING ' SkerrySans-Regular\nlists Skerry Sans bold '\\n  there   ' '\\n  MISSING ' SkerrySans-Bold\nlists Skerry Sans italic '\\n  there   ' '\\n  MISSING ' SkerrySans-Italic\n"
	require.Equal(t, "BODY typeBody\nCOPY_NEW typeCopyNew\nHEADING typeHeading\n"+lists, class)
	for _, f := range []string{"SkerrySans-Bold.ttf", "SkerrySans-Regular.ttf", "SkerrySans-Italic.ttf"} {
		info, err := os.Stat(filepath.Join(src, "assets/fonts", f))
		require.NoError(t, err)
		require.Contains(t, readFile(t, filepath.Join(src, "app-type.css")), fmt.Sprintf(" characters, at most %d bytes of the application", info.Size()))
	}
	require.Equal(t, " source=\"kiosk.css\"\n source=\"app-type.css\"\n", ask(t, ".", "xmllint", "--xpath", "/*/*[namespace-uri()='http://ns.adobe.com/mxml/2009' and local-name()='Style']/@source", filepath.Join(src, "Kiosk.mxml")))

	// Metadata instead of a style sheet, and some characters only.
	toml := filepath.Join(dir, "notaria.toml")
	before := readFile(t, toml)
	write(t, toml, before+"\n[target.flex]\nembed = \"metadata\"\nunicode-range = [\"U+0041-005A\", \"U+0061-007A\", \"U+0030\"]\n")
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "check")
	sheet, class = flexReads(t, src)
	require.NotContains(t, sheet, "@font-face")
	for _, want := range []string{"skerrySansBold source assets/fonts/SkerrySans-Bold.ttf", "skerrySansBold fontFamily Skerry Sans", "skerrySansBold fontWeight bold", "skerrySansBold mimeType application/x-font",
		"skerrySansBold embedAsCFF true", "skerrySansBold unicodeRange U+0041-005A, U+0061-007A, U+0030", "skerrySansItalic fontStyle italic", "registers skerrySansRegular", "HEADING typeHeading"} {
		require.Contains(t, class, want+"\n")
	}
	require.Contains(t, readFile(t, filepath.Join(src, "AppType.as")), ": 53 of ")
	write(t, toml, before+"\n[target.flex]\nunicode-range = [\"A-Z\"]\n")
	require.Contains(t, notaria(t, 1, dir, "check"), "expected ranges such as U+0020-007E for unicode-range")

	// Flex 3: other components, and other names for the same things.
	write(t, toml, before)
	app := filepath.Join(src, "Kiosk.mxml")
	write(t, app, "<?xml version=\"1.0\"?>\n<mx:Application xmlns:mx=\"http://www.adobe.com/2006/mxml\">\n\t<mx:Label text=\"07:40 Holm\"/>\n</mx:Application>\n")
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "check")
	require.Contains(t, readFile(t, app), "\t<mx:Label text=\"07:40 Holm\"/>\n\t<mx:Style source=\"app-type.css\" />\n</mx:Application>")
	sheet, _ = flexReads(t, src)
	require.NotContains(t, sheet, "CFF")
	require.Contains(t, strings.ReplaceAll(sheet, " 0.", " ."), ".typeHeading leading .4\n.typeHeading letterSpacing .28\n")
}

// hostileFlex reads what both ways of embedding make of the names, which are Flex's own
// choice where a font's is not plain.
func hostileFlex(t *testing.T, dir string) {
	t.Helper()
	sheet, _ := flexReads(t, filepath.Join(dir, "heritage/src"))
	require.Equal(t, len(hostile), strings.Count(sheet, " embedAsCFF true\n"))
	seen := map[string]bool{}
	for _, l := range strings.Split(sheet, "\n") {
		if _, name, ok := strings.Cut(l, " fontFamily "); ok && strings.HasPrefix(l, "@") {
			require.False(t, seen[name], name)
			seen[name] = true
			require.Regexp(t, `^[\w. -]+$`, name)
		}
	}
	toml := filepath.Join(dir, "notaria.toml")
	before := readFile(t, toml)
	write(t, toml, before+"\n[target.flex]\nembed = \"metadata\"\n")
	notaria(t, 0, dir, "register", "--only", "flex")
	_, class := flexReads(t, filepath.Join(dir, "heritage/src"))
	require.Equal(t, len(hostile), strings.Count(class, "registers "))
	write(t, toml, before)
	notaria(t, 0, dir, "register", "--only", "flex")
}
