package consumers

import (
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/skerry"
)

// loveRuns has LÖVE draw every role under a virtual display.
func loveRuns(t *testing.T, stow string) string {
	t.Helper()
	need(t, "love", "xvfb-run", "xauth")
	game := filepath.Join(t.TempDir(), "stow")
	require.NoError(t, os.CopyFS(game, os.DirFS(stow)))
	write(t, filepath.Join(game, "main.lua"), readFile(t, "testdata/sdl/judge.lua"))
	setenv(t, "SDL_AUDIODRIVER", "dummy")
	return ask(t, ".", "timeout", "600", "xvfb-run", "-a", "love", game)
}

func pygameRuns(t *testing.T, lamps string) string {
	t.Helper()
	need(t, "/usr/bin/python3", "/usr/lib/python3/dist-packages/pygame/__init__.py")
	setenv(t, "SDL_VIDEODRIVER", "dummy")
	return ask(t, ".", "/usr/bin/python3", "testdata/sdl/judge.py", lamps)
}

// sdlRuns builds the sonar by its own Makefile, its program exchanged for the judge.
func sdlRuns(t *testing.T, sonar string, folder ...string) string {
	t.Helper()
	need(t, "gcc", "/usr/include/SDL2/SDL_ttf.h")
	game := filepath.Join(t.TempDir(), "sonar")
	require.NoError(t, os.CopyFS(game, os.DirFS(sonar)))
	write(t, filepath.Join(game, "main.c"), readFile(t, "testdata/sdl/judge.c"))
	out := ask(t, game, "make", "CFLAGS=-std=c99 -Wall -Wextra -Wpedantic -Werror -I/usr/include/SDL2 -D_REENTRANT")
	require.NotContains(t, out, "warning")
	return ask(t, game, filepath.Join(game, "sonar"), folder...)
}

// number is what stands in a place of the line that begins with a name.
func number(t *testing.T, out, name string, place int) float64 {
	t.Helper()
	m := regexp.MustCompile(`(?m)^` + regexp.QuoteMeta(name) + `\s.*$`).FindString(out)
	fields := strings.Fields(m)
	require.Greater(t, len(fields), place, out)
	n, err := strconv.ParseFloat(fields[place], 64)
	require.NoError(t, err, out)
	return n
}

func TestLoveDrawsEveryRole(t *testing.T) {
	t.Parallel()
	dir := dressed(t)
	stow := filepath.Join(dir, "stow")
	out := loveRuns(t, stow)
	listed(t, out, "SkerrySans-Regular", "SkerrySans-Bold", "SkerrySans-Italic")
	for _, role := range []string{"heading", "body", "copy-new"} {
		require.NotEqual(t, number(t, out, "own", 3), number(t, out, role, 3), "ink")
		require.Greater(t, number(t, out, role, 3), 100.0)
		require.Regexp(t, `(?m)^`+role+`\s.*\strue\s\d+\s[\d.]+\strue\strue$`, out)
	}
	require.InDelta(t, advance(t, filepath.Join(dir, "type/SkerrySans-Bold.ttf"), "Stow the cargo")*28, number(t, out, "heading", 1), 9) // whole pixels for each letter
	require.InDelta(t, 37, number(t, out, "heading", 2), 0.01, "the line of the role, and its room")

	require.NoError(t, os.Remove(filepath.Join(stow, "apptype/fonts/SkerrySans-Bold.ttf")))
	require.Contains(t, loveRuns(t, stow), "failed: AppType: expected the font apptype/fonts/SkerrySans-Bold.ttf in the game's folder, found nothing; run: notaria register")
}

func TestPygameDrawsEveryRole(t *testing.T) {
	t.Parallel()
	dir := dressed(t)
	lamps := filepath.Join(dir, "lamps")
	out := pygameRuns(t, lamps)
	listed(t, out, "SkerrySans-Regular", "SkerrySans-Bold", "SkerrySans-Italic")
	for _, role := range []string{"heading", "body", "copy-new"} {
		require.NotEqual(t, number(t, out, "own", 3), number(t, out, role, 3), "ink")
		require.Greater(t, number(t, out, role, 3), 100.0)
		require.Regexp(t, `(?m)^`+role+` .* True True$`, out)
	}
	require.InDelta(t, advance(t, filepath.Join(dir, "type/SkerrySans-Bold.ttf"), "Read the lamps")*28, number(t, out, "heading", 1), 9)
	require.InDelta(t, 37, number(t, out, "heading", 2), 0.01)

	write(t, filepath.Join(lamps, "apptype/fonts/SkerrySans-Regular.ttf"), "no font")
	out = pygameRuns(t, lamps)
	listed(t, out, "-SkerrySans-Regular", "SkerrySans-Bold", "SkerrySans-Italic")
	require.Contains(t, out, "FontError AppType: expected a font in "+filepath.Join(lamps, "apptype/fonts/SkerrySans-Regular.ttf")+", found something else")
}

func TestSDLDrawsEveryRole(t *testing.T) {
	t.Parallel()
	dir := dressed(t)
	sonar := filepath.Join(dir, "sonar")
	out := sdlRuns(t, sonar)
	require.Contains(t, out, "missing 0\n")
	listed(t, out, "SkerrySans-Regular", "SkerrySans-Bold", "SkerrySans-Italic")
	require.Contains(t, out, "early AppType: a font is used before app_type_load()\n")
	require.Contains(t, out, "role 0 Skerry Sans Regular ")
	require.Contains(t, out, "role 1 Skerry Sans Italic ")
	heading := regexp.MustCompile(`(?m)^role 2 Skerry Sans Bold (\d+) 37 (\d+)x(\d+) (\d+)$`).FindStringSubmatch(out)
	require.NotNil(t, heading, out)
	w, _ := strconv.Atoi(heading[1])
	drawn, _ := strconv.Atoi(heading[2])
	require.InDelta(t, advance(t, filepath.Join(dir, "type/SkerrySans-Bold.ttf"), "Below the ferry")*28, w, 9)
	require.Equal(t, w+3, drawn, "an outline on both sides, and the shadow")

	// In C++, built by CMake, which takes the fonts beside the program.
	need(t, "cmake", "g++")
	require.NoError(t, os.Remove(filepath.Join(sonar, "Makefile")))
	require.NoError(t, os.Remove(filepath.Join(sonar, "main.c")))
	write(t, filepath.Join(sonar, "main.cpp"), "#include <SDL_ttf.h>\n")
	write(t, filepath.Join(sonar, "CMakeLists.txt"), "cmake_minimum_required(VERSION 3.13)\nproject(sonar CXX)\nfind_package(SDL2 REQUIRED)\nadd_executable(sonar main.cpp)\ntarget_link_libraries(sonar PRIVATE SDL2::SDL2 SDL2_ttf)\n")
	notaria(t, 0, dir, "register")
	require.FileExists(t, filepath.Join(sonar, "apptype/apptype.cpp"))
	require.NoFileExists(t, filepath.Join(sonar, "apptype/apptype.c"))
	write(t, filepath.Join(sonar, "main.cpp"), readFile(t, "testdata/sdl/judge.c"))
	build := filepath.Join(t.TempDir(), "build")
	ask(t, ".", "cmake", "-S", sonar, "-B", build, "-DCMAKE_CXX_FLAGS=-Wall -Wextra -Werror")
	ask(t, ".", "cmake", "--build", build)
	require.Contains(t, ask(t, ".", filepath.Join(build, "sonar")), "role 2 Skerry Sans Bold ")
	require.NoError(t, os.Remove(filepath.Join(build, "apptype/fonts/SkerrySans-Bold.ttf")))
	out = ask(t, ".", filepath.Join(build, "sonar"))
	require.Contains(t, out, "missing 1\n")
	listed(t, out, "SkerrySans-Regular", "-SkerrySans-Bold", "SkerrySans-Italic")
	require.Contains(t, out, "failed: AppType: expected a font in "+build+"/apptype/fonts/SkerrySans-Bold.ttf, found none; run: notaria register\n")
}

// An outline that lets the ground through is laid once, and letters without a colour of their own have that which is set, and not the outline's.
func TestTranslucentOutlines(t *testing.T) {
	t.Parallel()
	need(t, "love", "xvfb-run", "xauth", "/usr/bin/python3", "/usr/lib/python3/dist-packages/pygame/__init__.py")
	dir := t.TempDir()
	love, lamps := filepath.Join(dir, "love"), filepath.Join(dir, "lamps")
	write(t, filepath.Join(love, "conf.lua"), "function love.conf(t)\n  t.window.title = \"Quay\"\nend\n")
	write(t, filepath.Join(love, "main.lua"), "function love.draw()\nend\n")
	write(t, filepath.Join(lamps, "main.py"), "import pygame\n\npygame.init()\nscreen = pygame.display.set_mode((300, 80))\n")
	archive, err := skerry.Archive()
	require.NoError(t, err)
	write(t, filepath.Join(dir, "type.zip"), string(archive))
	notaria(t, 0, dir, "enrol", filepath.Join(dir, "type.zip"), "--styles", "bold", "--role", "heading")
	toml := filepath.Join(dir, "notaria.toml")
	write(t, toml, strings.Replace(readFile(t, toml), "[role.heading]\n", "[role.heading]\noutline = { width = 3, colour = \"#FF000080\" }\n", 1))
	notaria(t, 0, dir, "register")
	setenv(t, "SDL_AUDIODRIVER", "dummy")
	write(t, filepath.Join(love, "main.lua"), `local apptype = require("apptype")
function love.load()
  local canvas = love.graphics.newCanvas(300, 80)
  love.graphics.setCanvas(canvas)
  love.graphics.clear(0, 0, 0, 1)
  love.graphics.setColor(0, 1, 0, 1)
  apptype.heading:draw("Holm", 10, 10)
  love.graphics.setCanvas()
  local red, green = 0, 0
  canvas:newImageData():mapPixel(function(x, y, r, g, b, a)
    if g < 0.01 then red = math.max(red, r) end
    green = math.max(green, g)
    return r, g, b, a
  end)
  print(string.format("seen %d %d", red * 255 + 0.5, green * 255 + 0.5))
  love.event.quit()
end
`)
	write(t, filepath.Join(lamps, "judge.py"), `import pygame
import app_type
screen = pygame.display.set_mode((300, 80))
screen.fill((0, 0, 0))
app_type.HEADING.draw(screen, "Holm", (10, 10), (0, 255, 0))
pixels = [screen.get_at((x, y)) for x in range(300) for y in range(80)]
print("seen", max(p[0] for p in pixels if p[1] < 3), max(p[1] for p in pixels))
`)
	setenv(t, "SDL_VIDEODRIVER", "")
	for name, out := range map[string]string{"love": ask(t, ".", "timeout", "600", "xvfb-run", "-a", "love", love), "pygame": ask(t, lamps, "env", "SDL_VIDEODRIVER=dummy", "/usr/bin/python3", "judge.py")} {
		var red, green int
		_, err := fmt.Sscanf(out[strings.Index(out, "seen"):], "seen %d %d", &red, &green)
		require.NoError(t, err, out)
		require.InDelta(t, 128, red, 3, name+": "+out)
		require.Equal(t, 255, green, name)
	}
}

// hostileSDL draws with fonts of all names on all three.
func hostileSDL(t *testing.T, dir string) {
	t.Helper()
	love, pygame, sdl := loveRuns(t, filepath.Join(dir, "stow")), pygameRuns(t, filepath.Join(dir, "lamps")), sdlRuns(t, filepath.Join(dir, "sonar"))
	for i, name := range hostile {
		role := fmt.Sprintf("role-%d", i)
		require.Greater(t, number(t, love, role, 3), 10.0, name)
		require.Greater(t, number(t, pygame, role, 3), 10.0, name)
	}
	require.Equal(t, len(hostile), strings.Count(sdl, "\nrole "), sdl)
}
