package cli

import (
	"strings"

	"notaria/internal/language"
	"notaria/internal/terminal"
)

// Short names for what every command says things with.
var (
	cell       = terminal.Cell
	line       = terminal.Line
	span       = terminal.Span
	isTerminal = terminal.IsTerminal
	columns    = terminal.Columns
)

// wrapped prints a text behind a head, broken between words where a terminal ends, the
// lines behind the first further in. What goes elsewhere is not broken.
func (a *app) wrapped(head, text string) { a.wrappedIn(func(s string) string { return s }, head, text) }

// wrappedIn is wrapped with the text painted.
func (a *app) wrappedIn(paint func(string) string, head, text string) {
	hang := max(span(head), 4)
	for isTerminal(a.screen) {
		room := columns(a.screen) - span(head)
		if span(text) <= room {
			break
		}
		at := strings.LastIndexByte(text[:min(len(text), room+1)], ' ')
		if at <= 0 {
			break
		}
		a.say("%s%s", head, paint(text[:at]))
		head, text = strings.Repeat(" ", hang), text[at+1:]
	}
	a.say("%s%s", head, paint(text))
}

func (a *app) table(t terminal.Table) {
	if terminal.Narrow(a.screen) > 0 && t.Wide(columns(a.screen)) {
		for _, l := range t.Stacked() {
			a.say("%s", l)
		}
		return
	}
	head, rows := t.Lines(columns(a.screen))
	a.say("%s", a.paint.Faint(head))
	for _, r := range rows {
		a.say("%s", r)
	}
}

// plural counts things.
func plural(n int, one string) string { return language.Plural(n, one) }
