package edit_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/edit"
	"notaria/internal/edit/pbx"
	"notaria/internal/edit/source"
	"notaria/internal/platform/dotnet/msbuild"
)

func TestPaste(t *testing.T) {
	for _, tt := range []struct {
		syntax string
		want   []Entry
		text   string
	}{
		{SyntaxPlist, plistEntries("A & B.ttf", "C.ttf"), "<key>UIAppFonts</key>\n<array>\n\t<string>A &amp; B.ttf</string>\n\t<string>C.ttf</string>\n</array>"},
		{SyntaxPlist, []Entry{{Place: text("ATSApplicationFontsPath"), Value: "."}}, "<key>ATSApplicationFontsPath</key>\n<string>.</string>"},
		{SyntaxPubspec, assetsOf("Skerry Sans", "a.ttf", "Bold.ttf"), "flutter:\n  fonts:\n    - family: Skerry Sans\n      fonts:\n        - asset: a.ttf\n        - asset: Bold.ttf\n          weight: 700"},
		{SyntaxAppJSON, fontEntries("./a.ttf", `./"b".ttf`), `"plugins": [["expo-font", {"fonts": ["./a.ttf", "./\"b\".ttf"]}]]`},
		{SyntaxAddFont, []Entry{{Place: msbuild.AliasPlace("A"), Value: "a.ttf"}}, `fonts.AddFont("a.ttf", "A");`},
		{SyntaxXML, items("MauiFont", "Resources/Fonts/a.ttf"), `<MauiFont Include="Resources\Fonts\a.ttf" />`},
		{SyntaxSource, []Entry{sourceEntry(source.Block("dependencies"), "implementation(boats)")}, "implementation(boats)"},
		{SyntaxPackage, resources("Quay", "Type"), `resources: [.process("Type")]`},
		{SyntaxByHand, []Entry{{Place: edit.Place{Kind: edit.KindByHand, Name: "the text"}, Value: "x"}}, "the text"},
		{SyntaxProject, append(projectEntries("a.ttf", "b.ttf"), memberships("Harbour/c.ttf")...),
			"add to the Resources phase of the target SkerryFerries: SkerryFerries/Type/a.ttf, SkerryFerries/Type/b.ttf\ntick the target Tides under Target Membership of: Harbour/c.ttf"},
		{SyntaxProject, []Entry{{Place: edit.Place{Kind: pbx.KindSetting, Name: "Quay"}, Value: "A=b"}, {Place: edit.Place{Kind: pbx.KindReference, Name: "Quay"}, Value: "Type/AppType.h"}}, "set in the build settings of the target Quay: A=b\nadd to the project, without a target: Type/AppType.h"},
		{SyntaxPlist, nil, ""},
	} {
		require.Equal(t, tt.text, syntaxes[tt.syntax].Paste(tt.want))
	}
}
