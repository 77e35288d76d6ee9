// Package face says what a face is: what it is called, how it looks in numbers,
// what it covers and what its maker allows.
//
// Read takes all of it from the tables of one font and invents nothing: a name
// that the font does not have stays empty, and what contradicts itself is
// reported as a Problem. The rules for choosing among a font's name records are
// in package sfnt; which of the names a platform answers to is for the targets.
package face

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"

	"notaria/internal/language"
	"notaria/internal/sfnt"
)

// Slant says how a face leans.
type Slant string

// The slants of the names contract.
const (
	Upright Slant = "upright"
	Italic  Slant = "italic"
	Oblique Slant = "oblique"
)

// Categories are the kinds of faces, but for those that are unknown.
var Categories = []string{"sans", "serif", "slab", "mono", "script", "display", "symbol"}

// A Face is one font as the names contract shows it. Distances are in font
// units, Weight is 1 to 1000, Width is percent of normal.
type Face struct {
	File      string `json:"file"`
	Index     int    `json:"index"`
	Format    string `json:"format"`
	Container string `json:"container"`
	Archive   string `json:"archive,omitempty"`

	PostScript   string `json:"postscript"`
	Family       string `json:"family"`
	Style        string `json:"style"`
	Full         string `json:"full"`
	LegacyFamily string `json:"legacy_family"`
	LegacyStyle  string `json:"legacy_style"`

	Weight     int        `json:"weight"`
	Width      float64    `json:"width"`
	Slant      Slant      `json:"slant"`
	FixedPitch bool       `json:"fixed_pitch"`
	Category   string     `json:"category"`
	Variable   bool       `json:"variable"`
	Axes       []Axis     `json:"axes"`
	Instances  []Instance `json:"instances"`

	Glyphs     int      `json:"glyphs"`
	Characters int      `json:"characters"`
	Scripts    []string `json:"scripts"`
	UnitsPerEm int      `json:"units_per_em"`
	Ascent     int      `json:"ascent"`
	Descent    int      `json:"descent"`
	LineGap    int      `json:"line_gap"`

	Version    string `json:"version"`
	Vendor     string `json:"vendor"`
	Copyright  string `json:"copyright"`
	License    string `json:"license"`
	LicenseURL string `json:"license_url"`
	Embedding  string `json:"embedding"`

	// Missing lists the characters of a text that the face lacks, where one was
	// asked about.
	Missing []string `json:"missing,omitempty"`

	// Languages are those that it writes whole, by their tags, and LackedBy the letters of some languages that it lacks, where that was
	// asked.
	Languages []string            `json:"languages,omitzero"`
	LackedBy  map[string][]string `json:"lacks_for,omitempty"`

	Bytes  int64             `json:"bytes"`
	SHA256 string            `json:"sha256"`
	Names  []Name            `json:"names"`
	Type   map[string]string `json:"type_this"`

	cover sfnt.Coverage
	weak  bool // its PostScript name does not work everywhere
}

// An Axis is a direction in which a variable face varies.
type Axis struct {
	Tag     string  `json:"tag"`
	Name    string  `json:"name"`
	Min     float64 `json:"min"`
	Default float64 `json:"default"`
	Max     float64 `json:"max"`
}

// An Instance is a named cut of a variable face.
type Instance struct {
	Name        string             `json:"name"`
	PostScript  string             `json:"postscript"`
	Coordinates map[string]float64 `json:"coordinates"`
}

// A Name is one record of the name table.
type Name struct {
	ID       int    `json:"id"`
	Platform int    `json:"platform"`
	Language string `json:"language"`
	Value    string `json:"value"`
}

// A Problem is something that a person should know about a file.
type Problem struct {
	File    string `json:"file"`
	Code    string `json:"code"`
	Message string `json:"message"`
	Cure    string `json:"cure"`
	// Fatal says that the file could not be used at all.
	Fatal bool `json:"-"`
}

// Options say what to read beyond the names and metrics, since each costs time.
type Options struct {
	Coverage bool // characters and scripts, from the whole cmap
	Records  bool // every record of the name table, and the texts of maker and licence
	Drawn    bool // the category by the outlines, where the tables say none
}

// Read takes a face from a font. The problems have no File yet.
func Read(font *sfnt.Font, opt Options) (Face, []Problem, error) {
	names, err := font.Names()
	if err != nil {
		return Face{}, nil, fmt.Errorf("the font's names: %w", err)
	}
	head, err := font.Head()
	if err != nil {
		return Face{}, nil, fmt.Errorf("the font's head: %w", err)
	}
	f := Face{Format: string(font.Format()), Scripts: []string{}, Names: []Name{}, Axes: []Axis{}, Instances: []Instance{}}
	f.takeNames(names)
	problems := f.takeStyle(font, head)
	if opt.Drawn && f.Category == "unknown" {
		f.Category = drawnCategory(font)
	}
	if err := f.takeMetrics(font, head); err != nil {
		return Face{}, nil, err
	}
	if err := f.takeVariations(font, names); err != nil {
		return Face{}, nil, err
	}
	if opt.Coverage {
		if err := f.takeCoverage(font); err != nil {
			return Face{}, nil, fmt.Errorf("the font's character map: %w", err)
		}
	}
	if opt.Records {
		f.takeTexts(names)
		for _, r := range names {
			f.Names = append(f.Names, Name{int(r.ID), int(r.Platform), languageOf(r), sfnt.Clean(r.Text())})
		}
	}
	return f, append(problems, f.nameProblems(names)...), nil
}

func (f *Face) takeNames(n sfnt.Names) {
	f.PostScript = n.Get(sfnt.NamePostScript)
	f.LegacyFamily, f.LegacyStyle = n.Get(sfnt.NameFamily), n.Get(sfnt.NameStyle)
	f.Family, f.Style = n.Get(sfnt.NameTypoFamily), n.Get(sfnt.NameTypoStyle)
	if f.Family == "" {
		f.Family = f.LegacyFamily
	}
	if f.Style == "" {
		f.Style = f.LegacyStyle
	}
	f.Full = n.Get(sfnt.NameFull)
}

// takeTexts reads what people read and no platform asks for.
func (f *Face) takeTexts(n sfnt.Names) {
	f.Version, f.Copyright = n.Get(sfnt.NameVersion), n.Get(sfnt.NameCopyright)
	f.License, f.LicenseURL = n.Get(sfnt.NameLicense), n.Get(sfnt.NameLicenseURL)
}

// widths are the percentages of OS/2 width classes 1 to 9.
var widths = [...]float64{50, 62.5, 75, 87.5, 100, 112.5, 125, 150, 200}

// takeStyle reads weight, width, slant, category and embedding. A font without
// OS/2 (old Apple fonts) is judged by its head table alone.
func (f *Face) takeStyle(font *sfnt.Font, head sfnt.Head) []Problem {
	f.Weight, f.Width, f.Slant, f.Category = 400, 100, Upright, saidCategory(f.Family)
	f.Embedding = "installable"
	if head.MacStyle&sfnt.MacBold != 0 {
		f.Weight = 700
	}
	if head.MacStyle&sfnt.MacItalic != 0 {
		f.Slant = Italic
	}
	angle := 0.0
	if post, err := font.Post(); err == nil {
		f.FixedPitch, angle = post.FixedPitch, float64(post.ItalicAngle)/65536
	}
	o, err := font.OS2()
	if err != nil {
		return nil
	}
	if w := int(o.WeightClass); w >= 10 && w <= 1000 {
		f.Weight = w
	} else if w > 0 && w < 10 {
		f.Weight = w * 100 // the first edition of the table counted to nine
	}
	if w := int(o.WidthClass); w >= 1 && w <= 9 {
		f.Width = widths[w-1]
	}
	switch {
	case o.Selection&sfnt.SelOblique != 0 && o.Version >= 4:
		f.Slant = Oblique
	case o.Selection&sfnt.SelItalic != 0:
		f.Slant = Italic
	}
	f.Vendor = strings.TrimRight(strings.ToValidUTF8(o.Vendor, "?"), " \x00")
	if c := category(o, f.FixedPitch); c != "unknown" {
		f.Category = c
	}
	f.Embedding = embedding(o.Embedding)
	return f.contradictions(o, angle)
}

// embedding words the font's licensing bits (spec: OS/2, fsType).
func embedding(fsType uint16) string {
	switch {
	case fsType&0x0200 != 0: // pictures alone may be embedded, no outlines
		return "restricted"
	case fsType&0x000f == 0:
		return "installable"
	case fsType&0x0008 != 0:
		return "editable"
	case fsType&0x0004 != 0:
		return "preview-print"
	case fsType&0x0002 != 0:
		return "restricted"
	}
	return "installable"
}

// classes are kinds by the family class (spec: OS/2, sFamilyClass, the class in its upper byte).
var classes = [...]string{1: "serif", 2: "serif", 3: "serif", 4: "serif", 5: "slab", 7: "serif", 8: "sans", 9: "display", 10: "script", 12: "symbol", 15: ""}

// category reads PANOSE (spec: OS/2, panose): family kind, then serif style; and the family class where that is empty.
func category(o sfnt.OS2, fixed bool) string {
	kind, serif := o.Panose[0], o.Panose[1]
	switch {
	case fixed || kind == 2 && o.Panose[3] == 9:
		return "mono"
	case kind == 3:
		return "script"
	case kind == 4:
		return "display"
	case kind == 5:
		return "symbol"
	case kind != 2:
		return byClass(o)
	case serif >= 11 && serif <= 15:
		return "sans"
	case serif == 6 || serif == 7:
		return "slab"
	case serif >= 2 && serif <= 10:
		return "serif"
	}
	return byClass(o)
}

func byClass(o sfnt.OS2) string {
	if c := int(o.FamilyClass) >> 8; c > 0 && c < len(classes) && classes[c] != "" {
		return classes[c]
	}
	return "unknown"
}

// categoryWords are what families call themselves, the more telling words first:
// a "Sans Mono" is a mono.
var categoryWords = []struct{ word, category string }{
	{"mono", "mono"}, {"monospace", "mono"}, {"typewriter", "mono"}, {"symbol", "symbol"}, {"symbols", "symbol"}, {"icons", "symbol"}, {"emoji", "symbol"},
	{"dingbats", "symbol"}, {"script", "script"}, {"handwriting", "script"}, {"slab", "slab"}, {"display", "display"}, {"sans", "sans"}, {"gothic", "sans"}, {"serif", "serif"},
}

// saidCategory goes by the words of a family's name, for the many fonts whose
// PANOSE is empty. A name that reports nothing stays unknown.
func saidCategory(family string) string {
	words := strings.FieldsFunc(strings.ToLower(family), func(r rune) bool { return r == ' ' || r == '-' || r == '_' })
	for _, c := range categoryWords {
		if slices.Contains(words, c.word) {
			return c.category
		}
	}
	return "unknown"
}

func (f *Face) takeMetrics(font *sfnt.Font, head sfnt.Head) error {
	f.UnitsPerEm = int(head.UnitsPerEm)
	if maxp, err := font.Maxp(); err == nil {
		f.Glyphs = int(maxp.NumGlyphs)
	} else if !errors.Is(err, sfnt.ErrNoTable) {
		return err
	}
	hhea, err := font.Hhea()
	if errors.Is(err, sfnt.ErrNoTable) {
		return nil
	}
	f.Ascent, f.Descent, f.LineGap = int(hhea.Ascender), int(hhea.Descender), int(hhea.LineGap)
	return err
}

func (f *Face) takeVariations(font *sfnt.Font, names sfnt.Names) error {
	axes, instances, err := font.Variations()
	if err != nil {
		return err
	}
	f.Variable = len(axes) > 0
	if !f.Variable {
		return nil
	}
	ids, _ := font.AxisNames()
	for _, a := range axes {
		name := names.Get(a.NameID)
		if name == "" {
			name = names.Get(ids[a.Tag]) // some fonts name their axes only there
		}
		f.Axes = append(f.Axes, Axis{a.Tag, name, a.Min, a.Default, a.Max})
	}
	for _, in := range instances {
		out := Instance{Name: names.Get(in.NameID), Coordinates: map[string]float64{}}
		if in.PostScriptID != 0 {
			out.PostScript = names.Get(in.PostScriptID)
		} else {
			out.PostScript = instanceName(names, f.Family, out.Name)
		}
		for i, v := range in.Coordinates {
			out.Coordinates[axes[i].Tag] = math.Round(v*1000) / 1000
		}
		f.Instances = append(f.Instances, out)
	}
	return nil
}

// Short cuts a name that would drown a message.
func Short(s string) string { return language.Short(s, 80) }

// ID is the face's key in a project: its PostScript name, or its full name for
// fonts that have none.
func (f Face) ID() string {
	if f.PostScript != "" {
		return f.PostScript
	}
	return f.Full
}
