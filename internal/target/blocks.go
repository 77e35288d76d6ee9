package target

import (
	"slices"

	"notaria/internal/face"
)

// A Block is the strings of one kind of name, and the platforms that take them.
type Block struct {
	Kind    Naming
	Targets []About
	Strings []string // by face
}

// Blocks turns what each platform takes into what each kind of name serves.
func Blocks(faces []face.Face, targets []Target) []Block {
	var out []Block
	for _, t := range targets {
		about := t.About()
		var list []string
		for _, f := range faces {
			list = append(list, f.Type[about.Name])
		}
		i := slices.IndexFunc(out, func(b Block) bool { return b.Kind == about.Kind && slices.Equal(b.Strings, list) })
		if i < 0 {
			i = len(out)
			out = append(out, Block{Kind: about.Kind, Strings: list})
		}
		out[i].Targets = append(out[i].Targets, about)
	}
	return out
}
