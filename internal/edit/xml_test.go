package edit_test

import (
	"encoding/xml"
	"errors"
	"io"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/edit"
	"notaria/internal/edit/xmldoc"
	"notaria/internal/platform/dotnet/msbuild"
)

func items(name string, files ...string) []Entry {
	var out []Entry
	for _, f := range files {
		out = append(out, Entry{File: "Board.csproj", Syntax: SyntaxXML, Place: msbuild.ItemPlace(name), Value: msbuild.ItemValue(f)})
	}
	return out
}

// wellFormed asks another reading of the document.
func wellFormed(t *testing.T, doc []byte) {
	t.Helper()
	dec := xml.NewDecoder(strings.NewReader(strings.TrimPrefix(string(doc), "\ufeff")))
	for {
		if _, err := dec.RawToken(); errors.Is(err, io.EOF) {
			return
		} else {
			require.NoError(t, err, "%s", doc)
		}
	}
}

func TestProjectItemShapes(t *testing.T) {
	plain := "<Project Sdk=\"Microsoft.NET.Sdk\">\n\n  <PropertyGroup>\n    <UseMaui>true</UseMaui>\n  </PropertyGroup>\nITEMS</Project>\n"
	shape := func(items string) string { return strings.Replace(plain, "ITEMS", items, 1) }
	for name, doc := range map[string]string{
		"no group":          shape(""),
		"a group of others": shape("  <ItemGroup>\n    <Compile Include=\"a.cs\" />\n  </ItemGroup>\n"),
		"some of ours":      shape("  <ItemGroup>\n    <MauiFont Include=\"Resources\\Fonts\\Theirs.ttf\" />\n    <Compile Include=\"a.cs\" />\n  </ItemGroup>\n"),
		"on one line":       shape("<ItemGroup><MauiFont Include=\"Theirs.ttf\"/></ItemGroup>"),
		"commented out":     shape("  <!-- <ItemGroup><MauiFont Include=\"Theirs.ttf\"/></ItemGroup> -->\n"),
		"CRLF":              strings.ReplaceAll(shape(""), "\n", "\r\n"),
		"a byte order mark": "\ufeff" + shape(""),
		"tabs":              strings.ReplaceAll(shape("  <ItemGroup>\n    <Compile Include=\"a.cs\" />\n  </ItemGroup>\n"), "  ", "\t"),
		"no final newline":  strings.TrimSuffix(shape(""), "\n"),
		"nothing in it":     "<Project Sdk=\"Microsoft.NET.Sdk\" />",
		"a lone tag":        "<Project/>\n",
		"all on one line":   "<Project><PropertyGroup/></Project>",
		"a namespace":       "<?xml version=\"1.0\" encoding=\"utf-8\"?>\n<Project ToolsVersion=\"4.0\" xmlns=\"http://schemas.microsoft.com/developer/msbuild/2003\">\n</Project>\n",
	} {
		t.Run(name, func(t *testing.T) {
			entries := items("MauiFont", "Resources/Fonts/A.ttf", "Resources/Fonts/Ro & \"co\" <1>.ttf")
			thereAndBack(t, SyntaxXML, []byte(doc), entries, func(out []byte) {
				wellFormed(t, out)
				list, err := msbuild.Items(edit.Document{File: "Board.csproj", Text: out})
				require.NoError(t, err)
				for _, e := range entries {
					found := 0
					for _, i := range list {
						if i.Name == "MauiFont" && i.Covers(xmldoc.Slashes(e.Value)) {
							found++
						}
					}
					require.Equal(t, 1, found, "%s", out)
				}
			})
		})
	}
}

func TestWildcards(t *testing.T) {
	for _, tt := range []struct {
		pattern, name string
		want          bool
	}{
		{"Resources/Fonts/*", "Resources/Fonts/A.ttf", true}, {"resources/fonts/*.TTF", "Resources/Fonts/A.ttf", true}, {"Resources/Fonts/*", "Resources/Fonts/x/A.ttf", false},
		{"Resources/**/*.ttf", "Resources/Fonts/x/A.ttf", true}, {"Resources/**", "Resources/Fonts/A.ttf", true}, {"**/*.otf", "A.ttf", false}, {"a.ttf; Fonts/?.ttf", "Fonts/A.ttf", true},
	} {
		require.Equal(t, tt.want, msbuild.Item{Include: tt.pattern}.Covers(tt.name), "%s %s", tt.pattern, tt.name)
	}
}

func TestMergedDictionaryShapes(t *testing.T) {
	app := func(inside string) string {
		return "<?xml version=\"1.0\" encoding=\"UTF-8\" ?>\n<Application xmlns=\"http://schemas.microsoft.com/dotnet/2021/maui\"\n             xmlns:x=\"http://schemas.microsoft.com/winfx/2009/xaml\"\n             x:Class=\"Board.App\">\n" + inside + "</Application>\n"
	}
	entry := []Entry{{File: "App.xaml", Syntax: SyntaxXML, Place: msbuild.MergedPlace(), Value: "Resources/Styles/AppType.xaml"}}
	for name, doc := range map[string]string{
		"as the template":      app("    <Application.Resources>\n        <ResourceDictionary>\n            <ResourceDictionary.MergedDictionaries>\n                <ResourceDictionary Source=\"Resources/Styles/Colors.xaml\" />\n            </ResourceDictionary.MergedDictionaries>\n        </ResourceDictionary>\n    </Application.Resources>\n"),
		"no resources":         app(""),
		"empty resources":      app("    <Application.Resources>\n    </Application.Resources>\n"),
		"resources as one tag": app("    <Application.Resources />\n"),
		"an empty dictionary":  app("    <Application.Resources>\n        <ResourceDictionary/>\n    </Application.Resources>\n"),
		"a dictionary of its":  app("    <Application.Resources>\n        <ResourceDictionary>\n            <Color x:Key=\"Sea\">#0B3D5C</Color>\n        </ResourceDictionary>\n    </Application.Resources>\n"),
		"direct children":      app("    <Application.Resources>\n        <!-- of the line -->\n        <Color x:Key=\"Sea\">#0B3D5C</Color>\n\n        <Color x:Key=\"Foam\">#FFFFFF</Color>\n    </Application.Resources>\n"),
		"children on one line": app("<Application.Resources><Color x:Key=\"Sea\">#0B3D5C</Color></Application.Resources>\n"),
		"another's dictionary": app("    <Application.Resources>\n        <ResourceDictionary Source=\"Colors.xaml\" />\n    </Application.Resources>\n"),
		"another's, inline":    app("<Application.Resources><ResourceDictionary Source=\"Colors.xaml\" /></Application.Resources>\n"),
		"children, CRLF":       strings.ReplaceAll(app("    <Application.Resources>\n        <Color x:Key=\"Sea\">#0B3D5C</Color>\n    </Application.Resources>\n"), "\n", "\r\n"),
		"an empty list":        app("    <Application.Resources>\n        <ResourceDictionary>\n            <ResourceDictionary.MergedDictionaries />\n        </ResourceDictionary>\n    </Application.Resources>\n"),
		"CRLF":                 strings.ReplaceAll(app("    <Application.Resources>\n    </Application.Resources>\n"), "\n", "\r\n"),
		"all on one line":      "<Application><Application.Resources><ResourceDictionary><ResourceDictionary.MergedDictionaries></ResourceDictionary.MergedDictionaries></ResourceDictionary></Application.Resources></Application>",
	} {
		t.Run(name, func(t *testing.T) {
			thereAndBack(t, SyntaxXML, []byte(doc), entry, func(out []byte) {
				wellFormed(t, out)
				root, err := xmldoc.Parse(edit.Document{File: "App.xaml", Text: out})
				require.NoError(t, err)
				var list []string
				for _, m := range root.Within(entry[0].Place.Path) {
					for _, c := range m.Children {
						list = append(list, c.Attr["Source"])
					}
				}
				require.Contains(t, list, entry[0].Value, "%s", out)
			})
		})
	}
}

// xmlHolds says whether XML can hold a text; no file that Notaria names has other signs.
func xmlHolds(s string) bool {
	return !strings.ContainsFunc(s, func(r rune) bool { return r < 0x20 || r >= 0xfffd })
}

func FuzzXML(f *testing.F) {
	f.Add("<Project>\n  <ItemGroup>\n    <MauiFont Include=\"a\" />\n  </ItemGroup>\n</Project>", "b.ttf")
	f.Add("<Application><Application.Resources/></Application>", "b.xaml")
	f.Fuzz(func(t *testing.T, doc, value string) {
		if !xmlHolds(value) {
			return
		}
		for _, place := range []edit.Place{msbuild.ItemPlace("MauiFont"), msbuild.MergedPlace()} {
			addAndBack(t, SyntaxXML, []byte(doc), []Entry{{File: "x", Syntax: SyntaxXML, Place: place, Value: value}})
		}
	})
}
