package audit

import (
	"bytes"
	"context"
	"path"
	"strings"
	"sync/atomic"

	"golang.org/x/sync/errgroup"

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
	places    map[string]int    // of names
	done      map[string]bool   // files that were looked through
	begins    [1 << 16]bool     // whether a name may begin with three bytes, in small letters
	by        map[[3]byte][]int // names by their first three bytes, in small letters
	manifests map[string]bool
}

// searchedName is a name of fonts, each of an app.
type searchedName struct {
	name string
	of   []fontOfSite
}

type fontOfSite struct{ site, font string }

// shortestName is how long a name is that is looked for, in bytes.
const shortestName = 3

// searchFor are the names of the fonts of all apps whose code is read.
func (a *pass) searchFor(askers []asker) *searching {
	s := &searching{by: map[[3]byte][]int{}, places: map[string]int{}, done: map[string]bool{}, manifests: map[string]bool{registry.FileName: true, registry.LedgerName: true, KnownFile: true}}
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
				s.add(string(n), key, c.File)
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
			s.add(string(n), enrolled, e.File)
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

// spread is a place for three bytes, which others can have, too.
func spread(a, b, c byte) uint16 { return uint16(a)<<8 ^ uint16(b)<<4 ^ uint16(c)*31 }

// small is a letter of ASCII without regard to capitals.
func small(b byte) byte {
	if b-'A' < 26 {
		b += 'a' - 'A'
	}
	return b
}

func (s *searching) add(name string, site, font string) {
	if at, known := s.places[name]; known {
		s.names[at].of = append(s.names[at].of, fontOfSite{site, font})
		return
	}
	s.places[name] = len(s.names)
	first := [3]byte{small(name[0]), small(name[1]), small(name[2])}
	s.begins[spread(first[0], first[1], first[2])] = true
	s.by[first] = append(s.by[first], len(s.names))
	s.names = append(s.names, searchedName{name, []fontOfSite{{site, font}}})
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
	if len(text) < shortestName {
		return nil
	}
	a, b := small(text[0]), small(text[1])
	for i := 0; i+shortestName <= len(text); i++ {
		c := small(text[i+2])
		first := [3]byte{a, b, c}
		may := s.begins[spread(a, b, c)]
		if a, b = b, c; !may {
			continue
		}
		for _, n := range s.by[first] {
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
		for _, f := range s.names[n].of {
			a.used[f.site][f.font] = true
		}
	}
}

// onlyLeft looks for the names of the fonts that were not found yet.
func (s *searching) onlyLeft(a *pass) *searching {
	out := &searching{by: map[[3]byte][]int{}, places: map[string]int{}, manifests: s.manifests}
	for _, n := range s.names {
		for _, f := range n.of {
			if !a.used[f.site][f.font] {
				out.add(n.name, f.site, f.font)
			}
		}
	}
	return out
}

// data says whether a file of another kind can be one that an app reads, and that names its fonts: not what people read.
func data(file string) bool {
	ext := strings.ToLower(path.Ext(file))
	return (ext == ".txt" || ext == ".lst" || ext == ".def" || ext == ".rc") && !aboutFonts.MatchString(path.Base(file))
}

var aboutFonts = lazy.Regexp(`(?i)readme|licen[cs]e|copying|authors|credits|changelog|news|install|todo|thanks`)

// rest looks through the files that are no sources of an app, if there are fonts left: for these alone, and in several
// files at a time.
func (s *searching) rest(ctx context.Context, a *pass) error {
	left := s.onlyLeft(a)
	if len(left.names) == 0 {
		return nil
	}
	var files []string
	for _, file := range a.p.Tree.Under("") {
		l := language.Of(file)
		if s.done[file] || l == nil && !askingFiles[path.Ext(file)] && !data(file) || platform.IsTest(file) {
			continue
		}
		files = append(files, file)
	}
	hits := make([][]int, len(files))
	err := a.eachOf(ctx, len(files), func(i int) {
		text, ok := a.p.Tree.Glance(files[i], mostSource)
		if ok && !platform.IsGenerated(text) {
			hits[i] = left.in(files[i], language.Of(files[i]), text, true)
		}
	})
	for _, h := range hits {
		left.mark(a, h)
	}
	return err
}

// eachOf does n things, several at a time.
func (a *pass) eachOf(ctx context.Context, n int, do func(int)) error {
	g, ctx := errgroup.WithContext(ctx)
	var next atomic.Int64
	for range a.workers() {
		g.Go(func() error {
			for i := int(next.Add(1)) - 1; i < n; i = int(next.Add(1)) - 1 {
				if err := ctx.Err(); err != nil {
					return err
				}
				do(i)
			}
			return nil
		})
	}
	return g.Wait()
}
