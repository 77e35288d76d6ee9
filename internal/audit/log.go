package audit

import (
	"bytes"
	"context"
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/lazy"
	"notaria/internal/notary"
	"notaria/internal/platform"
)

// What generated code says of a face when an app runs, in one line each, whatever a console puts in
// front: in the listing, "MISSING NAME" or "there NAME"; by itself, "AppType: no face NAME; …", "no
// face for the role ROLE; …" or "the role ROLE has no font …".
var (
	listedFace = lazy.Regexp(`(?:^\s*|\s{2}|: )(MISSING|there  ) ([A-Za-z0-9][\w.+-]*)"?\s*$`)
	saidFace   = lazy.Regexp(`\bAppType\b.*\bno face ([A-Za-z0-9][\w.+-]*);`)
	saidRole   = lazy.Regexp(`\bAppType\b.*\b(?:no face for the role ([A-Za-z][\w-]*);|the role ([A-Za-z][\w-]*) has no font\b)`)
)

// A font that a platform does not find is also told by its file, in a line that speaks of trouble.
var (
	fontFile = lazy.Regexp(`([\p{L}\p{N}_%.+~-]+\.(?i:ttf|otf|ttc|otc|woff2?))\b`)
	trouble  = lazy.Regexp(`(?i)not found|could ?n[o']t\b|cannot|can't|unable to|failed|does(?: not|n't) exist|no such|no file\b|\bnet::err_|\b404\b|AppType: expected|notaria register`)
)

// A Sighting is what a log says of a face.
type Sighting struct {
	Face    string    `json:"face"`
	Role    string    `json:"role,omitempty"`  // that it was asked for by
	Asked   string    `json:"asked,omitempty"` // the name or the file that the platform itself complains of
	There   bool      `json:"there"`           // the app saw it, every time
	Lines   int       `json:"lines"`           // how many lines of the log say so
	Reasons []Finding `json:"reasons"`         // what check finds wrong that has to do with it
	Advice  string    `json:"advice"`          // what to do, where nothing is wrong in the tree
}

// mostSightings is how many faces of one log are reported.
const mostSightings = 500

// ReadLog finds what a log says of faces, in the words of generated code and of platforms; an empty list if it says
// nothing. Lines of any length and encoding are read.
func ReadLog(log []byte, platforms []platform.Platform) []Sighting {
	var out []Sighting
	var words []*lazy.Pattern
	for _, p := range platforms {
		if r, ok := p.(platform.LogReader); ok {
			words = append(words, r.LogLines()...)
		}
	}
	at := map[[3]string]int{}
	for line := range bytes.Lines(log) {
		said, ok := sighting(bytes.TrimRight(line[:min(len(line), 4096)], "\r\n"), words)
		if !ok {
			continue
		}
		there, key := said.There, [3]string{said.Face, said.Role, said.Asked}
		i, known := at[key]
		if !known {
			if len(out) >= mostSightings {
				continue
			}
			i = len(out)
			at[key] = i
			said.There, said.Reasons = true, []Finding{}
			out = append(out, said)
		}
		out[i].There = out[i].There && there
		out[i].Lines++
	}
	return out
}

// sighting is what one line says; false if it says nothing of a face.
func sighting(line []byte, words []*lazy.Pattern) (Sighting, bool) {
	first := func(m [][]byte) string {
		for _, g := range m[1:] {
			if len(g) > 0 {
				return string(g)
			}
		}
		return ""
	}
	if m := saidRole.FindSubmatch(line); m != nil {
		return Sighting{Role: first(m)}, true
	}
	if m := saidFace.FindSubmatch(line); m != nil {
		return Sighting{Face: first(m)}, true
	}
	if m := listedFace.FindSubmatch(line); m != nil {
		return Sighting{Face: string(m[2]), There: string(m[1]) != "MISSING"}, true
	}
	for _, w := range words {
		if m := w.FindSubmatch(line); m != nil {
			return Sighting{Asked: first(m)}, true
		}
	}
	if trouble.Match(line) {
		if m := fontFile.FindSubmatch(line); m != nil {
			return Sighting{Asked: string(m[1])}, true
		}
	}
	return Sighting{}, false
}

// Explain says of each face that a log misses why the app cannot see it, from the tree.
func Explain(ctx context.Context, p *notary.Project, seen []Sighting, found []Finding) error {
	faces, err := explainable(p)
	if err != nil {
		return err
	}
	for i := range seen {
		s := &seen[i]
		if err := ctx.Err(); err != nil {
			return err
		}
		switch {
		case s.Role != "":
			s.Face = faceOfRole(p, s.Role)
		case s.Asked != "":
			s.Face = faceOfName(faces, s.Asked)
		}
		if s.There {
			continue
		}
		names := []string{s.Face, s.Asked}
		known := false
		for _, f := range faces {
			if f.ID() == s.Face {
				names, known = append(names, namesOfFace(f)...), true
			}
		}
		for _, f := range found {
			if slices.ContainsFunc(names, func(n string) bool { return n != "" && (strings.Contains(f.Message, n) || path.Base(f.File) == n) }) {
				s.Reasons = append(s.Reasons, f)
			}
		}
		s.Advice = advice(*s, known)
	}
	return nil
}

// explainable are all faces that the project has.
func explainable(p *notary.Project) ([]platform.Face, error) {
	out := slices.Clone(p.PresentFaces())
	for _, e := range p.Registry.Faces {
		f, err := p.Face(e.Name)
		if err != nil {
			return nil, err
		}
		out = append(out, f)
	}
	return out, nil
}

// faceOfRole is the face of a role as generated code writes it: small letters, or an identifier.
func faceOfRole(p *notary.Project, role string) string {
	plain := func(s string) string {
		return strings.ToLower(strings.NewReplacer("-", "", "_", "").Replace(s))
	}
	for name, r := range p.Registry.Roles {
		if plain(name) == plain(role) {
			return r.Face
		}
	}
	return ""
}

// faceOfName is the face that a platform's complaint is about, by a name or by its file; "" for none
// of the project's.
func faceOfName(faces []platform.Face, asked string) string {
	for _, f := range faces {
		for _, n := range namesOfFace(f) {
			if strings.EqualFold(n, asked) || strings.EqualFold(n, strings.TrimSuffix(asked, path.Ext(asked))) {
				return f.ID()
			}
		}
	}
	return ""
}

func advice(s Sighting, known bool) string {
	switch {
	case s.Face == "" && len(s.Reasons) > 0:
		return "mend what is wrong, then build the app again"
	case s.Asked != "" && s.Face == "":
		return fmt.Sprintf("no font of this project is called %s: enrol that font, or correct the name; notaria trace %s lists the places that ask for it", cell(s.Asked), cell(s.Asked))
	case s.Face == "":
		return fmt.Sprintf("no role of notaria.toml is called %s: the app is older than the registry; build it again", cell(s.Role))
	case !known:
		return fmt.Sprintf("no face of this project is called %s: the app is older than the registry, or it is another app; build it again", cell(s.Face))
	case len(s.Reasons) > 0:
		return "mend what is wrong, then build the app again"
	}
	return "nothing is wrong in the tree: the app that wrote the log was built before; delete it from the device, build it again, and look at a new log"
}
