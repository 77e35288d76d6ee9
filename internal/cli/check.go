package cli

import (
	"context"
	"fmt"
	"slices"

	"github.com/spf13/cobra"

	"notaria/internal/audit"
	"notaria/internal/document"
	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/platform/all"
	"notaria/internal/registry"
)

func (a *app) check() *cobra.Command {
	long := `Hold every app of the project against the registry, and its code against the
names that work. Where there is no notaria.toml, the fonts that the apps have are
judged: what their manifests name, what is built in, what code asks for. Each
finding has a rule's id, a severity, a cause and a cure. The exit code is 1 if there
is an error or a warning; --fail-on moves the line.

error: a font does not show, or a build fails. warning: another font may show.
note: every font shows, and the app could be better.

Rules:
`
	for _, r := range audit.Rules {
		long += fmt.Sprintf("  %-8s %-24s %s\n", r.Severity, r.ID, r.What)
	}
	var opt checkOptions
	c := &cobra.Command{
		Use:   "check",
		Short: "Prove that the fonts will show, or say what is wrong",
		Long:  long,
		Example: `  notaria check --fail-on error
  notaria check --mend --dry-run
  notaria check --page dist
  notaria check --as sarif > findings.sarif
  notaria check --explain not-in-build-phase`,
		Args: noArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			if err := opt.valid(a.json); err != nil {
				return err
			}
			if opt.page != "" && (opt.all || len(opt.only) > 0) {
				return wrongUse("check: expected --page alone, found it beside --all or --only: what was built belongs to no app")
			}
			for _, name := range []string{"fail-on", "all", "only"} {
				if c.Flags().Changed(name) && (opt.explain != "" || opt.log != "" || opt.record) {
					return wrongUse("check: expected --%s with findings, found it beside --explain, --log or --record-known", name)
				}
			}
			switch {
			case opt.explain != "":
				return a.explain(opt.explain)
			case opt.mend:
				return a.mend(c.Context(), opt)
			case opt.log != "":
				return a.readLog(c.Context(), opt.log)
			case opt.page != "":
				return a.checkPage(c.Context(), opt)
			case opt.record:
				return a.recordKnown(c.Context())
			}
			return a.runCheck(c.Context(), opt)
		},
	}
	f := c.Flags()
	f.StringVar(&opt.explain, "explain", "", "say more of one `rule`, and check nothing")
	f.StringVar(&opt.failOn, "fail-on", string(audit.Warning), "the exit code is 1 for findings of this `severity` or worse: error, warning or note")
	f.BoolVar(&opt.mend, "mend", false, "mend what can be mended without harm, and print the rest")
	f.BoolVar(&opt.dry, "dry-run", false, "with --mend: print the changes as a diff, and change nothing")
	f.StringVar(&opt.report, "as", "", "print the findings in a `form` for other programs: sarif or junit")
	f.StringVar(&opt.log, "log", "", "read a log that an app wrote, `file` or - for the standard input, and say which face it cannot see, and why")
	f.StringVar(&opt.page, "page", "", "judge what a build put out: a `path` of a page or of a folder, such as dist, build, out, _site")
	f.BoolVar(&opt.record, "record-known", false, "write all findings of now into "+audit.KnownFile+": from then on only new ones are shown")
	onlyFlag(c, &opt.only)
	f.BoolVar(&opt.all, "all", false, "show also the findings that "+audit.KnownFile+" holds")
	return c
}

// checkOptions are the flags of check.
type checkOptions struct {
	explain, failOn, report string
	log, page               string
	mend, dry, record, all  bool
	only                    []string
}

func (o checkOptions) valid(json bool) error {
	switch {
	case !slices.Contains(audit.Severities, audit.Severity(o.failOn)):
		return wrongUse("check: expected error, warning or note for --fail-on, found %q", o.failOn)
	case o.report != "" && o.report != "sarif" && o.report != "junit":
		return wrongUse("check: expected sarif or junit for --as, found %q", o.report)
	case o.report != "" && json:
		return wrongUse("check: expected --as or --json, found both")
	case o.dry && !o.mend:
		return wrongUse("check: expected --mend with --dry-run, found --dry-run alone")
	}
	ways := 0
	for _, on := range []bool{o.explain != "", o.mend, o.record, o.report != "", o.log != "", o.page != ""} {
		if on {
			ways++
		}
	}
	if ways > 1 {
		return wrongUse("check: expected one of --explain, --log, --mend, --page, --record-known and --as, found %d", ways)
	}
	return nil
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
		a.Say("%s  (%s)", a.Paint.Strong(r.ID), r.Severity)
		a.Wrapped("  looks for:   ", r.What)
		a.Wrapped("  otherwise:   ", r.Why)
		a.Wrapped("  usual cause: ", r.Cause)
		a.Wrapped("  cure:        ", r.Cure)
		return nil
	}
	near := platform.Nearest(id, ids)
	if near == "" {
		return wrongUse("check: expected a rule's id for --explain, found %q; notaria check --help lists them", id)
	}
	return wrongUse("check: expected a rule's id for --explain, found %q; write %s", id, near)
}

// checked is what check found out of a project.
type checked struct {
	p      *notary.Project
	plan   *notary.Plan
	report audit.Report
	shown  []audit.Finding // without those that are known
	known  int             // how many were left out
	gone   int             // how many known ones are not there any more
}

// checkProject opens a project, to look at it or to change it, and checks it. The project is to be
// closed.
func (a *app) checkProject(ctx context.Context, look, every bool, typed []string) (*checked, error) {
	var c checked
	p, err := notary.Steady(ctx, func() (*notary.Project, error) { return a.open(ctx, look) }, func(p *notary.Project) (err error) {
		if c.plan, err = p.Plan(ctx, all.Platforms); err == nil {
			c.report, err = audit.NewReport(ctx, p, c.plan)
		} else if r, why := audit.Unplanned(p); why {
			c.plan, c.report, err = &notary.Plan{}, r, nil
		}
		if err == nil {
			err = c.choose(ctx, p, typed)
		}
		if err != nil {
			return err
		}
		known, err := audit.ReadKnown(p)
		c.shown, c.known, c.gone = known.Sift(c.report.Findings)
		if every {
			c.shown, c.known = c.report.Findings, 0
		}
		return err
	})
	c.p = p
	return &c, err
}

// choose leaves what --only names; all apps were judged, for one can have its fonts from another.
func (c *checked) choose(ctx context.Context, p *notary.Project, typed []string) error {
	o, err := only(p, typed)
	if err != nil || o.All() {
		return err
	}
	c.plan, err = p.PlanOnly(ctx, all.Platforms, o)
	c.report.Findings = of(o, c.report.Findings)
	c.report.Accepted = slices.DeleteFunc(c.report.Accepted, func(x audit.Accepted) bool { return len(of(o, []audit.Finding{x.Finding})) == 0 })
	return err
}

func (a *app) runCheck(ctx context.Context, opt checkOptions) error {
	c, err := a.checkProject(ctx, true, opt.all, opt.only)
	if err != nil {
		return err
	}
	defer c.p.Close()
	switch {
	case opt.report != "":
		err = a.printReport(opt.report, c)
	case a.json:
		err = a.printJSON(document.NewCheck(c.p, c.plan, c.report, c.shown, c.known))
	default:
		a.Findings(c.p, c.plan, c.shown)
		a.printAccepted(c)
		a.offerMending(c.shown)
		a.countNotJudged(c.report.NotJudged)
		a.sayOnly(opt.only)
	}
	return a.verdict(err, c.shown, opt.failOn)
}

// countNotJudged says at how many places nothing was proved.
func (a *app) countNotJudged(n int) {
	if n > 0 {
		a.Say("%s: the code asks for a font there by a name that is only known when it runs", plural(n, "place")+" not judged")
	}
}

// offerMending says how many findings check --mend would mend.
func (a *app) offerMending(found []audit.Finding) {
	n := 0
	for _, f := range found {
		if f.Mends() {
			n++
		}
	}
	if n > 0 {
		a.Say("\n%d of %s can be mended without harm: notaria check --mend --dry-run shows how", n, plural(len(found), "finding"))
	}
}

// verdict is the exit code of findings.
func (a *app) verdict(err error, found []audit.Finding, failOn string) error {
	if err == nil && slices.ContainsFunc(found, func(f audit.Finding) bool { return f.Severity.AtLeast(audit.Severity(failOn)) }) {
		return findings
	}
	return err
}

// printReport prints findings for other programs.
func (a *app) printReport(form string, c *checked) error {
	if form == "junit" {
		return document.WriteJUnit(a.Lines, c.plan, c.shown)
	}
	return document.Write(a.Lines, document.NewSARIF(registry.Version, c.p, c.report.Accepted, c.shown))
}

// printAccepted lists what is not shown, and why.
func (a *app) printAccepted(c *checked) {
	for _, x := range c.report.Accepted {
		at := x.File
		if x.Line > 0 {
			at = fmt.Sprintf("%s:%d", at, x.Line)
		}
		a.Say("%s  %s: %s", a.Paint.Faint("accepted"), cell(at), cell(x.Rule+", because "+x.Reason))
	}
	if c.known > 0 {
		a.Note("%s not shown: in %s; --all shows all", plural(c.known, "known finding"), audit.KnownFile)
	}
	if c.gone > 0 {
		a.Note("%s of %s no longer there; to have them reported if they come again: notaria check --record-known", isAre(c.gone, "finding"), audit.KnownFile)
	}
}

func isAre(n int, what string) string {
	if n == 1 {
		return plural(n, what) + " is"
	}
	return plural(n, what) + " are"
}

// recordKnown makes all findings of now known.
func (a *app) recordKnown(ctx context.Context) error {
	c, err := a.checkProject(ctx, false, true, nil)
	if err != nil {
		return err
	}
	defer c.p.Close()
	set, err := audit.WriteKnown(c.p, c.report.Findings)
	if err != nil {
		return err
	}
	if err := c.p.Apply(ctx, set); err != nil {
		return err
	}
	if a.json {
		return a.printJSON(document.NewCheck(c.p, c.plan, c.report, nil, len(c.report.Findings)))
	}
	a.Say("%s recorded in %s. Commit it: from now on check shows what is new.", plural(len(c.report.Findings), "finding"), audit.KnownFile)
	return nil
}
