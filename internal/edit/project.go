package edit

import (
	"crypto/sha256"
	"fmt"
	"path"
	"slices"
	"sort"
	"strings"
)

// A Project is a parsed project.pbxproj, for looking things up.
type Project struct {
	file    string
	doc     []byte
	root    *node
	objects *node
	project *node
	paths   map[string]string // id of a group or file reference -> path from the project's folder
	parents map[string]string // id -> id of its group
}

// ParseProject reads a project file (objectVersion 46 to 77).
func ParseProject(file string, doc []byte) (*Project, error) {
	root, err := parseOpenStep(file, doc)
	if err != nil {
		return nil, err
	}
	p := &Project{file: file, doc: doc, root: root, objects: root.get("objects"), paths: map[string]string{}, parents: map[string]string{}}
	p.project = p.objects.get(root.get("rootObject").str())
	if p.project == nil {
		return nil, &Error{file, 0, "a rootObject among the objects", "none", "mend the project file, then register again"}
	}
	p.walk(p.project.get("mainGroup").str(), p.project.get("projectDirPath").str(), 0)
	return p, nil
}

// walk resolves the paths of groups and files below a group.
func (p *Project) walk(id, base string, depth int) {
	if _, seen := p.paths[id]; seen || depth > openStepDepth {
		return
	}
	o := p.objects.get(id)
	switch o.get("sourceTree").str() {
	case "<group>":
	case "SOURCE_ROOT":
		base = ""
	default:
		if o.get("path") != nil {
			return // an absolute path, or one of the build's own folders
		}
	}
	p.paths[id] = path.Join(base, o.get("path").str())
	for _, child := range o.get("children").list() {
		p.parents[child] = id
		p.walk(child, p.paths[id], depth+1)
	}
}

// A BuildTarget is an app, or an extension of one, that a project file builds.
type BuildTarget struct {
	Name         string
	Extension    bool
	Platforms    []string // SDKs without "simulator", such as "iphoneos" and "macosx"
	InfoPlists   []string // from the project's folder, one for each configuration that differs
	Generated    bool     // the build makes the Info.plist, or fills it up
	Synchronized []string // folders that the target takes in as they are, from the project's folder
	Folders      []string // folders that its resources phase copies whole, from the project's folder
	Configs      []string // files of build settings that its configurations and the project's begin from
	id           string
}

// productTypes are the beginnings of the types of what draws text, and whether it
// is an extension. What has no view of its own is not among them.
var productTypes = []struct {
	prefix    string
	extension bool
}{
	{"com.apple.product-type.application", false},
	{"com.apple.product-type.app-extension", true},
	{"com.apple.product-type.extensionkit-extension", true},
	{"com.apple.product-type.watchkit", true},
	{"com.apple.product-type.tv-app-extension", true},
}

// without are exceptions to productTypes: containers without code or views.
var without = map[string]bool{"com.apple.product-type.application.watchapp2-container": true, "com.apple.product-type.app-extension.intents-service": true}

// Targets lists the targets that build an app or an extension of one.
func (p *Project) Targets() []BuildTarget {
	var out []BuildTarget
	for _, id := range p.project.get("targets").list() {
		t := p.objects.get(id)
		product := t.get("productType").str()
		for _, k := range productTypes {
			if t.get("isa").str() == "PBXNativeTarget" && strings.HasPrefix(product, k.prefix) && !without[product] {
				out = append(out, p.buildTarget(id, t, k.extension))
				break
			}
		}
	}
	return out
}

func (p *Project) buildTarget(id string, t *node, extension bool) BuildTarget {
	b := BuildTarget{Name: t.get("name").str(), id: id, Extension: extension}
	for _, g := range t.get("fileSystemSynchronizedGroups").list() {
		if at, ok := p.paths[g]; ok {
			b.Synchronized = append(b.Synchronized, at)
		}
	}
	for _, bf := range p.phase(id, phases["resources"].isa).get("files").list() {
		ref := p.objects.get(bf, "fileRef").str()
		if at, ok := p.paths[ref]; ok && p.objects.get(ref, "lastKnownFileType").str() == "folder" {
			b.Folders = append(b.Folders, at)
		}
	}
	sdk, supported := "", ""
	seen := map[string]bool{}
	for _, s := range p.settings(t) {
		if v := s.get("SDKROOT").str(); v != "" {
			sdk = v
		}
		if v := s.get("SUPPORTED_PLATFORMS").str(); v != "" {
			supported = v
		}
		b.Generated = b.Generated || s.get("GENERATE_INFOPLIST_FILE").str() == "YES"
		if v := s.get("INFOPLIST_FILE").str(); v != "" && !seen[v] {
			seen[v] = true
			b.InfoPlists = append(b.InfoPlists, p.expand(v, b.Name))
		}
	}
	b.Platforms = platforms(sdk, supported)
	b.Configs = p.configs(t)
	return b
}

// Setting takes in a setting from a file that the target's configurations begin
// from; what the project file says has the last word.
func (b *BuildTarget) Setting(p *Project, key, value string) {
	switch key {
	case "INFOPLIST_FILE":
		if at := p.expand(value, b.Name); len(b.InfoPlists) == 0 && value != "" {
			b.InfoPlists = []string{at}
		}
	case "GENERATE_INFOPLIST_FILE":
		b.Generated = b.Generated || value == "YES"
	}
}

// configs are the files that configurations name as their base, the project's
// first.
func (p *Project) configs(target *node) []string {
	var out []string
	for _, holder := range []*node{target, p.project} {
		for _, id := range p.objects.get(holder.get("buildConfigurationList").str(), "buildConfigurations").list() {
			at, ok := p.paths[p.objects.get(id, "baseConfigurationReference").str()]
			if ok && !slices.Contains(out, at) {
				out = append(out, at)
			}
		}
	}
	return out
}

// platforms are the SDKs that a target is built with; one that says nothing is
// built for iOS.
func platforms(sdk, supported string) []string {
	var out []string
	for _, w := range strings.Fields(supported) {
		if !strings.Contains(w, "simulator") && !strings.Contains(w, "$(") {
			out = append(out, w)
		}
	}
	switch {
	case len(out) > 0 && (sdk == "auto" || sdk == "" || slices.Contains(out, sdk)):
		return out
	case sdk == "" || sdk == "auto":
		return []string{"iphoneos"}
	}
	return []string{strings.TrimRight(sdk, "0123456789.")}
}

// settings gives the build settings of the project, then of a target.
func (p *Project) settings(target *node) []*node {
	var out []*node
	for _, holder := range []*node{p.project, target} {
		list := p.objects.get(holder.get("buildConfigurationList").str(), "buildConfigurations").list()
		for _, id := range list {
			out = append(out, p.objects.get(id, "buildSettings"))
		}
	}
	return out
}

// expand replaces the variables that people put into INFOPLIST_FILE.
func (p *Project) expand(s, target string) string {
	for _, v := range []string{"SRCROOT", "PROJECT_DIR", "SOURCE_ROOT"} {
		s = strings.TrimPrefix(strings.TrimPrefix(s, "$("+v+")/"), "${"+v+"}/")
	}
	for _, v := range []string{"TARGET_NAME", "TARGETNAME", "PRODUCT_NAME"} {
		s = strings.ReplaceAll(strings.ReplaceAll(s, "$("+v+")", target), "${"+v+"}", target)
	}
	return s
}

// Phases of a target that files can be in, as Place begins.
var phases = map[string]struct{ isa, name string }{
	"resources": {"PBXResourcesBuildPhase", "Resources"},
	"sources":   {"PBXSourcesBuildPhase", "Sources"},
}

// Missing says what of an entry the project lacks: "reference" (the file is not
// in the project), "phase" (it is, but the target does not build it), or "".
func (p *Project) Missing(e Entry) string {
	kind, target, _ := strings.Cut(e.Place, ":")
	switch kind {
	case settingKind:
		return p.missingSetting(target, e.Value)
	case membershipKind:
		return p.missingMembership(target, e.Value)
	}
	ref := p.reference(e.Value)
	if ref == "" {
		return "reference"
	}
	if kind == referenceKind {
		return ""
	}
	for _, t := range p.Targets() {
		if t.Name != target {
			continue
		}
		for _, bf := range p.phase(t.id, phases[kind].isa).get("files").list() {
			if p.objects.get(bf, "fileRef").str() == ref {
				return ""
			}
		}
	}
	return "phase"
}

// Resources lists the files in a target's resources phase, from the project's
// folder, each with the line of its mention.
func (p *Project) Resources(target string) (files []string, lines []int) {
	for _, t := range p.Targets() {
		if t.Name != target {
			continue
		}
		phase := p.phase(t.id, phases["resources"].isa).get("files")
		for i, bf := range phase.list() {
			if at, ok := p.paths[p.objects.get(bf, "fileRef").str()]; ok {
				files, lines = append(files, at), append(lines, lineOf(p.doc, phase.items[i].val.from))
			}
		}
	}
	return files, lines
}

// Has says whether the project has a reference to a file.
func (p *Project) Has(file string) bool { return p.reference(file) != "" }

// made are the ids or marks by which an entry that is there is found again.
func (p *Project) made(e Entry) []string {
	if p.Missing(e) != "" {
		return nil
	}
	kind, name, _ := strings.Cut(e.Place, ":")
	if kind == settingKind || kind == membershipKind {
		return []string{kind}
	}
	ref := p.reference(e.Value)
	out := []string{ref}
	for _, t := range p.Targets() {
		if t.Name != name || kind == referenceKind {
			continue
		}
		for _, bf := range p.phase(t.id, phases[kind].isa).get("files").list() {
			if p.objects.get(bf, "fileRef").str() == ref {
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
		if at == file && p.objects.get(id, "isa").str() == isa && (best == "" || id < best) {
			best = id
		}
	}
	return best
}

// phase finds a target's build phase by kind.
func (p *Project) phase(target, isa string) *node {
	for _, id := range p.objects.get(target, "buildPhases").list() {
		if o := p.objects.get(id); o.get("isa").str() == isa {
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
		if p.objects.get(id) == nil || ours[id] {
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

// draftProject collects what a reconciliation changes.
type draftProject struct {
	*Project
	nl      string
	splices []splice
	objects map[string][]newObject // isa -> what comes in
	lines   map[int][]string       // offset of an array's node -> new lines
	arrays  map[int]*node
	inNew   map[string][]string // id of a new group -> its children
	keep    map[string]bool     // our ids that stay or come
	ours    map[string]bool     // our ids from before
	made    map[string]bool     // our sections, and our lists of a folder's exceptions
	// newExceptions are the lists of exceptions of folders that have none yet.
	newExceptions map[string][]string
}

// reconcileProject sees to file references, build files, phases and groups.
func reconcileProject(file string, doc []byte, want, owned []Entry) ([]byte, []Entry, error) {
	p, err := ParseProject(file, doc)
	if err != nil {
		return nil, nil, err
	}
	d := &draftProject{Project: p, nl: newline(doc), objects: map[string][]newObject{}, inNew: map[string][]string{}, lines: map[int][]string{},
		arrays: map[int]*node{}, keep: map[string]bool{}, ours: map[string]bool{}, made: map[string]bool{}, newExceptions: map[string][]string{}}
	mine := keys(owned)
	for _, e := range owned {
		for _, id := range e.Made {
			d.ours[id] = true
		}
		if e.Place == "section" {
			d.made[e.Value] = true
		}
	}
	wanted := keys(want)
	for _, e := range owned {
		kind, name, _ := strings.Cut(e.Place, ":")
		switch {
		case wanted[e.Key()]:
		case kind == settingKind:
			d.dropSetting(name, e.Value)
		case kind == membershipKind:
			d.dropMembership(name, e.Value)
		}
	}
	var now []Entry
	for _, e := range want {
		if mine[e.Key()] && strings.HasPrefix(e.Place, settingKind+":") && d.Missing(e) == "" {
			e.Made = []string{madeSetting}
			now = append(now, e)
			continue
		}
		made, err := d.add(e, mine[e.Key()])
		if err != nil {
			return nil, nil, err
		}
		if len(made) > 0 || mine[e.Key()] && !strings.HasPrefix(e.Place, settingKind+":") {
			e.Made = made
			now = append(now, e)
		}
	}
	now = append(now, d.write(file)...)
	return apply(doc, d.splices), now, nil
}

// add makes the project hold one entry and returns the ids that are ours.
func (d *draftProject) add(e Entry, mine bool) ([]string, error) {
	kind, name, _ := strings.Cut(e.Place, ":")
	var target *BuildTarget
	for _, t := range d.Targets() {
		if t.Name == name {
			target = &t
		}
	}
	if target == nil {
		return nil, &Error{d.file, 0, fmt.Sprintf("an app target %q", name), "none", "add the target, or strike what was enrolled for it"}
	}
	switch kind {
	case settingKind:
		return d.addSetting(*target, e.Value), nil
	case membershipKind:
		return d.addMembership(*target, e.Value, mine)
	case referenceKind:
		_, made, err := d.addReference(e.Value)
		return made, err
	}
	phase := d.phase(target.id, phases[kind].isa)
	if !phase.get("files").isArray() {
		return nil, &Error{d.file, 0, fmt.Sprintf("a %s phase in the target %q", phases[kind].name, name), "none",
			"add the build phase in the project editor, then register again"}
	}
	base := path.Base(e.Value)
	ref, made, err := d.addReference(e.Value)
	if err != nil {
		return nil, err
	}
	for _, bf := range phase.get("files").list() {
		if d.Project.objects.get(bf, "fileRef").str() != ref {
			continue
		}
		if !d.ours[bf] {
			return made, nil // built already, by somebody else's hand
		}
		d.keep[bf] = true
		return append(made, bf), nil
	}
	build := d.objectID(d.ours, "build", kind, name, e.Value)
	label := base + " in " + phases[kind].name
	d.object("PBXBuildFile", newObject{build, label, fmt.Sprintf("{isa = PBXBuildFile; fileRef = %s /* %s */; }", ref, commentText(base)), ""})
	d.item(phase.get("files"), build, label)
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
	children *node // nil for a group that is being made
	ours     bool
}

// group finds or makes the group for a folder.
func (d *draftProject) group(dir string) (place, error) {
	best := place{}
	for id, at := range d.paths {
		o := d.Project.objects.get(id)
		if at == dir && o.get("isa").str() == "PBXGroup" && !d.ours[id] && o.get("path") != nil && (best.id == "" || id < best.id) {
			best = place{id, o.get("children"), false}
		}
	}
	if best.id == "" {
		id := d.objectID(d.ours, "group", dir)
		o := d.Project.objects.get(id)
		if o == nil {
			if d.keep[id] {
				return place{id, nil, true}, nil
			}
			return place{id, nil, true}, d.newGroup(id, dir)
		}
		d.keep[id] = true
		best = place{id, o.get("children"), true}
	}
	if !best.children.isArray() {
		return best, d.noChildren(best.id)
	}
	return best, nil
}

func (d *draftProject) noChildren(id string) error {
	return &Error{d.file, 0, "a list of children in the group " + id, "none", "mend the project file, then register again"}
}

// newGroup asks for a group that stands for a folder.
func (d *draftProject) newGroup(id, dir string) error {
	parent := d.parentGroup(path.Dir(dir))
	siblings := d.Project.objects.get(parent, "children")
	if !siblings.isArray() {
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
// or the one whose files mostly lie there, or the main group.
func (d *draftProject) parentGroup(dir string) string {
	main := d.project.get("mainGroup").str()
	best, score := main, 0
	ids := make([]string, 0, len(d.paths))
	for id := range d.paths {
		ids = append(ids, id)
	}
	sort.Strings(ids)
	for _, id := range ids {
		o := d.Project.objects.get(id)
		if o.get("isa").str() != "PBXGroup" || d.ours[id] {
			continue
		}
		n := 0
		if d.paths[id] == dir && id != main {
			n = 1000
		}
		for _, child := range o.get("children").list() {
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
	if d.Project.objects.get(o.id) != nil {
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
func (d *draftProject) item(array *node, id, label string) {
	if !slices.Contains(array.list(), id) {
		d.line(array, itemLine(id, label))
	}
}

// line adds a line to an array.
func (d *draftProject) line(array *node, text string) {
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
