package setting

import (
	"math"
	"slices"
	"sort"
	"strconv"
	"strings"
)

// A TextStyle is one of Apple's text styles, with its size in points at each content size that a reader can choose.
type TextStyle struct {
	Swift, ObjC string
	Sizes       [12]float64
}

// sizesOfApple are the content sizes, from extra small to the largest accessibility size; usual is the one that a device begins with.
var sizesOfApple = []string{"xs", "s", "m", "l", "xl", "xxl", "xxxl", "ax1", "ax2", "ax3", "ax4", "ax5"}

const usual = 3

// TextStyles are Apple's, by their size at the usual setting (Apple, Human Interface Guidelines, Typography, "iOS, iPadOS Dynamic Type
// sizes" and "larger accessibility type sizes").
var TextStyles = []TextStyle{
	{".caption2", "Caption2", [12]float64{11, 11, 11, 11, 13, 15, 17, 20, 24, 29, 34, 40}},
	{".caption", "Caption1", [12]float64{11, 11, 11, 12, 14, 16, 18, 22, 26, 32, 37, 43}},
	{".footnote", "Footnote", [12]float64{12, 12, 12, 13, 15, 17, 19, 23, 27, 33, 38, 44}},
	{".subheadline", "Subheadline", [12]float64{12, 13, 14, 15, 17, 19, 21, 25, 30, 36, 42, 49}},
	{".callout", "Callout", [12]float64{13, 14, 15, 16, 18, 20, 22, 26, 32, 38, 44, 51}},
	{".body", "Body", [12]float64{14, 15, 16, 17, 19, 21, 23, 28, 33, 40, 47, 53}},
	{".title3", "Title3", [12]float64{17, 18, 19, 20, 22, 24, 26, 31, 37, 43, 49, 55}},
	{".title2", "Title2", [12]float64{19, 20, 21, 22, 24, 26, 28, 34, 39, 44, 50, 56}},
	{".title", "Title1", [12]float64{25, 26, 27, 28, 30, 32, 34, 38, 43, 48, 53, 58}},
	{".largeTitle", "LargeTitle", [12]float64{31, 32, 33, 34, 36, 38, 40, 44, 48, 52, 56, 60}},
}

// Nearest is the text style whose usual size is nearest to a size in points: a role scales along with it.
func Nearest(size float64) TextStyle {
	at := func(i int) float64 { return TextStyles[i].Sizes[usual] }
	i := sort.Search(len(TextStyles), func(i int) bool { return at(i) >= size })
	switch {
	case i == len(TextStyles):
		i--
	case i > 0 && size-at(i-1) < at(i)-size:
		i--
	}
	return TextStyles[i]
}

// ofReactNative is what React Native multiplies text by on Apple's systems (React Native 0.81, RCTAccessibilityManager.mm).
var ofReactNative = []float64{0.823, 0.882, 0.941, 1, 1.118, 1.235, 1.353, 1.786, 2.143, 2.643, 3.143, 3.571}

// A curve is how Android makes dp of sp at one setting since Android 14: between the points in straight lines, beyond the last in
// proportion to it.
type curve struct{ sp, dp []float64 }

// curvesOfAndroid are by the factor that the reader chose (Android 14, FontScaleConverterFactory.java).
var curvesOfAndroid = map[string]curve{
	"1.15": {points, []float64{9.2, 11.5, 13.8, 16.4, 19.8, 21.8, 25.2, 30, 100}},
	"1.3":  {points, []float64{10.4, 13, 15.6, 18.8, 21.6, 23.6, 26.4, 30, 100}},
	"1.5":  {points, []float64{12, 15, 18, 22, 24, 26, 28, 30, 100}},
	"1.8":  {points, []float64{14.4, 18, 21.6, 24.4, 27.6, 30.8, 32.8, 34.8, 100}},
	"2":    {points, []float64{16, 20, 24, 26, 30, 34, 36, 38, 100}},
}

var points = []float64{8, 10, 12, 14, 18, 20, 24, 30, 100}

func (c curve) at(size float64) float64 {
	last := len(c.sp) - 1
	if size >= c.sp[last] {
		return size * c.dp[last] / c.sp[last]
	}
	i := sort.SearchFloat64s(c.sp, size)
	sp, dp := 0.0, 0.0
	if i > 0 {
		sp, dp = c.sp[i-1], c.dp[i-1]
	}
	return dp + (c.dp[i]-dp)*(size-sp)/(c.sp[i]-sp)
}

// A Reader is a text size that a reader can choose.
type Reader struct {
	Name string
	size func(float64) float64
}

// Size is how large a text of some pixels per em is for the reader.
func (r Reader) Size(size float64) float64 { return math.Round(r.size(size)*100) / 100 }

// Readers are the names of all sizes, but for numbers.
func Readers() []string {
	var out []string
	for _, s := range sizesOfApple {
		out = append(out, "ios-"+s)
	}
	for _, s := range []string{"1.15", "1.3", "1.5", "1.8", "2"} {
		out = append(out, "android-"+s)
	}
	return append(out, "ios-largest", "android-largest", "react-native-ios-largest")
}

// ReaderOf finds a size: a factor from 0.1 to 10, by which browsers and older systems make all text larger; ios-xs to ios-ax5 and ios-largest;
// android-1.15 to android-2 and android-largest; and react-native-ios-xs to react-native-ios-largest. It is false for another word.
func ReaderOf(word string) (Reader, bool) {
	if v, err := strconv.ParseFloat(word, 64); err == nil && v >= 0.1 && v <= 10 {
		return Reader{word, func(size float64) float64 { return size * v }}, true
	}
	if s, ok := strings.CutPrefix(word, "android-"); ok {
		if s == "largest" {
			s = "2"
		}
		c, ok := curvesOfAndroid[s]
		return Reader{word, c.at}, ok
	}
	native, bridged := strings.CutPrefix(word, "react-native-")
	s, ok := strings.CutPrefix(native, "ios-")
	if s == "largest" {
		s = "ax5"
	}
	i := slices.Index(sizesOfApple, s)
	if !ok || i < 0 {
		return Reader{}, false
	}
	if bridged {
		return Reader{word, func(size float64) float64 { return size * ofReactNative[i] }}, true
	}
	return Reader{word, func(size float64) float64 {
		style := Nearest(size)
		return size * style.Sizes[i] / style.Sizes[usual]
	}}, true
}
