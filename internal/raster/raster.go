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

// mostPixels bounds one picture: no glyph of a screen is larger.
const mostPixels = 1 << 24

// A Raster fills outlines; its memory is used again for the next. It is not safe for use by
// several goroutines.
type Raster struct {
	stride, height int
	area           []int32 // in 1/one of a pixel; zero between two calls
	out            []byte
	inside         bool // nothing of the path is beyond the box
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

// Extent is the box of a path's points, in font units; NoExtent for an empty one.
func Extent(path sfnt.Path) [4]float32 {
	if len(path) == 0 {
		return NoExtent
	}
	x0, y0 := path[0].P[0][0], path[0].P[0][1]
	x1, y1 := x0, y0
	for i := range path {
		s := &path[i]
		for k := range points(s.Op) {
			x, y := s.P[k][0], s.P[k][1]
			x0, x1, y0, y1 = min(x0, x), max(x1, x), min(y0, y), max(y1, y)
		}
	}
	return [4]float32{x0, y0, x1, y1}
}

// NoExtent is the box of nothing.
var NoExtent = [4]float32{1, 1, 0, 0}

// Scaled is the smallest box of whole pixels around an extent at a scale.
func Scaled(e [4]float32, scale float64) Box {
	if e == NoExtent {
		return Box{}
	}
	return Box{floor(float64(e[0]) * scale), floor(float64(e[1]) * scale), ceil(float64(e[2]) * scale), ceil(float64(e[3]) * scale)}
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
	if w <= 0 || h <= 0 || w > mostPixels/h {
		return nil
	}
	b := Bounds(path, scale, dx, dy)
	r.inside = b.XMin >= box.XMin && b.XMax <= box.XMax && b.YMin >= box.YMin && b.YMax <= box.YMax
	return r.fill(path, scale, dx, dy, box)
}

// FillOwn is Fill for the path's own box, which is that of Scaled.
func (r *Raster) FillOwn(path sfnt.Path, scale float64, box Box) []byte {
	w, h := box.Width(), box.Height()
	if w <= 0 || h <= 0 || w > mostPixels/h {
		return nil
	}
	r.inside = true
	return r.fill(path, scale, 0, 0, box)
}

func (r *Raster) fill(path sfnt.Path, scale, dx, dy float64, box Box) []byte {
	w, h := box.Width(), box.Height()
	r.stride, r.height = w+2, h
	if n := r.stride * (h + 1); cap(r.area) < n { // a row more: rounding can pass the last one
		r.area = make([]int32, n)
	} else {
		r.area = r.area[:n]
	}
	kx, ky := float32(scale), float32(-scale)
	ox, oy := float32(dx-float64(box.XMin)), float32(float64(box.YMax)-dy)
	var x, y, startX, startY float32
	for i := range path {
		s := &path[i]
		ax, ay := s.P[0][0]*kx+ox, s.P[0][1]*ky+oy
		switch s.Op {
		case sfnt.MoveTo:
			r.line(x, y, startX, startY)
			x, y, startX, startY = ax, ay, ax, ay
		case sfnt.LineTo:
			r.line(x, y, ax, ay)
			x, y = ax, ay
		case sfnt.QuadTo:
			toX, toY := s.P[1][0]*kx+ox, s.P[1][1]*ky+oy
			r.quad(x, y, ax, ay, toX, toY)
			x, y = toX, toY
		case sfnt.CubeTo:
			toX, toY := s.P[2][0]*kx+ox, s.P[2][1]*ky+oy
			r.cube(x, y, ax, ay, s.P[1][0]*kx+ox, s.P[1][1]*ky+oy, toX, toY)
			x, y = toX, toY
		}
	}
	r.line(x, y, startX, startY)
	return r.sum(w, h)
}

// one is the area of a pixel: whole numbers add up without branches, and faster; it is full
// coverage, 255, with eight bits behind the point.
const one = 255 << 8

// sum adds up the areas of each row, and leaves nothing of them.
func (r *Raster) sum(w, h int) []byte {
	if cap(r.out) < w*h {
		r.out = make([]byte, w*h)
	}
	out := r.out[:w*h]
	for y := range h {
		row, to := r.area[y*r.stride:][:w], out[y*w:][:w]
		acc := int32(0)
		for x := range row {
			acc += row[x]
			sign := acc >> 31
			to[x] = byte((min(acc^sign-sign, one) + 1<<7) >> 8)
		}
	}
	clear(r.area)
	return out
}

// flat is how far a line may be from the curve that it stands for, in pixels. FreeType leaves a
// quadratic curve up to three times as far off.
const flat = 0.02

// mostPieces is how many lines a curve becomes at most.
const mostPieces = 256

// pieces is how many lines a curve becomes whose middle is so far, squared, from the line.
func pieces(bend float32) int {
	if bend <= flat*flat {
		return 1
	}
	return min(mostPieces, 1+int(math.Sqrt(math.Sqrt(float64(bend))/flat)))
}

func (r *Raster) quad(x0, y0, x1, y1, x2, y2 float32) {
	bx, by := x0-2*x1+x2, y0-2*y1+y2
	bend, n := (bx*bx+by*by)/16, 1
	for most := float32(flat * flat); bend > most && n < mostPieces; {
		n++
		off := flat * float32(n*n)
		most = off * off
	}
	if n == 1 {
		r.line(x0, y0, x2, y2)
		return
	}
	x, y, step := x0, y0, 1/float32(n)
	goX, goY := 2*(x1-x0), 2*(y1-y0)
	for i := 1; i < n; i++ {
		t := float32(i) * step
		toX, toY := x0+t*(goX+t*bx), y0+t*(goY+t*by)
		r.line(x, y, toX, toY)
		x, y = toX, toY
	}
	r.line(x, y, x2, y2)
}

func (r *Raster) cube(x0, y0, x1, y1, x2, y2, x3, y3 float32) {
	ax, ay, bx, by := x0-2*x1+x2, y0-2*y1+y2, x1-2*x2+x3, y1-2*y2+y3
	n := pieces(max(ax*ax+ay*ay, bx*bx+by*by) * 9 / 16)
	x, y, step := x0, y0, 1/float32(n)
	for i := 1; i < n; i++ {
		t := float32(i) * step
		u := 1 - t
		a, b, c, d := u*u*u, 3*u*u*t, 3*u*t*t, t*t*t
		toX, toY := a*x0+b*x1+c*x2+d*x3, a*y0+b*y1+c*y2+d*y3
		r.line(x, y, toX, toY)
		x, y = toX, toY
	}
	r.line(x, y, x3, y3)
}

// line adds an edge.
func (r *Raster) line(x0, y0, x1, y1 float32) {
	dir := float32(one)
	if y0 > y1 {
		x0, y0, x1, y1, dir = x1, y1, x0, y0, -one
	}
	if !r.inside {
		r.clipped(x0, y0, x1, y1, dir)
		return
	}
	first, last := int(y0), int(y1)
	row := r.area[first*r.stride:]
	if first == last { // within a row
		d, column := (y1-y0)*dir, int(x0)
		if column == int(x1) && x0 >= 0 { // within a pixel
			part := int32(((x0+x1)/2 - float32(column)) * d)
			to := row[column : column+2 : column+2]
			to[0] += int32(d) - part
			to[1] += part
			return
		}
		span(row, x0, x1, d, d/(x1-x0))
		return
	}
	top, rest := (float32(first+1)-y0)*dir, (y1-float32(last))*dir
	if x0 == x1 { // a stem
		r.upright(first, last, x0, top, rest, dir)
		return
	}
	slope := (x1 - x0) / (y1 - y0)
	steep := dir / slope
	next := x0 + slope*(float32(first+1)-y0)
	span(row, x0, next, top, steep)
	for first++; first < last; first++ {
		x := next
		next += slope
		row = row[r.stride:]
		span(row, x, next, dir, steep)
	}
	if rest != 0 {
		span(row[r.stride:], next, x1, rest, steep)
	}
}

// upright adds an edge that stands upright: the same part of a pixel in each row.
func (r *Raster) upright(first, last int, x, top, rest, dir float32) {
	x = max(0, x)
	column := int(x)
	into := x - float32(column)
	at := first*r.stride + column
	add := func(d float32) {
		part := int32(into * d)
		to := r.area[at : at+2 : at+2]
		to[0] += int32(d) - part
		to[1] += part
	}
	add(top)
	left, right := int32(dir)-int32(into*dir), int32(into*dir)
	for first++; first < last; first++ {
		at += r.stride
		to := r.area[at : at+2 : at+2]
		to[0] += left
		to[1] += right
	}
	if at += r.stride; rest != 0 {
		add(rest)
	}
}

// span adds the part of an edge in one row, from x to next, which is d high; steep is d by the way
// from x to next.
func span(row []int32, x, next, d, steep float32) {
	left, right := x, next
	if left > right {
		left, right, steep = right, left, -steep
	}
	if left < 0 { // by rounding
		left = 0
	}
	first, whole := int(left), int32(d)
	into := left - float32(first)
	if right <= float32(first+1) { // within a pixel
		part := int32((into + right - float32(first)) / 2 * d)
		to := row[first : first+2 : first+2]
		to[0] += whole - part
		to[1] += part
		return
	}
	last := int(right)
	if float32(last) < right {
		last++
	}
	beyond := right - float32(last) + 1
	begin := int32(steep * (1 - into) * (1 - into) / 2)
	end := int32(steep * beyond * beyond / 2)
	if last == first+2 {
		to := row[first : first+3 : first+3]
		to[0] += begin
		to[1] += whole - begin - end
		to[2] += end
		return
	}
	row = row[first : last+1]
	second := int32(steep * (1.5 - into))
	each := int32(steep)
	row[0] += begin
	row[1] += second - begin
	n := last - first
	for i := 2; i < n-1; i++ {
		row[i] += each
	}
	row[n-1] += whole - second - int32(n-3)*each - end
	row[n] += end
}

// clipped adds an edge of a path that may be beyond the box, from above downwards. What is left or
// right of the box counts at its border.
func (r *Raster) clipped(x0, y0, x1, y1, dir float32) {
	if y0 == y1 || x0 != x0 || x1 != x1 || y0 != y0 || y1 != y1 { // level, or not a number
		return
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
	most := float32(r.stride - 2)
	for y := int(y0); float32(y) < y1; y++ {
		dy := min(float32(y+1), y1) - max(float32(y), y0)
		next := x + slope*dy
		from, to := max(0, min(most, x)), max(0, min(most, next))
		span(r.area[y*r.stride:(y+1)*r.stride], from, to, dy*dir, dy*dir/(to-from))
		x = next
	}
}
