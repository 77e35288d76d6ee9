package pixel

import (
	"errors"
	"fmt"
	"math"
	"math/bits"
	"slices"

	"notaria/internal/fault"
	"notaria/internal/language"
)

// bitWriter writes numbers, the least significant bits first, across bytes.
type bitWriter struct {
	out []byte
	n   int
}

func (w *bitWriter) put(v, width int) {
	for range width {
		if w.n%8 == 0 {
			w.out = append(w.out, 0)
		}
		w.out[w.n/8] |= byte(v&1) << (w.n % 8)
		v, w.n = v>>1, w.n+1
	}
}

// u8g2Widths are how many bits the numbers of a glyph take.
type u8g2Widths struct{ zeros, ones, width, height, x, y, delta int }

// errTooLarge is a glyph whose block is longer than its size can say.
var errTooLarge = errors.New("more than 255 bytes")

// U8G2Bytes is the font in the compressed form of U8g2: runs of pixels without ink and with,
// in the widths that make it smallest.
func (f *Font) U8G2Bytes() ([]byte, error) {
	if err := f.valid(); err != nil {
		return nil, err
	}
	if f.Depth != 1 {
		return nil, fault.Form("expected a depth of 1 bit for U8g2, found %d", f.Depth)
	}
	if len(f.Glyphs) > 0xFFFF || slices.ContainsFunc(f.Glyphs, func(g Glyph) bool { return g.Rune > 0xFFFE }) {
		return nil, fault.Form("expected codepoints up to U+FFFE for U8g2, found others")
	}
	w := f.u8g2Fields()
	best, least := w, math.MaxInt
	best.zeros, best.ones = 8, 8 // where none fits, its error is told
	runs := make([][][2]int, len(f.Glyphs))
	for i, g := range f.Glyphs {
		runs[i] = runsOf(g.Pix)
	}
	for w.zeros = 1; w.zeros <= 8; w.zeros++ {
		for w.ones = 1; w.ones <= 8; w.ones++ {
			if n := f.u8g2Cost(w, runs); n < least {
				best, least = w, n
			}
		}
	}
	return f.u8g2(best)
}

// runsOf are the runs of a picture, without ink and with, however long.
func runsOf(pix []byte) [][2]int {
	var out [][2]int
	for i := 0; i < len(pix); {
		var r [2]int
		for ; i < len(pix) && pix[i] == 0; i++ {
			r[0]++
		}
		for ; i < len(pix) && pix[i] != 0; i++ {
			r[1]++
		}
		out = append(out, r)
	}
	return out
}

// u8g2Cost is how many bytes the glyphs take with these widths, without writing them: a pair of runs
// takes its widths and a bit, the same pair again a bit. It is more than any size where a glyph
// has no form.
func (f *Font) u8g2Cost(w u8g2Widths, runs [][][2]int) int {
	mostZeros, mostOnes, sum := 1<<w.zeros-1, 1<<w.ones-1, 0
	for i, g := range f.Glyphs {
		bits, last := w.width+w.height+w.x+w.y+w.delta, [2]int{-1, -1}
		add := func(zeros, ones int) {
			if pair := [2]int{zeros, ones}; pair != last {
				bits, last = bits+w.zeros+w.ones, pair
			}
			bits++
		}
		for _, r := range runs[i] {
			zeros, ones := r[0], r[1]
			for ; zeros > mostZeros; zeros -= mostZeros {
				add(mostZeros, 0)
			}
			add(zeros, min(ones, mostOnes))
			for ones -= min(ones, mostOnes); ones > 0; ones -= min(ones, mostOnes) {
				add(0, min(ones, mostOnes))
			}
		}
		n := 2 + (bits+7)/8
		if g.Rune > 0xFF {
			n++
		}
		if n > 255 {
			return math.MaxInt
		}
		sum += n
	}
	return sum
}

// u8g2Fields are the least widths of the numbers besides the runs.
func (f *Font) u8g2Fields() u8g2Widths {
	unsigned := func(v int) int { return max(1, bits.Len(uint(v))) }
	signed := func(v int) int { // v + 2^(n-1) is from 0 to 2^n - 1
		if v < 0 {
			v = -v - 1
		}
		return bits.Len(uint(v)) + 1
	}
	w := u8g2Widths{width: 1, height: 1, x: 1, y: 1, delta: 1}
	for _, g := range f.Glyphs {
		w.width, w.height = max(w.width, unsigned(g.Width)), max(w.height, unsigned(g.Height))
		w.x, w.y, w.delta = max(w.x, signed(g.X)), max(w.y, signed(g.Y)), max(w.delta, signed(pixels(g.Advance)))
	}
	return w
}

// pixels is an advance in whole pixels.
func pixels(advance int) int { return (advance + Sub/2) / Sub }

// u8g2 writes the font with these widths.
func (f *Font) u8g2(w u8g2Widths) ([]byte, error) {
	if most := max(w.width, w.height, w.x, w.y, w.delta); most > 8 {
		return nil, fault.Form("expected sides, places and advances of 8 bits for U8g2, found one of %d bits; choose a smaller size", most)
	}
	var low, high []byte
	upper, lower := -1, -1
	var table []byte
	for _, g := range f.Glyphs {
		block, err := w.block(g)
		if err != nil {
			return nil, fault.Form("U+%04X: expected a glyph of at most 255 bytes for U8g2, found more (%dx%d pixels); choose a smaller size", g.Rune, g.Width, g.Height)
		}
		if g.Rune > 0xFF {
			high = append(high, block...)
			continue
		}
		if g.Rune >= 'A' && upper < 0 {
			upper = len(low)
		}
		if g.Rune >= 'a' && lower < 0 {
			lower = len(low)
		}
		low = append(low, block...)
	}
	if upper < 0 {
		upper = len(low)
	}
	if lower < 0 {
		lower = len(low)
	}
	low = append(low, 0, 0)
	unicode := len(low)
	table = []byte{0, 4, 0xFF, 0xFF} // one block: the glyphs stand right behind it
	if unicode > 0xFFFF || upper > 0xFFFF || lower > 0xFFFF {
		return nil, fault.Form("expected at most 65535 bytes up to U+00FF for U8g2, found %d", unicode)
	}
	out := append(f.u8g2Header(w, upper, lower, unicode), low...)
	return append(append(append(out, table...), high...), 0, 0), nil
}

func (f *Font) u8g2Header(w u8g2Widths, upper, lower, unicode int) []byte {
	x0, y0, x1, y1 := 0, 0, 0, 0
	for _, g := range f.Glyphs {
		x0, y0, x1, y1 = min(x0, g.X), min(y0, g.Y), max(x1, g.X+g.Width), max(y1, g.Top())
	}
	edge := func(r rune, top bool) byte {
		g, ok := f.Glyph(r)
		switch {
		case !ok:
			return 0
		case top:
			return byte(g.Top())
		}
		return byte(g.Y)
	}
	return []byte{byte(min(len(f.Glyphs), 255)), 0, byte(w.zeros), byte(w.ones), byte(w.width), byte(w.height), byte(w.x), byte(w.y), byte(w.delta),
		byte(x1 - x0), byte(y1 - y0), byte(x0), byte(y0), edge('A', true), edge('g', false), edge('(', true), edge(')', false),
		byte(upper >> 8), byte(upper), byte(lower >> 8), byte(lower), byte(unicode >> 8), byte(unicode)}
}

// block is a glyph with its codepoint and its size in front.
func (w u8g2Widths) block(g Glyph) ([]byte, error) {
	b := &bitWriter{}
	b.put(g.Width, w.width)
	b.put(g.Height, w.height)
	b.put(g.X+1<<(w.x-1), w.x)
	b.put(g.Y+1<<(w.y-1), w.y)
	b.put(pixels(g.Advance)+1<<(w.delta-1), w.delta)
	w.runs(b, g.Pix)
	head := []byte{byte(g.Rune), 0}
	if g.Rune > 0xFF {
		head = []byte{byte(g.Rune >> 8), byte(g.Rune), 0}
	}
	n := len(head) + len(b.out)
	if n > 255 {
		return nil, errTooLarge
	}
	head[len(head)-1] = byte(n)
	return append(head, b.out...), nil
}

// runs writes pairs of runs, without ink and with; a pair that comes again is one bit more.
func (w u8g2Widths) runs(b *bitWriter, pix []byte) {
	mostZeros, mostOnes := 1<<w.zeros-1, 1<<w.ones-1
	lastZeros, lastOnes := -1, -1
	for i := 0; i < len(pix); {
		zeros, ones := 0, 0
		for i < len(pix) && pix[i] == 0 && zeros < mostZeros {
			zeros, i = zeros+1, i+1
		}
		for i < len(pix) && pix[i] != 0 && ones < mostOnes {
			ones, i = ones+1, i+1
		}
		if zeros == lastZeros && ones == lastOnes {
			b.put(1, 1)
			continue
		}
		if lastZeros >= 0 {
			b.put(0, 1)
		}
		b.put(zeros, w.zeros)
		b.put(ones, w.ones)
		lastZeros, lastOnes = zeros, ones
	}
	if lastZeros >= 0 {
		b.put(0, 1)
	}
}

// U8G2 is the font as a source and a header for U8g2, under the names of their files. Name must
// be an identifier of C.
func (f *Font) U8G2(name string) (map[string][]byte, error) {
	raw, err := f.U8G2Bytes()
	if err != nil {
		return nil, err
	}
	d := cData{Name: name, Glyphs: len(f.Glyphs), Bytes: len(raw), Rows: rows(raw),
		About: language.CPlus.Comment(fmt.Sprintf("%s, %s pixels per em, lines of %d pixels", f.Name, language.Number(f.Em), f.LineHeight()))}
	return render(map[string]string{"u8g2.c": name + ".c", "u8g2.h": name + ".h"}, d)
}
