package specimen

import (
	"image/color"
	"math"
	"slices"
	"strings"
)

// A Contender is a face of a comparison, with the style that texts are set in.
type Contender struct {
	Name  string
	Type  *Type
	Style Style
}

// Contenders are compared: the first is what is there, the others could take its place.
type Contenders struct {
	All    []Contender
	Texts  []string
	Tells  func(text, contender int) (about string, bad bool) // what is said behind a text, such as its width
	Width  float64                                            // of the box that a text stands in; 0 for a line
	Height float64                                            // of the box; 0 for as many lines as the first needs
	Scale  float64                                            // that all is enlarged by
}

// names is the column in which contenders are named.
const names = 168.0

// Compare draws texts in contenders, one below the other: the end of each is marked, and the end of the first goes down through all. In a
// room, lines are broken and the box is drawn. Below, single words lie over each other.
func Compare(c Contenders, o Options) (*Drawing, error) {
	pen, err := NewPen(o.Colours)
	if err != nil {
		return nil, err
	}
	d := &Drawing{W: o.Width, Ground: o.Ground, Title: o.Title}
	y := pen.heading(d, o.Title, c.about(), o.Width)
	for i := range c.Texts {
		if y, err = c.text(d, pen, i, y, o); err != nil {
			return nil, err
		}
	}
	for i := 1; i < len(c.All); i++ {
		if y, err = c.words(d, pen, i, y, o); err != nil {
			return nil, err
		}
	}
	d.H = y + edge(o.Width)/2
	return d, nil
}

func (c Contenders) about() string {
	out := "enlarged " + number(math.Round(c.Scale*100)/100) + " times"
	if c.Scale == 1 {
		out = "at its size"
	}
	if c.Width > 0 {
		out += ", lines broken at " + number(c.Width) + " pixels"
	}
	return out
}

// enlarged is a contender's style on the page.
func (c Contenders) enlarged(i int, ink, alarm color.NRGBA) Style {
	s := c.All[i].Style
	s.Size, s.Leading, s.Tracking, s.Space = s.Size*c.Scale, s.Leading*c.Scale, s.Tracking*c.Scale, s.Space*c.Scale
	s.Shadow, s.Outline = nil, 0 // the letters themselves are what is compared
	s.Colour, s.Lacking, s.Width, s.Whole = ink, alarm, c.Width*c.Scale, true
	return s
}

// text draws one text in all contenders.
func (c Contenders) text(d *Drawing, pen *Pen, at int, y float64, o Options) (float64, error) {
	d.Rect(edge(o.Width), y, o.Width-2*edge(o.Width), 1, o.Rule)
	y += 2 * unit
	top, first := y, 0.0
	high := c.Height * c.Scale
	for i, x := range c.All {
		s := c.enlarged(i, o.Ink, o.Alarm)
		up := float64(x.Type.Ascent) / float64(x.Type.UnitsPerEm) * s.Size
		lines, err := x.Type.Lines(c.Texts[at], s)
		if err != nil {
			return 0, err
		}
		block := x.Type.leading(s) * float64(len(lines))
		if i == 0 && high == 0 {
			high = block
		}
		base := y + up + max(0, x.Type.leading(s)-x.Type.natural()*s.Size)/2
		about, bad := c.Tells(at, i)
		ink := o.Quiet
		if bad {
			ink = o.Alarm
		}
		pen.words(d, pen.strong, x.Name, edge(o.Width), y+14, 14, names-unit, o.Ink)
		pen.words(d, pen.text, about, edge(o.Width), y+33, 13, names-unit, ink)
		left := edge(o.Width) + names
		if c.Width > 0 {
			d.Frame(left, y, c.Width*c.Scale, high, 1, ink)
		}
		if _, err := d.Set(x.Type, c.Texts[at], left, base, s); err != nil {
			return 0, err
		}
		end := 0.0
		for _, l := range lines {
			end = max(end, l.Advance*s.Size/float64(x.Type.UnitsPerEm))
		}
		if i == 0 {
			first = end
		}
		if c.Width == 0 {
			d.Rect(left+end, base-s.Size, 2, s.Size*1.2, ink)
		}
		y += max(math.Ceil(block), high, 40) + 1.5*unit
	}
	if c.Width == 0 && len(c.All) > 1 { // where the first one ends, through all
		for dash := top; dash < y-unit; dash += 8 {
			d.Rect(edge(o.Width)+names+first, dash, 1, 4, o.Quiet)
		}
	}
	return y + unit, nil
}

// mostOverlaid is how many words lie over each other.
const mostOverlaid = 16

// words draws words of the texts in the first contender and another, each word over its like: in whole lines the second word would
// already stand somewhere else.
func (c Contenders) words(d *Drawing, pen *Pen, other int, y float64, o Options) (float64, error) {
	c.Scale = min(c.Scale, 2)
	d.Rect(edge(o.Width), y, o.Width-2*edge(o.Width), 1, o.Rule)
	y += 3 * unit
	x := edge(o.Width) + pen.words(d, pen.strong, "Word by word", edge(o.Width), y, 14, 0, o.Ink) + 2*unit
	pair := []int{0, other}
	inks := []color.NRGBA{firstInk, secondInk}
	for i, k := range pair {
		solid := inks[i]
		solid.A = 255
		d.Rect(x, y-10, 12, 12, solid)
		x += 20 + pen.words(d, pen.text, c.All[k].Name, x+20, y, 14, o.Width/3, o.Quiet) + 2*unit
	}
	y += unit
	size := math.Max(c.All[0].Style.Size, c.All[other].Style.Size) * c.Scale
	x, y = edge(o.Width), y+math.Ceil(size*1.1)
	for _, word := range c.distinct() {
		wide := 0.0
		for _, k := range pair {
			s := c.enlarged(k, o.Ink, o.Alarm)
			s.Width = 0
			lines, err := c.All[k].Type.Lines(word, s)
			if err != nil {
				return 0, err
			}
			wide = max(wide, lines[0].Advance*s.Size/float64(c.All[k].Type.UnitsPerEm))
		}
		if x > edge(o.Width) && x+wide > o.Width-edge(o.Width) {
			x, y = edge(o.Width), y+math.Ceil(size*1.5)
		}
		for i, k := range pair {
			s := c.enlarged(k, inks[i], inks[i])
			s.Width = 0
			if _, err := d.Set(c.All[k].Type, word, x, y, s); err != nil {
				return 0, err
			}
		}
		x += wide + size
	}
	return y + math.Ceil(size*0.5) + 2*unit, nil
}

// distinct are the first words of the texts, each once.
func (c Contenders) distinct() (out []string) {
	for _, t := range c.Texts {
		for _, w := range strings.Fields(t) {
			if len(out) < mostOverlaid && !slices.Contains(out, w) {
				out = append(out, w)
			}
		}
	}
	return out
}
