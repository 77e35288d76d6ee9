// Package audit answers one question: why would this font not show? A rule is a value
// with an id, a severity, what it looks for and why that matters; each finding has a
// cause, a cure in plain words, and the edits that would mend it, where they are known.
//
// The rules compare the plan with the disk; they never decide for themselves what ought
// to be there. What code asks for, and what a name leads to, the platforms say.
package audit

import (
	"bytes"
	"context"
	"errors"
	"path"
	"slices"
	"sort"
	"strings"

	"notaria/internal/change"
	"notaria/internal/edit"
	"notaria/internal/fault"
	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/registry"
)

// A Severity says what comes of a finding.
type Severity string

const (
	Error   Severity = "error"   // a font does not show, or a build fails
	Warning Severity = "warning" // another font may show
	Note    Severity = "note"    // every font shows; the app could be better
)

// Severities are all of them, the gravest first.
var Severities = []Severity{Error, Warning, Note}

// AtLeast says whether a severity is as grave as another.
func (s Severity) AtLeast(other Severity) bool {
	return slices.Index(Severities, s) <= slices.Index(Severities, other)
}

// A Rule is one reason why a font would not show.
type Rule struct {
	ID       string
	Severity Severity
	What     string // what it looks for
	Why      string // what comes of it
	Cause    string // how it mostly comes about
	Cure     string // what to do about it
	run      func(*pass, func(Finding)) error
}

// A Finding is one place where a rule holds. Line and Column are 1-based, Column and
// EndColumn in bytes; 0 where they mean nothing. The end is just past what is meant.
type Finding struct {
	Rule      string   `json:"rule"`
	Severity  Severity `json:"severity"`
	Target    string   `json:"target"`
	Site      string   `json:"site"` // the app's path
	File      string   `json:"file"`
	Line      int      `json:"line,omitempty"`
	Column    int      `json:"column,omitempty"`
	EndLine   int      `json:"end_line,omitempty"`
	EndColumn int      `json:"end_column,omitempty"`
	Message   string   `json:"message"`
	Cause     string   `json:"cause"`
	Cure      string   `json:"cure"`
	platform.Mending
	// Register says that notaria register mends it.
	Register bool `json:"register,omitempty"`
	lacking  lacking
}

// Mends says whether check --mend knows how to mend the finding.
func (f Finding) Mends() bool { return f.Register || !f.Empty() }

// lacking says what of a plan a finding shows not to be there.
type lacking int

const (
	nothing lacking = iota
	aFont
	aFile
	anEntry
)

// Lacks counts what of the plan is not there: fonts, code and other files of Notaria's,
// entries of manifests.
type Lacks struct {
	Fonts   int `json:"fonts"`
	Files   int `json:"files"`
	Entries int `json:"entries"`
}

// LacksOf counts what findings say is not there.
func LacksOf(found []Finding) Lacks {
	var l Lacks
	for _, f := range found {
		switch f.lacking {
		case aFont:
			l.Fonts++
		case aFile:
			l.Files++
		case anEntry:
			l.Entries++
		}
	}
	return l
}

// pass is what the rules look at: all of it is found out once, before the first rule.
type pass struct {
	p    *notary.Project
	plan *notary.Plan
	set  *change.Set

	missing map[string]bool         // planned files that are not there
	differs map[string]notary.Stand // planned files with other content
	lacks   []lack
	held    map[string][]platform.Held // by site
	loose   map[string][]platform.Held
	refused []notary.Refusal
	asks    []ask
	tracing bool // asks that are right are kept, too
	unread  []unread
	own     map[string]fonts               // of apps, without Notaria
	memo    map[string]map[string][]string // by site, what it has made for questions
	gone    map[string][]string            // by site, names of fonts that manifests name, and that are not there

	broken    map[string]bool            // sites one of whose manifests cannot be read
	flawed    map[string][]platform.Flaw // by site
	carries   map[string][]carried       // by site
	present   map[string]int             // places of the faces that lie about, by their files
	anyHolds  map[string]bool            // files of fonts that some app's manifests name
	strays    map[string]map[string]bool
	fontFiles map[string][]string
	used      map[string]map[string]bool
	searched  map[string]bool      // by site: whether its code was looked through for names
	texts     map[string][]written // by site

	renewed    []registry.Face   // nil before they were looked for
	idle       []notary.SitePlan // apps whose texts use no role and no face
	notJudged  int
	constants  map[string][]constant // by name
	references []reference
}

// lack is a wanted entry that is not there, with the sites that want it.
type lack struct {
	edit.Lack
	owners []registry.Owner
}

// Check holds a plan against the disk, and returns what the project does not accept. The findings are
// in the order of files, lines, columns and rules. Apps that cannot be served are findings, too.
func Check(ctx context.Context, p *notary.Project, plan *notary.Plan) ([]Finding, error) {
	r, err := NewReport(ctx, p, plan)
	return r.Findings, err
}

// NewReport is Check, with what the project accepts.
func NewReport(ctx context.Context, p *notary.Project, plan *notary.Plan) (Report, error) {
	if err := p.Unsettled(); err != nil {
		return Report{}, err
	}
	a := newPass(p, plan)
	for _, step := range []func(context.Context) error{a.files, a.entries, a.manifests, a.flawsAll, a.scan, a.idling} {
		if err := step(ctx); err != nil {
			return Report{}, err
		}
	}
	found := []Finding{}
	for _, r := range Rules {
		if err := r.run(a, func(f Finding) {
			f.Rule, f.Severity = r.ID, r.Severity
			if r.ID == NotServed && !p.Found {
				f.Severity = Note // nobody asked for it yet: it concerns Notaria alone
			}
			if r.ID == FromNetwork && p.Registry.Check.Offline {
				f.Severity = Error
			}
			found = append(found, f)
		}); err != nil {
			return Report{}, err
		}
	}
	for i := range found {
		a.pinpoint(&found[i])
	}
	sort.SliceStable(found, func(i, j int) bool {
		x, y := found[i], found[j]
		switch {
		case x.File != y.File:
			return x.File < y.File
		case x.Line != y.Line:
			return x.Line < y.Line
		case x.Column != y.Column:
			return x.Column < y.Column
		}
		return x.Rule < y.Rule
	})
	// What two apps have in common is one finding.
	found = slices.CompactFunc(found, func(x, y Finding) bool {
		return x.Line > 0 && x.Rule == y.Rule && x.File == y.File && x.Line == y.Line && x.Column == y.Column && x.Message == y.Message
	})
	return a.sift(found), nil
}

// pinpoint gives a finding that one edit mends the columns of what that exchanges.
func (a *pass) pinpoint(f *Finding) {
	if f.Line == 0 || f.Column > 0 || len(f.Edits) != 1 || f.Edits[0].File != f.File {
		return
	}
	e := f.Edits[0]
	raw, err := a.p.Dir.Read(f.File, mostSource)
	if err != nil || e.To > len(raw) {
		return
	}
	begin := bytes.LastIndexByte(raw[:e.From], '\n') + 1
	if 1+bytes.Count(raw[:begin], []byte("\n")) == f.Line && bytes.IndexByte(raw[e.From:e.To], '\n') < 0 {
		f.Column, f.EndLine, f.EndColumn = e.From-begin+1, f.Line, e.To-begin+1
	}
}

// files compares the planned files with the disk. An app for which one cannot be made is refused, and
// what is planned without it is compared.
func (a *pass) files(ctx context.Context) error {
	for {
		var cannot *notary.CannotMakeError
		err := a.compare(ctx)
		if !errors.As(err, &cannot) || !a.p.Refuse(a.plan, cannot) {
			return err
		}
	}
}

// compare holds each planned file against the disk once.
func (a *pass) compare(ctx context.Context) error {
	list := append([]notary.Wanted(nil), a.plan.Files...)
	a.missing, a.differs = map[string]bool{}, map[string]notary.Stand{}
	// The copies of a face one after the other, so that one original at a time is held.
	sort.SliceStable(list, func(i, j int) bool { return list[i].Recipe.Key() < list[j].Recipe.Key() })
	for _, f := range list {
		if err := ctx.Err(); err != nil {
			return err
		}
		s, err := a.p.Standing(a.set, f)
		if err != nil {
			return err
		}
		if a.missing[f.Path] = !s.Exists; s.Exists && !s.Equal {
			a.differs[f.Path] = s
		}
	}
	return nil
}

// entries finds the wanted entries that manifests do not hold.
func (a *pass) entries(context.Context) error {
	type group struct{ file, syntax string }
	groups := map[group][]notary.WantedEntry{}
	var order []group
	for _, e := range a.plan.Entries {
		g := group{e.File, e.Syntax}
		if groups[g] == nil {
			order = append(order, g)
		}
		groups[g] = append(groups[g], e)
	}
	for _, g := range order {
		list := groups[g]
		owners := map[string][]registry.Owner{}
		var want []edit.Entry
		for _, e := range list {
			want, owners[e.Key()] = append(want, e.Entry), e.Owners
		}
		lacks, err := a.missingOf(g.file, want)
		if err != nil {
			if !a.refuse(list[0].Owners[0], err) {
				return err
			}
			continue
		}
		for _, l := range lacks {
			a.lacks = append(a.lacks, lack{l, owners[l.Entry.Key()]})
		}
	}
	return nil
}

func (a *pass) missingOf(file string, want []edit.Entry) ([]edit.Lack, error) {
	syntax, err := a.p.Syntax(want[0])
	if err != nil {
		return nil, err
	}
	text, err := a.set.Read(file)
	if err != nil {
		return nil, err
	}
	return syntax.Missing(edit.Document{File: file, Text: text}, want)
}

// manifests asks the sites what their manifests name now.
func (a *pass) manifests(context.Context) error {
	for _, s := range a.plan.Sites {
		if h, ok := s.Site.(platform.Holder); ok {
			list, err := h.Held()
			if err != nil && !a.refuse(s.Owner(), err) {
				return err
			}
			a.broken[siteKey(s)] = err != nil
			a.held[siteKey(s)] = slices.DeleteFunc(list, func(h platform.Held) bool {
				rel, inside := platform.Below(folderOf(s), h.File)
				return inside && platform.InTests(rel) // a test's own font is not in the app
			})
		}
		if l, ok := s.Site.(platform.Unlister); ok {
			list, err := l.Unlisted()
			if err != nil && !a.refuse(s.Owner(), err) {
				return err
			}
			a.loose[siteKey(s)] = list
		}
	}
	return nil
}

// flawsAll asks all sites, for one that cannot be read is a finding of another rule.
func (a *pass) flawsAll(context.Context) error {
	for _, s := range a.plan.Sites {
		a.flawsOf(s)
	}
	return nil
}

func siteKey(s notary.SitePlan) string { return s.Target.Name + "\x00" + s.Site.Path() }

// refuse notes an app one of whose manifests cannot be read; false for an error of
// another kind. A manifest is named once.
func (a *pass) refuse(o registry.Owner, err error) bool {
	var f *fault.Error
	if !errors.As(err, &f) {
		return false
	}
	for _, r := range a.refused {
		if r.Target == o.Target && r.Err.Error() == err.Error() {
			return true
		}
	}
	a.refused = append(a.refused, notary.Refusal{Target: o.Target, App: o.App, Err: err})
	return true
}

// by fills in the app that a finding is about.
func by(o registry.Owner, f Finding) Finding {
	f.Target, f.Site = o.Target, o.App
	return f
}

// beside finds a file of the same name except for capitals.
func (a *pass) beside(name string) string {
	for _, other := range a.p.Tree.Under(path.Dir(name)) {
		if other != name && strings.EqualFold(other, name) {
			return other
		}
	}
	return ""
}

// ByHand counts the fonts that an app's manifests name, each once.
func ByHand(s notary.SitePlan) int {
	h, ok := s.Site.(platform.Holder)
	if !ok {
		return 0
	}
	list, err := h.Held()
	if err != nil {
		return 0
	}
	files := map[string]bool{}
	for _, x := range list {
		if x.File != "" {
			files[x.File] = true
		}
	}
	return len(files)
}
