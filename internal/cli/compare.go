package cli

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/document"
	"notaria/internal/specimen"
)

func (a *app) compare() *cobra.Command {
	var o textsOptions
	var out specimenOptions
	most := 20
	c := &cobra.Command{
		Use:   "compare A B [flags]",
		Short: "Show what would change if one face took another's place",
		Long: `Show what would change if face B took the place of face A, or of a role's face: the
names, the heights, the bytes, the room that texts take, longest first, which of them
no longer fit into --width, and the characters that are missing. --out NAME.png or
NAME.svg draws both over each other. Exit code 1 says that texts no longer fit, or that
characters are missing that were there.`,
		Example: "  notaria compare heading CapstanSlab.ttf --strings ios/ --width 240\n  notaria compare SkerrySans-Regular SkerrySans-Bold --text Departures --out overlay.png",
		Args:    exactly(2, "two faces, roles or font files"),
		RunE: func(c *cobra.Command, args []string) error {
			out.width, out.times = 1280, max(out.times, 1)
			if err := out.check(); err != nil {
				return err
			}
			return a.runCompare(c.Context(), args, o, out, most)
		},
	}
	o.flags(c)
	f := c.Flags()
	f.StringVar(&out.out, "out", "", "draw both over each other into a `file`: .png or .svg")
	f.BoolVar(&out.dark, "dark", false, "the picture has a dark ground")
	f.BoolVar(&out.overwrite, "overwrite", false, "write over a file that is no picture of the same kind")
	f.IntVar(&most, "most", 20, "how many texts are listed, those that change most first; 0 for all")
	return c
}

func (a *app) runCompare(ctx context.Context, args []string, o textsOptions, out specimenOptions, most int) error {
	texts, err := o.all()
	if err != nil {
		return err
	}
	one, err := a.subjectOf(ctx, args[0], o)
	if err != nil {
		return err
	}
	two, err := a.subjectOf(ctx, args[1], o)
	if err != nil {
		return err
	}
	if two.name == two.face.ID() { // a face takes over all that the role says
		two.style = one.style
	}
	d, err := compared(ctx, one, two, texts, o.width)
	if err != nil {
		return err
	}
	if out.out != "" {
		if d.Files, err = overlay(one, two, d.Texts, out); err != nil {
			return err
		}
	}
	if a.json {
		err = a.printJSON(d)
	} else {
		a.printCompared(d, most)
	}
	if err == nil && (d.NoLonger > 0 || len(d.Lost) > 0) {
		return findings
	}
	return err
}

// compared measures all texts in both faces, those that grow most first.
func compared(ctx context.Context, one, two subject, texts []string, width float64) (document.Compare, error) {
	d := document.NewCompare(side(one), side(two), width)
	lost := map[string]bool{}
	for _, text := range texts {
		if err := ctx.Err(); err != nil {
			return d, err
		}
		var m [2]specimen.Measure
		for i, s := range []subject{one, two} {
			var err error
			if m[i], err = s.typ.MeasureText(text, s.style); err != nil {
				return d, err
			}
		}
		t := document.ComparedText{Text: text, A: m[0].Advance, B: m[1].Advance}
		if t.A > 0 {
			t.Growth = float64(int((t.B/t.A-1)*1000+1000.5)-1000) / 10
		}
		t.NoLonger = width > 0 && t.A <= width && t.B > width
		if t.NoLonger {
			d.NoLonger++
		}
		for _, r := range m[1].Missing {
			if !slices.Contains(m[0].Missing, r) {
				lost[r] = true
			}
		}
		d.Texts = append(d.Texts, t)
	}
	for r := range lost {
		d.Lost = append(d.Lost, r)
	}
	slices.Sort(d.Lost)
	slices.SortStableFunc(d.Texts, func(x, y document.ComparedText) int {
		if x.NoLonger != y.NoLonger {
			return cmp.Compare(btoi(y.NoLonger), btoi(x.NoLonger))
		}
		return cmp.Compare(max(y.A, y.B), max(x.A, x.B))
	})
	return d, nil
}

func btoi(b bool) int {
	if b {
		return 1
	}
	return 0
}

// side is what is told of a face.
func side(s subject) document.ComparedFace {
	em := float64(s.typ.UnitsPerEm)
	part := func(v int) float64 { return float64(int(float64(v)/em*1000+0.5)) / 1000 }
	return document.ComparedFace{Name: s.name, PostScript: s.face.ID(), Full: s.face.Full, Family: s.face.Family, Weight: s.face.Weight, Bytes: s.bytes, Characters: s.face.Characters,
		Capital: part(s.typ.Capital), Small: part(s.typ.Small), Line: part(s.typ.Ascent - s.typ.Descent + s.typ.LineGap), Size: s.style.Size}
}

// overlay draws the longest texts in both faces over each other.
func overlay(one, two subject, texts []document.ComparedText, o specimenOptions) ([]string, error) {
	opt := specimen.Options{Width: float64(o.width), Colours: specimen.Light, Title: one.name + " and " + two.name}
	if o.dark {
		opt.Colours = specimen.Dark
	}
	var list []string
	for _, t := range texts[:min(len(texts), 12)] {
		list = append(list, t.Text)
	}
	sa, sb := one.style, two.style
	for _, t := range texts { // as large as the page lets the longest be, and no more than four times
		if wide := max(t.A, t.B); wide > 0 {
			k := min(4, (opt.Width-120)/wide)
			sa, sb = scaled(sa, k), scaled(sb, k)
		}
		break
	}
	d, err := specimen.Overlay(one.typ, two.typ, [2]string{one.face.Full, two.face.Full}, list, sa, sb, opt)
	if err != nil {
		return nil, err
	}
	name, err := o.write(d, 0)
	return []string{name}, err
}

func (a *app) printCompared(d document.Compare, most int) {
	t := table{head: []string{"", d.A.Name, d.B.Name}}
	add := func(what, x, y string) {
		if x != y {
			y = a.paint.strong(y)
		}
		t.rows = append(t.rows, []string{what, x, y})
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
	a.table(t)
	a.say("")
	list := table{head: []string{d.A.Name, d.B.Name, "change", "text"}}
	for i, x := range d.Texts {
		if most > 0 && i == most {
			break
		}
		text := cell(x.Text)
		if x.NoLonger {
			text += "  " + a.paint.bad("no longer fits into "+px(d.Width))
		}
		list.rows = append(list.rows, []string{px(x.A), px(x.B), fmt.Sprintf("%+g %%", x.Growth), text})
	}
	a.table(list)
	if most > 0 && len(d.Texts) > most {
		a.say("and %d more: --most 0 lists them all", len(d.Texts)-most)
	}
	if d.NoLonger > 0 {
		a.say("\n%s", a.paint.bad(plural(d.NoLonger, "text")+" no longer fit into "+px(d.Width)+" pixels"))
	}
	if len(d.Lost) > 0 {
		a.say("\n%s %s", a.paint.bad(cell(d.B.Name)+" lacks"), cell(strings.Join(d.Lost, " ")))
	}
	for _, f := range d.Files {
		a.say("%s %s", a.paint.good("wrote"), a.paint.place(cell(f)))
	}
}
