package face

import (
	"unicode"

	"notaria/internal/raster"
	"notaria/internal/sfnt"
)

// drawnHeight is how high a capital is drawn to be measured, in pixels.
const drawnHeight = 160

// drawnCategory is what the letters themselves say, for the many fonts whose PANOSE and family class are empty: whether all advances are
// one, whether feet of H and n are wider than their stems, and whether these feet are as thick as stems. What is between is unknown, and so
// is a font whose letters are not built of stems.
func drawnCategory(font *sfnt.Font) string {
	paths, err := font.Paths()
	if err != nil {
		return "unknown"
	}
	if paths.Index('H') == 0 || paths.Index('n') == 0 {
		return withoutLatin(font)
	}
	if evenAdvances(paths) {
		return "mono"
	}
	h, n, o := drawLetter(paths, 'H'), drawLetter(paths, 'n'), drawLetter(paths, 'o')
	if h == nil || n == nil || o == nil {
		return "unknown"
	}
	if n.high*20 >= h.high*19 {
		n = h // capitals alone
	}
	stem, small := h.stem(), n.stem()
	if stem == 0 || !h.straight() {
		return "unknown"
	}
	bottom, top := h.foot(false)/stem, h.foot(true)/stem
	switch {
	case bottom <= plain && top <= plain && small > 0 && n.foot(false)/small <= plain:
		return "sans"
	case bottom < serifed || top < serifed:
		return "unknown"
	case h.thick()/stem >= even && o.contrast() >= even:
		return "slab"
	}
	return "serif"
}

// How wide a foot is against its stem: at most, of letters without serifs, and at least, of those with; and how thick serifs and the thin
// parts of round letters are against stems, at least, of slab serifs. What lies between is neither.
const (
	plain   = 1.2
	serifed = 1.5
	even    = 0.6
)

// withoutLatin is a font of signs where nearly all that it has are signs or characters for private use; of the letters of other scripts
// nothing is known.
func withoutLatin(font *sfnt.Font) string {
	cover, err := font.Coverage()
	if err != nil {
		return "unknown"
	}
	signs, all := 0, 0
	for _, c := range cover {
		for r := c.First; r <= c.Last && all < 20_000; r++ {
			if all++; unicode.In(r, unicode.Co, unicode.So) {
				signs++
			}
		}
	}
	if signs*10 >= all*9 && signs > 0 {
		return "symbol"
	}
	return "unknown"
}

// evenAdvances says whether letters that are seldom of one width are.
func evenAdvances(p *sfnt.Paths) bool {
	first, ok := p.Advance('i')
	for _, r := range "lmW.0" {
		if a, has := p.Advance(r); has && a != first {
			return false
		}
	}
	return ok && first > 0
}

// A letter is the picture of one.
type letter struct {
	wide, high int
	ink        []byte
}

// drawLetter draws a letter at the size at which H is as high as is measured; nil for one without ink.
func drawLetter(p *sfnt.Paths, r rune) *letter {
	capital, err := p.Outline(p.Index('H'))
	if err != nil {
		return nil
	}
	e := raster.Extent(capital)
	if e[3]-e[1] <= 0 {
		return nil
	}
	scale := drawnHeight / float64(e[3]-e[1])
	path, err := p.Outline(p.Index(r))
	if err != nil || len(path) > 2000 {
		return nil
	}
	box := raster.Bounds(path, scale, 0, 0)
	if box.Width() < 4 || box.Height() < 16 || box.Width() > 4*drawnHeight || box.Height() > 2*drawnHeight {
		return nil
	}
	var fill raster.Raster
	return &letter{box.Width(), box.Height(), fill.Fill(path, scale, 0, 0, box)}
}

// spans are where there is ink in a row, counted from the top.
func (l *letter) spans(row int) (out [][2]int) {
	row = min(max(row, 0), l.high-1)
	from := -1
	for x := 0; x <= l.wide; x++ {
		inked := x < l.wide && l.ink[row*l.wide+x] > 127
		switch {
		case inked && from < 0:
			from = x
		case !inked && from >= 0:
			out, from = append(out, [2]int{from, x}), -1
		}
	}
	return out
}

// stem is how wide the left one of two stems is; 0 for a letter that has not two.
func (l *letter) stem() float64 {
	low, high := l.spans(l.high*3/4), l.spans(l.high*2/3)
	if len(low) != 2 || len(high) != 2 {
		return 0
	}
	a, b := low[0][1]-low[0][0], high[0][1]-high[0][0]
	if min(a, b)*4 < max(a, b)*3 {
		return 0
	}
	return float64(min(a, b))
}

// straight says whether both stems are straight and of one width, as those of type are and those of handwriting are not.
func (l *letter) straight() bool {
	high, low := l.spans(l.high/3), l.spans(l.high*3/4)
	between := l.spans((l.high/3 + l.high*3/4) / 2)
	if len(high) != 2 || len(low) != 2 {
		return false
	}
	for i := range 2 {
		a, b := high[i][1]-high[i][0], low[i][1]-low[i][0]
		if abs(a-b) > 2 {
			return false
		}
		if len(between) == 2 && abs(high[i][0]+low[i][0]-2*between[i][0]) > 4 {
			return false
		}
	}
	left, right := low[0][1]-low[0][0], low[1][1]-low[1][0]
	return abs(left-right)*8 <= max(left, right)+8
}

// foot is how wide the left stem is at its end: at the bottom, or at the top.
func (l *letter) foot(top bool) float64 {
	widest := 0
	for _, in := range []int{2, 4, 7} {
		row := l.high - 1 - in
		if top {
			row = in
		}
		if s := l.spans(row); len(s) > 0 {
			widest = max(widest, s[0][1]-s[0][0])
		}
	}
	return float64(widest)
}

// thick is how thick the foot is beside the stem.
func (l *letter) thick() float64 {
	foot, stem := l.spans(l.high-3), l.spans(l.high*3/4)
	if len(foot) == 0 || len(stem) == 0 || stem[0][0] <= foot[0][0] {
		return 0
	}
	x := foot[0][0] + (stem[0][0]-foot[0][0])/2
	n := 0
	for y := l.high - 1; y >= 0; y-- {
		switch {
		case l.ink[y*l.wide+x] > 127:
			n++
		case n > 0:
			return float64(n)
		}
	}
	return float64(n)
}

// contrast is how thick the top of a round letter is against its side.
func (l *letter) contrast() float64 {
	side := l.spans(l.high / 2)
	if len(side) != 2 {
		return 0
	}
	x, n := l.wide/2, 0
	for y := 0; y < l.high; y++ {
		if l.ink[y*l.wide+x] > 127 {
			n++
		} else if n > 0 {
			break
		}
	}
	return float64(n) / float64(max(side[0][1]-side[0][0], 1))
}
