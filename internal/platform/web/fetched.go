package web

import (
	"bytes"
	"fmt"
	"net/url"
	"path"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/splice"
	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

// What fetches fonts from another host, and what takes its place once the faces are in the project: a comment, and the old text in
// the ledger, for striking brings it back. It is done with --take-over alone.

// kindFetched is the place of an entry that stands for text that fetched fonts; Place.Attribute says what comments look like there.
const kindFetched edit.Kind = "fetched"

const (
	inMarkup = "markup"
	inRules  = "rules"
)

// Fetched is the syntax of such entries.
type Fetched struct{}

// Name is how entries name this syntax.
func (Fetched) Name() string { return "fetched fonts" }

// comment is what an entry's text becomes.
func comment(e edit.Entry) string {
	if e.Place.Attribute == inMarkup {
		return "<!-- " + e.Value + " -->"
	}
	return "/* " + e.Value + " */"
}

// Reconcile brings the text back of entries that are not wanted any more. What nobody took over stays as it is.
func (Fetched) Reconcile(doc edit.Document, want, owned []edit.Entry) ([]byte, []edit.Entry, error) {
	wanted := edit.Keys(want)
	var now []edit.Entry
	for _, e := range owned {
		at := bytes.Index(doc.Text, []byte(comment(e)))
		switch {
		case at < 0: // somebody took it out, or brought the line back
		case wanted[e.Key()]:
			now = append(now, e)
		case len(e.With) > 0:
			text, err := doc.Apply(splice.Replace(at, at+len(comment(e)), e.With[0]))
			if err != nil {
				return nil, nil, err
			}
			doc.Text = text
		}
	}
	return doc.Text, now, nil
}

// Convert puts comments in the place of what fetches.
func (Fetched) Convert(doc edit.Document, want, mine []edit.Entry) ([]byte, []edit.Entry, error) {
	have := edit.Keys(mine)
	for _, e := range want {
		if have[e.Key()] || len(e.With) == 0 {
			continue
		}
		at := bytes.Index(doc.Text, []byte(e.With[0]))
		if at < 0 {
			continue
		}
		text, err := doc.Apply(splice.Replace(at, at+len(e.With[0]), comment(e)))
		if err != nil {
			return nil, nil, err
		}
		doc.Text, mine = text, append(mine, e)
	}
	return doc.Text, mine, nil
}

// TakeOver has nothing to add: Convert records what it changes.
func (Fetched) TakeOver(edit.Document, []edit.Entry, []edit.Entry) []edit.Entry { return nil }

// Paste is nothing that a person writes: they take a line out.
func (Fetched) Paste([]edit.Entry) string { return "" }

// Missing lacks nothing: that an app fetches fonts is a finding of its own.
func (Fetched) Missing(edit.Document, []edit.Entry) ([]edit.Lack, error) { return nil, nil }

// AnyEntry says that an entry names no font file.
func (Fetched) AnyEntry() {}

var (
	importOfHost = lazy.Regexp(`(?i)@import\s+(?:url\(\s*)?["']?((?:https?:)?//[^"'\s()<>\x60\\;]+)["']?\s*\)?[^;{}<>]*;`)
	connects     = lazy.Regexp(`(?i)\brel\s*=\s*["']?(?:preconnect|dns-prefetch)\b`)
	tookOver     = lazy.Regexp(`(?:<!-- (Notaria took over: [^\n]+?) -->|/\* (Notaria took over: [^\n]+?) \*/)`)
)

const tookOverMark = "Notaria took over: "

// mostNamed is how many families a comment names, each of a bounded length.
const mostNamed = 8

// A fetch is an element or a rule that gets fonts from another host, or connects to it early.
type fetch struct {
	from, to int
	link     bool     // an element, and no rule
	families []string // none for a connection
	host     string
	covered  bool // all that it asks for is enrolled
}

// fetches are those of a document, in order.
func fetches(l *language.Language, raw []byte, has func(platform.Ask) bool) (list []fetch) {
	clean := l.Blank(raw)
	add := func(from, to int, address string, link, early bool) {
		address = strings.ReplaceAll(address, "&amp;", "&")
		u, err := url.Parse(address)
		if err != nil || u.Host == "" {
			return
		}
		f := fetch{from: from, to: to, link: link, host: u.Hostname()}
		if !early {
			asks := platform.AsksOf(address, "")
			if platform.AnswerNetwork(address).Fault != platform.FromNetwork || platform.LooksLikeFont(u.Path) {
				return
			}
			f.covered = len(asks) > 0 && !slices.ContainsFunc(asks, func(a platform.Ask) bool { return !has(a) })
			for _, a := range asks {
				if !slices.Contains(f.families, a.Family) {
					f.families = append(f.families, a.Family)
				}
			}
		}
		list = append(list, f)
	}
	if l.Markup() {
		for _, m := range earlyLink.FindAllSubmatchIndex(clean, mostBlocks) {
			attributes := clean[m[2]:m[3]]
			href := hrefOf.FindSubmatch(attributes)
			if href == nil || bytes.Contains(attributes, []byte("{{")) || bytes.Contains(attributes, []byte("<%")) {
				continue
			}
			address := string(slices.Concat(href[1], href[2], href[3]))
			if early := connects.Match(attributes); platform.FromAddress(address) && (early || relSheet.Match(attributes) || relEarly.Match(attributes)) {
				add(m[0], m[1], address, true, early)
			}
		}
	}
	for _, m := range importOfHost.FindAllSubmatchIndex(clean, mostBlocks) {
		add(m[0], m[1], string(clean[m[2]:m[3]]), false, false)
	}
	slices.SortFunc(list, func(a, b fetch) int { return a.from - b.from })
	return ofFonts(list)
}

// ofFonts leaves connections out that are not for fonts, or that something needs that stays.
func ofFonts(list []fetch) []fetch {
	stays := slices.ContainsFunc(list, func(f fetch) bool { return len(f.families) > 0 && !f.covered })
	return slices.DeleteFunc(list, func(f fetch) bool {
		return len(f.families) == 0 && (stays || mayBeOwn("https://"+f.host))
	})
}

// fetched are the entries of what of the site fetches fonts that the project has, and of what was taken over.
func (s *site) fetched(job platform.Job) (list []edit.Entry) {
	if len(s.hooks) == 0 {
		return nil
	}
	pages := 0
	for _, file := range s.Tree.Under(s.Dir) {
		l := language.Of(file)
		rel, _ := s.Rel(file)
		if l != language.HTML && l != language.Template && l != language.Component && l != language.CSS && l != language.SCSS || s.output(path.Dir(rel)) {
			continue
		}
		if pages++; pages > mostLooked {
			break
		}
		raw, ok := s.Tree.Glance(file, platform.MostSource)
		if !ok || platform.IsGenerated(raw) || !bytes.Contains(raw, []byte("//")) && !bytes.Contains(raw, []byte(tookOverMark)) || l.Markup() && !s.showsOurs(file) {
			continue
		}
		list = append(list, ofFile(file, l, raw, job)...)
	}
	return list
}

// showsOurs says whether pages of a file have the style sheet of the roles: a line in it, or in a script or a style sheet of all.
func (s *site) showsOurs(file string) bool {
	return slices.ContainsFunc(s.hooks, func(h hook) bool { return h.file == file || !h.page && h.place.Kind != kindHead })
}

// covers says whether a face of the project is what is asked for, under the family's own name.
func covers(job platform.Job, a platform.Ask) bool {
	return slices.ContainsFunc(job.Faces, func(f platform.Face) bool {
		if !strings.EqualFold(platform.FamilyOf(f.Face), a.Family) || (f.Slant != face.Upright) != a.Italic {
			return false
		}
		from, to := f.Weight, f.Weight
		if w, ok := axis(f.Face, "wght"); ok {
			from, to = int(w.Min), int(w.Max)
		}
		return (a.Weight == 0 || from <= a.Weight && a.Weight <= to) && a.To <= to
	})
}

// ofFile are the entries of one document: what follows each other with nothing but space between is one.
func ofFile(file string, l *language.Language, raw []byte, job platform.Job) (list []edit.Entry) {
	count := map[string]int{}
	entry := func(link bool, value, with string) {
		place := edit.Place{Kind: kindFetched, Attribute: inRules}
		if link {
			place.Attribute = inMarkup
		}
		e := edit.Entry{File: file, Syntax: Fetched{}.Name(), Place: place, Value: value}
		if with != "" {
			e.With = []string{with}
		}
		list = append(list, e)
	}
	for _, m := range tookOver.FindAllSubmatch(raw, mostBlocks) {
		value := string(slices.Concat(m[1], m[2]))
		if plain := numbered.ReplaceAllString(value, ""); still(plain, job) {
			count[plain]++
			entry(len(m[1]) > 0, value, "")
		}
	}
	has := func(a platform.Ask) bool { return covers(job, a) }
	all := slices.DeleteFunc(fetches(l, raw, has), func(f fetch) bool { return len(f.families) > 0 && !f.covered })
	for i := 0; i < len(all); {
		names, end := []string{}, i
		for ; end < len(all) && (end == i || all[end].link && all[i].link && len(bytes.TrimSpace(raw[all[end-1].to:all[end].from])) == 0); end++ {
			for _, name := range all[end].families {
				names = append(names, safely(name))
			}
		}
		if len(names) == 0 {
			names = []string{all[i].host}
		}
		if names = slices.Compact(names); len(names) > mostNamed {
			names = names[:mostNamed]
		}
		value := tookOverMark + strings.Join(names, ", ")
		if count[value]++; count[value] > 1 {
			value = fmt.Sprintf("%s (%d)", value, count[value])
		}
		entry(all[i].link, value, string(raw[all[i].from:all[end-1].to]))
		i = end
	}
	return list
}

// still says whether the project has faces of all families that a comment names: those of a family that was struck are fetched again.
func still(value string, job platform.Job) bool {
	for _, name := range strings.Split(strings.TrimPrefix(value, tookOverMark), ", ") {
		if !strings.Contains(name, ".") && !slices.ContainsFunc(job.Faces, func(f platform.Face) bool { return strings.EqualFold(safely(platform.FamilyOf(f.Face)), name) }) {
			return false
		}
	}
	return true
}

// safely is a name as a comment of either form can hold it.
func safely(name string) string {
	return strings.ReplaceAll(language.CSS.Comment(language.HTML.Comment(name)), ",", " ")
}

var numbered = lazy.Regexp(` \(\d+\)$`)

// tookOverForm is text that can have been taken over: links and imports, and space.
var tookOverForm = lazy.Regexp(`^\s*(?:(?:<link\b(?:[^<>"']|"[^"]*"|'[^']*')*>|@import\s[^;{}<>]*;)\s*)+$`)

// OwnsEntry says whether an entry of a ledger can be that of text that was taken over: a ledger is a claim, and what it brings back
// is nothing but links and imports.
func (Platform) OwnsEntry(e edit.Entry) bool {
	return e.Syntax == Fetched{}.Name() && e.Place.Kind == kindFetched && strings.HasPrefix(e.Value, tookOverMark) &&
		!slices.ContainsFunc(e.With, func(w string) bool { return !tookOverForm.MatchString(w) })
}
