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

const mooringCore = "core/src/main/java/skerry/mooring"

// gdxRuns compiles the game's core with the enum, in its language, against a stand-in of
// libGDX that records what it is asked for, and runs it.
func gdxRuns(t *testing.T, mooring string) string {
	t.Helper()
	need(t, "javac", "java")
	classes := t.TempDir()
	var stubs []string
	require.NoError(t, filepath.WalkDir("testdata/gdx/com", func(p string, d os.DirEntry, err error) error {
		if err == nil && !d.IsDir() {
			stubs = append(stubs, p)
		}
		return err
	}))
	ask(t, ".", "javac", append([]string{"-d", classes}, stubs...)...)
	code := filepath.Join(mooring, mooringCore)
	path := classes
	if _, err := os.Stat(filepath.Join(code, "AppType.kt")); err == nil {
		need(t, "kotlinc")
		ask(t, ".", "kotlinc", "-cp", classes, "-d", classes, filepath.Join(code, "AppType.kt"))
		path += string(os.PathListSeparator) + "/usr/share/java/kotlin-stdlib.jar"
	} else {
		require.Empty(t, ask(t, ".", "javac", "-Xlint:all,-rawtypes", "-Werror", "-encoding", "UTF-8", "-cp", classes, "-d", classes, filepath.Join(code, "AppType.java"), filepath.Join(code, "Mooring.java")))
	}
	ask(t, ".", "javac", "-cp", path, "-d", classes, "testdata/gdx/Use.java")
	return ask(t, ".", "java", "-Dassets="+filepath.Join(mooring, "assets"), "-Dstdout.encoding=UTF-8", "-Dfile.encoding=UTF-8", "-cp", path, "Use")
}

func TestLibGDXAsksForEveryRole(t *testing.T) {
	t.Parallel()
	dir := dressed(t)
	mooring := filepath.Join(dir, "mooring")
	want := []string{
		"heading.apptype of fonts/SkerrySans-Bold.ttf: size 56 mono true colour 0b3d5cff border 1.0 ffffff80 shadow 2 -4 00000080 space 1 0 filters Nearest Nearest\n",
		"body.apptype of fonts/SkerrySans-Regular.ttf: size 34 mono false colour ffffffff border 0.0 000000ff shadow 0 0 000000c0 space 0 0 filters Nearest Nearest\n",
		"HEADING line 74.0 ascent 7.0 space 14.0 14\n", "BODY line 30.0 ascent 5.0 space 8.0 8\n", "COPY_NEW line 30.0",
		"AppType: the font of BODY is not loaded; call AppType.load(manager), then manager.finishLoading()", "desk 1.0\n",
	}
	out := gdxRuns(t, mooring)
	for _, w := range want {
		require.Contains(t, out, w)
	}
	require.Equal(t, 3, strings.Count(out, "disposed\n"))
	listed(t, out, "SkerrySans-Regular", "SkerrySans-Bold", "SkerrySans-Italic")
	require.Contains(t, out, "\u00e4") // stands escaped in the game's words

	// The same in Kotlin, where the game is written in it.
	require.NoError(t, os.Remove(filepath.Join(mooring, mooringCore, "Mooring.java")))
	write(t, filepath.Join(mooring, mooringCore, "Mooring.kt"), "package skerry.mooring\n\nimport com.badlogic.gdx.ApplicationAdapter\n\nclass Mooring : ApplicationAdapter()\n")
	notaria(t, 0, dir, "register")
	require.NoFileExists(t, filepath.Join(mooring, mooringCore, "AppType.java"))
	out = gdxRuns(t, mooring)
	for _, w := range want {
		require.Contains(t, out, w)
	}

	// A character that the face does not have; an escape counts, a comment does not.
	write(t, filepath.Join(mooring, mooringCore, "Mooring.kt"), "package skerry.mooring\n\nimport com.badlogic.gdx.ApplicationAdapter\n\n// \u5ca9\nclass Mooring : ApplicationAdapter() { val a = \"F\u00e4den \\u5ca9\" }\n")
	notaria(t, 0, dir, "register")
	found := notaria(t, 1, dir, "check")
	require.Contains(t, found, "Mooring.kt:6:49  character-not-in-atlas (warning)\n")
	require.Contains(t, found, "\n  no role's atlas has \u5ca9 (U+5CA9)\n")
}

// hostileGdx runs the enum with fonts of all names.
func hostileGdx(t *testing.T, dir string) {
	t.Helper()
	out := gdxRuns(t, filepath.Join(dir, "mooring"))
	for i, name := range hostile {
		require.Contains(t, out, fmt.Sprintf("role-%d.apptype of fonts/%s.ttf: size ", i, platform.FileBase(name)))
	}
}
