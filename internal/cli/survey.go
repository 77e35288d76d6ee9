package cli

import (
	"context"

	"github.com/spf13/cobra"

	"notaria/internal/audit"
	"notaria/internal/document"
	"notaria/internal/notary"
	"notaria/internal/platform/all"
)

func (a *app) survey() *cobra.Command {
	listAll := false
	var typed []string
	c := &cobra.Command{
		Use:   "survey [FOLDER]",
		Short: "Show the apps of a project, its fonts, and what is registered",
		Long: `Show which apps a project has, which font files are in them and how they got
there, and what is registered and what is not. Writes nothing.`,
		Args:    atMost(1),
		Example: "  notaria survey\n  notaria survey --all\n  notaria survey --only android",
		RunE: func(c *cobra.Command, args []string) error {
			if len(args) == 1 {
				a.project = args[0]
			}
			return a.runSurvey(c.Context(), listAll, typed)
		},
	}
	c.Flags().BoolVar(&listAll, "all", false, "list the apps that are passed over, too: those in folders of tests, examples and other people's code")
	onlyFlag(c, &typed)
	return c
}

func (a *app) runSurvey(ctx context.Context, listAll bool, typed []string) error {
	var doc document.Survey
	p, err := notary.Steady(ctx, a.look, func(p *notary.Project) (err error) {
		if doc, err = document.NewSurvey(p, all.Platforms); err != nil {
			return err
		}
		o, err := only(p, typed)
		if err != nil {
			return err
		}
		doc.Choose(o)
		plan, err := p.Plan(ctx, all.Platforms)
		if err != nil {
			return doc.JudgeEach(ctx, p, all.Platforms)
		}
		report, err := audit.NewReport(ctx, p, plan)
		doc.Judge(report.Findings)
		return err
	})
	if err != nil {
		return err
	}
	defer p.Close()
	if a.json {
		return a.printJSON(doc)
	}
	a.Survey(p, doc, listAll)
	a.sayOnly(typed)
	return nil
}
