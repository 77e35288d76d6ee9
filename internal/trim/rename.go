package trim

import (
	"slices"
	"strings"

	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/layout"
	"notaria/internal/sfnt"
)

// Operators of names in a dictionary of CFF (5176, tables 9 and 10).
const (
	dictFullName   = 2
	dictFamilyName = 3
	dictFontName   = 12<<8 | 38
)

// mostFamily is how long a family's name may be: of a PostScript name, which it becomes, systems take 63 signs.
const mostFamily = 40

// renamed gives the tables of a font that is called otherwise: its family, its full name, its PostScript name, and those of its
// instances. What its maker says of it stays: copyright, version, trademark, licence. The names that CFF has itself follow where the
// font is to be written.
func renamed(f *sfnt.Font, family string, written bool) (map[string][]byte, error) {
	if odd := len(strings.ReplaceAll(family, " ", "")) != len(squeezed(family)); odd || len(squeezed(family)) < 2 || len(family) > mostFamily || strings.TrimSpace(family) != family {
		return nil, fault.Form("expected a family name of 2 to %d letters and digits of ASCII, with spaces between them, found %q", mostFamily, face.Short(family))
	}
	tables, err := f.Tables()
	if err != nil {
		return nil, err
	}
	names, err := f.Names()
	if err != nil {
		return nil, err
	}
	list := underName(names, family)
	b, err := list.Bytes()
	if err != nil {
		return nil, err
	}
	tables["name"] = b
	delete(tables, "DSIG")
	if cff, ok := tables["CFF "]; ok && written {
		maxp, err := f.Maxp()
		if err != nil {
			return nil, err
		}
		if tables["CFF "], err = renamedCFF(layout.NewCut(every(int(maxp.NumGlyphs))), cff, list.Get(sfnt.NamePostScript)); err != nil {
			return nil, err
		}
	}
	return tables, nil
}

// underName are the names of a font under those of another family.
func underName(names sfnt.Names, family string) sfnt.Names {
	was := names.Get(sfnt.NameTypoFamily)
	if was == "" {
		was = names.Get(sfnt.NameFamily)
	}
	style := names.Get(sfnt.NameTypoStyle)
	if style == "" {
		style = names.Get(sfnt.NameStyle)
	}
	old := family // of up to four styles: a Light has a family of its own there
	if rest, ok := strings.CutPrefix(names.Get(sfnt.NameFamily), was); ok {
		old = family + rest
	}
	postscript := squeezed(family)
	if _, part, ok := strings.Cut(names.Get(sfnt.NamePostScript), "-"); ok {
		postscript += "-" + part
	} else if s := squeezed(style); s != "" {
		postscript += "-" + s
	}
	own := map[uint16]string{sfnt.NameFamily: old, sfnt.NameStyle: names.Get(sfnt.NameStyle), 3: postscript, sfnt.NameFull: strings.TrimSpace(family + " " + style), sfnt.NamePostScript: postscript}
	if names.Get(sfnt.NameTypoFamily) != "" {
		own[sfnt.NameTypoFamily], own[sfnt.NameTypoStyle] = family, style
	}
	if names.Get(25) != "" {
		own[25] = squeezed(family)
	}
	dropped := []uint16{18, 20, 21, 22} // a name for menus, one of CID, the family of weight, width and slant
	var list sfnt.Names
	for _, r := range names {
		switch {
		case slices.Contains(dropped, r.ID) || own[r.ID] != "" || r.ID == 25:
			continue
		case r.ID >= 256: // instances' PostScript names begin with the family
			if rest, ok := strings.CutPrefix(r.Text(), squeezed(was)); ok && rest != "" {
				r = sfnt.NameRecord{Platform: r.Platform, Encoding: r.Encoding, Language: r.Language, ID: r.ID, Value: squeezed(family) + rest}
			}
		}
		list = append(list, r)
	}
	for id, v := range own {
		list = append(list, sfnt.NameRecord{Platform: sfnt.PlatformWindows, Encoding: 1, Language: 0x409, ID: id, Value: v})
	}
	return list
}

// renamedCFF is the table with another PostScript name, and without the names that it need not have.
func renamedCFF(cut *layout.Cut, b []byte, postscript string) ([]byte, error) {
	t, err := readCFF(b)
	if err != nil {
		return nil, err
	}
	t.name = cffList([][]byte{[]byte(postscript)})
	without := func(list []cffEntry, ops ...int) []cffEntry {
		return slices.DeleteFunc(slices.Clone(list), func(e cffEntry) bool { return slices.Contains(ops, e.op) })
	}
	t.top = without(t.top, dictFullName, dictFamilyName)
	for i := range t.fonts {
		t.fonts[i].dict = without(t.fonts[i].dict, dictFontName)
	}
	return t.cut(cut)
}
