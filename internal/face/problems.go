package face

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode"

	"notaria/internal/sfnt"
)

// mostPostScript is the length that the spec allows name ID 6, in characters.
const mostPostScript = 63

// mend is the cure that the registry offers for names which do not work.
const mend = "; notaria enrol --mend-names takes a copy that is called "

// nameProblems reports names that some platform will trip over.
func (f *Face) nameProblems(names sfnt.Names) []Problem {
	var out []Problem
	add := func(code, message, cure string) { out = append(out, Problem{Code: code, Message: message, Cure: cure}) }
	better := MendedName(*f)
	switch r, ok := names.Best(sfnt.NamePostScript); {
	case !ok:
		add("no-postscript-name", "the font has no PostScript name (name ID 6)",
			"Apple cannot load it by name and Java makes one up, while Android goes by the file"+mend+better)
	case IllegalPostScript(f.PostScript) != "":
		add("bad-postscript-name", fmt.Sprintf("the PostScript name %q %s", Short(f.PostScript), IllegalPostScript(f.PostScript)),
			"Apple may cut or refuse it, FreeType passes over it, Java takes it as it is"+mend+better)
	case r.Broken():
		add("broken-name", "the PostScript name is not stored as its encoding says",
			"each reader makes something else of it"+mend+better)
	case r.Platform == sfnt.PlatformMac:
		add("mac-only-name", "the PostScript name is stored for the Macintosh alone",
			"Apple and FreeType find it, readers that go by Windows records do not"+mend+better)
	}
	f.weak = len(out) > 0
	if r, ok := names.Best(sfnt.NamePostScript); ok && !r.Broken() && sfnt.Clean(r.Text()) != r.Text() {
		add("padded-name", fmt.Sprintf("the PostScript name has white space or NULs about it: %q", Short(r.Text())),
			"some readers keep it as a part of the name"+mend+better)
	}
	if all := postScripts(names); len(all) > 1 {
		add("several-postscript-names", fmt.Sprintf("the font has %d PostScript names: %s", len(all), strings.Join(all[:min(len(all), 4)], ", ")),
			fmt.Sprintf("FreeType and Windows read the Windows record, others that of the Macintosh; Notaria goes by %q%s%s", Short(f.PostScript), mend, better))
	}
	for _, id := range []uint16{sfnt.NameFamily, sfnt.NameStyle, sfnt.NameFull, sfnt.NameTypoFamily, sfnt.NameTypoStyle} {
		r, ok := names.Best(id)
		if !ok {
			continue
		}
		switch text, broken := r.Decode(); {
		case broken:
			add("broken-name", fmt.Sprintf("name ID %d is not stored as its encoding says", id), "go by the PostScript name")
		case sfnt.Clean(text) != text:
			add("padded-name", fmt.Sprintf("name ID %d has white space or NULs about it: %q", id, Short(text)),
				"Java and FreeType keep the space as part of the name, others take it off; go by the PostScript name")
		}
	}
	return out
}

// postScripts are the different PostScript names of a font, in quotes, each with whose record it is; languages do not
// count, for the name has none (OpenType, name, ID 6).
func postScripts(names sfnt.Names) []string {
	var texts, out []string
	for _, r := range names {
		if r.ID != sfnt.NamePostScript {
			continue
		}
		stored, broken := r.Decode()
		text := sfnt.Clean(stored)
		if broken || text == "" || slices.Contains(texts, text) {
			continue
		}
		whose := "Unicode"
		switch r.Platform {
		case sfnt.PlatformMac:
			whose = "Macintosh"
		case sfnt.PlatformWindows:
			whose = "Windows"
		}
		texts, out = append(texts, text), append(out, fmt.Sprintf("%q (%s)", Short(text), whose))
	}
	return out
}

// IllegalPostScript says what is wrong with a PostScript name, or "" (spec:
// name, ID 6: printable ASCII without ten signs, at most 63 characters).
func IllegalPostScript(s string) string {
	for _, r := range s {
		if r < 0x21 || r > 0x7e || strings.ContainsRune("[](){}<>/%", r) {
			return fmt.Sprintf("holds %q, which the format forbids", r)
		}
	}
	if len(s) > mostPostScript {
		return fmt.Sprintf("has %d characters; %d are allowed", len(s), mostPostScript)
	}
	return ""
}

// MendedName makes a legal PostScript name out of what a face is called: family
// and style without what the format forbids. It is an offer for a copy, never
// taken for the name that a font has.
func MendedName(f Face) string {
	family, style := alphanumeric(f.Family), alphanumeric(f.Style)
	if family == "" {
		family = alphanumeric(f.Full)
	}
	if family == "" {
		family = "Face"
	}
	if style == "" {
		style = "Regular"
	}
	style = style[:min(len(style), mostPostScript/2)]
	return family[:min(len(family), mostPostScript-1-len(style))] + "-" + style
}

// alphanumeric keeps ASCII letters and digits, with accents taken off nothing:
// what is not ASCII goes.
func alphanumeric(s string) string {
	return strings.Map(func(r rune) rune {
		if r < 0x80 && (unicode.IsLetter(r) || unicode.IsDigit(r)) {
			return r
		}
		return -1
	}, s)
}

// instanceName makes the PostScript name of a variable font's instance as
// Adobe's Technical Note 5902 says: the prefix of name ID 25, or the family, then
// a hyphen and the instance's name, both without anything but letters and digits.
func instanceName(names sfnt.Names, family, instance string) string {
	prefix := alphanumeric(names.Get(sfnt.NameVariationsPS))
	if prefix == "" {
		prefix = alphanumeric(family)
	}
	if instance = alphanumeric(instance); prefix == "" || instance == "" {
		return ""
	}
	return prefix + "-" + instance
}

// saidWeight is the weight that a style's name says, 0 if it says none.
func saidWeight(style string) int {
	low := strings.ToLower(joined.Replace(style))
	for _, w := range weightWords {
		if w.weight != 400 && strings.Contains(low, w.word) { // "Roman Bold" is bold
			return w.weight
		}
	}
	return 0
}

// farWeight is how far a style's name may be from its weight class before
// people get another weight than they ask for.
const farWeight = 200

// contradictions reports where a font says two things about itself; angle is its
// italic angle in degrees.
func (f *Face) contradictions(o sfnt.OS2, angle float64) []Problem {
	var out []Problem
	add := func(code, cure, format string, args ...any) {
		out = append(out, Problem{Code: code, Message: fmt.Sprintf(format, args...), Cure: cure})
	}
	const byName = "ask for it by its PostScript name, not by weight or style"
	bold := o.Selection&sfnt.SelBold != 0
	switch said := saidWeight(f.Style); {
	case bold && f.Weight < 500:
		add("weight-contradiction", byName, "%s is flagged bold, yet its weight class is %d", Short(f.ID()), f.Weight)
	case f.Variable:
	case said != 0 && abs(said-f.Weight) >= farWeight:
		add("weight-contradiction", byName, "the style %q says weight %d, yet the weight class is %d", Short(f.Style), said, f.Weight)
	case f.Weight == 250:
		add("odd-weight", "ask for weight 250, or go by the PostScript name", "the weight class is 250, an old way of saying thin or light")
	}
	low := strings.ToLower(f.Style)
	slantedName := strings.Contains(low, "italic") || strings.Contains(low, "oblique") || strings.Contains(low, "kursiv")
	switch upright := f.Slant == Upright; {
	case upright && slantedName:
		add("slant-contradiction", byName, "the style is called %q, yet the font is flagged upright", Short(f.Style))
	case upright && math.Abs(angle) >= 2:
		add("slant-contradiction", byName, "the letters lean by %.4g degrees, yet the font is flagged upright", -angle)
	case !upright && angle == 0 && !slantedName:
		add("slant-contradiction", byName, "the font is flagged %s, yet neither its angle nor its style's name says so", f.Slant)
	}
	if f.Embedding == "restricted" {
		add("embedding-restricted", "ask its maker for a licence that allows use in apps", "its maker forbids embedding (OS/2 fsType)")
	}
	return out
}

func abs(n int) int {
	if n < 0 {
		return -n
	}
	return n
}
