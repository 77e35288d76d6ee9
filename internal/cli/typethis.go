package cli

import (
	"os"
	"path/filepath"

	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/platform/all"
	"notaria/internal/registry"
)

// typedOn are the platforms of which names shows what to type: those that --for names,
// else those that the project around has apps for, else all.
func (a *app) typedOn(names []string) ([]platform.Platform, error) {
	var out []platform.Platform
	for _, n := range names {
		t, ok := all.Named(n)
		if !ok {
			return nil, wrongUse("--for: expected a target, found %q; see: notaria targets", n)
		}
		out = append(out, t)
	}
	if len(out) > 0 || a.json {
		return out, nil
	}
	if out = a.surrounding(); len(out) == 0 {
		out = all.Platforms
	}
	return out, nil
}

// surrounding are the platforms that the project around has apps for; none outside of a
// project. What is wrong with the project is not the business of names.
func (a *app) surrounding() []platform.Platform {
	root, err := a.projectRoot()
	if err != nil {
		return nil
	}
	if _, err := os.Stat(filepath.Join(root, registry.FileName)); err != nil {
		return nil
	}
	p, err := notary.Look(root, all.Platforms)
	if err != nil {
		return nil
	}
	defer p.Close()
	var out []platform.Platform
	for _, t := range all.Platforms {
		if sites, _ := p.Sites(t); len(sites) > 0 {
			out = append(out, t)
		}
	}
	return out
}
