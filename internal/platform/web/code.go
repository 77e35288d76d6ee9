package web

import (
	"fmt"
	"slices"
	"strings"

	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/platform"
)

// line is a face or a role as the style sheet writes it; empty fields are left out.
type line struct {
	platform.RoleText
	Family, Weight, Style, Stretch, Source string
	StandIn                                *standIn
	Class, About, Families                 string
	CSSSize, CSSColour, OutlineCSS         string
	ShadowCSS                              string
	Width                                  string // of the outline
	Written                                string // what the role is, in words
	Variations                             string // of axes that have no property of their own
}

// standIn is a font of the reader's machine with the measures of a face.
type standIn struct {
	Family, Source                 string
	Size, Ascent, Descent, LineGap string // percent
}

// code is what the template shows.
type code struct {
	Display      string
	Typed        bool // a module has types
	Faces, Roles []line
}

// generic are the names that CSS has for a role's fallback.
var generic = map[string]string{"sans": "sans-serif", "serif": "serif", "mono": "monospace", "": "sans-serif"}

func (s *site) code(job platform.Job) (code, error) {
	data := code{Display: s.opt.Word(optDisplay)}
	if data.Display == "" {
		data.Display = "swap"
	}
	wait := map[string]string{} // by face: the stand-in's family
	for _, f := range job.Faces {
		l := line{Family: language.CSS.Literal(platform.FamilyOf(f.Face)), Weight: weight(f.Face), Style: style(f.Face), Stretch: stretch(f.Face)}
		var sources []string
		for _, format := range s.formats() {
			at := platform.Relative(s.sheet, s.file(job, f, format))
			sources = append(sources, fmt.Sprintf("url(%s) format(%q)", language.CSS.Literal(at), format))
		}
		l.Source = strings.Join(sources, ",\n         ")
		facts, err := job.Facts(platform.Original{Face: f.ID()})
		if err != nil {
			return data, err
		}
		if l.StandIn = newStandIn(f.Face, facts, fallbackOf(job, f.ID())); l.StandIn != nil {
			wait[f.ID()] = l.StandIn.Family
		}
		data.Faces = append(data.Faces, l)
	}
	for _, r := range job.Roles {
		data.Roles = append(data.Roles, newRole(r, wait[r.Face.ID()]))
	}
	return data, nil
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

// A local is a font that readers' machines have, under any of these names, with the mean
// advance of its letters in ems.
type local struct {
	names []string
	mean  float64
}

// locals are fonts that most machines have, or that others measure like them, by kind,
// bold and italic. Their means are those of the metrics that Adobe published for its base
// fonts (Helvetica, Times and Courier), of which these have the advances.
var locals = map[string][4]local{
	"sans":  {{[]string{"Arial", "Liberation Sans"}, mean(helvetica)}, {[]string{"Arial Bold", "Arial-BoldMT", "Liberation Sans Bold"}, mean(helveticaBold)}, {[]string{"Arial Italic", "Arial-ItalicMT", "Liberation Sans Italic"}, mean(helvetica)}, {[]string{"Arial Bold Italic", "Arial-BoldItalicMT", "Liberation Sans Bold Italic"}, mean(helveticaBold)}},
	"serif": {{[]string{"Times New Roman", "TimesNewRomanPSMT", "Liberation Serif"}, mean(times)}, {[]string{"Times New Roman Bold", "TimesNewRomanPS-BoldMT", "Liberation Serif Bold"}, mean(timesBold)}, {[]string{"Times New Roman Italic", "TimesNewRomanPS-ItalicMT", "Liberation Serif Italic"}, mean(timesItalic)}, {[]string{"Times New Roman Bold Italic", "TimesNewRomanPS-BoldItalicMT", "Liberation Serif Bold Italic"}, mean(timesBoldItalic)}},
	"mono":  {{[]string{"Courier New", "CourierNewPSMT", "Liberation Mono"}, 0.6}, {[]string{"Courier New Bold", "CourierNewPS-BoldMT", "Liberation Mono Bold"}, 0.6}, {[]string{"Courier New Italic", "CourierNewPS-ItalicMT", "Liberation Mono Italic"}, 0.6}, {[]string{"Courier New Bold Italic", "CourierNewPS-BoldItalicMT", "Liberation Mono Bold Italic"}, 0.6}},
}

// newStandIn makes the rule that stands in for a face; nil where the face has no letters to
// measure.
func newStandIn(f face.Face, facts platform.Facts, fallback string) *standIn {
	if facts.Metrics == nil || facts.Metrics.Mean([]rune(sample)) == 0 {
		return nil
	}
	if fallback == "" {
		fallback = kindOf(f)
	}
	at := 0
	if f.Weight >= 600 {
		at = 1
	}
	if f.Slant != face.Upright {
		at += 2
	}
	l := locals[fallback][at]
	o := facts.Overrides([]rune(sample), l.mean)
	percent := func(v float64) string { return language.Number(float64(int(v*100+0.5))/100) + "%" }
	var names []string
	for _, n := range l.names {
		names = append(names, fmt.Sprintf("local(%q)", n))
	}
	return &standIn{Family: language.CSS.Literal(platform.FamilyOf(f) + " stand-in"), Source: strings.Join(names, ", "),
		Size: percent(o.Size), Ascent: percent(o.Ascent), Descent: percent(o.Descent), LineGap: percent(o.LineGap)}
}

// kindOf is the kind of font that a face is most like.
func kindOf(f face.Face) string {
	switch {
	case f.FixedPitch || f.Category == "mono":
		return "mono"
	case f.Category == "serif" || f.Category == "slab":
		return "serif"
	}
	return "sans"
}

// Advances of the small letters from a to z and of the space, in thousandths of an em, by
// Adobe's metrics of its base fonts (Helvetica.afm and others, 1997).
var (
	helvetica       = [27]int{556, 556, 500, 556, 556, 278, 556, 556, 222, 222, 500, 222, 833, 556, 556, 556, 556, 333, 500, 278, 556, 500, 722, 500, 500, 500, 278}
	helveticaBold   = [27]int{556, 611, 556, 611, 556, 333, 611, 611, 278, 278, 556, 278, 889, 611, 611, 611, 611, 389, 556, 333, 611, 556, 778, 556, 556, 500, 278}
	times           = [27]int{444, 500, 444, 500, 444, 333, 500, 500, 278, 278, 500, 278, 778, 500, 500, 500, 500, 333, 389, 278, 500, 500, 722, 500, 500, 444, 250}
	timesBold       = [27]int{500, 556, 444, 556, 444, 333, 500, 556, 278, 333, 556, 278, 833, 556, 500, 556, 556, 444, 389, 333, 556, 500, 722, 500, 500, 444, 250}
	timesItalic     = [27]int{500, 500, 444, 500, 444, 278, 500, 500, 278, 278, 444, 278, 722, 500, 500, 500, 500, 389, 389, 278, 500, 444, 667, 444, 444, 389, 250}
	timesBoldItalic = [27]int{500, 500, 444, 500, 444, 333, 500, 556, 278, 278, 500, 278, 778, 556, 500, 500, 500, 389, 389, 278, 556, 444, 667, 500, 444, 389, 250}
)

// often is how often each small letter from a to z, and the space, is met in a thousand
// characters of running English text.
var often = [27]int{66, 12, 23, 34, 103, 18, 16, 49, 57, 1, 6, 33, 20, 57, 61, 16, 1, 49, 51, 73, 22, 8, 19, 1, 16, 1, 187}

// sample is each character as often as it is met.
var sample = func() string {
	var b strings.Builder
	for i, n := range often {
		c := string(rune('a' + i))
		if i == 26 {
			c = " "
		}
		b.WriteString(strings.Repeat(c, n))
	}
	return b.String()
}()

// mean is the mean advance of a font in ems, each letter weighted by how often it is met.
func mean(advances [27]int) float64 {
	sum, n := 0, 0
	for i, a := range advances {
		sum, n = sum+a*often[i], n+often[i]
	}
	return float64(sum) / float64(n) / 1000
}
