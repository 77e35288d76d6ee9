package cli

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/document"
	"notaria/internal/notary"
	"notaria/internal/specimen"
	"notaria/internal/subject"
	"notaria/internal/view"
)

// editions say what changes with faces that are replaced, by the project's own texts.
func (a *app) editions(ctx context.Context, p *notary.Project, e *notary.Enrolment) ([]subject.Edition, error) {
	texts, err := subject.Phrases(p.Root)
	if err != nil {
		texts = nil // an app without texts of its own has none that change
	}
	var out []subject.Edition
	for _, r := range e.Replaced {
		x, err := subject.NewEdition(ctx, r, texts)
		if err != nil {
			return nil, err
		}
		out = append(out, x)
	}
	return out, nil
}

// printReplaced prints what --replace did, or would do.
func (a *app) printReplaced(p *notary.Project, e *notary.Enrolment, editions []subject.Edition, dry bool) error {
	for _, x := range editions {
		a.Edition(x, dry)
	}
	for _, k := range e.Taken {
		a.Say("present   %-28s it is this edition already", cell(k.Face.ID()))
	}
	if len(e.Left) > 0 {
		var names []string
		for _, f := range e.Left {
			names = append(names, cell(f.ID()))
		}
		a.Say("not taken %s: not enrolled; without --replace they are taken in", strings.Join(names, ", "))
	}
	if e.Set.Empty() {
		a.Say("\nNothing to do: all of this is enrolled already.")
		return nil
	}
	v := view.Registration{Page: &a.Page, Plan: e.Plan, Set: e.Set, DOS: p.DOS, Roles: p.Registry.RoleNames()}
	v.Carried(dry)
	return nil
}

func (a *app) swap() *cobra.Command {
	var dry bool
	c := &cobra.Command{
		Use:   "swap OLD-FAMILY NEW-FAMILY",
		Short: "Give all roles of one family the faces of another, in every app",
		Long: `Give the roles that have a face of one enrolled family the faces of another one: to each
the nearest by weight, width and slant. The pairs are shown, and what changes for the
project's own texts: those that grow most, and characters that are missing. Every app
that has something of Notaria's gets it in the same step. The old family stays enrolled;
notaria strike takes it off.`,
		Example: "  notaria swap \"Skerry Sans\" \"Capstan Slab\" --dry-run",
		Args:    exactly(2, "two families"),
		RunE:    func(c *cobra.Command, args []string) error { return a.runSwap(c.Context(), args[0], args[1], dry) },
	}
	c.Flags().BoolVar(&dry, "dry-run", false, "show the pairs, the texts that change and the changes, and change nothing")
	return c
}

func (a *app) runSwap(ctx context.Context, from, to string, dry bool) error {
	p, err := a.openEnrolled(ctx, dry)
	if err != nil {
		return err
	}
	defer p.Close()
	s, err := p.Swap(ctx, from, to)
	if err != nil {
		return err
	}
	compared, err := comparedPairs(ctx, p, s)
	if err != nil {
		return err
	}
	if !dry {
		if err := p.Apply(ctx, s.Set); err != nil {
			return err
		}
	}
	if a.json {
		err = a.printJSON(document.NewSwap(p, s, compared, dry))
	} else {
		for i, pair := range s.Pairs {
			a.Pair(pair, compared[i])
		}
		v := view.Registration{Page: &a.Page, Plan: s.Plan, Set: s.Set, DOS: p.DOS, Roles: p.Registry.RoleNames()}
		v.Carried(dry)
		if !dry {
			a.Say("%s is still enrolled, and in the apps. To take it off: notaria strike %q", cell(s.Pairs[0].From.Family), s.Pairs[0].From.Family)
		}
	}
	if err == nil && (dry && !s.Set.Empty() || len(s.Plan.Refused) > 0) {
		return findings
	}
	return err
}

// comparedPairs holds the project's own texts against each pair.
func comparedPairs(ctx context.Context, p *notary.Project, s *notary.Swapping) ([]subject.Comparison, error) {
	texts, err := subject.Phrases(p.Root)
	if err != nil {
		texts = nil
	}
	one := func(id string) (subject.One, error) {
		_, data, err := p.Original(id)
		if err != nil {
			return subject.One{}, err
		}
		o := subject.One{Name: id, Bytes: len(data), Style: specimen.Style{Size: 16}}
		o.Type, err = specimen.Load(data, nil)
		return o, err
	}
	var out []subject.Comparison
	for _, pair := range s.Pairs {
		a, err := one(pair.From.ID())
		if err != nil {
			return nil, err
		}
		b, err := one(pair.To.ID())
		if err != nil {
			return nil, err
		}
		c, err := subject.Compare(ctx, a, b, subject.Once(texts), subject.Room{}, nil)
		if err != nil {
			return nil, fmt.Errorf("%s: %w", pair.To.ID(), err)
		}
		slices.SortStableFunc(c.Texts, subject.ByGrowth)
		out = append(out, c)
	}
	return out, nil
}
