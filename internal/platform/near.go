package platform

import (
	"path"
	"strings"

	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
)

// Nearest returns the candidate that a typed name most likely means: capitals, spaces, hyphens and
// an ending do not count, and a few letters may be wrong. Another weight or slant is no mistake in
// writing: SkerrySans-Light does not mean SkerrySans-Bold.
func Nearest(typed string, names []string) string {
	plain := func(s string) string {
		if ext := path.Ext(s); LooksLikeFont(s) {
			s = strings.TrimSuffix(s, ext)
		}
		return language.Snake(language.Words(strings.ReplaceAll(strings.ToLower(s), "_", "-")))
	}
	want := plain(typed)
	best, least := "", min(len(want)/4+1, mostWrong)
	if len(typed) > language.MostCompared {
		return ""
	}
	for _, n := range names[:min(len(names), mostCandidates)] {
		if max(len(n)-len(typed), len(typed)-len(n)) > len(typed)/2+6 {
			continue // an ending, and hyphens, at most
		}
		if otherStyle(want, plain(n)) {
			continue
		}
		if d := language.Distance(want, plain(n), least); d <= least && (best == "" || d < least) {
			best, least = n, d
		}
	}
	return best
}

// mostWrong is how many letters of a name may be wrong.
const mostWrong = 3

// styleWords are words of styles beside those of weights, and digits of these.
var styleWords = lazy.Words(`italic oblique condensed expanded narrow wide 100 200 300 400 500 600 700 800 900`)

func isStyle(word string) bool {
	_, weight := face.WeightOf(word)
	return weight || styleWords.Has(word)
}

// otherStyle says whether two names differ in a word, and both words are of styles.
func otherStyle(a, b string) bool {
	x, y := strings.Split(a, "_"), strings.Split(b, "_")
	for i := 1; i <= min(len(x), len(y)); i++ {
		v, w := x[len(x)-i], y[len(y)-i]
		if v != w && isStyle(v) && isStyle(w) {
			return true
		}
	}
	return false
}

// mostCandidates bounds the work of comparing names, which are untrusted text.
const mostCandidates = 500
