// Package asked finds which faces an app's code asks services and packages for, and where their files are on this disk:
// in a package of node_modules, in a cache of packages, in a kit of styles beside the page. Nothing is fetched.
package asked

import (
	"bytes"
	"context"
	"encoding/json"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"notaria/internal/face"
	"notaria/internal/intake"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/notary"
	"notaria/internal/platform"
)

// A Wish is a face that code asks for, with the file that has it.
type Wish struct {
	platform.Ask
	Found string `json:"found"` // "" if it is not on this disk; from the project's folder where it is below it
	Part  bool   `json:"part"`  // the file holds a part of Unicode: other parts are in other files
}

// An Answer is all of them, and the faces that were found, each once.
type Answer struct {
	Wishes []Wish
	Haul   intake.Haul
}

// Bounds of a search.
const (
	mostEntries = 300_000
	mostFiles   = 600
	mostSheets  = 400
	mostText    = 4 << 20
)

// Find looks for the faces that asks name, and for those that the sheets of packages bring which the code takes in.
func Find(ctx context.Context, p *notary.Project, asks []platform.Ask) (*Answer, error) {
	a := &Answer{}
	bring, err := packages(ctx, p)
	if err != nil {
		return nil, err
	}
	files, err := search(ctx, p.Root, asks)
	if err != nil {
		return nil, err
	}
	for _, w := range bring {
		files = append(files, filepath.Join(p.Root, filepath.FromSlash(w.Found)))
	}
	slices.Sort(files)
	if files = slices.Compact(files); len(files) > 0 {
		if a.Haul, err = intake.Gather(ctx, files, intake.Options{Digest: true}); err != nil {
			return nil, err
		}
	}
	var chosen []intake.Found
	for _, k := range asks {
		w := Wish{Ask: k}
		if f, ok := best(a.Haul.Faces, k); ok {
			w.Found, w.Part = shown(p.Root, f.File), isPart(f.File)
			chosen = append(chosen, f)
		}
		a.Wishes = append(a.Wishes, w)
	}
	for _, w := range bring {
		at := filepath.Join(p.Root, filepath.FromSlash(w.Found))
		if i := slices.IndexFunc(a.Haul.Faces, func(f intake.Found) bool { return f.File == at }); i >= 0 {
			w.Part = isPart(w.Found)
			chosen = append(chosen, a.Haul.Faces[i])
			a.Wishes = append(a.Wishes, w)
		}
	}
	a.Haul.Faces, a.Haul.Problems, a.Haul.Licences = onePerName(chosen), nil, nil
	for _, f := range a.Haul.Faces {
		for _, text := range intake.LicencesAbove(f.File) {
			if !slices.ContainsFunc(a.Haul.Licences, func(t intake.Text) bool { return t.File == text.File }) {
				a.Haul.Licences = append(a.Haul.Licences, text)
			}
		}
	}
	return a, nil
}

func shown(root, file string) string {
	if rel, err := filepath.Rel(root, file); err == nil && !strings.HasPrefix(rel, "..") {
		return filepath.ToSlash(rel)
	}
	return file
}

// part is what files of a part of Unicode are called after.
var part = lazy.Regexp(`(?i)[-._](?:latin|cyrillic|greek|vietnamese|hebrew|arabic|devanagari|thai|[0-9]{1,3})(?:-ext)?[-._]`)

func isPart(file string) bool { return part.MatchString(path.Base(filepath.ToSlash(file))) }

// slug is a name as folders and files of packages have it, without what stands between its words.
func slug(name string) string { return strings.Join(language.Words(name), "") }

// search lists the fonts of the project, with its packages, and of this user's cache of Dart packages, whose paths hold the name
// of a family.
func search(ctx context.Context, root string, asks []platform.Ask) ([]string, error) {
	var slugs []string
	for _, k := range asks {
		if s := slug(k.Family); len(s) > 2 && !slices.Contains(slugs, s) {
			slugs = append(slugs, s)
		}
	}
	if len(slugs) == 0 {
		return nil, nil
	}
	var list []string
	entries := 0
	for _, from := range append([]string{root}, caches()...) {
		err := filepath.WalkDir(from, func(name string, d fs.DirEntry, err error) error {
			if entries++; ctx.Err() != nil || entries > mostEntries || len(list) >= mostFiles {
				return fs.SkipAll
			}
			switch {
			case err != nil || d.IsDir() && name != from && strings.HasPrefix(d.Name(), "."):
				if d != nil && d.IsDir() {
					return fs.SkipDir
				}
			case d.Type().IsRegular() && platform.LooksLikeFont(name):
				below := slug(strings.TrimPrefix(name, from))
				if slices.ContainsFunc(slugs, func(s string) bool { return strings.Contains(below, s) }) {
					list = append(list, name)
				}
			}
			return nil
		})
		if err != nil {
			return nil, err
		}
	}
	return list, ctx.Err()
}

// caches are the folders in which Dart keeps packages (dart.dev, "Package dependencies": PUB_CACHE).
func caches() []string {
	dir := os.Getenv("PUB_CACHE")
	if home, err := os.UserHomeDir(); dir == "" && err == nil {
		dir = filepath.Join(home, ".pub-cache")
	}
	if info, err := os.Stat(dir); dir == "" || err != nil || !info.IsDir() {
		return nil
	}
	return []string{dir}
}

// best is the face that fits an ask: of the family, of the weight where one is asked for, and as slanted; of several files a
// whole one, of those the largest.
func best(faces []intake.Found, k platform.Ask) (intake.Found, bool) {
	var fit []intake.Found
	for _, f := range faces {
		weight := k.Weight == 0 || f.Weight == k.Weight || slices.ContainsFunc(f.Axes, func(x face.Axis) bool {
			return x.Tag == "wght" && x.Min <= float64(k.Weight) && float64(max(k.Weight, k.To)) <= x.Max
		})
		if ofFamily(f, k.Family) && weight && (f.Slant != face.Upright) == k.Italic && (k.Weight != 0 || f.Weight == 400) {
			fit = append(fit, f)
		}
	}
	slices.SortStableFunc(fit, func(a, b intake.Found) int { return rank(b) - rank(a) })
	if len(fit) == 0 {
		return intake.Found{}, false
	}
	return fit[0], true
}

// ofFamily says whether a face is of a family: older ones have the word of their weight in its name.
func ofFamily(f intake.Found, family string) bool {
	rest, ok := strings.CutPrefix(slug(f.Family), slug(family))
	if !ok || rest == "" {
		return ok && slug(family) != ""
	}
	w, _, isStyle := platform.StyleWord(rest)
	return isStyle && w == f.Weight
}

// rank is higher for a file that holds more of a font.
func rank(f intake.Found) int {
	n := 0
	if info, err := os.Stat(f.File); err == nil {
		n = int(min(info.Size(), 1<<28))
	}
	if !isPart(f.File) {
		n += 1 << 29
	}
	return n
}

// onePerName leaves of the files of one PostScript name the one that holds most.
func onePerName(list []intake.Found) []intake.Found {
	at := map[string]int{}
	var out []intake.Found
	for _, f := range list {
		i, twice := at[f.ID()]
		switch {
		case !twice:
			at[f.ID()] = len(out)
			out = append(out, f)
		case rank(f) > rank(out[i]):
			out[i] = f
		}
	}
	return out
}

var (
	// takesIn is what takes a style sheet of a package in: a name without a point in front.
	takesIn = lazy.Regexp(`(?:\bimport\s+|\brequire\s*\(\s*|@import\s+(?:url\(\s*)?|@use\s+)["']~?((?:@[\w.-]+/)?[a-zA-Z][\w.-]*(?:/[\w.@/-]+)?)["']`)
	ruleOf  = lazy.Regexp(`@font-face\s*\{([^{}]*)\}`)
	inRule  = lazy.Regexp(`(?:^|[;\s])(font-family|font-weight|font-style)\s*:\s*([^;]*[^;\s])`)
	fileOf  = lazy.Regexp(`url\(\s*["']?(\.{0,2}/?[^"')\s:?#]+\.(?:woff2?|ttf|otf))`)
)

// takers are the languages that take style sheets in.
var takers = []*language.Language{language.JavaScript, language.TypeScript, language.CSS, language.SCSS, language.Component}

// packages are the faces that the sheets of packages bring which sources take in.
func packages(ctx context.Context, p *notary.Project) ([]Wish, error) {
	var list []Wish
	sheets := 0
	for _, f := range p.Tree.Under("") {
		l := language.Of(f)
		if !slices.Contains(takers, l) {
			continue
		}
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		raw, ok := p.Tree.Glance(f, platform.MostSource)
		if !ok {
			continue
		}
		clean := l.Blank(raw)
		for _, m := range takesIn.FindAllSubmatchIndex(clean, 200) {
			sheet := sheetOf(p, f, string(clean[m[2]:m[3]]))
			if sheet == "" {
				continue
			}
			if sheets++; sheets > mostSheets {
				return list, nil
			}
			list = append(list, brought(p, sheet, platform.Ask{File: f, Line: 1 + bytes.Count(raw[:m[2]], []byte("\n"))})...)
		}
	}
	return list, nil
}

// sheetOf is the style sheet that a name of a package means, "" if it means none: looked for from the file's folder upward.
func sheetOf(p *notary.Project, from, name string) string {
	parts := strings.Split(name, "/")
	n := 1
	if strings.HasPrefix(name, "@") {
		n = 2
	}
	if len(parts) < n {
		return ""
	}
	for dir := path.Dir(from); ; dir = path.Dir(dir) {
		base := path.Join(dir, "node_modules", path.Join(parts[:n]...))
		if at := path.Join(base, path.Join(parts[n:]...)); !p.Dir.Missing(base) {
			for _, try := range []string{at, at + ".css", path.Join(at, "index.css")} {
				if info, err := p.Dir.Lstat(try); err == nil && info.Mode().IsRegular() && path.Ext(try) == ".css" {
					return try
				}
			}
			return styleOf(p, base, len(parts) == n)
		}
		if dir == "." || dir == "/" {
			return ""
		}
	}
}

// styleOf is the sheet that a package is for its users.
func styleOf(p *notary.Project, base string, whole bool) string {
	raw, err := p.Dir.Read(path.Join(base, "package.json"), mostText)
	var about struct{ Style, Main string }
	if err != nil || !whole || json.Unmarshal(raw, &about) != nil {
		return ""
	}
	for _, name := range []string{about.Style, about.Main} {
		if at := path.Join(base, name); path.Ext(at) == ".css" && strings.HasPrefix(at, base+"/") && !p.Dir.Missing(at) {
			return at
		}
	}
	return ""
}

// brought are the faces that a sheet declares, with the first of its files that is there.
func brought(p *notary.Project, sheet string, ask platform.Ask) []Wish {
	raw, err := p.Dir.Read(sheet, mostText)
	if err != nil {
		return nil
	}
	var list []Wish
	for _, m := range ruleOf.FindAllSubmatch(language.CSS.Blank(raw), 500) {
		w := Wish{Ask: ask}
		for _, d := range inRule.FindAllSubmatch(m[1], 10) {
			value := strings.Trim(string(d[2]), `"' `)
			switch string(d[1]) {
			case "font-family":
				w.Family = value
			case "font-weight":
				from, to, _ := strings.Cut(value, " ")
				w.Weight, _, _ = platform.StyleWord(from)
				w.To, _ = strconv.Atoi(to)
			case "font-style":
				w.Italic = value != "normal"
			}
		}
		for _, u := range fileOf.FindAllSubmatch(m[1], 10) {
			at := path.Join(path.Dir(sheet), string(u[1]))
			if strings.Contains("/"+at, "/node_modules/") && !strings.HasPrefix(at, "../") && !p.Dir.Missing(at) {
				w.Found = at
				break
			}
		}
		if w.Found != "" && w.Family != "" {
			list = append(list, w)
		}
	}
	return list
}
