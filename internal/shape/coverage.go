package shape

import (
	"reflect"
	"strings"
	"unsafe"

	"github.com/go-text/typesetting/font"
	"github.com/go-text/typesetting/font/opentype/tables"
)

// The library keeps a filter of the glyphs that a lookup covers, to pass over others quickly. Of a coverage
// table of ranges (OpenType, Coverage, format 2) it leaves all ranges out that come after one has filled
// a part of the filter; their glyphs are then passed over, and a font is set without its kerning, or
// without its ligatures. A list of glyphs (format 1) is taken whole: so tables that would lose some are
// made into lists here.

// mostListed is how many glyphs such lists have in all: a font can share a coverage among many lookups.
const mostListed = 4 << 20

// filter is what the library makes of coverage: three masks of 64 bits.
type filter [3]uint64

const full = ^uint64(0)

var shifts = [3]uint{4, 0, 6}

func (f *filter) add(g uint16) {
	for i, s := range shifts {
		f[i] |= 1 << (g >> s & 63)
	}
}

func (f *filter) has(g uint16) bool {
	for i, s := range shifts {
		if f[i]>>(g>>s&63)&1 == 0 {
			return false
		}
	}
	return true
}

// ranges adds those of a table as the library does; false if it leaves glyphs out.
func (f *filter) ranges(list []tables.RangeRecord) bool {
	whole := true
	for _, r := range list {
		if f[0] == full || f[1] == full || f[2] == full { // the library goes on to the next
			whole = whole && f.holds(r)
			continue
		}
		for g := int(r.StartGlyphID); g <= int(r.EndGlyphID); g++ {
			f.add(uint16(g))
		}
	}
	return whole
}

// holds says whether all glyphs of a range pass.
func (f *filter) holds(r tables.RangeRecord) bool {
	for g := int(r.StartGlyphID); g <= int(r.EndGlyphID); g++ {
		if !f.has(uint16(g)) {
			return false
		}
	}
	return true
}

// listCoverage makes the coverage of lookups into lists where ranges would lose glyphs.
func listCoverage(f *font.Font) {
	left := mostListed
	for _, l := range f.GPOS.Lookups {
		mend(l.Subtables, &left)
	}
	for _, l := range f.GSUB.Lookups {
		mend(l.Subtables, &left)
	}
}

// covered is a subtable of either table.
type covered interface{ Cov() tables.Coverage }

// mend looks at the subtables of one lookup, which share a filter beside those of their own.
func mend[T covered](subtables []T, left *int) {
	var all filter
	whole := true
	for _, s := range subtables {
		if c, ok := s.Cov().(tables.Coverage2); ok {
			var own filter
			whole = own.ranges(c.Ranges) && whole
			whole = all.ranges(c.Ranges) && whole
		} else if c, ok := s.Cov().(tables.Coverage1); ok {
			for _, g := range c.Glyphs {
				all.add(uint16(g))
			}
		}
	}
	if whole {
		return
	}
	for i := range subtables {
		if v, changed := listed(reflect.ValueOf(&subtables[i]).Elem(), 0, left); changed {
			subtables[i] = v.Interface().(T)
		}
	}
}

var coverageType = reflect.TypeFor[tables.Coverage]()

// listed is a value of the library's tables in which coverage by ranges is by lists. Its fields are not
// all exported, so they are set through their addresses.
func listed(v reflect.Value, depth int, left *int) (reflect.Value, bool) {
	switch {
	case v.Kind() == reflect.Interface && v.Type() == coverageType:
		c, ok := v.Interface().(tables.Coverage2)
		if !ok {
			return v, false
		}
		list := glyphs(c.Ranges, left)
		return reflect.ValueOf(tables.Coverage1{Glyphs: list}), list != nil
	case v.Kind() == reflect.Interface && !v.IsNil() && depth < 4 && v.Elem().Kind() == reflect.Struct:
		return listed(v.Elem(), depth+1, left)
	case v.Kind() == reflect.Slice && v.Type().Elem() == coverageType && v.Len() > 0:
		if c, changed := listed(v.Index(0), depth+1, left); changed { // the first is the subtable's own
			v.Index(0).Set(c)
		}
		return v, false
	case v.Kind() != reflect.Struct:
		return v, false
	}
	out, any := reflect.New(v.Type()).Elem(), false
	out.Set(v)
	for i := range out.NumField() {
		kind := out.Field(i).Type()
		if kind != coverageType && (kind.Kind() != reflect.Slice || kind.Elem() != coverageType) && !strings.HasSuffix(kind.Name(), "Data") {
			continue
		}
		field := reflect.NewAt(kind, unsafe.Pointer(out.Field(i).UnsafeAddr())).Elem()
		if x, changed := listed(field, depth+1, left); changed {
			field.Set(x)
			any = true
		}
	}
	return out, any
}

// glyphs are those of ranges, in order; nil where they would be too many, or where the ranges do not
// count them as a list would.
func glyphs(ranges []tables.RangeRecord, left *int) []tables.GlyphID {
	var out []tables.GlyphID
	for _, r := range ranges {
		n := int(r.EndGlyphID) - int(r.StartGlyphID) + 1
		if n <= 0 || n > *left || int(r.StartCoverageIndex) != len(out) {
			return nil
		}
		*left -= n
		for g := int(r.StartGlyphID); g <= int(r.EndGlyphID); g++ {
			out = append(out, tables.GlyphID(g))
		}
	}
	return out
}
