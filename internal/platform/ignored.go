package platform

import (
	"path"
	"strings"
)

// An Ignored knows which files version control passes over (gitignore, "Pattern format").
type Ignored struct {
	tree  Tree
	lists map[string][]ignoring // by folder
	known map[string]bool
	lines int // of all lists
}

// ignoring is a line of a list.
type ignoring struct {
	pattern []string // of the path from the list's folder, by its parts
	again   bool     // what it matches is not passed over
	folders bool     // it means folders alone
}

// mostPatterns is how many lines of all lists count.
const mostPatterns = 10_000

// NewIgnored reads the lists of a tree when they are needed.
func NewIgnored(tree Tree) *Ignored {
	return &Ignored{tree: tree, lists: map[string][]ignoring{}, known: map[string]bool{}}
}

// Has says whether version control passes over a file: by a pattern, the last one that matches, or
// because it does so for a folder that the file is in.
func (g *Ignored) Has(file string) bool {
	for i := range len(file) {
		if file[i] == '/' && g.passes(file[:i], true) {
			return true
		}
	}
	return g.passes(file, false)
}

func (g *Ignored) passes(name string, folder bool) bool {
	if was, ok := g.known[name]; ok {
		return was
	}
	out := false
	for at := 0; at >= 0; {
		dir, below := "", name
		if at > 0 {
			dir, below = name[:at-1], name[at:]
		}
		for _, p := range g.list(dir) {
			if (folder || !p.folders) && MatchPath(p.pattern, strings.Split(below, "/"), matchPart) {
				out = !p.again
			}
		}
		next := strings.IndexByte(name[at:], '/')
		if next < 0 {
			break
		}
		at += next + 1
	}
	g.known[name] = out
	return out
}

func (g *Ignored) list(dir string) []ignoring {
	if l, ok := g.lists[dir]; ok {
		return l
	}
	var out []ignoring
	file := path.Join(dir, ".gitignore")
	if len(g.tree.Named(".gitignore")) > 0 {
		if raw, ok := g.tree.Glance(file, MostSource); ok {
			for line := range strings.Lines(string(raw)) {
				if p, ok := ignoringOf(strings.TrimSuffix(line, "\n")); ok && g.lines < mostPatterns {
					out, g.lines = append(out, p), g.lines+1
				}
			}
		}
	}
	g.lists[dir] = out
	return out
}

// ignoringOf reads a line of a list.
func ignoringOf(line string) (p ignoring, ok bool) {
	line = strings.TrimSuffix(line, "\r")
	if trimmed := strings.TrimRight(line, " "); !strings.HasSuffix(trimmed, `\`) {
		line = trimmed
	}
	if line == "" || line[0] == '#' || len(line) > 500 {
		return p, false
	}
	line, p.again = strings.CutPrefix(line, "!")
	line, p.folders = strings.CutSuffix(line, "/")
	anchored := strings.Contains(line, "/")
	line = strings.TrimPrefix(line, "/")
	if line == "" || strings.Count(line, "[") > strings.Count(line, "]") {
		return p, false
	}
	if !anchored {
		p.pattern = []string{"**"}
	}
	p.pattern = append(p.pattern, strings.Split(line, "/")...)
	if last := len(p.pattern) - 1; p.pattern[last] == "**" {
		p.pattern = append(p.pattern, "*") // what is in the folder, and not the folder
	}
	return p, true
}
