package consumers

import (
	"bytes"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/cli"
)

// A clone is a work tree of git with a project in it.
type clone struct {
	t   *testing.T
	dir string
}

func (c clone) git(args ...string) string {
	c.t.Helper()
	out, err := c.try(args...)
	require.NoError(c.t, err, out)
	return out
}

func (c clone) try(args ...string) (string, error) {
	c.t.Helper()
	who := []string{"-c", "user.name=Skerry", "-c", "user.email=type@skerry.example", "-c", "commit.gpgsign=false", "-c", "core.autocrlf=false", "-c", "core.editor=true"}
	return try(c.t, c.dir, "git", append(who, args...)...)
}

func (c clone) commit(what string) {
	c.t.Helper()
	c.git("add", "--all")
	c.git("commit", "--quiet", "--message", what)
}

// add enrols a face on the branch that is out, and registers it.
func (c clone) add(archive string) {
	c.t.Helper()
	notaria(c.t, 0, c.dir, "enrol", filepath.Join(c.dir, archive), "--styles", "bold")
	c.commit("enrolled")
	notaria(c.t, 0, c.dir, "register")
	c.commit("registered")
}

// divided is a project in which one branch has taken Skerry Sans Bold, and the other Capstan Slab Bold.
func divided(t *testing.T) clone {
	t.Helper()
	need(t, "git")
	t.Setenv("GIT_CONFIG_GLOBAL", os.DevNull)
	t.Setenv("GIT_CONFIG_SYSTEM", os.DevNull)
	all := registered(t)
	c := clone{t, t.TempDir()}
	notaria(t, 0, all, "strike", "--all")
	for _, name := range []string{"deckgame", "android", "ios", "web", "board", "pier", "chart", "skerry-type.zip", "deck-type.zip"} {
		require.NoError(t, os.Rename(filepath.Join(all, name), filepath.Join(c.dir, name)))
	}
	c.git("init", "--quiet", "--initial-branch", "main")
	c.commit("apps")
	c.git("tag", "apps")
	notaria(t, 0, c.dir, "enrol", filepath.Join(c.dir, "skerry-type.zip"), "--styles", "regular")
	notaria(t, 0, c.dir, "register")
	c.commit("the first face")
	c.git("switch", "--quiet", "--create", "ferry")
	c.add("skerry-type.zip")
	c.git("switch", "--quiet", "--create", "quay", "main")
	c.add("deck-type.zip")
	return c
}

var conflict = regexp.MustCompile(`(?s)<<<<<<< [^\n]*\n(.*?)=======\n(.*?)>>>>>>> [^\n]*\n`)

// settleRegistry does what a person does: the faces of both sides, and the role of one.
func (c clone) settleRegistry() {
	c.t.Helper()
	file := filepath.Join(c.dir, "notaria.toml")
	text, err := os.ReadFile(file)
	require.NoError(c.t, err)
	require.Regexp(c.t, conflict, string(text))
	both := conflict.ReplaceAllStringFunc(string(text), func(s string) string {
		sides := conflict.FindStringSubmatch(s)
		face, _, _ := strings.Cut(sides[2], "[role.heading]")
		return face + sides[1]
	})
	require.NoError(c.t, os.WriteFile(file, []byte(both), 0o644))
}

// conflicts are the files that git could not merge.
func (c clone) conflicts() []string {
	return strings.Fields(c.git("diff", "--name-only", "--diff-filter=U"))
}

// whole registers, and holds the result to what check says, to a second run, and to what strike gives back.
func (c clone) whole() {
	c.t.Helper()
	out := notaria(c.t, 0, c.dir, "register")
	require.NotContains(c.t, out, "not served")
	for _, name := range strings.Fields(c.git("ls-files")) {
		if b, err := os.ReadFile(filepath.Join(c.dir, name)); err == nil {
			require.NotContains(c.t, string(b), "<<<<<<<", name)
		}
	}
	require.Contains(c.t, notaria(c.t, 0, c.dir, "register"), "Nothing to do")
	notaria(c.t, 0, c.dir, "check")
	notaria(c.t, 0, c.dir, "strike", "--all")
	c.git("add", "--all")
	require.Empty(c.t, c.git("diff", "--cached", "--stat", "apps"), "strike gives every byte back")
}

// Two branches that each took a face: git merges all but notaria.toml and what both sides registered, and one registration
// settles that.
func TestMergesOfGit(t *testing.T) {
	for name, merge := range map[string]func(t *testing.T, c clone){
		"theirs into ours": func(t *testing.T, c clone) {
			_, err := c.try("merge", "ferry")
			require.Error(t, err)
			require.NotContains(t, c.conflicts(), "notaria.ledger.json")
			out := notaria(t, 3, c.dir, "check")
			require.Contains(t, out, "deckgame/pubspec.yaml:", "every file is named")
			c.settleRegistry()
			require.Contains(t, notaria(t, 3, c.dir, "check"), "run: notaria register")
			c.whole()
		},
		"ours into theirs": func(t *testing.T, c clone) {
			c.git("switch", "--quiet", "ferry")
			_, err := c.try("merge", "quay")
			require.Error(t, err)
			c.settleRegistry()
			c.whole()
		},
		"rebase": func(t *testing.T, c clone) {
			_, err := c.try("rebase", "ferry")
			require.Error(t, err)
			require.Equal(t, []string{"notaria.toml"}, c.conflicts(), "two branches that enrolled: the registry alone")
			c.settleRegistry()
			c.git("add", "--all")
			_, err = c.try("rebase", "--continue")
			require.Error(t, err, "now what was registered")
			notaria(t, 0, c.dir, "register")
			c.git("add", "--all")
			c.git("rebase", "--continue")
			c.whole()
		},
		"one side of all conflicts": func(t *testing.T, c clone) {
			_, err := c.try("merge", "ferry")
			require.Error(t, err)
			c.git(append([]string{"checkout", "--ours", "--"}, c.conflicts()...)...)
			c.whole()
		},
		"one side of each line": func(t *testing.T, c clone) {
			c.git("merge", "--strategy-option=theirs", "ferry")
			c.whole()
		},
	} {
		t.Run(name, func(t *testing.T) { merge(t, divided(t)) })
	}
}

// A manifest in which people changed the same lines is theirs to settle; the other apps are served.
func TestMergeOfPeoplesLines(t *testing.T) {
	c := divided(t)
	change := func(branch, word string) {
		c.git("switch", "--quiet", branch)
		file := filepath.Join(c.dir, "deckgame/pubspec.yaml")
		text, err := os.ReadFile(file)
		require.NoError(t, err)
		require.Contains(t, string(text), "fonts:\n")
		require.NoError(t, os.WriteFile(file, []byte(regexp.MustCompile(`(?m)^description:.*$`).ReplaceAllString(string(text), "description: "+word)), 0o644))
		c.commit(word)
	}
	change("ferry", "For the ferry.")
	change("quay", "For the quay.")
	_, err := c.try("merge", "ferry")
	require.Error(t, err)
	c.settleRegistry()
	var out bytes.Buffer
	require.Equal(t, 1, cli.Execute([]string{"--project", c.dir, "register"}, strings.NewReader(""), &out, &out), out.String())
	require.Regexp(t, `deckgame/pubspec.yaml:\d+: expected a file whose merge is finished, found a merge conflict marker`, out.String())
	file := filepath.Join(c.dir, "deckgame/pubspec.yaml")
	text, err := os.ReadFile(file)
	require.NoError(t, err)
	first := conflict.FindStringIndex(string(text))
	settled := string(text[:first[0]]) + "description: For both.\n" + string(text[first[1]:])
	require.NoError(t, os.WriteFile(file, []byte(settled), 0o644))
	notaria(t, 0, c.dir, "register")
	after, err := os.ReadFile(file)
	require.NoError(t, err)
	require.Contains(t, string(after), "description: For both.\n")
	require.NotContains(t, string(after), "<<<<<<<")
	notaria(t, 0, c.dir, "check")
}
