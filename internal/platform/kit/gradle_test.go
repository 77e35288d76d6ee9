package kit

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func TestModulesOfABuildFile(t *testing.T) {
	got := modulesIn("game/build.gradle", "all { }\nproject(\":core\") {\n  a { b }\n}\nproject(':x:y') { c }\n")
	require.Len(t, got, 3)
	require.Equal(t, GradleModule{"game/build.gradle", "game/core", "\n  a { b }\n"}, got[0])
	require.Equal(t, "game/x/y", got[1].Dir)
	require.Equal(t, "game", got[2].Dir)
	require.NotContains(t, got[2].Text, "b")
}

func FuzzBuildFile(f *testing.F) {
	f.Add("project(\":core\") {\n \"}\" }")
	f.Fuzz(func(t *testing.T, text string) {
		for _, m := range modulesIn("build.gradle", text) {
			if len(m.Text) > len(text) {
				t.Fatal(m)
			}
		}
	})
}
