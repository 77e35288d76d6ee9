package letters

import (
	"math"

	"notaria/internal/sfnt"
)

// The pen is an ellipse: HX is half the thickness of an upright stem, HY half
// that of a bar. Dragged along a skeleton it leaves the thick and thin that
// keep a page of text evenly grey.
type pen struct {
	HX, HY float64
	Soft   float64 // how far corners of stroke ends are rounded, 0 to 1 of the half thickness
	Slant  float64 // run over rise of the italic shear, which skeletons go through first
}

type pt struct{ x, y float64 }

func (a pt) add(b pt) pt             { return pt{a.x + b.x, a.y + b.y} }
func (a pt) sub(b pt) pt             { return pt{a.x - b.x, a.y - b.y} }
func (a pt) mul(k float64) pt        { return pt{a.x * k, a.y * k} }
func (a pt) cross(b pt) float64      { return a.x*b.y - a.y*b.x }
func (a pt) len() float64            { return math.Hypot(a.x, a.y) }
func (a pt) turn() pt                { return pt{-a.y, a.x} }
func (a pt) lerp(b pt, t float64) pt { return a.mul(1 - t).add(b.mul(t)) }

func (a pt) unit() pt {
	if l := a.len(); l > 1e-9 {
		return a.mul(1 / l)
	}
	return pt{1, 0}
}

// An end says how a stroke stops.
type end int

const (
	square end = iota // across the stroke
	level             // along the horizontal: feet and heads of stems
	plumb             // along the (slanted) vertical: ends of bars
	round             // half an ellipse around the last point: joins
)

// seg is a cubic piece of a skeleton; w0 and w1 scale the pen at its ends.
type seg struct {
	p      [4]pt
	w0, w1 float64
	line   bool
}

func (s seg) at(t float64) pt {
	u := 1 - t
	return s.p[0].mul(u * u * u).add(s.p[1].mul(3 * u * u * t)).add(s.p[2].mul(3 * u * t * t)).add(s.p[3].mul(t * t * t))
}

func (s seg) dir(t float64) pt {
	u := 1 - t
	d := s.p[1].sub(s.p[0]).mul(u * u).add(s.p[2].sub(s.p[1]).mul(2 * u * t)).add(s.p[3].sub(s.p[2]).mul(t * t))
	if d.len() < 1e-6 {
		d = s.p[3].sub(s.p[0])
	}
	return d.unit()
}

func (s seg) width(t float64) float64 {
	e := t * t * (3 - 2*t) // eased, so that swelling starts and ends smoothly
	return s.w0 + (s.w1-s.w0)*e
}

// split cuts the segment at t.
func (s seg) split(t float64) (a, b seg) {
	p := s.p
	ab, bc, cd := p[0].lerp(p[1], t), p[1].lerp(p[2], t), p[2].lerp(p[3], t)
	abc, bcd := ab.lerp(bc, t), bc.lerp(cd, t)
	m, w := abc.lerp(bcd, t), s.width(t)
	return seg{[4]pt{p[0], ab, abc, m}, s.w0, w, s.line}, seg{[4]pt{m, bcd, cd, p[3]}, w, s.w1, s.line}
}

func (s seg) reverse() seg {
	return seg{[4]pt{s.p[3], s.p[2], s.p[1], s.p[0]}, s.w1, s.w0, s.line}
}

func (s seg) length() float64 {
	l, last := 0.0, s.p[0]
	for i := 1; i <= 16; i++ {
		q := s.at(float64(i) / 16)
		l += q.sub(last).len()
		last = q
	}
	return l
}

// support is the point of the pen's ellipse that lies furthest along n.
func (p pen) support(n pt) pt {
	d := math.Sqrt(p.HX*p.HX*n.x*n.x + p.HY*p.HY*n.y*n.y)
	return pt{p.HX * p.HX * n.x / d, p.HY * p.HY * n.y / d}
}

// edge is the outline's point beside the skeleton at t: side 1 left, -1 right.
func (p pen) edge(s seg, t, side float64) pt {
	return s.at(t).add(p.support(s.dir(t).turn().mul(side)).mul(s.width(t)))
}

// knot is a point of an outline with the direction the outline runs there.
type knot struct {
	p, d  pt
	sharp bool // a corner: the next piece is a straight line
}

const piecesPerCurve = 5

// side traces one edge of a smooth run of segments, forwards.
func (p pen) side(run []seg, side float64) []knot {
	var out []knot
	for i, s := range run {
		n := piecesPerCurve
		if s.line && s.w0 == s.w1 {
			n = 1
		}
		for j := range n + 1 {
			if j == 0 && i > 0 {
				continue
			}
			t := float64(j) / float64(n)
			a, b := max(t-0.004, 0), min(t+0.004, 1)
			out = append(out, knot{p: p.edge(s, t, side), d: p.edge(s, b, side).sub(p.edge(s, a, side)).unit()})
		}
	}
	return out
}

// stroke outlines an open run of segments.
func (p pen) stroke(run []seg, start, finish end) []sfnt.Contour {
	run = append([]seg(nil), run...)
	var tip, tail []knot
	run, tip = p.finish(run, finish)
	for i, j := 0, len(run)-1; i <= j; i, j = i+1, j-1 {
		run[i], run[j] = run[j].reverse(), run[i].reverse()
	}
	run, tail = p.finish(run, start)
	// The run now goes backwards: its right edge is the stroke's left one.
	back, forth := p.side(run, 1), reversed(p.side(run, -1))
	outline := append(append(append(back, tail...), forth...), tip...)
	return []sfnt.Contour{toContour(outline, true)}
}

// finish shortens the run for its end and gives the knots that close it, from
// the left edge around to the right.
func (p pen) finish(run []seg, e end) ([]seg, []knot) {
	last := run[len(run)-1]
	at, d := last.p[3], last.dir(1)
	l := p.support(d.turn()).mul(last.w1)
	if e == round {
		var out []knot
		for i := 1; i < 8; i++ {
			a := math.Pi * float64(i) / 8
			n := d.turn().mul(math.Cos(a)).add(d.mul(math.Sin(a)))
			out = append(out, knot{p: at.add(p.support(n).mul(last.w1)), d: n.turn().mul(-1)})
		}
		return run, out
	}
	plane := map[end]pt{square: l, level: {1, 0}, plumb: {p.Slant, 1}}[e].unit()
	if math.Abs(d.cross(plane)) < 0.35 {
		plane = l.unit() // a cut nearly along the stroke would run away
	}
	reach := func(from pt) float64 { return at.sub(from).cross(plane) / d.cross(plane) }
	corner := min(p.HX, p.HY) * last.w1 * p.Soft
	back := max(0, -min(reach(at.add(l)), reach(at.sub(l)))) + corner
	run = trim(run, back)
	last = run[len(run)-1]
	at2, d2 := last.p[3], last.dir(1)
	l2 := p.support(d2.turn()).mul(last.w1)
	left, right := at2.add(l2), at2.sub(l2)
	hit := func(from pt) pt { return from.add(d2.mul(at.sub(from).cross(plane) / d2.cross(plane))) }
	el, er := hit(left), hit(right)
	across := er.sub(el).unit()
	c := min(corner, er.sub(el).len()*0.45)
	return run, []knot{
		{p: el.sub(d2.mul(c)), d: d2, sharp: false}, {p: el.add(across.mul(c)), d: across},
		{p: er.sub(across.mul(c)), d: across}, {p: er.sub(d2.mul(c)), d: d2.mul(-1)},
	}
}

// trim takes length off the end of a run.
func trim(run []seg, length float64) []seg {
	for len(run) > 1 && run[len(run)-1].length() <= length {
		length -= run[len(run)-1].length()
		run = run[:len(run)-1]
	}
	last := run[len(run)-1]
	total := last.length()
	lo, hi := 0.0, 1.0
	for range 24 {
		mid := (lo + hi) / 2
		if a, _ := last.split(mid); a.length() > max(total-length, total*0.02) {
			hi = mid
		} else {
			lo = mid
		}
	}
	run[len(run)-1], _ = last.split(lo)
	return run
}

// ring outlines a closed run: an outer contour and a counter.
func (p pen) ring(run []seg) []sfnt.Contour {
	a, b := p.side(run, 1), p.side(run, -1)
	ca, cb := toContour(a[:len(a)-1], true), toContour(b[:len(b)-1], true)
	if math.Abs(area(ca)) > math.Abs(area(cb)) {
		flip(cb)
	} else {
		flip(ca)
	}
	return []sfnt.Contour{ca, cb}
}

func reversed(k []knot) []knot {
	out := make([]knot, len(k))
	for i, v := range k {
		out[len(k)-1-i] = knot{p: v.p, d: v.d.mul(-1)}
	}
	return out
}

// toContour joins knots by quadratic curves whose control points lie where the
// tangents meet, and by lines where they do not. outer makes it run clockwise,
// as TrueType wants filled contours to.
func toContour(k []knot, outer bool) sfnt.Contour {
	var c sfnt.Contour
	put := func(p pt, on bool) {
		q := sfnt.Point{X: int16(math.Round(p.x)), Y: int16(math.Round(p.y)), On: on}
		if n := len(c); n == 0 || c[n-1] != q {
			c = append(c, q)
		}
	}
	for i, a := range k {
		b := k[(i+1)%len(k)]
		put(a.p, true)
		if m, ok := meet(a, b); ok && !a.sharp {
			put(m, false)
		}
	}
	if n := len(c); n > 1 && c[0].X == c[n-1].X && c[0].Y == c[n-1].Y {
		c = c[:n-1]
	}
	if outer && area(c) > 0 {
		flip(c)
	}
	return c
}

// meet finds where the tangents at two knots cross, if that is a sound control
// point: ahead of a, behind b, and not on the straight line between them.
func meet(a, b knot) (pt, bool) {
	ab := b.p.sub(a.p)
	x := a.d.cross(b.d)
	if math.Abs(x) < 0.02 || ab.len() < 1.5 {
		return pt{}, false
	}
	t := ab.cross(b.d) / x
	u := ab.cross(a.d) / x
	if t <= 0 || u >= 0 || t > 3*ab.len() || -u > 3*ab.len() {
		return pt{}, false
	}
	return a.p.add(a.d.mul(t)), true
}

// area is twice the signed area of the contour's points: positive when it runs
// counter-clockwise.
func area(c sfnt.Contour) float64 {
	sum := 0.0
	for i, a := range c {
		b := c[(i+1)%len(c)]
		sum += float64(a.X)*float64(b.Y) - float64(b.X)*float64(a.Y)
	}
	return sum
}

func flip(c sfnt.Contour) {
	for i, j := 0, len(c)-1; i < j; i, j = i+1, j-1 {
		c[i], c[j] = c[j], c[i]
	}
}
