// Package view is how answers look on a terminal: each is a method of a Page, which knows its width and its colours. It
// decides nothing; what it shows are the values that also become documents.
package view

import (
	"bufio"
	"fmt"
	"io"
	"strings"

	"notaria/internal/language"
	"notaria/internal/terminal"
)

// A Page is where a command's answer goes.
type Page struct {
	Out    *terminal.Output // over Lines
	Lines  *bufio.Writer    // over Screen
	Screen io.Writer        // what the answer goes to
	Err    *terminal.Output // what errors and notes go to
	Paint  terminal.Painter
}

// Short names for what every answer says things with.
var (
	cell   = terminal.Cell
	line   = terminal.Line
	span   = terminal.Span
	plural = language.Plural
)

// Wrapped prints a text behind a head, broken between words where a terminal ends, the
// lines behind the first further in. What goes elsewhere is not broken.
func (a *Page) Wrapped(head, text string) {
	a.WrappedIn(func(s string) string { return s }, head, text)
}

// WrappedIn is Wrapped with the text painted.
func (a *Page) WrappedIn(paint func(string) string, head, text string) {
	width := span(terminal.Unpainted(head))
	hang := max(width, 4)
	for terminal.IsTerminal(a.Screen) {
		room := terminal.Columns(a.Screen) - width
		if span(text) <= room {
			break
		}
		at := strings.LastIndexByte(text[:min(len(text), room+1)], ' ')
		if at <= 0 {
			break
		}
		a.Say("%s%s", head, paint(text[:at]))
		head, width, text = strings.Repeat(" ", hang), hang, text[at+1:]
	}
	a.Say("%s%s", head, paint(text))
}

func (a *Page) Table(t terminal.Table) {
	if terminal.Narrow(a.Screen) > 0 && t.Wide(terminal.Columns(a.Screen)) {
		for _, l := range t.Stacked() {
			a.Say("%s", l)
		}
		return
	}
	head, rows := t.Lines(terminal.Columns(a.Screen))
	a.Say("%s", a.Paint.Faint(head))
	for _, r := range rows {
		a.Say("%s", r)
	}
}

// Note tells people something beside the answer.
func (a *Page) Note(format string, args ...any) {
	fmt.Fprintln(a.Err, "notaria: "+line(fmt.Sprintf(format, args...)))
}

func (a *Page) Say(format string, args ...any) { fmt.Fprintf(a.Out, format+"\n", args...) }
