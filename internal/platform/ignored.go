package platform

import (
	"path"
	"regexp"
	"strings"
)

// An Ignored knows which files version control passes over (gitignore, "Pattern format").
type Ignored struct {
	tree  Tree
	lists map[string][]ignoring // by folder
	known map[string]bool
}

// ignoring is a line of a list.
type ignoring struct {
	pattern *regexp.Regexp // of the path from the list's folder
	again   bool           // what it matches is not passed over
	folders bool           // it means folders alone
}

// mostPatterns is how many lines of a list count.
const mostPatterns = 2000

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
			if (folder || !p.folders) && p.pattern.MatchString(below) {
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
			for _, line := range strings.SplitN(string(raw), "\n", mostPatterns) {
				if p, ok := ignoringOf(line); ok {
					out = append(out, p)
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
	var b strings.Builder
	b.WriteString("^")
	if !anchored {
		b.WriteString("(?:.*/)?")
	}
	for i := 0; i < len(line); i++ {
		switch c := line[i]; {
		case strings.HasPrefix(line[i:], "**/") && (i == 0 || line[i-1] == '/'):
			b.WriteString("(?:.*/)?")
			i += 2
		case line[i:] == "**" && i > 0 && line[i-1] == '/':
			b.WriteString(".*")
			i++
		case c == '*':
			b.WriteString("[^/]*")
		case c == '?':
			b.WriteString("[^/]")
		case c == '[':
			end := strings.IndexByte(line[i+1:], ']')
			if end < 1 {
				return p, false
			}
			class := line[i+1 : i+1+end]
			b.WriteString("[" + strings.NewReplacer(`\`, `\\`, "[", `\[`).Replace(strings.Replace(class, "!", "^", 1)) + "]")
			i += end + 1
		case c == '\\' && i+1 < len(line):
			i++
			b.WriteString(regexp.QuoteMeta(line[i : i+1]))
		default:
			b.WriteString(regexp.QuoteMeta(line[i : i+1]))
		}
	}
	re, err := regexp.Compile(b.String() + "$")
	p.pattern = re
	return p, err == nil && line != ""
}
