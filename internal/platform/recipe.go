package platform

import (
	"crypto/sha256"
	"fmt"
	"strings"

	"notaria/internal/face"
)

// A Recipe is how the content of a file is made. The recipes are a closed set of
// values; package notary makes the artefacts, each once in a run.
type Recipe interface {
	// Key tells recipes apart, in a run and on the ledger.
	Key() string
	// Faces are the PostScript names of the faces that go into it.
	Faces() []string

	recipe()
}

// Original is a face's original, byte by byte.
type Original struct{ Face string }

// Collection is several faces in one file, in order; shared tables are written once.
type Collection struct{ Members []string }

// WOFF2 and WOFF are a face wrapped for the web. Small takes time for fewer bytes.
type (
	WOFF2 struct {
		Face  string
		Small bool
	}
	WOFF struct{ Face string }
)

// Slice is some characters of a face, with all that they become, wrapped as WOFF 2; Ranges is a list as CSS has it.
type Slice struct {
	Face, Ranges string
	Small        bool
}

// Text is text that a platform generated.
type Text struct{ Content []byte }

// Drawing is generated text that takes long to make: roles as pictures of their characters, and the
// header that describes them. Make is called only where what it is made of changed, or the file.
type Drawing struct {
	Make func() ([]byte, error)
	key  string
	of   []string
}

// NewDrawing is a drawing by what it is made of, all of it, and the faces among that.
func NewDrawing(from, faces []string, make func() ([]byte, error)) Drawing {
	sum := sha256.New()
	for _, s := range from {
		fmt.Fprintf(sum, "%d %s\n", len(s), s)
	}
	return Drawing{make, fmt.Sprintf("drawing %x", sum.Sum(nil)[:16]), faces}
}

// IsText says whether a recipe is that of generated text.
func IsText(r Recipe) bool {
	switch r.(type) {
	case Text, Drawing:
		return true
	}
	return false
}

// TextKeys are what the keys of generated text begin with.
var TextKeys = []string{"text", "drawing"}

func (r Original) Key() string   { return "original " + r.Face }
func (r Collection) Key() string { return "collection " + strings.Join(r.Members, ", ") }
func (r WOFF2) Key() string {
	if r.Small {
		return "small woff2 " + r.Face
	}
	return "woff2 " + r.Face
}
func (r Slice) Key() string {
	return fmt.Sprintf("%s slice %x", WOFF2{r.Face, r.Small}.Key(), sha256.Sum256([]byte(r.Ranges)))[:len(WOFF2{r.Face, r.Small}.Key())+len(" slice ")+16]
}
func (r WOFF) Key() string    { return "woff " + r.Face }
func (Text) Key() string      { return "text" }
func (r Drawing) Key() string { return r.key }

func (r Original) Faces() []string   { return []string{r.Face} }
func (r Collection) Faces() []string { return r.Members }
func (r WOFF2) Faces() []string      { return []string{r.Face} }
func (r Slice) Faces() []string      { return []string{r.Face} }
func (r WOFF) Faces() []string       { return []string{r.Face} }
func (Text) Faces() []string         { return nil }
func (r Drawing) Faces() []string    { return r.of }

func (Original) recipe()   {}
func (Collection) recipe() {}
func (WOFF2) recipe()      {}
func (Slice) recipe()      {}
func (WOFF) recipe()       {}
func (Text) recipe()       {}
func (Drawing) recipe()    {}

// Facts are what generated code may need to know of an artefact. Lengths are in font
// units (OpenType, head.unitsPerEm).
type Facts struct {
	Bytes  int
	SHA256 string
	// Metrics are those of the first face; nil for what is no font.
	Metrics *face.Metrics
}

// Overrides are the metrics of a face as CSS writes them on another font that is in
// for it while it is loading (CSS Fonts 5, 4.1): percentages, of the em of the face
// for the first three, and of the other font's width for Size.
type Overrides struct{ Ascent, Descent, LineGap, Size float64 }

// Overrides compares the face with a font of a mean advance, in ems, over the characters
// of a sample; 0 leaves the size at 100 percent.
func (f Facts) Overrides(sample []rune, otherAdvance float64) Overrides {
	if f.Metrics == nil || f.Metrics.UnitsPerEm == 0 {
		return Overrides{100, 0, 0, 100}
	}
	size := 1.0
	if mean := f.Metrics.Mean(sample); mean > 0 && otherAdvance > 0 {
		size = mean / otherAdvance
	}
	em := float64(f.Metrics.UnitsPerEm) * size
	of := func(v int) float64 { return round(100 * float64(v) / em) }
	ascent, descent, gap := f.Metrics.Lines()
	return Overrides{of(ascent), of(-descent), of(gap), round(100 * size)}
}
