package consumers

import (
	"encoding/json"
	"fmt"
	"path/filepath"
	"regexp"
	"slices"
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
		Before, After, Grounds                              []string
		Pressed, Count, All, Worn, Take                     string
		Lacks, Shown, Kept                                  int
		Wider                                               []int
	}
	require.NoError(t, json.Unmarshal([]byte(ask(t, ".", "node", "npm/page.mjs", page, "Ångström 07:40 & <b>")), &got))
	require.Empty(t, got.Console)
	require.Equal(t, []string{"faces.html", "faces.html"}, got.Requests, "it is loaded again for the order of focus")
	require.Equal(t, []string{"BeaconMono-Regular", "LanternDigits-Regular", "SkerrySans-Light", "SkerrySans-Regular", "SkerrySans-Italic", "SkerrySans-Bold"}, slices.Compact(got.Fonts))
	for _, c := range got.Contrast {
		require.GreaterOrEqual(t, c, 4.5)
	}
	require.Equal(t, "true", got.Pressed)
	require.Equal(t, []string{"header", "main", "footer", "form[aria-label]", "h1"}, got.Landmarks)
	require.Equal(t, []string{"Your text", "Sizes, in pixels", "As the role", "Grounds", "Kind", "Script", "Weight", "can write my text", "only what I keep", "Dark page", "keep", "what to type"}, got.Focus)
	require.Len(t, got.Samples, 24, "six faces at two sizes on two grounds")
	for _, s := range got.Samples {
		require.Equal(t, "Ångström 07:40 & <b>", s)
	}
	require.Equal(t, 1, got.Lacks, "Lantern Digits alone")
	require.Regexp(t, `^28: \d+ px$`, got.Before[0])
	require.Regexp(t, `^11: \d+ px$`, got.After[1])
	var one, two int
	_, err := fmt.Sscanf(got.Before[0]+" "+got.After[0], "28: %d px 56: %d px", &one, &two)
	require.NoError(t, err)
	require.InDelta(t, 2*one, two, 2, "the width is that of the text at its size")
	require.Equal(t, []string{"dark"}, got.Grounds)
	require.Equal(t, "28px 34px 0.28px", got.Worn)
	require.Equal(t, 2, got.Kept)
	require.True(t, strings.HasPrefix(got.Take, "notaria enrol "), got.Take)
	// The command takes just these.
	fresh := t.TempDir()
	var files []string
	for _, f := range regexp.MustCompile(`'[^']+'|\S+`).FindAllString(strings.TrimPrefix(got.Take, "notaria enrol "), -1) {
		files = append(files, strings.Trim(f, "'"))
	}
	require.Len(t, files, 2)
	require.Equal(t, 2, strings.Count(notaria(t, 0, fresh, append([]string{"enrol"}, files...)...), "enrolled  "))
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
	require.Equal(t, 11, got.Pictures, "three roles, one of them as Android has it too, on two grounds, and three faces")
	text := readFile(t, page)
	for _, want := range []string{"no face of this app is called &#34;SkerrySans-Blod&#34;", "<code>ios/SkerryFerries/Wrong.swift:1</code>", "<code>skerry_sans_bold</code>", "The licence of Skerry Sans"} {
		require.Contains(t, text, want)
	}
}

// A family in depth and roles as pages: what is typed changes each sample, a style that is chosen changes all
// of the page, an axis that is set too; the grid shows what the fonts hold, in these fonts and no other.
func TestPagesOfFamilyAndRoles(t *testing.T) {
	t.Parallel()
	npmHome(t)
	const variable = "/usr/share/fonts/truetype/inter-vf/Inter-roman.var.ttf"
	need(t, "node", "chromium", variable)
	dir := dressed(t)
	type judged struct {
		Console, Requests, Landmarks, Focus, Sections, Samples, Fonts, Lacks, Boxes, Styles, Grid, GridFonts, Coded, Chosen, GridChosen []string
		Contrast, Axis                                                                                                                  []float64
		Wider                                                                                                                           []int
	}
	judge := func(page string, args ...string) (got judged) {
		page = filepath.Join(t.TempDir(), page)
		notaria(t, 0, dir, append([]string{"specimen", "--out", page}, args...)...)
		require.NoError(t, json.Unmarshal([]byte(ask(t, ".", "node", "npm/views.mjs", page, "Ångström Ж ก ქ <b>")), &got))
		require.Empty(t, got.Console)
		require.Len(t, got.Requests, 2, "the page, and once more") // it is loaded again on the way
		for _, c := range got.Contrast {
			require.GreaterOrEqual(t, c, 4.5)
		}
		require.Equal(t, []string{"header", "main", "footer", "form[aria-label]", "h1"}, got.Landmarks)
		require.Equal(t, []string{"Ångström Ж ก ქ <b>"}, got.Samples)
		require.Empty(t, got.Wider)
		return got
	}
	family := judge("family.html", filepath.Join(dir, "skerry-type.zip"))
	require.Equal(t, []string{"Your text", "Style", "Dark page"}, family.Focus)
	require.Equal(t, []string{"Text", "Sizes", "Styles", "Digits", "Look-alikes", "Accents", "Languages", "Basic Latin", "Latin-1 Supplement", "Others"}, family.Sections)
	require.Equal(t, []string{"lacks Ж  ก  ქ"}, family.Lacks)
	require.Equal(t, []string{"SkerrySans-Regular"}, family.GridFonts)
	require.Equal(t, []string{"BeaconMono-Regular+SkerrySans-Regular"}, family.Coded)
	require.Contains(t, family.Fonts, "SkerrySans-Light")
	require.Equal(t, []string{"94 of 94, 0 marked", "90 of 94, 4 marked"}, family.Grid)
	require.Equal(t, []string{"SkerrySans-Bold"}, family.Chosen)
	require.Equal(t, family.Grid, family.GridChosen)

	inter := judge("inter.html", variable)
	require.Equal(t, []string{"Your text", "Instance", "Dark page", "wght Weight"}, inter.Focus[:4])
	require.Equal(t, []string{"Inter"}, inter.GridFonts, "the fonts hold all that the grid shows")
	require.Contains(t, inter.Grid, "254 of 256, 2 marked")
	require.Equal(t, []string{"lacks ก  ქ"}, inter.Lacks)
	require.Greater(t, inter.Axis[1], inter.Axis[0]*1.05, "a bolder text is wider")

	held := judge("held.html", "/usr/share/fonts/truetype/dejavu/DejaVuSans.ttf", "--view", "in-depth", "--text", "Ж")
	require.Equal(t, []string{"lacks ก"}, held.Lacks, "Georgian is shown whole, so that it is held")
	side := judge("side.html", "/usr/share/fonts/truetype/dejavu/DejaVuSans.ttf", "--view", "side-by-side", "--text", "Ж")
	require.Equal(t, []string{"lacks ก; not in this page: ქ"}, side.Lacks)
	require.Equal(t, []string{"ก", "elsewhereქ"}, side.Boxes)

	roles := judge("roles.html")
	require.Equal(t, []string{"Your text", "Dark page"}, roles.Focus)
	require.Subset(t, roles.Sections, []string{"body", "heading"})
	require.Contains(t, roles.Styles, "28px; 34px; 0.28px; rgb(11, 61, 92); 1px; rgba(0, 0, 0, 0.5) 1px -2px 3px")
}
