package notary

import (
	"bytes"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"notaria/internal/change"
	"notaria/internal/edit"
	"notaria/internal/edit/splice"
	"notaria/internal/fault"
	"notaria/internal/registry"
)

// An UnsettledError says that version control has put two sides of the project together, and that registering must
// settle what both wrote by Notaria before anything can be said of it.
type UnsettledError struct {
	Marked []string // files with marks of a merge, with the line of the first one
	err    error
}

func (e *UnsettledError) Error() string { return e.err.Error() }
func (e *UnsettledError) Unwrap() error { return e.err }

// Unsettled is that error, nil where no merge left anything.
func (p *Project) Unsettled() error { return p.unsettled(true) }

// unsettled is Unsettled; without generated, files that a plan does not read are left alone, unless a merge shows elsewhere.
func (p *Project) unsettled(generated bool) error {
	if p.bears {
		return nil
	}
	marked := p.marked(generated)
	if len(marked) == 0 && !p.Ledger.Merged {
		return nil
	}
	found := "two accounts of two branches"
	if len(marked) > 0 {
		found = "merge conflict markers (<<<<<<<) in " + strings.Join(marked, ", ")
	}
	return &UnsettledError{marked, &fault.Error{File: registry.LedgerName, Expected: "files whose merge is finished", Found: found,
		Cure: "run: notaria register, which settles what both sides have of Notaria"}}
}

// manifests are the files with entries on the ledger, and generated those that Notaria generates, in order.
func (p *Project) manifests() []string {
	var out []string
	for _, e := range p.Ledger.Entries {
		out = append(out, e.File)
	}
	slices.Sort(out)
	return slices.Compact(out)
}

func (p *Project) generated() []string {
	var out []string
	for _, f := range p.Ledger.Files {
		if f.By != "" {
			out = append(out, f.Path)
		}
	}
	return out
}

// accounted are both, each once.
func (p *Project) accounted() []string {
	out := append(p.manifests(), p.generated()...)
	slices.Sort(out)
	return slices.Compact(out)
}

// marked are the files of the ledger in which a merge has left its marks, as FILE:LINE, with the generated ones where these
// are asked for, or where a merge shows in another. Files are looked through once in a run; what cannot be read is reported
// with its app.
func (p *Project) marked(generated bool) []string {
	if p.merging == nil {
		p.merging = &marks{manifests: p.marksIn(p.manifests())}
	}
	m := p.merging
	if !generated && len(m.manifests) == 0 && !p.Ledger.Merged {
		return nil
	}
	if !m.whole {
		m.whole, m.all = true, p.marksIn(p.accounted())
	}
	return m.all
}

// marks are where a merge has left its marks: in manifests, and in all.
type marks struct {
	manifests, all []string
	whole          bool // all is known
}

// marksIn are the first marks of files.
func (p *Project) marksIn(names []string) []string {
	var out []string
	set := p.set()
	for _, name := range names {
		text, err := set.Read(name)
		if err != nil {
			continue
		}
		if at := firstMark(text); at > 0 {
			out = append(out, fmt.Sprintf("%s:%d", name, at))
		}
	}
	return out
}

// firstMark is the line of the first mark of a merge, 0 if there is none, or the marks do not belong together.
func firstMark(text []byte) int {
	from := 0
	for {
		i := bytes.Index(text[from:], []byte("<<<<<<<"))
		if i < 0 {
			return 0
		}
		at := from + i
		if line, _, _ := bytes.Cut(text[at:], []byte{'\n'}); (at == 0 || text[at-1] == '\n') && registry.MergeMark(line) == '<' {
			if _, _, err := sides(text); err != nil {
				return 0 // no merge leaves this
			}
			return splice.LineOf(text, at)
		}
		from = at + 7
	}
}

// unmerged refuses a registry in which a merge has left its marks: people settle it. It names all other files, too.
func (p *Project) unmerged(text []byte) error {
	line := firstMark(text)
	if line == 0 {
		return nil
	}
	cure := "keep the faces and roles of both sides, and take the markers out; then run: notaria register"
	if marked := p.marked(true); len(marked) > 0 {
		cure += ", which settles what both sides have of Notaria in " + strings.Join(marked, ", ")
	}
	return &fault.Error{File: registry.FileName, Line: line, Expected: "a file whose merge is finished", Found: "a merge conflict marker (<<<<<<<)", Cure: cure}
}

// sides are the two texts that a merge could not join. What both had before is left out.
func sides(text []byte) (ours, theirs []byte, err error) {
	in := byte(0)
	for line := range bytes.Lines(text) {
		m := registry.MergeMark(line)
		switch {
		case m == '<' && in == 0, m == '|' && in == '<', m == '=' && (in == '<' || in == '|'):
			in = m
		case m == '>' && in == '=':
			in = 0
		case m == '=' && in == 0: // a line of the text
			ours, theirs = append(ours, line...), append(theirs, line...)
		case m != 0:
			return nil, nil, errors.New("marks of a merge that do not belong together")
		case in == 0:
			ours, theirs = append(ours, line...), append(theirs, line...)
		case in == '<':
			ours = append(ours, line...)
		case in == '=':
			theirs = append(theirs, line...)
		}
	}
	if in != 0 {
		return nil, nil, errors.New("a mark of a merge without its end")
	}
	return ours, theirs, nil
}

// Settle plans the end of a merge, where nothing but Notaria's own part of files differs: generated files are Notaria's to
// write anew, and a manifest takes one side, where both are the same without the entries on the ledger; the next registration
// enters what is wanted. A manifest that differs in more is people's: its apps are not served until they have settled it. It
// returns the files that it settles.
func (p *Project) Settle() (*change.Set, []string, error) {
	set := p.set()
	var settled []string
	for _, name := range p.accounted() {
		text, err := set.Read(name)
		if err != nil {
			continue
		}
		line := firstMark(text)
		one, ok := p.settled(name, text, line)
		if ok && line > 0 {
			settled = append(settled, name)
			if err := set.Write(name, one); err != nil {
				return nil, nil, err
			}
		}
	}
	for i, f := range set.Files {
		if marked(f.After) {
			set.Files[i].Summed = "generated"
		}
	}
	p.Ledger.Merged = false
	return set, settled, p.seal(set)
}

// Bear has this run go on though manifests have marks of a merge: their apps are refused.
func (p *Project) Bear() { p.bears = true }

// unfinished is the error of a manifest in which a merge has left its marks.
func unfinished(name string, line int) error {
	return &fault.Error{File: name, Line: line, Expected: "a file whose merge is finished", Found: "a merge conflict marker (<<<<<<<), around more than Notaria wrote",
		Cure: "settle it by hand, then run: notaria register"}
}

// finished gives the apps that are refused for such a manifest that reason, instead of what a reader makes of the marks.
func (p *Project) finished(plan *Plan) {
	for i, r := range plan.Refused {
		var f *fault.Error
		if !p.bears || !errors.As(r.Err, &f) {
			continue
		}
		if text, err := p.set().Read(f.File); err == nil {
			if line := firstMark(text); line > 0 {
				plan.Refused[i].Err = unfinished(f.File, line)
			}
		}
	}
}

// settled is what a file becomes; line is that of its first mark.
func (p *Project) settled(name string, text []byte, line int) ([]byte, bool) {
	ours, theirs := text, text
	if line > 0 {
		var err error
		if ours, theirs, err = sides(text); err != nil {
			return nil, false
		}
	}
	w, mine := p.Ledger.Wrote(name)
	if mine && marked(ours) {
		// Both sides had it of Notaria; version control has put it together from both.
		if line > 0 || len(w.Others) > 0 && !recorded(w, text) {
			w.SHA256, w.Others = change.Sum(ours), nil
			p.Ledger.Record(w)
		}
		return ours, true
	}
	if line == 0 {
		return text, true
	}
	a, okA := p.bare(name, ours)
	b, okB := p.bare(name, theirs)
	return ours, okA && okB && bytes.Equal(a, b)
}

// bare is a manifest without what the ledger says is Notaria's.
func (p *Project) bare(name string, text []byte) ([]byte, bool) {
	bySyntax := map[string][]edit.Entry{}
	var order []string
	for _, e := range p.Ledger.Entries {
		if e.File == name && p.couldWrite(e.Entry) {
			if bySyntax[e.Syntax] == nil {
				order = append(order, e.Syntax)
			}
			bySyntax[e.Syntax] = append(bySyntax[e.Syntax], e.Entry)
		}
	}
	for _, s := range order {
		syntax, err := p.Syntax(bySyntax[s][0])
		if err == nil {
			text, _, err = syntax.Reconcile(edit.Document{File: name, Text: text}, nil, bySyntax[s])
		}
		if err != nil {
			return nil, false
		}
	}
	return text, true
}

// Tells says whether a set of changes has git merge the ledger by lines from now on.
func (p *Project) Tells(set *change.Set) bool {
	return p.Ledger.Attributes != "" && slices.ContainsFunc(set.Files, func(f change.File) bool {
		return f.Path == attributesName && !f.Delete && bytes.HasPrefix(f.After, []byte(attributesLine))
	})
}

// What tells git to merge the ledger line by line, both sides kept.
const (
	attributesName = ".gitattributes"
	attributesLine = registry.LedgerName + " merge=union"
)

// attributes has git merge the ledger by lines, where the project is in a work tree of git, and takes that back where
// there is no ledger any more. The line goes first, so that it comes out as it came in.
func (p *Project) attributes(set *change.Set, gone bool) error {
	if gone == (p.Ledger.Attributes == "") {
		return nil // nothing to take back, or done already
	}
	if !gone && (p.striking || len(set.Files) == 0 || !inGit(p.Root)) {
		return nil
	}
	r, _, err := p.Dir.Regular(attributesName, mostAttributes)
	there := err == nil
	if there {
		r.Close()
	} else if !errors.Is(err, fs.ErrNotExist) {
		return nil // what is odd about it is no hindrance
	}
	text, err := set.Read(attributesName)
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	end := "\n"
	if isDOS(text) {
		end = "\r\n"
	}
	ours := []byte(attributesLine + end)
	switch {
	case gone && !bytes.Contains(text, ours):
		return nil
	case gone:
		text = bytes.Replace(text, ours, nil, 1)
		if len(text) == 0 && p.Ledger.Attributes == "file" {
			return set.Remove(attributesName)
		}
		return set.Write(attributesName, text)
	case bytes.Contains(text, []byte(registry.LedgerName)):
		return nil // people have said what they want
	}
	p.Ledger.Attributes = "line"
	if !there {
		p.Ledger.Attributes = "file"
	}
	return set.Write(attributesName, append(ours, text...))
}

// mostAttributes is how large that file may be, in bytes.
const mostAttributes = 1 << 20

// inGit says whether a folder is in a work tree of git.
func inGit(dir string) bool {
	for {
		if _, err := os.Lstat(filepath.Join(dir, ".git")); err == nil {
			return true
		}
		above := filepath.Dir(dir)
		if above == dir {
			return false
		}
		dir = above
	}
}
