package cli

import (
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/change"
	"notaria/internal/credits"
	"notaria/internal/document"
	"notaria/internal/face"
	"notaria/internal/platform"
	"notaria/internal/platform/all"
	"notaria/internal/report"
	"notaria/internal/subject"
)

func (a *app) report() *cobra.Command {
	out, overwrite := "", false
	var typed []string
	c := &cobra.Command{
		Use:   "report --out FILE.html",
		Short: "Make one page about the project's type",
		Long: `Make one HTML page about the project's type, for those who do not run commands: its
roles and faces as they look, what each platform calls them, the apps with the bytes of
their fonts, what check finds wrong, licences and credits. The page needs nothing else,
and can be printed.`,
		Example: "  notaria report --out type.html",
		Args:    noArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			if !strings.EqualFold(filepath.Ext(out), ".html") {
				return wrongUse("report: expected --out with a file that ends with .html, found %q", out)
			}
			k, err := a.checkProject(c.Context(), true, false, typed)
			if err != nil {
				return err
			}
			defer k.p.Close()
			if !k.p.Found {
				return wrongUse("report: expected a project with a notaria.toml, found none; begin with notaria enrol PATH")
			}
			s := report.Source{Project: k.p, Plan: k.plan, Findings: k.shown}
			if s.Typed, err = a.reportNames(); err != nil {
				return err
			}
			what := append(k.p.Registry.RoleNames(), k.p.Registry.FaceNames()...)
			if s.Subjects, err = a.find(c.Context(), what, subject.Wanted{}, all.Platforms); err != nil {
				return err
			}
			if s.Credits, err = credits.Collect(k.p); err != nil {
				return err
			}
			page, err := report.Page(c.Context(), s)
			if err != nil {
				return err
			}
			if err := a.write(c.Context(), overwrite, change.Output{Name: out, Data: page}); err != nil {
				return err
			}
			if a.json {
				return a.printJSON(document.NewReport(out, len(page)))
			}
			a.Say("%s %s", a.Paint.Good("wrote"), a.Paint.Place(cell(out)))
			a.sayOnly(typed)
			return nil
		},
	}
	c.Flags().StringVar(&out, "out", "", "the `file`, which ends with .html")
	onlyFlag(c, &typed)
	c.Flags().BoolVar(&overwrite, "overwrite", false, "write over a file that Notaria did not write there last")
	return c
}

// reportNames gives what is typed for a face, by kind of name, with the platforms that take it.
func (a *app) reportNames() (func(face.Face) []report.Name, error) {
	targets, err := a.typedOn(nil)
	if err != nil {
		return nil, err
	}
	if len(targets) == 0 {
		targets = a.surrounding(all.Platforms)
	}
	return func(f face.Face) []report.Name {
		var out []report.Name
		for _, b := range platform.Blocks([]face.Face{f}, targets) {
			var titles []string
			for _, t := range b.Platforms {
				titles = append(titles, t.Title)
			}
			out = append(out, report.Name{Kind: string(b.Kind), Value: b.Strings[0], Platforms: strings.Join(titles, ", ")})
		}
		return out
	}, nil
}
