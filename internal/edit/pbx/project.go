// Package pbx is the form of Xcode's project files: OpenStep property lists of objects
// that refer to each other by id. What a target or a setting means is the Apple
// platform's business.
package pbx

import (
	"crypto/sha256"
	"fmt"
	"path"
	"slices"
	"sort"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/splice"
)

// A Project is a parsed project.pbxproj, for looking things up.
type Project struct {
	edit.Document
	root    *Node
	objects *Node
	project *Node
	paths   map[string]string // id of a group or file reference -> path from the project's folder
	parents map[string]string // id -> id of its group
}

// Parse reads a project file (objectVersion 46 to 77).
func Parse(d edit.Document) (*Project, error) {
	root, err := parseOpenStep(d)
	if err != nil {
		return nil, err
	}
	p := &Project{Document: d, root: root, objects: root.Get("objects"), paths: map[string]string{}, parents: map[string]string{}}
	p.project = p.objects.Get(root.Get("rootObject").Str())
	if p.project == nil {
		return nil, p.Fail(-1, "a rootObject among the objects", "none", "correct the project file, then register again")
	}
	p.walk(p.project.Get("mainGroup").Str(), p.project.Get("projectDirPath").Str(), 0)
	return p, nil
}

// walk resolves the paths of groups and files below a group.
func (p *Project) walk(id, base string, depth int) {
	if _, seen := p.paths[id]; seen || depth > openStepDepth {
		return
	}
	o := p.objects.Get(id)
	switch o.Get("sourceTree").Str() {
	case "<group>":
	case "SOURCE_ROOT":
		base = ""
	default:
		if o.Get("path") != nil {
			return // an absolute path, or one of the build's own folders
		}
	}
	p.paths[id] = path.Join(base, o.Get("path").Str())
	for _, child := range o.Get("children").List() {
		p.parents[child] = id
		p.walk(child, p.paths[id], depth+1)
	}
}

// A Native target is one that builds a product from sources.
type Native struct {
	ID, Name string
	Product  string // its type, such as com.apple.product-type.application
	Object   *Node
}

// Natives lists the native targets.
func (p *Project) Natives() []Native {
	var out []Native
	seen := map[string]bool{}
	for _, id := range p.project.Get("targets").List() {
		if t := p.objects.Get(id); t.Get("isa").Str() == "PBXNativeTarget" && !seen[id] {
			seen[id] = true
			out = append(out, Native{id, t.Get("name").Str(), t.Get("productType").Str(), t})
		}
	}
	return out
}

// native finds a native target by its name.
func (p *Project) native(name string) (Native, bool) {
	for _, t := range p.Natives() {
		if t.Name == name {
			return t, true
		}
	}
	return Native{}, false
}

// Object finds an object by its id, nil if there is none.
func (p *Project) Object(id string) *Node { return p.objects.Get(id) }

// Path is the path of a group or a file reference from the project's folder.
func (p *Project) Path(id string) (string, bool) {
	at, ok := p.paths[id]
	return at, ok
}

// Configurations are the build configurations of the project, then of a target; a
// target that is nil has none.
func (p *Project) Configurations(target *Node) []*Node {
	var out []*Node
	for _, holder := range []*Node{p.project, target} {
		for _, id := range p.objects.Get(holder.Get("buildConfigurationList").Str(), "buildConfigurations").List() {
			if c := p.objects.Get(id); c != nil {
				out = append(out, c)
			}
		}
	}
	return out
}

// PhaseFiles lists the objects that a phase of a target builds: file references and
// groups, by id, each with the line of its mention.
func (p *Project) PhaseFiles(target string, kind edit.Kind) (refs []string, lines []int) {
	files, line := p.phase(target, phases[kind].isa).Get("files"), splice.Liner(p.Text)
	for i, bf := range files.List() {
		refs, lines = append(refs, p.objects.Get(bf, "fileRef").Str()), append(lines, line(files.items[i].val.from))
	}
	return refs, lines
}

// HasPhase says whether a target has a phase to which files can be added.
func (p *Project) HasPhase(target string, kind edit.Kind) bool {
	return p.phase(target, phases[kind].isa).Get("files").IsArray()
}

// Kinds of places in a project file; the place's name is a native target's. The first
// two are the phases that build a file.
const (
	KindResources  edit.Kind = "resources"
	KindSources    edit.Kind = "sources"
	KindReference  edit.Kind = "reference"  // the project knows the file, without building it
	KindMembership edit.Kind = "membership" // the file is among the exceptions of its synchronized folder
	KindSetting    edit.Kind = "setting"    // the value KEY=value is set in each configuration
	kindSection    edit.Kind = "section"    // a section of ours
	kindExceptions edit.Kind = "exceptions" // a list of ours of a folder's exceptions
)

var phases = map[edit.Kind]struct{ isa, name string }{
	KindResources: {"PBXResourcesBuildPhase", "Resources"},
	KindSources:   {"PBXSourcesBuildPhase", "Sources"},
}

// Missing says what of an entry the project lacks: "reference" (the file is not
// in the project), "phase" (it is, but the target does not build it), or "".
func (p *Project) Missing(e edit.Entry) string {
	kind, target := e.Place.Kind, e.Place.Name
	switch kind {
	case KindSetting:
		return p.missingSetting(target, e.Value)
	case KindMembership:
		return p.missingMembership(target, e.Value)
	}
	ref := p.reference(e.Value)
	if ref == "" {
		return "reference"
	}
	if kind == KindReference {
		return ""
	}
	if t, ok := p.native(target); ok {
		for _, bf := range p.phase(t.ID, phases[kind].isa).Get("files").List() {
			if p.objects.Get(bf, "fileRef").Str() == ref {
				return ""
			}
		}
	}
	return "phase"
}

// Has says whether the project has a reference to a file.
func (p *Project) Has(file string) bool { return p.reference(file) != "" }

// made are the ids or marks by which an entry that is there is found again.
func (p *Project) made(e edit.Entry) []string {
	if p.Missing(e) != "" {
		return nil
	}
	kind := e.Place.Kind
	if kind == KindSetting || kind == KindMembership {
		return []string{string(kind)}
	}
	ref := p.reference(e.Value)
	out := []string{ref}
	if t, ok := p.native(e.Place.Name); ok && kind != KindReference {
		for _, bf := range p.phase(t.ID, phases[kind].isa).Get("files").List() {
			if p.objects.Get(bf, "fileRef").Str() == ref {
				out = append(out, bf)
			}
		}
	}
	return out
}

// reference finds the file reference of a path, or "".
func (p *Project) reference(file string) string { return p.at(file, "PBXFileReference") }

// at finds the object of a kind that stands for a path, the first by id, or "".
func (p *Project) at(file, isa string) string {
	best := ""
	for id, at := range p.paths {
		if at == file && p.objects.Get(id, "isa").Str() == isa && (best == "" || id < best) {
			best = id
		}
	}
	return best
}

// phase finds a target's build phase by kind.
func (p *Project) phase(id, isa string) *Node {
	for _, id := range p.objects.Get(id, "buildPhases").List() {
		if o := p.objects.Get(id); o.Get("isa").Str() == isa {
			return o
		}
	}
	return nil
}

// objectID derives an object's 24 hex digits from what it stands for. ours are
// the ids that are Notaria's already; any other object of that id makes it try
// the next.
func (p *Project) objectID(ours map[string]bool, what ...string) string {
	for n := 0; ; n++ {
		sum := sha256.Sum256([]byte(fmt.Sprintf("notaria\x00%d\x00%s", n, strings.Join(what, "\x00"))))
		id := fmt.Sprintf("%X", sum[:12])
		if p.objects.Get(id) == nil || ours[id] {
			return id
		}
	}
}

// fileKind is the lastKnownFileType of what Notaria adds.
func fileKind(name string) string {
	if k := fileKinds[strings.ToLower(path.Ext(name))]; k != "" {
		return k
	}
	return "file"
}

var fileKinds = map[string]string{".swift": "sourcecode.swift", ".ttf": "file", ".otf": "file", ".h": "sourcecode.c.h", ".m": "sourcecode.c.objc"}

// newObject is an object to be written: the text of its value up to where
// children go, and the rest.
type newObject struct{ id, label, open, close string }

// dropped is an item of an object's array that goes.
type dropped struct {
	object string
	array  *Node
	item   int
}

// draftProject collects what a reconciliation changes.
type draftProject struct {
	*Project
	nl      string
	splices []splice.Edit
	objects map[string][]newObject // isa -> what comes in
	lines   map[int][]string       // offset of an array's node -> new lines
	arrays  map[int]*Node
	inNew   map[string][]string // id of a new group -> its children
	keep    map[string]bool     // our ids that stay or come
	ours    map[string]bool     // our ids from before
	made    map[string]bool     // our sections
	lists   map[string]bool     // folders whose list of exceptions is ours
	cut     map[*Node]bool      // arrays that go as a whole
	drops   []dropped           // items that go, unless the object that holds them goes as a whole
	// newExceptions are the lists of exceptions of folders that have none yet.
	newExceptions map[string][]string
}

// Syntax is the form of a project.pbxproj.
type Syntax struct{}

// Name is how entries name this syntax.
func (Syntax) Name() string { return "xcodeproj" }

// Reconcile makes file references, build files, phases, groups and settings what
// they should be.
func (Syntax) Reconcile(doc edit.Document, want, owned []edit.Entry) ([]byte, []edit.Entry, error) {
	p, err := Parse(doc)
	if err != nil {
		return nil, nil, err
	}
	d := &draftProject{Project: p, nl: splice.Newline(doc.Text), objects: map[string][]newObject{}, inNew: map[string][]string{}, lines: map[int][]string{},
		arrays: map[int]*Node{}, keep: map[string]bool{}, ours: map[string]bool{}, made: map[string]bool{}, lists: map[string]bool{}, cut: map[*Node]bool{}, newExceptions: map[string][]string{}}
	mine := edit.Keys(owned)
	for _, e := range owned {
		for _, id := range e.Made {
			d.ours[id] = true
		}
		switch e.Place.Kind {
		case kindSection:
			d.made[e.Value] = true
		case kindExceptions:
			d.lists[e.Value] = true
		}
	}
	wanted := edit.Keys(want)
	for _, e := range owned {
		switch {
		case wanted[e.Key()]:
		case e.Place.Kind == KindSetting:
			d.dropSetting(e.Place.Name, e.Value)
		case e.Place.Kind == KindMembership:
			d.dropMembership(e.Place.Name, e.Value)
		}
	}
	var now []edit.Entry
	for _, e := range want {
		if mine[e.Key()] && e.Place.Kind == KindSetting && d.Missing(e) == "" {
			e.Made = []string{madeSetting}
			now = append(now, e)
			continue
		}
		made, err := d.add(e, mine[e.Key()])
		if err != nil {
			return nil, nil, err
		}
		if len(made) > 0 || mine[e.Key()] && e.Place.Kind != KindSetting {
			e.Made = made
			now = append(now, e)
		}
	}
	now = append(now, d.write()...)
	text, err := doc.Apply(d.splices...)
	return text, now, err
}

// add makes the project hold one entry and returns the ids that are ours.
func (d *draftProject) add(e edit.Entry, mine bool) ([]string, error) {
	kind, name := e.Place.Kind, e.Place.Name
	target, ok := d.native(name)
	if !ok {
		return nil, d.Fail(-1, fmt.Sprintf("an app target %q", name), "none", "add the target, or strike what was enrolled for it")
	}
	switch kind {
	case KindSetting:
		return d.addSetting(target, e.Value), nil
	case KindMembership:
		return d.addMembership(target, e.Value, mine)
	case KindReference:
		_, made, err := d.addReference(e.Value)
		return made, err
	}
	phase := d.phase(target.ID, phases[kind].isa)
	if !phase.Get("files").IsArray() {
		return nil, d.Fail(-1, fmt.Sprintf("a %s phase in the target %q", phases[kind].name, name), "none",
			"add the build phase in the project editor, then register again")
	}
	base := path.Base(e.Value)
	ref, made, err := d.addReference(e.Value)
	if err != nil {
		return nil, err
	}
	for _, bf := range phase.Get("files").List() {
		if d.Project.objects.Get(bf, "fileRef").Str() != ref {
			continue
		}
		if !d.ours[bf] {
			return made, nil // built already, and not added by Notaria
		}
		d.keep[bf] = true
		return append(made, bf), nil
	}
	build := d.objectID(d.ours, "build", string(kind), name, e.Value)
	label := base + " in " + phases[kind].name
	d.object("PBXBuildFile", newObject{build, label, fmt.Sprintf("{isa = PBXBuildFile; fileRef = %s /* %s */; }", ref, commentText(base)), ""})
	d.item(phase.Get("files"), build, label)
	return append(made, build), nil
}

// addReference makes the project know a file, and returns the reference's id and
// the ids that are ours.
func (d *draftProject) addReference(file string) (ref string, made []string, err error) {
	ref = d.reference(file)
	switch {
	case ref != "" && !d.ours[ref]:
		return ref, nil, nil
	case ref != "":
		d.keep[ref] = true
		made = []string{ref}
		if group := d.parents[ref]; d.ours[group] {
			d.keep[group] = true
			made = append(made, group)
		}
		return ref, made, nil
	}
	base := path.Base(file)
	ref = d.objectID(d.ours, "file", file)
	group, err := d.group(path.Dir(file))
	if err != nil {
		return "", nil, err
	}
	made = []string{ref}
	if group.ours {
		made = append(made, group.id)
	}
	d.object("PBXFileReference", newObject{ref, base, fmt.Sprintf("{isa = PBXFileReference; lastKnownFileType = %s; path = %s; sourceTree = \"<group>\"; }",
		fileKind(base), quoteOpenStep(base)), ""})
	d.child(group, ref, base)
	return ref, made, nil
}

// A place is a group that children go into.
type place struct {
	id       string
	children *Node // nil for a group that is being made
	ours     bool
}

// group finds or makes the group for a folder.
func (d *draftProject) group(dir string) (place, error) {
	best := place{}
	for id, at := range d.paths {
		o := d.Project.objects.Get(id)
		if at == dir && o.Get("isa").Str() == "PBXGroup" && !d.ours[id] && o.Get("path") != nil && (best.id == "" || id < best.id) {
			best = place{id, o.Get("children"), false}
		}
	}
	if best.id == "" {
		id := d.objectID(d.ours, "group", dir)
		o := d.Project.objects.Get(id)
		if o == nil {
			if d.keep[id] {
				return place{id, nil, true}, nil
			}
			return place{id, nil, true}, d.newGroup(id, dir)
		}
		d.keep[id] = true
		best = place{id, o.Get("children"), true}
	}
	if !best.children.IsArray() {
		return best, d.noChildren(best.id)
	}
	return best, nil
}

func (d *draftProject) noChildren(id string) error {
	return d.Fail(-1, "a list of children in the group "+id, "none", "correct the project file, then register again")
}

// newGroup asks for a group that stands for a folder.
func (d *draftProject) newGroup(id, dir string) error {
	parent := d.parentGroup(path.Dir(dir))
	siblings := d.Project.objects.Get(parent, "children")
	if !siblings.IsArray() {
		return d.noChildren(parent)
	}
	at := dir
	if base := d.paths[parent]; base != "" && base != "." {
		at = strings.TrimPrefix(strings.TrimPrefix(dir, base), "/")
	}
	head := []string{"{", "\t\t\tisa = PBXGroup;", "\t\t\tchildren = (", ""}
	tail := []string{"\t\t\t);"}
	if at != path.Base(dir) {
		tail = append(tail, "\t\t\tname = "+quoteOpenStep(path.Base(dir))+";")
	}
	tail = append(tail, "\t\t\tpath = "+quoteOpenStep(at)+";", "\t\t\tsourceTree = \"<group>\";", "\t\t}")
	d.object("PBXGroup", newObject{id, path.Base(dir), strings.Join(head, d.nl), strings.Join(tail, d.nl)})
	d.item(siblings, id, path.Base(dir))
	return nil
}

// parentGroup finds the group that stands for a folder: the one with that path,
// or the one whose files mostly are there, or the main group.
func (d *draftProject) parentGroup(dir string) string {
	main := d.project.Get("mainGroup").Str()
	best, score := main, 0
	ids := make([]string, 0, len(d.paths))
	for id := range d.paths {
		ids = append(ids, id)
	}
	sort.Strings(ids)
	for _, id := range ids {
		o := d.Project.objects.Get(id)
		if o.Get("isa").Str() != "PBXGroup" || d.ours[id] {
			continue
		}
		n := 0
		if d.paths[id] == dir && id != main {
			n = 1000
		}
		for _, child := range o.Get("children").List() {
			if at := d.paths[child]; path.Dir(at) == dir && at != "" {
				n++
			}
		}
		if n > score {
			best, score = id, n
		}
	}
	return best
}

// object adds an object to its section unless it is there.
func (d *draftProject) object(isa string, o newObject) {
	d.keep[o.id] = true
	if d.Project.objects.Get(o.id) != nil {
		return
	}
	for _, have := range d.objects[isa] {
		if have.id == o.id {
			return
		}
	}
	d.objects[isa] = append(d.objects[isa], o)
}

// child adds an id to a group.
func (d *draftProject) child(group place, id, label string) {
	if group.children != nil {
		d.item(group.children, id, label)
		return
	}
	d.inNew[group.id] = appendNew(d.inNew[group.id], itemLine(id, label))
}

// item adds an id to an array unless it is there.
func (d *draftProject) item(array *Node, id, label string) {
	if !slices.Contains(array.List(), id) {
		d.line(array, itemLine(id, label))
	}
}

// line adds a line to an array.
func (d *draftProject) line(array *Node, text string) {
	d.arrays[array.from] = array
	d.lines[array.from] = appendNew(d.lines[array.from], text)
}

func itemLine(id, label string) string { return fmt.Sprintf("%s /* %s */,", id, commentText(label)) }

func appendNew(list []string, s string) []string {
	if slices.Contains(list, s) {
		return list
	}
	return append(list, s)
}
