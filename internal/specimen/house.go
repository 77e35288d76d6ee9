package specimen

import (
	"bytes"
	"image/color"
	"sync"

	"notaria/internal/colour"
	"notaria/internal/language"
	"notaria/internal/setting"
	"notaria/internal/sfnt"
	"notaria/internal/shape"
	"notaria/internal/skerry/letters"
)

// Colours are those of a page.
type Colours struct {
	Ground color.NRGBA // of the page
	Ink    color.NRGBA // of samples
	Quiet  color.NRGBA // of captions
	Rule   color.NRGBA // of lines between
	Alarm  color.NRGBA // of what is missing
}

// Light and Dark are the two grounds that a page is drawn on. Captions keep a contrast of at least
// 4.5 to 1 (WCAG 2.2, 1.4.3).
var (
	Light = Colours{
		Ground: color.NRGBA{0xFC, 0xFB, 0xF8, 255}, Ink: color.NRGBA{0x12, 0x1A, 0x21, 255}, Quiet: color.NRGBA{0x5B, 0x66, 0x70, 255},
		Rule: color.NRGBA{0xDC, 0xDA, 0xD3, 255}, Alarm: color.NRGBA{0xB3, 0x2D, 0x1E, 255},
	}
	Dark = Colours{
		Ground: color.NRGBA{0x10, 0x15, 0x1A, 255}, Ink: color.NRGBA{0xF1, 0xEE, 0xE7, 255}, Quiet: color.NRGBA{0x9A, 0xA6, 0xB0, 255},
		Rule: color.NRGBA{0x2C, 0x34, 0x3C, 255}, Alarm: color.NRGBA{0xFF, 0x8A, 0x75, 255},
	}
)

// A house is the type that pages themselves are set in.
type house struct{ text, strong, mono []byte }

var houseType = sync.OnceValues(func() (house, error) {
	var h house
	var err error
	for _, st := range letters.Styles {
		switch st.Name {
		case "Regular":
			h.text, err = letters.Font(st)
		case "Bold":
			h.strong, err = letters.Font(st)
		}
		if err != nil {
			return h, err
		}
	}
	h.mono, err = letters.Beacon()
	return h, err
})

// A Pen sets a page's own words; it is not safe for use by several goroutines.
type Pen struct {
	Colours
	text, strong, mono *Type
}

// NewPen makes a pen for a page.
func NewPen(c Colours) (*Pen, error) {
	h, err := houseType()
	if err != nil {
		return nil, err
	}
	p := &Pen{Colours: c}
	for i, o := range []struct {
		data []byte
		to   **Type
	}{{h.text, &p.text}, {h.strong, &p.strong}, {h.mono, &p.mono}} {
		if *o.to, err = Load(o.data, nil); err != nil {
			return nil, err
		}
		(*o.to).number = int64(-1 - i) // of all pens, so that it is up to no chance which of them drew a word
	}
	return p, nil
}

// Load makes a face of a plain font file ready for drawing.
func Load(data []byte, coordinates map[string]float64) (*Type, error) {
	file, err := sfnt.Open(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return nil, err
	}
	return loadFont(file.Font(0), coordinates)
}

// loadFont is Load for a font that is open: what it takes at several places is counted together.
func loadFont(f *sfnt.Font, coordinates map[string]float64) (*Type, error) {
	s, err := shape.New(f, coordinates)
	if err != nil {
		return nil, err
	}
	t := NewType(s, colour.New(f, coordinates))
	t.Vertical, err = setting.VerticalOf(f)
	return t, err
}

// mostWords is how many characters one of a page's own texts has at most: what fonts say of themselves
// can be endless.
const mostWords = 400

// words sets a page's own text on one line, cut to a width with an ellipsis; 0 for any width. It
// returns how wide it is.
func (p *Pen) words(d *Drawing, t *Type, text string, x, y, size, width float64, c color.NRGBA) float64 {
	text = language.Short(text, mostWords)
	lines, err := t.Lines(text, Style{Size: size})
	if err != nil || len(lines) == 0 {
		return 0
	}
	scale := size / float64(t.UnitsPerEm)
	if width > 0 {
		for r := []rune(text); lines[0].Advance*scale > width && len(r) > 1; {
			r = r[:len(r)-1-len(r)/40]
			text = string(r) + "…"
			if lines, err = t.Lines(text, Style{Size: size}); err != nil {
				return 0
			}
		}
	}
	d.line(t, lines[0], x, y, scale, Style{Size: size, Colour: c, Lacking: c})
	d.Words = append(d.Words, Word{text})
	return lines[0].Advance * scale
}

// The colours of two faces that lie over each other: both are seen on light and on dark, also by readers
// who do not tell red from green.
var (
	firstInk  = color.NRGBA{0x1F, 0x6F, 0xD6, 0xC8}
	secondInk = color.NRGBA{0xE8, 0x7A, 0x1E, 0xC8}
)
