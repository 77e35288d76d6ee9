package setting

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/sfnt"
)

func TestReaders(t *testing.T) {
	for word, want := range map[string][2]float64{ // of 28 and of 17 pixels
		"1": {28, 17}, "1.5": {42, 25.5}, "ios-l": {28, 17}, "ios-xxxl": {34, 23}, "ios-largest": {58, 53}, "ios-ax5": {58, 53}, "ios-xs": {25, 14},
		"android-largest": {37.33, 29}, "android-2": {37.33, 29}, "android-1.3": {28.8, 20.9}, "react-native-ios-largest": {99.99, 60.71},
	} {
		r, ok := ReaderOf(word)
		require.True(t, ok, word)
		require.Equal(t, want, [2]float64{r.Size(28), r.Size(17)}, word)
	}
	for _, word := range []string{"", "0", "11", "huge", "ios-", "android-3", "react-native-largest", "NaN"} {
		_, ok := ReaderOf(word)
		require.False(t, ok, word)
	}
	for _, word := range Readers() {
		r, ok := ReaderOf(word)
		require.True(t, ok, word)
		// Larger text stays larger, at the least as large as one a pixel smaller.
		for size := 4.0; size < 150; size++ {
			if !bytes.HasPrefix([]byte(word), []byte("ios-")) { // each of Apple's styles has a curve of its own
				require.GreaterOrEqual(t, r.Size(size+1), r.Size(size), word)
			}
		}
	}
	require.Equal(t, 200.0, curvesOfAndroid["2"].at(200))
	require.Equal(t, 8.0, curvesOfAndroid["2"].at(4))
	for size, want := range map[float64]string{4: ".caption2", 14: ".subheadline", 16.4: ".callout", 24.9: ".title2", 25.1: ".title", 90: ".largeTitle"} {
		require.Equal(t, want, Nearest(size).Swift, size)
	}
}

func TestLines(t *testing.T) {
	hhea := sfnt.Hhea{Ascender: 900, Descender: -300, LineGap: 100}
	os2 := sfnt.OS2{TypoAscender: 800, TypoDescender: -200, TypoLine: 50, WinAscent: 950, WinDescent: 310}
	asking := os2
	asking.Selection = sfnt.SelUseTypoMetrics
	none := sfnt.Hhea{}
	for _, c := range []struct {
		about string
		v     Vertical
		want  [4]float64 // of a line of 10 pixels, for each rule
	}{
		{"all differ", Vertical{1000, hhea, &os2}, [4]float64{13, 12, 13, 13}},
		{"typographic", Vertical{1000, hhea, &asking}, [4]float64{11, 10, 13, 10.5}},
		{"no hhea", Vertical{1000, none, &os2}, [4]float64{11, 10, 0, 12.6}},
		{"no OS/2", Vertical{1000, hhea, nil}, [4]float64{13, 12, 13, 13}},
	} {
		var got [4]float64
		for i, r := range Rules {
			got[i] = r.Line(&c.v, 10).Height
		}
		require.Equal(t, c.want, got, c.about)
	}
}
