package audit

import (
	"bytes"
	"path"
	"strings"

	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/registry"
)

// searching looks for the names of the fonts that apps have by hand, in all files of the project that
// could hold code, markup or styles, but for the manifests that say which fonts there are, and what
// Notaria wrote. An app's parts can be in folders beside it: a font counts as used wherever one of its
// names is.
type searching struct {
	names     []searchedName
	begins    [1 << 16]bool     // whether a name begins with two bytes, in small letters
	by        map[[3]byte][]int // names by their first three bytes, in small letters
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
	s := &searching{by: map[[3]byte][]int{}, manifests: map[string]bool{registry.FileName: true, registry.LedgerName: true, KnownFile: true}}
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

// at says whether a text begins with the name: a family's of several words in any capitals, as many platforms and
// libraries take it.
func (n searchedName) at(text []byte) bool {
	if len(text) < len(n.name) {
		return false
	}
	text = text[:len(n.name)]
	return string(text) == n.name || strings.Contains(n.name, " ") && strings.EqualFold(string(text), n.name)
}

// small is a letter of ASCII without regard to capitals.
func small(b byte) byte {
	if 'A' <= b && b <= 'Z' {
		return b + 'a' - 'A'
	}
	return b
}

func (s *searching) add(name []byte, site, font string) {
	first := [3]byte{small(name[0]), small(name[1]), small(name[2])}
	s.begins[int(first[0])<<8|int(first[1])] = true
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
		a, b := small(text[i]), small(text[i+1])
		if !s.begins[int(a)<<8|int(b)] {
			continue
		}
		for _, n := range s.by[[3]byte{a, b, small(text[i+2])}] {
			if !once[n] && s.names[n].at(text[i:]) {
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

// data says whether a file of another kind can be one that an app reads, and that names its fonts: not what people read.
func data(file string) bool {
	ext := strings.ToLower(path.Ext(file))
	return (ext == ".txt" || ext == ".lst" || ext == ".def" || ext == ".rc") && !aboutFonts.MatchString(path.Base(file))
}

var aboutFonts = lazy.Regexp(`(?i)readme|licen[cs]e|copying|authors|credits|changelog|news|install|todo|thanks`)

// rest looks through the files that are no sources of an app, if there are fonts left.
func (s *searching) rest(a *pass) {
	if !s.left(a) {
		return
	}
	for _, file := range a.p.Tree.Under("") {
		l := language.Of(file)
		if ext := path.Ext(file); l == nil && !askingFiles[ext] && !data(file) || platform.IsTest(file) {
			continue
		}
		text, ok := a.p.Tree.Glance(file, mostSource)
		if ok && !platform.IsGenerated(text) {
			s.mark(a, s.in(file, l, text, true))
		}
	}
}
