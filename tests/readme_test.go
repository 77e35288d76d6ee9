package tests

import (
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/document"
	"notaria/internal/platform/all"
)

// What README says of the code in each app is what usage says in the sample: the usual way of each app, by language.
// NOTARIA_UPDATE=1 writes it.
func TestReadmeShowsUsage(t *testing.T) {
	const from, to = "`notaria usage` prints this for your own apps and roles, in every language of each:\n\n", "\n`notaria strike NAME` takes"
	dir := t.TempDir()
	require.NoError(t, exec.Command(program(t), "demo", dir).Run())
	cmd := exec.Command(program(t), "usage", "heading", "--json", "--project", dir)
	out, err := cmd.Output()
	require.NoError(t, err)
	var doc document.Usage
	require.NoError(t, json.Unmarshal(out, &doc))
	var order []string
	titles, in := map[string][]string{}, map[string]string{}
	for _, app := range doc.Apps {
		p, ok := all.Named(app.Target)
		require.True(t, ok)
		for _, r := range app.Roles {
			for _, w := range r.Ways[:1] {
				if titles[w.Code] == nil {
					order, in[w.Code] = append(order, w.Code), w.In
				}
				if title := p.About().Title; !slices.Contains(titles[w.Code], title) {
					titles[w.Code] = append(titles[w.Code], title)
				}
			}
		}
	}
	require.Greater(t, len(order), 20)
	var b strings.Builder
	for _, code := range order {
		fmt.Fprintf(&b, "    %-32s %s\n", strings.Join(append(titles[code], in[code]), ", "), code)
	}
	readme, err := os.ReadFile("../README.md")
	require.NoError(t, err)
	head, rest, ok := strings.Cut(string(readme), from)
	require.True(t, ok)
	have, tail, ok := strings.Cut(rest, to)
	require.True(t, ok)
	if os.Getenv("NOTARIA_UPDATE") != "" {
		require.NoError(t, os.WriteFile("../README.md", []byte(head+from+b.String()+to+tail), 0o644))
		return
	}
	require.Equal(t, b.String(), have, "NOTARIA_UPDATE=1 writes it anew")
}
