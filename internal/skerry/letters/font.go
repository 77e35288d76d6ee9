package letters

import (
	"fmt"
	"math"
	"sort"
	"strings"
	"unicode"

	"notaria/internal/layout"
	"notaria/internal/sfnt"
)

// Family is the family name of the demo's first typeface.
const Family = "Skerry Sans"

const (
	unitsPerEm = 1000
	ascent     = 960
	descent    = -240
	// stamp is 2026-06-01 in seconds since 1904: a fixed date keeps the bytes of
	// two runs the same.
	stamp = 3863116800
)

// Font draws one style of the family and returns it as a TrueType file. The
// same style always gives the same bytes.
func Font(st Style) ([]byte, error) {
	glyphs, cmap := draw(st)
	return build(st, glyphs, cmap, kernPairs(st, cmap))
}

// build writes a font of its glyphs.
func build(st Style, glyphs []sfnt.Glyph, cmap map[rune]uint16, pairs []layout.KernPair) ([]byte, error) {
	tables, err := tablesOf(st, glyphs, cmap, pairs)
	if err != nil {
		return nil, err
	}
	return sfnt.Build(tables)
}

// tablesOf are the tables of a font, with further names where it has some.
func tablesOf(st Style, glyphs []sfnt.Glyph, cmap map[rune]uint16, pairs []layout.KernPair, further ...sfnt.NameRecord) (map[string][]byte, error) {
	glyf, loca, hmtx, err := sfnt.Outlines(glyphs)
	if err != nil {
		return nil, err
	}
	maps, err := sfnt.CmapBytes(cmap)
	if err != nil {
		return nil, err
	}
	names, err := append(nameTable(st), further...).Bytes()
	if err != nil {
		return nil, err
	}
	m := measure(glyphs)
	labels := make([]string, len(glyphs))
	for i, g := range glyphs {
		labels[i] = g.Name
	}
	tables := map[string][]byte{
		"head": headTable(st, m).Bytes(), "hhea": hheaTable(st, m, len(glyphs)).Bytes(),
		"maxp": sfnt.Maxp{NumGlyphs: uint16(len(glyphs)), MaxPoints: m.points, MaxContours: m.contours}.Bytes(),
		"OS/2": os2Table(st, m, cmap).Bytes(), "name": names, "cmap": maps,
		"post": postTable(st).Bytes(labels), "glyf": glyf, "loca": loca, "hmtx": hmtx,
		"gasp": sfnt.GaspBytes(),
	}
	if len(pairs) > 0 {
		if tables["GPOS"], err = layout.KernBytes(pairs); err != nil {
			return nil, err
		}
	}
	return tables, nil
}

// draw makes all glyphs of a style: .notdef first, then by codepoint.
func draw(st Style) ([]sfnt.Glyph, map[rune]uint16) {
	all := map[rune]func(*draft){'\u00a0': marks[' '], '\u00ad': marks['-'], 'µ': drawMu}
	for _, set := range []map[rune]func(*draft){lower, upper, digits, marks, others} {
		for r, f := range set {
			all[r] = f
		}
	}
	for r, recipe := range composed {
		all[r] = func(d *draft) { compose(d, recipe) }
	}
	runes := make([]rune, 0, len(all))
	for r := range all {
		runes = append(runes, r)
	}
	sort.Slice(runes, func(i, j int) bool { return runes[i] < runes[j] })
	glyphs := []sfnt.Glyph{notdef(newDraft(st))}
	cmap := map[rune]uint16{}
	for _, r := range runes {
		d := newDraft(st)
		d.of = r
		all[r](d)
		cmap[r] = uint16(len(glyphs))
		glyphs = append(glyphs, d.glyph(fmt.Sprintf("uni%04X", r)))
	}
	return glyphs, cmap
}

// drawMu draws the micro sign: an u whose first stem goes down.
func drawMu(d *draft) {
	drawU(d)
	d.stem(d.s, descender, 200)
}

// extent is what several tables say about the glyphs as a whole.
type extent struct {
	xMin, yMin, xMax, yMax       int16
	minLeft, minRight, xMaxExt   int16
	advanceMax, points, contours uint16
	average                      int16
}

func measure(glyphs []sfnt.Glyph) extent {
	m := extent{minLeft: math.MaxInt16, minRight: math.MaxInt16}
	sum, n := 0, 0
	for _, g := range glyphs {
		m.advanceMax = max(m.advanceMax, g.Advance)
		if g.Advance > 0 {
			sum, n = sum+int(g.Advance), n+1
		}
		x0, y0, x1, y1, ok := g.Bounds()
		if !ok {
			continue
		}
		m.xMin, m.yMin, m.xMax, m.yMax = min(m.xMin, x0), min(m.yMin, y0), max(m.xMax, x1), max(m.yMax, y1)
		m.minLeft, m.minRight = min(m.minLeft, x0), min(m.minRight, int16(g.Advance)-x1)
		m.xMaxExt = max(m.xMaxExt, x1)
		points := 0
		for _, c := range g.Contours {
			points += len(c)
		}
		m.points, m.contours = max(m.points, uint16(points)), max(m.contours, uint16(len(g.Contours)))
	}
	m.average = int16(math.Round(float64(sum) / float64(n)))
	return m
}

func headTable(st Style, m extent) sfnt.Head {
	h := sfnt.Head{
		Revision: 0x00010000, Flags: 0x000b, UnitsPerEm: unitsPerEm, Created: stamp, Modified: stamp,
		XMin: m.xMin, YMin: m.yMin, XMax: m.xMax, YMax: m.yMax, LowestRecPPEM: 8, LongLoca: true,
	}
	if st.Weight >= 700 {
		h.MacStyle |= sfnt.MacBold
	}
	if st.Slant != 0 {
		h.MacStyle |= sfnt.MacItalic
	}
	return h
}

func hheaTable(st Style, m extent, glyphs int) sfnt.Hhea {
	h := sfnt.Hhea{
		Ascender: ascent, Descender: descent, AdvanceMax: m.advanceMax,
		MinLeft: m.minLeft, MinRight: m.minRight, XMaxExt: m.xMaxExt, CaretRise: 1, NumHMetrics: uint16(glyphs),
	}
	if st.Slant != 0 {
		h.CaretRise, h.CaretRun = 1000, int16(st.Slant*1000)
	}
	return h
}

func os2Table(st Style, m extent, cmap map[rune]uint16) sfnt.OS2 {
	last := rune(0)
	for r := range cmap {
		last = max(last, r)
	}
	o := sfnt.OS2{
		AvgCharWidth: m.average, WeightClass: st.Weight, WidthClass: 5,
		SubXSize: 650, SubYSize: 600, SubYOff: 75, SupXSize: 650, SupYSize: 600, SupYOff: 350,
		StrikeSize: int16(st.Bar), StrikePos: 300,
		// PANOSE: Latin text, sans with rounded ends, then the weight's digit.
		Panose:       [10]byte{2, 15, panoseWeight(st.Weight), panoseWidth(st), 2, 2, 4, 2, 2, 4},
		UnicodeRange: [4]uint32{1 | 1<<1 | 1<<31, 1 << 1, 0, 0}, // Basic Latin, Latin-1, punctuation; currency
		Vendor:       "SKRY", FirstChar: ' ', LastChar: uint16(last),
		TypoAscender: ascent, TypoDescender: descent,
		WinAscent: uint16(max(ascent, m.yMax)), WinDescent: uint16(max(-descent, -m.yMin)),
		CodePages: [2]uint32{1, 0}, XHeight: xHeight, CapHeight: capHeight,
		Selection: sfnt.SelUseTypoMetrics,
	}
	slabPanose(&o, st)
	switch {
	case st.Slant != 0:
		o.Selection |= sfnt.SelItalic
	case st.Weight >= 700:
		o.Selection |= sfnt.SelBold
	default:
		o.Selection |= sfnt.SelRegular
	}
	return o
}

func panoseWeight(w uint16) byte {
	switch {
	case w < 400:
		return 3
	case w < 600:
		return 5
	}
	return 8
}

func panoseWidth(st Style) byte {
	if st.Mono {
		return 9 // monospaced
	}
	return 3
}

func postTable(st Style) sfnt.Post {
	return sfnt.Post{
		ItalicAngle:  int32(math.Round(-math.Atan(st.Slant) * 180 / math.Pi * 65536)),
		UnderlinePos: -110, UnderlineLen: int16(st.Bar), FixedPitch: st.Mono,
	}
}

// PostScript is the style's PostScript name.
func (s Style) PostScript() string {
	return strings.ReplaceAll(s.family(), " ", "") + "-" + s.Name
}

// family is the style's family name.
func (s Style) family() string {
	if s.Family != "" {
		return s.Family
	}
	return Family
}

// nameTable names the style as the spec asks: families of more than four
// styles keep the legacy names apart from the typographic ones.
func nameTable(st Style) sfnt.Names {
	family, style := st.family(), st.Name
	linked := style == "Regular" || style == "Bold" || style == "Italic"
	texts := map[uint16]string{
		sfnt.NameCopyright: "Copyright 2026 The Skerry Ferries type bench",
		sfnt.NameFamily:    family, sfnt.NameStyle: style,
		sfnt.NameUnique:     "1.100;SKRY;" + st.PostScript(),
		sfnt.NameFull:       family + " " + style,
		sfnt.NameVersion:    "Version 1.100",
		sfnt.NamePostScript: st.PostScript(),
		sfnt.NameLicense:    "Drawn for the Skerry Ferries demo. Use, change and share it freely.",
	}
	if !linked {
		texts[sfnt.NameFamily], texts[sfnt.NameStyle] = family+" "+style, "Regular"
		texts[sfnt.NameTypoFamily], texts[sfnt.NameTypoStyle] = family, style
	}
	var names sfnt.Names
	for id, text := range texts {
		names = append(names,
			sfnt.NameRecord{ID: id, Platform: sfnt.PlatformWindows, Encoding: 1, Language: 0x0409, Value: text},
			sfnt.NameRecord{ID: id, Platform: sfnt.PlatformMac, Value: text})
	}
	return names
}

// Pairs whose shapes leave a hole between them, by what stands on each side.
// Letters with marks kern like the letters below the marks.
var kernRules = []struct {
	left, right string
	by          float64 // at the regular weight
}{
	{"A", "VWY", -62}, {"A", "T", -68}, {"A", "OCGQU", -16}, {"A", "vwy", -30}, {"A", "’”", -70},
	{"VWY", "A", -62}, {"T", "A", -68}, {"OD", "A", -16}, {"F", "A", -50}, {"P", "A", -56},
	{"T", "aceogdq", -74}, {"T", "srunmpz", -62}, {"T", "vwyx", -52}, {"T", ".,…", -80}, {"T", "-–—", -56}, {"T", ":;", -40},
	{"V", "aceogdq", -40}, {"V", ".,…", -84}, {"V", "urnmps", -26}, {"V", "-–", -30},
	{"W", "aceogdqs", -28}, {"W", ".,…", -60}, {"W", "-–", -20},
	{"Y", "aceogdq", -66}, {"Y", ".,…", -88}, {"Y", "urnmps", -46}, {"Y", "-–—", -56}, {"Y", "OCGQ", -22}, {"Y", "vwy", -22},
	{"L", "TVY", -72}, {"L", "WOCGQ", -30}, {"L", "vwy", -34}, {"L", "’”'\"", -80},
	{"P", ".,…", -104}, {"P", "aeo", -14}, {"F", ".,…", -80}, {"F", "aeo", -20},
	{"K", "OCGQ", -28}, {"K", "vwyeoc", -24}, {"R", "TVYW", -16}, {"DOQ", "TVYW", -18}, {"DO", ".,", -18},
	{"r", ".,…", -66}, {"r", "aceogdqs", -10}, {"vwy", ".,…", -58}, {"f", ".,…", -30}, {"f", "aceogdq", -12},
	{"f", "’”\"'?!)]", 34}, {"kx", "ceogdq", -14}, {"vy", "aceogdq", -10}, {"o", "vwyx", -8}, {"e", "vwyx", -8},
	{"bp", "vwyx", -8}, {"“‘", "A", -60}, {"7", ".,/", -70}, {"/", "/", -60}, {"1", "1", -40},
}

// kernPairs spells the rules out for the glyphs of a font, in ascending order.
func kernPairs(st Style, cmap map[rune]uint16) []layout.KernPair {
	kin := map[rune][]rune{}
	for r := range cmap {
		base := r
		if recipe, ok := composed[r]; ok {
			base = []rune(recipe)[0]
		}
		if unicode.IsLetter(r) || base == r {
			kin[base] = append(kin[base], r)
		}
	}
	values := map[[2]uint16]int16{}
	for _, rule := range kernRules {
		by := rule.by * (1 - (st.Stem-84)*0.0022)
		if st.Slab > 0 {
			by *= 0.4 // feet stand in the way
		}
		for _, l := range rule.left {
			for _, r := range rule.right {
				for _, left := range kin[l] {
					for _, right := range kin[r] {
						values[[2]uint16{cmap[left], cmap[right]}] = int16(math.Round(by))
					}
				}
			}
		}
	}
	pairs := make([]layout.KernPair, 0, len(values))
	for k, v := range values {
		pairs = append(pairs, layout.KernPair{Left: k[0], Right: k[1], Value: v})
	}
	sort.Slice(pairs, func(i, j int) bool {
		a, b := pairs[i], pairs[j]
		return a.Left < b.Left || a.Left == b.Left && a.Right < b.Right
	})
	return pairs
}
