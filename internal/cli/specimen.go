package cli

import (
	"bytes"
	"context"
	"fmt"
	"image/color"
	"os"
	"path/filepath"
	"runtime/debug"
	"slices"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/document"
	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/intake"
	"notaria/internal/pixel"
	"notaria/internal/sfnt"
	"notaria/internal/specimen"
	"notaria/internal/target"
)

// specimenOptions are the flags of specimen.
type specimenOptions struct {
	wanted            namesOptions // the text
	view, out         string
	sizes             []float64
	width             int
	times             float64
	dark              bool
	language          string
	category, script  []string
	weights, canWrite string
	overwrite         bool
}

// Views of specimen.
const (
	viewSide  = "side-by-side"
	viewDepth = "in-depth"
	viewRoles = "roles"
)

// defaultText is drawn where nobody gave one: a line of a departure board.
const defaultText = "Ferry to Holm and Stora Skerry, 07:40 from quay 2"

const specimenLong = `Draw text in faces, to see them before one is subjects: the faces of files, folders and
archives, of enrolled faces and families, or the project's roles as its apps show them.

  side-by-side  each face with the same text, its names and what to type; many stand in
                columns, on as many pages as they need
  in-depth      one family: sizes, styles, digits, look-alikes, accents, axes, characters
  roles         each role with its size, line height, tracking, colour, outline and
                shadow, on light and on dark

Without --view it is in-depth for one family, else side-by-side; without an argument, the
project's roles. --out NAME.png or NAME.svg writes a page; without it, the terminal shows
the samples. An SVG holds outlines: it needs no font.`

func (a *app) specimen() *cobra.Command {
	var opt specimenOptions
	c := &cobra.Command{
		Use:     "specimen [FACE|FAMILY|ROLE|PATH]... [flags]",
		Short:   "Draw text in faces, to see them before one is subjects",
		Long:    specimenLong,
		Example: "  notaria specimen fonts.zip --text \"07:40 Holm\"\n  notaria specimen fonts/ --category serif,slab --can-write \"Ærøskøbing\" --out faces.png\n  notaria specimen \"Skerry Sans\" --out family.svg\n  notaria specimen --out roles.png --times 2",
		RunE: func(c *cobra.Command, args []string) error {
			if err := opt.check(); err != nil {
				return err
			}
			return a.runSpecimen(c.Context(), args, opt)
		},
	}
	f := c.Flags()
	f.StringVar(&opt.wanted.text, "text", "", "the `text` that is drawn")
	f.StringVar(&opt.wanted.textFile, "text-file", "", "the text in a `file` (UTF-8)")
	f.StringVar(&opt.view, "view", "", "side-by-side, in-depth or roles")
	f.StringVar(&opt.out, "out", "", "write the page into a `file`: .png or .svg")
	f.Float64SliceVar(&opt.sizes, "size", nil, "pixels per em, one or several (default 40; 22 in columns and in the terminal)")
	f.IntVar(&opt.width, "width", 1280, "how wide the page is, in pixels: 320 to 4000")
	f.Float64Var(&opt.times, "times", 1, "how many times as large a PNG is: 1 to 4, such as 2 for a dense screen")
	f.BoolVar(&opt.dark, "dark", false, "light text on a dark page")
	f.StringVar(&opt.language, "language", "", "the text's language, such as sr or tr: some fonts have other letters for it")
	f.StringSliceVar(&opt.category, "category", nil, "only faces of these `kinds`: sans, serif, slab, mono, script, display, symbol")
	f.StringSliceVar(&opt.script, "script", nil, "only faces with these `scripts`, such as Latn,Cyrl")
	f.StringVar(&opt.weights, "weight", "", "only faces of this weight or between two, such as 400 or 600-900")
	f.StringVar(&opt.canWrite, "can-write", "", "only faces that have all characters of this `text`")
	f.BoolVar(&opt.overwrite, "overwrite", false, "write over a file that is no picture of the same kind")
	return c
}

// check refuses flags that cannot be meant.
func (o *specimenOptions) check() error {
	switch {
	case o.wanted.text != "" && o.wanted.textFile != "":
		return wrongUse("specimen: expected --text or --text-file, found both")
	case o.view != "" && !slices.Contains([]string{viewSide, viewDepth, viewRoles}, o.view):
		return wrongUse("specimen: expected %s, %s or %s for --view, found %q", viewSide, viewDepth, viewRoles, o.view)
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
	case o.out != "" && ext != ".png" && ext != ".svg":
		return wrongUse("specimen: expected a file that ends with .png or .svg for --out, found %q", o.out)
	case o.times != 1 && ext != ".png":
		return wrongUse("specimen: expected --out NAME.png for --times: only pictures of pixels have a size of their own")
	}
	_, _, err := o.between()
	return err
}

// between are the least and the most weight that is asked for.
func (o *specimenOptions) between() (least, most int, err error) {
	if o.weights == "" {
		return 1, 1000, nil
	}
	from, to, two := strings.Cut(o.weights, "-")
	if !two {
		to = from
	}
	least, err1 := strconv.Atoi(strings.TrimSpace(from))
	most, err2 := strconv.Atoi(strings.TrimSpace(to))
	if err1 != nil || err2 != nil || least < 1 || most > 1000 || least > most {
		return 0, 0, wrongUse("specimen: expected a weight of 1 to 1000, or two such as 600-900, for --weight, found %q", o.weights)
	}
	return least, most, nil
}

// suits says whether a face is one of those that are asked for.
func (o *specimenOptions) suits(f face.Face) bool {
	least, most, _ := o.between()
	return (len(o.category) == 0 || slices.Contains(o.category, f.Category)) && f.Weight >= least && f.Weight <= most &&
		!slices.ContainsFunc(o.script, func(s string) bool { return !slices.Contains(f.Scripts, s) }) &&
		(o.canWrite == "" || len(f.Lacks(o.canWrite)) == 0)
}

// subjects is what is to be drawn.
type subjects struct {
	faces    []specimen.Face
	roles    []specimen.Role
	problems []face.Problem
	left     int // faces that were not asked for
}

// drawingGC keeps the memory of many faces low: pictures are large, and soon done with.
const drawingGC = 60

func (a *app) runSpecimen(ctx context.Context, args []string, o specimenOptions) error {
	debug.SetGCPercent(drawingGC)
	text, given, err := o.wanted.wantedText()
	if err != nil {
		return err
	}
	if !given {
		text = defaultText
	}
	c, err := a.choose(ctx, args, o)
	if err != nil {
		return err
	}
	if len(c.faces)+len(c.roles) == 0 {
		a.printProblems(c.problems)
		return &fault.Error{File: strings.Join(args, " "), Expected: "a face to be drawn", Found: fmt.Sprintf("none (%s left out)", plural(c.left, "face")), Cure: "ask for fewer of --category, --script, --weight and --can-write, or for other files"}
	}
	opt := specimen.Options{Text: text, Sizes: o.sizes, Width: float64(o.width), Colours: specimen.Light, Language: o.language}
	if o.dark {
		opt.Colours = specimen.Dark
	}
	if opt.Typed, err = a.typedLines(); err != nil {
		return err
	}
	if o.out == "" {
		return a.showSpecimen(c, opt, o)
	}
	var files []string
	err = a.pages(ctx, c, opt, o, func(d *specimen.Drawing) error {
		name, err := o.write(d, len(files))
		files = append(files, name)
		return err
	})
	if err != nil {
		return err
	}
	if a.json {
		return a.printJSON(document.NewSpecimen(files, facesOf(c), c.problems))
	}
	a.printProblems(c.problems)
	for _, f := range files {
		a.say("%s %s", a.paint.good("wrote"), a.paint.place(cell(f)))
	}
	return nil
}

// facesOf are the faces of what is drawn, each once.
func facesOf(c subjects) []face.Face {
	var out []face.Face
	for _, f := range c.faces {
		out = append(out, f.Face)
	}
	for _, r := range c.roles {
		if !slices.ContainsFunc(out, func(f face.Face) bool { return f.ID() == r.Face.ID() }) {
			out = append(out, r.Face.Face)
		}
	}
	return out
}

// typedLines gives what is typed for a face on the project's platforms, by kind of name.
func (a *app) typedLines() (func(face.Face) []string, error) {
	targets, err := a.typedOn(nil)
	if err != nil {
		return nil, err
	}
	return func(f face.Face) []string {
		faces := typed([]intake.Found{{Face: f}})
		var out, said []string
		for _, b := range typeBlocks(faces, targets) {
			if s := b.strings[0]; len(out) < 3 && s != f.Full && !slices.Contains(said, s) {
				said = append(said, s)
				out = append(out, pad(string(b.kind), 17)+s)
			}
		}
		return out
	}, nil
}

// pages draws the view that is asked for, and hands each page over.
func (a *app) pages(ctx context.Context, c subjects, opt specimen.Options, o specimenOptions, use func(*specimen.Drawing) error) error {
	view := o.view
	families := map[string]bool{}
	for _, f := range c.faces {
		families[f.Family] = true
	}
	switch {
	case view != "":
	case len(c.roles) > 0:
		view = viewRoles
	case len(families) == 1:
		view = viewDepth
	default:
		view = viewSide
	}
	switch {
	case view == viewRoles && len(c.roles) == 0:
		return wrongUse("specimen: expected roles for --view roles, found faces; name roles of notaria.toml, or nothing for all of them")
	case view != viewRoles && len(c.roles) > 0:
		for _, r := range c.roles {
			if !slices.ContainsFunc(c.faces, func(f specimen.Face) bool { return f.ID() == r.Face.ID() }) {
				c.faces = append(c.faces, r.Face)
			}
		}
	case view == viewDepth && len(families) > 1:
		return wrongUse("specimen: expected the faces of one family for --view in-depth, found %d families; name one", len(families))
	}
	switch view {
	case viewRoles:
		opt.Title = "Roles"
		d, err := specimen.Roles(c.roles, opt)
		if err != nil {
			return err
		}
		return use(d)
	case viewDepth:
		opt.Title = c.faces[0].Family
		d, err := specimen.InDepth(ctx, c.faces, opt)
		if err != nil {
			return err
		}
		return use(d)
	}
	opt.Title = "Faces side by side"
	return specimen.SideBySide(ctx, c.faces, opt, use)
}

// write writes a page into its file: over a picture of the same kind, and over no other file. All pages
// but the first have a number.
func (o *specimenOptions) write(d *specimen.Drawing, earlier int) (string, error) {
	name, ext := o.out, filepath.Ext(o.out)
	if earlier > 0 {
		name = strings.TrimSuffix(o.out, ext) + "-" + strconv.Itoa(earlier+1) + ext
	}
	data := []byte(nil)
	if strings.EqualFold(ext, ".svg") {
		data = d.SVG()
	} else {
		var err error
		if data, err = d.PNG(o.times); err != nil {
			return "", fmt.Errorf("%s: %w; ask for fewer faces, a smaller --size or --times 1", name, err)
		}
	}
	if old, err := os.ReadFile(name); err == nil && !o.overwrite && !sameKind(old, data) {
		return "", wrongUse("specimen: %s: expected no file, or a picture of the same kind, found another file; choose another --out, or use --overwrite", name)
	}
	if err := os.MkdirAll(filepath.Dir(name), 0o755); err != nil {
		return "", err
	}
	return name, os.WriteFile(name, data, 0o644)
}

// sameKind says whether a file may be written over by a picture: it is one itself.
func sameKind(old, data []byte) bool {
	return pixel.IsPNG(old) && pixel.IsPNG(data) || bytes.HasPrefix(old, []byte("<svg")) && bytes.HasPrefix(data, []byte("<svg"))
}

// choose finds the faces and the roles that are named; without a name, the project's roles, or, where
// it has none, its faces.
func (a *app) choose(ctx context.Context, args []string, o specimenOptions) (subjects, error) {
	var c subjects
	var paths, names []string
	for _, arg := range args {
		if _, err := os.Stat(arg); err == nil {
			paths = append(paths, arg)
		} else {
			names = append(names, arg)
		}
	}
	if len(paths) > 0 {
		if err := a.gathered(ctx, paths, o, &c); err != nil {
			return c, err
		}
	}
	if len(names) > 0 || len(args) == 0 {
		return c, a.ofProject(names, o, &c)
	}
	return c, nil
}

// gathered are the faces of files, folders and archives.
func (a *app) gathered(ctx context.Context, paths []string, o specimenOptions, c *subjects) error {
	bar := newProgress(a.alarm, "reading fonts")
	opt := intake.Options{Progress: bar.step}
	opt.Coverage = true
	haul, err := intake.Gather(ctx, paths, opt)
	bar.end()
	if err != nil {
		return err
	}
	for _, p := range haul.Problems {
		if p.Fatal { // what is odd about names is the business of names
			c.problems = append(c.problems, p)
		}
	}
	for _, f := range haul.Faces {
		if o.suits(f.Face) {
			c.faces = append(c.faces, specimen.Face{Face: f.Face, Where: f.File, Read: f.Plain})
		} else {
			c.left++
		}
	}
	return nil
}

// ofProject are the project's faces, families and roles by their names.
func (a *app) ofProject(names []string, o specimenOptions, c *subjects) error {
	p, err := a.look()
	if err != nil {
		return err
	}
	// What is drawn is read now: the project is closed before the page is made.
	defer p.Close()
	faceOf := func(id string) (specimen.Face, error) {
		f, err := p.Face(id)
		if err != nil {
			return specimen.Face{}, err
		}
		data, err := p.Original(f)
		if err != nil {
			return specimen.Face{}, err
		}
		if f.Face, err = readFace(f.File, data); err != nil {
			return specimen.Face{}, err
		}
		return specimen.Face{Face: f.Face, Where: f.File, Read: func() ([]byte, error) { return data, err }}, nil
	}
	role := func(name string) error {
		r, err := p.Role(name)
		if err != nil {
			return err
		}
		if r.Bitmap != "" || r.Size == 0 {
			return nil // pixels have a command of their own
		}
		f, err := faceOf(r.Face.ID())
		if err == nil && o.suits(f.Face) {
			c.roles = append(c.roles, roleOf(r, f))
		}
		return err
	}
	if len(names) == 0 {
		if names = p.Registry.RoleNames(); len(names) == 0 {
			names = p.Registry.FaceNames()
		}
		if len(names) == 0 {
			return wrongUse("specimen: expected a font file, a folder or an archive, found no argument and no enrolled face")
		}
	}
	for _, name := range names {
		if _, ok := p.Registry.Roles[name]; ok {
			if err := role(name); err != nil {
				return err
			}
			continue
		}
		found := false
		for _, id := range p.Registry.FaceNames() {
			f, err := faceOf(id)
			if err != nil {
				return err
			}
			if id != name && f.Family != name {
				continue
			}
			if found = true; o.suits(f.Face) {
				c.faces = append(c.faces, f)
			} else {
				c.left++
			}
		}
		if !found {
			known := append(p.Registry.FaceNames(), p.Registry.RoleNames()...)
			return &fault.Error{File: name, Expected: "a font file, a folder, an archive, an enrolled face or family, or a role", Found: "none of them", Cure: "use one of: " + strings.Join(append(known, "a file's path"), ", ")}
		}
	}
	return nil
}

// readFace reads a face with all its characters.
func readFace(name string, data []byte) (face.Face, error) {
	file, err := sfnt.Open(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return face.Face{}, fmt.Errorf("%s: %w", name, err)
	}
	f, _, err := face.Read(file.Font(0), face.Options{Coverage: true})
	f.File = name
	return f, err
}

// roleOf is a role as it is drawn: a point, an sp and a logical pixel are one pixel.
func roleOf(r target.Role, f specimen.Face) specimen.Role {
	paint := func(c target.Colour) color.NRGBA { return color.NRGBA(c) }
	s := specimen.Style{Size: r.Size, Leading: r.LineHeight, Tracking: r.Letter(), Space: r.Extra.Space}
	facts := []string{r.Face.Family + " " + r.Face.Style, strconv.FormatFloat(r.Size, 'g', -1, 64) + " px"}
	if r.LineHeight > 0 {
		facts = append(facts, "on "+strconv.FormatFloat(r.LineHeight, 'g', -1, 64))
	}
	if r.Tracking != 0 {
		facts = append(facts, "tracking "+strconv.FormatFloat(r.Tracking, 'g', -1, 64))
	}
	if r.Colour != nil {
		s.Colour = paint(*r.Colour)
		facts = append(facts, r.Colour.Hash())
	}
	if r.Outline != nil {
		s.Outline, s.Edge = r.Outline.Width, paint(r.Outline.Colour)
		facts = append(facts, "outline "+strconv.FormatFloat(r.Outline.Width, 'g', -1, 64))
	}
	if r.Shadow != nil {
		s.Shadow = &specimen.Shadow{X: r.Shadow.X, Y: r.Shadow.Y, Blur: r.Shadow.Blur, Colour: paint(r.Shadow.Colour)}
		facts = append(facts, "shadow")
	}
	if !r.Scale {
		facts = append(facts, "fixed size")
	}
	return specimen.Role{Name: r.Name, About: strings.Join(facts, ", "), Face: f, Style: s}
}

// showSpecimen draws samples into the terminal: the names as text, the samples as blocks.
func (a *app) showSpecimen(c subjects, opt specimen.Options, o specimenOptions) error {
	if a.json {
		return wrongUse("specimen: expected --out with --json: the document tells of the files that were written")
	}
	a.printProblems(c.problems)
	if len(o.sizes) == 0 {
		opt.Sizes = []float64{22}
	}
	opt.Width = float64(columns(a.screen))
	if !o.dark && bool(a.paint) {
		opt.Colours = specimen.Dark
	}
	show := func(name, about string, f specimen.Face) error {
		a.say("%s  %s", a.paint.strong(cell(name)), a.paint.faint(about))
		d, err := specimen.Sample(f, opt)
		if err != nil {
			a.say("  %s %s", a.paint.bad("cannot be drawn:"), cell(err.Error()))
			return nil
		}
		text, err := d.Blocks(bool(a.paint))
		if err != nil {
			return err
		}
		_, err = a.lines.WriteString(text)
		a.say("")
		return err
	}
	for _, f := range c.faces {
		if err := show(f.Face.Full, strings.Join(opt.Typed(f.Face), "; "), f); err != nil {
			return err
		}
	}
	for _, r := range c.roles {
		if err := show(r.Name, r.About, r.Face); err != nil {
			return err
		}
	}
	return nil
}
