package consumers

import (
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

var pangoFunction = regexp.MustCompile(`(?m)^PangoFontDescription \*app_type_(\w+) \(void\);$`)

// alone has a test's consumers see the fonts of one package alone.
func alone(t *testing.T) {
	t.Helper()
	fonts := filepath.Join(t.TempDir(), "fonts.conf")
	write(t, fonts, fmt.Sprintf("<fontconfig><dir>%s</dir><cachedir>%s</cachedir></fontconfig>", filepath.Dir(realFont(t, "LiberationSans-Regular.ttf")), t.TempDir()))
	setenv(t, "FONTCONFIG_FILE", fonts)
}

// pangoRuns compiles the lamp room's loader with a program that prints what Pango makes of
// each role.
func pangoRuns(t *testing.T, beacon string) string {
	t.Helper()
	need(t, "gcc", "pkg-config", "/usr/include/pango-1.0/pango/pangofc-font.h", "/usr/include/fontconfig/fontconfig.h")
	alone(t)
	folder := filepath.Join(beacon, "apptype")
	var roles string
	for _, m := range pangoFunction.FindAllStringSubmatch(readFile(t, filepath.Join(folder, "apptype.h")), -1) {
		roles += "ROLE(" + m[1] + ")\n"
	}
	include := t.TempDir()
	write(t, filepath.Join(include, "roles.inc"), roles)
	program := filepath.Join(t.TempDir(), "beacon")
	args := []string{"-std=c99", "-Wall", "-Wextra", "-Werror", "-I", folder, "-I", include, filepath.Join(folder, "apptype.c"), "testdata/gtk/judge.c", "-o", program}
	require.Empty(t, ask(t, ".", "gcc", append(args, strings.Fields(ask(t, ".", "pkg-config", "--cflags", "--libs", "pangocairo", "pangoft2", "fontconfig"))...)...))
	return ask(t, ".", program, filepath.Join(folder, "fonts"))
}

// gtkRuns has Python print what Pango and, for classes, GTK make of the roles.
func gtkRuns(t *testing.T, tide string, classes ...string) string {
	t.Helper()
	need(t, "/usr/bin/python3", "xvfb-run", "/usr/lib/x86_64-linux-gnu/girepository-1.0/Gtk-4.0.typelib", "/usr/lib/python3/dist-packages/gi/__init__.py")
	alone(t)
	setenv(t, "GSK_RENDERER", "cairo")
	setenv(t, "GDK_BACKEND", "x11")
	args := []string{"-a", "/usr/bin/python3", "testdata/gtk/judge.py", tide}
	if len(classes) > 0 {
		args = append(args, strings.Join(classes, ","))
	}
	return ask(t, ".", "xvfb-run", args...)
}

func TestPangoResolvesEveryRole(t *testing.T) {
	t.Parallel()
	dir := dressed(t)
	beacon := filepath.Join(dir, "beacon")
	out := pangoRuns(t, beacon)
	for _, want := range []string{"body [SkerrySans-Regular] Skerry Sans / 400 / 0 / 17 {}\n", "heading [SkerrySans-Bold] Skerry Sans / 700 / 0 / 28 {", "copy_new [SkerrySans-Italic] Skerry Sans / 400 / 2 / 11.5 {"} {
		require.Contains(t, out, want)
	}
	listed(t, out, "SkerrySans-Regular", "SkerrySans-Bold", "SkerrySans-Italic")
	for _, want := range []string{"letter-spacing 286", "absolute-line-height 34816", "foreground #0b0b3d3d5c5c"} {
		require.Contains(t, out, want)
	}
	fonts := filepath.Join(beacon, "apptype/fonts")
	require.NoError(t, os.Rename(filepath.Join(fonts, "SkerrySans-Bold.ttf"), filepath.Join(fonts, "SkerrySans-Italic.ttf")))
	out = pangoRuns(t, beacon)
	require.Contains(t, out, "failed: expected the font SkerrySans-Bold in "+fonts+"/SkerrySans-Bold.ttf, found no such font; run: notaria register\n")
	listed(t, out, "SkerrySans-Regular", "-SkerrySans-Bold", "-SkerrySans-Italic") // it stopped at the first
	require.NoError(t, os.Rename(filepath.Join(fonts, "SkerrySans-Italic.ttf"), filepath.Join(fonts, "SkerrySans-Bold.ttf")))
	write(t, filepath.Join(fonts, "SkerrySans-Italic.ttf"), readFile(t, filepath.Join(fonts, "SkerrySans-Bold.ttf")))
	require.Contains(t, pangoRuns(t, beacon), "failed: expected the font SkerrySans-Italic in ")
}

func TestGtkShowsEveryRole(t *testing.T) {
	t.Parallel()
	dir := dressed(t)
	tide := filepath.Join(dir, "tide")
	out := gtkRuns(t, tide, "type-heading", "type-copy-new", "type-body")
	for _, want := range []string{"heading Skerry Sans / 700 / normal / 28.0\n", "copy_new Skerry Sans / 400 / italic / 11.5\n", "body Skerry Sans / 400 / normal / 17.0\n",
		"type-heading Skerry Sans / 700 / normal / 28.0 rgb(11,61,92)\n", "type-copy-new Skerry Sans / 400 / italic / 11.5 ", "type-body Skerry Sans / 400 / normal / 17.0 "} {
		require.Contains(t, out, want)
	}
	require.NotContains(t, out, "Theme parsing")
	listed(t, out, "SkerrySans-Regular", "SkerrySans-Bold", "SkerrySans-Italic")
	require.NoError(t, os.Remove(filepath.Join(tide, "apptype/fonts/SkerrySans-Bold.ttf")))
	require.Contains(t, gtkRuns(t, tide), "failed: expected the font SkerrySans-Bold in ")
}

// hostileGtk runs both loaders with names of all kinds.
func hostileGtk(t *testing.T, dir string) {
	t.Helper()
	c, python := pangoRuns(t, filepath.Join(dir, "beacon")), gtkRuns(t, filepath.Join(dir, "tide"))
	for i, name := range hostile {
		require.Contains(t, c, fmt.Sprintf("] %s / ", name))
		require.Contains(t, python, fmt.Sprintf("role_%d %s / ", i, strings.NewReplacer("\n", "~", "\t", "^").Replace(name)))
	}
}
