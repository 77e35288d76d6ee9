package cli

import (
	"context"
	"fmt"
	"io"
	"os"
	"path"
	"path/filepath"
	"slices"
	"sort"
	"strconv"
	"strings"
	"unicode/utf8"

	"github.com/spf13/cobra"

	"notaria/internal/document"
	"notaria/internal/face"
	"notaria/internal/intake"
	"notaria/internal/platform"
	"notaria/internal/platform/all"
	"notaria/internal/terminal"
)

// namesOptions are the flags of names.
type namesOptions struct {
	text, textFile string
	all            bool
	platforms      []string // of --for
}

func (a *app) names() *cobra.Command {
	var opt namesOptions
	c := &cobra.Command{
		Use:   "names PATH... [flags]",
		Short: "Show what each face is called, and what to type for it",
		Long: `Show what each face in font files, folders and archives (.zip, .tar.gz) is called,
and what to type for it on each platform. Reads only; writes nothing.

The name that a platform answers to is inside the font and seldom the file's.
With --text it says which of the text's characters each face cannot write; with
--all it shows the legacy and the localised names as well.`,
		Example: "  notaria names skerry-type.zip\n  notaria names --text \"Ærøskøbing\" fonts/\n  notaria names --json fonts/ | jq '.faces[].postscript'",
		Args:    atLeast("a font file, a folder or an archive"),
		RunE: func(c *cobra.Command, args []string) error {
			if opt.text != "" && opt.textFile != "" {
				return wrongUse("names: expected --text or --text-file, found both")
			}
			return a.runNames(c.Context(), args, opt)
		},
	}
	c.Flags().StringVar(&opt.text, "text", "", "say which characters of this `text` each face lacks")
	c.Flags().StringVar(&opt.textFile, "text-file", "", "the same for the text in a `file` (UTF-8)")
	c.Flags().StringSliceVar(&opt.platforms, "for", nil, "what to type on these `targets` only (default: those of the project, outside of one all)")
	c.Flags().BoolVar(&opt.all, "all", false, "show legacy and localised names, axes and instances too")
	return c
}

// mostTextFile bounds the text of --text-file.
const mostTextFile = 16 << 20

// wantedText is the text to be written, and whether there is one.
func (o namesOptions) wantedText() (string, bool, error) {
	if o.textFile == "" {
		return o.text, o.text != "", nil
	}
	f, err := os.Open(o.textFile)
	if err != nil {
		return "", false, fmt.Errorf("%s: expected a text file, found none that can be read: %w", o.textFile, err)
	}
	defer f.Close()
	b, err := io.ReadAll(io.LimitReader(f, mostTextFile+1))
	if err == nil && len(b) > mostTextFile {
		err = fmt.Errorf("%s: expected at most %d MiB of text, found more", o.textFile, mostTextFile>>20)
	}
	if err == nil && !utf8.Valid(b) {
		err = fmt.Errorf("%s: expected text in UTF-8, found other bytes; save it as UTF-8", o.textFile)
	}
	return string(b), true, err
}

func (a *app) runNames(ctx context.Context, paths []string, o namesOptions) error {
	text, asked, err := o.wantedText()
	if err != nil {
		return err
	}
	targets, err := a.typedOn(o.platforms)
	if err != nil {
		return err
	}
	bar := terminal.NewProgress(a.alarm, "reading fonts")
	opt := intake.Options{Progress: bar.Step}
	opt.Coverage, opt.Records = asked || a.json, o.all || a.json
	opt.Digest = a.json
	haul, err := intake.Gather(ctx, paths, opt)
	bar.End()
	if err != nil {
		return err
	}
	faces := facesOf(haul.Faces)
	lacking := 0
	for i := range faces {
		if asked {
			if faces[i].Missing = faces[i].Lacks(text); len(faces[i].Missing) > 0 {
				lacking++
			}
		}
	}
	if a.json {
		typed(faces)
		err = a.printJSON(document.NewNames(faces, append(slices.Clone(haul.Problems), misnamed(haul.Faces)...)))
	} else {
		a.printNames(haul, faces, o, asked, targets)
	}
	switch {
	case err != nil:
		return err
	case slices.ContainsFunc(haul.Problems, func(p face.Problem) bool { return p.Fatal }):
		return &codeError{code: exitFailed}
	case lacking > 0:
		return findings
	}
	return nil
}

// facesOf are the faces that were found.
func facesOf(found []intake.Found) []face.Face {
	faces := make([]face.Face, len(found))
	for i, f := range found {
		faces[i] = f.Face
	}
	return faces
}

// typed fills in what to type for each face on each platform.
func typed(faces []face.Face) {
	for name, list := range platform.NamesOn(faces, all.Platforms) {
		for i, s := range list {
			if faces[i].Type == nil {
				faces[i].Type = map[string]string{}
			}
			faces[i].Type[name] = s
		}
	}
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

func (a *app) printNames(haul intake.Haul, faces []face.Face, o namesOptions, asked bool, targets []platform.Platform) {
	for i := 0; i < len(faces); {
		n := i + 1
		for n < len(faces) && faces[n].Family == faces[i].Family {
			n++
		}
		if i > 0 {
			a.say("")
		}
		a.printFamily(haul.Faces[i:n], faces[i:n])
		if o.all {
			a.printAll(faces[i:n])
		}
		i = n
	}
	switch {
	case len(faces) > 0 && asked:
		a.printLacks(faces)
	case len(faces) > 0:
		a.printTypes(faces, targets)
		a.printMisnamed(haul.Faces)
	}
	a.printExtras(haul)
	a.printProblems(haul.Problems)
}

// printLacks answers "can it write this text?".
func (a *app) printLacks(faces []face.Face) {
	a.say("\n%s", a.paint.Strong("Can it write the text?"))
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
	a.table(t)
}

// nameLabels say what the name IDs are that --all shows.
var nameLabels = map[int]string{1: "family (legacy)", 2: "style (legacy)", 4: "full name", 6: "PostScript name", 16: "family", 17: "style", 21: "family (WWS)", 22: "style (WWS)", 25: "variations prefix"}

// printAll shows every naming record, and a variable face's axes and instances.
func (a *app) printAll(faces []face.Face) {
	for _, f := range faces {
		a.say("\n  %s  %s", a.paint.Strong(cell(f.ID())), a.paint.Faint(cell(f.File)))
		a.say("  old platforms list it as %s, %s", cell(f.LegacyFamily), cell(f.LegacyStyle))
		t := terminal.Table{Head: []string{"name", "language", "value"}}
		for _, n := range f.Names {
			if label := nameLabels[n.ID]; label != "" {
				t.Rows = append(t.Rows, []string{label, n.Language, cell(n.Value)})
			}
		}
		a.table(t)
		for _, x := range f.Axes {
			a.say("  axis %s  %s  %g to %g, %g by default", cell(x.Tag), cell(x.Name), x.Min, x.Max, x.Default)
		}
		for _, in := range f.Instances {
			a.say("  instance  %s  %s", cell(in.Name), cell(in.PostScript))
		}
	}
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
	a.say("%s  %s", a.paint.Strong(name), a.paint.Faint(plural(len(faces), "face")+cell(from)))
	t := terminal.Table{Head: []string{"style", "weight", "PostScript name", "file"}, Right: map[int]bool{1: true}}
	for i, f := range faces {
		file := found[i].BaseName()
		if f.Container == "collection" {
			file += " #" + strconv.Itoa(f.Index)
		}
		t.Rows = append(t.Rows, []string{cell(f.Style), strconv.Itoa(f.Weight), cell(f.PostScript), cell(file)})
	}
	a.table(t)
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
	a.say("\n%s %s", a.paint.Warn("Careful:"), plural(len(list), "file")+verb+". Code needs the")
	a.say("font's name; the file's name shows the system font and no error.")
	const most = 8
	t := terminal.Table{Head: []string{"this is the file", "this is the font"}}
	for _, f := range found {
		if base := f.BaseName(); f.PostScript != "" && strings.TrimSuffix(base, path.Ext(base)) != f.PostScript && len(t.Rows) < most {
			t.Rows = append(t.Rows, []string{cell(base), cell(f.PostScript)})
		}
	}
	a.table(t)
	if len(list) > most {
		a.say("  and %d more: notaria names --json lists them all", len(list)-most)
	}
}

func (a *app) printExtras(haul intake.Haul) {
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
		a.say("")
	}
	for _, n := range notes {
		a.say("%s", a.paint.Faint(n))
	}
}

// printProblems goes to stderr when a file could not be read at all: then the
// run fails, and the answer on stdout is not whole.
func (a *app) printProblems(list []face.Problem) {
	if len(list) == 0 {
		return
	}
	const most = 24 // of hundreds of fonts, the JSON answer is the place to look
	var w io.Writer = a.out
	if slices.ContainsFunc(list, func(p face.Problem) bool { return p.Fatal }) {
		_ = a.lines.Flush() // what was said so far comes first
		w = a.err
	}
	fmt.Fprintf(w, "\n%s\n", a.paint.Bad(plural(len(list), "problem")))
	sort.SliceStable(list, func(i, j int) bool { return list[i].Fatal && !list[j].Fatal })
	for i, p := range list {
		if i == most {
			fmt.Fprintf(w, "  and %d more: notaria names --json lists them all\n", len(list)-most)
			break
		}
		fmt.Fprintf(w, "  %s: %s\n      %s\n", line(p.File), line(p.Message), a.paint.Faint("→ "+line(p.Cure)))
	}
}
