package shape

import (
	"sort"

	"github.com/go-text/typesetting/bidi"
	"github.com/go-text/typesetting/di"
	"github.com/go-text/typesetting/language"
	"github.com/go-text/typesetting/segmenter"
	"github.com/go-text/typesetting/shaping"
	"golang.org/x/image/math/fixed"
)

// A paragraph is one while it is broken into lines, as browsers do it: it is shaped as a whole to find where lines end, and what
// is cut there is shaped again, for letters that join or kern over a break do not.
type paragraph struct {
	f        *Face
	text     []rune
	how      How
	leftward bool
	pieces   []piece
	until    []float64 // the advance of all characters before each, in font units
}

// A piece is a part of a paragraph of one script and one direction, in the order of the text.
type piece struct {
	in    shaping.Input
	out   shaping.Output
	level bidi.Level // of its direction (Unicode Standard Annex 9)
	sign  bool       // a hyphen that is not in the text
}

// shape shapes the pieces of the paragraph.
func (p *paragraph) shape(direction di.Direction) {
	f := p.f
	in := shaping.Input{Text: p.text, RunEnd: len(p.text), Direction: direction, Face: f.face, Size: fixed.I(f.UnitsPerEm), Language: language.NewLanguage(p.how.Language)}
	in.FontFeatures = features(p.how.Features)
	apart := features(p.how.Features, ligatures...)
	levels := p.levels()
	p.until = make([]float64, len(p.text)+1)
	for _, x := range f.splits.Split(in, one{f.face}) {
		if p.how.Tracking != 0 && !joins(p.text[x.RunStart:x.RunEnd]) {
			x.FontFeatures = apart
		}
		x.Language = in.Language // without one, the library takes a language that the script is used for
		out := f.shaper.Shape(x)
		spaced(&out, p.text, p.how)
		for _, g := range out.Glyphs {
			p.until[g.TextIndex()+1] += length(g.Advance)
		}
		p.pieces = append(p.pieces, piece{in: x, out: out, level: levels(x.RunStart)})
	}
	for i := range p.text {
		p.until[i+1] += p.until[i]
	}
}

// levels returns the level of each character.
func (p *paragraph) levels() func(at int) bidi.Level {
	direction := bidi.LeftToRight
	if p.leftward {
		direction = bidi.RightToLeft
	}
	var of bidi.Paragraph
	runs := of.Segment(p.text, direction)
	return func(at int) bidi.Level {
		i := sort.Search(runs.NumRuns(), func(i int) bool { return runs.Run(i).End > at })
		if i == runs.NumRuns() {
			return bidi.Level(0)
		}
		return runs.Run(i).Level
	}
}

// wrap breaks the paragraph into lines of at most the width.
func (p *paragraph) wrap() (out []Line) {
	var s segmenter.Segmenter
	s.Init(forBreaks(p.text))
	ends := p.breaks(&s)
	var clusters []int
	if !p.how.Whole {
		for g := s.GraphemeIterator(); g.Next(); {
			clusters = append(clusters, g.Grapheme().Offset+len(g.Grapheme().Text))
		}
	}
	for from := 0; from < len(p.text); {
		l, fits := p.fullest(from, ends)
		if !fits && !p.how.Whole {
			l, _ = p.fullest(from, clusters)
		}
		out, from = append(out, l), l.To
	}
	return out
}

// fullest is the longest line from a place on that ends at one of some places and is not wider than the width; false with the
// shortest one where all are.
func (p *paragraph) fullest(from int, ends []int) (Line, bool) {
	first := sort.SearchInts(ends, from+1)
	last := first
	slack := float64(p.f.UnitsPerEm) / 2 // what is cut may be narrower than it was as a part
	for last+1 < len(ends) && p.width(from, ends[last+1]) <= p.how.Width+slack {
		last++
	}
	for {
		l := p.line(from, ends[last], p.trimmed(from, ends[last]))
		if fits := l.Advance <= p.how.Width+1.0/64; fits || last == first {
			return l, fits
		}
		last--
	}
}

// width is about how wide a part of the text is, without the space at its end.
func (p *paragraph) width(from, to int) float64 { return p.until[p.trimmed(from, to)] - p.until[from] }

// trimmed is where a line ends without its spaces, which hang (CSS Text 3, 4.1.3). Browsers let no other space hang.
func (p *paragraph) trimmed(from, to int) int {
	for to > from && spaces(p.text[to-1]) {
		to--
	}
	return to
}

const softHyphen = '\u00AD'

// line is a part of the text as it stands on a line: seen is where it ends without its space.
func (p *paragraph) line(from, to, seen int) Line {
	out := Line{Leftward: p.leftward, From: from, To: to, Words: string(p.text[from:seen])}
	var parts []piece
	first := sort.Search(len(p.pieces), func(i int) bool { return p.pieces[i].in.RunEnd > from })
	for _, x := range p.pieces[first:] {
		start, end := max(x.in.RunStart, from), min(x.in.RunEnd, seen)
		if start >= end {
			break // the pieces stand in the order of the text
		}
		if start != x.in.RunStart || end != x.in.RunEnd {
			x.in.RunStart, x.in.RunEnd = start, end
			x.out = p.f.shaper.Shape(x.in)
			spaced(&x.out, p.text, p.how)
		}
		parts = append(parts, x)
	}
	if seen > from && to < len(p.text) && p.text[seen-1] == softHyphen && len(parts) > 0 {
		parts = append(parts, p.hyphen(parts[len(parts)-1]))
	}
	for _, x := range inOrder(parts) {
		for _, g := range x.out.Glyphs {
			r := x.in.Text[g.TextIndex()]
			if !hidden(r) || g.GlyphID != 0 {
				at := g.TextIndex()
				if x.sign {
					at = seen - 1
				}
				out.Glyphs = append(out.Glyphs, Glyph{ID: int(g.GlyphID), X: out.Advance + length(g.XOffset), Y: length(g.YOffset),
					Advance: length(g.Advance), Rune: r, Text: at, Missing: g.GlyphID == 0})
			}
			out.Advance += length(g.Advance)
		}
	}
	return out
}

// hyphen is what a soft hyphen shows where a line is broken at it: a hyphen, or where the font has none, a hyphen-minus (CSS Text 3, 6.1).
func (p *paragraph) hyphen(after piece) piece {
	sign := '\u2010'
	if p.f.Paths.Index(sign) == 0 {
		sign = '-'
	}
	after.sign, after.in.Text = true, []rune{sign}
	after.in.RunStart, after.in.RunEnd = 0, 1
	after.out = p.f.shaper.Shape(after.in)
	return after
}

// inOrder puts the pieces of a line into the order that is seen (Unicode Standard Annex 9, L2).
func inOrder(parts []piece) []piece {
	high, low := bidi.Level(0), bidi.Level(127)
	for _, x := range parts {
		high = max(high, x.level)
		if x.level%2 == 1 {
			low = min(low, x.level)
		}
	}
	for level := high; level >= low && level > 0; level-- {
		for i := 0; i < len(parts); {
			if parts[i].level < level {
				i++
				continue
			}
			k := i
			for k < len(parts) && parts[k].level >= level {
				k++
			}
			for a, b := i, k-1; a < b; a, b = a+1, b-1 {
				parts[a], parts[b] = parts[b], parts[a]
			}
			i = k
		}
	}
	return parts
}
