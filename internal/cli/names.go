package cli

import (
	"context"
	"fmt"
	"slices"
	"unicode/utf8"

	"github.com/spf13/cobra"

	"notaria/internal/document"
	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/intake"
	"notaria/internal/locale"
	"notaria/internal/platform"
	"notaria/internal/platform/all"
	"notaria/internal/terminal"
	"notaria/internal/view"
)

// namesOptions are the flags of names.
type namesOptions struct {
	text, textFile string
	all, installed bool
	platforms      []string // of --for
	languages      []string
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
--languages which languages its families write whole; with --all it shows the legacy
and the localised names as well.`,
		Example: "  notaria names skerry-type.zip\n  notaria names --text \"Ærøskøbing\" fonts/\n  notaria names --languages vi,ru fonts/\n  notaria names --installed\n  notaria names --json fonts/ | jq '.faces[].postscript'",
		RunE: func(c *cobra.Command, args []string) error {
			if err := atLeast("a font file, a folder or an archive")(c, args); err != nil && !opt.installed {
				return err
			}
			if opt.text != "" && opt.textFile != "" {
				return wrongUse("names: expected --text or --text-file, found both")
			}
			return a.runNames(c.Context(), args, opt)
		},
	}
	c.Flags().StringVar(&opt.text, "text", "", "say which characters of this `text` each face lacks")
	c.Flags().StringVar(&opt.textFile, "text-file", "", "the same for the text in a `file` (UTF-8), or - for the standard input")
	c.Flags().StringSliceVar(&opt.platforms, "for", nil, "what to type on these `targets` only (default: those of the project, outside of one all)")
	c.Flags().StringSliceVar(&opt.languages, "languages", nil, "say which of these `languages` each family writes whole, by their tags; all for every one")
	c.Flags().BoolVar(&opt.installed, "installed", false, "list the fonts of this machine; arguments are names of families")
	c.Flags().BoolVar(&opt.all, "all", false, "show legacy and localised names, axes and instances too")
	return c
}

// mostTextFile bounds the text of --text-file.
const mostTextFile = 16 << 20

// wantedText is the text to be written, and whether there is one.
func (a *app) wantedText(o namesOptions) (string, bool, error) {
	if o.textFile == "" {
		return o.text, o.text != "", nil
	}
	b, err := a.input(o.textFile, "a text file", mostTextFile)
	if err == nil && !utf8.Valid(b) {
		err = &fault.Error{File: o.textFile, Expected: "text in UTF-8", Found: "other bytes", Cure: "save it as UTF-8"}
	}
	return string(b), true, err
}

func (a *app) runNames(ctx context.Context, paths []string, o namesOptions) error {
	text, asked, err := a.wantedText(o)
	if err != nil {
		return err
	}
	targets, err := a.typedOn(o.platforms)
	if err != nil {
		return err
	}
	languages, err := locale.Named(o.languages)
	if err != nil {
		return wrongUse("names: --languages: %v", err)
	}
	bar := terminal.NewProgress(a.alarm, "reading fonts")
	opt := intake.Options{Progress: bar.Step}
	opt.Coverage, opt.Records = asked || a.json || len(o.languages) > 0, o.all || a.json
	opt.Digest, opt.Drawn = a.json, a.json
	haul, err := a.gather(ctx, paths, o.installed, opt)
	bar.End()
	if err != nil {
		return err
	}
	if o.installed && len(paths) == 0 && !a.json {
		a.Families(facesOf(haul.Faces))
		return nil
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
	for i := range faces {
		if len(o.languages) > 0 && faces[i].TellLanguages(languages) {
			lacking++
		}
	}
	if a.json {
		typed(faces)
		err = a.printJSON(document.NewNames(faces, append(slices.Clone(haul.Problems), view.Misnamed(haul.Faces)...)))
	} else {
		a.Names(haul, faces, view.Asked{Every: o.all, Text: asked, Languages: languages, AllLanguages: len(o.languages) > 0 && len(languages) == 0}, targets)
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

// gather reads what paths hold, or families of this machine: all of them where none is named.
func (a *app) gather(ctx context.Context, names []string, installed bool, opt intake.Options) (intake.Haul, error) {
	if !installed {
		return intake.Gather(ctx, names, opt)
	}
	folders := intake.MachineFolders()
	if len(folders) == 0 {
		return intake.Haul{}, &fault.Error{Expected: "a folder of fonts of this machine", Found: "none", Cure: "name the files: notaria names PATH"}
	}
	haul, err := intake.Gather(ctx, folders, opt)
	if err != nil {
		return haul, err
	}
	haul.Licences = nil
	if len(names) == 0 {
		haul.Problems, haul.Junk = nil, 0 // of the machine, and not of what was asked for
		return haul, nil
	}
	var families []string
	for _, f := range haul.Faces {
		families = append(families, f.Family)
	}
	if missing := haul.OfFamilies(names); len(missing) > 0 {
		cure := "notaria names --installed lists those that are there"
		if near := platform.Nearest(missing[0], families); near != "" {
			cure = fmt.Sprintf("write %q", near)
		}
		return haul, &fault.UseError{Err: &fault.Error{Expected: fmt.Sprintf("a family %q among the fonts of this machine", missing[0]), Found: "none", Cure: cure}}
	}
	return haul, nil
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
