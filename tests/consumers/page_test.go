package consumers

import (
	"encoding/json"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// What is typed into the page of faces changes every sample, in its own font; nothing is asked for from
// the network; it can be read, reached by the keyboard, and used on a phone.
func TestPageOfFaces(t *testing.T) {
	t.Parallel()
	npmHome(t)
	need(t, "node", "chromium")
	dir := dressed(t)
	page := filepath.Join(t.TempDir(), "faces.html")
	notaria(t, 0, dir, "specimen", filepath.Join(dir, "skerry-type.zip"), filepath.Join(dir, "board-type.zip"), "--out", page)
	var got struct {
		Console, Requests, Fonts, Landmarks, Focus, Samples []string
		Contrast                                            []float64
		Pressed, Count, All                                 string
		Lacks, Shown                                        int
		Larger                                              bool
		Wider                                               []int
	}
	require.NoError(t, json.Unmarshal([]byte(ask(t, ".", "node", "npm/page.mjs", page, "Ångström 07:40 & <b>")), &got))
	require.Empty(t, got.Console)
	require.Equal(t, []string{"faces.html"}, got.Requests)
	require.Equal(t, []string{"BeaconMono-Regular", "LanternDigits-Regular", "SkerrySans-Light", "SkerrySans-Regular", "SkerrySans-Italic", "SkerrySans-Bold"}, got.Fonts)
	for _, c := range got.Contrast {
		require.GreaterOrEqual(t, c, 4.5)
	}
	require.Equal(t, "true", got.Pressed)
	require.Equal(t, []string{"header", "main", "footer", "form[aria-label]", "h1"}, got.Landmarks)
	require.Equal(t, []string{"Your text", "Size", "Kind", "Script", "Weight", "can write my text", "Dark"}, got.Focus)
	require.Len(t, got.Samples, 6)
	for _, s := range got.Samples {
		require.Equal(t, "Ångström 07:40 & <b>", s)
	}
	require.Equal(t, 1, got.Lacks, "Lantern Digits alone")
	require.True(t, got.Larger)
	require.Equal(t, "5 of 6", got.Count)
	require.Equal(t, 5, got.Shown)
	require.Equal(t, "6 of 6", got.All)
	require.Empty(t, got.Wider)
	require.NotContains(t, strings.ReplaceAll(readFile(t, page), "http-equiv", ""), "http")
}

// The report needs nothing else, can be read on both grounds and on a phone, and leads by the keyboard.
func TestReportIsAccessible(t *testing.T) {
	t.Parallel()
	npmHome(t)
	need(t, "node", "chromium")
	dir := dressed(t)
	page := filepath.Join(t.TempDir(), "type.html")
	write(t, filepath.Join(dir, "ios/SkerryFerries/Wrong.swift"), "let a = UIFont(name: \"SkerrySans-Blod\", size: 12)\n")
	notaria(t, 0, dir, "report", "--out", page)
	var got struct {
		Console, Requests, Landmarks, Sections []string
		Contrast                               []float64
		Wider                                  []int
		Dead, Pictures                         int
		First                                  string
	}
	require.NoError(t, json.Unmarshal([]byte(ask(t, ".", "node", "npm/report.mjs", page)), &got))
	require.Empty(t, got.Console)
	require.Equal(t, []string{"type.html", "type.html"}, got.Requests)
	for _, c := range got.Contrast {
		require.GreaterOrEqual(t, c, 4.5)
	}
	require.Empty(t, got.Wider)
	require.Equal(t, []string{"header", "nav[aria-label]", "main", "footer", "h1"}, got.Landmarks)
	require.Equal(t, []string{"Findings", "Roles", "Faces", "Apps", "Credits"}, got.Sections)
	require.Zero(t, got.Dead)
	require.Equal(t, "To the content", got.First)
	require.Equal(t, 9, got.Pictures, "three roles on two grounds, and three faces")
	text := readFile(t, page)
	for _, want := range []string{"no face of this app is called &#34;SkerrySans-Blod&#34;", "<code>ios/SkerryFerries/Wrong.swift:1</code>", "<code>skerry_sans_bold</code>", "The licence of Skerry Sans"} {
		require.Contains(t, text, want)
	}
}
