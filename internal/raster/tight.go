package raster

import (
	"math"

	"notaria/internal/sfnt"
)

// Tight is the box that a path itself fills, in font units: the extremes of its curves, not their
// control points; NoExtent for an empty one.
func Tight(path sfnt.Path) [4]float32 {
	if len(path) == 0 {
		return NoExtent
	}
	box := [4]float64{math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)}
	var at [2]float64
	for _, s := range path {
		n := points(s.Op)
		curve := make([][2]float64, 1, 4)
		curve[0] = at
		for k := range n {
			curve = append(curve, [2]float64{float64(s.P[k][0]), float64(s.P[k][1])})
		}
		at = curve[n]
		if s.Op == sfnt.MoveTo {
			curve = curve[n:] // a contour that draws nothing fills its point alone
		}
		for axis := range 2 {
			for _, v := range extremes(curve, axis) {
				box[axis], box[axis+2] = min(box[axis], v), max(box[axis+2], v)
			}
		}
	}
	return [4]float32{float32(box[0]), float32(box[1]), float32(box[2]), float32(box[3])}
}

// extremes are the ends of a line or a Bézier curve on an axis, and the values where it turns.
func extremes(p [][2]float64, axis int) []float64 {
	last := len(p) - 1
	out := []float64{p[0][axis], p[last][axis]}
	switch last {
	case 2:
		a, b, c := p[0][axis], p[1][axis], p[2][axis]
		if d := a - 2*b + c; d != 0 {
			if t := (a - b) / d; t > 0 && t < 1 {
				out = append(out, a*(1-t)*(1-t)+2*b*t*(1-t)+c*t*t)
			}
		}
	case 3:
		w, x, y, z := p[0][axis], p[1][axis], p[2][axis], p[3][axis]
		a, b, c := -w+3*x-3*y+z, 2*(w-2*x+y), x-w
		for _, t := range roots(a, b, c) {
			if t > 0 && t < 1 {
				u := 1 - t
				out = append(out, u*u*u*w+3*u*u*t*x+3*u*t*t*y+t*t*t*z)
			}
		}
	}
	return out
}

// roots are those of a·t² + b·t + c.
func roots(a, b, c float64) []float64 {
	if math.Abs(a) < 1e-12 {
		if b == 0 {
			return nil
		}
		return []float64{-c / b}
	}
	d := b*b - 4*a*c
	if d < 0 {
		return nil
	}
	d = math.Sqrt(d)
	return []float64{(-b + d) / (2 * a), (-b - d) / (2 * a)}
}
