package shape

import (
	"cmp"
	"math"
	"slices"
	"strings"
	"unicode"

	"github.com/go-text/typesetting/di"
	"github.com/go-text/typesetting/font"
	"github.com/go-text/typesetting/shaping"
	"golang.org/x/image/math/fixed"
	"golang.org/x/text/unicode/bidi"

	"notaria/internal/fault"
	"notaria/internal/sfnt"
)

// How says how text is shaped. Lengths are in font units.
type How struct {
	Width    float64         // lines are broken at it; 0 for one line a paragraph
	Tracking float64         // added after each letter
	Space    float64         // added after each space
	Features map[string]bool // OpenType features that are turned on or off, by their tags
	Language string          // BCP 47; "" for none
	Whole    bool            // a word that is wider than the width stands out, as in browsers; else it is broken anywhere
}

// A Glyph is one at its place on a line. Lengths are in font units, Y points up.
type Glyph struct {
	ID      int
	X, Y    float64 // of its origin, from the line's start on the left and its baseline
	Advance float64
	Rune    rune // the first character of its cluster
	Text    int  // its place in the paragraph
	Missing bool // the font has no glyph for the character; ID is 0
}

// A Line is what stands on one line, from left to right.
type Line struct {
	Glyphs   []Glyph
	Advance  float64 // without the space at its end, if it was broken there
	Leftward bool    // the paragraph runs from right to left
	From, To int     // its characters, in the paragraph, with the space at its end
	Words    string  // the same as text, without that space
}

// A one is a Fontmap of one face.
type one struct{ face *font.Face }

func (o one) ResolveFace(rune) *font.Face { return o.face }

// Lines shapes text: each of its paragraphs in one line, or in as many as the width asks for. An
// empty paragraph is a line without glyphs.
func (f *Face) Lines(text string, how How) ([]Line, error) {
	var out []Line
	for _, p := range strings.Split(strings.NewReplacer("\r\n", "\n", "\r", "\n", "\u2028", "\n", "\u2029", "\n").Replace(text), "\n") {
		lines, err := f.paragraph([]rune(strings.ToValidUTF8(p, "\uFFFD")), how)
		if err != nil {
			return nil, err
		}
		out = append(out, lines...)
	}
	return out, nil
}

func (f *Face) paragraph(text []rune, how How) (out []Line, err error) {
	if len(text) > MostCharacters {
		return nil, fault.Form("expected at most %d characters in a paragraph, found %d", MostCharacters, len(text))
	}
	direction := base(text)
	if len(text) == 0 {
		return []Line{{Leftward: direction == di.DirectionRTL}}, nil
	}
	err = guarded(func() error {
		p := &paragraph{f: f, text: text, how: how, leftward: direction == di.DirectionRTL}
		p.shape(direction)
		if how.Width <= 0 {
			out = []Line{p.line(0, len(text), len(text))}
			return nil
		}
		out = p.wrap()
		return nil
	})
	return out, err
}

// ligatures are the features that join letters and that platforms turn off where there is tracking, for a ligature cannot be spaced
// (CSS Text 3, 8.2; the features are those that Chromium turns off, and Core Text and Skia as well).
var ligatures = []string{"liga", "clig", "dlig", "hlig", "calt"}

// features are those that are asked for, in order, and some that are off unless they are.
func features(asked map[string]bool, off ...string) (out []shaping.FontFeature) {
	add := func(tag string, value uint32) {
		out = append(out, shaping.FontFeature{Tag: font.Tag(sfnt.MakeTag(tag)), Value: value})
	}
	for tag, on := range asked {
		switch {
		case len(tag) != 4:
		case on:
			add(tag, 1)
		default:
			add(tag, 0)
		}
	}
	for _, tag := range off {
		if _, said := asked[tag]; !said {
			add(tag, 0)
		}
	}
	slices.SortFunc(out, func(a, b shaping.FontFeature) int { return cmp.Compare(a.Tag, b.Tag) })
	return out
}

// joins says whether a piece of text is of a script whose letters join.
func joins(text []rune) bool {
	return slices.ContainsFunc(text, func(r rune) bool {
		return unicode.In(r, unicode.Arabic, unicode.Syriac, unicode.Mongolian, unicode.Nko)
	})
}

// spaced adds the tracking behind each cluster, and the space behind each space. In a script whose
// letters join, tracking would tear them apart: platforms leave it out there, and so does this.
func spaced(run *shaping.Output, text []rune, how How) {
	if how.Tracking == 0 && how.Space == 0 {
		return
	}
	for i := range run.Glyphs {
		g := &run.Glyphs[i]
		last := i+1 == len(run.Glyphs) || run.Glyphs[i+1].TextIndex() != g.TextIndex()
		if !last {
			continue
		}
		r := text[g.TextIndex()]
		if !joins([]rune{r}) {
			g.Advance += units(how.Tracking)
		}
		if r == ' ' || r == '\u00A0' {
			g.Advance += units(how.Space)
		}
	}
	run.RecomputeAdvance()
}

func units(v float64) fixed.Int26_6 { return fixed.Int26_6(math.Round(v * 64)) }

func length(v fixed.Int26_6) float64 { return float64(v) / 64 }

// base is the direction of a paragraph: that of its first letter (Unicode Standard Annex 9, P2, P3).
func base(text []rune) di.Direction {
	for _, r := range text {
		p, _ := bidi.LookupRune(r)
		switch p.Class() {
		case bidi.L:
			return di.DirectionLTR
		case bidi.R, bidi.AL:
			return di.DirectionRTL
		}
	}
	return di.DirectionLTR
}

// hidden are characters that show nothing, so that a font need not have them.
func hidden(r rune) bool {
	return unicode.Is(unicode.Cf, r) || unicode.Is(unicode.Cc, r) || unicode.In(r, unicode.Variation_Selector)
}

// Hidden says whether a character shows nothing, so that a font need not have it.
func Hidden(r rune) bool { return hidden(r) }

// Missing are the characters of lines that the face has no glyph for, each once, in the order in
// which they are seen.
func Missing(lines []Line) []rune {
	var out []rune
	for _, l := range lines {
		for _, g := range l.Glyphs {
			if g.Missing && !slices.Contains(out, g.Rune) {
				out = append(out, g.Rune)
			}
		}
	}
	return out
}
