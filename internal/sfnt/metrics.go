package sfnt

import (
	"encoding/binary"
	"fmt"
)

// be appends big-endian values; it is what every Bytes method writes with.
type be []byte

func (b *be) u16(vs ...uint16) {
	for _, v := range vs {
		*b = binary.BigEndian.AppendUint16(*b, v)
	}
}

func (b *be) i16(vs ...int16) {
	for _, v := range vs {
		*b = binary.BigEndian.AppendUint16(*b, uint16(v))
	}
}

func (b *be) u32(vs ...uint32) {
	for _, v := range vs {
		*b = binary.BigEndian.AppendUint32(*b, v)
	}
}

func (b *be) u64(v uint64) { *b = binary.BigEndian.AppendUint64(*b, v) }

// short is the error for a table that ends too early.
func short(table string, want, got int) error {
	return bad("table "+table, fmt.Sprintf("at least %d bytes", want), "%d", got)
}

// Head is the 'head' table. Distances are in font units.
type Head struct {
	Revision               uint32 // 16.16 fixed
	Flags                  uint16
	UnitsPerEm             uint16 // 16 to 16384
	Created, Modified      uint64 // seconds since 1904-01-01 UTC
	XMin, YMin, XMax, YMax int16
	MacStyle               uint16 // bit 0 bold, bit 1 italic
	LowestRecPPEM          uint16 // pixels per em
	LongLoca               bool
}

// Bits of Head.MacStyle.
const (
	MacBold   = 1 << 0
	MacItalic = 1 << 1
)

const headMagic = 0x5F0F3CF5

// Head reads and parses the font's head table.
func (f *Font) Head() (Head, error) { return parse(f, "head", 54, ParseHead) }

// ParseHead parses a head table.
func ParseHead(b []byte) (Head, error) {
	if len(b) < 54 {
		return Head{}, short("head", 54, len(b))
	}
	h := Head{
		Revision: u32(b, 4), Flags: u16(b, 16), UnitsPerEm: u16(b, 18),
		Created: binary.BigEndian.Uint64(b[20:]), Modified: binary.BigEndian.Uint64(b[28:]),
		XMin: i16(b, 36), YMin: i16(b, 38), XMax: i16(b, 40), YMax: i16(b, 42),
		MacStyle: u16(b, 44), LowestRecPPEM: u16(b, 46), LongLoca: u16(b, 50) != 0,
	}
	return h, nil
}

// Bytes encodes the table with a zero checksum adjustment; Build fills it in.
func (h Head) Bytes() []byte {
	var b be
	b.u32(0x00010000, h.Revision, 0, headMagic)
	b.u16(h.Flags, h.UnitsPerEm)
	b.u64(h.Created)
	b.u64(h.Modified)
	b.i16(h.XMin, h.YMin, h.XMax, h.YMax)
	b.u16(h.MacStyle, h.LowestRecPPEM)
	long := int16(0)
	if h.LongLoca {
		long = 1
	}
	b.i16(2, long, 0)
	return b
}

// Hhea is the 'hhea' table: horizontal metrics for the whole font, font units.
type Hhea struct {
	Ascender, Descender, LineGap int16
	AdvanceMax                   uint16
	MinLeft, MinRight, XMaxExt   int16
	CaretRise, CaretRun          int16
	NumHMetrics                  uint16
}

// Hhea reads and parses the font's hhea table.
func (f *Font) Hhea() (Hhea, error) { return parse(f, "hhea", 36, ParseHhea) }

// ParseHhea parses an hhea table.
func ParseHhea(b []byte) (Hhea, error) {
	if len(b) < 36 {
		return Hhea{}, short("hhea", 36, len(b))
	}
	return Hhea{
		Ascender: i16(b, 4), Descender: i16(b, 6), LineGap: i16(b, 8),
		AdvanceMax: u16(b, 10), MinLeft: i16(b, 12), MinRight: i16(b, 14), XMaxExt: i16(b, 16),
		CaretRise: i16(b, 18), CaretRun: i16(b, 20), NumHMetrics: u16(b, 34),
	}, nil
}

// Bytes encodes the table.
func (h Hhea) Bytes() []byte {
	var b be
	b.u32(0x00010000)
	b.i16(h.Ascender, h.Descender, h.LineGap)
	b.u16(h.AdvanceMax)
	b.i16(h.MinLeft, h.MinRight, h.XMaxExt, h.CaretRise, h.CaretRun, 0, 0, 0, 0, 0, 0)
	b.u16(h.NumHMetrics)
	return b
}

// Maxp is the 'maxp' table; only version 1.0 has more than NumGlyphs.
type Maxp struct {
	NumGlyphs              uint16
	MaxPoints, MaxContours uint16
}

// Maxp reads and parses the font's maxp table.
func (f *Font) Maxp() (Maxp, error) { return parse(f, "maxp", 32, ParseMaxp) }

// ParseMaxp parses a maxp table of version 0.5 or 1.0.
func ParseMaxp(b []byte) (Maxp, error) {
	if len(b) < 6 {
		return Maxp{}, short("maxp", 6, len(b))
	}
	m := Maxp{NumGlyphs: u16(b, 4)}
	if u32(b, 0) == 0x00010000 && len(b) >= 10 {
		m.MaxPoints, m.MaxContours = u16(b, 6), u16(b, 8)
	}
	return m, nil
}

// Bytes encodes a version 1.0 table for a font without instructions and
// without composite glyphs.
func (m Maxp) Bytes() []byte {
	var b be
	b.u32(0x00010000)
	b.u16(m.NumGlyphs, m.MaxPoints, m.MaxContours, 0, 0, 2, 0, 0, 0, 0, 0, 0, 0, 0)
	return b
}

// OS2 is the 'OS/2' table. Distances are in font units.
type OS2 struct {
	Version                               uint16
	AvgCharWidth                          int16
	WeightClass                           uint16 // 1 to 1000; old fonts hold 1 to 9
	WidthClass                            uint16 // 1 (ultra-condensed) to 9
	Embedding                             uint16 // fsType
	SubXSize, SubYSize, SubXOff, SubYOff  int16
	SupXSize, SupYSize, SupXOff, SupYOff  int16
	StrikeSize, StrikePos                 int16
	FamilyClass                           int16
	Panose                                [10]byte
	UnicodeRange                          [4]uint32
	Vendor                                string // 4 characters
	Selection                             uint16
	FirstChar, LastChar                   uint16
	TypoAscender, TypoDescender, TypoLine int16
	WinAscent, WinDescent                 uint16
	CodePages                             [2]uint32
	XHeight, CapHeight                    int16 // version 2 and up
}

// Bits of OS2.Selection (fsSelection).
const (
	SelItalic         = 1 << 0
	SelBold           = 1 << 5
	SelRegular        = 1 << 6
	SelUseTypoMetrics = 1 << 7
	SelWWS            = 1 << 8
	SelOblique        = 1 << 9
)

// OS2 reads and parses the font's OS/2 table.
func (f *Font) OS2() (OS2, error) { return parse(f, "OS/2", 100, ParseOS2) }

// ParseOS2 parses an OS/2 table of any version; what an older version does not
// have stays zero. Apple's oldest tables end after byte 68.
func ParseOS2(b []byte) (OS2, error) {
	if len(b) < 68 {
		return OS2{}, short("OS/2", 68, len(b))
	}
	o := OS2{
		Version: u16(b, 0), AvgCharWidth: i16(b, 2), WeightClass: u16(b, 4), WidthClass: u16(b, 6), Embedding: u16(b, 8),
		SubXSize: i16(b, 10), SubYSize: i16(b, 12), SubXOff: i16(b, 14), SubYOff: i16(b, 16),
		SupXSize: i16(b, 18), SupYSize: i16(b, 20), SupXOff: i16(b, 22), SupYOff: i16(b, 24),
		StrikeSize: i16(b, 26), StrikePos: i16(b, 28), FamilyClass: i16(b, 30),
		Vendor: string(b[58:62]), Selection: u16(b, 62), FirstChar: u16(b, 64), LastChar: u16(b, 66),
	}
	copy(o.Panose[:], b[32:42])
	for i := range o.UnicodeRange {
		o.UnicodeRange[i] = u32(b, 42+4*i)
	}
	if len(b) >= 78 {
		o.TypoAscender, o.TypoDescender, o.TypoLine = i16(b, 68), i16(b, 70), i16(b, 72)
		o.WinAscent, o.WinDescent = u16(b, 74), u16(b, 76)
	}
	if o.Version >= 1 && len(b) >= 86 {
		o.CodePages = [2]uint32{u32(b, 78), u32(b, 82)}
	}
	if o.Version >= 2 && len(b) >= 90 {
		o.XHeight, o.CapHeight = i16(b, 86), i16(b, 88)
	}
	return o, nil
}

// Bytes encodes the table as version 4.
func (o OS2) Bytes() []byte {
	var b be
	b.u16(4)
	b.i16(o.AvgCharWidth)
	b.u16(o.WeightClass, o.WidthClass, o.Embedding)
	b.i16(o.SubXSize, o.SubYSize, o.SubXOff, o.SubYOff, o.SupXSize, o.SupYSize, o.SupXOff, o.SupYOff,
		o.StrikeSize, o.StrikePos, o.FamilyClass)
	b = append(b, o.Panose[:]...)
	b.u32(o.UnicodeRange[:]...)
	b = append(b, (o.Vendor + "    ")[:4]...)
	b.u16(o.Selection, o.FirstChar, o.LastChar)
	b.i16(o.TypoAscender, o.TypoDescender, o.TypoLine)
	b.u16(o.WinAscent, o.WinDescent)
	b.u32(o.CodePages[:]...)
	b.i16(o.XHeight, o.CapHeight)
	b.u16(0, 32, 2) // default character: .notdef; break character: space; longest context: a kern pair
	return b
}

// Post is the head of the 'post' table; glyph names are not read.
type Post struct {
	ItalicAngle                int32 // 16.16 fixed degrees, counter-clockwise from upright
	UnderlinePos, UnderlineLen int16 // font units: position and thickness
	FixedPitch                 bool
}

// Post reads and parses the head of the font's post table.
func (f *Font) Post() (Post, error) { return parse(f, "post", 32, ParsePost) }

// ParsePost parses a post table's head.
func ParsePost(b []byte) (Post, error) {
	if len(b) < 16 {
		return Post{}, short("post", 16, len(b))
	}
	return Post{int32(u32(b, 4)), i16(b, 8), i16(b, 10), u32(b, 12) != 0}, nil
}

// Bytes encodes a version 2.0 table with a name for each glyph, in order. Each
// name is 1 to 63 letters, digits, periods or underscores.
func (p Post) Bytes(names []string) []byte {
	var b be
	fixed := uint32(0)
	if p.FixedPitch {
		fixed = 1
	}
	b.u32(0x00020000, uint32(p.ItalicAngle))
	b.i16(p.UnderlinePos, p.UnderlineLen)
	b.u32(fixed, 0, 0, 0, 0)
	b.u16(uint16(len(names)))
	extra := 0
	for _, n := range names {
		if n == ".notdef" {
			b.u16(0)
			continue
		}
		b.u16(uint16(258 + extra)) // 258 standard Macintosh names come first
		extra++
	}
	for _, n := range names {
		if n != ".notdef" {
			b = append(b, byte(len(n)))
			b = append(b, n...)
		}
	}
	return b
}

// parse reads at most most bytes of a table and hands them to its parser.
func parse[T any](f *Font, tag string, most uint32, fn func([]byte) (T, error)) (T, error) {
	b, err := f.tableHead(tag, most)
	if err != nil {
		var none T
		return none, err
	}
	return fn(b)
}
