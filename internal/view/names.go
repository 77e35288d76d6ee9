package view

import (
	"fmt"
	"io"
	"path"
	"path/filepath"
	"slices"
	"sort"
	"strconv"
	"strings"

	"notaria/internal/face"
	"notaria/internal/intake"
	"notaria/internal/locale"
	"notaria/internal/platform"
	"notaria/internal/terminal"
)

// Asked is what names was asked besides.
type Asked struct {
	Every        bool // all records of names
	Text         bool // whether faces write a text
	Languages    []locale.Letters
	AllLanguages bool
}

// Names prints what faces are called, family after family, and what is typed for them, or what was asked instead of that.
func (a *Page) Names(haul intake.Haul, faces []face.Face, asked Asked, targets []platform.Platform) {
	for i := 0; i < len(faces); {
		n := i + 1
		for n < len(faces) && faces[n].Family == faces[i].Family {
			n++
		}
		if i > 0 {
			a.Say("")
		}
		a.Family(haul.Faces[i:n], faces[i:n])
		if asked.Every {
			a.records(faces[i:n])
		}
		i = n
	}
	switch {
	case len(faces) > 0 && asked.Text:
		a.lacks(faces)
	case len(faces) > 0 && (asked.AllLanguages || len(asked.Languages) > 0):
		a.languages(faces, asked.Languages)
	case len(faces) > 0:
		a.Types(faces, targets)
		a.wrongFiles(haul.Faces)
	}
	a.extras(haul)
	a.Problems(haul.Problems)
}

// lacks answers "can it write this text?".
func (a *Page) lacks(faces []face.Face) {
	a.Say("\n%s", a.Paint.Strong("Can it write the text?"))
	t := terminal.Table{Head: []string{"PostScript name", "characters", ""}, Right: map[int]bool{1: true}}
	for _, f := range faces {
		answer := "yes"
		if n := len(f.Missing); n > 0 {
			answer = "no, it lacks " + strings.Join(f.Missing[:min(n, 12)], " ")
			if n > 12 {
				answer += fmt.Sprintf(" and %d more", n-12)
			}
		}
		t.Rows = append(t.Rows, []string{cell(f.PostScript), strconv.Itoa(f.Characters), cell(answer)})
	}
	a.Table(t)
}

// languages says which languages families write: those of which every face has all letters.
func (a *Page) languages(faces []face.Face, named []locale.Letters) {
	a.Say("\n%s", a.Paint.Strong("Which languages can it write?"))
	t := terminal.Table{Head: []string{"family"}}
	for _, l := range named {
		t.Head = append(t.Head, l.Name)
	}
	for i := 0; i < len(faces); {
		n := i + 1
		for n < len(faces) && faces[n].Family == faces[i].Family {
			n++
		}
		family := faces[i:n]
		i = n
		if len(named) == 0 {
			all := family[0].Writes()
			all = slices.DeleteFunc(all, func(l locale.Letters) bool {
				return slices.ContainsFunc(family[1:], func(f face.Face) bool { return !slices.Contains(f.Languages, l.Tag) })
			})
			var names []string
			for _, l := range all {
				names = append(names, l.Name)
			}
			slices.Sort(names)
			a.Wrapped(fmt.Sprintf("  %s  %s: ", a.Paint.Strong(cell(family[0].Family)), plural(len(names), "language")), strings.Join(names, ", "))
			continue
		}
		row := []string{cell(family[0].Family)}
		for _, l := range named {
			row = append(row, a.letters(family, l))
		}
		t.Rows = append(t.Rows, row)
	}
	if len(named) > 0 {
		a.Table(t)
	}
}

// letters says whether a family writes a language, or which letters one of its faces lacks.
func (a *Page) letters(family []face.Face, l locale.Letters) string {
	var lost []string
	for _, f := range family {
		for _, c := range f.LackedBy[l.Tag] {
			if !slices.Contains(lost, c) {
				lost = append(lost, c)
			}
		}
	}
	const most = 5
	switch {
	case len(lost) == 0:
		return a.Paint.Good("yes")
	case len(lost) > most:
		return cell(fmt.Sprintf("lacks %s and %d more", strings.Join(lost[:most], " "), len(lost)-most))
	}
	return cell("lacks " + strings.Join(lost, " "))
}

// nameLabels say what the name IDs are that --all shows.
var nameLabels = map[int]string{1: "family (legacy)", 2: "style (legacy)", 4: "full name", 6: "PostScript name", 16: "family", 17: "style", 21: "family (WWS)", 22: "style (WWS)", 25: "variations prefix"}

// records shows every naming record, and a variable face's axes and instances.
func (a *Page) records(faces []face.Face) {
	for _, f := range faces {
		a.Say("\n  %s  %s", a.Paint.Strong(cell(f.ID())), a.Paint.Faint(cell(f.File)))
		a.Say("  old platforms list it as %s, %s", cell(f.LegacyFamily), cell(f.LegacyStyle))
		t := terminal.Table{Head: []string{"name", "language", "value"}}
		for _, n := range f.Names {
			if label := nameLabels[n.ID]; label != "" {
				t.Rows = append(t.Rows, []string{label, n.Language, cell(n.Value)})
			}
		}
		a.Table(t)
		for _, x := range f.Axes {
			a.Say("  axis %s  %s  %g to %g, %g by default", cell(x.Tag), cell(x.Name), x.Min, x.Max, x.Default)
		}
		for _, in := range f.Instances {
			a.Say("  instance  %s  %s", cell(in.Name), cell(in.PostScript))
		}
	}
}

func (a *Page) Family(found []intake.Found, faces []face.Face) {
	from := ""
	if faces[0].Archive != "" {
		from = " in " + faces[0].Archive
	}
	name := cell(faces[0].Family)
	if name == "" {
		name = "(no family name)"
	}
	a.Say("%s  %s", a.Paint.Strong(name), a.Paint.Faint(plural(len(faces), "face")+cell(from)))
	if axes := axesOf(faces); axes != "" {
		a.Wrapped("  variable: ", axes)
	}
	t := terminal.Table{Head: []string{"style", "weight", "PostScript name", "file"}, Right: map[int]bool{1: true}}
	for i, f := range faces {
		file := found[i].BaseName()
		if f.Container == "collection" {
			file += " #" + strconv.Itoa(f.Index)
		}
		style := cell(f.Style)
		if f.Variable {
			style += " (variable)"
		}
		t.Rows = append(t.Rows, []string{style, strconv.Itoa(f.Weight), cell(f.PostScript), cell(file)})
	}
	a.Table(t)
}

// axesOf are the axes of a family's variable faces, each once, with what they go from and to.
func axesOf(faces []face.Face) string {
	var out []string
	for _, f := range faces {
		for _, x := range f.Axes {
			text := fmt.Sprintf("%s %g to %g", cell(x.Tag), x.Min, x.Max)
			if word := strings.ToLower(x.Name); word != "" && !strings.EqualFold(x.Name, x.Tag) {
				text = fmt.Sprintf("%s (%s) %g to %g", cell(x.Tag), cell(word), x.Min, x.Max)
			}
			out = add(out, text)
		}
	}
	return strings.Join(out, ", ")
}

// Families lists families by their names, a line each.
func (a *Page) Families(faces []face.Face) {
	t := terminal.Table{Head: []string{"family", "faces", ""}, Right: map[int]bool{1: true}}
	for i := 0; i < len(faces); {
		n := i + 1
		for n < len(faces) && faces[n].Family == faces[i].Family {
			n++
		}
		what := ""
		if axes := axesOf(faces[i:n]); axes != "" {
			what = "variable: " + axes
		}
		t.Rows = append(t.Rows, []string{cell(faces[i].Family), strconv.Itoa(n - i), what})
		i = n
	}
	a.Table(t)
	a.Say("\nnotaria names --installed FAMILY shows one, and notaria enrol --installed FAMILY takes copies of it.")
}

// Misnamed lists the files that are not called what their font is called.
func Misnamed(found []intake.Found) []face.Problem {
	var out []face.Problem
	for _, f := range found {
		base := f.BaseName()
		if f.PostScript == "" || strings.TrimSuffix(base, path.Ext(base)) == f.PostScript {
			continue
		}
		out = append(out, face.Problem{File: f.File, Code: "file-name-differs",
			Message: "the file's name is not the font's name, which is " + strconv.Quote(f.PostScript),
			Cure:    "type the font's name in code; notaria enrol copies the file under it"})
	}
	return out
}

func (a *Page) wrongFiles(found []intake.Found) {
	list := Misnamed(found)
	if len(list) == 0 {
		return
	}
	verb := " is not called what its font is called"
	if len(list) > 1 {
		verb = " are not called what their fonts are called"
	}
	a.Say("\n%s %s", a.Paint.Warn("Careful:"), plural(len(list), "file")+verb+". Code needs the")
	a.Say("font's name; the file's name shows the system font and no error.")
	const most = 8
	t := terminal.Table{Head: []string{"this is the file", "this is the font"}}
	for _, f := range found {
		if base := f.BaseName(); f.PostScript != "" && strings.TrimSuffix(base, path.Ext(base)) != f.PostScript && len(t.Rows) < most {
			t.Rows = append(t.Rows, []string{cell(base), cell(f.PostScript)})
		}
	}
	a.Table(t)
	if len(list) > most {
		a.Say("  and %d more: notaria names --json lists them all", len(list)-most)
	}
}

func (a *Page) extras(haul intake.Haul) {
	var notes []string
	const most = 6
	for i, l := range haul.Licences {
		if i == most {
			notes = append(notes, fmt.Sprintf("and %d more texts of that kind", len(haul.Licences)-most))
			break
		}
		notes = append(notes, "Licence: "+cell(filepath.ToSlash(l.File)))
	}
	if haul.Junk > 0 {
		notes = append(notes, "Ignored: "+plural(haul.Junk, "hidden or system file"))
	}
	if len(notes) > 0 {
		a.Say("")
	}
	for _, n := range notes {
		a.Say("%s", a.Paint.Faint(n))
	}
}

// printProblems goes to stderr when a file could not be read at all: then the
// run fails, and the answer on stdout is not whole.
func (a *Page) Problems(list []face.Problem) {
	if len(list) == 0 {
		return
	}
	if list = a.otherForms(list); len(list) == 0 {
		return
	}
	const most = 24 // of hundreds of fonts, the JSON answer is the place to look
	var w io.Writer = a.Out
	if slices.ContainsFunc(list, func(p face.Problem) bool { return p.Fatal }) {
		_ = a.Lines.Flush() // what was said so far comes first
		w = a.Err
	}
	fmt.Fprintf(w, "\n%s\n", a.Paint.Bad(plural(len(list), "problem")))
	sort.SliceStable(list, func(i, j int) bool { return list[i].Fatal && !list[j].Fatal })
	for i, p := range list {
		if i == most {
			fmt.Fprintf(w, "  and %d more: notaria names --json lists them all\n", len(list)-most)
			break
		}
		fmt.Fprintf(w, "  %s: %s\n      %s\n", line(p.File), line(p.Message), a.Paint.Faint("→ "+line(p.Cure)))
	}
}

// otherForms says in one line which files are other forms of faces that are there, and leaves what is a problem.
func (a *Page) otherForms(list []face.Problem) (rest []face.Problem) {
	var files []string
	for _, p := range list {
		if p.Code == "another-form" || p.Code == "eot" && !p.Fatal {
			files = append(files, cell(path.Base(p.File)))
		} else {
			rest = append(rest, p)
		}
	}
	if len(files) > 0 {
		a.Say("%s", a.Paint.Faint("left      "+plural(len(files), "file")+", other forms of the same faces: "+few(files)))
	}
	return rest
}

// stylesOf are the styles that share the string of face i, from that face on.
func stylesOf(faces []face.Face, strs []string, i int) string {
	list := []string{faces[i].Style}
	for k := i + 1; k < len(faces) && strs[k] == strs[i] && faces[k].Family == faces[i].Family; k++ {
		list = append(list, faces[k].Style)
	}
	return strings.Join(list, ", ")
}

// bestForms leaves out the other forms of a face: a kit for the web has each in several.
func bestForms(faces []face.Face) []face.Face {
	form := map[string]string{}
	for _, f := range faces {
		if have, ok := form[f.PostScript]; !ok || have != "sfnt" && f.Container == "sfnt" {
			form[f.PostScript] = f.Container
		}
	}
	return slices.DeleteFunc(slices.Clone(faces), func(f face.Face) bool { return f.PostScript != "" && f.Container != form[f.PostScript] })
}

// printTypes shows what to type, by kind of name: the platforms beside it, the exact
// strings below, which are never wrapped.
func (a *Page) Types(faces []face.Face, targets []platform.Platform) {
	faces = bestForms(faces)
	a.Say("\n%s", a.Paint.Strong("Type this"))
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
		a.Wrapped("  "+terminal.Pad(string(b.Kind), 17), strings.Join(titles, ", "))
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
			a.Say("    %s  %s", terminal.Pad(style, max(width, 10)), terminal.Tidy(s))
		}
		for _, w := range ways {
			a.Say("    %s", a.Paint.Faint("in  "+w))
		}
	}
}
