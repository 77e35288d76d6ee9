package notary

import (
	"crypto/sha256"
	"errors"
	"fmt"
	"io/fs"
	"maps"
	"slices"
	"sync"

	"notaria/internal/fault"
	"notaria/internal/pixel"
	"notaria/internal/platform"
	"notaria/internal/registry"
)

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
	if e, _ := p.Entry(id); e.At != nil { // drawn where it would be pinned, and nothing is rounded twice
		at := maps.Clone(e.At)
		maps.Copy(at, coordinates)
		coordinates = at
	}
	s, err := pixel.OfOutlines(o.content, coordinates)
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
		data, err := p.Dir.Read(name, pixel.MostFile)
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
	f, err := pixel.ReadFile(name, data, read)
	if err == nil && f == nil {
		err = &fault.Error{File: name, Expected: "a bitmap font: BDF, PCF, PSF, or a sheet", Found: "another file", Cure: "a face of outlines is enrolled, and named by face"}
	}
	return f, fmt.Sprintf("%x", sum.Sum(nil)), err
}
