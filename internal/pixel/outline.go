package pixel

import (
	"fmt"
	"math"
	"slices"

	"notaria/internal/raster"
	"notaria/internal/sfnt"
)

// A Source is a face whose outlines become pictures.
type Source struct {
	Name, Family    string
	UnitsPerEm      int
	Ascent, Descent int // of a line, in font units; Descent is negative
	Paths           *sfnt.Paths
}

// A Choice is what is drawn of a source.
type Choice struct {
	Characters []rune
	Depth      int
	Tracking   int // added to each advance, in 1/16 pixel
	// SameWidth gives these characters one advance, the greatest of theirs, each in the middle:
	// times that do not dance. Nil for none.
	SameWidth []rune
}

// MaxEm is the largest size, in pixels per em.
const MaxEm = 1024

// Draw is the font at a size in pixels per em, and the characters that the source lacks.
func (s *Source) Draw(em float64, c Choice) (*Font, []rune, error) {
	if !(em > 0 && em <= MaxEm) {
		return nil, nil, fmt.Errorf("expected a size of more than 0 and at most %d pixels per em, found %g", MaxEm, em)
	}
	scale := em / float64(s.UnitsPerEm)
	f := &Font{Name: s.Name, Family: s.Family, Em: em, Depth: c.Depth, Ascent: int(math.Ceil(float64(s.Ascent)*scale - 1e-6)), Descent: int(math.Ceil(float64(-s.Descent)*scale - 1e-6))}
	var lacks []rune
	r, sum := &raster.Raster{}, 0
	for _, char := range c.Characters {
		g, ok, err := s.glyph(r, char, scale, c.Depth)
		if err != nil {
			return nil, nil, fmt.Errorf("U+%04X: %w", char, err)
		}
		if !ok {
			lacks = append(lacks, char)
			continue
		}
		if sum += g.Width * g.Height; sum > maxPixels {
			return nil, nil, fmt.Errorf("expected at most %d million pixels in all glyphs, found more", maxPixels>>20)
		}
		f.Glyphs = append(f.Glyphs, g)
	}
	slices.SortFunc(f.Glyphs, func(a, b Glyph) int { return int(a.Rune) - int(b.Rune) })
	f.Glyphs = slices.CompactFunc(f.Glyphs, func(a, b Glyph) bool { return a.Rune == b.Rune })
	return f, lacks, f.Space(c.Tracking, c.SameWidth)
}

// glyph draws one character.
func (s *Source) glyph(r *raster.Raster, char rune, scale float64, depth int) (Glyph, bool, error) {
	index := s.Paths.Index(char)
	if index == 0 {
		return Glyph{}, false, nil
	}
	path, err := s.Paths.Outline(index)
	if err != nil {
		return Glyph{}, false, err
	}
	advance, _ := s.Paths.Advance(char)
	g := Glyph{Rune: char, Advance: int(math.Round(float64(advance) * scale * Sub))}
	box := raster.Bounds(path, scale, 0, 0)
	cover := r.Fill(path, scale, 0, 0, box)
	if cover == nil {
		return g, true, nil
	}
	full := 1<<depth - 1
	g.X, g.Y, g.Width, g.Height = box.XMin, box.YMin, box.Width(), box.Height()
	g.Pix = make([]byte, len(cover))
	for i, v := range cover {
		g.Pix[i] = byte((int(v)*full + 127) / 255)
	}
	return g.trim(), true, nil
}

// even gives characters the greatest advance of theirs, in whole pixels, with their ink in the
// middle as it was.
func (f *Font) even(of []rune) {
	most := 0
	for _, g := range f.Glyphs {
		if slices.Contains(of, g.Rune) {
			most = max(most, (g.Advance+Sub-1)/Sub*Sub)
		}
	}
	for i := range f.Glyphs {
		if g := &f.Glyphs[i]; slices.Contains(of, g.Rune) {
			g.X += int(math.Round(float64(most-g.Advance) / 2 / Sub))
			g.Advance = most
		}
	}
}

// Fit finds the size at which characters are exactly so many pixels high, from their lowest
// to their highest pixel, in steps of 1/16 pixel per em; of several such sizes the one in
// the middle. An error says the heights on both sides, where none is exact.
func (s *Source) Fit(height int, of []rune, depth int) (float64, error) {
	if height < 1 || height > MaxEm {
		return 0, fmt.Errorf("expected a height of 1 to %d pixels, found %d", MaxEm, height)
	}
	at := func(em float64) (int, error) {
		f, _, err := s.Draw(em, Choice{Characters: of, Depth: depth})
		if err != nil {
			return 0, err
		}
		return f.height(of), nil
	}
	units := s.units(of)
	if units <= 0 {
		return 0, fmt.Errorf("expected characters with ink to measure, found none of %q in the face", string(of))
	}
	near := float64(height) * float64(s.UnitsPerEm) / units
	var fits []float64
	below, above := 0, 0
	for step := math.Floor(near*Sub) - 3*Sub; step <= math.Ceil(near*Sub)+3*Sub; step++ {
		em := step / Sub
		if em <= 0 || em > MaxEm {
			continue
		}
		h, err := at(em)
		if err != nil {
			return 0, err
		}
		switch {
		case h == height:
			fits = append(fits, em)
		case h < height:
			below = max(below, h)
		case above == 0 || h < above:
			above = h
		}
	}
	if len(fits) == 0 {
		return 0, fmt.Errorf("expected %q to be %d pixels high, found %d and %d at the nearest sizes", string(of), height, below, above)
	}
	return fits[len(fits)/2], nil
}

// units is the height of characters in font units.
func (s *Source) units(of []rune) float64 {
	low, high := math.Inf(1), math.Inf(-1)
	for _, char := range of {
		path, err := s.Paths.Outline(s.Paths.Index(char))
		if err != nil || s.Paths.Index(char) == 0 || len(path) == 0 {
			continue
		}
		for _, seg := range path {
			low, high = min(low, float64(seg.End()[1])), max(high, float64(seg.End()[1]))
		}
	}
	return high - low
}

// FitRunes are the characters of a group, or those that are given.
func FitRunes(of string) []rune {
	if g := groups[of]; g != nil {
		return g
	}
	return []rune(of)
}
