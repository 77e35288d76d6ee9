package cli

import (
	"context"
	"fmt"
	"path/filepath"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/document"
	"notaria/internal/specimen"
	"notaria/internal/subject"
	"notaria/internal/terminal"
)

func (a *app) compare() *cobra.Command {
	var o textsOptions
	var out specimenOptions
	most := 20
	c := &cobra.Command{
		Use:   "compare A B [flags]",
		Short: "Show what would change if one face took another's place",
		Long: `Show what would change if face B took the place of face A, or of a role's face: the
names, the heights, the bytes, the room that texts take, longest first, and the characters
that are missing. With --width texts are broken into lines in both, and those are told that
need more room: more lines, higher ones, or a word that is wider. --out NAME.png or NAME.svg
draws both over each other. Exit code 1 says that texts need more room than they had, or
that characters are missing that were there.`,
		Example: "  notaria compare heading CapstanSlab.ttf --strings ios/ --width 240\n  notaria compare SkerrySans-Regular SkerrySans-Bold --text Departures --out overlay.png",
		Args:    exactly(2, "two faces, roles or font files"),
		RunE: func(c *cobra.Command, args []string) error {
			out.width, out.times = 1280, max(out.times, 1)
			if ext := strings.ToLower(filepath.Ext(out.out)); out.out != "" && ext != ".png" && ext != ".svg" {
				return wrongUse("compare: expected a file that ends with .png or .svg for --out, found %q", out.out)
			}
			if out.out == "" && (out.dark || out.overwrite) {
				return wrongUse("compare: expected --out with --dark and --overwrite: they are about the picture")
			}
			return a.runCompare(c.Context(), args, o, out, most)
		},
	}
	o.flags(c)
	f := c.Flags()
	f.StringVar(&out.out, "out", "", "draw both over each other into a `file`: .png or .svg")
	f.BoolVar(&out.dark, "dark", false, "the picture has a dark ground")
	f.BoolVar(&out.overwrite, "overwrite", false, "write over a file that Notaria did not write there last")
	f.IntVar(&most, "most", 20, "how many `texts` are listed, those that change most first; 0 for all")
	return c
}

func (a *app) runCompare(ctx context.Context, args []string, o textsOptions, out specimenOptions, most int) error {
	if err := o.roomy("compare"); err != nil {
		return err
	}
	texts, err := o.all(a)
	if err != nil {
		return err
	}
	one, err := a.single(ctx, args[0], o)
	if err != nil {
		return err
	}
	two, err := a.single(ctx, args[1], o)
	if err != nil {
		return err
	}
	d, err := subject.Compare(ctx, one, two, texts, o.width)
	if err != nil {
		return err
	}
	var files []string
	if out.out != "" {
		opt := specimen.Options{Width: float64(out.width), Colours: specimen.Light, Title: one.Name + " and " + two.Name}
		if out.dark {
			opt.Colours = specimen.Dark
		}
		picture, err := d.Overlay(one, two, opt)
		if err != nil {
			return err
		}
		file, err := out.picture(picture, 0)
		if err == nil {
			err = a.write(ctx, out.overwrite, file)
		}
		if err != nil {
			return err
		}
		files = append(files, file.Name)
	}
	if a.json {
		err = a.printJSON(document.NewCompare(d, files))
	} else {
		a.printCompared(d, most, files)
	}
	if err == nil && (d.NoLonger > 0 || len(d.Lost) > 0) {
		return findings
	}
	return err
}

func needs(n int) string {
	if n == 1 {
		return "1 text needs"
	}
	return plural(n, "text") + " need"
}

// grown says in which way a text needs more room.
func grown(b *[2]subject.Block, width float64) string {
	var list []string
	if b[1].Lines > b[0].Lines {
		list = append(list, fmt.Sprintf("%s instead of %d", plural(b[1].Lines, "line"), b[0].Lines))
	}
	if b[1].Wider && !b[0].Wider {
		list = append(list, "a word is wider than "+px(width))
	}
	if b[1].Lines == b[0].Lines && b[1].Height > b[0].Height {
		list = append(list, fmt.Sprintf("%s pixels high instead of %s", px(b[1].Height), px(b[0].Height)))
	}
	return strings.Join(list, ", ")
}

func (a *app) printCompared(d subject.Comparison, most int, files []string) {
	t := terminal.Table{Head: []string{"", cell(d.A.Name), cell(d.B.Name)}}
	add := func(what, x, y string) {
		if x != y {
			y = a.Paint.Strong(y)
		}
		t.Rows = append(t.Rows, []string{what, x, y})
	}
	whole := func(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) + " em" }
	add("PostScript name", cell(d.A.PostScript), cell(d.B.PostScript))
	add("full name", cell(d.A.Full), cell(d.B.Full))
	add("weight", strconv.Itoa(d.A.Weight), strconv.Itoa(d.B.Weight))
	add("capitals", whole(d.A.Capital), whole(d.B.Capital))
	add("small letters", whole(d.A.Small), whole(d.B.Small))
	add("line", whole(d.A.Line), whole(d.B.Line))
	add("characters", strconv.Itoa(d.A.Characters), strconv.Itoa(d.B.Characters))
	add("bytes", strconv.Itoa(d.A.Bytes), strconv.Itoa(d.B.Bytes))
	a.Table(t)
	a.Say("")
	list := terminal.Table{Head: []string{cell(d.A.Name), cell(d.B.Name), "change", "text"}}
	for i, x := range d.Texts {
		if most > 0 && i == most {
			break
		}
		text := cell(x.Text)
		if x.NoLonger {
			text += "  " + a.Paint.Bad(grown(x.Broken, d.Width))
		}
		list.Rows = append(list.Rows, []string{px(x.A), px(x.B), fmt.Sprintf("%+g %%", x.Growth), text})
	}
	a.Table(list)
	if most > 0 && len(d.Texts) > most {
		a.Say("and %d more: --most 0 lists them all", len(d.Texts)-most)
	}
	if d.NoLonger > 0 {
		a.Say("\n%s", a.Paint.Bad(fmt.Sprintf("%s more room than before where lines are broken at %s pixels", needs(d.NoLonger), px(d.Width))))
	}
	if len(d.Lost) > 0 {
		a.Say("\n%s %s", a.Paint.Bad(cell(d.B.Name)+" lacks"), cell(strings.Join(d.Lost, " ")))
	}
	for _, f := range files {
		a.Say("%s %s", a.Paint.Good("wrote"), a.Paint.Place(cell(f)))
	}
}
