package consumers

import (
	"bytes"
	"encoding/hex"
	"fmt"
	"math"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/raster"
	"notaria/internal/sfnt"
	"notaria/internal/specimen"
)

// greyFonts are faces of TrueType and CFF outlines, of one file each.
func greyFonts(t *testing.T) []string {
	t.Helper()
	var out []string
	for _, pattern := range []string{"truetype/liberation/*-Regular.ttf", "truetype/dejavu/*.ttf", "truetype/lato/Lato-[BLR]*.ttf", "truetype/crosextra/*-Regular.ttf", "opentype/cantarell/*.otf", "opentype/b612/*-Regular.otf", "opentype/junicode/*-Regular.otf", "truetype/open-sans/*-Regular.ttf", "truetype/fonts-oldstandard/*.ttf", "truetype/katex/KaTeX_M*.ttf"} {
		found, err := filepath.Glob("/usr/share/fonts/" + pattern)
		require.NoError(t, err)
		out = append(out, found...)
	}
	return out
}

// Greys are those of FreeType, unhinted: the same box, and nearly the same pixels.
func TestGreysAreFreeTypes(t *testing.T) {
	t.Parallel()
	need(t, "gcc", "pkg-config", "/usr/include/freetype2/ft2build.h")
	fonts := greyFonts(t)
	require.GreaterOrEqual(t, len(fonts), 20)
	program := filepath.Join(t.TempDir(), "grey")
	flags := strings.Fields(ask(t, ".", "pkg-config", "--cflags", "--libs", "freetype2"))
	ask(t, ".", "gcc", append([]string{"-O2", "-Wall", "-Wextra", "-Werror", "-o", program, "../agree/grey/grey.c"}, flags...)...)
	var runes []string
	for r := '!'; r <= '~'; r++ {
		runes = append(runes, fmt.Sprintf("%x", r))
	}
	runes = append(runes, "e4", "c5", "f1", "20ac")
	compared := 0
	for _, font := range fonts {
		file, err := os.Open(font)
		require.NoError(t, err)
		info, err := file.Stat()
		require.NoError(t, err)
		opened, err := sfnt.Open(file, info.Size())
		require.NoError(t, err, font)
		paths, err := opened.Font(0).Paths()
		require.NoError(t, err, font)
		head, err := opened.Font(0).Head()
		require.NoError(t, err)
		sizes := []float64{8, 11, 14, 19.5, 28, 45, 72}
		if strings.HasSuffix(font, ".otf") {
			sizes = []float64{8, 14, 28} // eight times as large there
		}
		for _, em := range sizes {
			compared += greysAgree(t, program, font, paths, int(head.UnitsPerEm), em, "", runes)
		}
		require.NoError(t, file.Close())
	}
	require.Greater(t, compared, 10_000)
	t.Logf("%d glyphs of %d faces compared", compared, len(fonts))
}

// greysAgree compares one size of a face; it returns how many glyphs.
func greysAgree(t *testing.T, program, font string, paths *sfnt.Paths, upem int, em float64, at string, runes []string) int {
	t.Helper()
	sum, inked, n := 0.0, 0, 0
	// FreeType bends cubic curves in few lines, an eighth of a pixel off at most: those of CFF
	// it draws eight times as large, and the mean of 64 pixels is one.
	fine := 1
	if strings.HasSuffix(font, ".otf") {
		fine = 8
	}
	r := &raster.Raster{}
	for _, line := range strings.Split(strings.TrimSpace(ask(t, ".", program, append([]string{font, fmt.Sprint(int(em*64)*fine) + at}, runes...)...)), "\n") {
		var char rune
		var left, top, w, h, advance int
		fields := strings.Fields(line)
		_, err := fmt.Sscanf(line, "%x %d %d %d %d %d", &char, &left, &top, &w, &h, &advance)
		require.NoError(t, err, line)
		path, err := paths.Outline(paths.Index(char))
		require.NoError(t, err)
		scale := em / float64(upem)
		own, ok := paths.Advance(char)
		require.True(t, ok)
		require.InDelta(t, float64(advance)/64, float64(own)*scale*float64(fine), 0.02, "%s U+%04X", font, char)
		if w == 0 || len(fields) < 7 {
			continue
		}
		want, err := hex.DecodeString(fields[6])
		require.NoError(t, err)
		box := raster.Box{XMin: left, YMin: top - h, XMax: left + w, YMax: top}
		if fine > 1 {
			want, box = coarser(want, box, fine)
		}
		mine := raster.Bounds(path, scale, 0, 0) // of control points: at least as large
		require.True(t, mine.XMin <= box.XMin+1 && mine.XMax >= box.XMax-1 && mine.YMin <= box.YMin+1 && mine.YMax >= box.YMax-1, "%s U+%04X at %g: %v and %v", font, char, em, mine, box)
		got := r.Fill(path, scale, 0, 0, box)
		for i := range want {
			if want[i] != 0 || got[i] != 0 {
				sum, inked = sum+math.Abs(float64(want[i])-float64(got[i])), inked+1
			}
		}
		n++
	}
	require.Less(t, sum/float64(max(inked, 1)), 2.5, "%s at %g pixels", font, em)
	return n
}

// A variable font is what FreeType makes of it, at places on its axes and beyond them.
func TestVariableGreysAreFreeTypes(t *testing.T) {
	t.Parallel()
	const font = "/usr/share/fonts/truetype/inter-vf/Inter.var.ttf"
	need(t, "gcc", "pkg-config", "/usr/include/freetype2/ft2build.h", font)
	program := filepath.Join(t.TempDir(), "grey")
	ask(t, ".", "gcc", append([]string{"-O2", "-Wall", "-Wextra", "-Werror", "-o", program, "../agree/grey/grey.c"}, strings.Fields(ask(t, ".", "pkg-config", "--cflags", "--libs", "freetype2"))...)...)
	data, err := os.ReadFile(font)
	require.NoError(t, err)
	opened, err := sfnt.Open(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	paths, err := opened.Font(0).Paths()
	require.NoError(t, err)
	axes, _, err := opened.Font(0).Variations()
	require.NoError(t, err)
	head, err := opened.Font(0).Head()
	require.NoError(t, err)
	var runes []string
	for r := '!'; r <= '~'; r++ {
		runes = append(runes, fmt.Sprintf("%x", r))
	}
	runes = append(runes, "e4", "c5", "f1", "20ac", "1e9e")
	compared := 0
	for part := 0.0; part <= 1; part += 0.125 {
		user, at := map[string]float64{}, "@"
		for i, a := range axes {
			v := a.Min + (a.Max-a.Min)*math.Mod(part+0.3*float64(i), 1.01)
			user[a.Tag] = v
			at += fmt.Sprintf("%g,", v)
		}
		varied, err := paths.At(opened.Font(0), user)
		require.NoError(t, err)
		for _, em := range []float64{14, 45} {
			compared += greysAgree(t, program, font, varied, int(head.UnitsPerEm), em, strings.TrimSuffix(at, ","), runes)
		}
	}
	t.Logf("%d glyphs at %d places of %d axes", compared, 9, len(axes))
	_, err = paths.At(opened.Font(0), map[string]float64{"wdth": 80})
	require.ErrorContains(t, err, `an axis of the font: `)
}

// coarser takes the mean of squares of pixels, on the grid of the larger ones.
func coarser(pix []byte, box raster.Box, by int) ([]byte, raster.Box) {
	down := func(v int) int { return int(math.Floor(float64(v) / float64(by))) }
	up := func(v int) int { return int(math.Ceil(float64(v) / float64(by))) }
	out := raster.Box{XMin: down(box.XMin), YMin: down(box.YMin), XMax: up(box.XMax), YMax: up(box.YMax)}
	sums := make([]int, out.Width()*out.Height())
	for i, v := range pix {
		x, y := box.XMin+i%box.Width(), box.YMax-1-i/box.Width()
		sums[(out.YMax-1-down(y))*out.Width()+down(x)-out.XMin] += int(v)
	}
	mean := make([]byte, len(sums))
	for i, v := range sums {
		mean[i] = byte((v + by*by/2) / (by * by))
	}
	return mean, out
}

// The ink box of each letter is FreeType's, to a pixel, at the sizes of text.
func TestInkBoxesAreFreeTypes(t *testing.T) {
	t.Parallel()
	need(t, "gcc", "pkg-config", "/usr/include/freetype2/ft2build.h")
	program := filepath.Join(t.TempDir(), "grey")
	flags := strings.Fields(ask(t, ".", "pkg-config", "--cflags", "--libs", "freetype2"))
	ask(t, ".", "gcc", append([]string{"-O2", "-Wall", "-Wextra", "-Werror", "-o", program, "../agree/grey/grey.c"}, flags...)...)
	const letters = "AQgjyfÅñ@%&,.0123ß"
	var runes []string
	for _, r := range letters {
		runes = append(runes, fmt.Sprintf("%x", r))
	}
	boxes, exact := 0, 0
	for _, font := range greyFonts(t) {
		face, err := specimen.Load([]byte(readFile(t, font)), nil)
		require.NoError(t, err, font)
		for _, size := range []float64{8, 12, 17, 28, 40, 64, 96} {
			for _, line := range strings.Split(strings.TrimSpace(ask(t, ".", program, append([]string{font, fmt.Sprint(int(size * 64))}, runes...)...)), "\n") {
				var char rune
				var left, top, w, h, advance int
				_, err := fmt.Sscanf(line, "%x %d %d %d %d %d", &char, &left, &top, &w, &h, &advance)
				require.NoError(t, err, line)
				m, err := face.MeasureText(string(char), specimen.Style{Size: size, Features: map[string]bool{"locl": false, "ccmp": false, "calt": false}})
				require.NoError(t, err)
				fields := strings.Fields(line)
				if w == 0 || len(fields) < 7 || len(m.Missing) > 0 {
					continue
				}
				pix, err := hex.DecodeString(fields[6])
				require.NoError(t, err)
				left, top, w, h = inked(pix, left, top, w, h)
				require.NotNil(t, m.Ink, "%s U+%04X", font, char)
				for i, pair := range [][2]int{{left, m.Ink.Left}, {-top, m.Ink.Top}, {left + w, m.Ink.Right}, {h - top, m.Ink.Bottom}} {
					require.InDelta(t, pair[0], pair[1], 1, "%s U+%04X at %g, side %d", font, char, size, i)
					if pair[0] == pair[1] {
						exact++
					}
				}
				boxes++
			}
		}
	}
	require.Greater(t, boxes, 2000)
	t.Logf("%d boxes, %d of %d sides exact", boxes, exact, 4*boxes)
}

// inked is the part of a picture that holds ink: FreeType's own box is that of control points.
func inked(pix []byte, left, top, w, h int) (int, int, int, int) {
	x0, y0, x1, y1 := w, h, 0, 0
	for y := range h {
		for x := range w {
			if pix[y*w+x] != 0 {
				x0, y0, x1, y1 = min(x0, x), min(y0, y), max(x1, x+1), max(y1, y+1)
			}
		}
	}
	return left + x0, top - y0, x1 - x0, y1 - y0
}
