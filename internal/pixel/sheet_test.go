package pixel

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/skerry/letters"
)

// some is a font with kerning, descenders and a space.
func some(t testing.TB, depth int) *Font {
	f, _, err := styled(t, letters.Styles[2]).Draw(15, Choice{Characters: []rune(" !ATVgjoé€\\\"<"), Depth: depth, Kerning: true, Hint: depth == 1})
	require.NoError(t, err)
	for i := range f.Glyphs {
		if len(f.Glyphs[i].Pix) == 0 {
			f.Glyphs[i].Pix = nil
		}
	}
	return f
}

func TestSheetThereAndBack(t *testing.T) {
	for _, depth := range Depths {
		f := some(t, depth)
		files, err := f.Sheet("board")
		require.NoError(t, err)
		text, picture := files["board.json"], files["board.png"]
		name, ok := SheetPicture(text)
		require.True(t, ok)
		require.Equal(t, "board.png", name)
		back, err := ReadSheet(text, picture)
		require.NoError(t, err)
		for i := range back.Glyphs {
			if len(back.Glyphs[i].Pix) == 0 {
				back.Glyphs[i].Pix = nil
			}
		}
		require.Equal(t, f, back, "depth %d", depth)
		again, err := back.Sheet("board")
		require.NoError(t, err)
		require.Equal(t, files, again)
	}
}

// A pixel that somebody draws in the picture is a pixel of the font.
func TestSheetEdited(t *testing.T) {
	f := some(t, 1)
	files, err := f.Sheet("board")
	require.NoError(t, err)
	img, err := png.Decode(bytes.NewReader(files["board.png"]))
	require.NoError(t, err)
	cells, _, _, err := f.layout()
	require.NoError(t, err)
	c := cells[1] // "!"
	before, _ := f.Glyph('!')
	draw := img.(*image.NRGBA)
	draw.SetNRGBA(c.X+c.Origin, c.Y+c.Baseline+2, color.NRGBA{A: 255}) // black, three below the baseline
	edited, err := pngBytes(draw)
	require.NoError(t, err)
	back, err := ReadSheet(files["board.json"], edited)
	require.NoError(t, err)
	after, _ := back.Glyph('!')
	require.Equal(t, -3, after.Y)
	require.Equal(t, byte(1), after.at(0, -3))
	require.Equal(t, before.Top(), after.Top())
	// A shade that the depth does not have is an error.
	draw.SetNRGBA(c.X+c.Origin, c.Y+c.Baseline+2, color.NRGBA{A: 90})
	edited, err = pngBytes(draw)
	require.NoError(t, err)
	_, err = ReadSheet(files["board.json"], edited)
	require.ErrorContains(t, err, "expected at most 2 shades for a depth of 1, evenly apart, found 3")
	for want, text := range map[string]string{
		"found no JSON":               "{",
		"expected notaria/sheet/1":    `{"schema": "x", "depth": 1}`,
		"expected a cell in the pic":  `{"schema": "notaria/sheet/1", "depth": 1, "glyphs": [{"character": "a", "x": 9999, "width": 1, "height": 1}]}`,
		"expected one character":      `{"schema": "notaria/sheet/1", "depth": 1, "glyphs": [{"character": "ab"}]}`,
		"expected places of at most ": `{"schema": "notaria/sheet/1", "depth": 1, "glyphs": [{"character": "a", "advance": 1e99}]}`,
	} {
		_, err := ReadSheet([]byte(text), files["board.png"])
		require.ErrorContains(t, err, want)
	}
	_, err = ReadSheet(files["board.json"], []byte("GIF89a"))
	require.ErrorContains(t, err, "expected a picture in PNG")
}

// picture draws rows of text as a PNG, # for ink.
func picture(t testing.TB, ink, ground color.Color, rows ...string) []byte {
	img := image.NewNRGBA(image.Rect(0, 0, len(rows[0]), len(rows)))
	for y, row := range rows {
		for x, c := range row {
			img.Set(x, y, ground)
			if c == '#' {
				img.Set(x, y, ink)
			}
		}
	}
	b, err := pngBytes(img)
	require.NoError(t, err)
	return b
}

func TestStrip(t *testing.T) {
	amber, night := color.NRGBA{255, 176, 0, 255}, color.NRGBA{8, 16, 40, 255}
	strip := picture(t, amber, night, "..........", ".#.##..##.", ".#..#.#.#.", ".#.##..##.", ".......#..", "..........")
	f, err := ReadStrip(strip, Strip{Holds: []rune("1zq"), Baseline: -1})
	require.NoError(t, err)
	require.Equal(t, []Glyph{
		{Rune: '1', Advance: 32, Width: 1, Height: 3, Pix: []byte{1, 1, 1}},
		{Rune: 'q', Advance: 64, Y: -1, Width: 3, Height: 4, Pix: []byte{0, 1, 1, 1, 0, 1, 0, 1, 1, 0, 1, 0}},
		{Rune: 'z', Advance: 48, Width: 2, Height: 3, Pix: []byte{1, 1, 0, 1, 1, 1}},
	}, f.Glyphs)
	require.Equal(t, []int{3, 1, 1}, []int{f.Ascent, f.Descent, f.Depth})
	// A grid keeps the cells' widths; two lines of cells.
	grid := picture(t, color.Black, color.White, "#...##", "#....#", "......", ".#.###", ".#.#.#", "......")
	f, err = ReadStrip(grid, Strip{Holds: []rune("abcd"), Cell: [2]int{3, 3}, Baseline: 2})
	require.NoError(t, err)
	require.Equal(t, []Glyph{
		{Rune: 'a', Advance: 48, Width: 1, Height: 2, Pix: []byte{1, 1}}, {Rune: 'b', Advance: 48, X: 1, Width: 2, Height: 2, Pix: []byte{1, 1, 0, 1}},
		{Rune: 'c', Advance: 48, X: 1, Width: 1, Height: 2, Pix: []byte{1, 1}}, {Rune: 'd', Advance: 48, Width: 3, Height: 2, Pix: []byte{1, 1, 1, 1, 0, 1}},
	}, f.Glyphs)
	// Lines apart by empty rows.
	lines := picture(t, color.White, color.Black, "....", "#.#.", "#.#.", "....", "##..", "#...", "....")
	f, err = ReadStrip(lines, Strip{Holds: []rune("abc"), Baseline: -1})
	require.NoError(t, err)
	require.Len(t, f.Glyphs, 3)
	for want, s := range map[string]Strip{
		"expected 2 glyphs in the picture, apart by empty columns, found 3": {Holds: []rune("ab"), Baseline: -1},
		"expected the characters that the picture holds":                    {},
		"expected 9 cells in the picture, found 1":                          {Holds: []rune("123456789"), Cell: [2]int{4, 7}},
		"expected cells of at most 4x7 pixels":                              {Holds: []rune("1"), Cell: [2]int{9, 9}},
		"expected a baseline of at most 2":                                  {Holds: []rune("abc"), Baseline: 30},
		"expected each character once, found 1 of them twice":               {Holds: []rune("aba"), Baseline: -1},
		"found one colour alone":                                            {Holds: []rune("aba"), Ink: Ink{Ink: color.Black, Ground: color.Black}},
	} {
		_, err := ReadStrip(lines, s)
		require.ErrorContains(t, err, want)
	}
}

func TestTimesAndPad(t *testing.T) {
	glyph := func() *Font {
		return &Font{Depth: 1, Ascent: 2, Glyphs: []Glyph{{Rune: 'a', Advance: 48, X: 0, Y: 0, Width: 2, Height: 2, Pix: []byte{1, 0, 0, 1}}}}
	}
	f := glyph()
	require.NoError(t, f.Times(2))
	require.Equal(t, Glyph{Rune: 'a', Advance: 96, Width: 4, Height: 4, Pix: []byte{1, 1, 0, 0, 1, 1, 0, 0, 0, 0, 1, 1, 0, 0, 1, 1}}, f.Glyphs[0])
	require.Equal(t, 4, f.Ascent)
	f = glyph()
	require.NoError(t, f.Times(1.5))
	require.Equal(t, Glyph{Rune: 'a', Advance: 72, Width: 3, Height: 3, Pix: []byte{1, 0, 0, 1, 0, 0, 0, 1, 1}}, f.Glyphs[0])
	require.NoError(t, f.Pad(2))
	require.Equal(t, []int{2, 72 + 64, 5}, []int{f.Glyphs[0].X, f.Glyphs[0].Advance, f.Ascent})
	require.ErrorContains(t, f.Times(1.3), "expected whole or half times")
	require.ErrorContains(t, f.Times(0), "expected whole or half times")
	require.ErrorContains(t, f.Pad(-1), "a padding of 0 to 256")
	deep := some(t, 4)
	require.NoError(t, deep.Deepen(8))
	require.NoError(t, deep.Deepen(4))
	require.Equal(t, some(t, 4).Glyphs[3], deep.Glyphs[3])
	require.ErrorContains(t, deep.Deepen(5), "found 5")
}

func TestMeasureAndBetween(t *testing.T) {
	f, _, err := source(t).Draw(24, Choice{Characters: []rune("0123456789:"), Depth: 1, SameWidth: []rune("0123456789")})
	require.NoError(t, err)
	all, err := Between("00:00", "23:59")
	require.NoError(t, err)
	e := f.Measure(all)
	require.Equal(t, 1440, e.Texts)
	require.Equal(t, e.Least, e.Advance)
	// Nothing of any value is beyond the rectangle, and it is not larger than need be.
	p, err := NewPanel(200, 60, "mono", color.NRGBA{}, color.NRGBA{})
	require.NoError(t, err)
	all(func(s string) { require.Zero(t, p.Put(f, 50, 40, s)) })
	box := image.Rectangle{}
	for i, v := range p.shade {
		if v != 0 {
			box = box.Union(image.Rect(i%200, i/200, i%200+1, i/200+1))
		}
	}
	require.Equal(t, image.Rect(50+e.X, 40+e.Y, 50+e.X+e.Width, 40+e.Y+e.Height), box)
	for pair, want := range map[string][]string{
		"09:58..10:01": {"09:58", "09:59", "10:00", "10:01"}, "-1..2": {"-1", "0", "1", "2"}, "9.9..10.1": {"9.9", "10.0", "10.1"},
		"Quay 8..Quay 10": {"Quay 8", "Quay 9", "Quay 10"}, "08..11": {"08", "09", "10", "11"}, "0:59:59..1:00:01": {"0:59:59", "1:00:00", "1:00:01"},
		"-0.1 °C..0.1 °C": {"-0.1 °C", "0.0 °C", "0.1 °C"},
	} {
		from, to, _ := strings.Cut(pair, "..")
		texts, err := Between(from, to)
		require.NoError(t, err, pair)
		var got []string
		texts(func(s string) { got = append(got, s) })
		require.Equal(t, want, got)
	}
	for pair, want := range map[string]string{"a..b": "such as 00:00", "00:00..23.59": "of one form", "00:61..01:00": "such as 00:00", "5..4": "the first before the last", "0..9999999": "at most 1048576 values"} {
		from, to, _ := strings.Cut(pair, "..")
		_, err := Between(from, to)
		require.ErrorContains(t, err, want, pair)
	}
}

func TestBraille(t *testing.T) {
	require.Equal(t, "⣿⡇\n⠁\n", Picture{3, 5, []byte{255, 255, 255, 255, 255, 255, 255, 255, 255, 255, 255, 255, 200, 0, 0}}.Braille())
}

func FuzzSheet(f *testing.F) {
	files, err := some(f, 2).Sheet("a")
	require.NoError(f, err)
	f.Add(files["a.json"], files["a.png"])
	f.Fuzz(func(t *testing.T, text, picture []byte) {
		if font, err := ReadSheet(text, picture); err == nil && font.valid() != nil {
			t.Fatal(font.valid())
		}
	})
}

func FuzzStrip(f *testing.F) {
	f.Add(picture(f, color.White, color.Black, "#.#", "#.#", "...", "##.", "#.."), "abc", 0, 0, -1)
	f.Add(picture(f, color.White, color.Black, "#.#", "#.#"), "ab", 1, 2, 1)
	f.Fuzz(func(t *testing.T, data []byte, holds string, w, h, baseline int) {
		if font, err := ReadStrip(data, Strip{Holds: []rune(holds), Cell: [2]int{w, h}, Baseline: baseline}); err == nil && font.valid() != nil {
			t.Fatal(font.valid())
		}
	})
}
