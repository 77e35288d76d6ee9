package tests

import (
	"bytes"
	"maps"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/spf13/cobra"
	"github.com/spf13/pflag"
	"github.com/stretchr/testify/require"

	"notaria/internal/cli"
	"notaria/internal/skerry"
	"notaria/tests/inuse"
)

// pages are those that people read, by their paths from here.
func pages(t *testing.T) map[string]string {
	t.Helper()
	names, err := filepath.Glob("../docs/*.md")
	require.NoError(t, err)
	out := map[string]string{}
	for _, name := range append(names, "../README.md") {
		text, err := os.ReadFile(name)
		require.NoError(t, err)
		out[name] = string(text)
	}
	return out
}

// typedLine is a command in a block of a page, with what stands behind it: a comment that says its exit code where that
// is not 0.
var typedLine = regexp.MustCompile(`(?m)^ {4}(notaria [^#\n]*?) *(?:# ?([^\n]*))?$`)

// words splits a line as a shell does; what goes to a file or to another program is left out.
func words(line string) []string {
	var out []string
	word, quote, begun := "", rune(0), false
	end := func() {
		if begun {
			out = append(out, word)
		}
		word, begun = "", false
	}
	for _, r := range line {
		switch {
		case quote != 0 && r == quote:
			quote = 0
		case quote == 0 && (r == '\'' || r == '"'):
			quote, begun = r, true
		case quote == 0 && (r == ' ' || r == '\t'):
			end()
		case quote == 0 && (r == '>' || r == '|'):
			end()
			return out
		default:
			word, begun = word+string(r), true
		}
	}
	end()
	return out
}

// meanwhile stands for what a page leaves open.
var meanwhile = map[string]string{"RULE": "unknown-font-name", "NAME": "heading"}

const boardRoles = `
[role.departure]
face = "LanternDigits-Regular"
height = 34
of = "digits"

[role.quay]
face = "BeaconMono-Regular"
height = 9
of = "capitals"
`

// readyProject is the sample, registered and in use, as the pages mean it.
func readyProject(t *testing.T, dir string) {
	t.Helper()
	run := func(args ...string) {
		var out bytes.Buffer
		require.Zero(t, cli.Execute(append([]string{"--project", dir}, args...), strings.NewReader(""), &out, &out), out.String())
	}
	run("enrol", filepath.Join(dir, skerry.ArchiveName), "--styles", "regular,bold")
	run("enrol", filepath.Join(dir, "board-type.zip"))
	file, err := os.OpenFile(filepath.Join(dir, "notaria.toml"), os.O_APPEND|os.O_WRONLY, 0)
	require.NoError(t, err)
	_, err = file.WriteString(boardRoles)
	require.NoError(t, err)
	require.NoError(t, file.Close())
	run("register")
	_, err = inuse.Show(dir)
	require.NoError(t, err)
	require.NoError(t, os.CopyFS(filepath.Join(dir, "dist"), os.DirFS(filepath.Join(dir, "web"))))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "phone.log"), []byte("Faces of this app:\n  there   SkerrySans-Regular\n  there   SkerrySans-Bold\n"), 0o644))
}

// Every command in a block of a page does what the page says, in the order of the page: the README's in the sample as it
// is before Notaria, the others' where it is registered.
func TestCommandsOfThePages(t *testing.T) {
	seen, ready := 0, t.TempDir()
	require.NoError(t, skerry.Place(ready))
	t.Setenv("XDG_STATE_HOME", t.TempDir())
	readyProject(t, ready)
	for name, text := range pages(t) {
		lines := typedLine.FindAllStringSubmatch(text, -1)
		if len(lines) == 0 || filepath.Base(name) == "commands.md" { // helps, whose examples name files of anybody's
			continue
		}
		t.Run(filepath.Base(name), func(t *testing.T) {
			dir := filepath.Join(t.TempDir(), "ferries")
			if filepath.Base(name) == "README.md" {
				require.NoError(t, os.Mkdir(dir, 0o755))
				require.NoError(t, skerry.Place(dir))
			} else {
				require.NoError(t, os.CopyFS(dir, os.DirFS(ready)))
			}
			t.Chdir(dir)
			for _, l := range lines {
				code := 0
				if strings.Contains(l[2], "exit code 1") {
					code = 1
				}
				args := words(l[1])[1:]
				for i, w := range args {
					if real := meanwhile[w]; real != "" {
						args[i] = real
					}
				}
				var out bytes.Buffer
				require.Equal(t, code, cli.Execute(args, strings.NewReader(""), &out, &out), "%s\n%s", l[1], out.String())
				seen++
			}
		})
	}
	require.Greater(t, seen, 12)
}

var inlineCommand = regexp.MustCompile("`notaria ([a-z][^`]*)`")

// Commands in the text of pages, and the examples of helps, name commands and options that there are.
func TestCommandsInTextAreThere(t *testing.T) {
	root := cli.Commands()
	check := func(where, typed string) {
		args := words(strings.NewReplacer("…", "", "\n", " ").Replace(typed))
		require.NotEmpty(t, args, where)
		if args[0] == "completion" {
			return // the library's own
		}
		c, _, err := root.Find(args[:1])
		require.NoError(t, err, "%s: notaria %s", where, typed)
		if c == root {
			return // --version and the like
		}
		for _, w := range args[1:] {
			if flag, ok := strings.CutPrefix(w, "--"); ok {
				flag, _, _ = strings.Cut(strings.TrimRight(flag, ",;"), "=")
				found := c.Flags().Lookup(flag) != nil || root.PersistentFlags().Lookup(flag) != nil || flag == "help"
				require.True(t, found, "%s: notaria %s: no --%s", where, typed, flag)
			}
		}
	}
	for name, text := range pages(t) {
		for _, m := range inlineCommand.FindAllStringSubmatch(text, -1) {
			check(name, m[1])
		}
	}
	for _, c := range root.Commands() {
		if c.Name() == "help" || c.Name() == "completion" {
			continue
		}
		require.NotEmpty(t, c.Example, "%s has an example", c.Name())
		require.Contains(t, c.Annotations[cli.ExitsKey], "0  ", "%s says its exit codes", c.Name())
		for _, line := range strings.Split(c.Example, "\n") {
			typed, ok := strings.CutPrefix(line, "  notaria ")
			require.True(t, ok, "an example of %s: %s", c.Name(), line)
			check(c.Name(), typed)
		}
	}
}

// Every option is on some page, and its value has a word of ours.
func TestEveryOptionIsOnAPage(t *testing.T) {
	all := strings.Join(slices.Collect(maps.Values(pages(t))), "\n")
	ours := func(c *cobra.Command) func(f *pflag.Flag) {
		return func(f *pflag.Flag) {
			if f.Name == "help" || f.Name == "version" {
				return
			}
			require.True(t, strings.Contains(all, "--"+f.Name), "%s --%s is on no page", c.Name(), f.Name)
			name, _ := pflag.UnquoteUsage(f)
			require.NotRegexp(t, `^(string|int|float|strings|ints|\w*(Slice|Array|64|ToString))$`, name, "%s --%s", c.Name(), f.Name)
		}
	}
	for _, c := range cli.Commands().Commands() {
		c.LocalNonPersistentFlags().VisitAll(ours(c))
	}
	cli.Commands().PersistentFlags().VisitAll(ours(cli.Commands()))
}

// Words that people type first lead to the command that is meant.
func TestWordsOfOthersLeadOn(t *testing.T) {
	for typed, want := range map[string]string{"add": "enrol", "install": "enrol", "init": "enrol", "remove": "strike", "list": "survey", "enroll": "enrol", "reigster": "register"} {
		var out bytes.Buffer
		require.Equal(t, 2, cli.Execute([]string{typed}, strings.NewReader(""), &out, &out))
		require.Contains(t, out.String(), "did you mean "+want+"?", typed)
	}
}
