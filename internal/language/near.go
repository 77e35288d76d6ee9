package language

import "strings"

// MostCompared is how long names are at most that Distance compares: they are untrusted text.
const MostCompared = 200

// Distance counts the letters to add, drop, change or swap with a neighbour; it
// gives most+1 when it is more than most.
func Distance(a, b string, most int) int {
	if len(a) > MostCompared || len(b) > MostCompared {
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

// NearWord returns the one of some words that a typed one most likely means: capitals, hyphens, underscores and
// spaces do not count, and one letter in four may be wrong. It is "" where none is near.
func NearWord(typed string, words []string) string {
	plain := strings.NewReplacer("-", "", "_", "", " ", "")
	want := strings.ToLower(plain.Replace(typed))
	best, least := "", (len(want)+1)/4
	for _, w := range words {
		if d := Distance(want, strings.ToLower(plain.Replace(w)), least); d <= least && (best == "" || d < least) {
			best, least = w, d
		}
	}
	return best
}
