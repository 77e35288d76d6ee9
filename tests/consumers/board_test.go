package consumers

import (
	"fmt"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/skerry"
)

// boardRoles are roles for displays alone.
const boardRoles = `
[role.departure]
face = "LanternDigits-Regular"
height = 30
of = "digits"
same-width = "digits"
characters = { sets = ["digits"], text = ":" }

[role.departure.on.lvgl]
depth = 4
colour = "#FFB000"

[role.quay]
face = "BeaconMono-Regular"
height = 9
of = "capitals"
line-height = 14
characters = { sets = ["ascii"], app-strings = true }

[[site]]
target = "display"
folder = "lamp"
`

// boards is the sample with the roles of the departure board, and a program of plain C.
func boards(t *testing.T) string {
	t.Helper()
	dir := registered(t)
	notaria(t, 0, dir, "enrol", filepath.Join(dir, skerry.BoardArchiveName))
	name := filepath.Join(dir, "notaria.toml")
	write(t, name, readFile(t, name)+boardRoles)
	write(t, filepath.Join(dir, "lamp/Makefile"), "SRCS = main.c\n\nlamp: $(SRCS)\n\t$(CC) -std=c99 -Wall -Wextra -Werror -pedantic $(CPPFLAGS) -o $@ $(SRCS)\n")
	write(t, filepath.Join(dir, "lamp/main.c"), "int main(void)\n{\n    return 0;\n}\n")
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "register", "--dry-run")
	notaria(t, 0, dir, "check")
	return dir
}

var (
	macro  = regexp.MustCompile(`(?m)^#define (APP_TYPE_\w+) `)
	styler = regexp.MustCompile(`\b(app_type_style_\w+)\(`)
)

// uses is a body that uses each name of a header as a statement has it.
func uses(t *testing.T, header, form string) string {
	t.Helper()
	text, out := readFile(t, header), ""
	for _, m := range macro.FindAllStringSubmatch(text, -1) {
		if !strings.HasSuffix(m[1], "_LINE") && !strings.HasSuffix(m[1], "_ASCENT") && !strings.HasSuffix(m[1], "_DIGITS") {
			out += fmt.Sprintf(form, m[1])
		}
	}
	for _, m := range styler.FindAllStringSubmatch(text, -1) {
		out += "    " + m[1] + "(&object);\n"
	}
	require.NotEmpty(t, out)
	return out
}

// boardsCompile has the compilers take what was written for the gate, the jetty and the watch,
// and returns how many roles each of them has.
func boardsCompile(t *testing.T, dir string) (gate, jetty, watch int) {
	t.Helper()
	need(t, "gcc", "g++", "node")
	work := t.TempDir()
	folder := filepath.Join(dir, "gate/components/apptype")
	sources, err := filepath.Glob(folder + "/*.c")
	require.NoError(t, err)
	for _, s := range sources { // the component's list names each of them
		require.Contains(t, readFile(t, folder+"/CMakeLists.txt"), ` "`+filepath.Base(s)+`"`)
	}
	body := uses(t, folder+"/app_type.h", "    fonts += (%s)->line_height;\n")
	main := filepath.Join(work, "gate.c")
	write(t, main, "#include \"app_type.h\"\n\nint main(void)\n{\n    int fonts = 0;\n    lv_obj_t object;\n"+body+"    return fonts == 0 || object.font == NULL;\n}\n")
	flags := []string{"-Wall", "-Wextra", "-Werror", "-pedantic"}
	for _, version := range []string{"8", "9"} {
		args := append(append([]string{"-std=c99"}, flags...), "-DLVGL_VERSION_MAJOR="+version, "-Itestdata/pixel/lvgl", "-I"+folder, "-o", filepath.Join(work, "gate"), main)
		require.Empty(t, ask(t, ".", "gcc", append(args, sources...)...))
		ask(t, ".", filepath.Join(work, "gate"))
	}

	folder = filepath.Join(dir, "jetty/src/apptype")
	sources, err = filepath.Glob(folder + "/*.c")
	require.NoError(t, err)
	fonts := uses(t, folder+"/app_type.h", "    glyphs += (%s)[0];\n")
	main = filepath.Join(work, "jetty.cpp")
	write(t, main, "#include \"apptype/app_type.h\"\n\nint main()\n{\n    int glyphs = 0;\n"+fonts+"    return glyphs == 0;\n}\n")
	for _, s := range sources {
		object := filepath.Join(work, strings.TrimSuffix(filepath.Base(s), ".c")+".o")
		require.Empty(t, ask(t, ".", "gcc", append(flags, "-std=c99", "-Itestdata/pixel/u8g2", "-c", "-o", object, s)...))
	}
	objects, err := filepath.Glob(work + "/*.o")
	require.NoError(t, err)
	require.Empty(t, ask(t, ".", "g++", append(append(flags, "-Itestdata/pixel/u8g2", "-I"+filepath.Join(dir, "jetty/src"), "-o", filepath.Join(work, "jetty"), main), objects...)...))
	ask(t, ".", filepath.Join(work, "jetty"))

	const script = `const Graphics = function () {}; let n = 0;
Graphics.prototype.setFontCustom = function (bitmap, first, widths, height) { if (!bitmap.length || !height) throw new Error("empty"); n++; return this; };
global.Graphics = Graphics; global.atob = (s) => Buffer.from(s, "base64").toString("latin1");
require(process.argv[1]);
const g = new Graphics();
for (const m of Object.keys(Graphics.prototype)) if (m !== "setFontCustom") g[m]();
console.log(n, JSON.parse(require("fs").readFileSync(process.argv[2])).storage.map((f) => f.name + "=" + f.url).join(" "));`
	out := ask(t, ".", "node", "-e", script, filepath.Join(dir, "watch/app_type.js"), filepath.Join(dir, "watch/metadata.json"))
	require.Contains(t, out, " skerrycrew.app.js=app.js app_type=app_type.js\n")
	_, err = fmt.Sscan(out, &watch)
	require.NoError(t, err)
	return strings.Count(body, "line_height"), strings.Count(fonts, "[0]"), watch
}

func TestBoardsTakeTheirRoles(t *testing.T) {
	t.Parallel()
	need(t, "gcc", "g++", "node", "make")
	dir := boards(t)
	gate, jetty, watch := boardsCompile(t, dir)
	require.Equal(t, []int{4, 4, 4}, []int{gate, jetty, watch})
	require.Contains(t, readFile(t, filepath.Join(dir, "gate/components/apptype/app_type_departure.c")), ".bpp = 4,")
	require.Contains(t, readFile(t, filepath.Join(dir, "gate/components/apptype/app_type.h")), "lv_color_make(255, 176, 0)")
	require.Contains(t, readFile(t, filepath.Join(dir, "gate/components/apptype/app_type_departure.h")), "#include \"lvgl.h\"\n")
	require.Contains(t, readFile(t, filepath.Join(dir, "jetty/src/apptype/app_type.h")), "#define APP_TYPE_DEPARTURE_DIGITS 30\n")
	require.NoFileExists(t, filepath.Join(dir, "deckgame/fonts/LanternDigits-Regular.ttf"), "a face for displays alone")

	// Its own Makefile builds the program of plain C, which draws with the fonts.
	write(t, filepath.Join(dir, "lamp/main.c"), `#include <stdio.h>
#include "app_type.h"

static void put(void *display, int16_t x, int16_t y, uint8_t ink)
{
    char (*rows)[120] = (char (*)[120]) display;
    rows[y][x] = ink ? '#' : '.';
}

int main(void)
{
    static char rows[64][120];
    int y;
    int32_t w = pixel_text(APP_TYPE_DEPARTURE, "0", 0, APP_TYPE_DEPARTURE_ASCENT, put, rows);
    printf("%ld\n", (long) w);
    for (y = 0; y < 64; y++)
    {
        int x, n = 0;
        for (x = 0; x < 120; x++)
        {
            n += rows[y][x] == '#';
        }
        if (n != 0)
        {
            printf("%d ", n);
        }
    }
    printf("\n%ld\n", (long) pixel_text(APP_TYPE_QUAY, "Quay", 0, 0, NULL, NULL));
    return 0;
}
`)
	ask(t, filepath.Join(dir, "lamp"), "make", "lamp")
	out := strings.Split(ask(t, ".", filepath.Join(dir, "lamp/lamp")), "\n")
	require.Len(t, strings.Fields(out[1]), 30, "rows with ink: %s", out)
	require.Regexp(t, `^\d+$`, out[2])

	// The characters of the app's strings are there: the Ö of the jetty's sources.
	require.Contains(t, readFile(t, filepath.Join(dir, "lamp/apptype/app_type_quay.h")), "pixels per em")
	notaria(t, 0, dir, "strike", "LanternDigits-Regular", "BeaconMono-Regular", "--with-roles")
	gate, jetty, watch = boardsCompile(t, dir)
	require.Equal(t, []int{2, 2, 2}, []int{gate, jetty, watch})
}
