package view

import (
	"fmt"
	"strings"

	"notaria/internal/audit"
)

func (a *Page) Trace(t *audit.Trace) {
	meaning := "no face of this project"
	if len(t.Faces) > 0 {
		meaning = "the face " + strings.Join(t.Faces, ", ")
		if len(t.Faces) > 1 {
			meaning = "the faces " + strings.Join(t.Faces, ", ")
		}
	}
	if len(t.Roles) > 0 {
		meaning += "; for " + strings.Join(t.Roles, ", ")
	}
	a.Say("%s  %s", a.Paint.Strong(cell(t.Name)), cell(meaning))
	if len(t.Names) > 0 {
		a.Wrapped("also looked for: ", line(strings.Join(t.Names, ", ")))
	}
	if len(t.Places) == 0 && t.Generated == 0 {
		a.Say("\nIt appears nowhere in this project.")
		return
	}
	a.Say("")
	for _, p := range t.Places {
		at := p.File
		if p.Line > 0 {
			at = fmt.Sprintf("%s:%d", at, p.Line)
		}
		if p.Column > 0 {
			at = fmt.Sprintf("%s:%d", at, p.Column)
		}
		means := p.Means
		switch {
		case strings.HasPrefix(means, "nothing"), means == "no file", strings.HasSuffix(means, "not there"):
			means = a.Paint.Bad(line(means))
		default:
			means = a.Paint.Faint(line(means))
		}
		a.Say("%-10s %s  %s", p.Kind, a.Paint.Place(cell(at)), cell(p.Text))
		if p.Kind != audit.IsMention {
			a.Wrapped("           ", means)
		}
	}
	if t.Generated > 0 {
		a.Say("%s", a.Paint.Faint(fmt.Sprintf("and %s in code that Notaria generated, which follows notaria.toml", plural(t.Generated, "line"))))
	}
	if t.More > 0 {
		a.Say("and %d more", t.More)
	}
}
