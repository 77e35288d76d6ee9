package trim

import (
	"bytes"
	"encoding/binary"
	"iter"
	"maps"
	"slices"

	"notaria/internal/colour"
	"notaria/internal/fault"
	"notaria/internal/layout"
	"notaria/internal/sfnt"
)

// A Small is a font that was cut.
type Small struct {
	Tables map[string][]byte
	// Kept are the old numbers of the glyphs by their new ones; nil where they have their old numbers, for a table names glyphs
	// that cannot be written anew here.
	Kept []int
	// Held is that table, or what is odd about one; "" for none.
	Held string
}

// known are tables that can be written anew, or that name no glyphs. What is in none of these lists may name glyphs.
var known = []string{"head", "hhea", "maxp", "OS/2", "hmtx", "cmap", "name", "post", "cvt ", "fpgm", "prep", "gasp", "glyf", "loca", "CFF ", "VORG", "GDEF", "GSUB", "GPOS", "kern",
	"vhea", "vmtx", "EPAR", "fvar", "avar", "STAT", "MVAR", "cvar", "gvar", "HVAR", "VVAR", "COLR", "CPAL", "BASE", "MATH", "CBDT", "CBLC", "sbix", "meta"}

// sources are what programs that make fonts leave in them: no reader of texts asks for it.
var sources = []string{"FFTM", "TSI0", "TSI1", "TSI2", "TSI3", "TSI5", "TSIB", "TSIC", "TSID", "TSIJ", "TSIP", "TSIS", "TSIV", "PfEd", "TeX ", "BDF "}

// Cut gives the tables of a font that draws the wanted characters as the font itself does, with all that they can become, and no
// other. Glyphs get new numbers and layout tables are written anew for them, where all tables that name glyphs are known here; else
// glyphs keep their numbers, as Characters has it.
func Cut(f *sfnt.Font, wanted sfnt.Coverage) (*Small, error) {
	m, err := mark(f, wanted)
	if err != nil {
		return nil, err
	}
	tables, err := f.Tables()
	if err != nil {
		return nil, err
	}
	if held := holding(tables); held != "" {
		tables, err := m.inPlace()
		return &Small{Tables: tables, Held: held}, err
	}
	s, err := m.renumbered(tables)
	if err != nil { // a table that does not hold to its form: as it is, it may still be read
		tables, again := m.inPlace()
		return &Small{Tables: tables, Held: err.Error()}, again
	}
	return s, nil
}

// holding is a table for which glyphs keep their numbers; "" if there is none.
func holding(tables map[string][]byte) string {
	for _, tag := range slices.Sorted(maps.Keys(tables)) {
		if !slices.Contains(known, tag) && !slices.Contains(sources, tag) && (!slices.Contains(dropped, tag) || tag == "JSTF") {
			return tag
		}
	}
	if b, ok := tables["BASE"]; ok && namesGlyphs(b) {
		return "BASE"
	}
	return ""
}

// mostCoordinates bounds what of BASE is looked through.
const mostCoordinates = 10_000

// namesGlyphs says whether a coordinate of BASE is that of a point of a glyph (format 2), or whether that cannot be known.
func namesGlyphs(b []byte) bool {
	left := mostCoordinates
	names := false
	coordinate := func(t []byte, at int) {
		if left--; sfnt.Word(t, at) != 0 && sfnt.Word(sfnt.From(t, sfnt.Word(t, at)), 0) == 2 || left < 0 {
			names = true
		}
	}
	minMax := func(t []byte) {
		coordinate(t, 0)
		coordinate(t, 2)
		for i := range min(sfnt.Word(t, 4), left) {
			coordinate(t, 6+8*i+4)
			coordinate(t, 6+8*i+6)
		}
	}
	for _, axis := range []int{4, 6} {
		if sfnt.Word(b, axis) == 0 {
			continue
		}
		a := sfnt.From(b, sfnt.Word(b, axis))
		list := sfnt.From(a, sfnt.Word(a, 2))
		for i := range min(sfnt.Word(list, 0), left) {
			script := sfnt.From(list, sfnt.Word(list, 2+6*i+4))
			if at := sfnt.Word(script, 0); at != 0 {
				values := sfnt.From(script, at)
				for k := range min(sfnt.Word(values, 2), left) {
					coordinate(values, 4+2*k)
				}
			}
			if at := sfnt.Word(script, 2); at != 0 {
				minMax(sfnt.From(script, at))
			}
			for k := range min(sfnt.Word(script, 4), left) {
				minMax(sfnt.From(script, sfnt.Word(script, 6+6*k+4)))
			}
		}
	}
	return names
}

// renumbered writes all tables for the glyphs that stay.
func (m *marks) renumbered(tables map[string][]byte) (_ *Small, err error) {
	var outlines map[string][]byte
	if m.f.Has("glyf") {
		if outlines, err = m.f.Keep(m.before, m.marked); err != nil { // marks the parts of composite glyphs, too
			return nil, err
		}
	}
	tables = maps.Clone(tables)
	for _, tag := range append(slices.Clone(dropped), sources...) {
		delete(tables, tag)
	}
	cut := layout.NewCut(m.marked)
	out := &Small{Tables: tables, Kept: cut.Kept()}
	if outlines != nil {
		err = glyphs(cut, outlines, tables)
	} else {
		err = counted(cut, tables)
	}
	if err != nil {
		return nil, err
	}
	if err := metrics(cut, tables); err != nil {
		return nil, err
	}
	for tag, write := range map[string]func([]byte) ([]byte, error){
		"GSUB": func(b []byte) ([]byte, error) { return cut.Layout("GSUB", b) },
		"GPOS": func(b []byte) ([]byte, error) { return cut.Layout("GPOS", b) },
		"GDEF": cut.Definitions, "kern": cut.Pairs, "MATH": cut.Mathematics,
		"HVAR": func(b []byte) ([]byte, error) { return cut.Advances("HVAR", b) },
		"VVAR": func(b []byte) ([]byte, error) { return cut.Advances("VVAR", b) },
		"CFF ": func(b []byte) ([]byte, error) { return postscript(cut, b) },
		"VORG": func(b []byte) ([]byte, error) { return vertical(cut, b) },
		"COLR": func(b []byte) ([]byte, error) { return colour.CutColours(b, cut.Kept(), cut.New) },
	} {
		if b, ok := tables[tag]; ok {
			if tables[tag], err = write(b); err != nil {
				return nil, err
			}
		}
	}
	if m.f.Has("CBDT") || m.f.Has("sbix") {
		pictures, err := colour.CutPictures(m.f, cut.Kept(), cut.New)
		if err != nil {
			return nil, err
		}
		maps.Copy(tables, pictures)
	}
	sequences, err := m.sequences(cut)
	if err != nil {
		return nil, err
	}
	tables["cmap"] = characterMaps(func(yield func(rune, int) bool) {
		for r, g := range m.kept {
			if !yield(r, cut.New(g)) {
				return
			}
		}
	}, sequences)
	tables["post"] = nameless(tables["post"])
	return out, m.sameAs(tables, cut.Kept())
}

// glyphs writes glyf, loca and gvar anew.
func glyphs(cut *layout.Cut, outlines, tables map[string][]byte) error {
	loca, glyf := outlines["loca"], outlines["glyf"]
	var data []byte
	places := []int{0}
	for _, old := range cut.Kept() {
		if 4*old+8 > len(loca) {
			return fault.Form("table loca: expected glyph %d, found its end", old)
		}
		from, to := int(binary.BigEndian.Uint32(loca[4*old:])), int(binary.BigEndian.Uint32(loca[4*old+4:]))
		if from > to || to > len(glyf) {
			return fault.Form("table glyf: expected glyph %d inside of it, found %d to %d", old, from, to)
		}
		one := slices.Clone(glyf[from:to])
		if err := parts(cut, one); err != nil {
			return err
		}
		data = append(data, one...)
		if len(data)%2 != 0 {
			data = append(data, 0)
		}
		places = append(places, len(data))
	}
	head := slices.Clone(outlines["head"])
	var offsets []byte
	head[51] = 0
	if len(data) > 2*0xffff {
		head[51] = 1
	}
	for _, p := range places {
		if head[51] == 1 {
			offsets = binary.BigEndian.AppendUint32(offsets, uint32(p))
		} else {
			offsets = binary.BigEndian.AppendUint16(offsets, uint16(p/2))
		}
	}
	tables["glyf"], tables["loca"], tables["head"] = data, offsets, head
	if v, ok := outlines["gvar"]; ok {
		tables["gvar"] = deltas(cut, v)
	}
	return counted(cut, tables)
}

// counted writes how many glyphs there are.
func counted(cut *layout.Cut, tables map[string][]byte) error {
	maxp := slices.Clone(tables["maxp"])
	if len(maxp) < 6 {
		return fault.Form("table maxp: expected 6 bytes, found %d", len(maxp))
	}
	binary.BigEndian.PutUint16(maxp[4:], uint16(len(cut.Kept())))
	tables["maxp"] = maxp
	return nil
}

// Flags of the parts of a composite glyph (OpenType, glyf).
const (
	partWords = 1 << 0
	partScale = 1 << 3
	partMore  = 1 << 5
	partBoth  = 1 << 6
	partTwo   = 1 << 7
)

// parts gives the parts of a composite glyph their new numbers, in place.
func parts(cut *layout.Cut, b []byte) error {
	if len(b) < 10 || int16(binary.BigEndian.Uint16(b)) >= 0 {
		return nil
	}
	for at := 10; at+4 <= len(b); {
		flags := sfnt.Word(b, at)
		g := cut.New(sfnt.Word(b, at+2))
		if g < 0 {
			return fault.Form("table glyf: expected parts that stay, found glyph %d", sfnt.Word(b, at+2))
		}
		binary.BigEndian.PutUint16(b[at+2:], uint16(g))
		at += 4 + partSize(flags)
		if flags&partMore == 0 {
			break
		}
	}
	return nil
}

// deltas is gvar, as Keep wrote it, for the glyphs that stay.
func deltas(cut *layout.Cut, b []byte) []byte {
	u32 := func(at int) int { return int(binary.BigEndian.Uint32(b[at:])) }
	start, shared := u32(16), u32(8)
	var data []byte
	places := []int{0}
	for _, old := range cut.Kept() {
		if 20+4*old+8 <= len(b) {
			from, to := start+u32(20+4*old), start+u32(20+4*old+4)
			data = append(data, b[from:to]...)
		}
		places = append(places, len(data))
	}
	size := 4
	if len(data) <= 2*0xffff {
		size = 2
	}
	tuples := b[shared:start]
	out := slices.Clone(b[:20])
	at := 20 + size*len(places)
	binary.BigEndian.PutUint32(out[8:], uint32(at))
	binary.BigEndian.PutUint16(out[12:], uint16(len(cut.Kept())))
	binary.BigEndian.PutUint16(out[14:], uint16(size/4))
	binary.BigEndian.PutUint32(out[16:], uint32(at+len(tuples)))
	for _, p := range places {
		if size == 4 {
			out = binary.BigEndian.AppendUint32(out, uint32(p))
		} else {
			out = binary.BigEndian.AppendUint16(out, uint16(p/2))
		}
	}
	return append(append(out, tuples...), data...)
}

// metrics writes hmtx, hhea, vmtx, vhea and OS/2 anew.
func metrics(cut *layout.Cut, tables map[string][]byte) error {
	for _, t := range [][2]string{{"hhea", "hmtx"}, {"vhea", "vmtx"}} {
		head, list := slices.Clone(tables[t[0]]), tables[t[1]]
		if len(list) == 0 && t[0] == "vhea" {
			continue
		}
		full := sfnt.Word(head, 34)
		if len(head) < 36 || full < 1 || len(list) < 4*full {
			return fault.Form("table %s: expected an advance, found %d bytes", t[1], len(list))
		}
		var advances, bearings []int
		for _, old := range cut.Kept() {
			advances = append(advances, sfnt.Word(list, 4*min(old, full-1)))
			if old < full {
				bearings = append(bearings, sfnt.Word(list, 4*old+2))
			} else {
				bearings = append(bearings, sfnt.Word(list, 4*full+2*(old-full)))
			}
		}
		n := len(advances)
		for n > 1 && advances[n-2] == advances[n-1] {
			n--
		}
		var out []byte
		for i := range advances {
			if i < n {
				out = binary.BigEndian.AppendUint16(out, uint16(advances[i]))
			}
			out = binary.BigEndian.AppendUint16(out, uint16(bearings[i]))
		}
		binary.BigEndian.PutUint16(head[34:], uint16(n))
		tables[t[0]], tables[t[1]] = head, out
	}
	return nil
}

// characterMaps is cmap: characters of the basic plane in format 4, which all readers know, and all of them in format 12 where
// there are others; and the sequences of variations (format 14).
func characterMaps(characters iter.Seq2[rune, int], sequences []byte) []byte {
	basic := map[rune]uint16{}
	above := false
	for r, g := range characters {
		if above = above || r >= 0xffff; r < 0xffff {
			basic[r] = uint16(g)
		}
	}
	type record struct {
		platform, encoding int
		data               []byte
	}
	var list []record
	var four []byte
	if whole, err := sfnt.CmapBytes(basic); err == nil && len(whole)-20 <= 0xffff {
		four = whole[20:]
		list = append(list, record{sfnt.PlatformUnicode, 3, four})
	} else {
		above = true
	}
	twelve := layout.CharacterMap(characters, nil)[12:]
	if above {
		list = append(list, record{sfnt.PlatformUnicode, 4, twelve})
	}
	if sequences != nil {
		list = append(list, record{sfnt.PlatformUnicode, 5, sequences})
	}
	if four != nil {
		list = append(list, record{sfnt.PlatformWindows, 1, four})
	}
	if above {
		list = append(list, record{sfnt.PlatformWindows, 10, twelve})
	}
	out := binary.BigEndian.AppendUint16([]byte{0, 0}, uint16(len(list)))
	var data []byte
	places := map[*byte]int{}
	for _, r := range list {
		at, there := places[&r.data[0]]
		if !there {
			at = 4 + 8*len(list) + len(data)
			places[&r.data[0]] = at
			data = append(data, r.data...)
		}
		out = binary.BigEndian.AppendUint16(out, uint16(r.platform))
		out = binary.BigEndian.AppendUint16(out, uint16(r.encoding))
		out = binary.BigEndian.AppendUint32(out, uint32(at))
	}
	return append(out, data...)
}

// sequences is the subtable of variation sequences for the characters that stay; nil where there are none.
func (m *marks) sequences(cut *layout.Cut) ([]byte, error) {
	whole, err := layout.Sequences(m.cmap, func(rune, int) {})
	if err != nil || whole == nil {
		return nil, err
	}
	u32 := binary.BigEndian.Uint32
	u24 := func(b []byte) rune { return rune(b[0])<<16 | rune(b[1])<<8 | rune(b[2]) }
	var records, data []byte
	n := 0
	count := min(int(u32(whole[6:])), (len(whole)-10)/11)
	type part struct{ plain, own []byte }
	parts := make([]part, count)
	for i := range count {
		r := whole[10+11*i:]
		if at := int(u32(r[3:])); at != 0 && at+4 <= len(whole) {
			list := whole[at+4:]
			for k := range min(int(u32(whole[at:])), len(list)/4) {
				first, more := u24(list[4*k:]), int(list[4*k+3])
				parts[i].plain = append(parts[i].plain, m.spans(first, more)...)
			}
		}
		if at := int(u32(r[7:])); at != 0 && at+4 <= len(whole) {
			list := whole[at+4:]
			for k := range min(int(u32(whole[at:])), len(list)/5) {
				if g := cut.New(sfnt.Word(list[5*k:], 3)); g >= 0 && m.wanted.Has(u24(list[5*k:])) {
					parts[i].own = append(parts[i].own, list[5*k], list[5*k+1], list[5*k+2], byte(g>>8), byte(g))
				}
			}
		}
		if len(parts[i].plain)+len(parts[i].own) > 0 {
			n++
		}
	}
	if n == 0 {
		return nil, nil
	}
	start := 10 + 11*n
	table := func(list []byte, size int) int {
		if len(list) == 0 {
			return 0
		}
		at := start + len(data)
		data = append(binary.BigEndian.AppendUint32(data, uint32(len(list)/size)), list...)
		return at
	}
	for i, p := range parts {
		if len(p.plain)+len(p.own) == 0 {
			continue
		}
		records = append(records, whole[10+11*i:13+11*i]...)
		records = binary.BigEndian.AppendUint32(records, uint32(table(p.plain, 4)))
		records = binary.BigEndian.AppendUint32(records, uint32(table(p.own, 5)))
	}
	out := binary.BigEndian.AppendUint16(nil, 14)
	out = binary.BigEndian.AppendUint32(out, uint32(start+len(data)))
	out = binary.BigEndian.AppendUint32(out, uint32(n))
	return append(append(out, records...), data...), nil
}

// spans are the characters that stay of a run of them, as ranges of format 14: the first, and how many follow.
func (m *marks) spans(first rune, more int) (out []byte) {
	for r := first; r <= first+rune(more); r++ {
		if !m.wanted.Has(r) {
			continue
		}
		last := r
		for last < first+rune(more) && m.wanted.Has(last+1) {
			last++
		}
		out = append(out, byte(r>>16), byte(r>>8), byte(r), byte(last-r))
		r = last
	}
	return out
}

// sameAs says whether the glyphs that stay draw what they drew before.
func (m *marks) sameAs(tables map[string][]byte, kept []int) error {
	data, err := sfnt.Build(tables)
	if err != nil {
		return err
	}
	file, err := sfnt.Open(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return err
	}
	after, err := file.Font(0).PathsIfAny()
	if err != nil {
		return err
	}
	compared := 0
	for g, old := range kept {
		a, errA := m.before.Outline(old)
		if compared += len(a); compared > mostCompared {
			return fault.Form("expected outlines of at most %d million segments to compare, found more", mostCompared>>20)
		}
		b, errB := after.Outline(g)
		if errA == nil && (errB != nil || !slices.Equal(a, b)) {
			return fault.Form("expected that glyph %d of the trimmed font draws what glyph %d drew, found another outline", g, old)
		}
	}
	return nil
}
