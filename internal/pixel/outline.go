package pixel

import (
	"fmt"
	"math"
	"runtime"
	"slices"
	"sync"
	"sync/atomic"

	"notaria/internal/fault"
	"notaria/internal/layout"
	"notaria/internal/raster"
	"notaria/internal/sfnt"
)

// A Source is a face whose outlines become pictures.
type Source struct {
	Name, Family    string
	UnitsPerEm      int
	Ascent, Descent int // of a line, in font units; Descent is negative
	Paths           *sfnt.Paths
	Kern            *layout.Kerning // nil for a face without

	once  sync.Once
	study *raster.Study
	paths outlines
}

// outlines keeps outlines that were read, for the next size.
type outlines struct {
	once sync.Once
	kept []atomic.Pointer[outline] // by glyph
	held atomic.Int64              // segments of them
}

// An outline with its box, in font units.
type outline struct {
	path   sfnt.Path
	extent [4]float32
}

// mostHeld is how many segments are kept: those of some thousand glyphs.
const mostHeld = 1 << 18

// outline reads the outline of a glyph, or has it from before.
func (s *Source) outline(glyph int) (*outline, error) {
	o := &s.paths
	o.once.Do(func() { o.kept = make([]atomic.Pointer[outline], s.Paths.Count()) })
	if glyph < len(o.kept) {
		if have := o.kept[glyph].Load(); have != nil {
			return have, nil
		}
	}
	path, err := s.Paths.Outline(glyph)
	if err != nil {
		return nil, err
	}
	out := &outline{path, raster.Extent(path)}
	if glyph < len(o.kept) && o.held.Add(int64(len(path))) < mostHeld {
		o.kept[glyph].Store(out)
	}
	return out, nil
}

// A Choice is what is drawn of a source.
type Choice struct {
	Characters []rune
	Depth      int
	Tracking   int // added to each advance, in 1/16 pixel
	// SameWidth gives these characters one advance, the greatest of theirs, each in the middle:
	// times that do not dance. Nil for none.
	SameWidth []rune
	// Hint sets heights, stems and bars on whole pixels.
	Hint bool
	// Contrast makes shades steeper around the middle one: 0 is what the outline covers, 100 has
	// hardly any shades.
	Contrast int
	Kerning  bool // takes the face's pairs over
	Gap      int  // the least white between two characters, in pixels
	// Missing is drawn for characters that the face lacks: 0 for none, Box for a box, else a
	// character's picture.
	Missing rune
}

// Box is the picture of a missing character that is a box.
const Box rune = -1

// MostEm is the largest size, in pixels per em.
const MostEm = 1024

// Sizes up to which hinting pays, in pixels per em, without shades and with them.
const (
	hintPlain = 96
	hintShade = 20
)

// HintPays says whether hinting makes a size better.
func HintPays(em float64, depth int) bool {
	return em <= hintShade || depth == 1 && em <= hintPlain
}

// Draw is the font at a size in pixels per em, and the characters that the source lacks.
func (s *Source) Draw(em float64, c Choice) (*Font, []rune, error) {
	if !(em > 0 && em <= MostEm) {
		return nil, nil, fault.Form("expected a size of more than 0 and at most %d pixels per em, found %g", MostEm, em)
	}
	scale := em / float64(s.UnitsPerEm)
	f := &Font{Name: s.Name, Family: s.Family, Em: em, Depth: c.Depth, Ascent: int(math.Ceil(float64(s.Ascent)*scale - 1e-6)), Descent: int(math.Ceil(float64(-s.Descent)*scale - 1e-6))}
	characters := slices.Clone(c.Characters)
	slices.Sort(characters)
	characters = slices.Compact(characters)
	lacks, err := s.drawAll(f, characters, s.drawer(scale, c))
	if err != nil {
		return nil, nil, err
	}
	if c.Kerning {
		if err := s.pairs(f, scale, c.Hint && c.Depth == 1); err != nil {
			return nil, nil, err
		}
	}
	f.substitute(lacks, c.Missing)
	return f, lacks, f.Space(c.Tracking, c.SameWidth, c.Gap)
}

// drawer is how one size is drawn.
type drawer struct {
	source    *Source
	scale     float64
	depth     int
	hinter    *raster.Hinter // nil for none
	shades    [256]byte      // from coverage
	exact     bool           // they are the coverage
	evenDigit bool           // the digits share one advance, which stays so
	fixed     bool           // all characters do
}

func (s *Source) drawer(scale float64, c Choice) *drawer {
	d := &drawer{source: s, scale: scale, depth: c.Depth, exact: c.Depth == 8 && c.Contrast == 0}
	full := float64(int(1)<<c.Depth - 1)
	steep := 1 + 9*math.Pow(float64(c.Contrast)/100, 2)
	for v := range d.shades {
		part := (float64(v)/255-0.5)*steep + 0.5
		d.shades[v] = byte(max(0, min(1, part))*full + 0.5)
	}
	if c.Hint {
		d.hinter = s.shape().At(scale)
		d.evenDigit, d.fixed = s.oneAdvance("0123456789"), s.oneAdvance("iIlmW.")
	}
	return d
}

// shape is what hinting knows of the face; it is found out once.
func (s *Source) shape() *raster.Study {
	s.once.Do(func() {
		s.study = raster.NewStudy(func(r rune) sfnt.Path {
			shape, err := s.outline(s.Paths.Index(r))
			if err != nil || s.Paths.Index(r) == 0 {
				return nil
			}
			return shape.path
		}, s.UnitsPerEm)
	})
	return s.study
}

// oneAdvance says whether characters that the face has share one.
func (s *Source) oneAdvance(of string) bool {
	have := map[int]bool{}
	for _, r := range of {
		if a, ok := s.Paths.Advance(r); ok {
			have[a] = true
		}
	}
	return len(have) == 1
}

// batch is how many characters a processor takes at once.
const batch = 16

// A hand is what one processor draws with.
type hand struct {
	raster.Raster
	room []byte // for the next pictures
}

// hands are at rest between two fonts; what they have left is used for the next.
var hands = sync.Pool{New: func() any { return &hand{} }}

// keep copies a picture, into memory that is shared by many.
func (h *hand) keep(pix []byte) []byte {
	const chunk = 1 << 15
	if len(pix) > len(h.room) {
		if len(pix) > chunk/8 {
			return slices.Clone(pix)
		}
		h.room = make([]byte, chunk)
	}
	n := copy(h.room, pix)
	out := h.room[:n:n]
	h.room = h.room[n:]
	return out
}

// Split tells the characters that the face has from those that it lacks, without drawing them.
func (s *Source) Split(characters []rune) (has, lacks []rune) {
	for _, r := range characters {
		if s.Paths.Index(r) != 0 {
			has = append(has, r)
		} else {
			lacks = append(lacks, r)
		}
	}
	return has, lacks
}

// drawAll draws characters, which are in order, on all processors.
func (s *Source) drawAll(f *Font, characters []rune, d *drawer) (lacks []rune, err error) {
	glyphs := make([]Glyph, len(characters))
	has, faults := make([]bool, len(characters)), make([]error, len(characters))
	var next, sum atomic.Int64
	var wait sync.WaitGroup
	work := func() {
		r := hands.Get().(*hand)
		defer hands.Put(r)
		for sum.Load() <= mostPixels {
			from := int(next.Add(batch)) - batch
			if from >= len(characters) {
				return
			}
			n := 0
			for i := from; i < min(from+batch, len(characters)); i++ {
				glyphs[i], has[i], faults[i] = d.glyph(r, characters[i])
				n += len(glyphs[i].Pix)
			}
			sum.Add(int64(n))
		}
	}
	for range min(runtime.GOMAXPROCS(0)-1, len(characters)/64) {
		wait.Add(1)
		go func() {
			defer wait.Done()
			work()
		}()
	}
	work()
	wait.Wait()
	if sum.Load() > mostPixels {
		return nil, fault.Form("expected at most %d million pixels in all glyphs, found more", mostPixels>>20)
	}
	f.Glyphs = glyphs[:0]
	for i, char := range characters {
		switch {
		case faults[i] != nil:
			return nil, fmt.Errorf("U+%04X: %w", char, faults[i])
		case !has[i]:
			lacks = append(lacks, char)
		default:
			f.Glyphs = append(f.Glyphs, glyphs[i])
		}
	}
	return lacks, nil
}

// glyph draws one character.
func (d *drawer) glyph(r *hand, char rune) (Glyph, bool, error) {
	index := d.source.Paths.Index(char)
	if index == 0 {
		return Glyph{}, false, nil
	}
	shape, err := d.source.outline(index)
	if err != nil {
		return Glyph{}, false, err
	}
	advance := d.source.Paths.AdvanceOf(index)
	g := Glyph{Rune: char, Advance: int(math.Round(float64(advance) * d.scale * Sub))}
	if d.hinter != nil {
		return d.hinted(r, g, shape, float64(advance)*d.scale), true, nil
	}
	box := raster.Scaled(shape.extent, d.scale)
	return d.shaded(r, g, r.FillOwn(shape.path, d.scale, box), box), true, nil
}

// shaded is a glyph with the picture of a coverage.
func (d *drawer) shaded(r *hand, g Glyph, cover []byte, box raster.Box) Glyph {
	if cover == nil {
		return g
	}
	g.X, g.Y, g.Width, g.Height = box.XMin, box.YMin, box.Width(), box.Height()
	g.Pix = r.keep(cover)
	if !d.exact {
		for i, v := range g.Pix {
			g.Pix[i] = d.shades[v]
		}
	}
	return g.trim()
}

// hinted draws an outline that is fitted to the pixels. Without shades its advance is in whole
// pixels, too, and follows the ink.
func (d *drawer) hinted(r *hand, g Glyph, shape *outline, advance float64) Glyph {
	plain := d.depth == 1
	fitted := d.hinter.Fit(shape.path, plain)
	box := raster.Bounds(fitted, 1, 0, 0)
	if !plain {
		return d.shaded(r, g, r.Fill(fitted, 1, 0, 0, box), box)
	}
	g.Advance = int(math.Round(advance)) * Sub
	cover := raster.Scan(fitted, box)
	if cover == nil { // a space is rather wider: the letters beside it have lost their soft sides
		if !d.fixed {
			g.Advance = int(math.Ceil(advance-0.2)) * Sub
		}
		return g
	}
	g.X, g.Y, g.Width, g.Height, g.Pix = box.XMin, box.YMin, box.Width(), box.Height(), slices.Clone(cover)
	g = g.trim()
	if d.fixed || d.evenDigit && g.Rune >= '0' && g.Rune <= '9' {
		return g
	}
	right := advance - float64(shape.extent[2])*d.scale // the white at its right in the face
	switch white := g.Advance/Sub - g.X - g.Width; {
	case white < 1 && right > 0.35:
		g.Advance += (1 - white) * Sub
	case white < 0 && right > -0.5:
		g.Advance -= white * Sub
	case float64(white) > right+1.3:
		g.Advance -= Sub
	}
	return g
}

// Fit finds the size at which characters are exactly so many pixels high, from their lowest
// to their highest pixel, in steps of 1/16 pixel per em; of several such sizes the one in
// the middle. An error says the heights on both sides, where none is exact. Hint says which
// sizes are hinted.
func (s *Source) Fit(height int, of []rune, c Choice, hint func(em float64) bool) (float64, error) {
	if height < 1 || height > MostEm {
		return 0, fault.Form("expected a height of 1 to %d pixels, found %d", MostEm, height)
	}
	at := func(em float64) (int, error) {
		f, _, err := s.Draw(em, Choice{Characters: of, Depth: c.Depth, Contrast: c.Contrast, Hint: hint(em)})
		if err != nil {
			return 0, err
		}
		return f.height(of), nil
	}
	units := s.units(of)
	if units <= 0 {
		return 0, fault.Form("expected characters with ink to measure, found none of %q in the face", string(of))
	}
	near := float64(height) * float64(s.UnitsPerEm) / units
	var fits []float64
	below, above := 0, 0
	for step := math.Floor(near*Sub) - 3*Sub; step <= math.Ceil(near*Sub)+3*Sub; step++ {
		em := step / Sub
		if em <= 0 || em > MostEm {
			continue
		}
		h, err := at(em)
		if err != nil {
			return 0, err
		}
		switch {
		case h == height:
			fits = append(fits, em)
		case h < height:
			below = max(below, h)
		case above == 0 || h < above:
			above = h
		}
	}
	if len(fits) == 0 {
		return 0, fault.Form("expected %q to be %d pixels high, found %d and %d at the nearest sizes", string(of), height, below, above)
	}
	return fits[len(fits)/2], nil
}

// units is the height of characters in font units.
func (s *Source) units(of []rune) float64 {
	low, high := math.Inf(1), math.Inf(-1)
	for _, char := range of {
		shape, err := s.outline(s.Paths.Index(char))
		if err != nil || s.Paths.Index(char) == 0 || len(shape.path) == 0 {
			continue
		}
		for _, seg := range shape.path {
			low, high = min(low, float64(seg.End()[1])), max(high, float64(seg.End()[1]))
		}
	}
	return high - low
}

// FitRunes are the characters of a group, or those that are given.
func FitRunes(of string) []rune {
	if g := groups[of]; g != nil {
		return g
	}
	return []rune(of)
}
