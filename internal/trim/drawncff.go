package trim

import (
	"encoding/binary"
	"fmt"
	"math"
	"strconv"
	"strings"

	"notaria/internal/fault"
	"notaria/internal/raster"
	"notaria/internal/sfnt"
)

// Operators of charstrings (5177, 4.1) and of dictionaries that are written here.
const (
	charLine     = 5
	charCurve    = 8
	charEnd      = 14
	charMove     = 21
	dictDefault  = 20 // defaultWidthX
	dictNominal  = 21 // nominalWidthX
	dictMatrix   = 12<<8 | 7
	dictCIDCount = 12<<8 | 34
)

// mostDrawnCFF is how many segments all glyphs have at most.
const mostDrawnCFF = 4 << 20

// pinCFF2 writes CFF, hmtx and maxp with the outlines of CFF 2 as they are at a place. It has no subroutines and no hints. Glyphs have
// numbers (CID) in place of names, as in CFF 2.
func pinCFF2(paths *sfnt.Paths, tables map[string][]byte, postscript string, unitsPerEm int) error {
	head, hhea := tables["head"], append([]byte(nil), tables["hhea"]...)
	if len(head) < 54 || len(hhea) < 36 {
		return fault.Form("expected tables head and hhea, found none")
	}
	var glyphs [][]byte
	var hmtx []byte
	kept, segments := make([]int, paths.Count()), 0
	for g := range paths.Count() {
		path, err := paths.Outline(g)
		if err != nil {
			return fmt.Errorf("glyph %d: %w", g, err)
		}
		if segments += len(path); segments > mostDrawnCFF {
			return fault.Form("expected outlines of at most %d million segments, found more", mostDrawnCFF>>20)
		}
		advance := paths.AdvanceOf(g)
		glyphs = append(glyphs, drawnCFF(path, advance))
		left := 0
		if len(path) > 0 {
			left = int(math.Floor(float64(raster.Tight(path)[0])))
		}
		hmtx = binary.BigEndian.AppendUint16(hmtx, uint16(advance))
		hmtx = binary.BigEndian.AppendUint16(hmtx, uint16(left))
		kept[g] = g
	}
	binary.BigEndian.PutUint16(hhea[34:], uint16(paths.Count()))
	t := &cffTable{name: cffList([][]byte{[]byte(postscript)}), strings: [][]byte{[]byte("Adobe"), []byte("Identity")}, charset: kept, which: make([]int, len(kept)), cid: true}
	t.top = []cffEntry{
		{op: dictCollection, numbers: []int{ownStrings, ownStrings + 1, 0}}, // the first of a font by numbers (5176, 15)
		{op: dictMatrix, raw: matrix(unitsPerEm)},
		{op: dictCIDCount, raw: appendNumber(nil, len(kept), false)},
		{op: dictCharset}, {op: dictGlyphs}, {op: dictFonts}, {op: dictSelect},
	}
	t.fonts = []cffFont{{dict: []cffEntry{{op: dictPrivate}}, private: []cffEntry{{op: dictDefault, raw: []byte{139}}, {op: dictNominal, raw: []byte{139}}}}}
	cff, err := t.write(kept, &cffPrograms{glyphs: glyphs, local: make([][][]byte, 1)})
	if err != nil {
		return err
	}
	maxp := []byte{0, 0, 0x50, 0}
	tables["CFF "], tables["hmtx"], tables["hhea"], tables["maxp"] = cff, hmtx, hhea, binary.BigEndian.AppendUint16(maxp, uint16(len(kept)))
	delete(tables, "CFF2")
	return paths.Varied()
}

// drawnCFF is a charstring that draws a path, with its advance in front.
func drawnCFF(path sfnt.Path, advance int) []byte {
	out := push(nil, advance)
	var at [2]int
	run, op := []int(nil), 0
	flush := func() {
		for _, v := range run {
			out = push(out, v)
		}
		if len(run) > 0 {
			out = append(out, byte(op))
		}
		run = run[:0]
	}
	for _, s := range path {
		points, next := s.P[:1], charLine
		switch s.Op {
		case sfnt.MoveTo:
			next = charMove
		case sfnt.CubeTo:
			points, next = s.P[:3], charCurve
		case sfnt.QuadTo: // as a cubic one (not of CFF, but a path may have it)
			from := [2]float32{float32(at[0]), float32(at[1])}
			mid := func(a, b [2]float32) [2]float32 { return [2]float32{a[0] + (b[0]-a[0])*2/3, a[1] + (b[1]-a[1])*2/3} }
			points, next = [][2]float32{mid(from, s.P[0]), mid(s.P[1], s.P[0]), s.P[1]}, charCurve
		}
		if next != op || len(run)+2*len(points) > 46 || next == charMove {
			flush()
		}
		op = next
		for _, p := range points {
			x, y := int(math.Round(float64(p[0]))), int(math.Round(float64(p[1])))
			run = append(run, x-at[0], y-at[1])
			at = [2]int{x, y}
		}
	}
	flush()
	return append(out, charEnd)
}

// matrix makes units of the em (FontMatrix): six real numbers.
func matrix(unitsPerEm int) []byte {
	one := real(1 / float64(max(unitsPerEm, 1)))
	out := append([]byte(nil), one...)
	out = append(out, 139, 139)
	return append(append(out, one...), 139, 139)
}

// real is a real number of a dictionary: its digits in nibbles (5176, table 5).
func real(v float64) []byte {
	text := strconv.FormatFloat(v, 'f', -1, 64)
	var nibbles []byte
	for _, c := range text {
		nibbles = append(nibbles, byte(strings.IndexRune("0123456789.", c)))
	}
	nibbles = append(nibbles, 15)
	if len(nibbles)%2 != 0 {
		nibbles = append(nibbles, 15)
	}
	out := []byte{30}
	for i := 0; i < len(nibbles); i += 2 {
		out = append(out, nibbles[i]<<4|nibbles[i+1])
	}
	return out
}
