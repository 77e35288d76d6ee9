package sfnt

import "fmt"

// readCFF2 reads the outlines of a font of CFF2 (OpenType, "CFF2"), at the default of its axes.
func (f *Font) readCFF2() (*cff, error) {
	b, err := f.Table("CFF2")
	if err != nil {
		return nil, err
	}
	return parseCFF2(b)
}

func parseCFF2(b []byte) (*cff, error) {
	fail := func(expected, found string) (*cff, error) { return nil, bad("table CFF2", expected, "%s", found) }
	if len(b) < 5 || b[0] != 2 || int(b[2])+Word(b, 3) > len(b) {
		return fail("a header of version 2", "another, or the end of the table")
	}
	at := int(b[2])
	top := readDict(b[at:at+Word(b, 3)], true)
	c := &cff{two: true}
	var ok bool
	c.at.global, c.at.glyphs = at+Word(b, 3), top.offset(17)
	if c.global, _, ok = cff2Index(b, c.at.global); !ok {
		return fail("a list of global subroutines", "one that is cut short")
	}
	if c.glyphs, _, ok = cff2Index(b, c.at.glyphs); !ok || c.at.glyphs == 0 {
		return fail("charstrings", "none, or a list that is cut short")
	}
	fonts, _, ok := cff2Index(b, top.offset(1236))
	if !ok || len(fonts) == 0 {
		return fail("a font of the list (FDArray)", "none, or a list that is cut short")
	}
	for _, d := range fonts {
		c.vsindex = append(c.vsindex, c.private(b, readDict(d, true)).offset(22))
	}
	if len(fonts) > 1 {
		if c.selects, ok = fdSelect(b, top.offset(1237), len(c.glyphs)); !ok {
			return fail("a font for each glyph (FDSelect)", "another form, or the end of the table")
		}
	}
	if at := top.offset(24); at > 0 {
		c.store = parseStore(From(b, at+2)).at(nil) // its length stands before it
	}
	return c, nil
}

// cff2Index is a list of CFF2, whose count has four bytes.
func cff2Index(b []byte, at int) ([][]byte, int, bool) {
	if at < 0 || at+4 > len(b) || u32(b, at) > mostCFFIndex {
		return nil, 0, false
	}
	return indexOf(b, at+4, int(u32(b, at)))
}

// A store holds how much values change, by regions of the design space (OpenType, "Item variation
// store").
type varStore struct {
	b       []byte
	regions []byte // of the list of regions: all axes of one behind those of another
	axes    int
	count   int       // of regions
	scales  []float64 // how much each region counts at a place
}

// parseStore reads the head of a store; nil for one that does not hold.
func parseStore(b []byte) *varStore {
	if Word(b, 0) != 1 || len(b) < 8 {
		return nil
	}
	list := From(b, int(u32(b, 2)))
	s := &varStore{b: b, axes: Word(list, 0), count: Word(list, 2)}
	if s.axes > mostAxes || 4+6*s.axes*s.count > len(list) {
		return nil
	}
	if len(list) >= 4 {
		s.regions = list[4:]
	}
	return s
}

// at is the store at a place of the design space; nil for the default. Regions are counted once, for there can be as
// many glyphs as regions.
func (s *varStore) at(place []float64) *varStore {
	if s == nil {
		return nil
	}
	out := *s
	out.scales = make([]float64, s.count)
	for region := range out.scales {
		scale := 1.0
		for axis := range s.axes {
			r := s.regions[6*(region*s.axes+axis):]
			low, peak, high := float64(i16(r, 0))/f2dot14, float64(i16(r, 2))/f2dot14, float64(i16(r, 4))/f2dot14
			here := 0.0
			if axis < len(place) {
				here = place[axis]
			}
			scale *= tent(low, peak, high, here)
		}
		out.scales[region] = scale
	}
	return &out
}

// data is one of the store's tables, nil if there is none.
func (s *varStore) data(outer int) []byte {
	if s == nil || outer < 0 || outer >= Word(s.b, 6) || 8+4*outer+4 > len(s.b) {
		return nil
	}
	return From(s.b, int(u32(s.b, 8+4*outer)))
}

// scalars are how much each region of a table counts.
func (s *varStore) scalars(outer int) []float64 {
	d := s.data(outer)
	n := min(Word(d, 4), mostCFFRegions)
	if s == nil || 6+2*n > len(d) {
		return nil
	}
	out := make([]float64, n)
	for i := range out {
		out[i] = s.scale(Word(d, 6+2*i))
	}
	return out
}

// mostCFFRegions is how many regions one value can depend on; the stack has not more.
const mostCFFRegions = 512

func (s *varStore) scale(region int) float64 {
	if region >= len(s.scales) {
		return 0
	}
	return s.scales[region]
}

// tent is how much one axis counts at a place: all at the peak, nothing beyond the ends.
func tent(low, peak, high, here float64) float64 {
	switch {
	case peak == 0 || here == peak || low > peak || peak > high || low < 0 && high > 0:
		return 1
	case here <= low || here >= high:
		return 0
	case here < peak:
		return (here - low) / (peak - low)
	}
	return (high - here) / (high - peak)
}

// delta is how much an item of the store changes.
func (s *varStore) delta(outer, inner int) float64 {
	d := s.data(outer)
	items, words, regions := Word(d, 0), Word(d, 2), Word(d, 4)
	long := words&0x8000 != 0
	words &= 0x7fff
	if inner >= items || words > regions {
		return 0
	}
	wide, small := 2, 1
	if long {
		wide, small = 4, 2
	}
	row := From(d, 6+2*regions+inner*(words*wide+(regions-words)*small))
	if len(row) < words*wide+(regions-words)*small {
		return 0
	}
	sum := 0.0
	for i := range min(regions, mostCFFRegions) {
		var v float64
		switch {
		case i < words && long:
			v, row = float64(int32(u32(row, 0))), row[4:]
		case i < words || long:
			v, row = float64(i16(row, 0)), row[2:]
		default:
			v, row = float64(int8(row[0])), row[1:]
		}
		sum += v * s.scale(Word(d, 6+2*i))
	}
	return sum
}

// advances is the table HVAR: how much advances change.
type advances struct {
	store *varStore
	index []byte // which item is each glyph's; nil for the glyph's own number
}

func readAdvances(b []byte, place []float64) *advances {
	if len(b) < 20 {
		return nil
	}
	a := &advances{store: parseStore(From(b, int(u32(b, 4)))).at(place)}
	if at := int(u32(b, 8)); at > 0 {
		a.index = From(b, at)
	}
	return a
}

// delta is how much a glyph's advance changes (OpenType, "Associating target items to variation
// data").
func (a *advances) delta(glyph int) float64 {
	if a == nil || a.store == nil {
		return 0
	}
	if a.index == nil { // 16 bits of the outer number, then as many of the inner one
		return a.store.delta(glyph>>16, glyph&0xffff)
	}
	if len(a.index) < 6 {
		return 0
	}
	count, at := Word(a.index, 2), 4
	if a.index[0] == 1 {
		count, at = int(u32(a.index, 2)), 6
	}
	size, inner := int(a.index[1]>>4&3)+1, int(a.index[1]&15)+1
	if glyph = min(glyph, count-1); glyph < 0 || at+size*(glyph+1) > len(a.index) {
		return 0
	}
	v := 0
	for _, c := range a.index[at+size*glyph : at+size*(glyph+1)] {
		v = v<<8 | int(c)
	}
	return a.store.delta(v>>inner, v&(1<<inner-1))
}

// blend takes the operands of several masters together: n values, then what each changes by in
// each region (OpenType, "CFF2 CharString format").
func (m *charMachine) blend() {
	n, k := 0, len(m.scalars)
	if len(m.stack) > 0 {
		n = int(m.stack[len(m.stack)-1])
		m.stack = m.stack[:len(m.stack)-1]
	}
	if n < 0 || n*(k+1) > len(m.stack) {
		m.fail(fmt.Sprintf("%d numbers to blend", max(n, 0)*(k+1)), "fewer")
		return
	}
	base := m.stack[len(m.stack)-n*(k+1):]
	for i := range n {
		for j, scale := range m.scalars {
			base[i] += base[n+i*k+j] * scale
		}
	}
	m.stack = m.stack[:len(m.stack)-n*k]
}

// vary chooses which regions the next blends count.
func (m *charMachine) vary() {
	if len(m.stack) == 0 {
		m.fail("the number of a table of regions", "none")
		return
	}
	m.scalars = m.font.store.scalars(int(m.stack[len(m.stack)-1]))
	m.ops += len(m.scalars) // each is worked out anew
	m.stack = m.stack[:0]
}

// Changes tells how much values of a table change at a place of the design space, by their numbers in an item
// variation store, and a map of these numbers; a nil map for none (OpenType, "Item variation store").
func (f *Font) Changes(store, index []byte, user map[string]float64) (func(n int) float64, error) {
	place, err := f.place(user)
	if err != nil {
		return nil, err
	}
	return (&advances{parseStore(store).at(place), index}).delta, nil
}
