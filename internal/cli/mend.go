package cli

import (
	"context"
	"fmt"
	"slices"

	"notaria/internal/audit"
	"notaria/internal/change"
	"notaria/internal/document"
	"notaria/internal/notary"
	"notaria/internal/platform"
)

// mostRounds is how often a project is checked and mended again: an entry that is put right can show
// that something else is wrong.
const mostRounds = 3

// mend makes the changes that mend findings, and says what is left.
func (a *app) mend(ctx context.Context, opt checkOptions) error {
	c, err := a.checkProject(ctx, opt.dry, opt.all, opt.only)
	if err != nil {
		return err
	}
	defer func() { c.p.Close() }() // it is another one after mending
	set, err := mendingOf(ctx, c)
	if err != nil {
		return err
	}
	mended := slices.DeleteFunc(slices.Clone(c.shown), func(f audit.Finding) bool { return !f.Mends() })
	left := slices.DeleteFunc(slices.Clone(c.shown), audit.Finding.Mends)
	if opt.dry {
		return a.mendDry(c, set, mended, left, opt.failOn)
	}
	sets, err := a.mendAll(ctx, c, set, opt)
	if err != nil {
		return err
	}
	total := joined(sets)
	left, mended = c.shown, notAgain(mended, c.shown)
	if a.json {
		err = a.printJSON(document.NewMend(c.p, total, mended, left, false))
	} else {
		a.printMended(total, mended)
		a.Findings(c.p, c.plan, left)
		a.printAccepted(c)
		a.sayOnly(opt.only)
	}
	return a.verdict(err, left, opt.failOn)
}

// mendingOf is the set of changes that mends what is shown.
func mendingOf(ctx context.Context, c *checked) (*change.Set, error) {
	var cures []platform.Mending
	var plan *notary.Plan
	for _, f := range c.shown {
		cures = append(cures, f.Mending)
		if f.Register && c.p.Found {
			plan = c.plan
		}
	}
	return c.p.Mend(ctx, cures, plan)
}

// mendAll applies a set, checks again and goes on while there is something to mend. It leaves the
// project as it is then in c.
func (a *app) mendAll(ctx context.Context, c *checked, set *change.Set, opt checkOptions) ([]*change.Set, error) {
	var sets []*change.Set
	for round := 1; !set.Empty(); round++ {
		if err := c.p.Apply(ctx, set); err != nil {
			return nil, err
		}
		sets = append(sets, set)
		c.p.Close()
		next, err := a.checkProject(ctx, false, opt.all, opt.only)
		if err != nil {
			return nil, err
		}
		*c = *next
		if round == mostRounds {
			break
		}
		if set, err = mendingOf(ctx, c); err != nil {
			return nil, err
		}
	}
	return sets, nil
}

// joined is what several sets change together, for people.
func joined(sets []*change.Set) *change.Set {
	out := &change.Set{}
	for _, s := range sets {
		for _, f := range s.Files {
			if i := slices.IndexFunc(out.Files, func(x change.File) bool { return x.Path == f.Path }); i >= 0 {
				out.Files[i].After, out.Files[i].Delete = f.After, f.Delete
			} else {
				out.Files = append(out.Files, f)
			}
		}
	}
	return out
}

// notAgain takes out of mended what is found again.
func notAgain(mended, found []audit.Finding) []audit.Finding {
	open, _, _ := audit.NewKnown(found).Sift(mended)
	return open
}

func (a *app) mendDry(c *checked, set *change.Set, mended, left []audit.Finding, failOn string) error {
	var err error
	switch {
	case a.json:
		err = a.printJSON(document.NewMend(c.p, set, mended, left, true))
	case set.Empty():
		a.Say("Nothing that can be mended without harm was found.")
	default:
		a.Say("%s would be mended; nothing was changed", plural(len(mended), "finding"))
		a.Say("")
		err = set.Diff(a.DiffTo())
	}
	if !a.json && len(left) > 0 {
		a.Say("")
		a.steps(left)
	}
	if err == nil && !set.Empty() {
		return findings
	}
	return a.verdict(err, left, failOn)
}

func (a *app) printMended(set *change.Set, mended []audit.Finding) {
	for _, f := range mended {
		at := f.File
		if f.Line > 0 {
			at = fmt.Sprintf("%s:%d", at, f.Line)
		}
		a.Say("%s  %s", a.Paint.Good("mended"), a.Paint.Place(cell(at)))
		a.Wrapped("        ", cell(f.Message))
	}
	for _, f := range set.Files {
		a.Say("%s  %s", f.Kind(), cell(f.Path))
	}
	if len(mended)+len(set.Files) == 0 {
		a.Say("Nothing that can be mended without harm was found.")
	}
	a.Say("")
}

// steps are what a person must do.
func (a *app) steps(left []audit.Finding) {
	a.Say("%s", a.Paint.Strong("For a person to do"))
	for _, f := range left {
		at := f.File
		if f.Line > 0 {
			at = fmt.Sprintf("%s:%d", at, f.Line)
		}
		a.Say("  %s  %s", a.Paint.Place(cell(at)), f.Rule)
		a.Wrapped("    ", line(f.Message))
		a.Wrapped("    cure: ", line(f.Cure))
	}
}
