package colour

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// colr is a table of version 0 with one glyph of two layers; cpal has two colours.
var (
	colr = []byte{0, 0, 0, 1, 0, 0, 0, 14, 0, 0, 0, 20, 0, 2, 0, 5, 0, 0, 0, 2, 0, 6, 0, 1, 0, 7, 0xff, 0xff}
	cpal = []byte{0, 0, 0, 2, 0, 1, 0, 2, 0, 0, 0, 14, 0, 0, 1, 2, 3, 255, 10, 20, 30, 128}
)

func TestColourLayers(t *testing.T) {
	palette, err := parsePalette(cpal)
	require.NoError(t, err)
	require.Equal(t, [][4]uint8{{3, 2, 1, 255}, {30, 20, 10, 128}}, palette)
	layers, err := parseLayers(colr, palette)
	require.NoError(t, err)
	require.Equal(t, []Layer{{Glyph: 6, RGBA: [4]uint8{30, 20, 10, 128}}, {Glyph: 7, Foreground: true}}, layers.of(5))
	require.Empty(t, layers.of(6))
	_, err = parseLayers(colr, palette[:1])
	require.ErrorContains(t, err, "expected colours of the palette, found number 1 of 1")
	for n := range colr {
		_, err := parseLayers(colr[:n], palette)
		require.Error(t, err, n)
	}
	for n := range cpal {
		_, err := parsePalette(cpal[:n])
		require.Error(t, err, n)
	}
}

func FuzzColour(f *testing.F) {
	f.Add(colr, cpal)
	f.Fuzz(func(_ *testing.T, colr, cpal []byte) {
		palette, _ := parsePalette(cpal)
		_, _ = parseLayers(colr, palette)
	})
}
