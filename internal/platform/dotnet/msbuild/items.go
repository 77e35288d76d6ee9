// Package msbuild knows what the project files of .NET mean: which items take a file
// in, and the calls in a MauiProgram.cs.
package msbuild

import (
	"path"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/splice"
	"notaria/internal/edit/xmldoc"
	"notaria/internal/platform"
)

// mostDepth is how deep a wildcard's folders may nest.
const mostDepth = 64

// ItemPlace is the place of an item of a kind, such as MauiFont: among those of its
// kind, else in a group of its own.
func ItemPlace(kind string) edit.Place {
	return edit.Place{Kind: xmldoc.KindGrouped, Name: kind, Attribute: "Include", Path: []string{"ItemGroup"}}
}

// ItemValue is a file as an item names it.
func ItemValue(rel string) string { return strings.ReplaceAll(rel, "/", `\`) }

// MergedPlace is the place of a dictionary among those that the resources of an
// application merge.
func MergedPlace() edit.Place {
	return edit.Place{Kind: xmldoc.KindNested, Name: "ResourceDictionary", Attribute: "Source",
		Path: []string{"Application.Resources", "ResourceDictionary", "ResourceDictionary.MergedDictionaries"}}
}

// An Item is an element of an ItemGroup that takes files in.
type Item struct {
	Name, Include string // Include with slashes
	Link          string // where the app has a file of another folder, with slashes; "" for its name alone
	Line          int
	Without       []string // what it leaves out: its own Exclude, and what a later item removes; with slashes
}

// InApp is the path under which the app has a file that the item takes in from outside of the
// project's folder.
func (i Item) InApp(file string) string {
	base := path.Base(file)
	if i.Link == "" {
		return base
	}
	ext := path.Ext(base)
	return strings.NewReplacer("%(Filename)", strings.TrimSuffix(base, ext), "%(Extension)", ext, "%(RecursiveDir)", "").Replace(i.Link)
}

// Covers says whether the item takes a file in, by name or by a wildcard.
func (i Item) Covers(file string) bool {
	for _, w := range i.Without {
		if wildcard(w, file) {
			return false
		}
	}
	for _, p := range strings.Split(i.Include, ";") {
		if wildcard(strings.TrimSpace(p), file) {
			return true
		}
	}
	return false
}

// Root is the folder of the tree below which are all files that the item can take in, for a project
// file in a folder: above that for ..\shared\*.
func (i Item) Root(dir string) string {
	for _, p := range strings.Split(i.Include, ";") {
		for rest, up := strings.CutPrefix(strings.TrimSpace(p), "../"); up; rest, up = strings.CutPrefix(rest, "../") {
			if dir = path.Dir(dir); dir == "." {
				return ""
			}
		}
	}
	return dir
}

// wildcard matches as the build does: * within a folder, ** across folders, and
// without regard to capitals.
func wildcard(pattern, name string) bool {
	if !strings.ContainsAny(pattern, "*?") {
		return strings.EqualFold(pattern, name)
	}
	if strings.HasPrefix(name, "../") && !strings.HasPrefix(pattern, "..") && !strings.HasPrefix(pattern, "*") {
		return false // most files of a large tree
	}
	pattern, name = strings.ToLower(pattern), strings.ToLower(name)
	p := strings.Split(pattern, "/")
	return len(p) <= mostDepth && platform.MatchPath(p, strings.Split(name, "/"), part)
}

// part matches one folder's or file's name with stars and question marks.
func part(p, s string) bool {
	star, back := -1, 0
	i, k := 0, 0
	for k < len(s) {
		switch {
		case i < len(p) && (p[i] == s[k] || p[i] == '?') && p[i] != '*':
			i++
			k++
		case i < len(p) && p[i] == '*':
			star, back = i, k
			i++
		case star >= 0:
			back++
			i, k = star+1, back
		default:
			return false
		}
	}
	return strings.Trim(p[i:], "*") == ""
}

// linkOf is an item's Link, an attribute or an element.
func linkOf(text []byte, c *xmldoc.Element) string {
	if child := c.Child("Link"); child != nil && !child.Empty {
		return strings.TrimSpace(string(text[child.Open:child.Close]))
	}
	return c.Attr["Link"]
}

// Items lists what a project file's ItemGroups take in.
func Items(doc edit.Document) ([]Item, error) {
	root, err := xmldoc.Parse(doc)
	if err != nil {
		return nil, err
	}
	var out []Item
	line := splice.Liner(doc.Text)
	for _, g := range root.Children {
		if g.Name != "ItemGroup" {
			continue
		}
		for _, c := range g.Children {
			if inc := c.Attr["Include"]; inc != "" {
				out = append(out, Item{c.Name, xmldoc.Slashes(inc), xmldoc.Slashes(linkOf(doc.Text, c)), line(c.From), parts(c.Attr["Exclude"])})
			}
			if removed := parts(c.Attr["Remove"]); removed != nil {
				for i := range out {
					if out[i].Name == c.Name {
						out[i].Without = append(out[i].Without, removed...)
					}
				}
			}
		}
	}
	return out, nil
}

// parts are the patterns of a list, with slashes.
func parts(list string) []string {
	var out []string
	for _, p := range strings.Split(xmldoc.Slashes(list), ";") {
		if p = strings.TrimSpace(p); p != "" {
			out = append(out, p)
		}
	}
	return out
}
