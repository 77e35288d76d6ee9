package letters

import "notaria/internal/sfnt"

// accents draw a mark centred on x, its foot at y.
var accents = map[rune]func(d *draft, x, y float64){
	'`': func(d *draft, x, y float64) {
		d.stroke(thin(x-92, y+150, 0.98).line(x+36, y+10).swell(0.70), square, square)
	},
	'´': func(d *draft, x, y float64) {
		d.stroke(thin(x+92, y+150, 0.98).line(x-36, y+10).swell(0.70), square, square)
	},
	'ˆ': func(d *draft, x, y float64) {
		d.stroke(thin(x-118, y+10, 0.78).line(x, y+128).swell(0.86), square, round)
		d.stroke(thin(x+118, y+10, 0.78).line(x, y+128).swell(0.86), square, round)
	},
	'˜': func(d *draft, x, y float64) { d.wave(x-148, x+148, y+76, 42, 0.80) },
	'¨': func(d *draft, x, y float64) {
		gap := 96 + d.s*0.42
		d.dot(x-gap, y+78, d.dotSize()*0.94)
		d.dot(x+gap, y+78, d.dotSize()*0.94)
	},
	'˚': func(d *draft, x, y float64) {
		r := 98 + d.s*0.36
		d.small(func() { d.oval(x-r, y-8, x+r, y-8+2*r) })
	},
	'¯': func(d *draft, x, y float64) { d.bar(x-130, x+130, y+76) },
	'¸': func(d *draft, x, _ float64) {
		p := thin(x+4, 6, 0.80).line(x-8, -62).swell(0.76)
		d.stroke(p, level, level)
		q := thin(x-22, -66, 0.72).curve(x+30, -66, x+84, -84, x+84, -134).curve(x+84, -190, x+10, -206, x-74, -186)
		d.stroke(q, plumb, plumb)
	},
}

// composed lists the Latin-1 letters that are a letter with a mark.
var composed = map[rune]string{
	'À': "A`", 'Á': "A´", 'Â': "Aˆ", 'Ã': "A˜", 'Ä': "A¨", 'Å': "A˚", 'Ç': "C¸",
	'È': "E`", 'É': "E´", 'Ê': "Eˆ", 'Ë': "E¨", 'Ì': "I`", 'Í': "I´", 'Î': "Iˆ", 'Ï': "I¨",
	'Ñ': "N˜", 'Ò': "O`", 'Ó': "O´", 'Ô': "Oˆ", 'Õ': "O˜", 'Ö': "O¨",
	'Ù': "U`", 'Ú': "U´", 'Û': "Uˆ", 'Ü': "U¨", 'Ý': "Y´",
	'à': "a`", 'á': "a´", 'â': "aˆ", 'ã': "a˜", 'ä': "a¨", 'å': "a˚", 'ç': "c¸",
	'è': "e`", 'é': "e´", 'ê': "eˆ", 'ë': "e¨", 'ì': "ı`", 'í': "ı´", 'î': "ıˆ", 'ï': "ı¨",
	'ñ': "n˜", 'ò': "o`", 'ó': "o´", 'ô': "oˆ", 'õ': "o˜", 'ö': "o¨",
	'ù': "u`", 'ú': "u´", 'û': "uˆ", 'ü': "u¨", 'ý': "y´", 'ÿ': "y¨",
	'Š': "Sˇ", 'š': "sˇ", 'Ž': "Zˇ", 'ž': "zˇ",
}

func init() {
	accents['ˇ'] = func(d *draft, x, y float64) {
		d.stroke(thin(x-118, y+138, 0.78).line(x, y+24).swell(0.86), square, round)
		d.stroke(thin(x+118, y+138, 0.78).line(x, y+24).swell(0.86), square, round)
	}
}

// compose draws a letter and puts its mark on top (or below) at its middle.
func compose(d *draft, recipe string) {
	r := []rune(recipe)
	base, y := lower[r[0]], float64(xHeight+62)
	if base == nil {
		base, y = upper[r[0]], capHeight+42
	}
	base(d)
	x := d.w / 2
	if d.italic && r[0] != 'o' && r[0] != 'e' && r[0] != 'c' && r[0] < 0x250 && lower[r[0]] != nil {
		x = (d.w - d.tail()) / 2
	}
	accents[r[1]](d, x, y)
	if wide := r[1] == '¨' || r[1] == 'ˆ' || r[1] == '˜'; wide && (r[0] == 'ı' || r[0] == 'I') {
		// A narrow letter under a wide mark needs room, or the mark hits its
		// neighbours.
		d.fixed = d.space(d.lsb) + d.w + d.space(d.rsb) + 52
	}
}

// others are the Latin-1 letters with shapes of their own, and bare accents.
var others = map[rune]func(*draft){
	'Æ': func(d *draft) {
		d.width(806, 0.9, slope, open)
		x := d.w * 0.52
		d.diag(d.s*1.04, 0, 0.95, x-d.s*0.1, capHeight, 0.9)
		d.stem(x, 0, capHeight)
		d.bar(x, d.w-6, capHeight-d.t)
		d.bar(x, d.w*0.94, capHeight*0.52)
		d.bar(x, d.w, d.t)
		d.bar(d.w*0.20, x, capHeight*0.24)
	},
	'æ': func(d *draft) {
		d.width(716, 0.95, bowl, open)
		half := d.w * 0.5
		left := *d
		left.ink, left.w = nil, half+d.s
		halfA(&left)
		d.ink = append(d.ink, left.ink...)
		d.rightE(half-d.s, d.w)
	},
	'Œ': func(d *draft) {
		d.width(930, 0.95, bowl, open)
		x := d.w * 0.54
		mid := x * 0.60
		p := from(x, capHeight-d.t).line(mid, capHeight-d.t).hv(d.s, capHeight/2).swell(1.03).vh(mid, d.t).swell(1).line(x, d.t)
		d.stroke(p, plumb, plumb)
		d.stem(x, 0, capHeight)
		d.bar(x, d.w-6, capHeight-d.t)
		d.bar(x, d.w*0.94, capHeight*0.52)
		d.bar(x, d.w, d.t)
	},
	'œ': func(d *draft) {
		d.width(800, 1.0, bowl, open)
		half := d.w * 0.51
		d.oval(0, -overshoot, half+d.s, xHeight+overshoot)
		d.rightE(half-d.s, d.w)
	},
	'Ø': func(d *draft) { drawBigO(d); d.diag(d.w*0.14, -40, 0.8, d.w*0.86, capHeight+40, 0.8) },
	'ø': func(d *draft) { drawO(d); d.diag(d.w*0.12, -46, 0.8, d.w*0.88, xHeight+46, 0.8) },
	'Ð': func(d *draft) {
		upper['D'](d)
		d.bar(-46, d.w*0.46, capHeight*0.515)
	},
	'ð': func(d *draft) {
		d.width(474, 0.78, bowl, bowl)
		d.oval(0, -overshoot, d.w, xHeight*0.90)
		x := d.w - d.s
		p := from(x, xHeight*0.44).curve(x, xHeight*1.0, d.w*0.66, ascender-70, d.w*0.26, ascender-d.t)
		d.stroke(p, round, square)
		d.stroke(thin(d.w*0.28, ascender-176, 0.72).line(d.w*0.84, ascender-42), square, square)
	},
	'Þ': func(d *draft) {
		d.width(490, 0.76, straight, bowl)
		d.stem(d.s, 0, capHeight)
		d.lobe(d.w, capHeight*0.215, capHeight*0.785)
	},
	'þ': func(d *draft) {
		d.roundWidth()
		d.stem(d.s, descender, ascender)
		d.bowlRight()
	},
	'ß': func(d *draft) {
		d.width(494, 0.80, straight, bowl)
		top, mid := ascender+overshoot-d.t, xHeight*0.80
		p := from(d.s, 0).line(d.s, ascender*0.70).vh(d.w*0.46, top).swell(0.97).hv(d.w*0.86-d.s, (top+mid)/2).swell(0.97).
			curve(d.w*0.86-d.s, mid+30, d.w*0.62, mid+6, d.w*0.50, mid).swell(0.94)
		d.stroke(p, level, plumb)
		q := thin(d.w*0.46, mid, 0.94).curve(d.w*0.74, mid-4, d.w-d.s, xHeight*0.58, d.w-d.s, xHeight*0.31).swell(1.03).
			vh(d.w*0.56, -overshoot+d.t).swell(0.97).curve(d.w*0.48, -overshoot+d.t, d.w*0.42, -overshoot+d.t+4, d.w*0.37, d.t+6)
		d.stroke(q, plumb, plumb)
	},
	'ª': func(d *draft) { d.superior(drawA) }, 'º': func(d *draft) { d.superior(drawO) },
	'¹': func(d *draft) { d.superior(digits['1']) }, '²': func(d *draft) { d.superior(digits['2']) },
	'³': func(d *draft) { d.superior(digits['3']) },
	'´': bare('´'), '`': bare('`'), '¨': bare('¨'), '¯': bare('¯'), '¸': bare('¸'), 'ˆ': bare('ˆ'), '˜': bare('˜'),
}

// halfA draws the left part of æ: an a without the foot of its stem.
func halfA(d *draft) {
	italic := d.italic
	d.italic = false
	w, l, r := d.w, d.lsb, d.rsb
	x := w - d.s
	hook := from(w*0.10, xHeight-d.t-46).
		curve(w*0.22, xHeight+overshoot-d.t-8, w*0.36, xHeight+overshoot-d.t, w*0.50, xHeight+overshoot-d.t).swell(0.97).
		hv(x, xHeight*0.62).swell(1).line(x, xHeight*0.3)
	d.stroke(hook, plumb, level)
	p := thin(x, xHeight*0.56, 0.86).line(w*0.5, xHeight*0.56).swell(0.94)
	p.curve(w*0.2, xHeight*0.56, d.s, xHeight*0.47, d.s, xHeight*0.272).swell(1).
		vh(w*0.44, -overshoot+d.t).swell(0.97).
		curve(w*0.70, -overshoot+d.t, x, xHeight*0.14, x, xHeight*0.40).swell(0.8)
	d.stroke(p, plumb, level)
	d.w, d.lsb, d.rsb, d.italic = w, l, r, italic
}

// rightE draws an e between x0 and x1, the right part of æ and œ.
func (d *draft) rightE(x0, x1 float64) {
	e := *d
	e.ink, e.w = nil, x1-x0
	y := xHeight*0.50 + 4
	e.stroke(from(e.s, y).line(e.w-e.s*1.2, y), plumb, plumb)
	mid, bottom := e.w*0.51, -overshoot+e.t
	dx, dy := e.w*0.93, xHeight*0.185
	p := from(e.w-e.s, y-e.t).line(e.w-e.s, y+12).vh(mid, xHeight+overshoot-e.t).swell(0.97).
		hv(e.s, xHeight/2).swell(1).vh(mid+e.w*0.03, bottom).swell(0.97).
		curve(mid+e.w*0.2, bottom, dx-e.w*0.10, dy-(dy-bottom)*0.75, dx, dy).swell(0.96)
	e.stroke(p, level, square)
	for _, c := range e.ink {
		for i := range c {
			c[i].X += int16(x0)
		}
	}
	d.ink = append(d.ink, e.ink...)
}

// superior draws a letter small and high, with a pen that keeps its colour.
func (d *draft) superior(draw func(*draft)) {
	st := d.style
	st.Stem, st.Bar = st.Stem*1.28, st.Bar*1.28
	e := newDraft(st)
	draw(e)
	const k, up = 0.6, 290
	for _, c := range e.ink {
		for i := range c {
			c[i].X = int16(float64(c[i].X)*k + d.Slant*up)
			c[i].Y = int16(float64(c[i].Y)*k + up)
		}
	}
	d.ink, d.w, d.lsb, d.rsb = e.ink, e.w*k, open, open
}

// bare draws an accent as a character of its own.
func bare(r rune) func(*draft) {
	return func(d *draft) {
		d.width(300, 0.3, none, none)
		accents[r](d, d.w/2, xHeight+62)
	}
}

// notdef is the box that stands for a character the font lacks.
func notdef(d *draft) sfnt.Glyph {
	d.width(400, 0.3, straight, straight)
	d.stem(d.s, 0, capHeight)
	d.stem(d.w-d.s, 0, capHeight)
	d.bar(d.s, d.w-d.s, d.t)
	d.bar(d.s, d.w-d.s, capHeight-d.t)
	return d.glyph(".notdef")
}
