package document

import "notaria/internal/notary"

// Usage is the answer of usage.
type Usage struct {
	Schema  string     `json:"schema"` // notaria/usage/1
	Project string     `json:"project"`
	Apps    []UsageApp `json:"apps"`
	Refused []Refused  `json:"not_served"`
}

// UsageApp is how an app shows roles.
type UsageApp struct {
	Target string      `json:"target"`
	Path   string      `json:"path"`
	Title  string      `json:"-"`
	Next   string      `json:"next"` // the step that a person must take after a registration
	Roles  []UsageRole `json:"roles"`
}

// UsageRole are the ways in which an app shows a role, the usual one first.
type UsageRole struct {
	Role string `json:"role"`
	Ways []Way  `json:"ways"`
}

// Way is code, markup or a style.
type Way struct {
	In   string `json:"in"`
	Code string `json:"code"`
}

// NewUsage says how the apps of a plan show roles.
func NewUsage(p *notary.Project, plan *notary.Plan, roles []string) Usage {
	d := Usage{"notaria/usage/1", p.Root, []UsageApp{}, NewRefused(plan)}
	for _, s := range plan.Sites {
		app := UsageApp{s.Target.Name, s.Site.Path(), s.Site.Title(), s.Next, []UsageRole{}}
		for _, role := range roles {
			if ways := NewWays(s, role); len(ways) > 0 {
				app.Roles = append(app.Roles, UsageRole{role, ways})
			}
		}
		d.Apps = append(d.Apps, app)
	}
	return d
}

// NewWays are those in which one app shows a role; none if it does not have the role.
func NewWays(s notary.SitePlan, role string) []Way {
	var out []Way
	if s.Show == nil {
		return nil
	}
	for _, w := range s.Show(role) {
		out = append(out, Way(w))
	}
	return out
}
