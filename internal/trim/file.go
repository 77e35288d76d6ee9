package trim

import (
	"bytes"
	"slices"
	"strings"

	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/sfnt"
)

// A File is a font file that was cut.
type File struct {
	Face       string   `json:"face"`       // PostScript name, which stays; of a pinned font that of the place
	Characters int      `json:"characters"` // that the font has now
	Lacks      []string `json:"lacks"`      // characters asked for that the font never had
	Glyphs     [2]int   `json:"glyphs"`     // before and after
	Bytes      [2]int64 `json:"bytes"`      // of the file before and after
	Held       string   `json:"held"`       // the table for which glyphs kept their numbers, or what is odd about one; "" for none
	Reserved   string   `json:"reserved"`   // a name that the licence keeps for unchanged copies, "" for none
	data       []byte
}

// Data is the file.
func (f *File) Data() []byte { return f.data }

// Endings are those of files that are written.
var Endings = []string{".ttf", ".otf", ".woff2", ".woff"}

// noCutting is the bit by which a font's maker forbids to take characters out (OpenType, OS/2, fsType, bit 8).
const noCutting = 1 << 8

// mostLacks is how many characters that a font lacks are listed.
const mostLacks = 100

// Words are what is said of a font beside what it says itself.
type Words struct {
	Licence   []byte // the text that came with it
	Permitted bool   // its maker allows changed copies under the reserved name
}

// A Wish is what a copy is to be.
type Wish struct {
	Characters []rune                // nil for all
	Asked      []rune                // those of them that somebody misses if the font has none
	At         map[string]float64    // where a variable font is pinned, by the tags of its axes; nil where it stays variable
	Axes       map[string][2]float64 // which axes a variable font keeps, from one value to another; nil for all. Infinite ends are the axis's own
	Rename     string                // another family name, for a font whose licence reserves its own; "" where the names stay
	Ending     string                // the form of the file
	FewNames   bool                  // the names alone that a page's font needs: of the face, its maker and its licence, in English
	Fast       bool                  // WOFF 2 is packed in less time, with some more bytes
	Unhinted   bool                  // without instructions for coarse screens
	// Features are those features of layout that stay beside the ones that shapers apply by themselves; nil for all.
	Features []string
}

// Open makes a copy of the font of a file. A maker's word against it is an error; so is a licence that reserves the font's name for
// unchanged copies, but for a person who may.
func Open(raw []byte, wish Wish, w Words) (*File, error) {
	f, err := opened(raw)
	if err != nil {
		return nil, err
	}
	before := f
	described, _, err := face.Read(f, face.Options{})
	if err != nil {
		return nil, err
	}
	var tables map[string][]byte
	if wish.Rename != "" {
		if tables, err = renamed(f, wish.Rename, true); err != nil {
			return nil, err
		}
		if f, err = rebuilt(tables); err != nil {
			return nil, err
		}
		if described, _, err = face.Read(f, face.Options{}); err != nil {
			return nil, err
		}
	}
	out := &File{Face: described.ID(), Lacks: []string{}, Bytes: [2]int64{int64(len(raw)), 0}, Reserved: reserved(before, described, w.Licence)}
	if err := out.allowed(f, wish, w.Permitted); err != nil {
		return nil, err
	}
	for _, step := range wish.steps() {
		if tables, err = step(f); err != nil {
			return nil, err
		}
		if f, err = rebuilt(tables); err != nil {
			return nil, err
		}
	}
	if wish.Characters != nil {
		small, err := Cut(f, face.Covering(wish.Characters))
		if err != nil {
			return nil, err
		}
		tables, out.Held = small.Tables, small.Held
	}
	if wish.FewNames {
		if tables["name"], err = fewNames(f); err != nil {
			return nil, err
		}
	}
	if out.data, err = written(tables, wish, f); err != nil {
		return nil, err
	}
	return out, out.count(before, wish.Asked)
}

// steps are what is made of a font before characters go, each of what the one before gave.
func (w Wish) steps() (list []func(*sfnt.Font) (map[string][]byte, error)) {
	switch {
	case w.At != nil:
		list = append(list, func(f *sfnt.Font) (map[string][]byte, error) { return Pin(f, w.At) })
	case w.Axes != nil:
		list = append(list, func(f *sfnt.Font) (map[string][]byte, error) { return Narrow(f, w.Axes) })
	}
	if w.Unhinted || w.Features != nil {
		list = append(list, func(f *sfnt.Font) (map[string][]byte, error) { return lighter(f, w) })
	}
	return list
}

func opened(raw []byte) (*sfnt.Font, error) {
	file, err := sfnt.Open(bytes.NewReader(raw), int64(len(raw)))
	if err != nil {
		return nil, err
	}
	return file.Font(0), nil
}

// rebuilt is the font of some tables.
func rebuilt(tables map[string][]byte) (*sfnt.Font, error) {
	b, err := sfnt.Build(tables)
	if err != nil {
		return nil, err
	}
	return opened(b)
}

// reserved is the name that the font's own words reserve (its copyright and its licence).
func reserved(f *sfnt.Font, described face.Face, licence []byte) string {
	words := []string{string(licence)}
	if n, err := f.Names(); err == nil {
		words = append(words, n.Get(sfnt.NameCopyright), n.Get(sfnt.NameLicense))
	}
	return face.ReservedName([]byte(strings.Join(words, "\n")), described)
}

func (out *File) allowed(f *sfnt.Font, wish Wish, permitted bool) error {
	if os2, err := f.Table("OS/2"); err == nil && sfnt.Word(os2, 8)&noCutting != 0 && wish.Characters != nil {
		return fault.Form("expected a font whose maker allows to take characters out, found one whose table forbids it (OS/2, fsType, bit 8: no subsetting); take the font whole, or ask its maker for another one")
	}
	if out.Reserved != "" && !permitted {
		return fault.Form("expected a font that may keep its name when it is changed, found the Reserved Font Name %q in its licence: changed copies may not be called so; give copies another name (--rename; rename in notaria.toml), take the font as it is, or ask its maker, and then say so (--permitted; trim-permitted in notaria.toml)", face.Short(out.Reserved))
	}
	return nil
}

func written(tables map[string][]byte, wish Wish, f *sfnt.Font) ([]byte, error) {
	switch ending := wish.Ending; ending {
	case ".woff2":
		if wish.Fast {
			return sfnt.BuildWOFF2(tables, sfnt.Fast)
		}
		return sfnt.BuildWOFF2(tables, sfnt.Small)
	case ".woff":
		return sfnt.BuildWOFF(tables)
	case ".ttf", ".otf":
		if right := map[bool]string{true: ".ttf", false: ".otf"}[f.Has("glyf")]; ending != right && !f.Has("CBDT") && !f.Has("sbix") {
			return nil, fault.Form("expected the ending %s, which is that of the outlines in the font, found %s", right, ending)
		}
		return sfnt.Build(tables)
	}
	return nil, fault.Form("expected a file that ends with %s, found %q", strings.Join(Endings, ", "), wish.Ending)
}

// fewNames are the names of a face, its maker and its licence, once each in English, and those that its axes and features speak of.
func fewNames(f *sfnt.Font) ([]byte, error) {
	names, err := f.Names()
	if err != nil {
		return nil, err
	}
	var list sfnt.Names
	for _, r := range names {
		usual := r.ID <= 7 || r.ID >= 13 && r.ID <= 17 && r.ID != 15 || r.ID == 25 || r.ID >= 256
		if usual && r.Platform == sfnt.PlatformWindows && r.Language == 0x409 {
			list = append(list, r)
		}
	}
	if len(list) == 0 {
		list = names
	}
	return list.Bytes()
}

// count says what came of it.
func (out *File) count(before *sfnt.Font, wanted []rune) error {
	out.Bytes[1] = int64(len(out.data))
	after, err := opened(out.data)
	if err != nil {
		return err
	}
	described, _, err := face.Read(after, face.Options{})
	if err != nil {
		return err
	}
	out.Face = described.ID()
	for i, f := range []*sfnt.Font{before, after} {
		maxp, err := f.Maxp()
		if err != nil {
			return err
		}
		out.Glyphs[i] = int(maxp.NumGlyphs)
	}
	has, err := after.Coverage()
	if err != nil {
		return err
	}
	for _, c := range has {
		out.Characters += int(c.Last-c.First) + 1
	}
	list := slices.Clone(wanted)
	slices.Sort(list)
	for _, r := range slices.Compact(list) {
		if !has.Has(r) && len(out.Lacks) < mostLacks {
			out.Lacks = append(out.Lacks, string(r))
		}
	}
	return nil
}
