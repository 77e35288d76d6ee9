package pixel

import (
	"bytes"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/sfnt"
	"notaria/internal/skerry/letters"
)

// source is one of the demo's own faces.
func source(t testing.TB) *Source {
	t.Helper()
	b, err := letters.Font(letters.Styles[1])
	require.NoError(t, err)
	file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
	require.NoError(t, err)
	paths, err := file.Font(0).Paths()
	require.NoError(t, err)
	head, err := file.Font(0).Head()
	require.NoError(t, err)
	return &Source{Name: "SkerrySans", Family: "Skerry Sans", UnitsPerEm: int(head.UnitsPerEm), Ascent: 950, Descent: -250, Paths: paths}
}

func never(float64) bool { return false }

// What people ask for a height of is so high, to the pixel.
func TestFit(t *testing.T) {
	s := source(t)
	for _, of := range append(Groups(), "8", "Hg") {
		for _, depth := range Depths {
			for _, height := range []int{7, 12, 41, 60} {
				em, err := s.Fit(height, FitRunes(of), Choice{Depth: depth}, never)
				require.NoError(t, err, "%s %d", of, height)
				f, lacks, err := s.Draw(em, Choice{Characters: FitRunes(of), Depth: depth})
				require.NoError(t, err)
				require.Empty(t, lacks)
				require.Equal(t, height, f.height(FitRunes(of)), "%s at depth %d", of, depth)
			}
		}
	}
	_, err := s.Fit(20, []rune("岩"), Choice{Depth: 1}, never)
	require.ErrorContains(t, err, "characters with ink")
	_, err = s.Fit(0, []rune("8"), Choice{Depth: 1}, never)
	require.ErrorContains(t, err, "a height of 1 to 1024")
	_, _, err = s.Draw(2000, Choice{Depth: 1})
	require.ErrorContains(t, err, "at most 1024 pixels per em")
}

func TestDraw(t *testing.T) {
	f, lacks, err := source(t).Draw(20, Choice{Characters: []rune(" 17岩"), Depth: 4, Tracking: 8, SameWidth: []rune("17")})
	require.NoError(t, err)
	require.Equal(t, []rune("岩"), lacks)
	space, ok := f.Glyph(' ')
	require.True(t, ok)
	require.Empty(t, space.Pix)
	one, _ := f.Glyph('1')
	seven, _ := f.Glyph('7')
	require.Equal(t, one.Advance, seven.Advance)
	require.Zero(t, one.Advance%Sub)
	require.Equal(t, byte(15), slices.Max(one.Pix))
	w, all := f.Width("17")
	require.True(t, all)
	require.Equal(t, 2*one.Advance, w)
	_, all = f.Width("18")
	require.False(t, all)
	require.Equal(t, []rune("8"), f.Only([]rune("18")))
	require.Len(t, f.Glyphs, 1)
}

func TestTrimAndPack(t *testing.T) {
	g := Glyph{Rune: 'a', X: 1, Y: -2, Width: 4, Height: 3, Pix: []byte{0, 0, 0, 0, 0, 3, 1, 0, 0, 0, 0, 0}}.trim()
	require.Equal(t, Glyph{Rune: 'a', X: 2, Y: -1, Width: 2, Height: 1, Pix: []byte{3, 1}}, g)
	require.Equal(t, []byte{0b11010000}, (&Font{Depth: 2}).pack(g))
	require.Equal(t, Glyph{Rune: 'b', Advance: 5}, Glyph{Rune: 'b', Advance: 5, X: 9, Width: 1, Height: 2, Pix: []byte{0, 0}}.trim())
	p := (&Font{Depth: 1, Ascent: 2, Glyphs: []Glyph{{Rune: 'x', Advance: 32, Width: 2, Height: 2, Pix: []byte{1, 0, 1, 1}}, {Rune: 'y', Advance: 16, Width: 1, Height: 1, Y: 1, Pix: []byte{1}}}}).Text("xyz")
	require.Equal(t, Picture{3, 2, []byte{255, 0, 255, 255, 255, 0}}, p)
	require.Equal(t, "█▄▀\n", p.Blocks())
}

func TestBDFThereAndBack(t *testing.T) {
	f, _, err := source(t).Draw(16, Choice{Characters: []rune(" !AQgjy~é"), Depth: 1})
	require.NoError(t, err)
	for i := range f.Glyphs { // BDF counts whole pixels
		f.Glyphs[i].Advance = (f.Glyphs[i].Advance + Sub/2) / Sub * Sub
	}
	var b bytes.Buffer
	require.NoError(t, f.WriteBDF(&b))
	require.True(t, IsBDF(b.Bytes()))
	for _, text := range []string{b.String(), strings.ReplaceAll(b.String(), "\n", "\r\n")} {
		back, err := ReadBDF([]byte(text))
		require.NoError(t, err)
		for i := range back.Glyphs {
			if len(back.Glyphs[i].Pix) == 0 {
				back.Glyphs[i].Pix = nil
			}
		}
		require.Equal(t, f, back)
	}
	f.Depth = 2
	require.ErrorContains(t, f.WriteBDF(&b), "a depth of 1 bit for BDF, found 2")
}

func TestBDFOfOthers(t *testing.T) {
	const head = "STARTFONT 2.1\nCOMMENT x\nFONT -a-b\nSIZE 8 75 75\nFONTBOUNDINGBOX 3 4 0 -1\n"
	f, err := ReadBDF([]byte(head + "CHARS 3\nSTARTCHAR a\nENCODING 97\nDWIDTH 4 0\nBBX 3 2 0 0\nBITMAP\nA0\n40FF\nENDCHAR\nSTARTCHAR none\nENCODING -1\nBBX 0 0 0 0\nBITMAP\nENDCHAR\n" +
		"STARTCHAR twice\nENCODING 97\nBBX 0 0 0 0\nBITMAP\nENDCHAR\nENDFONT\n"))
	require.NoError(t, err)
	require.Equal(t, []Glyph{{Rune: 'a', Advance: 64, Width: 3, Height: 2, Pix: []byte{1, 0, 1, 0, 1, 0}}}, f.Glyphs)
	require.Equal(t, []int{3, 1}, []int{f.Ascent, f.Descent})
	for text, want := range map[string]string{
		"x":                                     `line 1: expected STARTFONT, found "x"`,
		head:                                    "line 6: expected ENDFONT",
		head + "STARTCHAR a\nBBX 1 x 0 0\n":     `line 7: expected a number, found "x"`,
		head + "STARTCHAR a\nBBX 1\n":           "line 7: expected 4 numbers behind BBX",
		head + "STARTCHAR a\nBBX 99999 1 0 0\n": "a box of at most 4096 pixels a side",
		head + "STARTCHAR a\nBBX 9 1 0 0\nBITMAP\nF\nENDCHAR\n": "line 9: expected 4 hexadecimal digits",
		head + "STARTCHAR a\nBBX 1 1 0 0\nENDCHAR\n":            "expected BITMAP before ENDCHAR",
	} {
		_, err := ReadBDF([]byte(text))
		require.ErrorContains(t, err, want)
	}
}

func TestCBytesRefuseWhatDoesNotFit(t *testing.T) {
	for want, g := range map[string]Glyph{"an advance of 0 to 8192": {Advance: -1}, "found 0x0 at 40000, 0": {X: 40000}, "0x0 pixels": {Pix: []byte{1}}, "4096 pixels a side": {Width: 5000}, "an advance of at most 4095 pixels": {Advance: 8000 * Sub}} {
		_, err := (&Font{Depth: 1, Glyphs: []Glyph{g}}).CBytes()
		require.ErrorContains(t, err, want)
	}
	require.Equal(t, "skerry_sans_bold", CName("SkerrySans-Bold"))
	require.Equal(t, "font_7_segments", CName("7 segments"))
	require.Equal(t, "intType", CName("int"))
	require.LessOrEqual(t, len(CName(strings.Repeat("Long", 2500))), mostName)
}

func FuzzBDF(f *testing.F) {
	f.Add([]byte("STARTFONT 2.1\nSTARTCHAR a\nENCODING 97\nDWIDTH 4 0\nBBX 3 2 0 0\nBITMAP\nA0\n40\nENDCHAR\nENDFONT\n"))
	f.Fuzz(func(t *testing.T, data []byte) {
		font, err := ReadBDF(data)
		if err != nil {
			return
		}
		var b bytes.Buffer
		if err := font.WriteBDF(&b); err != nil {
			t.Fatal(err)
		}
		if back, err := ReadBDF(b.Bytes()); err != nil || len(back.Glyphs) != len(font.Glyphs) {
			t.Fatal(err)
		}
	})
}

func FuzzPCF(f *testing.F) {
	f.Add([]byte("\x01fcp\x01\x00\x00\x00\x04\x00\x00\x00\x00\x00\x00\x00\x08\x00\x00\x00\x18\x00\x00\x00\x00\x00\x00\x00\x00\x00\x00\x00"))
	f.Fuzz(func(t *testing.T, data []byte) {
		if font, err := ReadPCF(data); err == nil && font.valid() != nil {
			t.Fatal(font.valid())
		}
	})
}

func FuzzPSF(f *testing.F) {
	f.Add(append([]byte{0x36, 0x04, 2, 1}, make([]byte, 300)...))
	f.Add(append([]byte{0x72, 0xb5, 0x4a, 0x86, 0, 0, 0, 0, 32, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 2, 0, 0, 0, 2, 0, 0, 0, 8, 0, 0, 0}, 1, 2, 'A', 0xff))
	f.Fuzz(func(t *testing.T, data []byte) {
		if font, err := ReadPSF(data); err == nil && font.valid() != nil {
			t.Fatal(font.valid())
		}
	})
}

// A console font of two pictures, and one of X with one, byte by byte.
func TestPSF(t *testing.T) {
	f, err := ReadPSF(append([]byte{0x72, 0xb5, 0x4a, 0x86, 0, 0, 0, 0, 32, 0, 0, 0, 1, 0, 0, 0, 2, 0, 0, 0, 3, 0, 0, 0, 3, 0, 0, 0, 8, 0, 0, 0}, 0x80, 0xC0, 0, 0, 0, 0x01, 'A', 0xC3, 0x84, 0xff, 'j', 0xfe, 'x', 'y', 0xff))
	require.NoError(t, err)
	require.Equal(t, []Glyph{
		{Rune: 'A', Advance: 128, Width: 2, Height: 2, Pix: []byte{1, 0, 1, 1}}, {Rune: 'j', Advance: 128, X: 7, Y: -1, Width: 1, Height: 1, Pix: []byte{1}}, {Rune: 'Ä', Advance: 128, Width: 2, Height: 2, Pix: []byte{1, 0, 1, 1}},
	}, f.Glyphs)
	require.Equal(t, []int{2, 1}, []int{f.Ascent, f.Descent})
	_, err = ReadPSF([]byte{0x36, 0x04, 0, 16})
	require.ErrorContains(t, err, "expected 256 pictures of 8x16 pixels in PSF")
	_, err = ReadPSF([]byte("x"))
	require.ErrorContains(t, err, "expected a PSF file")
}
