package edit_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/edit"
	"notaria/internal/platform/dotnet/msbuild"
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
		"an expression":   `b.ConfigureFonts(f => f.AddFont("Theirs.ttf", "Theirs"));`,
		"a chain":         "b.UseMauiApp<App>()\n    .ConfigureFonts(fonts => fonts\n        .AddFont(\"Theirs.ttf\", \"Theirs\")\n        .AddFont(\"More.ttf\"));\n",
		"a method":        "b.ConfigureFonts(Type.Register);\n\nstatic class Type\n{\n    internal static void Register(IFontCollection all)\n    {\n        all.AddFont(\"Theirs.ttf\", \"Theirs\");\n    }\n}\n",
		"no call":         "var builder = MauiApp.CreateBuilder();\nbuilder.UseMauiApp<App>().UseMauiCommunityToolkit();\n",
		"no call, a step": "        builder\n            .UseMauiApp<Skerry.App>()\n            .UseMauiMaps();\n",
		"no call, CRLF":   "\tbuilder\r\n\t\t.UseMauiApp(_ => new App());\r\n",
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
		"a call of ConfigureFonts, or of UseMauiApp": "// .ConfigureFonts(fonts => { })\n",
		"the brace that closes":                      "b.ConfigureFonts(fonts => {\n",
		"the bracket that closes":                    "b.ConfigureFonts(fonts => fonts\n",
		"the method Register":                        "b.ConfigureFonts(Register);\n",
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

// The call that was made goes with its fonts, unless somebody uses it too.
func TestAddFontCall(t *testing.T) {
	const doc = "builder\n    .UseMauiApp<App>();\n"
	out, owned, err := Reconcile(programFile, SyntaxAddFont, []byte(doc), aliasEntries("SkerrySans-Bold"), nil)
	require.NoError(t, err)
	require.Equal(t, "builder\n    .UseMauiApp<App>()\n    .ConfigureFonts(fonts =>\n    {\n        fonts.AddFont(\"SkerrySans-Bold.ttf\", \"SkerrySans-Bold\");\n    });\n", string(out))
	theirs := strings.Replace(string(out), "    });", "        fonts.AddFont(\"Theirs.ttf\", \"Theirs\");\n    });", 1)
	left, _, err := Reconcile(programFile, SyntaxAddFont, []byte(theirs), nil, owned)
	require.NoError(t, err)
	require.Equal(t, "builder\n    .UseMauiApp<App>()\n    .ConfigureFonts(fonts =>\n    {\n        fonts.AddFont(\"Theirs.ttf\", \"Theirs\");\n    });\n", string(left))
}

func FuzzAddFont(f *testing.F) {
	f.Add(mauiProgram, "A")
	f.Add("b.ConfigureFonts(f => f.AddFont(\"B\"))", "A")
	f.Add("b.UseMauiApp<App>()", "A")
	f.Fuzz(func(t *testing.T, doc, value string) {
		addAndBack(t, SyntaxAddFont, []byte(doc), aliasEntries(value))
	})
}
