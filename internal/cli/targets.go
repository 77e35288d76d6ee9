package cli

import (
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/document"
	"notaria/internal/platform"
	"notaria/internal/platform/all"
)

func (a *app) targets() *cobra.Command {
	return &cobra.Command{
		Use:   "targets [NAME...]",
		Short: "List the platforms, their options, and what Notaria cannot express on each",
		Long: `List the platforms, what each needs, what Notaria cannot express on it, and its
options: keys of the table [target.NAME] in notaria.toml; and whether a [[site]] there can
name an app that nothing in the tree shows.`,
		Example: "  notaria targets\n  notaria targets flutter web",
		RunE:    func(_ *cobra.Command, args []string) error { return a.runTargets(args) },
	}
}

func (a *app) runTargets(names []string) error {
	chosen := all.Platforms
	if len(names) > 0 {
		chosen = nil
	}
	for _, n := range names {
		t, ok := all.Named(n)
		if !ok {
			cure := "see: notaria targets"
			if near := platform.Nearest(n, targetWords(a)); near != "" {
				cure = "write " + near
			}
			return wrongUse("targets: expected the name of a target, found %q; %s", n, cure)
		}
		chosen = append(chosen, t)
	}
	doc := document.NewTargets(chosen)
	if a.json {
		return a.printJSON(doc)
	}
	for i, t := range doc.Targets {
		if i > 0 {
			a.Say("")
		}
		a.Say("%s  %s", a.Paint.Strong(t.Name), t.Title)
		a.Say("  %-19s %s", typedIn(t), t.Typed)
		a.Say("  needs:              %s", t.Minimum)
		if len(names) > 0 {
			a.Wrapped("  gets:               ", t.Gets)
		}
		a.Say("  cannot:             %s", strings.Join(t.Cannot, ", "))
		for _, o := range t.Options {
			a.Say("  %-19s %s", o.Key+" =", o.Help)
		}
		if t.Named {
			a.Say("  %-19s %s", "[[site]]", "names an app that nothing shows, by its folder")
		}
	}
	return nil
}

// typedIn says what code names.
func typedIn(t document.Target) string {
	if t.Kind == string(platform.ByRole) {
		return "roles are typed in:"
	}
	return "faces are typed in:"
}
