package cli

import (
	"context"
	"fmt"
	"path"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/change"
	"notaria/internal/document"
	"notaria/internal/language"
	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/platform/all"
	"notaria/internal/registry"
	"notaria/internal/terminal"
)

// registerOptions are the flags of register.
type registerOptions struct {
	notary.Options
	only             string
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
Notaria's from then on.

With --dry-run nothing is changed: a summary, then the changes as a diff, and the
exit code is 1 if there are any. Generated files are summed up in a line each;
--full shows them, too.`,
		Args: noArgs,
		RunE: func(c *cobra.Command, _ []string) error { return a.runRegister(c.Context(), opt) },
	}
	c.Flags().BoolVar(&opt.dry, "dry-run", false, "print a summary and the changes as a diff, and change nothing")
	c.Flags().BoolVar(&opt.full, "full", false, "with --dry-run: show generated files in full")
	c.Flags().BoolVar(&opt.files, "files", false, "list every file that changed")
	c.Flags().StringVar(&opt.only, "only", "", "only this `target`: see notaria targets")
	c.Flags().BoolVar(&opt.Strict, "strict", false, "change nothing if one app cannot be served")
	c.Flags().BoolVar(&opt.TakeOver, "take-over", false, "count as Notaria's what somebody registered by hand in the same way, so that strike takes it off, too")
	c.Flags().BoolVar(&a.discard, "discard-journal", false, "give up what an interrupted run began: move its journal away, and leave its files as they are")
	c.Flags().BoolVar(&opt.Overwrite, "overwrite", false, "take the place of files that somebody else wrote or changed")
	return c
}

// chosen are the targets that --only names.
func chosen(only string) ([]platform.Platform, error) {
	if only == "" {
		return all.Platforms, nil
	}
	t, ok := all.Named(only)
	if !ok {
		return nil, wrongUse("--only: expected a target, found %q; see: notaria targets", only)
	}
	return []platform.Platform{t}, nil
}

func (a *app) runRegister(ctx context.Context, opt registerOptions) error {
	targets, err := chosen(opt.only)
	if err != nil {
		return err
	}
	if a.discard && opt.dry {
		return wrongUse("register: expected --discard-journal or --dry-run, found both")
	}
	var plan *notary.Plan
	var before *registry.Ledger
	var set *change.Set
	p, err := notary.Steady(ctx, func() (*notary.Project, error) { return a.openEnrolled(ctx, opt.dry) }, func(p *notary.Project) (err error) {
		if plan, err = p.Plan(ctx, targets); err != nil {
			return err
		}
		if err := plan.Unserved(); err != nil && opt.Strict {
			return err
		}
		before = p.Ledger
		set, err = p.Changes(ctx, plan, opt.Options)
		return err
	})
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
	v := registerView{app: a, plan: plan, set: set, opt: opt, dos: p.DOS, none: !p.Found}
	switch {
	case a.json:
		err = a.printJSON(document.NewRegister(p, plan, set, tasks, opt.dry))
	case opt.dry:
		err = v.dryRun()
	default:
		v.done(before, tasks)
	}
	if err == nil && (opt.dry && !set.Empty() || len(plan.Refused) > 0) {
		return findings
	}
	return err
}

// registerView is what people read of a registration.
type registerView struct {
	*app
	plan *notary.Plan
	set  *change.Set
	opt  registerOptions
	none bool // there is no registry: what changes is what strike could not take off
	dos  bool // generated text has the line ends of Windows
}

// dryRun prints a summary, then the diff.
func (v registerView) dryRun() error {
	if v.set.Empty() {
		v.nothing()
		v.refused()
		return nil
	}
	v.apps("would get")
	v.counts("would change; nothing was changed")
	v.say("")
	if v.opt.full {
		for i := range v.set.Files {
			if v.set.Files[i].Summed == "generated" {
				v.set.Files[i].Summed = ""
			}
		}
	}
	if err := v.set.Diff(v.diffTo()); err != nil {
		return err
	}
	v.refused()
	return nil
}

func (v registerView) nothing() {
	if len(v.plan.Sites) == 0 && len(v.plan.Refused) == 0 {
		v.say("No app was found in this project. Notaria knows: %s.", targetTitles())
		return
	}
	if len(v.plan.Refused) > 0 {
		v.say("Nothing to do: every app that can be served has what the registry asks for.")
		return
	}
	v.say("Nothing to do: every app has what the registry asks for.")
}

// done prints what was done.
func (v registerView) done(before *registry.Ledger, tasks []notary.Task) {
	switch {
	case v.set.Empty():
		v.nothing()
	case v.onlyAccount():
		v.say("Every app has what the registry asks for; %s was brought up to date.", registry.LedgerName)
	case v.none:
		for _, f := range v.set.Files {
			if f.Path != registry.LedgerName {
				v.say("%s  what was left of fonts that are struck is taken off", cell(f.Path))
			}
		}
		return
	default:
		v.apps("has")
		v.gone(before)
		if v.opt.files {
			v.files()
		}
		v.next()
		v.short()
	}
	v.tasks(tasks)
	if v.dos && !v.set.Empty() {
		v.say("\n%s", v.paint.Faint("Version control gave generated files the line ends of Windows, which is fine. For the"))
		v.say("%s", v.paint.Faint("same bytes everywhere, write into .gitattributes:  AppType* text eol=lf"))
	}
	v.refused()
	if !v.set.Empty() && !v.onlyAccount() && len(v.plan.Sites) > 0 {
		v.say("\nThen: notaria check")
	}
}

// onlyAccount says whether nothing but Notaria's own account changes.
func (v registerView) onlyAccount() bool {
	return len(v.set.Files) == 1 && v.set.Files[0].Path == registry.LedgerName
}

// apps prints each app that changes in at most three lines.
func (v registerView) apps(verb string) {
	for _, s := range v.plan.Sites {
		if touches(s, v.set) {
			v.app1(s, verb)
		}
	}
}

func (v registerView) app1(s notary.SitePlan, verb string) {
	fonts := 0
	var folders, manifests []string
	for _, f := range s.Files {
		fonts += f.Fonts()
		folders = add(folders, path.Dir(f.Path))
	}
	for _, e := range s.Entries {
		manifests = add(manifests, e.File)
	}
	what := fmt.Sprintf("%s %s in %s", verb, plural(fonts, "font"), few(folders))
	if s.Target.Kind == platform.ByRole {
		what = fmt.Sprintf("%s %s drawn", verb, plural(s.Roles, "role"))
	}
	v.say("%s  %s", v.paint.Strong(cell(s.Site.Title())), v.paint.Faint(what))
	if len(manifests) > 0 {
		v.say("  entered in  %s", few(manifests))
	}
	var code []string
	for _, f := range s.Code {
		code = append(code, path.Base(f.Path))
	}
	if len(code) > 0 {
		v.say("  code        %s", few(code))
	}
}

func add(list []string, s string) []string {
	if slices.Contains(list, s) {
		return list
	}
	return append(list, s)
}

// few names the first of a list.
func few(list []string) string {
	const most = 3
	shown := make([]string, 0, most)
	for _, s := range list[:min(len(list), most)] {
		shown = append(shown, cell(s))
	}
	out := strings.Join(shown, ", ")
	if n := len(list) - most; n > 0 {
		out += fmt.Sprintf(" and %d more", n)
	}
	return out
}

// counts sums up how many files change.
func (v registerView) counts(what string) {
	n := map[string]int{}
	for _, f := range v.set.Files {
		n[f.Kind()]++
	}
	var parts []string
	for _, k := range []string{"new", "changed", "removed"} {
		if n[k] > 0 {
			parts = append(parts, fmt.Sprintf("%d %s", n[k], k))
		}
	}
	v.say("%s %s: %s.", plural(len(v.set.Files), "file"), what, strings.Join(parts, ", "))
}

// gone tells of files that no app wants any more.
func (v registerView) gone(before *registry.Ledger) {
	by := map[string]int{}
	var order []string
	for _, f := range v.set.Files {
		if !f.Delete {
			continue
		}
		w, _ := before.Wrote(f.Path)
		for _, o := range w.Owners {
			key := strings.TrimSpace(o.Target + " " + o.App)
			if by[key]++; by[key] == 1 {
				order = append(order, key)
			}
		}
	}
	for _, key := range order {
		v.say("%s  %s that Notaria had placed for %s: no longer wanted there", v.paint.Bad("removed"), plural(by[key], "file"), cell(key))
	}
}

func (v registerView) files() {
	v.say("")
	for _, f := range v.set.Files {
		word := f.Kind()
		switch word {
		case "new":
			word = v.paint.Good("new    ")
		case "removed":
			word = v.paint.Bad("removed")
		}
		v.say("%s  %s", word, cell(f.Path))
	}
}

// next says what a person must do now, each step once, with the apps that share it. What
// did not change needs no step.
func (v registerView) next() {
	apps := map[string][]string{}
	var order []string
	for _, s := range v.plan.Sites {
		if step := s.Next; touches(s, v.set) {
			if apps[step] == nil {
				order = append(order, step)
			}
			apps[step] = append(apps[step], s.Site.Title())
		}
	}
	if len(order) > 0 {
		v.say("\n%s", v.paint.Strong("Next"))
	}
	for _, step := range order {
		v.wrapped("  ", few(apps[step])+": "+line(step))
	}
}

// short says what the apps' code cannot express of the roles, each reason once.
func (v registerView) short() {
	type reason struct{ part, why string }
	roles, apps := map[reason][]string{}, map[reason][]string{}
	var order []reason
	for _, s := range v.plan.Sites {
		if !touches(s, v.set) {
			continue
		}
		for _, x := range s.Short {
			r := reason{x.Part, x.Why}
			if roles[r] == nil {
				order = append(order, r)
			}
			roles[r], apps[r] = add(roles[r], x.Role), add(apps[r], s.Target.Title)
		}
	}
	if len(order) > 0 {
		v.say("\n%s", v.paint.Warn("Not supported here"))
	}
	for _, r := range order {
		noun := "role"
		if len(roles[r]) > 1 {
			noun = "roles"
		}
		v.wrapped("  ", fmt.Sprintf("%s (%s %s), %s: %s", r.part, noun, strings.Join(roles[r], ", "), strings.Join(apps[r], ", "), line(r.why)))
	}
}

func (v registerView) tasks(tasks []notary.Task) {
	for _, t := range tasks {
		what := "is a program, into which Notaria does not write"
		if language.Of(t.File) == nil {
			what = "is what the project is made from, into which Notaria does not write"
		}
		v.say("\n%s  %s %s. Add this:", v.paint.Warn("By hand"), cell(t.File), what)
		v.say("  %s", line(t.Add))
	}
}

// refused lists the apps that are not served, each with the reason and a way out.
func (v registerView) refused() {
	_ = v.lines.Flush() // what was said so far comes first
	for _, r := range v.plan.Refused {
		app := r.Target
		if t, ok := all.Named(r.Target); ok {
			app = t.About().Title
		}
		fmt.Fprintf(v.err, "\n%s  %s\n  %s\n", v.paint.Bad("not served"), strings.TrimSpace(app+" "+cell(r.App)), terminal.Tidy(r.Err.Error()))
		if way := r.WayOut(); way != "" {
			fmt.Fprintf(v.err, "  or %s\n", terminal.Tidy(way))
		}
		v.pasted(r.File, r.Paste)
	}
}

// pasted shows what a person can write by hand.
func (a *app) pasted(file, text string) {
	if text == "" {
		return
	}
	fmt.Fprintf(a.err, "\nOr write this into %s by hand, and register again:\n\n", terminal.Tidy(file))
	for _, l := range strings.Split(text, "\n") {
		rest := strings.TrimLeft(l, "\t")
		fmt.Fprintln(a.err, l[:len(l)-len(rest)]+terminal.Tidy(rest))
	}
}

// touches says whether a set changes anything of a site.
func touches(s notary.SitePlan, set *change.Set) bool {
	own := map[string]bool{}
	for _, f := range s.All() {
		own[f.Path] = true
	}
	for _, e := range s.Entries {
		own[e.File] = true
	}
	return slices.ContainsFunc(set.Files, func(f change.File) bool { return own[f.Path] })
}

func targetTitles() string {
	var out []string
	for _, t := range all.Platforms {
		out = append(out, t.About().Title)
	}
	return strings.Join(out, ", ")
}

// failed prints an error: as text, or as the one document of a run with --json.
func (a *app) failed(code int, err error) {
	if a.json {
		_ = a.printJSON(document.NewFailure(code, err))
		return
	}
	fmt.Fprintln(a.err, "notaria: "+terminal.Tidy(err.Error()))
	if file, text := notary.Pasted(err); text != "" {
		a.pasted(file, text)
	}
}
