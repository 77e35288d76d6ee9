package edit_test

import (
	"encoding/json"
	"strings"
	"testing"
	"unicode/utf8"

	"github.com/stretchr/testify/require"

	"notaria/internal/edit"
	"notaria/internal/language"
	"notaria/internal/platform/reactnative/appjson"
)

const appFile = "kiosk/app.json"

func fontEntries(values ...string) []Entry {
	var out []Entry
	for _, v := range values {
		out = append(out, Entry{File: appFile, Syntax: SyntaxAppJSON, Place: appjson.Fonts, Value: v})
	}
	return out
}

func TestAppJSONShapes(t *testing.T) {
	shapes := map[string]string{
		"no plugins":            "{\n  \"expo\": {\n    \"name\": \"kiosk\",\n    \"slug\": \"kiosk\"\n  }\n}\n",
		"an empty expo":         "{\"expo\": {}}",
		"empty plugins":         "{\n  \"expo\": {\n    \"plugins\": []\n  }\n}\n",
		"other plugins":         "{\n  \"expo\": {\n    \"plugins\": [\n      \"expo-router\",\n      [\"expo-x\", {\"a\": 1}]\n    ],\n    \"z\": true\n  }\n}\n",
		"on one line":           "{\"expo\":{\"plugins\":[\"expo-router\"],\"z\":1}}",
		"the bare name":         "{\n  \"expo\": {\n    \"plugins\": [\n      \"expo-font\",\n      \"expo-router\"\n    ]\n  }\n}\n",
		"empty properties":      "{\n\t\"expo\": {\n\t\t\"plugins\": [\n\t\t\t[\"expo-font\", {}]\n\t\t]\n\t}\n}\n",
		"properties of others":  "{\n  \"expo\": {\n    \"plugins\": [\n      [\n        \"expo-font\",\n        {\n          \"android\": {\"fonts\": []}\n        }\n      ]\n    ]\n  }\n}\n",
		"fonts of theirs":       "{\n  \"expo\": {\n    \"plugins\": [\n      [\"expo-font\", {\"fonts\": [\"./Theirs.ttf\"]}]\n    ]\n  }\n}\n",
		"an empty list":         "{\n  \"expo\": {\n    \"plugins\": [\n      [\"expo-font\", {\"fonts\": [ ]}]\n    ]\n  }\n}\n",
		"CRLF":                  "{\r\n  \"expo\": {\r\n    \"name\": \"kiosk\"\r\n  }\r\n}\r\n",
		"with comments":         "{\n  // ours\n  \"expo\": { /* the \"plugins\": [] come below */\n    \"plugins\": [\"expo-router\"] // more\n  }\n}\n",
		"four spaces, no end":   "{\n    \"expo\": {\n        \"name\": \"kiosk\"\n    }\n}",
		"unicode and a mark":    "\ufeff{\"expo\": {\"name\": \"Fähre \\u2693\"}}",
		"fonts on lines theirs": "{\n  \"expo\": {\n    \"plugins\": [\n      [\n        \"expo-font\",\n        {\n          \"fonts\": [\n            \"./Theirs.ttf\"\n          ]\n        }\n      ]\n    ]\n  }\n}\n",
	}
	entries := fontEntries("./assets/fonts/SkerrySans-Regular.ttf", "./assets/fonts/SkerrySans-Bold.ttf", `./odd "1" <&>.ttf`)
	families := []Entry{
		{File: appFile, Syntax: SyntaxAppJSON, Place: appjson.AndroidFonts, Value: `{"fontFamily":"Skerry Sans","fontDefinitions":[{"path":"./a.ttf","weight":400},{"path":"./b.ttf","weight":700,"style":"italic"}]}`},
		{File: appFile, Syntax: SyntaxAppJSON, Place: appjson.AndroidFonts, Value: `{"fontFamily":"Odd \"1\" // <&>","fontDefinitions":[{"path":"./c.ttf","weight":400}]}`},
		{File: appFile, Syntax: SyntaxAppJSON, Place: appjson.IOSFonts, Value: "./a.ttf"},
		{File: appFile, Syntax: SyntaxAppJSON, Place: appjson.IOSFonts, Value: "./b.ttf"},
	}
	for name, doc := range shapes {
		t.Run(name+", families", func(t *testing.T) {
			thereAndBack(t, SyntaxAppJSON, []byte(doc), families, func(out []byte) {
				lacks, err := appjson.Syntax{}.Missing(edit.Document{File: appFile, Text: out}, families)
				require.NoError(t, err)
				require.Empty(t, lacks, "%s", out)
				// From one form to the other, as the option says.
				_, owned, err := Reconcile(appFile, SyntaxAppJSON, []byte(doc), families, nil)
				require.NoError(t, err)
				plain, owned, err := Reconcile(appFile, SyntaxAppJSON, out, entries, owned)
				require.NoError(t, err)
				require.NotContains(t, string(plain), "fontFamily")
				require.NotContains(t, string(plain), "\"ios\"")
				back, _, err := Reconcile(appFile, SyntaxAppJSON, plain, nil, owned)
				require.NoError(t, err)
				require.Equal(t, strings.Join(strings.Fields(doc), ""), strings.Join(strings.Fields(string(back)), ""))
			})
		})
		t.Run(name, func(t *testing.T) {
			thereAndBack(t, SyntaxAppJSON, []byte(doc), entries, func(out []byte) {
				var read struct {
					Expo struct{ Plugins []any }
				}
				plain := strings.TrimPrefix(string(out), "\ufeff")
				if name == "with comments" {
					plain = string(language.JSON.Blank([]byte(plain)))
				}
				require.NoError(t, json.Unmarshal([]byte(plain), &read), "%s", out)
				var fonts []any
				for _, p := range read.Expo.Plugins {
					if l, ok := p.([]any); ok && l[0] == "expo-font" {
						fonts = l[1].(map[string]any)["fonts"].([]any)
					}
				}
				for _, e := range entries {
					require.Contains(t, fonts, e.Value, "%s", out)
				}
				require.Equal(t, strings.Contains(doc, "router"), strings.Contains(string(out), "router"))
			})
		})
	}
}

func TestAppJSONLooksAsByHand(t *testing.T) {
	out, _, err := Reconcile(appFile, SyntaxAppJSON, []byte("{\n  \"expo\": {\n    \"name\": \"kiosk\"\n  }\n}\n"), fontEntries("./a.ttf", "./b.ttf"), nil)
	require.NoError(t, err)
	require.Equal(t, `{
  "expo": {
    "name": "kiosk",
    "plugins": [
      [
        "expo-font",
        {
          "fonts": [
            "./a.ttf",
            "./b.ttf"
          ]
        }
      ]
    ]
  }
}
`, string(out))
}

func TestAppJSONRefusals(t *testing.T) {
	for want, doc := range map[string]string{
		`an object "expo"`:          `{"expo": []}`,
		`a list under "plugins"`:    `{"expo": {"plugins": {}}}`,
		"an object of properties":   `{"expo": {"plugins": [["expo-font", []]]}}`,
		`a list under "fonts"`:      `{"expo": {"plugins": [["expo-font", {"fonts": "a"}]]}}`,
		"it twice":                  `{"expo": {"plugins": ["expo-font", "expo-font"]}}`,
		"a key in quotes":           `{expo: {}}`,
		"app.json:2: expected ','":  "{\"expo\": {}\n\"x\": 1}",
		"a value, found \"]":        `{"expo": {"plugins": [1,]}}`,
		"the end of the file":       `{"expo": {}} x`,
		"at most 64 levels":         strings.Repeat("[", 100),
		"a string":                  "{\"expo",
		"found the end of the file": `{"expo": `,
	} {
		t.Run(want, func(t *testing.T) {
			_, _, err := Reconcile(appFile, SyntaxAppJSON, []byte(doc), fontEntries("a"), nil)
			require.ErrorContains(t, err, want)
		})
	}
}

func FuzzAppJSON(f *testing.F) {
	f.Add(`{"expo": {"plugins": ["expo-font", [1, {"a": "b\n"}]]}}`, "./a.ttf")
	f.Add("{\n  \"expo\": {\n    \"plugins\": [[\"expo-font\", {\"fonts\": []}]]\n  }\n}\n", "./a.ttf")
	f.Fuzz(func(t *testing.T, doc, value string) {
		if !utf8.ValidString(value) {
			return // JSON holds text; paths that are none cannot be written in it
		}
		addAndBack(t, SyntaxAppJSON, []byte(doc), fontEntries(value))
	})
}
