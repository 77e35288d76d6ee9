package shape

import (
	"github.com/go-text/typesetting/font"
	"github.com/go-text/typesetting/font/opentype/tables"
)

// classes is a class table that has a class for every glyph: 0 for those that it does not name
// (OpenType, Class Definition Table).
type classes struct{ tables.ClassDef }

// Class is the class of a glyph.
func (c classes) Class(g tables.GlyphID) (uint16, bool) {
	class, _ := c.ClassDef.Class(g)
	return class, true
}

// kernByAllClasses makes class 0 a class like others for the second glyph of a pair, as the format
// says (GPOS, pair adjustment, format 2): the first subtable that covers a pair decides. The library
// by itself goes on to the next subtable there, and kerns by a rule that was not meant.
func kernByAllClasses(f *font.Font) {
	for _, l := range f.GPOS.Lookups {
		for i, s := range l.Subtables {
			pair, ok := s.(tables.PairPos)
			if !ok {
				continue
			}
			if byClass, ok := pair.Data.(tables.PairPosData2); ok && byClass.ClassDef2 != nil {
				byClass.ClassDef2 = classes{byClass.ClassDef2}
				pair.Data = byClass
				l.Subtables[i] = pair
			}
		}
	}
}
