package specimen

import (
	"slices"
	"strings"
	"unicode"
)

// ferries are words of the harbour in other scripts, for faces without Latin letters.
var ferries = []string{
	"Паром на остров, 07:40", "Πλοίο για το νησί, 07:40", "Լաստանավ", "מעבורת לאי", "عبّارة إلى الجزيرة", "नौका घाट", "ফেরি ঘাট", "ਕਿਸ਼ਤੀ", "જહાજ", "படகு", "കപ്പൽ",
	"เรือข้ามฟาก", "ბორანი", "渡船", "フェリー", "여객선", "⛴🚢🌊", "07:40 123",
}

// mostOwn is how many of its own characters a face is shown with.
const mostOwn = 12

// Own is what a face is shown with where nobody asked for a text: that text, unless the face lacks most of
// its letters; else words in a script that it has, or its first letters or signs, of whichever it has more.
func (f Face) Own(text string) string {
	if f.writes(text) {
		return text
	}
	for _, t := range ferries {
		if len(f.Lacks(strings.ReplaceAll(t, " ", ""))) == 0 {
			return t
		}
	}
	best := []rune{}
	for _, good := range []func(rune) bool{unicode.IsLetter, unicode.IsPrint, func(r rune) bool { return unicode.Is(unicode.Co, r) }} {
		var out []rune
		for _, c := range f.Covered() {
			for r := c.First; r <= c.Last && len(out) < mostOwn; r++ {
				if good(r) && !unicode.IsSpace(r) {
					out = append(out, r)
				}
			}
		}
		if len(out) > len(best) { // a font of icons can have some letters as well, without ink
			best = out
		}
	}
	if len(best) == 0 {
		return text
	}
	return string(best)
}

// writes says whether a face has at least half of a text's letters.
func (f Face) writes(text string) bool {
	letters := []rune(strings.Join(strings.Fields(text), ""))
	slices.Sort(letters)
	letters = slices.Compact(letters)
	return len(letters) > 0 && 2*len(f.Lacks(string(letters))) <= len(letters)
}

// mostOwnWords is how many of its icons a font is shown with that makes them of words.
const mostOwnWords = 6

// shownIn is the text of a face that is made ready: a font of icons whose letters are empty is shown with words that become icons.
func (o Options) shownIn(f Face, t *Type) string {
	if words := t.Words(); o.Ours && len(words) > 0 {
		first, _ := slices.BinarySearch(words, "a") // not those that are called by a number
		if words = words[first:]; len(words) > 0 {
			return strings.Join(words[:min(len(words), mostOwnWords)], " ")
		}
	}
	return o.shown(f)
}

// shown is the text of a face: what was asked for, else its own.
func (o Options) shown(f Face) string {
	if o.Ours {
		return f.Own(o.Text)
	}
	return o.Text
}
