package notary

import (
	"path"
	"slices"
	"strings"

	"notaria/internal/change"
	"notaria/internal/fault"
	"notaria/internal/platform"
	"notaria/internal/trim"
)

// placed is a face as apps get it: its original, or, where the registry says which characters are needed, a copy with these.
func (a *artefacts) placed(id string) (artefact, error) {
	o, err := a.original(id)
	e, _ := a.p.Registry.Face(id)
	if err != nil || e.Trim == nil {
		return o, err
	}
	key := "trimmed " + id
	if have, ok := a.derived[key]; ok {
		return have, nil
	}
	wanted, err := e.Trim.Runes()
	if err != nil {
		return artefact{}, err
	}
	var licence []byte
	if e.Licence != "" {
		licence, _ = a.p.Dir.Read(e.Licence, mostManifest) // a licence that is not there is told elsewhere
	}
	f, err := trim.Open(o.content, trim.Wish{Characters: wanted, Ending: strings.ToLower(path.Ext(e.File))}, trim.Words{Licence: licence, Permitted: e.TrimPermitted != ""})
	if err != nil {
		return artefact{}, &fault.Error{File: e.File, Expected: "a font that can be trimmed, as notaria.toml asks of " + id, Found: err.Error(), Cure: "take trim out of its [[face]], or do what is said here"}
	}
	if a.derived == nil {
		a.derived = map[string]artefact{}
	}
	a.made++
	a.derived[key] = artefact{f.Data(), change.Sum(f.Data())}
	return a.derived[key], nil
}

// trimKey tells copies of a face with different characters apart; "" for the whole font.
func (a *artefacts) trimKey(id string) string {
	e, ok := a.p.Registry.Face(id)
	if !ok || e.Trim == nil {
		return ""
	}
	wanted, _ := e.Trim.Runes() // the registry was checked
	return " trimmed " + change.Sum([]byte(string(wanted)))[:16]
}

// trims says whether a recipe has a face of which only some characters are needed.
func (a *artefacts) trims(r platform.Recipe) bool {
	return slices.ContainsFunc(r.Faces(), func(id string) bool { return a.trimKey(id) != "" })
}

// Content is what a recipe gives.
func (p *Project) Content(r platform.Recipe) ([]byte, error) {
	a, err := p.makes.make(r)
	return a.content, err
}
