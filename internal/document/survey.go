package document

import (
	"context"
	"errors"
	"slices"

	"notaria/internal/audit"
	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/registry"
)

// Survey is the answer of survey.
type Survey struct {
	Schema  string       `json:"schema"` // notaria/survey/1
	Project string       `json:"project"`
	Faces   []SurveyFace `json:"faces"`
	Sites   []SurveySite `json:"sites"`
	Fonts   []SurveyFont `json:"fonts"`
	// PassedOver are apps in folders of tests, of other people's code and of examples: [[site]] names one there.
	PassedOver []notary.PassedOver `json:"passed_over"`
}

// SurveyFace is an enrolled face.
type SurveyFace struct {
	Name  string   `json:"postscript"`
	File  string   `json:"file"`
	Roles []string `json:"roles"`
}

// SurveySite is an app, and how it stands.
type SurveySite struct {
	Target  string      `json:"target"`
	Path    string      `json:"path"`
	Wanted  int         `json:"files_wanted"`
	Missing int         `json:"findings"`
	Judged  int         `json:"judged"` // findings of check about the app, also where nothing is enrolled
	Lacks   audit.Lacks `json:"lacks"`
	Problem string      `json:"problem,omitempty"`
	// Registered are the fonts that the app's manifests name now.
	Registered []Registered `json:"registered"`
}

// Registered is a font as a manifest names it. By is "notaria" or "other". There is
// false where the file is not in the tree, and absent where that cannot be known.
type Registered struct {
	Manifest string `json:"manifest"`
	Line     int    `json:"line,omitempty"`
	Value    string `json:"value"`
	File     string `json:"file,omitempty"`
	There    *bool  `json:"file_there,omitempty"`
	By       string `json:"by"`
}

// Lost says that a manifest names a file that is not there.
func (r Registered) Lost() bool { return r.There != nil && !*r.There }

// SurveyFont is a font file below the project's folder. Origin is "original", "notaria"
// (a copy that is on the ledger) or "other".
type SurveyFont struct {
	File       string `json:"file"`
	Origin     string `json:"origin"`
	Registered bool   `json:"registered"` // some app's manifest names it
}

// NewSurvey looks through a project. Each app is looked at by itself, so that one which
// cannot be served does not hide the others.
func NewSurvey(p *notary.Project, targets []platform.Platform) (Survey, error) {
	d := Survey{"notaria/survey/1", p.Root, []SurveyFace{}, []SurveySite{}, surveyFonts(p), []notary.PassedOver{}}
	for _, f := range p.Registry.Faces {
		x := SurveyFace{f.Name, f.File, []string{}}
		for _, r := range p.Registry.RoleNames() {
			if p.Registry.Roles[r].Face == f.Name {
				x.Roles = append(x.Roles, r)
			}
		}
		d.Faces = append(d.Faces, x)
	}
	for _, t := range targets {
		sites, err := p.Sites(t)
		for _, e := range notary.Each(err) {
			x := SurveySite{Target: t.About().Name, Problem: e.Error(), Registered: []Registered{}}
			var app *platform.AppError
			if errors.As(e, &app) {
				x.Path = app.App
			}
			d.Sites = append(d.Sites, x)
		}
		for _, s := range sites {
			d.Sites = append(d.Sites, surveySite(p, t, s))
		}
	}
	d.PassedOver = append(d.PassedOver, p.PassedOver()...)
	named := map[string]bool{}
	for _, s := range d.Sites {
		for _, r := range s.Registered {
			named[r.File] = true
		}
	}
	for i := range d.Fonts {
		d.Fonts[i].Registered = named[d.Fonts[i].File]
	}
	return d, nil
}

// Choose leaves the chosen apps.
func (d *Survey) Choose(o notary.Only) {
	d.Sites = slices.DeleteFunc(d.Sites, func(s SurveySite) bool { return !o.Takes(registry.Owner{Target: s.Target, App: s.Path}) })
}

// Judge counts what check finds wrong with each app.
func (d *Survey) Judge(found []audit.Finding) {
	type app struct{ target, path string }
	of := map[app][]audit.Finding{}
	for _, f := range found {
		at := app{f.Target, f.Site}
		of[at] = append(of[at], f)
	}
	for i := range d.Sites {
		s := &d.Sites[i]
		its := of[app{s.Target, s.Path}]
		s.Judged, s.Missing, s.Lacks = len(its), len(its), audit.LacksOf(its)
	}
}

// JudgeEach is Judge where the whole project cannot be planned: each app by itself.
func (d *Survey) JudgeEach(ctx context.Context, p *notary.Project, targets []platform.Platform) error {
	var all []audit.Finding
	for _, t := range targets {
		sites, _ := p.Sites(t) // what is wrong with others is told already
		for _, s := range sites {
			plan, err := p.PlanSite(t, s)
			if err != nil {
				continue // likewise
			}
			found, err := audit.Check(ctx, p, plan)
			if err != nil {
				return err
			}
			all = append(all, found...)
		}
	}
	d.Judge(all)
	return nil
}

func surveySite(p *notary.Project, t platform.Platform, s platform.Site) SurveySite {
	d := SurveySite{Target: t.About().Name, Path: s.Path(), Registered: []Registered{}}
	if h, ok := s.(platform.Holder); ok {
		held, err := h.Held()
		if err != nil {
			d.Problem = err.Error()
			return d
		}
		for _, x := range held {
			d.Registered = append(d.Registered, registered(p, x))
		}
	}
	plan, err := p.PlanSite(t, s)
	if err != nil {
		d.Problem = err.Error()
		return d
	}
	d.Wanted = len(plan.Files)
	return d
}

func registered(p *notary.Project, h platform.Held) Registered {
	r := Registered{Manifest: h.Manifest, Line: h.Line, Value: h.Value, File: h.File, By: "other"}
	if h.File != "" || h.Strict {
		there := h.File != "" && p.Tree.There(h.File)
		r.There = &there
	}
	if _, ours := p.Ledger.Wrote(h.File); ours {
		r.By = "notaria"
	}
	return r
}

// surveyFonts lists the font files of the tree, and whose each is.
func surveyFonts(p *notary.Project) []SurveyFont {
	originals := map[string]bool{}
	for _, f := range p.Registry.Faces {
		originals[f.File] = true
	}
	out := []SurveyFont{}
	for _, f := range p.Tree.Under("") {
		if !platform.LooksLikeFont(f) {
			continue
		}
		origin := "other"
		if _, ours := p.Ledger.Wrote(f); originals[f] {
			origin = "original"
		} else if ours {
			origin = "notaria"
		}
		out = append(out, SurveyFont{File: f, Origin: origin})
	}
	return out
}
