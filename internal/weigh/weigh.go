// Package weigh says what fonts cost: bytes by app and face, as they are placed and as they are packed, what in a font takes them,
// and what would take fewer.
package weigh

import (
	"bytes"
	"cmp"
	"compress/flate"
	"context"
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"notaria/internal/fault"
	"notaria/internal/language"
	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/registry"
	"notaria/internal/sfnt"
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
	Budget int64  `json:"budget"`  // what the fonts may take as they are placed, by notaria.toml; 0 where it does not say
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
		app.Budget, _ = p.Registry.Check.BudgetOf(app.Target, app.App)
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
	cut   map[string]asked // by recipe, ending and way
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
	for _, w := range k.ways(s) {
		if err := app.asked(k, files, w); err != nil {
			return err
		}
	}
	if err := app.places(k, files); err != nil {
		return err
	}
	slices.SortStableFunc(app.Steps, func(a, b Step) int { return cmp.Compare(b.Saves, a.Saves) })
	return nil
}

// A way of trimming that could be asked for, and what for.
type way struct {
	what, how string
	wish      trim.Wish
}

// unhinted are the targets whose systems do not use a font's instructions.
var unhinted = []string{"apple", "android", "reactnative", "expo", "nativescript"}

// ways are those of an app. Strings that cannot be looked through are no way.
func (k *scale) ways(s notary.SitePlan) []way {
	var out []way
	for _, w := range []struct {
		what, how string
		of        registry.Characters
	}{
		{"only the letters of Western Europe, and those of the project's own texts", `trim = { sets = ["latin-1"], app-strings = true } in [[face]]`, registry.Characters{Sets: []string{"latin-1"}, AppStrings: true}},
		{"only what the project's own texts need, and ASCII", `trim = { app-strings = true } in [[face]]`, registry.Characters{AppStrings: true}},
	} {
		if list, err := k.p.Kept(&w.of); err == nil {
			out = append(out, way{w.what, w.how, trim.Wish{Characters: list}})
		}
	}
	if slices.Contains(unhinted, s.Target.Name) {
		out = append(out, way{"no instructions for coarse screens, which these systems do not use", "trim = { hinting = false } in [[face]]", trim.Wish{Unhinted: true}})
	}
	return out
}

// least is how many bytes a step has to save to be one.
const least = 500

// asked adds what one way would save.
func (app *App) asked(k *scale, files []platform.File, w way) error {
	cut, spared := map[bool][]string{}, map[bool]int64{}
	for i, f := range files {
		a, err := k.trimmed(f, w)
		if err != nil {
			return err
		}
		if a.bytes == 0 || a.bytes >= app.Fonts[i].Bytes {
			continue
		}
		cut[a.reserved], spared[a.reserved] = append(cut[a.reserved], a.face), spared[a.reserved]+app.Fonts[i].Bytes-a.bytes
	}
	for _, reserved := range []bool{false, true} {
		if spared[reserved] < least {
			continue
		}
		step := Step{w.what, spared[reserved], w.how, cut[reserved]}
		if reserved {
			step.How = "its licence reserves the name for unchanged copies: with rename, or the maker's word, " + step.How
		}
		app.Steps = append(app.Steps, step)
	}
	return nil
}

// mostPlaces is how many static fonts are held against a variable one.
const mostPlaces = 4

// places holds a variable font against static ones of the places at which the app's roles are, where there are few.
func (app *App) places(k *scale, files []platform.File) error {
	for i, f := range files {
		id := strings.Join(f.Recipe.Faces(), "")
		e, ok := k.p.Registry.Face(id)
		ending := strings.ToLower(path.Ext(f.Path))
		described, err := k.p.Face(id)
		if !ok || err != nil || !described.Variable || e.At != nil || !slices.Contains(trim.Endings, ending) {
			continue
		}
		at := map[string]map[string]float64{}
		for name := range k.p.Registry.Roles {
			if r := k.p.Registry.Roles[name].For(app.Target); r.Face == id && !r.OnlyPixels() {
				at[fmt.Sprint(r.At())] = r.At()
			}
		}
		sum := int64(0)
		for _, key := range slices.Sorted(maps.Keys(at)) {
			place := at[key]
			if place == nil {
				place = map[string]float64{}
			}
			a, err := k.trimmed(f, way{what: key, wish: trim.Wish{At: place}})
			if err != nil {
				return err
			}
			if sum += a.bytes; a.bytes == 0 {
				sum = app.Fonts[i].Bytes
			}
		}
		if len(at) > 0 && len(at) <= mostPlaces && sum+least < app.Fonts[i].Bytes {
			app.Steps = append(app.Steps, Step{fmt.Sprintf("%s in place of the variable one", language.Plural(len(at), "static font")), app.Fonts[i].Bytes - sum,
				"at = { … } in [[face]], for each place of a role, as notaria enrol --at writes it", []string{id}})
		}
	}
	return nil
}

// asked is a face with some characters alone.
type asked struct {
	face     string
	bytes    int64 // 0 where that is not possible, or is done
	reserved bool
}

// trimmed is how long a file would be if it were made so.
func (k *scale) trimmed(f platform.File, w way) (asked, error) {
	e, ok := k.p.Entry(strings.Join(f.Recipe.Faces(), ""))
	ending := strings.ToLower(path.Ext(f.Path))
	if _, part := f.Recipe.(platform.Slice); part || !ok || e.Trim != nil || !slices.Contains(trim.Endings, ending) {
		return asked{}, nil
	}
	key := f.Recipe.Key() + ending + w.what
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
	w.wish.Ending = ending
	if two, ok := f.Recipe.(platform.WOFF2); ok {
		w.wish.Fast = !two.Small // packed as it is now, so that nothing else differs
	}
	if out, err := trim.Open(raw, w.wish, words); err == nil { // one that cannot be trimmed is no step
		a.bytes, a.reserved = out.Bytes[1], out.Reserved != ""
	}
	k.cut[key] = a
	return a, nil
}

// mostLicence is how much of a licence is read, in bytes.
const mostLicence = 1 << 20
