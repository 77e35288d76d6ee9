package letters

import (
	"math"

	"notaria/internal/sfnt"
)

// capstans are the cuts of Capstan Slab: the skeletons of Skerry Sans on feet, for headings and for the
// names of ships.
var capstans = []Style{
	{Name: "Regular", Weight: 400, Stem: 82, Bar: 70, Narrow: 1.04, Family: "Capstan Slab", Slab: 58},
	{Name: "Bold", Weight: 700, Stem: 132, Bar: 104, Narrow: 1.06, Family: "Capstan Slab", Slab: 62},
}

// Capstan draws the cuts of Capstan Slab, by their names.
func Capstan() (map[string][]byte, error) {
	out := map[string][]byte{}
	for _, st := range capstans {
		font, err := Font(st)
		if err != nil {
			return nil, err
		}
		out[st.Name] = font
	}
	return out, nil
}

// vertex is how thin a stroke ends where two meet in a point: such ends have no feet.
const vertex = 0.9

// feet puts slabs under and on the ends of a stroke that stand on one of the family's heights.
func (d *draft) feet(p *path, start, finish end) {
	if d.style.Slab == 0 || len(p.segs) == 0 {
		return
	}
	first, last := p.segs[0], p.segs[len(p.segs)-1]
	if start == level && first.w0 >= vertex {
		d.slab(first.p[0], first.p[0].x-first.p[1].x, first.w0)
	}
	if finish == level && last.w1 >= vertex {
		d.slab(last.p[3], last.p[3].x-last.p[2].x, last.w1)
	}
}

// slab inks one at the end of a stroke; lean is not 0 where the stroke is a diagonal. Upright strokes of
// small letters have one to the left alone on their heads.
func (d *draft) slab(at pt, lean, w float64) {
	thick := d.t * 0.94
	var y float64
	head := true
	switch {
	case math.Abs(at.y) < 2 || math.Abs(at.y-descender) < 2:
		y, head = at.y+thick, false
	case math.Abs(at.y-capHeight) < 2 || math.Abs(at.y-xHeight) < 2 || math.Abs(at.y-ascender) < 2:
		if y = at.y - thick; d.of >= '0' && d.of <= '9' {
			return // the flag of 1 and the bar of 7 are enough
		}
	default:
		return
	}
	half := d.s*w + d.style.Slab
	left, right := at.x-half, at.x+half
	if head && math.Abs(lean) < 1 && math.Abs(at.y-capHeight) > 2 {
		right = at.x
	}
	q := pen{HX: d.s, HY: thick, Soft: d.Soft}
	d.ink = append(d.ink, q.stroke([]seg{from(left, y).line(right, y).segs[0]}, plumb, plumb)...)
}

// ticks puts upright slabs on the ends of bars that are a letter's own ends, at its head or its foot.
func (d *draft) ticks(x0, x1, y float64) {
	if d.style.Slab == 0 || d.of == 't' || d.of == 'f' || d.of >= '0' && d.of <= '9' {
		return
	}
	long := d.style.Slab + 2*d.t + 26
	for _, x := range []float64{x0, x1} {
		inside := d.s * 0.8
		switch {
		case math.Abs(x-d.w) < 10:
			x -= inside - 3
		case math.Abs(x) < 10:
			x += inside - 3
		default:
			continue
		}
		from0, to := 0.0, 0.0
		switch {
		case y > xHeight*0.8:
			from0, to = y+d.t, y+d.t-long
		case y < capHeight*0.14:
			from0, to = y-d.t, y-d.t+long
		default:
			continue
		}
		q := pen{HX: inside, HY: d.t, Soft: d.Soft}
		d.ink = append(d.ink, q.stroke([]seg{from(x, from0).line(x, to).segs[0]}, level, level)...)
	}
}

// slabSpace is the white beside a letter with feet, which reach out into it.
func (d *draft) slabSpace(b bearing) float64 {
	return [...]float64{straight: d.style.Slab + 31, bowl: 47, open: 40, slope: d.style.Slab*0.72 + 18, none: 0}[b] - (d.style.Stem-84)*0.12
}

// slabPanose is the mark of slab serifs (PANOSE, Latin text, serif style: square).
func slabPanose(o *sfnt.OS2, st Style) {
	if st.Slab > 0 {
		o.Panose[1] = 6
	}
}
