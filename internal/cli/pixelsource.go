package cli

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io/fs"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"golang.org/x/sync/errgroup"

	"notaria/internal/change"
	"notaria/internal/disk"
	"notaria/internal/fault"
	"notaria/internal/lazy"
	"notaria/internal/notary"
	"notaria/internal/pixel"
	"notaria/internal/registry"
	"notaria/internal/target/all"
)

// kinds of what pixels are made of, with the flags that belong to one kind alone.
const (
	ofOutlines = "a face of outlines"
	ofBitmap   = "a bitmap font"
	ofPicture  = "a picture"
	ofRole     = "a role, whose keys in notaria.toml say it"
)

var kindFlags = map[string][]string{
	"height": {ofOutlines}, "of": {ofOutlines}, "hinting": {ofOutlines}, "coordinates": {ofOutlines}, "contrast": {ofOutlines},
	"depth": {ofOutlines, ofBitmap, ofPicture}, "kerning": {ofOutlines, ofBitmap},
	"times": {ofBitmap, ofPicture}, "characters": {ofOutlines, ofBitmap, ofPicture}, "characters-from": {ofOutlines, ofBitmap, ofPicture},
	"missing": {ofOutlines, ofBitmap, ofPicture}, "tracking": {ofOutlines, ofBitmap, ofPicture}, "same-width": {ofOutlines, ofBitmap, ofPicture}, "gap": {ofOutlines, ofBitmap, ofPicture},
	"holds": {ofPicture}, "cell": {ofPicture}, "ink": {ofPicture}, "ground": {ofPicture}, "baseline": {ofPicture},
}

// suits says which flag does not belong to a kind of source: none is passed over in silence.
func (opt pixelOptions) suits(kind, what string) error {
	for _, flag := range slices.Sorted(maps.Keys(kindFlags)) {
		if opt.given(flag) && !slices.Contains(kindFlags[flag], kind) {
			return wrongUse("pixel: expected %s for --%s, found %s, %s", strings.Join(kindFlags[flag], " or "), flag, kind, what)
		}
	}
	return nil
}

// drawPixels draws each size and depth of an outline face, or takes the characters out of a bitmap
// font or a picture.
func (a *app) drawPixels(what string, opt pixelOptions) ([]one, error) {
	name, data, role, err := a.pixelSource(what)
	if err != nil {
		return nil, err
	}
	if role != nil {
		if err := opt.suits(ofRole, what); err != nil {
			return nil, err
		}
		f, lacks, err := a.drawRole(what)
		if err != nil {
			return nil, err
		}
		return opt.finish(what, one{font: f, lacks: lacks, name: pixel.CName(what)})
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
		f, err = notary.PixelBitmap(name, data, os.ReadFile)
	}
	if err != nil {
		var use *codeError
		if errors.As(err, &use) {
			return nil, err
		}
		return nil, wrong(err)
	}
	if f == nil {
		return a.drawOutlines(what, data, c, opt)
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
	return opt.finish(what, one{font: f, lacks: lacks, name: pixel.CName(f.Name)})
}

// take keeps what is chosen of a font that is drawn already. Without --characters that is all of it.
func (opt pixelOptions) take(f *pixel.Font, c pixel.Choice) ([]rune, error) {
	if len(opt.depths) > 1 {
		return nil, fmt.Errorf("expected one --depth for a bitmap font, found %d", len(opt.depths))
	}
	if !opt.given("characters") && !opt.given("characters-from") {
		c.Characters = nil
	}
	lacks, err := f.Take(c)
	if err == nil && opt.times != 1 {
		err = f.Times(opt.times)
	}
	if err == nil && opt.given("depth") {
		err = f.Deepen(opt.depths[0])
	}
	return lacks, err
}

// finish pads a font, and gives it the name that was asked for.
func (opt pixelOptions) finish(what string, list ...one) ([]one, error) {
	common := commonName(list)
	for i := range list {
		if opt.padding != 0 {
			if err := list[i].font.Pad(opt.padding); err != nil {
				return nil, wrongUse("pixel: %s: %v", what, err)
			}
		}
		if opt.name != "" {
			list[i].name = opt.name + strings.TrimPrefix(list[i].name, common)
		}
	}
	return list, nil
}

// commonName is what the names of several fonts begin with; all of it where there is one.
func commonName(list []one) string {
	if len(list) == 1 {
		return list[0].name
	}
	out := list[0].name
	for _, o := range list[1:] {
		for !strings.HasPrefix(o.name, out) {
			out = out[:len(out)-1]
		}
	}
	return out[:max(0, strings.LastIndexByte(out, '_'))]
}

// choice is what the flags say for all kinds of sources.
func (opt pixelOptions) choice() (pixel.Choice, error) {
	c := pixel.Choice{Tracking: opt.tracking, Contrast: opt.contrast, Kerning: opt.kerning, Gap: opt.gap}
	var err error
	if c.Characters, err = opt.charactersOf(); err != nil {
		return c, err
	}
	if c.SameWidth, err = parseCharacters("--same-width", opt.sameWidth); err != nil {
		return c, err
	}
	if c.Missing, err = registry.ParseMissing(opt.missing); err != nil {
		return c, wrongUse("pixel: %v, for --missing", err)
	}
	return c, nil
}

// drawOutlines draws a face in each height and depth.
func (a *app) drawOutlines(what string, data []byte, c pixel.Choice, opt pixelOptions) ([]one, error) {
	if err := opt.suits(ofOutlines, what); err != nil {
		return nil, err
	}
	at := map[string]float64{}
	for _, tag := range slices.Sorted(maps.Keys(opt.coordinates)) {
		v, err := strconv.ParseFloat(opt.coordinates[tag], 64)
		if err != nil || v != v {
			return nil, wrongUse("pixel: expected a number for the axis %s of --coordinates, found %q", tag, opt.coordinates[tag])
		}
		at[tag] = v
	}
	s, err := notary.PixelSource(data, at)
	if err != nil {
		return nil, fmt.Errorf("%s: %w; choose another size, depth or face", what, err)
	}
	out := make([]one, len(opt.heights)*len(opt.depths))
	var together errgroup.Group
	for i := range out {
		height, depth := opt.heights[i/len(opt.depths)], opt.depths[i%len(opt.depths)]
		w := pixel.Wish{Choice: c, Height: height, Of: opt.of, Hinting: opt.hinting}
		w.Depth = depth
		if err := w.Check(); err != nil {
			return nil, wrongUse("pixel: %v", err)
		}
		together.Go(func() error {
			f, lacks, err := s.Make(w)
			if err != nil {
				return fmt.Errorf("%s: %w; choose another size, depth or face", what, err)
			}
			name := fmt.Sprintf("%s %d", f.Name, height)
			if len(opt.depths) > 1 {
				name += fmt.Sprintf(" %d", depth)
			}
			near := s.Near(w)
			out[i] = one{font: f, lacks: lacks, name: pixel.CName(name), near: near[:min(3, len(near))]}
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
		return [2]int{}, wrongUse("pixel: expected a width and a height such as 8x12 for --%s, found %q", flag, text)
	}
	var out [2]int
	_, err := fmt.Sscanf(m[1]+" "+m[2], "%d %d", &out[0], &out[1])
	return out, err
}

// strip reads a picture of glyphs.
func (opt pixelOptions) strip(data []byte) (*pixel.Font, error) {
	s := pixel.Strip{Holds: []rune(opt.holds), Baseline: opt.baseline}
	if opt.holds == "" {
		return nil, wrongUse("pixel: expected --holds with the characters of the picture, in their order, such as --holds '0123456789:'")
	}
	var err error
	if s.Ink.Ink, err = colourOf("ink", opt.inkOf); err != nil {
		return nil, err
	}
	if s.Ground, err = colourOf("ground", opt.groundOf); err != nil {
		return nil, err
	}
	if opt.cell != "" {
		if s.Cell, err = size("cell", opt.cell); err != nil {
			return nil, err
		}
	}
	if opt.given("depth") {
		s.Depth = opt.depths[0]
	}
	return pixel.ReadStrip(data, s)
}

// pixelSource is a file that is there, the original of an enrolled face, or a role.
func (a *app) pixelSource(what string) (string, []byte, *registry.Role, error) {
	info, err := os.Stat(what)
	if err != nil || info.IsDir() {
		p, perr := a.look()
		if perr != nil {
			return "", nil, nil, perr
		}
		defer p.Close()
		if e, ok := p.Registry.Face(what); ok {
			data, err := p.Dir.Read(e.File, notary.MaxPixelFile)
			return e.File, data, nil, err
		}
		if r, ok := p.Registry.Roles[what]; ok {
			return what, nil, &r, nil
		}
		known := append(append(p.Registry.FaceNames(), p.Registry.RoleNames()...), "a file's path")
		return "", nil, nil, &fault.Error{File: what, Expected: "a font file, an enrolled face, or a role", Found: "none of them", Cure: "use one of: " + strings.Join(known, ", ")}
	}
	if info.Size() > notary.MaxPixelFile {
		return "", nil, nil, &fault.Error{File: what, Expected: "a font of at most 64 MiB", Found: "a larger file", Cure: "choose another"}
	}
	data, err := os.ReadFile(what)
	return what, data, nil, err
}

// drawRole draws a role of the project.
func (a *app) drawRole(name string) (*pixel.Font, []rune, error) {
	p, err := a.look()
	if err != nil {
		return nil, nil, err
	}
	defer p.Close()
	return p.DrawRole(name, all.Targets)
}

// pixelFiles are the files of each form of each font.
func pixelFiles(fonts []one, opt pixelOptions) (map[string][]byte, error) {
	files := map[string][]byte{}
	for _, o := range fonts {
		for _, form := range opt.forms {
			list, err := pixelForm(o, form, opt)
			if err != nil {
				return nil, wrongUse("pixel: --as %s: %v", form, err)
			}
			for _, name := range slices.Sorted(maps.Keys(list)) {
				if files[name] != nil && !bytes.Equal(files[name], list[name]) {
					return nil, wrongUse("pixel: expected forms whose files have other names, found two that write %s: run the command for each, with another --name or --to", name)
				}
				files[name] = list[name]
			}
		}
	}
	return files, nil
}

func pixelForm(o one, form string, opt pixelOptions) (map[string][]byte, error) {
	f, name := o.font, o.name
	switch form {
	case formLVGL:
		return f.LVGL(name, pixel.Included(opt.include), opt.compressed)
	case formU8G2:
		return f.U8G2(name)
	case formEspruino:
		return f.Espruino(name)
	case formBDF:
		var b bytes.Buffer
		err := f.WriteBDF(&b)
		return map[string][]byte{name + ".bdf": b.Bytes()}, err
	case formSheet:
		return f.Sheet(name)
	case formGodot:
		return f.Godot(name)
	case formLove:
		return f.Love(name)
	case formLibGDX:
		return f.LibGDX(name, pixel.JavaPackage(opt.folder))
	}
	return f.C(name)
}

// writeNew writes files that Notaria generates into a folder, all or none: over ones that it
// generated, and over no others: a sheet can have been edited. It returns their paths, in order.
func (a *app) writeNew(ctx context.Context, folder string, files map[string][]byte) ([]string, error) {
	if len(files) == 0 {
		return []string{}, nil
	}
	if err := os.MkdirAll(folder, 0o755); err != nil {
		return nil, err
	}
	dir, err := disk.Open(folder)
	if err != nil {
		return nil, err
	}
	defer dir.Close()
	hold, err := change.Take(ctx, dir, func(string) {}, nil)
	if err != nil {
		return nil, err
	}
	defer hold.Release()
	if _, err := hold.Recover(ctx); err != nil {
		return nil, err
	}
	set := &change.Set{Dir: dir}
	var names []string
	for _, name := range slices.Sorted(maps.Keys(files)) {
		old, err := set.Read(name)
		if err == nil && !bytes.Equal(old, files[name]) && !bytes.Contains(old[:min(len(old), 400)], []byte("Code generated by Notaria")) {
			return nil, &fault.Error{File: filepath.Join(folder, name), Expected: "no file, or one that Notaria generated", Found: "another", Cure: "move it away, or choose another --name or --to"}
		}
		if err != nil && !errors.Is(err, fs.ErrNotExist) {
			return nil, err
		}
		if err := set.Write(name, files[name]); err != nil {
			return nil, err
		}
		names = append(names, filepath.Join(folder, name))
	}
	return names, hold.Apply(ctx, set)
}
