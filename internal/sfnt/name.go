package sfnt

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"sort"
	"strings"
	"unicode/utf16"
	"unicode/utf8"

	"golang.org/x/text/encoding"
	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/japanese"
	"golang.org/x/text/encoding/korean"
	"golang.org/x/text/encoding/simplifiedchinese"
	"golang.org/x/text/encoding/traditionalchinese"
)

// Name IDs, from the spec's chapter "name — Naming Table".
const (
	NameCopyright    = 0
	NameFamily       = 1 // legacy: at most four styles a family
	NameStyle        = 2
	NameUnique       = 3
	NameFull         = 4
	NameVersion      = 5
	NamePostScript   = 6
	NameLicense      = 13
	NameLicenseURL   = 14
	NameTypoFamily   = 16
	NameTypoStyle    = 17
	NameWWSFamily    = 21
	NameWWSStyle     = 22
	NameVariationsPS = 25
)

// Platform IDs of name records and character maps.
const (
	PlatformUnicode = 0
	PlatformMac     = 1
	PlatformWindows = 3
)

const (
	langWindowsUS   = 0x0409
	langMacEnglish  = 0
	mostNameRecords = 4096
	mostNameBytes   = 64 << 10 // one record, as stored
	// mostSharing is how often the bytes of a name table may be used: languages
	// share strings, but thousands of records of one long string are an attack.
	mostSharing = 8
)

// A NameRecord is one string of the name table. Value is what Bytes writes; a
// record that was read keeps its bytes, and Text decodes them when asked, since
// of dozens of records in as many languages a few are wanted.
type NameRecord struct {
	ID                           uint16
	Platform, Encoding, Language uint16
	Value                        string
	raw                          []byte
}

// Text is the record's text as stored, except for the encoding.
func (r NameRecord) Text() string {
	s, _ := r.Decode()
	return s
}

// Broken says whether the stored bytes are not valid in their encoding.
func (r NameRecord) Broken() bool {
	_, broken := r.Decode()
	return broken
}

// Decode is Text and Broken at once.
func (r NameRecord) Decode() (text string, broken bool) {
	if r.raw == nil {
		return r.Value, false
	}
	return decodeName(r.Platform, r.Encoding, r.raw)
}

// English says whether the record is in English of any country.
func (r NameRecord) English() bool {
	switch r.Platform {
	case PlatformWindows:
		return r.Language&0x3ff == 0x09
	case PlatformMac:
		return r.Language == langMacEnglish
	}
	return false
}

// Names holds a font's name records in the order of the file.
type Names []NameRecord

// Names reads and parses the font's name table.
func (f *Font) Names() (Names, error) {
	b, err := f.Table("name")
	if err != nil {
		return nil, err
	}
	return ParseNames(b)
}

// ParseNames parses a name table of format 0 or 1. Records whose string lies
// outside the table are left out, since real fonts have such and every reader
// passes over them.
func ParseNames(b []byte) (Names, error) {
	if len(b) < 6 {
		return nil, short("name", 6, len(b))
	}
	n, store := int(u16(b, 2)), int(u16(b, 4))
	if n > mostNameRecords {
		return nil, bad("table name", fmt.Sprintf("at most %d records", mostNameRecords), "%d", n)
	}
	if len(b) < 6+12*n {
		n = (len(b) - 6) / 12
	}
	names := make(Names, 0, n)
	sum := 0
	for i := range n {
		r := b[6+12*i:]
		from, size := store+int(u16(r, 10)), int(u16(r, 8))
		if from+size > len(b) || size > mostNameBytes {
			continue
		}
		if sum += size; sum > mostSharing*len(b) {
			return nil, bad("table name", fmt.Sprintf("strings of at most %d times the table", mostSharing), "more: records that share one long string")
		}
		names = append(names, NameRecord{Platform: u16(r, 0), Encoding: u16(r, 2), Language: u16(r, 4), ID: u16(r, 6), raw: b[from : from+size]})
	}
	return names, nil
}

// macScripts decodes the Macintosh scripts by their encoding ID.
var macScripts = map[uint16]encoding.Encoding{
	0: charmap.Macintosh, 1: japanese.ShiftJIS, 2: traditionalchinese.Big5, 3: korean.EUCKR,
	7: charmap.MacintoshCyrillic, 25: simplifiedchinese.GBK,
}

// windowsCodePages decodes Windows records that are not in UTF-16.
var windowsCodePages = map[uint16]encoding.Encoding{
	2: japanese.ShiftJIS, 3: simplifiedchinese.GBK, 4: traditionalchinese.Big5, 5: korean.EUCKR,
}

// decodeName turns a record's bytes into text and says whether any were broken.
func decodeName(platform, enc uint16, b []byte) (string, bool) {
	switch platform {
	case PlatformUnicode, PlatformWindows:
		if page := windowsCodePages[enc]; platform == PlatformWindows && page != nil && !looksUTF16(b) {
			return decodePage(page, b)
		}
		return decodeUTF16(b)
	case PlatformMac:
		if page := macScripts[enc]; page != nil {
			return decodePage(page, b)
		}
		s, _ := decodePage(charmap.Macintosh, b)
		return s, true
	}
	return decodeUTF16(b)
}

// looksUTF16 tells the two ways in which fonts store names under the East
// Asian Windows encodings apart: ASCII in UTF-16 has a zero in each pair.
func looksUTF16(b []byte) bool {
	if len(b)%2 != 0 {
		return false
	}
	for i := 0; i < len(b); i += 2 {
		if b[i] == 0 {
			return true
		}
	}
	return false
}

func decodePage(page encoding.Encoding, b []byte) (string, bool) {
	out, err := page.NewDecoder().Bytes(b)
	s := string(out)
	return s, err != nil || strings.ContainsRune(s, utf8.RuneError)
}

func decodeUTF16(b []byte) (string, bool) {
	if s, ok := plainUTF16(b); ok {
		return s, false
	}
	u := make([]uint16, len(b)/2)
	for i := range u {
		u[i] = binary.BigEndian.Uint16(b[2*i:])
	}
	s := string(utf16.Decode(u))
	return s, len(b)%2 != 0 || strings.ContainsRune(s, utf8.RuneError)
}

// plainUTF16 is the quick way for what most names are: ASCII in UTF-16.
func plainUTF16(b []byte) (string, bool) {
	if len(b)%2 != 0 {
		return "", false
	}
	var s strings.Builder
	s.Grow(len(b) / 2)
	for i := 0; i < len(b); i += 2 {
		if b[i] != 0 || b[i+1] >= 0x80 {
			return "", false
		}
		s.WriteByte(b[i+1])
	}
	return s.String(), true
}

// rank orders records of one ID as readers prefer them: English before others
// even when it is stored later, Windows (United States first) before Macintosh;
// then the other languages in the same order; the Unicode platform, which says
// nothing of languages, last. A lone language is taken when there is no other.
func (r NameRecord) rank() int {
	switch {
	case r.Platform == PlatformWindows && r.Language == langWindowsUS:
		return 0
	case r.Platform == PlatformWindows && r.English():
		return 1
	case r.Platform == PlatformMac && r.English():
		return 2
	case r.Platform == PlatformWindows:
		return 3
	case r.Platform == PlatformMac:
		return 4
	}
	return 5
}

// Best returns the record that readers take for an ID. The first of several
// equally good ones wins; empty and blank ones are passed over.
func (n Names) Best(id uint16) (NameRecord, bool) {
	best, found := NameRecord{}, false
	for _, r := range n {
		if r.ID == id && (!found || r.rank() < best.rank()) && !r.blank() {
			best, found = r, true
		}
	}
	return best, found
}

// blank says whether a record holds nothing but NULs and ASCII white space,
// which no reader takes for a name.
func (r NameRecord) blank() bool {
	if r.raw == nil {
		return Clean(r.Value) == ""
	}
	for _, c := range r.raw {
		if c != 0 && c != ' ' && (c < '\t' || c > '\r') {
			return false
		}
	}
	return true
}

// Get returns the cleaned text for an ID, or "".
func (n Names) Get(id uint16) string {
	r, _ := n.Best(id)
	return Clean(r.Text())
}

// Clean takes NULs and surrounding white space off a name, as readers do.
func Clean(s string) string {
	return strings.TrimSpace(strings.ReplaceAll(s, "\x00", ""))
}

// Bytes encodes a format 0 table: each record in UTF-16 for Windows, in
// MacRoman for the Macintosh. A character that MacRoman lacks is an error.
func (n Names) Bytes() ([]byte, error) {
	recs := append(Names(nil), n...)
	sort.SliceStable(recs, func(i, j int) bool {
		a, b := recs[i], recs[j]
		if a.Platform != b.Platform {
			return a.Platform < b.Platform
		}
		if a.Language != b.Language {
			return a.Language < b.Language
		}
		return a.ID < b.ID
	})
	var head, store be
	head.u16(0, uint16(len(recs)), uint16(6+12*len(recs)))
	for _, r := range recs {
		raw, err := encodeName(r)
		if err != nil {
			return nil, err
		}
		at := bytes.Index(store, raw) // the same text is stored once
		if at < 0 {
			at = len(store)
			store = append(store, raw...)
		}
		if len(store) > 0xffff {
			return nil, bad("table name", "at most 65535 bytes of strings", "%d", len(store))
		}
		head.u16(r.Platform, r.Encoding, r.Language, r.ID, uint16(len(raw)), uint16(at))
	}
	return append(head, store...), nil
}

func encodeName(r NameRecord) ([]byte, error) {
	if r.raw != nil {
		return r.raw, nil // as it was read, whatever its encoding
	}
	if r.Platform == PlatformMac {
		raw, err := charmap.Macintosh.NewEncoder().String(r.Value)
		if err != nil {
			return nil, bad(fmt.Sprintf("name %d", r.ID), "text that MacRoman can hold", "%q", r.Value)
		}
		return []byte(raw), nil
	}
	var b be
	b.u16(utf16.Encode([]rune(r.Value))...)
	return b, nil
}
