package cli

import (
	"notaria/internal/language"
	"notaria/internal/terminal"
)

// Short names for what every command says things with.
var (
	cell    = terminal.Cell
	line    = terminal.Line
	columns = terminal.Columns
)

// plural counts things.
func plural(n int, one string) string { return language.Plural(n, one) }
