// Package weigh says what fonts cost: bytes by app and face, as they are placed and as they are packed, what in a font takes them,
// and what would take fewer.
package weigh

import (
	"bytes"
	"cmp"
	"compress/flate"
	"context"
	"path"
	"path/filepath"
	"slices"
	"strings"

	"notaria/internal/fault"
	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/registry"
	"notaria/internal/sfnt"
	"notaria/internal/subject"
	"notaria/internal/trim"
)

// A Weight is what was weighed.
type Weight struct {
	Apps []App `json:"apps"`
	// Originals are the bytes of the enrolled files, of which apps get copies.
	Originals int64 `json:"originals"`
}

// An App is one of the project, with what it gets.
type App struct {
	Target string `json:"target"`
	App    string `json:"app"`
	Title  string `json:"title"`
	Bytes  int64  `json:"bytes"`
	Packed int64  `json:"packed"`
	Fonts  []Font `json:"fonts"`   // the heaviest first
	Steps  []Step `json:"lighter"` // what would save most first
}

// A Font is a font file.
type Font struct {
	File   string   `json:"file"`
	Faces  []string `json:"faces"`
	Bytes  int64    `json:"bytes"`
	Packed int64    `json:"packed"` // as an app's own archive packs it (deflate); WOFF and WOFF 2 are packed
	Parts  []Part   `json:"parts"`  // of its tables, before they are packed; the heaviest first
}

// A Part is what some tables take together.
type Part struct {
	What  string `json:"what"`
	Bytes int64  `json:"bytes"`
}

// A Step would make an app lighter.
type Step struct {
	What  string   `json:"what"`
	Saves int64    `json:"saves"` // bytes of the files, about
	How   string   `json:"how"`
	Faces []string `json:"faces"`
}

// Parts of a font.
const (
	outlines = "outlines"
	varying  = "variations"
	hinting  = "hinting"
	setting  = "layout"
	colour   = "colours and pictures"
	naming   = "names"
	mapping  = "characters"
	metrics  = "metrics"
	others   = "others"
)

var tables = map[string]string{
	"glyf": outlines, "loca": outlines, "CFF ": outlines, "CFF2": outlines, "VORG": outlines,
	"gvar": varying, "HVAR": varying, "VVAR": varying, "MVAR": varying, "avar": varying, "fvar": varying, "cvar": varying, "STAT": varying,
	"fpgm": hinting, "prep": hinting, "cvt ": hinting, "gasp": hinting, "hdmx": hinting, "VDMX": hinting, "LTSH": hinting,
	"GSUB": setting, "GPOS": setting, "GDEF": setting, "BASE": setting, "JSTF": setting, "kern": setting, "MATH": setting, "morx": setting, "kerx": setting,
	"COLR": colour, "CPAL": colour, "SVG ": colour, "CBDT": colour, "CBLC": colour, "sbix": colour, "EBDT": colour, "EBLC": colour,
	"name": naming, "post": naming, "meta": naming, "cmap": mapping,
	"hmtx": metrics, "vmtx": metrics, "hhea": metrics, "vhea": metrics, "OS/2": metrics, "head": metrics, "maxp": metrics,
}

// Project weighs the apps of a plan.
func Project(ctx context.Context, p *notary.Project, plan *notary.Plan) (*Weight, error) {
	w := &Weight{Apps: []App{}}
	known := &scale{p: p, fonts: map[string]Font{}, cut: map[string]asked{}}
	for _, o := range p.Origins() {
		w.Originals += o.Size
	}
	for _, s := range plan.Sites {
		app := App{Target: s.Target.Name, App: s.Site.Path(), Title: s.Site.Title(), Fonts: []Font{}, Steps: []Step{}}
		var files []platform.File
		for _, f := range s.Files {
			if platform.IsText(f.Recipe) || len(f.Recipe.Faces()) == 0 {
				continue
			}
			font, err := known.font(f)
			if err != nil {
				return nil, err
			}
			files, app.Fonts = append(files, f), append(app.Fonts, font)
			app.Bytes, app.Packed = app.Bytes+font.Bytes, app.Packed+font.Packed
		}
		if len(app.Fonts) == 0 {
			continue
		}
		if err := app.lighter(known, s, files); err != nil {
			return nil, err
		}
		slices.SortStableFunc(app.Fonts, func(a, b Font) int { return cmp.Compare(b.Bytes, a.Bytes) })
		w.Apps = append(w.Apps, app)
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
	}
	return w, nil
}

// A scale keeps what was weighed: many apps get the same files.
type scale struct {
	p     *notary.Project
	fonts map[string]Font  // by recipe
	cut   map[string]asked // by recipe, ending and characters
}

func (k *scale) font(f platform.File) (Font, error) {
	font, ok := k.fonts[f.Recipe.Key()]
	if !ok {
		content, err := k.p.Content(f.Recipe)
		if err != nil {
			return font, err
		}
		if font, err = File(f.Path, content); err != nil {
			return font, err
		}
		font.Faces = f.Recipe.Faces()
		k.fonts[f.Recipe.Key()] = font
	}
	font.File = f.Path
	return font, nil
}

// File weighs one font file.
func File(name string, content []byte) (Font, error) {
	f := Font{File: name, Faces: []string{}, Bytes: int64(len(content)), Parts: []Part{}}
	file, err := sfnt.Open(bytes.NewReader(content), f.Bytes)
	if err != nil {
		return f, &fault.Error{File: name, Expected: "a font", Found: err.Error(), Cure: "notaria names shows what is in a file"}
	}
	f.Packed = packed(content)
	if file.Container == sfnt.WOFF || file.Container == sfnt.WOFF2 {
		f.Packed = f.Bytes
	}
	if file.Container != sfnt.Plain && file.Container != sfnt.Collection {
		plain, err := file.Unwrap(0)
		if err == nil {
			file, err = sfnt.Open(bytes.NewReader(plain), int64(len(plain)))
		}
		if err != nil {
			return f, &fault.Error{File: name, Expected: "a web font that can be unpacked", Found: err.Error(), Cure: "notaria names shows what is in a file"}
		}
	}
	list, err := file.Font(0).Tables()
	if err != nil {
		return f, &fault.Error{File: name, Expected: "tables that can be read", Found: err.Error(), Cure: "notaria names shows what is in a file"}
	}
	sums := map[string]int64{}
	for tag, b := range list {
		what := tables[tag]
		if what == "" {
			what = others
		}
		sums[what] += int64(len(b))
	}
	for what, n := range sums {
		f.Parts = append(f.Parts, Part{what, n})
	}
	slices.SortFunc(f.Parts, func(a, b Part) int { return cmp.Or(cmp.Compare(b.Bytes, a.Bytes), cmp.Compare(a.What, b.What)) })
	return f, nil
}

// packed is how long bytes are as archives of apps pack them (RFC 1951).
func packed(b []byte) int64 {
	var out bytes.Buffer
	w, err := flate.NewWriter(&out, flate.BestCompression)
	if err != nil {
		return int64(len(b))
	}
	_, _ = w.Write(b)
	_ = w.Close()
	return int64(out.Len())
}

// lighter finds what would make an app lighter.
func (app *App) lighter(k *scale, s notary.SitePlan, files []platform.File) error {
	seen := map[string]string{}
	for i, f := range files {
		if same := seen[f.Recipe.Key()]; same != "" {
			app.Steps = append(app.Steps, Step{"the same font twice: " + same + " and " + f.Path, app.Fonts[i].Bytes, "let the app load one of them", f.Recipe.Faces()})
		}
		seen[f.Recipe.Key()] = f.Path
	}
	wanted, known := words(k.p, s)
	if !known {
		return nil
	}
	cut, spared := map[bool][]string{}, map[bool]int64{}
	for i, f := range files {
		a, err := k.trimmed(f, wanted)
		if err != nil {
			return err
		}
		if a.bytes == 0 || a.bytes >= app.Fonts[i].Bytes {
			continue
		}
		cut[a.reserved], spared[a.reserved] = append(cut[a.reserved], a.face), spared[a.reserved]+app.Fonts[i].Bytes-a.bytes
	}
	for _, reserved := range []bool{false, true} {
		if len(cut[reserved]) == 0 {
			continue
		}
		step := Step{"only the letters of Western Europe, and those of the app's own texts", spared[reserved], `trim = { sets = ["latin-1"], text = "…" } in [[face]]`, cut[reserved]}
		if reserved {
			step.How = "its licence reserves the name for unchanged copies: ask the maker, then " + step.How
		}
		app.Steps = append(app.Steps, step)
	}
	slices.SortStableFunc(app.Steps, func(a, b Step) int { return cmp.Compare(b.Saves, a.Saves) })
	return nil
}

// words are the characters that an app needs, as far as its texts say; false where they cannot be read.
func words(p *notary.Project, s notary.SitePlan) ([]rune, bool) {
	latin := registry.Characters{Sets: []string{"latin-1", "punctuation"}}
	list, err := latin.Runes()
	if err != nil {
		return nil, false
	}
	dir := s.Site.Path()
	if path.Ext(dir) != "" { // a project's file
		dir = path.Dir(dir)
	}
	own, err := subject.Characters(filepath.Join(p.Root, filepath.FromSlash(dir)))
	all := append(slices.Clone(list), own...)
	slices.Sort(all)
	return slices.Compact(all), err == nil
}

// asked is a face with some characters alone.
type asked struct {
	face     string
	bytes    int64 // 0 where that is not possible, or is done
	reserved bool
}

// trimmed is how long a file would be with some characters alone.
func (k *scale) trimmed(f platform.File, wanted []rune) (asked, error) {
	e, ok := k.p.Registry.Face(strings.Join(f.Recipe.Faces(), ""))
	ending := strings.ToLower(path.Ext(f.Path))
	if !ok || e.Trim != nil || !slices.Contains(trim.Endings, ending) {
		return asked{}, nil
	}
	key := f.Recipe.Key() + ending + string(wanted)
	if a, ok := k.cut[key]; ok {
		return a, nil
	}
	raw, err := k.p.Content(platform.Original{Face: e.Name})
	if err != nil {
		return asked{}, err
	}
	words := trim.Words{Permitted: true}
	if e.Licence != "" {
		words.Licence, _ = k.p.Dir.Read(e.Licence, mostLicence) // one that is not there is told elsewhere
	}
	a := asked{face: e.Name}
	if out, err := trim.Open(raw, trim.Wish{Characters: wanted, Ending: ending}, words); err == nil { // one that cannot be trimmed is no step
		a.bytes, a.reserved = out.Bytes[1], out.Reserved != ""
	}
	k.cut[key] = a
	return a, nil
}

// mostLicence is how much of a licence is read, in bytes.
const mostLicence = 1 << 20
