package sfnt_test

import (
	"bytes"
	"encoding/binary"
	"errors"
	"math/rand"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"unicode/utf16"

	"github.com/stretchr/testify/require"

	"notaria/internal/sfnt"
	"notaria/internal/skerry/letters"
)

// drawn is a real font of ours to take apart.
func drawn(t testing.TB, style int) []byte {
	t.Helper()
	b, err := letters.Font(letters.Styles[style])
	require.NoError(t, err)
	return b
}

func open(t testing.TB, b []byte) *sfnt.Font {
	t.Helper()
	f, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
	require.NoError(t, err)
	require.Equal(t, 1, f.Len())
	return f.Font(0)
}

// readAll asks a file for all that it has; whatever it holds, that must not
// panic.
func readAll(b []byte) {
	file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
	if err != nil {
		return
	}
	for i := range file.Len() {
		f := file.Font(i)
		_, _ = f.Head()
		_, _ = f.Hhea()
		_, _ = f.Maxp()
		_, _ = f.OS2()
		_, _ = f.Post()
		_, _, _ = f.Variations()
		if names, err := f.Names(); err == nil {
			for _, r := range names {
				_ = names.Get(r.ID)
				_ = r.Broken()
			}
		}
		_, _ = f.Coverage()
		_ = f.Format()
	}
}

func TestTablesComeBack(t *testing.T) {
	head := sfnt.Head{Revision: 0x10000, Flags: 3, UnitsPerEm: 2048, Created: 1, Modified: 2, XMin: -5, YMin: -6, XMax: 7, YMax: 8, MacStyle: 3, LowestRecPPEM: 9, LongLoca: true}
	gotHead, err := sfnt.ParseHead(head.Bytes())
	require.NoError(t, err)
	require.Equal(t, head, gotHead)

	hhea := sfnt.Hhea{Ascender: 900, Descender: -200, LineGap: 90, AdvanceMax: 1000, MinLeft: -1, MinRight: -2, XMaxExt: 3, CaretRise: 1, CaretRun: 2, NumHMetrics: 4}
	gotHhea, err := sfnt.ParseHhea(hhea.Bytes())
	require.NoError(t, err)
	require.Equal(t, hhea, gotHhea)

	os2 := sfnt.OS2{Version: 4, AvgCharWidth: 500, WeightClass: 650, WidthClass: 3, Embedding: 8, Panose: [10]byte{2, 11}, UnicodeRange: [4]uint32{1, 2, 3, 4},
		Vendor: "SKRY", Selection: sfnt.SelBold | sfnt.SelItalic, FirstChar: 32, LastChar: 255, TypoAscender: 1, TypoDescender: -2, TypoLine: 3, WinAscent: 4, WinDescent: 5,
		CodePages: [2]uint32{6, 7}, XHeight: 500, CapHeight: 700, StrikeSize: 9, FamilyClass: 0x0800}
	gotOS2, err := sfnt.ParseOS2(os2.Bytes())
	require.NoError(t, err)
	require.Equal(t, os2, gotOS2)

	post, err := sfnt.ParsePost(sfnt.Post{ItalicAngle: -10 << 16, UnderlinePos: -100, UnderlineLen: 50, FixedPitch: true}.Bytes([]string{".notdef", "a"}))
	require.NoError(t, err)
	require.Equal(t, sfnt.Post{ItalicAngle: -10 << 16, UnderlinePos: -100, UnderlineLen: 50, FixedPitch: true}, post)
}

func TestCoverageComesBack(t *testing.T) {
	want := map[rune]uint16{' ': 1, 'a': 2, 'b': 3, 'c': 9, 'é': 4, '€': 5, 0xfffd: 6}
	b, err := sfnt.CmapBytes(want)
	require.NoError(t, err)
	c, err := sfnt.ParseCoverage(b, 10)
	require.NoError(t, err)
	require.Equal(t, len(want), c.Len())
	for r := range want {
		require.True(t, c.Has(r), "%q", r)
	}
	require.False(t, c.Has('d'))
	c, err = sfnt.ParseCoverage(b, 6) // ids beyond the last glyph cover nothing
	require.NoError(t, err)
	require.False(t, c.Has('c'))
	require.Equal(t, 5, c.Len())
	_, err = sfnt.CmapBytes(map[rune]uint16{0x1f600: 1})
	require.Error(t, err)
}

func TestBuildIsSoundAndSteady(t *testing.T) {
	a, b := drawn(t, 1), drawn(t, 1)
	require.Equal(t, a, b, "the same bytes every time")
	var sum uint32
	for i := 0; i+4 <= len(a); i += 4 {
		sum += binary.BigEndian.Uint32(a[i:])
	}
	require.Equal(t, uint32(0xB1B0AFBA), sum, "the checksum of the whole file")
	f := open(t, a)
	require.Equal(t, sfnt.TrueType, f.Format())
	_, err := f.Table("nope")
	require.ErrorIs(t, err, sfnt.ErrNoTable)
}

// records builds a name table by hand, so that it can be wrong on purpose.
func records(list []sfnt.NameRecord, raw map[int][]byte) []byte {
	var head, store []byte
	u16 := func(v int) { head = binary.BigEndian.AppendUint16(head, uint16(v)) }
	u16(0)
	u16(len(list))
	u16(6 + 12*len(list))
	for i, r := range list {
		b, ok := raw[i]
		if !ok {
			for _, u := range utf16.Encode([]rune(r.Value)) {
				b = binary.BigEndian.AppendUint16(b, u)
			}
		}
		u16(int(r.Platform))
		u16(int(r.Encoding))
		u16(int(r.Language))
		u16(int(r.ID))
		u16(len(b))
		u16(len(store))
		store = append(store, b...)
	}
	return append(head, store...)
}

func TestWhichNameWins(t *testing.T) {
	win := func(lang uint16, v string) sfnt.NameRecord {
		return sfnt.NameRecord{ID: 1, Platform: 3, Encoding: 1, Language: lang, Value: v}
	}
	tests := []struct {
		name string
		list []sfnt.NameRecord
		raw  map[int][]byte
		want string
	}{
		{"US English before what is stored first", []sfnt.NameRecord{win(0x0407, "Schäre"), win(0x0409, "Skerry")}, nil, "Skerry"},
		{"British before German", []sfnt.NameRecord{win(0x0407, "Schäre"), win(0x0809, "Skerry")}, nil, "Skerry"},
		{"the only language", []sfnt.NameRecord{win(0x0411, "岩礁")}, nil, "岩礁"},
		{"the first of two alike", []sfnt.NameRecord{win(0x0409, "First"), win(0x0409, "Second")}, nil, "First"},
		{"blank ones are passed over", []sfnt.NameRecord{win(0x0409, "  "), {ID: 1, Platform: 1}}, map[int][]byte{1: []byte("Mac")}, "Mac"},
		{"NULs and spaces come off", []sfnt.NameRecord{win(0x0409, " Skerry\x00 ")}, nil, "Skerry"},
		{"MacRoman", []sfnt.NameRecord{{ID: 1, Platform: 1}}, map[int][]byte{0: {'S', 0x8a, 'r'}}, "Sär"},
		{"Unicode platform", []sfnt.NameRecord{{ID: 1, Platform: 0, Encoding: 3, Value: "Uni"}}, nil, "Uni"},
		{"beyond the BMP", []sfnt.NameRecord{win(0x0409, "Boat 🚢")}, nil, "Boat 🚢"},
		{"none", nil, nil, ""},
	}
	for _, tt := range tests {
		t.Run(tt.name, func(t *testing.T) {
			names, err := sfnt.ParseNames(records(tt.list, tt.raw))
			require.NoError(t, err)
			require.Equal(t, tt.want, names.Get(1))
		})
	}
}

func TestBrokenNames(t *testing.T) {
	names, err := sfnt.ParseNames(records([]sfnt.NameRecord{{ID: 6, Platform: 3, Encoding: 1, Language: 0x409}}, map[int][]byte{0: {0, 'A', 0xd8, 0}}))
	require.NoError(t, err)
	r, ok := names.Best(6)
	require.True(t, ok)
	require.True(t, r.Broken(), "half a surrogate pair")
	// A record that points outside is left out, and the others stay.
	b := records([]sfnt.NameRecord{{ID: 1, Platform: 3, Encoding: 1, Language: 0x409, Value: "In"}, {ID: 2, Platform: 3, Encoding: 1, Language: 0x409, Value: "Out"}}, nil)
	binary.BigEndian.PutUint16(b[6+12+10:], 0xfff0)
	names, err = sfnt.ParseNames(b)
	require.NoError(t, err)
	require.Equal(t, "In", names.Get(1))
	require.Empty(t, names.Get(2))
}

func TestWhatIsNoFont(t *testing.T) {
	eot := make([]byte, 40)
	eot[34], eot[35] = 0x4c, 0x50
	tests := map[string][]byte{
		"empty": nil, "html": []byte("\xef\xbb\xbf\n <!DOCTYPE html><html>not found</html>"), "type1": []byte("%!PS-AdobeFont-1.0: Skerry"), "svg": []byte(`<?xml version="1.0"?><svg xmlns="x">`),
		"pointer": []byte("version https://git-lfs.example/spec/v1\noid sha256:0"), "appledouble": []byte("\x00\x05\x16\x07\x00\x02\x00\x00Mac OS X"),
		"zip": []byte("PK\x03\x04............"), "eot": eot, "text": []byte("Dear customer, thank you for"), "bdf": []byte("STARTFONT 2.1\nFONT x"),
		"short": {0, 1, 0, 0}, "unknown": []byte("\x89\x50\x4e\x47\x0d\x0a\x1a\x0a\x00\x00\x00\x0d\x49\x48"), "fon": []byte("MZ\x0d\x01........"), "suitcase": []byte("\x00\x00\x01\x00\x00\x01\x02\x03....."), "pdf": []byte("%PDF-1.7 ......"),
	}
	for code, b := range tests {
		t.Run(code, func(t *testing.T) {
			_, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
			var no *sfnt.NotFontError
			require.ErrorAs(t, err, &no)
			require.Equal(t, code, no.Code)
			require.NotEmpty(t, no.Cure)
		})
	}
}

func TestHostileDirectories(t *testing.T) {
	good := drawn(t, 0)
	long := append([]byte(nil), good...)
	binary.BigEndian.PutUint32(long[12+12:], 0xffffffff) // 4 GiB in a small file
	many := append([]byte(nil), good...)
	binary.BigEndian.PutUint16(many[4:], 0xffff)
	ttc := []byte("ttcf\x00\x01\x00\x00\xff\xff\xff\xff")
	for name, b := range map[string][]byte{"a length beyond the end": long, "too many tables": many, "half a file": good[:len(good)/2], "too many fonts": ttc} {
		t.Run(name, func(t *testing.T) {
			_, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
			var f *sfnt.FormatError
			require.ErrorAs(t, err, &f)
		})
	}
}

// Thousands of seeded mutants: bits flipped, ends cut, lengths set to extremes.
func TestMutants(t *testing.T) {
	fonts := [][]byte{drawn(t, 0), drawn(t, 3)}
	dice := rand.New(rand.NewSource(7))
	for range 4000 {
		b := append([]byte(nil), fonts[dice.Intn(len(fonts))]...)
		for range 1 + dice.Intn(8) {
			switch at := dice.Intn(len(b)); dice.Intn(4) {
			case 0:
				b[at] ^= 1 << dice.Intn(8)
			case 1:
				b[dice.Intn(min(len(b), 2000))] = byte(dice.Intn(256))
			case 2:
				b = b[:max(at, 16)]
			default:
				if at+4 <= len(b) {
					binary.BigEndian.PutUint32(b[at:], []uint32{0, 1, 0x7fffffff, 0xffffffff, 0x80000000}[dice.Intn(5)])
				}
			}
		}
		readAll(b)
	}
}

func TestErrorsSayWhatWasExpected(t *testing.T) {
	_, err := sfnt.ParseHead([]byte{1})
	require.EqualError(t, err, "table head: expected at least 54 bytes, found 1")
	var f *sfnt.FormatError
	require.True(t, errors.As(err, &f))
}

// small is a drawn font without its outlines: fuzzing wants short inputs.
func small(t testing.TB) []byte {
	t.Helper()
	font := open(t, drawn(t, 0))
	tables := map[string][]byte{}
	for _, tag := range []string{"head", "hhea", "maxp", "OS/2", "name", "cmap"} {
		b, err := font.Table(tag)
		require.NoError(t, err)
		tables[tag] = b
	}
	b, err := sfnt.Build(tables)
	require.NoError(t, err)
	return b
}

func FuzzOpen(f *testing.F) {
	f.Add(small(f))
	f.Add([]byte("ttcf\x00\x01\x00\x00\x00\x00\x00\x01\x00\x00\x00\x10"))
	for _, name := range seeds(f) {
		b, err := os.ReadFile(name)
		if err == nil && len(b) < 1<<20 {
			f.Add(b)
		}
	}
	f.Fuzz(func(_ *testing.T, b []byte) { readAll(b) })
}

// seeds are fonts of the machine, for a long fuzzing run; a plain test run needs
// none.
func seeds(f *testing.F) []string {
	f.Helper()
	dir := os.Getenv("NOTARIA_FONTS")
	if dir == "" {
		return nil
	}
	var out []string
	_ = filepath.WalkDir(dir, func(name string, _ os.DirEntry, err error) error {
		if err == nil && strings.HasSuffix(name, ".ttf") && len(out) < 40 {
			out = append(out, name)
		}
		return nil
	})
	return out
}

func FuzzNames(f *testing.F) {
	t, err := open(f, drawn(f, 0)).Table("name")
	require.NoError(f, err)
	f.Add(t)
	f.Fuzz(func(_ *testing.T, b []byte) {
		names, err := sfnt.ParseNames(b)
		if err != nil {
			return
		}
		for _, r := range names {
			_ = names.Get(r.ID)
			_ = r.Broken()
		}
	})
}

func FuzzCoverage(f *testing.F) {
	t, err := open(f, drawn(f, 0)).Table("cmap")
	require.NoError(f, err)
	f.Add(t, 300)
	f.Fuzz(func(t *testing.T, b []byte, glyphs int) {
		c, err := sfnt.ParseCoverage(b, glyphs)
		if err != nil {
			return
		}
		for i := 1; i < len(c); i++ {
			if c[i].First <= c[i-1].Last {
				t.Fatalf("ranges out of order: %v", c[i-1:i+1])
			}
		}
	})
}

func FuzzVariations(f *testing.F) {
	f.Add([]byte("\x00\x01\x00\x00\x00\x10\x00\x02\x00\x01\x00\x14\x00\x00\x00\x04wght\x00\x64\x00\x00\x01\x90\x00\x00\x03\x84\x00\x00\x00\x00\x01\x00"))
	f.Fuzz(func(_ *testing.T, b []byte) { _, _, _ = sfnt.ParseVariations(b) })
}

// FuzzTables hands the same bytes to the parser of every small table.
func FuzzTables(f *testing.F) {
	font := open(f, drawn(f, 3))
	for _, tag := range []string{"head", "hhea", "maxp", "OS/2", "post"} {
		b, err := font.Table(tag)
		require.NoError(f, err)
		f.Add(b[:min(len(b), 128)])
	}
	f.Add([]byte("\x00\x01\x00\x01\x00\x08\x00\x01\x00\x00\x00\x14\x00\x00\x00\x00\x00\x00\x01\x01wdth\x01\x04\x00\x01"))
	f.Fuzz(func(_ *testing.T, b []byte) {
		_, _ = sfnt.ParseHead(b)
		_, _ = sfnt.ParseHhea(b)
		_, _ = sfnt.ParseMaxp(b)
		_, _ = sfnt.ParseOS2(b)
		_, _ = sfnt.ParsePost(b)
		_, _ = sfnt.ParseAxisNames(b)
	})
}

// A collection gives back the tables of each font, those that are the same once,
// and unwraps to what Build makes of them.
func TestBuildCollection(t *testing.T) {
	var fonts []map[string][]byte
	alone := 0
	for _, st := range letters.Styles {
		b, err := letters.Font(st)
		require.NoError(t, err)
		alone += len(b)
		file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
		require.NoError(t, err)
		tables, err := file.Font(0).Tables()
		require.NoError(t, err)
		fonts = append(fonts, tables)
	}
	fonts[0]["DSIG"] = []byte("of one file")
	out, err := sfnt.BuildCollection(fonts)
	require.NoError(t, err)
	again, err := sfnt.BuildCollection(fonts)
	require.NoError(t, err)
	require.Equal(t, out, again)
	require.Less(t, len(out), alone)
	file, err := sfnt.Open(bytes.NewReader(out), int64(len(out)))
	require.NoError(t, err)
	require.Equal(t, sfnt.Collection, file.Container)
	require.Equal(t, len(fonts), file.Len())
	delete(fonts[0], "DSIG")
	for i, want := range fonts {
		have, err := file.Font(i).Tables()
		require.NoError(t, err)
		require.Equal(t, want, have)
		plain, err := file.Unwrap(i)
		require.NoError(t, err)
		built, err := sfnt.Build(want)
		require.NoError(t, err)
		require.Equal(t, built, plain)
	}
	_, err = sfnt.BuildCollection(nil)
	require.Error(t, err)
	_, err = sfnt.BuildCollection([]map[string][]byte{{"glyf": nil}})
	require.ErrorContains(t, err, "a head table of 54 bytes")
}
