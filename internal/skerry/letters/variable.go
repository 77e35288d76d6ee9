package letters

import (
	"encoding/binary"
	"math"

	"notaria/internal/sfnt"
)

// variableFamily is the family of the variable font. It has a name of its own: the cuts of Skerry Sans are drawn, and this is the
// regular one with strokes that grow and shrink.
const variableFamily = "Skerry Sans Variable"

// How much each edge moves at the ends of the weight axis, in font units.
const (
	thinner = -15
	heavier = 26
)

// places are the named instances, by their weights.
var places = []struct {
	name   string
	weight int
}{{"Light", 300}, {"Regular", 400}, {"SemiBold", 600}, {"Bold", 700}}

// Variable draws Skerry Sans as one file with an axis of weights, from 300 to 700 (OpenType, fvar and gvar).
func Variable() ([]byte, error) {
	st := Styles[1]
	st.Family = variableFamily
	glyphs, cmap := draw(st)
	tables, err := tablesOf(st, glyphs, cmap, kernPairs(st, cmap), placeNames()...)
	if err != nil {
		return nil, err
	}
	tables["fvar"], tables["gvar"] = axisTable(), changes(glyphs)
	return sfnt.Build(tables)
}

// Numbers of names that are the font's own: the axis, then a style and a PostScript name for each place.
const firstName = 256

// placeNames are the names that fvar speaks of.
func placeNames() sfnt.Names {
	name := func(id int, s string) sfnt.NameRecord {
		return sfnt.NameRecord{ID: uint16(id), Platform: sfnt.PlatformWindows, Encoding: 1, Language: 0x0409, Value: s}
	}
	out := sfnt.Names{name(firstName, "Weight"), name(25, "SkerrySansVariable")}
	for i, p := range places {
		out = append(out, name(firstName+1+2*i, p.name), name(firstName+2+2*i, "SkerrySansVariable-"+p.name))
	}
	return out
}

func words(v ...int) (b []byte) {
	for _, n := range v {
		b = binary.BigEndian.AppendUint16(b, uint16(n))
	}
	return b
}

// axisTable is the table fvar: one axis, and the places.
func axisTable() []byte {
	b := append(words(1, 0, 16, 2, 1, 20, len(places), 10), "wght"...)
	b = append(b, words(300, 0, 400, 0, 700, 0, 0, firstName)...)
	for i, p := range places {
		b = append(b, words(firstName+1+2*i, 0, p.weight, 0, firstName+2+2*i)...)
	}
	return b
}

// changes is the table gvar: two tuples for each glyph, towards either end of the axis.
func changes(glyphs []sfnt.Glyph) []byte {
	var data []byte
	head := words(1, 0, 1, 0, 0, 20+4*(len(glyphs)+1), len(glyphs), 1, 0, 20+4*(len(glyphs)+1))
	for _, g := range glyphs {
		head = binary.BigEndian.AppendUint32(head, uint32(len(data)))
		if len(g.Contours) == 0 {
			continue
		}
		light, bold := tuple(g, thinner), tuple(g, heavier)
		const own, private = 0x8000, 0x2000 // a peak of its own, and points of its own
		data = append(data, words(2, 4+2*6, len(light), own|private, -0x4000, len(bold), own|private, 0x4000)...)
		data = append(append(data, light...), bold...)
		data = append(data, make([]byte, len(data)%2)...)
	}
	head = binary.BigEndian.AppendUint32(head, uint32(len(data)))
	return append(head, data...)
}

// tuple moves each point of a glyph by so many units out of the ink, keeps the left edge where it is, and moves the advance by as
// much as the ink grows.
func tuple(g sfnt.Glyph, by float64) []byte {
	var xs, ys []int
	for _, c := range g.Contours {
		for i := range c {
			x, y := outwards(c, i)
			xs = append(xs, int(math.Round(by*(x+1))))
			ys = append(ys, int(math.Round(by*y*0.75)))
		}
	}
	xs, ys = append(xs, 0, int(math.Round(2*by)), 0, 0), append(ys, 0, 0, 0, 0)
	return append(append([]byte{0}, packed(xs)...), packed(ys)...) // 0: all points
}

// outwards is the direction in which a point leaves the ink, which is to the right of its contour, as TrueType has it: of length 1
// on an edge, and longer where two edges meet.
func outwards(c sfnt.Contour, i int) (x, y float64) {
	edge := func(from, to sfnt.Point) pt { return pt{float64(to.X - from.X), float64(to.Y - from.Y)}.unit() }
	n := len(c)
	before, after := i, i
	for k := 1; k < n && c[(i+n-k)%n] == c[i]; k++ {
		before = (i + n - k) % n
	}
	for k := 1; k < n && c[(i+k)%n] == c[i]; k++ {
		after = (i + k) % n
	}
	in, out := edge(c[(before+n-1)%n], c[i]), edge(c[i], c[(after+1)%n])
	a, b := in.turn(), out.turn()
	sum := a.add(b)
	if l := sum.len(); l > 0.6 { // a corner: each edge is moved by the same
		sum = sum.mul(2 / (l * l))
	}
	return sum.x, sum.y
}

// packed are deltas as gvar packs them: runs of up to 64, here of words.
func packed(list []int) (b []byte) {
	for len(list) > 0 {
		n := min(len(list), 64)
		b = append(b, 0x40|byte(n-1))
		b = append(b, words(list[:n]...)...)
		list = list[n:]
	}
	return b
}
