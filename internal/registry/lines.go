package registry

import (
	"bytes"
	"encoding/json"
	"fmt"
	"slices"
	"sort"

	"notaria/internal/language"
)

// The ledger is JSON with one line for each file, folder and entry, in a fixed order, so that version control merges
// it line by line. What two branches added is then all there, and some of it twice; marks of a merge are passed over.
// A ledger that was put together so is read as the union of both.

// Bytes writes the ledger in a fixed order; an empty one is nil.
func (l *Ledger) Bytes() ([]byte, error) {
	if len(l.Files) == 0 && len(l.Entries) == 0 {
		return nil, nil
	}
	files, folders, entries := slices.Clone(l.Files), slices.Clone(l.Folders), slices.Clone(l.Entries)
	sort.Slice(files, func(i, j int) bool { return files[i].Path < files[j].Path })
	sort.Strings(folders)
	sort.SliceStable(entries, func(i, j int) bool { return entries[i].Key() < entries[j].Key() })

	var b bytes.Buffer
	fmt.Fprintf(&b, "{\n  \"schema\": %s,\n", strconvQuote(ledgerSchema))
	for _, x := range []struct{ key, value string }{{"registry", l.Registry}, {"attributes", l.Attributes}} {
		if x.value != "" {
			fmt.Fprintf(&b, "  %q: %s,\n", x.key, strconvQuote(x.value))
		}
	}
	err := records(&b, "files", files)
	if err == nil {
		b.WriteString(",\n")
		err = records(&b, "folders", folders)
	}
	if err == nil {
		b.WriteString(",\n")
		err = records(&b, "entries", entries)
	}
	b.WriteString("\n}\n")
	return language.EscapeUnseen(b.Bytes()), err
}

// records writes a list, a line for each.
func records[T any](b *bytes.Buffer, key string, list []T) error {
	fmt.Fprintf(b, "  %q: [", key)
	for i, x := range list {
		text, err := json.Marshal(x)
		if err != nil {
			return err
		}
		if i > 0 {
			b.WriteByte(',')
		}
		b.WriteString("\n    ")
		b.Write(text)
	}
	b.WriteString("\n  ]")
	return nil
}

// read reads a ledger of the present schema.
func (l *Ledger) read(text []byte) error {
	if err := decode(text, l); err != nil {
		*l = Ledger{Schema: ledgerSchema}
		if l.byLines(text) != nil {
			return err // of the text as it should be
		}
	}
	l.Merged = l.Merged || bytes.Count(text, []byte("\n  \"registry\":")) > 1
	l.join()
	return nil
}

// byLines reads a ledger whose lines version control has put together.
func (l *Ledger) byLines(text []byte) error {
	base := false // in what both sides had before, which neither has now
	n := 0
	for line := range bytes.Lines(text) {
		n++
		if m := MergeMark(line); m != 0 {
			base, l.Merged = m == '|', true
			continue
		}
		line = bytes.TrimSuffix(bytes.TrimSpace(line), []byte{','})
		if base || len(line) == 0 {
			continue
		}
		if err := l.line(line); err != nil {
			return fmt.Errorf("line %d: %w", n, err)
		}
	}
	return nil
}

// line reads one line, without its comma.
func (l *Ledger) line(line []byte) error {
	begins := func(s string) bool { return bytes.HasPrefix(line, []byte(s)) }
	value := func() []byte { return line[bytes.IndexByte(line, ':')+1:] }
	switch {
	case begins(`{"path"`):
		var w Written
		err := decode(line, &w)
		l.Files = append(l.Files, w)
		return err
	case begins(`{"file"`):
		var e Entry
		err := decode(line, &e)
		l.Entries = append(l.Entries, e)
		return err
	case begins(`"registry":`):
		return json.Unmarshal(value(), &l.Registry)
	case begins(`"attributes":`):
		return json.Unmarshal(value(), &l.Attributes)
	case begins(`"schema":`), begins(`"files":`), begins(`"folders":`), begins(`"entries":`):
		return nil
	case begins(`"`):
		var folder string
		err := json.Unmarshal(line, &folder)
		l.Folders = append(l.Folders, folder)
		return err
	}
	if len(bytes.Trim(line, "{}[]")) > 0 {
		return fmt.Errorf("%q", short(string(line)))
	}
	return nil
}

// MergeMark is the sign of a line with which version control marks two sides of a text: '<', '|', '=' or '>'; 0 for
// another line.
func MergeMark(line []byte) byte {
	line = bytes.TrimRight(line, "\r\n")
	if len(line) < 7 || bytes.IndexByte([]byte("<|=>"), line[0]) < 0 || bytes.Count(line[:7], line[:1]) < 7 {
		return 0
	}
	if rest := line[7:]; line[0] == '=' && len(rest) > 0 || len(rest) > 0 && rest[0] != ' ' {
		return 0
	}
	return line[0]
}

// join makes one of what is there twice.
func (l *Ledger) join() {
	at := map[string]int{}
	var files []Written
	for _, f := range l.Files {
		i, twice := at[f.Path]
		if !twice {
			at[f.Path] = len(files)
			files = append(files, f)
			continue
		}
		l.Merged = true
		files[i] = files[i].with(f)
	}
	l.Files, l.index = files, nil
	at = map[string]int{}
	var entries []Entry
	for _, e := range l.Entries {
		i, twice := at[e.Key()]
		if !twice {
			at[e.Key()] = len(entries)
			entries = append(entries, e)
			continue
		}
		l.Merged = true
		entries[i].Owners = Union(entries[i].Owners, e.Owners)
	}
	l.Entries = entries
	slices.Sort(l.Folders)
	l.Folders = slices.Compact(l.Folders)
}

// with is a file of which two sides of a merge tell.
func (w Written) with(other Written) Written {
	w.Owners = Union(w.Owners, other.Owners)
	w.Taken = w.Taken || other.Taken
	for _, sum := range append([]string{other.SHA256}, other.Others...) {
		if sum != w.SHA256 && !slices.Contains(w.Others, sum) {
			w.Others = append(w.Others, sum)
		}
	}
	return w
}
