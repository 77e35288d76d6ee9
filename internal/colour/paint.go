package colour

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"notaria/internal/fault"
	"notaria/internal/sfnt"
)

// An Op is what a paint does.
type Op uint8

// What paints do. A Fill alone has no bounds: it is seen inside of a Clip.
const (
	Group     Op = iota // its kids, the first at the bottom
	Fill                // a brush
	Clip                // its kid, inside of the outline of a glyph
	Transform           // its kid, moved
	Composite           // its first kid laid on its second by a mode
)

// A Paint is a part of a glyph in colour. Lengths are in font units, Y points up.
type Paint struct {
	Op    Op
	Kids  []*Paint
	Glyph int       // of a Clip
	Path  sfnt.Path // its outline
	M     Matrix    // of a Transform
	Mode  Mode      // of a Composite
	Brush Brush     // of a Fill
	// What nothing of the paint lies outside of, where it is that of a whole glyph and the font says so.
	Box *[4]float64
	// How many paints and stops the glyph has, of the paint of a whole glyph.
	Count int
}

// A Matrix takes x, y to xx*x + xy*y + dx, yx*x + yy*y + dy.
type Matrix struct{ XX, YX, XY, YY, DX, DY float64 }

// Identity moves nothing.
var Identity = Matrix{XX: 1, YY: 1}

// Times is the matrix that does n first, then m.
func (m Matrix) Times(n Matrix) Matrix {
	return Matrix{
		XX: m.XX*n.XX + m.XY*n.YX, XY: m.XX*n.XY + m.XY*n.YY, DX: m.XX*n.DX + m.XY*n.DY + m.DX,
		YX: m.YX*n.XX + m.YY*n.YX, YY: m.YX*n.XY + m.YY*n.YY, DY: m.YX*n.DX + m.YY*n.DY + m.DY,
	}
}

// Apply moves a point.
func (m Matrix) Apply(x, y float64) (float64, float64) {
	return m.XX*x + m.XY*y + m.DX, m.YX*x + m.YY*y + m.DY
}

// Inverse undoes the matrix; false for one that takes all to a line.
func (m Matrix) Inverse() (Matrix, bool) {
	det := m.XX*m.YY - m.XY*m.YX
	if math.Abs(det) < 1e-12 || math.IsNaN(det) || math.IsInf(det, 0) {
		return Matrix{}, false
	}
	n := Matrix{XX: m.YY / det, XY: -m.XY / det, YX: -m.YX / det, YY: m.XX / det}
	n.DX, n.DY = -(n.XX*m.DX + n.XY*m.DY), -(n.YX*m.DX + n.YY*m.DY)
	return n, true
}

// around does a matrix about a centre.
func (m Matrix) around(x, y float64) Matrix {
	return Matrix{XX: 1, YY: 1, DX: x, DY: y}.Times(m).Times(Matrix{XX: 1, YY: 1, DX: -x, DY: -y})
}

// BrushKind is how a brush's colour changes over the plane.
type BrushKind uint8

// The kinds of brushes.
const (
	Solid  BrushKind = iota
	Linear           // from one point to another; the third says how lines of one colour lie
	Radial           // between two circles
	Sweep            // around a centre, against the clock, between two angles in radians
)

// An Extend says what lies outside of a brush's stops.
type Extend uint8

// The ways to go on outside.
const (
	Pad Extend = iota
	Repeat
	Reflect
)

// A Stop is a colour at a place of a brush's line.
type Stop struct {
	At         float64
	RGBA       [4]uint8
	Foreground bool
	Alpha      float64 // besides that of the colour
}

// A Brush is a colour, or several that pass into each other. P holds, for a Linear, the points x0 y0 x1 y1 x2
// y2; for a Radial, x0 y0 r0 x1 y1 r1; for a Sweep, its centre and its angles.
type Brush struct {
	Kind   BrushKind
	Stops  []Stop // in order, at least one
	Extend Extend
	P      [6]float64
}

// Bounds of one glyph's graph.
const (
	mostPaints = 20_000
	mostDeep   = 64
	mostStops  = 1024
)

// A graph is a COLR table of version 1.
type graph struct {
	b       []byte
	palette [][4]uint8
	list    []byte // of base glyphs, from the list's start
	bases   int
	layers  []byte
	clips   []byte
	store   []byte
	index   []byte
	change  func(n int) float64 // nil at the default
}

// far is the part of a table that an offset of 32 bits leads to; nil for 0, or beyond the end.
func far(b []byte, at int) []byte {
	if at+4 > len(b) || u32(b, at) == 0 || uint64(u32(b, at)) > uint64(len(b)) {
		return nil
	}
	return b[u32(b, at):]
}

func parseGraph(b []byte, palette [][4]uint8) (*graph, error) {
	if len(b) < 34 {
		return nil, fault.Form("table COLR: expected a header of 34 bytes for version 1, found %d", len(b))
	}
	g := &graph{b: b, palette: palette, list: far(b, 14), layers: far(b, 18), clips: far(b, 22), index: far(b, 26), store: far(b, 30)}
	if len(g.list) >= 4 {
		if g.bases = int(u32(g.list, 0)); g.bases > (len(g.list)-4)/6 {
			return nil, fault.Form("table COLR: expected base glyphs inside of the table, found %d of them in %d bytes", g.bases, len(g.list))
		}
	}
	return g, nil
}

// changes are what the graph's values change by at a place of the design space.
func (g *graph) changes(f *sfnt.Font, coordinates map[string]float64) (func(int) float64, error) {
	if g.store == nil {
		return nil, nil
	}
	return f.Changes(g.store, g.index, coordinates)
}

// Outlines gives the outline of a glyph, in font units.
type Outlines func(glyph int) sfnt.Path

// Paint is the graph of a glyph with its outlines, nil for one without. With an error it says no more than how many
// paints were read.
func (g *Glyphs) Paint(glyph int, outlines Outlines) (*Paint, error) {
	return g.painted(glyph, outlines, nil)
}

func (g *Glyphs) painted(glyph int, outlines Outlines, used func(int)) (*Paint, error) {
	if g.graph == nil {
		return nil, nil
	}
	at := g.graph.base(glyph)
	if at == 0 {
		return nil, nil
	}
	r := &reading{graph: g.graph, outlines: outlines, open: map[int]bool{}, used: used}
	p := r.paint(at, 0)
	if r.err != nil {
		return &Paint{Count: r.count}, fmt.Errorf("table COLR: glyph %d: %w", glyph, r.err)
	}
	p.Box, p.Count = g.graph.box(glyph), r.count
	return p, nil
}

// base is where a glyph's paint is in the table; 0 for a glyph without.
func (g *graph) base(glyph int) int {
	low, high := 0, g.bases
	for low < high {
		middle := (low + high) / 2
		if sfnt.Word(g.list, 4+6*middle) < glyph {
			low = middle + 1
		} else {
			high = middle
		}
	}
	if low == g.bases || sfnt.Word(g.list, 4+6*low) != glyph {
		return 0
	}
	at := uint64(len(g.b)-len(g.list)) + uint64(u32(g.list, 6+6*low))
	if at >= uint64(len(g.b)) {
		return 0
	}
	return int(at)
}

// box is what a glyph's paints are clipped to (COLR, ClipList).
func (g *graph) box(glyph int) *[4]float64 {
	if len(g.clips) < 5 || g.clips[0] != 1 {
		return nil
	}
	for i := range min(int(u32(g.clips, 1)), (len(g.clips)-5)/7) {
		c := g.clips[5+7*i:]
		if glyph < sfnt.Word(c, 0) || glyph > sfnt.Word(c, 2) {
			continue
		}
		f := &fields{graph: g, b: sfnt.From(g.clips, int(c[4])<<16|int(c[5])<<8|int(c[6])), at: 1}
		if len(f.b) < 9 {
			return nil
		}
		if f.b[0] == 2 {
			f.varies(9)
		}
		return &[4]float64{f.word(), f.word(), f.word(), f.word()}
	}
	return nil
}

// fields reads the values of one record, each with what it changes by.
type fields struct {
	*graph
	b    []byte
	at   int
	item int // number of the first value's change; below 0 for values that do not change
	n    int
}

// varies says that the number of the first change stands at a place.
func (f *fields) varies(at int) {
	if f.item = -1; f.change != nil && at+4 <= len(f.b) && u32(f.b, at) != math.MaxUint32 {
		f.item = int(u32(f.b, at))
	}
}

// value is a number with its change, of so many to 1.
func (f *fields) value(raw, per float64) float64 {
	if f.change != nil && f.item >= 0 {
		raw += f.change(f.item + f.n)
	}
	f.n++
	return raw / per
}

func (f *fields) raw16() float64 {
	f.at += 2
	return float64(int16(sfnt.Word(f.b, f.at-2)))
}

func (f *fields) word() float64  { return f.value(f.raw16(), 1) }
func (f *fields) ratio() float64 { return f.value(f.raw16(), 16384) }
func (f *fields) angle() float64 { return f.ratio() * math.Pi }
func (f *fields) radius() float64 {
	f.at += 2
	return f.value(float64(sfnt.Word(f.b, f.at-2)), 1)
}

func (f *fields) fixed() float64 {
	f.at += 4
	if f.at > len(f.b) {
		return 0
	}
	return f.value(float64(int32(u32(f.b, f.at-4))), 65536)
}

// A reading is of one glyph's graph.
type reading struct {
	*graph
	outlines Outlines
	open     map[int]bool    // paints that are being read: none is part of itself
	used     func(glyph int) // called with each glyph that others are made of; nil for no call
	count    int
	err      error
}

func (r *reading) fail(format string, args ...any) *Paint {
	if r.err == nil {
		r.err = fmt.Errorf(format, args...)
	}
	return &Paint{}
}

// sizes are how many bytes the records of formats have, without the numbers of their changes; an odd format
// above 1 is the one before it with such a number.
var sizes = map[byte]int{1: 6, 2: 5, 4: 16, 6: 16, 8: 12, 10: 6, 11: 3, 12: 7, 14: 8, 16: 8, 18: 12, 20: 6, 22: 10, 24: 6, 26: 10, 28: 8, 30: 12, 32: 8}

// paint reads the paint at a place (COLR, "Paint tables").
func (r *reading) paint(at, depth int) *Paint {
	if r.count++; r.count > mostPaints || depth > mostDeep {
		return r.fail("expected at most %d paints, %d deep, found more", mostPaints, mostDeep)
	}
	if at <= 0 || at >= len(r.b) || r.err != nil {
		return r.fail("expected a paint inside of the table, found place %d of %d", at, len(r.b))
	}
	if r.open[at] {
		return r.fail("expected paints that are not part of themselves, found one at %d that is", at)
	}
	r.open[at] = true
	defer delete(r.open, at)
	b := r.b[at:]
	format := b[0]
	base, changes := format, 0
	if _, plain := sizes[format]; !plain {
		base, changes = format-1, 4
	}
	size, known := sizes[base]
	if !known || changes > 0 && (base == 1 || base == 10 || base == 32) || size+changes > len(b) {
		return r.fail("expected a paint of format 1 to 32, found format %d with %d bytes", format, len(b))
	}
	f := &fields{graph: r.graph, b: b, at: 1, item: -1}
	if changes > 0 {
		f.varies(size)
	}
	kid := func(at24 int) *Paint { return r.paint(at+int(b[at24])<<16+int(b[at24+1])<<8+int(b[at24+2]), depth+1) }
	switch {
	case base == 1:
		return r.group(int(b[1]), int(u32(b, 2)), depth)
	case base <= 8:
		return r.fill(base, f, at)
	case base == 10:
		glyph := sfnt.Word(b, 4)
		return &Paint{Op: Clip, Glyph: glyph, Path: r.outlines(glyph), Kids: []*Paint{kid(1)}}
	case base == 11:
		if r.used != nil {
			r.used(sfnt.Word(b, 1))
		}
		p := r.paint(r.base(sfnt.Word(b, 1)), depth+1)
		p.Box = r.box(sfnt.Word(b, 1))
		return p
	case base == 32:
		if b[4] >= byte(modes) {
			return r.fail("expected a composite mode of 0 to %d, found %d", modes-1, b[4])
		}
		return &Paint{Op: Composite, Mode: Mode(b[4]), Kids: []*Paint{kid(1), kid(5)}}
	}
	return &Paint{Op: Transform, M: r.matrix(base, f, changes > 0), Kids: []*Paint{kid(1)}}
}

// group reads layers by their numbers.
func (r *reading) group(n, first, depth int) *Paint {
	p := &Paint{Op: Group}
	if len(r.layers) < 4 || first+n > int(u32(r.layers, 0)) || 4+4*(first+n) > len(r.layers) {
		return r.fail("expected layers that are there, found %d from %d", n, first)
	}
	start := len(r.b) - len(r.layers)
	for i := range n {
		at := uint64(start) + uint64(u32(r.layers, 4+4*(first+i)))
		p.Kids = append(p.Kids, r.paint(int(min(at, uint64(len(r.b)))), depth+1))
	}
	return p
}

// matrix reads what a paint moves its kid by. Angles are against the clock.
func (r *reading) matrix(base byte, f *fields, varies bool) Matrix {
	if f.at = 4; base == 12 {
		f = &fields{graph: r.graph, b: sfnt.From(f.b, int(f.b[4])<<16|int(f.b[5])<<8|int(f.b[6])), item: -1}
		if varies {
			f.varies(24)
		}
		return Matrix{f.fixed(), f.fixed(), f.fixed(), f.fixed(), f.fixed(), f.fixed()}
	}
	m := Identity
	switch base {
	case 14:
		m.DX, m.DY = f.word(), f.word()
	case 16, 18:
		m.XX, m.YY = f.ratio(), f.ratio()
	case 20, 22:
		m.XX = f.ratio()
		m.YY = m.XX
	case 24, 26:
		sin, cos := math.Sincos(f.angle())
		m = Matrix{XX: cos, YX: sin, XY: -sin, YY: cos}
	case 28, 30:
		x, y := f.angle(), f.angle()
		m.XY, m.YX = -math.Tan(x), math.Tan(y)
	}
	if base == 18 || base == 22 || base == 26 || base == 30 {
		m = m.around(f.word(), f.word())
	}
	return m
}

// fill reads a brush.
func (r *reading) fill(base byte, f *fields, at int) *Paint {
	p := &Paint{Op: Fill}
	if base == 2 {
		f.at = 3
		p.Brush.Stops = []Stop{r.stop(0, sfnt.Word(f.b, 1), f.ratio())}
		return p
	}
	line := at + int(f.b[1])<<16 + int(f.b[2])<<8 + int(f.b[3])
	p.Brush = r.line(line, f.b[0] != base)
	f.at = 4
	v := &p.Brush.P
	switch base {
	case 4:
		p.Brush.Kind, *v = Linear, [6]float64{f.word(), f.word(), f.word(), f.word(), f.word(), f.word()}
	case 6:
		p.Brush.Kind, *v = Radial, [6]float64{f.word(), f.word(), f.radius(), f.word(), f.word(), f.radius()}
	case 8:
		// Angles are kept less by a half turn.
		p.Brush.Kind, *v = Sweep, [6]float64{f.word(), f.word(), f.angle() + math.Pi, f.angle() + math.Pi}
	}
	return p
}

// stop is a colour of the palette.
func (r *reading) stop(at float64, colour int, alpha float64) Stop {
	s := Stop{At: at, Foreground: colour == Foreground, Alpha: min(max(alpha, 0), 1)}
	if !s.Foreground {
		if colour >= len(r.palette) {
			r.fail("expected colours of the palette, found number %d of %d", colour, len(r.palette))
			return s
		}
		s.RGBA = r.palette[colour]
	}
	return s
}

// line reads a colour line; its stops are put in order.
func (r *reading) line(at int, varies bool) Brush {
	var out Brush
	if at+3 > len(r.b) || r.b[at] > byte(Reflect) {
		r.fail("expected a colour line inside of the table, found place %d of %d", at, len(r.b))
		return out
	}
	out.Extend = Extend(r.b[at])
	size := 6
	if varies {
		size = 10
	}
	n := sfnt.Word(r.b, at+1)
	if n == 0 || n > mostStops || at+3+size*n > len(r.b) {
		r.fail("expected 1 to %d stops of a colour line inside of the table, found %d", mostStops, n)
		return out
	}
	if r.count += n; r.count > mostPaints {
		r.fail("expected at most %d paints and stops, found more", mostPaints)
		return out
	}
	for i := range n {
		f := &fields{graph: r.graph, b: r.b[at+3+size*i:][:size], item: -1}
		if varies {
			f.varies(6)
		}
		place := f.ratio()
		f.at = 4
		out.Stops = append(out.Stops, r.stop(place, sfnt.Word(f.b, 2), f.ratio()))
	}
	slices.SortStableFunc(out.Stops, func(a, b Stop) int { return cmp.Compare(a.At, b.At) })
	return out
}

// live is how many pictures and masks of the glyph's size are needed at one time.
func (p *Paint) live() int {
	most := 0
	for _, k := range p.Kids {
		most = max(most, k.live())
	}
	if p.Box != nil {
		most++
	}
	switch p.Op {
	case Clip:
		return most + 1
	case Composite:
		return most + 2
	}
	return most
}

// Cost is how many pixels are looked at when the paint is drawn, at most, and points of outlines that are moved for it;
// false for one that needs more room than there is.
func (p *Paint) Cost(m Matrix) (int, bool) {
	box, moved := p.Bounds(m)
	area := box.Dx() * box.Dy()
	return p.Count*area + moved, area <= mostPixels && (1+p.live())*area <= mostLive
}

// mostReached is how many paints are read to find the glyphs that others are drawn with; fonts of four thousand
// emoji have a fifth of a million.
const mostReached = 4 << 20

// Reach marks the glyphs that marked glyphs in colour are drawn with.
func (g *Glyphs) Reach(marked []bool) error {
	mark := func(glyph int) {
		if glyph < len(marked) {
			marked[glyph] = true
		}
	}
	read := 0
	for glyph := range marked {
		if !marked[glyph] {
			continue
		}
		for _, l := range g.Layers(glyph) {
			mark(l.Glyph)
		}
		p, err := g.painted(glyph, func(part int) sfnt.Path {
			mark(part)
			return nil
		}, mark)
		if err != nil {
			return err
		}
		if p != nil {
			read += p.Count
		}
		if read > mostReached {
			return fault.Form("table COLR: expected at most %d million paints in all glyphs, found more", mostReached>>20)
		}
	}
	return nil
}
