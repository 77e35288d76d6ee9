package notary

import (
	"bytes"
	"compress/gzip"
	"crypto/sha256"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"maps"
	"path"
	"path/filepath"
	"slices"
	"strings"
	"sync"

	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/layout"
	"notaria/internal/pixel"
	"notaria/internal/platform"
	"notaria/internal/registry"
)

// MostPixelFile is the largest file that pixels are made of, in bytes, also unpacked.
const MostPixelFile = 64 << 20

// mostDrawn is how many pixels all roles have at most, each wish counted once: far beyond what any
// display's flash holds.
const mostDrawn = 1 << 22

// pixels is a role as a bitmap font. The same wish is drawn once in a run, and only if somebody asks for
// its pictures: which characters it has is known without.
func (p *Project) pixels(r platform.Role, characters []rune) (platform.Bitmap, error) {
	key := fmt.Sprintf("%s %v %s %+v %g %q", r.Face.ID(), r.Coordinates, r.Bitmap, r.Wish, r.Tracking, string(characters))
	if have, ok := p.drawn[key]; ok {
		return have, nil
	}
	b, err := p.bitmap(r, characters)
	if err != nil {
		return platform.Bitmap{}, notDrawn(r, err)
	}
	b.From = key + " " + b.From
	draw := b.Draw
	b.Draw = sync.OnceValues(func() (*pixel.Font, error) {
		f, err := draw()
		if err != nil {
			return nil, notDrawn(r, err)
		}
		for _, g := range f.Glyphs {
			p.pixelsDrawn += len(g.Pix)
		}
		if p.pixelsDrawn > mostDrawn {
			return nil, &fault.Error{File: registry.FileName, Expected: fmt.Sprintf("pixel fonts of at most %d million pixels in all", mostDrawn>>20), Found: "more", Cure: "choose fewer characters, or smaller heights, for the roles of displays"}
		}
		return f, nil
	})
	if p.drawn == nil {
		p.drawn = map[string]platform.Bitmap{}
	}
	p.drawn[key] = b
	return b, nil
}

// notDrawn says which role cannot be drawn.
func notDrawn(r platform.Role, err error) error {
	what := r.Bitmap
	if what == "" {
		what = r.Face.ID()
	}
	return fault.Of(what, fmt.Sprintf("pixels for the role %q", r.Name), err, "change the role in notaria.toml")
}

// DrawRole draws a role as it is said for all targets, with its characters, or ASCII where it asks for
// none, and with those of the strings of all displays' apps among the targets where it asks for
// them, or for none.
func (p *Project) DrawRole(name string, targets []platform.Platform) (*pixel.Font, []rune, error) {
	r := p.Registry.Roles[name]
	var f platform.Face
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
	b, err := p.pixels(role(name, r, f), characters)
	if err != nil {
		return nil, nil, err
	}
	drawn, err := b.Draw()
	return drawn, b.Lacks, err
}

// wordsOfDisplays are the characters of the strings of all apps that draw pixels. An app that cannot
// be read has none.
func (p *Project) wordsOfDisplays(targets []platform.Platform) []rune {
	var out []rune
	for _, t := range targets {
		if !t.About().Pixels {
			continue
		}
		sites, _ := p.Sites(t)
		for _, s := range sites {
			out = append(out, platform.AppCharacters(p.Tree, platform.Plain(s.Path()))...)
		}
	}
	return out
}

// bitmap finds out what a role's bitmap font has, and how it is drawn.
func (p *Project) bitmap(r platform.Role, characters []rune) (platform.Bitmap, error) {
	w := r.Wish
	w.Characters = characters
	if r.Bitmap != "" {
		return p.bitmapOfFile(r, w)
	}
	if err := w.Check(); err != nil {
		return platform.Bitmap{}, err
	}
	s, err := p.source(r.Face.ID(), r.Coordinates)
	if err != nil {
		return platform.Bitmap{}, err
	}
	w.Spacing = r.Tracking
	b := platform.Bitmap{Faces: []string{r.Face.ID()}, Depth: w.Depth}
	b.Has, b.Lacks = s.Split(characters)
	if w.Missing == pixel.Box || slices.Contains(b.Has, w.Missing) {
		b.Has = append(b.Has, b.Lacks...) // each has the picture of a missing one
	}
	b.Draw = func() (*pixel.Font, error) {
		f, _, err := s.Make(w)
		return f, err
	}
	return b, nil
}

// bitmapOfFile is a role that has a bitmap font of its own.
func (p *Project) bitmapOfFile(r platform.Role, w pixel.Wish) (platform.Bitmap, error) {
	f, sum, err := p.readBitmap(r.Bitmap)
	if err != nil {
		return platform.Bitmap{}, err
	}
	w.Tracking = w.Letters(r.Tracking, f.Em)
	lacks, err := f.Take(w.Choice)
	if err == nil && w.Depth != f.Depth && w.Depth != 0 {
		err = f.Deepen(w.Depth)
	}
	if err != nil {
		return platform.Bitmap{}, err
	}
	b := platform.Bitmap{From: sum, Depth: f.Depth, Lacks: lacks, Draw: func() (*pixel.Font, error) { return f, nil }}
	for _, g := range f.Glyphs {
		b.Has = append(b.Has, g.Rune)
	}
	return b, nil
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
	f, _, err := p.readBitmap(name)
	return f, err
}

// readBitmap also returns the SHA-256 of what was read.
func (p *Project) readBitmap(name string) (*pixel.Font, string, error) {
	sum := sha256.New()
	read := func(name string) ([]byte, error) {
		data, err := p.Dir.Read(name, MostPixelFile)
		sum.Write(data)
		return data, err
	}
	data, err := read(name)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, "", &fault.Error{File: name, Expected: "a bitmap font: BDF, PCF, PSF, or a sheet", Found: "no file", Cure: "correct its path, which starts at notaria.toml"}
	}
	if err != nil {
		return nil, "", err
	}
	f, err := PixelBitmap(name, data, read)
	if err == nil && f == nil {
		err = &fault.Error{File: name, Expected: "a bitmap font: BDF, PCF, PSF, or a sheet", Found: "another file", Cure: "a face of outlines is enrolled, and named by face"}
	}
	return f, fmt.Sprintf("%x", sum.Sum(nil)), err
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
			return nil, fault.Form("expected the sheet's picture beside it, found %q", picture)
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

// How much a packed file may hold: real fonts are packed some 20 to 1.
const (
	mostPacked  = 200
	leastPacked = 1 << 20 // that much in any case
)

// unpacked is a file that gzip packed, as systems keep their bitmap fonts; others stay.
func unpacked(data []byte) ([]byte, error) {
	if !bytes.HasPrefix(data, []byte{0x1f, 0x8b}) {
		return data, nil
	}
	r, err := gzip.NewReader(bytes.NewReader(data))
	if err != nil {
		return nil, err
	}
	most := min(MostPixelFile, max(len(data)*mostPacked, leastPacked))
	out, err := io.ReadAll(io.LimitReader(r, int64(most)+1))
	if err == nil && len(out) > most {
		err = fault.Form("expected a file packed at most %d to 1, and of at most 64 MiB, found more; do not trust it", mostPacked)
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
