// Manual writes Notaria's man pages into a folder, for those who package the program:
//
//	go run ./cmd/manual FOLDER
package main

import (
	"os"

	"notaria/internal/cli/manpages"
)

func main() { os.Exit(manpages.Main(os.Args[1:], os.Stderr)) }
