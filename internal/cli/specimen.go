package cli

import (
	"context"
	"errors"
	"fmt"
	"path/filepath"
	"runtime/debug"
	"slices"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/change"
	"notaria/internal/document"
	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/locale"
	"notaria/internal/platform"
	"notaria/internal/platform/all"
	"notaria/internal/specimen"
	"notaria/internal/subject"
	"notaria/internal/terminal"
	"notaria/internal/view"
)

// specimenOptions are the flags of specimen.
type specimenOptions struct {
	wanted             namesOptions // the text
	view, out, strings string
	sizes              []float64
	width              int
	times              float64
	dark, light, names bool
	language           string
	category, script   []string
	weights, canWrite  string
	overwrite          bool
}

// defaultText is drawn where nobody gave one: a line of a departure board.
const defaultText = "Ferry to Holm and Stora Skerry, 07:40 from quay 2"

const specimenLong = `Draw text in faces, to see them before one is chosen: the faces of files, folders and
archives, of enrolled faces and families, or the project's roles as its apps show them.

  side-by-side  candidates for your text: each at several sizes on light and on dark, with the
                width that the text takes; many stand in columns, on as many pages as they need
  in-depth      one family: text to be read, sizes, styles, instances, features, metrics,
                kerning, digits, look-alikes, accents, languages, characters
  roles         each role with its size, line height, tracking, colour, outline and
                shadow, on light and on dark

Without --view it is in-depth for one family, else side-by-side; without an argument, the
project's roles. --out NAME.png or NAME.svg writes a page; without it, the terminal shows
the samples. An SVG holds outlines: it needs no font. NAME.html is one file with the fonts
in it, cut down to the letters of common texts and of yours: type your own text there,
filter, change size, style, axes and ground; it needs no network.`

func (a *app) specimen() *cobra.Command {
	var opt specimenOptions
	c := &cobra.Command{
		Use:     "specimen [FACE|FAMILY|ROLE|PATH]... [flags]",
		Short:   "Draw text in faces, to see them before one is chosen",
		Long:    specimenLong,
		Example: "  notaria specimen fonts.zip --text \"07:40 Holm\"\n  notaria specimen fonts/ --category serif,slab --can-write \"Ærøskøbing\" --out faces.png\n  notaria specimen \"Skerry Sans\" --out family.svg\n  notaria specimen --out roles.png --times 2",
		RunE: func(c *cobra.Command, args []string) error {
			if err := opt.check(); err != nil {
				return err
			}
			if err := opt.idle(c.Flags().Changed); err != nil {
				return err
			}
			return a.runSpecimen(c.Context(), args, opt)
		},
	}
	f := c.Flags()
	f.StringVar(&opt.wanted.text, "text", "", "the `text` that is drawn")
	f.StringVar(&opt.wanted.textFile, "text-file", "", "the text in a `file` (UTF-8)")
	f.StringVar(&opt.strings, "strings", "", "the longest of the app's own strings, in a `file or folder` of .strings, strings.xml, .arb, .po and others")
	f.StringVar(&opt.view, "view", "", "the `view`: side-by-side, in-depth or roles")
	f.StringVar(&opt.out, "out", "", "write the page into a `file`: .png, .svg or .html")
	f.Float64SliceVar(&opt.sizes, "size", nil, "`pixels` per em, one or several (default 28 and 16; 22 in columns and in the terminal)")
	f.Lookup("size").DefValue = ""
	f.IntVar(&opt.width, "width", 1280, "how wide the page is, in `pixels`: 320 to 4000")
	f.Float64Var(&opt.times, "times", 1, "how many `times` as large a PNG is: 1 to 4, such as 2 for a dense screen")
	f.BoolVar(&opt.dark, "dark", false, "a dark page; candidates on it alone")
	f.BoolVar(&opt.light, "light", false, "candidates on a light page alone (default: on both, of at most 24 faces)")
	f.BoolVar(&opt.names, "names", false, "what to type for each candidate too")
	f.StringVar(&opt.language, "language", "", "the text's `language`, such as sr or vi: only faces that write it whole, with the letters that they have for it")
	f.StringSliceVar(&opt.category, "category", nil, "only faces of these `kinds`: sans, serif, slab, mono, script, display, symbol")
	f.StringSliceVar(&opt.script, "script", nil, "only faces with these `scripts`, such as Latn,Cyrl")
	f.StringVar(&opt.weights, "weight", "", "only faces of this `weight` or between two, such as 400 or 600-900")
	f.StringVar(&opt.canWrite, "can-write", "", "only faces that have all characters of this `text`")
	f.BoolVar(&opt.overwrite, "overwrite", false, "write over a file that Notaria did not write there last")
	return c
}

// check refuses flags that cannot be meant.
func (o *specimenOptions) check() error {
	switch {
	case strings.Count(fmt.Sprint(o.wanted.text != "", o.wanted.textFile != "", o.strings != ""), "true") > 1:
		return wrongUse("specimen: expected one of --text, --text-file and --strings, found several")
	case o.dark && o.light:
		return wrongUse("specimen: expected --light or --dark, found both: without either, candidates stand on both")
	case o.view != "" && !slices.Contains(subject.Views, o.view):
		return wrongUse("specimen: expected %s for --view, found %q", strings.Join(subject.Views, ", "), o.view)
	case o.width < 320 || o.width > 4000:
		return wrongUse("specimen: expected 320 to 4000 pixels for --width, found %d", o.width)
	case !(o.times >= 1 && o.times <= 4):
		return wrongUse("specimen: expected 1 to 4 for --times, found %g", o.times)
	case len(o.sizes) > 12:
		return wrongUse("specimen: expected at most 12 sizes, found %d", len(o.sizes))
	}
	for _, s := range o.sizes {
		if !(s >= 4 && s <= 400) {
			return wrongUse("specimen: expected 4 to 400 pixels for --size, found %g", s)
		}
	}
	switch ext := strings.ToLower(filepath.Ext(o.out)); {
	case o.out != "" && ext != ".png" && ext != ".svg" && ext != ".html":
		return wrongUse("specimen: expected a file that ends with .png, .svg or .html for --out, found %q", o.out)
	case o.times != 1 && ext != ".png":
		return wrongUse("specimen: expected --out NAME.png for --times: only pictures of pixels have a size of their own")
	}
	for _, c := range o.category {
		if !slices.Contains(face.Categories, c) {
			return wrongUse("specimen: expected %s for --category, found %q", strings.Join(face.Categories, ", "), c)
		}
	}
	if o.language != "" {
		if _, err := locale.Of(o.language); err != nil {
			return wrongUse("specimen: --language: %v", err)
		}
	}
	_, err := o.asked()
	return err
}

func (o *specimenOptions) html() bool { return strings.EqualFold(filepath.Ext(o.out), ".html") }

// idle refuses flags that would change nothing: none is passed over in silence.
func (o *specimenOptions) idle(given func(string) bool) error {
	if o.out == "" {
		for _, flag := range []string{"view", "width", "overwrite", "light", "names"} {
			if given(flag) {
				return wrongUse("specimen: expected --out with --%s: the terminal shows the samples, as wide as it is", flag)
			}
		}
	}
	if o.html() && given("width") {
		return wrongUse("specimen: expected no --width for a page in HTML: it is as wide as its window")
	}
	return nil
}

// fits refuses sizes for views that have their own, and what is about candidates alone for the others.
func (o *specimenOptions) fits(view string) error {
	for _, flag := range []struct {
		name  string
		given bool
	}{{"light", o.light}, {"names", o.names}} {
		if flag.given && view != subject.SideBySide {
			return wrongUse("specimen: expected --view %s with --%s, found --view %s", subject.SideBySide, flag.name, view)
		}
	}
	if o.names && o.html() {
		return wrongUse("specimen: expected no --names for a page in HTML: it has them, to be opened")
	}
	if view != subject.SideBySide && len(o.sizes) > 0 {
		return wrongUse("specimen: expected no --size for --view %s, which has sizes of its own; --view %s takes some", view, subject.SideBySide)
	}
	return nil
}

// asked are the faces that the flags ask for.
func (o *specimenOptions) asked() (subject.Wanted, error) {
	w := subject.Wanted{Categories: o.category, Scripts: o.script, CanWrite: o.canWrite, Language: o.language}
	if o.weights == "" {
		return w, nil
	}
	from, to, two := strings.Cut(o.weights, "-")
	if !two {
		to = from
	}
	var err1, err2 error
	w.Least, err1 = strconv.Atoi(strings.TrimSpace(from))
	w.Most, err2 = strconv.Atoi(strings.TrimSpace(to))
	if err1 != nil || err2 != nil || w.Least < 1 || w.Most > 1000 || w.Least > w.Most {
		return w, wrongUse("specimen: expected a weight of 1 to 1000, or two such as 600-900, for --weight, found %q", o.weights)
	}
	return w, nil
}

// find finds the faces and the roles that are named.
func (a *app) find(ctx context.Context, args []string, w subject.Wanted, limits []platform.Platform) (subject.Subjects, error) {
	return a.found(ctx, args, subject.Finder{Wanted: w, Project: a.look, Targets: limits})
}

func (a *app) found(ctx context.Context, args []string, f subject.Finder) (subject.Subjects, error) {
	bar := terminal.NewProgress(a.alarm, "reading fonts")
	defer bar.End()
	f.Progress = bar.Step
	s, err := f.Find(ctx, args)
	if errors.Is(err, subject.ErrNothing) {
		return s, &codeError{exitUse, err}
	}
	return s, err
}

// Bounds of what a specimen shows: how much text, in bytes, and how many of the app's own strings.
const (
	mostSpecimen = 16 << 10
	mostStrings  = 3
)

// text is what is drawn: what was given, or the longest of the app's own strings, or a line of our own.
func (o *specimenOptions) text(a *app) (string, error) {
	text, given, err := a.wantedText(o.wanted)
	if err != nil {
		return "", err
	}
	if o.strings != "" {
		list, err := subject.Longest(o.strings, mostStrings)
		if err != nil {
			return "", err
		}
		var longest []string
		for _, t := range list {
			longest = append(longest, t.Text)
		}
		text, given = strings.Join(longest, "\n"), true
	}
	if !given {
		text = defaultText
	}
	if len(text) > mostSpecimen {
		return "", wrongUse("specimen: expected a text of at most %d KiB, found %d KiB; draw a part of it", mostSpecimen>>10, len(text)>>10)
	}
	return text, nil
}

// drawingGC keeps the memory of many faces low: pictures are large, and soon done with.
const drawingGC = 60

func (a *app) runSpecimen(ctx context.Context, args []string, o specimenOptions) error {
	debug.SetGCPercent(drawingGC)
	text, err := o.text(a)
	if err != nil {
		return err
	}
	asked, err := o.asked()
	if err != nil {
		return err
	}
	c, err := a.find(ctx, args, asked, all.Platforms)
	if err != nil {
		return err
	}
	if len(c.Faces)+len(c.Roles) == 0 {
		a.Problems(c.Problems)
		return &fault.Error{File: strings.Join(args, " "), Expected: "a face to be drawn", Found: fmt.Sprintf("none (%s left out)", plural(c.Left, "face")), Cure: "ask for fewer of --category, --script, --weight, --can-write and --language, or for other files"}
	}
	opt := specimen.Options{Text: text, Ours: text == defaultText, Sizes: o.sizes, Width: float64(o.width), Colours: specimen.Light, Language: o.language, OneGround: o.dark || o.light}
	if o.dark {
		opt.Colours = specimen.Dark
	}
	if opt.Typed, err = a.typedLines(); err != nil {
		return err
	}
	if o.out == "" {
		return a.showSpecimen(c, opt, o)
	}
	view, err := c.View(o.view)
	if err != nil {
		return wrongUse("specimen: %v", err)
	}
	if err := o.fits(view); err != nil {
		return err
	}
	opt.Title = c.Title(view)
	if view == subject.SideBySide && !o.html() && !o.names {
		opt.Typed = nil
	}
	var files []string
	if o.html() {
		if view == subject.SideBySide {
			if opt.Strings, opt.Roles, err = a.forChoice(ctx, o); err != nil {
				return err
			}
		}
		page, err := c.Page(ctx, view, opt)
		if err != nil {
			return fmt.Errorf("%s: %w", o.out, err)
		}
		if err := a.write(ctx, o.overwrite, change.Output{Name: o.out, Data: page}); err != nil {
			return err
		}
		return a.written(c, []string{o.out})
	}
	err = c.Draw(ctx, view, opt, func(d *specimen.Drawing) error {
		out, err := o.picture(d, len(files))
		if err != nil {
			return err
		}
		files = append(files, out.Name)
		return a.write(ctx, o.overwrite, out)
	})
	if err != nil {
		return err
	}
	return a.written(c, files)
}

// mostChoice is how many of the app's own strings a page of candidates offers.
const mostChoice = 60

// forChoice is what a page of candidates offers of the app: its longest strings, and the project's roles.
func (a *app) forChoice(ctx context.Context, o specimenOptions) (out []specimen.Labelled, roles []specimen.Role, err error) {
	if o.strings != "" {
		list, err := subject.Longest(o.strings, mostChoice)
		if err != nil {
			return nil, nil, err
		}
		for _, t := range list {
			out = append(out, specimen.Labelled{Label: view.Named(t.Language, t.Key), Text: t.Text})
		}
	}
	root, err := a.projectRoot()
	if err != nil || !isProject(root) {
		return out, nil, nil
	}
	found, err := a.find(ctx, nil, subject.Wanted{}, nil)
	if err != nil { // a project that has nothing yet
		return out, nil, nil
	}
	return out, found.Roles, nil
}

// written tells of the files that were written.
func (a *app) written(c subject.Subjects, files []string) error {
	if a.json {
		return a.printJSON(document.NewSpecimen(files, c))
	}
	a.Problems(c.Problems)
	for _, f := range files {
		a.Say("%s %s", a.Paint.Good("wrote"), a.Paint.Place(cell(f)))
	}
	return nil
}

// typedLines gives what is typed for a face on the project's platforms, by kind of name.
func (a *app) typedLines() (func(face.Face) []string, error) {
	targets, err := a.typedOn(nil)
	if err != nil {
		return nil, err
	}
	return func(f face.Face) []string {
		faces := []face.Face{f}
		var out, said []string
		for _, b := range platform.Blocks(faces, targets) {
			if s := b.Strings[0]; len(out) < 3 && s != f.Full && !slices.Contains(said, s) {
				said = append(said, s)
				out = append(out, terminal.Pad(string(b.Kind), 17)+s)
			}
		}
		return out
	}, nil
}

// picture is a page as its file. All pages but the first have a number.
func (o *specimenOptions) picture(d *specimen.Drawing, earlier int) (change.Output, error) {
	name, ext := o.out, filepath.Ext(o.out)
	if earlier > 0 {
		name = strings.TrimSuffix(o.out, ext) + "-" + strconv.Itoa(earlier+1) + ext
	}
	if strings.EqualFold(ext, ".svg") {
		return change.Output{Name: name, Data: d.SVG()}, nil
	}
	data, err := d.PNG(o.times)
	if err != nil {
		return change.Output{}, fmt.Errorf("%s: %w; ask for fewer faces, a smaller --size or --times 1", name, err)
	}
	return change.Output{Name: name, Data: data}, nil
}

// showSpecimen draws samples into the terminal: the names as text, the samples as blocks.
func (a *app) showSpecimen(c subject.Subjects, opt specimen.Options, o specimenOptions) error {
	if a.json {
		return wrongUse("specimen: expected --out with --json: the document tells of the files that were written")
	}
	a.Problems(c.Problems)
	if len(o.sizes) == 0 {
		opt.Sizes = []float64{22}
	}
	opt.Width = float64(columns(a.Screen))
	if !o.dark && bool(a.Paint) {
		opt.Colours = specimen.Dark
	}
	show := func(name, about string, f specimen.Face) error {
		a.Say("%s  %s", a.Paint.Strong(cell(name)), a.Paint.Faint(about))
		d, err := specimen.Sample(f, opt)
		if err != nil {
			a.Say("  %s %s", a.Paint.Bad("cannot be drawn:"), cell(err.Error()))
			return nil
		}
		text, err := d.Blocks(bool(a.Paint))
		if err != nil {
			return err
		}
		_, err = a.Lines.WriteString(text)
		a.Say("")
		return err
	}
	for _, f := range c.Faces {
		if err := show(f.Face.Full, strings.Join(opt.Typed(f.Face), "; "), f); err != nil {
			return err
		}
	}
	for _, r := range c.Roles {
		if err := show(r.Title(), r.About, r.Face); err != nil {
			return err
		}
	}
	return nil
}
