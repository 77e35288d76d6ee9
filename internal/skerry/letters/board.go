package letters

import (
	"fmt"
	"math"
	"sort"

	"notaria/internal/sfnt"
)

// The typefaces of the departure board: Beacon Mono for words, Lantern Digits for the time.
var (
	beacon  = Style{Name: "Regular", Weight: 500, Stem: 96, Bar: 84, Narrow: 1, Family: "Beacon Mono", Mono: true}
	lantern = Style{Name: "Regular", Weight: 700, Stem: 140, Bar: 140, Narrow: 1, Family: "Lantern Digits"}
)

// cell is the advance of every character of Beacon Mono, and room the widest ink in it.
const (
	cell = 620
	room = 520
)

// Beacon draws Beacon Mono: the skeletons of Skerry Sans, each as wide or narrow as its cell wants
// it, with feet under the letters that would be lost in it.
func Beacon() ([]byte, error) {
	glyphs := []sfnt.Glyph{notdef(newDraft(beacon))}
	glyphs[0].Advance = cell
	cmap := map[rune]uint16{}
	for _, r := range ascii() {
		cmap[r] = uint16(len(glyphs))
		glyphs = append(glyphs, mono(r).glyph(fmt.Sprintf("uni%04X", r)))
	}
	return build(beacon, glyphs, cmap, nil)
}

// ascii are the characters of Beacon Mono.
func ascii() []rune {
	var out []rune
	for r := ' '; r < 0x7F; r++ {
		out = append(out, r)
	}
	return append(out, '°', 'Ä', 'Å', 'É', 'Ö', 'ä', 'å', 'é', 'ö')
}

// mono draws a character into its cell: once to see how wide it is, then at the width that fits.
func mono(r rune) *draft {
	f := recipe(r)
	first := newDraft(beacon)
	f(first)
	st := beacon
	switch {
	case first.w > room:
		st.Narrow = room / first.w
	case first.w > room/2:
		st.Narrow = min(1.3, room/first.w)
	}
	d := newDraft(st)
	f(d)
	for i := 0; i < 4 && d.w > room; i++ { // stems do not get narrower
		st.Narrow *= room / d.w
		d = newDraft(st)
		f(d)
	}
	if r == 'i' || r == 'l' || r == 'I' || r == '1' {
		middle := d.w / 2
		if r == '1' {
			middle = d.w - d.s
		}
		d.bar(middle-room*0.4, middle+room*0.4, d.t)
		if r == 'i' || r == 'l' {
			top := map[rune]float64{'i': xHeight, 'l': ascender}[r]
			d.bar(middle-room*0.36, middle, top-d.t)
		}
		if r == 'I' {
			d.bar(middle-room*0.4, middle+room*0.4, capHeight-d.t)
		}
	}
	d.lsb, d.rsb, d.fixed = none, none, cell
	return d
}

// recipe is how a character of Skerry Sans is drawn.
func recipe(r rune) func(*draft) {
	for _, set := range []map[rune]func(*draft){lower, upper, digits, marks, others} {
		if f := set[r]; f != nil {
			return f
		}
	}
	return func(d *draft) { compose(d, composed[r]) }
}

// tube is a stroke of Lantern Digits between two nodes of a grid, two wide and four high.
type tube struct{ x0, y0, x1, y1 float64 }

// lamps are the digits as they glow on the board: tubes with round ends.
var lamps = map[rune][]tube{
	'0': {{0, 0, 2, 0}, {2, 0, 2, 4}, {2, 4, 0, 4}, {0, 4, 0, 0}},
	'1': {{1.2, 0, 1.2, 4}, {1.2, 4, 0.4, 3.2}},
	'2': {{0, 4, 2, 4}, {2, 4, 2, 2}, {2, 2, 0, 2}, {0, 2, 0, 0}, {0, 0, 2, 0}},
	'3': {{0, 4, 2, 4}, {2, 4, 2, 0}, {2, 0, 0, 0}, {0.5, 2, 2, 2}},
	'4': {{0, 4, 0, 1.6}, {0, 1.6, 2, 1.6}, {1.5, 3, 1.5, 0}},
	'5': {{2, 4, 0, 4}, {0, 4, 0, 2}, {0, 2, 2, 2}, {2, 2, 2, 0}, {2, 0, 0, 0}},
	'6': {{2, 4, 0, 4}, {0, 4, 0, 0}, {0, 0, 2, 0}, {2, 0, 2, 2}, {2, 2, 0, 2}},
	'7': {{0, 4, 2, 4}, {2, 4, 0.8, 0}},
	'8': {{0, 0, 2, 0}, {2, 0, 2, 4}, {2, 4, 0, 4}, {0, 4, 0, 0}, {0, 2, 2, 2}},
	'9': {{2, 2, 0, 2}, {0, 2, 0, 4}, {0, 4, 2, 4}, {2, 4, 2, 0}, {2, 0, 0, 0}},
	'-': {{0.2, 2, 1.8, 2}},
	'+': {{0.1, 2, 1.9, 2}, {1, 1.1, 1, 2.9}},
	':': {{0, 1, 0, 1}, {0, 3, 0, 3}},
	'.': {{0, 0, 0, 0}},
	' ': nil,
}

// Lantern draws Lantern Digits: all digits have one advance.
func Lantern() ([]byte, error) {
	runes := make([]rune, 0, len(lamps))
	for r := range lamps {
		runes = append(runes, r)
	}
	sort.Slice(runes, func(i, j int) bool { return runes[i] < runes[j] })
	glyphs := []sfnt.Glyph{notdef(newDraft(lantern))}
	cmap := map[rune]uint16{}
	for _, r := range runes {
		cmap[r] = uint16(len(glyphs))
		glyphs = append(glyphs, lamp(r).glyph(fmt.Sprintf("uni%04X", r)))
	}
	return build(lantern, glyphs, cmap, nil)
}

// lamp draws one character. The tubes are as thick as a fifth of the height, so that sizes of five,
// ten, fifteen pixels have whole ones.
func lamp(r rune) *draft {
	d := newDraft(lantern)
	const across, up = 170, (capHeight - 140) / 4
	d.fixed = 560
	if r == ':' || r == '.' || r == ' ' {
		d.fixed = 300
	}
	left, right := math.Inf(1), math.Inf(-1)
	for _, t := range lamps[r] {
		left, right = min(left, t.x0, t.x1), max(right, t.x0, t.x1)
	}
	if len(lamps[r]) == 0 {
		left, right = 0, 0
	}
	if r >= '0' && r <= '9' {
		left, right = 0, 2
	}
	d.w = (right-left)*across + 140
	for _, t := range lamps[r] {
		x0, y0, x1, y1 := d.s+(t.x0-left)*across, d.t+t.y0*up, d.s+(t.x1-left)*across, d.t+t.y1*up
		if t.x0 == t.x1 && t.y0 == t.y1 {
			d.dot(x0, y0, d.s)
			continue
		}
		d.stroke(from(x0, y0).line(x1, y1), round, round)
	}
	return d
}
