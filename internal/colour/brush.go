package colour

import (
	"image/color"
	"math"
)

// A shade is a brush with its colours ready, from 0 to 1. They pass into each other before they are multiplied
// by their alphas, as browsers have it.
type shade struct {
	*Brush
	colours [][4]float64
}

func (b *Brush) shade(foreground color.NRGBA) shade {
	s := shade{Brush: b}
	for _, stop := range b.Stops {
		c := stop.RGBA
		if stop.Foreground {
			c = [4]uint8{foreground.R, foreground.G, foreground.B, foreground.A}
		}
		alpha := float64(c[3]) / 255 * stop.Alpha
		s.colours = append(s.colours, [4]float64{float64(c[0]) / 255, float64(c[1]) / 255, float64(c[2]) / 255, alpha})
	}
	return s
}

// at is the colour at a point, in font units, multiplied by its alpha; nothing where the brush has none.
func (s *shade) at(x, y float64) [4]float64 {
	c := s.plain(x, y)
	return [4]float64{c[0] * c[3], c[1] * c[3], c[2] * c[3], c[3]}
}

func (s *shade) plain(x, y float64) [4]float64 {
	if s.Kind == Solid {
		return s.colours[0]
	}
	var t float64
	there := true
	switch p := s.P; s.Kind {
	case Linear:
		t, there = along(p, x, y)
	case Radial:
		t, there = between(p, x, y)
	case Sweep:
		turn := math.Atan2(y-p[1], x-p[0])
		if turn < 0 {
			turn += 2 * math.Pi
		}
		if t = (turn - p[2]) / (p[3] - p[2]); p[2] == p[3] {
			t, there = math.Copysign(1e9, turn-p[2]), s.Extend == Pad
		}
	}
	if !there || math.IsNaN(t) {
		return [4]float64{}
	}
	return s.line(t)
}

// along is how far a point is on the way of a linear gradient (COLR, "Linear gradients"): lines of one
// colour are parallel to the one from the first point to the third.
func along(p [6]float64, x, y float64) (float64, bool) {
	dx, dy, rx, ry := p[2]-p[0], p[3]-p[1], p[4]-p[0], p[5]-p[1]
	across := rx*rx + ry*ry
	if across == 0 { // no third point: lines of one colour stand upright on the way
		rx, ry, across = -dy, dx, dx*dx+dy*dy
	}
	if dx*ry-dy*rx == 0 {
		return 0, false
	}
	// The way, upright to the lines of one colour.
	k := (dx*rx + dy*ry) / across
	wx, wy := dx-k*rx, dy-k*ry
	return ((x-p[0])*wx + (y-p[1])*wy) / (wx*wx + wy*wy), true
}

// between is which of the circles between two, and beyond them, goes through a point and lies on top
// (COLR, "Radial gradients").
func between(p [6]float64, x, y float64) (float64, bool) {
	cx, cy, dr := p[3]-p[0], p[4]-p[1], p[5]-p[2]
	px, py := x-p[0], y-p[1]
	a, b, c := cx*cx+cy*cy-dr*dr, px*cx+py*cy+p[2]*dr, px*px+py*py-p[2]*p[2]
	if math.Abs(a) < 1e-9 {
		if b == 0 {
			return 0, false
		}
		t := c / (2 * b)
		return t, p[2]+t*dr >= 0
	}
	d := b*b - a*c
	if d < 0 {
		return 0, false
	}
	root := math.Sqrt(d)
	one, two := (b+root)/a, (b-root)/a
	one, two = max(one, two), min(one, two)
	if p[2]+one*dr >= 0 {
		return one, true
	}
	return two, p[2]+two*dr >= 0
}

// line is the colour at a place of the line of stops, or outside of them.
func (s *shade) line(t float64) [4]float64 {
	n := len(s.Stops) - 1
	first, last := s.Stops[0].At, s.Stops[n].At
	if whole := last - first; s.Extend != Pad && whole > 0 && (t < first || t > last) {
		turns := math.Floor((t - first) / whole)
		t -= turns * whole
		if s.Extend == Reflect && math.Mod(turns, 2) != 0 {
			t = last - (t - first)
		}
	}
	switch {
	case t < first:
		return s.colours[0]
	case t >= last:
		return s.colours[n]
	}
	i := 0
	for s.Stops[i+1].At <= t {
		i++
	}
	a, b := s.colours[i], s.colours[i+1]
	k := (t - s.Stops[i].At) / (s.Stops[i+1].At - s.Stops[i].At)
	for c := range a {
		a[c] += (b[c] - a[c]) * k
	}
	return a
}
