package all

import (
	"fmt"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/platform"
)

// hostile are names that fonts can have and that no generated text may trip over.
var hostile = []string{
	`Quote"d`, `Back\slash`, "New\nline", "Tab\tbed", "${x}", "$x", "*/ evil /*", "</string>", "]]>", "100%", "\u202eright to left", "🚢 Boat",
	"class", "default", "switch", "object", "font", "Type", "in", strings.Repeat("Long", 2500), "../../up", "/abs", "C:\\x", "-dash", "1st", "9", "",
	"a b", "A-B", "a_b", "A B", "岩礁", "Ñandú", "\x00", "nul\x00l", "\\(name)", "'single'", "`back`", "--", "<!--", "#{x}", "@font", "&amp;", "...", ".hidden",
}

// faces makes a face of each hostile name.
func faces() []face.Face {
	var out []face.Face
	for i, h := range hostile {
		ps := h
		if ps == "" {
			ps = fmt.Sprint("None-", i)
		}
		out = append(out, face.Face{PostScript: ps, Family: h, Style: h, Full: h, Weight: 400, Slant: face.Upright})
	}
	return out
}

var legal = regexp.MustCompile(`^[a-z][a-z0-9_]*$`)

func TestAndroidNamesAreLegalAndDiffer(t *testing.T) {
	tg, ok := Named("android")
	require.True(t, ok)
	names := tg.Type(faces())
	seen := map[string]string{}
	for i, n := range names {
		require.Regexp(t, legal, n, "%q", hostile[i])
		require.Less(t, len(n), 200)
		require.Empty(t, seen[n], "%q and %q", seen[n], hostile[i])
		seen[n] = hostile[i] + " "
	}
	require.NotContains(t, names, "class")
	// Names stay when faces join: generated identifiers must not change.
	fewer := tg.Type(faces()[:10])
	require.Equal(t, names[:10], fewer)
}

func TestAppleTypesThePostScriptName(t *testing.T) {
	tg, ok := Named("apple")
	require.True(t, ok)
	list := faces()
	for i, n := range tg.Type(list) {
		require.Equal(t, list[i].PostScript, n)
	}
}

func TestFileBaseIsSafe(t *testing.T) {
	for _, h := range hostile {
		b := platform.FileBase(h)
		require.Regexp(t, `^[A-Za-z0-9_][A-Za-z0-9._-]*$`, b, "%q", h)
		require.LessOrEqual(t, len(b), 87)
	}
	require.Equal(t, "SkerrySans-Bold", platform.FileBase("SkerrySans-Bold"))
	require.Regexp(t, `^face-con-[0-9a-f]{6}$`, platform.FileBase("con"), "a device on Windows")
}

func TestWords(t *testing.T) {
	for in, want := range map[string]string{
		"SkerrySans-Bold": "skerry_sans_bold", "Skerry Sans Bold 2": "skerry_sans_bold_2", "BEACON Mono": "beacon_mono", "x2Go": "x2_go", "É": "",
	} {
		require.Equal(t, want, language.Snake(language.Words(in)), in)
	}
	require.Equal(t, "skerrySansBold", language.Camel(language.Words("SkerrySans-Bold")))
	require.Equal(t, []string{"a", "b", "a_2", "a_3"}, language.Unique([]string{"a", "b", "a", "a"}))
	require.Equal(t, []string{"a", "a_3", "a_2"}, language.Unique([]string{"a", "a", "a_2"}))
}

func TestEveryPlatformDescribesItself(t *testing.T) {
	for _, tg := range Platforms {
		about := tg.About()
		require.NotEmpty(t, about.Name)
		require.NotEmpty(t, about.Title)
		require.NotEmpty(t, about.Typed)
		require.NotEmpty(t, about.Minimum)
	}
}
