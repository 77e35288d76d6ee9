package raster

import (
	"math"
	"slices"
	"sort"

	"notaria/internal/sfnt"
)

// A Study is what hinting needs to know of a face: the heights that its letters share and how
// thick its stems are. It is made once, and serves all sizes.
type Study struct {
	em    float64
	zones []zone
	stem  [2]float64 // upright stems, bars; 0 where none was found
}

// A zone is a height that letters share: those with a flat end, and those whose curve passes it.
type zone struct {
	top       bool // of letters, else the bottom
	low, high float64
	flat      float64
}

// zoneLetters are characters that end at a height, flat ones first.
var zoneLetters = []struct {
	top         bool
	flat, round string
}{
	{false, "xzHEITLFi1", "oOceCSU038"},
	{false, "pq", "gyj"},
	{true, "xzvw", "oesca"},
	{true, "HEITXZ", "OCGSQ"},
	{true, "dbhkl", "f"},
	{true, "147", "0235689"},
}

// NewStudy looks at the letters of a face; one that it does not have has no outline.
func NewStudy(outline func(rune) sfnt.Path, unitsPerEm int) *Study {
	s := &Study{em: float64(unitsPerEm)}
	heights := func(of string, top bool) []float64 {
		var out []float64
		for _, r := range of {
			if sh := newShape(studied(outline(r)), coarse); len(sh.lines) > 0 {
				if top {
					out = append(out, sh.to[1])
				} else {
					out = append(out, sh.from[1])
				}
			}
		}
		slices.Sort(out)
		return out
	}
	for _, z := range zoneLetters {
		flat, round := heights(z.flat, z.top), heights(z.round, z.top)
		if len(flat) == 0 {
			flat = round
		}
		if len(flat) == 0 {
			continue
		}
		v := zone{top: z.top, flat: flat[len(flat)/2]}
		v.low, v.high = v.flat, v.flat
		for _, h := range append(flat, round...) {
			if math.Abs(h-v.flat) < 0.035*s.em {
				v.low, v.high = min(v.low, h), max(v.high, h)
			}
		}
		s.zones = append(s.zones, v)
	}
	s.merge()
	for axis, letters := range []string{"nhlidbHEITLDBN", "eoczEFHTLAaODB"} {
		s.stem[axis] = s.standard(axis, letters, outline)
	}
	return s
}

// mostStudied is how many segments an outline has whose stems are looked for: that takes time by their square, and
// letters have some dozens.
const mostStudied = 1000

// studied is an outline that is looked at, or none.
func studied(path sfnt.Path) sfnt.Path {
	if len(path) > mostStudied {
		return nil
	}
	return path
}

// merge makes zones that are one height one.
func (s *Study) merge() {
	slices.SortStableFunc(s.zones, func(a, b zone) int { return compare(a.flat, b.flat) })
	var out []zone
	for _, z := range s.zones {
		if n := len(out) - 1; n >= 0 && out[n].top == z.top && z.flat-out[n].flat < 0.012*s.em {
			out[n].low, out[n].high = min(out[n].low, z.low), max(out[n].high, z.high)
			continue
		}
		out = append(out, z)
	}
	s.zones = out
}

// standard is the middle one of the widths of stems.
func (s *Study) standard(axis int, letters string, outline func(rune) sfnt.Path) float64 {
	var all []float64
	for _, r := range letters {
		sh := newShape(studied(outline(r)), coarse)
		for _, st := range sh.stems(axis, sh.edges(axis, s.em), s.em) {
			if st.width() < 0.25*s.em {
				all = append(all, st.width())
			}
		}
	}
	if len(all) == 0 {
		return 0
	}
	sort.Float64s(all)
	return all[len(all)/2]
}

// Off is how far the heights and the stems of a size, in pixels per font unit, are from whole
// pixels: on average, in pixels.
func (s *Study) Off(scale float64) float64 {
	sum, n := 0.0, 0
	add := func(v float64) {
		if v != 0 {
			sum, n = sum+math.Abs(v*scale-math.Round(v*scale)), n+1
		}
	}
	for _, z := range s.zones {
		add(z.flat)
	}
	add(s.stem[0])
	add(s.stem[1])
	if n == 0 {
		return 0
	}
	return sum / float64(n)
}

// A Hinter fits outlines of a face to the pixels of one size.
type Hinter struct {
	*Study
	scale  float64
	levels []float64 // of the zones, in whole pixels
}

// At is the hinter for a size, in pixels per font unit.
func (s *Study) At(scale float64) *Hinter {
	h := &Hinter{Study: s, scale: scale, levels: make([]float64, len(s.zones))}
	for i, z := range s.zones {
		h.levels[i] = math.Round(z.flat * scale)
		// Capitals stay taller than small letters, as soon as the face has them half a pixel taller.
		for k, y := range s.zones[:i] {
			if y.top == z.top && z.top && h.levels[i] <= h.levels[k] && (z.flat-y.flat)*scale > 0.5 {
				h.levels[i] = h.levels[k] + 1
			}
		}
	}
	return h
}

// Fit is an outline whose stems and heights lie on the borders of pixels, in pixels. Across says
// whether upright stems are moved, too: for pixels without shades; with shades only heights are.
func (h *Hinter) Fit(path sfnt.Path, across bool) sfnt.Path {
	s := newShape(studied(path), coarse)
	x, y := guide{scale: h.scale}, h.heights(s)
	if across {
		x = h.across(s)
	}
	out := make(sfnt.Path, len(path))
	for i, seg := range path {
		for k := range points(seg.Op) {
			seg.P[k] = [2]float32{float32(x.place(float64(seg.P[k][0]))), float32(y.place(float64(seg.P[k][1])))}
		}
		out[i] = seg
	}
	return out
}

// A guide moves places of one axis: marks go where they are told to, what is between them in
// proportion, and what is beyond keeps its distance.
type guide struct {
	scale float64
	marks [][2]float64 // from font units to pixels, both ascending
}

// mark adds one, if it fits between those that are there.
func (g *guide) mark(from, to float64) bool {
	i := sort.Search(len(g.marks), func(i int) bool { return g.marks[i][0] >= from })
	if i < len(g.marks) && (g.marks[i][0] == from || g.marks[i][1] < to) || i > 0 && g.marks[i-1][1] > to {
		return false
	}
	g.marks = slices.Insert(g.marks, i, [2]float64{from, to})
	return true
}

// place is where a place goes.
func (g *guide) place(v float64) float64 {
	if len(g.marks) == 0 {
		return v * g.scale
	}
	i := sort.Search(len(g.marks), func(i int) bool { return g.marks[i][0] >= v })
	switch {
	case i == 0:
		return g.marks[0][1] + (v-g.marks[0][0])*g.scale
	case i == len(g.marks):
		return g.marks[i-1][1] + (v-g.marks[i-1][0])*g.scale
	}
	a, b := g.marks[i-1], g.marks[i]
	return a[1] + (v-a[0])*(b[1]-a[1])/(b[0]-a[0])
}

// pixels is how thick a stem becomes: those about as thick as the face's others get one width.
func (h *Hinter) pixels(axis int, width float64) float64 {
	if std := h.stem[axis]; std > 0 && width > std*0.75 && width < std*1.2 {
		width = std
	}
	return max(1, math.Round(width*h.scale))
}

// heights sets the zones, then the bars between them.
func (h *Hinter) heights(s *shape) guide {
	g := guide{scale: h.scale}
	edges := s.edges(1, h.em)
	for i, z := range h.zones { // also what no edge marks, such as points of diagonals
		if v := s.to[1]; z.top && z.holds(v, h.em) {
			g.mark(v, h.levels[i])
		}
		if v := s.from[1]; !z.top && z.holds(v, h.em) {
			g.mark(v, h.levels[i])
		}
	}
	var between []stem
	for _, st := range s.stems(1, edges, h.em) {
		w := h.pixels(1, st.width())
		if to, ok := h.level(st.low, false); ok {
			g.mark(st.low, to)
			g.mark(st.high, to+w)
		} else if to, ok := h.level(st.high, true); ok {
			g.mark(st.high, to)
			g.mark(st.low, to-w)
		} else {
			between = append(between, st)
		}
	}
	for _, e := range edges { // the ends of upright stems
		if to, ok := h.level(e.at, !e.low); ok {
			g.mark(e.at, to)
		}
	}
	for _, st := range between {
		w := h.pixels(1, st.width())
		low := math.Round(g.place(st.centre()) - w/2)
		low = g.room(st, low, w)
		if g.mark(st.low, low) {
			g.mark(st.high, low+w)
		}
	}
	return g
}

// room moves a bar so that the white beside it stays, where there is a pixel for it.
func (g *guide) room(st stem, low, w float64) float64 {
	i := sort.Search(len(g.marks), func(i int) bool { return g.marks[i][0] >= st.low })
	if i > 0 && g.marks[i-1][1]+1 > low {
		low = g.marks[i-1][1] + 1
	}
	if i < len(g.marks) && low+w+1 > g.marks[i][1] && (i == 0 || g.marks[i][1]-1-w > g.marks[i-1][1]) {
		low = g.marks[i][1] - 1 - w
	}
	if i < len(g.marks) && low+w > g.marks[i][1] {
		low = g.marks[i][1] - w
	}
	return low
}

func (z zone) holds(v, em float64) bool { return v >= z.low-0.004*em && v <= z.high+0.004*em }

// level is the whole pixel of a zone that an edge belongs to.
func (h *Hinter) level(at float64, top bool) (float64, bool) {
	for i, z := range h.zones {
		if z.top == top && z.holds(at, h.em) {
			return h.levels[i], true
		}
	}
	return 0, false
}

// across sets upright stems from left to right: all as thick, with even white between them. An
// outline without any is fitted by its sides, so that it stays symmetric.
func (h *Hinter) across(s *shape) guide {
	g := guide{scale: h.scale}
	stems := s.stems(0, s.edges(0, h.em), h.em)
	if len(stems) == 0 {
		if len(s.lines) > 0 {
			left := math.Round(s.from[0] * h.scale)
			g.mark(s.from[0], left)
			g.mark(s.to[0], left+max(1, math.Round((s.to[0]-s.from[0])*h.scale)))
		}
		return g
	}
	centre, end, last := 0.0, 0.0, stem{}
	for i, st := range stems {
		w := h.pixels(0, st.width())
		at := st.centre() * h.scale
		if i > 0 {
			at = centre + (st.centre()-last.centre())*h.scale
		}
		low := math.Round(at - w/2 + 1e-9)
		if i > 0 && low < end+1 && (st.low-last.high)*h.scale > 0.3 {
			low = end + 1
		}
		if i > 0 {
			low = max(low, end)
		}
		g.mark(st.low, low)
		g.mark(st.high, low+w)
		centre, end, last = low+w/2, low+w, st
	}
	return g
}
