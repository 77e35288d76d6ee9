package cli

import (
	"context"
	"fmt"
	"path"
	"sort"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/audit"
	"notaria/internal/notary"
	"notaria/internal/target/all"
)

func (a *app) survey() *cobra.Command {
	return &cobra.Command{
		Use:   "survey [FOLDER]",
		Short: "Show the apps of a project, its fonts, and what is registered",
		Long: `Show which apps a project has, which font files lie in them and how they got
there, and what is registered and what is not. Writes nothing.`,
		Args: cobra.MaximumNArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			if len(args) == 1 {
				a.project = args[0]
			}
			return a.runSurvey(c.Context())
		},
	}
}

// surveyDoc is the JSON answer of survey.
type surveyDoc struct {
	Schema  string          `json:"schema"`
	Project string          `json:"project"`
	Faces   []surveyFaceDoc `json:"faces"`
	Sites   []surveySiteDoc `json:"sites"`
	Fonts   []surveyFontDoc `json:"fonts"`
}

type surveyFaceDoc struct {
	Name  string   `json:"postscript"`
	File  string   `json:"file"`
	Roles []string `json:"roles"`
}

type surveySiteDoc struct {
	Target  string `json:"target"`
	Path    string `json:"path"`
	Wanted  int    `json:"files_wanted"`
	Missing int    `json:"findings"`
	Problem string `json:"problem,omitempty"`
}

// surveyFontDoc is a font file below the project's folder. Origin is "original",
// "notaria" (a copy that is on the ledger) or "other".
type surveyFontDoc struct {
	File   string `json:"file"`
	Origin string `json:"origin"`
}

func (a *app) runSurvey(ctx context.Context) error {
	p, err := a.open()
	if err != nil {
		return err
	}
	doc := surveyDoc{Schema: "notaria/survey/1", Project: p.Root, Faces: []surveyFaceDoc{}, Sites: []surveySiteDoc{}, Fonts: surveyFonts(p)}
	for _, f := range p.Registry.Faces {
		d := surveyFaceDoc{Name: f.Name, File: f.File, Roles: []string{}}
		for _, r := range p.Registry.RoleNames() {
			if p.Registry.Roles[r].Face == f.Name {
				d.Roles = append(d.Roles, r)
			}
		}
		doc.Faces = append(doc.Faces, d)
	}
	if doc.Sites, err = surveySites(ctx, p); err != nil {
		return err
	}
	if a.json {
		return a.printJSON(doc)
	}
	a.printSurvey(p, doc)
	return nil
}

// surveySites asks each target by itself, so that an app which cannot be served
// does not hide the others.
func surveySites(ctx context.Context, p *notary.Project) ([]surveySiteDoc, error) {
	out := []surveySiteDoc{}
	for _, t := range all.Targets {
		sites, err := t.Sites(p.Tree)
		if err != nil {
			out = append(out, surveySiteDoc{Target: t.About().Name, Problem: err.Error()})
			continue
		}
		for _, s := range sites {
			d := surveySiteDoc{Target: t.About().Name, Path: s.Path()}
			if plan, err := p.PlanSite(t, s); err != nil {
				d.Problem = err.Error()
			} else {
				found, err := audit.Check(ctx, p, plan)
				if err != nil {
					return nil, err
				}
				d.Wanted, d.Missing = len(plan.Sites[0].Files), len(found)
			}
			out = append(out, d)
		}
	}
	return out, nil
}

// surveyEndings are the files that count as fonts.
const surveyEndings = " .ttf .otf .ttc .otc .woff .woff2 "

func surveyFonts(p *notary.Project) []surveyFontDoc {
	originals := map[string]bool{}
	for _, f := range p.Registry.Faces {
		originals[f.File] = true
	}
	out := []surveyFontDoc{}
	for _, f := range p.Tree.Under("") {
		if !strings.Contains(surveyEndings, " "+strings.ToLower(path.Ext(f))+" ") {
			continue
		}
		origin := "other"
		if _, ours := p.Ledger.Wrote(f); originals[f] {
			origin = "original"
		} else if ours {
			origin = "notaria"
		}
		out = append(out, surveyFontDoc{f, origin})
	}
	return out
}

func (a *app) printSurvey(p *notary.Project, doc surveyDoc) {
	a.say("%s  %s", a.paint.strong("Project"), doc.Project)
	if !p.Found {
		a.say("  no notaria.toml yet: begin with notaria enrol PATH")
	}
	a.say("\n%s", a.paint.strong(plural(len(doc.Faces), "enrolled face")))
	for _, f := range doc.Faces {
		roles := "no role"
		if len(f.Roles) > 0 {
			roles = "for " + strings.Join(f.Roles, ", ")
		}
		a.say("  %-28s %s", cell(f.Name), roles)
	}
	a.say("\n%s", a.paint.strong(plural(len(doc.Sites), "app")))
	for _, s := range doc.Sites {
		state := a.paint.good("registered, all well")
		switch {
		case s.Problem != "":
			state = a.paint.bad("cannot be served: ") + line(s.Problem)
		case len(doc.Faces) == 0:
			state = "nothing enrolled for it yet"
		case s.Missing > 0:
			state = a.paint.warn(plural(s.Missing, "finding") + ": see notaria check")
		}
		a.say("  %-8s %-40s %s", s.Target, cell(s.Path), state)
	}
	byOrigin := map[string][]string{}
	for _, f := range doc.Fonts {
		byOrigin[f.Origin] = append(byOrigin[f.Origin], f.File)
	}
	a.say("\n%s  %s, %s", a.paint.strong(plural(len(doc.Fonts), "font file")), plural(len(byOrigin["original"]), "original"), fmt.Sprintf("%d placed by Notaria", len(byOrigin["notaria"])))
	others := byOrigin["other"]
	sort.Strings(others)
	for _, f := range others {
		a.say("  by another hand: %s", cell(f))
	}
}
