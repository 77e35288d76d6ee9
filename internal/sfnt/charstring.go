package sfnt

import "fmt"

// charMachine runs charstrings of Type 2 ("The Type 2 Charstring Format", Adobe Technical
// Note 5177). Hints are passed over.
type charMachine struct {
	*pathBuilder
	font          *cff
	scalars       []float64 // of CFF2: how much each region counts
	global, local [][]byte
	stack         []float64
	x, y          float32
	hints, ops    int
	width, open   bool // the width was read; a subpath has begun
	done          bool
	called        *calls // nil where nobody asks
}

// Operators (5177, appendix A).
const (
	opHStem      = 1
	opVStem      = 3
	opVMoveTo    = 4
	opRLineTo    = 5
	opHLineTo    = 6
	opVLineTo    = 7
	opRRCurveTo  = 8
	opCallSubr   = 10
	opReturn     = 11
	opVSIndex    = 15 // of CFF2
	opBlend      = 16
	opEscape     = 12
	opEndChar    = 14
	opHStemHM    = 18
	opHintMask   = 19
	opCntrMask   = 20
	opRMoveTo    = 21
	opHMoveTo    = 22
	opVStemHM    = 23
	opRCurveLine = 24
	opRLineCurve = 25
	opVVCurveTo  = 26
	opHHCurveTo  = 27
	opCallGSubr  = 29
	opVHCurveTo  = 30
	opHVCurveTo  = 31
	escHFlex     = 34
	escFlex      = 35
	escHFlex1    = 36
	escFlex1     = 37
)

func (m *charMachine) run(code []byte, depth int) {
	if depth > mostSubrDepth {
		m.fail("at most 10 levels of subroutines", "more")
		return
	}
	for i := 0; i < len(code) && !m.done && m.err == nil; {
		if n, size := charNumber(code[i:], false); size > 0 {
			if m.stack, i = append(m.stack, n), i+size; len(m.stack) > m.most() {
				m.fail(fmt.Sprintf("at most %d numbers before an operator", m.most()), "more")
			}
			continue
		}
		if m.ops++; m.ops > mostCharOps {
			m.fail("at most 200,000 operators", "more")
			return
		}
		op := code[i]
		i++
		switch op {
		case opReturn:
			return
		case opCallSubr, opCallGSubr:
			m.call(op == opCallGSubr, depth)
		case opHintMask, opCntrMask:
			m.stems()
			i += (m.hints + 7) / 8
		case opEscape:
			if i >= len(code) {
				m.fail("an operator of two bytes", "the end of the charstring")
				return
			}
			m.flex(code[i])
			i++
		case opVSIndex, opBlend:
			m.masters(op)
		default:
			m.draw(op)
		}
	}
}

// most is how many numbers the stack has.
func (m *charMachine) most() int {
	if m.font.two {
		return mostCharStack2
	}
	return mostCharStack
}

// masters runs an operator that CFF2 alone has.
func (m *charMachine) masters(op byte) {
	switch {
	case !m.font.two:
		m.fail("an operator of Type 2", "another")
	case op == opBlend:
		m.blend()
	default:
		m.vary()
	}
}

// call runs a subroutine, whose number is biased (5177, 4.7).
func (m *charMachine) call(global bool, depth int) {
	list := m.local
	if global {
		list = m.global
	}
	bias := 32768
	switch {
	case len(list) < 1240:
		bias = 107
	case len(list) < 33900:
		bias = 1131
	}
	if len(m.stack) == 0 {
		m.fail("the number of a subroutine", "none")
		return
	}
	n := int(m.stack[len(m.stack)-1]) + bias
	m.stack = m.stack[:len(m.stack)-1]
	if n < 0 || n >= len(list) {
		m.fail("a subroutine that is there", "another number")
		return
	}
	if m.called != nil && global {
		m.called.global[n] = true
	} else if m.called != nil {
		m.called.local[m.called.fd][n] = true
	}
	m.run(list[n], depth+1)
}

// stems counts hints: a number more than pairs is the width.
func (m *charMachine) stems() {
	m.takeWidth(len(m.stack)%2 == 1)
	m.hints += len(m.stack) / 2
	m.stack = m.stack[:0]
}

func (m *charMachine) takeWidth(there bool) {
	if !m.width && there && len(m.stack) > 0 {
		m.stack = m.stack[1:]
	}
	m.width = true
}

func (m *charMachine) move(dx, dy float64) {
	m.x, m.y, m.open = m.x+float32(dx), m.y+float32(dy), true
	m.add(MoveTo, [2]float32{m.x, m.y})
}

func (m *charMachine) line(dx, dy float64) {
	m.x, m.y = m.x+float32(dx), m.y+float32(dy)
	m.begin()
	m.add(LineTo, [2]float32{m.x, m.y})
}

// begin makes sure that a subpath is open; a font that forgets it begins at the origin.
func (m *charMachine) begin() {
	if !m.open {
		m.open = true
		m.add(MoveTo, [2]float32{0, 0})
	}
}

func (m *charMachine) curve(a, b, c, d, e, f float64) {
	m.begin()
	p := [2]float32{m.x + float32(a), m.y + float32(b)}
	q := [2]float32{p[0] + float32(c), p[1] + float32(d)}
	m.x, m.y = q[0]+float32(e), q[1]+float32(f)
	m.add(CubeTo, p, q, [2]float32{m.x, m.y})
}

// draw runs an operator of one byte, which takes all of the stack.
func (m *charMachine) draw(op byte) {
	s := m.stack
	switch op {
	case opHStem, opVStem, opHStemHM, opVStemHM:
		m.stems()
	case opEndChar:
		m.takeWidth(len(s) == 1 || len(s) == 5)
		if m.called != nil && len(s) >= 4 {
			m.called.accents = true
		}
		m.done = true
	case opRMoveTo, opHMoveTo, opVMoveTo:
		n := 1
		if op == opRMoveTo {
			n = 2
		}
		m.takeWidth(len(s) > n)
		if s = m.stack; len(s) < n {
			m.fail("a distance to move", "none")
			return
		}
		switch s = s[len(s)-n:]; op {
		case opRMoveTo:
			m.move(s[0], s[1])
		case opHMoveTo:
			m.move(s[0], 0)
		default:
			m.move(0, s[0])
		}
	case opRLineTo:
		for ; len(s) >= 2; s = s[2:] {
			m.line(s[0], s[1])
		}
	case opHLineTo, opVLineTo:
		for across := op == opHLineTo; len(s) > 0; s, across = s[1:], !across {
			if across {
				m.line(s[0], 0)
			} else {
				m.line(0, s[0])
			}
		}
	default:
		m.curves(op, s)
	}
	m.stack = m.stack[:0]
}

func (m *charMachine) curves(op byte, s []float64) {
	six := func() {
		m.curve(s[0], s[1], s[2], s[3], s[4], s[5])
		s = s[6:]
	}
	switch op {
	case opRRCurveTo:
		for len(s) >= 6 {
			six()
		}
	case opRCurveLine:
		for len(s) >= 8 {
			six()
		}
		if len(s) >= 2 {
			m.line(s[0], s[1])
		}
	case opRLineCurve:
		for ; len(s) >= 8; s = s[2:] {
			m.line(s[0], s[1])
		}
		if len(s) >= 6 {
			six()
		}
	case opVVCurveTo, opHHCurveTo:
		first := 0.0
		if len(s)%4 == 1 {
			first, s = s[0], s[1:]
		}
		for ; len(s) >= 4; s, first = s[4:], 0 {
			if op == opVVCurveTo {
				m.curve(first, s[0], s[1], s[2], 0, s[3])
			} else {
				m.curve(s[0], first, s[1], s[2], s[3], 0)
			}
		}
	case opVHCurveTo, opHVCurveTo:
		for across := op == opHVCurveTo; len(s) >= 4; across = !across {
			last := 0.0
			if len(s) == 5 {
				last = s[4]
			}
			if across {
				m.curve(s[0], 0, s[1], s[2], last, s[3])
			} else {
				m.curve(0, s[0], s[1], s[2], s[3], last)
			}
			if s = s[4:]; len(s) == 1 {
				return
			}
		}
	default:
		m.fail("an operator of Type 2", "another")
	}
}

// flex draws the two curves of a flex; arithmetic, which no font has, is refused.
func (m *charMachine) flex(op byte) {
	s := m.stack
	need := map[byte]int{escHFlex: 7, escFlex: 13, escHFlex1: 9, escFlex1: 11}[op]
	if need == 0 || len(s) < need {
		m.fail("an operator of Type 2 that draws", "another, or too few numbers")
		return
	}
	switch op {
	case escHFlex:
		m.curve(s[0], 0, s[1], s[2], s[3], 0)
		m.curve(s[4], 0, s[5], -s[2], s[6], 0)
	case escFlex:
		m.curve(s[0], s[1], s[2], s[3], s[4], s[5])
		m.curve(s[6], s[7], s[8], s[9], s[10], s[11])
	case escHFlex1:
		m.curve(s[0], s[1], s[2], s[3], s[4], 0)
		m.curve(s[5], 0, s[6], s[7], s[8], -(s[1] + s[3] + s[7]))
	default:
		dx, dy := s[0]+s[2]+s[4]+s[6]+s[8], s[1]+s[3]+s[5]+s[7]+s[9]
		m.curve(s[0], s[1], s[2], s[3], s[4], s[5])
		if dx*dx > dy*dy {
			m.curve(s[6], s[7], s[8], s[9], s[10], -dy)
		} else {
			m.curve(s[6], s[7], s[8], s[9], -dx, s[10])
		}
	}
	m.stack = m.stack[:0]
}
