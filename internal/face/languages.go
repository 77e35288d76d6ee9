package face

import (
	"slices"
	"strings"

	"notaria/internal/locale"
)

// Writes are the languages whose own letters the face has all of, by Unicode's locale data, in the order of their tags; varieties of a
// country are not told apart from their language. The face must have been read with Options.Coverage.
func (f Face) Writes() []locale.Letters {
	return slices.DeleteFunc(locale.Written(f.cover.Has), func(l locale.Letters) bool { return regional(l.Tag) })
}

// regional says whether a tag is that of a country's variety, such as pt-BR.
func regional(tag string) bool {
	_, last, more := strings.Cut(tag, "-")
	return more && len(last) != 4
}

// TellLanguages fills in which languages the face writes whole, and which letters of some it lacks; it says whether it lacks any.
func (f *Face) TellLanguages(asked []locale.Letters) bool {
	f.Languages = []string{}
	for _, l := range f.Writes() {
		f.Languages = append(f.Languages, l.Tag)
	}
	for _, l := range asked {
		if lost := f.LacksFor(l); len(lost) > 0 {
			if f.LackedBy == nil {
				f.LackedBy = map[string][]string{}
			}
			f.LackedBy[l.Tag] = lost
		}
	}
	return len(f.LackedBy) > 0
}

// LacksFor lists the letters of a language that the face lacks.
func (f Face) LacksFor(l locale.Letters) []string {
	var out []string
	for _, r := range l.Own {
		if !f.cover.Has(r) {
			out = append(out, string(r))
		}
	}
	return out
}
