package audit

import (
	"bytes"
	"path"

	"notaria/internal/language"
	"notaria/internal/platform"
	"notaria/internal/registry"
)

// searching looks for the names of the fonts that apps have by hand, in all files of the project that
// could hold code, markup or styles, but for the manifests that say which fonts there are, and what
// Notaria wrote. An app's parts can be in folders beside it: a font counts as used wherever one of its
// names is.
type searching struct {
	names     []searchedName
	begins    [1 << 16]bool    // whether a name begins with two bytes
	by        map[string][]int // names by their first three bytes
	manifests map[string]bool
}

// searchedName is a name of a font of an app.
type searchedName struct {
	name, site, font string
}

// shortestName is how long a name is that is looked for, in bytes.
const shortestName = 3

// searchFor are the names of the fonts of all apps whose code is read.
func (a *pass) searchFor(askers []asker) *searching {
	s := &searching{by: map[string][]int{}, manifests: map[string]bool{registry.FileName: true, registry.LedgerName: true, KnownFile: true}}
	for _, k := range askers {
		key := siteKey(k.site)
		a.searched[key], a.used[key] = true, map[string]bool{}
		for _, h := range a.held[key] {
			s.manifests[h.Manifest] = true
		}
		for _, c := range a.carriedBy(k.site) {
			if c.planned || a.placedByNotaria(c.File) {
				continue
			}
			for _, n := range namesOf(c) {
				s.add(n, key, c.File)
			}
		}
	}
	a.used[enrolled], a.searched[enrolled] = map[string]bool{}, true
	for _, e := range a.p.Registry.Faces {
		f, err := a.p.Face(e.Name)
		if err != nil {
			continue
		}
		for _, n := range namesOf(carried{face: f, Held: platform.Held{File: e.File, Alias: language.Snake(language.Words(e.Name))}}) {
			s.add(n, enrolled, e.File)
		}
	}
	return s
}

// enrolled stands for no app, and for the faces of notaria.toml.
const enrolled = ""

func (s *searching) add(name []byte, site, font string) {
	s.begins[int(name[0])<<8|int(name[1])] = true
	first := string(name[:shortestName])
	s.by[first] = append(s.by[first], len(s.names))
	s.names = append(s.names, searchedName{string(name), site, font})
}

// in finds which names are in a text of the project; raw says that comments are still in it. It changes
// nothing.
func (s *searching) in(file string, l *language.Language, text []byte, raw bool) []int {
	if len(s.names) == 0 || s.manifests[file] && !asksToo[l] || path.Base(file) == "Info.plist" {
		return nil
	}
	hits := s.find(text)
	if len(hits) > 0 && (raw && l != nil || bytes.Contains(text, []byte("@font-face"))) {
		hits = s.find(withoutDeclarations(l, text))
	}
	return hits
}

func (s *searching) find(text []byte) []int {
	var hits []int
	var once map[int]bool
	for i := 0; i+shortestName <= len(text); i++ {
		if !s.begins[int(text[i])<<8|int(text[i+1])] {
			continue
		}
		for _, n := range s.by[string(text[i:i+shortestName])] {
			if !once[n] && bytes.HasPrefix(text[i:], []byte(s.names[n].name)) {
				if once == nil {
					once = map[int]bool{}
				}
				once[n] = true
				hits = append(hits, n)
			}
		}
	}
	return hits
}

// mark notes that fonts are used.
func (s *searching) mark(a *pass, hits []int) {
	for _, n := range hits {
		a.used[s.names[n].site][s.names[n].font] = true
	}
}

// left says whether there are fonts that were not found yet.
func (s *searching) left(a *pass) bool {
	for _, n := range s.names {
		if !a.used[n.site][n.font] {
			return true
		}
	}
	return false
}

// rest looks through the files that are no sources of an app, if there are fonts left.
func (s *searching) rest(a *pass) {
	if !s.left(a) {
		return
	}
	for _, file := range a.p.Tree.Under("") {
		l := language.Of(file)
		if ext := path.Ext(file); l == nil && !askingFiles[ext] || platform.IsTest(file) {
			continue
		}
		text, ok := a.p.Tree.Glance(file, mostSource)
		if ok && !platform.IsGenerated(text) {
			s.mark(a, s.in(file, l, text, true))
		}
	}
}
