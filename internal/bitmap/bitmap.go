// Package bitmap makes the bitmap fonts that people ask for by hand: of a face, of a role, of another bitmap font
// or of a picture of glyphs, in the forms of displays and games; and it measures them and draws a
// display before anything is flashed. What register keeps in an app is drawn by package notary.
package bitmap

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image/color"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"golang.org/x/sync/errgroup"

	"notaria/internal/disk"
	"notaria/internal/document"
	"notaria/internal/fault"
	"notaria/internal/intake"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/notary"
	"notaria/internal/pixel"
	"notaria/internal/platform/all"
	"notaria/internal/registry"
	"notaria/internal/subject"
)

// Options say what is drawn, and how it is written: the flags of the command pixel.
type Options struct {
	Heights, Depths             []int
	Of, Characters, From        string
	Hinting, Missing, SameWidth string
	Contrast, Tracking, Gap     int
	Kerning                     bool
	Holds, Cell, Ink, Ground    string
	Baseline, Padding, Budget   int
	Times                       float64
	Coordinates                 map[string]string
	Forms                       []string
	Folder, Name, Include       string
	Overwrite                   bool // files that Notaria did not write there last
	Compressed                  bool
	Show                        string
	Dots                        bool
	Panel                       PanelOptions
	Measure, Between            []string
	Given                       func(string) bool // whether a flag was given
}

// Forms that a pixel font is written in.
const (
	FormC        = "c"
	FormLVGL     = "lvgl"
	FormU8G2     = "u8g2"
	FormEspruino = "espruino"
	FormBDF      = "bdf"
	FormSheet    = "sheet"
	FormGodot    = "godot"
	FormLove     = "love"
	FormLibGDX   = "libgdx"
)

// Forms are all of them.
var Forms = []string{FormC, FormLVGL, FormU8G2, FormEspruino, FormBDF, FormSheet, FormGodot, FormLove, FormLibGDX}

// A Font is one of a run.
type Font struct {
	Font  *pixel.Font
	Lacks []rune
	Name  string // in code
	Near  []pixel.Clean
}

// A Maker makes bitmap fonts; Look opens the project around, where a face or a role of it is meant.
type Maker struct {
	Look func() (*notary.Project, error)
}

// kinds of what pixels are made of, with the flags that belong to Font kind alone.
const (
	ofOutlines = "a face of outlines"
	ofBitmap   = "a bitmap font"
	ofPicture  = "a picture"
	ofRole     = "a role, whose keys in notaria.toml say it"
)

var kindFlags = map[string][]string{
	"height": {ofOutlines}, "of": {ofOutlines}, "hinting": {ofOutlines}, "coordinates": {ofOutlines}, "contrast": {ofOutlines},
	"depth": {ofOutlines, ofBitmap, ofPicture}, "kerning": {ofOutlines, ofBitmap},
	"enlarge": {ofBitmap, ofPicture}, "characters": {ofOutlines, ofBitmap, ofPicture}, "characters-from": {ofOutlines, ofBitmap, ofPicture},
	"missing": {ofOutlines, ofBitmap, ofPicture}, "tracking": {ofOutlines, ofBitmap, ofPicture}, "same-width": {ofOutlines, ofBitmap, ofPicture}, "gap": {ofOutlines, ofBitmap, ofPicture},
	"holds": {ofPicture}, "cell": {ofPicture}, "ink": {ofPicture}, "ground": {ofPicture}, "baseline": {ofPicture},
}

// suits says which flag does not belong to a kind of source: none is passed over in silence.
func (opt Options) suits(kind, what string) error {
	for _, flag := range slices.Sorted(maps.Keys(kindFlags)) {
		if opt.Given(flag) && !slices.Contains(kindFlags[flag], kind) {
			return fault.Use("pixel: expected %s for --%s, found %s, %s", strings.Join(kindFlags[flag], " or "), flag, kind, what)
		}
	}
	return nil
}

// Draw draws each size and depth of an outline face, or takes the characters out of a bitmap
// font or a picture.
func (m Maker) Draw(what string, opt Options) ([]Font, error) {
	name, data, role, err := m.source(what)
	if err != nil {
		return nil, err
	}
	if role != nil {
		if err := opt.suits(ofRole, what); err != nil {
			return nil, err
		}
		f, lacks, err := m.role(what)
		if err != nil {
			return nil, err
		}
		return opt.finish(what, Font{Font: f, Lacks: lacks, Name: pixel.CName(what)})
	}
	wrong := func(err error) error { return fmt.Errorf("%s: %w; choose another size, depth or face", what, err) }
	c, err := opt.choice()
	if err != nil {
		return nil, err
	}
	var f *pixel.Font
	kind := ofBitmap
	if pixel.IsPNG(data) {
		if err := opt.suits(ofPicture, what); err != nil {
			return nil, err
		}
		kind = ofPicture
		f, err = opt.strip(data)
	} else {
		f, err = pixel.ReadFile(name, data, func(name string) ([]byte, error) { return disk.ReadFile(name, pixel.MostFile) })
	}
	if err != nil {
		var use *fault.UseError
		if errors.As(err, &use) {
			return nil, err
		}
		return nil, wrong(err)
	}
	if f == nil {
		return drawOutlines(what, data, c, opt)
	}
	if err := opt.suits(kind, what); err != nil {
		return nil, err
	}
	if f.Name == "" {
		f.Name = strings.TrimSuffix(filepath.Base(name), filepath.Ext(name))
	}
	lacks, err := opt.take(f, c)
	if err != nil {
		return nil, wrong(err)
	}
	return opt.finish(what, Font{Font: f, Lacks: lacks, Name: pixel.CName(f.Name)})
}

// take keeps what is chosen of a font that is drawn already. Without --characters that is all of it.
func (opt Options) take(f *pixel.Font, c pixel.Choice) ([]rune, error) {
	if len(opt.Depths) > 1 {
		return nil, fault.Form("expected one --depth for a bitmap font, found %d", len(opt.Depths))
	}
	if !opt.Given("characters") && !opt.Given("characters-from") {
		c.Characters = nil
	}
	lacks, err := f.Take(c)
	if err == nil && opt.Times != 1 {
		err = f.Times(opt.Times)
	}
	if err == nil && opt.Given("depth") {
		err = f.Deepen(opt.Depths[0])
	}
	return lacks, err
}

// finish pads a font, and gives it the name that was asked for.
func (opt Options) finish(what string, list ...Font) ([]Font, error) {
	common := commonName(list)
	for i := range list {
		if opt.Padding != 0 {
			if err := list[i].Font.Pad(opt.Padding); err != nil {
				return nil, fault.Use("pixel: %s: %v", what, err)
			}
		}
		if opt.Name != "" {
			list[i].Name = opt.Name + strings.TrimPrefix(list[i].Name, common)
		}
	}
	return list, nil
}

// commonName is what the names of several fonts begin with; all of it where there is one.
func commonName(list []Font) string {
	if len(list) == 1 {
		return list[0].Name
	}
	out := list[0].Name
	for _, o := range list[1:] {
		for !strings.HasPrefix(o.Name, out) {
			out = out[:len(out)-1]
		}
	}
	return out[:max(0, strings.LastIndexByte(out, '_'))]
}

// choice is what the flags say for all kinds of sources.
func (opt Options) choice() (pixel.Choice, error) {
	c := pixel.Choice{Tracking: opt.Tracking, Contrast: opt.Contrast, Kerning: opt.Kerning, Gap: opt.Gap}
	var err error
	if c.Characters, err = opt.charactersOf(); err != nil {
		return c, err
	}
	if c.SameWidth, err = parseCharacters("--same-width", opt.SameWidth); err != nil {
		return c, err
	}
	if c.Missing, err = registry.ParseMissing(opt.Missing); err != nil {
		return c, fault.Use("pixel: %v, for --missing", err)
	}
	return c, nil
}

// drawOutlines draws a face in each height and depth.
func drawOutlines(what string, data []byte, c pixel.Choice, opt Options) ([]Font, error) {
	if err := opt.suits(ofOutlines, what); err != nil {
		return nil, err
	}
	at := map[string]float64{}
	for _, tag := range slices.Sorted(maps.Keys(opt.Coordinates)) {
		v, err := strconv.ParseFloat(opt.Coordinates[tag], 64)
		if err != nil || v != v {
			return nil, fault.Use("pixel: expected a number for the axis %s of --coordinates, found %q", tag, opt.Coordinates[tag])
		}
		at[tag] = v
	}
	s, err := pixel.OfOutlines(data, at)
	if err != nil {
		return nil, fmt.Errorf("%s: %w; choose another size, depth or face", what, err)
	}
	out := make([]Font, len(opt.Heights)*len(opt.Depths))
	var together errgroup.Group
	for i := range out {
		height, depth := opt.Heights[i/len(opt.Depths)], opt.Depths[i%len(opt.Depths)]
		w := pixel.Wish{Choice: c, Height: height, Of: opt.Of, Hinting: opt.Hinting}
		w.Depth = depth
		if err := w.Check(); err != nil {
			return nil, fault.Use("pixel: %v", err)
		}
		together.Go(func() error {
			f, lacks, err := s.Make(w)
			if err != nil {
				return fmt.Errorf("%s: %w; choose another size, depth or face", what, err)
			}
			name := fmt.Sprintf("%s %d", f.Name, height)
			if len(opt.Depths) > 1 {
				name += fmt.Sprintf(" %d", depth)
			}
			near := s.Near(w)
			out[i] = Font{Font: f, Lacks: lacks, Name: pixel.CName(name), Near: near[:min(3, len(near))]}
			return nil
		})
	}
	if err := together.Wait(); err != nil {
		return nil, err
	}
	return opt.finish(what, out...)
}

var cellForm = lazy.Regexp(`^(\d{1,4})x(\d{1,4})$`)

// size reads a width and a height, such as 8x12.
func size(flag, text string) ([2]int, error) {
	m := cellForm.FindStringSubmatch(text)
	if m == nil {
		return [2]int{}, fault.Use("pixel: expected a width and a height such as 8x12 for --%s, found %q", flag, text)
	}
	var out [2]int
	_, err := fmt.Sscanf(m[1]+" "+m[2], "%d %d", &out[0], &out[1])
	return out, err
}

// strip reads a picture of glyphs.
func (opt Options) strip(data []byte) (*pixel.Font, error) {
	s := pixel.Strip{Holds: []rune(opt.Holds), Baseline: opt.Baseline}
	if opt.Holds == "" {
		return nil, fault.Use("pixel: expected --holds with the characters of the picture, in their order, such as --holds '0123456789:'")
	}
	var err error
	if s.Ink.Ink, err = ColourOf("ink", opt.Ink); err != nil {
		return nil, err
	}
	if s.Ground, err = ColourOf("ground", opt.Ground); err != nil {
		return nil, err
	}
	if opt.Cell != "" {
		if s.Cell, err = size("cell", opt.Cell); err != nil {
			return nil, err
		}
	}
	if opt.Given("depth") {
		s.Depth = opt.Depths[0]
	}
	return pixel.ReadStrip(data, s)
}

// source is a file that is there, the original of an enrolled face, or a role.
func (m Maker) source(what string) (string, []byte, *registry.Role, error) {
	if _, one := intake.FaceOf(what); one != "" {
		data, err := faceIn(what)
		return what, data, nil, err
	}
	info, err := os.Stat(what)
	if err != nil || info.IsDir() {
		p, perr := m.Look()
		if perr != nil {
			return "", nil, nil, perr
		}
		defer p.Close()
		if e, ok := p.Registry.Face(what); ok {
			_, data, err := p.Original(what) // pinned, where it is a place of a variable font
			return e.File, data, nil, err
		}
		if r, ok := p.Registry.Roles[what]; ok {
			return what, nil, &r, nil
		}
		known := append(append(p.Registry.FaceNames(), p.Registry.RoleNames()...), "a file's path")
		return "", nil, nil, &fault.Error{File: what, Expected: "a font file, an enrolled face, or a role", Found: "none of them", Cure: "use one of: " + strings.Join(known, ", ")}
	}
	data, err := disk.ReadFile(what, pixel.MostFile)
	return what, data, nil, err
}

// faceIn is one face of a collection, such as fonts.ttc#Skerry-Bold, as a font of its own.
func faceIn(what string) ([]byte, error) {
	haul, err := intake.Gather(context.Background(), []string{what}, intake.Options{})
	switch {
	case err != nil:
		return nil, err
	case len(haul.Faces) != 1 && len(haul.Problems) > 0:
		p := haul.Problems[0]
		return nil, fmt.Errorf("%s: %s; %s", p.File, p.Message, p.Cure)
	case len(haul.Faces) != 1:
		return nil, &fault.Error{File: what, Expected: "one face", Found: fmt.Sprint(len(haul.Faces)), Cure: "name one behind the #"}
	}
	return haul.Faces[0].Plain()
}

// role draws a role of the project.
func (m Maker) role(name string) (*pixel.Font, []rune, error) {
	p, err := m.Look()
	if err != nil {
		return nil, nil, err
	}
	defer p.Close()
	return p.DrawRole(name, all.Platforms)
}

// Files are the files of each form of each font.
func Files(fonts []Font, opt Options) (map[string][]byte, error) {
	files := map[string][]byte{}
	for _, o := range fonts {
		for _, name := range opt.Forms {
			list, err := form(o, name, opt)
			if err != nil {
				return nil, fault.Use("pixel: --as %s: %v", name, err)
			}
			for _, name := range slices.Sorted(maps.Keys(list)) {
				if files[name] != nil && !bytes.Equal(files[name], list[name]) {
					return nil, fault.Use("pixel: expected forms whose files have other names, found two that write %s: run the command for each, with another --name or --out", name)
				}
				files[name] = list[name]
			}
		}
	}
	return files, nil
}

func form(o Font, form string, opt Options) (map[string][]byte, error) {
	f, name := o.Font, o.Name
	switch form {
	case FormLVGL:
		return f.LVGL(name, pixel.Included(opt.Include), opt.Compressed)
	case FormU8G2:
		return f.U8G2(name)
	case FormEspruino:
		return f.Espruino(name)
	case FormBDF:
		var b bytes.Buffer
		err := f.WriteBDF(&b)
		return map[string][]byte{name + ".bdf": b.Bytes()}, err
	case FormSheet:
		return f.Sheet(name)
	case FormGodot:
		return f.Godot(name)
	case FormLove:
		return f.Love(name)
	case FormLibGDX:
		return f.LibGDX(name, pixel.JavaPackage(opt.Folder))
	}
	return f.C(name)
}

// Idle says which option would do nothing without another: none is passed over in silence.
func (opt Options) Idle() error {
	lvgl := slices.Contains(opt.Forms, FormLVGL)
	for _, need := range []struct {
		met   bool
		what  string
		flags []string
	}{
		{lvgl, "--as lvgl", []string{"include"}},
		{lvgl || len(opt.Forms) == 0, "--as lvgl", []string{"compressed"}},
		{len(opt.Forms) > 0, "--as", []string{"name", "out"}},
		{opt.Show != "" || opt.Panel.Size != "", "--show or --panel", []string{"dots"}},
		{opt.Panel.Size != "", "--panel with the size of the display, such as 128x64,", []string{"put", "preview", "panel-kind", "panel-colours"}},
		{opt.Panel.Preview != "", "--preview", []string{"times", "pixel-lines"}},
	} {
		for _, flag := range need.flags {
			if opt.Given(flag) && !need.met {
				return fault.Use("pixel: expected %s for --%s, found none", need.what, flag)
			}
		}
	}
	return nil
}

// Costs are what the fonts take in flash in each form, and against the budget.
func Costs(fonts []Font, opt Options) ([][]document.Flash, error) {
	forms := opt.Forms
	if len(forms) == 0 {
		forms = []string{FormC, FormLVGL, FormU8G2, FormEspruino}
	}
	var out [][]document.Flash
	sums := map[string]int{}
	for _, o := range fonts {
		list := []document.Flash{}
		for _, form := range forms {
			if form == FormLVGL && opt.Compressed {
				form = "lvgl-compressed"
			}
			if n, ok := o.Font.Flash(form); ok {
				list = append(list, document.Flash{Form: form, Bytes: n})
				sums[form] += n
			}
		}
		out = append(out, list)
	}
	if opt.Budget <= 0 {
		return out, nil
	}
	for _, form := range forms {
		if n := sums[form]; n > opt.Budget {
			worst := heaviest(fonts)
			return nil, fault.Use("pixel: expected at most %d bytes in the form %s, the --budget, found %d; the heaviest glyph is %s: choose fewer characters, a smaller size or less depth", opt.Budget, form, n, worst)
		}
	}
	return out, nil
}

func heaviest(fonts []Font) string {
	most, out := -1, ""
	for _, o := range fonts {
		for _, g := range o.Font.Glyphs {
			if n := o.Font.Cost(g); n > most {
				most, out = n, fmt.Sprintf("%c U+%04X with %s", g.Rune, g.Rune, language.Plural(n, "byte"))
			}
		}
	}
	return out
}

// SavedBySets is what each of several sets takes by itself.
func SavedBySets(f *pixel.Font, opt Options) []document.Saving {
	all, err := registry.ParseCharacters(opt.Characters)
	if err != nil || len(all.Sets) == 0 || len(all.Sets) == 1 && all.Range == "" && all.Text == "" {
		return nil
	}
	var out []document.Saving
	for i, set := range all.Sets {
		others := all
		others.Sets = slices.Delete(slices.Clone(all.Sets), i, i+1)
		kept, err := others.Runes()
		if err != nil {
			return nil
		}
		n := 0
		for _, g := range f.Glyphs {
			if _, stays := slices.BinarySearch(kept, g.Rune); !stays {
				n += f.Cost(g)
			}
		}
		out = append(out, document.Saving{What: "without the set " + set, Bytes: n})
	}
	return out
}

// Extents measures what --measure and --between ask for.
func Extents(fonts []Font, opt Options) ([][]document.Measured, error) {
	out := make([][]document.Measured, len(fonts))
	for i, o := range fonts {
		for _, text := range opt.Measure {
			e := o.Font.Measure(func(each func(string)) { each(text) })
			out[i] = append(out[i], document.Measured{Of: text, Extent: e})
		}
		for _, pair := range opt.Between {
			from, to, ok := strings.Cut(pair, "..")
			if !ok {
				return nil, fault.Use("pixel: expected two values for --between, such as 00:00..23:59, found %q", pair)
			}
			texts, err := pixel.Between(from, to)
			if err != nil {
				return nil, fault.Use("pixel: --between: %v", err)
			}
			out[i] = append(out[i], document.Measured{Of: pair, Extent: o.Font.Measure(texts)})
		}
	}
	return out, nil
}

// ColourOf reads a flag's colour, nil for none.
func ColourOf(flag, text string) (color.Color, error) {
	if text == "" {
		return nil, nil
	}
	c := registry.ParseColour(text)
	if !c.OK {
		return nil, fault.Use("expected a colour such as #0B3D5C for --%s, found %q", flag, text)
	}
	return color.NRGBA{R: c.R, G: c.G, B: c.B, A: c.A}, nil
}

// charactersOf are those that --characters and --characters-from ask for.
func (opt Options) charactersOf() ([]rune, error) {
	out, err := parseCharacters("--characters", opt.Characters)
	if err != nil || opt.From == "" {
		return out, err
	}
	more, err := subject.Characters(opt.From)
	if err != nil {
		return nil, err
	}
	if !opt.Given("characters") {
		return more, nil
	}
	have := map[rune]bool{}
	for _, r := range append(out, more...) {
		have[r] = true
	}
	return registry.Drawn(have), nil
}

// parseCharacters reads sets, expressions and text, apart by spaces.
func parseCharacters(flag, text string) ([]rune, error) {
	c, err := registry.ParseCharacters(text)
	if err != nil {
		return nil, fault.Use("pixel: %v, in %s", err, flag)
	}
	out, err := c.Runes()
	if err != nil {
		return nil, fault.Use("pixel: expected characters for %s, found %v", flag, err)
	}
	return out, nil
}
