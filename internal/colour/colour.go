// Package colour reads glyphs that are in colour: outlines in layers of one colour each, graphs of paints
// (OpenType, COLR versions 0 and 1, CPAL), and pictures (CBDT, sbix). All reading is bounded; what does not
// hold is an error.
package colour

import (
	"encoding/binary"

	"notaria/internal/fault"
	"notaria/internal/sfnt"
)

// Kind says how a font's glyphs are in colour.
type Kind string

// The kinds. Drawings (SVG) are not read here.
const (
	None     Kind = ""
	Layered  Kind = "layers"
	Paints   Kind = "paints"
	Pictures Kind = "pictures"
	SVG      Kind = "svg"
	Broken   Kind = "broken" // the tables do not hold
)

// Foreground is the palette index of the text's own colour (CPAL).
const Foreground = 0xFFFF

// A Layer is one outline of a colour glyph; layers lie over each other, the first at the bottom.
type Layer struct {
	Glyph      int
	Foreground bool     // it has the text's own colour
	RGBA       [4]uint8 // of the first palette
}

// mostOfGlyph is how many layers one glyph has at most.
const mostOfGlyph = 256

// Glyphs are those of a font that are in colour.
type Glyphs struct {
	Kind   Kind
	Err    error // why tables do not hold
	layers map[int][]Layer
	listed *layered
	graph  *graph
	strike []strike
}

// New reads what a font has, at a place of its design space; nil for the default one. A font whose tables do
// not hold has no colours: its outlines can be good all the same.
func New(f *sfnt.Font, coordinates map[string]float64) *Glyphs {
	g := &Glyphs{}
	if err := g.read(f, coordinates); err != nil {
		return &Glyphs{Kind: Broken, Err: err}
	}
	return g
}

func (g *Glyphs) read(f *sfnt.Font, coordinates map[string]float64) error {
	switch {
	case f.Has("COLR"):
		return g.readCOLR(f, coordinates)
	case f.Has("CBDT"), f.Has("sbix"):
		g.Kind = Pictures
		_, table, parse, err := pictures(f)
		if err != nil {
			return err
		}
		g.strike, err = parse(table)
		return err
	case f.Has("SVG "):
		g.Kind = SVG
	}
	return nil
}

func (g *Glyphs) readCOLR(f *sfnt.Font, coordinates map[string]float64) error {
	b, err := f.Table("COLR")
	if err != nil {
		return err
	}
	cpal, err := f.Table("CPAL")
	if err != nil {
		return err
	}
	palette, err := parsePalette(cpal)
	if err != nil {
		return err
	}
	g.Kind = Layered
	if g.listed, err = parseLayers(b, palette); err != nil || sfnt.Word(b, 0) == 0 {
		return err
	}
	if g.graph, err = parseGraph(b, palette); err != nil {
		return err
	}
	if len(coordinates) > 0 {
		g.graph.change, err = g.graph.changes(f, coordinates)
	}
	if g.graph.bases > 0 {
		g.Kind = Paints
	}
	return err
}

// Of are glyphs in layers.
func Of(layers map[int][]Layer) *Glyphs { return &Glyphs{Kind: Layered, layers: layers} }

// Layers are those of a glyph, nil for one without.
func (g *Glyphs) Layers(glyph int) []Layer {
	if l, known := g.layers[glyph]; known || g.listed == nil {
		return l
	}
	return g.listed.of(glyph)
}

// A layered is the base glyphs and layers of version 0. Each glyph's are made when they are asked for: sixty thousand
// glyphs can share 256 layers.
type layered struct {
	list   []byte
	bases  map[int][2]int // where each glyph's layers begin, and how many they are
	colour [][4]uint8
}

func (l *layered) of(glyph int) (out []Layer) {
	at := l.bases[glyph]
	for i := range at[1] {
		r := l.list[4*(at[0]+i):]
		x := Layer{Glyph: int(u16(r, 0)), Foreground: u16(r, 2) == Foreground}
		if !x.Foreground {
			x.RGBA = l.colour[u16(r, 2)]
		}
		out = append(out, x)
	}
	return out
}

// parseLayers reads the base glyphs and layers of version 0, which version 1 has as well.
func parseLayers(b []byte, palette [][4]uint8) (*layered, error) {
	if len(b) < 14 {
		return nil, fault.Form("table COLR: expected 14 bytes, found %d", len(b))
	}
	bases, baseAt, layerAt, count := int(u16(b, 2)), int(u32(b, 4)), int(u32(b, 8)), int(u16(b, 12))
	if bases == 0 {
		return nil, nil
	}
	if baseAt > len(b) || bases > (len(b)-baseAt)/6 || layerAt > len(b) || count > (len(b)-layerAt)/4 {
		return nil, fault.Form("table COLR: expected records inside of the table, found %d base glyphs at %d, %d layers at %d of %d bytes", bases, baseAt, count, layerAt, len(b))
	}
	out := &layered{list: b[layerAt:], bases: make(map[int][2]int, bases), colour: palette}
	for i := range count {
		if at := int(u16(out.list, 4*i+2)); at != Foreground && at >= len(palette) {
			return nil, fault.Form("table COLR: expected colours of the palette, found number %d of %d", at, len(palette))
		}
	}
	for i := range bases {
		r := b[baseAt+6*i:]
		glyph, first, n := int(u16(r, 0)), int(u16(r, 2)), int(u16(r, 4))
		if n > mostOfGlyph || first+n > count {
			return nil, fault.Form("table COLR: expected layers that are there, 256 a glyph at most, found %d from %d of %d", n, first, count)
		}
		out.bases[glyph] = [2]int{first, n}
	}
	return out, nil
}

// parsePalette reads the first palette of a CPAL table.
func parsePalette(b []byte) ([][4]uint8, error) {
	if len(b) < 14 {
		return nil, fault.Form("table CPAL: expected 14 bytes, found %d", len(b))
	}
	entries, records, at, first := int(u16(b, 2)), int(u16(b, 6)), int(u32(b, 8)), int(u16(b, 12))
	if u16(b, 4) == 0 || first+entries > records || at > len(b) || records > (len(b)-at)/4 {
		return nil, fault.Form("table CPAL: expected a palette inside of the table, found %d entries from %d of %d records at %d of %d bytes", entries, first, records, at, len(b))
	}
	out := make([][4]uint8, entries)
	for i := range out {
		r := b[at+4*(first+i):]
		out[i] = [4]uint8{r[2], r[1], r[0], r[3]} // stored as blue, green, red, alpha
	}
	return out, nil
}

func u16(b []byte, i int) uint16 { return binary.BigEndian.Uint16(b[i:]) }
func u32(b []byte, i int) uint32 { return binary.BigEndian.Uint32(b[i:]) }
