// Package locale knows the letters that languages are written with, and those of scripts.
//
// The languages are those of the Unicode Common Locale Data Repository; languages.txt is made of it by the program in gen. Scripts are
// those of the Unicode Character Database, as Go's unicode package has them (UAX #24).
package locale

import (
	_ "embed"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"notaria/internal/fault"
	"notaria/internal/lazy"
)

//go:embed languages.txt
var languages string

// Letters are what a language is written with, each list in the order of codepoints.
type Letters struct {
	Tag     string // BCP 47, as the data has it: that of the language, or of what it is a variety of
	Own     []rune // letters of its own, small and large
	Foreign []rune // further ones, which names and words of other languages have
	Marks   []rune // digits and punctuation
	Name    string // in English
}

// All are the three lists together.
func (l Letters) All() []rune { return slices.Concat(l.Own, l.Foreign, l.Marks) }

// Of finds the letters of a language by its tag, such as de, pt-BR, sr_Latn; of a variety that has no letters of its own, those of the
// language.
func Of(tag string) (Letters, error) {
	if !form.MatchString(tag) {
		return Letters{}, unknown("a language by its tag, such as de, pt-BR or zh-Hant", tag)
	}
	parts := strings.FieldsFunc(tag, func(r rune) bool { return r == '-' || r == '_' })
	for i, p := range parts {
		switch {
		case i == 0 || len(p) > 4: // a language, or a variant
			parts[i] = strings.ToLower(p)
		case len(p) == 4:
			parts[i] = strings.ToUpper(p[:1]) + strings.ToLower(p[1:])
		default:
			parts[i] = strings.ToUpper(p)
		}
	}
	for n := len(parts); n > 0; n-- {
		if l, ok := lineOf(strings.Join(parts[:n], "-")); ok {
			return l, nil
		}
	}
	return Letters{}, unknown("a language by its tag, such as de, pt-BR or zh-Hant", tag)
}

// Named are the languages of some tags; none where one of them is all.
func Named(tags []string) (out []Letters, err error) {
	for _, t := range tags {
		if t == "all" {
			return nil, nil
		}
		l, err := Of(t)
		if err != nil {
			return nil, err
		}
		out = append(out, l)
	}
	return out, nil
}

// form is what tags look like (BCP 47), with the underscores that file names have.
var form = lazy.Regexp(`^[A-Za-z0-9]{2,8}(?:[-_][A-Za-z0-9]{1,8}){0,6}$`)

// unknown says what was expected; a word that would drown the message is cut.
func unknown(expected, found string) error {
	if r := []rune(found); len(r) > 40 {
		found = string(r[:40]) + "…"
	}
	return fault.Form("expected %s, found %q", expected, found)
}

// lineOf reads the line of a tag.
func lineOf(tag string) (Letters, bool) {
	_, rest, ok := strings.Cut(languages, "\n"+tag+"\t")
	if !ok {
		return Letters{}, false
	}
	line, _, _ := strings.Cut(rest, "\n")
	lists := strings.Split(line, "\t")
	if len(lists) != 4 {
		return Letters{}, false
	}
	return Letters{tag, runes(lists[0]), runes(lists[1]), runes(lists[2]), lists[3]}, true
}

// runes reads ranges such as 61-7A C4.
func runes(s string) []rune {
	var out []rune
	for _, f := range strings.Fields(s) {
		first, last, more := strings.Cut(f, "-")
		a, err := strconv.ParseUint(first, 16, 32)
		b := a
		if more && err == nil {
			b, err = strconv.ParseUint(last, 16, 32)
		}
		for r := a; err == nil && r <= b; r++ {
			out = append(out, rune(r))
		}
	}
	return out
}

// all are the languages with their own letters alone, in the order of their tags.
var all = lazy.Of(func() (out []Letters) {
	for line := range strings.Lines(languages) {
		if lists := strings.Split(strings.TrimSuffix(line, "\n"), "\t"); len(lists) == 5 {
			out = append(out, Letters{Tag: lists[0], Own: runes(lists[1]), Name: lists[4]})
		}
	}
	return out
})

// Written are the languages whose own letters are all there, as has says of each, in the order of their tags; digits, punctuation and the
// letters of foreign words do not count.
func Written(has func(rune) bool) (out []Letters) {
	for _, l := range all.Get() {
		if !slices.ContainsFunc(l.Own, func(r rune) bool { return !has(r) }) {
			out = append(out, l)
		}
	}
	return out
}

// Tags lists the languages, in the order of their tags.
func Tags() []string {
	var out []string
	for line := range strings.Lines(languages) {
		if tag, _, ok := strings.Cut(line, "\t"); ok && !strings.HasPrefix(line, "#") {
			out = append(out, tag)
		}
	}
	return out
}

// Script is the characters of a script by its name, such as Latin or Devanagari, with the marks that letters of many scripts take.
// Capitals do not count, and spaces stand for the data's underscores.
func Script(name string) (out []rune, err error) {
	wanted := strings.ToLower(strings.NewReplacer(" ", "", "_", "", "-", "").Replace(name))
	for known, table := range unicode.Scripts {
		if strings.ToLower(strings.ReplaceAll(known, "_", "")) != wanted || known == "Common" || known == "Inherited" {
			continue
		}
		for _, t := range []*unicode.RangeTable{table, unicode.Inherited} {
			for _, r := range t.R16 {
				for c := rune(r.Lo); c <= rune(r.Hi); c += rune(r.Stride) {
					out = append(out, c)
				}
			}
			for _, r := range t.R32 {
				for c := rune(r.Lo); c <= rune(r.Hi); c += rune(r.Stride) {
					out = append(out, c)
				}
			}
		}
		slices.Sort(out)
		return out, nil
	}
	return nil, unknown("a script by its name in Unicode, such as Latin, Cyrillic or Devanagari", name)
}

// Typed is what people type whatever their language is: what keyboards have, and what apps make of it.
func Typed() []rune {
	return runes("20-7E A0 A9 AB B0 B7 BB D7 2010-2015 2018-201E 2020-2022 2026 2030 2032-2033 2039-203A 20AC 2122 2190-2193 2212 25CF")
}
