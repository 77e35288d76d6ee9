// Package headers says which HTTP headers the fonts of a site want: pages load those of the first view early (Link, RFC 8288, with
// preload), fonts stay in the browser's cache (Cache-Control, RFC 9111), and pages of another origin may use them (CORS).
package headers

import (
	"context"
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/lazy"
	"notaria/internal/notary"
	"notaria/internal/platform"
)

// A Wish is what a person said.
type Wish struct {
	Folder string // that a server gives out
	Under  string // the path that it is given out at, "/" for the whole site
	Origin string // of pages elsewhere that use the fonts, such as https://skerry.example; "" for none
}

// Headers are those of a site.
type Headers struct {
	Folder string  `json:"folder"`
	Pages  []Page  `json:"pages"`  // that load fonts early
	Left   int     `json:"left"`   // pages that load fonts early and are not listed, for they are too many
	Fonts  []Group `json:"fonts"`  // by folder and ending
	Origin string  `json:"origin"` // of pages elsewhere
	under  string
}

// A Page loads fonts early.
type Page struct {
	File  string   `json:"file"`  // from the folder
	Fonts []string `json:"fonts"` // from the folder
}

// A Group are the fonts of one folder that have one ending.
type Group struct {
	Folder string   `json:"folder"` // from the folder of the site, "" for itself
	Ending string   `json:"ending"` // with the dot
	Hashed bool     `json:"hashed"` // each has its content's hash in its name: what is under that name never changes
	Cache  string   `json:"cache"`  // Cache-Control
	Fonts  []string `json:"fonts"`
}

// How long browsers keep fonts: for a year without asking, where another content has another name; else for a day.
const (
	forever = "public, max-age=31536000, immutable"
	aDay    = "public, max-age=86400"
)

// mostPages is how many pages get headers of their own.
const mostPages = 100

var originForm = lazy.Regexp(`^https?://[A-Za-z0-9.-]+(?::\d{1,5})?$`)

// Collect looks at what a server gives out. The project, if there is one, says which faces its roles want early; pages also keep
// what their own links load early.
func Collect(ctx context.Context, w Wish, p *notary.Project, by platform.Prover) (*Headers, error) {
	if w.Origin != "" && !originForm.MatchString(w.Origin) {
		return nil, fault.Form(`expected an origin such as https://skerry.example for --pages-at, without a path, found %q`, w.Origin)
	}
	out, err := notary.OpenOutput(ctx, w.Folder)
	if err != nil {
		return nil, err
	}
	defer out.Close()
	loads, faces := by.Loads(out)
	h := &Headers{Folder: out.Path(), Pages: []Page{}, Fonts: groups(out.Files(), faces), Origin: w.Origin, under: "/" + strings.Trim(path.Clean("/"+w.Under), "/")}
	if len(h.Fonts) == 0 {
		return nil, &fault.Error{File: w.Folder, Expected: "fonts in what a server gives out", Found: "none", Cure: "build first, then name its folder: dist, build, out, _site …"}
	}
	early := earlyFaces(p)
	for _, l := range loads {
		if fonts := first(l, faces, early); len(fonts) > 0 && plain(l.Page) {
			h.Pages = append(h.Pages, Page{l.Page, fonts})
		}
	}
	slices.SortStableFunc(h.Pages, func(a, b Page) int { return strings.Count(a.File, "/") - strings.Count(b.File, "/") })
	if len(h.Pages) > mostPages {
		h.Left, h.Pages = len(h.Pages)-mostPages, h.Pages[:mostPages]
	}
	return h, ctx.Err()
}

// earlyFaces are the faces of roles that pages load early.
func earlyFaces(p *notary.Project) map[string]bool {
	early := map[string]bool{}
	if p == nil {
		return early
	}
	for _, name := range p.Registry.RoleNames() {
		if r := p.Registry.Roles[name].For("web"); r.Preloads() && !r.OnlyPixels() {
			early[r.Face] = true
		}
	}
	return early
}

// first are the fonts that a page loads early, each once. Browsers that know preload know WOFF 2: a WOFF beside it would be
// loaded for nothing.
func first(l platform.Load, faces map[string]face.Face, early map[string]bool) []string {
	list := slices.Clone(l.Early)
	for _, f := range l.Fonts {
		if known, ok := faces[f]; ok && early[known.ID()] && path.Ext(f) == ".woff2" {
			list = append(list, f)
		}
	}
	slices.Sort(list)
	return slices.DeleteFunc(slices.Compact(list), func(f string) bool { return !plain(f) })
}

// plain says whether a path has no characters that end a line in a server's settings.
func plain(name string) bool {
	return !strings.ContainsFunc(name, func(r rune) bool { return r < ' ' || r == 0x7f })
}

// endings are those of fonts that browsers read, with their media types (RFC 8081).
var endings = map[string]string{".woff2": "font/woff2", ".woff": "font/woff", ".ttf": "font/ttf", ".otf": "font/otf"}

func groups(files []string, faces map[string]face.Face) []Group {
	list := []Group{}
	at := map[string]int{}
	for _, f := range files {
		ending := path.Ext(f)
		if endings[ending] == "" || !plain(f) {
			continue
		}
		folder := path.Dir(f)
		if folder == "." {
			folder = ""
		}
		i, ok := at[folder+"\x00"+ending]
		if !ok {
			i = len(list)
			at[folder+"\x00"+ending] = i
			list = append(list, Group{Folder: folder, Ending: ending, Hashed: true, Cache: forever})
		}
		known, read := faces[f]
		if list[i].Fonts = append(list[i].Fonts, f); !read || !hashed(path.Base(f), known) {
			list[i].Hashed, list[i].Cache = false, aDay
		}
	}
	return list
}

var (
	hexPart   = lazy.Regexp(`^[0-9a-f]{8,64}$`)
	mixedPart = lazy.Regexp(`^[0-9A-Za-z]{8,32}$`)
	hashTail  = lazy.Regexp(`^[-._][0-9A-Za-z_-]{6,64}$`)
)

// hashed says whether a font's name holds a hash of its content: behind the name that it had, or as a part that is no part of
// what the face is called. Without proof it does not: what is kept for a year cannot be called back.
func hashed(base string, f face.Face) bool {
	stem := strings.TrimSuffix(base, path.Ext(base))
	if tail, ok := strings.CutPrefix(strings.ToLower(stem), strings.ToLower(platform.FileBase(f.ID()))); ok && hashTail.MatchString(tail) && !words.MatchString(tail) {
		return true
	}
	letters := func(s string) string { return strings.ToLower(notName.ReplaceAllString(s, "")) }
	called := letters(f.ID()) + " " + letters(f.Full) + " " + letters(f.Family)
	for _, part := range strings.FieldsFunc(stem, func(r rune) bool { return strings.ContainsRune("-._~", r) }) {
		digits := strings.ContainsAny(part, "0123456789") && strings.ContainsFunc(part, func(r rune) bool { return r < '0' || r > '9' })
		mixed := mixedPart.MatchString(part) && strings.ToLower(part) != part && strings.ToUpper(part) != part
		if digits && (hexPart.MatchString(part) || mixed) && !strings.Contains(called, letters(part)) {
			return true
		}
	}
	return false
}

var (
	notName = lazy.Regexp(`[^0-9A-Za-z]+`)
	words   = lazy.Regexp(`(?i)^(?:[-._](?:subset|latin|ext|webfont|variable|vf|normal|regular|italic|bold|cyrillic|greek|\d{1,4}))+$`)
)

// address is where a file of the folder is given out.
func (h *Headers) address(file string) string {
	return escaped(strings.TrimSuffix(h.under, "/") + "/" + file)
}

// escaped is a path in which only characters stand that have no meaning in any of the forms.
func escaped(s string) string {
	var b strings.Builder
	for i := range len(s) {
		if c := s[i]; c < 0x80 && strings.ContainsRune("/-._~@+ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789", rune(c)) {
			b.WriteByte(c)
		} else {
			fmt.Fprintf(&b, "%%%02X", c)
		}
	}
	return b.String()
}

// pattern is a regular expression for a path of the server, which it has decoded; what could have a meaning in its settings is any byte.
func (h *Headers) pattern(file string) string {
	name := strings.TrimSuffix(h.under, "/") + "/" + file
	var b strings.Builder
	for i := range len(name) {
		if c := name[i]; c < 0x80 && strings.ContainsRune("/-_~@ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789", rune(c)) {
			b.WriteByte(c)
		} else if c == '.' {
			b.WriteString(`\.`)
		} else {
			b.WriteByte('.')
		}
	}
	return b.String()
}
