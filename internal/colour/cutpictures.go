package colour

import (
	"encoding/binary"
	"slices"

	"notaria/internal/fault"
	"notaria/internal/sfnt"
)

// CutPictures writes the tables of a font's pictures (sbix; CBLC and CBDT) for the glyphs that stay: kept are their old numbers in
// the order of the new ones, which rise, and to gives the new number of an old one, -1 for one that goes. Pictures are copied, and
// not looked into.
func CutPictures(f *sfnt.Font, kept []int, to func(old int) int) (map[string][]byte, error) {
	tag, table, _, err := pictures(f)
	if err != nil {
		return nil, err
	}
	if tag == "sbix" {
		maxp, err := f.Maxp()
		if err != nil {
			return nil, err
		}
		b, err := cutSbix(table, int(maxp.NumGlyphs), kept, to)
		return map[string][]byte{"sbix": b}, err
	}
	places, err := f.Table("CBLC")
	if err != nil {
		return nil, err
	}
	places, table, err = cutCBDT(places, table, kept)
	return map[string][]byte{"CBLC": places, "CBDT": table}, err
}

// grown is an error where pictures that lie over each other would become many times what they are.
func grown(table string, now, before int) error {
	if most := 2*before + 1<<20; now > most {
		return fault.Form("table %s: expected pictures of at most %d bytes that lie beside each other, found more", table, most)
	}
	return nil
}

// cutSbix writes each strike anew (OpenType, sbix).
func cutSbix(b []byte, glyphs int, kept []int, to func(int) int) ([]byte, error) {
	if _, err := parseSbix(b, glyphs); err != nil {
		return nil, err
	}
	strikes := int(u32(b, 4))
	out := slices.Clone(b[:8])
	out = append(out, make([]byte, 4*strikes)...)
	for i := range strikes {
		s := far(b, 8+4*i)
		binary.BigEndian.PutUint32(out[8+4*i:], uint32(len(out)))
		head, data := slices.Clone(s[:4]), []byte(nil)
		start := 4 + 4*(len(kept)+1)
		for _, old := range kept {
			head = binary.BigEndian.AppendUint32(head, uint32(start+len(data)))
			one, err := sbixBytes(s, old, glyphs)
			if err != nil {
				return nil, err
			}
			if len(one) >= 10 && string(one[4:8]) == "dupe" { // it stands for another, which may go
				if g := to(sfnt.Word(one, 8)); g >= 0 {
					one = binary.BigEndian.AppendUint16(slices.Clone(one[:8]), uint16(g))
				} else if one, err = sbixBytes(s, sfnt.Word(one, 8), glyphs); err != nil {
					return nil, err
				}
			}
			data = append(data, one...)
			if err := grown("sbix", len(out)+len(data), len(b)); err != nil {
				return nil, err
			}
		}
		head = binary.BigEndian.AppendUint32(head, uint32(start+len(data)))
		out = append(append(out, head...), data...)
		out = append(out, make([]byte, -len(out)&3)...)
	}
	return out, nil
}

// sbixBytes are all bytes of a glyph in a strike.
func sbixBytes(s []byte, glyph, glyphs int) ([]byte, error) {
	if glyph >= glyphs {
		return nil, nil
	}
	from, to := u32(s, 4+4*glyph), u32(s, 8+4*glyph)
	if from > to || uint64(to) > uint64(len(s)) {
		return nil, fault.Form("table sbix: expected glyph %d inside of its strike, found bytes %d to %d of %d", glyph, from, to, len(s))
	}
	return s[from:to], nil
}

// A placed picture is one with its form and, where its list has them, its measures.
type placedPicture struct {
	glyph, form   int
	data, metrics []byte // metrics are nil, or the eight bytes of BigGlyphMetrics, fewer where the list is cut short
}

// cutCBDT writes lists of glyphs and their pictures anew (OpenType, CBLC and CBDT).
func cutCBDT(places, data []byte, kept []int) (newPlaces, newData []byte, err error) {
	if _, err := parseCBDT(places, data); err != nil {
		return nil, nil, err
	}
	sizes := int(u32(places, 4))
	newPlaces = append(slices.Clone(places[:8]), places[8:8+48*sizes]...)
	newData = slices.Clone(data[:min(4, len(data))])
	for i := range sizes {
		record := newPlaces[8+48*i : 8+48*(i+1)]
		list, n := far(places, 8+48*i), int(min(u32(record, 8), 1<<16))
		if len(list) < 8*n {
			return nil, nil, fault.Form("table CBLC: expected %d lists of glyphs inside of the table, found %d bytes", n, len(list))
		}
		var stay []placedPicture
		size := len(newData)
		for g, old := range kept {
			p, err := cbdtBytes(list, n, data, old)
			if err != nil {
				return nil, nil, err
			}
			if p.glyph = g; p.data != nil {
				stay = append(stay, p)
			}
			size += len(p.data)
			if err := grown("CBDT", size, len(data)); err != nil {
				return nil, nil, err
			}
		}
		var lists []byte
		lists, newData = indexes(stay, newData)
		at := len(newPlaces)
		newPlaces = append(newPlaces, lists...)
		record = newPlaces[8+48*i : 8+48*(i+1)] // the slice may have moved
		binary.BigEndian.PutUint32(record, uint32(at))
		binary.BigEndian.PutUint32(record[4:], uint32(len(lists)))
		binary.BigEndian.PutUint32(record[8:], uint32(len(runs(stay))))
		first, last := 0, 0
		if len(stay) > 0 {
			first, last = stay[0].glyph, stay[len(stay)-1].glyph
		}
		binary.BigEndian.PutUint16(record[40:], uint16(first))
		binary.BigEndian.PutUint16(record[42:], uint16(last))
	}
	return newPlaces, newData, nil
}

// cbdtBytes are all bytes of a glyph; none where it has no picture.
func cbdtBytes(list []byte, n int, data []byte, glyph int) (placedPicture, error) {
	for i := range n {
		first, last := sfnt.Word(list, 8*i), sfnt.Word(list, 8*i+2)
		if glyph < first || glyph > last || u32(list, 8*i+4) > uint32(len(list)) {
			continue
		}
		sub := list[u32(list, 8*i+4):]
		if len(sub) < 8 {
			break
		}
		p := placedPicture{form: sfnt.Word(sub, 2)}
		from, to, metrics := cbdtSpan(sub, glyph, first)
		start := uint64(u32(sub, 4))
		switch {
		case from == to:
			return p, nil
		case start+from > start+to || start+to > uint64(len(data)):
			return p, fault.Form("table CBDT: expected glyph %d inside of the table, found bytes %d to %d of %d", glyph, start+from, start+to, len(data))
		case p.form == 8 || p.form == 9:
			return p, fault.Form("table CBDT: expected pictures, found glyph %d, which is made of others", glyph)
		}
		if p.data = data[start+from : start+to]; metrics != nil {
			p.metrics = metrics[:min(len(metrics), 8)]
		}
		return p, nil
	}
	return placedPicture{}, nil
}

// runs are pictures whose glyphs follow each other, of one form and, where the list has them, of one size and one set of measures.
func runs(list []placedPicture) (out [][]placedPicture) {
	for _, p := range list {
		k := len(out) - 1
		if k < 0 {
			out = append(out, []placedPicture{p})
			continue
		}
		last := out[k][len(out[k])-1]
		alike := last.glyph+1 == p.glyph && last.form == p.form && slices.Equal(last.metrics, p.metrics) && (p.metrics == nil || len(last.data) == len(p.data))
		if alike {
			out[k] = append(out[k], p)
		} else {
			out = append(out, []placedPicture{p})
		}
	}
	return out
}

// indexes writes the lists of a strike, in formats 1 and 2, and adds the pictures to the data.
func indexes(list []placedPicture, data []byte) (lists, all []byte) {
	groups := runs(list)
	var subs []byte
	for _, run := range groups {
		lists = binary.BigEndian.AppendUint16(lists, uint16(run[0].glyph))
		lists = binary.BigEndian.AppendUint16(lists, uint16(run[len(run)-1].glyph))
		lists = binary.BigEndian.AppendUint32(lists, uint32(8*len(groups)+len(subs)))
		format := 1
		if len(run[0].metrics) == 8 {
			format = 2
		}
		subs = binary.BigEndian.AppendUint16(subs, uint16(format))
		subs = binary.BigEndian.AppendUint16(subs, uint16(run[0].form))
		subs = binary.BigEndian.AppendUint32(subs, uint32(len(data)))
		if format == 2 {
			subs = binary.BigEndian.AppendUint32(subs, uint32(len(run[0].data)))
			subs = append(subs, run[0].metrics...)
		}
		at := 0
		for _, p := range run {
			if format == 1 {
				subs = binary.BigEndian.AppendUint32(subs, uint32(at))
			}
			at += len(p.data)
			data = append(data, p.data...)
		}
		if format == 1 {
			subs = binary.BigEndian.AppendUint32(subs, uint32(at))
		}
	}
	return append(lists, subs...), data
}
