package view

import (
	"strings"

	"notaria/internal/document"
	"notaria/internal/notary"
)

// Usage prints how apps show roles: all ways of one role, or of each role the usual one. Apps that show a role in the
// same way are printed together.
func (a *Page) Usage(doc document.Usage, one bool) {
	var g grouped
	for _, app := range doc.Apps {
		for _, r := range app.Roles {
			ways := r.Ways
			if !one {
				ways = ways[:1]
			}
			for _, w := range ways {
				g.add(app.Title, w)
			}
		}
	}
	if len(g.order) == 0 {
		a.Say("No app of this project shows a role: see notaria survey for the apps, and notaria.toml for the roles.")
		return
	}
	a.ways(g, len(g.order))
	var order []string
	apps := map[string][]string{}
	for _, app := range doc.Apps {
		if apps[app.Next] == nil {
			order = append(order, app.Next)
		}
		apps[app.Next] = append(apps[app.Next], app.Title)
	}
	a.Say("\n%s", a.Paint.Strong("After a registration"))
	for _, step := range order {
		a.Wrapped("  ", few(apps[step])+": "+line(step))
	}
}

// grouped are ways with the apps that have them.
type grouped struct {
	order []key
	ways  map[key][]string
}

// key is what stands in front of lines of code: the apps, and the language.
type key struct{ apps, in string }

func (g *grouped) add(app string, w document.Way) {
	if g.ways == nil {
		g.ways = map[key][]string{}
	}
	k := key{app, w.In}
	if g.ways[k] == nil {
		g.order = append(g.order, k)
	}
	g.ways[k] = append(g.ways[k], w.Code)
}

// together joins the apps whose lines are the same.
func (g *grouped) together() (order []key, apps map[key][]string) {
	apps = map[key][]string{}
	for _, k := range g.order {
		same := key{strings.Join(g.ways[k], "\n"), k.in}
		if apps[same] == nil {
			order = append(order, same)
		}
		apps[same] = append(apps[same], k.apps)
	}
	return order, apps
}

// ways prints at most so many groups, and returns how many apps are left.
func (a *Page) ways(g grouped, most int) (left int) {
	order, apps := g.together()
	for i, k := range order {
		if i >= most {
			left += len(apps[k])
			continue
		}
		a.Say("  %s", a.Paint.Faint(few(apps[k])+", "+k.in+":"))
		for _, code := range strings.Split(k.apps, "\n") {
			a.Say("    %s", line(code))
		}
	}
	return left
}

// mostUses is how many ways register prints: its answer is to stay on one screen.
const mostUses = 4

// use prints one line for each app that changed: how it shows a role.
func (v Registration) use(roles []string) {
	var g grouped
	for _, s := range v.Plan.Sites {
		if !touches(s, v.Set) {
			continue
		}
		if w, ok := usual(s, roles); ok {
			g.add(s.Site.Title(), w)
		}
	}
	if len(g.order) == 0 {
		return
	}
	v.Say("\n%s", v.Paint.Strong("Use it"))
	left := v.ways(g, mostUses)
	more := "all roles and languages: notaria usage"
	if left > 0 {
		more = plural(left, "more app") + ", " + more
	}
	v.Say("  %s", v.Paint.Faint(more))
}

// usual is how an app shows the first role that it has.
func usual(s notary.SitePlan, roles []string) (document.Way, bool) {
	for _, r := range roles {
		if ways := document.NewWays(s, r); len(ways) > 0 {
			return ways[0], true
		}
	}
	return document.Way{}, false
}
