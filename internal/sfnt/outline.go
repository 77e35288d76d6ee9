package sfnt

import "fmt"

// Limits on composite glyphs. The deepest that shipped fonts have is a handful
// of levels; a hostile one can make a renderer draw billions of parts out of a
// few bytes.
const (
	mostCompositeDepth = 16
	mostCompositeParts = 20_000 // simple glyphs in one composite, all levels
)

// CheckOutlines follows the composite glyphs of a TrueType font and refuses
// those that go round in circles, or that draw more than anybody would.
func (f *Font) CheckOutlines() error {
	if !f.Has("glyf") || !f.Has("loca") {
		return nil
	}
	head, err := f.Head()
	if err != nil {
		return err
	}
	maxp, err := f.Maxp()
	if err != nil {
		return err
	}
	glyf, err := f.Table("glyf")
	if err != nil {
		return err
	}
	loca, err := f.Table("loca")
	if err != nil {
		return err
	}
	return (&composites{glyf: glyf, loca: loca, long: head.LongLoca}).check(int(maxp.NumGlyphs))
}

// check follows all composite glyphs.
func (c *composites) check(glyphs int) error {
	c.parts, c.levels = make([]int32, glyphs), make([]uint8, glyphs)
	defer func() { c.parts, c.levels = nil, nil }() // the outlines of many faces are held at once
	for i := range glyphs {
		if _, err := c.count(i, 0); err != nil {
			return err
		}
	}
	return nil
}

// composites counts the parts of glyphs, each once.
type composites struct {
	glyf, loca []byte
	long       bool
	parts      []int32 // 0: not counted yet; -1: being counted
	levels     []uint8 // of parts below, where counted
}

// data is a glyph's bytes; what lies outside the table is empty, as renderers
// take it.
func (c *composites) data(i int) []byte {
	from, to := c.span(i)
	if from >= to || to > len(c.glyf) {
		return nil
	}
	return c.glyf[from:to]
}

// span is where a glyph's bytes are, as loca says.
func (c *composites) span(i int) (from, to int) {
	switch {
	case c.long && len(c.loca) >= 4*i+8:
		from, to = int(u32(c.loca, 4*i)), int(u32(c.loca, 4*i+4))
	case !c.long && len(c.loca) >= 2*i+4:
		from, to = 2*int(u16(c.loca, 2*i)), 2*int(u16(c.loca, 2*i+2))
	}
	return from, to
}

func (c *composites) count(i, depth int) (int32, error) {
	if i >= len(c.parts) {
		return 1, nil
	}
	where := fmt.Sprintf("glyph %d", i)
	switch {
	case c.parts[i] > 0:
		return c.parts[i], nil
	case c.parts[i] < 0:
		return 0, bad(where, "parts that are other glyphs", "itself among them")
	case depth > mostCompositeDepth:
		return 0, bad(where, fmt.Sprintf("at most %d levels of parts", mostCompositeDepth), "more")
	}
	b := c.data(i)
	total := int32(1)
	if parts := partsOf(b); parts != nil {
		c.parts[i] = -1
		for _, id := range parts {
			n, err := c.count(id, depth+1)
			if err != nil {
				return 0, err
			}
			if total += n; total > mostCompositeParts {
				return 0, bad(where, fmt.Sprintf("at most %d parts", mostCompositeParts), "more")
			}
			if id < len(c.levels) {
				c.levels[i] = max(c.levels[i], c.levels[id]+1)
			}
			if c.levels[i] > mostCompositeDepth {
				return 0, bad(where, fmt.Sprintf("at most %d levels of parts", mostCompositeDepth), "more")
			}
		}
	}
	c.parts[i] = total
	return total, nil
}

// partsOf are the glyphs that a composite one is made of; nil for a simple one.
func partsOf(b []byte) (parts []int) {
	if len(b) < 10 || i16(b, 0) >= 0 {
		return nil
	}
	s := &stream{b: b[10:]}
	for {
		flags, id := s.u16(), s.u16()
		s.take(componentSize(flags) - 2)
		if s.over {
			return parts
		}
		if parts = append(parts, int(id)); flags&compMore == 0 {
			return parts
		}
	}
}
