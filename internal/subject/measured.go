package subject

import (
	"cmp"
	"context"
	"math"
	"slices"

	"notaria/internal/setting"
	"notaria/internal/specimen"
)

// Room is what a text has at most, in pixels; 0 for any.
type Room struct{ Width, Height float64 }

// Measures are some texts in a face or a role. Lengths are in pixels.
type Measures struct {
	Measures []Measured
	Lines    []RuleLine // of the face at its size, where no line height is given
	Fixed    bool       // the role does not follow the reader's text size, so that all sizes are one
}

// A Measured is a text at one of the sizes that readers choose.
type Measured struct {
	specimen.Measure
	Key      string  `json:"key,omitempty"`
	Language string  `json:"language,omitempty"`
	File     string  `json:"file,omitempty"`
	Reader   string  `json:"reader,omitempty"`   // the size, unless it is the usual one
	TooHigh  float64 `json:"too_high,omitempty"` // by which the lines are higher than the room
	Cut      []Cut   `json:"cut,omitempty"`
}

// Fits says whether a text has the room and the characters that it needs.
func (m Measured) Fits() bool { return !m.Wider && m.TooHigh == 0 && len(m.Missing) == 0 }

// A Cut is ink that stands out of the lines of some platforms: it is cut off where a view is as high as its lines.
type Cut struct {
	On    string  `json:"on"`
	Above float64 `json:"above,omitempty"`
	Below float64 `json:"below,omitempty"`
}

// A RuleLine is the height of a line on some platforms.
type RuleLine struct {
	On    string `json:"on"`
	Title string `json:"title"`
	setting.Line
	exact float64 // its height without rounding
}

// Alike says whether platforms make lines of one height, but for what they round.
func Alike(list []RuleLine) bool {
	return !slices.ContainsFunc(list, func(l RuleLine) bool { return math.Abs(l.exact-list[0].exact) > 0.01 })
}

// LinesOn are the lines of some targets' rules, of all rules where none is named.
func (o One) LinesOn(targets []string) []RuleLine {
	var out []RuleLine
	for _, r := range setting.Rules {
		if o.Type.Vertical != nil && (len(targets) == 0 || slices.ContainsFunc(r.Targets, func(t string) bool { return slices.Contains(targets, t) })) {
			out = append(out, RuleLine{r.Name, r.Title, r.Line(o.Type.Vertical, o.Style.Size), r.Exact(o.Type.Vertical, o.Style.Size)})
		}
	}
	return out
}

// leastCut is how much ink has to stand out of a line that it is told, in pixels: boxes of ink are whole pixels.
const leastCut = 1

// Measure measures texts at the sizes that readers choose. A role without a line height is as high as its first platform makes a line:
// the rules of the platforms that are named differ, and Lines tells them apart.
func (o One) Measure(ctx context.Context, texts []Text, readers []setting.Reader, room Room, targets []string) (Measures, error) {
	out := Measures{Lines: o.LinesOn(targets), Fixed: o.Fixed}
	for _, text := range texts {
		for _, reader := range readers {
			if err := ctx.Err(); err != nil {
				return out, err
			}
			if o.Fixed && reader.Name != readers[0].Name {
				continue
			}
			x, err := o.measured(text, reader, room, targets)
			if err != nil {
				return out, err
			}
			out.Measures = append(out.Measures, x)
		}
	}
	return out, nil
}

func (o One) measured(text Text, reader setting.Reader, room Room, targets []string) (Measured, error) {
	at := o
	if !o.Fixed && o.Style.Size > 0 {
		at.Style = Scaled(o.Style, reader.Size(o.Style.Size)/o.Style.Size)
	}
	at.Style.Width, at.Style.Language = room.Width, cmp.Or(text.Language, o.Style.Language)
	m, err := o.Type.MeasureText(text.Text, at.Style)
	x := Measured{Measure: m, Key: text.Key, Language: text.Language, File: text.File}
	if reader.Name != "1" && !o.Fixed {
		x.Reader = reader.Name
	}
	if room.Height > 0 && m.Height > room.Height+0.005 {
		x.TooHigh = math.Round((m.Height-room.Height)*100) / 100
	}
	if at.Style.Leading == 0 && m.Ink != nil {
		x.Cut = cuts(m, at.LinesOn(targets))
	}
	return x, err
}

// cuts is what of a text's ink stands above its first line and below its last one.
func cuts(m specimen.Measure, lines []RuleLine) (out []Cut) {
	last := m.Line * float64(m.Lines-1)
	for _, l := range lines {
		c := Cut{On: l.On, Above: float64(-m.Ink.Top) - l.Ascent, Below: float64(m.Ink.Bottom) - last - l.Descent}
		for _, v := range []*float64{&c.Above, &c.Below} {
			if *v = math.Round(*v*100) / 100; *v <= leastCut {
				*v = 0
			}
		}
		if c.Above > 0 || c.Below > 0 {
			out = append(out, c)
		}
	}
	return out
}
