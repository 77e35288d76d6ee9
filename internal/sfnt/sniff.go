package sfnt

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"unicode"
)

// A NotFontError says that a file is no TrueType or OpenType font, what it is
// instead, and what to do about it.
type NotFontError struct {
	Code  string // one word for programs: "empty", "html", "woff" …
	Found string
	Cure  string
}

func (e *NotFontError) Error() string {
	return fmt.Sprintf("expected a TrueType or OpenType font, found %s", e.Found)
}

// disguises are the things that people have under the name of a font file, by
// the bytes that such a file begins with.
var disguises = []struct {
	magic, code, found, cure string
}{
	{"%!PS-AdobeFont", "type1", "a Type 1 font in text form", "ask the maker for the OpenType edition; no current platform loads Type 1"},
	{"%!FontType1", "type1", "a Type 1 font in text form", "ask the maker for the OpenType edition; no current platform loads Type 1"},
	{"\x80\x01", "type1", "a Type 1 font in binary form", "ask the maker for the OpenType edition; no current platform loads Type 1"},
	{"STARTFONT", "bdf", "a bitmap font (BDF)", "bitmap fonts are for small displays; an app needs the outline edition"},
	{"\x01fcp", "pcf", "a bitmap font (PCF)", "bitmap fonts are for small displays; an app needs the outline edition"},
	{"version https://git", "pointer", "a version-control pointer file, not the file itself", "fetch the large files of that repository, then try again"},
	{"\x00\x05\x16\x07", "appledouble", "an AppleDouble companion file (its name starts with ._)", "take the file of the same name without ._"},
	{"\x00\x05\x16\x00", "applesingle", "an AppleSingle wrapper", "unpack it on a Mac, or download the plain .ttf or .otf"},
	{"PK\x03\x04", "zip", "a zip archive", "give it its .zip ending back, or unpack it"},
	{"\x1f\x8b", "gzip", "a gzip archive", "unpack it, and give the folder"},
	{"typ1", "type1", "a Type 1 font in an sfnt wrapper", "ask the maker for the OpenType edition; no current platform loads Type 1"},
	{"MZ", "fon", "a Windows bitmap font or program", "bitmap fonts are for small displays; an app needs the outline edition"},
	{"\x00\x00\x01\x00\x00", "suitcase", "a Macintosh font suitcase (resource fork)", "convert it on a Mac, or ask its maker for the .ttf or .otf"},
	{"%PDF", "pdf", "a PDF document", "look in the download for the .ttf or .otf"},
	{"{\\rtf", "text", "an RTF document", "look in the download for the .ttf or .otf"},
}

// sniff looks at the first bytes of a file and returns a *NotFontError unless
// it can be a font or a collection.
func sniff(head []byte, size int64) error {
	if size == 0 {
		return &NotFontError{"empty", "an empty file (0 bytes)", "download it again; the first try stopped before it began"}
	}
	for _, d := range disguises {
		if bytes.HasPrefix(head, []byte(d.magic)) {
			return &NotFontError{d.code, d.found, d.cure}
		}
	}
	if len(head) < 12 {
		return &NotFontError{"short", fmt.Sprintf("%d bytes, fewer than any font has", size), "download it again"}
	}
	switch Tag(binary.BigEndian.Uint32(head)) {
	case tagTrueType, tagAppleTrue, tagCFF, tagCollection, tagWOFF, tagWOFF2:
		return nil
	}
	return sniffDeeper(head)
}

// sniffDeeper tells apart what has no magic at its very first byte.
func sniffDeeper(head []byte) error {
	lower := bytes.ToLower(bytes.TrimLeft(bytes.TrimPrefix(head, []byte("\xef\xbb\xbf")), " \t\r\n"))
	if bytes.HasPrefix(lower, []byte("<")) {
		if bytes.Contains(lower, []byte("<svg")) {
			return &NotFontError{"svg", "an SVG document", "take the .ttf or .otf from the same download; SVG fonts are not loaded any more"}
		}
		if bytes.HasPrefix(lower, []byte("<!doctype html")) || bytes.Contains(lower, []byte("<html")) {
			return &NotFontError{"html", "a web page (HTML)", "the download gave a page instead of the font: open the link in a browser, and save the file itself"}
		}
		return &NotFontError{"xml", "an XML or HTML document", "download the font file itself"}
	}
	// EOT has its magic number 0x504C at byte 34, little-endian (W3C EOT submission).
	if len(head) >= 36 && head[34] == 0x4c && head[35] == 0x50 {
		return &NotFontError{"eot", "an EOT font for old browsers", "take the .ttf or .otf from the same download"}
	}
	if isText(head) {
		return &NotFontError{"text", "plain text", "look in the download for the .ttf or .otf"}
	}
	return &NotFontError{"unknown", fmt.Sprintf("bytes that start with % x", head[:4]), "download it again, or ask its maker for the .ttf or .otf"}
}

// isText holds for bytes that are printable except for line ends and tabs.
func isText(b []byte) bool {
	for _, r := range string(b) {
		if r != '\n' && r != '\r' && r != '\t' && (r == unicode.ReplacementChar || !unicode.IsPrint(r)) {
			return false
		}
	}
	return true
}
