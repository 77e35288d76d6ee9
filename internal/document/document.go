// Package document holds the JSON documents of all commands: one document on the
// standard output for each run with --json, {"schema": "notaria/<command>/1", ...}. The
// fields and their meaning are a contract; files of testdata hold examples that tests
// compare.
package document

import (
	"bytes"
	"encoding/json"
	"errors"
	"io"
	"path/filepath"

	"notaria/internal/asked"
	"notaria/internal/audit"
	"notaria/internal/change"
	"notaria/internal/credits"
	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/headers"
	"notaria/internal/language"
	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/specimen"
	"notaria/internal/subject"
	"notaria/internal/trim"
	"notaria/internal/weigh"
)

// Write writes a document.
func Write(w io.Writer, doc any) error {
	var b bytes.Buffer
	enc := json.NewEncoder(&b)
	enc.SetEscapeHTML(false)
	enc.SetIndent("", "  ")
	if err := enc.Encode(doc); err != nil {
		return err
	}
	_, err := w.Write(language.EscapeUnseen(b.Bytes()))
	return err
}

// list is never null.
func list[T any](items []T) []T { return append([]T{}, items...) }

// Names is the answer of names.
type Names struct {
	Schema   string         `json:"schema"` // notaria/names/1
	Faces    []face.Face    `json:"faces"`
	Problems []face.Problem `json:"problems"`
}

// NewNames makes the answer of names.
func NewNames(faces []face.Face, problems []face.Problem) Names {
	return Names{"notaria/names/1", list(faces), list(problems)}
}

// Failure is what a run with --json prints instead of its answer when it fails. Code is
// the exit code.
type Failure struct {
	Schema   string `json:"schema"` // notaria/error/1
	Code     int    `json:"code"`
	Message  string `json:"message"`
	File     string `json:"file,omitempty"`
	Line     int    `json:"line,omitempty"`
	Expected string `json:"expected,omitempty"`
	Found    string `json:"found,omitempty"`
	Cure     string `json:"cure,omitempty"`
	// Paste is what a person can write into the file by hand instead.
	Paste string `json:"paste,omitempty"`
}

// NewFailure takes an error apart.
func NewFailure(code int, err error) Failure {
	d := Failure{Schema: "notaria/error/1", Code: code, Message: err.Error()}
	var f *fault.Error
	if errors.As(err, &f) {
		d.File, d.Line, d.Expected, d.Found, d.Cure = f.File, f.Line, f.Expected, f.Found, f.Cure
	}
	if file, text := notary.Pasted(err); text != "" {
		d.File, d.Paste = file, text
	}
	return d
}

// Site is an app that is served.
type Site struct {
	Target string `json:"target"`
	Path   string `json:"path"`
	Next   string `json:"next"` // the step that a person must take after a change
	// Short are the parts of roles that the app's code cannot express.
	Short []Short `json:"not_expressed"`
}

// Short is a part of a role that an app's code cannot express.
type Short struct {
	Role string `json:"role"`
	Part string `json:"part"`
	Why  string `json:"why"`
}

// Refused is an app that cannot be served.
type Refused struct {
	Target   string `json:"target"`
	Path     string `json:"path,omitempty"`
	File     string `json:"file,omitempty"`
	Line     int    `json:"line,omitempty"`
	Expected string `json:"expected,omitempty"`
	Found    string `json:"found,omitempty"`
	Cure     string `json:"cure,omitempty"`
	Message  string `json:"message"`
	WayOut   string `json:"way_out,omitempty"`
	Paste    string `json:"paste,omitempty"`
}

// NewSites lists the apps of a plan.
func NewSites(plan *notary.Plan) []Site {
	out := []Site{}
	for _, s := range plan.Sites {
		d := Site{s.Target.Name, s.Site.Path(), s.Next, []Short{}}
		for _, x := range s.Short {
			d.Short = append(d.Short, Short(x))
		}
		out = append(out, d)
	}
	return out
}

// NewRefused lists the apps that a plan cannot serve.
func NewRefused(plan *notary.Plan) []Refused {
	out := []Refused{}
	for _, r := range plan.Refused {
		d := Refused{Target: r.Target, Path: r.App, Message: r.Err.Error(), WayOut: r.WayOut(), Paste: r.Paste}
		var f *fault.Error
		if errors.As(r.Err, &f) {
			d.File, d.Line, d.Expected, d.Found, d.Cure = f.File, f.Line, f.Expected, f.Found, f.Cure
		}
		out = append(out, d)
	}
	return out
}

// Register is the answer of register and of strike.
type Register struct {
	Schema  string    `json:"schema"` // notaria/register/1, notaria/strike/1
	Project string    `json:"project"`
	DryRun  bool      `json:"dry_run"`
	Sites   []Site    `json:"sites"`
	Refused []Refused `json:"refused"`
	Changes []Change  `json:"changes"`
	// ByHand is what a person must add to files into which Notaria does not write.
	ByHand []Task `json:"by_hand"`
}

// Change is one file that changes. Kind is "new", "changed" or "removed"; Bytes is its
// size afterwards.
type Change struct {
	File  string `json:"file"`
	Kind  string `json:"change"`
	Bytes int    `json:"bytes"`
}

// Task is something that a person must add to a file.
type Task struct {
	File string `json:"file"`
	Add  string `json:"add"`
}

// NewRegister makes the answer of register.
func NewRegister(p *notary.Project, plan *notary.Plan, set *change.Set, tasks []notary.Task, dry bool) Register {
	d := Register{"notaria/register/1", p.Root, dry, NewSites(plan), NewRefused(plan), changes(set), []Task{}}
	for _, t := range tasks {
		d.ByHand = append(d.ByHand, Task(t))
	}
	return d
}

func changes(set *change.Set) []Change {
	out := []Change{}
	for _, f := range set.Files {
		out = append(out, Change{f.Path, f.Kind(), len(f.After)})
	}
	return out
}

// Strike is the answer of strike.
type Strike struct {
	Register
	Faces []string `json:"faces"`
	Roles []string `json:"roles"` // that went with their faces
	Moved []string `json:"moved"` // roles that took another face
	Kept  []Kept   `json:"kept"`  // what could not be taken away
	Stay  []string `json:"stay"`  // files with a struck face that are not on the ledger
}

// Kept is what strike could not take away of an app.
type Kept struct {
	Target string   `json:"target"`
	App    string   `json:"app"`
	Files  []string `json:"files"`
	Reason string   `json:"reason"`
}

// NewStrike makes the answer of strike.
func NewStrike(p *notary.Project, s *notary.Striking, dry bool) Strike {
	d := Strike{NewRegister(p, &notary.Plan{}, s.Set, nil, dry), list(s.Faces), list(s.Roles), list(s.Moved), []Kept{}, list(s.Stay)}
	d.Schema = "notaria/strike/1"
	for _, l := range s.Left {
		d.Kept = append(d.Kept, Kept{l.App.Target, l.App.App, l.Files, l.Err.Error()})
	}
	return d
}

// Check is the answer of check.
type Check struct {
	Schema   string           `json:"schema"` // notaria/check/1
	Project  string           `json:"project"`
	Sites    []Site           `json:"sites"`
	Findings []audit.Finding  `json:"findings"`
	Accepted []audit.Accepted `json:"accepted"` // with reasons
	Known    int              `json:"known"`    // findings that are not listed, for they are known
	// NotJudged counts places where code asks for a font by a name that is only known when it runs.
	NotJudged int `json:"not_judged"`
}

// NewCheck makes the answer of check; shown are the findings that are not known.
func NewCheck(p *notary.Project, plan *notary.Plan, r audit.Report, shown []audit.Finding, known int) Check {
	return Check{"notaria/check/1", p.Root, NewSites(plan), list(shown), list(r.Accepted), known, r.NotJudged}
}

// Built is the answer of check --page.
type Built struct {
	Schema   string          `json:"schema"` // notaria/built/1
	Folder   string          `json:"folder"`
	Pages    int             `json:"pages"`
	Sheets   int             `json:"style_sheets"`
	Rules    int             `json:"font_faces"` // rules of @font-face
	Fonts    []string        `json:"fonts"`      // that rules name, from the folder
	Findings []audit.Finding `json:"findings"`
}

// NewBuilt makes the answer of check --page.
func NewBuilt(b *audit.Built) Built {
	return Built{"notaria/built/1", b.Folder, b.Pages, b.Sheets, b.Rules, list(b.Fonts), list(b.Findings)}
}

// Headers is the answer of headers.
type Headers struct {
	Schema string `json:"schema"` // notaria/headers/1
	*headers.Headers
}

// NewHeaders makes the answer of headers.
func NewHeaders(h *headers.Headers) Headers { return Headers{"notaria/headers/1", h} }

// Trim is the answer of trim.
type Trim struct {
	Schema string `json:"schema"` // notaria/trim/1
	Out    string `json:"file"`   // that was written
	*trim.File
}

// NewTrim makes the answer of trim.
func NewTrim(out string, f *trim.File) Trim {
	return Trim{"notaria/trim/1", filepath.ToSlash(out), f}
}

// Weigh is the answer of weigh.
type Weigh struct {
	Schema  string `json:"schema"`  // notaria/weigh/1
	Project string `json:"project"` // "" for files alone
	*weigh.Weight
}

// NewWeigh makes the answer of weigh.
func NewWeigh(root string, w *weigh.Weight) Weigh { return Weigh{"notaria/weigh/1", root, w} }

// Mend is the answer of check --mend: what changed, and what is left for a person.
type Mend struct {
	Schema   string          `json:"schema"` // notaria/mend/1
	Project  string          `json:"project"`
	DryRun   bool            `json:"dry_run"`
	Mended   []audit.Finding `json:"mended"`
	Changes  []Change        `json:"changes"`
	Findings []audit.Finding `json:"findings"` // that are left
}

// NewMend makes the answer of check --mend.
func NewMend(p *notary.Project, set *change.Set, mended, left []audit.Finding, dry bool) Mend {
	return Mend{"notaria/mend/1", p.Root, dry, list(mended), changes(set), list(left)}
}

// Log is the answer of check --log.
type Log struct {
	Schema  string           `json:"schema"` // notaria/log/1
	Project string           `json:"project"`
	Faces   []audit.Sighting `json:"faces"`
}

// NewLog makes the answer of check --log.
func NewLog(p *notary.Project, seen []audit.Sighting) Log {
	return Log{"notaria/log/1", p.Root, list(seen)}
}

// Trace is the answer of trace.
type Trace struct {
	Schema  string `json:"schema"` // notaria/trace/1
	Project string `json:"project"`
	*audit.Trace
}

// NewTrace makes the answer of trace.
func NewTrace(p *notary.Project, t *audit.Trace) Trace { return Trace{"notaria/trace/1", p.Root, t} }

// A Rule is the answer of check --explain.
type Rule struct {
	Schema   string `json:"schema"` // notaria/rule/1
	ID       string `json:"id"`
	Severity string `json:"severity"`
	What     string `json:"looks_for"`
	Why      string `json:"otherwise"`
	Cause    string `json:"cause"`
	Cure     string `json:"cure"`
}

// NewRule makes the answer of check --explain.
func NewRule(r audit.Rule) Rule {
	return Rule{"notaria/rule/1", r.ID, string(r.Severity), r.What, r.Why, r.Cause, r.Cure}
}

// Enrol is the answer of enrol.
type Enrol struct {
	Schema   string         `json:"schema"` // notaria/enrol/1
	Project  string         `json:"project"`
	Taken    []Taken        `json:"taken"`
	Left     []face.Face    `json:"left"`
	Beside   []face.Face    `json:"left_for_other_form"` // variable files beside static cuts, or the other way
	Licences []string       `json:"licences"`
	Roles    []string       `json:"roles"`
	Changed  []string       `json:"changed"`
	Problems []face.Problem `json:"problems"`
	// Replaced are the faces whose originals another edition takes the place of, with what changes.
	Replaced []subject.Edition `json:"replaced"`
	Refused  []Refused         `json:"not_served"`
	Asked    []asked.Wish      `json:"asked,omitempty"` // with --from-app: what the code asks for, and where it was found
}

// Taken is a face that was chosen.
type Taken struct {
	face.Face
	Original string `json:"original"`
	Had      bool   `json:"enrolled_before"`
	Mended   bool   `json:"mended_name"`
	Reserved string `json:"reserved_name,omitempty"` // kept by the changed copy, though its licence forbids it
}

// NewEnrol makes the answer of enrol.
func NewEnrol(p *notary.Project, e *notary.Enrolment, problems []face.Problem, replaced []subject.Edition) Enrol {
	d := Enrol{Schema: "notaria/enrol/1", Project: p.Root, Taken: []Taken{}, Left: list(e.Left), Beside: list(e.Beside),
		Licences: list(e.Licences), Roles: list(e.Roles), Changed: []string{}, Problems: list(problems), Replaced: list(replaced), Refused: []Refused{}}
	if e.Plan != nil {
		d.Refused = NewRefused(e.Plan)
	}
	for _, t := range e.Taken {
		d.Taken = append(d.Taken, Taken{t.Face, t.File, t.Had, t.Mended, t.Reserved})
	}
	for _, f := range e.Set.Files {
		d.Changed = append(d.Changed, f.Path)
	}
	return d
}

// Targets is the answer of targets.
type Targets struct {
	Schema  string   `json:"schema"` // notaria/targets/1
	Targets []Target `json:"targets"`
}

// Target is a platform.
type Target struct {
	Name    string   `json:"name"`
	Title   string   `json:"title"`
	Typed   string   `json:"typed"` // where a name is typed
	Kind    string   `json:"kind"`  // which kind of name that is
	Minimum string   `json:"minimum"`
	Gets    string   `json:"gets"` // files, entries and code
	Cannot  []string `json:"cannot"`
	Options []Option `json:"options"` // keys of [target.NAME] in notaria.toml
	Named   bool     `json:"named"`   // apps that nothing shows can be named by [[site]]
}

// Option is a choice that a project can make for a platform. Kind is "word", "list" or
// "true or false".
type Option struct {
	Key  string `json:"key"`
	Kind string `json:"kind"`
	Help string `json:"help"`
}

// NewTargets makes the answer of targets.
func NewTargets(targets []platform.Platform) Targets {
	d := Targets{"notaria/targets/1", []Target{}}
	for _, t := range targets {
		about := t.About()
		x := Target{about.Name, about.Title, about.Typed, string(about.Kind), about.Minimum, about.Gets, list(about.Cannot), []Option{}, false}
		_, x.Named = t.(platform.Namer)
		for _, o := range append(about.Options, platform.Option{Key: platform.LeaveOut, Kind: platform.KindList, Help: "paths of apps that are not served, as survey shows them"}) {
			x.Options = append(x.Options, Option(o))
		}
		d.Targets = append(d.Targets, x)
	}
	return d
}

// Specimen is the answer of specimen --out.
type Specimen struct {
	Schema   string         `json:"schema"` // notaria/specimen/1
	Files    []string       `json:"files"`
	Faces    []string       `json:"faces"` // PostScript names
	Problems []face.Problem `json:"problems"`
}

// NewSpecimen makes the answer of specimen.
func NewSpecimen(files []string, s subject.Subjects) Specimen {
	out := Specimen{"notaria/specimen/1", list(files), []string{}, list(s.Problems)}
	for _, f := range s.All() {
		out.Faces = append(out.Faces, f.ID())
	}
	return out
}

// Measures is the answer of measure. Lengths are in pixels.
type Measures struct {
	Schema   string             `json:"schema"` // notaria/measure/1
	Name     string             `json:"name"`   // of the face or the role
	Face     string             `json:"postscript"`
	Width    float64            `json:"width"`            // that lines were broken at; 0 for none
	Height   float64            `json:"height,omitempty"` // that lines were to fit into
	Fixed    bool               `json:"fixed,omitempty"`  // a role that does not follow the reader's text size
	Lines    []subject.RuleLine `json:"lines"`            // where no line height is given
	Measures []subject.Measured `json:"measures"`
}

// NewMeasures makes the answer of measure.
func NewMeasures(name, face string, room subject.Room, m subject.Measures) Measures {
	return Measures{"notaria/measure/1", name, face, room.Width, room.Height, m.Fixed, list(m.Lines), list(m.Measures)}
}

// Compare is the answer of compare: the first face with each of the others.
type Compare struct {
	Schema      string               `json:"schema"` // notaria/compare/1
	Comparisons []subject.Comparison `json:"comparisons"`
	Files       []string             `json:"files"`
}

// NewCompare makes the answer of compare.
func NewCompare(c []subject.Comparison, files []string) Compare {
	return Compare{"notaria/compare/1", list(c), list(files)}
}

// Credits is the answer of credits.
type Credits struct {
	Schema  string           `json:"schema"` // notaria/credits/1
	Credits []credits.Credit `json:"credits"`
	Lacks   []string         `json:"lacks"`
}

// NewCredits makes the answer of credits.
func NewCredits(all []credits.Credit, lacks []string) Credits {
	return Credits{"notaria/credits/1", list(all), list(lacks)}
}

// Label is the answer of label. Lengths are in pixels: Baseline from the picture's top, Start from its
// left edge.
type Label struct {
	Schema   string   `json:"schema"` // notaria/label/1
	File     string   `json:"file"`
	Width    float64  `json:"width"`
	Height   float64  `json:"height"`
	Baseline float64  `json:"baseline"`
	Start    float64  `json:"start"`
	Advance  float64  `json:"advance"`
	Bytes    int      `json:"bytes"`
	Font     int      `json:"font_bytes"`
	Missing  []string `json:"missing"`
	Undrawn  string   `json:"undrawn,omitempty"`
}

// NewLabel makes the answer of label.
func NewLabel(l *specimen.Label, file string, bytes, font int) Label {
	return Label{"notaria/label/1", file, l.W, l.H, l.Baseline, -l.Left, l.Advance, bytes, font, list(l.Missing), l.Undrawn}
}

// Report is the answer of report.
type Report struct {
	Schema string `json:"schema"` // notaria/report/1
	File   string `json:"file"`
	Bytes  int    `json:"bytes"`
}

// NewReport makes the answer of report.
func NewReport(file string, bytes int) Report { return Report{"notaria/report/1", file, bytes} }

// Tokens is the answer of tokens --from and --out.
type Tokens struct {
	Schema  string               `json:"schema"` // notaria/tokens/1
	File    string               `json:"file"`
	Roles   int                  `json:"roles"` // in the file
	Changes []notary.TokenChange `json:"changes"`
	Skipped []string             `json:"skipped"`
}

// NewTokens makes the answer of tokens.
func NewTokens(file string, roles int, changes []notary.TokenChange, skipped []string) Tokens {
	return Tokens{"notaria/tokens/1", file, roles, list(changes), list(skipped)}
}
