package cli

import (
	"fmt"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/audit"
	"notaria/internal/notary"
	"notaria/internal/platform/all"
	"notaria/internal/registry"
)

// onlyFlag takes the targets and apps that a command is about.
func onlyFlag(c *cobra.Command, to *[]string) {
	c.Flags().StringSliceVar(to, "only", nil, "only these `targets or apps`, by name or by path, with commas or repeated: see notaria targets and survey")
}

// only reads what --only names in a project.
func only(p *notary.Project, typed []string) (notary.Only, error) {
	if len(typed) == 0 {
		return notary.Only{}, nil
	}
	return p.NewOnly(typed, all.Platforms)
}

// sayOnly ends an answer that is about some apps alone.
func (a *app) sayOnly(typed []string) {
	if len(typed) > 0 {
		a.Say("%s", a.Paint.Faint(fmt.Sprintf("Only %s: the other apps of the project are not in this answer.", strings.Join(typed, ", "))))
	}
}

// of leaves the findings about chosen apps, and those about no app.
func of(o notary.Only, list []audit.Finding) []audit.Finding {
	if o.All() {
		return list
	}
	return slices.DeleteFunc(slices.Clone(list), func(f audit.Finding) bool {
		return f.Target != "" && !o.Takes(registry.Owner{Target: f.Target, App: f.Site})
	})
}
