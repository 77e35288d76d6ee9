package registry

import (
	"strings"

	"notaria/internal/edit"
)

// Ledgers of schema 1 told one platform for each thing, without the app, and places as
// text. They are read, and written in the present schema by the next change.
const firstSchema = "notaria/ledger/1"

type firstLedger struct {
	Schema string `json:"schema"`
	Files  []struct {
		Path   string `json:"path"`
		SHA256 string `json:"sha256"`
		Target string `json:"target"`
		Taken  bool   `json:"taken"`
	} `json:"files"`
	Folders []string     `json:"folders"`
	Entries []firstEntry `json:"entries"`
}

type firstEntry struct {
	File   string   `json:"file"`
	Syntax string   `json:"syntax"`
	Place  string   `json:"place"`
	Value  string   `json:"value"`
	With   []string `json:"with"`
	Made   []string `json:"made"`
	Target string   `json:"target"`
}

func parseFirst(text []byte) (*Ledger, error) {
	var old firstLedger
	if err := decode(text, &old); err != nil {
		return nil, err
	}
	l := &Ledger{Schema: ledgerSchema, Folders: old.Folders}
	for _, f := range old.Files {
		l.Files = append(l.Files, Written{Path: f.Path, SHA256: f.SHA256, Owners: firstOwner(f.Target), Taken: f.Taken})
	}
	for _, e := range old.Entries {
		l.Entries = append(l.Entries, e.carried())
	}
	return l, nil
}

func firstOwner(target string) []Owner {
	if target == "" {
		return nil
	}
	return []Owner{{Target: target}}
}

// carried is the entry in the present schema.
func (e firstEntry) carried() Entry {
	out := Entry{Entry: edit.Entry{File: e.File, Syntax: e.Syntax, Place: firstPlace(e.Syntax, e.Place), Value: e.Value, With: e.With, Made: e.Made}}
	if e.Value != "" && e.Place != "section" {
		out.Owners = firstOwner(e.Target)
	}
	switch {
	case e.Syntax == "xcodeproj" && strings.HasPrefix(e.Value, "exceptions "):
		out.Place.Kind, out.Value = "exceptions", strings.TrimPrefix(e.Value, "exceptions ")
	case e.Syntax == "xml" && strings.HasPrefix(e.Place, "item:"):
		out.Value = strings.ReplaceAll(e.Value, "/", `\`)
	}
	return out
}

// firstPlace turns a place that was text into a value.
func firstPlace(syntax, place string) edit.Place {
	kind, name, _ := strings.Cut(place, ":")
	switch {
	case syntax == "plist" && kind == "string":
		return edit.Place{Kind: "string", Name: name}
	case syntax == "plist":
		return edit.Place{Kind: "array", Name: place}
	case syntax == "xml" && kind == "item":
		return edit.Place{Kind: "grouped", Name: name, Attribute: "Include", Path: []string{"ItemGroup"}}
	case syntax == "xml":
		return edit.Place{Kind: "nested", Name: "ResourceDictionary", Attribute: "Source",
			Path: []string{"Application.Resources", "ResourceDictionary", "ResourceDictionary.MergedDictionaries"}}
	case syntax == "source" && kind == "block":
		way, _, _ := strings.Cut(name, "|")
		return edit.Place{Kind: "block", Path: strings.Split(way, "/")}
	case syntax == "appjson":
		return firstFonts(place)
	case syntax == "byhand":
		return edit.Place{Kind: "by-hand", Name: place}
	}
	return edit.Place{Kind: edit.Kind(kind), Name: name}
}

// firstFonts is a place in an app.json: a list of fonts, or a container.
func firstFonts(place string) edit.Place {
	switch {
	case place == "plugins" || place == "plugin":
		return edit.Place{Kind: edit.Kind(place)}
	case place == "fontlist":
		return edit.Place{Kind: "list", Path: []string{"fonts"}}
	case strings.HasPrefix(place, "fontlist "):
		return edit.Place{Kind: "list", Path: strings.Split(strings.TrimPrefix(place, "fontlist "), ".")}
	}
	return edit.Place{Kind: "font", Path: strings.Split(place, ".")}
}
