package consumers

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

const (
	fxHome   = "/usr/share/openjfx/lib"
	pierMain = "src/main/java/com/skerryferries/pier"
)

// fxCompile compiles the arrivals board as the module that it is, beside a class that
// prints what JavaFX makes of it; the compiler must have nothing to say. It returns the
// module's folder.
func fxCompile(t *testing.T, pier string) string {
	t.Helper()
	need(t, "javac", "java", "xvfb-run", fxHome+"/javafx.controls.jar")
	out := filepath.Join(t.TempDir(), "com.skerryferries.pier")
	info := filepath.Join(t.TempDir(), "module-info.java")
	// The judge takes pictures, too.
	write(t, info, strings.Replace(readFile(t, filepath.Join(pier, "src/main/java/module-info.java")), "    requires javafx.controls;", "    requires javafx.controls;\n    requires javafx.swing;\n    requires java.desktop;", 1))
	require.Empty(t, ask(t, ".", "javac", "-Xlint:all,-exports,-missing-explicit-ctor", "-Werror", "--module-path", fxHome, "-d", out, info,
		filepath.Join(pier, pierMain, "AppType.java"), filepath.Join(pier, pierMain, "ArrivalsBoard.java"), "testdata/javafx/Judge.java"))
	require.NoError(t, os.CopyFS(out, os.DirFS(filepath.Join(pier, "src/main/resources"))))
	return out
}

// fxRun runs the judge of a compiled module, or of a jar of it.
func fxRun(t *testing.T, module string, args ...string) string {
	t.Helper()
	return ask(t, ".", "xvfb-run", append([]string{"-a", "java", "-Dprism.order=sw", "-Dfile.encoding=ISO-8859-1", "--module-path", fxHome + ":" + module, "-m", "com.skerryferries.pier/com.skerryferries.pier.Judge"}, args...)...)
}

func TestJavaFXResolvesEveryRole(t *testing.T) {
	t.Parallel()
	dir := dressed(t)
	pier := filepath.Join(dir, "pier")
	require.Contains(t, readFile(t, filepath.Join(pier, pierMain, "ArrivalsBoard.java")), "        Scene scene = new Scene(rows, 640, 360);\n        AppType.dress(scene);\n")
	module := fxCompile(t, pier)
	jar := filepath.Join(t.TempDir(), "pier.jar")
	ask(t, ".", "jar", "--create", "--file", jar, "-C", module, ".")
	for _, at := range []string{filepath.Dir(module), jar} { // loose files, and an archive
		out := fxRun(t, at)
		for _, node := range []string{"Label", "Text", "Button", "own"} {
			require.Contains(t, out, "HEADING "+node+" Skerry Sans Bold at 28.0\n")
			require.Contains(t, out, "BODY "+node+" Skerry Sans Regular at 17.0\n")
			require.Contains(t, out, "COPY_NEW "+node+" Skerry Sans Italic at 11.5\n")
		}
		listed(t, out, "SkerrySans-Regular", "SkerrySans-Bold", "SkerrySans-Italic")
		require.Contains(t, out, "HEADING spacing 0.40 fill 0x0b3d5cff 0x0b3d5cff stroke 0xffffff80 OUTSIDE 0.5\n")
	}

	// A rule for a control's own class does not win over a role; what would, check finds.
	sheet := filepath.Join(pier, "src/main/resources/board.css")
	plain := readFile(t, sheet)
	write(t, sheet, plain+"\n.label, .button {\n    -fx-font-family: \"Monospaced\";\n}\n")
	require.Contains(t, fxRun(t, filepath.Dir(fxCompile(t, pier))), "HEADING Label Skerry Sans Bold at 28.0\n")
	require.NotContains(t, notaria(t, 0, dir, "check"), "board.css")
	write(t, sheet, plain+"\n.rows .label.type-x, .root Label.label {\n    -fx-font-family: \"Monospaced\";\n}\n")
	require.Contains(t, fxRun(t, filepath.Dir(fxCompile(t, pier))), "HEADING Label Monospaced Regular at 28.0\n")
	require.Contains(t, notaria(t, 1, dir, "check"), "board.css:10:1  style-over-role")
	write(t, sheet, plain)

	// A missing file is an error with its name, and so is one that holds another font.
	module = fxCompile(t, pier)
	require.NoError(t, os.Rename(filepath.Join(module, "fonts/SkerrySans-Regular.ttf"), filepath.Join(module, "fonts/SkerrySans-Bold.ttf")))
	out := fxRun(t, filepath.Dir(module))
	require.Contains(t, out, "failed: expected /fonts/SkerrySans-Regular.ttf among the app's resources, found nothing; run: notaria register")
	listed(t, out, "-SkerrySans-Regular", "-SkerrySans-Bold", "SkerrySans-Italic")
	write(t, filepath.Join(module, "fonts/SkerrySans-Regular.ttf"), readFile(t, filepath.Join(module, "fonts/SkerrySans-Italic.ttf")))
	require.Contains(t, fxRun(t, filepath.Dir(module)), "failed: expected the font Skerry Sans Regular in /fonts/SkerrySans-Regular.ttf of the app's resources, found ")
}

// swingRun compiles the cargo list and prints what Swing makes of its roles.
func swingRun(t *testing.T, cargo, role string) string {
	t.Helper()
	need(t, "javac", "java")
	out := t.TempDir()
	require.Empty(t, ask(t, ".", "javac", "-Xlint:all", "-Werror", "-d", out, filepath.Join(cargo, "src/cargo/SwingType.java"), filepath.Join(cargo, "src/cargo/CargoList.java"), "testdata/javafx/SwingJudge.java"))
	require.NoError(t, os.CopyFS(filepath.Join(out, "fonts"), os.DirFS(filepath.Join(cargo, "src/fonts"))))
	return ask(t, ".", "java", "-Djava.awt.headless=true", "-cp", out, "cargo.SwingJudge", role)
}

func TestSwingResolvesEveryRole(t *testing.T) {
	t.Parallel()
	dir := dressed(t)
	out := swingRun(t, filepath.Join(dir, "cargo"), "BODY")
	listed(t, out, "SkerrySans-Regular", "SkerrySans-Bold", "SkerrySans-Italic")
	for _, want := range []string{"HEADING Label: Skerry Sans Bold at 28.0\n", "HEADING by name: Skerry Sans Bold at 14.0\n", "HEADING tracking 0.01 colour java.awt.Color[r=11,g=61,b=92]\n",
		"COPY_NEW Label: Skerry Sans Italic at 11.5\n", "COPY_NEW by name: Skerry Sans Italic at 14.0\n",
		"default button: Skerry Sans Regular at 17.0\n", "default label: Skerry Sans Regular at 17.0\n", "default table: Skerry Sans Regular at 17.0\n", "left 0\n"} {
		require.Contains(t, out, want)
	}
}

// hostileJava compiles both enums and holds the names that Java finds against those that
// the fonts have.
func hostileJava(t *testing.T, dir string) {
	t.Helper()
	fx, swing := fxRun(t, filepath.Dir(fxCompile(t, filepath.Join(dir, "pier")))), swingRun(t, filepath.Join(dir, "cargo"), "ROLE_1")
	for i, name := range hostile {
		name = strings.NewReplacer("\n", "~", "\t", "^").Replace(name)
		if len(name) > 128 { // Java loads no such font, and register has said so
			require.NotContains(t, fx+swing, fmt.Sprintf("ROLE_%d ", i))
			continue
		}
		require.Contains(t, swing, fmt.Sprintf("ROLE_%d Label: %s at ", i, name))
		if name == "default" { // JavaFX has a font of that name
			require.NotContains(t, fx, fmt.Sprintf("ROLE_%d ", i))
			continue
		}
		for _, node := range []string{"Label", "Text", "Button", "own"} {
			require.Contains(t, fx, fmt.Sprintf("ROLE_%d %s %s at ", i, node, name))
		}
	}
}
