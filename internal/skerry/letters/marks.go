package letters

import "math"

// figure is the advance that all digits share, so that columns line up.
func (d *draft) figure(w float64) {
	d.width(w, 0.70, none, none)
	d.fixed = math.Round(562*d.style.Narrow + (d.style.Stem-84)*0.62)
}

// digits are as high as capitals and share one advance width.
var digits = map[rune]func(*draft){
	'0': func(d *draft) {
		d.figure(456)
		d.oval(0, -overshoot, d.w, capHeight+overshoot)
	},
	'1': func(d *draft) {
		d.figure(280)
		x := d.w - d.s
		d.stem(x, 0, capHeight)
		d.stroke(from(x, capHeight-d.t*0.7).curve(x-d.w*0.2, capHeight-70, x-d.w*0.4, capHeight-118, d.s*0.2, capHeight-142), round, plumb)
	},
	'2': func(d *draft) {
		d.figure(424)
		top, r := capHeight+overshoot-d.t, d.w-d.s-6
		p := from(d.w*0.05, capHeight*0.775).
			curve(d.w*0.10, capHeight*0.90, d.w*0.26, top, d.w*0.48, top).swell(0.97).
			hv(r, capHeight*0.725).swell(1.02).
			curve(r, capHeight*0.55, d.w*0.68, capHeight*0.44, d.s*1.05, d.t*1.2).swell(1)
		d.stroke(p, square, round)
		d.bar(0, d.w, d.t)
	},
	'3': func(d *draft) {
		d.figure(424)
		mid := capHeight * 0.525
		p := from(d.w*0.07, capHeight*0.815).
			curve(d.w*0.14, capHeight*0.93, d.w*0.28, capHeight+overshoot-d.t, d.w*0.48, capHeight+overshoot-d.t).swell(0.97).
			hv(d.w-d.s-18, (mid+capHeight-d.t)/2).swell(1).vh(d.w*0.46, mid).swell(0.94).line(d.w*0.30, mid)
		d.stroke(p, square, plumb)
		q := thin(d.w*0.40, mid, 0.94).line(d.w*0.47, mid).hv(d.w-d.s, mid*0.515).swell(1.03).vh(d.w*0.46, -overshoot+d.t).swell(0.97).
			curve(d.w*0.26, -overshoot+d.t, d.w*0.11, capHeight*0.07, d.w*0.04, capHeight*0.19).swell(1)
		d.stroke(q, plumb, square)
	},
	'4': func(d *draft) {
		d.figure(478)
		x, y := d.w*0.74, capHeight*0.235
		d.stem(x, 0, capHeight)
		d.bar(d.s*0.4, d.w, y)
		d.stroke(thin(x-d.s*0.35, capHeight, 0.88).line(d.s*0.9, y).swell(0.94), level, round)
	},
	'5': func(d *draft) {
		d.figure(424)
		x := d.w*0.13 + d.s*0.4
		d.bar(x-d.s*0.6, d.w*0.92, capHeight-d.t)
		d.stroke(from(x, capHeight-d.t).line(x-10, capHeight*0.50), round, level)
		p := thin(x-8, capHeight*0.53, 0.74).
			curve(d.w*0.27, capHeight*0.60, d.w*0.36, capHeight*0.625, d.w*0.49, capHeight*0.625).swell(0.98).
			hv(d.w-d.s, capHeight*0.315).swell(1.03).vh(d.w*0.46, -overshoot+d.t).swell(0.97).
			curve(d.w*0.26, -overshoot+d.t, d.w*0.11, capHeight*0.06, d.w*0.03, capHeight*0.17).swell(1)
		d.stroke(p, level, square)
	},
	'6': drawSix,
	'7': func(d *draft) {
		d.figure(432)
		d.bar(0, d.w-d.s*0.7, capHeight-d.t)
		p := from(d.w-d.s*1.0, capHeight-d.t).curve(d.w*0.62, capHeight*0.60, d.w*0.40, capHeight*0.30, d.w*0.30, 0)
		d.stroke(p, round, level)
	},
	'8': func(d *draft) {
		d.figure(444)
		mid := capHeight * 0.535
		d.oval(d.w*0.045, mid-d.t, d.w*0.955, capHeight+overshoot)
		d.oval(0, -overshoot, d.w, mid+d.t)
	},
	'9': func(d *draft) {
		drawSix(d)
		for _, c := range d.ink {
			for i := range c {
				c[i].X = int16(d.w+d.Slant*capHeight) - c[i].X
				c[i].Y = capHeight - c[i].Y
			}
		}
	},
}

func drawSix(d *draft) {
	d.figure(448)
	mid := capHeight * 0.305
	d.oval(0, -overshoot, d.w, mid*2+overshoot)
	p := from(d.s, mid).curve(d.s, capHeight*0.70, d.w*0.34, capHeight*0.90, d.w*0.80, capHeight-d.t*0.7)
	d.stroke(p, round, square)
}

// marks are punctuation and signs.
var marks = map[rune]func(*draft){
	' ': func(d *draft) { d.fixed = math.Round(232 * d.style.Narrow) },
	'.': func(d *draft) { d.round(1); d.dot(d.w/2, d.dotSize()-4, d.dotSize()) },
	',': func(d *draft) { d.round(1); d.comma(d.w/2, d.dotSize()-4) },
	':': func(d *draft) {
		d.round(1)
		d.dot(d.w/2, d.dotSize()-4, d.dotSize())
		d.dot(d.w/2, xHeight-d.dotSize()-8, d.dotSize())
	},
	';': func(d *draft) {
		d.round(1)
		d.comma(d.w/2, d.dotSize()-4)
		d.dot(d.w/2, xHeight-d.dotSize()-8, d.dotSize())
	},
	'…': func(d *draft) {
		r := d.dotSize()
		d.w, d.lsb, d.rsb = r*2+440, open, open
		for i := range 3 {
			d.dot(r+float64(i)*220, r-4, r)
		}
	},
	'·': func(d *draft) { d.round(1); d.dot(d.w/2, xHeight*0.54, d.dotSize()) },
	'•': func(d *draft) { d.round(1.9); d.dot(d.w/2, xHeight*0.54, d.dotSize()*1.9) },
	'!': drawBang, '?': drawQuery,
	'¡':  func(d *draft) { drawBang(d); d.upsideDown() },
	'¿':  func(d *draft) { drawQuery(d); d.upsideDown() },
	'\'': func(d *draft) { d.round(0.9); d.tick(d.w / 2) },
	'"': func(d *draft) {
		gap := d.s*2 + 58
		d.w, d.lsb, d.rsb = gap+d.s*2, open, open
		d.tick(d.s)
		d.tick(d.s + gap)
	},
	'‘': func(d *draft) { d.round(1); d.quoteOpen(d.w / 2) },
	'’': func(d *draft) { d.round(1); d.comma(d.w/2, capHeight-d.dotSize()+20) },
	'‚': func(d *draft) { d.round(1); d.comma(d.w/2, d.dotSize()-4) },
	'“': func(d *draft) { d.pair(func(x float64) { d.quoteOpen(x) }) },
	'”': func(d *draft) { d.pair(func(x float64) { d.comma(x, capHeight-d.dotSize()+20) }) },
	'„': func(d *draft) { d.pair(func(x float64) { d.comma(x, d.dotSize()-4) }) },
	'‹': func(d *draft) { d.chevrons(1, 1) }, '›': func(d *draft) { d.chevrons(1, -1) },
	'«': func(d *draft) { d.chevrons(2, 1) }, '»': func(d *draft) { d.chevrons(2, -1) },
	'-': func(d *draft) { d.rule(276, xHeight*0.50) },
	'–': func(d *draft) { d.rule(470, xHeight*0.50) },
	'—': func(d *draft) { d.rule(820, xHeight*0.50) },
	'_': func(d *draft) { d.rule(500, -130); d.lsb, d.rsb = none, none },
	'(': func(d *draft) { d.paren(1) }, ')': func(d *draft) { d.paren(-1) },
	'[': func(d *draft) { d.bracket(false) }, ']': func(d *draft) { d.bracket(true) },
	'{': func(d *draft) { d.brace(1) }, '}': func(d *draft) { d.brace(-1) },
	'/':  func(d *draft) { d.width(390, 0.5, slope, slope); d.diag(d.s, -70, 0.94, d.w-d.s, ascender, 0.94) },
	'\\': func(d *draft) { d.width(390, 0.5, slope, slope); d.diag(d.s, ascender, 0.94, d.w-d.s, -70, 0.94) },
	'|':  func(d *draft) { d.w, d.lsb, d.rsb = 2*d.s, straight, straight; d.stem(d.s, -180, ascender+20) },
	'¦': func(d *draft) {
		d.w, d.lsb, d.rsb = 2*d.s, straight, straight
		d.stem(d.s, -180, 200)
		d.stem(d.s, 360, ascender+20)
	},
	'+': func(d *draft) { d.operator(); d.plus(d.w/2, 0.5) },
	'=': func(d *draft) {
		d.operator()
		d.bar(0, d.w, mathAxis+82)
		d.bar(0, d.w, mathAxis-82)
	},
	'−': func(d *draft) { d.operator(); d.bar(0, d.w, mathAxis) },
	'×': func(d *draft) {
		d.operator()
		r := d.w * 0.40
		d.cross(r)
	},
	'÷': func(d *draft) {
		d.operator()
		d.bar(0, d.w, mathAxis)
		d.dot(d.w/2, mathAxis+168, d.dotSize()*0.92)
		d.dot(d.w/2, mathAxis-168, d.dotSize()*0.92)
	},
	'±': func(d *draft) {
		d.operator()
		d.bar(0, d.w, mathAxis+60)
		d.stem(d.w/2, mathAxis-120, mathAxis+240)
		d.bar(0, d.w, d.t)
	},
	'<': func(d *draft) { d.operator(); d.angle(1) },
	'>': func(d *draft) { d.operator(); d.angle(-1) },
	'¬': func(d *draft) {
		d.operator()
		d.bar(0, d.w, mathAxis+40)
		d.stem(d.w-d.s*0.95, mathAxis-110, mathAxis+40+d.t*0.9)
	},
	'~': func(d *draft) { d.operator(); d.wave(0, d.w, mathAxis, 62, 1) },
	'^': func(d *draft) { d.operator(); d.caret(d.w/2, d.w*0.42, 380, capHeight) },
	'*': func(d *draft) {
		d.width(350, 0.5, open, open)
		d.star(d.w/2, capHeight-168, 168)
	},
	'#': func(d *draft) {
		d.width(560, 0.6, open, open)
		k := 0.10 * (1 - d.Slant*4)
		for _, x := range []float64{0.32, 0.70} {
			d.diag(d.w*(x-k), 0, 0.88, d.w*(x+k), capHeight, 0.88)
		}
		d.bar(0, d.w*0.96, capHeight*0.32)
		d.bar(d.w*0.04, d.w, capHeight*0.68)
	},
	'%': func(d *draft) {
		d.width(770, 0.9, open, open)
		d.pen.HX, d.pen.HY = d.HX*0.84, d.HY*0.88
		r, h := d.w*0.40, capHeight*0.50
		d.small(func() { d.oval(0, capHeight-h+overshoot, r, capHeight+overshoot) })
		d.small(func() { d.oval(d.w-r, -overshoot, d.w, h-overshoot) })
		d.diag(d.w*0.27, 0, 0.9, d.w*0.73, capHeight, 0.9)
	},
	'&': drawAmpersand,
	'@': drawAt,
	'$': func(d *draft) { upper['S'](d); d.through(-92, capHeight+92) },
	'¢': func(d *draft) { drawC(d); d.through(-100, xHeight+100) },
	'€': func(d *draft) {
		d.width(560, 0.7, open, open)
		d.w -= 30
		d.crescent(capHeight, 0.97, 0.82, 0.97, 0.18)
		d.bar(-30, d.w*0.72, capHeight*0.57)
		d.bar(-30, d.w*0.68, capHeight*0.43)
	},
	'£': func(d *draft) {
		d.width(500, 0.7, open, open)
		x := d.w * 0.30
		p := from(d.w*0.92, capHeight*0.80).curve(d.w*0.86, capHeight*0.93, d.w*0.76, capHeight+overshoot-d.t, d.w*0.60, capHeight+overshoot-d.t).
			hv(x, capHeight*0.72).line(x, capHeight*0.26).curve(x, capHeight*0.14, d.w*0.22, d.t+20, d.w*0.09, d.t)
		d.stroke(p, square, plumb)
		d.bar(d.w*0.04, d.w, d.t)
		d.bar(0, d.w*0.74, capHeight*0.40)
	},
	'¥': func(d *draft) {
		upper['Y'](d)
		d.bar(d.w*0.16, d.w*0.84, capHeight*0.37)
		d.bar(d.w*0.16, d.w*0.84, capHeight*0.20)
	},
	'§': func(d *draft) {
		d.width(400, 0.6, open, open)
		d.small(func() {
			for _, up := range []float64{-80, 285} {
				mark := len(d.ink)
				d.snake(400, 0.80, 0.20)
				d.lift(mark, up)
			}
		})
	},
	'¶': func(d *draft) {
		d.width(500, 0.9, open, straight)
		d.small(func() {
			gap := d.s*2 + 92
			d.stem(d.w-d.s, -90, capHeight)
			d.stem(d.w-d.s-gap, -90, capHeight)
			d.bar(d.w-d.s-gap, d.w-d.s, capHeight-d.t)
			r := 172.0
			d.dot(d.w-gap-r, capHeight-r, r)
		})
	},
	'°': func(d *draft) {
		d.width(266, 0.5, open, open)
		d.small(func() { d.oval(0, capHeight-d.w+overshoot, d.w, capHeight+overshoot) })
	},
	'©': func(d *draft) {
		d.badge()
		d.inset(func(e *draft) { e.width(430, 0.5, none, none); e.crescent(capHeight*0.72, 0.95, 0.80, 0.95, 0.20) })
	},
	'®': func(d *draft) {
		d.badge()
		d.inset(func(e *draft) {
			e.width(360, 0.5, none, none)
			h := capHeight * 0.72
			e.stem(e.s, 0, h)
			e.lobe(e.w, h*0.42, h-e.t)
			e.diag(e.w*0.45, h*0.42, 0.95, e.w-e.s*0.9, 0, 1)
		})
	},
	'→': func(d *draft) { d.arrow(1) }, '←': func(d *draft) { d.arrow(-1) },
}

// mathAxis is the height around which signs of arithmetic are centred.
const mathAxis = 318

func (d *draft) round(k float64) {
	d.w, d.lsb, d.rsb = 2*d.dotSize()*k, open, open
}

func (d *draft) operator() { d.width(480, 0.5, open, open) }

func (d *draft) rule(w, y float64) {
	d.width(w, 0.3, open, open)
	d.bar(0, d.w, y)
}

func (d *draft) plus(x, half float64) {
	r := d.w * half
	d.bar(x-r, x+r, mathAxis)
	d.stem(x, mathAxis-r*0.97, mathAxis+r*0.97)
}

func (d *draft) cross(r float64) {
	for _, k := range []float64{1, -1} {
		d.stroke(from(d.w/2-r, mathAxis-r*k).line(d.w/2+r, mathAxis+r*k), square, square)
	}
}

// comma inks a dot with a tail at (x, y).
func (d *draft) comma(x, y float64) {
	r := d.dotSize()
	d.dot(x, y, r)
	p := thin(x+r-d.s*0.8, y+2, 0.8).curve(x+r-d.s*0.8, y-r*0.9, x, y-r*1.7, x-r*0.75, y-r*2.05).swell(0.52)
	d.stroke(p, round, round)
}

// quoteOpen inks a comma turned upside down.
func (d *draft) quoteOpen(x float64) {
	y := capHeight - d.dotSize()*2.1
	r := d.dotSize()
	d.dot(x, y-6, r)
	p := thin(x-r+d.s*0.8, y-8, 0.8).curve(x-r+d.s*0.8, y+r*0.9, x, y+r*1.5, x+r*0.75, y+r*1.95).swell(0.52)
	d.stroke(p, round, round)
}

func (d *draft) pair(one func(x float64)) {
	r := d.dotSize()
	gap := r*2 + 34
	d.w, d.lsb, d.rsb = gap+2*r, open, open
	one(r)
	one(r + gap)
}

func (d *draft) tick(x float64) {
	p := thin(x, capHeight+20, 1.04).line(x, capHeight-210).swell(0.74)
	p.segs[0].line = false
	d.stroke(p, level, level)
}

// chevrons inks n angle quotes; side 1 points left.
func (d *draft) chevrons(n int, side float64) {
	step := 168 + (d.style.Stem-84)*0.7
	one := 150 + (d.style.Stem-84)*0.45
	d.w, d.lsb, d.rsb = one+step*float64(n-1), open, open
	for i := range n {
		d.caretSide(float64(i)*step, float64(i)*step+one, xHeight*0.5+4, 170, side)
	}
}

// caretSide inks < or > between x0 and x1 around y.
func (d *draft) caretSide(x0, x1, y, half, side float64) {
	a, b := x0+d.s, x1-d.s*0.8
	if side < 0 {
		a, b = x1-d.s, x0+d.s*0.8
	}
	d.stroke(from(b, y+half).line(a, y), square, round)
	d.stroke(from(b, y-half).line(a, y), square, round)
}

func (d *draft) angle(side float64) {
	a, b := d.s*0.9, d.w-d.t*0.5
	if side < 0 {
		a, b = b, a
	}
	d.stroke(from(b, mathAxis+190).line(a, mathAxis), square, round)
	d.stroke(from(b, mathAxis-190).line(a, mathAxis), square, round)
}

func (d *draft) paren(side float64) {
	d.width(226, 0.6, open, open)
	a, b := d.s*1.02, d.w-d.s*0.7
	if side < 0 {
		a, b = d.w-d.s*1.02, d.s*0.7
	}
	top, low := ascender+24.0, -172.0
	mid := (top + low) / 2
	k := (b - a) * 0.95
	p := thin(b, top, 0.86).curve(b-k*0.72, top-120, a, mid+170, a, mid).swell(1.02).
		curve(a, mid-170, b-k*0.72, low+120, b, low).swell(0.86)
	d.stroke(p, square, square)
}

func (d *draft) bracket(right bool) {
	d.width(206, 0.6, straight, open)
	top, low := ascender+24.0, -172.0
	x, far := d.s, d.w
	if right {
		d.lsb, d.rsb = open, straight
		x, far = d.w-d.s, 0
	}
	d.stem(x, low, top)
	d.bar(min(x, far), max(x, far), top-d.t)
	d.bar(min(x, far), max(x, far), low+d.t)
}

func (d *draft) brace(side float64) {
	d.width(256, 0.7, open, open)
	top, low := ascender+24.0, -172.0
	mid, x := (top+low)/2, d.w*0.52
	far, near := d.w, 0.0
	if side < 0 {
		far, near = 0, d.w
	}
	at := func(k float64) float64 { return x + (far-x)*k }
	upper := from(far, top-d.t).line(at(0.75), top-d.t).hv(x, top-130).line(x, mid+120).
		curve(x, mid+44, x+(near-x)*0.3, mid+4, near, mid)
	lower := from(far, low+d.t).line(at(0.75), low+d.t).hv(x, low+130).line(x, mid-120).
		curve(x, mid-44, x+(near-x)*0.3, mid-4, near, mid)
	d.stroke(upper, plumb, plumb)
	d.stroke(lower, plumb, plumb)
}

func (d *draft) star(x, y, r float64) {
	for i := range 3 {
		a := math.Pi/2 + float64(i)*math.Pi/3
		dx, dy := r*math.Cos(a), r*math.Sin(a)
		d.stroke(thin(x-dx, y-dy, 0.8).line(x+dx, y+dy).swell(0.8), square, square)
	}
}

func (d *draft) caret(x, half, low, top float64) {
	d.stroke(thin(x-half, low, 0.95).line(x, top-d.t).swell(0.9), square, round)
	d.stroke(thin(x+half, low, 0.95).line(x, top-d.t).swell(0.9), square, round)
}

// wave inks a tilde between x0 and x1 around y with so high a swing.
func (d *draft) wave(x0, x1, y, swing, w float64) {
	l := x1 - x0
	p := thin(x0+d.t*0.3, y-swing*0.6, w).
		curve(x0+l*0.10, y+swing*0.9, x0+l*0.27, y+swing*1.15, x0+l*0.5, y).
		curve(x0+l*0.73, y-swing*1.15, x0+l*0.90, y-swing*0.9, x1-d.t*0.3, y+swing*0.6)
	d.stroke(p, square, square)
}

// small draws with a lighter pen, as little shapes need.
func (d *draft) small(draw func()) {
	keepPen, s, t := d.pen, d.s, d.t
	d.pen.HX, d.pen.HY = d.HX*0.84, d.HY*0.88
	d.s, d.t = d.pen.HX, d.pen.HY
	draw()
	d.pen, d.s, d.t = keepPen, s, t
}

// through inks a short upright above and below a letter.
func (d *draft) through(low, high float64) {
	x := d.w * 0.5
	top, bottom := high-130, low+130
	d.stroke(from(x, high).line(x, top), level, level)
	d.stroke(from(x, low).line(x, bottom), level, level)
}

// lift moves what has been inked since mark upwards.
func (d *draft) lift(mark int, dy float64) {
	for _, c := range d.ink[mark:] {
		for i := range c {
			c[i].Y += int16(dy)
			c[i].X += int16(d.Slant * dy)
		}
	}
}

// upsideDown turns a mark by half a circle and hangs it from the x-height.
func (d *draft) upsideDown() {
	for _, c := range d.ink {
		for i := range c {
			c[i].X = int16(d.w+d.Slant*xHeight) - c[i].X
			c[i].Y = xHeight - c[i].Y
		}
	}
	d.lsb, d.rsb = d.rsb, d.lsb
}

func (d *draft) badge() {
	d.width(760, 0.3, open, open)
	keep, s, t := d.pen, d.s, d.t
	d.pen.HX, d.pen.HY = 26+d.HX*0.16, 26+d.HY*0.16
	d.s, d.t = d.pen.HX, d.pen.HY
	d.oval(0, -30, d.w, 730)
	d.pen, d.s, d.t = keep, s, t
}

// inset draws something small in the middle of a badge.
func (d *draft) inset(draw func(*draft)) {
	st := d.style
	st.Stem, st.Bar = st.Stem*0.72+10, st.Bar*0.72+10
	e := newDraft(st)
	draw(e)
	k := 0.78
	low := 350 - capHeight*0.72*k/2
	for _, c := range e.ink {
		for i := range c {
			y := float64(c[i].Y)
			c[i].X = int16(d.w/2 + (float64(c[i].X)-d.Slant*y-e.w/2)*k + d.Slant*(y*k+low))
			c[i].Y = int16(y*k + low)
		}
	}
	d.ink = append(d.ink, e.ink...)
}

func (d *draft) arrow(side float64) {
	d.width(640, 0.4, open, open)
	tip, end := d.w-d.s*0.6, 0.0
	if side < 0 {
		tip, end = d.s*0.6, d.w
	}
	d.bar(min(tip, end), max(tip, end), mathAxis)
	back := tip - side*176
	d.stroke(from(back, mathAxis+176).line(tip, mathAxis), square, round)
	d.stroke(from(back, mathAxis-176).line(tip, mathAxis), square, round)
}

func drawBang(d *draft) {
	d.round(1.02)
	d.dot(d.w/2, d.dotSize()-4, d.dotSize())
	p := thin(d.w/2, capHeight, 1.05).line(d.w/2, 206).swell(0.72)
	p.segs[0].line = false
	d.stroke(p, level, level)
}

func drawQuery(d *draft) {
	d.width(386, 0.7, open, open)
	x, top := d.w*0.50, capHeight+overshoot-d.t
	d.dot(x-2, d.dotSize()-4, d.dotSize())
	p := from(d.w*0.06, capHeight*0.80).
		curve(d.w*0.14, capHeight*0.93, d.w*0.28, top, d.w*0.49, top).swell(0.97).
		hv(d.w-d.s, capHeight*0.755).swell(1).
		curve(d.w-d.s, capHeight*0.56, x, capHeight*0.54, x, capHeight*0.345).swell(0.95).line(x, 206)
	d.stroke(p, square, level)
}

func drawAmpersand(d *draft) {
	d.width(620, 0.78, bowl, slope)
	top, bottom := capHeight+overshoot-d.t, -overshoot+d.t
	// The upper loop and the leg are one stroke, the lower bowl and the arm another.
	p := from(d.w*0.43, top).hv(d.w*0.60, capHeight*0.80).
		curve(d.w*0.60, capHeight*0.64, d.w*0.40, capHeight*0.60, d.w*0.24, capHeight*0.47).
		curve(d.w*0.10, capHeight*0.38, d.s, capHeight*0.31, d.s, capHeight*0.225).
		vh(d.w*0.36, bottom).
		curve(d.w*0.62, bottom, d.w*0.82, capHeight*0.20, d.w*0.87, capHeight*0.45)
	d.stroke(p, round, square)
	q := from(d.w*0.43, top).hv(d.w*0.245, capHeight*0.80).
		curve(d.w*0.245, capHeight*0.68, d.w*0.36, capHeight*0.60, d.w*0.46, capHeight*0.47).
		line(d.w-d.s*1.1, 0)
	d.stroke(q, round, level)
}

func drawAt(d *draft) {
	d.width(860, 0.6, open, open)
	keep, s, t := d.pen, d.s, d.t
	d.pen.HX, d.pen.HY = d.HX*0.76, d.HY*0.80
	d.s, d.t = d.pen.HX, d.pen.HY
	low, top := -168.0, 690.0
	mid := (low + top) / 2
	x := d.w * 0.665
	p := from(d.w*0.74, low+64).curve(d.w*0.66, low+16, d.w*0.58, low+d.t, d.w*0.50, low+d.t).
		hv(d.s, mid).vh(d.w*0.51, top-d.t).hv(d.w-d.s, mid+20).
		curve(d.w-d.s, mid-150, d.w*0.90, 66+d.t, d.w*0.80, 66+d.t).
		curve(d.w*0.70, 66+d.t, x, 130, x, 200).line(x, 452)
	d.stroke(p, square, level)
	bx := d.w * 0.27
	q := thin(x, 340, 0.8).curve(x, 420, d.w*0.57, 462-d.t, d.w*0.48, 462-d.t).swell(1).
		hv(bx+d.s, 262).vh(d.w*0.46, 64+d.t).
		curve(d.w*0.58, 64+d.t, x, 130, x, 200).swell(0.8)
	d.stroke(q, level, level)
	d.pen, d.s, d.t = keep, s, t
}
