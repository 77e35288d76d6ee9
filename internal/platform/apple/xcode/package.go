package xcode

import (
	"bytes"
	"fmt"
	"path"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/splice"
	"notaria/internal/fault"
	"notaria/internal/language"
	"notaria/internal/lazy"
)

// Package is the syntax of Package.swift. An entry is a folder that a target processes
// as resources; its place names the target.
type Package struct{}

// KindResources is the kind of its places.
const KindResources edit.Kind = "resources"

// Name is how entries name this syntax.
func (Package) Name() string { return "swiftpackage" }

// A PackageTarget is a target of a Swift package with sources of its own.
type PackageTarget struct {
	Name       string
	Path       string   // of its sources, from the package's folder; "" for a usual place
	Processed  []string // folders of its resources, from Path
	Copied     []string // those of them that stay folders in the bundle
	Exclude    []string // files and folders that it leaves out, from Path
	Sources    []string // files and folders that it builds, from Path; none for all
	Executable bool     // a program and no library
	Line       int      // of the target

	from, to int // what stands between its parentheses
	args     []argument
}

// argument is one of a call: label: value.
type argument struct {
	label    string
	from, to int // of all of it, without the white space around
	value    int // where the value begins
}

var (
	packageTarget = lazy.Regexp(`\.(target|executableTarget)\s*\(`)
	packageSystem = lazy.Regexp(`\.(iOS|macOS|tvOS|watchOS)\s*\(\s*(?:\.v(\d+(?:_\d+)*)|"(\d+(?:\.\d+)*)")\s*\)`)
	toolsVersion  = lazy.Regexp(`^\s*//\s*swift-tools-version\s*:\s*(\d+)(?:\.(\d+))?`)
	argumentLabel = lazy.Regexp(`^([A-Za-z_]\w*)\s*:\s*`)
	plainString   = lazy.Regexp(`^"((?:[^"\\]|\\.)*)"$`)
	processed     = lazy.Regexp(`\.(process|copy)\s*\(\s*"((?:[^"\\]|\\.)*)"`)
	anyString     = lazy.Regexp(`"((?:[^"\\]|\\.)*)"`)
)

// MostTargets is how many targets of a manifest are looked at.
const MostTargets = 500

// PackageTargets finds the targets of a package that are written as calls with a
// plain name. Resources need tools of version 5.3.
func PackageTargets(d edit.Document) ([]PackageTarget, error) {
	var out []PackageTarget
	doc := d.Text
	clean, skeleton := language.Swift.Blank(doc), language.Swift.Skeleton(doc)
	for _, m := range packageTarget.FindAllSubmatchIndex(skeleton, MostTargets) {
		end := language.Closing(skeleton, m[1]-1)
		if end < 0 {
			return nil, d.Fail(m[0], "the end of the target's call", "none", edit.Mend)
		}
		t := PackageTarget{from: m[1], to: end, Line: splice.LineOf(doc, m[0]), Executable: string(skeleton[m[2]:m[3]]) == "executableTarget"}
		t.args = arguments(clean, skeleton, m[1], end)
		t.Name = t.text(clean, "name")
		if t.Name == "" {
			continue // a dependency, or a name that is put together
		}
		if t.Path = t.text(clean, "path"); t.Path != "" {
			t.Path = path.Clean(t.Path)
		}
		t.Exclude, t.Sources = t.list(clean, "exclude"), t.list(clean, "sources")
		if a := t.arg("resources"); a != nil {
			for _, r := range processed.FindAllSubmatch(clean[a.value:a.to], -1) {
				t.Processed = append(t.Processed, string(r[2]))
				if string(r[1]) == "copy" {
					t.Copied = append(t.Copied, string(r[2]))
				}
			}
		}
		out = append(out, t)
	}
	return out, nil
}

func (t *PackageTarget) arg(label string) *argument {
	for i := range t.args {
		if t.args[i].label == label {
			return &t.args[i]
		}
	}
	return nil
}

func (t *PackageTarget) text(clean []byte, label string) string {
	if a := t.arg(label); a != nil {
		if m := plainString.FindSubmatch(clean[a.value:a.to]); m != nil {
			return string(m[1])
		}
	}
	return ""
}

// list are the strings of an argument that is a list.
func (t *PackageTarget) list(clean []byte, label string) []string {
	a := t.arg(label)
	if a == nil {
		return nil
	}
	var out []string
	for _, m := range anyString.FindAllSubmatch(clean[a.value:a.to], -1) {
		out = append(out, strings.TrimPrefix(path.Clean(string(m[1])), "./"))
	}
	return out
}

// Builds says whether a target builds a file, by its path from the target's.
func (t *PackageTarget) Builds(rel string) bool {
	in := func(list []string) bool {
		return slices.ContainsFunc(list, func(e string) bool { return e == "." || rel == e || strings.HasPrefix(rel, e+"/") })
	}
	return !in(t.Exclude) && (len(t.Sources) == 0 || in(t.Sources))
}

// PackageSystems are the oldest systems that a package names, by SDK. One that names none is for
// all that its tools know.
func PackageSystems(d edit.Document) map[string]Version {
	clean := language.Swift.Blank(d.Text)
	out := map[string]Version{}
	for _, m := range packageSystem.FindAllSubmatch(clean, -1) {
		v, ok := ParseVersion(strings.ReplaceAll(string(m[2]), "_", ".") + string(m[3]))
		if sdk := packageSDKs[string(m[1])]; ok {
			out[sdk] = v
		}
	}
	return out
}

// packageSDKs are the SDKs of a manifest's platforms (PackageDescription, SupportedPlatform).
var packageSDKs = map[string]string{"iOS": "iphoneos", "macOS": "macosx", "tvOS": "appletvos", "watchOS": "watchos"}

// arguments takes a call's content apart at its commas.
func arguments(clean, skeleton []byte, from, to int) []argument {
	var out []argument
	depth, begin := 0, from
	add := func(end int) {
		a := argument{from: begin, to: end}
		for a.from < end && splice.IsSpace(clean[a.from]) {
			a.from++
		}
		for a.to > a.from && splice.IsSpace(clean[a.to-1]) {
			a.to--
		}
		if a.value = a.from; a.from == a.to {
			return
		}
		if m := argumentLabel.FindSubmatchIndex(clean[a.from:a.to]); m != nil {
			a.label, a.value = string(clean[a.from+m[2]:a.from+m[3]]), a.from+m[1]
		}
		out = append(out, a)
	}
	for i := from; i < to; i++ {
		switch skeleton[i] {
		case '(', '[', '{':
			depth++
		case ')', ']', '}':
			depth--
		case ',':
			if depth == 0 {
				add(i)
				begin = i + 1
			}
		}
	}
	add(to)
	return out
}

// before are the arguments of a target that stand before its resources
// (PackageDescription, Target).
var before = map[string]bool{"name": true, "dependencies": true, "path": true, "exclude": true, "sources": true}

// resourcesTools is the first version of the tools that takes resources.
var resourcesTools = [2]int{5, 3}

// tooOld says whether a package's tools cannot take resources; without the line that
// names their version they are of 3.1.
func tooOld(doc []byte) bool {
	m := toolsVersion.FindSubmatch(bytes.TrimPrefix(doc, []byte("\uFEFF")))
	if m == nil {
		return true
	}
	major, err := strconv.Atoi(string(m[1]))
	minor, err2 := strconv.Atoi(string(m[2]))
	if err != nil || err2 != nil && len(m[2]) > 0 {
		return false // a number beyond any that there is
	}
	return major < resourcesTools[0] || major == resourcesTools[0] && minor < resourcesTools[1]
}

// Reconcile works on the resources of one target after the other.
func (Package) Reconcile(d edit.Document, want, owned []edit.Entry) ([]byte, []edit.Entry, error) {
	if len(want) > 0 && tooOld(d.Text) {
		return nil, nil, &fault.Error{File: d.File, Line: 1, Expected: "// swift-tools-version:5.3 or later, which resources need", Found: "another", Cure: "raise it, then register again"}
	}
	wanted, mine := edit.Keys(want), map[string]edit.Entry{}
	var err error
	for _, e := range owned {
		if mine[e.Key()] = e; !wanted[e.Key()] {
			if d.Text, err = dropResources(d, e); err != nil {
				return nil, nil, err
			}
		}
	}
	var now []edit.Entry
	for _, e := range want {
		t, err := packageTargetNamed(d, e)
		if err != nil {
			return nil, nil, err
		}
		if slices.Contains(t.Processed, e.Value) {
			if have, ok := mine[e.Key()]; ok {
				now = append(now, have)
			}
			continue
		}
		var made string
		if d.Text, made, err = t.addResources(d, e.Value); err != nil {
			return nil, nil, err
		}
		e.Made = []string{made}
		now = append(now, e)
	}
	return d.Text, now, nil
}

func packageTargetNamed(d edit.Document, e edit.Entry) (*PackageTarget, error) {
	list, err := PackageTargets(d)
	if err != nil {
		return nil, err
	}
	name := e.Place.Name
	for _, t := range list {
		if t.Name == name {
			return &t, nil
		}
	}
	return nil, d.Fail(-1, fmt.Sprintf("a target %q", name), "none", fmt.Sprintf("add to the target that has the sources: resources: [.process(%q)]", e.Value))
}

// addResources puts a folder first among the resources, or makes the argument in
// its place. It returns the text that came in.
func (t *PackageTarget) addResources(d edit.Document, folder string) ([]byte, string, error) {
	doc := d.Text
	item := ".process(" + quote(folder) + ")"
	nl := splice.Newline(doc)
	if a := t.arg("resources"); a != nil {
		if doc[a.value] != '[' {
			return nil, "", d.Fail(a.value, "a plain list of resources", "something else", "add by hand: "+item)
		}
		rest := doc[a.value+1 : a.to]
		inner := bytes.TrimLeft(rest, " \t\r\n")
		text := item
		if len(inner) > 0 && inner[0] != ']' {
			text += ", "
		}
		if lead := rest[:len(rest)-len(inner)]; bytes.Contains(lead, []byte("\n")) {
			text = nl + splice.IndentOf(doc, a.value+1+len(lead)) + strings.TrimSuffix(text, " ")
		}
		out, err := d.Apply(splice.Replace(a.value+1, a.value+1, text))
		return out, text, err
	}
	var last *argument
	for i := range t.args {
		if before[t.args[i].label] {
			last = &t.args[i]
		}
	}
	if last == nil {
		return nil, "", d.Fail(t.from, "a name among the target's arguments", "none", "add by hand: resources: ["+item+"]")
	}
	text := ", resources: [" + item + "]"
	if start := splice.LineStart(doc, last.from); strings.TrimSpace(string(doc[start:last.from])) == "" {
		text = "," + nl + splice.IndentOf(doc, last.from) + text[2:]
	}
	out, err := d.Apply(splice.Replace(last.to, last.to, text))
	return out, text, err
}

// cameIn says whether a text that the ledger gives is one that Notaria puts in for an
// item: the item, and what is around it.
func cameIn(text, item string) bool {
	before, after, ok := strings.Cut(text, ".process("+quote(item)+")")
	const around = " \t\r\n,[]"
	before = strings.TrimSuffix(strings.Trim(before, around), "resources:")
	return ok && strings.Trim(before, around) == "" && strings.Trim(after, around) == ""
}

// dropResources takes out what came in.
func dropResources(d edit.Document, e edit.Entry) ([]byte, error) {
	doc := d.Text
	t, err := packageTargetNamed(d, e)
	if err != nil || e.Mark() == "" {
		return doc, nil // the target is gone, or not ours
	}
	a := t.arg("resources")
	if a == nil {
		return doc, nil
	}
	from := max(t.from, a.from-len(e.Mark()))
	if i := bytes.Index(doc[from:a.to], []byte(e.Mark())); i >= 0 && cameIn(e.Mark(), e.Value) {
		return d.Apply(splice.Replace(from+i, from+i+len(e.Mark()), ""))
	}
	// Somebody wrote it in another way since: the item alone goes.
	one := lazy.Regexp(`\.process\(\s*` + regexp.QuoteMeta(quote(e.Value)) + `\s*\)\s*,?\s*`)
	if m := one.FindIndex(doc[a.value:a.to]); m != nil {
		return d.Apply(splice.Replace(a.value+m[0], a.value+m[1], ""))
	}
	return doc, nil
}

// quote writes a path as a Swift string.
func quote(s string) string {
	return `"` + strings.NewReplacer(`\`, `\\`, `"`, `\"`).Replace(s) + `"`
}

// TakeOver takes nothing: a folder of resources can hold more than fonts.
func (Package) TakeOver(edit.Document, []edit.Entry, []edit.Entry) []edit.Entry { return nil }

// Paste is the argument of the target.
func (Package) Paste(want []edit.Entry) string {
	return strings.Join(edit.Each(want, func(e edit.Entry) string { return "resources: [.process(" + quote(e.Value) + ")]" }), "\n")
}

// Missing returns the folders that the targets do not process.
func (s Package) Missing(d edit.Document, want []edit.Entry) ([]edit.Lack, error) {
	return edit.MissingBy(s, d, want, func(e edit.Entry) edit.Lack {
		return edit.Lack{Message: fmt.Sprintf("the target %s does not process the resources in %s", e.Place.Name, e.Value),
			Cause: "without it the build does not take the font in"}
	}), nil
}
