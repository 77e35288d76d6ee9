package tests

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/spf13/cobra"
	"github.com/stretchr/testify/require"

	"notaria/internal/cli"
	"notaria/internal/document"
	"notaria/internal/platform"
	"notaria/internal/platform/all"
	"notaria/internal/registry"
	"notaria/internal/skerry"
)

// heldTo holds a page to what is made for it; with NOTARIA_UPDATE it is written.
func heldTo(t *testing.T, page, text string) {
	t.Helper()
	if os.Getenv("NOTARIA_UPDATE") != "" {
		require.NoError(t, os.WriteFile(page, []byte(text), 0o644))
	}
	have, err := os.ReadFile(page)
	require.NoError(t, err)
	require.Equal(t, text, string(have), "%s: write it with NOTARIA_UPDATE=1", page)
}

// docs/commands.md has the helps of all commands.
func TestCommandsPage(t *testing.T) {
	var b strings.Builder
	b.WriteString("# All commands\n\nThe helps of all commands, as `notaria COMMAND --help` prints them.\n")
	commands := slices.DeleteFunc(cli.Commands().Commands(), func(c *cobra.Command) bool { return c.Name() == "help" || c.Hidden })
	for _, c := range commands {
		help := strings.TrimSpace(c.Long) + "\n\n" + strings.TrimSpace(c.UsageString())
		fmt.Fprintf(&b, "\n## %s\n\n    %s\n", c.Name(), strings.ReplaceAll(help, "\n", "\n    "))
	}
	// An empty line of a block has no spaces at its end.
	heldTo(t, "../docs/commands.md", regexp.MustCompile(`(?m)^ +$`).ReplaceAllString(b.String(), ""))
}

// groups are the targets as people look for them.
var groups = []struct{ title, page, targets string }{
	{"Phones and tablets", "mobile.md", "apple android flutter react-native expo nativescript maui xamarin"},
	{"Desks", "desktop.md", "avalonia wpf winui javafx swing flex qt gtk"},
	{"The web", "web.md", "web"},
	{"Games", "games.md", "godot libgdx p5 love pygame sdl"},
	{"Small displays", "displays.md", "lvgl u8g2 espruino display"},
}

// shown are the apps of the sample that a target's part of the page is about, where it is not the first one.
var shown = map[string]string{"apple": "ios/SkerryFerries.xcodeproj", "android": "android/app"}

// docs/targets.md has what each platform gets, made of what the platforms say and of the sample.
func TestTargetsPage(t *testing.T) {
	dir := t.TempDir()
	require.NoError(t, skerry.Place(dir))
	t.Setenv("XDG_STATE_HOME", t.TempDir())
	readyProject(t, dir)
	var out bytes.Buffer
	require.Zero(t, cli.Execute([]string{"--project", dir, "usage", "--json"}, strings.NewReader(""), &out, &out), out.String())
	var usage document.Usage
	require.NoError(t, json.Unmarshal(out.Bytes(), &usage))
	text, err := os.ReadFile(filepath.Join(dir, registry.LedgerName))
	require.NoError(t, err)
	ledger, err := registry.ParseLedger(text)
	require.NoError(t, err)

	var b strings.Builder
	b.WriteString("# What is served\n\nWhat Notaria does on each platform: made of what the platforms say of themselves, and of the sample project\n(`notaria demo --fresh ferries`). `notaria targets NAME` prints the same for one.\n")
	seen := 0
	for _, g := range groups {
		fmt.Fprintf(&b, "\n## %s\n\nWhat to do: [%s](%s).\n", g.title, strings.ToLower(g.title), g.page)
		for _, name := range strings.Fields(g.targets) {
			seen++
			p, ok := all.Named(name)
			require.True(t, ok, name)
			b.WriteString(targetPart(document.NewTargets([]platform.Platform{p}).Targets[0], usage.Apps, ledger))
		}
	}
	require.Len(t, all.Platforms, seen, "each target is in a group")
	heldTo(t, "../docs/targets.md", b.String())
}

// targetPart is the part of the page about one target.
func targetPart(x document.Target, apps []document.UsageApp, ledger *registry.Ledger) string {
	var b strings.Builder
	fmt.Fprintf(&b, "\n### %s: `%s`\n\n", x.Title, x.Name)
	fmt.Fprintf(&b, "Gets %s.\n\n- Needs %s.\n", x.Gets, x.Minimum)
	if len(x.Cannot) > 0 {
		fmt.Fprintf(&b, "- Not supported: %s.\n", strings.Join(x.Cannot, "; "))
	}
	for _, o := range x.Options {
		fmt.Fprintf(&b, "- `%s`: %s.\n", o.Key, o.Help)
	}
	i := slices.IndexFunc(apps, func(a document.UsageApp) bool {
		return a.Target == x.Name && (shown[x.Name] == "" || a.Path == shown[x.Name])
	})
	if i < 0 {
		return b.String()
	}
	app := apps[i]
	owner := registry.Owner{Target: app.Target, App: app.Path}
	var files, entered []string
	for _, f := range ledger.Files {
		if slices.Contains(f.Owners, owner) {
			files = append(files, "`"+f.Path+"`")
		}
	}
	for _, e := range ledger.Entries {
		if name := "`" + e.File + "`"; slices.Contains(e.Owners, owner) && !slices.Contains(entered, name) {
			entered = append(entered, name)
		}
	}
	fmt.Fprintf(&b, "\nThe sample's `%s` gets %s", app.Path, strings.Join(files, ", "))
	if len(entered) > 0 {
		fmt.Fprintf(&b, "; entries in %s", strings.Join(entered, ", "))
	}
	b.WriteString(". A role is shown by:\n\n")
	for _, w := range app.Roles[0].Ways {
		fmt.Fprintf(&b, "    %s    (%s)\n", w.Code, w.In)
	}
	return b.String()
}
