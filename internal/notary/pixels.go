package notary

import (
	"bytes"
	"compress/gzip"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"maps"
	"path"
	"path/filepath"
	"slices"
	"strings"

	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/layout"
	"notaria/internal/pixel"
	"notaria/internal/registry"
	"notaria/internal/target"
)

// MaxPixelFile is the largest file that pixels are made of, in bytes, also unpacked.
const MaxPixelFile = 64 << 20

// maxDrawn is how many pixels all roles have at most, each wish counted once: far beyond what any
// display's flash holds.
const maxDrawn = 1 << 22

// pixels draws a role. The same wish is drawn once in a run.
func (p *Project) pixels(r target.Role, characters []rune) (*pixel.Font, []rune, error) {
	key := fmt.Sprintf("%s %v %s %+v %g %q", r.Face.ID(), r.Coordinates, r.Bitmap, r.Wish, r.Tracking, string(characters))
	if have, ok := p.drawn[key]; ok {
		return have.font, have.lacks, nil
	}
	f, lacks, err := p.draw(r, characters)
	if err != nil {
		what := r.Bitmap
		if what == "" {
			what = r.Face.ID()
		}
		return nil, nil, fault.Of(what, fmt.Sprintf("pixels for the role %q", r.Name), err, "change the role in notaria.toml")
	}
	if p.drawn == nil {
		p.drawn = map[string]drawn{}
	}
	for _, g := range f.Glyphs {
		p.pixelsDrawn += len(g.Pix)
	}
	if p.pixelsDrawn > maxDrawn {
		return nil, nil, &fault.Error{File: "notaria.toml", Expected: fmt.Sprintf("pixel fonts of at most %d million pixels in all", maxDrawn>>20), Found: "more", Cure: "choose fewer characters, or smaller heights, for the roles of displays"}
	}
	p.drawn[key] = drawn{f, lacks}
	return f, lacks, nil
}

// DrawRole draws a role as it is said for all targets, with its characters, or ASCII where it asks for
// none, and with those of the strings of all displays' apps among the targets where it asks for
// them, or for none.
func (p *Project) DrawRole(name string, targets []target.Target) (*pixel.Font, []rune, error) {
	r := p.Registry.Roles[name]
	var f target.Face
	if r.Bitmap == "" {
		var err error
		if f, err = p.Face(r.Face); err != nil {
			return nil, nil, err
		}
	}
	asked := registry.Characters{Sets: []string{"ascii"}}
	if r.Characters != nil {
		asked = *r.Characters
	}
	characters, err := asked.Runes()
	if err != nil {
		return nil, nil, err
	}
	if r.Characters == nil || r.Characters.AppStrings {
		have := map[rune]bool{}
		for _, c := range append(characters, p.wordsOfDisplays(targets)...) {
			have[c] = true
		}
		characters = registry.Drawn(have)
	}
	return p.pixels(role(name, r, f), characters)
}

// wordsOfDisplays are the characters of the strings of all apps that draw pixels. An app that cannot
// be read has none.
func (p *Project) wordsOfDisplays(targets []target.Target) []rune {
	var out []rune
	for _, t := range targets {
		if _, draws := t.(target.Drawer); !draws {
			continue
		}
		sites, _ := p.Sites(t)
		for _, s := range sites {
			out = append(out, target.AppCharacters(p.Tree, strings.TrimPrefix(s.Path(), "."))...)
		}
	}
	return out
}

// drawn is a font with the characters that its face lacks.
type drawn struct {
	font  *pixel.Font
	lacks []rune
}

func (p *Project) draw(r target.Role, characters []rune) (*pixel.Font, []rune, error) {
	w := r.Wish
	w.Characters = characters
	if r.Bitmap != "" {
		f, err := p.ReadBitmap(r.Bitmap)
		if err != nil {
			return nil, nil, err
		}
		w.Tracking = w.Letters(r.Tracking, f.Em)
		lacks, err := f.Take(w.Choice)
		if err == nil && w.Depth != f.Depth && w.Depth != 0 {
			err = f.Deepen(w.Depth)
		}
		return f, lacks, err
	}
	s, err := p.source(r.Face.ID(), r.Coordinates)
	if err != nil {
		return nil, nil, err
	}
	w.Spacing = r.Tracking
	return s.Make(w)
}

// source is an enrolled face, to be drawn.
func (p *Project) source(id string, coordinates map[string]float64) (*pixel.Source, error) {
	key := fmt.Sprint(id, " ", coordinates) // maps are printed in order
	if s := p.sources[key]; s != nil {
		return s, nil
	}
	o, err := p.makes.original(id)
	if err != nil {
		return nil, err
	}
	s, err := PixelSource(o.content, coordinates)
	if err == nil {
		if p.sources == nil {
			p.sources = map[string]*pixel.Source{}
		}
		p.sources[key] = s
	}
	return s, err
}

// ReadBitmap reads a bitmap font of the project.
func (p *Project) ReadBitmap(name string) (*pixel.Font, error) {
	read := func(name string) ([]byte, error) { return p.Dir.Read(name, MaxPixelFile) }
	data, err := read(name)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, &fault.Error{File: name, Expected: "a bitmap font: BDF, PCF, PSF, or a sheet", Found: "no file", Cure: "correct its path, which starts at notaria.toml"}
	}
	if err != nil {
		return nil, err
	}
	f, err := PixelBitmap(name, data, read)
	if err == nil && f == nil {
		err = &fault.Error{File: name, Expected: "a bitmap font: BDF, PCF, PSF, or a sheet", Found: "another file", Cure: "a face of outlines is enrolled, and named by face"}
	}
	return f, err
}

// PixelBitmap reads a bitmap font: BDF, PCF or PSF, also packed by gzip, or the text of a sheet, whose
// picture is read from beside it. It returns nil for data of another kind.
func PixelBitmap(name string, data []byte, read func(string) ([]byte, error)) (*pixel.Font, error) {
	data, err := unpacked(data)
	if err != nil {
		return nil, err
	}
	base := strings.TrimSuffix(filepath.Base(name), ".gz")
	base = strings.TrimSuffix(base, filepath.Ext(base))
	var f *pixel.Font
	switch {
	case pixel.IsBDF(data):
		f, err = pixel.ReadBDF(data)
	case pixel.IsPCF(data):
		f, err = pixel.ReadPCF(data)
	case pixel.IsPSF(data):
		f, err = pixel.ReadPSF(data)
	default:
		picture, ok := pixel.SheetPicture(data)
		if !ok {
			return nil, nil
		}
		if path.Base(picture) != picture || strings.ContainsAny(picture, `\/:`) {
			return nil, fmt.Errorf("expected the sheet's picture beside it, found %q", picture)
		}
		at := filepath.Join(filepath.Dir(name), picture)
		raw, err := read(filepath.ToSlash(at))
		if err != nil {
			return nil, fmt.Errorf("the sheet's picture, %s: %w", at, err)
		}
		return pixel.ReadSheet(data, raw)
	}
	if err == nil {
		f.Name = base
	}
	return f, err
}

// unpacked is a file that gzip packed, as systems keep their bitmap fonts; others stay.
func unpacked(data []byte) ([]byte, error) {
	if !bytes.HasPrefix(data, []byte{0x1f, 0x8b}) {
		return data, nil
	}
	r, err := gzip.NewReader(bytes.NewReader(data))
	if err != nil {
		return nil, err
	}
	out, err := io.ReadAll(io.LimitReader(r, MaxPixelFile+1))
	if err == nil && len(out) > MaxPixelFile {
		err = fmt.Errorf("more than 64 MiB when it is unpacked")
	}
	return out, err
}

// PixelSource is a font file whose outlines can be drawn: a variable font at its default, or at values
// of its axes.
func PixelSource(data []byte, coordinates map[string]float64) (*pixel.Source, error) {
	font, err := open(data)
	if err != nil {
		return nil, err
	}
	read, _, err := face.Read(font, face.Options{})
	if err != nil {
		return nil, err
	}
	paths, err := font.Paths()
	if err != nil {
		return nil, err
	}
	name := read.ID()
	if len(coordinates) > 0 {
		if paths, err = paths.At(font, coordinates); err != nil {
			return nil, err
		}
		for _, tag := range slices.Sorted(maps.Keys(coordinates)) {
			name += fmt.Sprintf(" %s %g", tag, coordinates[tag])
		}
	}
	if read.UnitsPerEm <= 0 {
		return nil, fmt.Errorf("%d units per em", read.UnitsPerEm)
	}
	s := &pixel.Source{Name: name, Family: read.Family, UnitsPerEm: read.UnitsPerEm, Ascent: read.Ascent, Descent: read.Descent, Paths: paths}
	s.Kern = layout.NewKerning(font)
	return s, nil
}
