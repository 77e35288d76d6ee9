package specimen

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode"

	"golang.org/x/text/unicode/runenames"

	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/sfnt"
)

// gutter is the column at the left in which sections and sizes are named.
const gutter = 168.0

// leastBeside is how wide a page is that sections are named beside; on a narrower one they are named above.
const leastBeside = 760

// A sheet is a page of one family while it is drawn.
type sheet struct {
	*Drawing
	pen   *Pen
	o     Options
	y     float64
	edge  float64 // the white at its edges
	left  float64 // where the column of samples begins
	wide  float64 // of that column
	faces []Face
	main  int    // the face that is shown in depth: the regular one, else the first
	shown *Type  // that face
	told  string // of colours that are not drawn
}

// InDepth draws one family: sizes, styles, digits, letters that are mixed up, accents, axes, and all its
// characters.
func InDepth(ctx context.Context, faces []Face, o Options) (*Drawing, error) {
	s, err := newSheet(ctx, faces, o)
	if err != nil {
		return nil, err
	}
	if s.pen, err = NewPen(o.Colours); err != nil {
		return nil, err
	}
	s.pen.own = s.shown
	for _, part := range []func() error{s.title, s.paragraphs, s.sizes, s.styles, s.instances, s.features, s.icons, s.digits, s.metrics, s.kerning, s.mixedUp, s.accents, s.languages, s.characters} {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		if err := part(); err != nil {
			return nil, err
		}
	}
	if u := s.typ().undrawn(); u != "" && u != s.told { // of glyphs that came later
		s.y += 3 * unit
		s.pen.words(s.Drawing, s.pen.text, u, s.edge, s.y, 13, s.W-2*s.edge, s.o.Alarm)
	}
	s.H = s.y + s.edge
	return s.Drawing, nil
}

// newSheet makes the face ready that is shown in depth: the first of the regular ones that can be drawn. The others
// are read when their line is drawn: a family of a hundred large files does not fit into memory.
func newSheet(ctx context.Context, faces []Face, o Options) (*sheet, error) {
	o.page = &work{}
	s := &sheet{Drawing: &Drawing{W: o.Width, Ground: o.Ground, Title: o.Title}, o: o, faces: faces, edge: edge(o.Width)}
	if s.left = s.edge + gutter; o.Width < leastBeside {
		s.left = s.edge
	}
	s.wide = o.Width - s.edge - s.left
	for _, i := range regulars(faces) {
		t, err := faces[i].load(o.page)
		if err == nil {
			s.main, s.shown = i, t
			return s, nil
		}
		if len(faces) == 1 {
			return nil, err
		}
		if err := ctx.Err(); err != nil {
			return nil, err
		}
	}
	return nil, fault.Form("expected a face that can be drawn, found none among %d", len(faces))
}

// regulars are the places of faces, the upright one first whose weight is nearest to 400.
func regulars(faces []Face) []int {
	order := make([]int, len(faces))
	for i := range order {
		order[i] = i
	}
	far := func(f Face) int {
		d := max(f.Weight-400, 400-f.Weight)
		if f.Slant != face.Upright {
			d += 1000
		}
		return d
	}
	slices.SortStableFunc(order, func(a, b int) int { return far(faces[a]) - far(faces[b]) })
	return order
}

func (s *sheet) face() face.Face { return s.faces[s.main].Face }
func (s *sheet) typ() *Type      { return s.shown }

// section begins a part of the page, named in the gutter, or above where there is none.
func (s *sheet) section(name, about string) {
	s.y += 3 * unit
	s.Rect(s.edge, s.y, s.W-2*s.edge, 1, s.o.Rule)
	s.y += 2 * unit
	wide := gutter - 2*unit
	if s.left == s.edge {
		wide = s.wide
	}
	s.pen.words(s.Drawing, s.pen.strong, name, s.edge, s.y+14, 14, wide+unit, s.o.Ink)
	y := s.y + 14
	lines := strings.Split(about, "\n")
	if s.left == s.edge {
		lines = []string{strings.ReplaceAll(about, "\n", " ")}
	}
	for _, l := range lines {
		y += 18
		s.pen.words(s.Drawing, s.pen.text, l, s.edge, y, 13, wide, s.o.Quiet)
	}
	if s.left == s.edge {
		s.y = y + unit
	}
}

// labelAt is where sizes are named: before the samples, or at the right edge where there is no gutter.
func (s *sheet) labelAt() float64 {
	if s.left == s.edge {
		return s.W - s.edge - 2*unit
	}
	return s.left - 5*unit
}

// say sets a text of the family in the column of samples, and moves on below it.
func (s *sheet) say(t *Type, text string, size float64, most int) error {
	st := Style{Size: size, Colour: s.o.Ink, Lacking: s.o.Alarm, Width: s.wide, Most: most, Language: s.o.Language}
	s.y += float64(t.Ascent) / float64(t.UnitsPerEm) * size
	lines, err := s.Set(t, text, s.left, s.y, st)
	if err != nil {
		return err
	}
	s.y += t.leading(st)*float64(max(len(lines), 1)-1) - float64(t.Descent)/float64(t.UnitsPerEm)*size
	return nil
}

func (s *sheet) name() string {
	if name := face.Short(s.face().Family); name != "" {
		return name
	}
	return nameOf(s.face())
}

// foreign says that the family's own letters cannot write its name.
func (s *sheet) foreign() bool {
	return len(s.face().Lacks(strings.ReplaceAll(s.name(), " ", ""))) > 0
}

// title sets the family's name in its own letters, as large as the page lets it.
func (s *sheet) title() error {
	name, t := s.name(), s.typ()
	if s.foreign() {
		t = s.pen.strong
	}
	lines, err := t.Lines(name, Style{Size: 96})
	if err != nil {
		return err
	}
	size := 96.0
	if w := lines[0].Advance * size / float64(t.UnitsPerEm); w > s.W-2*s.edge {
		size *= (s.W - 2*s.edge) / w
	}
	s.y = s.edge + float64(t.Ascent)/float64(t.UnitsPerEm)*size
	if _, err := s.Set(t, name, s.edge-size/24, s.y, Style{Size: size, Colour: s.o.Ink, Lacking: s.o.Alarm}); err != nil {
		return err
	}
	s.y += -float64(t.Descent)/float64(t.UnitsPerEm)*size + unit
	s.y += 14
	facts := s.facts()
	if s.told = s.typ().undrawn(); s.told != "" {
		facts = append(facts, s.told)
	}
	s.pen.words(s.Drawing, s.pen.text, strings.Join(facts, ", "), s.edge, s.y, 14, s.W-2*s.edge, s.o.Quiet)
	return nil
}

// facts are what there is to say of the family in one line.
func (s *sheet) facts() []string {
	f := s.face()
	out := []string{plural(len(s.faces), "style"), plural(f.Characters, "character"), plural(f.Glyphs, "glyph"), fmt.Sprintf("%d units per em", f.UnitsPerEm)}
	if f.Version != "" {
		out = append(out, face.Short(f.Version))
	}
	return out
}

func plural(n int, one string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %ss", n, one)
}

// What a family is shown with, in a drawing and in a page.
var (
	waterfall = []float64{64, 48, 36, 28, 22, 18, 15, 13, 11}
	columns   = []string{"07:40  11:11  1,111.10", "18:08  20:00  8,088.88", "23:59  04:27  2,436.95"}
)

const (
	mixedUp  = "Il1| O0Q 5S 8B 2Z 6G rn m cl d vv w .,:;"
	accents  = "ÅÄÖ åäö ÆØ æø ÉÈÊË éèêë ÇŞŢ çşţ ŐŰ őű ŁĐŦ łđŧ ŽŠČ žšč ĞĂŇ ğăň ẞß Ðð Þþ ĿĲŒ"
	mostAxes = 8
)

// writes says whether the shown face writes a text with letters that are seen: those of a font of icons that makes them of words are empty.
func (s *sheet) writes(text string) bool {
	return s.faces[s.main].writes(text) && len(s.typ().Words()) == 0
}

// sizes is the text at falling sizes.
func (s *sheet) sizes() error {
	s.section("Sizes", "pixels per em")
	if s.left == s.edge { // the labels stand at the right
		s.wide -= 4 * unit
		defer func() { s.wide += 4 * unit }()
	}
	for _, size := range waterfall {
		top := s.y
		if err := s.say(s.typ(), s.o.shownIn(s.faces[s.main], s.typ()), size, 1); err != nil {
			return err
		}
		base := top + float64(s.typ().Ascent)/float64(s.typ().UnitsPerEm)*size
		s.pen.words(s.Drawing, s.pen.mono, number(size), s.labelAt(), base, 12, 0, s.o.Quiet)
		s.y += unit
	}
	return nil
}

// styles are all faces of the family, each with what is typed for it.
func (s *sheet) styles() error {
	if len(s.faces) < 2 && s.o.Typed == nil {
		return nil
	}
	s.section("Styles", "and what to type")
	for i, f := range s.faces {
		t, err := s.typ(), error(nil)
		if i != s.main {
			t, err = f.load(s.o.page)
		}
		if err != nil {
			s.y += 3 * unit
			s.pen.failure(s.Drawing, fmt.Errorf("%s: %w", nameOf(f.Face), err), s.left, s.y, s.wide)
			continue
		}
		if err := s.say(t, s.o.shownIn(f, t), 32, 1); err != nil {
			return err
		}
		s.y += 18
		x := s.left + s.pen.words(s.Drawing, s.pen.strong, nameOf(f.Face), s.left, s.y, 13, s.wide/2, s.o.Ink)
		s.pen.words(s.Drawing, s.pen.text, kindOf(f.Face), x+unit*1.5, s.y, 13, 0, s.o.Quiet)
		if s.o.Typed != nil {
			s.y += 17
			s.pen.words(s.Drawing, s.pen.mono, typedLine(s.o.Typed(f.Face)), s.left, s.y, 12, s.wide, s.o.Quiet)
		}
		s.y += 2 * unit
	}
	return nil
}

// digitsAbout says whether digits are of one width: those make columns, others do not. "" for a face
// without.
func (s *sheet) digitsAbout() string {
	t := s.typ()
	widths := map[float64]bool{}
	for r := '0'; r <= '9'; r++ {
		if a, ok := t.Paths.Advance(r); ok {
			widths[float64(a)] = true
		}
	}
	switch len(widths) {
	case 0:
		return ""
	case 1:
		return "of one width:\ntimes and prices\nstand in columns"
	}
	return "of different widths:\ncolumns do not\nline up"
}

// digits stand below each other.
func (s *sheet) digits() error {
	about, t := s.digitsAbout(), s.typ()
	if about == "" || !s.writes("0123456789") {
		return nil
	}
	s.section("Digits", about)
	const size = 40.0
	if err := s.say(t, "0123456789", size, 1); err != nil {
		return err
	}
	s.y += unit
	for _, row := range columns {
		if err := s.say(t, row, size*0.7, 1); err != nil {
			return err
		}
	}
	for _, zero := range zeros {
		if own := s.digitsFrom(zero); own != "" {
			s.y += unit
			if err := s.say(t, own, size*0.7, 1); err != nil {
				return err
			}
		}
	}
	return nil
}

// zeros are the digits zero of scripts that have their own (Unicode, Decimal_Number).
var zeros = []rune{0x660, 0x6F0, 0x966, 0x9E6, 0xA66, 0xAE6, 0xB66, 0xBE6, 0xC66, 0xCE6, 0xD66, 0xE50, 0xED0, 0xF20, 0x1040, 0x17E0}

// digitsFrom are the ten digits from a zero on, where the face has them all.
func (s *sheet) digitsFrom(zero rune) string {
	out := ""
	for r := zero; r < zero+10; r++ {
		if s.typ().Paths.Index(r) == 0 {
			return ""
		}
		out += string(r)
	}
	return out
}

// mixedUp are letters that readers take for each other.
func (s *sheet) mixedUp() error {
	if !s.writes(mixedUp) {
		return nil
	}
	s.section("Look-alikes", "can they be told\napart?")
	for _, size := range []float64{44, 16} {
		if err := s.say(s.typ(), mixedUp, size, 1); err != nil {
			return err
		}
		s.y += unit
	}
	return nil
}

// accents show marks on letters, high and low.
func (s *sheet) accents() error {
	if !s.writes(accents) {
		return nil
	}
	s.section("Accents", "")
	return s.say(s.typ(), accents, 30, 3)
}

// A block is a part of Unicode that the grid shows whole, with the characters that a face lacks.
type block struct {
	name        string
	first, last rune
}

// blocks are those that texts in the scripts of most apps need (Unicode 16, Blocks.txt).
var blocks = []block{{"Basic Latin", 0x21, 0x7E}, {"Latin-1 Supplement", 0xA1, 0xFF}, {"Latin Extended-A", 0x100, 0x17F}, {"Greek and Coptic", 0x370, 0x3FF},
	{"Cyrillic", 0x400, 0x4FF}, {"Armenian", 0x530, 0x58F}, {"Hebrew", 0x590, 0x5FF}, {"Arabic", 0x600, 0x6FF}, {"Devanagari", 0x900, 0x97F},
	{"Bengali", 0x980, 0x9FF}, {"Gurmukhi", 0xA00, 0xA7F}, {"Gujarati", 0xA80, 0xAFF}, {"Tamil", 0xB80, 0xBFF}, {"Telugu", 0xC00, 0xC7F},
	{"Kannada", 0xC80, 0xCFF}, {"Malayalam", 0xD00, 0xD7F}, {"Thai", 0xE00, 0xE7F}, {"Georgian", 0x10A0, 0x10FF}, {"Hiragana", 0x3040, 0x309F},
	{"Katakana", 0x30A0, 0x30FF}, {"General Punctuation", 0x2010, 0x205E}, {"Currency Symbols", 0x20A0, 0x20C0}, {"Arrows", 0x2190, 0x21FF}}

// within are the characters of a block that the shown face has, and all of them.
func (s *sheet) within(b block) (have, all []rune) {
	for r := b.first; r <= b.last; r++ {
		if assigned(r) {
			all = append(all, r)
			if s.typ().Paths.Index(r) != 0 {
				have = append(have, r)
			}
		}
	}
	return have, all
}

// shown says whether the grid holds a block: those that the face has a quarter of, or the first.
func (b block) shown(i, have, all int) bool { return have*4 >= all || i == 0 && have > 0 }

// mostOthers is how many characters of no block are shown.
const mostOthers = 480

// others are the characters that the face has outside of the blocks that are shown: icons, signs, and scripts of
// thousands of characters. It returns the first of them, and how many there are.
func (s *sheet) others() (out []rune, count int) {
	shown := sfnt.Coverage{{First: 0, Last: 0x20}, {First: 0xA0, Last: 0xA0}, {First: 0xAD, Last: 0xAD}}
	for i, b := range blocks {
		if have, all := s.within(b); b.shown(i, len(have), len(all)) {
			shown = append(shown, sfnt.Range{First: b.first, Last: b.last})
		}
	}
	shown = union(shown)
	for _, c := range s.face().Covered() {
		for r := c.First; r <= c.Last; r++ {
			if shown.Has(r) || !assigned(r) && !unicode.Is(unicode.Co, r) {
				continue
			}
			if count++; len(out) < mostOthers {
				out = append(out, r)
			}
		}
	}
	return out, count
}

func othersAbout(shown, count int) string {
	if shown < count {
		return fmt.Sprintf("the first %d\nof %d more", shown, count)
	}
	return fmt.Sprintf("%d more", count)
}

// characters is a grid of each block, and of others.
func (s *sheet) characters() error {
	if err := s.inBlocks(); err != nil {
		return err
	}
	list, count := s.others()
	if count == 0 {
		return nil
	}
	const cell, high = 44.0, 56.0
	s.section("Others", othersAbout(len(list), count))
	columns := int(s.wide / cell)
	for k, r := range list {
		x, y := s.left+float64(k%columns)*cell, s.y+float64(k/columns)*high
		if err := s.one(r, x, y, cell, true); err != nil {
			return err
		}
		s.pen.words(s.Drawing, s.pen.mono, fmt.Sprintf("%04X", r), x+10, y+cell+6, 9, 0, s.o.Quiet)
	}
	s.y += math.Ceil(float64(len(list))/float64(columns)) * high
	return nil
}

func (s *sheet) inBlocks() error {
	const cell = 44.0
	columns := int(s.wide / cell)
	for i, b := range blocks {
		have, all := s.within(b)
		if !b.shown(i, len(have), len(all)) {
			continue
		}
		s.section(b.name, fmt.Sprintf("%d of %d", len(have), len(all)))
		for k, r := range all {
			x, y := s.left+float64(k%columns)*cell, s.y+float64(k/columns)*cell
			if err := s.one(r, x, y, cell, slices.Contains(have, r)); err != nil {
				return err
			}
		}
		s.y += math.Ceil(float64(len(all))/float64(columns)) * cell
	}
	return nil
}

// one draws a cell of the grid; of a character that the face lacks, its number.
func (s *sheet) one(r rune, x, y, cell float64, have bool) error {
	if !have {
		s.Frame(x+3, y+3, cell-6, cell-6, 1, s.o.Rule)
		s.pen.words(s.Drawing, s.pen.mono, fmt.Sprintf("%04X", r), x+8, y+cell/2+4, 11, 0, s.o.Alarm)
		return nil
	}
	t, text := s.typ(), s.seen(r)
	lines, err := t.Lines(text, Style{Size: 26})
	if err != nil || len(lines) == 0 {
		return err
	}
	scale := 26 / float64(t.UnitsPerEm)
	s.line(t, lines[0], x+(cell-lines[0].Advance*scale)/2, y+cell/2+9, scale, Style{Size: 26, Colour: s.o.Ink, Lacking: s.o.Alarm})
	return nil
}

// seen is a character as a grid shows it: marks stand on a dotted circle, where the face has one.
func (s *sheet) seen(r rune) string {
	switch {
	case !unicode.Is(unicode.M, r):
		return string(r)
	case s.typ().Paths.Index('\u25cc') == 0:
		return "\u00a0" + string(r)
	}
	return "\u25cc" + string(r)
}

// assigned says whether a character can be seen, and exists.
func assigned(r rune) bool {
	return unicode.IsPrint(r) && !unicode.IsSpace(r) && runenames.Name(r) != ""
}
