package face

import "strings"

// weightWords are the words for weights, without spaces and hyphens (OpenType, OS/2, usWeightClass; CSS Fonts 4, 2.2),
// and words for them that are in use; the first of a weight is the usual one, and a longer word stands before one that
// it ends with.
var weightWords = []struct {
	word   string
	weight int
}{
	{"extralight", 200}, {"ultralight", 200}, {"semilight", 350}, {"demilight", 350}, {"semibold", 600}, {"demibold", 600}, {"extrabold", 800}, {"ultrabold", 800},
	{"extrablack", 950}, {"ultrablack", 950}, {"thin", 100}, {"hairline", 100}, {"light", 300}, {"regular", 400}, {"normal", 400}, {"book", 400}, {"plain", 400}, {"roman", 400},
	{"medium", 500}, {"demi", 600}, {"bold", 700}, {"black", 900}, {"heavy", 900},
}

// joined makes "Extra Bold", "Extra-Bold" and "EXTRA_BOLD" one word.
var joined = strings.NewReplacer(" ", "", "-", "", "_", "")

// WeightOf is the weight that a word means, in any spelling; false if it means none.
func WeightOf(word string) (int, bool) {
	word = strings.ToLower(joined.Replace(word))
	for _, w := range weightWords {
		if w.word == word {
			return w.weight, true
		}
	}
	return 0, false
}

// WeightWord is the usual word for a weight in hundreds, in small letters, "" for another number.
func WeightWord(weight int) string {
	for _, w := range weightWords {
		if w.weight == weight && weight%100 == 0 {
			return w.word
		}
	}
	return ""
}
