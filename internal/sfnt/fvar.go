package sfnt

const mostAxes, maxInstances = 64, 4096

// An Axis is a direction in which a variable font varies; values are in the
// axis's own units (weight 1 to 1000, width in percent, slant in degrees).
type Axis struct {
	Tag               string
	NameID            uint16
	Min, Default, Max float64
}

// An Instance is a named place in a variable font's design space.
type Instance struct {
	NameID, PostScriptID uint16 // PostScriptID is 0 where the font gives none
	Coordinates          []float64
}

// Variations reads the font's fvar table; a font without one has no axes.
func (f *Font) Variations() ([]Axis, []Instance, error) {
	if !f.Has("fvar") {
		return nil, nil, nil
	}
	b, err := f.Table("fvar")
	if err != nil {
		return nil, nil, err
	}
	return ParseVariations(b)
}

// ParseVariations parses an fvar table.
func ParseVariations(b []byte) ([]Axis, []Instance, error) {
	if len(b) < 16 {
		return nil, nil, short("fvar", 16, len(b))
	}
	at, axes, axisSize := int(u16(b, 4)), int(u16(b, 8)), int(u16(b, 10))
	insts, instSize := int(u16(b, 12)), int(u16(b, 14))
	need := at + axes*axisSize + insts*instSize
	if axes > mostAxes || insts > maxInstances || axisSize < 20 || insts > 0 && instSize < 4+4*axes || need > len(b) {
		return nil, nil, bad("table fvar", "its axes and instances within the table", "%d axes, %d instances in %d bytes", axes, insts, len(b))
	}
	fixed := func(b []byte, i int) float64 { return float64(int32(u32(b, i))) / 65536 }
	out := make([]Axis, axes)
	for i := range out {
		a := b[at+i*axisSize:]
		out[i] = Axis{Tag(u32(a, 0)).String(), u16(a, 18), fixed(a, 4), fixed(a, 8), fixed(a, 12)}
	}
	list := make([]Instance, insts)
	for i := range list {
		d := b[at+axes*axisSize+i*instSize:]
		list[i].NameID = u16(d, 0)
		for j := range axes {
			list[i].Coordinates = append(list[i].Coordinates, fixed(d, 4+4*j))
		}
		if instSize >= 6+4*axes && u16(d, 4+4*axes) != 0xffff {
			list[i].PostScriptID = u16(d, 4+4*axes)
		}
	}
	return out, list, nil
}

// AxisNames reads the names that the STAT table gives axes, as name IDs by tag,
// and the ID of the style that is meant where none is said (0 for none). A font
// without the table has none.
func (f *Font) AxisNames() (ids map[string]uint16, fallback uint16) {
	b, err := f.Table("STAT")
	if err != nil {
		return nil, 0
	}
	return ParseAxisNames(b)
}

// ParseAxisNames parses the head and the design axes of a STAT table.
func ParseAxisNames(b []byte) (ids map[string]uint16, fallback uint16) {
	if len(b) < 18 {
		return nil, 0
	}
	size, n, at := int(u16(b, 4)), int(u16(b, 6)), int(u32(b, 8))
	if size < 8 || n > mostAxes || at+n*size > len(b) {
		return nil, 0
	}
	ids = map[string]uint16{}
	for i := range n {
		a := b[at+i*size:]
		ids[Tag(u32(a, 0)).String()] = u16(a, 4)
	}
	if u16(b, 2) >= 1 && len(b) >= 20 {
		fallback = u16(b, 18)
	}
	return ids, fallback
}
