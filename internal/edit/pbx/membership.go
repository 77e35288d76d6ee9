package pbx

import (
	"fmt"
	"slices"
	"strings"

	"notaria/internal/edit/splice"
)

// From objectVersion 77 a target can take in whole folders as they are. What it
// leaves out of such a folder, and what another target takes out of it, is in
// a list of exceptions of the folder: for a member of the folder the files that it
// leaves out, for any other target the files that it takes.
//
// An entry of the kind KindMembership has the file's path as Value.
const (
	folderISA    = "PBXFileSystemSynchronizedRootGroup"
	exceptionISA = "PBXFileSystemSynchronizedBuildFileExceptionSet"
)

// folderOf finds the synchronized folder that holds a file, the innermost, and
// the file's path in it.
func (p *Project) folderOf(file string) (id, rel string) {
	best := -1
	for g, at := range p.paths {
		if p.objects.Get(g, "isa").Str() == folderISA && strings.HasPrefix(file, at+"/") && (len(at) > best || len(at) == best && g < id) {
			id, rel, best = g, file[len(at)+1:], len(at)
		}
	}
	return id, rel
}

// exceptions finds a folder's list of exceptions for a target.
func (p *Project) exceptions(folder, target string) (id string, list *Node) {
	for _, x := range p.objects.Get(folder, "exceptions").List() {
		if o := p.objects.Get(x); o.Get("isa").Str() == exceptionISA && o.Get("target").Str() == target {
			return x, o.Get("membershipExceptions")
		}
	}
	return "", nil
}

// Excepted says whether a file stands among the exceptions of its synchronized
// folder for a target.
func (p *Project) Excepted(target, file string) bool { return p.missingMembership(target, file) == "" }

func (p *Project) missingMembership(target, file string) string {
	folder, rel := p.folderOf(file)
	if t, ok := p.native(target); ok {
		if _, list := p.exceptions(folder, t.ID); slices.Contains(list.List(), rel) {
			return ""
		}
	}
	return string(KindMembership)
}

// addMembership puts a file among the exceptions of its folder. What it returns
// is the id of a list of ours, or a mark where the list is somebody else's.
func (d *draftProject) addMembership(t Native, file string, mine bool) ([]string, error) {
	folder, rel := d.folderOf(file)
	if folder == "" {
		return nil, d.Fail(-1, "a synchronized folder that holds "+file, "none", "add the file to the target in the project editor, then register again")
	}
	at := d.paths[folder]
	text := quoteOpenStep(rel) + ","
	id, list := d.exceptions(folder, t.ID)
	if id != "" && !d.ours[id] {
		switch {
		case !list.IsArray():
			return nil, d.Fail(-1, "membershipExceptions in the object "+id, "none", "add the file to the target in the project editor, then register again")
		case !slices.Contains(list.List(), rel):
			d.line(list, text)
		case !mine:
			return nil, nil // somebody else's
		}
		return []string{string(KindMembership)}, nil
	}
	label := fmt.Sprintf("Exceptions for %q folder in %q target", lastPart(at), t.Name)
	id = d.objectID(d.ours, "exceptions", at, t.Name)
	d.object(exceptionISA, newObject{id, label,
		strings.Join([]string{"{", "\t\t\tisa = " + exceptionISA + ";", "\t\t\tmembershipExceptions = (", ""}, d.nl),
		strings.Join([]string{"\t\t\t);", "\t\t\ttarget = " + t.ID + " /* " + commentText(t.Name) + " */;", "\t\t}"}, d.nl)})
	if list.IsArray() {
		if !slices.Contains(list.List(), rel) {
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
	if list := d.Project.objects.Get(folder, "exceptions"); list.IsArray() {
		d.item(list, id, label)
		return
	}
	d.newExceptions[folder] = appendNew(d.newExceptions[folder], itemLine(id, label))
}

// writeExceptions returns folders that have none a list of lists, and takes away
// those of ours that are empty now.
func (d *draftProject) writeExceptions() {
	for folder, lines := range d.newExceptions {
		o := d.Project.objects.Get(folder)
		d.lists[folder] = true
		first := o.pairs[0]
		if start := splice.LineStart(d.Text, o.to-1); start <= o.from || d.restOfLine(first.end) != "" {
			d.splices = append(d.splices, splice.Replace(first.end, first.end, " exceptions = ( "+strings.Join(lines, " ")+" );"))
			continue
		}
		indent := splice.IndentOf(d.Text, first.key.from)
		at := splice.LineEnd(d.Text, first.end)
		d.splices = append(d.splices, splice.Replace(at, at, indent+"exceptions = ("+d.nl+indent+"\t"+strings.Join(lines, d.nl+indent+"\t")+d.nl+indent+");"+d.nl))
	}
	for folder := range d.lists {
		if d.newExceptions[folder] != nil {
			continue
		}
		o := d.Project.objects.Get(folder)
		list := o.Get("exceptions")
		left := 0
		for _, id := range list.List() {
			if !d.ours[id] || d.keep[id] {
				left++
			}
		}
		if list == nil {
			delete(d.lists, folder)
		}
		if list == nil || left > 0 || len(d.lines[list.from]) > 0 {
			continue
		}
		delete(d.lists, folder)
		for _, pr := range o.pairs {
			if pr.val == list {
				d.cut[list] = true
				d.splices = append(d.splices, splice.WholeRange(d.Text, pr.key.from, pr.end))
			}
		}
	}
}

// dropMembership takes a file out of a list that stays.
func (d *draftProject) dropMembership(target, file string) {
	folder, rel := d.folderOf(file)
	t, ok := d.native(target)
	if id, list := d.exceptions(folder, t.ID); ok && list != nil {
		for i, e := range list.items {
			if e.val.Str() == rel {
				d.drops = append(d.drops, dropped{id, list, i})
			}
		}
	}
}
