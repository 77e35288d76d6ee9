package pixel

import "strings"

// A Picture is pixels from 0 (no ink) to 255, row by row from the top.
type Picture struct {
	Width, Height int
	Pix           []byte
}

// Text draws one line of text as the font has it, in a picture as wide as its ink and its
// advance, and as high as a line; ink beyond the line makes it higher. Characters that the
// font lacks are passed over, and so is what is beyond 16 million pixels.
func (f *Font) Text(text string) Picture {
	type placed struct {
		Glyph
		x int
	}
	var list []placed
	pen, left, right, top, bottom, last := 0, 0, 0, f.Ascent, -f.Descent, rune(0)
	for _, r := range text {
		g, ok := f.Glyph(r)
		if !ok {
			continue
		}
		pen, last = pen+f.Kern(last, r), r
		x := (pen+Sub/2)/Sub + g.X
		if wide, high := max(right, x+g.Width, (pen+g.Advance)/Sub+1)-min(left, x), max(top, g.Top())-min(bottom, g.Y); wide > mostText/max(1, high) {
			break
		}
		list = append(list, placed{g, x})
		pen += g.Advance
		left, right = min(left, x), max(right, x+g.Width, (pen+Sub/2)/Sub)
		top, bottom = max(top, g.Top()), min(bottom, g.Y)
	}
	p := Picture{Width: right - left, Height: top - bottom}
	p.Pix = make([]byte, p.Width*p.Height)
	full := int(f.Full())
	for _, g := range list {
		for i, v := range g.Pix {
			at := (top-g.Top()+i/g.Width)*p.Width + g.x - left + i%g.Width
			p.Pix[at] = max(p.Pix[at], byte(int(v)*255/full))
		}
	}
	return p
}

// Blocks shows a picture in a terminal, two rows of pixels in each line of text: what has
// half of the ink or more is on.
func (p Picture) Blocks() string {
	var b strings.Builder
	on := func(x, y int) bool { return y < p.Height && p.Pix[y*p.Width+x] >= 128 }
	for y := 0; y < p.Height; y += 2 {
		var row strings.Builder
		for x := range p.Width {
			switch upper, lower := on(x, y), on(x, y+1); {
			case upper && lower:
				row.WriteRune('█')
			case upper:
				row.WriteRune('▀')
			case lower:
				row.WriteRune('▄')
			default:
				row.WriteByte(' ')
			}
		}
		b.WriteString(strings.TrimRight(row.String(), " ") + "\n")
	}
	return b.String()
}
