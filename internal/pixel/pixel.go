// Package pixel holds fonts as pictures of glyphs, for small displays and pixel games: the
// model, where it comes from (outlines, BDF) and what it becomes (BDF, C for any display).
package pixel

import (
	"fmt"
	"slices"
	"sort"

	"notaria/internal/fault"
)

// A Font is glyphs of one size, as pictures. Lengths are in pixels, advances in 1/16 of one.
type Font struct {
	Name   string // of its face
	Family string
	Em     float64 // pixels per em
	// Ascent and Descent are the line's parts above and below the baseline, both upwards from
	// it: Descent is positive.
	Ascent, Descent int
	Depth           int     // bits per pixel: 1, 2, 4 or 8
	Glyphs          []Glyph // by codepoint, each once
	Kerns           []Kern  // by their characters, each pair once
}

// A Kern is how much closer (negative) or farther two characters stand, in 1/16 pixel.
type Kern struct {
	Left, Right rune
	Value       int
}

// Sub is how many parts of a pixel an advance counts.
const Sub = 16

// A Glyph is a picture with its place on the line.
type Glyph struct {
	Rune    rune
	Advance int // in 1/16 pixel
	// X is the box's left edge, from the pen; Y its bottom edge, from the baseline upwards.
	X, Y          int
	Width, Height int
	Pix           []byte // a byte for each pixel, from 0 to the depth's greatest, row by row from the top
}

// Depths are those that a font can have, in bits per pixel.
var Depths = []int{1, 2, 4, 8}

// Full is the greatest value of a pixel.
func (f *Font) Full() byte { return byte(1<<f.Depth - 1) }

// LineHeight is from baseline to baseline.
func (f *Font) LineHeight() int { return f.Ascent + f.Descent }

// Glyph finds a character's.
func (f *Font) Glyph(r rune) (Glyph, bool) {
	i := sort.Search(len(f.Glyphs), func(i int) bool { return f.Glyphs[i].Rune >= r })
	if i < len(f.Glyphs) && f.Glyphs[i].Rune == r {
		return f.Glyphs[i], true
	}
	return Glyph{}, false
}

// Top is the box's upper edge, from the baseline.
func (g Glyph) Top() int { return g.Y + g.Height }

// trim takes empty rows and columns off.
func (g Glyph) trim() Glyph {
	empty := func(row bool, i int) bool {
		if row {
			return !slices.ContainsFunc(g.Pix[i*g.Width:(i+1)*g.Width], func(v byte) bool { return v != 0 })
		}
		for y := range g.Height {
			if g.Pix[y*g.Width+i] != 0 {
				return false
			}
		}
		return true
	}
	top, bottom, left, right := 0, g.Height, 0, g.Width
	for top < bottom && empty(true, top) {
		top++
	}
	for bottom > top && empty(true, bottom-1) {
		bottom--
	}
	if top == bottom {
		return Glyph{Rune: g.Rune, Advance: g.Advance}
	}
	if top == 0 && bottom == g.Height && !empty(false, 0) && !empty(false, g.Width-1) {
		return g
	}
	for empty(false, left) {
		left++
	}
	for empty(false, right-1) {
		right--
	}
	out := Glyph{Rune: g.Rune, Advance: g.Advance, X: g.X + left, Y: g.Y + g.Height - bottom, Width: right - left, Height: bottom - top}
	for y := top; y < bottom; y++ {
		out.Pix = append(out.Pix, g.Pix[y*g.Width+left:y*g.Width+right]...)
	}
	return out
}

// Heights are real heights of groups of characters, from their lowest to their highest pixel;
// 0 where the font has none of a group.
type Heights struct {
	Digits   int `json:"digits"`
	Capitals int `json:"capitals"`
	XHeight  int `json:"x_height"`
	Line     int `json:"line"`
}

// groups are characters whose height people mean. The letters are those without overshoot
// and without an accent where there is a choice.
var groups = map[string][]rune{"digits": []rune("0123456789"), "capitals": []rune("HEFILTXZ"), "x-height": []rune("xzvw")}

// Groups are the names of groups of characters.
func Groups() []string { return []string{"digits", "capitals", "x-height"} }

// Heights measures the font.
func (f *Font) Heights() Heights {
	of := func(name string) int { return f.height(groups[name]) }
	return Heights{of("digits"), of("capitals"), of("x-height"), f.LineHeight()}
}

// height is from the lowest to the highest pixel of characters.
func (f *Font) height(of []rune) int {
	low, high, any := 0, 0, false
	for _, r := range of {
		g, ok := f.Glyph(r)
		if g = g.trim(); !ok || g.Height == 0 {
			continue
		}
		if !any {
			low, high, any = g.Y, g.Top(), true
		}
		low, high = min(low, g.Y), max(high, g.Top())
	}
	return high - low
}

// Bytes is what the pictures take, packed without gaps, each glyph from a byte on.
func (f *Font) Bytes() int {
	n := 0
	for _, g := range f.Glyphs {
		n += (g.Width*g.Height*f.Depth + 7) / 8
	}
	return n
}

// Kern is what stands between two characters besides their advances, in 1/16 pixel.
func (f *Font) Kern(left, right rune) int {
	i := sort.Search(len(f.Kerns), func(i int) bool { return !kernBefore(f.Kerns[i], Kern{Left: left, Right: right}) })
	if i < len(f.Kerns) && f.Kerns[i].Left == left && f.Kerns[i].Right == right {
		return f.Kerns[i].Value
	}
	return 0
}

func kernBefore(a, b Kern) bool { return a.Left < b.Left || a.Left == b.Left && a.Right < b.Right }

// Width is how far text moves the pen, in 1/16 pixel; false if a character has no glyph.
func (f *Font) Width(text string) (int, bool) {
	sum, all, last := 0, true, rune(0)
	for _, r := range text {
		g, ok := f.Glyph(r)
		if ok {
			sum, last = sum+f.Kern(last, r)+g.Advance, r
		}
		all = all && ok
	}
	return sum, all
}

// pack writes pixels one behind the other, the most significant bits first, from a byte on.
func (f *Font) pack(g Glyph) []byte {
	out := make([]byte, (len(g.Pix)*f.Depth+7)/8)
	for i, v := range g.Pix {
		at := i * f.Depth
		out[at/8] |= v << (8 - f.Depth - at%8)
	}
	return out
}

// Bounds of a font, whatever it was read from: beyond them nothing is a font of a display, and
// what is made of it would take memory without end.
const (
	mostSide   = 4096    // of a glyph, in pixels
	mostPlace  = 8192    // of a glyph's box, and of a line's parts
	mostPixels = 1 << 24 // of all glyphs
	mostText   = 1 << 24 // of the picture of a text
)

// valid says what a font of pictures cannot be.
func (f *Font) valid() error {
	if max(f.Ascent, -f.Ascent, f.Descent, -f.Descent) > mostPlace {
		return fault.Form("expected lines of at most %d pixels, found %d above and %d below the baseline", mostPlace, f.Ascent, f.Descent)
	}
	sum := 0
	for _, g := range f.Glyphs {
		if g.Width < 0 || g.Height < 0 || max(g.Width, g.Height) > mostSide || max(g.X, -g.X, g.Y, -g.Y) > mostPlace || g.Advance < 0 || g.Advance > mostPlace*Sub {
			return fault.Form("U+%04X: expected a glyph of at most %d pixels a side, with an advance of 0 to %d, found %dx%d at %d, %d with %d", g.Rune, mostSide, mostPlace, g.Width, g.Height, g.X, g.Y, g.Advance/Sub)
		}
		if sum += g.Width * g.Height; sum > mostPixels {
			return fault.Form("expected at most %d million pixels in all glyphs, found more", mostPixels>>20)
		}
	}
	if !slices.Contains(Depths, f.Depth) {
		return fault.Form("expected a depth of 1, 2, 4 or 8 bits, found %d", f.Depth)
	}
	for i, g := range f.Glyphs {
		if len(g.Pix) != g.Width*g.Height || i > 0 && f.Glyphs[i-1].Rune >= g.Rune {
			return fmt.Errorf("U+%04X: expected %dx%d pixels and codepoints in order", g.Rune, g.Width, g.Height)
		}
	}
	for i, k := range f.Kerns {
		if max(k.Value, -k.Value) > mostPlace*Sub || i > 0 && !kernBefore(f.Kerns[i-1], k) {
			return fault.Form("U+%04X U+%04X: expected pairs in order, %d pixels apart at most, found %d/16", k.Left, k.Right, mostPlace, k.Value)
		}
	}
	return nil
}
