package platform

import (
	"runtime"
	"slices"
	"sync"

	"notaria/internal/face"
)

// A Namesake is a target on which faces have the same names as on another: they are made once for both.
type Namesake interface{ NamedAs() Platform }

// Names are what to type for each face, in order, by the name of the target.
type Names map[string][]string

// NamesOn makes the names of faces on several targets.
func NamesOn(faces []face.Face, targets []Platform) Names {
	out := make([][]string, len(targets))
	var wait sync.WaitGroup
	next := make(chan int)
	for range min(runtime.GOMAXPROCS(0), len(targets)) {
		wait.Go(func() {
			for i := range next {
				out[i] = targets[i].Type(faces)
			}
		})
	}
	first := map[Platform]int{} // of those that name faces alike
	same := make([]int, len(targets))
	for i, t := range targets {
		if n, ok := t.(Namesake); ok {
			t = n.NamedAs()
		}
		if k, ok := first[t]; ok {
			same[i] = k
			continue
		}
		first[t], same[i] = i, i
		next <- i
	}
	close(next)
	wait.Wait()
	names := Names{}
	for i, t := range targets {
		names[t.About().Name] = out[same[i]]
	}
	return names
}

// A Block is the strings of one kind of name, and the platforms that take them.
type Block struct {
	Kind      Naming
	Platforms []About
	Strings   []string // by face
}

// Blocks turns what each platform takes into what each kind of name serves.
func Blocks(faces []face.Face, targets []Platform) []Block {
	names := NamesOn(faces, targets)
	var out []Block
	for _, t := range targets {
		about := t.About()
		list := names[about.Name]
		i := slices.IndexFunc(out, func(b Block) bool { return b.Kind == about.Kind && slices.Equal(b.Strings, list) })
		if i < 0 {
			i = len(out)
			out = append(out, Block{Kind: about.Kind, Strings: list})
		}
		out[i].Platforms = append(out[i].Platforms, about)
	}
	return out
}
