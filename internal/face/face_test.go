package face_test

import (
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/face"
	"notaria/internal/sfnt"
	"notaria/internal/skerry/letters"
)

// altered is the demo's regular with some tables exchanged.
func altered(t *testing.T, change func(tables map[string][]byte)) []byte {
	t.Helper()
	b, err := letters.Font(letters.Styles[1])
	require.NoError(t, err)
	file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
	require.NoError(t, err)
	tables, err := file.Font(0).Tables()
	require.NoError(t, err)
	change(tables)
	out, err := sfnt.Build(tables)
	require.NoError(t, err)
	return out
}

func read(t *testing.T, b []byte) (face.Face, []face.Problem) {
	t.Helper()
	file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
	require.NoError(t, err)
	f, problems, err := face.Read(file.Font(0), face.Options{Coverage: true, Records: true})
	require.NoError(t, err)
	return f, problems
}

func win(id uint16, v string) sfnt.NameRecord {
	return sfnt.NameRecord{ID: id, Platform: 3, Encoding: 1, Language: 0x409, Value: v}
}

func mac(id uint16, v string) sfnt.NameRecord {
	return sfnt.NameRecord{ID: id, Platform: 1, Value: v}
}

func codes(list []face.Problem) []string {
	var out []string
	for _, p := range list {
		out = append(out, p.Code)
	}
	return out
}

func TestNameProblemsAndTheirMending(t *testing.T) {
	long := strings.Repeat("Long", 20)
	tests := []struct {
		name  string
		names sfnt.Names
		code  string
		after string
	}{
		{"none", sfnt.Names{win(1, "Capstan Slab"), win(2, "Regular"), win(4, "Capstan Slab")}, "no-postscript-name", "CapstanSlab-Regular"},
		{"a space", sfnt.Names{win(1, "Capstan Slab"), win(2, "Regular"), win(6, "Capstan Slab")}, "bad-postscript-name", "CapstanSlab-Regular"},
		{"a slash", sfnt.Names{win(1, "Capstan"), win(2, "Regular"), win(6, "Cap/stan")}, "bad-postscript-name", "Capstan-Regular"},
		{"too long", sfnt.Names{win(1, long), win(2, "Regular"), win(6, long)}, "bad-postscript-name", long[:55] + "-Regular"},
		{"for the Macintosh alone", sfnt.Names{win(1, "Capstan"), win(2, "Regular"), mac(6, "Capstan")}, "mac-only-name", "Capstan-Regular"},
		{"no letter of it is ASCII", sfnt.Names{win(1, "岩礁"), win(2, "太"), win(4, "岩礁 太")}, "no-postscript-name", "Face-Regular"},
	}
	for _, tt := range tests {
		t.Run(tt.name, func(t *testing.T) {
			b := altered(t, func(tables map[string][]byte) {
				var err error
				tables["name"], err = tt.names.Bytes()
				require.NoError(t, err)
			})
			f, problems := read(t, b)
			require.Contains(t, codes(problems), tt.code)
			require.True(t, f.NeedsMending())
			require.Equal(t, tt.after, face.MendedName(f))
			require.Contains(t, problems[0].Cure, tt.after)
			mended, err := face.Mend(b, face.MendedName(f))
			require.NoError(t, err)
			g, problems := read(t, mended)
			require.Empty(t, problems)
			require.Equal(t, tt.after, g.PostScript)
			require.Equal(t, []string{f.Family, f.Style, f.Full}, []string{g.Family, g.Style, g.Full}, "other names stay")
			require.Equal(t, f.Glyphs, g.Glyphs)
		})
	}
	_, err := face.Mend(altered(t, func(map[string][]byte) {}), "not legal")
	require.Error(t, err)
}

func TestPaddedName(t *testing.T) {
	b := altered(t, func(tables map[string][]byte) {
		tables["name"], _ = sfnt.Names{win(1, "Capstan "), win(2, "Regular"), win(6, "Capstan")}.Bytes()
	})
	f, problems := read(t, b)
	require.Equal(t, "Capstan", f.Family)
	require.Equal(t, []string{"padded-name"}, codes(problems))
	require.False(t, f.NeedsMending())
}

func TestContradictions(t *testing.T) {
	os2 := func(weight, selection, embedding uint16) func(map[string][]byte) {
		return func(tables map[string][]byte) {
			tables["OS/2"] = sfnt.OS2{WeightClass: weight, WidthClass: 3, Selection: selection, Embedding: embedding, Panose: [10]byte{2, 6}}.Bytes()
		}
	}
	named := func(style string, then func(map[string][]byte)) func(map[string][]byte) {
		return func(tables map[string][]byte) {
			tables["name"], _ = sfnt.Names{win(1, "Capstan"), win(2, style), win(6, "Capstan-"+strings.ReplaceAll(style, " ", ""))}.Bytes()
			then(tables)
		}
	}
	tests := []struct {
		name   string
		change func(map[string][]byte)
		want   []string
		weight int
	}{
		{"all well", os2(400, 0, 0), nil, 400},
		{"counted to nine", os2(7, sfnt.SelBold, 0), nil, 700},
		{"bold flag on a light", os2(300, sfnt.SelBold, 0), []string{"weight-contradiction"}, 300},
		{"called bold, weighs regular", named("Bold", os2(400, 0, 0)), []string{"weight-contradiction"}, 400},
		{"called semi bold, weighs so", named("Semi Bold", os2(600, 0, 0)), nil, 600},
		{"weight 250", os2(250, 0, 0), []string{"odd-weight"}, 250},
		{"called italic, flagged upright", named("Italic", os2(400, 0, 0)), []string{"slant-contradiction"}, 400},
		{"flagged italic, upright in all else", os2(400, sfnt.SelItalic, 0), []string{"slant-contradiction"}, 400},
		{"leaning, flagged upright", func(tables map[string][]byte) {
			tables["post"] = sfnt.Post{ItalicAngle: -12 << 16}.Bytes(make([]string, 0))
		}, []string{"slant-contradiction"}, 400},
		{"embedding forbidden", os2(400, 0, 2), []string{"embedding-restricted"}, 400},
		{"pictures alone may be embedded", os2(400, 0, 0x0200), []string{"embedding-restricted"}, 400},
	}
	for _, tt := range tests {
		t.Run(tt.name, func(t *testing.T) {
			f, problems := read(t, altered(t, tt.change))
			require.Equal(t, tt.want, codes(problems))
			require.Equal(t, tt.weight, f.Weight)
		})
	}
}

// The altered font is a Skerry Sans, which its name says where PANOSE is silent.
func TestCategoryAndWidth(t *testing.T) {
	for _, tt := range []struct {
		panose [10]byte
		want   string
	}{{[10]byte{2, 11}, "sans"}, {[10]byte{2, 6}, "slab"}, {[10]byte{2, 3}, "serif"}, {[10]byte{3}, "script"}, {[10]byte{4}, "display"}, {[10]byte{5}, "symbol"}, {[10]byte{2, 11, 5, 9}, "mono"}, {[10]byte{}, "sans"}, {[10]byte{2, 0}, "sans"}} {
		f, _ := read(t, altered(t, func(tables map[string][]byte) {
			tables["OS/2"] = sfnt.OS2{WeightClass: 400, WidthClass: 3, Panose: tt.panose}.Bytes()
		}))
		require.Equal(t, tt.want, f.Category, "%v", tt.panose)
		require.Equal(t, 75.0, f.Width)
	}
}

func TestCategoryBySaying(t *testing.T) {
	for family, want := range map[string]string{"Beacon Sans Mono": "mono", "Capstan Slab": "slab", "Lantern": "unknown", "Serifa": "unknown", "Harbour Sans-Serif": "sans", "Deck Icons": "symbol"} {
		f, _ := read(t, altered(t, func(tables map[string][]byte) {
			tables["name"], _ = sfnt.Names{win(1, family), win(2, "Regular"), win(6, "X-Regular")}.Bytes()
			tables["OS/2"] = sfnt.OS2{WeightClass: 400}.Bytes()
		}))
		require.Equal(t, want, f.Category, family)
	}
}

func TestLacks(t *testing.T) {
	f, _ := read(t, altered(t, func(map[string][]byte) {}))
	require.Empty(t, f.Lacks("Ærøskøbing\n24,50 €\u200d\ufe0f"))
	require.Equal(t, []string{"岩", "ğ"}, f.Lacks("岩ğa岩"))
}

func TestVariableInstances(t *testing.T) {
	f, _ := read(t, altered(t, func(tables map[string][]byte) {
		tables["name"], _ = sfnt.Names{win(1, "Beacon Mono"), win(2, "Regular"), win(6, "BeaconMono-Regular"), win(256, "Weight"), win(257, "Extra Bold"), win(258, "BeaconMono-Own"), win(259, "Own"), win(260, "Width")}.Bytes()
		tables["fvar"] = []byte{0, 1, 0, 0, 0, 16, 0, 2, 0, 2, 0, 20, 0, 2, 0, 14,
			'w', 'g', 'h', 't', 0, 100, 0, 0, 1, 0x90, 0, 0, 3, 0x84, 0, 0, 0, 0, 1, 0,
			'w', 'd', 't', 'h', 0, 75, 0, 0, 0, 100, 0, 0, 0, 125, 0, 0, 0, 0, 0x7f, 0xff,
			1, 1, 0, 0, 3, 0x20, 0, 0, 0, 100, 0, 0, 0xff, 0xff,
			1, 3, 0, 0, 1, 0x90, 0, 0, 0, 75, 0x80, 0, 1, 2}
		tables["STAT"] = []byte{0, 1, 0, 1, 0, 8, 0, 1, 0, 0, 0, 20, 0, 0, 0, 0, 0, 0, 1, 1, 'w', 'd', 't', 'h', 1, 4, 0, 1}
	}))
	require.True(t, f.Variable)
	require.Equal(t, []face.Axis{{Tag: "wght", Name: "Weight", Min: 100, Default: 400, Max: 900}, {Tag: "wdth", Name: "Width", Min: 75, Default: 100, Max: 125}}, f.Axes)
	require.Equal(t, "BeaconMono-ExtraBold", f.Instances[0].PostScript, "made as Technical Note 5902 says")
	require.Equal(t, "BeaconMono-Own", f.Instances[1].PostScript)
	require.Equal(t, map[string]float64{"wght": 400, "wdth": 75.5}, f.Instances[1].Coordinates)
}
