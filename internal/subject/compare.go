package subject

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"

	"notaria/internal/fault"
	"notaria/internal/specimen"
	"notaria/internal/trim"
)

// A One is a face with the style that texts are set in.
type One struct {
	Name  string // of the role, or of the face
	Face  specimen.Face
	Style specimen.Style
	Role  bool
	Fixed bool // a role that does not follow the reader's text size
	Bytes int
	// Around and Opened are those of the subjects.
	Around []string
	Opened bool
	Type   *specimen.Type
}

// Single is the one face or role among subjects, at a size in pixels per em, 0 for the role's own, or 16; and, of a variable font, at a place
// of its axes, nil for its default.
func Single(s Subjects, name string, size float64, at map[string]float64) (One, error) {
	var o One
	switch {
	case len(s.Roles) == 1 && len(s.Faces) == 0:
		o = One{Name: name, Face: s.Roles[0].Face, Style: s.Roles[0].Style, Role: true, Fixed: s.Roles[0].Fixed}
	case len(s.Faces) == 1 && len(s.Roles) == 0:
		o = One{Name: s.Faces[0].ID(), Face: s.Faces[0], Style: specimen.Style{Size: 16}}
	default:
		found := fmt.Sprintf("%d faces", len(s.Faces))
		if len(s.Faces) == 0 {
			found = "none"
		}
		return o, &fault.Error{File: name, Expected: "one face", Found: found, Cure: "name one face by its PostScript name, a role with a size, or a file with one face"}
	}
	o.Around, o.Opened = s.Around, s.Opened
	if size > 0 {
		o.Style = Scaled(o.Style, size/o.Style.Size)
	}
	data, err := o.Face.Read()
	if err != nil {
		return o, err
	}
	if len(at) > 0 {
		f, err := trim.Open(data, trim.Wish{At: at, Ending: ".ttf"}, trim.Words{Permitted: true})
		if err != nil {
			return o, fmt.Errorf("%s at values of its axes: %w", name, err)
		}
		data = f.Data()
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
	Width    float64  `json:"width"`            // that texts are to fit into; 0 for none
	Texts    []Change `json:"texts"`            // those that no longer fit first, then the longest first
	Height   float64  `json:"height,omitempty"` // as Width
	NoLonger int      `json:"no_longer_fit"`
	Lost     []string `json:"missing"` // characters of the texts that A has and B lacks
	// Lines are the heights of a line on the platforms, where no line height is given: a role that has one keeps it.
	Lines []LineChange `json:"lines"`
}

// A LineChange is the height of a line in both, in pixels.
type LineChange struct {
	On      string  `json:"on"`
	Title   string  `json:"title"`
	A       float64 `json:"a"`
	B       float64 `json:"b"`
	Changes bool    `json:"changes,omitempty"` // by half a pixel or more
}

// Finds says whether anything of a comparison needs a look: a text needs more room, a character is missing, or lines change.
func (c Comparison) Finds() bool {
	return c.NoLonger > 0 || len(c.Lost) > 0 || slices.ContainsFunc(c.Lines, func(l LineChange) bool { return l.Changes })
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
	Text     string `json:"text"`
	Key      string `json:"key,omitempty"`
	Language string `json:"language,omitempty"`
	File     string `json:"file,omitempty"`

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
	// Broken are the lines, where there are several.
	Broken []string `json:"broken,omitempty"`
}

// leastHigher is how much higher a text has to be that it is told, in pixels: less is rounded away on every screen.
const leastHigher = 0.5

// blocks breaks a text at a width in both faces.
func blocks(a, b One, text Text, width float64) (*[2]Block, error) {
	var out [2]Block
	for i, o := range []One{a, b} {
		m, err := o.Type.MeasureText(text.Text, o.styled(text, width))
		if err != nil {
			return nil, err
		}
		out[i] = Block{m.Lines, m.Height, m.Wider, m.Broken}
	}
	return &out, nil
}

// styled is the style of a text, broken at a width.
func (o One) styled(text Text, width float64) specimen.Style {
	s := o.Style
	s.Width, s.Language = width, cmp.Or(text.Language, s.Language)
	return s
}

// Grew says whether the second needs more room than the first.
func Grew(b *[2]Block) bool {
	return b != nil && (b[1].Lines > b[0].Lines || b[1].Wider && !b[0].Wider || b[1].Height > b[0].Height+leastHigher)
}

// linesOf are the heights of lines in both, on some targets.
func linesOf(a, b One, targets []string) []LineChange {
	out := []LineChange{}
	if a.Style.Leading > 0 && b.Style.Leading > 0 {
		return out
	}
	after := b.LinesOn(targets)
	for i, l := range a.LinesOn(targets) {
		if i < len(after) {
			out = append(out, LineChange{l.On, l.Title, l.Height, after[i].Height, math.Abs(l.Height-after[i].Height) >= leastHigher})
		}
	}
	return out
}

// ByGrowth orders changes: the text that grows or shrinks most first.
func ByGrowth(x, y Change) int { return cmp.Compare(math.Abs(y.Growth), math.Abs(x.Growth)) }

// Compare measures texts in both, in a room, on some targets; nil for all. A face that takes a role's place takes over all that the role says.
func Compare(ctx context.Context, a, b One, texts []Text, room Room, targets []string) (Comparison, error) {
	if a.Role && !b.Role {
		b.Style, b.Fixed = a.Style, a.Fixed
	}
	c := Comparison{A: side(a), B: side(b), Width: room.Width, Height: room.Height, Texts: []Change{}, Lost: []string{}, Lines: linesOf(a, b, targets)}
	for _, text := range texts {
		if err := ctx.Err(); err != nil {
			return c, err
		}
		x, lost, err := changed(a, b, text, room)
		if err != nil {
			return c, err
		}
		if x.NoLonger {
			c.NoLonger++
		}
		for _, r := range lost {
			if !slices.Contains(c.Lost, r) {
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

// changed measures a text in both; lost are characters that the first has and the second lacks.
func changed(a, b One, text Text, room Room) (x Change, lost []string, err error) {
	one, err := a.Type.MeasureText(text.Text, a.styled(text, 0))
	if err != nil {
		return x, nil, err
	}
	two, err := b.Type.MeasureText(text.Text, b.styled(text, 0))
	if err != nil {
		return x, nil, err
	}
	x = Change{Text: text.Text, Key: text.Key, Language: text.Language, File: text.File, A: one.Advance, B: two.Advance}
	if room.Width > 0 || room.Height > 0 {
		if x.Broken, err = blocks(a, b, text, room.Width); err != nil {
			return x, nil, err
		}
		x.NoLonger = room.Width > 0 && Grew(x.Broken) || room.Height > 0 && x.Broken[1].Height > room.Height && x.Broken[0].Height <= room.Height
	}
	if x.A > 0 {
		x.Growth = math.Round((x.B/x.A-1)*1000) / 10
	}
	for _, r := range two.Missing {
		if !slices.Contains(one.Missing, r) {
			lost = append(lost, r)
		}
	}
	return x, lost, nil
}

func side(o One) Side {
	part := func(v int) float64 { return math.Round(float64(v)/float64(o.Type.UnitsPerEm)*1000) / 1000 }
	f := o.Face
	return Side{Name: o.Name, PostScript: f.ID(), Full: f.Full, Family: f.Family, Weight: f.Weight, Bytes: o.Bytes, Characters: f.Characters,
		Capital: part(o.Type.Capital), Small: part(o.Type.Small), Line: part(o.Type.Ascent - o.Type.Descent + o.Type.LineGap), Size: o.Style.Size}
}

// Bounds of a picture: how many texts it shows, and how many of those that stand in boxes.
const (
	mostDrawn = 12
	mostBoxes = 6
)

// Picture draws the first texts of comparisons with one face: those of the first comparison, in all candidates.
func Picture(list []Comparison, all []One, o specimen.Options) (*specimen.Drawing, error) {
	first := list[0]
	c := specimen.Contenders{Width: first.Width, Height: first.Height, Scale: 4}
	for i, x := range all {
		if all[0].Role && !x.Role {
			x.Style = all[0].Style
		}
		name := list[max(i, 1)-1].A.Name
		if i > 0 {
			name = list[i-1].B.Name
		}
		c.All = append(c.All, specimen.Contender{Name: name, Type: x.Type, Style: x.Style})
	}
	most := mostDrawn
	if c.Width > 0 {
		most, c.Scale = mostBoxes, 2
	}
	room := o.Width - 300
	widest := c.Width
	changes := first.Texts[:min(len(first.Texts), most)]
	for _, t := range changes {
		c.Texts = append(c.Texts, t.Text)
		for _, d := range list {
			if x := d.of(t); x != nil && c.Width == 0 {
				widest = max(widest, x.A, x.B)
			}
		}
	}
	if widest > 0 {
		c.Scale = min(c.Scale, room/widest)
	}
	c.Tells = func(text, contender int) (string, bool) { return told(list, changes[text], contender) }
	return specimen.Compare(c, o)
}

// of finds a text among a comparison's.
func (c Comparison) of(t Change) *Change {
	for i, x := range c.Texts {
		if x.Text == t.Text && x.Key == t.Key && x.Language == t.Language {
			return &c.Texts[i]
		}
	}
	return nil
}

// told is what a picture says of a text in a contender.
func told(list []Comparison, t Change, contender int) (string, bool) {
	lines := func(b Block) string {
		if b.Lines == 1 {
			return ", 1 line"
		}
		return fmt.Sprintf(", %d lines", b.Lines)
	}
	x := list[max(contender, 1)-1].of(t)
	if x == nil {
		return "", false
	}
	about, which := fmt.Sprintf("%g px", math.Round(x.A)), 0
	if contender > 0 {
		about, which = fmt.Sprintf("%g px, %+g %%", math.Round(x.B), x.Growth), 1
	}
	if x.Broken != nil {
		about += lines(x.Broken[which])
	}
	return about, which == 1 && x.NoLonger
}
