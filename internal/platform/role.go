package platform

import (
	"fmt"
	"math"
	"strings"

	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/pixel"
)

// A Role is a use of a face by name, with all that goes with it. Lengths are in
// the unit of Size.
type Role struct {
	Name       string
	Face       Face
	Size       float64 // points, sp or logical pixels, as the platform counts
	Scale      bool    // follows the reader's text size
	LineHeight float64 // from baseline to baseline; 0 for the face's own
	Tracking   float64 // thousandths of an em
	Colour     *Colour
	Outline    *Outline
	Extra      Extra
	Shadow     *Shadow
	Smooth     *bool  // edges in shades of colour, or full pixels alone; nil for the platform's choice
	Characters []rune // that an atlas holds, by codepoint; nil for what the platform chooses
	AppStrings bool   // and those of the app's own strings
	Fallback   string // "sans", "serif", "mono" or "": what shows if the face cannot be loaded
	// Wish is the role as pixels, without characters; Bitmap is the bitmap font that it is taken
	// from in place of a face, project-relative, "" for none; Coordinates are a variable font's.
	Wish        pixel.Wish
	Bitmap      string
	Coordinates map[string]float64
	// FontDisplay is what pages show while the face is loading, "" for the target's choice; Late, that it is not loaded early.
	FontDisplay string
	Late        bool
}

// A Colour is red, green, blue and how much it covers, each from 0 to 255.
type Colour struct{ R, G, B, A uint8 }

// An Outline is a line around each letter.
type Outline struct {
	Width  float64
	Colour Colour
}

// Extra is room beside what the face has itself: after each space, above and below each line.
type Extra struct{ Space, Top, Bottom float64 }

// A Shadow is a copy of each letter below it; X grows to the right, Y downwards.
type Shadow struct {
	X, Y, Blur float64
	Colour     Colour
}

// RGBA and ARGB are the colour's eight hex digits, in capitals, in the order of
// the letters.
func (c Colour) RGBA() string { return fmt.Sprintf("%02X%02X%02X%02X", c.R, c.G, c.B, c.A) }
func (c Colour) ARGB() string { return fmt.Sprintf("%02X%02X%02X%02X", c.A, c.R, c.G, c.B) }

// Hash is the colour as CSS writes it: #0B3D5C, or #0B3D5C80.
func (c Colour) Hash() string {
	if c.A == 255 {
		return "#" + c.RGBA()[:6]
	}
	return "#" + c.RGBA()
}

// Small is Hash in small letters, as other style sheets than CSS want it.
func (c Colour) Small() string { return strings.ToLower(c.Hash()) }

// Function is the colour as a function of style sheets, which GTK 3 and 4 read.
func (c Colour) Function() string {
	return fmt.Sprintf("rgba(%d, %d, %d, %s)", c.R, c.G, c.B, c.Alpha())
}

// Alpha is how much the colour covers, from 0 to 1.
func (c Colour) Alpha() string { return language.Number(float64(int(c.A)*1000/255) / 1000) }

// Solid is the colour without how much it covers.
func (c Colour) Solid() string { return "#" + c.RGBA()[:6] }

// SeeThrough says whether it covers less than all.
func (c Colour) SeeThrough() bool { return c.A < 255 }

// Wide is a part of a colour as 16 bits have it.
func (Colour) Wide(part uint8) int { return int(part) * 257 }

// Bytes and Fractions are the four parts as lists of arguments hold them.
func (c Colour) Bytes() string { return fmt.Sprintf("%d, %d, %d, %d", c.R, c.G, c.B, c.A) }

// Fractions are the parts from 0 to 1.
func (c Colour) Fractions() string {
	var parts []string
	for _, v := range c.Fraction() {
		parts = append(parts, language.Number(v))
	}
	return strings.Join(parts, ", ")
}

// Letter is the tracking as a length: what is added after each letter.
func (r Role) Letter() float64 { return round(r.Size * r.Tracking / 1000) }

// NaturalLine is the face's own distance between baselines, from its metrics
// (OS/2 and hhea) at the role's size.
func (r Role) NaturalLine() float64 {
	em := float64(r.Face.UnitsPerEm)
	if em <= 0 {
		return r.Size
	}
	return round(r.Size * float64(r.Face.Ascent-r.Face.Descent+r.Face.LineGap) / em)
}

// Ratio is the role's line height by something, such as its size.
func (r Role) Ratio(by float64) float64 {
	if by == 0 {
		return 1
	}
	return round(r.LineHeight / by)
}

// round keeps four decimals: enough for any screen, and the same on every machine.
func round(f float64) float64 { return math.Round(f*1e4) / 1e4 }

// About says a role in words, for a comment in code.
func (r Role) About(unit string) string {
	s := r.Face.Family + " " + r.Face.Style
	for _, a := range r.Face.Axes {
		if v, ok := r.Coordinates[a.Tag]; ok {
			s += " " + a.Tag + " " + language.Number(v)
		}
	}
	s += ", " + language.Number(r.Size) + " " + unit
	if r.LineHeight > 0 {
		s += " on " + language.Number(r.LineHeight)
	}
	return s
}

// A RoleText is a role in the pieces that code is made of; what a role does not have is
// empty. Lengths are in the unit of the role's size.
type RoleText struct {
	Name, Size    string
	FaceID        string // what the face is called in the listing of an app's faces
	LineHeight    string // from baseline to baseline
	LineBySize    string // by the role's size
	LineByNatural string // by the face's own line height
	Letter        string // added after each letter
	LetterByEm    string // the same by the size
	Colour        *Colour
	OutlineWidth  string
	OutlineColour *Colour
	Family        string
	Weight        int // of the face, in hundreds from 100 to 900
	Italic, Scale bool
	Space         string // added after each space
	SpaceByEm     string // the same by the size
	Shadow        *ShadowText
	role          Role
}

// ShadowText is a shadow in the pieces that code is made of.
type ShadowText struct {
	X, Y, Blur string
	Colour     Colour
}

// Text is the role in pieces.
func (r Role) Text() RoleText {
	t := RoleText{role: r, Name: r.Name, FaceID: Listed(r.Face), Size: language.Number(r.Size), Colour: r.Colour, Family: r.Face.Family, Weight: Hundreds(r.Face.Weight),
		Italic: r.Face.Slant != face.Upright, Scale: r.Scale}
	if r.LineHeight > 0 {
		t.LineHeight, t.LineBySize, t.LineByNatural = language.Number(r.LineHeight), language.Number(r.Ratio(r.Size)), language.Number(r.Ratio(r.NaturalLine()))
	}
	if r.Tracking != 0 {
		t.Letter, t.LetterByEm = language.Number(r.Letter()), language.Number(r.Tracking/1000)
	}
	if r.Outline != nil {
		t.OutlineWidth, t.OutlineColour = language.Number(r.Outline.Width), &r.Outline.Colour
	}
	if r.Extra.Space != 0 {
		t.Space, t.SpaceByEm = language.Number(r.Extra.Space), language.Number(round(r.Extra.Space/r.Size))
	}
	if s := r.Shadow; s != nil {
		t.Shadow = &ShadowText{language.Number(s.X), language.Number(s.Y), language.Number(s.Blur), s.Colour}
	}
	return t
}

// Listed is what a face is called in the listing of faces that generated code makes: its name in the
// project, in one short line.
func Listed(f Face) string { return face.Short(strings.Join(strings.Fields(f.ID()), " ")) }

// FaceIn is the face's name as a literal of a language, for the listing of faces that generated
// code makes when an app runs.
func (t RoleText) FaceIn(name string) (string, error) {
	l, err := language.Named(name)
	if err != nil {
		return "", err
	}
	return l.Literal(t.FaceID), nil
}

// NameIn is the role's name as a literal of a language.
func (t RoleText) NameIn(name string) (string, error) {
	l, err := language.Named(name)
	if err != nil {
		return "", err
	}
	return l.Literal(t.Name), nil
}

// About says the role in words, for a comment of a language.
func (t RoleText) About(name, unit string) (string, error) {
	l, err := language.Named(name)
	if err != nil {
		return "", err
	}
	return l.Comment(t.role.About(unit)), nil
}

// Hundreds is the nearest weight that most platforms can ask for.
func Hundreds(weight int) int { return min(max((weight+50)/100*100, 100), 900) }

// Parts of a role that not every platform can express.
const (
	PartLine     = "line-height"
	PartTracking = "tracking"
	PartColour   = "colour"
	PartOutline  = "outline"
	PartFallback = "fallback"
	PartFixed    = "scale = false"
	PartFace     = "face"
	PartSpace    = "extra-spacing space"
	PartRoom     = "extra-spacing top, bottom"
	PartShadow   = "shadow"
	PartSmooth   = "smooth"
	// PartCharacters is what a role asks for, and its face or the platform does not have.
	PartCharacters = "characters"
	// PartCoordinates is where a variable font is drawn.
	PartCoordinates = "axes"
)

// usual says why most platforms do not express the parts that games ask for. A platform
// that does has a word of its own for it, "" where nothing is lost.
var usual = map[string]string{
	PartSpace:       "the platform does not widen spaces",
	PartRoom:        "a font there has no room of its own above and below its lines: use line-height, or the padding of the element",
	PartShadow:      "a font there has no shadow: use an effect of the element",
	PartSmooth:      "the platform itself decides how edges are smoothed",
	PartCoordinates: "the code shows a variable font as its default is: enrol a static face of that weight",
}

// parts lists the optional parts that a role has.
func (r Role) parts() []string {
	var out []string
	for _, p := range []struct {
		has  bool
		part string
	}{{r.LineHeight > 0, PartLine}, {r.Tracking != 0, PartTracking}, {r.Colour != nil, PartColour}, {r.Outline != nil, PartOutline},
		{r.Fallback != "", PartFallback}, {!r.Scale, PartFixed},
		{r.Extra.Space != 0, PartSpace}, {r.Extra.Top != 0 || r.Extra.Bottom != 0, PartRoom}, {r.Shadow != nil, PartShadow}, {r.Smooth != nil, PartSmooth},
		{len(r.Coordinates) > 0 && r.Face.Variable, PartCoordinates}} {
		if p.has {
			out = append(out, p.part)
		}
	}
	return out
}

// A Shortfall is a part of a role that an app's code cannot express, and why, or what
// to do instead.
type Shortfall struct{ Role, Part, Why string }

// Shortfalls lists what of a job's roles falls short, given why for each part that does;
// "" for one of the usual ones that does not.
func Shortfalls(job Job, why map[string]string) []Shortfall {
	var out []Shortfall
	for _, r := range job.Roles {
		for _, p := range r.parts() {
			w, said := why[p]
			if !said {
				w = usual[p]
			}
			if w != "" {
				out = append(out, Shortfall{r.Name, p, w})
			}
		}
	}
	return out
}

// Leading is what the role's line height adds to the face's own, which can be less than
// nothing; 0 where the role has none.
func (r Role) Leading() float64 {
	if r.LineHeight == 0 {
		return 0
	}
	return round(r.LineHeight - r.NaturalLine())
}
