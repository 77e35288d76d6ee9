package board

import (
	"bytes"
	"crypto/sha256"
	"fmt"
	"maps"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/pixel"
	"notaria/internal/platform"
	"notaria/internal/sfnt"
	"notaria/internal/skerry/letters"
)

// A project's pictures are drawn again only where something that they are made of changed. What they are made
// of has the version of the drawing: without a new one, projects would keep the pictures of the
// old.
func TestDrawings(t *testing.T) {
	const known = "bdf5bed60c573913" // of formVersion 2
	b, err := letters.Font(letters.Styles[1])
	require.NoError(t, err)
	file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
	require.NoError(t, err)
	paths, err := file.Font(0).Paths()
	require.NoError(t, err)
	source := &pixel.Source{Name: "SkerrySans", Family: "Skerry Sans", UnitsPerEm: 1000, Ascent: 950, Descent: -250, Paths: paths}
	sum := sha256.New()
	for _, k := range []*kind{&lvgl, &u8g2, &espruino, &display} {
		for _, depth := range k.depths {
			for _, w := range []pixel.Wish{{Height: 8}, {Height: 13, Of: "digits"}, {Height: 24, Of: "capitals", Hinting: "off"}} {
				w.Depth, w.Characters = depth, []rune(" 0123456789ABEHgxyé")
				f, _, err := source.Make(w)
				require.NoError(t, err)
				files, err := k.write(&site{kind: k}, f, "app_type_body", `"lvgl.h"`)
				require.NoError(t, err)
				for _, name := range slices.Sorted(maps.Keys(files)) {
					fmt.Fprintf(sum, "%s %s\n%d %d %d\n", name, files[name], f.LineHeight(), f.Ascent, f.Heights().Digits)
				}
			}
		}
	}
	require.Equal(t, known, fmt.Sprintf("%x", sum.Sum(nil)[:8]), "what is drawn or written is another: raise formVersion, and note the new sum here")
}

// What a file is made of tells all that it depends on.
func TestDrawingKeys(t *testing.T) {
	one := platform.NewDrawing([]string{"a", "bc"}, nil, nil)
	require.NotEqual(t, one.Key(), platform.NewDrawing([]string{"ab", "c"}, nil, nil).Key())
	require.Equal(t, one.Key(), platform.NewDrawing([]string{"a", "bc"}, []string{"X"}, nil).Key())
}
