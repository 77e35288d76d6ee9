package consumers

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/rogpeppe/go-internal/txtar"
	"github.com/stretchr/testify/require"

	"notaria/internal/skerry"
)

// TestSitesAreBuilt registers sites as programs make them, builds them with the real program, and asks the browser for the
// font of each role on the page that came out.
func TestSitesAreBuilt(t *testing.T) {
	t.Parallel()
	all, err := txtar.ParseFile("testdata/sites.txtar")
	require.NoError(t, err)
	type command []string
	for _, tt := range []struct {
		kind, out string // the page that is built, and what is served with it
		needs     []string
		build     []command
	}{
		{"hugo", "out", []string{"hugo"}, []command{{"hugo", "-d", "out"}}},
		{"jekyll", "out", []string{"jekyll"}, []command{{"jekyll", "build", "-d", "out"}}},
		{"django", "out", []string{"django-admin"}, []command{{"/usr/bin/python3", "manage.py", "collectstatic", "--noinput"}, {"/usr/bin/python3", "page.py"}}},
		{"mkdocs", "out", []string{"mkdocs"}, []command{{"mkdocs", "build", "-q"}}},
		{"php", ".", []string{"php"}, []command{{"sh", "-c", "php index.php > index.html"}}},
	} {
		t.Run(tt.kind, func(t *testing.T) {
			t.Parallel()
			need(t, tt.needs...)
			dir := t.TempDir()
			for _, f := range all.Files {
				if rel, ok := strings.CutPrefix(f.Name, tt.kind+"/"); ok {
					write(t, filepath.Join(dir, rel), string(f.Data))
				}
			}
			before := contents(t, dir)
			raw, err := skerry.Archive()
			require.NoError(t, err)
			fonts := filepath.Join(t.TempDir(), "type.zip")
			write(t, fonts, string(raw))
			notaria(t, 0, dir, "enrol", fonts, "--styles", "regular,bold")
			notaria(t, 0, dir, "register")
			require.Contains(t, notaria(t, 0, dir, "register"), "Nothing to do")
			for _, c := range tt.build {
				ask(t, dir, c[0], c[1:]...)
			}
			got, rest := browse(t, filepath.Join(dir, tt.out), "index.html", "early", "type-heading", "type-body")
			require.NotContains(t, rest, "problem")
			require.NotContains(t, rest, "failed")
			require.Equal(t, "SkerrySans-Bold", got["type-heading"].font)
			require.Equal(t, "SkerrySans-Regular", got["type-body"].font)
			require.True(t, got["type-heading"].custom && got["type-body"].custom)
			for _, made := range []string{"out", "index.html", "resources", ".jekyll-cache", ".hugo_build.lock", "board/__pycache__", "skerry/__pycache__"} {
				if made != "index.html" || tt.kind == "php" {
					require.NoError(t, os.RemoveAll(filepath.Join(dir, made)))
				}
			}
			notaria(t, 0, dir, "strike", "--all")
			require.Equal(t, before, contents(t, dir))
		})
	}
}
