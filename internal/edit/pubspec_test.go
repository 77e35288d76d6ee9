package edit_test

import (
	"strings"
	"testing"

	"github.com/goccy/go-yaml"
	"github.com/stretchr/testify/require"

	"notaria/internal/edit/yamldoc"
	"notaria/internal/platform/flutter/pubspec"
)

const pubspecFile = "flutter/pubspec.yaml"

// templatePubspec is what a new app has, comments and all.
const templatePubspec = `name: skerry
description: The deck game.
environment:
  sdk: ^3.5.0

dependencies:
  flutter:
    sdk: flutter

flutter:

  # The following line ensures that the icons are there.
  uses-material-design: true

  # An example of fonts:
  # fonts:
  #   - family: Capstan
  #     fonts:
  #       - asset: fonts/Capstan.ttf
  #         weight: 700
`

func assetsOf(family string, paths ...string) []Entry {
	var out []Entry
	for _, p := range paths {
		e := Entry{File: pubspecFile, Syntax: SyntaxPubspec, Place: pubspec.Family(family), Value: p}
		if strings.Contains(p, "Bold") {
			e.With = []string{"weight: 700"}
		}
		out = append(out, e)
	}
	return out
}

func TestPubspecShapes(t *testing.T) {
	theirs := "flutter:\n  fonts:\n    - family: Theirs\n      fonts:\n        - asset: fonts/Theirs.ttf # a comment\n          style: italic\n\n# the end\n"
	shapes := map[string]string{
		"the template":           templatePubspec,
		"no flutter key":         "name: skerry\n",
		"no end of its line":     "name: skerry",
		"no end, CRLF":           "name: skerry\r\nflutter:\r\n  uses-material-design: true",
		"an empty flutter key":   "name: skerry\nflutter:\n# nothing yet\n",
		"an empty fonts key":     "name: skerry\nflutter:\n  fonts:\n  uses-material-design: true\n",
		"another family":         theirs,
		"the family, by hand":    strings.ReplaceAll(theirs, "Theirs", "Skerry Sans"),
		"dashes under the key":   "flutter:\n  fonts:\n  - family: Theirs\n    fonts:\n    - asset: fonts/Theirs.ttf\n  uses-material-design: true\n",
		"four spaces":            "flutter:\n    uses-material-design: true\n    assets:\n        - images/\nother: 1\n",
		"flutter before others":  "flutter:\n  uses-material-design: true\n\ndev_dependencies:\n  x: 1\n",
		"CRLF":                   strings.ReplaceAll(templatePubspec, "\n", "\r\n"),
		"a byte order mark":      "\ufeff" + templatePubspec,
		"quoted and with anchor": "flutter:\n  fonts:\n    - family: 'Theirs' # x\n      fonts:\n        - asset: \"fonts/Theirs.ttf\"\n",
		"an empty list in flow":  "name: skerry\nflutter:\n  fonts: []\n  uses-material-design: true\n",
		"a list in flow":         "flutter:\n  fonts: [{family: Theirs, fonts: [{asset: fonts/Theirs.ttf}]}] # all\n",
		"lines in flow":          "flutter:\n  fonts: [\n    {family: 'Theirs', fonts: [{asset: \"fonts/Theirs.ttf\", weight: 300}]}, # [x\n  ]\nother: [1]\n",
		"all in flow":            "name: skerry\nflutter: {uses-material-design: true}\n",
		"all in flow, empty":     "name: skerry\nflutter: { }\n",
		"all in flow, fonts":     "flutter: {fonts: [{family: Theirs, fonts: [{asset: fonts/Theirs.ttf}]}], assets: [é/]}\n",
		"a family in flow":       "flutter:\n  fonts:\n    - {family: Theirs, fonts: [{asset: fonts/Theirs.ttf}]}\n",
		"ours, by hand, in flow": "flutter:\n  fonts:\n    - family: Skerry Sans\n      fonts: [{asset: fonts/Other.ttf}]\n" +
			"    - {family: Theirs, fonts: [{asset: fonts/Theirs.ttf}]}\n",
	}
	entries := append(assetsOf("Skerry Sans", "fonts/SkerrySans-Regular.ttf", "fonts/SkerrySans-Bold.ttf"), assetsOf(`Odd: "name"`, "fonts/Odd #1.ttf")...)
	for name, doc := range shapes {
		t.Run(name, func(t *testing.T) {
			thereAndBack(t, SyntaxPubspec, []byte(doc), entries, func(out []byte) {
				var read struct {
					Flutter struct {
						Fonts []struct {
							Family string
							Fonts  []struct {
								Asset  string
								Weight int
							}
						}
					}
				}
				require.NoError(t, yaml.Unmarshal([]byte(strings.TrimPrefix(string(out), "\ufeff")), &read), "%s", out)
				found := map[string]int{}
				for _, f := range read.Flutter.Fonts {
					for _, a := range f.Fonts {
						found[f.Family+" "+a.Asset] = a.Weight + 1
					}
				}
				require.Equal(t, 701, found["Skerry Sans fonts/SkerrySans-Bold.ttf"], "%s", out)
				require.Equal(t, 1, found["Skerry Sans fonts/SkerrySans-Regular.ttf"])
				require.Equal(t, 1, found[`Odd: "name" fonts/Odd #1.ttf`])
				if strings.Contains(doc, "Theirs") {
					require.NotZero(t, found["Theirs fonts/Theirs.ttf"])
				}
			})
		})
	}
}

// Another edition of a face can have another weight: the entry follows.
func TestPubspecWeightFollows(t *testing.T) {
	entries := assetsOf("Skerry Sans", "fonts/SkerrySans-Bold.ttf")
	out, owned, err := Reconcile(pubspecFile, SyntaxPubspec, []byte(templatePubspec), entries, nil)
	require.NoError(t, err)
	require.Contains(t, string(out), "weight: 700\n\n")
	heavier := assetsOf("Skerry Sans", "fonts/SkerrySans-Bold.ttf")
	heavier[0].With = []string{"weight: 800"}
	out, owned, err = Reconcile(pubspecFile, SyntaxPubspec, out, heavier, owned)
	require.NoError(t, err)
	require.Contains(t, string(out), "weight: 800\n")
	require.Equal(t, 1, strings.Count(string(out), "SkerrySans-Bold"))
	out, _, err = Reconcile(pubspecFile, SyntaxPubspec, out, nil, owned)
	require.NoError(t, err)
	require.Equal(t, templatePubspec, string(out))
}

func TestPubspecRefusals(t *testing.T) {
	for want, doc := range map[string]string{
		"pubspec.yaml:3: expected YAML, found character": "name: x\nflutter:\n\tfonts: 1\n",
		"already defined":          "name: x\nname: y\n",
		"fonts: as a list, found":  "flutter: {fonts: a}\n",
		"as a list with dashes":    "flutter:\n  fonts: a\n",
		"a family with its fonts":  "flutter:\n  fonts:\n    - just text\n",
		"found 2":                  "a: 1\n---\nb: 2\n",
		"fonts: below the family ": "flutter:\n  fonts:\n    - family: Skerry Sans\n",
	} {
		t.Run(want, func(t *testing.T) {
			_, _, err := Reconcile(pubspecFile, SyntaxPubspec, []byte(doc), assetsOf("Skerry Sans", "a.ttf"), nil)
			require.ErrorContains(t, err, want)
		})
	}
}

func TestYAMLScalars(t *testing.T) {
	for _, s := range []string{"plain", "Two Words", "yes", "null", "1st", "a: b", "#x", "-", "", " padded ", "quo\"te", "back\\slash", "new\nline", "岩", "🚢", "{x}", "@a", "%b", "'c'", "a/b.ttf", "\u202e"} {
		var back string
		require.NoError(t, yaml.Unmarshal([]byte(yamldoc.Scalar(s)), &back), "%q as %s", s, yamldoc.Scalar(s))
		require.Equal(t, s, back)
	}
}

func FuzzPubspec(f *testing.F) {
	f.Add(templatePubspec, "fonts/A.ttf")
	f.Add("flutter: {fonts: [{family: \"A\", fonts: [{asset: 'a'}]}]} # x", "b")
	f.Add("flutter:\n  fonts:\n  - family: A\n    fonts:\n    - asset: a\n", "b")
	f.Fuzz(func(t *testing.T, doc, value string) {
		addAndBack(t, SyntaxPubspec, []byte(doc), assetsOf("Skerry Sans", value))
	})
}
