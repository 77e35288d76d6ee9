package credits

import (
	"slices"
	"strings"
)

// Machine-readable copyright files say which licence which files come under (Debian, copyright-format 1.0): a stanza for some files each. What
// they say of all that is not the packaging is the font's licence, where they say one thing.

// shortNames are licences by the names that such files have for them, where these are no identifiers. A GNU licence without a plus is not
// among them: many such files have it where the text says that later versions count.
var shortNames = map[string]string{"expat": "MIT", "sil-1.1": "OFL-1.1", "ofl": "", "sil-ofl-1.1": "OFL-1.1", "ofl-1.1-rfn": "OFL-1.1", "ofl-1.1-no-rfn": "OFL-1.1", "sil": "", "bsd-3-clause": "BSD-3-Clause",
	"gpl-2+": "GPL-2.0-or-later", "gpl-2.0+": "GPL-2.0-or-later", "gpl2+": "GPL-2.0-or-later", "gpl-3+": "GPL-3.0-or-later", "gpl-3.0+": "GPL-3.0-or-later", "gpl3+": "GPL-3.0-or-later",
	"lgpl-2.1+": "LGPL-2.1-or-later", "lgpl-3+": "LGPL-3.0-or-later", "agpl-3+": "AGPL-3.0-or-later", "ufl-1.0": "Ubuntu-font-1.0"}

// stanzas reads such a file; false for another one.
func stanzas(text string) (id string, is bool) {
	head, _, _ := strings.Cut(strings.TrimLeft(text, "\uFEFF\n "), "\n")
	if !strings.HasPrefix(head, "Format:") || !strings.Contains(head, "copyright-format/1.0") {
		return "", false
	}
	all := map[string]bool{}
	for _, s := range strings.Split(strings.ReplaceAll(text, "\r\n", "\n"), "\n\n") {
		files, license := field(s, "Files:"), field(s, "License:")
		if files != "" {
			all[license] = true
		}
		if files == "" || !slices.ContainsFunc(strings.Fields(files), func(f string) bool { return f != "debian" && !strings.HasPrefix(f, "debian/") }) {
			continue
		}
		one := shortName(license)
		if id != "" && one != id || one == "" {
			id, is = "", true
			continue
		}
		if !is {
			id = one
		}
	}
	// A licence of another name that all of the package comes under is found by its text.
	return id, id != "" || len(all) > 1
}

// field is the value of a field of a stanza, on its first line and those that are further in, up to where another text begins.
func field(stanza, name string) string {
	lines := strings.Split(stanza, "\n")
	for i, l := range lines {
		v, ok := strings.CutPrefix(l, name)
		if !ok {
			continue
		}
		if name == "Files:" {
			for _, more := range lines[i+1:] {
				if !strings.HasPrefix(more, " ") && !strings.HasPrefix(more, "\t") {
					break
				}
				v += " " + more
			}
		}
		return strings.TrimSpace(v)
	}
	return ""
}

// shortName is the identifier, or the expression, of what a License field says; "" for what is not known.
func shortName(s string) string {
	if a, b, two := strings.Cut(s, " or "); two {
		x, y := shortName(a), shortName(b)
		if x == "" || y == "" || strings.Contains(y, " OR ") {
			return ""
		}
		return x + " OR " + y
	}
	plain, with, excepted := strings.Cut(strings.Replace(strings.ToLower(s), "-with-font", " with font", 1), " with ")
	if !excepted {
		plain = s
	}
	if excepted && !strings.Contains(with, "font") {
		return ""
	}
	plain = strings.TrimSpace(plain)
	id, known := shortNames[strings.ToLower(plain)]
	if !known && nameOf(plain) != "" && !strings.Contains(plain, "GPL") {
		id = plain
	}
	if excepted && id != "" {
		if !strings.Contains(id, "GPL") {
			return ""
		}
		id += " WITH Font-exception-2.0"
	}
	return id
}
