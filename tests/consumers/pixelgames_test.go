package consumers

import (
	"bytes"
	"fmt"
	"image/png"
	"math/rand"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/pixel"
)

// whole rounds what engines count in whole pixels.
func whole(f *pixel.Font) *pixel.Font {
	for i := range f.Glyphs {
		f.Glyphs[i].Advance = (f.Glyphs[i].Advance + 8) / 16 * 16
	}
	for i := range f.Kerns {
		f.Kerns[i].Value = (f.Kerns[i].Value + 8) >> 4 * 16
	}
	return f
}

// hexRows is a picture, a row a line.
func hexRows(p pixel.Picture) string {
	var b strings.Builder
	for y := range p.Height {
		fmt.Fprintf(&b, "%x\n", p.Pix[y*p.Width:(y+1)*p.Width])
	}
	return b.String()
}

// A hundred random subsets in each depth come back from JavaScript as they were drawn.
func TestPixelFontsOfEspruino(t *testing.T) {
	t.Parallel()
	need(t, "node")
	s, dir, rnd := pixelSource(t), t.TempDir(), rand.New(rand.NewSource(13))
	all := []rune(" !0123456789:ABCGHQRXabcdefgjkpqxyzäéÅ°")
	args, want := []string{"testdata/pixel/espruino/judge.js"}, ""
	for i := range 100 {
		rnd.Shuffle(len(all), func(a, b int) { all[a], all[b] = all[b], all[a] })
		depth := pixel.Depths[i%3]
		f, _, err := s.Draw(float64(6+rnd.Intn(40)), pixel.Choice{Characters: all[:1+rnd.Intn(len(all)-1)], Depth: depth, Hint: i%2 == 0})
		require.NoError(t, err)
		name := fmt.Sprintf("font_%d", i)
		files, err := f.Espruino(name)
		require.NoError(t, err)
		write(t, filepath.Join(dir, name+".js"), string(files[name+".js"]))
		args = append(args, filepath.Join(dir, name+".js"))
		_, _, height, top, err := f.EspruinoBytes()
		require.NoError(t, err)
		for _, g := range f.Glyphs {
			left := min(0, g.X)
			wide := max((g.Advance+8)/16-left, g.X+g.Width-left)
			if wide == 0 {
				continue
			}
			var columns []string
			for x := range wide {
				column := ""
				for y := range height {
					v := byte(0)
					if cx, cy := x+left-g.X, y-(top-g.Top()); cx >= 0 && cy >= 0 && cx < g.Width && cy < g.Height {
						v = g.Pix[cy*g.Width+cx]
					}
					column += fmt.Sprintf("%x", v)
				}
				columns = append(columns, column)
			}
			want += fmt.Sprintf("%x %s\n", g.Rune, strings.Join(columns, " "))
		}
	}
	require.Equal(t, want, ask(t, ".", "node", args...))
}

// gamesText is drawn by the engines.
const gamesText = "AVATo Wg17:é"

// inGames is a font in each depth that engines draw.
func inGames(t *testing.T, depth int) *pixel.Font {
	t.Helper()
	f, _, err := pixelSource(t).Draw(24, pixel.Choice{Characters: []rune(gamesText), Depth: depth, Kerning: true, Hint: depth == 1, SameWidth: []rune("17")})
	require.NoError(t, err)
	return whole(f)
}

// Godot 3 loads the resource: the texture is the sheet's picture, the widths are the font's.
func TestPixelFontOfGodot(t *testing.T) {
	t.Parallel()
	need(t, "godot3-server")
	for _, depth := range pixel.Depths {
		f, dir := inGames(t, depth), t.TempDir()
		files, err := f.Godot("font")
		require.NoError(t, err)
		write(t, filepath.Join(dir, "font.tres"), string(files["font.tres"]))
		write(t, filepath.Join(dir, "project.godot"), "config_version=4\n\n[application]\n\nconfig/name=\"board\"\n")
		write(t, filepath.Join(dir, "check.gd"), readFile(t, "testdata/pixel/godot/check.gd"))
		write(t, filepath.Join(dir, "text.txt"), gamesText+"\n")
		out := ask(t, ".", "timeout", "600", "godot3-server", "--path", dir, "-s", "check.gd")
		require.NotContains(t, out, "res://") // in a complaint
		sheet, err := f.Sheet("font")
		require.NoError(t, err)
		img, err := png.Decode(bytes.NewReader(sheet["font.png"]))
		require.NoError(t, err)
		b := img.Bounds()
		want := fmt.Sprintf("line %d ascent %d textures 1\npicture %dx%d\n", f.LineHeight(), f.Ascent, b.Dx(), b.Dy())
		for y := range b.Dy() {
			for x := range b.Dx() {
				_, _, _, a := img.At(x, y).RGBA()
				want += fmt.Sprintf("%02x", a>>8)
			}
			want += "\n"
		}
		text, sum := []rune(gamesText), 0
		for i, r := range text {
			g, _ := f.Glyph(r)
			wide := g.Advance / 16
			if i+1 < len(text) {
				wide += f.Kern(r, text[i+1]) / 16
			}
			sum += wide
			want += fmt.Sprintf("%d %d\n", r, wide)
		}
		require.Contains(t, out, want+fmt.Sprintf("whole %d\n", sum), "depth %d", depth)
	}
}

// LÖVE draws the text that the font draws here. It knows no kerning in such fonts.
func TestPixelFontOfLove(t *testing.T) {
	t.Parallel()
	need(t, "love", "xvfb-run", "xauth")
	f, dir := inGames(t, 1), t.TempDir()
	f.Kerns = nil
	for i := range f.Glyphs { // what is left of the pen makes a cell wider there
		f.Glyphs[i].X = max(0, f.Glyphs[i].X)
		f.Glyphs[i].Advance = max(f.Glyphs[i].Advance, (f.Glyphs[i].X+f.Glyphs[i].Width)*16)
	}
	files, err := f.Love("board")
	require.NoError(t, err)
	for name, text := range files {
		write(t, filepath.Join(dir, "type", name), string(text))
	}
	for _, name := range []string{"main.lua", "conf.lua"} {
		write(t, filepath.Join(dir, name), readFile(t, "testdata/pixel/love/"+name))
	}
	write(t, filepath.Join(dir, "text.txt"), gamesText)
	p := f.Text(gamesText)
	require.Equal(t, fmt.Sprintf("picture %dx%d\n", p.Width, p.Height)+hexRows(p), ask(t, ".", "timeout", "600", "xvfb-run", "-a", "love", dir))
}

// libGDX's loader places glyphs, with its kerning, where the font has them.
func TestPixelFontOfLibGDX(t *testing.T) {
	t.Parallel()
	need(t, "javac", "java")
	f, dir := inGames(t, 4), t.TempDir()
	files, err := f.LibGDX("board", "skerry.type")
	require.NoError(t, err)
	for name, text := range files {
		write(t, filepath.Join(dir, name), string(text))
	}
	var stubs []string
	require.NoError(t, filepath.WalkDir("testdata/pixel/gdx/com", func(p string, d os.DirEntry, err error) error {
		if err == nil && !d.IsDir() {
			stubs = append(stubs, p)
		}
		return err
	}))
	ask(t, ".", "javac", append([]string{"-encoding", "UTF-8", "-d", dir}, stubs...)...)
	require.Empty(t, ask(t, ".", "javac", "-Xlint:all", "-Werror", "-encoding", "UTF-8", "-cp", dir, "-d", dir, filepath.Join(dir, "PixelFontLoader.java")))
	ask(t, ".", "javac", "-cp", dir, "-d", dir, "testdata/pixel/gdx/Use.java")
	text := "AVATo Wg17:"
	p := f.Text(text)
	out := ask(t, ".", "java", "-cp", dir, "Use", filepath.Join(dir, "board.json"), text, fmt.Sprint(p.Width), fmt.Sprint(p.Height), fmt.Sprint(f.Ascent-f.Heights().Capitals)) // where the tops of capitals are
	space, _ := f.Glyph(' ')
	require.Equal(t, fmt.Sprintf("filters Nearest Nearest\nline %d.0 capitals %d.0 owns true space %d.0\n", f.LineHeight(), f.Heights().Capitals, space.Advance/16)+hexRows(p), out)
}
