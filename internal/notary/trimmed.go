package notary

import (
	"bytes"
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/change"
	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/platform"
	"notaria/internal/registry"
	"notaria/internal/sfnt"
	"notaria/internal/trim"
)

// placed is a face as apps get it: its original, or a copy: with the characters that the registry says, or pinned where it says.
func (a *artefacts) placed(id string) (artefact, error) {
	o, err := a.original(id)
	e, _ := a.p.Entry(id)
	if err != nil || e.Trim == nil && e.At == nil && e.Axes == nil && e.Rename == "" {
		return o, err
	}
	key := "trimmed " + id
	if have, ok := a.derived[key]; ok {
		return have, nil
	}
	wish := trim.Wish{At: e.At, Axes: e.Ranges(), Rename: e.Rename, Ending: strings.ToLower(path.Ext(e.File))}
	if e.Trim != nil {
		if wish.Characters, err = a.p.Kept(&e.Trim.Characters); err != nil {
			return artefact{}, err
		}
		wish.Features, wish.Unhinted = e.Trim.Features, e.Trim.Hinting != nil && !*e.Trim.Hinting
	}
	f, err := trim.Open(o.content, wish, a.words(e))
	if err != nil {
		return artefact{}, &fault.Error{File: e.File, Expected: "a font that can be " + done(e) + ", as notaria.toml asks of " + id, Found: err.Error(), Cure: "take that out of notaria.toml, or do what is said here"}
	}
	return a.keep(key, f.Data()), nil
}

// slice is a part of a face for pages.
func (a *artefacts) slice(of platform.Recipe) ([]byte, error) {
	r := of.(platform.Slice)
	o, err := a.placed(r.Face)
	if err != nil {
		return nil, err
	}
	characters := registry.Characters{Range: r.Ranges}
	wanted, err := characters.Listed()
	if err != nil {
		return nil, err
	}
	e, _ := a.p.Entry(r.Face)
	f, err := trim.Open(o.content, trim.Wish{Characters: wanted, Ending: ".woff2", Fast: !r.Small, FewNames: true}, a.words(e))
	if err != nil {
		return nil, &fault.Error{File: e.File, Expected: "a font that can be sliced, as slices under [target.web] in notaria.toml asks", Found: err.Error(), Cure: "take slices out, or do what is said here"}
	}
	return f.Data(), nil
}

// words are what is said of a face beside what it says itself.
func (a *artefacts) words(e registry.Face) trim.Words {
	w := trim.Words{Permitted: e.TrimPermitted != ""}
	if e.Licence != "" {
		w.Licence, _ = a.p.Dir.Read(e.Licence, mostManifest) // a licence that is not there is told elsewhere
	}
	return w
}

// Kept are the characters that copies of a face hold. The strings of the project are looked through once in a run, all of them, so that
// the copy is the same whichever apps are asked for.
func (p *Project) Kept(c *registry.Characters) ([]rune, error) {
	list, err := c.Kept()
	if err != nil || !c.AppStrings {
		return list, err
	}
	if !p.worded {
		p.words, p.wordless = platform.EveryCharacter(p.Tree, "")
		p.worded = true
	}
	if p.wordless != nil {
		return nil, p.wordless
	}
	list = append(slices.Clone(list), p.words...)
	slices.Sort(list)
	return slices.Compact(list), nil
}

// done says what is made of a face.
func done(e registry.Face) string {
	var list []string
	if e.Rename != "" {
		list = append(list, fmt.Sprintf("renamed to %q", e.Rename))
	}
	if e.At != nil {
		list = append(list, "pinned at "+placeText(e.At))
	}
	if e.At == nil && e.Axes != nil {
		list = append(list, "narrowed to some axes")
	}
	if e.Trim != nil {
		list = append(list, "trimmed")
	}
	return strings.Join(list, " and ")
}

// standing is what a recipe gave at an earlier run, where it is in the project as it was written then. A ledger is a claim: what it leads
// to is measured, and never placed.
func (a *artefacts) standing(r platform.Recipe) ([]byte, bool) {
	original, err := a.originalOf(r)
	if err != nil {
		return nil, false
	}
	for _, w := range a.p.Ledger.Files {
		if w.Recipe != r.Key() || w.Original != original || w.Taken {
			continue
		}
		if b, err := a.p.begun.Read(w.Path); err == nil && change.Sum(b) == w.SHA256 {
			return b, true
		}
	}
	return nil, false
}

// Metrics are those of a face as apps get it. Of one that is trimmed, any form that is in the project tells them.
func (p *Project) Metrics(id string) (*face.Metrics, error) {
	if p.makes.trimKey(id) != "" {
		for _, r := range []platform.Recipe{platform.Original{Face: id}, platform.WOFF2{Face: id}, platform.WOFF2{Face: id, Small: true}, platform.WOFF{Face: id}} {
			if b, ok := p.makes.standing(r); ok {
				return metricsOf(b)
			}
		}
	}
	f, err := p.Facts(platform.Original{Face: id})
	return f.Metrics, err
}

// metricsOf are those of a font in any container.
func metricsOf(b []byte) (*face.Metrics, error) {
	file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
	if err != nil {
		return nil, err
	}
	if file.Container != sfnt.Plain {
		if b, err = file.Unwrap(0); err != nil {
			return nil, err
		}
	}
	font, err := open(b)
	if err != nil {
		return nil, err
	}
	return face.ReadMetrics(font)
}

// trimKey tells copies of a face apart that have other characters or are pinned elsewhere; "" for the font as it is.
func (a *artefacts) trimKey(id string) string {
	e, ok := a.p.Entry(id)
	if !ok || e.Trim == nil {
		return placeKey(e)
	}
	wanted, err := a.p.Kept(&e.Trim.Characters)
	if err != nil {
		return "" // it is told where the copy is made
	}
	key := string(wanted)
	if e.Trim.Hinting != nil && !*e.Trim.Hinting {
		key += "\x00unhinted"
	}
	if e.Trim.Features != nil {
		key += "\x00features " + strings.Join(e.Trim.Features, " ")
	}
	return placeKey(e) + " trimmed " + change.Sum([]byte(key))[:16]
}

// trims says whether a recipe has a face of which apps get a changed copy.
func (a *artefacts) trims(r platform.Recipe) bool {
	return slices.ContainsFunc(r.Faces(), func(id string) bool { return a.trimKey(id) != "" })
}

// Content is what a recipe gives.
func (p *Project) Content(r platform.Recipe) ([]byte, error) {
	a, err := p.makes.make(r)
	return a.content, err
}
