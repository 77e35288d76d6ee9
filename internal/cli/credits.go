package cli

import (
	"context"
	"path/filepath"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/change"
	"notaria/internal/credits"
	"notaria/internal/document"
)

func (a *app) credits() *cobra.Command {
	form, out := credits.Text, ""
	overwrite := false
	c := &cobra.Command{
		Use:   "credits [flags]",
		Short: "Print the attribution of the project's fonts, with their licences",
		Long: `Print who made the project's fonts, under which licence, and its text: what most licences
ask an app to show. Licences are recognised by their text, and named by their SPDX
identifiers. --as html, markdown or text is for an about page or an asset, android for a
resource (res/values), apple for a page of a settings bundle, flutter for the framework's
licence page, dotnet for a .resx, java for properties; --json gives all parts.
Exit code 1 says that a font comes without any licence.`,
		Example: "  notaria credits\n  notaria credits --as android --out android/app/src/main/res/values/type_credits.xml\n  notaria credits --as apple --out ios/Settings.bundle/Fonts.plist",
		Args:    noArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			if !slices.Contains(credits.Forms, form) {
				return wrongUse("credits: expected %s for --as, found %q", strings.Join(credits.Forms, ", "), form)
			}
			if a.json && (out != "" || c.Flags().Changed("as")) {
				return wrongUse("credits: expected --json without --as and --out: the document holds all parts")
			}
			if overwrite && out == "" {
				return wrongUse("credits: expected --out with --overwrite")
			}
			p, err := a.look()
			if err != nil {
				return err
			}
			defer p.Close()
			list, err := credits.Collect(p)
			if err != nil {
				return err
			}
			if len(list) == 0 {
				return wrongUse("credits: expected enrolled faces, found none; begin with notaria enrol PATH")
			}
			lacks := credits.Lacks(list)
			if a.json {
				err = a.printJSON(document.NewCredits(list, lacks))
			} else {
				err = a.writeCredits(c.Context(), list, form, out, overwrite)
			}
			for _, l := range lacks {
				a.Note("%s %s; ask its maker", a.Paint.Warn("careful:"), cell(l))
			}
			if err == nil && len(lacks) > 0 {
				return findings
			}
			return err
		},
	}
	f := c.Flags()
	f.StringVar(&form, "as", form, "the `form`: "+strings.Join(credits.Forms, ", "))
	f.StringVar(&out, "out", "", "write into a `file`")
	f.BoolVar(&overwrite, "overwrite", false, "write over a file that Notaria did not write there last")
	return c
}

func (a *app) writeCredits(ctx context.Context, list []credits.Credit, form, out string, overwrite bool) error {
	text, err := credits.Write(list, form)
	if err != nil {
		return err
	}
	if out == "" {
		_, err = a.Lines.Write(text)
		return err
	}
	if err := a.write(ctx, overwrite, change.Output{Name: out, Data: text}); err != nil {
		return err
	}
	a.Say("%s %s", a.Paint.Good("wrote"), a.Paint.Place(cell(filepath.ToSlash(out))))
	return nil
}
