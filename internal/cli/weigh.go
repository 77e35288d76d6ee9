package cli

import (
	"context"
	"os"
	"slices"

	"github.com/spf13/cobra"

	"notaria/internal/document"
	"notaria/internal/fault"
	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/platform/all"
	"notaria/internal/weigh"
)

func (a *app) weigh() *cobra.Command {
	var typed []string
	c := &cobra.Command{
		Use:   "weigh [FILE...]",
		Short: "Show what fonts cost in bytes, and what would cost fewer",
		Long: `Show what the fonts of each app cost: as they are placed, and as the app's own archive packs
them; what in each takes the bytes: outlines, variations, hinting, layout, names, colours;
and which steps would save how much. With FILEs it weighs these alone. Writes nothing.`,
		Example: "  notaria weigh\n  notaria weigh --only web\n  notaria weigh type/SkerrySans-Bold.ttf",
		RunE: func(c *cobra.Command, args []string) error {
			if len(args) > 0 {
				return a.weighFiles(args)
			}
			return a.weighProject(c.Context(), typed)
		},
	}
	onlyFlag(c, &typed)
	return c
}

// mostWeighed is how large a file may be, in bytes.
const mostWeighed = 64 << 20

func (a *app) weighFiles(names []string) error {
	w := &weigh.Weight{Apps: []weigh.App{}}
	one := weigh.App{Title: "files", Fonts: []weigh.Font{}, Steps: []weigh.Step{}}
	for _, name := range names {
		info, err := os.Stat(name)
		if err != nil || !info.Mode().IsRegular() || info.Size() > mostWeighed || !platform.LooksLikeFont(name) {
			return &fault.Error{File: name, Expected: "a font file of at most 64 MB", Found: "none", Cure: "check the path"}
		}
		b, err := os.ReadFile(name)
		if err != nil {
			return err
		}
		f, err := weigh.File(name, b)
		if err != nil {
			return err
		}
		one.Fonts, one.Bytes, one.Packed = append(one.Fonts, f), one.Bytes+f.Bytes, one.Packed+f.Packed
	}
	w.Apps = append(w.Apps, one)
	if a.json {
		return a.printJSON(document.NewWeigh("", w))
	}
	a.Weight(w)
	return nil
}

func (a *app) weighProject(ctx context.Context, typed []string) error {
	var w *weigh.Weight
	p, err := notary.Steady(ctx, a.look, func(p *notary.Project) error {
		o, err := only(p, typed)
		if err != nil {
			return err
		}
		plan, err := p.Plan(ctx, all.Platforms)
		if err != nil {
			return err
		}
		plan.Sites = slices.DeleteFunc(plan.Sites, func(s notary.SitePlan) bool { return !o.Takes(s.Owner()) })
		w, err = weigh.Project(ctx, p, plan)
		return err
	})
	if err != nil {
		return err
	}
	defer p.Close()
	if len(w.Apps) == 0 {
		return wrongUse("weigh: expected an app with enrolled faces, found none; begin with notaria enrol PATH")
	}
	if a.json {
		return a.printJSON(document.NewWeigh(p.Root, w))
	}
	a.Weight(w)
	return nil
}
