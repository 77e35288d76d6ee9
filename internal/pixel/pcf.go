package pixel

import (
	"bytes"
	"encoding/binary"
	"slices"
	"strings"

	"notaria/internal/fault"
)

// Tables of a PCF file, and flags of their formats (X11, "The X Font Library", pcf.h).
const (
	pcfProperties      = 1 << 0
	pcfAccelerators    = 1 << 1
	pcfMetrics         = 1 << 2
	pcfBitmaps         = 1 << 3
	pcfEncodings       = 1 << 5
	pcfBDFAccelerators = 1 << 8

	pcfBigEndian  = 1 << 2
	pcfBigBits    = 1 << 3
	pcfCompressed = 1 << 8
)

// pcfTable reads one table.
type pcfTable struct {
	b      []byte
	order  binary.ByteOrder
	format uint32
	at     int
	over   bool
}

func (t *pcfTable) take(n int) []byte {
	if n < 0 || t.at+n > len(t.b) {
		t.over = true
		return make([]byte, max(0, min(n, 8)))
	}
	t.at += n
	return t.b[t.at-n : t.at]
}

func (t *pcfTable) i16() int { return int(int16(t.order.Uint16(t.take(2)))) }
func (t *pcfTable) i32() int { return int(int32(t.order.Uint32(t.take(4)))) }

// IsPCF says whether a file is of the Portable Compiled Format, by its first bytes.
func IsPCF(data []byte) bool { return len(data) > 8 && string(data[:4]) == "\x01fcp" }

// ReadPCF reads a font in the Portable Compiled Format. Of fonts in encodings other than ISO
// 10646 and ISO 8859-1 ASCII alone is taken, for their other codes are no codepoints.
func ReadPCF(data []byte) (*Font, error) {
	if !IsPCF(data) {
		return nil, fault.Form("expected a PCF file, found another")
	}
	tables := map[uint32]*pcfTable{}
	n := int(binary.LittleEndian.Uint32(data[4:]))
	if n < 0 || n > 64 || 8+16*n > len(data) {
		return nil, fault.Form("expected at most 64 tables of PCF, found %d, or the end of the file", n)
	}
	for i := range n {
		e := data[8+16*i:]
		kind, size, offset := binary.LittleEndian.Uint32(e), binary.LittleEndian.Uint32(e[8:]), binary.LittleEndian.Uint32(e[12:])
		if uint64(offset)+4 > uint64(len(data)) || size < 4 {
			return nil, fault.Form("expected table %d of PCF inside the file, found its end", kind)
		}
		size = uint32(min(uint64(size), uint64(len(data))-uint64(offset))) // the last may count its padding
		t := &pcfTable{b: data[offset : offset+size], order: binary.LittleEndian, at: 4}
		if t.format = binary.LittleEndian.Uint32(t.b); t.format&pcfBigEndian != 0 {
			t.order = binary.BigEndian
		}
		tables[kind] = t
	}
	for _, need := range []uint32{pcfMetrics, pcfBitmaps, pcfEncodings} {
		if tables[need] == nil {
			return nil, fault.Form("expected the tables of metrics, bitmaps and encodings in PCF, found no table %d", need)
		}
	}
	glyphs, err := pcfGlyphs(tables[pcfMetrics], tables[pcfBitmaps])
	if err != nil {
		return nil, err
	}
	f := &Font{Depth: 1}
	for _, kind := range []uint32{pcfBDFAccelerators, pcfAccelerators} {
		if t := tables[kind]; t != nil {
			t.take(8) // flags
			if f.Ascent, f.Descent = t.i32(), t.i32(); t.over || f.Ascent != int(int16(f.Ascent)) || f.Descent != int(int16(f.Descent)) {
				return nil, fault.Form("expected an ascent and a descent in PCF, found the end of the table")
			}
			break
		}
	}
	f.Em = float64(f.LineHeight())
	if f.Glyphs, err = pcfEncoded(tables[pcfEncodings], glyphs); err != nil {
		return nil, err
	}
	if t := tables[pcfProperties]; t != nil {
		f.coded(t.property("CHARSET_REGISTRY"), t.property("CHARSET_ENCODING"))
	}
	return f, f.valid()
}

// property is a property of the font that is text, "" if there is none.
func (t *pcfTable) property(name string) string {
	p := &pcfTable{b: t.b, order: t.order, at: 4}
	n := p.i32()
	if n < 0 || n > len(p.b)/9 {
		return ""
	}
	list := p.take(9 * n)
	p.take((4 - n*9%4) % 4)
	p.i32()
	if p.over {
		return ""
	}
	text := func(at uint32) string {
		rest := p.b[p.at:]
		if uint64(at) >= uint64(len(rest)) {
			return ""
		}
		s, _, _ := bytes.Cut(rest[at:], []byte{0})
		return string(s)
	}
	for ; len(list) >= 9; list = list[9:] {
		if list[4] != 0 && text(p.order.Uint32(list)) == name {
			return text(p.order.Uint32(list[5:]))
		}
	}
	return ""
}

// coded keeps the glyphs whose codes are codepoints in an encoding.
func (f *Font) coded(registry, encoding string) {
	switch strings.ToUpper(registry + "-" + encoding) {
	case "-", "ISO10646-1", "ISO8859-1":
		return
	}
	f.Glyphs = slices.DeleteFunc(f.Glyphs, func(g Glyph) bool { return g.Rune > '~' })
}

// pcfGlyphs reads the pictures, in the order of the file.
func pcfGlyphs(m, b *pcfTable) ([]Glyph, error) {
	count := 0
	if m.format&pcfCompressed != 0 {
		count = m.i16()
	} else {
		count = m.i32()
	}
	if pictures := b.i32(); m.over || b.over || count != pictures || count < 0 || count > mostBDFGlyphs || 4*count > len(b.b) {
		return nil, fault.Form("expected a picture for each of at most %d glyphs of PCF, found %d for %d", mostBDFGlyphs, pictures, count)
	}
	offsets := make([]int, count)
	for i := range offsets {
		offsets[i] = b.i32()
	}
	b.take(16) // sizes for each way of padding
	if b.over {
		return nil, fault.Form("expected the places of %d pictures in PCF, found the end of the table", count)
	}
	pictures := b.b[b.at:]
	out, sum := make([]Glyph, count), 0
	for i := range out {
		var left, right, width, ascent, descent int
		if m.format&pcfCompressed != 0 {
			v := m.take(5)
			left, right, width, ascent, descent = int(v[0])-0x80, int(v[1])-0x80, int(v[2])-0x80, int(v[3])-0x80, int(v[4])-0x80
		} else {
			left, right, width, ascent, descent = m.i16(), m.i16(), m.i16(), m.i16(), m.i16()
			m.i16() // attributes
		}
		g := Glyph{Advance: width * Sub, X: left, Y: -descent, Width: right - left, Height: ascent + descent}
		if m.over || g.Width < 0 || g.Height < 0 || g.Width > mostSide || g.Height > mostSide {
			return nil, fault.Form("glyph %d of PCF: expected a box of at most %d pixels a side, found %dx%d", i, mostSide, g.Width, g.Height)
		}
		if sum += g.Width * g.Height; sum > mostPixels { // many glyphs can have the same bytes
			return nil, fault.Form("expected at most %d million pixels in all glyphs of PCF, found more", mostPixels>>20)
		}
		var ok bool
		if g.Pix, ok = pcfPicture(b.format, pictures, offsets[i], g); !ok {
			return nil, fault.Form("glyph %d of PCF: expected %dx%d pixels, found the end of the table", i, g.Width, g.Height)
		}
		out[i] = g
	}
	return out, nil
}

// pcfPicture unpacks one picture: rows are padded, and the order of bits, and of bytes in
// their units, differs from file to file.
func pcfPicture(format uint32, b []byte, at int, g Glyph) ([]byte, bool) {
	pad := 1 << (format & 3)
	unit := 1 << (format >> 4 & 3)
	stride := ((g.Width+7)/8 + pad - 1) / pad * pad
	if at < 0 || at+stride*g.Height > len(b) {
		return nil, false
	}
	swapped := (format&pcfBigEndian != 0) != (format&pcfBigBits != 0)
	out := make([]byte, 0, g.Width*g.Height)
	for y := range g.Height {
		row := b[at+y*stride : at+(y+1)*stride]
		for x := range g.Width {
			i := x / 8
			if swapped {
				i ^= unit - 1
			}
			if i >= len(row) {
				return nil, false
			}
			bit := x % 8
			if format&pcfBigBits != 0 {
				bit = 7 - bit
			}
			out = append(out, row[i]>>bit&1)
		}
	}
	return out, true
}

// pcfEncoded gives the pictures their codepoints.
func pcfEncoded(t *pcfTable, glyphs []Glyph) ([]Glyph, error) {
	low2, high2, low1, high1 := t.i16(), t.i16(), t.i16(), t.i16()
	t.i16() // the default character
	if t.over || low2 < 0 || high2 < low2 || high2 > 255 && low1 != high1 || low1 < 0 || high1 < low1 || high1 > 255 {
		return nil, fault.Form("expected a range of codes in PCF, found another")
	}
	var out []Glyph
	for hi := low1; hi <= high1; hi++ {
		for lo := low2; lo <= high2; lo++ {
			i := t.i16()
			if t.over {
				return nil, fault.Form("expected a glyph for each code in PCF, found the end of the table")
			}
			if i >= 0 && i < len(glyphs) {
				g := glyphs[i]
				g.Rune = rune(hi<<8 | lo)
				out = append(out, g)
			}
		}
	}
	slices.SortFunc(out, func(a, b Glyph) int { return int(a.Rune) - int(b.Rune) })
	return slices.CompactFunc(out, func(a, b Glyph) bool { return a.Rune == b.Rune }), nil
}
