package view

import (
	"fmt"
	"strings"

	"notaria/internal/notary"
	"notaria/internal/subject"
)

// mostTexts is how many texts are listed that become wider or narrower.
const mostTexts = 3

// Edition prints what a new edition of a face changes.
func (a *Page) Edition(e subject.Edition, dry bool) {
	word := a.Paint.Good("replaced")
	if dry {
		word = "would be"
	}
	versions := ""
	if e.Old != e.New && e.Old != "" {
		versions = fmt.Sprintf("%s, after %s", cell(e.New), cell(e.Old))
	} else if e.New != "" {
		versions = cell(e.New)
	}
	a.Say("%s  %-28s %s", word, cell(e.Name), versions)
	for _, m := range e.Metrics {
		a.Say("  %s  %d thousandths of an em, after %d: lines move", a.Paint.Warn(m.Name), m.New, m.Old)
	}
	a.characters("gained", e.Gained, e.More)
	a.characters(a.Paint.Bad("lost"), e.Lost, e.Less)
	a.grown(e.Texts)
}

func (a *Page) characters(word string, list []string, more int) {
	if len(list) == 0 {
		return
	}
	text := cell(strings.Join(list, " "))
	if more > 0 {
		text += fmt.Sprintf(" and %d more", more)
	}
	a.Wrapped("  "+word+"  ", text)
}

// grown lists the texts whose width changes most.
func (a *Page) grown(texts []subject.Change) {
	for i, t := range texts {
		if i == mostTexts {
			a.Say("  and %s more that change: notaria compare lists them", plural(len(texts)-mostTexts, "text"))
			break
		}
		a.Say("  %+g %%  %s", t.Growth, cell(t.Text))
	}
}

// Pair prints a face with the one that takes its place.
func (a *Page) Pair(p notary.Pair, c subject.Comparison) {
	off := ""
	if p.Off != "" {
		off = a.Paint.Warn("  (" + p.Off + ")")
	}
	a.Say("%s → %s  %s%s", cell(p.From.ID()), a.Paint.Strong(cell(p.To.ID())), a.Paint.Faint("for "+strings.Join(p.Roles, ", ")), off)
	a.characters(a.Paint.Bad("missing"), c.Lost, 0)
	a.grown(c.Texts)
}

// Carried sums up what a change of faces does to the apps.
func (v Registration) Carried(dry bool) {
	v.Say("")
	if dry {
		v.counts("would change; nothing was changed")
		v.refused()
		return
	}
	apps := 0
	for _, s := range v.Plan.Sites {
		if touches(s, v.Set) {
			apps++
		}
	}
	v.counts("changed, in " + plural(apps, "app"))
	v.next()
	v.refused()
	v.Say("\nThen: notaria check")
}
