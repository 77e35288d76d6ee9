package cli

import (
	"context"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"notaria/docs/schema"
	"notaria/internal/audit"
	"notaria/internal/intake"
	"notaria/internal/notary"
	"notaria/internal/platform/all"
	"notaria/internal/registry"
)

// A shell asks at every key: notaria.toml and the ledger are read for an answer, the originals where families are asked
// for, and an archive where a path leads into one. No folder is looked through.

// words are what a shell can offer in one place.
type words func(a *app) []string

// complete has a shell offer words for a command's arguments, and files where these can be named, too.
func (a *app) complete(c *cobra.Command, files bool, of ...words) {
	c.ValidArgsFunction = func(_ *cobra.Command, typed []string, begun string) ([]string, cobra.ShellCompDirective) {
		then := cobra.ShellCompDirectiveNoFileComp
		if files {
			then = cobra.ShellCompDirectiveDefault
		}
		list := beginning(a.offered(of, typed), begun)
		if inside := insideArchive(begun); files && len(inside) > 0 {
			return inside, cobra.ShellCompDirectiveNoFileComp
		}
		return list, then
	}
}

// completeFlag has a shell offer words for an option, of which several may stand with commas.
func (a *app) completeFlag(c *cobra.Command, flag string, of ...words) {
	_ = c.RegisterFlagCompletionFunc(flag, func(_ *cobra.Command, _ []string, begun string) ([]string, cobra.ShellCompDirective) {
		before := ""
		if i := strings.LastIndexByte(begun, ','); i >= 0 {
			before = begun[:i+1]
		}
		var out []string
		for _, w := range a.offered(of, strings.Split(before, ",")) {
			out = append(out, before+w)
		}
		return beginning(out, begun), cobra.ShellCompDirectiveNoFileComp
	})
}

// beginning leaves the words that begin with what was typed.
func beginning(list []string, begun string) []string {
	return slices.DeleteFunc(list, func(w string) bool { return !strings.HasPrefix(w, begun) })
}

func (a *app) offered(of []words, but []string) []string {
	var out []string
	for _, list := range of {
		for _, w := range list(a) {
			if !slices.Contains(out, w) && !slices.Contains(but, w) {
				out = append(out, w)
			}
		}
	}
	return out
}

// fixed are words that are the same everywhere.
func fixed(list ...string) words { return func(*app) []string { return list } }

// registryHere is the project's, nil where there is none that can be read.
func (a *app) registryHere() *registry.Registry {
	root := a.project
	if root == "" {
		here, err := os.Getwd()
		if err != nil {
			return nil
		}
		if root, _, err = notary.FindRoot(here); err != nil {
			return nil
		}
	}
	text, err := os.ReadFile(filepath.Join(root, registry.FileName))
	if err != nil {
		return nil
	}
	r, err := registry.Parse(text)
	if err != nil {
		return nil
	}
	return r
}

func faceWords(a *app) []string {
	if r := a.registryHere(); r != nil {
		return r.FaceNames()
	}
	return nil
}

func roleWords(a *app) []string {
	if r := a.registryHere(); r != nil {
		return r.RoleNames()
	}
	return nil
}

// familyWords are the families of the enrolled faces, as their files say.
func familyWords(a *app) []string {
	root, err := a.projectRoot()
	if err != nil {
		return nil
	}
	var paths []string
	if r := a.registryHere(); r != nil {
		for _, f := range r.Faces {
			paths = append(paths, filepath.Join(root, filepath.FromSlash(f.File)))
		}
	}
	if len(paths) == 0 {
		return nil
	}
	haul, err := intake.Gather(context.Background(), paths, intake.Options{})
	if err != nil {
		return nil
	}
	var out []string
	for _, f := range haul.Faces {
		out = append(out, f.Family)
	}
	return slices.Compact(out)
}

func targetWords(*app) []string {
	var out []string
	for _, t := range all.Platforms {
		out = append(out, t.About().Name)
	}
	return out
}

// appWords are the paths of the apps that have something of Notaria's.
func appWords(a *app) []string {
	root, err := a.projectRoot()
	if err != nil {
		return nil
	}
	text, err := os.ReadFile(filepath.Join(root, registry.LedgerName))
	if err != nil {
		return nil
	}
	l, err := registry.ParseLedger(text)
	if err != nil {
		return nil
	}
	var out []string
	for _, o := range l.Owners() {
		out = append(out, o.App)
	}
	return out
}

func ruleWords(*app) []string {
	var out []string
	for _, r := range audit.Rules {
		out = append(out, r.ID+"\t"+r.What)
	}
	return out
}

// insideArchive are the faces in an archive, where what was begun leads into one.
func insideArchive(begun string) []string {
	at := intake.ArchiveAbove(begun + "x")
	if at == "" {
		return nil
	}
	haul, err := intake.Gather(context.Background(), []string{at}, intake.Options{})
	if err != nil {
		return nil
	}
	var out []string
	for _, f := range haul.Faces {
		if strings.HasPrefix(f.File, filepath.ToSlash(begun)) {
			out = append(out, f.File)
		}
	}
	return out
}

// completions say what each command's arguments and options can be.
func (a *app) completions(root *cobra.Command) {
	command := func(name string) *cobra.Command {
		c, _, _ := root.Find([]string{name})
		return c
	}
	for _, name := range []string{"names", "enrol"} {
		a.complete(command(name), true)
	}
	for _, name := range []string{"specimen", "measure", "compare", "label", "pixel"} {
		a.complete(command(name), true, roleWords, faceWords)
	}
	a.complete(command("strike"), false, familyWords, faceWords)
	a.complete(command("swap"), false, familyWords)
	a.complete(command("usage"), false, roleWords)
	a.complete(command("trace"), false, roleWords, faceWords)
	a.complete(command("targets"), false, targetWords)
	a.complete(command("schema"), false, fixed(schema.Names()...))
	for _, name := range []string{"register", "check", "survey", "usage", "trace", "report"} {
		a.completeFlag(command(name), "only", targetWords, appWords)
	}
	a.completeFlag(command("names"), "for", targetWords)
	a.completeFlag(command("enrol"), "styles", fixed("regular", "bold", "italic", "bold italic", "light", "medium", "semibold", "black"))
	a.completeFlag(command("enrol"), "role", roleWords)
	a.completeFlag(command("strike"), "roles-to", faceWords)
	a.completeFlag(command("check"), "explain", ruleWords)
	a.completeFlag(command("check"), "fail-on", fixed("error", "warning", "note"))
	a.completeFlag(command("check"), "as", fixed("sarif", "junit"))
	_ = root.RegisterFlagCompletionFunc("color", func(*cobra.Command, []string, string) ([]string, cobra.ShellCompDirective) {
		return []string{"auto", "always", "never"}, cobra.ShellCompDirectiveNoFileComp
	})
}
