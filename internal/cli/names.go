package cli

import (
	"context"
	"fmt"
	"io"
	"path"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/face"
	"notaria/internal/intake"
	"notaria/internal/target/all"
)

func (a *app) names() *cobra.Command {
	return &cobra.Command{
		Use:   "names PATH...",
		Short: "Show what each face is called, and what to type for it",
		Long: `Show what each face in font files, folders and zip archives is called, and what
to type for it on each platform. Reads only; writes nothing.

The name that a platform answers to is inside the font and seldom the file's.`,
		Example: "  notaria names skerry-type.zip\n  notaria names --json fonts/ | jq '.faces[].postscript'",
		Args:    atLeast("a font file, a folder or a zip archive"),
		RunE: func(c *cobra.Command, args []string) error {
			return a.runNames(c.Context(), args)
		},
	}
}

// namesDoc is the names contract, version 1.
type namesDoc struct {
	Schema   string         `json:"schema"`
	Faces    []face.Face    `json:"faces"`
	Problems []face.Problem `json:"problems"`
}

func (a *app) runNames(ctx context.Context, paths []string) error {
	bar := newProgress(a.err, "reading fonts")
	opt := intake.Options{Progress: bar.step}
	if a.json {
		opt.Coverage, opt.Records, opt.Digest = true, true, true
	}
	haul, err := intake.Gather(ctx, paths, opt)
	bar.end()
	if err != nil {
		return err
	}
	faces := typed(haul.Faces)
	if a.json {
		doc := namesDoc{"notaria/names/1", faces, haul.Problems}
		if doc.Problems == nil {
			doc.Problems = []face.Problem{}
		}
		doc.Problems = append(doc.Problems, misnamed(haul.Faces)...)
		err = a.printJSON(doc)
	} else {
		a.printNames(haul, faces)
	}
	if err == nil && slices.ContainsFunc(haul.Problems, func(p face.Problem) bool { return p.Fatal }) {
		return &codeError{code: exitFailed}
	}
	return err
}

// typed fills in what to type for each face on each platform.
func typed(found []intake.Found) []face.Face {
	faces := make([]face.Face, len(found))
	for i, f := range found {
		faces[i] = f.Face
		faces[i].Type = map[string]string{}
	}
	for _, t := range all.Targets {
		name := t.About().Name
		for i, s := range t.Type(faces) {
			faces[i].Type[name] = s
		}
	}
	return faces
}

// misnamed lists the files that are not called what their font is called.
func misnamed(found []intake.Found) []face.Problem {
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

func (a *app) printNames(haul intake.Haul, faces []face.Face) {
	for i := 0; i < len(faces); {
		n := i + 1
		for n < len(faces) && faces[n].Family == faces[i].Family {
			n++
		}
		if i > 0 {
			a.say("")
		}
		a.printFamily(haul.Faces[i:n], faces[i:n])
		i = n
	}
	if len(faces) > 0 {
		a.printTypes(faces)
	}
	a.printMisnamed(haul.Faces)
	a.printExtras(haul)
	a.printProblems(haul.Problems)
}

func (a *app) printFamily(found []intake.Found, faces []face.Face) {
	from := ""
	if faces[0].Archive != "" {
		from = " in " + faces[0].Archive
	}
	name := cell(faces[0].Family)
	if name == "" {
		name = "(no family name)"
	}
	a.say("%s  %s", a.paint.strong(name), a.paint.faint(plural(len(faces), "face")+cell(from)))
	t := table{head: []string{"style", "weight", "PostScript name", "file"}, right: map[int]bool{1: true}}
	for i, f := range faces {
		file := found[i].BaseName()
		if f.Container == "collection" {
			file += " #" + strconv.Itoa(f.Index)
		}
		t.rows = append(t.rows, []string{cell(f.Style), strconv.Itoa(f.Weight), cell(f.PostScript), cell(file)})
	}
	a.table(t)
}

// printTypes shows what to type; a platform whose word is always the PostScript
// name needs no column of its own when the terminal is narrow.
func (a *app) printTypes(faces []face.Face) {
	a.say("\n%s", a.paint.strong("Type this"))
	t := table{}
	for _, tg := range all.Targets {
		t.head = append(t.head, tg.About().Title)
	}
	for _, f := range faces {
		var row []string
		for _, tg := range all.Targets {
			s := cell(f.Type[tg.About().Name])
			if s == "" {
				s = "(nothing works)"
			}
			row = append(row, s)
		}
		t.rows = append(t.rows, row)
	}
	a.table(t)
	for _, tg := range all.Targets {
		about := tg.About()
		a.say("  %s", a.paint.faint(about.Title+" takes it in "+about.Typed))
	}
}

func (a *app) printMisnamed(found []intake.Found) {
	list := misnamed(found)
	if len(list) == 0 {
		return
	}
	verb := " is not called what its font is called"
	if len(list) > 1 {
		verb = " are not called what their fonts are called"
	}
	a.say("\n%s %s", a.paint.warn("Careful:"), plural(len(list), "file")+verb+". Code needs the")
	a.say("font's name; the file's name shows the system font and no error.")
	const most = 8
	t := table{head: []string{"this is the file", "this is the font"}}
	for _, f := range found {
		if base := f.BaseName(); f.PostScript != "" && strings.TrimSuffix(base, path.Ext(base)) != f.PostScript && len(t.rows) < most {
			t.rows = append(t.rows, []string{cell(base), cell(f.PostScript)})
		}
	}
	a.table(t)
	if len(list) > most {
		a.say("  and %d more: notaria names --json lists them all", len(list)-most)
	}
}

func (a *app) printExtras(haul intake.Haul) {
	var notes []string
	for _, l := range haul.Licences {
		notes = append(notes, "Licence: "+cell(filepath.ToSlash(l.File)))
	}
	if haul.Junk > 0 {
		notes = append(notes, "Left out: "+plural(haul.Junk, "hidden or system file"))
	}
	if len(notes) > 0 {
		a.say("")
	}
	for _, n := range notes {
		a.say("%s", a.paint.faint(n))
	}
}

// printProblems goes to stderr when a file could not be read at all: then the
// run fails, and the answer on stdout is not whole.
func (a *app) printProblems(list []face.Problem) {
	if len(list) == 0 {
		return
	}
	var w io.Writer = a.out
	if slices.ContainsFunc(list, func(p face.Problem) bool { return p.Fatal }) {
		_ = a.out.Flush() // what was said so far comes first
		w = a.err
	}
	fmt.Fprintf(w, "\n%s\n", a.paint.bad(plural(len(list), "problem")))
	for _, p := range list {
		fmt.Fprintf(w, "  %s: %s\n      %s\n", line(p.File), line(p.Message), a.paint.faint("→ "+line(p.Cure)))
	}
}
