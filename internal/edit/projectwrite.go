package edit

import (
	"bytes"
	"sort"
	"strings"
)

// write turns what a reconciliation collected into splices, and returns the
// containers that are ours.
func (d *draftProject) write(file string) []Entry {
	d.removeStale()
	d.writeExceptions()
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
	var out []Entry
	for isa := range d.made {
		out = append(out, Entry{File: file, Syntax: SyntaxProject, Place: "section", Value: isa})
	}
	sort.Slice(out, func(i, j int) bool { return out[i].Value < out[j].Value })
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
	left := map[string]int{}
	for _, p := range d.Project.objects.pairs {
		isa := p.val.get("isa").str()
		if !stale[p.key.text] {
			left[isa]++
			d.dropItems(p.val, stale)
			continue
		}
		d.splices = append(d.splices, wholeRange(d.doc, p.key.from, p.end)) // on one line it came in with a space before it
	}
	for isa := range d.made {
		if strings.HasPrefix(isa, "exceptions ") {
			continue // a list of a folder, not a section
		}
		if left[isa] == 0 && len(d.objects[isa]) == 0 {
			delete(d.made, isa)
			d.dropSection(isa)
		}
	}
}

// dropItems takes stale ids out of the arrays of an object.
func (d *draftProject) dropItems(object *node, stale map[string]bool) {
	for _, p := range object.pairs {
		for i, e := range p.val.items {
			if !stale[e.val.str()] {
				continue
			}
			d.dropItem(p.val, i)
		}
	}
}

// dropItem takes one item out of an array.
func (d *draftProject) dropItem(array *node, i int) {
	from, to := array.items[i].val.from, array.items[i].end
	if alone(d.doc, from, to) {
		d.splices = append(d.splices, wholeLines(d.doc, from, to))
		return
	}
	// Inline arrays: ours came in first, with a space before it.
	from = array.from + 1
	if i > 0 {
		from = array.items[i-1].end
	}
	d.splices = append(d.splices, splice{from, to, ""})
}

// intoArray adds lines to an array: last, where each line has its item and ends
// in a comma; else first, which leaves what is there alone.
func (d *draftProject) intoArray(array *node, lines []string) splice {
	closing := array.to - 1
	start := lineStart(d.doc, closing)
	n := len(array.items)
	openLine := n > 0 && array.items[0].val.from < lineEnd(d.doc, array.from)
	shared := strings.TrimSpace(string(d.doc[start:closing])) != "" // the bracket shares its line
	if start <= array.from || shared || openLine && !array.items[n-1].comma {
		return splice{array.from + 1, array.from + 1, " " + strings.Join(lines, " ")}
	}
	indent := indentOf(d.doc, closing) + "\t"
	text := indent + strings.Join(lines, d.nl+indent) + d.nl
	if n > 0 && !array.items[n-1].comma {
		at := lineEnd(d.doc, array.from)
		return splice{at, at, text}
	}
	return splice{start, start, text}
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
		switch have := p.val.get("isa").str(); {
		case have == isa:
			last = p.end
		case have > isa && next < 0:
			next = p.key.from
		}
	}
	if last >= 0 && d.restOfLine(last) != "" {
		d.splices = append(d.splices, splice{last, last, " " + strings.ReplaceAll(strings.TrimSpace(text), d.nl+"\t\t", " ")})
		return
	}
	if last >= 0 {
		at := lineEnd(d.doc, last)
		d.splices = append(d.splices, splice{at, at, text})
		return
	}
	d.made[isa] = true
	section := "/* Begin " + isa + " section */" + d.nl + text + "/* End " + isa + " section */" + d.nl + d.nl
	at := lineStart(d.doc, d.Project.objects.to-1)
	if next >= 0 {
		at = lineStart(d.doc, next)
		if before := lineStart(d.doc, max(at-1, 0)); bytes.HasPrefix(d.doc[before:], []byte("/* Begin ")) {
			at = before
		}
	} else {
		section = d.nl + strings.TrimSuffix(section, d.nl)
	}
	d.splices = append(d.splices, splice{at, at, section})
}

// restOfLine is what follows a place on its line, but for remarks.
func (d *draftProject) restOfLine(at int) string {
	rest := strings.TrimSpace(string(d.doc[at:lineEnd(d.doc, at)]))
	for strings.HasPrefix(rest, "/*") {
		_, after, closed := strings.Cut(rest[2:], "*/")
		if rest = strings.TrimSpace(after); !closed {
			return "/*" // a remark of several lines: nothing may go inside it
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
	begin := bytes.Index(d.doc, []byte("/* Begin "+isa+" section */"))
	end := bytes.Index(d.doc, []byte("/* End "+isa+" section */"))
	if begin < 0 || end < begin {
		return
	}
	b, e := wholeLines(d.doc, begin, begin+1), wholeLines(d.doc, end, end+1)
	b.from, b.to = lineStart(d.doc, begin), lineEnd(d.doc, begin)
	e.from, e.to = lineStart(d.doc, end), lineEnd(d.doc, end)
	switch after := lineEnd(d.doc, min(e.to, len(d.doc)-1)); {
	case strings.TrimSpace(string(d.doc[e.to:after])) == "":
		e.to = after
	case b.from > 0 && strings.TrimSpace(string(d.doc[lineStart(d.doc, b.from-1):b.from])) == "":
		b.from = lineStart(d.doc, b.from-1)
	}
	d.splices = append(d.splices, b, e)
}
