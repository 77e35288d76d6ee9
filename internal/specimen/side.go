package specimen

import (
	"context"
	"fmt"
	"math"
	"runtime"
	"strings"

	"golang.org/x/sync/errgroup"

	"notaria/internal/shape"
)

// mostInList is how many faces are shown a row each; more stand in a grid.
const mostInList = 16

// mostHeight is how high one page is: pictures that are higher cannot be opened by every program.
const mostHeight = 10000

// mostAtOnce is how many faces are drawn before they are put on their page, so that no more than those
// are in memory.
const mostAtOnce = 60

// mostOnBoth is how many faces are shown on light and on dark; of more, one ground is enough to leave some out.
const mostOnBoth = 24

// SideBySide draws candidates for a text, each with the same words, on one page or on as many as they need. Each page is handed over when it
// is full. A few faces stand a row each, on light beside dark, at each size and with the width that the text takes; many stand in columns on
// the page's own ground.
func SideBySide(ctx context.Context, faces []Face, o Options, use func(*Drawing) error) error {
	o.page = &work{}
	both := !o.OneGround && len(faces) <= mostOnBoth
	columns := columnsFor(len(faces))
	if both {
		columns = 1
	}
	if len(o.Sizes) == 0 {
		switch {
		case both:
			o.Sizes = []float64{28, 16}
		case columns > 1:
			o.Sizes = []float64{22}
		default:
			o.Sizes = []float64{40}
		}
	}
	pen, err := NewPen(o.Colours)
	if err != nil {
		return err
	}
	b := &book{o: o, pen: pen, columns: columns, both: both, wide: cellWidth(o.Width, columns), faces: len(faces), use: use}
	for from := 0; from < len(faces); from += mostAtOnce {
		cells, err := b.cells(ctx, faces[from:min(from+mostAtOnce, len(faces))])
		if err == nil {
			err = o.page.err()
		}
		if err != nil {
			return err
		}
		for i := 0; i < len(cells); i += columns {
			if err := b.row(cells[i:min(i+columns, len(cells))]); err != nil {
				return err
			}
		}
	}
	return b.end()
}

// A book is the pages of faces side by side.
type book struct {
	o       Options
	pen     *Pen
	columns int
	both    bool    // each face on light and on dark
	wide    float64 // of a cell
	faces   int
	page    *Drawing
	y       float64
	use     func(*Drawing) error
}

// row puts some cells beside each other, on a new page where the last one is full.
func (b *book) row(cells []*Drawing) error {
	high := 0.0
	for _, c := range cells {
		high = max(high, c.H)
	}
	if b.page != nil && b.y+high+edge(b.o.Width) > mostHeight {
		if err := b.end(); err != nil {
			return err
		}
	}
	if b.page == nil {
		b.page = &Drawing{W: b.o.Width, Ground: b.o.Ground, Title: b.o.Title}
		b.y = b.pen.heading(b.page, b.o.Title, about(b.faces, b.o), b.o.Width)
	}
	b.page.Rect(edge(b.o.Width), b.y, b.o.Width-2*edge(b.o.Width), 1, b.o.Rule)
	for k, c := range cells {
		b.page.Add(c, edge(b.o.Width)+float64(k)*(b.wide+3*unit), b.y)
	}
	b.y += high
	b.page.H = b.y + edge(b.o.Width)/2
	return nil
}

// end hands the page over.
func (b *book) end() error {
	page := b.page
	b.page = nil
	return b.use(page)
}

func about(faces int, o Options) string {
	sizes := make([]string, len(o.Sizes))
	for i, s := range o.Sizes {
		sizes[i] = number(s)
	}
	noun := "faces"
	if faces == 1 {
		noun = "face"
	}
	return fmt.Sprintf("%d %s at %s pixels", faces, noun, strings.Join(sizes, ", "))
}

// columnsFor is how many faces stand beside each other.
func columnsFor(faces int) int {
	switch {
	case faces <= mostInList:
		return 1
	case faces <= 60:
		return 2
	}
	return 3
}

func cellWidth(page float64, columns int) float64 {
	return (page - 2*edge(page) - float64(columns-1)*3*unit) / float64(columns)
}

// cells draws each face into a drawing of its own, several at a time, in the order of the faces.
func (b *book) cells(ctx context.Context, faces []Face) ([]*Drawing, error) {
	out := make([]*Drawing, len(faces))
	g, ctx := errgroup.WithContext(ctx)
	next := make(chan int)
	g.Go(func() error {
		defer close(next)
		for i := range faces {
			select {
			case next <- i:
			case <-ctx.Done():
				return ctx.Err()
			}
		}
		return nil
	})
	for range runtime.GOMAXPROCS(0) {
		g.Go(func() error {
			pen, err := NewPen(b.o.Colours)
			if err != nil {
				return err
			}
			for i := range next {
				if b.both {
					out[i] = pen.candidate(faces[i], b.o, b.wide)
				} else {
					out[i] = pen.cell(faces[i], b.o, b.wide, b.columns)
				}
			}
			return nil
		})
	}
	return out, g.Wait()
}

// cell is one face: its sample, and its names below it.
func (p *Pen) cell(f Face, o Options, wide float64, columns int) *Drawing {
	d := &Drawing{W: wide}
	y := 2.0 * unit
	lines, undrawn, err := p.samples(d, f, o, wide, columns, &y)
	if err != nil {
		y += 3 * unit
		p.failure(d, err, 0, y, wide)
	}
	y += 2.5 * unit
	p.caption(d, f, o, &y, wide)
	if undrawn != "" {
		y += 18
		p.words(d, p.text, undrawn, 0, y, 13, wide, p.Alarm)
	}
	if lacks := p.lacks(lines); lacks != "" {
		y += 18
		p.words(d, p.text, lacks, 0, y, 13, wide, p.Alarm)
	}
	d.H = y + 2.5*unit
	return d
}

// caption is one line: what a face is called and what kind it is; below it, if it is asked for, what is typed for it.
func (p *Pen) caption(d *Drawing, f Face, o Options, y *float64, wide float64) {
	x := p.words(d, p.strong, nameOf(f.Face), 0, *y, 14, wide*0.7, p.Ink)
	p.words(d, p.text, kindOf(f.Face), x+1.5*unit, *y, 14, max(wide-x-1.5*unit, 1), p.Quiet)
	if o.Typed != nil {
		*y += 18
		p.words(d, p.mono, typedLine(o.Typed(f.Face)), 0, *y, 12, wide, p.Quiet)
	}
}

// candidate is one face for a choice: its caption, and its text on light and on dark, beside each other where there is room.
func (p *Pen) candidate(f Face, o Options, wide float64) *Drawing {
	d := &Drawing{W: wide}
	t, err := f.load(o.page)
	p.own = t
	y := 3.0 * unit
	p.caption(d, f, o, &y, wide)
	if err != nil {
		y += 3 * unit
		p.failure(d, err, 0, y, wide)
		d.H = y + 2*unit
		return d
	}
	y += 1.5 * unit
	grounds := []Colours{Light, Dark}
	panel, beside := (wide-2*unit)/2, true
	if wide < leastBeside-100 {
		panel, beside = wide, false
	}
	high, all := 0.0, []shape.Line(nil)
	for i, c := range grounds {
		x := (panel + 2*unit) * float64(i)
		if !beside {
			x = 0
		}
		shown, lines, err := p.sized(t, f, o, c, panel)
		all = lines
		if err != nil {
			p.failure(d, err, x, y+3*unit, panel)
			high = max(high, 6*unit)
			continue
		}
		d.Rect(x, y, panel, shown.H, c.Ground)
		d.Frame(x, y, panel, shown.H, 1, o.Rule)
		d.Add(shown, x, y)
		if high = max(high, shown.H); !beside {
			y += shown.H + unit
			high = 0
		}
	}
	y += high
	for _, trouble := range []string{t.undrawn(), p.lacks(all)} {
		if trouble != "" {
			y += 2.5 * unit
			p.words(d, p.text, trouble, 0, y, 13, wide, p.Alarm)
		}
	}
	d.H = y + 2*unit
	return d
}

// lacks is what a face lacks of its text; "" where it has all.
func (p *Pen) lacks(lines []shape.Line) string {
	if lost := shape.Missing(lines); len(lost) > 0 {
		return "lacks " + p.listed(lost)
	}
	return ""
}

// sized is the text of a face on a ground, at each size: the size at the left, and at the right how wide the text is on one line.
func (p *Pen) sized(t *Type, f Face, o Options, c Colours, wide float64) (*Drawing, []shape.Line, error) {
	const sizes, widths = 32.0, 64.0
	d := &Drawing{W: wide}
	inside := 1.5 * unit
	room := wide - 2*inside - sizes - widths
	y, all := float64(inside), []shape.Line{}
	for i, size := range o.Sizes {
		if i > 0 {
			y += unit
		}
		s := Style{Size: size, Colour: c.Ink, Lacking: c.Alarm, Width: room, Language: o.Language}
		y += math.Ceil(size)
		lines, err := d.Set(t, o.shownIn(f, t), inside+sizes, y, s)
		if err != nil {
			return nil, nil, err
		}
		all = append(all, lines...)
		m, err := t.MeasureText(o.shownIn(f, t), Style{Size: size, Language: o.Language})
		if err != nil {
			return nil, nil, err
		}
		p.words(d, p.mono, number(size), inside, y, 11, sizes, c.Quiet)
		about := fmt.Sprintf("%.0f px", m.Advance)
		p.words(d, p.mono, about, wide-inside-widths+unit, y, 11, widths, c.Quiet)
		y += math.Ceil(t.leading(s)*float64(max(len(lines), 1)-1) + size*0.3)
	}
	d.H = y + inside
	return d, all, nil
}

// samples sets the text at each size. Where faces stand in columns it is cut to one line, and all
// baselines of a row are at one height.
func (p *Pen) samples(d *Drawing, f Face, o Options, wide float64, columns int, y *float64) (all []shape.Line, undrawn string, err error) {
	t, err := f.load(o.page)
	if p.own = t; err != nil {
		return nil, "", err
	}
	for i, size := range o.Sizes {
		s := Style{Size: size, Colour: p.Ink, Lacking: p.Alarm, Width: wide, Language: o.Language}
		if i > 0 {
			*y += unit
		}
		*y += math.Ceil(size)
		if columns > 1 {
			s.Most = 1
		}
		lines, err := d.Set(t, o.shownIn(f, t), 0, *y, s)
		if err != nil {
			return nil, "", err
		}
		all = append(all, lines...)
		*y += math.Ceil(t.leading(s)*float64(len(lines)-1) + size*0.25)
	}
	return all, t.undrawn(), nil
}

// listed names characters, the first of many: by themselves where the page's own type has them.
func (p *Pen) listed(chars []rune) string {
	const most = 16
	var words []string
	for i, r := range chars {
		if i == most {
			return strings.Join(words, "  ") + fmt.Sprintf(" and %d more", len(chars)-most)
		}
		word := fmt.Sprintf("U+%04X", r)
		if p.text.Paths.Index(r) != 0 {
			word = string(r)
		}
		words = append(words, word)
	}
	return strings.Join(words, "  ")
}

// Sample is one face's text alone, cut to its ink.
func Sample(f Face, o Options) (*Drawing, error) {
	t, err := f.load(nil)
	if err != nil {
		return nil, err
	}
	d := &Drawing{W: o.Width, Ground: o.Ground, Title: nameOf(f.Face)}
	y := 0.0
	for _, size := range o.Sizes {
		y += size * 1.2
		s := Style{Size: size, Colour: o.Ink, Lacking: o.Alarm, Width: o.Width, Language: o.Language}
		lines, err := d.Set(t, o.shownIn(f, t), 0, y, s)
		if err != nil {
			return nil, err
		}
		y += t.leading(s) * float64(len(lines)-1)
	}
	d.H = y + o.Sizes[len(o.Sizes)-1]
	d.Cut()
	return d, nil
}
