// Package choice picks those faces of a download that an app is to have.
package choice

import (
	"fmt"
	"slices"
	"strings"

	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/intake"
	"notaria/internal/platform"
	"notaria/internal/sfnt"
)

// Faces says which faces of a haul are to be enrolled.
type Faces struct {
	Styles   []string // by style name, or by a role of weight and slant; all if empty
	Families []string // by family name; all if empty
	As       string   // the role that the one face chosen takes, or ""
	// MendNames takes a copy with a legal PostScript name of each face that has
	// none, or one that does not work everywhere.
	MendNames bool
	// Variable takes a family's variable files where its static cuts are beside
	// them; without it, the static cuts are taken.
	Variable bool
	// Replace lets a face take the place of the enrolled one of its name; faces that are not enrolled are left.
	Replace bool
	// At is the place at which copies of the variable faces are pinned, by the tags of their axes; nil where they stay variable.
	At map[string]float64
	// Rename is the family name of copies in apps; "" where the font's own stays.
	Rename string
	// Permitted are faces that forbid to embed them, by their PostScript names, and why they may be in
	// apps all the same.
	Permitted map[string]string
}

// refusal says why a choice fits nothing.
func refusal(expected, found, cure string) error {
	return &fault.Error{Expected: expected, Found: found, Cure: cure}
}

// Chosen are the faces of a haul that are wanted, and those that are not.
type Chosen struct {
	Faces  []intake.Found
	Left   []face.Face // not wanted
	Beside []face.Face // variable files left for the static cuts beside them, or the other way
}

// Of picks the faces, and refuses a choice that fits none.
func (c Faces) Of(haul intake.Haul) (*Chosen, error) {
	e := &Chosen{}
	used := map[string]bool{}
	seen := map[string]int{} // places in out
	named, typographic := c.namedStyles(haul.Faces), typographicFamilies(haul.Faces)
	both := familiesInBothForms(haul.Faces)
	for _, f := range haul.Faces {
		style := c.wantsStyle(f.Face, used, named)
		family := c.wantsFamily(f.Face, used, typographic)
		if !style || !family {
			e.Left = append(e.Left, f.Face)
			continue
		}
		if both[f.Family] && f.Variable != c.Variable {
			e.Beside = append(e.Beside, f.Face)
			continue
		}
		if c.MendNames && f.NeedsMending() {
			f.PostScript = face.MendedName(f.Face)
		}
		if f.ID() == "" {
			return nil, refusal("a face with a name", fmt.Sprintf("%s, which has none at all", f.File), "leave that file out, or ask its maker for a repaired edition")
		}
		at, twice := seen[f.ID()]
		switch {
		case !twice:
			seen[f.ID()] = len(e.Faces)
			e.Faces = append(e.Faces, f)
		case e.Faces[at].SHA256 == f.SHA256:
		case e.Faces[at].Container != f.Container:
			if form(f) < form(e.Faces[at]) {
				e.Faces[at] = f
			}
		default:
			return nil, refusal(fmt.Sprintf("one file for the PostScript name %s", f.ID()), fmt.Sprintf("two that differ: %s and %s", e.Faces[at].File, f.File), "name just the one that you want")
		}
	}
	for _, w := range append(append([]string(nil), c.Styles...), c.Families...) {
		if !used[Plain(w)] {
			return nil, refusal(fmt.Sprintf("a style or family %q", w), "only "+Listed(haul.Faces), "choose among those; notaria names shows them")
		}
	}
	if i := slices.IndexFunc(e.Faces, func(f intake.Found) bool { return !f.Variable }); c.At != nil && i >= 0 {
		return nil, refusal("variable faces for --at", face.Short(e.Faces[i].ID())+", a static one", "choose the variable file, with --variable or by its path, or leave --at out")
	}
	if err := c.mayEmbed(e.Faces); err != nil {
		return nil, err
	}
	if len(e.Faces) == 0 {
		return nil, refusal("at least one face", "none", "name a font file, a folder of fonts or a zip archive")
	}
	if c.As != "" && len(e.Faces) != 1 {
		return nil, refusal("one face for --role", fmt.Sprintf("%d", len(e.Faces)), "narrow the choice with --styles or --family")
	}
	return e, nil
}

// form ranks the forms in which a download holds one face: what is not packed first, then what is packed better.
func form(f intake.Found) int {
	return slices.Index([]string{string(sfnt.Plain), string(sfnt.WOFF2), string(sfnt.WOFF), string(sfnt.Collection)}, f.Container)
}

// typographicFamilies are those of faces, by the names that people type.
func typographicFamilies(faces []intake.Found) map[string]bool {
	out := map[string]bool{}
	for _, f := range faces {
		family, _ := ownStyle(f.Face)
		out[Plain(family)] = true
	}
	return out
}

// wantsFamily goes by the family's name. The legacy one, which a Light of another family can share, counts where no
// family is called so.
func (c Faces) wantsFamily(f face.Face, used, typographic map[string]bool) bool {
	family, _ := ownStyle(f)
	ok := matches(c.Families, used, family, f.Family)
	for _, w := range c.Families {
		if !typographic[Plain(w)] && matches([]string{w}, used, f.LegacyFamily) {
			ok = true
		}
	}
	return ok
}

// ownStyle tells the family and the style of a face apart. A font without typographic names has the weight in the name
// of its family: Skerry Sans Light, Regular is the Light of Skerry Sans.
func ownStyle(f face.Face) (family, style string) {
	if f.Family != f.LegacyFamily || f.Weight == 0 {
		return f.Family, f.Style
	}
	words := strings.Fields(f.Family)
	for n := 1; n <= 2 && n < len(words); n++ {
		last := strings.Join(words[len(words)-n:], " ")
		if weight, ok := face.WeightOf(last); ok && platform.Hundreds(weight) == platform.Hundreds(f.Weight) {
			family, style = strings.Join(words[:len(words)-n], " "), strings.TrimSpace(last+" "+f.Style)
		}
	}
	if family == "" {
		return f.Family, f.Style
	}
	if plain, _, _ := strings.Cut(f.Style, " "); strings.EqualFold(plain, "regular") {
		style = strings.TrimSuffix(style, " "+f.Style)
	}
	return family, style
}

// namedStyles is the set of families and wanted styles for which a face of just
// that style's name is there: "Skerry Sans" has a Regular, another has a Book.
func (c Faces) namedStyles(faces []intake.Found) map[string]bool {
	named := map[string]bool{}
	for _, f := range faces {
		family, style := ownStyle(f.Face)
		named[family+"\x00"+Plain(style)] = true
		if f.Width == normalWidth {
			named[family+"\x00of normal width: "+plainStyle(f.Face)] = true
		}
	}
	return named
}

// familiesInBothForms is the set of families that come as a variable file and as
// static cuts: an app takes one form, for the two share names and weigh twice.
func familiesInBothForms(faces []intake.Found) map[string]bool {
	static, variable, both := map[string]bool{}, map[string]bool{}, map[string]bool{}
	for _, f := range faces {
		if f.Variable {
			variable[f.Family] = true
		} else {
			static[f.Family] = true
		}
		both[f.Family] = static[f.Family] && variable[f.Family]
	}
	return both
}

// normalWidth is the width of a face that is neither narrow nor wide, in percent.
const normalWidth = 100

// wantsStyle goes by the style's own name, and by weight and slant only where a
// family calls nothing by the wanted name. The legacy style is no help: of a
// Light it says Regular.
func (c Faces) wantsStyle(f face.Face, used, named map[string]bool) bool {
	family, style := ownStyle(f)
	ok := matches(c.Styles, used, style)
	for _, w := range c.Styles {
		narrow := f.Width != normalWidth && named[family+"\x00of normal width: "+plainStyle(f)]
		if !narrow && !named[family+"\x00"+Plain(w)] && matches([]string{w}, used, plainStyle(f)) {
			ok = true
		}
	}
	return ok
}

// matches says whether any name is among the wanted ones, and notes which.
func matches(wanted []string, used map[string]bool, names ...string) bool {
	ok := len(wanted) == 0
	for _, w := range wanted {
		for _, n := range names {
			if n != "" && Plain(w) == Plain(n) {
				used[Plain(w)] = true
				ok = true
			}
		}
	}
	return ok
}

// Plain makes names comparable: capitals, spaces and hyphens do not count.
func Plain(s string) string {
	return strings.Map(func(r rune) rune {
		if r == ' ' || r == '-' || r == '_' {
			return -1
		}
		return r
	}, strings.ToLower(s))
}

// plainStyle names an ordinary style by its numbers, for fonts that call their
// regular style Book or Roman.
func plainStyle(f face.Face) string {
	s := face.WeightWord(f.Weight)
	switch {
	case f.Slant == face.Upright || s == "":
		return s
	case s == "regular":
		return "italic"
	}
	return s + "italic"
}

// Listed are the faces by their names, for people.
func Listed(faces []intake.Found) string {
	var out []string
	seen := map[string]bool{}
	for _, f := range faces {
		if s := f.Family + " " + f.Style; !seen[s] {
			seen[s] = true
			out = append(out, s)
		}
	}
	if len(out) > 12 {
		out = append(out[:12], "…")
	}
	if len(out) == 0 {
		return "no fonts at all"
	}
	return strings.Join(out, ", ")
}

// mayEmbed refuses faces whose makers forbid to embed them, unless a reason was given (OpenType, OS/2,
// fsType: restricted licence embedding).
func (c Faces) mayEmbed(chosen []intake.Found) error {
	used := map[string]bool{}
	for _, f := range chosen {
		if f.Embedding != "restricted" {
			continue
		}
		if used[f.ID()] = c.Permitted[f.ID()] != ""; !used[f.ID()] {
			return refusal("a face that may be embedded", fmt.Sprintf("%s, whose maker forbids it (fsType: restricted licence embedding)", face.Short(f.ID())),
				fmt.Sprintf("take another font; or, where you have a licence for apps, say so: --permitted %q", face.Short(f.ID())+"=REASON"))
		}
	}
	for name := range c.Permitted {
		if !used[name] {
			return refusal(fmt.Sprintf("a chosen face %q that forbids to embed it, for --permitted", face.Short(name)), "none", "leave --permitted out, or correct the name: it is the PostScript name")
		}
	}
	return nil
}
