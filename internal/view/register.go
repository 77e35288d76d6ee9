package view

import (
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/change"
	"notaria/internal/language"
	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/platform/all"
	"notaria/internal/registry"
	"notaria/internal/terminal"
)

// A Registration is what people read of a registration.
type Registration struct {
	*Page
	Plan        *notary.Plan
	Set         *change.Set
	Full, Files bool // generated files are shown in full; every file is listed
	None        bool // there is no registry: what changes is what strike could not take off
	Roles       []string
	DOS         bool // generated text has the line ends of Windows
	// Told are apps whose roles are as they were: what is not supported there has been said.
	Told []registry.Owner
}

// DryRun prints a summary, then the diff.
func (v Registration) DryRun() error {
	if v.Set.Empty() {
		v.nothing()
		v.refused()
		return nil
	}
	v.apps("would get")
	v.counts("would change; nothing was changed")
	v.Say("")
	if v.Full {
		for i := range v.Set.Files {
			if v.Set.Files[i].Summed == "generated" {
				v.Set.Files[i].Summed = ""
			}
		}
	}
	if err := v.Set.Diff(v.DiffTo()); err != nil {
		return err
	}
	v.refused()
	return nil
}

func (v Registration) nothing() {
	if len(v.Plan.Sites) == 0 && len(v.Plan.Refused) == 0 {
		v.Say("No app was found in this project. Notaria knows: %s.", targetTitles())
		return
	}
	if len(v.Plan.Refused) > 0 {
		v.Say("Nothing to do: every app that can be served has what the registry asks for.")
		return
	}
	v.Say("Nothing to do: every app has what the registry asks for.")
	v.next()
}

// Done prints what was done.
func (v Registration) Done(before *registry.Ledger, tasks []notary.Task) {
	switch {
	case v.Set.Empty():
		v.nothing()
	case v.onlyAccount():
		v.Say("Every app has what the registry asks for; %s was brought up to date.", registry.LedgerName)
		v.next()
	case v.None:
		for _, f := range v.Set.Files {
			if f.Path != registry.LedgerName {
				v.Say("%s  what was left of fonts that are struck is taken off", cell(f.Path))
			}
		}
		return
	default:
		v.apps("has")
		v.gone(before)
		if v.Files {
			v.eachFile()
		}
		v.next()
		v.use(v.Roles)
		v.short()
	}
	v.tasks(tasks)
	if v.DOS && !v.Set.Empty() {
		v.Say("\n%s", v.Paint.Faint("Version control gave generated files the line ends of Windows, which is fine. For the"))
		v.Say("%s", v.Paint.Faint("same bytes everywhere, write into .gitattributes:  AppType* text eol=lf"))
	}
	v.refused()
	if !v.Set.Empty() && !v.onlyAccount() && len(v.Plan.Sites) > 0 {
		v.Say("\nThen: notaria check")
	}
}

// onlyAccount says whether nothing but Notaria's own account changes.
func (v Registration) onlyAccount() bool {
	return len(v.Set.Files) == 1 && v.Set.Files[0].Path == registry.LedgerName
}

// apps prints each app that changes in at most three lines.
func (v Registration) apps(verb string) {
	changed := slices.DeleteFunc(slices.Clone(v.Plan.Sites), func(s notary.SitePlan) bool { return !touches(s, v.Set) })
	if len(changed) > mostInFull {
		v.brief(changed, verb)
		return
	}
	for _, s := range changed {
		v.app(s, verb)
	}
}

// mostInFull is how many apps are told of in three lines each, and mostNext how many steps for a person: the answer is
// to stay on one screen.
const (
	mostInFull    = 4
	mostPlatforms = 10
	mostNext      = 6
)

// brief prints many apps, those of a platform in a line.
func (v Registration) brief(sites []notary.SitePlan, verb string) {
	type of struct {
		apps         []string
		fonts, files int
		roles        int
	}
	var order []string
	by := map[string]*of{}
	for _, s := range sites {
		x := by[s.Target.Title]
		if x == nil {
			x = &of{}
			by[s.Target.Title], order = x, append(order, s.Target.Title)
		}
		x.apps, x.files = append(x.apps, s.Site.Path()), x.files+len(s.Code)
		for _, f := range s.Files {
			x.fonts += f.Fonts()
		}
		if s.Target.Kind == platform.ByRole {
			x.roles += s.Roles
		}
	}
	plurals := strings.NewReplacer("has", "have")
	for i, title := range order {
		if i == mostPlatforms {
			v.Say("%s", v.Paint.Faint(fmt.Sprintf("and the apps of %s: --files lists every file", plural(len(order)-mostPlatforms, "more platform"))))
			break
		}
		x, verb := by[title], verb
		if len(x.apps) > 1 {
			verb = plurals.Replace(verb)
		}
		what := fmt.Sprintf("%s %s, %s", verb, plural(x.fonts, "font"), plural(x.files, "generated file"))
		if x.roles > 0 {
			what = fmt.Sprintf("%s %s drawn", verb, plural(x.roles, "role"))
		}
		v.Say("%s %s  %s", v.Paint.Strong(cell(title)), few(x.apps), v.Paint.Faint(what))
	}
}

func (v Registration) app(s notary.SitePlan, verb string) {
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
	v.Say("%s  %s", v.Paint.Strong(cell(s.Site.Title())), v.Paint.Faint(what))
	if len(manifests) > 0 {
		v.Say("  entered in  %s", few(manifests))
	}
	var code []string
	for _, f := range s.Code {
		code = append(code, path.Base(f.Path))
	}
	if len(code) > 0 {
		v.Say("  code        %s", few(code))
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
func (v Registration) counts(what string) {
	n := map[string]int{}
	for _, f := range v.Set.Files {
		n[f.Kind()]++
	}
	var parts []string
	for _, k := range []string{"new", "changed", "removed"} {
		if n[k] > 0 {
			parts = append(parts, fmt.Sprintf("%d %s", n[k], k))
		}
	}
	v.Say("%s %s: %s.", plural(len(v.Set.Files), "file"), what, strings.Join(parts, ", "))
}

// gone tells of files that no app wants any more.
func (v Registration) gone(before *registry.Ledger) {
	by := map[string]int{}
	var order []string
	for _, f := range v.Set.Files {
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
		v.Say("%s  %s that Notaria had placed for %s: no longer wanted there", v.Paint.Bad("removed"), plural(by[key], "file"), cell(key))
	}
}

func (v Registration) eachFile() {
	v.Say("")
	for _, f := range v.Set.Files {
		word := f.Kind()
		switch word {
		case "new":
			word = v.Paint.Good("new    ")
		case "removed":
			word = v.Paint.Bad("removed")
		}
		v.Say("%s  %s", word, cell(f.Path))
	}
}

// next says what a person must do now, each step once, with the apps that share it. What
// did not change needs no step.
func (v Registration) next() {
	apps := map[string][]string{}
	var order []string
	for _, s := range v.Plan.Sites {
		step := s.Next
		if s.None != "" {
			step = s.None
		}
		if touches(s, v.Set) || s.None != "" {
			if apps[step] == nil {
				order = append(order, step)
			}
			apps[step] = append(apps[step], s.Site.Title())
		}
	}
	if len(order) > 0 {
		v.Say("\n%s", v.Paint.Strong("Next"))
	}
	for i, step := range order {
		if i == mostNext {
			v.Say("  %s", v.Paint.Faint(fmt.Sprintf("%s, for the other apps: notaria usage", plural(len(order)-mostNext, "more step"))))
			break
		}
		v.Wrapped("  ", few(apps[step])+": "+line(step))
	}
}

// short says what the apps' code cannot express of the roles, each reason once.
func (v Registration) short() {
	type reason struct{ part, why string }
	roles, apps := map[reason][]string{}, map[reason][]string{}
	var order []reason
	for _, s := range v.Plan.Sites {
		if !touches(s, v.Set) || slices.Contains(v.Told, registry.Owner{Target: s.Target.Name, App: s.Site.Path()}) {
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
		v.Say("\n%s", v.Paint.Warn("Not supported here"))
	}
	for _, r := range order {
		noun := "role"
		if len(roles[r]) > 1 {
			noun = "roles"
		}
		v.Wrapped("  ", fmt.Sprintf("%s (%s %s), %s: %s", r.part, noun, strings.Join(roles[r], ", "), strings.Join(apps[r], ", "), line(r.why)))
	}
}

func (v Registration) tasks(tasks []notary.Task) {
	for _, t := range tasks {
		what := "is a program, into which Notaria does not write"
		if language.Of(t.File) == nil {
			what = "is what the project is made from, into which Notaria does not write"
		}
		v.Say("\n%s  %s %s. Add this:", v.Paint.Warn("By hand"), cell(t.File), what)
		v.Say("  %s", line(t.Add))
	}
}

// refused lists the apps that are not served, each with the reason and a way out.
func (v Registration) refused() {
	_ = v.Lines.Flush() // what was said so far comes first
	for _, r := range v.Plan.Refused {
		app := r.Target
		if t, ok := all.Named(r.Target); ok {
			app = t.About().Title
		}
		fmt.Fprintf(v.Err, "\n%s  %s\n  %s\n", v.Paint.Bad("not served"), strings.TrimSpace(app+" "+cell(r.App)), terminal.Tidy(r.Err.Error()))
		if way := r.WayOut(); way != "" {
			fmt.Fprintf(v.Err, "  or %s\n", terminal.Tidy(way))
		}
		v.Pasted(r.File, r.Paste)
	}
}

// Pasted shows what a person can write by hand.
func (a *Page) Pasted(file, text string) {
	if text == "" {
		return
	}
	fmt.Fprintf(a.Err, "\nOr write this into %s by hand, and register again:\n\n", terminal.Tidy(file))
	for _, l := range strings.Split(text, "\n") {
		rest := strings.TrimLeft(l, "\t")
		fmt.Fprintln(a.Err, l[:len(l)-len(rest)]+terminal.Tidy(rest))
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
