package cli

import (
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/document"
	"notaria/internal/headers"
	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/platform/all"
)

func (a *app) headers() *cobra.Command {
	form := headers.StaticHost
	w := headers.Wish{Under: "/"}
	c := &cobra.Command{
		Use:   "headers FOLDER [flags]",
		Short: "Print the HTTP headers that the fonts of a site want",
		Long: `Print the HTTP headers for a FOLDER that a server gives out: what a build put out (dist,
build, out, _site …), or plain pages. Link loads the fonts of the first view before the
style sheet is read: those of the project's roles (but for preload = false), and those that
a page loads early itself. Cache-Control keeps fonts for a year where their names hold a
hash of their content, and else for a day. --pages-at lets pages of another origin use the
fonts (CORS). Nothing is written: put the lines where the server has its settings.`,
		Example: "  notaria headers dist > dist/_headers\n  notaria headers dist --as nginx\n  notaria headers public --as apache --pages-at https://skerry.example",
		Args:    cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			if !slices.Contains(headers.Forms, form) {
				return wrongUse("headers: expected %s for --as, found %q", strings.Join(headers.Forms, ", "), form)
			}
			if a.json && c.Flags().Changed("as") {
				return wrongUse("headers: expected --json without --as: the document holds all parts")
			}
			w.Folder = args[0]
			p, by, err := a.served()
			if err != nil {
				return err
			}
			if p != nil {
				defer p.Close()
			}
			h, err := headers.Collect(c.Context(), w, p, by)
			if err != nil {
				return err
			}
			if a.json {
				return a.printJSON(document.NewHeaders(h))
			}
			text, err := h.Write(form)
			if err != nil {
				return err
			}
			if _, err = a.Lines.Write(text); err != nil {
				return err
			}
			a.ofHeaders(h, p != nil)
			return nil
		},
	}
	f := c.Flags()
	f.StringVar(&form, "as", form, "the `form`: "+strings.Join(headers.Forms, ", "))
	f.StringVar(&w.Under, "under", w.Under, "the `path` that the folder is given out at")
	f.StringVar(&w.Origin, "pages-at", "", "the `origin` of pages elsewhere that use the fonts, such as https://skerry.example")
	return c
}

// ofHeaders says what the headers do not do.
func (a *app) ofHeaders(h *headers.Headers, project bool) {
	switch {
	case h.Left > 0:
		a.Note("%d more pages load fonts early: a link in their template does the same", h.Left)
	case len(h.Pages) == 0 && project:
		a.Note("no page takes in a font of a role: no Link is written")
	case len(h.Pages) == 0:
		a.Note("no Link is written: which fonts a page wants first is known in a project with roles, or from links that are in the pages")
	}
}

// served is the project, nil if there is none, and the platform that knows what is built of its sources.
func (a *app) served() (p *notary.Project, by platform.Prover, err error) {
	for _, t := range all.Platforms {
		if one, ok := t.(platform.Prover); ok {
			by = one
		}
	}
	root, err := a.projectRoot()
	if err != nil {
		return nil, by, nil //nolint:nilerr // a folder can be judged without a project
	}
	p, err = notary.LookAside(root, all.Platforms)
	return p, by, err
}
