package audit

import (
	"bytes"
	"context"
	"path"
	"slices"
	"strings"

	"notaria/internal/language"
	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/registry"
)

// An idle app has everything that Notaria gives it, and nothing in the project that could be its own has a word by which
// code, markup or styles use it.
type idle struct {
	site      notary.SitePlan
	languages map[*language.Language]bool
	words     [][]byte
	others    []string // folders of other apps of the platform
	used      bool
}

// could says whether a file can be the app's: it is in its folder, or in that of no other app of the platform.
func (x *idle) could(file string) bool {
	deepest := ""
	for _, other := range x.others {
		if _, theirs := platform.Below(other, file); theirs && len(other) >= len(deepest) {
			deepest = other
		}
	}
	own := folderOf(x.site)
	_, ours := platform.Below(own, file)
	return deepest == "" || ours && len(own) > len(deepest)
}

// idleApps are the apps that could be idle, for nothing of theirs is missing and no name is asked for in their code.
func (a *pass) idleApps() []*idle {
	var out []*idle
	for _, s := range a.plan.Sites {
		k, ok := s.Site.(platform.Asker)
		if !ok || len(s.Code) == 0 || len(s.Words) == 0 || s.Unbuilt || a.broken[siteKey(s)] || a.lacksAny(s) ||
			slices.ContainsFunc(a.asks, func(k ask) bool { return siteKey(k.site) == siteKey(s) }) {
			continue
		}
		x := &idle{site: s, languages: map[*language.Language]bool{}}
		_, uses := k.Uses()
		for i := range uses {
			for _, l := range uses[i].Languages {
				x.languages[l] = true
			}
		}
		for _, o := range a.plan.Sites {
			if at := folderOf(o); o.Target.Name == s.Target.Name && at != folderOf(s) {
				x.others = append(x.others, at)
			}
		}
		for _, w := range s.Words {
			x.words = append(x.words, []byte(w))
		}
		for _, c := range a.carriedBy(s) {
			x.words = append(x.words, namesOf(c)...)
		}
		out = append(out, x)
	}
	return out
}

// lacksAny says whether a file or an entry of an app is not there.
func (a *pass) lacksAny(s notary.SitePlan) bool {
	return slices.ContainsFunc(s.All(), func(f platform.File) bool { return a.missing[f.Path] }) ||
		slices.ContainsFunc(a.lacks, func(l lack) bool { return slices.Contains(l.owners, s.Owner()) })
}

// idling finds the idle apps: every file of the project that people wrote is read, whatever its kind, for roles can be
// named in templates and in data. A file of a language that the app is not written in is no use of it.
func (a *pass) idling(ctx context.Context) error {
	apps := a.idleApps()
	if len(apps) == 0 {
		return nil
	}
	own := map[string][]string{} // what Notaria wrote into files of people
	for _, e := range a.plan.Entries {
		own[e.File] = append(own[e.File], e.Value)
	}
	for _, file := range a.p.Tree.Under("") {
		if err := ctx.Err(); err != nil {
			return err
		}
		l := language.Of(file)
		if a.noWords(file) || l == nil && own[file] != nil || !slices.ContainsFunc(apps, func(x *idle) bool { return !x.used }) {
			continue
		}
		text, ok := a.p.Tree.Glance(file, mostSource)
		if !ok || platform.IsGenerated(text) || bytes.IndexByte(text[:min(len(text), 512)], 0) >= 0 {
			continue
		}
		mark(apps, file, l, text, own[file])
	}
	for _, x := range apps {
		if !x.used {
			a.idle = append(a.idle, x.site)
		}
	}
	return nil
}

// noWords says whether a file is none in which an app's text could be given a role.
func (a *pass) noWords(file string) bool {
	_, planned := a.missing[file]
	return planned || platform.IsFont(file) || aboutFonts.MatchString(path.Base(file)) || slices.Contains([]string{registry.FileName, registry.LedgerName, KnownFile}, path.Base(file))
}

// mark notes which apps a file uses the roles or faces of. Its comments, and the lines that hold what Notaria entered,
// are no use.
func mark(apps []*idle, file string, l *language.Language, text []byte, own []string) {
	clean := false
	for _, x := range apps {
		if x.used || l != nil && !x.languages[l] || !x.could(file) || !holdsAny(text, x.words) {
			continue
		}
		if !clean {
			if clean = true; l != nil {
				text = l.Blank(text)
			}
			text = withoutLines(text, own)
		}
		x.used = holdsAny(text, x.words)
	}
}

func holdsAny(text []byte, words [][]byte) bool {
	return slices.ContainsFunc(words, func(w []byte) bool { return bytes.Contains(text, w) })
}

// withoutLines is a text without the lines that hold a value.
func withoutLines(text []byte, values []string) []byte {
	if len(values) == 0 {
		return text
	}
	var out []byte
	for line := range bytes.Lines(text) {
		if !slices.ContainsFunc(values, func(v string) bool {
			return v != "" && strings.Contains(v, strings.TrimSpace(string(line))) || bytes.Contains(line, []byte(v))
		}) {
			out = append(out, line...)
		}
	}
	return out
}

// roleNotUsed reports the idle apps.
func roleNotUsed(a *pass, report func(Finding)) error {
	for _, s := range a.idle {
		report(by(s.Owner(), Finding{File: s.Code[0].Path, Message: "nothing in this app uses a role or a face",
			Cause: "the fonts are in the app, and its texts still show the system's font", Cure: "write what notaria usage prints for the app"}))
	}
	return nil
}
