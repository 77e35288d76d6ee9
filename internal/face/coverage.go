package face

import (
	"fmt"
	"sort"
	"unicode"

	"notaria/internal/sfnt"
)

func (f *Face) takeCoverage(font *sfnt.Font) error {
	c, err := font.Coverage()
	if err != nil {
		return err
	}
	f.cover = c
	f.Characters = c.Len()
	f.Scripts = scripts(c)
	return nil
}

// Lacks lists the characters of a text, in order and each once, that the face
// cannot write. Line ends and signs that only steer others do not count. The
// face must have been read with Options.Coverage.
func (f Face) Lacks(text string) []string {
	out := []string{}
	seen := map[rune]bool{}
	for _, r := range text {
		if seen[r] || f.cover.Has(r) || unicode.IsControl(r) || unicode.Is(unicode.Cf, r) || unicode.Is(unicode.Variation_Selector, r) {
			continue
		}
		seen[r] = true
		out = append(out, string(r))
	}
	return out
}

// scriptCodes are the ISO 15924 codes of the scripts that are reported.
var scriptCodes = map[string]*unicode.RangeTable{
	"Latn": unicode.Latin, "Cyrl": unicode.Cyrillic, "Grek": unicode.Greek, "Arab": unicode.Arabic,
	"Hebr": unicode.Hebrew, "Armn": unicode.Armenian, "Geor": unicode.Georgian, "Deva": unicode.Devanagari,
	"Beng": unicode.Bengali, "Guru": unicode.Gurmukhi, "Gujr": unicode.Gujarati, "Orya": unicode.Oriya,
	"Taml": unicode.Tamil, "Telu": unicode.Telugu, "Knda": unicode.Kannada, "Mlym": unicode.Malayalam,
	"Sinh": unicode.Sinhala, "Thai": unicode.Thai, "Laoo": unicode.Lao, "Khmr": unicode.Khmer,
	"Mymr": unicode.Myanmar, "Tibt": unicode.Tibetan, "Ethi": unicode.Ethiopic, "Hani": unicode.Han,
	"Hira": unicode.Hiragana, "Kana": unicode.Katakana, "Hang": unicode.Hangul, "Bopo": unicode.Bopomofo,
	"Mong": unicode.Mongolian, "Syrc": unicode.Syriac, "Thaa": unicode.Thaana, "Cher": unicode.Cherokee,
	"Tfng": unicode.Tifinagh, "Cans": unicode.Canadian_Aboriginal, "Copt": unicode.Coptic,
}

// minLetters is how many letters of a script make a face one for that script;
// a few Greek letters for formulas do not.
const minLetters = 20

// scripts lists the scripts that a face has at least a basic set of letters of.
func scripts(c sfnt.Coverage) []string {
	out := []string{}
	for code, table := range scriptCodes {
		if countIn(c, table) >= minLetters {
			out = append(out, code)
		}
	}
	sort.Strings(out)
	return out
}

// countIn counts the codepoints of c in a table, range by range.
func countIn(c sfnt.Coverage, table *unicode.RangeTable) int {
	n := 0
	count := func(lo, hi, stride rune) {
		i := sort.Search(len(c), func(i int) bool { return c[i].Last >= lo })
		for ; i < len(c) && c[i].First <= hi; i++ {
			from, to := max(c[i].First, lo), min(c[i].Last, hi)
			from += (stride - (from-lo)%stride) % stride
			if to >= from {
				n += int((to-from)/stride) + 1
			}
		}
	}
	for _, r := range table.R16 {
		count(rune(r.Lo), rune(r.Hi), rune(r.Stride))
	}
	for _, r := range table.R32 {
		count(rune(r.Lo), rune(r.Hi), rune(r.Stride))
	}
	return n
}

// Languages of name records: Windows language identifiers and Macintosh
// languageOf codes (spec: name, "Windows language IDs", "Macintosh language IDs").
var (
	windowsLanguages = map[uint16]string{
		0x0409: "en-US", 0x0809: "en-GB", 0x0c09: "en-AU", 0x1009: "en-CA", 0x0407: "de-DE", 0x040c: "fr-FR",
		0x0410: "it-IT", 0x040a: "es-ES", 0x0c0a: "es-ES", 0x0416: "pt-BR", 0x0816: "pt-PT", 0x0413: "nl-NL",
		0x0406: "da-DK", 0x041d: "sv-SE", 0x0414: "nb-NO", 0x040b: "fi-FI", 0x0415: "pl-PL", 0x0405: "cs-CZ",
		0x040e: "hu-HU", 0x0419: "ru-RU", 0x0408: "el-GR", 0x041f: "tr-TR", 0x0411: "ja-JP", 0x0412: "ko-KR",
		0x0804: "zh-CN", 0x0404: "zh-TW", 0x0c04: "zh-HK", 0x0401: "ar-SA", 0x040d: "he-IL", 0x041e: "th-TH",
		0x042a: "vi-VN", 0x0439: "hi-IN", 0x041b: "sk-SK", 0x0424: "sl-SI", 0x042d: "eu-ES", 0x0403: "ca-ES",
	}
	macLanguages = map[uint16]string{
		0: "en", 1: "fr", 2: "de", 3: "it", 4: "nl", 5: "sv", 6: "es", 7: "da", 8: "pt", 9: "no", 10: "he",
		11: "ja", 12: "ar", 13: "fi", 14: "el", 17: "tr", 19: "zh-Hant", 23: "ko", 25: "pl", 26: "hu", 32: "ru",
		33: "zh-Hans",
	}
)

// languageOf returns a record's language as a BCP 47 tag, or its number.
func languageOf(r sfnt.NameRecord) string {
	table := map[uint16]map[uint16]string{sfnt.PlatformWindows: windowsLanguages, sfnt.PlatformMac: macLanguages}[r.Platform]
	if tag, ok := table[r.Language]; ok {
		return tag
	}
	if r.Platform == sfnt.PlatformUnicode {
		return "und"
	}
	return fmt.Sprintf("0x%04x", r.Language)
}

// Covered are the characters that the face has, where it was read with its coverage.
func (f Face) Covered() sfnt.Coverage { return f.cover }
