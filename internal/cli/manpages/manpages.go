// Package manpages writes the man pages of all commands. It is a package, and a command, of its
// own because the program itself has no use for what writes them.
package manpages

import (
	"fmt"
	"io"
	"os"
	"strings"

	"github.com/spf13/cobra/doc"

	"notaria/internal/cli"
)

// Main is the command: its argument is the folder. It returns the exit code.
func Main(args []string, errOut io.Writer) int {
	err := write(args)
	if err != nil {
		fmt.Fprintln(errOut, "manual:", err)
		return 2
	}
	return 0
}

func write(args []string) error {
	if len(args) != 1 {
		return fmt.Errorf("expected one folder, found %d arguments; usage: manual FOLDER", len(args))
	}
	if err := os.MkdirAll(args[0], 0o755); err != nil {
		return err
	}
	root := cli.Commands()
	root.DisableAutoGenTag = true
	for _, c := range root.Commands() {
		if exits := c.Annotations[cli.ExitsKey]; exits != "" {
			c.Long += "\n\nExit codes:\n\n    " + strings.ReplaceAll(exits, "\n", "\n    ")
		}
	}
	return doc.GenManTree(root, &doc.GenManHeader{Title: "NOTARIA", Section: "1", Source: "Notaria", Manual: "Notaria"}, args[0])
}
