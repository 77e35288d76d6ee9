package cli

import (
	"context"
	"fmt"
	"maps"
	"path/filepath"
	"slices"
	"sort"
	"strings"

	"github.com/spf13/cobra"
	"github.com/spf13/pflag"

	"notaria/internal/bitmap"
	"notaria/internal/change"
	"notaria/internal/document"
	"notaria/internal/fault"
	"notaria/internal/pixel"
	"notaria/internal/registry"
	"notaria/internal/view"
)

const pixelLong = `Draw characters of a face as pictures of pixels, so many pixels high and so many bits
deep, and write them in the form that a display's program or a pixel game reads. What is
drawn is an enrolled face or a role by its name, a font file, a bitmap font (BDF, PCF, PSF;
also packed by gzip), a sheet (its .json), or a picture (PNG) of glyphs in a line or a grid.

The height is of what you mean: --of em (if absent), line, digits, capitals, x-height, or
characters of your own. The digits are then exactly so high, from the lowest to the
highest pixel. Several heights and depths are written at once: --height 12,24.

Characters are sets (%s), expressions such as
U+00B0 or U+0020-007E, and text; what is in double quotes is text whatever it looks like.
--characters-from adds those of the strings in a file or a folder: text, JSON, YAML, ARB,
.strings, .xcstrings, strings.xml, PO and sources. What the face does not have is listed.

Forms: c, a source and a header with a reader of plain C for any display, also for chips
with their flash apart (AVR); lvgl, for LVGL 8 and 9; u8g2, compressed for U8g2; espruino,
JavaScript for Espruino; bdf; sheet, a picture and a text that can be edited and read again;
godot, love and libgdx, made of such a sheet. Without --as nothing is written.

Before flashing: --panel 128x64 --put '4,40 07:40' --preview board.png draws a display;
--between 00:00..23:59 measures what has to be cleared; --budget says if it is too much.`

func (a *app) pixel() *cobra.Command {
	var opt bitmap.Options
	c := &cobra.Command{
		Use:   "pixel FACE|ROLE|FILE [flags]",
		Short: "Make a bitmap font of a face, for a display or a pixel game",
		Long:  fmt.Sprintf(pixelLong, strings.Join(setNames(), ", ")),
		Example: "  notaria pixel SkerrySans-Bold --height 60 --of digits --characters 'digits :' --same-width digits --show 07:40\n" +
			"  notaria pixel SkerrySans-Bold --height 16 --depth 4 --as c --out firmware/fonts\n" +
			"  notaria pixel digits.png --holds '0123456789:' --as u8g2",
		Args: func(_ *cobra.Command, args []string) error {
			if len(args) != 1 {
				return wrongUse("pixel: expected one face, role or file, found %d; see: notaria pixel --help", len(args))
			}
			return nil
		},
		RunE: func(c *cobra.Command, args []string) error {
			opt.Given = c.Flags().Changed
			return a.runPixel(c.Context(), args[0], opt)
		},
	}
	f := c.Flags()
	f.IntSliceVar(&opt.Heights, "height", []int{16}, "the height in `pixels`; several for several fonts")
	f.StringVar(&opt.Of, "of", "em", "of `what`: em, line, digits, capitals, x-height, or characters")
	f.IntSliceVar(&opt.Depths, "depth", []int{1}, "`bits` a pixel: 1, 2, 4 or 8; several for several fonts")
	f.StringVar(&opt.Characters, "characters", "ascii", "which `characters`: sets, U+ expressions and text")
	f.StringVar(&opt.From, "characters-from", "", "adds the characters of the strings in this `file or folder`")
	f.StringVar(&opt.Missing, "missing", "none", "`what` is drawn for characters that the face lacks: none, box, or a character")
	f.StringToStringVar(&opt.Coordinates, "coordinates", nil, "of a variable font: `values` of its axes, such as wght=650")
	f.StringVar(&opt.Hinting, "hinting", "auto", "`how` stems and heights go on whole pixels: auto (small sizes), on or off")
	f.IntVar(&opt.Contrast, "contrast", 0, "how much steeper shades become, in `percent`: 0 to 100")
	f.IntVar(&opt.Tracking, "tracking", 0, "added after each character, in `sixteenths` of a pixel")
	f.StringVar(&opt.SameWidth, "same-width", "", "`characters` that get one width, such as digits")
	f.IntVar(&opt.Gap, "gap", 0, "the least white between two characters, in `pixels`")
	f.BoolVar(&opt.Kerning, "kerning", true, "take the face's kerning over")
	f.StringVar(&opt.Holds, "holds", "", "of a picture: the `characters` in it, in their order")
	f.StringVar(&opt.Cell, "cell", "", "of a picture: the `size` of a grid's cells, such as 8x12; by the gaps, if absent")
	f.StringVar(&opt.Ink, "ink", "", "of a picture: the `colour` of the ink; found, if absent")
	f.StringVar(&opt.Ground, "ground", "", "of a picture: the `colour` of the ground; found, if absent")
	f.IntVar(&opt.Baseline, "baseline", -1, "of a picture: `rows` of a cell above the baseline; found, if absent")
	f.Float64Var(&opt.Times, "enlarge", 1, "of a bitmap font: so many `times` as large, in half steps")
	f.IntVar(&opt.Padding, "padding", 0, "empty `pixels` around each character")
	f.StringSliceVar(&opt.Forms, "as", nil, "write this `form`: "+strings.Join(bitmap.Forms, ", "))
	f.StringVar(&opt.Folder, "out", ".", "the `folder` that they are written into")
	f.BoolVar(&opt.Overwrite, "overwrite", false, "write over files that Notaria did not write there last")
	f.StringVar(&opt.Name, "name", "", "the font's `name` in code and of its files; made of the face and the height, if absent")
	f.StringVar(&opt.Include, "include", "", "of lvgl: the `header` as your sources name it, such as \"lvgl/lvgl.h\"; looked for, if absent")
	f.BoolVar(&opt.Compressed, "compressed", false, "of lvgl: compressed pixels, which need LV_USE_FONT_COMPRESSED")
	f.IntVar(&opt.Budget, "budget", 0, "the `bytes` of flash that it may take in the forms of --as; more is an error")
	f.StringVar(&opt.Show, "show", "", "show this `text` in the terminal")
	f.BoolVar(&opt.Dots, "dots", false, "show with braille dots, eight pixels a character")
	f.StringArrayVar(&opt.Measure, "measure", nil, "measure the ink of this `text`")
	f.StringArrayVar(&opt.Between, "between", nil, "measure all values between `two`, such as 00:00..23:59")
	panelFlags(&opt.Panel, f)
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

func (a *app) runPixel(ctx context.Context, what string, opt bitmap.Options) error {
	for _, form := range opt.Forms {
		if !slices.Contains(bitmap.Forms, form) {
			return wrongUse("pixel: expected %s for --as, found %q", strings.Join(bitmap.Forms, ", "), form)
		}
	}
	if opt.Name != "" && opt.Name != pixel.CName(opt.Name) {
		return wrongUse("pixel: expected a --name of small letters, digits and underscores, found %q", opt.Name)
	}
	if err := opt.Idle(); err != nil {
		return err
	}
	maker := bitmap.Maker{Look: a.look}
	fonts, err := maker.Draw(what, opt)
	if err != nil {
		return err
	}
	for _, o := range fonts {
		if len(o.Font.Glyphs) == 0 {
			return &fault.Error{File: what, Expected: "a face with some of the characters", Found: "none of them", Cure: "choose others with --characters"}
		}
	}
	files, err := bitmap.Files(fonts, opt)
	if err != nil {
		return err
	}
	extents, err := bitmap.Extents(fonts, opt)
	if err != nil {
		return err
	}
	panel, err := maker.Panel(fonts[0].Font, opt.Panel)
	if err != nil {
		return err
	}
	if panel != nil {
		for _, c := range panel.Careful {
			a.Note("%s %s", a.Paint.Warn("careful:"), c)
		}
	}
	costs, err := bitmap.Costs(fonts, opt)
	if err != nil {
		return err
	}
	outputs, written := []change.Output{}, []string{}
	for _, name := range slices.Sorted(maps.Keys(files)) {
		written = append(written, filepath.Join(opt.Folder, name))
		outputs = append(outputs, change.Output{Name: written[len(written)-1], Data: files[name]})
	}
	if err := a.write(ctx, opt.Overwrite, outputs...); err != nil {
		return err
	}
	if panel != nil && opt.Panel.Preview != "" {
		picture, err := panel.PNG(opt.Panel.Zoom, opt.Panel.Lines)
		if err == nil {
			err = a.write(ctx, opt.Overwrite, change.Output{Name: opt.Panel.Preview, Data: picture})
		}
		if err != nil {
			return err
		}
		written = append(written, opt.Panel.Preview)
	}
	doc := document.NewPixels()
	for i, o := range fonts {
		d := document.NewPixel(o.Font, o.Name, o.Lacks, o.Near, costs[i], extents[i])
		d.Savings = append(d.Savings, bitmap.SavedBySets(o.Font, opt)...)
		doc.Fonts = append(doc.Fonts, d)
	}
	doc.Files = written
	if a.json {
		return a.printJSON(doc)
	}
	a.Pixels(fonts, doc, opt)
	if panel != nil && opt.Panel.Preview == "" {
		a.Say("")
		fmt.Fprint(a.Out, view.Shown(opt, panel.Shown()))
	}
	if panel != nil {
		a.Unshaped(opt.Panel.Puts...)
	}
	return nil
}

// panelFlags are the flags of a simulated display.
func panelFlags(o *bitmap.PanelOptions, f *pflag.FlagSet) {
	f.StringVar(&o.Size, "panel", "", "simulate a display of so many `pixels`, such as 128x64")
	f.StringArrayVar(&o.Puts, "put", nil, "put `text` on the panel: 'X,Y TEXT' with its baseline at Y; 'ROLE@X,Y TEXT' in a role's font")
	f.StringVar(&o.Kind, "panel-kind", "mono", "`what` the panel shows: mono, grey (16 shades) or colour (16 bits)")
	f.StringVar(&o.Colours, "panel-colours", "#7FD6FF,#05080C", "the `colours` of ink and ground")
	f.StringVar(&o.Preview, "preview", "", "write the panel into this PNG `file`; into the terminal, if absent")
	f.IntVar(&o.Zoom, "times", 6, "how many `times` as large the picture is")
	f.BoolVar(&o.Lines, "pixel-lines", true, "lines between the pixels of the picture")
}
