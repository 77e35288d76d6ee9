package sfnt

import (
	"fmt"
	"math"
	"slices"
	"sort"
	"strings"
	"sync/atomic"
)

// A variation is a place in a variable font's design space, with what moves the points there
// (OpenType, gvar).
type variation struct {
	place   []float64 // by axis, from -1 to 1
	gvar    []byte
	axes    int
	shared  []byte // tuples that several glyphs use
	offsets []byte
	long    bool
	glyphs  int
	data    []byte
	moves   *atomic.Int64 // of points of this font, at all places that were asked for
}

// Bounds of what variations are looked through for. A font of sixty thousand glyphs moves five million points for each
// place, and a page shows some fifty places.
const (
	mostMoves      = 128 << 20
	mostTuples     = 4096
	mostVaryPoints = 1 << 16
)

// At is the font's outlines at a place of its design space: values of axes by their tags, in the
// axes' own units; an axis that is not named stays at its default, and a value beyond an axis is the
// nearest on it. Outlines of glyf and of CFF2 vary, and advances (gvar, HVAR).
func (p *Paths) At(f *Font, user map[string]float64) (*Paths, error) {
	place, err := f.place(user)
	if err != nil {
		return nil, err
	}
	out := *p
	if b, err := f.Table("HVAR"); err == nil { // says the same as gvar of advances, with less work
		out.more = readAdvances(b, place)
	}
	if p.cff != nil && p.cff.two {
		c := *p.cff
		c.store = c.store.at(place)
		out.cff = &c
		return &out, nil
	}
	if !f.Has("gvar") {
		if f.Has("COLR") { // colours alone can vary
			return &out, nil
		}
		return nil, bad("outlines", "a variable font (gvar, or CFF2)", "another")
	}
	b, err := f.Table("gvar")
	if err != nil {
		return nil, err
	}
	v, err := parseGvar(b, len(place))
	if err != nil {
		return nil, err
	}
	v.place, v.moves = place, &f.moves
	out.vary = v
	return &out, nil
}

// Stored is how much values change at a place, by a table of a store of variations and the row in it; and the place, each axis from -1 to 1.
func (f *Font) Stored(store []byte, user map[string]float64) (delta func(outer, inner int) float64, place []float64, err error) {
	place, err = f.place(user)
	return parseStore(store).at(place).delta, place, err
}

// place is a place of the font's design space, each axis from -1 to 1.
func (f *Font) place(user map[string]float64) ([]float64, error) {
	axes, _, err := f.Variations()
	if err != nil {
		return nil, err
	}
	place, err := normalized(axes, user)
	if err != nil {
		return nil, err
	}
	if b, err := f.Table("avar"); err == nil {
		remap(b, place)
	}
	return place, nil
}

// normalized is a place from -1 to 1 on each axis, in steps of 1/16384.
func normalized(axes []Axis, user map[string]float64) ([]float64, error) {
	place := make([]float64, len(axes))
	known := map[string]bool{}
	var names []string
	for i, a := range axes {
		known[a.Tag] = true
		names = append(names, fmt.Sprintf("%s (%g to %g)", a.Tag, a.Min, a.Max))
		v, ok := user[a.Tag]
		if !ok {
			continue
		}
		switch v = min(max(v, a.Min), a.Max); {
		case v < a.Default && a.Default > a.Min:
			place[i] = -(a.Default - v) / (a.Default - a.Min)
		case v > a.Default && a.Max > a.Default:
			place[i] = (v - a.Default) / (a.Max - a.Default)
		}
		place[i] = math.Round(place[i]*16384) / 16384
	}
	wrong := ""
	for tag := range user {
		if !known[tag] && (wrong == "" || tag < wrong) {
			wrong = tag
		}
	}
	switch {
	case wrong != "" && len(axes) == 0:
		return nil, bad("table fvar", "a variable font for the axis "+wrong, "a font without axes")
	case wrong != "":
		return nil, bad("table fvar", "an axis of the font: "+strings.Join(names, ", "), "%q", wrong)
	}
	return place, nil
}

// remap bends the axes (OpenType, avar).
func remap(b []byte, place []float64) {
	at := 8
	for i := range min(len(place), Word(b, 6)) {
		n := Word(b, at)
		at += 2
		if at+4*n > len(b) {
			return
		}
		pair := func(k int) (from, to float64) {
			return float64(i16(b, at+4*k)) / 16384, float64(i16(b, at+4*k+2)) / 16384
		}
		k := sort.Search(n, func(k int) bool { from, _ := pair(k); return from >= place[i] })
		if k < n {
			from, to := pair(k)
			if from > place[i] && k > 0 {
				before, was := pair(k - 1)
				to = was + (to-was)*(place[i]-before)/(from-before)
			}
			place[i] = math.Round(to*16384) / 16384
		}
		at += 4 * n
	}
}

func parseGvar(b []byte, axes int) (*variation, error) {
	if len(b) < 20 {
		return nil, short("gvar", 20, len(b))
	}
	v := &variation{gvar: b, axes: int(u16(b, 4)), glyphs: int(u16(b, 12)), long: u16(b, 14)&1 != 0}
	tuples, at := int(u16(b, 6)), int(u32(b, 8))
	size := map[bool]int{false: 2, true: 4}[v.long]
	if v.axes != axes || at+tuples*2*axes > len(b) || 20+size*(v.glyphs+1) > len(b) || int(u32(b, 16)) > len(b) {
		return nil, bad("table gvar", fmt.Sprintf("%d axes and its parts within the table", axes), "%d axes, %d tuples in %d bytes", v.axes, tuples, len(b))
	}
	v.shared, v.offsets, v.data = b[at:at+tuples*2*axes], b[20:], b[u32(b, 16):]
	return v, nil
}

// glyph is the data of a glyph's variations; nil for none.
func (v *variation) glyph(i int) []byte {
	if i < 0 || i >= v.glyphs {
		return nil
	}
	from, to := 2*Word(v.offsets, 2*i), 2*Word(v.offsets, 2*i+2)
	if v.long {
		from, to = int(u32(v.offsets, 4*i)), int(u32(v.offsets, 4*i+4))
	}
	if from < 0 || from >= to || to > len(v.data) {
		return nil
	}
	return v.data[from:to]
}

// Flags of a tuple's head and of packed numbers (OpenType, "Tuple variation store").
const (
	tupleShared          = 0x8000 // of the count: point numbers that all share
	tuplePeak            = 0x8000
	tupleBetween         = 0x4000
	tuplePrivate         = 0x2000
	deltasZero           = 0x80
	deltasWords          = 0x40
	deltasMost           = 0x3f
	pointsWords          = 0x80
	pointsMost           = 0x7f
	phantoms             = 4
	tupleIndex           = 0x0fff
	tupleCount           = 0x0fff
	f2dot14      float64 = 16384
)

// deltas is how far each point of a glyph moves, the four phantom points last, whose first two are
// the glyph's origin and its advance. Ends are the last points of its contours, for points
// that move along with others; points have their places at the default. Data that does not hold
// moves nothing.
func (v *variation) deltas(glyph int, points [][2]float32, ends []int) [][2]float32 {
	b := v.glyph(glyph)
	if len(b) < 4 || !v.affords(len(points)) { // which were read for it
		return nil
	}
	out := make([][2]float32, len(points))
	v.each(b, len(points), func(body *stream, moved []int, every bool, scale float64) {
		if v.affords(len(points)) {
			v.add(out, body, moved, every, scale, points, ends)
		}
	})
	return out
}

// each hands over the tuples that count at the place, with the points that they move: some, or every one.
func (v *variation) each(b []byte, points int, use func(body *stream, moved []int, every bool, scale float64)) {
	count, at := Word(b, 0), Word(b, 2)
	s := &stream{b: From(b, at)}
	common, all := []int(nil), false
	if count&tupleShared != 0 {
		common, all = pointNumbers(s, points)
	}
	head, tuples := 4, min(count&tupleCount, mostTuples)
	if !v.affords(2 * tuples) {
		return
	}
	body := &stream{}
	for range tuples {
		if head+4 > len(b) {
			break
		}
		size, flags := Word(b, head), Word(b, head+2)
		scale, next := v.scale(b, head+4, flags)
		head = next
		*body = stream{b: s.b[:min(size, len(s.b))]}
		s.b = s.b[min(size, len(s.b)):]
		if scale == 0 || body.over || !v.affords(len(body.b)/8) {
			continue
		}
		moved, every := common, all
		if flags&tuplePrivate != 0 {
			moved, every = pointNumbers(body, points)
		}
		use(body, moved, every, scale)
	}
}

// advance is how much the distance grows between the first two phantom points, which is the advance. Packed numbers
// are passed over by their runs, for every glyph of a font is asked.
func (v *variation) advance(glyph, points int) (more float64) {
	b := v.glyph(glyph)
	if len(b) < 4 || !v.affords(len(b)/8) {
		return 0
	}
	v.each(b, points+phantoms, func(body *stream, moved []int, every bool, scale float64) {
		for i, sign := range [2]float64{-1, 1} {
			from := points + i
			if !every {
				if from = slices.Index(moved, points+i); from < 0 {
					continue
				}
			}
			more += sign * packedDelta(stream{b: body.b}, from) * scale
		}
	})
	return more
}

// packedDelta is one of packed numbers; 0 for one that is not there.
func packedDelta(s stream, at int) float64 {
	for !s.over {
		run := int(s.u8())
		n, size := run&deltasMost+1, 1
		switch {
		case run&deltasZero != 0:
			size = 0
		case run&deltasWords != 0:
			size = 2
		}
		if at >= n {
			at -= n
			s.take(n * size)
			continue
		}
		s.take(at * size)
		switch size {
		case 1:
			return float64(int8(s.u8()))
		case 2:
			return float64(int16(s.u16()))
		}
		return 0
	}
	return 0
}

// affords counts points that move; false when there were too many.
func (v *variation) affords(n int) bool { return v.moves == nil || v.moves.Add(int64(n)) <= mostMoves }

// spent says that a font's variations move more than is looked through: what is drawn of it then would be wrong.
func (v *variation) spent() error {
	if v == nil || v.moves == nil || v.moves.Load() <= mostMoves {
		return nil
	}
	return bad("table gvar", fmt.Sprintf("variations of at most %d million points, each as often as it moves", mostMoves>>20), "more")
}

// Varied says whether the font's variations could be looked through: advances are those of the default else.
func (p *Paths) Varied() error { return p.vary.spent() }

// scale is how much a tuple counts at the place, and where the next head is.
func (v *variation) scale(b []byte, at, flags int) (float64, int) {
	peak := From(v.shared, (flags&tupleIndex)*2*v.axes)
	if flags&tuplePeak != 0 {
		peak = From(b, at)
		at += 2 * v.axes
	}
	var start, end []byte
	if flags&tupleBetween != 0 {
		start, end = From(b, at), From(b, at+2*v.axes)
		at += 4 * v.axes
	}
	if len(peak) < 2*v.axes || flags&tupleBetween != 0 && len(end) < 2*v.axes {
		return 0, at
	}
	scale := 1.0
	for i, here := range v.place {
		p := float64(i16(peak, 2*i)) / f2dot14
		low, high := min(p, 0), max(p, 0)
		if start != nil {
			low, high = float64(i16(start, 2*i))/f2dot14, float64(i16(end, 2*i))/f2dot14
		}
		if scale *= tent(low, p, high, here); scale == 0 {
			return 0, at
		}
	}
	return scale, at
}

// pointNumbers reads which points move; all says that every one does.
func pointNumbers(s *stream, most int) (numbers []int, all bool) {
	n := int(s.u8())
	if n&pointsWords != 0 {
		n = n&pointsMost<<8 | int(s.u8())
	}
	if n == 0 {
		return nil, true
	}
	at := 0
	for len(numbers) < min(n, mostVaryPoints) && !s.over {
		run := int(s.u8())
		for range run&pointsMost + 1 {
			if run&pointsWords != 0 {
				at += int(s.u16())
			} else {
				at += int(s.u8())
			}
			if len(numbers) == n || s.over {
				break
			}
			numbers = append(numbers, min(at, most)) // one beyond the points moves none
		}
	}
	return numbers, false
}

// packedDeltas reads n numbers; those that are not there are 0.
func packedDeltas(s *stream, n int) []float64 {
	out := make([]float64, n)
	for at := 0; at < n && !s.over; {
		run := int(s.u8())
		many := run&deltasMost + 1
		some := out[at:min(at+many, n)]
		switch {
		case run&deltasZero != 0:
		case run&deltasWords != 0:
			for i := range some {
				some[i] = float64(int16(s.u16()))
			}
			s.take(2 * (many - len(some)))
		default:
			for i := range some {
				some[i] = float64(int8(s.u8()))
			}
			s.take(many - len(some))
		}
		at += many
	}
	return out
}

// add moves the points by one tuple.
func (v *variation) add(out [][2]float32, s *stream, moved []int, every bool, scale float64, points [][2]float32, ends []int) {
	n := len(moved)
	if every {
		n = len(points)
	}
	xs, ys := packedDeltas(s, n), packedDeltas(s, n)
	if every {
		for i := range points {
			out[i][0] += float32(xs[i] * scale)
			out[i][1] += float32(ys[i] * scale)
		}
		return
	}
	d, touched := make([][2]float64, len(points)), make([]bool, len(points))
	for i, p := range moved {
		if p < len(points) {
			d[p], touched[p] = [2]float64{d[p][0] + xs[i], d[p][1] + ys[i]}, true
		}
	}
	start := 0
	for _, end := range ends {
		between(d, touched, points, start, end)
		start = end + 1
	}
	for i := range points {
		out[i][0] += float32(d[i][0] * scale)
		out[i][1] += float32(d[i][1] * scale)
	}
}

// between moves the points of a contour that no number names: with the nearest that are named on
// both sides, in proportion to their places (OpenType, "Inferred deltas for un-referenced point
// numbers").
func between(d [][2]float64, touched []bool, points [][2]float32, start, end int) {
	first := start
	for first <= end && !touched[first] {
		first++
	}
	if first > end {
		return
	}
	for a := first; ; {
		b := a + 1
		for ; ; b++ {
			if b > end {
				b = start
			}
			if touched[b] {
				break
			}
		}
		for i := a + 1; ; i++ {
			if i > end {
				i = start
			}
			if i == b {
				break
			}
			for axis := range 2 {
				d[i][axis] = inferred(points[i][axis], points[a][axis], points[b][axis], d[a][axis], d[b][axis])
			}
		}
		if a = b; a == first {
			return
		}
	}
}

// inferred is how far a place moves between two that are known.
func inferred(at, a, b float32, da, db float64) float64 {
	if a > b {
		a, b, da, db = b, a, db, da
	}
	switch {
	case a == b && da != db:
		return 0
	case at <= a:
		return da
	case at >= b:
		return db
	}
	return da + (db-da)*float64(at-a)/float64(b-a)
}
