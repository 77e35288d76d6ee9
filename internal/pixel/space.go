package pixel

import (
	"math"
	"slices"

	"notaria/internal/fault"
)

// Space adds to each advance, in 1/16 pixel, gives some characters one width, and keeps a least
// white between the ink of any two, in pixels.
func (f *Font) Space(tracking int, sameWidth []rune, gap int) error {
	for i := range f.Glyphs {
		f.Glyphs[i].Advance += tracking
	}
	f.even(sameWidth)
	if len(sameWidth) > 0 { // pairs would make them dance again
		f.Kerns = slices.DeleteFunc(f.Kerns, func(k Kern) bool { return slices.Contains(sameWidth, k.Left) || slices.Contains(sameWidth, k.Right) })
	}
	if gap > 0 {
		f.part(gap)
	}
	return f.valid()
}

// even gives characters the greatest advance of theirs, in whole pixels, with their ink in the
// middle as it was.
func (f *Font) even(of []rune) {
	most := 0
	for _, g := range f.Glyphs {
		if slices.Contains(of, g.Rune) {
			most = max(most, (g.Advance+Sub-1)/Sub*Sub)
		}
	}
	for i := range f.Glyphs {
		if g := &f.Glyphs[i]; slices.Contains(of, g.Rune) {
			g.X += int(math.Round(float64(most-g.Advance) / 2 / Sub))
			g.Advance = most
		}
	}
}

// part moves ink and advances so that no two characters are nearer than so many pixels: advances
// are whole pixels then, for parts of one would add up. All that share an advance share what is
// added, so that what has one width keeps it.
func (f *Font) part(gap int) {
	for i := range f.Glyphs {
		f.Glyphs[i].Advance = (f.Glyphs[i].Advance + Sub - 1) / Sub * Sub
	}
	more := map[int]int{} // to an advance, in pixels
	for _, g := range f.Glyphs {
		if g.Width > 0 {
			more[g.Advance] = max(more[g.Advance], max(0, g.X)+g.Width+gap-g.Advance/Sub)
		}
	}
	for i := range f.Glyphs {
		g := &f.Glyphs[i]
		g.X, g.Advance = max(0, g.X), g.Advance+more[g.Advance]*Sub
	}
	for i, k := range f.Kerns { // a pair comes no nearer than that
		if k.Value < 0 {
			left, _ := f.Glyph(k.Left)
			right, _ := f.Glyph(k.Right)
			f.Kerns[i].Value = -max(0, min(-k.Value/Sub, white(left, right)-gap)) * Sub
		}
	}
	f.Kerns = slices.DeleteFunc(f.Kerns, func(k Kern) bool { return k.Value == 0 })
}

// white is how many pixels are between the ink of two characters, where they are nearest, in the
// same row or the next. Where they share none it is the most that a pair can move.
func white(left, right Glyph) int {
	least := mostPlace
	for y := right.Y; y < right.Top(); y++ {
		end, start := math.MinInt, slices.IndexFunc(right.row(y), func(v byte) bool { return v != 0 })
		for near := y - 1; near <= y+1; near++ { // corners do not touch, either
			for x, v := range left.row(near) {
				if v != 0 {
					end = max(end, x)
				}
			}
		}
		if end != math.MinInt && start >= 0 {
			least = min(least, (left.Advance+Sub/2)/Sub+right.X+start-left.X-end-1)
		}
	}
	return least
}

// row is a row of pixels by its distance above the baseline, nil beyond the box.
func (g Glyph) row(y int) []byte {
	if y < g.Y || y >= g.Top() {
		return nil
	}
	i := g.Top() - 1 - y
	return g.Pix[i*g.Width : (i+1)*g.Width]
}

// Bounds of kerning: how many pairs are looked at, and how many there are.
const (
	mostLooked = 1 << 25
	mostKerns  = 1 << 18
)

// pairs takes the kerning of a face over: in whole pixels where the advances are.
func (s *Source) pairs(f *Font, scale float64, whole bool) error {
	if s.Kern == nil {
		return nil
	}
	left := 0
	for _, l := range f.Glyphs {
		index := s.Paths.Index(l.Rune)
		if !s.Kern.Starts(index) {
			continue // as most characters of large sets
		}
		if left += len(f.Glyphs); left > mostLooked || len(f.Kerns) > mostKerns {
			return fault.Form("expected at most %d pairs that are kerned, of %d million, found more; choose fewer characters, or no kerning", mostKerns, mostLooked>>20)
		}
		for _, r := range f.Glyphs {
			value := s.Kern.Between(index, s.Paths.Index(r.Rune))
			if value == 0 {
				continue
			}
			v := int(math.Round(float64(value) * scale * Sub))
			if whole {
				v = int(math.Round(float64(value)*scale)) * Sub
			}
			if v != 0 {
				f.Kerns = append(f.Kerns, Kern{l.Rune, r.Rune, max(v, -l.Advance)})
			}
		}
	}
	return nil
}

// substitute draws something for characters that are missing.
func (f *Font) substitute(lacks []rune, missing rune) {
	if missing == 0 || len(lacks) == 0 {
		return
	}
	g, ok := f.Glyph(missing)
	if missing == Box {
		g, ok = f.box(), true
	}
	if !ok {
		return
	}
	for _, r := range lacks {
		g.Rune = r
		f.Glyphs = append(f.Glyphs, g)
	}
	slices.SortFunc(f.Glyphs, func(a, b Glyph) int { return int(a.Rune) - int(b.Rune) })
}

// box is an empty box, about as high as capitals.
func (f *Font) box() Glyph {
	h := max(3, f.Heights().Capitals)
	if h == 3 {
		h = max(3, f.Ascent*3/4)
	}
	w := max(3, (h*5+4)/8)
	g := Glyph{X: 1, Width: w, Height: h, Advance: (w + 2) * Sub, Pix: make([]byte, w*h)}
	for i := range g.Pix {
		if x, y := i%w, i/w; x == 0 || x == w-1 || y == 0 || y == h-1 {
			g.Pix[i] = f.Full()
		}
	}
	return g
}

// Take keeps the characters of a choice, and spaces them: for a font that is drawn already. It
// returns those that the font does not have.
func (f *Font) Take(c Choice) (lacks []rune, err error) {
	if c.Characters != nil {
		lacks = f.Only(c.Characters)
	}
	if !c.Kerning {
		f.Kerns = nil
	}
	f.substitute(lacks, c.Missing)
	return lacks, f.Space(c.Tracking, c.SameWidth, c.Gap)
}

// Only keeps these characters, and returns those that the font does not have.
func (f *Font) Only(characters []rune) (lacks []rune) {
	keep := map[rune]bool{}
	for _, r := range characters {
		keep[r] = true
	}
	f.Glyphs = slices.DeleteFunc(f.Glyphs, func(g Glyph) bool { return !keep[g.Rune] })
	f.Kerns = slices.DeleteFunc(f.Kerns, func(k Kern) bool { return !keep[k.Left] || !keep[k.Right] })
	for _, r := range characters {
		if _, ok := f.Glyph(r); !ok {
			lacks = append(lacks, r)
		}
	}
	return lacks
}
