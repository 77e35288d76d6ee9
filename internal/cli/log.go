package cli

import (
	"context"
	"fmt"

	"notaria/internal/audit"
	"notaria/internal/document"
	"notaria/internal/fault"
	"notaria/internal/platform/all"
)

// mostLog is how large a log may be, in bytes.
const mostLog = 64 << 20

// readLog explains what a log says of faces; "-" is the standard input.
func (a *app) readLog(ctx context.Context, name string) error {
	log, err := a.input(name, "a log", mostLog)
	if err != nil {
		return err
	}
	seen := audit.ReadLog(log, all.Platforms)
	if len(seen) == 0 {
		return &codeError{exitUse, &fault.Error{File: name, Expected: "a log with lines of AppType, such as AppType.report() prints, or with a platform's own words about a font", Found: "none", Cure: "print AppType.report() when the app starts, build the app again, and take a new log"}}
	}
	c, err := a.checkProject(ctx, true, true, nil)
	if err != nil {
		return err
	}
	defer c.p.Close()
	if err := audit.Explain(ctx, c.p, seen, c.shown); err != nil {
		return err
	}
	missing := false
	for _, s := range seen {
		missing = missing || !s.There
	}
	if a.json {
		err = a.printJSON(document.NewLog(c.p, seen))
	} else {
		a.printSightings(seen)
	}
	if err == nil && missing {
		return findings
	}
	return err
}

func (a *app) printSightings(seen []audit.Sighting) {
	for _, s := range seen {
		name := s.Face
		switch {
		case s.Role != "":
			name = fmt.Sprintf("the role %s (%s)", s.Role, s.Face)
		case s.Asked != "" && s.Face == "":
			name = s.Asked
		case s.Asked != "":
			name = fmt.Sprintf("%s, asked for as %s", s.Face, s.Asked)
		}
		if s.There {
			a.Say("%s  %s", a.Paint.Good("there  "), cell(name))
			continue
		}
		a.Say("%s  %s  %s", a.Paint.Bad("missing"), a.Paint.Strong(cell(name)), a.Paint.Faint("in "+plural(s.Lines, "line")))
		for _, f := range s.Reasons {
			at := f.File
			if f.Line > 0 {
				at = fmt.Sprintf("%s:%d", at, f.Line)
			}
			a.Say("  %s  %s", a.Paint.Place(cell(at)), f.Rule)
			a.Wrapped("    ", line(f.Message))
			a.Wrapped("    cure: ", line(f.Cure))
		}
		a.Wrapped("  ", line(s.Advice))
	}
}
