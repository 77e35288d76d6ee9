package web

import (
	"bytes"
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/source"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

// Other forms of the roles, beside the style sheet.
const (
	optAlso    = "also"
	formTheme  = "theme"  // entries for utility classes, as CSS
	formModule = "module" // a module for styles that are written in code
	themeFile  = "app-type.theme.css"
	moduleFile = "app-type.roles"
)

var forms = []string{formTheme, formModule}

// utilities is a style sheet that takes in what makes utility classes out of @theme.
var utilities = lazy.Regexp(`@import\s+["']tailwindcss(?:/[\w./-]+)?["']`)

// themed is the style sheet that takes utility classes in, nil if none does.
func (s *site) themed() *hook {
	for _, f := range s.sheets() {
		raw, ok := s.Tree.Glance(f, platform.MostSource)
		if !ok || language.Of(f) != language.CSS || path.Base(f) == themeFile || !utilities.Match(language.CSS.Blank(raw)) {
			continue
		}
		return &hook{file: f, place: source.First(), format: `@import "%s";`, dotted: true}
	}
	return nil
}

// addForms plans what is wanted besides the style sheet.
func (s *site) addForms(p *platform.Plan, data code) error {
	want := s.opt.List(optAlso)
	if slices.Contains(want, formTheme) {
		at := path.Join(s.sheet, themeFile)
		text, err := platform.Render(templates, themeFile+".tmpl", data)
		if err != nil {
			return err
		}
		p.Code = append(p.Code, platform.Code(at, text))
		if h := s.themed(); h != nil {
			p.Entries = append(p.Entries, edit.Entry{File: h.file, Syntax: source.Lines{}.Name(), Place: h.place, Value: strings.Replace(h.format, "%s", h.to(at), 1)})
		} else {
			p.Next += "; take " + at + " in behind the style sheet that makes utility classes: @import"
		}
		for _, r := range data.Roles {
			p.Words = append(p.Words, "font-"+r.Name, "text-"+r.Name)
		}
	}
	if slices.Contains(want, formModule) {
		data.Typed = s.typed()
		text, err := platform.Render(templates, "app-type.module.tmpl", data)
		if err != nil {
			return err
		}
		ending := ".js"
		if data.Typed {
			ending = ".ts"
		}
		p.Code = append(p.Code, platform.Code(path.Join(s.sheet, moduleFile+ending), text))
		p.Words = append(p.Words, moduleFile)
		if at := s.ownUtilities(); at != "" {
			p.Next += fmt.Sprintf("; take fontFamily and fontSize of %s into theme.extend of %s, and classes are called after roles: font-%s, text-%s", path.Join(s.sheet, moduleFile), at, data.Roles[0].Name, data.Roles[0].Name)
		}
	}
	return nil
}

// ownUtilities are the settings of utility classes in a script, which does not take the module in yet; "" where there are none.
func (s *site) ownUtilities() string {
	for _, ending := range []string{"js", "ts", "cjs", "mjs"} {
		at := "tailwind.config." + ending
		if text := s.source(at); text != nil && !bytes.Contains(text, []byte(moduleFile)) {
			return path.Join(s.Dir, at)
		}
	}
	return ""
}

// typed says whether the site is written in TypeScript.
func (s *site) typed() bool { return s.has(path.Join(s.Dir, "tsconfig.json")) }

// Note is what a role is, in a comment of a script.
func (l line) Note() string { return language.TypeScript.Comment(l.Written) + "." }

// Key is a role's name as the key of an object.
func (l line) Key() string {
	if strings.Contains(l.Name, "-") {
		return language.TypeScript.Literal(l.Name)
	}
	return l.Name
}

// FamiliesText and SizeText are what CSS has of a role, as strings of a script.
func (l line) FamiliesText() string { return language.TypeScript.Literal(l.Families) }

// SizeText is the size with its unit.
func (l line) SizeText() string { return language.TypeScript.Literal(l.CSSSize) }

// VariationsText are the settings of axes.
func (l line) VariationsText() string { return language.TypeScript.Literal(l.Variations) }
