package web

import (
	"fmt"
	"math"
	"strings"

	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/platform"
)

// standIn is a font of the reader's machine with the measures of a face, for the letters of one script.
type standIn struct {
	Family, Source                 string
	Range                          string // the characters that it is for, "" for all
	Size, Ascent, Descent, LineGap string // percent
}

// A local is a font that readers' machines have, under any of these names, with the mean
// advance of its letters in ems, by script.
type local struct {
	names                  []string
	latin, cyrillic, greek float64
}

// locals are fonts that most machines have, or that others measure like them, by kind,
// bold and italic. The means of Latin letters are those of the metrics that Adobe published for its base
// fonts (Helvetica, Times and Courier), of which these have the advances; those of Cyrillic and Greek letters
// were measured in the Liberation fonts 2.1, which have the advances of the others by their makers' word.
var locals = map[string][4]local{
	"sans": {
		{[]string{"Arial", "Liberation Sans"}, mean(helvetica), 0.55, 0.5096},
		{[]string{"Arial Bold", "Arial-BoldMT", "Liberation Sans Bold"}, mean(helveticaBold), 0.5963, 0.5575},
		{[]string{"Arial Italic", "Arial-ItalicMT", "Liberation Sans Italic"}, mean(helvetica), 0.5746, 0.5045},
		{[]string{"Arial Bold Italic", "Arial-BoldItalicMT", "Liberation Sans Bold Italic"}, mean(helveticaBold), 0.6223, 0.5537}},
	"serif": {
		{[]string{"Times New Roman", "TimesNewRomanPSMT", "Liberation Serif"}, mean(times), 0.4978, 0.4666},
		{[]string{"Times New Roman Bold", "TimesNewRomanPS-BoldMT", "Liberation Serif Bold"}, mean(timesBold), 0.5351, 0.494},
		{[]string{"Times New Roman Italic", "TimesNewRomanPS-ItalicMT", "Liberation Serif Italic"}, mean(timesItalic), 0.5083, 0.451},
		{[]string{"Times New Roman Bold Italic", "TimesNewRomanPS-BoldItalicMT", "Liberation Serif Bold Italic"}, mean(timesBoldItalic), 0.5327, 0.4803}},
	"mono": {
		{[]string{"Courier New", "CourierNewPSMT", "Liberation Mono"}, 0.6, 0.6, 0.6},
		{[]string{"Courier New Bold", "CourierNewPS-BoldMT", "Liberation Mono Bold"}, 0.6, 0.6, 0.6},
		{[]string{"Courier New Italic", "CourierNewPS-ItalicMT", "Liberation Mono Italic"}, 0.6, 0.6, 0.6},
		{[]string{"Courier New Bold Italic", "CourierNewPS-BoldItalicMT", "Liberation Mono Bold Italic"}, 0.6, 0.6, 0.6}},
}

// scripts besides Latin that those fonts have, with how often each small letter is met in a thousand: counted in the
// translations of Debian's programs into Russian (1,786,424 letters) and Greek (665,980).
var scripts = []struct {
	ranges  string
	letters string
	often   []int
	mean    func(local) float64
}{
	{"U+400-4FF", "оеаинтрслвкпдмуязьыйбчгжцфхюшщэёъ", []int{94, 93, 86, 77, 72, 63, 53, 50, 44, 41, 35, 32, 31, 28, 23, 21, 20, 20, 20, 16, 15, 11, 10, 9, 6, 6, 6, 6, 5, 4, 2, 2, 1}, func(l local) float64 { return l.cyrillic }},
	{"U+370-3FF", "αοετινρσμηκπυςλίγδήέάόχωθύφώβξζψ", []int{95, 81, 71, 70, 63, 61, 49, 48, 42, 40, 35, 35, 31, 30, 28, 26, 23, 22, 21, 20, 19, 18, 14, 12, 11, 9, 9, 5, 5, 3, 3, 1}, func(l local) float64 { return l.greek }},
}

// leastShift is how much wider or narrower the letters of a script have to be than Latin letters, in percent, that a rule of
// their own is worth its bytes.
const leastShift = 0.5

// standIns makes the rules that stand in for a face: one for all its letters, by those of Latin, and one for each other script
// that would not fit. None, where the face has no letters to measure.
func standIns(f face.Face, facts platform.Facts, fallback string) []standIn {
	if facts.Metrics == nil || facts.Metrics.Mean([]rune(sample)) == 0 {
		return nil
	}
	if fallback == "" {
		if f.Category == "unknown" {
			f.Category = facts.Metrics.Category
		}
		fallback = kindOf(f)
	}
	at := 0
	if f.Weight >= 600 {
		at = 1
	}
	if f.Slant != face.Upright {
		at += 2
	}
	l := locals[fallback][at]
	all := facts.Overrides([]rune(sample), l.latin)
	list := []standIn{newStandIn(f, l, all, "")}
	for _, s := range scripts {
		letters := repeated([]rune(s.letters), s.often)
		if !hasAll(facts.Metrics, s.letters) {
			continue
		}
		if o := facts.Overrides(letters, s.mean(l)); math.Abs(o.Size-all.Size) >= leastShift {
			list = append(list, newStandIn(f, l, o, s.ranges))
		}
	}
	return list
}

func newStandIn(f face.Face, l local, o platform.Overrides, ranges string) standIn {
	percent := func(v float64) string { return language.Number(float64(int(v*100+0.5))/100) + "%" }
	var names []string
	for _, n := range l.names {
		names = append(names, fmt.Sprintf("local(%q)", n))
	}
	return standIn{Family: language.CSS.Literal(platform.FamilyOf(f) + " stand-in"), Source: strings.Join(names, ", "), Range: ranges,
		Size: percent(o.Size), Ascent: percent(o.Ascent), Descent: percent(o.Descent), LineGap: percent(o.LineGap)}
}

func hasAll(m *face.Metrics, letters string) bool {
	for _, r := range letters {
		if _, ok := m.Advance(r); !ok {
			return false
		}
	}
	return true
}

// repeated is each letter as often as it is met.
func repeated(letters []rune, often []int) (list []rune) {
	for i, r := range letters {
		for range often[i] {
			list = append(list, r)
		}
	}
	return list
}

// kindOf is the kind of font that a face is most like.
func kindOf(f face.Face) string {
	switch {
	case f.FixedPitch || f.Category == "mono":
		return "mono"
	case f.Category == "serif" || f.Category == "slab":
		return "serif"
	}
	return "sans"
}

// Advances of the small letters from a to z and of the space, in thousandths of an em, by
// Adobe's metrics of its base fonts (Helvetica.afm and others, 1997).
var (
	helvetica       = [27]int{556, 556, 500, 556, 556, 278, 556, 556, 222, 222, 500, 222, 833, 556, 556, 556, 556, 333, 500, 278, 556, 500, 722, 500, 500, 500, 278}
	helveticaBold   = [27]int{556, 611, 556, 611, 556, 333, 611, 611, 278, 278, 556, 278, 889, 611, 611, 611, 611, 389, 556, 333, 611, 556, 778, 556, 556, 500, 278}
	times           = [27]int{444, 500, 444, 500, 444, 333, 500, 500, 278, 278, 500, 278, 778, 500, 500, 500, 500, 333, 389, 278, 500, 500, 722, 500, 500, 444, 250}
	timesBold       = [27]int{500, 556, 444, 556, 444, 333, 500, 556, 278, 333, 556, 278, 833, 556, 500, 556, 556, 444, 389, 333, 556, 500, 722, 500, 500, 444, 250}
	timesItalic     = [27]int{500, 500, 444, 500, 444, 278, 500, 500, 278, 278, 444, 278, 722, 500, 500, 500, 500, 389, 389, 278, 500, 444, 667, 444, 444, 389, 250}
	timesBoldItalic = [27]int{500, 500, 444, 500, 444, 333, 500, 556, 278, 278, 500, 278, 778, 556, 500, 500, 500, 389, 389, 278, 556, 444, 667, 500, 444, 389, 250}
)

// often is how often each small letter from a to z, and the space, is met in a thousand
// characters of running English text.
var often = [27]int{66, 12, 23, 34, 103, 18, 16, 49, 57, 1, 6, 33, 20, 57, 61, 16, 1, 49, 51, 73, 22, 8, 19, 1, 16, 1, 187}

// sample is each character as often as it is met.
var sample = string(repeated([]rune("abcdefghijklmnopqrstuvwxyz "), often[:]))

// mean is the mean advance of a font in ems, each letter weighted by how often it is met.
func mean(advances [27]int) float64 {
	sum, n := 0, 0
	for i, a := range advances {
		sum, n = sum+a*often[i], n+often[i]
	}
	return float64(sum) / float64(n) / 1000
}
