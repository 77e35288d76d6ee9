package document

import (
	"fmt"

	"notaria/internal/pixel"
)

// Pixel is the answer of pixel. Heights are in pixels, from the lowest to the highest pixel of a
// group of characters; Bytes is what the pictures take.
type Pixel struct {
	Schema   string        `json:"schema"`
	Name     string        `json:"name"`
	Em       float64       `json:"em"` // pixels per em
	Depth    int           `json:"depth"`
	Heights  pixel.Heights `json:"heights"`
	Glyphs   int           `json:"glyphs"`
	Bytes    int           `json:"bytes"`
	Heaviest Heaviest      `json:"heaviest"`
	Lacks    []string      `json:"lacks"` // characters that the face does not have
	Files    []string      `json:"files"` // that were written
}

// Heaviest is the glyph that takes most bytes.
type Heaviest struct {
	Character string `json:"character"`
	Bytes     int    `json:"bytes"`
}

// NewPixel makes the answer of pixel.
func NewPixel(f *pixel.Font, lacks []rune, files []string) Pixel {
	d := Pixel{Schema: "notaria/pixel/1", Name: f.Name, Em: f.Em, Depth: f.Depth, Heights: f.Heights(), Glyphs: len(f.Glyphs), Bytes: f.Bytes(), Lacks: []string{}, Files: files}
	for _, g := range f.Glyphs {
		if n := (g.Width*g.Height*f.Depth + 7) / 8; n > d.Heaviest.Bytes {
			d.Heaviest = Heaviest{character(g.Rune), n}
		}
	}
	for _, r := range lacks {
		d.Lacks = append(d.Lacks, character(r))
	}
	return d
}

func character(r rune) string { return fmt.Sprintf("%c U+%04X", r, r) }
