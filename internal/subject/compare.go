package subject

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"

	"notaria/internal/fault"
	"notaria/internal/specimen"
)

// A One is a face with the style that texts are set in.
type One struct {
	Name  string // of the role, or of the face
	Face  specimen.Face
	Style specimen.Style
	Role  bool
	Bytes int
	Type  *specimen.Type
}

// Single is the one face or role among subjects, at a size in pixels per em; 0 for the role's own, or 16.
func Single(s Subjects, name string, size float64) (One, error) {
	var o One
	switch {
	case len(s.Roles) == 1 && len(s.Faces) == 0:
		o = One{Name: name, Face: s.Roles[0].Face, Style: s.Roles[0].Style, Role: true}
	case len(s.Faces) == 1 && len(s.Roles) == 0:
		o = One{Name: s.Faces[0].ID(), Face: s.Faces[0], Style: specimen.Style{Size: 16}}
	default:
		found := fmt.Sprintf("%d faces", len(s.Faces))
		if len(s.Faces) == 0 {
			found = "none"
		}
		return o, &fault.Error{File: name, Expected: "one face", Found: found, Cure: "name one face by its PostScript name, a role with a size, or a file with one face"}
	}
	if size > 0 {
		o.Style = Scaled(o.Style, size/o.Style.Size)
	}
	data, err := o.Face.Read()
	if err != nil {
		return o, err
	}
	o.Bytes = len(data)
	o.Type, err = specimen.Load(data, nil)
	return o, err
}

// Scaled is a style at a factor of the reader's text size.
func Scaled(s specimen.Style, factor float64) specimen.Style {
	s.Size, s.Leading, s.Tracking, s.Space = s.Size*factor, s.Leading*factor, s.Tracking*factor, s.Space*factor
	return s
}

// A Comparison is what would change if B took A's place. Widths are in pixels, heights in ems.
type Comparison struct {
	A        Side     `json:"a"`
	B        Side     `json:"b"`
	Width    float64  `json:"width"` // that texts are to fit into; 0 for none
	Texts    []Change `json:"texts"` // those that no longer fit first, then the longest first
	NoLonger int      `json:"no_longer_fit"`
	Lost     []string `json:"missing"` // characters of the texts that A has and B lacks
}

// A Side is one face of it.
type Side struct {
	Name       string  `json:"name"`
	PostScript string  `json:"postscript"`
	Full       string  `json:"full"`
	Family     string  `json:"family"`
	Weight     int     `json:"weight"`
	Capital    float64 `json:"capitals"`
	Small      float64 `json:"small_letters"`
	Line       float64 `json:"line"`
	Characters int     `json:"characters"`
	Bytes      int     `json:"bytes"`
	Size       float64 `json:"size"`
}

// A Change is how wide a text is in both, in one line; Growth is in percent.
type Change struct {
	Text   string  `json:"text"`
	A      float64 `json:"a"`
	B      float64 `json:"b"`
	Growth float64 `json:"growth"`
	// Broken is the text as it is broken at the width, in A and in B; nil where there is none.
	Broken *[2]Block `json:"broken,omitempty"`
	// NoLonger says that B needs more room than A where the text stands: more lines, a word that is wider than the width, or higher lines.
	NoLonger bool `json:"no_longer_fits,omitempty"`
}

// A Block is a text that is broken into lines.
type Block struct {
	Lines  int     `json:"lines"`
	Height float64 `json:"height"`          // of all lines, in pixels
	Wider  bool    `json:"wider,omitempty"` // a word is wider than the width
}

// leastHigher is how much higher a text has to be that it is told, in pixels: less is rounded away on every screen.
const leastHigher = 0.5

// blocks breaks a text at a width in both faces.
func blocks(a, b One, text string, width float64) (*[2]Block, error) {
	var out [2]Block
	for i, o := range []One{a, b} {
		s := o.Style
		s.Width = width
		m, err := o.Type.MeasureText(text, s)
		if err != nil {
			return nil, err
		}
		out[i] = Block{m.Lines, m.Height, m.Wider}
	}
	return &out, nil
}

// Grew says whether the second needs more room than the first.
func Grew(b *[2]Block) bool {
	return b != nil && (b[1].Lines > b[0].Lines || b[1].Wider && !b[0].Wider || b[1].Height > b[0].Height+leastHigher)
}

// ByGrowth orders changes: the text that grows or shrinks most first.
func ByGrowth(x, y Change) int { return cmp.Compare(math.Abs(y.Growth), math.Abs(x.Growth)) }

// Compare measures texts in both. A face that takes a role's place takes over all that the role says.
func Compare(ctx context.Context, a, b One, texts []string, width float64) (Comparison, error) {
	if a.Role && !b.Role {
		b.Style = a.Style
	}
	c := Comparison{A: side(a), B: side(b), Width: width, Texts: []Change{}, Lost: []string{}}
	for _, text := range texts {
		if err := ctx.Err(); err != nil {
			return c, err
		}
		one, err := a.Type.MeasureText(text, a.Style)
		if err != nil {
			return c, err
		}
		two, err := b.Type.MeasureText(text, b.Style)
		if err != nil {
			return c, err
		}
		x := Change{Text: text, A: one.Advance, B: two.Advance}
		if width > 0 {
			if x.Broken, err = blocks(a, b, text, width); err != nil {
				return c, err
			}
			x.NoLonger = Grew(x.Broken)
		}
		if x.A > 0 {
			x.Growth = math.Round((x.B/x.A-1)*1000) / 10
		}
		if x.NoLonger {
			c.NoLonger++
		}
		for _, r := range two.Missing {
			if !slices.Contains(one.Missing, r) && !slices.Contains(c.Lost, r) {
				c.Lost = append(c.Lost, r)
			}
		}
		c.Texts = append(c.Texts, x)
	}
	slices.Sort(c.Lost)
	slices.SortStableFunc(c.Texts, func(x, y Change) int {
		if x.NoLonger != y.NoLonger {
			if x.NoLonger {
				return -1
			}
			return 1
		}
		return cmp.Compare(max(y.A, y.B), max(x.A, x.B))
	})
	return c, nil
}

func side(o One) Side {
	part := func(v int) float64 { return math.Round(float64(v)/float64(o.Type.UnitsPerEm)*1000) / 1000 }
	f := o.Face
	return Side{Name: o.Name, PostScript: f.ID(), Full: f.Full, Family: f.Family, Weight: f.Weight, Bytes: o.Bytes, Characters: f.Characters,
		Capital: part(o.Type.Capital), Small: part(o.Type.Small), Line: part(o.Type.Ascent - o.Type.Descent + o.Type.LineGap), Size: o.Style.Size}
}

// mostOver is how many texts a picture of two faces over each other shows.
const mostOver = 12

// Overlay draws the first texts of a comparison in both faces over each other, as large as the page lets
// the widest be, and no more than four times as large as they are.
func (c Comparison) Overlay(a, b One, o specimen.Options) (*specimen.Drawing, error) {
	if a.Role && !b.Role {
		b.Style = a.Style
	}
	var texts []string
	factor := 4.0
	for _, t := range c.Texts[:min(len(c.Texts), mostOver)] {
		texts = append(texts, t.Text)
		if wide := max(t.A, t.B); wide > 0 {
			factor = min(factor, (o.Width-120)/wide)
		}
	}
	return specimen.Overlay(a.Type, b.Type, [2]string{a.Face.Full, b.Face.Full}, texts, Scaled(a.Style, factor), Scaled(b.Style, factor), o)
}
