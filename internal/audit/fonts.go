package audit

import (
	"bytes"
	"cmp"
	"errors"
	"fmt"
	"io/fs"
	"maps"
	"path"
	"slices"
	"strings"
	"unicode"

	"notaria/internal/change"
	"notaria/internal/fault"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/registry"
)

// A carried font is one that an app has, with what names it there; by is "" for one that Notaria
// placed.
type carried struct {
	platform.Held
	face    platform.Face
	planned bool
}

// carriedBy are the fonts that an app has, each file once: those that it has by hand, and those that
// are planned.
func (a *pass) carriedBy(s notary.SitePlan) []carried {
	key := siteKey(s)
	if list, ok := a.carries[key]; ok {
		return list
	}
	faces := a.p.PresentFaces()
	if a.present == nil {
		a.present = map[string]int{}
		for i, f := range faces {
			a.present[f.File] = i
		}
	}
	var out []carried
	at := map[string]int{}
	for _, h := range a.held[key] {
		face, ok := a.present[h.File]
		if i, seen := at[h.File]; seen {
			out[i].Alias = cmp.Or(out[i].Alias, h.Alias)
		} else if ok {
			at[h.File] = len(out)
			out = append(out, carried{h, faces[face], false})
		}
	}
	for _, w := range s.Files {
		for _, id := range w.Recipe.Faces() {
			if f, err := a.p.Face(id); err == nil && a.p.Tree.Has(w.Path) {
				if i, seen := at[w.Path]; seen {
					out[i].planned = true
					continue
				}
				out = append(out, carried{platform.Held{Manifest: w.Path, File: w.Path}, f, true})
			}
		}
	}
	a.carries[key] = out
	return out
}

// meant are the files that entries which lead nowhere most likely mean, by site: that nothing names them
// is no finding of its own.
func (a *pass) meant(s notary.SitePlan, file string) bool {
	key := siteKey(s)
	list, known := a.strays[key]
	if !known {
		list = map[string]bool{}
		for _, h := range a.held[key] {
			if h.Strict && (h.File == "" || !a.p.Tree.There(h.File)) && len(list) < mostStrays {
				list[platform.Strayed(cmp.Or(h.Name, h.Value), a.fontsUnder(cmp.Or(h.In, folderOf(s))))] = true
			}
		}
		a.strays[key] = list
	}
	return list[file]
}

// mostStrays is for how many entries of one app that lead nowhere a file is looked for.
const mostStrays = 500

// fontsUnder are the font files in a folder, listed once.
func (a *pass) fontsUnder(folder string) []string {
	list, known := a.fontFiles[folder]
	if !known {
		list = slices.DeleteFunc(slices.Clone(a.p.Tree.Under(folder)), func(f string) bool { return !platform.LooksLikeFont(f) })
		a.fontFiles[folder] = list
	}
	return list
}

// folderOf is the folder that an app is in.
func folderOf(s notary.SitePlan) string {
	if k, ok := s.Site.(platform.Asker); ok {
		folder, _ := k.Uses()
		return folder
	}
	return s.Site.Path()
}

// strayed fills in the cure of an entry whose file is elsewhere, or is nearly called so.
func (a *pass) strayed(s notary.SitePlan, h platform.Held, f *Finding) {
	if h.Write == nil || !h.Mend.Empty() {
		return
	}
	name := cmp.Or(h.Name, h.Value)
	file := platform.Strayed(name, a.fontsUnder(cmp.Or(h.In, folderOf(s))))
	if file == "" {
		return
	}
	text := h.Write(file)
	raw, err := a.p.Dir.Read(h.Manifest, mostSource)
	if text == "" || text == name || err != nil {
		return
	}
	if m := platform.OnLine(h.Manifest, raw, h.Line, name, text); !m.Empty() {
		f.Mending = m
		f.Cure = platform.Choose(text, nil)
		if strings.EqualFold(text, name) {
			f.Cause = "the file's name differs by capitals: that works on Windows and on most Macs, and nowhere else"
		}
	}
}

// sameTwice compares the faces of an app by their PostScript names. Forms of one file, such as WOFF
// and TrueType, are one.
func sameTwice(a *pass, report func(Finding)) error {
	for _, s := range a.plan.Sites {
		first := map[string]carried{}
		for _, c := range a.carriedBy(s) {
			key := c.Part + "\x00" + c.face.ID()
			one, ok := first[key]
			if !ok {
				first[key] = c
				continue
			}
			if one.planned && c.planned || formOf(one.File, c.File) {
				continue
			}
			report(by(s.Owner(), Finding{File: c.Manifest, Line: c.Line, Message: fmt.Sprintf("%s is in the app twice: %s and %s", idOf(c.face), one.File, c.File),
				Cause: "both hold the face " + c.face.ID(), Cure: "keep one of them, and use it under one name"}))
		}
	}
	return nil
}

// idOf is a face as messages name it.
func idOf(f platform.Face) string { return cell(f.ID()) }

// shown keeps endless paths short.
func shown(s string) string { return language.Short(s, 300) }

// cell keeps endless names short.
func cell(s string) string { return language.Short(s, 60) }

// formOf says whether two files are forms of one: the same name, and another container.
func formOf(a, b string) bool {
	stem := func(s string) string { return strings.TrimSuffix(path.Base(s), path.Ext(s)) }
	return stem(a) == stem(b) && !strings.EqualFold(path.Ext(a), path.Ext(b))
}

func besideVariable(a *pass, report func(Finding)) error {
	for _, s := range a.plan.Sites {
		list := a.carriedBy(s)
		for _, v := range list {
			if !v.face.Variable {
				continue
			}
			n, one := 0, ""
			for _, c := range list {
				if !c.face.Variable && c.Part == v.Part && c.face.Slant == v.face.Slant && platform.FamilyOf(c.face.Face) == platform.FamilyOf(v.face.Face) {
					n, one = n+1, cmp.Or(one, c.File)
				}
			}
			if n > 0 {
				report(by(s.Owner(), Finding{File: v.Manifest, Line: v.Line, Message: fmt.Sprintf("%s is variable, and static faces of the family are in the app too: %s", path.Base(v.File), one),
					Cause: "both forms answer to the family " + cell(platform.FamilyOf(v.face.Face)), Cure: "keep the variable file or the static ones"}))
			}
		}
	}
	return nil
}

// embedding looks at the fonts of apps, and at those that are enrolled.
func embedding(a *pass, report func(Finding)) error {
	const message, cause = "%s may not be embedded", "the font's own table OS/2 forbids it (fsType: restricted licence embedding)"
	permitted := map[string]bool{}
	for _, e := range a.p.Registry.Faces {
		if permitted[e.Name] = e.Permission != ""; permitted[e.Name] {
			continue
		}
		if f, err := a.p.Face(e.Name); err == nil && f.Embedding == restricted {
			report(Finding{File: registry.FileName, Message: fmt.Sprintf(message, cell(e.Name)), Cause: cause, Cure: "strike it, and take a font that may be embedded; or ask its maker for a licence for apps"})
		}
	}
	for _, s := range a.plan.Sites {
		for _, c := range a.carriedBy(s) {
			if !c.planned && c.face.Embedding == restricted && !permitted[c.face.ID()] {
				report(by(s.Owner(), Finding{File: c.Manifest, Line: c.Line, Message: fmt.Sprintf(message, idOf(c.face)), Cause: cause, Cure: "take a font that may be embedded, or ask its maker for a licence for apps"}))
			}
		}
	}
	return nil
}

const restricted = "restricted"

// fileIgnored looks at the fonts that manifests of a site need: where the manifest itself is passed
// over, the whole app is made anew.
func fileIgnored(a *pass, report func(Finding)) error {
	git := platform.NewIgnored(a.p.Tree)
	for _, s := range a.plan.Sites {
		seen := map[string]bool{}
		for _, c := range a.carriedBy(s) {
			if seen[c.File] || !git.Has(c.File) || git.Has(path.Join(path.Dir(c.Manifest), "x")) && c.Manifest != c.File && path.Dir(c.Manifest) != path.Dir(c.File) {
				continue
			}
			if seen[c.File] = true; git.Has(path.Join(folderOf(s), "x.txt")) {
				continue
			}
			report(by(s.Owner(), Finding{File: c.Manifest, Line: c.Line, Message: fmt.Sprintf("version control passes over %s", c.File),
				Cause: "a pattern of .gitignore matches it: it is on this machine, and in no other copy of the project", Cure: "take the pattern out, or except the font with a line such as !" + path.Base(c.File)}))
		}
	}
	return nil
}

// notUsed looks for every name that code could ask for a font by. What says that the font is there is
// no use of it.
func notUsed(a *pass, report func(Finding)) error {
	a.enrolledNotUsed(report)
	for _, s := range a.plan.Sites {
		for _, c := range a.carriedBy(s) {
			if n := len(c.Alias); n > 0 && n < shortestName {
				continue // too short to be looked for
			}
			if c.planned || a.used[siteKey(s)][c.File] || a.meant(s, c.File) || a.proposed(c) || a.flawedFont(s, c.File) {
				continue
			}
			if _, ok := s.Site.(platform.Asker); !ok || !a.searched[siteKey(s)] {
				continue
			}
			report(by(s.Owner(), Finding{File: c.Manifest, Line: c.Line, Message: fmt.Sprintf("nothing in the app asks for %s", path.Base(c.File)),
				Cause: "none of its names is in the app's code, markup or styles", Cure: "take it out; or list it under [[check.accept]] in notaria.toml, if it is asked for in a way that is not seen"}))
		}
	}
	return nil
}

// enrolledNotUsed looks at the faces of notaria.toml that no role has, and that nothing names.
func (a *pass) enrolledNotUsed(report func(Finding)) {
	if !a.searched[enrolled] {
		return
	}
	for _, e := range a.p.Registry.Faces {
		if len(a.p.Registry.Serving(e.Name)) > 0 || a.used[enrolled][e.File] {
			continue
		}
		line, _, _ := a.lineOf(registry.FileName, `"`+e.Name+`"`)
		report(Finding{File: registry.FileName, Line: line, Message: fmt.Sprintf("%s is in no role, and nothing in the apps names it", cell(e.Name)),
			Cause: "every app carries it all the same", Cure: "notaria strike " + e.Name + "; or give it a role"})
	}
}

// flawedFont says whether a finding of its own says that a font is not in the app as it should be.
func (a *pass) flawedFont(s notary.SitePlan, file string) bool {
	return slices.ContainsFunc(a.flawsOf(s), func(x platform.Flaw) bool {
		return x.Subject == file && x.Kind != platform.TooNew || slices.Contains(x.Means, file)
	})
}

// proposed says whether the cure of a wrong name is to name this font.
func (a *pass) proposed(c carried) bool {
	names := namesOf(c)
	return slices.ContainsFunc(a.asks, func(k ask) bool {
		return k.answer.Instead != "" && slices.ContainsFunc(names, func(n []byte) bool { return strings.Contains(k.answer.Instead, string(n)) })
	})
}

// asked says whether the cure of a wrong path in code is to name this file.
func (a *pass) asked(s notary.SitePlan, file string) bool {
	return slices.ContainsFunc(a.asks, func(k ask) bool {
		return k.answer.Fault == platform.NoSuchThing && path.Base(k.answer.Instead) == path.Base(file) && siteKey(k.site) == siteKey(s)
	})
}

func (a *pass) placedByNotaria(file string) bool {
	_, ok := a.missing[file]
	return ok
}

// namesOf are the names that code could ask for a font by.
func namesOf(c carried) [][]byte {
	stem := strings.TrimSuffix(path.Base(c.File), path.Ext(c.File))
	var out [][]byte
	for _, n := range []string{c.face.ID(), c.face.Family, c.face.Full, c.face.LegacyFamily, stem, c.Alias, c.Held.Name, language.Camel(language.Words(stem))} {
		if len(n) > 2 && !slices.ContainsFunc(out, func(b []byte) bool { return string(b) == n }) {
			out = append(out, []byte(n))
		}
	}
	return out
}

// asksToo are languages in which what declares a font, and what asks for it, can be in one file.
var asksToo = map[*language.Language]bool{language.CSS: true, language.JavaScript: true, language.TypeScript: true, language.HTML: true, language.Template: true, language.Component: true, language.GodotText: true, language.ActionScript: true, language.XML: true}

// withoutDeclarations is a text without comments, and without the rules that declare fonts.
func withoutDeclarations(l *language.Language, text []byte) []byte {
	if l != nil {
		text = l.Blank(text)
	}
	return fontFaceRule.ReplaceAll(text, nil)
}

// askingFiles are files of no programming language that can name fonts.
var askingFiles = map[string]bool{".storyboard": true, ".xib": true, ".skin": true, ".atlas": true, ".vue": true, ".svelte": true, ".scss": true, ".sass": true, ".less": true, ".svg": true,
	".yaml": true, ".yml": true, ".toml": true, ".ini": true, ".cfg": true, ".conf": true, ".properties": true, ".dat": true, ".theme": true, ".razor": true, ".cshtml": true, ".fxg": true, ".qss": true, ".blp": true, ".cc": true, ".astro": true, ".md": false}

// fontFaceRule declares a font, and is no use of it.
var fontFaceRule = lazy.Regexp(`@font-face\s*\{[^{}]*\}`)

// originalsFound looks at the originals of enrolled faces: without them there is no plan.
func originalsFound(p *notary.Project, id string, report func(Finding)) {
	var moved map[string]string
	for _, e := range p.Registry.Faces {
		_, err := p.Face(e.Name)
		var f *fault.Error
		if err == nil || !errors.As(err, &f) {
			continue
		}
		_, statErr := p.Dir.Lstat(e.File)
		gone := errors.Is(statErr, fs.ErrNotExist)
		if gone && id == OriginalMissing && moved == nil {
			moved = foundAgain(p)
		}
		if now := moved[e.File]; now != "" {
			report(Finding{File: e.File, Message: "the original of " + cell(e.Name) + " is not here", Cause: "the same file is " + now + " now",
				Cure: "notaria check --mend lets notaria.toml name it there; or move it back", Mending: readdress(p, moved)})
			continue
		}
		if gone == (id == OriginalMissing) {
			report(Finding{File: e.File, Message: "expected " + f.Expected, Cause: "found " + f.Found, Cure: f.Cure})
		}
	}
}

func originals(id string) func(*pass, func(Finding)) error {
	return func(a *pass, report func(Finding)) error {
		originalsFound(a.p, id, report)
		if id != OriginalChanged {
			return nil
		}
		for _, e := range a.changed() {
			report(Finding{File: e.File, Message: "this is not the font that was enrolled as " + cell(e.Name),
				Cause: "the file was exchanged or edited, and the apps have the one from before", Cure: "notaria enrol --replace " + e.File + " takes it into every app; or bring the old file back"})
		}
		return nil
	}
}

// changed are the faces whose originals are not what was enrolled.
func (a *pass) changed() []registry.Face {
	if a.renewed == nil {
		a.renewed = append([]registry.Face{}, a.p.Exchanged()...)
	}
	return a.renewed
}

// Unplanned is the report of a project of which no plan could be made, for originals are missing or
// wrong; false if that is not why.
func Unplanned(p *notary.Project) (Report, bool) {
	a := &pass{p: p, plan: &notary.Plan{}, set: &change.Set{Dir: p.Dir}}
	var found []Finding
	for _, r := range Rules {
		if r.ID == OriginalMissing || r.ID == OriginalChanged {
			originalsFound(p, r.ID, func(f Finding) {
				f.Rule, f.Severity = r.ID, r.Severity
				found = append(found, f)
			})
		}
	}
	return a.sift(found), len(found) > 0
}

// noLicence looks for the texts that notaria.toml names.
func noLicence(a *pass, report func(Finding)) error {
	seen := map[string]bool{}
	for _, e := range a.p.Registry.Faces {
		if e.Licence == "" || seen[e.Licence] {
			continue
		}
		seen[e.Licence] = true
		if _, err := a.p.Dir.Lstat(e.Licence); errors.Is(err, fs.ErrNotExist) {
			line, _, _ := a.lineOf(registry.FileName, e.Licence)
			report(Finding{File: registry.FileName, Line: line, Message: fmt.Sprintf("%s, the licence of %s, is not there", e.Licence, cell(e.Name)),
				Cause: "the file was deleted, moved or never committed", Cure: "bring it back: most licences ask that their text travels with the font"})
		}
	}
	return nil
}

// lineOf is the first line of a file that holds a text, 0 if none does.
func (a *pass) lineOf(file, text string) (line, from, to int) {
	raw, err := a.p.Dir.Read(file, mostSource)
	if err != nil {
		return 0, 0, 0
	}
	i := bytes.Index(raw, []byte(text))
	if i < 0 {
		return 0, 0, 0
	}
	return 1 + bytes.Count(raw[:i], []byte("\n")), i, i + len(text)
}

// overBudget adds up the fonts of each app.
func overBudget(a *pass, report func(Finding)) error {
	if err := a.knownBudgets(); err != nil {
		return err
	}
	for _, s := range a.plan.Sites {
		most, key := a.p.Registry.Check.BudgetOf(s.Target.Name, s.Site.Path())
		if most <= 0 {
			continue
		}
		var sum int64
		seen := map[string]bool{}
		for _, c := range a.carriedBy(s) {
			if info, err := a.p.Dir.Lstat(c.File); err == nil && !seen[c.File] {
				seen[c.File] = true
				sum += info.Size()
			}
		}
		if sum > most {
			report(by(s.Owner(), Finding{File: registry.FileName, Line: a.p.Registry.Line(key), Message: fmt.Sprintf("the fonts of %s are %d kB, and budget is %d kB", s.Site.Title(), (sum+500)/1000, most/1000),
				Cause: fmt.Sprintf("%d fonts are in this app", len(seen)), Cure: "strike what is not used, trim what stays (notaria weigh says what that saves), or raise the budget"}))
		}
	}
	return nil
}

// knownBudgets checks that budgets are those of targets or of apps that there are.
func (a *pass) knownBudgets() error {
	known := map[string]bool{}
	var list []string
	for _, t := range a.p.Targets() {
		known[t.About().Name] = true
		list = append(list, t.About().Name)
	}
	for _, s := range a.plan.Sites {
		known[s.Site.Path()] = true
		list = append(list, s.Site.Path())
	}
	for _, r := range a.plan.Refused {
		known[r.App] = true
	}
	for _, of := range slices.Sorted(maps.Keys(a.p.Registry.Check.Budgets)) {
		if !known[of] && a.plan.Passed == 0 {
			return a.p.Registry.Wrong(registry.Key{"check", "budgets", of}, "a target, or the path of an app of this project, in budgets", fmt.Sprintf("%q", of), registry.Instead(of, list, ""))
		}
	}
	return nil
}

// written is a text of the app, and where it is.
type written struct {
	file     string
	line     int
	from, to int
	text     string
}

// lettersOf are the letters, marks and digits of a text that are beyond ASCII; signs are left to the
// platform, which has them in fonts of its own.
func lettersOf(text string) []rune {
	var out []rune
	for _, r := range text {
		if unicode.Is(unicode.Variation_Selector, r) || unicode.Is(unicode.Me, r) {
			continue // they only steer a sign of the platform's, such as an emoji
		}
		if r > 0x7f && (unicode.IsLetter(r) || unicode.IsMark(r) || unicode.IsDigit(r) || unicode.Is(unicode.Sc, r)) && !slices.Contains(out, r) {
			out = append(out, r)
		}
	}
	return out
}
