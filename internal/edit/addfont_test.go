package edit_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/edit"
	"notaria/internal/target/dotnet/msbuild"
)

const programFile = "board/MauiProgram.cs"

const mauiProgram = `using Microsoft.Extensions.Logging;

namespace Board;

public static class MauiProgram
{
	public static MauiApp CreateMauiApp()
	{
		var builder = MauiApp.CreateBuilder();
		builder
			.UseMauiApp<App>()
			.ConfigureFonts(fonts =>
			{
				fonts.AddFont("Theirs-Regular.ttf", "Theirs");
				// fonts.AddFont("SkerrySans-Bold.ttf", "SkerrySans-Bold");
			});

		return builder.Build(); // "}"
	}
}
`

func aliasEntries(names ...string) []Entry {
	var out []Entry
	for _, n := range names {
		out = append(out, Entry{File: programFile, Syntax: SyntaxAddFont, Place: msbuild.AliasPlace(n), Value: n + ".ttf"})
	}
	return out
}

func TestAddFontShapes(t *testing.T) {
	shapes := map[string]string{
		"the template":    mauiProgram,
		"CRLF":            strings.ReplaceAll(mauiProgram, "\n", "\r\n"),
		"four spaces":     strings.ReplaceAll(mauiProgram, "\t", "    "),
		"an empty block":  "b.ConfigureFonts(fonts =>\n    {\n    });\n",
		"on one line":     `b.ConfigureFonts((IFontCollection f) => { f.AddFont("Theirs.ttf"); });`,
		"nothing in it":   "b.ConfigureFonts(f => {});",
		"braces in names": "b.ConfigureFonts(fonts =>\n{\n\tfonts.AddFont(\"a}.ttf\", \"Theirs\"); /* } */\n});\n",
	}
	entries := aliasEntries("SkerrySans-Bold", "Odd \"x\" \\ 岩🚢")
	for name, doc := range shapes {
		t.Run(name, func(t *testing.T) {
			thereAndBack(t, SyntaxAddFont, []byte(doc), entries, func(out []byte) {
				fonts, err := msbuild.AddedFonts(edit.Document{File: programFile, Text: out})
				require.NoError(t, err)
				aliases := map[string]string{}
				for _, f := range fonts {
					aliases[f.Alias] = f.File
				}
				require.Equal(t, "SkerrySans-Bold.ttf", aliases["SkerrySans-Bold"], "%s", out)
				require.Equal(t, "Odd \"x\" \\ 岩🚢.ttf", aliases["Odd \"x\" \\ 岩🚢"])
			})
		})
	}
}

func TestAddFontRefusals(t *testing.T) {
	for want, doc := range map[string]string{
		"a call of ConfigureFonts with a block": "// .ConfigureFonts(fonts => { })\n",
		"the brace that closes":                 "b.ConfigureFonts(fonts => {\n",
	} {
		_, _, err := Reconcile(programFile, SyntaxAddFont, []byte(doc), aliasEntries("A"), nil)
		require.ErrorContains(t, err, want)
	}
}

// A font that somebody registered under our alias is left alone.
func TestAddFontHandMade(t *testing.T) {
	doc := strings.Replace(mauiProgram, `"Theirs-Regular.ttf", "Theirs"`, `"SkerrySans-Bold.ttf", "SkerrySans-Bold"`, 1)
	out, owned, err := Reconcile(programFile, SyntaxAddFont, []byte(doc), aliasEntries("SkerrySans-Bold"), nil)
	require.NoError(t, err)
	require.Equal(t, doc, string(out))
	require.Empty(t, owned)
}

func FuzzAddFont(f *testing.F) {
	f.Add(mauiProgram, "A")
	f.Fuzz(func(t *testing.T, doc, value string) { addAndBack(t, SyntaxAddFont, []byte(doc), aliasEntries(value)) })
}
