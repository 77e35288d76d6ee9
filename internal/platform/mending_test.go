package platform

import (
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/edit/splice"
)

// A font's name is untrusted text: what a language would have to escape is left to a person.
func TestExchange(t *testing.T) {
	for _, c := range []struct {
		file, text string
		ok         bool
	}{
		{"a.swift", "SkerrySans-Bold", true}, {"a.swift", `A" + evil + "`, false}, {"a.swift", `A\(x)`, false}, {"a.dart", "A$x", false}, {"a.dart", "Öland Sans", true},
		{"a.xml", "A<b", false}, {"a.xml", "A&amp;", false}, {"a.yaml", "fonts/A.ttf", true}, {"a.yaml", "A #b", false}, {"a.css", "A (b)", false}, {"a.css", "A; color: red", false},
		{"a.xaml", "pack://application:,,,/App;component/#A", true}, {"a.kt", "A;b", false}, {"a.csproj", `Fonts\A.ttf`, true}, {"a.cs", `Fonts\A.ttf`, false}, {"a.js", "A`b", false}, {"a.js", "A\nb", false},
	} {
		require.Equal(t, c.ok, !Exchange(c.file, []byte("x old y"), 2, 5, c.text).Empty(), "%s in %s", c.text, c.file)
	}
	require.True(t, Exchange("a.swift", []byte("x"), 1, 5, "A").Empty())
	require.Equal(t, []Edit{{"a.txt", splice.Replace(7, 10, "new"), "old"}}, OnLine("a.txt", []byte("line\nx old y\nold"), 2, "old", "new").Edits)
	require.True(t, OnLine("a.txt", []byte("old old"), 1, "old", "new").Empty(), "it could be either")
	require.True(t, OnLine("a.txt", []byte("old"), 3, "old", "new").Empty())
	have := []string{"fonts/A-Bold.ttf", "b/C.otf", "c/C.otf", "notes.txt"}
	require.Equal(t, "fonts/A-Bold.ttf", Strayed(`x\a-bold.ttf`, have))
	require.Equal(t, "fonts/A-Bold.ttf", Strayed("A-Bld.ttf", have))
	require.Empty(t, Strayed("C.otf", have), "it could be either")
	require.Empty(t, Strayed("notes", have))
}
