package view

import (
	"fmt"
	"strings"

	"notaria/internal/weigh"
)

// Weight prints what fonts cost, an app after the other.
func (a *Page) Weight(w *weigh.Weight) {
	for i, app := range w.Apps {
		if i > 0 {
			a.Say("")
		}
		budget := ""
		switch {
		case app.Budget > 0 && app.Bytes > app.Budget:
			budget = a.Paint.Warn(", more than its budget of " + kilo(app.Budget))
		case app.Budget > 0:
			budget = ", of a budget of " + kilo(app.Budget)
		}
		a.Say("%s  %s, %s, packed %s%s", a.Paint.Strong(cell(app.Title)), plural(len(app.Fonts), "font"), kilo(app.Bytes), kilo(app.Packed), budget)
		widest := int64(1)
		for _, f := range app.Fonts {
			widest = max(widest, f.Bytes)
		}
		a.Say("%s", a.Paint.Faint(fmt.Sprintf("  %9s  %9s", "placed", "packed")))
		for _, f := range app.Fonts {
			a.Say("  %9s  %9s  %s  %s", kilo(f.Bytes), kilo(f.Packed), a.Paint.Faint(bar(f.Bytes, widest)), a.Paint.Place(cell(f.File)))
			a.Wrapped(strings.Repeat(" ", 36), shares(f))
		}
		for _, s := range app.Steps {
			a.Wrapped(fmt.Sprintf("  %9s  %s  ", kilo(s.Saves), a.Paint.Good("less by  ")), cell(s.What)+": "+cell(s.How)+" ("+cell(strings.Join(s.Faces, ", "))+")")
		}
	}
}

// kilo is a number of bytes as people read it: 1 kB is 1,000 bytes.
func kilo(n int64) string {
	if n < 10_000 {
		return fmt.Sprintf("%.1f kB", float64(n)/1000)
	}
	return fmt.Sprintf("%d kB", (n+500)/1000)
}

// bar is a bar of at most ten signs.
func bar(n, widest int64) string {
	full := int((10*n + widest/2) / widest)
	return strings.Repeat("█", full) + strings.Repeat(" ", 10-full)
}

// shares are the parts of a font that take more than a hundredth of it.
func shares(f weigh.Font) string {
	total := int64(0)
	for _, p := range f.Parts {
		total += p.Bytes
	}
	var list []string
	for _, p := range f.Parts {
		if 100*p.Bytes >= total {
			list = append(list, fmt.Sprintf("%s %d %%", p.What, (100*p.Bytes+total/2)/max(1, total)))
		}
	}
	return strings.Join(list, ", ")
}
