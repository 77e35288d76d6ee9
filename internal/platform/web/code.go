package web

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"

	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/platform"
)

// line is a face or a role as the style sheet writes it; empty fields are left out.
type line struct {
	platform.RoleText
	Family, Weight, Style, Stretch string
	StandIns                       []standIn // by script
	Class, About, Families         string
	CSSSize, CSSColour, OutlineCSS string
	ShadowCSS                      string
	Width                          string     // of the outline
	Written                        string     // what the role is, in words
	Variations                     string     // of axes that have no property of their own
	Display                        string     // of a face
	Parts                          []fontRule // of a face in several files; else one without a range
}

// A fontRule is an @font-face rule of a file.
type fontRule struct{ Source, Range string }

// code is what the template shows.
type code struct {
	Typed        bool // a module has types
	Faces, Roles []line
}

// generic are the names that CSS has for a role's fallback.
var generic = map[string]string{"sans": "sans-serif", "serif": "serif", "mono": "monospace", "": "sans-serif"}

func (s *site) code(job platform.Job) (code, error) {
	var data code
	wait := map[string]string{} // by face: the stand-in's family
	for _, f := range job.Faces {
		display, err := s.display(job, f)
		if err != nil {
			return data, err
		}
		l := line{Display: display, Family: language.CSS.Literal(platform.FamilyOf(f.Face)), Weight: weight(f.Face), Style: style(f.Face), Stretch: stretch(f.Face)}
		if l.Parts, err = s.rulesOf(job, f); err != nil {
			return data, err
		}
		m, err := job.Metrics(f.ID())
		if err != nil {
			return data, err
		}
		if l.StandIns = standIns(f.Face, platform.Facts{Metrics: m}, fallbackOf(job, f.ID())); len(l.StandIns) > 0 {
			wait[f.ID()] = l.StandIns[0].Family
		}
		data.Faces = append(data.Faces, l)
	}
	for _, r := range job.Roles {
		data.Roles = append(data.Roles, newRole(r, wait[r.Face.ID()]))
	}
	return data, nil
}

// rulesOf are the rules of a face. Where two have a character, browsers look at the last first: that is the one of the first part.
func (s *site) rulesOf(job platform.Job, f platform.Face) ([]fontRule, error) {
	parts, err := s.partsOf(job, f)
	if err != nil {
		return nil, err
	}
	var out []fontRule
	for _, p := range slices.Backward(parts) {
		out = append(out, fontRule{fmt.Sprintf("url(%s) format(%q)", language.CSS.Literal(platform.Relative(s.sheet, s.partFile(f, p))), formatTwo), p.ranges()})
	}
	if parts != nil {
		return out, nil
	}
	var sources []string
	for _, format := range s.formats() {
		at := platform.Relative(s.sheet, s.file(job, f, format))
		sources = append(sources, fmt.Sprintf("url(%s) format(%q)", language.CSS.Literal(at), format))
	}
	return []fontRule{{Source: strings.Join(sources, ",\n         ")}}, nil
}

// display is what shows while a face is loading: a rule of @font-face has one value, so that its roles have to agree.
func (s *site) display(job platform.Job, f platform.Face) (string, error) {
	said := map[string]string{} // by value: a role
	for _, r := range job.Roles {
		if r.Face.ID() == f.ID() && r.FontDisplay != "" {
			said[r.FontDisplay] = r.Name
		}
	}
	if values := slices.Sorted(maps.Keys(said)); len(values) > 1 {
		return "", platform.Refuse("Web", "one font-display for the face "+f.ID()+", which is loaded once for all its roles",
			fmt.Sprintf("%q for the role %s, %q for the role %s", values[0], said[values[0]], values[1], said[values[1]]), "write the same value in both roles in notaria.toml")
	} else if len(values) == 1 {
		return values[0], nil
	}
	return cmp.Or(s.opt.Word(optDisplay), "swap"), nil
}

func newRole(r platform.Role, wait string) line {
	l := line{RoleText: r.Text(), Class: "type-" + r.Name, Weight: ownWeight(r.Face.Face), Style: ownStyle(r.Face.Face), Stretch: ownStretch(r.Face.Face), Written: r.About("pixels")}
	l.About = language.CSS.Comment(l.Written)
	l.at(r)
	list := []string{language.CSS.Literal(platform.FamilyOf(r.Face.Face))}
	if wait != "" {
		list = append(list, wait)
	}
	l.Families = strings.Join(append(list, generic[r.Fallback]), ", ")
	if l.CSSSize = l.Size + "px"; r.Scale {
		l.CSSSize = language.Number(r.Size/16) + "rem" // of the reader's size, which is 16 pixels at first
	}
	if r.Colour != nil {
		l.CSSColour = strings.ToLower(r.Colour.Hash())
	}
	if r.Outline != nil {
		l.OutlineCSS, l.Width = strings.ToLower(r.Outline.Colour.Hash()), language.Number(r.Outline.Width)+"px"
	}
	if r.Shadow != nil {
		l.ShadowCSS = strings.ToLower(r.Shadow.Colour.Hash())
	}
	return l
}

// fallbackOf is what a face's roles want to see where it is missing; of several, the first.
func fallbackOf(job platform.Job, id string) string {
	for _, r := range job.Roles {
		if r.Face.ID() == id && r.Fallback != "" {
			return r.Fallback
		}
	}
	return ""
}

// weight is what a rule says of its file: one number, or for a variable font the range of
// its axis.
func weight(f face.Face) string {
	if a, ok := axis(f, "wght"); ok {
		return language.Number(a.Min) + " " + language.Number(a.Max)
	}
	return ownWeight(f)
}

// at puts a role where its coordinates say, as far as its face has the axes (CSS Fonts 4, 2.2 to 2.4 and 7.2): weight, width and
// slant have properties; an axis of the font's own is set below them.
func (l *line) at(r platform.Role) {
	var own []string
	for _, a := range r.Face.Axes {
		v, asked := r.Coordinates[a.Tag]
		if !asked {
			continue
		}
		n := language.Number(min(max(v, a.Min), a.Max))
		switch a.Tag {
		case "wght":
			l.Weight = n
		case "wdth":
			l.Stretch = n + "%"
		case "slnt":
			l.Style = "oblique " + degrees(min(max(v, a.Min), a.Max))
		default:
			own = append(own, language.CSS.Literal(a.Tag)+" "+n)
		}
	}
	l.Variations = strings.Join(own, ", ")
}

func ownWeight(f face.Face) string { return fmt.Sprint(min(max(f.Weight, 1), 1000)) }

// degrees are those of CSS, which counts clockwise, and not as the axis slnt does.
func degrees(slnt float64) string { return language.Number(0-slnt) + "deg" }

// style is what a rule says of its file: for a font with an axis of slants their range.
func style(f face.Face) string {
	if a, ok := axis(f, "slnt"); ok {
		return "oblique " + degrees(a.Max) + " " + degrees(a.Min)
	}
	return ownStyle(f)
}

func ownStyle(f face.Face) string {
	if f.Slant != face.Upright {
		return string(f.Slant)
	}
	return "normal"
}

// stretch is a width in percent, "" for the normal one.
func stretch(f face.Face) string {
	if a, ok := axis(f, "wdth"); ok {
		return language.Number(a.Min) + "% " + language.Number(a.Max) + "%"
	}
	return ownStretch(f)
}

func ownStretch(f face.Face) string {
	if f.Width == 0 || f.Width == 100 {
		return ""
	}
	return language.Number(f.Width) + "%"
}

func axis(f face.Face, tag string) (face.Axis, bool) {
	i := slices.IndexFunc(f.Axes, func(a face.Axis) bool { return a.Tag == tag })
	if i < 0 {
		return face.Axis{}, false
	}
	return f.Axes[i], true
}
