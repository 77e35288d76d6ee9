package view

import (
	"fmt"
	"strings"

	"notaria/internal/audit"
	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/registry"
)

func (a *Page) Findings(p *notary.Project, plan *notary.Plan, found []audit.Finding) {
	sources := excerpts{p: p}
	for _, f := range found {
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
		a.WrappedIn(a.Paint.Strong, "  ", line(f.Message))
		a.Wrapped("  why:  ", line(f.Cause))
		a.Wrapped("  cure: ", line(f.Cure))
		a.Say("")
	}
	if !p.Found {
		a.Note("no %s here or upward: the fonts that the project has without Notaria are judged", registry.FileName)
	}
	bySite := map[string]int{}
	for _, f := range found {
		bySite[f.Target+" "+f.Site]++
	}
	for _, s := range plan.Sites {
		if n := bySite[s.Target.Name+" "+s.Site.Path()]; n > 0 {
			a.Say("%s  %s", a.Paint.Bad("not yet "), cell(s.Site.Title())+": "+plural(n, "finding"))
			continue
		}
		carries := plural(s.Faces, "face") + " in place, named and built in"
		if s.Faces == 0 {
			carries = plural(audit.ByHand(s), "font") + " of its own, nothing found wrong"
		}
		if s.Target.Kind == platform.ByRole && s.Roles > 0 {
			carries = plural(s.Roles, "role") + " drawn and built in"
		}
		if s.Unbuilt && s.Roles > 0 {
			carries = strings.Replace(strings.Replace(carries, ", named and built in", "", 1), " and built in", "", 1) + "; no build file here names what is generated: take it into the build, or ignore this where the build takes all files of a folder"
		}
		a.Say("%s  %s: %s", a.Paint.Good("all well"), cell(s.Site.Title()), carries)
	}
}
