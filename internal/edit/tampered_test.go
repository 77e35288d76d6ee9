package edit_test

import (
	"encoding/json"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/edit"
)

// manifests are documents that the entries of a ledger are held against.
var manifests = map[string]string{
	SyntaxPlist: fmt.Sprintf(plainPlist, "\t<key>UIAppFonts</key>\n\t<array>\n\t\t<string>A.ttf</string>\n\t</array>\n"), SyntaxXML: "<Project>\n  <ItemGroup>\n    <MauiFont Include=\"A.ttf\" />\n  </ItemGroup>\n</Project>\n",
	SyntaxSource: "import a\nkotlin {\n    x()\n}\n", SyntaxPackage: "// swift-tools-version:5.9\n.target(name: \"Quay\", resources: [.process(\"Type\")])", SyntaxAddFont: mauiProgram,
	SyntaxPubspec: "flutter:\n  fonts:\n    - family: A\n      fonts:\n        - asset: a\n", SyntaxAppJSON: `{"expo": {"plugins": [["expo-font", {"fonts": ["./A.ttf"]}]]}}`, SyntaxByHand: "x", SyntaxProject: folders,
}

// A ledger is a file that anybody can write: whatever it tells of a manifest, no syntax
// panics, and what comes out is an error or a document.
func FuzzTamperedLedger(f *testing.F) {
	for _, e := range []string{
		`[{"syntax":"xml","place":{"kind":"grouped","name":"MauiFont","attribute":"Include","path":["ItemGroup"]},"value":"A.ttf"},{"syntax":"xml","place":{"kind":"grouped","name":"MauiFont","attribute":"Include","path":["ItemGroup"]},"made":["group",""]}]`,
		`[{"syntax":"xml","place":{"kind":"grouped","name":"MauiFont","attribute":"Include","path":["ItemGroup"]},"value":"A.ttf"},{"syntax":"xml","place":{"kind":"grouped","name":"MauiFont","attribute":"Include","path":["ItemGroup"]},"made":["opened","</"]}]`,
		`[{"syntax":"xml","place":{"kind":"nested"},"value":"A.ttf","made":[]}]`,
		`[{"syntax":"plist","place":{"kind":"string","name":"UIAppFonts"}},{"syntax":"plist","place":{"kind":"array","name":"UIAppFonts"},"made":[""]}]`,
		`[{"syntax":"appjson","place":{"kind":"font"}},{"syntax":"appjson","place":{"kind":"list","path":["fonts"]},"made":["["]},{"syntax":"appjson","place":{"kind":"plugin"},"made":["x"]},{"syntax":"appjson","place":{"kind":"font","path":["fonts"]},"value":"./A.ttf"}]`,
		`[{"syntax":"xcodeproj","place":{"kind":"section"},"value":""},{"syntax":"xcodeproj","place":{"kind":"exceptions"},"value":"A0000000000000000000000A"},{"syntax":"xcodeproj","place":{"kind":"nothing"},"value":"x","made":["A0000000000000000000000E","A0000000000000000000000A"]}]`,
		`[{"syntax":"pubspec","place":{"kind":"flutter"}},{"syntax":"pubspec","place":{"kind":"fonts"}},{"syntax":"pubspec","place":{"kind":"family","name":"A"},"value":"a"}]`,
		`[{"syntax":"source","place":{"kind":"after"},"value":""},{"syntax":"source","place":{"kind":"block","path":["kotlin"]},"value":"x()","made":["line and gap"]},{"syntax":"swiftpackage","place":{"kind":"resources","name":"Quay"},"value":"Type","made":["[.process"]}]`,
	} {
		f.Add(e)
	}
	f.Fuzz(func(t *testing.T, text string) {
		var entries []Entry
		if json.Unmarshal([]byte(text), &entries) != nil {
			return
		}
		for name, s := range syntaxes {
			doc := edit.Document{File: "m", Text: []byte(manifests[name])}
			var own []Entry
			for _, e := range entries {
				if e.Syntax == name || e.Syntax == "" {
					e.File, e.Syntax = "m", name
					own = append(own, e)
				}
			}
			if len(own) == 0 {
				continue
			}
			for _, pair := range [][2][]Entry{{nil, own}, {own, nil}, {own, own}} {
				out, _, err := s.Reconcile(doc, pair[0], pair[1])
				require.True(t, err != nil || out != nil)
			}
			_ = s.Paste(own)
			_ = s.TakeOver(doc, own, nil)
			_, _ = s.Missing(doc, own)
		}
	})
}

// A comment that somebody wrote into a group of ours keeps the group.
func TestNothingOfAnybodysGoesWithOurGroup(t *testing.T) {
	doc := "<Project>\n</Project>\n"
	out, owned, err := Reconcile("b.csproj", SyntaxXML, []byte(doc), items("MauiFont", "A.ttf"), nil)
	require.NoError(t, err)
	theirs := string(out[:len("<Project>\n  <ItemGroup>\n")]) + "    <!-- keep -->\n" + string(out[len("<Project>\n  <ItemGroup>\n"):])
	back, _, err := Reconcile("b.csproj", SyntaxXML, []byte(theirs), nil, owned)
	require.NoError(t, err)
	require.Equal(t, "<Project>\n  <ItemGroup>\n    <!-- keep -->\n  </ItemGroup>\n</Project>\n", string(back))
}

func TestToolsVersionsAreNumbers(t *testing.T) {
	for version, served := range map[string]bool{"5.2": false, "5.3": true, "5.10": true, "10.0": true, "6": true, "4.2": false, "3.10": false, "5.": false} {
		_, _, err := Reconcile(packageFile, SyntaxPackage, []byte("// swift-tools-version:"+version+"\n.target(name: \"Quay\")"), resources("Quay", "Type"), nil)
		require.Equal(t, served, err == nil, "%s: %v", version, err)
	}
}
