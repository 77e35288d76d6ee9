package cli

import (
	"context"
	"fmt"
	"slices"

	"github.com/spf13/cobra"

	"notaria/internal/audit"
	"notaria/internal/document"
	"notaria/internal/notary"
	"notaria/internal/registry"
	"notaria/internal/target"
	"notaria/internal/target/all"
)

func (a *app) check() *cobra.Command {
	long := `Hold every app of the project against the registry, and its code against the
names that work. Where there is no notaria.toml, the fonts that the apps have are
judged: what their manifests name, what is built in, what code asks for. Each
finding has a rule's id, a cause and a cure. The exit code is 1 if there are any,
or any that are grave enough (--fail-on).

Rules:
`
	for _, r := range audit.Rules {
		long += fmt.Sprintf("  %-24s %s\n", r.ID, r.What)
	}
	var explain, failOn string
	c := &cobra.Command{
		Use:     "check",
		Short:   "Prove that the fonts will show, or say what is wrong",
		Long:    long,
		Example: "  notaria check --fail-on error\n  notaria check --explain not-in-build-phase",
		Args:    noArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			switch {
			case explain != "":
				return a.explain(explain)
			case failOn != string(audit.Error) && failOn != string(audit.Warning):
				return wrongUse("check: expected error or warning for --fail-on, found %q", failOn)
			}
			return a.runCheck(c.Context(), audit.Severity(failOn))
		},
	}
	c.Flags().StringVar(&explain, "explain", "", "say more of one `rule`, and check nothing")
	c.Flags().StringVar(&failOn, "fail-on", string(audit.Warning), "the exit code is 1 for findings of this `severity` or worse: error or warning")
	return c
}

// explain says all about one rule.
func (a *app) explain(id string) error {
	var ids []string
	for _, r := range audit.Rules {
		if ids = append(ids, r.ID); r.ID != id {
			continue
		}
		if a.json {
			return a.printJSON(document.NewRule(r))
		}
		a.say("%s  (%s)", a.paint.strong(r.ID), r.Severity)
		a.wrapped("  looks for:  ", r.What)
		a.wrapped("  otherwise:  ", r.Why)
		a.wrapped("  how come:   ", r.Cause)
		a.wrapped("  cure:       ", r.Cure)
		return nil
	}
	near := target.Nearest(id, ids)
	if near == "" {
		return wrongUse("check: expected a rule's id for --explain, found %q; notaria check --help lists them", id)
	}
	return wrongUse("check: expected a rule's id for --explain, found %q; write %s", id, near)
}

func (a *app) runCheck(ctx context.Context, failOn audit.Severity) error {
	var plan *notary.Plan
	var found []audit.Finding
	p, err := a.steady(ctx, func() (*notary.Project, error) { return a.open(ctx, true) }, func(p *notary.Project) (err error) {
		if plan, err = p.Plan(ctx, all.Targets); err == nil {
			found, err = audit.Check(ctx, p, plan)
		}
		return err
	})
	if err != nil {
		return err
	}
	defer p.Close()
	if a.json {
		err = a.printJSON(document.NewCheck(p, plan, found))
	} else {
		a.printFindings(p, plan, found)
	}
	if err == nil && slices.ContainsFunc(found, func(f audit.Finding) bool { return failOn == audit.Warning || f.Severity == audit.Error }) {
		return findings
	}
	return err
}

func (a *app) printFindings(p *notary.Project, plan *notary.Plan, found []audit.Finding) {
	sources := excerpts{p: p}
	for _, f := range found {
		at := f.File
		if f.Line > 0 {
			at = fmt.Sprintf("%s:%d", at, f.Line)
		}
		if f.Column > 0 {
			at = fmt.Sprintf("%s:%d", at, f.Column)
		}
		rule := a.paint.bad(f.Rule)
		if f.Severity == audit.Warning {
			rule = a.paint.warn(f.Rule + " (warning)")
		}
		a.say("%s  %s", a.paint.place(cell(at)), rule)
		if text, marks := sources.of(f); text != "" {
			a.say("    %s", a.paint.faint(text))
			if marks != "" {
				a.say("    %s", a.paint.bad(marks))
			}
		}
		a.wrappedIn(a.paint.strong, "  ", line(f.Message))
		a.wrapped("  why:  ", line(f.Cause))
		a.wrapped("  cure: ", line(f.Cure))
		a.say("")
	}
	if !p.Found {
		a.note("no %s here or upward: the fonts that the project has without Notaria are judged", registry.FileName)
	}
	bySite := map[string]int{}
	for _, f := range found {
		bySite[f.Target+" "+f.Site]++
	}
	for _, s := range plan.Sites {
		if n := bySite[s.Target.Name+" "+s.Site.Path()]; n > 0 {
			a.say("%s  %s", a.paint.bad("not yet "), cell(s.Site.Title())+": "+plural(n, "finding"))
			continue
		}
		carries := plural(s.Faces, "face") + " in place, named and built in"
		if s.Faces == 0 {
			carries = plural(audit.ByHand(s), "font") + " of its own, nothing found wrong"
		}
		if s.Target.Kind == target.ByRole && s.Roles > 0 {
			carries = plural(s.Roles, "role") + " drawn and built in"
		}
		a.say("%s  %s: %s", a.paint.good("all well"), cell(s.Site.Title()), carries)
	}
}
