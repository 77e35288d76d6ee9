package consumers

import (
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// sketchSays runs a sketch with a version of p5.js, and returns what an expression gives,
// and the rest that was printed.
func sketchSays(t *testing.T, folder, page, version, expression, families string, into any, picture ...string) string {
	t.Helper()
	npmHome(t)
	need(t, "chromium")
	out := ask(t, ".", "node", append([]string{"npm/sketch.mjs", folder, page, version, expression, families}, picture...)...)
	first, rest, _ := strings.Cut(out, "\n")
	require.NoError(t, json.Unmarshal([]byte(first), into), out)
	return rest
}

// sketched is a sketch that draws every role, in global mode.
const sketched = `%s
function draw() {
  background('#dfe9ee');
  fill('#336699');
  let y = 70;
  for (const role of Object.values(AppType.roles)) {
    role.text('Tides of the week', 40, y);
    y += 60;
  }
  rect(10, y, 20, 20); // in the sketch's own colour
  window.frames_drawn = frameCount;
}
`

var setups = map[string]string{
	"one": "function preload() { AppType.load(); }\nfunction setup() { createCanvas(640, 360); pixelDensity(2); }\n",
	"two": "async function setup() { createCanvas(640, 360); pixelDensity(2); await AppType.load(); }\n",
}

// measured is what is asked of a sketch that runs.
const measured = `(() => {
  const pixel = (x, y) => Array.from(drawingContext.getImageData(x * 2, y * 2, 1, 1).data).join(' ');
  const of = name => { const r = AppType[name]; const b = r.box('Skerry Ferries', 10, 100); return [r.width('Skerry Ferries'), b.x, b.y, b.w, b.h].map(n => Math.round(n * 10) / 10); };
  return {heading: of('heading'), body: of('body'), problems: AppType.problems, listed: AppType.report(), band: pixel(2, 2), own: pixel(20, 260), size: textSize(), version: p5.VERSION || ''};
})()`

type measures struct {
	Heading, Body      []float64
	Problems           []string
	Band, Own, Version string
	Listed             string
	Size               float64
}

// waves is the sketch with a program that draws every role, for a version.
func waves(t *testing.T, dir, version string) string {
	t.Helper()
	site := filepath.Join(dir, "waves")
	page := filepath.Join(site, "index.html")
	write(t, filepath.Join(site, "sketch.js"), fmt.Sprintf(sketched, setups[version]))
	if version == "two" {
		write(t, page, strings.Replace(readFile(t, page), "p5@1.11.10", "p5@2.2.3", 1))
		notaria(t, 0, dir, "register")
	}
	return site
}

func TestP5DrawsEveryRole(t *testing.T) {
	t.Parallel()
	dir := dressed(t)
	for _, version := range []string{"one", "two"} {
		site := waves(t, dir, version)
		notaria(t, 0, dir, "check")
		var m measures
		families := map[string]string{"one": "SkerrySans-Bold|SkerrySans-Regular|Nowhere", "two": "AppTypeFace1|AppTypeFace0|Nowhere"}[version]
		rest := sketchSays(t, site, "index.html", version, measured, families, &m)
		require.Empty(t, m.Problems, version)
		listed(t, m.Listed, "SkerrySans-Regular", "SkerrySans-Bold", "SkerrySans-Italic")
		require.NotContains(t, rest, "problem", version)
		require.Contains(t, rest, " SkerrySans-Bold true\n", version)
		require.Contains(t, rest, " SkerrySans-Regular true\n", version)
		require.NotContains(t, rest, "Nowhere SkerrySans", version)
		require.Equal(t, "51 102 153 255", m.Own, "the sketch's own colour stays")
		require.InDelta(t, 12, m.Size, 0, "the sketch's own size stays")
		require.NotEqual(t, "156 28 40 255", m.Band)
		// The advances of the face, from its own tables.
		bold := filepath.Join(dir, "type/SkerrySans-Bold.ttf")
		wide := advance(t, bold, "Skerry Ferries") * 28
		if version == "two" {
			wide += 14*0.28 + 3 // tracking, and one space
		}
		require.InDelta(t, wide, m.Heading[0], 0.6, version)
		require.InDelta(t, advance(t, filepath.Join(dir, "type/SkerrySans-Regular.ttf"), "Skerry Ferries")*17, m.Body[0], 0.6, version)
		require.InDelta(t, wide, m.Heading[3], 12, "the box is about as wide as the text")
		require.Less(t, m.Heading[2], 100.0, "above the baseline")

		// A font that is not there: the canvas says so, and the sketch goes on.
		font := filepath.Join(site, "fonts/SkerrySans-Bold.ttf")
		content := readFile(t, font)
		require.NoError(t, os.Remove(font))
		rest = sketchSays(t, site, "index.html", version, measured, "", &m)
		require.NotContains(t, rest, "never drew", version)
		require.Len(t, m.Problems, 1, version)
		listed(t, m.Listed, "SkerrySans-Regular", "-SkerrySans-Bold", "SkerrySans-Italic")
		require.Contains(t, m.Problems[0], "AppType: expected a font in http://skerry.test/fonts/SkerrySans-Bold.ttf, found nothing that p5.js can load; run: notaria register")
		require.Equal(t, "156 28 40 255", m.Band, version)
		write(t, font, content)

		// Instance mode, with a canvas that is drawn once.
		page := readFile(t, filepath.Join(site, "index.html"))
		write(t, filepath.Join(site, "one.html"), strings.Replace(page, "sketch.js", "one.js", 1))
		load := map[string]string{"one": "p.preload = () => AppType.load(p); p.setup = () => { p.createCanvas(300, 100); p.noLoop(); };", "two": "p.setup = async () => { p.createCanvas(300, 100); p.noLoop(); await AppType.load(p); };"}[version]
		write(t, filepath.Join(site, "one.js"), "new p5(p => { "+load+" p.draw = () => { AppType.body.text('Quay', 10, 40); window.wide = AppType.body.width('Quay'); window.frames_drawn = 9; }; });\n")
		var w float64
		require.NotContains(t, sketchSays(t, site, "one.html", version, "window.wide", "", &w), "problem")
		require.InDelta(t, advance(t, filepath.Join(dir, "type/SkerrySans-Regular.ttf"), "Quay")*17, w, 0.6, version)
		require.NoError(t, os.Remove(filepath.Join(site, "one.js")))
		require.NoError(t, os.Remove(filepath.Join(site, "one.html")))
	}
}

// advance is how wide text is in ems, by the face's own tables.
func advance(t *testing.T, font, text string) float64 {
	t.Helper()
	need(t, "hb-shape")
	var glyphs []struct{ AX float64 }
	require.NoError(t, json.Unmarshal([]byte(ask(t, ".", "hb-shape", "--output-format=json", "--no-glyph-names", "--font-size=1000", font, text)), &glyphs))
	sum := 0.0
	for _, g := range glyphs {
		sum += g.AX
	}
	return sum / 1000
}

// hostileP5 loads fonts of all names in both versions.
func hostileP5(t *testing.T, dir string) {
	t.Helper()
	copied := filepath.Join(t.TempDir(), "skerry") // the sketch is exchanged
	require.NoError(t, os.CopyFS(copied, os.DirFS(dir)))
	for _, version := range []string{"one", "two"} {
		site := waves(t, copied, version)
		var got map[string]bool
		rest := sketchSays(t, site, "index.html", version, "Object.fromEntries(Object.values(AppType.roles).map(r => [r.name, !!r.font && r.width('Skerry') > 0]))", "", &got)
		require.NotContains(t, rest, "problem", version)
		for i, name := range hostile {
			require.True(t, got[fmt.Sprintf("role-%d", i)], name)
		}
	}
}

// A package imports the script, as a module; the browser finds p5.js by a map.
func TestP5InAPackage(t *testing.T) {
	t.Parallel()
	dir := dressed(t)
	pack := filepath.Join(dir, "swell")
	require.NoError(t, os.MkdirAll(filepath.Join(pack, "src"), 0o755))
	write(t, filepath.Join(pack, "package.json"), "{\"dependencies\": {\"p5\": \"^2.2.0\"}}\n")
	write(t, filepath.Join(pack, "src/main.js"), "import p5 from 'p5';\nimport {AppType} from './app-type.js';\n\nnew p5(p => {\n  p.setup = async () => {\n    p.createCanvas(300, 100);\n    await AppType.load(p);\n  };\n"+
		"  p.draw = () => {\n    AppType.heading.text('Quay', 10, 40);\n    window.wide = AppType.heading.width('Quay');\n    window.frames_drawn = p.frameCount;\n  };\n});\n")
	write(t, filepath.Join(pack, "index.html"), "<!DOCTYPE html>\n<title>Swell</title>\n<script type=\"importmap\">{\"imports\": {\"p5\": \"/p5.esm.js\"}}</script>\n<script type=\"module\" src=\"src/main.js\"></script>\n")
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "check")
	require.FileExists(t, filepath.Join(pack, "src/fonts/SkerrySans-Bold.ttf"))
	var w float64
	require.NotContains(t, sketchSays(t, pack, "index.html", "two", "window.wide", "", &w), "problem")
	require.InDelta(t, advance(t, filepath.Join(dir, "type/SkerrySans-Bold.ttf"), "Quay")*28+4*0.28, w, 0.6)
}
