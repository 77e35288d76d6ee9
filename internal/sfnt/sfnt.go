// Package sfnt reads and writes the OpenType container and its tables.
//
// The OpenType specification, version 1.9.1, is at
// https://learn.microsoft.com/typography/opentype/spec/otff
//
// Reading goes through an io.ReaderAt and takes only the bytes asked for: the
// table directory first, then one table at a time, each within stated limits.
// Every length and offset is checked against the size of the file before any
// memory is set aside for it. Writing mirrors reading: each table that has a
// Parse function here has a Bytes method, and Build joins tables into a file.
package sfnt

import (
	"encoding/binary"
	"errors"
	"fmt"
	"io"
	"math"
	"sort"
	"sync/atomic"
)

// Limits of this implementation. A font beyond one is refused with a
// FormatError; no shipped font that we know of comes near them.
const (
	mostTables     = 512      // tables in one font
	mostFonts      = 512      // fonts in one collection
	mostTableBytes = 64 << 20 // bytes read for one table
)

// First four bytes of a file, from the spec's "Organization of an OpenType
// Font" and the Apple and W3C documents for the others.
const (
	tagTrueType   Tag = 0x00010000
	tagAppleTrue  Tag = 0x74727565 // 'true'
	tagCFF        Tag = 0x4F54544F // 'OTTO'
	tagCollection Tag = 0x74746366 // 'ttcf'
	tagWOFF       Tag = 0x774F4646 // 'wOFF'
	tagWOFF2      Tag = 0x774F4632 // 'wOF2'
)

// A Tag names a table, a script or a feature: four bytes, big-endian.
type Tag uint32

// MakeTag packs the first four bytes of s, padded with spaces.
func MakeTag(s string) Tag {
	b := [4]byte{' ', ' ', ' ', ' '}
	copy(b[:], s)
	return Tag(binary.BigEndian.Uint32(b[:]))
}

// String returns the tag's four characters, unprintable ones as a question mark.
func (t Tag) String() string {
	var b [4]byte
	binary.BigEndian.PutUint32(b[:], uint32(t))
	for i, c := range b {
		if c < 0x20 || c > 0x7e {
			b[i] = '?'
		}
	}
	return string(b[:])
}

// A Container says how the tables are wrapped.
type Container string

// The containers that Open tells apart.
const (
	Plain      Container = "sfnt"
	Collection Container = "collection"
	WOFF       Container = "woff"
	WOFF2      Container = "woff2"
)

// A Format says how the glyphs are drawn.
type Format string

// The glyph formats, in the words of the names contract.
const (
	TrueType Format = "truetype"
	CFF      Format = "cff"
	CFF2     Format = "cff2"
	Bitmap   Format = "bitmap"
)

// ErrNoTable is returned, wrapped, for a table that the font does not have.
var ErrNoTable = errors.New("table is not there")

// A FormatError says what in a font does not hold.
type FormatError struct {
	Where    string // table or structure
	Expected string
	Found    string
}

func (e *FormatError) Error() string {
	return fmt.Sprintf("%s: expected %s, found %s", e.Where, e.Expected, e.Found)
}

func bad(where, expected, found string, args ...any) error {
	return &FormatError{Where: where, Expected: expected, Found: fmt.Sprintf(found, args...)}
}

// A File is an opened font file: one font, or a collection of several.
type File struct {
	Container Container
	fonts     []*Font
}

// A Font is one table directory over the file's bytes. It is safe for use by
// several goroutines if its ReaderAt is.
type Font struct {
	r      io.ReaderAt
	size   int64
	flavor Tag
	tables []record
	moves  atomic.Int64 // of points, in all variations that were asked for
}

// record is an entry of a table directory. In a WOFF the table is packed when
// it takes fewer bytes there than it has; in a WOFF 2 it is data already, and
// may still be in the transformed shape.
type record struct {
	tag            Tag
	offset, length uint32
	packed         uint32 // bytes in a WOFF; 0 elsewhere
	data           []byte // of a WOFF 2
	transformed    bool
}

// Open reads the directories of the font file r, which is size bytes long. For
// a file that is no font of this kind it returns a *NotFontError that says what
// the file is and what to do.
func Open(r io.ReaderAt, size int64) (*File, error) {
	var head [512]byte
	n, err := r.ReadAt(head[:min(int64(len(head)), size)], 0)
	if err != nil && err != io.EOF {
		return nil, err
	}
	if err := sniff(head[:n], size); err != nil {
		return nil, err
	}
	tag := Tag(binary.BigEndian.Uint32(head[:]))
	switch tag {
	case tagCollection:
		return openCollection(r, size)
	case tagWOFF:
		return openWOFF(r, size)
	case tagWOFF2:
		return openWOFF2(r, size)
	}
	f, err := openFont(r, size, 0, head[:n])
	if err != nil {
		return nil, err
	}
	return &File{Container: Plain, fonts: []*Font{f}}, nil
}

// openCollection reads a TTC header (spec: "TTC Header").
func openCollection(r io.ReaderAt, size int64) (*File, error) {
	head, err := readAt(r, size, 0, 12, "collection header")
	if err != nil {
		return nil, err
	}
	n := u32(head, 8)
	if n == 0 || n > mostFonts {
		return nil, bad("collection header", fmt.Sprintf("1 to %d fonts", mostFonts), "%d", n)
	}
	offsets, err := readAt(r, size, 12, int64(n)*4, "collection header")
	if err != nil {
		return nil, err
	}
	f := &File{Container: Collection}
	for i := range int(n) {
		font, err := openFont(r, size, int64(u32(offsets, 4*i)), nil)
		if err != nil {
			return nil, fmt.Errorf("font %d of the collection: %w", i, err)
		}
		f.fonts = append(f.fonts, font)
	}
	return f, nil
}

// openFont reads the table directory at base. have may hold the first bytes of
// the file, so that most fonts cost a single read so far.
func openFont(r io.ReaderAt, size, base int64, have []byte) (*Font, error) {
	need := func(n int64) ([]byte, error) {
		if base == 0 && int64(len(have)) >= n {
			return have[:n], nil
		}
		return readAt(r, size, base, n, "table directory")
	}
	head, err := need(12)
	if err != nil {
		return nil, err
	}
	f := &Font{r: r, size: size, flavor: Tag(u32(head, 0))}
	switch f.flavor {
	case tagTrueType, tagAppleTrue, tagCFF:
	default:
		return nil, bad("table directory", "a TrueType or OpenType tag", "%q", f.flavor)
	}
	n := int(u16(head, 4))
	if n == 0 || n > mostTables {
		return nil, bad("table directory", fmt.Sprintf("1 to %d tables", mostTables), "%d", n)
	}
	dir, err := need(12 + 16*int64(n))
	if err != nil {
		return nil, err
	}
	var sum int64
	for i := range n {
		d := dir[12+16*i:]
		t := record{tag: Tag(u32(d, 0)), offset: u32(d, 8), length: u32(d, 12)}
		if int64(t.offset)+int64(t.length) > size {
			return nil, bad("table "+t.tag.String(),
				fmt.Sprintf("to end within the file's %d bytes", size),
				"its end at byte %d: the file is cut short", int64(t.offset)+int64(t.length))
		}
		if sum += int64(t.length); sum > 2*size {
			return nil, bad("table directory", "tables that lie beside each other", "some that overlap: %d bytes in a file of %d", sum, size)
		}
		f.tables = append(f.tables, t)
	}
	f.order()
	return f, nil
}

// order sorts the directory, which find relies on; of two tables of one tag the
// first counts.
func (f *Font) order() {
	sort.SliceStable(f.tables, func(i, j int) bool { return f.tables[i].tag < f.tables[j].tag })
}

// Len is the number of fonts in the file: 1 except for collections.
func (f *File) Len() int { return len(f.fonts) }

// Font returns font i, counted from 0.
func (f *File) Font(i int) *Font { return f.fonts[i] }

// Has says whether the font has a table.
func (f *Font) Has(tag string) bool { _, ok := f.find(MakeTag(tag)); return ok }

// Format says how the font's glyphs are drawn, from the tables it has.
func (f *Font) Format() Format {
	switch {
	case f.Has("glyf"):
		return TrueType
	case f.Has("CFF2"):
		return CFF2
	case f.Has("CFF "):
		return CFF
	default:
		return Bitmap
	}
}

func (f *Font) find(tag Tag) (record, bool) {
	i := sort.Search(len(f.tables), func(i int) bool { return f.tables[i].tag >= tag })
	if i < len(f.tables) && f.tables[i].tag == tag {
		return f.tables[i], true
	}
	return record{}, false
}

// Table reads a whole table.
func (f *Font) Table(tag string) ([]byte, error) { return f.tableHead(tag, math.MaxUint32) }

// Tables reads every table, by tag: what Build joins again. Of two tables of one
// tag the first counts. Tables that a WOFF 2 packs need Unwrap first.
func (f *Font) Tables() (map[string][]byte, error) {
	out := map[string][]byte{}
	for _, t := range f.tables {
		tag := t.tag.String()
		if _, twice := out[tag]; twice || t.transformed {
			continue
		}
		b, err := f.Table(tag)
		if err != nil {
			return nil, err
		}
		out[tag] = b
	}
	return out, nil
}

// tableHead reads at most the first most bytes of a table.
func (f *Font) tableHead(tag string, most uint32) ([]byte, error) {
	t, ok := f.find(MakeTag(tag))
	if !ok {
		return nil, fmt.Errorf("table %q: %w", tag, ErrNoTable)
	}
	n := min(t.length, most)
	if n > mostTableBytes {
		return nil, bad("table "+tag, fmt.Sprintf("at most %d bytes", mostTableBytes), "%d", n)
	}
	switch {
	case t.transformed:
		return nil, bad("table "+tag, "its plain form", "the form that WOFF 2 packs it in; unwrap the font first")
	case t.data != nil:
		return t.data[:min(int(n), len(t.data))], nil
	case t.packed > 0 && t.packed < t.length:
		return f.inflate(t, int64(n))
	}
	return readAt(f.r, f.size, int64(t.offset), int64(n), "table "+tag)
}

// readAt reads n bytes at off after checking that the file has them.
func readAt(r io.ReaderAt, size, off, n int64, where string) ([]byte, error) {
	if off < 0 || n < 0 || off+n > size {
		return nil, bad(where, fmt.Sprintf("%d bytes at byte %d", n, off),
			"the end of the file at byte %d: it is cut short", size)
	}
	b := make([]byte, n)
	if got, err := r.ReadAt(b, off); int64(got) < n {
		if err == nil || err == io.EOF {
			err = bad(where, fmt.Sprintf("%d bytes", n), "%d", got)
		}
		return nil, err
	}
	return b, nil
}

func u16(b []byte, i int) uint16 { return binary.BigEndian.Uint16(b[i:]) }
func i16(b []byte, i int) int16  { return int16(binary.BigEndian.Uint16(b[i:])) }
func u32(b []byte, i int) uint32 { return binary.BigEndian.Uint32(b[i:]) }

// From is a table from an offset on, nil beyond its end.
func From(b []byte, at int) []byte {
	if at < 0 || at > len(b) {
		return nil
	}
	return b[at:]
}

// Word is the number at a place, 0 beyond the end.
func Word(b []byte, at int) int {
	if at < 0 || at+2 > len(b) {
		return 0
	}
	return int(u16(b, at))
}
