package specimen

import (
	"bytes"
	"context"
	"encoding/xml"
	"image/color"
	"io"
	"math"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/colour"
	"notaria/internal/face"
	"notaria/internal/layout"
	"notaria/internal/sfnt"
)

// own is a face of the pages' own type.
func own(t testing.TB, data func(house) []byte) Face {
	t.Helper()
	h, err := houseType()
	require.NoError(t, err)
	b := data(h)
	file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
	require.NoError(t, err)
	f, _, err := face.Read(file.Font(0), face.Options{Coverage: true})
	require.NoError(t, err)
	return Face{Face: f, Read: func() ([]byte, error) { return b, nil }}
}

func regular(h house) []byte { return h.text }

// Ink lies where it was asked for, and nowhere else; each pixel between ground and ink.
func TestSetPutsInkAtItsPlace(t *testing.T) {
	d := &Drawing{W: 200, H: 100, Ground: color.NRGBA{255, 255, 255, 255}}
	f, err := own(t, regular).load(nil)
	require.NoError(t, err)
	lines, err := d.Set(f, "HH", 20, 70, Style{Size: 50, Colour: color.NRGBA{0, 0, 0, 255}})
	require.NoError(t, err)
	for _, times := range []float64{1, 2, 3} {
		img, err := d.Picture(times)
		require.NoError(t, err)
		first, last := rows(img, d.Ground)
		scale := 50 / float64(f.UnitsPerEm) * times
		require.InDelta(t, 70*times-float64(f.Capital)*scale, first, 1.01)
		require.InDelta(t, 70*times-1, last, 1.01)
		for y := range img.Rect.Max.Y {
			for x := range img.Rect.Max.X {
				c := img.NRGBAAt(x, y)
				require.True(t, c.R == c.G && c.G == c.B && c.A == 255)
				if c != d.Ground {
					require.GreaterOrEqual(t, float64(x), 20*times)
					require.LessOrEqual(t, float64(x), (20+lines[0].Advance*50/float64(f.UnitsPerEm))*times)
				}
			}
		}
	}
}

// An outline makes letters wider on all sides by half of its width; a shadow lies where it is thrown, as
// dark in all as what throws it.
func TestOutlineAndShadow(t *testing.T) {
	f, err := own(t, regular).load(nil)
	require.NoError(t, err)
	white, black := color.NRGBA{255, 255, 255, 255}, color.NRGBA{0, 0, 0, 255}
	extent := func(s Style) (box [4]int, dark int) {
		d := &Drawing{W: 120, H: 120, Ground: white}
		_, err := d.Set(f, "H", 40, 80, s)
		require.NoError(t, err)
		img, err := d.Picture(1)
		require.NoError(t, err)
		box = [4]int{999, 999, -1, -1}
		for y := range 120 {
			for x := range 120 {
				if v := img.NRGBAAt(x, y).R; v < 250 {
					box = [4]int{min(box[0], x), min(box[1], y), max(box[2], x), max(box[3], y)}
				}
				dark += 255 - int(img.NRGBAAt(x, y).R)
			}
		}
		return box, dark
	}
	plain, dark := extent(Style{Size: 40, Colour: black})
	thick, _ := extent(Style{Size: 40, Colour: black, Outline: 8, Edge: black})
	for i, way := range []int{-1, -1, 1, 1} {
		require.InDelta(t, plain[i]+4*way, thick[i], 1)
	}
	clear := color.NRGBA{255, 255, 255, 0}
	moved, soft := extent(Style{Size: 40, Colour: clear, Shadow: &Shadow{X: 12, Y: -9, Colour: black}})
	require.Equal(t, dark, soft)
	require.Equal(t, [4]int{plain[0] + 12, plain[1] - 9, plain[2] + 12, plain[3] - 9}, moved)
	_, blurred := extent(Style{Size: 40, Colour: clear, Shadow: &Shadow{Blur: 6, Colour: black}})
	require.InDelta(t, dark, blurred, float64(dark)/20)
}

// What a face lacks is a box in the alarm's colour.
func TestMissingCharactersAreBoxes(t *testing.T) {
	f, err := own(t, regular).load(nil)
	require.NoError(t, err)
	d := &Drawing{W: 60, H: 60, Ground: Light.Ground}
	_, err = d.Set(f, "\u5ca9", 10, 50, Style{Size: 40, Colour: Light.Ink, Lacking: Light.Alarm})
	require.NoError(t, err)
	require.Len(t, d.Marks, 4)
	require.Equal(t, Light.Alarm, d.Marks[0].Colour)
}

// Pages are the same every time, whatever order their faces were drawn in, and their SVG is well formed,
// says what it shows, and asks for no font.
func TestPages(t *testing.T) {
	faces := []Face{own(t, regular), own(t, func(h house) []byte { return h.mono }), own(t, func(h house) []byte { return h.strong })}
	for len(faces) < 40 {
		faces = append(faces, faces[len(faces)%3])
	}
	faces[7] = Face{Face: face.Face{Full: "Broken <&> Slab"}, Read: func() ([]byte, error) { return []byte("no font"), nil }}
	o := Options{Text: "07:40 <Holm> & \u5ca9", Width: 1280, Colours: Dark, Title: "Two & more"}
	draw := func() (out []*Drawing) {
		require.NoError(t, SideBySide(context.Background(), faces, o, func(d *Drawing) error { out = append(out, d); return nil }))
		return out
	}
	one, two := draw(), draw()
	require.Len(t, one, 1)
	require.Equal(t, one[0].SVG(), two[0].SVG())
	a, err := one[0].PNG(1)
	require.NoError(t, err)
	b, err := two[0].PNG(1)
	require.NoError(t, err)
	require.True(t, bytes.Equal(a, b))

	depth, err := InDepth(context.Background(), faces[:1], o)
	require.NoError(t, err)
	roles, err := Roles([]Role{{Name: "heading", Face: faces[0], Style: Style{Size: 28, Colour: color.NRGBA{20, 20, 20, 255}, Outline: 2, Shadow: &Shadow{Blur: 3}}}, {Name: "broken", Face: faces[7]}}, o)
	require.NoError(t, err)
	for _, d := range []*Drawing{one[0], depth, roles} {
		svg := d.SVG()
		for r := xml.NewDecoder(bytes.NewReader(svg)); ; {
			_, err := r.Token()
			if err == io.EOF {
				break
			}
			require.NoError(t, err)
		}
		require.NotContains(t, string(svg), "<text")
		require.Contains(t, string(svg), "07:40 &lt;Holm&gt; &amp; \u5ca9")
	}
	require.Contains(t, string(one[0].SVG()), "cannot be drawn:")
	require.Contains(t, one[0].spoken(), "lacks \u5ca9"[:5])
	require.Contains(t, roles.spoken(), "hard to read")

	ctx, stop := context.WithCancel(context.Background())
	stop()
	require.ErrorIs(t, SideBySide(ctx, faces, o, func(*Drawing) error { return nil }), context.Canceled)
}

// A page of HTML escapes what fonts are called, embeds none that may not be, and is the same every time.
func TestPageOfHTML(t *testing.T) {
	f := own(t, regular)
	f.Full = `</style><script>alert("x")</script>`
	shut := own(t, func(h house) []byte { return h.mono })
	shut.Embedding = "restricted"
	broken := Face{Face: face.Face{Full: "Broken"}, Read: func() ([]byte, error) { return []byte("no font"), nil }}
	o := Options{Text: "</p><b>", Colours: Dark, Title: "T & t", Typed: func(face.Face) []string { return []string{"full name        a  b<c"} }}
	page, err := Page(context.Background(), []Face{f, shut, broken}, o)
	require.NoError(t, err)
	again, err := Page(context.Background(), []Face{f, shut, broken}, o)
	require.NoError(t, err)
	require.Equal(t, string(page), string(again))
	text := string(page)
	require.NotContains(t, text, `alert("x")`)
	require.Contains(t, text, "&lt;/style&gt;&lt;script&gt;alert(")
	require.Contains(t, text, "its licence does not allow to embed it")
	require.Contains(t, text, "cannot be drawn: ")
	require.Contains(t, text, "<dt>full name</dt><dd>a  b&lt;c</dd>")
	require.Contains(t, text, `data-ground="dark"`)
	require.Equal(t, 4, bytes.Count(page, []byte("@font-face")), "three of the page's own, and one")
}

func TestCaptionsCanBeRead(t *testing.T) {
	for _, c := range []Colours{Light, Dark} {
		for _, ink := range []color.NRGBA{c.Ink, c.Quiet, c.Alarm} {
			require.GreaterOrEqual(t, contrast(ink, c.Ground), 4.5)
		}
	}
	require.InDelta(t, 21, contrast(color.NRGBA{A: 255}, color.NRGBA{255, 255, 255, 255}), 0.01)
}

func BenchmarkSideBySide(b *testing.B) {
	f := own(b, regular)
	faces := make([]Face, 100)
	for i := range faces {
		faces[i] = f
	}
	for b.Loop() {
		err := SideBySide(context.Background(), faces, Options{Text: "Ferry to Holm, 07:40", Width: 1280, Colours: Light, Title: "Faces"}, func(d *Drawing) error {
			_, err := d.PNG(1)
			return err
		})
		require.NoError(b, err)
	}
}

// Glyphs in layers are drawn in their colours, and those of the text's own colour in that; colours that
// cannot be drawn are reported.
func TestColourGlyphs(t *testing.T) {
	f, err := own(t, regular).load(nil)
	require.NoError(t, err)
	h, i := f.Paths.Index('H'), f.Paths.Index('I')
	f.colours = colour.Of(map[int][]colour.Layer{h: {{Glyph: h, RGBA: [4]uint8{200, 0, 0, 255}}, {Glyph: i, Foreground: true}}})
	d := &Drawing{W: 100, H: 100}
	_, err = d.Set(f, "HI", 10, 80, Style{Size: 40, Colour: color.NRGBA{0, 0, 200, 255}, Outline: 2})
	require.NoError(t, err)
	require.Len(t, d.Marks, 5, "two outlines, two layers, and a plain letter")
	require.Equal(t, color.NRGBA{200, 0, 0, 255}, d.Marks[2].Colour)
	require.Equal(t, color.NRGBA{0, 0, 200, 255}, d.Marks[3].Colour)
	require.InDelta(t, d.Marks[2].X, d.Marks[3].X, 0)
	f.colours = &colour.Glyphs{Kind: colour.SVG}
	require.Equal(t, "colours not drawn (SVG)", f.undrawn())
}

// A page holds whole scripts of its text, but of those with thousands of characters only the text's own.
func TestHold(t *testing.T) {
	h := hold("Ж 漢")
	for r, want := range map[rune]bool{'A': true, 'ő': true, '€': true, 'Ж': true, 'щ': true, '漢': true, '字': false, 'ก': false} {
		require.Equal(t, want, h.characters.Has(r), string(r))
	}
	require.Equal(t, "Latin, Cyrillic, the text's own characters of Han", h.words)
	for i, r := range h.characters {
		require.LessOrEqual(t, r.First, r.Last)
		require.True(t, i == 0 || h.characters[i-1].Last+1 < r.First, "in order, and apart")
	}
}

// A font is cut down unless its maker forbids that; a restricted one does not come into a page.
func TestPackKeepsTheMakersTerms(t *testing.T) {
	f := own(t, regular)
	data, err := f.Read()
	require.NoError(t, err)
	small := pack(data, hold("").characters[:1])
	require.NoError(t, small.err)
	require.False(t, small.whole)
	file, err := sfnt.Open(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	tables, err := file.Font(0).Tables()
	require.NoError(t, err)
	tables["OS/2"] = bytes.Clone(tables["OS/2"])
	tables["OS/2"][8] = noSubset >> 8
	data, err = sfnt.Build(tables)
	require.NoError(t, err)
	whole := pack(data, hold("").characters[:1])
	require.NoError(t, whole.err)
	require.True(t, whole.whole)
	require.Greater(t, len(whole.data), len(small.data)*3/2)

	f.Embedding = "restricted"
	page, err := Page(context.Background(), []Face{f}, Options{Text: "x", Colours: Light})
	require.NoError(t, err)
	require.Contains(t, string(page), "cannot be drawn: its licence does not allow to embed it")
	require.NotContains(t, string(page), `font-family: "face 0"`)
}

// parts are the tables and the glyphs of the pages' own type.
func parts(t *testing.T) (map[string][]byte, *sfnt.Paths) {
	t.Helper()
	f := own(t, regular)
	data, err := f.Read()
	require.NoError(t, err)
	file, err := sfnt.Open(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	tables, err := file.Font(0).Tables()
	require.NoError(t, err)
	paths, err := file.Font(0).Paths()
	require.NoError(t, err)
	return tables, paths
}

// paints is a face whose H is painted: a square of 600 units in half red (OpenType, COLR version 1).
func paints(t *testing.T) *Type {
	t.Helper()
	tables, paths := parts(t)
	h := byte(paths.Index('H'))
	colr := []byte{0, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 34, 0, 0, 0, 0, 0, 0, 0, 49, 0, 0, 0, 0, 0, 0, 0, 0,
		0, 0, 0, 1, 0, h, 0, 0, 0, 10, 2, 0, 0, 0x20, 0, // one base glyph: solid, alpha 0.5
		1, 0, 0, 0, 1, 0, h, 0, h, 0, 0, 12, 1, 0, 0, 0, 0, 2, 88, 2, 88} // its box
	tables["COLR"], tables["CPAL"] = colr, []byte{0, 0, 0, 1, 0, 1, 0, 1, 0, 0, 0, 14, 0, 0, 0, 0, 255, 255}
	data, err := sfnt.Build(tables)
	require.NoError(t, err)
	out, err := Load(data, nil)
	require.NoError(t, err)
	return out
}

// A painted glyph is where it should be, in a picture, in SVG and in measures; forms of outlines refuse it.
func TestPaintedGlyphs(t *testing.T) {
	f := paints(t)
	require.Empty(t, f.undrawn())
	s := Style{Size: 100, Colour: color.NRGBA{A: 255}}
	d := &Drawing{W: 200, H: 100, Ground: color.NRGBA{255, 255, 255, 255}}
	_, err := d.Set(f, "H", 10, 80, s)
	require.NoError(t, err)
	img, err := d.Picture(1)
	require.NoError(t, err)
	for y := range 100 {
		for x := range 200 {
			want := d.Ground
			if x >= 10 && x < 70 && y >= 20 && y < 80 {
				want = color.NRGBA{255, 127, 127, 255}
			}
			require.Equal(t, want, img.NRGBAAt(x, y), "%d %d", x, y)
		}
	}
	svg := string(d.SVG())
	require.Contains(t, svg, `<image id="p0" x="0" y="-60" width="60" height="60" href="data:image/png;base64,`)
	require.Contains(t, svg, `<use href="#p0" x="10" y="80"/>`)
	m, err := f.MeasureText("H", s)
	require.NoError(t, err)
	require.Equal(t, &Box{0, -60, 60, 0}, m.Ink)
	l, err := f.NewLabel("H", s)
	require.NoError(t, err)
	require.Equal(t, []float64{60, 60, 60}, []float64{l.W, l.H, l.Baseline})
	_, err = l.AssetSVG()
	require.ErrorContains(t, err, "found some that are painted or pictures; write a PNG")
	_, err = l.VectorDrawable()
	require.ErrorContains(t, err, "found some that are painted or pictures; write a PNG")
}

// The picture of a label holds the boxes of missing characters whole.
func TestLabelHoldsBoxes(t *testing.T) {
	f, err := own(t, regular).load(nil)
	require.NoError(t, err)
	l, err := f.NewLabel("H字", Style{Size: 100, Colour: color.NRGBA{A: 255}})
	require.NoError(t, err)
	for _, m := range l.Marks {
		if len(m.Path) == 0 {
			require.LessOrEqual(t, m.X+m.W, l.W)
			require.GreaterOrEqual(t, m.Y, 0.0)
			require.LessOrEqual(t, m.Y+m.H, l.H)
		}
	}
	_, err = f.NewLabel("字", Style{Size: 100})
	require.ErrorContains(t, err, "of which it lacks every letter")
}

// Three means have the deviation that was asked for.
func TestReach(t *testing.T) {
	for _, deviation := range []float64{0.3, 0.5, 1, 2, 3.7, 6, 16.5, 30, 100} {
		whole, part := reach(deviation)
		require.GreaterOrEqual(t, part, 0.0)
		require.LessOrEqual(t, part, 1.0)
		sum, weight := 0.0, 0.0
		for i := -whole - 1; i <= whole+1; i++ {
			w := 1.0
			if i < -whole || i > whole {
				w = part
			}
			sum, weight = sum+w*float64(i*i), weight+w
		}
		require.InDelta(t, deviation, math.Sqrt(passes*sum/weight), 1e-6, deviation)
	}
	line := make([]byte, 41)
	line[20] = 255
	means(line, 1, 41, 1, 41, 2, 0.5)
	require.Equal(t, []byte{0, 21, 43, 43, 43, 43, 43, 21, 0}, line[16:25])
}

// Where nobody asked for a text, a face without its letters shows what it has.
func TestOwnText(t *testing.T) {
	latin := own(t, regular)
	require.Equal(t, "Ferry to Holm", latin.Own("Ferry to Holm"))
	require.Equal(t, "Ferry Ж", latin.Own("Ferry Ж"), "one letter that is missing is a box")
	require.Equal(t, "07:40 123", latin.Own("Паром"))
	o := Options{Text: "Паром"}
	require.Equal(t, "Паром", o.shown(latin), "what was asked for is shown")
	o.Ours = true
	require.Equal(t, "07:40 123", o.shown(latin))
	icons := symbols(t, 0xF000, 0x1F6A2, 0x1F6A3)
	require.Equal(t, "\U0001F6A2\U0001F6A3", icons.Own("Ferry"), "of whichever it has more")
	icons = symbols(t, 0xE000, 0xE001)
	require.Equal(t, "\uE000\uE001", icons.Own("Ferry"))

	d, err := InDepth(context.Background(), []Face{icons}, Options{Text: "Ferry", Ours: true, Width: 1280, Colours: Light})
	require.NoError(t, err)
	require.Contains(t, d.spoken(), "2 more")
	require.Contains(t, d.spoken(), "E001")
	page, err := FamilyPage(context.Background(), []Face{icons}, Options{Text: "Ferry", Ours: true, Colours: Light})
	require.NoError(t, err)
	require.Contains(t, string(page), `<li data-c="E001">`+"\uE001</li>")
	require.Contains(t, string(page), `<h1 class="name">`, "its name in the page's letters")
}

// symbols is a face whose only characters are these, drawn as H.
func symbols(t *testing.T, chars ...rune) Face {
	t.Helper()
	tables, paths := parts(t)
	tables["cmap"] = layout.CharacterMap(func(yield func(rune, int) bool) {
		for _, r := range chars {
			if !yield(r, paths.Index('H')) {
				return
			}
		}
	}, nil)
	data, err := sfnt.Build(tables)
	require.NoError(t, err)
	return own(t, func(house) []byte { return data })
}

// A glyph that asks for more work than a page can have is an outline, and that is told.
func TestColoursArePaidFor(t *testing.T) {
	f := paints(t)
	h := f.Paths.Index('H')
	f.paint(h).Count = mostSpent
	d := &Drawing{W: 200, H: 100}
	_, err := d.Set(f, "H", 10, 80, Style{Size: 40, Colour: color.NRGBA{A: 255}})
	require.NoError(t, err)
	require.Len(t, d.Marks, 1)
	require.Nil(t, d.Marks[0].Paint)
	require.NotEmpty(t, d.Marks[0].Path)
	require.Equal(t, "colours not drawn: expected at most 256 million steps for a face on a page, found more", f.undrawn())
}
