package consumers

import (
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/skerry"
)

// Roles at places of a variable font show these places: by static fonts where an app knows nothing of axes, whose names and weights
// the system reads, and whose outlines are those of the variable font there; by the variable font itself on a page.
func TestInstancesAreUsed(t *testing.T) {
	t.Parallel()
	need(t, "fc-scan", "hb-shape")
	dir := filepath.Join(t.TempDir(), "skerry")
	require.NoError(t, skerry.Place(dir, "beacon", "chart", "web", "deckgame"))
	notaria(t, 0, dir, "enrol", filepath.Join(dir, skerry.VariableArchiveName), "--role", "body")
	toml := filepath.Join(dir, "notaria.toml")
	write(t, toml, readFile(t, toml)+"\n[role.heading]\nface = \"SkerrySansVariable-Regular\"\nsize = 28\nweight = 650\n\n[role.title]\nface = \"SkerrySansVariable-Regular\"\nsize = 28\naxes = { wght = 700 }\n")
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "register", "--dry-run")

	fonts := filepath.Join(dir, "beacon/apptype/fonts")
	original := filepath.Join(dir, "type/SkerrySansVariable-Regular.ttf")
	for _, want := range []struct{ name, weight, place string }{{"wght400", "80", "wght=400"}, {"wght650", "190", "wght=650"}, {"Bold", "200", "wght=700"}} {
		file := filepath.Join(fonts, "SkerrySansVariable-"+want.name+".ttf")
		require.Equal(t, "Skerry Sans Variable|SkerrySansVariable-"+want.name+"|"+want.weight+"|False", strings.TrimSpace(ask(t, ".", "fc-scan", "-f", "%{family[0]}|%{postscriptname}|%{weight}|%{variable}\n", file)))
		shaped := []string{"--no-glyph-names", "--show-extents", "--text=AVATo 07:40 Häfen"}
		require.Equal(t, ask(t, ".", "hb-shape", append(shaped, "--variations="+want.place, original)...), ask(t, ".", "hb-shape", append(shaped, file)...), want.name)
	}

	out := pangoRuns(t, filepath.Join(dir, "beacon"))
	for _, want := range []string{"body [SkerrySansVariable-wght400] Skerry Sans Variable / 400 / 0 / 17 ", "heading [SkerrySansVariable-wght650] Skerry Sans Variable / 650 / 0 / 28 ", "title [SkerrySansVariable-Bold] Skerry Sans Variable / 700 / 0 / 28 "} {
		require.Contains(t, out, want)
	}
	listed(t, out, "SkerrySansVariable-wght400", "SkerrySansVariable-wght650", "SkerrySansVariable-Bold")
	out = qtRuns(t, filepath.Join(dir, "chart"))
	require.Contains(t, out, "loaded 1\n")
	for _, want := range []string{"heading C++ Skerry Sans Variable / wght650 / 700 / 0 / 28 / 0 exact\n", "title QML Skerry Sans Variable / Bold / 700 / 0 / 28 / 0 exact\n", "body C++ Skerry Sans Variable / Regular / 400 / 0 / 17 / 0 exact\n"} {
		require.Contains(t, out, want)
	}
	pubspec := readFile(t, filepath.Join(dir, "deckgame/pubspec.yaml"))
	require.Contains(t, pubspec, "    - family: Skerry Sans Variable wght650\n", "another face of the family has its weight in hundreds")

	got, _ := browse(t, filepath.Join(dir, "web"), "index.html", "fonts", "type-heading", "type-title", "type-body")
	require.True(t, got["type-heading"].custom && got["type-title"].custom && got["type-body"].custom)
	require.Contains(t, got["type-heading"].style, "28px|650|")
	require.Contains(t, got["type-title"].style, "28px|700|")
	require.Greater(t, got["type-title"].width, got["type-heading"].width)
}
