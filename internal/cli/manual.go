package cli

import (
	"os"

	"github.com/spf13/cobra"
	"github.com/spf13/cobra/doc"
)

// manual writes the man pages, for those who package the program.
func (a *app) manual(root *cobra.Command) *cobra.Command {
	return &cobra.Command{
		Use:    "manual FOLDER",
		Short:  "Write the man pages into a folder",
		Hidden: true,
		Args:   atLeast("a folder"),
		RunE: func(_ *cobra.Command, args []string) error {
			if err := os.MkdirAll(args[0], 0o755); err != nil {
				return err
			}
			root.DisableAutoGenTag = true
			return doc.GenManTree(root, &doc.GenManHeader{Title: "NOTARIA", Section: "1", Source: "Notaria", Manual: "Notaria"}, args[0])
		},
	}
}
