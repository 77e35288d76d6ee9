package cli

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/document"
	"notaria/internal/specimen"
	"notaria/internal/subject"
	"notaria/internal/terminal"
)

// textsOptions are the flags for several texts.
type textsOptions struct {
	texts          []string
	lines, strings string
	size, width    float64
	language       string
	scales         []string
	given          func(string) bool
}

func (o *textsOptions) flags(c *cobra.Command) {
	f := c.Flags()
	f.StringArrayVar(&o.texts, "text", nil, "a `text`; may be given several times")
	f.StringVar(&o.lines, "text-file", "", "each line of a `file` is a text (UTF-8); - for the standard input")
	f.StringVar(&o.strings, "strings", "", "the app's own strings: a `file or folder` of .strings, .xcstrings, strings.xml, .arb, .po, .json, .yaml")
	f.Float64Var(&o.size, "size", 16, "`pixels` per em (default: the role's, else 16)")
	f.Float64Var(&o.width, "width", 0, "the room for a text, in `pixels`")
	f.StringVar(&o.language, "language", "", "the texts' `language`, such as sr or tr")
	f.Lookup("size").DefValue = "0" // what it is depends on the role
	o.given = f.Changed
}

// mostTextSize is how long a text may be, in bytes.
const mostTextSize = 64 << 10

// roomy refuses a width that is none.
func (o *textsOptions) roomy(command string) error {
	if !(o.width >= 0 && o.width <= 1e6) {
		return wrongUse("%s: expected a width of 0 to 1000000 pixels, found %g", command, o.width)
	}
	return nil
}

// all are the texts that are asked for, in the order in which they were given; those of files of
// strings each once, by the alphabet.
func (o *textsOptions) all(a *app) ([]string, error) {
	out := slices.Clone(o.texts)
	if o.lines != "" {
		text, _, err := a.wantedText(namesOptions{textFile: o.lines})
		if err != nil {
			return nil, err
		}
		for _, l := range strings.Split(strings.TrimRight(text, "\n"), "\n") {
			out = append(out, strings.TrimSuffix(l, "\r"))
		}
	}
	if o.strings != "" {
		list, err := subject.Strings(o.strings)
		if err != nil {
			return nil, err
		}
		out = append(out, list...)
	}
	if len(out) == 0 {
		out = []string{defaultText}
	}
	if len(out) > subject.MostTexts {
		return nil, wrongUse("expected at most %d texts, found %d; name fewer files", subject.MostTexts, len(out))
	}
	for _, t := range out {
		if len(t) > mostTextSize {
			return nil, wrongUse("expected texts of at most %d KiB, found one of %d", mostTextSize>>10, len(t)>>10)
		}
	}
	return out, nil
}

// The largest text sizes that readers can choose, as factors of the usual one: of body text on iOS, 53
// points for 17 (Human Interface Guidelines, Typography, larger accessibility sizes), and on Android 14.
var readers = map[string]float64{"ios-largest": 53.0 / 17, "android-largest": 2}

func scalesOf(words []string) ([]float64, error) {
	var out []float64
	for _, w := range words {
		v, ok := readers[w]
		if !ok {
			var err error
			if v, err = strconv.ParseFloat(w, 64); err != nil || !(v >= 0.1 && v <= 10) {
				return nil, wrongUse("measure: expected a factor of 0.1 to 10, ios-largest or android-largest for --scale, found %q", w)
			}
		}
		out = append(out, v)
	}
	return out, nil
}

func (a *app) measure() *cobra.Command {
	var o textsOptions
	c := &cobra.Command{
		Use:   "measure FACE|ROLE|FILE [flags]",
		Short: "Measure how much room texts take in a face or a role",
		Long: `Measure texts in a face, or in a role with its size, line height and tracking: the
advance, the box of the ink, the height of a line and of all lines, in pixels; at the
sizes that readers can choose; broken into lines at a width. Characters that the face
lacks are named. Exit code 1 says that a text does not fit into --width, even broken,
or that a character is missing.`,
		Example: "  notaria measure heading --text \"07:40 Holm\"\n  notaria measure SkerrySans-Bold --size 28 --strings ios/ --width 240\n  notaria measure body --text Departures --scale 1,android-largest --json",
		Args:    exactly(1, "a face, a role or a font file"),
		RunE: func(c *cobra.Command, args []string) error {
			return a.runMeasure(c.Context(), args[0], o)
		},
	}
	o.flags(c)
	c.Flags().StringSliceVar(&o.scales, "scale", []string{"1"}, "`factors` of the reader's text size: numbers, ios-largest (3.12), android-largest (2)")
	return c
}

// single finds a face by its name or its file, or a role.
func (a *app) single(ctx context.Context, what string, o textsOptions) (subject.One, error) {
	size := 0.0
	if o.given("size") {
		if size = o.size; !(size >= 1 && size <= 2000) {
			return subject.One{}, wrongUse("expected 1 to 2000 pixels for --size, found %g", size)
		}
	}
	c, err := a.find(ctx, []string{what}, subject.Wanted{}, nil)
	if err != nil {
		return subject.One{}, err
	}
	a.Problems(c.Problems)
	s, err := subject.Single(c, what, size)
	s.Style.Language = o.language
	return s, err
}

func (a *app) runMeasure(ctx context.Context, what string, o textsOptions) error {
	scales, err := scalesOf(o.scales)
	if err != nil {
		return err
	}
	if err := o.roomy("measure"); err != nil {
		return err
	}
	texts, err := o.all(a)
	if err != nil {
		return err
	}
	s, err := a.single(ctx, what, o)
	if err != nil {
		return err
	}
	var out []specimen.Measure
	bad := false
	for _, text := range texts {
		for _, factor := range scales {
			if err := ctx.Err(); err != nil {
				return err
			}
			style := subject.Scaled(s.Style, factor)
			style.Width = o.width
			m, err := s.Type.MeasureText(text, style)
			if err != nil {
				return err
			}
			bad = bad || m.Wider || len(m.Missing) > 0
			out = append(out, m)
		}
	}
	if a.json {
		err = a.printJSON(document.NewMeasures(s.Name, s.Face.ID(), o.width, out))
	} else {
		a.printMeasures(s, out)
	}
	if err == nil && bad {
		return findings
	}
	return err
}

func (a *app) printMeasures(s subject.One, list []specimen.Measure) {
	a.Say("%s  %s", a.Paint.Strong(cell(s.Name)), a.Paint.Faint(cell(s.Face.Full)))
	t := terminal.Table{Head: []string{"px", "advance", "height", "lines", "ink (left, top, right, bottom)", "text"}}
	for _, m := range list {
		ink := "none"
		if m.Ink != nil {
			ink = fmt.Sprintf("%d, %d, %d, %d", m.Ink.Left, m.Ink.Top, m.Ink.Right, m.Ink.Bottom)
		}
		text := cell(m.Text)
		if m.Wider {
			text += "  " + a.Paint.Bad("does not fit")
		}
		if len(m.Missing) > 0 {
			text += "  " + a.Paint.Bad("lacks "+cell(strings.Join(m.Missing, " ")))
		}
		t.Rows = append(t.Rows, []string{px(m.Size), px(m.Advance), px(m.Height), strconv.Itoa(m.Lines), ink, text})
	}
	a.Table(t)
}

// px is a length in pixels, to hundredths.
func px(v float64) string { return strconv.FormatFloat(math.Round(v*100)/100+0, 'f', -1, 64) }
