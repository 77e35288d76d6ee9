package cli

import (
	"context"

	"github.com/spf13/cobra"

	"notaria/internal/audit"
	"notaria/internal/document"
	"notaria/internal/notary"
	"notaria/internal/terminal"
)

func (a *app) strike() *cobra.Command {
	var dry bool
	var opt notary.StrikeOptions
	c := &cobra.Command{
		Use:   "strike NAME... [flags]",
		Short: "Take a face or a family off again, and leave no trace",
		Long: `Take faces off the registry and out of every app: files, entries and code. NAME is
a PostScript name or a family. What Notaria did not write stays, and so does what
somebody changed since. An app that cannot be served now gives back what it has, as
the ledger says; what cannot be taken away is listed.

A face that a role uses is struck only with a choice: --roles-to gives its roles
another face, --with-roles takes them off with all their settings.`,
		Example: "  notaria strike SkerrySans-Bold --roles-to SkerrySans-Regular\n  notaria strike \"Skerry Sans\" --with-roles",
		RunE: func(c *cobra.Command, args []string) error {
			if opt.All && (len(args) > 0 || opt.RolesTo != "") {
				return wrongUse("strike: expected --all alone: it takes off all faces with all roles")
			}
			if err := atLeast("a PostScript name or a family, or --all")(c, args); err != nil && !opt.All {
				return err
			}
			opt.Also = nil
			if opt.All {
				opt.Also = []string{audit.KnownFile}
			}
			if opt.RolesTo != "" && opt.WithRoles {
				return wrongUse("strike: expected --roles-to or --with-roles, found both")
			}
			return a.runStrike(c.Context(), args, opt, dry)
		},
	}
	c.Flags().StringVar(&opt.RolesTo, "roles-to", "", "the enrolled `face` that the roles take which use a struck one")
	c.Flags().BoolVar(&opt.All, "all", false, "take Notaria out of the project: all faces, all roles, notaria.toml and what belongs to it")
	c.Flags().BoolVar(&opt.WithRoles, "with-roles", false, "take off the roles that use a struck face, too")
	c.Flags().BoolVar(&dry, "dry-run", false, "print the changes as a diff, and change nothing")
	return c
}

func (a *app) runStrike(ctx context.Context, names []string, opt notary.StrikeOptions, dry bool) error {
	p, err := a.openEnrolled(ctx, dry)
	if err != nil {
		return err
	}
	defer p.Close()
	s, err := p.Strike(ctx, names, opt)
	if err != nil {
		return err
	}
	if !dry {
		if err := p.Apply(ctx, s.Set); err != nil {
			return err
		}
	}
	switch {
	case a.json:
		err = a.printJSON(document.NewStrike(p, s, dry))
	case dry:
		err = s.Set.Diff(a.DiffTo())
		a.left(s)
	default:
		a.printStruck(s, opt.RolesTo)
	}
	if err == nil && (dry && !s.Set.Empty() || len(s.Left) > 0) {
		return findings
	}
	return err
}

func (a *app) printStruck(s *notary.Striking, to string) {
	for _, f := range s.Faces {
		a.Say("struck    %s", cell(f))
	}
	for _, r := range s.Roles {
		a.Say("role removed %s %s", cell(r), a.Paint.Faint("(code that still uses it will not compile)"))
	}
	for _, r := range s.Moved {
		a.Say("role      %s has %s now", cell(r), cell(to))
	}
	for _, f := range s.Set.Files {
		if f.Delete {
			a.Say("%s   %s", a.Paint.Bad("removed"), cell(f.Path))
		} else {
			a.Say("changed   %s", cell(f.Path))
		}
	}
	a.left(s)
}

// left lists what could not be taken away, with the reason.
func (a *app) left(s *notary.Striking) {
	for _, l := range s.Left {
		for _, f := range l.Files {
			a.Say("%s      %s", a.Paint.Warn("left"), cell(f))
		}
		a.Say("  %s", terminal.Tidy(l.Err.Error()))
	}
	if len(s.Left) > 0 {
		a.Say("\nWhen that is mended: notaria register, which takes off what is left")
	}
}
