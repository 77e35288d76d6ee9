package platform

import (
	"path"
	"slices"
	"strings"
)

// Spelled is a path as the tree spells it: each folder of it, and its file, that is there under a
// name which differs by capitals alone has that name. On the disks of most Macs and of Windows
// both names are one, so no second one may be made. What is not there keeps its spelling.
func Spelled(tree Tree, name string) string {
	at := ""
	for _, part := range strings.Split(path.Clean(name), "/") {
		next := path.Join(at, part)
		if part != ".." && !there(tree, next) {
			next = path.Join(at, besideByCapitals(tree, at, part))
		}
		at = next
	}
	return at
}

// there says whether a path is a file of the tree, or a folder with one.
func there(tree Tree, name string) bool {
	return slices.Contains(tree.Named(path.Base(name)), name) || len(tree.Under(name)) > 0
}

// besideByCapitals is the first name in a folder that differs from a name by capitals alone, or
// the name itself.
func besideByCapitals(tree Tree, dir, name string) string {
	for _, f := range tree.Under(dir) {
		rest, _ := Below(dir, f)
		if first, _, _ := strings.Cut(rest, "/"); strings.EqualFold(first, name) {
			return first
		}
	}
	return name
}
