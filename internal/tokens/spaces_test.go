package tokens

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// Colours of every space are those that Chromium draws (a canvas in sRGB), within one of 255, or a little more where it rounds a curve.
func TestSpaces(t *testing.T) {
	seen := map[string]bool{}
	for _, c := range []struct {
		space string
		in    vector
		want  string
	}{
		{"srgb", vector{0.1, 0.5, 0.9}, "#1A80E6"}, {"srgb-linear", vector{0.1, 0.5, 0.9}, "#59BCF3"},
		{"display-p3", vector{0.2, 0.5, 0.7}, "#0082B7"}, {"display-p3", vector{0.9, 0.8, 0.1}, "#EBCB00"}, {"a98-rgb", vector{0.3, 0.5, 0.7}, "#1D80B6"},
		{"rec2020", vector{0.3, 0.5, 0.6}, "#0090A6"}, {"rec2020", vector{0.05, 0.06, 0.07}, "#191F22"}, {"prophoto-rgb", vector{0.4, 0.5, 0.6}, "#4597AD"}, {"prophoto-rgb", vector{0.02, 0.02, 0.02}, "#030303"},
		{"xyz-d65", vector{0.3, 0.35, 0.4}, "#85A6A3"}, {"xyz-d50", vector{0.3, 0.35, 0.3}, "#83A7A2"},
		{"hsl", vector{210, 60, 40}, "#2966A3"}, {"hsl", vector{-30, 100, 25}, "#800040"}, {"hwb", vector{200, 20, 40}, "#337799"}, {"hwb", vector{10, 70, 60}, "#898989"},
		{"lab", vector{54, 20, -40}, "#8677C7"}, {"lab", vector{5, 1, 1}, "#13100F"}, {"lch", vector{60, 40, 120}, "#7D9A51"}, {"oklab", vector{0.6, 0.05, -0.1}, "#8771BB"}, {"oklch", vector{0.7, 0.1, 150}, "#6FB07D"},
	} {
		seen[c.space] = true
		want, ok := hex(c.want)
		require.True(t, ok)
		for i, v := range spaces[c.space](c.in) {
			require.InDelta(t, float64(want[i]), min(max(v, 0), 1)*255, 1.2, "%s %v, part %d", c.space, c.in, i)
		}
	}
	require.Len(t, seen, len(spaces))
}
