package cli

import (
	"bytes"
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"notaria/internal/asked"
	"notaria/internal/audit"
	"notaria/internal/choice"
	"notaria/internal/document"
	"notaria/internal/fault"
	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/terminal"
)

// enrolFromApp takes the faces into the project that the code asks services and packages for, where their files are on this
// disk, and lists the others.
func (a *app) enrolFromApp(ctx context.Context, choice choice.Faces, dry bool) error {
	c, err := a.checkProject(ctx, true, true, nil)
	if err != nil {
		return err
	}
	asks := fetched(c.p, c.report.Findings)
	c.p.Close()
	p, err := a.open(ctx, dry)
	if err != nil {
		return err
	}
	defer p.Close()
	bar := terminal.NewProgress(a.alarm, "looking for fonts")
	found, err := asked.Find(ctx, p, asks)
	bar.End()
	if err != nil {
		return err
	}
	if len(found.Wishes) == 0 {
		return &codeError{exitUse, &fault.Error{File: p.Root, Expected: "code that fetches fonts, or takes them out of packages", Found: "none", Cure: "name the files: notaria enrol PATH"}}
	}
	missing := slices.ContainsFunc(found.Wishes, func(w asked.Wish) bool { return w.Found == "" })
	e := &notary.Enrolment{Set: p.Nothing()}
	if len(found.Haul.Faces) > 0 {
		if e, err = p.Enrol(ctx, found.Haul, choice); err != nil {
			return err
		}
		if !dry {
			if err := p.Apply(ctx, e.Set); err != nil {
				return err
			}
		}
	}
	if a.json {
		doc := document.NewEnrol(p, e, nil, nil)
		doc.Asked = found.Wishes
		err = a.printJSON(doc)
	} else {
		if len(found.Haul.Faces) > 0 {
			a.printEnrolment(p, e, found.Haul, choice, dry)
			a.Say("")
		}
		a.printWishes(found.Wishes)
	}
	if err == nil && (missing || dry && !e.Set.Empty()) {
		return findings
	}
	return err
}

// fetched are the faces that findings say are fetched when the app runs.
func fetched(p *notary.Project, found []audit.Finding) []platform.Ask {
	var list []platform.Ask
	for _, f := range found {
		if f.Rule != audit.FromNetwork {
			continue
		}
		raw, err := p.Dir.Read(f.File, platform.MostSource)
		if err != nil {
			continue
		}
		at := 0
		for range f.Line - 1 {
			at += bytes.IndexByte(raw[at:], '\n') + 1
		}
		line, _, _ := bytes.Cut(raw[at:], []byte("\n"))
		from, to := min(max(f.Column-1, 0), len(line)), min(max(f.EndColumn-1, 0), len(line))
		asks := platform.AsksOf(string(line[from:max(from, to)]), string(raw[at+from:]))
		if len(asks) == 0 {
			asks = []platform.Ask{{}}
		}
		for _, k := range asks {
			k.File, k.Line = f.File, f.Line
			if !slices.Contains(list, k) {
				list = append(list, k)
			}
		}
	}
	return list
}

// printWishes says where each face that code asks for was found, those of one family and place together.
func (a *app) printWishes(wishes []asked.Wish) {
	type place struct {
		family, file string
		line         int
		found        bool
	}
	var order []place
	styles := map[place][]string{}
	parts := false
	for _, w := range wishes {
		at := place{w.Family, w.File, w.Line, w.Found != ""}
		if styles[at] == nil {
			order = append(order, at)
		}
		if s := style(w.Ask); !slices.Contains(styles[at], s) {
			styles[at] = append(styles[at], s)
		}
		parts = parts || w.Part
	}
	missing := 0
	for _, at := range order {
		word := a.Paint.Good("on disk  ")
		if !at.found {
			word = a.Paint.Bad("not here ")
			missing++
		}
		name := at.family
		if name == "" {
			name = "a family that the line does not say"
		}
		a.Say("%s %s %s  %s", word, cell(name), strings.Join(styles[at], ", "), a.Paint.Faint(fmt.Sprintf("%s:%d", cell(at.file), at.line)))
	}
	if parts {
		a.Say("%s   a file that was found holds a part of its font's characters: take the whole font from its maker where the app needs more", a.Paint.Warn("careful"))
	}
	if missing > 0 {
		a.Say("\nDownload what is not here from its maker or service, with its licence, then: notaria enrol PATH")
	}
}

// style is a weight and a slant as people write them.
func style(k platform.Ask) string {
	s := "any weight"
	if k.Weight > 0 {
		s = strconv.Itoa(k.Weight)
	}
	if k.To > 0 {
		s += " to " + strconv.Itoa(k.To)
	}
	if k.Italic {
		s += " italic"
	}
	return s
}
