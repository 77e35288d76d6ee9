package pubspec

import (
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/edit"
)

func TestLook(t *testing.T) {
	styles, faults, strayed, err := Look(edit.Document{File: "pubspec.yaml", Text: []byte("flutter:\n  fonts:\n    - family: A\n      fonts:\n        - asset: a.ttf\n          weight: 700\n          style: italic\n    - asset: b.ttf\n    - family: C\nfonts:\n  - family: D\n    fonts:\n      - asset: d.ttf\n")})
	require.NoError(t, err)
	require.Equal(t, []Style{{Family: "A", Path: "a.ttf", Line: 5, Weight: "700", WeightLine: 6, Slant: "italic", SlantLine: 7}}, styles)
	require.Equal(t, []string{"D"}, strayed)
	var lines []int
	for _, f := range faults {
		lines = append(lines, f.Line)
	}
	require.Equal(t, []int{8, 9, 10}, lines)
	require.Equal(t, []Commented{{"E", 2, []string{"e.ttf"}}}, InComments([]byte("x\n  # - family: \"E\"\n#     fonts:\n  #   - asset: e.ttf\n- family: F\n")))
}

func FuzzLook(f *testing.F) {
	f.Add([]byte("flutter:\n  fonts:\n    - family: A\n      fonts:\n        - asset: a.ttf\n          weight: bold\n          style: Italic\nfonts: [{asset: x}]\n"))
	f.Add([]byte("a: &x [*x]\nflutter: {fonts: {family: 1}}\n"))
	f.Fuzz(func(_ *testing.T, text []byte) {
		Look(edit.Document{File: "pubspec.yaml", Text: text})
		InComments(text)
	})
}
