package platform

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"notaria/internal/face"
)

// StyleWord reads a weight or a slant as code and style sheets write it: 700, w700, FontWeight.Bold,
// SEMI_BOLD, italic. weight is 0 where it says nothing of it; ok is false where it is neither.
func StyleWord(s string) (weight int, italic, ok bool) {
	s = strings.ToLower(strings.Trim(strings.TrimSpace(s), `"'`))
	s = strings.NewReplacer("-", "", "_", "", " ", "").Replace(s[strings.LastIndexByte(s, '.')+1:])
	if s == "italic" || s == "oblique" {
		return 0, true, true
	}
	if s == "bolditalic" {
		return 700, true, true
	}
	digits := strings.TrimPrefix(s, "w")
	if n, err := strconv.Atoi(digits); err == nil && n >= 1 && n <= 1000 {
		return n, false, true
	}
	if w, ok := face.WeightOf(s); ok {
		return w, false, true
	}
	return 0, false, false
}

// Declared are the families under which a platform declares faces that it tells apart by weights in hundreds and by slant alone.
// Where several faces of a family are alike in these, such as a narrow one and a wide one, or the weights 650 and 700, one keeps the
// family: that of normal width, and of the weight that is meant. Each of the others has a family of its own, called by its style.
func Declared(faces []face.Face) []string {
	type slot struct {
		family string
		weight int
		italic bool
	}
	off := func(f face.Face) float64 {
		d := math.Abs(float64(f.Weight - Hundreds(f.Weight)))
		if f.Width != 0 {
			d += 1000 * math.Abs(f.Width-100)
		}
		return d
	}
	best := map[slot]int{}
	of := make([]slot, len(faces))
	for i, f := range faces {
		of[i] = slot{FamilyOf(f), Hundreds(f.Weight), f.Slant != face.Upright}
		if b, ok := best[of[i]]; !ok || off(f) < off(faces[b]) {
			best[of[i]] = i
		}
	}
	out := make([]string, len(faces))
	for i, f := range faces {
		out[i] = of[i].family
		if b := best[of[i]]; b != i && faces[b].ID() != f.ID() {
			out[i] = strings.TrimSpace(out[i] + " " + f.Style)
		}
	}
	return out
}

// WritesStyle writes a face's weight and slant as properties of a platform: weight has %s for the name of the weight, and
// what is regular is not written.
func WritesStyle(weight string, name func(hundreds int) string, italic string) func(Face) []string {
	return func(f Face) []string {
		var out []string
		if n := Hundreds(f.Weight); n != 400 {
			out = append(out, fmt.Sprintf(weight, name(n)))
		}
		if f.Slant != face.Upright {
			out = append(out, italic)
		}
		return out
	}
}

// HasWeight says whether a family has a face that shows for a weight as it was meant: that weight, or
// a neighbour that platforms take for it without faking (CSS Fonts 4, 5.2: 400 and 500 stand for each
// other, and what is bold is not made bolder; what is bolder by a step shows as it is).
func HasWeight(family []Face, weight int) bool {
	for _, f := range family {
		d := max(f.Weight-weight, weight-f.Weight)
		switch {
		case f.Variable, d < 100, f.Weight >= 400 && f.Weight <= 500 && weight >= 400 && weight <= 500, d <= 100 && f.Weight >= 600 && weight >= 500:
			return true
		}
	}
	return false
}

// HasItalic says whether a family has a slanted face.
func HasItalic(family []Face) bool {
	for _, f := range family {
		if f.Slant != face.Upright {
			return true
		}
		for _, a := range f.Axes {
			if a.Tag == "ital" || a.Tag == "slnt" {
				return true
			}
		}
	}
	return false
}
