package specimen

import (
	"bytes"
	"image/color"
	"strings"
	"sync"
	"unicode"

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
	own                *Type // of the face that is shown, for names in its letters; may be nil
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

// words sets a page's own text on one line, cut to a width with an ellipsis; 0 for any width. It returns how wide it is. A letter that the
// page's type lacks, as in names of other scripts, is drawn by the text's own type, or by that of the face that is shown.
func (p *Pen) words(d *Drawing, t *Type, text string, x, y, size, width float64, c color.NRGBA) float64 {
	text = language.Short(text, mostWords)
	parts, wide := p.pieces(t, text, size)
	if width > 0 {
		for r := []rune(text); wide > width && len(r) > 1; {
			r = r[:len(r)-1-len(r)/40]
			text = strings.TrimRight(string(r), " ") + "…"
			parts, wide = p.pieces(t, text, size)
		}
	}
	for _, w := range parts {
		d.line(w.t, w.line, x+w.x, y, size/float64(w.t.UnitsPerEm), Style{Size: size, Colour: c, Lacking: c})
	}
	d.Words = append(d.Words, Word{text})
	return wide
}

// A piece is a part of a page's own text in one type.
type piece struct {
	t    *Type
	line shape.Line
	x    float64
}

// pieces shapes a text, each part in the first type that has its letters; it returns how wide all are together.
func (p *Pen) pieces(t *Type, text string, size float64) (out []piece, wide float64) {
	add := func(t *Type, part string) {
		lines, err := t.Lines(part, Style{Size: size})
		if err != nil || len(lines) == 0 {
			return
		}
		out = append(out, piece{t, lines[0], wide})
		wide += lines[0].Advance * size / float64(t.UnitsPerEm)
	}
	from, last := 0, t
	for i, r := range text {
		now := t
		if t.Paths.Index(r) == 0 && !unicode.Is(unicode.M, r) && !shape.Hidden(r) {
			for _, other := range []*Type{p.text, p.own} {
				if other != nil && other.Paths.Index(r) != 0 {
					now = other
					break
				}
			}
		} else if unicode.IsSpace(r) || unicode.Is(unicode.M, r) {
			now = last // a run of another script keeps its spaces and marks
			if now.Paths.Index(r) == 0 {
				now = t
			}
		}
		if now != last && i > from {
			add(last, text[from:i])
			from = i
		}
		last = now
	}
	add(last, text[from:])
	return out, wide
}

// The colours of two faces that lie over each other: both are seen on light and on dark, also by readers
// who do not tell red from green.
var (
	firstInk  = color.NRGBA{0x1F, 0x6F, 0xD6, 0xC8}
	secondInk = color.NRGBA{0xE8, 0x7A, 0x1E, 0xC8}
)
