package colour

import "math"

// A Mode says how a source is laid on a backdrop (COLR, CompositeMode; "Compositing and Blending Level 1",
// W3C). Values are those of the table.
type Mode uint8

// Modes that others are told apart from by their numbers: those before plus are Porter and Duff's, those from
// hue on mix all channels together.
const (
	sourceOver Mode = 3
	plus       Mode = 12
	hue        Mode = 24
	modes      Mode = 28
)

// parts are how much of the source and of the backdrop Porter and Duff's modes keep, by both alphas.
var parts = [plus]func(s, b float64) (ofSource, ofBackdrop float64){
	func(_, _ float64) (float64, float64) { return 0, 0 },         // clear
	func(_, _ float64) (float64, float64) { return 1, 0 },         // source
	func(_, _ float64) (float64, float64) { return 0, 1 },         // destination
	func(s, _ float64) (float64, float64) { return 1, 1 - s },     // source over
	func(_, b float64) (float64, float64) { return 1 - b, 1 },     // destination over
	func(_, b float64) (float64, float64) { return b, 0 },         // source in
	func(s, _ float64) (float64, float64) { return 0, s },         // destination in
	func(_, b float64) (float64, float64) { return 1 - b, 0 },     // source out
	func(s, _ float64) (float64, float64) { return 0, 1 - s },     // destination out
	func(s, b float64) (float64, float64) { return b, 1 - s },     // source atop
	func(s, b float64) (float64, float64) { return 1 - b, s },     // destination atop
	func(s, b float64) (float64, float64) { return 1 - b, 1 - s }, // exclusive or
}

// mix lays a source on a backdrop; both and the result are multiplied by their alphas, from 0 to 1.
func (m Mode) mix(s, b [4]float64) (out [4]float64) {
	switch {
	case m < plus:
		x, y := parts[m](s[3], b[3])
		for i := range out {
			out[i] = s[i]*x + b[i]*y
		}
		return out
	case m == plus:
		for i := range out {
			out[i] = min(s[i]+b[i], 1)
		}
		return out
	case s[3] == 0 || b[3] == 0:
		return sourceOver.mix(s, b)
	}
	cs, cb := [3]float64{s[0] / s[3], s[1] / s[3], s[2] / s[3]}, [3]float64{b[0] / b[3], b[1] / b[3], b[2] / b[3]}
	var mixed [3]float64
	if m >= hue {
		mixed = m.together(cs, cb)
	} else {
		for i := range mixed {
			mixed[i] = m.channel(cs[i], cb[i])
		}
	}
	for i := range mixed {
		out[i] = s[i]*(1-b[3]) + b[i]*(1-s[3]) + s[3]*b[3]*mixed[i]
	}
	out[3] = s[3] + b[3] - s[3]*b[3]
	return out
}

// channel mixes one channel of source and backdrop.
func (m Mode) channel(s, b float64) float64 {
	switch m {
	case 13: // screen
		return s + b - s*b
	case 14: // overlay: hard light the other way round
		return Mode(19).channel(b, s)
	case 15:
		return min(s, b) // darken
	case 16:
		return max(s, b) // lighten
	case 17: // colour dodge
		switch {
		case b == 0:
			return 0
		case s >= 1:
			return 1
		}
		return min(1, b/(1-s))
	case 18: // colour burn
		switch {
		case b >= 1:
			return 1
		case s <= 0:
			return 0
		}
		return 1 - min(1, (1-b)/s)
	case 19: // hard light
		if s <= 0.5 {
			return 2 * s * b
		}
		return Mode(13).channel(2*s-1, b)
	case 20: // soft light
		if s <= 0.5 {
			return b - (1-2*s)*b*(1-b)
		}
		return b + (2*s-1)*(soft(b)-b)
	case 21:
		return max(s-b, b-s) // difference
	case 22:
		return s + b - 2*s*b // exclusion
	}
	return s * b // multiply
}

// together mixes all channels by hue, saturation and luminosity.
func (m Mode) together(s, b [3]float64) [3]float64 {
	switch m {
	case hue:
		return withLight(withSpread(s, spread(b)), light(b))
	case hue + 1: // saturation
		return withLight(withSpread(b, spread(s)), light(b))
	case hue + 2: // colour
		return withLight(s, light(b))
	}
	return withLight(b, light(s)) // luminosity
}

func light(c [3]float64) float64  { return 0.3*c[0] + 0.59*c[1] + 0.11*c[2] }
func spread(c [3]float64) float64 { return max(c[0], c[1], c[2]) - min(c[0], c[1], c[2]) }

// withLight is a colour with another luminosity; what leaves the cube is drawn back to grey.
func withLight(c [3]float64, l float64) [3]float64 {
	d := l - light(c)
	for i := range c {
		c[i] += d
	}
	low, high := min(c[0], c[1], c[2]), max(c[0], c[1], c[2])
	for i := range c {
		if low < 0 {
			c[i] = l + (c[i]-l)*l/(l-low)
		}
		if high > 1 {
			c[i] = l + (c[i]-l)*(1-l)/(high-l)
		}
	}
	return c
}

// withSpread is a colour with another saturation.
func withSpread(c [3]float64, s float64) [3]float64 {
	low, was := min(c[0], c[1], c[2]), spread(c)
	for i := range c {
		if was == 0 {
			c[i] = 0
		} else {
			c[i] = (c[i] - low) * s / was
		}
	}
	return c
}

// soft is the curve that soft light follows above the middle.
func soft(b float64) float64 {
	if b <= 0.25 {
		return ((16*b-12)*b + 4) * b
	}
	return math.Sqrt(b)
}
