package trim

import (
	"bytes"
	"slices"
	"unicode"

	"golang.org/x/text/unicode/bidi"
	"golang.org/x/text/unicode/norm"

	"notaria/internal/sfnt"
)

// Before a shaper looks at glyphs, it takes characters apart and puts them together (UAX 15), writes a dotted circle for a mark that
// stands alone, and has forms of its own where a font lacks tables. What it can come to of the wanted characters is kept, too.

// mostDecomposed bounds how many characters that a font lacks are looked at.
const mostDecomposed = 1 << 21

// closed are the wanted characters with what shapers can make of them, of a font that has some characters.
func closed(f *sfnt.Font, has, wanted sfnt.Coverage) []rune {
	own := both(has, wanted)
	set := make(map[rune]bool, len(own))
	for _, r := range own {
		set[r] = true
	}
	var more []rune
	add := func(list ...rune) {
		for _, r := range list {
			if !set[r] && has.Has(r) {
				set[r] = true
				more = append(more, r)
			}
		}
	}
	add(' ', 0xa0)
	joining := false // a character that another can be put together with
	for _, r := range own {
		joining = joining || joins(r)
		add(alike[r]...)
		if unicode.In(r, unicode.Mn, unicode.Mc) {
			add(0x25cc)
			add(apart(r)...)
		}
	}
	if slices.ContainsFunc(own, rightToLeft) {
		for _, r := range own {
			add(mirrors(r)...)
		}
	}
	looked := 0
	for _, c := range wanted { // of what the font lacks, the parts show
		for r := c.First; r <= c.Last && looked < mostDecomposed; r++ {
			if looked++; !set[r] {
				if parts := apart(r); parts != nil {
					add(parts...)
					add([]rune(norm.NFC.String(string(r)))...) // what is the same letter by another code
				}
			}
		}
	}
	if joining {
		for _, r := range own {
			add(apart(r)...)
		}
		together(has, set, add)
	}
	forms(f, has, set, add)
	own = append(own, more...)
	slices.Sort(own)
	return slices.Compact(own)
}

// rightToLeft says whether a letter runs from right to left.
func rightToLeft(r rune) bool {
	if r < 0x590 {
		return false
	}
	p, _ := bidi.LookupRune(r)
	return p.Class() == bidi.R || p.Class() == bidi.AL || r >= 0x202b && r <= 0x202e || r == 0x2067 || r == 0x200f
}

// mirrors are what takes the place of a sign between letters that run from right to left (UAX 9, L4): its bracket, or one of its
// neighbours, for signs of mathematics stand in pairs.
func mirrors(r rune) []rune {
	list := append([]rune(bidi.ReverseString(string(r))), mirror[r]...)
	if unicode.In(r, unicode.Sm, unicode.Pi, unicode.Pf, unicode.Ps, unicode.Pe) && r > 0xff {
		list = append(list, r-1, r+1)
	}
	return list
}

var mirror = map[rune][]rune{'<': {'>'}, '>': {'<'}, 0xab: {0xbb}, 0xbb: {0xab}, 0x2208: {0x220b}, 0x220b: {0x2208}, 0x2209: {0x220c}, 0x220c: {0x2209}, 0x220a: {0x220d}, 0x220d: {0x220a},
	0x2215: {0x29f5}, 0x29f5: {0x2215}, 0x2243: {0x22cd}, 0x22cd: {0x2243}, 0x2298: {0x29b8}, 0x29b8: {0x2298}, 0x22a6: {0x2ade}, 0x2ade: {0x22a6}, 0x22a8: {0x2ae4}, 0x2ae4: {0x22a8},
	0x22a9: {0x2ae3}, 0x2ae3: {0x22a9}, 0x22ab: {0x2ae5}, 0x2ae5: {0x22ab}}

// apart is what a character is made of (its canonical decomposition); nothing for one that is not made of others.
func apart(r rune) []rune {
	d := norm.NFD.PropertiesString(string(r)).Decomposition()
	if d == nil && r >= 0xac00 && r <= 0xd7a3 { // syllables of Hangul are taken apart by arithmetic
		d = norm.NFD.Bytes([]byte(string(r)))
	}
	list := []rune(string(d))
	if len(list) < 2 && (len(list) == 0 || list[0] == r) {
		return nil
	}
	return list
}

// joins says whether a character can become one with that in front of it: a mark, or a vowel or a final of Hangul.
func joins(r rune) bool {
	return unicode.In(r, unicode.Mn, unicode.Mc) || r >= 0x1160 && r <= 0x11ff
}

// together adds the characters of a font that are made of some, one of which joins.
func together(has sfnt.Coverage, set map[rune]bool, add func(...rune)) {
	marks := map[rune]bool{}
	for r := range set {
		if joins(r) {
			marks[r] = true
		}
	}
	for _, c := range has {
		for r := c.First; r <= c.Last; r++ {
			if set[r] {
				continue
			}
			list := apart(r)
			if len(list) > 0 && slices.ContainsFunc(list, func(p rune) bool { return marks[p] }) && !slices.ContainsFunc(list, func(p rune) bool { return !set[p] }) {
				add(r)
			}
		}
	}
}

// alike are characters that shapers show for others, or take them apart into, beyond what Unicode says.
var alike = map[rune][]rune{
	0x2011: {0x2010}, 0x0e33: {0x0e4d, 0x0e32}, 0x0eb3: {0x0ecd, 0x0eb2}, 0x200c: {0x200b}, 0x200d: {0x200b},
	0x17be: {0x17c1}, 0x17bf: {0x17c1}, 0x17c0: {0x17c1}, 0x17c4: {0x17c1}, 0x17c5: {0x17c1},
}

// forms adds the characters for joined forms of Arabic, and those of Thai for marks at other places, which shapers use where a font has no
// tables for that.
func forms(f *sfnt.Font, has sfnt.Coverage, set map[rune]bool, add func(...rune)) {
	arabic, thai := false, false
	for r := range set {
		arabic = arabic || r >= 0x600 && r <= 0x6ff
		thai = thai || r >= 0xe00 && r <= 0xe7f
	}
	gsub, _ := f.Table("GSUB")
	if arabic && !bytes.Contains(gsub, []byte("init")) {
		for _, c := range both(has, sfnt.Coverage{{First: 0xfb50, Last: 0xfdff}, {First: 0xfe70, Last: 0xfefc}}) {
			if !slices.ContainsFunc([]rune(norm.NFKD.String(string(c))), func(p rune) bool { return !set[p] && p != ' ' }) {
				add(c)
			}
		}
	}
	if thai && !bytes.Contains(gsub, []byte("thai")) {
		add(both(has, sfnt.Coverage{{First: 0xf700, Last: 0xf71a}, {First: 0xf884, Last: 0xf899}})...)
	}
}
