package asked

import (
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/face"
	"notaria/internal/intake"
	"notaria/internal/platform"
)

// Of several files the one that fits best is taken, and none that does not fit.
func TestBest(t *testing.T) {
	found := func(family string, weight int, slant face.Slant, file string, axes ...face.Axis) intake.Found {
		return intake.Found{Face: face.Face{Family: family, Weight: weight, Slant: slant, File: file, Axes: axes, PostScript: file}}
	}
	faces := []intake.Found{
		found("Skerry Sans", 400, face.Upright, "skerry-sans-latin-400.woff2"), found("Skerry Sans", 400, face.Upright, "SkerrySans.ttf"),
		found("Skerry Sans Black", 900, face.Upright, "a.ttf"), found("Skerry Sans", 400, face.Italic, "i.ttf"), found("Skerry Sans Display", 700, face.Upright, "d.ttf"),
		found("Capstan Slab", 400, face.Upright, "v.ttf", face.Axis{Tag: "wght", Min: 300, Max: 800}),
	}
	for _, tt := range []struct {
		ask  platform.Ask
		want string
	}{
		{platform.Ask{Family: "skerry sans", Weight: 400}, "SkerrySans.ttf"}, {platform.Ask{Family: "Skerry Sans"}, "SkerrySans.ttf"}, {platform.Ask{Family: "Skerry Sans", Weight: 900}, "a.ttf"},
		{platform.Ask{Family: "Skerry Sans", Weight: 400, Italic: true}, "i.ttf"}, {platform.Ask{Family: "Skerry Sans", Weight: 700}, ""}, {platform.Ask{Weight: 400}, ""},
		{platform.Ask{Family: "Capstan Slab", Weight: 300, To: 700}, "v.ttf"}, {platform.Ask{Family: "Capstan Slab", Weight: 100, To: 900}, ""},
	} {
		f, ok := best(faces, tt.ask)
		require.Equal(t, tt.want != "", ok, "%v", tt.ask)
		require.Equal(t, tt.want, f.File, "%v", tt.ask)
	}
	require.True(t, isPart("a/skerry-sans-latin-ext-400-normal.woff2"))
	require.False(t, isPart("a/SkerrySans-Bold.woff2"))
	require.Len(t, onePerName(append(faces, faces...)), len(faces))
}
