package cli

import (
	"context"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"sort"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/document"
	"notaria/internal/fault"
	"notaria/internal/specimen"
	"notaria/internal/target"
)

// textsOptions are the flags for several texts.
type textsOptions struct {
	texts          []string
	lines, strings string
	size, width    float64
	features       []string
	language       string
	scales         []string
	coordinates    map[string]string
	given          func(string) bool
}

func (o *textsOptions) flags(c *cobra.Command) {
	f := c.Flags()
	f.StringArrayVar(&o.texts, "text", nil, "a `text`; may be given several times")
	f.StringVar(&o.lines, "text-file", "", "each line of a `file` is a text (UTF-8)")
	f.StringVar(&o.strings, "strings", "", "the app's own strings: a `file or folder` of .strings, .xcstrings, strings.xml, .arb, .po, .json, .yaml")
	f.Float64Var(&o.size, "size", 16, "pixels per em (default: the role's, else 16)")
	f.Float64Var(&o.width, "width", 0, "the room for a text, in pixels")
	f.StringVar(&o.language, "language", "", "the texts' language, such as sr or tr")
	f.Lookup("size").DefValue = ""
	o.given = f.Changed
}

// mostTexts is how many texts are measured at once, and how long each may be, in bytes.
const (
	mostTexts    = 50_000
	mostTextSize = 64 << 10
)

// all are the texts that are asked for, in the order in which they were given; those of files of
// strings each once, by the alphabet.
func (o *textsOptions) all() ([]string, error) {
	out := slices.Clone(o.texts)
	if o.lines != "" {
		text, _, err := namesOptions{textFile: o.lines}.wantedText()
		if err != nil {
			return nil, err
		}
		for _, l := range strings.Split(strings.TrimRight(text, "\n"), "\n") {
			out = append(out, strings.TrimSuffix(l, "\r"))
		}
	}
	if o.strings != "" {
		list, err := stringsIn(o.strings)
		if err != nil {
			return nil, err
		}
		out = append(out, list...)
	}
	if len(out) == 0 {
		out = []string{defaultText}
	}
	if len(out) > mostTexts {
		return nil, wrongUse("expected at most %d texts, found %d; name fewer files", mostTexts, len(out))
	}
	for _, t := range out {
		if len(t) > mostTextSize {
			return nil, wrongUse("expected texts of at most %d KiB, found one of %d", mostTextSize>>10, len(t)>>10)
		}
	}
	return out, nil
}

// stringsIn are the strings in the files of strings below a path.
func stringsIn(root string) ([]string, error) {
	have := map[string]bool{}
	err := filepath.WalkDir(root, func(name string, d fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		if d.IsDir() {
			if base := d.Name(); name != root && (strings.HasPrefix(base, ".") || base == "node_modules" || base == "build") {
				return fs.SkipDir
			}
			return nil
		}
		info, err := d.Info()
		if err != nil || !info.Mode().IsRegular() || info.Size() > maxWorded || name != root && !target.IsStrings(name) {
			return err
		}
		raw, err := os.ReadFile(name)
		if err != nil {
			return err
		}
		text, _ := target.Wording(name, raw)
		for _, l := range strings.Split(text, "\n") {
			if l = strings.TrimSpace(l); l != "" && len(have) <= mostTexts {
				have[l] = true
			}
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	if len(have) == 0 {
		return nil, &fault.Error{File: root, Expected: "strings of an app", Found: "none", Cure: "name a file such as Localizable.strings, strings.xml, app_en.arb or messages.po, or the folder that holds it"}
	}
	out := make([]string, 0, len(have))
	for s := range have {
		out = append(out, s)
	}
	sort.Strings(out)
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
	c.Flags().StringSliceVar(&o.scales, "scale", []string{"1"}, "factors of the reader's text size: numbers, ios-largest (3.12), android-largest (2)")
	return c
}

// A subject is a face with the style that texts are set in.
type subject struct {
	name  string
	face  specimen.Face
	style specimen.Style
	bytes int
	typ   *specimen.Type
}

// subjectOf finds a face by its name, its file or a role.
func (a *app) subjectOf(ctx context.Context, what string, o textsOptions) (subject, error) {
	c, err := a.choose(ctx, []string{what}, specimenOptions{})
	if err != nil {
		return subject{}, err
	}
	s := subject{style: specimen.Style{Size: o.size}}
	switch {
	case len(c.roles) == 1:
		s.name, s.face, s.style = what, c.roles[0].Face, c.roles[0].Style
		if o.given("size") {
			s.style.Leading *= o.size / s.style.Size
			s.style.Tracking *= o.size / s.style.Size
			s.style.Size = o.size
		}
	case len(c.faces) == 1:
		s.face = c.faces[0]
		s.name = s.face.ID()
	default:
		a.printProblems(c.problems)
		return s, &fault.Error{File: what, Expected: "one face", Found: plural(len(c.faces), "face"), Cure: "name one face by its PostScript name, a role with a size, or a file with one face"}
	}
	if !(s.style.Size >= 1 && s.style.Size <= 2000) {
		return s, wrongUse("expected 1 to 2000 pixels for --size, found %g", s.style.Size)
	}
	s.style.Language = o.language
	data, err := s.face.Read()
	if err != nil {
		return s, err
	}
	s.bytes = len(data)
	s.typ, err = specimen.Load(data, nil)
	return s, err
}

// scaled is a style at a factor of the reader's text size.
func scaled(s specimen.Style, factor float64) specimen.Style {
	s.Size, s.Leading, s.Tracking, s.Space = s.Size*factor, s.Leading*factor, s.Tracking*factor, s.Space*factor
	return s
}

func (a *app) runMeasure(ctx context.Context, what string, o textsOptions) error {
	scales, err := scalesOf(o.scales)
	if err != nil {
		return err
	}
	if o.width < 0 || o.width > 1e6 {
		return wrongUse("measure: expected a width of 0 to 1000000 pixels, found %g", o.width)
	}
	texts, err := o.all()
	if err != nil {
		return err
	}
	s, err := a.subjectOf(ctx, what, o)
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
			style := scaled(s.style, factor)
			style.Width = o.width
			m, err := s.typ.MeasureText(text, style)
			if err != nil {
				return err
			}
			bad = bad || m.Wider || len(m.Missing) > 0
			out = append(out, m)
		}
	}
	if a.json {
		err = a.printJSON(document.NewMeasures(s.name, s.face.ID(), o.width, out))
	} else {
		a.printMeasures(s, out)
	}
	if err == nil && bad {
		return findings
	}
	return err
}

func (a *app) printMeasures(s subject, list []specimen.Measure) {
	a.say("%s  %s", a.paint.strong(cell(s.name)), a.paint.faint(cell(s.face.Full)))
	t := table{head: []string{"px", "advance", "height", "lines", "ink (left, top, right, bottom)", "text"}}
	for _, m := range list {
		ink := "none"
		if m.Ink != nil {
			ink = fmt.Sprintf("%d, %d, %d, %d", m.Ink.Left, m.Ink.Top, m.Ink.Right, m.Ink.Bottom)
		}
		text := cell(m.Text)
		if m.Wider {
			text += "  " + a.paint.bad("does not fit")
		}
		if len(m.Missing) > 0 {
			text += "  " + a.paint.bad("lacks "+cell(strings.Join(m.Missing, " ")))
		}
		t.rows = append(t.rows, []string{px(m.Size), px(m.Advance), px(m.Height), strconv.Itoa(m.Lines), ink, text})
	}
	a.table(t)
}

// px is a length in pixels, to hundredths.
func px(v float64) string { return strconv.FormatFloat(float64(int(v*100+0.5))/100, 'f', -1, 64) }
