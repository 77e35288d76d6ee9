package colour

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	_ "image/jpeg" // a form of pictures in sbix
	"image/png"
	"math"

	"notaria/internal/fault"
	"notaria/internal/sfnt"
)

// mostSide is how many pixels a picture in a font has on each side; real ones have some hundreds.
const mostSide = 2048

// A Bitmap is the picture of a glyph, as the font packs it. Lengths are in its own pixels, of which an em has
// PPEM.
type Bitmap struct {
	Data      []byte // PNG or JPEG
	W, H      int
	Left, Top float64 // of the picture's upper left corner: right of the glyph's origin, above the baseline
	PPEM      float64
	Corner    bool // both are from the lower left corner of the glyph's outline, not from its origin
}

// A strike is a font's pictures of one size.
type strike struct {
	ppem  int
	glyph func(glyph int) (found, error) // no data for a glyph without
}

// found is where the picture of a glyph stands in a table.
type found struct {
	data      []byte
	left, top int
	low       bool // top is where the picture's lower edge is
}

// Bitmap is the picture of a glyph from the strike that suits a size in pixels per em: the smallest of those
// that are as large, else the largest. It is nil for a glyph without.
func (g *Glyphs) Bitmap(glyph int, size float64) (*Bitmap, error) {
	var best *strike
	for i := range g.strike {
		s := &g.strike[i]
		enough := best != nil && float64(best.ppem) >= size
		if best == nil || enough && float64(s.ppem) >= size && s.ppem < best.ppem || !enough && s.ppem > best.ppem {
			best = s
		}
	}
	if best == nil {
		return nil, nil
	}
	f, err := best.glyph(glyph)
	if err != nil || len(f.data) == 0 {
		return nil, err
	}
	c, form, err := image.DecodeConfig(bytes.NewReader(f.data))
	switch {
	case err != nil:
		return nil, fmt.Errorf("picture of glyph %d: expected PNG or JPEG: %w", glyph, err)
	case c.Width < 1 || c.Height < 1 || c.Width > mostSide || c.Height > mostSide || form != "png" && form != "jpeg":
		return nil, fault.Form("picture of glyph %d: expected one of at most %d x %d pixels, found %s of %d x %d", glyph, mostSide, mostSide, form, c.Width, c.Height)
	}
	b := &Bitmap{Data: bytes.Clone(f.data), W: c.Width, H: c.Height, Left: float64(f.left), Top: float64(f.top), PPEM: float64(best.ppem)}
	if _, err := b.Image(); err != nil {
		return nil, fmt.Errorf("picture of glyph %d: %w", glyph, err)
	}
	if f.low {
		b.Corner = true
		b.Top += float64(b.H)
	}
	return b, nil
}

// Image is the picture unpacked.
func (b *Bitmap) Image() (*image.NRGBA, error) {
	img, _, err := image.Decode(bytes.NewReader(b.Data))
	if err != nil {
		return nil, err
	}
	out := image.NewNRGBA(image.Rect(0, 0, b.W, b.H))
	draw.Draw(out, out.Rect, img, img.Bounds().Min, draw.Src)
	return out, nil
}

// PNG is the picture as a file of that kind.
func (b *Bitmap) PNG() ([]byte, error) {
	if bytes.HasPrefix(b.Data, []byte("\x89PNG")) {
		return b.Data, nil
	}
	img, err := b.Image()
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	err = png.Encode(&out, img)
	return out.Bytes(), err
}

// Sized is the picture with as many pixels as it takes at a size, the mean of those that one pixel covers; its
// upper left corner is a part of a pixel right of and below a whole one. What cannot be unpacked, or would be too
// large, is an error.
func (b *Bitmap) Sized(scale, right, down float64) (*image.RGBA, error) {
	w, h := float64(b.W), float64(b.H)
	if !(scale > 0) || w*scale*h*scale > mostPixels {
		return nil, fault.Form("expected a glyph in colour of at most %d million pixels, found %.0f x %.0f", mostPixels>>20, w*scale, h*scale)
	}
	img, err := b.Image()
	if err != nil {
		return nil, err
	}
	out := image.NewRGBA(image.Rect(0, 0, int(math.Ceil(w*scale+right)), int(math.Ceil(h*scale+down))))
	across, below := spans(out.Rect.Dx(), right, scale, w), spans(out.Rect.Dy(), down, scale, h)
	for y := range below {
		for x := range across {
			var sum [4]float64
			for _, v := range below[y] {
				for _, u := range across[x] {
					c := img.NRGBAAt(u.at, v.at)
					part := u.part * v.part * float64(c.A) / 255
					sum[0] += float64(c.R) * part
					sum[1] += float64(c.G) * part
					sum[2] += float64(c.B) * part
					sum[3] += 255 * part
				}
			}
			out.SetRGBA(x, y, color.RGBA{uint8(sum[0] + 0.5), uint8(sum[1] + 0.5), uint8(sum[2] + 0.5), uint8(sum[3] + 0.5)})
		}
	}
	return out, nil
}

// A share is how much a pixel of a picture counts in one that is drawn.
type share struct {
	at   int
	part float64
}

// spans are the shares of each of n pixels. Where the picture grows, its pixels pass into each other.
func spans(n int, off, scale, most float64) [][]share {
	out := make([][]share, n)
	for i := range out {
		from, to := (float64(i)-off)/scale, (float64(i)+1-off)/scale
		if wide := to - from; wide < 1 { // no pixel is looked at more closely than its neighbours allow
			middle := (from + to) / 2
			from, to = middle-0.5, middle+0.5
		}
		whole := to - from
		for at := max(0, int(math.Floor(from))); at < min(int(math.Ceil(to)), int(most)); at++ {
			if part := (min(to, float64(at+1)) - max(from, float64(at))) / whole; part > 0 {
				out[i] = append(out[i], share{at, part})
			}
		}
	}
	return out
}

// mostStrikes is how many sizes of pictures a font has at most.
const mostStrikes = 64

// pictures are a font's tables of pictures, and how they are read: Apple's (OpenType, sbix), and Google's
// (CBLC and CBDT).
func pictures(f *sfnt.Font) (tag string, table []byte, parse func(table []byte) ([]strike, error), err error) {
	tag = "sbix"
	if f.Has("CBDT") {
		tag = "CBDT"
	}
	if table, err = f.Table(tag); err != nil {
		return "", nil, nil, err
	}
	if tag == "CBDT" {
		places, err := f.Table("CBLC")
		return tag, table, func(table []byte) ([]strike, error) { return parseCBDT(places, table) }, err
	}
	maxp, err := f.Maxp()
	return tag, table, func(table []byte) ([]strike, error) { return parseSbix(table, int(maxp.NumGlyphs)) }, err
}

// KeepPictures gives the table of a font's pictures with those of the marked glyphs alone: where others were,
// there are zeros, so that what is kept stays in its place; zeros pack to nothing.
func KeepPictures(f *sfnt.Font, marked []bool) (map[string][]byte, error) {
	tag, table, parse, err := pictures(f)
	if err != nil {
		return nil, err
	}
	before, err := parse(table)
	if err != nil {
		return nil, err
	}
	table = bytes.Clone(table)
	after, err := parse(table)
	if err != nil {
		return nil, err
	}
	for _, kept := range []bool{false, true} { // glyphs can share a picture: those that are kept come last
		for i := range after {
			for glyph := range marked {
				if marked[glyph] != kept {
					continue
				}
				to, err := after[i].glyph(glyph)
				if err != nil {
					return nil, err
				}
				clear(to.data)
				if kept {
					from, err := before[i].glyph(glyph)
					if err != nil {
						return nil, err
					}
					copy(to.data, from.data)
				}
			}
		}
	}
	return map[string][]byte{tag: table}, nil
}

func parseSbix(b []byte, glyphs int) ([]strike, error) {
	if len(b) < 8 || u32(b, 4) > mostStrikes || 8+4*int(u32(b, 4)) > len(b) {
		return nil, fault.Form("table sbix: expected at most %d strikes inside of the table, found %d bytes", mostStrikes, len(b))
	}
	var out []strike
	for i := range int(u32(b, 4)) {
		s := far(b, 8+4*i)
		if len(s) < 4+4*(glyphs+1) {
			return nil, fault.Form("table sbix: expected a strike of %d glyphs inside of the table, found %d bytes", glyphs, len(s))
		}
		out = append(out, strike{sfnt.Word(s, 0), func(glyph int) (found, error) { return sbixGlyph(s, glyph, glyphs, true) }})
	}
	return out, nil
}

// sbixGlyph is a glyph of a strike; one can stand for another, which stands for itself.
func sbixGlyph(s []byte, glyph, glyphs int, follow bool) (found, error) {
	if glyph < 0 || glyph >= glyphs {
		return found{}, nil
	}
	from, to := uint64(u32(s, 4+4*glyph)), uint64(u32(s, 8+4*glyph))
	if from == to {
		return found{}, nil
	}
	if to > uint64(len(s)) || from+8 > to {
		return found{}, fault.Form("table sbix: expected glyph %d inside of its strike, found bytes %d to %d of %d", glyph, from, to, len(s))
	}
	d := s[from:to]
	switch form := string(d[4:8]); form {
	case "dupe":
		if len(d) >= 10 && follow {
			return sbixGlyph(s, sfnt.Word(d, 8), glyphs, false)
		}
		return found{}, nil
	case "png ", "jpg ":
		return found{d[8:], int(int16(sfnt.Word(d, 0))), int(int16(sfnt.Word(d, 2))), true}, nil
	default:
		return found{}, fault.Form("table sbix: expected a picture of PNG or JPEG for glyph %d, found %q", glyph, form)
	}
}

func parseCBDT(places, data []byte) ([]strike, error) {
	if len(places) < 8 || u32(places, 4) > mostStrikes || 8+48*int(u32(places, 4)) > len(places) {
		return nil, fault.Form("table CBLC: expected at most %d strikes inside of the table, found %d bytes", mostStrikes, len(places))
	}
	var out []strike
	for i := range int(u32(places, 4)) {
		size := places[8+48*i:]
		list, n := far(places, 8+48*i), int(min(u32(size, 8), 1<<16))
		if len(list) < 8*n {
			return nil, fault.Form("table CBLC: expected %d lists of glyphs inside of the table, found %d bytes", n, len(list))
		}
		if size[46] != 32 { // bits of a pixel: others are in grey, for which outlines stand
			continue
		}
		out = append(out, strike{int(size[45]), func(glyph int) (found, error) { return cbdtGlyph(list, n, data, glyph) }})
	}
	return out, nil
}

// cbdtGlyph finds a glyph in the lists of a strike (CBLC, index subtables).
func cbdtGlyph(list []byte, n int, data []byte, glyph int) (found, error) {
	p, err := cbdtBytes(list, n, data, glyph)
	if err != nil || p.data == nil {
		return found{}, err
	}
	return cbdtPicture(p.form, p.data, p.metrics, glyph)
}

// cbdtSpan is where a glyph's data is, from the start of its list's; the metrics are those that all glyphs of
// the list have.
func cbdtSpan(sub []byte, glyph, first int) (from, to uint64, metrics []byte) {
	k := glyph - first
	number := func(at int) uint64 {
		if at < 0 || at+4 > len(sub) {
			return 0
		}
		return uint64(u32(sub, at))
	}
	switch sfnt.Word(sub, 0) {
	case 1:
		return number(8 + 4*k), number(12 + 4*k), nil
	case 3:
		return uint64(sfnt.Word(sub, 8+2*k)), uint64(sfnt.Word(sub, 10+2*k)), nil
	case 2:
		return uint64(k) * number(8), uint64(k+1) * number(8), sfnt.From(sub, 12)
	case 4:
		for i := range int(min(number(8), uint64(len(sub)/4))) {
			if sfnt.Word(sub, 12+4*i) == glyph {
				return uint64(sfnt.Word(sub, 14+4*i)), uint64(sfnt.Word(sub, 18+4*i)), nil
			}
		}
	case 5:
		for i := range int(min(number(20), uint64(len(sub)/2))) {
			if sfnt.Word(sub, 24+2*i) == glyph {
				return uint64(i) * number(8), uint64(i+1) * number(8), sfnt.From(sub, 12)
			}
		}
	}
	return 0, 0, nil
}

// cbdtPicture takes the measures of a glyph from before its picture (CBDT, image formats 17 to 19).
func cbdtPicture(format int, d, metrics []byte, glyph int) (found, error) {
	head := map[int]int{17: 5, 18: 8, 19: 0}
	n, known := head[format]
	if !known || len(d) < n+4 || format == 19 && len(metrics) < 4 {
		return found{}, fault.Form("table CBDT: expected a picture of format 17, 18 or 19 for glyph %d, found format %d with %d bytes", glyph, format, len(d))
	}
	if format != 19 {
		metrics = d
	}
	size := uint64(u32(d, n))
	if uint64(n)+4+size > uint64(len(d)) {
		return found{}, fault.Form("table CBDT: expected %d bytes of a picture for glyph %d, found %d", size, glyph, len(d)-n-4)
	}
	return found{d[n+4:][:size], int(int8(metrics[2])), int(int8(metrics[3])), false}, nil
}
