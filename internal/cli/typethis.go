package cli

import (
	"os"
	"path/filepath"
	"strings"

	"notaria/internal/face"
	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/platform/all"
	"notaria/internal/registry"
	"notaria/internal/terminal"
)

// typedOn are the platforms of which names shows what to type: those that --for names,
// else those that the project around has apps for, else all.
func (a *app) typedOn(names []string) ([]platform.Platform, error) {
	var out []platform.Platform
	for _, n := range names {
		t, ok := all.Named(n)
		if !ok {
			return nil, wrongUse("--for: expected a target, found %q; see: notaria targets", n)
		}
		out = append(out, t)
	}
	if len(out) > 0 || a.json {
		return out, nil
	}
	if out = a.surrounding(); len(out) == 0 {
		out = all.Platforms
	}
	return out, nil
}

// surrounding are the platforms that the project around has apps for; none outside of a
// project. What is wrong with the project is not the business of names.
func (a *app) surrounding() []platform.Platform {
	root, err := a.projectRoot()
	if err != nil {
		return nil
	}
	if _, err := os.Stat(filepath.Join(root, registry.FileName)); err != nil {
		return nil
	}
	p, err := notary.Look(root, all.Platforms)
	if err != nil {
		return nil
	}
	defer p.Close()
	var out []platform.Platform
	for _, t := range all.Platforms {
		if sites, _ := p.Sites(t); len(sites) > 0 {
			out = append(out, t)
		}
	}
	return out
}

// stylesOf are the styles that share the string of face i, from that face on.
func stylesOf(faces []face.Face, strs []string, i int) string {
	list := []string{faces[i].Style}
	for k := i + 1; k < len(faces) && strs[k] == strs[i] && faces[k].Family == faces[i].Family; k++ {
		list = append(list, faces[k].Style)
	}
	return strings.Join(list, ", ")
}

// printTypes shows what to type, by kind of name: the platforms beside it, the exact
// strings below, which are never wrapped.
func (a *app) printTypes(faces []face.Face, targets []platform.Platform) {
	a.say("\n%s", a.paint.Strong("Type this"))
	styles, widest := make([]string, len(faces)), 0
	for i, f := range faces {
		styles[i] = cell(f.Style)
		widest = max(widest, span(styles[i]))
	}
	for _, b := range platform.Blocks(faces, targets) {
		var titles []string
		var ways []string
		for _, t := range b.Platforms {
			titles, ways = append(titles, t.Title), add(ways, t.Typed)
		}
		a.wrapped("  "+pad(string(b.Kind), 17), strings.Join(titles, ", "))
		width := widest
		if b.Kind == platform.ByOldFamily {
			for i := range faces {
				width = max(width, span(cell(stylesOf(faces, b.Strings, i))))
			}
		}
		for i, s := range b.Strings {
			if i > 0 && s == b.Strings[i-1] && faces[i].Family == faces[i-1].Family && (b.Kind == platform.ByFamily || b.Kind == platform.ByOldFamily) {
				continue // one family serves all of its styles
			}
			style := styles[i]
			if b.Kind == platform.ByFamily {
				style = "all styles"
			} else if b.Kind == platform.ByOldFamily {
				style = cell(stylesOf(faces, b.Strings, i))
			}
			if s == "" {
				s = "(nothing works)"
			}
			a.say("    %s  %s", pad(style, max(width, 10)), terminal.Tidy(s))
		}
		for _, w := range ways {
			a.say("    %s", a.paint.Faint("in  "+w))
		}
	}
}

// pad fills text up to a width.
func pad(s string, width int) string { return s + strings.Repeat(" ", max(width-span(s), 0)) }
