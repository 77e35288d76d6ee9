package platform

import (
	"slices"
	"strings"
)

// A Showing is one way in which an app's code, markup or styles show a role.
type Showing struct {
	In   string // the language or the toolkit, for people: "SwiftUI", "layout XML"
	Code string // what is written there; 07:40 stands for the app's own text, label for its own element
}

// Way is a Showing of any role: {words} in its code stand for the role's name there.
func Way(in, code string) Showing { return Showing{in, code} }

// Ways fills in how a role is shown: names are, for each word in braces, the names of all roles in their order. It is
// nil for a role that is not among them.
func Ways(roles []Role, role string, names map[string][]string, ways ...Showing) []Showing {
	at := slices.IndexFunc(roles, func(r Role) bool { return r.Name == role })
	if at < 0 {
		return nil
	}
	pairs := []string{"{role}", role}
	for word, list := range names {
		pairs = append(pairs, "{"+word+"}", list[at])
	}
	fill := strings.NewReplacer(pairs...)
	out := make([]Showing, len(ways))
	for i, w := range ways {
		out[i] = Showing{w.In, fill.Replace(w.Code)}
	}
	return out
}

// ClassWords are the style classes of roles, and beginnings of classes that are put together.
func ClassWords(roles []Role) []string {
	out := []string{"type-$", "type-'", `type-"`, "type-`", "type-{", "type-<", "type-#", "type-%"}
	for _, r := range roles {
		out = append(out, "type-"+r.Name)
	}
	return out
}

// Worded puts words in front of and behind names.
func Worded(before string, names []string, behind string) []string {
	out := make([]string, len(names))
	for i, n := range names {
		out[i] = before + n + behind
	}
	return out
}

// Holds says whether a source of the app, by its ending, holds a text: which of two toolkits an app is written with.
func (b Base) Holds(text string, endings ...string) bool {
	for _, f := range b.Tree.Under(b.Dir) {
		if !slices.ContainsFunc(endings, func(e string) bool { return strings.HasSuffix(f, e) }) {
			continue
		}
		if raw, ok := b.Tree.Glance(f, MostSource); ok && strings.Contains(string(raw), text) && !IsGenerated(raw) {
			return true
		}
	}
	return false
}
