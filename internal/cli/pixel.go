package cli

import (
	"context"
	"fmt"
	"image/color"
	"slices"
	"sort"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/document"
	"notaria/internal/fault"
	"notaria/internal/pixel"
	"notaria/internal/registry"
	"notaria/internal/subject"
)

// pixelOptions are the flags of pixel.
type pixelOptions struct {
	heights, depths              []int
	of, characters, from         string
	hinting, missing, sameWidth  string
	contrast, tracking, gap      int
	kerning                      bool
	holds, cell, inkOf, groundOf string
	baseline, padding, budget    int
	times                        float64
	coordinates                  map[string]string
	forms                        []string
	folder, name, include        string
	compressed                   bool
	show                         string
	dots                         bool
	panel                        panelOptions
	measure, between             []string
	given                        func(string) bool // whether a flag was given
}

// Forms that a pixel font is written in.
const (
	formC        = "c"
	formLVGL     = "lvgl"
	formU8G2     = "u8g2"
	formEspruino = "espruino"
	formBDF      = "bdf"
	formSheet    = "sheet"
	formGodot    = "godot"
	formLove     = "love"
	formLibGDX   = "libgdx"
)

var pixelForms = []string{formC, formLVGL, formU8G2, formEspruino, formBDF, formSheet, formGodot, formLove, formLibGDX}

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
	var opt pixelOptions
	c := &cobra.Command{
		Use:   "pixel FACE|ROLE|FILE [flags]",
		Short: "Make a bitmap font of a face, for a display or a pixel game",
		Long:  fmt.Sprintf(pixelLong, strings.Join(setNames(), ", ")),
		Example: "  notaria pixel SkerrySans-Bold --height 60 --of digits --characters 'digits :' --same-width digits --show 07:40\n" +
			"  notaria pixel SkerrySans-Bold --height 16 --depth 4 --as c --to firmware/fonts\n" +
			"  notaria pixel digits.png --holds '0123456789:' --as u8g2",
		Args: func(_ *cobra.Command, args []string) error {
			if len(args) != 1 {
				return wrongUse("pixel: expected one face, role or file, found %d; see: notaria pixel --help", len(args))
			}
			return nil
		},
		RunE: func(c *cobra.Command, args []string) error {
			opt.given = c.Flags().Changed
			return a.runPixel(c.Context(), args[0], opt)
		},
	}
	f := c.Flags()
	f.IntSliceVar(&opt.heights, "height", []int{16}, "the height in pixels; several for several fonts")
	f.StringVar(&opt.of, "of", "em", "of what: em, line, digits, capitals, x-height, or characters")
	f.IntSliceVar(&opt.depths, "depth", []int{1}, "bits a pixel: 1, 2, 4 or 8; several for several fonts")
	f.StringVar(&opt.characters, "characters", "ascii", "which characters: sets, U+ expressions and text")
	f.StringVar(&opt.from, "characters-from", "", "adds the characters of the strings in this file or folder")
	f.StringVar(&opt.missing, "missing", "none", "drawn for characters that the face lacks: none, box, or a character")
	f.StringToStringVar(&opt.coordinates, "coordinates", nil, "of a variable font: values of its axes, such as wght=650")
	f.StringVar(&opt.hinting, "hinting", "auto", "set stems and heights on whole pixels: auto (small sizes), on or off")
	f.IntVar(&opt.contrast, "contrast", 0, "how much steeper shades become, 0 to 100")
	f.IntVar(&opt.tracking, "tracking", 0, "added after each character, in 1/16 pixel")
	f.StringVar(&opt.sameWidth, "same-width", "", "characters that get one width, such as digits")
	f.IntVar(&opt.gap, "gap", 0, "the least white between two characters, in pixels")
	f.BoolVar(&opt.kerning, "kerning", true, "take the face's kerning over")
	f.StringVar(&opt.holds, "holds", "", "of a picture: the characters in it, in their order")
	f.StringVar(&opt.cell, "cell", "", "of a picture: the size of a grid's cells, such as 8x12; by the gaps, if absent")
	f.StringVar(&opt.inkOf, "ink", "", "of a picture: the colour of the ink; found, if absent")
	f.StringVar(&opt.groundOf, "ground", "", "of a picture: the colour of the ground; found, if absent")
	f.IntVar(&opt.baseline, "baseline", -1, "of a picture: rows of a cell above the baseline; found, if absent")
	f.Float64Var(&opt.times, "times", 1, "of a bitmap font: so many times as large, in half steps")
	f.IntVar(&opt.padding, "padding", 0, "empty pixels around each character")
	f.StringSliceVar(&opt.forms, "as", nil, "write this form: "+strings.Join(pixelForms, ", "))
	f.StringVar(&opt.folder, "to", ".", "the folder that they are written into")
	f.StringVar(&opt.name, "name", "", "the font's name in code and of its files; made of the face and the height, if absent")
	f.StringVar(&opt.include, "include", "", `of lvgl: the header as your sources name it, such as "lvgl/lvgl.h"; looked for, if absent`)
	f.BoolVar(&opt.compressed, "compressed", false, "of lvgl: compressed pixels, which need LV_USE_FONT_COMPRESSED")
	f.IntVar(&opt.budget, "budget", 0, "the bytes of flash that it may take in the forms of --as; more is an error")
	f.StringVar(&opt.show, "show", "", "show this text in the terminal")
	f.BoolVar(&opt.dots, "dots", false, "show with braille dots, eight pixels a character")
	f.StringArrayVar(&opt.measure, "measure", nil, "measure the ink of this text")
	f.StringArrayVar(&opt.between, "between", nil, "measure all values between two, such as 00:00..23:59")
	opt.panel.flags(f)
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

// one is one font of a run.
type one struct {
	font  *pixel.Font
	lacks []rune
	name  string // in code
	near  []pixel.Clean
}

func (a *app) runPixel(ctx context.Context, what string, opt pixelOptions) error {
	for _, form := range opt.forms {
		if !slices.Contains(pixelForms, form) {
			return wrongUse("pixel: expected %s for --as, found %q", strings.Join(pixelForms, ", "), form)
		}
	}
	if opt.name != "" && opt.name != pixel.CName(opt.name) {
		return wrongUse("pixel: expected a --name of small letters, digits and underscores, found %q", opt.name)
	}
	if err := opt.idle(); err != nil {
		return err
	}
	fonts, err := a.drawPixels(what, opt)
	if err != nil {
		return err
	}
	for _, o := range fonts {
		if len(o.font.Glyphs) == 0 {
			return &fault.Error{File: what, Expected: "a face with some of the characters", Found: "none of them", Cure: "choose others with --characters"}
		}
	}
	files, err := pixelFiles(fonts, opt)
	if err != nil {
		return err
	}
	extents, err := a.extents(fonts, opt)
	if err != nil {
		return err
	}
	panel, err := a.drawPanel(fonts[0].font, opt.panel)
	if err != nil {
		return err
	}
	costs, err := pixelCosts(fonts, opt)
	if err != nil {
		return err
	}
	written, err := a.writeNew(ctx, opt.folder, files)
	if err != nil {
		return err
	}
	if panel != nil && opt.panel.preview != "" {
		if err := panel.write(opt.panel); err != nil {
			return err
		}
		written = append(written, opt.panel.preview)
	}
	doc := document.NewPixels()
	for i, o := range fonts {
		d := document.NewPixel(o.font, o.name, o.lacks, o.near, costs[i], extents[i])
		d.Savings = append(d.Savings, savedBySets(o.font, opt)...)
		doc.Fonts = append(doc.Fonts, d)
	}
	doc.Files = written
	if a.json {
		return a.printJSON(doc)
	}
	a.printPixels(fonts, doc, opt)
	if panel != nil && opt.panel.preview == "" {
		a.say("")
		fmt.Fprint(a.out, opt.shown(panel.Shown()))
	}
	return nil
}

// idle says which option would do nothing without another: none is passed over in silence.
func (opt pixelOptions) idle() error {
	lvgl := slices.Contains(opt.forms, formLVGL)
	for _, need := range []struct {
		met   bool
		what  string
		flags []string
	}{
		{lvgl, "--as lvgl", []string{"include"}},
		{lvgl || len(opt.forms) == 0, "--as lvgl", []string{"compressed"}},
		{len(opt.forms) > 0, "--as", []string{"name", "to"}},
		{opt.show != "" || opt.panel.size != "", "--show or --panel", []string{"dots"}},
		{opt.panel.size != "", "--panel with the size of the display, such as 128x64,", []string{"put", "preview", "panel-kind", "panel-colours"}},
		{opt.panel.preview != "", "--preview", []string{"zoom", "pixel-lines"}},
	} {
		for _, flag := range need.flags {
			if opt.given(flag) && !need.met {
				return wrongUse("pixel: expected %s for --%s, found none", need.what, flag)
			}
		}
	}
	return nil
}

// pixelCosts are what the fonts take in flash in each form, and against the budget.
func pixelCosts(fonts []one, opt pixelOptions) ([][]document.Flash, error) {
	forms := opt.forms
	if len(forms) == 0 {
		forms = []string{formC, formLVGL, formU8G2, formEspruino}
	}
	var out [][]document.Flash
	sums := map[string]int{}
	for _, o := range fonts {
		list := []document.Flash{}
		for _, form := range forms {
			if form == formLVGL && opt.compressed {
				form = "lvgl-compressed"
			}
			if n, ok := o.font.Flash(form); ok {
				list = append(list, document.Flash{Form: form, Bytes: n})
				sums[form] += n
			}
		}
		out = append(out, list)
	}
	if opt.budget <= 0 {
		return out, nil
	}
	for _, form := range forms {
		if n := sums[form]; n > opt.budget {
			worst := heaviest(fonts)
			return nil, wrongUse("pixel: expected at most %d bytes in the form %s, the --budget, found %d; the heaviest glyph is %s: choose fewer characters, a smaller size or less depth", opt.budget, form, n, worst)
		}
	}
	return out, nil
}

func heaviest(fonts []one) string {
	most, out := -1, ""
	for _, o := range fonts {
		for _, g := range o.font.Glyphs {
			if n := o.font.Cost(g); n > most {
				most, out = n, fmt.Sprintf("%c U+%04X with %s", g.Rune, g.Rune, plural(n, "byte"))
			}
		}
	}
	return out
}

// savedBySets is what each of several sets takes by itself.
func savedBySets(f *pixel.Font, opt pixelOptions) []document.Saving {
	all, err := registry.ParseCharacters(opt.characters)
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

// extents measures what --measure and --between ask for.
func (a *app) extents(fonts []one, opt pixelOptions) ([][]document.Measured, error) {
	out := make([][]document.Measured, len(fonts))
	for i, o := range fonts {
		for _, text := range opt.measure {
			e := o.font.Measure(func(each func(string)) { each(text) })
			out[i] = append(out[i], document.Measured{Of: text, Extent: e})
		}
		for _, pair := range opt.between {
			from, to, ok := strings.Cut(pair, "..")
			if !ok {
				return nil, wrongUse("pixel: expected two values for --between, such as 00:00..23:59, found %q", pair)
			}
			texts, err := pixel.Between(from, to)
			if err != nil {
				return nil, wrongUse("pixel: --between: %v", err)
			}
			out[i] = append(out[i], document.Measured{Of: pair, Extent: o.font.Measure(texts)})
		}
	}
	return out, nil
}

// shown is a picture as the terminal shows it.
func (opt pixelOptions) shown(p pixel.Picture) string {
	if opt.dots {
		return p.Braille()
	}
	return p.Blocks()
}

func number(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }

func (a *app) printPixels(fonts []one, d document.Pixels, opt pixelOptions) {
	for i, o := range fonts {
		if i > 0 {
			a.say("")
		}
		a.printPixel(o, d.Fonts[i], opt)
	}
	for _, file := range d.Files {
		a.say("  %-9s %s", "written", file)
	}
}

func (a *app) printPixel(o one, d document.Pixel, opt pixelOptions) {
	f := o.font
	a.say("%s  %s pixels per em, %s a pixel, %s", a.paint.Strong(f.Name), number(f.Em), plural(f.Depth, "bit"), plural(len(f.Glyphs), "glyph"))
	for _, h := range []struct {
		what string
		n    int
	}{{"digits", d.Heights.Digits}, {"capitals", d.Heights.Capitals}, {"x-height", d.Heights.XHeight}, {"line", d.Heights.Line}} {
		if h.n > 0 {
			a.say("  %-9s %s high", h.what, plural(h.n, "pixel"))
		}
	}
	if n := len(d.Cleanest); n > 1 {
		var near []string
		for _, c := range d.Cleanest {
			near = append(near, strconv.Itoa(c.Height))
		}
		a.say("  %-9s %s: near this size, these fit whole pixels best without hinting", "cleanest", strings.Join(near, ", "))
	}
	a.say("  %-9s %s of pixels; the heaviest is %s with %d", "bytes", strconv.Itoa(d.Bytes), d.Heaviest.Character, d.Heaviest.Bytes)
	var forms []string
	for _, c := range d.Flash {
		forms = append(forms, fmt.Sprintf("%s %d", c.Form, c.Bytes))
	}
	if len(forms) > 0 {
		a.say("  %-9s %s", "in flash", strings.Join(forms, ", "))
	}
	for _, s := range d.Savings {
		a.say("  %-9s %s: %d bytes of pixels less", "saves", s.What, s.Bytes)
	}
	if len(d.Lacks) > 0 {
		shown := "it is not drawn"
		if missing, _ := registry.ParseMissing(opt.missing); missing != 0 {
			shown = "drawn as --missing says"
		} else if len(d.Lacks) > 1 {
			shown = "they are not drawn"
		}
		a.say("  %s the face does not have %s; %s", a.paint.Warn("careful:"), strings.Join(d.Lacks, ", "), shown)
	}
	for _, m := range d.Measured {
		a.printExtent(m)
	}
	if opt.show == "" {
		return
	}
	wide, all := f.Width(opt.show)
	a.say("")
	fmt.Fprint(a.out, opt.shown(f.Text(opt.show)))
	a.say("%q is %s pixels wide", opt.show, number(float64(wide)/pixel.Sub))
	if !all {
		a.say("%s characters of it are not in the font: add them to --characters", a.paint.Warn("careful:"))
	}
}

// printExtent says where the ink of texts is.
func (a *app) printExtent(m document.Measured) {
	if m.Texts > 1 {
		a.say("  %-9s %s to clear: %dx%d pixels at %d, %d from the pen on the baseline (%s)", m.Of, a.paint.Strong("rectangle"), m.Width, m.Height, m.X, m.Y, plural(m.Texts, "value"))
		if m.Least == m.Advance {
			a.say("  %-9s all move the pen %s pixels", "", number(m.Advance))
		} else {
			a.say("  %-9s they move the pen %s to %s pixels; the widest is %s", "", number(m.Least), number(m.Advance), m.Widest)
		}
	} else {
		a.say("  %-9s ink of %dx%d pixels at %d, %d from the pen on the baseline; it moves the pen %s pixels", m.Of, m.Width, m.Height, m.X, m.Y, number(m.Advance))
	}
	if m.Lacks != "" {
		a.say("  %s the font does not have %s", a.paint.Warn("careful:"), m.Lacks)
	}
}

// colourOf reads a flag's colour, nil for none.
func colourOf(flag, text string) (color.Color, error) {
	if text == "" {
		return nil, nil
	}
	r, g, b, al, ok := registry.ParseColour(text)
	if !ok {
		return nil, wrongUse("expected a colour such as #0B3D5C for --%s, found %q", flag, text)
	}
	return color.NRGBA{R: r, G: g, B: b, A: al}, nil
}

// charactersOf are those that --characters and --characters-from ask for.
func (opt pixelOptions) charactersOf() ([]rune, error) {
	out, err := parseCharacters("--characters", opt.characters)
	if err != nil || opt.from == "" {
		return out, err
	}
	more, err := subject.Characters(opt.from)
	if err != nil {
		return nil, err
	}
	if !opt.given("characters") {
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
		return nil, wrongUse("pixel: %v, in %s", err, flag)
	}
	out, err := c.Runes()
	if err != nil {
		return nil, wrongUse("pixel: expected characters for %s, found %v", flag, err)
	}
	return out, nil
}
