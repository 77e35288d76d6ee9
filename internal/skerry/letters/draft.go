// Package letters draws the demo's typefaces. A letter is a skeleton of lines
// and curves, stroked with an elliptical pen; weight, slant and the shape of
// stroke ends are numbers of the pen, so one set of skeletons gives a family.
//
// Distances are in font units, 1000 to the em. Skeletons are drawn between x =
// 0 and the letter's own width, both being the outer edges of the ink; side
// bearings are added when a letter is finished.
package letters

import "notaria/internal/sfnt"

// A Style is one cut of the family.
type Style struct {
	Name   string
	Weight uint16  // OS/2 weight class
	Stem   float64 // thickness of upright stems
	Bar    float64 // thickness of bars
	Slant  float64 // run over rise; not 0 chooses the italic forms
	Narrow float64 // scale of letter widths
	Family string  // "" for Skerry Sans
	Mono   bool    // all characters have one advance
	Slab   float64 // how far feet reach out of a stem on each side; 0 for none
}

// Styles are the cuts of Skerry Sans, light to bold, then italic.
var Styles = []Style{
	{Name: "Light", Weight: 300, Stem: 54, Bar: 49, Narrow: 1},
	{Name: "Regular", Weight: 400, Stem: 84, Bar: 73, Narrow: 1},
	{Name: "Bold", Weight: 700, Stem: 137, Bar: 112, Narrow: 1},
	{Name: "Italic", Weight: 400, Stem: 81, Bar: 71, Slant: 0.19, Narrow: 0.94},
}

// Heights of the family, from the baseline.
const (
	capHeight = 700
	xHeight   = 508
	ascender  = 738
	descender = -206
	overshoot = 11 // how far curves pass the lines that flat ends stand on
)

// bearing is the white beside a letter, by the shape of that side.
type bearing int

const (
	straight bearing = iota // a stem
	bowl                    // a full curve
	open                    // ends of arms, open curves
	slope                   // diagonals
	none
)

// draft is a letter in the making.
type draft struct {
	pen
	style  Style
	s, t   float64 // half a stem, half a bar
	w      float64 // the letter's width
	lsb    bearing
	rsb    bearing
	fixed  float64 // advance width if not from bearings
	ink    []sfnt.Contour
	italic bool
	of     rune // the character, where a form depends on it
}

func newDraft(st Style) *draft {
	return &draft{
		pen:   pen{HX: st.Stem / 2, HY: st.Bar / 2, Soft: 0.42, Slant: st.Slant},
		style: st, s: st.Stem / 2, t: st.Bar / 2, italic: st.Slant != 0,
	}
}

// width sets the letter's width from that of the regular weight; grow says how
// much of a heavier stem goes into the width.
func (d *draft) width(regular, grow float64, l, r bearing) {
	d.w = regular*d.style.Narrow + (d.style.Stem-84)*grow
	d.lsb, d.rsb = l, r
}

func (d *draft) space(b bearing) float64 {
	if d.style.Slab > 0 {
		return d.slabSpace(b)
	}
	full := 76 - (d.style.Stem-84)*0.24
	return full * [...]float64{straight: 1, bowl: 0.58, open: 0.52, slope: 0.16, none: 0}[b]
}

// path is a skeleton under construction.
type path struct {
	segs []seg
	p    pt
	w    float64
}

// from starts a path with the pen at its full width.
func from(x, y float64) *path { return &path{p: pt{x, y}, w: 1} }

// thin starts a path with the pen scaled, for strokes that grow out of a stem.
func thin(x, y, w float64) *path { return &path{p: pt{x, y}, w: w} }

// swell sets the pen's scale at the end of the next piece.
func (p *path) swell(w float64) *path {
	p.segs[len(p.segs)-1].w1 = w
	p.w = w
	return p
}

func (p *path) piece(a, b, to pt, line bool) *path {
	p.segs = append(p.segs, seg{[4]pt{p.p, a, b, to}, p.w, p.w, line})
	p.p = to
	return p
}

func (p *path) line(x, y float64) *path {
	to := pt{x, y}
	return p.piece(p.p.lerp(to, 1.0/3), p.p.lerp(to, 2.0/3), to, true)
}

// The tension of quarter curves: 0.5523 is a circle; a little more is squarer
// and keeps counters open at small sizes.
const tension = 0.59

// vh turns a quarter, leaving upright and arriving level.
func (p *path) vh(x, y float64) *path {
	return p.piece(pt{p.p.x, p.p.y + (y-p.p.y)*tension}, pt{x + (p.p.x-x)*tension, y}, pt{x, y}, false)
}

// hv turns a quarter, leaving level and arriving upright.
func (p *path) hv(x, y float64) *path {
	return p.piece(pt{p.p.x + (x-p.p.x)*tension, p.p.y}, pt{x, y + (p.p.y-y)*tension}, pt{x, y}, false)
}

// curve is a cubic with its control points given.
func (p *path) curve(ax, ay, bx, by, x, y float64) *path {
	return p.piece(pt{ax, ay}, pt{bx, by}, pt{x, y}, false)
}

// sheared gives the path's pieces after the italic shear.
func (d *draft) sheared(p *path) []seg {
	out := make([]seg, len(p.segs))
	for i, s := range p.segs {
		for j := range s.p {
			s.p[j].x += d.Slant * s.p[j].y
		}
		out[i] = s
	}
	return out
}

// stroke inks a path with the given ends.
func (d *draft) stroke(p *path, start, finish end) {
	d.ink = append(d.ink, d.pen.stroke(d.sheared(p), start, finish)...)
	d.feet(p, start, finish)
}

// stem inks an upright from y0 to y1 around x.
func (d *draft) stem(x, y0, y1 float64) { d.stroke(from(x, y0).line(x, y1), level, level) }

// bar inks a level stroke around y.
func (d *draft) bar(x0, x1, y float64) {
	d.stroke(from(x0, y).line(x1, y), plumb, plumb)
	d.ticks(x0, x1, y)
}

// diag inks a diagonal with level feet, thinned by w0 and w1 at its ends.
func (d *draft) diag(x0, y0, w0, x1, y1, w1 float64) {
	p := thin(x0, y0, w0).line(x1, y1).swell(w1)
	p.segs[0].line = w0 == w1
	d.stroke(p, level, level)
}

// oval inks a closed curve within a box of outer edges.
func (d *draft) oval(x0, y0, x1, y1 float64) {
	a, b, c, e := x0+d.s, x1-d.s, y0+d.t, y1-d.t
	mx, my := (a+b)/2, (c+e)/2
	p := from(mx, e).hv(b, my).vh(mx, c).hv(a, my).vh(mx, e)
	d.ink = append(d.ink, d.pen.ring(d.sheared(p))...)
}

// dot inks a filled round mark of radius r.
func (d *draft) dot(x, y, r float64) {
	q := pen{HX: r, HY: r}
	x += d.Slant * y
	half := q.stroke([]seg{from(x-0.5, y).line(x+0.5, y).segs[0]}, round, round)
	d.ink = append(d.ink, half...)
}

// dotSize is the radius of the dots of i, full stops and the like.
func (d *draft) dotSize() float64 { return d.s*1.16 + 5 }

// glyph finishes the letter: side bearings on, advance width set.
func (d *draft) glyph(name string) sfnt.Glyph {
	l, r := d.space(d.lsb), d.space(d.rsb)
	shift := int16(l - d.Slant*xHeight/2)
	adv := l + d.w + r
	if d.fixed > 0 {
		shift += int16((d.fixed - adv) / 2)
		adv = d.fixed
	}
	for _, c := range d.ink {
		for i := range c {
			c[i].X += shift
		}
	}
	return sfnt.Glyph{Name: name, Advance: uint16(adv + 0.5), Contours: d.ink, Overlaps: len(d.ink) > 1}
}
