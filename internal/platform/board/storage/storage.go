// Package storage is the form of an Espruino app's metadata.json, whose list "storage" names the files
// that are uploaded:
//
//	{"id": "x", "storage": [{"name": "x.app.js", "url": "app.js"}]}
package storage

import (
	"encoding/json"
	"fmt"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/jsonc"
	"notaria/internal/edit/splice"
)

// KindFile is the place of a file in the list; its name there is the place's, its path the value.
const KindFile edit.Kind = "file"

// File is an entry for a file of the app.
func File(manifest, name, url string) edit.Entry {
	return edit.Entry{File: manifest, Syntax: Syntax{}.Name(), Place: edit.Place{Kind: KindFile, Name: name}, Value: url}
}

// Syntax is the form of metadata.json.
type Syntax struct{}

// Name is how entries name this syntax.
func (Syntax) Name() string { return "storage" }

// list finds the list, and the element of a name in it, -1 if there is none.
func list(doc edit.Document, name string) (root, files *jsonc.Node, at int, err error) {
	if root, err = jsonc.Parse(doc); err != nil {
		return nil, nil, 0, err
	}
	if files = root.Get("storage"); files == nil || files.Kind != '[' {
		return nil, nil, 0, doc.Fail(root.From, `a list "storage"`, "none", edit.Mend)
	}
	at = -1
	for i, v := range files.Values {
		if v.Get("name").Str() == name {
			at = i
			break
		}
	}
	return root, files, at, nil
}

// line is an element as text.
func line(e edit.Entry) string {
	name, _ := json.Marshal(e.Place.Name)
	url, _ := json.Marshal(e.Value)
	return fmt.Sprintf(`{"name": %s, "url": %s}`, name, url)
}

// Reconcile makes the list hold what is wanted.
func (Syntax) Reconcile(doc edit.Document, want, owned []edit.Entry) ([]byte, []edit.Entry, error) {
	return edit.ByPlace(doc, want, owned, func(doc edit.Document, place edit.Place, want, owned []edit.Entry) ([]byte, []edit.Entry, error) {
		_, files, at, err := list(doc, place.Name)
		if err != nil {
			if len(want) == 0 {
				return doc.Text, nil, nil // nothing of ours can be in it
			}
			return nil, nil, err
		}
		is := ""
		if at >= 0 {
			is = files.Values[at].Get("url").Str()
		}
		mine := len(owned) > 0 && at >= 0 && is == owned[0].Value
		switch {
		case len(want) > 0 && at >= 0 && is == want[0].Value:
			if mine {
				return doc.Text, owned[:1], nil
			}
			return doc.Text, nil, nil
		case len(want) > 0 && at >= 0:
			return nil, nil, doc.Fail(files.Values[at].From, fmt.Sprintf("no other file called %q in storage", place.Name), fmt.Sprintf("%q", is), "give it another name, then register again")
		case len(want) > 0:
			made := edit.Entry{File: want[0].File, Syntax: want[0].Syntax, Place: place, Value: want[0].Value}
			if len(files.Values) == 0 {
				made.Made = []string{string(doc.Text[files.From:files.To])}
			}
			text, err := doc.Apply(files.Insertion(doc.Text, jsonc.Indent(doc.Text, mustRoot(doc)), []string{line(want[0])}))
			return text, []edit.Entry{made}, err
		case mine:
			was := ""
			if len(owned[0].Made) > 0 {
				was = owned[0].Made[0]
			}
			if strings.Trim(was, "[] \t\r\n") != "" {
				was = "[]" // no ledger puts anything else there
			}
			text, err := doc.Apply(files.Removal(at, was))
			return text, nil, err
		}
		return doc.Text, nil, nil
	})
}

func mustRoot(doc edit.Document) *jsonc.Node {
	root, _ := jsonc.Parse(doc) // it was parsed before
	return root
}

// TakeOver returns what is there already.
func (Syntax) TakeOver(doc edit.Document, want, mine []edit.Entry) []edit.Entry {
	var out []edit.Entry
	for _, e := range want {
		_, files, at, err := list(doc, e.Place.Name)
		if err == nil && at >= 0 && files.Values[at].Get("url").Str() == e.Value && len(edit.At(mine, e.Place)) == 0 {
			out = append(out, e)
		}
	}
	return out
}

// Paste is what a person adds.
func (Syntax) Paste(want []edit.Entry) string {
	var out []string
	for _, e := range want {
		out = append(out, "in the list \"storage\":\n"+line(e))
	}
	return strings.Join(out, "\n")
}

// Missing returns what the list does not hold.
func (Syntax) Missing(doc edit.Document, want []edit.Entry) ([]edit.Lack, error) {
	var out []edit.Lack
	for _, e := range want {
		_, files, at, err := list(doc, e.Place.Name)
		if err != nil {
			return nil, err
		}
		if at >= 0 && files.Values[at].Get("url").Str() == e.Value {
			continue
		}
		out = append(out, edit.Lack{Entry: e, Line: splice.LineOf(doc.Text, files.From), Message: fmt.Sprintf("storage does not list %q", e.Place.Name), Cause: "the file is not uploaded, and require() does not find it"})
	}
	return out, nil
}

// AnyEntry says that an entry can be any file of an app.
func (Syntax) AnyEntry() {}
