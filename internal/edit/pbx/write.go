package pbx

import (
	"bytes"
	"maps"
	"slices"
	"sort"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/splice"
)

// write turns what a reconciliation collected into splices, and returns the
// containers that are ours.
func (d *draftProject) write() []edit.Entry {
	d.writeExceptions()
	d.removeStale()
	for at, lines := range d.lines {
		d.splices = append(d.splices, d.intoArray(d.arrays[at], lines))
	}
	isas := make([]string, 0, len(d.objects))
	for isa := range d.objects {
		isas = append(isas, isa)
	}
	sort.Strings(isas)
	for _, isa := range isas {
		d.intoSection(isa, d.objects[isa])
	}
	var out []edit.Entry
	for _, c := range []struct {
		kind edit.Kind
		made map[string]bool
	}{{kindExceptions, d.lists}, {kindSection, d.made}} {
		for _, value := range slices.Sorted(maps.Keys(c.made)) {
			out = append(out, edit.Entry{File: d.File, Syntax: Syntax{}.Name(), Place: edit.Place{Kind: c.kind}, Value: value})
		}
	}
	return out
}

// removeStale takes out our objects that are wanted no more, every mention of
// them in arrays, and sections of ours that this empties.
func (d *draftProject) removeStale() {
	stale := map[string]bool{}
	for id := range d.ours {
		if !d.keep[id] {
			stale[id] = true
		}
	}
	for _, x := range d.drops {
		if !stale[x.object] {
			d.dropItem(x.array, x.item)
		}
	}
	left := map[string]int{}
	for _, p := range d.Project.objects.pairs {
		isa := p.val.Get("isa").Str()
		if !stale[p.key.text] {
			left[isa]++
			d.dropItems(p.val, stale)
			continue
		}
		d.splices = append(d.splices, splice.WholeRange(d.Text, p.key.from, p.end)) // on one line it came in with a space before it
	}
	for isa := range d.made {
		if left[isa] == 0 && len(d.objects[isa]) == 0 {
			delete(d.made, isa)
			d.dropSection(isa)
		}
	}
}

// dropItems takes stale ids out of the arrays of an object.
func (d *draftProject) dropItems(object *Node, stale map[string]bool) {
	for _, p := range object.pairs {
		for i, e := range p.val.items {
			if !stale[e.val.Str()] || d.cut[p.val] {
				continue
			}
			d.dropItem(p.val, i)
		}
	}
}

// dropItem takes one item out of an array.
func (d *draftProject) dropItem(array *Node, i int) {
	from, to := array.items[i].val.from, array.items[i].end
	if splice.Alone(d.Text, from, to) {
		d.splices = append(d.splices, splice.WholeLines(d.Text, from, to))
		return
	}
	// Inline arrays: ours came in first, with a space before it.
	from = array.from + 1
	if i > 0 {
		from = array.items[i-1].end
	}
	d.splices = append(d.splices, splice.Replace(from, to, ""))
}

// intoArray adds lines to an array: last, where each line has its item and ends
// in a comma; else first, which leaves what is there alone.
func (d *draftProject) intoArray(array *Node, lines []string) splice.Edit {
	closing := array.to - 1
	start := splice.LineStart(d.Text, closing)
	n := len(array.items)
	openLine := n > 0 && array.items[0].val.from < splice.LineEnd(d.Text, array.from)
	shared := strings.TrimSpace(string(d.Text[start:closing])) != "" // the bracket shares its line
	if start <= array.from || shared || openLine && !array.items[n-1].comma {
		return splice.Replace(array.from+1, array.from+1, " "+strings.Join(lines, " "))
	}
	indent := splice.IndentOf(d.Text, closing) + "\t"
	text := indent + strings.Join(lines, d.nl+indent) + d.nl
	if n > 0 && !array.items[n-1].comma {
		at := splice.LineEnd(d.Text, array.from)
		return splice.Replace(at, at, text)
	}
	return splice.Replace(start, start, text)
}

// intoSection adds objects after the last of their kind, or in a new section.
func (d *draftProject) intoSection(isa string, objects []newObject) {
	text := ""
	for _, o := range objects {
		text += "\t\t" + o.id + " /* " + commentText(o.label) + " */ = " + o.open
		for _, line := range d.inNew[o.id] {
			text += "\t\t\t\t" + line + d.nl
		}
		text += o.close + ";" + d.nl
	}
	last, next := -1, -1
	for _, p := range d.Project.objects.pairs {
		switch have := p.val.Get("isa").Str(); {
		case have == isa:
			last = p.end
		case have > isa && next < 0:
			next = p.key.from
		}
	}
	if last >= 0 && d.restOfLine(last) != "" {
		d.splices = append(d.splices, splice.Replace(last, last, " "+strings.ReplaceAll(strings.TrimSpace(text), d.nl+"\t\t", " ")))
		return
	}
	if last >= 0 {
		at := splice.LineEnd(d.Text, last)
		d.splices = append(d.splices, splice.Replace(at, at, text))
		return
	}
	d.made[isa] = true
	section := "/* Begin " + isa + " section */" + d.nl + text + "/* End " + isa + " section */" + d.nl + d.nl
	at := splice.LineStart(d.Text, d.Project.objects.to-1)
	if next >= 0 {
		at = splice.LineStart(d.Text, next)
		if before := splice.LineStart(d.Text, max(at-1, 0)); bytes.HasPrefix(d.Text[before:], []byte("/* Begin ")) {
			at = before
		}
	} else {
		section = d.nl + strings.TrimSuffix(section, d.nl)
	}
	d.splices = append(d.splices, splice.Replace(at, at, section))
}

// restOfLine is what follows a place on its line, except for comments.
func (d *draftProject) restOfLine(at int) string {
	rest := strings.TrimSpace(string(d.Text[at:splice.LineEnd(d.Text, at)]))
	for strings.HasPrefix(rest, "/*") {
		_, after, closed := strings.Cut(rest[2:], "*/")
		if rest = strings.TrimSpace(after); !closed {
			return "/*" // a comment of several lines: nothing may go inside it
		}
	}
	if strings.HasPrefix(rest, "//") {
		return ""
	}
	return rest
}

// dropSection takes out the comments around a section, and the empty line that
// came with it.
func (d *draftProject) dropSection(isa string) {
	begin := bytes.Index(d.Text, []byte("/* Begin "+isa+" section */"))
	end := bytes.Index(d.Text, []byte("/* End "+isa+" section */"))
	if begin < 0 || end < begin {
		return
	}
	b := splice.Replace(splice.LineStart(d.Text, begin), splice.LineEnd(d.Text, begin), "")
	e := splice.Replace(splice.LineStart(d.Text, end), splice.LineEnd(d.Text, end), "")
	if b.To > e.From {
		return // all on one line: the two comments may stay
	}
	switch after := splice.LineEnd(d.Text, min(e.To, len(d.Text)-1)); {
	case strings.TrimSpace(string(d.Text[e.To:after])) == "":
		e.To = after
	case b.From > 0 && strings.TrimSpace(string(d.Text[splice.LineStart(d.Text, b.From-1):b.From])) == "":
		b.From = splice.LineStart(d.Text, b.From-1)
	}
	d.splices = append(d.splices, b, e)
}
