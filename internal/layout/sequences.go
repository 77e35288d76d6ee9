package layout

import (
	"notaria/internal/fault"
	"notaria/internal/sfnt"
)

// mostSequences is how many pairs of a character and a variation selector a font has at most.
const mostSequences = 1 << 20

// Sequences is the subtable of a cmap that says what characters become before variation selectors (OpenType,
// cmap, format 14), nil for a font without; each is handed over with the glyph that it has of its own. One that
// does not hold is an error.
func Sequences(cmap []byte, each func(character rune, glyph int)) ([]byte, error) {
	for i := range sfnt.Word(cmap, 2) {
		at := 4 + 8*i
		if at+8 > len(cmap) || u32(cmap, at+4) > uint32(len(cmap)) {
			break
		}
		b := cmap[u32(cmap, at+4):]
		if sfnt.Word(cmap, at) != 0 || sfnt.Word(cmap, at+2) != 5 || sfnt.Word(b, 0) != 14 || len(b) < 10 {
			continue
		}
		if u32(b, 2) > uint32(len(b)) || u32(b, 2) < 10 {
			return nil, fault.Form("table cmap: expected variation sequences inside of the table, found %d bytes of %d", u32(b, 2), len(b))
		}
		b = b[:u32(b, 2)]
		return b, ownGlyphs(b, each)
	}
	return nil, nil
}

// ownGlyphs reads the lists of glyphs of their own, one for each selector.
func ownGlyphs(b []byte, each func(rune, int)) error {
	u24 := func(b []byte) rune { return rune(b[0])<<16 | rune(b[1])<<8 | rune(b[2]) }
	work := 0
	for i := range int(min(u32(b, 6), uint32(len(b)/11))) {
		if 10+11*i+11 > len(b) {
			return fault.Form("table cmap: expected a variation selector inside of the table, found its end")
		}
		at := u32(b, 10+11*i+7)
		if at == 0 {
			continue
		}
		if int64(at)+4 > int64(len(b)) || int64(u32(b, int(at))) > int64(len(b)-int(at)-4)/5 {
			return fault.Form("table cmap: expected variation sequences inside of the table, found place %d of %d", at, len(b))
		}
		n := int(u32(b, int(at)))
		if work += n; work > mostSequences {
			return fault.Form("table cmap: expected at most %d variation sequences, found more", mostSequences)
		}
		for k := range n {
			r := b[int(at)+4+5*k:]
			each(u24(r), sfnt.Word(r, 3))
		}
	}
	return nil
}
