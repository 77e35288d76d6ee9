package registry

import (
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"notaria/internal/fault"
	"notaria/internal/lazy"
	"notaria/internal/locale"
)

// Characters are those that an atlas holds: all that is said here, joined.
type Characters struct {
	Range string   `toml:"unicode-range"` // as CSS has it: U+0020-007E, U+20AC, U+4??
	Sets  []string `toml:"sets"`          // names of CharacterSets
	Text  string   `toml:"text"`          // each character of it
	// Languages adds the letters of languages by their tags, with their punctuation.
	Languages []string `toml:"languages"`
	Scripts   []string `toml:"scripts"` // names of scripts, such as Greek
	// AppStrings adds what stands in the strings of the app's sources and texts.
	AppStrings bool `toml:"app-strings"`

	read  bool // by Runes
	runes []rune
	wrong error
}

// CharacterSets are sets that have a name, in CSS notation.
var CharacterSets = map[string]string{
	"digits":         "U+0030-0039",
	"ascii":          "U+0020-007E",
	"latin-1":        "U+0020-007E, U+00A0-00FF",
	"latin-extended": "U+0100-017F, U+0218-021B, U+1E80-1E85, U+1E9E",
	"greek":          "U+0370-03FF",
	"cyrillic":       "U+0400-045F, U+0490-0491",
	"punctuation":    "U+2010-2027, U+2030-203A, U+20AC, U+2116, U+2122, U+2212",
	"arrows":         "U+2190-2199",
}

// mostCharacters is how many characters a role can ask for: an atlas of more is no atlas. A copy of a font can hold all that there are.
const (
	mostCharacters = 20000
	mostOfAll      = 1 << 18
)

// rangeForm is one expression of CSS Fonts 4, 4.5.1 (the unicode-range token).
var rangeForm = lazy.Regexp(`^[Uu]\+(?:([0-9A-Fa-f]{1,6})(?:-([0-9A-Fa-f]{1,6}))?|([0-9A-Fa-f]{0,5})(\?{1,6}))$`)

// Runes are the characters in the order of their codepoints, without those of the app's
// strings. Codepoints that are no characters, and controls, are left out. They are read once.
func (c *Characters) Runes() ([]rune, error) {
	if !c.read {
		c.runes, c.wrong = c.list()
		c.runes, c.read = slices.Clip(c.runes), true
	}
	return c.runes, c.wrong
}

func (c *Characters) list() ([]rune, error) {
	have := map[rune]bool{}
	expressions := []string{c.Range}
	for _, s := range c.Sets {
		if CharacterSets[s] == "" {
			return nil, fmt.Errorf("a set %q, which is none of: %s", s, strings.Join(slices.Sorted(maps.Keys(CharacterSets)), ", "))
		}
		expressions = append(expressions, CharacterSets[s])
	}
	for _, e := range expressions {
		if err := addRanges(have, e); err != nil {
			return nil, err
		}
	}
	for _, r := range strings.ToValidUTF8(c.Text, "") { // bytes that are no character do not become U+FFFD
		have[r] = true
	}
	if err := c.addLetters(have); err != nil {
		return nil, err
	}
	if len(have) > mostOfAll {
		return nil, fmt.Errorf("more than %d of them", mostOfAll)
	}
	return Drawn(have), nil
}

// Listed are all codepoints of the ranges, also those that draw nothing themselves.
func (c *Characters) Listed() ([]rune, error) {
	have := map[rune]bool{}
	if err := addRanges(have, c.Range); err != nil {
		return nil, err
	}
	return slices.Sorted(maps.Keys(have)), nil
}

// Kept are the characters that a copy of a font keeps, without those of the app's strings: where languages, scripts or the app's
// strings say what is needed, that is more than they say, for people type digits, signs and names into an app.
// It is nil where nothing is said: for all characters.
func (c *Characters) Kept() ([]rune, error) {
	if c.Range == "" && len(c.Sets)+len(c.Languages)+len(c.Scripts) == 0 && c.Text == "" && !c.AppStrings {
		return nil, nil
	}
	list, err := c.Runes()
	if err != nil || len(c.Languages)+len(c.Scripts) == 0 && !c.AppStrings {
		return list, err
	}
	list = append(slices.Clone(list), locale.Typed()...)
	slices.Sort(list)
	return slices.Compact(list), nil
}

// addLetters adds those of languages and scripts.
func (c *Characters) addLetters(have map[rune]bool) error {
	var lists [][]rune
	for _, tag := range c.Languages {
		l, err := locale.Of(tag)
		if err != nil {
			return err
		}
		lists = append(lists, l.All())
	}
	for _, name := range c.Scripts {
		list, err := locale.Script(name)
		if err != nil {
			return err
		}
		lists = append(lists, list)
	}
	for _, list := range lists {
		for _, r := range list {
			have[r] = true
		}
	}
	return nil
}

// ParseCharacters reads sets, U+ expressions and text, apart by spaces; what is in double quotes is
// text whatever it looks like.
func ParseCharacters(text string) (Characters, error) {
	var c Characters
	var ranges []string
	for rest := strings.TrimSpace(text); rest != ""; rest = strings.TrimSpace(rest) {
		word := rest
		if rest[0] == '"' {
			end := strings.IndexByte(rest[1:], '"')
			if end < 0 {
				return c, fault.Form("expected a second double quote, found %s", rest)
			}
			c.Text, rest = c.Text+rest[1:1+end], rest[end+2:]
			continue
		}
		word, rest, _ = strings.Cut(rest, " ")
		switch {
		case CharacterSets[word] != "":
			c.Sets = append(c.Sets, word)
		case len(word) > 2 && (word[:2] == "U+" || word[:2] == "u+"):
			ranges = append(ranges, strings.TrimSuffix(word, ","))
		default:
			c.Text += word
		}
	}
	c.Range = strings.Join(ranges, ",")
	return c, nil
}

// Drawn are the characters of a set that can be drawn, in the order of their codepoints.
func Drawn(have map[rune]bool) []rune {
	out := []rune{}
	for r := range have {
		if utf8.ValidRune(r) && r >= ' ' && (r < 0x7F || r >= 0xA0) {
			out = append(out, r)
		}
	}
	slices.Sort(out)
	return out
}

func addRanges(have map[rune]bool, list string) error {
	for _, one := range strings.Split(list, ",") {
		if one = strings.TrimSpace(one); one == "" {
			continue
		}
		m := rangeForm.FindStringSubmatch(one)
		if m == nil {
			return fmt.Errorf("%q in unicode-range", one)
		}
		first, last := m[1], m[2]
		if m[4] != "" {
			first, last = m[3]+strings.Repeat("0", len(m[4])), m[3]+strings.Repeat("F", len(m[4]))
		} else if last == "" {
			last = first
		}
		from, err1 := strconv.ParseUint(first, 16, 32)
		to, err2 := strconv.ParseUint(last, 16, 32)
		switch {
		case err1 != nil || err2 != nil || to > utf8.MaxRune || from > to:
			return fmt.Errorf("%q in unicode-range, which ends before it begins, or beyond U+10FFFF", one)
		case to-from > mostOfAll:
			return fmt.Errorf("%q in unicode-range: more than %d characters", one, mostOfAll)
		}
		for r := from; r <= to; r++ {
			have[rune(r)] = true
		}
	}
	return nil
}
