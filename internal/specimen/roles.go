package specimen

import (
	"image/color"
	"math"
)

// A Role is one of a project as an app shows it. Lengths are in pixels.
type Role struct {
	Name, About string
	On          string // the platform that has it so; "" for all others
	Face        Face
	Style       Style    // its colour is empty where the role has none
	Limits      []string // what of it apps cannot show
	Fixed       bool     // it does not follow the reader's text size
}

// Title is what the role is called, and where.
func (r Role) Title() string {
	if r.On == "" {
		return r.Name
	}
	return r.Name + " on " + r.On
}

// Roles draws each role twice, on light and on dark, with its text at its size, line height, tracking,
// colour, outline and shadow.
func Roles(roles []Role, o Options) (*Drawing, error) {
	o.page = &work{}
	pen, err := NewPen(o.Colours)
	if err != nil {
		return nil, err
	}
	d := &Drawing{W: o.Width, Ground: o.Ground, Title: o.Title}
	y := pen.heading(d, o.Title, rolesAbout(roles), o.Width)
	wide := cellWidth(o.Width, 2)
	for _, r := range roles {
		d.Rect(edge(o.Width), y, o.Width-2*edge(o.Width), 1, o.Rule)
		y += 2.5 * unit
		x := edge(o.Width) + pen.words(d, pen.strong, r.Title(), edge(o.Width), y, 15, o.Width/3, o.Ink) + 1.5*unit
		pen.words(d, pen.text, r.About, x, y, 14, o.Width-edge(o.Width)-x, o.Quiet)
		y += 1.5 * unit
		high := 0.0
		var panels [2]*Drawing
		for i, c := range []Colours{Light, Dark} {
			panels[i] = pen.panel(r, o, c, wide)
			high = max(high, panels[i].H)
		}
		for i, c := range []Colours{Light, Dark} {
			at := edge(o.Width) + float64(i)*(wide+3*unit)
			d.Rect(at, y, wide, high, c.Ground)
			d.Frame(at, y, wide, high, 1, o.Rule)
			d.Add(panels[i], at, y)
		}
		y += high + 3*unit
		if err := pen.limits(d, r.Limits, &y, o); err != nil {
			return nil, err
		}
	}
	d.H = y + edge(o.Width)/2
	return d, o.page.err()
}

// limits tells below a role what apps cannot show of it.
func (p *Pen) limits(d *Drawing, limits []string, y *float64, o Options) error {
	if len(limits) == 0 {
		return nil
	}
	p.words(d, p.strong, "Limits", edge(o.Width), *y, 13, 0, o.Ink)
	for _, l := range limits {
		*y += 18
		lines, err := d.Set(p.text, l, edge(o.Width), *y, Style{Size: 13, Colour: o.Quiet, Lacking: o.Quiet, Width: o.Width - 2*edge(o.Width), Most: 2, Leading: 18})
		if err != nil {
			return err
		}
		*y += 18 * float64(len(lines)-1)
	}
	*y += 3 * unit
	return nil
}

// panel is a role on one ground. A colour that the role has stays on both, as it does in an app.
func (p *Pen) panel(r Role, o Options, c Colours, wide float64) *Drawing {
	d := &Drawing{W: wide}
	const inside = 3 * unit
	t, err := r.Face.load(o.page)
	if err != nil {
		d.H = 8 * unit
		on := *p
		on.Colours = c
		on.failure(d, err, inside, d.H/2, wide-2*inside)
		return d
	}
	s := r.Style
	s.Width, s.Most, s.Language, s.Lacking = wide-2*inside, 6, o.Language, c.Alarm
	if s.Colour.A == 0 {
		s.Colour = c.Ink
	}
	ascent := float64(t.Ascent) / float64(t.UnitsPerEm) * s.Size
	y := inside + ascent + max(0, t.leading(s)-t.natural()*s.Size)/2
	lines, err := d.Set(t, o.shown(r.Face), inside, y, s)
	if err != nil {
		p.failure(d, err, inside, y, wide-2*inside)
	}
	d.H = math.Ceil(inside + t.leading(s)*float64(max(len(lines), 1)) + inside)
	for _, trouble := range []string{r.Hard(c), t.undrawn()} {
		if trouble != "" {
			d.H += 2.5 * unit
			p.words(d, p.text, trouble, inside, d.H-1.5*unit, 13, wide-2*inside, c.Alarm)
		}
	}
	return d
}

func rolesAbout(roles []Role) string {
	return plural(Count(roles), "role") + ", at the reader's usual text size"
}

// Count is how many roles there are, each once on whatever platforms.
func Count(roles []Role) int {
	names := map[string]bool{}
	for _, r := range roles {
		names[r.Name] = true
	}
	return len(names)
}

// Hard says that a role's colour is hard to read on a ground; "" where it is not, or has no colour. Large text needs less: from 24 pixels on, or
// bold from 18.66 (WCAG 2.2, 1.4.3). A colour that lets the ground through is what is seen of it.
func (r Role) Hard(c Colours) string {
	if r.Style.Colour.A == 0 {
		return ""
	}
	least := 4.5
	if r.Style.Size >= 24 || r.Style.Size >= 18.66 && r.Face.Weight >= 700 {
		least = 3
	}
	if v := contrast(mixed(r.Style.Colour, c.Ground), c.Ground); v < least {
		return "contrast " + shortest(v, 1) + " to 1, of " + shortest(least, 1) + ": hard to read"
	}
	return ""
}

// mixed is a colour as it is seen on a ground.
func mixed(c, ground color.NRGBA) color.NRGBA {
	mix := func(a, b uint8) uint8 { return uint8((int(a)*int(c.A) + int(b)*(255-int(c.A)) + 127) / 255) }
	return color.NRGBA{mix(c.R, ground.R), mix(c.G, ground.G), mix(c.B, ground.B), 255}
}

// contrast is the ratio of two colours' luminances (WCAG 2.2, definition of contrast ratio).
func contrast(a, b color.NRGBA) float64 {
	l := func(c color.NRGBA) float64 {
		part := func(v uint8) float64 {
			if f := float64(v) / 255; f > 0.04045 {
				return math.Pow((f+0.055)/1.055, 2.4)
			}
			return float64(v) / 255 / 12.92
		}
		return 0.2126*part(c.R) + 0.7152*part(c.G) + 0.0722*part(c.B)
	}
	x, y := l(a), l(b)
	return (max(x, y) + 0.05) / (min(x, y) + 0.05)
}
