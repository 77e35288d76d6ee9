package registry

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// Expressions of CSS Fonts 4, 4.5.1, with sets and text; what cannot be drawn is left out.
func TestCharacters(t *testing.T) {
	for _, c := range []struct {
		said Characters
		want string
	}{
		{Characters{Range: "U+0030-0032, u+41"}, "012A"},
		{Characters{Range: "U+4?"}, "@ABCDEFGHIJKLMNO"},
		{Characters{Range: "U+0-21, U+7F-A1, U+D800, U+FFFD"}, " !\u00a0\u00a1\uFFFD"},
		{Characters{Sets: []string{"digits"}, Text: "Ahoy, ahoy!\n"}, " !,0123456789Aahoy"},
		{Characters{Text: "\u00e9e\U0001F6A2"}, "e\u00e9\U0001F6A2"},
		{Characters{AppStrings: true}, ""},
	} {
		got, err := c.said.Runes()
		require.NoError(t, err)
		require.Equal(t, c.want, string(got), c.said)
	}
	for name := range CharacterSets {
		got, err := (&Characters{Sets: []string{name}}).Runes()
		require.NoError(t, err, name)
		require.NotEmpty(t, got, name)
	}
}

func FuzzCharacters(f *testing.F) {
	f.Add("U+0020-007E, U+4??", "text")
	f.Fuzz(func(t *testing.T, ranges, text string) {
		got, err := (&Characters{Range: ranges, Text: text}).Runes()
		if err == nil && len(got) > mostCharacters {
			t.Fatal(len(got))
		}
	})
}
