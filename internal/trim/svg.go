package trim

import (
	"encoding/binary"
	"slices"

	"notaria/internal/fault"
	"notaria/internal/sfnt"
)

// keptSVG is the table of drawings with those documents alone that have a glyph which stays (OpenType, SVG). Glyphs keep their numbers,
// for documents name them by these.
func keptSVG(b []byte, marked []bool) ([]byte, error) {
	at := 0
	if len(b) >= 10 {
		at = int(binary.BigEndian.Uint32(b[2:]))
	}
	list := sfnt.From(b, at)
	count := sfnt.Word(list, 0)
	if len(b) < 10 || sfnt.Word(b, 0) != 0 || len(list) < 2+12*count {
		return nil, fault.Form("table SVG: expected version 0 with its list of documents, found %d bytes of another", len(b))
	}
	type document struct{ from, size int }
	var records []byte
	var order []document
	places := map[document]int{}
	total := 0
	for i := range count {
		r := list[2+12*i:]
		first, last := sfnt.Word(r, 0), sfnt.Word(r, 2)
		d := document{int(binary.BigEndian.Uint32(r[4:])), int(binary.BigEndian.Uint32(r[8:]))}
		if first >= len(marked) || first > last || !slices.Contains(marked[first:min(last+1, len(marked))], true) {
			continue
		}
		if d.from+d.size > len(list) {
			return nil, fault.Form("table SVG: expected documents inside of the table, found one from %d to %d of %d bytes", d.from, d.from+d.size, len(list))
		}
		if _, there := places[d]; !there {
			places[d] = total
			total += d.size
			order = append(order, d)
		}
		if total > 2*len(b) {
			return nil, fault.Form("table SVG: expected documents that lie beside each other, found more than %d bytes of them", total)
		}
		records = append(records, r[:4]...)
		records = binary.BigEndian.AppendUint32(records, uint32(places[d]))
		records = binary.BigEndian.AppendUint32(records, uint32(d.size))
	}
	start := 2 + len(records)
	for i := 4; i < len(records); i += 12 {
		binary.BigEndian.PutUint32(records[i:], binary.BigEndian.Uint32(records[i:])+uint32(start))
	}
	out := []byte{0, 0, 0, 0, 0, 10, 0, 0, 0, 0}
	out = binary.BigEndian.AppendUint16(out, uint16(len(records)/12))
	out = append(out, records...)
	for _, d := range order {
		out = append(out, list[d.from:d.from+d.size]...)
	}
	return out, nil
}
