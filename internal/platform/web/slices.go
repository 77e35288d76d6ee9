package web

import (
	"cmp"
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"
	"unicode"

	"notaria/internal/face"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/sfnt"
)

// A face can be on a page in several files, each with some of its characters (CSS Fonts 4, 4.5, unicode-range): a browser loads those
// alone that a page needs. What belongs together stays together, for nothing is kerned, joined or placed between letters of two files:
// a script is in one file, with the marks that its letters take, and so are the characters that the site itself shows, where its texts
// are what is asked for.

// Values of the option.
const (
	optSlices = "slices"
	byScripts = "scripts"
	byText    = "text"
)

// A part is one of these files.
type part struct {
	name       string // behind the face's in the name of the file
	characters sfnt.Coverage
}

// How large parts are: a file of fewer characters is not worth a request of its own, and of more is split.
const (
	leastPart = 16
	mostPart  = 640
)

// partsOf are the parts of a face, the first one first; nil where it is one file. A face of which all would be in one is one.
func (s *site) partsOf(job platform.Job, f platform.Face) ([]part, error) {
	way := s.opt.Word(optSlices)
	if way == "" || way == "none" {
		return nil, nil
	}
	key := f.ID()
	if have, ok := s.parts[key]; ok {
		return have, nil
	}
	m, err := job.Metrics(f.ID())
	if err != nil {
		return nil, err
	}
	if way == byText && s.own == nil {
		texts, err := platform.EveryCharacter(s.Tree, s.Dir)
		if err != nil {
			return nil, err
		}
		s.own = map[rune]bool{}
		for _, r := range texts {
			s.own[r] = true
		}
	}
	list := parted(m.Coverage(), s.own)
	if s.parts == nil {
		s.parts = map[string][]part{}
	}
	s.parts[key] = list
	return list, nil
}

// parted puts each character of a face into a part; own are those of the site's texts, nil where scripts alone count.
func parted(has sfnt.Coverage, own map[rune]bool) []part {
	of, marks := sorted(has, own)
	first := latin
	if own != nil {
		first = firstPart
	}
	for _, name := range slices.Collect(maps.Keys(of)) {
		if name != first && len(of[name]) < leastPart {
			of[first] = append(of[first], of[name]...)
			delete(of, name)
		}
	}
	for _, m := range marks {
		if !slices.ContainsFunc(slices.Collect(maps.Keys(of)), func(name string) bool { return takes(name, m) }) {
			of[first] = append(of[first], m)
		}
	}
	var out []part
	for name, list := range of {
		slices.Sort(list)
		for i := 0; i*mostPart < len(list); i++ {
			some := slices.Clone(list[i*mostPart : min(len(list), (i+1)*mostPart)])
			for _, m := range marks {
				if takes(name, m) {
					some = append(some, m)
				}
			}
			p := part{name, face.Covering(some)}
			if len(list) > mostPart {
				p.name = fmt.Sprintf("%s-%d", name, i+1)
			}
			out = append(out, p)
		}
	}
	if len(out) < 2 {
		return nil
	}
	rank := func(p part) int {
		i := slices.Index([]string{first, latin, moreLatin}, strings.TrimRight(p.name, "-0123456789"))
		return (i + 4) % 4 // what is none of them comes last
	}
	slices.SortFunc(out, func(a, b part) int { return cmp.Or(cmp.Compare(rank(a), rank(b)), cmp.Compare(a.name, b.name)) })
	return out
}

// sorted are the characters of a face by the names of their parts, and the marks.
func sorted(has sfnt.Coverage, own map[rune]bool) (of map[string][]rune, marks []rune) {
	of = map[string][]rune{}
	for _, c := range has {
		for r := c.First; r <= c.Last; r++ {
			switch name := scriptPart(r); {
			case own[r] || own != nil && name == latin && r < 0x80:
				of[firstPart] = append(of[firstPart], r)
			case name == "":
				marks = append(marks, r)
			default:
				of[name] = append(of[name], r)
			}
		}
	}
	return of, marks
}

// Names of parts that are no scripts.
const (
	firstPart = "own"
	latin     = "latin"
	moreLatin = "latin-more"
	signs     = "signs"
)

// scriptPart is the part of a character by its script (UAX #24); "" for marks, which several scripts take.
func scriptPart(r rune) string {
	switch {
	case r <= 0xFF || r == 0x131 || r == 0x152 || r == 0x153 || r >= 0x2BB && r <= 0x2DD || slices.Contains([]rune{0x2122, 0x2212}, r):
		return latin
	case r == 0x200C || r == 0x200D || unicode.Is(unicode.Inherited, r):
		return ""
	case r >= 0x2000 && r <= 0x206F || r >= 0x20A0 && r <= 0x20BF:
		return latin
	}
	if name := scriptOf(r); name != "" {
		return name
	}
	return cmp.Or(blocks.Get()[r>>7], signs)
}

// takes says whether letters of a part take a mark (UAX #24, ScriptExtensions.txt, in short).
func takes(name string, mark rune) bool {
	within := func(first, last rune) bool { return mark >= first && mark <= last }
	switch {
	case mark == 0x200C || mark == 0x200D || within(0xFE00, 0xFE0F) || within(0xE0100, 0xE01EF) || name == firstPart:
		return true
	case within(0x300, 0x36F) || within(0x1AB0, 0x1AFF) || within(0x1DC0, 0x1DFF) || within(0xFE20, 0xFE2F):
		return slices.Contains([]string{latin, moreLatin, "greek", "cyrillic", "coptic", "glagolitic", "gothic", "old-permic", "bopomofo"}, name)
	case within(0x485, 0x486):
		return name == "cyrillic"
	case within(0x64B, 0x670):
		return slices.Contains([]string{"arabic", "syriac", "thaana"}, name)
	case within(0x951, 0x954) || within(0x1CD0, 0x1CFF):
		return !slices.Contains([]string{latin, moreLatin, "greek", "cyrillic", "arabic", "hebrew", "han", "kana", "hangul", signs}, name)
	case within(0x302A, 0x302D) || within(0x3099, 0x309A):
		return name == "han" || name == "kana" || name == "hangul"
	case within(0x20D0, 0x20FF):
		return name == signs
	}
	return true
}

// A span is a range of one script.
type span struct {
	first, last rune
	name        string
}

// spans are those of all scripts, in ascending order.
var spans = lazy.Of(func() []span {
	var out []span
	for name, table := range unicode.Scripts {
		if name == "Common" || name == "Inherited" {
			continue
		}
		switch name {
		case "Latin":
			name = moreLatin
		case "Hiragana", "Katakana":
			name = "kana"
		}
		name = strings.ToLower(strings.ReplaceAll(name, "_", "-"))
		add := func(first, last, step rune) {
			for ; step > 1 && first < last; first += step {
				out = append(out, span{first, first, name})
			}
			out = append(out, span{first, last, name})
		}
		for _, r := range table.R16 {
			add(rune(r.Lo), rune(r.Hi), rune(r.Stride))
		}
		for _, r := range table.R32 {
			add(rune(r.Lo), rune(r.Hi), rune(r.Stride))
		}
	}
	slices.SortFunc(out, func(a, b span) int { return cmp.Compare(a.first, b.first) })
	return out
})

// blocks are the scripts of 128 characters each, where signs stand among the letters of one; else signs.
var blocks = lazy.Of(func() map[rune]string {
	out := map[rune]string{}
	for _, s := range spans.Get() {
		for b := s.first >> 7; b <= s.last>>7; b++ {
			if out[b] == "" && s.name != moreLatin {
				out[b] = s.name
			}
		}
	}
	return out
})

// scriptOf is the script of a character, as a part of a file's name; "" for those of several.
func scriptOf(r rune) string {
	list := spans.Get()
	i, found := slices.BinarySearchFunc(list, r, func(s span, r rune) int { return cmp.Compare(s.first, r) })
	if !found {
		i--
	}
	if i < 0 || r > list[i].last {
		return ""
	}
	return list[i].name
}

// ranges are those of a part as CSS has them.
func (p part) ranges() string {
	var list []string
	for _, c := range p.characters {
		if c.First == c.Last {
			list = append(list, fmt.Sprintf("U+%X", c.First))
		} else {
			list = append(list, fmt.Sprintf("U+%X-%X", c.First, c.Last))
		}
	}
	return strings.Join(list, ", ")
}

// partFile is where a part of a face goes.
func (s *site) partFile(f platform.Face, p part) string {
	return path.Join(platform.Spelled(s.Tree, path.Join(s.sheet, fontFolder)), platform.FileBase(f.ID())+"."+p.name+"."+formatTwo)
}

// partRecipe makes it.
func (s *site) partRecipe(f platform.Face, p part) platform.Recipe {
	return platform.Slice{Face: f.ID(), Ranges: p.ranges(), Small: s.opt.Word(optPacking) == small}
}
