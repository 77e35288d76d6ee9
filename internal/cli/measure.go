package cli

import (
	"context"
	"math"
	"slices"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/document"
	"notaria/internal/platform"
	"notaria/internal/platform/all"
	"notaria/internal/setting"
	"notaria/internal/subject"
)

// textsOptions are the flags for several texts.
type textsOptions struct {
	texts               []string
	lines, strings      string
	size, width, height float64
	language            string
	scales, targets     []string
	at                  map[string]string
	given               func(string) bool
}

func (o *textsOptions) flags(c *cobra.Command) {
	f := c.Flags()
	f.StringArrayVar(&o.texts, "text", nil, "a `text`; may be given several times")
	f.StringVar(&o.lines, "text-file", "", "each line of a `file` is a text (UTF-8); - for the standard input")
	f.StringVar(&o.strings, "strings", "", "the app's own strings: a `file or folder` of .strings, .xcstrings, strings.xml, .arb, .po, .json, .yaml")
	f.Float64Var(&o.size, "size", 16, "`pixels` per em (default: the role's, else 16)")
	f.Float64Var(&o.width, "width", 0, "the room for a text, in `pixels`: lines are broken at it")
	f.Float64Var(&o.height, "height", 0, "the room for all lines of a text, in `pixels`")
	f.StringToStringVar(&o.at, "at", nil, "of a variable font: `values` of its axes, such as wght=650")
	f.StringSliceVar(&o.targets, "for", nil, "the lines of these `targets` (default: those of the project, outside of one all)")
	f.StringVar(&o.language, "language", "", "the texts' `language`, such as sr or tr")
	f.Lookup("size").DefValue = "0" // what it is depends on the role
	o.given = f.Changed
}

// mostTextSize is how long a text may be, in bytes.
const mostTextSize = 64 << 10

// room is what texts have, or what is wrong with it.
func (o *textsOptions) room(command string) (subject.Room, error) {
	for _, v := range []struct {
		name  string
		value float64
	}{{"width", o.width}, {"height", o.height}} {
		if !(v.value >= 0 && v.value <= 1e6) {
			return subject.Room{}, wrongUse("%s: expected a %s of 0 to 1000000 pixels, found %g", command, v.name, v.value)
		}
	}
	return subject.Room{Width: o.width, Height: o.height}, nil
}

// all are the texts that are asked for, in the order in which they were given; those of files of
// strings with their keys and languages.
func (o *textsOptions) all(a *app) ([]subject.Text, error) {
	out := subject.Given(o.texts)
	if o.lines != "" {
		text, _, err := a.wantedText(namesOptions{textFile: o.lines})
		if err != nil {
			return nil, err
		}
		for _, l := range strings.Split(strings.TrimRight(text, "\n"), "\n") {
			out = append(out, subject.Given([]string{strings.TrimSuffix(l, "\r")})...)
		}
	}
	if o.strings != "" {
		list, err := subject.Phrases(o.strings)
		if err != nil {
			return nil, err
		}
		out = append(out, list...)
	}
	if len(out) == 0 {
		out = subject.Given([]string{defaultText})
	}
	if len(out) > subject.MostTexts {
		return nil, wrongUse("expected at most %d texts, found %d; name fewer files", subject.MostTexts, len(out))
	}
	for _, t := range out {
		if len(t.Text) > mostTextSize {
			return nil, wrongUse("expected texts of at most %d KiB, found one of %d", mostTextSize>>10, len(t.Text)>>10)
		}
	}
	return out, nil
}

// lined are the names of the targets whose lines are asked for: those that --for names, else those of the project around; none for all. The
// project is not looked through again where it was opened for the face or the role, and not at all where the role has a line height.
func (a *app) lined(o textsOptions, of subject.One) (out []string, err error) {
	switch {
	case len(o.targets) > 0:
		known, err := a.typedOn(o.targets)
		for _, t := range known {
			out = append(out, t.About().Name)
		}
		return out, err
	case of.Style.Leading > 0 || of.Opened:
		return of.Around, nil
	}
	for _, t := range a.surrounding(ruled()) {
		out = append(out, t.About().Name)
	}
	return out, nil
}

// ruled are the platforms whose lines are known.
func ruled() []platform.Platform {
	return slices.DeleteFunc(slices.Clone(all.Platforms), func(t platform.Platform) bool { return !setting.Ruled(t.About().Name) })
}

// readersOf are the sizes that readers choose, by the words of --scale.
func readersOf(words []string) ([]setting.Reader, error) {
	var out []setting.Reader
	for _, w := range words {
		r, ok := setting.ReaderOf(w)
		if !ok {
			return nil, wrongUse("measure: expected a factor of 0.1 to 10, or one of %s for --scale, found %q", strings.Join(setting.Readers(), ", "), w)
		}
		out = append(out, r)
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
sizes that readers can choose; broken into lines at a width, as browsers do it. An app's
own strings keep their keys and languages. Where no line height is given, platforms
make lines of different heights of one font: those of the project are told, and ink that
stands out of them. Characters that the face lacks are named. Exit code 1 says that a
text does not fit into --width or --height, or that a character is missing.`,
		Example: "  notaria measure heading --text \"07:40 Holm\"\n  notaria measure SkerrySans-Bold --size 28 --strings ios/ --width 240\n  notaria measure body --strings app/src/main/res --width 180 --height 48 --scale 1,android-largest",
		Args:    exactly(1, "a face, a role or a font file"),
		RunE: func(c *cobra.Command, args []string) error {
			return a.runMeasure(c.Context(), args[0], o)
		},
	}
	o.flags(c)
	c.Flags().StringSliceVar(&o.scales, "scale", []string{"1"}, "`sizes` that readers choose: factors, ios-xs to ios-ax5 or ios-largest, android-1.15 to android-2 or android-largest, react-native-ios-largest")
	return c
}

// single finds a face by its name or its file, or a role; lines says that the project's targets are asked for, for their lines.
func (a *app) single(ctx context.Context, what string, o textsOptions, lines bool) (subject.One, error) {
	size := 0.0
	if o.given("size") {
		if size = o.size; !(size >= 1 && size <= 2000) {
			return subject.One{}, wrongUse("expected 1 to 2000 pixels for --size, found %g", size)
		}
	}
	at, err := placeOf("measure", o.at)
	if err != nil {
		return subject.One{}, err
	}
	f := subject.Finder{Project: a.look}
	if lines && len(o.targets) == 0 {
		f.Around = ruled()
	}
	c, err := a.found(ctx, []string{what}, f)
	if err != nil {
		return subject.One{}, err
	}
	a.Problems(c.Problems)
	s, err := subject.Single(c, what, size, at)
	s.Style.Language = o.language
	return s, err
}

func (a *app) runMeasure(ctx context.Context, what string, o textsOptions) error {
	readers, err := readersOf(o.scales)
	if err != nil {
		return err
	}
	room, err := o.room("measure")
	if err != nil {
		return err
	}
	texts, err := o.all(a)
	if err != nil {
		return err
	}
	s, err := a.single(ctx, what, o, true)
	if err != nil {
		return err
	}
	targets, err := a.lined(o, s)
	if err != nil {
		return err
	}
	m, err := s.Measure(ctx, texts, readers, room, targets)
	if err != nil {
		return err
	}
	if a.json {
		err = a.printJSON(document.NewMeasures(s.Name, s.Face.ID(), room, m))
	} else {
		a.Measures(s, m, room)
	}
	if err == nil && slices.ContainsFunc(m.Measures, func(x subject.Measured) bool { return !x.Fits() }) {
		return findings
	}
	return err
}

// px is a length in pixels, to hundredths.
func px(v float64) string { return strconv.FormatFloat(math.Round(v*100)/100+0, 'f', -1, 64) }
