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

var roleFunction = regexp.MustCompile(`(?m)^QFont (\w+)\(\);$`)

// qtRuns builds the chart table with CMake, its program exchanged for one that prints what
// Qt makes of each role, and runs it.
func qtRuns(t *testing.T, chart string) string {
	t.Helper()
	need(t, "cmake", "g++", "/usr/lib/qt6/libexec/rcc", "/usr/include/x86_64-linux-gnu/qt6/QtQml/QQmlEngine")
	copied := filepath.Join(t.TempDir(), "chart")
	require.NoError(t, os.CopyFS(copied, os.DirFS(chart)))
	var roles string
	for _, m := range roleFunction.FindAllStringSubmatch(readFile(t, filepath.Join(copied, "apptype/apptype.h")), -1) {
		roles += "ROLE(" + m[1] + ")\n"
	}
	write(t, filepath.Join(copied, "roles.inc"), roles)
	write(t, filepath.Join(copied, "main.cpp"), readFile(t, "testdata/qt/judge.cpp"))
	build := filepath.Join(t.TempDir(), "build")
	ask(t, ".", "cmake", "-S", copied, "-B", build, "-DCMAKE_CXX_FLAGS=-Wall -Wextra -Werror -I"+copied)
	ask(t, ".", "cmake", "--build", build)
	setenv(t, "QT_QPA_PLATFORM", "offscreen")
	return ask(t, ".", filepath.Join(build, "chart"))
}

func TestQtMatchesEveryRole(t *testing.T) {
	t.Parallel()
	dir := dressed(t)
	chart := filepath.Join(dir, "chart")
	out := qtRuns(t, chart)
	require.Contains(t, out, "failed: \n")
	require.Contains(t, out, "loaded 1\n")
	listed(t, out, "SkerrySans-Regular", "SkerrySans-Bold", "SkerrySans-Italic")
	require.Contains(t, out, "QML Faces of this app:\n  there   SkerrySans-")
	for _, where := range []string{"C++", "QML"} { // Qt keeps spacing in 64ths of a pixel
		for _, want := range []string{"heading %s Skerry Sans / Bold / 700 / 0 / 28 / 0.265625 exact\n", "body %s Skerry Sans / Regular / 400 / 0 / 17 / 0 exact\n", "copyNew %s Skerry Sans / Italic / 400 / 1 / 12 / -0.046875 exact\n"} {
			require.Contains(t, out, fmt.Sprintf(want, where))
		}
	}
	require.Contains(t, out, "headingLine 34\nheadingColour #0b3d5c\n")

	// A font that is not there, or another in its place, is said.
	fonts := filepath.Join(chart, "apptype/fonts")
	require.NoError(t, os.Rename(filepath.Join(dir, "pier/src/main/resources/app-type.css"), filepath.Join(fonts, "SkerrySans-Bold.ttf")))
	out = qtRuns(t, chart)
	require.Contains(t, out, "AppType: expected the family Skerry Sans in :/app-type/fonts/SkerrySans-Bold.ttf, found no font that Qt can load; run: notaria register")
	require.Contains(t, out, "failed: :/app-type/fonts/SkerrySans-Bold.ttf\n")
	require.Contains(t, out, "loaded 0\n")
	listed(t, out, "SkerrySans-Regular", "-SkerrySans-Bold", "SkerrySans-Italic")
	require.Equal(t, 2, strings.Count(out, "  MISSING SkerrySans-Bold\n"), "in C++ and in QML")
	require.NotContains(t, out, "heading C++ Skerry Sans / Bold")
}

// hostileQt builds and runs both languages with names of all kinds.
func hostileQt(t *testing.T, dir string) {
	t.Helper()
	out := qtRuns(t, filepath.Join(dir, "chart"))
	require.Contains(t, out, "failed: \n")
	for i, name := range hostile {
		name = strings.NewReplacer("\n", "~", "\t", "^").Replace(name)
		for _, where := range []string{"C++", "QML"} {
			require.Contains(t, out, fmt.Sprintf("role%d %s %s / ", i, where, name))
		}
	}
}
