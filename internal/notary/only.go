package notary

import (
	"cmp"
	"errors"
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/fault"
	"notaria/internal/platform"
	"notaria/internal/registry"
)

// Only chooses apps of a project: those of some targets, and some by their paths. The zero value chooses all.
type Only struct {
	Targets []string
	Apps    []string // paths, as survey shows them, or folders that hold apps
	Owners  []registry.Owner
	// Every says that the owners are all apps that have anything of Notaria's: of the others there is nothing to know.
	Every bool
}

// All says whether nothing is left out.
func (o Only) All() bool { return len(o.Targets)+len(o.Apps)+len(o.Owners) == 0 && !o.Every }

// Takes says whether an app is chosen.
func (o Only) Takes(of registry.Owner) bool {
	return o.All() || slices.Contains(o.Targets, of.Target) || slices.Contains(o.Owners, of) || slices.ContainsFunc(o.Apps, func(at string) bool { return covers(at, of.App) })
}

// covers says whether an app is the one at a path, or in that folder.
func covers(at, app string) bool { return at == app || strings.HasPrefix(app, at+"/") }

// asks says whether apps of a target could be chosen.
func (o Only) asks(target string) bool {
	return o.Every || len(o.Apps) > 0 || o.Takes(registry.Owner{Target: target}) || slices.ContainsFunc(o.Owners, func(x registry.Owner) bool { return x.Target == target })
}

// NewOnly reads what was typed: names of targets and paths of apps. A word that is neither is an error with the nearest
// one.
func (p *Project) NewOnly(typed []string, targets []platform.Platform) (Only, error) {
	var out Only
	var names, apps []string
	for _, t := range targets {
		names = append(names, t.About().Name)
	}
	for _, word := range typed {
		if slices.Contains(names, word) {
			out.Targets = append(out.Targets, word)
			continue
		}
		if apps == nil {
			apps = p.appPaths(targets)
		}
		at := path.Clean(strings.TrimPrefix(strings.ReplaceAll(word, `\`, "/"), "./"))
		if slices.ContainsFunc(apps, func(app string) bool { return covers(at, app) }) {
			out.Apps = append(out.Apps, at)
			continue
		}
		cure := "see: notaria targets, and notaria survey for the paths of apps"
		if near := cmp.Or(platform.Nearest(word, names), platform.Nearest(at, apps)); near != "" {
			cure = "write " + near
		}
		return out, &fault.UseError{Err: &fault.Error{File: "--only", Expected: "a target, or the path of an app of this project", Found: fmt.Sprintf("%q", word), Cure: cure}}
	}
	return out, nil
}

// appPaths are the paths of all apps, also of those that cannot be served.
func (p *Project) appPaths(targets []platform.Platform) []string {
	out := []string{}
	for _, t := range targets {
		f := p.found(t)
		for _, s := range f.sites {
			out = append(out, s.Path())
		}
		for _, e := range Each(f.err) {
			var app *platform.AppError
			if errors.As(e, &app) {
				out = append(out, app.App)
			}
		}
	}
	return out
}
