package document

import (
	"fmt"

	"notaria/internal/pixel"
)

// Pixels is the answer of pixel: a font for each height and depth.
type Pixels struct {
	Schema string   `json:"schema"`
	Fonts  []Pixel  `json:"fonts"`
	Files  []string `json:"files"` // that were written
}

// NewPixels is an answer without fonts.
func NewPixels() Pixels {
	return Pixels{Schema: "notaria/pixel/1", Fonts: []Pixel{}, Files: []string{}}
}

// Pixel is one bitmap font. Heights are in pixels, from the lowest to the highest pixel of a
// group of characters; Bytes is what the pictures take.
type Pixel struct {
	Name     string        `json:"name"`
	Code     string        `json:"code_name"` // in code, and of its files
	Em       float64       `json:"em"`        // pixels per em
	Depth    int           `json:"depth"`
	Heights  pixel.Heights `json:"heights"`
	Glyphs   int           `json:"glyphs"`
	Bytes    int           `json:"bytes"`
	Heaviest Heaviest      `json:"heaviest"`
	Flash    []Flash       `json:"flash"`    // what it takes in each form
	Savings  []Saving      `json:"savings"`  // what less would save
	Cleanest []Clean       `json:"cleanest"` // heights near this one, the best first
	Lacks    []string      `json:"lacks"`    // characters that the face does not have
	Measured []Measured    `json:"measured"`
}

// Heaviest is the glyph that takes most bytes.
type Heaviest struct {
	Character string `json:"character"`
	Bytes     int    `json:"bytes"`
}

// Flash is what a font takes in a form, in bytes.
type Flash struct {
	Form  string `json:"form"`
	Bytes int    `json:"bytes"`
}

// Saving is how many bytes of pixels something less would save.
type Saving struct {
	What  string `json:"what"`
	Bytes int    `json:"bytes"`
}

// Clean is a height near the wished one, and how far its stems and heights are from whole
// pixels, on average.
type Clean struct {
	Height int     `json:"height"`
	Off    float64 `json:"off"`
}

// Measured is where the ink of a text is, or of all values of a pattern.
type Measured struct {
	Of string `json:"of"`
	pixel.Extent
}

// NewPixel is a font's part of the answer.
func NewPixel(f *pixel.Font, code string, lacks []rune, near []pixel.Clean, flash []Flash, measured []Measured) Pixel {
	d := Pixel{Name: f.Name, Code: code, Em: f.Em, Depth: f.Depth, Heights: f.Heights(), Glyphs: len(f.Glyphs), Bytes: f.Bytes(),
		Flash: flash, Savings: []Saving{}, Cleanest: []Clean{}, Lacks: []string{}, Measured: append([]Measured{}, measured...)}
	for _, g := range f.Glyphs {
		if n := f.Cost(g); n > d.Heaviest.Bytes {
			d.Heaviest = Heaviest{character(g.Rune), n}
		}
	}
	for _, r := range lacks {
		d.Lacks = append(d.Lacks, character(r))
	}
	for _, c := range near {
		d.Cleanest = append(d.Cleanest, Clean{c.Height, float64(int(c.Off*1000+0.5)) / 1000})
	}
	if f.Depth > 1 {
		less := *f
		less.Depth /= 2
		d.Savings = append(d.Savings, Saving{fmt.Sprintf("a depth of %d", less.Depth), f.Bytes() - less.Bytes()})
	}
	return d
}

func character(r rune) string { return fmt.Sprintf("%c U+%04X", r, r) }
