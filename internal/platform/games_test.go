package platform

import (
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/face"
)

func TestPixels(t *testing.T) {
	for length, want := range map[float64]int{0: 0, 0.2: 1, 0.6: 1, 1.4: 1, 1.5: 2, -0.4: 0, -1.6: -2, 28: 28} {
		require.Equal(t, want, Pixels(length), length)
	}
}

func TestBody(t *testing.T) {
	job := func(names ...string) Job {
		var j Job
		for i, n := range names {
			j.Roles = append(j.Roles, Role{Name: n, Size: float64(10 + 8*i)})
		}
		return j
	}
	require.Equal(t, "body", job("heading", "body").Body().Name)
	require.Equal(t, "text", job("heading", "text", "caption").Body().Name)
	require.Equal(t, "b", job("a", "b", "c").Body().Name, "18 is nearest to 16")
}

// What stands between two lines: by the role, else by the face.
func TestLineGap(t *testing.T) {
	f := Face{Face: face.Face{UnitsPerEm: 1000, Ascent: 900, Descent: -300, LineGap: 100}}
	require.InDelta(t, 2, Role{Face: f, Size: 20}.LineGap(), 1e-9)
	require.InDelta(t, 6, Role{Face: f, Size: 20, LineHeight: 30}.LineGap(), 1e-9)
	require.InDelta(t, -4, Role{Face: f, Size: 20, LineHeight: 20}.LineGap(), 1e-9)
}

func TestCharactersOfStrings(t *testing.T) {
	have := map[rune]bool{'a': true, 'ä': true}
	require.Empty(t, AnswerCharacters(`a ä`, have).Fault)
	require.Equal(t, "no role's atlas has 岩 (U+5CA9)", AnswerCharacters(`岩a岩`, have).Message)
}

// The characters of texts are those that the form of each file writes.
func TestWording(t *testing.T) {
	for file, c := range map[string][2]string{
		"a.js":                   {`draw('caf\u{e9}') // ü`, "é"},
		"a.lua":                  {`draw('caf\195\169')`, "é"},
		"a.py":                   {`draw("caf\xe9")`, "é"},
		"a.css":                  {`a::before { content: "\e9 " }`, "é"},
		"l10n/de.json":           {`{"a": "\u00e9", "b": "C:\\u00fc"}`, "é"}, // decoded once: the second is no letter
		"de.strings":             {`"k" = "\U00e9";`, "é"},
		"de.po":                  {"msgid \"x\"\nmsgstr \"\\303\\251\"\n", "é"},
		"res/values/strings.xml": {`<resources><string name="a">\u00e9</string></resources>`, "é"},
		"l10n/de.yaml":           {`a: "\xe9"`, "é"},
	} {
		text, shown := Wording(file, []byte(c[0]))
		require.True(t, shown, file)
		got := string(Characters(text))
		require.Contains(t, got, c[1], "%s: %q", file, text)
		require.NotContains(t, got, "ü", "%s: %q", file, text)
	}
}

func FuzzCharacters(f *testing.F) {
	f.Add("a\u00e9")
	f.Fuzz(func(_ *testing.T, text string) { AnswerCharacters(text, nil) })
}
