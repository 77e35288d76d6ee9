package sfnt

import (
	"crypto/sha256"
	"fmt"
	"sort"
)

// BuildCollection joins fonts, each given by its tables, into a collection (spec:
// "Font Collections"): tables that are the same in several fonts are written once.
// The checksum in head stays that of each font on its own, since a collection has
// none. A signature (DSIG) is of a whole file, and is left out. The same fonts
// always give the same bytes.
func BuildCollection(fonts []map[string][]byte) ([]byte, error) {
	if len(fonts) == 0 || len(fonts) > mostFonts {
		return nil, bad("collection to be written", fmt.Sprintf("1 to %d fonts", mostFonts), "%d", len(fonts))
	}
	var head be
	head.u32(uint32(tagCollection), 0x00010000, uint32(len(fonts)))
	at := uint32(12 + 4*len(fonts)) // of the next directory
	tags := make([][]string, len(fonts))
	for i, tables := range fonts {
		if len(tables["head"]) < 54 {
			return nil, bad("collection to be written", "a head table of 54 bytes in each font", "%d bytes", len(tables["head"]))
		}
		for t := range tables {
			if t != "DSIG" {
				tags[i] = append(tags[i], t)
			}
		}
		sort.Strings(tags[i])
		head.u32(at)
		at += uint32(12 + 16*len(tags[i]))
	}
	var dirs, body be
	placed := map[[sha256.Size]byte]uint32{} // offsets by content
	for i, tables := range fonts {
		dirs.directory(tables, len(tags[i]))
		for _, t := range tags[i] {
			sum := sha256.Sum256(tables[t])
			offset, ok := placed[sum]
			if !ok {
				offset = at + uint32(len(body))
				placed[sum] = offset
				body.padded(tables[t])
			}
			dirs.u32(uint32(MakeTag(t)), checksum(tables[t]), offset, uint32(len(tables[t])))
		}
	}
	return append(append(head, dirs...), body...), nil
}

// directory writes the head of a table directory.
func (b *be) directory(tables map[string][]byte, n int) {
	flavor := tagTrueType
	if tables["CFF "] != nil || tables["CFF2"] != nil {
		flavor = tagCFF
	}
	pow, log := searchParams(uint16(n))
	b.u32(uint32(flavor))
	b.u16(uint16(n), pow*16, log, uint16(n)*16-pow*16)
}

// padded writes a table and fills it up to four bytes.
func (b *be) padded(table []byte) {
	*b = append(*b, table...)
	for len(*b)%4 != 0 {
		*b = append(*b, 0)
	}
}
