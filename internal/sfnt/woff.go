package sfnt

import (
	"bytes"
	"compress/zlib"
	"fmt"
	"io"
)

// WOFF 1.0: https://www.w3.org/TR/WOFF/

// mostUnpacked bounds how much a web font may grow: real ones pack about 2 to 5
// to 1, and a small one may hold a large empty table.
const (
	mostUnpackRatio = 100
	unpackFloor     = 1 << 20
	mostUnpacked    = 128 << 20
)

// fitsUnpacked says whether so many unpacked bytes are credible for a file of
// size bytes.
func fitsUnpacked(unpacked, size int64) bool {
	return unpacked <= mostUnpacked && unpacked <= unpackFloor+mostUnpackRatio*size
}

// openWOFF reads the directory of a WOFF; tables are unpacked when asked for.
func openWOFF(r io.ReaderAt, size int64) (*File, error) {
	head, err := readAt(r, size, 0, 44, "WOFF header")
	if err != nil {
		return nil, err
	}
	f := &Font{r: r, size: size, flavor: Tag(u32(head, 4))}
	n := int(u16(head, 12))
	if n == 0 || n > mostTables {
		return nil, bad("WOFF header", fmt.Sprintf("1 to %d tables", mostTables), "%d", n)
	}
	dir, err := readAt(r, size, 44, 20*int64(n), "WOFF directory")
	if err != nil {
		return nil, err
	}
	var sum int64
	for i := range n {
		d := dir[20*i:]
		t := record{tag: Tag(u32(d, 0)), offset: u32(d, 4), packed: u32(d, 8), length: u32(d, 12)}
		if int64(t.offset)+int64(t.packed) > size || t.packed > t.length {
			return nil, bad("table "+t.tag.String(), fmt.Sprintf("to end within the file's %d bytes", size),
				"its end at byte %d: the file is cut short", int64(t.offset)+int64(t.packed))
		}
		sum += int64(t.length)
		f.tables = append(f.tables, t)
	}
	if !fitsUnpacked(sum, size) {
		return nil, bad("WOFF directory", fmt.Sprintf("tables of at most %d times the file", mostUnpackRatio), "%d bytes out of %d", sum, size)
	}
	f.order()
	return &File{Container: WOFF, fonts: []*Font{f}}, nil
}

// inflate unpacks the first n bytes of a table of a WOFF.
func (f *Font) inflate(t record, n int64) ([]byte, error) {
	where := "table " + t.tag.String()
	packed, err := readAt(f.r, f.size, int64(t.offset), int64(t.packed), where)
	if err != nil {
		return nil, err
	}
	z, err := zlib.NewReader(bytes.NewReader(packed))
	if err != nil {
		return nil, bad(where, "zlib data", "%v", err)
	}
	defer z.Close()
	out, err := io.ReadAll(io.LimitReader(z, n))
	if err != nil {
		return nil, bad(where, "zlib data", "%v", err)
	}
	if int64(len(out)) < n {
		return nil, bad(where, fmt.Sprintf("%d bytes", n), "%d after unpacking", len(out))
	}
	return out, nil
}

// Unwrap returns font i of the file as a plain font file: web fonts unpacked, a
// face of a collection on its own. Digital signatures, which such a change
// breaks, are left out.
func (f *File) Unwrap(i int) ([]byte, error) {
	font := f.fonts[i]
	tables, err := font.Tables()
	if err != nil {
		return nil, err
	}
	delete(tables, "DSIG")
	if err := font.restore(tables); err != nil {
		return nil, err
	}
	return Build(tables)
}
