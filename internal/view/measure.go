package view

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"

	"notaria/internal/subject"
	"notaria/internal/terminal"
)

// px is a length in pixels, to hundredths.
func px(v float64) string { return strconv.FormatFloat(math.Round(v*100)/100+0, 'f', -1, 64) }

// Named is a string of an app as people look for it: its language and its key.
func Named(language, key string) string {
	key, _, more := strings.Cut(key, "\n")
	if more || len([]rune(key)) > 40 {
		key = string([]rune(key)[:min(40, len([]rune(key)))]) + "…"
	}
	return strings.TrimSpace(language + " " + key)
}

// broken is a text as it stands on its lines.
func broken(text string, lines []string) string {
	if len(lines) == 0 {
		return cell(text)
	}
	cells := make([]string, len(lines))
	for i, l := range lines {
		cells[i] = cell(l)
	}
	return strings.Join(cells, " ⏎ ")
}

// Measures prints how much room texts take; what does not fit stands first, where the texts are an app's own.
func (a *Page) Measures(s subject.One, m subject.Measures, room subject.Room) {
	a.Say("%s  %s", a.Paint.Strong(cell(s.Name)), a.Paint.Faint(cell(s.Face.Full)))
	list := slices.Clone(m.Measures)
	keyed := slices.ContainsFunc(list, func(x subject.Measured) bool { return x.Key != "" })
	sized := slices.ContainsFunc(list, func(x subject.Measured) bool { return x.Reader != "" })
	if keyed {
		slices.SortStableFunc(list, func(x, y subject.Measured) int { return rank(x) - rank(y) })
	}
	t := terminal.Table{Head: []string{"px", "advance", "height", "lines", "ink (left, top, right, bottom)", "text"}}
	if keyed {
		t.Head = []string{"px", "advance", "height", "lines", "string", "text"}
	}
	bad := map[string]int{}
	for _, x := range list {
		size := px(x.Size)
		if sized && x.Reader != "" {
			size += " " + x.Reader
		}
		fifth := "none"
		switch {
		case keyed:
			fifth = cell(Named(x.Language, x.Key))
		case x.Ink != nil:
			fifth = fmt.Sprintf("%d, %d, %d, %d", x.Ink.Left, x.Ink.Top, x.Ink.Right, x.Ink.Bottom)
		}
		if !x.Fits() {
			bad[x.Language]++
		}
		t.Rows = append(t.Rows, []string{size, px(x.Advance), px(x.Height), strconv.Itoa(x.Lines), fifth, broken(x.Text, x.Broken) + a.misfit(x, room, m.Lines)})
	}
	a.Table(t)
	a.ruledLines(s, m)
	if keyed && len(bad) > 0 {
		var parts []string
		sum := 0
		for _, l := range slices.Sorted(maps.Keys(bad)) {
			sum += bad[l]
			if l != "" {
				parts = append(parts, fmt.Sprintf("%s %d", l, bad[l]))
			}
		}
		tail := ""
		if len(parts) > 0 {
			tail = ": " + strings.Join(parts, ", ")
		}
		a.Say("%s", a.Paint.Bad(fmt.Sprintf("%d of %s do not fit%s", sum, plural(len(list), "measure"), tail)))
	}
}

func rank(x subject.Measured) int {
	if x.Fits() {
		return 1
	}
	return 0
}

// misfit says why a text does not fit, or what of it is to be looked at.
func (a *Page) misfit(x subject.Measured, room subject.Room, lines []subject.RuleLine) string {
	out := ""
	if x.Wider {
		out += "  " + a.Paint.Bad(px(x.Advance-room.Width)+" px too wide")
	}
	if x.TooHigh > 0 {
		out += "  " + a.Paint.Bad(px(x.TooHigh)+" px too high")
	}
	if len(x.Missing) > 0 {
		out += "  " + a.Paint.Bad("lacks "+cell(strings.Join(x.Missing, " ")))
	}
	for _, c := range merged(x.Cut, lines) {
		out += "  " + a.Paint.Warn(c)
	}
	if x.Syllables {
		out += "  " + a.Paint.Faint("broken by syllables: words of this script need a dictionary")
	}
	return out
}

// merged says which ink stands out of lines, platforms with the same lines together.
func merged(list []subject.Cut, lines []subject.RuleLine) (out []string) {
	for i, c := range list {
		if slices.ContainsFunc(list[:i], func(o subject.Cut) bool { return o.Above == c.Above && o.Below == c.Below }) {
			continue
		}
		var on, where []string
		for _, o := range list {
			if o.Above == c.Above && o.Below == c.Below {
				on = append(on, titled(o.On, lines))
			}
		}
		if c.Above > 0 {
			where = append(where, px(c.Above)+" px above")
		}
		if c.Below > 0 {
			where = append(where, px(c.Below)+" px below")
		}
		out = append(out, "ink stands "+strings.Join(where, " and ")+" the line: "+strings.Join(on, ", "))
	}
	return out
}

// titled is what a rule is called.
func titled(on string, lines []subject.RuleLine) string {
	for _, l := range lines {
		if l.On == on {
			return l.Title
		}
	}
	return on
}

// ruledLines tells platforms apart that make lines of another height.
func (a *Page) ruledLines(s subject.One, m subject.Measures) {
	if m.Fixed {
		a.Say("%s", a.Paint.Faint("scale = false: the role has one size for all readers"))
	}
	if s.Style.Leading > 0 || len(m.Lines) == 0 {
		return
	}
	if subject.Alike(m.Lines) {
		return
	}
	a.Say("%s", a.Paint.Warn("no line height is given, and platforms make one of their own:"))
	for _, l := range m.Lines {
		a.Say("  %7s px  %s", px(l.Height), l.Title)
	}
}

func needs(n int) string {
	if n == 1 {
		return "1 text needs"
	}
	return plural(n, "text") + " need"
}

// outgrown says in which way a text needs more room.
func outgrown(b *[2]subject.Block, width, height float64) string {
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
	if height > 0 && b[1].Height > height && b[0].Height <= height {
		list = append(list, px(b[1].Height-height)+" px too high")
	}
	return strings.Join(list, ", ")
}

// Comparisons prints what would change, one candidate after the other; most is how many texts are listed of each, 0 for all.
func (a *Page) Comparisons(list []subject.Comparison, most int, files []string) {
	for i, d := range list {
		if i > 0 {
			a.Say("")
		}
		a.compared(d, most)
	}
	for _, f := range files {
		a.Say("%s %s", a.Paint.Good("wrote"), a.Paint.Place(cell(f)))
	}
}

func (a *Page) compared(d subject.Comparison, most int) {
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
	for _, l := range d.Lines {
		if oneLine(d.Lines) {
			add("line", px(d.Lines[len(d.Lines)-1].A)+" px", px(d.Lines[len(d.Lines)-1].B)+" px")
			break
		}
		add("line, "+l.Title, px(l.A)+" px", px(l.B)+" px")
	}
	add("characters", strconv.Itoa(d.A.Characters), strconv.Itoa(d.B.Characters))
	add("bytes", strconv.Itoa(d.A.Bytes), strconv.Itoa(d.B.Bytes))
	a.Table(t)
	a.Say("")
	a.changes(d, most)
	if d.NoLonger > 0 {
		at := ""
		if d.Width > 0 {
			at = " where lines are broken at " + px(d.Width) + " pixels"
		}
		a.Say("\n%s", a.Paint.Bad(fmt.Sprintf("%s more room than before%s", needs(d.NoLonger), at)))
	}
	if len(d.Lost) > 0 {
		a.Say("\n%s %s", a.Paint.Bad(cell(d.B.Name)+" lacks"), cell(strings.Join(d.Lost, " ")))
	}
	if n := len(slices.DeleteFunc(slices.Clone(d.Lines), func(l subject.LineChange) bool { return !l.Changes })); n > 0 {
		a.Say("\n%s", a.Paint.Warn("lines change their height: give the role a line-height to keep them"))
	}
}

// oneLine says whether all platforms make lines alike, but for what browsers round.
func oneLine(list []subject.LineChange) bool {
	return !slices.ContainsFunc(list, func(l subject.LineChange) bool {
		return math.Abs(l.A-list[0].A) >= 1 || math.Abs(l.B-list[0].B) >= 1
	})
}

// changes lists the texts of a comparison.
func (a *Page) changes(d subject.Comparison, most int) {
	keyed := slices.ContainsFunc(d.Texts, func(x subject.Change) bool { return x.Key != "" })
	list := terminal.Table{Head: []string{cell(d.A.Name), cell(d.B.Name), "change", "text"}}
	if keyed {
		list.Head = []string{cell(d.A.Name), cell(d.B.Name), "change", "string", "text"}
	}
	for i, x := range d.Texts {
		if most > 0 && i == most {
			break
		}
		text := cell(x.Text)
		if x.NoLonger {
			text += "  " + a.Paint.Bad(outgrown(x.Broken, d.Width, d.Height))
		}
		row := []string{px(x.A), px(x.B), fmt.Sprintf("%+g %%", x.Growth)}
		if keyed {
			row = append(row, cell(Named(x.Language, x.Key)))
		}
		list.Rows = append(list.Rows, append(row, text))
	}
	a.Table(list)
	if most > 0 && len(d.Texts) > most {
		a.Say("and %d more: --most 0 lists them all", len(d.Texts)-most)
	}
}
