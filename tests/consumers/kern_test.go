package consumers

import (
	"bytes"
	"fmt"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/layout"
	"notaria/internal/sfnt"
)

var advances = regexp.MustCompile(`^\[\d+(?:@-?\d+,-?\d+)?\+(\d+)\|\d+(?:@-?\d+,-?\d+)?\+(\d+)\]$`)

// Kerning is what HarfBuzz makes of it: by GPOS in both forms, extensions, and the table kern.
func TestKerningIsHarfBuzzs(t *testing.T) {
	t.Parallel()
	need(t, "hb-shape")
	var files []string
	for _, folder := range []string{"dejavu", "liberation", "lato", "open-sans", "crosextra", "freefont"} {
		list, err := filepath.Glob("/usr/share/fonts/truetype/" + folder + "/*.ttf")
		require.NoError(t, err)
		files = append(files, list...)
	}
	const letters = "ATVWYLFPvwyoaerk.,-'1"
	var pairs []string
	for _, a := range letters {
		for _, b := range letters {
			pairs = append(pairs, string(a)+string(b))
		}
	}
	text := filepath.Join(t.TempDir(), "pairs.txt")
	write(t, text, strings.Join(pairs, "\n")+"\n")
	kerned, fonts := 0, 0
	for i, name := range files {
		if i%3 != 0 {
			continue
		}
		b := []byte(readFile(t, name))
		file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
		require.NoError(t, err, name)
		paths, err := file.Font(0).Paths()
		require.NoError(t, err, name)
		k := layout.NewKerning(file.Font(0))
		out := strings.Split(strings.TrimSpace(ask(t, ".", "hb-shape", "--text-file="+text, "--no-glyph-names", "--no-clusters", "--script=latn", "--features=-liga,-clig,-calt,-ccmp,-locl,-mark,-rlig,-dlig", name)), "\n")
		require.Len(t, out, len(pairs), name)
		for n, pair := range pairs {
			m := advances.FindStringSubmatch(out[n])
			require.NotNil(t, m, "%s %s %s", name, pair, out[n])
			first, _ := strconv.Atoi(m[1])
			second, _ := strconv.Atoi(m[2]) // the table kern is shared out over both there
			r := []rune(pair)
			left, _ := paths.Advance(r[0])
			right, _ := paths.Advance(r[1])
			value := k.Between(paths.Index(r[0]), paths.Index(r[1]))
			require.Equal(t, first+second-left-right, value, fmt.Sprintf("%s %q", name, pair))
			if value != 0 {
				kerned++
			}
		}
		fonts++
	}
	require.Greater(t, kerned, 1000)
	t.Logf("%d fonts, %d pairs that are kerned", fonts, kerned)
}
