package cli

import (
	"context"
	"fmt"
	"image/color"
	"path/filepath"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/bitmap"
	"notaria/internal/change"
	"notaria/internal/document"
	"notaria/internal/specimen"
)

func (a *app) label() *cobra.Command {
	var o textsOptions
	var out specimenOptions
	ink := ""
	c := &cobra.Command{
		Use:   "label FACE|ROLE|FILE --text TEXT --out FILE [flags]",
		Short: "Draw one text as a picture, for where a whole font would be too heavy",
		Long: `Draw one text in a face or a role as a picture that is cut to its ink, for the case
where a whole font for a few words is too heavy: NAME.svg (outlines, also for Apple's
asset catalogues), NAME.png with alpha, or NAME.xml, an Android vector drawable. It
says where the baseline and the text's beginning are, and the bytes against the font's.`,
		Example: "  notaria label heading --text Skerry --out ios/Assets.xcassets/Name.imageset/name.svg\n  notaria label SkerrySans-Bold --size 40 --ink \"#0B3D5C\" --text Skerry --out android/app/src/main/res/drawable/name.xml",
		Args:    exactly(1, "a face, a role or a font file"),
		RunE: func(c *cobra.Command, args []string) error {
			if len(o.texts) != 1 || out.out == "" {
				return wrongUse("label: expected one --text and --out NAME.svg, NAME.png or NAME.xml")
			}
			if out.times != 1 && !strings.EqualFold(filepath.Ext(out.out), ".png") {
				return wrongUse("label: expected --out NAME.png for --times: only pictures of pixels have a size of their own")
			}
			if !(out.times >= 1 && out.times <= 8) {
				return wrongUse("label: expected 1 to 8 for --times, found %g", out.times)
			}
			return a.runLabel(c.Context(), args[0], o, out, ink)
		},
	}
	f := c.Flags()
	f.StringArrayVar(&o.texts, "text", nil, "the `text`")
	f.Float64Var(&o.size, "size", 16, "`pixels` per em (default: the role's, else 16)")
	f.Lookup("size").DefValue = "0" // what it is depends on the role
	f.StringVar(&o.language, "language", "", "the text's `language`, such as sr or tr")
	f.StringVar(&ink, "ink", "", "the text's `colour`, such as #0B3D5C (default: the role's, else black)")
	f.StringVar(&out.out, "out", "", "the `file`: .svg, .png or .xml (Android vector drawable)")
	f.Float64Var(&out.times, "times", 1, "how many `times` as large a PNG is")
	f.BoolVar(&out.overwrite, "overwrite", false, "write over a file that Notaria did not write there last")
	o.given = f.Changed
	return c
}

func (a *app) runLabel(ctx context.Context, what string, o textsOptions, out specimenOptions, ink string) error {
	s, err := a.single(ctx, what, o, false)
	if err != nil {
		return err
	}
	colour, err := bitmap.ColourOf("ink", ink)
	if err != nil {
		return err
	}
	if colour != nil {
		s.Style.Colour = colour.(color.NRGBA)
	} else if s.Style.Colour.A == 0 {
		s.Style.Colour.A = 255
	}
	l, err := s.Type.NewLabel(o.texts[0], s.Style)
	if err != nil {
		return err
	}
	var data []byte
	switch strings.ToLower(filepath.Ext(out.out)) {
	case ".svg":
		data, err = l.AssetSVG()
	case ".png":
		data, err = l.PNG(out.times)
	case ".xml":
		data, err = l.VectorDrawable()
	default:
		return wrongUse("label: expected a file that ends with .svg, .png or .xml for --out, found %q", out.out)
	}
	if err != nil {
		return fmt.Errorf("%s: %w", out.out, err)
	}
	if err := a.write(ctx, out.overwrite, change.Output{Name: out.out, Data: data}); err != nil {
		return err
	}
	if a.json {
		err = a.printJSON(document.NewLabel(l, out.out, len(data), s.Bytes))
	} else {
		a.printLabel(l, out.out, len(data), s.Bytes)
	}
	if err == nil && len(l.Missing) > 0 {
		return findings
	}
	return err
}

func (a *app) printLabel(l *specimen.Label, file string, bytes, font int) {
	a.Say("%s %s", a.Paint.Good("wrote"), a.Paint.Place(cell(file)))
	a.Say("  %s x %s pixels; the baseline %s below the top; the text begins %s from the left edge, and is %s wide", px(l.W), px(l.H), px(l.Baseline), px(-l.Left), px(l.Advance))
	a.Say("  %s bytes, the font %s", strconv.Itoa(bytes), strconv.Itoa(font))
	if l.Undrawn != "" {
		a.Say("  %s %s", a.Paint.Warn("careful:"), cell(l.Undrawn))
	}
	if len(l.Missing) > 0 {
		a.Say("  %s %s", a.Paint.Bad("the face lacks"), cell(strings.Join(l.Missing, " ")))
	}
}
