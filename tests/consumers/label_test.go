package consumers

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// A label is taken by Android's resource compilers, beside the credits as a resource; as SVG it is well
// formed; and a settings bundle's page is read by a strict reader.
func TestLabelsAndCreditsAreTaken(t *testing.T) {
	t.Parallel()
	need(t, "xmllint", "plparse")
	dir := registered(t)
	res := filepath.Join(dir, "android/app/src/main/res")
	notaria(t, 0, dir, "label", "heading", "--text", "Skerry & Ferries", "--out", filepath.Join(res, "drawable/skerry_name.xml"))
	notaria(t, 0, dir, "credits", "--as", "android", "--out", filepath.Join(res, "values/type_credits.xml"))
	for _, r := range compileResources(t, filepath.Join(dir, "android/app"), res) {
		b, err := os.ReadFile(r)
		require.NoError(t, err)
		require.Regexp(t, `public static final int skerry_name\s*=`, string(b))
		require.Regexp(t, `public static final int type_credits\s*=`, string(b))
	}
	svg := filepath.Join(t.TempDir(), "name.svg")
	notaria(t, 0, dir, "label", "heading", "--text", "Skerry & Ferries", "--out", svg)
	require.Equal(t, "Skerry & Ferries\n", ask(t, ".", "xmllint", "--nonet", "--xpath", "string(//*[local-name()='title'])", svg))
	page := filepath.Join(t.TempDir(), "Fonts.plist")
	notaria(t, 0, dir, "credits", "--as", "apple", "--out", page)
	ask(t, ".", "plparse", page)
}

// Credits come out of each platform's own resources as they went in, whatever the fonts say of themselves.
func TestCreditsComeBack(t *testing.T) {
	t.Parallel()
	npmHome(t)
	need(t, "mcs", "mono", "java", "node")
	dir := registered(t)
	write(t, filepath.Join(dir, "type/SkerrySans-Licence.txt"), "  Licence of \"Skerry\" & <sons>, 100 % 'free' \\\\ $5 \\u0041 ⛴\n\n\tUse = it : here! # not a comment\n    deep\n")
	out := t.TempDir()
	want := notaria(t, 0, dir, "credits")
	require.Contains(t, want, "⛴")
	for form, read := range map[string]func(file string) string{
		"java": func(file string) string {
			return ask(t, ".", "java", "testdata/credits/Properties.java", file, "type.credits")
		},
		"dotnet": func(file string) string {
			program := filepath.Join(out, "resources.exe")
			require.Empty(t, ask(t, ".", "mcs", "-warnaserror", "-r:System.Windows.Forms", "-out:"+program, "testdata/credits/Resources.cs"))
			return ask(t, ".", "mono", program, file, "TypeCredits")
		},
	} {
		file := filepath.Join(out, form)
		notaria(t, 0, dir, "credits", "--as", form, "--out", file)
		require.Equal(t, strings.TrimSpace(want), strings.TrimSpace(read(file)), form)
	}
	dart := filepath.Join(out, "type_licenses.dart")
	notaria(t, 0, dir, "credits", "--as", "flutter", "--out", dart)
	log, err := try(t, ".", "node", "npm/parse.mjs", "dart", dart)
	require.NoError(t, err, log)
	require.Contains(t, readFile(t, dart), `Licence of "Skerry" & <sons>, 100 % \'free\' \\\\ \$5 \\u0041 \u{26F4}\n'`)
}
