package sfnt

import (
	"fmt"
	"math"
)

// An Op is a kind of segment.
type Op uint8

// Kinds of segments. A subpath begins with a MoveTo and closes by itself.
const (
	MoveTo Op = iota
	LineTo
	QuadTo // a quadratic curve: one control point, and its end
	CubeTo // a cubic one: two control points, and its end
)

// A Segment of a path: its control points, the end last. Font units, y points up.
type Segment struct {
	Op Op
	P  [3][2]float32
}

// End is where the segment ends.
func (s Segment) End() [2]float32 {
	switch s.Op {
	case QuadTo:
		return s.P[1]
	case CubeTo:
		return s.P[2]
	}
	return s.P[0]
}

// A Path is the outline of a glyph.
type Path []Segment

// mostSegments is how many segments a glyph can have; real ones have some hundreds.
const mostSegments = 100_000

// Paths reads the outlines of a font's glyphs (glyf, CFF, CFF2). It is safe for use by several
// goroutines.
type Paths struct {
	*Glyphs
	cff  *cff
	vary *variation // nil at the default
	more *advances  // of CFF2
}

// Paths reads the tables that outlines need.
func (f *Font) Paths() (*Paths, error) {
	g, err := f.Glyphs()
	if err != nil {
		return nil, err
	}
	p := &Paths{Glyphs: g}
	switch format := f.Format(); format {
	case TrueType:
		return p, p.outer.check(p.count) // of tables that are read already
	case CFF:
		p.cff, err = f.readCFF()
		return p, err
	case CFF2:
		p.cff, err = f.readCFF2()
		return p, err
	default:
		return nil, bad("outlines", "the tables glyf, CFF or CFF2", "%s", format)
	}
}

// PathsIfAny is Paths, and for a font of pictures alone paths that are all empty: it has characters and advances.
func (f *Font) PathsIfAny() (*Paths, error) {
	if f.Format() != Bitmap || !f.Has("CBDT") && !f.Has("sbix") {
		return f.Paths()
	}
	g, err := f.Glyphs()
	return &Paths{Glyphs: g}, err
}

// Index finds a character's glyph (cmap), 0 if there is none.
func (p *Paths) Index(r rune) int { return p.index(r) }

// Count is how many glyphs there are.
func (p *Paths) Count() int { return p.count }

// Outline is the path of a glyph by its index; empty for one without ink.
func (p *Paths) Outline(glyph int) (Path, error) {
	if glyph < 0 || glyph >= p.count {
		return nil, bad(fmt.Sprintf("glyph %d", glyph), fmt.Sprintf("one of %d glyphs", p.count), "%d", glyph)
	}
	if p.cff != nil {
		return p.cff.outline(glyph)
	}
	b := &pathBuilder{where: fmt.Sprintf("glyph %d", glyph), vary: p.vary}
	b.glyf(&p.outer, glyph, 0, [6]float32{1, 0, 0, 1, 0, 0})
	return b.path, b.err
}

// Advance is how far a character moves the pen; false if the font has no glyph for it.
func (p *Paths) Advance(r rune) (int, bool) {
	own, ok := p.Glyphs.Advance(r)
	if p.vary == nil && p.more == nil {
		return own, ok
	}
	return p.AdvanceOf(p.Index(r)), ok
}

// AdvanceOf is how far a glyph moves the pen, by its index.
func (p *Paths) AdvanceOf(glyph int) int {
	own := p.Glyphs.AdvanceOf(glyph)
	if p.more != nil {
		return max(0, own+int(math.Floor(p.more.delta(glyph)+0.5)))
	}
	if p.vary == nil {
		return own
	}
	return max(0, own+int(math.Round(p.vary.advance(glyph, pointCount(p.outer.data(glyph))))))
}

// pointCount is how many points a glyph has as its variations number them, without the phantom points.
func pointCount(data []byte) int {
	switch {
	case len(data) < 10:
		return 0
	case i16(data, 0) > 0:
		if last := 10 + 2*(int(i16(data, 0))-1); last+2 <= len(data) {
			return Word(data, last) + 1
		}
		return 0
	}
	return len(partsOf(data))
}

// pointsOf are the points of a glyph as its variations number them: those of its contours, or one
// for each part, and the phantom points.
func (b *pathBuilder) pointsOf(data []byte) (points [][2]float32, ends []int) {
	switch {
	case len(data) < 10:
	case i16(data, 0) > 0:
		if g, ok := simpleGlyph(data); ok {
			for _, c := range g.Contours {
				for _, p := range c {
					points = append(points, [2]float32{float32(p.X), float32(p.Y)})
				}
				ends = append(ends, len(points)-1)
			}
		}
	case i16(data, 0) < 0:
		s := &stream{b: data[10:]}
		for more := true; more && !s.over && len(points) < mostVaryPoints; {
			flags := s.u16()
			s.u16()
			m := componentMatrix(s, flags)
			points = append(points, [2]float32{m[4], m[5]})
			more = flags&compMore != 0
		}
	}
	return append(points, make([][2]float32, phantoms)...), ends
}

// Moved are the points of a glyph of the table glyf as its variations number them: those of its contours, or one for each part, and four
// phantom points; the last point of each contour; and how far the font's place moves each, nil where nothing moves.
func (p *Paths) Moved(glyph int) (points [][2]float32, ends []int, moves [][2]float32, err error) {
	b := &pathBuilder{vary: p.vary}
	points, ends = b.pointsOf(p.outer.data(glyph))
	if p.vary != nil && p.vary.glyph(glyph) != nil {
		moves = p.vary.deltas(glyph, points, ends)
	}
	return points, ends, moves, p.vary.spent()
}

// Data is a glyph of the table glyf.
func (p *Paths) Data(glyph int) []byte { return p.outer.data(glyph) }

// Simple reads a glyph of contours; false for one of parts, or one that does not hold.
func Simple(data []byte) (Glyph, bool) {
	if len(data) < 10 || i16(data, 0) < 0 {
		return Glyph{}, false
	}
	return simpleGlyph(data)
}

// Bytes encodes a glyph; one without contours is no bytes at all.
func (g Glyph) Bytes() ([]byte, error) { return g.bytes() }

// pathBuilder collects a path; the first error stays.
type pathBuilder struct {
	where string
	path  Path
	err   error
	vary  *variation // nil at the default
	most  int        // glyphs that were varied
}

func (b *pathBuilder) fail(expected, found string) {
	if b.err == nil {
		b.err = bad(b.where, expected, "%s", found)
	}
}

func (b *pathBuilder) add(op Op, p ...[2]float32) {
	if len(b.path) >= mostSegments {
		b.fail(fmt.Sprintf("at most %d segments", mostSegments), "more")
		return
	}
	s := Segment{Op: op}
	copy(s.P[:], p)
	b.path = append(b.path, s)
}

// glyf adds a glyph of the table glyf, moved by a matrix {xx, yx, xy, yy, dx, dy}.
func (b *pathBuilder) glyf(c *composites, glyph, depth int, m [6]float32) {
	data := c.data(glyph)
	if len(data) < 10 || b.err != nil {
		return
	}
	if depth > mostCompositeDepth {
		b.fail(fmt.Sprintf("at most %d levels of parts", mostCompositeDepth), "more")
		return
	}
	var moves [][2]float32
	if b.vary != nil && b.most < mostVaried && b.vary.glyph(glyph) != nil {
		points, ends := b.pointsOf(data)
		moves = b.vary.deltas(glyph, points, ends)
		b.most++
		if b.err = b.vary.spent(); b.err != nil {
			return
		}
	}
	if n := len(moves) - phantoms; n >= 0 { // the origin moves all
		for i := range moves[:n] {
			moves[i][0] -= moves[n][0]
		}
	}
	if i16(data, 0) >= 0 {
		b.simple(data, m, moves)
		return
	}
	s := &stream{b: data[10:]}
	for more, i := true, 0; more && !s.over && b.err == nil; i++ {
		flags, id := s.u16(), int(s.u16())
		part := componentMatrix(s, flags)
		if flags&compXY != 0 && i < len(moves)-phantoms {
			part[4], part[5] = part[4]+moves[i][0], part[5]+moves[i][1]
		}
		if !s.over {
			b.glyf(c, id, depth+1, join(part, m))
		}
		more = flags&compMore != 0
	}
}

// componentMatrix reads where a part goes. Parts that are placed by matching points stay
// where they are: no font that is made today has them.
func componentMatrix(s *stream, flags uint16) [6]float32 {
	m := [6]float32{1, 0, 0, 1, 0, 0}
	var dx, dy int16
	if flags&compWords != 0 {
		dx, dy = int16(s.u16()), int16(s.u16())
	} else {
		v := s.u16()
		dx, dy = int16(int8(v>>8)), int16(int8(v))
	}
	if flags&compXY != 0 {
		m[4], m[5] = float32(dx), float32(dy)
	}
	f2dot14 := func() float32 { return float32(int16(s.u16())) / (1 << 14) }
	switch {
	case flags&compScale != 0:
		m[0] = f2dot14()
		m[3] = m[0]
	case flags&compXYScale != 0:
		m[0], m[3] = f2dot14(), f2dot14()
	case flags&compTwoByTwo != 0:
		m[0], m[1], m[2], m[3] = f2dot14(), f2dot14(), f2dot14(), f2dot14()
	}
	return m
}

// join is a matrix after which another is applied.
func join(a, b [6]float32) [6]float32 {
	return [6]float32{
		a[0]*b[0] + a[1]*b[2], a[0]*b[1] + a[1]*b[3],
		a[2]*b[0] + a[3]*b[2], a[2]*b[1] + a[3]*b[3],
		a[4]*b[0] + a[5]*b[2] + b[4], a[4]*b[1] + a[5]*b[3] + b[5],
	}
}

// mostVaried is how many parts of a glyph vary; the others stay as they are.
const mostVaried = 256

// simple adds the contours of a simple glyph, its points moved. One that no reader draws adds none.
func (b *pathBuilder) simple(data []byte, m [6]float32, moves [][2]float32) {
	if i16(data, 0) == 0 {
		return
	}
	g, ok := simpleGlyph(data)
	if !ok {
		b.fail("contours with all their points", "the end of the data, or contours out of order")
		return
	}
	n := 0
	for _, c := range g.Contours {
		points := make([]curvePoint, len(c))
		for i, p := range c {
			x, y := float32(p.X), float32(p.Y)
			if n < len(moves)-phantoms {
				x, y = x+moves[n][0], y+moves[n][1]
			}
			n++
			points[i] = curvePoint{[2]float32{x*m[0] + y*m[2] + m[4], x*m[1] + y*m[3] + m[5]}, p.On}
		}
		b.contour(points)
	}
}

type curvePoint struct {
	at [2]float32
	on bool
}

func middle(a, b [2]float32) [2]float32 { return [2]float32{(a[0] + b[0]) / 2, (a[1] + b[1]) / 2} }

// contour adds a closed contour: between two points off the curve there is one on it.
func (b *pathBuilder) contour(p []curvePoint) {
	if len(p) < 2 {
		return
	}
	start := p[0].at
	if !p[0].on {
		if start = p[len(p)-1].at; !p[len(p)-1].on {
			start = middle(p[0].at, p[len(p)-1].at)
		}
	}
	b.add(MoveTo, start)
	for i := 0; i < len(p); i++ {
		switch {
		case p[i].on:
			if i > 0 || p[i].at != start {
				b.add(LineTo, p[i].at)
			}
		case i+1 == len(p):
			b.add(QuadTo, p[i].at, start)
		case p[i+1].on:
			b.add(QuadTo, p[i].at, p[i+1].at)
			i++
		default:
			b.add(QuadTo, p[i].at, middle(p[i].at, p[i+1].at))
		}
	}
}
