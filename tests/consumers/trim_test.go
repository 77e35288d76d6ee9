package consumers

import (
	"bytes"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/sfnt"
	"notaria/internal/trim"
)

// A trimmed font passes the browsers' own gate, and shapes the texts that it was made for glyph by glyph as
// the font itself: all ligatures and joined forms are there.
func TestTrimmedFontsAreSound(t *testing.T) {
	t.Parallel()
	need(t, "hb-shape", "ots-sanitize")
	more := map[string][]string{
		"/usr/share/fonts/truetype/inter-vf/Inter.var.ttf":                   {"Ångström 07:40 -> (A) 1/2"},
		"/usr/share/fonts/truetype/roboto/unhinted/RobotoCondensed-Bold.ttf": {"Staff affliction"},
	}
	for name, list := range shaped {
		more[name] = list
	}
	for name, list := range more {
		need(t, name)
		b := []byte(readFile(t, name))
		file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
		require.NoError(t, err, name)
		f := file.Font(0)
		var wanted sfnt.Coverage
		for r := rune(0x20); r < 0x20000; r++ {
			if strings.ContainsRune(strings.Join(list, " "), r) {
				wanted = append(wanted, sfnt.Range{First: r, Last: r})
			}
		}
		tables, err := trim.Characters(f, wanted)
		require.NoError(t, err, name)
		small, err := sfnt.Build(tables)
		require.NoError(t, err)
		path := filepath.Join(t.TempDir(), filepath.Base(name))
		write(t, path, string(small))
		require.Contains(t, ask(t, ".", "ots-sanitize", path, os.DevNull), "successfully", name)
		before, err := sfnt.BuildWOFF2(mustTables(t, f), sfnt.Fast)
		require.NoError(t, err)
		after, err := sfnt.BuildWOFF2(tables, sfnt.Fast)
		require.NoError(t, err)
		t.Logf("%s: %d bytes as WOFF 2, trimmed %d", filepath.Base(name), len(before), len(after))
		require.Less(t, len(after), len(before)*2/3, name)
		for _, text := range list {
			args := []string{"--no-glyph-names", "--shapers=ot"}
			require.Equal(t, ask(t, ".", "hb-shape", append(args, name, text)...), ask(t, ".", "hb-shape", append(args, path, text)...), "%s %q", name, text)
		}
	}
}

func mustTables(t *testing.T, f *sfnt.Font) map[string][]byte {
	t.Helper()
	tables, err := f.Tables()
	require.NoError(t, err)
	return tables
}
