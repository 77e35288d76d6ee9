package edit

import (
	"fmt"
	"slices"
	"strings"
)

// From objectVersion 77 a target can take in whole folders as they are. What it
// leaves out of such a folder, and what another target takes out of it, stands in
// a list of exceptions of the folder: for a member of the folder the files that it
// leaves out, for any other target the files that it takes.
//
// An entry of that kind has the Place "membership:TARGET" and as Value the file's
// path. An entry of the Place "reference:TARGET" wants a file to be known to the
// project, without being built.
const (
	membershipKind = "membership"
	referenceKind  = "reference"

	folderISA    = "PBXFileSystemSynchronizedRootGroup"
	exceptionISA = "PBXFileSystemSynchronizedBuildFileExceptionSet"
)

// folderOf finds the synchronized folder that holds a file, the innermost, and
// the file's path in it.
func (p *Project) folderOf(file string) (id, rel string) {
	best := -1
	for g, at := range p.paths {
		if p.objects.get(g, "isa").str() == folderISA && strings.HasPrefix(file, at+"/") && (len(at) > best || len(at) == best && g < id) {
			id, rel, best = g, file[len(at)+1:], len(at)
		}
	}
	return id, rel
}

// exceptions finds a folder's list of exceptions for a target.
func (p *Project) exceptions(folder, target string) (id string, list *node) {
	for _, x := range p.objects.get(folder, "exceptions").list() {
		if o := p.objects.get(x); o.get("isa").str() == exceptionISA && o.get("target").str() == target {
			return x, o.get("membershipExceptions")
		}
	}
	return "", nil
}

// Excepted says whether a file stands among the exceptions of its synchronized
// folder for a target.
func (p *Project) Excepted(target, file string) bool { return p.missingMembership(target, file) == "" }

func (p *Project) missingMembership(target, file string) string {
	folder, rel := p.folderOf(file)
	for _, t := range p.Targets() {
		if t.Name == target {
			if _, list := p.exceptions(folder, t.id); slices.Contains(list.list(), rel) {
				return ""
			}
		}
	}
	return membershipKind
}

// addMembership puts a file among the exceptions of its folder. What it returns
// is the id of a list of ours, or a mark where the list is somebody else's.
func (d *draftProject) addMembership(t BuildTarget, file string, mine bool) ([]string, error) {
	folder, rel := d.folderOf(file)
	if folder == "" {
		return nil, &Error{d.file, 0, "a synchronized folder that holds " + file, "none", "add the file to the target in the project editor, then register again"}
	}
	at := d.paths[folder]
	text := quoteOpenStep(rel) + ","
	id, list := d.exceptions(folder, t.id)
	if id != "" && !d.ours[id] {
		switch {
		case !list.isArray():
			return nil, &Error{d.file, 0, "membershipExceptions in the object " + id, "none", "add the file to the target in the project editor, then register again"}
		case !slices.Contains(list.list(), rel):
			d.line(list, text)
		case !mine:
			return nil, nil // somebody else's
		}
		return []string{membershipKind}, nil
	}
	label := fmt.Sprintf("Exceptions for %q folder in %q target", lastPart(at), t.Name)
	id = d.objectID(d.ours, "exceptions", at, t.Name)
	d.object(exceptionISA, newObject{id, label,
		strings.Join([]string{"{", "\t\t\tisa = " + exceptionISA + ";", "\t\t\tmembershipExceptions = (", ""}, d.nl),
		strings.Join([]string{"\t\t\t);", "\t\t\ttarget = " + t.id + " /* " + commentText(t.Name) + " */;", "\t\t}"}, d.nl)})
	if list.isArray() {
		if !slices.Contains(list.list(), rel) {
			d.line(list, text)
		}
	} else {
		d.inNew[id] = appendNew(d.inNew[id], text)
	}
	d.linkExceptions(folder, id, label)
	return []string{id}, nil
}

func lastPart(at string) string { return at[strings.LastIndexByte(at, '/')+1:] }

// linkExceptions names a list of ours in its folder.
func (d *draftProject) linkExceptions(folder, id, label string) {
	if list := d.Project.objects.get(folder, "exceptions"); list.isArray() {
		d.item(list, id, label)
		return
	}
	d.newExceptions[folder] = appendNew(d.newExceptions[folder], itemLine(id, label))
}

// writeExceptions gives folders that have none a list of lists, and takes away
// those of ours that are empty now.
func (d *draftProject) writeExceptions() {
	for folder, lines := range d.newExceptions {
		o := d.Project.objects.get(folder)
		d.made["exceptions "+folder] = true
		first := o.pairs[0]
		if start := lineStart(d.doc, o.to-1); start <= o.from || d.restOfLine(first.end) != "" {
			d.splices = append(d.splices, splice{first.end, first.end, " exceptions = ( " + strings.Join(lines, " ") + " );"})
			continue
		}
		indent := indentOf(d.doc, first.key.from)
		at := lineEnd(d.doc, first.end)
		d.splices = append(d.splices, splice{at, at, indent + "exceptions = (" + d.nl + indent + "\t" + strings.Join(lines, d.nl+indent+"\t") + d.nl + indent + ");" + d.nl})
	}
	for mark := range d.made {
		folder, ok := strings.CutPrefix(mark, "exceptions ")
		if !ok || d.newExceptions[folder] != nil {
			continue
		}
		o := d.Project.objects.get(folder)
		list := o.get("exceptions")
		left := 0
		for _, id := range list.list() {
			if !d.ours[id] || d.keep[id] {
				left++
			}
		}
		if list == nil {
			delete(d.made, mark)
		}
		if list == nil || left > 0 || len(d.lines[list.from]) > 0 {
			continue
		}
		delete(d.made, mark)
		for _, pr := range o.pairs {
			if pr.val == list {
				cut := wholeRange(d.doc, pr.key.from, pr.end)
				d.splices = append(d.splices, cut)
			}
		}
	}
}

// wholeRange takes out what Notaria put in, on lines of its own or behind a space.
func wholeRange(doc []byte, from, to int) splice {
	cut := wholeLines(doc, from, to)
	if cut.from == from && cut.from > 0 && doc[cut.from-1] == ' ' {
		cut.from--
	}
	return cut
}

// dropMembership takes a file out of a list that stays.
func (d *draftProject) dropMembership(target, file string) {
	folder, rel := d.folderOf(file)
	for _, t := range d.Targets() {
		if t.Name != target {
			continue
		}
		_, list := d.exceptions(folder, t.id)
		if list == nil {
			continue
		}
		for i, e := range list.items {
			if e.val.str() == rel {
				d.dropItem(list, i)
			}
		}
	}
}
