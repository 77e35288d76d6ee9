package consumers

import (
	"os"
	"path/filepath"
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
