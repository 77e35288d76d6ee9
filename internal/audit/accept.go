package audit

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"path"
	"slices"
	"strings"

	"notaria/internal/change"
	"notaria/internal/fault"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/notary"
	"notaria/internal/registry"
)

// A Report is what Check found out of a project.
type Report struct {
	Findings []Finding
	Accepted []Accepted
	// NotJudged counts the places where code asks for a font by what it is told when it runs: a name that is put together,
	// or that could stand for one of several texts, or for none that is seen.
	NotJudged int
}

// Accepted is a finding that the project accepts, with the reason that it gives.
type Accepted struct {
	Finding
	Reason string `json:"reason"`
	Where  string `json:"accepted_in"` // the file, and the line if it is a source's
}

// acceptance is what a comment in a source says:
//
//	notaria: accept unknown-font-name because the tests bring this font
var acceptance = lazy.Regexp(`\bnotaria:\s*accept\s+([a-z][a-z-]*)\s+because\s+([^\n]*[^\s*/>-])`)

// acceptor knows what a project accepts.
type acceptor struct {
	p     *notary.Project
	rules []registry.Accept
	used  []bool
	lines map[string]map[int][][2]string // by file: the line, and what it accepts
}

// sift takes out the findings that the project accepts.
func (a *pass) sift(found []Finding) Report {
	x := &acceptor{p: a.p, rules: a.p.Registry.Check.Accept, lines: map[string]map[int][][2]string{}}
	x.used = make([]bool, len(x.rules))
	r := Report{Findings: []Finding{}, NotJudged: a.notJudged}
	for _, f := range found {
		if reason, where := x.accepts(f); reason != "" {
			r.Accepted = append(r.Accepted, Accepted{f, reason, where})
		} else {
			r.Findings = append(r.Findings, f)
		}
	}
	for i, rule := range x.rules {
		if x.used[i] {
			continue
		}
		f := Finding{Rule: AcceptsNothing, Severity: Note, File: registry.FileName, Message: fmt.Sprintf("[[check.accept]] of %s in %q accepts nothing", rule.Rule, rule.Path),
			Cause: "no finding of this rule is there any more", Cure: "take the table out"}
		if !slices.ContainsFunc(Rules, func(r Rule) bool { return r.ID == rule.Rule }) {
			f.Cause, f.Cure = "there is no rule of this id", "correct the id: notaria check --help lists all"
		}
		r.Findings = append(r.Findings, f)
	}
	return r
}

// accepts is the reason why a finding is accepted, and where it is given; "" if it is not.
func (x *acceptor) accepts(f Finding) (reason, where string) {
	if f.Line > 0 {
		said := x.comments(f.File)
		for _, n := range []int{f.Line, f.Line - 1} {
			for _, pair := range said[n] {
				if pair[0] == f.Rule {
					return pair[1], fmt.Sprintf("%s:%d", f.File, n)
				}
			}
		}
	}
	for i, rule := range x.rules {
		if rule.Rule == f.Rule && covers(rule.Path, f.File) {
			x.used[i] = true
			return rule.Reason, registry.FileName
		}
	}
	return "", ""
}

// covers says whether a path of notaria.toml means a file: the file, a folder above it, or a pattern
// of either.
func covers(pattern, file string) bool {
	pattern = strings.TrimSuffix(strings.TrimSuffix(pattern, "/**"), "/")
	for at := file; ; at = path.Dir(at) {
		if ok, err := path.Match(pattern, at); ok && err == nil || pattern == "." {
			return true
		}
		if at == "." || at == "/" {
			return false
		}
	}
}

// comments are the acceptances in a source, by line.
func (x *acceptor) comments(file string) map[int][][2]string {
	if said, ok := x.lines[file]; ok {
		return said
	}
	said := map[int][][2]string{}
	x.lines[file] = said
	text, err := x.p.Dir.Read(file, mostSource)
	if err != nil || !bytes.Contains(text, []byte("notaria:")) {
		return said
	}
	var clean []byte // without comments, where the language is known
	if l := language.Of(file); l != nil {
		clean = l.Blank(text)
	}
	for _, m := range acceptance.FindAllSubmatchIndex(text, mostAsks) {
		if clean != nil && clean[m[0]] != ' ' {
			continue
		}
		n := 1 + bytes.Count(text[:m[0]], []byte("\n"))
		said[n] = append(said[n], [2]string{string(text[m[2]:m[3]]), string(text[m[4]:m[5]])})
	}
	return said
}

// KnownFile holds the findings that a project had when it began to use check.
const KnownFile = "notaria.known.json"

// Bounds of that file: its bytes.
const mostKnown = 8 << 20

// Known are findings that are known: an old project starts clean, and sees what is new. A finding is
// told by its rule, its app, its file and its message, and not by its line, which moves.
type Known struct {
	Schema   string         `json:"schema"` // notaria/known/1
	Findings []KnownFinding `json:"findings"`
}

// KnownFinding is a finding, and how often the file has it.
type KnownFinding struct {
	Rule    string `json:"rule"`
	Target  string `json:"target"`
	Site    string `json:"site"`
	File    string `json:"file"`
	Message string `json:"message"`
	Count   int    `json:"count"`
}

func (k KnownFinding) key() string {
	return strings.Join([]string{k.Rule, k.Target, k.Site, k.File, k.Message}, "\x00")
}

// Prints makes fingerprints of findings: the same finding has the same one in every run, wherever its line has moved to.
// The second of two that are the same otherwise has another one.
type Prints map[string]int

// Of is the fingerprint of a finding, in hex.
func (p Prints) Of(f Finding) string {
	key := knownOf(f).key()
	p[key]++
	sum := sha256.Sum256([]byte(fmt.Sprintf("%s\x00%d", key, p[key])))
	return hex.EncodeToString(sum[:16])
}

func knownOf(f Finding) KnownFinding {
	return KnownFinding{f.Rule, f.Target, f.Site, f.File, f.Message, 1}
}

const knownSchema = "notaria/known/1"

// NewKnown makes findings known.
func NewKnown(found []Finding) Known {
	k := Known{knownSchema, []KnownFinding{}}
	at := map[string]int{}
	for _, f := range found {
		one := knownOf(f)
		if i, ok := at[one.key()]; ok {
			k.Findings[i].Count++
			continue
		}
		at[one.key()] = len(k.Findings)
		k.Findings = append(k.Findings, one)
	}
	return k
}

// Bytes is the file.
func (k Known) Bytes() ([]byte, error) {
	b, err := json.MarshalIndent(k, "", "  ")
	if err != nil {
		return nil, err
	}
	return append(language.EscapeUnseen(b), '\n'), nil
}

// ReadKnown reads a project's known findings; none where there is no such file.
func ReadKnown(p *notary.Project) (Known, error) {
	text, err := p.Dir.Read(KnownFile, mostKnown)
	if errors.Is(err, fs.ErrNotExist) {
		return Known{}, nil
	}
	if err != nil {
		return Known{}, err
	}
	return ParseKnown(text)
}

// ParseKnown reads the text of KnownFile.
func ParseKnown(text []byte) (Known, error) {
	var k Known
	if err := json.Unmarshal(text, &k); err != nil {
		return Known{}, &fault.Error{File: KnownFile, Expected: "the JSON that notaria check --record-known writes", Found: err.Error(), Cure: "delete the file, then run: notaria check --record-known"}
	}
	if k.Schema != knownSchema {
		return Known{}, &fault.Error{File: KnownFile, Expected: "schema " + knownSchema, Found: fmt.Sprintf("%q", k.Schema), Cure: "delete the file, then run: notaria check --record-known"}
	}
	return k, nil
}

// Sift takes known findings out, and says how many these were, and how many known ones are no longer
// there.
func (k Known) Sift(found []Finding) (open []Finding, known, gone int) {
	left := map[string]int{}
	for _, f := range k.Findings {
		left[f.key()] += max(f.Count, 0)
	}
	open = []Finding{}
	for _, f := range found {
		if key := knownOf(f).key(); left[key] > 0 {
			left[key]--
			known++
		} else {
			open = append(open, f)
		}
	}
	for _, n := range left {
		gone += n
	}
	return open, known, gone
}

// WriteKnown makes the set of changes that records findings as known.
func WriteKnown(p *notary.Project, found []Finding) (*change.Set, error) {
	text, err := NewKnown(found).Bytes()
	if err != nil {
		return nil, err
	}
	set := &change.Set{Dir: p.Dir}
	return set, set.Write(KnownFile, text)
}
