package subject

import (
	"context"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/face"
	"notaria/internal/notary"
	"notaria/internal/phrases"
	"notaria/internal/skerry"
	"notaria/internal/specimen"
)

func archive(t *testing.T) string {
	t.Helper()
	b, err := skerry.Archive()
	require.NoError(t, err)
	name := filepath.Join(t.TempDir(), "type.zip")
	require.NoError(t, os.WriteFile(name, b, 0o644))
	return name
}

func noProject() (*notary.Project, error) { panic("no project is asked for") }

func TestFindChooses(t *testing.T) {
	name := archive(t)
	for _, tt := range []struct {
		wanted Wanted
		faces  int
	}{
		{Wanted{}, 4}, {Wanted{Categories: []string{"serif"}}, 0}, {Wanted{Categories: []string{"serif", "sans"}}, 4}, {Wanted{Least: 600}, 1}, {Wanted{Least: 300, Most: 400}, 3},
		{Wanted{Scripts: []string{"Latn"}}, 4}, {Wanted{Scripts: []string{"Latn", "Cyrl"}}, 0}, {Wanted{CanWrite: "Ærø"}, 4}, {Wanted{CanWrite: "\u5ca9"}, 0},
	} {
		s, err := Finder{Wanted: tt.wanted, Project: noProject}.Find(context.Background(), []string{name})
		require.NoError(t, err)
		require.Len(t, s.Faces, tt.faces, "%+v", tt.wanted)
		require.Equal(t, 4-tt.faces, s.Left)
	}
}

func TestSingleAndCompare(t *testing.T) {
	s, err := Finder{Wanted: Wanted{Least: 400}, Project: noProject}.Find(context.Background(), []string{archive(t)})
	require.NoError(t, err)
	of := func(id string) specimen.Face {
		for _, f := range s.Faces {
			if f.ID() == id {
				return f
			}
		}
		t.Fatal(id)
		return specimen.Face{}
	}
	_, err = Single(s, "type.zip", 0, nil)
	require.ErrorContains(t, err, "expected one face, found 3 faces")
	_, err = Single(Subjects{}, "x", 0, nil)
	require.ErrorContains(t, err, "found none")

	role := Subjects{Roles: []specimen.Role{{Name: "heading", Face: of("SkerrySans-Regular"), Style: specimen.Style{Size: 20, Leading: 24, Tracking: 0.5}}}}
	a, err := Single(role, "heading", 40, nil)
	require.NoError(t, err)
	require.Equal(t, specimen.Style{Size: 40, Leading: 48, Tracking: 1}, a.Style)
	b, err := Single(Subjects{Faces: []specimen.Face{of("SkerrySans-Bold")}}, "SkerrySans-Bold", 0, nil)
	require.NoError(t, err)
	require.InDelta(t, 16, b.Style.Size, 0)

	one, err := a.Type.MeasureText("Holm", a.Style)
	require.NoError(t, err)
	c, err := Compare(context.Background(), a, b, Given([]string{"Holm", "To Stora Skerry", "Holm\u5ca9"}), Room{Width: one.Advance + 0.01}, nil)
	require.NoError(t, err)
	require.InDelta(t, 40, c.B.Size, 0, "the face takes over what the role says")
	require.Equal(t, "Holm", c.Texts[1].Text, "what no longer fits comes first")
	require.True(t, c.Texts[1].NoLonger)
	require.Equal(t, 2, c.NoLonger, "a line may end before an ideograph")
	require.Equal(t, "To Stora Skerry", c.Texts[2].Text)
	require.Empty(t, c.Lines, "the role has a line height")
	require.Greater(t, c.Texts[0].Growth, 0.0)
	require.Empty(t, c.Lost, "neither has it")
	d, err := Picture([]Comparison{c}, []One{a, b}, specimen.Options{Width: 800, Colours: specimen.Light})
	require.NoError(t, err)
	require.NotEmpty(t, d.Marks)
}

func TestStrings(t *testing.T) {
	dir := t.TempDir()
	for name, text := range map[string]string{"en.lproj/Localizable.strings": `"a" = "Two";`, "res/values/strings.xml": "<resources><string name=\"x\">One</string></resources>",
		"node_modules/x/strings.json": `{"a": "no"}`, ".git/strings.json": `{"a": "no"}`, "src/main.c": `"no"`, "res/values/styles.xml": "<resources><item>no</item></resources>"} {
		require.NoError(t, os.MkdirAll(filepath.Dir(filepath.Join(dir, name)), 0o755))
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), []byte(text), 0o644))
	}
	got, err := Phrases(dir)
	require.NoError(t, err)
	require.Len(t, got, 2)
	require.Equal(t, []phrases.Phrase{{Key: "a", Language: "en", Text: "Two"}, {Key: "x", Text: "One"}}, []phrases.Phrase{got[0].Phrase, got[1].Phrase})
	require.Equal(t, "One", Once(append(got, got...))[0].Text)
	_, err = Phrases(filepath.Join(dir, "src"))
	require.ErrorContains(t, err, "expected strings of an app")
	_, err = Phrases(filepath.Join(dir, "nowhere"))
	require.ErrorIs(t, err, os.ErrNotExist)
	require.False(t, Wanted{Least: 500}.Suits(face.Face{Weight: 400}))
}
