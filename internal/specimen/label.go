package specimen

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"math"
	"slices"

	"notaria/internal/fault"
	"notaria/internal/language"
	"notaria/internal/sfnt"
)

// A Label is one text as a picture, cut to its ink. Lengths are in pixels.
type Label struct {
	*Drawing
	Left     float64 // of the picture, from where the text begins
	Baseline float64 // of the first line, from the picture's top
	Advance  float64 // of the longest line
	Missing  []string
	Undrawn  string // colours that are not drawn, and why
}

// NewLabel sets a text in a style on nothing. The picture holds outlines and shadows whole; one pixel at
// most is added on each side, so that it ends on whole pixels.
func (t *Type) NewLabel(text string, s Style) (*Label, error) {
	m, err := t.MeasureText(text, s)
	if err != nil {
		return nil, err
	}
	if m.Ink == nil && len(m.Missing) > 0 {
		return nil, fault.Form("expected a text that the face can draw, found %q, of which it lacks every letter", text)
	}
	if m.Ink == nil {
		return nil, fault.Form("expected a text with ink, found %q", text)
	}
	edge := int(math.Ceil(s.Outline / 2))
	ink := image.Rect(m.Ink.Left-edge, m.Ink.Top-edge, m.Ink.Right+edge, m.Ink.Bottom+edge)
	boxes, err := t.boxes(text, s)
	if err != nil {
		return nil, err
	}
	ink = ink.Union(boxes)
	if sh := s.Shadow; sh != nil {
		soft := 1.5 * sh.Blur
		ink = ink.Union(image.Rect(int(math.Floor(float64(m.Ink.Left)+sh.X-soft)), int(math.Floor(float64(m.Ink.Top)+sh.Y-soft)),
			int(math.Ceil(float64(m.Ink.Right)+sh.X+soft)), int(math.Ceil(float64(m.Ink.Bottom)+sh.Y+soft))))
	}
	l := &Label{Drawing: &Drawing{W: float64(ink.Dx()), H: float64(ink.Dy()), Title: text}, Left: float64(ink.Min.X), Baseline: float64(-ink.Min.Y), Advance: m.Advance, Missing: m.Missing}
	_, err = l.Set(t, text, float64(-ink.Min.X), float64(-ink.Min.Y), s)
	l.Undrawn = t.undrawn()
	return l, err
}

// boxes is what the boxes of missing characters take up.
func (t *Type) boxes(text string, s Style) (out image.Rectangle, err error) {
	lines, err := t.Lines(text, s)
	scale := s.Size / float64(t.UnitsPerEm)
	for i, l := range lines {
		for _, g := range l.Glyphs {
			if g.Missing {
				left, w := lacking(g.X*scale, g.Advance*scale, s)
				y := float64(i) * t.leading(s)
				out = out.Union(image.Rect(int(math.Floor(left)), int(math.Floor(y-s.Size*0.7)), int(math.Ceil(left+w)), int(math.Ceil(y))))
			}
		}
	}
	return out, err
}

// A layer is all outlines of a label that are drawn alike: one path.
type layer struct {
	path         bytes.Buffer
	colour       color.NRGBA
	spread, blur float64
	picture      string // the attributes of one, instead of a path
}

// layers joins the outlines of a label, those below first.
func (l *Label) layers() []*layer {
	var out []*layer
	for _, m := range l.Marks {
		if m.Paint != nil || m.Bitmap != nil {
			if e, seen := m.embed(); seen {
				out = append(out, &layer{picture: e.attributes(m.X, m.Y)})
			}
			continue
		}
		if len(m.Path) == 0 { // the box of a missing character
			m.Path, m.Scale = rectangle(m), 1
			m.Y, m.X = 0, 0
		}
		if n := len(out); n == 0 || out[n-1].picture != "" || out[n-1].colour != m.Colour || out[n-1].spread != m.Spread || out[n-1].blur != m.Blur {
			out = append(out, &layer{colour: m.Colour, spread: m.Spread, blur: m.Blur})
		}
		out[len(out)-1].path.WriteString(pathData(placed(m)))
	}
	return out
}

// rectangle is a rectangle as an outline, its Y downwards already turned.
func rectangle(m Mark) sfnt.Path {
	at := func(op sfnt.Op, x, y float64) sfnt.Segment {
		return sfnt.Segment{Op: op, P: [3][2]float32{{float32(x), float32(-y)}}}
	}
	return sfnt.Path{at(sfnt.MoveTo, m.X, m.Y), at(sfnt.LineTo, m.X+m.W, m.Y), at(sfnt.LineTo, m.X+m.W, m.Y+m.H), at(sfnt.LineTo, m.X, m.Y+m.H)}
}

// placed is a mark's outline in the picture's pixels.
func placed(m Mark) sfnt.Path {
	out := make(sfnt.Path, len(m.Path))
	for i, s := range m.Path {
		for k := range s.P {
			s.P[k] = [2]float32{float32(m.X + float64(s.P[k][0])*m.Scale), float32(m.Y - float64(s.P[k][1])*m.Scale)}
		}
		out[i] = s
	}
	return out
}

// flat refuses a label whose glyphs are more than outlines in one colour each.
func (l *Label) flat() error {
	if slices.ContainsFunc(l.Marks, func(m Mark) bool { return m.Paint != nil || m.Bitmap != nil }) {
		return fault.Form("expected glyphs that are outlines in one colour each, found some that are painted or pictures; write a PNG")
	}
	return nil
}

// AssetSVG is the label with one path for each layer, which asset catalogues take.
func (l *Label) AssetSVG() ([]byte, error) {
	if err := l.flat(); err != nil {
		return nil, err
	}
	return l.FlatSVG(), nil
}

// FlatSVG is the label with one path for each layer, and pictures of glyphs that are no outlines.
func (l *Label) FlatSVG() []byte {
	var out, defs bytes.Buffer
	var body bytes.Buffer
	for i, x := range l.layers() {
		if x.picture != "" {
			fmt.Fprintf(&body, "<image%s/>\n", x.picture)
			continue
		}
		fmt.Fprintf(&body, "<path%s", paint("fill", x.colour))
		if x.spread > 0 {
			fmt.Fprintf(&body, "%s stroke-width=\"%s\" stroke-linejoin=\"round\"", paint("stroke", x.colour), number(2*x.spread))
		}
		if x.blur > 0 {
			fmt.Fprintf(&defs, "<filter id=\"b%d\"><feGaussianBlur stdDeviation=\"%s\"/></filter>\n", i, number(x.blur/2))
			fmt.Fprintf(&body, " filter=\"url(#b%d)\"", i)
		}
		fmt.Fprintf(&body, " d=\"%s\"/>\n", x.path.String())
	}
	fmt.Fprintf(&out, "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"%s\" height=\"%s\" viewBox=\"0 0 %s %s\" role=\"img\">\n<title>%s</title>\n", number(l.W), number(l.H), number(l.W), number(l.H), language.EscapeXML(l.Title))
	if defs.Len() > 0 {
		fmt.Fprintf(&out, "<defs>\n%s</defs>\n", defs.Bytes())
	}
	out.Write(body.Bytes())
	out.WriteString("</svg>\n")
	return out.Bytes()
}

// VectorDrawable is the label as Android's own form of pictures, a pixel a dp (Android, VectorDrawable). A
// soft shadow has no place in it.
func (l *Label) VectorDrawable() ([]byte, error) {
	if err := l.flat(); err != nil {
		return nil, err
	}
	var out bytes.Buffer
	fmt.Fprintf(&out, "<?xml version=\"1.0\" encoding=\"utf-8\"?>\n<!-- Code generated by Notaria; DO NOT EDIT. -->\n<vector xmlns:android=\"http://schemas.android.com/apk/res/android\"\n"+
		"    android:width=\"%sdp\"\n    android:height=\"%sdp\"\n    android:viewportWidth=\"%s\"\n    android:viewportHeight=\"%s\">\n", number(l.W), number(l.H), number(l.W), number(l.H))
	for _, x := range l.layers() {
		if x.blur > 0 {
			return nil, fault.Form("expected a text without a soft shadow, found one: Android's vector drawables have no blur; write a PNG, or set the shadow's blur to 0")
		}
		c := fmt.Sprintf("#%02X%02X%02X%02X", x.colour.A, x.colour.R, x.colour.G, x.colour.B)
		fmt.Fprintf(&out, "    <path\n        android:fillColor=\"%s\"\n", c)
		if x.spread > 0 {
			fmt.Fprintf(&out, "        android:strokeColor=\"%s\"\n        android:strokeWidth=\"%s\"\n        android:strokeLineJoin=\"round\"\n", c, number(2*x.spread))
		}
		fmt.Fprintf(&out, "        android:pathData=\"%s\" />\n", x.path.String())
	}
	out.WriteString("</vector>\n")
	return out.Bytes(), nil
}
