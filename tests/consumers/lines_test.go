package consumers

import (
	"encoding/json"
	"fmt"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/cli"
)

// A broken is a text that a browser is to break.
type broken struct {
	Text  string  `json:"text"`
	Font  string  `json:"font"`
	Width float64 `json:"width"`
	Size  float64 `json:"size"`
}

// inBrowser breaks texts in Chromium; line is the height of a line there.
func inBrowser(t *testing.T, fonts map[string]string, cases []broken) (out []struct {
	Lines []string
	Line  float64
}) {
	t.Helper()
	npmHome(t)
	need(t, "/usr/bin/chromium")
	file := filepath.Join(t.TempDir(), "cases.json")
	raw, err := json.Marshal(map[string]any{"fonts": fonts, "cases": cases})
	require.NoError(t, err)
	write(t, file, string(raw))
	require.NoError(t, json.Unmarshal([]byte(ask(t, ".", "node", "npm/lines.mjs", file)), &out))
	require.Len(t, out, len(cases))
	return out
}

var byNumber = regexp.MustCompile(`\\u[0-9a-f]{4}`)

// heldLines are texts to be broken: prices, addresses, quotes, ranges, ideographs, kana, letters from right to left, and odd spaces.
func heldLines(t *testing.T) []string {
	text := byNumber.ReplaceAllStringFunc(readFile(t, "testdata/lines.txt"), func(s string) string {
		n, err := strconv.ParseUint(s[2:], 16, 32)
		require.NoError(t, err)
		return string(rune(n))
	})
	return strings.Split(strings.TrimSuffix(strings.ReplaceAll(text, `\t`, "\t"), "\n"), "\n")
}

// cut is a line without the space at its ends, a soft hyphen as the hyphen that it shows.
func cut(lines []string) (out []string) {
	for _, l := range lines {
		if l = strings.Trim(strings.ReplaceAll(l, "\u00AD", "-"), " \t"); l != "" {
			out = append(out, l)
		}
	}
	return out
}

// Lines end where they end in a browser: at every place where they may, and at widths of phones.
func TestLinesEndWhereTheBrowsersDo(t *testing.T) {
	t.Parallel()
	texts := heldLines(t)
	require.GreaterOrEqual(t, len(texts), 100)
	fonts := map[string]string{"sans": realFont(t, "DejaVuSans.ttf"), "serif": realFont(t, "FreeSerif.ttf")}
	all := filepath.Join(t.TempDir(), "texts.txt")
	write(t, all, strings.Join(texts, "\n")+"\n")
	same, sum := 0, 0
	for _, width := range []float64{1, 60, 90, 130, 200} {
		for name, file := range fonts {
			var cases []broken
			for _, text := range texts {
				cases = append(cases, broken{text, name, width, 16})
			}
			var ours struct {
				Measures []struct {
					Text   string
					Broken []string
				}
			}
			out := roomOf(t, file, "--text-file", all, "--size", "16", "--width", fmt.Sprint(width))
			require.NoError(t, json.Unmarshal([]byte(out), &ours))
			require.Len(t, ours.Measures, len(texts))
			for i, b := range inBrowser(t, fonts, cases) {
				got := ours.Measures[i].Broken
				if len(got) == 0 {
					got = []string{texts[i]}
				}
				sum++
				if strings.Join(cut(got), "|") == strings.Join(cut(b.Lines), "|") {
					same++
				} else if !strings.HasPrefix(texts[i], "Price: €12.50/£") { // Chromium breaks before the pound sign, and Unicode's rule 25 does not
					t.Errorf("%g px, %s:\n  ours     %s\n  browser  %s", width, name, strings.Join(cut(got), "|"), strings.Join(cut(b.Lines), "|"))
				}
			}
		}
	}
	t.Logf("%d of %d texts are broken alike", same, sum)
}

// A line is as high as in a browser, where no line height is given.
func TestLinesAreAsHighAsTheBrowsers(t *testing.T) {
	t.Parallel()
	fonts, cases := map[string]string{}, []broken{}
	for i, f := range families {
		name := fmt.Sprintf("face%d", i)
		fonts[name] = realFont(t, f)
		for _, size := range []float64{11, 16, 28, 64} {
			cases = append(cases, broken{"x", name, 500, size})
		}
	}
	for i, b := range inBrowser(t, fonts, cases) {
		c := cases[i]
		var doc struct {
			Lines []struct {
				On     string
				Height float64
			}
		}
		out := roomOf(t, fonts[c.Font], "--text", "x", "--size", fmt.Sprint(c.Size))
		require.NoError(t, json.Unmarshal([]byte(out), &doc))
		require.Equal(t, "linux-browsers", doc.Lines[0].On)
		require.Equal(t, b.Line, doc.Lines[0].Height, "%s at %g px", fonts[c.Font], c.Size)
	}
}

// roomOf runs measure, whether the texts fit or not.
func roomOf(t *testing.T, args ...string) string {
	t.Helper()
	var out, errOut strings.Builder
	code := cli.Execute(append([]string{"measure", "--json"}, args...), strings.NewReader(""), &out, &errOut)
	require.LessOrEqual(t, code, 1, errOut.String())
	return out.String()
}
