package shape

import (
	"slices"
	"strings"
	"unicode"

	"github.com/go-text/typesetting/segmenter"
)

// breaks are the places where lines may end, in order; the end of the text is the last. They are those of Chromium and Safari: Unicode
// Standard Annex 14, with small kana as other kana (CSS Text 3, 5.2, line-break: normal), with what these browsers do between two
// characters of ASCII, and always behind a space.
func (p *paragraph) breaks(s *segmenter.Segmenter) (out []int) {
	ends := make([]bool, len(p.text)+1)
	for l := s.LineIterator(); l.Next(); {
		ends[l.Line().Offset+len(l.Line().Text)] = true
	}
	for i := 1; i < len(p.text); i++ {
		before, after := p.text[i-1], p.text[i]
		switch {
		case spaces(after):
			ends[i] = false
		case spaces(before):
			ends[i] = true
		case printed(before) && printed(after):
			ends[i] = p.breaksASCII(i)
		}
	}
	for g := s.GraphemeIterator(); g.Next(); {
		if at := g.Grapheme().Offset; at > 0 && p.syllable(at, at+len(g.Grapheme().Text)) {
			ends[at] = true
		}
	}
	for i, end := range ends {
		if end && i > 0 {
			out = append(out, i)
		}
	}
	return out
}

func spaces(r rune) bool  { return r == ' ' || r == '\t' }
func printed(r rune) bool { return r > ' ' && r < 0x7F }

// After most signs these browsers break before a bracket that opens, after a hyphen and a question mark before nearly all. A hyphen
// before a digit is a minus, unless it stands behind a letter or a digit. (All 8,836 pairs, asked of Chromium.)
const (
	signsThatEnd     = "!\"#%&)*+,.:;=>\\]|}~"
	bracketsThatOpen = "(<[{"
	notAfterHyphen   = "!$),./:;?]}"
	notAfterQuestion = "!\"'),./:;?]}"
)

func (p *paragraph) breaksASCII(at int) bool {
	before, after := p.text[at-1], p.text[at]
	switch {
	case before == '-' && after >= '0' && after <= '9':
		return at > 1 && p.text[at-2] < 0x80 && (unicode.IsLetter(p.text[at-2]) || unicode.IsDigit(p.text[at-2]))
	case before == '-':
		return !strings.ContainsRune(notAfterHyphen, after)
	case before == '?':
		return !strings.ContainsRune(notAfterQuestion, after)
	}
	return strings.ContainsRune(signsThatEnd, before) && strings.ContainsRune(bracketsThatOpen, after)
}

// smallKana are characters of class CJ, which break as other kana do where line-break is normal.
func smallKana(r rune) bool {
	return strings.ContainsRune("ぁぃぅぇぉっゃゅょゎゕゖァィゥェォッャュョヮヵヶー", r) || r >= 0x31F0 && r <= 0x31FF || r >= 0xFF67 && r <= 0xFF70
}

// forBreaks is the text as the rules of Unicode see it.
func forBreaks(text []rune) []rune {
	if !slices.ContainsFunc(text, smallKana) {
		return text
	}
	text = slices.Clone(text)
	for i, r := range text {
		if smallKana(r) {
			text[i] = 'あ'
		}
	}
	return text
}

// WordsUnknown says whether a text is of a script that writes words without spaces, so that only a dictionary tells where they end
// (class SA of Unicode Standard Annex 14). Here lines of such texts are broken between syllables, about as often, but not always where
// a platform does it.
func WordsUnknown(text string) bool { return strings.ContainsFunc(text, complexContext) }

func complexContext(r rune) bool {
	return unicode.In(r, unicode.Thai, unicode.Lao, unicode.Khmer, unicode.Myanmar, unicode.Tai_Le, unicode.New_Tai_Lue, unicode.Tai_Tham, unicode.Tai_Viet) && (unicode.IsLetter(r) || unicode.Is(unicode.M, r))
}

// syllable says whether a syllable of such a script begins with a cluster: with a vowel that is written before its consonant, or with a
// consonant that has a vowel or a mark of its own. A bare consonant is taken as the end of the one before, and so is one that has no vowel
// of its own (asat, virama).
func (p *paragraph) syllable(from, to int) bool {
	if !complexContext(p.text[from-1]) || !complexContext(p.text[from]) || unicode.Is(unicode.M, p.text[from]) {
		return false
	}
	first, before := p.text[from], p.text[from-1]
	if leads(before) || stacks(before) || follows(first) || first == 'ๆ' || first == 'ฯ' {
		return false
	}
	if leads(first) {
		return true
	}
	cluster := p.text[from:to]
	if slices.ContainsFunc(cluster, kills) {
		return false
	}
	return len(cluster) > 1 || to < len(p.text) && follows(p.text[to])
}

// leads are vowels of Thai and Lao that stand before their consonant.
func leads(r rune) bool { return r >= 0x0E40 && r <= 0x0E44 || r >= 0x0EC0 && r <= 0x0EC4 }

// follows are vowels that stand behind their consonant and are letters of their own.
func follows(r rune) bool {
	return r == 0x0E30 || r == 0x0E32 || r == 0x0E33 || r == 0x0E45 || r == 0x0EB0 || r == 0x0EB2 || r == 0x0EB3
}

// stacks joins the consonant behind it to the one before: virama of Myanmar, coeng of Khmer.
func stacks(r rune) bool { return r == 0x1039 || r == 0x17D2 }

// kills takes the vowel of its consonant: asat of Myanmar, thanthakhat of Thai, its like of Lao and Khmer.
func kills(r rune) bool { return r == 0x103A || r == 0x0E4C || r == 0x0ECC || r == 0x17CD }
