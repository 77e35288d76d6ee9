package edit

import (
	"bytes"
	"fmt"
	"regexp"
	"slices"
	"strings"
)

// SyntaxPackage is that of Package.swift: Place is "resources:TARGET", Value a
// folder that the target processes as resources.
const SyntaxPackage = "swiftpackage"

// A PackageTarget is a target of a Swift package with sources of its own.
type PackageTarget struct {
	Name      string
	Path      string   // of its sources, from the package's folder
	Processed []string // folders of its resources, from Path
	Line      int      // of the target

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
	packageTarget = regexp.MustCompile(`\.(?:target|executableTarget)\s*\(`)
	toolsVersion  = regexp.MustCompile(`^\s*//\s*swift-tools-version\s*:\s*(\d+)\.(\d+)`)
	argumentLabel = regexp.MustCompile(`^([A-Za-z_]\w*)\s*:\s*`)
	plainString   = regexp.MustCompile(`^"((?:[^"\\]|\\.)*)"$`)
	processed     = regexp.MustCompile(`\.(?:process|copy)\s*\(\s*"((?:[^"\\]|\\.)*)"`)
)

// PackageTargets finds the targets of a package that are written as calls with a
// plain name. Resources need tools of version 5.3.
func PackageTargets(file string, doc []byte) ([]PackageTarget, error) {
	var out []PackageTarget
	clean := BlankComments(doc)
	for _, m := range packageTarget.FindAllIndex(clean, -1) {
		end := closing(clean, m[1]-1)
		if end < 0 {
			return nil, &Error{file, lineOf(doc, m[0]), "the end of the target's call", "none", "mend it by hand, then register again"}
		}
		t := PackageTarget{from: m[1], to: end, Line: lineOf(doc, m[0])}
		t.args = arguments(clean, m[1], end)
		t.Name = t.text(clean, "name")
		if t.Name == "" {
			continue // a dependency, or a name that is put together
		}
		if t.Path = t.text(clean, "path"); t.Path == "" {
			t.Path = "Sources/" + t.Name
		}
		if a := t.arg("resources"); a != nil {
			for _, r := range processed.FindAllSubmatch(clean[a.value:a.to], -1) {
				t.Processed = append(t.Processed, string(r[1]))
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

// closing finds the bracket that closes the one at a place; -1 if there is none.
// Comments must be blank.
func closing(clean []byte, at int) int {
	depth := 0
	for i := at; i < len(clean); i++ {
		switch clean[i] {
		case '"', '\'':
			i = quoteEnd(clean, i) - 1
		case '(', '[', '{':
			depth++
		case ')', ']', '}':
			if depth--; depth == 0 {
				return i
			}
		}
	}
	return -1
}

// arguments takes a call's content apart at its commas.
func arguments(clean []byte, from, to int) []argument {
	var out []argument
	depth, begin := 0, from
	add := func(end int) {
		a := argument{from: begin, to: end}
		for a.from < end && isSpace(clean[a.from]) {
			a.from++
		}
		for a.to > a.from && isSpace(clean[a.to-1]) {
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
		switch clean[i] {
		case '"', '\'':
			i = quoteEnd(clean, i) - 1
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

func isSpace(c byte) bool { return c == ' ' || c == '\t' || c == '\n' || c == '\r' }

// before are the arguments of a target that stand before its resources
// (PackageDescription, Target).
var before = map[string]bool{"name": true, "dependencies": true, "path": true, "exclude": true, "sources": true}

// reconcilePackage sees to the resources of targets, one at a time.
func reconcilePackage(file string, doc []byte, want, owned []Entry) ([]byte, []Entry, error) {
	if m := toolsVersion.FindSubmatch(doc); len(want) > 0 && (m == nil || string(m[1]) < "5" || string(m[1]) == "5" && (string(m[2]) == "0" || string(m[2]) == "1" || string(m[2]) == "2")) {
		return nil, nil, &Error{file, 1, "// swift-tools-version:5.3 or later, which resources need", "another", "raise it, then register again"}
	}
	wanted, mine := keys(want), map[string]Entry{}
	var err error
	for _, e := range owned {
		if mine[e.Key()] = e; !wanted[e.Key()] {
			if doc, err = dropResources(file, doc, e); err != nil {
				return nil, nil, err
			}
		}
	}
	var now []Entry
	for _, e := range want {
		t, err := packageTargetNamed(file, doc, e)
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
		if doc, made, err = t.addResources(file, doc, e.Value); err != nil {
			return nil, nil, err
		}
		e.Made = []string{made}
		now = append(now, e)
	}
	return doc, now, nil
}

func packageTargetNamed(file string, doc []byte, e Entry) (*PackageTarget, error) {
	list, err := PackageTargets(file, doc)
	if err != nil {
		return nil, err
	}
	name := strings.TrimPrefix(e.Place, "resources:")
	for _, t := range list {
		if t.Name == name {
			return &t, nil
		}
	}
	return nil, &Error{file, 0, fmt.Sprintf("a target %q", name), "none", fmt.Sprintf("add to the target that has the sources: resources: [.process(%q)]", e.Value)}
}

// addResources puts a folder first among the resources, or makes the argument in
// its place. It returns the text that came in.
func (t *PackageTarget) addResources(file string, doc []byte, folder string) ([]byte, string, error) {
	item := ".process(" + quoteSwift(folder) + ")"
	nl := newline(doc)
	if a := t.arg("resources"); a != nil {
		if doc[a.value] != '[' {
			return nil, "", &Error{file, lineOf(doc, a.value), "a plain list of resources", "something else", "add by hand: " + item}
		}
		rest := doc[a.value+1 : a.to]
		inner := bytes.TrimLeft(rest, " \t\r\n")
		text := item
		if len(inner) > 0 && inner[0] != ']' {
			text += ", "
		}
		if lead := rest[:len(rest)-len(inner)]; bytes.Contains(lead, []byte("\n")) {
			text = nl + indentOf(doc, a.value+1+len(lead)) + strings.TrimSuffix(text, " ")
		}
		return apply(doc, []splice{{a.value + 1, a.value + 1, text}}), text, nil
	}
	var last *argument
	for i := range t.args {
		if before[t.args[i].label] {
			last = &t.args[i]
		}
	}
	text := ", resources: [" + item + "]"
	if start := lineStart(doc, last.from); strings.TrimSpace(string(doc[start:last.from])) == "" {
		text = "," + nl + indentOf(doc, last.from) + text[2:]
	}
	return apply(doc, []splice{{last.to, last.to, text}}), text, nil
}

// dropResources takes out what came in.
func dropResources(file string, doc []byte, e Entry) ([]byte, error) {
	t, err := packageTargetNamed(file, doc, e)
	if err != nil || len(e.Made) == 0 {
		return doc, nil // the target is gone, or not ours
	}
	a := t.arg("resources")
	if a == nil {
		return doc, nil
	}
	from := max(t.from, a.from-len(e.Made[0]))
	if i := bytes.Index(doc[from:a.to], []byte(e.Made[0])); i >= 0 {
		return apply(doc, []splice{{from + i, from + i + len(e.Made[0]), ""}}), nil
	}
	// Somebody wrote it in another way since: the item alone goes.
	one := regexp.MustCompile(`\.process\(\s*` + regexp.QuoteMeta(quoteSwift(e.Value)) + `\s*\)\s*,?\s*`)
	if m := one.FindIndex(doc[a.value:a.to]); m != nil {
		return apply(doc, []splice{{a.value + m[0], a.value + m[1], ""}}), nil
	}
	return doc, nil
}

// quoteSwift writes a path as a Swift string.
func quoteSwift(s string) string {
	return `"` + strings.NewReplacer(`\`, `\\`, `"`, `\"`).Replace(s) + `"`
}
