package consumers

import (
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/cli"
)

// Example apps that others wrote are right, and check says so.
func TestRealAppsAreClean(t *testing.T) {
	list, err := os.ReadFile("apps/list")
	require.NoError(t, err)
	n := 0
	for line := range strings.Lines(string(list)) {
		words := strings.Fields(line)
		if len(words) != 2 || words[0] == "#" {
			continue
		}
		t.Run(words[1], func(t *testing.T) {
			dir, err := filepath.Abs(filepath.Join("../../.consumers/apps", strings.NewReplacer("/", "_", "@", "_").Replace(words[1])))
			require.NoError(t, err)
			need(t, dir)
			var out, errs strings.Builder
			code := cli.Execute([]string{"--project", dir, "check", "--json", "--fail-on", "note"}, strings.NewReader(""), &out, &errs)
			var doc struct {
				Sites    []any
				Findings []struct{ Rule, File, Message string }
			}
			require.NoError(t, json.Unmarshal([]byte(out.String()), &doc), "%s%s", out.String(), errs.String())
			require.Empty(t, doc.Findings)
			require.Zero(t, code)
			require.NotEmpty(t, doc.Sites)
			n += len(doc.Sites)
		})
	}
	t.Logf("%d apps", n)
}
