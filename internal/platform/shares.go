package platform

import (
	"bytes"
	"encoding/json"
	"path"
	"slices"
	"strings"

	"notaria/internal/language"
)

// A Share is a folder of the project beside an app which is built into it: a module, a package of the workspace, a class
// library. Uses are those ways of asking for fonts that mean the same there as in the app.
type Share struct {
	Folder string
	Uses   []Use
}

// A Sharer is an app that knows of such folders. One that brings fonts of its own is none of them: what its code asks for
// can be these.
type Sharer interface{ Shares() []Share }

// mostShares is how many folders are followed from one app.
const mostShares = 100

// Reach are the folders that one leads to, by the steps that next knows, each once and without the first.
func Reach(from string, next func(dir string) []string) []string {
	out := []string{from}
	for i := 0; i < len(out) && len(out) < mostShares; i++ {
		for _, dir := range next(out[i]) {
			if !slices.Contains(out, dir) && len(out) < mostShares {
				out = append(out, dir)
			}
		}
	}
	return out[1:]
}

// Sharing makes shares of folders that are outside of an app's, that are nobody else's, and in whose sources none of some
// words are: those that bring fonts.
func Sharing(tree Tree, app string, folders []string, uses []Use, bring ...string) []Share {
	var out []Share
	for _, dir := range folders {
		if _, inside := Below(app, dir+"/"); inside || NotOwn(dir) || holdsWord(tree, dir, bring) {
			continue
		}
		out = append(out, Share{dir, uses})
	}
	return out
}

func holdsWord(tree Tree, dir string, words []string) bool {
	for _, f := range tree.Under(dir) {
		if LooksLikeFont(f) {
			return true
		}
		if language.Of(f) == nil && path.Ext(f) != ".yaml" {
			continue
		}
		if raw, ok := tree.Glance(f, MostSource); ok && slices.ContainsFunc(words, func(w string) bool { return bytes.Contains(raw, []byte(w)) }) {
			return true
		}
	}
	return false
}

// Workspace are the folders of the project's own packages that a package depends on, with what these depend on.
func Workspace(tree Tree, dir string) []string {
	return Reach(dir, func(dir string) []string {
		var out []string
		for dep := range Dependencies(tree, dir) {
			for _, f := range tree.Named("package.json") {
				if at := Folder(f); path.Base(at) == path.Base(dep) || strings.HasSuffix(path.Base(dep), "-"+path.Base(at)) {
					if packageName(tree, f) == dep {
						out = append(out, at)
					}
				}
			}
		}
		slices.Sort(out)
		return out
	})
}

func packageName(tree Tree, file string) string {
	raw, err := tree.Read(file)
	var p struct {
		Name string `json:"name"`
	}
	if err != nil || json.Unmarshal(WithoutMark(raw), &p) != nil {
		return ""
	}
	return p.Name
}

// PlainUses are those whose names do not count from a folder.
func PlainUses(uses []Use, kinds ...string) []Use {
	return slices.DeleteFunc(slices.Clone(uses), func(u Use) bool { return u.Kind != "" && !slices.Contains(kinds, u.Kind) })
}
