package view

import (
	"fmt"
	"strconv"
	"strings"
	"unicode"

	"notaria/internal/bitmap"
	"notaria/internal/document"
	"notaria/internal/pixel"
	"notaria/internal/registry"
)

func number(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }

// Pixels prints bitmap fonts, one after the other.
func (a *Page) Pixels(fonts []bitmap.Font, d document.Pixels, opt bitmap.Options) {
	for i, o := range fonts {
		if i > 0 {
			a.Say("")
		}
		a.pixel(o, d.Fonts[i], opt)
	}
	for _, file := range d.Files {
		a.Say("  %-9s %s", "written", cell(file))
	}
}

func (a *Page) pixel(o bitmap.Font, d document.Pixel, opt bitmap.Options) {
	f := o.Font
	a.Say("%s  %s pixels per em, %s a pixel, %s", a.Paint.Strong(cell(f.Name)), number(f.Em), plural(f.Depth, "bit"), plural(len(f.Glyphs), "glyph"))
	for _, h := range []struct {
		what string
		n    int
	}{{"digits", d.Heights.Digits}, {"capitals", d.Heights.Capitals}, {"x-height", d.Heights.XHeight}, {"line", d.Heights.Line}} {
		if h.n > 0 {
			a.Say("  %-9s %s high", h.what, plural(h.n, "pixel"))
		}
	}
	if n := len(d.Cleanest); n > 1 {
		var near []string
		for _, c := range d.Cleanest {
			near = append(near, strconv.Itoa(c.Height))
		}
		a.Say("  %-9s %s: near this size, these fit whole pixels best without hinting", "cleanest", strings.Join(near, ", "))
	}
	a.Say("  %-9s %s of pixels; the heaviest is %s with %d", "bytes", strconv.Itoa(d.Bytes), d.Heaviest.Character, d.Heaviest.Bytes)
	var forms []string
	for _, c := range d.Flash {
		forms = append(forms, fmt.Sprintf("%s %d", c.Form, c.Bytes))
	}
	if len(forms) > 0 {
		a.Say("  %-9s %s", "in flash", strings.Join(forms, ", "))
	}
	for _, s := range d.Savings {
		a.Say("  %-9s %s: %d bytes of pixels less", "saves", s.What, s.Bytes)
	}
	if len(d.Lacks) > 0 {
		shown := "it is not drawn"
		if missing, _ := registry.ParseMissing(opt.Missing); missing != 0 {
			shown = "drawn as --missing says"
		} else if len(d.Lacks) > 1 {
			shown = "they are not drawn"
		}
		a.Say("  %s the face does not have %s; %s", a.Paint.Warn("careful:"), strings.Join(d.Lacks, ", "), shown)
	}
	for _, m := range d.Measured {
		a.extent(m)
	}
	if opt.Show == "" {
		return
	}
	wide, all := f.Width(opt.Show)
	a.Say("")
	fmt.Fprint(a.Out, Shown(opt, f.Text(opt.Show)))
	a.Say("%q is %s pixels wide", opt.Show, number(float64(wide)/pixel.Sub))
	if !all {
		a.Say("%s characters of it are not in the font: add them to --characters", a.Paint.Warn("careful:"))
	}
	a.Unshaped(opt.Show)
}

// shaped are scripts whose letters join, stack or change their order; those that run leftward are among them.
var shaped = []*unicode.RangeTable{unicode.Arabic, unicode.Hebrew, unicode.Syriac, unicode.Thaana, unicode.Nko, unicode.Mongolian, unicode.Devanagari, unicode.Bengali, unicode.Gurmukhi, unicode.Gujarati,
	unicode.Oriya, unicode.Tamil, unicode.Telugu, unicode.Kannada, unicode.Malayalam, unicode.Sinhala, unicode.Tibetan, unicode.Myanmar, unicode.Khmer}

// Unshaped says of texts that they are not shaped, where that would be seen: a display draws character after character.
func (a *Page) Unshaped(texts ...string) {
	if strings.ContainsFunc(strings.Join(texts, ""), func(r rune) bool { return unicode.In(r, shaped...) }) {
		a.Say("%s the text is not shaped: its letters would join, stack or run leftward, and a display puts them beside each other as here", a.Paint.Warn("careful:"))
	}
}

// extent says where the ink of texts is.
func (a *Page) extent(m document.Measured) {
	if m.Texts > 1 {
		a.Say("  %-9s %s to clear: %dx%d pixels at %d, %d from the pen on the baseline (%s)", m.Of, a.Paint.Strong("rectangle"), m.Width, m.Height, m.X, m.Y, plural(m.Texts, "value"))
		if m.Least == m.Advance {
			a.Say("  %-9s all move the pen %s pixels", "", number(m.Advance))
		} else {
			a.Say("  %-9s they move the pen %s to %s pixels; the widest is %s", "", number(m.Least), number(m.Advance), m.Widest)
		}
	} else {
		a.Say("  %-9s ink of %dx%d pixels at %d, %d from the pen on the baseline; it moves the pen %s pixels", m.Of, m.Width, m.Height, m.X, m.Y, number(m.Advance))
	}
	if m.Lacks != "" {
		a.Say("  %s the font does not have %s", a.Paint.Warn("careful:"), m.Lacks)
	}
}

// Shown is a picture as the terminal shows it.
func Shown(opt bitmap.Options, p pixel.Picture) string {
	if opt.Dots {
		return p.Braille()
	}
	return p.Blocks()
}
