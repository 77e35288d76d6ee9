package cli

import (
	"context"
	"path/filepath"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/document"
	"notaria/internal/specimen"
	"notaria/internal/subject"
)

func (a *app) compare() *cobra.Command {
	var o textsOptions
	var out specimenOptions
	most := 20
	c := &cobra.Command{
		Use:   "compare A B... [flags]",
		Short: "Show what would change if another face took one's place",
		Long: `Show what would change if face B took the place of face A, or of a role's face: the
names, the heights, the lines of each platform, the bytes, the room that texts take, longest
first, and the characters that are missing. Several candidates are compared with A one after
the other. With --width texts are broken into lines in both, and those are told that need
more room: more lines, higher ones, or a word that is wider; --height is the room for all
lines. --out NAME.png or NAME.svg draws them below each other. Exit code 1 says that texts
need more room than they had, that lines change their height, or that characters are
missing that were there.`,
		Example: "  notaria compare heading CapstanSlab.ttf --strings ios/ --width 240\n  notaria compare body SkerrySans-Bold CapstanSlab-Regular --text Departures --out candidates.png",
		Args:    atLeast("a face or a role, and faces that could take its place"),
		RunE: func(c *cobra.Command, args []string) error {
			if len(args) < 2 || len(args) > mostCandidates+1 {
				return wrongUse("compare: expected a face or a role, and 1 to %d faces that could take its place, found %s", mostCandidates, plural(len(args), "argument"))
			}
			out.width, out.times = 1280, max(out.times, 1)
			if ext := strings.ToLower(filepath.Ext(out.out)); out.out != "" && ext != ".png" && ext != ".svg" {
				return wrongUse("compare: expected a file that ends with .png or .svg for --out, found %q", out.out)
			}
			if out.out == "" && (out.dark || out.overwrite) {
				return wrongUse("compare: expected --out with --dark and --overwrite: they are about the picture")
			}
			return a.runCompare(c.Context(), args, o, out, most)
		},
	}
	o.flags(c)
	f := c.Flags()
	f.StringVar(&out.out, "out", "", "draw the texts in all of them into a `file`: .png or .svg")
	f.BoolVar(&out.dark, "dark", false, "the picture has a dark ground")
	f.BoolVar(&out.overwrite, "overwrite", false, "write over a file that Notaria did not write there last")
	f.IntVar(&most, "most", 20, "how many `texts` are listed, those that change most first; 0 for all")
	return c
}

// mostCandidates is how many faces one is compared with.
const mostCandidates = 12

func (a *app) runCompare(ctx context.Context, args []string, o textsOptions, out specimenOptions, most int) error {
	room, err := o.room("compare")
	if err != nil {
		return err
	}
	texts, err := o.all(a)
	if err != nil {
		return err
	}
	all, err := a.contenders(ctx, args, o)
	if err != nil {
		return err
	}
	targets, err := a.lined(o, all[0])
	if err != nil {
		return err
	}
	var list []subject.Comparison
	for _, other := range all[1:] {
		d, err := subject.Compare(ctx, all[0], other, texts, room, targets)
		if err != nil {
			return err
		}
		list = append(list, d)
	}
	files, err := a.drawCompared(ctx, list, all, out)
	if err != nil {
		return err
	}
	if a.json {
		err = a.printJSON(document.NewCompare(list, files))
	} else {
		a.Comparisons(list, most, files)
	}
	if err == nil && slices.ContainsFunc(list, subject.Comparison.Finds) {
		return findings
	}
	return err
}

// contenders are the faces that are compared. --at is for those that vary: at least one of them has to.
func (a *app) contenders(ctx context.Context, args []string, o textsOptions) (all []subject.One, err error) {
	plain := o
	plain.at = nil
	varies := len(o.at) == 0
	for i, name := range args {
		one, err := a.single(ctx, name, plain, i == 0)
		if err == nil && len(o.at) > 0 && one.Face.Variable {
			varies = true
			one, err = a.single(ctx, name, o, i == 0)
		}
		if err != nil {
			return nil, err
		}
		all = append(all, one)
	}
	if !varies {
		return nil, wrongUse("compare: expected a variable font for --at, found none among %s", strings.Join(args, ", "))
	}
	return all, nil
}

// drawCompared writes the picture, if one is asked for.
func (a *app) drawCompared(ctx context.Context, list []subject.Comparison, all []subject.One, out specimenOptions) ([]string, error) {
	if out.out == "" {
		return nil, nil
	}
	var names []string
	for _, c := range list {
		names = append(names, c.B.Name)
	}
	opt := specimen.Options{Width: float64(out.width), Colours: specimen.Light, Title: list[0].A.Name + " and " + strings.Join(names, ", ")}
	if out.dark {
		opt.Colours = specimen.Dark
	}
	picture, err := subject.Picture(list, all, opt)
	if err != nil {
		return nil, err
	}
	file, err := out.picture(picture, 0)
	if err == nil {
		err = a.write(ctx, out.overwrite, file)
	}
	return []string{file.Name}, err
}
