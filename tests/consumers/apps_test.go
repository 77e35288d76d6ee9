package consumers

import (
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/audit"
	"notaria/internal/cli"
)

// fetched are apps that fetch fonts when they run, and in how many places: each was looked at.
var fetched = map[string]int{"reveal.js@6.0.2": 11, "impress.js@1.1.0": 1}

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
			from := 0
			for _, f := range doc.Findings {
				require.Equal(t, audit.FromNetwork, f.Rule, "%s: %s", f.File, f.Message)
				from++
			}
			require.Equal(t, fetched[words[1]], from)
			require.Equal(t, min(from, 1), code)
			require.NotEmpty(t, doc.Sites)
			n += len(doc.Sites)
		})
	}
	t.Logf("%d apps", n)
}
