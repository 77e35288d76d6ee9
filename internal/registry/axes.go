package registry

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"
)

// A Place is where in a variable font's design space a role is: each axis in the font's own units.
type Place struct {
	Weight *float64 `toml:"weight"` // of the axis wght, 1 to 1000
	Width  *float64 `toml:"width"`  // of the axis wdth, in percent
	Slant  *float64 `toml:"slant"`  // of the axis slnt, in degrees: less than 0 leans to the right
	// Axes are values by the tags of the axes: { wght = 650, GRAD = 40 }; the font's default for those that are absent.
	Axes        map[string]float64 `toml:"axes"`
	Coordinates map[string]float64 `toml:"coordinates"` // another word for axes, which earlier versions had
}

// words are the axes that have a word of their own in a role.
func (p Place) words() map[string]*float64 {
	return map[string]*float64{"wght": p.Weight, "wdth": p.Width, "slnt": p.Slant}
}

// At are the values by the tags of the axes; nil where the role says none.
func (p Place) At() map[string]float64 {
	out := map[string]float64{}
	maps.Copy(out, p.Coordinates)
	maps.Copy(out, p.Axes)
	for tag, v := range p.words() {
		if v != nil {
			out[tag] = *v
		}
	}
	if len(out) == 0 {
		return nil
	}
	return out
}

// over is what one target says, over what is said for all, axis by axis.
func (p Place) over(all Place) Place {
	at := all.At()
	if at == nil {
		return p
	}
	maps.Copy(at, p.At())
	return Place{Axes: at}
}

// axisWords are the keys of roles for axes, in order, with what they can be.
var axisWords = []struct {
	key, tag    string
	least, most float64
}{{"weight", "wght", 1, 1000}, {"width", "wdth", 1, 1000}, {"slant", "slnt", -90, 90}}

func (p Place) validate(wrong complaint) error {
	if p.Axes != nil && p.Coordinates != nil {
		return wrong("coordinates", "axes or coordinates, which are two words for the same", "both", "keep axes")
	}
	for _, w := range axisWords {
		v := p.words()[w.tag]
		if v == nil {
			continue
		}
		if !(*v >= w.least && *v <= w.most) {
			return wrong(w.key, fmt.Sprintf("a %s of %g to %g", w.key, w.least, w.most), *v, "write the value of the font's axis "+w.tag)
		}
		_, axis := p.Axes[w.tag]
		if _, also := p.Coordinates[w.tag]; axis || also {
			return wrong(w.key, "the axis "+w.tag+" once", w.key+" and axes", "keep one of them")
		}
	}
	for _, m := range []struct {
		key string
		at  map[string]float64
	}{{"axes", p.Axes}, {"coordinates", p.Coordinates}} {
		if found := unfitAxes(m.at); found != "" {
			return wrong(m.key, axesForm, found, axesCure)
		}
	}
	return nil
}

const (
	axesForm = "values by the tags of axes, which have four signs, such as wght"
	axesCure = "correct it; notaria names shows the axes of a face"
)

// unfitAxes is the first that is none; "" for none (OpenType, fvar: four signs of ASCII).
func unfitAxes(at map[string]float64) string {
	for _, tag := range slices.Sorted(maps.Keys(at)) {
		fits := len(tag) == 4
		for _, c := range []byte(tag) {
			fits = fits && c >= ' ' && c <= '~'
		}
		switch v := at[tag]; {
		case !fits:
			return fmt.Sprintf("%q", tag)
		case math.IsNaN(v) || math.Abs(v) > 32767: // the largest of the form 16.16
			return fmt.Sprintf("%s = %g", tag, v)
		}
	}
	return ""
}

// inlineAxes are the values as an inline table of TOML.
func inlineAxes(at map[string]float64) string {
	var list []string
	for _, tag := range slices.Sorted(maps.Keys(at)) {
		list = append(list, fmt.Sprintf("%s = %g", bareKey(tag), at[tag]))
	}
	return "{ " + strings.Join(list, ", ") + " }"
}

// bareKey is a key of TOML, in quotation marks where it needs them.
func bareKey(s string) string {
	for _, c := range s {
		if (c < '0' || c > '9') && (c < 'A' || c > 'Z') && (c < 'a' || c > 'z') && c != '-' && c != '_' {
			return quote(s)
		}
	}
	return s
}
