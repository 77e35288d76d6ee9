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
	if len(typed) > mostCompared {
		return ""
	}
	for _, n := range names[:min(len(names), mostCandidates)] {
		if max(len(n)-len(typed), len(typed)-len(n)) > len(typed)/2+6 {
			continue // an ending, and hyphens, at most
		}
		if otherStyle(want, plain(n)) {
			continue
		}
		if d := distance(want, plain(n), least); d <= least && (best == "" || d < least) {
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

// Bounds of the work of comparing names, which are untrusted text: how long they are,
// and how many.
const (
	mostCompared   = 200
	mostCandidates = 500
)

// distance counts the letters to add, drop, change or swap with a neighbour; it
// gives most+1 when it is more than most.
func distance(a, b string, most int) int {
	if len(a) > mostCompared || len(b) > mostCompared {
		return most + 1
	}
	prev2 := make([]int, len(b)+1)
	prev := make([]int, len(b)+1)
	cur := make([]int, len(b)+1)
	for j := range prev {
		prev[j] = j
	}
	for i := 1; i <= len(a); i++ {
		cur[0] = i
		near := i
		for j := 1; j <= len(b); j++ {
			cost := 1
			if a[i-1] == b[j-1] {
				cost = 0
			}
			cur[j] = min(prev[j]+1, cur[j-1]+1, prev[j-1]+cost)
			if i > 1 && j > 1 && a[i-1] == b[j-2] && a[i-2] == b[j-1] {
				cur[j] = min(cur[j], prev2[j-2]+1)
			}
			near = min(near, cur[j])
		}
		if near > most+1 { // a swap can take one off again
			return most + 1
		}
		prev2, prev, cur = prev, cur, prev2
	}
	return min(prev[len(b)], most+1)
}
