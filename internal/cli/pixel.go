package cli

import (
	"bytes"
	"compress/gzip"
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"sort"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/change"
	"notaria/internal/disk"
	"notaria/internal/document"
	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/pixel"
	"notaria/internal/registry"
	"notaria/internal/sfnt"
)

// pixelOptions are the flags of pixel.
type pixelOptions struct {
	height               int
	of, characters, name string
	depth, tracking      int
	sameWidth            string
	forms                []string
	folder, show         string
	drawn                string // a flag that was given, and that is for outlines alone
}

// Forms that a pixel font is written in.
const (
	formC    = "c"
	formLVGL = "lvgl"
	formU8G2 = "u8g2"
	formBDF  = "bdf"
)

var pixelForms = []string{formC, formLVGL, formU8G2, formBDF}

func (a *app) pixel() *cobra.Command {
	var opt pixelOptions
	c := &cobra.Command{
		Use:   "pixel FACE|FILE [flags]",
		Short: "Make a bitmap font of a face, for a display or a pixel game",
		Long: `Draw characters of a face as pictures of pixels, so many pixels high and so many bits
deep, and write them in the form that a display's program or a pixel game reads: an
enrolled face by its name, a font file, or a bitmap font (BDF, PCF, PSF; also packed by
gzip), whose own size stays.

The height is of what you mean: --of em (if absent), line, digits, capitals, x-height, or
characters of your own. The digits are then exactly so high, from the lowest to the
highest pixel.

Characters are sets (` + strings.Join(setNames(), ", ") + `), expressions such as
U+00B0 or U+0020-007E, and text; what is in double quotes is text whatever it looks like. What
the face does not have is listed.

Forms: c, a source and a header with a reader of plain C for any display, also for chips
with their flash apart (AVR); lvgl, for LVGL 8 and 9; u8g2, compressed for U8g2, and bdf, both
for 1 bit a pixel. Without --as nothing is written.`,
		Example: "  notaria pixel SkerrySans-Bold --height 60 --of digits --characters 'digits :' --same-width digits --show 07:40\n" +
			"  notaria pixel SkerrySans-Bold --height 16 --depth 4 --as c --to firmware/fonts",
		Args: func(_ *cobra.Command, args []string) error {
			if len(args) != 1 {
				return wrongUse("pixel: expected one face or file, found %d; see: notaria pixel --help", len(args))
			}
			return nil
		},
		RunE: func(c *cobra.Command, args []string) error {
			for _, name := range []string{"height", "of", "depth"} {
				if c.Flags().Changed(name) {
					opt.drawn = name
					break
				}
			}
			return a.runPixel(c.Context(), args[0], opt)
		},
	}
	f := c.Flags()
	f.IntVar(&opt.height, "height", 16, "the height in pixels")
	f.StringVar(&opt.of, "of", "em", "of what: em, line, digits, capitals, x-height, or characters")
	f.StringVar(&opt.characters, "characters", "ascii", "which characters: sets, U+ expressions and text")
	f.IntVar(&opt.depth, "depth", 1, "bits a pixel: 1, 2, 4 or 8")
	f.IntVar(&opt.tracking, "tracking", 0, "added after each character, in 1/16 pixel")
	f.StringVar(&opt.sameWidth, "same-width", "", "characters that get one width, such as digits")
	f.StringSliceVar(&opt.forms, "as", nil, "write this form: c, lvgl, u8g2 or bdf")
	f.StringVar(&opt.folder, "to", ".", "the folder that they are written into")
	f.StringVar(&opt.name, "name", "", "the font's name in code and of its files; made of the face and the height, if absent")
	f.StringVar(&opt.show, "show", "", "show this text in the terminal")
	return c
}

func setNames() []string {
	out := make([]string, 0, len(registry.CharacterSets))
	for name := range registry.CharacterSets {
		out = append(out, name)
	}
	sort.Strings(out)
	return out
}

func (a *app) runPixel(ctx context.Context, what string, opt pixelOptions) error {
	if !slices.Contains(pixel.Depths, opt.depth) {
		return wrongUse("pixel: expected a --depth of 1, 2, 4 or 8, found %d", opt.depth)
	}
	for _, form := range opt.forms {
		if !slices.Contains(pixelForms, form) {
			return wrongUse("pixel: expected %s for --as, found %q", strings.Join(pixelForms, ", "), form)
		}
	}
	characters, err := parseCharacters("--characters", opt.characters)
	if err != nil {
		return err
	}
	same, err := parseCharacters("--same-width", opt.sameWidth)
	if err != nil {
		return err
	}
	f, lacks, called, err := a.drawPixels(what, opt, characters, same)
	if err != nil {
		return err
	}
	if len(f.Glyphs) == 0 {
		return &fault.Error{File: what, Expected: "a face with some of the characters", Found: "none of them", Cure: "choose others with --characters"}
	}
	if opt.name == "" {
		opt.name = pixel.CName(called)
	} else if opt.name != pixel.CName(opt.name) {
		return wrongUse("pixel: expected a --name of small letters, digits and underscores, found %q", opt.name)
	}
	files, err := pixelFiles(f, opt)
	if err != nil {
		return err
	}
	written, err := a.writeNew(ctx, opt.folder, files)
	if err != nil {
		return err
	}
	doc := document.NewPixel(f, lacks, written)
	if a.json {
		return a.printJSON(doc)
	}
	a.printPixel(f, doc, opt)
	return nil
}

// drawPixels draws an outline face, or takes the characters out of a bitmap font. It also returns
// what the result can be called.
func (a *app) drawPixels(what string, opt pixelOptions, characters, same []rune) (*pixel.Font, []rune, string, error) {
	name, data, err := a.pixelSource(what)
	if err != nil {
		return nil, nil, "", err
	}
	wrong := func(err error) error { return fmt.Errorf("%s: %w; choose another size, depth or face", what, err) }
	if data, err = unpacked(data); err != nil {
		return nil, nil, "", wrong(err)
	}
	var read func([]byte) (*pixel.Font, error)
	switch {
	case pixel.IsBDF(data):
		read = pixel.ReadBDF
	case pixel.IsPCF(data):
		read = pixel.ReadPCF
	case pixel.IsPSF(data):
		read = pixel.ReadPSF
	}
	if read != nil {
		if opt.drawn != "" {
			return nil, nil, "", wrongUse("pixel: expected a face of outlines for --%s, found a bitmap font, %s, which has one size and one depth", opt.drawn, what)
		}
		f, err := read(data)
		if err != nil {
			return nil, nil, "", wrong(err)
		}
		lacks := f.Only(characters)
		name = strings.TrimSuffix(filepath.Base(name), ".gz")
		f.Name = strings.TrimSuffix(name, filepath.Ext(name))
		if err := f.Space(opt.tracking, same); err != nil {
			return nil, nil, "", wrong(err)
		}
		return f, lacks, f.Name, nil
	}
	source, err := pixelOutlines(data)
	if err != nil {
		return nil, nil, "", wrong(err)
	}
	em := float64(opt.height)
	switch opt.of {
	case "em":
	case "line":
		em = float64(opt.height) * float64(source.UnitsPerEm) / float64(max(1, source.Ascent-source.Descent))
	default:
		if em, err = source.Fit(opt.height, pixel.FitRunes(opt.of), opt.depth); err != nil {
			return nil, nil, "", wrong(err)
		}
	}
	f, lacks, err := source.Draw(em, pixel.Choice{Characters: characters, Depth: opt.depth, Tracking: opt.tracking, SameWidth: same})
	if err != nil {
		return nil, nil, "", wrong(err)
	}
	return f, lacks, fmt.Sprintf("%s %d", f.Name, opt.height), nil
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
	out, err := io.ReadAll(io.LimitReader(r, maxPixelFile+1))
	if err == nil && len(out) > maxPixelFile {
		err = fmt.Errorf("more than 64 MiB when it is unpacked")
	}
	return out, err
}

// maxPixelFile is the largest font file that is drawn, in bytes.
const maxPixelFile = 64 << 20

// pixelSource is a file that is there, or the original of an enrolled face.
func (a *app) pixelSource(what string) (string, []byte, error) {
	info, err := os.Stat(what)
	if err != nil || info.IsDir() {
		p, perr := a.look()
		if perr != nil {
			return "", nil, perr
		}
		defer p.Close()
		e, ok := p.Registry.Face(what)
		if !ok {
			return "", nil, &fault.Error{File: what, Expected: "a font file, or an enrolled face", Found: "neither", Cure: "use one of: " + strings.Join(append(p.Registry.FaceNames(), "a file's path"), ", ")}
		}
		data, err := p.Dir.Read(e.File, maxPixelFile)
		return e.File, data, err
	}
	if info.Size() > maxPixelFile {
		return "", nil, &fault.Error{File: what, Expected: "a font of at most 64 MiB", Found: "a larger file", Cure: "choose another"}
	}
	data, err := os.ReadFile(what)
	return what, data, err
}

func pixelOutlines(data []byte) (*pixel.Source, error) {
	file, err := sfnt.Open(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return nil, err
	}
	font := file.Font(0)
	read, _, err := face.Read(font, face.Options{})
	if err != nil {
		return nil, err
	}
	paths, err := font.Paths()
	if err != nil {
		return nil, err
	}
	if read.UnitsPerEm <= 0 {
		return nil, fmt.Errorf("%d units per em", read.UnitsPerEm)
	}
	return &pixel.Source{Name: read.ID(), Family: read.Family, UnitsPerEm: read.UnitsPerEm, Ascent: read.Ascent, Descent: read.Descent, Paths: paths}, nil
}

// parseCharacters reads sets, expressions and text, apart by spaces.
func parseCharacters(flag, text string) ([]rune, error) {
	var c registry.Characters
	var ranges []string
	for rest := strings.TrimSpace(text); rest != ""; rest = strings.TrimSpace(rest) {
		word := rest
		if rest[0] == '"' {
			end := strings.IndexByte(rest[1:], '"')
			if end < 0 {
				return nil, wrongUse("pixel: expected a second double quote in %s, found %s", flag, rest)
			}
			c.Text, rest = c.Text+rest[1:1+end], rest[end+2:]
			continue
		}
		word, rest, _ = strings.Cut(rest, " ")
		switch {
		case registry.CharacterSets[word] != "":
			c.Sets = append(c.Sets, word)
		case len(word) > 2 && (word[:2] == "U+" || word[:2] == "u+"):
			ranges = append(ranges, strings.TrimSuffix(word, ","))
		default:
			c.Text += word
		}
	}
	c.Range = strings.Join(ranges, ",")
	out, err := c.Runes()
	if err != nil {
		return nil, wrongUse("pixel: expected characters for %s, found %v", flag, err)
	}
	return out, nil
}

// pixelFiles are the files of each form.
func pixelFiles(f *pixel.Font, opt pixelOptions) (map[string][]byte, error) {
	files := map[string][]byte{}
	for _, form := range opt.forms {
		list, err := pixelForm(f, form, opt.name)
		if err != nil {
			return nil, wrongUse("pixel: --as %s: %v", form, err)
		}
		for _, name := range slices.Sorted(maps.Keys(list)) {
			if files[name] != nil {
				return nil, wrongUse("pixel: expected forms whose files have other names, found two that write %s: run the command for each, with another --name or --to", name)
			}
			files[name] = list[name]
		}
	}
	return files, nil
}

func pixelForm(f *pixel.Font, form, name string) (map[string][]byte, error) {
	switch form {
	case formLVGL:
		return f.LVGL(name)
	case formU8G2:
		return f.U8G2(name)
	case formBDF:
		var b bytes.Buffer
		err := f.WriteBDF(&b)
		return map[string][]byte{name + ".bdf": b.Bytes()}, err
	}
	return f.C(name)
}

// writeNew writes files that Notaria generates into a folder, all or none: over ones that it
// generated, and over no others. It returns their paths, in order.
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
		if err == nil && !bytes.Contains(old[:min(len(old), 400)], []byte("Code generated by Notaria")) {
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

func (a *app) printPixel(f *pixel.Font, d document.Pixel, opt pixelOptions) {
	a.say("%s  %s pixels per em, %s a pixel, %s", a.paint.strong(f.Name), strconv.FormatFloat(f.Em, 'f', -1, 64), plural(f.Depth, "bit"), plural(len(f.Glyphs), "glyph"))
	for _, h := range []struct {
		what string
		n    int
	}{{"digits", d.Heights.Digits}, {"capitals", d.Heights.Capitals}, {"x-height", d.Heights.XHeight}, {"line", d.Heights.Line}} {
		if h.n > 0 {
			a.say("  %-9s %s high", h.what, plural(h.n, "pixel"))
		}
	}
	a.say("  %-9s %s of pixels; the heaviest is %s with %d", "bytes", strconv.Itoa(d.Bytes), d.Heaviest.Character, d.Heaviest.Bytes)
	if len(d.Lacks) > 0 {
		a.say("  %s the face does not have %s", a.paint.warn("careful:"), strings.Join(d.Lacks, ", "))
	}
	for _, file := range d.Files {
		a.say("  %-9s %s", "written", file)
	}
	if opt.show == "" {
		return
	}
	wide, all := f.Width(opt.show)
	a.say("")
	fmt.Fprint(a.out, f.Text(opt.show).Blocks())
	a.say("%q is %s pixels wide", opt.show, strconv.FormatFloat(float64(wide)/pixel.Sub, 'f', -1, 64))
	if !all {
		a.say("%s characters of it are not in the font: add them to --characters", a.paint.warn("careful:"))
	}
}
