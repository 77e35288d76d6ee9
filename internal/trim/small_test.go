package trim

import (
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/sfnt"
	"notaria/internal/skerry/letters"
)

// Glyphs get new numbers, and everything that names them follows; cutting twice changes nothing.
func TestCut(t *testing.T) {
	data, err := letters.Font(letters.Styles[0])
	require.NoError(t, err)
	f := open(t, data)
	wanted := sfnt.Coverage{{First: 'A', Last: 'V'}, {First: 'é', Last: 'é'}, {First: 'f', Last: 'i'}}
	s, err := Cut(f, wanted)
	require.NoError(t, err)
	require.Empty(t, s.Held)
	require.Equal(t, 0, s.Kept[0])
	small, err := sfnt.Build(s.Tables)
	require.NoError(t, err)
	require.Less(t, len(small), len(data)/2)
	after := open(t, small)
	before, err := f.Paths()
	require.NoError(t, err)
	paths, err := after.Paths()
	require.NoError(t, err)
	require.Equal(t, len(s.Kept), paths.Count())
	for _, r := range "AVéfi" {
		g := paths.Index(r)
		require.Equal(t, before.Index(r), s.Kept[g], string(r))
		require.Equal(t, before.AdvanceOf(before.Index(r)), paths.AdvanceOf(g))
	}
	require.Zero(t, paths.Index('W'))
	old, err := f.Names()
	require.NoError(t, err)
	names, err := after.Names()
	require.NoError(t, err)
	require.Equal(t, old, names, "what is typed on every platform stays")
	again, err := Cut(after, wanted)
	require.NoError(t, err)
	twice, err := sfnt.Build(again.Tables)
	require.NoError(t, err)
	require.Equal(t, small, twice)
}

// What shapers come to by themselves is kept: parts of a letter, letters put together, mirrored brackets.
func TestClosed(t *testing.T) {
	data, err := letters.Font(letters.Styles[0])
	require.NoError(t, err)
	tables, err := open(t, data).Tables()
	require.NoError(t, err)
	delete(tables, "GSUB")
	plain, err := sfnt.Build(tables)
	require.NoError(t, err)
	f := open(t, plain)
	has := sfnt.Coverage{{First: 0x20, Last: 0x17f}, {First: 0x300, Last: 0x36f}, {First: 0x5d0, Last: 0x5ea}, {First: 0x600, Last: 0x6ff}, {First: 0x904, Last: 0x97f}, {First: 0x1100, Last: 0x11ff}, {First: 0x1e00, Last: 0x1eff}, {First: 0x2200, Last: 0x22ff},
		{First: 0x25cc, Last: 0x25cc}, {First: 0xac00, Last: 0xd7a3}, {First: 0xfe70, Last: 0xfefc}}
	for _, tt := range []struct{ wanted, more, not string }{
		{"ae", "", "é"}, {"ae\u0301", "áé\u25cc", "ó"}, {"â\u0301a", "ấá", "à"}, {"é", "", "e\u0301"}, {"(<", "", ")>"}, {"(<א", ")>", ""}, {"א≤", "≥", ""}, {"क\u093c", "\u0958\u25cc", ""}, {"\u1112\u1161\u11ab", "한하", "각"},
		{"بن", "\ufe90\ufee5", "\ufeb0"}, {"\u212b", "\u00c5", ""},
	} {
		var list sfnt.Coverage
		for _, r := range tt.wanted {
			list = append(list, sfnt.Range{First: r, Last: r})
		}
		got := string(closed(f, has, list))
		for _, r := range tt.more {
			require.Contains(t, got, string(r), tt.wanted)
		}
		for _, r := range tt.not {
			require.NotContains(t, got, string(r), tt.wanted)
		}
	}
}

// A maker's word against cutting counts, and so does a reserved name, but for a person who may.
func TestWordsAgainst(t *testing.T) {
	data, err := letters.Font(letters.Styles[0])
	require.NoError(t, err)
	out, err := Open(data, Wish{Characters: []rune("AB"), Ending: ".ttf"}, Words{})
	require.NoError(t, err)
	require.Equal(t, 4, out.Characters)
	tables, err := open(t, data).Tables()
	require.NoError(t, err)
	os2 := append([]byte{}, tables["OS/2"]...)
	os2[8] |= 1
	tables["OS/2"] = os2
	forbidden, err := sfnt.Build(tables)
	require.NoError(t, err)
	_, err = Open(forbidden, Wish{Characters: []rune("AB"), Ending: ".ttf"}, Words{Permitted: true})
	require.ErrorContains(t, err, "no subsetting")
	_, err = Open(data, Wish{Characters: []rune("AB"), Ending: ".otf"}, Words{})
	require.ErrorContains(t, err, "expected the ending .ttf")
	_, err = Open(data, Wish{Characters: []rune("AB"), Ending: ".eot"}, Words{})
	require.ErrorContains(t, err, ".woff2")
	_, err = Open([]byte("no font"), Wish{Characters: []rune("AB"), Ending: ".ttf"}, Words{})
	require.Error(t, err)
}

func FuzzCut(f *testing.F) {
	data, err := letters.Font(letters.Styles[0])
	require.NoError(f, err)
	tables, err := open(f, data).Tables()
	require.NoError(f, err)
	f.Add(tables["GSUB"], tables["GPOS"], tables["GDEF"], tables["kern"], tables["glyf"])
	f.Fuzz(func(_ *testing.T, gsub, gpos, gdef, kern, glyf []byte) {
		with := map[string][]byte{}
		for tag, b := range tables {
			with[tag] = b
		}
		for tag, b := range map[string][]byte{"GSUB": gsub, "GPOS": gpos, "GDEF": gdef, "kern": kern, "glyf": glyf} {
			if len(b) > 0 {
				with[tag] = b
			}
		}
		font, err := sfnt.Build(with)
		if err != nil {
			return
		}
		_, _ = Open(font, Wish{Characters: []rune("ABfié"), Ending: ".ttf"}, Words{Permitted: true})
	})
}
