package specimen

import (
	"bytes"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"notaria/internal/face"
	"notaria/internal/sfnt"
	"notaria/internal/shape"
)

// reading is a paragraph as an app has it, to judge the colour of a text.
const reading = "The first boat leaves the quay before the lamps are out. It calls at Holm, waits for the mail and for whoever is late, and goes on through " +
	"the sound to Stora Skerry, where the jetty is short and the tide is not. Tickets (4.50, children 2.25) are sold on board; dogs travel free, bicycles do " +
	"not. In fog the boat is slow, and in a gale from the south-west it stays where it is."

// paragraphs is a text to be read, at two sizes.
func (s *sheet) paragraphs() error {
	if !s.writes(reading) {
		return nil
	}
	s.section("Text", "16 pixels on 24,\n13 on 20")
	for _, size := range []float64{16, 13} {
		st := Style{Size: size, Leading: 24, Colour: s.o.Ink, Lacking: s.o.Alarm, Width: min(s.wide, size*38), Language: s.o.Language}
		if size < 16 {
			st.Leading = 20
		}
		s.y += math.Ceil(size)
		lines, err := s.Set(s.typ(), reading, s.left, s.y, st)
		if err != nil {
			return err
		}
		s.y += st.Leading*float64(max(len(lines), 1)-1) + 2*unit
	}
	return nil
}

// mostInstances is how many named instances of a variable font are shown.
const mostInstances = 24

// instances shows a variable font as its maker cut it: its named instances, and the axes in words; without names, the ends of each axis.
func (s *sheet) instances() error {
	f := s.face()
	if len(f.Axes) == 0 {
		return nil
	}
	var axes []string
	for _, a := range f.Axes[:min(len(f.Axes), mostAxes)] {
		axes = append(axes, fmt.Sprintf("%s %s to %s", a.Tag, shortest(a.Min, 2), shortest(a.Max, 2)))
	}
	s.section("Instances", strings.Join(axes, "\n"))
	data, err := s.faces[s.main].Read()
	if err != nil {
		return err
	}
	file, err := sfnt.Open(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return err
	}
	for _, in := range placesOf(f) {
		t, err := loadFont(file.Font(0), in.Coordinates)
		if err != nil {
			return err
		}
		t.page = s.o.page
		if err := s.say(t, s.o.shownIn(s.faces[s.main], t), 28, 1); err != nil {
			return err
		}
		s.y += 16
		x := s.left + s.pen.words(s.Drawing, s.pen.strong, face.Short(in.Name), s.left, s.y, 13, s.wide/2, s.o.Ink)
		s.pen.words(s.Drawing, s.pen.mono, coordinates(in.Coordinates), x+1.5*unit, s.y, 12, max(s.wide-(x-s.left)-2*unit, 1), s.o.Quiet)
		s.y += 1.5 * unit
	}
	return nil
}

// placesOf are the named instances of a face, the first of them; of one that names none, the default and the ends of its axes.
func placesOf(f face.Face) []face.Instance {
	if len(f.Instances) > 0 {
		return f.Instances[:min(len(f.Instances), mostInstances)]
	}
	out := []face.Instance{{Name: "default", Coordinates: map[string]float64{}}}
	for _, a := range f.Axes[:min(len(f.Axes), mostAxes)] {
		for _, v := range []float64{a.Min, a.Max} {
			if v != a.Default {
				out = append(out, face.Instance{Name: "end of " + a.Tag, Coordinates: map[string]float64{a.Tag: v}})
			}
		}
	}
	return out
}

// coordinates are the values of axes in a line.
func coordinates(at map[string]float64) string {
	var parts []string
	for tag, v := range at {
		parts = append(parts, tag+" "+shortest(v, 2))
	}
	slices.Sort(parts)
	return strings.Join(parts, ", ")
}

// A switchable is a feature that an app can turn on, with a text that shows it (OpenType, Registered features).
type switchable struct{ tag, name, text string }

var switchables = []switchable{
	{"smcp", "small capitals", "Ferry to Holm 07:40"}, {"c2sc", "small capitals from capitals", "FERRY to HOLM 07:40"}, {"onum", "old-style figures", "0123456789"}, {"lnum", "lining figures", "0123456789"},
	{"tnum", "figures of one width", "1,111.10 07:40"}, {"pnum", "proportional figures", "1,111.10 07:40"}, {"zero", "slashed zero", "2040 O0"}, {"frac", "fractions", "1/2 3/4 21/32"},
	{"ordn", "ordinals", "1a 2o No 3rd"}, {"sups", "superscript", "m2 x3 a1"}, {"subs", "subscript", "H2O CO2"}, {"sinf", "scientific inferiors", "H2O CO2"}, {"case", "marks for capitals", "¿(A-B)? «H» @"},
	{"titl", "titling", "FERRY Holm"}, {"swsh", "swashes", "Quay Rope &"}, {"salt", "alternates", ""}, {"hist", "historical forms", "ships"}, {"dlig", "discretionary ligatures", "act stop Thin fjord ffi"},
	{"hlig", "historical ligatures", "act stop ships"}, {"aalt", "", ""},
}

// alphabet is where the letters are looked for that a feature changes.
const alphabet = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789&?!@§%"

// mostChanged is how many letters of a feature are shown, and mostFeatures how many features.
const (
	mostChanged  = 14
	mostFeatures = 28
)

// A change is a feature that changes a text.
type change struct{ tag, name, text string }

// changes are the features that a face has and an app can turn on, each with a text that it changes; a feature that changes none is left out.
func (t *Type) changes() (out []change) {
	have := t.Features()
	known := slices.Clone(switchables)
	for _, tag := range have {
		if n, err := strconv.Atoi(strings.TrimPrefix(tag, "ss")); err == nil && strings.HasPrefix(tag, "ss") && len(tag) == 4 {
			known = append(known, switchable{tag, fmt.Sprintf("stylistic set %d", n), ""})
		}
	}
	for _, k := range known {
		if k.name == "" || !slices.Contains(have, k.tag) || len(out) == mostFeatures {
			continue
		}
		if k.text != "" && t.differs(k.text, k.tag) {
			out = append(out, change(k))
			continue
		}
		if letters := t.changed(k.tag); len(letters) > 0 {
			out = append(out, change{k.tag, k.name, strings.Join(letters, " ")})
		}
	}
	return out
}

// differs says whether a feature changes the glyphs of a text.
func (t *Type) differs(text, tag string) bool {
	off, on := t.shaped(text, tag, false), t.shaped(text, tag, true)
	return !slices.EqualFunc(off, on, same)
}

// changed are the letters of the alphabet that a feature changes, the first of them: they are shaped together, for a font can make each
// shaping long.
func (t *Type) changed(tag string) (out []string) {
	list := []rune(alphabet)
	text := strings.Join(strings.Split(alphabet, ""), " ")
	cluster := func(glyphs []shape.Glyph) map[int][]shape.Glyph {
		at := map[int][]shape.Glyph{}
		for _, g := range glyphs {
			at[g.Text] = append(at[g.Text], g)
		}
		return at
	}
	off, on := cluster(t.shaped(text, tag, false)), cluster(t.shaped(text, tag, true))
	for i, r := range list {
		if len(out) < mostChanged && t.Paths.Index(r) != 0 && !slices.EqualFunc(off[2*i], on[2*i], same) {
			out = append(out, string(r))
		}
	}
	return out
}

func same(a, b shape.Glyph) bool { return a.ID == b.ID && a.Advance == b.Advance }

// shaped are the glyphs of a text with a feature on or off.
func (t *Type) shaped(text, tag string, on bool) []shape.Glyph {
	lines, err := t.Face.Lines(text, shape.How{Features: map[string]bool{tag: on}})
	if err != nil {
		return nil
	}
	return lines[0].Glyphs
}

// features shows what an app can switch on, off and on beside each other.
func (s *sheet) features() error {
	list := s.typ().changes()
	if len(list) == 0 {
		return nil
	}
	s.section("Features", "off, and on:\nwhat an app can\nswitch (OpenType)")
	half := s.wide / 2
	for _, c := range list {
		s.y += 34
		for i, on := range []bool{false, true} {
			st := Style{Size: 28, Colour: s.o.Ink, Lacking: s.o.Alarm, Width: half - unit, Most: 1, Features: map[string]bool{c.tag: on}, Language: s.o.Language}
			if _, err := s.Set(s.typ(), c.text, s.left+float64(i)*half, s.y, st); err != nil {
				return err
			}
		}
		s.y += 20
		x := s.left + s.pen.words(s.Drawing, s.pen.mono, c.tag, s.left, s.y, 12, 0, s.o.Quiet)
		s.pen.words(s.Drawing, s.pen.text, c.name, x+unit, s.y, 13, s.wide-64, s.o.Quiet)
		s.y += unit
	}
	return nil
}

// metrics draws the heights of the face, each with its value in font units.
func (s *sheet) metrics() error {
	t := s.typ()
	text := "Hxpgd"
	if !s.writes(text) {
		return nil
	}
	s.section("Metrics", "in font units, "+strconv.Itoa(t.UnitsPerEm)+"\nper em")
	size := min(128, s.wide/5)
	scale := size / float64(t.UnitsPerEm)
	top := s.y + 2*unit
	base := top + float64(t.Ascent)*scale
	lines, err := s.Set(t, text, s.left, base, Style{Size: size, Colour: s.o.Ink, Lacking: s.o.Alarm})
	if err != nil {
		return err
	}
	end := s.left + lines[0].Advance*scale + 2*unit
	last := top - 2*unit
	for _, m := range []struct {
		name   string
		height int
	}{{"ascent", t.Ascent}, {"capitals", t.Capital}, {"small letters", t.Small}, {"baseline", 0}, {"descent", t.Descent}} {
		if m.height == 0 && m.name != "baseline" {
			continue // the font does not say
		}
		y := base - float64(m.height)*scale
		s.Rect(s.left, y, end-s.left, 1, firstInk)
		last = max(y+4, last+15) // names do not lie over each other
		s.pen.words(s.Drawing, s.pen.text, m.name+" "+strconv.Itoa(m.height), end+unit, last, 13, max(s.left+s.wide-end-unit, 1), s.o.Quiet)
	}
	if t.LineGap != 0 {
		last += 15
		s.pen.words(s.Drawing, s.pen.text, "line gap "+strconv.Itoa(t.LineGap), end+unit, last, 13, max(s.left+s.wide-end-unit, 1), s.o.Quiet)
	}
	s.y = max(base-float64(t.Descent)*scale, last) + unit
	return nil
}

// pairs are letters that are often kerned.
var pairs = []string{"AV", "AT", "AY", "Av", "Aw", "Ay", "AC", "FA", "F.", "LT", "LV", "LY", "Ly", "P.", "PA", "RT", "RV", "Ta", "Te", "To", "Tr", "Ty", "T.", "Va", "Ve", "Vo", "V.", "Wa", "Wo", "Ya", "Yo",
	"Y.", "ay", "ev", "fa", "fo", "f'", "ky", "rg", "ro", "r.", "r,", "va", "v.", "we", "w.", "y.", "74", "71", "47"}

// mostPairs is how many pairs are shown.
const mostPairs = 24

// A pair is two letters, and by how much they are moved together, in font units.
type pair struct {
	text string
	by   int
}

// kerned are the pairs that the face kerns, those that it kerns most first. They are shaped together, apart by a space.
func (t *Type) kerned() (out []pair) {
	text := strings.Join(pairs, " ")
	wide := func(kern bool) map[int]float64 {
		lines, err := t.Face.Lines(text, shape.How{Features: map[string]bool{"kern": kern, "liga": false}})
		if err != nil {
			return nil
		}
		at := map[int]float64{}
		for _, g := range lines[0].Glyphs {
			switch { // a pair and its space are three characters; kerning moves what is behind the first
			case g.Missing:
				at[g.Text/3] = math.Inf(1)
			case g.Text%3 == 0:
				at[g.Text/3] += g.Advance
			}
		}
		return at
	}
	off, on := wide(false), wide(true)
	for i, p := range pairs {
		if by := on[i] - off[i]; math.Abs(by) >= 0.5 && !math.IsInf(on[i], 0) && !math.IsNaN(by) {
			out = append(out, pair{p, int(math.Round(by))})
		}
	}
	slices.SortStableFunc(out, func(a, b pair) int { return max(b.by, -b.by) - max(a.by, -a.by) })
	return out[:min(len(out), mostPairs)]
}

// kerning shows pairs as they are kerned, with what they are moved by.
func (s *sheet) kerning() error {
	list := s.typ().kerned()
	if len(list) == 0 || !s.writes("AV") {
		return nil
	}
	s.section("Kerning", "pairs, and what they\nare moved by, in\nfont units")
	const cell, high = 84.0, 68.0
	columns := max(int(s.wide/cell), 1)
	for i, p := range list {
		x, y := s.left+float64(i%columns)*cell, s.y+float64(i/columns)*high+38
		if _, err := s.Set(s.typ(), p.text, x, y, Style{Size: 40, Colour: s.o.Ink, Lacking: s.o.Alarm}); err != nil {
			return err
		}
		s.pen.words(s.Drawing, s.pen.mono, strconv.Itoa(p.by), x, y+18, 12, cell, s.o.Quiet)
	}
	s.y += math.Ceil(float64(len(list))/float64(columns)) * high
	return nil
}

// mostIcons is how many icons of a font are shown that makes them of words.
const mostIcons = 400

// icons shows what a font of icons draws for words, each with the word that is typed.
func (s *sheet) icons() error {
	words := s.typ().Words()
	if len(words) == 0 {
		return nil
	}
	about := fmt.Sprintf("%d words, each of\nwhich is one icon", len(words))
	if len(words) > mostIcons {
		about += fmt.Sprintf(";\nthe first %d", mostIcons)
	}
	s.section("Icons", about)
	words = words[:min(len(words), mostIcons)]
	const high = 76.0
	columns := max(int(s.wide/120), 1)
	cell := s.wide / float64(columns)
	for i, w := range words {
		x, y := s.left+float64(i%columns)*cell, s.y+float64(i/columns)*high
		if _, err := s.Set(s.typ(), w, x, y+36, Style{Size: 32, Colour: s.o.Ink, Lacking: s.o.Alarm, Most: 1}); err != nil {
			return err
		}
		s.pen.words(s.Drawing, s.pen.mono, w, x, y+56, 10, cell-unit, s.o.Quiet)
	}
	s.y += math.Ceil(float64(len(words))/float64(columns)) * high
	return nil
}

// languages lists those that the face writes whole.
func (s *sheet) languages() error {
	names := s.faces[s.main].languages()
	if len(names) == 0 || len(s.typ().Words()) > 0 {
		return nil
	}
	s.section("Languages", fmt.Sprintf("%d, of which it has\nall letters", len(names)))
	s.y += 14
	lines, err := s.Set(s.pen.text, strings.Join(names, ", "), s.left, s.y, Style{Size: 13, Leading: 20, Colour: s.o.Quiet, Lacking: s.o.Quiet, Width: s.wide})
	s.y += 20 * float64(max(len(lines), 1)-1)
	return err
}

// languages are what the languages are called that a face writes whole.
func (f Face) languages() []string {
	var out []string
	for _, l := range f.Writes() {
		out = append(out, l.Name)
	}
	slices.Sort(out)
	return out
}

// typedLine is what is typed for a face, in one line.
func typedLine(lines []string) string {
	var out []string
	for _, l := range lines {
		_, value := cutName(l)
		out = append(out, value)
	}
	return strings.Join(out, "   ")
}
