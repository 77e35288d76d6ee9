package layout

import (
	"notaria/internal/fault"
	"notaria/internal/sfnt"
)

// mostReach is how much work one table may ask for: glyphs that are looked at, in all rounds.
const mostReach = 50_000_000

// Reach marks all glyphs that substitutions can make of the marked ones (OpenType, GSUB), in whatever
// feature, script and context: rather too many than one too few. A table that asks for too much work, or
// that does not hold, is an error.
func Reach(gsub []byte, marked []bool) error { return within(gsub, marked, mostReach) }

func within(gsub []byte, marked []bool, most int) error {
	r := &reach{b: gsub, marked: marked, most: most}
	lookups := sfnt.From(gsub, sfnt.Word(gsub, 8))
	for grown := true; grown; {
		before := r.found
		for i := range sfnt.Word(lookups, 0) {
			if err := r.lookup(sfnt.From(lookups, sfnt.Word(lookups, 2+2*i))); err != nil {
				return err
			}
		}
		grown = r.found > before
	}
	return nil
}

// A reach is the work of Reach.
type reach struct {
	b      []byte
	marked []bool
	found  int // glyphs that were marked
	work   int
	most   int
}

// step counts work that hands over no glyph: tables can be empty, and many.
func (r *reach) step() error {
	if r.work++; r.work > r.most {
		return fault.Form("table GSUB: expected substitutions that can be followed, found more than %d steps of them", r.most)
	}
	return nil
}

// Types of lookups (OpenType, GSUB).
const (
	single    = 1
	multiple  = 2
	alternate = 3
	ligature  = 4
	extension = 7
	reverse   = 8
)

// lookup follows the subtables of one lookup. Those of contexts (types 5 and 6) name other lookups of the
// list, which are followed anyway.
func (r *reach) lookup(b []byte) error {
	if err := r.step(); err != nil {
		return err
	}
	for i := range sfnt.Word(b, 4) {
		if err := r.step(); err != nil {
			return err
		}
		kind, sub := sfnt.Word(b, 0), sfnt.From(b, sfnt.Word(b, 6+2*i))
		if kind == extension && len(sub) >= 8 {
			kind, sub = sfnt.Word(sub, 2), sfnt.From(sub, int(u32(sub, 4)))
		}
		if kind > ligature && kind != reverse {
			continue
		}
		cover := sfnt.From(sub, sfnt.Word(sub, 2))
		if err := r.covered(cover, func(at, glyph int) { r.subtable(kind, sub, at, glyph) }); err != nil {
			return err
		}
	}
	return nil
}

// subtable follows what one glyph, at its place in the coverage, becomes.
func (r *reach) subtable(kind int, sub []byte, at, glyph int) {
	switch kind {
	case single:
		if sfnt.Word(sub, 0) == 1 {
			r.mark((glyph + sfnt.Word(sub, 4)) & 0xffff)
		} else if at < sfnt.Word(sub, 4) {
			r.mark(sfnt.Word(sub, 6+2*at))
		}
	case multiple, alternate:
		if at < sfnt.Word(sub, 4) {
			r.all(sfnt.From(sub, sfnt.Word(sub, 6+2*at)))
		}
	case ligature:
		if at < sfnt.Word(sub, 4) {
			r.ligatures(sfnt.From(sub, sfnt.Word(sub, 6+2*at)))
		}
	case reverse:
		n := 4
		for range 2 { // the coverages before and behind
			n += 2 + 2*sfnt.Word(sub, n)
		}
		if at < sfnt.Word(sub, n) {
			r.mark(sfnt.Word(sub, n+2+2*at))
		}
	}
}

// all marks the glyphs of a list behind its count.
func (r *reach) all(list []byte) {
	for i := range sfnt.Word(list, 0) {
		r.mark(sfnt.Word(list, 2+2*i))
	}
}

// ligatures marks those of a set whose parts are all marked; the first part is.
func (r *reach) ligatures(set []byte) {
	for i := range sfnt.Word(set, 0) {
		if r.work++; r.work > r.most {
			return // the caller's next step tells
		}
		l := sfnt.From(set, sfnt.Word(set, 2+2*i))
		whole := len(l) >= 4
		for k := 1; whole && k < sfnt.Word(l, 2) && r.work <= r.most; k++ {
			r.work++
			part := sfnt.Word(l, 2+2*k)
			whole = part < len(r.marked) && r.marked[part]
		}
		if whole {
			r.mark(sfnt.Word(l, 0))
		}
	}
}

func (r *reach) mark(glyph int) {
	r.work++
	if glyph < len(r.marked) && !r.marked[glyph] {
		r.marked[glyph] = true
		r.found++
	}
}

// covered hands over the marked glyphs of a coverage table, each with its place in it.
func (r *reach) covered(b []byte, use func(at, glyph int)) error {
	look := func(at, glyph int) {
		if r.work++; glyph < len(r.marked) && r.marked[glyph] && r.work <= r.most {
			use(at, glyph)
		}
	}
	n := sfnt.Word(b, 2)
	for i := range n {
		switch sfnt.Word(b, 0) {
		case 1:
			if 4+2*i+2 > len(b) {
				return fault.Form("table GSUB: expected a coverage inside of the table, found one of %d glyphs that is cut short", n)
			}
			look(i, sfnt.Word(b, 4+2*i))
		case 2:
			if 4+6*i+6 > len(b) {
				return fault.Form("table GSUB: expected a coverage inside of the table, found one of %d ranges that is cut short", n)
			}
			first, last, start := sfnt.Word(b, 4+6*i), sfnt.Word(b, 6+6*i), sfnt.Word(b, 8+6*i)
			for g := first; g <= last && r.work <= r.most; g++ {
				look(start+g-first, g)
			}
		}
		if err := r.step(); err != nil {
			return err
		}
	}
	return nil
}
