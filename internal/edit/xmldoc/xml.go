// Package xmldoc edits XML: elements in the project files of .NET, in XAML and the
// like, and Apple's property lists, written out or binary.
package xmldoc

import (
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/fault"
)

// An Element of an XML document with its place in the text. A start tag ends at
// open, an end tag begins at close; both are the end of an element written as
// <x/>.
type Element struct {
	Name        string // without its prefix
	Tag         string // as it is written
	Attr        map[string]string
	From, To    int
	Open, Close int
	Empty       bool // written as <x/>
	Children    []*Element
}

const (
	mostDepth = 64      // how deep a document may nest
	mostBytes = 1 << 20 // how large it may be
)

// Parse finds the places of a document's elements.
func Parse(d edit.Document) (*Element, error) {
	doc := d.Text
	fail := func(at int, expected, found string) error { return d.Fail(at, expected, found, edit.Mend) }
	if len(doc) > mostBytes {
		return nil, fail(0, "at most 1 MiB", "more")
	}
	bom := 0
	if bytes.HasPrefix(doc, []byte("\xef\xbb\xbf")) {
		bom = 3
	}
	dec := xml.NewDecoder(bytes.NewReader(doc[bom:]))
	var root *Element
	var stack []*Element
	for {
		from := bom + int(dec.InputOffset())
		tok, err := dec.Token()
		to := bom + int(dec.InputOffset())
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			var syn *xml.SyntaxError
			if errors.As(err, &syn) {
				return nil, &fault.Error{File: d.File, Line: syn.Line, Expected: "well-formed XML", Found: "an error: " + syn.Msg, Cure: edit.Mend}
			}
			return nil, fail(to, "well-formed XML", "an error: "+err.Error())
		}
		switch t := tok.(type) {
		case xml.StartElement:
			e := &Element{Name: t.Name.Local, Tag: written(doc[from:to]), Attr: map[string]string{}, From: from, Open: to}
			for _, a := range t.Attr {
				e.Attr[a.Name.Local] = a.Value
			}
			switch {
			case len(stack) >= mostDepth:
				return nil, fail(from, fmt.Sprintf("at most %d levels", mostDepth), "more")
			case len(stack) > 0:
				stack[len(stack)-1].Children = append(stack[len(stack)-1].Children, e)
			case root != nil:
				return nil, fail(from, "one element at the top", "another")
			default:
				root = e
			}
			stack = append(stack, e)
		case xml.EndElement:
			e := stack[len(stack)-1]
			stack = stack[:len(stack)-1]
			e.Close, e.To, e.Empty = from, to, from == to
		}
	}
	if root == nil {
		return nil, fail(0, "an element", "none")
	}
	return root, nil
}

// written is the name in a start tag.
func written(tag []byte) string {
	name := strings.TrimPrefix(string(tag), "<")
	if i := strings.IndexAny(name, " \t\r\n/>"); i >= 0 {
		name = name[:i]
	}
	return name
}

// Child finds the first child of a name; it is safe on nil.
func (e *Element) Child(name string) *Element {
	if e != nil {
		for _, c := range e.Children {
			if c.Name == name {
				return c
			}
		}
	}
	return nil
}

// Within finds every element at the end of a way of names below an element.
func (e *Element) Within(path []string) []*Element {
	if e == nil {
		return nil
	}
	list := []*Element{e}
	for _, name := range path {
		var next []*Element
		for _, p := range list {
			for _, c := range p.Children {
				if c.Name == name {
					next = append(next, c)
				}
			}
		}
		list = next
	}
	return list
}

// Slashes is a path as the project files of .NET write it, with slashes.
func Slashes(s string) string { return strings.ReplaceAll(s, `\`, "/") }
