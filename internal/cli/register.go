package cli

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/change"
	"notaria/internal/notary"
	"notaria/internal/target"
	"notaria/internal/target/all"
)

func (a *app) register() *cobra.Command {
	var dry bool
	var opt notary.Options
	c := &cobra.Command{
		Use:   "register [flags]",
		Short: "Make every app of the project use the enrolled faces",
		Long: `Make every app in the project match the registry: files placed, entries written,
code generated. All of it happens or none of it; a run that was cut off is ended
by the next. A second run changes nothing.

What somebody registered by hand is left as it is and used as it is: a face that
an app has already is not put there a second time. With --take-over it counts as
Notaria's from then on.

With --dry-run the changes are printed as a diff, and the exit code is 1 if there
are any.`,
		Args: noArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			return a.runRegister(c.Context(), dry, opt)
		},
	}
	c.Flags().BoolVar(&dry, "dry-run", false, "print the changes as a diff, and change nothing")
	c.Flags().StringVar(&opt.Only, "only", "", "only this `target`: see notaria targets")
	c.Flags().BoolVar(&opt.TakeOver, "take-over", false, "count as Notaria's what somebody registered by hand in the same way, so that strike takes it off, too")
	c.Flags().BoolVar(&opt.Overwrite, "overwrite", false, "take the place of files that somebody else wrote or changed")
	return c
}

// registerDoc is the JSON answer of register and strike.
type registerDoc struct {
	Schema  string      `json:"schema"`
	Project string      `json:"project"`
	DryRun  bool        `json:"dry_run"`
	Sites   []siteDoc   `json:"sites"`
	Changes []changeDoc `json:"changes"`
	// ByHand is what a person must add to files into which Notaria does not write.
	ByHand []taskDoc `json:"by_hand"`
}

type taskDoc struct {
	File string `json:"file"`
	Add  string `json:"add"`
}

type siteDoc struct {
	Target string `json:"target"`
	Path   string `json:"path"`
	Next   string `json:"next"`
	// Short are the parts of roles that the app's code cannot say.
	Short []shortDoc `json:"not_expressed"`
}

func newSiteDoc(s notary.SitePlan) siteDoc {
	d := siteDoc{s.Target.Name, s.Site.Path(), s.Site.Next(), []shortDoc{}}
	for _, x := range s.Short {
		d.Short = append(d.Short, shortDoc(x))
	}
	return d
}

type shortDoc struct {
	Role string `json:"role"`
	Part string `json:"part"`
	Why  string `json:"why"`
}

type changeDoc struct {
	File   string `json:"file"`
	Change string `json:"change"` // "new", "changed" or "removed"
	Bytes  int    `json:"bytes"`
}

// chosen gives the targets that --only names.
func chosen(only string) ([]target.Target, error) {
	if only == "" {
		return all.Targets, nil
	}
	t, ok := all.Named(only)
	if !ok {
		return nil, wrongUse("--only: expected a target, found %q; see: notaria targets", only)
	}
	return []target.Target{t}, nil
}

func (a *app) runRegister(ctx context.Context, dry bool, opt notary.Options) error {
	targets, err := chosen(opt.Only)
	if err != nil {
		return err
	}
	p, err := a.openEnrolled()
	if err != nil {
		return err
	}
	plan, err := p.Plan(ctx, targets)
	if err != nil {
		return err
	}
	set, err := p.Changes(ctx, plan, opt)
	if err != nil {
		return err
	}
	if !dry {
		if err := set.Apply(ctx); err != nil {
			return err
		}
	}
	tasks, err := p.Tasks(plan)
	if err != nil {
		return err
	}
	switch {
	case a.json:
		doc := answer("notaria/register/1", p, plan, set, dry)
		for _, t := range tasks {
			doc.ByHand = append(doc.ByHand, taskDoc(t))
		}
		err = a.printJSON(doc)
	case dry:
		err = a.printDiff(set)
	default:
		a.printRegistered(plan, set)
		a.printTasks(tasks)
	}
	if err == nil && dry && !set.Empty() {
		return findings
	}
	return err
}

func answer(schema string, p *notary.Project, plan *notary.Plan, set *change.Set, dry bool) registerDoc {
	doc := registerDoc{Schema: schema, Project: p.Root, DryRun: dry, Sites: []siteDoc{}, Changes: []changeDoc{}, ByHand: []taskDoc{}}
	for _, s := range plan.Sites {
		doc.Sites = append(doc.Sites, newSiteDoc(s))
	}
	for _, f := range set.Files {
		doc.Changes = append(doc.Changes, changeDoc{f.Path, kind(f), len(f.After)})
	}
	return doc
}

func kind(f change.File) string {
	switch {
	case f.Delete:
		return "removed"
	case !f.Exists:
		return "new"
	}
	return "changed"
}

func (a *app) printDiff(set *change.Set) error {
	if set.Empty() {
		a.say("Nothing to do: every app has what the registry asks for.")
		return nil
	}
	if err := set.Diff(&diffPainter{a.out, a.paint}); err != nil {
		return err
	}
	// Beside the diff, not in it: the diff alone is what other programs read.
	if err := a.out.Flush(); err != nil {
		return err
	}
	_, err := fmt.Fprintf(a.err, "%s would change; nothing was changed.\n", plural(len(set.Files), "file"))
	return err
}

func (a *app) printRegistered(plan *notary.Plan, set *change.Set) {
	if len(plan.Sites) == 0 {
		a.say("No app was found in this project. Notaria knows: %s.", targetTitles())
		return
	}
	if set.Empty() {
		a.say("Nothing to do: every app has what the registry asks for.")
		return
	}
	for _, f := range set.Files {
		word := kind(f)
		switch word {
		case "new":
			word = a.paint.good("new    ")
		case "removed":
			word = a.paint.bad("removed")
		}
		a.say("%s  %s", word, cell(f.Path))
	}
	a.say("")
	a.printNext(plan, set)
	a.say("\nThen: notaria check")
}

func (a *app) printTasks(tasks []notary.Task) {
	for _, t := range tasks {
		a.say("\n%s  %s is a program, into which Notaria does not write. Add this:", a.paint.warn("By hand"), cell(t.File))
		a.say("  %s", line(t.Add))
	}
}

// printNext says what a person must do now, and what an app's code cannot say; apps
// with the same of both stand together. What did not change needs no step.
func (a *app) printNext(plan *notary.Plan, set *change.Set) {
	groups := map[string][]notary.SitePlan{}
	var order []string
	for _, s := range plan.Sites {
		if !touches(s, set) {
			continue
		}
		key := fmt.Sprint(s.Site.Next(), s.Short)
		if groups[key] == nil {
			order = append(order, key)
		}
		groups[key] = append(groups[key], s)
	}
	for i, key := range order {
		if i > 0 {
			a.say("")
		}
		for _, s := range groups[key] {
			a.say("%s  %s", a.paint.strong(cell(s.Site.Title())), a.paint.faint(plural(countCopies(s), "font")+" in place"))
		}
		a.wrapped("  Next:     ", line(groups[key][0].Site.Next()))
		a.printShort(groups[key][0].Short)
	}
}

// printShort says what an app's code cannot say of the roles, the roles of one
// reason together.
func (a *app) printShort(list []target.Shortfall) {
	roles := map[target.Shortfall][]string{}
	var order []target.Shortfall
	for _, x := range list {
		reason := target.Shortfall{Part: x.Part, Why: x.Why}
		if roles[reason] == nil {
			order = append(order, reason)
		}
		roles[reason] = append(roles[reason], x.Role)
	}
	for _, x := range order {
		a.wrapped("  "+a.paint.warn("Not said:")+" ", x.Part+" of "+strings.Join(roles[x], ", ")+": "+x.Why)
	}
}

// touches says whether a set changes anything of a site.
func touches(s notary.SitePlan, set *change.Set) bool {
	own := map[string]bool{}
	for _, f := range s.Files {
		own[f.Path] = true
	}
	for _, e := range s.Entries {
		own[e.File] = true
	}
	return slices.ContainsFunc(set.Files, func(f change.File) bool { return own[f.Path] })
}

func countCopies(s notary.SitePlan) int {
	n := 0
	for _, f := range s.Files {
		n += f.Fonts()
	}
	return n
}

func targetTitles() string {
	out := ""
	for i, t := range all.Targets {
		if i > 0 {
			out += ", "
		}
		out += t.About().Title
	}
	return out
}
