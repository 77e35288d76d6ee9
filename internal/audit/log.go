package audit

import (
	"bytes"
	"context"
	"fmt"
	"path"
	"regexp"
	"slices"
	"strings"

	"notaria/internal/notary"
	"notaria/internal/target"
)

// What generated code says of a face when an app runs, in one line each, whatever a console puts in
// front: in the listing, "MISSING NAME" or "there NAME"; by itself, "AppType: no face NAME; …", or
// "no face for the role ROLE; …".
var (
	listedFace = regexp.MustCompile(`(?:^\s*|\s{2}|: )(MISSING|there  ) ([A-Za-z0-9][\w.+-]*)"?\s*$`)
	saidFace   = regexp.MustCompile(`\bAppType\b.*\bno face ([A-Za-z0-9][\w.+-]*);`)
	saidRole   = regexp.MustCompile(`\bAppType\b.*\bno face for the role ([A-Za-z][\w-]*);`)
)

// A Sighting is what a log says of a face.
type Sighting struct {
	Face    string    `json:"face"`
	Role    string    `json:"role,omitempty"` // that it was asked for by
	There   bool      `json:"there"`          // the app saw it, every time
	Lines   int       `json:"lines"`          // how many lines of the log say so
	Reasons []Finding `json:"reasons"`        // what check finds wrong that has to do with it
	Advice  string    `json:"advice"`         // what to do, where nothing is wrong in the tree
}

// mostSightings is how many faces of one log are told of.
const mostSightings = 500

// ReadLog finds what a log says of faces; an empty list if it says nothing. Lines of any length and
// encoding are read.
func ReadLog(log []byte) []Sighting {
	var out []Sighting
	at := map[string]int{}
	add := func(face, role string, there bool) {
		key := face + "\x00" + role
		i, known := at[key]
		if !known {
			if len(out) >= mostSightings {
				return
			}
			i = len(out)
			at[key] = i
			out = append(out, Sighting{Face: face, Role: role, There: true, Reasons: []Finding{}})
		}
		out[i].There = out[i].There && there
		out[i].Lines++
	}
	for line := range bytes.Lines(log) {
		line = bytes.TrimRight(line[:min(len(line), 4096)], "\r\n")
		switch {
		case saidRole.Match(line):
			add("", string(saidRole.FindSubmatch(line)[1]), false)
		case saidFace.Match(line):
			add(string(saidFace.FindSubmatch(line)[1]), "", false)
		case listedFace.Match(line):
			m := listedFace.FindSubmatch(line)
			add(string(m[2]), "", string(m[1]) != "MISSING")
		}
	}
	return out
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
		if s.Role != "" {
			s.Face = faceOfRole(p, s.Role)
		}
		if s.There {
			continue
		}
		names := []string{s.Face}
		known := false
		for _, f := range faces {
			if f.ID() == s.Face {
				names, known = append(names, namesOfFace(f)...), true
			}
		}
		for _, f := range found {
			if s.Face != "" && slices.ContainsFunc(names, func(n string) bool { return n != "" && (strings.Contains(f.Message, n) || path.Base(f.File) == n) }) {
				s.Reasons = append(s.Reasons, f)
			}
		}
		s.Advice = advice(*s, known)
	}
	return nil
}

// explainable are all faces that the project has.
func explainable(p *notary.Project) ([]target.Face, error) {
	out := slices.Clone(p.Own())
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

func advice(s Sighting, known bool) string {
	switch {
	case s.Face == "":
		return fmt.Sprintf("no role of notaria.toml is called %s: the app is older than the registry; build it again", cell(s.Role))
	case !known:
		return fmt.Sprintf("no face of this project is called %s: the app is older than the registry, or it is another app; build it again", cell(s.Face))
	case len(s.Reasons) > 0:
		return "mend what is wrong, then build the app again"
	}
	return "nothing is wrong in the tree: the app that wrote the log was built before; delete it from the device, build it again, and look at a new log"
}
