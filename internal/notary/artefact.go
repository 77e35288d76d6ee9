package notary

import (
	"bytes"
	"errors"
	"fmt"
	"io/fs"
	"strings"

	"notaria/internal/change"
	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/platform"
	"notaria/internal/registry"
	"notaria/internal/sfnt"
)

// An artefact is what a recipe gives.
type artefact struct {
	content []byte
	sum     string // SHA-256, in hex
}

// artefacts makes each derived artefact once in a run. Of the originals, which may be
// many and large, it holds one at a time.
type artefacts struct {
	p        *Project
	last     artefact
	lastFile string
	sums     map[string]string // of originals, by the face's name
	derived  map[string]artefact
	made     int // how many were derived
}

// make makes what a recipe says.
func (a *artefacts) make(r platform.Recipe) (artefact, error) {
	switch r := r.(type) {
	case platform.Text:
		return artefact{r.Content, change.Sum(r.Content)}, nil
	case platform.Original:
		return a.placed(r.Face)
	case platform.Collection:
		return a.once(r, a.collection)
	case platform.WOFF2:
		return a.once(r, a.wrapped(func(tables map[string][]byte) ([]byte, error) {
			if r.Small {
				return sfnt.BuildWOFF2(tables, sfnt.Small)
			}
			return sfnt.BuildWOFF2(tables, sfnt.Fast)
		}))
	case platform.Slice:
		return a.once(r, a.slice)
	case platform.WOFF:
		return a.once(r, a.wrapped(sfnt.BuildWOFF))
	case platform.Drawing:
		return a.once(r, func(platform.Recipe) ([]byte, error) { return r.Make() })
	}
	return artefact{}, fmt.Errorf("no way to make %q", r.Key())
}

// once keeps what was derived.
func (a *artefacts) once(r platform.Recipe, derive func(platform.Recipe) ([]byte, error)) (artefact, error) {
	if have, ok := a.derived[r.Key()]; ok {
		return have, nil
	}
	b, err := derive(r)
	if err != nil {
		return artefact{}, err
	}
	return a.keep(r.Key(), b), nil
}

func (a *artefacts) original(id string) (artefact, error) {
	e, ok := a.p.Entry(id)
	if !ok {
		return artefact{}, fmt.Errorf("no face %q is enrolled", id)
	}
	if a.lastFile == e.File {
		a.sums[id] = a.last.sum
		return a.last, nil
	}
	b, err := a.p.original(e.File)
	if errors.Is(err, fs.ErrNotExist) {
		return artefact{}, &fault.Error{File: e.File, Expected: "the original of " + id, Found: "no file", Cure: "enrol it again, or strike it"}
	}
	if err != nil {
		return artefact{}, err
	}
	a.last, a.lastFile = artefact{b, change.Sum(b)}, e.File
	if a.sums == nil {
		a.sums = map[string]string{}
	}
	a.sums[id] = a.last.sum
	return a.last, nil
}

// originalOf is the SHA-256 of what a recipe is made of: of one original its own, of
// several that of theirs, "" for text.
func (a *artefacts) originalOf(r platform.Recipe) (string, error) {
	var sums []string
	for _, id := range r.Faces() {
		if a.sums[id] == "" {
			if _, err := a.original(id); err != nil {
				return "", err
			}
		}
		sums = append(sums, a.sums[id]+a.trimKey(id))
	}
	if len(sums) > 1 {
		return change.Sum([]byte(strings.Join(sums, "\n"))), nil
	}
	return strings.Join(sums, ""), nil
}

// collection joins faces into one file.
func (a *artefacts) collection(r platform.Recipe) ([]byte, error) {
	var fonts []map[string][]byte
	for _, id := range r.Faces() {
		tables, err := a.tables(id)
		if err != nil {
			return nil, err
		}
		fonts = append(fonts, tables)
	}
	return sfnt.BuildCollection(fonts)
}

// wrapped wraps a face for the web.
func (a *artefacts) wrapped(build func(map[string][]byte) ([]byte, error)) func(platform.Recipe) ([]byte, error) {
	return func(r platform.Recipe) ([]byte, error) {
		tables, err := a.tables(r.Faces()[0])
		if err != nil {
			return nil, err
		}
		return build(tables)
	}
}

// tables are those of a face as apps get it.
func (a *artefacts) tables(id string) (map[string][]byte, error) {
	o, err := a.placed(id)
	if err != nil {
		return nil, err
	}
	font, err := open(o.content)
	if err != nil {
		return nil, fmt.Errorf("%s: %w", id, err)
	}
	tables, err := font.Tables()
	if err != nil {
		return nil, fmt.Errorf("%s: %w", id, err)
	}
	return tables, nil
}

func open(b []byte) (*sfnt.Font, error) {
	file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
	if err != nil {
		return nil, err
	}
	return file.Font(0), nil
}

// Facts are those of an artefact, for generated code.
func (p *Project) Facts(r platform.Recipe) (platform.Facts, error) {
	a, err := p.makes.make(r)
	if err != nil {
		return platform.Facts{}, err
	}
	f := platform.Facts{Bytes: len(a.content), SHA256: a.sum}
	if len(r.Faces()) == 0 {
		return f, nil
	}
	font, err := open(a.content)
	if err == nil {
		f.Metrics, err = face.ReadMetrics(font)
	}
	return f, err
}

// A state is how a wanted file stands to the disk.
type state struct {
	exists, equal bool
	ours          bool // what is there, and is not what is wanted, is what Notaria wrote
	older         bool // that was an older Notaria, and nothing else changed since
	marked        bool // it has the mark of generated text
	want          registry.Written
	content       []byte // what is wanted; nil where it is there, and was not made again
}

// derived says whether a recipe's artefact is costly to make: it is neither a copy nor text that a plan
// has already.
func derived(r platform.Recipe) bool {
	switch r.(type) {
	case platform.Original, platform.Text:
		return false
	}
	return true
}

// compare holds a wanted file against the disk. Nothing is derived where the ledger
// tells that neither the recipe nor the originals changed.
func (p *Project) compare(set *change.Set, f platform.File) (state, error) {
	s := state{want: registry.Written{Path: f.Path, Recipe: f.Recipe.Key()}}
	var err error
	if s.want.Original, err = p.makes.originalOf(f.Recipe); err != nil {
		return s, err
	}
	have, mine := p.Ledger.Wrote(f.Path)
	if platform.IsText(f.Recipe) {
		s.want.By = registry.Version
	}
	if derived(f.Recipe) || p.makes.trims(f.Recipe) {
		if mine && have.Recipe == s.want.Recipe && have.Original == s.want.Original {
			if old, err := set.Read(f.Path); err == nil && (change.Sum(old) == have.SHA256 || platform.IsText(f.Recipe) && isDOS(old) && change.Sum(unix(old)) == have.SHA256) {
				s.exists, s.equal, s.want.SHA256, s.want.By = true, true, have.SHA256, have.By
				p.DOS = p.DOS || platform.IsText(f.Recipe) && isDOS(old)
				return s, nil
			}
		}
	}
	a, err := p.makes.make(f.Recipe)
	if err != nil {
		return s, err
	}
	s.content, s.want.SHA256 = a.content, a.sum
	if s.exists, s.equal, err = set.Holds(f.Path, a.content); err != nil || !s.exists || s.equal {
		return s, err
	}
	old, err := set.Read(f.Path)
	if mine {
		s.ours = p.ours(have, old)
		s.older = s.ours && have.By != s.want.By && (p.Ledger.Registry == "" || p.Ledger.Registry == p.Registry.Sum())
	}
	if platform.IsText(f.Recipe) {
		s.marked = marked(old)
		s.equal = isDOS(old) && bytes.Equal(unix(old), unix(a.content))
		p.DOS = p.DOS || s.marked && isDOS(old)
	}
	return s, err
}

// A Stand is how a wanted file stands to the disk.
type Stand struct {
	Exists, Equal bool
	Ours          bool // what is there is what Notaria wrote
	Older         bool // an older version of it, from the same registry
	// Edited says that what is there is neither what is wanted nor what Notaria wrote; Line is the
	// first that differs, 1-based, and What shows it, where both are text.
	Edited bool
	Line   int
	What   string
}

// A CannotMakeError is why a wanted file cannot be made, though its app could be planned: what a role
// asks for of its pictures is known only when they are drawn.
type CannotMakeError struct {
	Owners []registry.Owner
	Err    error
}

func (e *CannotMakeError) Error() string { return e.Err.Error() }
func (e *CannotMakeError) Unwrap() error { return e.Err }

// Standing says whether a wanted file is there, whether it is as wanted, and what was edited.
func (p *Project) Standing(set *change.Set, f Wanted) (Stand, error) {
	s, err := p.compare(set, f.File)
	var wrong *fault.Error
	if _, drawn := f.Recipe.(platform.Drawing); drawn && errors.As(err, &wrong) {
		return Stand{}, &CannotMakeError{f.Owners, err}
	}
	out := Stand{Exists: s.exists, Equal: s.equal, Ours: s.ours, Older: s.older}
	if err != nil || !s.exists || s.equal || s.ours {
		return out, err
	}
	if _, mine := p.Ledger.Wrote(f.Path); !mine {
		return out, nil
	}
	old, err := set.Read(f.Path)
	if err != nil {
		return out, err
	}
	out.Edited = true
	out.Line, out.What = edited(old, s.content)
	return out, nil
}
