package consumers

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"math"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/sfnt"
	"notaria/internal/skerry/letters"
	"notaria/internal/specimen"
	"notaria/internal/trim"
)

// Paints of COLR, version 1, as bytes: what a paint leads to stands behind it.

// be writes numbers of 16 bits.
func be(v ...int) (out []byte) {
	for _, n := range v {
		out = binary.BigEndian.AppendUint16(out, uint16(n))
	}
	return out
}

// f2 is a number of 2 and 14 bits.
func f2(v float64) int { return int(math.Round(v * 16384)) }

// fixed is a number of 16 and 16 bits.
func fixed(v ...float64) (out []byte) {
	for _, n := range v {
		out = binary.BigEndian.AppendUint32(out, uint32(int32(math.Round(n*65536))))
	}
	return out
}

// leading is a paint that leads to one other.
func leading(format byte, to []byte, rest ...byte) []byte {
	n := 4 + len(rest)
	return append(append([]byte{format, 0, byte(n >> 8), byte(n)}, rest...), to...)
}

func solid(colour int, alpha float64) []byte { return append([]byte{2}, be(colour, f2(alpha))...) }

func inside(glyph uint16, paint []byte) []byte { return leading(10, paint, be(int(glyph))...) }

// line is a colour line of red, white with half of its alpha, blue and the text's own colour.
func line(extend byte, at ...float64) []byte {
	out := append([]byte{extend}, be(len(at))...)
	for i, v := range at {
		colour, alpha := i, 1.0
		if i == 3 {
			colour = 0xFFFF
		}
		if i == 1 {
			alpha = 0.5
		}
		out = append(out, be(f2(v), colour, f2(alpha))...)
	}
	return out
}

func composite(mode byte, source, back []byte) []byte {
	n := 8 + len(source)
	return append(append([]byte{32, 0, 0, 8, mode, 0, byte(n >> 8), byte(n)}, source...), back...)
}

// colr joins the paints of glyphs, and the layers that group 1 of the table has.
func colr(paints map[uint16][]byte, layers ...[]byte) []byte {
	u32 := binary.BigEndian.AppendUint32
	var list, bodies []byte
	n := 0
	for g := range uint16(1000) {
		if p, ok := paints[g]; ok {
			list = append(list, be(int(g))...)
			list = u32(list, uint32(4+6*len(paints)+len(bodies)))
			bodies = append(bodies, p...)
			n++
		}
	}
	list = append(append(u32(nil, uint32(n)), list...), bodies...)
	under, stack := u32(nil, uint32(len(layers))), []byte{}
	for _, l := range layers {
		under = u32(under, uint32(4+4*len(layers)+len(stack)))
		stack = append(stack, l...)
	}
	head := be(1, 0, 0, 0, 0, 0, 0)
	for _, at := range []int{34, 34 + len(list), 0, 0, 0} {
		head = u32(head, uint32(at))
	}
	return append(append(append(head, list...), under...), stack...)
}

// parts are the tables and the glyphs of a style that the demo draws.
func parts(t *testing.T, style letters.Style) (map[string][]byte, *sfnt.Paths) {
	t.Helper()
	data, err := letters.Font(style)
	require.NoError(t, err)
	file, err := sfnt.Open(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	tables, err := file.Font(0).Tables()
	require.NoError(t, err)
	paths, err := file.Font(0).Paths()
	require.NoError(t, err)
	return tables, paths
}

// painted is Skerry Sans with one paint for each letter, in the order of their characters.
func painted(t *testing.T) (font []byte, text string) {
	t.Helper()
	tables, paths := parts(t, letters.Styles[2])
	o, x := uint16(paths.Index('O')), uint16(paths.Index('X'))
	flow := leading(4, line(0, 0, 0.4, 1), be(50, 0, 550, 700, 700, -100)...)
	u32 := func(v uint32) []byte { return binary.BigEndian.AppendUint32(nil, v) }
	var list [][]byte
	for extend := range byte(3) {
		list = append(list,
			inside(o, leading(4, line(extend, 0.1, 0.4, 0.7), be(150, 100, 350, 400, 150, 300)...)),
			inside(o, leading(4, line(extend, 0, 0.3, 0.6, 1), be(300, 200, 450, 200, 300, 500)...)),
			inside(o, leading(6, line(extend, 0.2, 0.5, 1), be(330, 350, 40, 330, 350, 220)...)),
			inside(x, leading(6, line(extend, 0, 0.5, 1), be(250, 250, 30, 420, 420, 120)...)),
			inside(x, leading(6, line(extend, 0, 0.5, 1), be(150, 350, 80, 450, 350, 80)...)),
			inside(o, leading(8, line(extend, 0, 0.5, 1), be(330, 350, f2(-0.8), f2(-0.1))...)),
			inside(o, leading(8, line(extend, 0.1, 0.5, 0.6, 0.9), be(330, 350, f2(-1), f2(1))...)))
	}
	list = append(list,
		inside(x, solid(2, 0.6)), inside(x, solid(0xFFFF, 0.5)), inside(o, inside(x, flow)),
		leading(12, inside(x, flow), append([]byte{0, 0, 7}, []byte{}...)...), // its matrix is put in below
		leading(14, inside(x, flow), be(40, -60)...),
		leading(16, inside(x, flow), be(f2(0.5), f2(1.5))...),
		leading(18, inside(x, flow), be(f2(0.5), f2(-0.7), 300, 350)...),
		leading(20, inside(x, flow), be(f2(0.6))...),
		leading(22, inside(x, flow), be(f2(-0.6), 300, 350)...),
		leading(24, inside(x, flow), be(f2(0.1))...),
		leading(26, inside(x, flow), be(f2(0.3), 300, 350)...),
		leading(28, inside(x, flow), be(f2(0.1), f2(0.05))...),
		leading(30, inside(x, flow), be(f2(0.1), f2(-0.1), 300, 350)...),
		inside(x, leading(26, flow, be(f2(0.5), 300, 350)...)), // the brush alone is turned
		append([]byte{1, 2}, u32(0)...),
		append([]byte{3}, append(be(0, f2(0.8)), 0xff, 0xff, 0xff, 0xff)...),
	)
	for i, p := range list {
		switch {
		case p[0] == 12: // format, to the paint, to the matrix: the paint behind it
			kid := inside(x, flow)
			list[i] = append(append([]byte{12, 0, 0, 31, 0, 0, 7}, fixed(0.8, 0.2, -0.3, 0.9, 60, 20)...), kid...)
		case p[0] == 3: // a fill needs an outline
			list[i] = inside(x, p)
		}
	}
	for mode := range byte(28) {
		list = append(list, composite(mode, inside(o, solid(2, 0.7)), inside(x, leading(4, line(0, 0, 0.5, 1), be(100, 0, 500, 0, 100, 500)...))))
	}
	paints := map[uint16][]byte{}
	chars := "ABCDEFGHIJKLMNPQRSTUVWYZabcdefghijklmnopqrstuvwxyz0123456789!#$%&()*+-/:;<=>?@[]{}~"
	used := []rune(chars)[:len(list)]
	for i, r := range used {
		g := uint16(paths.Index(r))
		require.NotZero(t, g, string(r))
		paints[g] = list[i]
	}
	// One glyph is painted as another one.
	more := []rune(chars)[len(list)]
	paints[uint16(paths.Index(more))] = append([]byte{11}, be(paths.Index(used[0]))...)
	tables["COLR"] = colr(paints, inside(o, solid(0, 1)), inside(x, solid(2, 0.5)))
	tables["CPAL"] = append(be(0, 3, 1, 3, 0, 14, 0), 0x20, 0x20, 0xE0, 255, 255, 255, 255, 255, 0xD0, 0x60, 0x10, 255)
	font, err := sfnt.Build(tables)
	require.NoError(t, err)
	return font, string(used) + string(more)
}

// cells draws each character of a text in a cell of its own, as cells.mjs does.
func cells(t *testing.T, font []byte, text string, at map[string]float64) *image.NRGBA {
	t.Helper()
	file, err := sfnt.Open(bytes.NewReader(font), int64(len(font)))
	require.NoError(t, err)
	font, err = file.Unwrap(0)
	require.NoError(t, err)
	face, err := specimen.Load(font, at)
	require.NoError(t, err)
	chars := []rune(text)
	d := &specimen.Drawing{W: 1280, H: float64(128 * ((len(chars) + 9) / 10)), Ground: color.NRGBA{255, 255, 255, 255}}
	for i, r := range chars {
		_, err := d.Set(face, string(r), float64(128*(i%10)+16), float64(128*(i/10)+100), specimen.Style{Size: 96, Colour: color.NRGBA{A: 255}})
		require.NoError(t, err)
	}
	img, err := d.Picture(1)
	require.NoError(t, err)
	return img
}

// differ is the mean difference of the pixels that are inked in a cell of either picture.
func differ(a *image.NRGBA, b image.Image, cell int) (mean float64, inked int) {
	sum := 0.0
	for y := 128 * (cell / 10); y < 128*(cell/10+1); y++ {
		for x := 128 * (cell % 10); x < 128*(cell%10+1); x++ {
			p, q := a.NRGBAAt(x, y), color.NRGBAModel.Convert(b.At(x, y)).(color.NRGBA)
			if white := (color.NRGBA{255, 255, 255, 255}); p == white && q == white {
				continue
			}
			inked++
			for _, v := range [][2]uint8{{p.R, q.R}, {p.G, q.G}, {p.B, q.B}} {
				sum += math.Abs(float64(v[0])-float64(v[1])) / 3
			}
		}
	}
	return sum / float64(max(inked, 1)), inked
}

// pictured is Skerry Sans with a picture of A in two sizes.
func pictured(t *testing.T) []byte {
	t.Helper()
	tables, paths := parts(t, letters.Styles[1])
	u32 := binary.BigEndian.AppendUint32
	table := append(be(1, 1), u32(u32(u32(nil, 2), 16), 0)...)
	for _, ppem := range []int{48, 120} {
		if ppem == 120 {
			binary.BigEndian.PutUint32(table[12:], uint32(len(table)))
		}
		var b bytes.Buffer
		img := image.NewNRGBA(image.Rect(0, 0, ppem*3/4, ppem/2))
		for y := range ppem / 2 {
			for x := range ppem * 3 / 4 {
				img.SetNRGBA(x, y, color.NRGBA{uint8(x * 255 / ppem), 90, uint8(y * 510 / ppem), uint8(255 - y*300/ppem)})
			}
		}
		require.NoError(t, png.Encode(&b, img))
		drawn := append(append(be(ppem/10, -ppem/8), "png "...), b.Bytes()...)
		table = append(table, be(ppem, 72)...)
		at, bodies := 4+4*(paths.Count()+1), []byte{}
		for g := range paths.Count() {
			table = u32(table, uint32(at+len(bodies)))
			switch g {
			case paths.Index('A'):
				bodies = append(bodies, drawn...)
			}
		}
		table = append(u32(table, uint32(at+len(bodies))), bodies...)
	}
	tables["sbix"] = table
	font, err := sfnt.Build(tables)
	require.NoError(t, err)
	return font
}

// Glyphs in colour look as they do in a browser: every kind of paint, each way to lay one on another, and
// real fonts of gradients and of pictures.
func TestColoursAreTheBrowsers(t *testing.T) {
	t.Parallel()
	npmHome(t)
	need(t, "node", "chromium", "ots-sanitize")
	dir := t.TempDir()
	own, text := painted(t)
	write(t, filepath.Join(dir, "own.ttf"), string(own))
	require.Contains(t, ask(t, ".", "ots-sanitize", filepath.Join(dir, "own.ttf"), os.DevNull), "successfully")
	compare := func(name, font, text string, most float64, at map[string]float64) {
		shot := filepath.Join(dir, name+".png")
		settings := "normal"
		for tag, v := range at {
			settings = strings.TrimPrefix(settings+fmt.Sprintf(", '%s' %g", tag, v), "normal, ")
		}
		ask(t, ".", "node", "npm/cells.mjs", font, text, shot, settings)
		want, err := png.Decode(strings.NewReader(readFile(t, shot)))
		require.NoError(t, err)
		got := cells(t, []byte(readFile(t, font)), text, at)
		if at := os.Getenv("NOTARIA_PICTURES"); at != "" { // to be looked at
			var b bytes.Buffer
			require.NoError(t, png.Encode(&b, got))
			write(t, filepath.Join(at, name+"-ours.png"), b.String())
			write(t, filepath.Join(at, name+"-browser.png"), readFile(t, shot))
		}
		worst, drawn := 0.0, 0
		for i, r := range []rune(text) {
			mean, inked := differ(got, want, i)
			require.LessOrEqual(t, mean, most, "%s %q: %d pixels", name, r, inked)
			worst = max(worst, mean)
			if inked > 100 {
				drawn++
			}
		}
		require.GreaterOrEqual(t, drawn, max(len([]rune(text))-1, 1), "a paint that is cleared is nothing")
		t.Logf("%s: %d glyphs, the worst mean difference is %.2f of 255", name, drawn, worst)
	}
	compare("own", filepath.Join(dir, "own.ttf"), text, 2.5, nil)
	write(t, filepath.Join(dir, "pictures.ttf"), string(pictured(t)))
	compare("pictures", filepath.Join(dir, "pictures.ttf"), "A", 2.5, nil)
	for _, f := range []struct {
		name, font, text string
		most             float64
		at               map[string]float64
	}{
		{"gradients", "../../.consumers/fonts/foldit-latin-900-normal.woff2", "Ferry0740QZ&g", 2.5, nil},
		// Edges lie on edges there.
		{"layers", "../../.consumers/fonts/honk-latin-full-normal.woff2", "Ferry0740QZ&g", 4.5, map[string]float64{"MORF": 15, "SHLN": 50}},
		{"moved", "../../.consumers/fonts/honk-latin-full-normal.woff2", "Ferry0740QZ&g", 4.5, map[string]float64{"MORF": 38, "SHLN": 12}},
		{"bitmaps", "/usr/share/fonts/truetype/noto/NotoColorEmoji.ttf", "⛴🚢😀🌊🚀7", 2.5, nil},
	} {
		need(t, f.font)
		compare(f.name, f.font, f.text, f.most, f.at)
		if f.name != "moved" { // what is cut down looks the same
			small := filepath.Join(dir, f.name+"-small.ttf")
			write(t, small, string(cutDown(t, readFile(t, f.font), f.text)))
			compare(f.name+"-small", small, f.text, f.most, f.at)
		}
	}
}

// Shadows are as soft, and outlines as wide, as a browser draws them.
func TestShadowsAndOutlinesAreTheBrowsers(t *testing.T) {
	t.Parallel()
	npmHome(t)
	need(t, "node", "chromium")
	dir := t.TempDir()
	data, err := letters.Font(letters.Styles[2])
	require.NoError(t, err)
	font := filepath.Join(dir, "own.ttf")
	write(t, font, string(data))
	face, err := specimen.Load(data, nil)
	require.NoError(t, err)
	for i, s := range []struct{ x, y, blur, outline float64 }{{12, 18, 0, 0}, {9, 15, 12, 0}, {-18, 24, 33, 0}, {0, 0, 60, 0}, {6, 6, 9, 9}, {0, 0, 0, 21}} {
		shot := filepath.Join(dir, "shot.png")
		ask(t, ".", "node", "npm/styled.mjs", font, "Ferry VA", shot, fmt.Sprint(s.x), fmt.Sprint(s.y), fmt.Sprint(s.blur), fmt.Sprint(s.outline))
		want, err := png.Decode(strings.NewReader(readFile(t, shot)))
		require.NoError(t, err)
		d := &specimen.Drawing{W: 1280, H: 480, Ground: color.NRGBA{255, 255, 255, 255}}
		_, err = d.Set(face, "Ferry VA", 40, 320, specimen.Style{Size: 300, Colour: color.NRGBA{0xC0, 0x20, 0x10, 255}, Outline: s.outline, Edge: color.NRGBA{0x10, 0x80, 0x30, 255},
			Shadow: &specimen.Shadow{X: s.x, Y: s.y, Blur: s.blur, Colour: color.NRGBA{10, 40, 160, 153}}})
		require.NoError(t, err)
		got, err := d.Picture(1)
		require.NoError(t, err)
		if at := os.Getenv("NOTARIA_PICTURES"); at != "" { // to be looked at
			var b bytes.Buffer
			require.NoError(t, png.Encode(&b, got))
			write(t, filepath.Join(at, fmt.Sprintf("styled%d-ours.png", i)), b.String())
			write(t, filepath.Join(at, fmt.Sprintf("styled%d-browser.png", i)), readFile(t, shot))
		}
		mean, inked := 0.0, 0
		for cell := range 40 {
			m, n := differ(got, want, cell)
			mean, inked = mean+m*float64(n), inked+n
		}
		require.Less(t, mean/float64(inked), 1.5, "%+v: %d pixels", s, inked)
		t.Logf("%+v: %.2f of 255 in %d pixels", s, mean/float64(inked), inked)
	}
}

// cutDown is a font with the characters of a text alone.
func cutDown(t *testing.T, font, text string) []byte {
	t.Helper()
	file, err := sfnt.Open(strings.NewReader(font), int64(len(font)))
	require.NoError(t, err)
	plain, err := file.Unwrap(0)
	require.NoError(t, err)
	file, err = sfnt.Open(bytes.NewReader(plain), int64(len(plain)))
	require.NoError(t, err)
	runes := []rune(text)
	slices.Sort(runes)
	var wanted sfnt.Coverage
	for _, r := range slices.Compact(runes) {
		wanted = append(wanted, sfnt.Range{First: r, Last: r})
	}
	tables, err := trim.Characters(file.Font(0), wanted)
	require.NoError(t, err)
	small, err := sfnt.Build(tables)
	require.NoError(t, err)
	return small
}
