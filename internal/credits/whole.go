package credits

import (
	_ "embed"
	"hash/fnv"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"notaria/internal/lazy"
)

// Texts of licences are known whole: licences.txt has, for each, how many words its paragraphs have and a sum of them. It is made of the SPDX
// License List by the program in gen. A file is read as one row of words, so that it does not matter how its lines are broken or marked.

//go:embed licences.txt
var licences string

// A known is a licence whose text is known.
type known struct {
	id, name   string
	paragraphs []paragraph
	words      int
}

type paragraph struct {
	words int
	sum   uint64
}

var knowns = lazy.Of(func() (out []known) {
	for line := range strings.Lines(licences) {
		f := strings.Split(strings.TrimSuffix(line, "\n"), "\t")
		if strings.HasPrefix(line, "#") || len(f) != 3 {
			continue
		}
		k := known{id: f[0], name: f[1]}
		for _, p := range strings.Fields(f[2]) {
			n, sum, _ := strings.Cut(p, ":")
			words, err1 := strconv.Atoi(n)
			s, err2 := strconv.ParseUint(sum, 16, 64)
			if err1 == nil && err2 == nil {
				k.paragraphs, k.words = append(k.paragraphs, paragraph{words, s}), k.words+words
			}
		}
		out = append(out, k)
	}
	return out
})

// base is what sums are made with: that of a row of words is their sums as digits of it.
const base = 0x9E3779B97F4A7C15

// Words takes a text apart as licences are compared: letters and digits, small, with one spelling of licence.
func Words(text string) []string {
	out := strings.FieldsFunc(strings.ToLower(text), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
	for i, w := range out {
		if w == "licence" || w == "licences" {
			out[i] = "license" + w[len("licence"):]
		}
	}
	return out
}

// Sum is the sum of some words.
func Sum(words []string) (sum uint64) {
	for _, w := range words {
		sum = sum*base + wordSum(w)
	}
	return sum
}

func wordSum(w string) uint64 {
	h := fnv.New64a()
	h.Write([]byte(w))
	return h.Sum64()
}

// least is which part of a licence's words has to be there that it counts as whole, in hundredths: an address or a year can be another.
const least = 97

// mostWordsRead is how many words of a file are looked at.
const mostWordsRead = 60_000

// wholes finds the licences that a text has whole. rest is the text without them, which says what they are for, and what else there is.
func wholes(text string) (ids []string, rest string) {
	words := Words(text)
	words = words[:min(len(words), mostWordsRead)]
	sums, powers := make([]uint64, len(words)+1), make([]uint64, len(words)+1)
	powers[0] = 1
	for i, w := range words {
		sums[i+1], powers[i+1] = sums[i]*base+wordSum(w), powers[i]*base
	}
	wanted := map[int]map[uint64]bool{} // by their length
	for _, k := range knowns.Get() {
		for _, p := range k.paragraphs {
			if wanted[p.words] == nil {
				wanted[p.words] = map[uint64]bool{}
			}
			wanted[p.words][p.sum] = true
		}
	}
	at := map[paragraph]int{}
	for n, list := range wanted {
		for i := 0; i+n <= len(words); i++ {
			if sum := sums[i+n] - sums[i]*powers[n]; list[sum] {
				at[paragraph{n, sum}] = i + 1
			}
		}
	}
	taken := make([]bool, len(words))
	var best []known
	for _, k := range knowns.Get() {
		have := 0
		for _, p := range k.paragraphs {
			if at[p] > 0 {
				have += p.words
			}
		}
		if have*100 >= k.words*least {
			best = append(best, k)
		}
	}
	for _, k := range best {
		for _, p := range k.paragraphs {
			if i := at[p]; i > 0 {
				for j := range p.words {
					taken[i-1+j] = true
				}
			}
		}
		// A licence whose paragraphs are all in another one, such as the two-clause BSD in the three-clause one, is a part of that.
		if !slices.ContainsFunc(best, func(o known) bool { return o.words > k.words && within(k, o) }) {
			ids = append(ids, k.id)
		}
	}
	var b strings.Builder
	for i, w := range words {
		if !taken[i] {
			b.WriteString(w + " ")
		}
	}
	return ids, b.String()
}

// within says whether nearly all of a licence's paragraphs are in another.
func within(a, b known) bool {
	shared := 0
	for _, p := range a.paragraphs {
		if slices.Contains(b.paragraphs, p) {
			shared += p.words
		}
	}
	return shared*100 >= a.words*90
}
