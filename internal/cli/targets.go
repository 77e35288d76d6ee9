package cli

import (
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/target/all"
)

func (a *app) targets() *cobra.Command {
	return &cobra.Command{
		Use:   "targets",
		Short: "List the platforms, and what Notaria cannot express on each",
		Args:  noArgs,
		RunE:  func(*cobra.Command, []string) error { return a.runTargets() },
	}
}

type targetDoc struct {
	Name    string   `json:"name"`
	Title   string   `json:"title"`
	Typed   string   `json:"typed"`
	Minimum string   `json:"minimum"`
	Cannot  []string `json:"cannot"`
}

func (a *app) runTargets() error {
	var list []targetDoc
	for _, t := range all.Targets {
		about := t.About()
		list = append(list, targetDoc{about.Name, about.Title, about.Typed, about.Minimum, about.Cannot})
	}
	if a.json {
		return a.printJSON(struct {
			Schema  string      `json:"schema"`
			Targets []targetDoc `json:"targets"`
		}{"notaria/targets/1", list})
	}
	for i, t := range list {
		if i > 0 {
			a.say("")
		}
		a.say("%s  %s", a.paint.strong(t.Name), t.Title)
		a.say("  faces are typed in: %s", t.Typed)
		a.say("  needs:              %s", t.Minimum)
		a.say("  cannot yet:         %s", strings.Join(t.Cannot, ", "))
	}
	return nil
}
