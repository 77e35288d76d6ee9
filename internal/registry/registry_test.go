package registry

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/edit"
)

func TestAddAndStrikeKeepEveryByte(t *testing.T) {
	mine := `# my own words

folder = "letters"   # a comment

[check]
system = ["House"]

# about the next one
[[face]]
name = 'A'
file = "letters/A.ttf" # [[face]] in a comment
note_is_no_key_here = 1
`
	_, err := Parse([]byte(mine))
	require.ErrorContains(t, err, "note_is_no_key_here")
	mine = strings.Replace(mine, "note_is_no_key_here = 1\n", "", 1) + "\n# the end\n"
	r, err := Parse([]byte(mine))
	require.NoError(t, err)
	require.Equal(t, "letters", r.Folder)

	r.AddFace(Face{Name: "B \"quoted\"\\ \n", File: "letters/B.ttf", Licence: "letters/L.txt"}, "a\nremark")
	r.AddRole("body", Role{Face: "B \"quoted\"\\ \n", Size: 16.5})
	again, err := Parse(r.Text())
	require.NoError(t, err)
	require.Equal(t, r.Faces, again.Faces)
	require.Equal(t, 16.5, again.Roles["body"].Size)
	require.True(t, again.Roles["body"].Scales())

	gone, err := again.Strike("B \"quoted\"\\ \n")
	require.NoError(t, err)
	require.Equal(t, []string{"body"}, gone)
	require.Equal(t, mine, string(again.Text()))
	_, err = again.Strike("B")
	require.ErrorContains(t, err, "use one of: A")
}

func TestSetRoleFaceTouchesOneValue(t *testing.T) {
	text := "[[face]]\nname=\"A\"\nfile=\"a\"\n[[face]]\nname=\"B\"\nfile=\"b\"\n[role.body] # main\nsize = 12\nface = \"A\" # swap me\n[role.\"head-2\"]\nface='A'\nsize=20\n"
	r, err := Parse([]byte(text))
	require.NoError(t, err)
	require.NoError(t, r.SetRoleFace("body", "B"))
	require.Equal(t, strings.Replace(text, "face = \"A\" # swap", "face = \"B\" # swap", 1), string(r.Text()))
	require.NoError(t, r.SetRoleFace("head-2", "B"))
	require.Contains(t, string(r.Text()), "face=\"B\"\nsize=20")
}

func TestRefusals(t *testing.T) {
	face := "[[face]]\nname=\"A\"\nfile=\"a\"\n"
	tests := map[string]string{
		"found \"A\" twice":             face + face,
		"a name and a file":             "[[face]]\nname=\"A\"\n",
		"role names of small letters":   face + "[role.\"My Role\"]\nface=\"A\"\nsize=1\n",
		"an enrolled face for the rol":  face + "[role.x]\nface=\"B\"\nsize=1\n",
		"a size of more than 0":         face + "[role.x]\nface=\"A\"\n",
		"differ by more than hyphens":   face + "[role.x-1]\nface=\"A\"\nsize=1\n[role.x1]\nface=\"A\"\nsize=1\n",
		"a line-height of more than 0":  face + "[role.x]\nface=\"A\"\nsize=1\nline-height=0\n",
		"a tracking of -1000 to 1000":   face + "[role.x]\nface=\"A\"\nsize=1\ntracking=1001\n",
		"an outline's width of 0 to":    face + "[role.x]\nface=\"A\"\nsize=1\noutline={width=-1,colour=\"#000000\"}\n",
		"an extra-spacing of -1000":     face + "[role.x]\nface=\"A\"\nsize=1\nextra-spacing={space=1001}\n",
		"a shadow's x and y":            face + "[role.x]\nface=\"A\"\nsize=1\nshadow={x=nan,colour=\"#000000\"}\n",
		"a shadow's blur of 0":          face + "[role.x]\nface=\"A\"\nsize=1\nshadow={blur=-1,colour=\"#000000\"}\n",
		"a shadow's colour such as":     face + "[role.x]\nface=\"A\"\nsize=1\nshadow={x=1}\n",
		"found a set \"klingon\"":       face + "[role.x]\nface=\"A\"\nsize=1\ncharacters={sets=[\"klingon\"]}\n",
		"which ends before it begins":   face + "[role.x]\nface=\"A\"\nsize=1\ncharacters={unicode-range=\"U+7E-20\"}\n",
		"more than 262144 characters":   face + "[role.x]\nface=\"A\"\nsize=1\ncharacters={unicode-range=\"U+0-10FFFF\"}\n",
		"\"20-7E\" in unicode-range":    face + "[role.x]\nface=\"A\"\nsize=1\ncharacters={unicode-range=\"20-7E\"}\n",
		"an outline's colour such as":   face + "[role.x]\nface=\"A\"\nsize=1\noutline={width=1}\n",
		"for the role \"x\" on apple":   face + "[role.x]\nface=\"A\"\nsize=1\n[role.x.on.apple]\nface=\"B\"\n",
		"another table \"on\" in it":    face + "[role.x]\nface=\"A\"\nsize=1\n[role.x.on.apple.on.flutter]\nsize=2\n",
		"a size of more than 0 and":     face + "[role.x]\nface=\"A\"\nsize=nan\n",
		"notaria.toml:2: expected TOML": "folder = \"x\"\nfolder = = 1\n",
	}
	for want, text := range tests {
		t.Run(want, func(t *testing.T) {
			_, err := Parse([]byte(text))
			require.ErrorContains(t, err, want)
		})
	}
}

// Every message has the line of the key that is meant, or of the table that it would be in, and our own words.
func TestRefusalsHaveALineAndACure(t *testing.T) {
	base := "[[face]]\nname=\"SkerrySans-Bold\"\nfile=\"a\"\n\n[role.a] # the fifth line\nface=\"SkerrySans-Bold\"\nsize=12\n"
	tests := map[string]string{
		"color=\"#123456\"\n":              ":8: expected a key that [role.a] has, found \"color\"; write \"colour\"",
		"lineHeight=12\n":                  ":8: expected a key that [role.a] has, found \"lineHeight\"; write \"line-height\"",
		"letter-spacing=1\n":               "; write \"tracking\"",
		"zebra=700\n":                      "found \"zebra\"; use one of: face, size, line-height",
		"tracking=\"5\"\n":                 ":8: expected a number for role.a.tracking, found the text \"5\"; write tracking = 5",
		"fallback=5\n":                     "found 5; write \"5\"",
		"scale=\"true\"\n":                 "; write scale = true",
		"characters={sets=\"digits\"}\n":   ":8: expected a list of texts, such as [\"a\", \"b\"] for role.a.characters.sets, found the text \"digits\"; write [\"digits\"]",
		"characters={sets=[\n1]}\n":        ":8: expected a text in quotation marks for role.a.characters.sets, found 1",
		"outline={width=1, color=\"x\"}\n": ":8: expected a key that [role.a.outline] has, found \"color\"",
		"outline=[1]\n":                    ":8: expected a table for role.a.outline, found a list",
		"height=1.5\n":                     ":8: expected a whole number for role.a.height, found 1.5",
		"\"\"=1\n":                         ":8: expected a key that [role.a] has, found \"\"; use one of",
		"size=13\n":                        ":8: expected TOML, found key size is already defined",
		"[rol.b]\nface=\"x\"\n":            ":8: expected a key that notaria.toml has, found \"rol\"; write \"role\"",
		"[[check]]\n":                      ":8: expected one table [check], found [[check]]; write [check]",
		"[role.b]\nsize=1\nface=\"SkerySans-Bold\"\n":                                         ":10: expected an enrolled face for the role \"b\", found \"SkerySans-Bold\"; write \"SkerrySans-Bold\"",
		"[role.b]\nface=\"SkerrySans-Bold\"\n\nfallback=\"sanss\"\nsize=1\n":                  ":11: expected a fallback of sans, serif, mono for the role \"b\", found \"sanss\"; write \"sans\"",
		"[role.b]\nface=\"SkerrySans-Bold\"\n":                                                ":8: expected a size of more than 0",
		"[role.a.on.web]\nsize=13\n[role.a.on.apple]\nsize=-1\n":                              ":11: expected a size of more than 0 and at most 1000 for the role \"a\" on apple, found -1",
		"[role.b]\nface=\"SkerrySans-Bold\"\nsize=1\nshadow={x=1}\n[role.b.on.web]\nsize=2\n": ":11: expected a shadow's colour",
		"[[site]]\ntarget=\"web\"\nfolder=\"a\"\n[[site]]\ntarget=\"web\"\nfolder=\"../a\"\n": ":13: expected a folder of the project in [[site]]",
		"[[face]]\nfile=\"a\"\n":                                                     ":8: expected a name and a file in each [[face]], found one without",
		"[[face]]\nname=\"SkerrySans-Bold\"\nfile=\"b\"\n":                           ":9: expected each face once",
		"[[check.accept]]\nrule=\"a\"\npath=\".\"\nreason=\"x\"\n[[check.accept]]\n": ":12: expected a rule, a path and a reason",
	}
	for text, want := range tests {
		_, err := Parse([]byte(base + text))
		require.ErrorContains(t, err, want, text)
		require.Regexp(t, `^notaria.toml:\d+: `, err.Error())
		require.NotRegexp(t, `registry\.|float64|struct|unmarshal`, err.Error(), "our words")
	}
}

// What is said for one target takes the place of what is said for all, key by key.
func TestRoleOnTargets(t *testing.T) {
	text := "[[face]]\nname=\"A\"\nfile=\"a\"\n[[face]]\nname=\"B\"\nfile=\"b\"\n" +
		"[role.x]\nface=\"A\"\nsize=10\nline-height=12\ntracking=5\ncolour=\"#0B3D5C80\"\nfallback=\"mono\"\n[role.x.outline]\nwidth=1\ncolour=\"#FFFFFF\"\n" +
		"# of the one\n[role.x.on.maui]\nface=\"B\"\ntracking=0\ncolour=\"none\"\nscale=false\noutline={width=0}\n[role.y]\nface=\"B\"\nsize=9\n"
	r, err := Parse([]byte(text))
	require.NoError(t, err)
	plain, there := r.Roles["x"].For("apple"), r.Roles["x"].For("maui")
	require.Equal(t, r.Roles["x"], plain)
	require.Equal(t, []any{"B", 10.0, 12.0, 0.0, "none", "mono", 0.0, false}, []any{there.Face, there.Size, *there.LineHeight, *there.Tracking, there.Colour.Text, there.Fallback, there.Outline.Width, there.Scales()})
	require.Equal(t, Colour{"#0B3D5C80", 0x0B, 0x3D, 0x5C, 0x80, true}, plain.Colour)
	targets, role := r.Differs()
	require.Equal(t, []string{"maui"}, targets)
	require.Equal(t, "x", role["maui"])

	// A face that goes takes what one target says of it along; a role goes with all
	// of its tables.
	gone, err := r.Strike("B")
	require.NoError(t, err)
	require.Equal(t, []string{"y"}, gone)
	require.NotContains(t, string(r.Text()), "role.x.on.maui")
	require.Contains(t, string(r.Text()), "[role.x.outline]")
	_, err = r.Strike("A")
	require.NoError(t, err)
	require.NotContains(t, string(r.Text()), "role")
}

func TestNewRegistryLeavesNoTrace(t *testing.T) {
	r := New()
	require.Nil(t, r.Text())
	r.AddFace(Face{Name: "A", File: "type/A.ttf"}, "A")
	require.NotNil(t, r.Text())
	_, err := r.Strike("A")
	require.NoError(t, err)
	require.Nil(t, r.Text())
}

func TestLedgerComesBackInOrder(t *testing.T) {
	l := &Ledger{Files: []Written{{Path: "b"}, {Path: "a", SHA256: "1", Recipe: "original X", Original: "1", Owners: []Owner{{"apple", "ios"}}}},
		Entries: []Entry{{Entry: edit.Entry{File: "z"}}, {Entry: edit.Entry{File: "y", Place: edit.Place{Kind: "block", Path: []string{"a", "b"}}, Made: []string{"key"}}, Owners: []Owner{{"apple", "ios"}}}}}
	b, err := l.Bytes()
	require.NoError(t, err)
	again, err := ParseLedger(b)
	require.NoError(t, err)
	require.Equal(t, "a", again.Files[0].Path)
	require.Equal(t, "y", again.Entries[0].File)
	require.Equal(t, l.Entries[1], again.Entries[0])
	c, err := again.Bytes()
	require.NoError(t, err)
	require.Equal(t, string(b), string(c))
	none, err := (&Ledger{}).Bytes()
	require.NoError(t, err)
	require.Nil(t, none)
	for want, text := range map[string]string{"paths inside": `{"schema":"notaria/ledger/1","files":[{"path":"../x"}]}`, "found \"2\"": `{"schema":"2"}`, "version control": `{`} {
		_, err := ParseLedger([]byte(text))
		require.ErrorContains(t, err, want)
	}
}

// Ledgers of the second and the third schema, which had many lines for each thing, are read, and written in the present one.
func TestLedgersOfLaterSchemas(t *testing.T) {
	for _, schema := range []string{"2", "3"} {
		l, err := ParseLedger([]byte("{\n  \"schema\": \"notaria/ledger/" + schema + "\",\n  \"files\": [\n    {\n      \"path\": \"a\",\n      \"sha256\": \"1\"\n    }\n  ],\n  \"folders\": [],\n  \"entries\": []\n}\n"))
		require.NoError(t, err)
		b, err := l.Bytes()
		require.NoError(t, err)
		require.Equal(t, "{\n  \"schema\": \"notaria/ledger/4\",\n  \"files\": [\n    {\"path\":\"a\",\"sha256\":\"1\"}\n  ],\n  \"folders\": [\n  ],\n  \"entries\": [\n  ]\n}\n", string(b))
	}
}

// A ledger of the first schema is read: platforms become owners, places values.
func TestLedgerOfTheFirstSchema(t *testing.T) {
	l, err := ParseLedger([]byte(`{"schema": "notaria/ledger/1", "files": [{"path": "type/A.ttf", "sha256": "1"}, {"path": "ios/A.ttf", "sha256": "1", "target": "apple", "taken": true}], "folders": ["ios"], "entries": [
		{"file": "Info.plist", "syntax": "plist", "place": "UIAppFonts", "value": "A.ttf", "target": "apple"},
		{"file": "Info.plist", "syntax": "plist", "place": "UIAppFonts", "made": ["key"], "target": "apple"},
		{"file": "Info.plist", "syntax": "plist", "place": "string:ATSApplicationFontsPath", "value": ".", "made": ["key"], "target": "apple"},
		{"file": "p", "syntax": "xcodeproj", "place": "resources:App", "value": "A.ttf", "made": ["1"], "target": "apple"},
		{"file": "p", "syntax": "xcodeproj", "place": "section", "value": "exceptions 5F", "target": "apple"},
		{"file": "c", "syntax": "xml", "place": "item:MauiFont", "value": "Resources/A.ttf", "target": "maui"},
		{"file": "x", "syntax": "xml", "place": "merged", "value": "A.xaml", "target": "maui"},
		{"file": "b", "syntax": "source", "place": "block:kotlin/sourceSets", "value": "x()", "made": ["line"], "target": "android"},
		{"file": "j", "syntax": "appjson", "place": "android.fonts", "value": "{}", "target": "expo"},
		{"file": "j", "syntax": "appjson", "place": "fontlist ios.fonts", "made": [""], "target": "expo"},
		{"file": "y", "syntax": "pubspec", "place": "family:A: B", "value": "a", "target": "flutter"}]}`))
	require.NoError(t, err)
	require.Equal(t, []Written{{Path: "type/A.ttf", SHA256: "1"}, {Path: "ios/A.ttf", SHA256: "1", Owners: []Owner{{Target: "apple"}}, Taken: true}}, l.Files)
	var places []edit.Place
	for _, e := range l.Entries {
		places = append(places, e.Place)
	}
	require.Equal(t, []edit.Place{{Kind: "array", Name: "UIAppFonts"}, {Kind: "array", Name: "UIAppFonts"}, {Kind: "string", Name: "ATSApplicationFontsPath"},
		{Kind: "resources", Name: "App"}, {Kind: "exceptions"}, {Kind: "grouped", Name: "MauiFont", Attribute: "Include", Path: []string{"ItemGroup"}},
		{Kind: "nested", Name: "ResourceDictionary", Attribute: "Source", Path: []string{"Application.Resources", "ResourceDictionary", "ResourceDictionary.MergedDictionaries"}},
		{Kind: "block", Path: []string{"kotlin", "sourceSets"}}, {Kind: "font", Path: []string{"android", "fonts"}}, {Kind: "list", Path: []string{"ios", "fonts"}}, {Kind: "family", Name: "A: B"}}, places)
	require.Equal(t, []Owner{{Target: "apple"}}, l.Entries[0].Owners)
	require.Empty(t, l.Entries[1].Owners, "a container has none")
	require.Equal(t, "5F", l.Entries[4].Value)
	require.Equal(t, `Resources\A.ttf`, l.Entries[5].Value)
}

func TestUnion(t *testing.T) {
	a, b, old := Owner{"apple", "a"}, Owner{"maui", "b"}, Owner{Target: "apple"}
	require.Equal(t, []Owner{a, b}, Union([]Owner{b, old}, []Owner{a, b}), "in order, each once, without the one that gives way")
	require.Equal(t, []Owner{old}, Union([]Owner{old}))
}

func FuzzRegistry(f *testing.F) {
	f.Add(header + "\n[[face]]\nname = \"A\"\nfile = \"type/A.ttf\"\n\n[role.body]\nface = \"A\"\nsize = 12\n")
	f.Fuzz(func(t *testing.T, text string) {
		r, err := Parse([]byte(text))
		if err != nil {
			return
		}
		r.AddFace(Face{Name: "New-Face", File: "type/New.ttf"}, "new")
		again, err := Parse(r.Text())
		if err != nil {
			return // the name was there already, or the text ends inside a table
		}
		if _, err := again.Strike("New-Face"); err != nil {
			t.Fatal(err)
		}
	})
}
