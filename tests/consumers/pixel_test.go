package consumers

import (
	"bytes"
	"compress/gzip"
	"fmt"
	"io"
	"math/rand"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/layout"
	"notaria/internal/pixel"
	"notaria/internal/sfnt"
	"notaria/internal/skerry"
)

// pixelSource is a face of the demo's, to draw from.
func pixelSource(t *testing.T) *pixel.Source {
	t.Helper()
	dir := filepath.Join(t.TempDir(), "skerry")
	require.NoError(t, skerry.Place(dir))
	notaria(t, 0, dir, "enrol", filepath.Join(dir, skerry.ArchiveName), "--styles", "bold")
	b := []byte(readFile(t, filepath.Join(dir, "type/SkerrySans-Bold.ttf")))
	file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
	require.NoError(t, err)
	paths, err := file.Font(0).Paths()
	require.NoError(t, err)
	kerning := layout.NewKerning(file.Font(0))
	require.NotNil(t, kerning)
	return &pixel.Source{Name: "SkerrySans-Bold", Family: "Skerry Sans", UnitsPerEm: 1000, Ascent: 950, Descent: -250, Paths: paths, Kern: kerning}
}

// tallied is what the judges' tally makes of text.
func tallied(f *pixel.Font, text string, x, y int) string {
	pen, sum, count, last := 0, uint32(0), 0, rune(0)
	add := func(v int) { sum = sum*31 + uint32(uint16(v)) }
	for _, r := range text {
		g, ok := f.Glyph(r)
		if !ok {
			continue
		}
		pen, last = pen+f.Kern(last, r), r
		for i, ink := range g.Pix {
			if ink != 0 {
				add(x + (pen+8)/16 + g.X + i%g.Width)
				add(y - g.Top() + i/g.Width)
				add(int(ink))
				count++
			}
		}
		pen += g.Advance
	}
	return fmt.Sprintf("%d %d %d", pen, count, sum)
}

// A hundred random subsets in every depth come back from C as they were drawn.
func TestPixelFontsInC(t *testing.T) {
	t.Parallel()
	need(t, "gcc")
	s, dir, rnd := pixelSource(t), t.TempDir(), rand.New(rand.NewSource(11))
	all := []rune(" !0123456789:ABCGHQRXabcdefgjkpqxyzäéÅ€°")
	main, want := "#include <stdio.h>\n#include \"judge.h\"\n", ""
	body := "int main(void)\n{\n    tally t;\n    int32_t w;\n"
	sources := []string{"main.c"}
	for i := range 100 {
		rnd.Shuffle(len(all), func(a, b int) { all[a], all[b] = all[b], all[a] })
		f, lacks, err := s.Draw(float64(6+rnd.Intn(60)), pixel.Choice{Characters: all[:1+rnd.Intn(len(all)-1)], Depth: pixel.Depths[i%4], Tracking: rnd.Intn(20), Kerning: true, Hint: i%3 == 0})
		require.NoError(t, err)
		require.Empty(t, lacks)
		name := fmt.Sprintf("font_%d", i)
		files, err := f.C(name)
		require.NoError(t, err)
		for file, text := range files {
			write(t, filepath.Join(dir, file), string(text))
		}
		sources = append(sources, name+".c")
		main += fmt.Sprintf("#include \"%s.h\"\n", name)
		text := string(all[:8]) + "岩"
		body += fmt.Sprintf("    t.sum = 0;\n    t.count = 0;\n    w = pixel_text(%s, \"%s\", 5, 70, tally_put, &t);\n    printf(\"%%ld %%ld %%lu %%d\\n\", (long) w, (long) t.count, (unsigned long) t.sum, pixel_line(%s));\n", name, octal(text), name)
		want += tallied(f, text, 5, 70) + fmt.Sprintf(" %d\n", f.LineHeight())
	}
	write(t, filepath.Join(dir, "judge.h"), readFile(t, "testdata/pixel/judge.h"))
	write(t, filepath.Join(dir, "main.c"), main+body+"    return 0;\n}\n")
	require.Empty(t, ask(t, dir, "gcc", append([]string{"-std=c99", "-Wall", "-Wextra", "-Werror", "-pedantic", "-O1", "-o", "judge"}, sources...)...))
	require.Equal(t, want, ask(t, dir, filepath.Join(dir, "judge")))
}

// octal writes text as C takes it between quotes, whatever stands behind it.
func octal(s string) string {
	var b strings.Builder
	for _, c := range []byte(s) {
		fmt.Fprintf(&b, `\%03o`, c)
	}
	return b.String()
}

// An 8-bit board draws the same; the pictures stay in its flash.
func TestPixelFontOnAnEightBitBoard(t *testing.T) {
	t.Parallel()
	need(t, "avr-gcc", "avr-size", "simavr", "/usr/lib/avr/include/avr/pgmspace.h")
	s, dir := pixelSource(t), t.TempDir()
	for _, depth := range pixel.Depths {
		f, _, err := s.Draw(30, pixel.Choice{Characters: []rune(" 0123456789:°"), Depth: depth, SameWidth: []rune("0123456789")})
		require.NoError(t, err)
		files, err := f.C("board")
		require.NoError(t, err)
		for file, text := range files {
			write(t, filepath.Join(dir, file), string(text))
		}
		for _, file := range []string{"judge.h", "avr.c"} {
			write(t, filepath.Join(dir, file), readFile(t, "testdata/pixel/"+file))
		}
		require.Empty(t, ask(t, dir, "avr-gcc", "-mmcu=atmega328p", "-std=c99", "-Os", "-Wall", "-Wextra", "-Werror", "-o", "board.elf", "avr.c", "board.c"))
		sizes := strings.Fields(strings.Split(ask(t, dir, "avr-size", "board.elf"), "\n")[1])
		require.Equal(t, []string{"10", "0"}, sizes[1:3], "bytes in RAM: the text that the program draws")
		out, _ := try(t, dir, "timeout", "120", "simavr", "-m", "atmega328p", "-f", "16000000", "board.elf") // its exit code says nothing
		require.Contains(t, out, tallied(f, "07:40 °", 3, 40), "depth %d: %s", depth, out)
	}
}

// judged is how the judges of display libraries print a glyph.
func judged(f *pixel.Font, r rune) string {
	g, ok := f.Glyph(r)
	if !ok {
		return fmt.Sprintf("%x none\n", r)
	}
	return fmt.Sprintf("%x %d %d %d %d %d %x\n", r, g.Advance, g.X, g.Y, g.Width, g.Height, g.Pix)
}

// libraryFonts draws random subsets, has a form written for each, compiles all of them with a
// judge, and compares every glyph.
func libraryFonts(t *testing.T, folder string, compile []string, draw func(rnd *rand.Rand, i int) (*pixel.Font, map[string][]byte)) {
	t.Helper()
	need(t, "gcc")
	dir, rnd := t.TempDir(), rand.New(rand.NewSource(12))
	all := []rune(" !0189:@ABCMWaghjmz~°äÅ€Ωя")
	main, body, want := "#include \"judge.h\"\n", "", ""
	sources := []string{"main.c"}
	for i := range 100 {
		f, files := draw(rnd, i)
		for file, text := range files {
			write(t, filepath.Join(dir, file), string(text))
		}
		name := fmt.Sprintf("font_%d", i)
		sources, main = append(sources, name+".c"), main+"#include \""+name+".h\"\n"
		ref := name
		if folder == "lvgl" {
			ref = "&" + name
		}
		for _, r := range append(all, '#') {
			body += fmt.Sprintf("    show(%s, 0x%x);\n", ref, r)
			want += judged(f, r)
		}
		for _, pair := range []string{"WA", "Wa", "az", "gj"} {
			if folder == "lvgl" {
				body += fmt.Sprintf("    kern(%s, '%c', '%c');\n", ref, pair[0], pair[1])
				want += fmt.Sprintf("kern %d\n", f.Kern(rune(pair[0]), rune(pair[1])))
			}
		}
	}
	require.NoError(t, filepath.WalkDir("testdata/pixel/"+folder, func(p string, d os.DirEntry, err error) error {
		if err == nil && !d.IsDir() {
			write(t, filepath.Join(dir, filepath.Base(p)), readFile(t, p))
		}
		return err
	}))
	write(t, filepath.Join(dir, "main.c"), main+"\nint main(void)\n{\n"+body+"    return 0;\n}\n")
	require.Empty(t, ask(t, dir, "gcc", append(append([]string{"-std=c99", "-Wall", "-Wextra", "-Werror", "-pedantic", "-I.", "-o", "judge"}, compile...), sources...)...))
	require.Equal(t, want, ask(t, dir, filepath.Join(dir, "judge")))
}

// subset draws some of the characters at some size.
func subset(t *testing.T, s *pixel.Source, rnd *rand.Rand, depth int, most float64) *pixel.Font {
	t.Helper()
	all := []rune(" !0123456789:@ABCDEFGMWabcdefghijkmz~°äÅ€")
	rnd.Shuffle(len(all), func(a, b int) { all[a], all[b] = all[b], all[a] })
	f, _, err := s.Draw(6+rnd.Float64()*most, pixel.Choice{Characters: all[:1+rnd.Intn(len(all)-1)], Depth: depth, Kerning: true, Hint: rnd.Intn(2) == 0})
	require.NoError(t, err)
	return f
}

func TestPixelFontsOfLVGL(t *testing.T) {
	t.Parallel()
	s := pixelSource(t)
	for _, version := range []string{"8", "9"} {
		libraryFonts(t, "lvgl", []string{"-DLVGL_VERSION_MAJOR=" + version}, func(rnd *rand.Rand, i int) (*pixel.Font, map[string][]byte) {
			f := subset(t, s, rnd, pixel.Depths[i%4], 60)
			include := ""
			if i%5 == 0 {
				include = `"lvgl.h"`
			}
			packed := i/4%2 == 1
			if packed && f.Depth == 8 { // the library unpacks no such pixels
				_, err := f.LVGL("font", include, true)
				require.ErrorContains(t, err, "expected a depth of 1, 2 or 4 bits for compressed pixels")
				packed = false
			}
			files, err := f.LVGL(fmt.Sprintf("font_%d", i), include, packed)
			require.NoError(t, err)
			return f, files
		})
	}
}

func TestPixelFontsOfU8g2(t *testing.T) {
	t.Parallel()
	s := pixelSource(t)
	libraryFonts(t, "u8g2", nil, func(rnd *rand.Rand, i int) (*pixel.Font, map[string][]byte) {
		f := subset(t, s, rnd, 1, 34)
		for k := range f.Glyphs { // it counts whole pixels
			f.Glyphs[k].Advance = (f.Glyphs[k].Advance + 8) / 16 * 16
		}
		files, err := f.U8G2(fmt.Sprintf("font_%d", i))
		require.NoError(t, err)
		return f, files
	})
}

// Bitmap fonts of the system: read, written as BDF and read again they are the same; and those
// of X are pixel by pixel what FreeType reads.
func TestBitmapFontsThereAndBack(t *testing.T) {
	t.Parallel()
	need(t, "gcc", "pkg-config", "/usr/include/freetype2/ft2build.h", "/usr/share/fonts/X11/misc/6x13-ISO8859-1.pcf.gz", "/usr/share/consolefonts/Lat15-Fixed16.psf.gz")
	program := filepath.Join(t.TempDir(), "grey")
	ask(t, ".", "gcc", append([]string{"-O2", "-o", program, "../agree/grey/grey.c"}, strings.Fields(ask(t, ".", "pkg-config", "--cflags", "--libs", "freetype2"))...)...)
	files, err := filepath.Glob("/usr/share/fonts/X11/misc/*.pcf.gz")
	require.NoError(t, err)
	console, err := filepath.Glob("/usr/share/consolefonts/*.psf.gz")
	require.NoError(t, err)
	glyphs, compared := 0, 0
	for i, name := range append(files, console...) {
		f := bitmapFont(t, name)
		glyphs += len(f.Glyphs)
		var b bytes.Buffer
		require.NoError(t, f.WriteBDF(&b), name)
		back, err := pixel.ReadBDF(b.Bytes())
		require.NoError(t, err, name)
		require.Equal(t, len(f.Glyphs), len(back.Glyphs), name)
		for k, g := range f.Glyphs {
			h := back.Glyphs[k]
			require.True(t, g.Rune == h.Rune && g.Advance == h.Advance && g.X == h.X && g.Y == h.Y && g.Width == h.Width && bytes.Equal(g.Pix, h.Pix), "%s U+%04X", name, g.Rune)
		}
		if i < len(files) && i%4 == 0 {
			compared += pixelsAreFreeTypes(t, program, name, f)
		}
	}
	require.Greater(t, compared, 1000)
	require.Greater(t, glyphs, 100_000)
	t.Logf("%d files, %d glyphs; %d compared with FreeType", len(files)+len(console), glyphs, compared)
}

// bitmapFont reads a font that gzip packed.
func bitmapFont(t *testing.T, name string) *pixel.Font {
	t.Helper()
	packed, err := os.Open(name)
	require.NoError(t, err)
	defer packed.Close()
	r, err := gzip.NewReader(packed)
	require.NoError(t, err)
	data, err := io.ReadAll(r)
	require.NoError(t, err)
	read := pixel.ReadPCF
	if pixel.IsPSF(data) {
		read = pixel.ReadPSF
	}
	f, err := read(data)
	require.NoError(t, err, name)
	return f
}

// pixelsAreFreeTypes compares the glyphs of Latin that FreeType finds by their codepoints.
func pixelsAreFreeTypes(t *testing.T, program, name string, f *pixel.Font) int {
	t.Helper()
	args := []string{name, "strike"}
	for r := '!'; r <= '~'; r++ {
		args = append(args, fmt.Sprintf("%x", r))
	}
	out, err := try(t, ".", program, args...)
	if err != nil || out == "" {
		return 0 // of an encoding that is no Unicode for FreeType
	}
	lines := strings.Split(strings.TrimSpace(out), "\n")
	for _, line := range lines {
		var r rune
		var left, top, w, h, advance int
		_, err := fmt.Sscanf(line, "%x %d %d %d %d %d", &r, &left, &top, &w, &h, &advance)
		require.NoError(t, err, line)
		g, ok := f.Glyph(r)
		require.True(t, ok, "%s U+%04X", name, r)
		require.Equal(t, []int{left, top, w, h, advance / 4}, []int{g.X, g.Top(), g.Width, g.Height, g.Advance}, "%s U+%04X", name, r)
		if fields := strings.Fields(line); w > 0 && h > 0 {
			require.Equal(t, fields[6], fmt.Sprintf("%x", g.Pix), "%s U+%04X", name, r)
		}
	}
	return len(lines)
}

// FreeType, by which fontconfig reads, and bdftopcf find the characters of a BDF by Unicode.
func TestBDFIsUnicode(t *testing.T) {
	t.Parallel()
	need(t, "fc-scan", "bdftopcf")
	dir := dressed(t)
	notaria(t, 0, dir, "pixel", "SkerrySans-Bold", "--height", "16", "--characters", "Ærø 07:40", "--as", "bdf", "--out", filepath.Join(dir, "bdf"))
	file := filepath.Join(dir, "bdf/skerry_sans_bold_16.bdf")
	const want = "Skerry Sans 30 34 37 3a 72 c6 f8\n"
	require.Equal(t, want, ask(t, ".", "fc-scan", "--format", "%{family} %{charset}\n", file))
	ask(t, ".", "bdftopcf", "-o", file+".pcf", file)
	require.Equal(t, want, ask(t, ".", "fc-scan", "--format", "%{family} %{charset}\n", file+".pcf"))
}
