package platform

import "notaria/internal/face"

// Output is what a bundler, or a program that makes pages, put out.
type Output interface {
	Files() []string // with slashes, sorted
	// Read returns a file; false if it is larger than most bytes, or cannot be read.
	Read(name string, most int64) ([]byte, bool)
}

// An Origin is a face as it was enrolled: its id, and the size of its file in bytes.
type Origin struct {
	ID   string
	Size int64
}

// Built is what was found in an output.
type Built struct {
	Pages, Sheets, Rules int      // Rules are those that declare a font
	Fonts                []string // that rules name, and that are there
	Flaws                []Flaw
}

// A Load is what one page loads: the fonts that rules in it and in its style sheets name, and those that its links load early.
type Load struct {
	Page         string
	Fonts, Early []string
}

// A Prover is a platform that knows what becomes of its sources: it looks at all pages of an output, or at one and what that
// takes in; and what pages load, with the faces of the fonts by their paths.
type Prover interface {
	Prove(out Output, page string, origins []Origin) Built
	Loads(out Output) (list []Load, faces map[string]face.Face)
}

// Kinds of flaws of an output, besides those of sources.
const (
	Broken   FlawKind = "broken font"
	Heavier  FlawKind = "heavier than its original"
	Twice    FlawKind = "the same face twice"
	Wasted   FlawKind = "preload that is wasted"
	Misspelt FlawKind = "a family spelled in another way"
)
