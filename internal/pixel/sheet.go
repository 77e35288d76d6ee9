package pixel

import (
	"bytes"
	"encoding/json"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"math"
	"slices"
	"unicode/utf8"

	"notaria/internal/fault"
)

// SheetSchema names the form of a sheet's text.
const SheetSchema = "notaria/sheet/1"

// A sheet is a font as a picture and a text (JSON): the picture holds a cell for each
// glyph, as high as a line, with white ink on nothing; the text says where each cell is. The
// picture can be changed in any program that draws pixels, and is read back.
type sheet struct {
	Schema  string       `json:"schema"`
	Name    string       `json:"name"`
	Family  string       `json:"family"`
	Em      float64      `json:"em"`    // pixels per em
	Depth   int          `json:"depth"` // bits a pixel
	Ascent  int          `json:"ascent"`
	Descent int          `json:"descent"`
	Line    int          `json:"line"`     // from baseline to baseline
	Capital int          `json:"capitals"` // heights; 0 where the font has none
	Small   int          `json:"x_height"`
	Picture string       `json:"picture"` // beside this file
	Glyphs  []sheetGlyph `json:"glyphs"`
	Kerning []sheetKern  `json:"kerning"`
}

// sheetGlyph is a cell, in pixels of the picture from its upper left corner. The pen starts Origin
// pixels right of the cell's left edge, on a baseline that is Baseline pixels below its top.
type sheetGlyph struct {
	Character string  `json:"character"`
	Codepoint string  `json:"codepoint"`
	X         int     `json:"x"`
	Y         int     `json:"y"`
	Width     int     `json:"width"`
	Height    int     `json:"height"`
	Origin    int     `json:"origin"`
	Baseline  int     `json:"baseline"`
	Advance   float64 `json:"advance"` // pixels, in steps of 1/16
}

type sheetKern struct {
	Left  string  `json:"left"`
	Right string  `json:"right"`
	Value float64 `json:"value"` // pixels, in steps of 1/16
}

// mostSheet is the widest and highest picture of a sheet, in pixels.
const mostSheet = 16384

// mostPicture is how many pixels a picture has at most that is read.
const mostPicture = 1 << 24

// layout places the cells of a font: rows of cells with a pixel between them, about as wide as high.
func (f *Font) layout() (cells []sheetGlyph, width, height int, err error) {
	top, bottom, area, widest := f.Ascent, -f.Descent, 0, 1
	for _, g := range f.Glyphs {
		if g.Width > 0 {
			top, bottom = max(top, g.Top()), min(bottom, g.Y)
		}
	}
	high := max(1, top-bottom)
	for _, g := range f.Glyphs {
		left := min(0, g.X)
		c := sheetGlyph{Character: string(g.Rune), Codepoint: fmt.Sprintf("U+%04X", g.Rune), Origin: -left, Baseline: top, Height: high,
			Width: max(1, pixels(g.Advance)-left, g.X+g.Width-left), Advance: float64(g.Advance) / Sub}
		area, widest = area+(c.Width+1)*(high+1), max(widest, c.Width)
		cells = append(cells, c)
	}
	room := max(widest+2, int(math.Ceil(math.Sqrt(float64(area))))+widest/2)
	x, y := 1, 1
	for i := range cells {
		if x > 1 && x+cells[i].Width+1 > room {
			x, y = 1, y+high+1
		}
		cells[i].X, cells[i].Y = x, y
		x += cells[i].Width + 1
		width = max(width, x)
	}
	if height = y + high + 1; width > mostSheet || height > mostSheet {
		return nil, 0, 0, fault.Form("expected a sheet of at most %d pixels a side, found %dx%d; choose fewer characters, or a smaller size", mostSheet, width, height)
	}
	return cells, max(width, 2), height, nil
}

// sheetImage draws the cells.
func (f *Font) sheetImage(cells []sheetGlyph, width, height int) *image.NRGBA {
	img := image.NewNRGBA(image.Rect(0, 0, width, height))
	for i := range img.Pix {
		if i%4 != 3 {
			img.Pix[i] = 255 // white without ink, too: edges do not darken when a picture is stretched
		}
	}
	full := int(f.Full())
	for i, g := range f.Glyphs {
		c := cells[i]
		for k, v := range g.Pix {
			x, y := c.X+c.Origin+g.X+k%g.Width, c.Y+c.Baseline-g.Top()+k/g.Width
			img.Pix[img.PixOffset(x, y)+3] = byte(int(v) * 255 / full)
		}
	}
	return img
}

func pngBytes(img image.Image) ([]byte, error) {
	var b bytes.Buffer
	err := (&png.Encoder{CompressionLevel: png.BestCompression}).Encode(&b, img)
	return b.Bytes(), err
}

// Sheet is the font as a picture and its text, under the names of their files.
func (f *Font) Sheet(name string) (map[string][]byte, error) {
	if err := f.valid(); err != nil {
		return nil, err
	}
	cells, width, height, err := f.layout()
	if err != nil {
		return nil, err
	}
	s := sheet{Schema: SheetSchema, Name: f.Name, Family: f.Family, Em: f.Em, Depth: f.Depth, Ascent: f.Ascent, Descent: f.Descent, Line: f.LineHeight(), Capital: f.Heights().Capitals, Small: f.Heights().XHeight, Picture: name + ".png", Glyphs: cells, Kerning: []sheetKern{}}
	for _, k := range f.Kerns {
		s.Kerning = append(s.Kerning, sheetKern{string(k.Left), string(k.Right), float64(k.Value) / Sub})
	}
	text, err := sheetText(s)
	if err != nil {
		return nil, err
	}
	picture, err := pngBytes(f.sheetImage(cells, width, height))
	return map[string][]byte{name + ".png": picture, name + ".json": text}, err
}

// sheetText is the text with a line for each glyph and pair, so that people can read it and compare two.
func sheetText(s sheet) ([]byte, error) {
	glyphs, kerning := s.Glyphs, s.Kerning
	s.Glyphs, s.Kerning = nil, nil
	var b bytes.Buffer
	head, err := plainJSON(s)
	if err != nil {
		return nil, err
	}
	head = bytes.ReplaceAll(head, []byte(`,"`), []byte(",\n  \""))
	cut := bytes.Index(head, []byte(`"glyphs":`))
	b.WriteString("{\n  ")
	b.Write(bytes.ReplaceAll(head[1:cut], []byte(`":`), []byte(`": `)))
	b.WriteString("\"glyphs\": [")
	list(&b, glyphs)
	b.WriteString("],\n  \"kerning\": [")
	list(&b, kerning)
	b.WriteString("]\n}\n")
	if !json.Valid(b.Bytes()) {
		return nil, fmt.Errorf("expected a sheet's text to be JSON: report this")
	}
	return b.Bytes(), nil
}

// list writes values, one a line.
func list[T any](b *bytes.Buffer, values []T) {
	for i, v := range values {
		line, _ := plainJSON(v) // numbers and text alone
		if i > 0 {
			b.WriteByte(',')
		}
		b.WriteString("\n    ")
		b.Write(line)
	}
	if len(values) > 0 {
		b.WriteString("\n  ")
	}
}

// plainJSON writes < and > as they are.
func plainJSON(v any) ([]byte, error) {
	var b bytes.Buffer
	e := json.NewEncoder(&b)
	e.SetEscapeHTML(false)
	err := e.Encode(v)
	return bytes.TrimSpace(b.Bytes()), err
}

// SheetPicture is the name of the picture that belongs to a sheet's text; false if the text is none
// of a sheet.
func SheetPicture(text []byte) (string, bool) {
	var s struct{ Schema, Picture string }
	if json.Unmarshal(text, &s) != nil || s.Schema != SheetSchema {
		return "", false
	}
	return s.Picture, true
}

// ReadSheet reads a sheet back, as Sheet writes it or as somebody changed its picture.
func ReadSheet(text, picture []byte) (*Font, error) {
	var s sheet
	if err := json.Unmarshal(text, &s); err != nil {
		return nil, fault.Form("expected a sheet's text, found no JSON (%v)", err)
	}
	if s.Schema != SheetSchema || !slices.Contains(Depths, s.Depth) {
		return nil, fault.Form("expected %s with a depth of 1, 2, 4 or 8, found %q with %d", SheetSchema, s.Schema, s.Depth)
	}
	ink, err := decodeInk(picture, Ink{})
	if err != nil {
		return nil, err
	}
	f := &Font{Name: s.Name, Family: s.Family, Em: s.Em, Depth: s.Depth, Ascent: s.Ascent, Descent: s.Descent}
	if err := ink.shades(s.Depth); err != nil {
		return nil, err
	}
	sum := 0
	for i, c := range s.Glyphs {
		r, size := utf8.DecodeRuneInString(c.Character)
		if size == 0 || size != len(c.Character) || r == utf8.RuneError && size == 1 {
			return nil, fault.Form("glyph %d: expected one character, found %q", i+1, c.Character)
		}
		if c.Width < 0 || c.Height < 0 || c.X < 0 || c.Y < 0 || c.Width > ink.width-c.X || c.Height > ink.height-c.Y {
			return nil, fault.Form("U+%04X: expected a cell in the picture, which has %dx%d pixels, found %dx%d at %d, %d", r, ink.width, ink.height, c.Width, c.Height, c.X, c.Y)
		}
		if max(c.Origin, -c.Origin, c.Baseline, -c.Baseline) > mostPlace || !(c.Advance >= 0 && c.Advance <= mostPlace) {
			return nil, fault.Form("U+%04X: expected places of at most %d pixels, found an origin of %d, a baseline of %d and an advance of %g", r, mostPlace, c.Origin, c.Baseline, c.Advance)
		}
		if sum += c.Width * c.Height; sum > mostPixels {
			return nil, fault.Form("expected at most %d million pixels in all glyphs, found more", mostPixels>>20)
		}
		g := ink.glyph(image.Rect(c.X, c.Y, c.X+c.Width, c.Y+c.Height), s.Depth)
		g.Rune, g.X, g.Y, g.Advance = r, -c.Origin, c.Baseline-c.Height, int(math.Round(c.Advance*Sub))
		f.Glyphs = append(f.Glyphs, g.trim())
	}
	for _, k := range s.Kerning {
		l, _ := utf8.DecodeRuneInString(k.Left)
		r, _ := utf8.DecodeRuneInString(k.Right)
		if !(k.Value >= -mostPlace && k.Value <= mostPlace) {
			return nil, fault.Form("kerning of %q and %q: expected at most %d pixels, found %g", k.Left, k.Right, mostPlace, k.Value)
		}
		f.Kerns = append(f.Kerns, Kern{l, r, int(math.Round(k.Value * Sub))})
	}
	f.sort()
	return f, f.valid()
}

// sort puts glyphs and pairs in order, and takes doubles out.
func (f *Font) sort() {
	slices.SortStableFunc(f.Glyphs, func(a, b Glyph) int { return int(a.Rune) - int(b.Rune) })
	f.Glyphs = slices.CompactFunc(f.Glyphs, func(a, b Glyph) bool { return a.Rune == b.Rune })
	slices.SortStableFunc(f.Kerns, func(a, b Kern) int {
		if a.Left != b.Left {
			return int(a.Left) - int(b.Left)
		}
		return int(a.Right) - int(b.Right)
	})
	f.Kerns = slices.CompactFunc(f.Kerns, func(a, b Kern) bool { return a.Left == b.Left && a.Right == b.Right })
}

// Ink says which colours of a picture are ink and ground; what is nil is found.
type Ink struct{ Ink, Ground color.Color }
