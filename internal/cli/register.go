package cli

import (
	"cmp"
	"context"
	"errors"
	"fmt"

	"github.com/spf13/cobra"

	"notaria/internal/change"
	"notaria/internal/document"
	"notaria/internal/notary"
	"notaria/internal/platform/all"
	"notaria/internal/registry"
	"notaria/internal/terminal"
	"notaria/internal/view"
)

// registerOptions are the flags of register.
type registerOptions struct {
	notary.Options
	only             []string
	dry, files, full bool
}

func (a *app) register() *cobra.Command {
	var opt registerOptions
	c := &cobra.Command{
		Use:   "register [flags]",
		Short: "Make every app of the project use the enrolled faces",
		Long: `Make every app in the project match the registry: files placed, entries written,
code generated. The changes are made as one: all of them or none; if a run is
interrupted, the next one completes it or rolls it back. A second run changes
nothing.

An app that cannot be served stops no other: it is listed with the reason and with
what to do, and the exit code is 1. With --strict nothing is changed then.

What somebody registered by hand is left as it is and used as it is: a face that
an app has already is not put there a second time. With --take-over it counts as
Notaria's from then on, and a comment takes the place of lines of pages and style sheets
that fetch fonts, where all that they ask for is enrolled; strike brings them back.

With --dry-run nothing is changed: a summary, then the changes as a diff, and the
exit code is 1 if there are any. Generated files are summed up in a line each;
--full shows them, too.`,
		Args:    noArgs,
		Example: "  notaria register --dry-run\n  notaria register --only flutter,apps/kiosk",
		RunE:    func(c *cobra.Command, _ []string) error { return a.runRegister(c.Context(), opt) },
	}
	c.Flags().BoolVar(&opt.dry, "dry-run", false, "print a summary and the changes as a diff, and change nothing")
	c.Flags().BoolVar(&opt.full, "full", false, "with --dry-run: show generated files in full")
	c.Flags().BoolVar(&opt.files, "files", false, "list every file that changed")
	onlyFlag(c, &opt.only)
	c.Flags().BoolVar(&opt.Strict, "strict", false, "change nothing if one app cannot be served")
	c.Flags().BoolVar(&opt.TakeOver, "take-over", false, "count as Notaria's what somebody registered by hand in the same way, so that strike takes it off, too")
	c.Flags().BoolVar(&a.discard, "discard-journal", false, "give up what an interrupted run began: move its journal away, and leave its files as they are")
	c.Flags().BoolVar(&opt.Overwrite, "overwrite", false, "take the place of files that somebody else wrote or changed")
	return c
}

func (a *app) runRegister(ctx context.Context, opt registerOptions) error {
	if a.discard && opt.dry {
		return wrongUse("register: expected --discard-journal or --dry-run, found both")
	}
	var plan *notary.Plan
	var before *registry.Ledger
	var told []registry.Owner // apps that were registered from the same roles: what they do not support is known
	var set *change.Set
	open := func() (*notary.Project, error) { return a.openEnrolled(ctx, opt.dry) }
	planned := func(p *notary.Project) (err error) {
		o, err := only(p, opt.only)
		if err != nil {
			return err
		}
		if plan, err = p.PlanOnly(ctx, all.Platforms, o); err != nil {
			return err
		}
		if err := plan.Unserved(); err != nil && opt.Strict {
			return err
		}
		if before = p.Ledger; before.Registry == p.Registry.Sum() {
			told = before.Owners()
		}
		set, err = p.Changes(ctx, plan, opt.Options)
		return err
	}
	p, err := notary.Steady(ctx, open, planned)
	var unsettled *notary.UnsettledError
	if errors.As(err, &unsettled) {
		if err := a.settle(ctx, opt.dry); err != nil {
			return err
		}
		p, err = notary.Steady(ctx, open, func(p *notary.Project) error { p.Bear(); return planned(p) })
	}
	if err != nil {
		return err
	}
	defer p.Close()
	if !opt.dry {
		if err := p.Apply(ctx, set); err != nil {
			return err
		}
	}
	tasks, err := p.Tasks(plan)
	if err != nil {
		return err
	}
	v := view.Registration{Page: &a.Page, Plan: plan, Set: set, Full: opt.full, Files: opt.files, DOS: p.DOS, None: !p.Found, Told: told, Roles: p.Registry.RoleNames()}
	switch {
	case a.json:
		err = a.printJSON(document.NewRegister(p, plan, set, tasks, opt.dry))
	case opt.dry:
		err = v.DryRun()
	default:
		v.Done(before, tasks)
	}
	if !a.json {
		if !opt.dry {
			a.tellGit(p, set)
		}
		a.sayOnly(opt.only)
	}
	if err == nil && (opt.dry && !set.Empty() || len(plan.Refused) > 0) {
		return findings
	}
	return err
}

// settle ends a merge of version control, as far as it is about what Notaria wrote.
func (a *app) settle(ctx context.Context, dry bool) error {
	p, err := a.openEnrolled(ctx, dry)
	if err != nil {
		return err
	}
	defer p.Close()
	set, files, err := p.Settle()
	if err != nil {
		return err
	}
	if dry {
		if a.json {
			err = a.printJSON(document.NewRegister(p, &notary.Plan{}, set, nil, true))
		} else {
			err = set.Diff(a.DiffTo())
			a.Note("this settles a merge of version control; without --dry-run the registration follows")
		}
		return cmp.Or(err, error(findings))
	}
	if len(files) > 0 {
		a.Note("settled the merge in %s, where both sides had only what Notaria wrote:", plural(len(files), "file"))
	}
	for _, f := range files {
		fmt.Fprintln(a.Err, "  "+cell(f))
	}
	return p.Apply(ctx, set)
}

// failed prints an error: as text, or as the one document of a run with --json.
func (a *app) failed(code int, err error) {
	if a.json {
		_ = a.printJSON(document.NewFailure(code, err))
		return
	}
	fmt.Fprintln(a.Err, "notaria: "+terminal.Tidy(err.Error()))
	if file, text := notary.Pasted(err); text != "" {
		a.Pasted(file, text)
	}
}
