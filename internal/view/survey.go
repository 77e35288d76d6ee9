package view

import (
	"fmt"
	"strings"

	"notaria/internal/audit"
	"notaria/internal/document"
	"notaria/internal/notary"
)

// lackText says what an app lacks.
func lackText(l audit.Lacks) string {
	var out []string
	for _, x := range []struct {
		n   int
		one string
	}{{l.Fonts, "font"}, {l.Files, "generated file"}, {l.Entries, "entry"}} {
		if x.n == 1 {
			out = append(out, "1 "+x.one)
		} else if x.n > 1 {
			out = append(out, fmt.Sprintf("%d %s", x.n, strings.NewReplacer("font", "fonts", "file", "files", "entry", "entries").Replace(x.one)))
		}
	}
	return strings.Join(out, ", ")
}

func (a *Page) Survey(p *notary.Project, doc document.Survey, all bool) {
	a.Say("%s  %s", a.Paint.Strong("Project"), doc.Project)
	if !p.Found {
		a.Say("  no notaria.toml yet: begin with notaria enrol PATH")
	}
	a.Say("\n%s", a.Paint.Strong(plural(len(doc.Faces), "enrolled face")))
	for _, f := range doc.Faces {
		roles := "no role"
		if len(f.Roles) > 0 {
			roles = "for " + strings.Join(f.Roles, ", ")
		}
		a.Say("  %-28s %s", cell(f.Name), roles)
	}
	a.Say("\n%s", a.Paint.Strong(plural(apps(doc.Sites), "app")))
	for _, s := range doc.Sites {
		a.surveySite(s, len(doc.Faces) == 0)
	}
	if n := len(doc.PassedOver); n > 0 && !all {
		a.Say("  and %s in folders of tests, examples or other people's code: --all lists them", plural(n, "app"))
	} else if n > 0 {
		a.Say("\n%s: [[site]] in notaria.toml names one that is meant", a.Paint.Strong(plural(n, "app")+" passed over"))
		for _, s := range doc.PassedOver {
			a.Say("  %-12s %-40s %s", s.Target, cell(s.App), s.Why)
		}
	}
	byOrigin := map[string][]document.SurveyFont{}
	for _, f := range doc.Fonts {
		byOrigin[f.Origin] = append(byOrigin[f.Origin], f)
	}
	a.Say("\n%s  %s, %s", a.Paint.Strong(plural(len(doc.Fonts), "font file")), plural(len(byOrigin["original"]), "original"), fmt.Sprintf("%d placed by Notaria", len(byOrigin["notaria"])))
	for _, f := range byOrigin["other"] {
		state := "registered, see above"
		if !f.Registered {
			state = a.Paint.Warn("no app registers it")
		}
		a.Say("  not added by Notaria: %-50s %s", cell(f.File), state)
	}
}

// printSurveySite shows one app: how it stands, and what somebody else registered.
func (a *Page) surveySite(s document.SurveySite, nothing bool) {
	state := a.Paint.Good("registered, all well")
	switch {
	case s.Problem != "":
		state = a.Paint.Bad("cannot be served: ") + line(s.Problem)
	case nothing && s.Judged > 0:
		state = a.Paint.Warn("nothing enrolled for it yet; " + plural(s.Judged, "finding") + ": see notaria check")
	case nothing:
		state = "nothing enrolled for it yet"
	case s.Lacks != audit.Lacks{}:
		state = a.Paint.Warn("lacks " + lackText(s.Lacks))
	case s.Missing > 0 || s.Judged > 0:
		state = a.Paint.Warn(plural(max(s.Missing, s.Judged), "finding") + ": see notaria check")
	}
	a.Say("  %-12s %-40s %s", s.Target, cell(s.Path), state)
	for _, r := range s.Registered {
		if r.By != "other" {
			continue
		}
		at, lost := r.Manifest, ""
		if r.Line > 0 {
			at = fmt.Sprintf("%s:%d", r.Manifest, r.Line)
		}
		if r.Lost() {
			lost = a.Paint.Bad("  no such file")
		}
		a.Say("      not added by Notaria: %s  %s%s", a.Paint.Place(cell(at)), cell(r.Value), lost)
	}
}

// apps counts each app once: a target of one that is not served stands beside it, and what is wrong
// with a key of the registry is no app.
func apps(sites []document.SurveySite) int {
	type app struct{ target, path string }
	seen := map[app]bool{}
	for _, s := range sites {
		if s.Path != "" {
			seen[app{s.Target, s.Path}] = true
		}
	}
	return len(seen)
}
