package cli

import (
	"context"
	"fmt"
	"path"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/audit"
	"notaria/internal/notary"
	"notaria/internal/target"
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
	// Lacks is what of the plan is not there: fonts, code and other files of
	// Notaria's, entries of manifests.
	Lacks   lacksDoc `json:"lacks"`
	Problem string   `json:"problem,omitempty"`
	// Registered are the fonts that the app's manifests name now.
	Registered []registeredDoc `json:"registered"`
}

type lacksDoc struct {
	Fonts   int `json:"fonts"`
	Files   int `json:"files"`
	Entries int `json:"entries"`
}

func (l lacksDoc) String() string {
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

// lacks counts what findings say is not there.
func lacks(site notary.SitePlan, found []audit.Finding) lacksDoc {
	copies := map[string]bool{}
	for _, f := range site.Files {
		copies[f.Path] = f.Fonts() > 0
	}
	var l lacksDoc
	for _, f := range found {
		isCopy, planned := copies[f.File]
		switch {
		case f.Rule == audit.FileMissing && isCopy:
			l.Fonts++
		case f.Rule == audit.FileMissing && planned:
			l.Files++
		case f.Rule == audit.FileNoEntry || f.Rule == audit.NotInBuild:
			l.Entries++
		}
	}
	return l
}

// registeredDoc is a font as a manifest names it. By is "notaria" or "other".
type registeredDoc struct {
	Manifest string `json:"manifest"`
	Line     int    `json:"line,omitempty"`
	Value    string `json:"value"`
	File     string `json:"file,omitempty"`
	There    bool   `json:"file_there"`
	By       string `json:"by"`
}

// surveyFontDoc is a font file below the project's folder. Origin is "original",
// "notaria" (a copy that is on the ledger) or "other".
type surveyFontDoc struct {
	File       string `json:"file"`
	Origin     string `json:"origin"`
	Registered bool   `json:"registered"` // some app's manifest names it
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
	named := map[string]bool{}
	for _, s := range doc.Sites {
		for _, r := range s.Registered {
			named[r.File] = true
		}
	}
	for i := range doc.Fonts {
		doc.Fonts[i].Registered = named[doc.Fonts[i].File]
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
		sites, err := p.Sites(t)
		for _, e := range notary.Each(err) {
			out = append(out, surveySiteDoc{Target: t.About().Name, Problem: e.Error(), Registered: []registeredDoc{}})
		}
		for _, s := range sites {
			d, err := surveySite(ctx, p, t, s)
			if err != nil {
				return nil, err
			}
			out = append(out, d)
		}
	}
	return out, nil
}

func surveySite(ctx context.Context, p *notary.Project, t target.Target, s target.Site) (surveySiteDoc, error) {
	d := surveySiteDoc{Target: t.About().Name, Path: s.Path(), Registered: []registeredDoc{}}
	held, err := s.Held()
	if err != nil {
		d.Problem = err.Error()
		return d, nil
	}
	for _, h := range held {
		r := registeredDoc{Manifest: h.Manifest, Line: h.Line, Value: h.Value, File: h.File, By: "other"}
		r.There = h.File != "" && p.Tree.Has(h.File)
		if _, ours := p.Ledger.Wrote(h.File); ours {
			r.By = "notaria"
		}
		d.Registered = append(d.Registered, r)
	}
	plan, err := p.PlanSite(t, s)
	if err != nil {
		d.Problem = err.Error()
		return d, nil
	}
	found, err := audit.Check(ctx, p, plan)
	d.Wanted, d.Missing, d.Lacks = len(plan.Sites[0].Files), len(found), lacks(plan.Sites[0], found)
	return d, err
}

// surveyFonts lists the font files of the tree, and whose each is.
func surveyFonts(p *notary.Project) []surveyFontDoc {
	originals := map[string]bool{}
	for _, f := range p.Registry.Faces {
		originals[f.File] = true
	}
	out := []surveyFontDoc{}
	for _, f := range p.Tree.Under("") {
		if !slices.Contains(notary.FontEndings, strings.ToLower(path.Ext(f))) {
			continue
		}
		origin := "other"
		if _, ours := p.Ledger.Wrote(f); originals[f] {
			origin = "original"
		} else if ours {
			origin = "notaria"
		}
		out = append(out, surveyFontDoc{File: f, Origin: origin})
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
		a.printSurveySite(s, len(doc.Faces) == 0)
	}
	byOrigin := map[string][]surveyFontDoc{}
	for _, f := range doc.Fonts {
		byOrigin[f.Origin] = append(byOrigin[f.Origin], f)
	}
	a.say("\n%s  %s, %s", a.paint.strong(plural(len(doc.Fonts), "font file")), plural(len(byOrigin["original"]), "original"), fmt.Sprintf("%d placed by Notaria", len(byOrigin["notaria"])))
	for _, f := range byOrigin["other"] {
		state := "registered, see above"
		if !f.Registered {
			state = a.paint.warn("no app registers it")
		}
		a.say("  by another hand: %-50s %s", cell(f.File), state)
	}
}

// printSurveySite shows one app: how it stands, and what somebody else registered.
func (a *app) printSurveySite(s surveySiteDoc, nothing bool) {
	state := a.paint.good("registered, all well")
	switch {
	case s.Problem != "":
		state = a.paint.bad("cannot be served: ") + line(s.Problem)
	case nothing:
		state = "nothing enrolled for it yet"
	case s.Lacks != lacksDoc{}:
		state = a.paint.warn("lacks " + s.Lacks.String())
	case s.Missing > 0:
		state = a.paint.warn(plural(s.Missing, "finding") + ": see notaria check")
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
		if !r.There {
			lost = a.paint.bad("  no such file")
		}
		a.say("      by another hand: %s  %s%s", a.paint.place(cell(at)), cell(r.Value), lost)
	}
}
