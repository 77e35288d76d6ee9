package platform

import (
	"strings"

	"notaria/internal/edit"
	"notaria/internal/lazy"
)

// An EntryOwner is a platform that writes entries which name neither a font file nor generated code:
// OwnsEntry says whether an entry is of the form of one of these.
type EntryOwner interface{ OwnsEntry(edit.Entry) bool }

// generated is in the names of all generated code.
var generated = lazy.Regexp(`(?i)app[_-]?(?:type|text)`)

// fontIn finds a font file's name in a line.
var fontIn = lazy.Regexp(`(?i)\.(?:ttf|otf|ttc|otc|woff2?)\b`)

// CouldWrite says whether an entry is one that a platform can have written. A ledger is a
// claim that anybody can write: what it lists beyond this is not taken out of a manifest. syntax is the
// entry's; one that knows fonts alone writes nothing else.
func CouldWrite(e edit.Entry, syntax edit.Syntax, platforms []Platform) bool {
	if _, any := syntax.(edit.AnyEntry); !any || e.Value == "" { // what was made around entries goes only when it is empty
		return true
	}
	for _, p := range platforms {
		if o, ok := p.(EntryOwner); ok && o.OwnsEntry(e) {
			return true
		}
	}
	if e.Syntax == "plist" {
		return false // its key tells
	}
	return generated.MatchString(e.Value) || LooksLikeFont(strings.Trim(e.Value, `"');`)) || fontIn.MatchString(e.Value)
}
