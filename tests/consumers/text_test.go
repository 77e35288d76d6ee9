package consumers

import (
	"encoding/hex"
	"encoding/json"
	"fmt"
	"image"
	"image/png"
	"math"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/raster"
	"notaria/internal/sfnt"
)

// Pictures of whole texts are what FreeType draws of the glyphs that HarfBuzz gives: in many scripts, at sizes
// of captions and of headings, with kerning, marks and joined forms in their places.
func TestTextsAreFreeTypes(t *testing.T) {
	t.Parallel()
	need(t, "gcc", "pkg-config", "hb-shape", "/usr/include/freetype2/ft2build.h")
	dir := t.TempDir()
	program := filepath.Join(dir, "text")
	ask(t, ".", "gcc", append([]string{"-O2", "-Wall", "-Wextra", "-Werror", "-o", program, "../agree/grey/text.c"}, strings.Fields(ask(t, ".", "pkg-config", "--cflags", "--libs", "freetype2"))...)...)
	texts, worst := 0, 0.0
	for font, list := range shaped {
		need(t, font)
		if strings.Contains(font, "Emoji") {
			continue // pictures, which the browser judges
		}
		for i, text := range list {
			glyphs := placed(t, font, text)
			if slices.ContainsFunc(glyphs, func(g hbGlyph) bool { return g.G == 0 }) {
				continue // the font lacks it
			}
			size := []float64{13, 24, 61.5}[i%3]
			out := filepath.Join(dir, fmt.Sprintf("%d.png", texts))
			var l struct {
				Width, Height, Start, Baseline float64
			}
			require.NoError(t, json.Unmarshal([]byte(notaria(t, 0, dir, "label", font, "--text", text, "--size", fmt.Sprint(size), "--out", out, "--json")), &l))
			img, err := png.Decode(strings.NewReader(readFile(t, out)))
			require.NoError(t, err)
			require.Equal(t, image.Rect(0, 0, int(l.Width), int(l.Height)), img.Bounds())
			want := freeTypes(t, program, font, glyphs, size, l.Start, l.Baseline, img.Bounds())
			sum, inked := 0.0, 0
			for y := range int(l.Height) {
				for x := range int(l.Width) {
					_, _, _, a := img.At(x, y).RGBA()
					got, other := float64(a>>8), float64(want[y*int(l.Width)+x])
					if got != 0 || other != 0 {
						sum, inked = sum+math.Abs(got-other), inked+1
					}
				}
			}
			require.Greater(t, inked, 20, "%s %q", font, text)
			mean := sum / float64(inked)
			require.Less(t, mean, 2.5, "%s %q at %g pixels", font, text, size)
			worst, texts = max(worst, mean), texts+1
		}
	}
	t.Logf("%d texts, the worst mean difference is %.2f of 255", texts, worst)
	require.Greater(t, texts, 40)
}

// A hbGlyph is one at its place, in font units, as hb-shape prints it.
type hbGlyph struct{ G, AX, DX, DY float64 }

func placed(t *testing.T, font, text string, args ...string) (out []hbGlyph) {
	t.Helper()
	args = append([]string{"--output-format=json", "--no-glyph-names", "--no-clusters"}, args...)
	require.NoError(t, json.Unmarshal([]byte(ask(t, ".", "hb-shape", append(args, font, text)...)), &out))
	return out
}

// freeTypes is the coverage of a picture, by FreeType: drawn eight times as large, and the mean of 64 pixels is
// one, since it keeps points in 1/64 of a pixel and bends cubic curves in few lines.
func freeTypes(t *testing.T, program, font string, glyphs []hbGlyph, size, start, baseline float64, box image.Rectangle) []byte {
	t.Helper()
	const fine = 8
	file, err := os.Open(font)
	require.NoError(t, err)
	defer file.Close()
	info, err := file.Stat()
	require.NoError(t, err)
	opened, err := sfnt.Open(file, info.Size())
	require.NoError(t, err)
	head, err := opened.Font(0).Head()
	require.NoError(t, err)
	scale := size / float64(head.UnitsPerEm)
	at := func(pixels float64) string { return fmt.Sprint(int(math.Round(pixels * 64 * fine))) }
	w, h := box.Dx()*fine, box.Dy()*fine
	args := []string{font, at(size), fmt.Sprint(w), fmt.Sprint(h)}
	x := start
	for _, g := range glyphs {
		args = append(args, fmt.Sprint(g.G), at(x+g.DX*scale), at(float64(box.Dy())-baseline+g.DY*scale))
		x += g.AX * scale
	}
	pix, err := hex.DecodeString(strings.TrimSpace(ask(t, ".", program, args...)))
	require.NoError(t, err)
	require.Len(t, pix, w*h)
	pix, _ = coarser(pix, raster.Box{XMax: w, YMax: h}, fine)
	return pix
}
