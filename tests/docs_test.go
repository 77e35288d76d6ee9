package tests

import (
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

var (
	inTicks  = regexp.MustCompile("`([^`\n]+)`")
	pathName = regexp.MustCompile(`^(?:internal|tests|scripts|docs|cmd)/[\w./-]+$`)
	codeName = regexp.MustCompile(`^([a-z]+)\.([A-Z]\w*)(?:\.([A-Z]\w*))?$`)
)

// What the pages for developers name is there: files, and names of the code.
func TestDocsNameWhatIsThere(t *testing.T) {
	code, all := map[string]string{}, "" // by package
	require.NoError(t, filepath.WalkDir("../internal", func(name string, d fs.DirEntry, err error) error {
		if err == nil && !d.IsDir() && strings.HasSuffix(name, ".go") {
			b, readErr := os.ReadFile(name)
			code[filepath.Base(filepath.Dir(name))] += string(b)
			all += string(b)
			return readErr
		}
		return err
	}))
	seen := 0
	for _, page := range []string{"../CONTRIBUTING.md", "../docs/architecture.md"} {
		b, err := os.ReadFile(page)
		require.NoError(t, err)
		for _, m := range inTicks.FindAllStringSubmatch(string(b), -1) {
			word := m[1]
			switch {
			case pathName.MatchString(word) && !strings.Contains(word, "NAME"):
				_, err := os.Stat(filepath.Join("..", word))
				require.NoError(t, err, "%s names %s", page, word)
				seen++
			case codeName.MatchString(word):
				parts := codeName.FindStringSubmatch(word)
				for _, name := range parts[2:] {
					if name != "" {
						declared := regexp.MustCompile(`(?m)(?:^func (?:\([^)]*\) )?|^type |^var |^const |^\t)` + name + `\b`)
						require.True(t, declared.MatchString(code[parts[1]]), "%s names %s", page, word)
					}
				}
				seen++
			case strings.HasPrefix(word, "Test") || strings.HasPrefix(word, "Fuzz"):
				require.Contains(t, all, "func "+word+"(", "%s names %s", page, word)
			}
		}
	}
	require.Greater(t, seen, 50)
}
