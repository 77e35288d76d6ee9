package registry

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/edit"
)

// ledgerOf is a ledger's text with a generated file of that sum, a font, an entry, and a folder.
func ledgerOf(t testing.TB, sum, font string) string {
	t.Helper()
	l := &Ledger{Registry: sum, Attributes: "line", Folders: []string{"type", "ios/" + font},
		Files: []Written{{Path: "ios/AppType.swift", SHA256: sum, Recipe: "text", By: "1.0", Owners: []Owner{{"apple", "ios"}}}, {Path: "type/" + font, SHA256: "f"}},
		Entries: []Entry{{Entry: edit.Entry{File: "Info.plist", Syntax: "plist", Place: edit.Place{Kind: "array", Name: "UIAppFonts"}, Made: []string{"key"}}},
			{Entry: edit.Entry{File: "Info.plist", Syntax: "plist", Place: edit.Place{Kind: "array", Name: "UIAppFonts"}, Value: font}, Owners: []Owner{{"apple", font}}}}}
	b, err := l.Bytes()
	require.NoError(t, err)
	return string(b)
}

// Each file, folder and entry has a line, and version control that joins the lines of two branches makes the union of both.
func TestLedgersMergeByLines(t *testing.T) {
	a, b := ledgerOf(t, "1", "A.ttf"), ledgerOf(t, "2", "B.ttf")
	require.Equal(t, 1, strings.Count(a, "\n    {\"path\":\"type/A.ttf\""))
	alone, err := ParseLedger([]byte(a))
	require.NoError(t, err)
	require.False(t, alone.Merged)

	marks := strings.NewReplacer("LEFT", a, "RIGHT", b)
	_, after, _ := strings.Cut(b, "\"files\": [\n")
	before, rest, _ := strings.Cut(a, "\"files\": [\n")
	union := before + "\"files\": [\n" + strings.TrimSuffix(rest, "]\n}\n") + after // what git's union makes of lists
	for name, text := range map[string]string{
		"markers":           marks.Replace("<<<<<<< HEAD\nLEFT=======\nRIGHT>>>>>>> ferry\n"),
		"what was before":   marks.Replace("<<<<<<< HEAD\nLEFT||||||| base\n    {\"path\":\"old\",\"sha256\":\"0\"},\n=======\nRIGHT>>>>>>> ferry\n"),
		"ends of Windows":   strings.ReplaceAll(marks.Replace("<<<<<<< HEAD\nLEFT=======\nRIGHT>>>>>>> ferry\n"), "\n", "\r\n"),
		"one after another": union,
	} {
		l, err := ParseLedger([]byte(text))
		require.NoError(t, err, name)
		require.True(t, l.Merged, name)
		require.Equal(t, []string{"ios/A.ttf", "ios/B.ttf", "type"}, l.Folders, name)
		code, ok := l.Wrote("ios/AppType.swift")
		require.True(t, ok, name)
		require.Equal(t, []string{"1", "2"}, append([]string{code.SHA256}, code.Others...), "both sides could have written it")
		require.Len(t, l.Files, 3, name)
		require.Len(t, l.Entries, 3, name)
		clean, err := l.Bytes()
		require.NoError(t, err)
		again, err := ParseLedger(clean)
		require.NoError(t, err)
		require.False(t, again.Merged, "it is written as one")
		require.Equal(t, l.Files, again.Files)
	}
	for _, text := range []string{"<<<<<<< ours\nwhatever\n=======\n>>>>>>> theirs\n", "    {\"path\":\"../x\",\"sha256\":\"\"}\n", "    {\"path\":\"x\",\"sha257\":\"\"}\n"} {
		_, err := ParseLedger([]byte(a + text))
		require.ErrorContains(t, err, "notaria.ledger.json", text)
	}
}

func FuzzLedger(f *testing.F) {
	f.Add(ledgerOf(f, "1", "A.ttf"))
	f.Add("<<<<<<< a\n" + ledgerOf(f, "1", "A.ttf") + "||||||| c\n=======\n" + ledgerOf(f, "2", "B.ttf") + ">>>>>>> b\n")
	f.Add(`{"schema":"notaria/ledger/1","files":[{"path":"a","target":"apple"}]}`)
	f.Fuzz(func(t *testing.T, text string) {
		l, err := ParseLedger([]byte(text))
		if err != nil {
			return
		}
		b, err := l.Bytes()
		if err != nil {
			t.Fatal(err)
		}
		if _, err := ParseLedger(b); err != nil {
			t.Fatal(err)
		}
	})
}
