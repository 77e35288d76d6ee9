package sfnt

import (
	"encoding/binary"
	"sort"
)

// checksumMagic is what a whole font's checksum and head's adjustment add up to.
const checksumMagic = 0xB1B0AFBA

// Build joins tables into a font file: directory in ascending order of tags,
// each table padded to four bytes, checksums and head's adjustment filled in.
// The same tables always give the same bytes. The tables are not changed.
func Build(tables map[string][]byte) ([]byte, error) {
	head, ok := tables["head"]
	if !ok || len(head) < 54 {
		return nil, bad("font to be written", "a head table of 54 bytes", "%d bytes", len(head))
	}
	tags := make([]string, 0, len(tables))
	for t := range tables {
		tags = append(tags, t)
	}
	sort.Strings(tags)
	var dir, body be
	dir.directory(tables, len(tags))
	headAt := 0
	for _, t := range tags {
		data := tables[t]
		if t == "head" {
			data = append([]byte(nil), data...)
			binary.BigEndian.PutUint32(data[8:], 0)
			headAt = 12 + 16*len(tags) + len(body)
		}
		dir.u32(uint32(MakeTag(t)), checksum(data), uint32(12+16*len(tags)+len(body)), uint32(len(data)))
		body.padded(data)
	}
	file := append(dir, body...)
	binary.BigEndian.PutUint32(file[headAt+8:], checksumMagic-checksum(file))
	return file, nil
}

// checksum adds up a table as big-endian words (spec: "Calculating Checksums").
func checksum(b []byte) uint32 {
	var sum uint32
	for len(b) >= 4 {
		sum += binary.BigEndian.Uint32(b)
		b = b[4:]
	}
	var last [4]byte
	copy(last[:], b)
	return sum + binary.BigEndian.Uint32(last[:])
}

// GaspBytes encodes a gasp table that asks for symmetric smoothing and
// grid-fitting at every size: right for outlines without instructions.
func GaspBytes() []byte {
	var b be
	b.u16(1, 1, 0xffff, 0x000f)
	return b
}
