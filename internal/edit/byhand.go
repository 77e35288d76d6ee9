package edit

import (
	"bytes"
	"fmt"
	"path"

	"notaria/internal/language"
	"notaria/internal/lazy"
)

// ByHand is the form of manifests that are programs, or that a project is made from: Notaria does
// not write into them.
// An entry's value is what the manifest has to hold, the name of its place what a
// person adds so that it does.
type ByHand struct{}

// KindByHand is the kind of its places.
const KindByHand Kind = "by-hand"

// Name is how entries name this syntax.
func (ByHand) Name() string { return "byhand" }

// Reconcile changes nothing.
func (ByHand) Reconcile(doc Document, _, _ []Entry) ([]byte, []Entry, error) {
	return doc.Text, nil, nil
}

// TakeOver takes nothing: what people write stays theirs.
func (ByHand) TakeOver(Document, []Entry, []Entry) []Entry { return nil }

// Paste is what a person adds.
func (ByHand) Paste(want []Entry) string {
	return PasteBy(want, func(p Place, _ []Entry) []string { return []string{p.Name} })
}

var yamlComment = lazy.Regexp(`(?m)(?:^|\s)#.*$`)

// Missing looks for the values outside comments.
func (ByHand) Missing(doc Document, want []Entry) ([]Lack, error) {
	clean, what := doc.Text, "is a program"
	if l := language.Of(doc.File); l != nil {
		clean = l.Blank(clean)
	} else {
		clean, what = yamlComment.ReplaceAll(clean, nil), "is what the project is made from"
	}
	var out []Lack
	for _, e := range want {
		if !bytes.Contains(clean, []byte(e.Value)) {
			out = append(out, Lack{Entry: e, Message: fmt.Sprintf("%s does not name %s", path.Base(doc.File), e.Value),
				Cause: "the file " + what + ", into which Notaria does not write", Cure: "add by hand: " + e.Place.Name})
		}
	}
	return out, nil
}
