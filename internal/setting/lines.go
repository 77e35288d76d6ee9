// Package setting knows how platforms set a text: how high they make a line of a font that no line height is given for, and how
// large a text is at the size that a reader chose.
package setting

import (
	"math"
	"slices"

	"notaria/internal/sfnt"
)

// A Rule is how some platforms make the height of a line from a font's tables.
type Rule struct {
	Name  string // in documents
	Title string // as people know it
	// Targets are those of ours whose apps follow it.
	Targets []string
	line    func(*Vertical) (ascent, descent, gap float64) // in font units
	rounds  bool                                           // each part, to whole pixels
}

// A Line is the height of a line and its parts, in the units that it was made for. The ascent is above the baseline and the
// descent below it; the gap is divided by browsers and stands below a line elsewhere.
type Line struct {
	Ascent  float64 `json:"ascent"`
	Descent float64 `json:"descent"`
	Gap     float64 `json:"gap"`
	Height  float64 `json:"height"`
}

// Rules are those that are known, each with its source:
//
//   - FreeType takes the typographic measures where the font asks for them (OS/2, fsSelection, bit 7), else those of hhea, and those of
//     OS/2 only where hhea has none (FreeType, sfobjs.c, sfnt_load_face). Chromium rounds each part (SimpleFontData, FontMetrics). Android's
//     layouts leave the gap out (StaticLayout: descent - ascent).
//   - Core Text takes those of hhea (Apple, TrueType Reference Manual, 'hhea').
//   - DirectWrite, GDI and WPF take the typographic measures where the font asks for them, else usWinAscent and usWinDescent with what is left
//     of hhea's gap (Microsoft, OpenType specification, Recommendations, "Baseline to baseline distances").
var Rules = []Rule{
	{"linux-browsers", "browsers on Linux and Android", []string{"web"}, freeType, true},
	{"android", "Android apps", []string{"android", "expo", "react-native", "nativescript", "maui"}, android, false},
	{"apple", "Apple", []string{"apple", "expo", "react-native", "nativescript", "maui", "web"}, coreText, false},
	{"windows", "Windows", []string{"wpf", "winui", "maui", "web"}, directWrite, false},
}

// Ruled says whether some rule is that of a target's apps.
func Ruled(target string) bool {
	return slices.ContainsFunc(Rules, func(r Rule) bool { return slices.Contains(r.Targets, target) })
}

// Vertical are the measures of a font that lines are made of.
type Vertical struct {
	unitsPerEm float64
	hhea       sfnt.Hhea
	os2        *sfnt.OS2 // nil for a font without one that holds them
}

// VerticalOf reads them. Errors are those of head and hhea; a font without OS/2 has none of its measures.
func VerticalOf(f *sfnt.Font) (*Vertical, error) {
	head, err := f.Head()
	if err != nil {
		return nil, err
	}
	hhea, err := f.Hhea()
	if err != nil {
		return nil, err
	}
	v := &Vertical{unitsPerEm: max(float64(head.UnitsPerEm), 1), hhea: hhea}
	if os2, err := f.OS2(); err == nil {
		v.os2 = &os2
	}
	return v, nil
}

// typographic says whether the font asks for the typographic measures.
func (v *Vertical) typographic() bool {
	return v.os2 != nil && v.os2.Selection&sfnt.SelUseTypoMetrics != 0
}

func (v *Vertical) typo() (ascent, descent, gap float64) {
	return float64(v.os2.TypoAscender), -float64(v.os2.TypoDescender), float64(v.os2.TypoLine)
}

func coreText(v *Vertical) (ascent, descent, gap float64) {
	return float64(v.hhea.Ascender), -float64(v.hhea.Descender), float64(v.hhea.LineGap)
}

func freeType(v *Vertical) (ascent, descent, gap float64) {
	switch {
	case v.typographic():
		return v.typo()
	case v.hhea.Ascender != 0 || v.hhea.Descender != 0 || v.os2 == nil:
		return coreText(v)
	case v.os2.TypoAscender != 0 || v.os2.TypoDescender != 0:
		return v.typo()
	}
	return float64(v.os2.WinAscent), float64(v.os2.WinDescent), 0
}

func android(v *Vertical) (ascent, descent, gap float64) {
	ascent, descent, _ = freeType(v)
	return ascent, descent, 0
}

func directWrite(v *Vertical) (ascent, descent, gap float64) {
	switch {
	case v.os2 == nil || v.os2.WinAscent == 0 && v.os2.WinDescent == 0:
		return coreText(v)
	case v.typographic():
		return v.typo()
	}
	ascent, descent = float64(v.os2.WinAscent), float64(v.os2.WinDescent)
	up, down, gap := coreText(v)
	return ascent, descent, max(0, gap-(ascent+descent-up-down))
}

// Line is the height of a line at a size in pixels per em.
func (r Rule) Line(v *Vertical, size float64) Line {
	a, d, g := r.line(v)
	scale := size / v.unitsPerEm
	l := Line{Ascent: a * scale, Descent: d * scale, Gap: g * scale}
	keep := func(x float64) float64 { return math.Round(x*100) / 100 }
	if r.rounds {
		keep = math.Round
	}
	l.Ascent, l.Descent, l.Gap = keep(l.Ascent)+0, keep(l.Descent)+0, keep(l.Gap)+0
	l.Height = math.Round((l.Ascent+l.Descent+l.Gap)*100) / 100
	return l
}

// Exact is the height of a line without rounding.
func (r Rule) Exact(v *Vertical, size float64) float64 {
	a, d, g := r.line(v)
	return (a + d + g) * size / v.unitsPerEm
}
