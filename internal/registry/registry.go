// Package registry holds what a project has decided: notaria.toml, which people
// read and edit, and the ledger, which is Notaria's own account of what it
// wrote.
//
// notaria.toml is never printed anew. Blocks are appended and cut out as text,
// so that comments, order and spacing stay as people like them.
package registry

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"maps"
	"math"
	"path"
	"slices"
	"sort"
	"strings"

	"github.com/pelletier/go-toml/v2"
	"github.com/pelletier/go-toml/v2/unstable"

	"notaria/internal/fault"
	"notaria/internal/language"
	"notaria/internal/lazy"
)

// FileName is the registry's name in a project's folder.
const FileName = "notaria.toml"

// DefaultFolder is where originals live unless the registry says otherwise.
const DefaultFolder = "type"

// A Registry is a parsed notaria.toml.
type Registry struct {
	Folder string          `toml:"folder"` // where the originals live; "type" if absent
	Faces  []Face          `toml:"face"`   // enrolled faces
	Roles  map[string]Role `toml:"role"`   // what the app's code asks for, by names that become identifiers
	Check  Check           `toml:"check"`  // settings of the check command
	Sites  []Site          `toml:"site"`   // apps that no platform sees
	// choices for single targets; notaria targets lists them
	Options map[string]map[string]any `toml:"target"`
	text    []byte
}

// A Face is one enrolled face.
type Face struct {
	Name    string `toml:"name"`    // PostScript name
	File    string `toml:"file"`    // project-relative
	Licence string `toml:"licence"` // project-relative, may be empty
	// Permission says why the face may be in apps though its own table forbids to embed it.
	Permission string `toml:"permission"`
	// At is the place at which copies of a variable font are pinned, by the tags of its axes: { wght = 650 }.
	// The name is then that of the place.
	At map[string]float64 `toml:"at"`
	// Axes are those that copies of a variable font keep, by their tags, each from one value to another, or whole with an empty
	// list: { wght = [400, 700], opsz = [] }; all axes, if absent. On the others copies stay at the default.
	Axes map[string][]float64 `toml:"axes"`
	// Rename is the family name of copies in apps, where the licence reserves the font's own for unchanged ones. The name is
	// then that of the renamed face.
	Rename string `toml:"rename"`
	// Trim is what copies in apps hold; all that the original has, if absent.
	Trim *Trim `toml:"trim"`
	// TrimPermitted says why copies may keep the name that the licence reserves for unchanged ones.
	TrimPermitted string `toml:"trim-permitted"`
}

// Trim is what copies of a face hold.
type Trim struct {
	Characters          // all of the font's, where none are named
	Hinting    *bool    `toml:"hinting"`  // instructions for coarse screens stay; true if absent
	Features   []string `toml:"features"` // features that stay beside those that shapers apply by themselves; all if absent
}

// A Site is an app that the project names, where its platform sees none.
type Site struct {
	Target string `toml:"target"` // as notaria targets lists them
	Folder string `toml:"folder"` // project-relative; "." for the project's own
}

// Check are settings of the check command.
type Check struct {
	System []string `toml:"system"` // font names that the platform itself brings
	Budget int      `toml:"budget"` // of the fonts of one app, in kB (1,000 bytes); 0 for none
	// Budgets are those of the apps of a target by its name, or of one app by its path, in place of budget.
	Budgets map[string]int `toml:"budgets"`
	// true for an app that must work without a network: a font that comes over it is an error
	Offline bool     `toml:"offline"`
	Accept  []Accept `toml:"accept"` // findings that are none here
}

// Accept is a kind of finding that the project accepts in some files.
type Accept struct {
	Rule   string `toml:"rule"`   // its id
	Path   string `toml:"path"`   // a file or a folder, project-relative; may hold * and ?
	Reason string `toml:"reason"` // for those who read the list
}

// BudgetOf is what the fonts of an app may take, in bytes, and the key that says it; 0 where nothing does.
func (c Check) BudgetOf(target, app string) (int64, Key) {
	for _, of := range []string{app, target} {
		if kB, ok := c.Budgets[of]; ok {
			return int64(kB) * 1000, Key{"check", "budgets", of}
		}
	}
	return int64(c.Budget) * 1000, Key{"check", "budget"}
}

// wrong says what in notaria.toml is not right; line is 1-based, 0 if all of it is meant.
func wrong(line int, expected, found, cure string) error {
	return &fault.Error{File: FileName, Line: line, Expected: expected, Found: found, Cure: cure}
}

// roleName is what role names look like: they become identifiers everywhere.
var roleName = lazy.Regexp(`^[a-z][a-z0-9]*(-[a-z0-9]+)*$`)

// ValidRole says whether a role's name can become an identifier everywhere.
func ValidRole(name string) bool { return roleName.MatchString(name) && len(name) <= 40 }

// header is the head of a new registry.
const header = `# The type of this app. Written by "notaria enrol"; edit it freely, comments stay.
# After a change: notaria register --dry-run, then notaria register.

# The folder in which the original fonts live, under their PostScript names.
folder = "type"
`

// New is the registry of a project that has none.
func New() *Registry {
	return &Registry{Folder: DefaultFolder, Roles: map[string]Role{}, text: []byte(header)}
}

// mostRoles is how many roles, and what differs of them, there can be: what the TOML parser
// takes grows with the square of it, and is a tenth of a second there.
const mostRoles = 3000

// Parse reads a registry. Unknown keys are errors: a mistyped one must not be
// passed over.
func Parse(text []byte) (*Registry, error) {
	if n := bytes.Count(text, []byte("[role.")); n > mostRoles {
		return nil, wrong(0, fmt.Sprintf("at most %d tables of roles", mostRoles), fmt.Sprint(n), "take some out")
	}
	r := &Registry{text: text}
	dec := toml.NewDecoder(strings.NewReader(string(text)))
	dec.DisallowUnknownFields()
	if err := dec.Decode(r); err != nil {
		return nil, parseError(text, err)
	}
	if r.Folder == "" {
		r.Folder = DefaultFolder
	}
	if r.Roles == nil {
		r.Roles = map[string]Role{}
	}
	return r, r.validate()
}

// parseError says in our words what a decoder refuses.
func parseError(text []byte, err error) error {
	if unfit := unfit(text); unfit != nil {
		return unfit
	}
	var dec *toml.DecodeError
	if errors.As(err, &dec) {
		line, _ := dec.Position()
		return wrong(line, "TOML", strings.TrimPrefix(dec.Error(), "toml: "), "correct it")
	}
	return wrong(0, "TOML", err.Error(), "correct it")
}

func (r *Registry) validate() error {
	names := map[string]bool{}
	for i, f := range r.Faces {
		switch at := (Key{"face", place(i)}); {
		case f.Name == "" || f.File == "":
			return r.Wrong(at, "a name and a file in each [[face]]", "one without", "write both, or take the block out")
		case names[f.Name]:
			return r.Wrong(append(at, "name"), "each face once", fmt.Sprintf("%q twice", f.Name), "take one of the blocks out")
		}
		if err := r.validateTrim(i, f); err != nil {
			return err
		}
		if found := unfitAxes(f.At); found != "" {
			return r.Wrong(Key{"face", place(i), "at"}, axesForm, found, axesCure)
		}
		if f.At != nil && f.Axes != nil {
			return r.Wrong(Key{"face", place(i), "axes"}, "at, which pins every axis, or axes, which keeps some", "both", "take one of them out")
		}
		for _, tag := range slices.Sorted(maps.Keys(f.Axes)) {
			v := f.Axes[tag]
			if len(v) != 0 && len(v) != 2 || len(v) == 2 && !(v[0] < v[1]) || unfitAxes(map[string]float64{tag: 0}) != "" {
				return r.Wrong(Key{"face", place(i), "axes"}, "axes from one value to another, such as { wght = [400, 700] }, or whole: { wght = [] }", fmt.Sprintf("%s = %v", tag, v), axesCure)
			}
		}
		names[f.Name] = true
	}
	if err := r.validateSites(); err != nil {
		return err
	}
	for i, a := range r.Check.Accept {
		at := Key{"check", "accept", place(i)}
		if a.Rule == "" || a.Path == "" || strings.TrimSpace(a.Reason) == "" {
			return r.Wrong(at, "a rule, a path and a reason in each [[check.accept]]", "one without", `write all three, such as rule = "font-not-used", path = "." and reason = "for the next release"`)
		}
		if _, err := path.Match(a.Path, ""); err != nil {
			return r.Wrong(append(at, "path"), "a path in [[check.accept]], that may hold * and ?", fmt.Sprintf("%q", a.Path), "write the file or the folder")
		}
	}
	for of, kB := range r.Check.Budgets {
		if kB < 0 {
			return r.Wrong(Key{"check", "budgets", of}, "a budget of kB (1,000 bytes), 0 for none", fmt.Sprint(kB), "correct it")
		}
	}
	plain := map[string]string{} // role names as most identifiers write them
	for _, name := range r.RoleNames() {
		if err := r.validateRole(name, names); err != nil {
			return err
		}
		joined := strings.ReplaceAll(name, "-", "")
		if other := plain[joined]; other != "" {
			return r.Wrong(Key{"role", name}, "roles that differ by more than hyphens, for they become identifiers", fmt.Sprintf("%q and %q", other, name), "rename one of them")
		}
		plain[joined] = name
	}
	return nil
}

const trimCure = `write unicode-range, sets, languages, scripts, text or app-strings, such as trim = { languages = ["de", "fr"], text = "€" }`

// Ranges are the axes that copies of the face keep; an infinite end is the axis's own. It is nil for all of them.
func (f Face) Ranges() map[string][2]float64 {
	if f.Axes == nil {
		return nil
	}
	out := map[string][2]float64{}
	for tag, v := range f.Axes {
		out[tag] = [2]float64{math.Inf(-1), math.Inf(1)}
		if len(v) == 2 {
			out[tag] = [2]float64{v[0], v[1]}
		}
	}
	return out
}

// validateTrim checks the characters that copies of a face hold.
func (r *Registry) validateTrim(i int, f Face) error {
	at := Key{"face", place(i), "trim"}
	if f.Trim == nil {
		return nil
	}
	list, err := f.Trim.Kept()
	switch {
	case err != nil:
		return r.Wrong(at, "characters for trim", err.Error(), trimCure)
	case f.Trim.AppStrings:
		return nil
	case len(list) == 0 && f.Trim.Hinting == nil && f.Trim.Features == nil:
		return r.Wrong(at, "characters for trim", "none", trimCure)
	case slices.ContainsFunc(f.Trim.Features, func(tag string) bool { return unfitAxes(map[string]float64{tag: 0}) != "" }):
		return r.Wrong(append(at, "features"), "features by their tags of four signs, such as smcp", strings.Join(f.Trim.Features, ", "), "correct them")
	}
	return nil
}

// validateSites holds the sites to folders of the project, each once for a target.
func (r *Registry) validateSites() error {
	seen := map[Site]bool{}
	for i, s := range r.Sites {
		s.Folder = path.Clean(s.Folder)
		switch at := (Key{"site", place(i)}); {
		case s.Target == "" || r.Sites[i].Folder == "":
			return r.Wrong(at, "a target and a folder in each [[site]]", "one without", `write both, such as target = "javafx" and folder = "board"`)
		case path.IsAbs(s.Folder) || s.Folder == ".." || strings.HasPrefix(s.Folder, "../") || strings.Contains(s.Folder, `\`):
			return r.Wrong(append(at, "folder"), "a folder of the project in [[site]], with slashes", fmt.Sprintf("%q", s.Folder), "write it from the folder of "+FileName)
		case seen[s]:
			return r.Wrong(at, "each [[site]] once", fmt.Sprintf("%q for %s twice", s.Folder, s.Target), "take one of the blocks out")
		}
		seen[s], r.Sites[i] = true, s
	}
	return nil
}

// RoleNames lists the roles in alphabetical order.
func (r *Registry) RoleNames() []string {
	out := make([]string, 0, len(r.Roles))
	for name := range r.Roles {
		out = append(out, name)
	}
	sort.Strings(out)
	return out
}

// FaceNames lists the enrolled PostScript names in order of enrolment.
func (r *Registry) FaceNames() []string {
	var out []string
	for _, f := range r.Faces {
		out = append(out, f.Name)
	}
	return out
}

// Face finds an enrolled face.
func (r *Registry) Face(name string) (Face, bool) {
	for _, f := range r.Faces {
		if f.Name == name {
			return f, true
		}
	}
	return Face{}, false
}

// Text is the registry as it is to be written, nil for one that holds nothing
// but what New wrote.
func (r *Registry) Text() []byte {
	if len(r.Faces) == 0 && len(r.Roles) == 0 && strings.TrimPrefix(string(r.text), schemaLine) == header {
		return nil
	}
	return r.text
}

// SchemaName is the name of a JSON Schema of notaria.toml beside it, for editors.
const SchemaName = "notaria.schema.json"

// schemaLine is the comment by which editors find it.
const schemaLine = "#:schema ./" + SchemaName + "\n"

// NameSchema has the first line name the schema.
func (r *Registry) NameSchema() {
	if !bytes.HasPrefix(r.text, []byte("#:schema ")) {
		r.text = append([]byte(schemaLine), r.text...)
	}
}

// Clear takes all faces and roles out, and every word of the file: it is not written then. What targets and sites are
// told stays in force for this run.
func (r *Registry) Clear() { r.text, r.Faces, r.Roles = []byte(header), nil, map[string]Role{} }

// AddFace appends a face; about is a comment for people.
func (r *Registry) AddFace(f Face, about string) {
	block := "\n[[face]] # " + language.OneLine(about) + "\nname = " + quote(f.Name) + "\nfile = " + quote(f.File) + "\n"
	if f.Licence != "" {
		block += "licence = " + quote(f.Licence) + "\n"
	}
	if f.Permission != "" {
		block += "permission = " + quote(f.Permission) + "\n"
	}
	if f.Rename != "" {
		block += "rename = " + quote(f.Rename) + " # the family of copies, whose licence reserves the font's own\n"
	}
	if f.At != nil {
		block += "at = " + inlineAxes(f.At) + " # where copies are pinned, by the axes of the variable font\n"
	}
	r.text = append(endLine(r.text), block...)
	r.Faces = append(r.Faces, f)
}

// AddRole appends a role.
func (r *Registry) AddRole(name string, role Role) {
	block := fmt.Sprintf("\n[role.%s]\nface = %s\nsize = %g # points, sp or logical pixels, as the platform counts\n", name, quote(role.Face), role.Size)
	r.text = append(endLine(r.text), block...)
	r.Roles[name] = role
}

// SetRoleFace gives a role another face; the rest of it stays as it is.
func (r *Registry) SetRoleFace(name, face string) error {
	if err := r.setFace("role."+name, face); err != nil {
		return err
	}
	role := r.Roles[name]
	role.Face = face
	r.Roles[name] = role
	return nil
}

// setFace writes a face into a block of its own.
func (r *Registry) setFace(key, face string) error {
	for _, b := range r.blocks() {
		if strings.Join(b.key, ".") != key {
			continue
		}
		lines := strings.SplitAfter(string(r.text[b.from:b.to]), "\n")
		for i, l := range lines {
			if m := faceLine.FindStringSubmatchIndex(l); m != nil {
				lines[i] = l[:m[2]] + quote(face) + l[m[3]:]
				r.text = []byte(string(r.text[:b.from]) + strings.Join(lines, "") + string(r.text[b.to:]))
				return nil
			}
		}
	}
	return wrong(r.Line(strings.Split(key, ".")), fmt.Sprintf("a line face = … in [%s]", key), "none", "write it as a block of its own")
}

// Serving are the roles that use a face, anywhere.
func (r *Registry) Serving(face string) []string {
	var out []string
	for _, name := range r.RoleNames() {
		role := r.Roles[name]
		uses := role.Face == face
		for _, on := range role.On {
			uses = uses || on.Face == face
		}
		if uses {
			out = append(out, name)
		}
	}
	return out
}

// MoveRoles gives the roles that use a face, anywhere, another one instead.
func (r *Registry) MoveRoles(from, to string) error {
	for _, name := range r.Serving(from) {
		role := r.Roles[name]
		if role.Face == from {
			if err := r.SetRoleFace(name, to); err != nil {
				return err
			}
		}
		for _, target := range sortedTargets(role.On) {
			on := role.On[target]
			if on.Face != from {
				continue
			}
			if err := r.setFace("role."+name+".on."+target, to); err != nil {
				return err
			}
			on.Face = to
			role.On[target] = on
		}
	}
	return nil
}

var faceLine = lazy.Regexp(`^\s*face\s*=\s*("(?:[^"\\]|\\.)*"|'[^']*')`)

// Strike takes a face out, and the roles that it alone serves. It returns the
// roles' names.
func (r *Registry) Strike(name string) ([]string, error) {
	var gone []string
	for _, role := range r.RoleNames() {
		if r.Roles[role].Face == name {
			gone = append(gone, role)
		}
	}
	at := -1
	for i, f := range r.Faces {
		if f.Name == name {
			at = i
		}
	}
	if at < 0 {
		return nil, wrong(0, fmt.Sprintf("a face %q", name), "none", Instead(name, r.FaceNames(), "enrol a face"))
	}
	if err := r.cutFace(at); err != nil {
		return nil, err
	}
	for _, role := range gone {
		if err := r.cutRole(role); err != nil {
			return nil, err
		}
	}
	return gone, r.cutDifferences(name)
}

func (r *Registry) cutFace(at int) error {
	n := 0
	for _, b := range r.blocks() {
		if !b.array || strings.Join(b.key, ".") != "face" {
			continue
		}
		if n == at {
			r.cut(b)
			r.Faces = append(r.Faces[:at:at], r.Faces[at+1:]...)
			return nil
		}
		n++
	}
	return r.Wrong(Key{"face", place(at)}, "each face as a [[face]] block of its own", "another form", "write it as a block")
}

// block is a table of the file: its header's line up to the last line that is
// neither empty nor a comment.
type block struct {
	key      []string
	array    bool
	from, to int
}

// blocks finds the tables by the TOML parser, so that text inside strings is
// never taken for a header.
func (r *Registry) blocks() []block {
	var p unstable.Parser
	p.Reset(r.text)
	var out []block
	for p.NextExpression() {
		e := p.Expression()
		if e.Kind != unstable.Table && e.Kind != unstable.ArrayTable {
			continue
		}
		b := block{array: e.Kind == unstable.ArrayTable}
		first := true
		for it := e.Key(); it.Next(); {
			if first {
				b.from = strings.LastIndexByte(string(r.text[:it.Node().Raw.Offset]), '\n') + 1
				first = false
			}
			b.key = append(b.key, string(it.Node().Data))
		}
		out = append(out, b)
	}
	for i := range out {
		end := len(r.text)
		if i+1 < len(out) {
			end = out[i+1].from
		}
		out[i].to = out[i].from + len(trimTail(string(r.text[out[i].from:end])))
	}
	return out
}

// trimTail takes empty lines and comments off the end: they belong to what
// comes next.
func trimTail(s string) string {
	lines := strings.SplitAfter(s, "\n")
	for n := len(lines); n > 1; n-- {
		if l := strings.TrimSpace(lines[n-1]); l != "" && !strings.HasPrefix(l, "#") {
			return strings.Join(lines[:n], "")
		}
	}
	return lines[0]
}

// cut takes a block out, and one empty line before it.
func (r *Registry) cut(b block) {
	from := b.from
	if before := strings.TrimSuffix(string(r.text[:from]), "\n"); strings.HasSuffix(before, "\n") || before == "" {
		from = len(before)
	}
	r.text = append(append([]byte(nil), r.text[:from]...), r.text[b.to:]...)
}

func endLine(b []byte) []byte {
	b = append([]byte(nil), b...)
	if len(b) > 0 && b[len(b)-1] != '\n' {
		b = append(b, '\n')
	}
	return b
}

// quote writes a TOML basic string.
func quote(s string) string {
	var b strings.Builder
	b.WriteByte('"')
	for _, c := range s {
		switch {
		case c == '"' || c == '\\':
			b.WriteByte('\\')
			b.WriteRune(c)
		case language.Unseen(c) || c < ' ':
			fmt.Fprintf(&b, `\U%08X`, c)
		default:
			b.WriteRune(c)
		}
	}
	b.WriteByte('"')
	return b.String()
}

// Sum is the SHA-256 of what the registry says, in hex: of its lines without comments that have lines of
// their own, empty lines, and spaces at the ends.
func (r *Registry) Sum() string {
	sum := sha256.New()
	for line := range strings.Lines(string(r.text)) {
		if line = strings.TrimSpace(line); line != "" && line[0] != '#' {
			fmt.Fprintln(sum, line)
		}
	}
	return hex.EncodeToString(sum.Sum(nil))
}
