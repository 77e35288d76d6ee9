package raster

import (
	"math"
	"slices"

	"notaria/internal/sfnt"
)

// A point of an outline: x, y.
type point [2]float64

// A shape is an outline as its parts that stand in line with an axis are looked for in it.
type shape struct {
	contours [][]point // on the curve and beside it
	lines    [][2]point
	from, to point     // the box of the lines
	bands    [][]int32 // the lines by height; made when they are first asked for
}

// newShape takes an outline in; each curve becomes so many lines.
func newShape(path sfnt.Path, pieces int) *shape {
	s := &shape{from: point{math.Inf(1), math.Inf(1)}, to: point{math.Inf(-1), math.Inf(-1)}}
	n := 0
	for _, seg := range path {
		if n++; points(seg.Op) > 1 {
			n += pieces - 1
		}
	}
	s.lines = make([][2]point, 0, n)
	var c []point
	var last point
	line := func(to point) {
		if to != last {
			s.lines = append(s.lines, [2]point{last, to})
			for a := range 2 {
				s.from[a], s.to[a] = min(s.from[a], last[a], to[a]), max(s.to[a], last[a], to[a])
			}
		}
		last = to
	}
	end := func() {
		if len(c) > 0 {
			line(c[0])
			if c = slices.Compact(c); len(c) > 1 && c[0] == c[len(c)-1] {
				c = c[1:]
			}
			s.contours = append(s.contours, c)
		}
	}
	for _, seg := range path {
		n := points(seg.Op)
		p := [3]point{}
		for i := range n {
			p[i] = point{float64(seg.P[i][0]), float64(seg.P[i][1])}
		}
		if seg.Op == sfnt.MoveTo {
			end()
			c, last = []point{p[0]}, p[0]
			continue
		}
		start := last
		for i := 1; i < pieces && n > 1; i++ {
			line(onCurve(start, p, n, float64(i)/float64(pieces)))
		}
		line(p[n-1])
		c = append(c, p[:n]...)
	}
	end()
	return s
}

// How many lines stand for a curve: where only sides of edges are asked for, and where it is drawn.
const (
	coarse = 8
	fine   = 24
)

// onCurve is a place on a quadratic or a cubic curve.
func onCurve(p0 point, p [3]point, n int, t float64) point {
	u, out := 1-t, point{}
	for a := range 2 {
		if n == 2 {
			out[a] = u*u*p0[a] + 2*u*t*p[0][a] + t*t*p[1][a]
		} else {
			out[a] = u*u*u*p0[a] + 3*u*u*t*p[0][a] + 3*u*t*t*p[1][a] + t*t*t*p[2][a]
		}
	}
	return out
}

// manyBands is how many bands the lines are sorted into, from the lowest to the highest place: of a letter's hundred lines, a
// few are at one height.
const manyBands = 48

// band is the one of a height within the shape.
func (s *shape) band(y float64) int {
	return min(int((y-s.from[1])/(s.to[1]-s.from[1])*manyBands), manyBands-1)
}

// sort puts each line into the bands that it passes.
func (s *shape) sort() {
	s.bands = make([][]int32, manyBands)
	for i, l := range s.lines {
		for b := s.band(min(l[0][1], l[1][1])); b <= s.band(max(l[0][1], l[1][1])); b++ {
			s.bands[b] = append(s.bands[b], int32(i))
		}
	}
}

// inked says whether a place lies in the ink (nonzero winding).
func (s *shape) inked(x, y float64) bool {
	if !(y >= s.from[1] && y <= s.to[1] && s.to[1] > s.from[1]) {
		return false
	}
	if s.bands == nil {
		s.sort()
	}
	winding := 0
	for _, i := range s.bands[s.band(y)] {
		a, b := s.lines[i][0], s.lines[i][1]
		up := a[1] <= y && b[1] > y
		if !up && !(b[1] <= y && a[1] > y) {
			continue
		}
		if a[0]+(b[0]-a[0])*(y-a[1])/(b[1]-a[1]) > x {
			if up {
				winding++
			} else {
				winding--
			}
		}
	}
	return winding != 0
}

// An edge is a part of an outline that stands in line with an axis, between ink and none.
type edge struct {
	at       float64 // on the axis that it is a place of
	from, to float64 // along the other
	low      bool    // the ink is at its greater side
}

// edges finds the edges of an axis (0 for x, whose edges are upright; 1 for y). Edges that
// lie in the ink of another contour are none.
func (s *shape) edges(axis int, em float64) []edge {
	var out []edge
	other := 1 - axis
	for _, c := range s.contours {
		for i := 0; i < len(c); {
			n, sum, length := 0, 0.0, 0.0
			from, to := math.Inf(1), math.Inf(-1)
			for n < len(c) {
				p, q := c[(i+n)%len(c)], c[(i+n+1)%len(c)]
				along, aside := q[other]-p[other], math.Abs(q[axis]-p[axis])
				if aside > 0.06*math.Abs(along) || along == 0 || n > 0 && (along > 0) != (c[(i+1)%len(c)][other] > c[i][other]) {
					break
				}
				sum, length = sum+(p[axis]+q[axis])/2*math.Abs(along), length+math.Abs(along)
				from, to = min(from, p[other], q[other]), max(to, p[other], q[other])
				n++
			}
			if length >= leastEdge*em {
				out = s.visible(out, axis, edge{at: sum / length, from: from, to: to}, em)
			}
			i += max(1, n)
		}
	}
	slices.SortFunc(out, func(a, b edge) int { return compare(a.at, b.at, a.from, b.from, a.to, b.to) })
	return out
}

// compare orders by pairs of numbers, the first that differ.
func compare(pairs ...float64) int {
	for i := 0; i+1 < len(pairs); i += 2 {
		if pairs[i] != pairs[i+1] {
			if pairs[i] < pairs[i+1] {
				return -1
			}
			return 1
		}
	}
	return 0
}

// Parts of an em: the shortest edge, and how far beside it its sides are looked at.
const (
	leastEdge = 0.02
	beside    = 0.006
)

// visible adds an edge where it has ink at one side alone.
func (s *shape) visible(out []edge, axis int, e edge, em float64) []edge {
	seen := map[bool][2]float64{}
	for _, t := range []float64{0.1, 0.3, 0.5, 0.7, 0.9} {
		o := e.from + (e.to-e.from)*t
		below, above := s.beside(axis, e.at-beside*em, o), s.beside(axis, e.at+beside*em, o)
		if below == above {
			continue
		}
		r, ok := seen[above]
		if !ok {
			r = [2]float64{o, o}
		}
		seen[above] = [2]float64{min(r[0], o), max(r[1], o)}
	}
	for _, low := range []bool{true, false} {
		if r, ok := seen[low]; ok {
			out = append(out, edge{e.at, r[0], r[1], low})
		}
	}
	return out
}

func (s *shape) beside(axis int, at, other float64) bool {
	if axis == 0 {
		return s.inked(at, other)
	}
	return s.inked(other, at)
}

// A stem is ink between two edges.
type stem struct {
	low, high float64
	length    float64 // of its longer edge
}

func (s stem) width() float64  { return s.high - s.low }
func (s stem) centre() float64 { return (s.low + s.high) / 2 }

// thick is the width of a stem that is none of a letter, in parts of an em: a letter's whole height
// lies between two edges, too.
const thick = 0.3

// stems pairs each edge with the next one above that has the ink between them. Of stems
// that lie over each other the longer stays, but strokes go before what is thick.
func (s *shape) stems(axis int, edges []edge, em float64) []stem {
	var all []stem
	for i, l := range edges {
		if !l.low {
			continue
		}
		for _, h := range edges[i+1:] {
			from, to := max(l.from, h.from), min(l.to, h.to)
			if h.low || h.at <= l.at || from > to && !near(l, h) || !s.beside(axis, (l.at+h.at)/2, (from+to)/2) {
				continue
			}
			all = append(all, stem{l.at, h.at, max(l.to-l.from, h.to-h.from)})
			break
		}
	}
	slices.SortStableFunc(all, func(a, b stem) int {
		return compare(math.Floor(a.width()/thick/em), math.Floor(b.width()/thick/em), b.length, a.length, a.low, b.low)
	})
	var out []stem
	for _, a := range all {
		if !slices.ContainsFunc(out, func(b stem) bool { return a.low < b.high && b.low < a.high }) {
			out = append(out, a)
		}
	}
	slices.SortFunc(out, func(a, b stem) int { return compare(a.low, b.low) })
	return out
}

// near says whether two edges that do not lie over each other are still those of one slanted stem.
func near(a, b edge) bool {
	apart := max(a.from, b.from) - min(a.to, b.to)
	return apart < (b.at-a.at)/2
}
