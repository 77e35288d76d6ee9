package specimen

import (
	"cmp"
	"fmt"
	"strings"

	"notaria/internal/face"
)

// A Face is one to be shown: what it is called, and its file.
type Face struct {
	face.Face
	Where string                 // the file that it is in, as people know it
	Read  func() ([]byte, error) // a plain font file
}

// load makes the face ready for drawing; page is what all faces of its page take, nil for a face alone.
func (f Face) load(page *work) (*Type, error) {
	data, err := f.Read()
	if err != nil {
		return nil, err
	}
	t, err := Load(data, nil)
	if err != nil {
		return nil, err
	}
	t.page = page
	return t, nil
}

// A Labelled is a text of the app, by what it is called there.
type Labelled struct{ Label, Text string }

// Take is the face's file as commands take it: of a collection, the one face.
func (f Face) Take() string {
	if f.Container == "collection" {
		return f.Where + "#" + f.PostScript
	}
	return f.Where
}

// Options say what is drawn of faces.
type Options struct {
	Text  string
	Ours  bool      // nobody asked for the text: a face without its letters is shown with its own
	Sizes []float64 // pixels per em; nil for what suits the page
	Width float64   // of the page, in pixels
	Colours
	Language  string
	Title     string
	OneGround bool // candidates stand on the page's own ground alone
	// Of a page of candidates: texts of the app, and roles that they can be shown as.
	Strings []Labelled
	Roles   []Role
	Typed   func(face.Face) []string // what is typed for a face, "where: string" each
	page    *work
}

// unit is what all distances are made of.
const unit = 8

// edge is the white at the edges of a page.
func edge(width float64) float64 {
	switch {
	case width < 480:
		return 2 * unit
	case width < 800:
		return 4 * unit
	}
	return 7 * unit
}

// kindOf says what a face is in a few words.
func kindOf(f face.Face) string {
	words := []string{fmt.Sprint(f.Weight)}
	if f.Slant != face.Upright {
		words = append(words, string(f.Slant))
	}
	if f.Category != "" && f.Category != "unknown" {
		words = append(words, f.Category)
	}
	if f.Variable {
		words = append(words, "variable")
	}
	return strings.Join(words, ", ")
}

// nameOf is what people call a face, in one short line.
func nameOf(f face.Face) string { return face.Short(cmp.Or(f.Full, f.ID())) }

// heading puts the head of a page: its title, and what is on it.
func (p *Pen) heading(d *Drawing, title, about string, width float64) float64 {
	m := edge(width)
	p.words(d, p.strong, title, m, m+20, min(28, width/18), width-2*m, p.Ink)
	p.words(d, p.text, about, m, m+46, 15, width-2*m, p.Quiet)
	return m + 46 + 3*unit
}

// A failure is a face that cannot be drawn, told in its place.
func (p *Pen) failure(d *Drawing, err error, x, y, width float64) {
	p.words(d, p.text, "cannot be drawn: "+err.Error(), x, y, 15, width, p.Alarm)
}
