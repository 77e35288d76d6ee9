package view

import (
	"fmt"
	"slices"
	"strings"

	"notaria/internal/audit"
	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/registry"
)

// Findings prints how the apps stand: those that are well, then what is wrong, each cause once, and how much of it each
// app has. What a person has to do comes last, where a terminal shows it.
func (a *Page) Findings(p *notary.Project, plan *notary.Plan, found []audit.Finding) {
	if !p.Found {
		a.Note("no %s here or upward: the fonts that the project has without Notaria are judged", registry.FileName)
	}
	bySite := map[string]int{}
	for _, f := range found {
		bySite[f.Target+" "+f.Site]++
	}
	has := func(s notary.SitePlan) int { return bySite[s.Target.Name+" "+s.Site.Path()] }
	a.well(slices.DeleteFunc(slices.Clone(plan.Sites), func(s notary.SitePlan) bool { return has(s) > 0 }))
	if len(found) > 0 && slices.ContainsFunc(plan.Sites, func(s notary.SitePlan) bool { return has(s) == 0 }) {
		a.Say("")
	}
	a.causes(p, found)
	a.notYet(slices.DeleteFunc(slices.Clone(plan.Sites), func(s notary.SitePlan) bool { return has(s) == 0 }), has)
}

// Built prints how what a build put out stands.
func (a *Page) Built(b *audit.Built) {
	a.causes(nil, b.Findings)
	what := fmt.Sprintf("%s, %s, %s of @font-face, %s", plural(b.Pages, "page"), plural(b.Sheets, "style sheet"), plural(b.Rules, "rule"), plural(len(b.Fonts), "font"))
	switch {
	case len(b.Findings) > 0:
		a.Wrapped(a.Paint.Bad("not yet ")+"  ", cell(b.Folder)+": "+plural(len(b.Findings), "finding")+" in "+what)
	case b.Rules == 0:
		a.Wrapped("nothing to judge  ", cell(b.Folder)+": no rule of @font-face in "+plural(b.Pages, "page")+" and "+plural(b.Sheets, "style sheet"))
	default:
		a.Wrapped(a.Paint.Good("all well")+"  ", cell(b.Folder)+": "+what+": each font is there, is what its format says, and can be read")
	}
}

// notYet counts what is wrong by app.
func (a *Page) notYet(sites []notary.SitePlan, findings func(notary.SitePlan) int) {
	var apps []string
	total := 0
	for _, s := range sites {
		n := findings(s)
		total += n
		if len(sites) <= mostListed {
			a.Say("%s  %s", a.Paint.Bad("not yet "), cell(s.Site.Title())+": "+plural(n, "finding"))
		}
		apps = append(apps, fmt.Sprintf("%s (%d)", cell(s.Site.Title()), n))
	}
	if len(sites) > mostListed {
		a.Say("%s  %s: %s", a.Paint.Bad("not yet "), plural(len(sites), "app"), plural(total, "finding"))
		a.Wrapped("    ", strings.Join(apps, ", "))
	}
}

// mostListed is how many apps get a line each.
const mostListed = 10

// well says which apps are well: many of them by what is said of them.
func (a *Page) well(sites []notary.SitePlan) {
	var order []string
	apps := map[string][]string{}
	for _, s := range sites {
		c := carries(s)
		if len(sites) <= mostListed {
			a.Wrapped(a.Paint.Good("all well")+"  ", cell(s.Site.Title())+": "+c)
			continue
		}
		if apps[c] == nil {
			order = append(order, c)
		}
		apps[c] = append(apps[c], cell(s.Site.Title()))
	}
	for _, c := range order {
		if len(apps[c]) == 1 {
			a.Wrapped(a.Paint.Good("all well")+"  ", apps[c][0]+": "+c)
			continue
		}
		a.Say("%s  %s: %s", a.Paint.Good("all well"), plural(len(apps[c]), "app"), c)
		a.Wrapped("    ", strings.Join(apps[c], ", "))
	}
}

// carries says what an app that is well has.
func carries(s notary.SitePlan) string {
	out := plural(s.Faces, "face") + " in place, named and built in"
	if s.Faces == 0 {
		out = plural(audit.ByHand(s), "font") + " of its own, nothing found wrong"
	}
	if s.None != "" {
		return "no fonts are put in: " + s.None
	}
	if s.Target.Kind == platform.ByRole && s.Roles > 0 {
		out = plural(s.Roles, "role") + " drawn and built in"
	}
	if s.Unbuilt && s.Roles > 0 {
		out = strings.Replace(strings.Replace(out, ", named and built in", "", 1), " and built in", "", 1) + "; no build file here names what is generated: take it into the build, or ignore this where the build takes all files of a folder"
	}
	return out
}

// mostPlaces is how many places of one cause are listed.
const mostPlaces = 5

// causes prints findings: those that say the same are one, with their places.
func (a *Page) causes(p *notary.Project, found []audit.Finding) {
	type cause struct{ rule, message, cause, cure string }
	var order []cause
	places := map[cause][]audit.Finding{}
	for _, f := range found {
		c := cause{f.Rule, f.Message, f.Cause, f.Cure}
		if places[c] == nil {
			order = append(order, c)
		}
		places[c] = append(places[c], f)
	}
	sources := excerpts{p: p}
	for _, c := range order {
		list := places[c]
		for _, f := range list[:min(len(list), mostPlaces)] {
			a.place(&sources, f)
		}
		if more := len(list) - mostPlaces; more > 0 {
			a.Say("and %d more", more)
		}
		a.WrappedIn(a.Paint.Strong, "  ", line(c.message))
		a.Wrapped("  why:  ", line(c.cause))
		a.Wrapped("  cure: ", line(c.cure))
		a.Say("")
	}
}

// place prints where a finding is.
func (a *Page) place(sources *excerpts, f audit.Finding) {
	at := f.File
	if f.Line > 0 {
		at = fmt.Sprintf("%s:%d", at, f.Line)
	}
	if f.Column > 0 {
		at = fmt.Sprintf("%s:%d", at, f.Column)
	}
	rule := a.Paint.Bad(f.Rule)
	switch f.Severity {
	case audit.Warning:
		rule = a.Paint.Warn(f.Rule + " (warning)")
	case audit.Note:
		rule = a.Paint.Faint(f.Rule + " (note)")
	}
	a.Say("%s  %s", a.Paint.Place(cell(at)), rule)
	if text, marks := sources.of(f); text != "" {
		a.Say("    %s", a.Paint.Faint(text))
		if marks != "" {
			a.Say("    %s", a.Paint.Bad(marks))
		}
	}
}
