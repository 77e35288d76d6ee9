package notary

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"path"
	"slices"
	"sort"
	"strings"

	"notaria/internal/change"
	"notaria/internal/disk"
	"notaria/internal/edit"
	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/platform"
	"notaria/internal/registry"
)

// Options say how changes are made from a plan.
type Options struct {
	Overwrite bool // take the place of files that somebody else changed
	TakeOver  bool // count as Notaria's what somebody else registered in the same way
	Strict    bool // one app that cannot be served stops all

	undo *undoing // for strike: by the ledger, where the plan does not know
}

// Changes turns a plan into the set of changes that makes the disk match it. An app
// whose files or manifests cannot be changed joins the refused of the plan, and what
// it has stays as it is.
func (p *Project) Changes(ctx context.Context, plan *Plan, opt Options) (*change.Set, error) {
	return p.changes(ctx, p.set(), plan, opt)
}

func (p *Project) changes(ctx context.Context, begun *change.Set, plan *Plan, opt Options) (*change.Set, error) {
	if err := p.Unsettled(); err != nil {
		return nil, err
	}
	ledger := p.Ledger
	for {
		p.Ledger = ledger.Clone()
		w := &writer{p: p, plan: plan, opt: opt, set: begun.Clone()}
		err := w.all(ctx)
		var r *refusalError
		switch {
		case errors.As(err, &r) && r.manifest && opt.undo.leave(r.owners, r.Err):
			continue
		case errors.As(err, &r) && !opt.Strict && p.refuse(plan, r.owners, r.Refusal):
			continue
		case err != nil:
			p.Ledger = ledger
			return nil, err
		}
		// A change of the registry that no app shows is none of the ledger's.
		if len(plan.whole) == len(p.targets) && plan.Passed == 0 && (len(w.set.Files) > 0 || !p.Ledger.Equal(ledger)) {
			p.Ledger.Registry = p.Registry.Sum()
		}
		if err := p.seal(w.set); err != nil {
			return nil, err
		}
		sumUp(w.set, plan)
		return w.set, nil
	}
}

// sumUp marks generated files: a diff shows them in full only where that is asked for.
func sumUp(set *change.Set, plan *Plan) {
	code := map[string]bool{}
	for _, f := range plan.Files {
		if platform.IsText(f.Recipe) {
			code[f.Path] = true
		}
	}
	for i, f := range set.Files {
		if code[f.Path] && f.Summed == "" {
			set.Files[i].Summed = "generated"
		}
	}
}

// A refusalError is why some sites cannot be served.
type refusalError struct {
	Refusal
	owners   []registry.Owner
	manifest bool // it is about what a manifest says, and neither about a file nor about reading one
}

func (e *refusalError) Error() string { return e.Err.Error() }
func (e *refusalError) Unwrap() error { return e.Err }

// Pasted is what a person can write by hand into a manifest that was left alone, where
// an error tells.
func Pasted(err error) (file, text string) {
	var r *refusalError
	if errors.As(err, &r) {
		return r.File, r.Paste
	}
	return "", ""
}

// writer carries the parts of making a change set.
type writer struct {
	p    *Project
	plan *Plan
	set  *change.Set
	opt  Options
}

func (w *writer) all(ctx context.Context) error {
	files := slices.Clone(w.plan.Files)
	// The copies of a face one after the other, so that one original at a time is held.
	sort.SliceStable(files, func(i, j int) bool { return files[i].Recipe.Key() < files[j].Recipe.Key() })
	for _, f := range files {
		if err := ctx.Err(); err != nil {
			return err
		}
		if err := w.file(f); err != nil {
			return &refusalError{Refusal{Err: err}, f.Owners, false}
		}
	}
	if w.opt.TakeOver {
		if err := w.takeOriginals(); err != nil {
			return err
		}
	}
	taken, err := w.dropFiles()
	if err != nil {
		return err
	}
	if err := w.entries(); err != nil {
		return err
	}
	return w.giveBack(taken)
}

// giveBack takes files off the ledger that somebody else put there. A font that code, scenes or data of the app still name stays where it is:
// the app had it before Notaria. It is looked for when the manifests say what they will say.
func (w *writer) giveBack(taken []registry.Written) error {
	if len(taken) == 0 {
		return nil
	}
	named := w.named(taken)
	for _, f := range taken {
		if named[f.Path] {
			w.p.Ledger.Forget(f.Path)
		} else if err := w.p.remove(w.set, f.Path); err != nil {
			return err
		}
	}
	return nil
}

// named says which of some files a text of the project that is not Notaria's names, as it will be.
func (w *writer) named(files []registry.Written) map[string]bool {
	var paths []string
	for _, f := range files {
		paths = append(paths, f.Path)
	}
	return platform.NamedIn(w.p.Tree.Under(""), paths, func(name string) ([]byte, bool) {
		text, gone, changes := w.set.Coming(name)
		if _, mine := w.p.Ledger.Wrote(name); mine || gone || name == registry.FileName || name == registry.LedgerName {
			return nil, true
		}
		if changes {
			return text, true
		}
		text, err := w.p.Dir.Read(name, platform.MostNaming)
		return text, err == nil
	})
}

// takeOriginals puts originals on the ledger that are where enrol puts them, with their licences: it lost them.
func (w *writer) takeOriginals() error {
	for _, f := range w.p.Registry.Faces {
		for _, name := range []string{f.File, f.Licence} {
			if _, mine := w.p.Ledger.Wrote(name); mine || name == "" || path.Dir(name) != w.p.OriginalsFolder() {
				continue
			}
			text, err := w.set.Read(name)
			if errors.Is(err, fs.ErrNotExist) {
				continue
			}
			if err != nil {
				return err
			}
			w.p.Ledger.Record(registry.Written{Path: name, SHA256: change.Sum(text)})
		}
	}
	return nil
}

// kept are the owners on the ledger that this run does not decide about.
func (w *writer) kept(owners []registry.Owner) []registry.Owner {
	var out []registry.Owner
	for _, o := range owners {
		if !w.plan.knows(o) {
			out = append(out, o)
		}
	}
	return out
}

// file brings one wanted file about.
func (w *writer) file(f Wanted) error {
	s, err := w.p.compare(w.set, f.File)
	if err != nil {
		return err
	}
	written, mine := w.p.Ledger.Wrote(f.Path)
	s.want.Owners = registry.Union(f.Owners, w.kept(written.Owners))
	isText := platform.IsText(f.Recipe)
	switch {
	case s.equal && !mine && w.opt.TakeOver:
		s.want.Taken = !isText // what Notaria alone writes was Notaria's: the ledger is lost
		w.p.Ledger.Record(s.want)
		return nil
	case s.equal && !mine:
		return nil // somebody put the very same file there: theirs
	case s.equal:
		if written.By != "" {
			s.want.By = written.By // nothing is written
		}
		w.p.Ledger.Record(s.want)
		return nil
	case s.exists && !mine && w.opt.TakeOver && s.marked:
	case s.exists && !w.opt.Overwrite && !mine && !isText:
		return conflict(f.Path, "another file of that name", "enrol that file instead, move it away, or register with --overwrite")
	case s.exists && !w.opt.Overwrite && !mine:
		if s.marked {
			return conflict(f.Path, "a generated file that is not on the ledger", "if the ledger was lost, register with --take-over; else move the file away, or register with --overwrite")
		}
		return conflict(f.Path, "another file of that name", "move it away, or register with --overwrite")
	case s.exists && !w.opt.Overwrite && !s.ours:
		old, err := w.set.Read(f.Path)
		if err != nil {
			return err
		}
		line, what := edited(old, s.content)
		return &fault.Error{File: f.Path, Line: line, Expected: "what Notaria wrote, or no file", Found: "it was edited after Notaria wrote it" + what,
			Cure: "keep your change elsewhere (roles and sizes belong in notaria.toml), then register with --overwrite"}
	}
	return w.p.write(w.set, s.want, s.content)
}

// edited shows the first line of a generated file that is another than Notaria's; of a file that is no
// text, nothing.
func edited(old, ours []byte) (line int, what string) {
	if !isText(old) || !isText(ours) {
		return 0, ""
	}
	mine, theirs := strings.Split(string(unix(ours)), "\n"), strings.Split(string(unix(old)), "\n")
	for i := range max(len(mine), len(theirs)) {
		at := func(lines []string) string {
			if i >= len(lines) || strings.TrimSpace(lines[i]) == "" {
				return "nothing"
			}
			return fmt.Sprintf("%q", face.Short(strings.TrimSpace(lines[i])))
		}
		if i >= len(mine) || i >= len(theirs) || mine[i] != theirs[i] {
			return i + 1, fmt.Sprintf(": there is %s, and Notaria writes %s", at(theirs), at(mine))
		}
	}
	return 0, ""
}

// conflict says that a file which Notaria would write holds something that Notaria did
// not write.
func conflict(path, found, cure string) error {
	return &fault.Error{File: path, Expected: "what Notaria wrote, or no file", Found: found, Cure: cure}
}

// dropFiles removes what Notaria once wrote for sites and nobody wants now, and returns what it took over from others.
// Originals and licences, which have no owners, stay until they are struck.
func (w *writer) dropFiles() (taken []registry.Written, err error) {
	wanted := map[string]bool{}
	for _, f := range w.plan.Files {
		wanted[f.Path] = true
	}
	for _, f := range slices.Clone(w.p.Ledger.Files) {
		if wanted[f.Path] || len(f.Owners) == 0 {
			continue
		}
		if kept := w.kept(f.Owners); len(kept) > 0 && !w.opt.undo.file(f.Path) {
			f.Owners = kept
			w.p.Ledger.Record(f)
		} else if f.Taken {
			taken = append(taken, f)
		} else if err := w.p.remove(w.set, f.Path); err != nil {
			return nil, err
		}
	}
	return taken, nil
}

// manifest is what one manifest should hold of one syntax, and what of it is Notaria's.
type manifest struct {
	file, syntax string
	want         []WantedEntry
	owned        []registry.Entry
	concerned    bool // this run decides about something of it
}

// manifests lists what is to be reconciled, by file and syntax: what the plan wants, and
// what others have on the ledger, which counts as wanted.
func (w *writer) manifests() []*manifest {
	all := map[[2]string]*manifest{}
	at := func(e edit.Entry) *manifest {
		key := [2]string{e.File, e.Syntax}
		if all[key] == nil {
			all[key] = &manifest{file: e.File, syntax: e.Syntax}
		}
		return all[key]
	}
	for _, e := range w.plan.Entries {
		m := at(e.Entry)
		m.want, m.concerned = append(m.want, e), true
	}
	for _, e := range w.p.Ledger.Entries {
		if !w.p.couldWrite(e.Entry) {
			continue
		}
		m := at(e.Entry)
		m.owned = append(m.owned, e)
		kept := w.kept(e.Owners)
		if len(kept) == 0 || w.opt.undo.entry(e) {
			m.concerned = m.concerned || len(e.Owners) > 0
			continue
		}
		if i := slices.IndexFunc(m.want, func(x WantedEntry) bool { return x.Key() == e.Key() }); i >= 0 {
			m.want[i].Owners = registry.Union(m.want[i].Owners, kept)
		} else {
			m.want = append(m.want, WantedEntry{e.Entry, kept})
		}
	}
	list := make([]*manifest, 0, len(all))
	for _, m := range all {
		list = append(list, m)
	}
	sort.Slice(list, func(i, j int) bool {
		return list[i].file < list[j].file || list[i].file == list[j].file && list[i].syntax < list[j].syntax
	})
	return list
}

// entries reconciles every manifest that should hold something or once did. The
// syntaxes of one manifest are reconciled in turn on the same bytes.
func (w *writer) entries() error {
	var now []registry.Entry
	list := w.manifests()
	for len(list) > 0 {
		n := 1
		for n < len(list) && list[n].file == list[0].file {
			n++
		}
		of := list[:n]
		list = list[n:]
		if w.opt.undo.leaves(of[0].file) || !slices.ContainsFunc(of, func(m *manifest) bool { return m.concerned }) {
			for _, m := range of {
				now = append(now, m.owned...) // the business of others
			}
			continue
		}
		mine, err := w.reconcile(of)
		if err != nil {
			return err
		}
		now = append(now, mine...)
	}
	w.p.Ledger.Entries = now
	return nil
}

func (w *writer) reconcile(list []*manifest) ([]registry.Entry, error) {
	doc := edit.Document{File: list[0].file}
	var err error
	if doc.Text, err = w.set.Read(doc.File); errors.Is(err, fs.ErrNotExist) && !slices.ContainsFunc(list, func(m *manifest) bool { return len(m.want) > 0 }) {
		return nil, nil // the app is gone, and our entries with it
	} else if errors.Is(err, fs.ErrNotExist) {
		err = &fault.Error{File: doc.File, Expected: "the manifest that the fonts are entered in", Found: "no file", Cure: "restore it, then register again"}
	}
	if err == nil && int64(len(doc.Text)) > most(doc.File) {
		err = &fault.Error{File: doc.File, Expected: "a manifest of at most " + disk.Size(most(doc.File)), Found: disk.Size(int64(len(doc.Text))), Cure: "make it smaller, or take it off the ledger"}
	}
	if line := firstMark(doc.Text); err == nil && line > 0 {
		err = unfinished(doc.File, line)
	}
	if err != nil {
		return nil, &refusalError{Refusal{Err: err}, ownersOf(list), false}
	}
	var now []registry.Entry
	for _, m := range list {
		var mine []registry.Entry
		if doc.Text, mine, err = w.one(doc, m); err != nil {
			return nil, err
		}
		now = append(now, mine...)
	}
	return now, w.set.Write(doc.File, doc.Text)
}

func ownersOf(list []*manifest) []registry.Owner {
	var out []registry.Owner
	for _, m := range list {
		for _, e := range m.want {
			out = registry.Union(out, e.Owners)
		}
		for _, e := range m.owned {
			out = registry.Union(out, e.Owners)
		}
	}
	return out
}

// one reconciles one syntax of a manifest, and returns the text and the entries that
// are Notaria's.
func (w *writer) one(doc edit.Document, m *manifest) ([]byte, []registry.Entry, error) {
	var want, owned []edit.Entry
	owners := map[string][]registry.Owner{}
	for _, e := range m.want {
		if !w.p.couldWrite(e.Entry) {
			return nil, nil, fmt.Errorf("%s: Notaria does not know its own entry %q; report this", e.File, e.Value)
		}
		want = append(want, e.Entry)
		owners[e.Key()] = e.Owners
	}
	for _, e := range m.owned {
		if w.p.couldWrite(e.Entry) { // else it is somebody's, whatever the ledger says
			owned = append(owned, e.Entry)
		}
	}
	if len(want) == 0 && len(owned) == 0 {
		return doc.Text, nil, nil
	}
	syntax, err := w.p.Syntax(append(slices.Clone(want), owned...)[0])
	if err != nil {
		return nil, nil, err
	}
	text, mine, err := syntax.Reconcile(doc, want, owned)
	if err != nil {
		return nil, nil, &refusalError{Refusal{Err: err, File: doc.File, Paste: syntax.Paste(want)}, ownersOf([]*manifest{m}), true}
	}
	if c, ok := syntax.(edit.Converter); ok && w.opt.TakeOver {
		if text, mine, err = c.Convert(doc.With(text), want, mine); err != nil {
			return nil, nil, &refusalError{Refusal{Err: err, File: doc.File}, ownersOf([]*manifest{m}), true}
		}
	}
	if w.opt.TakeOver {
		mine = append(mine, syntax.TakeOver(doc.With(text), want, mine)...)
	}
	var now []registry.Entry
	for _, e := range mine {
		now = append(now, registry.Entry{Entry: e, Owners: owners[e.Key()]})
	}
	return text, now, nil
}

// A Task is something that a person must add to a file, because Notaria does not
// write into it.
type Task struct{ File, Add string }

// Tasks lists what a plan wants and files that people write do not hold, each once.
func (p *Project) Tasks(plan *Plan) ([]Task, error) {
	set := p.set()
	var out []Task
	for _, e := range plan.Entries {
		if e.Syntax != (edit.ByHand{}).Name() {
			continue
		}
		text, err := set.Read(e.File)
		if err != nil {
			return nil, err
		}
		lacks, err := edit.ByHand{}.Missing(edit.Document{File: e.File, Text: text}, []edit.Entry{e.Entry})
		if err != nil {
			return nil, err
		}
		if t := (Task{e.File, e.Place.Name}); len(lacks) > 0 && !slices.Contains(out, t) {
			out = append(out, t)
		}
	}
	return out, nil
}

// Unserved is the error of a run that must serve every app and cannot; nil where there
// is none.
func (plan *Plan) Unserved() error {
	if len(plan.Refused) == 0 {
		return nil
	}
	return fmt.Errorf("%w", plan.Refused[0].Err)
}
