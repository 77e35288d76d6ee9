package consumers

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/skerry/letters"
)

// drawn writes the demo's fonts and returns their paths, in the order of Styles.
func drawn(t *testing.T) []string {
	t.Helper()
	dir := t.TempDir()
	var out []string
	for _, st := range letters.Styles {
		b, err := letters.Font(st)
		require.NoError(t, err)
		name := filepath.Join(dir, st.PostScript()+".ttf")
		require.NoError(t, os.WriteFile(name, b, 0o644))
		out = append(out, name)
	}
	return out
}

func TestDrawnFontsAreValid(t *testing.T) {
	t.Parallel()
	need(t, "ots-sanitize")
	for _, f := range drawn(t) {
		require.Contains(t, ask(t, ".", "ots-sanitize", f, os.DevNull), "successfully")
	}
	cuts, err := letters.Capstan()
	require.NoError(t, err)
	require.Len(t, cuts, 2)
	for style, b := range cuts {
		name := filepath.Join(t.TempDir(), style+".ttf")
		write(t, name, string(b))
		require.Contains(t, ask(t, ".", "ots-sanitize", name, os.DevNull), "successfully")
	}
}

func TestFontconfigNamesDrawnFonts(t *testing.T) {
	t.Parallel()
	need(t, "fc-scan")
	want := []string{
		"Skerry Sans,Skerry Sans Light|Light,Regular|Skerry Sans Light|SkerrySans-Light|50|0",
		"Skerry Sans|Regular|Skerry Sans Regular|SkerrySans-Regular|80|0",
		"Skerry Sans|Bold|Skerry Sans Bold|SkerrySans-Bold|200|0",
		"Skerry Sans|Italic|Skerry Sans Italic|SkerrySans-Italic|80|100",
	}
	for i, f := range drawn(t) {
		require.Equal(t, want[i], ask(t, ".", "fc-scan", "-f", "%{family}|%{style}|%{fullname}|%{postscriptname}|%{weight}|%{slant}", f))
	}
}

func TestFreeTypeNamesDrawnFonts(t *testing.T) {
	t.Parallel()
	need(t, "gcc", "pkg-config", "/usr/include/freetype2/ft2build.h")
	program := filepath.Join(t.TempDir(), "names")
	flags := strings.Fields(ask(t, ".", "pkg-config", "--cflags", "--libs", "freetype2"))
	ask(t, ".", "gcc", append([]string{"-std=c99", "-Wall", "-Wextra", "-Werror", "testdata/c/names.c", "-o", program}, flags...)...)
	var want string
	for _, st := range letters.Styles {
		want += fmt.Sprintf("%s|%s|%s|0\n", letters.Family, st.Name, st.PostScript())
	}
	require.Equal(t, want, ask(t, ".", program, drawn(t)...))
}

// Java answers to the legacy names alone.
func TestJavaNamesDrawnFonts(t *testing.T) {
	t.Parallel()
	need(t, "java", "javac")
	classes := t.TempDir()
	ask(t, ".", "javac", "-d", classes, "testdata/java/Names.java")
	want := "Skerry Sans Light|Skerry Sans Light|SkerrySans-Light\nSkerry Sans|Skerry Sans Regular|SkerrySans-Regular\n" +
		"Skerry Sans|Skerry Sans Bold|SkerrySans-Bold\nSkerry Sans|Skerry Sans Italic|SkerrySans-Italic\n"
	require.Equal(t, want, ask(t, ".", "java", append([]string{"-Djava.awt.headless=true", "-cp", classes, "Names"}, drawn(t)...)...))
}

// Kerning reaches the shaper: the pair is closer than the sum of its letters.
func TestShaperKernsDrawnFonts(t *testing.T) {
	t.Parallel()
	need(t, "hb-shape")
	for _, f := range drawn(t) {
		kerned := ask(t, ".", "hb-shape", "--no-glyph-names", "--no-clusters", f, "AV")
		plain := ask(t, ".", "hb-shape", "--no-glyph-names", "--no-clusters", "--features=-kern", f, "AV")
		require.NotEqual(t, plain, kerned)
		require.NotContains(t, kerned, "[0", "no letter is missing")
	}
}
