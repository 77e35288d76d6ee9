package sfnt

import "fmt"

// A Point lies on a contour, or steers a quadratic curve beside it. Font units.
type Point struct {
	X, Y int16
	On   bool
}

// A Contour is a closed outline; the first point follows the last.
type Contour []Point

// A Glyph is a simple outline with its advance width in font units.
type Glyph struct {
	Name         string
	Advance      uint16
	Contours     []Contour
	Instructions []byte
	Overlaps     bool // contours lie over each other
}

// Bounds returns the box of all points; off-curve points count, as the format
// asks where extremes have points on the curve. ok is false without points.
func (g Glyph) Bounds() (xMin, yMin, xMax, yMax int16, ok bool) {
	for _, c := range g.Contours {
		for _, p := range c {
			if !ok {
				xMin, yMin, xMax, yMax, ok = p.X, p.Y, p.X, p.Y, true
			}
			xMin, xMax = min(xMin, p.X), max(xMax, p.X)
			yMin, yMax = min(yMin, p.Y), max(yMax, p.Y)
		}
	}
	return
}

// Flags of a point in a simple glyph (spec: "Simple Glyph Description").
const (
	flagOn      = 1 << 0
	flagXShort  = 1 << 1
	flagYShort  = 1 << 2
	flagRepeat  = 1 << 3
	flagXSame   = 1 << 4 // or, with flagXShort: positive
	flagYSame   = 1 << 5
	flagOverlap = 1 << 6 // on the first point: contours may overlap
)

// Outlines encodes glyphs as the tables glyf, loca (long) and hmtx.
func Outlines(glyphs []Glyph) (glyf, loca, hmtx []byte, err error) {
	var g, l, h be
	for _, gl := range glyphs {
		l.u32(uint32(len(g)))
		data, err := gl.bytes()
		if err != nil {
			return nil, nil, nil, fmt.Errorf("glyph %s: %w", gl.Name, err)
		}
		g = append(g, data...)
		for len(g)%4 != 0 {
			g = append(g, 0)
		}
		xMin, _, _, _, _ := gl.Bounds()
		h.u16(gl.Advance)
		h.i16(xMin)
	}
	l.u32(uint32(len(g)))
	return g, l, h, nil
}

// bytes encodes one glyph; a glyph without contours is no bytes at all.
func (g Glyph) bytes() ([]byte, error) {
	xMin, yMin, xMax, yMax, ok := g.Bounds()
	if !ok {
		return nil, nil
	}
	var b be
	b.i16(int16(len(g.Contours)), xMin, yMin, xMax, yMax)
	end := -1
	for _, c := range g.Contours {
		end += len(c)
		if end > 0xffff {
			return nil, bad("glyph", "at most 65536 points", "more")
		}
		b.u16(uint16(end))
	}
	b.u16(uint16(len(g.Instructions)))
	b = append(b, g.Instructions...)
	var flags []byte
	var xs, ys be
	var last Point
	for _, c := range g.Contours {
		for _, p := range c {
			var f byte
			if p.On {
				f = flagOn
			}
			if len(flags) == 0 && g.Overlaps {
				f |= flagOverlap
			}
			f |= delta(&xs, int(p.X)-int(last.X), flagXShort, flagXSame)
			f |= delta(&ys, int(p.Y)-int(last.Y), flagYShort, flagYSame)
			flags = append(flags, f)
			last = p
		}
	}
	b = append(b, packFlags(flags)...)
	return append(append(b, xs...), ys...), nil
}

// delta appends one coordinate step in its shortest form and returns its flags.
func delta(b *be, d int, short, same byte) byte {
	switch {
	case d == 0:
		return same
	case d > 0 && d < 256:
		*b = append(*b, byte(d))
		return short | same
	case d < 0 && d > -256:
		*b = append(*b, byte(-d))
		return short
	}
	b.i16(int16(d))
	return 0
}

// packFlags writes runs of equal flags as one flag and a count.
func packFlags(flags []byte) []byte {
	var out []byte
	for i := 0; i < len(flags); {
		n := 1
		for i+n < len(flags) && flags[i+n] == flags[i] && n < 256 {
			n++
		}
		if n > 2 {
			out = append(out, flags[i]|flagRepeat, byte(n-1))
		} else {
			out = append(out, flags[i:i+n]...)
		}
		i += n
	}
	return out
}
