package consumers

import (
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/skerry"
)

var askedFor = regexp.MustCompile(`(?m)^asked .*/([^/\n]+)$`)

// A face in several files shows texts as the one file does, pixel by pixel, and a browser loads those files alone that a text needs.
func TestSlicesShowAsOneFile(t *testing.T) {
	t.Parallel()
	need(t, "/usr/bin/chromium")
	whole, sliced, own := filepath.Join(t.TempDir(), "skerry"), filepath.Join(t.TempDir(), "skerry"), filepath.Join(t.TempDir(), "skerry")
	for dir, option := range map[string]string{whole: "none", sliced: "scripts", own: "text"} {
		require.NoError(t, skerry.Place(dir, "web"))
		site := filepath.Join(dir, "web")
		write(t, filepath.Join(site, "greek.html"), "<html><head><title>Το πλοίο</title></head><body class=\"type-body\">Το πλοίο φεύγει από την προβλήτα στις επτά και σαράντα και σταματά σε κάθε νησί</body></html>\n")
		notaria(t, 0, site, "enrol", realFont(t, "DejaVuSans.ttf"), "--role", "body")
		toml := filepath.Join(site, "notaria.toml")
		write(t, toml, readFile(t, toml)+"\n[target.web]\nslices = \""+option+"\"\n")
		notaria(t, 0, site, "register")
		notaria(t, 0, site, "register", "--dry-run")
	}
	look := func(dir, script string) (shown, []string, string) {
		picture := filepath.Join(t.TempDir(), "page.png")
		got, rest := browseTo(t, filepath.Join(dir, "web"), "index.html", "early/"+script, picture, "type-body")
		require.NotContains(t, rest, "problem")
		require.NotContains(t, rest, "failed")
		var files []string
		for _, m := range askedFor.FindAllStringSubmatch(rest, -1) {
			files = append(files, strings.TrimSuffix(strings.TrimPrefix(m[1], "DejaVuSans."), ".woff2"))
		}
		slices.Sort(files)
		return got["type-body"], files, readFile(t, picture)
	}
	for script, want := range map[string][]string{"latin": {"latin"}, "cyrillic": {"cyrillic", "latin"}, "greek": {"greek", "latin"}, "arabic": {"arabic", "latin"}, "hebrew": {"hebrew", "latin"}, "marks": nil} {
		before, _, picture := look(whole, script)
		after, files, same := look(sliced, script)
		require.Equal(t, before, after, script)
		if want != nil { // where a line is of several files, edges can be greyer by a shade: each run begins at a place of its own
			require.True(t, picture == same, "%s: other pixels", script)
			require.Equal(t, want, files, script)
		}
	}
	before, _, _ := look(whole, "greek")
	after, files, _ := look(own, "greek")
	require.Equal(t, before, after)
	require.Equal(t, []string{"own"}, files, "the site's own text is in the first file")
}
