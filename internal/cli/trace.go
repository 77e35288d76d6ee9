package cli

import (
	"context"
	"path"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/audit"
	"notaria/internal/document"
	"notaria/internal/notary"
	"notaria/internal/platform/all"
	"notaria/internal/registry"
)

func (a *app) trace() *cobra.Command {
	var chosen []string
	c := &cobra.Command{
		Use:   "trace NAME",
		Short: "List every place that a face, a file, a role or a name appears in",
		Long: `List every place of the project that a name appears in: originals, roles, files,
entries of manifests, what code asks for, and other mentions; and say what each
resolves to. The name is a face's PostScript name, full name or family, a file's
name, a resource, an alias or a role: the other names of the same face are looked
for, too. The exit code is 1 if the name appears nowhere.`,
		Example: "  notaria trace SkerrySans-Bold\n  notaria trace heading",
		Args:    exactly(1, "one name"),
		RunE:    func(c *cobra.Command, args []string) error { return a.runTrace(c.Context(), args[0], chosen) },
	}
	onlyFlag(c, &chosen)
	return c
}

// among says whether a place belongs to a chosen app, or to no app at all. A mention belongs to the app around it.
func among(o notary.Only, plan *notary.Plan, x audit.Place) bool {
	if x.Target != "" {
		return o.Takes(registry.Owner{Target: x.Target, App: x.Site})
	}
	return x.Kind != audit.IsMention || x.File == registry.FileName || slices.ContainsFunc(plan.Sites, func(s notary.SitePlan) bool {
		at := strings.TrimSuffix(s.Site.Path(), path.Ext(s.Site.Path())) // ios of ios/Ferries.xcodeproj
		if at != s.Site.Path() {
			at = path.Dir(at)
		}
		return o.Takes(registry.Owner{Target: s.Target.Name, App: s.Site.Path()}) && strings.HasPrefix(x.File, at+"/")
	})
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

func (a *app) runTrace(ctx context.Context, name string, chosen []string) error {
	var t *audit.Trace
	p, err := notary.Steady(ctx, a.look, func(p *notary.Project) error {
		o, err := only(p, chosen)
		if err != nil {
			return err
		}
		plan, err := p.Plan(ctx, all.Platforms)
		if err == nil {
			t, err = audit.NewTrace(ctx, p, plan, name)
		}
		if err == nil && !o.All() {
			t.Places = slices.DeleteFunc(t.Places, func(x audit.Place) bool { return !among(o, plan, x) })
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
		a.sayOnly(chosen)
	}
	if err == nil && len(t.Places) == 0 {
		return findings
	}
	return err
}
