// Notaria makes an app really use the fonts that its developer downloaded.
package main

import (
	"os"

	"notaria/internal/cli"
)

func main() { os.Exit(cli.Execute(os.Args[1:], os.Stdin, os.Stdout, os.Stderr)) }
