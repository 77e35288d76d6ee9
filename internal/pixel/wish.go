package pixel

import (
	"math"
	"slices"
	"strings"

	"notaria/internal/fault"
)

// A Wish is a bitmap font as people ask for one.
type Wish struct {
	Choice
	Height  int    // in pixels
	Of      string // what is so high: em, line, a group of characters, or characters; "" is em
	Hinting string // auto, on or off; "" is auto
	// Spacing is added after each character besides Tracking, in thousandths of an em.
	Spacing float64
}

// Letters is a spacing in thousandths of an em, at a size in pixels per em, in 1/16 pixel: in whole
// pixels where advances are.
func (w Wish) Letters(spacing, em float64) int {
	px := spacing * em / 1000
	if w.Depth <= 1 && w.hints(em) {
		return int(math.Round(px)) * Sub
	}
	return int(math.Round(px * Sub))
}

// Hintings are the values of Hinting.
var Hintings = []string{"auto", "on", "off"}

// Check says what a wish cannot be, in the words of the keys that it is written with.
func (w Wish) Check() error {
	switch {
	case w.Height < 1 || w.Height > MostEm:
		return fault.Form("expected a height of 1 to %d pixels, at most %d pixels per em, found %d", MostEm, MostEm, w.Height)
	case !slices.Contains(Depths, w.Depth):
		return fault.Form("expected a depth of 1, 2, 4 or 8, found %d", w.Depth)
	case w.Hinting != "" && !slices.Contains(Hintings, w.Hinting):
		return fault.Form("expected %s for hinting, found %q", strings.Join(Hintings, ", "), w.Hinting)
	case w.Contrast < 0 || w.Contrast > 100:
		return fault.Form("expected a contrast of 0 to 100, found %d", w.Contrast)
	case len([]rune(w.Of)) > mostOf:
		return fault.Form("expected at most %d characters whose height is meant, found %d", mostOf, len([]rune(w.Of)))
	case w.Gap < 0 || w.Gap > mostGap:
		return fault.Form("expected a gap of 0 to %d pixels, found %d", mostGap, w.Gap)
	}
	return nil
}

const (
	mostGap = 256
	mostOf  = 64
)

// hints says whether a size is hinted.
func (w Wish) hints(em float64) bool {
	return w.Hinting == "on" || w.Hinting != "off" && HintPays(em, w.Depth)
}

// Make draws a wish. It also returns the characters that the face lacks.
func (s *Source) Make(w Wish) (*Font, []rune, error) {
	if err := w.Check(); err != nil {
		return nil, nil, err
	}
	em := float64(w.Height)
	var err error
	switch w.Of {
	case "", "em":
	case "line":
		em = float64(w.Height) * float64(s.UnitsPerEm) / float64(max(1, s.Ascent-s.Descent))
	default:
		if em, err = s.Fit(w.Height, FitRunes(w.Of), w.Choice, w.hints); err != nil {
			return nil, nil, err
		}
	}
	c := w.Choice
	c.Hint = w.hints(em)
	c.Tracking += w.Letters(w.Spacing, em)
	return s.Draw(em, c)
}

// A Clean is a size near the one that is wished for whose heights fit the pixels well.
type Clean struct {
	Height int     // as the wish counts it
	Em     float64 // pixels per em
	Off    float64 // how far heights and stems are from whole pixels, on average, in pixels
}

// Near are the sizes within a third of a wish's, at most eight pixels away, that render cleanest: where the heights of
// digits, capitals and small letters, and the stems and bars, come nearest to whole pixels
// without hinting. The cleanest is first; the wished one is among them, at its place.
func (s *Source) Near(w Wish) []Clean {
	var out []Clean
	most := min(8, max(1, w.Height/3))
	for height := max(1, w.Height-most); height <= min(MostEm, w.Height+most); height++ {
		em := float64(height)
		switch w.Of {
		case "", "em":
		case "line":
			em *= float64(s.UnitsPerEm) / float64(max(1, s.Ascent-s.Descent))
		default:
			units := s.units(FitRunes(w.Of))
			if units <= 0 {
				return nil
			}
			em *= float64(s.UnitsPerEm) / units
		}
		if em <= MostEm {
			out = append(out, Clean{height, em, s.shape().Off(em / float64(s.UnitsPerEm))})
		}
	}
	slices.SortStableFunc(out, func(a, b Clean) int {
		switch {
		case a.Off < b.Off:
			return -1
		case a.Off > b.Off:
			return 1
		}
		return 0
	})
	return out
}
