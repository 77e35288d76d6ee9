package web

import (
	"path"
	"slices"
	"strings"
	"unicode"

	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

var (
	element   = lazy.Regexp(`<([A-Za-z][\w.-]*)\s((?:[^<>"'{}]|"[^"]*"|'[^']*'|\{[^{}]*\})*)>`)
	ofElement = lazy.Regexp(`(?:^|\s)(id|class|className)\s*=\s*\{?\s*["'\x60]([^"'\x60]*)["'\x60]`)
	compound  = lazy.Regexp(`[\s>+~]+`)
	simple    = lazy.Regexp(`([.#]?)([\w-]+|\*)`)
	notSimple = lazy.Regexp(`\[[^\]]*\]|::?[\w-]+(?:\([^()]*\))?`)
)

// dressed are the elements of the site's pages and scripts that have the class of a role, each as its name, "#" and its id,
// and its classes.
func (s *site) dressed() []string {
	var list []string
	for _, f := range s.Tree.Under(s.Dir) {
		l := language.Of(f)
		if rel, _ := s.Rel(f); !slices.Contains(pages, l) && !slices.Contains(script, l) || s.output(path.Dir(rel)) {
			continue
		}
		if raw, ok := s.Tree.Glance(f, platform.MostSource); ok && strings.Contains(string(raw), "type-") {
			list = append(list, dressedIn(l.Blank(raw))...)
		}
	}
	slices.Sort(list)
	return slices.Compact(list)
}

func dressedIn(text []byte) []string {
	var list []string
	for _, m := range element.FindAllSubmatch(text, -1) {
		words, id, role := []string{string(m[1])}, "#", false
		for _, a := range ofElement.FindAllSubmatch(m[2], -1) {
			if string(a[1]) == "id" {
				id = "#" + string(a[2])
				continue
			}
			for _, w := range strings.Fields(string(a[2])) {
				words, role = append(words, w), role || strings.HasPrefix(w, "type-")
			}
		}
		if role {
			list = append(list, strings.Join(slices.Insert(words, 1, id), " "))
		}
	}
	return list
}

// fits says whether the last part of a selector can be of an element: a component of a framework can become any.
func fits(selector, element string) bool {
	parts := compound.Split(notSimple.ReplaceAllString(selector, ""), -1)
	words := strings.Split(element, " ")
	for _, m := range simple.FindAllStringSubmatch(parts[len(parts)-1], -1) {
		switch {
		case m[2] == "*":
		case m[1] == "" && !strings.EqualFold(m[2], words[0]) && !unicode.IsUpper(rune(words[0][0])),
			m[1] == "#" && "#"+m[2] != words[1],
			m[1] == "." && !slices.Contains(words[2:], m[2]):
			return false
		}
	}
	return true
}
