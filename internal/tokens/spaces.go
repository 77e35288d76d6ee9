package tokens

import "math"

// The colour spaces of the Color Module 2025.10 (Design Tokens Community Group), and how their components become sRGB (CSS Color 4, "Sample
// code for color conversions"). Components may be out of sRGB: whoever asks is told, and gets the nearest.

type vector [3]float64

type matrix [9]float64

func (m matrix) times(v vector) vector {
	return vector{m[0]*v[0] + m[1]*v[1] + m[2]*v[2], m[3]*v[0] + m[4]*v[1] + m[5]*v[2], m[6]*v[0] + m[7]*v[1] + m[8]*v[2]}
}

func (v vector) each(f func(float64) float64) vector { return vector{f(v[0]), f(v[1]), f(v[2])} }

// Matrices between linear light and XYZ of white D65, but for ProPhoto, whose white is D50.
var (
	xyzToSRGB     = matrix{3.2409699419045226, -1.537383177570094, -0.4986107602930034, -0.9692436362808796, 1.8759675015077202, 0.04155505740717559, 0.05563007969699366, -0.20397695888897652, 1.0569715142428786}
	p3ToXYZ       = matrix{0.4865709486482162, 0.26566769316909306, 0.1982172852343625, 0.2289745640697488, 0.6917385218365064, 0.079286914093745, 0, 0.04511338185890264, 1.043944368900976}
	a98ToXYZ      = matrix{0.5766690429101305, 0.1855582379065463, 0.1882286462349947, 0.29734497525053605, 0.6273635662554661, 0.0752914584939978, 0.02703136138641234, 0.07068885253582723, 0.9913375368376388}
	rec2020ToXYZ  = matrix{0.6369580483012914, 0.14461690358620832, 0.1688809751641721, 0.2627002120112671, 0.6779980715188708, 0.05930171646986196, 0, 0.028072693049087428, 1.060985057710791}
	prophotoToXYZ = matrix{0.7977604896723027, 0.13518583717574031, 0.0313493495815248, 0.2880711282292934, 0.7118432178101014, 0.00008565396060525902, 0, 0, 0.8251046025104602}
	d50ToD65      = matrix{0.9554734527042182, -0.023098536874261423, 0.0632593086610217, -0.028369706963208136, 1.0099954580058226, 0.021041398966943008, 0.012314001688319899, -0.020507696433477912, 1.3303659366080753}
	oklabToLMS    = matrix{1, 0.3963377773761749, 0.2158037573099136, 1, -0.1055613458156586, -0.0638541728258133, 1, -0.0894841775298119, -1.2914855480194092}
	lmsToXYZ      = matrix{1.2268798758459243, -0.5578149944602171, 0.2813910456659647, -0.0405757452148008, 1.112286803280317, -0.0717110580655164, -0.0763729366746601, -0.4214933324022432, 1.5869240198367816}
	whiteD50      = vector{0.3457 / 0.3585, 1, (1 - 0.3457 - 0.3585) / 0.3585}
)

// spaces are the colour spaces by their names: each gives sRGB, gamma-encoded, from 0 to 1 where the colour is within it.
var spaces = map[string]func(vector) vector{
	"srgb":         func(c vector) vector { return c },
	"srgb-linear":  func(c vector) vector { return c.each(encoded) },
	"hsl":          hslToSRGB,
	"hwb":          hwbToSRGB,
	"lab":          labToSRGB,
	"lch":          func(c vector) vector { return labToSRGB(polar(c)) },
	"oklab":        oklabToSRGB,
	"oklch":        func(c vector) vector { return oklabToSRGB(polar(c)) },
	"display-p3":   func(c vector) vector { return fromXYZ(p3ToXYZ.times(c.each(linear))) },
	"a98-rgb":      func(c vector) vector { return fromXYZ(a98ToXYZ.times(c.each(power(563.0 / 256)))) },
	"rec2020":      func(c vector) vector { return fromXYZ(rec2020ToXYZ.times(c.each(rec2020))) },
	"prophoto-rgb": func(c vector) vector { return fromXYZ(d50ToD65.times(prophotoToXYZ.times(c.each(prophoto)))) },
	"xyz-d65":      fromXYZ,
	"xyz-d50":      func(c vector) vector { return fromXYZ(d50ToD65.times(c)) },
}

func fromXYZ(c vector) vector { return xyzToSRGB.times(c).each(encoded) }

// encoded is linear light as sRGB has it, and linear the other way round.
func encoded(v float64) float64 {
	if math.Abs(v) > 0.0031308 {
		return math.Copysign(1.055*math.Pow(math.Abs(v), 1/2.4)-0.055, v)
	}
	return 12.92 * v
}

func linear(v float64) float64 {
	if math.Abs(v) > 0.04045 {
		return math.Copysign(math.Pow((math.Abs(v)+0.055)/1.055, 2.4), v)
	}
	return v / 12.92
}

func power(by float64) func(float64) float64 {
	return func(v float64) float64 { return math.Copysign(math.Pow(math.Abs(v), by), v) }
}

func rec2020(v float64) float64 {
	const alpha, beta = 1.09929682680944, 0.018053968510807
	if math.Abs(v) < beta*4.5 {
		return v / 4.5
	}
	return math.Copysign(math.Pow((math.Abs(v)+alpha-1)/alpha, 1/0.45), v)
}

func prophoto(v float64) float64 {
	if math.Abs(v) <= 16.0/512 {
		return v / 16
	}
	return math.Copysign(math.Pow(math.Abs(v), 1.8), v)
}

// hslToSRGB takes a hue in degrees, and saturation and lightness in percent.
func hslToSRGB(c vector) vector {
	h, s, l := math.Mod(math.Mod(c[0], 360)+360, 360), c[1]/100, c[2]/100
	part := func(n float64) float64 {
		k := math.Mod(n+h/30, 12)
		return l - s*min(l, 1-l)*max(-1, min(k-3, min(9-k, 1)))
	}
	return vector{part(0), part(8), part(4)}
}

// hwbToSRGB takes a hue in degrees, and whiteness and blackness in percent.
func hwbToSRGB(c vector) vector {
	white, black := c[1]/100, c[2]/100
	if white+black >= 1 {
		grey := white / (white + black)
		return vector{grey, grey, grey}
	}
	return hslToSRGB(vector{c[0], 100, 50}).each(func(v float64) float64 { return v*(1-white-black) + white })
}

// polar turns lightness, chroma and hue in degrees into lightness and two axes.
func polar(c vector) vector {
	h := c[2] * math.Pi / 180
	return vector{c[0], c[1] * math.Cos(h), c[1] * math.Sin(h)}
}

func labToSRGB(c vector) vector {
	const kappa, epsilon = 24389.0 / 27, 216.0 / 24389
	y := (c[0] + 16) / 116
	f := vector{c[1]/500 + y, y, y - c[2]/200}
	out := f.each(func(v float64) float64 {
		if v*v*v > epsilon {
			return v * v * v
		}
		return (116*v - 16) / kappa
	})
	if c[0] > kappa*epsilon {
		out[1] = y * y * y
	} else {
		out[1] = c[0] / kappa
	}
	return fromXYZ(d50ToD65.times(vector{out[0] * whiteD50[0], out[1] * whiteD50[1], out[2] * whiteD50[2]}))
}

func oklabToSRGB(c vector) vector {
	return fromXYZ(lmsToXYZ.times(oklabToLMS.times(c).each(func(v float64) float64 { return v * v * v })))
}
