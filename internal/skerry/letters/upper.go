package letters

// upper holds the capitals.
var upper = map[rune]func(*draft){
	'A': func(d *draft) {
		d.width(604, 0.62, slope, slope)
		d.apex(d.w)
		k := 0.30
		d.bar(d.w*(0.5-(1-k)*0.36), d.w*(0.5+(1-k)*0.36), capHeight*k)
	},
	'B': func(d *draft) {
		d.width(500, 0.80, straight, bowl)
		d.stem(d.s, 0, capHeight)
		mid := capHeight*0.525 - 2
		d.lobe(d.w-22, mid, capHeight-d.t)
		d.lobe(d.w, d.t, mid)
	},
	'C': func(d *draft) {
		d.width(606, 0.72, bowl, open)
		d.crescent(capHeight, 0.95, 0.79, 0.95, 0.21)
	},
	'D': func(d *draft) {
		d.width(590, 0.74, straight, bowl)
		d.stem(d.s, 0, capHeight)
		d.bigLobe()
	},
	'E': func(d *draft) { d.comb(452, 1, 0.93) },
	'F': func(d *draft) { d.comb(434, 0, 0.90); d.rsb = slope },
	'G': func(d *draft) {
		d.width(638, 0.74, bowl, straight)
		mid, top, bottom := d.w*0.52, capHeight+overshoot-d.t, -overshoot+d.t
		p := from(d.w*0.925, capHeight*0.79).
			curve(d.w*0.85, capHeight*0.79+(top-capHeight*0.79)*0.8, mid+d.w*0.16, top, mid, top).swell(0.97).
			hv(d.s, capHeight/2).swell(1.03).vh(mid, bottom).swell(0.97).
			hv(d.w-d.s, capHeight*0.30).swell(1).line(d.w-d.s, capHeight*0.45)
		d.stroke(p, square, level)
		d.bar(d.w*0.53, d.w-d.s*0.6, capHeight*0.45-d.t)
	},
	'H': func(d *draft) {
		d.width(560, 0.74, straight, straight)
		d.stem(d.s, 0, capHeight)
		d.stem(d.w-d.s, 0, capHeight)
		d.bar(d.s, d.w-d.s, capHeight*0.515)
	},
	'I': func(d *draft) {
		d.width(0, 0, straight, straight)
		d.w = 2 * d.s
		d.stem(d.s, 0, capHeight)
	},
	'J': func(d *draft) {
		d.width(352, 0.70, slope, straight)
		p := from(d.w-d.s, capHeight).line(d.w-d.s, capHeight*0.28).vh(d.w*0.46, -overshoot+d.t).swell(0.97).
			curve(d.w*0.28, -overshoot+d.t, d.w*0.12, 40, d.w*0.06, capHeight*0.15).swell(1)
		d.stroke(p, level, square)
	},
	'K': func(d *draft) {
		d.width(546, 0.70, straight, slope)
		d.stem(d.s, 0, capHeight)
		d.diag(d.s*1.4, capHeight*0.315, 0.88, d.w-d.s*1.3, capHeight, 0.97)
		d.diag(d.w*0.42, capHeight*0.57, 0.88, d.w-d.s*1.12, 0, 1)
	},
	'L': func(d *draft) {
		d.width(416, 0.70, straight, slope)
		d.stem(d.s, 0, capHeight)
		d.bar(d.s, d.w, d.t)
	},
	'M': func(d *draft) {
		d.width(690, 0.90, straight, straight)
		d.stem(d.s, 0, capHeight)
		d.stem(d.w-d.s, 0, capHeight)
		low := capHeight * 0.16
		d.diag(d.s*1.1, capHeight, 0.92, d.w/2-d.s*0.16, low, 0.86)
		d.diag(d.w-d.s*1.1, capHeight, 0.92, d.w/2+d.s*0.16, low, 0.86)
	},
	'N': func(d *draft) {
		d.width(582, 0.76, straight, straight)
		d.stem(d.s*0.97, 0, capHeight)
		d.stem(d.w-d.s*0.97, 0, capHeight)
		d.diag(d.s*1.1, capHeight, 0.96, d.w-d.s*1.1, 0, 0.96)
	},
	'O': drawBigO,
	'P': func(d *draft) {
		d.width(490, 0.76, straight, bowl)
		d.stem(d.s, 0, capHeight)
		d.lobe(d.w, capHeight*0.43, capHeight-d.t)
	},
	'Q': func(d *draft) {
		drawBigO(d)
		d.diag(d.w*0.56, capHeight*0.21, 0.95, d.w*0.93, -58, 0.95)
	},
	'R': func(d *draft) {
		d.width(512, 0.76, straight, slope)
		d.stem(d.s, 0, capHeight)
		d.lobe(d.w-14, capHeight*0.44, capHeight-d.t)
		d.diag(d.w*0.50, capHeight*0.44, 0.92, d.w-d.s*1.05, 0, 1)
	},
	'S': func(d *draft) {
		d.width(494, 0.74, open, open)
		d.snake(capHeight, 0.805, 0.195)
	},
	'T': func(d *draft) {
		d.width(520, 0.64, slope, slope)
		d.stem(d.w/2, 0, capHeight-d.t)
		d.bar(0, d.w, capHeight-d.t)
	},
	'U': func(d *draft) {
		d.width(562, 0.74, straight, straight)
		y := capHeight * 0.36
		p := from(d.s, capHeight).line(d.s, y).vh(d.w/2, -overshoot+d.t).swell(0.97).hv(d.w-d.s, y).swell(1).line(d.w-d.s, capHeight)
		d.stroke(p, level, level)
	},
	'V': func(d *draft) {
		d.width(594, 0.62, slope, slope)
		d.vee(0, d.w, capHeight, 0)
	},
	'W': func(d *draft) {
		d.width(878, 0.95, slope, slope)
		d.doubleVee(capHeight, 0.88)
	},
	'X': func(d *draft) {
		d.width(562, 0.66, slope, slope)
		in := d.s * 1.1
		d.diag(in+8, capHeight, 1, d.w-in, 0, 1)
		d.diag(d.w-in-8, capHeight, 0.94, in, 0, 0.94)
	},
	'Y': func(d *draft) {
		d.width(552, 0.62, slope, slope)
		in, y := d.s*1.06, capHeight*0.40
		d.stem(d.w/2, 0, y+d.t)
		d.stroke(thin(in, capHeight, 1).line(d.w/2, y).swell(0.94), level, round)
		d.stroke(thin(d.w-in, capHeight, 0.95).line(d.w/2, y).swell(0.94), level, round)
	},
	'Z': func(d *draft) {
		d.width(508, 0.66, open, open)
		d.bar(8, d.w-8, capHeight-d.t)
		d.bar(0, d.w, d.t)
		d.diag(d.s*1.1, d.t*0.9, 0.97, d.w-d.s*1.1-8, capHeight-d.t*0.9, 0.97)
	},
}

func drawBigO(d *draft) {
	d.width(684, 0.72, bowl, bowl)
	d.oval(0, -overshoot, d.w, capHeight+overshoot)
}

// apex inks two diagonals that meet at cap height, for A.
func (d *draft) apex(w float64) {
	in := d.s * 1.04
	d.diag(in, 0, 0.95, w/2-d.s*0.16, capHeight, 0.87)
	d.diag(w-in, 0, 1, w/2+d.s*0.16, capHeight, 0.87)
}

// lobe inks a bowl from the stem at level y1 round to the stem at level y0.
func (d *draft) lobe(right, y0, y1 float64) {
	r := (y1 - y0) / 2
	x := right - d.s - r*1.06
	p := from(d.s, y1).line(x, y1).swell(0.97).hv(right-d.s, (y0+y1)/2).swell(1.02).vh(x, y0).swell(0.97).line(d.s, y0)
	d.stroke(p, plumb, plumb)
}

// bigLobe inks the bowl of D.
func (d *draft) bigLobe() {
	top, x := capHeight-d.t, d.w*0.42
	p := from(d.s, top).line(x, top).swell(0.98).hv(d.w-d.s, capHeight/2).swell(1.03).vh(x, d.t).swell(0.98).line(d.s, d.t)
	d.stroke(p, plumb, plumb)
}

// comb inks E and F: a stem and arms; foot is the length of the lowest arm.
func (d *draft) comb(width, foot, middle float64) {
	d.width(width, 0.70, straight, open)
	d.stem(d.s, 0, capHeight)
	d.bar(d.s, d.w-6, capHeight-d.t)
	d.bar(d.s, d.w*middle-4, capHeight*(0.52-0.03*(1-foot)))
	if foot > 0 {
		d.bar(d.s, d.w*foot, d.t)
	}
}
