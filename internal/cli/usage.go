package cli

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/document"
	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/platform/all"
)

func (a *app) usage() *cobra.Command {
	var typed []string
	c := &cobra.Command{
		Use:   "usage [ROLE]",
		Short: "Print the code, markup or style that shows a role in each app",
		Long: `Print what to write in each app to show a role: a line for each language that the
app is written in. 07:40 stands for your text, label for your own element. Without
a role, all roles are printed, each app with the way that is usual there. Writes
nothing; the code that is named is there after notaria register.`,
		Example: "  notaria usage heading\n  notaria usage --only flutter,apps/kiosk",
		Args:    atMost(1),
		RunE:    func(c *cobra.Command, args []string) error { return a.runUsage(c.Context(), args, typed) },
	}
	onlyFlag(c, &typed)
	return c
}

func (a *app) runUsage(ctx context.Context, args, typed []string) error {
	var doc document.Usage
	p, err := notary.Steady(ctx, func() (*notary.Project, error) { return a.openEnrolled(ctx, true) }, func(p *notary.Project) error {
		roles := p.Registry.RoleNames()
		if len(args) > 0 && !slices.Contains(roles, args[0]) {
			return noSuchRole(args[0], roles)
		}
		o, err := only(p, typed)
		if err != nil {
			return err
		}
		plan, err := p.PlanOnly(ctx, all.Platforms, o)
		if err != nil {
			return err
		}
		if len(args) > 0 {
			roles = args
		}
		doc = document.NewUsage(p, plan, roles)
		return nil
	})
	if err != nil {
		return err
	}
	defer p.Close()
	if a.json {
		return a.printJSON(doc)
	}
	a.Usage(doc, len(args) > 0)
	a.sayOnly(typed)
	return nil
}

func noSuchRole(typed string, roles []string) error {
	cure := "notaria.toml has none yet: write [role.heading] with a face and a size"
	if near := platform.Nearest(typed, roles); near != "" {
		cure = "write " + near
	} else if len(roles) > 0 {
		cure = fmt.Sprintf("choose one of %s", strings.Join(roles, ", "))
	}
	return wrongUse("usage: expected a role of this project, found %q; %s", typed, cure)
}
