package trim

import (
	"encoding/binary"
	"fmt"
	"slices"
	"strings"

	"notaria/internal/fault"
	"notaria/internal/layout"
	"notaria/internal/sfnt"
)

// needed are the features that stay whatever is asked for: those that shapers apply by themselves, to all texts or to those of some
// scripts, in mathematics, in columns, and around a slash of fractions (OpenType, registered features).
var needed = strings.Fields(`rvrn ltra ltrm rtla rtlm frac numr dnom rand ccmp locl rlig mark mkmk abvm blwm calt clig curs dist kern liga rclt
	vert vrt2 vrtr vkrn valt vpal vhal vchw chws
	stch isol init medi med2 fina fin2 fin3 mset ljmo vjmo tjmo
	nukt akhn rphf rkrf pref blwf abvf half pstf vatu cjct cfar pres abvs blws psts haln
	ssty flac dtls`)

// lighter gives the tables of a font without instructions, or without features of layout that nobody asks for.
func lighter(f *sfnt.Font, wish Wish) (map[string][]byte, error) {
	tables, err := f.Tables()
	if err != nil {
		return nil, err
	}
	if wish.Unhinted {
		if err := unhint(f, tables); err != nil {
			return nil, err
		}
	}
	if wish.Features == nil {
		return tables, nil
	}
	maxp, err := f.Maxp()
	if err != nil {
		return nil, err
	}
	cut := layout.NewCut(every(int(maxp.NumGlyphs)))
	cut.Only(func(tag string) bool { return slices.Contains(needed, tag) || slices.Contains(wish.Features, tag) })
	for _, tag := range []string{"GSUB", "GPOS"} {
		if b, ok := tables[tag]; ok {
			if tables[tag], err = cut.Layout(tag, b); err != nil {
				return nil, err
			}
		}
	}
	return tables, nil
}

// unhint takes the instructions of TrueType out of the glyphs and of the font.
func unhint(f *sfnt.Font, tables map[string][]byte) error {
	if !f.Has("glyf") {
		return fault.Form("expected outlines of TrueType (glyf), whose hinting can be left out here, found others")
	}
	paths, err := f.Paths()
	if err != nil {
		return err
	}
	var glyf, loca []byte
	for g := range paths.Count() {
		loca = binary.BigEndian.AppendUint32(loca, uint32(len(glyf)))
		data, err := unhinted(paths.Data(g))
		if err != nil {
			return fmt.Errorf("glyph %d: %w", g, err)
		}
		glyf = append(glyf, data...)
		glyf = append(glyf, make([]byte, -len(data)&3)...)
	}
	loca = binary.BigEndian.AppendUint32(loca, uint32(len(glyf)))
	head := slices.Clone(tables["head"])
	if len(head) < 54 {
		return fault.Form("expected a table head, found none")
	}
	head[50], head[51] = 0, 1
	tables["glyf"], tables["loca"], tables["head"], tables["gasp"] = glyf, loca, head, sfnt.GaspBytes()
	for _, tag := range append(slices.Clone(hints), "cvar") {
		delete(tables, tag)
	}
	return nil
}

// unhinted is one glyph without its instructions.
func unhinted(raw []byte) ([]byte, error) {
	if len(raw) < 10 {
		return nil, nil
	}
	if simple, ok := sfnt.Simple(raw); ok {
		simple.Instructions = nil
		data, err := simple.Bytes()
		if err == nil && len(data) >= 10 {
			copy(data[2:10], raw[2:10]) // the box as it was, though it may be another than that of the points
		}
		return data, err
	}
	if int16(binary.BigEndian.Uint16(raw)) >= 0 {
		return raw, nil // of a form that is not read here
	}
	out := slices.Clone(raw)
	for at := 10; at+4 <= len(out); {
		flags := sfnt.Word(out, at)
		binary.BigEndian.PutUint16(out[at:], uint16(flags&^partHints))
		at += 4 + partSize(flags)
		if flags&partMore == 0 {
			return out[:min(at, len(out))], nil
		}
	}
	return out, nil
}

// partSize is how many bytes of a part follow its flags and its glyph (OpenType, glyf, "Component Glyph Flags").
func partSize(flags int) int {
	size := 2
	if flags&partWords != 0 {
		size = 4
	}
	switch {
	case flags&partScale != 0:
		size += 2
	case flags&partBoth != 0:
		size += 4
	case flags&partTwo != 0:
		size += 8
	}
	return size
}
