package cli

import (
	"context"
	"fmt"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/audit"
	"notaria/internal/document"
	"notaria/internal/notary"
	"notaria/internal/platform/all"
)

func (a *app) survey() *cobra.Command {
	return &cobra.Command{
		Use:   "survey [FOLDER]",
		Short: "Show the apps of a project, its fonts, and what is registered",
		Long: `Show which apps a project has, which font files are in them and how they got
there, and what is registered and what is not. Writes nothing.`,
		Args: atMost(1),
		RunE: func(c *cobra.Command, args []string) error {
			if len(args) == 1 {
				a.project = args[0]
			}
			return a.runSurvey(c.Context())
		},
	}
}

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

func (a *app) runSurvey(ctx context.Context) error {
	var doc document.Survey
	p, err := notary.Steady(ctx, a.look, func(p *notary.Project) (err error) {
		if doc, err = document.NewSurvey(ctx, p, all.Platforms); err != nil {
			return err
		}
		plan, err := p.Plan(ctx, all.Platforms)
		if err != nil {
			return nil // what cannot be planned is told with its app
		}
		report, err := audit.NewReport(ctx, p, plan)
		doc.Judge(report.Findings)
		return err
	})
	if err != nil {
		return err
	}
	defer p.Close()
	if a.json {
		return a.printJSON(doc)
	}
	a.printSurvey(p, doc)
	return nil
}

func (a *app) printSurvey(p *notary.Project, doc document.Survey) {
	a.say("%s  %s", a.paint.Strong("Project"), doc.Project)
	if !p.Found {
		a.say("  no notaria.toml yet: begin with notaria enrol PATH")
	}
	a.say("\n%s", a.paint.Strong(plural(len(doc.Faces), "enrolled face")))
	for _, f := range doc.Faces {
		roles := "no role"
		if len(f.Roles) > 0 {
			roles = "for " + strings.Join(f.Roles, ", ")
		}
		a.say("  %-28s %s", cell(f.Name), roles)
	}
	a.say("\n%s", a.paint.Strong(plural(apps(doc.Sites), "app")))
	for _, s := range doc.Sites {
		a.printSurveySite(s, len(doc.Faces) == 0)
	}
	byOrigin := map[string][]document.SurveyFont{}
	for _, f := range doc.Fonts {
		byOrigin[f.Origin] = append(byOrigin[f.Origin], f)
	}
	a.say("\n%s  %s, %s", a.paint.Strong(plural(len(doc.Fonts), "font file")), plural(len(byOrigin["original"]), "original"), fmt.Sprintf("%d placed by Notaria", len(byOrigin["notaria"])))
	for _, f := range byOrigin["other"] {
		state := "registered, see above"
		if !f.Registered {
			state = a.paint.Warn("no app registers it")
		}
		a.say("  not added by Notaria: %-50s %s", cell(f.File), state)
	}
}

// printSurveySite shows one app: how it stands, and what somebody else registered.
func (a *app) printSurveySite(s document.SurveySite, nothing bool) {
	state := a.paint.Good("registered, all well")
	switch {
	case s.Problem != "":
		state = a.paint.Bad("cannot be served: ") + line(s.Problem)
	case nothing && s.Judged > 0:
		state = a.paint.Warn("nothing enrolled for it yet; " + plural(s.Judged, "finding") + ": see notaria check")
	case nothing:
		state = "nothing enrolled for it yet"
	case s.Lacks != audit.Lacks{}:
		state = a.paint.Warn("lacks " + lackText(s.Lacks))
	case s.Missing > 0 || s.Judged > 0:
		state = a.paint.Warn(plural(max(s.Missing, s.Judged), "finding") + ": see notaria check")
	}
	a.say("  %-12s %-40s %s", s.Target, cell(s.Path), state)
	for _, r := range s.Registered {
		if r.By != "other" {
			continue
		}
		at, lost := r.Manifest, ""
		if r.Line > 0 {
			at = fmt.Sprintf("%s:%d", r.Manifest, r.Line)
		}
		if r.Lost() {
			lost = a.paint.Bad("  no such file")
		}
		a.say("      not added by Notaria: %s  %s%s", a.paint.Place(cell(at)), cell(r.Value), lost)
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
