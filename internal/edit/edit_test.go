package edit_test

import (
	"bytes"
	"fmt"
	"math/rand"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"howett.net/plist"

	"notaria/internal/edit"
	"notaria/internal/edit/pbx"
	"notaria/internal/edit/xmldoc"
	"notaria/internal/fault"
)

const manifest = "app/Info.plist"

func plistEntries(values ...string) []Entry {
	var out []Entry
	for _, v := range values {
		out = append(out, Entry{File: manifest, Syntax: SyntaxPlist, Place: array("UIAppFonts"), Value: v})
	}
	return out
}

// thereAndBack adds entries one after the other and takes them off again, in
// either order: the document must end as it began, and adding twice must change
// nothing.
func thereAndBack(t *testing.T, syntax string, doc []byte, entries []Entry, holds func([]byte)) {
	t.Helper()
	file := entries[0].File
	all, owned, err := Reconcile(file, syntax, doc, entries, nil)
	require.NoError(t, err)
	holds(all)
	again, owned2, err := Reconcile(file, syntax, all, entries, owned)
	require.NoError(t, err)
	require.Equal(t, string(all), string(again), "a second time changes nothing")
	require.Equal(t, owned, owned2)
	back, none, err := Reconcile(file, syntax, all, nil, owned)
	require.NoError(t, err)
	require.Equal(t, string(doc), string(back), "all off at once")
	require.Empty(t, none)

	step, mine := doc, []Entry(nil)
	for i := range entries {
		step, mine, err = Reconcile(file, syntax, step, entries[:i+1], mine)
		require.NoError(t, err)
	}
	for i := range entries {
		step, mine, err = Reconcile(file, syntax, step, entries[i+1:], mine)
		require.NoError(t, err)
	}
	require.Equal(t, string(doc), string(step), "off one by one, first in first out")
}

const plainPlist = `<?xml version="1.0" encoding="UTF-8"?>
<!DOCTYPE plist PUBLIC "-//Apple//DTD PLIST 1.0//EN" "http://www.apple.com/DTDs/PropertyList-1.0.dtd">
<plist version="1.0">
<dict>
	<key>CFBundleName</key>
	<string>Skerry</string>
%s</dict>
</plist>
`

func TestPlistShapes(t *testing.T) {
	shapes := map[string]string{
		"no key":             fmt.Sprintf(plainPlist, ""),
		"an empty array":     fmt.Sprintf(plainPlist, "\t<key>UIAppFonts</key>\n\t<array/>\n"),
		"an open array":      fmt.Sprintf(plainPlist, "\t<key>UIAppFonts</key>\n\t<array>\n\t</array>\n"),
		"somebody's entry":   fmt.Sprintf(plainPlist, "\t<key>UIAppFonts</key>\n\t<array>\n\t\t<string>Theirs.ttf</string>\n\t</array>\n"),
		"on one line":        fmt.Sprintf(plainPlist, "\t<key>UIAppFonts</key><array><string>Theirs.ttf</string></array>\n"),
		"commented out":      fmt.Sprintf(plainPlist, "\t<!-- <key>UIAppFonts</key> <array/> -->\n"),
		"inside another":     fmt.Sprintf(plainPlist, "\t<key>X</key>\n\t<dict>\n\t\t<key>UIAppFonts</key>\n\t\t<array/>\n\t</dict>\n"),
		"spaces":             strings.ReplaceAll(fmt.Sprintf(plainPlist, ""), "\t", "    "),
		"no indentation":     strings.ReplaceAll(fmt.Sprintf(plainPlist, ""), "\t", ""),
		"no final newline":   strings.TrimSuffix(fmt.Sprintf(plainPlist, ""), "\n"),
		"CRLF":               strings.ReplaceAll(fmt.Sprintf(plainPlist, ""), "\n", "\r\n"),
		"a byte order mark":  "\ufeff" + fmt.Sprintf(plainPlist, ""),
		"an empty dict":      "<plist version=\"1.0\">\n<dict/>\n</plist>\n",
		"a dict on one line": "<plist version=\"1.0\"><dict><key>A</key><true/></dict></plist>",
	}
	for name, doc := range shapes {
		t.Run(name, func(t *testing.T) {
			entries := plistEntries("SkerrySans-Bold.ttf", "Ro & co <1>.ttf", "Zoë.otf")
			thereAndBack(t, SyntaxPlist, []byte(doc), entries, func(out []byte) {
				var read map[string]any
				_, err := plist.Unmarshal([]byte(strings.TrimPrefix(string(out), "\ufeff")), &read)
				require.NoError(t, err, "another reader: %s", out)
				for _, e := range entries {
					require.Contains(t, read["UIAppFonts"], e.Value)
				}
				if strings.Contains(doc, "Theirs") {
					require.Contains(t, read["UIAppFonts"], "Theirs.ttf")
				}
			})
		})
	}
}

func TestPlistTheirsStays(t *testing.T) {
	doc := []byte(fmt.Sprintf(plainPlist, "\t<key>UIAppFonts</key>\n\t<array>\n\t\t<string>A.ttf</string>\n\t</array>\n"))
	out, owned, err := Reconcile(manifest, SyntaxPlist, doc, plistEntries("A.ttf"), nil)
	require.NoError(t, err)
	require.Equal(t, string(doc), string(out))
	require.Empty(t, owned, "what a person wrote does not become ours")
}

func TestPlistRefusals(t *testing.T) {
	tests := map[string]string{
		"a binary property list":       "bplist00....",
		"an XML error":                 "<plist><dict><key>A</key></dic></plist>",
		"none":                         "<plist version=\"1.0\"></plist>",
		"<array>":                      "<plist><array/></plist>",
		"another key":                  "<plist><dict><key>A</key><key>B</key><true/></dict></plist>",
		"the end of the dictionary":    "<plist><dict><key>A</key></dict></plist>",
		"<string>; make it an array":   "<plist><dict><key>UIAppFonts</key><string>A.ttf</string></dict></plist>",
		"only elements between elemen": "<plist><dict>text<key>A</key><true/></dict></plist>",
	}
	for want, doc := range tests {
		t.Run(want, func(t *testing.T) {
			_, _, err := Reconcile(manifest, SyntaxPlist, []byte(doc), plistEntries("A.ttf"), nil)
			var e *fault.Error
			require.ErrorAs(t, err, &e)
			require.Contains(t, err.Error(), want)
			require.Contains(t, err.Error(), manifest)
		})
	}
}

// sample is the demo's project file; package edit must not import the demo.
func sample(t testing.TB) string {
	b, err := os.ReadFile("../skerry/sample/ios/SkerryFerries.xcodeproj/project.pbxproj")
	require.NoError(t, err)
	return string(b)
}

const projectFile = "ios/SkerryFerries.xcodeproj/project.pbxproj"

func projectEntries(files ...string) []Entry {
	var out []Entry
	for _, f := range files {
		place := edit.Place{Kind: pbx.KindResources, Name: "SkerryFerries"}
		if strings.HasSuffix(f, ".swift") {
			place.Kind = pbx.KindSources
		}
		out = append(out, Entry{File: projectFile, Syntax: SyntaxProject, Place: place, Value: "SkerryFerries/Type/" + f})
	}
	return out
}

func TestProjectShapes(t *testing.T) {
	doc := sample(t)
	cut := func(s, from, to string) string {
		a := strings.Index(s, from)
		b := strings.Index(s[a:], to) + a + len(to)
		return s[:a] + s[b:]
	}
	shapes := map[string]string{
		"as it is":            doc,
		"CRLF":                strings.ReplaceAll(doc, "\n", "\r\n"),
		"no final newline":    strings.TrimSuffix(doc, "\n"),
		"objectVersion 54":    strings.Replace(doc, "objectVersion = 56", "objectVersion = 54", 1),
		"inline arrays":       strings.NewReplacer("files = (\n\t\t\t\t5F0A11072C1D000100A1B2C3 /* Assets.xcassets in Resources */,\n\t\t\t)", "files = ( 5F0A11072C1D000100A1B2C3 )").Replace(doc),
		"no trailing comma":   strings.Replace(doc, "/* Assets.xcassets in Resources */,", "/* Assets.xcassets in Resources */", 1),
		"a comma on its own":  strings.Replace(doc, "/* Assets.xcassets in Resources */,", "/* Assets.xcassets in Resources */\n\t,\t", 1),
		"all on one line":     strings.NewReplacer("\n", " ").Replace(strings.TrimPrefix(doc, "// !$*UTF8*$!\n")),
		"begun on one line":   strings.NewReplacer("files = (\n\t\t\t\t5F0A11072C1D000100A1B2C3 /* Assets.xcassets in Resources */,\n\t\t\t)", "files = ( 5F0A11072C1D000100A1B2C3\n\t\t\t)").Replace(doc),
		"an empty phase":      strings.Replace(doc, "\t\t\t\t5F0A11072C1D000100A1B2C3 /* Assets.xcassets in Resources */,\n", "", 1),
		"no section comments": cut(cut(doc, "/* Begin PBXGroup section */", "\n"), "/* End PBXGroup section */", "\n"),
	}
	for name, doc := range shapes {
		t.Run(name, func(t *testing.T) {
			entries := projectEntries("SkerrySans-Bold.ttf", "A \"b\" */ c.otf", "AppType.swift")
			thereAndBack(t, SyntaxProject, []byte(doc), entries, func(out []byte) {
				var read any
				_, err := plist.Unmarshal(out, &read)
				require.NoError(t, err, "another reader")
				p, err := parseProject(out)
				require.NoError(t, err)
				for _, e := range entries {
					require.Empty(t, p.Missing(e), e.Value)
				}
			})
		})
	}
}

// A project without any build file has no such section: it is made, and goes.
func TestProjectSectionsComeAndGo(t *testing.T) {
	doc := sample(t)
	for _, id := range []string{"5F0A11012C1D000100A1B2C3", "5F0A11032C1D000100A1B2C3", "5F0A11052C1D000100A1B2C3", "5F0A11072C1D000100A1B2C3"} {
		var kept []string
		for _, l := range strings.SplitAfter(doc, "\n") {
			if !strings.Contains(l, id) {
				kept = append(kept, l)
			}
		}
		doc = strings.Join(kept, "")
	}
	doc = strings.Replace(doc, "/* Begin PBXBuildFile section */\n/* End PBXBuildFile section */\n\n", "", 1)
	thereAndBack(t, SyntaxProject, []byte(doc), projectEntries("A.ttf"), func(out []byte) {
		require.Contains(t, string(out), "/* Begin PBXBuildFile section */\n\t\t")
		require.Less(t, strings.Index(string(out), "End PBXBuildFile"), strings.Index(string(out), "Begin PBXFileReference"))
	})
}

func TestProjectIDsDoNotCollide(t *testing.T) {
	first, owned, err := Reconcile(projectFile, SyntaxProject, []byte(sample(t)), projectEntries("A.ttf"), nil)
	require.NoError(t, err)
	ids := owned[0].Made
	require.Len(t, ids, 3)
	// The same ids are in use by somebody else's objects: others are taken.
	taken := strings.Replace(sample(t), "5F0A11002C1D000100A1B2C3", ids[0], -1)
	second, owned, err := Reconcile(projectFile, SyntaxProject, []byte(taken), projectEntries("A.ttf"), nil)
	require.NoError(t, err)
	require.NotContains(t, owned[0].Made, ids[0])
	require.NotEqual(t, string(first), string(second))
	p, err := parseProject(second)
	require.NoError(t, err)
	require.Empty(t, p.Missing(projectEntries("A.ttf")[0]))
}

// A file that a person put into the phase by hand is not put there twice.
func TestProjectHandMadeEntryIsLeftAlone(t *testing.T) {
	first, _, err := Reconcile(projectFile, SyntaxProject, []byte(sample(t)), projectEntries("A.ttf"), nil)
	require.NoError(t, err)
	second, owned, err := Reconcile(projectFile, SyntaxProject, first, projectEntries("A.ttf"), nil)
	require.NoError(t, err)
	require.Equal(t, string(first), string(second))
	require.Empty(t, owned)
}

func TestProjectRefusals(t *testing.T) {
	for want, doc := range map[string]string{
		"expected ';'":                 "{ a = b }",
		"expected a value":             "{ a = ; }",
		"the closing quote":            `{ a = "b; }`,
		"a rootObject":                 "{ objects = { }; }",
		"the end of the file":          "{ } <<<<<<< mine",
		"at most 64 levels":            strings.Repeat("(", 100),
		"an app target \"Skerry":       "{ objects = { A = {isa = PBXProject; }; }; rootObject = A; }",
		"correct the project file (a ": "<<<<<<< HEAD\n",
	} {
		t.Run(want, func(t *testing.T) {
			_, _, err := Reconcile(projectFile, SyntaxProject, []byte(doc), projectEntries("A.ttf"), nil)
			require.ErrorContains(t, err, want)
		})
	}
}

// Random entries on a random choice of shapes, many times over.
func TestRandomThereAndBack(t *testing.T) {
	dice := rand.New(rand.NewSource(3))
	letters := []rune("abzABZ019 -_.&<>\"'*/\\()={};,$%é岩🚢")
	name := func() string {
		r := make([]rune, 1+dice.Intn(20))
		for i := range r {
			r[i] = letters[dice.Intn(len(letters))]
		}
		return strings.Trim(strings.ReplaceAll(string(r), "/", "-"), " .") + "x.ttf"
	}
	for range seeds() {
		var list []string
		for range 1 + dice.Intn(4) {
			list = append(list, fmt.Sprint(dice.Intn(1e6), name()))
		}
		thereAndBack(t, SyntaxPlist, []byte(fmt.Sprintf(plainPlist, "")), plistEntries(list...), func([]byte) {})
		thereAndBack(t, SyntaxProject, []byte(sample(t)), projectEntries(list...), func(out []byte) {
			p, err := parseProject(out)
			require.NoError(t, err)
			require.Empty(t, p.Missing(projectEntries(list...)[0]))
		})
	}
}

func FuzzPlist(f *testing.F) {
	f.Add(fmt.Sprintf(plainPlist, "\t<key>UIAppFonts</key>\n\t<array/>\n"), "A.ttf")
	f.Fuzz(func(t *testing.T, doc, value string) {
		if !xmlHolds(value) {
			return
		}
		addAndBack(t, SyntaxPlist, []byte(doc), plistEntries(value))
	})
}

// A key that is somewhere else, or holds something else, is found where it is.
func TestAstrayKeys(t *testing.T) {
	for text, want := range map[string]string{
		"\t<key>UIAppFonts</key>\n\t<string>A.ttf</string>\n": "a <string> true", "\t<key>UIAppFonts</key>\n\t<array><dict/></array>\n": "a <dict> among its strings true",
		"\t<key>UIAppfonts</key>\n\t<array/>\n": "the key UIAppfonts false", "\t<key>B</key>\n\t<dict><key>UIAppFonts</key><array/></dict>\n": "it below another key false",
		"\t<!-- <key>UIAppFonts</key> -->\n": "it in a comment false", "\t<key>UIAppFonts</key>\n\t<array/>\n": "",
	} {
		m, ok := xmldoc.Astray(edit.Document{File: "Info.plist", Text: []byte(fmt.Sprintf(plainPlist, text))}, "UIAppFonts")
		require.Equal(t, want != "", ok, text)
		if ok {
			require.Equal(t, want, fmt.Sprint(m.How, " ", m.Form))
		}
	}
}

func FuzzAstray(f *testing.F) {
	f.Add(fmt.Sprintf(plainPlist, "\t<key>UIAppfonts</key>\n\t<array/>\n"))
	f.Fuzz(func(t *testing.T, doc string) {
		if m, ok := xmldoc.Astray(edit.Document{File: "Info.plist", Text: []byte(doc)}, "UIAppFonts", "AppFonts"); ok {
			require.True(t, m.From <= m.To && m.To <= len(doc) && m.Line > 0)
		}
	})
}

func FuzzProject(f *testing.F) {
	f.Add(sample(f), "A.ttf")
	f.Fuzz(func(t *testing.T, doc, value string) {
		addAndBack(t, SyntaxProject, []byte(doc), projectEntries(value))
	})
}

// Fuzzing found that a comment of more than 4 KiB was not skipped.
func TestLongComments(t *testing.T) {
	_, err := parseProject([]byte("{ objects = { A = { isa = b /* " + strings.Repeat("x", 9000) + " */; }; }; rootObject = A; }"))
	require.NoError(t, err)
}

// TestBinaryPlist puts entries into lists that another writer made, and takes
// them off again.
func TestBinaryPlist(t *testing.T) {
	many := map[string]any{}
	for i := range 300 { // enough for references of two bytes
		many[fmt.Sprint("Key", i)] = fmt.Sprint("Value ", i)
	}
	shapes := map[string]map[string]any{
		"small":               {"CFBundleName": "Skerry", "B": true, "L": []any{"a", 1}},
		"somebody's entry":    {"CFBundleName": "Skerry", "UIAppFonts": []any{"Theirs.ttf"}},
		"the same text twice": {"CFBundleName": "SkerrySans-Bold.ttf"},
		"large":               many,
	}
	for name, shape := range shapes {
		t.Run(name, func(t *testing.T) {
			doc, err := plist.Marshal(shape, plist.BinaryFormat)
			require.NoError(t, err)
			entries := append(plistEntries("SkerrySans-Bold.ttf", "Zoë.otf", strings.Repeat("long", 99)+".ttf"),
				Entry{File: manifest, Syntax: SyntaxPlist, Place: text("ATSApplicationFontsPath"), Value: "."})
			thereAndBack(t, SyntaxPlist, doc, entries, func(out []byte) {
				var read map[string]any
				_, err := plist.Unmarshal(out, &read)
				require.NoError(t, err)
				for _, e := range entries[:3] {
					require.Contains(t, read["UIAppFonts"], e.Value)
				}
				require.Equal(t, ".", read["ATSApplicationFontsPath"])
				values, _, err := xmldoc.Array(edit.Document{File: manifest, Text: out}, "UIAppFonts")
				require.NoError(t, err)
				require.Len(t, values, len(read["UIAppFonts"].([]any)))
				text, _, err := xmldoc.String(edit.Document{File: manifest, Text: out}, "ATSApplicationFontsPath")
				require.NoError(t, err)
				require.Equal(t, ".", text)
			})
		})
	}
}

func FuzzBinaryPlist(f *testing.F) {
	for _, v := range []any{map[string]any{"A": "b"}, map[string]any{"UIAppFonts": []any{"x.ttf", "é"}, "D": map[string]any{"k": 1.5}}} {
		doc, err := plist.Marshal(v, plist.BinaryFormat)
		require.NoError(f, err)
		f.Add(doc)
	}
	f.Fuzz(func(t *testing.T, doc []byte) {
		if !bytes.HasPrefix(doc, []byte("bplist")) {
			return
		}
		addAndBack(t, SyntaxPlist, doc, plistEntries("x.ttf", "y.ttf"))
	})
}

func TestPlistString(t *testing.T) {
	for name, doc := range map[string]string{"no key": fmt.Sprintf(plainPlist, ""), "CRLF": strings.ReplaceAll(fmt.Sprintf(plainPlist, ""), "\n", "\r\n"),
		"an empty dict": "<plist version=\"1.0\">\n<dict/>\n</plist>\n", "on one line": "<plist version=\"1.0\"><dict><key>A</key><true/></dict></plist>"} {
		t.Run(name, func(t *testing.T) {
			e := Entry{File: manifest, Syntax: SyntaxPlist, Place: text("ATSApplicationFontsPath"), Value: "."}
			thereAndBack(t, SyntaxPlist, []byte(doc), []Entry{e}, func(out []byte) {
				var read map[string]any
				_, err := plist.Unmarshal(out, &read)
				require.NoError(t, err)
				require.Equal(t, ".", read["ATSApplicationFontsPath"])
			})
		})
	}
	_, _, err := Reconcile(manifest, SyntaxPlist, []byte(fmt.Sprintf(plainPlist, "\t<key>ATSApplicationFontsPath</key>\n\t<string>Fonts</string>\n")),
		[]Entry{{File: manifest, Syntax: SyntaxPlist, Place: text("ATSApplicationFontsPath"), Value: "."}}, nil)
	require.ErrorContains(t, err, `expected "." under ATSApplicationFontsPath, found "Fonts"`)
}
