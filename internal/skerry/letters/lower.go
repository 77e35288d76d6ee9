package letters

// Places where arches and bowls leave their stems, as shares of the x-height,
// and how thin the pen is there: thin joins keep heavy weights from clotting.
const (
	branch = 0.60
	joinW  = 0.56
)

// lower holds the small letters.
var lower = map[rune]func(*draft){
	'a': drawA, 'b': drawB, 'c': drawC, 'd': drawD, 'e': drawE, 'f': drawF, 'g': drawG, 'h': drawH,
	'i': func(d *draft) { drawI(d); d.dot(d.w/2-d.tail()/2, xHeight+135, d.dotSize()) },
	'j': func(d *draft) { drawJ(d); d.dot(d.w-d.s, xHeight+135, d.dotSize()) },
	'k': drawK, 'l': drawL, 'm': drawM, 'n': drawN, 'o': drawO, 'p': drawP, 'q': drawQ, 'r': drawR,
	's': drawS, 't': drawT, 'u': drawU, 'v': drawV, 'w': drawW, 'x': drawX, 'y': drawY, 'z': drawZ,
	'ı': drawI, 'ȷ': drawJ,
}

// tail is how far italic letters reach out to the right at the baseline.
func (d *draft) tail() float64 {
	if !d.italic {
		return 0
	}
	return 52
}

// foot inks a stem that comes down from y, and in the italic leaves with a
// small upward turn.
func (d *draft) foot(p *path, x float64) {
	if !d.italic {
		d.stroke(p.line(x, 0), level, level)
		return
	}
	p.line(x, 118).vh(x+74, d.t-6).swell(0.82)
	d.stroke(p.curve(x+88, d.t-6, x+96, d.t-2, x+d.s+d.tail()+8, d.t+12).swell(0.74), level, plumb)
}

// arch inks a stroke that leaves the stem at x0 and comes down at x1.
func (d *draft) arch(x0, x1 float64) {
	mid := x0 + (x1-x0)*0.54
	p := thin(x0, xHeight*branch, joinW).vh(mid, xHeight+overshoot-d.t).swell(0.97).hv(x1, xHeight*0.60).swell(1)
	d.foot(p, x1)
}

// bowlRight inks the round of b and p to the right of a stem at x = s.
func (d *draft) bowlRight() {
	mid := d.w * 0.52
	p := thin(d.s, xHeight*branch+8, joinW).vh(mid, xHeight+overshoot-d.t).swell(0.97).
		hv(d.w-d.s, xHeight/2).swell(1.03).vh(mid, -overshoot+d.t).swell(0.97).
		hv(d.s, xHeight*(1-branch)-8).swell(joinW)
	d.stroke(p, level, level)
}

func (d *draft) roundWidth() { d.width(474, 0.8, straight, bowl) }

func drawN(d *draft) {
	d.width(438, 0.86, straight, straight)
	d.stem(d.s, 0, xHeight)
	d.arch(d.s, d.w-d.s)
	d.w += d.tail()
	d.shaveTail()
}

// shaveTail narrows the right bearing where an italic tail already makes room.
func (d *draft) shaveTail() {
	if d.italic {
		d.rsb = slope
	}
}

func drawH(d *draft) {
	d.width(438, 0.86, straight, straight)
	d.stem(d.s, 0, ascender)
	d.arch(d.s, d.w-d.s)
	d.w += d.tail()
	d.shaveTail()
}

func drawM(d *draft) {
	d.width(700, 1.15, straight, straight)
	d.stem(d.s, 0, xHeight)
	mid := d.w / 2
	q := thin(d.s, xHeight*branch, joinW).vh(d.s+(mid-d.s)*0.55, xHeight+overshoot-d.t).swell(0.95).hv(mid, xHeight*0.61).swell(0.97)
	d.stroke(q.line(mid, 0), level, level)
	d.arch(mid, d.w-d.s)
	d.w += d.tail()
	d.shaveTail()
}

func drawU(d *draft) {
	d.width(434, 0.86, straight, straight)
	mid := d.w * 0.46
	p := from(d.s, xHeight).line(d.s, xHeight*0.40).vh(mid, -overshoot+d.t).swell(0.97).
		hv(d.w-d.s, xHeight*(1-branch)).swell(joinW)
	d.stroke(p, level, level)
	d.foot(from(d.w-d.s, xHeight), d.w-d.s)
	d.w += d.tail()
	d.shaveTail()
}

func drawR(d *draft) {
	d.width(300, 0.62, straight, slope)
	d.stem(d.s, 0, xHeight)
	p := thin(d.s, xHeight*branch-10, joinW).
		curve(d.s, xHeight*0.84, d.s+(d.w-d.s)*0.34, xHeight+overshoot-d.t-1, d.w*0.80, xHeight+overshoot-d.t-1).swell(1.03).
		curve(d.w*0.88, xHeight+overshoot-d.t-1, d.w*0.95, xHeight+overshoot-d.t-3, d.w, xHeight+overshoot-d.t-8)
	d.stroke(p, level, plumb)
}

func drawB(d *draft) {
	d.roundWidth()
	d.stem(d.s, 0, ascender)
	d.bowlRight()
}

func drawP(d *draft) {
	d.roundWidth()
	d.stem(d.s, descender, xHeight)
	d.bowlRight()
}

// bowlLeft inks the round of d, g and q to the left of a stem at the right.
func (d *draft) bowlLeft() {
	x, mid := d.w-d.s, d.w*0.48
	p := thin(x, xHeight*branch+8, joinW).vh(mid, xHeight+overshoot-d.t).swell(0.97).
		hv(d.s, xHeight/2).swell(1.03).vh(mid, -overshoot+d.t).swell(0.97).
		hv(x, xHeight*(1-branch)-8).swell(joinW)
	d.stroke(p, level, level)
}

func (d *draft) roundLeft() {
	d.roundWidth()
	d.lsb, d.rsb = bowl, straight
}

func drawD(d *draft) {
	d.roundLeft()
	d.bowlLeft()
	d.foot(from(d.w-d.s, ascender), d.w-d.s)
	d.w += d.tail()
	d.shaveTail()
}

func drawQ(d *draft) {
	d.roundLeft()
	d.bowlLeft()
	d.stem(d.w-d.s, descender, xHeight)
}

func drawG(d *draft) {
	d.roundLeft()
	d.bowlLeft()
	x, bottom := d.w-d.s, descender-overshoot+d.t
	p := from(x, xHeight).line(x, -28).vh(d.w*0.48, bottom).swell(0.97).
		curve(d.w*0.32, bottom, d.w*0.20, bottom+12, d.w*0.09, bottom+48)
	d.stroke(p, level, plumb)
}

func drawA(d *draft) {
	if d.italic {
		d.roundLeft()
		d.bowlLeft()
		d.foot(from(d.w-d.s, xHeight), d.w-d.s)
		d.w += d.tail()
		d.shaveTail()
		return
	}
	d.width(424, 0.80, bowl, straight)
	x := d.w - d.s
	hook := from(d.w*0.10, xHeight-d.t-46).
		curve(d.w*0.22, xHeight+overshoot-d.t-8, d.w*0.36, xHeight+overshoot-d.t, d.w*0.49, xHeight+overshoot-d.t).swell(0.97).
		hv(x, xHeight*0.64).swell(1).line(x, 0)
	d.stroke(hook, plumb, level)
	mid, top := xHeight*0.56, d.w*0.50
	p := thin(x, mid, 0.86).line(top, mid).swell(0.94)
	p.curve(d.w*0.2, mid, d.s, xHeight*0.47, d.s, xHeight*0.272).swell(1).
		vh(d.w*0.44, -overshoot+d.t).swell(0.97).
		curve(d.w*0.70, -overshoot+d.t, x, xHeight*0.16, x, xHeight*0.36).swell(joinW)
	d.stroke(p, plumb, level)
}

func drawO(d *draft) {
	d.width(486, 0.78, bowl, bowl)
	d.oval(0, -overshoot, d.w, xHeight+overshoot)
}

// crescent inks the open round of c, e, C and G from its upper end to its lower
// one, within the height h; the ends stand at shares of the width and height.
func (d *draft) crescent(h, upX, upY, downX, downY float64) {
	mid, top, bottom := d.w*0.53, h+overshoot-d.t, -overshoot+d.t
	ux, uy, dx, dy := d.w*upX, h*upY, d.w*downX, h*downY
	p := from(ux, uy).curve(ux-d.w*0.09, uy+(top-uy)*0.78, mid+d.w*0.16, top, mid, top).swell(0.97).
		hv(d.s, h/2).swell(1.03).vh(mid, bottom).swell(0.97).
		curve(mid+d.w*0.16, bottom, dx-d.w*0.09, dy-(dy-bottom)*0.78, dx, dy).swell(1)
	d.stroke(p, square, square)
}

func drawC(d *draft) {
	d.width(424, 0.74, bowl, slope)
	d.crescent(xHeight, 0.955, 0.80, 0.955, 0.20)
}

func drawE(d *draft) {
	d.width(462, 0.76, bowl, open)
	y := xHeight*0.50 + 4
	d.stroke(from(d.s, y).line(d.w-d.s*1.2, y), plumb, plumb)
	mid, bottom := d.w*0.51, -overshoot+d.t
	dx, dy := d.w*0.93, xHeight*0.185
	p := from(d.w-d.s, y-d.t).line(d.w-d.s, y+12).vh(mid, xHeight+overshoot-d.t).swell(0.97).
		hv(d.s, xHeight/2).swell(1.03).vh(mid+d.w*0.03, bottom).swell(0.97).
		curve(mid+d.w*0.2, bottom, dx-d.w*0.10, dy-(dy-bottom)*0.75, dx, dy).swell(0.96)
	d.stroke(p, level, square)
}

func drawF(d *draft) {
	d.width(292, 0.62, slope, slope)
	x, top := d.w*0.30+d.s*0.5, ascender+overshoot-d.t
	low, finish := 0.0, level
	p := from(d.w, top-6).curve(d.w*0.94, top-2, d.w*0.90, top, d.w*0.84, top).hv(x, ascender-d.s*2-90)
	if d.italic {
		low = descender + 110
		p.line(x, low).vh(x-118, descender-overshoot+d.t).swell(0.9)
		finish = plumb
	} else {
		p.line(x, low)
	}
	d.stroke(p, plumb, finish)
	d.bar(0, d.w*0.93, xHeight-d.t)
}

func drawT(d *draft) {
	d.width(310, 0.62, slope, slope)
	x := d.w*0.29 + d.s*0.5
	p := from(x, xHeight+128).line(x, xHeight*0.29).vh(d.w*0.82, -overshoot+d.t).
		curve(d.w*0.90, -overshoot+d.t, d.w*0.95, -overshoot+d.t+3, d.w, -overshoot+d.t+8)
	d.stroke(p, level, plumb)
	d.bar(0, d.w*0.95, xHeight-d.t)
}

func drawI(d *draft) {
	d.width(0, 0, straight, straight)
	d.w = 2 * d.s
	d.foot(from(d.s, xHeight), d.s)
	d.w += d.tail()
	d.shaveTail()
}

func drawL(d *draft) {
	d.width(0, 0, straight, straight)
	d.w = 2 * d.s
	d.foot(from(d.s, ascender), d.s)
	d.w += d.tail()
	d.shaveTail()
}

func drawJ(d *draft) {
	d.width(148, 0.6, none, straight)
	x, bottom := d.w-d.s, descender-overshoot+d.t
	p := from(x, xHeight).line(x, descender+128).vh(d.w*0.24, bottom).
		curve(d.w*0.14, bottom, d.w*0.06, bottom+1, -8, bottom+5)
	d.stroke(p, level, plumb)
}

func drawK(d *draft) {
	d.width(420, 0.72, straight, slope)
	d.stem(d.s, 0, ascender)
	d.diag(d.s*1.4, xHeight*0.34, 0.86, d.w-d.s*1.1, xHeight, 0.96)
	d.diag(d.w*0.44, xHeight*0.58, 0.86, d.w-d.s, 0, 1)
}

func drawV(d *draft) {
	d.width(458, 0.62, slope, slope)
	d.vee(0, d.w, xHeight, 0)
}

// vee inks two diagonals that meet at the bottom, between outer edges.
func (d *draft) vee(x0, x1, top, bottom float64) {
	mid, in := (x0+x1)/2, d.s*1.04
	d.diag(x0+in, top, 0.99, mid-d.s*0.16, bottom, 0.86)
	d.diag(x1-in, top, 0.93, mid+d.s*0.16, bottom, 0.86)
}

func drawW(d *draft) {
	d.width(690, 0.92, slope, slope)
	d.doubleVee(xHeight, 0.86)
}

// doubleVee inks w and W; its inner strokes are a little lighter.
func (d *draft) doubleVee(top, w float64) {
	in := d.s * 1.02
	q1, q3, mid := d.w*0.275, d.w*0.725, d.w/2
	d.diag(in, top, 0.97, q1-d.s*0.14, 0, w)
	d.diag(mid-d.s*0.12, top, w, q1+d.s*0.14, 0, w)
	d.diag(mid+d.s*0.12, top, w, q3-d.s*0.14, 0, w)
	d.diag(d.w-in, top, 0.93, q3+d.s*0.14, 0, w)
}

func drawX(d *draft) {
	d.width(440, 0.66, slope, slope)
	in := d.s * 1.12
	d.diag(in+6, xHeight, 1, d.w-in, 0, 1)
	d.diag(d.w-in-6, xHeight, 0.92, in, 0, 0.92)
}

func drawY(d *draft) {
	d.width(456, 0.62, slope, slope)
	in := d.s * 1.04
	mid := d.w / 2
	d.diag(in, xHeight, 0.99, mid+d.s*0.30, 34, 0.80) // its foot stays inside the tail
	bottom := descender - overshoot + d.t
	x0, k := d.w-in, (d.w-in-mid)/xHeight
	p := thin(x0, xHeight, 0.95).line(mid+14-k*40, -14).swell(0.95).
		curve(mid-k*140, bottom+70, mid-62, bottom, mid-126, bottom).swell(0.95).
		curve(mid-138, bottom, mid-150, bottom+1, mid-162, bottom+4)
	d.stroke(p, level, plumb)
}

func drawZ(d *draft) {
	d.width(396, 0.66, open, open)
	d.bar(0, d.w-4, xHeight-d.t)
	d.bar(0, d.w, d.t)
	d.diag(d.s*1.05, d.t*0.9, 0.93, d.w-d.s*1.05-4, xHeight-d.t*0.9, 0.93)
}

func drawS(d *draft) {
	d.width(392, 0.74, open, open)
	d.snake(xHeight, 0.80, 0.20)
}

// snake inks s, S and the like: ends at shares of the height.
func (d *draft) snake(h, upY, downY float64) {
	top, bottom, mid := h+overshoot-d.t, -overshoot+d.t, d.w/2
	// The spine runs level with the bars and needs the stem's thickness, so it
	// swells past the pen's thin side.
	fat := d.s / d.t * 0.95
	yu, yl := h*0.735, h*0.275
	in := d.s * 0.98
	p := from(d.w*0.90, h*upY).
		curve(d.w*0.82, h*upY+(top-h*upY)*0.8, mid+d.w*0.14, top, mid, top).swell(0.97).
		hv(in+3, yu).swell(0.98).
		curve(in+3, h*0.595, d.w*0.26, h*0.555, mid, h*0.507).swell(fat).
		curve(d.w*0.76, h*0.455, d.w-in, h*0.405, d.w-in, yl).swell(0.98).
		vh(mid, bottom).swell(0.97).
		curve(mid-d.w*0.2, bottom, d.w*0.16, h*downY-(h*downY-bottom)*0.8, d.w*0.07, h*downY).swell(1)
	d.stroke(p, square, square)
}
