package pixel

import (
	"fmt"
	"image"
	"math"
	"strconv"
	"strings"

	"notaria/internal/fault"
)

// An Extent is where the ink of texts is, in pixels from the pen on the baseline; y grows
// downwards, as on displays, so that the top is negative above the baseline.
type Extent struct {
	X       int     `json:"x"`
	Y       int     `json:"y"`
	Width   int     `json:"width"`
	Height  int     `json:"height"`
	Advance float64 `json:"advance"` // of the pen: of several texts the greatest
	Least   float64 `json:"least"`   // advance of the narrowest text
	Texts   int     `json:"texts"`   // how many were measured
	Widest  string  `json:"widest"`
	Lacks   string  `json:"lacks,omitempty"` // characters that the font does not have
}

// Measure is the rectangle that holds the ink of every text: what has to be cleared before
// another of them is drawn at the same place.
func (f *Font) Measure(texts func(func(string))) Extent {
	var e Extent
	all, lacks := image.Rectangle{}, map[rune]bool{}
	most, least := math.MinInt, math.MaxInt
	texts(func(text string) {
		pen, last := 0, rune(0)
		for _, r := range text {
			g, ok := f.Glyph(r)
			if !ok {
				if !lacks[r] {
					lacks[r] = true
					e.Lacks += string(r)
				}
				continue
			}
			pen, last = pen+f.Kern(last, r), r
			if g.Width > 0 {
				x := (pen+Sub/2)>>4 + g.X
				all = all.Union(image.Rect(x, -g.Top(), x+g.Width, -g.Y))
			}
			pen += g.Advance
		}
		if e.Texts++; pen > most {
			most, e.Widest = pen, text
		}
		least = min(least, pen)
	})
	if e.Texts == 0 {
		return e
	}
	e.X, e.Y, e.Width, e.Height = all.Min.X, all.Min.Y, all.Dx(), all.Dy()
	e.Advance, e.Least = float64(most)/Sub, float64(least)/Sub
	return e
}

// mostValues is how many values between two patterns are measured.
const mostValues = 1 << 20

// Between are all values from one to another, such as 00:00 to 23:59 or -9.9 to 35.0. What stands
// behind a colon counts to 59. Both are as long as each value, but for a sign.
func Between(from, to string) (func(func(string)), error) {
	a, err := parseValue(from)
	if err != nil {
		return nil, err
	}
	b, err := parseValue(to)
	if err != nil {
		return nil, err
	}
	same := len(a.marks) == len(b.marks) && a.before == b.before && a.after == b.after
	for i := range a.marks {
		same = same && i < len(b.marks) && a.marks[i] == b.marks[i] && a.digits[i+1] == b.digits[i+1]
	}
	if !same {
		return nil, fault.Form("expected two values of one form, such as 00:00 and 23:59, found %q and %q", from, to)
	}
	if a.value > b.value || b.value-a.value >= mostValues {
		return nil, fault.Form("expected at most %d values, the first before the last, found %q to %q", mostValues, from, to)
	}
	return func(each func(string)) {
		for v := a.value; v <= b.value; v++ {
			each(a.write(v))
		}
	}, nil
}

// value is a number or a time as it is written: groups of digits with a mark between each two.
type value struct {
	before, after string
	digits        []int // of each group
	marks         []byte
	value         int
	padded        bool
}

func (v value) base(group int) int {
	if v.marks[group-1] == ':' {
		return 60
	}
	return int(math.Pow10(v.digits[group]))
}

func parseValue(s string) (value, error) {
	var v value
	wrong := fault.Form("expected a value such as 00:00 or 35.0, found %q", s)
	start := strings.IndexFunc(s, func(r rune) bool { return r >= '0' && r <= '9' })
	if start < 0 {
		return v, wrong
	}
	end := strings.LastIndexFunc(s, func(r rune) bool { return r >= '0' && r <= '9' }) + 1
	sign := 1
	if v.before, v.after = s[:start], s[end:]; strings.HasSuffix(v.before, "-") {
		v.before, sign = v.before[:len(v.before)-1], -1
	}
	for group, rest := 0, s[start:end]; ; group++ {
		n := strings.IndexFunc(rest, func(r rune) bool { return r < '0' || r > '9' })
		if n < 0 {
			n = len(rest)
		}
		if n < 1 || n > 9 {
			return v, wrong
		}
		part, _ := strconv.Atoi(rest[:n])
		if v.digits = append(v.digits, n); group == 0 {
			v.value, v.padded = part, n > 1 && rest[0] == '0'
		} else if part >= v.base(group) || v.value > math.MaxInt32 {
			return v, wrong
		} else {
			v.value = v.value*v.base(group) + part
		}
		if n == len(rest) {
			v.value *= sign
			return v, nil
		}
		v.marks, rest = append(v.marks, rest[n]), rest[n+1:]
	}
}

// write is a value in that form.
func (v value) write(n int) string {
	sign := ""
	if n < 0 {
		sign, n = "-", -n
	}
	out := v.after
	for group := len(v.digits) - 1; group > 0; group-- {
		out = fmt.Sprintf("%c%0*d", v.marks[group-1], v.digits[group], n%v.base(group)) + out
		n /= v.base(group)
	}
	width := 1
	if v.padded {
		width = v.digits[0]
	}
	return v.before + sign + fmt.Sprintf("%0*d", width, n) + out
}

// Flash is what the font takes in flash in a form, in bytes; false for forms whose size is not that
// of the device.
func (f *Font) Flash(form string) (int, bool) {
	switch form {
	case "c":
		b, err := f.CBytes()
		return len(b), err == nil
	case "u8g2":
		b, err := f.U8G2Bytes()
		return len(b), err == nil
	case "lvgl", "lvgl-compressed":
		n, err := f.LVGLBytes(form != "lvgl")
		return n, err == nil
	case "espruino":
		b, w, _, _, err := f.EspruinoBytes()
		return len(b) + len(w), err == nil
	}
	return 0, false
}

// Cost is what a glyph takes: its pixels, packed without gaps, in bytes.
func (f *Font) Cost(g Glyph) int { return (g.Width*g.Height*f.Depth + 7) / 8 }
