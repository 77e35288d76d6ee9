// Package raster turns outlines into coverage: how much of each pixel an outline covers,
// exactly, without sampling.
//
// An edge adds to each pixel that it crosses the area to its right in that pixel, and to the
// next pixel what is left of its height; the sum along a row is then the coverage. Where
// contours of the same direction lie over each other the sum is more than one, and cut off.
package raster

import (
	"math"

	"notaria/internal/sfnt"
)

// A Box is a rectangle of whole pixels; y points up, as in outlines.
type Box struct{ XMin, YMin, XMax, YMax int }

// Width and Height are its measures in pixels.
func (b Box) Width() int  { return b.XMax - b.XMin }
func (b Box) Height() int { return b.YMax - b.YMin }

// maxPixels bounds one picture: no glyph of a screen is larger.
const maxPixels = 1 << 24

// A Raster fills outlines; its memory is used again for the next. It is not safe for use by
// several goroutines.
type Raster struct {
	stride, height int
	area           []float32
	out            []byte
}

// Bounds is the smallest box of whole pixels around a path at a scale, in pixels per font
// unit, moved by a part of a pixel. Control points count: they lie outside of no extreme that
// a font marks by a point.
func Bounds(path sfnt.Path, scale, dx, dy float64) Box {
	if len(path) == 0 {
		return Box{}
	}
	x0, y0, x1, y1 := math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)
	for _, s := range path {
		for i := range points(s.Op) {
			x, y := float64(s.P[i][0])*scale+dx, float64(s.P[i][1])*scale+dy
			x0, x1, y0, y1 = min(x0, x), max(x1, x), min(y0, y), max(y1, y)
		}
	}
	return Box{floor(x0), floor(y0), ceil(x1), ceil(y1)}
}

func points(op sfnt.Op) int {
	switch op {
	case sfnt.QuadTo:
		return 2
	case sfnt.CubeTo:
		return 3
	}
	return 1
}

// far keeps wild numbers in what an int can hold.
func far(v float64) float64 { return max(-1<<30, min(1<<30, v)) }
func floor(v float64) int   { return int(math.Floor(far(v))) }
func ceil(v float64) int    { return int(math.Ceil(far(v))) }

// Fill is the coverage of each pixel of a box, from 0 to 255, row by row from the top. The
// slice is good until the next call. A box of more than 16 million pixels is empty.
func (r *Raster) Fill(path sfnt.Path, scale, dx, dy float64, box Box) []byte {
	w, h := box.Width(), box.Height()
	if w <= 0 || h <= 0 || w > maxPixels/h {
		return nil
	}
	r.stride, r.height = w+2, h
	r.area = zeroed(r.area, r.stride*h)
	at := func(p [2]float32) (float32, float32) {
		return float32(float64(p[0])*scale + dx - float64(box.XMin)), float32(float64(box.YMax) - float64(p[1])*scale - dy)
	}
	var x, y, startX, startY float32
	for _, s := range path {
		switch s.Op {
		case sfnt.MoveTo:
			r.line(x, y, startX, startY)
			x, y = at(s.P[0])
			startX, startY = x, y
		case sfnt.LineTo:
			toX, toY := at(s.P[0])
			r.line(x, y, toX, toY)
			x, y = toX, toY
		case sfnt.QuadTo:
			cx, cy := at(s.P[0])
			toX, toY := at(s.P[1])
			r.quad(x, y, cx, cy, toX, toY)
			x, y = toX, toY
		case sfnt.CubeTo:
			ax, ay := at(s.P[0])
			bx, by := at(s.P[1])
			toX, toY := at(s.P[2])
			r.cube(x, y, ax, ay, bx, by, toX, toY)
			x, y = toX, toY
		}
	}
	r.line(x, y, startX, startY)
	return r.sum(w, h)
}

func zeroed(b []float32, n int) []float32 {
	if cap(b) < n {
		return make([]float32, n)
	}
	b = b[:n]
	clear(b)
	return b
}

// sum adds up the areas of each row.
func (r *Raster) sum(w, h int) []byte {
	if cap(r.out) < w*h {
		r.out = make([]byte, w*h)
	}
	out := r.out[:w*h]
	for y := range h {
		row, to := r.area[y*r.stride:y*r.stride+w], out[y*w:y*w+w]
		var acc float32
		for x, a := range row {
			acc += a
			v := acc
			if v < 0 {
				v = -v
			}
			if v > 1 {
				v = 1
			}
			to[x] = byte(v*255 + 0.5)
		}
	}
	return out
}

// flat is how far a line may be from the curve that it stands for, in pixels.
const flat = 0.02

// maxPieces is how many lines a curve becomes at most.
const maxPieces = 256

func pieces(bend float32) int {
	return max(1, min(maxPieces, int(math.Ceil(math.Sqrt(float64(bend)/flat)))))
}

func hypot(x, y float32) float32 { return float32(math.Hypot(float64(x), float64(y))) }

func (r *Raster) quad(x0, y0, x1, y1, x2, y2 float32) {
	n := pieces(hypot(x0-2*x1+x2, y0-2*y1+y2) / 4)
	x, y := x0, y0
	for i := 1; i <= n; i++ {
		t := float32(i) / float32(n)
		u := 1 - t
		toX, toY := u*u*x0+2*u*t*x1+t*t*x2, u*u*y0+2*u*t*y1+t*t*y2
		r.line(x, y, toX, toY)
		x, y = toX, toY
	}
}

func (r *Raster) cube(x0, y0, x1, y1, x2, y2, x3, y3 float32) {
	bend := max(hypot(x0-2*x1+x2, y0-2*y1+y2), hypot(x1-2*x2+x3, y1-2*y2+y3))
	n := pieces(bend * 3 / 4)
	x, y := x0, y0
	for i := 1; i <= n; i++ {
		t := float32(i) / float32(n)
		u := 1 - t
		a, b, c, d := u*u*u, 3*u*u*t, 3*u*t*t, t*t*t
		toX, toY := a*x0+b*x1+c*x2+d*x3, a*y0+b*y1+c*y2+d*y3
		r.line(x, y, toX, toY)
		x, y = toX, toY
	}
}

// line adds an edge. What is left or right of the box counts at its border.
func (r *Raster) line(x0, y0, x1, y1 float32) {
	if y0 == y1 || x0 != x0 || x1 != x1 || y0 != y0 || y1 != y1 { // level, or not a number
		return
	}
	dir := float32(1)
	if y0 > y1 {
		x0, y0, x1, y1, dir = x1, y1, x0, y0, -1
	}
	if y1 <= 0 || y0 >= float32(r.height) {
		return
	}
	slope := (x1 - x0) / (y1 - y0)
	x := x0
	if y0 < 0 {
		x, y0 = x-y0*slope, 0
	}
	y1 = min(y1, float32(r.height))
	for y := int(y0); float32(y) < y1; y++ {
		dy := min(float32(y+1), y1) - max(float32(y), y0)
		next := x + slope*dy
		r.span(r.area[y*r.stride:(y+1)*r.stride], x, next, dy*dir)
		x = next
	}
}

// span adds the part of an edge in one row, from x to next, which is d high.
func (r *Raster) span(row []float32, x, next, d float32) {
	most := float32(r.stride - 2)
	x, next = max(0, min(most, x)), max(0, min(most, next))
	left, right := min(x, next), max(x, next)
	first := int(left)
	last := int(math.Ceil(float64(right)))
	if last <= first+1 {
		part := (x+next)/2 - float32(first)
		row[first] += d - d*part
		row[first+1] += d * part
		return
	}
	steep := 1 / (right - left)
	into := left - float32(first)
	begin := steep * (1 - into) * (1 - into) / 2
	beyond := right - float32(last) + 1
	end := steep * beyond * beyond / 2
	row[first] += d * begin
	if last == first+2 {
		row[first+1] += d * (1 - begin - end)
	} else {
		second := steep * (1.5 - into)
		row[first+1] += d * (second - begin)
		for i := first + 2; i < last-1; i++ {
			row[i] += d * steep
		}
		row[last-1] += d * (1 - second - float32(last-first-3)*steep - end)
	}
	row[last] += d * end
}
