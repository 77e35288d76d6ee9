package cli

import (
	"context"
	"slices"

	"github.com/spf13/cobra"

	"notaria/internal/audit"
	"notaria/internal/change"
	"notaria/internal/document"
	"notaria/internal/notary"
	"notaria/internal/terminal"
)

func (a *app) strike() *cobra.Command {
	var dry, files bool
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
			return a.runStrike(c.Context(), args, opt, dry, files)
		},
	}
	c.Flags().StringVar(&opt.RolesTo, "roles-to", "", "the enrolled `face` that the roles take which use a struck one")
	c.Flags().BoolVar(&opt.All, "all", false, "take Notaria out of the project: all faces, all roles, notaria.toml and what belongs to it")
	c.Flags().BoolVar(&opt.WithRoles, "with-roles", false, "take off the roles that use a struck face, too")
	c.Flags().BoolVar(&dry, "dry-run", false, "print a summary, and the changes as a diff, and change nothing")
	c.Flags().BoolVar(&files, "files", false, "list every file that goes or changes")
	return c
}

func (a *app) runStrike(ctx context.Context, names []string, opt notary.StrikeOptions, dry, files bool) error {
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
		a.Say("Nothing was changed. This would happen:\n")
		a.printStruck(s, opt.RolesTo, files)
		a.Say("\nIn files that stay:\n")
		err = staying(s.Set).Diff(a.DiffTo())
	default:
		a.printStruck(s, opt.RolesTo, files)
	}
	if err == nil && (dry && !s.Set.Empty() || len(s.Left) > 0) {
		return findings
	}
	return err
}

// printStruck says what goes; files lists each of them.
func (a *app) printStruck(s *notary.Striking, to string, files bool) {
	for _, f := range s.Faces {
		a.Say("struck    %s", cell(f))
	}
	for _, r := range s.Roles {
		a.Say("role removed %s %s", cell(r), a.Paint.Faint("(code that still uses it will not compile)"))
	}
	for _, r := range s.Moved {
		a.Say("role      %s has %s now", cell(r), cell(to))
	}
	var gone, changed []string
	for _, f := range s.Set.Files {
		if f.Delete {
			gone = append(gone, f.Path)
		} else {
			changed = append(changed, f.Path)
		}
	}
	slices.Sort(gone)
	slices.Sort(changed)
	a.several(a.Paint.Bad("removed")+"  ", gone, files)
	a.several("changed  ", changed, files)
	a.left(s)
	for _, f := range s.Stay {
		a.Say("stays     %s %s", cell(f), a.Paint.Faint("(it is not on the ledger: not put there by Notaria)"))
	}
}

// mostListed is how many files of a kind are listed: the answer is to stay on one screen.
const mostListed = 8

// several lists files, and counts the rest.
func (a *app) several(what string, list []string, all bool) {
	for i, f := range list {
		if i == mostListed && len(list) > mostListed+1 && !all {
			a.Say("%s and %d more: --files lists them", what, len(list)-i)
			return
		}
		a.Say("%s %s", what, cell(f))
	}
}

// staying are the changes of files that are there afterwards.
func staying(set *change.Set) *change.Set {
	out := set.Clone()
	out.Files = slices.DeleteFunc(out.Files, func(f change.File) bool { return f.Delete })
	return out
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
