package raster

import (
	"math"
	"slices"

	"notaria/internal/sfnt"
)

// Scan is an outline in pixels without shades, 1 where there is ink, row by row from the top: a
// pixel is on if its centre lies in the ink. Where a stroke is so thin that it passes between
// centres, the pixel that it passes through is on, so that no stroke is lost or broken (as
// TrueType's drop-out control does). A box of more than 16 million pixels is empty.
func Scan(path sfnt.Path, box Box) []byte {
	w, h := box.Width(), box.Height()
	if w <= 0 || h <= 0 || w > mostPixels/h {
		return nil
	}
	out := make([]byte, w*h)
	lines := flatten(path, box)
	spans(lines, 1, h, func(row int, from, to float64) {
		fill(from, to, w, func(x int) { out[row*w+x] = 1 })
	})
	spans(lines, 0, w, func(column int, from, to float64) {
		if first, last := centres(from, to); first > last { // no centre in it
			fill(from, to, h, func(y int) { out[y*w+column] = 1 })
		}
	})
	return out
}

// centres are the first and the last pixel whose centre lies in a span.
func centres(from, to float64) (first, last int) {
	return int(math.Ceil(from - 0.5)), int(math.Ceil(to-0.5)) - 1
}

// fill sets the pixels of a span of n pixels in all, at least one.
func fill(from, to float64, n int, set func(int)) {
	first, last := centres(from, to)
	if first > last {
		first = int(math.Floor((from + to) / 2))
		last = first
	}
	for i := max(0, first); i <= min(last, n-1); i++ {
		set(i)
	}
}

// flatten is a path as lines in the pixels of a box, y down.
func flatten(path sfnt.Path, box Box) [][2]point {
	s := newShape(path, fine)
	out := s.lines
	for i := range out {
		for k := range 2 {
			out[i][k] = point{out[i][k][0] - float64(box.XMin), float64(box.YMax) - out[i][k][1]}
		}
	}
	return out
}

// spans calls with each piece of ink along the middle of each of n rows (axis 1) or columns
// (axis 0).
func spans(lines [][2]point, axis, n int, each func(i int, from, to float64)) {
	type crossing struct {
		at  float64
		dir int
	}
	rows := make([][]crossing, n)
	other := 1 - axis
	for _, l := range lines {
		a, b, dir := l[0], l[1], 1
		if a[axis] > b[axis] {
			a, b, dir = b, a, -1
		}
		if a[axis] == b[axis] {
			continue
		}
		slope := (b[other] - a[other]) / (b[axis] - a[axis])
		for i := max(0, int(math.Ceil(a[axis]-0.5))); i < n && float64(i)+0.5 < b[axis]; i++ {
			rows[i] = append(rows[i], crossing{a[other] + (float64(i)+0.5-a[axis])*slope, dir})
		}
	}
	for i, row := range rows {
		slices.SortFunc(row, func(a, b crossing) int { return compare(a.at, b.at, float64(a.dir), float64(b.dir)) })
		winding, from := 0, 0.0
		for _, c := range row {
			if winding == 0 {
				from = c.at
			}
			if winding += c.dir; winding == 0 && c.at > from {
				each(i, from, c.at)
			}
		}
	}
}
