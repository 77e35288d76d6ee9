package specimen

import (
	"bytes"
	"encoding/base64"
	"fmt"
	"image/color"
	"strconv"
	"strings"

	"notaria/internal/language"
	"notaria/internal/sfnt"
)

// SVG is the page as outlines (SVG 1.1), and glyphs in colour that are more than layers as pictures: it needs no
// font. Each glyph is kept once. What the page
// says is in its title and description, for readers who do not see it.
func (d *Drawing) SVG() []byte {
	var body, defs bytes.Buffer
	ids := map[glyph]int{}
	pictures := map[picture]int{}
	blurs := map[string]int{}
	for _, m := range d.Marks {
		switch {
		case m.Paint != nil || m.Bitmap != nil:
			key := picture{m.glyph, m.Scale, m.Colour}
			id, known := pictures[key]
			if !known {
				e, seen := m.embed()
				if id = len(pictures); !seen {
					id = -1
				} else {
					fmt.Fprintf(&defs, "<image id=\"p%d\"%s/>\n", id, e.attributes(0, 0))
				}
				pictures[key] = id
			}
			if id >= 0 {
				fmt.Fprintf(&body, "<use href=\"#p%d\" x=\"%s\" y=\"%s\"/>\n", id, number(m.X), number(m.Y))
			}
			continue
		case len(m.Path) == 0:
			fmt.Fprintf(&body, "<rect x=\"%s\" y=\"%s\" width=\"%s\" height=\"%s\"%s/>\n", number(m.X), number(m.Y), number(m.W), number(m.H), paint("fill", m.Colour))
			continue
		case m.glyph.face == 0:
			fmt.Fprintf(&body, "<path d=\"%s\"", pathData(m.Path))
		default:
			id, known := ids[m.glyph]
			if !known {
				id = len(ids)
				ids[m.glyph] = id
				fmt.Fprintf(&defs, "<path id=\"g%d\" d=\"%s\"/>\n", id, pathData(m.Path))
			}
			fmt.Fprintf(&body, "<use href=\"#g%d\"", id)
		}
		fmt.Fprintf(&body, " transform=\"translate(%s %s) scale(%s %s)\"%s", number(m.X), number(m.Y), small(m.Scale), small(-m.Scale), paint("fill", m.Colour))
		if m.Spread > 0 {
			fmt.Fprintf(&body, "%s stroke-width=\"%s\" stroke-linejoin=\"round\"", paint("stroke", m.Colour), number(2*m.Spread/m.Scale))
		}
		if m.Blur > 0 {
			deviation := number(m.Blur / 2 / m.Scale)
			id, known := blurs[deviation]
			if !known {
				id = len(blurs)
				blurs[deviation] = id
				fmt.Fprintf(&defs, "<filter id=\"b%d\" x=\"-1\" y=\"-1\" width=\"3\" height=\"3\"><feGaussianBlur stdDeviation=\"%s\"/></filter>\n", id, deviation)
			}
			fmt.Fprintf(&body, " filter=\"url(#b%d)\"", id)
		}
		body.WriteString("/>\n")
	}
	var out bytes.Buffer
	fmt.Fprintf(&out, "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"%s\" height=\"%s\" viewBox=\"0 0 %s %s\" role=\"img\">\n", number(d.W), number(d.H), number(d.W), number(d.H))
	fmt.Fprintf(&out, "<title>%s</title>\n", language.EscapeXML(d.Title))
	if len(d.Words) > 0 {
		fmt.Fprintf(&out, "<desc>%s</desc>\n", language.EscapeXML(d.spoken()))
	}
	if defs.Len() > 0 {
		fmt.Fprintf(&out, "<defs>\n%s</defs>\n", defs.Bytes())
	}
	if d.Ground.A > 0 {
		fmt.Fprintf(&out, "<rect width=\"%s\" height=\"%s\"%s/>\n", number(d.W), number(d.H), paint("fill", d.Ground))
	}
	out.Write(body.Bytes())
	out.WriteString("</svg>\n")
	return out.Bytes()
}

// A picture is what marks in colour that look alike share.
type picture struct {
	glyph  glyph
	scale  float64
	colour color.NRGBA
}

// attributes are what an element for a picture says, at a place.
func (e embedded) attributes(x, y float64) string {
	return fmt.Sprintf(" x=\"%s\" y=\"%s\" width=\"%s\" height=\"%s\" href=\"data:image/png;base64,%s\"", number(e.x+x), number(e.y+y), number(e.w), number(e.h), base64.StdEncoding.EncodeToString(e.png))
}

// spoken is what the page says, a line for each text.
func (d *Drawing) spoken() string {
	var lines []string
	for _, w := range d.Words {
		lines = append(lines, w.Text)
	}
	return strings.Join(lines, "\n")
}

// pathData is an outline as SVG writes it, in the font's units, Y upwards.
func pathData(p sfnt.Path) string {
	var b strings.Builder
	open := false
	point := func(xy [2]float32) string { return number(float64(xy[0])) + " " + number(float64(xy[1])) }
	for _, s := range p {
		switch s.Op {
		case sfnt.MoveTo:
			if open {
				b.WriteByte('Z')
			}
			open = true
			b.WriteString("M" + point(s.P[0]))
		case sfnt.LineTo:
			b.WriteString("L" + point(s.P[0]))
		case sfnt.QuadTo:
			b.WriteString("Q" + point(s.P[0]) + " " + point(s.P[1]))
		case sfnt.CubeTo:
			b.WriteString("C" + point(s.P[0]) + " " + point(s.P[1]) + " " + point(s.P[2]))
		}
	}
	if open {
		b.WriteByte('Z')
	}
	return b.String()
}

// number keeps two decimals: a hundredth of a pixel is not seen. small keeps more, for scales.
func number(v float64) string { return shortest(v, 2) }
func small(v float64) string  { return shortest(v, 6) }

func shortest(v float64, decimals int) string {
	s := strconv.FormatFloat(v, 'f', decimals, 64)
	s = strings.TrimRight(strings.TrimRight(s, "0"), ".")
	if s == "-0" || s == "" {
		return "0"
	}
	return s
}

func paint(what string, c color.NRGBA) string {
	s := fmt.Sprintf(" %s=\"#%02x%02x%02x\"", what, c.R, c.G, c.B)
	if c.A < 255 {
		s += fmt.Sprintf(" %s-opacity=\"%s\"", what, shortest(float64(c.A)/255, 3))
	}
	return s
}
