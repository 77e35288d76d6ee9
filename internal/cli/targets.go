package cli

import (
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/target"
	"notaria/internal/target/all"
)

func (a *app) targets() *cobra.Command {
	return &cobra.Command{
		Use:   "targets",
		Short: "List the platforms, their options, and what Notaria cannot express on each",
		Long: `List the platforms, what each needs, what Notaria cannot express on it, and its
options: keys of the table [target.NAME] in notaria.toml.`,
		Args: noArgs,
		RunE: func(*cobra.Command, []string) error { return a.runTargets() },
	}
}

type targetDoc struct {
	Name    string   `json:"name"`
	Title   string   `json:"title"`
	Typed   string   `json:"typed"`
	Minimum string   `json:"minimum"`
	Cannot  []string `json:"cannot"`
	// Options are the keys of [target.NAME] in notaria.toml.
	Options []optionDoc `json:"options"`
}

type optionDoc struct {
	Key  string `json:"key"`
	Kind string `json:"kind"` // "word", "list" or "choice"
	Help string `json:"help"`
}

func (a *app) runTargets() error {
	var list []targetDoc
	for _, t := range all.Targets {
		about := t.About()
		d := targetDoc{about.Name, about.Title, about.Typed, about.Minimum, about.Cannot, []optionDoc{}}
		for _, o := range append(about.Options, target.Option{Key: target.LeaveOut, Kind: "list", Help: "paths of apps that are not served, as survey shows them"}) {
			d.Options = append(d.Options, optionDoc(o))
		}
		list = append(list, d)
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
		a.say("  cannot:             %s", strings.Join(t.Cannot, ", "))
		for _, o := range t.Options {
			a.say("  %-19s %s", o.Key+" =", o.Help)
		}
	}
	return nil
}
