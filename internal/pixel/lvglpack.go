package pixel

import (
	"fmt"
	"slices"
	"strings"
)

// LVGL's compressed pixels (lv_font_fmt_txt.c, decompress): values are written as they are until one
// comes again; then a bit says for each further one whether it is the same again; the eleventh
// such bit is followed by 6 bits that count how many more calls give the same, the last of which
// reads a new value.

// rleOf compresses values of so many bits.
func rleOf(pix []byte, depth int) []byte {
	w := &highBits{}
	for i := 0; i < len(pix); {
		v := pix[i]
		w.put(int(v), depth)
		if i++; i == 1 || v != pix[i-2] {
			continue
		}
		if i = repeats(w, pix, i, depth); i < 0 {
			break
		}
	}
	return w.out
}

// Numbers of that form.
const (
	rleBits  = 11 // bits for single repeats before the counter
	rleMost  = 62 // repeats that the counter can say, besides the new value's call
	rleCount = 6
)

// repeats writes how often the value before place i goes on, up to the value after that, which it
// writes as it is; it returns the place where single values go on, or -1 at the end.
func repeats(w *highBits, pix []byte, i, depth int) int {
	v := pix[i-1]
	for n := 1; i < len(pix); n, i = n+1, i+1 {
		if pix[i] != v {
			w.put(0, 1)
			return literal(w, pix, i, depth)
		}
		w.put(1, 1)
		if n == rleBits {
			more := 0
			for i++; more < rleMost && i < len(pix) && pix[i] == v; i++ {
				more++
			}
			w.put(more+1, rleCount)
			if i == len(pix) {
				return -1
			}
			return literal(w, pix, i, depth)
		}
	}
	return -1
}

// literal writes a value; where it is followed by the same, repeats go on behind it as they do
// behind any single value that comes twice: only the next single one is compared.
func literal(w *highBits, pix []byte, i, depth int) int {
	w.put(int(pix[i]), depth)
	return i + 1
}

// filtered is a picture in which each row is what differs from the row above.
func filtered(g Glyph) []byte {
	out := slices.Clone(g.Pix)
	for i := len(out) - 1; i >= g.Width; i-- {
		out[i] ^= g.Pix[i-g.Width]
	}
	return out
}

// shorter says which way of compressing makes the font smaller.
func (f *Font) shorter() (isFiltered bool, pack func(Glyph) []byte) {
	plain := func(g Glyph) []byte { return rleOf(g.Pix, f.Depth) }
	rows := func(g Glyph) []byte { return rleOf(filtered(g), f.Depth) }
	a, b := 0, 0
	for _, g := range f.Glyphs {
		a, b = a+len(plain(g)), b+len(rows(g))
	}
	if b <= a {
		return true, rows
	}
	return false, plain
}

// lvglPairs is kerning by pairs of glyphs (lv_font_fmt_txt_kern_pair_t).
type lvglPairs struct {
	Type           string // of a glyph's number
	Size, Count    int
	Glyphs, Values []string // lines
}

// lvglClasses is kerning by classes of glyphs (lv_font_fmt_txt_kern_classes_t).
type lvglClasses struct {
	Lefts, Rights, Values []string // lines
	LeftCount, RightCount int
}

// lvglKerning writes kerning in whichever form is smaller, and returns its bytes. Values are in 1/16
// pixel, times a scale where they are beyond a byte.
func (f *Font) lvglKerning(d *lvglData) int {
	if len(f.Kerns) == 0 {
		return 0
	}
	most := 0
	for _, k := range f.Kerns {
		most = max(most, k.Value, -k.Value)
	}
	d.KernScale = max(16, (most*16+126)/127)
	value := func(v int) int { // LVGL takes value * scale >> 4, which rounds down
		best := v * 16 / d.KernScale
		for _, near := range []int{best - 1, best + 1} {
			if off := near*d.KernScale>>4 - v; near >= -128 && near <= 127 && max(off, -off) < max(best*d.KernScale>>4-v, v-best*d.KernScale>>4) {
				best = near
			}
		}
		return best
	}
	number := map[rune]int{}
	for i, g := range f.Glyphs {
		number[g.Rune] = i + 1
	}
	var ids, values []string
	p := &lvglPairs{Type: "uint8_t", Count: len(f.Kerns)}
	if len(f.Glyphs) > 255 {
		p.Type, p.Size = "uint16_t", 1
	}
	table := map[[2]int]int{}
	for _, k := range f.Kerns {
		ids = append(ids, fmt.Sprintf("%d, %d,", number[k.Left], number[k.Right]))
		values = append(values, fmt.Sprintf("%d,", value(k.Value)))
		table[[2]int{number[k.Left], number[k.Right]}] = value(k.Value)
	}
	bytes := len(f.Kerns) * (3 + 2*p.Size)
	if c, n := classes(table, len(f.Glyphs)+1); c != nil && n < bytes {
		d.Classes = c
		return n + 20
	}
	p.Glyphs, p.Values = wrapped(ids), wrapped(values)
	d.Pairs = p
	return bytes + 12
}

// wrapped joins parts of code to lines.
func wrapped(parts []string) []string {
	const most = 92
	var out []string
	for _, p := range parts {
		if n := len(out) - 1; n >= 0 && len(out[n])+1+len(p) <= most {
			out[n] += " " + p
		} else {
			out = append(out, p)
		}
	}
	return out
}

// classes groups glyphs that have the same values on their left, or on their right; nil where
// there are more groups than a byte counts.
func classes(table map[[2]int]int, glyphs int) (*lvglClasses, int) {
	group := func(side int) (of []int, first []int) {
		seen := map[string]int{}
		of = make([]int, glyphs)
		for g := range glyphs {
			var key strings.Builder
			for o := range glyphs {
				pair := [2]int{g, o}
				if side == 1 {
					pair = [2]int{o, g}
				}
				if v, ok := table[pair]; ok {
					fmt.Fprintf(&key, "%d:%d ", o, v)
				}
			}
			if key.Len() == 0 {
				continue
			}
			if seen[key.String()] == 0 {
				first = append(first, g)
				seen[key.String()] = len(first)
			}
			of[g] = seen[key.String()]
		}
		return of, first
	}
	lefts, firstLeft := group(0)
	rights, firstRight := group(1)
	if len(firstLeft) > 255 || len(firstRight) > 255 {
		return nil, 0
	}
	var values []string
	for _, l := range firstLeft {
		for _, r := range firstRight {
			values = append(values, fmt.Sprintf("%d,", table[[2]int{l, r}]))
		}
	}
	text := func(list []int) []string {
		var out []string
		for _, v := range list {
			out = append(out, fmt.Sprintf("%d,", v))
		}
		return wrapped(out)
	}
	c := &lvglClasses{Lefts: text(lefts), Rights: text(rights), Values: wrapped(values), LeftCount: len(firstLeft), RightCount: len(firstRight)}
	return c, 2*glyphs + len(values)
}
