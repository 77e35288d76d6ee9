package pixel

import (
	"encoding/base64"
	"fmt"
	"slices"
	"strings"

	"notaria/internal/fault"
	"notaria/internal/language"
)

// espruinoData is what the template of Espruino shows.
type espruinoData struct {
	Method, About string
	Data          []string // base64, in pieces of a line
	First, Last   int
	FirstShown    string
	LastShown     string
	Widths        string   // a number, where all are as wide
	WidthData     []string // else base64, a byte for each character
	Height, Depth int
	Baseline      int
}

// Limits of Espruino's form: strings hold bytes there, and so do codepoints and widths.
const (
	espruinoLast  = 255
	espruinoWidth = 255
)

// EspruinoBytes are the pixels of all characters from the first to the last, each as wide as its
// width, all of one height: column by column from the left, each from the top, the most
// significant bits first. Characters between them that the font does not have are 0 wide.
func (f *Font) EspruinoBytes() (data []byte, widths []byte, height, top int, err error) {
	if err := f.valid(); err != nil {
		return nil, nil, 0, 0, err
	}
	if f.Depth > 4 {
		return nil, nil, 0, 0, fault.Form("expected a depth of 1, 2 or 4 bits for Espruino, found %d", f.Depth)
	}
	if n := len(f.Glyphs); n == 0 || f.Glyphs[n-1].Rune > espruinoLast {
		return nil, nil, 0, 0, fault.Form("expected characters up to U+00FF for Espruino, whose strings hold bytes, found others; leave them out")
	}
	top, bottom := f.reach()
	if height = top - bottom; height > 255 {
		return nil, nil, 0, 0, fault.Form("expected glyphs of at most 255 pixels for Espruino, found %d; choose a smaller size", height)
	}
	w := &highBits{}
	next := f.Glyphs[0].Rune
	for _, g := range f.Glyphs {
		for ; next < g.Rune; next++ {
			widths = append(widths, 0)
		}
		next++
		left := min(0, g.X)
		wide := max(pixels(g.Advance)-left, g.X+g.Width-left)
		if wide > espruinoWidth {
			return nil, nil, 0, 0, fault.Form("U+%04X: expected a width of at most %d pixels for Espruino, found %d; choose a smaller size", g.Rune, espruinoWidth, wide)
		}
		widths = append(widths, byte(wide))
		for x := range wide {
			for y := top - 1; y >= bottom; y-- {
				w.put(int(g.at(left+x, y)), f.Depth)
			}
		}
	}
	return w.out, widths, height, top, nil
}

// reach is the highest and the lowest pixel of all glyphs, from the baseline.
func (f *Font) reach() (top, bottom int) {
	first := true
	for _, g := range f.Glyphs {
		if g.Width == 0 {
			continue
		}
		if first {
			top, bottom, first = g.Top(), g.Y, false
		}
		top, bottom = max(top, g.Top()), min(bottom, g.Y)
	}
	return max(top, bottom+1), bottom
}

// at is the pixel at a place, counted from the pen on the baseline, upwards.
func (g Glyph) at(x, y int) byte {
	if x < g.X || x >= g.X+g.Width {
		return 0
	}
	if row := g.row(y); row != nil {
		return row[x-g.X]
	}
	return 0
}

// highBits writes numbers, the most significant bits first, across bytes.
type highBits struct {
	out []byte
	n   int
}

func (w *highBits) put(v, width int) {
	for i := width - 1; i >= 0; i-- {
		if w.n%8 == 0 {
			w.out = append(w.out, 0)
		}
		w.out[w.n/8] |= byte(v>>i&1) << (7 - w.n%8)
		w.n++
	}
}

// Espruino is the font as a module of JavaScript for Espruino, under the name of its file. Name must
// be an identifier in small letters.
func (f *Font) Espruino(name string) (map[string][]byte, error) {
	d, err := f.espruino(language.Pascal(strings.Split(name, "_")))
	if err != nil {
		return nil, err
	}
	return render(map[string]string{"espruino.js": name + ".js"}, d)
}

// EspruinoMethod is the method alone, for a module with several: setFont and the name.
func (f *Font) EspruinoMethod(name string) (string, error) {
	d, err := f.espruino(name)
	if err != nil {
		return "", err
	}
	out, err := render(map[string]string{"method.js": ""}, d)
	return string(out[""]), err
}

func (f *Font) espruino(name string) (*espruinoData, error) {
	data, widths, height, top, err := f.EspruinoBytes()
	if err != nil {
		return nil, err
	}
	first, last := f.Glyphs[0].Rune, f.Glyphs[len(f.Glyphs)-1].Rune
	d := &espruinoData{Method: "setFont" + name, Data: pieces(base64.StdEncoding.EncodeToString(data)), First: int(first), Last: int(last),
		FirstShown: fmt.Sprintf("U+%04X", first), LastShown: fmt.Sprintf("U+%04X", last), Height: height | f.Depth<<16, Depth: f.Depth, Baseline: top,
		About: language.JavaScript.Comment(fmt.Sprintf("%s, %s pixels per em, characters of %d pixels, depth %d", f.Name, language.Number(f.Em), height, f.Depth))}
	if f.Depth == 1 {
		d.Height = height
	}
	if slices.Min(widths) == slices.Max(widths) {
		d.Widths = fmt.Sprint(widths[0])
	} else {
		d.WidthData = pieces(base64.StdEncoding.EncodeToString(widths))
	}
	return d, nil
}

// pieces cuts text into parts of one line of code each.
func pieces(s string) []string {
	const most = 72
	out := []string{}
	for len(s) > most {
		out, s = append(out, s[:most]), s[most:]
	}
	return append(out, s)
}
