package credits

import (
	"strings"

	"notaria/internal/lazy"
)

// names are the licences that fonts come under most, by their identifiers (SPDX License List 3.27).
var names = map[string]string{
	"OFL-1.1":         "SIL Open Font License 1.1",
	"OFL-1.0":         "SIL Open Font License 1.0",
	"Apache-2.0":      "Apache License 2.0",
	"MIT":             "MIT License",
	"CC0-1.0":         "Creative Commons Zero 1.0 Universal",
	"CC-BY-4.0":       "Creative Commons Attribution 4.0 International",
	"CC-BY-SA-4.0":    "Creative Commons Attribution Share Alike 4.0 International",
	"Ubuntu-font-1.0": "Ubuntu Font Licence 1.0",
	"Bitstream-Vera":  "Bitstream Vera Font License",
	"LPPL-1.3c":       "LaTeX Project Public License 1.3c",
	"GPL-3.0-or-later WITH Font-exception-2.0": "GNU General Public License 3.0 or later, with the font exception",
	"GPL-2.0-or-later WITH Font-exception-2.0": "GNU General Public License 2.0 or later, with the font exception",
	"BSD-3-Clause": "BSD 3-Clause License",
	"Unlicense":    "The Unlicense",
}

// marks are phrases of a licence that no other has: all of one row are in its text. Rows that say more
// come before those that say less.
var marks = []struct {
	id    string
	words []string
}{
	{"OFL-1.1", []string{"sil open font license", "version 1.1"}},
	{"OFL-1.1", []string{"sil open font licence", "version 1.1"}},
	{"OFL-1.0", []string{"sil open font license", "version 1.0"}},
	{"OFL-1.1", []string{"scripts.sil.org/ofl"}},
	{"OFL-1.1", []string{"openfontlicense.org"}},
	{"Ubuntu-font-1.0", []string{"ubuntu font licence", "version 1.0"}},
	{"Bitstream-Vera", []string{"bitstream vera", "permission is hereby granted, free of charge, to any person obtaining a copy of the fonts"}},
	{"GPL-3.0-or-later WITH Font-exception-2.0", []string{"gnu general public license", "version 3", "as a special exception, if you create a document which uses this font"}},
	{"GPL-2.0-or-later WITH Font-exception-2.0", []string{"gnu general public license", "version 2", "as a special exception, if you create a document which uses this font"}},
	{"Apache-2.0", []string{"apache license", "version 2.0"}},
	{"Apache-2.0", []string{"apache.org/licenses/license-2.0"}},
	{"CC0-1.0", []string{"cc0 1.0 universal"}},
	{"CC0-1.0", []string{"creativecommons.org/publicdomain/zero/1.0"}},
	{"CC-BY-SA-4.0", []string{"creative commons attribution-sharealike 4.0"}},
	{"CC-BY-SA-4.0", []string{"creativecommons.org/licenses/by-sa/4.0"}},
	{"CC-BY-4.0", []string{"creative commons attribution 4.0"}},
	{"CC-BY-4.0", []string{"creativecommons.org/licenses/by/4.0"}},
	{"LPPL-1.3c", []string{"latex project public license", "version 1.3c"}},
	{"Unlicense", []string{"this is free and unencumbered software released into the public domain"}},
	{"BSD-3-Clause", []string{"redistribution and use in source and binary forms", "neither the name of", "may be used to endorse or promote"}},
	{"MIT", []string{"permission is hereby granted, free of charge, to any person obtaining a copy of this software", "the above copyright notice and this permission notice shall be included"}},
}

// strangers are the names of further licences, and those under which these ones go elsewhere. A text that has one beside what was found
// is about several licences, and which of them counts for the font is for people to say. A family's own texts can have its own.
var strangers = []struct{ family, words string }{
	{"GPL", "gnu general public license"}, {"GPL", "gnu lesser general public"}, {"GPL", "gnu library general public"}, {"GPL", "gnu affero"}, {"GPL", "gpl-1"}, {"GPL", "gpl-2"}, {"GPL", "gpl-3"}, {"GPL", "gplv2"}, {"GPL", "gplv3"},
	{"GFDL", "gnu free documentation"}, {"OFL", "open font license"}, {"OFL", "open font licence"}, {"OFL", "ofl-1.1"}, {"OFL", "ofl 1.1"}, {"OFL", "sil-1.1"},
	{"IPA", "ipa font license"}, {"IPA", "ipa-1"}, {"MPL", "mozilla public license"}, {"CC", "creative commons attribution"}, {"CC", "creativecommons.org/licenses/"}, {"CC", "cc-by"}, {"CC0", "cc0 1.0"}, {"CC0", "cc0-1.0"},
	{"OGDL", "open government data"}, {"OGDL", "ogdl"}, {"M+", "m+ font"}, {"M+", "m+fonts"}, {"GUST", "gust font"}, {"LPPL", "latex project public"}, {"LPPL", "lppl"}, {"Artistic", "artistic license"},
	{"Arphic", "arphic public"}, {"Baekmuk", "baekmuk"}, {"Bitstream", "bitstream vera"}, {"Apache", "apache license"}, {"ISC", "isc license"}, {"EPL", "eclipse public license"}, {"MIT", "license: expat"}, {"MIT", "license: mit"},
	{"X", "unicode, inc. license"}, {"X", "all rights reserved. no part"}, {"X", "non-commercial"}, {"X", "noncommercial"}, {"X", "personal use"},
}

// only says that later versions of the GPL do not count, or leaves open whether they do.
var only = lazy.Regexp(`(?:version|gpl|gplv)[ -]?[23](?:\.0)?(?: of the license)?,?[ -]only|only version [23]|no later version`)

// Recognise finds the SPDX identifier, or expression, of a licence: by the text's own line SPDX-License-Identifier; by the whole text of a
// licence; or by what a text, or a font's own words, say. It is "" for a text that is none of these, or that names another licence as well:
// no answer is better than a wrong one.
func Recognise(text string) string {
	for _, by := range []func(string) (string, bool){declared, stanzas} {
		if id, said := by(text); said {
			return id
		}
	}
	ids, rest := wholes(text)
	text = strings.ToLower(strings.Join(strings.Fields(text), " "))
	switch {
	case len(ids) == 1:
		return whole(ids[0], text, rest)
	case len(ids) > 1:
		return ""
	}
	found := recognised(text)
	for _, s := range strangers {
		if found != "" && s.family != family(found) && strings.Contains(text, s.words) {
			return ""
		}
	}
	if own, _, _ := strings.Cut(text, gplBody); family(found) == "GPL" && (only.MatchString(text) || !strings.Contains(own, "any later version")) {
		return ""
	}
	return found
}

// whole is what a text comes under that has one licence whole: rest are its other words. If they name another one, nothing is said. Of the GNU
// licences they must say whether later versions count.
func whole(id, text, rest string) string {
	for _, s := range strangers {
		if s.family != family(id) && !related(id, s.family) && strings.Contains(rest, strings.Join(Words(s.words), " ")) && (!strings.Contains(s.words, "+") || strings.Contains(text, s.words)) {
			return ""
		}
	}
	if !strings.Contains(id, "GPL-") {
		return id
	}
	number := id[strings.IndexByte(id, '-')+1:]
	later, exactly := strings.Contains(rest, "any later version") || strings.Contains(rest, " "+strings.ToLower(strings.TrimSuffix(id, ".0"))+" or later"), only.MatchString(text)
	switch {
	case !strings.Contains(rest, "version "+number[:1]) || later == exactly:
		return ""
	case later:
		id += "-or-later"
	default:
		id += "-only"
	}
	if strings.Contains(rest, "as a special exception if you create a document which uses this font") {
		return id + " WITH Font-exception-2.0"
	}
	if strings.Contains(rest, "exception") {
		return "" // another one
	}
	return id
}

// related says whether a licence's notices speak of a stranger's family in any case.
func related(id, stranger string) bool {
	return strings.HasSuffix(family(id), "GPL") && stranger == "GPL" || id == "Bitstream-Vera" && stranger == "Bitstream" || strings.HasPrefix(id, "CC0") && stranger == "CC"
}

// identifier is the line by which files say it themselves (SPDX 2.3, annex E).
var identifier = lazy.Regexp(`(?m)SPDX-License-Identifier:[ \t]*([A-Za-z0-9.+() -]+?)[ \t]*(?:\*/|-->|#|$)`)

// declared is what such lines say; of several that differ, or of one that is no expression, "".
func declared(text string) (id string, said bool) {
	all := identifier.FindAllStringSubmatch(text, -1)
	for _, m := range all {
		if id != "" && m[1] != id {
			return "", true
		}
		id = m[1]
	}
	if len(all) > 0 && !expression(id) {
		id = ""
	}
	return id, len(all) > 0
}

// expression says whether a text is one of identifiers that are known, joined by OR, AND and WITH.
func expression(s string) bool {
	expected := true // an identifier, and not an operator
	for _, w := range strings.Fields(strings.NewReplacer("(", " ", ")", " ").Replace(s)) {
		operator := w == "OR" || w == "AND" || w == "WITH"
		if operator == expected || !operator && nameOf(w) == "" && w != "Font-exception-2.0" {
			return false
		}
		expected = operator
	}
	return !expected
}

// nameOf is what a licence is called; of an expression, the expression; "" for one that is not known.
func nameOf(id string) string {
	if n := names[id]; n != "" {
		return n
	}
	if strings.Contains(id, " OR ") || strings.Contains(id, " AND ") {
		return id
	}
	plain, with, excepted := strings.Cut(id, " WITH ")
	ending := ""
	for _, e := range []struct{ of, words string }{{"-or-later", " or later"}, {"-only", ", no other version"}, {"+", " or later"}} {
		if p, ok := strings.CutSuffix(plain, e.of); ok {
			plain, ending = p, e.words
		}
	}
	for _, k := range knowns.Get() {
		if k.id == plain {
			if excepted {
				ending += ", with the " + strings.ReplaceAll(strings.ToLower(with[:min(len(with), 14)]), "-", " ")
			}
			return k.name + ending
		}
	}
	return ""
}

// gplBody is where the licence itself begins, which speaks of later versions in any case: what counts is said before it.
const gplBody = "everyone is permitted to copy and distribute verbatim copies"

// recognised goes by the marks alone.
func recognised(text string) string {
	found := ""
	for _, m := range marks {
		all := true
		for _, w := range m.words {
			all = all && strings.Contains(text, w)
		}
		switch {
		case !all || found == m.id:
		case found == "":
			found = m.id
		case family(found) != family(m.id):
			return "" // two licences: which of them counts is for people to say
		}
	}
	return found
}

// family is what two editions of a licence share: a text of the one can name the other.
func family(id string) string {
	name, _, _ := strings.Cut(id, "-")
	return name
}
