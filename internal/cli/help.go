package cli

import (
	"fmt"
	"strings"

	"github.com/spf13/cobra"
)

// ExitsKey is the annotation that holds a command's exit codes, as its help shows them.
const ExitsKey = "exits"

// ends says what the exit codes of a command mean: the first is done (0), the second what was found (1), "" where the
// command never finds anything.
var ends = map[string][2]string{
	"names":    {"the faces are listed", "a face lacks characters of --text"},
	"survey":   {"the apps are listed", ""},
	"enrol":    {"the faces are in the project", "with --dry-run: something would change; with --replace: an app is not served"},
	"register": {"every app has what notaria.toml asks for", "an app is not served; with --dry-run: something would change"},
	"check":    {"all well", "there are findings, see --fail-on; with --mend --dry-run: something would be mended"},
	"usage":    {"the lines are printed", ""},
	"swap":     {"the roles have the other faces", "an app is not served; with --dry-run: something would change"},
	"trace":    {"the places are listed", "the name appears nowhere"},
	"strike":   {"the faces are gone", "something could not be taken away; with --dry-run: something would change"},
	"targets":  {"the targets are listed", ""},
	"schema":   {"the schema is printed, or written", "with --dry-run: something would change"},
	"specimen": {"the text is drawn", ""},
	"measure":  {"the texts are measured", "a text does not fit, or a face lacks characters of it"},
	"compare":  {"the texts are compared", "texts do not fit any more, or characters are lost"},
	"label":    {"the picture is written", "the face lacks characters of the text"},
	"credits":  {"the credits are printed", "a face says neither its maker nor its licence"},
	"weigh":    {"the fonts are weighed", ""},
	"trim":     {"the file is written", ""},
	"headers":  {"the headers are printed", ""},
	"report":   {"the page is written", ""},
	"tokens":   {"the tokens are written, or taken", "tokens were skipped; with --dry-run: something would change"},
	"pixel":    {"the font is shown, or written", ""},
	"demo":     {"the story was told", ""},
}

// meant are commands for words that people type first.
var meant = map[string][]string{
	"enrol": {"add", "install", "init", "import", "new"}, "strike": {"remove", "rm", "delete", "uninstall"}, "survey": {"list", "ls", "status"},
	"register": {"apply", "sync", "link"}, "check": {"verify", "test", "lint", "doctor"}, "names": {"info", "inspect"},
}

// explained gives each command its exit codes, and the words that it is meant by.
func explained(root *cobra.Command) {
	for _, c := range root.Commands() {
		text := "0  " + ends[c.Name()][0]
		if found := ends[c.Name()][1]; found != "" {
			text += "\n1  " + found
		}
		c.Annotations = map[string]string{ExitsKey: text + "\n2  wrong use\n3  it could not be done"}
		c.SuggestFor = meant[c.Name()]
	}
	root.SetUsageFunc(func(c *cobra.Command) error {
		if _, err := fmt.Fprint(c.OutOrStderr(), usageOf(c)); err != nil {
			return err
		}
		return nil
	})
}

// usageOf is the part of a help that follows what the command does.
func usageOf(c *cobra.Command) string {
	var b strings.Builder
	block := func(title, text string) {
		if text = strings.TrimRight(text, " \n"); text != "" {
			if b.Len() > 0 {
				b.WriteByte('\n')
			}
			fmt.Fprintf(&b, "%s:\n%s\n", title, text)
		}
	}
	use := "  " + c.UseLine()
	if c.HasAvailableSubCommands() {
		use = "  " + c.CommandPath() + " COMMAND"
	}
	block("Usage", use)
	block("Examples", c.Example)
	if c.HasAvailableSubCommands() {
		var list string
		for _, sub := range c.Commands() {
			if sub.IsAvailableCommand() || sub.Name() == "help" {
				list += fmt.Sprintf("  %-11s %s\n", sub.Name(), sub.Short)
			}
		}
		block("Commands", list)
	}
	block("Flags", c.LocalFlags().FlagUsages())
	block("Flags of all commands", c.InheritedFlags().FlagUsages())
	block("Exit codes", indent(c.Annotations[ExitsKey]))
	if c.HasAvailableSubCommands() {
		fmt.Fprintf(&b, "\nMore about a command: %s COMMAND --help\n", c.CommandPath())
	}
	return b.String()
}

func indent(text string) string {
	if text == "" {
		return ""
	}
	return "  " + strings.ReplaceAll(text, "\n", "\n  ")
}
