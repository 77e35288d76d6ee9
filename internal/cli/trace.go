package cli

import (
	"context"

	"github.com/spf13/cobra"

	"notaria/internal/audit"
	"notaria/internal/document"
	"notaria/internal/notary"
	"notaria/internal/platform/all"
)

func (a *app) trace() *cobra.Command {
	return &cobra.Command{
		Use:   "trace NAME",
		Short: "List every place that a face, a file, a role or a name appears in",
		Long: `List every place of the project that a name appears in: originals, roles, files,
entries of manifests, what code asks for, and other mentions; and say what each
resolves to. The name is a face's PostScript name, full name or family, a file's
name, a resource, an alias or a role: the other names of the same face are looked
for, too. The exit code is 1 if the name appears nowhere.`,
		Example: "  notaria trace SkerrySans-Bold\n  notaria trace heading",
		Args:    exactly(1, "one name"),
		RunE:    func(c *cobra.Command, args []string) error { return a.runTrace(c.Context(), args[0]) },
	}
}

// exactly refuses more or fewer arguments than a command has.
func exactly(n int, what string) cobra.PositionalArgs {
	return func(c *cobra.Command, args []string) error {
		if len(args) != n {
			return wrongUse("%s: expected %s, found %s; see: %s --help", c.Name(), what, plural(len(args), "argument"), c.CommandPath())
		}
		return nil
	}
}

func (a *app) runTrace(ctx context.Context, name string) error {
	var t *audit.Trace
	p, err := notary.Steady(ctx, a.look, func(p *notary.Project) error {
		plan, err := p.Plan(ctx, all.Platforms)
		if err == nil {
			t, err = audit.NewTrace(ctx, p, plan, name)
		}
		return err
	})
	if err != nil {
		return err
	}
	defer p.Close()
	if a.json {
		err = a.printJSON(document.NewTrace(p, t))
	} else {
		a.Trace(t)
	}
	if err == nil && len(t.Places) == 0 {
		return findings
	}
	return err
}
